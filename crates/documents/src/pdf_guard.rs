//! What is looked at before a PDF is read, as its reader trusts the file: how much its streams unpack to, whether parts of it lead
//! back to themselves, and how much would be drawn.

use std::collections::{HashMap, HashSet};
use std::io::Read;

use flate2::read::{DeflateDecoder, ZlibDecoder};
use pdf_extract::{Dictionary, Document, Object, ObjectId, Stream};

use super::budget::Budget;

/// At most so many nodes of a tree of pages, and drawings within drawings.
const DEEP: usize = 40;
/// At most so many bytes of drawing orders for one page, with all that is drawn by name as often as it is drawn.
const MOST_DRAWN: u64 = 64 * 1024 * 1024;
/// The most that one stream may unpack to whose orders are read.
const LARGEST: u64 = 64 * 1024 * 1024;

const ROUND: &str = "The PDF is damaged: a part of it leads back to itself. Save it anew and try again.";
const TOO_MUCH: &str = "The PDF draws more than can be read. Take the pages that are needed out of it.";

/// What all packed streams of the raw file unpack to is counted: its tables are unpacked as soon as it is opened. What is packed
/// twice counts as its inside. Nothing is kept; linear in what is counted.
pub(super) fn before(bytes: &[u8], budget: &Budget) -> Result<(), String> {
    let mut rest = bytes;
    while let Some(at) = find(rest, b"stream") {
        rest = rest.get(at + b"stream".len()..).unwrap_or_default();
        let data = rest.strip_prefix(b"\r\n").or(rest.strip_prefix(b"\n")).unwrap_or(rest);
        if is_deflated(data) {
            let outer = count(ZlibDecoder::new(data), budget.left());
            let inner = count(ZlibDecoder::new(ZlibDecoder::new(data)), budget.left());
            budget.unpack(outer.max(inner))?;
        }
    }
    Ok(())
}

/// Whether data begin as those of zlib do (RFC 1950): a method, a window, and a check of both.
fn is_deflated(data: &[u8]) -> bool {
    matches!(data, [method, flags, ..] if method & 15 == 8 && method >> 4 <= 7 && (u16::from(*method) << 8 | u16::from(*flags)) % 31 == 0)
}

/// Looks through an opened file. Linear in what its streams unpack to.
///
/// # Errors
/// In words, where it cannot be read in bounded time and room.
pub(super) fn check(pdf: &Document, budget: &Budget) -> Result<(), String> {
    for object in pdf.objects.values() {
        match object {
            Object::Dictionary(dict) => parents(pdf, dict)?,
            Object::Stream(stream) if !is_picture(stream) => {
                let bytes = length(stream, budget.left().min(LARGEST));
                budget.unpack(bytes)?;
                if bytes > LARGEST {
                    return Err(TOO_MUCH.to_owned());
                }
            }
            _ => {}
        }
    }
    let mut forms = Forms { pdf, known: HashMap::new() };
    let mut drawn = 0_u64;
    for page in pdf.get_pages().into_values() {
        let Ok(dict) = pdf.get_dictionary(page) else { continue };
        let content = pdf.get_page_content(page).unwrap_or_default();
        let own = content.len() as u64;
        let within = forms.drawn_by(&content, resources(pdf, dict), DEEP)?;
        drawn = drawn.saturating_add(own).saturating_add(within);
        if drawn > MOST_DRAWN {
            return Err(TOO_MUCH.to_owned());
        }
    }
    Ok(())
}

/// What hangs below something else does so in a line that ends.
fn parents(pdf: &Document, dict: &Dictionary) -> Result<(), String> {
    let mut seen = HashSet::new();
    let mut at = dict;
    while let Ok(id) = at.get(b"Parent").and_then(Object::as_reference) {
        if !seen.insert(id) || seen.len() > DEEP {
            return Err(ROUND.to_owned());
        }
        let Ok(parent) = pdf.get_dictionary(id) else { break };
        at = parent;
    }
    Ok(())
}

fn resources<'a>(pdf: &'a Document, dict: &'a Dictionary) -> Option<&'a Dictionary> {
    let mut at = dict;
    for _ in 0..DEEP {
        if let Ok(own) = at.get(b"Resources").and_then(|own| pdf.dereference(own)).and_then(|(_, own)| own.as_dict()) {
            return Some(own);
        }
        at = at.get(b"Parent").and_then(Object::as_reference).and_then(|id| pdf.get_dictionary(id)).ok()?;
    }
    None
}

/// How many bytes of orders each form stands for, with all forms within it.
struct Forms<'a> {
    pdf: &'a Document,
    /// Nothing while a form is being looked at: then it leads back to itself.
    known: HashMap<ObjectId, Option<u64>>,
}

impl<'a> Forms<'a> {
    /// The orders of all that a content draws by name, as often as it does.
    fn drawn_by(&mut self, content: &[u8], resources: Option<&'a Dictionary>, deep: usize) -> Result<u64, String> {
        let pdf = self.pdf;
        let forms = resources.and_then(|own| own.get(b"XObject").ok()).and_then(|own| pdf.dereference(own).ok());
        let Some(forms) = forms.and_then(|(_, own)| own.as_dict().ok()) else { return Ok(0) };
        let mut sum = 0_u64;
        for name in drawn(content) {
            let Ok((Some(id), Object::Stream(form))) = forms.get(&name).and_then(|form| pdf.dereference(form)) else {
                continue;
            };
            sum = sum.saturating_add(self.of(id, form, resources, deep)?);
        }
        Ok(sum)
    }

    fn of(
        &mut self,
        id: ObjectId,
        form: &'a Stream,
        outer: Option<&'a Dictionary>,
        deep: usize,
    ) -> Result<u64, String> {
        match self.known.get(&id) {
            Some(Some(known)) => return Ok(*known),
            Some(None) => return Err(ROUND.to_owned()),
            None if deep == 0 => return Err(TOO_MUCH.to_owned()),
            None => {}
        }
        self.known.insert(id, None);
        let content = form.get_plain_content().unwrap_or_else(|_| form.content.clone());
        let own = resources(self.pdf, &form.dict).or(outer);
        let sum = (content.len() as u64).saturating_add(self.drawn_by(&content, own, deep - 1)?);
        self.known.insert(id, Some(sum));
        Ok(sum)
    }
}

/// The names that a content draws: each `/Name Do`.
fn drawn(content: &[u8]) -> impl Iterator<Item = Vec<u8>> {
    let ends =
        |byte: &u8| byte.is_ascii_whitespace() || matches!(byte, b'(' | b')' | b'<' | b'>' | b'[' | b']' | b'{' | b'}');
    let words = content.split(ends).filter(|word| !word.is_empty());
    let mut before: &[u8] = b"";
    words
        .filter_map(move |word| {
            let name = (word == b"Do").then(|| before.rsplit(|byte| *byte == b'/').next()).flatten();
            before = word;
            name.map(unescaped)
        })
        .collect::<Vec<_>>()
        .into_iter()
}

/// A name without `#` and two digits for a letter.
fn unescaped(name: &[u8]) -> Vec<u8> {
    let (mut out, mut rest) = (Vec::new(), name);
    while let [first, behind @ ..] = rest {
        let digits = behind.get(..2).and_then(|two| std::str::from_utf8(two).ok());
        let letter = digits.filter(|_| *first == b'#').and_then(|two| u8::from_str_radix(two, 16).ok());
        rest = if letter.is_some() { &behind[2..] } else { behind };
        out.push(letter.unwrap_or(*first));
    }
    out
}

/// Packed as only pictures are, which nobody unpacks here.
fn is_picture(stream: &Stream) -> bool {
    let of_pictures: [&[u8]; 4] = [b"DCTDecode", b"JPXDecode", b"CCITTFaxDecode", b"JBIG2Decode"];
    stream.filters().is_ok_and(|filters| filters.iter().any(|filter| of_pictures.contains(filter)))
}

/// How many bytes come out of a stream, counted up to somewhat more than `most`; in the order of its filters, as the reader does it.
fn length(stream: &Stream, most: u64) -> u64 {
    let data = stream.content.as_slice();
    let Ok(filters) = stream.filters() else { return data.len() as u64 };
    let mut from: Box<dyn Read + '_> = Box::new(data);
    for filter in filters {
        from = match filter {
            b"FlateDecode" => Box::new(ZlibDecoder::new(from)),
            b"ASCII85Decode" => Box::new(Ascii85::new(from)),
            // A code of some bits stands for four thousand bytes at the most.
            b"LZWDecode" => return (data.len() as u64).saturating_mul(4_096).min(most.saturating_add(1)),
            _ => return data.len() as u64,
        };
    }
    let sum = count(from, most);
    // The reader tries it without its head where nothing came out.
    if sum == 0 { count(DeflateDecoder::new(data.get(2..).unwrap_or_default()), most) } else { sum }
}

/// How many bytes come out, until they end, cannot be read, or are more than `most`.
fn count(mut from: impl Read, most: u64) -> u64 {
    let (mut sum, mut buffer) = (0, vec![0; 64 * 1024]);
    while let Ok(read @ 1..) = from.read(&mut buffer) {
        sum += read as u64;
        if sum > most {
            break;
        }
    }
    sum
}

/// Reads ASCII85 (ISO 32000-1, 7.4.3): five letters for four bytes, `z` for four zeros. How many bytes come out is right; what
/// cannot be read ends it.
struct Ascii85<R> {
    from: R,
    out: Vec<u8>,
    ended: bool,
}

impl<R: Read> Ascii85<R> {
    fn new(from: R) -> Self {
        Ascii85 { from, out: Vec::new(), ended: false }
    }

    fn more(&mut self) -> std::io::Result<()> {
        let (mut group, mut one) = (Vec::with_capacity(5), [0_u8]);
        while self.out.len() < 4_096 && !self.ended {
            let letter = if self.from.read(&mut one)? == 0 { b'~' } else { one[0] };
            match letter {
                b'z' if group.is_empty() => self.out.extend([0; 4]),
                b'!'..=b'u' => group.push(letter - b'!'),
                letter if letter.is_ascii_whitespace() => {}
                _ => self.ended = true,
            }
            if group.len() == 5 || (self.ended && group.len() > 1) {
                let whole = group.len() - 1;
                group.resize(5, 84);
                let number = group.drain(..).fold(0_u32, |sum, digit| sum.wrapping_mul(85).wrapping_add(digit.into()));
                self.out.extend(&number.to_be_bytes()[..whole]);
            }
        }
        Ok(())
    }
}

impl<R: Read> Read for Ascii85<R> {
    fn read(&mut self, to: &mut [u8]) -> std::io::Result<usize> {
        if self.out.is_empty() {
            self.more()?;
        }
        let length = self.out.len().min(to.len());
        to[..length].copy_from_slice(&self.out[..length]);
        self.out.drain(..length);
        Ok(length)
    }
}

fn find(bytes: &[u8], what: &[u8]) -> Option<usize> {
    let first = *what.first()?;
    let mut from = 0;
    while let Some(at) = bytes.get(from..)?.iter().position(|byte| *byte == first) {
        if bytes.get(from + at..)?.starts_with(what) {
            return Some(from + at);
        }
        from += at + 1;
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;
    use flate2::Compression;
    use flate2::write::ZlibEncoder;
    use std::io::Write;

    fn packed(bytes: &[u8]) -> Vec<u8> {
        let mut to = ZlibEncoder::new(Vec::new(), Compression::best());
        to.write_all(bytes).unwrap();
        to.finish().unwrap()
    }

    fn file(streams: &[Vec<u8>]) -> Vec<u8> {
        let streams = streams.iter().map(|data| [b"<< >>\nstream\n", data.as_slice(), b"\nendstream\n"].concat());
        [b"%PDF-1.7\n".to_vec()].into_iter().chain(streams).flatten().collect()
    }

    fn counted(bytes: &[u8]) -> u64 {
        let budget = Budget::new();
        let all = budget.left();
        before(bytes, &budget).unwrap();
        all - budget.left()
    }

    #[test]
    fn what_streams_unpack_to_is_counted() {
        let (once, twice) = (packed(&[b' '; 5_000]), packed(&packed(&vec![b' '; 2_000_000])));
        assert_eq!(counted(&file(&[once.clone(), b"plain".to_vec(), once.clone()])), 10_000);
        assert!(counted(&file(std::slice::from_ref(&twice))) >= 2_000_000, "packed twice: {} bytes", twice.len());
        // Other windows and levels have other heads (RFC 1950, 2.2).
        for head in [[0x78, 0x9c], [0x58, 0x85], [0x08, 0x1d], [0x68, 0x81]] {
            let mut other = once.clone();
            other[..2].copy_from_slice(&head);
            assert_eq!(counted(&file(&[other])), 5_000, "{head:?}");
        }
    }

    #[test]
    fn a_bomb_is_refused_in_words() {
        // 300 MB of nothing in some 300 KB.
        let bomb = packed(&vec![0; 60 * 1024 * 1024]);
        let words = before(&file(&vec![bomb; 5]), &Budget::new()).unwrap_err();
        assert!(words.contains("256 MB"), "{words}");
    }

    #[test]
    fn letters_are_read_as_the_standard_says() {
        let read = |letters: &[u8]| {
            let mut out = Vec::new();
            Ascii85::new(letters).read_to_end(&mut out).unwrap();
            out
        };
        assert_eq!(read(b"9jqo^BlbD-BleB1DJ+*+F(f,q~>"), b"Man is distinguished");
        assert_eq!(read(b"z z9jq\no^~>more"), b"\0\0\0\0\0\0\0\0Man ");
        assert_eq!(read(b"9jqo"), b"Man");
    }

    #[test]
    fn names_that_are_drawn_are_found() {
        let names: Vec<Vec<u8>> = drawn(b"q 1 0 0 1 0 0 cm /A Do Q/B#31 Do (x)/C Do\n/D gs 3 Do").collect();
        assert_eq!(names, [b"A".to_vec(), b"B1".to_vec(), b"C".to_vec(), b"3".to_vec()]);
    }
}

//! PDF with text. A scan has none, and that is said.

use std::io::Read;

use flate2::read::ZlibDecoder;
use iron_kite_core::listen::{Document, turns_of};

use super::{Held, wordless};

/// Fewer letters than this for a page, and the words are only a stamp on a scan.
const LEAST_LETTERS: usize = 12;

/// At most so much in all packed streams of one file, in bytes.
const MOST_UNPACKED: u64 = 256 * 1024 * 1024;
const TOO_LARGE: &str =
    "The PDF unpacks to more than 256 MB; such a file is not read. Take the pages that are needed out of it.";

pub(super) fn read(bytes: &[u8]) -> Result<Held, String> {
    if unpacked(bytes, MOST_UNPACKED) > MOST_UNPACKED {
        return Err(TOO_LARGE.to_owned());
    }
    let pages = pdf_extract::extract_text_from_mem_by_pages(bytes).map_err(|fault| match fault {
        pdf_extract::OutputError::PdfError(pdf_extract::Error::Decryption(_)) => {
            "The PDF is locked with a password. Save it without one, and bring that in.".to_owned()
        }
        _ => "The PDF is damaged and cannot be read. Save it anew and try again.".to_owned(),
    })?;
    let letters = pages.iter().flat_map(|page| page.chars()).filter(|c| c.is_alphabetic()).count();
    if letters < LEAST_LETTERS * pages.len().max(1) {
        return Ok(wordless("a scan"));
    }
    let text = pages.iter().map(|page| lines(page)).collect::<Vec<_>>().join("\n\n");
    let title = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default().chars().take(200).collect();
    Ok(Held::Documents(vec![Document { title, turns: turns_of(&text), text, ..Document::default() }]))
}

/// How much all packed streams unpack to, counted up to somewhat more than `most`: the reader itself trusts them. What
/// is packed twice counts as its inside. Nothing is kept, so it takes no room; linear in what is counted.
fn unpacked(bytes: &[u8], most: u64) -> u64 {
    let mut sum = 0;
    let mut rest = bytes;
    while let Some(at) = find(rest, b"stream") {
        rest = rest.get(at + b"stream".len()..).unwrap_or_default();
        let data = rest.strip_prefix(b"\r\n").or(rest.strip_prefix(b"\n")).unwrap_or(rest);
        // Deflated data begins with this letter in all files that are made today.
        if data.first() == Some(&0x78) && sum <= most {
            let once = |limit: u64| ZlibDecoder::new(data).take(limit);
            let outer = count(once(most - sum + 1));
            let inner = count(ZlibDecoder::new(once(most + 1)).take(most - sum + 1));
            sum += outer.max(inner);
        }
    }
    sum
}

/// How many bytes come out, until they end or cannot be read.
fn count(mut from: impl Read) -> u64 {
    let (mut sum, mut buffer) = (0, vec![0; 64 * 1024]);
    while let Ok(read @ 1..) = from.read(&mut buffer) {
        sum += read as u64;
    }
    sum
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

/// A page's lines without the space that only places them.
fn lines(page: &str) -> String {
    let lines = page.lines().map(|line| line.split_whitespace().collect::<Vec<_>>().join(" "));
    let mut out: Vec<String> = Vec::new();
    for line in lines {
        if line.is_empty() && out.last().is_none_or(String::is_empty) {
            continue;
        }
        out.push(line);
    }
    out.join("\n").trim_end().to_owned()
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

    #[test]
    fn what_streams_unpack_to_is_counted_and_bounded() {
        let (once, twice) = (packed(&[b' '; 5_000]), packed(&packed(&vec![b' '; 2_000_000])));
        assert_eq!(unpacked(&file(&[once.clone(), b"plain".to_vec(), once.clone()]), 1 << 30), 10_000);
        assert!(
            unpacked(&file(std::slice::from_ref(&twice)), 1 << 30) >= 2_000_000,
            "packed twice: {} bytes",
            twice.len()
        );
        let bounded = unpacked(&file(&[twice, once]), 1_000_000);
        assert!((1_000_001..1_010_000).contains(&bounded), "{bounded}");
    }

    #[test]
    fn a_bomb_is_refused_in_words() {
        // 300 MB of nothing in some 300 KB.
        let bomb = packed(&vec![0; 60 * 1024 * 1024]);
        let words = read(&file(&vec![bomb; 5])).unwrap_err();
        assert!(words.contains("256 MB"), "{words}");
    }
}

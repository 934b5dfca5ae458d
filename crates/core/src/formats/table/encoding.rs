//! From bytes to text: which encoding it is.

use std::borrow::Cow;

use chardetng::{EncodingDetector, Iso2022JpDetection, Utf8Detection};
use encoding_rs::{CoderResult, Encoding, UTF_8, UTF_16BE, UTF_16LE};

/// The text of a file, and the name of its encoding. `named` is what somebody said that it is, by a label of the WHATWG
/// Encoding Standard; else a byte order mark decides, then whether it is valid UTF-8, then whether every other byte is zero,
/// and then which of the older encodings its bytes are most common in. Text in UTF-8 is not copied.
///
/// # Errors
/// In words, where the file is empty or holds what no text does, or the encoding is not known.
pub fn text_of<'a>(bytes: &'a [u8], named: Option<&str>) -> Result<(Cow<'a, str>, &'static str), String> {
    if bytes.is_empty() {
        return Err("The file is empty. It needs a row of headings and one row for each item.".into());
    }
    let encoding = match named {
        Some(label) => Encoding::for_label(label.as_bytes())
            .ok_or_else(|| format!("There is no encoding “{label}”. Choose another, such as UTF-8 or windows-1252."))?,
        None => encoding_of(bytes),
    };
    let (text, used) = decoded(encoding, bytes);
    let strange = text.chars().take(LOOKED_AT).any(|c| c.is_control() && !matches!(c, '\t' | '\n' | '\r' | '\u{c}'));
    if strange {
        return Err(
            "This is no text: it holds bytes that no text has. Save it in one of the formats that are read, such as CSV, and choose that file.".into()
        );
    }
    Ok((text, used.name()))
}

/// The text of bytes in an encoding, and the one that it is by its byte order mark. It is given little more room than it needs:
/// what a text may take at the most is three times as much.
fn decoded<'a>(encoding: &'static Encoding, bytes: &'a [u8]) -> (Cow<'a, str>, &'static Encoding) {
    if encoding == UTF_8 {
        let (text, used, _) = encoding.decode(bytes);
        return (text, used);
    }
    let mut decoder = encoding.new_decoder();
    let mut text = String::with_capacity(bytes.len() + bytes.len() / 16 + AT_LEAST);
    let mut rest = bytes;
    loop {
        let (result, read, _) = decoder.decode_to_string(rest, &mut text, true);
        rest = rest.get(read..).unwrap_or_default();
        if result == CoderResult::InputEmpty {
            return (Cow::Owned(text), decoder.encoding());
        }
        text.reserve_exact(rest.len() / 2 + AT_LEAST);
    }
}

/// So much room is always left to go on.
const AT_LEAST: usize = 1024;

/// So many characters are looked at for what no text has, and bytes for the encoding.
const LOOKED_AT: usize = 100_000;

fn encoding_of(bytes: &[u8]) -> &'static Encoding {
    if let Some((encoding, _)) = Encoding::for_bom(bytes) {
        return encoding;
    }
    let head = bytes.get(..400).unwrap_or(bytes);
    let zeros = |offset: usize| head.iter().skip(offset).step_by(2).filter(|b| **b == 0).count();
    let many = head.len() / 3;
    if head.len() >= 4 && zeros(1) > many && zeros(0) == 0 {
        return UTF_16LE;
    }
    if head.len() >= 4 && zeros(0) > many && zeros(1) == 0 {
        return UTF_16BE;
    }
    if std::str::from_utf8(bytes).is_ok() {
        return UTF_8;
    }
    let mut detector = EncodingDetector::new(Iso2022JpDetection::Deny);
    // Letters beyond ASCII may be rare, and stand far behind.
    for part in bytes.split(|byte| *byte == b'\n').filter(|line| !line.is_ascii()).take(LOOKED_AT / 20) {
        detector.feed(part, false);
        detector.feed(b"\n", false);
    }
    detector.feed(b"", true);
    detector.guess(None, Utf8Detection::Deny)
}

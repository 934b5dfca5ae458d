//! What a file is, by its first bytes: a name can say anything.

/// The media type of what a browser may show or play by itself, and of PDF; everything else is just bytes. SVG is not among
/// them, as it can hold scripts.
#[must_use]
pub fn media_type(bytes: &[u8]) -> &'static str {
    match bytes {
        [0x89, b'P', b'N', b'G', b'\r', b'\n', 0x1a, b'\n', ..] => "image/png",
        [0xff, 0xd8, 0xff, ..] => "image/jpeg",
        [b'G', b'I', b'F', b'8', b'7' | b'9', b'a', ..] => "image/gif",
        [b'R', b'I', b'F', b'F', _, _, _, _, b'W', b'E', b'B', b'P', ..] => "image/webp",
        [b'%', b'P', b'D', b'F', b'-', ..] => "application/pdf",
        [b'R', b'I', b'F', b'F', _, _, _, _, b'W', b'A', b'V', b'E', ..] => "audio/wav",
        // With a head of words, or from the first frame on: layer 3 of MPEG 1 or 2, with a bit rate that there is.
        [b'I', b'D', b'3', ..] => "audio/mpeg",
        [0xff, 0xfa | 0xfb | 0xf2 | 0xf3, rate, ..] if !matches!(rate >> 4, 0 | 15) => "audio/mpeg",
        [b'O', b'g', b'g', b'S', ..] => "audio/ogg",
        [b'f', b'L', b'a', b'C', ..] => "audio/flac",
        [_, _, _, _, b'f', b't', b'y', b'p', b'M', b'4', b'A', ..] => "audio/mp4",
        [_, _, _, _, b'f', b't', b'y', b'p', ..] => "video/mp4",
        [0x1a, 0x45, 0xdf, 0xa3, ..] => "video/webm",
        _ => "application/octet-stream",
    }
}

/// Whether something of this media type is heard or watched.
#[must_use]
pub fn is_recording(media_type: &str) -> bool {
    media_type.starts_with("audio/") || media_type.starts_with("video/")
}

/// Whether a recording is the one beside a text: both have the same name but for the ending, and stand in the same place.
///
/// ```
/// use iron_kite_core::formats::media::is_beside;
/// assert!(is_beside("visits.zip/visit-3.mp3", "visits.zip/visit-3.vtt"));
/// assert!(!is_beside("visit-3.mp3", "visit-4.vtt"));
/// ```
#[must_use]
pub fn is_beside(recording: &str, text: &str) -> bool {
    let stem = |name: &str| name.rsplit_once('.').map(|(stem, _)| stem.to_lowercase());
    stem(recording).is_some_and(|of| !of.is_empty() && stem(text).is_some_and(|own| own == of))
}

#[cfg(test)]
mod tests {
    use super::media_type;

    #[test]
    fn the_first_bytes_tell_and_a_script_is_no_picture() {
        assert_eq!(media_type(b"\x89PNG\r\n\x1a\n...."), "image/png");
        assert_eq!(media_type(b"GIF89a..."), "image/gif");
        assert_eq!(media_type(b"RIFF\x01\x02\x03\x04WEBPVP8 "), "image/webp");
        assert_eq!(media_type(b"%PDF-1.7"), "application/pdf");
        assert_eq!(media_type(b"RIFF\x01\x02\x03\x04WAVEfmt "), "audio/wav");
        assert_eq!(media_type(b"ID3\x04"), "audio/mpeg");
        assert_eq!(media_type(b"\xff\xfb\x90\x64"), "audio/mpeg");
        assert_eq!(media_type(b"\x00\x00\x00\x20ftypisom"), "video/mp4");
        assert_eq!(media_type(b"\x00\x00\x00\x20ftypM4A "), "audio/mp4");
        assert_eq!(media_type(b"\x1a\x45\xdf\xa3"), "video/webm");
        for bytes in [&b"\xff\xfe<\x00h\x00"[..], b"<svg onload=alert(1)>", b"<html>", b"", b"RIFF", b"\x89PN"] {
            assert_eq!(media_type(bytes), "application/octet-stream");
        }
    }
}

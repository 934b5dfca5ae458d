//! What a file is, by its first bytes: a name can say anything.

/// The media type of what a browser may show by itself, and of PDF; everything else is just bytes. SVG is not among
/// them, as it can hold scripts.
#[must_use]
pub fn media_type(bytes: &[u8]) -> &'static str {
    match bytes {
        [0x89, b'P', b'N', b'G', b'\r', b'\n', 0x1a, b'\n', ..] => "image/png",
        [0xff, 0xd8, 0xff, ..] => "image/jpeg",
        [b'G', b'I', b'F', b'8', b'7' | b'9', b'a', ..] => "image/gif",
        [b'R', b'I', b'F', b'F', _, _, _, _, b'W', b'E', b'B', b'P', ..] => "image/webp",
        [b'%', b'P', b'D', b'F', b'-', ..] => "application/pdf",
        _ => "application/octet-stream",
    }
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
        for bytes in [&b"<svg onload=alert(1)>"[..], b"<html>", b"", b"RIFF", b"\x89PN"] {
            assert_eq!(media_type(bytes), "application/octet-stream");
        }
    }
}

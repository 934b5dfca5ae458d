//! Packed files: a ZIP of several, and the formats that are a ZIP inside. Whatever is packed is counted while it is
//! unpacked, so that a small file that unpacks to a huge one is refused and nothing is filled with it.

use std::io::{Cursor, Read};

use zip::ZipArchive;

use super::{Part, docx, one, read_within, refused, sheet};

/// At most so many files in one.
const MOST_FILES: usize = 2_000;
/// At most so many bytes, all of them together.
pub(super) const MOST_UNPACKED: u64 = 256 * 1024 * 1024;

pub(super) type Archive<'a> = ZipArchive<Cursor<&'a [u8]>>;

pub(super) fn read(name: &str, bytes: &[u8], may_unpack: bool) -> Vec<Part> {
    let mut archive = match open(bytes) {
        Ok(archive) => archive,
        Err(words) => return vec![refused(name, &words)],
    };
    let names: Vec<String> =
        archive.file_names().map(|name| name.map(std::borrow::Cow::into_owned).unwrap_or_default()).collect();
    let has = |wanted: &str| names.iter().any(|one| one.starts_with(wanted));
    if has("xl/vbaProject") || has("xl/macrosheets/") || has("word/vbaProject") {
        return vec![refused(name, "The file holds macros. Save it without them, and bring that in.")];
    }
    if has("xl/") {
        return sheet::read(name, bytes, sheet::Book::Xlsx);
    }
    if has("word/document.xml") {
        return vec![one(name, docx::read(&mut archive))];
    }
    if has("content.xml") && has("META-INF/") {
        return sheet::read(name, bytes, sheet::Book::Ods);
    }
    if !may_unpack {
        return vec![refused(name, "A ZIP within a ZIP is not opened. Unpack it first.")];
    }
    each(name, &mut archive, &names)
}

fn each(name: &str, archive: &mut Archive<'_>, names: &[String]) -> Vec<Part> {
    let mut parts = Vec::new();
    for (at, inner) in names.iter().enumerate() {
        let called = format!("{name}/{}", inner.rsplit('/').next().unwrap_or(inner));
        // What a system puts in by itself is nobody's feedback.
        let hidden = inner.split('/').any(|step| (step.starts_with('.') && step != "..") || step == "__MACOSX");
        if inner.ends_with('/') || hidden {
            continue;
        }
        if inner.contains("..") || inner.starts_with('/') || inner.contains('\\') {
            parts.push(refused(&called, "Its name leads out of the ZIP. Pack it anew."));
            continue;
        }
        match unpack(archive, at) {
            Ok(bytes) => parts.extend(read_within(&called, &bytes, false)),
            Err(words) => parts.push(refused(&called, &words)),
        }
    }
    if parts.is_empty() { vec![refused(name, "The ZIP holds no file.")] } else { parts }
}

/// Opens a packed file after all of it was unpacked once into nothing, and counted.
pub(super) fn open(bytes: &[u8]) -> Result<Archive<'_>, String> {
    let damaged = |_| "The packed file is damaged. Pack it anew and try again.".to_owned();
    let mut archive = ZipArchive::new(Cursor::new(bytes)).map_err(damaged)?;
    if archive.len() > MOST_FILES {
        return Err(format!("It holds {} files; at most {MOST_FILES} are opened at once.", archive.len()));
    }
    let mut left = MOST_UNPACKED;
    for at in 0..archive.len() {
        let file = archive.by_index(at).map_err(damaged)?;
        if file.size() > left {
            return Err(too_large());
        }
        let read = std::io::copy(&mut file.take(left + 1), &mut std::io::sink());
        let read = read.map_err(|_| "A file in it is damaged. Pack it anew and try again.".to_owned())?;
        left = left.checked_sub(read).ok_or_else(too_large)?;
    }
    Ok(archive)
}

fn too_large() -> String {
    format!("Unpacked it is larger than {} MB. Split it.", MOST_UNPACKED / 1024 / 1024)
}

fn unpack(archive: &mut Archive<'_>, at: usize) -> Result<Vec<u8>, String> {
    let damaged = |_| "The file is damaged. Pack it anew and try again.".to_owned();
    let file = archive.by_index(at).map_err(|fault| damaged(fault.to_string()))?;
    let mut bytes = Vec::new();
    file.take(MOST_UNPACKED).read_to_end(&mut bytes).map_err(|fault| damaged(fault.to_string()))?;
    Ok(bytes)
}

/// One named file of an archive that was opened by [`open`].
pub(super) fn named(archive: &mut Archive<'_>, name: &str) -> Option<Vec<u8>> {
    let file = archive.by_name(name).ok()?;
    let mut bytes = Vec::new();
    file.take(MOST_UNPACKED).read_to_end(&mut bytes).ok()?;
    Some(bytes)
}

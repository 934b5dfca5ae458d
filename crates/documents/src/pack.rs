//! Packed files: a ZIP of several, and the formats that are a ZIP inside. Whatever is packed is counted while it is
//! unpacked, so that a small file that unpacks to a huge one is refused and nothing is filled with it.

use std::io::{BufRead, BufReader, Cursor, Read};

use zip::ZipArchive;

use super::budget::Budget;
use super::{Hows, Part, docx, odt, one, others, read_within, refused, sheet};

/// At most so many files in one.
const MOST_FILES: usize = 2_000;

pub(super) type Archive<'a> = ZipArchive<Cursor<&'a [u8]>>;

pub(super) fn read(name: &str, bytes: &[u8], hows: &Hows, budget: &Budget, may_unpack: bool) -> Vec<Part> {
    let mut archive = match open(bytes, budget) {
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
        return sheet::read(name, bytes, sheet::Book::Xlsx, hows, budget);
    }
    if has("word/document.xml") {
        return vec![one(name, docx::read(&mut archive, budget))];
    }
    if let Some(sort) = odt::sort_of(&mut archive) {
        return match sort {
            odt::Sort::Text => vec![one(name, odt::read(&mut archive, budget))],
            odt::Sort::Sheet => sheet::read(name, bytes, sheet::Book::Ods, hows, budget),
            odt::Sort::Other(words) => vec![refused(name, words)],
        };
    }
    if let Some(words) = others::packed(&names) {
        return vec![refused(name, words)];
    }
    if !may_unpack {
        return vec![refused(name, "A ZIP within a ZIP is not opened. Unpack it first.")];
    }
    each(name, &mut archive, &names, hows, budget)
}

fn each(name: &str, archive: &mut Archive<'_>, names: &[String], hows: &Hows, budget: &Budget) -> Vec<Part> {
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
        match unpack(archive, at, budget) {
            Ok(bytes) => {
                let whole = |part: Part| super::filled(vec![part], &bytes);
                parts.extend(read_within(&called, &bytes, hows, budget, false).into_iter().flat_map(whole));
            }
            Err(words) => parts.push(refused(&called, &words)),
        }
    }
    if parts.is_empty() { vec![refused(name, "The ZIP holds no file.")] } else { parts }
}

/// Opens a packed file after all of it was unpacked once into nothing, and counted.
pub(super) fn open<'a>(bytes: &'a [u8], budget: &Budget) -> Result<Archive<'a>, String> {
    let damaged = |_| "The packed file is damaged. Pack it anew and try again.".to_owned();
    let mut archive = again(bytes)?;
    if archive.len() > MOST_FILES {
        return Err(format!("It holds {} files; at most {MOST_FILES} are opened at once.", archive.len()));
    }
    for at in 0..archive.len() {
        let file = archive.by_index(at).map_err(damaged)?;
        // Others make room for as much as a file says that it holds.
        if file.size() > budget.left() {
            budget.unpack(file.size())?;
        }
        let read = std::io::copy(&mut file.take(budget.left() + 1), &mut std::io::sink());
        budget.unpack(read.map_err(|_| "A file in it is damaged. Pack it anew and try again.".to_owned())?)?;
    }
    Ok(archive)
}

/// Opens a packed file that was counted before.
pub(super) fn again(bytes: &[u8]) -> Result<Archive<'_>, String> {
    ZipArchive::new(Cursor::new(bytes))
        .map_err(|_| "The packed file is damaged. Pack it anew and try again.".to_owned())
}

fn unpack(archive: &mut Archive<'_>, at: usize, budget: &Budget) -> Result<Vec<u8>, String> {
    let damaged = |_| "The file is damaged. Pack it anew and try again.".to_owned();
    let file = archive.by_index(at).map_err(|fault| damaged(fault.to_string()))?;
    let mut bytes = Vec::new();
    file.take(budget.room() + 1).read_to_end(&mut bytes).map_err(|fault| damaged(fault.to_string()))?;
    budget.hold(bytes.len())?;
    Ok(bytes)
}

/// How large a named file of an archive is that was opened by [`open`], unpacked.
pub(super) fn size_of(archive: &mut Archive<'_>, name: &str) -> usize {
    let size = archive.by_name(name).map_or(0, |file| file.size());
    usize::try_from(size).unwrap_or(usize::MAX)
}

/// One named file of an archive that was opened by [`open`], as it is unpacked.
pub(super) fn named<'a>(archive: &'a mut Archive<'_>, name: &str) -> Option<impl BufRead + 'a> {
    archive.by_name(name).ok().map(BufReader::new)
}

//! `iron-kite import feedback`: files, folders and standard input come in; a dry run only says what would.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::io::Read;
use std::path::{Path, PathBuf};

use clap::Args;
use iron_kite_core::formats::table::HowRead;
use iron_kite_core::things::{ProductId, StudyId};
use iron_kite_ops::listen::{self, AtOnce, BroughtPart, PartAhead};
use iron_kite_ops::{App, Call};
use serde_json::{Value, json};

use super::told::{Outcome, Told};
use super::{Place, command_call, existing, file, product_named, words};

/// What is brought in, and how.
#[derive(Args)]
pub(super) struct Feedback {
    /// The files; of a folder all that are in it; - for standard input.
    #[arg(required = true)]
    files: Vec<PathBuf>,
    #[command(flatten)]
    pub(super) place: Place,
    /// The product's name; the first one where left out.
    #[arg(long)]
    product: Option<String>,
    #[command(flatten)]
    columns: ColumnNames,
    #[command(flatten)]
    how: How,
    /// What standard input is called: it is told by the ending what it is.
    #[arg(long, default_value = "standard-input.csv")]
    name: String,
    /// Give rows that are there already with other words the new ones.
    #[arg(long)]
    take_changed: bool,
    /// Cover mail addresses, telephone, card and account numbers in the words.
    #[arg(long)]
    cover: bool,
    /// The number of the study that it was said in.
    #[arg(long)]
    study: Option<i64>,
    /// Only say which columns would be taken and what would come; nothing is written.
    #[arg(long)]
    dry_run: bool,
}

/// The headings of the columns of a table; as remembered or proposed where none is named.
#[derive(Args)]
struct ColumnNames {
    /// The heading of the column of the words.
    #[arg(long)]
    text: Option<String>,
    /// The heading of the column of the day.
    #[arg(long)]
    date: Option<String>,
    /// The heading of the column of the person.
    #[arg(long)]
    person: Option<String>,
    /// The heading of the column of the person's mail address.
    #[arg(long)]
    address: Option<String>,
    /// The heading of the column of the account.
    #[arg(long)]
    account: Option<String>,
    /// The heading of the column of the rating.
    #[arg(long)]
    rating: Option<String>,
    /// The heading of the column by which the source knows a row.
    #[arg(long)]
    key: Option<String>,
}

/// How tables are read, where what is told from a file itself is not so.
#[derive(Args)]
struct How {
    /// The encoding, such as windows-1252.
    #[arg(long)]
    encoding: Option<String>,
    /// What separates the cells: a sign, or "tab".
    #[arg(long)]
    separator: Option<String>,
    /// The sheet of a workbook; the others are left out.
    #[arg(long)]
    sheet: Option<String>,
    /// The part of a table that is read, such as B3:F200.
    #[arg(long)]
    range: Option<String>,
    /// There are headings above the rows.
    #[arg(long, conflicts_with = "no_headings")]
    headings: bool,
    /// There are none; columns are called "column 1" and so on.
    #[arg(long)]
    no_headings: bool,
    /// Quotation marks stand for themselves.
    #[arg(long)]
    plain_quotes: bool,
}

impl ColumnNames {
    /// The headings that are named, by what they mean.
    fn named(self) -> BTreeMap<String, String> {
        let all = [
            ("text", self.text),
            ("said_on", self.date),
            ("person", self.person),
            ("address", self.address),
            ("account", self.account),
            ("rating", self.rating),
            ("key", self.key),
        ];
        all.into_iter().filter_map(|(meaning, heading)| Some((meaning.to_owned(), heading?))).collect()
    }
}

impl How {
    fn read(&self) -> Result<HowRead, String> {
        let separator = match self.separator.as_deref() {
            None => None,
            Some("tab" | "\\t" | "\t") => Some('\t'),
            Some(sign) => {
                let mut all = sign.chars();
                let one = all.next().filter(|_| all.next().is_none());
                Some(one.ok_or_else(|| format!("'{sign}' is no sign that separates cells; take one, or \"tab\""))?)
            }
        };
        Ok(HowRead {
            encoding: self.encoding.clone(),
            separator,
            quotes: self.plain_quotes.then_some(false),
            headings: match (self.headings, self.no_headings) {
                (true, _) => Some(true),
                (_, true) => Some(false),
                _ => None,
            },
            range: self.range.clone(),
        })
    }
}

/// Brings it in, or says what would come.
pub(super) fn import(ask: Feedback) -> Result<Told, String> {
    let (app, call) = (existing(&ask.place.data)?, command_call());
    let product = product_named(&app, &call, ask.product.as_deref())?.id;
    let options = AtOnce {
        take_changed: ask.take_changed,
        cover: ask.cover,
        study: ask.study.map(StudyId),
        how: ask.how.read()?,
        sheet: ask.how.sheet.clone(),
    };
    let named = ask.columns.named();
    let all = given(&ask.files, &ask.name)?;
    if ask.dry_run {
        return look(&app, &call, product, &all, &named, &options);
    }
    let mut told = Tally::default();
    for one in &all {
        let bytes = one.bytes()?;
        let done = listen::bring_in_file(&app, &call, product, &one.name, &bytes, &named, &options);
        let (_, done) = done.map_err(|problem| format!("{}: {problem}", one.shown))?;
        for part in &done.parts {
            tell_part(part, &mut told.words);
            told.count(part.refused.is_some(), part.report.as_ref().is_some_and(|report| !report.left_out.is_empty()));
        }
        told.json.push(json!({ "file": one.name, "parts": done.parts }));
    }
    Ok(told.told())
}

/// What was said of all parts, and how many of them were refused.
#[derive(Default)]
struct Tally {
    words: String,
    json: Vec<Value>,
    parts: usize,
    refused: usize,
    partly: usize,
}

impl Tally {
    fn count(&mut self, refused: bool, partly: bool) {
        self.parts += 1;
        self.refused += usize::from(refused);
        self.partly += usize::from(partly);
    }

    fn told(self) -> Told {
        let outcome = match (self.refused, self.partly) {
            (0, 0) => Outcome::Done,
            (refused, _) if refused == self.parts => Outcome::Failed,
            _ => Outcome::Partly,
        };
        Told { words: self.words, json: json!(self.json), outcome }
    }
}

fn look(
    app: &App,
    call: &Call,
    product: ProductId,
    all: &[Given],
    named: &BTreeMap<String, String>,
    options: &AtOnce,
) -> Result<Told, String> {
    let mut told = Tally::default();
    for one in all {
        let ahead = listen::look_ahead(app, call, product, &one.name, &one.bytes()?, named, options);
        let ahead = ahead.map_err(|problem| format!("{}: {problem}", one.shown))?;
        for part in &ahead {
            tell_ahead(part, &mut told.words);
            told.count(part.refused.is_some(), part.counts.is_some_and(|counts| counts.left_out > 0));
        }
        told.json.push(json!({ "file": one.name, "parts": ahead }));
    }
    let _ = writeln!(told.words, "Nothing was written.");
    Ok(told.told())
}

/// A file that was named, or lies in a folder that was.
struct Given {
    /// How it is called on the command line.
    shown: String,
    name: String,
    /// Where it lies; on standard input where it lies nowhere.
    path: Option<PathBuf>,
}

impl Given {
    fn bytes(&self) -> Result<Vec<u8>, String> {
        let Some(path) = &self.path else {
            let mut bytes = Vec::new();
            let most = listen::MOST_BYTES as u64 + 1;
            std::io::stdin().lock().take(most).read_to_end(&mut bytes).map_err(words)?;
            return Ok(bytes);
        };
        file(path)
    }
}

fn given(files: &[PathBuf], name: &str) -> Result<Vec<Given>, String> {
    let mut all = Vec::new();
    for path in files {
        if path.as_os_str() == "-" {
            all.push(Given { shown: "standard input".into(), name: name.to_owned(), path: None });
        } else {
            in_folder(path, &mut all)?;
        }
    }
    if all.is_empty() { Err("there is no file in it".into()) } else { Ok(all) }
}

/// A file, or all that lie in a folder, by their names; hidden ones are nobody's feedback.
fn in_folder(path: &Path, all: &mut Vec<Given>) -> Result<(), String> {
    let name = path.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
    if !path.is_dir() {
        all.push(Given { shown: path.display().to_string(), name, path: Some(path.to_owned()) });
        return Ok(());
    }
    let fault = |fault: std::io::Error| format!("{} cannot be read: {fault}", path.display());
    let mut inner = Vec::new();
    for entry in std::fs::read_dir(path).map_err(fault)? {
        let entry = entry.map_err(fault)?;
        // A link may lead anywhere.
        let follows = entry.file_type().map_err(fault)?;
        if !entry.file_name().to_string_lossy().starts_with('.') && !follows.is_symlink() {
            inner.push(entry.path());
        }
    }
    inner.sort();
    inner.iter().try_for_each(|path| in_folder(path, all))
}

fn tell_ahead(part: &PartAhead, to: &mut String) {
    if let Some(why) = &part.refused {
        let _ = writeln!(to, "{}: nothing would be taken. {why}", part.name);
    }
    if let Some(read_as) = &part.read_as {
        let columns = part.columns.iter().map(|(meaning, heading)| format!("{meaning} from “{heading}”"));
        let _ = writeln!(to, "{}: {read_as}; {}", part.name, columns.collect::<Vec<_>>().join(", "));
    }
    if let Some(counts) = &part.counts {
        let _ = writeln!(
            to,
            "{}: {} new, {} there already, {} changed, {} cannot be taken",
            part.name, counts.new, counts.same, counts.changed, counts.left_out
        );
    }
    for note in &part.notes {
        let _ = writeln!(to, "row {}: {}", note.row, note.reason);
    }
}

fn tell_part(part: &BroughtPart, to: &mut String) {
    if let Some(words) = &part.refused {
        let _ = writeln!(to, "{}: nothing was taken. {words}", part.name);
    }
    if let Some(kept) = &part.kept {
        let _ = writeln!(to, "{}: kept as a file; it has no words that could be read", kept.name);
    }
    let Some(report) = &part.report else { return };
    let _ = writeln!(
        to,
        "{}: {} items added, {} excerpts read, {} there already, {} changed",
        part.name,
        report.added,
        report.excerpts,
        report.duplicates,
        report.changed.len()
    );
    for changed in &report.changed {
        let what = if changed.taken { "was brought up to date" } else { "says something else now; it stays as it was" };
        let _ = writeln!(to, "row {}: {} {what}", changed.row, changed.item);
    }
    for left in report.left_out.iter().chain(&report.notes) {
        let _ = writeln!(to, "row {}: {}", left.row, left.reason);
    }
}

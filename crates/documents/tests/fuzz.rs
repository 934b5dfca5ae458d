//! Every reader, fed with files that were sound once, for a bounded time: bytes changed, cut, doubled, joined, and in
//! packed files also what they hold. Each target runs as many rounds as fit into its time (`IRON_KITE_FUZZ_SECONDS`,
//! 2 where it is not set), from the same first seed. What must hold: no reader of ours stumbles, none hangs, every
//! part says what it is, and who speaks where stays within the words.

#![allow(clippy::unwrap_used, reason = "a test stops where a step fails")]
#![allow(clippy::disallowed_methods, reason = "a test may look at the clock and write what it found")]

use std::cell::Cell;
use std::io::{Cursor, Read, Write};
use std::time::{Duration, Instant};

use iron_kite_documents::{check_parts, read};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

/// No file of the size that is fed here may take longer.
const PATIENCE: Duration = Duration::from_secs(10);

/// Pieces that readers look for, put in at odd places.
const PIECES: [&[u8]; 18] = [
    b"\"",
    b",",
    b"\n",
    b"\r",
    b"<",
    b"</w:p>",
    b"<!ENTITY a \"b\">",
    b"-->",
    b"00:00:01.000 --> 00:00:02.000\n",
    b"\nFrom x\n",
    b"Content-Type: multipart/mixed; boundary=b\n\n--b\n",
    b"{",
    b"[",
    b"\\u0000",
    b"endstream",
    b"\xff\xfe",
    b"\xf0\x9f\x9b\xb6",
    b"4294967295",
];

thread_local! {
    /// Where code of ours stumbled, on this thread; that of libraries is caught and said to be a damaged file.
    static STUMBLED: Cell<bool> = const { Cell::new(false) };
}

/// A small generator of numbers (xorshift64, Marsaglia 2003).
struct Dice(u64);

impl Dice {
    fn roll(&mut self, below: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        usize::try_from(self.0 % u64::try_from(below.max(1)).unwrap()).unwrap()
    }

    fn change(&mut self, bytes: &mut Vec<u8>) {
        for _ in 0..=self.roll(6) {
            let at = self.roll(bytes.len() + 1);
            let to = (at + self.roll(40)).min(bytes.len());
            match self.roll(6) {
                0 if at < bytes.len() => bytes[at] = u8::try_from(self.roll(256)).unwrap(),
                1 if at < bytes.len() => bytes[at] ^= 1 << self.roll(8),
                2 => drop(bytes.drain(at..to)),
                3 => {
                    let piece = bytes[at..to].to_vec();
                    let there = self.roll(bytes.len() + 1);
                    bytes.splice(there..there, piece);
                }
                4 if self.roll(8) == 0 => bytes.truncate(at),
                _ => drop(bytes.splice(at..at, PIECES[self.roll(PIECES.len())].iter().copied())),
            }
        }
    }
}

/// The files of a packed one, or nothing where it is none.
fn unpacked(bytes: &[u8]) -> Option<Vec<(String, Vec<u8>)>> {
    let mut archive = ZipArchive::new(Cursor::new(bytes)).ok()?;
    let mut files = Vec::new();
    for at in 0..archive.len() {
        let mut file = archive.by_index(at).ok()?;
        let mut held = Vec::new();
        file.read_to_end(&mut held).ok()?;
        files.push((file.name().ok()?.into_owned(), held));
    }
    Some(files)
}

fn packed(files: &[(String, Vec<u8>)]) -> Vec<u8> {
    let mut writer = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        let plainly = SimpleFileOptions::default().compression_method(CompressionMethod::Stored);
        writer.start_file(name.as_str(), plainly).unwrap();
        writer.write_all(bytes).unwrap();
    }
    writer.finish().unwrap().into_inner()
}

fn holds(name: &str, bytes: &[u8]) {
    let start = Instant::now();
    let parts = read(name, bytes);
    assert!(start.elapsed() < PATIENCE, "took {:?}", start.elapsed());
    assert!(!STUMBLED.get(), "a reader of ours stumbled");
    check_parts(&parts).unwrap();
}

/// Changes a sound file again and again, and reads it.
fn feed(name: &str, sound: &[u8]) {
    let seconds = std::env::var("IRON_KITE_FUZZ_SECONDS").ok().and_then(|seconds| seconds.parse().ok()).unwrap_or(2);
    let before = std::panic::take_hook();
    std::panic::set_hook(Box::new(move |stumble| {
        let ours = stumble.location().is_some_and(|at| at.file().starts_with("crates/") && at.file().contains("/src/"));
        STUMBLED.set(STUMBLED.get() || ours);
        // A library that stumbles is caught; what the test itself finds is told as always.
        if ours || stumble.location().is_some_and(|at| at.file().ends_with("fuzz.rs")) {
            before(stumble);
        }
    }));
    let inside = unpacked(sound);
    let mut dice = Dice(0x9E37_79B9_7F4A_7C15);
    let end = Instant::now() + Duration::from_secs(seconds);
    let mut rounds = 0_u32;
    holds(name, sound);
    while Instant::now() < end {
        let mut bytes = sound.to_vec();
        match &inside {
            Some(files) if dice.roll(4) > 0 => {
                let mut files = files.clone();
                let at = dice.roll(files.len());
                dice.change(&mut files[at].1);
                bytes = packed(&files);
            }
            _ => dice.change(&mut bytes),
        }
        let outcome = std::panic::catch_unwind(std::panic::AssertUnwindSafe(|| holds(name, &bytes)));
        if outcome.is_err() {
            let kept = std::env::temp_dir().join(format!("iron-kite-fuzz-{name}"));
            std::fs::write(&kept, &bytes).unwrap();
            panic!("round {rounds} of {name}; the file is kept in {}", kept.display());
        }
        rounds += 1;
    }
    assert!(rounds > 0, "{name}: no round in {seconds} s");
}

macro_rules! targets {
    ($($test:ident: $name:literal, $bytes:expr;)*) => {
        $(#[test] fn $test() { feed($name, $bytes); })*
    };
}

targets! {
    a_table: "t.csv", include_bytes!("files/small.csv");
    a_table_with_tabs: "t.tsv", include_bytes!("files/small.tsv");
    json: "t.json", include_bytes!("files/small.json");
    json_lines: "t.jsonl", include_bytes!("files/small.jsonl");
    captions: "t.vtt", include_bytes!("files/small.vtt");
    srt: "t.srt", include_bytes!("files/small.srt");
    a_page: "t.html", include_bytes!("files/small.html");
    a_text: "t.md", include_bytes!("files/small.md");
    a_mail: "t.eml", include_bytes!("files/small.eml");
    a_mail_box: "t.mbox", include_bytes!("files/small.mbox");
    a_workbook: "t.xlsx", include_bytes!("files/tickets.xlsx");
    an_old_workbook: "t.xls", include_bytes!("files/tickets.xls");
    an_open_workbook: "t.ods", include_bytes!("files/tickets.ods");
    a_document: "t.docx", include_bytes!("files/interview.docx");
    a_pdf: "t.pdf", include_bytes!("files/interview.pdf");
}

//! What it takes to read 10,000 reviews, step by step, beside the same steps put together from Python's onnxruntime and
//! scikit-learn; what 100 more take; and what it takes to look through the meanings of 100,000 excerpts.

use std::process::Command;
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use iron_kite_core::listen::{Columns, Strictness};
use iron_kite_core::text::{Heard, Meaning, NoMeaning, Vector};
use iron_kite_core::things::ProductId;
use iron_kite_meaning::Models;
use iron_kite_ops::listen::{NewRun, Take};
use iron_kite_ops::{App, Call, collections, jobs, listen, overview};
use iron_kite_testkit::reviews_csv;
use jiff::Timestamp;
use jiff::civil::date;

use crate::{ms, tell, times};

/// The Python to compare with: one that has onnxruntime, tokenizers, numpy and scikit-learn.
const PYTHON: &str = "IRON_KITE_PYTHON";
const REFERENCE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/reference.py");
const MODEL: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../meaning/model");

/// The models, with how long they took.
#[derive(Clone)]
struct Watched {
    model: Arc<Models>,
    spent: Arc<Mutex<Duration>>,
    closer: Arc<Mutex<Duration>>,
    /// Many texts at once only get something like a meaning, where what they mean does not matter.
    feigns: bool,
}

impl Watched {
    fn tell<T: From<Vector>>(
        &self,
        texts: &[&str],
        spent: &Mutex<Duration>,
        tell: impl FnOnce(&Models) -> Result<Vec<T>, NoMeaning>,
    ) -> Result<Vec<T>, NoMeaning> {
        if self.feigns && texts.len() > 1 {
            return Ok(texts.iter().map(|text| feigned(text).into()).collect());
        }
        let start = Instant::now();
        let vectors = tell(&self.model)?;
        *spent.lock().expect("the time") += start.elapsed();
        Ok(vectors)
    }
}

impl Meaning for Watched {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        self.tell(texts, &self.spent, |model| model.vectors(texts))
    }

    fn heard(&self, texts: &[&str]) -> Result<Vec<Heard>, NoMeaning> {
        self.tell(texts, &self.spent, |model| model.heard(texts))
    }

    fn closer(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        self.tell(texts, &self.closer, |model| model.closer(texts))
    }
}

/// Something like a meaning: one of a few hundred subjects, and noise of the text's own.
fn feigned(text: &str) -> Vector {
    let hash = |bytes: &mut dyn Iterator<Item = u8>| {
        bytes.fold(0xcbf2_9ce4_8422_2325_u64, |sum, byte| (sum ^ u64::from(byte)).wrapping_mul(0x100_0000_01b3))
    };
    let subject = hash(&mut text.bytes().filter(u8::is_ascii_alphabetic).take(24)) % 384;
    let mut seed = hash(&mut text.bytes());
    let numbers = (0..384).map(|_| {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        f32::from(u16::try_from(seed >> 48).unwrap_or_default()) / 32_768.0 - 1.0
    });
    let mut numbers: Vec<f32> = numbers.collect();
    numbers[usize::try_from(subject).unwrap_or_default()] += 12.0;
    Vector::pointing(numbers)
}

fn seconds(act: impl FnOnce()) -> f64 {
    let start = Instant::now();
    act();
    start.elapsed().as_secs_f64()
}

fn workspace(meaning: &Watched) -> (App, ProductId, Call, tempfile::TempDir) {
    let dir = tempfile::tempdir().expect("a folder");
    let call = Call::command(Timestamp::UNIX_EPOCH, date(2026, 6, 30));
    let app = App::open(dir.path()).expect("a workspace").with_meaning(Box::new(meaning.clone()));
    let product = overview::add_product(&app, &call, "Crossing").expect("a product").thing.expect("it").id.into();
    (app, product, call, dir)
}

fn bring(app: &App, call: &Call, product: ProductId, csv: &str) {
    let columns = Columns { text: 4, person: Some(1), ..Columns::default() };
    listen::import(app, call, product, "reviews.csv", csv.as_bytes(), &columns).expect("an import");
}

/// Measures on so many reviews.
pub(crate) fn measure(count: usize) {
    let model = Arc::new(Models::on(2));
    let meaning = Watched { model, spent: Arc::default(), closer: Arc::default(), feigns: false };
    from_file_to_findings(&meaning, count);
    // By now the first workspace is closed: what is held from here on is what one program holds.
    search(&meaning);
}

fn from_file_to_findings(meaning: &Watched, count: usize) {
    let (app, product, call, dir) = workspace(meaning);
    let csv = reviews_csv(count);
    let (more, rest) = split(&reviews_csv(count + 100), count);
    debug_assert_eq!(rest, csv);
    let into = seconds(|| bring(&app, &call, product, &csv));
    let read = seconds(|| listen::read_now(&app, &call, product).expect("reading"));
    let understood = meaning.spent.lock().expect("the time").as_secs_f64();
    let mut run = 0;
    let grouped = seconds(|| run = suggest(&app, &call, product));
    let mut found = 0;
    let taken = seconds(|| found = take(&app, &call, product, run));
    let all = into + read + grouped + taken;
    tell(&format!("{count} reviews from file to findings on two cores: {all:.1} s"));
    let share = |name: &str, time: f64| tell(&format!("  {name:<36}{time:>8.1} s {:>5.0} %", 100.0 * time / all));
    share("brought in and glanced at", into);
    share("meaning", understood);
    share("kind, sentiment, language, kept", read - understood);
    let closer = meaning.closer.lock().expect("the time").as_secs_f64();
    share("meaning seen more closely", closer);
    share(&format!("{found} findings suggested"), grouped - closer);
    share("taken", taken);
    let hundred = seconds(|| {
        bring(&app, &call, product, &more);
        listen::read_now(&app, &call, product).expect("reading, and what they make of the findings");
        listen::look_closer_now(&app, &call, product).expect("a closer look");
    });
    tell(&format!("  100 more: {hundred:.2} s, {:.1} % of it", 100.0 * hundred / all));
    reference(dir.path(), &csv, all);
}

/// The rows of a file beyond so many, with their headings; and the file without them.
fn split(csv: &str, count: usize) -> (String, String) {
    let mut lines = csv.lines();
    let head = lines.next().unwrap_or_default();
    let (first, last): (Vec<_>, Vec<_>) = lines.enumerate().partition(|(at, _)| *at < count);
    let whole = |rows: Vec<(usize, &str)>| {
        std::iter::once(head)
            .chain(rows.into_iter().map(|(_, row)| row))
            .fold(String::new(), |all, row| all + row + "\n")
    };
    (whole(last), whole(first))
}

/// Tries a run of the grouping; gives its number.
fn suggest(app: &App, call: &Call, product: ProductId) -> i64 {
    let run = listen::try_run(app, call, NewRun { product, strictness: Strictness::Even }).expect("a run").id;
    jobs::work_off(app, call).expect("the run");
    run
}

/// Takes all of a run; how many findings there are then.
fn take(app: &App, call: &Call, product: ProductId, run: i64) -> usize {
    listen::take_run(app, call, run, Take::default()).expect("the taking");
    jobs::work_off(app, call).expect("the taking");
    listen::findings(app, call, product).expect("findings").len()
}

fn reference(dir: &std::path::Path, csv: &str, ours: f64) {
    let Ok(python) = std::env::var(PYTHON) else {
        tell(&format!(
            "  the reference was left out: set {PYTHON} to a Python with onnxruntime, tokenizers and scikit-learn"
        ));
        return;
    };
    let file = dir.join("reviews.csv");
    std::fs::write(&file, csv).expect("a file");
    let output = Command::new(python).arg(REFERENCE).arg(MODEL).arg(&file).output().expect("the reference");
    let words = String::from_utf8_lossy(&output.stdout).into_owned();
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    words.lines().for_each(|line| tell(&format!("  reference: {line}")));
    let all: f64 = words
        .lines()
        .last()
        .and_then(|line| line.split_whitespace().nth(1))
        .and_then(|s| s.parse().ok())
        .expect("its time");
    tell(&format!("  ours beside the reference: {:.2}", ours / all));
}

/// Looking for what is meant among the excerpts of 50,000 reviews, two each.
fn search(meaning: &Watched) {
    const REVIEWS: usize = 50_000;
    const QUESTIONS: [&str; 4] = [
        "the boat did not come",
        "is there a way to get my money back",
        "I cannot read it in daylight",
        "friendly staff on board",
    ];
    let (app, product, call, _dir) = workspace(&Watched { feigns: true, ..meaning.clone() });
    bring(&app, &call, product, &reviews_csv(REVIEWS));
    listen::read_now(&app, &call, product).expect("reading");
    let mut n = 0;
    let mut ask = || {
        n += 1;
        let words = QUESTIONS[n % QUESTIONS.len()];
        collections::search(&app, &call, product, words, None).expect("an answer");
    };
    let times = times(&mut ask, 60);
    let at = |share: usize| ms(times[times.len() * share / 100]);
    tell(&format!(
        "search by meaning and words over {} excerpts: p50 {:.1} ms, p95 {:.1} ms",
        2 * REVIEWS,
        at(50),
        at(95)
    ));
    let mut run = 0;
    let suggested = seconds(|| run = suggest(&app, &call, product));
    let mut found = 0;
    let taken = seconds(|| found = take(&app, &call, product, run));
    tell(&format!(
        "{found} findings suggested from them, on two cores, in {suggested:.1} s, and taken in {taken:.1} s"
    ));
    if let Ok(status) = std::fs::read_to_string("/proc/self/status") {
        let peak = status.lines().find(|line| line.starts_with("VmHWM")).unwrap_or_default();
        tell(&format!("most memory of the whole run: {}", peak.trim_start_matches("VmHWM:").trim()));
    }
}

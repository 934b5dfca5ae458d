//! Learns the weights that the core ships with. Run from the root of the project:
//!
//! ```text
//! cargo run --release -p iron-kite-meaning --example train -- kinds
//! cargo run --release -p iron-kite-meaning --example train -- sentiment FOLDER
//! cargo run --release -p iron-kite-meaning --example train -- needs
//! cargo run --release -p iron-kite-meaning --example train -- sure
//! cargo run --release -p iron-kite-meaning --example train -- learned
//! ```
//!
//! `FOLDER` holds the sets of rated sentences that `docs/methods/sentiment.md` names. Each run prints how well each part
//! is told by what was learned from the others, then learns from all that is meant for learning and writes the weights.

mod needs;

use std::error::Error;
use std::fs;

use iron_kite_core::formats::table;
use iron_kite_core::jobs::Watch;
use iron_kite_core::listen::{
    Confusion, FeedbackKind, Judged, Member, NEUTRAL_COUNTS, Nearest, OwnKinds, Pairs, Sides, Strictness,
    kind_features, kind_of, pearson, propose, sentiment_features, side_of, tone_feature, tone_score,
};
use iron_kite_core::text::{Example, Features, Fit, Heard, Logistic, Meaning, middle};
use iron_kite_meaning::Models;

type Outcome<T> = Result<T, Box<dyn Error>>;

const WEIGHTS: &str = "crates/core/src/listen/weights";

/// A text with what people say of it, and the part of the set that it belongs to.
struct Labelled {
    text: String,
    class: String,
    score: f64,
    part: String,
    heard: Heard,
}

/// How much of a text is known.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Known {
    Words,
    Meaning,
    Tone,
}

impl Labelled {
    /// What its sentiment is told from, by what of it is known. The tone was learned from the same texts, so weights are learned
    /// without it.
    fn features(&self, known: Known) -> Features {
        match known {
            Known::Words => sentiment_features(&self.text, None),
            Known::Meaning => sentiment_features(&self.text, Some(&self.heard.meaning.clone().into())),
            Known::Tone => sentiment_features(&self.text, Some(&self.heard)),
        }
    }
}

/// How much of what the weights say counts beside how much of what the tone says.
const SHARE: f32 = 0.5;
const OF_TONE: f32 = 0.5;

/// Weights as they are shipped: where the tone is known, it counts beside them.
fn shipped(weights: Logistic, known: Known) -> Logistic {
    if known == Known::Words { weights } else { weights.beside(SHARE, OF_TONE, tone_feature) }
}

fn main() -> Outcome<()> {
    let words: Vec<String> = std::env::args().skip(1).collect();
    match words.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["kinds"] => kinds(),
        ["sentiment", folder] => sentiment(folder),
        ["needs"] => needs::learn(),
        ["sure"] => sure(),
        ["learned"] => learned(),
        _ => Err("say: kinds, sentiment FOLDER, needs, sure, or learned".into()),
    }
}

/// The columns of a CSV by their headings.
fn columns(path: &str, wanted: &[&str]) -> Outcome<Vec<Vec<String>>> {
    let table = table::read(&fs::read(path)?)?;
    let places = wanted.iter().map(|name| table.columns.iter().position(|heading| heading == name));
    let places = places.collect::<Option<Vec<usize>>>().ok_or("a column is missing")?;
    Ok(table.rows.iter().map(|row| places.iter().map(|at| row.cells[*at].to_owned()).collect()).collect())
}

fn heard(texts: &[String]) -> Outcome<Vec<Heard>> {
    let texts: Vec<&str> = texts.iter().map(String::as_str).collect();
    Ok(Models::on(2).heard(&texts)?)
}

fn labelled_kinds(path: &str) -> Outcome<Vec<Labelled>> {
    let rows = columns(path, &["text", "kind", "subject"])?;
    let heard = heard(&rows.iter().map(|row| row[0].clone()).collect::<Vec<_>>())?;
    let all = rows.into_iter().zip(heard).map(|(row, heard)| {
        let [text, class, part] = <[String; 3]>::try_from(row).unwrap_or_default();
        Labelled { text, class, score: 0.0, part, heard }
    });
    Ok(all.collect())
}

fn examples(all: &[&Labelled], meaning: bool) -> Vec<Example> {
    let one = |one: &&Labelled| Example {
        features: kind_features(&one.text, meaning.then_some(&one.heard.meaning)),
        class: one.class.clone(),
        weight: 1.0,
    };
    all.iter().map(one).collect()
}

fn likeliest(weights: &Logistic, told: &[f32]) -> String {
    let most = told.iter().zip(weights.classes()).max_by(|a, b| a.0.total_cmp(b.0));
    most.map(|(_, class)| class.clone()).unwrap_or_default()
}

fn kinds() -> Outcome<()> {
    let train = labelled_kinds("evaluation/train.csv")?;
    let test = labelled_kinds("evaluation/kinds.csv")?;
    let everything: Vec<&Labelled> = train.iter().chain(&test).collect();
    let mut parts: Vec<&str> = everything.iter().map(|one| one.part.as_str()).collect();
    parts.sort_unstable();
    parts.dedup();
    for (meaning, ridge, name) in [(true, 0.0015, "kinds"), (false, 0.0005, "kinds_words")] {
        let how = Fit { ridge, rounds: 300, least: 3 };
        let mut pairs = Vec::new();
        for part in &parts {
            let (held, rest): (Vec<&Labelled>, Vec<&Labelled>) = everything.iter().partition(|one| one.part == *part);
            let weights = Logistic::fit(&examples(&rest, meaning), how);
            for (one, example) in held.iter().zip(examples(&held, meaning)) {
                pairs.push((one.class.clone(), likeliest(&weights, &weights.told(&example.features))));
            }
        }
        say(&format!("{name}: each subject told by the others"), &pairs);
        let weights = Logistic::fit(&examples(&train.iter().collect::<Vec<_>>(), meaning), how);
        let test: Vec<&Labelled> = test.iter().collect();
        let told = test.iter().zip(examples(&test, meaning));
        let pairs: Vec<(String, String)> = told
            .map(|(one, example)| (one.class.clone(), likeliest(&weights, &weights.told(&example.features))))
            .collect();
        say(&format!("{name}: the subjects for judging told by those for learning"), &pairs);
        fs::write(format!("{WEIGHTS}/{name}.tsv"), weights.write())?;
    }
    Ok(())
}

/// How many splits are looked at.
const SPLITS: usize = 40;

/// How much better kinds are told after some were judged, on those that were not judged: by a team that draws the lines as
/// the set does, and by one for which all friction is a defect.
#[expect(clippy::print_stdout, reason = "a command that reports")]
#[expect(clippy::cast_precision_loss, reason = "sets are small")]
fn learned() -> Outcome<()> {
    let all = labelled_kinds("evaluation/kinds.csv")?;
    let kind = |one: &Labelled, own: bool| match FeedbackKind::named(&one.class) {
        Some(FeedbackKind::Friction) if own => Some(FeedbackKind::Defect),
        kind => kind,
    };
    for (own, name) in [(false, "as labelled"), (true, "all friction is a defect")] {
        let judged: Vec<Judged> = all
            .iter()
            .filter_map(|one| {
                Some(Judged { words: one.text.clone(), meaning: one.heard.meaning.clone(), kind: kind(one, own)? })
            })
            .collect();
        for count in [40, 80, 160] {
            let (mut before, mut after, mut worse) = (0, 0, 0);
            for split in 0..SPLITS {
                let mut order: Vec<(usize, &Judged)> = judged.iter().enumerate().collect();
                order.sort_by_key(|(at, _)| (at * 7_919 + split * 104_729) * 2_654_435_761 % 4_294_967_296);
                let (seen, rest) = order.split_at(count);
                let seen: Vec<Judged> = seen.iter().map(|(_, one)| (*one).clone()).collect();
                let rest: Vec<&Judged> = rest.iter().map(|(_, one)| *one).collect();
                let moved = OwnKinds::learned(&seen).ok_or("too few")?;
                let shipped =
                    rest.iter().filter(|one| kind_of(&one.words, Some(&one.meaning)).kind == one.kind).count();
                let now = rest.iter().filter(|one| moved.kind_of(&one.words, &one.meaning).kind == one.kind).count();
                before += shipped;
                after += now;
                worse += usize::from(now < shipped);
            }
            let all = (SPLITS * (judged.len() - count)) as f64;
            let [before, after] = [before, after].map(|right| right as f64 / all);
            println!(
                "{name}, {count} judged: accuracy {before:.3}, then {after:.3}; worse in {worse} of {SPLITS} splits"
            );
        }
    }
    Ok(())
}

#[expect(clippy::print_stdout, reason = "a command that reports")]
fn say(what: &str, pairs: &[(String, String)]) {
    let confusion = Confusion::of(pairs.iter().map(|(right, told)| (right.as_str(), told.as_str())));
    println!("{what}: n {}, accuracy {:.3}, macro F1 {:.3}", confusion.n(), confusion.accuracy(), confusion.macro_f1());
    for right in confusion.classes() {
        let told: Vec<String> =
            confusion.classes().iter().map(|told| format!("{:>4}", confusion.count(right, told))).collect();
        println!("  {right:<12}{}", told.join(""));
    }
}

/// The sets of rated sentences: all but the last are learned from, the last is for judging.
const SETS: [&str; 4] = ["tweets", "movieReviewSnippets", "nytEditorialSnippets", "amazonReviewSnippets"];
const JUDGED: &str = SETS[3];

/// Our own sentences are not rated; what their kind usually says is taken instead.
fn usual(kind: &str) -> &'static str {
    match kind {
        "praise" => "for",
        "defect" | "friction" | "leaving" => "against",
        _ => "neutral",
    }
}

fn rated(folder: &str, set: &str) -> Outcome<Vec<Labelled>> {
    let bytes = fs::read(format!("{folder}/{set}_GroundTruth.txt"))?;
    let text: String = bytes.iter().map(|byte| char::from(*byte)).collect();
    let mut rows = Vec::new();
    for line in text.lines() {
        let mut cells = line.splitn(3, '\t').skip(1);
        if let (Some(score), Some(words)) = (cells.next(), cells.next()) {
            rows.push((words.to_owned(), score.parse::<f64>()? / 4.0));
        }
    }
    let heard = heard(&rows.iter().map(|(words, _)| words.clone()).collect::<Vec<_>>())?;
    let all = rows.into_iter().zip(heard).map(|((text, score), heard)| {
        let class = side_of(score).to_owned();
        Labelled { text, class, score, part: set.to_owned(), heard }
    });
    Ok(all.collect())
}

fn sentiment(folder: &str) -> Outcome<()> {
    let mut all = Vec::new();
    for set in SETS {
        all.extend(rated(folder, set)?);
    }
    let mut own = labelled_kinds("evaluation/train.csv")?;
    own.iter_mut().for_each(|one| usual(&one.class).clone_into(&mut one.class));
    for (known, name) in [(Known::Meaning, "sentiment"), (Known::Words, "sentiment_words")] {
        let example = |one: &Labelled| Example { features: one.features(known), class: one.class.clone(), weight: 1.0 };
        let fitted = |without: &[&str]| {
            let rest = all.iter().filter(|one| !without.contains(&one.part.as_str()));
            Logistic::fit(
                &rest.chain(&own).map(example).collect::<Vec<_>>(),
                Fit { ridge: 0.01, rounds: 120, least: 4 },
            )
        };
        // How many times the likelihood of neither counts is chosen on sets that the weights are not learned from.
        for held in &SETS[..3] {
            judge(&format!("{name}, {held} held out"), &all, held, &fitted(&[held, JUDGED]), known);
        }
        let weights = fitted(&[JUDGED]);
        judge(name, &all, JUDGED, &weights, known);
        let weights = shipped(weights, known);
        if known == Known::Meaning {
            judge(&format!("{name}, with the tone"), &all, JUDGED, &weights, Known::Tone);
        }
        fs::write(format!("{WEIGHTS}/{name}.tsv"), weights.write())?;
    }
    Ok(())
}

/// How well the sentiment of one set is told, by how many times the likelihood of neither counts.
#[expect(clippy::print_stdout, reason = "a command that reports")]
fn judge(what: &str, all: &[Labelled], set: &str, weights: &Logistic, known: Known) {
    let held: Vec<&Labelled> = all.iter().filter(|one| one.part == set).collect();
    let sides: Vec<Sides> = held.iter().map(|one| Sides::told(weights, &one.features(known))).collect();
    let right: Vec<f64> = held.iter().map(|one| one.score).collect();
    for counts in [1.0, 1.5, 2.0, NEUTRAL_COUNTS, 3.0] {
        let score = |one: &Labelled| tone_score(one.heard.tone).filter(|_| known == Known::Tone);
        let told: Vec<f64> = held.iter().zip(&sides).map(|(one, sides)| sides.sentiment(score(one), counts)).collect();
        let pairs = held.iter().zip(&told).map(|(one, told)| (one.class.as_str(), side_of(*told)));
        let r = pearson(&right, &told).unwrap_or_default();
        println!("{what}: neither counts {counts}: r {r:.4}, macro F1 {:.3}", Confusion::of(pairs).macro_f1());
    }
}

/// An excerpt in a group: how alike it is to the middle, and whether most of its group means what it means.
type Placed = (f64, bool);

fn placed(path: &str) -> Outcome<Vec<Placed>> {
    let rows = columns(path, &["text", "label"])?;
    let texts: Vec<&str> = rows.iter().map(|row| row[0].as_str()).collect();
    let models = Models::on(2);
    let seen = models.vectors(&texts)?.into_iter().zip(models.closer(&texts)?);
    let members = texts.iter().zip(seen).zip(0..).map(|((text, (meaning, closer)), voice)| {
        let mut member = Member::new(&closer, kind_of(text, Some(&meaning)).likely);
        member.voice = voice;
        member
    });
    let members: Vec<Member> = members.collect();
    let centre = middle(members.iter().map(Member::meaning)).ok_or("the file is empty")?;
    let mut all = Vec::new();
    for strictness in [Strictness::Loose, Strictness::Even, Strictness::Strict] {
        for one in propose(&members, &[], &Pairs::default(), strictness, &Watch::default()).unwrap_or_default().findings
        {
            let places = || one.members.iter().map(|(place, _)| *place);
            let label = |place: usize| rows[place][1].as_str();
            let count = |wanted: &str| places().filter(|place| label(*place) == wanted).count();
            let most = places().map(label).max_by_key(|one| (count(one), std::cmp::Reverse(*one))).unwrap_or_default();
            let middle = middle(places().map(|place| members[place].meaning())).ok_or("a group is empty")?;
            let nearest = Nearest::of(&centre, vec![(0, middle)], strictness);
            let alike = |place: usize| f64::from(nearest.alike(&members[place].meaning(), 0));
            all.extend(places().map(|place| (alike(place), label(place) == most)));
        }
    }
    Ok(all)
}

fn told_sure(weights: [f64; 2], alike: f64) -> f64 {
    1.0 / (1.0 + (-(weights[0] + weights[1] * alike)).exp())
}

/// Learns how sure it is that an excerpt belongs to its group: the numbers of `SURE` in
/// `crates/core/src/listen/grouping/mod.rs`.
#[expect(clippy::print_stdout, reason = "a command that reports")]
fn sure() -> Outcome<()> {
    let (learned, test) = (placed("evaluation/groups_many.csv")?, placed("evaluation/groups.csv")?);
    let mut weights = [0.0_f64; 2];
    let count = f64::from(u32::try_from(learned.len())?);
    for _ in 0..20_000 {
        let mut slope = [0.0; 2];
        for (alike, right) in &learned {
            let off = f64::from(u8::from(*right)) - told_sure(weights, *alike);
            slope.iter_mut().zip([1.0, *alike]).for_each(|(sum, x)| *sum += off * x / count);
        }
        weights.iter_mut().zip(slope).for_each(|(weight, slope)| *weight += slope);
    }
    println!("SURE = {weights:.2?} from {} places", learned.len());
    for (name, all) in [("learned from", &learned), ("never seen", &test)] {
        for tenth in 0..10_u8 {
            let (low, high) = (f64::from(tenth) / 10.0, f64::from(tenth + 1) / 10.0);
            let within = all.iter().filter(|(alike, _)| (low..high).contains(&told_sure(weights, *alike)));
            let (right, all) = within.fold((0, 0), |(right, all), one| (right + u32::from(one.1), all + 1));
            if all > 0 {
                println!("{name}: {low:.1} to {high:.1}: {right} of {all} right");
            }
        }
    }
    Ok(())
}

//! The log of decisions as a page: what, why, by whom, and what each rested on.

use super::super::{IdeaState, Outcome};
use super::kept::{Frozen, range_words, shown};
use crate::formats::blocks::Block;

/// A decision as the log tells it.
#[derive(Debug, Clone)]
pub struct Logged<'a> {
    /// The idea, in words.
    pub idea: String,
    /// What was decided.
    pub outcome: Outcome,
    /// Why.
    pub reason: &'a str,
    /// By whom.
    pub by: Option<&'a str>,
    /// The day.
    pub on: &'a str,
    /// The day on which to look at it again.
    pub look_again_on: Option<&'a str>,
    /// What it rested on.
    pub frozen: Option<&'a Frozen>,
    /// Why to look at it again now.
    pub look_again: &'a [String],
    /// Whether another decision about the idea came after it.
    pub overtaken: bool,
}

/// Writes the log, in the order in which the decisions come. Linear.
#[must_use]
pub fn decision_log(all: &[Logged<'_>]) -> Vec<Block> {
    let paragraph = |words: String| Block::Paragraph { words };
    let mut blocks = vec![Block::Heading { level: 1, words: "Decisions".into() }];
    if all.is_empty() {
        blocks.push(paragraph("None yet.".into()));
    }
    for one in all {
        let what = match one.outcome {
            Outcome::Chosen => IdeaState::Chosen,
            Outcome::SetAside => IdeaState::SetAside,
        };
        let what = what.name().replace('_', " ");
        blocks.push(Block::Heading { level: 2, words: format!("{}: {what}", one.idea) });
        let by = one.by.map(|by| format!(" by {by}")).unwrap_or_default();
        let again = one.look_again_on.map(|day| format!(" To be looked at again on {day}.")).unwrap_or_default();
        let overtaken = if one.overtaken { " A later decision took its place." } else { "" };
        blocks.push(paragraph(format!("Decided on {}{by}.{again}{overtaken}", one.on)));
        blocks.push(paragraph(one.reason.into()));
        let points = one.frozen.map(rested_on).unwrap_or_default();
        let again = one.look_again.iter().map(|words| format!("Look again: {words}"));
        blocks.extend(points.into_iter().chain(again).map(|words| Block::Point { words }));
    }
    blocks
}

/// What a decision rested on, in words.
fn rested_on(frozen: &Frozen) -> Vec<String> {
    let model = &frozen.model.definition;
    let version = frozen.model.version.map(|version| format!(", version {version}")).unwrap_or_default();
    let place = &frozen.kept.place;
    let score = match (place.spread, place.rank) {
        (Some(spread), Some(rank)) => format!(
            "{}{version}: {} ({} to {}), place {rank} of {}",
            model.title,
            shown(spread.median),
            shown(spread.low),
            shown(spread.high),
            frozen.of
        ),
        _ => format!("{}{version}: no score, it lacked {}", model.title, place.missing.join(", ")),
    };
    let fields: Vec<String> =
        frozen.kept.fields.iter().map(|(name, one)| format!("{} {}", model.label_of(name), range_words(one))).collect();
    let (evidence, voices) = (&frozen.evidence, &frozen.voices);
    #[expect(clippy::cast_precision_loss, reason = "revenue is far below 2^52")]
    let revenue = shown(voices.revenue as f64);
    let points = [
        score,
        fields.join(", "),
        format!("Evidence: {}, confidence {:.2}", evidence.grade.words(), evidence.confidence),
        format!("{} people, {} accounts, € {revenue} a year", voices.people, voices.accounts),
    ];
    points.into_iter().filter(|words| !words.is_empty()).collect()
}

//! A study: a planned piece of research, with a guide of what is asked.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::{ProductId, StudyId};

/// A planned piece of research.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Study {
    /// Its number.
    pub id: StudyId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is about.
    pub product_id: ProductId,
    /// What it is called.
    pub title: String,
    /// What it is to find out.
    pub question: Option<String>,
    /// How.
    pub method: Option<String>,
    /// Where it stands: planned, under way, finished.
    pub state: Option<String>,
    /// Its first day, `YYYY-MM-DD`.
    pub starts_on: Option<String>,
    /// Its last day.
    pub ends_on: Option<String>,
    /// What is asked, as markdown.
    pub guide: Option<String>,
    /// What else is to be known.
    pub note: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "study",
    singular: "study",
    plural: "studies",
    stage: Stage::Listen,
    list: Some(List { heading: "Studies", title: "title" }),
    product: WayToProduct::Column,
    relations: &[Relation::to("product_id", ThingKind::Product)],
    searched: Some(Searched::by(11, "title", &["question", "note"])),
    prose: &[
        Prose::Text("title"),
        Prose::Text("question"),
        Prose::Text("note"),
        Prose::Text("guide"),
        Prose::Values("own"),
    ],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("question", Holds::Text(NOTE)),
        may("method", Holds::Line(TITLE)),
        may("state", Holds::OneOf(study_states)),
        may("starts_on", Holds::Day),
        may("ends_on", Holds::Day),
        may("guide", Holds::Text(NOTE)),
        may("note", Holds::Text(NOTE)),
    ],
    begins: &[("state", Initial::Is("planned"))],
    rights: Rights::all(Right::Listen),
    ..Description::BASE
};

/// Where a study stands.
pub(crate) fn study_states() -> Vec<&'static str> {
    vec!["planned", "under_way", "finished"]
}

/// One question of a guide.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GuideQuestion {
    /// The heading that it stands under.
    pub section: Option<String>,
    /// The question, or what is to be done.
    pub words: String,
}

/// The questions of a guide: every point of its lists, under the nearest heading above. A point may go on in the
/// lines below, set in. In a guide without any list, each line is a question. Linear.
///
/// ```
/// use iron_kite_core::listen::questions_of;
/// let guide = "Be on time.\n\n## The last crossing\n- Tell me about it,\n  from the door on.\n- What went wrong?\n";
/// let questions = questions_of(guide);
/// assert_eq!(questions[0].section.as_deref(), Some("The last crossing"));
/// assert_eq!(questions[0].words, "Tell me about it, from the door on.");
/// assert_eq!(questions.len(), 2);
/// ```
#[must_use]
pub fn questions_of(guide: &str) -> Vec<GuideQuestion> {
    let plain = !guide.lines().any(|line| point(line).is_some());
    let mut section = None;
    let mut found: Vec<GuideQuestion> = Vec::new();
    let mut open = false;
    for line in guide.lines() {
        let words = line.trim();
        if let Some(heading) = words.strip_prefix('#') {
            section = Some(heading.trim_start_matches('#').trim().to_owned()).filter(|heading| !heading.is_empty());
            open = false;
        } else if let Some(words) = point(line).or(plain.then_some(words)).filter(|words| !words.is_empty()) {
            found.push(GuideQuestion { section: section.clone(), words: words.to_owned() });
            open = !plain;
        } else if open && line.starts_with([' ', '\t']) && !words.is_empty() {
            if let Some(last) = found.last_mut() {
                last.words = format!("{} {words}", last.words);
            }
        } else {
            open = false;
        }
    }
    found
}

/// The words of a point of a list: `- words`, `* words`, `3. words`.
fn point(line: &str) -> Option<&str> {
    let line = line.trim_start();
    let behind = line.trim_start_matches(|c: char| c.is_ascii_digit());
    let rest =
        if behind.len() < line.len() { behind.strip_prefix(['.', ')'])? } else { line.strip_prefix(['-', '*', '+'])? };
    rest.strip_prefix([' ', '\t']).map(str::trim)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn words(guide: &str) -> Vec<String> {
        questions_of(guide).into_iter().map(|question| question.words).collect()
    }

    #[test]
    fn points_are_questions_and_remarks_are_not() {
        let guide =
            "# Before\nSit down first.\n1. Who are you?\n2) Since when?\n\n## After\n* And then?\nThank them.\n";
        let found = questions_of(guide);
        let sections: Vec<_> = found.iter().map(|question| question.section.as_deref()).collect();
        assert_eq!(words(guide), ["Who are you?", "Since when?", "And then?"]);
        assert_eq!(sections, [Some("Before"), Some("Before"), Some("After")]);
    }

    #[test]
    fn without_a_list_each_line_is_a_question() {
        assert_eq!(words("How do you pay?\n\n## Later\nWhy so?\n"), ["How do you pay?", "Why so?"]);
        assert_eq!(words(" \n#\n"), [""; 0]);
    }

    #[test]
    fn a_dash_alone_or_a_year_is_no_point() {
        assert_eq!(words("- One\n2026 was late.\n-not\n"), ["One"]);
    }
}

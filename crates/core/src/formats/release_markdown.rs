//! A release as a Markdown page for people who build it.

use std::fmt::Write;

use crate::plan::{Progress, Release};
use crate::specify::{Criterion, WorkItem, story_sentence};

/// One epic's part of a release.
#[derive(Debug, Clone)]
pub struct Part<'a> {
    /// The epic; none for stories without one.
    pub epic: Option<&'a WorkItem>,
    /// Its stories in this release, each with its criteria and the references of what it needs.
    pub stories: Vec<(&'a WorkItem, Vec<&'a Criterion>, Vec<String>)>,
    /// Why: the findings behind the epic, each with how many people said it.
    pub why: Vec<String>,
}

/// Writes a release as Markdown. Text that people typed is escaped, so that it stays text.
#[must_use]
pub fn write(release: &Release, progress: &Progress, parts: &[Part<'_>]) -> String {
    let mut page = format!("# {} {}\n\n", release.id, escape(&release.title));
    let days = match (&release.starts_on, &release.ends_on) {
        (Some(from), Some(to)) => format!("{from} to {to}. "),
        (None, Some(to)) => format!("Out on {to}. "),
        _ => String::new(),
    };
    let went_out = release.released_on.as_ref().map(|day| format!("Went out on {day}. ")).unwrap_or_default();
    let _ = writeln!(
        page,
        "{days}{went_out}{} of {} stories done, {} of {} points.",
        progress.stories_done, progress.stories, progress.points_done, progress.points
    );
    for part in parts {
        match part.epic {
            Some(epic) => {
                let _ = writeln!(page, "\n## {} {}", epic.reference(), escape(&epic.title));
            }
            None => page.push_str("\n## Stories without an epic\n"),
        }
        for why in &part.why {
            let _ = writeln!(page, "\n> {}", escape(why));
        }
        for (story, criteria, needs) in &part.stories {
            write_story(&mut page, story, criteria, needs);
        }
    }
    page
}

fn write_story(page: &mut String, story: &WorkItem, criteria: &[&Criterion], needs: &[String]) {
    let points = story.points.map(|points| format!(", {points} points")).unwrap_or_default();
    let _ = writeln!(page, "\n### {} {}\n\n{}{points}", story.reference(), escape(&story.title), story.state.words());
    if !needs.is_empty() {
        let _ = writeln!(page, "\nNeeds {}.", needs.join(", "));
    }
    if let Some(sentence) = story_sentence(story) {
        let _ = writeln!(page, "\n{}", escape(&sentence));
    }
    if !criteria.is_empty() {
        page.push('\n');
    }
    for criterion in criteria {
        let _ = writeln!(page, "- [ ] {}", escape(&criterion.words));
    }
}

pub(super) fn escape(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.split_whitespace().collect::<Vec<_>>().join(" ").chars() {
        if matches!(c, '\\' | '`' | '*' | '_' | '[' | ']' | '<' | '>' | '#' | '|') {
            out.push('\\');
        }
        out.push(c);
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{ReleaseState, progress};
    use crate::specify::tests_support::story;
    use crate::things::{ProductId, ReleaseId, WorkItemId};

    #[test]
    fn a_release_reads_as_a_page() {
        let release = Release {
            id: ReleaseId(2),
            rev: 1,
            product_id: ProductId(1),
            title: "Autumn".into(),
            starts_on: None,
            ends_on: Some("2026-10-01".into()),
            released_on: None,
            capacity: None,
            state: ReleaseState::Planned,
        };
        let mut one = story(14);
        one.title = "Warn *early*".into();
        one.points = Some(5.0);
        one.as_a = Some("commuter".into());
        let criterion =
            Criterion { id: 1, rev: 1, story_id: WorkItemId(14), position: 1.0, words: "Given wind".into() };
        let parts = [Part {
            epic: None,
            stories: vec![(&one, vec![&criterion], vec!["S3".into()])],
            why: vec!["I only learn on the pier (12 people)".into()],
        }];
        let page = write(&release, &progress([&one]), &parts);
        let expected = "# R2 Autumn\n\nOut on 2026-10-01. 0 of 1 stories done, 0 of 5 points.\n\
            \n## Stories without an epic\n\n> I only learn on the pier (12 people)\n\
            \n### S14 Warn \\*early\\*\n\ndraft, 5 points\n\nNeeds S3.\n\nAs a commuter.\n\n- [ ] Given wind\n";
        assert_eq!(page, expected);
    }
}

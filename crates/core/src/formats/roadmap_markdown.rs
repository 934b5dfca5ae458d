//! The roadmap of a product as a Markdown page: what goes out in which quarter.

use std::fmt::Write;

use super::release_markdown::escape;
use crate::handover::{Roadmap, RoadmapBar};
use crate::plan::ReleaseState;

/// Writes a roadmap as Markdown, a heading for each quarter in which something goes out. Text that people typed is escaped, so
/// that it stays text.
#[must_use]
pub fn write(product: &str, roadmap: &Roadmap) -> String {
    let mut page = format!("# Roadmap of {}\n", escape(product));
    let mut quarter = None;
    for bar in &roadmap.bars {
        let heading = match bar.quarter {
            Some(quarter) => format!("{}, quarter {}", quarter.year, quarter.number),
            None => "Without a day".to_owned(),
        };
        if quarter.as_ref() != Some(&heading) {
            let _ = writeln!(page, "\n## {heading}");
            quarter = Some(heading);
        }
        write_release(&mut page, bar);
    }
    page
}

fn write_release(page: &mut String, bar: &RoadmapBar) {
    let days = match (&bar.release.starts_on, &bar.release.ends_on) {
        (Some(from), Some(to)) => format!("{from} to {to}. "),
        (None, Some(to)) => format!("Out on {to}. "),
        _ => String::new(),
    };
    let out = if bar.release.state == ReleaseState::Released { "Released. " } else { "" };
    let trouble = bar.trouble.as_ref().map(|trouble| format!(" It is {trouble}.")).unwrap_or_default();
    let (done, all) = (bar.progress.stories_done, bar.progress.stories);
    let _ = writeln!(
        page,
        "\n### {} {}\n\n{out}{days}{done} of {all} stories done.{trouble}",
        bar.release.id,
        escape(&bar.release.title)
    );
    if !bar.entries.is_empty() {
        page.push('\n');
    }
    for entry in &bar.entries {
        let (done, all) = (entry.progress.stories_done, entry.progress.stories);
        let _ = writeln!(page, "- {}: {done} of {all} stories done", escape(&entry.title));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::handover::roadmap;
    use jiff::civil::date;
    use serde_json::json;

    #[test]
    fn a_roadmap_reads_by_quarters() {
        let release = |id: i64, title: &str, ends: &str| {
            let row = json!({ "id": id, "rev": 1, "product_id": 1, "title": title, "ends_on": ends, "state": "planned", "position": id });
            serde_json::from_value(row).unwrap()
        };
        let releases = [release(1, "Tern *first*", "2026-06-30"), release(2, "Skua", "2026-09-30")];
        let page = write("Crossing", &roadmap(&releases, &[], date(2026, 6, 1)));
        assert_eq!(
            page,
            "# Roadmap of Crossing\n\n## 2026, quarter 2\n\n### R1 Tern \\*first\\*\n\nOut on 2026-06-30. 0 of 0 stories done.\n\
             \n## 2026, quarter 3\n\n### R2 Skua\n\nOut on 2026-09-30. 0 of 0 stories done.\n"
        );
    }
}

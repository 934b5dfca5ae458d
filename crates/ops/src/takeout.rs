//! Taking it out: a release as Markdown, stories as CSV, everything as one file; and that file in again.

use std::collections::BTreeMap;
use std::io::{Read, Seek, Write};

use iron_kite_core::formats::workspace;
use iron_kite_core::formats::{release_markdown, stories_csv};
use iron_kite_core::listen::Finding;
use iron_kite_core::plan::{Release, progress};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::Criterion;
use iron_kite_core::things::{ProductId, ReleaseId, ThingKind, WorkItemId};
use iron_kite_core::trace::LinkKind;
use iron_kite_store::Rows;
use serde::Serialize;
use utoipa::ToSchema;

use crate::call::{App, Call};
use crate::specify::{Board, board_of};

/// What came with a whole workspace.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Brought {
    /// How many rows.
    pub rows: usize,
    /// The addresses of people who have no password here yet.
    pub without_password: Vec<String>,
}

/// A release as Markdown.
///
/// # Errors
/// Where there is no such release.
pub fn release_markdown(app: &App, call: &Call, id: ReleaseId) -> Result<String, Problem> {
    app.read(call, Right::Read, |rows| {
        let release: Release = rows.get(id)?;
        let board = board_of(rows, release.product_id)?;
        let inside: Vec<_> = board.stories.iter().filter(|story| story.item.release_id == Some(id)).collect();
        let references = references(&board);
        let mut epics: Vec<Option<WorkItemId>> = inside.iter().map(|story| story.epic).collect();
        epics.sort_by_key(|epic| (epic.is_none(), *epic));
        epics.dedup();
        let mut parts = Vec::new();
        for epic_id in epics {
            let epic = board.epics.iter().find(|epic| Some(epic.item.id) == epic_id);
            let stories = inside.iter().filter(|story| story.epic == epic_id);
            parts.push(release_markdown::Part {
                epic: epic.map(|epic| &epic.item),
                stories: stories
                    .map(|story| {
                        let criteria: Vec<&Criterion> = story.criteria.iter().collect();
                        (&story.item, criteria, named(&references, &story.needs))
                    })
                    .collect(),
                why: epic.and_then(|epic| epic.idea).map_or_else(|| Ok(Vec::new()), |idea| why(rows, idea.0))?,
            });
        }
        Ok(release_markdown::write(&release, &progress(inside.iter().map(|story| &story.item)), &parts))
    })
}

fn references(board: &Board) -> BTreeMap<WorkItemId, String> {
    board.stories.iter().map(|story| (story.item.id, story.reference.clone())).collect()
}

fn named(references: &BTreeMap<WorkItemId, String>, ids: &[WorkItemId]) -> Vec<String> {
    ids.iter().filter_map(|id| references.get(id).cloned()).collect()
}

/// The findings behind an idea, each with how many people said it.
fn why(rows: &Rows<'_>, idea: i64) -> Result<Vec<String>, Problem> {
    let mut why = Vec::new();
    for link in rows.links(LinkKind::Supports, ThingKind::Finding, ThingKind::Idea)?.iter().filter(|l| l.to_id == idea)
    {
        let finding: Finding = rows.get(link.from_id)?;
        let who: Vec<_> = rows
            .excerpts(
                "e.id IN (SELECT from_id FROM link WHERE to_kind = 'finding' AND to_id = ?1 AND kind = 'supports')",
                [link.from_id],
            )?
            .into_iter()
            .map(|row| row.who)
            .collect();
        let people = iron_kite_core::decide::voices(&who, &rows.revenue()?).people;
        why.push(format!("{} {} ({people} people)", finding.id, finding.title));
    }
    Ok(why)
}

/// The stories of a product as CSV.
///
/// # Errors
/// Where the right is missing.
pub fn stories_csv(app: &App, call: &Call, product: ProductId) -> Result<String, Problem> {
    app.read(call, Right::Read, |rows| {
        let board = board_of(rows, product)?;
        let releases: Vec<Release> = rows.list("WHERE product_id = ?1", [product.0])?;
        let teams = rows.teams()?;
        let references = references(&board);
        let lines: Vec<stories_csv::StoryRow<'_>> = board
            .stories
            .iter()
            .map(|story| stories_csv::StoryRow {
                story: &story.item,
                epic: board
                    .epics
                    .iter()
                    .find(|epic| Some(epic.item.id) == story.epic)
                    .map(|epic| format!("{} {}", epic.reference, epic.item.title)),
                release: releases.iter().find(|r| Some(r.id) == story.item.release_id).map(|r| r.title.clone()),
                team: teams.iter().find(|team| Some(team.id) == story.item.team_id).map(|team| team.name.clone()),
                criteria: story.criteria.iter().collect(),
                depends_on: named(&references, &story.needs),
            })
            .collect();
        stories_csv::write(&lines).map_err(Problem::Internal)
    })
}

/// Writes the whole workspace as one JSON file, with its history and without passwords. Holds one row of it.
///
/// # Errors
/// Where the right is missing, or the file cannot be written.
pub fn export_all(app: &App, call: &Call, out: &mut dyn Write) -> Result<(), Problem> {
    app.read(call, Right::Own, |rows| Ok(rows.write_whole(out)?))
}

/// Puts such a file into this empty workspace. Holds one row of it.
///
/// # Errors
/// Where the file is newer, damaged or does not fit, or this workspace is not empty. Nothing is changed then.
pub fn import_all(app: &App, call: &Call, mut file: impl Read + Seek + Send + 'static) -> Result<Brought, Problem> {
    // Before the file is read: it may be large.
    app.read(call, Right::Own, |_| Ok(()))?;
    let unreadable = |words: String| Problem::refused("unreadable-workspace", words);
    let contents = workspace::contents(&mut file).map_err(unreadable)?;
    let (brought, _) =
        app.write(call, Right::Own, move |tx| Ok(iron_kite_store::brought_whole(tx, &contents, &mut file)?))?;
    Ok(Brought { rows: brought.rows, without_password: brought.without_password })
}

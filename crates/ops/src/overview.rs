//! The products of the workspace, and the one number on each stage that wants attention.

use iron_kite_core::decide::{Idea, IdeaState};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::specify::StoryState;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_core::workspace::Product;
use serde::Serialize;
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields};
use crate::decide::decisions_of;
use crate::learn;
use crate::plan;
use crate::specify::board_of;

/// A node of the course.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct CourseNode {
    /// The stage: listen, decide, specify, map, plan, handover, learn.
    pub stage: &'static str,
    /// How many things want attention there.
    pub count: usize,
    /// The same in words: "38 unread".
    pub words: String,
}

/// The products of the workspace.
///
/// # Errors
/// Where the right is missing.
pub fn products(app: &App, call: &Call) -> Result<Vec<Product>, Problem> {
    app.read(call, Right::Read, |rows| Ok(rows.list("ORDER BY id", [])?))
}

/// Adds a product.
///
/// # Errors
/// Where the name is not as it should be.
pub fn add_product(app: &App, call: &Call, name: &str) -> Result<Saved, Problem> {
    let values = iron_kite_core::fields::check_new(ThingKind::Product, "", fields(json!({ "name": name })))
        .map_err(Problem::Invalid)?;
    app.save(call, Right::Own, move |tx| {
        let id = tx.insert(ThingKind::Product, &values)?;
        tx.label("added a product");
        Ok(Some(Thing::new(ThingKind::Product, id)))
    })
}

/// The course of a product: what wants attention at each stage.
///
/// # Errors
/// Where the right is missing.
pub fn course(app: &App, call: &Call, product: ProductId) -> Result<Vec<CourseNode>, Problem> {
    let today = call.today;
    app.read(call, Right::Read, |rows| {
        let unread = usize::try_from(rows.unread(product)?).unwrap_or_default();
        let ideas: Vec<Idea> = rows.list("WHERE product_id = ?1", [product.0])?;
        let undecided = ideas.iter().filter(|idea| matches!(idea.state, IdeaState::Raw | IdeaState::Weighing)).count();
        let again = decisions_of(rows, call, product)?.iter().filter(|one| !one.look_again.is_empty()).count();
        let board = board_of(rows, product)?;
        let drafts = || board.stories.iter().filter(|story| story.item.state == StoryState::Draft);
        let ready = drafts().filter(|story| story.check.ready).count();
        let unplaced = board.stories.iter().filter(|s| s.item.step_id.is_none() || s.item.release_id.is_none()).count();
        let troubled = plan::in_trouble(rows, product, &board, today)?.len();
        let due = learn::out_of(rows, product)?.iter().filter(|out| out.results == 0).count();
        let node = |stage, count: usize, words: &str| CourseNode { stage, count, words: format!("{count} {words}") };
        Ok(vec![
            node("listen", unread, "unread"),
            node("decide", undecided + again, "to decide"),
            node("specify", drafts().count() - ready, "not ready"),
            node("map", unplaced, "unplaced"),
            node("plan", troubled, "in trouble"),
            node("handover", ready, "ready"),
            node("learn", due, "to measure"),
        ])
    })
}

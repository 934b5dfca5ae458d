//! The records of this stage.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::{IncrementId, Level, ProductId, ReleaseId, StepId, TeamColumnId, TeamId, WorkItemId};

/// How much a story matters.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Moscow {
    /// Without it the rest is worth nothing.
    Must,
    /// It hurts to leave it out.
    Should,
    /// If there is room.
    Could,
    /// Not this time.
    Wont,
}

impl Moscow {
    /// The names in the store and the API.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        vec!["must", "should", "could", "wont"]
    }
}

/// Where a story stands. Whether a draft is ready follows from the ready check and is not kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StoryState {
    /// Being written.
    Draft,
    /// In a team's queue.
    HandedOver,
    /// Somebody builds it.
    InBuild,
    /// Somebody looks whether it does what it should.
    InCheck,
    /// It does.
    Done,
}

impl StoryState {
    /// The name in the store and the API.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            StoryState::Draft => "draft",
            StoryState::HandedOver => "handed_over",
            StoryState::InBuild => "in_build",
            StoryState::InCheck => "in_check",
            StoryState::Done => "done",
        }
    }

    /// The word for people.
    #[must_use]
    pub fn words(self) -> String {
        self.name().replace('_', " ")
    }
}

/// An epic or a story. What only a story has is empty on an epic.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WorkItem {
    /// Its number, unique among all levels.
    pub id: WorkItemId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is for.
    pub product_id: ProductId,
    /// Epic or story.
    pub level: Level,
    /// The epic of a story.
    pub parent_id: Option<WorkItemId>,
    /// Its place among its like, ascending.
    pub position: f64,
    /// The thing in a few words.
    pub title: String,
    /// "As a …"
    pub as_a: Option<String>,
    /// "I want …"
    pub i_want: Option<String>,
    /// "so that …"
    pub so_that: Option<String>,
    /// Story points.
    pub points: Option<f64>,
    /// How much it matters.
    pub moscow: Option<Moscow>,
    /// What else is to be known, as markdown.
    pub note: Option<String>,
    /// Where it stands.
    pub state: StoryState,
    /// The team that it was handed to.
    pub team_id: Option<TeamId>,
    /// The column of that team's queue.
    pub column_id: Option<TeamColumnId>,
    /// The slice of the map that it lies in.
    pub release_id: Option<ReleaseId>,
    /// The step that it hangs below.
    pub step_id: Option<StepId>,
    /// The increment of an idea that it belongs to.
    #[serde(default)]
    pub increment_id: Option<IncrementId>,
    /// Its place in its cell of the map, ascending.
    pub map_position: f64,
    /// Its place in its team's queue, ascending.
    pub queue_position: f64,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "work_item",
    singular: "work item",
    plural: "work items",
    stage: Stage::Specify,
    list: Some(List { heading: "Epics and stories", title: "title" }),
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("parent_id", ThingKind::WorkItem).field("parent_id").back("children").goes().line(Line::Below),
        Relation::to("step_id", ThingKind::Step).stays(),
        Relation::to("release_id", ThingKind::Release).field("release_id").stays().line(Line::Above),
        Relation::to("increment_id", ThingKind::Increment)
            .field("increment_id")
            .back("stories")
            .stays()
            .line(Line::Below),
        Relation::to("team_id", ThingKind::Team),
        Relation::to("column_id", ThingKind::TeamColumn),
    ],
    searched: Some(Searched::by(6, "title", &["as_a", "i_want", "so_that", "note"])),
    prose: &[
        Prose::Text("title"),
        Prose::Text("as_a"),
        Prose::Text("i_want"),
        Prose::Text("so_that"),
        Prose::Text("note"),
        Prose::Values("own"),
    ],
    editable: &[
        must("title", Holds::Line(TITLE)),
        may("as_a", Holds::Line(TITLE)),
        may("i_want", Holds::Line(1_000)),
        may("so_that", Holds::Line(1_000)),
        may("points", Holds::Number(0.0, 1_000.0)),
        may("moscow", Holds::OneOf(Moscow::names)),
        may("note", Holds::Text(NOTE)),
        may("release_id", Holds::Thing(ThingKind::Release)),
        may("parent_id", Holds::Thing(ThingKind::WorkItem)),
        may("increment_id", Holds::Thing(ThingKind::Increment)),
    ],
    begins: &[
        ("state", Initial::Is(StoryState::Draft.name())),
        ("position", Initial::Last),
        ("map_position", Initial::Last),
    ],
    rights: Rights::all(Right::Edit),
    ..Description::BASE
};

impl WorkItem {
    /// The short reference, such as S14.
    #[must_use]
    pub fn reference(&self) -> String {
        format!("{}{}", self.level.letter(), self.id.0)
    }
}

/// The sentence of a story from its three parts, with what is missing left out.
/// "As a commuter I want to be warned, so that I can stay." Nothing where all parts are missing.
#[must_use]
pub fn story_sentence(story: &WorkItem) -> Option<String> {
    let part = |lead: &str, text: &Option<String>| text.as_ref().map(|text| format!("{lead} {text}"));
    let vowel = story.as_a.as_ref().is_some_and(|who| who.to_lowercase().starts_with(['a', 'e', 'i', 'o', 'u']));
    let want: Vec<String> = [part(if vowel { "As an" } else { "As a" }, &story.as_a), part("I want", &story.i_want)]
        .into_iter()
        .flatten()
        .collect();
    let parts: Vec<String> =
        [(!want.is_empty()).then(|| want.join(" ")), part("so that", &story.so_that)].into_iter().flatten().collect();
    (!parts.is_empty()).then(|| format!("{}.", parts.join(", ").trim_end_matches('.')))
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;

    /// A story of this number with nothing filled in.
    pub(crate) fn story(id: i64) -> WorkItem {
        WorkItem {
            id: WorkItemId(id),
            rev: 1,
            product_id: ProductId(1),
            level: Level::Story,
            parent_id: None,
            position: 1.0,
            title: format!("Story {id}"),
            as_a: None,
            i_want: None,
            so_that: None,
            points: None,
            moscow: None,
            note: None,
            state: StoryState::Draft,
            team_id: None,
            column_id: None,
            release_id: None,
            step_id: None,
            increment_id: None,
            map_position: 1.0,
            queue_position: 0.0,
        }
    }

    #[test]
    fn the_sentence_is_made_of_what_is_there() {
        let mut one = story(1);
        assert_eq!(story_sentence(&one), None);
        one.as_a = Some("commuter".into());
        one.i_want = Some("to be warned".into());
        one.as_a = Some("islander".into());
        assert_eq!(story_sentence(&one).as_deref(), Some("As an islander I want to be warned."));
        one.as_a = Some("commuter".into());
        assert_eq!(story_sentence(&one).as_deref(), Some("As a commuter I want to be warned."));
        one.so_that = Some("I can stay.".into());
        assert_eq!(story_sentence(&one).as_deref(), Some("As a commuter I want to be warned, so that I can stay."));
    }
}

//! Decide: objectives, ideas and their steps, scores, and who and what stands behind an idea.

mod alike;
pub(crate) mod capability;
pub(crate) mod competitor;
pub(crate) mod competitor_note;
mod course;
pub(crate) mod decision;
mod delivery;
mod evidence;
pub(crate) mod found_page;
pub(crate) mod idea;
pub(crate) mod increment;
mod market;
mod measured_table;
pub(crate) mod measurement;
mod merging;
pub(crate) mod objective;
pub(crate) mod request;
pub(crate) mod request_form;
mod research;
mod rice;
mod rolled_up;
pub(crate) mod scores;
mod serving;
mod voices;

pub use alike::{IdeaMeaning, LIKELY_SAME, likely_same};
pub use capability::Capability;
pub use competitor::Competitor;
pub use competitor_note::CompetitorNote;
pub use course::{Forecast, Goal, HOLDS, LEAST_DAYS, NoForecast, Point, ahead, forecast, share, straight};
pub use decision::Decision;
pub use delivery::Delivery;
pub use evidence::{Behind, Grade, Graded, Shown, Verdict, Way, graded, way_of};
pub use found_page::FoundPage;
pub use idea::{Idea, IdeaState, Outcome, after_estimate, decide};
pub use increment::{Increment, IncrementState, quarter};
pub use market::{MarketCell, MarketRow, Offers, comparison};
pub use measured_table::{MeasuredTable, read_measurements};
pub use measurement::Measurement;
pub use merging::merged;
pub use objective::{Objective, ObjectiveState};
pub use request::{
    Asks, Filled, FormField, LONGEST_ANSWER, Proof, Request, RequestState, TRAP, became, called, check_form, fill,
    first_fields,
};
pub use request_form::RequestForm;
pub use research::{ANSWERS, FoundPassage, PageName, Research, answering_passages, exact_passages, research_report};
pub use rice::{Rice, rank, rice};
pub use rolled_up::{RolledUp, TreeNode, roll_up};
pub use scores::*;
pub use serving::{Served, Stage, served};
pub use voices::{Voices, voices};

#[cfg(test)]
pub(crate) use idea::tests as tests_support;

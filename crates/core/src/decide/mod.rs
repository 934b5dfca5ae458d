//! Decide: objectives, ideas and their steps, scores, and who and what stands behind an idea.

mod alike;
mod course;
mod delivery;
mod evidence;
mod idea;
mod increment;
mod market;
mod measured_table;
mod merging;
mod objective;
mod request;
mod research;
mod rice;
mod rolled_up;
mod scores;
mod serving;
mod voices;

pub use alike::{IdeaMeaning, LIKELY_SAME, likely_same};
pub use course::{Forecast, Goal, HOLDS, LEAST_DAYS, NoForecast, Point, ahead, forecast, share, straight};
pub use delivery::{Delivery, Work};
pub use evidence::{Behind, Grade, Graded, Shown, Verdict, Way, graded, way_of};
pub use idea::{Decision, Idea, IdeaState, Outcome, after_estimate, decide};
pub use increment::{Increment, IncrementState, quarter};
pub use market::{Capability, Competitor, CompetitorNote, FoundPage, MarketCell, MarketRow, Offers, comparison};
pub use measured_table::{MeasuredTable, read_measurements};
pub use merging::merged;
pub use objective::{Measurement, Objective, ObjectiveState};
pub use request::{
    Asks, Filled, FormField, LONGEST_ANSWER, Proof, Request, RequestForm, RequestState, TRAP, became, called,
    check_form, fill, first_fields,
};
pub use research::{ANSWERS, FoundPassage, PageName, Research, answering_passages, exact_passages, research_report};
pub use rice::{Rice, rank, rice};
pub use rolled_up::{RolledUp, TreeNode, roll_up};
pub use scores::*;
pub use serving::{Served, Stage, served};
pub use voices::{Voices, voices};

#[cfg(test)]
pub(crate) use idea::tests as tests_support;

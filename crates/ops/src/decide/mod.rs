//! Decide: objectives, ideas and their steps, scores, and decisions.

mod grading;
mod ideas;
mod merging;
mod objectives;
mod sheet;

pub(crate) use grading::{grade_ideas, grade_now, some_to_grade};
pub use ideas::{DecisionInput, IdeaView, NewIdea, add_idea, decide, ideas};
pub use merging::{LikelySameIdeas, MergeIdeas, likely_same_ideas, merge_ideas};
pub(crate) use objectives::comes_along;
pub use objectives::{
    MeasurementTable, MeasurementsRead, NewMeasurement, ObjectiveSheet, ObjectiveView, Serving, ServingView, ValueView,
    measure, measure_table, objective, objectives, serve,
};
pub use sheet::{IdeaSheet, IncrementView, StoryBrief, Trend, idea};

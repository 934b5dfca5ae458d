//! Decide: objectives, requests, ideas and their steps, scores, and decisions.

mod forms;
mod grading;
mod ideas;
mod merging;
mod objectives;
mod requests;
mod sheet;

pub use forms::{
    FilledForm, FormChange, FormView, NewForm, OpenForm, Sent, SentView, add_form, change_form, form, form_to_fill,
    send_form, sent,
};
pub(crate) use grading::{grade_ideas, grade_now, some_to_grade};
pub use ideas::{DecisionInput, IdeaView, NewIdea, add_idea, decide, ideas};
pub use merging::{LikelySameIdeas, MergeIdeas, likely_same_ideas, merge_ideas};
pub(crate) use objectives::comes_along;
pub use objectives::{
    MeasurementTable, MeasurementsRead, NewMeasurement, ObjectiveSheet, ObjectiveView, Serving, ServingView, ValueView,
    measure, measure_table, objective, objectives, serve,
};
pub use requests::{RequestBehind, put_request_behind};
pub use sheet::{IdeaSheet, IncrementView, StoryBrief, Trend, idea};

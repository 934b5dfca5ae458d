//! Decide: objectives, requests, the market, ideas and their steps, scores, and decisions.

mod forms;
mod grading;
mod ideas;
mod market;
mod merging;
mod objectives;
mod requests;
mod research;
mod sheet;

pub use forms::{
    FilledForm, FormChange, FormView, NewForm, OpenForm, Sent, SentView, add_form, change_form, form, form_to_fill,
    send_form, sent,
};
pub(crate) use grading::{grade_ideas, grade_now, some_to_grade};
pub use ideas::{DecisionInput, IdeaView, NewIdea, add_idea, decide, ideas};
pub use market::{
    CapabilityView, FoundPageLine, FoundPageText, Market, MarketNote, NewCapability, NewCompetitor, NewFoundPage,
    NewMarketNote, NoteAbout, add_capability, add_competitor, add_market_note, add_page, found_page, market,
    note_about, page_of_file,
};
pub use merging::{LikelySameIdeas, MergeIdeas, likely_same_ideas, merge_ideas};
pub(crate) use objectives::comes_along;
pub use objectives::{
    MeasurementTable, MeasurementsRead, NewMeasurement, ObjectiveSheet, ObjectiveView, ServedView, Serving,
    ServingView, ValueView, measure, measure_table, objective, objectives, serve, serves,
};
pub use requests::{RequestBehind, put_request_behind};
pub(crate) use research::look_into;
pub use research::{NewResearch, ResearchReport, research};
pub use sheet::{IdeaSheet, IncrementView, StoryBrief, Trend, idea};

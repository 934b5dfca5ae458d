//! Decide: objectives, requests, the market, ideas and their steps, scores, and decisions.

mod budget;
mod decisions;
mod estimates;
mod forms;
mod grading;
mod ideas;
mod judged;
mod market;
mod merging;
mod models;
mod objectives;
mod priorities;
mod requests;
mod research;
mod scores;
mod senders;
mod sheet;

pub use budget::{AffordAsk, BudgetIdea, BudgetView, budget};
pub use decisions::{DecisionInput, DecisionView, decide, decisions, decisions_markdown};
pub(crate) use decisions::{decisions_of, put_decision};
pub use estimates::{EstimateInput, EstimatesOfField, IdeaEstimates, SaidEstimate, estimate, estimates};
pub use forms::{
    FilledForm, FormChange, FormView, NewForm, OpenForm, Sent, SentView, add_form, change_form, form, form_to_fill,
    send_form, sent,
};
pub(crate) use grading::{grade_ideas, grade_now, some_to_grade};
pub use ideas::{IdeaView, NewIdea, add_idea, ideas};
pub use judged::LikelyScore;
pub(crate) use judged::{Rankings, likely_score};
pub use market::{
    CapabilityView, FoundPageLine, FoundPageText, Market, MarketNote, NewCapability, NewCompetitor, NewFoundPage,
    NewMarketNote, NoteAbout, add_capability, add_competitor, add_market_note, add_page, found_page, market,
    note_about, page_of_file,
};
pub use merging::{LikelySameIdeas, MergeIdeas, likely_same_ideas, merge_ideas};
pub use models::{ModelInput, ModelView, Pairs, UseModel, keep_model, models, use_model, weights};
pub use objectives::{
    MeasurementTable, MeasurementsRead, NewMeasurement, ObjectiveSheet, ObjectiveView, ServedView, Serving,
    ServingView, ValueView, measure, measure_table, objective, objectives, serve, serves,
};
pub(crate) use objectives::{comes_along, delivery};
pub use priorities::{
    NewPrioritisation, PrioritisationView, add_prioritisation, agree, prioritisation, prioritisation_docx,
    prioritisation_markdown, prioritisations,
};
pub use requests::{RequestBehind, put_request_behind};
pub(crate) use research::look_into;
pub use research::{NewResearch, ResearchReport, research};
pub use scores::{AboveView, ScoredIdea, Scores, ScoresAsk, Why, WhyAsk, scores, why};
pub use senders::{ConfirmSender, WasItYou, confirm_sender, it_was_me, was_it_you};
pub use sheet::{IdeaSheet, IncrementView, StoryBrief, Trend, idea};

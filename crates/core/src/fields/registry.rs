//! The fields that every workspace has. The store gives each an SQL expression of the same name.

use super::collection::Collection;
use super::line_links::line_link;
use super::query::Measure;
use super::types::{Choice, Drawing, FieldDef, FieldType, RollUp};
use crate::decide::{Grade, IncrementState, ObjectiveState, Offers, Proof, RequestState};
use crate::listen::study::study_states;
use crate::listen::{FeedbackKind, FindingState, Movement};
use crate::specify::Moscow;
use crate::specify::document::document_states;
use crate::things::Level;

/// How a registered field came to its value, as far as the interface must know.
enum Way {
    /// Edited in place where [`editable`] lists it, else computed.
    Plain,
    /// A rule governs it: where it changes instead.
    By(&'static str),
}

fn field(collection: Collection, name: &str, label: &str, kind: FieldType, way: &Way) -> FieldDef {
    let column = collection.kind().description().editable.iter().any(|field| field.name == name);
    let editable = column || line_link(collection, name).is_some_and(|link| link.editable);
    FieldDef {
        name: name.to_owned(),
        label: label.to_owned(),
        shape: kind.shape(),
        kind,
        editable,
        governed: match way {
            Way::By(place) => Some((*place).to_owned()),
            Way::Plain => None,
        },
        withheld: false,
        own: None,
        rev: None,
        retired: false,
    }
}

fn number(unit: &str) -> FieldType {
    FieldType::Number { unit: (!unit.is_empty()).then(|| unit.to_owned()) }
}

fn choice(names: &[&str]) -> FieldType {
    let label = |name: &str| if name == "wont" { "won’t".to_owned() } else { name.replace('_', " ") };
    FieldType::Choice { choices: names.iter().map(|name| Choice::new(name, &label(name))).collect() }
}

fn one(to: Collection) -> FieldType {
    FieldType::Link { to, many: false, back: None, forward: true }
}

fn many(to: Collection) -> FieldType {
    FieldType::Link { to, many: true, back: None, forward: true }
}

fn over(path: &[&str], measure: Measure, of: Option<&str>) -> FieldType {
    let path = path.iter().map(|step| (*step).to_owned()).collect();
    FieldType::RolledUp { roll_up: RollUp { path, measure, of: of.map(str::to_owned) } }
}

fn drawn(drawing: Drawing) -> FieldType {
    FieldType::Drawn { drawing }
}

/// The registered fields of a collection, in the order in which a new view shows them.
#[must_use]
pub fn registered(collection: Collection) -> Vec<FieldDef> {
    use Collection::{
        Account, CompetitorNote, Document, Excerpt, FeedbackItem, Finding, Idea, Increment, Objective, Page, Person,
        Release, Request, RequestForm, Sprint, Term,
    };
    use Collection::{Study, WorkItem};
    use FieldType::{Date, LongText, Money, Text, YesNo};
    const PLAIN: Way = Way::Plain;
    const DECIDED: Way = Way::By("It follows from the estimate and from decisions; take one in the ranking.");
    const QUEUED: Way = Way::By("It changes when a story is handed over and moved in its team’s queue.");
    const GIVEN: Way = Way::By("It stays as it was given.");
    const SAID: Way = Way::By("It follows from the feedback item that it stands in.");
    const ACCOUNTED: Way = Way::By("It is a field of the account; change it there.");
    const TOLD: Way = Way::By("It follows from the excerpts; put others behind the finding.");
    const QUOTED: Way = Way::By("Quotes are sent from where the words are read.");
    const GRADED: Way = Way::By("It follows from what is linked to the idea and from its results.");
    const SENT: Way = Way::By("It follows from the ideas that the request is put behind.");
    const PROVED: Way =
        Way::By("Somebody of the team confirms it at the opened request, or the sender’s address proves it.");
    const FORMED: Way = Way::By("It is said where the form’s questions are chosen.");
    const NOTED: Way = Way::By("It stays as it was noted; take the note away and note anew.");
    const MEASURED: Way = Way::By("It follows from what was measured; note a value in the opened objective.");
    const BUILT: Way = Way::By("It follows from what the work is a part of.");
    const STEPPED: Way = Way::By("It changes with the release, in Plan.");
    let ideas = ["raw", "weighing", "chosen", "shipped", "set_aside"];
    let stories = ["draft", "handed_over", "in_build", "in_check", "done"];
    let fields: Vec<(&str, &str, FieldType, &Way)> = match collection {
        FeedbackItem => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("text", "Words", LongText, &GIVEN),
            ("said_on", "Said on", Date, &GIVEN),
            ("source", "Source", Text, &GIVEN),
            ("person", "Person", one(Person), &PLAIN),
            ("account", "Account", one(Account), &PLAIN),
            ("segment", "Segment", Text, &ACCOUNTED),
            ("study_id", "Study", one(Study), &PLAIN),
            ("tags", "Tags", Text, &GIVEN),
            ("rating", "Rating", number(""), &GIVEN),
            ("read", "Read", YesNo, &PLAIN),
            ("excerpts", "Excerpts", many(Excerpt), &PLAIN),
            ("excerpt_count", "Number of excerpts", over(&["excerpts"], Measure::Count, None), &PLAIN),
            ("sentiment", "Mean sentiment", over(&["excerpts"], Measure::Mean, Some("sentiment")), &PLAIN),
        ],
        Excerpt => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("words", "Words", LongText, &GIVEN),
            ("kind", "Kind", choice(&FeedbackKind::names()), &PLAIN),
            ("sentiment", "Sentiment", number(""), &PLAIN),
            ("said_on", "Said on", Date, &GIVEN),
            ("item", "Feedback item", one(FeedbackItem), &PLAIN),
            ("source", "Source", Text, &GIVEN),
            ("person", "Person", one(Person), &SAID),
            ("account", "Account", one(Account), &SAID),
            ("segment", "Segment", Text, &ACCOUNTED),
            ("rating", "Rating", number(""), &GIVEN),
            ("findings", "Findings", many(Finding), &PLAIN),
            ("ideas", "Quoted in ideas", many(Idea), &QUOTED),
            ("documents", "Quoted in documents", many(Document), &QUOTED),
            ("pages", "Quoted on pages", many(Page), &QUOTED),
            ("terms", "Terms", many(Term), &PLAIN),
            ("sure", "How sure the kind is", number(""), &PLAIN),
            ("language", "Language", Text, &PLAIN),
            ("repeats", "Said before by the same person", one(Excerpt), &PLAIN),
        ],
        Finding => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("title", "What people say", Text, &PLAIN),
            ("state", "Standing", choice(&FindingState::names()), &PLAIN),
            ("movement", "Movement", choice(&Movement::names()), &TOLD),
            ("growth", "Growth", number(""), &TOLD),
            ("phrases", "Key phrases", Text, &TOLD),
            ("people", "People", number(""), &PLAIN),
            ("accounts", "Accounts", number(""), &PLAIN),
            ("revenue", "Revenue a year", Money, &PLAIN),
            ("frustration", "Frustration", number(""), &TOLD),
            ("negativity", "Mean negativity", number(""), &TOLD),
            ("weeks", "Last 8 weeks", drawn(Drawing::Weeks), &PLAIN),
            ("spread", "Against · neutral · for", drawn(Drawing::Spread), &PLAIN),
            ("kinds", "Kinds", Text, &PLAIN),
            ("excerpt_count", "Excerpts", number(""), &TOLD),
            ("sentiment", "Mean sentiment", number(""), &TOLD),
            ("last_said_on", "Last said on", Date, &PLAIN),
            ("note", "Note", LongText, &PLAIN),
            ("excerpts", "All excerpts", many(Excerpt), &PLAIN),
            ("said_by", "Said by", many(Person), &TOLD),
            ("heard_from", "Heard from", many(Account), &TOLD),
            ("segments", "Segments", Text, &TOLD),
            ("sources", "Sources", Text, &TOLD),
            ("ideas", "Ideas", many(Idea), &PLAIN),
            ("studies", "Studies", many(Study), &PLAIN),
        ],
        Person => vec![
            ("name", "Name", Text, &PLAIN),
            ("address", "Mail address", Text, &GIVEN),
            ("account", "Account", one(Account), &PLAIN),
            ("item_count", "Feedback items", over(&["items"], Measure::Count, None), &PLAIN),
            ("items", "All feedback", many(FeedbackItem), &PLAIN),
            ("studies", "Took part in", many(Study), &PLAIN),
        ],
        Account => vec![
            ("name", "Account", Text, &PLAIN),
            ("segment", "Segment", Text, &PLAIN),
            ("plan", "Plan", Text, &PLAIN),
            ("yearly_revenue", "Revenue a year", Money, &PLAIN),
            ("people_count", "People", over(&["people"], Measure::Count, None), &PLAIN),
            ("item_count", "Feedback items", over(&["items"], Measure::Count, None), &PLAIN),
            ("people", "All people", many(Person), &PLAIN),
            ("items", "All feedback", many(FeedbackItem), &PLAIN),
        ],
        Objective => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("title", "Objective", Text, &PLAIN),
            ("state", "State", choice(&ObjectiveState::names()), &PLAIN),
            ("parent_id", "Part of", one(Objective), &PLAIN),
            ("owner_id", "Who answers for it", FieldType::Member, &PLAIN),
            ("measure", "Measure", Text, &PLAIN),
            ("unit", "Unit", Text, &PLAIN),
            ("start_value", "Start", number(""), &PLAIN),
            ("present_value", "Now", number(""), &MEASURED),
            ("target_value", "Target", number(""), &PLAIN),
            ("path", "On the way", drawn(Drawing::Path), &PLAIN),
            ("measured_on", "Measured on", Date, &MEASURED),
            ("starts_on", "From", Date, &PLAIN),
            ("due_on", "By", Date, &PLAIN),
            ("weight", "Weight", number(""), &PLAIN),
            ("ideas", "Ideas", many(Idea), &PLAIN),
            ("initiatives", "Initiatives", many(WorkItem), &PLAIN),
            ("releases", "Releases", many(Release), &PLAIN),
            ("children", "Parts", many(Objective), &PLAIN),
            ("stories", "Stories", many(WorkItem), &BUILT),
            ("done", "Stories done", over(&["stories"], Measure::ShareDone, None), &PLAIN),
            ("note", "Note", LongText, &PLAIN),
        ],
        Idea => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("title", "Idea", Text, &PLAIN),
            ("state", "State", choice(&ideas), &DECIDED),
            ("rank", "Rank", number(""), &PLAIN),
            ("score", "RICE", number(""), &PLAIN),
            ("reach", "Reach a quarter", number("people"), &PLAIN),
            ("impact", "Impact", number(""), &PLAIN),
            ("confidence", "Confidence", number(""), &PLAIN),
            ("grade", "Evidence", choice(&Grade::names()), &GRADED),
            ("told_confidence", "By evidence", number(""), &GRADED),
            ("effort", "Effort", number("person-weeks"), &PLAIN),
            ("value", "Value", number(""), &PLAIN),
            ("time_criticality", "Time criticality", number(""), &PLAIN),
            ("opportunity", "Risk and opportunity", number(""), &PLAIN),
            ("moscow", "MoSCoW", choice(&Moscow::names()), &PLAIN),
            ("people", "People", number(""), &PLAIN),
            ("accounts", "Accounts", number(""), &PLAIN),
            ("revenue", "Revenue a year", Money, &PLAIN),
            ("decided_on", "Decided on", Date, &PLAIN),
            ("outcome", "Decision", choice(&["chosen", "set_aside"]), &DECIDED),
            ("reason", "Why", LongText, &DECIDED),
            ("score_then", "Score then", number(""), &DECIDED),
            (
                "gap",
                "Gap to others",
                number(""),
                &Way::By("It follows from the competitor notes on the capabilities that the idea closes."),
            ),
            ("objectives", "Objectives", many(Objective), &PLAIN),
            ("findings", "Findings", many(Finding), &PLAIN),
            ("studies", "Studies", many(Study), &PLAIN),
            ("quotes", "Quotes", many(Excerpt), &QUOTED),
            ("epics", "Epics", many(WorkItem), &PLAIN),
            ("increments", "Increments", many(Increment), &PLAIN),
            ("needs", "Depends on", many(Idea), &PLAIN),
            ("needed_by", "Needed by", many(Idea), &PLAIN),
            ("stories", "Stories", many(WorkItem), &BUILT),
            ("done", "Stories done", over(&["stories"], Measure::ShareDone, None), &PLAIN),
            ("problem", "Problem", LongText, &PLAIN),
            ("guess", "Our guess", LongText, &PLAIN),
            ("known_by", "How we would know", LongText, &PLAIN),
            ("cost_of_nothing", "What it costs to do nothing", LongText, &PLAIN),
        ],
        Request => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("words", "What they ask for", LongText, &GIVEN),
            ("became", "As the sender sees it", choice(&RequestState::names()), &SENT),
            ("state", "Said by hand", choice(&RequestState::names()), &PLAIN),
            ("came_on", "Came on", Date, &GIVEN),
            ("sender", "Says to be", Text, &GIVEN),
            ("proof", "Proof", choice(&Proof::names()), &PROVED),
            ("person", "Person", many(Person), &PROVED),
            ("account", "Account", many(Account), &PROVED),
            ("revenue", "Revenue a year", Money, &PLAIN),
            ("form_id", "Form", one(RequestForm), &GIVEN),
            ("ideas", "Ideas", many(Idea), &SENT),
            ("reply", "Answer", LongText, &PLAIN),
            ("item_id", "Feedback item", one(FeedbackItem), &GIVEN),
        ],
        CompetitorNote => vec![
            ("words", "Remark", LongText, &NOTED),
            ("competitor", "Competitor", Text, &NOTED),
            ("capability", "Capability", Text, &PLAIN),
            ("offers", "Offers it", choice(&Offers::names()), &PLAIN),
            ("from", "Source", Text, &NOTED),
            ("noted_on", "Noted on", Date, &PLAIN),
        ],
        RequestForm => vec![
            ("title", "Form", Text, &PLAIN),
            ("intro", "What the sender reads first", LongText, &PLAIN),
            ("open", "For anybody with the link", YesNo, &FORMED),
            ("request_count", "Requests", over(&["requests"], Measure::Count, None), &PLAIN),
            ("requests", "All requests", many(Request), &PLAIN),
        ],
        Increment => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("title", "Increment", Text, &PLAIN),
            ("idea_id", "Idea", one(Idea), &PLAIN),
            ("state", "State", choice(&IncrementState::names()), &PLAIN),
            ("shows", "What it should show", LongText, &PLAIN),
            ("measure", "How it is measured", Text, &PLAIN),
            ("effort", "Effort", number("person-weeks"), &PLAIN),
            ("quarter", "Quarter", Text, &PLAIN),
            ("done", "Stories done", over(&["stories"], Measure::ShareDone, None), &PLAIN),
            ("stories", "Stories", many(WorkItem), &PLAIN),
            ("note", "Note", LongText, &PLAIN),
        ],
        WorkItem => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("title", "Title", Text, &PLAIN),
            ("level", "Level", choice(&Level::ALL.map(Level::name)), &Way::By("A thing keeps its level.")),
            ("state", "State", choice(&stories), &QUEUED),
            ("points", "Points", number(""), &PLAIN),
            ("moscow", "MoSCoW", choice(&Moscow::names()), &PLAIN),
            ("parent_id", "Part of", one(WorkItem), &PLAIN),
            ("release_id", "Release", one(Release), &PLAIN),
            ("increment_id", "Increment", one(Increment), &PLAIN),
            ("team", "Team", Text, &QUEUED),
            ("missing", "Still missing", Text, &PLAIN),
            ("ideas", "Ideas", many(Idea), &PLAIN),
            ("objectives", "Objectives", many(Objective), &PLAIN),
            ("studies", "Studies", many(Study), &PLAIN),
            ("starts_on", "Starts on", Date, &STEPPED),
            ("ends_on", "Ends on", Date, &STEPPED),
            ("as_a", "As a", Text, &PLAIN),
            ("i_want", "I want", Text, &PLAIN),
            ("so_that", "So that", Text, &PLAIN),
            ("needs", "Depends on", many(WorkItem), &PLAIN),
            ("needed_by", "Needed by", many(WorkItem), &PLAIN),
            ("children", "Parts", many(WorkItem), &PLAIN),
            ("stories", "Stories below", many(WorkItem), &BUILT),
            ("points_below", "Points below", over(&["stories"], Measure::Sum, Some("points")), &PLAIN),
            ("done", "Stories done", over(&["stories"], Measure::ShareDone, None), &PLAIN),
            ("note", "Note", LongText, &PLAIN),
        ],
        Release => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("title", "Release", Text, &PLAIN),
            ("state", "State", choice(&["planned", "under_way", "released"]), &STEPPED),
            ("starts_on", "Starts on", Date, &PLAIN),
            ("ends_on", "Ends on", Date, &PLAIN),
            ("released_on", "Went out on", Date, &STEPPED),
            ("capacity", "Capacity", number("points"), &PLAIN),
            ("load", "Done and planned", drawn(Drawing::Load), &PLAIN),
            ("trouble", "Trouble", Text, &PLAIN),
            ("points", "Points", over(&["stories"], Measure::Sum, Some("points")), &PLAIN),
            ("done", "Stories done", over(&["stories"], Measure::ShareDone, None), &PLAIN),
            ("stories", "Stories", many(WorkItem), &PLAIN),
            ("objectives", "Objectives", many(Objective), &PLAIN),
        ],
        Study => vec![
            ("title", "Study", Text, &PLAIN),
            ("question", "Question", LongText, &PLAIN),
            ("method", "Method", Text, &PLAIN),
            ("state", "State", choice(&study_states()), &PLAIN),
            ("starts_on", "Starts on", Date, &PLAIN),
            ("ends_on", "Ends on", Date, &PLAIN),
            ("participants", "Participants", many(Person), &PLAIN),
            ("item_count", "Notes and answers", over(&["items"], Measure::Count, None), &PLAIN),
            ("findings", "Findings", many(Finding), &PLAIN),
            ("ideas", "Ideas", many(Idea), &PLAIN),
            ("epics", "Epics", many(WorkItem), &PLAIN),
            ("guide", "Guide", LongText, &PLAIN),
            ("note", "Remarks", LongText, &PLAIN),
            ("items", "All that was said", many(FeedbackItem), &PLAIN),
        ],
        Document => vec![
            ("reference", "Reference", Text, &PLAIN),
            ("title", "Document", Text, &PLAIN),
            ("state", "State", choice(&document_states()), &PLAIN),
            ("body", "Text", LongText, &PLAIN),
            ("quotes", "Quotes", many(Excerpt), &QUOTED),
        ],
        Sprint => vec![
            ("title", "Sprint", Text, &PLAIN),
            ("goal", "Goal", LongText, &PLAIN),
            ("starts_on", "Starts on", Date, &PLAIN),
            ("ends_on", "Ends on", Date, &PLAIN),
            ("capacity", "Capacity", number("points"), &PLAIN),
        ],
        Page => vec![
            ("title", "Page", Text, &PLAIN),
            ("parent_id", "Below", one(Page), &PLAIN),
            ("children", "Pages below", many(Page), &PLAIN),
            ("body", "Text", LongText, &PLAIN),
            ("quotes", "Quotes", many(Excerpt), &QUOTED),
        ],
        Term => vec![
            ("name", "Term", Text, &PLAIN),
            ("synonyms", "Also called", LongText, &PLAIN),
            ("note", "What it is", LongText, &PLAIN),
            ("excerpt_count", "Excerpts", over(&["excerpts"], Measure::Count, None), &PLAIN),
            ("sentiment", "Mean sentiment", over(&["excerpts"], Measure::Mean, Some("sentiment")), &PLAIN),
            ("excerpts", "All excerpts", many(Excerpt), &PLAIN),
        ],
    };
    fields.into_iter().map(|(name, label, kind, way)| field(collection, name, label, kind, way)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_column_that_may_be_edited_is_a_field_of_its_collection() {
        for collection in Collection::ALL {
            let names: Vec<String> = registered(*collection).into_iter().map(|field| field.name).collect();
            for column in collection.kind().description().editable {
                assert!(names.iter().any(|name| name == column.name), "{collection}: {}", column.name);
            }
            assert!(names.iter().any(|name| name == collection.title_field()), "{collection}");
        }
    }

    #[test]
    fn every_roll_up_goes_along_links_that_are_there() {
        for collection in Collection::ALL {
            for def in registered(*collection) {
                let FieldType::RolledUp { roll_up } = def.kind else { continue };
                let mut at = *collection;
                for step in &roll_up.path {
                    let fields = registered(at);
                    let link = fields.iter().find(|field| field.name == *step).unwrap();
                    let FieldType::Link { to, .. } = link.kind else { panic!("{step} is no link") };
                    at = to;
                }
                if let Some(of) = roll_up.of {
                    assert!(registered(at).iter().any(|field| field.name == of), "{of}");
                }
            }
        }
    }
}

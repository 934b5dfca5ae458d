//! The demo data: open files from `demo/`, played through the same use cases that people use.
//!
//! The files hold days around an anchor; all of them are moved so that the anchor is today.

use std::collections::HashMap;

use iron_kite_core::decide::Outcome;
use iron_kite_core::fields::Collection;
use iron_kite_core::plan::ReleaseState;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::specify::StoryState;
use iron_kite_core::things::{
    ActivityId, FindingId, IdeaId, ObjectiveId, ProductId, ReleaseId, StepId, TeamId, Thing, WorkItemId,
};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::collections::{self, NewThing};
use iron_kite_ops::decide::{self, DecisionInput, EstimateInput, NewIdea, NewMeasurement, NewPrioritisation, Serving};
use iron_kite_ops::handover::{self, HandOver, NewColumn, NewTeam, QueuePlace, TeamView};
use iron_kite_ops::learn::{self, NewResult};
use iron_kite_ops::listen;
use iron_kite_ops::map::{self, MapPlace, NewTitled};
use iron_kite_ops::plan::{self, ReleaseStep, ReleaseTo};
use iron_kite_ops::specify::{self, NewEpic, NewStory};
use iron_kite_ops::things::{self, Edit, LinkEnds};
use iron_kite_ops::{Actor, App, Call, Saved, overview, people};
use jiff::Timestamp;
use jiff::civil::Date;
use serde::Deserialize;
use serde_json::{Map, Value, json};

use self::days::shift;
use self::market::DemoMarket;
use self::requests::DemoForm;
use self::said::suggest;
use self::talk::Speakers;
use self::views::DemoViews;

pub(crate) mod channels;
mod days;
mod market;
mod recording;
mod requests;
mod said;
mod talk;
mod views;

/// Everybody's password in the demo.
pub(crate) const PASSWORD: &str = "ferry-at-noon";

const WORKSPACE: &str = include_str!("../../../demo/workspace.json");
/// What the words of the demo mean, so that it need not be told anew at each start. `iron-kite demo-meaning` makes it.
const MEANING: &[u8] = include_bytes!("../../../demo/meaning.bin");
const VIEWS: &str = include_str!("../../../demo/views.json");
const ACCOUNTS: &str = include_str!("../../../demo/accounts.csv");

/// The files of feedback, as they are brought in.
const FILES: [(&str, &[u8]); 7] = [
    ("crossing-reviews.csv", include_bytes!("../../../demo/crossing-reviews.csv")),
    ("gangway-notes.csv", include_bytes!("../../../demo/gangway-notes.csv")),
    ("support-tickets.xlsx", include_bytes!("../../../demo/support-tickets.xlsx")),
    ("interview-commuter.md", include_bytes!("../../../demo/interview-commuter.md")),
    ("interview-dairy.docx", include_bytes!("../../../demo/interview-dairy.docx")),
    ("interview-harbour-office.pdf", include_bytes!("../../../demo/interview-harbour-office.pdf")),
    ("interview-left.vtt", include_bytes!("../../../demo/interview-left.vtt")),
];

#[derive(Deserialize)]
struct Demo {
    people: Vec<DemoPerson>,
    teams: Vec<DemoTeam>,
    products: Vec<DemoProduct>,
}

#[derive(Deserialize)]
struct DemoPerson {
    email: String,
    name: String,
    role: Role,
}

#[derive(Deserialize)]
struct DemoTeam {
    name: String,
    columns: Vec<(String, StoryState)>,
}

#[derive(Deserialize)]
struct DemoProduct {
    name: String,
    /// Files of feedback that belong to no study.
    files: Vec<String>,
    /// What the team calls things.
    #[serde(default)]
    terms: Vec<Map<String, Value>>,
    /// What others offer.
    market: Option<DemoMarket>,
    /// The form by which people ask for something.
    form: Option<DemoForm>,
    #[serde(default)]
    studies: Vec<DemoStudy>,
    objectives: Vec<DemoObjective>,
    findings: Vec<DemoFinding>,
    /// Suggested findings that somebody accepts, each by words that are said there, with a better title.
    #[serde(default)]
    accepted: Vec<(String, String)>,
    /// Suggested findings that somebody merged though they say two things.
    mixed: Option<DemoMixed>,
    backbone: Vec<DemoActivity>,
    releases: Vec<DemoRelease>,
    ideas: Vec<DemoIdea>,
    #[serde(default)]
    prioritisations: Vec<DemoPrioritisation>,
    results: Vec<DemoResult>,
    read: usize,
}

#[derive(Deserialize)]
struct DemoObjective {
    key: String,
    /// The objective that it is a part of.
    parent: Option<String>,
    /// The address of who answers for it.
    owner: Option<String>,
    set: Map<String, Value>,
    #[serde(default)]
    measured: Vec<(String, f64)>,
}

#[derive(Deserialize)]
struct DemoStudy {
    key: String,
    /// The kind of research that it begins with.
    template: String,
    set: Map<String, Value>,
    /// Files of what was said in it.
    files: Vec<String>,
    /// What it informs.
    #[serde(default)]
    informs: Vec<String>,
}

#[derive(Deserialize)]
struct DemoFinding {
    key: String,
    title: String,
    /// An excerpt says it where it holds one of these.
    says: Vec<String>,
}

#[derive(Deserialize)]
struct DemoMixed {
    of: Vec<String>,
    title: String,
    note: String,
}

#[derive(Deserialize)]
struct DemoActivity {
    title: String,
    steps: Vec<(String, String)>,
}

#[derive(Deserialize)]
struct DemoRelease {
    key: String,
    set: Map<String, Value>,
    state: ReleaseState,
    released_on: Option<String>,
}

#[derive(Deserialize)]
struct DemoIdea {
    title: String,
    problem: Option<String>,
    guess: Option<String>,
    known_by: Option<String>,
    cost_of_nothing: Option<String>,
    #[serde(default)]
    findings: Vec<String>,
    #[serde(default)]
    objectives: Vec<DemoServes>,
    rice: Option<[Option<f64>; 4]>,
    moscow: Option<String>,
    /// Ideas that it needs, by their titles.
    #[serde(default)]
    needs: Vec<String>,
    /// What was agreed on: field, range, and why.
    #[serde(default)]
    agreed: Vec<Vec<String>>,
    /// What each says alone: address, field, range, and why.
    #[serde(default)]
    apart: Vec<(String, String, String, Option<String>)>,
    #[serde(default)]
    increments: Vec<DemoIncrement>,
    decision: Option<(Outcome, String, Date)>,
    epic: Option<String>,
    #[serde(default)]
    stories: Vec<DemoStory>,
}

/// An objective that an idea serves, and how much of the way it is to bring.
#[derive(Deserialize)]
#[serde(untagged)]
enum DemoServes {
    Some(String),
    Part(String, f64),
}

#[derive(Deserialize)]
struct DemoIncrement {
    /// Stories that belong to it.
    #[serde(default)]
    stories: Vec<String>,
    result: Option<Map<String, Value>>,
    #[serde(flatten)]
    set: Map<String, Value>,
}

#[derive(Deserialize)]
struct DemoStory {
    key: String,
    set: Map<String, Value>,
    #[serde(default)]
    criteria: Vec<String>,
    step: Option<String>,
    release: Option<String>,
    #[serde(default)]
    needs: Vec<String>,
    team: Option<String>,
    column: Option<String>,
}

#[derive(Deserialize)]
struct DemoPrioritisation {
    title: String,
    question: String,
    recommendation: Option<String>,
    top: i64,
    /// The day on which it was agreed.
    on: Option<Date>,
    /// Estimates as they were then, and as they were corrected later: idea, field, range.
    #[serde(default)]
    before: Vec<(String, String, String)>,
    #[serde(default)]
    later: Vec<(String, String, String)>,
}

#[derive(Deserialize)]
struct DemoResult {
    idea: String,
    release: String,
    set: Map<String, Value>,
}

/// The people who can be tried: address, name, role.
pub(crate) fn people() -> Vec<(String, String, Role)> {
    let demo: Result<Demo, _> = serde_json::from_str(WORKSPACE);
    demo.map(|demo| demo.people.into_iter().map(|p| (p.email, p.name, p.role)).collect()).unwrap_or_default()
}

/// Fills an empty workspace with the demo data. One that holds something is left as it is.
///
/// # Errors
/// Where a file of the demo does not fit; the tests make sure that they do.
pub fn load(app: &App, now: Timestamp, today: Date) -> Result<(), Problem> {
    let command = Call::command(now, today);
    if !overview::products(app, &command)?.is_empty() {
        return Ok(());
    }
    let mut demo: Demo =
        serde_json::from_str(&shift(WORKSPACE, today)).map_err(|fault| internal(&fault.to_string()))?;
    let (mut first, mut members) = (None, HashMap::new());
    for person in &demo.people {
        let id = people::add_member(app, &command, &person.email, &person.name, person.role, PASSWORD)?;
        members.insert(person.email.clone(), id);
        first.get_or_insert(Actor { user_id: Some(id), name: person.name.clone(), role: Role::Owner });
    }
    let call = Call { actor: first, ..command };
    let mut player = Player { app, call, today, keys: HashMap::new(), members, teams: Vec::new() };
    player.accounts()?;
    for team in demo.teams {
        let columns = team.columns.into_iter().map(|(title, state)| NewColumn { title, state }).collect();
        handover::add_team(app, &player.call, NewTeam { name: team.name, columns })?;
    }
    player.teams = handover::teams(app, &player.call)?;
    let decided: Vec<_> =
        demo.products.iter_mut().map(|one| (std::mem::take(&mut one.accepted), one.mixed.take())).collect();
    demo.products.into_iter().try_for_each(|product| player.product(product))?;
    listen::keep_meanings(app, &player.call, MEANING)?;
    for (product, (accepted, mixed)) in overview::products(app, &player.call)?.into_iter().zip(decided) {
        listen::read_now(app, &player.call, product.id)?;
        suggest(app, &player.call, product.id)?;
        player.decide(product.id, accepted, mixed)?;
        listen::read_now(app, &player.call, product.id)?;
    }
    let views: DemoViews = serde_json::from_str(&shift(VIEWS, today)).map_err(|fault| internal(&fault.to_string()))?;
    let products = overview::products(app, &player.call)?;
    let product = products.iter().find(|one| one.name == views.product).ok_or_else(|| internal(&views.product))?;
    channels::load(app, &player.call, product.id)?;
    views::load(app, &player.call, product.id, views, |key| player.thing(key))?;
    let talk = talk::read()?;
    let product = products.iter().find(|one| one.name == talk.product).ok_or_else(|| internal(&talk.product))?;
    let people = demo.people.into_iter().map(|one| {
        let id = player.members.get(&one.email).copied().unwrap_or_default();
        (one.email, (id, one.name, one.role))
    });
    let speakers = Speakers { app, call: &player.call, people: people.collect(), teams: &player.teams };
    talk::load(&speakers, product.id, talk)?;
    listen::read_now(app, &player.call, product.id)
}

struct Player<'a> {
    app: &'a App,
    call: Call,
    today: Date,
    /// What the files name by a word of their own.
    keys: HashMap<String, Thing>,
    /// The team, by address.
    members: HashMap<String, i64>,
    teams: Vec<TeamView>,
}

impl Player<'_> {
    fn add(&self, product: ProductId, collection: Collection, set: Map<String, Value>) -> Result<Saved, Problem> {
        collections::add_thing(self.app, &self.call, collection, NewThing { product, level: None, set })
    }

    fn product(&mut self, demo: DemoProduct) -> Result<(), Problem> {
        let product: ProductId = made(&overview::add_product(self.app, &self.call, &demo.name)?)?.id.into();
        demo.terms.into_iter().try_for_each(|term| self.add(product, Collection::Term, term).map(drop))?;
        demo.files.iter().try_for_each(|name| self.bring_in(product, name, None))?;
        if let Some(form) = &demo.form {
            self.requests(product, form)?;
        }
        let informs: Vec<(String, Vec<String>)> =
            demo.studies.iter().map(|study| (study.key.clone(), study.informs.clone())).collect();
        demo.studies.into_iter().try_for_each(|study| self.study(product, study))?;
        self.read(product, demo.read)?;
        demo.objectives.into_iter().try_for_each(|one| self.objective(product, one))?;
        self.findings(product, demo.findings)?;
        self.backbone(product, demo.backbone)?;
        let mut releases = Vec::new();
        for release in demo.releases {
            self.keep(release.key.clone(), &self.add(product, Collection::Release, release.set)?)?;
            releases.push((release.key, release.state, release.released_on));
        }
        let mut needs = Vec::new();
        for idea in demo.ideas {
            self.idea(product, idea, &mut needs)?;
        }
        demo.prioritisations.into_iter().try_for_each(|one| self.prioritisation(product, one))?;
        if let Some(form) = &demo.form {
            self.answer(form)?;
        }
        if let Some(market) = demo.market {
            self.market(product, market)?;
        }
        for (study, things) in informs {
            for to in things {
                let ends = LinkEnds { kind: LinkKind::Informs, from: self.thing(&study)?, to: self.thing(&to)? };
                things::link(self.app, &self.call, ends)?;
            }
        }
        for (dependent, needed) in needs {
            let ends = LinkEnds { kind: LinkKind::NeededBy, from: self.thing(&needed)?, to: self.thing(&dependent)? };
            things::link(self.app, &self.call, ends)?;
        }
        for (key, state, released_on) in releases {
            let id = ReleaseId(self.thing(&key)?.id);
            if state != ReleaseState::Planned {
                let to = ReleaseTo { released_on, ..state.into() };
                plan::step_release(self.app, &self.call, id, ReleaseStep { rev: 1, to })?;
            }
        }
        for result in demo.results {
            let idea_id = IdeaId(self.thing(&result.idea)?.id);
            let release_id = Some(ReleaseId(self.thing(&result.release)?.id));
            let new = NewResult { idea_id, release_id, increment_id: None, set: result.set };
            learn::add_result(self.app, &self.call, new)?;
        }
        Ok(())
    }

    fn backbone(&mut self, product: ProductId, backbone: Vec<DemoActivity>) -> Result<(), Problem> {
        for activity in backbone {
            let saved = map::add_activity(self.app, &self.call, product, NewTitled { title: activity.title })?;
            let id = ActivityId(made(&saved)?.id);
            for (key, title) in activity.steps {
                self.keep(key, &map::add_step(self.app, &self.call, id, NewTitled { title })?)?;
            }
        }
        Ok(())
    }

    fn idea(&mut self, product: ProductId, idea: DemoIdea, needs: &mut Vec<(String, String)>) -> Result<(), Problem> {
        let finding_id = idea.findings.first().map(|key| self.thing(key)).transpose()?.map(|thing| FindingId(thing.id));
        let new = NewIdea { product_id: product, title: idea.title.clone(), problem: idea.problem, finding_id };
        let saved = decide::add_idea(self.app, &self.call, new)?;
        let id = IdeaId(made(&saved)?.id);
        self.keep(idea.title, &saved)?;
        let findings = idea.findings.iter().skip(1).map(|key| (LinkKind::Supports, key));
        for (kind, key) in findings {
            things::link(self.app, &self.call, LinkEnds { kind, from: self.thing(key)?, to: id.thing() })?;
        }
        for serves in idea.objectives {
            let (key, part) = match serves {
                DemoServes::Some(key) => (key, None),
                DemoServes::Part(key, part) => (key, Some(part)),
            };
            let serving = Serving { thing: id.thing(), part };
            decide::serve(self.app, &self.call, ObjectiveId(self.thing(&key)?.id), serving)?;
        }
        let [reach, impact, confidence, effort] = idea.rice.unwrap_or_default();
        self.edit(
            id.thing(),
            json!({
                "moscow": idea.moscow, "reach": reach, "impact": impact, "confidence": confidence, "effort": effort,
                "guess": idea.guess, "known_by": idea.known_by, "cost_of_nothing": idea.cost_of_nothing,
            }),
        )?;
        for key in idea.needs {
            let ends = LinkEnds { kind: LinkKind::NeededBy, from: self.thing(&key)?, to: id.thing() };
            things::link(self.app, &self.call, ends)?;
        }
        for agreed in idea.agreed {
            let [field, said, reason @ ..] = agreed.as_slice() else { return Err(internal("an estimate")) };
            self.estimate(&self.call, id, field, said, reason.first().cloned())?;
        }
        for (address, field, said, reason) in idea.apart {
            let user_id = Some(*self.members.get(&address).ok_or_else(|| internal(&address))?);
            let actor = Some(Actor { user_id, name: address, role: Role::Editor });
            let input = EstimateInput { field, said, agreed: false, reason, rev: None };
            decide::estimate(self.app, &Call { actor, ..self.call.clone() }, id, input)?;
        }
        if let Some((outcome, reason, on)) = idea.decision {
            let call = Call { today: on, ..self.call.clone() };
            let rev = self.rev(id.thing())?;
            decide::decide(self.app, &call, id, DecisionInput { rev, outcome, reason, look_again_on: None })?;
        }
        if let Some(title) = idea.epic {
            let new = NewEpic { product_id: product, title: Some(title), idea_id: Some(id) };
            let epic = WorkItemId(made(&specify::add_epic(self.app, &self.call, new)?)?.id);
            idea.stories.into_iter().try_for_each(|story| self.story(product, epic, story, needs))?;
        }
        idea.increments.into_iter().try_for_each(|increment| self.increment(product, id, increment))
    }

    /// Agrees on an estimate of an idea.
    fn estimate(
        &self,
        call: &Call,
        id: IdeaId,
        field: &str,
        said: &str,
        reason: Option<String>,
    ) -> Result<(), Problem> {
        let input = EstimateInput { field: field.into(), said: said.into(), agreed: true, reason, rev: None };
        decide::estimate(self.app, call, id, input).map(drop)
    }

    fn prioritisation(&mut self, product: ProductId, demo: DemoPrioritisation) -> Result<(), Problem> {
        let call = Call { today: demo.on.unwrap_or(self.today), ..self.call.clone() };
        for (idea, field, said) in demo.before {
            self.estimate(&call, IdeaId(self.thing(&idea)?.id), &field, &said, None)?;
        }
        let new =
            NewPrioritisation { product, title: demo.title, question: Some(demo.question), model: None, top: demo.top };
        let thing = made(&decide::add_prioritisation(self.app, &call, new)?)?;
        if let Some(words) = demo.recommendation {
            self.edit(thing, json!({ "recommendation": words }))?;
        }
        if demo.on.is_some() {
            decide::agree(self.app, &call, thing.id, self.rev(thing)?)?;
        }
        for (idea, field, said) in demo.later {
            self.estimate(&self.call, IdeaId(self.thing(&idea)?.id), &field, &said, None)?;
        }
        Ok(())
    }

    fn objective(&mut self, product: ProductId, mut objective: DemoObjective) -> Result<(), Problem> {
        if let Some(parent) = objective.parent {
            objective.set.insert("parent_id".into(), self.thing(&parent)?.id.into());
        }
        if let Some(address) = objective.owner {
            let owner = self.members.get(&address).ok_or_else(|| internal(&address))?;
            objective.set.insert("owner_id".into(), (*owner).into());
        }
        let saved = self.add(product, Collection::Objective, objective.set)?;
        let id = ObjectiveId(made(&saved)?.id);
        for (on, value) in objective.measured {
            let new = NewMeasurement { taken_on: Some(on), value, note: None };
            decide::measure(self.app, &self.call, id, new)?;
        }
        self.keep(objective.key, &saved)
    }

    fn increment(&mut self, product: ProductId, idea_id: IdeaId, mut demo: DemoIncrement) -> Result<(), Problem> {
        demo.set.insert("idea_id".into(), idea_id.0.into());
        let increment = made(&self.add(product, Collection::Increment, demo.set)?)?;
        for key in demo.stories {
            self.edit(self.thing(&key)?, json!({ "increment_id": increment.id }))?;
        }
        if let Some(set) = demo.result {
            let increment_id = Some(increment.id.into());
            learn::add_result(self.app, &self.call, NewResult { idea_id, release_id: None, increment_id, set })?;
        }
        Ok(())
    }

    fn story(
        &mut self,
        product: ProductId,
        epic: WorkItemId,
        story: DemoStory,
        needs: &mut Vec<(String, String)>,
    ) -> Result<(), Problem> {
        let new = NewStory { product_id: product, epic_id: Some(epic), set: story.set };
        let saved = specify::add_story(self.app, &self.call, new)?;
        let id = WorkItemId(made(&saved)?.id);
        self.keep(story.key.clone(), &saved)?;
        for words in story.criteria {
            specify::add_criterion(self.app, &self.call, id, &words)?;
        }
        needs.extend(story.needs.into_iter().map(|needed| (story.key.clone(), needed)));
        let step_id = story.step.as_ref().map(|key| self.thing(key)).transpose()?.map(|thing| StepId(thing.id));
        let release_id =
            story.release.as_ref().map(|key| self.thing(key)).transpose()?.map(|thing| ReleaseId(thing.id));
        if step_id.is_some() || release_id.is_some() {
            map::place_story(
                self.app,
                &self.call,
                id,
                MapPlace { rev: self.rev(id.thing())?, step_id, release_id, before: None },
            )?;
        }
        let Some(team) = story.team else { return Ok(()) };
        let team = self.teams.iter().find(|view| view.team.name == team).ok_or_else(|| internal(&team))?;
        let team_id = TeamId(team.team.id.0);
        handover::hand_over(self.app, &self.call, id, HandOver { rev: self.rev(id.thing())?, team_id })?;
        if let Some(column) = story.column {
            let column = team.columns.iter().find(|c| c.title == column).ok_or_else(|| internal(&column))?;
            let to = QueuePlace { rev: self.rev(id.thing())?, column_id: column.id, before: None };
            handover::move_in_queue(self.app, &self.call, id, to)?;
        }
        Ok(())
    }

    fn edit(&self, thing: Thing, set: Value) -> Result<(), Problem> {
        let Value::Object(set) = set else { return Err(internal("no fields")) };
        things::edit(self.app, &self.call, thing, Edit { rev: self.rev(thing)?, set }).map(drop)
    }

    fn rev(&self, thing: Thing) -> Result<i64, Problem> {
        things::rev_of(self.app, &self.call, thing)
    }

    fn keep(&mut self, key: String, saved: &Saved) -> Result<(), Problem> {
        self.keys.insert(key, made(saved)?);
        Ok(())
    }

    fn thing(&self, key: &str) -> Result<Thing, Problem> {
        self.keys.get(key).copied().ok_or_else(|| internal(key))
    }
}

fn made(saved: &Saved) -> Result<Thing, Problem> {
    saved.thing.ok_or_else(|| internal(&saved.label))
}

fn internal(words: &str) -> Problem {
    Problem::Internal(format!("the demo data does not fit: {words}"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn everybody_of_the_demo_is_known() {
        assert_eq!(people().len(), 4);
    }
}

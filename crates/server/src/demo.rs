//! The demo data: open files from `demo/`, played through the same use cases that people use.
//!
//! The files hold days around an anchor; all of them are moved so that the anchor is today.

use std::collections::{BTreeMap, HashMap};
use std::io::{Cursor, Read, Write};

use iron_kite_core::decide::Outcome;
use iron_kite_core::fields::Collection;
use iron_kite_core::listen::{Strictness, Turn};
use iron_kite_core::plan::ReleaseState;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::specify::StoryState;
use iron_kite_core::things::{
    ActivityId, ExcerptId, FindingId, IdeaId, ProductId, ReleaseId, StepId, StudyId, TeamId, Thing, WorkItemId,
};
use iron_kite_core::trace::LinkKind;
use iron_kite_ops::attachments;
use iron_kite_ops::collections::{self, NewThing};
use iron_kite_ops::decide::{self, DecisionInput, NewIdea};
use iron_kite_ops::handover::{self, HandOver, NewColumn, NewTeam, QueuePlace, TeamView};
use iron_kite_ops::jobs;
use iron_kite_ops::learn::{self, NewResult};
use iron_kite_ops::listen::{
    self, AtOnce, FindingChange, ItemQuery, MergeFindings, NewFinding, NewRun, SetRecording, Take,
};
use iron_kite_ops::map::{self, MapPlace, NewTitled};
use iron_kite_ops::plan::{self, ReleaseStep};
use iron_kite_ops::specify::{self, NewEpic, NewStory};
use iron_kite_ops::things::{self, Edit, LinkEnds};
use iron_kite_ops::{Actor, App, Call, Saved, overview, people};
use jiff::civil::{Date, date};
use jiff::{Span, Timestamp};
use serde::Deserialize;
use serde_json::{Map, Value, json};
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

use crate::demo_channels;
use crate::demo_recording::tones;
use crate::demo_views::{self, DemoViews};

/// Everybody's password in the demo.
pub(crate) const PASSWORD: &str = "ferry-at-noon";

/// The day that the files take for today.
const ANCHOR: Date = date(2026, 6, 30);

const WORKSPACE: &str = include_str!("../../../demo/workspace.json");
/// What the words of the demo mean, so that it need not be told anew at each start. `iron-kite demo-meaning` makes it.
const MEANING: &[u8] = include_bytes!("../../../demo/meaning.bin");
const VIEWS: &str = include_str!("../../../demo/views.json");
const ACCOUNTS: &str = include_str!("../../../demo/accounts.csv");

/// The files of feedback, as they are brought in.
const FILES: [(&str, &[u8]); 8] = [
    ("crossing-reviews.csv", include_bytes!("../../../demo/crossing-reviews.csv")),
    ("gangway-notes.csv", include_bytes!("../../../demo/gangway-notes.csv")),
    ("support-tickets.xlsx", include_bytes!("../../../demo/support-tickets.xlsx")),
    ("form-requests.jsonl", include_bytes!("../../../demo/form-requests.jsonl")),
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
    #[serde(default)]
    studies: Vec<DemoStudy>,
    objectives: Vec<DemoObjective>,
    findings: Vec<DemoFinding>,
    /// Suggested findings that somebody accepts, each with a better title.
    #[serde(default)]
    accepted: Vec<(String, String)>,
    /// Suggested findings that somebody merged though they say two things.
    mixed: Option<DemoMixed>,
    backbone: Vec<DemoActivity>,
    releases: Vec<DemoRelease>,
    ideas: Vec<DemoIdea>,
    results: Vec<DemoResult>,
    read: usize,
}

#[derive(Deserialize)]
struct DemoObjective {
    key: String,
    set: Map<String, Value>,
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
}

#[derive(Deserialize)]
struct DemoIdea {
    title: String,
    problem: Option<String>,
    #[serde(default)]
    findings: Vec<String>,
    #[serde(default)]
    objectives: Vec<String>,
    rice: Option<[f64; 4]>,
    decision: Option<(Outcome, String, Date)>,
    epic: Option<String>,
    #[serde(default)]
    stories: Vec<DemoStory>,
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
    let mut first = None;
    for person in &demo.people {
        let id = people::add_member(app, &command, &person.email, &person.name, person.role, PASSWORD)?;
        first.get_or_insert(Actor { user_id: Some(id), name: person.name.clone(), role: Role::Owner });
    }
    let call = Call { actor: first, ..command };
    let mut player = Player { app, call, today, keys: HashMap::new(), teams: Vec::new() };
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
    demo_channels::load(app, &player.call, product.id)?;
    demo_views::load(app, &player.call, product.id, views, |key| player.thing(key))
}

/// Suggested findings of fewer excerpts are left to whoever tries it.
const LARGE: usize = 8;

/// Tries a run of the grouping and takes the large findings that it suggests.
fn suggest(app: &App, call: &Call, product: ProductId) -> Result<(), Problem> {
    let new = NewRun { product, strictness: Strictness::Even };
    let run = listen::try_run(app, call, new)?.id;
    jobs::work_off(app, call)?;
    let changes = listen::run(app, call, run)?.changes;
    let small = changes.iter().filter(|one| one.finding.is_none() && one.excerpts < LARGE);
    let leave = small.map(|one| one.place).collect();
    listen::take_run(app, call, run, Take { leave })?;
    jobs::work_off(app, call)
}

struct Player<'a> {
    app: &'a App,
    call: Call,
    today: Date,
    /// What the files name by a word of their own.
    keys: HashMap<String, Thing>,
    teams: Vec<TeamView>,
}

impl Player<'_> {
    fn accounts(&self) -> Result<(), Problem> {
        listen::bring_in_accounts(self.app, &self.call, "accounts.csv", ACCOUNTS.as_bytes()).map(drop)
    }

    fn add(&self, product: ProductId, collection: Collection, set: Map<String, Value>) -> Result<Saved, Problem> {
        collections::add_thing(self.app, &self.call, collection, NewThing { product, level: None, set })
    }

    fn product(&mut self, demo: DemoProduct) -> Result<(), Problem> {
        let product: ProductId = made(&overview::add_product(self.app, &self.call, &demo.name)?)?.id.into();
        demo.files.iter().try_for_each(|name| self.bring_in(product, name, None))?;
        let informs: Vec<(String, Vec<String>)> =
            demo.studies.iter().map(|study| (study.key.clone(), study.informs.clone())).collect();
        demo.studies.into_iter().try_for_each(|study| self.study(product, study))?;
        self.read(product, demo.read)?;
        for objective in demo.objectives {
            self.keep(objective.key, &self.add(product, Collection::Objective, objective.set)?)?;
        }
        self.findings(product, demo.findings)?;
        self.backbone(product, demo.backbone)?;
        let mut releases = Vec::new();
        for release in demo.releases {
            self.keep(release.key.clone(), &self.add(product, Collection::Release, release.set)?)?;
            releases.push((release.key, release.state));
        }
        let mut needs = Vec::new();
        for idea in demo.ideas {
            self.idea(product, idea, &mut needs)?;
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
        for (key, state) in releases {
            let id = ReleaseId(self.thing(&key)?.id);
            if state != ReleaseState::Planned {
                plan::step_release(self.app, &self.call, id, ReleaseStep { rev: 1, state })?;
            }
        }
        for result in demo.results {
            let idea_id = IdeaId(self.thing(&result.idea)?.id);
            let release_id = Some(ReleaseId(self.thing(&result.release)?.id));
            learn::add_result(self.app, &self.call, NewResult { idea_id, release_id, set: result.set })?;
        }
        Ok(())
    }

    fn bring_in(&self, product: ProductId, name: &str, study: Option<StudyId>) -> Result<(), Problem> {
        let (_, bytes) = FILES.iter().find(|(file, _)| *file == name).ok_or_else(|| internal(name))?;
        let bytes = moved(bytes, self.today).map_err(|fault| internal(&format!("{name}: {fault}")))?;
        let options = AtOnce { study, ..AtOnce::default() };
        listen::bring_in_file(self.app, &self.call, product, name, &bytes, &BTreeMap::new(), options)?;
        if name.ends_with(".vtt") { self.record(product) } else { Ok(()) }
    }

    /// Puts a stand-in for its recording beside the conversation that came last.
    fn record(&self, product: ProductId) -> Result<(), Problem> {
        let query = ItemQuery { product: product.0, limit: Some(200), ..ItemQuery::default() };
        let lines = listen::items(self.app, &self.call, query)?.items;
        let Some(last) = lines.into_iter().map(|line| line.id).max() else { return Ok(()) };
        let item = listen::item(self.app, &self.call, last)?.item;
        let turns = serde_json::from_str::<Vec<Turn>>(item.turns.as_deref().unwrap_or("[]"));
        let tones = tones(&turns.map_err(|fault| internal(&fault.to_string()))?);
        let file = attachments::put_in(self.app, &self.call, "tones that stand in for the voices.wav", tones)?;
        let set = SetRecording { rev: item.rev, recording: Some(file.id) };
        listen::set_recording(self.app, &self.call, last, set).map(drop)
    }

    fn study(&mut self, product: ProductId, study: DemoStudy) -> Result<(), Problem> {
        let templates = listen::study_templates(self.app, &self.call)?;
        let template = templates.into_iter().find(|one| one.template.key == study.template);
        let template = template.ok_or_else(|| internal(&study.template))?.template;
        let mut set = study.set;
        for (name, text) in [("method", template.method), ("question", template.question), ("guide", template.guide)] {
            set.entry(name).or_insert_with(|| text.into());
        }
        let state = set.remove("state");
        self.keep(study.key.clone(), &self.add(product, Collection::Study, set)?)?;
        let thing = self.thing(&study.key)?;
        study.files.iter().try_for_each(|name| self.bring_in(product, name, Some(StudyId(thing.id))))?;
        state.map_or(Ok(()), |state| self.edit(thing, json!({ "state": state })))
    }

    /// The oldest have been read.
    fn read(&self, product: ProductId, read: usize) -> Result<(), Problem> {
        let mut lines = Vec::new();
        let mut after = None;
        loop {
            let query = ItemQuery { product: product.0, limit: Some(200), after, ..ItemQuery::default() };
            let page = listen::items(self.app, &self.call, query)?;
            lines.extend(page.items);
            after = page.next;
            if after.is_none() {
                break;
            }
        }
        lines.iter().rev().take(read).try_for_each(|item| listen::read_item(self.app, &self.call, item.id))
    }

    fn findings(&mut self, product: ProductId, findings: Vec<DemoFinding>) -> Result<(), Problem> {
        let mut excerpts: Vec<(ExcerptId, String)> = Vec::new();
        let mut after = None;
        loop {
            let query = ItemQuery { product: product.0, limit: Some(200), after, ..ItemQuery::default() };
            let page = listen::items(self.app, &self.call, query)?;
            for line in &page.items {
                let item = listen::item(self.app, &self.call, line.id)?;
                excerpts.extend(item.parts.into_iter().map(|part| (part.excerpt.id, part.words.to_lowercase())));
            }
            after = page.next;
            if after.is_none() {
                break;
            }
        }
        for finding in findings {
            let says = |words: &str| finding.says.iter().any(|cue| words.contains(cue.as_str()));
            let chosen: Vec<ExcerptId> = excerpts.iter().filter(|(_, words)| says(words)).map(|(id, _)| *id).collect();
            let (first, rest) = chosen.split_at(chosen.len().min(3));
            let new = NewFinding { product_id: product, title: finding.title, excerpts: first.to_vec() };
            let saved = listen::add_finding(self.app, &self.call, new)?;
            let id = FindingId(made(&saved)?.id);
            listen::change_finding(
                self.app,
                &self.call,
                id,
                FindingChange { add: rest.to_vec(), ..FindingChange::default() },
            )?;
            self.keep(finding.key, &saved)?;
        }
        Ok(())
    }

    /// What people make of what was suggested: some of it accepted under a better title, and one mistake that waits to be put
    /// right.
    fn decide(
        &self,
        product: ProductId,
        accepted: Vec<(String, String)>,
        mixed: Option<DemoMixed>,
    ) -> Result<(), Problem> {
        let all = listen::findings(self.app, &self.call, product)?;
        let named = |title: &str| all.iter().find(|one| one.finding.title == title).map(|one| one.finding.id);
        let say = |id: FindingId, set: Value| {
            let rev = things::rev_of(self.app, &self.call, id.thing())?;
            let set = set.as_object().cloned().unwrap_or_default();
            things::edit(self.app, &self.call, id.thing(), Edit { rev, set }).map(drop)
        };
        for (title, better) in accepted {
            let id = named(&title).ok_or_else(|| internal(&title))?;
            say(id, json!({ "title": better, "state": "accepted" }))?;
        }
        let Some(mixed) = mixed else { return Ok(()) };
        let ids: Vec<FindingId> =
            mixed.of.iter().map(|title| named(title).ok_or_else(|| internal(title))).collect::<Result<_, _>>()?;
        let [keep, others @ ..] = ids.as_slice() else { return Ok(()) };
        let merge = MergeFindings { keep: *keep, others: others.to_vec() };
        listen::merge_findings(self.app, &self.call, merge)?;
        say(*keep, json!({ "title": mixed.title, "note": mixed.note }))
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
        let objectives = idea.objectives.iter().map(|key| (LinkKind::AsksFor, key));
        for (kind, key) in findings.chain(objectives) {
            things::link(self.app, &self.call, LinkEnds { kind, from: self.thing(key)?, to: id.thing() })?;
        }
        if let Some([reach, impact, confidence, effort]) = idea.rice {
            self.edit(
                id.thing(),
                json!({ "reach": reach, "impact": impact, "confidence": confidence, "effort": effort }),
            )?;
        }
        if let Some((outcome, reason, on)) = idea.decision {
            let call = Call { today: on, ..self.call.clone() };
            let rev = self.rev(id.thing())?;
            decide::decide(self.app, &call, id, DecisionInput { rev, outcome, reason })?;
        }
        let Some(title) = idea.epic else { return Ok(()) };
        let new = NewEpic { product_id: product, title: Some(title), idea_id: Some(id) };
        let epic = WorkItemId(made(&specify::add_epic(self.app, &self.call, new)?)?.id);
        idea.stories.into_iter().try_for_each(|story| self.story(product, epic, story, needs))
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

/// The same file with every day moved, whatever sort it is: a packed one is packed anew.
fn moved(bytes: &[u8], today: Date) -> Result<Vec<u8>, String> {
    if !bytes.starts_with(b"PK") {
        // Days have the same length everywhere, so nothing else in a file moves.
        return Ok(match std::str::from_utf8(bytes) {
            Ok(text) => shift(text, today).into_bytes(),
            Err(_) => {
                let letters: String = bytes.iter().map(|byte| char::from(*byte)).collect();
                shift(&letters, today).chars().map(|letter| u8::try_from(u32::from(letter)).unwrap_or(b'?')).collect()
            }
        });
    }
    let mut from = ZipArchive::new(Cursor::new(bytes)).map_err(|fault| fault.to_string())?;
    let mut to = ZipWriter::new(Cursor::new(Vec::new()));
    for at in 0..from.len() {
        let mut file = from.by_index(at).map_err(|fault| fault.to_string())?;
        let mut held = Vec::new();
        let name = file.name().map_err(|fault| fault.to_string())?.into_owned();
        file.read_to_end(&mut held).map_err(|fault| fault.to_string())?;
        to.start_file(name, SimpleFileOptions::default()).map_err(|fault| fault.to_string())?;
        to.write_all(&moved(&held, today)?).map_err(|fault| fault.to_string())?;
    }
    Ok(to.finish().map_err(|fault| fault.to_string())?.into_inner())
}

/// Moves every day in a text (`YYYY-MM-DD` or `DD.MM.YYYY`) so that the anchor becomes today.
fn shift(text: &str, today: Date) -> String {
    let by = Span::new().days((today - ANCHOR).get_days());
    let mut out = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.find(|c: char| c.is_ascii_digit()) {
        let moved = rest.get(at..at + 10).and_then(|word| moved_day(word, by));
        let digits = rest[at..].find(|c: char| !c.is_ascii_digit()).unwrap_or(rest.len() - at);
        let (keep, skip) = if moved.is_some() { (at, at + 10) } else { (at + digits, at + digits) };
        out.push_str(&rest[..keep]);
        out.extend(moved);
        rest = &rest[skip..];
    }
    out.push_str(rest);
    out
}

fn moved_day(word: &str, by: Span) -> Option<String> {
    if let Ok(day) = word.parse::<Date>() {
        return Some(day.checked_add(by).ok()?.to_string());
    }
    let [day, month, year] = word.split('.').collect::<Vec<_>>()[..] else { return None };
    let day = Date::new(year.parse().ok()?, month.parse().ok()?, day.parse().ok()?).ok()?.checked_add(by).ok()?;
    Some(format!("{:02}.{:02}.{}", day.day(), day.month(), day.year()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_move_and_nothing_else_does() {
        let moved = shift("on 2026-06-30, 2026-07-01;20 or 2026", date(2027, 1, 10));
        assert_eq!(moved, "on 2027-01-10, 2027-01-11;20 or 2026");
        assert_eq!(shift("29.06.2026;4.5.20 HX-2026", date(2027, 1, 10)), "09.01.2027;4.5.20 HX-2026");
    }

    #[test]
    fn everybody_of_the_demo_is_known() {
        assert_eq!(people().len(), 4);
    }
}

//! What people say in the demo, and what is made of it.

use std::collections::{BTreeMap, BTreeSet};

use iron_kite_core::fields::Collection;
use iron_kite_core::listen::{FindingState, Strictness, Turn};
use iron_kite_core::problem::Problem;
use iron_kite_core::things::{ExcerptId, FindingId, ProductId, StudyId};
use iron_kite_ops::listen::{
    self, AtOnce, ExcerptView, FindingChange, ItemQuery, MergeFindings, NewFinding, NewRun, SetRecording, Take,
};
use iron_kite_ops::things::{self, Edit};
use iron_kite_ops::{App, Call, attachments, jobs};
use serde_json::{Value, json};

use super::days::moved;
use super::recording::tones;
use super::{ACCOUNTS, DemoFinding, DemoMixed, DemoStudy, FILES, Player, internal, made};

/// Suggested findings of fewer excerpts are left to whoever tries it.
const LARGE: usize = 8;

/// Tries a run of the grouping and takes the large findings that it suggests.
pub(super) fn suggest(app: &App, call: &Call, product: ProductId) -> Result<(), Problem> {
    let new = NewRun { product, strictness: Strictness::Even };
    let run = listen::try_run(app, call, new)?.id;
    jobs::work_off(app, call)?;
    let changes = listen::run(app, call, run)?.changes;
    let small = changes.iter().filter(|one| one.finding.is_none() && one.excerpts < LARGE);
    let leave = small.map(|one| one.place).collect();
    listen::take_run(app, call, run, Take { leave })?;
    jobs::work_off(app, call)
}

impl Player<'_> {
    pub(super) fn accounts(&self) -> Result<(), Problem> {
        listen::bring_in_accounts(self.app, &self.call, "accounts.csv", ACCOUNTS.as_bytes()).map(drop)
    }

    pub(super) fn bring_in(&self, product: ProductId, name: &str, study: Option<StudyId>) -> Result<(), Problem> {
        let (_, bytes) = FILES.iter().find(|(file, _)| *file == name).ok_or_else(|| internal(name))?;
        let bytes = moved(bytes, self.today).map_err(|fault| internal(&format!("{name}: {fault}")))?;
        let options = AtOnce { study, ..AtOnce::default() };
        listen::bring_in_file(self.app, &self.call, product, name, &bytes, &BTreeMap::new(), &options)?;
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

    pub(super) fn study(&mut self, product: ProductId, study: DemoStudy) -> Result<(), Problem> {
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
    pub(super) fn read(&self, product: ProductId, read: usize) -> Result<(), Problem> {
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

    /// All that was said of a product.
    fn excerpts(&self, product: ProductId) -> Result<Vec<ExcerptView>, Problem> {
        let mut excerpts = Vec::new();
        let mut after = None;
        loop {
            let query = ItemQuery { product: product.0, limit: Some(200), after, ..ItemQuery::default() };
            let page = listen::items(self.app, &self.call, query)?;
            for line in &page.items {
                excerpts.extend(listen::item(self.app, &self.call, line.id)?.parts);
            }
            after = page.next;
            if after.is_none() {
                return Ok(excerpts);
            }
        }
    }

    pub(super) fn findings(&mut self, product: ProductId, findings: Vec<DemoFinding>) -> Result<(), Problem> {
        let excerpts = self.excerpts(product)?;
        for finding in findings {
            let says = |words: &str| finding.says.iter().any(|cue| words.contains(cue.as_str()));
            let chosen: Vec<ExcerptId> =
                excerpts.iter().filter(|one| says(&one.words.to_lowercase())).map(|one| one.excerpt.id).collect();
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

    /// What people make of what was suggested, told by something that is said there: some of it is accepted under a better
    /// title, and one mistake waits to be put right.
    pub(super) fn decide(
        &self,
        product: ProductId,
        accepted: Vec<(String, String)>,
        mixed: Option<DemoMixed>,
    ) -> Result<(), Problem> {
        if accepted.is_empty() && mixed.is_none() {
            return Ok(());
        }
        let findings = listen::findings(self.app, &self.call, product)?.into_iter().map(|one| one.finding);
        let suggested: BTreeSet<FindingId> =
            findings.filter(|one| one.state == Some(FindingState::Suggested)).map(|one| one.id).collect();
        let excerpts = self.excerpts(product)?;
        let holding = |words: &str| {
            let said = |one: &&ExcerptView| one.words.to_lowercase().contains(&words.to_lowercase());
            let behind = excerpts.iter().filter(said).flat_map(|one| &one.findings);
            behind.copied().find(|id| suggested.contains(id)).ok_or_else(|| internal(words))
        };
        let say = |id: FindingId, set: Value| {
            let rev = things::rev_of(self.app, &self.call, id.thing())?;
            let set = set.as_object().cloned().unwrap_or_default();
            things::edit(self.app, &self.call, id.thing(), Edit { rev, set }).map(drop)
        };
        for (words, better) in accepted {
            say(holding(&words)?, json!({ "title": better, "state": "accepted" }))?;
        }
        let Some(mixed) = mixed else { return Ok(()) };
        let ids: Vec<FindingId> = mixed.of.iter().map(|words| holding(words)).collect::<Result<_, _>>()?;
        let [keep, others @ ..] = ids.as_slice() else { return Ok(()) };
        let merge = MergeFindings { keep: *keep, others: others.to_vec() };
        listen::merge_findings(self.app, &self.call, merge)?;
        say(*keep, json!({ "title": mixed.title, "note": mixed.note }))
    }
}

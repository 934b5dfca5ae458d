//! What is said of things in the demo, and what runs by itself.

use std::collections::HashMap;

use iron_kite_core::fields::Collection;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::rules::RuleDefinition;
use iron_kite_core::things::{CommentId, ProductId, Thing};
use iron_kite_ops::collections::{self, NewThing};
use iron_kite_ops::decide;
use iron_kite_ops::handover::{self, TeamPeople, TeamView};
use iron_kite_ops::rules::{self, RuleInput};
use iron_kite_ops::talk::{self, ChosenPassage, NewComment, Resolve};
use iron_kite_ops::{Actor, App, Call, afterwards};
use serde::Deserialize;
use serde_json::{Map, Value};

use super::{internal, made};

const TALK: &str = include_str!("../../../../demo/talk.json");

#[derive(Deserialize)]
pub(super) struct DemoTalk {
    /// The product that it is about.
    pub(super) product: String,
    /// Who belongs to a team, by address.
    teams: HashMap<String, Vec<String>>,
    /// A requirements document.
    document: Map<String, Value>,
    comments: Vec<DemoComment>,
    rules: Vec<DemoRule>,
}

#[derive(Deserialize)]
struct DemoComment {
    /// The title of the document or of an idea.
    on: String,
    /// The address of who says it.
    by: String,
    body: String,
    /// Words of the document's text.
    words: Option<String>,
    /// The address of who answers, and what is said.
    #[serde(default)]
    answers: Vec<(String, String)>,
    /// The address of who deals with it.
    dealt_with: Option<String>,
}

#[derive(Deserialize)]
struct DemoRule {
    title: String,
    by: String,
    runs: bool,
    definition: RuleDefinition,
}

/// What the file says.
pub(super) fn read() -> Result<DemoTalk, Problem> {
    serde_json::from_str(TALK).map_err(|fault| internal(&fault.to_string()))
}

/// Those who speak.
pub(super) struct Speakers<'a> {
    pub(super) app: &'a App,
    pub(super) call: &'a Call,
    /// The people by their address: number, name, role.
    pub(super) people: HashMap<String, (i64, String, Role)>,
    pub(super) teams: &'a [TeamView],
}

/// Lets people speak. What they say is news to the others; what the demo begins with is not.
pub(super) fn load(speakers: &Speakers<'_>, product: ProductId, talk: DemoTalk) -> Result<(), Problem> {
    let Speakers { app, call, .. } = speakers;
    for team in speakers.teams {
        let people = talk.teams.get(&team.team.name).into_iter().flatten();
        let people = people.map(|address| Ok(speakers.person(address)?.0)).collect::<Result<_, Problem>>()?;
        handover::set_team_people(app, call, team.team.id, TeamPeople { people })?;
    }
    let title = talk.document.get("title").and_then(Value::as_str).unwrap_or_default().to_owned();
    let body = talk.document.get("body").and_then(Value::as_str).unwrap_or_default().to_owned();
    let new = NewThing { product, level: None, set: talk.document };
    let document = made(&collections::add_thing(app, call, Collection::Document, new)?)?;
    for rule in talk.rules {
        let (title, definition, runs) = (rule.title, rule.definition, rule.runs);
        let input = RuleInput { product, title, definition, runs, rev: 0 };
        rules::add_rule(app, &speakers.call_of(&rule.by)?, input)?;
    }
    afterwards::begin_here(app, call)?;
    let ideas = decide::ideas(app, call, product)?;
    for comment in talk.comments {
        let on = match ideas.iter().find(|idea| idea.idea.title == comment.on) {
            Some(idea) => idea.idea.id.thing(),
            None if comment.on == title => document,
            None => return Err(internal(&comment.on)),
        };
        speakers.say(on, &body, comment)?;
    }
    Ok(())
}

impl Speakers<'_> {
    fn person(&self, address: &str) -> Result<&(i64, String, Role), Problem> {
        self.people.get(address).ok_or_else(|| internal(address))
    }

    fn call_of(&self, address: &str) -> Result<Call, Problem> {
        let (id, name, role) = self.person(address)?.clone();
        Ok(Call { actor: Some(Actor { user_id: Some(id), name, role }), ..self.call.clone() })
    }

    /// What somebody says, with `{wren}` and `{team Quayside}` as mentions.
    fn with_mentions(&self, body: &str) -> String {
        let people = self.people.iter().map(|(address, (id, name, _))| {
            let short = address.split('@').next().unwrap_or_default();
            (format!("{{{short}}}"), format!("[{name}](person:{id})"))
        });
        let teams = self.teams.iter().map(|team| {
            let team = &team.team;
            (format!("{{team {}}}", team.name), format!("[{}](team:{})", team.name, team.id.0))
        });
        people.chain(teams).fold(body.to_owned(), |body, (short, mention)| body.replace(&short, &mention))
    }

    fn say(&self, on: Thing, text: &str, comment: DemoComment) -> Result<(), Problem> {
        let chosen = |words: &String| -> Result<ChosenPassage, Problem> {
            let at = text.find(words).ok_or_else(|| internal(words))?;
            let from = text[..at].chars().count();
            Ok(ChosenPassage { field: "body".into(), rev: 1, from, to: from + words.chars().count() })
        };
        let passage = comment.words.as_ref().map(chosen).transpose()?;
        let body = self.with_mentions(&comment.body);
        let said =
            talk::add_comment(self.app, &self.call_of(&comment.by)?, NewComment { on, reply_to: None, body, passage })?;
        let id = CommentId(made(&said)?.id);
        for (by, body) in comment.answers {
            let body = self.with_mentions(&body);
            let answer = NewComment { on, reply_to: Some(id), body, passage: None };
            talk::add_comment(self.app, &self.call_of(&by)?, answer)?;
        }
        if let Some(by) = comment.dealt_with {
            talk::resolve_comment(self.app, &self.call_of(&by)?, id, Resolve { rev: 1, resolved: true })?;
        }
        Ok(())
    }
}

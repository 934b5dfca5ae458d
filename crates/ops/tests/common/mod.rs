//! A workspace on a file of its own, and people of each role in it.

#![allow(dead_code, clippy::expect_used, reason = "each test uses a part of it")]

use std::sync::{Arc, Mutex};

use iron_kite_core::fields::Collection;
use iron_kite_core::listen::{ChannelKind, Columns};
use iron_kite_core::notice::Attempt;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Role;
use iron_kite_core::things::{ProductId, Thing, ThingKind};
use iron_kite_ops::outside::{Fetch, Fetched, Letter, Outside, PagesFound};
use iron_kite_ops::{App, Call, Saved, collections, decide, listen, overview, people, specify, takeout};
use iron_kite_store::Way;
use jiff::Timestamp;
use jiff::civil::date;
use serde_json::{Map, Value};
use tempfile::TempDir;

pub mod subjects;

/// A workspace with one product.
pub struct Workspace {
    pub app: App,
    pub product: ProductId,
    pub dir: TempDir,
}

/// The moment of all tests.
pub fn now() -> Timestamp {
    "2026-06-30T12:00:00Z".parse().expect("a moment")
}

/// A command, which may do anything.
pub fn command() -> Call {
    Call::command(now(), date(2026, 6, 30))
}

/// A way out that keeps the letters, which carry links back.
pub struct Letters(pub Arc<Mutex<Vec<Letter>>>);

impl Outside for Letters {
    fn fetch(&self, _: &Fetch<'_>) -> Result<Fetched, String> {
        Err(String::new())
    }

    fn search(&self, _: &str) -> Result<PagesFound, String> {
        Err(String::new())
    }

    fn post(&self, letter: &Letter) -> Attempt {
        self.0.lock().expect("letters").push(letter.clone());
        Attempt::Sent
    }

    fn leads_back(&self) -> bool {
        true
    }

    fn may(&self, _: ChannelKind, _: &str) -> Result<(), String> {
        Ok(())
    }
}

/// The whole of a workspace as it goes out.
pub fn whole(app: &App) -> Value {
    serde_json::from_slice(&whole_file(app)).expect("a workspace")
}

/// The file of a whole workspace.
pub fn whole_file(app: &App) -> Vec<u8> {
    let mut file = Vec::new();
    takeout::export_all(app, &command(), &mut file).expect("a file");
    file
}

/// Brings such a file into an empty workspace.
pub fn bring_whole(app: &App, file: Vec<u8>) -> Result<takeout::Brought, Problem> {
    takeout::import_all(app, &command(), std::io::Cursor::new(file))
}

/// An empty folder's workspace with a product.
pub fn workspace() -> Workspace {
    let dir = tempfile::tempdir().expect("a folder");
    let app = App::open(dir.path()).expect("a workspace");
    let product = made(&overview::add_product(&app, &command(), "Crossing").expect("a product")).id.into();
    Workspace { app, product, dir }
}

impl Workspace {
    /// Somebody of this role, who is added.
    pub fn person(&self, role: Role) -> Call {
        let email = format!("{}-{}@crossing.example", role.name(), self.count());
        let id =
            people::add_member(&self.app, &command(), &email, role.name(), role, "ferry-at-noon").expect("a person");
        let actor = iron_kite_ops::Actor { user_id: Some(id), name: role.name().into(), role };
        Call { actor: Some(actor), way: Way::Person, ..command() }
    }

    fn count(&self) -> usize {
        people::members(&self.app, &command()).expect("members").len()
    }

    /// Brings in a table whose first column is the text and whose second is the person.
    pub fn bring(&self, call: &Call, table: &str) -> listen::Imported {
        let columns = Columns { text: 0, person: Some(1), ..Columns::default() };
        listen::import(&self.app, call, self.product, "voices.csv", table.as_bytes(), &columns).expect("an import")
    }

    /// A new idea.
    pub fn idea(&self, call: &Call, title: &str) -> Thing {
        let new = decide::NewIdea { product_id: self.product, title: title.into(), problem: None, finding_id: None };
        made(&decide::add_idea(&self.app, call, new).expect("an idea"))
    }

    /// A new thing of a collection.
    pub fn add(&self, call: &Call, collection: Collection, set: &Value) -> Thing {
        let new = collections::NewThing { product: self.product, level: None, set: fields(set) };
        made(&collections::add_thing(&self.app, call, collection, new).expect("a thing"))
    }

    /// Some fields of all things of a collection, in the order of their numbers.
    pub fn rows(&self, collection: Collection, names: &[&str]) -> Vec<Vec<Value>> {
        let ask = serde_json::json!({ "product": self.product, "query": { "fields": names } });
        let ask = serde_json::from_value(ask).expect("a question");
        let page = collections::rows(&self.app, &command(), collection, &ask).expect("rows");
        page.rows.iter().map(|row| names.iter().map(|name| row.values[*name].clone()).collect()).collect()
    }

    /// A new story.
    pub fn story(&self, call: &Call, title: &str) -> Thing {
        let set = fields(&serde_json::json!({ "title": title }));
        let new = specify::NewStory { product_id: self.product, epic_id: None, set };
        made(&specify::add_story(&self.app, call, new).expect("a story"))
    }
}

/// The thing that a write made.
pub fn made(saved: &Saved) -> Thing {
    saved.thing.expect("a thing")
}

/// The fields of a JSON object.
pub fn fields(value: &Value) -> Map<String, Value> {
    value.as_object().expect("an object").clone()
}

/// A thing of this kind and number.
pub fn thing(kind: ThingKind, id: i64) -> Thing {
    Thing::new(kind, id)
}

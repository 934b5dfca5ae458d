//! The first start: the owner, and what the workspace begins with.

use iron_kite_core::problem::Problem;
use iron_kite_core::role::{Right, Role};
use iron_kite_core::specify::StoryState;
use iron_kite_core::things::ThingKind;
use iron_kite_store::Tx;
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::ToSchema;

use crate::call::{App, Call, Saved, fields};
use crate::handover::{NewColumn, NewTeam, add_team, add_team_with};
use crate::passwords;
use crate::people::check_person;

/// What the start page has to know.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Start {
    /// Nobody can sign in yet: the owner is to be named first.
    pub needs_owner: bool,
}

/// The first owner and what is managed.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewOwner {
    /// The address to sign in with.
    pub email: String,
    /// The owner's name.
    pub name: String,
    /// At least twelve characters.
    pub password: String,
    /// The name of the first product; neither it nor a team where a whole workspace is brought in next.
    #[serde(default)]
    pub product: Option<String>,
    /// The name of the first team.
    #[serde(default)]
    pub team: Option<String>,
}

/// What a workspace begins with.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct Beginnings {
    /// The name of the first product.
    pub product: String,
    /// The name of the first team.
    pub team: String,
}

impl Beginnings {
    fn check(&self) -> Result<(), Problem> {
        for (field, text) in [("/product", &self.product), ("/team", &self.team)] {
            if text.trim().is_empty() || text.chars().count() > 80 {
                return Err(Problem::invalid(field, "Give it a name of at most 80 characters."));
            }
        }
        Ok(())
    }

    fn add(&self, tx: &mut Tx<'_>) -> Result<(), Problem> {
        tx.label("began the workspace");
        tx.insert(ThingKind::Product, &fields(json!({ "name": self.product.trim() })))?;
        add_team_with(tx, self.team.trim(), &FIRST_COLUMNS).map(drop)
    }
}

/// The columns that a new team's queue has; the team names them as it likes.
const FIRST_COLUMNS: [(&str, StoryState); 4] = [
    ("To do", StoryState::HandedOver),
    ("Building", StoryState::InBuild),
    ("Checking", StoryState::InCheck),
    ("Done", StoryState::Done),
];

/// Adds a team with the columns that a new team has.
///
/// # Errors
/// Where its name is not as it should be.
pub fn add_first_team(app: &App, call: &Call, name: &str) -> Result<Saved, Problem> {
    let columns = FIRST_COLUMNS.map(|(title, state)| NewColumn { title: title.to_owned(), state });
    add_team(app, call, NewTeam { name: name.to_owned(), columns: columns.into() })
}

/// Whether the workspace waits for its first owner.
///
/// # Errors
/// Where the store fails.
pub fn start(app: &App) -> Result<Start, Problem> {
    app.read_open(|rows| Ok(Start { needs_owner: rows.users()?.is_empty() }))
}

/// Names the first owner, and the first product and team where they are given. Only possible while nobody can sign in.
///
/// # Errors
/// Where there is an owner already, or a field is not as it should be.
pub fn start_owner(app: &App, call: &Call, new: NewOwner) -> Result<(), Problem> {
    check_person(&new.email, &new.name)?;
    let hash = passwords::hash(&new.password, &new.email)?;
    let begins = match (new.product, new.team) {
        (None, None) => None,
        (product, team) => Some(Beginnings { product: product.unwrap_or_default(), team: team.unwrap_or_default() }),
    };
    begins.as_ref().map_or(Ok(()), Beginnings::check)?;
    app.write_open(call, move |tx| {
        if !tx.rows().users()?.is_empty() {
            return Err(Problem::refused(
                "has-owner",
                "This workspace has an owner already. Sign in, or ask the owner to add you.",
            ));
        }
        tx.add_user(new.email.trim(), new.name.trim(), Role::Owner, Some(&hash))?;
        match begins {
            Some(begins) if tx.rows().is_empty()? => begins.add(tx),
            _ => Ok(()),
        }
    })?;
    Ok(())
}

/// Begins an empty workspace that has its owner already.
///
/// # Errors
/// Where a name is not as it should be, or there is something in it already.
pub fn begin(app: &App, call: &Call, begins: Beginnings) -> Result<(), Problem> {
    begins.check()?;
    app.write(call, Right::Own, move |tx| {
        if tx.rows().is_empty()? {
            begins.add(tx)
        } else {
            Err(Problem::refused("begun", "This workspace has begun already."))
        }
    })
    .map(drop)
}

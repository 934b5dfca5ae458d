//! `iron-kite init`, `product`, `team` and `user`: a workspace, and who and what is in it.

use std::io::Read;

use clap::{Args, Subcommand};
use iron_kite_core::role::Role;
use iron_kite_core::things::{Thing, ThingKind};
use iron_kite_ops::handover::{self, ColumnChange, TeamChange, TeamView};
use iron_kite_ops::start::{self, NewOwner};
use iron_kite_ops::things::{self, Edit};
use iron_kite_ops::{App, overview, people, workspace};
use serde_json::json;

use super::told::{Told, say};
use super::{Place, command_call, existing, noted, product_named, words};
use crate::fresh::Fresh;

/// A new workspace.
#[derive(Args)]
pub(super) struct Init {
    #[command(flatten)]
    place: Place,
    /// The owner's address to sign in with. The password is read from standard input.
    #[arg(long)]
    email: String,
    /// The owner's name.
    #[arg(long)]
    name: String,
    /// The name of the first product.
    #[arg(long)]
    product: String,
    /// The name of the first team.
    #[arg(long, default_value = "Team")]
    team: String,
}

/// What is done with products, and with teams.
#[derive(Subcommand)]
pub(super) enum Named {
    /// List them.
    List {
        #[command(flatten)]
        place: Place,
    },
    /// Add one.
    Add {
        /// Its name.
        name: String,
        #[command(flatten)]
        place: Place,
    },
    /// Give one another name.
    Rename {
        /// Its name until now.
        name: String,
        /// The new one.
        to: String,
        #[command(flatten)]
        place: Place,
    },
    /// Remove one in which nothing is.
    Remove {
        /// Its name.
        name: String,
        #[command(flatten)]
        place: Place,
    },
}

#[derive(Subcommand)]
pub(super) enum User {
    /// List them.
    List {
        #[command(flatten)]
        place: Place,
    },
    /// Add somebody. The password is read from standard input.
    Add {
        /// The address to sign in with.
        email: String,
        #[command(flatten)]
        place: Place,
        /// The name.
        #[arg(long)]
        name: String,
        /// viewer, contributor, editor or owner.
        #[arg(long, default_value = "viewer")]
        role: Role,
    },
    /// Set somebody's role.
    Role {
        /// The address.
        email: String,
        /// viewer, contributor, editor or owner.
        role: Role,
        #[command(flatten)]
        place: Place,
    },
    /// Close somebody's account: nobody signs in to it any more, and what was done stays that person's.
    #[command(alias = "remove")]
    Close {
        /// The address.
        email: String,
        #[command(flatten)]
        place: Place,
    },
    /// Open a closed account again.
    Reopen {
        /// The address.
        email: String,
        #[command(flatten)]
        place: Place,
    },
    /// Set somebody's password, read from standard input.
    Password {
        /// The address.
        email: String,
        #[command(flatten)]
        place: Place,
    },
}

/// Makes a workspace; nothing of it stays where it cannot be made.
pub(super) fn init(new: Init) -> Result<Told, String> {
    let password = password()?;
    let fresh = Fresh::in_folder(&new.place.data);
    let app = App::open(&new.place.data).map_err(words)?;
    let owner =
        NewOwner { email: new.email, name: new.name, password, product: Some(new.product), team: Some(new.team) };
    let about = json!({ "account": owner.email });
    let done = start::start_owner(&app, &command_call(), owner).map_err(words);
    noted(&new.place.data, "init", about, done)?;
    fresh.stays();
    let folder = new.place.data.display().to_string();
    Ok(Told::done(format!("Made the workspace {folder}"), json!({ "data": folder })))
}

pub(super) fn product(what: Named) -> Result<Told, String> {
    let call = command_call();
    match what {
        Named::List { place } => {
            let all = overview::products(&existing(&place.data)?, &call).map_err(words)?;
            let names: Vec<&str> = all.iter().map(|product| product.name.as_str()).collect();
            Ok(Told::done(names.join("\n"), json!(all)))
        }
        Named::Add { name, place } => {
            let saved = overview::add_product(&existing(&place.data)?, &call, &name).map_err(words)?;
            Ok(Told::done(format!("Added the product {name}"), json!(saved)))
        }
        Named::Rename { name, to, place } => {
            let app = existing(&place.data)?;
            let known = product_named(&app, &call, Some(&name))?;
            let set = [("name".to_owned(), json!(to))].into_iter().collect();
            let thing = Thing::new(ThingKind::Product, known.id.0);
            let saved = things::edit(&app, &call, thing, Edit { rev: known.rev, set }).map_err(words)?;
            Ok(Told::done(format!("{name} is called {to} now"), json!(saved)))
        }
        Named::Remove { name, place } => {
            let app = existing(&place.data)?;
            let known = product_named(&app, &call, Some(&name))?;
            let saved = workspace::remove_product(&app, &call, known.id, known.rev).map_err(words)?;
            Ok(Told::done(format!("Removed the product {name}"), json!(saved)))
        }
    }
}

pub(super) fn team(what: Named) -> Result<Told, String> {
    let call = command_call();
    let named = |app: &App, name: &str| -> Result<TeamView, String> {
        let all = handover::teams(app, &call).map_err(words)?;
        all.into_iter().find(|one| one.team.name == name).ok_or_else(|| format!("there is no team called '{name}'"))
    };
    match what {
        Named::List { place } => {
            let all = handover::teams(&existing(&place.data)?, &call).map_err(words)?;
            let line = |one: &TeamView| {
                let columns: Vec<&str> = one.columns.iter().map(|column| column.title.as_str()).collect();
                format!("{}\t{}", one.team.name, columns.join(", "))
            };
            Ok(Told::done(all.iter().map(line).collect::<Vec<_>>().join("\n"), json!(all)))
        }
        Named::Add { name, place } => {
            let saved = start::add_first_team(&existing(&place.data)?, &call, &name).map_err(words)?;
            Ok(Told::done(format!("Added the team {name}"), json!(saved)))
        }
        Named::Rename { name, to, place } => {
            let app = existing(&place.data)?;
            let known = named(&app, &name)?;
            let column = |one: &iron_kite_core::handover::TeamColumn| ColumnChange {
                id: Some(one.id),
                title: one.title.clone(),
                state: one.state,
            };
            let change = TeamChange {
                rev: known.team.rev,
                name: to.clone(),
                columns: known.columns.iter().map(column).collect(),
            };
            let saved = handover::change_team(&app, &call, known.team.id, change).map_err(words)?;
            Ok(Told::done(format!("{name} is called {to} now"), json!(saved)))
        }
        Named::Remove { name, place } => {
            let app = existing(&place.data)?;
            let known = named(&app, &name)?;
            let saved = handover::remove_team(&app, &call, known.team.id, known.team.rev).map_err(words)?;
            Ok(Told::done(format!("Removed the team {name}"), json!(saved)))
        }
    }
}

pub(super) fn user(user: User) -> Result<Told, String> {
    let call = command_call();
    let done = |words: String, email: &str| Ok(Told::done(words, json!({ "email": email })));
    match user {
        User::List { place } => {
            let all = people::members(&existing(&place.data)?, &call).map_err(words)?;
            let line = |member: &people::Member| {
                let closed = if member.closed { "\tclosed" } else { "" };
                format!("{}\t{}\t{}{closed}", member.email, member.role.name(), member.name)
            };
            Ok(Told::done(all.iter().map(line).collect::<Vec<_>>().join("\n"), json!(all)))
        }
        User::Add { email, place, name, role } => {
            let added = people::add_member(&existing(&place.data)?, &call, &email, &name, role, &password()?);
            noted(&place.data, "user add", json!({ "address": email, "role": role }), added.map_err(words))?;
            done(format!("Added {email} as {}", role.name()), &email)
        }
        User::Role { email, role, place } => {
            let set = people::set_role(&existing(&place.data)?, &call, &email, role).map_err(words);
            noted(&place.data, "user role", json!({ "address": email, "role": role }), set)?;
            done(format!("{email} is {} now", role.name()), &email)
        }
        User::Close { email, place } => {
            let closed = people::set_closed(&existing(&place.data)?, &call, &email, true).map_err(words);
            noted(&place.data, "user close", json!({ "address": email }), closed)?;
            done(
                format!("The account of {email} is closed; all sessions and calendar links of {email} have ended"),
                &email,
            )
        }
        User::Reopen { email, place } => {
            let opened = people::set_closed(&existing(&place.data)?, &call, &email, false).map_err(words);
            noted(&place.data, "user reopen", json!({ "address": email }), opened)?;
            done(format!("The account of {email} is open again"), &email)
        }
        User::Password { email, place } => {
            let set = people::set_password(&existing(&place.data)?, &call, &email, &password()?).map_err(words);
            noted(&place.data, "user password", json!({ "address": email }), set)?;
            done(format!("The password of {email} is set; all sessions of {email} have ended"), &email)
        }
    }
}

/// The first line of standard input, so that no password stands on a command line.
fn password() -> Result<String, String> {
    say(&mut std::io::stderr(), "Password, then Enter and end of input:");
    let mut text = String::new();
    std::io::stdin().take(4_096).read_to_string(&mut text).map_err(words)?;
    Ok(text.lines().next().unwrap_or_default().to_owned())
}

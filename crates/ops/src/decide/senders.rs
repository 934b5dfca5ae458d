//! Who sent a request: what outsiders say of themselves is their word, until somebody of the team confirms it or their address
//! proves itself.

use iron_kite_core::decide::{Filled, Proof, Request};
use iron_kite_core::notice::may_get;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{AccountId, PersonId, ProductId, RequestId};
use iron_kite_core::workspace::Product;
use iron_kite_store::queries::notices::NewMessage;
use iron_kite_store::{Rows, Tx};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};
use utoipa::ToSchema;

use super::forms::by_form;
use crate::call::{App, Call, Saved, fields as fields_of};
use crate::people::{hash_key, new_key};

/// What a sender says of themselves.
pub(super) struct Claim {
    name: Option<String>,
    address: Option<String>,
    account: Option<String>,
}

impl Claim {
    /// What was filled in; nothing where the sender said nothing of themselves.
    pub(super) fn of(filled: &Filled) -> Option<Claim> {
        let Filled { name, address, account, .. } = filled.clone();
        let some = name.is_some() || address.is_some() || account.is_some();
        some.then_some(Claim { name, address, account })
    }

    /// The columns of its request.
    pub(super) fn values(&self) -> Map<String, Value> {
        fields_of(json!({
            "sender_name": self.name, "sender_address": self.address, "sender_account": self.account,
            "proof": Proof::Unproved,
        }))
    }
}

/// Writes to the address that a sender gave, so that it can prove itself. Nothing of what the sender wrote is in it, or anybody
/// could have anything sent to anybody. Gives what the request keeps of it.
pub(super) fn ask_by_letter(
    tx: &mut Tx<'_>,
    claim: &Claim,
    product: ProductId,
    now: Timestamp,
) -> Result<Map<String, Value>, Problem> {
    let Some(address) = &claim.address else { return Ok(Map::new()) };
    let today = tx.rows().asked_of(address, now)?;
    if today > 0 || !may_get(tx.rows().written_to(address, now)?) {
        return Ok(Map::new());
    }
    let product: Product = tx.rows().get(product)?;
    let key = new_key()?;
    tx.add_message(None, &NewMessage {
        to_name: String::new(),
        to_address: address.clone(),
        subject: format!("Was it you who wrote to us about {}?", product.name),
        body: format!(
            "Somebody gave this address when they filled in a form about {}. If it was you, open this link and say so; then \
             we know whom we may answer. If it was not, do nothing: then nobody counts it as yours.\n",
            product.name
        ),
        path: format!("/was-it-you/{key}"),
        made_at: now.as_millisecond(),
    })?;
    Ok(fields_of(json!({ "proof_hash": hash_key(&key) })))
}

/// What somebody confirms.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct ConfirmSender {
    /// The revision of the request that was seen.
    pub rev: i64,
}

/// Confirms that the sender of a request is who they say: from then on what was said counts for that person and their account.
///
/// # Errors
/// Refused where there is nothing to confirm; stale where it was changed since.
pub fn confirm_sender(app: &App, call: &Call, id: RequestId, seen: ConfirmSender) -> Result<Saved, Problem> {
    app.save(call, Right::Edit, move |tx| {
        let request: Request = tx.rows().get(id)?;
        if request.proof.is_none_or(|proof| proof == Proof::Confirmed) {
            return Err(Problem::refused("nothing-to-confirm", "Nothing here waits to be confirmed."));
        }
        let account = match (&request.sender_account, &request.sender_address) {
            (Some(name), _) => Some(name.clone()),
            (None, Some(address)) => tx.rows().account_of_address(address)?,
            (None, None) => None,
        };
        let account = account.map(|name| tx.account_named(&name)).transpose()?;
        let person = tx.person_known(request.sender_name.as_deref(), request.sender_address.as_deref(), account)?;
        tx.update(id.thing(), seen.rev, &fields_of(json!({ "proof": Proof::Confirmed })))?;
        recognise(tx, &request, person, account)?;
        tx.label(format!("confirmed who sent {id}"));
        Ok(Some(id.thing()))
    })
}

/// What a letter's link asks about.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct WasItYou {
    /// What the request is about.
    pub product: String,
    /// Whether it was answered already.
    pub proved: bool,
}

/// What the link of a letter asks about.
///
/// # Errors
/// Where there is none at this address.
pub fn was_it_you(app: &App, key: &str) -> Result<WasItYou, Problem> {
    app.read_open(|rows| {
        let request = asked_by(rows, key)?;
        let product: Product = rows.get(request.product_id)?;
        Ok(WasItYou { product: product.name, proved: request.proof != Some(Proof::Unproved) })
    })
}

fn asked_by(rows: &Rows<'_>, key: &str) -> Result<Request, Problem> {
    let request = rows.request_by_proof(&hash_key(key))?;
    request.ok_or_else(|| Problem::NotFound("question at this address".into()))
}

/// Whoever opened the letter says that it was them: the address is proved, and with it whose it is. The name and the
/// organisation that came with it are their word still. To say it again changes nothing.
///
/// # Errors
/// Where there is none at this address.
pub fn it_was_me(app: &App, call: &Call, key: &str) -> Result<WasItYou, Problem> {
    let asked = was_it_you(app, key)?;
    if !asked.proved {
        let key = key.to_owned();
        app.write(&by_form(call), Right::Listen, move |tx| {
            let request = asked_by(&tx.rows(), &key)?;
            let Some(address) = request.sender_address.clone().filter(|_| request.proof == Some(Proof::Unproved))
            else {
                return Ok(());
            };
            let account = tx.rows().account_of_address(&address)?;
            let account = account.map(|name| tx.account_named(&name)).transpose()?;
            let person = person_at(tx, &address, request.sender_name.as_deref(), account)?;
            tx.set(request.id.thing(), &fields_of(json!({ "proof": Proof::Address })))?;
            recognise(tx, &request, Some(person), account)?;
            tx.label(format!("the sender of {} proved their address", request.id));
            Ok(())
        })?;
    }
    Ok(WasItYou { proved: true, ..asked })
}

/// The person at an address, else a new one: a name proves nothing, so nobody of that name is taken for them.
fn person_at(
    tx: &mut Tx<'_>,
    address: &str,
    name: Option<&str>,
    account: Option<AccountId>,
) -> Result<PersonId, Problem> {
    if let Some(known) = tx.rows().person_at(address)? {
        return Ok(known);
    }
    let name = name.unwrap_or(address);
    let taken = tx.rows().person_of(name, account.map_or(0, |account| account.0))?.is_some();
    let name = if taken { format!("{name} <{address}>") } else { name.to_owned() };
    Ok(tx.add_person(&name, Some(address), account)?)
}

fn recognise(
    tx: &mut Tx<'_>,
    request: &Request,
    person: Option<PersonId>,
    account: Option<AccountId>,
) -> Result<(), Problem> {
    let who = json!({ "person_id": person, "account_id": account });
    Ok(tx.set(request.item_id.thing(), &fields_of(who))?)
}

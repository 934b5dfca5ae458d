//! Checking what the engine told, one excerpt after another, and how far engine and people agree.

use std::collections::BTreeMap;

use iron_kite_core::listen::{
    Agreement, CheckAbout, CheckWay, Excerpt, FeedbackItem, FeedbackKind, Finding, LEARNS_FROM, NO_FINDING, Verdict,
    agreement, learned_from,
};
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ExcerptId, FindingId, ItemId, ProductId, ThingKind};
use iron_kite_store::queries::checking::{MANY, Pair, ToCheck};
use iron_kite_store::{Rows, Tx};
use serde::{Deserialize, Serialize};
use serde_json::json;
use utoipa::{IntoParams, ToSchema};

use super::findings::{FindingToldView, evidence};
use crate::call::{App, Call, Saved, fields as fields_of};
use crate::things::{drop_link, make_link};

/// What somebody wants to check.
#[derive(Debug, Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CheckQuery {
    /// The product.
    pub product: i64,
    /// What of an excerpt.
    pub about: CheckAbout,
    /// Which excerpts.
    pub way: CheckWay,
}

/// What is to be checked next.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CheckQueue {
    /// Some excerpts, the first one first.
    pub excerpts: Vec<CheckView>,
    /// How many the engine is unsure of and nobody has looked at.
    pub unsure: i64,
    /// Whether there are more of them, which are not counted.
    pub more: bool,
    /// Of how many excerpts people said or confirmed the kind.
    pub judged: usize,
    /// From how many of them the engine has learned.
    pub learned: usize,
    /// From how many it learns next.
    pub learns_next: usize,
}

/// An excerpt to be checked.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CheckView {
    /// The excerpt.
    pub id: ExcerptId,
    /// Its item.
    pub item_id: ItemId,
    /// What stands before it in the item.
    pub before: String,
    /// Its words.
    pub words: String,
    /// What stands after it.
    pub after: String,
    /// Who said it.
    pub person: Option<String>,
    /// For which account.
    pub account: Option<String>,
    /// The day it was said.
    pub said_on: Option<String>,
    /// The source's name.
    pub source: Option<String>,
    /// What the engine told, as one of the answers; nothing where it is not to be seen before something is said.
    pub told: Option<String>,
    /// How sure it is; nothing where what it told is not to be seen.
    pub sure: Option<f64>,
    /// The answers that there are.
    pub answers: Vec<CheckAnswer>,
}

/// Something that can be said of an excerpt.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct CheckAnswer {
    /// What is sent.
    pub said: String,
    /// The finding, where it is one.
    pub finding: Option<FindingId>,
    /// In words; nothing for "none of these".
    pub words: Option<String>,
}

/// What a person says of an excerpt.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewCheck {
    /// The excerpt.
    pub excerpt: ExcerptId,
    /// What of it.
    pub about: CheckAbout,
    /// How it came to be checked.
    pub way: CheckWay,
    /// A kind; or a finding's number, or `none`.
    pub said: String,
}

/// How far two judges agree.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AgreementView {
    /// About what.
    pub about: CheckAbout,
    /// How the excerpts came to be checked.
    pub way: CheckWay,
    /// The two people; the engine and all who checked it where there are none.
    pub people: Option<[String; 2]>,
    /// How far.
    #[serde(flatten)]
    pub agreement: Agreement,
    /// What they said differently, the last first.
    pub differs: Vec<Differs>,
}

/// Something that two judges said differently.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Differs {
    /// The excerpt.
    pub excerpt: ExcerptId,
    /// Its words.
    pub words: String,
    /// What the first said.
    pub one: String,
    /// What the second said.
    pub other: String,
}

/// So many are given at once.
const AT_ONCE: usize = 20;
/// So many findings beside the one that the engine chose.
const OTHERS: usize = 3;
/// So many differences are shown.
const DIFFERS: usize = 20;

/// What a person can check next.
///
/// # Errors
/// Where the right is missing.
pub fn to_check(app: &App, call: &Call, query: CheckQuery) -> Result<CheckQueue, Problem> {
    let product = ProductId(query.product);
    let user = call.user_id().unwrap_or_default();
    app.read(call, Right::Read, |rows| {
        let found = rows.to_check(product, query.about, query.way, user, AT_ONCE)?;
        let near = match query.about {
            CheckAbout::Kind => None,
            CheckAbout::Finding => Some(Near::of(rows, product)?),
        };
        let excerpts = found.into_iter().map(|one| view(one, near.as_ref(), query.way)).collect();
        let unsure = rows.count_unsure(product, query.about)?;
        let judged = rows.count_judged(product)?;
        let learned = rows.learned(product)?.map_or(0, |learned| learned.judged);
        let learns_next = (learned_from(judged) * 2).max(LEARNS_FROM);
        Ok(CheckQueue { excerpts, unsure, more: unsure >= MANY, judged, learned, learns_next })
    })
}

/// The findings of a product, and which are near to which.
struct Near {
    titles: BTreeMap<i64, String>,
    related: BTreeMap<i64, Vec<FindingId>>,
}

impl Near {
    fn of(rows: &Rows<'_>, product: ProductId) -> Result<Self, Problem> {
        let all: Vec<Finding> = rows.list("WHERE product_id = ?1", [product.0])?;
        let told = rows.findings_told(product)?;
        Ok(Near {
            titles: all.into_iter().map(|one| (one.id.0, one.title)).collect(),
            related: told.into_iter().map(|(id, told)| (id.0, FindingToldView::from(told).related)).collect(),
        })
    }

    /// The finding that the engine chose, those near to it, and none.
    fn answers(&self, told: &str, in_sight: bool) -> Vec<CheckAnswer> {
        let chosen = told.parse().unwrap_or_default();
        let near = self.related.get(&chosen).map(Vec::as_slice).unwrap_or_default();
        let mut ids: Vec<i64> = std::iter::once(chosen).chain(near.iter().map(|id| id.0).take(OTHERS)).collect();
        if !in_sight {
            // The place must not tell which one the engine chose.
            ids.sort_unstable();
        }
        let answer = |id: i64| {
            let words = self.titles.get(&id)?.clone();
            Some(CheckAnswer { said: id.to_string(), finding: Some(FindingId(id)), words: Some(words) })
        };
        let none = CheckAnswer { said: NO_FINDING.into(), finding: None, words: None };
        ids.into_iter().filter_map(answer).chain([none]).collect()
    }
}

fn view(one: ToCheck, near: Option<&Near>, way: CheckWay) -> CheckView {
    let in_sight = way == CheckWay::Unsure;
    let kind = |kind: &str| CheckAnswer { said: kind.into(), finding: None, words: Some(kind.replace('_', " ")) };
    let answers = match near {
        None => FeedbackKind::names().into_iter().map(kind).collect(),
        Some(near) => near.answers(&one.told, in_sight),
    };
    let [person, account, said_on, source] = one.said_by;
    CheckView {
        id: one.excerpt,
        item_id: one.item,
        before: one.before,
        words: one.words,
        after: one.after,
        person,
        account,
        said_on,
        source,
        told: in_sight.then_some(one.told),
        sure: one.sure.filter(|_| in_sight),
        answers,
    }
}

/// Keeps what a person says of an excerpt, and does it: the engine, later runs and the same words elsewhere keep to it. A
/// second look changes nothing; it shows where two people differ.
///
/// # Errors
/// Where what is said is no answer, or there is nothing to be said of this excerpt.
pub fn check(app: &App, call: &Call, new: NewCheck) -> Result<Saved, Problem> {
    let verdict = Verdict::read(new.about, &new.said)?;
    let user = call.user_id();
    app.save(call, Right::Listen, move |tx| {
        let user = user.ok_or_else(|| Problem::refused("no-person", "Only somebody who is signed in can check."))?;
        let excerpt: Excerpt = tx.rows().get(new.excerpt)?;
        let first = tx.rows().told_before(excerpt.id, new.about)?;
        let told = match (&first, new.about) {
            (Some(told), _) => told.clone(),
            (None, CheckAbout::Kind) if excerpt.chosen == Some(1) => {
                let words =
                    format!("Somebody has said in the meantime what {} is. Change it where it stands.", excerpt.id);
                return Err(Problem::refused("nothing-to-check", words));
            }
            (None, CheckAbout::Kind) => excerpt.kind.name().to_owned(),
            (None, CheckAbout::Finding) => put_there(tx, &excerpt)?.to_string(),
        };
        // Whoever comes second while both look at the same has had a second look.
        let way = if first.is_some() { CheckWay::Second } else { new.way };
        if way != CheckWay::Second {
            carry_out(tx, &excerpt, &told, verdict)?;
        }
        let row = json!({ "excerpt_id": excerpt.id, "about": new.about, "way": way, "told": told,
            "said": verdict.stored(), "user_id": user });
        tx.insert(ThingKind::Checking, &fields_of(row))?;
        tx.label(label(&excerpt, verdict));
        Ok(Some(excerpt.id.thing()))
    })
}

fn label(excerpt: &Excerpt, verdict: Verdict) -> String {
    match verdict {
        Verdict::Kind(kind) => format!("said that {} is {}", excerpt.id, kind.name().replace('_', " ")),
        Verdict::Finding(finding) => format!("said that {} belongs to {finding}", excerpt.id),
        Verdict::NoFinding => format!("said that {} belongs elsewhere", excerpt.id),
    }
}

/// The finding behind which the engine put an excerpt.
fn put_there(tx: &Tx<'_>, excerpt: &Excerpt) -> Result<i64, Problem> {
    let placed = tx.rows().placed_behind(excerpt.id)?;
    let words =
        "Somebody has decided in the meantime where it belongs, or the engine put it nowhere. Go on to the next.";
    placed.map(|finding| finding.0).ok_or_else(|| Problem::refused("nothing-to-check", words))
}

fn carry_out(tx: &mut Tx<'_>, excerpt: &Excerpt, told: &str, verdict: Verdict) -> Result<(), Problem> {
    let chosen = match verdict {
        Verdict::Kind(kind) => {
            tx.set(excerpt.id.thing(), &fields_of(json!({ "kind": kind.name(), "chosen": 1 })))?;
            return Ok(tx.read_anew()?);
        }
        Verdict::Finding(finding) => Some(finding),
        Verdict::NoFinding => None,
    };
    let before = FindingId(told.parse().unwrap_or_default());
    if let Some(chosen) = chosen {
        let item: FeedbackItem = tx.rows().get(excerpt.item_id)?;
        let finding: Finding = tx.rows().get(chosen)?;
        if finding.product_id != item.product_id {
            return Err(Problem::invalid("/said", "Say a finding of the same product."));
        }
        make_link(tx, evidence(excerpt.id, chosen))?;
    }
    if chosen != Some(before) {
        drop_link(tx, evidence(excerpt.id, before))?;
    }
    Ok(())
}

/// How far the engine and people agree, and people with each other: one line for each two judges and each way of choosing.
///
/// # Errors
/// Where the right is missing.
pub fn agreements(app: &App, call: &Call, product: ProductId) -> Result<Vec<AgreementView>, Problem> {
    app.read(call, Right::Read, |rows| {
        type Key = (CheckAbout, CheckWay, Option<[String; 2]>);
        let mut by: BTreeMap<Key, Vec<Pair>> = BTreeMap::new();
        for pair in rows.checked_pairs(product)? {
            let people = pair.first.clone().zip(pair.second.clone()).map(|(one, other)| [one, other]);
            by.entry((pair.about, pair.way, people)).or_default().push(pair);
        }
        let view = |((about, way, people), pairs): (Key, Vec<Pair>)| {
            let agreement = agreement(pairs.iter().map(|pair| (pair.one.as_str(), pair.other.as_str())));
            let differs = pairs.into_iter().filter(|pair| pair.one != pair.other).take(DIFFERS).map(|pair| Differs {
                excerpt: pair.excerpt,
                words: pair.words,
                one: pair.one,
                other: pair.other,
            });
            AgreementView { about, way, people, agreement, differs: differs.collect() }
        };
        Ok(by.into_iter().map(view).collect())
    })
}

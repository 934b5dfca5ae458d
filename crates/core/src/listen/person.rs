//! A person: somebody who said something.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::AccountId;
use crate::things::PersonId;

/// Somebody who said something.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Person {
    /// Its number.
    pub id: PersonId,
    /// Its revision.
    pub rev: i64,
    /// The name as it came in.
    pub name: String,
    /// Where the person belongs.
    pub account_id: Option<AccountId>,
    /// The mail address, where it is known.
    #[serde(default)]
    pub address: Option<String>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "person",
    singular: "person",
    plural: "people",
    letter: Some('P'),
    stage: Stage::Listen,
    list: Some(List { heading: "People", title: "name" }),
    relations: &[Relation::to("account_id", ThingKind::Account).field("account").back("people")],
    searched: Some(Searched::by(2, "name", &[])),
    // Others of the same name are others.
    prose: &[Prose::Values("own")],
    rights: Rights {
        add: Adding::Comes {
            code: "comes-with-feedback",
            words: "People come with what people said. Bring it in, or find it, in Listen.",
        },
        change: Right::Listen,
        remove: None,
    },
    ..Description::BASE
};

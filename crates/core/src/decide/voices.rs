//! Who stands behind a thing: people, accounts and their yearly revenue.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use crate::listen::WhoSaid;
use crate::things::AccountId;

/// How many people and accounts said something, and what they pay a year.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Voices {
    /// Feedback items.
    pub items: usize,
    /// Distinct people. Nameless items do not count as people.
    pub people: usize,
    /// Items that nobody's name is on.
    pub nameless: usize,
    /// Distinct accounts.
    pub accounts: usize,
    /// The yearly revenue of those accounts, each counted once, however many of its people spoke.
    pub revenue: i64,
}

impl Voices {
    /// The part of all yearly revenue that is theirs, 0 – 1; nothing where there is none at all.
    #[must_use]
    #[expect(clippy::cast_precision_loss, reason = "revenue is far below 2^52")]
    pub fn share_of(&self, all: i64) -> Option<f64> {
        (all > 0).then(|| self.revenue as f64 / all as f64)
    }
}

/// Counts who stands behind some words. The same item, person or account counts once, however
/// often it comes. `revenue` holds the yearly revenue of the accounts that have one.
/// O(n log n).
#[must_use]
pub fn voices(said: &[WhoSaid], revenue: &BTreeMap<AccountId, i64>) -> Voices {
    let items: BTreeMap<_, _> = said.iter().map(|who| (who.item_id, who)).collect();
    let people: BTreeSet<_> = items.values().filter_map(|who| who.person_id).collect();
    let accounts: BTreeSet<_> = items.values().filter_map(|who| who.account_id).collect();
    Voices {
        items: items.len(),
        people: people.len(),
        nameless: items.values().filter(|who| who.person_id.is_none()).count(),
        accounts: accounts.len(),
        revenue: accounts.iter().filter_map(|account| revenue.get(account)).sum(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::things::{ItemId, PersonId};

    fn who(item: i64, person: Option<i64>, account: Option<i64>) -> WhoSaid {
        WhoSaid { item_id: ItemId(item), person_id: person.map(PersonId), account_id: account.map(AccountId) }
    }

    #[test]
    fn each_counts_once() {
        let revenue = BTreeMap::from([(AccountId(1), 1_000), (AccountId(2), 500), (AccountId(3), 9_999)]);
        let said = [
            who(1, Some(1), Some(1)),
            who(1, Some(1), Some(1)),
            who(2, Some(1), Some(1)),
            who(3, Some(2), Some(1)),
            who(4, Some(3), Some(2)),
            who(5, None, Some(4)),
            who(6, None, None),
        ];
        let expected = Voices { items: 6, people: 3, nameless: 2, accounts: 3, revenue: 1_500 };
        assert_eq!(voices(&said, &revenue), expected);
        assert_eq!((expected.share_of(6_000), expected.share_of(0)), (Some(0.25), None));
    }
}

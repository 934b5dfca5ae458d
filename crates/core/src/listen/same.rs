//! Who may be the same: people and accounts that came in under names that differ a little. Only proposed; somebody
//! says whether it is so.

use std::collections::BTreeMap;

/// Somebody or some organisation by name.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Named {
    /// The number.
    pub id: i64,
    /// The name.
    pub name: String,
    /// A person's mail address.
    pub address: Option<String>,
    /// A person's account.
    pub account: Option<i64>,
}

/// Two that may be one.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Likely {
    /// The one with the lower number.
    pub one: i64,
    /// The other.
    pub other: i64,
    /// In words, why it may be so.
    pub why: &'static str,
}

/// Somebody with the words of the name.
type Worded<'a> = (&'a Named, Vec<String>);

/// What stands behind an organisation's name and says nothing about which it is.
const LEGAL: [&str; 14] =
    ["ltd", "limited", "inc", "llc", "plc", "gmbh", "ag", "kg", "co", "company", "sa", "bv", "oy", "the"];

/// People that may be the same: one name with and without an account, or a first name that is an initial of the
/// other's. Two different mail addresses are two people. Quadratic only among those of one last name and initial.
#[must_use]
pub fn likely_people(people: &[Named]) -> Vec<Likely> {
    let mut groups: BTreeMap<(String, char), Vec<Worded<'_>>> = BTreeMap::new();
    for person in people {
        let words = name_words(&person.name);
        if let (Some(last), Some(first)) = (words.last().filter(|_| words.len() > 1), words.first()) {
            let initial = first.chars().next().unwrap_or_default();
            groups.entry((last.clone(), initial)).or_default().push((person, words));
        }
    }
    pairs(groups.into_values(), |(a, a_words), (b, b_words)| {
        let two_addresses = a.address.is_some() && b.address.is_some() && a.address != b.address;
        let two_accounts = a.account.is_some() && b.account.is_some() && a.account != b.account;
        if two_addresses || two_accounts {
            return None;
        }
        if a_words == b_words {
            return Some("the same name, once without an account");
        }
        let (short, long) = (a_words.first()?, b_words.first()?);
        let initial = short.chars().count() == 1 || long.chars().count() == 1;
        (initial && a_words.len() == b_words.len()).then_some("the first name of one is the initial of the other’s")
    })
}

/// Accounts that may be the same: one name but for what says only its legal form, or one letter apart.
/// Quadratic only among those that begin with the same three letters.
#[must_use]
pub fn likely_accounts(accounts: &[Named]) -> Vec<Likely> {
    let mut groups: BTreeMap<String, Vec<(&Named, String)>> = BTreeMap::new();
    for account in accounts {
        let words: Vec<String> =
            name_words(&account.name).into_iter().filter(|word| !LEGAL.contains(&word.as_str())).collect();
        let plain = words.join("");
        if !plain.is_empty() {
            groups.entry(plain.chars().take(3).collect()).or_default().push((account, plain));
        }
    }
    pairs(groups.into_values(), |(_, a), (_, b)| {
        if a == b {
            return Some("the same name but for its form");
        }
        (a.chars().count().min(b.chars().count()) >= 6 && one_apart(a, b)).then_some("one letter apart")
    })
}

fn pairs<'a, T>(
    groups: impl Iterator<Item = Vec<(&'a Named, T)>>,
    why: impl Fn(&(&'a Named, T), &(&'a Named, T)) -> Option<&'static str>,
) -> Vec<Likely> {
    let mut found = Vec::new();
    for group in groups {
        for (n, a) in group.iter().enumerate() {
            for b in group.iter().skip(n + 1) {
                if let Some(why) = why(a, b) {
                    found.push(Likely { one: a.0.id.min(b.0.id), other: a.0.id.max(b.0.id), why });
                }
            }
        }
    }
    found.sort_by_key(|likely| (likely.one, likely.other));
    found
}

/// The words of a name in lower case, without marks.
fn name_words(name: &str) -> Vec<String> {
    let words = name.split(|c: char| c.is_whitespace() || matches!(c, '-' | '.' | ',' | '&'));
    let plain = words.map(|word| word.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect());
    plain.filter(|word: &String| !word.is_empty()).collect()
}

/// Whether one letter more, less or other makes the one into the other. Linear.
fn one_apart(a: &str, b: &str) -> bool {
    let (a, b): (Vec<char>, Vec<char>) = (a.chars().collect(), b.chars().collect());
    let same = a.iter().zip(&b).take_while(|(x, y)| x == y).count();
    let rest = |skip_a: usize, skip_b: usize| a.get(same + skip_a..) == b.get(same + skip_b..);
    a != b && (rest(1, 1) || rest(1, 0) || rest(0, 1))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn named(id: i64, name: &str, address: Option<&str>, account: Option<i64>) -> Named {
        Named { id, name: name.into(), address: address.map(str::to_owned), account }
    }

    #[test]
    fn people_are_proposed_and_never_where_two_addresses_speak_against_it() {
        let people = [
            named(1, "Ann Lee", None, Some(1)),
            named(2, "A. Lee", None, Some(1)),
            named(3, "ann LEE", Some("ann@hask.example"), None),
            named(4, "Ann Lee", Some("ann@tern.example"), Some(2)),
            named(5, "Anna Lee", None, Some(1)),
            named(6, "Ann", None, None),
        ];
        let found: Vec<(i64, i64)> = likely_people(&people).iter().map(|likely| (likely.one, likely.other)).collect();
        assert_eq!(found, [(1, 2), (1, 3), (2, 3), (2, 5)]);
    }

    #[test]
    fn accounts_are_proposed_by_their_names() {
        let accounts = [
            named(1, "Hask Stores Ltd.", None, None),
            named(2, "The Hask-Stores", None, None),
            named(3, "Hask Stroes", None, None),
            named(4, "Bellweather Builders", None, None),
            named(5, "Bellwether Builders GmbH", None, None),
            named(6, "Tern", None, None),
            named(7, "Term", None, None),
        ];
        let found: Vec<(i64, i64)> = likely_accounts(&accounts).iter().map(|l| (l.one, l.other)).collect();
        assert_eq!(found, [(1, 2), (4, 5)]);
    }

    proptest! {
        #[test]
        fn one_apart_is_an_edit_distance_of_one(a in "[ab]{0,6}", b in "[ab]{0,6}") {
            let (x, y): (Vec<char>, Vec<char>) = (a.chars().collect(), b.chars().collect());
            let mut row: Vec<usize> = (0..=y.len()).collect();
            for (n, c) in x.iter().enumerate() {
                let mut before = row[0];
                row[0] = n + 1;
                for (m, d) in y.iter().enumerate() {
                    let cost = before + usize::from(c != d);
                    before = row[m + 1];
                    row[m + 1] = cost.min(row[m] + 1).min(before + 1);
                }
            }
            prop_assert_eq!(one_apart(&a, &b), row[y.len()] == 1);
        }
    }
}

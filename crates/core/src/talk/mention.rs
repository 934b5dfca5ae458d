//! Whom a text speaks to. In Markdown a mention is a link to a person or a team of the workspace: `[Tamar](person:2)`,
//! `[Deck crew](team:1)`. So any other program that reads the text shows the name.

use std::collections::BTreeSet;

use crate::things::TeamId;

/// Somebody, or a team.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Mentioned {
    /// A person of the workspace, by number.
    Person(i64),
    /// All who belong to a team.
    Team(TeamId),
}

/// Whom a text mentions, each once. Marks within code are words like others. O(text).
#[must_use]
pub fn mentions(body: &str) -> BTreeSet<Mentioned> {
    let mut found = BTreeSet::new();
    walk(
        body,
        |_, target| {
            found.insert(target);
        },
        |_| {},
    );
    found
}

/// The text with the names of those whom it mentions as they are, whatever was typed: nobody is spoken to under another's name. Who
/// is not known keeps what was typed. O(text).
pub fn with_names(body: &str, mut name: impl FnMut(Mentioned) -> Option<String>) -> String {
    let text = std::cell::RefCell::new(String::with_capacity(body.len()));
    walk(
        body,
        |typed, target| {
            let (kind, id) = match target {
                Mentioned::Person(id) => ("person", id),
                Mentioned::Team(id) => ("team", id.0),
            };
            let real = name(target).map(|name| name.replace(['[', ']', '\n'], " "));
            text.borrow_mut().push_str(&format!("[{}]({kind}:{id})", real.as_deref().unwrap_or(typed)));
        },
        |plain| text.borrow_mut().push_str(plain),
    );
    text.into_inner()
}

/// The text as it is read where nothing is drawn: with only the names of those whom it mentions (`@Tamar`), and without the
/// marks of bold words and of code. O(text).
#[must_use]
pub fn without_marks(body: &str) -> String {
    let text = std::cell::RefCell::new(String::with_capacity(body.len()));
    walk(
        body,
        |name, _| {
            let mut text = text.borrow_mut();
            text.push('@');
            text.push_str(name);
        },
        |plain| text.borrow_mut().push_str(plain),
    );
    text.into_inner().replace("**", "").replace('`', "")
}

/// Goes through a text: mentions with their name, and what stands between them.
fn walk<'a>(body: &'a str, mut mention: impl FnMut(&'a str, Mentioned), mut plain: impl FnMut(&'a str)) {
    let mut rest = body;
    let mut in_code = false;
    while let Some(at) = rest.find(['[', '`']) {
        let (before, from) = rest.split_at(at);
        plain(before);
        if from.starts_with('`') {
            in_code = !in_code;
        } else if !in_code && let Some((name, target, after)) = mark(from) {
            mention(name, target);
            rest = after;
            continue;
        }
        plain(&from[..1]);
        rest = &from[1..];
    }
    plain(rest);
}

/// A mention at the beginning of a text: its name, whom it means, and what follows.
fn mark(text: &str) -> Option<(&str, Mentioned, &str)> {
    let (name, rest) = text.strip_prefix('[')?.split_once("](")?;
    if name.is_empty() || name.contains(['[', ']', '\n']) {
        return None;
    }
    let (target, after) = rest.split_once(')')?;
    let (kind, number) = target.split_once(':')?;
    let number: i64 = number.parse().ok().filter(|number| *number > 0)?;
    let target = match kind {
        "person" => Mentioned::Person(number),
        "team" => Mentioned::Team(TeamId(number)),
        _ => return None,
    };
    Some((name, target, after))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn people_and_teams_are_found_once_each_and_shown_by_name() {
        let body =
            "[Tamar](person:2), ask the [Deck crew](team:1); [Tamar](person:2) knows the [plan](https://a.example).";
        let expected = BTreeSet::from([Mentioned::Person(2), Mentioned::Team(TeamId(1))]);
        assert_eq!(mentions(body), expected);
        assert_eq!(without_marks(body), "@Tamar, ask the @Deck crew; @Tamar knows the [plan](https://a.example).");
    }

    #[test]
    fn a_mention_has_the_name_of_who_is_meant() {
        let body = "[The owner](person:2), see `[x](person:2)` and [Deck](team:1), [Gone](person:9).";
        let named = with_names(body, |one| match one {
            Mentioned::Person(2) => Some("Tamar [Q]".into()),
            Mentioned::Team(_) => Some("Deck crew".into()),
            Mentioned::Person(_) => None,
        });
        assert_eq!(named, "[Tamar  Q ](person:2), see `[x](person:2)` and [Deck crew](team:1), [Gone](person:9).");
        assert_eq!(mentions(&named), mentions(body));
    }

    #[test]
    fn bold_words_and_code_are_read_without_their_marks() {
        assert_eq!(without_marks("**The same** day, as `R2` says: 2 * 3"), "The same day, as R2 says: 2 * 3");
    }

    #[test]
    fn what_only_looks_like_a_mention_is_left_as_it_is() {
        for body in [
            "[Tamar](person:)",
            "[Tamar](person:-2)",
            "[](person:2)",
            "[Tamar] (person:2)",
            "[Tamar](people:2)",
            "[a [Tamar](person:x)",
            "write `[Tamar](person:2)` for it",
            "[Tamar](person:2",
        ] {
            assert_eq!(mentions(body), BTreeSet::new(), "{body}");
            assert_eq!(without_marks(body), body.replace('`', ""));
        }
        // A bracket before it does not hide a mention.
        assert_eq!(mentions("[see [Tamar](person:2)]").len(), 1);
    }
}

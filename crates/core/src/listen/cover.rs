//! What tells who somebody is, in the words themselves: mail addresses, telephone, card and account numbers. Covered
//! with as many marks as letters, so that every place in the text stays where it is.

use std::ops::Range;

/// What a covered letter looks like.
pub const MARK: char = '•';
/// Digits of a telephone number.
const TELEPHONE: Range<usize> = 7..16;
/// Digits of a card's number.
const CARD: Range<usize> = 13..20;
/// Letters and digits of an IBAN (ISO 13616).
const IBAN: Range<usize> = 15..35;

/// The text with mail addresses, telephone numbers (those that begin with + or 0), card numbers (that pass Luhn's check,
/// ISO/IEC 7812) and IBANs (that pass their check, ISO 7064) covered, and how many there were. Days and prices stay.
/// Linear.
#[must_use]
pub fn cover(text: &str) -> (String, usize) {
    let letters: Vec<char> = text.chars().collect();
    let mut covered = letters.clone();
    let mut count = 0;
    let mut at = 0;
    while at < letters.len() {
        match address_at(&letters, at).or_else(|| iban_at(&letters, at)).or_else(|| number_at(&letters, at)) {
            Some(end) => {
                for letter in covered.iter_mut().take(end).skip(at).filter(|letter| !letter.is_whitespace()) {
                    *letter = MARK;
                }
                count += 1;
                at = end;
            }
            None => at += 1,
        }
    }
    (covered.into_iter().collect(), count)
}

/// A name or an address in a text, in whatever case, where it stands as words of its own: covered. Linear.
#[must_use]
pub fn cover_words(text: &str, words: &str) -> String {
    let lower = |c: char| c.to_lowercase().next().unwrap_or(c);
    let letters: Vec<char> = text.chars().collect();
    let wanted: Vec<char> = words.chars().map(lower).collect();
    let mut covered = letters.clone();
    let mut at = 0;
    while !wanted.is_empty() && at + wanted.len() <= letters.len() {
        let end = at + wanted.len();
        let fits = letters.iter().skip(at).zip(&wanted).all(|(a, b)| lower(*a) == *b);
        if fits && begins_word(&letters, at) && !letters.get(end).copied().is_some_and(char::is_alphanumeric) {
            covered.iter_mut().take(end).skip(at).for_each(|letter| *letter = MARK);
            at = end;
        } else {
            at += 1;
        }
    }
    covered.into_iter().collect()
}

fn begins_word(letters: &[char], at: usize) -> bool {
    at == 0 || !letters.get(at - 1).copied().is_some_and(char::is_alphanumeric)
}

/// Where a mail address ends that begins here.
fn address_at(letters: &[char], at: usize) -> Option<usize> {
    let local = |c: &char| c.is_alphanumeric() || matches!(c, '.' | '_' | '%' | '+' | '-');
    if at > 0 && letters.get(at - 1).is_some_and(local) {
        return None;
    }
    let name = letters.iter().skip(at).take_while(|c| local(c)).count();
    if name == 0 || letters.get(at + name) != Some(&'@') {
        return None;
    }
    let from = at + name + 1;
    let mut domain = letters.iter().skip(from).take_while(|c| c.is_alphanumeric() || matches!(c, '.' | '-')).count();
    while domain > 0 && matches!(letters.get(from + domain - 1), Some('.' | '-')) {
        domain -= 1;
    }
    letters.iter().skip(from).take(domain).any(|c| *c == '.').then_some(from + domain)
}

fn iban_at(letters: &[char], at: usize) -> Option<usize> {
    let head = letters.get(at..at + 4)?;
    let shaped = head.iter().take(2).all(char::is_ascii_uppercase) && head.iter().skip(2).all(char::is_ascii_digit);
    if !shaped || !begins_word(letters, at) {
        return None;
    }
    let mut signs = Vec::new();
    let mut best = None;
    for (n, c) in letters.iter().enumerate().skip(at) {
        match c {
            ' ' => continue,
            c if c.is_ascii_uppercase() || c.is_ascii_digit() => signs.push(*c),
            _ => break,
        }
        if signs.len() >= IBAN.end {
            break;
        }
        let ends = !letters.get(n + 1).is_some_and(|c| c.is_alphanumeric());
        if IBAN.contains(&signs.len()) && ends && iban_holds(&signs) {
            best = Some(n + 1);
        }
    }
    best
}

/// The number with its first four signs behind, letters as 10 … 35, leaves 1 when divided by 97.
fn iban_holds(signs: &[char]) -> bool {
    let turned = signs.iter().skip(4).chain(signs.iter().take(4));
    let rest = turned.fold(0_u32, |rest, sign| {
        let value = sign.to_digit(36).unwrap_or(0);
        if value > 9 { (rest * 100 + value) % 97 } else { (rest * 10 + value) % 97 }
    });
    rest == 1
}

/// Where a telephone or card number ends that begins here.
fn number_at(letters: &[char], at: usize) -> Option<usize> {
    let first = *letters.get(at)?;
    let starts = first.is_ascii_digit() || first == '+' || first == '(';
    let before = |c: &char| c.is_alphanumeric() || matches!(c, '.' | ',' | '-' | '/' | ':' | '+' | '€' | '$' | '£');
    if !starts || (at > 0 && letters.get(at - 1).is_some_and(before)) {
        return None;
    }
    let (mut digits, mut parts, mut end) = (Vec::new(), vec![0_usize], at);
    let mut gap = 0;
    for (n, c) in letters.iter().enumerate().skip(at) {
        match c {
            c if c.is_ascii_digit() => {
                if gap > 0 && parts.last() != Some(&0) {
                    parts.push(0);
                }
                gap = 0;
                digits.extend(c.to_digit(10));
                if let Some(part) = parts.last_mut() {
                    *part += 1;
                }
                end = n + 1;
            }
            '+' if n == at => {}
            ' ' | '-' | '.' | '/' | '(' | ')' => gap += 1,
            _ => break,
        }
        if gap > 2 || digits.len() >= CARD.end {
            break;
        }
    }
    if letters.get(end).copied().is_some_and(char::is_alphanumeric) {
        return None;
    }
    if CARD.contains(&digits.len()) && luhn_holds(&digits) {
        return Some(end);
    }
    // 04.05.2026 and 2026-05-04 are days.
    let is_day = parts.len() == 3 && digits.len() <= 8 && parts.iter().all(|part| matches!(part, 1 | 2 | 4));
    let dials = first == '+' || first == '(' || digits.first() == Some(&0);
    (dials && TELEPHONE.contains(&digits.len()) && !is_day).then_some(end)
}

fn luhn_holds(digits: &[u32]) -> bool {
    let doubled = |(n, digit): (usize, &u32)| match n % 2 {
        1 if digit * 2 > 9 => digit * 2 - 9,
        1 => digit * 2,
        _ => *digit,
    };
    digits.iter().rev().enumerate().map(doubled).sum::<u32>() % 10 == 0 && digits.iter().any(|digit| *digit != 0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn what_tells_who_somebody_is_is_covered() {
        // The card and the IBAN are those that the standards give as examples.
        for (text, plain) in [
            ("Write to ann.lee+pier@hask.example, please.", "Write to •••••••••••••••••••••••••, please."),
            ("Ring +44 20 7946 0958 or (020) 7946-0958!", "Ring ••• •• •••• •••• or ••••• •••••••••!"),
            ("Card 4111 1111 1111 1111 was charged", "Card •••• •••• •••• •••• was charged"),
            ("to GB82 WEST 1234 5698 7654 32 it went", "to •••• •••• •••• •••• •••• •• it went"),
            ("ich@fähre.example und 0431/123456", "••••••••••••••••• und •••••••••••"),
        ] {
            assert_eq!(cover(text).0, plain, "{text}");
            assert!(cover(text).1 > 0);
        }
    }

    #[test]
    fn what_is_no_such_number_stays() {
        for text in [
            "On 04.05.2026 the 17:20 was off, and on 2026-05-04, too.",
            "Ticket 4711-2026 cost 1,234.50 € for 12 people",
            "Order 4111111111111112 is no card",
            "GB82 WEST 1234 5698 7654 33 is no account",
            "me@home and @crew",
            "Boats 1 2 3 4 5 6 7 8",
        ] {
            assert_eq!(cover(text), (text.to_owned(), 0), "{text}");
        }
    }

    #[test]
    fn names_are_covered_where_they_stand_alone() {
        assert_eq!(cover_words("Bo's boat: BO, bo. Bobo", "Bo"), "••'s boat: ••, ••. Bobo");
        assert_eq!(cover_words("zoë brandt said", "Zoë Brandt"), "•••••••••• said");
    }

    proptest! {
        #[test]
        fn every_letter_keeps_its_place(text in "[ -~äß@+0-9]{0,60}") {
            let (covered, _) = cover(&text);
            prop_assert_eq!(covered.chars().count(), text.chars().count());
            prop_assert!(covered.chars().zip(text.chars()).all(|(a, b)| a == b || a == MARK));
            prop_assert_eq!(cover(&covered).1, 0);
        }
    }
}

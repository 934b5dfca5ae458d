//! What a password has to be, and its hash.

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::{PasswordHasher, PasswordVerifier};
use iron_kite_core::problem::Problem;
use sha2::{Digest, Sha256};

/// The shortest password, in characters.
const SHORTEST: usize = 12;
/// The longest, so that hashing stays cheap.
pub(crate) const LONGEST: usize = 200;

/// Passwords that everybody knows who guesses, in lower case: the first eight bytes of the SHA-256 of each, in their order
/// (docs/THIRD-PARTY.md says where they are from).
const KNOWN: &[u8] = include_bytes!("known_passwords.bin");
const EACH: usize = 8;

/// A hash of no password that anybody has.
pub(crate) const NOBODY: &str =
    "$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";

/// The hash of a new password of somebody, by their address.
///
/// # Errors
/// Where it is too short or too long, or easily guessed.
pub(crate) fn hash(password: &str, email: &str) -> Result<String, Problem> {
    let length = password.chars().count();
    if !(SHORTEST..=LONGEST).contains(&length) {
        return Err(Problem::invalid("/password", format!("Take a password of {SHORTEST} to {LONGEST} characters.")));
    }
    if is_guessed(password, email) {
        let words = "This password is one of the first that somebody would guess. Take another, such as four words that do not belong together.";
        return Err(Problem::invalid("/password", words));
    }
    let hash = Argon2::default().hash_password(password.as_bytes());
    Ok(hash.map_err(|fault| Problem::Internal(fault.to_string()))?.to_string())
}

/// Whether a password belongs to a hash.
pub(crate) fn verify(password: &str, hash: &str) -> Result<bool, Problem> {
    let hash = PasswordHash::new(hash).map_err(|fault| Problem::Internal(fault.to_string()))?;
    Ok(Argon2::default().verify_password(password.as_bytes(), &hash).is_ok())
}

/// Known ones, also with digits and signs around them or several times over, few letters again and again, and the own address.
fn is_guessed(password: &str, email: &str) -> bool {
    let lower = password.to_lowercase();
    let core = lower.trim_matches(|c: char| !c.is_alphabetic());
    let own = email.trim().to_lowercase();
    let name = own.split('@').next().unwrap_or_default();
    let different: std::collections::BTreeSet<char> = lower.chars().collect();
    different.len() < 5
        || [lower.as_str(), core, once(&lower), once(core)]
            .iter()
            .any(|one| is_known(one) || *one == own || *one == name)
}

/// What is repeated, where the whole is something several times over.
fn once(text: &str) -> &str {
    let whole = |length: &usize| {
        text.len().is_multiple_of(*length)
            && text.is_char_boundary(*length)
            && text.as_bytes().chunks(*length).all(|part| part == &text.as_bytes()[..*length])
    };
    (1..=text.len() / 2).find(whole).map_or(text, |length| &text[..length])
}

fn is_known(password: &str) -> bool {
    let digest = Sha256::digest(password.as_bytes());
    let (mut from, mut to) = (0, KNOWN.len() / EACH);
    while from < to {
        let middle = from + (to - from) / 2;
        match KNOWN[middle * EACH..][..EACH].cmp(&digest[..EACH]) {
            std::cmp::Ordering::Equal => return true,
            std::cmp::Ordering::Less => from = middle + 1,
            std::cmp::Ordering::Greater => to = middle,
        }
    }
    false
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_guessed_first_is_refused_and_the_rest_is_not() {
        for guessed in [
            "password1234",
            "Password!!!!",
            "123456789012",
            "qwertyqwerty",
            "1234iloveyou",
            "aaaaaaaaaaaa",
            "Wren@Sea.example",
            "wrenwrenwren",
        ] {
            assert!(is_guessed(guessed, "wren@sea.example"), "{guessed}");
        }
        for fine in ["ferry-at-noon", "tall grey heron pier", "Zw9-kelp-oar-lamp"] {
            assert!(!is_guessed(fine, "wren@sea.example"), "{fine}");
        }
    }

    #[test]
    fn a_hash_belongs_to_its_password_only() {
        let hash = hash("ferry-at-noon", "wren@sea.example").unwrap();
        assert!(verify("ferry-at-noon", &hash).unwrap() && !verify("ferry-at-dawn", &hash).unwrap());
        assert!(!verify("", NOBODY).unwrap());
    }
}

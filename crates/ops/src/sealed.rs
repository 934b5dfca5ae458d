//! Keys of places outside are kept sealed, with a key of our own in a file beside the database: whoever comes by the database alone,
//! or by a backup of it, has none of them. XChaCha20-Poly1305 with a nonce by chance (draft-irtf-cfrg-xchacha).

use std::fs::{self, OpenOptions};
use std::io::Write;
use std::os::unix::fs::OpenOptionsExt;
use std::path::Path;

use chacha20poly1305::aead::{Aead, KeyInit};
use chacha20poly1305::{Key, XChaCha20Poly1305, XNonce};
use iron_kite_core::problem::Problem;

use crate::people::hex;

/// The file in the workspace's folder.
const FILE: &str = "iron-kite.key";
const LENGTH: usize = 32;
const NONCE: usize = 24;
/// What tells a sealed key from one of before there were any.
const SEALED: &str = "sealed:";

/// Seals keys and opens them again.
pub(crate) struct Seal(XChaCha20Poly1305);

impl Seal {
    /// With the key of a workspace's folder, which is made where it is missing.
    ///
    /// # Errors
    /// Where the file cannot be read or made, or holds something else.
    pub(crate) fn of(dir: &Path) -> Result<Self, iron_kite_store::Error> {
        let path = dir.join(FILE);
        let fault = |fault| iron_kite_store::Error::File(path.clone(), fault);
        let key = match fs::read(&path) {
            Ok(key) => key,
            Err(found) if found.kind() == std::io::ErrorKind::NotFound => {
                let mut key = vec![0; LENGTH];
                getrandom::fill(&mut key).map_err(|found| fault(std::io::Error::other(found.to_string())))?;
                let file = OpenOptions::new().write(true).create_new(true).mode(0o600).open(&path);
                file.and_then(|mut file| file.write_all(&key).and_then(|()| file.sync_all())).map_err(fault)?;
                key
            }
            Err(found) => return Err(fault(found)),
        };
        let fits: Result<[u8; LENGTH], _> = key.try_into();
        let key =
            fits.map_err(|_| fault(std::io::Error::other("it is no key of ours; put back the one that belongs here")))?;
        Ok(Seal(XChaCha20Poly1305::new(&Key::from(key))))
    }

    /// Seals a key.
    ///
    /// # Errors
    /// Where the system gives no chance.
    pub(crate) fn seal(&self, key: &str) -> Result<String, Problem> {
        let internal = |words: String| Problem::Internal(words);
        let mut nonce = [0; NONCE];
        getrandom::fill(&mut nonce).map_err(|fault| internal(fault.to_string()))?;
        let sealed =
            self.0.encrypt(&XNonce::from(nonce), key.as_bytes()).map_err(|fault| internal(fault.to_string()))?;
        Ok(format!("{SEALED}{}{}", hex(&nonce), hex(&sealed)))
    }

    /// Opens a key that was sealed here; one of before there were any is as it is. Nothing where it was sealed with another key.
    pub(crate) fn open(&self, sealed: &str) -> Option<String> {
        let Some(digits) = sealed.strip_prefix(SEALED) else { return Some(sealed.to_owned()) };
        let two = |at: usize| u8::from_str_radix(digits.get(at..at + 2)?, 16).ok();
        let bytes: Vec<u8> = (0..digits.len()).step_by(2).map(two).collect::<Option<_>>()?;
        let (nonce, sealed) = bytes.split_at_checked(NONCE)?;
        let nonce: [u8; NONCE] = nonce.try_into().ok()?;
        String::from_utf8(self.0.decrypt(&XNonce::from(nonce), sealed).ok()?).ok()
    }

    /// Whether a key is sealed.
    pub(crate) fn is_sealed(key: &str) -> bool {
        key.starts_with(SEALED)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_sealed_is_opened_with_the_same_key_only() {
        let (one, other) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
        let seal = Seal::of(one.path()).unwrap();
        let sealed = seal.seal("open-sesame").unwrap();
        assert!(!sealed.contains("sesame") && Seal::is_sealed(&sealed));
        assert_ne!(sealed, seal.seal("open-sesame").unwrap(), "the same twice tells nothing");
        assert_eq!(Seal::of(one.path()).unwrap().open(&sealed).as_deref(), Some("open-sesame"));
        assert_eq!(Seal::of(other.path()).unwrap().open(&sealed), None);
        assert_eq!(seal.open("of-before").as_deref(), Some("of-before"));
        assert_eq!(seal.open("sealed:zz"), None);
        std::fs::write(other.path().join(FILE), "short").unwrap();
        assert!(Seal::of(other.path()).is_err());
    }
}

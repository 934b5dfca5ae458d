//! How a text is said, as numbers: what a model that was tuned for it tells beside what the text means.

/// A tone has so many numbers.
pub const TONES: usize = 4;

/// How a text is said: [`TONES`] numbers, 0 to 1, in steps of 1/255. Which is which is known to those who ask
/// (`listen/sentiment.rs`). All of them are 0 where nothing told it.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Tone([u8; TONES]);

impl Tone {
    /// From the numbers of a model; what lies outside of 0 and 1 is cut, and what is missing is 0.
    #[must_use]
    pub fn told(numbers: &[f32]) -> Self {
        let mut bytes = [0; TONES];
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "within 0 and 255")]
        bytes.iter_mut().zip(numbers).for_each(|(byte, x)| *byte = (x.clamp(0.0, 1.0) * 255.0).round() as u8);
        Tone(bytes)
    }

    /// Whether anything told it.
    #[must_use]
    pub fn is_known(self) -> bool {
        self.0.iter().any(|byte| *byte > 0)
    }

    /// Its numbers, 0 to 1.
    #[must_use]
    pub fn numbers(self) -> [f32; TONES] {
        self.0.map(|byte| f32::from(byte) / 255.0)
    }

    /// As it is kept.
    #[must_use]
    pub fn to_bytes(self) -> [u8; TONES] {
        self.0
    }

    /// From what was kept; nothing where it is not of the right length.
    #[must_use]
    pub fn from_bytes(bytes: &[u8]) -> Option<Self> {
        bytes.try_into().ok().map(Tone)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_kept_is_what_was_told() {
        let tone = Tone::told(&[0.25, 1.5, -1.0, f32::NAN]);
        assert!(tone.is_known() && !Tone::default().is_known());
        assert_eq!(tone.numbers()[1..], [1.0, 0.0, 0.0]);
        assert!((tone.numbers()[0] - 0.25).abs() < 1.0 / 255.0);
        assert_eq!(Tone::from_bytes(&tone.to_bytes()), Some(tone));
        assert_eq!(Tone::told(&tone.numbers()), tone, "nothing drifts");
        assert_eq!(Tone::from_bytes(&[1, 2]), None);
    }
}

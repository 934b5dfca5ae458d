//! What a text means, as a vector: texts that mean alike have vectors that point alike.

use std::borrow::Borrow;
use std::fmt;

use super::Tone;

/// A vector has so many numbers.
pub const DIMENSIONS: usize = 384;

/// The meaning of a text: [`DIMENSIONS`] numbers, of length 1 (or 0 where there was nothing to understand).
#[derive(Debug, Clone, PartialEq)]
pub struct Vector(Vec<f32>);

impl Vector {
    /// A vector that points where these numbers point. Missing numbers are 0, and those beyond [`DIMENSIONS`] are left.
    #[must_use]
    pub fn pointing(mut numbers: Vec<f32>) -> Self {
        numbers.resize(DIMENSIONS, 0.0);
        let length = numbers.iter().map(|x| x * x).sum::<f32>().sqrt();
        if length > 0.0 && length.is_finite() {
            numbers.iter_mut().for_each(|x| *x /= length);
        } else {
            numbers.fill(0.0);
        }
        Vector(numbers)
    }

    /// Its numbers.
    #[must_use]
    pub fn numbers(&self) -> &[f32] {
        &self.0
    }

    /// How alike two meanings are: the cosine, −1 to +1.
    #[must_use]
    pub fn alike(&self, other: &Vector) -> f32 {
        dot(&self.0, &other.0)
    }

    /// As it is kept: one byte for a number, all on one scale, since a vector has length 1. What comes back points the
    /// same way within a cosine of 0.9995.
    #[must_use]
    pub fn to_bytes(&self) -> Vec<u8> {
        let most = self.0.iter().fold(0.0_f32, |most, x| most.max(x.abs()));
        let scale = if most > 0.0 { 127.0 / most } else { 0.0 };
        #[expect(clippy::cast_possible_truncation, reason = "within −127 and 127")]
        self.0.iter().map(|x| (x * scale).round() as i8).map(i8::cast_unsigned).collect()
    }

    /// From what was kept; nothing where it is not of the right length.
    #[must_use]
    pub fn from_bytes(bytes: &[u8]) -> Option<Self> {
        (bytes.len() == DIMENSIONS)
            .then(|| Vector::pointing(bytes.iter().map(|byte| f32::from(byte.cast_signed())).collect()))
    }
}

/// The sum of the products of two rows of numbers, as far as the shorter goes.
#[must_use]
pub fn dot(one: &[f32], other: &[f32]) -> f32 {
    // Eight sums side by side, so that the machine can do eight at a time.
    let mut sums = [0.0_f32; 8];
    let (ones, others) = (one.chunks_exact(8), other.chunks_exact(8));
    let rest: f32 = ones.remainder().iter().zip(others.remainder()).map(|(a, b)| a * b).sum();
    for (a, b) in ones.zip(others) {
        for (sum, (a, b)) in sums.iter_mut().zip(a.iter().zip(b)) {
            *sum += a * b;
        }
    }
    sums.iter().sum::<f32>() + rest
}

/// The mean of some meanings, pointing where they point together; nothing where there are none.
pub fn middle<V: Borrow<Vector>>(vectors: impl IntoIterator<Item = V>) -> Option<Vector> {
    let mut sum: Option<Vec<f32>> = None;
    for vector in vectors {
        let sum = sum.get_or_insert_with(|| vec![0.0; DIMENSIONS]);
        sum.iter_mut().zip(&vector.borrow().0).for_each(|(sum, x)| *sum += x);
    }
    sum.map(Vector::pointing)
}

/// What is understood of a text: what it means, and how it is said.
#[derive(Debug, Clone, PartialEq)]
pub struct Heard {
    /// What it means.
    pub meaning: Vector,
    /// How it is said, as far as anything told it.
    pub tone: Tone,
}

impl From<Vector> for Heard {
    fn from(meaning: Vector) -> Self {
        Heard { meaning, tone: Tone::default() }
    }
}

/// What can tell the meaning of texts. Outside of the core there is one that does it by a model, and in tests others.
pub trait Meaning: Send + Sync {
    /// The meanings of the texts, one each, in their order. The same text always gets the same vector, whatever texts
    /// stand beside it.
    ///
    /// # Errors
    /// Where the model cannot be used, which is a fault of the program.
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning>;

    /// What is understood of the texts, one each, in their order: their meanings as [`Meaning::vectors`] gives them, and how they
    /// are said. Where nothing tells that, it is not known.
    ///
    /// # Errors
    /// Where the model cannot be used, which is a fault of the program.
    fn heard(&self, texts: &[&str]) -> Result<Vec<Heard>, NoMeaning> {
        Ok(self.vectors(texts)?.into_iter().map(Heard::from).collect())
    }

    /// The meanings of the texts seen more closely, for telling apart what people need. It takes several times as long, and
    /// these vectors are not to be compared with those of [`Meaning::vectors`]. Where nothing looks more closely, they are the
    /// same.
    ///
    /// # Errors
    /// Where the model cannot be used, which is a fault of the program.
    fn closer(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        self.vectors(texts)
    }
}

/// The meaning of words could not be told.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NoMeaning(pub String);

impl fmt::Display for NoMeaning {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "the meaning of words could not be told: {}", self.0)
    }
}

impl std::error::Error for NoMeaning {}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn what_is_kept_points_the_same_way(numbers in prop::collection::vec(-1.0_f32..1.0, DIMENSIONS)) {
            let vector = Vector::pointing(numbers);
            let back = Vector::from_bytes(&vector.to_bytes()).unwrap();
            prop_assert!(vector.alike(&back) > 0.9995);
            // Kept once or twice is the same: nothing drifts.
            prop_assert_eq!(back.to_bytes(), vector.to_bytes());
        }

        #[test]
        fn alike_is_the_sum_of_products(one in prop::collection::vec(-1.0_f32..1.0, 0..40), other in prop::collection::vec(-1.0_f32..1.0, 0..40)) {
            let shorter = one.len().min(other.len());
            let slow: f32 = (0..shorter).map(|at| one[at] * other[at]).sum();
            prop_assert!((dot(&one[..shorter], &other[..shorter]) - slow).abs() < 1e-4);
        }
    }

    #[test]
    fn nothing_points_nowhere() {
        let nothing = Vector::pointing(vec![]);
        assert_eq!(nothing.alike(&nothing).to_bits(), 0.0_f32.to_bits());
        assert_eq!(Vector::from_bytes(&nothing.to_bytes()), Some(nothing));
        assert_eq!(Vector::from_bytes(&[1, 2]), None);
        assert_eq!(middle::<Vector>([]), None);
    }

    #[test]
    fn the_middle_lies_between() {
        let (north, east) = (Vector::pointing(vec![1.0]), Vector::pointing(vec![0.0, 1.0]));
        let between = middle([&north, &east]).unwrap();
        assert!((between.alike(&north) - 0.5_f32.sqrt()).abs() < 1e-6);
    }
}

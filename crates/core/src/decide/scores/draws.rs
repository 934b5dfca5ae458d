//! Numbers that look like chance and are the same whenever they are drawn anew.
//!
//! Each stream follows from a seed and from what it is for, never from an order: an idea that is renamed, or stands
//! elsewhere in a list, gets the same draws.

/// A stream of numbers: `SplitMix64` (G. L. Steele, D. Lea and C. H. Flood, 2014).
#[derive(Debug, Clone)]
pub struct Stream(u64);

/// The odd part of the golden ratio, by which a stream steps.
const STEP: u64 = 0x9E37_79B9_7F4A_7C15;

impl Stream {
    /// The stream of a seed for something that these numbers name.
    #[must_use]
    pub fn of(seed: u64, names: &[u64]) -> Self {
        names.iter().fold(Stream(seed), |stream, name| Stream(mixed(stream.0.wrapping_add(STEP) ^ mixed(*name))))
    }

    /// The next number: all 64 bits.
    pub fn bits(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(STEP);
        mixed(self.0)
    }

    /// The next number, 0 < u < 1, to 52 bits.
    pub fn unit(&mut self) -> f64 {
        unit(self.bits())
    }

    /// A place below `count`, which is at most 2³².
    pub fn below(&mut self, count: usize) -> usize {
        let count = u64::try_from(count).unwrap_or(1);
        usize::try_from(((self.bits() >> 32) * count) >> 32).unwrap_or(0)
    }
}

/// The upper 52 bits as a number between nought and one, neither of which it is.
pub(super) fn unit(bits: u64) -> f64 {
    // 52 bits and a half step fit a 64-bit float without loss.
    #[allow(clippy::cast_precision_loss, reason = "below 2^53")]
    let whole = (bits >> 12) as f64;
    (whole + 0.5) / 4_503_599_627_370_496.0
}

fn mixed(mut z: u64) -> u64 {
    z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    z ^ (z >> 31)
}

/// A number for a name (FNV-1a, 64 bits).
#[must_use]
pub fn named(name: &str) -> u64 {
    name.bytes().fold(0xCBF2_9CE4_8422_2325, |hash, byte| (hash ^ u64::from(byte)).wrapping_mul(0x0000_0100_0000_01B3))
}

/// One number from each of `count` equal parts of 0 – 1, in an order of chance (a Latin hypercube of one dimension; M. D.
/// McKay et al. 1979).
#[must_use]
pub fn one_of_each_part(stream: &mut Stream, count: usize) -> Vec<f64> {
    #[allow(clippy::cast_precision_loss, reason = "counts of draws")]
    let (size, place) = (count as f64, |n: usize| n as f64);
    let mut all: Vec<f64> = (0..count).map(|n| (place(n) + stream.unit()) / size).collect();
    for at in (1..count).rev() {
        all.swap(at, stream.below(at + 1));
    }
    all
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_is_the_published_stream() {
        // The first outputs for the seed 1234567, as published with the reference implementation in C.
        let mut stream = Stream::of(1_234_567, &[]);
        let first = [6_457_827_717_110_365_317, 3_203_168_211_198_807_973, 9_817_491_932_198_370_423];
        assert_eq!([stream.bits(), stream.bits(), stream.bits()], first);
    }

    #[test]
    fn streams_of_other_names_are_others_and_the_same_name_is_the_same() {
        let first = |names: &[u64]| Stream::of(7, names).bits();
        assert_eq!(first(&[1, named("reach")]), first(&[1, named("reach")]));
        assert_ne!(first(&[1, named("reach")]), first(&[2, named("reach")]));
        assert_ne!(first(&[1, 2]), first(&[2, 1]));
    }

    #[test]
    fn each_part_is_met_once() {
        let mut all = one_of_each_part(&mut Stream::of(7, &[]), 1_000);
        assert!(all.windows(2).any(|pair| pair[0] > pair[1]));
        all.sort_by(f64::total_cmp);
        for (part, value) in (0u32..).zip(&all) {
            assert!((f64::from(part)..f64::from(part + 1)).contains(&(value * 1_000.0)), "{value}");
        }
    }

    #[test]
    fn the_mean_and_the_spread_are_those_of_an_even_chance() {
        let mut stream = Stream::of(3, &[]);
        let all: Vec<f64> = (0..100_000).map(|_| stream.unit()).collect();
        let mean = all.iter().sum::<f64>() / 100_000.0;
        let square = all.iter().map(|u| (u - 0.5).powi(2)).sum::<f64>() / 100_000.0;
        // Within four standard errors of 1/2 and 1/12.
        assert!((mean - 0.5).abs() < 4.0 * (1.0f64 / 12.0 / 100_000.0).sqrt());
        assert!((square - 1.0 / 12.0).abs() < 4.0 * (1.0f64 / 180.0 / 100_000.0).sqrt());
        let counts = (0..60_000).fold([0u32; 6], |mut counts, _| {
            counts[stream.below(6)] += 1;
            counts
        });
        assert!(counts.iter().all(|count| (9_600..10_400).contains(count)), "{counts:?}");
    }
}

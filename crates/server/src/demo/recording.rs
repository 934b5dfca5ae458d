//! A stand-in for the recording of a conversation: a tone for whoever speaks, for as long as they speak, and silence between.

use std::collections::BTreeMap;

use iron_kite_core::listen::Turn;

/// Samples a second; the least that browsers play.
const RATE: u32 = 3_000;
/// The tone of the first speaker, in hertz; each further one speaks a third higher.
const FIRST: f64 = 110.0;
const THIRD: f64 = 1.25;

/// The turns as a WAV file of one channel with 8 bits a sample.
#[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a sample lies between 0 and 255")]
#[must_use]
pub(crate) fn tones(turns: &[Turn]) -> Vec<u8> {
    let end = turns.iter().filter_map(|turn| turn.to_ms).max().unwrap_or_default();
    let at = |ms: u64| usize::try_from(ms * u64::from(RATE) / 1_000).unwrap_or_default();
    let mut samples = vec![128_u8; at(end)];
    let mut pitches: BTreeMap<Option<&str>, f64> = BTreeMap::new();
    for turn in turns {
        let (Some(from), Some(to)) = (turn.from_ms, turn.to_ms) else { continue };
        let next = FIRST * THIRD.powi(i32::try_from(pitches.len()).unwrap_or_default());
        let pitch = *pitches.entry(turn.speaker.as_deref()).or_insert(next);
        for (step, sample) in (0_u32..).zip(&mut samples[at(from)..at(to)]) {
            let phase = f64::from(step) * pitch / f64::from(RATE) * std::f64::consts::TAU;
            *sample = (128.0 + 40.0 * phase.sin()) as u8;
        }
    }
    wav(&samples)
}

/// The head of RIFF and WAVE in front of samples (PCM, one byte each).
fn wav(samples: &[u8]) -> Vec<u8> {
    let length = u32::try_from(samples.len()).unwrap_or(u32::MAX);
    let mut file = Vec::with_capacity(samples.len() + 44);
    file.extend(b"RIFF");
    file.extend(length.saturating_add(36).to_le_bytes());
    file.extend(b"WAVEfmt ");
    // 16 bytes follow: PCM, one channel, samples and bytes a second, one byte a sample, of 8 bits.
    file.extend(16_u32.to_le_bytes());
    file.extend(1_u16.to_le_bytes());
    file.extend(1_u16.to_le_bytes());
    file.extend(RATE.to_le_bytes());
    file.extend(RATE.to_le_bytes());
    file.extend(1_u16.to_le_bytes());
    file.extend(8_u16.to_le_bytes());
    file.extend(b"data");
    file.extend(length.to_le_bytes());
    file.extend(samples);
    file
}

#[cfg(test)]
mod tests {
    use super::*;
    use iron_kite_core::formats::media::media_type;

    #[test]
    fn whoever_speaks_is_heard_and_the_rest_is_silent() {
        let turn = |from, to, who: &str| Turn {
            from_ms: Some(from),
            to_ms: Some(to),
            speaker: Some(who.into()),
            ..Turn::default()
        };
        let file = tones(&[turn(0, 1_000, "Wren"), turn(2_000, 3_000, "Yorick")]);
        assert_eq!((media_type(&file), file.len()), ("audio/wav", 44 + 9_000));
        let loud = |second: usize| file[44 + second * 3_000..][..3_000].iter().any(|sample| *sample != 128);
        assert_eq!([loud(0), loud(1), loud(2)], [true, false, true]);
        let crossings = |second: usize| {
            file[44 + second * 3_000..][..3_000].windows(2).filter(|pair| pair[0] < 128 && pair[1] >= 128).count()
        };
        assert!(crossings(0).abs_diff(110) <= 2 && crossings(2).abs_diff(137) <= 2);
    }
}

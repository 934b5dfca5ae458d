//! The same, over and over: noted a few times, then counted, so that a flood neither fills the log nor pushes out what matters.

use std::collections::HashMap;
use std::time::{Duration, Instant};

/// So often the same is noted within a stretch of time.
const NOTED: u32 = 20;
const STRETCH: Duration = Duration::from_secs(60);
/// So many different ones are told apart; beyond that they count as one.
const APART: usize = 2_000;

/// What was noted lately.
pub(crate) struct Floods {
    since: Instant,
    counted: HashMap<String, u32>,
}

impl Floods {
    pub(crate) fn new(now: Instant) -> Self {
        Floods { since: now, counted: HashMap::new() }
    }

    /// Whether to note it.
    pub(crate) fn note(&mut self, what: &str) -> bool {
        let key = if self.counted.len() < APART || self.counted.contains_key(what) { what } else { "" };
        let times = self.counted.entry(key.to_owned()).or_default();
        *times = times.saturating_add(1);
        *times <= NOTED
    }

    /// Once a stretch of time is over: what was only counted in it, and how often. Another one begins.
    pub(crate) fn over(&mut self, now: Instant) -> Vec<(String, u32)> {
        if now.duration_since(self.since) < STRETCH {
            return Vec::new();
        }
        self.since = now;
        let counted = self.counted.drain().filter(|(_, times)| *times > NOTED);
        counted.map(|(what, times)| (what, times - NOTED)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_flood_is_noted_a_few_times_and_counted_and_others_are_noted_beside_it() {
        let begun = Instant::now();
        let mut floods = Floods::new(begun);
        assert_eq!((0..1_000).filter(|_| floods.note("one")).count(), 20);
        assert!(floods.note("other"));
        assert_eq!(floods.over(begun + Duration::from_secs(59)), []);
        assert_eq!(floods.over(begun + Duration::from_secs(60)), [("one".to_owned(), 980)]);
        assert!(floods.note("one"));
        // However many sorts of things come, what is kept of them stays small.
        let noted = (0..100_000).filter(|n| floods.note(&n.to_string())).count();
        assert!(noted < APART + 20 && floods.counted.len() <= APART + 1, "{noted}");
    }
}

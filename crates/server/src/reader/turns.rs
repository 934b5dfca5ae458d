//! Who reads when. Two small files at once, or one that is large; one for each person; and few wait.

use std::collections::HashSet;
use std::sync::{Condvar, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use iron_kite_core::problem::Problem;

/// So many small files at once; a large one takes all of it.
const PLACES: usize = 2;
/// So many people may wait.
const MOST_WAITING: usize = 8;
/// So long somebody waits.
const PATIENCE: Duration = Duration::from_secs(120);

#[derive(Default)]
pub(super) struct Turns {
    state: Mutex<State>,
    changed: Condvar,
}

#[derive(Default)]
struct State {
    taken: usize,
    waiting: usize,
    people: HashSet<i64>,
}

/// A turn; it ends when it is dropped.
pub(super) struct Turn<'a> {
    turns: &'a Turns,
    whose: Option<i64>,
    places: usize,
}

impl Turns {
    /// Waits for a turn. Nobody, who stands for the program itself, waits as long as it takes.
    pub(super) fn take(&self, whose: Option<i64>, small: bool) -> Result<Turn<'_>, Problem> {
        let places = if small { 1 } else { PLACES };
        let until = Instant::now() + PATIENCE;
        let mut state = self.state();
        let may = |state: &State| {
            state.taken + places <= PLACES && whose.is_none_or(|person| !state.people.contains(&person))
        };
        if !may(&state) {
            if whose.is_some() && state.waiting >= MOST_WAITING {
                return Err(Problem::Busy);
            }
            state.waiting += 1;
            while !may(&state) && (whose.is_none() || Instant::now() < until) {
                let rest = until.saturating_duration_since(Instant::now()).max(Duration::from_millis(10));
                state = self.changed.wait_timeout(state, rest).unwrap_or_else(PoisonError::into_inner).0;
            }
            state.waiting -= 1;
            if !may(&state) {
                return Err(Problem::Busy);
            }
        }
        state.taken += places;
        state.people.extend(whose);
        Ok(Turn { turns: self, whose, places })
    }

    pub(super) fn somebody_waits(&self) -> bool {
        self.state().waiting > 0
    }

    fn state(&self) -> MutexGuard<'_, State> {
        self.state.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl Drop for Turn<'_> {
    fn drop(&mut self) {
        let mut state = self.turns.state();
        state.taken -= self.places;
        if let Some(person) = self.whose {
            state.people.remove(&person);
        }
        drop(state);
        self.turns.changed.notify_all();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::mpsc::channel;
    use std::thread;

    #[test]
    fn few_read_at_once_and_each_person_one() {
        let turns = Turns::default();
        let (one, two) = (turns.take(Some(1), true).unwrap(), turns.take(Some(2), true).unwrap());
        let (told, heard) = channel();
        thread::scope(|scope| {
            for (whose, small) in [(Some(1), true), (Some(3), true), (None, false)] {
                let (told, turns) = (told.clone(), &turns);
                scope.spawn(move || {
                    let turn = turns.take(whose, small).unwrap();
                    told.send((whose, turns.state().taken)).unwrap();
                    drop(turn);
                });
            }
            while turns.state().waiting < 3 {
                thread::sleep(Duration::from_millis(1));
            }
            assert!(heard.try_recv().is_err(), "all places are taken");
            drop((one, two));
            let all: Vec<(Option<i64>, usize)> = heard.iter().take(3).collect();
            assert!(
                all.iter().all(|(whose, taken)| *taken <= PLACES && (whose.is_some() || *taken == PLACES)),
                "{all:?}"
            );
        });
        let state = turns.state();
        assert_eq!((state.taken, state.people.len()), (0, 0));
    }

    #[test]
    fn beyond_a_short_queue_it_is_busy() {
        let turns = Turns::default();
        let all = turns.take(None, false).unwrap();
        thread::scope(|scope| {
            for person in 0..MOST_WAITING {
                let turns = &turns;
                scope.spawn(move || turns.take(Some(i64::try_from(person).unwrap()), true).map(drop).unwrap());
            }
            while turns.state().waiting < MOST_WAITING {
                thread::sleep(Duration::from_millis(1));
            }
            assert_eq!(turns.take(Some(99), true).map(drop).unwrap_err(), Problem::Busy);
            drop(all);
        });
    }
}

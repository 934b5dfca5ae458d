//! Work on many things, on two processors.

use std::panic::resume_unwind;
use std::thread::scope;

use crate::jobs::Watch;

/// As many as the smallest machine has that this is meant for.
const PARTS: usize = 2;

/// What `one` makes of each of so many things, in their order; nothing where it is stopped. They are done in parts, each on a
/// thread and with a room of its own, which must not matter for what is made of one of them.
pub(super) fn in_parts<R, T: Send>(
    count: usize,
    watch: &Watch,
    room: impl Fn() -> R + Sync,
    one: impl Fn(&mut R, usize) -> T + Sync,
) -> Option<Vec<T>> {
    let part = count.div_ceil(PARTS).max(1);
    let work = |from: usize| {
        let mut room = room();
        let made = (from..count.min(from + part)).map(|at| {
            watch.advance(1);
            watch.goes_on().map(|()| one(&mut room, at))
        });
        made.collect::<Option<Vec<T>>>()
    };
    let work = &work;
    scope(|scope| {
        let threads: Vec<_> = (0..count).step_by(part).map(|from| scope.spawn(move || work(from))).collect();
        let made = threads.into_iter().map(|thread| thread.join().unwrap_or_else(|fault| resume_unwind(fault)));
        Some(made.collect::<Option<Vec<Vec<T>>>>()?.into_iter().flatten().collect())
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn all_is_made_in_order() {
        for count in [0, 1, 2, 3, 8, 101] {
            let watch = Watch::default();
            let made = in_parts(count, &watch, || (), |(), at| at * at);
            assert_eq!(made, Some((0..count).map(|at| at * at).collect()));
            assert_eq!(watch.done(), count);
        }
    }

    #[test]
    fn nothing_is_made_once_it_is_stopped() {
        let watch = Watch::default();
        let stops = |(): &mut (), at: usize| {
            if at == 3 {
                watch.stop();
            }
        };
        assert_eq!(in_parts(1_000, &watch, || (), stops), None);
        assert!(watch.done() < 1_000);
        assert_eq!(in_parts(1, &watch, || (), |(), at| at), None);
    }
}

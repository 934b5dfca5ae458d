//! Work on many things, on two processors.

use std::ops::Range;
use std::panic::resume_unwind;
use std::thread::scope;

/// As many as the smallest machine has that this is meant for.
const PARTS: usize = 2;

/// What `work` makes of each of so many things, in their order. It is given them in ranges, each on a thread of its own; what
/// it makes of one must not depend on which range that is in.
pub(super) fn in_parts<T: Send>(count: usize, work: impl Fn(Range<usize>) -> Vec<T> + Sync) -> Vec<T> {
    let part = count.div_ceil(PARTS).max(1);
    let work = &work;
    scope(|scope| {
        let ranges = (0..count).step_by(part).map(|from| from..count.min(from + part));
        let threads: Vec<_> = ranges.map(|range| scope.spawn(move || work(range))).collect();
        threads.into_iter().flat_map(|thread| thread.join().unwrap_or_else(|fault| resume_unwind(fault))).collect()
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn all_is_made_in_order() {
        for count in [0, 1, 2, 3, 8, 101] {
            let made = in_parts(count, |range| range.map(|at| at * at).collect());
            assert_eq!(made, (0..count).map(|at| at * at).collect::<Vec<usize>>());
        }
    }
}

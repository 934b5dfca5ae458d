//! What a ranking of many ideas costs with all that is told of it, on one core, beside the same computation in `NumPy`
//! (`scores.py`), where `IRON_KITE_PYTHON` names a Python that has it.

use std::process::Command;
use std::time::Instant;

use iron_kite_core::decide::{Candidate, Draw, EstimateRange, Estimated, Method, first_model, questions, ranked};
use iron_kite_core::things::IdeaId;

use crate::tell;

/// Measures with so many ideas, each with four ranges of one of three people, from 10,000 draws.
pub(crate) fn measure(count: usize) {
    let scorer = first_model(Method::Rice).check().expect("a model");
    let all: Vec<Candidate> = (0..count).map(candidate).collect();
    let draw = Draw { count: 10_000, seed: 7, top: 10 };
    tell(&format!("{count} ideas, four ranges each, {} draws, one core", draw.count));
    let mut best = f64::MAX;
    for _ in 0..3 {
        let start = Instant::now();
        let ranking = ranked(&scorer, &all, draw);
        let placed = start.elapsed();
        let pairs = ranking.pairs();
        let paired = start.elapsed();
        let asked = questions(&scorer, &all, &ranking, draw.top, draw.seed);
        let whole = start.elapsed();
        assert_eq!((ranking.places.len(), pairs.len()), (count, count));
        if whole.as_secs_f64() < best {
            best = whole.as_secs_f64();
            tell(&format!(
                "  ranges, medians, chances of the top {:.0} ms, all pairs {:.0} ms, what to ask ({}) {:.0} ms, in all {:.0} ms",
                placed.as_secs_f64() * 1e3,
                (paired - placed).as_secs_f64() * 1e3,
                asked.len(),
                (whole - paired).as_secs_f64() * 1e3,
                best * 1e3
            ));
        }
    }
    let Ok(python) = std::env::var("IRON_KITE_PYTHON") else {
        tell("  IRON_KITE_PYTHON names no Python, so there is nothing to hold it against");
        return;
    };
    let script = concat!(env!("CARGO_MANIFEST_DIR"), "/scores.py");
    let one_core = ["OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS", "MKL_NUM_THREADS"].map(|name| (name, "1"));
    let told = Command::new(python).arg(script).arg(count.to_string()).envs(one_core).output().expect("a Python");
    assert!(told.status.success(), "{}", String::from_utf8_lossy(&told.stderr));
    let told = String::from_utf8_lossy(&told.stdout);
    told.lines().for_each(|line| tell(&format!("  NumPy: {line}")));
    let seconds: Option<f64> = told.lines().last().and_then(|line| line.split_whitespace().nth(2)?.parse().ok());
    let seconds = seconds.expect("how long it took") / 1e3;
    tell(&format!("  {:.1} times as fast as NumPy", seconds / best));
}

/// Ranges that overlap, so that the order is open; `scores.py` makes the same.
fn candidate(n: usize) -> Candidate {
    let number = |value: usize| f64::from(u32::try_from(value).unwrap_or(0));
    let reach = 500.0 + number(n * 7_919 % 1_000);
    let impact = 0.5 + number(n * 104_729 % 100) / 50.0;
    let effort = 2.0 + number(n * 1_299_709 % 100) / 10.0;
    let ranges = [
        EstimateRange { low: reach * 0.5, likely: reach, high: reach * 2.5 },
        EstimateRange { low: impact * 0.5, likely: impact, high: impact * 1.5 },
        EstimateRange { low: 0.2, likely: 0.5, high: 0.8 },
        EstimateRange { low: effort * 0.7, likely: effort, high: effort * 2.0 },
    ];
    let by = Some(i64::try_from(n % 3).unwrap_or(0));
    let fields = ranges.map(|range| Some(Estimated { range, by })).to_vec();
    Candidate { idea: IdeaId(i64::try_from(n).unwrap_or(0)), fields }
}

//! How long it takes to read a folder of honest files in a process of its own, beside reading them here.

use std::time::{Duration, Instant};

use iron_kite::Apart;
use iron_kite_documents::{Held, Part, read};
use iron_kite_ops::reader::Reader;

use crate::{ms, tell};

const RUNS: usize = 15;

/// Honest files of each sort, of the size that people bring.
const FILES: [(&str, &[u8]); 8] = [
    ("crossing-reviews.csv", include_bytes!("../../../demo/crossing-reviews.csv")),
    ("support-tickets.xlsx", include_bytes!("../../../demo/support-tickets.xlsx")),
    ("interview-dairy.docx", include_bytes!("../../../demo/interview-dairy.docx")),
    ("interview-harbour-office.pdf", include_bytes!("../../../demo/interview-harbour-office.pdf")),
    ("interview-left.vtt", include_bytes!("../../../demo/interview-left.vtt")),
    ("interview-commuter.md", include_bytes!("../../../demo/interview-commuter.md")),
    ("desk-tickets.json", include_bytes!("../../../demo/desk-tickets.json")),
    ("gangway-notes.csv", include_bytes!("../../../demo/gangway-notes.csv")),
];

/// Measures with this many files.
pub(crate) fn measure(count: usize) {
    let files: Vec<(&str, &[u8])> = FILES.iter().copied().cycle().take(count).collect();
    let reader = Apart::default();
    let given: Vec<(String, Vec<u8>)> =
        files.iter().map(|(name, bytes)| ((*name).to_owned(), bytes.to_vec())).collect();
    // As a channel reads a folder.
    let mut apart = || {
        let mut count = 0;
        let mut take = |parts: Vec<Part>| {
            count += usize::from(parts.iter().any(is_read));
            true
        };
        reader.begin(None).read_each(&given, &mut take).expect("a turn");
        assert_eq!(count, given.len());
    };
    let mut inside = || {
        for (name, bytes) in &files {
            assert!(read(name, bytes).iter().any(is_read), "{name}");
        }
    };
    // One after the other: what else the machine does comes to both.
    let [apart, inside] = median(RUNS, [&mut apart, &mut inside]);
    tell(&format!(
        "{count} honest files read in a process of its own: {:.0} ms, here: {:.0} ms; {:.2} times as long (at most 1.2)",
        ms(apart),
        ms(inside),
        apart.as_secs_f64() / inside.as_secs_f64()
    ));
}

/// The median time of each, run in turns.
fn median<const N: usize>(runs: usize, mut each: [&mut dyn FnMut(); N]) -> [Duration; N] {
    let mut times = [(); N].map(|()| Vec::new());
    for _ in 0..runs {
        for (work, times) in each.iter_mut().zip(&mut times) {
            let begun = Instant::now();
            work();
            times.push(begun.elapsed());
        }
    }
    times.map(|mut times| {
        times.sort_unstable();
        times[runs / 2]
    })
}

fn is_read(part: &Part) -> bool {
    !matches!(part.held, Held::Refused(_))
}

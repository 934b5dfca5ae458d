//! How long it takes to read a folder of honest files in a process of its own, beside reading them here.

use iron_kite::Apart;
use iron_kite_documents::{Held, Part, read};
use iron_kite_ops::reader::Reader;

use crate::{ms, tell, times};

const RUNS: usize = 9;

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
    let mut apart = || {
        let mut reading = reader.begin(None);
        for (name, bytes) in &files {
            assert!(reading.read(name, bytes).expect("a turn").iter().any(is_read), "{name}");
        }
    };
    let mut inside = || {
        for (name, bytes) in &files {
            assert!(read(name, bytes).iter().any(is_read), "{name}");
        }
    };
    let (apart, inside) = (times(&mut apart, RUNS)[RUNS / 2], times(&mut inside, RUNS)[RUNS / 2]);
    tell(&format!(
        "{count} honest files read in a process of its own: {:.0} ms, here: {:.0} ms; {:.2} times as long (at most 1.2)",
        ms(apart),
        ms(inside),
        apart.as_secs_f64() / inside.as_secs_f64()
    ));
}

fn is_read(part: &Part) -> bool {
    !matches!(part.held, Held::Refused(_))
}

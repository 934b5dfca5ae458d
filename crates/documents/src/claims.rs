//! What a workbook in the old format claims, looked at before it is read: its reader makes room for as many cells as
//! the file says, or as lie between the first and the last one, and a few bytes can say that these are billions.
//! Records as in [MS-XLS] 2.1.4: a type and a length of two bytes each, then the data.

use std::io::{Cursor, Read};

use cfb::CompoundFile;

/// A sheet's size: the record DIMENSIONS.
const DIMENSIONS: u16 = 0x0200;
/// Records of a cell, each beginning with its row and its column.
const CELLS: [u16; 8] = [0x0006, 0x0203, 0x0204, 0x0205, 0x027E, 0x00BD, 0x00D6, 0x00FD];
/// The beginning of a sheet or of another part.
const BEGINS: u16 = 0x0809;
/// The streams that a workbook may be in.
const STREAMS: [&str; 2] = ["workbook", "book"];

/// The rectangle that the cells of one sheet lie in.
#[derive(Default)]
struct Area {
    rows: Option<(u64, u64)>,
    columns: Option<(u64, u64)>,
}

impl Area {
    fn add(&mut self, row: u64, column: u64) {
        let wider = |span: Option<(u64, u64)>, at: u64| Some(span.map_or((at, at), |(a, b)| (a.min(at), b.max(at))));
        self.rows = wider(self.rows, row);
        self.columns = wider(self.columns, column);
    }

    fn cells(&self) -> u64 {
        let long = |span: Option<(u64, u64)>| span.map_or(0, |(from, to)| to - from + 1);
        long(self.rows).saturating_mul(long(self.columns))
    }
}

/// The most cells that room would be made for in any sheet; nothing where the file is damaged. Linear in its bytes.
pub(super) fn most_cells(bytes: &[u8]) -> Option<u64> {
    let mut file = CompoundFile::open(Cursor::new(bytes)).ok()?;
    let paths: Vec<_> = file
        .walk()
        .filter(|entry| entry.is_stream() && STREAMS.contains(&entry.name().to_lowercase().as_str()))
        .map(|entry| entry.path().to_owned())
        .collect();
    let mut most = 0;
    for path in paths {
        let mut stream = Vec::new();
        file.open_stream(path).ok()?.take(bytes.len() as u64).read_to_end(&mut stream).ok()?;
        most = most.max(claimed(&stream));
    }
    Some(most)
}

fn claimed(stream: &[u8]) -> u64 {
    let (mut most, mut area, mut rest) = (0, Area::default(), stream);
    while let [a, b, c, d, behind @ ..] = rest {
        let (kind, length) = (u16::from_le_bytes([*a, *b]), usize::from(u16::from_le_bytes([*c, *d])));
        let data = behind.get(..length).unwrap_or(behind);
        let two = |at: usize| data.get(at..at + 2).map_or(0, |two| u64::from(u16::from_le_bytes([two[0], two[1]])));
        match kind {
            // As small files have it, with two bytes for a row; else with four.
            DIMENSIONS if data.len() == 10 => most = most.max(two(2).saturating_mul(two(6))),
            DIMENSIONS => most = most.max((two(4) | two(6) << 16).saturating_mul(two(10))),
            BEGINS => area = Area::default(),
            kind if CELLS.contains(&kind) && data.len() >= 4 => {
                area.add(two(0), two(2));
                // Several in a row: the last column stands at the end.
                if kind == 0x00BD {
                    area.add(two(0), two(data.len() - 2));
                }
                most = most.max(area.cells());
            }
            _ => {}
        }
        rest = behind.get(length..).unwrap_or_default();
    }
    most
}

#[cfg(test)]
mod tests {
    use super::*;

    fn record(kind: u16, data: &[u8]) -> Vec<u8> {
        [&kind.to_le_bytes()[..], &u16::try_from(data.len()).unwrap().to_le_bytes(), data].concat()
    }

    #[test]
    fn what_is_claimed_is_counted() {
        let size = record(DIMENSIONS, &[0, 0, 0, 0, 0xff, 0xff, 0xff, 0x7f, 0, 0, 5, 0, 0, 0]);
        assert_eq!(claimed(&size), 0x7fff_ffff * 5);
        let cells = [record(0x0203, &[2, 0, 1, 0]), record(0x0203, &[0xff, 0xff, 3, 0])].concat();
        assert_eq!(claimed(&cells), (0xffff - 2 + 1) * 3);
        // Two sheets do not add up, and a record that is cut off is no end of the world.
        let two = [
            record(BEGINS, &[]),
            record(0x0203, &[9, 0, 0, 0]),
            record(BEGINS, &[]),
            record(0x0203, &[0, 0, 0, 0]),
            vec![3, 2, 9],
        ];
        assert_eq!(claimed(&two.concat()), 1);
        assert_eq!(most_cells(b"no workbook"), None);
    }

    #[test]
    fn a_sound_workbook_claims_what_it_holds() {
        let most = most_cells(include_bytes!("../tests/files/tickets.xls")).unwrap();
        assert!((10..10_000).contains(&most), "{most}");
    }
}

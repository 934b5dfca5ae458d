//! Whether the first row of a table are headings or a row like the others, by comparing it with them.

use super::looks::{Look, Looks};
use super::names;

/// Tells whether a row are the headings of the rows below it. Each column speaks for it where it is called as columns usually
/// are, or where something else stands below than in it, such as numbers below a word; and against it where the same stands
/// below: a number above numbers, a sentence above sentences, one of few words that stand below again. Linear in the cells.
pub(super) fn are_headings<'a>(first: &[&str], rows: impl Iterator<Item = &'a super::Cells> + Clone) -> bool {
    let votes = first.iter().enumerate().map(|(at, cell)| vote(cell, rows.clone().map(move |row| row.get(at))));
    votes.sum::<i32>() >= 0
}

fn vote<'a>(cell: &str, below: impl Iterator<Item = &'a str> + Clone) -> i32 {
    let below_it = Looks::of(below.clone());
    if names::is_common(cell) {
        return 2;
    }
    let Some(most) = below_it.most() else { return 0 };
    match Look::of(cell) {
        Look::Empty => 0,
        // A question is what was asked, and answers stand below.
        Look::Sentence if cell.trim_end().ends_with(['?', ':']) && below_it.asking() < 0.5 => 1,
        Look::Word if most == Look::Word => {
            let again = below.filter(|other| other.trim() == cell.trim()).take(2).count() == 2;
            -i32::from(again)
        }
        Look::Sentence if most == Look::Sentence => -2,
        // Hardly any heading is a number or a day.
        look if look == most => -3,
        Look::Word => 2,
        _ => -1,
    }
}

#[cfg(test)]
mod tests {
    use crate::formats::table::{HowRead, of_text};

    fn headed(text: &str) -> bool {
        of_text(text, "UTF-8", &HowRead::default()).unwrap().headed
    }

    #[test]
    fn headings_are_told_from_rows() {
        for text in [
            "text,who\nThe boat was late,Ann\nSo was the bus,Bo\n",
            "Nachricht;Datum\nDas Boot kam zu spät;31.03.2026\n",
            "a,b\n1,2026-03-31\n2,2026-04-01\n",
            "What would you change about the crossing?\nThe ramp, it is far too steep for a wheelchair in winter.\nNothing at all, it is a lovely way to begin the day.\n",
            "colour,boat\nred,Tern\nblue,Skua\n",
            "text\nfine\n",
            "text,who\n",
        ] {
            assert!(headed(text), "{text}");
        }
    }

    #[test]
    fn a_first_row_like_the_others_is_none() {
        for text in [
            "0,1467810369,Mon Apr 06 22:19:45 2026,NONE,ann_sails,The boat was late again and nobody said a word about it\n\
             0,1467810672,Mon Apr 06 22:19:49 2026,NONE,bo42,So was the bus and we all stood in the rain for an hour\n\
             4,1467810917,Mon Apr 06 22:19:53 2026,NONE,cee,What a lovely crossing it was and the crew is so very kind\n",
            "5,The boat was late\n4,So was the bus\n",
            "The boat was late again and nobody said a word about it.\nSo was the bus, and we all stood in the rain for an hour.\n",
            "ann@hask.example,late\nbo@hask.example,late\ncee@hask.example,late\n",
        ] {
            assert!(!headed(text), "{text}");
        }
    }
}

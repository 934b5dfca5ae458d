//! What others offer: notes with their sources, and a comparison by capability.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::capability::Capability;
use super::competitor::Competitor;
use super::competitor_note::CompetitorNote;
use crate::things::{CapabilityId, CompetitorId, NoteId};

/// How far an offer does something.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Offers {
    /// Not at all.
    None,
    /// In part.
    Partly,
    /// Wholly.
    Fully,
}

impl Offers {
    /// The names in the store and the API.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        vec!["none", "partly", "fully"]
    }

    /// The word for people.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Offers::None => "none",
            Offers::Partly => "partly",
            Offers::Fully => "fully",
        }
    }

    /// 0, ½ or 1.
    fn part(self) -> f64 {
        match self {
            Offers::None => 0.0,
            Offers::Partly => 0.5,
            Offers::Fully => 1.0,
        }
    }
}

/// One competitor's cell in a row.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MarketCell {
    /// Whose.
    pub competitor: CompetitorId,
    /// How far it does it, by the newest note that says so; nothing where none does.
    pub offers: Option<Offers>,
    /// The notes behind it, newest first.
    pub notes: Vec<NoteId>,
}

/// A capability, ours beside the others'.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MarketRow {
    /// Which.
    pub capability: CapabilityId,
    /// A cell for each competitor, in their order.
    pub cells: Vec<MarketCell>,
    /// How far others are ahead of us in it, 0 – 1; nothing where ours or all of theirs are unknown.
    pub gap: Option<f64>,
}

/// Compares offers by capability: in each cell the newest note that says how far counts, and all notes are named. The gap is the
/// mean of how much more each competitor that is known does: `mean(max(0, theirs − ours))`, with none 0, partly ½ and fully
/// 1. What is unknown is left out and never taken for none. O((capabilities + notes) · competitors).
#[must_use]
pub fn comparison(capabilities: &[Capability], competitors: &[Competitor], notes: &[CompetitorNote]) -> Vec<MarketRow> {
    let mut by_cell: BTreeMap<(CapabilityId, CompetitorId), Vec<&CompetitorNote>> = BTreeMap::new();
    for note in notes {
        if let Some(capability) = note.capability_id {
            by_cell.entry((capability, note.competitor_id)).or_default().push(note);
        }
    }
    by_cell.values_mut().for_each(|notes| notes.sort_by(|a, b| (&b.noted_on, b.id).cmp(&(&a.noted_on, a.id))));
    capabilities
        .iter()
        .map(|capability| {
            let cells: Vec<MarketCell> = competitors
                .iter()
                .map(|competitor| {
                    let notes = by_cell.get(&(capability.id, competitor.id)).map_or(&[][..], Vec::as_slice);
                    MarketCell {
                        competitor: competitor.id,
                        offers: notes.iter().find_map(|note| note.offers),
                        notes: notes.iter().map(|note| note.id).collect(),
                    }
                })
                .collect();
            MarketRow { capability: capability.id, gap: gap(capability.offers, &cells), cells }
        })
        .collect()
}

fn gap(ours: Option<Offers>, cells: &[MarketCell]) -> Option<f64> {
    let ours = ours?.part();
    let more: Vec<f64> =
        cells.iter().filter_map(|cell| cell.offers).map(|theirs| (theirs.part() - ours).max(0.0)).collect();
    let count = f64::from(u32::try_from(more.len()).unwrap_or(u32::MAX));
    (!more.is_empty()).then(|| more.iter().sum::<f64>() / count)
}

#[cfg(test)]
pub(crate) mod tests {
    use super::*;
    use crate::things::ProductId;
    use proptest::prelude::*;

    pub(crate) fn capability(id: i64, title: &str, offers: Option<Offers>) -> Capability {
        let position = f64::from(i32::try_from(id).unwrap());
        Capability {
            id: CapabilityId(id),
            rev: 1,
            product_id: ProductId(1),
            position,
            title: title.into(),
            offers,
            note: None,
        }
    }

    pub(crate) fn competitor(id: i64, name: &str) -> Competitor {
        let product_id = ProductId(1);
        Competitor { id: CompetitorId(id), rev: 1, product_id, name: name.into(), address: None, note: None }
    }

    fn note(id: i64, competitor: i64, capability: i64, offers: Option<Offers>, on: &str) -> CompetitorNote {
        CompetitorNote {
            id: NoteId(id),
            rev: 1,
            product_id: ProductId(1),
            competitor_id: CompetitorId(competitor),
            capability_id: Some(CapabilityId(capability)),
            offers,
            words: "words".into(),
            page_id: None,
            source: None,
            noted_on: on.into(),
        }
    }

    #[test]
    fn the_newest_note_that_says_how_far_counts() {
        let capabilities = [capability(1, "Book a bicycle", Some(Offers::None)), capability(2, "Pay by text", None)];
        let competitors = [competitor(1, "Water taxi"), competitor(2, "Bridge bus")];
        let notes = [
            note(1, 1, 1, Some(Offers::Fully), "2026-03-01"),
            note(2, 1, 1, Some(Offers::Partly), "2026-05-01"),
            note(3, 1, 1, None, "2026-06-01"),
            note(4, 2, 2, Some(Offers::Fully), "2026-06-01"),
        ];
        let rows = comparison(&capabilities, &competitors, &notes);
        assert_eq!(rows[0].cells[0].offers, Some(Offers::Partly));
        assert_eq!(rows[0].cells[0].notes, [NoteId(3), NoteId(2), NoteId(1)]);
        assert_eq!((rows[0].cells[1].offers, rows[0].gap), (None, Some(0.5)), "what is unknown is not none");
        assert_eq!(rows[1].gap, None, "nobody said how far we do it");
    }

    proptest! {
        #[test]
        fn a_gap_is_a_share_that_our_own_offer_closes(theirs in prop::collection::vec(0..4usize, 1..6)) {
            let level = |at: usize| [None, Some(Offers::None), Some(Offers::Partly), Some(Offers::Fully)][at];
            let competitors: Vec<_> = (0..theirs.len()).map(|n| competitor(i64::try_from(n).unwrap(), "x")).collect();
            let notes: Vec<_> = theirs.iter().enumerate().map(|(n, at)| {
                let n = i64::try_from(n).unwrap();
                note(n, n, 1, level(*at), "2026-01-01")
            }).collect();
            let gap = |ours| comparison(&[capability(1, "x", Some(ours))], &competitors, &notes)[0].gap;
            let all = [Offers::None, Offers::Partly, Offers::Fully].map(gap);
            prop_assert_eq!(all[0].is_some(), theirs.iter().any(|at| *at > 0));
            if let [Some(none), Some(partly), Some(fully)] = all {
                prop_assert!((0.0..=1.0).contains(&none) && none >= partly && partly >= fully && fully == 0.0);
            }
        }
    }
}

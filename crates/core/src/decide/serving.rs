//! What is done for an objective, and how far it would carry.

use serde::{Deserialize, Serialize};

/// How far something is that serves an objective.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Stage {
    /// It is thought about.
    Weighed,
    /// It was decided and is not out.
    UnderWay,
    /// It is out.
    Out,
    /// It will not be done.
    Dropped,
}

/// What is done for an objective, in parts of the way from its start to its target.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Served {
    /// Things that were decided and are not out.
    pub under_way: usize,
    /// How much of the way they promise together.
    pub promised: f64,
    /// How many of them say nothing of how much.
    pub silent: usize,
    /// Things that are only thought about.
    pub weighed: usize,
    /// How much of the way is neither gone nor promised, 0 – 1.
    pub open: f64,
}

/// Adds up what is done for an objective that is `gone` so much of its way, from 0 to 1. Linear.
#[must_use]
pub fn served(gone: Option<f64>, serving: &[(Stage, Option<f64>)]) -> Served {
    let mut sum = Served::default();
    for (stage, part) in serving {
        match stage {
            Stage::UnderWay => {
                sum.under_way += 1;
                sum.promised += part.unwrap_or(0.0);
                sum.silent += usize::from(part.is_none());
            }
            Stage::Weighed => sum.weighed += 1,
            Stage::Out | Stage::Dropped => {}
        }
    }
    sum.open = (1.0 - gone.unwrap_or(0.0) - sum.promised).clamp(0.0, 1.0);
    sum
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_open_is_what_nobody_went_or_promised() {
        let serving = [
            (Stage::UnderWay, Some(0.25)),
            (Stage::UnderWay, None),
            (Stage::Weighed, Some(0.5)),
            (Stage::Out, Some(0.5)),
            (Stage::Dropped, None),
        ];
        let told = served(Some(0.25), &serving);
        assert_eq!(told, Served { under_way: 2, promised: 0.25, silent: 1, weighed: 1, open: 0.5 });
        assert_eq!(served(Some(1.5), &[]).open, 0.0);
        assert_eq!(served(None, &[]).open, 1.0);
    }
}

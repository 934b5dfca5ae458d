//! What tells one need from another, learned from labelled texts.

use std::sync::LazyLock;

use crate::text::{DIMENSIONS, dot};

/// Row after row, each from its diagonal on: 16 bits a number, on a scale of their own.
static WEIGHTS: &[u8] = include_bytes!("../weights/needs.bin");

/// An upper triangle of [`DIMENSIONS`] rows.
static TRIANGLE: LazyLock<Vec<f32>> = LazyLock::new(|| {
    let numbers = WEIGHTS.chunks_exact(2).map(|two| f32::from(i16::from_le_bytes([two[0], two[1]])));
    numbers.collect()
});

/// Where a meaning that lies `apart` from the middle of all is seen: directions in which texts about one need differ (who
/// says it and how) become shorter, and those in which needs differ longer. The length of what comes out means nothing.
///
/// ```text
/// y = Lᵀ x   with   L Lᵀ = I + 20 · ( (W + 2 I)⁻¹ − (T + 2 I)⁻¹ )
/// ```
///
/// W is how texts about one need differ from their middle, T how all texts do from the middle of all, both on the scale on
/// which W has a mean variance of 1. The difference is the metric of M. Köstinger et al., "Large scale metric learning from
/// equivalence constraints" (CVPR 2012): how much likelier a difference is within a need than between any two texts. Learned
/// by `crates/meaning/examples/train/needs.rs`; what it is worth stands in `docs/methods/grouping.md`. O(`DIMENSIONS`²).
pub(super) fn seen(apart: &[f32]) -> Vec<f32> {
    let mut rows = TRIANGLE.as_slice();
    (0..DIMENSIONS)
        .map(|at| {
            let (row, rest) = rows.split_at(DIMENSIONS - at);
            rows = rest;
            dot(row, &apart[at..])
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_triangle_is_whole_and_nothing_falls_together() {
        assert_eq!(TRIANGLE.len(), DIMENSIONS * (DIMENSIONS + 1) / 2);
        // A triangle takes no two places to one, as long as its diagonal has no zero.
        let mut at = 0;
        for row in 0..DIMENSIONS {
            assert!(TRIANGLE[at] > 0.05 * f32::from(i16::MAX), "row {row}");
            at += DIMENSIONS - row;
        }
        let most = TRIANGLE.iter().fold(0.0_f32, |most, x| most.max(x.abs()));
        assert_eq!(most.to_bits(), f32::from(i16::MAX).to_bits(), "the whole scale is used");
    }

    #[test]
    fn each_direction_is_a_column_of_the_triangle() {
        let toward = |at: usize| (0..DIMENSIONS).map(|one| f32::from(u8::from(one == at))).collect::<Vec<f32>>();
        let first = seen(&toward(0));
        assert_eq!(first[0].to_bits(), TRIANGLE[0].to_bits());
        assert!(first[1..].iter().all(|x| *x == 0.0));
        let third = seen(&toward(2));
        let column = [2, DIMENSIONS + 1, DIMENSIONS + DIMENSIONS - 1].map(|at| TRIANGLE[at]);
        assert_eq!(third[..3].iter().map(|x| x.to_bits()).collect::<Vec<_>>(), column.map(f32::to_bits));
        assert!(third[3..].iter().all(|x| *x == 0.0));
    }
}

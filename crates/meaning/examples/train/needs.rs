//! Learns what tells one need from another, for grouping: the method stands at `crates/core/src/listen/grouping/needs.rs`.
//! How well texts are grouped by it is told by `iron-kite evaluate grouping`, for sets that were not learned from.

use std::collections::BTreeMap;
use std::fs;

use iron_kite_core::text::{DIMENSIONS, Meaning, Vector};
use iron_kite_meaning::Models;

use super::{Outcome, WEIGHTS, columns};

type Matrix = Vec<Vec<f64>>;

const SETS: [&str; 2] = ["evaluation/groups_train.csv", "evaluation/groups_many.csv"];
/// What is added to each variance, where 1 is the mean within a need: few texts tell little of any one direction.
const RIDGE: f64 = 2.0;
/// What the difference counts beside the plain meaning. From 45 on, some direction would be turned round.
const COUNTS: f64 = 20.0;

pub(super) fn learn() -> Outcome<()> {
    let mut needs: BTreeMap<(&str, String), Vec<Vector>> = BTreeMap::new();
    for set in SETS {
        let rows = columns(set, &["label", "text"])?;
        let texts: Vec<&str> = rows.iter().map(|row| row[1].as_str()).collect();
        let vectors = Models::on(2).closer(&texts)?;
        for (mut row, vector) in rows.into_iter().zip(vectors) {
            needs.entry((set, row.swap_remove(0))).or_default().push(vector);
        }
    }
    let all: Vec<&Vector> = needs.values().flatten().collect();
    let within = spread(needs.values().map(|one| one.iter().collect()));
    let total = spread([all]);
    let mean = (0..DIMENSIONS).map(|at| within[at][at]).sum::<f64>() / count(DIMENSIONS)?;
    let sure = |spread: Matrix| inverse(&sum(&unit(RIDGE), 1.0 / mean, &spread));
    let (within, total) = (sure(within)?, sure(total)?);
    let metric = sum(&sum(&unit(1.0), COUNTS, &within), -COUNTS, &total);
    let root = root(&metric)?;
    let most = root.iter().flatten().fold(0.0_f64, |most, x| most.max(x.abs()));
    let mut bytes = Vec::new();
    let columns = (0..DIMENSIONS).flat_map(|at| root[at..].iter().map(move |row| row[at]));
    columns.for_each(|number| {
        #[expect(clippy::cast_possible_truncation, reason = "within the numbers of 16 bits")]
        let number = (number / most * f64::from(i16::MAX)).round() as i16;
        bytes.extend(number.to_le_bytes());
    });
    fs::write(format!("{WEIGHTS}/needs.bin"), bytes)?;
    Ok(())
}

fn count(all: usize) -> Outcome<f64> {
    Ok(f64::from(u32::try_from(all)?))
}

/// How texts differ from the middle of their group: the covariance, of all groups together.
fn spread<'a>(groups: impl IntoIterator<Item = Vec<&'a Vector>>) -> Matrix {
    let mut sum = unit(0.0);
    let mut free = 0.0;
    for group in groups {
        let count: f64 = group.iter().map(|_| 1.0).sum();
        let number = |one: &Vector, at: usize| f64::from(one.numbers()[at]);
        let middle: Vec<f64> =
            (0..DIMENSIONS).map(|at| group.iter().map(|one| number(one, at)).sum::<f64>() / count).collect();
        for one in &group {
            let apart: Vec<f64> = (0..DIMENSIONS).map(|at| number(one, at) - middle[at]).collect();
            for (row, x) in sum.iter_mut().zip(&apart) {
                row.iter_mut().zip(&apart).for_each(|(sum, y)| *sum += x * y);
            }
        }
        free += count - 1.0;
    }
    sum.iter_mut().flatten().for_each(|x| *x /= free);
    sum
}

fn unit(diagonal: f64) -> Matrix {
    (0..DIMENSIONS).map(|row| (0..DIMENSIONS).map(|at| if row == at { diagonal } else { 0.0 }).collect()).collect()
}

/// `one + times · other`.
fn sum(one: &Matrix, times: f64, other: &Matrix) -> Matrix {
    let row = |(one, other): (&Vec<f64>, &Vec<f64>)| one.iter().zip(other).map(|(x, y)| x + times * y).collect();
    one.iter().zip(other).map(row).collect()
}

/// The lower triangle L with L Lᵀ = `matrix` (Cholesky).
fn root(matrix: &Matrix) -> Outcome<Matrix> {
    let mut root = unit(0.0);
    for row in 0..DIMENSIONS {
        for at in 0..=row {
            let known: f64 = root[row][..at].iter().zip(&root[at][..at]).map(|(x, y)| x * y).sum();
            let left = matrix[row][at] - known;
            if row == at && left <= 0.0 {
                return Err("some direction would be turned round: let the difference count less".into());
            }
            root[row][at] = if row == at { left.sqrt() } else { left / root[at][at] };
        }
    }
    Ok(root)
}

/// The inverse of a symmetric matrix, by its root.
fn inverse(matrix: &Matrix) -> Outcome<Matrix> {
    let root = root(matrix)?;
    // K with K L = I, row by row of its columns; the inverse is Kᵀ K.
    let mut turned = unit(0.0);
    (0..DIMENSIONS).for_each(|at| {
        for row in at..DIMENSIONS {
            let wanted = if row == at { 1.0 } else { 0.0 };
            let known: f64 = (at..row).map(|one| root[row][one] * turned[one][at]).sum();
            turned[row][at] = (wanted - known) / root[row][row];
        }
    });
    let mut inverse = unit(0.0);
    for row in &turned {
        for (sum, x) in inverse.iter_mut().zip(row) {
            sum.iter_mut().zip(row).for_each(|(sum, y)| *sum += x * y);
        }
    }
    Ok(inverse)
}

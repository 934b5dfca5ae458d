//! The meanings of a product's excerpts, kept at hand to be looked through.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError, RwLock};

use iron_kite_core::problem::Problem;
use iron_kite_core::text::{DIMENSIONS, Vector};
use iron_kite_core::things::{ExcerptId, ProductId};
use iron_kite_store::Rows;

/// Of each product, loaded when somebody first looks. 400 bytes for each excerpt.
#[derive(Default)]
pub(crate) struct Minds {
    of: Mutex<HashMap<ProductId, Arc<RwLock<Mind>>>>,
    /// Products whose reading somebody stopped, with the last excerpt that was there.
    resting: Mutex<HashMap<ProductId, i64>>,
}

/// The meanings of one product's excerpts, one after another.
#[derive(Default)]
pub(crate) struct Mind {
    ids: Vec<ExcerptId>,
    place: HashMap<ExcerptId, usize>,
    vectors: Vec<i8>,
    /// How long each is: they are kept on a scale of their own.
    lengths: Vec<f32>,
}

impl Mind {
    fn put(&mut self, id: ExcerptId, bytes: &[u8]) {
        if bytes.len() != DIMENSIONS {
            return;
        }
        let numbers: Vec<i8> = bytes.iter().map(|byte| byte.cast_signed()).collect();
        let length = length_of(&numbers);
        if let Some(at) = self.place.get(&id) {
            self.vectors[at * DIMENSIONS..][..DIMENSIONS].copy_from_slice(&numbers);
            self.lengths[*at] = length;
            return;
        }
        self.place.insert(id, self.ids.len());
        self.ids.push(id);
        self.vectors.extend(numbers);
        self.lengths.push(length);
    }

    fn vector(&self, at: usize) -> &[i8] {
        &self.vectors[at * DIMENSIONS..][..DIMENSIONS]
    }

    /// The middle of some excerpts; those that are not there are passed over.
    pub(crate) fn middle(&self, excerpts: &[ExcerptId]) -> Vector {
        self.middle_at(excerpts.iter().filter_map(|id| self.place.get(id).copied()))
    }

    /// The middle of all.
    pub(crate) fn centre(&self) -> Vector {
        self.middle_at(0..self.ids.len())
    }

    fn middle_at(&self, places: impl Iterator<Item = usize>) -> Vector {
        let mut sum = vec![0.0_f32; DIMENSIONS];
        for at in places {
            // Each counts the same.
            let length = self.lengths[at];
            sum.iter_mut().zip(self.vector(at)).for_each(|(sum, x)| *sum += f32::from(*x) / length);
        }
        Vector::pointing(sum)
    }

    /// How alike an excerpt is to a meaning (as a cosine); nothing where it is not there.
    pub(crate) fn alike(&self, id: ExcerptId, meaning: &Vector) -> Option<f32> {
        let at = *self.place.get(&id)?;
        let wanted: Vec<i8> = meaning.to_bytes().into_iter().map(u8::cast_signed).collect();
        Some(product(&wanted, self.vector(at)) / (length_of(&wanted) * self.lengths[at]))
    }

    /// The excerpts that mean most alike, the likest first, with how alike they are (as a cosine). O(excerpts).
    pub(crate) fn nearest(&self, meaning: &Vector, count: usize) -> Vec<(ExcerptId, f32)> {
        let wanted: Vec<i8> = meaning.to_bytes().into_iter().map(u8::cast_signed).collect();
        let far = length_of(&wanted);
        let vectors = self.vectors.chunks_exact(DIMENSIONS).zip(&self.lengths).enumerate();
        let mut all: Vec<(f32, usize)> =
            vectors.map(|(at, (vector, length))| (product(&wanted, vector) / (far * length), at)).collect();
        let count = count.min(all.len());
        if count == 0 {
            return Vec::new();
        }
        all.select_nth_unstable_by(count - 1, |a, b| b.0.total_cmp(&a.0));
        all.truncate(count);
        all.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
        all.into_iter().map(|(alike, at)| (self.ids[at], alike)).collect()
    }
}

fn length_of(one: &[i8]) -> f32 {
    product(one, one).sqrt().max(1.0)
}

#[expect(clippy::cast_precision_loss, reason = "at most 384 · 127² fits")]
fn product(one: &[i8], other: &[i8]) -> f32 {
    one.iter().zip(other).map(|(a, b)| i32::from(*a) * i32::from(*b)).sum::<i32>() as f32
}

impl Minds {
    /// The meanings of a product's excerpts.
    pub(crate) fn of(&self, rows: &Rows<'_>, product: ProductId) -> Result<Arc<RwLock<Mind>>, Problem> {
        let mut all = self.of.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(mind) = all.get(&product) {
            return Ok(Arc::clone(mind));
        }
        let mut mind = Mind::default();
        rows.each_meaning(product, |id, vector| mind.put(id, vector))?;
        let mind = Arc::new(RwLock::new(mind));
        all.insert(product, Arc::clone(&mind));
        Ok(mind)
    }

    /// More was read. Where nobody has looked yet, it comes with the rest when somebody does.
    pub(crate) fn add(&self, product: ProductId, read: &[(ExcerptId, Vec<u8>)]) {
        let all = self.of.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(mind) = all.get(&product) {
            let mut mind = mind.write().unwrap_or_else(PoisonError::into_inner);
            read.iter().for_each(|(id, bytes)| mind.put(*id, bytes));
        }
    }

    /// Forgets all that is at hand; it comes back from the store when somebody looks.
    pub(crate) fn forget(&self) {
        self.of.lock().unwrap_or_else(PoisonError::into_inner).clear();
    }

    /// Reading rests as long as this excerpt is the last.
    pub(crate) fn rest(&self, product: ProductId, last: i64) {
        self.resting.lock().unwrap_or_else(PoisonError::into_inner).insert(product, last);
    }

    /// Whether reading rests.
    pub(crate) fn rests(&self, product: ProductId, last: i64) -> bool {
        self.resting.lock().unwrap_or_else(PoisonError::into_inner).get(&product) == Some(&last)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_likest_come_first_and_each_once() {
        let toward = |x: f32, y: f32| Vector::pointing(vec![x, y]);
        let mut mind = Mind::default();
        for (id, vector) in [(1, toward(1.0, 0.0)), (2, toward(0.0, 1.0)), (3, toward(1.0, 0.4)), (2, toward(1.0, 0.1))]
        {
            mind.put(ExcerptId(id), &vector.to_bytes());
        }
        mind.put(ExcerptId(9), &[1, 2, 3]);
        let found: Vec<i64> = mind.nearest(&toward(1.0, 0.0), 5).iter().map(|(id, _)| id.0).collect();
        assert_eq!(found, [1, 2, 3]);
        assert_eq!(mind.nearest(&toward(1.0, 0.0), 1)[0].0, ExcerptId(1));
        assert_eq!(Mind::default().nearest(&toward(1.0, 0.0), 5), []);
    }
}

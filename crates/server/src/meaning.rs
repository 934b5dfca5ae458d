//! The model of meaning, loaded when the first words are to be understood.

use std::sync::OnceLock;

use iron_kite_core::text::{Meaning, NoMeaning, Vector};
use iron_kite_meaning::MiniLm;

/// The model, or why it could not be loaded; nothing as long as nobody needed it.
#[derive(Debug, Default)]
pub(crate) struct OnDemand {
    model: OnceLock<Result<MiniLm, NoMeaning>>,
}

/// As many threads as the machine can run at once.
pub(crate) fn threads() -> usize {
    std::thread::available_parallelism().map_or(1, usize::from)
}

impl Meaning for OnDemand {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        self.model.get_or_init(|| MiniLm::load(threads())).as_ref().map_err(Clone::clone)?.vectors(texts)
    }
}

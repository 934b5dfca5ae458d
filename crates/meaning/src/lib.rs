//! The meaning of words, told by a small model that is part of the program and runs on this machine.
//!
//! Where the model comes from and how its file is made stands in `model/README.md`.

use std::sync::Arc;

use iron_kite_core::text::{DIMENSIONS, Meaning, NoMeaning, Vector};
use rten::{Model, ModelOptions, RunOptions, ThreadPool};
use rten_tensor::NdTensor;
use rten_tensor::prelude::*;
use tokenizers::{Tokenizer, TruncationParams};

static MODEL: &[u8] = include_bytes!("../model/minilm-w8.onnx");
static TOKENIZER: &[u8] = include_bytes!("../model/tokenizer.json");

/// Words beyond this many tokens (about a hundred words) are not read: an excerpt is far shorter.
const LONGEST: usize = 128;
/// So many texts go through the model together.
const BATCH: usize = 16;

/// The model, ready to use. Loading takes some tenths of a second; it then holds about 140 MB, as its weights are laid out
/// beforehand the way that they are multiplied.
pub struct MiniLm {
    model: Model,
    tokenizer: Tokenizer,
    threads: Arc<ThreadPool>,
}

impl std::fmt::Debug for MiniLm {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("MiniLm")
    }
}

fn fault(fault: impl std::fmt::Display) -> NoMeaning {
    NoMeaning(fault.to_string())
}

impl MiniLm {
    /// Loads the model that is part of the program, to run on so many threads.
    ///
    /// # Errors
    /// Where the program was built without the whole files of the model.
    pub fn load(threads: usize) -> Result<Self, NoMeaning> {
        let mut tokenizer = Tokenizer::from_bytes(TOKENIZER).map_err(fault)?;
        tokenizer.with_padding(None);
        let truncation = TruncationParams { max_length: LONGEST, ..TruncationParams::default() };
        tokenizer.with_truncation(Some(truncation)).map_err(fault)?;
        let model = ModelOptions::with_all_ops().prepack_weights(true).load_static_slice(MODEL).map_err(fault)?;
        Ok(MiniLm { model, tokenizer, threads: Arc::new(ThreadPool::with_num_threads(threads)) })
    }

    /// The numbers of the tokens of a text, as the model takes them.
    ///
    /// # Errors
    /// Where the tokenizer fails.
    pub fn tokens(&self, text: &str) -> Result<Vec<i32>, NoMeaning> {
        let encoding = self.tokenizer.encode(text, true).map_err(fault)?;
        Ok(encoding.get_ids().iter().map(|id| id.cast_signed()).collect())
    }

    /// The vectors of texts of about one length.
    fn batch(&self, tokens: &[&Vec<i32>]) -> Result<Vec<Vector>, NoMeaning> {
        let longest = tokens.iter().map(|one| one.len()).max().unwrap_or_default();
        let mut ids = NdTensor::<i32, 2>::zeros([tokens.len(), longest]);
        let mut mask = NdTensor::<i32, 2>::zeros([tokens.len(), longest]);
        for (row, one) in tokens.iter().enumerate() {
            for (column, id) in one.iter().enumerate() {
                ids[[row, column]] = *id;
                mask[[row, column]] = 1;
            }
        }
        let node = |name: &str| self.model.node_id(name).map_err(fault);
        let inputs = vec![(node("input_ids")?, ids.view().into()), (node("attention_mask")?, mask.view().into())];
        let options = RunOptions::default().with_thread_pool(Some(Arc::clone(&self.threads)));
        let [output] = self.model.run_n(inputs, [node("sentence_embedding")?], Some(options)).map_err(fault)?;
        let output: NdTensor<f32, 2> = output.try_into().map_err(fault)?;
        let rows = output.iter().copied().collect::<Vec<f32>>();
        Ok(rows.chunks(DIMENSIONS).map(|row| Vector::pointing(row.to_vec())).collect())
    }
}

impl Meaning for MiniLm {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        let tokens = texts.iter().map(|text| self.tokens(text)).collect::<Result<Vec<_>, _>>()?;
        // Texts of one length together, since the shorter ones of a batch are filled up to the longest.
        let mut order: Vec<usize> = (0..texts.len()).collect();
        order.sort_by_key(|at| tokens[*at].len());
        let mut vectors = vec![None; texts.len()];
        for batch in order.chunks(BATCH) {
            let rows: Vec<&Vec<i32>> = batch.iter().map(|at| &tokens[*at]).collect();
            for (at, vector) in batch.iter().zip(self.batch(&rows)?) {
                vectors[*at] = Some(vector);
            }
        }
        vectors.into_iter().collect::<Option<Vec<_>>>().ok_or_else(|| NoMeaning("a text was left out".into()))
    }
}

//! The meaning of words, told by small models that are part of the program and run on this machine: a quick one, and one that
//! sees more and takes several times as long.
//!
//! Where the models come from and how their files are made stands in `model/README.md`.

use std::fmt;
use std::sync::{Arc, OnceLock};

use iron_kite_core::text::{DIMENSIONS, Meaning, NoMeaning, Vector};
use rten::{Model, ModelOptions, RunOptions, ThreadPool};
use rten_tensor::NdTensor;
use rten_tensor::prelude::*;
use tokenizers::{Tokenizer, TruncationParams};

/// Words beyond this many tokens (about a hundred words) are not read: an excerpt is far shorter.
const LONGEST: usize = 128;
/// So many texts go through a model together.
const BATCH: usize = 16;

/// A model, ready to use.
pub struct Encoder {
    model: Model,
    tokenizer: Tokenizer,
    threads: Arc<ThreadPool>,
}

impl fmt::Debug for Encoder {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("Encoder")
    }
}

fn fault(fault: impl fmt::Display) -> NoMeaning {
    NoMeaning(fault.to_string())
}

impl Encoder {
    /// Loads the quick model that is part of the program, to run on so many threads. It takes some tenths of a second, and
    /// holds about 140 MB then, as its weights are laid out beforehand the way that they are multiplied.
    ///
    /// # Errors
    /// Where the program was built without the whole files of the model.
    pub fn quick(threads: usize) -> Result<Self, NoMeaning> {
        let tokenizer = include_bytes!("../model/minilm-tokenizer.json");
        Encoder::load(include_bytes!("../model/minilm-w8.onnx"), tokenizer, threads)
    }

    /// Loads the model that sees more. It multiplies whole numbers, and holds about 200 MB.
    ///
    /// # Errors
    /// As [`Encoder::quick`].
    pub fn close(threads: usize) -> Result<Self, NoMeaning> {
        let tokenizer = include_bytes!("../model/mpnet-tokenizer.json");
        Encoder::load(include_bytes!("../model/mpnet-w7a8.onnx"), tokenizer, threads)
    }

    fn load(model: &'static [u8], tokenizer: &[u8], threads: usize) -> Result<Self, NoMeaning> {
        let mut tokenizer = Tokenizer::from_bytes(tokenizer).map_err(fault)?;
        tokenizer.with_padding(None);
        let truncation = TruncationParams { max_length: LONGEST, ..TruncationParams::default() };
        tokenizer.with_truncation(Some(truncation)).map_err(fault)?;
        let model = ModelOptions::with_all_ops().prepack_weights(true).load_static_slice(model).map_err(fault)?;
        Ok(Encoder { model, tokenizer, threads: Arc::new(ThreadPool::with_num_threads(threads)) })
    }

    /// The numbers of the tokens of a text, as the model takes them.
    ///
    /// # Errors
    /// Where the tokenizer fails.
    pub fn tokens(&self, text: &str) -> Result<Vec<i32>, NoMeaning> {
        let encoding = self.tokenizer.encode(text, true).map_err(fault)?;
        Ok(encoding.get_ids().iter().map(|id| id.cast_signed()).collect())
    }

    /// The vectors of texts, one each, in their order.
    ///
    /// # Errors
    /// Where the model cannot be run.
    pub fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
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

/// Both models, each loaded when the first words are to be understood by it.
#[derive(Debug)]
pub struct Models {
    threads: usize,
    quick: OnceLock<Result<Encoder, NoMeaning>>,
    close: OnceLock<Result<Encoder, NoMeaning>>,
}

impl Models {
    /// The models, to run on so many threads.
    #[must_use]
    pub fn on(threads: usize) -> Self {
        Models { threads, quick: OnceLock::new(), close: OnceLock::new() }
    }
}

impl Default for Models {
    /// On as many threads as the machine can run at once.
    fn default() -> Self {
        Models::on(std::thread::available_parallelism().map_or(1, usize::from))
    }
}

impl Meaning for Models {
    fn vectors(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        self.quick.get_or_init(|| Encoder::quick(self.threads)).as_ref().map_err(Clone::clone)?.vectors(texts)
    }

    fn closer(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        self.close.get_or_init(|| Encoder::close(self.threads)).as_ref().map_err(Clone::clone)?.vectors(texts)
    }
}

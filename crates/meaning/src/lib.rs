//! The meaning of words, told by small models that are part of the program and run on this machine: a quick one, and one that
//! sees more and takes several times as long.
//!
//! Where the models come from and how their files are made stands in `model/README.md`.

use std::fmt;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, OnceLock};

use iron_kite_core::text::{Heard, Meaning, NoMeaning, Tone, Vector};
use rten::{Model, ModelOptions, RunOptions, ThreadPool, include_external_data};
use rten_tensor::NdTensor;
use rten_tensor::prelude::*;
use tokenizers::{Tokenizer, TruncationParams};

/// Words beyond this many tokens (about a hundred words) are not read: an excerpt is far shorter.
const LONGEST: usize = 128;
/// So many texts go through a model together.
const BATCH: usize = 16;

/// Many texts give way to everybody who works, so far: nobody waits for one of them.
const GIVES_WAY: i32 = 15;

/// The threads that models run on.
#[derive(Clone)]
pub struct Threads {
    /// For what goes through a model alone, which somebody may wait for.
    all: Arc<ThreadPool>,
    /// One thread each: many batches side by side take less time than all threads on one after the other.
    lanes: Vec<Arc<ThreadPool>>,
}

impl Threads {
    /// So many of each sort. Those for what somebody waits for are as important as the thread that asks for them.
    #[must_use]
    pub fn new(count: usize) -> Self {
        let pool = |threads| Arc::new(ThreadPool::with_num_threads(threads));
        let lanes = std::thread::scope(|scope| {
            let giving_way = scope.spawn(|| {
                // Threads are as important as the one that starts them; where it may not give way, it does not.
                let _ = rustix::process::nice(GIVES_WAY);
                (0..count).map(|_| pool(1)).collect()
            });
            giving_way.join().unwrap_or_default()
        });
        Threads { all: pool(count), lanes }
    }
}

impl fmt::Debug for Threads {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("Threads")
    }
}

/// A model, ready to use.
pub struct Encoder {
    model: Model,
    tokenizer: Tokenizer,
    threads: Threads,
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
    /// Loads the quick model that is part of the program, to run on these threads. It takes some tenths of a second, and
    /// holds about 140 MB then, as its weights are laid out beforehand the way that they are multiplied.
    ///
    /// # Errors
    /// Where the program was built without the whole files of the model.
    pub fn quick(threads: &Threads) -> Result<Self, NoMeaning> {
        let model = ModelOptions::with_all_ops()
            .prepack_weights(true)
            .load_static_slice(include_bytes!("../model/minilm-w8.onnx"));
        Encoder::of(model.map_err(fault)?, include_bytes!("../model/minilm-tokenizer.json"), threads)
    }

    /// Loads the model that sees more. It multiplies whole numbers, and holds about 230 MB: its weights lie in a file of their
    /// own, so that they are part of the program and not copied out of it before they are laid out.
    ///
    /// # Errors
    /// As [`Encoder::quick`].
    pub fn close(threads: &Threads) -> Result<Self, NoMeaning> {
        let model = ModelOptions::with_all_ops()
            .prepack_weights(true)
            .external_data_static("mpnet-w7a8.data", include_external_data!("../model/mpnet-w7a8.data"))
            .load_static_slice(include_bytes!("../model/mpnet-w7a8.onnx"));
        Encoder::of(model.map_err(fault)?, include_bytes!("../model/mpnet-tokenizer.json"), threads)
    }

    fn of(model: Model, tokenizer: &[u8], threads: &Threads) -> Result<Self, NoMeaning> {
        let mut tokenizer = Tokenizer::from_bytes(tokenizer).map_err(fault)?;
        tokenizer.with_padding(None);
        let truncation = TruncationParams { max_length: LONGEST, ..TruncationParams::default() };
        tokenizer.with_truncation(Some(truncation)).map_err(fault)?;
        Ok(Encoder { model, tokenizer, threads: threads.clone() })
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
        self.each(texts, |batch, ids, mask, pool| {
            let [vectors] = self.run(ids, mask, [VECTOR], pool)?;
            Ok(batch.iter().copied().zip(rows_of(&vectors).map(Vector::pointing)).collect())
        })
    }

    /// What is understood of texts, one each, in their order: their vectors, and how they are said. Only the quick model hears that.
    ///
    /// # Errors
    /// Where the model cannot be run, or does not hear it.
    pub fn heard(&self, texts: &[&str]) -> Result<Vec<Heard>, NoMeaning> {
        self.each(texts, |batch, ids, mask, pool| {
            let [vectors, tones] = self.run(ids, mask, [VECTOR, TONE], pool)?;
            let tones = rows_of(&tones).map(|row| Tone::told(&row));
            let heard = rows_of(&vectors).zip(tones).map(|(row, tone)| Heard { meaning: Vector::pointing(row), tone });
            Ok(batch.iter().copied().zip(heard).collect())
        })
    }

    /// Runs batches of texts, and puts what comes out in the order of the texts.
    fn each<T: Send>(&self, texts: &[&str], run: impl Batch<T>) -> Result<Vec<T>, NoMeaning> {
        let tokens = texts.iter().map(|text| self.tokens(text)).collect::<Result<Vec<_>, _>>()?;
        // Texts of one length together, since the shorter ones of a batch are filled up to the longest.
        let mut order: Vec<usize> = (0..texts.len()).collect();
        order.sort_by_key(|at| tokens[*at].len());
        // The longest first, so that all lanes end at about the same time.
        let batches: Vec<&[usize]> = order.rchunks(BATCH).collect();
        let one = |batch: &[usize], pool: &Arc<ThreadPool>| {
            let (ids, mask) = filled(batch, &tokens);
            run(batch, &ids, &mask, pool)
        };
        let told = match batches[..] {
            [alone] => one(alone, &self.threads.all)?,
            _ => self.side_by_side(&batches, one)?,
        };
        let mut found: Vec<Option<T>> = texts.iter().map(|_| None).collect();
        for (at, one) in told {
            found[at] = Some(one);
        }
        found.into_iter().collect::<Option<Vec<_>>>().ok_or_else(|| NoMeaning("a text was left out".into()))
    }

    /// What comes out of many batches, each with where its text stands.
    fn side_by_side<T: Send>(
        &self,
        batches: &[&[usize]],
        one: impl Fn(&[usize], &Arc<ThreadPool>) -> Result<Vec<(usize, T)>, NoMeaning> + Sync,
    ) -> Result<Vec<(usize, T)>, NoMeaning> {
        let next = AtomicUsize::new(0);
        let lane = |pool: &Arc<ThreadPool>| {
            let mut told = Vec::new();
            while let Some(batch) = batches.get(next.fetch_add(1, Ordering::Relaxed)) {
                told.extend(one(batch, pool)?);
            }
            Ok(told)
        };
        std::thread::scope(|scope| {
            let lanes: Vec<_> = self.threads.lanes.iter().map(|pool| scope.spawn(|| lane(pool))).collect();
            let told =
                lanes.into_iter().map(|lane| lane.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic)));
            Ok(told.collect::<Result<Vec<_>, _>>()?.into_iter().flatten().collect())
        })
    }

    /// Runs the model as far as these outputs need it.
    fn run<const N: usize>(
        &self,
        ids: &Tokens,
        mask: &Tokens,
        outputs: [&str; N],
        pool: &Arc<ThreadPool>,
    ) -> Result<[NdTensor<f32, 2>; N], NoMeaning> {
        let node = |name: &str| self.model.node_id(name).map_err(fault);
        let inputs = vec![(node("input_ids")?, ids.view().into()), (node("attention_mask")?, mask.view().into())];
        let nodes = outputs.iter().map(|name| node(name)).collect::<Result<Vec<_>, _>>()?;
        let options = RunOptions::default().with_thread_pool(Some(Arc::clone(pool)));
        let told = self.model.run(inputs, &nodes, Some(options)).map_err(fault)?;
        let told = told.into_iter().map(|one| one.try_into().map_err(fault)).collect::<Result<Vec<_>, _>>()?;
        told.try_into().map_err(|_| NoMeaning("the model gave another number of outputs".into()))
    }
}

/// What the models call what comes out of them.
const VECTOR: &str = "sentence_embedding";
const TONE: &str = "tone";

/// The tokens of the texts of a batch, or 1 where one is and 0 beyond the end of a text.
type Tokens = NdTensor<i32, 2>;

/// What is done with a batch: where its texts stand, their tokens, where there are any, and the threads that it runs on.
trait Batch<T>: Fn(&[usize], &Tokens, &Tokens, &Arc<ThreadPool>) -> Result<Vec<(usize, T)>, NoMeaning> + Sync {}

impl<T, F> Batch<T> for F where
    F: Fn(&[usize], &Tokens, &Tokens, &Arc<ThreadPool>) -> Result<Vec<(usize, T)>, NoMeaning> + Sync
{
}

/// The tokens of texts of about one length, filled up to the longest.
fn filled(batch: &[usize], tokens: &[Vec<i32>]) -> (Tokens, Tokens) {
    let longest = batch.iter().map(|at| tokens[*at].len()).max().unwrap_or_default();
    let (mut ids, mut mask) = (Tokens::zeros([batch.len(), longest]), Tokens::zeros([batch.len(), longest]));
    for (row, at) in batch.iter().enumerate() {
        for (column, id) in tokens[*at].iter().enumerate() {
            ids[[row, column]] = *id;
            mask[[row, column]] = 1;
        }
    }
    (ids, mask)
}

fn rows_of(output: &NdTensor<f32, 2>) -> impl Iterator<Item = Vec<f32>> {
    let width = output.size(1).max(1);
    let numbers: Vec<f32> = output.iter().copied().collect();
    numbers.chunks(width).map(<[f32]>::to_vec).collect::<Vec<_>>().into_iter()
}

/// Both models, each loaded when the first words are to be understood by it.
#[derive(Debug)]
pub struct Models {
    threads: Threads,
    quick: OnceLock<Result<Encoder, NoMeaning>>,
    close: OnceLock<Result<Encoder, NoMeaning>>,
}

impl Models {
    /// The models, to run on so many threads.
    #[must_use]
    pub fn on(threads: usize) -> Self {
        Models { threads: Threads::new(threads), quick: OnceLock::new(), close: OnceLock::new() }
    }

    fn quick(&self) -> Result<&Encoder, NoMeaning> {
        self.quick.get_or_init(|| Encoder::quick(&self.threads)).as_ref().map_err(Clone::clone)
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
        self.quick()?.vectors(texts)
    }

    fn heard(&self, texts: &[&str]) -> Result<Vec<Heard>, NoMeaning> {
        self.quick()?.heard(texts)
    }

    fn closer(&self, texts: &[&str]) -> Result<Vec<Vector>, NoMeaning> {
        self.close.get_or_init(|| Encoder::close(&self.threads)).as_ref().map_err(Clone::clone)?.vectors(texts)
    }
}

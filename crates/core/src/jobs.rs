//! Work that takes longer than somebody waits.

use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};

use serde::{Deserialize, Serialize};

use crate::things::ProductId;

/// How far a computation is, and whether somebody stopped it: whoever does it and whoever watches it share one.
#[derive(Debug, Default)]
pub struct Watch {
    done: AtomicUsize,
    stopped: AtomicBool,
}

impl Watch {
    /// So much is done.
    #[must_use]
    pub fn done(&self) -> usize {
        self.done.load(Ordering::Relaxed)
    }

    /// So much more is done.
    pub fn advance(&self, by: usize) {
        self.done.fetch_add(by, Ordering::Relaxed);
    }

    /// It is to end as soon as it can; what comes of it is not wanted any more.
    pub fn stop(&self) {
        self.stopped.store(true, Ordering::Relaxed);
    }

    /// Nothing where it was stopped, so that a computation ends by `?`.
    #[must_use]
    pub fn goes_on(&self) -> Option<()> {
        (!self.stopped.load(Ordering::Relaxed)).then_some(())
    }
}

/// Where a job stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum JobState {
    /// It waits for its turn.
    Queued,
    /// It is being done.
    Running,
    /// It came to its end.
    Done,
    /// It could not be done; the report says why.
    Failed,
    /// Somebody stopped it; what it had written was taken back.
    Cancelled,
    /// The program ended under it; what it had written was taken back.
    Interrupted,
}

impl JobState {
    const ALL: [JobState; 6] = [
        JobState::Queued,
        JobState::Running,
        JobState::Done,
        JobState::Failed,
        JobState::Cancelled,
        JobState::Interrupted,
    ];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            JobState::Queued => "queued",
            JobState::Running => "running",
            JobState::Done => "done",
            JobState::Failed => "failed",
            JobState::Cancelled => "cancelled",
            JobState::Interrupted => "interrupted",
        }
    }

    /// The state of this name.
    #[must_use]
    pub fn named(name: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|state| state.name() == name)
    }

    /// Whether nothing more comes of it.
    #[must_use]
    pub fn is_over(self) -> bool {
        !matches!(self, JobState::Queued | JobState::Running)
    }
}

/// A job as it is stored.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Job {
    /// Its number.
    pub id: i64,
    /// The product that it is for.
    pub product_id: Option<ProductId>,
    /// Who asked for it.
    pub user_id: Option<i64>,
    /// What it is, in a few words.
    pub label: String,
    /// What is to be done, as JSON.
    pub work: String,
    /// Where it stands.
    pub state: JobState,
    /// How much of it is done.
    pub done: i64,
    /// How much there is to do; 0 while that is not known.
    pub total: i64,
    /// What it wrote, by which all of it can be taken back.
    pub change_set_id: Option<i64>,
    /// What came of it, as JSON.
    pub report: Option<String>,
    /// When it was asked for, in milliseconds since 1970.
    pub asked_at: i64,
    /// When it ended.
    pub ended_at: Option<i64>,
}

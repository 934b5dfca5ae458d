//! Large files that pass through: they stand in a file without a name, in the folder of the workspace, and never in memory. It
//! goes with whoever holds it, also where the program ends.

use std::fs::File;
use std::io::{ErrorKind, Read, Seek, Write};
use std::path::Path;

use actix_web::body::SizedStream;
use actix_web::error::PayloadError;
use actix_web::web::{self, Bytes};
use futures_util::stream::{StreamExt, unfold};
use iron_kite_core::problem::Problem;
use tempfile::tempfile_in;

use crate::problem::not_arrived;

/// So much is written or read at once.
const PART: usize = 256 * 1024;

/// A new file of that sort.
pub(crate) fn file_in(dir: &Path) -> Result<File, Problem> {
    tempfile_in(dir).map_err(|fault| on_disk(&fault))
}

/// Takes a body in.
pub(crate) async fn taken_in(dir: &Path, mut body: web::Payload) -> Result<File, Problem> {
    let mut file = file_in(dir)?;
    let mut waiting = Vec::new();
    while let Some(part) = body.next().await {
        waiting.extend_from_slice(&part.map_err(|fault| too_large_or_not_arrived(&fault))?);
        if waiting.len() >= PART {
            (file, waiting) = written(file, waiting).await?;
        }
    }
    let (mut file, _) = written(file, waiting).await?;
    file.rewind().map_err(|fault| on_disk(&fault))?;
    Ok(file)
}

fn too_large_or_not_arrived(fault: &PayloadError) -> Problem {
    match fault {
        PayloadError::Overflow => crate::guard::too_large(MOST_WHOLE),
        fault => not_arrived(fault),
    }
}

async fn written(mut file: File, mut bytes: Vec<u8>) -> Result<(File, Vec<u8>), Problem> {
    beside(move || {
        file.write_all(&bytes)?;
        bytes.clear();
        Ok((file, bytes))
    })
    .await
}

/// Gives a file out from where it stands, with its length.
pub(crate) fn given_out(
    file: File,
    length: u64,
) -> SizedStream<impl futures_util::Stream<Item = Result<Bytes, actix_web::Error>>> {
    let parts = unfold(Some(file), |file| async move {
        let mut file = file?;
        let read = beside(move || {
            let mut part = vec![0; PART];
            let length = file.read(&mut part)?;
            part.truncate(length);
            Ok((part, file))
        });
        match read.await {
            Ok((part, _)) if part.is_empty() => None,
            Ok((part, file)) => Some((Ok(Bytes::from(part)), Some(file))),
            Err(problem) => Some((Err(crate::problem::ApiProblem(problem).into()), None)),
        }
    });
    SizedStream::new(length, parts)
}

/// On a thread that may wait.
async fn beside<T: Send + 'static>(work: impl FnOnce() -> std::io::Result<T> + Send + 'static) -> Result<T, Problem> {
    let done = web::block(work).await.map_err(|fault| Problem::Internal(fault.to_string()))?;
    done.map_err(|fault| on_disk(&fault))
}

fn on_disk(fault: &std::io::Error) -> Problem {
    match fault.kind() {
        ErrorKind::StorageFull | ErrorKind::QuotaExceeded | ErrorKind::FileTooLarge => Problem::DiskFull,
        _ => Problem::Internal(format!("a file that passes through: {fault}")),
    }
}

/// The largest file of a whole workspace.
pub(crate) const MOST_WHOLE: usize = 8 * 1024 * 1024 * 1024;

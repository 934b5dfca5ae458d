//! The sound or the picture of a conversation, beside its words.

use iron_kite_core::formats::media::{is_beside, is_recording};
use iron_kite_core::listen::FeedbackItem;
use iron_kite_core::problem::Problem;
use iron_kite_core::role::Right;
use iron_kite_core::things::{ItemId, ProductId};
use iron_kite_store::queries::attachments::Attachment;
use iron_kite_store::{Rows, Tx};
use serde::Deserialize;
use serde_json::json;
use utoipa::ToSchema;

use super::bring_in::BroughtPart;
use crate::attachments::PutIn;
use crate::call::{App, Call, Saved, fields};
use crate::jobs::{Ended, Running};

/// Which recording stands beside an item.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
pub struct SetRecording {
    /// The revision of the item that was seen.
    pub rev: i64,
    /// The file that was put in; nothing takes the present one away.
    pub recording: Option<i64>,
}

/// Puts a recording beside an item, or takes it away.
///
/// # Errors
/// Where the file is nothing that is heard or watched, or the item was changed since.
pub fn set_recording(app: &App, call: &Call, item: ItemId, set: SetRecording) -> Result<Saved, Problem> {
    app.save(call, Right::Listen, move |tx| {
        tx.expect(item.thing(), set.rev)?;
        if let Some(id) = set.recording
            && !is_recording(&tx.rows().attachment(id)?.media_type)
        {
            return Err(Problem::invalid(
                "/recording",
                "Choose a file with sound or a film: MP3, M4A, WAV, OGG, MP4, WebM.",
            ));
        }
        tx.label(match set.recording {
            Some(_) => format!("put a recording beside {item}"),
            None => format!("took the recording of {item} away"),
        });
        put_beside(tx, item, set.recording)?;
        Ok(Some(item.thing()))
    })
}

fn put_beside(tx: &mut Tx<'_>, item: ItemId, recording: Option<i64>) -> Result<(), Problem> {
    Ok(tx.set(item.thing(), &fields(json!({ "recording": recording })))?)
}

/// The recording beside an item.
pub(super) fn recording_of(rows: &Rows<'_>, item: &FeedbackItem) -> Result<Option<PutIn>, Problem> {
    let Some(id) = item.recording else { return Ok(None) };
    let Attachment { name, media_type, .. } = rows.attachment(id)?;
    Ok(Some(PutIn { id, name, media_type }))
}

/// Puts recordings that were just brought in beside the words of the same name, whether those came now or before. An item
/// that has a recording keeps it.
pub(super) fn join(running: &mut Running<'_>, product: ProductId, parts: &[BroughtPart]) -> Result<(), Ended> {
    let recordings: Vec<(String, i64)> = parts
        .iter()
        .filter_map(|part| Some((part.name.clone(), part.kept.as_ref()?)))
        .filter(|(_, kept)| is_recording(&kept.media_type))
        .map(|(name, kept)| (name, kept.id))
        .collect();
    if recordings.is_empty() {
        return Ok(());
    }
    Ok(running.write(move |tx| {
        for (item, source) in tx.rows().items_without_recording(product)? {
            if let Some((_, id)) = recordings.iter().find(|(name, _)| is_beside(name, &source)) {
                put_beside(tx, item, Some(*id))?;
            }
        }
        Ok(())
    })?)
}

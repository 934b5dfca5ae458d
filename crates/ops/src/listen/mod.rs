//! Listen: bringing in feedback, reading it, and making findings of it.

mod accounts;
mod alike;
mod bring_in;
mod channels;
mod findings;
mod items;
mod minds;
mod notes;
mod people;
mod put_down;
mod reading;
mod studies;
mod take_in;

pub use accounts::{AccountsIn, bring_in_accounts};
pub(crate) use alike::alike;
pub(crate) use bring_in::bring_in;
pub use bring_in::{AtOnce, BringIn, BroughtIn, BroughtPart, Imported, bring_in_file, brought_in, import, start};
pub use channels::{
    ChannelChange, ChannelView, NewChannel, add_channel, change_channel, channels, look_now, remove_channel,
};
pub(crate) use channels::{look, queue_due};
pub use findings::{FindingChange, FindingView, NewFinding, add_finding, change_finding, finding_excerpts, findings};
pub use items::{ExcerptView, ItemQuery, ItemView, ItemsPage, item, items, read_item};
pub(crate) use minds::Minds;
pub use notes::{NewNote, add_note};
pub use people::{ErasedView, LikelySame, Merge, Split, WhoKind, erase_person, likely_same, merge, split};
pub use put_down::{
    Counts, DocumentPreview, Holds, MOST_BYTES, PartAsk, PartView, PutDown, TablePreview, counts, put_down,
};
pub use reading::{forget_meanings, keep_meanings, kept_meanings, read_now};
pub(crate) use reading::{queue_unread, read_unread, rest_from_reading};
pub use studies::{NewConversation, StudyTemplateView, StudyView, keep_conversation, study, study_templates};

//! Listen: bringing in feedback, reading it, and making findings of it.

mod accounts;
mod alike;
mod ask;
mod bring_in;
mod channels;
mod checking;
mod closer;
mod deciding;
mod erasing;
mod findings;
mod grouping;
mod items;
mod mending;
mod minds;
mod notes;
mod pages;
mod people;
mod pictures;
mod placing;
mod put_down;
mod quoting;
mod reading;
mod recordings;
mod report;
mod runs;
mod splitting;
mod studies;
mod take_in;
mod taking;
mod telling;

pub use accounts::{AccountsIn, bring_in_accounts};
pub(crate) use alike::{alike, question};
pub(crate) use ask::answering;
pub use ask::{Answering, Evidence, ask};
pub(crate) use bring_in::bring_in;
pub use bring_in::{
    AtOnce, BringIn, BroughtIn, BroughtPart, Imported, PartAhead, bring_in_file, brought_in, import, look_ahead, start,
};
pub use channels::{
    ChannelChange, ChannelView, NewChannel, add_channel, change_channel, channels, look_now, remove_channel, seal_keys,
};
pub(crate) use channels::{look, queue_due};
pub use checking::{AgreementView, CheckQuery, CheckQueue, CheckView, NewCheck, agreements, check, to_check};
pub use closer::look_closer_now;
pub use deciding::{MergeFindings, Narrower, SplitFinding, merge_findings, narrower, split_finding};
pub use erasing::{Erase, ErasedView, ErasureAhead, erase_person, erasure_ahead, finish_erasing};
pub use findings::{
    FindingChange, FindingToldView, FindingView, NewFinding, StandingIdea, add_finding, change_finding, findings,
};
pub(crate) use grouping::group_excerpts;
pub(crate) use items::with_findings;
pub use items::{ExcerptView, ItemQuery, ItemView, ItemsPage, item, items, read_item};
pub use mending::{ChosenWords, choose_words};
pub(crate) use minds::Minds;
pub use notes::{NewNote, add_note};
pub(crate) use pages::pages_alike;
pub use people::{LikelySame, Merge, Split, WhoKind, likely_same, merge, split};
pub(crate) use pictures::{CONTRARY, STANDS_FOR, SaidOf, day};
pub use pictures::{
    ExcerptQuery, ExcerptsPage, MoverView, OverviewQuery, SaidOverview, SaidPicture, finding_excerpts, finding_picture,
    said_overview,
};
pub use put_down::{
    Counts, DocumentPreview, Holds, MOST_BYTES, PartAsk, PartView, PutDown, ReadAnew, TablePreview, counts, put_down,
    read_anew,
};
pub use quoting::{NewQuotes, send_quotes};
pub use reading::{forget_meanings, keep_meanings, kept_meanings, read_now};
pub(crate) use reading::{look_through, queue_unread, rest_from_reading};
pub use recordings::{SetRecording, set_recording};
pub use report::{ReportPage, ReportQuery, report, report_docx, report_markdown};
pub use runs::{NewRun, RunFindingView, RunLine, RunView, Take, run, runs, take_run, try_run};
pub use studies::{NewConversation, StudyTemplateView, StudyView, keep_conversation, study, study_templates};
pub(crate) use take_in::{add_excerpt, take_one};
pub(crate) use taking::{TakeRun, take};

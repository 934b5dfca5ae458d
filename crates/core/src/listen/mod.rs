//! Listen: what people said, in items, excerpts and findings.

mod accounts;
mod agreement;
mod channel;
mod checking;
mod colours;
mod columns;
mod cover;
mod document;
mod engine;
mod erasing;
mod excerpts;
mod feedback;
mod forms;
mod glossary;
mod grouping;
mod import;
mod interview;
mod judgements;
mod key_points;
mod kinds;
mod learning;
mod measures;
mod mending;
mod movement;
mod overview;
mod phrases;
mod picture;
mod proposal;
mod quoting;
mod repeats;
mod report;
mod same;
mod sentiment;
mod speakers;
mod study;
mod templates;
mod titles;
mod volume;

pub use accounts::{AccountRow, AccountsReport, accounts_of};
pub use agreement::{Agreement, LEAST_JUDGED, Strength, agreement};
pub use channel::{Channel, ChannelKind, ChannelState, LONGEST_MINUTES, check_channel, is_due};
pub use checking::{CheckAbout, CheckWay, Checking, NO_FINDING, UNSURE, Verdict};
pub use columns::{Columns, propose_columns};
pub use cover::{MARK, cover, cover_words};
pub use document::{Document, Turn, speaker_of, turns_of};
pub use engine::{ENGINE, Reader, Told, rating_contradicts};
pub use erasing::{Prose, Said, holds, is_said, is_telling, prose};
pub use excerpts::{Reading, SPLIT, SplitAnew, glance, read_feedback, read_item, split_anew};
pub use feedback::{
    Account, Excerpt, FeedbackItem, FeedbackKind, Finding, FindingState, ItemLine, Person, Source, WhoSaid,
};
pub use glossary::{Glossary, Term};
pub use grouping::{Decided, Member, Nearest, STEPS, Strictness, group, group_watched, nearest_agree, sure_of};
pub use import::{
    ChangedRow, ImportReport, ImportRow, ItemRows, LeftOut, MOST_CHARACTERS, digest_text, rows_of, rows_of_documents,
};
pub use interview::{MOST_TAGS, NoteLine, written};
pub use key_points::{has_key_points, key_points};
use kinds::kind_told;
pub use kinds::{KindTold, kind_features, kind_of};
pub use learning::{Judged, LEARNS_FROM, OwnKinds, learned_from};
pub use measures::{Confusion, ari, kept_together, nmi, pearson};
pub use mending::{Mending, mend};
pub use movement::{BEFORE_DAYS, Moved, Movement, RECENT_DAYS, Volume, compared_days, growth, moved, volume_of};
pub use overview::standing_for;
pub use phrases::{Phrases, key_phrases, telling_words};
pub use picture::{
    FEW_PEOPLE, Frustration, Heap, OLD_DAYS, OverTime, Part, Stretch, Unknown, Voice, frustration, mean_of, over_time,
    parts, unknown,
};
pub use proposal::{Known, LEAST_EXCERPTS, Pairs, Proposal, Proposed, propose};
pub use quoting::with_quotes;
pub use repeats::{Memory, REMEMBERED, Wording};
pub use report::{Quote, Report, Told as ToldFinding, report};
pub use same::{Likely, Named, likely_accounts, likely_people};
pub use sentiment::{NEUTRAL_COUNTS, Sides, sentiment_features, sentiment_of, side_of, tone_feature, tone_score};
pub use speakers::{Speakers, speakers_of};
pub use study::{GuideQuestion, Study, questions_of};
pub use templates::{STUDY_TEMPLATES, StudyTemplate};
pub use titles::{Candidate, fragment, plain, title_of};
pub use volume::{COLOURED, Side, Spread, WEEKS, contrary, spread, weekly};

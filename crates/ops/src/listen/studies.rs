//! Studies: what is asked in them, and the notes that are taken while somebody answers.

use iron_kite_core::listen::{
    GuideQuestion, ImportRow, NoteLine, STUDY_TEMPLATES, Study, StudyTemplate, questions_of, written,
};
use iron_kite_core::problem::{Fault, Problem};
use iron_kite_core::role::Right;
use iron_kite_core::things::{ProductId, StudyId};
use iron_kite_store::Rows;
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::notes::{keep_words, name_of};
use super::take_in::How;
use crate::call::{App, Call, Saved};

/// The source that all notes of conversations come from.
const SOURCE: &str = "conversations";
/// The most lines of one conversation.
const MOST_LINES: usize = 5_000;
/// The longest text, in characters.
const LONGEST: usize = 200_000;

/// A study with the questions of its guide.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StudyView {
    /// The study.
    pub study: Study,
    /// What is asked.
    pub questions: Vec<GuideQuestion>,
}

/// A kind of research with the questions of its guide.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StudyTemplateView {
    /// The kind of research.
    #[serde(flatten)]
    pub template: StudyTemplate,
    /// What is asked.
    pub questions: Vec<GuideQuestion>,
}

/// The notes of a conversation.
#[derive(Debug, Clone, Deserialize, ToSchema)]
pub struct NewConversation {
    /// The study that it is part of.
    pub study: StudyId,
    /// Who was asked.
    pub person: Option<String>,
    /// The organisation of that person.
    pub account: Option<String>,
    /// The day, `YYYY-MM-DD`; today where left out.
    pub said_on: Option<String>,
    /// What was said and seen.
    pub lines: Vec<NoteLine>,
}

/// The kinds of research that a study can begin with.
///
/// # Errors
/// Where the right is missing.
pub fn study_templates(app: &App, call: &Call) -> Result<Vec<StudyTemplateView>, Problem> {
    let view = |template: StudyTemplate| StudyTemplateView { questions: template.questions(), template };
    app.read(call, Right::Read, |_| Ok(STUDY_TEMPLATES.into_iter().map(view).collect()))
}

/// A study and what is asked in it.
///
/// # Errors
/// Where there is no such study.
pub fn study(app: &App, call: &Call, id: StudyId) -> Result<StudyView, Problem> {
    app.read(call, Right::Read, |rows| {
        let study: Study = rows.get(id)?;
        Ok(StudyView { questions: questions_of(study.guide.as_deref().unwrap_or_default()), study })
    })
}

/// Keeps the notes of a conversation as one feedback item of the study. Whoever was asked takes part from now on.
///
/// # Errors
/// Where there are no words, or too many; refused where the same was kept already.
pub fn keep_conversation(app: &App, call: &Call, new: NewConversation) -> Result<Saved, Problem> {
    let study: Study = app.read(call, Right::Listen, |rows| Ok(rows.get(new.study)?))?;
    let mut faults = Vec::new();
    let (text, turns) = written(&new.lines);
    if text.is_empty() || new.lines.len() > MOST_LINES || text.chars().count() > LONGEST {
        let words = format!("Write at least one line, and at most {MOST_LINES} of them with {LONGEST} characters.");
        faults.push(Fault::new("/lines", words));
    }
    let said_on = new.said_on.as_deref().map_or(Ok(call.today), str::parse::<Date>);
    if said_on.is_err() {
        faults.push(Fault::new("/said_on", "Write the day such as 2026-03-31."));
    }
    let (Ok(said_on), true) = (said_on, faults.is_empty()) else { return Err(Problem::Invalid(faults)) };
    let person = name_of(new.person);
    let title = format!("{}: {}", person.as_deref().unwrap_or("nameless"), study.title);
    let row = ImportRow {
        number: 1,
        said_on: Some(said_on.to_string()),
        person,
        account: name_of(new.account),
        turns: serde_json::to_string(&turns).ok(),
        extra: Some(serde_json::json!({ "title": title }).to_string()),
        text,
        ..ImportRow::default()
    };
    let how = How { study: Some(study.id), ..How::default() };
    keep_words(app, call, study.product_id, SOURCE, row, how, "kept the notes of a conversation")
}

/// A study is of the product that the words are about.
pub(super) fn check_study(rows: &Rows<'_>, product: ProductId, study: StudyId) -> Result<(), Problem> {
    let study: Study = rows.get(study)?;
    if study.product_id == product {
        return Ok(());
    }
    Err(Problem::invalid("/study", "This study is of another product."))
}

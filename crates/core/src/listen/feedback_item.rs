//! A feedback item: one thing that somebody gave us.

use serde::{Deserialize, Serialize};

use crate::kind::prelude::*;
use crate::things::AccountId;
use crate::things::ItemId;
use crate::things::PersonId;
use crate::things::ProductId;
use crate::things::SourceId;
use crate::things::StudyId;

/// One thing that somebody gave us.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FeedbackItem {
    /// Its number.
    pub id: ItemId,
    /// Its revision.
    pub rev: i64,
    /// The product that it speaks about.
    pub product_id: ProductId,
    /// Where it came from.
    pub source_id: SourceId,
    /// The words, as they came.
    pub text: String,
    /// The day it was said, `YYYY-MM-DD`.
    pub said_on: Option<String>,
    /// Who said it.
    pub person_id: Option<PersonId>,
    /// The account that it was said for.
    pub account_id: Option<AccountId>,
    /// The rating that came with it, on the source's own scale.
    pub rating: Option<f64>,
    /// The columns that were not mapped, as a JSON object in text.
    pub extra: Option<String>,
    /// What tells it from its duplicates.
    pub digest: String,
    /// What its source knows it by.
    #[serde(default)]
    pub source_key: Option<String>,
    /// Who speaks where, as JSON in text.
    #[serde(default)]
    pub turns: Option<String>,
    /// The study that it was said in.
    #[serde(default)]
    pub study_id: Option<StudyId>,
    /// The number of the file with the sound or the picture of it.
    #[serde(default)]
    pub recording: Option<i64>,
}

impl FeedbackItem {
    /// What a document or a mail is called; nothing for what is only words.
    #[must_use]
    pub fn title(&self) -> Option<String> {
        let extra: serde_json::Value = serde_json::from_str(self.extra.as_deref()?).ok()?;
        extra["title"].as_str().filter(|title| !title.trim().is_empty()).map(str::to_owned)
    }
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "feedback_item",
    singular: "feedback item",
    plural: "feedback items",
    letter: Some('F'),
    stage: Stage::Listen,
    list: Some(List { heading: "Feedback", title: "text" }),
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("source_id", ThingKind::Source),
        Relation::to("person_id", ThingKind::Person).field("person").back("items"),
        Relation::to("account_id", ThingKind::Account).field("account").back("items"),
        Relation::to("study_id", ThingKind::Study).field("study_id").back("items").stays().line(Line::Below),
    ],
    prose: &[Prose::Text("text"), Prose::Values("extra"), Prose::Values("turns"), Prose::Values("own")],
    is_said: true,
    editable: &[may("study_id", Holds::Thing(ThingKind::Study))],
    rights: Rights {
        add: Adding::Comes {
            code: "comes-with-feedback",
            words: "Feedback come with what people said. Bring it in, or find it, in Listen.",
        },
        change: Right::Listen,
        remove: None,
    },
    ..Description::BASE
};

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_title_is_one_only_where_it_says_something() {
        let titled = |extra: Option<&str>| {
            let item = serde_json::json!({
                "id": 1, "rev": 1, "product_id": 1, "source_id": 1, "text": "Off.", "said_on": null, "person_id": null,
                "account_id": null, "rating": null, "extra": extra, "digest": "",
            });
            serde_json::from_value::<FeedbackItem>(item).unwrap().title()
        };
        assert_eq!(titled(Some(r#"{"title": "The dairy"}"#)).as_deref(), Some("The dairy"));
        for none in [None, Some("{}"), Some(r#"{"title": " "}"#), Some(r#"{"title": 3}"#), Some("no JSON")] {
            assert_eq!(titled(none), None, "{none:?}");
        }
    }
}

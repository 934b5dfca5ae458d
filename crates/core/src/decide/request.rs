//! Requests: what customers and colleagues ask for by a form, and what becomes of it.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};

use super::IdeaState;
use super::request_form::BY_FORM;
use crate::kind::prelude::*;
use crate::problem::Fault;
use crate::things::{FormId, ItemId, ProductId, RequestId};

/// What a field of a form asks for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Asks {
    /// What the sender wants said: every form has it once.
    Words,
    /// More in the sender's own words; it is a part of what was said.
    More,
    /// The sender's name.
    Name,
    /// The sender's mail address, by which somebody who is known is recognised once it is proved.
    Address,
    /// The sender's organisation.
    Account,
    /// One line, kept beside what was said.
    Line,
    /// One of some choices, kept beside what was said.
    Choice,
}

/// A field of a form.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FormField {
    /// What it is asked for by; unique in its form.
    pub key: String,
    /// What it asks for.
    pub asks: Asks,
    /// The question as the sender reads it.
    pub label: String,
    /// What helps to answer.
    #[serde(default)]
    pub help: Option<String>,
    /// Whether it must be answered.
    #[serde(default)]
    pub must: bool,
    /// The choices, for one of some.
    #[serde(default)]
    pub choices: Vec<String>,
}

/// What became of a request, as its sender is told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RequestState {
    /// It is there.
    Received,
    /// It is being thought about.
    Weighed,
    /// It will be done.
    Planned,
    /// It is done.
    Done,
    /// It will not be done, for now.
    Declined,
}

impl RequestState {
    /// All of them, in their order.
    pub const ALL: [RequestState; 5] = [
        RequestState::Received,
        RequestState::Weighed,
        RequestState::Planned,
        RequestState::Done,
        RequestState::Declined,
    ];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            RequestState::Received => "received",
            RequestState::Weighed => "weighed",
            RequestState::Planned => "planned",
            RequestState::Done => "done",
            RequestState::Declined => "declined",
        }
    }

    /// The names of all.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        Self::ALL.into_iter().map(RequestState::name).collect()
    }
}

/// How far it is proved that a sender is who they say.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Proof {
    /// It is only their word: it counts for nobody.
    Unproved,
    /// The address is theirs: they opened what was sent to it. The organisation that they named is only their word still.
    Address,
    /// Somebody of the team stands for it.
    Confirmed,
}

impl Proof {
    /// All of them, in their order.
    pub const ALL: [Proof; 3] = [Proof::Unproved, Proof::Address, Proof::Confirmed];

    /// The name in the store and the API.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Proof::Unproved => "unproved",
            Proof::Address => "address",
            Proof::Confirmed => "confirmed",
        }
    }

    /// The names of all.
    #[must_use]
    pub fn names() -> Vec<&'static str> {
        Self::ALL.into_iter().map(Proof::name).collect()
    }
}

/// A request that came in by a form. What it says stands in its feedback item.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Request {
    /// Its number.
    pub id: RequestId,
    /// Its revision.
    pub rev: i64,
    /// The product that it is about.
    pub product_id: ProductId,
    /// The form; nothing once that was removed.
    pub form_id: Option<FormId>,
    /// What was said.
    pub item_id: ItemId,
    /// The day it came in, `YYYY-MM-DD`.
    pub came_on: String,
    /// What somebody says becomes of it; it follows from its ideas where nobody does.
    pub state: Option<RequestState>,
    /// What the sender is told beside it.
    pub reply: Option<String>,
    /// The name that the sender gave.
    #[serde(default)]
    pub sender_name: Option<String>,
    /// The mail address that the sender gave.
    #[serde(default)]
    pub sender_address: Option<String>,
    /// The organisation that the sender named.
    #[serde(default)]
    pub sender_account: Option<String>,
    /// How far that is proved; nothing where the sender gave none of it.
    #[serde(default)]
    pub proof: Option<Proof>,
}

/// What this kind of thing is.
pub(crate) const KIND: Description = Description {
    name: "request",
    singular: "request",
    plural: "requests",
    letter: Some('Q'),
    stage: Stage::Decide,
    list: Some(List { heading: "Requests", title: "words" }),
    product: WayToProduct::Column,
    relations: &[
        Relation::to("product_id", ThingKind::Product),
        Relation::to("form_id", ThingKind::RequestForm).field("form_id").back("requests").stays(),
        // What somebody asked for by a form is said in an item.
        Relation::to("item_id", ThingKind::FeedbackItem).field("item_id").goes().line(Line::Above),
    ],
    searched: Some(Searched {
        slot: 18,
        title: SearchedTitle::Of { relation: "item_id", column: "text" },
        body: &["reply"],
    }),
    prose: &[
        Prose::Text("reply"),
        Prose::Text("sender_name"),
        Prose::Text("sender_address"),
        Prose::Text("sender_account"),
        Prose::Values("own"),
    ],
    editable: &[may("state", Holds::OneOf(RequestState::names)), may("reply", Holds::Text(NOTE))],
    rights: Rights { add: BY_FORM, change: Right::Edit, remove: None },
    ..Description::BASE
};

impl Request {
    /// Who the sender says to be, where nobody proved it.
    #[must_use]
    pub fn unproved(&self) -> Option<String> {
        let said = [&self.sender_name, &self.sender_address, &self.sender_account];
        let said: Vec<&str> = said.into_iter().filter_map(|one| one.as_deref()).collect();
        (self.proof == Some(Proof::Unproved) && !said.is_empty()).then(|| said.join(", "))
    }
}

/// So many fields at most.
const MOST_FIELDS: usize = 20;
/// The longest answer, in characters.
pub const LONGEST_ANSWER: usize = 5_000;
/// The longest answer in one line.
const LONGEST_LINE: usize = 300;

/// What a form asks before anybody changes it.
#[must_use]
pub fn first_fields() -> Vec<FormField> {
    let field = |key: &str, asks: Asks, label: &str, help: &str, must: bool| FormField {
        key: key.into(),
        asks,
        label: label.into(),
        help: (!help.is_empty()).then(|| help.to_owned()),
        must,
        choices: Vec::new(),
    };
    vec![
        field("words", Asks::Words, "What is in your way?", "As you would tell it to somebody beside you.", true),
        field("instead", Asks::More, "What do you do instead today?", "", false),
        field("name", Asks::Name, "Your name", "", false),
        field("address", Asks::Address, "Your mail address", "So that we know you again.", false),
        field("account", Asks::Account, "Your organisation", "", false),
    ]
}

/// Checks the fields of a form. Linear.
///
/// # Errors
/// Every fault, at its field.
pub fn check_form(fields: &[FormField]) -> Result<(), Vec<Fault>> {
    let mut faults = Vec::new();
    if fields.len() > MOST_FIELDS {
        faults.push(Fault::new(
            "/fields",
            format!("A form has at most {MOST_FIELDS} fields; whoever asks is in a hurry."),
        ));
    }
    let words: Vec<_> = fields.iter().filter(|field| field.asks == Asks::Words).collect();
    if words.len() != 1 || !words[0].must {
        faults
            .push(Fault::new("/fields", "A form asks once for what the sender wants said, and that must be answered."));
    }
    let (mut keys, mut once) = (BTreeSet::new(), BTreeSet::new());
    for (n, field) in fields.iter().enumerate() {
        let mut fault = |at: &str, words: &str| faults.push(Fault::new(format!("/fields/{n}/{at}"), words));
        let plain = |c: char| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '_';
        if field.key.is_empty() || field.key.len() > 40 || !field.key.chars().all(plain) {
            fault("key", "A key has up to 40 small letters and digits.");
        }
        if !keys.insert(&field.key) || field.key == TRAP {
            fault("key", "Another field has this key.");
        }
        if field.label.trim().is_empty() || field.label.chars().count() > LONGEST_LINE {
            fault("label", "Write the question, in at most 300 characters.");
        }
        if field.help.as_ref().is_some_and(|help| help.chars().count() > LONGEST_LINE) {
            fault("help", "What helps has at most 300 characters.");
        }
        let alone = matches!(field.asks, Asks::Name | Asks::Address | Asks::Account);
        if alone && !once.insert(field.asks) {
            fault("asks", "This is asked for once.");
        }
        let wanted = if field.asks == Asks::Choice { 2..=30 } else { 0..=0 };
        let mut distinct: Vec<&str> = field.choices.iter().map(|choice| choice.trim()).collect();
        distinct.sort_unstable();
        distinct.dedup();
        let named = distinct.iter().all(|choice| !choice.is_empty() && choice.chars().count() <= LONGEST_LINE);
        if !wanted.contains(&field.choices.len()) || distinct.len() != field.choices.len() || !named {
            fault("choices", "A choice has 2 to 30 different answers; other fields have none.");
        }
    }
    if faults.is_empty() { Ok(()) } else { Err(faults) }
}

/// The field that people do not see and only programs fill in.
pub const TRAP: &str = "website";

/// A form that was filled in.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Filled {
    /// What was said.
    pub text: String,
    /// By whom.
    pub name: Option<String>,
    /// The mail address.
    pub address: Option<String>,
    /// The organisation.
    pub account: Option<String>,
    /// What else was answered, by its question.
    pub beside: Vec<(String, String)>,
}

/// Reads the answers to a form. Answers to questions that it does not ask are left out. O(fields · log answers).
///
/// # Errors
/// Every answer at fault, with what would be right.
pub fn fill(fields: &[FormField], answers: &BTreeMap<String, String>) -> Result<Filled, Vec<Fault>> {
    let (mut filled, mut faults) = (Filled::default(), Vec::new());
    let mut said = Vec::new();
    for field in fields {
        let answer = answers.get(&field.key).map_or("", |answer| answer.trim());
        let at = format!("/answers/{}", field.key);
        if answer.is_empty() {
            if field.must {
                faults.push(Fault::new(at, format!("“{}” must be answered.", field.label)));
            }
            continue;
        }
        match read(field, answer) {
            Err(words) => faults.push(Fault::new(at, words)),
            Ok(answer) => match field.asks {
                // What is asked for first is said first, wherever it stands.
                Asks::Words => said.insert(0, answer),
                Asks::More => said.push(answer),
                Asks::Name => filled.name = Some(answer),
                Asks::Address => filled.address = Some(answer),
                Asks::Account => filled.account = Some(answer),
                Asks::Line | Asks::Choice => filled.beside.push((field.label.clone(), answer)),
            },
        }
    }
    filled.text = said.join("\n\n");
    if faults.is_empty() { Ok(filled) } else { Err(faults) }
}

fn read(field: &FormField, answer: &str) -> Result<String, String> {
    let long = matches!(field.asks, Asks::Words | Asks::More);
    let most = if long { LONGEST_ANSWER } else { LONGEST_LINE };
    let length = answer.chars().count();
    if length > most {
        return Err(format!("“{}” takes at most {most} characters; this has {length}.", field.label));
    }
    if answer.chars().any(|c| c.is_control() && !(long && matches!(c, '\n' | '\r' | '\t'))) {
        return Err(format!("“{}” holds a character that is no text.", field.label));
    }
    match field.asks {
        Asks::Words if !answer.chars().any(char::is_alphanumeric) => {
            Err(format!("“{}” must be answered in words.", field.label))
        }
        Asks::Address if !is_address(answer) => Err("Write the mail address such as ann@hask.example.".into()),
        Asks::Choice if !field.choices.iter().any(|choice| choice == answer) => {
            Err(format!("“{}” takes one of its choices.", field.label))
        }
        _ => Ok(answer.replace("\r\n", "\n")),
    }
}

/// Whether it is a mail address, as far as one can see.
fn is_address(text: &str) -> bool {
    let Some((name, host)) = text.rsplit_once('@') else { return false };
    !name.is_empty()
        && !text.contains(|c: char| c.is_whitespace() || matches!(c, '<' | '>' | '"' | ',' | ';'))
        && !name.contains('@')
        && host.contains('.')
        && host.split('.').all(|part| !part.is_empty())
}

/// So much of a request names an idea, in characters.
const TITLE: usize = 90;

/// What an idea is called that is made of a request: its first line, cut between words where it is long.
#[must_use]
pub fn called(text: &str) -> String {
    let line = text.lines().find(|line| !line.trim().is_empty()).unwrap_or_default().trim();
    if line.chars().count() <= TITLE {
        return line.to_owned();
    }
    let cut: String = line.chars().take(TITLE).collect();
    format!("{} …", cut.rsplit_once(' ').map_or(cut.as_str(), |(whole, _)| whole))
}

/// What became of a request: what somebody says of it, else what became of the furthest of its ideas.
#[must_use]
pub fn became(said: Option<RequestState>, ideas: &[IdeaState]) -> RequestState {
    let of = |idea: &IdeaState| match idea {
        IdeaState::SetAside => (0, RequestState::Declined),
        IdeaState::Raw | IdeaState::Weighing => (1, RequestState::Weighed),
        IdeaState::Chosen => (2, RequestState::Planned),
        IdeaState::Shipped => (3, RequestState::Done),
    };
    let furthest = ideas.iter().map(of).max_by_key(|(rank, _)| *rank).map(|(_, state)| state);
    said.or(furthest).unwrap_or(RequestState::Received)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn answers(pairs: &[(&str, &str)]) -> BTreeMap<String, String> {
        pairs.iter().map(|(key, answer)| ((*key).to_owned(), (*answer).to_owned())).collect()
    }

    #[test]
    fn a_form_that_nobody_changed_is_sound_and_can_be_filled_in() {
        let mut fields = first_fields();
        assert_eq!(check_form(&fields), Ok(()));
        fields.push(FormField {
            key: "boat".into(),
            asks: Asks::Choice,
            label: "Which boat?".into(),
            help: None,
            must: false,
            choices: vec!["Tern".into(), "Hask".into()],
        });
        let filled = fill(
            &fields,
            &answers(&[
                ("instead", " I call.\r\nTwice. "),
                ("words", "The deck was full."),
                ("address", "ann@hask.example"),
                ("boat", "Hask"),
                ("unasked", "x"),
            ]),
        );
        let expected = Filled {
            text: "The deck was full.\n\nI call.\nTwice.".into(),
            address: Some("ann@hask.example".into()),
            beside: vec![("Which boat?".into(), "Hask".into())],
            ..Filled::default()
        };
        assert_eq!(filled, Ok(expected));
    }

    #[test]
    fn each_answer_at_fault_is_named() {
        let fields = first_fields();
        let long = "x".repeat(LONGEST_ANSWER + 1);
        let faults = fill(
            &fields,
            &answers(&[("words", " … "), ("instead", &long), ("name", "a\u{1b}[31m"), ("address", "ann at hask")]),
        )
        .unwrap_err();
        let at: Vec<_> = faults.iter().map(|fault| fault.field.as_str()).collect();
        assert_eq!(at, ["/answers/words", "/answers/instead", "/answers/name", "/answers/address"]);
        for bad in ["@hask.example", "a@b", "a@.example", "a b@hask.example", "a@b@c.example", "<a@b.example>"] {
            assert!(fill(&fields, &answers(&[("words", "x"), ("address", bad)])).is_err(), "{bad}");
        }
    }

    #[test]
    fn a_form_that_asks_wrongly_is_refused_at_its_place() {
        let field = |key: &str, asks: Asks, label: &str, choices: &[&str]| FormField {
            key: key.into(),
            asks,
            label: label.into(),
            help: None,
            must: asks == Asks::Words,
            choices: choices.iter().map(|choice| (*choice).to_owned()).collect(),
        };
        let fields = [
            field("words", Asks::Words, "What?", &[]),
            field("words", Asks::Line, "", &[]),
            field("A b", Asks::Choice, "Which?", &["one", "one"]),
            field(TRAP, Asks::Name, "Name", &[]),
            field("again", Asks::Name, "Name", &[]),
        ];
        let faults = check_form(&fields).unwrap_err();
        let at: Vec<_> = faults.iter().map(|fault| fault.field.as_str()).collect();
        let expected = [
            "/fields/1/key",
            "/fields/1/label",
            "/fields/2/key",
            "/fields/2/choices",
            "/fields/3/key",
            "/fields/4/asks",
        ];
        assert_eq!(at, expected);
        assert_eq!(check_form(&fields[3..4]).unwrap_err().len(), 2, "what the sender wants said is missing, too");
    }

    #[test]
    fn an_idea_is_called_by_the_first_line() {
        assert_eq!(called("\n  A bell, please. \nOn the quay."), "A bell, please.");
        let long = called(&"ring the bell ".repeat(20));
        assert!(long.ends_with("bell …") || long.ends_with("the …") || long.ends_with("ring …"), "{long}");
        assert!(long.chars().count() <= TITLE + 2);
        assert_eq!(called(&"x".repeat(200)).chars().count(), TITLE + 2);
    }

    #[test]
    fn what_became_of_it_follows_its_furthest_idea_until_somebody_says_so() {
        use IdeaState::{Chosen, Raw, SetAside, Shipped};
        assert_eq!(became(None, &[]), RequestState::Received);
        assert_eq!(became(None, &[SetAside, Raw]), RequestState::Weighed);
        assert_eq!(became(None, &[Chosen, Raw]), RequestState::Planned);
        assert_eq!(became(None, &[Chosen, Shipped]), RequestState::Done);
        assert_eq!(became(None, &[SetAside]), RequestState::Declined);
        assert_eq!(became(Some(RequestState::Declined), &[Shipped]), RequestState::Declined);
    }

    proptest! {
        #[test]
        fn any_answers_are_read_or_refused_at_a_place(text in any::<String>(), address in any::<String>()) {
            let fields = first_fields();
            match fill(&fields, &answers(&[("words", &text), ("address", &address)])) {
                Ok(filled) => {
                    prop_assert!(filled.text.chars().any(char::is_alphanumeric));
                    prop_assert!(filled.text.chars().count() <= LONGEST_ANSWER);
                    prop_assert_eq!(filled.text, text.trim().replace("\r\n", "\n"));
                }
                Err(faults) => prop_assert!(faults.iter().all(|fault| fault.field.starts_with("/answers/"))),
            }
        }
    }
}

//! Mails: one (.eml, RFC 5322) or a box of them (mbox). A mail within a mail is a document of its own.

use iron_kite_core::listen::Document;
use jiff::civil::Date;
use mail_parser::mailbox::mbox::MessageIterator;
use mail_parser::{Message, MessageParser, MimeHeaders};

use super::budget::Budget;
use super::{Held, page};

/// Mails within mails, so deep.
const DEEP: usize = 4;
/// At most so many mails of one file.
const MOST: usize = 50_000;

pub(super) fn read_one(bytes: &[u8], budget: &Budget) -> Result<Held, String> {
    let message = MessageParser::default().parse(bytes).ok_or("This is no mail.")?;
    let mut found = Vec::new();
    take(&message, DEEP, &mut found, budget)?;
    if found.is_empty() {
        return Err("The mail holds no words.".into());
    }
    Ok(Held::Documents(found))
}

pub(super) fn read_box(bytes: &[u8], budget: &Budget) -> Result<Held, String> {
    let mut found = Vec::new();
    for message in MessageIterator::new(bytes).take(MOST) {
        let message = message.map_err(|_| "The mailbox is damaged.".to_owned())?;
        if let Some(message) = MessageParser::default().parse(message.contents()) {
            take(&message, DEEP, &mut found, budget)?;
        }
    }
    if found.is_empty() {
        return Err("There is no mail with words in this mailbox.".into());
    }
    Ok(Held::Documents(found))
}

fn take(message: &Message<'_>, deep: usize, found: &mut Vec<Document>, budget: &Budget) -> Result<(), String> {
    let text = match (message.text_part(0).filter(|part| part.is_text()), message.html_part(0)) {
        (Some(part), _) if !part.is_text_html() => part.text_contents().unwrap_or_default().to_owned(),
        (_, Some(part)) => page::words(part.text_contents().unwrap_or_default()).0,
        (Some(part), None) => part.text_contents().unwrap_or_default().to_owned(),
        (None, None) => String::new(),
    };
    let from = message.from().and_then(|from| from.first());
    let name = from.and_then(|from| from.name().or(from.address())).map(str::to_owned);
    let mut notes = Vec::new();
    let mut within = Vec::new();
    for part in message.attachments() {
        match part.message() {
            Some(inner) if deep > 0 => within.push(inner),
            _ => notes.push(format!("what was attached was not read: {}", part.attachment_name().unwrap_or("a file"))),
        }
    }
    budget.hold(text.len())?;
    if !text.trim().is_empty() {
        // The day as it was where the sender was.
        let day = message.date().and_then(|date| {
            let part = |number: u8| i8::try_from(number).ok();
            Date::new(i16::try_from(date.year).ok()?, part(date.month)?, part(date.day)?).ok()
        });
        found.push(Document {
            title: message.subject().unwrap_or_default().chars().take(200).collect(),
            text,
            said_on: day,
            person: name,
            address: from.and_then(|from| from.address()).map(str::to_lowercase),
            key: message.message_id().map(str::to_owned),
            notes,
            ..Document::default()
        });
    }
    within.into_iter().try_for_each(|inner| take(inner, deep - 1, found, budget))
}

//! HTML: its words, a line for each block. Nothing of it is run or loaded.

use std::cell::RefCell;

use html5ever::tendril::StrTendril;
use html5ever::tokenizer::{BufferQueue, TagKind, Token, TokenSink, TokenSinkResult, Tokenizer, TokenizerOpts};
use iron_kite_core::listen::{Document, turns_of};

/// What stands in a line of its own.
const BLOCKS: [&str; 26] = [
    "p",
    "div",
    "br",
    "li",
    "ul",
    "ol",
    "h1",
    "h2",
    "h3",
    "h4",
    "h5",
    "h6",
    "tr",
    "table",
    "section",
    "article",
    "header",
    "footer",
    "blockquote",
    "pre",
    "hr",
    "dt",
    "dd",
    "main",
    "aside",
    "figure",
];
/// What holds no words for people.
const SILENT: [&str; 6] = ["script", "style", "head", "template", "noscript", "svg"];

pub(super) fn read(html: &str) -> Document {
    let (text, title) = words(html);
    Document { title, turns: turns_of(&text), text, ..Document::default() }
}

/// The words of a page, and its title.
pub(super) fn words(html: &str) -> (String, String) {
    let sink = Words::default();
    let input = BufferQueue::default();
    input.push_back(StrTendril::from_slice(html));
    let tokenizer = Tokenizer::new(sink, TokenizerOpts::default());
    let _ = tokenizer.feed(&input);
    tokenizer.end();
    let state = tokenizer.sink.0.into_inner();
    (tidy(&state.text), state.title.trim().chars().take(200).collect())
}

#[derive(Default)]
struct State {
    text: String,
    title: String,
    silent: Vec<String>,
    in_title: bool,
}

#[derive(Default)]
struct Words(RefCell<State>);

impl TokenSink for Words {
    type Handle = ();

    fn process_token(&self, token: Token, _: u64) -> TokenSinkResult<()> {
        let mut state = self.0.borrow_mut();
        match token {
            Token::CharacterTokens(text) if state.in_title => state.title.push_str(&text),
            Token::CharacterTokens(text) if state.silent.is_empty() => state.text.push_str(&text),
            Token::TagToken(tag) => {
                let name = tag.name.to_string();
                state.in_title = name == "title" && tag.kind == TagKind::StartTag;
                if SILENT.contains(&name.as_str()) && !tag.self_closing {
                    match tag.kind {
                        TagKind::StartTag => state.silent.push(name.clone()),
                        TagKind::EndTag => {
                            if let Some(at) = state.silent.iter().rposition(|one| *one == name) {
                                state.silent.truncate(at);
                            }
                        }
                    }
                }
                // A body ends whatever the head left open.
                if name == "body" {
                    state.silent.clear();
                }
                if BLOCKS.contains(&name.as_str()) {
                    state.text.push('\n');
                } else if name == "td" || name == "th" {
                    state.text.push('\t');
                }
            }
            _ => {}
        }
        TokenSinkResult::Continue
    }
}

/// White space as a page shows it: one space within a line, at most one empty line between two.
fn tidy(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for line in text.lines() {
        let cells = line.split('\t').map(|cell| cell.split_whitespace().collect::<Vec<_>>().join(" "));
        let line = cells.filter(|cell| !cell.is_empty()).collect::<Vec<_>>().join("\t");
        if line.is_empty() {
            continue;
        }
        if !out.is_empty() {
            out.push('\n');
        }
        out.push_str(&line);
    }
    out
}

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
    input.push_back(StrTendril::from(without_attributes(html)));
    let tokenizer = Tokenizer::new(sink, TokenizerOpts::default());
    let _ = tokenizer.feed(&input);
    tokenizer.end();
    let state = tokenizer.sink.0.into_inner();
    (tidy(&state.text), state.title.trim().chars().take(200).collect())
}

/// The page with bare tags: nobody reads what stands in them, and the library compares each attribute of a tag with all others
/// of it. Tags and comments end where the standard (WHATWG HTML, 13.2.5) ends them. Linear.
fn without_attributes(html: &str) -> String {
    let mut out = String::with_capacity(html.len());
    let mut rest = html;
    while let Some(at) = rest.find('<') {
        out.push_str(&rest[..at]);
        rest = &rest[at..];
        let name = rest[1..].strip_prefix('/').unwrap_or(&rest[1..]);
        let end = if rest.starts_with("<!--") {
            rest.find("-->").map(|end| end + 3)
        } else if name.starts_with(|c: char| c.is_ascii_alphabetic()) {
            tag_end(rest)
        } else {
            out.push('<');
            rest = &rest[1..];
            continue;
        };
        // What is not ended holds no more words.
        let Some((whole, behind)) = end.map(|end| rest.split_at(end)) else { return out };
        rest = behind;
        if !whole.starts_with("<!--") {
            let before = whole.len() - whole.trim_start_matches(['<', '/']).len();
            let name = whole[before..].split(|c: char| c.is_ascii_whitespace() || c == '/' || c == '>').next();
            out.push_str(&whole[..before]);
            out.push_str(name.unwrap_or_default());
            out.push_str(if whole.ends_with("/>") { "/>" } else { ">" });
        }
    }
    out.push_str(rest);
    out
}

/// Where a tag ends: behind the first `>` that is in no quoted value.
fn tag_end(tag: &str) -> Option<usize> {
    let (mut quote, mut value) = (None, false);
    for (at, byte) in tag.bytes().enumerate() {
        match (quote, byte) {
            (Some(mark), _) if byte == mark => quote = None,
            (Some(_), _) => {}
            (None, b'>') => return Some(at + 1),
            (None, b'"' | b'\'') if value => (quote, value) = (Some(byte), false),
            (None, b'=') => value = true,
            (None, byte) if byte.is_ascii_whitespace() => {}
            (None, _) => value = false,
        }
    }
    None
}

#[derive(Default)]
struct State {
    text: String,
    title: String,
    /// What holds no words and is open, from the outermost in; each by its place in [`SILENT`].
    silent: Vec<usize>,
    /// How many of each are open.
    open: [usize; SILENT.len()],
    in_title: bool,
}

impl State {
    fn begin(&mut self, sort: usize) {
        self.silent.push(sort);
        self.open[sort] += 1;
    }

    /// Ends the innermost of a sort and what is open within it. Each is taken away once, so all ends together are linear.
    fn end(&mut self, sort: usize) {
        while self.open[sort] > 0 {
            let Some(last) = self.silent.pop() else { return };
            self.open[last] -= 1;
            if last == sort {
                return;
            }
        }
    }
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
                let silent = SILENT.iter().position(|one| *one == name);
                match silent.filter(|_| !tag.self_closing) {
                    Some(sort) if tag.kind == TagKind::StartTag => state.begin(sort),
                    Some(sort) => state.end(sort),
                    None => {}
                }
                // A body ends whatever the head left open.
                if name == "body" {
                    (state.silent, state.open) = Default::default();
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

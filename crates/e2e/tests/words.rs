//! Words are chosen in what somebody said, with the keyboard and with the mouse, and sent on to where they are needed.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Page, Server, browse};
use serde_json::Value;
use thirtyfour::prelude::*;

/// The excerpts of the item, as the program tells them.
async fn parts(page: &Page, item: i64) -> WebDriverResult<Vec<String>> {
    let ask = format!(
        "const ask = new XMLHttpRequest(); ask.open('GET', '/api/v1/listen/items/{item}', false); ask.send();
         return JSON.parse(ask.responseText).parts.map(part => part.words)"
    );
    let told = page.script(&ask).await?;
    Ok(told.as_array().into_iter().flatten().filter_map(Value::as_str).map(str::to_owned).collect())
}

/// Notes what somebody said, and opens it.
async fn noted(page: &Page, text: &str) -> WebDriverResult<i64> {
    let body = serde_json::json!({ "product": 1, "text": text, "person": "Ebba Lund" });
    let ask = format!(
        "const ask = new XMLHttpRequest(); ask.open('POST', '/api/v1/listen/notes', false);
         ask.setRequestHeader('content-type', 'application/json'); ask.send(JSON.stringify({body}));
         return JSON.parse(ask.responseText).thing.id"
    );
    let item = page.script(&ask).await?.as_i64().expect("a number");
    page.go(&format!("/p/1/listen/feedback_item?at=feedback_item:{item}")).await?;
    page.see_text("[data-text]", text).await?;
    Ok(item)
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn words_become_an_excerpt_and_are_quoted_for_an_idea() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    let said = "Lanterns on the quay would help us";
    let item = noted(&page, said).await?;
    assert_eq!(parts(&page, item).await?, [said]);
    // The third word and the two behind it, with the keyboard alone.
    page.focus("[data-text]").await?;
    for _ in 0..3 {
        page.keys(Key::Right + "").await?;
    }
    for _ in 0..2 {
        page.keys(Key::Shift + Key::Right).await?;
    }
    page.see_text("[role=group]", "3 words chosen").await?;
    page.keys(Key::Enter + "").await?;
    page.see_text("[role=status]", "of words of").await?;
    assert_eq!(parts(&page, item).await?, ["Lanterns on", "the quay would", "help us"]);
    // Undo brings the whole back.
    page.press_button("Undo").await?;
    page.until_script("one excerpt", "return document.querySelectorAll('[data-text] mark').length === 1").await?;
    // With the mouse: from the middle of a word on, the excerpt is these words only.
    page.script(
        "const words = document.querySelector('[data-text] mark').firstChild;
         getSelection().setBaseAndExtent(words, 18, words, words.length)",
    )
    .await?;
    let becomes = "[...document.querySelectorAll('[data-text] ~ [role=group] button')]
        .find(one => /is these words$/.test(one.innerText))";
    page.until_script("the choice", &format!("return !!{becomes}")).await?;
    page.script(&format!("{becomes}.click()")).await?;
    page.until_script(
        "the mended excerpt",
        "return document.querySelector('[data-text] mark')?.innerText === 'quay would help us'",
    )
    .await?;
    // It is sent on to an idea, and is seen and taken away there.
    page.script("document.querySelector('article li input').click()").await?;
    page.press_button("Quote in …").await?;
    page.enter("an idea, a document, a page", "sun").await?;
    page.see_text("[aria-label=Ideas]", "A timetable for the sun").await?;
    // Before the words count, others stand above it.
    let sun = "[...document.querySelectorAll('[aria-label=Ideas] button')].find(one => one.innerText.includes('for the sun'))";
    page.script(&format!("{sun}.click()")).await?;
    page.see_text("[role=status]", "quoted 1 excerpt in").await?;
    page.go("/p/1/decide/idea?at=idea:4").await?;
    page.see_text("[data-quotes]", "quay would help us").await?;
    let quote =
        "[...document.querySelectorAll('[data-quotes] li')].find(li => li.innerText.includes('quay would help us'))";
    page.script(&format!("{quote}.querySelector('button').click()")).await?;
    page.until_script("it is gone", &format!("return !{quote}")).await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_conversation_is_heard_from_where_somebody_speaks() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    let ask = "const ask = new XMLHttpRequest(); ask.open('GET', '/api/v1/listen/items?product=1&limit=200', false);
        ask.send(); return JSON.parse(ask.responseText).items.find(item => /left.vtt$/.test(item.source)).id";
    let item = page.script(ask).await?;
    page.go(&format!("/p/1/listen/feedback_item?at=feedback_item:{item}")).await?;
    page.until_script("the recording", "return document.querySelector('audio')?.duration > 500").await?;
    page.click("button[aria-label='Hear it from 0:49']").await?;
    page.until_script("it plays there", "return document.querySelector('audio').currentTime >= 49").await?;
    page.see_text(".heard", "Yorick Blane").await?;
    page.close().await
}

//! A study from a kind of research to the notes of a conversation, by keyboard while somebody answers.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Server, browse};
use thirtyfour::prelude::*;

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_study_is_begun_asked_and_traced() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen/study").await?;
    page.press_button("New study").await?;
    let field = ".modal.show .new input.form-control";
    page.until_script("the dialog", &format!("return document.querySelector('{field}')?.checkVisibility()")).await?;
    page.click(".modal.show input[value=last_time]").await?;
    page.see_text(".modal.show", "Which of these moments was the worst").await?;
    page.fill(field, "Evening boats").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.press_button("Add the study").await?;
    page.see_text("[data-thing]", "retrospective interview").await?;
    page.see_text("[data-thing]", "What did you do first, and what was in your hand?").await?;

    page.click("[data-thing] a.btn-primary").await?;
    page.until_script("the line", "return document.activeElement.matches('.entry input.line')").await?;
    page.fill(".who input", "Sorrel Vane").await?;
    page.focus(".entry input.line").await?;
    page.keys("j:When was it?").await?;
    page.keys(Key::Enter).await?;
    page.keys(Key::Alt + Key::Down).await?;
    page.see_text("[data-asking]", "What is the first thing that you remember of it?").await?;
    page.keys("s:Last Tuesday the evening boat was cancelled and I heard it from nobody. #pier").await?;
    page.keys(Key::Enter).await?;
    page.keys(".:she laughs").await?;
    page.keys(Key::Enter).await?;
    page.see_text("ol[aria-label=Lines]", "Sorrel Vane: Last Tuesday").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());

    // What is noted is not lost with the window.
    let here = page.script("return location.pathname").await?;
    page.go(here.as_str().unwrap_or_default()).await?;
    page.see_text("ol[aria-label=Lines]", "she laughs").await?;
    page.focus(".entry input.line").await?;
    page.keys(Key::Control + Key::Enter).await?;
    page.see_text("[role=status]", "kept the notes of a conversation").await?;
    page.see_text("article .text", "What is the first thing that you remember of it?").await?;
    page.see_text("article .text", "#pier").await?;
    page.see_text("[data-trace]", "Evening boats").await?;
    // What was asked is no excerpt.
    let said = page.script("return document.querySelector('article ul').textContent").await?;
    assert!(!said.as_str().unwrap_or_default().contains("When was it?"), "{said}");
    page.close().await
}

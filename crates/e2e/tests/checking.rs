//! What the engine told is checked by the keyboard alone, and measured.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use std::collections::BTreeSet;

use iron_kite_e2e::{Page, Server, browse};
use serde_json::Value;
use thirtyfour::prelude::*;

/// Asks the program how far engine and people agree.
const AGREEMENT: &str =
    "const ask = new XMLHttpRequest(); ask.open('GET', '/api/v1/listen/agreement?product=1', false); ask.send();
    return JSON.parse(ask.responseText)";
/// The words that are to be checked now.
const SHOWN: &str = "return document.querySelector('[data-check] mark')?.innerText ?? ''";

async fn shown(page: &Page) -> WebDriverResult<String> {
    Ok(page.script(SHOWN).await?.as_str().unwrap_or_default().to_owned())
}

/// Presses a key and waits for the next excerpt.
async fn say(page: &Page, key: &str) -> WebDriverResult<String> {
    let before = shown(page).await?;
    page.keys(key).await?;
    let other =
        format!("{SHOWN} !== {}", Value::from(before.as_str())).replace("return ", "return (").replace(" !==", ") !==");
    page.until_script("the next excerpt", &other).await?;
    Ok(before)
}

async fn judged(page: &Page, count: usize) -> WebDriverResult<Value> {
    page.until_script("what was said", &format!("{AGREEMENT}.reduce((sum, line) => sum + line.judged, 0) === {count}"))
        .await?;
    page.script(AGREEMENT).await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn twenty_are_checked_by_the_keyboard_alone() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen").await?;
    page.see("[data-work][aria-busy=false]").await?;
    // The find box leads there, without a mouse.
    page.keys("/").await?;
    page.keys(TypingData::from("open check") + Key::Enter).await?;
    page.see("[data-check] mark").await?;
    page.script("document.activeElement.blur()").await?;
    let mut said = BTreeSet::new();
    for key in ["y", "1", "3", "5", "y", "6", "2", "y", "7", "4", "1", "3", "y", "5", "6", "y", "2", "1", "3", "y"] {
        said.insert(say(&page, key).await?);
    }
    assert!(said.len() >= 18, "each is another one, though two may say the same: {}", said.len());
    page.see_text("[data-left]", "20 checked now").await?;
    let told = judged(&page, 20).await?;
    assert!(told[0]["kappa"].is_f64() && told[0]["alike"].as_i64() >= Some(6), "{told}");
    page.see_text("[data-agreement]", "20").await?;

    // The last one is taken back, and asked again.
    let last = shown(&page).await?;
    page.keys(Key::Control + "z").await?;
    page.see_text("[data-left]", "19 checked now").await?;
    assert_ne!(shown(&page).await?, last);
    judged(&page, 19).await?;

    // What a finding holds is checked as well; what belongs elsewhere leaves it.
    page.script("document.querySelector('input[name=about][value=finding]').focus()").await?;
    page.keys(" ").await?;
    page.see("[data-check] .findings mark, [data-check] .findings").await?;
    let finding = page.script("return document.querySelector('[data-check] .told')?.innerText ?? ''").await?;
    assert!(finding.as_str().is_some_and(|text| text.contains("suggested")), "{finding}");
    page.script("document.activeElement.blur()").await?;
    say(&page, "0").await?;
    say(&page, "1").await?;
    judged(&page, 21).await?;

    // A colleague sees neither what the engine nor what the other said.
    page.script("fetch('/api/v1/session', { method: 'DELETE' })").await?;
    page.sign_in("tamar").await?;
    page.go("/p/1/listen/check").await?;
    page.see("[data-check] mark").await?;
    page.script("document.querySelector('input[name=way][value=second]').focus()").await?;
    page.keys(" ").await?;
    page.until_script("the second look", "return !!document.querySelector('[data-check]:not(:has(.told))')").await?;
    page.script("document.activeElement.blur()").await?;
    say(&page, "1").await?;
    say(&page, "3").await?;
    page.see_text("[data-agreement]", "Tamar").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_is_taken_back_at_once_is_asked_again() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen/check").await?;
    page.see("[data-check] mark").await?;
    // What else is asked after a write takes long, so that it is taken back before all of it is there.
    page.script(
        "const ask = window.fetch
         window.fetch = async (request) => {
           if (request.url.includes('/api/v1/course')) await new Promise((done) => setTimeout(done, 2500))
           return ask(request)
         }",
    )
    .await?;
    let first = shown(&page).await?;
    page.keys("1").await?;
    page.see_text("[role=status]", "Saved").await?;
    page.keys(Key::Control + "z").await?;
    page.see_text("[role=status]", "undid").await?;
    page.see_text("[data-left]", "0 checked now").await?;
    assert_eq!(shown(&page).await?, first);
    page.close().await
}

//! What hands do: words that were begun are not lost, and what is seen can be said where it is seen.

use iron_kite_e2e::{Server, browse};
use thirtyfour::prelude::*;

/// What a story depends on is said on the map; it shows there at once where that cannot be kept.
#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_a_story_depends_on_is_said_on_the_map() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go("/p/1/map?at=work_item:5").await?;
    let needs = "section[aria-label='What the chosen story depends on']";
    page.see_text(needs, "nothing").await?;
    page.press_button("Add what it depends on").await?;
    page.fill("input[aria-label='Which one does it depend on?']", "Offer the next").await?;
    page.press_button("S8 Offer the next boat").await?;
    page.see_text(needs, "S8 Offer the next boat").await?;
    page.see_text("#card-5", "needs S8 first").await?;
    // A circle is refused, and nothing changes.
    page.press_button("S8 Offer the next boat").await?;
    page.see_text(needs, "needed by").await?;
    page.press_button("Add what it depends on").await?;
    page.fill("input[aria-label='Which one does it depend on?']", "Choose how").await?;
    page.press_button("S5 Choose how to be told").await?;
    page.see_text("[role=status]", "S5").await?;
    page.see(".line.trouble").await?;
    page.click("#card-5").await?;
    page.click("button[aria-label^='Take away: S8']").await?;
    page.see_text(needs, "nothing").await?;
    page.until_script("no flag", "return !document.querySelector('#card-5 .flag')").await?;
    page.close().await
}

/// What was begun in a line that adds something stands there when somebody comes back.
#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_was_begun_is_there_when_somebody_comes_back() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go("/p/1/map").await?;
    page.press_button("add a step").await?;
    page.fill("input[placeholder='a new step']", "Find the wa").await?;
    page.click("a[href='/p/1/decide']").await?;
    page.see("a[href='/p/1/decide/ranking']").await?;
    page.click("a[href='/p/1/map']").await?;
    let value = "return document.querySelector(\"input[placeholder='a new step']\")?.value";
    page.until_script("the words are there", &format!("{value} === 'Find the wa'")).await?;
    // The next words are begun while the first are on their way.
    page.focus("input[placeholder=\"a new step\"]").await?;
    page.keys("y").await?;
    page.keys(Key::Enter + "Wait").await?;
    page.see_text("[role=status]", "Find the way").await?;
    page.until_script("what came after is there", &format!("{value} === 'Wait'")).await?;
    page.close().await
}

/// Somebody removes what another person is writing in: the words stay to be seen, and are told where they cannot be saved.
#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_somebody_removes_takes_no_words_along() -> WebDriverResult<()> {
    let server = Server::demo();
    let (wren, tamar) = (browse(&server.address).await?, browse(&server.address).await?);
    wren.sign_in("wren").await?;
    tamar.sign_in("tamar").await?;
    for page in [&wren, &tamar] {
        page.go("/p/1/specify/work_item?at=work_item:6").await?;
        page.see_text("[data-thing]", "Warn by risk of wind").await?;
    }
    let criterion = "[data-thing] input[placeholder^='Given']";
    tamar.fill(criterion, "Given a gale").await?;
    tamar.click("[data-thing] [data-field=so_that] .value").await?;
    tamar.fill("[data-thing] [data-field=so_that] input", "I sleep at night").await?;
    wren.press_button("Remove S6").await?;
    wren.see_text("[role=status]", "removed").await?;
    tamar.see_text("[data-thing] [role=alert]", "S6 is not there any more.").await?;
    tamar
        .until_script(
            "the words stay",
            &format!("return document.querySelector(\"{criterion}\").value === 'Given a gale'"),
        )
        .await?;
    tamar.focus("[data-thing] [data-field=so_that] input").await?;
    tamar.keys(Key::Enter + "").await?;
    tamar.see_text("[role=status]", "It is gone").await?;
    tamar.see_text("[role=status]", "I sleep at night").await?;
    // What is told lies over nothing that stands in the page.
    let beside = "const line = document.querySelector('.line.trouble').getBoundingClientRect();
        return document.querySelector('.shell').getBoundingClientRect().bottom <= line.top";
    tamar.until_script("it lies over nothing", beside).await?;
    wren.close().await?;
    tamar.close().await
}

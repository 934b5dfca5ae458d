//! The keyboard alone, and the pages' own security policy while they are used.

use iron_kite_e2e::{Server, browse};
use thirtyfour::prelude::*;

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn the_stages_are_reached_by_keys_and_the_policy_is_kept() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    let watch = "window.broken = []; document.addEventListener('securitypolicyviolation',
        e => window.broken.push([e.violatedDirective, e.sourceFile, e.sample].join(' ')))";
    page.script(watch).await?;
    for (key, stage) in ["Listen", "Decide", "Specify", "Map", "Plan", "Hand over", "Learn"].iter().enumerate() {
        page.keys(Key::Alt + (key + 1).to_string().as_str()).await?;
        page.see_text("nav[aria-label=Course] [aria-current]", stage).await?;
        page.see("[data-work][aria-busy=false]").await?;
        if *stage == "Map" {
            page.drag("#card-5", "[data-slice=Gannet] .cell:nth-of-type(3)").await?;
            page.see_text("[role=status]", "moved S5 on the map").await?;
        }
    }
    page.keys("?").await?;
    page.see_text(".modal.show", "go to a stage").await?;
    let inside = "return !!document.querySelector('.modal.show')?.contains(document.activeElement)";
    page.until_script("the focus inside", inside).await?;
    page.keys(Key::Escape + "").await?;
    page.until_script("the keys are closed", "return !document.querySelector('.modal.show')").await?;

    // A reference leads to its thing; words lead to the feedback that holds them.
    page.keys("/").await?;
    page.keys(TypingData::from("s14") + Key::Enter).await?;
    page.see_text("[data-trace-of]", "S14 See that money").await?;
    page.see("[data-work][aria-busy=false]").await?;
    page.script("document.activeElement.blur()").await?;
    page.keys("/").await?;
    page.keys(TypingData::from("lorries") + Key::Enter).await?;
    page.see_text("article h2", "Oskar Bray · Aldermouth Freight").await?;
    assert_eq!(page.script("return window.broken").await?, serde_json::json!([]));
    page.close().await
}

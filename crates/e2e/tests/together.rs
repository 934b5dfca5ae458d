//! Two people at once, and taking things back.

use iron_kite_e2e::{Server, browse};
use serde_json::json;
use thirtyfour::prelude::*;

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn each_sees_the_others_change_and_a_conflict_is_picked() -> WebDriverResult<()> {
    let server = Server::demo();
    let (wren, tamar) = (browse(&server.address).await?, browse(&server.address).await?);
    wren.sign_in("wren").await?;
    tamar.sign_in("tamar").await?;
    for page in [&wren, &tamar] {
        page.go("/p/1/decide/idea?view=ranking&at=idea:6").await?;
        page.see("[data-row='6'] [data-field=score]").await?;
    }
    // What one saves arrives at the other by itself.
    wren.set_field("reach", "2200").await?;
    tamar.see_text("[data-row='6'] [data-field=score]", "440").await?;

    // Both are in the same field; the second one to save is asked.
    tamar.click("[data-thing] [data-field=reach] .value").await?;
    tamar.fill("[data-thing] [data-field=reach] input", "5000").await?;
    wren.set_field("reach", "3300").await?;
    wren.see_text("[data-row='6'] [data-field=score]", "660").await?;
    tamar.see_text("[data-row='6'] [data-field=score]", "660").await?;
    tamar.keys(Key::Enter + "").await?;
    tamar.see_text(".modal.show [data-theirs]", "3300").await?;
    tamar.see_text(".modal.show [data-mine]", "5000").await?;
    tamar.press_button("Save mine over it").await?;
    wren.see_text("[data-row='6'] [data-field=score]", "1,000").await?;

    // Different fields of the same thing are no conflict.
    tamar.click("[data-thing] [data-field=effort] .value").await?;
    tamar.fill("[data-thing] [data-field=effort] input", "8").await?;
    wren.set_field("impact", "2").await?;
    wren.see_text("[data-row='6'] [data-field=score]", "2,000").await?;
    tamar.keys(Key::Enter + "").await?;
    wren.see_text("[data-row='6'] [data-field=score]", "1,000").await?;
    wren.close().await?;
    tamar.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn an_import_is_taken_back_and_done_again() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    let file = server.dir().join("more.csv");
    std::fs::write(&file, "review,name\nThe ramp is steep.,Ann\nThe ramp is slippery.,Bo\n")?;
    page.go("/p/1/listen/bring-in").await?;
    page.see("input[type=file]").await?.send_keys(file.display().to_string()).await?;
    page.press_button("Bring in 2 items").await?;
    page.see_text("[data-report]", "2 items brought in").await?;
    page.go("/p/1/listen/feedback_item?view=9").await?;
    page.see_text("[data-count]", "597 rows").await?;
    page.keys(Key::Control + "z").await?;
    page.see_text("[role=status]", "undid: brought in 2 items from more.csv").await?;
    page.see_text("[data-count]", "595 rows").await?;
    page.keys(Key::Control + Key::Shift + "z").await?;
    page.see_text("[role=status]", "did again: brought in 2 items from more.csv").await?;
    page.see_text("[data-count]", "597 rows").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_viewer_reads_and_an_ended_session_asks_to_sign_in() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("vik").await?;
    page.go("/p/1/decide/idea?view=ranking&at=idea:6").await?;
    page.see("[data-thing] [data-field=reach] .value:disabled").await?;
    page.driver.delete_all_cookies().await?;
    page.sign_in("wren").await?;
    page.go("/p/1/decide/idea?view=ranking&at=idea:6").await?;
    page.see("[data-thing] [data-field=reach] .value:enabled").await?;
    page.driver.delete_all_cookies().await?;
    page.set_field("reach", "2").await?;
    page.see_text("[role=status]", "Sign in in another tab").await?;
    page.go("/p/1/map").await?;
    page.see("#email").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_is_not_answered_is_told_and_asked_again() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    // The connection is lost for one of the questions that a view asks.
    let network = page.driver.cdp();
    network.send_raw("Network.enable", json!({})).await?;
    network.send_raw("Network.setBlockedURLs", json!({ "urls": ["*/collections/idea/views*"] })).await?;
    page.go("/p/1/decide/idea?view=ranking").await?;
    page.see_text("[role=status]", "No connection to the server").await?;
    page.see("[data-work][aria-busy=true]").await?;
    let asked = "performance.getEntriesByType('resource').filter((one) => one.name.includes('/idea/views')).length";
    page.until_script("it was asked three times", &format!("return {asked} === 3")).await?;
    network.send_raw("Network.setBlockedURLs", json!({ "urls": [] })).await?;
    page.press_button("Try again").await?;
    page.see("[data-row='6']").await?;
    page.until_script("nothing is told", "return !document.querySelector('.trouble')").await?;
    // A part of the page itself does not come.
    network.send_raw("Network.setBlockedURLs", json!({ "urls": ["*/assets/MapView*"] })).await?;
    page.click("a[href='/p/1/map']").await?;
    page.see_text("[role=status]", "A part of the page did not come").await?;
    page.see("[data-row='6']").await?;
    page.close().await
}

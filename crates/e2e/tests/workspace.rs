//! An owner invites somebody, who joins by a link; a team and a product come and go; a program gets a token.

#![allow(clippy::expect_used, reason = "a step that cannot be taken must say so and stop")]

use iron_kite_e2e::{Server, browse};
use thirtyfour::prelude::*;

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn somebody_is_invited_and_joins() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go("/p/1/workspace").await?;
    page.see_text("table", "Joss Merrow").await?;
    page.fill("[aria-labelledby=people] form input", "Ada Holm").await?;
    page.fill("[aria-labelledby=people] input[type=email]", "ada@crossing.example").await?;
    page.press_button("Invite").await?;
    page.see_text("[role=status]", "It is shown only now").await?;
    let link = page.see("[aria-label^='The link for']").await?.prop("value").await?.expect("a link");
    page.see_text("table", "invited; the link works until").await?;
    page.press_button("Done").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    let other = browse(&server.address).await?;
    let place = link.strip_prefix(&server.address).expect("a link to this server");
    other.go(place).await?;
    other.see_text("h1", "Welcome, Ada Holm").await?;
    other.fill("#password", "ferry-at-midnight").await?;
    other.press_button("Set it and sign in").await?;
    other.see_text("h1", "Ada").await?;
    other.close().await?;
    // It worked once.
    let third = browse(&server.address).await?;
    third.go(place).await?;
    third.see_text("[role=alert]", "used already").await?;
    third.close().await?;
    page.go("/p/1/workspace").await?;
    page.choose("[aria-label='What Ada Holm may do']", "editor").await?;
    page.click("[aria-label='Close: Ada Holm']").await?;
    page.see_text("table", "closed").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn products_teams_backups_and_tokens_are_managed() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go("/p/1/workspace").await?;
    page.fill("[aria-label='Name of a new product']", "Harbour").await?;
    page.press_button("Add").await?;
    page.click("[aria-label='Remove the product Harbour']").await?;
    page.until_script("it is gone", "return !document.querySelector(\"[aria-label='Remove the product Harbour']\")")
        .await?;
    page.click("[aria-label='Change the team Quayside']").await?;
    page.fill("[aria-label='Name of column 2']", "On the blocks").await?;
    page.press_button("+ another column").await?;
    page.fill("[aria-label='Name of column 5']", "Ashore").await?;
    page.press_button("Save").await?;
    page.see_text("[aria-labelledby=teams]", "On the slip → On the blocks → Sea trial → Afloat → Ashore").await?;
    page.press_button("Make a backup now").await?;
    page.see_text("[aria-labelledby=size]", "backups/iron-kite-").await?;
    page.go("/p/1/account").await?;
    page.fill("[aria-labelledby=tokens] input", "the nightly report").await?;
    page.press_button("Make a token").await?;
    page.see_text("[role=status]", "shown only now").await?;
    page.go("/p/1/workspace").await?;
    page.click("[aria-label='End: the nightly report']").await?;
    page.until_script("it is ended", "return !document.body.innerText.includes('the nightly report')").await?;
    page.close().await
}

//! Talk, notices, history and rules: two people at work on the same things.

use iron_kite_e2e::{Page, Server, browse};
use thirtyfour::prelude::*;

/// Chooses words of a document's text with the mouse's means, and speaks of them.
async fn choose(page: &Page, words: &str) -> WebDriverResult<()> {
    page.see("[data-passages=body] [data-from]").await?;
    let script = format!(
        "const root = document.querySelector('[data-passages=body] .text');
         for (const piece of root.querySelectorAll('[data-from]')) {{
           const at = piece.textContent.indexOf('{words}');
           if (at < 0) continue;
           const node = piece.firstChild;
           document.getSelection().setBaseAndExtent(node, at, node, at + '{words}'.length);
           return true;
         }}
         return false"
    );
    page.until_script("the words are chosen", &script).await?;
    page.press_button("Speak of these words").await
}

/// The words that are marked in a document's text, one after the other.
async fn marked(page: &Page, words: &str) -> WebDriverResult<()> {
    let script = format!(
        "return [...document.querySelectorAll('[data-passage]')].some((mark) => mark.textContent === '{words}')"
    );
    page.until_script(&format!("'{words}' marked"), &script).await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn two_people_talk_about_words_that_stay_where_they_are() -> WebDriverResult<()> {
    let server = Server::demo();
    let (wren, tamar) = (browse(&server.address).await?, browse(&server.address).await?);
    wren.sign_in("wren").await?;
    tamar.sign_in("tamar").await?;
    tamar.see_text("h1", "What waits for you, Tamar").await?;
    let place = "/p/1/specify/document?at=document:1";
    wren.go(place).await?;

    // One speaks of words, and to somebody.
    choose(&wren, "a voucher at any desk").await?;
    wren.see_text("[data-chosen]", "a voucher at any desk").await?;
    wren.see("[data-talk] textarea").await?.send_keys("Also on board? @tam").await?;
    wren.see_text("[data-talk] [role=option]", "Tamar Quist").await?;
    wren.keys(Key::Enter + "").await?;
    wren.keys(Key::Control + Key::Enter).await?;
    wren.see_text("[data-comment] .mention", "@Tamar Quist").await?;
    marked(&wren, "a voucher at any desk").await?;

    // The other sees it arrive, goes there, answers, and deals with it.
    tamar.see_text("[data-waits=told] [data-notice=mentioned]", "Also on board? @Tamar Quist").await?;
    assert!(tamar.serious().await?.is_empty(), "{:?}", tamar.serious().await?);
    tamar.click("[data-waits=told] [data-notice=mentioned]:first-of-type").await?;
    tamar.see_text("[data-talk] [data-comment]:focus", "Also on board?").await?;
    tamar.click("[data-talk] [data-comment]:focus .acts button").await?;
    tamar.see("[data-talk] [data-comment] textarea").await?.send_keys("At the bar, yes.").await?;
    tamar.keys(Key::Control + Key::Enter).await?;
    wren.see_text("[data-comment].answer", "At the bar, yes.").await?;
    wren.see_text("[data-notices]", "new").await?;

    // The text is edited around the words: before them and behind them.
    tamar
        .driver
        .execute(
            "const field = document.querySelector('[data-thing] dl [data-field=body] .value'); field.click()",
            vec![],
        )
        .await?;
    tamar.see("[data-thing] dl [data-field=body] textarea").await?;
    let script = "const field = document.querySelector('[data-thing] dl [data-field=body] textarea');
        const set = Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set;
        set.call(field, field.value.replace('# Why', '# Why this, and why now').replace('at any desk.', 'at any desk, from May on.'));
        field.dispatchEvent(new Event('input', { bubbles: true })); field.focus(); return true";
    tamar.until_script("the text is changed", script).await?;
    tamar.keys(Key::Enter + "").await?;
    wren.see_text("[data-passages=body]", "from May on").await?;
    marked(&wren, "a voucher at any desk").await?;
    marked(&tamar, "a voucher at any desk").await?;

    tamar.press_button("dealt with").await?;
    wren.see_text("[data-talk]", "dealt with").await?;
    wren.close().await?;
    tamar.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn one_change_is_taken_back_from_a_things_history_while_later_ones_stay() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go("/p/1/decide/idea?view=ranking&at=idea:6").await?;
    page.set_field("reach", "2200").await?;
    page.see_text("[role=status]", "changed reach of I6").await?;
    page.set_field("impact", "3").await?;
    page.see_text("[role=status]", "changed impact of I6").await?;
    page.click("[data-part=history]").await?;
    page.see_text("[data-history]", "changed reach a quarter from 1100 to 2200").await?;
    page.see_text("[data-history]", "changed impact from 1 to 3").await?;
    page.press_button("Undo all of: changed reach of I6").await?;
    page.see_text("[role=status]", "undid: changed reach of I6").await?;
    page.see_text("[data-thing] [data-field=reach]", "1,100").await?;
    page.see_text("[data-thing] [data-field=impact]", "3").await?;
    page.see_text("[data-history]", "taken back").await?;
    assert!(page.serious().await?.is_empty(), "{:?}", page.serious().await?);
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_rule_is_tried_made_and_does_its_work() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go("/p/1/rules").await?;
    page.see_text("[data-rule]", "A must is talked about").await?;
    page.press_button("Make a rule").await?;
    page.fill("[aria-label='A new rule'] .title input", "Small ones first").await?;
    page.choose("[aria-label='Field that changes']", "MoSCoW").await?;
    page.choose("[aria-label='Value that it becomes']", "should").await?;
    page.choose("[aria-label='Step 1']", "set a field").await?;
    page.choose("[aria-label='Field to set']", "Impact").await?;
    page.fill("[aria-label='Value to set']", "2").await?;
    page.press_button("What would it have done?").await?;
    page.see_text("[data-tried]", "In the last 30 days it would have run").await?;
    assert!(page.serious().await?.is_empty(), "{:?}", page.serious().await?);
    page.press_button("Make the rule").await?;
    page.see_text("[data-rule]", "set impact to 2").await?;

    page.go("/p/1/decide/idea?view=ranking&at=idea:6").await?;
    page.set_field("impact", "0.5").await?;
    page.set_field("moscow", "should").await?;
    page.see_text("[data-thing] [data-field=impact]", "2").await?;
    page.click("[data-part=history]").await?;
    page.see_text("[data-history]", "by a rule").await?;
    page.go("/p/1/rules").await?;
    page.see_text("[data-rule]", "in 30 days it ran once").await?;
    page.close().await
}

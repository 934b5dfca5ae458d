//! Two people score apart, see how far they lie apart, agree and decide; a decision asks to be looked at again; a model of
//! their own, a budget, and reports.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Page, Server, browse};
use serde_json::{Value, json};
use thirtyfour::prelude::*;

/// What the program answers to this page's person; with a body, to what is sent.
async fn ask(page: &Page, path: &str, body: Option<&Value>) -> WebDriverResult<String> {
    let (method, body) = body.map_or(("GET", "null".to_owned()), |body| ("POST", format!("JSON.stringify({body})")));
    let told = page
        .script(&format!(
            "const ask = new XMLHttpRequest(); ask.open('{method}', '/api/v1/{path}', false);
             ask.setRequestHeader('content-type', 'application/json'); ask.send({body});
             return ask.status === 200 ? ask.responseText : `${{ask.status}} ${{ask.responseText}}`"
        ))
        .await?;
    Ok(told.as_str().unwrap_or_default().to_owned())
}

/// Says alone what the reach of the open idea may be.
async fn say(page: &Page, said: &str, why: &str) -> WebDriverResult<()> {
    page.fill("[data-estimate=reach] form:first-of-type label:nth-of-type(1) input", said).await?;
    page.fill("[data-estimate=reach] form:first-of-type label:nth-of-type(2) input", why).await?;
    page.keys(Key::Enter + "").await?;
    page.see_text("[role=status]", "said what the reach a quarter of I9 may be").await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn two_people_score_apart_agree_and_decide_and_are_asked_to_look_again() -> WebDriverResult<()> {
    let server = Server::demo();
    let (wren, tamar) = (browse(&server.address).await?, browse(&server.address).await?);
    wren.sign_in("wren").await?;
    tamar.sign_in("tamar").await?;
    for page in [&wren, &tamar] {
        page.go("/p/1/decide/ranking?at=idea:9").await?;
        page.see("[data-ranked='9'] [data-median]").await?;
        page.see("[data-estimate=reach] form").await?;
    }
    assert_eq!(wren.serious().await?, Vec::<String>::new());
    // Each says it alone; nobody sees the other's before.
    say(&tamar, "200 300 400", "The letters of last summer").await?;
    wren.see_text("[data-estimate=reach]", "1 person said something; you see it once you did").await?;
    assert_eq!(wren.script("return document.querySelectorAll('[data-apart]').length").await?, 0);
    say(&wren, "900 1,200 1500", "Every school on the mainland").await?;
    wren.see_text("[data-estimate=reach] [data-apart]", "Tamar Quist").await?;
    wren.see_text("[data-estimate=reach] [data-apart]", "The letters of last summer").await?;
    wren.see_text("[data-scoring]", "They differ most about reach a quarter").await?;
    tamar.see_text("[data-estimate=reach] [data-apart]", "Every school on the mainland").await?;
    // What they agree on holds both, and the score follows for everybody.
    let before = wren.see("[data-ranked='9'] [data-median]").await?.text().await?;
    let agreed = "[data-estimate=reach] form:nth-of-type(2) input";
    assert_eq!(tamar.see(agreed).await?.value().await?.as_deref(), Some("200 750 1500"));
    tamar.fill(agreed, "300 900 1500").await?;
    tamar.keys(Key::Enter + "").await?;
    tamar.see_text("[role=status]", "agreed on the reach a quarter of I9").await?;
    wren.see_text("[data-estimate=reach] [data-counts]", "300 – 900 – 1,500").await?;
    wren.until_script(
        "the score follows",
        &format!("return document.querySelector(\"[data-ranked='9'] [data-median]\").innerText !== '{before}'"),
    )
    .await?;

    // One decides; what it rests on is kept.
    wren.fill("[data-thing] .decide textarea", "Schools ask for it each spring.").await?;
    wren.press_button("Choose it").await?;
    wren.see_text("[role=status]", "chose I9").await?;
    wren.go("/p/1/decide/decisions?at=idea:9").await?;
    wren.see_text("[data-decisions] li.on", "Schools ask for it each spring.").await?;
    assert_eq!(wren.script("return document.querySelectorAll('li.on [data-again]').length").await?, 0);
    // A step of it is tried and shows the contrary: the decision asks to be looked at again, at the other person's, too.
    tamar.go("/p/1/decide/decisions?at=idea:9").await?;
    tamar.see("[data-decisions] li.on").await?;
    let step = json!({ "product": 1, "set": { "idea_id": 9, "title": "Ask ten schools" } });
    let made: Value = serde_json::from_str(&ask(&wren, "collections/increment/things", Some(&step)).await?)?;
    let result = json!({ "idea_id": 9, "increment_id": made["thing"]["id"], "set": {
        "measure": "Schools that would book in the app", "unit": "of 10", "before": 0, "after": 1,
        "measured_on": "2020-01-02", "verdict": "failed" } });
    let saved = ask(&wren, "learn/results", Some(&result)).await?;
    assert!(saved.starts_with('{'), "{saved}");
    for page in [&wren, &tamar] {
        page.see_text("[data-decisions] li.on [data-again]", "now: it was tested").await?;
    }
    assert_eq!(wren.serious().await?, Vec::<String>::new());
    let log = ask(&wren, "takeout/decisions.md?product=1", None).await?;
    assert!(log.contains("Schools ask for it each spring.") && log.contains("Look again: The evidence was"), "{log}");

    // A report follows the numbers until it is agreed.
    wren.go("/p/1/decide/ranking/reports").await?;
    wren.fill("[aria-label='A new report']", "What schools get").await?;
    wren.press_button("Begin a report").await?;
    wren.see_text("[data-report] h2", "What schools get").await?;
    wren.fill("[aria-label='The question']", "Do we build for groups at all?").await?;
    wren.keys(Key::Enter + "").await?;
    wren.see_text("[data-report]", "Do we build for groups at all?").await?;
    wren.see_text("[data-report]", "Not agreed yet").await?;
    assert_eq!(wren.serious().await?, Vec::<String>::new());
    wren.press_button("Agree, and keep these numbers").await?;
    wren.see_text("[data-report]", "Agreed by Wren Odell").await?;
    let page = ask(&wren, "takeout/prioritisations/3.md", None).await?;
    for part in [
        "# What schools get",
        "Do we build for groups at all?",
        "| I9 Group bookings in the app |",
        "## What to find out next",
    ] {
        assert!(page.contains(part), "{part}\n{page}");
    }
    wren.close().await?;
    tamar.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_model_of_their_own_is_made_compared_and_ranked_by() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    page.go("/p/1/decide/ranking/models?model=rice").await?;
    page.see_text("[data-formula]", "reach × impact × confidence ÷ effort").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.press_button("Make our own of it").await?;
    page.see_text("[data-models] h2", "Our RICE").await?;
    // A fault in the formula is said with its place, and nothing is kept.
    page.fill("[aria-label=Formula]", "reach × (impact + ").await?;
    page.press_button("Keep it as version 2").await?;
    page.see_text("[role=alert]", "At character 19").await?;
    page.fill("[aria-label=Formula]", "sqrt(reach) × impact ÷ effort").await?;
    page.press_button("Keep it as version 2").await?;
    page.see_text("[data-models] nav", "ours, version 2").await?;
    page.press_button("Rank by it").await?;
    page.see_text("[role=status]", "ranked by Our RICE").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.go("/p/1/decide/ranking").await?;
    page.see_text("[data-ranking] th.where", "Our RICE").await?;
    // Beside another, with weights that are only tried.
    page.press_button("Beside another").await?;
    page.see_text("[data-compare] table", "Weighted criteria").await?;
    let order = "return [...document.querySelectorAll('[data-compare] tbody tr td:first-child')].map(one => one.innerText).join()";
    let before = page.script(order).await?;
    page.fill("[data-compare] label:last-of-type input", "40").await?;
    page.until_script("other weights, another order", &format!("return (() => {{ {order} }})() !== {before}")).await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    // By the keyboard alone from one idea to the next.
    page.focus("[data-ranked] button.open").await?;
    page.keys(Key::Down + "").await?;
    page.until_script("the next one is open", "return document.querySelectorAll('[data-ranked].on').length === 1 && document.activeElement.closest('[data-ranked].on') !== null").await?;
    page.see("[data-why] table").await?;

    // Within a budget: what taking one in would cost.
    page.go("/p/1/decide/ranking/budget?budget=40&model=rice").await?;
    page.see_text("[data-proven]", "no other choice is worth more").await?;
    page.see_text("[data-budget]", "The musts take 68 % of the budget").await?;
    page.press_button("What if it is taken?").await?;
    page.see_text("[data-with]", "would have to go").await?;
    page.choose("[aria-label='This time, I5']", "won’t").await?;
    page.see_text("[role=status]", "changed moscow of I5").await?;
    page.see_text("[data-idea='8']", "cannot be had this time").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.close().await
}

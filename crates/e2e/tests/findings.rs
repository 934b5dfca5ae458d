//! Findings are suggested, corrected and suggested anew: what people decided is kept.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Page, Server, browse};
use serde_json::Value;
use thirtyfour::prelude::*;

/// Asks the program for the findings of the product.
const ASK: &str =
    "const ask = new XMLHttpRequest(); ask.open('GET', '/api/v1/listen/findings?product=1', false); ask.send();
    return JSON.parse(ask.responseText)";

fn there_are(count: usize) -> String {
    format!("{ASK}.length === {count}")
}

/// The findings of a product, as the program tells them.
async fn findings(page: &Page) -> WebDriverResult<Vec<Value>> {
    let told = page.script(ASK).await?;
    Ok(told.as_array().cloned().unwrap_or_default())
}

fn titled<'a>(all: &'a [Value], title: &str) -> Option<&'a Value> {
    all.iter().find(|one| one["title"] == title)
}

/// Tries a run and waits for its outcome.
async fn try_one(page: &Page, runs: usize) -> WebDriverResult<()> {
    page.press_button("Try it").await?;
    let done = format!(
        "return document.querySelectorAll('table[aria-label=Runs] tbody tr').length === {runs} &&
          [...document.querySelectorAll('table[aria-label=Runs] tbody tr')].every(row => /tried|taken/.test(row.innerText)) &&
          !!document.querySelector('[data-run]')"
    );
    page.until_script("the outcome of the run", &done).await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_people_decided_is_kept_by_the_next_suggestions() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    // A suggestion is accepted under a better name.
    page.go("/p/1/listen/finding?view=suggested").await?;
    page.see("[data-work]:not([aria-busy=true])").await?;
    let all = findings(&page).await?;
    let suggested: Vec<&Value> = all.iter().filter(|one| one["state"] == "suggested").collect();
    assert!(suggested.len() > 10, "{}", suggested.len());
    // A small one: all that stands behind it is on its page.
    let id = suggested.last().expect("one")["id"].as_i64().expect("a number");
    page.go(&format!("/p/1/listen/finding/{id}?at=finding:{id}")).await?;
    page.see_text("[data-standing]", "suggested").await?;
    page.press_button("Accept").await?;
    page.see_text("[data-standing]", "accepted").await?;
    // An excerpt that the engine put there is taken away, and two others become a finding of their own.
    // The first may stand for one in which the same person says it again, which would take its place.
    let excerpts = "[...document.querySelectorAll('article li.card-thing.put')].reverse()";
    page.until_script("the excerpts", &format!("return {excerpts}.length > 4")).await?;
    page.script(&format!("{excerpts}[0].querySelector('input').click()")).await?;
    let count = format!("{excerpts}.length");
    let many = page.script(&format!("return {count}")).await?;
    page.press_button("Take 1 away").await?;
    page.until_script("it is gone", &format!("return {count} === {many} - 1")).await?;
    page.script(&format!("{excerpts}[0].querySelector('input').click(); {excerpts}[1].querySelector('input').click()"))
        .await?;
    // What the engine tells of the finding anew may move the button just then, so it is not pressed by its place.
    page.see_text("article button", "A finding of their own").await?;
    page.script(
        "[...document.querySelectorAll('article button')].find(one => /^A finding of/.test(one.innerText)).click()",
    )
    .await?;
    page.until_script("they are gone", &format!("return {count} === {many} - 3")).await?;
    // Two other suggestions become one.
    page.go("/p/1/listen/finding?view=suggested").await?;
    choose_two(&page).await?;
    let merges =
        "[...document.querySelectorAll('[data-chosen] button')].find(one => /^Merge into/.test(one.innerText))";
    page.script(&format!("{merges}.click()")).await?;
    page.see_text("[role=status]", "made 2 findings one").await?;
    let before = findings(&page).await?;
    let kept: Vec<&Value> = before.iter().filter(|one| one["state"] != "suggested").collect();
    assert_eq!(kept.len(), all.len() - suggested.len() + 3, "one accepted, one split off, one of two");
    // The next run says what it would change, and is taken.
    page.go("/p/1/listen/suggestions").await?;
    page.see("[data-run]").await?;
    page.script("document.querySelector('input[value=loose]').click()").await?;
    try_one(&page, 2).await?;
    page.see_text("[data-run] h2", "What this run would change").await?;
    assert_eq!(findings(&page).await?.len(), before.len(), "nothing changes before it is taken");
    let take = "[...document.querySelectorAll('[data-run] button')].find(one => /^Take/.test(one.innerText))";
    page.until_script("the run can be taken", &format!("return {take}?.disabled === false")).await?;
    page.script(&format!("{take}.click()")).await?;
    page.see_text("[data-run] h2", "What this run changed").await?;
    let after = findings(&page).await?;
    for one in kept {
        let title = one["title"].as_str().unwrap_or_default();
        let now = titled(&after, title).unwrap_or_else(|| panic!("{title} is gone"));
        assert!(now["excerpts"].as_u64() >= one["excerpts"].as_u64(), "{title}");
        assert_eq!((&now["id"], &now["state"]), (&one["id"], &one["state"]), "{title}");
    }
    // All of it is one change, and taken back as one.
    page.press_button("Undo").await?;
    let many = before.len();
    let count = format!(
        "const ask = new XMLHttpRequest(); ask.open('GET', '/api/v1/listen/findings?product=1', false); ask.send(); return JSON.parse(ask.responseText).length === {many}"
    );
    page.until_script("it is taken back", &count).await?;
    page.close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn two_findings_are_made_one_and_a_broad_one_opens() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    page.go("/p/1/listen/finding/1?at=finding:1").await?;
    page.press_button("Open into narrower groups").await?;
    page.until_script("narrower groups", "return document.querySelectorAll('[data-narrower] li').length > 1").await?;
    page.fill("[data-narrower] li input", "Nobody knows when the next boat goes").await?;
    page.press_button("Make it a finding of its own").await?;
    let made =
        "const ask = new XMLHttpRequest(); ask.open('GET', '/api/v1/listen/findings?product=1', false); ask.send();
        return JSON.parse(ask.responseText).some(one => one.title === 'Nobody knows when the next boat goes')";
    page.until_script("a finding of its own", made).await?;
    // Two of the list are made one, which keeps the excerpts of both.
    page.go("/p/1/listen/finding").await?;
    page.until_script("the list", "return document.querySelectorAll('[data-row]').length > 5").await?;
    let before = findings(&page).await?;
    let row = |at: usize| format!("document.querySelectorAll('[data-row] input[type=checkbox]')[{at}].click()");
    page.script(&format!("{}; {}", row(0), row(1))).await?;
    page.see("[data-chosen]").await?;
    page.script(
        "[...document.querySelectorAll('[data-chosen] button')].find(one => /^Merge into/.test(one.innerText)).click()",
    )
    .await?;
    page.until_script("they are one", &there_are(before.len() - 1)).await?;
    page.press_button("Undo").await?;
    page.until_script("they are two again", &there_are(before.len())).await?;
    page.close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn questions_are_answered_with_what_people_said_or_not_at_all() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("vik").await?;
    page.go("/p/1/listen/ask").await?;
    // The first question waits until the model is there.
    page.script("fetch('/api/v1/listen/evidence?product=1&question=anything').then(() => (window.ready = true))")
        .await?;
    page.until_script("the model", "return window.ready === true").await?;
    for (question, answer) in [
        ("How long do people wait to be reimbursed?", "refund"),
        ("Why do people take a picture of the schedule on paper?", "photograph"),
    ] {
        page.fill("#question", question).await?;
        page.keys(Key::Enter + "").await?;
        page.see_text("[data-answer]", "passages from").await?;
        page.see_text(".card-thing .words", answer).await?;
    }
    page.fill("#question", "quarterly depreciation of semiconductor patents").await?;
    page.keys(Key::Enter + "").await?;
    page.see_text("h2", "Nobody spoke of this").await?;
    page.close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_term_tells_what_is_said_of_it_by_any_of_its_names() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    page.go("/p/2/listen/term").await?;
    page.see_text("h2", "No term yet").await?;
    page.go("/p/1/listen/term").await?;
    page.see_text("[data-row]", "boarding code").await?;
    page.fill("input[placeholder='a new term']", "water taxi").await?;
    page.fill("input[placeholder^='also called']", "taxi boat, taxiboat").await?;
    page.keys(Key::Enter + "").await?;
    page.until_script(
        "the new term",
        "return [...document.querySelectorAll('[data-row]')].some(row => row.textContent.includes('water taxi'))",
    )
    .await?;
    // What was said is read with it, in the background.
    let told = "const ask = new XMLHttpRequest(); ask.open('POST', '/api/v1/collections/term/rows', false);
        ask.setRequestHeader('Content-Type', 'application/json');
        ask.send(JSON.stringify({ product: 1, query: { fields: ['excerpt_count'] } }));
        return JSON.parse(ask.responseText).rows.find(row => row.title === 'water taxi').values.excerpt_count > 5";
    page.until_script("what is said of it", told).await?;
    page.close().await?;
    Ok(())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_part_of_a_picture_leaves_only_its_excerpts() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen/finding/1?at=finding:1").await?;
    page.see("[data-picture] [data-part]").await?;
    page.see_text("[data-picture]", "Frustration").await?;
    let all = page.script("return [...document.querySelectorAll('.head h3')].map(one => one.innerText).join()").await?;
    // A kind is picked with the mouse, a side with a button, and a stretch of time with the keyboard.
    page.click("[data-picture] [data-part=defect]").await?;
    page.see_text("[data-only]", "defect").await?;
    page.until_script(
        "only defects",
        "const kinds = [...document.querySelectorAll('article li.card-thing select')].map(one => one.value);
         return kinds.length > 2 && kinds.every(kind => kind === 'defect')",
    )
    .await?;
    page.click("[data-side=against]").await?;
    page.until_script(
        "only those against",
        "const lines = [...document.querySelectorAll('article li.card-thing .number')].map(one => one.innerText);
         return lines.length > 0 && lines.every(line => line.startsWith('against'))",
    )
    .await?;
    page.script("[...document.querySelectorAll('[data-period]')].at(-1).focus()").await?;
    page.keys(Key::Enter + "").await?;
    page.until_script("three conditions", "return document.querySelectorAll('[data-only] .btn-outline').length === 3")
        .await?;
    // Each is taken away again by itself.
    for left in [2, 1] {
        page.click("[data-only] .btn-outline").await?;
        let there = format!("return document.querySelectorAll('[data-only] .btn-outline').length === {left}");
        page.until_script("one less", &there).await?;
    }
    page.click("[data-only] .btn-outline").await?;
    page.until_script("all again", "return !document.querySelector('[data-only]')").await?;
    let again =
        page.script("return [...document.querySelectorAll('.head h3')].map(one => one.innerText).join()").await?;
    assert_eq!(again, all);
    // The numbers stand beside the picture, and can be kept.
    page.script("document.querySelector('[data-picture] figure summary').click()").await?;
    page.see_text("[data-picture] figure details[open]", "Mean sentiment").await?;
    page.script(
        "window.files = []; const make = URL.createObjectURL;
         URL.createObjectURL = (blob) => { blob.text().then(text => window.files.push([blob.type, text])); return make(blob) }",
    )
    .await?;
    for name in ["SVG", "CSV", "PNG"] {
        let press = format!(
            "[...document.querySelectorAll('[data-picture] figure details[open] button')].find(one => one.innerText === '{name}').click()"
        );
        page.script(&press).await?;
    }
    page.until_script(
        "the files",
        "const file = (type) => window.files.find(([kind]) => kind.startsWith(type))?.[1] ?? '';
         return file('image/svg').includes('<rect') && file('text/csv').startsWith('Days,Excerpts,Against,Neutral,For,Mean sentiment')
           && /,-0\\.\\d/.test(file('text/csv')) && file('image/png').length > 500",
    )
    .await?;
    page.go("/p/1/listen/overview").await?;
    page.see_text("[data-overview]", "that nobody has looked at").await?;
    page.script("[...document.querySelectorAll('[data-period]')].at(-1).dispatchEvent(new MouseEvent('click', { bubbles: true }))")
        .await?;
    page.until_script(
        "the days",
        "return /from=/.test(location.search) && document.querySelectorAll('[data-period]').length === 1",
    )
    .await?;
    // A source is looked at alone, and so it is for whoever opens the same address.
    let items = "return document.querySelector('.facts .figure').innerText";
    let before = page.script(items).await?;
    page.click("[data-overview] [data-part]").await?;
    page.until_script("the source", "return /source=/.test(location.search)").await?;
    let fewer = format!("return (() => {{ {items} }})() !== {before}");
    page.until_script("fewer items", &fewer).await?;
    let alone = page.script(items).await?;
    page.script("location.reload()").await?;
    page.see("[data-only]").await?;
    page.until_script("the same", &format!("return (() => {{ {items} }})() === {alone}")).await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_report_is_made_of_chosen_findings() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    page.go("/p/1/listen/finding").await?;
    page.see("[data-row] input[type=checkbox], [role=row] input[type=checkbox]").await?;
    page.script(
        "[...document.querySelectorAll('[role=row] input[type=checkbox]')].slice(1, 3).forEach(one => one.click())",
    )
    .await?;
    page.see_text("[data-chosen]", "2 rows chosen").await?;
    page.click("[data-chosen] a[href*=report]").await?;
    page.see_text("[data-report]", "What they said").await?;
    page.fill("input[placeholder^='What was to be']", "What spoils a crossing?").await?;
    page.see_text("[data-report]", "What spoils a crossing?").await?;
    page.see_text("[data-report]", "What is not known").await?;
    let told = "document.querySelectorAll('[data-report] h4').length";
    page.until_script("two findings", &format!("return {told} === 2")).await?;
    // What is kept as a page is the same text.
    let kept = "const ask = new XMLHttpRequest();
        ask.open('GET', [...document.querySelectorAll('a[download]')].find(one => /\\.md/.test(one.href)).href, false); ask.send();
        return ask.responseText";
    let text = page.script(kept).await?;
    assert!(text.as_str().is_some_and(|text| text.contains("## Question\n\nWhat spoils a crossing?")), "{text}");
    page.press_button("Keep as a page here").await?;
    page.see_text("[role=status]", "Undo").await?;
    page.see("a.thing[href*=page]").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn findings_are_put_right_with_the_keyboard_alone() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen/finding?view=suggested").await?;
    page.see("[data-work]:not([aria-busy=true])").await?;
    let all = findings(&page).await?.len();
    let suggested = format!("{ASK}.filter(one => one.state === 'suggested').length");
    let before = page.script(&suggested).await?.as_i64().expect("a number");
    // Two are accepted at once, and two others become one.
    choose_two(&page).await?;
    page.keys(Key::Alt + "a").await?;
    page.until_script("two are accepted", &format!("{suggested} === {before} - 2")).await?;
    page.until_script("none is chosen", "return !document.querySelector('[data-chosen]')").await?;
    choose_two(&page).await?;
    page.keys(Key::Alt + "m").await?;
    page.until_script("two are one", &there_are(all - 1)).await?;
    // The keys of this place stand with the others.
    page.go("/p/1/listen/finding/1?at=finding:1").await?;
    page.see("article li.card-thing input").await?;
    page.keys("?").await?;
    page.see_text("[data-keys=Here]", "Make an idea of it").await?;
    let inside = "return !!document.querySelector('.modal.show')?.contains(document.activeElement)";
    page.until_script("the focus inside", inside).await?;
    page.keys(Key::Escape + "").await?;
    page.until_script("the keys are closed", "return !document.querySelector('.modal.show')").await?;
    page.keys(Key::Alt + "r").await?;
    page.see("textarea[aria-label='What people say']:focus").await?;
    page.keys(Key::Control + "a").await?;
    page.keys(TypingData::from("The boat is off and nobody says so") + Key::Enter).await?;
    page.see_text("[role=status]", "changed").await?;
    // An excerpt goes to another finding, which is searched for by its words.
    page.focus("article li.card-thing input").await?;
    page.keys(" ").await?;
    page.see_text("article button", "Take 1 away").await?;
    page.keys(Key::Alt + "v").await?;
    page.see("[popover] input:focus").await?;
    page.keys("open without").await?;
    page.until_script("one is found", "return document.querySelectorAll('[popover] section button').length === 1")
        .await?;
    page.keys(Key::Down + Key::Enter).await?;
    page.see_text("[role=status]", "moved 1 excerpt away from N1").await?;
    page.close().await
}

/// Chooses the first two rows of the table with the keyboard.
async fn choose_two(page: &Page) -> WebDriverResult<()> {
    page.focus("#cell-0-0").await?;
    page.keys(" ").await?;
    page.keys(Key::Down + "").await?;
    page.keys(" ").await?;
    page.see_text("[data-chosen]", "2 rows chosen").await
}

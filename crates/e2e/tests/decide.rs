//! A customer asks for something and hears what became of it; an idea is taken in steps, and what they show arrives.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Page, Server, browse};
use serde_json::Value;
use thirtyfour::prelude::*;

/// What the program answers to this page's person.
async fn ask(page: &Page, path: &str) -> WebDriverResult<Value> {
    page.script(&format!(
        "const ask = new XMLHttpRequest(); ask.open('GET', '/api/v1/{path}', false); ask.send();
         return JSON.parse(ask.responseText)"
    ))
    .await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_customer_asks_on_a_phone_and_sees_what_becomes_of_it() -> WebDriverResult<()> {
    let server = Server::demo();
    let inside = browse(&server.address).await?;
    inside.sign_in("tamar").await?;
    let form = ask(&inside, "decide/forms/1").await?;
    let link = format!("/f/{}", form["key"].as_str().expect("a key"));

    let phone = browse(&server.address).await?;
    phone.resize(390, 844).await?;
    phone.go(&link).await?;
    phone.see_text("h1", "What would make your crossing easier?").await?;
    let wide = phone.script("return document.documentElement.scrollWidth <= window.innerWidth").await?;
    assert_eq!(wide, true, "nothing lies beyond the edge of the phone");
    assert_eq!(phone.serious().await?, Vec::<String>::new());
    // What must be answered is said at its place, and what was written stays.
    phone.fill("[data-field=name] input", "Ebba Lund").await?;
    phone.press_button("Send it").await?;
    phone.see_text("[data-field=wish] [role=alert]", "must be answered").await?;
    let words = "A lantern on the quay when the boat is late <img src=x onerror=\"document.title='run'\">";
    phone.fill("[data-field=wish] textarea", words).await?;
    phone.press_button("Send it").await?;
    phone.see_text("h1", "Thank you").await?;
    let private = phone.script("return document.querySelector('[data-sent]').pathname").await?;
    let private = private.as_str().expect("a link").to_owned();
    phone.go(&private).await?;
    phone.see_text("[data-became]", "have not thought about it yet").await?;
    assert_eq!(phone.serious().await?, Vec::<String>::new());

    // Inside it is a request with its words as they are, and becomes an idea in one step.
    inside.go("/p/1/decide/request?view=open&at=request:41&whole=yes").await?;
    inside.see_text("[data-request] .words", "onerror").await?;
    let nothing =
        inside.script("return [document.querySelectorAll('[data-request] img').length, document.title]").await?;
    assert_eq!(nothing[0], 0, "what was sent is words and no markup");
    assert_ne!(nothing[1], "run");
    // Whoever sent it may be anybody, until somebody who knows says so.
    inside.see_text("[data-proof=unproved]", "Says to be Ebba Lund").await?;
    inside.press_button("Confirm who sent it").await?;
    inside.see_text("[role=status]", "confirmed who sent Q41").await?;
    inside.see_text("[data-proof=confirmed]", "Sent by Ebba Lund").await?;
    inside.press_button("Make an idea of it").await?;
    inside.see_text("[role=status]", "put Q41 behind").await?;
    inside.see_text("[data-request]", "Behind I").await?;
    inside.fill("[data-request] textarea", "We are looking for a lantern.").await?;
    inside.press_button("Answer the sender").await?;
    inside.see_text("[role=status]", "changed reply").await?;
    let ideas = ask(&inside, "decide/ideas?product=1").await?;
    let made = ideas
        .as_array()
        .expect("ideas")
        .iter()
        .find(|idea| idea["title"].as_str().is_some_and(|title| title.starts_with("A lantern on the quay")));
    assert_eq!(made.expect("the idea")["voices"]["people"], 1, "the request is evidence of it");

    phone.go(&private).await?;
    phone.see_text("[data-became]", "We are thinking about it").await?;
    phone.see_text("[data-reply]", "We are looking for a lantern.").await?;
    // Closed, the form is there no more.
    let path = "decide/forms/1";
    let close = format!(
        "const ask = new XMLHttpRequest(); ask.open('PATCH', '/api/v1/{path}', false);
         ask.setRequestHeader('content-type', 'application/json');
         ask.send(JSON.stringify({{ rev: {}, fields: {}, open: false }})); return ask.status",
        form["rev"], form["fields"]
    );
    assert_eq!(inside.script(&close).await?, 200);
    phone.go(&link).await?;
    phone.see_text("[role=alert]", "There is no form at this address").await?;
    phone.go("/was-it-you/0123456789abcdef").await?;
    phone.see_text("[role=alert]", "There is no question at this address").await?;
    phone.close().await?;
    inside.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn an_idea_is_taken_in_steps_and_what_they_show_arrives() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    // The idea of tickets without a signal serves the objective about the ramp; leave its confidence to the evidence.
    page.go("/p/1/decide/idea?at=idea:2&whole=yes").await?;
    page.press_button("leave it to the evidence").await?;
    page.see_text("[role=status]", "changed confidence").await?;
    let before = ask(&page, "decide/ideas/2").await?;
    assert_eq!(before["evidence"]["grade"], "said_by_several");
    page.fill("[aria-label='The next increment']", "Keep it on ten phones").await?;
    page.fill("[aria-label='What it should show']", "That nobody looks for a signal on the ramp").await?;
    page.press_button("Add the increment").await?;
    page.see_text("[data-steps] article", "Keep it on ten phones").await?;
    let step = ask(&page, "decide/ideas/2").await?["increments"][0]["id"].as_i64().expect("a number");

    // Two of its stories go into the step, and one of them is built and done.
    for story in ["S10", "S11"] {
        page.choose(&format!("[aria-label='Put {story} into an increment']"), "Keep it on ten phones").await?;
        page.see_text(&format!("[data-increment='{step}'] .stories"), story).await?;
    }
    let ramp = |told: &Value| {
        told.as_array()
            .expect("objectives")
            .iter()
            .find(|one| one["title"].as_str().is_some_and(|title| title.starts_with("Boarding")))
            .map(|one| (one["id"].clone(), one["delivered"]["stories_done"].clone()))
            .expect("the objective")
    };
    let (objective, done) = ramp(&ask(&page, "decide/objectives?product=1").await?);
    page.go("/p/1/handover/queue/1?at=work_item:10").await?;
    page.see("[data-column-title='Fitting out'] #queue-10").await?;
    page.focus("#queue-10").await?;
    page.keys(" ").await?;
    for column in ["Sea trial", "Afloat"] {
        page.keys(Key::Right + "").await?;
        page.see(&format!("[data-column-title='{column}'] #queue-10.held:focus")).await?;
    }
    page.keys(" ").await?;
    page.see("[data-column-title='Afloat'] #queue-10:not(.held)").await?;
    let (_, after) = ramp(&ask(&page, "decide/objectives?product=1").await?);
    assert_eq!(after.as_i64(), done.as_i64().map(|done| done + 1), "progress arrives at the objective");
    page.go(&format!("/p/1/decide/objective?at=objective:{objective}&whole=yes")).await?;
    page.see_text("[data-objective]", "1 of 3 stories that serve it are done").await?;

    // What the step came to changes the grade of evidence, and the score with it.
    page.go("/p/1/decide/idea?at=idea:2&whole=yes").await?;
    page.see_text("[data-steps]", "1 of 2 stories done").await?;
    let score = before["score"]["score"].as_f64().expect("a score");
    page.press_button(&format!("Note what K{step} came to")).await?;
    let form = format!("form[aria-label='What K{step} came to']");
    for (n, value) in ["Tickets opened at the first try", "of 10", "4", "10"].iter().enumerate() {
        page.fill(&format!("{form} label:nth-of-type({}) input", n + 1), value).await?;
    }
    page.choose(&format!("{form} select"), "held").await?;
    page.press_button("Save the result").await?;
    page.see_text("[role=status]", "confidence by the evidence").await?;
    page.see_text("[data-evidence]", "tested").await?;
    page.see_text("[data-told]", "0.75").await?;
    let told = ask(&page, "decide/ideas/2").await?;
    assert!(told["score"]["score"].as_f64().expect("a score") > score, "the score moves");
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_others_offer_is_noted_from_their_pages_and_looked_into() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    page.go("/p/1/decide/market").await?;
    page.see_text("[data-capability='1']", "67 %").await?;
    page.click("[data-cell='6 3']").await?;
    page.see_text("[data-notes]", "Unknown is not none").await?;
    // Words of a page become a note by the keyboard: the title of the page, then its first line.
    page.press_button("Bridge Bus over the causeway: tickets").await?;
    let text = "[data-pages] textarea[aria-readonly]";
    page.see(text).await?;
    page.script(&format!(
        "const field = document.querySelector('{text}'); const at = field.value.indexOf('Groups of more');
         field.focus(); field.setSelectionRange(at, at)"
    ))
    .await?;
    for _ in 0.."Groups of more than twelve call a day before".len() {
        page.keys(Key::Shift + Key::Right).await?;
    }
    page.see_text("[data-pages] blockquote", "Groups of more than twelve call a day before").await?;
    page.choose("[aria-label='What of it']", "Book for a group").await?;
    page.choose("[data-pages] [aria-label='How far they do it']", "none").await?;
    page.press_button("Note these words").await?;
    page.see_text("[role=status]", "noted what Bridge Bus offers").await?;
    page.see_text("[data-cell='6 2']", "none").await?;
    page.choose("[data-capability='6'] select", "none").await?;
    page.see_text("[data-capability='6']", "0 %").await?;

    page.fill("[data-research] input", "What do others take for a bicycle, and how is it booked?").await?;
    page.press_button("Look into it").await?;
    page.see_text("[data-research]", "drafted").await?;
    page.press_button("Read it here").await?;
    page.see_text("[data-draft]", "draft").await?;
    page.see_text("[data-draft] table", "Tern Water Taxi").await?;
    // Every quote stands in one of the pages that are kept, word for word.
    let market = ask(&page, "decide/market?product=1").await?;
    let mut texts = Vec::new();
    for one in market["pages"].as_array().expect("pages") {
        let text = ask(&page, &format!("decide/market/pages/{}", one["id"])).await?;
        texts.push(text["text"].as_str().expect("a text").to_owned());
    }
    let quotes = page
        .script(
            "return [...document.querySelectorAll('[data-draft] blockquote span')].map(one => one.textContent.trim())",
        )
        .await?;
    let quotes: Vec<&str> = quotes.as_array().expect("quotes").iter().filter_map(Value::as_str).collect();
    assert!(quotes.len() >= 3, "{quotes:?}");
    for quote in quotes {
        let words = quote.trim_start_matches('“').trim_end_matches('”');
        assert!(texts.iter().any(|text| text.contains(words)), "{words}");
    }
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.close().await
}

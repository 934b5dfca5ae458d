//! The whole line, as a product manager goes along it: from a file of feedback to a measured result,
//! beginning with an empty workspace.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Page, Server, browse};
use thirtyfour::prelude::*;

/// Windows-1252, semicolons, German headings, an empty row, a row without text, one row twice.
const FILE: &[u8] = b"Datum;Name;Firma;Sterne;Text;Insel\r\n\
    29.06.2026;Zo\xEB Brandt;Hask Stores;1;\"Die App sagt nichts. The boat was cancelled;\nnobody told us.\";Hask\r\n\
    28.06.2026;Ann Lee;;2;I only learned on the pier that the boat was off.;\r\n\
    28.06.2026;Ann Lee;;2;I only learned on the pier that the boat was off.;\r\n\
    ;;;;;\r\n\
    27.06.2026;Bo;;3;;\r\n\
    26.06.2026;Cal;Tern Dairy;4;The crew is lovely, but the app is slow.;\r\n";

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn from_a_file_of_feedback_to_a_measured_result() -> WebDriverResult<()> {
    let server = Server::empty();
    let page = browse(&server.address).await?;
    begin(&page, server.first_code.as_deref().unwrap()).await?;
    listen(&page, server.dir()).await?;
    decide(&page).await?;
    specify(&page).await?;
    plan(&page).await?;
    map(&page).await?;
    hand_over(&page).await?;
    learn(&page).await?;
    tokio::task::block_in_place(|| take_out(&server));
    page.close().await
}

/// A new workspace may begin with all that another held; a file that does not fit is no dead end.
#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_workspace_begins_with_all_that_another_held() -> WebDriverResult<()> {
    let (whole, server) = (Server::demo(), Server::empty());
    let taken = tokio::task::block_in_place(|| {
        let answer = whole.signed_in("wren").request("GET", "takeout/workspace.json").send();
        answer.and_then(|answer| answer.bytes()).expect("all of it")
    });
    let [cut, all] = ["cut.json", "all.json"].map(|name| server.dir().join(name));
    std::fs::write(&cut, &taken[..taken.len() / 2])?;
    std::fs::write(&all, &taken)?;
    let page = browse(&server.address).await?;
    page.go("/").await?;
    for (field, text) in [
        ("#code", server.first_code.as_deref().unwrap_or_default()),
        ("#name", "Wren Odell"),
        ("#email", "wren@crossing.example"),
        ("#password", "ferry-at-noon"),
    ] {
        page.fill(field, text).await?;
    }
    page.click("input[value=file]").await?;
    page.see("#whole").await?.send_keys(cut.display().to_string()).await?;
    page.press_button("Begin").await?;
    page.see_text("[role=alert]", "damaged").await?;
    page.see_text("form", "You own this workspace, and nothing is in it yet.").await?;
    // Also for whoever comes back later.
    page.go("/").await?;
    page.click("input[value=file]").await?;
    page.see("#whole").await?.send_keys(all.display().to_string()).await?;
    page.press_button("Begin").await?;
    page.see_text("h1", "Wren").await?;
    // What has begun is not begun again.
    page.go("/start").await?;
    page.see_text("h1", "Wren").await?;
    page.go("/p/1/decide/idea").await?;
    page.see("[data-row='1']").await?;
    page.close().await
}

/// The first start asks for the owner.
async fn begin(page: &Page, code: &str) -> WebDriverResult<()> {
    page.go("/").await?;
    for (field, text) in [
        ("#code", code),
        ("#name", "Wren Odell"),
        ("#email", "wren@crossing.example"),
        ("#password", "ferry-at-noon"),
        ("#product", "Crossing"),
        ("#team", "Quayside"),
    ] {
        page.fill(field, text).await?;
    }
    page.press_button("Begin").await?;
    page.see_text("h1", "Nothing waits for you, Wren").await
}

async fn listen(page: &Page, dir: &std::path::Path) -> WebDriverResult<()> {
    let file = dir.join("stimmen.csv");
    std::fs::write(&file, FILE)?;
    page.press_button("Bring in feedback").await?;
    page.see("input[type=file]").await?.send_keys(file.display().to_string()).await?;
    page.see_text("[aria-label=Preview]", "windows-1252, separated by “;”").await?;
    for (column, meaning) in [("Datum", "the day"), ("Firma", "the account"), ("Sterne", "the rating")] {
        page.choose(&format!("select[aria-label=\"What the column {column} is\"]"), meaning).await?;
    }
    page.see_text("[data-counts]", "3 new · 1 there already · 2 cannot be taken").await?;
    page.press_button("Bring in 3 items").await?;
    page.see_text("[data-report]", "3 items brought in").await?;
    page.see_text("[data-report]", "1 row is there already").await?;
    page.see_text("[data-report]", "left out: is empty").await?;
    page.see_text("[data-report]", "left out: has no text").await?;

    page.press_button("Read it").await?;
    page.click("li[data-row='1'] button").await?;
    page.see_text("article h2", "Zoë Brandt · Hask Stores").await?;
    page.click("article li:nth-of-type(2) input[type=checkbox]").await?;
    page.click("li[data-row='2'] button").await?;
    page.see_text("article h2", "Ann Lee").await?;
    page.click("article li:nth-of-type(1) input[type=checkbox]").await?;
    page.see_text("form.bar", "2 excerpts chosen").await?;
    page.fill("#finding-title", "I only learn on the pier that my boat is off").await?;
    page.press_button("Make a finding").await?;
    page.see_text("[role=status]", "made N1 of 2 excerpts").await?;
    page.click("li[data-row='3'] button").await?;
    page.see_text("article h2", "Cal").await?;
    page.click("article li:nth-of-type(2) input[type=checkbox]").await?;
    page.press_button("or put behind …").await?;
    page.see_text("[popover] section button", "N1 I only learn").await?;
    page.keys(Key::Down + Key::Enter).await?;
    page.see_text("[role=status]", "put 1 excerpt behind N1").await?;
    page.go("/p/1/listen/account").await?;
    page.click("[data-row='1'] [data-field=yearly_revenue]").await?;
    page.keys("48200" + Key::Enter).await?;
    page.see_text("[role=status]", "changed yearly revenue of A1").await
}

async fn decide(page: &Page) -> WebDriverResult<()> {
    page.go("/p/1/decide/objective").await?;
    for (field, value) in [
        ("a new objective", "Fewer people left on the pier"),
        ("its measure", "People turned away"),
        ("from", "31"),
        ("to", "10"),
    ] {
        page.fill(&format!("input[placeholder='{field}']"), value).await?;
    }
    page.press_button("Add").await?;
    page.see_text("[role=status]", "added O1").await?;
    page.set_field("unit", "a week").await?;
    page.see_text("[role=status]", "changed unit of O1").await?;

    page.go("/p/1/listen/finding/1").await?;
    page.press_button("Make an idea of it").await?;
    page.see("[data-row='1']").await?;
    page.see_text("[data-thing] h2", "I1").await?;
    for (field, value) in [("reach", "500"), ("impact", "2"), ("confidence", "0.8"), ("effort", "10")] {
        page.set_field(field, value).await?;
        page.see_text("[role=status]", &format!("changed {field} of I1")).await?;
    }
    page.see_text("[data-row='1'] [data-field=score]", "80").await?;
    page.see_text("[data-row='1'] [data-field=rank]", "1").await?;
    page.see_text("[data-row='1']", "weighing").await?;
    page.link("objectives", "Fewer people").await?;
    page.see_text("[role=status]", "changed objectives of I1").await?;
    page.see_text("[data-behind]", "3 people · 2 accounts · € 48 k a year").await?;
    // Nothing is decided without a reason, and that is said.
    page.press_button("Choose it").await?;
    page.see_text("[role=alert]", "Say why first").await?;
    page.fill("form.decide textarea", "Three people, one of them with a contract").await?;
    page.press_button("Choose it").await?;
    page.see_text("[data-row='1']", "chosen").await?;
    page.press_button("Make an epic of it").await
}

async fn specify(page: &Page) -> WebDriverResult<()> {
    page.see("#new-1").await?;
    for title in ["Be warned of a cancellation", "Save my usual boat"] {
        page.fill("#new-1", title).await?;
        page.keys(Key::Enter + "").await?;
        page.see_text("[role=status]", "added S").await?;
        page.until_script("the field is empty again", "return document.querySelector('#new-1').value === ''").await?;
    }
    page.press_button("Stories by epic").await?;
    page.click("[data-row='2'] [data-field=title]").await?;
    page.see_text("[data-thing] h2", "S2 Be warned").await?;
    for (field, words) in [
        ("as_a", "commuter from Hask"),
        ("i_want", "a message as soon as my boat is off"),
        ("so_that", "I do not stand there for nothing"),
        ("points", "5"),
        ("moscow", "must"),
    ] {
        page.set_field(field, words).await?;
        page.see_text("[role=status]", &format!("changed {} of S2", field.replace('_', " "))).await?;
    }
    page.see_text("[data-row='2'] [data-field=missing]", "acceptance").await?;
    page.fill("#criterion-2", "Given my usual boat, when it is off, then a message is sent").await?;
    page.keys(Key::Enter + "").await?;
    page.see_text("[role=status]", "added a criterion to S2").await?;
    page.link("needs", "Save my usual").await?;
    page.see_text("[role=status]", "changed needs of S2").await?;
    page.click("[data-row='3'] [data-field=title]").await?;
    page.see_text("[data-thing] h2", "S3").await?;
    page.set_field("points", "3").await?;
    page.see_text("[role=status]", "changed points of S3").await?;
    // The other way round would be a circle, and is refused in words.
    page.link("needs", "Be warned").await?;
    page.see_text("[role=status]", "run in a circle: S2 → S3 → S2").await
}

async fn plan(page: &Page) -> WebDriverResult<()> {
    page.go("/p/1/plan").await?;
    for (title, from, to) in [("Eider", "2026-07-01", "2026-08-31"), ("Fulmar", "2026-09-01", "2026-11-30")] {
        page.fill("form input[placeholder='a new release']", title).await?;
        page.press_button("Add").await?;
        page.see_text("[data-thing] h2", title).await?;
        for (field, day) in [("starts_on", from), ("ends_on", to)] {
            let place = format!("[data-thing] [data-field={field}]");
            page.click(&format!("{place} .value")).await?;
            page.set_day(&format!("{place} input"), day).await?;
            page.keys(Key::Enter + "").await?;
            page.see_text("[role=status]", &format!("changed {} of R", field.replace('_', " "))).await?;
            page.until_script("the day is kept", &format!("return !document.querySelector('{place} input')")).await?;
        }
    }
    Ok(())
}

async fn map(page: &Page) -> WebDriverResult<()> {
    page.go("/p/1/map").await?;
    for (button, field, title) in [
        ("Add an activity", "a new activity", "Before leaving home"),
        ("add a step", "a new step", "Be warned"),
        ("add a step", "a new step", "Find the lane"),
    ] {
        if page.driver.find(By::Css(format!("input[placeholder='{field}']"))).await.is_err() {
            page.press_button(button).await?;
        }
        page.fill(&format!("input[placeholder='{field}']"), title).await?;
        page.keys(Key::Enter + "").await?;
        page.see_text("[role=status]", title).await?;
    }
    // By keys: from below the map two slices up.
    page.focus("#card-2").await?;
    page.keys(" ").await?;
    page.see("#card-2.picked:focus").await?;
    for key in [Key::Up + "", Key::Up + "", TypingData::from(" ")] {
        page.keys(key).await?;
    }
    page.see("[data-slice=Eider] #card-2").await?;
    page.see_text("[role=status]", "moved S2 on the map").await?;
    // By hand: below a step first, then dragged into a later slice.
    page.choose("section[aria-label='Unplaced stories'] select", "Be warned").await?;
    page.see("[data-slice='Not in a release yet'] #card-3").await?;
    page.drag("#card-3", "[data-slice=Fulmar] .cell:nth-of-type(3)").await?;
    page.see("[data-slice=Fulmar] #card-3").await?;
    page.see_text("#card-2", "needs S3 first").await?;
    page.go("/p/1/plan/release?at=release:1").await?;
    page.see_text("[data-thing]", "S2 needs S3 first").await?;
    // While it is so, the ready check says no.
    page.go("/p/1/handover/ready").await?;
    page.see_text("[data-story=S2]", "finish S3, or plan it into the same release").await?;
    page.go("/p/1/map").await?;
    page.focus("#card-3").await?;
    page.keys(" ").await?;
    page.see("#card-3.picked:focus").await?;
    for key in [Key::Up + "", Key::Left + "", TypingData::from(" ")] {
        page.keys(key).await?;
    }
    page.see("[data-slice=Eider] #card-3").await.map(drop)
}

async fn hand_over(page: &Page) -> WebDriverResult<()> {
    page.go("/p/1/handover/ready").await?;
    page.see_text("[data-story=S3]", "say who it is for").await?;
    page.press_button("Hand over S2").await?;
    page.see_text("[role=status]", "handed S2 over to Quayside").await?;
    page.press_button("Queue of Quayside").await?;
    page.see("[data-column-title='To do'] #queue-2").await?;
    page.focus("#queue-2").await?;
    // What is left with Escape is where it was.
    page.keys(" ").await?;
    page.keys(Key::Right + "").await?;
    page.see("[data-column-title='Building'] #queue-2.held:focus").await?;
    page.keys(Key::Escape + "").await?;
    page.see("[data-column-title='To do'] #queue-2:focus:not(.held)").await?;
    page.keys(" ").await?;
    for column in ["Building", "Checking", "Done"] {
        page.keys(Key::Right + "").await?;
        page.see(&format!("[data-column-title={column}] #queue-2")).await?;
        page.see("#queue-2.held:focus").await?;
    }
    page.keys(" ").await?;
    page.see("#queue-2:not(.held)").await?;
    page.press_button("Roadmap").await?;
    page.see_text("[data-lane=Eider] [data-progress]", "5 of 8 points · 63 %").await
}

async fn learn(page: &Page) -> WebDriverResult<()> {
    page.go("/p/1/plan/release?at=release:1").await?;
    page.choose("select[aria-label='State of R1']", "released").await?;
    // Nothing happens before it is said where goes what is not done, and since when it is out.
    let form = "form[aria-label='R1 goes out']";
    page.see_text(form, "1 of 2 stories not done").await?;
    page.press_button("Not yet").await?;
    page.see_text("select[aria-label='State of R1']", "planned").await?;
    page.choose("select[aria-label='State of R1']", "released").await?;
    page.choose(&format!("{form} select"), "no release").await?;
    page.press_button("It is out").await?;
    page.see_text("[role=status]", "R1 is released now; 1 story not done, now in no release").await?;
    page.go("/p/1/learn").await?;
    page.press_button("Note a result").await?;
    for (n, value) in ["People turned away", "a week", "31", "18"].iter().enumerate() {
        page.fill(&format!("[data-out] form label:nth-of-type({}) input", n + 1), value).await?;
    }
    page.choose("[data-out] form select", "held").await?;
    page.press_button("Save the result").await?;
    page.see_text("[data-work]", "31 → 18 a week, down 42 %").await?;
    page.see_text("[data-work]", "It held").await?;
    // The line from the result back to the words …
    page.press_button("M1").await?;
    page.see_text("[data-trace-of]", "M1 People turned away").await?;
    for part in [
        "S2 Be warned",
        "E1 I only learn",
        "I1 I only learn",
        "O1 Fewer people",
        "N1 I only learn",
        "The boat was cancelled",
    ] {
        page.see_text("[data-trace]", part).await?;
    }
    // … and from the words to the result.
    page.go("/p/1/listen/excerpt?at=excerpt:2").await?;
    page.see_text("[data-trace-of]", "X2").await?;
    for part in [
        "N1 I only learn",
        "I1",
        "Three people, one of them",
        "E1",
        "S2 Be warned",
        "R1 Eider",
        "M1 People turned away",
    ] {
        page.see_text("[data-trace]", part).await?;
    }
    Ok(())
}

fn take_out(server: &Server) {
    let client = server.signed_in("wren");
    let text = |path: &str| client.request("GET", path).send().and_then(|answer| answer.text()).expect("a file");
    let stories = text("takeout/stories.csv?product=1");
    assert!(stories.contains("S2,Be warned of a cancellation,E1"), "{stories}");
    let release = text("takeout/releases/1.md");
    assert!(release.starts_with("# R1 Eider") && release.contains("> N1 I only learn"), "{release}");
}

//! Collections as a team uses them: every kind of view, a field of the team's own, a filter, columns that are dragged
//! by hand and by keys, a link that shows exactly what was seen, and a table that is worked in with keys.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Page, Server, browse};
use serde_json::{Value, json};
use thirtyfour::prelude::*;

const KINDS: [&str; 7] = ["table", "columns", "timeline", "calendar", "gallery", "list", "chart"];

/// The address of a view that is not saved.
fn address(stage: &str, collection: &str, definition: &Value) -> String {
    let bytes = definition.to_string().into_bytes();
    let encoded: String = bytes.iter().map(|byte| format!("%{byte:02X}")).collect();
    format!("/p/1/{stage}/{collection}?view=none&d={encoded}")
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn every_collection_opens_in_every_kind_of_view() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    let collections = [
        ("decide", "idea", "state", "f4", "title"),
        ("specify", "work_item", "state", "f6", "title"),
        ("listen", "feedback_item", "f8", "said_on", "text"),
    ];
    let before = tokio::task::block_in_place(|| server.signed_in("wren").get("undo"));
    let mut faults = Vec::new();
    for (stage, collection, group, day, title) in collections {
        for kind in KINDS {
            let definition = json!({ "kind": kind, "group": [{ "field": group }], "from": day, "to": day,
                "zoom": "quarter", "fields": [{ "name": title }, { "name": group }], "chart": { "kind": "bar" } });
            page.go(&address(stage, collection, &definition)).await?;
            page.see(&format!("[data-kind={kind}]")).await?;
            let drawn = match kind {
                "table" => "[data-row] [role=gridcell]",
                "columns" => "[data-board] .card-thing",
                "timeline" => "[data-bar]",
                "calendar" => "[data-strip]",
                "chart" => "svg.chart rect.bar",
                _ => "li[data-row]",
            };
            page.see(drawn).await?;
            faults.extend(page.serious().await?.into_iter().map(|fault| format!("{collection} as {kind}: {fault}")));
        }
    }
    page.close().await?;
    assert!(faults.is_empty(), "{faults:#?}");
    // To look at things in another way changes nothing.
    let undo = tokio::task::block_in_place(|| server.signed_in("wren").get("undo"));
    assert_eq!(undo, before);
    Ok(())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_field_a_filter_columns_and_a_link_that_shows_the_same() -> WebDriverResult<()> {
    let server = Server::demo();
    let (wren, tamar) = (browse(&server.address).await?, browse(&server.address).await?);
    wren.sign_in("wren").await?;
    tamar.sign_in("tamar").await?;
    wren.go("/p/1/decide/idea?view=1").await?;
    wren.see("[data-row='1']").await?;
    make_a_field(&wren).await?;
    filter(&wren).await?;
    group(&wren).await?;

    // By hand: from "no harbour talk" to "asked".
    wren.drag("[data-cell='no harbour talk'] #card-6", "[data-cell=asked]").await?;
    wren.see("[data-cell=asked] #card-6").await?;
    wren.see_text("[role=status]", "changed Harbour talk of I6").await?;
    // By keys: one column further.
    wren.focus("#card-6").await?;
    wren.keys(" ").await?;
    wren.see("#card-6[aria-pressed=true]").await?;
    wren.keys(Key::Right + "").await?;
    wren.see("[data-cell=agreed] #card-6").await?;
    wren.keys(" ").await?;
    wren.see("[data-cell=agreed] #card-6[aria-pressed=false]").await?;

    // The link opens exactly what was seen, and what changes there is seen here.
    let link = wren.driver.current_url().await?;
    tamar.driver.goto(link.as_str()).await?;
    tamar.see("[data-cell=agreed] #card-6").await?;
    assert!(tamar.driver.find(By::Id("card-2")).await.is_err(), "the filter leaves chosen ideas out");
    tamar.focus("#card-7").await?;
    tamar.keys(" ").await?;
    tamar.see("#card-7[aria-pressed=true]").await?;
    for key in [Key::Left + "", Key::Left + "", TypingData::from(" ")] {
        tamar.keys(key).await?;
    }
    tamar.see("[data-cell=asked] #card-7[aria-pressed=false]").await?;
    wren.see("[data-cell=asked] #card-7").await?;

    // Kept as a view, it is there for the other one, too.
    wren.press_button("Save as …").await?;
    wren.fill("form input[maxlength='80']", "Harbour").await?;
    wren.press_button("Save the view").await?;
    wren.see("[data-view=Harbour][aria-current]").await?;
    tamar.see("[data-view=Harbour]").await?;
    wren.close().await?;
    tamar.close().await
}

async fn make_a_field(page: &Page) -> WebDriverResult<()> {
    page.press_button("11 fields").await?;
    page.press_button("Add a field").await?;
    page.fill("[data-field-form] input[maxlength='80']", "Harbour talk").await?;
    page.choose("[data-field-form] select", "one choice").await?;
    page.fill("[aria-label='Choice 1']", "asked").await?;
    page.press_button("one more choice").await?;
    page.fill("[aria-label='Choice 2']", "agreed").await?;
    page.press_button("Add the field").await?;
    page.see_text("[role=status]", "added the field \"Harbour talk\" to ideas").await?;
    page.see_text("[role=columnheader]", "Harbour talk").await?;
    page.keys(Key::Escape + "").await
}

async fn filter(page: &Page) -> WebDriverResult<()> {
    page.press_button("all of them").await?;
    page.press_button("Add a condition").await?;
    page.choose("[data-condition] select[aria-label=Field]", "State").await?;
    let weighing =
        "[...document.querySelectorAll('[data-condition] label')].find(l => l.textContent.includes('weighing'))";
    page.until_script("the choices", &format!("return !!{weighing}")).await?;
    page.script(&format!("{weighing}.click()")).await?;
    page.until_script("the filter", "return document.querySelector('[data-count]').textContent.trim() === '4 rows'")
        .await?;
    page.keys(Key::Escape + "").await
}

async fn group(page: &Page) -> WebDriverResult<()> {
    page.press_button("Table").await?;
    page.press_button("Columns").await?;
    page.see("[data-kind=columns]").await?;
    page.press_button("State").await?;
    page.choose("select[aria-label='Grouped by']", "Harbour talk").await?;
    page.see("[data-column-title=agreed]").await?;
    page.keys(Key::Escape + "").await
}

/// Puts text on the clipboard of the page and pastes it, as Ctrl+V does.
async fn paste(page: &Page, text: &str) -> WebDriverResult<()> {
    let script = "const data = new DataTransfer(); data.setData('text/plain', arguments[0]);
        document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))";
    page.driver.execute(script, vec![json!(text)]).await.map(drop)
}

async fn cell(page: &Page, row: i64, field: &str) -> WebDriverResult<String> {
    page.see(&format!("[data-row='{row}'] [data-field={field}]")).await?.text().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_table_is_worked_in_with_keys() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    let fields = ["reference", "title", "reach", "impact", "state"].map(|name| json!({ "name": name }));
    page.go(&address("decide", "idea", &json!({ "kind": "table", "fields": fields }))).await?;
    page.see("[data-row='1']").await?;
    // From cell to cell, typing replaces, Enter goes on below.
    page.click("[data-row='1'] [data-field=reach]").await?;
    page.keys("1234" + Key::Enter).await?;
    page.see_text("[role=status]", "changed reach of I1").await?;
    page.see_text("[data-row='1'] [data-field=reach]", "1,234").await?;
    page.until_script("the cell below", "return document.activeElement.closest('[data-row]')?.dataset.row === '2'")
        .await?;
    // What a rule governs stays, and says why.
    page.keys(Key::End + "").await?;
    page.keys(Key::Enter + "").await?;
    page.see_text("[role=status]", "take one in the ranking").await?;

    // A block is pasted whole, and taken back in one step.
    page.click("[data-row='2'] [data-field=reach]").await?;
    paste(&page, "10\t1\n20\t2\n30\t3").await?;
    page.see_text("[role=status]", "changed 3 ideas").await?;
    page.see_text("[data-row='4'] [data-field=impact]", "3").await?;
    assert_eq!(cell(&page, 3, "reach").await?, "20");
    page.click("[data-row='2'] [data-field=reach]").await?;
    page.keys(Key::Control + "z").await?;
    page.see_text("[role=status]", "undid: changed 3 ideas").await?;
    page.see_text("[data-row='2'] [data-field=reach]", "3,100").await?;
    // One cell that does not fit keeps all of them as they were.
    paste(&page, "10\t1\nmany\t2").await?;
    page.see_text("[role=status], [role=alert]", "Line 2").await?;
    assert_eq!(cell(&page, 2, "reach").await?, "3,100");

    // Several rows at once.
    for row in [8, 9] {
        page.click(&format!("[data-row='{row}'] .tick input")).await?;
    }
    page.see_text("[data-chosen]", "2 rows chosen").await?;
    page.choose("[data-chosen] select", "Impact").await?;
    page.fill("[data-chosen] input", "5").await?;
    page.press_button("Set").await?;
    page.see_text("[role=status]", "changed 2 ideas").await?;
    page.see_text("[data-row='9'] [data-field=impact]", "5").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn what_is_marked_is_worked_on_also_where_it_was_never_on_the_screen() -> WebDriverResult<()> {
    let server = Server::demo();
    let with_a_place = || {
        tokio::task::block_in_place(|| {
            let filter = json!({ "field": "f8", "operator": "filled" });
            let asked = json!({ "product": 1, "query": { "filter": filter }, "limit": 1 });
            let told = server.signed_in("tamar").done("POST", "collections/feedback_item/rows", &asked);
            told["count"].as_i64().expect("a number")
        })
    };
    let before = with_a_place();
    assert_eq!(before, 340, "more than fit on a screen");

    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    let fields = ["reference", "f8"].map(|name| json!({ "name": name }));
    let table = json!({ "kind": "table", "fields": fields, "group": [{ "field": "source" }] });
    page.go(&address("listen", "feedback_item", &table)).await?;
    // From the first row of the first group to the last one of the last.
    page.click("[id=cell-0-1]").await?;
    page.keys(Key::Control + Key::Shift + Key::End).await?;
    page.see_text("[role=status]", "Marked 595 × 1 cells").await?;
    page.keys(Key::Delete + "").await?;
    page.see_text("[role=status]", "changed 340 feedback").await?;
    assert_eq!(with_a_place(), 0);
    // The table has the keyboard although the cell with it has left the screen, and goes on from there.
    page.keys(Key::Control + "z").await?;
    page.see_text("[role=status]", "undid").await?;
    assert_eq!(with_a_place(), before);
    page.keys(Key::Down + "").await?;
    page.until_script("the cell below the first", "return document.activeElement.id === 'cell-1-1'").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn typing_on_a_cell_begins_what_fits_and_empties_nothing() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    let values = || {
        tokio::task::block_in_place(|| {
            let body = json!({ "product": 1, "query": { "fields": ["moscow", "points"] }, "limit": 500 });
            let page = server.signed_in("tamar").done("POST", "collections/work_item/rows", &body);
            let rows = page["rows"].as_array().expect("rows");
            let row = rows.iter().find(|one| one["id"] == 6).expect("the row");
            (row["values"]["moscow"].clone(), row["values"]["points"].clone())
        })
    };
    let before = values();
    let fields = json!([{ "name": "title" }, { "name": "moscow" }, { "name": "points" }]);
    let view = json!({ "kind": "table", "fields": fields, "filter": { "field": "level", "operator": "any_of", "value": ["story"] } });
    page.go(&address("specify", "work_item", &view)).await?;
    // A letter is no number, and what is no number is left out.
    page.click("[data-row='6'] [data-field=points]").await?;
    page.keys("x").await?;
    page.see_text("[role=status]", "takes a number; it stays as it was").await?;
    page.keys("-").await?;
    page.see(".editor input").await?;
    page.keys("-" + Key::Enter).await?;
    page.see_text("[role=status]", "This is no number").await?;
    assert_eq!(values(), before);
    page.click("[data-row='6'] [data-field=points]").await?;
    page.keys("7,5" + Key::Enter).await?;
    page.see_text("[role=status]", "changed points of S6").await?;
    assert_eq!(values().1, json!(7.5));
    // A letter looks among choices; what nothing is called leaves it as it is.
    page.click("[data-row='6'] [data-field=moscow]").await?;
    page.keys("zz" + Key::Enter + Key::Escape).await?;
    assert_eq!(values().0, before.0);
    page.click("[data-row='6'] [data-field=moscow]").await?;
    page.keys("cou" + Key::Enter).await?;
    page.see_text("[role=status]", "changed moscow of S6").await?;
    assert_eq!(values().0, json!("could"));
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn bars_and_days_move_by_hand_and_by_keys() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    let day = |field: &'static str, row: i64| {
        let client = server.signed_in("tamar");
        let body = json!({ "product": 1, "query": { "fields": [field] }, "limit": 500 });
        let page = client.done("POST", "collections/work_item/rows", &body);
        let rows = page["rows"].as_array().expect("rows");
        rows.iter().find(|one| one["id"] == row).expect("the row")["values"][field].as_str().expect("days").to_owned()
    };
    page.go("/p/1/specify/work_item?view=7").await?;
    page.see("[data-bar='6']").await?;
    let before = tokio::task::block_in_place(|| day("f6", 6));
    page.focus("#bar-6").await?;
    page.keys(" ").await?;
    page.see_text("[role=status]", "Picked up S6").await?;
    for key in [Key::Right + "", Key::Shift + Key::Right, TypingData::from(" ")] {
        page.keys(key).await?;
    }
    page.see_text("[role=status]", "changed Build of S6").await?;
    let after = tokio::task::block_in_place(|| day("f6", 6));
    let days =
        |text: &str| -> Vec<jiff::civil::Date> { text.split('/').map(|one| one.parse().expect("a day")).collect() };
    let (was, is) = (days(&before), days(&after));
    assert_eq!(((is[0] - was[0]).get_days(), (is[1] - was[1]).get_days()), (1, 2), "{before} {after}");
    // By hand: 55 pixels are five days at this zoom.
    let bar = page.see("#bar-6").await?;
    let chain = page.driver.action_chain().move_to_element_center(&bar).click_and_hold();
    chain.move_by_offset(30, 0).move_by_offset(25, 0).release().perform().await?;
    page.until_script("the bar at rest", "return !document.querySelector('.bar.held')").await?;
    page.see_text("[role=status]", "changed Build of S6").await?;
    tokio::time::sleep(std::time::Duration::from_millis(300)).await;
    let dragged = days(&tokio::task::block_in_place(|| day("f6", 6)));
    assert_eq!(((dragged[0] - is[0]).get_days(), (dragged[1] - is[1]).get_days()), (5, 5));

    // On a calendar, a week down.
    let first = dragged[0].to_string();
    let view = json!({ "kind": "calendar", "from": "f6", "fields": [] });
    page.go(&format!("{}&month={}", address("specify", "work_item", &view), &first[..7])).await?;
    page.focus("[data-strip=\"6\"]").await?;
    page.keys(" ").await?;
    for key in [Key::Down + "", TypingData::from(" ")] {
        page.keys(key).await?;
    }
    page.see_text("[role=status]", "changed Build of S6").await?;
    let moved = days(&tokio::task::block_in_place(|| day("f6", 6)));
    assert_eq!((moved[0] - dragged[0]).get_days(), 7);
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn the_find_box_finds_words_in_everything_and_what_can_be_done() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("vik").await?;
    page.keys("/").await?;
    page.keys("refund").await?;
    page.see_text("[data-found] [role=option]:nth-of-type(2)", "Refunds").await?;
    page.see_text("[data-found]", "Feedback").await?;
    page.keys(Key::Enter + "").await?;
    page.see_text("[data-trace-of]", "E13 Refunds").await?;
    page.script("document.activeElement.blur()").await?;
    // At the end of the words, an arrow looks in the next sort only.
    page.keys("/").await?;
    page.keys("refund").await?;
    page.see_text("[data-found]", "Things").await?;
    page.keys(Key::Right + "").await?;
    page.until_script(
        "feedback alone",
        "const found = document.querySelector('[data-found]').textContent;
        return found.includes('Feedback') && !found.includes('Things')",
    )
    .await?;
    page.keys(Key::Escape + "").await?;
    page.keys("/").await?;
    page.keys("open epics").await?;
    page.see_text("[data-found]", "Open epics and stories").await?;
    page.keys(Key::Enter + "").await?;
    page.see("[data-kind=table]").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_picture_is_put_into_a_field_and_stands_in_the_gallery() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("tamar").await?;
    // A picture of this very page.
    let picture = server.dir().join("pier.png");
    page.driver.screenshot(&picture).await?;
    let made = tokio::task::block_in_place(|| {
        server.signed_in("tamar").done("POST", "collections/idea/fields", &json!({ "label": "Sketch", "type": "file" }))
    });
    let field = format!("f{}", made["thing"]["id"]);
    let fields = json!([{ "name": "title" }, { "name": field }]);
    page.go(&address("decide", "idea", &json!({ "kind": "table", "fields": fields }))).await?;
    page.click(&format!("[data-row='1'] [data-field={field}]")).await?;
    page.keys(Key::Enter + "").await?;
    page.see(".editor input[type=file]").await?.send_keys(picture.display().to_string()).await?;
    page.see_text("[role=status]", "changed Sketch of I1").await?;
    page.see_text(&format!("[data-row='1'] [data-field={field}]"), "pier.png").await?;
    page.go(&address("decide", "idea", &json!({ "kind": "gallery", "fields": fields, "picture": field }))).await?;
    let drawn =
        "const i = document.querySelector(\"li[data-row='1'] img\"); return !!i && i.complete && i.naturalWidth > 1000";
    page.until_script("the picture", drawn).await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_viewer_looks_at_everything_and_changes_nothing() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("vik").await?;
    page.go("/p/1/decide/idea?view=1").await?;
    page.click("[data-row='1'] [data-field=effort]").await?;
    page.keys("5" + Key::Enter).await?;
    // It is said before anything is typed away.
    page.see_text("[role=status]", "To change it takes the role of editor").await?;
    page.see_text("[data-row='1'] [data-field=effort]", "14").await?;
    // A view of one's own is one's own affair.
    page.press_button("Save as …").await?;
    page.fill("form input[maxlength='80']", "Vik").await?;
    page.press_button("Save the view").await?;
    page.see("[data-view=Vik][aria-current]").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_chart_is_kept_as_a_drawing_and_as_a_picture() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("vik").await?;
    page.go("/p/1/specify/work_item?view=8").await?;
    page.see("svg.chart rect.bar").await?;
    let watch = "window.made = []; const make = URL.createObjectURL;
        URL.createObjectURL = blob => { window.made.push([blob.type, blob.size]); return make.call(URL, blob) }";
    page.script(watch).await?;
    page.press_button("Picture as SVG").await?;
    page.press_button("as PNG").await?;
    let kept = "return window.made.some(([type, size]) => type === 'image/png' && size > 2000)";
    page.until_script("the picture", kept).await?;
    let drawn = "return window.made.filter(([type, size]) => type === 'image/svg+xml' && size > 2000).length >= 1";
    page.until_script("the drawing", drawn).await?;
    // What is drawn stands below as numbers, too.
    page.click("summary").await?;
    page.see_text("table.numbers", "R2 Fulmar").await?;
    page.close().await
}

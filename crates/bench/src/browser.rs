//! From what a person does to what is drawn, in a browser, in a table of 100,000 feedback items: the whole way.

use iron_kite_e2e::{Page, Server, browse};
use iron_kite_testkit::reviews_csv;
use serde_json::{Value, json};
use thirtyfour::error::WebDriverResult;

use crate::tell;

const TIMES: usize = 40;
const PRODUCT: i64 = 2;

/// What is done, and when it is drawn: scripts, in which `n` says for which time.
struct Act {
    name: &'static str,
    act: String,
    drawn: &'static str,
}

/// Measures with this many reviews.
pub(crate) fn measure(rows: usize) {
    let server = Server::demo();
    let client = server.signed_in("wren");
    let file = client.put_down(PRODUCT, "reviews.csv", reviews_csv(rows));
    assert_eq!(client.over(&client.bring_in(PRODUCT, &file))["state"], "done");
    tell(&format!("{rows} reviews as a table in a browser, from what a person does to what is drawn"));
    let runtime = tokio::runtime::Runtime::new().expect("threads");
    runtime.block_on(look(&server, rows)).expect("a browser");
}

async fn look(server: &Server, rows: usize) -> WebDriverResult<()> {
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go(&address(&json!({}))).await?;
    page.see("[data-row]").await?;
    for one in acts(rows) {
        let mut times = Vec::new();
        for n in 0..=TIMES {
            times.push(time(&page, &one, n).await?);
        }
        // The first warms up.
        times.remove(0);
        times.sort_by(f64::total_cmp);
        let [middle, most] = [50, 95].map(|share| times[TIMES * share / 100]);
        tell(&format!("  {:<52}: p50 {middle:6.1} ms, p95 {most:6.1} ms", one.name));
    }
    page.close().await
}

/// The address of a table of feedback.
fn address(definition: &Value) -> String {
    let fields = ["text", "said_on", "source", "person", "account", "rating"].map(|name| json!({ "name": name }));
    let mut whole = json!({ "kind": "table", "fields": fields });
    whole.as_object_mut().expect("an object").extend(definition.as_object().cloned().unwrap_or_default());
    let encoded: String = whole.to_string().bytes().map(|byte| format!("%{byte:02X}")).collect();
    format!("/p/{PRODUCT}/listen/feedback_item?view=none&d={encoded}")
}

fn acts(rows: usize) -> Vec<Act> {
    // As the controls of a view do it.
    let to = |one: &Value, other: &Value| {
        let [one, other] = [address(one), address(other)];
        format!(
            "document.querySelector('#app').__vue_app__.config.globalProperties.$router.push(n % 2 ? '{one}' : '{other}')"
        )
    };
    let by = |field: &str| json!({ "order": [{ "field": field, "descending": true }] });
    let rated = |stars: usize| json!({ "filter": { "field": "rating", "operator": "is", "value": stars } });
    let holds = |word: &str| json!({ "filter": { "field": "text", "operator": "contains", "value": word } });
    let group = |field: &str| json!({ "group": [{ "field": field }] });
    let scroll = format!("grid().scrollTop = (n * 7919 % {rows}) * 35");
    let open = "rows()[n % 2].click()";
    let act = |name, act: String, drawn| Act { name, act, drawn };
    vec![
        act("scroll to any place", scroll, "true"),
        act("open another item", open.to_owned(), "shown() !== before.shown"),
        act("order by rating, and by day", to(&by("rating"), &by("said_on")), "first() !== before.first"),
        act("filter by rating, one and another", to(&rated(4), &rated(5)), "first() !== before.first"),
        act("filter by a word, one and another", to(&holds("refund"), &holds("ticket")), "first() !== before.first"),
        act(
            "group by account, and by source",
            to(&group("account"), &group("source")),
            "grid().querySelector('[data-group]') && label() !== before.label",
        ),
    ]
}

/// Milliseconds from the act to the frame after which it is drawn.
async fn time(page: &Page, one: &Act, n: usize) -> WebDriverResult<f64> {
    let script = format!(
        "const done = arguments[0], n = {n}
        const grid = () => document.querySelector('[role=grid]')
        const seen = row => {{ const [a, b] = [row.getBoundingClientRect(), grid().getBoundingClientRect()]; return a.top >= b.top + 35 && a.bottom <= b.bottom }}
        const rows = () => [...grid().querySelectorAll('[data-row]')].filter(seen)
        const first = () => grid() && rows().map(row => row.dataset.row).join()
        const shown = () => document.querySelector('[data-thing] h2')?.textContent
        const label = () => grid()?.querySelector('[data-group]')?.textContent
        const before = {{ first: first(), shown: shown(), label: label() }}
        const still = () => grid() && !document.querySelector('[role=grid][aria-busy=true], [role=grid] [aria-busy=true]')
        const start = performance.now();
        {act}
        const look = () => still() && rows().length > 0 && ({drawn})
          ? setTimeout(() => done(performance.now() - start)) : requestAnimationFrame(look)
        requestAnimationFrame(look)",
        act = one.act,
        drawn = one.drawn,
    );
    let told = page.driver.execute_async(script, vec![]).await?;
    Ok(told.json().as_f64().unwrap_or(f64::NAN))
}

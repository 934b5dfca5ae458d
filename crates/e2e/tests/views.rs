//! Every view with the demo data: nothing serious for axe in both themes, and the pictures of the README.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use std::path::PathBuf;

use iron_kite_e2e::{Page, Server, browse};
use thirtyfour::prelude::*;

/// The views, by the name of their picture, with something selected where that shows more.
const VIEWS: [(&str, &str); 43] = [
    ("opening", "/p/1"),
    ("notices", "/p/1/notices"),
    ("account", "/p/1/account"),
    ("rules", "/p/1/rules"),
    ("listen-findings", "/p/1/listen/finding?at=finding:1"),
    ("listen-finding", "/p/1/listen/finding/2?at=finding:2"),
    ("listen-suggestions", "/p/1/listen/suggestions"),
    ("listen-overview", "/p/1/listen/overview"),
    ("listen-report", "/p/1/listen/report?findings=1,2&study=1"),
    ("listen-check", "/p/1/listen/check"),
    ("listen-terms", "/p/1/listen/term"),
    ("listen-ask", "/p/1/listen/ask?q=refund"),
    ("listen-feedback", "/p/1/listen/feedback_item?at=feedback_item:3"),
    ("listen-bring-in", "/p/1/listen/bring-in"),
    ("listen-study", "/p/1/listen/study?at=study:1"),
    ("listen-notes", "/p/1/listen/study/1/notes"),
    ("listen-accounts", "/p/1/listen/account?at=account:3"),
    ("decide-ranking", "/p/1/decide/ranking?at=idea:5"),
    ("decide-budget", "/p/1/decide/ranking/budget"),
    ("decide-models", "/p/1/decide/ranking/models?model=weighted"),
    ("decide-report", "/p/1/decide/ranking/reports"),
    ("decide-ideas", "/p/1/decide/idea?view=ranking&at=idea:5"),
    ("decide-objectives", "/p/1/decide/objective?at=objective:2&whole=yes"),
    ("decide-tree", "/p/1/decide/objectives/tree"),
    ("decide-idea", "/p/1/decide/idea?at=idea:1&whole=yes"),
    ("decide-requests", "/p/1/decide/request?view=requests&at=request:1"),
    ("decide-forms", "/p/1/decide/request_form?at=request_form:1"),
    ("decide-market", "/p/1/decide/market"),
    ("decide-notes", "/p/1/decide/competitor_note"),
    ("decide-increments", "/p/1/decide/increment?at=increment:2"),
    ("all-table", "/p/1/decide/idea?view=1&at=idea:2"),
    ("all-columns", "/p/1/specify/work_item?view=6&at=work_item:6"),
    ("all-timeline", "/p/1/specify/work_item?view=7&at=work_item:6"),
    ("all-chart", "/p/1/decide/idea?view=4&at=idea:1"),
    ("decide-decisions", "/p/1/decide/decisions?at=idea:1"),
    ("specify-stories", "/p/1/specify/work_item?at=work_item:6"),
    ("specify-document", "/p/1/specify/document?at=document:1"),
    ("map", "/p/1/map?at=work_item:6"),
    ("plan-releases", "/p/1/plan/release?at=release:2"),
    ("handover-roadmap", "/p/1/handover/roadmap?at=release:2"),
    ("handover-ready", "/p/1/handover/ready?at=work_item:14"),
    ("handover-queue", "/p/1/handover/queue/1?at=work_item:4"),
    ("learn-results", "/p/1/learn?at=result:1"),
];

/// Where the pictures go: nowhere in a plain test run.
fn pictures() -> Option<PathBuf> {
    std::env::var_os("IRON_KITE_PICTURES").map(PathBuf::from)
}

/// Looks at a view; gives what is wrong with it.
async fn look(page: &Page, name: &str) -> WebDriverResult<Vec<String>> {
    page.until_script("the view", "return !!document.querySelector('[data-work]:not([aria-busy=true])')").await?;
    if let Some(folder) = pictures() {
        page.picture(&folder.join(format!("{name}.png"))).await?;
    }
    let found = page.serious().await?;
    Ok(found.into_iter().map(|fault| format!("{name}: {fault}")).collect())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn every_view_can_be_used_by_everybody() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    let mut faults = Vec::new();
    for (name, path) in VIEWS {
        page.go(path).await?;
        faults.extend(look(&page, name).await?);
    }
    page.script("localStorage.setItem('iron-kite-theme', 'dark')").await?;
    for (name, path) in VIEWS {
        page.go(path).await?;
        faults.extend(look(&page, &format!("{name}-dark")).await?);
    }
    page.close().await?;
    assert!(faults.is_empty(), "{faults:#?}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn the_views_hold_on_a_narrow_window() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    let mut faults = Vec::new();
    for width in [768, 480] {
        page.resize(width, 900).await?;
        for (name, path) in VIEWS {
            page.go(path).await?;
            faults.extend(look(&page, &format!("{name}-{width}")).await?);
            let wider = page.script("return document.documentElement.scrollWidth > window.innerWidth + 1").await?;
            if wider == true {
                faults.push(format!("{name} at {width}: the page itself scrolls sideways"));
            }
        }
    }
    page.close().await?;
    assert!(faults.is_empty(), "{faults:#?}");
    Ok(())
}

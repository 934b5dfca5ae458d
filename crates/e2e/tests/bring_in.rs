//! Files of five sorts are dropped, looked at, taken, watched, stopped, and their reports read.

#![allow(clippy::expect_used, reason = "a test stops where a step fails")]

use iron_kite_e2e::{Server, browse};
use iron_kite_testkit::reviews_csv;
use thirtyfour::prelude::*;

const FILES: [(&str, &[u8]); 5] = [
    ("tickets.xlsx", include_bytes!("../../documents/tests/files/tickets.xlsx")),
    ("talk.docx", include_bytes!("../../documents/tests/files/interview.docx")),
    ("ramp.vtt", b"WEBVTT\n\nNOTE\nDate: 2031-01-01\n\n00:01.000 --> 00:02.000\n<v Wren>Where?\n\n00:03.000 --> 00:04.000\n<v Ada>On the boat, please show it earlier.\n"),
    ("said.json", br#"[{"remark": "The ramp is steep", "stars": 2, "by": {"name": "Bo"}}]"#),
    ("pier.png", b"\x89PNG\r\n\x1a\nrest"),
];

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_note_is_kept_with_two_keys() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.see("[data-work][aria-busy=false]").await?;
    page.keys("n").await?;
    page.until_script("the field has the focus", "return document.activeElement.matches('.modal.show textarea')")
        .await?;
    page.keys("The lane changed again, and nobody said so.").await?;
    page.keys(Key::Control + Key::Enter).await?;
    page.see_text("[role=status]", "noted what was said").await?;
    page.go("/p/1/listen/feedback_item?view=reading").await?;
    page.see_text("li[data-row] button", "The lane changed again").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn five_files_of_different_sorts_and_one_that_is_stopped() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen/bring-in").await?;
    let mut paths = Vec::new();
    for (name, bytes) in FILES {
        let path = server.dir().join(name);
        std::fs::write(&path, bytes)?;
        paths.push(path.display().to_string());
    }
    page.see("input[type=file]").await?.send_keys(paths.join("\n")).await?;
    page.see_text("[data-part='tickets.xlsx/Tickets']", "Read as the sheet “Tickets”").await?;
    page.see_text("[data-part='talk.docx']", "1 comment in it was not read").await?;
    page.see_text("[data-part='ramp.vtt']", "speakers: Wren, Ada").await?;
    page.see_text("[data-part='pier.png']", "no text is read from it").await?;
    // A column is what somebody says it is, and the counts follow.
    let words = "[data-part='said.json'] select[aria-label='What the column remark is']";
    page.choose(words, "the words").await?;
    page.see_text("[data-part='said.json'] [data-counts]", "1 new").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.press_button("Bring in 6 items").await?;
    page.see_text("[data-report]", "tickets.xlsx/Tickets").await?;
    page.see_text("[data-report]", "left out: stands above the headings").await?;
    page.see_text("[data-report]", "Kept as a file: pier.png").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());

    // Who speaks when is seen where the words do not say it.
    page.go("/p/1/listen/feedback_item?view=unread").await?;
    let talk = "[...document.querySelectorAll('li[data-row] button')].find(b => b.textContent.includes('On the boat'))";
    page.until_script("the talk in the list", &format!("return !!{talk}")).await?;
    page.script(&format!("{talk}.click()")).await?;
    page.see_text("article .text", "Ada · 0:03").await?;
    page.go("/p/1/listen/bring-in").await?;

    // A long one runs in the background; it is stopped, and nothing of it is left.
    let many = server.dir().join("many.csv");
    std::fs::write(&many, reviews_csv(8_000))?;
    page.see("input[type=file]").await?.send_keys(many.display().to_string()).await?;
    page.press_button("Bring in 8,000 items").await?;
    page.see_text("[data-job=running]", "of 8,000").await?;
    page.press_button("Cancel").await?;
    page.see_text("[data-job=cancelled]", "what it had written was taken back").await?;
    page.go("/p/1/listen/feedback_item?view=9").await?;
    page.see_text("[data-count]", "601 rows").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn two_names_of_one_person_are_merged_and_taken_back() -> WebDriverResult<()> {
    let server = Server::demo();
    let text =
        "text,who\nThe ramp is steep.,Ottilie Vane\nThe ramp is slippery.,O. Vane\nThe rail is loose.,Otto Vane\n";
    tokio::task::block_in_place(|| {
        let joss = server.signed_in("joss");
        let job = joss.over(&joss.bring_in(1, &joss.put_down(1, "ramp.csv", text)));
        assert_eq!(job["state"], "done");
    });
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen/person").await?;
    page.see_text("[data-likely]", "5 pairs may be the same").await?;
    page.press_button("Look at them").await?;
    page.see_text("[data-likely]", "the initial of the other’s").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.press_button("One: Ottilie Vane").await?;
    page.see_text("[role=status]", "merged P").await?;
    page.see_text("[data-likely]", "2 pairs may be the same").await?;
    page.press_button("Undo").await?;
    page.see_text("[data-likely]", "5 pairs may be the same").await?;
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_channel_is_connected_and_looked_at() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("wren").await?;
    page.go("/p/1/listen/bring-in").await?;
    // A simulated desk comes with the demo.
    page.click("[data-channel='Harbour office desk'] button").await?;
    page.see_text("[data-report]", "5 items brought in").await?;
    page.see_text("[data-channel='Harbour office desk']", "5 items came").await?;
    // A place that may not be read says which may; one that may is read.
    let drop = server.dir().join("channels/drop");
    std::fs::create_dir_all(&drop)?;
    page.press_button("Connect a channel").await?;
    page.fill("input[name=name]", "Dropped").await?;
    page.fill("input[name=place]", "/etc").await?;
    page.press_button("Connect").await?;
    page.see_text(".place[role=status]", "--watch").await?;
    page.fill("input[name=place]", &drop.display().to_string()).await?;
    page.press_button("Connect").await?;
    page.see_text("[data-channel=Dropped]", "looked at").await?;
    assert_eq!(page.serious().await?, Vec::<String>::new());
    page.close().await
}

#[tokio::test(flavor = "multi_thread", worker_threads = 1)]
async fn a_table_is_read_otherwise() -> WebDriverResult<()> {
    let server = Server::demo();
    let page = browse(&server.address).await?;
    page.sign_in("joss").await?;
    page.go("/p/1/listen/bring-in").await?;
    let file = server.dir().join("mess.tsv");
    let rows: String = (3..9).map(|n| format!("{n}\tThe ferry number {n} was late again\tAnn\n")).collect();
    std::fs::write(&file, format!("1\tIt was fine on the water\tBo\n2\t\"Not closed, he said\tAnn\n{rows}"))?;
    page.see("input[type=file]").await?.send_keys(file.display().to_string()).await?;
    page.see_text("[aria-label='To be looked at']", "takes").await?;
    page.press_button("Read them as they stand").await?;
    page.see_text("[data-part='mess.tsv']", "quotation marks as they stand, without headings").await?;
    page.see_text("[data-counts]", "8 new").await?;
    page.choose("[data-part] details select", "headings").await?;
    page.see_text("[data-counts]", "7 new").await?;
    page.choose("[data-part] details select", "a row like the others").await?;
    page.press_button("Bring in 8 items").await?;
    page.see_text("[data-job]", "mess.tsv").await?;
    page.close().await
}

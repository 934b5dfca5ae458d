//! One ChromeDriver for a test run, one browser for a page.

use std::io::{BufRead, BufReader};
use std::process::{ChildStdin, Command, Stdio};
use std::sync::OnceLock;
use std::time::{Duration, Instant};

use iron_kite_testkit::PASSWORD;
use serde_json::Value;
use tempfile::TempDir;
use thirtyfour::error::WebDriverErrorInner;
use thirtyfour::prelude::*;

static DRIVER: OnceLock<(String, ChildStdin)> = OnceLock::new();

/// So long a page may take for what is expected of it, on a machine that has much else to do.
const PATIENCE: Duration = Duration::from_secs(40);

/// The address of the ChromeDriver of this run. The port that it finds for itself may be taken a moment later: then it
/// ends, and is started again.
fn driver() -> &'static str {
    let start = || {
        (0..5)
            .find_map(|_| start())
            .expect("ChromeDriver starts; install it with: apt-get install chromium chromium-driver")
    };
    &DRIVER.get_or_init(start).0
}

/// It runs in a process group that ends with the test: when the test is gone, the pipe closes and the group kills itself.
/// Nobody but ChromeDriver has its output, so that it ends where ChromeDriver ends.
#[allow(clippy::zombie_processes, reason = "it lives as long as the test and ends with it")]
fn start() -> Option<(String, ChildStdin)> {
    let mut child = Command::new("setsid")
        .args(["sh", "-c", "chromedriver --port=0 </dev/null & exec >/dev/null; cat; kill -9 0"])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()
        .expect("a process starts");
    let mut lines = BufReader::new(child.stdout.take().expect("its output")).lines().map_while(Result::ok);
    let port = lines.find_map(|line| {
        eprintln!("{line}");
        line.split("successfully on port ").nth(1).map(|rest| rest.trim_end_matches('.').to_owned())
    })?;
    std::thread::spawn(move || lines.for_each(drop));
    Some((format!("http://127.0.0.1:{port}"), child.stdin.take().expect("its input")))
}

/// A page in a browser of its own.
pub struct Page {
    /// The browser, for what has no word here.
    pub driver: WebDriver,
    address: String,
    _profile: TempDir,
}

/// Opens a browser on a server.
pub async fn browse(address: &str) -> WebDriverResult<Page> {
    let profile = tempfile::tempdir().expect("a folder");
    let mut caps = DesiredCapabilities::chrome();
    caps.set_binary("/usr/bin/chromium")?;
    for flag in [
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-dev-shm-usage",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--disable-default-apps",
        "--force-device-scale-factor=1",
        "--hide-scrollbars",
        "--font-render-hinting=none",
        "--lang=en-GB",
    ] {
        caps.add_arg(flag)?;
    }
    caps.add_arg(&format!("--user-data-dir={}", profile.path().display()))?;
    let driver = WebDriver::new(driver(), caps).await?;
    let page = Page { driver, address: address.to_owned(), _profile: profile };
    page.resize(1280, 800).await?;
    Ok(page)
}

impl Page {
    /// Makes the visible part of the page exactly so large.
    pub async fn resize(&self, width: u32, height: u32) -> WebDriverResult<()> {
        self.driver.set_window_rect(0, 0, width, height).await?;
        let inner = self.script("return [window.innerWidth, window.innerHeight]").await?;
        let lost =
            |at: usize, wanted: u32| wanted.saturating_sub(u32::try_from(inner[at].as_u64().unwrap_or(0)).unwrap_or(0));
        self.driver.set_window_rect(0, 0, width + lost(0, width), height + lost(1, height)).await?;
        Ok(())
    }

    /// Goes to an address of the application.
    pub async fn go(&self, path: &str) -> WebDriverResult<()> {
        self.driver.goto(format!("{}{path}", self.address)).await
    }

    /// Signs in as somebody of the demo.
    pub async fn sign_in(&self, name: &str) -> WebDriverResult<()> {
        self.go("/sign-in").await?;
        self.fill("#email", &format!("{name}@crossing.example")).await?;
        self.fill("#password", PASSWORD).await?;
        self.press_button("Sign in").await?;
        self.see("[data-work]").await.map(drop)
    }

    /// Runs a script and gives what it returns.
    pub async fn script(&self, script: &str) -> WebDriverResult<Value> {
        Ok(self.driver.execute(script, vec![]).await?.json().clone())
    }

    /// Waits until something is there.
    pub async fn see(&self, css: &str) -> WebDriverResult<WebElement> {
        let query = self.driver.query(By::Css(css)).wait(PATIENCE, Duration::from_millis(50)).desc(css);
        match query.first().await {
            Err(fault) if matches!(fault.as_inner(), WebDriverErrorInner::NoSuchElement(_)) => {
                panic!("{css} did not come; {}", self.instead().await?)
            }
            found => found,
        }
    }

    /// What the page says where something is missed.
    async fn instead(&self) -> WebDriverResult<String> {
        let mut said = Vec::new();
        for one in self.driver.find_all(By::Css("[role=alert], [role=status], body")).await? {
            said.push(one.text().await.unwrap_or_default());
        }
        // What it says of the last write comes first: a long page is cut off where the failure is read.
        said.sort_by_key(String::len);
        let address = self.driver.current_url().await?;
        Ok(format!("the page at {address} says:\n{}", said.join("\n")))
    }

    /// Waits until a text stands somewhere in a part of the page.
    pub async fn see_text(&self, css: &str, text: &str) -> WebDriverResult<()> {
        self.until(&format!("'{text}' in {css}"), async || {
            let found = self.driver.find_all(By::Css(css)).await?;
            for element in found {
                // Gone in the meantime: the page has just been drawn anew.
                if element.text().await.unwrap_or_default().contains(text) {
                    return Ok(true);
                }
            }
            Ok(false)
        })
        .await
    }

    /// Waits until a script returns true.
    pub async fn until_script(&self, what: &str, script: &str) -> WebDriverResult<()> {
        self.until(what, async || Ok(self.script(script).await? == Value::Bool(true))).await
    }

    async fn until(&self, what: &str, holds: impl AsyncFn() -> WebDriverResult<bool>) -> WebDriverResult<()> {
        let end = Instant::now() + PATIENCE;
        while !holds().await? {
            if Instant::now() > end {
                panic!("{what} did not come; {}", self.instead().await?);
            }
            tokio::time::sleep(Duration::from_millis(50)).await;
        }
        Ok(())
    }

    /// Clicks on something.
    pub async fn click(&self, css: &str) -> WebDriverResult<()> {
        let element = self.see(css).await?;
        self.press(&element).await
    }

    /// Clicks on an element. What the line at the bottom covers is scrolled up first, as a person would.
    async fn press(&self, element: &WebElement) -> WebDriverResult<()> {
        let pressed = element.click().await;
        match pressed.as_ref().map_err(WebDriverError::as_inner) {
            Err(WebDriverErrorInner::ElementClickIntercepted(_)) => {
                let up = "arguments[0].scrollIntoView({ block: 'center' })";
                self.driver.execute(up, vec![element.to_json()?]).await?;
                element.click().await
            }
            _ => pressed,
        }
    }

    /// Presses the button or link that is named or labelled so, as soon as it is there.
    pub async fn press_button(&self, name: &str) -> WebDriverResult<()> {
        let xpath = format!("//*[self::button or self::a][normalize-space(.)=\"{name}\" or @aria-label=\"{name}\"]");
        let end = Instant::now() + PATIENCE;
        loop {
            let query = self.driver.query(By::XPath(&xpath)).wait(PATIENCE, Duration::from_millis(50)).desc(name);
            let pressed = match query.and_clickable().first().await {
                Ok(button) => self.press(&button).await,
                Err(gone) => Err(gone),
            };
            match pressed.as_ref().map_err(WebDriverError::as_inner) {
                // It was drawn anew between the look and the press.
                Err(WebDriverErrorInner::StaleElementReference(_)) if Instant::now() < end => {}
                _ => return pressed,
            }
        }
    }

    /// Types into a field that is empty or whose text is replaced.
    pub async fn fill(&self, css: &str, text: &str) -> WebDriverResult<()> {
        let field = self.see(css).await?;
        self.press(&field).await?;
        field.send_keys(Key::Control + "a").await?;
        field.send_keys(text).await
    }

    /// The same by the label of the field, and then Enter.
    pub async fn enter(&self, label: &str, text: &str) -> WebDriverResult<()> {
        let css = format!("[aria-label=\"{label}\"]");
        self.fill(&css, text).await?;
        self.see(&css).await?.send_keys(Key::Enter + "").await
    }

    /// Changes a field of the thing that is open beside its view: a text or a number is typed, a choice picked by its
    /// words.
    pub async fn set_field(&self, field: &str, text: &str) -> WebDriverResult<()> {
        let place = format!("[data-thing] [data-field={field}]");
        self.click(&format!("{place} .value")).await?;
        let editor = self.see(&format!("{place} :is(input, textarea, select)")).await?;
        if editor.tag_name().await? == "select" {
            return self.choose(&format!("{place} select"), text).await;
        }
        editor.send_keys(Key::Control + "a").await?;
        editor.send_keys(TypingData::from(text) + Key::Enter).await
    }

    /// Puts a thing into a link field of the thing that is open beside its view.
    pub async fn link(&self, field: &str, title: &str) -> WebDriverResult<()> {
        let place = format!("[data-thing] [data-field={field}]");
        self.click(&format!("{place} .value")).await?;
        let words = self.see(&format!("{place} input")).await?;
        words.send_keys(title).await?;
        self.see_text(&format!("{place} .found"), title).await?;
        self.click(&format!("{place} .found")).await?;
        self.press_button("Save").await
    }

    /// Picks a choice of a list by the text of the choice, as soon as it is offered.
    pub async fn choose(&self, css: &str, choice: &str) -> WebDriverResult<()> {
        let offered = format!(
            "return [...(document.querySelector('{}')?.options ?? [])].some(o => o.text.includes('{choice}'))",
            css.replace('\'', "\\'")
        );
        self.until_script(&format!("the choice '{choice}' in {css}"), &offered).await?;
        let select = self.see(css).await?;
        thirtyfour::components::SelectElement::new(&select).await?.select_by_partial_text(choice).await
    }

    /// Sets a day: what people type there depends on the language of the browser.
    pub async fn set_day(&self, css: &str, day: &str) -> WebDriverResult<()> {
        self.see(css).await?;
        let set = format!(
            "const f = document.querySelector('{css}'); f.value = '{day}'; f.dispatchEvent(new Event('input', {{ bubbles: true }}))"
        );
        self.script(&set).await.map(drop)
    }

    /// Puts the keyboard's focus on something.
    pub async fn focus(&self, css: &str) -> WebDriverResult<()> {
        self.see(css).await?;
        let focused = format!(
            "const f = document.querySelector('{css}'); f?.focus(); return !!f && document.activeElement === f"
        );
        self.until_script(&format!("the focus on {css}"), &focused).await
    }

    /// Sends keys to whatever has the focus, as soon as that can take them: what has it may be on its way in or out.
    pub async fn keys(&self, keys: impl Into<TypingData>) -> WebDriverResult<()> {
        let keys: String = keys.into().as_vec().into_iter().collect();
        let end = Instant::now() + PATIENCE;
        loop {
            let sent = self.driver.active_element().await?.send_keys(keys.as_str()).await;
            match sent.as_ref().map_err(WebDriverError::as_inner) {
                Err(WebDriverErrorInner::ElementNotInteractable(_) | WebDriverErrorInner::StaleElementReference(_))
                    if Instant::now() < end =>
                {
                    tokio::time::sleep(Duration::from_millis(50)).await;
                }
                _ => return sent,
            }
        }
    }

    /// Drags one thing onto another with the pointer, in small steps as a hand does.
    pub async fn drag(&self, from: &str, to: &str) -> WebDriverResult<()> {
        let (from, to) = (self.see(from).await?, self.see(to).await?);
        let mut way = self.driver.action_chain_with_delay(None, Some(Duration::from_millis(40)));
        way = way.move_to_element_center(&from).click_and_hold().move_by_offset(6, 6).move_by_offset(6, 6);
        way.move_to_element_center(&to).move_by_offset(2, 2).move_by_offset(1, 1).release().perform().await
    }

    /// A picture of what is visible.
    pub async fn picture(&self, path: &std::path::Path) -> WebDriverResult<()> {
        // Fonts and the answers of the server are there when nothing is busy any more.
        self.until_script(
            "the page at rest",
            "return document.fonts.status === 'loaded' && !document.querySelector('[aria-busy=true]')",
        )
        .await?;
        tokio::time::sleep(Duration::from_millis(250)).await;
        self.driver.screenshot(path).await
    }

    /// What axe finds that is serious or critical, in words.
    pub async fn serious(&self) -> WebDriverResult<Vec<String>> {
        let axe =
            std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/node_modules/axe-core/axe.min.js"))
                .expect("axe is there; run: npm ci in web/");
        self.script(&axe).await?;
        // Where everything else stands is not looked up: that takes longer than finding what is wrong.
        let run = "const done = arguments[0]; axe.run({ resultTypes: ['violations'], preload: false }).then(r => done(r.violations
            .filter(v => ['serious', 'critical'].includes(v.impact))
            .map(v => v.id + ': ' + v.help + ' at ' + v.nodes.slice(0, 4).map(n => n.target.join(' ')).join(' | '))))";
        let found = self.driver.execute_async(run, vec![]).await?.json().clone();
        Ok(found.as_array().into_iter().flatten().filter_map(Value::as_str).map(str::to_owned).collect())
    }

    /// Closes the browser.
    pub async fn close(self) -> WebDriverResult<()> {
        self.driver.quit().await
    }
}

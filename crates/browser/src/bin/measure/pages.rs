//! How long a page takes until it is drawn, and what it loads.

use crate::load::LoadClient;
use crate::table::{Aim, ResultTable, Yardstick, ms, percentile};
use anyhow::{Context, Result};
use rigore_browser::{Browser, Rigore, Screen};
use serde_json::json;
use std::time::{Duration, Instant};
use uuid::Uuid;

/// How often a page is opened.
const TIMES: usize = 21;
/// Bolts in the row that is pulled.
const BOLTS: usize = 12;
/// How often it is opened in a window of its own.
const STRANGERS: usize = 7;

/// What an answer and a page without anything in them take at the same server: what others are held against.
#[derive(Debug, Clone, Copy)]
pub struct Empty {
    /// From the request to the answer, p95, ms.
    pub answer: Yardstick,
    /// From the start of the navigation until it was drawn, median, ms.
    pub page: Yardstick,
}

impl Empty {
    /// Measures both.
    pub async fn measure(table: &mut ResultTable, rigore: &Rigore) -> Result<Self> {
        let client = rigore_browser::client();
        let mut times = Vec::new();
        for _ in 0..200 {
            let start = Instant::now();
            client.get(rigore.url("/healthz")).send().await?.error_for_status()?.bytes().await?;
            times.push(ms(start.elapsed()));
        }
        let answer = Yardstick { name: "an empty answer", value: percentile(&mut times, 95) };
        let mut opened = PageTimes::often(&rigore.url("/nothing/is/here"), "main h1").await?;
        let page = Yardstick { name: "an empty page", value: percentile(&mut opened.drawn, 50) };
        table.row("an empty answer, p95, ms", answer.value, Aim::Told);
        table.row("an empty page, drawn, ms", page.value, Aim::Told);
        Ok(Self { answer, page })
    }
}

/// The page of an engine with many readings.
pub async fn engine(table: &mut ResultTable, rigore: &Rigore, build: &Uuid, empty: Empty) -> Result<()> {
    let opened =
        PageTimes::often(&rigore.url(&format!("/engines/{build}")), "[data-test='sign-off']").await?;
    opened.rows(table, "the page of an engine of 1,500 readings", empty);
    Ok(())
}

/// From Enter to the next bolt on the screen, over the snug and the angle of twelve bolts, twice.
pub async fn pulls(table: &mut ResultTable, rigore: &Rigore) -> Result<()> {
    let browser = Browser::start().await?;
    let mut took: Vec<f64> = Vec::new();
    for _ in 0..2 {
        let build = LoadClient::begin(rigore).await?.build;
        let screen = watched_pulls(&browser).await?;
        screen.go(&rigore.url(&format!("/engines/{build}/bench/main-caps-tighten"))).await?;
        for figure in ["30", "50"] {
            for bolt in 0..BOLTS {
                screen.read("[aria-current='step']", &format!("{bolt}/{BOLTS}")).await?;
                screen.line(figure).await?;
            }
            if figure == "30" {
                screen.see("[data-test='acted']:enabled").await?;
                screen.line("").await?;
            }
        }
        screen.see("[data-test='sign']:enabled").await?;
        took.extend(pull_times(&screen).await?);
        screen.close().await?;
    }
    let mut plain = plain_keys(&browser, rigore).await?;
    let plain = Yardstick { name: "a key and an empty answer", value: percentile(&mut plain, 95) };
    let count = took.len();
    let what = format!("a pull to the next bolt shown, p95 of {count}, ms");
    table.row(&what, percentile(&mut took, 95), Aim::Beyond(40.0, plain));
    table.row("  its median", percentile(&mut took, 50), Aim::Told);
    Ok(())
}

async fn pull_times(screen: &Screen) -> Result<Vec<f64>> {
    Ok(screen.driver.execute("return window.pulls", vec![]).await?.convert()?)
}

/// The same by a page that asks for an empty answer at each Enter and draws one word then.
async fn plain_keys(browser: &Browser, rigore: &Rigore) -> Result<Vec<f64>> {
    let screen = watched_pulls(browser).await?;
    screen.go(&rigore.url("/nothing/is/here")).await?;
    screen.see("main h1").await?;
    let script = "
        document.body.innerHTML = '<p data-test=fastener>0</p><input autofocus>'
        document.querySelector('input').focus()
        addEventListener('keydown', async (event) => {
            if (event.key !== 'Enter') return
            await (await fetch('/healthz')).text()
            const word = document.querySelector('p')
            word.textContent = Number(word.textContent) + 1
        })";
    screen.driver.execute(script, vec![]).await?;
    for key in 0..4 * BOLTS {
        screen.read("p", &key.to_string()).await?;
        screen.keys("\u{e007}").await?;
    }
    screen.read("p", &(4 * BOLTS).to_string()).await?;
    let times = pull_times(&screen).await?;
    screen.close().await?;
    Ok(times)
}

/// A window that notes how long it is from Enter until another bolt is drawn.
async fn watched_pulls(browser: &Browser) -> Result<Screen> {
    let screen = browser.window(1280, 800).await?;
    let script = "
        window.pulls = []
        let from = 0, bolt = ''
        const shown = () => document.querySelector('[data-test=fastener]')?.textContent ?? ''
        addEventListener('keydown', (event) => {
            if (event.key === 'Enter' && shown()) [from, bolt] = [performance.now(), shown()]
        }, { capture: true })
        new MutationObserver(() => {
            if (!from || !shown() || shown() === bolt) return
            const start = from
            from = 0
            requestAnimationFrame(() => setTimeout(() => window.pulls.push(performance.now() - start)))
        }).observe(document, { childList: true, subtree: true, characterData: true })";
    let source = json!({ "source": script });
    screen.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", source).await?;
    Ok(screen)
}

/// What opening a page took, time after time.
#[derive(Debug, Default)]
pub struct PageTimes {
    /// From the start of the navigation until it was drawn, ms, in a window that was used before.
    drawn: Vec<f64>,
    /// The same in a new window with nothing kept from before.
    strange: Vec<f64>,
    /// All that was sent for it then, kB.
    sent: Vec<f64>,
    /// Elements it has.
    elements: Vec<f64>,
}

impl PageTimes {
    /// Opens a page anew, again and again, until what was asked for is drawn.
    pub async fn often(url: &str, shows: &str) -> Result<Self> {
        let browser = Browser::start().await?;
        let mut opened = Self::default();
        let screen = watched(&browser, shows).await?;
        for _ in 0..TIMES {
            let [drawn, _, _] = open(&screen, url, shows).await?;
            opened.drawn.push(drawn);
        }
        screen.close().await?;
        for _ in 0..STRANGERS {
            let screen = watched(&browser, shows).await?;
            let cdp = screen.driver.cdp();
            cdp.send_raw("Network.enable", json!({})).await?;
            cdp.send_raw("Network.setCacheDisabled", json!({ "cacheDisabled": true })).await?;
            let [drawn, sent, elements] = open(&screen, url, shows).await?;
            opened.strange.push(drawn);
            opened.sent.push(sent);
            opened.elements.push(elements);
            screen.close().await?;
        }
        Ok(opened)
    }

    /// Its rows.
    pub fn rows(mut self, table: &mut ResultTable, page: &str, empty: Empty) {
        let drawn = percentile(&mut self.drawn, 50);
        table.row(&format!("{page}, opened anew, drawn, ms"), drawn, Aim::Beyond(150.0, empty.page));
        table.row(&format!("  the slowest of {TIMES}"), percentile(&mut self.drawn, 100), Aim::Told);
        table.row("  in a new window with nothing kept, ms", percentile(&mut self.strange, 50), Aim::Told);
        table.row("  all that is sent for it then, kB", percentile(&mut self.sent, 50), Aim::AtMost(150.0));
        table.row("  its elements", percentile(&mut self.elements, 50), Aim::Told);
    }
}

/// A window that notes when something is drawn.
async fn watched(browser: &Browser, shows: &str) -> Result<Screen> {
    let screen = browser.window(1280, 800).await?;
    let script = format!(
        "new MutationObserver((_, observer) => {{
            if (!document.querySelector({shows:?})) return
            observer.disconnect()
            requestAnimationFrame(() => setTimeout(() => (window.drawn = performance.now())))
        }}).observe(document, {{ childList: true, subtree: true }})"
    );
    screen
        .driver
        .cdp()
        .send_raw("Page.addScriptToEvaluateOnNewDocument", json!({ "source": script }))
        .await?;
    Ok(screen)
}

/// When a page was drawn, what was sent for it, and how many elements it has.
async fn open(screen: &Screen, url: &str, shows: &str) -> Result<[f64; 3]> {
    screen.go(url).await?;
    screen.see(shows).await?;
    tokio::time::sleep(Duration::from_millis(150)).await;
    let told = "const sent = performance.getEntriesByType('resource').concat(performance.getEntriesByType('navigation'))
        return [window.drawn, sent.reduce((sum, one) => sum + one.transferSize, 0) / 1000,
            document.querySelectorAll('*').length]";
    screen.driver.execute(told, vec![]).await?.convert().context("the page was never drawn")
}

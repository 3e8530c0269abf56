//! How long a page takes until it is drawn, and what it loads.

use crate::table::{Aim, Table, percentile};
use anyhow::{Context, Result};
use rigore_browser::{Browser, Rigore, Screen};
use serde_json::json;
use std::time::Duration;
use uuid::Uuid;

/// How often a page is opened.
const TIMES: usize = 21;

/// The page of an engine with many readings.
pub async fn engine(table: &mut Table, rigore: &Rigore, build: &Uuid) -> Result<()> {
    let browser = Browser::start().await?;
    let mut drawn = Vec::new();
    for _ in 0..TIMES {
        drawn.push(
            open(&browser, &rigore.url(&format!("/engines/{build}")), "[data-test='sign-off']")
                .await?
                .drawn_ms,
        );
    }
    table.row(
        "the page of an engine of 1,500 readings, cold, drawn, ms",
        percentile(&mut drawn, 50),
        Aim::AtMost(300.0),
    );
    table.row("  the slowest of 21", percentile(&mut drawn, 100), Aim::Told);
    Ok(())
}

/// What opening a page took.
#[derive(Debug, Clone, Copy)]
pub struct Opened {
    /// From the start of the navigation until it was drawn, ms.
    pub drawn_ms: f64,
    /// All that was sent for it, kB.
    pub sent_kb: f64,
    /// Elements it has.
    pub elements: f64,
}

/// Opens a page in a window with nothing kept from before, and waits until what was asked for is drawn.
pub async fn open(browser: &Browser, url: &str, shows: &str) -> Result<Opened> {
    let screen: Screen = browser.window(1280, 800).await?;
    let script = format!(
        "new MutationObserver((_, observer) => {{
            if (!document.querySelector({shows:?})) return
            observer.disconnect()
            requestAnimationFrame(() => setTimeout(() => (window.drawn = performance.now())))
        }}).observe(document, {{ childList: true, subtree: true }})"
    );
    let cdp = screen.driver.cdp();
    cdp.send_raw("Network.enable", json!({})).await?;
    cdp.send_raw("Network.setCacheDisabled", json!({ "cacheDisabled": true })).await?;
    cdp.send_raw("Page.addScriptToEvaluateOnNewDocument", json!({ "source": script })).await?;
    screen.go(url).await?;
    screen.see(shows).await?;
    tokio::time::sleep(Duration::from_millis(150)).await;
    let told = "const sent = performance.getEntriesByType('resource').concat(performance.getEntriesByType('navigation'))
        return [window.drawn, sent.reduce((sum, one) => sum + one.transferSize, 0) / 1000,
            document.querySelectorAll('*').length]";
    let told: [f64; 3] =
        screen.driver.execute(told, vec![]).await?.convert().context("the page was never drawn")?;
    screen.close().await?;
    Ok(Opened { drawn_ms: told[0], sent_kb: told[1], elements: told[2] })
}

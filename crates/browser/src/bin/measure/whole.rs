//! A whole engine: the finished one of the demonstration, at the server and drawn.

use crate::pages::Empty;
use crate::table::{Aim, ResultTable, Yardstick, ms, percentile};
use anyhow::{Context, Result};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_plan::Plan;
use serde_json::{Value, json};
use std::hint::black_box;
use std::time::{Duration, Instant};

const PLANS: [&str; 2] =
    [include_str!("../../../../../plans/tarn-5.toml"), include_str!("../../../../../plans/ostra-11.toml")];
const ENGINE: &str = "Tarn 5 no. 9";
/// How often each page is asked for or drawn.
const TIMES: usize = 40;
const DRAWN: usize = 15;
const PRINTED: usize = 5;

/// Measures it all.
pub async fn measure(table: &mut ResultTable, rigore: &Rigore, empty: Empty) -> Result<()> {
    let mut checks: Vec<f64> = (0..DRAWN)
        .map(|_| {
            let start = Instant::now();
            for plan in PLANS {
                black_box(Plan::judge("plan.toml", black_box(plan)).is_ok());
            }
            ms(start.elapsed())
        })
        .collect();
    let parsed = Yardstick { name: "parsing their TOML", value: parsing() };
    table.row("checking the plans of both engines, ms", percentile(&mut checks, 50), Aim::Times(2.0, parsed));
    let id = rigore.engine(ENGINE).await?;
    let sheet: Value =
        rigore_browser::get(rigore.url(&format!("/api/builds/{id}/sheet"))).await?.json().await?;
    table.row("entries of a whole engine", sheet["entries"].as_f64().context("entries")?, Aim::Told);
    served(table, rigore, &id, empty).await?;
    drawn(table, rigore, &id).await
}

/// Parsing the text of both plans as TOML, ms.
fn parsing() -> f64 {
    let mut times: Vec<f64> = (0..DRAWN)
        .map(|_| {
            let start = Instant::now();
            for plan in PLANS {
                black_box(toml::from_str::<toml::Table>(black_box(plan)).is_ok());
            }
            ms(start.elapsed())
        })
        .collect();
    percentile(&mut times, 50)
}

async fn times(rigore: &Rigore, paths: &[String]) -> Result<Vec<f64>> {
    let client = rigore_browser::client();
    let mut times = Vec::new();
    for path in paths.iter().cycle().take(TIMES) {
        let start = Instant::now();
        client.get(rigore.url(path)).send().await?.error_for_status()?.bytes().await?;
        times.push(ms(start.elapsed()));
    }
    Ok(times)
}

async fn served(table: &mut ResultTable, rigore: &Rigore, id: &str, empty: Empty) -> Result<()> {
    let bench = |operation: &str| format!("/api/builds/{id}/operations/{operation}");
    let benches =
        ["main-caps-outer", "mains-measure", "rod-tighten-3", "pan-seal", "head-tighten"].map(bench);
    let mut opened = times(rigore, &benches).await?;
    table.row(
        "the bench of a whole engine, p95, ms",
        percentile(&mut opened, 95),
        Aim::Beyond(8.0, empty.answer),
    );
    let mut sheets = times(rigore, &[format!("/api/builds/{id}/sheet")]).await?;
    table.row(
        "the whole sheet of a finished engine, p95, ms",
        percentile(&mut sheets, 95),
        Aim::Beyond(30.0, empty.answer),
    );
    Ok(())
}

/// Follows a link within the page, and waits until what it leads to is drawn.
async fn followed(screen: &Screen, link: &str, shows: &str) -> Result<f64> {
    screen.see(link).await?;
    let script = format!(
        "window.took = null
        const start = performance.now()
        new MutationObserver((_, observer) => {{
            if (!document.querySelector({shows:?})) return
            observer.disconnect()
            requestAnimationFrame(() => setTimeout(() => (window.took = performance.now() - start)))
        }}).observe(document, {{ childList: true, subtree: true }})
        document.querySelector({link:?}).click()"
    );
    screen.driver.execute(&script, vec![]).await?;
    for _ in 0..200 {
        let took = screen.driver.execute("return window.took", vec![]).await?;
        if let Some(took) = took.json().as_f64() {
            return Ok(took);
        }
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
    anyhow::bail!("{shows} was never drawn")
}

async fn drawn(table: &mut ResultTable, rigore: &Rigore, id: &str) -> Result<()> {
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let (mut pages, mut benches) = (Vec::new(), Vec::new());
    screen.go(&rigore.url("/")).await?;
    for _ in 0..DRAWN {
        screen.go(&rigore.url(&format!("/engines/{id}/bench/head-tighten"))).await?;
        let engine = format!("main a[href='/engines/{id}']");
        pages.push(followed(&screen, &engine, "[data-test='sign-off']").await?);
        screen.click("[data-test='show-done']").await?;
        benches.push(followed(&screen, "[data-test='head-tighten'] a", "[data-test='map-3E']").await?);
    }
    table.row("the page of a whole engine, drawn, ms", percentile(&mut pages, 50), Aim::AtMost(200.0));
    table.row("the bench of a whole engine, drawn, ms", percentile(&mut benches, 50), Aim::AtMost(120.0));
    screen.go(&rigore.url(&format!("/engines/{id}/sheet"))).await?;
    screen.see("[data-test='section-sign-off']").await?;
    // Laid out and drawn page by page; tags for readers of a saved file are not part of that.
    let print = json!({ "preferCSSPageSize": true, "generateTaggedPDF": false });
    let mut prints = Vec::new();
    for _ in 0..PRINTED {
        let start = Instant::now();
        screen.driver.cdp().send_raw("Page.printToPDF", print.clone()).await?;
        prints.push(ms(start.elapsed()));
    }
    table.row("  its sheet laid out for print, ms", percentile(&mut prints, 50), Aim::AtMost(2000.0));
    screen.close().await
}

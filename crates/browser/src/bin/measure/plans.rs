//! Plans while they are written: how soon faults are shown, and how a bolt goes with the hand.

use crate::table::{Aim, ResultTable, Yardstick, ms, percentile};
use anyhow::{Context, Result};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_plan::{Plan, procedure};
use serde_json::{Value, json};
use std::fmt::Write;
use std::hint::black_box;
use std::time::{Duration, Instant};
use uuid::Uuid;

const TARN: &str = include_str!("../../../../../plans/tarn-5.toml");
/// Lines that the aims are given for.
const LINES: usize = 1500;
/// Keys that are pressed.
const KEYS: usize = 60;
/// Fasteners of the joint whose bolt is dragged.
const BOLTS: usize = 200;
/// A line such as a manual has.
const LINE: &str = "inner: in 3 equal steps to 88 N·m, then 60°; outer: 25 lbf·ft snug, 90° twice; side: 23 N·m ± 2, centre out";

/// Measures it all.
pub async fn measure(table: &mut ResultTable, rigore: &Rigore) -> Result<()> {
    computing(table);
    let text = long_plan();
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let mut shown = keys(&screen, rigore, &text).await?;
    let lines = text.lines().count();
    let row = format!("a key in a plan of {lines} lines to its faults shown, p95 of {}, ms", shown.len());
    table.row(&row, percentile(&mut shown, 95), Aim::AtMost(150.0));
    table.row("  its median", percentile(&mut shown, 50), Aim::Told);
    let mut frames = drag(&screen, rigore).await?;
    table.row(
        "the worst frame of a bolt dragged among 200, ms",
        percentile(&mut frames, 100),
        Aim::AtMost(33.0),
    );
    table.row("  its median", percentile(&mut frames, 50), Aim::Told);
    screen.close().await
}

fn computing(table: &mut ResultTable) {
    let text = long_plan();
    let mut checks: Vec<f64> = (0..40)
        .map(|_| {
            let start = Instant::now();
            black_box(Plan::judge("plan.toml", black_box(&text)).is_ok());
            ms(start.elapsed())
        })
        .collect();
    let row = format!("checking a plan of {} lines, ms", text.lines().count());
    let mut parses: Vec<f64> = (0..40)
        .map(|_| {
            let start = Instant::now();
            black_box(toml::from_str::<toml::Table>(black_box(&text)).is_ok());
            ms(start.elapsed())
        })
        .collect();
    let parsed = Yardstick { name: "parsing its TOML", value: percentile(&mut parses, 50) };
    table.row(&row, percentile(&mut checks, 50), Aim::Times(2.0, parsed));
    let start = Instant::now();
    for _ in 0..2000 {
        black_box(procedure::read(black_box(LINE)).stages.len());
    }
    table.row(
        "reading a procedure in one line, us",
        ms(start.elapsed()) * 1000.0 / 2000.0,
        Aim::AtMost(50.0),
    );
}

/// A plan of as many lines as the aims are given for: the Tarn 5 up to the end of one of its operations.
fn long_plan() -> String {
    let mut text = String::new();
    for (number, line) in TARN.lines().enumerate() {
        if number >= LINES && line.is_empty() {
            break;
        }
        let _ = writeln!(text, "{line}");
    }
    text
}

async fn draft(rigore: &Rigore, source: &str) -> Result<String> {
    let id = Uuid::now_v7();
    let client = rigore_browser::client();
    let begin = client.post(rigore.url("/api/drafts")).header("cookie", "rigore=demonstration.lead");
    begin.json(&json!({ "id": id, "source": source })).send().await?.error_for_status()?;
    Ok(id.to_string())
}

/// From each key to its faults, ms.
async fn keys(screen: &Screen, rigore: &Rigore, text: &str) -> Result<Vec<f64>> {
    let id = draft(rigore, text).await?;
    screen.go(&rigore.url(&format!("/plans/drafts/{id}?view=text"))).await?;
    screen.click(".cm-content").await?;
    let watch = "window.took = []; let since = 0;
        const home = document.querySelector('[data-test=text-editor]');
        home.addEventListener('keydown', () => { since = performance.now() }, true);
        new MutationObserver(() => { if (since) requestAnimationFrame(() => { if (since) window.took.push(performance.now() - since); since = 0 }) })
            .observe(home, { attributes: true, attributeFilter: ['data-marked'] });";
    screen.driver.execute(watch, Vec::new()).await?;
    for key in 0..KEYS {
        // One makes a fault, the next one mends it.
        screen.keys(if key % 2 == 0 { "x" } else { "\u{e003}" }).await?;
        for _ in 0..100 {
            let took = screen.driver.execute("return window.took.length", Vec::new()).await?;
            if took.json().as_u64() > Some(key as u64) {
                break;
            }
            tokio::time::sleep(Duration::from_millis(10)).await;
        }
    }
    Ok(screen.driver.execute("return window.took", Vec::new()).await?.convert()?)
}

/// The frames while a bolt is dragged, ms.
async fn drag(screen: &Screen, rigore: &Rigore) -> Result<Vec<f64>> {
    let mut places = String::new();
    for bolt in 0..BOLTS {
        let _ = writeln!(places, "  {{ id = \"{bolt}\", at = [{}, {}] }},", bolt % 20 * 20, bolt / 20 * 20);
    }
    let text = format!(
        "format = 1\nid = \"p\"\nname = \"P\"\n[[fastener]]\nid = \"b\"\nname = \"B\"\nthread = \"M8\"\nstrength = \"8.8\"\nbearing_diameter = \"11 mm\"\nthread_lubricant = \"dry\"\nbearing_lubricant = \"dry\"\n[[drawing]]\nid = \"d\"\nname = \"D\"\nshape = [{{ kind = \"rect\", from = [-10, -10], to = [400, 200] }}]\n[[joint]]\nid = \"j\"\nname = \"J\"\ndrawing = \"d\"\nprocedure = \"20 N·m\"\n[[joint.group]]\nid = \"g\"\nname = \"g\"\nfastener = \"b\"\nposition = [\n{places}]\n[[operation]]\nid = \"o\"\nname = \"O\"\nkind = \"tighten\"\njoint = \"j\"\n"
    );
    let id = draft(rigore, &text).await?;
    screen.go(&rigore.url(&format!("/plans/drafts/{id}"))).await?;
    screen.see("[data-test='bolt-105']").await?;
    let script = "const done = arguments[0];
        const bolt = document.querySelector('[data-test=bolt-105]'), svg = bolt.closest('svg');
        bolt.scrollIntoView({ block: 'center' });
        svg.setPointerCapture = () => {};
        const box = bolt.getBoundingClientRect(), [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
        const send = (type, to, at) => to.dispatchEvent(new PointerEvent(type, { clientX: at[0], clientY: at[1], pointerId: 1, bubbles: true }));
        send('pointerdown', bolt, [x, y]);
        const frames = []; let last = 0, count = 0;
        const step = (now) => {
            if (last && count > 3) frames.push(now - last);
            last = now;
            if (++count > 120) { send('pointermove', svg, [x, y]); send('pointerup', svg, [x, y]); return done(frames) }
            send('pointermove', svg, [x + Math.sin(count / 9) * 60, y + Math.cos(count / 9) * 40]);
            requestAnimationFrame(step);
        };
        requestAnimationFrame(step);";
    let frames: Value = screen.driver.execute_async(script, Vec::new()).await?.json().clone();
    serde_json::from_value(frames).context("frames")
}

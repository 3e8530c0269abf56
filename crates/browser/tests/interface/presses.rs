//! A key that bounces, an overshoot, one bolt with one name, a tool that cannot do the job.

use crate::ways::advance;
use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore};
use rigore_store::Scratch;
use serde_json::{Value, json};
use std::time::Duration;
use thirtyfour::Key;

const TIGHTEN: &str = "main-caps-tighten";
/// How late a bounced key may come: the page takes no other press within 800 ms.
const BOUNCE: Duration = Duration::from_millis(400);
const PAUSE: Duration = Duration::from_millis(900);

/// Presses Enter once more as soon as the next item is there, as the page sees it, and tells on the page whether that was
/// within the limit after the press before.
const BOUNCING: &str = "
    const [next, limit] = arguments
    delete document.documentElement.dataset.bounce
    let pressed = 0
    const enter = (event) => { if (event.key === 'Enter') pressed = performance.now() }
    window.addEventListener('keydown', enter, { capture: true, once: true })
    const look = () => {
        const button = document.querySelector(next)
        if (!pressed || !button) return requestAnimationFrame(look)
        const early = performance.now() - pressed < limit
        if (early) {
            const key = { key: 'Enter', bubbles: true, cancelable: true }
            const at = document.activeElement
            at.dispatchEvent(new KeyboardEvent('keyup', key))
            if (at.dispatchEvent(new KeyboardEvent('keydown', key))) button.click()
            at.dispatchEvent(new KeyboardEvent('keyup', key))
        }
        document.documentElement.dataset.bounce = early ? 'early' : 'late'
    }
    look()";

async fn operation(rigore: &Rigore, build: &str, operation: &str) -> Result<Value> {
    let path = format!("/api/builds/{build}/operations/{operation}");
    Ok(rigore_browser::get(rigore.url(&path)).await?.json().await?)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bounced_enter_confirms_one_item_and_signs_nothing() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.guarded_window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 12").await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/main-caps-prepare"))).await?;
    let already = operation(&rigore, &build, "main-caps-prepare").await?["operation"]["done"].as_u64();
    let mut done = already.context("a number")?;
    let mut bounced = 0;
    let then = ["[data-item='paste']", "[data-item='counted']", "[data-test='sign']"];
    for (item, then) in ["numbered", "paste", "counted"].into_iter().zip(then) {
        screen.see(&format!("[data-test='confirm'][data-item='{item}']:enabled")).await?;
        tokio::time::sleep(PAUSE).await;
        // A pedal that bounces, while the answer to the first press is there already. On a machine that was too slow for
        // it, nobody could tell a bounce from a press.
        let next = format!("{then}:enabled");
        let limit = u64::try_from(BOUNCE.as_millis())?;
        screen.driver.execute(BOUNCING, vec![json!(next), json!(limit)]).await?;
        screen.line("").await?;
        screen.see(&next).await?;
        screen.see("html[data-bounce]").await?;
        bounced += usize::from(screen.count("html[data-bounce='early']", 1).await.is_ok());
        tokio::time::sleep(BOUNCE).await;
        let bench = operation(&rigore, &build, "main-caps-prepare").await?;
        done += 1;
        ensure!(bench["operation"]["done"] == done, "{}", bench["operation"]);
        ensure!(bench["operation"]["signed_by"].is_null(), "signed by a bounce: {}", bench["operation"]);
    }
    ensure!(bounced > 0, "no key bounced");
    // Pressed on purpose, it signs.
    tokio::time::sleep(PAUSE).await;
    screen.line("").await?;
    screen.read("h1", "Tighten the main caps").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_overshoot_stands_in_the_way_until_it_is_acknowledged_also_after_a_reload() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.guarded_window(390, 844).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    screen.read("[data-test='fastener']", "2L").await?;
    screen.line("45").await?;
    screen.read("[data-test='off-target']", "2L").await?;
    screen.read("[data-test='off-target']", "45.0 N·m").await?;
    screen.count("[data-test='heard'], input[name='reading']", 0).await?;
    // A reload acknowledges nothing.
    screen.driver.refresh().await?;
    screen.read("[data-test='off-target']", "45.0 N·m").await?;
    let wide = screen.driver.execute("return document.documentElement.scrollWidth", vec![]).await?;
    ensure!(wide.json().as_i64() == Some(390), "{:?}", wide.json());
    tokio::time::sleep(PAUSE).await;
    screen.line("").await?;
    screen.count("[data-test='off-target']", 0).await?;
    screen.read("[data-test='fastener']", "5R").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bolt_has_one_name_on_the_map_and_in_the_hand_and_its_one_angle_once() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    // Into the angles: the first bolts have theirs.
    advance(&rigore, &build, TIGHTEN, 6 + 1 + 3).await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    let next = screen.see("[data-test='fastener']").await?.text().await?;
    // The head says what the panel says; its place in the order stands beside it, smaller.
    let script = "const texts = [...document.querySelectorAll(`[data-test='map-${arguments[0]}'] text`)];
        return texts.map((text) => [text.textContent.trim(), Number(text.getAttribute('font-size')), text.getAttribute('x')])";
    let texts = screen.driver.execute(script, vec![next.clone().into()]).await?;
    let texts: Vec<(String, f64, Option<String>)> = serde_json::from_value(texts.json().clone())?;
    ensure!(texts[0].0 == next && texts[0].2.is_none(), "{texts:?}");
    ensure!(texts[1].0.parse::<u32>().is_ok() && texts[1].1 < texts[0].1, "{texts:?}");
    // One that had its angle says so when it is tapped, before anybody turns it again.
    screen.click("[data-test='map-3L']").await?;
    screen.read("[data-test='had-once']", "3L has had").await?;
    screen.click(&format!("[data-test='map-{next}']")).await?;
    screen.count("[data-test='had-once']", 0).await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn text_of_a_problem_outlives_escape_and_a_count_takes_enter() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    screen.click("[data-test='found']").await?;
    screen.see("[role='dialog'] textarea").await?.send_keys("a chip under the cap").await?;
    screen.keys(&char::from(Key::Escape).to_string()).await?;
    screen.count("[role='dialog']", 0).await?;
    screen.click("[data-test='found']").await?;
    let field = screen.see("[role='dialog'] textarea").await?;
    ensure!(field.value().await?.as_deref() == Some("a chip under the cap"), "{:?}", field.value().await?);
    screen.close().await
}

//! The day: what can be started, what waits, what was promised.

use anyhow::{Result, ensure};
use rigore_browser::{Browser, Rigore};
use rigore_store::Scratch;

#[tokio::test(flavor = "multi_thread")]
async fn an_engine_is_promised_waits_for_a_part_is_held_and_goes_on() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let name = "Tarn 5 no. 17";
    let id = rigore.engine(name).await?;
    screen.go(&rigore.url(&format!("/engines/{id}"))).await?;
    screen.click("[data-test='promise']").await?;
    screen.see("[name='promise-by']").await?;
    let by = "document.querySelector(\"[name='promise-by']\").value = '2026-01-05';
        document.querySelector(\"[name='promise-by']\").dispatchEvent(new Event('input'))";
    screen.driver.execute(by, vec![]).await?;
    screen.see("[name='promise-note']").await?.send_keys("the first run").await?;
    screen.click("[data-test='keep-promise']").await?;
    screen.read("[data-test='promised-for']", "the first run").await?;
    // Why it is held has to be said; what was typed stays.
    screen.click("[data-test='await-hold']").await?;
    screen.click("[data-test='keep-wait']").await?;
    screen.read("[role='dialog'] [role='alert']", "say what it is, or why").await?;
    screen.see("[name='waits-what']").await?.send_keys("The owner is abroad").await?;
    screen.click("[data-test='keep-wait']").await?;
    screen.read("[data-test='outside']", "The owner is abroad, on hold").await?;
    // On the day it is late, waits, and nothing of it can be started.
    screen.go(&rigore.url("/day")).await?;
    screen.read("[data-test='waits']", "The owner is abroad").await?;
    screen.see(&format!("[data-test='promise-{name}'][data-late='true']")).await?;
    screen.count(&format!("[data-test='can-{name}']"), 0).await?;
    screen.read("[data-test='can']", "Tarn 5 no. 18").await?;
    screen.click("[data-test='for-lead']").await?;
    screen.read("[data-test='can']", "lead approval needed").await?;
    screen.click("[data-test='for-bench-one']").await?;
    screen.read("[data-test='can']", "Tarn 5 no. 18").await?;
    let theirs = screen.see("[data-test='can']").await?.text().await?;
    ensure!(!theirs.contains("lead approval needed"), "that is no bench's: {theirs}");
    screen.click("[data-test='for-all']").await?;
    // Gone on with, it is there again, to be gone to.
    screen.go(&rigore.url(&format!("/engines/{id}"))).await?;
    screen.click("[data-test='outside'] .key[data-test^='over-']").await?;
    screen.read("[data-test='outside']", "1 ended").await?;
    screen.go(&rigore.url("/day")).await?;
    screen.click(&format!("[data-test='can-{name}'] a.key")).await?;
    screen.see("h1").await?;
    // A phone's calendar has an address, until it is taken back.
    screen.go(&rigore.url("/day")).await?;
    screen.enter_as("lead").await?;
    screen.click("[data-test='make-feed']").await?;
    let feed = screen.see("[data-test='feed']").await?.value().await?.unwrap_or_default();
    let text = reqwest::get(&feed).await?.error_for_status()?.text().await?;
    ensure!(text.contains("SUMMARY:Tarn 5 no. 17 promised"), "{text}");
    screen.click("[data-test='end-feed']").await?;
    screen.count("[data-test='feed']", 0).await?;
    ensure!(reqwest::get(&feed).await?.status() == 404, "it is taken back");
    screen.close().await
}

//! A whole joint in foot-pounds and thousandths with its sheet, taken apart again after it was signed; a fastener whose
//! figures cannot be used.

use crate::ways::advance;
use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore};
use rigore_store::Scratch;

const TIGHTEN: &str = "main-caps-tighten";

#[tokio::test(flavor = "multi_thread")]
async fn a_joint_in_foot_pounds_is_signed_printed_and_taken_apart_again() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    let place = rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"));
    screen.go(&place).await?;
    screen.click("select[name='length-unit'] option:nth-child(3)").await?;
    screen.click("select[name='clearance-unit'] option:nth-child(4)").await?;
    screen.click("select[name='torque-unit'] option:nth-child(2)").await?;
    for _ in 0..6 {
        screen.read("[data-test='target']", "22.1").await?;
        let next = screen.see("[data-test='fastener']").await?.text().await?;
        screen.line("22.1").await?;
        screen.see(&format!("[data-test='map-{next}'][data-strokes='1']")).await?;
    }
    screen.see("[data-test='acted']:enabled").await?;
    screen.line("").await?;
    screen.read("[data-test='question'], [data-test='target']", "50").await?;
    advance(&rigore, &build, TIGHTEN, 12).await?;
    screen.see("[data-test='sign']:enabled").await?;
    screen.line("").await?;
    screen.read("h1", "Tighten the outer and side bolts").await?;

    // The sheet says it in foot-pounds, with no figure of another unit in the row.
    screen.go(&rigore.url(&format!("/engines/{build}/sheet"))).await?;
    screen.read("[data-test='section-main-caps-tighten']", "22.1 lbf·ft").await?;
    let row =
        screen.see("[data-test='section-main-caps-tighten'] [data-test='row-2L']").await?.text().await?;
    ensure!(row.contains("22.1") && !row.contains("N·m"), "{row}");

    // Something under it was wrong: it is taken apart, and its signature holds no more.
    screen.go(&place).await?;
    screen.click("[data-test='take-apart']").await?;
    screen.reason("a seal was forgotten").await?;
    screen.count("[data-strokes='2'], [data-strokes='1']", 0).await?;
    screen.read("[data-test='pulls']", "loosened since").await?;
    screen.count("[data-test='pulls'] tr.line-through", 0).await?;
    let operation =
        rigore_browser::get(rigore.url(&format!("/api/builds/{build}/operations/{TIGHTEN}"))).await?;
    let operation: serde_json::Value = operation.json().await?;
    ensure!(operation["operation"]["signed_by"].is_null(), "{}", operation["operation"]);
    ensure!(operation["issues"].as_array().context("a list")?.is_empty(), "{}", operation["issues"]);
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_problem_offers_to_take_the_joint_over_it_apart() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    advance(&rigore, &build, TIGHTEN, 6).await?;
    let find = serde_json::json!({"type": "find", "operation": TIGHTEN, "text": "the lower shell of main 2 was left out",
        "about": {"kind": "operation", "operation": TIGHTEN}});
    let command = serde_json::json!({"id": uuid::Uuid::now_v7(), "seen": 1_u64 << 40, "action": find});
    let sent = rigore_browser::client()
        .post(rigore.url(&format!("/api/builds/{build}/commands")))
        .header("cookie", "rigore=demonstration.lead")
        .json(&command);
    sent.send().await?.error_for_status()?;
    screen.go(&rigore.url(&format!("/engines/{build}"))).await?;
    screen.click("[data-test='apart']").await?;
    screen.click("[data-test='apart-main-caps']").await?;
    // It is asked at once, with the problem as its reason.
    screen.read("[role='dialog']", "Take Main caps apart").await?;
    screen.click("[role='dialog'] form div button:first-child").await?;
    screen.click("[role='dialog'] button[type='submit']").await?;
    screen.count("[data-strokes='1']", 0).await?;
    screen.read("[data-test='pulls']", "loosened since").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_unusable_figure_of_a_fastener_is_refused_at_its_field_and_the_page_stays() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = uuid::Uuid::now_v7();
    let source = include_str!("../../../../plans/ostra-11.toml");
    let draft = rigore_browser::client()
        .post(rigore.url("/api/drafts"))
        .header("cookie", "rigore=demonstration.lead")
        .json(&serde_json::json!({ "id": id, "source": source }));
    draft.send().await?.error_for_status()?;
    screen.go(&rigore.url(&format!("/plans/drafts/{id}"))).await?;
    let joints = "[data-test^='joint-']";
    screen.see(joints).await?;
    let before = screen.driver.find_all(thirtyfour::By::Css(joints)).await?.len();
    screen.click("[data-test^='fastener-']").await?;
    for (field, wrong, says) in
        [("thread", "7/16", "7/16-14 (UNC)"), ("bearing_diameter", "wide", "does not start with a number")]
    {
        let input = screen.see(&format!("[role='dialog'] input[name='{field}']")).await?;
        let kept = input.value().await?.unwrap_or_default();
        input.clear().await?;
        input.send_keys(wrong).await?;
        screen.click("[data-test='keep-fastener']").await?;
        screen.read(&format!("[data-test='wrong-{field}']"), says).await?;
        // What was entered stays, and nothing of the plan is gone.
        ensure!(input.value().await?.as_deref() == Some(wrong), "{field}");
        screen.count(joints, before).await?;
        input.clear().await?;
        input.send_keys(if kept.is_empty() { "13 mm" } else { &kept }).await?;
    }
    screen.click("[data-test='keep-fastener']").await?;
    screen.count("[role='dialog']", 0).await?;
    screen.count(joints, before).await?;
    screen.close().await
}

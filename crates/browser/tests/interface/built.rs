//! Whole engines at the real interface: what lies between the joints.

use crate::keyboard::{bench, by_keyboard, get, signed};
use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore};
use rigore_plan::Plan;
use rigore_store::{Scratch, Store};
use serde_json::json;
use std::path::PathBuf;

/// What a site measures, as it is typed.
fn size(site: &str) -> &'static str {
    let sizes = [
        ("main-journal", "37.96 mm"),
        ("main-bush", "38.018 mm"),
        ("rod-journal", "34.89 mm"),
        ("rod-bore", "34.942 mm"),
        ("rod-strip", "2.14 mm"),
        ("rod-side", "0.235 mm"),
        ("piston-mass", "344"),
        ("piston", "78.48 mm"),
        ("cylinder", "78.61 mm"),
        ("top-ring", "0.28 mm"),
        ("scraper-ring", "0.25 mm"),
        ("end-play", "0.152 mm"),
        ("cam-teeth", "0"),
        ("barrel-warm", "90"),
        ("inlet-opens", "15"),
        ("inlet-lash", "0.152 mm"),
        ("exhaust-lash", "0.203 mm"),
    ];
    sizes.iter().find(|(known, _)| site.starts_with(known)).map_or("", |(_, text)| text)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_rod_goes_from_its_piston_to_a_turned_crankshaft() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 20").await?;
    // What is repeated is one row of the engine's page, open where it is in work.
    screen.go(&rigore.url(&format!("/engines/{id}"))).await?;
    screen.read("[data-test='rods']", "5 cylinders").await?;
    screen.see("[data-test='rod-fit-1'][data-status='done']").await?;
    screen.click("[data-test='rod-tighten-1'] a").await?;
    for (operation, next) in [
        ("rod-tighten-1", "Measure the side clearance, rod 1"),
        ("rod-side-1", "Turn after rod 1"),
        ("rod-turn-1", "Fit piston and rod 2"),
    ] {
        by_keyboard(&screen, &rigore, (&id, operation), size).await?;
        screen.read("h1", next).await?;
    }
    // Protectors go in with the piston, are seen on every screen, and come out again.
    screen.read("main", "Protectors on the bolts of rod 2").await?;
    screen.line("").await?;
    screen.read("[data-test='aids']", "2 × Protector on rod 2").await?;
    screen.read("main", "Ring compressor").await?;
    screen.line("").await?;
    screen.read("main", "Protectors off again").await?;
    screen.line("").await?;
    screen.read("[data-test='cap']", "Cap 2 on").await?;
    // What is in the engine comes with an answer of its own.
    let start = std::time::Instant::now();
    while screen.see("[data-test='aids']").await?.text().await?.contains("Protector") {
        ensure!(start.elapsed().as_secs() < 5, "they are out");
    }
    for (operation, next) in [
        ("rod-fit-2", "Tighten rod 2"),
        ("rod-tighten-2", "Measure the side clearance, rod 2"),
        ("rod-side-2", "Turn after rod 2"),
        ("rod-turn-2", "Fit piston and rod 3"),
    ] {
        by_keyboard(&screen, &rigore, (&id, operation), size).await?;
        screen.read("h1", next).await?;
    }
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_sealant_clock_stands_on_every_screen_of_its_engine_and_warns() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let id = rigore.engine("Tarn 5 no. 13").await?;
    // A bead on the rear carrier: what has to be ready is asked before it.
    screen.go(&rigore.url(&format!("/engines/{id}/bench/rear-carrier"))).await?;
    for ready in
        ["the guide sleeve is on the crank", "the seal's lip is oiled and faces in", "A bead of 2 mm"]
    {
        screen.read(".bench-hand", ready).await?;
        screen.count("[data-test='clock']", 0).await?;
        // A key that is pressed while the last one is being recorded does nothing.
        screen.see("[data-test='acted']:enabled").await?;
        screen.line("").await?;
    }
    screen.see("[data-test='clock'][data-state='good']").await?;
    for place in ["", "/bench/take-in", "/sheet"] {
        screen.go(&rigore.url(&format!("/engines/{id}{place}"))).await?;
        screen.read("[data-test='clock']", "Bead on the carrier").await?;
        screen.read("[data-test='clock']", "Fit the rear seal carrier").await?;
    }
    // Two thirds of ten minutes later it warns, after ten it is too late: the screen's own clock is put on.
    screen.go(&rigore.url(&format!("/engines/{id}/bench/rear-carrier"))).await?;
    for (minutes, state) in [(7, "low"), (11, "over")] {
        let on = format!(
            "window.RealDate ??= Date; Date = class extends RealDate {{ constructor(...of) {{ \
            super(...(of.length ? of : [RealDate.now() + {minutes} * 60000])) }} }}"
        );
        screen.driver.execute(&on, vec![]).await?;
        screen.see(&format!("[data-test='clock'][data-state='{state}']")).await?;
    }
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_finding_with_its_picture_is_decided_by_a_lead_on_another_screen() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let (screen, lead) = (browser.window(390, 844).await?, browser.window(1280, 800).await?);
    let id = rigore.engine("Tarn 5 no. 18").await?;
    screen.go(&rigore.url(&format!("/engines/{id}/bench/head-tighten"))).await?;
    screen.click("[data-test='found']").await?;
    screen.click("[data-test='give-finding']").await?;
    screen.read("[role='dialog'] [role='alert']", "Describe the problem").await?;
    screen.see("textarea[name='text']").await?.send_keys("The washer of 4T has turned with its nut").await?;
    screen.click("select[name='about'] option:nth-child(9)").await?;
    let pictures = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../plans").canonicalize()?;
    let picture = |name: &str| pictures.join(name).to_string_lossy().into_owned();
    // What is no picture is refused, and what was typed stays.
    let file = screen.see("input[name='picture']").await?;
    file.send_keys(picture("tarn-5.toml")).await?;
    screen.read("[role='dialog']", "This file cannot be shown").await?;
    file.send_keys(picture("thread.jpg")).await?;
    screen.see("[data-test='picture-kept']").await?;
    screen.click("[data-test='give-finding']").await?;
    screen.see("[data-standing='open'] img").await?;
    let found = bench(&rigore, &id, "head-tighten").await?;
    ensure!(found["operation"]["status"] == "held", "{:#}", found["operation"]);
    let kept = &found["findings"][0]["picture"];
    let bytes = rigore_browser::get(
        rigore.url(&format!("/api/pictures/{}", kept["hash"].as_str().context("a hash")?)),
    );
    let bytes = bytes.await?.error_for_status()?.bytes().await?;
    ensure!(kept["bytes"].as_u64() == Some(bytes.len() as u64), "{kept}");

    // The lead sees it on the engine's page, decides, and the bench is told without being moved.
    lead.go(&rigore.url(&format!("/engines/{id}"))).await?;
    lead.read("[data-standing='open']", "The washer of 4T has turned").await?;
    lead.count("[data-test='decide']", 0).await?;
    lead.enter_as("lead").await?;
    lead.click("[data-test='decide']").await?;
    lead.click("[data-test='decide-change']").await?;
    lead.see("[role='dialog'] input[name='text']").await?.send_keys("A new washer, chamfer up").await?;
    lead.click("[data-test='give-step']").await?;
    screen.read("[data-standing='change']", "to be replaced").await?;
    screen.click("[data-test='look-again']").await?;
    screen.see("[role='dialog'] input[name='text']").await?.send_keys("It lies flat now").await?;
    screen.click("[data-test='give-step']").await?;
    screen.count("[data-standing]", 0).await?;
    screen.read("h1", "Tighten the head").await?;
    lead.read("[data-standing='settled']", "OK again: It lies flat now").await?;
    lead.go(&rigore.url(&format!("/engines/{id}/sheet"))).await?;
    lead.read("[data-test='sheet-findings']", "to be replaced: A new washer, chamfer up").await?;
    // One fastener's whole story, by a tap on its place.
    lead.click("[data-test='section-head-tighten'] [data-test='story-3E']").await?;
    lead.read("[data-test='story']", "Nuts 1 of 3").await?;
    screen.close().await?;
    lead.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_ostra_11_is_built_by_keyboard_to_its_last_signature() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    // As it ships, but for the hour that the sealant of the case cures.
    let source = include_str!("../../../../plans/ostra-11.toml").replace("  cure = \"1 h\"\n", "");
    let plan = Plan::read("ostra-11.toml", &source).map_err(|faults| anyhow::anyhow!("{faults:?}"))?;
    let hash = Store::connect(&scratch.url, 1).await?.add_plan(&source, &plan).await?.hash;
    let id = uuid::Uuid::now_v7().to_string();
    let begin = json!({"id": id, "name": "Ostra by keyboard", "plan": hash, "use": "vintage"});
    let request = rigore_browser::client()
        .post(rigore.url("/api/builds"))
        .header("cookie", "rigore=demonstration.lead");
    request.json(&begin).send().await?.error_for_status()?;
    screen.go(&rigore.url("/")).await?;
    screen.enter_as("lead").await?;
    let line = get(&rigore, &format!("/api/builds/{id}")).await?["operations"].clone();
    for operation in line.as_array().context("operations")? {
        let key = operation["id"].as_str().context("a key")?;
        let place = rigore.url(&format!("/engines/{id}/bench/{key}"));
        screen.go(&place).await?;
        screen.read("h1", operation["name"].as_str().context("a name")?).await?;
        by_keyboard(&screen, &rigore, (&id, key), size).await?;
        signed(&rigore, &id, key).await?;
    }
    ensure!(get(&rigore, &format!("/api/builds/{id}")).await?["status"] == "finished", "it is signed off");
    screen.close().await
}

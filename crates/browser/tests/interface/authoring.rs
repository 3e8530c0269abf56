//! A plan of one's own, from an empty sheet to its first tightened joint.

use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use thirtyfour::Key;

/// What stands in a field from now on; leaving it keeps that.
pub async fn fill(screen: &Screen, css: &str, text: &str) -> Result<()> {
    let field = screen.see(css).await?;
    field.scroll_into_view().await?;
    field.click().await?;
    screen.select_all().await?;
    Ok(field.send_keys(text).await?)
}

/// Another of what there is to choose.
async fn choose(screen: &Screen, css: &str, value: &str) -> Result<()> {
    screen.see(css).await?;
    let script = "const of = document.querySelector(arguments[0]); of.value = arguments[1]; of.dispatchEvent(new Event('change', { bubbles: true })); return of.value";
    let now = screen.driver.execute(script, vec![css.into(), value.into()]).await?;
    ensure!(now.json().as_str() == Some(value), "{css} has no {value}");
    Ok(())
}

/// A box that is ticked.
async fn tick(screen: &Screen, css: &str) -> Result<()> {
    screen.see(css).await?.scroll_into_view().await?;
    screen.click(css).await
}

/// The figures of the maker's cards of the Skerry 8: strength, and mean bearing diameter.
const CARDS: [(&str, &str, &str); 14] = [
    ("main-inner", "10.9", "14.5 mm"),
    ("main-outer", "10.9", "14.5 mm"),
    ("main-cross", "8.8", "11 mm"),
    ("rod-bolt", "12.9", "12 mm"),
    ("head", "10.9", "15 mm"),
    ("rocker-bolt", "8.8", "11 mm"),
    ("cam-drive-bolt", "8.8", "11 mm"),
    ("cover-bolt", "8.8", "8.5 mm"),
    ("intake-bolt", "8.8", "11 mm"),
    ("damper-bolt", "10.9", "19 mm"),
    ("flywheel-bolt", "12.9", "14 mm"),
    ("", "", ""),
    ("", "", ""),
    ("", "", ""),
];

/// Its procedures as its manual says them.
const PROCEDURES: [(&str, &str); 16] = [
    ("main-caps", "inner: 3 equal steps to 90 N·m ± 4; outer: 3 equal steps to 84 N·m ± 4; cross: 20 N·m ± 2, centre out"),
    ("rod", "20, 40, 58 N·m, in line"),
    ("head", "30 N·m, 60 N·m, 90 N·m ± 4, centre out"),
    ("rockers", "12 N·m, then 22 N·m, from the middle outwards"),
    ("cam-drive", "22 N·m, criss-cross"),
    ("tray", "8 N·m, centre out"),
    ("pan", "5 N·m, 8 N·m, centre out"),
    ("timing-cover", "8 N·m, criss-cross"),
    ("rear-cover", "8 N·m, criss-cross"),
    ("rocker-cover", "4 N·m, 8 N·m, centre out"),
    ("valley-cover", "8 N·m, centre out"),
    ("intake", "10 N·m, 20 N·m, centre out"),
    ("water-pump", "8 N·m, criss-cross"),
    ("damper", "60 N·m, then 130 N·m"),
    ("flywheel", "30 N·m, 70 N·m, criss-cross"),
    ("", ""),
];

/// Its windows for endurance boats, with where they were found.
const WINDOWS: [(&str, &str); 9] = [
    ("main-oil", "0.050 mm, 0.060 mm, 0.075 mm"),
    ("rod-oil", "0.045 mm, 0.055 mm, 0.070 mm"),
    ("piston-play", "0.070 mm, 0.080 mm, 0.095 mm"),
    ("top-gap", "0.45 mm, 0.50 mm, 0.60 mm"),
    ("second-gap", "0.50 mm, 0.55 mm, 0.70 mm"),
    ("crank-end-play", "0.10 mm, 0.15 mm, 0.25 mm"),
    ("rod-side-play", "0.25 mm, 0.35 mm, 0.50 mm"),
    ("deck", "0.20 mm, 0.30 mm, 0.40 mm"),
    ("valve-timing", "20°, 24°, 28°"),
];

#[tokio::test(flavor = "multi_thread")]
async fn the_skerry_8_from_an_empty_plan_to_its_first_tightened_joint() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let begun = std::time::Instant::now();
    screen.go(&rigore.url("/plans")).await?;
    screen.click("[data-test='new-plan']").await?;
    // The shape, which is drawn beside the choices.
    fill(&screen, "[name='name']", "Skerry 8").await?;
    fill(&screen, "[name='about']", "4.2-litre V8 for endurance boats: cam in the block, flat tappets, four-bolt mains with cross bolts, studs.").await?;
    screen.click("[data-test='layout-v']").await?;
    choose(&screen, "[name='cylinders']", "8").await?;
    fill(&screen, "[name='bore']", "96").await?;
    fill(&screen, "[name='spacing']", "106").await?;
    choose(&screen, "[name='main_bolts']", "4").await?;
    choose(&screen, "[name='head_rows']", "4").await?;
    choose(&screen, "[name='cams']", "block").await?;
    for extra in ["main_studs", "head_studs", "cross-bolts", "tray", "valley-cover"] {
        tick(&screen, &format!("[name='{extra}']")).await?;
    }
    screen.read("[data-test='shape']", "Valley from above").await?;
    screen.click("[data-test='begin-plan']").await?;
    screen.read("h1", "Skerry 8").await?;
    // The maker's cards.
    for (at, (id, strength, bearing)) in CARDS.iter().filter(|card| !card.0.is_empty()).enumerate() {
        for (key, text) in [("strength", strength), ("bearing_diameter", bearing)] {
            let css = format!("[name='open-fastener[{at}].{key}']");
            fill(&screen, &css, text).await.with_context(|| (*id).to_owned())?;
            screen.keys(&char::from(Key::Enter).to_string()).await?;
            screen.count(&css, 0).await?;
        }
    }
    // The windows of the manual.
    for (id, text) in WINDOWS {
        let css = format!("[name='{id}-street']");
        fill(&screen, &css, text).await?;
        screen.keys(&char::from(Key::Tab).to_string()).await?;
    }
    // Its procedures, each answered before it is kept.
    for (joint, line) in PROCEDURES.iter().filter(|of| !of.0.is_empty()) {
        let css = format!("[name='procedure-{joint}']");
        fill(&screen, &css, line).await?;
        screen.see(&format!("[data-test='joint-{joint}'] [data-test='canonical']")).await?;
        screen.keys(&char::from(Key::Enter).to_string()).await?;
        screen.count(&format!("[data-test='joint-{joint}'] [data-test='tried']"), 0).await?;
    }
    screen.count("[data-test='open-figures']", 0).await?;
    screen.count("[data-test='show-faults']", 0).await?;
    // A version, and an engine on it.
    screen.click("[data-test='keep-version']").await?;
    fill(&screen, "[name='why']", "The first version").await?;
    screen.click("[data-test='keep-it']").await?;
    screen.see("[data-test='change-plan']").await?;
    println!("from an empty plan to a version in {} s", begun.elapsed().as_secs());
    let hash = screen.driver.current_url().await?.path_segments().and_then(Iterator::last).map(str::to_owned).context("a hash")?;
    let text = reqwest::get(rigore.url(&format!("/api/plans/{hash}/text"))).await?.text().await?;
    let kept = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../plans/skerry-8.toml");
    if std::env::var_os("RIGORE_KEEP_SKERRY").is_some() {
        std::fs::write(&kept, &text)?;
    }
    ensure!(text == std::fs::read_to_string(&kept)?, "plans/skerry-8.toml is not what came out of the browser");
    screen.close().await
}

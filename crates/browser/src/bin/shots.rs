//! Makes the pictures of docs/screenshots/ from the demonstration shop.

use anyhow::{Context, Result};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use std::path::{Path, PathBuf};

/// Each picture: file name, engine, place under it, what has to be there first.
const PICTURES: &[(&str, &str, &str, &str)] = &[
    ("shop", "", "/", "[data-test='Tarn 5 no. 12']"),
    ("engine", "Tarn 5 no. 23", "", "[data-test='sign-off']"),
    ("bench-measure", "Tarn 5 no. 16", "/bench/mains-measure", "input[name='reading']"),
    ("clearances", "Tarn 5 no. 15", "/bench/mains-measure", "[data-test='main-oil-6']"),
    ("bench-angle", "Tarn 5 no. 11", "/bench/main-caps-tighten", "[data-test='clock']"),
    ("bench-stretch", "Tarn 5 no. 20", "/bench/rod-tighten-1", "[data-test='climb']"),
    ("bench-seal", "Tarn 5 no. 23", "/bench/pan-seal", "[data-test='clock']"),
    ("plans", "", "/plans", "[data-test='plan-skerry-8']"),
    ("shape", "", "/plans/new", "[data-test='shape'] [data-test='drawing']"),
    ("part", "", "/parts/RB-21", "[data-test='piece-4']"),
    ("friction", "", "/friction", "[data-test='measured']"),
    ("clamp-load", "", "/clamp-load", "[data-test='within-stretch']"),
    ("calculate", "", "/calculate/part-resilience", "[data-test='sensitivity']"),
    ("sheet", "Tarn 5 no. 9", "/sheet", "[data-test='row-3L']"),
];

#[tokio::main]
async fn main() -> Result<()> {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let has = |flag: &str| arguments.iter().any(|argument| argument == flag);
    let folder = arguments.iter().find(|argument| !argument.starts_with("--"));
    let folder = PathBuf::from(folder.map_or("docs/screenshots", String::as_str));
    std::fs::create_dir_all(&folder)?;
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let (width, height) = if has("--phone") { (390, 844) } else { (1280, 800) };
    let screen = browser.window(width, height).await?;
    screen.go(&rigore.url("/")).await?;
    let face = if has("--dark") { "dark" } else { "light" };
    screen.driver.execute(&format!("localStorage.setItem('rigore.theme', '{face}')"), vec![]).await?;
    let only: Vec<&str> = arguments.iter().filter_map(|argument| argument.strip_prefix("--only=")).collect();
    for (name, engine, place, wanted) in PICTURES {
        if !only.is_empty() && !only.contains(name) {
            continue;
        }
        let file = folder.join(format!("{name}.png"));
        take(&screen, &rigore, (engine, place, wanted), &file).await.with_context(|| (*name).to_owned())?;
        println!("{}", file.display());
    }
    plan_pictures(&screen, &rigore, &folder, &only).await?;
    screen.sign_over(&rigore.url("/"), "lead").await?;
    if only.is_empty() || only.contains(&"day") {
        take(&screen, &rigore, ("", "/day", "[data-test='promised'] li"), &folder.join("day.png")).await?;
    }
    if only.is_empty() || only.contains(&"own") {
        take(&screen, &rigore, ("", "/own", "[data-test='people'] li"), &folder.join("own.png")).await?;
    }
    screen.close().await
}

/// A plan as it is read and while it is written.
async fn plan_pictures(screen: &Screen, rigore: &Rigore, folder: &Path, only: &[&str]) -> Result<()> {
    let wanted = |name: &str| only.is_empty() || only.contains(&name);
    let plans: serde_json::Value = rigore_browser::get(rigore.url("/api/plans")).await?.json().await?;
    let tarn = plans.as_array().and_then(|all| all.iter().find(|plan| plan["id"] == "tarn-5"));
    let hash = tarn.and_then(|plan| plan["hash"].as_str()).context("the Tarn 5")?;
    let show = "document.querySelector(arguments[0]).scrollIntoView(); window.scrollBy(0, -140)";
    let shot = async |name: &str, joint: &str| -> Result<()> {
        screen.see(joint).await?;
        screen.driver.execute(show, vec![joint.into()]).await?;
        tokio::time::sleep(std::time::Duration::from_millis(500)).await;
        let file = folder.join(format!("{name}.png"));
        screen.picture(&file).await?;
        println!("{}", file.display());
        Ok(())
    };
    if wanted("plan") {
        screen.go(&rigore.url(&format!("/plans/{hash}"))).await?;
        shot("plan", "[data-test='joint-main-caps']").await?;
    }
    if wanted("joint") {
        screen.go(&rigore.url(&format!("/plans/{hash}/joints/rod"))).await?;
        shot("joint", "[data-test='joint-loads']").await?;
    }
    if !wanted("procedure") {
        return Ok(());
    }
    let id = uuid::Uuid::now_v7();
    let client = rigore_browser::client();
    let begin = client.post(rigore.url("/api/drafts")).header("cookie", "rigore=demonstration.lead");
    begin.json(&serde_json::json!({ "id": id, "base": hash })).send().await?.error_for_status()?;
    if wanted("procedure") {
        screen.go(&rigore.url(&format!("/plans/drafts/{id}"))).await?;
        let field = screen.see("[name='procedure-head']").await?;
        field.click().await?;
        screen.select_all().await?;
        field.send_keys("nuts: 40 N·m, 70 N·m, then 90 twice; small: 20-24 N·m, centre out").await?;
        screen.see("[data-test='joint-head'] [data-test='tried']").await?;
        shot("procedure", "[data-test='joint-head']").await?;
    }
    Ok(())
}

async fn take(
    screen: &Screen,
    rigore: &Rigore,
    (engine, place, wanted): (&str, &str, &str),
    file: &Path,
) -> Result<()> {
    let path = if engine.is_empty() {
        place.to_owned()
    } else {
        format!("/engines/{}{place}", rigore.engine(engine).await?)
    };
    screen.go(&rigore.url(&path)).await?;
    screen.see(wanted).await?;
    screen.driver.execute("return document.fonts.ready.then(() => 1)", vec![]).await?;
    tokio::time::sleep(std::time::Duration::from_millis(350)).await;
    screen.picture(file).await
}

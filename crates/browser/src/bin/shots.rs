//! Makes the pictures of docs/screenshots/ from the demonstration shop.

use anyhow::{Context, Result};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use std::path::{Path, PathBuf};

/// Each picture: file name, engine, place under it, what has to be there first.
const PICTURES: &[(&str, &str, &str, &str)] = &[
    ("shop", "", "/", "[data-test='Tarn 5 no. 12']"),
    ("engine", "Tarn 5 no. 23", "", "[data-test='sign-off']"),
    ("bench-check", "Tarn 5 no. 12", "/bench/main-caps-prepare", "[data-test='confirm']"),
    ("bench-measure", "Tarn 5 no. 16", "/bench/mains-measure", "input[name='reading']"),
    ("clearances", "Tarn 5 no. 15", "/bench/mains-measure", "[data-test='main-oil-6']"),
    ("bench-valves", "Tarn 5 no. 10", "/bench/valves-measure", "[data-test='clearance-inlet-play']"),
    ("bench-torque", "Tarn 5 no. 13", "/bench/main-caps-tighten", "[data-test='target']"),
    ("bench-angle", "Tarn 5 no. 11", "/bench/main-caps-tighten", "[data-test='clock']"),
    ("bench-feel", "Ostra 11 no. 4", "/bench/rods-tighten", "[data-test='question']"),
    ("bench-stretch", "Tarn 5 no. 20", "/bench/rod-tighten-1", "[data-test='climb']"),
    ("bench-seal", "Tarn 5 no. 23", "/bench/pan-seal", "[data-test='clock']"),
    ("bench-timing", "Tarn 5 no. 25", "/bench/timing-degrees", "input[name='reading']"),
    ("finding", "Tarn 5 no. 24", "/bench/head-studs", "[data-standing='open']"),
    ("part", "", "/parts/RB-21", "[data-test='piece-4']"),
    ("friction", "", "/friction", "[data-test='measured']"),
    ("clamp-load", "", "/clamp-load", "[data-test='within-stretch']"),
    ("calculate", "", "/calculate/procedure", "[data-test='canonical']"),
    ("practice", "", "/practice", "[data-test='pulls']"),
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
    screen.close().await
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

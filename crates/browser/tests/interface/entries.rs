//! What is typed reaches the record once, under the name of who typed it, for what it was typed for,
//! or comes back to be seen.

use crate::ways::advance;
use anyhow::{Context, Result, ensure};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::Scratch;
use serde_json::{Value, json};
use sqlx::Connection;
use std::time::Duration;
use uuid::Uuid;

const TIGHTEN: &str = "main-caps-tighten";

async fn get(rigore: &Rigore, path: &str) -> Result<Value> {
    Ok(rigore_browser::get(rigore.url(path)).await?.json().await?)
}

/// How many pulls an operation has, and the last of them.
async fn pulls(rigore: &Rigore, build: &str, operation: &str) -> Result<(u64, Value)> {
    let bench = get(rigore, &format!("/api/builds/{build}/operations/{operation}")).await?;
    Ok((bench["work"]["pull_count"].as_u64().context("a number")?, bench["work"]["pulls"][0].clone()))
}

/// Waits until the main caps have so many pulls; gives the last one.
async fn pulled(rigore: &Rigore, build: &str, wanted: u64) -> Result<Value> {
    let mut found = (0, Value::Null);
    for _ in 0..200 {
        if let Ok(now) = pulls(rigore, build, TIGHTEN).await {
            found = now;
        }
        if found.0 == wanted {
            return Ok(found.1);
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    anyhow::bail!("{wanted} pulls wanted: {found:#?}")
}

async fn at_work(screen: &Screen, person: &str) -> Result<()> {
    screen.enter_as(person).await
}

/// Puts commands on their way, as a page that was closed left them.
async fn left_behind(screen: &Screen, rigore: &Rigore, waiting: &Value) -> Result<()> {
    screen.go(&rigore.url("/mark.svg")).await?;
    let script = "localStorage.setItem('rigore.outbox', arguments[0])";
    screen.driver.execute(script, vec![Value::from(waiting.to_string())]).await?;
    screen.go(&rigore.url("/")).await
}

fn pull(build: &str, person: &str, fastener: &str, text: &str) -> Value {
    json!({"build": build, "person": person, "command": {"id": Uuid::now_v7(), "seen": 1_u64 << 40, "action": {
        "type": "pull", "operation": TIGHTEN, "stage": 1, "fastener": fastener, "reading": {"text": text},
        "method": "typed", "instrument": "wrench-2"
    }}})
}

#[tokio::test(flavor = "multi_thread")]
async fn a_pull_that_waits_for_the_server_stays_its_own_persons() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let mut rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    let (before, _) = pulls(&rigore, &build, TIGHTEN).await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    screen.see("[data-test='fastener']").await?;
    at_work(&screen, "bench-two").await?;
    rigore.crash()?;
    screen.see("[data-test='away']").await?;
    screen.see("input[name='reading']").await?.send_keys("30").await?;
    screen.line("").await?;
    // Somebody else is signed in in this browser before the server is back: what waits is not sent in their name.
    screen.sign_over(&rigore.url("/"), "bench-one").await?;
    rigore.start_again().await?;
    screen.read("[data-test='held']", "Bench two typed this and is not signed in here").await?;
    screen.see("[data-test='at-work'][data-person='bench-one']").await?;
    ensure!(pulls(&rigore, &build, TIGHTEN).await?.0 == before, "sent in the wrong name");
    at_work(&screen, "bench-two").await?;
    screen.count("[data-test='held']", 0).await?;
    let last = pulled(&rigore, &build, before + 1).await?;
    ensure!(last["by"] == "Bench two", "{last:#}");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_cannot_be_recorded_comes_back_to_be_seen_and_holds_nothing_up() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(390, 844).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    let (before, _) = pulls(&rigore, &build, TIGHTEN).await?;
    let nowhere = Uuid::now_v7().to_string();
    let waiting = json!([
        pull(&nowhere, "bench-one", "3L", "30"),
        pull(&build, "bench-one", "3L", "thirty"),
        pull(&build, "nobody", "3L", "30"),
        pull(&build, "bench-two", "3L", "30.2"),
    ]);
    left_behind(&screen, &rigore, &waiting).await?;
    // Two are of nobody who is here: one is thrown away, the other one waits for who typed it.
    screen.count("[data-test='held'] p", 2).await?;
    screen.click("[data-test='held'] button").await?;
    screen.count("[data-test='held'] p", 1).await?;
    at_work(&screen, "bench-two").await?;
    let last = pulled(&rigore, &build, before + 1).await?;
    ensure!(last["by"] == "Bench two", "{last:#}");
    screen.count("[data-test='held']", 0).await?;
    screen.count("[data-test='returned'] p", 2).await?;
    screen.read("[data-test='returned']", "pull 3L thirty in main-caps-tighten, by Bench one").await?;
    // It stays until somebody has seen it, also after a reload.
    screen.go(&rigore.url(&format!("/engines/{build}"))).await?;
    screen.count("[data-test='returned'] p", 2).await?;
    for left in [1, 0] {
        screen.click("[data-test='returned'] button").await?;
        screen.count("[data-test='returned'] p", left).await?;
    }
    screen.go(&rigore.url("/")).await?;
    screen.see("[data-test='Tarn 5 no. 12']").await?;
    screen.count("[data-test='returned'] p", 0).await?;
    screen.close().await
}

/// A Tarn 5 that is just begun; its main caps are tightened in two operations, and the holes are dry in both.
async fn twice_tightened(rigore: &Rigore) -> Result<String> {
    let plans = get(rigore, "/api/plans").await?;
    let tarn = plans.as_array().and_then(|plans| plans.iter().find(|plan| plan["id"] == "tarn-5"));
    let build = Uuid::now_v7();
    let begin = json!({"id": build, "name": "Twice", "plan": tarn.context("the plan")?["hash"]});
    let client = rigore_browser::client();
    let post = |url: String, body: Value| {
        let request = client.post(url).header("cookie", "rigore=demonstration.lead").json(&body);
        async move { request.send().await?.error_for_status().map(drop) }
    };
    post(rigore.url("/api/builds"), begin).await?;
    for operation in ["caps-trial", TIGHTEN] {
        let act = json!({"id": Uuid::now_v7(), "seen": 1_u64 << 40,
            "action": {"type": "act", "operation": operation, "stage": 0}});
        post(rigore.url(&format!("/api/builds/{build}/commands")), act).await?;
    }
    Ok(build.to_string())
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_typed_in_one_operation_is_not_recorded_in_another() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let build = twice_tightened(&rigore).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/caps-trial"))).await?;
    screen.see("input[name='reading']").await?.send_keys("29.9").await?;
    // To the other operation within the page, by way of the engine.
    screen.click(&format!("main a[href='/engines/{build}']")).await?;
    screen.click("[data-test='main-caps-tighten'] a").await?;
    screen.read("h1", "Tighten the main caps").await?;
    screen.see("input[name='reading']").await?;
    screen.line("").await?;
    tokio::time::sleep(Duration::from_millis(400)).await;
    ensure!(pulls(&rigore, &build, TIGHTEN).await?.0 == 0, "typed on trial, recorded for good");
    // Where it was typed it is still there, and is recorded there.
    screen.driver.back().await?;
    screen.click("[data-test='caps-trial'] a").await?;
    screen.read("h1", "Torque the main caps to measure").await?;
    let field = screen.see("input[name='reading']").await?;
    ensure!(field.value().await?.as_deref() == Some("29.9"), "the draft is kept");
    field.click().await?;
    screen.line("").await?;
    screen.read("[data-test='verdict']", "29.9 N·m").await?;
    let trial = pulls(&rigore, &build, "caps-trial").await?;
    ensure!(trial.0 == 1 && trial.1["fastener"] == "3L", "{trial:#?}");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_typed_before_an_answer_comes_is_for_what_is_next() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    let (before, _) = pulls(&rigore, &build, TIGHTEN).await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    screen.see("input[name='reading']").await?;
    let enter = char::from(thirtyfour::Key::Enter);
    // Two figures in one go, as a gauge sends them: the first is recorded, the second waits for its own Enter.
    screen.keys(&format!("29.9{enter}30.1")).await?;
    let first = pulled(&rigore, &build, before + 1).await?;
    screen.read("[data-test='verdict']", "29.9 N·m").await?;
    let field = screen.see("input[name='reading']").await?;
    ensure!(field.value().await?.as_deref() == Some("30.1"), "{:?}", field.value().await?);
    screen.line("").await?;
    let second = pulled(&rigore, &build, before + 2).await?;
    ensure!(second["fastener"] != first["fastener"] && second["late"].is_null(), "{second:#}");
    screen.read("[data-test='verdict']", "30.1 N·m").await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_typed_behind_a_click_is_for_the_stage_that_is_next() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    // Up to the last click of a stage.
    advance(&rigore, &build, TIGHTEN, 6 + 1 + 12 + 1).await?;
    advance(&rigore, &build, "main-caps-outer", 1 + 11).await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/main-caps-outer"))).await?;
    screen.read("[data-test='heard'][data-listens='true']", "It is set").await?;
    screen.line("").await?;
    screen.read("[data-test='heard'][data-listens='true']", "It clicked").await?;
    screen.keys(&format!("{}39", char::from(thirtyfour::Key::Enter))).await?;
    screen.read("[aria-current='step']", "Outer 2 of 2").await?;
    let field = screen.see("input[name='reading']").await?;
    ensure!(field.value().await?.as_deref() == Some("39"), "{:?}", field.value().await?);
    screen.line("").await?;
    for _ in 0..100 {
        let (_, pull) = pulls(&rigore, &build, "main-caps-outer").await?;
        if pull["value"] == 39.0 {
            ensure!(pull["stage_name"] == "Outer 2 of 2" && pull["verdict"] == "good", "{pull:#}");
            return screen.close().await;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    anyhow::bail!("39 N·m was not recorded: {:#}", pulls(&rigore, &build, "main-caps-outer").await?.1)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_gauge_that_types_while_a_reading_is_on_its_way_loses_none() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    screen.click("select[name='instrument'] option[value='wrench-2']").await?;
    let (before, _) = pulls(&rigore, &build, TIGHTEN).await?;
    let field = "input[name='reading']";
    screen.see(field).await?;
    // Somebody holds the engine's row in the database: what is sent takes long.
    let mut holder = sqlx::PgConnection::connect(&scratch.url).await?;
    let mut held = holder.begin().await?;
    sqlx::query("SELECT 1 FROM builds WHERE id = $1 FOR UPDATE")
        .bind(build.parse::<Uuid>()?)
        .execute(&mut *held)
        .await?;
    screen.line("30.1").await?;
    screen.see("input[name='reading'][placeholder='Recording 30.1…']").await?;
    ensure!(screen.see(field).await?.value().await?.as_deref() == Some(""), "it is on its way");
    // Enter alone is a key that bounced; with a reading it is the next one.
    screen.line("").await?;
    screen.line("30.2").await?;
    held.rollback().await?;
    let second = pulled(&rigore, &build, before + 2).await?;
    let bench = get(&rigore, &format!("/api/builds/{build}/operations/{TIGHTEN}")).await?;
    let first = &bench["work"]["pulls"][1];
    ensure!((&first["value"], &second["value"]) == (&json!(30.1), &json!(30.2)), "{first:#}, {second:#}");
    ensure!(first["fastener"] != second["fastener"], "each is for the bolt that was next");
    screen.read("[data-test='verdict']", "30.2 N·m").await?;
    ensure!(screen.see(field).await?.value().await?.as_deref() == Some(""), "nothing is left behind");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_screen_that_was_away_goes_on_after_the_last_entry_it_saw() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let mut rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    // Every live stream the page opens is written down.
    let script = "window.streams = []; const Real = EventSource;
        window.EventSource = class extends Real { constructor(url) { super(url); window.streams.push(String(url)) } }";
    let source = json!({ "source": script });
    screen.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", source).await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    let next = screen.see("[data-test='fastener']").await?.text().await?;
    let seen = get(&rigore, &format!("/api/builds/{build}")).await?["seq"].as_u64().context("a number")?;
    rigore.crash()?;
    screen.see("[data-test='away']").await?;
    rigore.start_again().await?;
    // Recorded elsewhere before this screen is connected again, or a moment after: it is seen either way.
    let command = &pull(&build, "bench-two", &next, "30")["command"];
    let url = rigore.url(&format!("/api/builds/{build}/commands"));
    let request =
        rigore_browser::client().post(url).header("cookie", "rigore=demonstration.bench-two").json(command);
    request.send().await?.error_for_status()?;
    screen.read("[data-test='verdict']", &next).await?;
    let streams = screen.driver.execute("return window.streams", vec![]).await?.json().clone();
    let streams: Vec<String> = serde_json::from_value(streams)?;
    ensure!(streams.last().is_some_and(|url| url.contains(&format!("after={seen}"))), "{streams:?}");
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_pull_that_the_database_holds_up_is_said_not_to_be_recorded_yet_and_is_recorded_once() -> Result<()>
{
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Tarn 5 no. 13").await?;
    let (before, _) = pulls(&rigore, &build, TIGHTEN).await?;
    screen.go(&rigore.url(&format!("/engines/{build}/bench/{TIGHTEN}"))).await?;
    screen.see("[data-test='fastener']").await?;
    // Somebody holds the row of this engine, as a hung client of the database would.
    let pool = sqlx::PgPool::connect(&scratch.url).await?;
    let mut holder = pool.begin().await?;
    let id: Uuid = build.parse()?;
    sqlx::query("SELECT 1 FROM builds WHERE id = $1 FOR UPDATE").bind(id).execute(&mut *holder).await?;
    screen.see("input[name='reading']").await?.send_keys("30 N·m").await?;
    let start = std::time::Instant::now();
    screen.line("").await?;
    screen.read("[data-test='not-recorded']", "Not recorded yet").await?;
    ensure!(start.elapsed() < Duration::from_secs(5), "said in {:?}", start.elapsed());
    holder.rollback().await?;
    screen.count("[data-test='not-recorded']", 0).await?;
    pulled(&rigore, &build, before + 1).await?;
    screen.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_engine_whose_record_was_changed_says_so_on_its_pages_and_is_exported_as_broken() -> Result<()> {
    let scratch = Scratch::demonstration().await?;
    let rigore = Rigore::start(&scratch.url).await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let build = rigore.engine("Ostra 11 no. 3").await?;
    let pool = sqlx::PgPool::connect(&scratch.url).await?;
    sqlx::raw_sql("ALTER TABLE events DISABLE TRIGGER events_stay").execute(&pool).await?;
    let id: Uuid = build.parse()?;
    let change = "UPDATE events SET body = body || ' ' WHERE build_id = $1 AND seq = 2";
    sqlx::query(change).bind(id).execute(&pool).await?;
    for page in ["", "/sheet", "/bench/measure-bores"] {
        screen.go(&rigore.url(&format!("/engines/{build}{page}"))).await?;
        screen.read("[data-test='broken-record']", "entry 2 does not match its hash").await?;
        screen.count("[data-test='away']", 0).await?;
    }
    screen.see("[data-test='broken-archive']").await?;
    screen.go(&rigore.url("/")).await?;
    screen.read("[data-test='Ostra 11 no. 3']", "Record damaged").await?;
    screen.close().await
}

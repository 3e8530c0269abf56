//! Work at the bench by keyboard alone: what is next is typed, and Enter pressed.

use anyhow::{Context, Result, ensure};
use rigore_browser::{Rigore, Screen};
use serde_json::Value;
use std::time::Duration;
use thirtyfour::Key;

pub(crate) async fn get(rigore: &Rigore, path: &str) -> Result<Value> {
    Ok(rigore_browser::get(rigore.url(path)).await?.error_for_status()?.json().await?)
}

pub(crate) async fn bench(rigore: &Rigore, build: &str, operation: &str) -> Result<Value> {
    get(rigore, &format!("/api/builds/{build}/operations/{operation}")).await
}

/// Waits until something more was recorded, for so many looks.
async fn recorded(
    rigore: &Rigore,
    (build, operation): (&str, &str),
    before: u64,
    looks: usize,
) -> Result<bool> {
    for _ in 0..looks {
        if bench(rigore, build, operation).await?["seq"].as_u64() > Some(before) {
            return Ok(true);
        }
        tokio::time::sleep(Duration::from_millis(40)).await;
    }
    Ok(false)
}

/// What the wrench shows at the target of the next pull: less than there is at a fastener beyond a crowfoot.
fn shown<'a>(step: &'a Value, work: &'a Value) -> &'a Value {
    let all = |list: &'a Value| list.as_array().into_iter().flatten();
    let joint = all(&work["joints"]).find(|joint| joint["id"] == step["joint"]);
    let mark = joint.and_then(|joint| all(&joint["fasteners"]).find(|mark| mark["id"] == step["fastener"]));
    let adapter = mark.map_or(&Value::Null, |mark| &mark["adapter"]);
    let reached = all(&work["tools"]).find(|ways| !adapter.is_null() && ways["adapter"] == *adapter);
    let tool = reached
        .and_then(|ways| all(&ways["tools"]).find(|tool| tool["suits"] == true && tool["fault"].is_null()));
    &tool.map_or(&step["target"], |tool| &tool["target"])["shown"]
}

/// What is typed for the next step.
fn typed(step: &Value, work: &Value, size: fn(&str) -> &'static str) -> Result<String> {
    Ok(match step["kind"].as_str().context("a step")? {
        "fit" => "As ordered".to_owned(),
        "count" => {
            let counts = work["counts"].as_array().context("counts")?;
            let line = counts.iter().find(|line| line["id"] == step["hardware"]).context("a kind")?;
            line["expected"].to_string()
        }
        "measure" => size(step["site"].as_str().context("a site")?).to_owned(),
        "loosen" => "0.000".to_owned(),
        "pull" if !step["asks"]["plain"].as_array().is_none_or(Vec::is_empty) => String::new(),
        // By its own friction the first torque falls short, and the second one is right.
        "pull" if !step["climb"].is_null() && step["asks"]["dimension"] == "length" => {
            let first = step["climb"]["points"].as_array().is_none_or(Vec::is_empty);
            if first { "0.118 mm" } else { "0.150 mm" }.to_owned()
        }
        "turn" => "2.5 N·m".to_owned(),
        "pull" => {
            let unit = match step["target"]["dimension"].as_str() {
                Some("torque") => " N·m",
                Some("length") => " mm",
                _ => "",
            };
            format!("{}{unit}", shown(step, work))
        }
        _ => String::new(),
    })
}

/// Does an operation to its end by keyboard alone and signs it.
pub(crate) async fn by_keyboard(
    screen: &Screen,
    rigore: &Rigore,
    (build, operation): (&str, &str),
    size: fn(&str) -> &'static str,
) -> Result<()> {
    for _ in 0..400 {
        let now = bench(rigore, build, operation).await?;
        let (seq, step) = (now["seq"].as_u64().context("a number")?, &now["step"]);
        if step["kind"] == "sign" {
            screen.see("[data-test='sign']:enabled").await.with_context(|| operation.to_owned())?;
            return screen.line("").await;
        }
        let text = typed(step, &now["work"], size)?;
        // A click wrench is set first; a key that says it all listens when the last answer was drawn.
        let clicks = now["work"]["tools"][0]["tools"][0]["click"]["is_set"] == false;
        if step["kind"] == "pull" && (clicks || text.is_empty()) {
            screen.see("[data-test='heard'][data-listens='true']").await?;
        }
        let mut done = false;
        for again in [false, true, true, true] {
            // What was typed while the step before was still shown belongs to that one: it is let go.
            if again && step["kind"] == "pull" {
                screen.keys(&char::from(Key::Escape).to_string()).await?;
            }
            if clicks {
                screen.line("").await?;
            } else {
                screen.select_all().await.ok();
                screen.line(&text).await?;
            }
            // A key that says it all is not heard right after another one: it is pressed again sooner.
            let looks = if text.is_empty() { 24 } else { 60 };
            if recorded(rigore, (build, operation), seq, looks).await? {
                done = true;
                break;
            }
        }
        ensure!(done, "{operation}: nothing came of `{text}` for {step:#}");
    }
    anyhow::bail!("{operation} has no end")
}

/// Waits until an operation is signed, or gone on from where its repeat is signed as one.
pub(crate) async fn signed(rigore: &Rigore, build: &str, operation: &str) -> Result<()> {
    for _ in 0..100 {
        let now = bench(rigore, build, operation).await?;
        if !now["operation"]["signed_by"].is_null() || now["goes_on"] == true {
            return Ok(());
        }
        tokio::time::sleep(Duration::from_millis(40)).await;
    }
    anyhow::bail!("{operation} was not signed")
}

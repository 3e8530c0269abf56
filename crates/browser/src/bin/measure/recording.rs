//! Recording over HTTP, held against what the database itself can do; opening a long record.

use crate::load::LoadClient;
use crate::pgbench::Pgbench;
use crate::table::{Aim, ResultTable, ms, percentile};
use anyhow::{Result, anyhow};
use rigore_browser::Rigore;
use serde_json::json;
use std::path::Path;
use std::time::{Duration, Instant};
use uuid::Uuid;

const CLIENTS: usize = 8;
/// Rigore and `pgbench` take turns, so that both meet the same disk.
const ROUNDS: usize = 4;
const ROUND: Duration = Duration::from_secs(4);
/// Readings recorded on one engine.
const READINGS: usize = 1500;

/// Pulls by eight at once, each on an engine of its own; then one engine of 3,000 entries.
pub async fn measure(table: &mut ResultTable, rigore: &Rigore, url: &str, folder: &Path) -> Result<()> {
    let mut hands = Vec::new();
    for _ in 0..CLIENTS {
        hands.push(LoadClient::begin(rigore).await?);
    }
    let pgbench = Pgbench::prepare(url, folder)?;
    let (mut rates, mut bases, mut shares) = (Vec::new(), Vec::new(), Vec::new());
    let (mut times, mut base_times) = (Vec::new(), Vec::new());
    let mut cpu = Duration::ZERO;
    for _ in 0..ROUNDS {
        let before = rigore.cpu()?;
        let (rate, took);
        (hands, rate, took) = tokio::task::block_in_place(|| round(hands))?;
        cpu += rigore.cpu()?.saturating_sub(before);
        times.extend(took);
        let (base, took) = tokio::task::block_in_place(|| pgbench.run(CLIENTS, ROUND))?;
        base_times.extend(took);
        rates.push(rate);
        bases.push(base);
        shares.push(rate / base);
    }
    let pulls = u32::try_from(times.len())?;
    let (p99, base_p99) = (percentile(&mut times, 99), percentile(&mut base_times, 99));
    table.row("pulls over HTTP by 8 at once, a second", percentile(&mut rates, 50), Aim::Told);
    table.row("the same rows by pgbench with 8 clients, a second", percentile(&mut bases, 50), Aim::Told);
    table.row("  pulls as a share of that", percentile(&mut shares, 50), Aim::AtLeast(0.5));
    table.row("one pull, median, ms", percentile(&mut times, 50), Aim::Told);
    table.row("one write by pgbench, p99, ms", base_p99, Aim::Told);
    table.row("  one pull, p99, as a multiple of that", p99 / base_p99, Aim::AtMost(2.0));
    table.row("processor time of the server for a pull, ms", ms(cpu / pulls), Aim::AtMost(0.15));
    opening(table, rigore, &mut hands[0]).await
}

/// Everybody pulls for a while: pulls a second, and how long each took, in milliseconds.
fn round(hands: Vec<LoadClient>) -> Result<(Vec<LoadClient>, f64, Vec<f64>)> {
    let start = Instant::now();
    let pulling = hands.into_iter().map(|mut hand| {
        std::thread::spawn(move || {
            let mut times = Vec::new();
            while start.elapsed() < ROUND {
                let start = Instant::now();
                hand.pull()?;
                times.push(ms(start.elapsed()));
            }
            anyhow::Ok((hand, times))
        })
    });
    let (mut hands, mut times) = (Vec::new(), Vec::new());
    for pulls in pulling.collect::<Vec<_>>() {
        let (hand, took) = pulls.join().map_err(|_| anyhow!("somebody stopped pulling"))??;
        hands.push(hand);
        times.extend(took);
    }
    Ok((hands, f64::from(u32::try_from(times.len())?) / start.elapsed().as_secs_f64(), times))
}

async fn opening(table: &mut ResultTable, rigore: &Rigore, hand: &mut LoadClient) -> Result<()> {
    let page = rigore.url(&format!("/api/builds/{}", hand.build));
    let seq = || async {
        let view: serde_json::Value = rigore_browser::get(&page).await?.json().await?;
        anyhow::Ok(view["seq"].as_u64().unwrap_or_default())
    };
    for _ in seq().await?..3000 {
        hand.pull()?;
    }
    let client = rigore_browser::client();
    let mut times = Vec::new();
    for _ in 0..200 {
        let start = Instant::now();
        client.get(&page).send().await?.bytes().await?;
        times.push(ms(start.elapsed()));
    }
    table.row(
        "opening an engine of 3,000 entries or more, p95, ms",
        percentile(&mut times, 95),
        Aim::AtMost(25.0),
    );
    Ok(())
}

/// Readings one after the other, as a gauge that types gives them. Gives the engine.
pub async fn readings(table: &mut ResultTable, rigore: &Rigore) -> Result<Uuid> {
    let (build, mut times) = entries(rigore, READINGS).await?;
    table.row("a reading there and back, p95, ms", percentile(&mut times, 95), Aim::AtMost(15.0));
    Ok(build)
}

/// An engine with so many readings, and how long each took, ms.
pub async fn entries(rigore: &Rigore, many: usize) -> Result<(Uuid, Vec<f64>)> {
    let mut hand = LoadClient::begin(rigore).await?;
    let mut times = Vec::new();
    for n in 0..many {
        let what = json!({"type": "measure", "operation": "mains-measure", "site": format!("main-journal-{}", n % 6 + 1),
            "place": n % 4, "text": "54.990", "method": "typed", "instrument": "micrometer"});
        let start = Instant::now();
        hand.give(&what)?;
        times.push(ms(start.elapsed()));
    }
    Ok((hand.build, times))
}

//! Measures Rigore and prints a table: what was measured, its value, the aim, and whether it was met.
//! `measure PART` measures only one part of it: computing, mangled, recording, whole, plans, day, shop,
//! failover or network. Failover and network are measured by themselves only.

mod bare;
mod computing;
mod day;
mod failover;
mod load;
mod mangled;
mod network;
mod pages;
mod pgbench;
mod plans;
mod psql;
mod recording;
mod shop;
mod table;
mod whole;

use anyhow::{Result, ensure};
use rigore_browser::Rigore;
use rigore_store::cluster::Cluster;
use std::time::Instant;
use table::{Aim, ResultTable, ms};

/// What the server runs on.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// What can be measured by itself.
const PARTS: [&str; 9] =
    ["computing", "mangled", "recording", "whole", "plans", "day", "shop", "failover", "network"];

#[tokio::main]
async fn main() -> Result<()> {
    let only = std::env::args().nth(1);
    if only.as_deref() == Some(bare::SERVE) {
        let [url, entry] = [2, 3].map(|at| std::env::args().nth(at).unwrap_or_default());
        return bare::serve(&url, entry.parse()?).await;
    }
    if let Some(only) = &only {
        ensure!(PARTS.contains(&only.as_str()), "`{only}` is no part; there is {}", PARTS.join(", "));
    }
    let wants = |part: &str| only.as_deref().is_none_or(|only| only == part);
    let mut table = ResultTable::begin();
    if wants("computing") {
        computing::measure(&mut table);
    }
    if wants("mangled") {
        mangled::measure(&mut table, std::env::args().nth(2).map_or(Ok(20_000), |cases| cases.parse())?);
    }
    if matches!(only.as_deref(), Some("computing" | "mangled")) {
        table.end();
        return Ok(());
    }

    if let Some(apart @ ("failover" | "network")) = only.as_deref() {
        if apart == "failover" {
            failover::measure(&mut table).await?;
        } else {
            let minutes = std::env::args().nth(2).map_or(Ok(10), |minutes| minutes.parse())?;
            network::measure(&mut table, minutes).await?;
        }
        table.end();
        return Ok(());
    }

    let folder = tempfile::Builder::new().prefix("rigore-measure").tempdir()?;
    let cluster = Cluster::start(folder.path())?;
    let url = cluster.url();
    let mut rigore = Rigore::start(&url).await?;
    rigore.crash()?;
    let start = Instant::now();
    rigore.start_again().await?;
    table.row("ready on a warm database, ms", ms(start.elapsed()), Aim::AtMost(1000.0));
    table.row("memory with the demo shop, MB", rigore.memory_mb()?, Aim::AtMost(60.0));
    let empty = pages::Empty::measure(&mut table, &rigore).await?;
    if wants("recording") {
        recording::measure(&mut table, &rigore, (&url, folder.path()), empty).await?;
        let build = recording::readings(&mut table, &rigore, empty).await?;
        pages::pulls(&mut table, &rigore).await?;
        pages::engine(&mut table, &rigore, &build, empty).await?;
    }
    if wants("whole") {
        whole::measure(&mut table, &rigore, empty).await?;
    }
    if wants("plans") {
        plans::measure(&mut table, &rigore).await?;
    }
    if wants("day") {
        day::measure(&mut table, &rigore, &url, empty).await?;
    }
    if wants("shop") {
        shop::measure(&mut table, &rigore, &url, empty).await?;
    }
    table.row("memory after all that, MB", rigore.memory_mb()?, Aim::Told);
    table.end();
    Ok(())
}

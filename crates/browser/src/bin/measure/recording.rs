//! Recording over HTTP, held against a bare handler on the same stack; opening a long record.

use crate::bare::{BUILDS, BareClient, BareServer, RowSizes};
use crate::load::LoadClient;
use crate::pages::Empty;
use crate::pgbench::Pgbench;
use crate::psql::psql;
use crate::table::{Aim, ResultTable, Yardstick, ms, percentile};
use anyhow::{Result, anyhow};
use rigore_browser::Rigore;
use serde_json::json;
use std::path::Path;
use std::time::{Duration, Instant};
use uuid::Uuid;

const CLIENTS: usize = 8;
/// Rigore, the bare handler and `pgbench` take turns, so that all meet the same disk.
const ROUNDS: usize = 4;
const ROUND: Duration = Duration::from_secs(4);
/// Readings recorded on one engine.
const READINGS: usize = 1500;

/// Pulls by eight at once, each on an engine of its own; then one engine of 3,000 entries.
pub async fn measure(
    table: &mut ResultTable,
    rigore: &Rigore,
    (url, folder): (&str, &Path),
    empty: Empty,
) -> Result<()> {
    let mut hands = Vec::new();
    for _ in 0..CLIENTS {
        let mut hand = LoadClient::begin(rigore).await?;
        hand.pull()?;
        hands.push(hand);
    }
    let sizes = RowSizes::of_pulls(url).await?;
    psql(url, &[&sizes.tables()])?;
    let pgbench = Pgbench::prepare(url, folder, sizes)?;
    let bare = BareServer::start(url, sizes)?;
    let mut senders =
        (0..CLIENTS).map(|build| bare.client(BUILDS - 1 - build)).collect::<Result<Vec<_>>>()?;
    let (mut own, mut bare_handler, mut bases) = (Rounds::default(), Rounds::default(), Rounds::default());
    for _ in 0..ROUNDS {
        let cpu = || rigore.cpu();
        hands = tokio::task::block_in_place(|| own.run(hands, LoadClient::pull, &cpu))?;
        let cpu = || bare.cpu();
        senders = tokio::task::block_in_place(|| bare_handler.run(senders, BareClient::pull, &cpu))?;
        let (base, took) = tokio::task::block_in_place(|| pgbench.run(CLIENTS, ROUND))?;
        bases.rates.push(base);
        bases.times.extend(took);
    }
    let bare = |value| Yardstick { name: "a bare handler", value };
    let pgbench = |value| Yardstick { name: "pgbench", value };
    let rate = percentile(&mut own.rates, 50);
    let bare_rate = bare(percentile(&mut bare_handler.rates, 50));
    table.row("pulls over HTTP by 8 at once, a second", rate, Aim::Share(0.9, bare_rate));
    let base = pgbench(percentile(&mut bases.rates, 50));
    table.row("  the same beside the same rows by pgbench", rate, Aim::Share(0.5, base));
    let median = bare(percentile(&mut bare_handler.times, 50));
    table.row("one pull, median, ms", percentile(&mut own.times, 50), Aim::Times(1.1, median));
    let p99 = percentile(&mut own.times, 99);
    table.row("one pull, p99, ms", p99, Aim::Times(1.0, bare(percentile(&mut bare_handler.times, 99))));
    let base = pgbench(percentile(&mut bases.times, 99));
    table.row("  the same beside one write by pgbench", p99, Aim::Times(2.0, base));
    let cpu = bare(bare_handler.cpu_ms()?);
    table.row("processor time of the server for a pull, ms", own.cpu_ms()?, Aim::Times(1.1, cpu));
    opening(table, rigore, &mut hands[0], empty).await
}

/// Rounds of one kind: how many a second in each, how long every one took, ms, and the processor time of the server.
#[derive(Debug, Default)]
struct Rounds {
    rates: Vec<f64>,
    times: Vec<f64>,
    cpu: Duration,
}

impl Rounds {
    /// Everybody pulls for a while.
    fn run<C: Send + 'static>(
        &mut self,
        clients: Vec<C>,
        pull: fn(&mut C) -> Result<()>,
        cpu: &dyn Fn() -> Result<Duration>,
    ) -> Result<Vec<C>> {
        let before = cpu()?;
        let clients = self.pull(clients, pull)?;
        self.cpu += cpu()?.saturating_sub(before);
        Ok(clients)
    }

    /// Processor time of the server for one pull, ms.
    fn cpu_ms(&self) -> Result<f64> {
        Ok(ms(self.cpu / u32::try_from(self.times.len())?))
    }

    fn pull<C: Send + 'static>(&mut self, clients: Vec<C>, pull: fn(&mut C) -> Result<()>) -> Result<Vec<C>> {
        let start = Instant::now();
        let pulling = clients.into_iter().map(|mut client| {
            std::thread::spawn(move || {
                let mut times = Vec::new();
                while start.elapsed() < ROUND {
                    let start = Instant::now();
                    pull(&mut client)?;
                    times.push(ms(start.elapsed()));
                }
                anyhow::Ok((client, times))
            })
        });
        let mut clients = Vec::new();
        let before = self.times.len();
        for pulls in pulling.collect::<Vec<_>>() {
            let (client, took) = pulls.join().map_err(|_| anyhow!("somebody stopped pulling"))??;
            clients.push(client);
            self.times.extend(took);
        }
        let pulls = u32::try_from(self.times.len() - before)?;
        self.rates.push(f64::from(pulls) / start.elapsed().as_secs_f64());
        Ok(clients)
    }
}

async fn opening(
    table: &mut ResultTable,
    rigore: &Rigore,
    hand: &mut LoadClient,
    empty: Empty,
) -> Result<()> {
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
        Aim::Beyond(20.0, empty.answer),
    );
    Ok(())
}

/// Readings one after the other, as a gauge that types gives them. Gives the engine.
pub async fn readings(table: &mut ResultTable, rigore: &Rigore, empty: Empty) -> Result<Uuid> {
    let (build, mut times) = entries(rigore, READINGS).await?;
    table.row(
        "a reading there and back, p95, ms",
        percentile(&mut times, 95),
        Aim::Beyond(10.0, empty.answer),
    );
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

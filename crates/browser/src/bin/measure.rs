//! Measures the running server and prints a table: recording against pgbench, opening, memory,
//! start, first page.

use anyhow::{Context, Result};
use reqwest::Client;
use rigore_browser::{Browser, Rigore};
use rigore_store::cluster::Cluster;
use serde_json::{Value, json};
use std::fs;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

const CLIENTS: usize = 8;
const RECORDING: Duration = Duration::from_secs(12);
const OPERATION: &str = "main-caps-tighten";
/// Readings recorded on one engine.
const READINGS: usize = 1500;
/// What `pgbench` repeats: the same two rows of the same sizes in one statement.
const SCRIPT: &str = "\\set b :client_id
WITH went_on AS (
  UPDATE bench_builds SET seq = seq + 1, summary = summary WHERE id = :b RETURNING id, seq
)
INSERT INTO bench_events SELECT id, seq, repeat('x', 620), decode(repeat('ab', 32), 'hex') FROM went_on;
";

#[tokio::main]
async fn main() -> Result<()> {
    let folder = tempfile::Builder::new().prefix("rigore-measure").tempdir()?;
    let cluster = Cluster::start(folder.path())?;
    let url = cluster.url();
    row("measure", "value", "aim");

    let mut rigore = Rigore::start(&url).await?;
    rigore.crash()?;
    let start = Instant::now();
    rigore.start_again().await?;
    row("ready on a warm database", &format!("{:.0} ms", ms(start.elapsed())), "under 1000 ms");
    row("memory of the server with demo data", &format!("{:.1} MB", memory(rigore.pid())?), "under 60 MB");
    first_page(&rigore).await?;

    let (rate, median, p99) = record(&rigore).await?;
    row("pulls recorded over HTTP, 8 clients", &format!("{rate:.0} /s"), "");
    row("  one pull, median", &format!("{median:.2} ms"), "");
    row("  one pull, p99", &format!("{p99:.2} ms"), "");
    match pgbench(&url, folder.path())? {
        Some(base) => {
            row("the same inserts by pgbench, 8 clients", &format!("{base:.0} /s"), "");
            row("  Rigore's share of it", &format!("{:.2}", rate / base), "0.6 or better");
        }
        None => row("the same inserts by pgbench", "no pgbench", "apt-get install postgresql-contrib"),
    }
    open(&rigore).await?;
    let build = readings(&rigore).await?;
    engine_page(&rigore, &build).await?;
    row("memory of the server after all that", &format!("{:.1} MB", memory(rigore.pid())?), "");
    Ok(())
}

fn row(what: &str, value: &str, aim: &str) {
    println!("{what:46} {value:>12}  {aim}");
}

fn ms(duration: Duration) -> f64 {
    duration.as_secs_f64() * 1000.0
}

/// Resident memory of a process, MB.
fn memory(pid: u32) -> Result<f64> {
    let status = fs::read_to_string(format!("/proc/{pid}/status"))?;
    let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:")).context("VmRSS")?;
    Ok(line.trim().trim_end_matches(" kB").trim().parse::<f64>()? / 1024.0)
}

/// Script that the first page loads, compressed.
async fn first_page(rigore: &Rigore) -> Result<()> {
    let client = Client::new();
    let page = client.get(rigore.url("/")).send().await?.text().await?;
    let mut files: Vec<String> = Vec::new();
    for part in page.split('"').filter(|part| part.starts_with("/assets/") && part.ends_with(".js")) {
        files.push(part.to_owned());
    }
    // The shop page's own chunk is loaded by the router.
    for entry in fs::read_dir("web/dist/assets")?.flatten() {
        let name = entry.file_name().to_string_lossy().into_owned();
        let of_shop = ["ShopPage", "SheetDialog", "StateMark"].iter().any(|part| name.starts_with(part));
        let path = format!("/assets/{name}");
        if of_shop && name.ends_with(".js") && !files.contains(&path) {
            files.push(path);
        }
    }
    let mut bytes = 0;
    for file in &files {
        let request = client.get(rigore.url(file)).header("accept-encoding", "gzip");
        bytes += request.send().await?.bytes().await?.len();
    }
    row("script of the first page, gzip", &format!("{:.1} kB", bytes as f64 / 1000.0), "under 130 kB");
    Ok(())
}

async fn begin(client: &Client, rigore: &Rigore, n: usize) -> Result<String> {
    let plans: Value = client.get(rigore.url("/api/plans")).send().await?.json().await?;
    let id = format!("00000000-0000-7000-8000-{n:012}");
    let tarn = plans.as_array().and_then(|plans| plans.iter().find(|plan| plan["id"] == "tarn-5"));
    let tarn = tarn.context("the plan of the Tarn 5")?;
    let body = json!({"id": id, "name": format!("Measure {n}"), "plan": tarn["hash"]});
    let request = client.post(rigore.url("/api/builds")).header("x-rigore-person", "lead");
    request.json(&body).send().await?.error_for_status()?;
    // Everything before the bolts is left out by a lead, so that a pull is an ordinary one.
    let build: Value = client.get(rigore.url(&format!("/api/builds/{id}"))).send().await?.json().await?;
    let line = build["operations"].as_array().context("operations")?;
    for operation in line.iter().filter_map(|operation| operation["id"].as_str()) {
        if operation == OPERATION {
            break;
        }
        let skip = json!({"type": "skip", "operation": operation, "reason": "done elsewhere"});
        give(client, rigore, &id, skip).await?;
    }
    Ok(id)
}

async fn give(client: &Client, rigore: &Rigore, build: &str, what: Value) -> Result<()> {
    let body = json!({"id": uuid::Uuid::now_v7(), "seen": 1_u64 << 40, "do": what});
    let request = client.post(rigore.url(&format!("/api/builds/{build}/commands")));
    request.header("x-rigore-person", "lead").json(&body).send().await?.error_for_status()?;
    Ok(())
}

async fn pull(client: &Client, rigore: &str, build: &str, id: String) -> Result<()> {
    let body = json!({"id": id, "seen": 1_u64 << 40, "do": {"type": "pull", "operation": OPERATION, "stage": 0,
        "fastener": "3L", "reading": {"text": "30"}, "method": "typed", "instrument": "wrench-2"}});
    let url = format!("{rigore}/api/builds/{build}/commands");
    client.post(url).header("x-rigore-person", "lead").json(&body).send().await?.error_for_status()?;
    Ok(())
}

/// Rate, median and p99 of recording pulls, each client on an engine of its own.
async fn record(rigore: &Rigore) -> Result<(f64, f64, f64)> {
    let client = Client::new();
    let base = rigore.url("");
    let mut tasks = Vec::new();
    let end = Instant::now() + RECORDING;
    for n in 1..=CLIENTS {
        let build = begin(&client, rigore, n).await?;
        let (client, base) = (client.clone(), base.clone());
        tasks.push(tokio::spawn(async move {
            let mut times = Vec::new();
            while Instant::now() < end {
                let start = Instant::now();
                let id = format!("00000000-0000-7000-{n:04}-{:012}", times.len());
                pull(&client, &base, &build, id).await?;
                times.push(ms(start.elapsed()));
            }
            anyhow::Ok(times)
        }));
    }
    let mut times = Vec::new();
    for task in tasks {
        times.extend(task.await??);
    }
    times.sort_by(f64::total_cmp);
    let at = |share: f64| times[((times.len() - 1) as f64 * share) as usize];
    Ok((times.len() as f64 / RECORDING.as_secs_f64(), at(0.5), at(0.99)))
}

/// Transactions a second of `pgbench` doing the same inserts on the same server.
fn pgbench(url: &str, folder: &Path) -> Result<Option<f64>> {
    let program = fs::read_dir("/usr/lib/postgresql")?
        .flatten()
        .map(|v| v.path().join("bin/pgbench"))
        .find(|p| p.exists());
    let Some(program) = program else { return Ok(None) };
    let sql = "CREATE TABLE bench_builds (id int PRIMARY KEY, seq bigint NOT NULL, summary jsonb NOT NULL);
        CREATE TABLE bench_events (build_id int, seq bigint, body text, hash bytea, PRIMARY KEY (build_id, seq));
        INSERT INTO bench_builds SELECT n, 0, jsonb_build_object('text', repeat('s', 360)) FROM generate_series(0, 7) n";
    let made = Command::new("psql").args([url, "-q", "-c", sql]).stdout(Stdio::null()).status()?;
    anyhow::ensure!(made.success(), "making the tables of pgbench");
    let script = folder.join("inserts.sql");
    fs::write(&script, SCRIPT)?;
    let seconds = RECORDING.as_secs().to_string();
    let output = Command::new(program)
        .args(["-n", "-M", "prepared", "-c", &CLIENTS.to_string(), "-j", "2", "-T", &seconds, "-f"])
        .arg(&script)
        .arg(url)
        .output()?;
    let text = String::from_utf8_lossy(&output.stdout).into_owned();
    let rate =
        text.lines().find_map(|line| line.strip_prefix("tps = ")).and_then(|rest| rest.split(' ').next());
    Ok(Some(rate.with_context(|| text.clone())?.parse()?))
}

/// Opening an engine of 3,000 entries.
async fn open(rigore: &Rigore) -> Result<()> {
    let client = Client::new();
    let build = begin(&client, rigore, 99).await?;
    for n in 0..2998 {
        pull(&client, &rigore.url(""), &build, format!("00000000-0000-7000-9999-{n:012}")).await?;
    }
    let mut times = Vec::new();
    for _ in 0..200 {
        let start = Instant::now();
        client.get(rigore.url(&format!("/api/builds/{build}"))).send().await?.bytes().await?;
        times.push(ms(start.elapsed()));
    }
    times.sort_by(f64::total_cmp);
    row("opening an engine of 3,000 entries, p95", &format!("{:.2} ms", times[189]), "under 25 ms");
    Ok(())
}

/// Recording readings one after the other, as a gauge that types does. Gives the build.
async fn readings(rigore: &Rigore) -> Result<String> {
    let client = Client::new();
    let build = begin(&client, rigore, 98).await?;
    let mut times = Vec::new();
    for n in 0..READINGS {
        let what = json!({"type": "measure", "operation": "mains-measure", "site": format!("main-journal-{}", n % 6 + 1),
            "place": n % 4, "text": "54.990", "method": "typed", "instrument": "micrometer"});
        let start = Instant::now();
        give(&client, rigore, &build, what).await?;
        times.push(ms(start.elapsed()));
    }
    times.sort_by(f64::total_cmp);
    let p95 = times[(times.len() - 1) * 95 / 100];
    row("a reading there and back, p95", &format!("{p95:.2} ms"), "under 15 ms");
    Ok(build)
}

/// Opening the page of an engine with many facts: from the start of the navigation to the first
/// picture that has the whole line of work in it.
async fn engine_page(rigore: &Rigore, build: &str) -> Result<()> {
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let script = "new MutationObserver((_, observer) => {
        if (!document.querySelector('[data-test=sign-off]')) return
        observer.disconnect()
        requestAnimationFrame(() => setTimeout(() => (window.drawn = performance.now())))
    }).observe(document, { childList: true, subtree: true })";
    let source = json!({ "source": script });
    screen.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", source).await?;
    let mut times = Vec::new();
    for _ in 0..21 {
        screen.go(&rigore.url(&format!("/engines/{build}"))).await?;
        screen.see("[data-test='sign-off']").await?;
        tokio::time::sleep(Duration::from_millis(100)).await;
        let drawn = screen.driver.execute("return window.drawn", vec![]).await?;
        times.push(drawn.json().as_f64().context("the page was never drawn")?);
    }
    times.sort_by(f64::total_cmp);
    let (median, worst) = (times[times.len() / 2], times[times.len() - 1]);
    row(&format!("engine page of {READINGS} facts, first drawn"), &format!("{median:.0} ms"), "under 300 ms");
    row("  the slowest of 21", &format!("{worst:.0} ms"), "");
    screen.close().await
}

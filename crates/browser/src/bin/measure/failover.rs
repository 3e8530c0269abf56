//! The loss of a database's machine: two PostgreSQL on loopback, the second one following the first; the first is killed
//! for good in the middle of recording, and the second one is promoted. The commands are those of docs/running.md.

use crate::load::LoadClient;
use crate::table::{Aim, ResultTable};
use anyhow::{Context, Result, ensure};
use rigore_browser::Rigore;
use rigore_store::{Store, cluster};
use serde_json::Value;
use std::fs;
use std::net::TcpListener;
use std::os::unix::fs::PermissionsExt;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::thread;
use std::time::{Duration, Instant};
use uuid::Uuid;

/// People who record, each on an engine of their own.
const PEOPLE: usize = 8;
/// How long they record before the machine is lost, and after recording went on.
const BEFORE: Duration = Duration::from_secs(8);
const AFTER: Duration = Duration::from_secs(8);
/// How long nothing may be recorded.
const MOST: Duration = Duration::from_secs(30);
const AGAIN: Duration = Duration::from_millis(200);
const PASSWORD: &str = "of this measurement only";

/// A PostgreSQL on loopback. It ends with this.
struct Machine {
    data: PathBuf,
    port: u16,
}

impl Machine {
    fn at(data: PathBuf) -> Result<Self> {
        let port = TcpListener::bind("127.0.0.1:0")?.local_addr()?.port();
        Ok(Self { data, port })
    }

    fn program(&self, name: &str) -> Result<Command> {
        let mut command = cluster::program(name, &self.data)?;
        command.env("PGPASSWORD", PASSWORD);
        Ok(command)
    }

    fn start(&self, name: &str) -> Result<()> {
        let options = format!(
            "-p {} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c cluster_name={name}",
            self.port
        );
        let log = self.data.join("server.log");
        let mut start = self.program("pg_ctl")?;
        start.arg("-D").arg(&self.data).arg("-l").arg(log).args(["-w", "-s", "-o", &options, "start"]);
        ran(&mut start)
    }

    /// Runs statements in a database of it, as its superuser, and gives what they say.
    fn psql(&self, database: &str, statements: &[&str]) -> Result<String> {
        let mut psql = self.program("psql")?;
        let port = self.port.to_string();
        psql.args(["-h", "127.0.0.1", "-p", &port, "-U", "postgres", "-d", database, "-qAt"]);
        for statement in statements {
            psql.args(["-c", statement]);
        }
        let output = psql.output()?;
        ensure!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
        Ok(String::from_utf8(output.stdout)?.trim().to_owned())
    }

    /// Kills it as a power cut would, and takes its disk away.
    fn lose(&self) -> Result<()> {
        let pid = fs::read_to_string(self.data.join("postmaster.pid"))?;
        let pid = pid.lines().next().context("its number")?.to_owned();
        ran(Command::new("kill").args(["-KILL", &pid]))?;
        while Path::new("/proc").join(&pid).exists() {
            thread::sleep(Duration::from_millis(20));
        }
        Ok(fs::rename(&self.data, self.data.with_extension("lost"))?)
    }
}

impl Drop for Machine {
    fn drop(&mut self) {
        if self.data.exists()
            && let Ok(mut stop) = self.program("pg_ctl")
        {
            // At the end there is nobody left to tell.
            let _ = stop.arg("-D").arg(&self.data).args(["-s", "-m", "immediate", "stop"]).status();
        }
    }
}

fn ran(command: &mut Command) -> Result<()> {
    let output = command.stdout(Stdio::null()).stderr(Stdio::null()).status()?;
    ensure!(output.success(), "{command:?}");
    Ok(())
}

/// The first machine, and the second one that follows it and is waited for by every commit.
fn machines(folder: &Path) -> Result<(Machine, Machine)> {
    let primary = Machine::at(folder.join("primary"))?;
    let password = folder.join("password");
    fs::write(&password, PASSWORD)?;
    fs::set_permissions(&password, fs::Permissions::from_mode(0o644))?;
    let mut initdb = primary.program("initdb")?;
    initdb.arg("-D").arg(&primary.data).args(["-U", "postgres", "-A", "scram-sha-256", "-E", "UTF8"]);
    ran(initdb.arg("--pwfile").arg(&password))?;
    primary.start("primary")?;
    let role = |of: &str| format!("CREATE ROLE {of} PASSWORD '{PASSWORD}'");
    let (shop, follower) = (role("rigore LOGIN"), role("follower REPLICATION LOGIN"));
    primary.psql("postgres", &[&shop, &follower, "CREATE DATABASE rigore OWNER rigore"])?;

    let standby = Machine::at(folder.join("standby"))?;
    let mut copy = standby.program("pg_basebackup")?;
    let port = primary.port.to_string();
    copy.args([
        "-h",
        "127.0.0.1",
        "-p",
        &port,
        "-U",
        "follower",
        "-c",
        "fast",
        "-R",
        "-C",
        "-S",
        "standby",
        "-D",
    ]);
    ran(copy.arg(&standby.data))?;
    standby.start("standby")?;
    let waits = "ALTER SYSTEM SET synchronous_standby_names = 'standby'";
    primary.psql("postgres", &[waits, "SELECT pg_reload_conf()"])?;
    let start = Instant::now();
    while primary.psql("postgres", &["SELECT sync_state FROM pg_stat_replication"])? != "sync" {
        ensure!(start.elapsed() < MOST, "the second machine does not follow");
        thread::sleep(AGAIN);
    }
    Ok((primary, standby))
}

/// What one person was told is recorded: each command, and when.
type Acknowledged = Vec<(Uuid, Instant)>;

/// Somebody who sends one pull after the other, each until it is answered.
fn record(hand: &mut LoadClient, end: &AtomicBool) -> Result<Acknowledged> {
    let mut acknowledged = Vec::new();
    while !end.load(Ordering::Relaxed) {
        let command = Uuid::now_v7();
        let start = Instant::now();
        while !hand.pull_as(command).unwrap_or_default() {
            ensure!(start.elapsed() < 2 * MOST, "nothing is recorded any more");
            thread::sleep(AGAIN);
        }
        acknowledged.push((command, Instant::now()));
    }
    Ok(acknowledged)
}

/// Measures how long nothing can be recorded, and what was lost.
pub async fn measure(table: &mut ResultTable) -> Result<()> {
    let folder = tempfile::Builder::new().prefix("rigore-failover").tempdir()?;
    fs::set_permissions(folder.path(), fs::Permissions::from_mode(0o777))?;
    let (primary, standby) = machines(folder.path())?;
    let url = format!(
        "postgres://rigore:{}@127.0.0.1:{},127.0.0.1:{}/rigore",
        PASSWORD.replace(' ', "%20"),
        primary.port,
        standby.port
    );
    let rigore = Rigore::start(&url).await?;
    let mut hands = Vec::new();
    for _ in 0..PEOPLE {
        hands.push(LoadClient::begin(&rigore).await?);
    }
    let end = Arc::new(AtomicBool::new(false));
    let people = hands.into_iter().map(|mut hand| {
        let end = Arc::clone(&end);
        thread::spawn(move || record(&mut hand, &end).map(|acknowledged| (hand.build, acknowledged)))
    });
    let people: Vec<_> = people.collect();
    tokio::time::sleep(BEFORE).await;
    let lost = Instant::now();
    primary.lose()?;
    ran(standby.program("pg_ctl")?.arg("-D").arg(&standby.data).args(["-w", "-s", "promote"]))?;
    let promoted = lost.elapsed();
    tokio::time::sleep(AFTER + MOST / 3).await;
    end.store(true, Ordering::Relaxed);
    let mut acknowledged = Vec::new();
    for person in people {
        acknowledged.push(person.join().map_err(|_| anyhow::anyhow!("somebody stopped recording"))??);
    }
    let gap = |of: &Acknowledged| {
        let after = of.iter().map(|(_, at)| *at).filter(|at| *at > lost + promoted).min();
        after.map_or(MOST * 9, |at| at - lost)
    };
    let longest = acknowledged.iter().map(|(_, of)| gap(of)).max().context("somebody")?;
    let all: usize = acknowledged.iter().map(|(_, of)| of.len()).sum();
    let before: usize =
        acknowledged.iter().map(|(_, of)| of.iter().filter(|(_, at)| *at <= lost).count()).sum();

    let store = Store::connect(&url, 2).await?;
    let (mut missing, mut doubled) = (0, 0);
    for (build, of) in &acknowledged {
        let entries = store.events(*build).await?;
        for (command, _) in of {
            match entries.iter().filter(|entry| entry.command == *command).count() {
                0 => missing += 1,
                1 => {}
                _ => doubled += 1,
            }
        }
    }
    let (_, entries, broken) = store.verify().await?;
    ensure!(broken.is_empty(), "{broken:?}");
    store.close().await;
    let told = rigore_browser::get(rigore.url("/api/shop?limit=1")).await?.json::<Value>().await?;
    ensure!(told["builds"].is_array(), "{told}");
    table.row("pulls acknowledged before the machine was lost", count(before), Aim::AtLeast(100.0));
    table.row("  and after another one was promoted", count(all - before), Aim::AtLeast(100.0));
    table.row("entries verified at the end", count(usize::try_from(entries)?), Aim::Told);
    table.row("acknowledged pulls that are lost", count(missing), Aim::AtMost(0.0));
    table.row("acknowledged pulls that are there twice", count(doubled), Aim::AtMost(0.0));
    table.row("promoting the other machine, s", promoted.as_secs_f64(), Aim::Told);
    table.row("until everybody recorded again, s", longest.as_secs_f64(), Aim::AtMost(MOST.as_secs_f64()));
    Ok(())
}

#[expect(clippy::cast_precision_loss, reason = "a count of pulls")]
fn count(of: usize) -> f64 {
    of as f64
}

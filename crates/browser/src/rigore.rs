//! A server process.

use anyhow::{Context, Result, bail, ensure};
use nix::sys::signal::{Signal, kill};
use nix::unistd::Pid;
use std::fs;
use std::io::{BufRead, BufReader};
use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// How long a server may take to be ready.
const PATIENCE: Duration = Duration::from_secs(120);

/// A server in a process of its own. It ends with this.
#[derive(Debug)]
pub struct Rigore {
    started: Started,
    child: Child,
}

/// How it was started.
#[derive(Debug)]
struct Started {
    program: PathBuf,
    /// Where its shop is kept, as every command of it is told.
    place: [String; 2],
    port: u16,
    demonstration: bool,
}

fn by_database(url: &str) -> [String; 2] {
    ["--database-url".to_owned(), url.to_owned()]
}

fn free_port() -> Result<u16> {
    Ok(TcpListener::bind("127.0.0.1:0")?.local_addr()?.port())
}

/// Where the `rigore` that was built beside this program is.
///
/// # Errors
/// Where it was not built.
pub fn binary() -> Result<PathBuf> {
    let here = std::env::current_exe()?;
    let found = here.ancestors().map(|folder| folder.join("rigore")).find(|path| path.is_file());
    found.context("`rigore` is not built: run `cargo build --workspace` first")
}

/// Processor time that a process took so far, in it and for it in the system.
///
/// # Errors
/// Where it does not run.
pub fn process_cpu(process: u32) -> Result<Duration> {
    let status = fs::read_to_string(format!("/proc/{process}/stat"))?;
    // The name in parentheses may hold anything; the numbers follow it.
    let (_, numbers) = status.rsplit_once(')').context("a process")?;
    let mut times = numbers.split_whitespace().skip(11);
    let mut ticks = || anyhow::Ok(times.next().context("a time")?.parse::<u64>()?);
    // Linux tells a hundred ticks a second, whatever the machine.
    Ok(Duration::from_millis((ticks()? + ticks()?) * 10))
}

impl Rigore {
    /// Starts it on a database and waits until it answers.
    ///
    /// # Errors
    /// Where it does not start.
    pub async fn start(database: &str) -> Result<Self> {
        let (program, place, port) = (binary()?, by_database(database), free_port()?);
        let started = Started { program, place, port, demonstration: true };
        let rigore = Self { child: started.spawn()?, started };
        rigore.ready().await?;
        Ok(rigore)
    }

    /// Starts a shop of one's own on a database and waits until it answers: with the code that founds it, where it is
    /// empty.
    ///
    /// # Errors
    /// Where it does not start.
    pub async fn shop(database: &str) -> Result<(Self, String)> {
        Self::own(binary()?, by_database(database)).await
    }

    /// Builds the Debian package, unpacks it into a folder, and starts what is in it as its service would, with a
    /// private PostgreSQL in that folder.
    ///
    /// # Errors
    /// Where it cannot be built, or does not start.
    pub async fn packaged(folder: &Path) -> Result<(Self, String)> {
        let built = binary()?;
        let built = built.parent().and_then(Path::file_name).context("where it was built")?;
        let script = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../bin/package");
        let output = Command::new(script).arg("--built").arg(built).output()?;
        ensure!(output.status.success(), "bin/package: {}", String::from_utf8_lossy(&output.stderr));
        let package = String::from_utf8(output.stdout)?;
        let unpacked = folder.join("unpacked");
        let unpack = Command::new("dpkg-deb").args(["-x", package.trim()]).arg(&unpacked).status()?;
        ensure!(unpack.success(), "dpkg-deb -x {package}");
        let unit = fs::read_to_string(unpacked.join("usr/lib/systemd/system/rigore.service"))?;
        let start = unit.lines().find_map(|line| line.strip_prefix("ExecStart=/")).context("ExecStart")?;
        let program = unpacked.join(start.strip_suffix(" serve").context("it serves")?);
        let data = folder.join("data").to_string_lossy().into_owned();
        Self::own(program, ["--data".to_owned(), data]).await
    }

    async fn own(program: PathBuf, place: [String; 2]) -> Result<(Self, String)> {
        let started = Started { program, place, port: free_port()?, demonstration: false };
        let mut child = started.spawn()?;
        let out = child.stdout.take().context("what it says")?;
        let rigore = Self { started, child };
        rigore.ready().await?;
        let mut said = String::new();
        let mut lines = BufReader::new(out);
        lines.read_line(&mut said)?;
        lines.read_line(&mut said)?;
        let code = said.split_whitespace().last().unwrap_or_default().to_owned();
        Ok((rigore, code))
    }

    /// The address of a path.
    pub fn url(&self, path: &str) -> String {
        format!("http://127.0.0.1:{}{path}", self.started.port)
    }

    /// The id of a demo engine.
    ///
    /// # Errors
    /// Where there is none of that name.
    pub async fn engine(&self, name: &str) -> Result<String> {
        let find = self.url(&format!("/api/shop?find={}", name.replace(' ', "%20")));
        let shop: serde_json::Value = crate::get(find).await?.json().await?;
        let builds = shop["builds"].as_array().context("builds")?;
        let build = builds.iter().find(|build| build["name"] == name).with_context(|| name.to_owned())?;
        Ok(build["id"].as_str().unwrap_or_default().to_owned())
    }

    /// Resident memory of the server, MB.
    ///
    /// # Errors
    /// Where it does not run.
    pub fn memory_mb(&self) -> Result<f64> {
        let status = fs::read_to_string(format!("/proc/{}/status", self.child.id()))?;
        let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:")).context("VmRSS")?;
        Ok(line.trim().trim_end_matches(" kB").trim().parse::<f64>()? / 1024.0)
    }

    /// Processor time that the server took so far, in it and for it in the system.
    ///
    /// # Errors
    /// Where it does not run.
    pub fn cpu(&self) -> Result<Duration> {
        process_cpu(self.child.id())
    }

    /// Ends it at once with SIGKILL, as a crash would.
    ///
    /// # Errors
    /// Where it cannot be signalled.
    pub fn crash(&mut self) -> Result<()> {
        self.child.kill()?;
        self.child.wait()?;
        Ok(())
    }

    /// Starts it again on the same port.
    ///
    /// # Errors
    /// Where it does not start.
    pub async fn start_again(&mut self) -> Result<()> {
        self.child = self.started.spawn()?;
        self.ready().await
    }

    /// Runs a command of `rigore` on its shop and gives what it printed.
    ///
    /// # Errors
    /// Where it fails.
    pub fn run(&self, command: &str) -> Result<String> {
        let mut rigore = Command::new(&self.started.program);
        let output = rigore.args(["--log", "error", command]).args(&self.started.place).output()?;
        let text = String::from_utf8_lossy(&output.stdout).into_owned();
        if output.status.success() { Ok(text) } else { bail!("rigore {command}: {text}") }
    }

    async fn ready(&self) -> Result<()> {
        let start = Instant::now();
        while start.elapsed() < PATIENCE {
            if reqwest::get(self.url("/healthz")).await.is_ok_and(|answer| answer.status().is_success()) {
                return Ok(());
            }
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
        bail!("rigore was not ready after {PATIENCE:?}")
    }
}

impl Drop for Rigore {
    fn drop(&mut self) {
        if let Ok(pid) = i32::try_from(self.child.id()) {
            // It may have ended already.
            let _ = kill(Pid::from_raw(pid), Signal::SIGTERM);
            let _ = self.child.wait();
        }
    }
}

impl Started {
    fn spawn(&self) -> Result<Child> {
        let mut rigore = Command::new(&self.program);
        rigore.args(["--log", "warn"]).stdin(Stdio::null());
        if self.demonstration {
            rigore.args(["demo", "--port", &self.port.to_string()]).stdout(Stdio::null());
        } else {
            rigore.args(["serve", "--listen", &format!("127.0.0.1:{}", self.port)]).stdout(Stdio::piped());
        }
        Ok(rigore.args(&self.place).spawn()?)
    }
}

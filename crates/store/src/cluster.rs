//! A private PostgreSQL server on loopback, from Debian's packages: for the demo and the tests.
//!
//! PostgreSQL does not run as root; there it is run as the user the package made for it. The
//! server outlives a crash of Rigore and is taken up again at the next start, if it answers; one that
//! died under a running Rigore is started again ([`Cluster::watch`]). One process at a time keeps the
//! server of a folder, by a lock; any other one on the same folder, such as a backup, is its guest and
//! stops nothing.

use nix::unistd::{Uid, User};
use std::fs::{self, File};
use std::io;
use std::net::TcpListener;
use std::os::unix::fs::MetadataExt;
use std::path::{Path, PathBuf};
use std::process::{Command, Output, Stdio};
use std::sync::{Mutex, PoisonError};
use std::thread;
use std::time::{Duration, Instant};

/// The unprivileged user of Debian's packages.
const USER: &str = "postgres";
/// The superuser and database of the cluster.
const NAME: &str = "rigore";
/// Where a server writes down its process and port.
const PID_FILE: &str = "postmaster.pid";
/// Whoever has locked it keeps the server.
const KEEPER: &str = "keeper.lock";
/// The port that the server of a folder has, also when it is started anew: guests come back by it.
const PORT: &str = "port";
/// How long a server that lives may take to answer.
const PATIENCE: Duration = Duration::from_secs(30);
/// How long to wait before looking whether one is on its way up.
const PAUSE: Duration = Duration::from_millis(200);
/// How often a running server is looked after.
const LOOK: Duration = Duration::from_secs(1);

/// A running private server. It is stopped when its keeper is dropped.
#[derive(Debug)]
pub struct Cluster {
    bin: PathBuf,
    data: PathBuf,
    /// Whom it runs as, where that is not who started Rigore.
    user: Option<String>,
    port: u16,
    lock: File,
    /// Whether this one keeps it.
    keeps: Mutex<bool>,
}

impl Cluster {
    /// Starts the server in a folder, making it first where it is new, or takes up the one that
    /// is still running there.
    ///
    /// # Errors
    /// Where PostgreSQL is not installed, the folder cannot be used, or the server does not start.
    pub fn start(folder: &Path) -> io::Result<Self> {
        let bin = binaries()?;
        fs::create_dir_all(folder)?;
        let data = folder.join("pg");
        let user = runs_as(&data);
        own(folder, user.as_deref())?;
        if !data.join("PG_VERSION").exists() {
            let mut initdb = as_user(user.as_deref(), &bin.join("initdb"));
            initdb.arg("-D").arg(&data).args(["-U", NAME, "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8"]);
            run(&mut initdb, "making the database")?;
        }
        let lock = keeper_file(folder)?;
        let keeps = lock.try_lock().is_ok();
        let start = Instant::now();
        loop {
            if let Some(server) = found(&data).filter(|server| server.comes_up(&bin)) {
                return Ok(Self { bin, data, user, port: server.port, lock, keeps: Mutex::new(keeps) });
            }
            if keeps || start.elapsed() > PATIENCE {
                break;
            }
            // Its keeper is about to start it.
            thread::sleep(PAUSE);
        }
        if !keeps {
            let says = format!("another Rigore keeps {}, and its database does not answer", folder.display());
            return Err(io::Error::new(io::ErrorKind::TimedOut, says));
        }
        let cluster = Self { bin, data, user, port: port_of(folder)?, lock, keeps: Mutex::new(true) };
        cluster.launch()?;
        Ok(cluster)
    }

    /// Whether this one keeps the server, now that another one may have ended that did.
    fn keeps(&self) -> bool {
        let mut keeps = self.keeps.lock().unwrap_or_else(PoisonError::into_inner);
        *keeps = *keeps || self.lock.try_lock().is_ok();
        *keeps
    }

    /// Starts the server; what one that died left behind is cleared away first.
    fn launch(&self) -> io::Result<()> {
        let start = Instant::now();
        loop {
            clear_dead(&self.data)?;
            let error = match self.launch_once() {
                Ok(()) => return Ok(()),
                Err(error) => error,
            };
            // Children of one that died hold its memory for a moment longer.
            if start.elapsed() > PATIENCE {
                return Err(error);
            }
            thread::sleep(PAUSE);
        }
    }

    fn launch_once(&self) -> io::Result<()> {
        let log = self.data.join("server.log");
        let mut start = as_user(self.user.as_deref(), &self.bin.join("pg_ctl"));
        start.arg("-D").arg(&self.data).arg("-l").arg(log).args(["-w", "-t", "60", "-s", "-o"]);
        // No socket file: two clusters never meet in a shared folder.
        start.arg(format!(
            "-p {} -h 127.0.0.1 -c unix_socket_directories='' -c shared_buffers=32MB",
            self.port
        ));
        run(start.arg("start"), "starting the database").map(drop)
    }

    /// Whether the server answers now.
    pub fn answers(&self) -> bool {
        answers(&self.bin, self.port)
    }

    /// Looks after the server until told to end: one that died is started again on the same port.
    /// Blocks the thread it runs on.
    pub fn watch(&self, ended: impl Fn() -> bool) {
        while !ended() {
            thread::sleep(LOOK);
            if ended() || self.answers() || found(&self.data).is_some_and(|server| server.comes_up(&self.bin))
            {
                continue;
            }
            if !self.keeps() {
                continue;
            }
            tracing::warn!("the private PostgreSQL died; starting it again");
            match self.launch() {
                Ok(()) => tracing::info!("the private PostgreSQL answers again"),
                Err(error) => tracing::error!(%error, "the private PostgreSQL does not start"),
            }
        }
    }

    /// The address of the cluster's own database.
    pub fn url(&self) -> String {
        self.database_url("postgres")
    }

    /// The address of a database in it.
    pub fn database_url(&self, database: &str) -> String {
        format!("postgres://{NAME}@127.0.0.1:{}/{database}", self.port)
    }

    /// Ends the server at once, as a power cut would.
    ///
    /// # Errors
    /// Where it cannot be reached.
    pub fn crash(&self) -> io::Result<()> {
        self.stop_by("immediate")
    }

    /// Ends the server in an orderly way.
    ///
    /// # Errors
    /// Where it cannot be reached.
    pub fn stop(&self) -> io::Result<()> {
        self.stop_by("fast")
    }

    /// Starts it again on the same port after [`Cluster::crash`].
    ///
    /// # Errors
    /// Where it does not start.
    pub fn start_again(&self) -> io::Result<()> {
        self.launch()
    }

    fn stop_by(&self, mode: &str) -> io::Result<()> {
        let mut stop = as_user(self.user.as_deref(), &self.bin.join("pg_ctl"));
        run(stop.arg("-D").arg(&self.data).args(["-w", "-s", "-m", mode, "stop"]), "stopping the database")
            .map(drop)
    }
}

impl Drop for Cluster {
    fn drop(&mut self) {
        if *self.keeps.get_mut().unwrap_or_else(PoisonError::into_inner) {
            // At the end there is nobody left to tell.
            let _ = self.stop();
        }
    }
}

/// The file whose lock makes a keeper. Guests may be other users than the keeper.
fn keeper_file(folder: &Path) -> io::Result<File> {
    let path = folder.join(KEEPER);
    let made = File::options().read(true).write(true).create(true).truncate(false).open(&path);
    made.or_else(|_| File::open(&path))
}

/// Where the newest PostgreSQL's programs are.
pub(crate) fn binaries() -> io::Result<PathBuf> {
    let versions = fs::read_dir("/usr/lib/postgresql").into_iter().flatten().flatten();
    let newest = versions
        .filter_map(|entry| {
            Some((entry.file_name().to_str()?.parse::<u32>().ok()?, entry.path().join("bin")))
        })
        .filter(|(_, bin)| bin.join("initdb").exists())
        .max();
    newest.map(|(_, bin)| bin).ok_or_else(|| {
        io::Error::new(io::ErrorKind::NotFound, "PostgreSQL is not installed: apt-get install postgresql")
    })
}

/// Whom the server of some data has to run as: PostgreSQL does not run as root, and another owner of the data stays it.
fn runs_as(data: &Path) -> Option<String> {
    if !Uid::effective().is_root() {
        return None;
    }
    let owner =
        fs::metadata(data).ok().map(|data| Uid::from_raw(data.uid())).filter(|owner| !owner.is_root());
    let name = owner.and_then(|owner| User::from_uid(owner).ok().flatten()).map(|owner| owner.name);
    Some(name.unwrap_or_else(|| USER.to_owned()))
}

/// A command that runs as somebody PostgreSQL accepts.
fn as_user(user: Option<&str>, program: &Path) -> Command {
    let mut command = match user {
        Some(user) => {
            let mut runuser = Command::new("runuser");
            runuser.args(["-u", user, "--"]).arg(program);
            runuser
        }
        None => Command::new(program),
    };
    command.stdin(Stdio::null()).current_dir("/");
    command
}

fn run(command: &mut Command, doing: &str) -> io::Result<Output> {
    // The server inherits what its starter writes to; a pipe would never close.
    let output = command.stdout(Stdio::null()).stderr(Stdio::null()).output()?;
    if output.status.success() {
        return Ok(output);
    }
    Err(io::Error::other(format!("{doing} failed ({}): {command:?}", output.status)))
}

/// Gives the folder to the user that runs the server.
fn own(folder: &Path, user: Option<&str>) -> io::Result<()> {
    let Some(user) = user else { return Ok(()) };
    run(Command::new("chown").arg(user).arg(folder), "giving the folder to the database's user")?;
    let reach = as_user(Some(user), Path::new("/usr/bin/test")).arg("-w").arg(folder).status()?;
    if reach.success() {
        return Ok(());
    }
    Err(io::Error::new(
        io::ErrorKind::PermissionDenied,
        format!("user {user} cannot reach {}: choose a data folder that others may enter", folder.display()),
    ))
}

/// A server that ran on this data, as it wrote down itself.
#[derive(Debug, Clone, Copy)]
struct Found {
    pid: u32,
    port: u16,
}

fn found(data: &Path) -> Option<Found> {
    let file = fs::read_to_string(data.join(PID_FILE)).ok()?;
    let mut lines = file.lines();
    let pid = lines.next()?.trim().parse().ok()?;
    Some(Found { pid, port: lines.nth(2)?.trim().parse().ok()? })
}

impl Found {
    /// Whether the process is there and no more than waits to be buried by its parent.
    fn lives(self) -> bool {
        let status = fs::read_to_string(format!("/proc/{}/stat", self.pid)).unwrap_or_default();
        // The name in parentheses may hold anything; the state follows it.
        let state = status.rsplit_once(')').and_then(|(_, rest)| rest.trim_start().chars().next());
        status.contains("(postgres)") && state.is_some_and(|state| !matches!(state, 'Z' | 'X'))
    }

    /// Whether it answers, waiting for one that lives and is on its way up.
    fn comes_up(self, bin: &Path) -> bool {
        let start = Instant::now();
        while self.lives() {
            if answers(bin, self.port) {
                return true;
            }
            if start.elapsed() > PATIENCE {
                break;
            }
            thread::sleep(PAUSE);
        }
        false
    }
}

/// Clears away what a server left behind that does not live any more, or PostgreSQL would take its
/// number for a running one's.
fn clear_dead(data: &Path) -> io::Result<()> {
    match found(data) {
        Some(server) if !server.lives() => fs::remove_file(data.join(PID_FILE)),
        _ => Ok(()),
    }
}

/// Whether a server answers on a port.
fn answers(bin: &Path, port: u16) -> bool {
    let mut ready = Command::new(bin.join("pg_isready"));
    // Asked as somebody it knows, since it writes down everybody else.
    ready
        .args(["-q", "-t", "2", "-h", "127.0.0.1", "-U", NAME, "-d", "postgres", "-p"])
        .arg(port.to_string());
    ready.stdin(Stdio::null()).status().is_ok_and(|status| status.success())
}

/// The port that a folder's server had last, where it is free, else any one that is.
fn port_of(folder: &Path) -> io::Result<u16> {
    let path = folder.join(PORT);
    let last = fs::read_to_string(&path).ok().and_then(|text| text.trim().parse().ok());
    if let Some(port) = last.filter(|port| TcpListener::bind(("127.0.0.1", *port)).is_ok()) {
        return Ok(port);
    }
    let port = free_port()?;
    // Where another user wrote it, it stays as it is: only guests go by it.
    let _ = fs::write(path, port.to_string());
    Ok(port)
}

fn free_port() -> io::Result<u16> {
    Ok(TcpListener::bind("127.0.0.1:0")?.local_addr()?.port())
}

//! A private PostgreSQL server from Debian's packages: for a shop of one's own, the demonstration and the tests.
//!
//! It is reached by a Unix socket in a folder that only its user and root may enter, and asks the system who connects
//! (peer authentication): no other account of the computer gets to it, and it listens on no network. The role that owns
//! the tables brings them up to date; a server works by another one, which is no superuser (`SERVER_ROLE`).
//!
//! PostgreSQL does not run as root; there it is run as the user the package made for it. The
//! server outlives a crash of Rigore and is taken up again at the next start, if it answers; one that
//! died under a running Rigore is started again ([`Cluster::watch`]). One process at a time keeps the
//! server of a folder, by a lock; any other one on the same folder, such as a backup, is its guest and
//! stops nothing.
//!
//! A private PostgreSQL is watched over (`cluster.rs`): only one that answers is taken up, and one that dies under
//! Rigore is started again. One process keeps it, by a lock on a file; another one on the same folder, a backup or
//! a second server, is its guest, stops nothing, and becomes its keeper when the first has ended. It is reached by
//! a socket that only its user and root may enter; a server works by a role that may only read and add to the
//! record (`server_grants.sql`).

use nix::unistd::{Uid, User};
use sha2::{Digest, Sha256};
use std::fs::{self, File};
use std::io;
use std::os::unix::fs::{DirBuilderExt, MetadataExt, PermissionsExt};
use std::path::{Path, PathBuf};
use std::process::{Command, Output, Stdio};
use std::sync::{Mutex, PoisonError};
use std::thread;
use std::time::{Duration, Instant};

/// The unprivileged user of Debian's packages.
const USER: &str = "postgres";
/// The superuser of the cluster, which owns the tables.
const OWNER: &str = "rigore";
/// The role that a server works by: no superuser, and of the record it may only read and add.
pub(crate) const SERVER_ROLE: &str = "rigore_server";
/// The folder of the socket within that of the shop, where its path is short enough for one.
const SOCKET: &str = "socket";
/// The port is part of the socket's name, and of nothing else.
const PORT: u16 = 5432;
/// How long the path of a socket may be, as Linux has it.
const SOCKET_PATH: usize = 107;
/// Where a server writes down its process and port.
const PID_FILE: &str = "postmaster.pid";
/// Whoever has locked it keeps the server.
const KEEPER: &str = "keeper.lock";
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
    /// The folder of its socket.
    socket: PathBuf,
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
        let name = folder.display().to_string();
        Self::start_in(folder).map_err(|error| {
            let says = error.to_string();
            if says.contains(&name) { error } else { io::Error::new(error.kind(), format!("{name}: {says}")) }
        })
    }

    fn start_in(folder: &Path) -> io::Result<Self> {
        fs::create_dir_all(folder)?;
        let data = folder.join("pg");
        let bin = binaries_of(&data)?;
        let user = runs_as(&data);
        own(folder, user.as_deref())?;
        let socket = socket_folder(folder, user.as_deref())?;
        if !data.join("PG_VERSION").exists() {
            let mut initdb = as_user(user.as_deref(), &bin.join("initdb"));
            initdb.arg("-D").arg(&data).args(["-U", OWNER, "-A", "peer", "-E", "UTF8", "--locale=C.UTF-8"]);
            run(&mut initdb, "making the database")?;
        }
        let lock = keeper_file(folder)?;
        let keeps = lock.try_lock().is_ok();
        let start = Instant::now();
        if keeps && let Some(server) = found(&data).filter(|server| server.lives() && server.on_network) {
            // One that an earlier Rigore left running is open to every account of the computer.
            tracing::info!(pid = server.pid, "the private PostgreSQL is started again behind a socket");
            stop(user.as_deref(), &bin, &data, "fast")?;
        }
        loop {
            if let Some(server) = found(&data).filter(|server| server.comes_up(&bin, &socket)) {
                if server.on_network {
                    let says = format!("an earlier Rigore keeps {}: end it first", folder.display());
                    return Err(io::Error::new(io::ErrorKind::AddrInUse, says));
                }
                return Ok(Self { bin, data, user, socket, lock, keeps: Mutex::new(keeps) });
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
        // What it was reached by before there were sockets.
        let _ = fs::remove_file(folder.join("port"));
        let cluster = Self { bin, data, user, socket, lock, keeps: Mutex::new(true) };
        cluster.write_access_rules()?;
        cluster.launch()?;
        Ok(cluster)
    }

    /// Whether this one keeps the server, and is no guest of another process.
    pub fn is_keeper(&self) -> bool {
        *self.keeps.lock().unwrap_or_else(PoisonError::into_inner)
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
        let quoted = self.socket.display().to_string().replace('\'', "''");
        start.arg(format!(
            "-p {PORT} -c listen_addresses='' -c unix_socket_directories='{quoted}' -c unix_socket_permissions=0700 \
             -c shared_buffers=32MB -c logging_collector=on -c log_directory=log -c log_filename='server-%a.log' \
             -c log_truncate_on_rotation=on -c log_rotation_age=1d -c log_rotation_size=0"
        ));
        run(start.arg("start"), "starting the database").map(drop)
    }

    /// Writes down who may come in: by the socket, whoever the system says is the server's user or root, and nobody else.
    fn write_access_rules(&self) -> io::Result<()> {
        let owner = Uid::from_raw(fs::metadata(&self.data)?.uid());
        let owner = User::from_uid(owner)?.map_or_else(|| owner.to_string(), |user| user.name);
        let users = [(&*owner, OWNER), (&*owner, SERVER_ROLE), ("root", OWNER), ("root", SERVER_ROLE)];
        let lines = users.map(|(user, role)| format!("rigore \"{user}\" {role}\n"));
        let map = format!("# Written by Rigore at every start.\n{}", lines.concat());
        let hba = "# Written by Rigore at every start.\nlocal all all peer map=rigore\n";
        for (name, text) in [("pg_hba.conf", hba), ("pg_ident.conf", &map)] {
            let file = self.data.join(name);
            if fs::read_to_string(&file).is_ok_and(|there| there == text) {
                continue;
            }
            // They stay the server's own, whoever writes them.
            fs::write(&file, text)?;
            fs::set_permissions(&file, fs::Permissions::from_mode(0o600))?;
        }
        Ok(())
    }

    /// Whether the server answers now.
    pub fn answers(&self) -> bool {
        answers(&self.bin, &self.socket)
    }

    /// Looks after the server until told to end: one that died is started again on the same port.
    /// Blocks the thread it runs on.
    pub fn watch(&self, ended: impl Fn() -> bool) {
        while !ended() {
            thread::sleep(LOOK);
            if ended()
                || self.answers()
                || found(&self.data).is_some_and(|server| server.comes_up(&self.bin, &self.socket))
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

    /// The address of a database in it, for the role that owns it.
    pub fn database_url(&self, database: &str) -> String {
        let socket = percent_encoding::utf8_percent_encode(
            &self.socket.display().to_string(),
            percent_encoding::NON_ALPHANUMERIC,
        )
        .to_string();
        format!("postgres://{OWNER}@{socket}:{PORT}/{database}")
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
        stop(self.user.as_deref(), &self.bin, &self.data, mode)
    }
}

fn stop(user: Option<&str>, bin: &Path, data: &Path, mode: &str) -> io::Result<()> {
    let mut stop = as_user(user, &bin.join("pg_ctl"));
    run(stop.arg("-D").arg(data).args(["-w", "-s", "-m", mode, "stop"]), "stopping the database").map(drop)
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

/// The versions of PostgreSQL that are installed, with where their programs are, the newest last.
fn installed() -> Vec<(u32, PathBuf)> {
    let versions = fs::read_dir("/usr/lib/postgresql").into_iter().flatten().flatten();
    let with_programs = versions.filter_map(|entry| {
        let version = entry.file_name().to_str()?.parse::<u32>().ok()?;
        Some((version, entry.path().join("bin"))).filter(|(_, bin)| bin.join("initdb").exists())
    });
    let mut installed: Vec<(u32, PathBuf)> = with_programs.collect();
    installed.sort();
    installed
}

fn not_installed(says: impl Into<String>) -> io::Error {
    io::Error::new(io::ErrorKind::NotFound, says.into())
}

/// Where the newest PostgreSQL's programs are.
pub(crate) fn binaries() -> io::Result<PathBuf> {
    let newest = installed().pop().map(|(_, bin)| bin);
    newest.ok_or_else(|| not_installed("PostgreSQL is not installed: apt-get install postgresql"))
}

/// The newest version that is installed.
pub(crate) fn newest_version() -> io::Result<String> {
    let newest = installed().pop().map(|(version, _)| version.to_string());
    newest.ok_or_else(|| not_installed("PostgreSQL is not installed: apt-get install postgresql"))
}

/// Where the programs are of the PostgreSQL that made some data: no other version reads them. Those of the newest where
/// nothing is there yet.
fn binaries_of(data: &Path) -> io::Result<PathBuf> {
    let Ok(version) = fs::read_to_string(data.join("PG_VERSION")) else { return binaries() };
    binaries_for(version.trim(), installed(), data)
}

fn binaries_for(version: &str, installed: Vec<(u32, PathBuf)>, data: &Path) -> io::Result<PathBuf> {
    let others: Vec<String> = installed.iter().map(|(number, _)| number.to_string()).collect();
    let found = installed.into_iter().find(|(number, _)| number.to_string() == version);
    found.map(|(_, bin)| bin).ok_or_else(|| {
        let data = data.display();
        let has = if others.is_empty() { "no PostgreSQL".to_owned() } else { others.join(", ") };
        not_installed(format!(
            "{data} was made by PostgreSQL {version}, and this computer has {has}: apt-get install \
             postgresql-{version}, then go on with it or move to a newer one by `rigore upgrade-database`"
        ))
    })
}

/// The folder of the socket: in the folder of the shop, or, where that has too long a path for one, beside other temporary
/// files. Only its owner and root may enter it.
fn socket_folder(folder: &Path, user: Option<&str>) -> io::Result<PathBuf> {
    let within = folder.join(SOCKET);
    let name = format!("/.s.PGSQL.{PORT}");
    let socket = if within.as_os_str().len() + name.len() <= SOCKET_PATH {
        within
    } else {
        let digest = hex::encode(&Sha256::digest(folder.as_os_str().as_encoded_bytes())[..6]);
        std::env::temp_dir().join(format!("rigore-{}-{digest}", Uid::effective()))
    };
    match fs::DirBuilder::new().mode(0o700).create(&socket) {
        Err(error) if error.kind() != io::ErrorKind::AlreadyExists => return Err(error),
        _ => {}
    }
    let there = fs::symlink_metadata(&socket)?;
    let owner =
        user.and_then(|user| User::from_name(user).ok().flatten()).map_or(Uid::effective(), |user| user.uid);
    let of = Uid::from_raw(there.uid());
    if !there.is_dir() || (of != owner && of != Uid::effective()) {
        let says = format!("{} is not a folder of the database's own user", socket.display());
        return Err(io::Error::new(io::ErrorKind::PermissionDenied, says));
    }
    if of != owner || there.mode() & 0o777 != 0o700 {
        own(&socket, user)?;
        fs::set_permissions(&socket, fs::Permissions::from_mode(0o700))?;
    }
    Ok(socket)
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

/// A program of PostgreSQL, such as `initdb`, run as whoever owns a folder of its data or would own it.
///
/// # Errors
/// Where PostgreSQL is not installed.
pub fn program(name: &str, data: &Path) -> io::Result<Command> {
    Ok(as_user(runs_as(data).as_deref(), &binaries_of(data)?.join(name)))
}

/// A command that runs as somebody PostgreSQL accepts.
fn as_user(user: Option<&str>, program: &Path) -> Command {
    let mut command = match user {
        Some(user) => {
            // Under cron's own path it would not be found.
            let program_at =
                ["/usr/sbin/runuser", "/sbin/runuser"].into_iter().find(|at| Path::new(at).exists());
            let mut runuser = Command::new(program_at.unwrap_or("runuser"));
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
    /// Whether it listens on a network, as those of earlier versions did.
    on_network: bool,
}

fn found(data: &Path) -> Option<Found> {
    let file = fs::read_to_string(data.join(PID_FILE)).ok()?;
    let lines: Vec<&str> = file.lines().collect();
    let pid = lines.first()?.trim().parse().ok()?;
    // Its lines are process, folder, start, port, folder of the socket, address.
    Some(Found { pid, on_network: !lines.get(5)?.trim().is_empty() })
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
    fn comes_up(self, bin: &Path, socket: &Path) -> bool {
        let start = Instant::now();
        while self.lives() {
            if self.on_network || answers(bin, socket) {
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

/// Whether a server answers by a socket.
fn answers(bin: &Path, socket: &Path) -> bool {
    let mut ready = Command::new(bin.join("pg_isready"));
    // Asked as somebody it knows, since it writes down everybody else.
    ready
        .args(["-q", "-t", "2", "-U", OWNER, "-d", "postgres", "-p"])
        .arg(PORT.to_string())
        .arg("-h")
        .arg(socket);
    ready.stdin(Stdio::null()).status().is_ok_and(|status| status.success())
}

#[cfg(test)]
mod tests {
    use super::binaries_for;
    use std::path::{Path, PathBuf};

    #[test]
    fn the_version_that_made_the_data_is_taken_not_the_newest() {
        let installed = || vec![(15, PathBuf::from("/of/15")), (17, PathBuf::from("/of/17"))];
        let data = Path::new("/shop/pg");
        assert_eq!(binaries_for("15", installed(), data).expect("it is there"), Path::new("/of/15"));
        let says = binaries_for("13", installed(), data).expect_err("it is not").to_string();
        for word in
            ["/shop/pg", "PostgreSQL 13", "15, 17", "apt-get install postgresql-13", "upgrade-database"]
        {
            assert!(says.contains(word), "{word}: {says}");
        }
    }
}

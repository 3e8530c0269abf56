//! A private PostgreSQL server on loopback, from Debian's packages: for the demo and the tests.
//!
//! PostgreSQL does not run as root; there it is run as the user the package made for it. The
//! server outlives a crash of Rigore and is taken up again at the next start.

use nix::unistd::Uid;
use std::fs;
use std::io;
use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::process::{Command, Output, Stdio};

/// The unprivileged user of Debian's packages.
const USER: &str = "postgres";
/// The superuser and database of the cluster.
const NAME: &str = "rigore";

/// A running private server. It is stopped when this is dropped.
#[derive(Debug)]
pub struct Cluster {
    bin: PathBuf,
    data: PathBuf,
    port: u16,
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
        own(folder)?;
        if !data.join("PG_VERSION").exists() {
            let mut initdb = as_user(&bin.join("initdb"));
            initdb.arg("-D").arg(&data).args(["-U", NAME, "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8"]);
            run(&mut initdb, "making the database")?;
        }
        if let Some(port) = running(&bin, &data) {
            return Ok(Self { bin, data, port });
        }
        let cluster = Self { bin, data, port: free_port()? };
        cluster.launch()?;
        Ok(cluster)
    }

    fn launch(&self) -> io::Result<()> {
        let log = self.data.join("server.log");
        let mut start = as_user(&self.bin.join("pg_ctl"));
        start.arg("-D").arg(&self.data).arg("-l").arg(log).args(["-w", "-t", "60", "-s", "-o"]);
        // No socket file: two clusters never meet in a shared folder.
        start.arg(format!(
            "-p {} -h 127.0.0.1 -c unix_socket_directories='' -c shared_buffers=32MB",
            self.port
        ));
        run(start.arg("start"), "starting the database").map(drop)
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
        let mut stop = as_user(&self.bin.join("pg_ctl"));
        run(stop.arg("-D").arg(&self.data).args(["-w", "-s", "-m", mode, "stop"]), "stopping the database")
            .map(drop)
    }
}

/// A database of its own for one test: in the server that `RIGORE_TEST_DATABASE_URL` names, or
/// in a private cluster that ends with it.
#[derive(Debug)]
pub struct Scratch {
    /// Its address.
    pub url: String,
    _own: Option<(Cluster, tempfile::TempDir)>,
}

impl Scratch {
    /// Makes an empty database.
    ///
    /// # Errors
    /// Where no server can be reached or started.
    pub async fn new() -> io::Result<Self> {
        Self::copied(None).await
    }

    /// Makes a database for the demonstration: a copy of the one that `RIGORE_TEST_DEMONSTRATION`
    /// names in the server of the tests, so that it need not be loaded for each of them; an empty
    /// one where there is none.
    ///
    /// # Errors
    /// Where no server can be reached or started.
    pub async fn demonstration() -> io::Result<Self> {
        let loaded = std::env::var("RIGORE_TEST_DEMONSTRATION").ok();
        Self::copied(loaded.filter(|_| std::env::var("RIGORE_TEST_DATABASE_URL").is_ok())).await
    }

    async fn copied(template: Option<String>) -> io::Result<Self> {
        let own = match std::env::var("RIGORE_TEST_DATABASE_URL") {
            Ok(_) => None,
            Err(_) => {
                let folder = tempfile::Builder::new().prefix("rigore-scratch").tempdir()?;
                Some((Cluster::start(folder.path())?, folder))
            }
        };
        let server = match &own {
            Some((cluster, _)) => cluster.url(),
            None => std::env::var("RIGORE_TEST_DATABASE_URL").unwrap_or_default(),
        };
        let name = format!("scratch_{}", uuid::Uuid::now_v7().simple());
        let pool = sqlx::PgPool::connect(&server).await.map_err(io::Error::other)?;
        let copied = template.map(|template| format!(" TEMPLATE {template}")).unwrap_or_default();
        let create = sqlx::AssertSqlSafe(format!("CREATE DATABASE {name}{copied}"));
        sqlx::raw_sql(create).execute(&pool).await.map_err(io::Error::other)?;
        pool.close().await;
        let base = server.rsplit_once('/').map_or(server.as_str(), |(base, _)| base);
        Ok(Self { url: format!("{base}/{name}"), _own: own })
    }
}

impl Drop for Cluster {
    fn drop(&mut self) {
        // At the end there is nobody left to tell.
        let _ = self.stop();
    }
}

/// Where the newest PostgreSQL's programs are.
fn binaries() -> io::Result<PathBuf> {
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

/// A command that runs as somebody PostgreSQL accepts.
fn as_user(program: &Path) -> Command {
    let mut command = if Uid::effective().is_root() {
        let mut runuser = Command::new("runuser");
        runuser.args(["-u", USER, "--"]).arg(program);
        runuser
    } else {
        Command::new(program)
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
fn own(folder: &Path) -> io::Result<()> {
    if !Uid::effective().is_root() {
        return Ok(());
    }
    run(Command::new("chown").arg(USER).arg(folder), "giving the folder to the database's user")?;
    let reach = as_user(Path::new("/usr/bin/test")).arg("-w").arg(folder).status()?;
    if reach.success() {
        return Ok(());
    }
    Err(io::Error::new(
        io::ErrorKind::PermissionDenied,
        format!("user {USER} cannot reach {}: choose a data folder that others may enter", folder.display()),
    ))
}

/// The port of a server that is running on this data already.
fn running(bin: &Path, data: &Path) -> Option<u16> {
    let status = as_user(&bin.join("pg_ctl")).arg("-D").arg(data).arg("status").output().ok()?;
    let pid_file = fs::read_to_string(data.join("postmaster.pid")).ok()?;
    if !status.status.success() {
        return None;
    }
    pid_file.lines().nth(3)?.trim().parse().ok()
}

fn free_port() -> io::Result<u16> {
    Ok(TcpListener::bind("127.0.0.1:0")?.local_addr()?.port())
}

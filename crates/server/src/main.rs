//! The `rigore` command.

use anyhow::{Context, Result};
use axum_server::tls_rustls::RustlsConfig;
use clap::{Parser, Subcommand, ValueEnum};
use rigore_core::calc;
use rigore_core::engine::{Person, Role};
use rigore_core::plan::Plan;
use rigore_server::whence::Trusted;
use rigore_server::{App, Settings, Socket, demo, openapi, secrets, serve, watched};
use rigore_store::cluster::Cluster;
use rigore_store::{Member, MemberChange, Store, backup};
use std::fmt::Display;
use std::fs;
use std::io::{Read, Write};
use std::net::SocketAddr;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::thread::{self, JoinHandle};
use tokio::signal::unix::{SignalKind, signal};
use tracing_subscriber::EnvFilter;

/// Plans, leads and records the assembly of performance engines.
#[derive(Parser)]
#[command(version, about)]
struct Args {
    #[command(subcommand)]
    command: Verb,
    /// How the log is written to standard error
    #[arg(long, global = true, env = "RIGORE_LOG_FORMAT", default_value = "text")]
    log_format: LogFormat,
    /// What is logged, such as `info` or `rigore_server=debug,warn`
    #[arg(long, global = true, env = "RIGORE_LOG", default_value = "info")]
    log: String,
}

#[derive(Clone, Copy, ValueEnum)]
enum LogFormat {
    Text,
    Json,
}

#[derive(Subcommand)]
enum Verb {
    /// Serve a shop, on a private PostgreSQL unless a database is given
    Serve {
        #[command(flatten)]
        place: Place,
        /// Connections to the database
        #[arg(long, env = "RIGORE_CONNECTIONS", default_value_t = 12)]
        connections: u32,
        #[command(flatten)]
        reached: Reached,
    },
    /// Serve the demonstration shop, on a private PostgreSQL unless a database is given
    Demo {
        /// Database to use instead of a private one
        #[arg(long, env = "DATABASE_URL")]
        database_url: Option<String>,
        /// Folder the private PostgreSQL lives in
        #[arg(long, default_value = ".data")]
        data: PathBuf,
        /// Port to listen on; a free one when left out
        #[arg(long)]
        port: Option<u16>,
        /// Throw the demo data away first
        #[arg(long)]
        fresh: bool,
    },
    /// Run a calculation: one JSON object on standard input, one on standard output
    Calc {
        /// Its name
        #[arg(required_unless_present = "list")]
        name: Option<String>,
        /// Print names, fields and units instead
        #[arg(long)]
        list: bool,
    },
    /// Check engine plans and print every fault with file and line
    Check {
        /// Plan files
        #[arg(required = true)]
        files: Vec<PathBuf>,
    },
    /// Write an engine to a file: its entries, the plans it goes by, its pictures
    Export {
        #[command(flatten)]
        place: Place,
        /// Id of the engine
        build: uuid::Uuid,
        /// The file
        file: PathBuf,
    },
    /// Take an engine in from such a file
    Import {
        #[command(flatten)]
        place: Place,
        /// The file
        file: PathBuf,
    },
    /// Write all of the shop to a file
    Backup {
        #[command(flatten)]
        place: Place,
        /// The file, which is not there yet
        file: PathBuf,
    },
    /// Read such a file into an empty database, and verify every record in it
    Restore {
        #[command(flatten)]
        place: Place,
        /// The file
        file: PathBuf,
    },
    /// Give somebody of the shop a password, read from standard input: for a lead who forgot theirs
    Password {
        #[command(flatten)]
        place: Place,
        /// Name or key of the person
        person: String,
    },
    /// Walk every build's chain and name the first broken link
    Verify {
        #[command(flatten)]
        place: Place,
    },
    /// Make the lists again from the events
    Rebuild {
        #[command(flatten)]
        place: Place,
    },
    /// Print the OpenAPI document
    Openapi,
    /// Run a private PostgreSQL in a folder until told to end, and print its address
    Cluster {
        /// The folder
        folder: PathBuf,
    },
}

/// How browsers reach a shop.
#[derive(clap::Args)]
struct Reached {
    /// Address to listen on
    #[arg(long, env = "RIGORE_LISTEN", default_value = "127.0.0.1:8097")]
    listen: SocketAddr,
    /// Certificate of the shop's name, with those above it, as PEM: browsers come by TLS then. Read again at HUP
    #[arg(long, env = "RIGORE_TLS_CERTIFICATE", requires = "tls_key")]
    tls_certificate: Option<PathBuf>,
    /// The key of the certificate, as PEM
    #[arg(long, env = "RIGORE_TLS_KEY", requires = "tls_certificate")]
    tls_key: Option<PathBuf>,
    /// Browsers come by TLS, which something in front of this server ends: cookies go by TLS only
    #[arg(long, env = "RIGORE_BEHIND_TLS")]
    behind_tls: bool,
    /// Proxies whose `X-Forwarded-For` is believed: addresses or nets, with commas between them
    #[arg(long, env = "RIGORE_TRUSTED_PROXIES", value_delimiter = ',')]
    trusted_proxies: Vec<Trusted>,
    /// Address that tells `/health`, `/ready` and `/metrics` to those who watch over the server; none unless given
    #[arg(long, env = "RIGORE_WATCH")]
    watch: Option<SocketAddr>,
}

/// Where a shop is kept.
#[derive(clap::Args)]
struct Place {
    /// Its database
    #[arg(long, env = "DATABASE_URL")]
    database_url: Option<String>,
    /// Folder its private PostgreSQL lives in, where it has one
    #[arg(long, env = "RIGORE_DATA", default_value = "data")]
    data: PathBuf,
}

impl Place {
    /// As [`Place::open`], where a shop is kept already.
    fn visit(self) -> Result<(String, Option<Watched>)> {
        if self.database_url.is_none() && !self.data.join("pg").exists() {
            let data = self.data.display();
            anyhow::bail!("no shop is kept in `{data}`: --data or --database-url says where it is");
        }
        self.open()
    }

    /// Its address, and the private PostgreSQL that has to stay up meanwhile.
    fn open(self) -> Result<(String, Option<Watched>)> {
        if let Some(url) = self.database_url {
            return Ok((url, None));
        }
        let watched = Watched::start(&self.data)?;
        Ok((watched.cluster.url(), Some(watched)))
    }
}

/// Connections of a command that is done in a moment.
const FEW: u32 = 4;

/// What a command works on: the shop's store, and the private PostgreSQL that has to stay up meanwhile.
async fn at(place: Place) -> Result<(Store, Option<Watched>)> {
    let (url, watched) = place.visit()?;
    Ok((Store::connect(&url, FEW).await.context("opening the database")?, watched))
}

/// A pull is many small pieces of memory: this allocator halves what they cost.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[tokio::main]
async fn main() -> Result<ExitCode> {
    let args = Args::parse();
    log(args.log_format, &args.log)?;
    match args.command {
        Verb::Serve { place, connections, reached } => {
            let (url, _watched) = place.open()?;
            let store = Store::connect(&url, connections).await.context("opening the database")?;
            run(store, reached, false).await?;
        }
        Verb::Export { place, build, file } => {
            let (store, _watched) = at(place).await?;
            let archive = store.archive(build, time::OffsetDateTime::now_utc()).await?;
            fs::write(&file, &archive).with_context(|| file.display().to_string())?;
            say(format_args!("{} bytes", archive.len()));
        }
        Verb::Import { place, file } => {
            let (store, _watched) = at(place).await?;
            let archive = fs::read(&file).with_context(|| file.display().to_string())?;
            let by = Person { id: "console".into(), name: "The console".into(), role: Role::Lead };
            let came = store.take_in(&by, archive).await?;
            let how = if came.was_here { "was here already" } else { "came in" };
            say(format_args!("{} {how}, with {} entries: {}", came.name, came.entries, came.build));
        }
        Verb::Backup { place, file } => {
            let (url, _watched) = place.visit()?;
            backup::backup(&url, &file)?;
            say(format_args!("{} bytes in {}", fs::metadata(&file)?.len(), file.display()));
        }
        Verb::Restore { place, file } => {
            let (url, _watched) = place.open()?;
            backup::restore(&url, &file).await?;
            return verify(&Store::connect(&url, FEW).await?).await;
        }
        Verb::Password { place, person } => {
            let (store, _watched) = at(place).await?;
            return password(&store, &person).await;
        }
        Verb::Demo { database_url, data, port, fresh } => {
            let listen = SocketAddr::from(([127, 0, 0, 1], port.unwrap_or(0)));
            demonstrate(database_url, &data, listen, fresh).await?;
        }
        Verb::Calc { list: true, .. } => {
            say(serde_json::to_string_pretty(&calc::listed())?);
        }
        Verb::Calc { name, .. } => return calculate(&name.unwrap_or_default()),
        Verb::Check { files } => return check(&files),
        Verb::Verify { place } => {
            let (store, _watched) = at(place).await?;
            return verify(&store).await;
        }
        Verb::Rebuild { place } => {
            let (store, _watched) = at(place).await?;
            say(format_args!("{} builds listed again", store.rebuild().await?));
        }
        Verb::Openapi => say(openapi().to_pretty_json()?),
        Verb::Cluster { folder } => {
            let watched = Watched::start(&folder)?;
            say(watched.cluster.url());
            asked_to_end()?.await;
        }
    }
    Ok(ExitCode::SUCCESS)
}

fn log(format: LogFormat, filter: &str) -> Result<()> {
    let filter = EnvFilter::try_new(filter).context("--log")?;
    let log = tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr);
    match format {
        LogFormat::Text => log.init(),
        LogFormat::Json => log.json().init(),
    }
    Ok(())
}

/// Prints a line. A reader that went away, such as `head`, is no error.
fn say(line: impl Display) {
    let _ = writeln!(std::io::stdout(), "{line}");
}

/// A future that ends with Ctrl-C or TERM.
fn asked_to_end() -> Result<impl Future<Output = ()> + Send + 'static> {
    let (mut term, mut int) = (signal(SignalKind::terminate())?, signal(SignalKind::interrupt())?);
    Ok(async move {
        tokio::select! { _ = term.recv() => {}, _ = int.recv() => {} }
    })
}

/// A private PostgreSQL that is looked after, and stopped when this is dropped.
struct Watched {
    cluster: Arc<Cluster>,
    ended: Arc<AtomicBool>,
    watch: Option<JoinHandle<()>>,
}

impl Watched {
    fn start(folder: &Path) -> Result<Self> {
        let cluster = Arc::new(Cluster::start(&std::path::absolute(folder)?)?);
        let ended = Arc::new(AtomicBool::new(false));
        let (looked_after, told) = (Arc::clone(&cluster), Arc::clone(&ended));
        let watch = thread::spawn(move || looked_after.watch(|| told.load(Ordering::Relaxed)));
        Ok(Self { cluster, ended, watch: Some(watch) })
    }
}

impl Drop for Watched {
    fn drop(&mut self) {
        // It must not be started again while it is being stopped.
        self.ended.store(true, Ordering::Relaxed);
        if let Some(watch) = self.watch.take() {
            let _ = watch.join();
        }
    }
}

async fn run(store: Store, reached: Reached, demonstration: bool) -> Result<()> {
    let end = asked_to_end()?;
    let tls = reached.tls_certificate.as_deref().zip(reached.tls_key.as_deref());
    let secure = reached.behind_tls || tls.is_some();
    let mut settings = Settings { demonstration, secure, trusted: reached.trusted_proxies, code: None };
    if !settings.demonstration && store.members().await?.is_empty() {
        settings.code = Some(secrets::code().map_err(|problem| anyhow::anyhow!(problem.detail))?);
    }
    let at = reached.listen;
    let socket = Socket::bind(at, tls).await.with_context(|| format!("listening on {at}"))?;
    say(format_args!("Rigore is at {}", socket.url()?));
    if let Some(code) = &settings.code {
        say(format_args!("This shop is empty. Open that address and found it with the code {code}"));
    }
    let can_lead = |of: &Member| of.active && of.password.is_some() && of.person.role == Role::Lead;
    if !settings.demonstration && settings.code.is_none() && !store.members().await?.iter().any(can_lead) {
        say("No lead of this shop has a password yet: `rigore password NAME` on this computer gives one");
    }
    let app = App::new(store, settings).await?;
    if let Some(config) = socket.tls() {
        tokio::spawn(read_again(config, reached.tls_certificate, reached.tls_key));
    }
    if let Some(at) = reached.watch {
        let watch = Socket::bind(at, None).await.with_context(|| format!("listening on {at}"))?;
        tokio::spawn(watched(watch, app.clone()));
    }
    serve(socket, app, end).await?;
    Ok(())
}

/// Reads a certificate again whenever told HUP; one that cannot be read leaves the one before.
async fn read_again(config: RustlsConfig, certificate: Option<PathBuf>, key: Option<PathBuf>) -> Result<()> {
    let mut told = signal(SignalKind::hangup())?;
    let (certificate, key) = (certificate.unwrap_or_default(), key.unwrap_or_default());
    while told.recv().await.is_some() {
        match config.reload_from_pem_file(&certificate, &key).await {
            Ok(()) => tracing::info!("the certificate is read again"),
            Err(error) => tracing::error!(%error, "the certificate cannot be read; the one before stays"),
        }
    }
    Ok(())
}

/// Gives somebody the password that stands in a line of standard input.
async fn password(store: &Store, named: &str) -> Result<ExitCode> {
    let members = store.members().await?;
    let is_it = |of: &&Member| of.person.id == named || of.person.name == named;
    let member = members.iter().find(is_it).with_context(|| format!("nobody here is called {named}"))?;
    eprintln!("The password of {} from now on:", member.person.name);
    let mut line = String::new();
    std::io::stdin().read_line(&mut line)?;
    let hashed = secrets::password("password", line.trim_end_matches(['\r', '\n'])).await;
    let hashed = hashed.map_err(|problem| anyhow::anyhow!(problem.detail))?;
    let change = MemberChange { password: Some(hashed), active: Some(true), ..MemberChange::default() };
    store.change_member(&member.person, &member.person.id, &change).await?;
    say(format_args!("{} signs in by it now", member.person.name));
    Ok(ExitCode::SUCCESS)
}

async fn demonstrate(url: Option<String>, data: &Path, listen: SocketAddr, fresh: bool) -> Result<()> {
    let watched = match url {
        Some(_) => None,
        None => Some(Watched::start(data)?),
    };
    let url = url.or_else(|| watched.as_ref().map(|own| own.cluster.url())).unwrap_or_default();
    if fresh {
        Store::wipe(&url).await.context("throwing the demo data away")?;
    }
    let store = Store::connect(&url, 12).await.context("opening the database")?;
    let made = demo::load(&store).await?;
    if made > 0 {
        say(format_args!("{made} demo builds made"));
    }
    let reached = Reached {
        listen,
        tls_certificate: None,
        tls_key: None,
        behind_tls: false,
        trusted_proxies: Vec::new(),
        watch: None,
    };
    run(store, reached, true).await
}

fn calculate(name: &str) -> Result<ExitCode> {
    let mut text = String::new();
    std::io::stdin().read_to_string(&mut text)?;
    match calc::run(name, &text) {
        Ok(output) => say(output),
        Err(error) => {
            eprintln!("{error}");
            return Ok(ExitCode::from(2));
        }
    }
    Ok(ExitCode::SUCCESS)
}

fn check(files: &[PathBuf]) -> Result<ExitCode> {
    let mut code = ExitCode::SUCCESS;
    for file in files {
        let name = file.display().to_string();
        let source = fs::read_to_string(file).with_context(|| name.clone())?;
        let faults = match Plan::judge(&name, &source) {
            Ok((plan, warnings)) => {
                say(format_args!("{name}: {} can be used, {} operations", plan.name, plan.operations.len()));
                warnings
            }
            Err(faults) => {
                code = ExitCode::from(2);
                faults
            }
        };
        for fault in faults {
            say(fault);
        }
    }
    Ok(code)
}

async fn verify(store: &Store) -> Result<ExitCode> {
    let (builds, entries, broken) = store.verify().await?;
    say(format_args!("{builds} builds, {entries} entries walked, {} broken", broken.len()));
    for broken in &broken {
        say(broken);
    }
    Ok(if broken.is_empty() { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

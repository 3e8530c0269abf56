//! The `rigore` command.

mod command;

use anyhow::{Context, Result};
use clap::{Parser, Subcommand, ValueEnum};
use command::place::{ShopLocation, WatchedCluster, inside};
use command::serving::{PublicAddress, ServedShop, asked_to_end, connect_when_available, demonstrate, run};
use command::{say, tools};
use nix::sys::resource::{Resource, getrlimit, setrlimit};
use rigore_plan::calc;
use rigore_server::openapi;
use rigore_store::{backup, primary_url};
use std::io::IsTerminal;
use std::net::SocketAddr;
use std::path::PathBuf;
use std::process::ExitCode;
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
    #[arg(long, global = true, env = "RIGORE_LOG", default_value = "info,sqlx::postgres::notice=warn")]
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
        place: ShopLocation,
        /// Connections to the database
        #[arg(long, env = "RIGORE_CONNECTIONS", default_value_t = 12)]
        connections: u32,
        #[command(flatten)]
        reached: PublicAddress,
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
        place: ShopLocation,
        /// Id of the engine
        build: uuid::Uuid,
        /// The file
        file: PathBuf,
        /// Write an engine whose record is broken, as it is stored
        #[arg(long)]
        broken: bool,
    },
    /// Take an engine in from such a file
    Import {
        #[command(flatten)]
        place: ShopLocation,
        /// The file
        file: PathBuf,
    },
    /// Write all of the shop to a file
    Backup {
        #[command(flatten)]
        place: ShopLocation,
        /// The file, which is not there yet
        #[arg(required_unless_present = "to_folder")]
        file: Option<PathBuf>,
        /// Folder for a file that is named by its time, in place of a file; it is proven by restoring it
        #[arg(long, conflicts_with = "file")]
        to_folder: Option<PathBuf>,
        /// How many such files are kept in that folder
        #[arg(long, default_value_t = 14, requires = "to_folder", value_parser = clap::value_parser!(u16).range(1..))]
        keep: u16,
    },
    /// Read such a file into an empty database, and verify every record in it
    Restore {
        #[command(flatten)]
        place: ShopLocation,
        /// The file
        file: PathBuf,
    },
    /// Move the private PostgreSQL of a shop to the newest version that is installed; the old data are kept beside it
    UpgradeDatabase {
        /// Folder the private PostgreSQL lives in
        #[arg(long, env = "RIGORE_DATA", default_value = "data")]
        data: PathBuf,
        /// Make the data anew also where they are by that version already
        #[arg(long)]
        anew: bool,
    },
    /// Give somebody of the shop a password, read from standard input: for a lead who forgot theirs
    Password {
        #[command(flatten)]
        place: ShopLocation,
        /// Name or key of the person
        person: String,
    },
    /// Walk every build's chain and name the first broken link
    Verify {
        #[command(flatten)]
        place: ShopLocation,
        /// Instead, tell whether a sheet (JSON), an archive, or a printed hash is of this shop, and as of when
        #[arg(long)]
        sheet: Option<PathBuf>,
    },
    /// Make the lists again from the events
    Rebuild {
        #[command(flatten)]
        place: ShopLocation,
    },
    /// Print the OpenAPI document
    Openapi,
    /// Run a private PostgreSQL in a folder until told to end, and print its address
    Cluster {
        /// The folder
        folder: PathBuf,
    },
}

/// A pull is many small pieces of memory: this allocator halves what they cost.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

#[tokio::main]
async fn main() -> Result<ExitCode> {
    let args = Args::parse();
    log(args.log_format, &args.log)?;
    // Each browser holds a few connections: as many files may be open as the system allows. Where it does not, as many as
    // it gave are.
    if let Ok((_, most)) = getrlimit(Resource::RLIMIT_NOFILE) {
        let _ = setrlimit(Resource::RLIMIT_NOFILE, most, most);
    }
    match args.command {
        Verb::Serve { place, connections, reached } => {
            let data = place.private_folder();
            let (url, _watched) = place.open()?;
            let store = connect_when_available(&url, connections).await?;
            run(store, ServedShop { url, data, demonstration: false }, reached).await?;
        }
        Verb::Export { place, build, file, broken } => {
            place.within(async |store| tools::export(store, build, &file, broken).await).await?;
        }
        Verb::Import { place, file } => place.within(async |store| tools::import(store, &file).await).await?,
        Verb::Backup { place, file, to_folder, keep } => {
            let (url, _watched) = place.visit()?;
            let url = primary_url(&url).await?;
            tools::backup(&url, file, to_folder, usize::from(keep)).await?;
        }
        Verb::Restore { place, file } => {
            let (url, _watched) = place.open()?;
            let url = primary_url(&url).await?;
            backup::restore(&url, &file).await?;
            return inside(&url, None, tools::verify).await;
        }
        Verb::UpgradeDatabase { data, anew } => tools::upgrade_database(&data, anew).await?,
        Verb::Password { place, person } => {
            return place.within(async |store| tools::password(store, &person).await).await;
        }
        Verb::Demo { database_url, data, port, fresh } => {
            let listen = SocketAddr::from(([127, 0, 0, 1], port.unwrap_or(0)));
            demonstrate(ShopLocation { database_url, data }, listen, fresh).await?;
        }
        Verb::Calc { list: true, .. } => {
            say(serde_json::to_string_pretty(&calc::listings())?);
        }
        Verb::Calc { name, .. } => return tools::calculate(&name.unwrap_or_default()),
        Verb::Check { files } => return tools::check(&files),
        Verb::Verify { place, sheet: Some(sheet) } => {
            return place.within(async |store| tools::verify_sheet(store, &sheet).await).await;
        }
        Verb::Verify { place, sheet: None } => return place.within(tools::verify).await,
        Verb::Rebuild { place } => return place.within(tools::rebuild).await,
        Verb::Openapi => say(openapi().to_pretty_json()?),
        Verb::Cluster { folder } => {
            let watched = WatchedCluster::start(&folder)?;
            say(watched.cluster.url());
            asked_to_end(std::io::stdin().is_terminal())?.await;
        }
    }
    Ok(ExitCode::SUCCESS)
}

fn log(format: LogFormat, filter: &str) -> Result<()> {
    let filter = EnvFilter::try_new(filter).context("--log")?;
    let terminal = std::io::stderr().is_terminal();
    let log =
        tracing_subscriber::fmt().with_env_filter(filter).with_ansi(terminal).with_writer(std::io::stderr);
    match format {
        LogFormat::Text => log.init(),
        LogFormat::Json => log.json().init(),
    }
    Ok(())
}

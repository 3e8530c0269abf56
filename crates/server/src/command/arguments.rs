//! What the command line takes.

use crate::command::place::ShopLocation;
use crate::command::serving::PublicAddress;
use clap::{Parser, Subcommand, ValueEnum};
use std::path::PathBuf;

/// Plans, leads and records the assembly of performance engines.
#[derive(Parser)]
#[command(version, about)]
pub struct Arguments {
    /// What it is told to do.
    #[command(subcommand)]
    pub command: RigoreCommand,
    /// How the log is written to standard error
    #[arg(long, global = true, env = "RIGORE_LOG_FORMAT", default_value = "text")]
    pub log_format: LogFormat,
    /// What is logged, such as `info` or `rigore_server=debug,warn`
    #[arg(long, global = true, env = "RIGORE_LOG", default_value = "info,sqlx::postgres::notice=warn")]
    pub log: String,
}

/// How the log is written.
#[derive(Clone, Copy, ValueEnum)]
pub enum LogFormat {
    /// In lines that are read by a person
    Text,
    /// In lines of JSON
    Json,
}

/// What `rigore` is told to do.
#[derive(Subcommand)]
pub enum RigoreCommand {
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

//! What the `rigore` command does, by what it works on.

mod arguments;
mod output;
mod place;
mod serving;
mod tools;

use crate::router::openapi;
use anyhow::{Context, Result};
use arguments::{Arguments, LogFormat, RigoreCommand};
use clap::Parser;
use nix::sys::resource::{Resource, getrlimit, setrlimit};
use output::{progress, say};
use place::{ShopLocation, WatchedCluster, inside};
use rigore_plan::calc;
use rigore_store::{backup, primary_url};
use rigore_texts::{Language, with_language};
use serving::{ServedShop, asked_to_end, connect_when_available, demonstrate, run};
use std::env;
use std::io::IsTerminal;
use std::net::SocketAddr;
use std::process::ExitCode;
use tokio::runtime::Runtime;
use tracing_subscriber::Layer;
use tracing_subscriber::filter::Targets;
use tracing_subscriber::layer::SubscriberExt;
use tracing_subscriber::util::SubscriberInitExt;

/// Runs the command that the arguments of this process name.
///
/// # Errors
/// What kept it from being done.
pub fn run_command() -> Result<ExitCode> {
    let arguments = Arguments::parse();
    with_language(terminal_language(), || Runtime::new()?.block_on(carry_out(arguments)))
}

/// The language of the terminal, by the variables that all programs go by.
fn terminal_language() -> Language {
    let set = ["LC_ALL", "LC_MESSAGES", "LANG"]
        .into_iter()
        .find_map(|name| env::var(name).ok().filter(|value| !value.is_empty()));
    let tag = set.and_then(|set| set.split('.').next().map(|tag| tag.replace('_', "-")));
    tag.and_then(|tag| Language::from_tag(&tag)).unwrap_or_default()
}

async fn carry_out(args: Arguments) -> Result<ExitCode> {
    log(args.log_format, &args.log)?;
    // Each browser holds a few connections: as many files may be open as the system allows. Where it does not, as many as
    // it gave are.
    if let Ok((_, most)) = getrlimit(Resource::RLIMIT_NOFILE) {
        let _ = setrlimit(Resource::RLIMIT_NOFILE, most, most);
    }
    match args.command {
        RigoreCommand::Serve { place, connections, reached } => {
            let data = place.private_folder();
            let (url, _watched) = place.open()?;
            let store = connect_when_available(&url, connections).await?;
            run(store, ServedShop { url, data, demonstration: false }, reached).await?;
        }
        RigoreCommand::Export { place, build, file, broken } => {
            place.within(async |store| tools::export(store, build, &file, broken).await).await?;
        }
        RigoreCommand::Import { place, file } => {
            place.within(async |store| tools::import(store, &file).await).await?;
        }
        RigoreCommand::Backup { place, file, to_folder, keep } => {
            let (url, _watched) = place.visit()?;
            let url = primary_url(&url).await?;
            tools::backup(&url, file, to_folder, usize::from(keep)).await?;
        }
        RigoreCommand::Restore { place, file } => {
            let (url, _watched) = place.open()?;
            let url = primary_url(&url).await?;
            progress(format_args!("reading {}", file.display()));
            backup::restore(&url, &file).await?;
            progress("verifying every record");
            return inside(&url, None, tools::verify).await;
        }
        RigoreCommand::UpgradeDatabase { data, anew } => tools::upgrade_database(&data, anew).await?,
        RigoreCommand::Password { place, person } => {
            return place.within(async |store| tools::password(store, &person).await).await;
        }
        RigoreCommand::Demo { database_url, data, port, fresh } => {
            let listen = SocketAddr::from(([127, 0, 0, 1], port.unwrap_or(0)));
            demonstrate(ShopLocation { database_url, data }, listen, fresh).await?;
        }
        RigoreCommand::Calc { list: true, .. } => {
            say(serde_json::to_string_pretty(&calc::listings())?);
        }
        RigoreCommand::Calc { name, .. } => return tools::calculate(&name.unwrap_or_default()),
        RigoreCommand::Check { files } => return tools::check(&files),
        RigoreCommand::Verify { place, sheet: Some(sheet) } => {
            return place.within(async |store| tools::verify_sheet(store, &sheet).await).await;
        }
        RigoreCommand::Verify { place, sheet: None } => return place.within(tools::verify).await,
        RigoreCommand::Rebuild { place } => return place.within(tools::rebuild).await,
        RigoreCommand::Openapi => say(openapi().to_pretty_json()?),
        RigoreCommand::Cluster { folder } => {
            let watched = WatchedCluster::start(&folder)?;
            say(watched.cluster.url());
            asked_to_end(std::io::stdin().is_terminal())?.await;
        }
    }
    Ok(ExitCode::SUCCESS)
}

fn log(format: LogFormat, filter: &str) -> Result<()> {
    let filter: Targets = filter.parse().context("--log")?;
    let terminal = std::io::stderr().is_terminal();
    let lines = tracing_subscriber::fmt::layer().with_ansi(terminal).with_writer(std::io::stderr);
    let log = tracing_subscriber::registry();
    match format {
        LogFormat::Text => log.with(lines.with_filter(filter)).init(),
        LogFormat::Json => log.with(lines.json().with_filter(filter)).init(),
    }
    Ok(())
}

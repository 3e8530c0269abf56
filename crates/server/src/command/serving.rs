//! Serving a shop, or the demonstration, until asked to end.

use super::output::say;
use super::place::ShopLocation;
use crate::backup_plan::BackupPlan;
use crate::backups::make_backups;
use crate::trusted_proxy::TrustedProxy;
use crate::{App, Settings, Socket, demo, secrets, serve, serve_metrics};
use anyhow::{Context, Result};
use axum_server::tls_rustls::RustlsConfig;
use rigore_assembly::Role;
use rigore_mechanics::text;
use rigore_store::{Heads, Member, Store, StoreError};
use std::future::pending;
use std::io::{IsTerminal, stdin};
use std::net::SocketAddr;
use std::path::PathBuf;
use std::time::Duration;
use time::Time;
use time::macros::format_description;
use tokio::signal::unix::{Signal, SignalKind, signal};

/// How long to wait before trying again what the database did not answer.
const AGAIN: Duration = Duration::from_secs(5);

/// How browsers reach a shop.
#[derive(clap::Args)]
pub struct PublicAddress {
    /// Address to listen on
    #[arg(long, env = "RIGORE_LISTEN", default_value = "127.0.0.1:8097")]
    pub listen: SocketAddr,
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
    trusted_proxies: Vec<TrustedProxy>,
    /// Folder that a backup is written to every night, for a shop of one's own; beside the private database unless given
    #[arg(long, env = "RIGORE_BACKUP_FOLDER")]
    pub backup_folder: Option<PathBuf>,
    /// When that is, by the shop's clock
    #[arg(long, env = "RIGORE_BACKUP_TIME", default_value = "02:30", value_parser = time_of_day)]
    pub backup_time: Time,
    /// How many of them are kept
    #[arg(long, env = "RIGORE_BACKUP_KEEP", default_value_t = 14, value_parser = clap::value_parser!(u16).range(1..))]
    pub backup_keep: u16,
    /// Folder of the shop's key and of the heads that it signs; that of the private database unless given
    #[arg(long, env = "RIGORE_HEADS_FOLDER")]
    pub heads_folder: Option<PathBuf>,
    /// Names of this server, with commas between them: it answers to no other, but for addresses and localhost
    #[arg(long, env = "RIGORE_HOSTS", value_delimiter = ',')]
    hosts: Vec<String>,
    /// Address that tells `/health`, `/ready` and `/metrics` to those who watch over the server; none unless given
    #[arg(long, env = "RIGORE_WATCH")]
    watch: Option<SocketAddr>,
}

/// A time of the day such as `02:30`.
fn time_of_day(text: &str) -> Result<Time, String> {
    Time::parse(text, format_description!("[hour]:[minute]"))
        .map_err(|_| text!("command-no-time-day-such-as-02", text))
}

/// A future that ends with Ctrl-C or TERM, and where it is so wished with HUP.
pub fn asked_to_end(by_hup: bool) -> Result<impl Future<Output = ()> + Send + 'static> {
    let (mut term, mut int) = (signal(SignalKind::terminate())?, signal(SignalKind::interrupt())?);
    let mut hup = if by_hup { Some(signal(SignalKind::hangup())?) } else { None };
    Ok(async move {
        let hung_up = async {
            match &mut hup {
                Some(hup) => hup.recv().await,
                None => pending().await,
            }
        };
        tokio::select! { _ = term.recv() => {}, _ = int.recv() => {}, _ = hung_up => {} }
    })
}

/// Opens a database that may come up later than this server: a computer that starts has no order among its services.
pub async fn connect_when_available(url: &str, connections: u32) -> Result<Store> {
    let mut told = false;
    loop {
        match Store::connect(url, connections).await {
            Err(error @ StoreError::Unavailable(_)) => {
                if !told {
                    tracing::warn!(%error, "the database is not there yet; it is asked again until it is");
                    told = true;
                }
                tokio::time::sleep(AGAIN).await;
            }
            store => return store.context("opening the database"),
        }
    }
}

/// A shop that is served: its database, and where its data lie.
#[derive(Debug)]
pub struct ServedShop {
    /// Its database, by the role that owns it.
    pub url: String,
    /// The folder of its private PostgreSQL, where it has one.
    pub data: Option<PathBuf>,
    /// Whether it is the demonstration.
    pub demonstration: bool,
}

impl ServedShop {
    /// Where and when backups are made of it: of a shop of one's own, where a folder is given or it has one.
    fn backups(&self, reached: &PublicAddress) -> Option<BackupPlan> {
        let own = || self.data.as_ref().map(|data| data.join("backups"));
        let folder = reached.backup_folder.clone().or_else(own).filter(|_| !self.demonstration)?;
        let (url, time, keep) = (self.url.clone(), reached.backup_time, usize::from(reached.backup_keep));
        Some(BackupPlan { url, folder, time, keep })
    }
}

/// Serves what is in a store.
pub async fn run(store: Store, served: ServedShop, reached: PublicAddress) -> Result<()> {
    let demonstration = served.demonstration;
    let tls = reached.tls_certificate.as_deref().zip(reached.tls_key.as_deref());
    // HUP asks for the certificate. Where there is none, it says that the window was closed, if there is one.
    let windowed = tls.is_none() && stdin().is_terminal();
    let end = asked_to_end(windowed)?;
    let hup = if windowed { None } else { Some(signal(SignalKind::hangup())?) };
    let secure = reached.behind_tls || tls.is_some();
    let store = match reached.heads_folder.clone().or_else(|| served.data.clone()) {
        Some(folder) => {
            let heads = Heads::open(&folder).with_context(|| folder.display().to_string())?;
            store.with_heads(heads).await?
        }
        None => store,
    };
    let backups = served.backups(&reached);
    let backup_folder = backups.as_ref().map(|plan| plan.folder.clone());
    let disks = served.data.iter().cloned().chain(backup_folder.filter(|folder| folder.exists())).collect();
    let mut settings = Settings {
        backups,
        disks,
        certificate: reached.tls_certificate.clone(),
        demonstration,
        secure,
        trusted: reached.trusted_proxies,
        code: None,
        hosts: reached.hosts,
    };
    if !settings.demonstration && store.members().await?.is_empty() {
        settings.code = Some(secrets::code().map_err(|problem| anyhow::anyhow!(problem.detail))?);
    }
    let at = reached.listen;
    let socket = Socket::bind(at, tls).await.with_context(|| format!("listening on {at}"))?;
    say(text!("command-rigore-at", url = socket.url()?));
    if let Some(code) = &settings.code {
        say(text!("command-this-shop-empty-open-address-create", code));
    }
    let can_lead = |of: &Member| of.active && of.password.is_some() && of.person.role == Role::Lead;
    if !settings.demonstration && settings.code.is_none() && !store.members().await?.iter().any(can_lead) {
        say(text!("command-no-lead-this-shop-has-password"));
    }
    tokio::spawn(renew_lists(store.clone()));
    let app = App::new(store, settings).await?;
    if let Some(plan) = app.settings.backups.clone() {
        tokio::spawn(make_backups(app.clone(), plan));
    }
    let certificate = reached.tls_certificate.zip(reached.tls_key);
    let read = socket.tls().zip(certificate).map(|(config, (certificate, key))| (config, certificate, key));
    if let Some(hup) = hup {
        tokio::spawn(hung_up(hup, read));
    }
    if let Some(at) = reached.watch {
        let watch = Socket::bind(at, None).await.with_context(|| format!("listening on {at}"))?;
        tokio::spawn(serve_metrics(watch, app.clone()));
    }
    serve(socket, app, end).await?;
    Ok(())
}

/// Lists engines again that older rules have listed, while the shop is at work.
async fn renew_lists(store: Store) {
    while let Err(error) = store.renew_lists().await {
        tracing::warn!(%error, "listing engines again in a moment");
        tokio::time::sleep(AGAIN).await;
    }
}

/// At HUP reads the certificate again, where there is one; one that cannot be read leaves the one before.
async fn hung_up(mut told: Signal, read: Option<(RustlsConfig, PathBuf, PathBuf)>) {
    while told.recv().await.is_some() {
        let Some((config, certificate, key)) = &read else {
            tracing::info!("there is no certificate to be read again");
            continue;
        };
        match config.reload_from_pem_file(certificate, key).await {
            Ok(()) => tracing::info!("the certificate is read again"),
            Err(error) => tracing::error!(%error, "the certificate cannot be read; the one before stays"),
        }
    }
}

/// Serves the demonstration, loading it first where it is not there yet.
pub async fn demonstrate(place: ShopLocation, listen: SocketAddr, fresh: bool) -> Result<()> {
    let data = place.private_folder();
    let (url, _watched) = place.open()?;
    if fresh {
        Store::wipe(&url).await.context("throwing the demo data away")?;
    }
    let store = Store::connect(&url, 12).await.context("opening the database")?;
    let made = demo::load(&store).await?;
    if made > 0 {
        say(text!("command-demo-builds-made", made));
    }
    let reached = PublicAddress {
        listen,
        tls_certificate: None,
        tls_key: None,
        behind_tls: false,
        trusted_proxies: Vec::new(),
        backup_folder: None,
        heads_folder: None,
        backup_time: Time::MIDNIGHT,
        backup_keep: 1,
        // Nobody signs in there: no page of another site is to come in by a name of its own.
        hosts: vec!["localhost".to_owned()],
        watch: None,
    };
    run(store, ServedShop { url, data, demonstration: true }, reached).await
}

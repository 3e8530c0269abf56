//! A private PostgreSQL that dies is not taken for a running one, and is started again.

use nix::sys::signal::{Signal, kill};
use nix::unistd::Pid;
use rigore_store::Store;
use rigore_store::cluster::Cluster;
use std::net::TcpListener;
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// The number that the server wrote down.
fn running(folder: &Path) -> Option<Pid> {
    let file = std::fs::read_to_string(folder.join("pg/postmaster.pid")).ok()?;
    Some(Pid::from_raw(file.lines().next()?.parse().ok()?))
}

/// Ends the server at once, as the system does when memory runs out.
fn kill_server(folder: &Path) -> Pid {
    let pid = running(folder).expect("a running server");
    kill(pid, Signal::SIGKILL).expect("killed");
    pid
}

async fn answers(url: &str) -> bool {
    match Store::connect(url, 1).await {
        Ok(store) => store.list(&rigore_store::Wanted::default()).await.is_ok(),
        Err(_) => false,
    }
}

/// Host and port of a database's address.
fn address(url: &str) -> &str {
    let at = url.rsplit_once('@').expect("a user").1;
    at.split_once('/').expect("a database").0
}

#[tokio::test]
async fn a_server_that_was_killed_a_moment_ago_is_started_anew() {
    let folder = tempfile::Builder::new().prefix("rigore-killed").tempdir().expect("a folder");
    let first = Cluster::start(folder.path()).expect("a cluster");
    assert!(first.answers() && answers(&first.url()).await);
    let first_url = first.url();
    kill_server(folder.path());
    drop(first);
    // At once: what it left behind still says that it runs, and its number may still be there.
    let second = Cluster::start(folder.path()).expect("started anew");
    assert!(second.answers() && answers(&second.url()).await);
    // Whoever knew its address comes back by it.
    assert_eq!(first_url, second.url());
    // One that answers is taken up, not started twice.
    let third = Cluster::start(folder.path()).expect("taken up");
    assert_eq!(third.url(), second.url());
    drop((third, second));
    let taken = TcpListener::bind(address(&first_url)).expect("its port is free again");
    let fourth = Cluster::start(folder.path()).expect("started where its port is taken");
    assert!(address(&fourth.url()) != address(&first_url) && answers(&fourth.url()).await);
    drop(taken);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_guest_stops_nothing_and_keeps_the_server_once_its_keeper_has_ended() {
    let folder = tempfile::Builder::new().prefix("rigore-guest").tempdir().expect("a folder");
    let keeper = Cluster::start(folder.path()).expect("a cluster");
    // A backup, say, while the shop works.
    drop(Cluster::start(folder.path()).expect("a guest"));
    assert!(answers(&keeper.url()).await);
    let guest = Arc::new(Cluster::start(folder.path()).expect("another server on the same folder"));
    let ended = Arc::new(AtomicBool::new(false));
    let watch = std::thread::spawn({
        let (guest, ended) = (Arc::clone(&guest), Arc::clone(&ended));
        move || guest.watch(|| ended.load(Ordering::Relaxed))
    });
    drop(keeper);
    let start = Instant::now();
    while !guest.answers() {
        assert!(start.elapsed() < Duration::from_secs(60), "it never answered again");
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    ended.store(true, Ordering::Relaxed);
    watch.join().expect("the watch ends");
    drop(guest);
    assert!(running(folder.path()).is_none(), "its last keeper stopped it");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_server_that_dies_under_a_running_rigore_is_started_again() {
    let folder = tempfile::Builder::new().prefix("rigore-watched").tempdir().expect("a folder");
    let cluster = Arc::new(Cluster::start(folder.path()).expect("a cluster"));
    let ended = Arc::new(AtomicBool::new(false));
    let watch = std::thread::spawn({
        let (cluster, ended) = (Arc::clone(&cluster), Arc::clone(&ended));
        move || cluster.watch(|| ended.load(Ordering::Relaxed))
    });
    let store = Store::connect(&cluster.url(), 2).await.expect("a store");
    let killed = kill_server(folder.path());
    let start = Instant::now();
    // Whoever waits is answered again by the same address, without a word of theirs. A process of the
    // killed server may answer once more before it notices that it is alone.
    while running(folder.path()) == Some(killed) || !cluster.answers() || store.plans().await.is_err() {
        assert!(start.elapsed() < Duration::from_secs(60), "it never answered again");
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    ended.store(true, Ordering::Relaxed);
    watch.join().expect("the watch ends");
}

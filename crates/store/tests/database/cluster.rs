//! A private PostgreSQL that dies is not taken for a running one, and is started again.

use nix::sys::signal::{Signal, kill};
use nix::unistd::{Pid, Uid};
use rigore_store::cluster::Cluster;
use rigore_store::{Store, upgrade};
use sqlx::postgres::PgConnectOptions;
use sqlx::{AssertSqlSafe, Connection, PgConnection};
use std::fs::Permissions;
use std::os::unix::fs::PermissionsExt;
use std::path::Path;
use std::process::{Command, Stdio};
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
        Ok(store) => store.list(&rigore_store::ListQuery::default()).await.is_ok(),
        Err(_) => false,
    }
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
}

/// What a server wrote down of where it is reached: the address on a network, which is empty where there is none.
fn network_address(folder: &Path) -> String {
    let file = std::fs::read_to_string(folder.join("pg/postmaster.pid")).expect("a running server");
    file.lines().nth(5).expect("an address").trim().to_owned()
}

#[tokio::test]
async fn nobody_but_its_user_and_root_gets_to_a_private_server() {
    let folder = tempfile::Builder::new().prefix("rigore-private").tempdir().expect("a folder");
    std::fs::set_permissions(folder.path(), Permissions::from_mode(0o755)).expect("open to all");
    let cluster = Cluster::start(folder.path()).expect("a cluster");
    assert!(answers(&cluster.url()).await);
    assert_eq!(network_address(folder.path()), "", "it listens on no network");
    let mode =
        |of: &str| std::fs::metadata(folder.path().join(of)).expect("it is there").permissions().mode();
    assert_eq!((mode("socket") & 0o777, mode("pg") & 0o777), (0o700, 0o700));
    let rules = std::fs::read_to_string(folder.path().join("pg/pg_hba.conf")).expect("rules");
    let rules: Vec<&str> = rules.lines().filter(|line| !line.starts_with('#')).collect();
    assert_eq!(rules, ["local all all peer map=rigore"]);
    // Whoever is another role to the system is none here.
    let mut url: PgConnectOptions = cluster.url().parse().expect("an address");
    url = url.username("postgres");
    assert!(PgConnection::connect_with(&url).await.is_err());
}

#[tokio::test]
async fn the_role_that_a_server_works_by_can_add_to_the_record_and_change_nothing_of_it() {
    let folder = tempfile::Builder::new().prefix("rigore-role").tempdir().expect("a folder");
    let cluster = Cluster::start(folder.path()).expect("a cluster");
    Store::connect(&cluster.url(), 1).await.expect("tables and roles").close().await;
    let options: PgConnectOptions = cluster.url().parse().expect("an address");
    let mut server =
        PgConnection::connect_with(&options.username("rigore_server")).await.expect("let in by the socket");
    let is_superuser: bool = sqlx::query_scalar("SELECT rolsuper FROM pg_roles WHERE rolname = current_user")
        .fetch_one(&mut server)
        .await
        .expect("a role");
    assert!(!is_superuser);
    let add =
        "INSERT INTO events (build_id, seq, body, hash) VALUES (gen_random_uuid(), 1, '{}', sha256('x'))";
    sqlx::raw_sql(add).execute(&mut server).await.expect("it may add");
    for refused in [
        "UPDATE events SET body = ''",
        "DELETE FROM events",
        "TRUNCATE events",
        "ALTER TABLE events DISABLE TRIGGER events_stay",
        "DROP TRIGGER events_stay ON events",
        "UPDATE plans SET source = ''",
        "DELETE FROM pictures",
        "SET ROLE rigore",
        "COPY events TO PROGRAM 'true'",
        "CREATE TABLE more (x int)",
    ] {
        let error = sqlx::raw_sql(AssertSqlSafe(refused)).execute(&mut server).await.expect_err(refused);
        let code = error
            .as_database_error()
            .and_then(sqlx::error::DatabaseError::code)
            .unwrap_or_default()
            .into_owned();
        assert_eq!(code, "42501", "{refused}: {error}");
    }
}

#[tokio::test]
async fn a_server_that_an_earlier_rigore_left_open_is_started_again_behind_a_socket() {
    let folder = tempfile::Builder::new().prefix("rigore-earlier").tempdir().expect("a folder");
    // It is made as it is now, and opened as it was then.
    let cluster = Cluster::start(folder.path()).expect("a cluster");
    let store = Store::connect(&cluster.url(), 1).await.expect("a store");
    store.add_roster(&rigore_store::Roster::default()).await.expect("something is in it");
    store.close().await;
    drop(cluster);
    let port =
        std::net::TcpListener::bind("127.0.0.1:0").and_then(|free| free.local_addr()).expect("a port").port();
    let data = folder.path().join("pg");
    std::fs::write(data.join("pg_hba.conf"), "host all all 127.0.0.1/32 trust\n").expect("as it was");
    let mut open =
        Command::new(if Uid::effective().is_root() { "/usr/sbin/runuser" } else { "/usr/bin/env" });
    if Uid::effective().is_root() {
        open.args(["-u", "postgres", "--"]);
    }
    let version = std::fs::read_to_string(data.join("PG_VERSION")).expect("a version");
    open.arg(format!("/usr/lib/postgresql/{}/bin/pg_ctl", version.trim())).arg("-D").arg(&data);
    open.args(["-w", "-s", "-l"]).arg(data.join("server.log")).arg("-o");
    open.arg(format!("-p {port} -h 127.0.0.1 -c unix_socket_directories=''")).arg("start");
    assert!(open.stdout(Stdio::null()).stderr(Stdio::null()).status().expect("run").success());
    let old = format!("postgres://rigore@127.0.0.1:{port}/postgres");
    assert!(PgConnection::connect(&old).await.is_ok(), "anybody got in");
    let now = Cluster::start(folder.path()).expect("started again");
    assert!(PgConnection::connect(&old).await.is_err(), "nobody does");
    assert!(answers(&now.url()).await);
    assert_eq!(network_address(folder.path()), "");
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

#[tokio::test]
async fn data_go_to_another_version_by_dump_and_restore_and_stay_as_they_were_beside_it() {
    let folder = tempfile::Builder::new().prefix("rigore-upgraded").tempdir().expect("a folder");
    let cluster = Cluster::start(folder.path()).expect("a cluster");
    let bench = crate::record::Bench::begun(Store::connect(&cluster.url(), 2).await.expect("a store")).await;
    bench.give(crate::record::pull("2L")).await.expect("recorded");
    // While somebody keeps it, nothing is moved; nor where nothing is newer.
    let kept = upgrade::upgrade(folder.path(), true).await.expect_err("it is kept").to_string();
    assert!(kept.contains("end it first"), "{kept}");
    bench.store.close().await;
    drop(cluster);
    let newest = upgrade::upgrade(folder.path(), false).await.expect_err("nothing is newer").to_string();
    assert!(newest.contains("already"), "{newest}");
    let upgraded = upgrade::upgrade(folder.path(), true).await.expect("moved");
    assert_eq!((upgraded.proof.builds, upgraded.proof.entries), (1, 2));
    assert!(upgraded.before.join("PG_VERSION").exists() && upgraded.dump.exists());
    let now = Cluster::start(folder.path()).expect("the new one");
    let store = Store::connect(&now.url(), 2).await.expect("a store");
    let bench = crate::record::Bench::beside(&bench, store);
    bench.give(crate::record::pull("2R")).await.expect("it goes on");
    assert_eq!(bench.seq().await, 3);
}

#[test]
fn a_folder_that_cannot_be_used_is_named_and_the_log_of_the_database_has_a_file_for_each_day() {
    let folder = tempfile::Builder::new().prefix("rigore-cluster").tempdir().expect("a folder");
    std::fs::set_permissions(folder.path(), Permissions::from_mode(0o755)).expect("open to all");
    let file = folder.path().join("a file");
    std::fs::write(&file, "").expect("written");
    let within = file.join("shop");
    let error = Cluster::start(&within).expect_err("no folder can be made in a file").to_string();
    assert!(error.contains(&within.display().to_string()), "{error}");
    let shop = folder.path().join("shop");
    let cluster = Cluster::start(&shop).expect("a database");
    cluster.stop().expect("stopped");
    let logs = std::fs::read_dir(shop.join("pg/log")).expect("a folder").flatten();
    let names: Vec<String> = logs.map(|log| log.file_name().to_string_lossy().into_owned()).collect();
    let is_of_a_day = |name: &String| name.starts_with("server-") && name.len() == "server-Mon.log".len();
    assert!(names.len() == 1 && names.iter().all(is_of_a_day), "{names:?}");
}

//! Backups happen by themselves, are proven, and leads are told where they fail.

use crate::harness::{app, found, serving};
use reqwest::Client;
use rigore_server::Settings;
use rigore_server::backup_plan::BackupPlan;
use rigore_server::backups::make_backups;
use rigore_store::Scratch;
use serde_json::{Value, json};
use std::os::unix::fs::PermissionsExt;
use std::path::Path;
use std::time::{Duration, Instant};
use time::macros::time;

/// What a lead is told of the server, once it is as asked for.
async fn told(client: &Client, base: &str, until: impl Fn(&Value) -> bool) -> Value {
    let start = Instant::now();
    loop {
        let faults = client.get(format!("{base}/api/shop-faults")).send().await.expect("an answer");
        let faults: Value = faults.json().await.expect("JSON");
        if until(&faults) {
            return faults;
        }
        assert!(start.elapsed() < Duration::from_secs(150), "{faults}");
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
}

/// An empty shop that is founded, with backups in a folder, and a lead in it.
async fn shop(scratch: &Scratch, folder: &Path) -> (String, Client) {
    let (url, folder) = (scratch.url.clone(), folder.to_owned());
    let plan = BackupPlan { url, folder, time: time!(00:00), keep: 2 };
    let code = Some("4821-7730".to_owned());
    let settings = Settings { code, backups: Some(plan.clone()), ..Settings::default() };
    let app = app(&scratch.url, settings).await;
    tokio::spawn(make_backups(app.clone(), plan));
    let base = serving(app, None).await;
    let (client, _) = found(&base, "4821-7730").await;
    (base, client)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_is_made_proven_and_told() {
    let (scratch, folder) =
        (Scratch::new().await.expect("a database"), tempfile::tempdir().expect("a folder"));
    let (base, client) = shop(&scratch, &folder.path().join("made by itself")).await;
    let faults = told(&client, &base, |of| !of["proven"].is_null()).await;
    assert_eq!(faults["faults"], json!([]));
    let file = Path::new(faults["file"].as_str().expect("a file"));
    assert!(file.starts_with(folder.path()), "{file:?}");
    assert_eq!(std::fs::metadata(file).expect("it is there").permissions().mode() & 0o777, 0o600);
    // What it was proven in is gone.
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    let left = "SELECT count(*) FROM pg_database WHERE datname LIKE 'rigore_proof_%'";
    let left: i64 = sqlx::query_scalar(left).fetch_one(&pool).await.expect("counted");
    assert_eq!(left, 0);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_backup_that_fails_is_told_with_the_file_it_failed_at() {
    let (scratch, folder) =
        (Scratch::new().await.expect("a database"), tempfile::tempdir().expect("a folder"));
    // Its folder is a file.
    let file = folder.path().join("taken");
    std::fs::write(&file, "something else").expect("written");
    let (base, client) = shop(&scratch, &file).await;
    let faults = told(&client, &base, |of| of["faults"].as_array().is_some_and(|of| !of.is_empty())).await;
    let says = faults["faults"][0].as_str().expect("words");
    assert!(says.starts_with("The last backup failed"), "{says}");
    assert_eq!(faults["proven"], Value::Null);
}

//! What is stored against what was recorded: what was changed around Rigore is told when it is read, an id is used once, and
//! an engine that hangs holds up no other.

use crate::record::{Bench, everything, pull, scratch};
use rigore_assembly::{Command, Person, Refusal, Role};
use rigore_store::{Hash, Roster, Scratch, Store, StoreError, link};
use serde_json::json;
use std::time::Duration;
use time::OffsetDateTime;
use uuid::Uuid;

#[tokio::test]
async fn a_record_that_was_changed_is_told_when_it_is_read_and_not_gone_on_from() {
    let (scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    for fastener in ["2L", "2R", "1L"] {
        bench.give(pull(fastener)).await.expect("recorded");
    }
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    let tamper = |sql: &'static str| {
        let pool = pool.clone();
        async move { sqlx::raw_sql(sql).execute(&pool).await.expect("a superuser can") }
    };
    tamper("ALTER TABLE events DISABLE TRIGGER events_stay").await;
    tamper("UPDATE events SET body = body || ' ' WHERE seq = 3").await;
    // Another server reads it anew.
    let other = Store::connect(&scratch.url, 4).await.expect("another process");
    let error = other.read(bench.build(), |_| ()).await.unwrap_err();
    let StoreError::Broken(broken) = error else { panic!("{error}") };
    assert_eq!((broken.build, broken.seq), (bench.build(), 3));
    assert!(broken.what.contains("does not match its hash"), "{}", broken.what);
    // Since when that is known stays, however often it is met; nothing is recorded or exported but as broken.
    let again = Bench::beside(&bench, other.clone());
    let StoreError::Broken(refused) = again.give(pull("1R")).await.unwrap_err() else { panic!("recorded") };
    assert_eq!(refused.found, broken.found);
    let list = other.list(&everything()).await.expect("a list");
    assert!(list.rows.iter().all(|row| row.broken), "the shop sees it");
    let now = OffsetDateTime::now_utc();
    assert!(matches!(other.archive(bench.build(), now).await, Err(StoreError::Broken(_))));
    let archive = other.broken_archive(bench.build(), now).await.expect("as broken");
    let elsewhere = Scratch::new().await.expect("a database");
    let elsewhere = Store::connect(&elsewhere.url, 2).await.expect("another shop");
    let by = Person { id: "lead".into(), name: "Lead".into(), role: Role::Lead };
    let comes_in = elsewhere.take_in(&by, archive).await.expect_err("it comes in nowhere").to_string();
    assert!(comes_in.contains("was broken where it was written"), "{comes_in}");
    let (made, failed) = other.rebuild().await.expect("it goes on past it");
    assert_eq!((made, failed.len()), (0, 1));
    // Put back as it was, it is whole again.
    tamper("UPDATE events SET body = rtrim(body) WHERE seq = 3").await;
    assert_eq!(other.verify().await.expect("walked").2, vec![]);
    again.give(pull("1R")).await.expect("recorded");
    assert!(matches!(other.broken_archive(bench.build(), now).await, Err(StoreError::NotThere(_))));
}

#[tokio::test]
async fn a_plan_text_that_was_changed_asks_for_no_torque() {
    let (scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    sqlx::raw_sql("UPDATE plans SET source = replace(source, '30', '99')")
        .execute(&pool)
        .await
        .expect("changed");
    let other = Store::connect(&scratch.url, 4).await.expect("another process");
    let error = other.read(bench.build(), |_| ()).await.unwrap_err();
    assert!(matches!(&error, StoreError::ChangedFile(what) if what.contains("plan")), "{error}");
    let files = other.verify_files().await.expect("looked at");
    assert!(files.len() == 1 && files[0].starts_with("plan "), "{files:?}");
}

#[tokio::test]
async fn an_entry_of_a_newer_format_is_told_as_that() {
    let (scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let event = &bench.store.events(bench.build()).await.expect("events")[0];
    let mut newer = serde_json::to_value(event).expect("JSON");
    (newer["v"], newer["seq"], newer["fact"]) = (json!(200), json!(2), json!({ "type": "thought" }));
    let hash = bench.store.hash_of(bench.build(), 1).await.expect("a hash");
    let before: Hash = hex::decode(hash).expect("digits").try_into().expect("32 bytes");
    let body = newer.to_string();
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    sqlx::query("INSERT INTO events (build_id, seq, body, hash) VALUES ($1, 2, $2, $3)")
        .bind(bench.build())
        .bind(&body)
        .bind(link(&before, &body).to_vec())
        .execute(&pool)
        .await
        .expect("written by a newer one");
    let error = bench.store.read(bench.build(), |_| ()).await.unwrap_err();
    assert!(matches!(error, StoreError::Newer(_)), "{error}");
}

#[tokio::test]
async fn an_id_that_was_used_is_not_used_for_another_command_nor_by_another_person() {
    let (_scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let command = Command { id: Uuid::now_v7(), seen: 1, action: pull("2L") };
    bench.send(&command).await.expect("recorded");
    let again = Command { seen: 7, ..command.clone() };
    assert!(bench.send(&again).await.expect("answered again").repeated);
    let other = Command { action: pull("2R"), ..command.clone() };
    let refused = bench.send(&other).await.unwrap_err();
    assert!(
        matches!(&refused, StoreError::Refused(Refusal { field: Some("id"), .. })),
        "another command by that id: {refused}"
    );
    let roster = Roster::default();
    for role in [Role::Viewer, Role::Bench] {
        let by = Person { id: "other".into(), name: "Other".into(), role };
        let asked =
            bench.store.record(bench.build(), &by, &roster, OffsetDateTime::now_utc(), &command).await;
        assert!(matches!(asked, Err(StoreError::Refused(_))), "nor is it answered to {role:?}");
    }
    assert_eq!(bench.seq().await, 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_row_that_somebody_holds_stops_its_own_engine_and_no_other() {
    let (scratch, store) = scratch().await;
    let held = Bench::begun(store.clone()).await;
    let free = Bench::begun(store).await;
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    let mut holder = pool.begin().await.expect("a transaction");
    sqlx::query("SELECT 1 FROM builds WHERE id = $1 FOR UPDATE")
        .bind(held.build())
        .execute(&mut *holder)
        .await
        .expect("held");
    let stuck = tokio::spawn({
        let held = held.clone();
        async move { held.give(pull("2L")).await }
    });
    // The other engine goes on meanwhile, pull after pull.
    let fasteners = ["2L", "2R", "1L", "1R"];
    let goes_on = async {
        for fastener in fasteners {
            free.give(pull(fastener)).await.expect("recorded");
        }
    };
    tokio::time::timeout(Duration::from_secs(2), goes_on).await.expect("it did not wait for the other");
    let told = tokio::time::timeout(Duration::from_secs(5), stuck).await.expect("told in time").expect("ran");
    assert!(matches!(told, Err(StoreError::Unavailable(_))), "it is told, not left waiting: {told:?}");
    holder.rollback().await.expect("let go");
    held.give(pull("2L")).await.expect("recorded");
    assert_eq!((held.seq().await, free.seq().await), (2, 5));
}

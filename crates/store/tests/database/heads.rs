//! What the shop has signed of its records is missed where it is not there any more: an end that was cut off, a record that
//! was made anew with hashes that agree, an engine that was removed.

use crate::record::{Bench, pull, scratch as shop};
use rigore_assembly::{CommandAction, ConfirmCommand, Person, Role, SignCommand};
use rigore_store::{Heads, Scratch, Store, StoreError, link, root};
use sqlx::PgPool;
use std::io::{Cursor, Read, Write};
use std::path::Path;
use time::OffsetDateTime;
use uuid::Uuid;
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

/// The store of a shop that signs, by the key in a folder.
async fn signing(scratch: &Scratch, folder: &Path) -> Store {
    let store = Store::connect(&scratch.url, 4).await.expect("a store");
    store.with_heads(Heads::open(folder).expect("a key")).await.expect("heads")
}

/// An engine with a signature on its fourth entry, and a pull after it.
async fn signed(scratch: &Scratch, folder: &Path) -> Bench {
    let bench = Bench::begun(signing(scratch, folder).await).await;
    let operation = || "prepare".to_owned();
    for item in ["threads", "holes"] {
        bench
            .give(CommandAction::Confirm(ConfirmCommand { operation: operation(), item: item.into() }))
            .await
            .expect("confirmed");
    }
    bench.give(CommandAction::Sign(SignCommand::one(operation()))).await.expect("signed");
    bench.give(pull("2L")).await.expect("recorded");
    bench
}

async fn tampering(scratch: &Scratch) -> PgPool {
    let pool = PgPool::connect(&scratch.url).await.expect("a connection");
    sqlx::raw_sql("ALTER TABLE events DISABLE TRIGGER events_stay")
        .execute(&pool)
        .await
        .expect("a superuser can");
    pool
}

#[tokio::test]
async fn an_end_that_was_cut_off_and_an_engine_that_was_removed_are_missed() {
    let (scratch, folder) =
        (Scratch::new().await.expect("a database"), tempfile::tempdir().expect("a folder"));
    let bench = signed(&scratch, folder.path()).await;
    let head = bench.store.head(bench.build()).expect("it is signed");
    assert!(head.is_genuine() && head.seq >= 4, "{head:?}");
    assert_eq!(bench.store.verify().await.expect("walked").2, vec![]);
    // Its end is cut off so that chain and list agree, and what the database knows of its head with it.
    let pool = tampering(&scratch).await;
    let cut = head.seq.cast_signed() - 1;
    for sql in [
        "DELETE FROM events WHERE build_id = $1 AND seq > $2",
        "UPDATE builds SET seq = $2 WHERE id = $1",
        "DELETE FROM heads WHERE build_id = $1 AND seq > $2",
    ] {
        sqlx::query(sql).bind(bench.build()).bind(cut).execute(&pool).await.expect("cut off");
    }
    let store = signing(&scratch, folder.path()).await;
    let StoreError::Broken(broken) = store.read(bench.build(), |_| ()).await.unwrap_err() else {
        panic!("read")
    };
    assert_eq!(broken.seq, head.seq);
    assert!(broken.what.contains("was there when the shop signed"), "{}", broken.what);
    assert_eq!(store.verify().await.expect("walked").2.len(), 1);
    // The whole engine is gone.
    for table in ["events", "outlooks", "build_words", "times", "lives", "nut_factors"] {
        let sql = sqlx::AssertSqlSafe(format!("DELETE FROM {table} WHERE build_id = $1"));
        sqlx::query(sql).bind(bench.build()).execute(&pool).await.expect("removed");
    }
    sqlx::query("DELETE FROM builds WHERE id = $1")
        .bind(bench.build())
        .execute(&pool)
        .await
        .expect("removed");
    let (_, _, missed) = signing(&scratch, folder.path()).await.verify().await.expect("walked");
    assert!(missed.len() == 1 && missed[0].build == bench.build(), "{missed:?}");
    // A file that was removed is not the only place: a database that still has its heads misses it, too.
    let other = tempfile::tempdir().expect("a folder");
    std::fs::copy(folder.path().join("shop.key"), other.path().join("shop.key")).expect("the key");
    assert!(
        signing(&scratch, other.path()).await.head(bench.build()).is_none(),
        "they were removed from it above"
    );
}

/// The whole chain of a record made anew after one entry was changed, so that all hashes agree.
async fn made_anew(pool: &PgPool, build: Uuid) {
    let rows: Vec<(i64, String)> =
        sqlx::query_as("SELECT seq, body FROM events WHERE build_id = $1 ORDER BY seq")
            .bind(build)
            .fetch_all(pool)
            .await
            .expect("entries");
    let mut hash = root(build);
    for (seq, body) in rows {
        let body = body.replace("\"threads\"", "\"threadz\"");
        hash = link(&hash, &body);
        sqlx::query("UPDATE events SET body = $3, hash = $4 WHERE build_id = $1 AND seq = $2")
            .bind(build)
            .bind(seq)
            .bind(&body)
            .bind(hash.to_vec())
            .execute(pool)
            .await
            .expect("made anew");
    }
}

#[tokio::test]
async fn a_record_that_was_made_anew_is_not_the_one_that_was_signed() {
    let (scratch, folder) =
        (Scratch::new().await.expect("a database"), tempfile::tempdir().expect("a folder"));
    let bench = signed(&scratch, folder.path()).await;
    let pool = tampering(&scratch).await;
    made_anew(&pool, bench.build()).await;
    // The chain alone holds; what was signed does not.
    let unsigned = Store::connect(&scratch.url, 2).await.expect("a store");
    assert_eq!(unsigned.verify().await.expect("walked").2, vec![]);
    let store = signing(&scratch, folder.path()).await;
    let StoreError::Broken(broken) = store.read(bench.build(), |_| ()).await.unwrap_err() else {
        panic!("read")
    };
    assert!(broken.what.contains("another than the one that the shop signed"), "{}", broken.what);
}

/// An archive with its manifest changed.
fn with_manifest(archive: &[u8], change: impl Fn(&mut serde_json::Value)) -> Vec<u8> {
    let mut from = ZipArchive::new(Cursor::new(archive)).expect("a zip");
    let mut to = ZipWriter::new(Cursor::new(Vec::new()));
    for at in 0..from.len() {
        let mut file = from.by_index(at).expect("a file");
        let name = file.name().expect("a name").into_owned();
        let mut bytes = Vec::new();
        file.read_to_end(&mut bytes).expect("read");
        if name == "manifest.json" {
            let mut manifest = serde_json::from_slice(&bytes).expect("JSON");
            change(&mut manifest);
            bytes = manifest.to_string().into_bytes();
        }
        to.start_file(name, SimpleFileOptions::default()).expect("a file");
        to.write_all(&bytes).expect("written");
    }
    to.finish().expect("a zip").into_inner()
}

#[tokio::test]
async fn an_archive_says_who_has_signed_it_and_a_forged_one_does_not_come_in() {
    let (scratch, folder) =
        (Scratch::new().await.expect("a database"), tempfile::tempdir().expect("a folder"));
    let bench = signed(&scratch, folder.path()).await;
    let archive = bench.store.archive(bench.build(), OffsetDateTime::now_utc()).await.expect("an archive");
    let by = Person { id: "lead".into(), name: "Lead".into(), role: Role::Lead };
    let (_elsewhere, other) = shop().await;
    let forged = with_manifest(&archive, |manifest| manifest["head"]["hash"] = "00".repeat(32).into());
    let says = other.take_in(&by, forged).await.expect_err("it is forged").to_string();
    assert!(says.contains("not those that the shop with the key"), "{says}");
    let stripped = with_manifest(&archive, |manifest| {
        manifest.as_object_mut().expect("fields").remove("head");
    });
    assert_eq!(other.take_in(&by, stripped).await.expect("it comes in").signed_by, None, "as not signed");
    let (_third, third) = shop().await;
    let came = third.take_in(&by, archive).await.expect("it comes in");
    assert_eq!(came.signed_by, Some(Heads::open(folder.path()).expect("a key").public()));
    // A printed hash is found with the entry that it is of.
    let hash = bench.store.hash_of(bench.build(), 2).await.expect("a hash");
    for of in [None, Some(bench.build())] {
        let found = bench.store.printed_entry(&hash, of).await.expect("found");
        assert_eq!((found.build, found.seq, found.entries), (bench.build(), 2, bench.seq().await));
    }
    for (hash, of) in [(hash.as_str(), Some(Uuid::nil())), ("nonsense", None)] {
        assert!(matches!(bench.store.printed_entry(hash, of).await, Err(StoreError::NotThere(_))));
    }
}

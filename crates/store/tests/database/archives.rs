//! An engine that leaves one shop as a file and comes into another; a whole shop that is backed up and comes back.

use crate::record::Bench;
use rigore_assembly::{
    CommandAction, FindingCommand, FindingSubject, GivenReading, Person, PullCommand, ReadingMethod, Role,
};
use rigore_store::{ArchiveError, Scratch, Store, backup};
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use std::io::{Cursor, Read, Write};
use time::OffsetDateTime;
use zip::write::SimpleFileOptions;
use zip::{ZipArchive, ZipWriter};

const SMALL: &str = include_str!("../../../core/plan/tests/small-plan.toml");
const PICTURE: &[u8] = include_bytes!("../../../../plans/thread.jpg");

fn somebody() -> Person {
    Person { id: "elsewhere".into(), name: "Lead elsewhere".into(), role: Role::Lead }
}

fn pull(fastener: &str, text: &str) -> CommandAction {
    CommandAction::Pull(PullCommand {
        operation: "tighten".into(),
        joint: None,
        stage: 0,
        fastener: fastener.into(),
        reading: GivenReading { text: Some(text.into()), ..GivenReading::default() },
        method: ReadingMethod::Typed,
        instrument: "w".into(),
        sure: true,
        note: None,
    })
}

async fn shop() -> (Scratch, Store) {
    let scratch = Scratch::new().await.expect("a database");
    let store = Store::connect(&scratch.url, 4).await.expect("a store");
    (scratch, store)
}

/// An engine with pulls and a finding that has a picture.
async fn engine(store: &Store) -> Bench {
    let bench = Bench::begun_to("small-plan.toml", SMALL, store.clone()).await;
    for (fastener, text) in [("1L", "30"), ("1R", "30.4")] {
        bench.give(pull(fastener, text)).await.expect("pulled");
    }
    let picture = store.keep_picture("image/jpeg", PICTURE).await.expect("kept");
    let joint = bench.state().await.plan.joints[0].id.clone();
    let about = FindingSubject::Fastener { joint, fastener: "1L".into() };
    let find = FindingCommand {
        operation: "tighten".into(),
        about,
        text: "A scored thread".into(),
        picture: Some(picture),
    };
    bench.give(CommandAction::Find(find)).await.expect("found");
    bench
}

fn files(archive: &[u8]) -> BTreeMap<String, Vec<u8>> {
    let mut zip = ZipArchive::new(Cursor::new(archive)).expect("a zip");
    let mut files = BTreeMap::new();
    for at in 0..zip.len() {
        let mut file = zip.by_index(at).expect("a file");
        let mut bytes = Vec::new();
        file.read_to_end(&mut bytes).expect("read");
        files.insert(file.name().expect("a name").into_owned(), bytes);
    }
    files
}

fn pack(files: &BTreeMap<String, Vec<u8>>) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, bytes) in files {
        zip.start_file(name.as_str(), SimpleFileOptions::default()).expect("begun");
        zip.write_all(bytes).expect("written");
    }
    zip.finish().expect("whole").into_inner()
}

/// The same archive with a file changed, and the manifest telling of it as if nothing had been.
fn forged(archive: &[u8], name: &str, change: impl Fn(&str) -> String) -> Vec<u8> {
    let mut all = files(archive);
    let changed = change(std::str::from_utf8(&all[name]).expect("text")).into_bytes();
    let hash = hex::encode(Sha256::digest(&changed));
    let mut manifest: serde_json::Value = serde_json::from_slice(&all["manifest.json"]).expect("JSON");
    manifest["files"][name] = hash.into();
    all.insert(name.to_owned(), changed);
    all.insert("manifest.json".to_owned(), manifest.to_string().into_bytes());
    pack(&all)
}

#[tokio::test]
async fn an_engine_comes_into_another_shop_to_the_letter_and_goes_on_there() {
    let ((_here, store), (_there, other)) = (shop().await, shop().await);
    let bench = engine(&store).await;
    let state = bench.state().await;
    let build = bench.build();
    let archive = store.archive(build, OffsetDateTime::now_utc()).await.expect("an archive");
    let names: Vec<String> = files(&archive).into_keys().collect();
    assert_eq!(names.len(), 4, "{names:?}");
    let came = other.take_in(&somebody(), archive.clone()).await.expect("came in");
    assert_eq!((came.entries, came.was_here), (state.seq, false));
    assert_eq!(
        other.events_after(build, 0).await.expect("events"),
        store.events_after(build, 0).await.expect("events")
    );
    let there = Bench::beside(&bench, other.clone());
    assert_eq!(there.state().await.view(), state.view());
    assert_eq!(other.verify().await.expect("verified"), (1, state.seq, vec![]));
    // Its plan is one of the shop's, and would not be its newest where the shop has it already.
    let versions = other.plan_versions(&state.plan.id).await.expect("versions");
    assert_eq!(
        versions.iter().map(|of| (of.number, of.why.as_str())).collect::<Vec<_>>(),
        [(1, "came in with Test")]
    );
    // Twice it is there once; and it goes on where it is.
    assert!(other.take_in(&somebody(), archive.clone()).await.expect("again").was_here);
    there.give(pull("2L", "30.1")).await.expect("pulled there");
    let further = other.take_in(&somebody(), archive).await.expect_err("another record of it");
    assert!(matches!(&further, ArchiveError::Here(what) if what.contains("not put together")), "{further}");
    assert_eq!(other.doings(9).await.expect("doings").len(), 1);
}

#[tokio::test]
async fn what_is_broken_does_not_come_in_and_says_where() {
    let ((_here, store), (_there, other)) = (shop().await, shop().await);
    let bench = engine(&store).await;
    let archive = store.archive(bench.build(), OffsetDateTime::now_utc()).await.expect("an archive");
    let refused = async |bytes: Vec<u8>, says: &str| {
        let error = other.take_in(&somebody(), bytes).await.expect_err(says);
        assert!(
            matches!(error, ArchiveError::Broken(_)) && error.to_string().contains(says),
            "{error} ({says})"
        );
    };
    refused(archive[..archive.len() / 2].to_vec(), "only a part of one").await;
    refused(Vec::new(), "no archive").await;
    refused(b"PK\x03\x04 but nothing of it".to_vec(), "no archive").await;
    let plan = files(&archive).into_keys().find(|name| name.starts_with("plans/")).expect("a plan");
    let picture = files(&archive).into_keys().find(|name| name.starts_with("pictures/")).expect("a picture");
    for gone in ["manifest.json", "events.jsonl", &plan, &picture] {
        let mut all = files(&archive);
        all.remove(gone);
        refused(pack(&all), gone).await;
        let mut all = files(&archive);
        if let Some(byte) = all.get_mut(gone).and_then(|bytes| bytes.get_mut(40)) {
            *byte ^= 1;
        }
        let error = other.take_in(&somebody(), pack(&all)).await.expect_err(gone);
        assert!(matches!(error, ArchiveError::Broken(_)), "{gone}: {error}");
    }
    let mut more = files(&archive);
    more.insert("run-me.sh".to_owned(), b"rm".to_vec());
    refused(pack(&more), "run-me.sh is not in the manifest").await;
    // Whoever changes the manifest as well is told by the chain, the plan's hash, the order of entries.
    refused(forged(&archive, "events.jsonl", |text| text.replace("30.4", "31.4")), "one of them was changed")
        .await;
    refused(
        forged(&archive, "events.jsonl", |text| text.lines().skip(1).collect::<Vec<_>>().join("\n")),
        "carries another number",
    )
    .await;
    refused(
        forged(&archive, &plan, |text| text.replacen("name = \"", "name = \"New ", 1)),
        "another text than its name says",
    )
    .await;
    let newer = {
        let mut all = files(&archive);
        let manifest = String::from_utf8(all["manifest.json"].clone()).expect("text");
        all.insert(
            "manifest.json".to_owned(),
            manifest.replace("\"format\": 1", "\"format\": 2").into_bytes(),
        );
        pack(&all)
    };
    refused(newer, "a newer Rigore").await;
    assert_eq!(other.verify().await.expect("verified"), (0, 0, vec![]), "nothing came in");
    // A thousand archives with a byte that is another: each comes in whole or not at all, and none makes it panic.
    let before = store.events_after(bench.build(), 0).await.expect("events");
    for at in (0..archive.len()).step_by(archive.len() / 400 + 1) {
        let mut bytes = archive.clone();
        bytes[at] ^= 0x10;
        if let Ok(came) = other.take_in(&somebody(), bytes).await {
            assert_eq!(other.events_after(came.build, 0).await.expect("events"), before);
        }
    }
    assert_eq!(other.verify().await.expect("verified").2, vec![]);
}

#[tokio::test]
async fn a_shop_is_backed_up_wrecked_and_back_as_it_was() {
    let (scratch, store) = shop().await;
    let bench = engine(&store).await;
    let (view, build) = (bench.state().await.view(), bench.build());
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("shop.backup");
    backup::backup(&scratch.url, &file).expect("backed up");
    assert!(backup::backup(&scratch.url, &file).is_err(), "no backup goes over another");
    let refused = backup::restore(&scratch.url, &file).await.expect_err("something is in it");
    assert!(refused.to_string().contains("empty"), "{refused}");
    store.close().await;
    Store::wipe(&scratch.url).await.expect("wrecked");
    backup::restore(&scratch.url, &file).await.expect("restored");
    let store = Store::connect(&scratch.url, 4).await.expect("a store");
    assert_eq!(store.read(build, rigore_assembly::BuildState::view).await.expect("read"), view);
    assert_eq!(store.verify().await.expect("verified").2, vec![]);
}

#[tokio::test]
async fn a_database_of_a_newer_rigore_is_refused_with_words() {
    let (scratch, store) = shop().await;
    store.close().await;
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a pool");
    sqlx::query("INSERT INTO _sqlx_migrations (version, description, success, checksum, execution_time) VALUES (9999, 'later', true, '', 0)")
        .execute(&pool)
        .await
        .expect("a later step");
    let refused = Store::connect(&scratch.url, 2).await.expect_err("a newer one");
    assert!(refused.to_string().contains("a newer Rigore"), "{refused}");
}

#[tokio::test]
async fn a_plan_that_comes_in_is_not_the_newest_of_one_that_is_here() {
    let ((_here, store), (_there, other)) = (shop().await, shop().await);
    let bench = engine(&store).await;
    let archive = store.archive(bench.build(), OffsetDateTime::now_utc()).await.expect("an archive");
    // The other shop has a plan of the same key with another text.
    let own = Bench::begun_to("own", &SMALL.replacen("name = \"", "name = \"Own ", 1), other.clone()).await;
    other.take_in(&somebody(), archive).await.expect("came in");
    let own = own.state().await.plan_ref;
    let versions = other.plan_versions(&own.id).await.expect("versions");
    assert_eq!(versions.iter().map(|of| of.number).collect::<Vec<_>>(), [1, 0]);
    assert_eq!(versions[0].hash, own.hash);
}

//! What was read with an instrument is found whole, also what an earlier Rigore kept reading by reading.

use crate::record::{Bench, pull, scratch};
use rigore_assembly::Command;
use rigore_store::{Scratch, Store};
use sqlx::migrate::Migrator;
use sqlx::{Connection, PgConnection};
use std::collections::BTreeMap;
use time::macros::datetime;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// The last version of the tables that kept a row for each reading.
const READING_BY_READING: i64 = 11;
const WRENCH: &str = "wrench";
const FROM: OffsetDateTime = datetime!(2026-10-25 00:00 UTC);

/// Readings at uneven times over some hours, in no order, on two engines, by several blocks of each.
fn readings(engines: [Uuid; 2]) -> Vec<(Uuid, OffsetDateTime)> {
    (0..240).map(|n: i64| (engines[usize::from(n % 3 == 0)], FROM + Duration::minutes(n * n % 420))).collect()
}

#[tokio::test]
async fn what_was_kept_reading_by_reading_is_found_by_any_time() {
    let scratch = Scratch::new().await.expect("a database");
    let mut database = PgConnection::connect(&scratch.url).await.expect("a connection");
    let all = sqlx::migrate!("./migrations");
    let first = all.iter().filter(|step| step.version <= READING_BY_READING).cloned().collect();
    Migrator::with_migrations(first).run(&mut database).await.expect("the earlier tables");
    let engines = [Uuid::from_u128(1), Uuid::from_u128(2)];
    sqlx::raw_sql("INSERT INTO plans (hash, id, name, source) VALUES ('h', 'p', 'P', '')")
        .execute(&mut database)
        .await
        .expect("a plan");
    for engine in engines {
        sqlx::query("INSERT INTO builds (id, seq, plan_hash, summary, edition) VALUES ($1, 1, 'h', '{\"name\": \"N\"}', 1000)")
            .bind(engine)
            .execute(&mut database)
            .await
            .expect("an engine");
    }
    let readings = readings(engines);
    for (seq, (engine, at)) in (1_i64..).zip(&readings) {
        let kept = "INSERT INTO uses (instrument, at, build_id, seq) VALUES ($1, $2, $3, $4)";
        let kept = sqlx::query(kept).bind(WRENCH).bind(at).bind(engine).bind(seq);
        kept.execute(&mut database).await.expect("a reading");
    }

    let store = Store::connect(&scratch.url, 2).await.expect("the tables of now");
    found_by_any_time(&store, WRENCH, (FROM, &readings)).await;
    let ever = store.used(WRENCH, None, OffsetDateTime::now_utc()).await.expect("all of it");
    assert_eq!(ever.iter().map(|on| on.readings).sum::<u64>(), readings.len() as u64);
    assert!(store.used("another", None, OffsetDateTime::now_utc()).await.expect("none").is_empty());
}

#[tokio::test]
async fn a_clock_that_was_set_back_dates_no_entry_before_the_one_before_it() {
    let (_scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let from = bench.state().await.touched + Duration::minutes(1);
    let mut clock = from;
    let minutes = [0, 17, 18, 18, 250, 3, 400, 399, 17, 90];
    let fasteners = ["2L", "2R", "1L", "1R"].iter().cycle();
    let mut readings = Vec::new();
    for (minute, fastener) in minutes.into_iter().zip(fasteners) {
        let at = from + Duration::minutes(minute);
        clock = clock.max(at);
        let command = Command { id: Uuid::now_v7(), seen: u64::MAX >> 1, action: pull(fastener) };
        bench.send_at(at, &command).await.expect("recorded");
        readings.push((bench.build(), clock));
        assert_eq!(bench.state().await.touched, clock);
    }
    found_by_any_time(&bench.store, "w", (from, &readings)).await;
    bench.store.rebuild().await.expect("made again");
    found_by_any_time(&bench.store, "w", (from, &readings)).await;
}

/// What the store finds by any two times is what a count of the readings gives.
async fn found_by_any_time(
    store: &Store,
    instrument: &str,
    (from, readings): (OffsetDateTime, &[(Uuid, OffsetDateTime)]),
) {
    let windows = (0..30).flat_map(|a| (a..30).map(move |b| (a * 17 - 17, b * 17 - 17)));
    for (since, until) in windows.map(|(a, b)| (from + Duration::minutes(a), from + Duration::minutes(b))) {
        let mut wanted: BTreeMap<Uuid, Vec<OffsetDateTime>> = BTreeMap::new();
        for (engine, at) in readings.iter().filter(|(_, at)| *at > since && *at <= until) {
            wanted.entry(*engine).or_default().push(*at);
        }
        let found = store.used(instrument, Some(since), until).await.expect("found");
        assert_eq!(found.len(), wanted.len(), "{since} to {until}");
        for on in found {
            let at = &wanted[&on.build];
            let (first, last) = (at.iter().min().expect("one"), at.iter().max().expect("one"));
            let shown = (on.readings, on.first, on.last);
            assert_eq!(shown, (at.len() as u64, *first, *last), "{since} to {until}");
        }
    }
}

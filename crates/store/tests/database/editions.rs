//! What any earlier edition of Rigore wrote keeps reading: its database is brought up to date, every
//! record folds, and each engine stands as it stood, but for what that edition judged wrong.
//!
//! Old events keep reading. `store/tests/database/editions.rs` folds and shows a database that the first edition
//! wrote.

use rigore_store::{ListQuery, Scratch, Store};
use serde_json::{Value, json};
use sqlx::{Connection, PgConnection};
use std::collections::BTreeMap;

/// The database of the first edition, as text, and what it showed of each engine.
const FIRST: &str = include_str!("fixtures/first-edition.sql");
const SHOWN: &str = include_str!("fixtures/first-edition.json");

/// What that edition let pass: an action before any pull. An angle is written as it was read, a limit as `max`.
const MENDED: [&str; 5] = [
    "Ostra 11 no. 3: [\"Piston to bore 2: 0.206 mm, and 0.178 mm is the most\"] \
     [\"Piston to bore 2: 0.206 mm, max 0.178 mm\"]",
    "Tarn 5 no. 11: [\"3R: 66.0°, and 54.0° is the most for Angle\"] [\"3R: 66°, max 54° for Angle\"]",
    "Tarn 5 no. 12 main-caps-tighten: [\"in-work\",5,25] [\"held\",5,25]",
    "Tarn 5 no. 12: [] [\"Seat the thrust bearing: too early: Pull 1, inner 3L, to 30 N·m comes first\"]",
    "Tarn 5 no. 15: [\"Main bearing oil clearance 2: 0.074 mm, and 0.055 mm is the most\"] \
     [\"Main bearing oil clearance 2: 0.074 mm, max 0.055 mm\"]",
];

async fn first_edition() -> (Scratch, Store) {
    let scratch = Scratch::new().await.expect("a database");
    let mut connection = PgConnection::connect(&scratch.url).await.expect("a connection");
    sqlx::raw_sql(FIRST).execute(&mut connection).await.expect("the old tables");
    connection.close().await.expect("closed");
    let store = Store::connect(&scratch.url, 4).await.expect("brought up to date");
    (scratch, store)
}

#[tokio::test]
async fn a_database_of_the_first_edition_is_read_whole() {
    let (_scratch, store) = first_edition().await;
    let (builds, entries, broken) = store.verify().await.expect("walked");
    assert_eq!((builds, entries, broken), (10, 1702, vec![]));
    // Its plans are first versions.
    let plans = store.plans().await.expect("plans");
    assert!(
        !plans.is_empty() && plans.iter().all(|plan| plan.number >= 1 && plan.by_name.is_empty()),
        "{plans:?}"
    );
    // The shop is served before its engines are listed by newer rules, and after that all of them are listed.
    let everything = ListQuery { limit: 100, ..ListQuery::default() };
    let before = store.list(&everything).await.expect("listed as far as it can be read");
    assert_eq!((before.renewing, store.old_lists().await.expect("counted")), (10, 10));
    store.day().await.expect("the day as far as it can be read");
    assert_eq!(store.renew_lists().await.expect("renewed"), 10);
    let list = store.list(&everything).await.expect("listed");
    assert_eq!(list.renewing, 0);
    let shown: BTreeMap<String, Value> = serde_json::from_str(SHOWN).expect("JSON");
    let (mut engines, mut differ) = (0, Vec::new());
    for row in list.rows {
        let (view, issues) = store
            .read(row.id, |state| {
                let whats = state.issues().into_iter().map(|issue| issue.text.in_base_units());
                (state.view(), whats.collect::<Vec<String>>())
            })
            .await
            .expect("folded");
        let view = serde_json::to_value(&view).expect("JSON");
        let operations: serde_json::Map<String, Value> = view["operations"]
            .as_array()
            .expect("operations")
            .iter()
            .map(|o| {
                (o["id"].as_str().expect("an id").to_owned(), json!([o["status"], o["done"], o["total"]]))
            })
            .collect();
        let before = &shown[&row.summary.name];
        for (id, now) in &operations {
            if before["operations"][id] != *now {
                differ.push(format!("{} {id}: {} {now}", row.summary.name, before["operations"][id]));
            }
        }
        if before["matters"] != json!(issues) {
            differ.push(format!("{}: {} {issues:?}", row.summary.name, before["matters"]));
        }
        engines += 1;
    }
    differ.sort();
    assert_eq!(engines, 9, "the tenth is finished");
    assert_eq!(differ, MENDED);
}

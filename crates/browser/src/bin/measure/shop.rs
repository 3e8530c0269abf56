//! A shop with ten thousand engines: its first page, and finding one of them.

use crate::pages::{Empty, PageTimes};
use crate::psql::psql;
use crate::table::{Aim, ResultTable, Yardstick, ms, percentile};
use anyhow::{Context, Result};
use rigore_assembly::{
    BuildStart, Command, CommandAction, FitCommand, PartNote, Person, PlanRef, Role, SignCommand,
};
use rigore_browser::Rigore;
use rigore_plan::Plan;
use rigore_store::{Roster, Store};
use sqlx::postgres::PgPoolOptions;
use std::time::Instant;
use time::OffsetDateTime;
use uuid::Uuid;

const ENGINES: u32 = 10_000;
/// Engines of which each is finished, but for the one in so many that is in work.
const IN_WORK: u32 = 50;
const PLAN: &str = "format = 1\nid = \"small\"\nname = \"Small\"\n\
    [[slot]]\nid = \"block\"\nname = \"Block\"\n\
    [[operation]]\nid = \"take-in\"\nname = \"Take in the parts\"\nkind = \"take-in\"\nslots = [\"block\"]\n\
    [[operation]]\nid = \"sign-off\"\nname = \"Sign off\"\nkind = \"sign\"\n";

/// Fills the shop and looks at it.
pub async fn measure(table: &mut ResultTable, rigore: &Rigore, url: &str, empty: Empty) -> Result<()> {
    let start = Instant::now();
    fill(url).await?;
    // What autovacuum does by itself within a minute.
    psql(url, &["VACUUM ANALYZE"])?;
    eprintln!("({ENGINES} engines made in {:.0} s)", start.elapsed().as_secs_f64());

    let client = rigore_browser::client();
    for (what, find) in [
        ("name", "Regatta%207123"),
        ("owner", "Owner%204567"),
        ("number", "N-0003210"),
        ("part serial", "SN-0009876"),
    ] {
        let mut times = Vec::new();
        for _ in 0..41 {
            let start = Instant::now();
            let found: serde_json::Value =
                client.get(rigore.url(&format!("/api/shop?find={find}"))).send().await?.json().await?;
            times.push(ms(start.elapsed()));
            let found = found["builds"].as_array().context("engines")?.len();
            anyhow::ensure!(found == 1, "{found} engines found by {find}");
        }
        table.row(
            &format!("finding one of 10,000 engines by {what}, p95, ms"),
            percentile(&mut times, 95),
            Aim::Beyond(40.0, empty.answer),
        );
    }
    let part =
        often(&rigore.url("/api/parts/SN-0009876"), |found| found[0]["pieces"].as_array().is_some()).await?;
    table.row("a part's page over 10,000 engines, p95, ms", part, Aim::Beyond(40.0, empty.answer));
    let has = |list: &'static str| move |found: &serde_json::Value| !found[list][0].is_null();
    for (what, path, list) in [
        ("the parts of 10,000 engines, first page", "/api/parts".to_owned(), "parts"),
        ("  a page in the middle", deep(rigore, "/api/parts?limit=400", 10).await?, "parts"),
        ("  found by four digits", "/api/parts?find=9876".to_owned(), "parts"),
        ("  found by two letters", "/api/parts?find=sn".to_owned(), "parts"),
        ("finished ones of 10,000 engines, first page", "/api/shop?show=finished".to_owned(), "builds"),
        ("  a page in the middle", deep(rigore, "/api/shop?show=finished&limit=400", 10).await?, "builds"),
        ("  found by what all of them have", "/api/shop?find=regatta".to_owned(), "builds"),
    ] {
        let took = often(&rigore.url(&path), has(list)).await?;
        table.row(&format!("{what}, p95, ms"), took, Aim::Beyond(40.0, empty.answer));
    }
    let anything = often(&rigore.url("/api/find?find=9876"), |found| !found[0].is_null()).await?;
    table.row("finding anything by four digits, p95, ms", anything, Aim::Beyond(40.0, empty.answer));
    let day = often(&rigore.url("/api/day"), |day| day["engines"].as_u64() > Some(200)).await?;
    table.row("the day of that shop, p95, ms", day, Aim::Beyond(40.0, empty.answer));
    let day = client.get(rigore.url("/api/day")).send().await?.bytes().await?.len();
    table.row("  as it is sent, kB", f64::from(u32::try_from(day)?) / 1000.0, Aim::AtMost(100.0));
    let opened = PageTimes::often(&rigore.url("/"), "[data-test^='Regatta'], [data-test^='Tarn']").await?;
    opened.rows(table, "the first page of a shop of 10,000 engines", empty);
    stretches(url)?;
    let plain = Yardstick { name: "one aggregate over them", value: aggregate(url).await? };
    let address = rigore.url("/api/friction");
    let friction = often(&address, |table| {
        let counts =
            table.as_array().map(|rows| rows.iter().filter_map(|row| row["count"].as_u64()).sum::<u64>());
        counts.is_some_and(|all| all >= u64::from(STRETCHES))
    });
    table.row("friction over 100,000 stretch records, p95, ms", friction.await?, Aim::Times(2.0, plain));
    Ok(())
}

/// Counting all stretch records by their bolts, with mean and scatter, p95, ms.
async fn aggregate(url: &str) -> Result<f64> {
    let pool = PgPoolOptions::new().max_connections(1).connect(url).await?;
    let mut times = Vec::new();
    for _ in 0..41 {
        let start = Instant::now();
        let groups: Vec<(i64, f64, Option<f64>)> =
            sqlx::query_as("SELECT count(*), avg(k), stddev_samp(k) FROM nut_factors GROUP BY group_id")
                .fetch_all(&pool)
                .await?;
        times.push(ms(start.elapsed()));
        anyhow::ensure!(!groups.is_empty(), "no bolt has shown its friction");
    }
    pool.close().await;
    Ok(percentile(&mut times, 95))
}

/// The address of a page that comes after so many others.
async fn deep(rigore: &Rigore, path: &str, pages: u32) -> Result<String> {
    let client = rigore_browser::client();
    let mut address = path.to_owned();
    for _ in 0..pages {
        let answer = client.get(rigore.url(&address)).send().await?.error_for_status()?;
        let page: serde_json::Value = answer.json().await?;
        let next = page["next"].as_str().with_context(|| format!("{address} is the last page"))?;
        let join = if path.contains('?') { '&' } else { '?' };
        address = format!("{path}{join}after={next}");
    }
    Ok(address)
}

/// Bolts that have shown their friction.
const STRETCHES: u32 = 100_000;

/// The 95th percentile of asking for something, in ms; what comes has to be right.
async fn often(url: &str, is_right: impl Fn(&serde_json::Value) -> bool) -> Result<f64> {
    let client = rigore_browser::client();
    let mut times = Vec::new();
    for _ in 0..41 {
        let start = Instant::now();
        let found: serde_json::Value = client.get(url).send().await?.json().await?;
        times.push(ms(start.elapsed()));
        anyhow::ensure!(is_right(&found), "{url}: not what was asked for");
    }
    Ok(percentile(&mut times, 95))
}

/// Bolts of ten kinds on two lubricants, from thirty batches.
fn stretches(url: &str) -> Result<()> {
    let insert = format!(
        "INSERT INTO nut_factor_groups (kind, thread, bearing, batch)
         SELECT 'Bolt ' || n % 10, 'paste-' || n % 2, 'paste-' || n % 2, 'B-' || n FROM generate_series(1, 60) AS n;
         INSERT INTO nut_factors (build_id, joint, round, fastener, bolt, group_id, k, pulls, torque_nm, stretch_mm,
             at)
         SELECT gen_random_uuid(), 'rod', 0, 'A', 0, (SELECT min(id) FROM nut_factor_groups WHERE kind LIKE 'Bolt %')
             + n % 60, 0.14 + 0.02 * random(), 2, 40, 0.15, now() - n * interval '1 minute'
         FROM generate_series(1, {STRETCHES}) AS n;"
    );
    psql(url, &[&insert, "VACUUM ANALYZE nut_factors"])
}

/// Engines as a shop of many years has them: a few in work, the rest finished.
async fn fill(url: &str) -> Result<()> {
    let store = Store::connect(url, 2).await?.unhurried_disk().await?;
    let plan = Plan::read("small.toml", PLAN).map_err(|faults| anyhow::anyhow!("{faults:?}"))?;
    let row = store.add_plan(PLAN, &plan).await?;
    let plan = PlanRef { hash: row.hash, id: row.id, name: row.name };
    let workers = (0..32).map(|worker| {
        let (store, plan) = (store.clone(), plan.clone());
        tokio::spawn(async move {
            for n in (worker..ENGINES).step_by(32) {
                engine(&store, &plan, n).await?;
            }
            anyhow::Ok(())
        })
    });
    for worker in workers.collect::<Vec<_>>() {
        worker.await??;
    }
    Ok(())
}

async fn engine(store: &Store, plan: &PlanRef, n: u32) -> Result<()> {
    let by = Person { id: "lead".into(), name: "Lead".into(), role: Role::Lead };
    let (build, now) = (Uuid::now_v7(), OffsetDateTime::now_utc());
    let begin = BuildStart {
        name: format!("Regatta {n}"),
        plan: plan.clone(),
        use_for: None,
        owner: Some(format!("Owner {n}")),
        identity: Some(format!("N-{n:07}")),
        lubricants: None,
        decision_rule: None,
    };
    store.begin(build, &by, now, Uuid::now_v7(), &begin).await?;
    let roster = Roster::default();
    let give = async |what| {
        let command = Command { id: Uuid::now_v7(), seen: u64::MAX >> 2, action: what };
        store.record(build, &by, &roster, OffsetDateTime::now_utc(), &command).await
    };
    let serial = format!("SN-{n:07}");
    let part = PartNote { serial, ..PartNote::default() };
    give(CommandAction::Fit(FitCommand {
        operation: "take-in".into(),
        slot: "block".into(),
        part,
        before: None,
    }))
    .await?;
    if !n.is_multiple_of(IN_WORK) {
        give(CommandAction::Sign(SignCommand::one("take-in"))).await?;
        give(CommandAction::Sign(SignCommand::one("sign-off"))).await?;
    }
    Ok(())
}

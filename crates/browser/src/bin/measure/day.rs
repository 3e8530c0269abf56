//! A shop of one's own: its day, its instruments, its sheet on paper, engines that leave and come in, and what it
//! costs to know who asks.

use crate::pages::{Empty, PageTimes};
use crate::psql::psql;
use crate::recording;
use crate::table::{Aim, ResultTable, Yardstick, ms, percentile};
use anyhow::{Context, Result, ensure};
use base64::Engine;
use base64::prelude::BASE64_STANDARD;
use reqwest::header::{COOKIE, SET_COOKIE};
use rigore_assembly::{BuildOutlook, Person, Role};
use rigore_browser::{Browser, Rigore, Screen};
use rigore_store::{Scratch, Store};
use serde_json::{Value, json};
use sqlx::postgres::PgPoolOptions;
use std::hint::black_box;
use std::time::Instant;
use time::OffsetDateTime;

/// Engines in work, and engines in all.
const IN_WORK: u32 = 300;
const ENGINES: u32 = 10_000;
/// Readings that one instrument gave on each of them.
const READINGS: u32 = 40;
/// Requests with and without a session.
const ASKED: usize = 8_000;

/// Measures all of it.
pub async fn measure(table: &mut ResultTable, rigore: &Rigore, url: &str, empty: Empty) -> Result<()> {
    sheet(table, rigore).await?;
    leaving(table, rigore, url).await?;
    in_work(url)?;
    let outlooks = Yardstick { name: "reading the outlooks", value: outlooks(url).await? };
    let mut times = Vec::new();
    let client = rigore_browser::client();
    for _ in 0..41 {
        let start = Instant::now();
        let day: Value = client.get(rigore.url("/api/day")).send().await?.json().await?;
        times.push(ms(start.elapsed()));
        let engines = day["engines"].as_u64().context("engines")?;
        ensure!(engines >= u64::from(IN_WORK), "{engines} engines in the day");
    }
    let what = "the day with 300 engines in work, at the server, p95, ms";
    table.row(what, percentile(&mut times, 95), Aim::Times(3.0, outlooks));
    let opened = PageTimes::often(&rigore.url("/day"), "[data-test='promised'] li").await?;
    opened.rows(table, "the day with 300 engines in work", empty);
    used(table, url).await?;
    asked(table).await
}

/// Reading what every engine in work says for the day out of the database, as JSON, p95, ms.
async fn outlooks(url: &str) -> Result<f64> {
    let pool = PgPoolOptions::new().max_connections(1).connect(url).await?;
    let mut times = Vec::new();
    for _ in 0..41 {
        let start = Instant::now();
        let bodies: Vec<String> =
            sqlx::query_scalar("SELECT body::text FROM outlooks").fetch_all(&pool).await?;
        for body in &bodies {
            black_box(serde_json::from_str::<BuildOutlook>(body)?);
        }
        times.push(ms(start.elapsed()));
    }
    pool.close().await;
    Ok(percentile(&mut times, 95))
}

/// Copies of the engines that the demonstration has in work.
fn in_work(url: &str) -> Result<()> {
    let copies = format!(
        "WITH copies AS (
             SELECT gen_random_uuid() AS id, builds.seq, builds.plan_hash, builds.summary, builds.status,
                 builds.touched, builds.edition, outlooks.body
             FROM builds JOIN outlooks ON outlooks.build_id = builds.id, generate_series(1, 40)
             WHERE builds.status IN ('held', 'in-work', 'taken-in') LIMIT {IN_WORK}
         ), made AS (
             INSERT INTO builds (id, seq, plan_hash, summary, status, touched, edition)
             SELECT id, seq, plan_hash, summary, status, touched, edition FROM copies
         )
         INSERT INTO outlooks (build_id, body) SELECT id, body FROM copies"
    );
    psql(url, &[&copies, "ANALYZE builds", "ANALYZE outlooks"])
}

/// All that was read with one instrument.
async fn used(table: &mut ResultTable, url: &str) -> Result<()> {
    let engines = format!(
        "INSERT INTO builds (id, seq, plan_hash, summary, status, touched, edition)
         SELECT gen_random_uuid(), 1, plan_hash, summary, 'finished', touched, edition
         FROM (SELECT * FROM builds WHERE status = 'finished' LIMIT 1) AS one, generate_series(1, {ENGINES})"
    );
    // One was used on one engine after the other, the other one on all of them in the last hour.
    let read = format!(
        "INSERT INTO read_with (instrument, build_id, block, at)
         SELECT instrument, id, n / 64, array_agg(at ORDER BY at)
         FROM (SELECT id, row_number() OVER () AS nth FROM builds WHERE seq = 1) AS engine,
             (VALUES ('ever', interval '8 hours'), ('lately', interval '0')) AS used (instrument, apart),
             generate_series(1, {READINGS}) AS n,
             LATERAL (SELECT now() - nth * apart - n * interval '1 minute' AS at) AS reading
         GROUP BY 1, 2, 3"
    );
    psql(url, &[&engines, &read, "VACUUM ANALYZE read_with", "VACUUM ANALYZE builds"])?;
    let store = Store::connect(url, 2).await?;
    let now = OffsetDateTime::now_utc();
    let check = now - time::Duration::minutes(11);
    for (what, instrument, since, least) in [
        ("all 400,000 readings of one instrument", "ever", None, ENGINES * READINGS),
        ("readings of one instrument since a check", "lately", Some(check), ENGINES * 10),
    ] {
        let mut times = Vec::new();
        for _ in 0..41 {
            let start = Instant::now();
            let used = store.used(instrument, since, now).await?;
            times.push(ms(start.elapsed()));
            let readings: u64 = used.iter().map(|on| on.readings).sum();
            ensure!(readings >= u64::from(least), "{readings} readings on {} engines", used.len());
        }
        table.row(
            &format!("{what}, over 10,000 engines, p95, ms"),
            percentile(&mut times, 95),
            Aim::AtMost(100.0),
        );
    }
    Ok(())
}

/// Adds joints of an engine's sheet to it once more, until it has so many fasteners.
const LONGER: &str = "
    const real = window.fetch;
    window.fetch = async (...asked) => {
        const answer = await real(...asked);
        if (!answer.url.endsWith('/sheet')) return answer;
        const sheet = await answer.json();
        const final = sheet.sections.filter((of) => of.work === 'tighten' && of.joints.every((joint) => joint.task === 'tighten' && joint.purpose !== 'trial'));
        const many = (of) => of.joints.reduce((sum, joint) => sum + joint.rows.length, 0);
        let fasteners = final.reduce((sum, of) => sum + many(of), 0);
        for (let at = 0; fasteners < 400; at++) {
            const more = structuredClone(final[at % final.length]);
            more.id += '-more-' + at;
            fasteners += many(more);
            sheet.sections.push(more);
        }
        return new Response(JSON.stringify(sheet), { status: 200, headers: { 'content-type': 'application/json' } });
    };";

/// The pages of a whole engine's sheet, and of one with more fasteners.
async fn sheet(table: &mut ResultTable, rigore: &Rigore) -> Result<()> {
    let id = rigore.engine("Tarn 5 no. 9").await?;
    let browser = Browser::start().await?;
    let screen = browser.window(1280, 800).await?;
    let url = rigore.url(&format!("/engines/{id}/sheet"));
    screen.go(&url).await?;
    screen.see("[data-test='section-sign-off']").await?;
    let what = "pages of the sheet of a long block of 262 fasteners";
    table.row(what, pages(&screen).await?, Aim::AtMost(9.0));
    let source = json!({ "source": LONGER });
    screen.driver.cdp().send_raw("Page.addScriptToEvaluateOnNewDocument", source).await?;
    screen.go(&url).await?;
    screen.see("[data-test$='-more-0']").await?;
    table.row("the same with joints added again, to 400", pages(&screen).await?, Aim::AtMost(9.0));
    screen.close().await
}

/// The pages that what is on the screen has on paper.
#[expect(clippy::cast_precision_loss, reason = "a few pages")]
async fn pages(screen: &Screen) -> Result<f64> {
    let print = json!({ "paperWidth": 8.27, "paperHeight": 11.69, "generateTaggedPDF": false });
    let answer = screen.driver.cdp().send_raw("Page.printToPDF", print).await?;
    let data = answer["data"].as_str().context("a file")?;
    // Each page of the file names its kind.
    let bytes = BASE64_STANDARD.decode(data)?;
    let pages = bytes.windows(11).filter(|part| *part == b"/Type /Page").count();
    let folders = bytes.windows(12).filter(|part| *part == b"/Type /Pages").count();
    Ok((pages - folders) as f64)
}

/// An engine of three thousand entries leaves, and comes into another shop.
async fn leaving(table: &mut ResultTable, rigore: &Rigore, url: &str) -> Result<()> {
    let (build, _) = recording::entries(rigore, 3000).await?;
    let client = rigore_browser::client();
    let start = Instant::now();
    let answer = client.get(rigore.url(&format!("/api/builds/{build}/archive"))).send().await?;
    let bytes = answer.error_for_status()?.bytes().await?;
    table.row("an engine of 3,000 entries leaves, ms", ms(start.elapsed()), Aim::AtMost(1000.0));
    let _ = psql(url, &["DROP DATABASE IF EXISTS other"]);
    psql(url, &["CREATE DATABASE other"])?;
    let other = url.rsplit_once('/').map(|(server, _)| format!("{server}/other")).context("a server")?;
    let store = Store::connect(&other, 4).await?;
    let by = Person { id: "lead".into(), name: "Lead".into(), role: Role::Lead };
    let start = Instant::now();
    let came = store.take_in(&by, bytes.to_vec()).await?;
    table.row("  and comes into another shop, ms", ms(start.elapsed()), Aim::AtMost(1000.0));
    ensure!(came.entries >= 3000, "{} entries", came.entries);
    store.close().await;
    Ok(())
}

/// What it costs to know who asks: the same file with a session and without one, in turns.
async fn asked(table: &mut ResultTable) -> Result<()> {
    let scratch = Scratch::new().await?;
    let (rigore, code) = Rigore::shop(&scratch.url).await?;
    let client = reqwest::Client::new();
    let first = json!({ "code": code, "shop": "Quay", "zone": "UTC", "torque_unit": "N·m", "length_unit": "mm",
        "name": "Lead", "password": "correct horse" });
    let answer = client.post(rigore.url("/api/first-run")).json(&first).send().await?.error_for_status()?;
    let cookie = answer.headers()[SET_COOKIE].to_str()?.split(';').next().unwrap_or_default().to_owned();
    let mut times = [Vec::new(), Vec::new()];
    for at in 0..2 * ASKED {
        let mut request = client.get(rigore.url("/mark.svg"));
        if at % 2 == 1 {
            request = request.header(COOKIE, &cookie);
        }
        let start = Instant::now();
        request.send().await?.error_for_status()?.bytes().await?;
        times[at % 2].push(start.elapsed().as_secs_f64() * 1e6);
    }
    let [mut without, mut with] = times;
    let cost = percentile(&mut with, 50) - percentile(&mut without, 50);
    table.row("knowing who asks, added to a request, us", cost, Aim::AtMost(20.0));
    Ok(())
}

//! The readers of what people type and send, on texts and files that somebody mangled: procedure lines, plans, figures with
//! units, tables of machines, archives of engines. None stops them, and none holds them up.
//!
//! `measure mangled CASES` takes as many cases of each; a case that makes a reader panic ends the measuring with its
//! number, by which it is made again.

use crate::table::{Aim, ResultTable, ms};
use nix::time::{ClockId, clock_gettime};
use rand::rngs::StdRng;
use rand::{Rng, SeedableRng};
use rigore_assembly::table as machine_table;
use rigore_assembly::{BuildStart, EVENT_FORMAT, Event, Fact, Person, PlanRef, Role};
use rigore_mechanics::quantity;
use rigore_plan::edit::edit;
use rigore_plan::{Plan, procedure};
use rigore_store::{Manifest, link, plan_hash, read_archive, root};
use sha2::{Digest, Sha256};
use std::collections::BTreeMap;
use std::hint::black_box;
use std::io::{Cursor, Write};
use std::time::Duration;
use time::OffsetDateTime;
use uuid::Uuid;
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

/// Figures as people type them.
const FIGURES: [&str; 8] =
    ["75 ft-lb", "18 lb·in", "9,5 Nm", ".0025\"", "2.5 thou", "0.06mm", "82.4 °F", "1.2e3 MPa"];
/// Tables as machines write them.
const TABLES: [&str; 3] = [
    "Bore gauge 2\n\nplace;direction;value\n1;x;\"86,021\"\n2;y;\"86,019\"\n",
    "\u{feff}No,Torque (N·m),Angle\r\n1,30.1,0\r\n2,\"29.8\",60.5\r\n",
    "a\tb\tc\n1\t2\t3\n\n4\t5\n",
];

/// Lines such as manuals have.
const LINES: [&str; 6] = [
    "inner: in 3 equal steps to 88 N·m, then 60°; outer: 25 lbf·ft snug, 90° twice; side: 23 N·m ± 2, centre out",
    "Step 1: 40 N·m\nStep 2: 70 N·m\nfinal: 90° in one pull, order 1 2 3 4",
    "stretch 0.0052 in, not over 58 lbf·ft, loosen between",
    "until it stops rising, 30 to 40 lbf·ft, then check",
    "40-50 lbf·ft, forward to the next slot",
    "50 %, 75 %, 100 % of 9,5 kgf·m, lubricant moly-paste, by hand, wait 10 min",
];
/// A plan of every kind of thing, short enough for millions.
const SHORT: &str = include_str!("short-plan.toml");
const PLANS: [&str; 3] = [
    SHORT,
    include_str!("../../../../../plans/ostra-11.toml"),
    include_str!("../../../../../plans/skerry-8.toml"),
];
/// What is put in between.
const PIECES: [&str; 24] = [
    "[[",
    "]]",
    "= ",
    "\"",
    "\"?\"",
    "{",
    "}",
    "[",
    "]",
    "\n[[joint]]\n",
    "\n[[operation]]\n",
    "-1",
    "1e308",
    "nan",
    "0",
    "±",
    "N·m",
    "°",
    "%",
    "then ",
    ", ",
    "999999999999999999999",
    "\u{0}",
    "é\u{301}",
];

/// How long the processor has worked for this thread: what waits for another program does not count.
fn processor_time() -> Duration {
    clock_gettime(ClockId::CLOCK_THREAD_CPUTIME_ID).expect("a clock of the thread").into()
}

fn mangled(of: &str, random: &mut StdRng) -> String {
    let mut text = of.as_bytes().to_vec();
    for _ in 0..random.random_range(1..=4) {
        let at = random.random_range(0..=text.len());
        let end = (at + random.random_range(0..40)).min(text.len());
        let piece: Vec<u8> = match random.random_range(0..4) {
            0 => PIECES[random.random_range(0..PIECES.len())].into(),
            1 => (0..random.random_range(0..12)).map(|_| random.random()).collect(),
            2 => {
                let from = random.random_range(0..=text.len());
                text[from..(from + 80).min(text.len())].to_vec()
            }
            _ => Vec::new(),
        };
        text.splice(at..end, piece);
    }
    String::from_utf8_lossy(&text).into_owned()
}

/// Bytes of a file, a few of them others, left out or twice.
fn mangled_file(of: &[u8], random: &mut StdRng) -> Vec<u8> {
    let mut bytes = of.to_vec();
    for _ in 0..random.random_range(1..=6) {
        let at = random.random_range(0..=bytes.len());
        match random.random_range(0..4) {
            0 => bytes.truncate(at),
            1 => {
                let end = (at + random.random_range(0..64)).min(bytes.len());
                let twice = bytes[at..end].to_vec();
                bytes.splice(at..at, twice);
            }
            _ => {
                if let Some(byte) = bytes.get_mut(at) {
                    *byte = random.random();
                }
            }
        }
    }
    bytes
}

/// An archive of an engine that was just begun, with its texts as they are or mangled, which its manifest then says.
fn archive(events: impl Fn(String) -> String, plan: impl Fn(String) -> String) -> Vec<u8> {
    let build = Uuid::from_u128(1);
    let source = plan(SHORT.to_owned());
    let plan = PlanRef { hash: plan_hash(&source), id: "short".into(), name: "Short".into() };
    let begin = BuildStart {
        name: "Mangled".into(),
        plan: plan.clone(),
        use_for: None,
        owner: None,
        identity: None,
        lubricants: None,
        decision_rule: None,
    };
    let by = Person { id: "lead".into(), name: "Lead".into(), role: Role::Lead };
    let (at, command) = (OffsetDateTime::UNIX_EPOCH, Uuid::nil());
    let event = Event { v: EVENT_FORMAT, seq: 1, at, by, command, request: None, fact: Fact::Begun(begin) };
    let lines = events(serde_json::to_string(&event).expect("JSON") + "\n");
    let entries = lines.lines().count() as u64;
    let last = lines.lines().fold(root(build), |before, body| link(&before, body));
    let files = BTreeMap::from([
        ("events.jsonl".to_owned(), lines.into_bytes()),
        (format!("plans/{}.toml", plan.hash), source.into_bytes()),
    ]);
    let manifest = Manifest {
        format: 1,
        build,
        name: "Mangled".into(),
        entries,
        last_hash: hex::encode(last),
        written: at,
        head: None,
        broken: None,
        files: files.iter().map(|(name, bytes)| (name.clone(), hex::encode(Sha256::digest(bytes)))).collect(),
    };
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let manifest = ("manifest.json".to_owned(), serde_json::to_vec(&manifest).expect("JSON"));
    for (name, bytes) in files.into_iter().chain([manifest]) {
        zip.start_file(name, SimpleFileOptions::default()).expect("a file");
        zip.write_all(&bytes).expect("written");
    }
    zip.finish().expect("an archive").into_inner()
}

/// Reads mangled figures, tables and archives, so many of each.
fn measure_inputs(table: &mut ResultTable, cases: u64) {
    let (mut figure, mut machine, mut file) = (0.0_f64, 0.0_f64, 0.0_f64);
    let units: Vec<&quantity::Unit> = quantity::UNITS.iter().collect();
    let whole = archive(|events| events, |plan| plan);
    assert!(read_archive(whole.clone()).is_ok(), "it comes in as it is");
    for case in 0..cases {
        let mut random = StdRng::seed_from_u64(case);
        let text = mangled(FIGURES[random.random_range(0..FIGURES.len())], &mut random);
        let unit = units[random.random_range(0..units.len())];
        let start = processor_time();
        if let Ok(value) = quantity::read(&text, unit.dimension, unit) {
            assert!(value.is_finite(), "case {case}: {text:?} is {value}");
        }
        figure = figure.max(ms(processor_time().saturating_sub(start)));
        let text = mangled(TABLES[random.random_range(0..TABLES.len())], &mut random);
        let start = processor_time();
        let _ = black_box(machine_table::read(&text));
        machine = machine.max(ms(processor_time().saturating_sub(start)));
        // Bytes of the file, or texts in it that its manifest agrees with.
        let bytes = if random.random() {
            mangled_file(&whole, &mut random)
        } else {
            let seed = random.random();
            let other = |text: String| mangled(&text, &mut StdRng::seed_from_u64(seed));
            if random.random() { archive(other, |plan| plan) } else { archive(|events| events, other) }
        };
        let start = processor_time();
        let _ = black_box(read_archive(bytes));
        file = file.max(ms(processor_time().saturating_sub(start)));
    }
    table.row(&format!("the slowest of {cases} mangled figures read, ms"), figure, Aim::AtMost(50.0));
    table.row(&format!("the slowest of {cases} mangled tables read, ms"), machine, Aim::AtMost(50.0));
    table.row(&format!("the slowest of {cases} mangled archives read, ms"), file, Aim::AtMost(50.0));
}

/// Reads what is mangled, so many of each kind.
pub fn measure(table: &mut ResultTable, cases: u64) {
    measure_inputs(table, cases);
    let (mut line, mut plan) = (0.0_f64, 0.0_f64);
    for case in 0..cases {
        let mut random = StdRng::seed_from_u64(case);
        let text = mangled(LINES[random.random_range(0..LINES.len())], &mut random);
        let start = processor_time();
        let read = procedure::read(&text);
        black_box(read.line());
        line = line.max(ms(processor_time().saturating_sub(start)));
        // The long ones take a hundred times as long: one in a hundred.
        let of = if case % 100 == 0 { random.random_range(1..PLANS.len()) } else { 0 };
        let text = mangled(PLANS[of], &mut random);
        let start = processor_time();
        black_box(Plan::draft("plan", &text).usable);
        plan = plan.max(ms(processor_time().saturating_sub(start)));
        if let Ok(same) = edit(&text, &[]) {
            let (same, text) = (same.replace("\r\n", "\n"), text.replace("\r\n", "\n"));
            let at = same.bytes().zip(text.bytes()).take_while(|(a, b)| a == b).count();
            let around = |of: &str| {
                String::from_utf8_lossy(&of.as_bytes()[at.saturating_sub(30)..(at + 30).min(of.len())])
                    .into_owned()
            };
            assert!(
                same == text,
                "case {case}: an edit of nothing made {:?} of {:?}",
                around(&same),
                around(&text)
            );
        }
    }
    table.row(&format!("the slowest of {cases} mangled lines read, ms"), line, Aim::AtMost(50.0));
    table.row(&format!("the slowest of {cases} mangled plans read, ms"), plan, Aim::AtMost(50.0));
}

//! What the core computes: folding a long record, deciding, the list row, judging clearances. Each is held against
//! reading or writing the same things as JSON, which whoever records or shows them does anyway.

use crate::table::{Aim, ResultTable, Yardstick, ms, percentile, us};
use rand::rngs::StdRng;
use rand::{Rng, SeedableRng};
use rigore_assembly::{
    ActionCommand, ActionEntry, BenchStep, BuildProjection, BuildStart, BuildState, CommandAction,
    CommandContext, EVENT_FORMAT, Event, Fact, GivenReading, Instrument, InstrumentUser, LoosenCommand,
    MeasurementEntry, OperationStart, Person, PlanRef, PullCommand, PullEntry, ReadingMethod, Role,
    ShopTools, decide,
};
use rigore_mechanics::joint::{FrictionLevers, LoadedBolt};
use rigore_mechanics::tightening::{FastenerPosition, SequencePattern, ToolReading, order};
use rigore_plan::Plan;
use rigore_rig::clamp_loads;
use serde::Serialize;
use serde::de::DeserializeOwned;
use std::fmt::Write;
use std::hint::black_box;
use std::sync::Arc;
use std::time::{Duration, Instant};
use time::OffsetDateTime;
use uuid::Uuid;

const PLAN: &str = include_str!("../../../../../plans/tarn-5.toml");
/// A joint for each way of tightening.
const WAYS: &str = include_str!("../../../../core/plan/tests/ways-plan.toml");
const OPERATION: &str = "main-caps-tighten";
/// Entries of a long record.
const ENTRIES: u32 = 3000;

/// Pulls of one bolt.
const PULLS: u32 = 10_000;
/// Bolts that are drawn by chance, and the numbers that each takes: friction and three accuracies.
const JOINTS: u32 = 1_000_000;
const CHANCES: u32 = 4;

/// The clamp loads of a million bolts by torque, angle and stretch.
fn chance(table: &mut ResultTable) {
    let levers = FrictionLevers([1.2, 1.5, 2.0]);
    let load =
        |torque_nm, accuracy, added_kn, error_kn| LoadedBolt { torque_nm, accuracy, added_kn, error_kn };
    let loads = [load(45.0, 0.04, 0.0, 0.0), load(15.0, 0.04, 20.0, 1.2), load(0.0, 0.0, 30.0, 0.4)];
    let drawn = median(|| (), |()| black_box(clamp_loads(black_box(&levers), &loads, JOINTS, 256, 7)));
    let random = median(
        || StdRng::seed_from_u64(7),
        |mut random| black_box((0..JOINTS * CHANCES).map(|_| random.random::<f64>()).sum::<f64>()),
    );
    let numbers = Yardstick { name: "drawing as many numbers", value: ms(random) };
    table.row("clamp loads of a million joints by chance, ms", ms(drawn), Aim::Times(4.0, numbers));
}

/// The time that reading these takes, one after the other, with serde.
fn parsing<T: DeserializeOwned>(texts: &[String]) -> Duration {
    let read = || texts.iter().filter(|text| black_box(serde_json::from_str::<T>(text)).is_ok()).count();
    assert_eq!(read(), texts.len(), "all of it reads");
    median(|| (), |()| black_box(read()))
}

fn json(of: &impl Serialize) -> String {
    serde_json::to_string(of).expect("it is written as JSON")
}

/// The time that writing this takes with serde.
fn writing(of: &impl Serialize) -> Duration {
    median(|| (), |()| black_box(json(black_box(of))))
}

/// Measures it all.
pub fn measure(table: &mut ResultTable) {
    chance(table);
    let (plan, events) = (tarn(), record());
    let fold = median(|| (), |()| black_box(folded(&plan, black_box(&events))));
    let texts: Vec<String> = events.iter().map(json).collect();
    let parsed = Yardstick { name: "reading them", value: ms(parsing::<Event>(&texts)) };
    table.row("fold of 3,000 entries, ms", ms(fold), Aim::Times(3.0, parsed));

    let state = folded(&plan, &events);
    assert!(state.issues().is_empty(), "every pull is inside");
    let context = CommandContext {
        instrument: Some(wrench()),
        seen: u64::from(ENTRIES),
        ..CommandContext::new(person(), OffsetDateTime::UNIX_EPOCH)
    };
    let pull = CommandAction::Pull(PullCommand {
        operation: OPERATION.into(),
        joint: None,
        stage: stage(&plan, "Angle"),
        fastener: "3L".into(),
        reading: GivenReading { text: Some("50".into()), ..GivenReading::default() },
        method: ReadingMethod::Typed,
        instrument: "w".into(),
        sure: false,
        note: None,
    });
    assert!(decide(&state, &context, &pull).is_ok(), "it can be recorded");
    let decided = median(|| (), |()| black_box(decide(black_box(&state), &context, &pull)));
    let entry = &texts[texts.len() - 1..];
    let entry = Yardstick { name: "reading its entry", value: us(parsing::<Event>(entry)) };
    table.row("deciding on a pull after 3,000 entries, us", us(decided), Aim::Times(1.0, entry));

    let at = state.plan.operation(OPERATION).expect("the operation");
    let tools = ShopTools {
        instruments: &[wrench()],
        settings: &std::collections::BTreeMap::new(),
        using: InstrumentUser::somebody(OffsetDateTime::UNIX_EPOCH),
    };
    let bench = median(|| (), |()| black_box(black_box(&state).bench(at, tools)));
    let written = Yardstick { name: "writing it", value: us(writing(&state.bench(at, tools))) };
    table.row("the bench after 3,000 entries, us", us(bench), Aim::Times(4.0, written));

    let [before @ .., grown, last] = &events[..] else { unreachable!("a long record") };
    let kept = BuildProjection::new(folded(&plan, before));
    // A copy has no room for one more: it gets that room before it is measured.
    let copy = || {
        let mut copy = kept.clone();
        copy.apply(grown);
        copy
    };
    let row = median(copy, |mut kept| {
        kept.apply(black_box(last));
        black_box(kept.summary());
        kept
    });
    table.row("judging a pull and the list row after 3,000, us", us(row), Aim::Times(2.0, entry));

    one_bolt(table, &context, &pull, entry);

    let (way, slowest, entry) = every_way();
    let entry = Yardstick { name: "reading its entry", value: us(entry) };
    table.row(
        &format!("deciding and judging a pull by any way, the slowest ({way}), us"),
        us(slowest),
        Aim::Times(1.0, entry),
    );

    let bolts = pan_rail();
    let orders = || SequencePattern::ALL.map(|(_, pattern)| order(pattern, black_box(&bolts)));
    let ordered = median(|| (), |()| black_box(orders()));
    let between = || {
        let place = |at: &FastenerPosition| (at.x_mm, at.y_mm);
        let from =
            |(x, y): (f64, f64)| bolts.iter().map(place).map(move |(to_x, to_y)| (to_x - x).hypot(to_y - y));
        SequencePattern::ALL
            .map(|_| bolts.iter().map(|bolt| from(place(black_box(bolt))).sum::<f64>()).sum::<f64>())
    };
    let distances = median(|| (), |()| black_box(between()));
    let distances = Yardstick { name: "all distances for each", value: ms(distances) };
    table.row("every pattern's order over 200 bolts, ms", ms(ordered), Aim::Times(0.2, distances));

    let (plan, events) = eight_cylinders();
    let state = folded(&plan, &events);
    assert!(state.clearances(None).iter().all(|clearance| clearance.decision.is_some()));
    let judged = median(|| (), |()| black_box(black_box(&state).clearances(None)));
    let texts: Vec<String> = events.iter().map(json).collect();
    let parsed = Yardstick { name: "reading their entries", value: ms(parsing::<Event>(&texts)) };
    table.row(
        &format!("judging the clearances of an eight, {} readings, ms", events.len() - 1),
        ms(judged),
        Aim::Times(1.0, parsed),
    );
}

/// One bolt that was pulled ten thousand times, and is pulled once more: deciding, judging, the list row and the bench.
fn one_bolt(table: &mut ResultTable, context: &CommandContext, pull: &CommandAction, entry: Yardstick) {
    let plan = tarn();
    let state = folded(&plan, &record_of(PULLS, Some("3L")));
    let last = record_of(2, Some("3L")).pop().expect("a pull");
    let at = state.plan.operation(OPERATION).expect("the operation");
    let context = CommandContext { seen: state.seq, ..context.clone() };
    let decided = median(|| (), |()| black_box(decide(black_box(&state), &context, pull)));
    let kept = BuildProjection::new(state.clone());
    let row = median(
        || {
            let mut copy = kept.clone();
            copy.apply(&last);
            copy
        },
        |mut kept| {
            kept.apply(black_box(&last));
            black_box(kept.summary());
            kept
        },
    );
    let tools = ShopTools {
        instruments: &[wrench()],
        settings: &std::collections::BTreeMap::new(),
        using: InstrumentUser::somebody(OffsetDateTime::UNIX_EPOCH),
    };
    let bench = median(|| (), |()| black_box(black_box(&state).bench(at, tools)));
    table.row("one bolt pulled 10,000 times: deciding on a pull, us", us(decided), Aim::Times(1.0, entry));
    table.row("  judging it and the list row, us", us(row), Aim::Times(2.0, entry));
    let written = Yardstick { name: "writing it", value: us(writing(&state.bench(at, tools))) };
    table.row("  the bench, us", us(bench), Aim::Times(4.0, written));
    let said = serde_json::to_vec(&state.bench(at, tools)).expect("JSON").len();
    let said = f64::from(u32::try_from(said).expect("it is short"));
    table.row("  the bench as it is sent, kB", said / 1000.0, Aim::Told);
}

/// Pulls through every joint of a plan that has one for each way, each decided on and judged: the stage that took
/// longest, by the median of its runs, and how long reading that entry takes.
fn every_way() -> (String, Duration, Duration) {
    let plan = Arc::new(Plan::read("ways.toml", WAYS).expect("the plan is right"));
    let mut state = folded(&plan, &events("ways", std::iter::empty()));
    let wrench = Instrument { reach_mm: Some(400.0), ..wrench() };
    let mut slowest = (String::new(), Duration::ZERO, Duration::ZERO);
    for at in plan.line() {
        loop {
            let operation = plan[at].id.clone();
            let (what, name) = match state.step(at) {
                BenchStep::Act(step) => {
                    let (joint, stage) = (Some(step.joint), step.stage);
                    (
                        CommandAction::Act(ActionCommand {
                            operation,
                            joint,
                            stage,
                            ..ActionCommand::default()
                        }),
                        step.name,
                    )
                }
                BenchStep::Loosen(step) => {
                    let (joint, fastener) = (Some(step.joint), step.fastener);
                    (
                        CommandAction::Loosen(LoosenCommand {
                            operation,
                            joint,
                            fastener,
                            ..LoosenCommand::default()
                        }),
                        "loosen".to_owned(),
                    )
                }
                BenchStep::Pull(step) => {
                    let joint = &plan[plan.joint(&step.joint).expect("a joint")];
                    let name = joint.stages[step.stage].name.clone();
                    let plain = step.asks.plain.first().map(|plain| plain.figure);
                    let text = Some(plain.unwrap_or(step.target.shown).to_string());
                    let method = if plain.is_some() { ReadingMethod::Seen } else { ReadingMethod::Typed };
                    let pull = PullCommand {
                        operation,
                        joint: Some(step.joint),
                        stage: step.stage,
                        fastener: step.fastener,
                        reading: GivenReading { text, ..GivenReading::default() },
                        method,
                        instrument: "w".into(),
                        sure: true,
                        note: None,
                    };
                    (CommandAction::Pull(pull), name)
                }
                _ => break,
            };
            let (by, time) = (person(), OffsetDateTime::UNIX_EPOCH);
            let context = CommandContext {
                instrument: Some(wrench.clone()),
                seen: state.seq,
                ..CommandContext::new(by.clone(), time)
            };
            let event = |state: &BuildState, fact| {
                let (seq, command) = (state.seq + 1, Uuid::from_u128(u128::from(state.seq)));
                Event { v: EVENT_FORMAT, seq, at: time, by: by.clone(), command, request: None, fact }
            };
            let facts = decide(&state, &context, &what).expect("it can be recorded");
            let events: Vec<Event> = facts
                .into_iter()
                .scan(state.seq, |seq, fact| {
                    *seq += 1;
                    Some(Event { seq: *seq, ..event(&state, fact) })
                })
                .collect();
            let last = events.last().expect("a fact").clone();
            // What goes before it, such as the start of its operation, is there already, with room for more.
            let decided = median(|| (), |()| black_box(decide(black_box(&state), &context, &what)));
            for event in &events[..events.len() - 1] {
                state.apply(event);
            }
            // A copy has no room for one more: it gets that room before it is measured.
            let start = Fact::Started(OperationStart { operation: plan[at].id.clone() });
            let copy = || {
                let mut copy = state.clone();
                copy.apply(&Event { fact: start.clone(), ..last.clone() });
                copy
            };
            let next = Event { seq: last.seq + 1, ..last.clone() };
            let judged = median(copy, |mut copy| {
                copy.apply(black_box(&next));
                copy
            });
            if decided + judged > slowest.1 {
                slowest = (name, decided + judged, parsing::<Event>(&[json(&last)]));
            }
            state.apply(&last);
        }
    }
    slowest
}

/// The median time of many runs, each on an input of its own. Inputs and results are made and
/// dropped outside of it.
fn median<I, T>(input: impl Fn() -> I, run: impl Fn(I) -> T) -> Duration {
    let mut times = Vec::new();
    let start = Instant::now();
    while times.len() < 50 || (start.elapsed() < Duration::from_millis(500) && times.len() < 10_000) {
        let given = input();
        let start = Instant::now();
        let result = run(given);
        times.push(start.elapsed().as_secs_f64());
        drop(result);
    }
    Duration::from_secs_f64(percentile(&mut times, 50))
}

/// Two hundred bolts around a rectangle.
fn pan_rail() -> Vec<FastenerPosition> {
    let place = |n: u32| match n {
        0..70 => (f64::from(n) * 10.0, 0.0),
        70..100 => (700.0, f64::from(n - 70) * 10.0),
        100..170 => (f64::from(170 - n) * 10.0, 300.0),
        _ => (0.0, f64::from(200 - n) * 10.0),
    };
    (0..200)
        .map(|n| {
            let (x_mm, y_mm) = place(n);
            FastenerPosition { id: n.to_string(), x_mm, y_mm }
        })
        .collect()
}

fn tarn() -> Arc<Plan> {
    Arc::new(Plan::read("tarn-5.toml", PLAN).expect("the plan is right"))
}

/// A stage of the joint whose record is long.
fn stage(plan: &Plan, name: &str) -> usize {
    plan.joints[0].stages.iter().position(|stage| stage.name == name).expect("the stage")
}

fn folded(plan: &Arc<Plan>, events: &[Event]) -> BuildState {
    BuildState::fold(|_| Some(Arc::clone(plan)), events).expect("it was begun")
}

fn person() -> Person {
    Person { id: "lead".into(), name: "Lead".into(), role: Role::Lead }
}

fn wrench() -> Instrument {
    Instrument {
        id: "w".into(),
        name: "Wrench".into(),
        serial: "1".into(),
        torque_nm: Some([5.0, 200.0]),
        angle: true,
        ..Instrument::default()
    }
}

/// The events of an engine that is begun and then goes through these facts.
fn events(plan: &str, facts: impl IntoIterator<Item = Fact>) -> Vec<Event> {
    let of = PlanRef { hash: "h".into(), id: plan.into(), name: plan.into() };
    let begin = BuildStart {
        name: "Bench".into(),
        plan: of,
        use_for: None,
        owner: None,
        identity: None,
        lubricants: None,
        decision_rule: None,
    };
    let event = |(seq, fact)| Event {
        v: EVENT_FORMAT,
        seq,
        at: OffsetDateTime::UNIX_EPOCH,
        by: person(),
        command: Uuid::from_u128(u128::from(seq)),
        request: None,
        fact,
    };
    (1..).zip(std::iter::once(Fact::Begun(begin)).chain(facts)).map(event).collect()
}

/// A long record: pulls over a row of the joint, again and again.
fn record() -> Vec<Event> {
    record_of(ENTRIES - 3, None)
}

/// The same with so many pulls, of one bolt only where it is named.
fn record_of(pulls: u32, only: Option<&str>) -> Vec<Event> {
    let plan = tarn();
    let snug = stage(&plan, "Snug");
    let all = &plan.joints[0].fasteners[plan.joints[0].groups[0].fasteners.clone()];
    let fasteners = all.iter().filter(|of| only.is_none_or(|only| of.id == only)).cycle();
    let pulls = fasteners.zip(0..pulls).map(|(fastener, n)| {
        Fact::Pulled(PullEntry {
            operation: OPERATION.into(),
            stage: snug,
            fastener: fastener.id.clone(),
            joint: None,
            adapter: None,
            reading: ToolReading {
                torque_nm: Some(29.5 + f64::from(n % 10) * 0.1),
                ..ToolReading::default()
            },
            method: ReadingMethod::Typed,
            instrument: wrench(),
            note: None,
        })
    });
    let start = Fact::Started(OperationStart { operation: OPERATION.into() });
    let dry = Fact::Acted(ActionEntry {
        operation: OPERATION.into(),
        joint: None,
        stage: 0,
        except: vec![],
        instrument: None,
        again: None,
    });
    events("tarn-5", [start, dry].into_iter().chain(pulls))
}

/// An eight-cylinder engine: mains, big ends, pistons and cylinders, every place read.
fn eight_cylinders() -> (Arc<Plan>, Vec<Event>) {
    let sites: [(&str, u32, &str, &str); 6] = [
        ("mj", 10, "journal", "[0, 45, 90, 135]"),
        ("mb", 10, "bore", "[0, 45, 90, 135]"),
        ("rj", 8, "journal", "[0, 45, 90, 135]"),
        ("rb", 8, "bore", "[0, 45, 90, 135]"),
        ("pi", 8, "journal", "[0]"),
        ("cy", 8, "bore", "[0, 45, 90, 135]"),
    ];
    let mut text = String::from("format = 1\nid = \"eight\"\nname = \"Eight\"\n");
    for (id, count, form, angles) in sites {
        let planes = if id == "pi" { "[]" } else { "[\"front\", \"rear\"]" };
        write!(
            text,
            "[[site]]\nid = \"{id}\"\nname = \"{id}\"\ncount = {count}\nform = \"{form}\"\nplanes = {planes}\n\
             angles = {angles}\nplausible = [\"40 mm\", \"60 mm\"]\nmaterial = \"steel\"\n"
        )
        .expect("a text takes it");
    }
    for (id, plus, minus) in [("m", "mb", "mj"), ("r", "rb", "rj"), ("p", "cy", "pi")] {
        write!(
            text,
            "[[clearance]]\nid = \"{id}\"\nname = \"{id}\"\nplus = \"{plus}\"\nminus = \"{minus}\"\n\
             window = {{ street = [\"0.03 mm\", \"0.05 mm\", \"0.07 mm\"] }}\n"
        )
        .expect("a text takes it");
    }
    text += "[[operation]]\nid = \"measure\"\nname = \"Measure\"\nkind = \"measure\"\n\
             sites = [\"mj\", \"mb\", \"rj\", \"rb\", \"pi\", \"cy\"]\n";
    let plan = Arc::new(Plan::read("eight.toml", &text).expect("the plan is right"));
    let gauge = Instrument { accuracy: 0.002, resolution: 0.001, length_mm: Some([0.0, 100.0]), ..wrench() };
    let places = plan.sites.iter().flat_map(|site| (0..site.places.len()).map(move |place| (site, place)));
    let facts = places.map(|(site, place)| {
        Fact::Measured(MeasurementEntry {
            operation: "measure".into(),
            site: site.id.clone(),
            place,
            read: if ["mb", "rb", "cy"].contains(&plan[site.family].id.as_str()) { 50.05 } else { 50.0 },
            master: None,
            temperature_c: None,
            entered: None,
            unlikely: false,
            method: ReadingMethod::Typed,
            instrument: gauge.clone(),
        })
    });
    let events = events("eight", facts);
    (Arc::clone(&plan), events)
}

//! How long it takes to fold a long record and to decide on the next pull.

use rigore_core::build::{
    Command, Context, Do, EVENT_FORMAT, Event, Fact, Given, Instrument, Method, Person, PlanRef, Reading,
    Role, State, decide,
};
use rigore_core::plan::Plan;
use std::hint::black_box;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

const PLAN: &str = include_str!("../../../plans/tarn-5.toml");
const OPERATION: &str = "main-caps-tighten";

fn main() {
    divan::main();
}

fn plan() -> Arc<Plan> {
    Arc::new(Plan::read("tarn-5.toml", PLAN).expect("the plan is right").0)
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

/// A record of 3,000 entries: pulls over the whole joint, again and again.
fn record() -> Vec<Event> {
    let plan = plan();
    let (_, joint) = plan.joint_of(OPERATION).expect("the joint");
    let ids: Vec<String> = joint.groups[0].positions.iter().map(|p| p.id.clone()).collect();
    let begun = PlanRef { hash: "h".into(), id: "tarn-5".into(), name: "Tarn 5".into() };
    let pulls = (0..2998).map(|n: usize| Fact::Pulled {
        operation: OPERATION.into(),
        stage: 0,
        fastener: ids[n % ids.len()].clone(),
        reading: Reading { torque_nm: Some(29.5 + (n % 10) as f64 * 0.1), angle_deg: None, entered: None },
        method: Method::Typed,
        instrument: wrench(),
    });
    let start = [
        Fact::Begun { name: "Bench".into(), plan: begun, use_for: None, owner: None, identity: None },
        Fact::Started { operation: OPERATION.into() },
    ];
    let facts = start.into_iter().chain(pulls);
    let event = |(seq, fact)| Event {
        v: EVENT_FORMAT,
        seq,
        at: OffsetDateTime::UNIX_EPOCH,
        by: person(),
        command: Uuid::from_u128(u128::from(seq)),
        fact,
    };
    (1..).zip(facts).map(event).collect()
}

#[divan::bench]
fn fold_of_3000_events(bencher: divan::Bencher<'_, '_>) {
    let (plan, events) = (plan(), record());
    bencher.bench(|| State::fold(Arc::clone(&plan), black_box(&events)));
}

#[divan::bench]
fn decide_on_a_pull_after_3000_events(bencher: divan::Bencher<'_, '_>) {
    let state = State::fold(plan(), &record());
    let context = Context { by: person(), at: OffsetDateTime::UNIX_EPOCH, instrument: Some(wrench()) };
    let what = Do::Pull {
        operation: OPERATION.into(),
        stage: 2,
        fastener: "3L".into(),
        reading: Given { text: Some("50".into()), ..Given::default() },
        method: Method::Typed,
        instrument: "w".into(),
    };
    let command = Command { id: Uuid::nil(), seen: 3000, what };
    bencher.bench(|| decide(black_box(&state), &context, &command));
}

#[divan::bench]
fn bench_view_after_3000_events(bencher: divan::Bencher<'_, '_>) {
    let state = State::fold(plan(), &record());
    let at = state.plan.operation(OPERATION).expect("the operation").0;
    let tools = [wrench()];
    bencher.bench(|| black_box(&state).bench(at, &tools, OffsetDateTime::UNIX_EPOCH));
}

#[divan::bench]
fn reading_the_plan(bencher: divan::Bencher<'_, '_>) {
    bencher.bench(|| Plan::read("tarn-5.toml", black_box(PLAN)));
}

/// An eight-cylinder engine: mains, big ends, pistons and cylinders, about 400 readings.
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
        text += &format!(
            "[[site]]\nid = \"{id}\"\nname = \"{id}\"\ncount = {count}\nform = \"{form}\"\nplanes = {planes}\n\
             angles = {angles}\nplausible = [\"40 mm\", \"60 mm\"]\nmaterial = \"steel\"\n"
        );
    }
    for (id, plus, minus) in [("m", "mb", "mj"), ("r", "rb", "rj"), ("p", "cy", "pi")] {
        text += &format!(
            "[[clearance]]\nid = \"{id}\"\nname = \"{id}\"\nplus = \"{plus}\"\nminus = \"{minus}\"\n\
             window = {{ street = [\"0.03 mm\", \"0.05 mm\", \"0.07 mm\"] }}\n"
        );
    }
    text += "[[operation]]\nid = \"measure\"\nname = \"Measure\"\nkind = \"measure\"\n\
             sites = [\"mj\", \"mb\", \"rj\", \"rb\", \"pi\", \"cy\"]\n";
    let plan = Arc::new(Plan::read("eight.toml", &text).expect("the plan is right").0);
    let gauge = Instrument { accuracy: 0.002, resolution: 0.001, length_mm: Some([0.0, 100.0]), ..wrench() };
    let places = plan.sites.iter().flat_map(|site| (0..site.places.len()).map(move |place| (site, place)));
    let facts = places.map(|(site, place)| Fact::Measured {
        operation: "measure".into(),
        site: site.id.clone(),
        place,
        read: if ["mb", "rb", "cy"].contains(&site.family.as_str()) { 50.05 } else { 50.0 },
        master: None,
        temperature_c: None,
        entered: None,
        unlikely: false,
        method: Method::Typed,
        instrument: gauge.clone(),
    });
    let event = |(seq, fact)| Event {
        v: EVENT_FORMAT,
        seq,
        at: OffsetDateTime::UNIX_EPOCH,
        by: person(),
        command: Uuid::from_u128(u128::from(seq)),
        fact,
    };
    let events = (1..).zip(facts).map(event).collect();
    (plan, events)
}

#[divan::bench]
fn judging_every_clearance_of_an_eight(bencher: divan::Bencher<'_, '_>) {
    let (plan, events) = eight_cylinders();
    assert!(events.len() >= 350, "{} readings", events.len());
    let state = State::fold(plan, &events);
    assert!(state.clearances(None).iter().all(|clearance| clearance.decision.is_some()));
    bencher.bench(|| black_box(&state).clearances(None));
}

#[divan::bench]
fn summary_after_3000_events(bencher: divan::Bencher<'_, '_>) {
    let state = State::fold(plan(), &record());
    bencher.bench(|| black_box(&state).summary());
}

#[divan::bench]
fn summary_of_an_eight_measured(bencher: divan::Bencher<'_, '_>) {
    let (plan, events) = eight_cylinders();
    let state = State::fold(plan, &events);
    bencher.bench(|| black_box(&state).summary());
}

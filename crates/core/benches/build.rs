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
        calibration_due: None,
        simulated: false,
        length_mm: None,
        accuracy_mm: 0.0,
        resolution_mm: 0.0,
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
        Fact::Begun { name: "Bench".into(), plan: begun, use_for: None, owner: None },
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
    bencher.bench(|| black_box(&state).bench(at));
}

#[divan::bench]
fn reading_the_plan(bencher: divan::Bencher<'_, '_>) {
    bencher.bench(|| Plan::read("tarn-5.toml", black_box(PLAN)));
}

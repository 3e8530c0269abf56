//! A build at the bench, to which commands are given.

use super::*;
use crate::plan::Plan;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

mod bottom_end;
mod folding;
mod instruments;
mod measuring;
mod sheet;
mod tightening;

fn plan(text: &str) -> Arc<Plan> {
    Arc::new(Plan::read("plan.toml", text).expect("the plan is right").0)
}

fn person(role: Role) -> Person {
    Person { id: format!("{role:?}"), name: "Bench one".into(), role }
}

fn wrench() -> Instrument {
    Instrument {
        id: "w".into(),
        name: "Wrench 2".into(),
        serial: "0002".into(),
        torque_nm: Some([20.0, 200.0]),
        angle: true,
        ..Instrument::default()
    }
}

fn gauge() -> Instrument {
    Instrument {
        id: "g".into(),
        name: "Gauge".into(),
        serial: "1".into(),
        length_mm: Some([0.0, 100.0]),
        volume_cc: Some([0.0, 100.0]),
        accuracy: 0.002,
        resolution: 0.001,
        ..Instrument::default()
    }
}

/// A build, and who stands before it with what in hand.
struct Shop {
    state: State,
    events: Vec<Event>,
    instrument: Instrument,
    role: Role,
}

impl Shop {
    fn begun(text: &str, use_for: Option<&str>, instrument: Instrument) -> Self {
        let state = State::new(plan(text));
        let plan = PlanRef { hash: "h".into(), id: state.plan.id.clone(), name: state.plan.name.clone() };
        let mut shop = Self { state, events: Vec::new(), instrument, role: Role::Lead };
        let (use_for, owner) = (use_for.map(Into::into), Some("Somebody".into()));
        let begin = Do::Begin { name: "Test engine".into(), plan, use_for, owner, identity: None };
        shop.give(begin).unwrap();
        shop
    }

    fn give(&mut self, what: Do) -> Result<Vec<Fact>, Refusal> {
        self.give_seen(what, self.state.seq)
    }

    fn give_seen(&mut self, what: Do, seen: u64) -> Result<Vec<Fact>, Refusal> {
        let at = OffsetDateTime::UNIX_EPOCH + time::Duration::seconds(self.state.seq as i64);
        let context = Context { by: person(self.role), at, instrument: Some(self.instrument.clone()) };
        let command = Command { id: Uuid::from_u128(u128::from(self.state.seq) + 1), seen, what };
        let facts = decide(&self.state, &context, &command)?;
        for fact in facts.clone() {
            let (seq, by) = (self.state.seq + 1, person(self.role));
            let event = Event { v: EVENT_FORMAT, seq, at, by, command: command.id, fact };
            self.state.apply(&event);
            self.events.push(event);
        }
        Ok(facts)
    }

    fn sign(&mut self, operation: &str) -> Result<Vec<Fact>, Refusal> {
        self.give(Do::Sign { operation: operation.into() })
    }

    fn bench(&self, at: usize) -> Bench {
        self.state.bench(at, std::slice::from_ref(&self.instrument), OffsetDateTime::UNIX_EPOCH)
    }

    fn at(&self, operation: &str) -> usize {
        self.state.plan.operation(operation).expect("an operation of the plan").0
    }

    fn step(&self, operation: &str) -> String {
        self.state.step(self.at(operation)).line()
    }
}

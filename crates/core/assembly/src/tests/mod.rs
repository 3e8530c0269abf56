//! A build at the bench, to which commands are given.

use super::*;
use rigore_plan::{OperationIx, Plan};
use std::collections::BTreeMap;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

mod apart;
mod between;
mod bottom_end;
mod certainty;
mod family;
mod folding;
mod instruments;
mod lubricants;
mod measuring;
mod released;
mod sheet;
mod signatures;
mod stretch;
mod tightening;
mod versions;
mod waits;
mod ways;

fn plan(text: &str) -> Arc<Plan> {
    Arc::new(Plan::judge("plan.toml", text).expect("the plan is right").0)
}

/// A pull that was typed.
fn pull(stage: usize, fastener: &str, text: &str) -> CommandAction {
    CommandAction::Pull(PullCommand {
        operation: "tighten".into(),
        joint: None,
        stage,
        fastener: fastener.into(),
        reading: GivenReading { text: Some(text.into()), ..GivenReading::default() },
        method: ReadingMethod::Typed,
        instrument: "w".into(),
        sure: false,
        note: None,
    })
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
    state: BuildState,
    events: Vec<Event>,
    instrument: Instrument,
    /// What click wrenches are set to.
    settings: BTreeMap<String, f64>,
    /// The friction that it has measured.
    measured: Vec<rigore_mechanics::friction::MeasuredFriction>,
    role: Role,
}

impl Shop {
    fn begun(text: &str, use_for: Option<&str>, instrument: Instrument) -> Self {
        let plan = plan(text);
        let of = PlanRef { hash: "h".into(), id: plan.id.clone(), name: plan.name.clone() };
        let (use_for, owner) = (use_for.map(Into::into), Some("Somebody".into()));
        let wanted = BuildStart {
            name: "Test engine".into(),
            plan: of,
            use_for,
            owner,
            identity: None,
            lubricants: None,
            decision_rule: None,
        };
        let (by, at) = (person(Role::Lead), OffsetDateTime::UNIX_EPOCH);
        let context = CommandContext::new(by.clone(), at);
        let fact = begin(&plan, &context, &wanted).expect("a build can be begun");
        let events =
            vec![Event { v: EVENT_FORMAT, seq: 1, at, by, command: Uuid::nil(), request: None, fact }];
        let state = BuildState::fold(|_| Some(Arc::clone(&plan)), &events).expect("it was begun");
        Self { state, events, instrument, settings: BTreeMap::new(), measured: Vec::new(), role: Role::Lead }
    }

    #[expect(clippy::needless_pass_by_value, reason = "a test says what is done, not where it is kept")]
    fn give(&mut self, what: CommandAction) -> Result<Vec<Fact>, Refusal> {
        self.give_seen(&what, self.state.seq)
    }

    fn give_seen(&mut self, what: &CommandAction, seen: u64) -> Result<Vec<Fact>, Refusal> {
        let at = OffsetDateTime::UNIX_EPOCH + time::Duration::seconds(self.state.seq.cast_signed());
        let instrument = what.instrument().map(|_| self.instrument.clone());
        let context = CommandContext {
            set_to_nm: self.settings.get(&self.instrument.id).copied(),
            lubricants: rigore_mechanics::friction::shipped(),
            measured: self.measured.clone(),
            instrument,
            seen,
            ..CommandContext::new(person(self.role), at)
        };
        let command = Uuid::from_u128(u128::from(self.state.seq) + 1);
        let facts = decide(&self.state, &context, what)?;
        for fact in facts.clone() {
            if let Fact::WrenchSet(set) = &fact {
                self.settings.insert(set.instrument.id.clone(), set.torque_nm);
            }
            self.record(fact, at, command);
        }
        Ok(facts)
    }

    /// Records a fact whether or not anybody would decide on it.
    fn record(&mut self, fact: Fact, at: OffsetDateTime, command: Uuid) {
        let (seq, by) = (self.state.seq + 1, person(self.role));
        let event = Event { v: EVENT_FORMAT, seq, at, by, command, request: None, fact };
        self.state.apply(&event);
        self.events.push(event);
    }

    fn sign(&mut self, operation: &str) -> Result<Vec<Fact>, Refusal> {
        self.give(CommandAction::Sign(SignCommand::one(operation)))
    }

    /// A lead stands for the first issue that is open.
    fn accept(&mut self, reason: &str) {
        let Issue { seq, subject, .. } = self.state.issues().remove(0);
        self.role = Role::Lead;
        self.give(CommandAction::Accept(ApproveCommand { seq, subject, reason: reason.into() }))
            .expect("a lead may");
    }

    fn void(&mut self, seq: u64, reason: &str) -> Result<Vec<Fact>, Refusal> {
        self.give(CommandAction::Void(VoidCommand { seq, reason: reason.into() }))
    }

    fn bench(&self, operation: &str) -> OperationBench {
        let instruments = std::slice::from_ref(&self.instrument);
        self.state.bench(
            self.at(operation),
            ShopTools {
                instruments,
                settings: &self.settings,
                using: InstrumentUser::somebody(OffsetDateTime::UNIX_EPOCH),
            },
        )
    }

    fn at(&self, operation: &str) -> OperationIx {
        self.state.plan.operation(operation).expect("an operation of the plan")
    }

    fn step(&self, operation: &str) -> String {
        self.state.step(self.at(operation)).line().in_base_units()
    }

    /// An operation as the engine page shows it.
    fn operation(&self, id: &str) -> OperationView {
        let found = self.state.view().operations.into_iter().find(|operation| operation.id == id);
        found.expect("an operation of the plan")
    }

    fn signed(&self, operation: &str) -> bool {
        self.operation(operation).signed_by.is_some()
    }

    /// The readings of the operation that measures a site.
    fn readings(&self, operation: &str) -> Vec<MeasuredView> {
        self.state.readings_of(self.at(operation))
    }

    fn last_pull(&self) -> PullView {
        self.state.pulls(self.at("tighten")).pop().expect("a pull")
    }
}

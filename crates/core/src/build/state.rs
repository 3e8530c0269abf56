//! The fold of a build's events.

use super::counting::Counted;
use super::event::{Instrument, Person, PlanRef};
use super::measuring::{ChosenShells, Measured};
use super::parts::FittedPart;
use super::tightening::TighteningState;
use super::turning::Turned;
use crate::plan::{Plan, Work};
use std::collections::HashMap;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

/// Who and when, and which entry says so.
#[derive(Debug, Clone, PartialEq)]
pub struct Stamp {
    /// The entry.
    pub seq: u64,
    /// When.
    pub at: OffsetDateTime,
    /// Who.
    pub by: Arc<Person>,
}

/// That an entry does not count, and why.
#[derive(Debug, Clone, PartialEq)]
pub struct Voided {
    /// Who and when.
    pub stamp: Stamp,
    /// Why.
    pub reason: String,
}

/// A confirmed item or a finished action.
#[derive(Debug, Clone, PartialEq)]
pub struct Confirmation {
    /// Which item or stage, by index.
    pub index: usize,
    /// Who and when.
    pub stamp: Stamp,
    /// Set when it was taken back.
    pub voided: Option<Voided>,
}

/// One operation of the build.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct OperationState {
    /// When work began.
    pub started: Option<Stamp>,
    /// The signature that stands.
    pub signed: Option<Stamp>,
    /// Signatures that lapsed because something was recorded after them.
    pub lapsed: Vec<Stamp>,
    /// Who left it out and why, where it was.
    pub skipped: Option<Voided>,
    /// Items confirmed.
    pub confirmed: Vec<Confirmation>,
    /// Turns of the crankshaft, of a turning operation.
    pub turned: Vec<Turned>,
    /// Counts, of a counting operation.
    pub counted: Vec<Counted>,
    /// Pulls and loosenings, of a tightening operation.
    pub tightening: TighteningState,
}

/// Where the entry with a sequence number is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Entry {
    Pull(usize, usize),
    Loosening(usize, usize),
    Action(usize, usize),
    Confirmation(usize, usize),
    Measured(usize),
    Turn(usize, usize),
    Counted(usize, usize),
    Part(usize),
    Signature(usize),
    /// Entries that cannot be voided.
    Fixed,
}

/// A build as its events leave it.
#[derive(Debug, Clone)]
pub struct State {
    /// The plan it is built to.
    pub plan: Arc<Plan>,
    /// That plan as the record names it.
    pub plan_ref: Option<PlanRef>,
    /// What the engine is called in the shop.
    pub name: String,
    /// Sequence number of the last event.
    pub seq: u64,
    /// When it was begun.
    pub begun: Option<Stamp>,
    /// When the last event was recorded.
    pub touched: Option<OffsetDateTime>,
    /// Operations in the order of the plan.
    pub operations: Vec<OperationState>,
    /// What the engine is for, where it was said.
    pub use_for: Option<String>,
    /// Whose engine it is, where it was said.
    pub owner: Option<String>,
    /// What the engine itself says it is, where it was said.
    pub identity: Option<String>,
    /// Every part entered, in the order they came.
    pub parts: Vec<FittedPart>,
    /// Every reading, in the order they came.
    pub measured: Vec<Measured>,
    /// Shells chosen, by clearance and number.
    pub shells: HashMap<(String, usize), ChosenShells>,
    /// Shells at hand, by clearance and grade, where they were counted.
    pub stock: HashMap<(String, String), u32>,
    /// What a lead stands for, by subject: the entry it is about, and why.
    pub(super) accepted: HashMap<String, (u64, Voided)>,
    /// The reading that counts, by site and place.
    pub(super) latest: Vec<Vec<Option<usize>>>,
    pub(super) entries: Vec<Entry>,
    pub(super) commands: HashMap<Uuid, (u64, u64)>,
    /// People and instruments are few and named by every entry: each is kept once.
    pub(super) people: Vec<Arc<Person>>,
    pub(super) instruments: Vec<Arc<Instrument>>,
}

/// The kept copy of something, which is kept now if it was not.
pub(super) fn shared<T: Clone + PartialEq>(kept: &mut Vec<Arc<T>>, item: &T) -> Arc<T> {
    if let Some(found) = kept.iter().find(|found| ***found == *item) {
        return Arc::clone(found);
    }
    let new = Arc::new(item.clone());
    kept.push(Arc::clone(&new));
    new
}

impl State {
    /// A build to a plan, before its first event.
    pub fn new(plan: Arc<Plan>) -> Self {
        let operations = plan
            .operations
            .iter()
            .map(|operation| OperationState {
                tightening: match &operation.work {
                    Work::Tighten { joint } => {
                        plan.joint(joint).map(TighteningState::new).unwrap_or_default()
                    }
                    _ => TighteningState::default(),
                },
                ..OperationState::default()
            })
            .collect();
        Self {
            use_for: None,
            owner: None,
            identity: None,
            parts: Vec::new(),
            measured: Vec::new(),
            shells: HashMap::new(),
            stock: HashMap::new(),
            accepted: HashMap::new(),
            latest: plan.sites.iter().map(|site| vec![None; site.places.len()]).collect(),
            plan,
            plan_ref: None,
            name: String::new(),
            seq: 0,
            begun: None,
            touched: None,
            operations,
            entries: Vec::new(),
            commands: HashMap::new(),
            people: Vec::new(),
            instruments: Vec::new(),
        }
    }

    /// The first and last sequence number that a command led to, when it was recorded.
    pub fn answered(&self, command: Uuid) -> Option<(u64, u64)> {
        self.commands.get(&command).copied()
    }

    /// Everybody who recorded something, in the order they first did.
    pub fn people(&self) -> Vec<Person> {
        self.people.iter().map(|person| (**person).clone()).collect()
    }

    /// Whether a lead stands for a subject as it was at an entry, or later.
    pub(super) fn stands_for(&self, subject: &str, seq: u64) -> bool {
        self.accepted.get(subject).is_some_and(|(about, _)| *about >= seq)
    }

    /// Whether every requirement of an operation is signed; else the ones that are not.
    pub fn open_needs(&self, operation: usize) -> Vec<usize> {
        let Some(planned) = self.plan.operations.get(operation) else { return Vec::new() };
        let needs = planned.needs.iter().filter_map(|id| self.plan.operation(id));
        needs.map(|(index, _)| index).filter(|&index| self.operations[index].signed.is_none()).collect()
    }
}

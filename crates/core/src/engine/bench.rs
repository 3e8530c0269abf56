//! One operation as the bench shows it.

use super::clock::Clock;
use super::finding::view::FindingView;
use super::inside::view::AidView;
use super::kind::{BenchWork, Step};
use super::kinds::kind;
use super::matter::Matter;
use super::standing::{Brief, OperationView};
use super::state::State;
use super::tools::Tools;
use crate::plan::{OperationIx, Work};
use serde::Serialize;

/// One operation in hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Bench {
    /// Sequence number of the last event.
    pub seq: u64,
    /// What the engine is called in the shop.
    pub build: String,
    /// The operation.
    pub operation: OperationView,
    /// The operation that can be done after this one.
    pub after: Option<String>,
    /// What is open in it.
    pub matters: Vec<Matter>,
    /// Working times that run on the engine.
    pub clocks: Vec<Clock>,
    /// What was found, the last one first.
    pub findings: Vec<FindingView>,
    /// What went in for the work, what is in still first.
    pub aids: Vec<AidView>,
    /// What is next.
    pub step: Step,
    /// What comes after that.
    pub then: Step,
    /// What the operation consists of.
    pub work: BenchWork,
}

impl State {
    /// The bench for one operation, with the instruments of the shop.
    pub fn bench(&self, at: OperationIx, tools: Tools<'_>) -> Bench {
        let (step, then) = self.steps(at);
        let waiting = |other: &OperationIx| *other != at && self.operations[other.0].signed().is_none();
        let startable = |other: &OperationIx| self.open_needs(*other).iter().all(|need| *need == at);
        let after = self.plan.line().find(|other| waiting(other) && startable(other));
        Bench {
            seq: self.seq,
            build: self.begun.name.clone(),
            operation: self.operation_view(at, &self.briefs_for(at)),
            after: after.map(|other| self.plan[other].id.clone()),
            matters: self.matters_of(at),
            clocks: self.clocks(),
            findings: self.findings(),
            aids: self.aids(),
            step,
            then,
            work: kind(self, at).bench(tools),
        }
    }

    /// How far the operations are that one of them asks about: itself, or all of them where it is the
    /// signature under the engine.
    fn briefs_for(&self, at: OperationIx) -> Vec<Brief> {
        let asks = |other| other == at || matches!(self.plan[at].work, Work::Sign);
        self.plan.line().map(|other| if asks(other) { self.brief(other) } else { Brief::default() }).collect()
    }
}

//! One operation as the bench shows it: the map, the pull, why this number, what is next.

use super::counting::CountView;
use super::event::Instrument;
use super::items::ItemView;
use super::matter::Matter;
use super::measuring::MeasureBench;
use super::parts::SlotView;
use super::state::State;
use super::step::Step;
use super::tightening::TightenBench;
use super::turning::TurnView;
use super::view::OperationView;
use crate::plan::Work;
use serde::Serialize;
use time::OffsetDateTime;

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
    /// What is next.
    pub step: Step,
    /// What comes after that.
    pub then: Step,
    /// What the operation consists of.
    pub work: BenchWork,
}

/// What an operation consists of.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "work", rename_all = "kebab-case")]
pub enum BenchWork {
    /// Items to confirm.
    Items {
        /// The items in order.
        items: Vec<ItemView>,
    },
    /// A joint to tighten.
    Tighten(Box<TightenBench>),
    /// Sites to measure.
    Measure(Box<MeasureBench>),
    /// Parts to enter.
    Parts {
        /// Every slot with what is in it.
        slots: Vec<SlotView>,
    },
    /// Hardware to count.
    Count {
        /// Every kind with what was counted.
        counts: Vec<CountView>,
    },
    /// The crankshaft to turn.
    Turn {
        /// What was fitted last.
        suspect: String,
        /// The most that turning may take, N·m, where that is limited.
        most_nm: Option<f64>,
        /// Every turn of the crankshaft so far, in this and other operations.
        turns: Vec<TurnView>,
    },
    /// The signature under the whole engine.
    Sign,
}

impl State {
    /// The bench for one operation, with the instruments of the shop as they are at a time.
    pub fn bench(&self, at: usize, tools: &[Instrument], now: OffsetDateTime) -> Bench {
        let (step, then) = self.steps(at);
        let work = match &self.plan.operations[at].work {
            Work::Items { .. } => BenchWork::Items { items: self.items(at) },
            Work::Tighten { joint } => match self.plan.joint(joint) {
                Some(joint) => {
                    BenchWork::Tighten(Box::new(self.tighten_bench(at, joint, &step, (tools, now))))
                }
                None => BenchWork::Sign,
            },
            Work::Measure { sites } => {
                BenchWork::Measure(Box::new(self.measure_bench(at, sites, tools, now)))
            }
            Work::Parts { .. } => BenchWork::Parts { slots: self.slots(Some(at)) },
            Work::Count { .. } => BenchWork::Count { counts: self.counts(at) },
            Work::Turn { suspect, most_nm, .. } => {
                BenchWork::Turn { suspect: suspect.clone(), most_nm: *most_nm, turns: self.turns() }
            }
            Work::Sign => BenchWork::Sign,
        };
        let waiting = |other: &usize| *other != at && self.operations[*other].signed.is_none();
        let startable = |other: &usize| self.open_needs(*other).iter().all(|need| *need == at);
        let after = (0..self.operations.len()).find(|other| waiting(other) && startable(other));
        Bench {
            seq: self.seq,
            build: self.name.clone(),
            operation: self.operation_view(at),
            after: after.map(|other| self.plan.operations[other].id.clone()),
            matters: self.matters_of(at),
            step,
            then,
            work,
        }
    }
}

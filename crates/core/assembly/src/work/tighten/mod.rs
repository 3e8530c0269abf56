//! Tightening joints, and taking them apart again.

mod asked;
pub mod bench;
pub mod climb;
pub mod commands;
pub mod fastened;
pub mod film;
pub mod hand;
mod issues;
pub mod lubricate;
pub mod map;
pub mod otherwise;
pub mod pulls;
pub mod released;
pub mod remark;
mod replaced;
mod replaced_pull;
mod round;
pub mod sheet;
pub mod state;
mod tight;

pub(crate) use hand::Tightening;
pub use tight::TightJoint;
pub(crate) use tight::tight_joints;

use crate::instruments::fit::Tools;
use crate::state::State;
use crate::status::issue::Matter;
use crate::work::kind::{BenchWork, Kind, SectionWork, Step};
use remark::Open;
use rigore_plan::{OperationIx, Task};
use std::collections::BTreeSet;

/// The entries of a joint that were made out of order in an operation, and nobody stands for one by one.
pub(crate) fn out_of_order(state: &State, at: OperationIx, joint: &str) -> BTreeSet<u64> {
    let Some(work) = state.plan.tightens(at) else { return BTreeSet::new() };
    let tightening = Tightening { state, at, work };
    tightening
        .hands()
        .filter(|hand| hand.joint.id == joint)
        .flat_map(|hand| issues::out_of_order(&hand))
        .collect()
}

impl Kind for Tightening<'_> {
    fn total(&self) -> usize {
        let of_stage = |hand: &hand::Hand<'_>, stage| {
            let group = hand.joint.group_of(stage).filter(|_| hand.joint[stage].way.by_hand().is_none());
            group.map_or(1, |group| group.fasteners.len())
        };
        let of_joint = |hand: hand::Hand<'_>| match self.work.task {
            Task::Tighten => hand.stages().map(|stage| of_stage(&hand, stage)).sum(),
            // Only what was tightened is taken apart.
            Task::Loosen => hand.tightened().count(),
        };
        self.hands().map(of_joint).sum()
    }

    fn open(&self) -> Box<dyn Iterator<Item = Step> + '_> {
        Box::new(self.open().filter_map(|open| step(self, open)))
    }

    fn left(&self) -> usize {
        self.open().count()
    }

    fn matters(&self) -> Vec<Matter> {
        self.hands().flat_map(|hand| issues::matters(&hand)).collect()
    }

    fn bench(&self, tools: Tools<'_>) -> BenchWork {
        BenchWork::Tighten(Box::new(bench::bench(self, tools)))
    }

    fn section(&self) -> SectionWork {
        let joints = self.hands().map(|hand| sheet::section(&hand, self.work));
        SectionWork::Tighten { joints: joints.collect() }
    }
}

/// What is left to do as a step; `None` where a pull reads nothing.
fn step(of: &Tightening<'_>, open: Open) -> Option<Step> {
    let hand = of.hand(open.at().0)?;
    Some(match open {
        Open::Act { stage, .. } => Step::Act(bench::act_step(&hand, stage)),
        Open::Loosen { fastener, .. } => Step::Loosen(Box::new(bench::loosen_step(&hand, fastener, open))),
        Open::Pull { stage, fastener, place, .. } => {
            Step::Pull(Box::new(bench::pull_step(&hand, stage, fastener, place, open)?))
        }
    })
}

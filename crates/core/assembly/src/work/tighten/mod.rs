//! Tightening joints, and taking them apart again.

pub mod bench;
pub mod climb;
pub mod commands;
pub mod entry_remark;
pub mod fastener_history;
mod issues;
pub mod lubricant_used;
pub mod lubricate;
pub mod map;
pub mod pulls;
mod reading_check;
pub mod rejudged_stage;
mod replaced_pull;
mod replaced_stages;
mod round;
pub mod sheet;
pub mod state;
pub mod tight_bolt_reading;
mod tight_joints;
pub mod tighten_work;

pub use tight_joints::TightJoint;
pub(crate) use tight_joints::tight_joints;
pub(crate) use tighten_work::TightenWork;

use crate::instruments::fit::ShopTools;
use crate::state::BuildState;
use crate::status::issue::Issue;
use crate::work::kind::{BenchStep, BenchWork, SheetWork, WorkKind};
use entry_remark::OpenStep;
use rigore_plan::{OperationIx, TightenTask};
use std::collections::BTreeSet;

/// The entries of a joint that were made out of order in an operation, and nobody approved one by one.
pub(crate) fn out_of_order(state: &BuildState, at: OperationIx, joint: &str) -> BTreeSet<u64> {
    let Some(work) = state.plan.tightens(at) else { return BTreeSet::new() };
    let tightening = TightenWork { state, at, work };
    tightening
        .hands()
        .filter(|hand| hand.joint.id == joint)
        .flat_map(|hand| issues::out_of_order(&hand))
        .collect()
}

impl WorkKind for TightenWork<'_> {
    fn total(&self) -> usize {
        let of_stage = |hand: &tighten_work::JointWork<'_>, stage| {
            let group = hand.joint.group_of(stage).filter(|_| hand.joint[stage].way.by_hand().is_none());
            group.map_or(1, |group| group.fasteners.len())
        };
        let of_joint = |hand: tighten_work::JointWork<'_>| match self.work.task {
            TightenTask::Tighten => hand.stages().map(|stage| of_stage(&hand, stage)).sum(),
            // Only what was tightened is taken apart.
            TightenTask::Loosen => hand.tightened().count(),
        };
        self.hands().map(of_joint).sum()
    }

    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_> {
        Box::new(self.open().filter_map(|open| step(self, open)))
    }

    fn left(&self) -> usize {
        self.open().count()
    }

    fn issues(&self) -> Vec<Issue> {
        self.hands().flat_map(|hand| issues::issues(&hand)).collect()
    }

    fn bench(&self, tools: ShopTools<'_>) -> BenchWork {
        BenchWork::Tighten(Box::new(bench::bench(self, tools)))
    }

    fn section(&self) -> SheetWork {
        let joints = self.hands().map(|hand| sheet::section(&hand, self.work));
        SheetWork::Tighten { joints: joints.collect() }
    }
}

/// What is left to do as a step; `None` where a pull reads nothing.
fn step(of: &TightenWork<'_>, open: OpenStep) -> Option<BenchStep> {
    let hand = of.hand(open.at().0)?;
    Some(match open {
        OpenStep::Act { stage, .. } => BenchStep::Act(bench::act_step(&hand, stage)),
        OpenStep::Loosen { fastener, .. } => {
            BenchStep::Loosen(Box::new(bench::loosen_step(&hand, fastener, open)))
        }
        OpenStep::Pull { stage, fastener, place, .. } => {
            BenchStep::Pull(Box::new(bench::pull_step(&hand, stage, fastener, place, open)?))
        }
    })
}

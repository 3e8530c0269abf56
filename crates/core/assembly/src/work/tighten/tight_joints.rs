//! Joints that are tight, for whoever has to get at what is under them.

use super::tighten_work::TightenWork;
use crate::state::BuildState;
use rigore_plan::{FastenerIx, TightenTask};
use serde::Serialize;
use std::cmp::Reverse;

/// A joint with fasteners in it that are tight.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TightJoint {
    /// Key of the operation that tightened it.
    pub operation: String,
    /// Key of the joint.
    pub joint: String,
    /// What it is called.
    pub name: String,
}

/// The joints that are tight now, the one that was pulled last first.
pub(crate) fn tight_joints(state: &BuildState) -> Vec<TightJoint> {
    let mut found: Vec<(Reverse<u64>, TightJoint)> = Vec::new();
    for at in state.plan.line() {
        let Some(work) = state.plan.tightens(at) else { continue };
        for hand in (TightenWork { state, at, work }).hands().filter(|hand| hand.task == TightenTask::Tighten)
        {
            let is_tight = |at: usize| hand.round.is_tight(FastenerIx(at), state.ledger());
            let holds = (0..hand.joint.fasteners.len()).any(is_tight);
            let Some(last) = hand.last_pull().filter(|_| holds) else { continue };
            let tight = TightJoint {
                operation: state.plan[at].id.clone(),
                joint: hand.joint.id.clone(),
                name: hand.joint.name.clone(),
            };
            found.push((Reverse(last), tight));
        }
    }
    found.sort_by_key(|(last, _)| *last);
    let mut joints: Vec<TightJoint> = Vec::new();
    for (_, tight) in found {
        if joints.iter().all(|known| known.joint != tight.joint) {
            joints.push(tight);
        }
    }
    joints
}

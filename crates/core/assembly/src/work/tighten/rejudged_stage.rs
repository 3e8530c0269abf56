//! What was done under an earlier version of the plan and would be judged otherwise by the one that goes now (C-48).

use super::entry_remark::{EarlierRemarks, EntryRemark};
use super::tighten_work::TightenWork;
use crate::events::ApprovalSubject;
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::tightening::Verdict;
use rigore_plan::{FastenerIx, OperationIx, StageIx};
use std::collections::BTreeSet;

/// A stage whose pulls would be judged otherwise.
pub(crate) struct RejudgedStage {
    /// What it is.
    pub subject: ApprovalSubject,
    /// Key of the joint.
    pub joint: String,
    /// Which pulls.
    pub pulls: BTreeSet<u64>,
    /// The same in words.
    pub what: Message,
}

/// Those of an operation.
pub(crate) fn of_operation(state: &BuildState, at: OperationIx) -> Vec<RejudgedStage> {
    let Some(work) = state.plan.tightens(at) else { return Vec::new() };
    let tightening = TightenWork { state, at, work };
    let mut all = Vec::new();
    for hand in tightening.hands() {
        for stage in hand.stages().filter(|_| !hand.joint.was.is_empty()) {
            let Some(group) = hand.joint.group_of(stage) else { continue };
            let otherwise = |fastener: &usize| otherwise(&hand, stage, FastenerIx(*fastener));
            let pulls: Vec<(u64, Message)> =
                group.fasteners.clone().filter_map(|at| otherwise(&at)).collect();
            let Some(band) = hand.joint[stage].way.band().filter(|_| !pulls.is_empty()) else {
                continue;
            };
            let what = message!(
                "tighten-done-by-earlier-version-plan-by",
                joint = &hand.joint.name,
                stage = &hand.joint[stage].name,
                limits = band.limits(),
                pulls = Message::join(pulls.iter().map(|(_, words)| words.clone()), ", "),
            );
            all.push(RejudgedStage {
                subject: ApprovalSubject::Otherwise {
                    operation: state.plan[at].id.clone(),
                    joint: hand.joint.id.clone(),
                    stage: hand.joint[stage].name.clone(),
                },
                joint: hand.joint.id.clone(),
                pulls: pulls.into_iter().map(|(seq, _)| seq).collect(),
                what,
            });
        }
    }
    all
}

/// What is to be known about every entry on joints, in words, for the version of the plan that comes after.
pub(crate) fn remarks(state: &BuildState) -> EarlierRemarks {
    let mut earlier = EarlierRemarks { until: state.seq, ..EarlierRemarks::default() };
    for at in state.plan.line() {
        let Some(work) = state.plan.tightens(at) else { continue };
        for hand in (TightenWork { state, at, work }).hands() {
            let then = |remark: &EntryRemark| EntryRemark::Then {
                words: hand.remark(remark),
                deviates: remark.deviates(),
            };
            let pulls = hand.round.pulls.iter().map(|pull| (pull.seq, &pull.remarks));
            let actions = hand.round.actions.entries().map(|act| (act.seq, &act.value.remarks));
            let loosenings = hand.round.loosenings.iter().map(|of| (of.seq, &of.remarks));
            for (seq, remarks) in pulls.chain(actions).chain(loosenings) {
                earlier.remarks.insert(seq, remarks.iter().map(then).collect());
            }
        }
    }
    earlier
}

/// The last pull of a fastener in a stage, where it was right then and would not be now.
fn otherwise(
    hand: &super::tighten_work::JointWork<'_>,
    stage: StageIx,
    fastener: FastenerIx,
) -> Option<(u64, Message)> {
    let fastened = hand.round.fastened(fastener);
    let last = fastened.last(stage);
    let (was, now) = (hand.joint.way_at(stage, last), &hand.joint[stage].way);
    if last == 0 || was == now || now.band().is_none() {
        return None;
    }
    let had = fastened.had(stage);
    let right = |way: &rigore_plan::way::Way| way.verdict(had) == Some(Verdict::Good);
    (right(was) && !right(now)).then(|| {
        (last, message!("tighten-name-value", name = hand.name(fastener), value = now.print(had.value)))
    })
}

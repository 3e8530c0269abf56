//! Whether every operation of the line of work can be reached, and everything of the plan comes up
//! in one.

use crate::document::{OperationWork, Plan, RoundPurpose, TightenTask};
use crate::index::{JointIx, OperationIx, SiteIx, SlotIx, StageIx};
use crate::toml_reader::FaultReport;
use rigore_mechanics::message;
use std::collections::BTreeSet;

pub(super) fn check(plan: &Plan, report: &FaultReport) {
    match first_circle(plan) {
        Some(circle) => {
            let names: Vec<&str> = circle.iter().map(|at| plan[*at].id.as_str()).collect();
            report.error(
                &path(plan, circle[0], "needs"),
                message!("check-goes-circle", names = names.join(" needs ")),
            );
        }
        None => check_order(plan, report),
    }
    check_use(plan, report);
    check_joints(plan, report);
}

/// Joints are worked on in stages that can be run there: fasteners that are single use are not spent on
/// a trial (C-36), what is walked together is not torn apart, and only what was tightened is taken apart.
fn check_joints(plan: &Plan, report: &FaultReport) {
    for at in plan.line() {
        let Some(work) = plan.tightens(at) else { continue };
        for share in &work.shares {
            let joint = &plan[share.joint];
            let spends = |stage: usize| {
                let spec = plan.spec(joint, StageIx(stage));
                joint.stages[stage].way.once() && spec.is_some_and(|spec| spec.single_use)
            };
            let trial = joint.rounds[share.round] == RoundPurpose::Trial;
            if work.task == TightenTask::Tighten
                && trial
                && work.fasteners.is_none()
                && share.stages.clone().any(spends)
            {
                let message = message!("check-trial-spends-single-use-fasteners-leave", id = joint.id);
                report.error(&path(plan, at, "purpose"), message);
            }
            let torn = |end: usize| joint.legs().any(|leg| leg.start < end && end < leg.end);
            if torn(share.stages.start) || torn(share.stages.end) {
                let message = message!("check-tears-stages-apart-walked-together", id = joint.id);
                report.error(&path(plan, at, "stages"), message);
            }
            let tightened = |other: &OperationIx| {
                plan.tightens(*other).is_some_and(|other| {
                    other.task == TightenTask::Tighten
                        && other.shares.iter().any(|known| known.at() == share.at())
                })
            };
            if work.task == TightenTask::Loosen
                && !plan.line().filter(tightened).any(|other| follows(plan, at, other))
            {
                let message = message!("check-takes-apart-does-not-wait-for", id = joint.id);
                report.error(&path(plan, at, "needs"), message);
            }
        }
    }
}

fn path(plan: &Plan, at: OperationIx, key: &str) -> String {
    format!("{}.{key}", plan[at].written)
}

/// Nothing is behind the last signature, and hardware is counted back after it was counted out.
/// There is no circle.
fn check_order(plan: &Plan, report: &FaultReport) {
    let mut signs = plan.line().filter(|at| matches!(plan[*at].work, OperationWork::Sign));
    let last = signs.next();
    for second in signs {
        let first = last.map_or("", |at| plan[at].id.as_str());
        let message = message!("check-signs-engine-off-already-neither-could", first);
        report.error(&path(plan, second, "kind"), message);
    }
    for at in plan.line() {
        if let Some(last) = last.filter(|last| follows(plan, at, *last)) {
            let message = message!("check-can-never-started-signed-after-everything", id = plan[last].id);
            report.error(&path(plan, at, "needs"), message);
        }
        if let OperationWork::Count(counting) = &plan[at].work
            && let Some(out) = counting.back_of
            && !follows(plan, at, out)
        {
            let message = message!("check-counts-back-what-counts-out-does", id = plan[out].id);
            report.error(&path(plan, at, "needs"), message);
        }
    }
}

/// Whether an operation waits for another, directly or through others. There is no circle.
fn follows(plan: &Plan, at: OperationIx, other: OperationIx) -> bool {
    let mut seen = BTreeSet::new();
    let mut open = plan[at].needs.clone();
    while let Some(need) = open.pop() {
        if need == other {
            return true;
        }
        if seen.insert(need) {
            open.extend(&plan[need].needs);
        }
    }
    false
}

/// Warns of what no operation comes to.
fn check_use(plan: &Plan, report: &FaultReport) {
    let any =
        |of: &dyn Fn(&OperationWork) -> bool| plan.operations.iter().any(|operation| of(&operation.work));
    for (at, joint) in plan.joints.iter().enumerate() {
        let tightens = |work: &OperationWork| match work {
            OperationWork::Tighten(work) if work.task == TightenTask::Tighten => {
                work.shares.iter().any(|share| share.joint == JointIx(at))
            }
            _ => false,
        };
        if !any(&tightens) {
            report.warn(
                &format!("joint[{}]", joint.written),
                message!("check-no-operation-tightens", id = joint.id),
            );
        }
    }
    for (at, family) in plan.families.iter().enumerate() {
        let of_it = |site: &SiteIx| family.sites.contains(&site.0);
        if !any(&|work| matches!(work, OperationWork::Measure(sites) if sites.iter().any(of_it))) {
            report.warn(&format!("site[{at}]"), message!("check-no-operation-measures", id = family.id));
        }
    }
    let mut warned = BTreeSet::new();
    for (at, slot) in plan.slots.iter().enumerate() {
        let taken_in =
            any(&|work| matches!(work, OperationWork::Parts(slots) if slots.contains(&SlotIx(at))));
        if !taken_in && warned.insert(slot.set) {
            report.warn(
                &format!("slot[{}]", slot.set),
                message!("check-no-operation-takes", family = slot.family),
            );
        }
    }
}

/// The first circle among requirements, along it, its start once more at the end.
fn first_circle(plan: &Plan) -> Option<Vec<OperationIx>> {
    fn visit(
        plan: &Plan,
        at: OperationIx,
        way: &mut Vec<OperationIx>,
        done: &mut BTreeSet<OperationIx>,
    ) -> bool {
        if let Some(start) = way.iter().position(|seen| *seen == at) {
            way.drain(..start);
            way.push(at);
            return true;
        }
        if !done.contains(&at) {
            way.push(at);
            if plan[at].needs.iter().any(|need| visit(plan, *need, way, done)) {
                return true;
            }
            way.pop();
            done.insert(at);
        }
        false
    }
    let (mut way, mut done) = (Vec::new(), BTreeSet::new());
    plan.line().any(|at| visit(plan, at, &mut way, &mut done)).then_some(way)
}

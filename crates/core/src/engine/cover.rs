//! What the signature under each operation stands for: the things it rests on, by the plan.
//!
//! Whatever touches one of them lapses the signature, wherever that was recorded.

use super::thing::Thing;
use crate::plan::{Clearance, JointIx, OperationIx, Plan, Task, Work};

/// An operation that runs stages of a joint.
#[derive(Debug, Clone, Copy)]
struct Rests {
    operation: OperationIx,
    /// The end of its stages; none where it takes the joint apart, and rests on all of them.
    end: Option<usize>,
}

/// The operations whose signatures rest on each thing of a plan.
#[derive(Debug, Clone)]
pub(super) struct Cover {
    /// By joint and round.
    rounds: Vec<Vec<Vec<Rests>>>,
    /// By site.
    sites: Vec<Vec<OperationIx>>,
    /// By clearance.
    clearances: Vec<Vec<OperationIx>>,
    /// By slot.
    slots: Vec<Vec<OperationIx>>,
    /// By operation: what is counted, confirmed or turned in it.
    done_in: Vec<Vec<OperationIx>>,
    /// By operation: the signature under it.
    signatures: Vec<Vec<OperationIx>>,
    /// Turning operations, in the order of the line.
    turns: Vec<OperationIx>,
    /// By joint: the operations of other joints that begin at what it has shown.
    follows: Vec<Vec<OperationIx>>,
    /// Operations that take parts in, and those that sign the engine off.
    takes_in: Vec<OperationIx>,
    signs_off: Vec<OperationIx>,
}

impl Cover {
    /// What rests on what in a plan.
    pub fn of(plan: &Plan) -> Self {
        let none = |count: usize| vec![Vec::new(); count];
        let operations = plan.operations.len();
        let mut cover = Self {
            rounds: plan.joints.iter().map(|joint| vec![Vec::new(); joint.rounds.len()]).collect(),
            sites: none(plan.sites.len()),
            clearances: none(plan.clearances.len()),
            slots: none(plan.slots.len()),
            done_in: plan.line().map(|at| vec![at]).collect(),
            signatures: none(operations),
            turns: Vec::new(),
            follows: none(plan.joints.len()),
            takes_in: Vec::new(),
            signs_off: Vec::new(),
        };
        for at in plan.line() {
            cover.add(plan, at);
        }
        cover.follow(plan);
        cover
    }

    fn follow(&mut self, plan: &Plan) {
        for joint in (0..plan.joints.len()).map(JointIx) {
            let groups = plan[joint].qualifying().into_iter();
            for (other, _) in groups.flat_map(|group| plan.qualified_by(joint, group)) {
                let of_it = |at: &OperationIx| {
                    plan.tightens(*at)
                        .is_some_and(|work| work.shares.iter().any(|share| share.joint == other))
                };
                self.follows[joint.0].extend(plan.line().filter(of_it));
            }
        }
    }

    fn add(&mut self, plan: &Plan, at: OperationIx) {
        match &plan[at].work {
            Work::Tighten(work) => {
                for share in &work.shares {
                    let end = (work.task == Task::Tighten).then_some(share.stages.end);
                    self.rounds[share.joint.0][share.round].push(Rests { operation: at, end });
                }
            }
            Work::Measure(sites) => {
                for site in sites {
                    put(&mut self.sites[site.0], at);
                    // Another set has other lengths.
                    if let Some(slot) = plan[plan[*site].family].slot {
                        put(&mut self.slots[slot.0], at);
                    }
                }
                for (index, clearance) in plan.clearances.iter().enumerate() {
                    if clearance.judged_in == Some(at) {
                        put(&mut self.clearances[index], at);
                        self.add_clearance(plan, clearance, at);
                    }
                }
            }
            Work::Parts(slots) => {
                self.takes_in.push(at);
                for slot in slots {
                    put(&mut self.slots[slot.0], at);
                }
            }
            Work::Count(counting) => {
                if let Some(out) = counting.back_of {
                    self.done_in[out.0].push(at);
                }
            }
            // A turn is judged against the one before it.
            Work::Turn(_) => {
                let before = self.turns.last().copied();
                self.turns.push(at);
                if let Some(before) = before {
                    self.done_in[before.0].push(at);
                }
            }
            Work::Sign => {
                self.signs_off.push(at);
                for other in plan.line().filter(|other| *other != at) {
                    self.signatures[other.0].push(at);
                }
            }
            Work::Items(_) => {}
        }
    }

    fn add_clearance(&mut self, plan: &Plan, clearance: &Clearance, at: OperationIx) {
        for family in clearance.all_families() {
            for site in plan[family].sites.clone() {
                put(&mut self.sites[site], at);
            }
        }
    }

    /// Operations that may look different once a thing was touched, besides those that rest on it:
    /// where a turning operation is left out, a later one is compared with what was before it.
    pub fn seen_in(&self, thing: Thing) -> &[OperationIx] {
        match thing {
            Thing::Turn(at) => &self.turns[self.turns.partition_point(|other| *other <= at)..],
            Thing::Fastener(joint, ..) | Thing::Film(joint, ..) => &self.follows[joint.0],
            Thing::PartRemark(slot) => &self.slots[slot.0],
            // What is said of a part of an engine that is signed off stands against it no more.
            Thing::Signature(at) if self.signs_off.contains(&at) => &self.takes_in,
            _ => &[],
        }
    }

    /// The operations whose signatures rest on a thing.
    pub fn resting_on(&self, thing: Thing) -> Vec<OperationIx> {
        let list = match thing {
            // What is done in a stage bears on that stage and on all that come after it.
            Thing::Fastener(joint, round, _, stage)
            | Thing::Film(joint, round, _, stage)
            | Thing::Action(joint, round, stage) => {
                let round = self.rounds[joint.0][round].iter();
                let rests = round.filter(|rests| rests.end.is_none_or(|end| end > stage.0));
                return rests.map(|rests| rests.operation).collect();
            }
            Thing::Loosening(joint, round, _) => {
                let round = self.rounds[joint.0][round].iter();
                return round.filter(|rests| rests.end.is_none()).map(|rests| rests.operation).collect();
            }
            Thing::Place(site, _) => &self.sites[site.0],
            Thing::Shells(clearance, _) => &self.clearances[clearance.0],
            // How many there are changes what is proposed, not what was chosen; and what is said of a part
            // goes with the part, not with the engine it was in.
            Thing::Stock(..) | Thing::PartRemark(_) => return Vec::new(),
            Thing::Slot(slot) => &self.slots[slot.0],
            Thing::Hardware(at, _) | Thing::Item(at, _) | Thing::Turn(at) => &self.done_in[at.0],
            Thing::Signature(at) => &self.signatures[at.0],
        };
        list.clone()
    }
}

fn put(list: &mut Vec<OperationIx>, at: OperationIx) {
    if list.last() != Some(&at) {
        list.push(at);
    }
}

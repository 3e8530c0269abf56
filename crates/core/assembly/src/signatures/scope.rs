//! What the signature under each operation stands for: the things it rests on, by the plan.
//!
//! Whatever touches one of them lapses the signature, wherever that was recorded.
//!
//! A signature covers things. `SignatureScope` says for each thing of a plan (a fastener in its round, a place of a site,
//! shells, a slot, hardware, an item, a turn, another signature) which signatures rest on it. Every entry touches
//! one thing, and `BuildState::apply` lapses what rests on it, up to the signature under the whole engine. Lapsed
//! signatures stay on the sheet.

use crate::state::entry_topic::{EntryTopic, FindingTopic};
use rigore_plan::{
    Clearance, JointIx, OperationIx, OperationWork, Plan, ReworkCause, SiteIx, SlotIx, TightenTask,
};
use std::collections::HashSet;

/// An operation that runs stages of a joint.
#[derive(Debug, Clone, Copy)]
struct Rests {
    operation: OperationIx,
    /// The end of its stages; none where it takes the joint apart, and rests on all of them.
    end: Option<usize>,
}

/// The operations whose signatures rest on each thing of a plan.
#[derive(Debug, Clone)]
pub(crate) struct SignatureScope {
    /// By joint and round.
    rounds: Vec<Vec<Vec<Rests>>>,
    /// By site.
    sites: Vec<Vec<OperationIx>>,
    /// By clearance and member.
    clearances: Vec<Vec<Vec<OperationIx>>>,
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
    /// What is done again after what.
    unsettled_by: Vec<(ReworkCause, EntryTopic)>,
    /// By slot: operations that fit what is in it.
    fitted_in: Vec<Vec<OperationIx>>,
    /// Operations that close the engine over what is in it.
    closes: Vec<OperationIx>,
    /// Items by which something goes in or comes out.
    aids: HashSet<(OperationIx, usize)>,
}

impl SignatureScope {
    /// What rests on what in a plan.
    pub fn of(plan: &Plan) -> Self {
        let none = |count: usize| vec![Vec::new(); count];
        let operations = plan.operations.len();
        let mut cover = Self {
            rounds: plan.joints.iter().map(|joint| vec![Vec::new(); joint.rounds.len()]).collect(),
            sites: none(plan.sites.len()),
            clearances: plan.clearances.iter().map(|clearance| none(plan.members(clearance))).collect(),
            slots: none(plan.slots.len()),
            done_in: plan.line().map(|at| vec![at]).collect(),
            signatures: none(operations),
            turns: Vec::new(),
            follows: none(plan.joints.len()),
            takes_in: Vec::new(),
            signs_off: Vec::new(),
            unsettled_by: Vec::new(),
            fitted_in: none(plan.slots.len()),
            closes: plan.line().filter(|at| plan[*at].closes).collect(),
            aids: HashSet::new(),
        };
        for at in plan.line() {
            cover.add(plan, at);
        }
        cover.follow(plan);
        cover.unsettled_by = unsettled_by(plan);
        cover
    }

    /// What does not hold any more after something happened (C-40).
    pub fn unsettled_by(&self, is: impl Fn(&ReworkCause) -> bool) -> Vec<EntryTopic> {
        self.unsettled_by.iter().filter(|(cause, _)| is(cause)).map(|(_, thing)| *thing).collect()
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
        for slot in &plan[at].parts {
            put(&mut self.fitted_in[slot.0], at);
            // What was fitted is not what is in the slot now.
            put(&mut self.slots[slot.0], at);
        }
        match &plan[at].work {
            OperationWork::Tighten(work) => {
                for share in &work.shares {
                    let end = (work.task == TightenTask::Tighten).then_some(share.stages.end);
                    self.rounds[share.joint.0][share.round].push(Rests { operation: at, end });
                    if work.task == TightenTask::Tighten {
                        // Other fasteners than those that were tightened.
                        for slot in plan[share.joint].groups.iter().filter_map(|group| group.parts) {
                            put(&mut self.slots[slot.0], at);
                        }
                    }
                }
            }
            OperationWork::Measure(sites) => {
                for site in sites {
                    put(&mut self.sites[site.0], at);
                    // Another set has other lengths.
                    if let Some(slot) = plan[plan[*site].family].slot {
                        put(&mut self.slots[slot.0], at);
                    }
                }
                for (index, clearance) in plan.clearances.iter().enumerate() {
                    for member in 0..plan.members(clearance) {
                        if clearance.judged(member) == Some(at) {
                            put(&mut self.clearances[index][member], at);
                            self.add_clearance(plan, (clearance, member), at);
                        }
                    }
                }
            }
            OperationWork::Parts(slots) => {
                self.takes_in.push(at);
                for slot in slots {
                    put(&mut self.slots[slot.0], at);
                }
            }
            OperationWork::Count(counting) => {
                if let Some(out) = counting.back_of {
                    self.done_in[out.0].push(at);
                }
            }
            // A turn is judged against the one before it.
            OperationWork::Turn(turning) => {
                let before = self.turns.last().copied().filter(|_| turning.rise_nm.is_some());
                self.turns.push(at);
                if let Some(before) = before {
                    self.done_in[before.0].push(at);
                }
            }
            OperationWork::Sign => {
                self.signs_off.push(at);
                for other in plan.line().filter(|other| *other != at) {
                    self.signatures[other.0].push(at);
                }
            }
            OperationWork::Items(items) => {
                let aids = items.iter().enumerate();
                let aids = aids.filter(|(_, item)| item.puts_in.is_some() || item.takes_out.is_some());
                self.aids.extend(aids.map(|(item, _)| (at, item)));
            }
        }
    }

    fn add_clearance(&mut self, plan: &Plan, (clearance, member): (&Clearance, usize), at: OperationIx) {
        for site in clearance.all_families().filter_map(|family| plan.member(family, member)) {
            put(&mut self.sites[site.0], at);
        }
    }

    /// The operations that fit what is in a slot.
    pub fn fitting(&self, slot: SlotIx) -> Vec<OperationIx> {
        self.fitted_in[slot.0].clone()
    }

    /// The operations on what a finding is about, in the order of the line.
    pub fn concerned(&self, about: FindingTopic) -> Vec<OperationIx> {
        let mut concerned = match about {
            FindingTopic::Fastener(joint, _) => {
                self.rounds[joint.0].iter().flatten().map(|rests| rests.operation).collect()
            }
            FindingTopic::Site(site) => self.sites[site.0].clone(),
            FindingTopic::Part(slot) if self.fitted_in[slot.0].is_empty() => self.slots[slot.0].clone(),
            FindingTopic::Part(slot) => self.fitted_in[slot.0].clone(),
            FindingTopic::Operation(at) => vec![at],
        };
        concerned.sort_unstable();
        concerned.dedup();
        concerned
    }

    /// Operations that may look different once a thing was touched, besides those that rest on it:
    /// where a turning operation is left out, a later one is compared with what was before it.
    pub fn seen_in(&self, thing: EntryTopic) -> &[OperationIx] {
        match thing {
            EntryTopic::Turn(at) => &self.turns[self.turns.partition_point(|other| *other <= at)..],
            EntryTopic::Fastener(joint, ..) | EntryTopic::Film(joint, ..) => &self.follows[joint.0],
            EntryTopic::PartRemark(slot) => &self.slots[slot.0],
            EntryTopic::Inside(_) => &self.closes,
            EntryTopic::Item(at, item) if self.aids.contains(&(at, item)) => &self.closes,
            // What is said of a part of an engine that is signed off stands against it no more.
            EntryTopic::Signature(at) if self.signs_off.contains(&at) => &self.takes_in,
            _ => &[],
        }
    }

    /// The operations whose signatures rest on a thing.
    pub fn resting_on(&self, thing: EntryTopic) -> Vec<OperationIx> {
        let list = match thing {
            // What is done in a stage bears on that stage and on all that come after it.
            EntryTopic::Fastener(joint, round, _, stage)
            | EntryTopic::Film(joint, round, _, stage)
            | EntryTopic::Action(joint, round, stage) => {
                let round = self.rounds[joint.0][round].iter();
                let rests = round.filter(|rests| rests.end.is_none_or(|end| end > stage.0));
                return rests.map(|rests| rests.operation).collect();
            }
            EntryTopic::Loosening(joint, round, _) => {
                let round = self.rounds[joint.0][round].iter();
                return round.filter(|rests| rests.end.is_none()).map(|rests| rests.operation).collect();
            }
            EntryTopic::Place(site, _) => &self.sites[site.0],
            EntryTopic::Shells(clearance, member) => &self.clearances[clearance.0][member],
            // How many there are changes what is proposed, not what was chosen; and what is said of a part
            // goes with the part, not with the engine it was in.
            // A finding holds what is not signed yet.
            // What is waited for holds what is not started yet.
            EntryTopic::Stock(..)
            | EntryTopic::PartRemark(_)
            | EntryTopic::Finding(_)
            | EntryTopic::Inside(_)
            | EntryTopic::Wait(_)
            | EntryTopic::Doubt(_)
            | EntryTopic::Promise => {
                return Vec::new();
            }
            EntryTopic::Slot(slot) => &self.slots[slot.0],
            EntryTopic::Hardware(at, _) | EntryTopic::Item(at, _) | EntryTopic::Turn(at) => {
                &self.done_in[at.0]
            }
            EntryTopic::Signature(at) => &self.signatures[at.0],
        };
        list.clone()
    }
}

fn put(list: &mut Vec<OperationIx>, at: OperationIx) {
    if list.last() != Some(&at) {
        list.push(at);
    }
}

/// What of a plan is done again after what.
fn unsettled_by(plan: &Plan) -> Vec<(ReworkCause, EntryTopic)> {
    let mut list = Vec::new();
    let mut put = |causes: &[ReworkCause], thing: EntryTopic| {
        list.extend(causes.iter().map(|cause| (cause.clone(), thing)));
    };
    for (at, site) in plan.sites.iter().enumerate() {
        for place in 0..site.places.len() {
            put(&site.again, EntryTopic::Place(SiteIx(at), place));
        }
    }
    for at in plan.line() {
        match &plan[at].work {
            OperationWork::Items(items) => {
                for (item, planned) in items.iter().enumerate() {
                    put(&planned.again, EntryTopic::Item(at, item));
                }
            }
            OperationWork::Turn(turning) => put(&turning.again, EntryTopic::Turn(at)),
            _ => {}
        }
    }
    list
}

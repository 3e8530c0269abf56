//! The versions of a plan that an engine was built by, one after the other (C-48).
//!
//! An engine that goes on by another version is folded anew by it, from the first entry: what was done stays judged
//! by the ways of the version it was done under, which the joints of the plan carry ([`EarlierWays`]).
//!
//! An engine may go on by another version of its plan (`versions.rs`). It is folded anew by it from its first
//! entry. What was done stays judged as it was: a joint carries the ways that its stages had (`Joint::way_at`), and
//! what was to be known about an entry is kept in its words. What would be judged otherwise is an issue for a lead
//! (`rejudged_stage.rs`); what has no place in the new version refuses the move (`moving.rs`).

use crate::events::{BuildStart, Event, Fact, PlanRef};
use rigore_plan::{EarlierWays, Joint, Plan, RemovedStage, StageIx, same_stage};
use std::sync::Arc;
use thiserror::Error;

/// Why events are no build.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum FoldError {
    /// The first of them does not begin one.
    #[error("this build was never begun")]
    NotBegun,
    /// The plan that they name is not at hand.
    #[error("the plan {0} is not there")]
    NoPlan(String),
}

/// The plan of an engine as it is now, with how earlier versions had it.
pub(crate) struct PlanVersions {
    plan: Arc<Plan>,
    /// Earlier versions with the last entry that was made under each.
    before: Vec<(Arc<Plan>, u64)>,
}

impl PlanVersions {
    /// The versions that events go by.
    pub fn of(
        plans: &impl Fn(&PlanRef) -> Option<Arc<Plan>>,
        begun: &BuildStart,
        rest: &[&Event],
    ) -> Result<Self, FoldError> {
        let find = |named: &PlanRef| plans(named).ok_or_else(|| FoldError::NoPlan(named.hash.clone()));
        let mut plan = find(&begun.plan)?;
        let mut before = Vec::new();
        for event in rest {
            if let Fact::Moved(moved) = &event.fact {
                before.push((std::mem::replace(&mut plan, find(&moved.plan)?), event.seq - 1));
            }
        }
        if before.is_empty() {
            return Ok(Self { plan, before });
        }
        let mut whole = (*plan).clone();
        for joint in &mut whole.joints {
            joint.was = before.iter().filter_map(|(old, until)| was(joint, old, *until)).collect();
            joint.gone = before.iter().flat_map(|(old, until)| gone(joint, old, *until)).collect();
        }
        Ok(Self { plan: Arc::new(whole), before })
    }

    /// The plan, with the ways that stages had before.
    pub fn plan(&self) -> Arc<Plan> {
        Arc::clone(&self.plan)
    }

    /// An entry in the words of the version that goes now, where they are others: entries leave out the joint where
    /// their operation has one only, and name stages and places by number. What is not there any more is passed over.
    pub fn translated(&self, event: &Event) -> Option<Event> {
        let (old, until) = self.before.iter().find(|(_, until)| event.seq <= *until)?;
        let mut event = event.clone();
        match &mut event.fact {
            Fact::Pulled(fact) => {
                let was = meant(old, &fact.operation, &mut fact.joint)?;
                fact.stage = self.stage_now(was, fact.stage, *until);
            }
            Fact::Acted(fact) => {
                let was = meant(old, &fact.operation, &mut fact.joint)?;
                fact.stage = self.stage_now(was, fact.stage, *until);
            }
            Fact::Loosened(fact) => {
                meant(old, &fact.operation, &mut fact.joint)?;
            }
            Fact::Allowed(fact) => {
                meant(old, &fact.operation, &mut fact.joint)?;
            }
            Fact::Lubricated(fact) => {
                meant(old, &fact.operation, &mut fact.joint)?;
            }
            Fact::Measured(fact) => {
                let was = &old[old.site(&fact.site)?].places.get(fact.place)?.name;
                let now = self.plan.site(&fact.site).map(|at| &self.plan[at].places);
                let place = now.and_then(|now| now.iter().position(|place| place.name == *was));
                fact.place = place.unwrap_or(usize::MAX);
            }
            _ => return None,
        }
        Some(event)
    }

    /// The number that a stage of a joint has now; behind all of its own, where it is gone.
    fn stage_now(&self, was: &Joint, stage: usize, until: u64) -> usize {
        let Some(now) = self.plan.joint(&was.id).filter(|_| stage < was.stages.len()) else {
            return usize::MAX;
        };
        let now = &self.plan[now];
        if let Some(at) = same_stage(was, StageIx(stage), now) {
            return at.0;
        }
        let gone = now.gone.iter().position(|gone| (gone.until, gone.number) == (until, stage));
        gone.map_or(usize::MAX, |at| now.stages.len() + at)
    }
}

/// The joint that an entry of an operation means, which it names from now on.
fn meant<'a>(old: &'a Plan, operation: &str, named: &mut Option<String>) -> Option<&'a Joint> {
    let share = old.tightens(old.operation(operation)?)?.share(old, named.as_deref())?;
    let joint = &old[share.joint];
    *named = Some(joint.id.clone());
    Some(joint)
}

/// The stages that a joint had in an earlier version and has not any more.
fn gone(joint: &Joint, old: &Plan, until: u64) -> Vec<RemovedStage> {
    let Some(of_old) = old.joint(&joint.id).map(|at| &old[at]) else { return Vec::new() };
    let is_gone = |number: &usize| same_stage(of_old, StageIx(*number), joint).is_none();
    let stage = |number: usize| RemovedStage {
        until,
        number,
        name: of_old.stages[number].name.clone(),
        way: of_old.stages[number].way.clone(),
    };
    (0..of_old.stages.len()).filter(is_gone).map(stage).collect()
}

/// The ways that a joint had in an earlier version, where they were others.
fn was(joint: &Joint, old: &Plan, until: u64) -> Option<EarlierWays> {
    let of_old = &old[old.joint(&joint.id)?];
    let way = |at: usize| {
        let was = &of_old[same_stage(joint, StageIx(at), of_old)?].way;
        (*was != joint.stages[at].way).then(|| was.clone())
    };
    let ways: Vec<_> = (0..joint.stages.len()).map(way).collect();
    ways.iter().any(Option::is_some).then_some(EarlierWays { until, ways })
}

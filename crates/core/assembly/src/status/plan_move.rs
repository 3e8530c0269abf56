//! Going on by another version of the plan (C-48): which versions there were, and what a move means for what is recorded.

use crate::events::{ApprovalSubject, Event, Fact, PlanMoveEntry, PlanRef};
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use crate::work::tighten::rejudged_stage;
use rigore_mechanics::message::Message;
use rigore_mechanics::{message, text};
use rigore_plan::{Difference, Plan, differences};
use serde::Serialize;
use std::collections::BTreeSet;
use std::sync::Arc;
use time::OffsetDateTime;

/// What moving an engine to another version does.
#[derive(Debug, Clone)]
pub struct PlanMove {
    /// The version.
    pub plan: PlanRef,
    /// Whether it answers what nobody had looked up, and changes nothing else.
    pub(crate) only_looked_up: bool,
    /// The last entry that was looked at.
    pub(crate) seq: u64,
    /// What it changes.
    pub differences: Vec<Difference>,
    /// What is recorded and has no place in it.
    pub lost: Vec<String>,
    /// The engine as it would go on.
    after: Option<Box<BuildState>>,
}

/// What moving an engine to another version means, before it is done.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanMovePreview {
    /// The version.
    pub plan: PlanRef,
    /// What it changes.
    pub differences: Vec<Difference>,
    /// What is recorded and has no place in it: the engine cannot go on by it then.
    pub lost: Vec<String>,
    /// What a lead will have to decide on besides what is open already.
    pub issues: Vec<Message>,
    /// Operations whose signature ends.
    pub lapses: Vec<String>,
}

/// A version of the plan that an engine went on by.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct VersionView {
    /// The version.
    pub plan: PlanRef,
    /// Who said so; of the first one, who began the engine.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Why; empty of the first one.
    pub reason: String,
}

impl PlanMove {
    /// What moving does to an engine of these events: to a version, and whether its text is
    /// [only looked up](rigore_plan::only_looked_up).
    pub fn of(
        state: &BuildState,
        events: &[Event],
        to: (&PlanRef, &Arc<Plan>, bool),
        plans: impl Fn(&PlanRef) -> Option<Arc<Plan>>,
    ) -> Self {
        let (named, plan, only_looked_up) = to;
        let moved =
            Fact::Moved(PlanMoveEntry { plan: named.clone(), reason: String::new(), looked_up: Vec::new() });
        let mut all: Vec<Event> = events.to_vec();
        if let Some(last) = events.last() {
            all.push(Event { seq: last.seq + 1, fact: moved, ..last.clone() });
        }
        let find = |of: &PlanRef| if of.hash == named.hash { Some(Arc::clone(plan)) } else { plans(of) };
        let after = BuildState::fold(find, &all).ok();
        let mut lost = BTreeSet::new();
        for event in events {
            let known = |state: &BuildState| {
                state.ledger().line(event.seq).map(|line| (line.thing.is_some(), line.operation.is_some()))
            };
            if let Some(after) = &after
                && known(state) != known(after)
                && let Some(id) = event.fact.operation()
            {
                let name = state.plan.operation(id).map_or(id, |at| &state.plan[at].name);
                lost.insert(text!("assembly-entries-recorded-do-not-exist-entry", name, seq = event.seq));
            }
        }
        Self {
            plan: named.clone(),
            only_looked_up,
            seq: events.last().map_or(0, |event| event.seq),
            differences: differences(&state.plan, plan),
            lost: lost.into_iter().collect(),
            after: after.map(Box::new),
        }
    }

    /// What it means, as a lead sees it before deciding.
    pub fn preview(&self, state: &BuildState) -> PlanMovePreview {
        let before: Vec<Message> = state.issues().into_iter().map(|issue| issue.text).collect();
        let (mut issues, mut lapses) = (Vec::new(), Vec::new());
        if let Some(after) = &self.after {
            issues = after.issues().into_iter().map(|issue| issue.text).collect();
            issues.retain(|what| !before.contains(what));
            let ended = after.plan.line().filter(|at| {
                let signed = |state: &BuildState| {
                    let at = state.plan.operation(&after.plan[*at].id)?;
                    state.operations().signed(at).map(|_| ())
                };
                signed(state).is_some() && signed(after).is_none()
            });
            lapses = ended.map(|at| after.plan[at].name.clone()).collect();
        }
        let (plan, differences, lost) = (self.plan.clone(), self.differences.clone(), self.lost.clone());
        PlanMovePreview { plan, differences, lost, issues, lapses }
    }
}

impl BuildState {
    /// The versions of its plan that it went by, the one it was begun by first.
    pub fn versions(&self) -> Vec<VersionView> {
        let first = VersionView {
            plan: self.begun.plan.clone(),
            by: self.begun_by.by.name.clone(),
            at: self.begun_by.at,
            reason: String::new(),
        };
        let later = self.moves.iter().map(|(stamp, moved)| VersionView {
            plan: moved.plan.clone(),
            by: stamp.by.name.clone(),
            at: stamp.at,
            reason: moved.reason.clone(),
        });
        std::iter::once(first).chain(later).collect()
    }

    /// The pulls of a stage that were made under an earlier version of the plan and would be judged otherwise now.
    pub(crate) fn judged_otherwise(&self, operation: &str, joint: &str, stage: &str) -> BTreeSet<u64> {
        let of_it = |subject: &ApprovalSubject| {
            let ApprovalSubject::Otherwise { operation: o, joint: j, stage: s } = subject else {
                return false;
            };
            (o.as_str(), j.as_str(), s.as_str()) == (operation, joint, stage)
        };
        let Some(at) = self.plan.operation(operation) else { return BTreeSet::new() };
        let found = rejudged_stage::of_operation(self, at).into_iter().find(|of| of_it(&of.subject));
        found.map(|of| of.pulls).unwrap_or_default()
    }

    /// What was done under an earlier version and would be judged otherwise now is for a lead (C-48).
    pub(crate) fn issues_of_versions(&self, at: rigore_plan::OperationIx) -> Vec<Issue> {
        if self.moves.is_empty() {
            return Vec::new();
        }
        let of = rejudged_stage::of_operation(self, at).into_iter();
        let open = of.filter(|of| !self.is_approved(&of.subject));
        open.map(|of| Issue {
            seq: of.pulls.last().copied().unwrap_or_default(),
            subject: Some(of.subject),
            operation: self.plan[at].id.clone(),
            joint: Some(of.joint),
            fastener: None,
            text: of.what,
            to_do: message!("assembly-lead-approves-as-done-or-loosen"),
            remedies: vec![Remedy::Accept],
        })
        .collect()
    }
}

//! What an engine says for the day (C-50): what can be done on it now, what waits outside of the bench and for what,
//! what is not there yet, and how much work is left.
//!
//! It changes with the line of work, not with every pull, and is kept beside the record.
//!
//! An engine says for the day what can be done, what waits and how much is left; that is kept beside
//! its list row and written anew only where it may have changed (`BuildProjection::outlook_anew`). The store keeps how long
//! signed operations took (`durations.rs`) and what that comes to; `day` makes hours, days and an order of it, by the
//! shop's own clock (`zone.rs`).

use crate::events::{BlockerKind, Event, Fact};
use crate::iso_date;
use crate::state::BuildState;
use crate::status::issue::Remedy;
use crate::status::operations::{OperationBrief, OperationStatus};
use rigore_mechanics::message::Message;
use rigore_plan::{OperationIx, OperationWork, SlotIx};
use serde::{Deserialize, Serialize};
use time::{Date, OffsetDateTime};

/// What an engine says for the day.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BuildOutlook {
    /// The day it was promised for.
    #[serde(default, with = "iso_date::option", skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub promised: Option<Date>,
    /// What can be done now, in the order of the line of work.
    pub can: Vec<ReadyOperation>,
    /// What waits for something outside of the bench, or for time.
    pub waits: Vec<BlockedWork>,
    /// Parts that were not entered yet and are not on order, by name.
    pub missing: Vec<String>,
    /// Figures that nobody has looked up and something waits for.
    pub wanted: Vec<String>,
    /// What is left to do.
    pub left: Vec<RemainingOperation>,
}

/// An operation that something can be done in now.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReadyOperation {
    /// Key of the operation.
    pub operation: String,
    /// What it is called.
    pub name: String,
    /// Where it stands.
    pub status: OperationStatus,
    /// What has to be settled first, where it is held.
    pub now: Option<Message>,
    /// Whether only a lead can do it.
    pub lead: bool,
    /// Who is at it.
    pub at_it: Option<String>,
}

/// What work waits for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BlockedBy {
    /// Sealant cures.
    Cure,
    /// Something is on order.
    Order,
    /// Something is away.
    Away,
    /// The engine is on hold.
    Hold,
    /// A figure is to be looked up.
    Figure,
    /// The only instrument for it is away, or not to be trusted.
    Instrument,
}

/// Something that waits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BlockedWork {
    /// What is waited for.
    pub cause: BlockedBy,
    /// The same in words.
    pub what: String,
    /// Whether all of the engine waits.
    pub whole: bool,
    /// The operations that wait, by name.
    pub operations: Vec<String>,
    /// When it ends by itself, where it does.
    #[serde(default, with = "time::serde::rfc3339::option", skip_serializing_if = "Option::is_none")]
    pub until: Option<OffsetDateTime>,
    /// The day it is expected, where somebody knows.
    #[serde(default, with = "iso_date::option", skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub expected: Option<Date>,
}

impl BlockedWork {
    /// When it ends, as far as anybody knows: by itself, or with the day that it is expected on.
    pub fn ends(&self) -> Option<OffsetDateTime> {
        self.until.or_else(|| Some(self.expected?.midnight().assume_utc()))
    }
}

/// An operation that is not signed yet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RemainingOperation {
    /// Key of the step that it is written with: the same for every member of a repeat.
    pub step: String,
    /// The share of it that is left, from 0 to 1.
    pub share: f64,
    /// How long all of it takes by the plan, minutes.
    pub plan_min: f64,
}

/// Where an operation stands, in which quarter of how many steps, and the first thing that is open in it.
type Standing = (OperationStatus, usize, usize, Option<Message>);

/// What an outlook is made of, as far as that changes: where each operation stands, in which quarter it is, the
/// first thing that is open in it.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct OutlookBasis(Vec<Standing>);

impl OutlookBasis {
    /// How operations stand now.
    pub fn of(statuses: &[OperationStatus], briefs: &[OperationBrief]) -> Self {
        let line = statuses.iter().zip(briefs);
        Self(line.map(|(status, brief)| (*status, quarter(brief), brief.total, brief.now.clone())).collect())
    }

    /// Whether an entry changes more of an outlook than how operations stand: what is not at the bench, what cures, or
    /// who is at it.
    pub fn besides(event: &Event, before: Option<&(Option<String>, String)>) -> bool {
        let at = (event.fact.operation(), event.by.id.as_str());
        let same_hand = before.is_some_and(|(operation, by)| (operation.as_deref(), by.as_str()) == at);
        !same_hand
            || matches!(
                event.fact,
                Fact::Acted(_)
                    | Fact::Fitted(_)
                    | Fact::Voided(_)
                    | Fact::Awaited(_)
                    | Fact::WaitEnded(_)
                    | Fact::Promised(_)
            )
    }

    /// Operations that were signed, or are signed no more, since.
    pub fn signed_since<'a>(&'a self, before: &'a Self) -> impl Iterator<Item = OperationIx> + 'a {
        let done = |status: OperationStatus| status == OperationStatus::Done;
        let line = self.0.iter().zip(&before.0).enumerate();
        let changed = line.filter(move |(_, (now, before))| done(now.0) != done(before.0));
        changed.map(|(at, _)| OperationIx(at))
    }
}

/// How many quarters of an operation are done.
fn quarter(brief: &OperationBrief) -> usize {
    (brief.done * 4).checked_div(brief.total).unwrap_or(0)
}

impl BuildState {
    /// What the engine says for the day.
    pub(crate) fn outlook(&self, statuses: &[OperationStatus], briefs: &[OperationBrief]) -> BuildOutlook {
        if statuses.iter().all(|status| *status == OperationStatus::Done) {
            return BuildOutlook::default();
        }
        let open = || self.plan.line().filter(|at| statuses[at.0] != OperationStatus::Done);
        let left = open().filter(|at| self.operations().signed(*at).is_none());
        BuildOutlook {
            promised: self.waits().promised().map(|(_, promise)| promise.by),
            can: open().filter_map(|at| self.can_do(at, statuses[at.0], &briefs[at.0])).collect(),
            waits: self.waits_for_others(statuses),
            missing: self.missing(),
            wanted: self.wanted_now(),
            left: left.map(|at| self.left_to_do(at, &briefs[at.0])).collect(),
        }
    }

    fn can_do(
        &self,
        at: OperationIx,
        status: OperationStatus,
        brief: &OperationBrief,
    ) -> Option<ReadyOperation> {
        use OperationStatus::{Held, InWork, Ready, ToSign};
        if !matches!(status, Held | InWork | Ready | ToSign) || self.waits_outside(at).next().is_some() {
            return None;
        }
        let planned = &self.plan[at];
        let mends = |remedy: &Remedy| !matches!(remedy, Remedy::Accept | Remedy::Decide | Remedy::Void);
        let for_lead = || {
            let issues = self.issues_of(at);
            !issues.is_empty() && issues.iter().all(|issue| !issue.remedies.iter().any(mends))
        };
        Some(ReadyOperation {
            operation: planned.id.clone(),
            name: planned.name.clone(),
            status,
            now: brief.now.clone(),
            lead: matches!(planned.work, OperationWork::Sign) || status == Held && for_lead(),
            at_it: self.active_worker(at).map(|last| last.by),
        })
    }

    /// What is not at the bench, with what waits for it, and sealant that cures under what could go on.
    fn waits_for_others(&self, statuses: &[OperationStatus]) -> Vec<BlockedWork> {
        let open = |at: &OperationIx| statuses[at.0] != OperationStatus::Done;
        let outside = self.awaited().map(|awaited| BlockedWork {
            cause: match awaited.fact.kind {
                BlockerKind::Order => BlockedBy::Order,
                BlockerKind::Away => BlockedBy::Away,
                BlockerKind::Hold => BlockedBy::Hold,
            },
            what: awaited.fact.what.clone(),
            whole: awaited.holds.is_none(),
            operations: awaited.holds.iter().flatten().map(|at| self.plan[*at].name.clone()).collect(),
            until: None,
            expected: awaited.fact.expected,
        });
        let mut waits: Vec<BlockedWork> = outside.collect();
        for at in self.plan.line().filter(open) {
            let Some(cure) = self.waits_for_cure(at) else { continue };
            let name = self.plan[at].name.clone();
            let known =
                waits.iter_mut().find(|wait| wait.until == Some(cure.until) && wait.what == cure.name);
            match known {
                Some(wait) => wait.operations.push(name),
                None => waits.push(BlockedWork {
                    cause: BlockedBy::Cure,
                    what: cure.name,
                    whole: false,
                    operations: vec![name],
                    until: Some(cure.until),
                    expected: None,
                }),
            }
        }
        let next = |at: &OperationIx| open(at) && self.open_needs(*at).is_empty();
        for at in self.plan.line().filter(next) {
            waits.extend(self.missing_figures_of(at).map(|figure| BlockedWork {
                cause: BlockedBy::Figure,
                what: figure.what.clone(),
                whole: false,
                operations: vec![self.plan[at].name.clone()],
                until: None,
                expected: None,
            }));
        }
        waits
    }

    fn not_entered(&self) -> impl Iterator<Item = SlotIx> {
        (0..self.plan.slots.len()).map(SlotIx).filter(|slot| self.parts().latest(*slot).is_none())
    }

    fn missing(&self) -> Vec<String> {
        let ordered: Vec<_> = self.awaited().filter_map(|awaited| awaited.slot).collect();
        let missing = self.not_entered().filter(|slot| !ordered.contains(slot));
        missing.map(|slot| self.plan[slot].name.clone()).collect()
    }

    fn wanted_now(&self) -> Vec<String> {
        if self.plan.open.is_empty() {
            return Vec::new();
        }
        let open = self.plan.line().filter(|at| self.operations().signed(*at).is_none());
        let mut wanted: Vec<String> =
            open.flat_map(|at| self.missing_figures_of(at)).map(|figure| figure.what.clone()).collect();
        wanted.sort();
        wanted.dedup();
        wanted
    }

    #[expect(clippy::cast_precision_loss, reason = "quarters")]
    fn left_to_do(&self, at: OperationIx, brief: &OperationBrief) -> RemainingOperation {
        let planned = &self.plan[at];
        RemainingOperation {
            step: planned.family.clone(),
            share: 1.0 - quarter(brief) as f64 / 4.0,
            plan_min: planned.minutes.unwrap_or_else(|| usual_min(&planned.work, brief.total)),
        }
    }
}

/// How long an operation takes where the plan does not say: for laying out, and by its steps; minutes.
#[expect(clippy::cast_precision_loss, reason = "a few hundred steps")]
fn usual_min(work: &OperationWork, steps: usize) -> f64 {
    let (lay_out, each) = match work {
        OperationWork::Parts(_) => (5.0, 2.0),
        OperationWork::Items(_) => (3.0, 3.0),
        OperationWork::Count(_) => (2.0, 1.0),
        OperationWork::Tighten(_) => (5.0, 0.7),
        OperationWork::Measure(_) => (5.0, 1.5),
        OperationWork::Turn(_) => (1.0, 2.0),
        OperationWork::Sign => (10.0, 0.0),
    };
    lay_out + each * steps as f64
}

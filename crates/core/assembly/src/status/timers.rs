//! Times that run on an engine: how long sealant stays open (C-19), and until when it cures.

use crate::state::BuildState;
use rigore_plan::{Joint, JointShare, OperationIx, OperationWork, StageIx, TightenTask};
use serde::Serialize;
use time::{Duration, OffsetDateTime};

/// From this share of a working time on it is getting late.
const GETTING_LATE: f64 = 2.0 / 3.0;

/// The working time of a sealant (C-19).
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SealantTimer {
    /// Key of the operation that it runs in.
    pub operation: String,
    /// What that is called.
    pub operation_name: String,
    /// Key of the joint that the sealant is on.
    pub joint: String,
    /// The stage that laid it, by index.
    pub stage: usize,
    /// What started it.
    pub name: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub since: OffsetDateTime,
    /// From when on it is getting late.
    #[serde(with = "time::serde::rfc3339")]
    pub late: OffsetDateTime,
    /// When it ends.
    #[serde(with = "time::serde::rfc3339")]
    pub until: OffsetDateTime,
}

/// Sealant that cures.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SealantCure {
    /// The operation that laid it, by name.
    pub name: String,
    /// Until when it cures.
    #[serde(with = "time::serde::rfc3339")]
    pub until: OffsetDateTime,
}

impl BuildState {
    /// Every working time that runs: sealant was laid, and not all is done that has to be done on it.
    pub fn clocks(&self) -> Vec<SealantTimer> {
        self.plan.line().flat_map(|at| self.clocks_of(at)).collect()
    }

    fn clocks_of(&self, at: OperationIx) -> Vec<SealantTimer> {
        let shares = self.shares(at);
        let clock = |(share, joint): (&JointShare, &Joint)| {
            let round = self.joints().round(share.at());
            let open =
                |stage: &StageIx| round.open_in(joint, share.at(), stage.0..stage.0 + 1).next().is_some();
            let mut left = share.stages.clone().rev().map(StageIx).filter(open);
            let bead = left.find_map(|stage| round.bead(joint, stage, self.ledger()))?;
            let of_it = share.stages.contains(&bead.stage.0);
            let after = |share: f64| bead.since + Duration::seconds_f64(bead.within_min * 60.0 * share);
            of_it.then(|| SealantTimer {
                operation: self.plan[at].id.clone(),
                operation_name: self.plan[at].name.clone(),
                joint: joint.id.clone(),
                stage: bead.stage.0,
                name: joint[bead.stage].name.clone(),
                since: bead.since,
                late: after(GETTING_LATE),
                until: after(1.0),
            })
        };
        shares.into_iter().filter_map(clock).collect()
    }

    /// The joints that an operation tightens.
    fn shares(&self, at: OperationIx) -> Vec<(&JointShare, &Joint)> {
        let work = self.plan.tightens(at).filter(|work| work.task == TightenTask::Tighten);
        let shares = work.map(|work| work.shares.as_slice()).unwrap_or_default();
        shares.iter().map(|share| (share, &self.plan[share.joint])).collect()
    }

    /// Until when the sealant of an operation cures, where it laid one that has to.
    fn cures(&self, at: OperationIx) -> Option<OffsetDateTime> {
        let until = |(share, joint): (&JointShare, &Joint)| {
            let round = self.joints().round(share.at());
            let stages = share.stages.clone().map(StageIx);
            let until = stages.filter_map(|stage| {
                let cures_min = joint[stage].way.cures_min()?;
                let laid = self.ledger().mark(round.done_by_hand(stage)?.seq)?.stamp.at;
                Some(laid + Duration::seconds_f64(cures_min * 60.0))
            });
            until.max()
        };
        self.shares(at).into_iter().filter_map(until).max()
    }

    /// Every cure of the engine, whether or not something waits for it (C-54). It ends when its time is over.
    pub fn cures_running(&self) -> Vec<SealantCure> {
        self.plan.line().filter_map(|at| self.cure_of(at)).collect()
    }

    fn cure_of(&self, at: OperationIx) -> Option<SealantCure> {
        Some(SealantCure { name: self.plan[at].name.clone(), until: self.cures(at)? })
    }

    /// The sealant that an operation waits for, until it has cured: the last one of what it needs, and the
    /// signature under the engine of all there is.
    pub(crate) fn waits_for_cure(&self, at: OperationIx) -> Option<SealantCure> {
        if matches!(self.plan[at].work, OperationWork::Sign) {
            return self.cures_running().into_iter().max_by_key(|cure| cure.until);
        }
        let cures = self.plan[at].needs.iter().filter_map(|need| self.cure_of(*need));
        cures.max_by_key(|cure| cure.until)
    }
}

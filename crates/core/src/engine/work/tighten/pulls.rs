//! Pulls as they are shown.

use super::hand::Tightening;
use super::state::Pull;
use crate::engine::record::Method;
use crate::engine::state::State;
use crate::plan::OperationIx;
use crate::quantity::Dimension;
use crate::tightening::Verdict;
use serde::Serialize;
use time::OffsetDateTime;

/// One recorded pull.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PullView {
    /// The entry.
    pub seq: u64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// The stage, by index.
    pub stage: usize,
    /// What the stage is called.
    pub stage_name: String,
    /// The fastener.
    pub fastener: String,
    /// What was read; figures are in its base unit.
    pub dimension: Dimension,
    /// The value judged; swings add up.
    pub value: f64,
    /// What this pull alone read.
    pub read: f64,
    /// What was typed, to the letter.
    pub entered: Option<String>,
    /// The torque that a pull by another measure showed as well, N·m.
    pub torque_nm: Option<f64>,
    /// The verdict.
    pub verdict: Verdict,
    /// What else is to be known.
    pub remarks: Vec<String>,
    /// How it came in.
    pub method: Method,
    /// With what.
    pub instrument: String,
    /// Whether the instrument only pretends.
    pub simulated: bool,
    /// Why it does not count, if it does not.
    pub voided: Option<String>,
    /// Why its deviation may stand, if a lead accepted it.
    pub accepted: Option<String>,
    /// Whether the fastener was loosened since.
    pub loosened: bool,
}

impl State {
    /// Every pull made in the round of a tightening operation, in the order they came.
    pub fn pulls(&self, at: OperationIx) -> Vec<PullView> {
        let tightens = self.plan.tightens(at);
        tightens.map(|of| Tightening::new(self, at, of).pulls().rev().collect()).unwrap_or_default()
    }
}

impl Tightening<'_> {
    /// The pulls of the round, the latest first.
    pub fn pulls(&self) -> impl DoubleEndedIterator<Item = PullView> {
        self.round.pulls.iter().rev().filter_map(|pull| self.view(pull))
    }

    fn view(&self, pull: &Pull) -> Option<PullView> {
        let stage = &self.joint[pull.stage];
        let mark = self.state.ledger.mark(pull.seq)?;
        let dimension = stage.way.rules().dimension()?;
        Some(PullView {
            seq: pull.seq,
            at: mark.stamp.at,
            by: mark.stamp.by.name.clone(),
            stage: pull.stage.0,
            stage_name: stage.name.clone(),
            fastener: self.name(pull.fastener).to_owned(),
            dimension,
            value: pull.judged.value,
            read: pull.figure,
            entered: pull.reading.entered.clone(),
            torque_nm: pull.reading.torque_nm.filter(|_| dimension != Dimension::Torque),
            verdict: pull.judged.verdict,
            remarks: pull.remarks.iter().map(|remark| self.remark(remark)).collect(),
            method: pull.method,
            instrument: pull.instrument.name.clone(),
            simulated: pull.instrument.simulated,
            voided: mark.voided.as_ref().map(|voided| voided.reason.clone()),
            accepted: mark.accepted.as_ref().map(|accepted| accepted.reason.clone()),
            loosened: mark.voided.is_none() && !self.round.stands(pull, &self.state.ledger),
        })
    }
}

//! What was done in stages that the version of the plan that goes now has not any more (C-48): it stays in the record,
//! counts for nothing, and what was tightened so is loosened before it is tightened by this version.

use super::fastener_history::PullJudgement;
use super::pulls::PullView;
use super::replaced_pull::ReplacedPull;
use super::round::TighteningRound;
use super::tighten_work::JointWork;
use crate::state::ledger::EntryLedger;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::Verdict;
use rigore_plan::way::StageProgress;
use rigore_plan::{FastenerIx, Joint, RemovedStage};

/// Why what is in such a stage does not count.
fn by_earlier() -> Message {
    message!("tighten-done-by-earlier-version-plan")
}

impl TighteningRound {
    /// What a pull in a stage that is gone came to, with those of its stage and fastener before it.
    fn judge_replaced(
        &self,
        joint: &Joint,
        pull: &ReplacedPull,
        ledger: &EntryLedger,
    ) -> Option<(f64, Verdict)> {
        let rules = &joint.gone.get(pull.stage)?.way;
        let of_it = self.replaced.iter().filter(|of| (of.stage, of.fastener) == (pull.stage, pull.fastener));
        let until = of_it.filter(|of| of.seq <= pull.seq && (of.seq == pull.seq || ledger.counts(of.seq)));
        let had = until.fold(StageProgress::default(), |had, of| rules.add(had, of.figure));
        Some((had.value, rules.judge(had.value)))
    }

    /// Whether a fastener is in and tight, by a stage of the plan or by one that it has not any more.
    pub(super) fn is_tight(&self, fastener: FastenerIx, ledger: &EntryLedger) -> bool {
        self.fastened(fastener).holds() || self.still_tight(fastener, ledger).is_some()
    }

    /// The last pull in a stage that is gone, of a fastener that was not loosened since.
    fn still_tight(&self, fastener: FastenerIx, ledger: &EntryLedger) -> Option<&ReplacedPull> {
        let last = self.replaced.iter().rev().find(|of| of.fastener == fastener && ledger.counts(of.seq))?;
        let loosened = self
            .loosenings
            .iter()
            .any(|of| of.fastener == fastener && of.seq > last.seq && ledger.counts(of.seq));
        (!loosened).then_some(last)
    }
}

impl JointWork<'_> {
    /// Whether an entry was made in this operation.
    fn made(&self, seq: u64) -> bool {
        self.state.ledger().line(seq).and_then(|line| line.operation) == Some(self.operation)
    }

    /// Pulls of this operation in stages that are gone, the latest first.
    pub(super) fn replaced_pulls(&self) -> Vec<PullView> {
        let pulls = self.round.replaced.iter().rev().filter(|pull| self.made(pull.seq));
        pulls.filter_map(|pull| self.replaced_view(pull)).collect()
    }

    /// The entry of the last pull of this operation, by a stage of the plan or by one that it has not any more.
    pub(super) fn last_pull(&self) -> Option<u64> {
        let pulls = self.round.pulls.iter().filter(|pull| self.runs(pull.stage)).map(|pull| pull.seq);
        let replaced = self.round.replaced.iter().map(|pull| pull.seq).filter(|seq| self.made(*seq));
        pulls.chain(replaced).max()
    }

    fn replaced_view(&self, pull: &ReplacedPull) -> Option<PullView> {
        let ledger = self.state.ledger();
        let RemovedStage { name, way, .. } = self.joint.gone.get(pull.stage)?;
        let (value, verdict) = self.round.judge_replaced(self.joint, pull, ledger)?;
        let mark = ledger.mark(pull.seq)?;
        let dimension = way.dimension()?;
        let tight = self.round.still_tight(pull.fastener, ledger).is_some_and(|last| last.seq >= pull.seq);
        let judged = PullJudgement { value, verdict, mends: true, spent: false, converted: 1.0 };
        Some(PullView {
            seq: pull.seq,
            at: mark.stamp.at,
            by: mark.stamp.by.name.clone(),
            joint: self.joint.id.clone(),
            stage: self.joint.stages.len() + pull.stage,
            stage_name: name.clone(),
            fastener: self.name(pull.fastener).to_owned(),
            dimension,
            value,
            read: pull.read,
            figure: pull.figure,
            entered: pull.reading.entered.clone(),
            torque_nm: pull.reading.torque_nm.filter(|_| dimension != Dimension::Torque),
            verdict,
            says: way.says(verdict).text(),
            wrong: judged.wrong(),
            remarks: pull.remarks.iter().map(|remark| self.remark(remark)).collect(),
            method: pull.method,
            instrument: pull.instrument.name.clone(),
            simulated: pull.instrument.simulated,
            voided: mark.voided.as_ref().map(|voided| voided.reason.clone()),
            accepted: mark.accepted.as_ref().map(|accepted| accepted.reason.clone()),
            loosened: mark.voided.is_none() && !tight,
            lapsed: mark.voided.is_none().then(|| by_earlier().in_base_units()),
            counts: false,
            deviates: judged.wrong(),
        })
    }
}

/// What was done by hand in stages that are gone: what, and by whom.
pub(super) fn actions(hand: &JointWork<'_>) -> Vec<Message> {
    let line = |(seq, stage): &(u64, usize)| {
        let mark = hand.state.ledger().mark(*seq).filter(|mark| mark.voided.is_none())?;
        let stage = hand.joint.gone.get(*stage).filter(|_| hand.made(*seq))?;
        let (stage, by) = (&stage.name, &mark.stamp.by.name);
        Some(message!("tighten-stage-by-earlier", stage, by, earlier = by_earlier()))
    };
    hand.round.replaced_actions.iter().filter_map(line).collect()
}

/// Fasteners that are tight by a stage that is gone.
pub(super) fn issues(hand: &JointWork<'_>) -> Vec<Issue> {
    let ledger = hand.state.ledger();
    let issue = |fastener: FastenerIx| {
        let last = hand.round.still_tight(fastener, ledger)?;
        if !hand.made(last.seq) || ledger.accepted(last.seq) {
            return None;
        }
        let RemovedStage { name: stage, way, .. } = hand.joint.gone.get(last.stage)?;
        let (value, _) = hand.round.judge_replaced(hand.joint, last, ledger)?;
        let name = hand.name(fastener);
        let had = Quantity::fine(value, way.dimension()?);
        let what: Message = message!("tighten-has-by-earlier-version-plan-not", name, had, stage,);
        let now = message!("tighten-loosen-then-do-stages-by-this", name);
        let remedies = vec![Remedy::Loosen, Remedy::Accept, Remedy::Void];
        Some(hand.issue(last.seq, Some(fastener), what, now, remedies))
    };
    if hand.round.replaced.is_empty() {
        return Vec::new();
    }
    (0..hand.joint.fasteners.len()).map(FastenerIx).filter_map(issue).collect()
}

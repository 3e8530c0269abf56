//! Pulls as they are shown.

use super::entry_remark::EntryRemark;
use super::fastener_history::RecordedPull;
use super::round::TighteningRound;
use super::tighten_work::{JointWork, TightenWork};
use crate::events::ReadingMethod;
use crate::state::BuildState;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::{Verdict, outliers};
use rigore_mechanics::{message, text};
use rigore_plan::{Joint, JointIx, OperationIx};
use serde::Serialize;
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// One recorded pull.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[expect(
    clippy::struct_excessive_bools,
    reason = "what it is, whether it counts and whether it deviates are told apart"
)]
pub struct PullView {
    /// The entry.
    pub seq: u64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// Key of the joint.
    pub joint: String,
    /// The stage, by index.
    pub stage: usize,
    /// What the stage is called.
    pub stage_name: String,
    /// The fastener.
    pub fastener: String,
    /// What was read; figures are in its base unit.
    pub dimension: Dimension,
    /// The value judged, at the fastener; swings add up.
    pub value: f64,
    /// What this pull alone read, as the instrument showed it.
    pub read: f64,
    /// The same at the fastener, beyond an adapter.
    pub figure: f64,
    /// What was typed, to the letter.
    pub entered: Option<String>,
    /// The torque that a pull by another measure showed as well, N·m.
    pub torque_nm: Option<f64>,
    /// The verdict.
    pub verdict: Verdict,
    /// The verdict in words.
    pub says: String,
    /// Whether something has to be done about it, besides pulling on.
    pub wrong: bool,
    /// What else is to be known.
    pub remarks: Vec<Message>,
    /// How it came in.
    pub method: ReadingMethod,
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
    /// Why it does not count any more although it was right: another group was touched after it.
    pub lapsed: Option<String>,
    /// Whether this is what the fastener has in its stage now: not voided, loosened, lapsed or pulled over.
    pub counts: bool,
    /// Whether it is not as the plan has it.
    pub deviates: bool,
}

impl BuildState {
    /// Every pull made in the stages of a tightening operation, joint by joint in the order they came.
    pub fn pulls(&self, at: OperationIx) -> Vec<PullView> {
        let Some(work) = self.plan.tightens(at) else { return Vec::new() };
        let tightening = TightenWork { state: self, at, work };
        tightening.hands().flat_map(|hand| hand.pulls().rev().collect::<Vec<_>>()).collect()
    }
}

impl JointWork<'_> {
    /// The pulls of the operation's stages, the latest first.
    pub fn pulls(&self) -> impl DoubleEndedIterator<Item = PullView> {
        let odd = self.odd();
        self.round
            .pulls
            .iter()
            .rev()
            .filter(|pull| self.runs(pull.stage))
            .filter_map(move |pull| self.view(pull, odd.get(&pull.seq)))
            .chain(self.replaced_pulls())
    }

    /// How many pulls the operation's stages have.
    pub fn pull_count(&self) -> usize {
        self.round.pulls.iter().filter(|pull| self.runs(pull.stage)).count()
    }

    /// The rounds of all joints that are written together, such as the eight rods of an engine: their fasteners
    /// should behave alike (C-59).
    fn sibling_rounds(&self) -> impl Iterator<Item = &TighteningRound> {
        let plan = &self.state.plan;
        let alike = move |(_, joint): &(usize, &Joint)| {
            joint.family == self.joint.family && joint.rounds.get(self.share.round) == Some(&self.purpose)
        };
        let rounds = plan.joints.iter().enumerate().filter(alike);
        rounds.map(|(joint, _)| self.state.joints().round((JointIx(joint), self.share.round)))
    }

    /// Pulls that stand out among their siblings by the torque at the end of their angle (C-22, C-45).
    fn odd(&self) -> BTreeMap<u64, Message> {
        let mut odd = BTreeMap::new();
        for stage in self.stages().filter(|stage| self.joint[*stage].way.adds_up()) {
            let ends: Vec<(u64, f64)> = self
                .sibling_rounds()
                .flat_map(|round| {
                    let counts = move |pull: &&RecordedPull| pull.stage == stage && round.counts(pull);
                    let ends = round.pulls.iter().filter(counts);
                    ends.filter_map(|pull| Some((pull.seq, pull.reading.torque_nm?)))
                })
                .collect();
            let torques: Vec<f64> = ends.iter().map(|(_, torque)| *torque).collect();
            for found in outliers(&torques) {
                let text = |torque| Quantity::new(torque, Dimension::Torque);
                let likely = if found.above {
                    message!("tighten-dry-or-dragging")
                } else {
                    message!("tighten-slippery-soft-or-yielding-early")
                };
                let words = message!(
                    "tighten-at-angle-where-siblings-have",
                    torque = text(torques[found.at]),
                    usual = text(found.usual),
                    likely,
                );
                odd.insert(ends[found.at].0, words);
            }
        }
        odd
    }

    /// Fasteners beside one, as a pull that moved asks for them.
    fn beside(&self, pull: &RecordedPull) -> Message {
        let here = &self.joint[pull.fastener];
        let group = self.joint.group_with(pull.fastener).map(|group| group.fasteners.clone());
        let mut others: Vec<_> = group
            .unwrap_or_default()
            .filter(|other| *other != pull.fastener.0)
            .map(|at| &self.joint.fasteners[at])
            .collect();
        others.sort_by(|a, b| {
            let apart = |other: &rigore_mechanics::tightening::FastenerPosition| {
                (other.x_mm - here.x_mm).hypot(other.y_mm - here.y_mm)
            };
            apart(a).total_cmp(&apart(b))
        });
        let names: Vec<&str> = others.into_iter().take(2).map(|other| other.id.as_str()).collect();
        message!("tighten-recheck-beside", names = names.join(" and "))
    }

    fn view(&self, pull: &RecordedPull, odd: Option<&Message>) -> Option<PullView> {
        let stage = &self.joint[pull.stage];
        let mark = self.state.ledger().mark(pull.seq)?;
        let counts = self.round.counts(pull);
        let loosened = mark.voided.is_none() && !self.round.stands(pull, self.state.ledger());
        let unsettled = mark.voided.is_none()
            && !loosened
            && self.round.is_unsettled(self.joint, pull, &|seq| self.state.ledger().counts(seq));
        let rules = &stage.way;
        let dimension = rules.dimension()?;
        let moved = rules.moved(pull.judged.value);
        let through = (pull.read - pull.figure).abs() > 1e-9;
        let through = through.then(|| message!("tighten-at-fastener", torque = stage.way.print(pull.figure)));
        let factor = pull.judged.converted;
        let converted = ((factor - 1.0).abs() > 1e-9).then(|| {
            message!("tighten-as-with-specified-lubricant", torque = stage.way.print(pull.figure / factor))
        });
        let remarks = pull.remarks.iter().map(|remark: &EntryRemark| self.remark(remark));
        let remarks = remarks
            .chain(through)
            .chain(converted)
            .chain(odd.cloned())
            .chain(moved.then(|| self.beside(pull)));
        Some(PullView {
            seq: pull.seq,
            at: mark.stamp.at,
            by: mark.stamp.by.name.clone(),
            joint: self.joint.id.clone(),
            stage: pull.stage.0,
            stage_name: stage.name.clone(),
            fastener: self.name(pull.fastener).to_owned(),
            dimension,
            value: pull.judged.value * factor,
            read: pull.read,
            figure: pull.figure,
            entered: pull.reading.entered.clone(),
            torque_nm: pull.reading.torque_nm.filter(|_| dimension != Dimension::Torque),
            verdict: pull.judged.verdict,
            says: rules.says(pull.judged.verdict).text(),
            wrong: pull.judged.wrong(),
            remarks: remarks.collect(),
            method: pull.method,
            instrument: pull.instrument.name.clone(),
            simulated: pull.instrument.simulated,
            voided: mark.voided.as_ref().map(|voided| voided.reason.clone()),
            accepted: mark.accepted.as_ref().map(|accepted| accepted.reason.clone()),
            loosened,
            lapsed: unsettled.then(|| text!("tighten-lapsed-group-depends-on-was-worked")),
            counts,
            deviates: pull.judged.wrong()
                || (counts && pull.judged.verdict != Verdict::Good)
                || pull.remarks.iter().any(EntryRemark::deviates),
        })
    }
}

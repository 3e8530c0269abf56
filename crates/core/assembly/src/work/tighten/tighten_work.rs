//! The joints that an operation works on, each in its round.

use super::entry_remark::{EntryRemark, OpenStep, RoundKey};
use super::lubricant_used::{LubricantStatement, UsedFastener};
use super::round::TighteningRound;
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_plan::way::StageProgress;
use rigore_plan::{
    FastenerIx, GroupIx, Joint, JointIx, JointShare, OperationIx, Plan, RoundPurpose, StageIx, TightenSpec,
    TightenTask,
};
use std::ops::Range;

/// What an operation does to joints.
pub(crate) struct TightenWork<'a> {
    pub state: &'a BuildState,
    pub at: OperationIx,
    pub work: &'a TightenSpec,
}

/// One joint of it.
pub(crate) struct JointWork<'a> {
    pub state: &'a BuildState,
    pub operation: OperationIx,
    pub share: &'a JointShare,
    pub joint: &'a Joint,
    pub round: &'a TighteningRound,
    pub purpose: RoundPurpose,
    /// Whether it is tightened or taken apart.
    pub task: TightenTask,
    /// Whether it is the only joint of the operation.
    pub alone: bool,
}

impl<'a> TightenWork<'a> {
    /// The joints in the order of the plan.
    pub fn hands(&self) -> impl DoubleEndedIterator<Item = JointWork<'a>> + use<'a> {
        let (state, operation, work) = (self.state, self.at, self.work);
        work.shares.iter().map(move |share| {
            let joint = &state.plan[share.joint];
            JointWork {
                state,
                operation,
                share,
                joint,
                round: state.joints().round(share.at()),
                purpose: joint.rounds[share.round],
                task: work.task,
                alone: work.shares.len() == 1,
            }
        })
    }

    /// One of the joints.
    pub fn hand(&self, joint: JointIx) -> Option<JointWork<'a>> {
        self.hands().find(|hand| hand.share.joint == joint)
    }

    /// What is left to do.
    pub fn open(&self) -> impl Iterator<Item = OpenStep> + use<'a> {
        self.state.joints().open(&self.state.plan, self.work)
    }
}

impl<'a> JointWork<'a> {
    /// An open issue of what is in hand: of an entry, at a fastener where it is of one, with what is to be done.
    pub(super) fn issue(
        &self,
        seq: u64,
        fastener: Option<FastenerIx>,
        what: impl Into<Message>,
        now: impl Into<Message>,
        remedies: Vec<Remedy>,
    ) -> Issue {
        let what = what.into();
        let what =
            if self.alone { what } else { message!("tighten-joint-what", joint = &self.joint.name, what) };
        Issue {
            seq,
            subject: None,
            operation: self.state.plan[self.operation].id.clone(),
            joint: Some(self.joint.id.clone()),
            fastener: fastener.map(|fastener| self.name(fastener).to_owned()),
            text: what,
            to_do: now.into(),
            remedies,
        }
    }

    /// What somebody said last that the fasteners of a group turn on.
    pub fn lubricant_statement(&self, group: GroupIx) -> Option<(u64, &'a LubricantStatement)> {
        self.round.lubricant_statement(group, u64::MAX, |seq| self.state.ledger().counts(seq))
    }

    /// The fasteners of a stage as they are used.
    pub fn used_fastener(&self, stage: StageIx) -> Option<UsedFastener<'a>> {
        let ledger = self.state.ledger();
        let group = self.joint[stage].group?;
        Some(
            self.round.used_fastener(&self.state.plan, self.joint, group, u64::MAX, |seq| ledger.counts(seq)),
        )
    }

    /// The name of a fastener.
    pub fn name(&self, fastener: FastenerIx) -> &'a str {
        &self.joint[fastener].id
    }

    /// The stages that the operation runs; none where it takes the joint apart.
    pub fn stages(&self) -> impl DoubleEndedIterator<Item = StageIx> + use<> {
        let none: Range<usize> = 0..0;
        let stages = if self.task == TightenTask::Tighten { self.share.stages.clone() } else { none };
        stages.map(StageIx)
    }

    /// Whether the operation runs a stage.
    pub fn runs(&self, stage: StageIx) -> bool {
        self.task == TightenTask::Tighten && self.share.stages.contains(&stage.0)
    }

    /// Which use of the joint's own fasteners this round is, from 1 (C-36); none where it is made with
    /// others.
    pub fn uses(&self) -> Option<usize> {
        let plan = &self.state.plan;
        let own = |round: &usize| {
            let at = (self.share.joint, *round);
            let pulled = |at| {
                (0..self.joint.fasteners.len()).any(|fastener| {
                    let fastened = self.state.joints().round(at).fastened(FastenerIx(fastener));
                    fastened.holds() || fastened.is_apart()
                })
            };
            !with_others(plan, at) && (*round == self.share.round || pulled(at))
        };
        let before = self.joint.groups.iter().filter_map(|group| self.state.parts().latest(group.parts?));
        let before = before.filter_map(|entry| Some(entry.value.before.as_ref()?.uses as usize)).max();
        own(&self.share.round)
            .then(|| before.unwrap_or_default() + (0..=self.share.round).filter(own).count())
    }

    /// Fasteners that were tightened in the round, loosened since or not.
    pub fn tightened(&self) -> impl Iterator<Item = FastenerIx> + use<'a> {
        let round = self.round;
        let was = move |at: &FastenerIx| round.fastened(*at).holds() || round.fastened(*at).is_apart();
        (0..self.joint.fasteners.len()).map(FastenerIx).filter(was)
    }

    /// Something left to do, in one line: `Pull 3, inner 3R, by 50°`.
    pub fn words(&self, open: OpenStep, had: StageProgress) -> Message {
        let of = if self.alone { String::new() } else { format!(", {}", self.joint.name) };
        match open {
            OpenStep::Act { stage, .. } => message!("tighten-stage-of", stage = &self.joint[stage].name, of),
            OpenStep::Loosen { fastener, .. } => {
                message!("tighten-loosen", fastener = self.name(fastener), of)
            }
            OpenStep::Pull { stage, fastener, place, .. } => {
                let stage = &self.joint[stage];
                let group = stage.group.map(|group| self.joint[group].name.as_str()).unwrap_or_default();
                let words = stage.way.words(had);
                message!("tighten-pull", place = place + 1, group, fastener = self.name(fastener), of, words,)
            }
        }
    }

    /// A remark in words.
    pub fn remark(&self, remark: &EntryRemark) -> Message {
        let minutes = |minutes: f64| Quantity::new(minutes.max(1.0), Dimension::Time);
        match remark {
            EntryRemark::OutOfOrder { expected } => {
                message!("tighten-out-sequence-was-next", next = self.name(*expected))
            }
            EntryRemark::Early { first } => {
                let of = JointWork { joint: &self.state.plan[first.at().0], ..*self };
                message!("tighten-too-early-comes-first", first = of.words(*first, StageProgress::default()))
            }
            EntryRemark::NotStarted => message!("tighten-before-operation-was-started"),
            EntryRemark::Repeated => message!("tighten-repeated"),
            EntryRemark::After { stage } => {
                message!("tighten-entered-after", stage = &self.joint[*stage].name)
            }
            EntryRemark::Instrument { fault } => fault.clone(),
            EntryRemark::Late { after_min, within_min } => {
                let (after, within) = (minutes(*after_min), minutes(*within_min));
                message!("tighten-after-sealant-which-stays-open-for", after, within)
            }
            EntryRemark::Soon { left_min } => message!("tighten-too-soon", left = minutes(left_min.ceil())),
            EntryRemark::Unsure => message!("tighten-not-sure-clicked"),
            EntryRemark::Stopped => message!("tighten-stopped-mid-pull-backed-off-pulled"),
            EntryRemark::Again { reason } => message!("tighten-done-again", reason),
            EntryRemark::Then { words, .. } => words.clone(),
            EntryRemark::Resists { fasteners } => {
                let names: Vec<&str> = fasteners.iter().map(|fastener| self.name(*fastener)).collect();
                message!("tighten-did-not-run-down", names = names.join(", "))
            }
        }
    }
}

/// Whether a round of a joint is made with other fasteners than those that stay.
pub(super) fn with_others(plan: &Plan, at: RoundKey) -> bool {
    let mut works = plan.line().filter_map(|operation| plan.tightens(operation));
    works.any(|work| work.fasteners.is_some() && work.shares.iter().any(|share| share.at() == at))
}

//! What was done to every joint, round by round, and what an operation has left to do on its joints.
//!
//! A joint has rounds, an operation has shares of them. `JointRounds` keeps each joint by `TighteningRound`. An operation names
//! joints, the round, and the stages it runs (`TightenSpec`); `JointRounds::open` is what it has left to do, stage by stage
//! over its joints, or backwards where it takes them apart, and the only place that knows which fastener is next.
//! Loosening one fastener starts its stages again; taking the joint apart ends the round and leaves done what was
//! done in it.

use super::entry_remark::{EarlierRemarks, EntryRemark, OpenStep, RoundKey};
use super::fastener_history::{FurtherPullAllowance, PullJudgement, RecordedLoosening, RecordedPull};
use super::lubricant_used::LubricantStatement;
use super::replaced_pull::ReplacedPull;
use super::round::{ActionDone, TighteningRound};
use crate::events::{
    ActionEntry, FurtherPullEntry, Instrument, LooseningEntry, LubricantEntry, PullEntry, PullNote,
};
use crate::instruments::fit::{AdapterAndLubricant, InstrumentUser};
use crate::state::entry_topic::EntryTopic;
use crate::state::ledger::EntryLedger;
use rigore_mechanics::message;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::Verdict;
use rigore_mechanics::tightening::adapter::setting;
use rigore_plan::way::StageProgress;
use rigore_plan::{
    FastenerIx, GroupIx, Joint, JointIx, JointShare, OperationIx, Plan, StageIx, TightenSpec, TightenTask,
};
use std::sync::Arc;
use time::OffsetDateTime;

/// Every joint of an engine, by its rounds.
#[derive(Debug, Clone)]
pub(crate) struct JointRounds {
    joints: Vec<Vec<TighteningRound>>,
    /// Whether the first fasteners of a joint show something for others: hardly any does, and this is asked after
    /// every pull.
    qualifies: Vec<bool>,
}

/// Who records where: what an entry needs besides its fact.
pub(crate) struct EntryContext<'a> {
    pub plan: &'a Plan,
    /// What its operation does.
    pub work: &'a TightenSpec,
    /// Whether an operation was left out.
    pub left_out: &'a dyn Fn(OperationIx) -> bool,
    pub ledger: &'a EntryLedger,
    pub seq: u64,
    pub time: OffsetDateTime,
    /// Key of whoever records it.
    pub by: &'a str,
    /// Whether the operation was started.
    pub started: bool,
    /// What was to be known about entries that were made under earlier versions of the plan.
    pub earlier: &'a EarlierRemarks,
}

impl<'a> EntryContext<'a> {
    /// Whether an entry counts; the one that is being made is not in the ledger yet.
    fn counts(&self, seq: u64) -> bool {
        seq == self.seq || self.ledger.counts(seq)
    }

    fn using(&self) -> InstrumentUser<'a> {
        InstrumentUser { by: Some(self.by), at: self.time }
    }

    fn share(&self, joint: Option<&str>) -> Option<(&'a JointShare, &'a Joint)> {
        let share = self.work.share(self.plan, joint)?;
        Some((share, &self.plan[share.joint]))
    }
}

/// What an entry is about, for its place in the order.
#[derive(Clone, Copy, PartialEq)]
enum About {
    Pull(StageIx, FastenerIx),
    Act(StageIx),
    Loosen(FastenerIx),
}

impl JointRounds {
    /// Nothing done yet.
    pub fn fresh(plan: &Plan) -> Self {
        let rounds =
            |joint: &Joint| joint.rounds.iter().map(|_| TighteningRound::fresh(plan, joint)).collect();
        let qualifies = |joint: &Joint| joint.stages.iter().any(|stage| stage.way.qualifies());
        Self {
            joints: plan.joints.iter().map(rounds).collect(),
            qualifies: plan.joints.iter().map(qualifies).collect(),
        }
    }

    /// One round of a joint.
    pub fn round(&self, (joint, round): RoundKey) -> &TighteningRound {
        &self.joints[joint.0][round]
    }

    fn round_mut(&mut self, (joint, round): RoundKey) -> &mut TighteningRound {
        &mut self.joints[joint.0][round]
    }

    /// What an operation has left to do, in order: joints are worked together, all of them in a stage before
    /// the next (C-9, C-37), but for stages that are walked together; and apart in the reverse order.
    pub fn open<'a>(&'a self, plan: &'a Plan, work: &'a TightenSpec) -> impl Iterator<Item = OpenStep> + 'a {
        let (together, apart): (&[JointShare], &[JointShare]) = match work.task {
            TightenTask::Tighten => (&work.shares, &[]),
            TightenTask::Loosen => (&[], &work.shares),
        };
        let legs = |share: &JointShare| plan[share.joint].legs_in(share).count();
        let most = together.iter().map(legs).max().unwrap_or(0);
        let to_pull = (0..most).flat_map(move |number| {
            together.iter().flat_map(move |share| {
                let joint = &plan[share.joint];
                let leg = joint.legs_in(share).nth(number).into_iter();
                leg.flat_map(move |leg| self.round(share.at()).open_in(joint, share.at(), leg))
            })
        });
        let to_loosen = apart
            .iter()
            .rev()
            .flat_map(move |share| self.round(share.at()).to_loosen(&plan[share.joint], share.at()));
        to_pull.chain(to_loosen)
    }

    /// The place of an entry against what was next.
    fn order(&self, entering: &EntryContext<'_>, share: &JointShare, about: About) -> Vec<EntryRemark> {
        let (plan, joint, round) = (entering.plan, &entering.plan[share.joint], self.round(share.at()));
        let mut remarks = Vec::new();
        if !entering.started {
            remarks.push(EntryRemark::NotStarted);
        }
        let (done, untouched) = match about {
            About::Pull(stage, fastener) => {
                let fastened = round.fastened(fastener);
                (fastened.finished(stage), fastened.had(stage).pulls == 0)
            }
            About::Act(stage) => (round.acted(stage), !round.acted(stage)),
            About::Loosen(fastener) => (!round.fastened(fastener).holds(), true),
        };
        // What is done cannot be what was next.
        if done {
            remarks.push(EntryRemark::Repeated);
            return remarks;
        }
        // What an earlier operation was to do on this joint comes first.
        let before = JointShare { stages: 0..share.stages.start, ..share.clone() };
        let awaited = |leg: &std::ops::Range<usize>| {
            let left_out = plan.line().filter(|at| (entering.left_out)(*at));
            let mut left_out = left_out.filter_map(|at| plan.tightens(at)).flat_map(|work| &work.shares);
            !left_out.any(|other| other.at() == share.at() && other.stages.contains(&leg.start))
        };
        let earlier = joint.legs_in(&before).filter(awaited);
        let earlier = earlier.flat_map(|leg| round.open_in(joint, share.at(), leg)).next();
        let earlier = earlier.filter(|_| entering.work.task == TightenTask::Tighten);
        let next = earlier.or_else(|| self.open(plan, entering.work).next());
        let same_joint = |at: RoundKey| at == share.at();
        match (next, about) {
            (Some(OpenStep::Pull { at, stage, fastener, .. }), _)
                if same_joint(at) && about == About::Pull(stage, fastener) => {}
            (Some(OpenStep::Act { at, stage }), _) if same_joint(at) && about == About::Act(stage) => {}
            (Some(OpenStep::Loosen { at, fastener, .. }), _)
                if same_joint(at) && about == About::Loosen(fastener) => {}
            (Some(first @ OpenStep::Loosen { after: Some(_), .. }), _) => {
                remarks.push(EntryRemark::Early { first });
            }
            (Some(OpenStep::Loosen { at, fastener: expected, .. }), _) if same_joint(at) => {
                remarks.push(EntryRemark::OutOfOrder { expected });
            }
            (Some(OpenStep::Pull { at, stage: now, fastener: expected, .. }), About::Pull(stage, _))
                if same_joint(at) && now == stage && untouched =>
            {
                remarks.push(EntryRemark::OutOfOrder { expected });
            }
            (Some(first), _) if untouched => remarks.push(EntryRemark::Early { first }),
            _ => remarks.push(EntryRemark::Repeated),
        }
        remarks
    }

    /// A wrench was pulled.
    pub fn pull(
        &mut self,
        entering: &EntryContext<'_>,
        fact: &PullEntry,
        instrument: Arc<Instrument>,
    ) -> Option<EntryTopic> {
        let (share, joint) = entering.share(fact.joint.as_deref())?;
        let (plan, stage) = (entering.plan, StageIx(fact.stage));
        if let Some(gone) = fact.stage.checked_sub(joint.stages.len()) {
            return self.pull_replaced(entering, (share, joint), (fact, gone), instrument);
        }
        let way = joint.stages.get(stage.0).map(|_| joint.way_at(stage, entering.seq))?;
        let fastener = joint.fastener(&fact.fastener)?;
        let read = way.figure(&fact.reading)?;
        let round = self.round(share.at());
        let had = round.fastened(fastener).had(stage);
        let mut remarks = self.order(entering, share, About::Pull(stage, fastener));
        let mut later = (stage.0 + 1..joint.stages.len()).rev().map(StageIx);
        let later = later.find(|later| round.fastened(fastener).had(*later).pulls > 0);
        // What is climbed to is pulled and read in turn.
        let later = later.filter(|_| way.shows().is_none());
        remarks.extend(later.map(|stage| EntryRemark::After { stage }));
        let adapter = plan.adapter(joint, fastener);
        let group = joint.group_ix(fastener)?;
        let used = round.used_fastener(plan, joint, group, entering.seq, |seq| entering.ledger.counts(seq));
        let between = AdapterAndLubricant { adapter, conversion: used.conversion(way) };
        let unfit = instrument.unfit_to_pull(way, had, between, entering.using());
        remarks.extend(unfit.map(|unfit| EntryRemark::Instrument { fault: unfit.words }));
        remarks.extend(zeroed_with_another(round, joint, (stage, fastener), &instrument, entering));
        remarks.extend(late(round, joint, stage, entering));
        remarks.extend(fact.note.map(|note| match note {
            PullNote::Unsure => EntryRemark::Unsure,
            PullNote::Stopped => EntryRemark::Stopped,
        }));
        let figure = at_fastener(fact, way.dimension(), read);
        let judged = PullJudgement {
            value: figure,
            verdict: Verdict::Good,
            mends: true,
            spent: false,
            converted: 1.0,
        };
        let pull = RecordedPull {
            seq: entering.seq,
            stage,
            fastener,
            reading: Box::new(fact.reading.clone()),
            method: fact.method,
            instrument,
            read,
            figure,
            remarks: entering.earlier.or(entering.seq, remarks),
            judged,
        };
        self.round_mut(share.at()).pull(plan, joint, pull, entering.ledger);
        self.qualify(plan, share.joint, &|seq| entering.counts(seq));
        Some(EntryTopic::Fastener(share.joint, share.round, fastener, stage))
    }

    /// A wrench was pulled in a stage that the plan has not any more.
    fn pull_replaced(
        &mut self,
        entering: &EntryContext<'_>,
        (share, joint): (&JointShare, &Joint),
        (fact, stage): (&PullEntry, usize),
        instrument: Arc<Instrument>,
    ) -> Option<EntryTopic> {
        let rules = &joint.gone.get(stage)?.way;
        let fastener = joint.fastener(&fact.fastener)?;
        let read = rules.figure(&fact.reading)?;
        self.round_mut(share.at()).replaced.push(ReplacedPull {
            seq: entering.seq,
            stage,
            fastener,
            reading: Box::new(fact.reading.clone()),
            method: fact.method,
            instrument,
            read,
            figure: at_fastener(fact, rules.dimension(), read),
            remarks: entering.earlier.or(entering.seq, Vec::new()),
        });
        Some(EntryTopic::Fastener(share.joint, share.round, fastener, StageIx(share.stages.start)))
    }

    /// A fastener was loosened.
    pub fn loosen(
        &mut self,
        entering: &EntryContext<'_>,
        fact: &LooseningEntry,
        gauge: Option<Arc<Instrument>>,
    ) -> Option<EntryTopic> {
        let (share, joint) = entering.share(fact.joint.as_deref())?;
        let fastener = joint.fastener(&fact.fastener)?;
        let apart = entering.work.task == TightenTask::Loosen;
        let remarks = if apart { self.order(entering, share, About::Loosen(fastener)) } else { Vec::new() };
        let remarks = entering.earlier.or(entering.seq, remarks);
        let loosening = RecordedLoosening {
            seq: entering.seq,
            fastener,
            replaced: fact.replaced,
            with: fact.with.clone(),
            apart,
            reason: fact.reason.clone(),
            left_mm: fact.left_mm,
            released_mm: fact.released_mm,
            held: None,
            gauge,
            remarks,
        };
        self.round_mut(share.at()).loosen(entering.plan, joint, loosening, entering.ledger);
        self.qualify(entering.plan, share.joint, &|seq| entering.counts(seq));
        Some(if apart {
            EntryTopic::Loosening(share.joint, share.round, fastener)
        } else {
            EntryTopic::Fastener(share.joint, share.round, fastener, StageIx(0))
        })
    }

    /// A fastener may be pulled further than the plan allows.
    pub fn allow(&mut self, entering: &EntryContext<'_>, fact: &FurtherPullEntry) -> Option<EntryTopic> {
        let (share, joint) = entering.share(fact.joint.as_deref())?;
        let fastener = joint.fastener(&fact.fastener)?;
        let allowance = FurtherPullAllowance {
            seq: entering.seq,
            fastener,
            utilisation: fact.utilisation.clamp(0.0, 1.0),
            reason: fact.reason.clone(),
        };
        self.round_mut(share.at()).allow(entering.plan, joint, allowance, entering.ledger);
        self.qualify(entering.plan, share.joint, &|seq| entering.counts(seq));
        Some(EntryTopic::Fastener(share.joint, share.round, fastener, StageIx(share.stages.start)))
    }

    /// The fasteners of a group turn on something.
    pub fn lubricate(&mut self, entering: &EntryContext<'_>, fact: &LubricantEntry) -> Option<EntryTopic> {
        let (share, joint) = entering.share(fact.joint.as_deref())?;
        let group = GroupIx(joint.groups.iter().position(|group| group.id == fact.group)?);
        let said = LubricantStatement {
            lubrication: fact.lubrication.clone(),
            converts: fact.converts,
            pulled_too: fact.pulled_too,
            reason: fact.reason.clone(),
        };
        let about = (entering.seq, group);
        self.round_mut(share.at()).lubricate(entering.plan, joint, about, said, entering.ledger);
        self.qualify(entering.plan, share.joint, &|seq| entering.counts(seq));
        let from = if fact.pulled_too { 0 } else { share.stages.start };
        Some(EntryTopic::Film(share.joint, share.round, group, StageIx(from)))
    }

    /// Something was done by hand.
    pub fn act(
        &mut self,
        entering: &EntryContext<'_>,
        fact: &ActionEntry,
        instrument: Option<Arc<Instrument>>,
    ) -> Option<EntryTopic> {
        let (share, joint) = entering.share(fact.joint.as_deref())?;
        let stage = StageIx(fact.stage);
        // What was done by hand in a stage that the plan has not any more has nothing to be undone.
        let gone = fact.stage.checked_sub(joint.stages.len());
        if let Some(gone) = gone.filter(|gone| *gone < joint.gone.len()) {
            self.round_mut(share.at()).replaced_actions.push((entering.seq, gone));
            return Some(EntryTopic::Action(share.joint, share.round, StageIx(share.stages.start)));
        }
        let way = joint.stages.get(stage.0).map(|_| joint.way_at(stage, entering.seq))?;
        way.by_hand()?;
        let round = self.round(share.at());
        let mut remarks = match &fact.again {
            // What is done again on purpose is in its place.
            Some(reason) => vec![EntryRemark::Again { reason: reason.clone() }],
            None => self.order(entering, share, About::Act(stage)),
        };
        let unfit = instrument.as_ref().and_then(|tool| {
            tool.unfit_to_pull(
                way,
                StageProgress::default(),
                AdapterAndLubricant::default(),
                entering.using(),
            )
        });
        remarks.extend(unfit.map(|unfit| EntryRemark::Instrument { fault: unfit.words }));
        remarks.extend(late(round, joint, stage, entering));
        remarks.extend(soon(round, joint, stage, entering));
        let except: Vec<FastenerIx> = fact.except.iter().filter_map(|id| joint.fastener(id)).collect();
        if !except.is_empty() {
            remarks.push(EntryRemark::Resists { fasteners: except.clone() });
        }
        let done = ActionDone { remarks: entering.earlier.or(entering.seq, remarks), except, instrument };
        self.round_mut(share.at()).actions.push(entering.seq, stage, done);
        Some(EntryTopic::Action(share.joint, share.round, stage))
    }

    /// Where the first fastener of a kind shows the torque for all of them, and something was done to its joint, the
    /// others are told.
    fn qualify(&mut self, plan: &Plan, joint: JointIx, counts: &dyn Fn(u64) -> bool) {
        if !self.qualifies[joint.0] {
            return;
        }
        for group in plan[joint].qualifying() {
            let others = plan.qualified_by(joint, group);
            let (of, Some(round)) = (&plan[joint], plan[joint].rounds.len().checked_sub(1)) else { continue };
            let first = FastenerIx(of[group].fasteners.start);
            let last = self.round((joint, round));
            let used = last.used_fastener(plan, of, group, u64::MAX, counts);
            let shown = last.fastened(first).shows_others(of, &used.spec);
            for (other, group) in others {
                for round in 0..plan[other].rounds.len() {
                    self.round_mut((other, round)).tell(plan, &plan[other], group, shown, counts);
                }
            }
        }
    }

    /// An entry about a fastener was voided.
    pub fn settle_fastener(&mut self, plan: &Plan, at: RoundKey, fastener: FastenerIx, ledger: &EntryLedger) {
        self.round_mut(at).replay(plan, &plan[at.0], fastener, ledger);
        self.qualify(plan, at.0, &|seq| ledger.counts(seq));
    }

    /// An entry about what fasteners turn on was voided.
    pub fn settle_film(&mut self, plan: &Plan, at: RoundKey, group: GroupIx, ledger: &EntryLedger) {
        self.round_mut(at).settle_film(plan, &plan[at.0], group, ledger);
        self.qualify(plan, at.0, &|seq| ledger.counts(seq));
    }

    /// An entry about something done by hand was voided.
    pub fn settle_action(&mut self, at: RoundKey, stage: StageIx, ledger: &EntryLedger) {
        self.round_mut(at).actions.settle(stage, ledger);
    }
}

/// A torque that was read, at the fastener beyond the adapter it was read through.
fn at_fastener(fact: &PullEntry, dimension: Option<Dimension>, read: f64) -> f64 {
    let (Some(adapter), Some(reach_mm)) = (&fact.adapter, fact.instrument.reach_mm) else { return read };
    let factor = setting(1.0, reach_mm, adapter.length_mm, adapter.angle_deg);
    factor.ok().filter(|_| dimension == Some(Dimension::Torque)).map_or(read, |factor| read / factor)
}

/// That a stretch was read with another gauge than the one that was zeroed on the bolt.
fn zeroed_with_another(
    round: &TighteningRound,
    joint: &Joint,
    (stage, fastener): (StageIx, FastenerIx),
    gauge: &Instrument,
    entering: &EntryContext<'_>,
) -> Option<EntryRemark> {
    let rules = &joint[stage].way;
    if rules.dimension() != Some(Dimension::Clearance) || rules.zeroes() {
        return None;
    }
    let zeroed = round.pulls.iter().rev().find(|pull| {
        pull.fastener == fastener && joint[pull.stage].way.zeroes() && round.stands(pull, entering.ledger)
    });
    let zeroed = zeroed.filter(|pull| pull.instrument.id != gauge.id)?;
    let (read, set) = (&gauge.name, &zeroed.instrument.name);
    Some(EntryRemark::Instrument { fault: message!("tighten-read-with-was-zeroed-on", read, set) })
}

/// That a sealant's working time was over.
fn late(
    round: &TighteningRound,
    joint: &Joint,
    stage: StageIx,
    entering: &EntryContext<'_>,
) -> Option<EntryRemark> {
    let bead = round.bead(joint, stage, entering.ledger)?;
    let after_min = (entering.time - bead.since).as_seconds_f64() / 60.0;
    (after_min > bead.within_min).then_some(EntryRemark::Late { after_min, within_min: bead.within_min })
}

/// That what was to be left alone was not left for long enough.
fn soon(
    round: &TighteningRound,
    joint: &Joint,
    stage: StageIx,
    entering: &EntryContext<'_>,
) -> Option<EntryRemark> {
    let rests_min = joint[stage].way.rests_min()?;
    let since = round.touched(stage, entering.ledger)?;
    let left_min = rests_min - (entering.time - since).as_seconds_f64() / 60.0;
    (left_min > 0.0).then_some(EntryRemark::Soon { left_min })
}

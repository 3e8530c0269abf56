//! What one fastener has: what its entries come to, in the order they came.
//!
//! Nothing else writes it. An entry that was voided is passed over by taking all of them again.
//!
//! One replay. What a fastener has is what its entries come to in their order (`FastenerProgress`); an entry that is voided
//! is passed over by taking all of that fastener's entries again. Nothing else writes it.

use super::entry_remark::EntryRemark;
use super::lubricant_used::UsedFastener;
use crate::events::{Instrument, ReadingMethod};
use rigore_mechanics::fastener::STRONGER;
use rigore_mechanics::joint::{Forecast, NutFactor, TorqueStretchPair};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::{Band, QualifiedTorque, ToolReading, TorqueBound, Verdict};
use rigore_plan::way::{EvidenceKind, FrictionEvidence, StageProgress};
use rigore_plan::{FastenerIx, FastenerSpec, Joint, Stage, StageIx};
use std::sync::Arc;

/// A step of so little, as a share of the torque that is on, is none.
const NO_STEP: f64 = 0.01;

/// One application of the wrench to one fastener in one stage.
#[derive(Debug, Clone)]
pub struct RecordedPull {
    /// The entry.
    pub seq: u64,
    /// The stage.
    pub stage: StageIx,
    /// The fastener.
    pub fastener: FastenerIx,
    /// What was read.
    pub reading: Box<ToolReading>,
    /// How it came in.
    pub method: ReadingMethod,
    /// With what.
    pub instrument: Arc<Instrument>,
    /// The figure that the stage goes by as the instrument showed it, in its base unit.
    pub read: f64,
    /// The same at the fastener, beyond an adapter.
    pub figure: f64,
    /// What else is to be known.
    pub remarks: Vec<EntryRemark>,
    /// What it came to; written by the replay alone.
    pub judged: PullJudgement,
}

/// What a pull came to, with what the fastener had before it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PullJudgement {
    /// The value that counts: the last torque, or the sum of the swings.
    pub value: f64,
    /// The verdict on it.
    pub verdict: Verdict,
    /// Whether another pull can mend a value that is low.
    pub mends: bool,
    /// Whether the fastener is to be replaced once it is loosened.
    pub spent: bool,
    /// What its torque is multiplied by because of another lubricant than the plan's; 1 where it is not.
    pub converted: f64,
}

impl PullJudgement {
    /// Whether something has to be done about it, besides pulling on.
    pub fn wrong(&self) -> bool {
        self.verdict == Verdict::Over || (self.verdict == Verdict::Low && !self.mends)
    }
}

/// A fastener that was loosened.
#[derive(Debug, Clone)]
pub struct RecordedLoosening {
    /// The entry.
    pub seq: u64,
    /// The fastener.
    pub fastener: FastenerIx,
    /// Whether another one went in.
    pub replaced: bool,
    /// Which one, where somebody said so.
    pub with: Option<String>,
    /// Whether the joint was taken apart: the round is over, and what was done in it stays done.
    pub apart: bool,
    /// Why.
    pub reason: String,
    /// How much longer it was then than free, mm, where that was measured.
    pub left_mm: Option<f64>,
    /// How much shorter it got, mm, where that was measured.
    pub released_mm: Option<f64>,
    /// What that tells, where the fastener's resilience is known.
    pub held: Option<LoadBeforeLoosening>,
    /// With what.
    pub gauge: Option<Arc<Instrument>>,
    /// What else is to be known.
    pub remarks: Vec<EntryRemark>,
}

/// The clamp load that a fastener held when it was loosened, told by how much shorter it got (C-64).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LoadBeforeLoosening {
    /// The clamp load, from the least to the most that the reading leaves open.
    pub load: Forecast,
    /// The least and most clamp load that its pulls should have left, kN, where that is known.
    pub expected_kn: Option<[f64; 2]>,
}

impl LoadBeforeLoosening {
    /// What a reading tells of a fastener with a clamp load by its pulls; `stretched` is the window of its stretch,
    /// where it was pulled to one. Stretch against stretch does not depend on how well its resilience is known.
    fn of(
        spec: &FastenerSpec,
        pulled: Option<Forecast>,
        stretched: Option<&Band>,
        loosening: &RecordedLoosening,
    ) -> Option<Self> {
        let released = loosening.released_mm?;
        let gauge = loosening.gauge.as_ref().and_then(|gauge| gauge.gauge(Dimension::Clearance));
        let off = gauge.map_or(0.0, |(_, gauge)| gauge.accuracy);
        let fastening = Some(&spec.fastening).filter(|of| of.known)?;
        let load = |mm: f64| fastening.by_stretch(mm);
        let [least, typical, most] =
            [load((released - off).max(0.0))?, load(released)?, load(released + off)?];
        let (low_kn, high_kn, expected_kn) = match stretched {
            Some(band) => {
                let expected = [load(band.low)?.typical_kn, load(band.high)?.typical_kn];
                (least.typical_kn, most.typical_kn, Some(expected))
            }
            None => (least.low_kn, most.high_kn, pulled.map(expected_kn)),
        };
        Some(Self { load: Forecast { low_kn, high_kn, ..typical }, expected_kn })
    }

    /// Whether it held less than it should have, or more, whatever the reading was off by.
    pub fn is_off(&self) -> bool {
        self.expected_kn.is_some_and(|[least, most]| self.load.high_kn < least || self.load.low_kn > most)
    }
}

/// The least and most clamp load that pulls should have left, kN. One that yields may be a fifth stronger than its
/// class.
fn expected_kn(pulled: Forecast) -> [f64; 2] {
    let stronger = if pulled.past_yield() { STRONGER } else { 1.0 };
    [pulled.low_kn, pulled.high_kn * stronger]
}

/// The most that a fastener may stay longer for good, mm, where it was found to be more.
pub(super) fn grown(joint: &Joint, spec: &FastenerSpec, loosening: &RecordedLoosening) -> Option<f64> {
    let left_mm = loosening.left_mm?;
    joint.set_mm(spec, loosening.fastener).filter(|most| left_mm > most + 1e-9)
}

/// What one fastener has.
#[derive(Debug, Clone, Default)]
pub struct FastenerProgress {
    /// Its pulls and loosenings, in the order they came.
    pub(super) history: Vec<FastenerEntry>,
    /// What it has in each stage.
    had: Vec<StageProgress>,
    /// Whether that is all it needs there.
    finished: Vec<bool>,
    /// The clamp load that leaves, where it can be computed.
    load: Option<Forecast>,
    /// Whether it is to be replaced once it is loosened.
    spent: bool,
    /// When it was last loosened for its stages to start again; 0 when it never was.
    loosened_at: u64,
    /// When it was loosened as its joint was taken apart.
    apart_at: Option<u64>,
    /// The loosening after which the old one went back although it was spent.
    owed: Option<u64>,
    /// The last pull that counts, by stage.
    last: Vec<u64>,
    /// Torques with their stretches since it went in, oldest first (C-24).
    pairs: Vec<TorqueStretchPair>,
    /// The torque that is on, N·m, where its stretch is to be read.
    torque_nm: Option<f64>,
    /// How often it was pulled to that since its stretch was last read.
    pulls: u32,
    /// What the fastener of its group has shown that is qualified for all of them.
    qualified: Option<QualifiedTorque>,
    /// The most that it may use of its yield, where a lead allowed more than the plan does.
    allowed: Option<f64>,
    /// What fasteners showed that were in this place before.
    pairs_before: Vec<(Vec<TorqueStretchPair>, u64)>,
    /// The entry of the last of its pairs; 0 without one.
    shown_at: u64,
}

/// An entry of a fastener, by its place among those of its kind in the round.
#[derive(Debug, Clone, Copy)]
pub(super) enum FastenerEntry {
    Pull(usize),
    Loosening(usize),
    Allowance(usize),
}

/// A fastener that may use more of its yield than the plan allows.
#[derive(Debug, Clone)]
pub(super) struct FurtherPullAllowance {
    /// The entry.
    pub seq: u64,
    /// The fastener.
    pub fastener: FastenerIx,
    /// The most that it may use.
    pub utilisation: f64,
    /// Why.
    pub reason: String,
}

impl FastenerProgress {
    pub(super) fn fresh(joint: &Joint, spec: Option<&FastenerSpec>) -> Self {
        let stages = joint.stages.len();
        let finished = vec![false; stages];
        let had = vec![StageProgress::default(); stages];
        let mut fastened = Self { had, finished, last: vec![0; stages], ..Self::default() };
        fastened.expect(joint, spec);
        fastened
    }

    /// What is to come next in each stage, by what the fastener has shown.
    pub(super) fn expect(&mut self, joint: &Joint, spec: Option<&FastenerSpec>) {
        let (torque_nm, pulls, qualified) = (self.torque_nm, self.pulls, self.qualified);
        let shown =
            FrictionEvidence { pairs: &self.pairs, torque_nm, pulls, qualified, allowed: self.allowed };
        for (had, stage) in self.had.iter_mut().zip(&joint.stages) {
            had.expected = spec.and_then(|spec| stage.way.expects(&spec.fastening, &shown));
        }
    }

    /// Whether it is to be replaced once it is loosened, or was not although it had to be.
    pub fn is_spent(&self) -> bool {
        self.spent || self.owed.is_some()
    }

    /// The torque that is on, N·m, where it was climbed to.
    pub fn torque_nm(&self) -> Option<f64> {
        self.torque_nm
    }

    /// Torques with their stretches since it went in, oldest first.
    pub fn pairs(&self) -> &[TorqueStretchPair] {
        &self.pairs
    }

    /// The same of every fastener that was in this place in the round, the first one first.
    ///
    /// Each with the entry of its last one.
    pub fn pairs_by_bolt(&self) -> impl Iterator<Item = (&[TorqueStretchPair], u64)> {
        let before = self.pairs_before.iter().map(|(pairs, seq)| (pairs.as_slice(), *seq));
        before.chain([(self.pairs(), self.shown_at)])
    }

    /// What it shows for the others of its group, once it has its stretch.
    pub(super) fn shows_others(&self, joint: &Joint, spec: &FastenerSpec) -> Option<QualifiedTorque> {
        let stretched = |stage: &usize| {
            joint.stages[*stage].way.reopens() && self.had[*stage].pulls > 0 && self.finished[*stage]
        };
        let stage = (0..joint.stages.len()).find(stretched)?;
        let good = joint.stages[stage].way.judge(self.had[stage].value) == Verdict::Good;
        let last = self.pairs.last().filter(|_| good)?;
        let friction = NutFactor::of(&spec.fastening.thread, spec.fastening.own_resilience()?, &self.pairs)?;
        Some(QualifiedTorque { torque_nm: last.torque_nm, friction })
    }

    /// What the first of its group has shown goes for it, too.
    pub(super) fn qualify(&mut self, joint: &Joint, spec: &FastenerSpec, qualified: Option<QualifiedTorque>) {
        if self.qualified != qualified {
            self.qualified = qualified;
            self.expect(joint, Some(spec));
        }
    }

    /// It may use more of its yield than the plan allows: what was short for good is open again. Gives the pull
    /// that was.
    pub(super) fn allow(&mut self, joint: &Joint, spec: &FastenerSpec, utilisation: f64) -> Option<u64> {
        self.allowed = Some(utilisation);
        let short = |stage: &usize| {
            let rules = &joint.stages[*stage].way;
            rules.reopens() && self.finished[*stage] && rules.judge(self.had[*stage].value) == Verdict::Low
        };
        let stage = (0..joint.stages.len()).find(short);
        if let Some(stage) = stage {
            self.finished[stage] = false;
            self.finished[stage - 1] = false;
        }
        self.expect(joint, Some(spec));
        stage.map(|stage| self.last[stage])
    }

    /// The most that it may use of its yield, where a lead allowed more than the plan does.
    pub(super) fn allowed(&self) -> Option<f64> {
        self.allowed
    }

    /// What the first of its group has shown for it.
    pub(super) fn qualified(&self) -> Option<QualifiedTorque> {
        self.qualified
    }

    /// Takes a pull.
    pub(super) fn pull(
        &mut self,
        joint: &Joint,
        used: &UsedFastener<'_>,
        pull: &mut RecordedPull,
        counts: bool,
    ) {
        let spec = &*used.spec;
        let converted = used.factor(joint.way_at(pull.stage, pull.seq));
        if counts && let Some(seq) = self.apart_at {
            self.start_again(joint, spec, seq, false);
        }
        let rules = joint.way_at(pull.stage, pull.seq);
        let before = self.had[pull.stage.0];
        // What does not count is judged as if it stood alone.
        let had = rules.add(if counts { before } else { StageProgress::default() }, pull.figure / converted);
        let load = rules.load(&spec.fastening, self.load, pull.figure);
        let verdict = rules.judge_after(before, had.value);
        // One that went too far is past its yield where it may be, by a friction that nobody knows (M-17).
        let broken = !spec.to_yield
            && load.is_some_and(|load| {
                load.past_yield() || (verdict == Verdict::Over && load.most_utilisation > 1.0)
            });
        let scrap = rules.scraps() && verdict == Verdict::Over;
        let spent = (spec.single_use && rules.once()) || broken || scrap;
        let stuck = verdict == Verdict::Low && self.at_its_limit(joint, spec, pull);
        pull.judged =
            PullJudgement { value: had.value, verdict, mends: !rules.at_once() && !stuck, spent, converted };
        if counts {
            self.had[pull.stage.0] = had;
            self.finished[pull.stage.0] = joint.way_at(pull.stage, pull.seq).finished(had) || stuck;
            self.show(joint, spec, pull);
            self.last[pull.stage.0] = pull.seq;
            self.load = load;
            self.spent |= spent || (spec.single_use && self.is_tight(joint, pull.stage));
        }
    }

    /// Whether it has all that its group is pulled to: it was used (C-62).
    fn is_tight(&self, joint: &Joint, stage: StageIx) -> bool {
        let group = joint[stage].group;
        let pulled = |of: &&(usize, &Stage)| of.1.group == group && of.1.way.dimension().is_some();
        let stages: Vec<(usize, &Stage)> = joint.stages.iter().enumerate().collect();
        stages.iter().filter(pulled).all(|(at, _)| self.finished[*at])
    }

    /// Whether a bolt that is short cannot be pulled on without using more of its yield than the plan allows.
    fn at_its_limit(&self, joint: &Joint, spec: &FastenerSpec, pull: &RecordedPull) -> bool {
        let (Some(torque_nm), Some(climb)) =
            (self.torque_nm, joint.way_at(pull.stage, pull.seq).climb(&spec.fastening))
        else {
            return false;
        };
        let climb = climb.within(self.allowed);
        let pairs =
            [self.pairs.as_slice(), &[TorqueStretchPair { torque_nm, stretch_mm: pull.figure }]].concat();
        climb.next(&pairs).is_some_and(|next| {
            next.bound == TorqueBound::Utilisation && next.limit_nm <= torque_nm * (1.0 + NO_STEP)
        })
    }

    /// What a pull that counts shows of the friction, and what it opens again.
    fn show(&mut self, joint: &Joint, spec: &FastenerSpec, pull: &RecordedPull) {
        let rules = joint.way_at(pull.stage, pull.seq);
        match rules.shows() {
            Some(EvidenceKind::Torque) => {
                self.torque_nm = Some(pull.figure);
                self.pulls += 1;
                self.finished[pull.stage.0] &= self.pulls >= rules.pulls_each();
                if self.finished[pull.stage.0] {
                    self.pulls = 0;
                }
            }
            Some(EvidenceKind::Stretch) => {
                let pair =
                    self.torque_nm.map(|torque_nm| TorqueStretchPair { torque_nm, stretch_mm: pull.figure });
                if let Some(pair) = pair.filter(|_| self.finished[pull.stage.0.saturating_sub(1)]) {
                    self.pairs.push(pair);
                    self.shown_at = pull.seq;
                }
            }
            None => return,
        }
        if rules.reopens() && !self.finished[pull.stage.0] {
            self.finished[pull.stage.0 - 1] = false;
        }
        self.expect(joint, Some(spec));
    }

    /// Whether it is short in a stage and is to be loosened before it is pulled on.
    pub(super) fn to_loosen(&self, joint: &Joint, stage: StageIx) -> bool {
        let rules = &joint[stage].way;
        rules.loosens_between() && self.holds() && self.had[stage.0].pulls > 0 && !self.finished[stage.0]
    }

    /// Takes a loosening. What stays longer than it may is scrap (C-25).
    pub(super) fn loosen(&mut self, joint: &Joint, spec: &FastenerSpec, loosening: &mut RecordedLoosening) {
        loosening.held =
            LoadBeforeLoosening::of(spec, self.load, self.stretched(joint, loosening.fastener), loosening);
        self.spent |= grown(joint, spec, loosening).is_some();
        if loosening.apart {
            self.apart_at = Some(loosening.seq);
        } else {
            self.start_again(joint, spec, loosening.seq, !loosening.replaced);
        }
    }

    /// The window of the stretch that it was pulled to, where it was.
    fn stretched<'a>(&self, joint: &'a Joint, fastener: FastenerIx) -> Option<&'a Band> {
        let group = joint.group_ix(fastener);
        let has = |(at, stage): &(usize, &Stage)| {
            stage.group == group
                && stage.way.shows() == Some(EvidenceKind::Stretch)
                && self.had[*at].pulls > 0
        };
        let (_, stage) = joint.stages.iter().enumerate().rev().find(has)?;
        stage.way.band().filter(|band| band.low.is_finite() && band.high.is_finite())
    }

    /// Its stages start again; the same fastener goes back where `kept`.
    fn start_again(&mut self, joint: &Joint, spec: &FastenerSpec, seq: u64, kept: bool) {
        let owing = self.spent || self.owed.is_some();
        let mut pairs_before = std::mem::take(&mut self.pairs_before);
        if !kept {
            pairs_before.push((std::mem::take(&mut self.pairs), std::mem::take(&mut self.shown_at)));
        }
        *self = Self {
            pairs_before,
            history: std::mem::take(&mut self.history),
            loosened_at: seq,
            owed: (owing && kept).then_some(seq),
            pairs: std::mem::take(&mut self.pairs),
            shown_at: self.shown_at,
            qualified: self.qualified,
            allowed: self.allowed.filter(|_| kept),
            ..Self::fresh(joint, None)
        };
        self.expect(joint, Some(spec));
    }

    /// What it has in a stage.
    pub fn had(&self, stage: StageIx) -> StageProgress {
        self.had[stage.0]
    }

    /// Whether it needs no more in a stage.
    pub fn finished(&self, stage: StageIx) -> bool {
        self.finished[stage.0]
    }

    /// The last pull that counts in a stage; 0 without one.
    pub fn last(&self, stage: StageIx) -> u64 {
        self.last[stage.0]
    }

    /// The clamp load that it has, kN, where it can be computed.
    pub fn clamp_kn(&self) -> Option<f64> {
        self.load.as_ref().map(|load| load.typical_kn)
    }

    /// Whether it is in and was pulled.
    pub fn holds(&self) -> bool {
        self.apart_at.is_none() && self.had.iter().any(|had| had.pulls > 0)
    }

    /// Whether it was loosened as its joint was taken apart.
    pub fn is_apart(&self) -> bool {
        self.apart_at.is_some()
    }

    /// When it was last loosened for its stages to start again; 0 when it never was.
    pub(super) fn loosened_at(&self) -> u64 {
        self.loosened_at
    }

    /// The loosening after which the old one went back although it was spent.
    pub(super) fn owed(&self) -> Option<u64> {
        self.owed
    }
}

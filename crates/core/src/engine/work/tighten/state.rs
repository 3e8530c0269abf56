//! What was done to the fasteners of every joint, round by round.
//!
//! What a fastener has is what its entries come to in their order ([`Fastened::take`]), and nothing
//! else writes it: an entry that was voided is passed over by taking all of them again.

use crate::engine::ledger::Ledger;
use crate::engine::record::{Instrument, Loosen, Method, Pulled};
use crate::engine::series::Series;
use crate::engine::thing::Thing;
use crate::engine::tools::Need;
use crate::joint::Forecast;
use crate::plan::{FastenerIx, FastenerSpec, Joint, JointIx, Plan, StageIx};
use crate::tightening::{Had, Reading, Verdict};
use std::collections::BTreeSet;
use std::sync::Arc;
use time::OffsetDateTime;

/// Something to be known about a pull or an action besides its verdict.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Remark {
    /// Another fastener was next.
    OutOfOrder {
        /// The one that was next.
        expected: FastenerIx,
    },
    /// Something earlier was not finished yet.
    Early {
        /// What was to be done first.
        first: Open,
    },
    /// Its operation had not been started.
    NotStarted,
    /// The fastener had this stage already.
    Repeated,
    /// The instrument does not fit the target (C-7).
    Instrument {
        /// Why not.
        fault: String,
    },
}

impl Remark {
    /// Whether it deviates from the plan and somebody has to stand for it (C-4).
    pub fn deviates(&self) -> bool {
        !matches!(self, Self::Repeated)
    }
}

/// Something left to do on a joint.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Open {
    /// A fastener, and its place in its group.
    Pull {
        /// The stage.
        stage: StageIx,
        /// The fastener.
        fastener: FastenerIx,
        /// Its place in the sequence of its group, from 0.
        place: usize,
    },
    /// An action.
    Act {
        /// The stage.
        stage: StageIx,
    },
}

impl Open {
    /// The stage it belongs to.
    pub fn stage(self) -> StageIx {
        match self {
            Self::Pull { stage, .. } | Self::Act { stage } => stage,
        }
    }
}

/// One application of the wrench to one fastener in one stage.
#[derive(Debug, Clone)]
pub struct Pull {
    /// The entry.
    pub seq: u64,
    /// The stage.
    pub stage: StageIx,
    /// The fastener.
    pub fastener: FastenerIx,
    /// What was read.
    pub reading: Reading,
    /// How it came in.
    pub method: Method,
    /// With what.
    pub instrument: Arc<Instrument>,
    /// The figure of the reading that the stage goes by, in its base unit.
    pub figure: f64,
    /// What else is to be known.
    pub remarks: Vec<Remark>,
    /// What it came to; written by the replay alone.
    pub judged: Judged,
}

/// What a pull came to, with what the fastener had before it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Judged {
    /// The value that counts: the last torque, or the sum of the swings.
    pub value: f64,
    /// The verdict on it.
    pub verdict: Verdict,
    /// Whether the fastener is to be replaced once it is loosened.
    pub spent: bool,
}

/// A fastener that was loosened.
#[derive(Debug, Clone)]
pub struct Loosening {
    /// The entry.
    pub seq: u64,
    /// The fastener.
    pub fastener: FastenerIx,
    /// Whether a new one went in.
    pub replaced: bool,
    /// Why.
    pub reason: String,
}

/// What one fastener has.
#[derive(Debug, Clone, Default)]
pub struct Fastened {
    /// Its pulls and loosenings, in the order they came.
    history: Vec<Step>,
    /// What it has in each stage.
    had: Vec<Had>,
    /// The clamp load that leaves, where it can be computed.
    load: Option<Forecast>,
    /// Whether it is to be replaced once it is loosened.
    spent: bool,
    /// When it was last loosened; 0 when it never was.
    loosened_at: u64,
    /// The loosening after which the old one went back although it was spent.
    owed: Option<u64>,
    /// The last pull that counts, by stage.
    last: Vec<u64>,
}

/// An entry of a fastener, by its place among the round's pulls or loosenings.
#[derive(Debug, Clone, Copy)]
enum Step {
    Pull(usize),
    Loosening(usize),
}

impl Fastened {
    fn fresh(stages: usize) -> Self {
        Self { had: vec![Had::default(); stages], last: vec![0; stages], ..Self::default() }
    }

    /// Takes a pull.
    fn pull(&mut self, joint: &Joint, spec: &FastenerSpec, pull: &mut Pull, counts: bool) {
        let way = &joint[pull.stage].way;
        let before = self.had[pull.stage.0];
        // What does not count is judged as if it stood alone.
        let had = way.rules().add(if counts { before } else { Had::default() }, pull.figure);
        let load = way.rules().load(&spec.fastening, self.load, pull.figure);
        let broken = !spec.to_yield && load.is_some_and(|load| load.past_yield());
        let spent = (spec.single_use && way.rules().adds_up()) || broken;
        let over = way.rules().band().map(|band| band.judge(had.value));
        pull.judged = Judged { value: had.value, verdict: over.unwrap_or(Verdict::Good), spent };
        if counts {
            self.had[pull.stage.0] = had;
            self.last[pull.stage.0] = pull.seq;
            self.load = load;
            self.spent |= spent;
        }
    }

    /// Takes a loosening: its stages start again.
    fn loosen(&mut self, loosening: &Loosening) {
        let stages = self.had.len();
        let owing = self.spent || self.owed.is_some();
        *self = Self {
            history: std::mem::take(&mut self.history),
            loosened_at: loosening.seq,
            owed: (owing && !loosening.replaced).then_some(loosening.seq),
            ..Self::fresh(stages)
        };
    }

    /// What it has in a stage.
    pub fn had(&self, stage: StageIx) -> Had {
        self.had[stage.0]
    }

    /// The last pull that counts in a stage; 0 without one.
    pub fn last(&self, stage: StageIx) -> u64 {
        self.last[stage.0]
    }
}

/// One time a joint is tightened.
#[derive(Debug, Clone)]
pub struct Round {
    /// Pulls in the order they came.
    pub pulls: Vec<Pull>,
    /// Loosenings in the order they came.
    pub loosenings: Vec<Loosening>,
    /// Actions, with what is to be known about them.
    pub(in crate::engine) actions: Series<StageIx, Vec<Remark>>,
    fasteners: Vec<Fastened>,
    /// Pulls that were over or deviate, by place.
    suspects: BTreeSet<usize>,
}

/// Who records where: what an entry needs besides its fact.
pub(in crate::engine) struct Entering<'a> {
    pub plan: &'a Plan,
    pub at: (JointIx, usize),
    pub seq: u64,
    pub time: OffsetDateTime,
    /// Whether the operation was started.
    pub started: bool,
}

impl Round {
    fn fresh(joint: &Joint) -> Self {
        Self {
            pulls: Vec::new(),
            loosenings: Vec::new(),
            actions: Series::default(),
            fasteners: vec![Fastened::fresh(joint.stages.len()); joint.fasteners.len()],
            suspects: BTreeSet::new(),
        }
    }

    /// What a fastener has.
    pub fn fastened(&self, fastener: FastenerIx) -> &Fastened {
        &self.fasteners[fastener.0]
    }

    /// Whether an action is done.
    pub fn acted(&self, stage: StageIx) -> bool {
        self.actions.latest(stage).is_some()
    }

    /// Whether a fastener needs no more in a stage.
    pub fn finished(&self, joint: &Joint, stage: StageIx, fastener: FastenerIx) -> bool {
        joint[stage].way.finished(self.fasteners[fastener.0].had[stage.0])
    }

    /// What is left to do, in order: all of a group in a stage before the next stage (C-9), but for
    /// stages that are walked together.
    pub fn open<'a>(&'a self, joint: &'a Joint) -> impl Iterator<Item = Open> + 'a {
        joint.legs().flat_map(move |leg| {
            let first = StageIx(leg.start);
            let act =
                (joint[first].group.is_none() && !self.acted(first)).then_some(Open::Act { stage: first });
            let group = joint.group_of(first).map(|group| group.fasteners.clone()).unwrap_or_default();
            let start = group.start;
            let pulls = group.flat_map(move |fastener| {
                let open = move |stage: &StageIx| !self.finished(joint, *stage, FastenerIx(fastener));
                leg.clone().map(StageIx).filter(open).map(move |stage| Open::Pull {
                    stage,
                    fastener: FastenerIx(fastener),
                    place: fastener - start,
                })
            });
            act.into_iter().chain(pulls)
        })
    }

    /// Pulls that bear on their fastener as it is now and were over or deviate.
    pub fn suspects<'a>(&'a self, ledger: &'a Ledger) -> impl Iterator<Item = &'a Pull> {
        self.suspects.iter().map(|at| &self.pulls[*at]).filter(|pull| self.stands(pull, ledger))
    }

    /// Whether a pull still bears on the fastener as it is now.
    pub fn stands(&self, pull: &Pull, ledger: &Ledger) -> bool {
        pull.seq > self.fasteners[pull.fastener.0].loosened_at && ledger.counts(pull.seq)
    }

    /// Loosenings after which a spent fastener went back.
    pub fn owed(&self) -> impl Iterator<Item = (FastenerIx, u64)> {
        self.fasteners.iter().enumerate().filter_map(|(at, fastened)| Some((FastenerIx(at), fastened.owed?)))
    }

    /// The place of a pull or an action against what was next.
    fn order(
        &self,
        joint: &Joint,
        entering: &Entering<'_>,
        stage: StageIx,
        fastener: Option<FastenerIx>,
    ) -> Vec<Remark> {
        let mut remarks = Vec::new();
        if !entering.started {
            remarks.push(Remark::NotStarted);
        }
        let (done, untouched) = match fastener {
            Some(fastener) => {
                let untouched = self.fasteners[fastener.0].had[stage.0].pulls == 0;
                (self.finished(joint, stage, fastener), untouched)
            }
            None => (self.acted(stage), !self.acted(stage)),
        };
        // What is done cannot be what was next.
        if done {
            remarks.push(Remark::Repeated);
            return remarks;
        }
        match self.open(joint).next() {
            Some(Open::Pull { stage: now, fastener: next, .. }) if now == stage && Some(next) == fastener => {
            }
            Some(Open::Act { stage: now }) if now == stage => {}
            Some(Open::Pull { stage: now, fastener: expected, .. }) if now == stage && untouched => {
                remarks.push(Remark::OutOfOrder { expected });
            }
            Some(first) if untouched => remarks.push(Remark::Early { first }),
            _ => remarks.push(Remark::Repeated),
        }
        remarks
    }

    fn look(&mut self, at: usize) {
        let pull = &self.pulls[at];
        if pull.judged.verdict == Verdict::Over || pull.remarks.iter().any(Remark::deviates) {
            self.suspects.insert(at);
        } else {
            self.suspects.remove(&at);
        }
    }

    fn take(
        &mut self,
        plan: &Plan,
        joint: &Joint,
        fastener: FastenerIx,
        step: Step,
        ledger: Option<&Ledger>,
    ) {
        // An entry that is being made counts; it is not in the ledger yet.
        let counts = |seq| ledger.is_none_or(|ledger| ledger.counts(seq));
        let Some(group) = joint.group_with(fastener) else { return };
        let fastened = &mut self.fasteners[fastener.0];
        match step {
            Step::Pull(at) => {
                let pull = &mut self.pulls[at];
                let counts = counts(pull.seq);
                fastened.pull(joint, &plan[group.spec], pull, counts);
                self.look(at);
            }
            Step::Loosening(at) => {
                let loosening = &self.loosenings[at];
                if counts(loosening.seq) {
                    fastened.loosen(loosening);
                }
            }
        }
    }

    /// Takes every entry of a fastener again, after one of them was voided.
    fn replay(&mut self, plan: &Plan, joint: &Joint, fastener: FastenerIx, ledger: &Ledger) {
        let stages = joint.stages.len();
        let history = std::mem::take(&mut self.fasteners[fastener.0].history);
        self.fasteners[fastener.0] = Fastened::fresh(stages);
        for step in &history {
            self.take(plan, joint, fastener, *step, Some(ledger));
        }
        self.fasteners[fastener.0].history = history;
    }
}

/// Every joint of an engine, by its rounds.
#[derive(Debug, Clone)]
pub(in crate::engine) struct Joints {
    joints: Vec<Vec<Round>>,
}

impl Joints {
    /// Nothing done yet.
    pub fn fresh(plan: &Plan) -> Self {
        let rounds = |joint: &Joint| joint.rounds.iter().map(|_| Round::fresh(joint)).collect();
        Self { joints: plan.joints.iter().map(rounds).collect() }
    }

    /// One round of a joint.
    pub fn round(&self, (joint, round): (JointIx, usize)) -> &Round {
        &self.joints[joint.0][round]
    }

    /// A wrench was pulled.
    pub fn pull(
        &mut self,
        entering: &Entering<'_>,
        fact: &Pulled,
        instrument: Arc<Instrument>,
    ) -> Option<Thing> {
        let (joint_at, number) = entering.at;
        let joint = &entering.plan[joint_at];
        let stage = StageIx(fact.stage);
        let rules = joint.stages.get(stage.0)?.way.rules();
        let fastener = joint.fastener(&fact.fastener)?;
        let figure = rules.figure(&fact.reading)?;
        let round = &mut self.joints[joint_at.0][number];
        let mut remarks = round.order(joint, entering, stage, Some(fastener));
        let unfit = rules.ability().and_then(|able| instrument.unfit(&Need::Pull(able), entering.time));
        remarks.extend(unfit.map(|unfit| Remark::Instrument { fault: unfit.words }));
        let at = round.pulls.len();
        round.pulls.push(Pull {
            seq: entering.seq,
            stage,
            fastener,
            reading: fact.reading.clone(),
            method: fact.method,
            instrument,
            figure,
            remarks,
            judged: Judged { value: figure, verdict: Verdict::Good, spent: false },
        });
        round.fasteners[fastener.0].history.push(Step::Pull(at));
        round.take(entering.plan, joint, fastener, Step::Pull(at), None);
        Some(Thing::Fastener(joint_at, number, fastener))
    }

    /// A fastener was loosened.
    pub fn loosen(&mut self, entering: &Entering<'_>, fact: &Loosen) -> Option<Thing> {
        let (joint_at, number) = entering.at;
        let joint = &entering.plan[joint_at];
        let fastener = joint.fastener(&fact.fastener)?;
        let round = &mut self.joints[joint_at.0][number];
        let at = round.loosenings.len();
        let (replaced, reason) = (fact.replaced, fact.reason.clone());
        round.loosenings.push(Loosening { seq: entering.seq, fastener, replaced, reason });
        round.fasteners[fastener.0].history.push(Step::Loosening(at));
        round.take(entering.plan, joint, fastener, Step::Loosening(at), None);
        Some(Thing::Fastener(joint_at, number, fastener))
    }

    /// An action was done.
    pub fn act(&mut self, entering: &Entering<'_>, stage: usize) -> Option<Thing> {
        let (joint_at, number) = entering.at;
        let joint = &entering.plan[joint_at];
        let stage = StageIx(stage);
        joint.stages.get(stage.0)?.way.action()?;
        let round = &mut self.joints[joint_at.0][number];
        let remarks = round.order(joint, entering, stage, None);
        round.actions.push(entering.seq, stage, remarks);
        Some(Thing::Action(joint_at, number, stage))
    }

    /// An entry about a fastener was voided.
    pub fn settle_fastener(
        &mut self,
        plan: &Plan,
        (joint, round): (JointIx, usize),
        fastener: FastenerIx,
        ledger: &Ledger,
    ) {
        self.joints[joint.0][round].replay(plan, &plan[joint], fastener, ledger);
    }

    /// An entry about an action was voided.
    pub fn settle_action(&mut self, (joint, round): (JointIx, usize), stage: StageIx, ledger: &Ledger) {
        self.joints[joint.0][round].actions.settle(stage, ledger);
    }
}

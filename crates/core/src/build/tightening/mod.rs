//! The pulls of one joint: what counts for each fastener in each stage.

mod apply;
mod bench;
mod decide;
mod matter;

pub use bench::{FastenerMark, FastenerState, PullView, StageState, StageView, Stroke, TightenBench, Why};
pub(super) use decide::{act, loosen, pull};

use super::event::{Instrument, Method, Reading};
use super::state::{Confirmation, Stamp, Voided};
use crate::plan::{Joint, Stage};
use crate::tightening::{Band, Verdict};
use serde::Serialize;
use std::collections::HashMap;
use std::fmt;
use std::ops::Range;
use std::sync::Arc;

/// Something to be known about a pull besides its verdict.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Remark {
    /// Another fastener was next.
    OutOfOrder {
        /// The one that was next.
        expected: String,
    },
    /// Something earlier was not finished yet.
    Early {
        /// What was to be done first.
        first: String,
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
    /// Whether the pull deviates from the plan and somebody has to stand for it (C-4).
    pub fn deviates(&self) -> bool {
        !matches!(self, Self::Repeated)
    }
}

impl fmt::Display for Remark {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::OutOfOrder { expected } => write!(f, "out of order: {expected} was next"),
            Self::Early { first } => write!(f, "too early: {first} comes first"),
            Self::NotStarted => write!(f, "before the operation was started"),
            Self::Repeated => write!(f, "pulled again"),
            Self::Instrument { fault } => write!(f, "{fault}"),
        }
    }
}

/// One application of the wrench to one fastener in one stage.
#[derive(Debug, Clone, PartialEq)]
pub struct Pull {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// The stage, by index.
    pub stage: usize,
    /// The fastener, by its place in [`TighteningState::fasteners`].
    pub fastener: usize,
    /// What was read.
    pub reading: Reading,
    /// How it came in.
    pub method: Method,
    /// With what.
    pub instrument: Arc<Instrument>,
    /// The value judged: torque in N·m, or the angle of all swings so far in degrees.
    pub value: f64,
    /// The verdict on it.
    pub verdict: Verdict,
    /// What else is to be known.
    pub remarks: Vec<Remark>,
    /// Set when it does not count.
    pub voided: Option<Voided>,
    /// Set when a lead stands for its deviation.
    pub accepted: Option<Voided>,
}

/// A fastener that was loosened.
#[derive(Debug, Clone, PartialEq)]
pub struct Loosening {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// The fastener, by its place in [`TighteningState::fasteners`].
    pub fastener: usize,
    /// Whether a new one went in.
    pub replaced: bool,
    /// Whether what was done to it calls for a new one.
    pub must_replace: bool,
    /// Why.
    pub reason: String,
    /// Set when it does not count.
    pub voided: Option<Voided>,
}

/// What the pulls of one fastener in one stage come to.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Standing {
    /// The value that counts: the last torque, or the sum of the angle's swings.
    pub value: f64,
    /// The most that was reached.
    pub peak: f64,
    /// How many pulls count.
    pub pulls: u32,
    /// The last entry that counts.
    pub last_seq: u64,
}

impl Standing {
    fn add(&mut self, stage: &Stage, value: f64, seq: u64) {
        self.value = if stage.is_angle() { self.value + value } else { value };
        self.peak = self.peak.max(self.value);
        self.pulls += 1;
        self.last_seq = seq;
    }

    /// The verdict: over as soon as anything was over, whatever came later.
    pub fn verdict(&self, band: &Band) -> Option<Verdict> {
        if self.pulls == 0 {
            return None;
        }
        Some(if band.judge(self.peak) == Verdict::Over { Verdict::Over } else { band.judge(self.value) })
    }
}

/// Everything recorded about the tightening of one joint.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct TighteningState {
    /// Every fastener of the joint, by id.
    pub fasteners: Vec<String>,
    /// Pulls in the order they came.
    pub pulls: Vec<Pull>,
    /// Loosenings in the order they came.
    pub loosenings: Vec<Loosening>,
    /// Actions between stages; the index is the stage.
    pub actions: Vec<Confirmation>,
    index: HashMap<String, usize>,
    standing: Vec<Vec<Standing>>,
    /// Where the fasteners of each stage lie in `fasteners`; empty for an action.
    spans: Vec<Range<usize>>,
    /// Pulls that were over or deviate, by place in `pulls`.
    suspects: Vec<usize>,
}

/// Something left to do on a joint.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Open {
    /// A fastener, by its place in [`TighteningState::fasteners`] and in its group.
    Pull { stage: usize, fastener: usize, place: usize },
    /// An action.
    Act { stage: usize },
}

impl TighteningState {
    /// Nothing done yet.
    pub fn new(joint: &Joint) -> Self {
        let fasteners: Vec<String> =
            joint.groups.iter().flat_map(|group| &group.positions).map(|p| p.id.clone()).collect();
        let index = fasteners.iter().enumerate().map(|(i, id)| (id.clone(), i)).collect();
        let standing = vec![vec![Standing::default(); fasteners.len()]; joint.stages.len()];
        let span = |stage: &Stage| {
            let before = joint.groups.iter().take_while(|group| stage.group() != Some(&group.id));
            let start = before.map(|group| group.positions.len()).sum();
            start..start + joint.group_of(stage).map_or(0, |group| group.positions.len())
        };
        let spans = joint.stages.iter().map(span).collect();
        Self { fasteners, index, standing, spans, ..Self::default() }
    }

    /// The place of a fastener in [`Self::fasteners`].
    pub fn fastener(&self, id: &str) -> Option<usize> {
        self.index.get(id).copied()
    }

    /// What the pulls of a fastener in a stage come to.
    pub fn standing(&self, stage: usize, fastener: usize) -> Standing {
        self.standing.get(stage).and_then(|row| row.get(fastener)).copied().unwrap_or_default()
    }

    /// What is left to do, in order: all of a group in a stage before the next stage (C-9).
    pub(super) fn open<'a>(&'a self, joint: &'a Joint) -> impl Iterator<Item = Open> + 'a {
        joint.stages.iter().zip(&self.spans).enumerate().flat_map(move |(stage, (planned, span))| {
            let act = (planned.group().is_none() && !self.acted(stage)).then_some(Open::Act { stage });
            let pulls = planned.band().into_iter().flat_map(move |band| {
                let open = move |fastener: &usize| {
                    let verdict = self.standing[stage][*fastener].verdict(band);
                    verdict.is_none_or(|verdict| verdict == Verdict::Low)
                };
                let start = span.start;
                span.clone().filter(open).map(move |fastener| Open::Pull {
                    stage,
                    fastener,
                    place: fastener - start,
                })
            });
            act.into_iter().chain(pulls)
        })
    }

    /// Records a pull and gives its place.
    pub(super) fn add(&mut self, pull: Pull) -> usize {
        let at = self.pulls.len();
        if pull.verdict == Verdict::Over || pull.remarks.iter().any(Remark::deviates) {
            self.suspects.push(at);
        }
        self.pulls.push(pull);
        at
    }

    /// Looks again at which pulls are over, after verdicts changed.
    pub(super) fn suspect_again(&mut self) {
        let suspect =
            |pull: &Pull| pull.verdict == Verdict::Over || pull.remarks.iter().any(Remark::deviates);
        self.suspects = (0..self.pulls.len()).filter(|&at| suspect(&self.pulls[at])).collect();
    }

    /// Pulls that bear on their fastener and were over or deviate.
    pub(super) fn suspects(&self) -> impl Iterator<Item = &Pull> {
        self.suspects.iter().map(|&at| &self.pulls[at]).filter(|pull| self.stands(pull))
    }

    /// Whether an action stage is done.
    pub fn acted(&self, stage: usize) -> bool {
        self.actions.iter().any(|action| action.index == stage && action.voided.is_none())
    }

    /// The value a reading counts with in a stage.
    pub(super) fn value(stage: &Stage, reading: &Reading) -> Option<f64> {
        if stage.is_angle() { reading.angle_deg } else { reading.torque_nm }
    }

    pub(super) fn count(
        &mut self,
        joint: &Joint,
        stage: usize,
        fastener: usize,
        reading: &Reading,
        seq: u64,
    ) {
        let Some(value) = Self::value(&joint.stages[stage], reading) else { return };
        self.standing[stage][fastener].add(&joint.stages[stage], value, seq);
    }

    /// Counts a fastener's pulls afresh, after one was voided or the fastener was loosened.
    pub(super) fn recount(&mut self, joint: &Joint, fastener: usize) {
        for row in &mut self.standing {
            row[fastener] = Standing::default();
        }
        let since = self.loosened_at(fastener);
        for at in 0..self.pulls.len() {
            let pull = &self.pulls[at];
            if pull.fastener == fastener && pull.voided.is_none() && pull.stamp.seq > since {
                let (stage, reading, seq) = (pull.stage, pull.reading.clone(), pull.stamp.seq);
                self.count(joint, stage, fastener, &reading, seq);
            }
        }
    }

    /// The entry at which a fastener was last loosened; 0 when it never was.
    pub fn loosened_at(&self, fastener: usize) -> u64 {
        let of_it = |l: &&Loosening| l.fastener == fastener && l.voided.is_none();
        self.loosenings.iter().rev().find(of_it).map_or(0, |l| l.stamp.seq)
    }

    /// Whether a pull still bears on the fastener as it is now.
    pub fn stands(&self, pull: &Pull) -> bool {
        pull.voided.is_none() && pull.stamp.seq > self.loosened_at(pull.fastener)
    }
}

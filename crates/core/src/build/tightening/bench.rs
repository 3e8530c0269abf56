//! A joint, as the bench shows it: the map, the pull, why this number.

use super::super::event::{Instrument, Method};
use super::super::instrument::{Need, ToolFit};
use super::super::state::State;
use super::super::step::Step;
use super::{Pull, TighteningState};
use crate::plan::{Drawing, Forecast, Joint, Plan, Stage};
use crate::tightening::{Band, Pattern, Verdict, clock_position};
use serde::Serialize;
use time::OffsetDateTime;

/// Pulls that the bench shows at most.
const SHOWN: usize = 120;

/// A joint to tighten.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TightenBench {
    /// What the joint is called.
    pub joint: String,
    /// The part it lies on.
    pub drawing: Option<Drawing>,
    /// Every fastener in its place.
    pub fasteners: Vec<FastenerMark>,
    /// The procedure.
    pub stages: Vec<StageView>,
    /// Why the target in hand is what it is.
    pub why: Option<Why>,
    /// The instruments that measure what the stage in hand asks for, in the order of the shop.
    pub tools: Vec<ToolFit>,
    /// The latest pulls, the last one first.
    pub pulls: Vec<PullView>,
    /// How many pulls there are in all.
    pub pull_count: usize,
}

/// How a fastener stands in the stage in hand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum FastenerState {
    /// Its turn comes.
    Waiting,
    /// It is next.
    Next,
    /// It has what the stage in hand asks for.
    Done,
    /// Something is wrong with it.
    Wrong,
}

/// A stroke of the paint pen for one finished stage (C-14).
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stroke {
    /// The stage, by index.
    pub stage: usize,
    /// Where the mark stands on the bolt, in degrees clockwise from twelve.
    pub at_deg: f64,
    /// The same as a clock position.
    pub clock: String,
}

/// A fastener on the map.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FastenerMark {
    /// Its name on the part.
    pub id: String,
    /// Key of its group.
    pub group: String,
    /// Its number in the group's sequence, from 1.
    pub number: usize,
    /// Along the engine from the front, mm.
    pub x_mm: f64,
    /// Across the engine, mm.
    pub y_mm: f64,
    /// Nominal diameter, mm.
    pub diameter_mm: f64,
    /// How it stands.
    pub state: FastenerState,
    /// Its paint marks.
    pub strokes: Vec<Stroke>,
}

/// Where a stage stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum StageState {
    /// Still to come.
    Waiting,
    /// In hand.
    Now,
    /// Finished.
    Done,
}

/// One stage of the procedure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StageView {
    /// What it is called.
    pub name: String,
    /// Its group's name; empty for an action.
    pub group: String,
    /// Whether it is an angle.
    pub angle: bool,
    /// What is wanted, in N·m or degrees; none for an action.
    pub band: Option<Band>,
    /// How many are done.
    pub done: usize,
    /// Of how many.
    pub total: usize,
    /// Where it stands.
    pub state: StageState,
    /// The order it goes in; none for an action.
    pub pattern: Option<Pattern>,
}

/// Why the target is what it is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Why {
    /// The fastener in words.
    pub fastener: String,
    /// The lubricants in words.
    pub lubricant: String,
    /// The clamp load to expect, where it can be computed.
    pub forecast: Option<Forecast>,
}

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
    /// Whether the stage is an angle.
    pub angle: bool,
    /// The value judged, in N·m or degrees; swings add up.
    pub value: f64,
    /// What this pull alone read, in N·m or degrees.
    pub read: f64,
    /// What was typed, to the letter.
    pub entered: Option<String>,
    /// The peak torque of an angle pull, N·m, where it was measured.
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
    pub(in crate::build) fn tighten_bench(
        &self,
        at: usize,
        joint: &Joint,
        step: &Step,
        (tools, time): (&[Instrument], OffsetDateTime),
    ) -> TightenBench {
        let state = &self.operations[at].tightening;
        let now = match step {
            Step::Pull { stage, .. } | Step::Act { stage, .. } => *stage,
            _ => joint.stages.len(),
        };
        let wrong: Vec<String> = self.matters_of(at).into_iter().filter_map(|m| m.fastener).collect();
        let marks = joint.groups.iter().flat_map(|group| {
            let fastener = self.plan.fastener(&group.fastener);
            let diameter_mm = fastener.map_or(10.0, |f| f.thread.nominal_mm());
            group
                .positions
                .iter()
                .enumerate()
                .map(move |(number, position)| (group, number, position, diameter_mm))
        });
        let fasteners = marks.map(|(group, number, position, diameter_mm)| {
            let strokes = strokes(joint, state, &position.id);
            let is_next = matches!(step, Step::Pull { fastener, .. } if *fastener == position.id);
            FastenerMark {
                id: position.id.clone(),
                group: group.id.clone(),
                number: number + 1,
                x_mm: position.x_mm,
                y_mm: position.y_mm,
                diameter_mm,
                state: if wrong.contains(&position.id) {
                    FastenerState::Wrong
                } else if is_next {
                    FastenerState::Next
                } else if strokes.iter().any(|s| s.stage == now) || now >= joint.stages.len() {
                    FastenerState::Done
                } else {
                    FastenerState::Waiting
                },
                strokes,
            }
        });
        TightenBench {
            joint: joint.name.clone(),
            drawing: self.plan.drawing(&joint.drawing).cloned(),
            fasteners: fasteners.collect(),
            stages: (0..joint.stages.len()).map(|stage| stage_view(joint, state, stage, now)).collect(),
            why: why(&self.plan, joint, now),
            tools: match joint.stages.get(now) {
                Some(stage) => tools.iter().filter_map(|t| t.fit(&Need::Pull(stage), time)).collect(),
                None => Vec::new(),
            },
            pulls: self.latest_pulls(at, SHOWN),
            pull_count: state.pulls.len(),
        }
    }

    /// The pulls of a tightening operation, the latest first.
    pub fn pulls(&self, at: usize) -> Vec<PullView> {
        self.latest_pulls(at, usize::MAX)
    }

    fn latest_pulls(&self, at: usize, most: usize) -> Vec<PullView> {
        let Some((_, joint)) = self.plan.joint_of(&self.plan.operations[at].id) else { return Vec::new() };
        let state = &self.operations[at].tightening;
        state.pulls.iter().rev().take(most).map(|pull| pull_view(joint, state, pull)).collect()
    }
}

/// Paint marks of a fastener: each finished stage leaves a stroke where the mark then stands.
fn strokes(joint: &Joint, state: &TighteningState, fastener: &str) -> Vec<Stroke> {
    let Some(index) = state.fastener(fastener) else { return Vec::new() };
    let mut turned = 0.0;
    let mut strokes = Vec::new();
    for (stage, planned) in joint.stages.iter().enumerate() {
        let standing = state.standing(stage, index);
        let finished =
            planned.band().and_then(|band| standing.verdict(band)).is_some_and(|v| v != Verdict::Low);
        if planned.is_angle() {
            turned += standing.value;
        }
        if finished {
            strokes.push(Stroke { stage, at_deg: turned % 360.0, clock: clock_position(turned) });
        }
    }
    strokes
}

fn stage_view(joint: &Joint, state: &TighteningState, stage: usize, now: usize) -> StageView {
    let planned = &joint.stages[stage];
    let group = joint.group_of(planned);
    let finished = |id: &str| {
        let standing = state.fastener(id).map(|index| state.standing(stage, index)).unwrap_or_default();
        planned.band().and_then(|band| standing.verdict(band)).is_some_and(|verdict| verdict != Verdict::Low)
    };
    let (done, total) = match group {
        Some(group) => (group.positions.iter().filter(|p| finished(&p.id)).count(), group.positions.len()),
        None => (usize::from(state.acted(stage)), 1),
    };
    StageView {
        name: planned.name().to_owned(),
        group: group.map(|group| group.name.clone()).unwrap_or_default(),
        angle: planned.is_angle(),
        band: planned.band().copied(),
        done,
        total,
        state: if stage == now {
            StageState::Now
        } else if done == total {
            StageState::Done
        } else {
            StageState::Waiting
        },
        pattern: group.map(|group| group.pattern),
    }
}

fn why(plan: &Plan, joint: &Joint, stage: usize) -> Option<Why> {
    let group = joint.group_of(joint.stages.get(stage)?)?;
    let fastener = plan.fastener(&group.fastener)?;
    let name = |id: &str| plan.lubricant(id).map(|l| l.name.clone()).unwrap_or_default();
    let (thread, bearing) = (name(&fastener.thread_lubricant), name(&fastener.bearing_lubricant));
    Some(Why {
        fastener: format!("{}, {}", fastener.name, fastener.designation),
        lubricant: if thread == bearing {
            format!("{thread} on thread and under the head")
        } else {
            format!("{thread} on the thread, {bearing} under the head")
        },
        forecast: plan.forecast(joint, stage),
    })
}

fn pull_view(joint: &Joint, state: &TighteningState, pull: &Pull) -> PullView {
    let stage: &Stage = &joint.stages[pull.stage];
    PullView {
        seq: pull.stamp.seq,
        at: pull.stamp.at,
        by: pull.stamp.by.name.clone(),
        stage: pull.stage,
        stage_name: stage.name().to_owned(),
        fastener: state.fasteners[pull.fastener].clone(),
        angle: stage.is_angle(),
        value: pull.value,
        read: TighteningState::value(stage, &pull.reading).unwrap_or(pull.value),
        entered: pull.reading.entered.clone(),
        torque_nm: if stage.is_angle() { pull.reading.torque_nm } else { None },
        verdict: pull.verdict,
        remarks: pull.remarks.iter().map(ToString::to_string).collect(),
        method: pull.method,
        instrument: pull.instrument.name.clone(),
        simulated: pull.instrument.simulated,
        voided: pull.voided.as_ref().map(|voided| voided.reason.clone()),
        accepted: pull.accepted.as_ref().map(|accepted| accepted.reason.clone()),
        loosened: pull.voided.is_none() && !state.stands(pull),
    }
}

//! A joint, as the bench shows it: the map, the pull, why this number.

use super::hand::Tightening;
use super::matter::matters;
use super::pulls::PullView;
use super::state::Open;
use crate::engine::tools::{Need, ToolFit, Tools};
use crate::joint::Forecast;
use crate::plan::{Drawing, FastenerIx, GroupIx, Purpose, StageIx};
use crate::tightening::{Had, Pattern, Target, clock_position};
use serde::Serialize;

/// Pulls that the bench shows at most.
const SHOWN: usize = 120;

/// Pull one fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PullStep {
    /// The stage, by index.
    pub stage: usize,
    /// The fastener.
    pub fastener: String,
    /// Its group's name.
    pub group: String,
    /// Its number in the group's sequence, from 1.
    pub number: usize,
    /// What it is to be given.
    pub target: Target,
    /// The same in one line.
    line: String,
}

impl PullStep {
    /// The step in one line.
    pub fn line(&self) -> String {
        self.line.clone()
    }
}

/// Do something by hand.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ActStep {
    /// The stage, by index.
    pub stage: usize,
    /// What it is called.
    pub name: String,
    /// How it is done.
    pub text: String,
}

/// A joint to tighten.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TightenBench {
    /// What the joint is called.
    pub joint: String,
    /// What it is tightened for this time.
    pub purpose: Purpose,
    /// The part it lies on.
    pub drawing: Drawing,
    /// Every fastener in its place.
    pub fasteners: Vec<FastenerMark>,
    /// The procedure.
    pub stages: Vec<StageView>,
    /// What stands behind the target in hand.
    pub why: Option<Why>,
    /// How the instruments of the shop fit the stage in hand; none where nothing is read.
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
    /// What is wanted; none for an action.
    pub target: Option<Target>,
    /// How many are done.
    pub done: usize,
    /// Of how many.
    pub total: usize,
    /// Where it stands.
    pub state: StageState,
    /// The order it goes in; none for an action.
    pub pattern: Option<Pattern>,
}

/// What stands behind the target in hand.
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

/// An action as a step.
pub(super) fn act_step(hand: &Tightening<'_>, stage: StageIx) -> ActStep {
    let planned = &hand.joint[stage];
    let text = planned.way.action().map(|action| action.text.clone()).unwrap_or_default();
    ActStep { stage: stage.0, name: planned.name.clone(), text }
}

/// A pull as a step; `None` where nothing is read.
pub(super) fn pull_step(
    hand: &Tightening<'_>,
    stage: StageIx,
    fastener: FastenerIx,
    place: usize,
) -> Option<PullStep> {
    let planned = &hand.joint[stage];
    let had = hand.round.fastened(fastener).had(stage);
    Some(PullStep {
        stage: stage.0,
        fastener: hand.name(fastener).to_owned(),
        group: planned.group.map(|group| hand.joint[group].name.clone()).unwrap_or_default(),
        number: place + 1,
        target: Target::of(&planned.way, had)?,
        line: hand.words(Open::Pull { stage, fastener, place }, had),
    })
}

/// The joint at the bench.
pub(super) fn bench(hand: &Tightening<'_>, tools: Tools<'_>) -> TightenBench {
    let plan = &hand.state.plan;
    let next = hand.open().next();
    let ability = next.and_then(|open| hand.joint[open.stage()].way.rules().ability());
    TightenBench {
        joint: hand.joint.name.clone(),
        purpose: hand.purpose,
        drawing: plan.drawings[hand.joint.drawing].clone(),
        fasteners: marks(hand, next),
        stages: (0..hand.joint.stages.len()).map(|stage| stage_view(hand, StageIx(stage), next)).collect(),
        why: next.and_then(|open| why(hand, open.stage())),
        tools: ability.map(|able| tools.fits(&Need::Pull(able))).unwrap_or_default(),
        pulls: hand.pulls().take(SHOWN).collect(),
        pull_count: hand.round.pulls.len(),
    }
}

fn marks(hand: &Tightening<'_>, next: Option<Open>) -> Vec<FastenerMark> {
    let wrong: Vec<String> = matters(hand).into_iter().filter_map(|matter| matter.fastener).collect();
    let of_group = |(index, group): (usize, &crate::plan::Group)| {
        let diameter_mm = hand.state.plan[group.spec].fastening.thread.nominal_mm();
        let in_hand = stage_in_hand(hand, GroupIx(index), next);
        let mark = |fastener: usize| {
            let at = FastenerIx(fastener);
            let position = &hand.joint[at];
            let is_next = matches!(next, Some(Open::Pull { fastener, .. }) if fastener == at);
            FastenerMark {
                id: position.id.clone(),
                group: group.id.clone(),
                number: fastener - group.fasteners.start + 1,
                x_mm: position.x_mm,
                y_mm: position.y_mm,
                diameter_mm,
                state: if wrong.contains(&position.id) {
                    FastenerState::Wrong
                } else if is_next {
                    FastenerState::Next
                } else if in_hand.is_none_or(|stage| hand.round.finished(hand.joint, stage, at)) {
                    FastenerState::Done
                } else {
                    FastenerState::Waiting
                },
                strokes: strokes(hand, at),
            }
        };
        group.fasteners.clone().map(mark).collect::<Vec<_>>()
    };
    hand.joint.groups.iter().enumerate().flat_map(of_group).collect()
}

/// The stage by which the fasteners of a group are done or not: the one in hand where it is theirs,
/// else their next one; none when nothing of the joint is left.
fn stage_in_hand(hand: &Tightening<'_>, group: GroupIx, next: Option<Open>) -> Option<StageIx> {
    let now = next?.stage();
    let of_group = |stage: &StageIx| hand.joint[*stage].group == Some(group);
    let later = (now.0..hand.joint.stages.len()).map(StageIx).find(of_group);
    later.or_else(|| (0..now.0).map(StageIx).rfind(of_group))
}

/// Paint marks of a fastener: each finished stage leaves a stroke where the mark then stands.
fn strokes(hand: &Tightening<'_>, fastener: FastenerIx) -> Vec<Stroke> {
    let mut turned = 0.0;
    let mut strokes = Vec::new();
    for stage in (0..hand.joint.stages.len()).map(StageIx) {
        turned += hand.joint[stage].way.rules().turned_deg(hand.round.fastened(fastener).had(stage));
        if hand.round.finished(hand.joint, stage, fastener) {
            strokes.push(Stroke { stage: stage.0, at_deg: turned % 360.0, clock: clock_position(turned) });
        }
    }
    strokes
}

fn stage_view(hand: &Tightening<'_>, at: StageIx, next: Option<Open>) -> StageView {
    let stage = &hand.joint[at];
    let group = hand.joint.group_of(at);
    let finished = |fastener: &usize| hand.round.finished(hand.joint, at, FastenerIx(*fastener));
    let (done, total) = match group {
        Some(group) => (group.fasteners.clone().filter(finished).count(), group.fasteners.len()),
        None => (usize::from(hand.round.acted(at)), 1),
    };
    StageView {
        name: stage.name.clone(),
        group: group.map(|group| group.name.clone()).unwrap_or_default(),
        target: Target::of(&stage.way, Had::default()),
        done,
        total,
        state: if next.is_some_and(|open| open.stage() == at) {
            StageState::Now
        } else if done == total {
            StageState::Done
        } else {
            StageState::Waiting
        },
        pattern: group.map(|group| group.pattern),
    }
}

fn why(hand: &Tightening<'_>, stage: StageIx) -> Option<Why> {
    let plan = &hand.state.plan;
    let spec = plan.spec(hand.joint, stage)?;
    let (thread, bearing) = (&spec.thread_lubricant, &spec.bearing_lubricant);
    Some(Why {
        fastener: format!("{}, {}", spec.name, spec.designation),
        lubricant: if thread == bearing {
            format!("{thread} on thread and under the head")
        } else {
            format!("{thread} on the thread, {bearing} under the head")
        },
        forecast: plan.forecast(hand.joint, stage),
    })
}

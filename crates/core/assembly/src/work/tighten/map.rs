//! A joint drawn: its fasteners in their places with their paint marks, its stages, and the order that
//! its groups are walked in.

use super::entry_remark::OpenStep;
use super::issues::issues;
use super::tighten_work::JointWork;
use rigore_mechanics::tightening::{SequencePattern, clock_position, order, stray};
use rigore_plan::way::{ReadingPrompt, StageProgress};
use rigore_plan::{Drawing, FastenerGroup, FastenerIx, GroupIx, StageIx, TightenTask};
use rigore_plan::{StageTarget, TargetSetup};
use serde::Serialize;

/// A joint with everything that is drawn of it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct JointView {
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether the step in hand belongs to it.
    pub in_hand: bool,
    /// The part it lies on.
    pub drawing: Drawing,
    /// Every fastener in its place.
    pub fasteners: Vec<FastenerMark>,
    /// The stages that are run.
    pub stages: Vec<StageView>,
    /// The orders that the group in hand could be walked in.
    pub orders: Vec<OrderView>,
}

/// An order that a group could be walked in.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OrderView {
    /// By which pattern.
    pub pattern: SequencePattern,
    /// Whether it is the plan's.
    pub used: bool,
    /// The fasteners in that order.
    pub fasteners: Vec<String>,
    /// How far the middle of what is tight strays from the middle of all while it runs, mm.
    pub stray_mm: f64,
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
    /// Whether it is one of those in hand; all of them where none is.
    pub in_hand: bool,
    /// Key of the adapter that it is reached with, where it needs one.
    pub adapter: Option<String>,
    /// How it stands.
    pub state: FastenerState,
    /// Its paint marks.
    pub strokes: Vec<Stroke>,
    /// Whether it is in and tight: it can be loosened.
    pub tight: bool,
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
    /// Its place in the joint's procedure.
    pub stage: usize,
    /// What it is called.
    pub name: String,
    /// Its group's name; empty for an action.
    pub group: String,
    /// What is wanted at the fastener; none where it is done by hand.
    pub target: Option<StageTarget>,
    /// How it is asked for; none where it is done by hand.
    pub asks: Option<ReadingPrompt>,
    /// How many are done.
    pub done: usize,
    /// Of how many.
    pub total: usize,
    /// Where it stands.
    pub state: StageState,
    /// The order it goes in; none for an action.
    pub pattern: Option<SequencePattern>,
    /// Whether a fastener may have it only once until it is loosened (C-11).
    pub once: bool,
}

/// A joint as it is drawn.
pub(super) fn joint_view(hand: &JointWork<'_>, next: Option<OpenStep>) -> JointView {
    let next = next.filter(|open| open.at() == hand.share.at());
    JointView {
        id: hand.joint.id.clone(),
        name: hand.joint.name.clone(),
        in_hand: next.is_some(),
        drawing: hand.state.plan.drawings[hand.joint.drawing].clone(),
        fasteners: marks(hand, next),
        stages: hand.stages().map(|stage| stage_view(hand, stage, next)).collect(),
        orders: orders(hand, next),
    }
}

/// The plan's order of the group in hand, and the others that would lead through it differently.
fn orders(hand: &JointWork<'_>, next: Option<OpenStep>) -> Vec<OrderView> {
    let group = next.and_then(|open| hand.joint.group_of(open.stage()?));
    let Some(group) = group.filter(|group| group.fasteners.len() > 2) else { return Vec::new() };
    let positions = &hand.joint.fasteners[group.fasteners.clone()];
    let view = |pattern, used, sequence: &[usize]| OrderView {
        pattern,
        used,
        stray_mm: stray(positions, sequence),
        fasteners: sequence.iter().map(|at| positions[*at].id.clone()).collect(),
    };
    let planned = view(group.pattern, true, &(0..positions.len()).collect::<Vec<_>>());
    let others = SequencePattern::ALL
        .iter()
        .map(|(_, pattern)| *pattern)
        .filter(|pattern| *pattern != group.pattern && *pattern != SequencePattern::Listed);
    let others = others.filter_map(|pattern| Some(view(pattern, false, &order(pattern, positions).ok()?)));
    let mut orders = vec![planned];
    for other in others {
        if orders.iter().all(|known| known.fasteners != other.fasteners) {
            orders.push(other);
        }
    }
    orders
}

fn marks(hand: &JointWork<'_>, next: Option<OpenStep>) -> Vec<FastenerMark> {
    let wrong: Vec<String> = issues(hand).into_iter().filter_map(|issue| issue.fastener).collect();
    let group_in_hand = next.and_then(OpenStep::stage).and_then(|stage| hand.joint[stage].group);
    let of_group = |(index, group): (usize, &FastenerGroup)| {
        let diameter_mm = hand.state.plan[group.spec].fastening.thread.nominal_mm();
        let in_hand = stage_in_hand(hand, GroupIx(index), next);
        let mark = |fastener: usize| {
            let at = FastenerIx(fastener);
            let position = &hand.joint[at];
            FastenerMark {
                id: position.id.clone(),
                group: group.id.clone(),
                number: fastener - group.fasteners.start + 1,
                x_mm: position.x_mm,
                y_mm: position.y_mm,
                diameter_mm,
                in_hand: match hand.task {
                    TightenTask::Tighten => group_in_hand.is_none_or(|group| group == GroupIx(index)),
                    TightenTask::Loosen => hand.tightened().any(|tightened| tightened == at),
                },
                adapter: hand.state.plan.adapter(hand.joint, at).map(|adapter| adapter.id.clone()),
                state: if wrong.contains(&position.id) {
                    FastenerState::Wrong
                } else if next.and_then(OpenStep::fastener) == Some(at) {
                    FastenerState::Next
                } else if done(hand, at, in_hand) {
                    FastenerState::Done
                } else {
                    FastenerState::Waiting
                },
                strokes: strokes(hand, at),
                tight: hand.round.is_tight(at, hand.state.ledger()),
            }
        };
        group.fasteners.clone().map(mark).collect::<Vec<_>>()
    };
    hand.joint.groups.iter().enumerate().flat_map(of_group).collect()
}

/// Whether a fastener has what is asked for in its stage, or is loose where the joint is taken apart.
fn done(hand: &JointWork<'_>, fastener: FastenerIx, stage: Option<StageIx>) -> bool {
    match (hand.task, stage) {
        (TightenTask::Loosen, _) => !hand.round.fastened(fastener).holds(),
        (TightenTask::Tighten, None) => true,
        (TightenTask::Tighten, Some(stage)) if hand.joint[stage].way.by_hand().is_some() => {
            hand.round.acted(stage)
        }
        (TightenTask::Tighten, Some(stage)) => hand.round.fastened(fastener).finished(stage),
    }
}

/// The stage by which the fasteners of a group are done or not: the one in hand where it is theirs,
/// else their next one; none when nothing of the joint is left.
fn stage_in_hand(hand: &JointWork<'_>, group: GroupIx, next: Option<OpenStep>) -> Option<StageIx> {
    let open = hand.stages().find(|stage| {
        hand.joint[*stage].group == Some(group)
            && hand.joint.group_of(*stage).is_some_and(|group| {
                group.fasteners.clone().any(|at| !done(hand, FastenerIx(at), Some(*stage)))
            })
    });
    let of_group = |stage: &StageIx| hand.joint[*stage].group == Some(group);
    next.and_then(OpenStep::stage).filter(of_group).or(open)
}

/// Paint marks of a fastener: each finished stage leaves a stroke where the mark then stands (C-14).
fn strokes(hand: &JointWork<'_>, fastener: FastenerIx) -> Vec<Stroke> {
    let mut turned = 0.0;
    let mut strokes = Vec::new();
    if hand.round.fastened(fastener).is_apart() {
        return strokes;
    }
    for stage in (0..hand.joint.stages.len()).map(StageIx) {
        let finished = hand.round.fastened(fastener).finished(stage);
        if hand.joint[stage].way.loosens() && finished {
            turned = 0.0;
            strokes.clear();
            continue;
        }
        turned += hand.joint[stage].way.turned_deg(hand.round.fastened(fastener).had(stage));
        if finished {
            strokes.push(Stroke { stage: stage.0, at_deg: turned % 360.0, clock: clock_position(turned) });
        }
    }
    strokes
}

fn stage_view(hand: &JointWork<'_>, at: StageIx, next: Option<OpenStep>) -> StageView {
    let stage = &hand.joint[at];
    let group = hand.joint.group_of(at);
    let rules = &stage.way;
    let finished = |fastener: &usize| hand.round.fastened(FastenerIx(*fastener)).finished(at);
    let (done, total) = match group.filter(|_| rules.by_hand().is_none()) {
        Some(group) => (group.fasteners.clone().filter(finished).count(), group.fasteners.len()),
        None => (usize::from(hand.round.acted(at)), 1),
    };
    StageView {
        stage: at.0,
        name: stage.name.clone(),
        group: group.map(|group| group.name.clone()).unwrap_or_default(),
        target: StageTarget::of(&stage.way, StageProgress::default(), &TargetSetup::default()),
        asks: rules.asks(StageProgress::default()),
        done,
        total,
        state: if next.and_then(OpenStep::stage) == Some(at) {
            StageState::Now
        } else if done == total {
            StageState::Done
        } else {
            StageState::Waiting
        },
        pattern: group.map(|group| group.pattern),
        once: rules.once(),
    }
}

//! One operation as the bench shows it: the map, the pull, why this number, what is next.

use super::event::{Method, Person};
use super::matter::Matter;
use super::measuring::{ClearanceView, Measured};
use super::state::State;
use super::step::Step;
use super::tightening::{Pull, TighteningState};
use super::view::OperationView;
use crate::plan::{Drawing, Forecast, Joint, Place, Plan, SiteForm, Stage, Work};
use crate::tightening::{Band, Pattern, Verdict, clock_position};
use serde::Serialize;
use time::OffsetDateTime;

/// Pulls that the bench shows at most.
const SHOWN_PULLS: usize = 120;

/// One operation in hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Bench {
    /// Sequence number of the last event.
    pub seq: u64,
    /// What the engine is called in the shop.
    pub build: String,
    /// The operation.
    pub operation: OperationView,
    /// The operation that can be done after this one.
    pub after: Option<String>,
    /// What is open in it.
    pub matters: Vec<Matter>,
    /// What is next.
    pub step: Step,
    /// What comes after that.
    pub then: Step,
    /// What the operation consists of.
    pub work: BenchWork,
}

/// What an operation consists of.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "work", rename_all = "kebab-case")]
pub enum BenchWork {
    /// Items to confirm.
    Items {
        /// The items in order.
        items: Vec<ItemView>,
    },
    /// A joint to tighten.
    Tighten(Box<TightenBench>),
    /// Sites to measure.
    Measure(Box<MeasureBench>),
    /// The crankshaft to turn.
    Turn {
        /// Every turn of the crankshaft so far, in this and earlier operations.
        turns: Vec<TurnView>,
    },
    /// The signature under the whole engine.
    Sign,
}

/// Sites to measure, and the clearances that rest on them.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasureBench {
    /// The sites in the order they are measured.
    pub sites: Vec<SiteView>,
    /// The clearances.
    pub clearances: Vec<ClearanceView>,
    /// The latest readings, the last one first.
    pub readings: Vec<MeasuredView>,
}

/// One site.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SiteView {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// What it looks like.
    pub form: SiteForm,
    /// Its places in order.
    pub places: Vec<PlaceView>,
}

/// One place of a site with the reading that counts.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlaceView {
    /// Where it is.
    #[serde(flatten)]
    pub place: Place,
    /// The reading, mm, brought to 20 °C where a temperature was given.
    pub value_mm: Option<f64>,
}

/// One recorded reading.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasuredView {
    /// The entry.
    pub seq: u64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// What the site is called.
    pub site: String,
    /// What the place is called.
    pub place: String,
    /// What was read, mm.
    pub read_mm: f64,
    /// The same at 20 °C, mm.
    pub value_mm: f64,
    /// Temperature of the part, °C, where it was given.
    pub temperature_c: Option<f64>,
    /// Whether it is outside the plausible range and was kept on purpose.
    pub unlikely: bool,
    /// How it came in.
    pub method: Method,
    /// With what.
    pub instrument: String,
    /// Whether another reading of the place counts now.
    pub superseded: bool,
    /// Why it does not count, if it does not.
    pub voided: Option<String>,
}

/// One turn of the crankshaft.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TurnView {
    /// The entry.
    pub seq: u64,
    /// What the operation is called.
    pub operation: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// Whether it turned freely.
    pub free: bool,
    /// Turning torque, N·m, where it was measured.
    pub torque_nm: Option<f64>,
}

/// One item to confirm.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ItemView {
    /// Key in the operation.
    pub id: String,
    /// What to do or look at.
    pub text: String,
    /// What right looks like.
    pub right: String,
    /// What wrong looks like.
    pub wrong: String,
    /// Who confirmed it.
    pub by: Option<Person>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub at: Option<OffsetDateTime>,
    /// The confirming entry, so that it can be voided.
    pub seq: Option<u64>,
}

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
    /// The bench for one operation.
    pub fn bench(&self, at: usize) -> Bench {
        let (step, then) = self.steps(at);
        let work = match &self.plan.operations[at].work {
            Work::Items { .. } => BenchWork::Items { items: self.items(at) },
            Work::Tighten { joint } => match self.plan.joint(joint) {
                Some(joint) => BenchWork::Tighten(Box::new(self.tighten_bench(at, joint, &step))),
                None => BenchWork::Sign,
            },
            Work::Measure { sites } => BenchWork::Measure(Box::new(self.measure_bench(at, sites))),
            Work::Turn { .. } => BenchWork::Turn { turns: self.turns() },
            Work::Sign => BenchWork::Sign,
        };
        let waiting = |other: &usize| *other != at && self.operations[*other].signed.is_none();
        let startable = |other: &usize| self.open_needs(*other).iter().all(|need| *need == at);
        let after = (0..self.operations.len()).find(|other| waiting(other) && startable(other));
        Bench {
            seq: self.seq,
            build: self.name.clone(),
            operation: self.operation_view(at),
            after: after.map(|other| self.plan.operations[other].id.clone()),
            matters: self.matters_of(at),
            step,
            then,
            work,
        }
    }

    /// The items of an operation with who confirmed them.
    pub fn items(&self, at: usize) -> Vec<ItemView> {
        let Work::Items { items } = &self.plan.operations[at].work else { return Vec::new() };
        let confirmed = &self.operations[at].confirmed;
        let view = |(index, item): (usize, &crate::plan::Item)| {
            let done = confirmed.iter().rev().find(|c| c.index == index && c.voided.is_none());
            ItemView {
                id: item.id.clone(),
                text: item.text.clone(),
                right: item.right.clone(),
                wrong: item.wrong.clone(),
                by: done.map(|c| (*c.stamp.by).clone()),
                at: done.map(|c| c.stamp.at),
                seq: done.map(|c| c.stamp.seq),
            }
        };
        items.iter().enumerate().map(view).collect()
    }

    fn measure_bench(&self, at: usize, sites: &[usize]) -> MeasureBench {
        let site = |&site: &usize| {
            let planned = &self.plan.sites[site];
            let places = planned.places.iter().enumerate().map(|(place, planned)| PlaceView {
                place: planned.clone(),
                value_mm: self.reading(site, place).map(|measured| measured.value_mm),
            });
            SiteView {
                id: planned.id.clone(),
                name: planned.name.clone(),
                form: planned.form,
                places: places.collect(),
            }
        };
        MeasureBench {
            sites: sites.iter().map(site).collect(),
            clearances: self.clearances(Some(sites)),
            readings: self.readings_of(at).into_iter().rev().take(SHOWN_PULLS).collect(),
        }
    }

    /// The readings of a measuring operation, in the order they came.
    pub fn readings_of(&self, at: usize) -> Vec<MeasuredView> {
        let of_it = self.measured.iter().enumerate().filter(|(_, measured)| measured.operation == at);
        let view = |(index, measured): (usize, &Measured)| {
            let site = &self.plan.sites[measured.site];
            MeasuredView {
                seq: measured.stamp.seq,
                at: measured.stamp.at,
                by: measured.stamp.by.name.clone(),
                site: site.name.clone(),
                place: site.places[measured.place].name.clone(),
                read_mm: measured.read_mm,
                value_mm: measured.value_mm,
                temperature_c: measured.temperature_c,
                unlikely: measured.unlikely,
                method: measured.method,
                instrument: measured.instrument.name.clone(),
                superseded: measured.voided.is_none()
                    && self.latest[measured.site][measured.place].is_some_and(|latest| latest != index),
                voided: measured.voided.as_ref().map(|voided| voided.reason.clone()),
            }
        };
        of_it.map(view).collect()
    }

    /// Every turn of the crankshaft that counts, in the order they came.
    pub fn turns(&self) -> Vec<TurnView> {
        let of = |(state, planned): (&super::OperationState, &crate::plan::Operation)| {
            let counted = state.turned.iter().filter(|turned| turned.voided.is_none());
            let view = |turned: &super::Turned| TurnView {
                seq: turned.stamp.seq,
                operation: planned.name.clone(),
                at: turned.stamp.at,
                by: turned.stamp.by.name.clone(),
                free: turned.free,
                torque_nm: turned.torque_nm,
            };
            counted.map(view).collect::<Vec<_>>()
        };
        let mut turns: Vec<TurnView> =
            self.operations.iter().zip(&self.plan.operations).flat_map(of).collect();
        turns.sort_by_key(|turn| turn.seq);
        turns
    }

    fn tighten_bench(&self, at: usize, joint: &Joint, step: &Step) -> TightenBench {
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
            pulls: self.latest_pulls(at, SHOWN_PULLS),
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

//! The simulated wrench at the bench: it pulls what is next and sends its reading through the
//! same command as any tool, marked as simulated.

use super::builds::{CommandAnswer, record};
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{BuildId, JsonBody, SignedIn};
use crate::live_streams::LiveReading;
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_assembly::{
    AdapterAndLubricant, BenchStep, BuildState as Build, Command, CommandAction, GivenReading, Instrument,
    PullCommand, PullStep, ReadingMethod,
};
use rigore_mechanics::message;
use rigore_mechanics::quantity::Dimension;
use rigore_plan::{FastenerSpec, StageIx};
use rigore_rig::{JointSpec, SimulatedBolt, SimulatedPull, SimulatedWrench, StretchedBolt, WrenchTarget};
use serde::Deserialize;
use std::time::Duration;
use utoipa::ToSchema;
use uuid::Uuid;

/// Pictures a second on the display of the wrench.
const FRAMES: usize = 24;
const FRAME: Duration = Duration::from_millis(32);
/// How much friction differs from bolt to bolt.
const SCATTER: f64 = 0.06;
/// How much the friction of one bolt differs from pull to pull.
const PULL_SCATTER: f64 = 0.015;
/// The error of the simulated gauge, mm, and the steps that it shows in one.
const GAUGE_MM: f64 = 0.001;
const DIGITS: f64 = 1000.0;
/// Resilience of a joint whose plan does not tell it, mm/N.
const USUAL_RESILIENCE: f64 = 6e-6;
/// Torque to run a bolt down, N·m.
const RUNNING_NM: f64 = 1.5;

/// A pull to simulate.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RigPull {
    /// Id of the command that records it.
    pub id: Uuid,
    /// The last entry the client had seen.
    pub seen: u64,
    /// The operation.
    pub operation: String,
    /// Key of the simulated instrument.
    pub instrument: String,
    /// Share of the target to pull to, 0.2 to 3; a slip of the hand is above 1.
    #[serde(default)]
    pub aim: Option<f64>,
}

/// What is to be pulled, taken from the state.
struct Task {
    step: PullStep,
    target: WrenchTarget,
    spec: JointSpec,
    before_nm: f64,
    seed: u64,
    /// What a torque at the fastener is on the wrench.
    factor: f64,
}

/// Pulls the next fastener with the simulated wrench.
#[utoipa::path(post, path = "/api/builds/{build}/rig/pull", params(("build" = Uuid, Path)), request_body = RigPull,
    responses((status = 200, body = CommandAnswer), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn pull(
    State(app): State<App>,
    BuildId(build): BuildId,
    SignedIn(by): SignedIn,
    JsonBody(wanted): JsonBody<RigPull>,
) -> Result<Json<CommandAnswer>, Problem> {
    let aim = wanted.aim.unwrap_or(1.0);
    if !(0.2..=3.0).contains(&aim) {
        return Err(Problem::field("aim", message!("server-share-target-from-0-2-3")));
    }
    let roster = app.roster_of(build).await;
    let instrument = roster.instrument(&wanted.instrument).filter(|instrument| instrument.simulated);
    let instrument = instrument.cloned().ok_or_else(|| {
        Problem::field(
            "instrument",
            message!("server-not-simulated-instrument", instrument = wanted.instrument),
        )
    })?;
    let stretch = app.store.read(build, |state| stretched(state, &wanted.operation)).await?;
    if let Some((step, reading)) = stretch.filter(|_| instrument.length_mm.is_some()) {
        return record(&app, build, &by, &command(wanted, &step, reading)).await.map(Json);
    }
    let task = app.store.read(build, |state| task(state, &wanted.operation, &instrument, aim)).await?;
    let task = task.ok_or_else(|| {
        Problem::field("operation", message!("server-nothing-left-here-simulated-wrench-could"))
    })?;
    let pulled = simulate(&task);
    show(&app, build, &wanted.operation, &task, &pulled).await;
    let command = command(wanted, &task.step, given(&task, &pulled));
    record(&app, build, &by, &command).await.map(Json)
}

/// What the wrench shows of a pull: less torque than there is at the fastener, beyond a crowfoot.
fn given(task: &Task, pulled: &SimulatedPull) -> GivenReading {
    let torque_nm = Some(pulled.torque_nm * task.factor);
    GivenReading { torque_nm, angle_deg: Some(pulled.angle_deg), ..GivenReading::default() }
}

fn command(wanted: RigPull, step: &PullStep, reading: GivenReading) -> Command {
    let what = CommandAction::Pull(PullCommand {
        operation: wanted.operation,
        joint: Some(step.joint.clone()),
        stage: step.stage,
        fastener: step.fastener.clone(),
        reading,
        method: ReadingMethod::Device,
        instrument: wanted.instrument,
        sure: false,
        note: None,
    });
    Command { id: wanted.id, seen: wanted.seen, action: what }
}

/// The reading a simulated wrench gives on the next step of an operation, for demo data; what no
/// instrument shows is told in the plainest way.
pub fn reading(state: &Build, operation: &str, wrench: &Instrument, aim: f64) -> Option<GivenReading> {
    let at = state.plan.operation(operation)?;
    let BenchStep::Pull(step) = state.step(at) else { return None };
    if let Some(plain) = step.asks.plain.first() {
        return Some(GivenReading { text: Some(plain.figure.to_string()), ..GivenReading::default() });
    }
    if let Some((_, reading)) = stretched(state, operation) {
        return Some(reading);
    }
    let task = task(state, operation, wrench, aim)?;
    Some(given(&task, &simulate(&task)))
}

/// What a gauge shows on the bolt that is next, where its stretch is to be read after a torque.
fn stretched(state: &Build, operation: &str) -> Option<(PullStep, GivenReading)> {
    let at = state.plan.operation(operation)?;
    let BenchStep::Pull(step) = state.step(at) else { return None };
    let on_nm = step.climb.as_ref().and_then(|climb| climb.on_nm)?;
    let joint = &state.plan[state.plan.joint(&step.joint)?];
    let used = state.fastener_used(at, joint, StageIx(step.stage))?;
    let pulls = step.climb.as_ref().map_or(0, |climb| climb.points.len());
    let seed = seed(state, &step);
    let own = SimulatedBolt::new(&spec(&used), seed).friction();
    let pull_seed = seed.wrapping_add(pulls as u64);
    let mut bolt = StretchedBolt::new(&used.fastening, own, PULL_SCATTER, GAUGE_MM, pull_seed)?;
    let stretch_mm = (bolt.pull(on_nm) * DIGITS).round() / DIGITS;
    Some((*step, GivenReading { stretch_mm: Some(stretch_mm), ..GivenReading::default() }))
}

/// What a bolt of an engine is drawn from, the same each time.
fn seed(state: &Build, step: &PullStep) -> u64 {
    let mut seed = 0xcbf2_9ce4_8422_2325_u64;
    for byte in state.begun.name.bytes().chain(step.joint.bytes()).chain(step.fastener.bytes()) {
        seed = (seed ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
    }
    seed
}

/// What is next, where a wrench shows it in figures.
fn task(state: &Build, operation: &str, wrench: &Instrument, aim: f64) -> Option<Task> {
    let at = state.plan.operation(operation)?;
    let BenchStep::Pull(step) = state.step(at) else { return None };
    let joint = &state.plan[state.plan.joint(&step.joint)?];
    let stage = StageIx(step.stage);
    let figure = step.target.shown * aim;
    let target = match (step.asks.dimension, step.target.dimension) {
        (Dimension::Torque, Dimension::Torque) => WrenchTarget::Torque(figure),
        (Dimension::Angle, Dimension::Angle) if figure > 0.0 => WrenchTarget::Angle(figure),
        _ => return None,
    };
    let spec = spec(&state.fastener_used(at, joint, stage)?);
    let of_group = joint.stages[..stage.0].iter().rev().filter(|earlier| earlier.group == joint[stage].group);
    let mut since = of_group.take_while(|earlier| !earlier.way.loosens());
    let snug = since.find(|earlier| earlier.way.dimension() == Some(Dimension::Torque));
    let seed = seed(state, &step);
    let before_nm = snug.and_then(|snug| snug.way.band()).map_or(0.0, |band| band.target);
    let adapter = joint.fastener(&step.fastener).and_then(|fastener| state.plan.adapter(joint, fastener));
    let factor = wrench.setup(AdapterAndLubricant { adapter, conversion: None }).factor().unwrap_or(1.0);
    Some(Task { target, spec, before_nm, seed, factor, step: *step })
}

fn spec(spec: &FastenerSpec) -> JointSpec {
    let fastening = &spec.fastening;
    JointSpec {
        thread: fastening.thread,
        bearing_diameter_mm: fastening.bearing_diameter_mm,
        friction: fastening.friction[1],
        resilience: fastening.resilience().map_or(USUAL_RESILIENCE, |(bolt, parts)| bolt + parts),
        friction_scatter: SCATTER,
        running_nm: RUNNING_NM,
    }
}

fn simulate(task: &Task) -> SimulatedPull {
    let mut bolt = SimulatedBolt::new(&task.spec, task.seed);
    if task.before_nm > 0.0 {
        bolt = bolt.at_torque(task.before_nm);
    }
    SimulatedWrench::new(task.seed.wrapping_add(task.step.stage as u64)).pull(&mut bolt, task.target)
}

/// Shows the pull on every screen while it goes on.
async fn show(app: &App, build: Uuid, operation: &str, task: &Task, pulled: &SimulatedPull) {
    let stride = (pulled.samples.len() / FRAMES).max(1);
    for sample in pulled.samples.iter().step_by(stride) {
        let read = match task.target {
            WrenchTarget::Angle(_) => sample.angle_deg,
            WrenchTarget::Torque(_) => sample.torque_nm,
        };
        // Nobody watching is no error.
        let _ = app.live.send(LiveReading {
            build,
            operation: operation.to_owned(),
            joint: task.step.joint.clone(),
            fastener: task.step.fastener.clone(),
            value: task.step.target.so_far + read,
            verdict: task.step.target.judge(read),
        });
        tokio::time::sleep(FRAME).await;
    }
}

//! The simulated wrench at the bench: it pulls what is next and sends its reading through the
//! same command as any tool, marked as simulated.

use super::builds::{Answer, record};
use super::live::Live;
use crate::extract::{Body, BuildId, By};
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use rigore_core::build::{Command, Do, Given, Method, State as Build, Step};
use rigore_core::plan::{Fastener, Plan};
use rigore_rig::{JointSpec, Pulled, SimulatedBolt, Target, Wrench};
use serde::Deserialize;
use std::time::Duration;
use utoipa::ToSchema;
use uuid::Uuid;

/// Pictures a second on the display of the wrench.
const FRAMES: usize = 24;
const FRAME: Duration = Duration::from_millis(32);
/// How much friction differs from bolt to bolt.
const SCATTER: f64 = 0.06;
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
    stage: usize,
    fastener: String,
    target: Target,
    spec: JointSpec,
    before_nm: f64,
    seed: u64,
}

/// Pulls the next fastener with the simulated wrench.
#[utoipa::path(post, path = "/api/builds/{build}/rig/pull", params(("build" = Uuid, Path)), request_body = RigPull,
    responses((status = 200, body = Answer), (status = 409, body = Problem), (status = 422, body = Problem)))]
pub async fn pull(
    State(app): State<App>,
    BuildId(build): BuildId,
    By(by): By,
    Body(wanted): Body<RigPull>,
) -> Result<Json<Answer>, Problem> {
    let aim = wanted.aim.unwrap_or(1.0);
    if !(0.2..=3.0).contains(&aim) {
        return Err(Problem::field("aim", "a share of the target from 0.2 to 3 is needed"));
    }
    let instrument = app.roster.instrument(&wanted.instrument).filter(|instrument| instrument.simulated);
    if instrument.is_none() {
        return Err(Problem::field(
            "instrument",
            format!("`{}` is not a simulated instrument", wanted.instrument),
        ));
    }
    let task = app.store.read(build, |state| task(state, &wanted.operation, aim)).await?;
    let task =
        task.ok_or_else(|| Problem::field("operation", "nothing is left to pull in this operation"))?;
    let pulled = simulate(&task);
    show(&app, build, &wanted.operation, &task, &pulled).await;
    let command = command(wanted, &task, &pulled);
    record(&app, build, &by, &command).await.map(Json)
}

fn command(wanted: RigPull, task: &Task, pulled: &Pulled) -> Command {
    let reading =
        Given { torque_nm: Some(pulled.torque_nm), angle_deg: Some(pulled.angle_deg), ..Given::default() };
    let what = Do::Pull {
        operation: wanted.operation,
        stage: task.stage,
        fastener: task.fastener.clone(),
        reading,
        method: Method::Device,
        instrument: wanted.instrument,
    };
    Command { id: wanted.id, seen: wanted.seen, what }
}

/// The reading a simulated wrench gives on the next step of an operation, for demo data.
pub fn reading(state: &Build, operation: &str, aim: f64) -> Option<(usize, String, Given)> {
    let task = task(state, operation, aim)?;
    let pulled = simulate(&task);
    let given =
        Given { torque_nm: Some(pulled.torque_nm), angle_deg: Some(pulled.angle_deg), ..Given::default() };
    Some((task.stage, task.fastener, given))
}

fn task(state: &Build, operation: &str, aim: f64) -> Option<Task> {
    let (at, joint) = state.plan.joint_of(operation)?;
    let Step::Pull { stage, fastener, angle, band, so_far, .. } = state.step(at) else { return None };
    let group = joint.group_of(joint.stages.get(stage)?)?;
    let planned = state.plan.fastener(&group.fastener)?;
    let before = joint.stages[..stage].iter().rev().find(|s| s.group() == Some(&group.id) && !s.is_angle());
    let mut seed = 0xcbf2_9ce4_8422_2325_u64;
    for byte in state.name.bytes().chain(fastener.bytes()) {
        seed = (seed ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3);
    }
    Some(Task {
        stage,
        target: if angle {
            Target::Angle((band.target - so_far) * aim)
        } else {
            Target::Torque(band.target * aim)
        },
        spec: spec(&state.plan, planned)?,
        before_nm: before.and_then(|s| s.band()).map_or(0.0, |band| band.target),
        seed,
        fastener,
    })
}

fn spec(plan: &Plan, fastener: &Fastener) -> Option<JointSpec> {
    let resilience = fastener.bolt_resilience.zip(fastener.part_resilience).map(|(bolt, parts)| bolt + parts);
    Some(JointSpec {
        thread: fastener.thread,
        bearing_diameter_mm: fastener.bearing_diameter_mm,
        friction: plan.friction(fastener)?[1],
        resilience: resilience.unwrap_or(USUAL_RESILIENCE),
        friction_scatter: SCATTER,
        running_nm: RUNNING_NM,
    })
}

fn simulate(task: &Task) -> Pulled {
    let mut bolt = SimulatedBolt::new(&task.spec, task.seed);
    if task.before_nm > 0.0 {
        bolt = bolt.at_torque(task.before_nm);
    }
    Wrench::new(task.seed.wrapping_add(task.stage as u64)).pull(&mut bolt, task.target)
}

/// Shows the pull on every screen while it goes on.
async fn show(app: &App, build: Uuid, operation: &str, task: &Task, pulled: &Pulled) {
    let stride = (pulled.samples.len() / FRAMES).max(1);
    for sample in pulled.samples.iter().step_by(stride) {
        // Nobody watching is no error.
        let _ = app.live.send(Live {
            build,
            operation: operation.to_owned(),
            fastener: task.fastener.clone(),
            torque_nm: sample.torque_nm,
            angle_deg: sample.angle_deg,
        });
        tokio::time::sleep(FRAME).await;
    }
}

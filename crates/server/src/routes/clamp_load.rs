//! What a torque, an angle and a stretch make of the same bolt (M-17).

use crate::answers::{FieldAnswer, NotFoundAnswer, ReadAnswers};
use crate::extract::QueryParams;
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_mechanics::friction::MeasuredFriction;
use rigore_mechanics::joint::{CurvePoint, FrictionKnowledge, LoadedBolt, MethodComparison, scatter};
use rigore_mechanics::{message, text};
use rigore_plan::{FastenerSpec, SpecIx};
use rigore_rig::clamp_loads;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

/// A wrench is right within so much of its reading where nothing else is said.
const ACCURACY: f64 = 0.04;
/// An angle by a dial or a phone, degrees.
const ANGLE_DEG: f64 = 3.0;
/// A stretch by a good gauge, mm.
const GAUGE_MM: f64 = 0.002;
/// Bolts that are drawn by chance for the picture, and steps they are counted in.
const DRAWN: u32 = 20_000;
const STEPS: u32 = 48;
const SEED: u64 = 17;

/// What is supposed to be known of the bolt and its instruments; the plan's lubricant and usual instruments where
/// nothing is said.
#[derive(Debug, Clone, Copy, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ClampLoadAssumptions {
    /// The usual coefficient of friction, 0.02 to 0.5.
    mu: Option<f64>,
    /// How much less and more it may be, as a share of that: 0 to 0.9.
    spread: Option<f64>,
    /// Whether friction is the one that the shop has measured.
    measured: Option<bool>,
    /// How far off the wrench may be, as a share: 0 to 0.5.
    accuracy: Option<f64>,
    /// How far off an angle may be, degrees: 0 to 45.
    angle_deg: Option<f64>,
    /// How far off a stretch may be, mm: 0 to 0.1.
    gauge_mm: Option<f64>,
}

/// The same bolt brought to one clamp load by three ways.
#[derive(Debug, Serialize, ToSchema)]
pub struct ClampLoad {
    /// The fastener: its name and thread.
    pub fastener: String,
    /// What it turns on by the plan.
    pub lubricant: String,
    /// The load that is wanted, kN.
    pub wanted_kn: f64,
    /// The load where it begins to yield, kN.
    pub yield_kn: f64,
    /// Friction that is supposed, least, usual and most, the same on thread and head.
    pub mu: [f64; 3],
    /// The same as nut factors.
    pub nut_factors: [f64; 3],
    /// Where that comes from, in words.
    pub source: String,
    /// How many bolts of it the shop has measured, where that is enough to go by.
    pub measured: Option<usize>,
    /// How far off the wrench may be, as a share.
    pub accuracy: f64,
    /// How far off an angle may be, degrees.
    pub angle_deg: f64,
    /// How far off a stretch may be, mm.
    pub gauge_mm: f64,
    /// By torque, by angle and by stretch, as far as the plan says enough of it.
    pub ways: Vec<MethodLoad>,
    /// Most over least load by method, from the standard.
    pub usual: Vec<UsualScatter>,
}

/// A bolt by one way.
#[derive(Debug, Serialize, ToSchema)]
pub struct MethodLoad {
    /// Which: `torque`, `angle` or `stretch`.
    pub way: &'static str,
    /// What the wrench or gauge is brought to, in N·m, degrees or mm.
    pub target: f64,
    /// The torque that the angle starts at, N·m.
    pub snug_nm: Option<f64>,
    /// The least, usual and most load there can be, kN.
    pub range_kn: [f64; 3],
    /// The loads that 95 of 100 bolts lie between, kN.
    pub within_kn: [f64; 2],
    /// The share of bolts that are past yield.
    pub past_yield: f64,
    /// How often each load is reached.
    pub curve: Vec<CurvePoint>,
    /// The same drawn by chance.
    pub drawn: Vec<CurvePoint>,
}

/// How much clamp load scatters by a method (VDI 2230-1, table A8).
#[derive(Debug, Serialize, ToSchema)]
pub struct UsualScatter {
    /// The method.
    pub method: String,
    /// The most load over the least, in a good case.
    pub low: f64,
    /// The same in a poor one.
    pub high: f64,
}

/// A fastener of a plan in the path.
#[derive(Debug, Deserialize)]
pub struct PlanFastenerPath {
    plan: String,
    fastener: String,
}

/// A fastener of a plan by torque, by angle and by stretch: what its clamp load comes to, from bolt to bolt.
#[utoipa::path(get, path = "/api/plans/{plan}/clamp-load/{fastener}",
    params(("plan" = String, Path), ("fastener" = String, Path), ClampLoadAssumptions),
    responses((status = 200, body = ClampLoad), NotFoundAnswer, FieldAnswer, ReadAnswers))]
pub async fn clamp_load(
    State(app): State<App>,
    Path(of): Path<PlanFastenerPath>,
    QueryParams(supposed): QueryParams<ClampLoadAssumptions>,
) -> Result<Json<ClampLoad>, Problem> {
    let plan = app.store.plan(&of.plan).await?;
    let spec = plan.specs.iter().position(|spec| spec.id == of.fastener).map(SpecIx);
    let spec = spec
        .ok_or_else(|| Problem::not_there(message!("server-fastener-this-plan", fastener = of.fastener)))?;
    let nothing = || Problem::not_there(message!("server-stage-gives-clamp-load", fastener = of.fastener));
    let (wanted_kn, snug_nm) = plan.wanted_load(spec).ok_or_else(nothing)?;
    let spec = &plan[spec];
    let measured = app.store.frictions().await?.into_iter().map(|kind| kind.measured);
    let measured = measured.filter(|of| {
        of.is_enough()
            && of.fastener == spec.title()
            && of.thread == spec.lubrication.thread.id
            && of.bearing == spec.lubrication.bearing.id
    });
    let measured = measured.into_iter().next();
    let (known, source) = suppose(spec, measured.as_ref(), &supposed)?;
    let fastening = &spec.fastening;
    let ways = fastening.three_ways(wanted_kn, snug_nm, &known);
    let yield_kn = fastening.at_yield().typical_kn;
    Ok(Json(ClampLoad {
        fastener: spec.title(),
        lubricant: spec.lubrication.words(),
        wanted_kn,
        yield_kn,
        mu: known.nut_factors.map(|k| fastening.friction_of(k)),
        nut_factors: known.nut_factors,
        source,
        measured: measured.map(|of| of.all.count),
        accuracy: known.accuracy,
        angle_deg: known.angle_deg,
        gauge_mm: known.gauge_mm,
        ways: loads(&ways, snug_nm, yield_kn),
        usual: scatter()
            .into_iter()
            .map(|(method, low, high)| UsualScatter { method: method.in_base_units(), low, high })
            .collect(),
    }))
}

fn suppose(
    spec: &FastenerSpec,
    measured: Option<&MeasuredFriction>,
    supposed: &ClampLoadAssumptions,
) -> Result<(FrictionKnowledge, String), Problem> {
    let within = |field: &'static str, value: Option<f64>, usual: f64, least: f64, most: f64| match value {
        None => Ok(usual),
        Some(value) if (least..=most).contains(&value) => Ok(value),
        Some(_) => Err(Problem::field(
            field,
            message!("server-figure-from-needed", least = least.to_string(), most = most.to_string()),
        )),
    };
    let fastening = &spec.fastening;
    let (nut_factors, source) = match (supposed.measured, measured, supposed.mu) {
        (Some(true), Some(of), _) => {
            (of.all.range(), text!("server-measured-on-bolts", count = of.all.count))
        }
        (Some(true), None, _) => {
            return Err(Problem::field("measured", message!("server-this-shop-has-too-few-stretches")));
        }
        (_, _, None) if supposed.spread.is_none() => {
            let source = &spec.lubrication.thread.source;
            (fastening.nut_factors(), format!("{}: {source}", spec.lubrication.words()))
        }
        _ => {
            let usual = fastening.friction_of(fastening.nut_factors()[1]);
            let mu = within("mu", supposed.mu, usual, 0.02, 0.5)?;
            let spread = within("spread", supposed.spread, 0.2, 0.0, 0.9)?;
            let factors = [1.0 - spread, 1.0, 1.0 + spread].map(|part| fastening.nut_factor_of(mu * part));
            (factors, "as assumed here".to_owned())
        }
    };
    let known = FrictionKnowledge {
        nut_factors,
        accuracy: within("accuracy", supposed.accuracy, ACCURACY, 0.0, 0.5)?,
        angle_deg: within("angle_deg", supposed.angle_deg, ANGLE_DEG, 0.0, 45.0)?,
        gauge_mm: within("gauge_mm", supposed.gauge_mm, GAUGE_MM, 0.0, 0.1)?,
    };
    Ok((known, source))
}

fn loads(ways: &MethodComparison, snug_nm: f64, yield_kn: f64) -> Vec<MethodLoad> {
    let levers = &ways.levers;
    let load = |way: &'static str, target: f64, load: &LoadedBolt| {
        let [drawn] = clamp_loads(levers, &[*load], DRAWN, STEPS, SEED);
        let point = |(at, count): (u32, &u32)| CurvePoint {
            kn: drawn.low_kn + drawn.step_kn * (f64::from(at) + 0.5),
            density: f64::from(*count) / f64::from(DRAWN) / drawn.step_kn,
        };
        MethodLoad {
            way,
            target,
            snug_nm: (way == "angle").then_some(snug_nm),
            range_kn: load.range(levers),
            within_kn: [0.025, 0.975].map(|share| load.quantile(levers, share)),
            past_yield: 1.0 - load.share_below(levers, yield_kn),
            curve: load.curve(levers),
            drawn: (0..).zip(&drawn.counts).map(point).collect(),
        }
    };
    let torque = Some(load("torque", ways.torque.torque_nm, &ways.torque));
    let angle = ways.angle.zip(ways.angle_deg).map(|(of, deg)| load("angle", deg, &of));
    let stretch = ways.stretch.zip(ways.stretch_mm).map(|(of, mm)| load("stretch", mm, &of));
    [torque, angle, stretch].into_iter().flatten().collect()
}

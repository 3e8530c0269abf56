//! The climb to a stretch, as the bench draws it (M-8).

use super::tighten_work::JointWork;
use rigore_mechanics::joint::{NutFactor, TorqueStretchPair};
use rigore_mechanics::text;
use rigore_mechanics::tightening::{Band, StretchSteps, TorqueBound};
use rigore_plan::way::EvidenceKind;
use rigore_plan::way::HIGH_FRICTION;
use rigore_plan::{FastenerIx, Joint, Plan, StageIx};
use serde::Serialize;

/// The least that an error leaves of a nut factor, as a share of it.
const LEAST_LEFT: f64 = 0.2;

/// Torque against stretch of the bolt in hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StretchStepsView {
    /// Torques with their stretches, oldest first.
    pub points: Vec<TorqueStretchView>,
    /// The stretch that is wanted, mm.
    pub window: Band,
    /// The torque that is on and whose stretch is to be read, N·m.
    pub on_nm: Option<f64>,
    /// The torque that comes next, N·m.
    pub next_nm: f64,
    /// What it comes from.
    pub bound: TorqueBound,
    /// The torque at the most utilisation that the plan allows, N·m.
    pub limit_nm: f64,
    /// The torque that the plan never passes, N·m, where it gives one.
    pub most_nm: Option<f64>,
    /// That utilisation; 1 is yield.
    pub utilisation: f64,
    /// The torque at which the bolt yields, N·m, where its shape is known.
    pub yield_nm: Option<f64>,
    /// Stretch for each N·m, mm: the least, the likely and the most, by what the bolt has shown, else by the
    /// friction of its lubricant.
    pub slope: [f64; 3],
    /// K, once the bolt has shown it.
    pub nut_factor: Option<f64>,
    /// Its standard error, from two pulls on.
    pub error: Option<f64>,
    /// What there is to be said of it.
    pub says: Option<String>,
    /// Its free length before it went in, mm, where its set's lengths are measured.
    pub free_mm: Option<f64>,
    /// Whether its set's lengths are to be measured and its own was not (C-23).
    pub free_missing: bool,
}

/// A torque with the stretch that was read after it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TorqueStretchView {
    /// N·m.
    pub torque_nm: f64,
    /// mm.
    pub stretch_mm: f64,
}

/// Whether a lead can let a fastener of this stage be pulled on to its yield: it is climbed to its stretch, and its shape
/// is known, without which nobody knows where it yields.
pub(super) fn can_go_further(plan: &Plan, joint: &Joint, stage: StageIx) -> bool {
    let spec = plan.spec(joint, stage);
    joint[stage].way.reopens() && spec.is_some_and(|spec| spec.fastening.own_resilience().is_some())
}

/// The climb that a stage belongs to, of one fastener.
pub(super) fn climb(hand: &JointWork<'_>, stage: StageIx, fastener: FastenerIx) -> Option<StretchStepsView> {
    let used = hand.used_fastener(stage)?;
    let fastened = hand.round.fastened(fastener);
    let rules = &hand.joint[stage].way;
    let climb = StretchSteps {
        qualified: fastened.qualified(),
        ..rules.climb(&used.spec.fastening)?.within(fastened.allowed())
    };
    let on_nm = fastened.torque_nm().filter(|_| rules.shows() == Some(EvidenceKind::Stretch));
    let view = StretchStepsView::of(&climb, fastened.pairs(), on_nm, &used.spec.lubrication.words())?;
    let (measured, free_mm) = hand.state.free_length(hand.share.joint, fastener);
    Some(StretchStepsView { free_mm, free_missing: measured && free_mm.is_none(), ..view })
}

impl StretchStepsView {
    /// How a climb stands after what a bolt has shown; `None` where neither its resilience nor a torque that is never
    /// passed is known.
    pub fn of(
        climb: &StretchSteps<'_>,
        pairs: &[TorqueStretchPair],
        on_nm: Option<f64>,
        lubricant: &str,
    ) -> Option<Self> {
        let next = climb.next(pairs)?.shown();
        let of_friction = |k: f64| climb.stretch_mm(1.0, NutFactor { k, error: None });
        let [least, usual, most] = match next.friction {
            Some(NutFactor { k, error }) => {
                let error = error.unwrap_or(0.0);
                // Pairs that contradict each other leave some friction all the same.
                [(k - error).max(k * LEAST_LEFT), k, k + error]
            }
            None => climb.fastening.nut_factors(),
        };
        let shown = next.friction.unwrap_or(NutFactor { k: usual, error: None });
        let slope = match [of_friction(most), of_friction(usual), of_friction(least)] {
            [Some(most), Some(usual), Some(least)] => [most, usual, least],
            // Of a bolt whose shape is not known only what it has shown is drawn, else the way to its limit.
            _ => [StretchSteps::shown_slope(pairs).unwrap_or(climb.band.target / next.limit_nm); 3],
        };
        let point = |&TorqueStretchPair { torque_nm, stretch_mm }: &TorqueStretchPair| TorqueStretchView {
            torque_nm,
            stretch_mm,
        };
        Some(Self {
            points: pairs.iter().map(point).collect(),
            window: climb.band,
            on_nm,
            next_nm: next.torque_nm,
            bound: next.bound,
            limit_nm: next.limit_nm,
            most_nm: climb.most_nm,
            utilisation: climb.utilisation,
            yield_nm: climb.fastening.own_resilience().map(|_| climb.torque_at(1.0, shown)),
            slope,
            nut_factor: next.friction.map(|friction| friction.k),
            error: next.friction.and_then(|friction| friction.error),
            says: next.friction.and_then(|friction| {
                let of_friction = says(climb.against_usual(friction), lubricant);
                of_friction.or_else(|| {
                    (next.bound == TorqueBound::Utilisation)
                        .then(|| text!("tighten-yield-limit-plan-comes-before-target"))
                })
            }),
            free_mm: None,
            free_missing: false,
        })
    }
}

/// That friction is not what it should be (M-8).
fn says(times: f64, lubricant: &str) -> Option<String> {
    if times > HIGH_FRICTION {
        return Some(text!(
            "tighten-friction-times-typical-for-loosen-lubricate",
            times = format!("{times:.1}"),
            lubricant
        ));
    }
    (times < 1.0 / HIGH_FRICTION).then(|| {
        text!("tighten-friction-times-typical-for-lubricant", times = format!("{times:.1}"), lubricant)
    })
}

//! The bolted joint: torque, angle and clamp load turned into each other (VDI 2230-1).
//!
//! Everything here is a pure formula over typed quantities. What a plan asks for, and whether a
//! pull was right, is decided elsewhere.

mod clamp_load;
mod forecast;
mod measured;
mod preload;
mod resilience;
mod rod_bolt_load;
mod scatter;
mod settling;
mod stretch;
mod surface_pressure;
mod thermal;
mod utilisation;
mod working_load;
mod yielding;

pub use clamp_load::{CurvePoint, FrictionKnowledge, FrictionLevers, LoadedBolt, MethodComparison, scatter};
pub use forecast::{Fastening, Forecast};
pub use measured::measured_lubrication;
pub use preload::{BearingFace, TorqueRelation, TorqueShares};
pub use resilience::{
    BoltEnd, BoltHead, BoltResilience, BoltSegment, COMPUTED_UNCERTAINTY, ClampedSleeve, JointKind,
    PartLayer, Resilience, SegmentSection, bolt_resilience, end_resilience, part_resilience,
    preload_from_angle, read_resilience,
};
pub use rod_bolt_load::RodAssembly;
pub use scatter::preload_range;
pub use settling::{Roughness, embedding_loss_kn};
pub use stretch::{NutFactor, TorqueStretchPair, preload_from_stretch, stretch_from_preload};
pub use surface_pressure::{spread_by_washer_mm, surface_pressure_mpa};
pub use thermal::{WarmLayer, thermal_change_kn};
pub use utilisation::{WeakestSection, assembly_preload, utilisation};
pub use working_load::{USUAL_LOAD_INTRODUCTION, WorkingLoad, alternating_limit_mpa};
pub use yielding::yield_point;

//! The bolted joint: torque, angle and clamp load turned into each other (VDI 2230-1).
//!
//! Everything here is a pure formula over typed quantities. What a plan asks for, and whether a
//! pull was right, is decided elsewhere.

mod clamp_load;
mod forecast;
mod measured;
mod preload;
mod resilience;
mod scatter;
mod stretch;
mod utilisation;
mod yielding;

pub use clamp_load::{CurvePoint, Knowledge, Levers, Load, SCATTER, ThreeWays};
pub use forecast::{Fastening, Forecast};
pub use measured::measured_lubrication;
pub use preload::{Bearing, Shares, Tightening};
pub use resilience::{
    BoltEnd, BoltHead, PartKind, Parts, Section, Segment, bolt_resilience, part_resilience,
    preload_from_angle,
};
pub use scatter::preload_range;
pub use stretch::{NutFactor, Pair, preload_from_stretch, stretch_from_preload};
pub use utilisation::{Neck, assembly_preload, utilisation};
pub use yielding::yield_point;

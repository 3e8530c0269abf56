//! Geometry of an engine: crank, rod and piston, the chamber and its compression, valves and cam timing.
//!
//! Lengths in mm, volumes in cm³, angles in degrees.

mod chamber;
mod valve_train;

pub use chamber::{Chamber, Compression, compression, nearest_valve_approach, quench};
pub use valve_train::{CamTiming, ValveEvents, ValveGeometry, lash_shim_mm, piston_below_top_mm};

//! Clearances: differences of measurements, with their form errors, uncertainty and verdict.
//!
//! All lengths are in mm at 20 °C. Which sites an engine has and which window a builder chose is
//! in the plan and the build; here is only what follows from figures.

mod bearing;
mod ring;
mod shells;
mod verdict;

pub use bearing::{
    BoreSize, DiameterReading, FormDeviation, OilClearance, end_float, oil_clearance, strip_clearance,
};
pub use ring::{Clocking, clocking, end_gap, to_file};
pub use shells::{ShellChoice, ShellGrade, choose_shells};
pub use verdict::{
    Decision, DecisionRule, GaugeAccuracy, Window, decide, expanded_uncertainty, propagated, repeatability,
    repeats, to_reference_temperature,
};

//! Tightening by hand: the order of fasteners, what a tool shows, steps to a torque, tolerance bands. Which ways there
//! are to tighten a fastener, and which engine has which joints, is a plan's.

pub mod adapter;
mod band;
mod climb;
mod reading;
mod readout;
mod sequence;
mod siblings;
pub mod steps;

pub use band::{Band, Verdict};
pub use climb::{NextTorque, QualifiedTorque, StretchSteps, TorqueBound};
pub use reading::ToolReading;
pub use readout::{
    AngleReading, CastellatedAdvance, CountDirection, castellated_advance, clock_position, turned,
};
pub use sequence::{FastenerPosition, SequenceError, SequencePattern, order, stray};
pub use siblings::{Outlier, outliers};

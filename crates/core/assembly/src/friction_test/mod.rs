//! A friction test: a bolt in the vice, pulled to torques whose stretch is read, on one lubricant after another, without
//! any engine (C-64). What it shows of friction stands beside what the bolts of engines have shown, with a mark of its
//! own.
//!
//! Friction has two marks. What bolts of engines have shown is read off the record; what a bolt in the vice has
//! shown is a test of its own, kept as it was recorded and voided with a reason (`friction_test`,
//! `friction_tests`). Targets go by the first alone.

mod entry;
mod read;
mod result;
#[cfg(test)]
mod tests;

pub use entry::{FrictionReadingEntry, FrictionRunEntry, FrictionTestEntry, FrictionTestError};
pub use result::{
    FrictionReading, FrictionReadingView, FrictionResult, FrictionRun, FrictionRunView, FrictionTest,
};

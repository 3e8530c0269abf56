//! Handlers, one file for each thing a client deals with.

pub mod builds;
pub mod calc;
pub mod live;
pub mod lubricants;
pub mod parts;
pub mod plans;
pub mod rig;
pub mod shop;

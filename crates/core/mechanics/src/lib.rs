//! The mechanics of a fastened joint and of an engine's fits, as computation.
//!
//! This crate knows quantities and their units, threads and strength, friction, clamp load, stretch, the order of
//! fasteners, tolerance bands and clearances. It knows no plan and no engine being built, and reads no file. Formulas
//! are those of docs/mechanics.md (`M-n`); quantities are typed where a length could be taken for a torque.

#![cfg_attr(test, allow(clippy::float_cmp, reason = "a figure that was typed is kept to the last digit"))]

pub mod clearance;
pub mod fastener;
pub mod friction;
pub mod geometry;
pub mod joint;
pub mod message;
pub mod quantity;
pub mod tightening;

//! The job of a performance engine builder, as computation.
//!
//! This crate knows threads, friction, clamp load, stages, sequences, engine plans and the record
//! of an engine being built. It does no I/O and asks nobody for the time, an identity or a random
//! number: those come in as arguments. Nothing here knows a database, HTTP or a screen.
//!
//! Read it from the bottom up: [`quantity`], [`message`], [`fastener`], [`friction`], [`joint`], [`tightening`]
//! and [`clearance`] are mechanics; [`document`] reads TOML and [`table`] what machines write; [`plan`] is what should be done;
//! [`engine`] is what was done; [`friction_test`] what a bolt in the vice shows; [`day`] what that leaves to do and when; [`sheet`] is how it reads on paper; [`calc`] offers the mechanics by
//! name. No file imports one above it.

#![cfg_attr(test, allow(clippy::float_cmp, reason = "a figure that was typed is kept to the last digit"))]

pub mod calc;
pub mod clearance;
pub mod day;
pub mod document;
pub mod engine;
pub mod fastener;
pub mod friction;
pub mod friction_test;
mod iso_date;
pub mod joint;
pub mod message;
pub mod plan;
pub mod quantity;
pub mod sheet;
pub mod table;
pub mod tightening;

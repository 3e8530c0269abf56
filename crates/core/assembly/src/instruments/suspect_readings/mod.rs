//! Readings of an instrument that was found wrong: an issue on every operation that rests on one, until it is read again
//! with another instrument, or a lead approves it.

pub mod commands;
pub mod issues;
pub mod state;

//! Tightening by hand: the order of fasteners, the ways to tighten one, what is asked for and how
//! what was read is judged. Which engine has which joints does not live here.

pub mod adapter;
mod band;
mod climb;
mod reading;
mod readout;
mod sequence;
mod siblings;
pub mod steps;
mod target;
pub mod way;

pub use band::{Band, Verdict};
pub use climb::{Advice, Bound, Climb, Qualified};
pub use reading::Reading;
pub use readout::{AngleReading, CastellatedAdvance, Counting, castellated_advance, clock_position, turned};
pub use sequence::{Pattern, Position, SequenceError, order, stray};
pub use siblings::{Odd, odd_ones};
pub use target::{Conversion, Correction, Setup, Target};
pub use way::{Ability, Asks, Expected, Had, Shown, Shows, Way};

//! Tightening by hand: the order of fasteners, what an angle looks like, and judging a pull.

mod angle;
mod judge;
mod sequence;

pub use angle::{AngleReading, CastellatedAdvance, Counting, castellated_advance, clock_position};
pub use judge::{Band, Verdict};
pub use sequence::{Pattern, Position, SequenceError, order, stray};

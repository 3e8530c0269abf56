//! A way of tightening, in parts: each says something else of it, and has an answer of its own for what a way does not
//! say.

mod evidence;
mod had;
mod handling;
mod judgement;
mod reading;
mod walk;

pub use evidence::{Shown, Shows, WayEvidence};
pub use had::{Expected, Had};
pub use handling::{Ability, Asks, Plain, WayHandling};
pub use judgement::WayJudgement;
pub(crate) use reading::MOST_LIKELY;
pub use reading::WayReading;
pub use walk::WayWalk;

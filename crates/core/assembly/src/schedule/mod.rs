//! The day (C-50): how much work is left on each engine, when that can be done, which promise holds, and in which
//! order most of them do.
//!
//! It knows hours and days of the shop as its clock shows them; time zones are whoever's calls it.

mod calendar;
mod hands;
mod promises;
mod remaining;
mod scheduling;

pub use calendar::WorkingHours;
pub use hands::Crew;
pub use remaining::{ENOUGH, RemainingWork, UsualDuration, remaining};
pub use scheduling::{ScheduledEngine, ShopClock, schedule};

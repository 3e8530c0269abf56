//! Keeping builds in PostgreSQL: events with a hash chain, plans by content, lists beside them.
//!
//! The one way in is [`Store::record`]: it brings the state up to date, lets the core decide,
//! and appends the events together with the list row in one statement that names the sequence
//! number it expects. Rules of the job do not live here, nor does anything about HTTP.

mod chain;
pub mod cluster;
mod error;
mod plans;
mod record;
mod roster;
mod signal;
mod upkeep;

pub use chain::{Hash, link, root};
pub use error::StoreError;
pub use plans::{PlanRow, plan_hash};
pub use record::{BuildRow, Recorded, Store};
pub use roster::Roster;
pub use signal::Signal;
pub use upkeep::Broken;

//! The state of an engine: the fold of its events. Entries are kept by what they are about, with what was voided;
//! series know which entry counts; the data of each kind of work is in its folder, and [`BuildState`] composes all of it.

mod approving;
mod build;
pub mod entry_topic;
mod fold;
mod invalidating;
pub mod ledger;
pub mod plan_versions;
pub mod series;
mod signing;

pub use build::{BuildState, StateChange};
pub use plan_versions::FoldError;

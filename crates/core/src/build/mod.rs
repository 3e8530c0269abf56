//! The engine being built: what happened to it, as events, and what follows from them.
//!
//! A build is a list of [`Event`]s. [`State`] is the fold of them, [`decide`] turns a
//! [`Command`] into the facts it records or a [`Refusal`], and the views say what a screen shows.
//! Facts are never refused (only decisions are) and never edited: a wrong one is voided. Nothing
//! here stores or sends anything.

mod apply;
mod bench;
mod decide;
mod event;
mod matter;
mod measuring;
mod state;
mod step;
mod tightening;
mod view;

pub use bench::{
    Bench, BenchWork, FastenerMark, FastenerState, ItemView, MeasureBench, MeasuredView, PlaceView, PullView,
    SiteView, StageState, StageView, Stroke, TightenBench, TurnView, Why,
};
pub use decide::{Command, Context, Do, Given, Refusal, RefusalKind, decide};
pub use event::{EVENT_FORMAT, Event, Fact, Instrument, Method, Person, PlanRef, Reading, Role};
pub use matter::{Matter, Remedy};
pub use measuring::{ClearanceView, Measured, SecondMethod, Shells};
pub use state::{Confirmation, OperationState, Stamp, State, Turned, Voided};
pub use step::Step;
pub use tightening::{Loosening, Pull, Remark, Standing, TighteningState};
pub use view::{BuildStatus, BuildView, OperationStatus, OperationView, Summary};

#[cfg(test)]
mod measuring_tests;
#[cfg(test)]
mod tests;

//! The engine being built: what happened to it, as events, and what follows from them.
//!
//! A build is a list of [`Event`]s. [`State`] is the fold of them, [`decide`] turns a
//! [`Command`] into the facts it records or a [`Refusal`], and the views say what a screen shows.
//! Facts are never refused (only decisions are) and never edited: a wrong one is voided. Nothing
//! here stores or sends anything.

mod apply;
mod bench;
mod command;
mod counting;
mod decide;
mod event;
mod instrument;
mod items;
mod matter;
mod measuring;
mod parts;
mod state;
mod step;
mod tightening;
mod turning;
mod view;

pub use bench::{Bench, BenchWork};
pub use command::{Command, Context, Do, Given, Refusal, RefusalKind};
pub use counting::{CountView, Counted};
pub use decide::decide;
pub use event::{
    Condition, EVENT_FORMAT, Event, Fact, Instrument, Method, PartNote, Person, PlanRef, Reading, Role,
};
pub use instrument::ToolFit;
pub use items::ItemView;
pub use matter::{Matter, Remedy};
pub use measuring::{
    ChosenShells, ClearanceLine, ClearanceView, FamilyTools, Mark, MeasureBench, Measured, MeasuredView,
    PlaceView, Position, SecondMethod, Shells, SiteView,
};
pub use parts::{FittedPart, SlotView};
pub use state::{Confirmation, OperationState, Stamp, State, Voided};
pub use step::Step;
pub use tightening::{
    FastenerMark, FastenerState, Loosening, Pull, PullView, Remark, StageState, StageView, Standing, Stroke,
    TightenBench, TighteningState, Why,
};
pub use turning::{TurnView, Turned};
pub use view::{BuildStatus, BuildView, OperationStatus, OperationView, Summary};

#[cfg(test)]
mod tests;

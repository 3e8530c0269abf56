//! The engine being built: what happened to it, as events, and what follows from them.
//!
//! A build is a list of [`Event`]s. [`State`] is the fold of them, [`decide`] turns a command into
//! the facts it records or a [`Refusal`], and the views say what a screen shows. Facts are never
//! refused (only decisions are) and never edited: a wrong one is voided. Nothing here stores or
//! sends anything.
//!
//! From the ground up: `events` is what is written; `state` folds it into the data of each kind of work
//! (`work/*/state`); `work/*`, `findings`, `temporary_items`, `blockers`, `instruments` and `signatures` answer for
//! their own; `commands`, `status`, `projections` and `views` choose among them; [`sheet`] and [`schedule`] are made
//! of those.

#![cfg_attr(test, allow(clippy::float_cmp, reason = "a figure that was typed is kept to the last digit"))]

mod blockers;
mod commands;
mod events;
mod findings;
pub mod friction_test;
mod instruments;
mod invalidation;
mod iso_date;
mod projections;
pub mod schedule;
pub mod sheet;
mod signatures;
mod state;
mod status;
pub mod table;
mod temporary_items;
mod views;
mod work;

pub use blockers::view::{PromiseView, WaitView};
pub use commands::context::{Context, may_record};
pub use commands::dispatch::decide;
pub use commands::lifecycle::begin;
pub use events::*;
pub use findings::view::{FindingStanding, FindingStep, FindingView};
pub use instruments::checks::{CheckReading, Checked};
pub use instruments::fit::{Between, ClickFit, Nature, ToolFit, Tools, Using};
pub use instruments::register::Due;
pub use instruments::requirements::{Standing, ToolNeed, may, needs, stand_in_the_way};
pub use projections::durations::Took;
pub use projections::friction::{BoltShown, PlaceShown};
pub use projections::list_row::{BuildStatus, Kept, Summary};
pub use projections::outlook::{CanDo, LeftToDo, Outlook, WaitCause, WaitsFor};
pub use projections::part_history::{History, Lived, PartVerdict, PieceHistory};
pub use projections::part_life::{Life, LifeRemark, PieceLived};
pub use signatures::acceptance::StoodFor;
pub use state::{Changed, FoldError, State};
pub use status::issue::{Matter, Remedy};
pub use status::missing_values::WantedFigure;
pub use status::operations::{AtIt, LapsedSignature, MemberView, OperationStatus, OperationView};
pub use status::plan_move::{Moving, Preview, VersionView};
pub use status::timers::{Clock, Cure};
pub use temporary_items::view::AidView;
pub use views::bench::{Bench, ConcernView, OperationName};
pub use views::engine::BuildView;
pub use views::line_of_work::{Left, Rail, RouteRow};
pub use views::timeline::{Story, StoryLine};
pub use work::count::bench::{CountStep, CountView};
pub use work::items::bench::{ConfirmStep, ItemView};
pub use work::kind::{BenchWork, SectionWork, Step};
pub use work::measure::bench::{FamilyTools, MeasureBench, MeasureStep, PlaceView, ShellsStep, SiteView};
pub use work::measure::clearances::{
    ClearanceLine, ClearanceView, Mark as SeriesMark, Position, SecondMethod,
};
pub use work::measure::imported::{Column, LeftRow, TableReading, TableView};
pub use work::measure::sheet::{MeasureSection, MeasuredView};
pub use work::measure::state::Shells;
pub use work::parts::bench::{FitStep, SlotView};
pub use work::tighten::bench::{ActStep, AdapterTools, LoosenStep, PullStep, TightenBench, Why};
pub use work::tighten::climb::{ClimbView, PairView};
pub use work::tighten::lubricate::{FilmSaid, FilmView};
pub use work::tighten::map::{
    FastenerMark, FastenerState, JointView, OrderView, StageState, StageView, Stroke,
};
pub use work::tighten::pulls::PullView;
pub use work::tighten::sheet::{JointSection, SheetRow, SheetStage};
pub use work::turn::bench::{TurnBench, TurnView};

#[cfg(test)]
mod tests;

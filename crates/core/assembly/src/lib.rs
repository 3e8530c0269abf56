//! The engine being built: what happened to it, as events, and what follows from them.
//!
//! A build is a list of [`Event`]s. [`BuildState`] is the fold of them, [`decide`] turns a command into
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

pub use blockers::view::{BlockerView, PromiseView};
pub use commands::context::{CommandContext, may_record};
pub use commands::dispatch::decide;
pub use commands::lifecycle::begin;
pub use events::*;
pub use findings::view::{FindingStanding, FindingStep, FindingView};
pub use instruments::checks::{CheckReading, CheckResult};
pub use instruments::fit::{
    AdapterAndLubricant, ClickFit, InstrumentNature, InstrumentUser, ShopTools, ToolFit,
};
pub use instruments::register::CalibrationDue;
pub use instruments::requirements::{ToolAvailability, ToolNeed, can_use, tool_needs, unavailable_tools};
pub use projections::durations::OperationDuration;
pub use projections::friction::{BoltFriction, PlaceFriction};
pub use projections::list_row::{BuildProjection, BuildStatus, BuildSummary};
pub use projections::outlook::{BlockedBy, BlockedWork, BuildOutlook, ReadyOperation, RemainingOperation};
pub use projections::part_history::{PartHistory, PartUse, PartVerdict, PieceHistory};
pub use projections::part_life::{PartLife, PartRemarkView, PieceLifeUpdate};
pub use signatures::acceptance::ApprovalView;
pub use state::{BuildState, FoldError, StateChange};
pub use status::issue::{Issue, Remedy};
pub use status::missing_values::MissingSpec;
pub use status::operations::{ActiveWorker, LapsedSignature, MemberView, OperationStatus, OperationView};
pub use status::plan_move::{PlanMove, PlanMovePreview, VersionView};
pub use status::timers::{SealantCure, SealantTimer};
pub use temporary_items::view::TemporaryItemView;
pub use views::bench::{FindingSubjectView, OperationBench, OperationName};
pub use views::engine::BuildView;
pub use views::line_of_work::{RemainingCounts, SequenceRow};
pub use views::timeline::{FastenerTimeline, TimelineEntry};
pub use work::count::bench::{CountStep, CountView};
pub use work::items::bench::{ConfirmStep, ItemView};
pub use work::kind::{BenchStep, BenchWork, SheetWork};
pub use work::measure::bench::{FamilyTools, MeasureBench, MeasureStep, PlaceView, ShellsStep, SiteView};
pub use work::measure::clearances::{
    ClearanceLine, ClearancePosition, ClearanceView, SecondMethod, SeriesPoint as SeriesMark,
};
pub use work::measure::imported::{SkippedRow, TableColumn, TableReading, TableView};
pub use work::measure::sheet::{MeasureSection, MeasuredView};
pub use work::measure::state::ShellSelection;
pub use work::parts::bench::{FitStep, SizeView, SlotView};
pub use work::tighten::bench::{ActStep, AdapterTools, LoosenStep, PullStep, TargetReasons, TightenBench};
pub use work::tighten::climb::{StretchStepsView, TorqueStretchView};
pub use work::tighten::lubricate::{LubricantStatementView, LubricantView};
pub use work::tighten::map::{
    FastenerMark, FastenerState, JointView, OrderView, StageState, StageView, Stroke,
};
pub use work::tighten::pulls::PullView;
pub use work::tighten::sheet::{JointSection, SheetRow, SheetStage};
pub use work::turn::bench::{TurnBench, TurnView};

#[cfg(test)]
mod tests;

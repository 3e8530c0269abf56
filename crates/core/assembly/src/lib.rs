//! The engine being built: what happened to it, as events, and what follows from them.
//!
//! A build is a list of [`Event`]s. [`State`] is the fold of them, [`decide`] turns a command into
//! the facts it records or a [`Refusal`], and the views say what a screen shows. Facts are never
//! refused (only decisions are) and never edited: a wrong one is voided. Nothing here stores or
//! sends anything.
//!
//! From the ground up: [`record`] is what is written; `thing`, `ledger` and `series` keep it by what
//! it is about; `work/*/state` is the data of each kind of work, and `state` folds events into all of
//! them; `work/*` answer for their kind; `decide`, `bench`, `view` and `row` choose among them.

#![cfg_attr(test, allow(clippy::float_cmp, reason = "a figure that was typed is kept to the last digit"))]

mod accepting;
mod again;
mod asking;
mod basis;
mod bench;
mod checking;
mod clock;
mod cover;
pub mod day;
mod decide;
mod doubts;
mod finding;
mod friction;
pub mod friction_test;
mod history;
mod inside;
mod iso_date;
mod kind;
mod kinds;
mod ledger;
mod line;
mod lived;
mod matter;
mod moving;
mod needing;
mod outlook;
mod record;
mod register;
mod route;
mod row;
mod series;
pub mod sheet;
mod signing;
mod standing;
mod state;
mod story;
pub mod table;
mod thing;
mod times;
mod tools;
mod unsettle;
mod versions;
mod view;
mod waits;
mod wanted;
mod work;

pub use accepting::StoodFor;
pub use asking::{Context, may_record};
pub use bench::{Bench, ConcernView, OperationName};
pub use checking::{CheckReading, Checked};
pub use clock::{Clock, Cure};
pub use decide::decide;
pub use finding::view::{FindingStanding, FindingStep, FindingView};
pub use friction::{BoltShown, PlaceShown};
pub use history::{History, Lived, PartVerdict, PieceHistory};
pub use inside::view::AidView;
pub use kind::{BenchWork, SectionWork, Step};
pub use line::begin;
pub use lived::{Life, LifeRemark, PieceLived};
pub use matter::{Matter, Remedy};
pub use moving::{Moving, Preview, VersionView};
pub use needing::{Standing, ToolNeed, may, needs, stand_in_the_way};
pub use outlook::{CanDo, LeftToDo, Outlook, WaitCause, WaitsFor};
pub use record::*;
pub use register::Due;
pub use route::{Left, Rail, RouteRow};
pub use row::{BuildStatus, Kept, Summary};
pub use standing::{AtIt, LapsedSignature, MemberView, OperationStatus, OperationView};
pub use state::{Changed, FoldError, State};
pub use story::{Story, StoryLine};
pub use times::Took;
pub use tools::{Between, ClickFit, Nature, ToolFit, Tools, Using};
pub use view::BuildView;
pub use waits::view::{PromiseView, WaitView};
pub use wanted::WantedFigure;
pub use work::count::bench::{CountStep, CountView};
pub use work::items::bench::{ConfirmStep, ItemView};
pub use work::measure::bench::{FamilyTools, MeasureBench, MeasureStep, PlaceView, ShellsStep, SiteView};
pub use work::measure::clearances::{
    ClearanceLine, ClearanceView, Mark as SeriesMark, Position, SecondMethod,
};
pub use work::measure::imported::{Column, LeftRow, TableReading, TableView};
pub use work::measure::section::{MeasureSection, MeasuredView};
pub use work::measure::state::Shells;
pub use work::parts::bench::{FitStep, SlotView};
pub use work::tighten::bench::{ActStep, AdapterTools, LoosenStep, PullStep, TightenBench, Why};
pub use work::tighten::climb::{ClimbView, PairView};
pub use work::tighten::lubricate::{FilmSaid, FilmView};
pub use work::tighten::map::{
    FastenerMark, FastenerState, JointView, OrderView, StageState, StageView, Stroke,
};
pub use work::tighten::pulls::PullView;
pub use work::tighten::section::{JointSection, SheetRow, SheetStage};
pub use work::turn::bench::{TurnBench, TurnView};

#[cfg(test)]
mod tests;

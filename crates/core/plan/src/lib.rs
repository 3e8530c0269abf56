//! The engine plan: what should be done to one kind of engine, and the calculations by name.
//!
//! A plan is a TOML document (docs/plan-format.md). [`Plan::read`] makes a plan of a text, or says
//! why it is none; [`Plan::judge`] checks it besides, when it is added. A check that is added later
//! therefore never makes an old build unreadable. What was done to an engine does not live here but
//! in `rigore-assembly`.

#![cfg_attr(test, allow(clippy::float_cmp, reason = "a figure that was typed is kept to the last digit"))]

pub mod calc;
mod check;
mod differences;
mod document;
pub mod edit;
mod fastener_row;
pub mod format;
mod free_key;
mod index;
mod joint_sheet;
pub mod library;
mod missing_figure;
mod missing_specs;
mod page;
mod parallel_work;
mod parts;
pub mod procedure;
pub mod procedure_preview;
mod read;
mod rework;
mod running_loads;
pub mod shape;
mod sites;
mod target;
pub mod toml_reader;
pub mod way;

pub use differences::{Difference, differences, same_stage};
pub use document::{
    ChecklistItem, Drawing, DrawingShape, EarlierWays, EngineStand, FastenerGroup, FastenerSpec, Hole, Joint,
    JointShare, ManualPage, Operation, OperationKind, OperationWork, Plan, RemovedStage, Repeat,
    RepeatMember, RoundPurpose, Stage, StageWalk, StudEnd, TemporaryItemSpec, TightenSpec, TightenTask,
};
pub use index::{
    ClearanceIx, FamilyIx, FastenerIx, GroupIx, JointIx, OperationIx, SiteIx, SlotIx, SpecIx, StageIx,
};
pub use joint_sheet::{GroupSheet, MarginVerdict, SheetLine, SheetPart};
pub use missing_figure::MissingFigure;
pub use missing_specs::only_looked_up;
pub use page::{DraftReading, PlanPage};
pub use parallel_work::RouteRow;
pub use parts::{Hardware, HardwareCounting, ItemSketch, PartSize, PartSlot, RingGap, TurningCheck};
pub use rework::{ReworkCause, ReworkTrigger};
pub use running_loads::{ClampedParts, FaceSettling, RodRunning, RunningLoads, Temperatures};
pub use sites::{
    ChamberSpec, Clearance, ClearanceRule, MeasuringPlace, PlannedValve, Site, SiteFamily, SiteForm,
    SizeSource, UseWindow,
};
pub use target::{Correction, LubricantConversion, StageTarget, TargetSetup};
pub use toml_reader::{Fault, Severity};
pub use way::{
    EvidenceKind, ExpectedReading, FrictionEvidence, InstrumentAbility, ReadingPrompt, StageProgress, Way,
};

impl Plan {
    /// Makes a plan of a text.
    ///
    /// ```
    /// use rigore_plan::Plan;
    ///
    /// let text = r#"
    /// format = 1
    /// id = "small"
    /// name = "Small"
    ///
    /// [[operation]]
    /// id = "look"
    /// name = "Look"
    /// kind = "check"
    /// item = [{ id = "clean", text = "All is clean", right = "Bare metal", wrong = "Oil" }]
    /// "#;
    /// let plan = Plan::read("small.toml", text).expect("a plan");
    /// assert_eq!(plan.name, "Small");
    /// let faults = Plan::read("small.toml", "format = 1\n").unwrap_err();
    /// assert!(faults[0].line > 0);
    /// ```
    ///
    /// # Errors
    /// Why it is none, by line.
    pub fn read(file: &str, source: &str) -> Result<Self, Vec<Fault>> {
        let (plan, report) = read::plan(file, source);
        if report.has_errors() { Err(report.into_faults()) } else { Ok(plan) }
    }

    /// Makes a plan of a text and checks it, with the warnings it gives rise to.
    ///
    /// # Errors
    /// Every fault, warnings included, in the order of its lines.
    pub fn judge(file: &str, source: &str) -> Result<(Self, Vec<Fault>), Vec<Fault>> {
        let (plan, report) = read::plan(file, source);
        check::plan(&plan, &report);
        if report.has_errors() { Err(report.into_faults()) } else { Ok((plan, report.into_faults())) }
    }
}

#[cfg(test)]
mod tests;

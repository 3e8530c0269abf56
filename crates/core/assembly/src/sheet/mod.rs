//! The build sheet: the record of one engine as it is read by a customer and defended in a
//! dispute (C-34), drawn from the state; and the same as CSV.
//!
//! JSON is [`BuildSheet`] serialised. Nothing is computed here that the state does not know.

mod csv;

pub use csv::{FrictionRow, entries_csv, friction_csv};

use crate::{
    ApprovalView, BuildState, BuildStatus, ClearanceView, FindingView, Issue, LapsedSignature,
    OperationStatus, Person, PlanRef, SealantTimer, SheetWork, TemporaryItemView, VersionView,
};
use rigore_mechanics::clearance::Decision;
use rigore_plan::Drawing;
use serde::Serialize;
use time::OffsetDateTime;

/// A build sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BuildSheet {
    /// What the engine is called in the shop.
    pub name: String,
    /// The plan it was built to, with the hash of its text.
    pub plan: PlanRef,
    /// The versions of the plan that it went by, the one it was begun by first.
    pub versions: Vec<VersionView>,
    /// What the engine is for, where it was said.
    pub use_for: Option<String>,
    /// The rule by which its measured values are judged, with its edition.
    pub decision_rule: String,
    /// Whose engine it is, where it was said.
    pub owner: Option<String>,
    /// What the engine itself says it is, where it was said.
    pub identity: Option<String>,
    /// Where the build stands.
    pub status: BuildStatus,
    /// Entries in the record.
    pub entries: u64,
    /// When the record begins.
    #[serde(with = "time::serde::rfc3339")]
    pub begun_at: OffsetDateTime,
    /// When something was last recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub touched: OffsetDateTime,
    /// Everybody who recorded something.
    pub people: Vec<Person>,
    /// Operations in the order of the plan.
    pub sections: Vec<SheetSection>,
    /// The drawings that joints lie on.
    pub drawings: Vec<Drawing>,
    /// What was found, the last one first.
    pub findings: Vec<FindingView>,
    /// What went in for the work, and when it came out.
    pub aids: Vec<TemporaryItemView>,
    /// Working times that run.
    pub clocks: Vec<SealantTimer>,
    /// What is open.
    pub issues: Vec<Issue>,
    /// What is not as the plan has it and a lead approved.
    pub stood_for: Vec<ApprovalView>,
}

/// One operation on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SheetSection {
    /// Key of the operation.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Where it stands.
    pub status: OperationStatus,
    /// Who signed it.
    pub signed_by: Option<Person>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub signed_at: Option<OffsetDateTime>,
    /// Why it was left out, where it was.
    pub skipped: Option<String>,
    /// Other operations that the same signature covers, by name.
    pub signed_with: Vec<String>,
    /// Signatures that do not cover the work any more.
    pub lapsed: Vec<LapsedSignature>,
    /// Whether anything in it is not as the plan has it, or had to be done twice.
    pub deviates: bool,
    /// What the repeat is called that it belongs to.
    pub repeat: Option<String>,
    /// What was done.
    #[serde(flatten)]
    pub work: SheetWork,
}

impl BuildSheet {
    /// The sheet of a build.
    pub fn of(state: &BuildState) -> Self {
        let view = state.view();
        let sections = state.plan.line().zip(view.operations).map(|(at, operation)| SheetSection {
            id: operation.id,
            name: operation.name,
            status: operation.status,
            signed_by: operation.signed_by,
            signed_at: operation.signed_at,
            skipped: operation.skipped,
            signed_with: operation.signed_with,
            repeat: operation.member.map(|member| member.name),
            lapsed: state.lapsed_signatures(at),
            deviates: false,
            work: state.section(at),
        });
        let findings = state.finding_views();
        let deviates = |section: &SheetSection| {
            !section.lapsed.is_empty()
                || section.skipped.is_some()
                || view.issues.iter().any(|issue| issue.operation == section.id)
                || findings.iter().any(|finding| finding.operation == section.id)
                || work_deviates(&section.work)
        };
        let sections =
            sections.map(|section| SheetSection { deviates: deviates(&section), ..section }).collect();
        Self {
            name: view.name,
            plan: view.plan,
            versions: view.versions,
            use_for: view.use_for,
            decision_rule: view.decision_rule.name(),
            owner: view.owner,
            identity: view.identity,
            status: view.status,
            entries: state.seq,
            begun_at: view.begun_at,
            touched: state.touched,
            people: state.people(),
            sections,
            drawings: state.plan.drawings.clone(),
            findings,
            aids: state.aids(),
            clocks: state.clocks(),
            issues: view.issues,
            stood_for: state.approval_views(),
        }
    }
}

/// Whether anything that was done is not as the plan has it, or was taken back.
fn work_deviates(work: &SheetWork) -> bool {
    match work {
        SheetWork::Tighten { joints } => joints.iter().any(|joint| joint.deviates),
        SheetWork::Measure(measured) => {
            let outside = |view: &ClearanceView| view.decision.is_some_and(|of| of != Decision::Inside);
            measured.clearances.iter().any(outside)
                || measured.readings.iter().any(|reading| reading.fault.is_some() || reading.voided.is_some())
        }
        SheetWork::Count { counts } => counts.iter().any(|count| count.difference.is_some()),
        SheetWork::Turn { turns } => turns.iter().any(|turn| !turn.free) || turns.len() > 1,
        SheetWork::Items { .. } | SheetWork::Parts { .. } | SheetWork::Sign => false,
    }
}

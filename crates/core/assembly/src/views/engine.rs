//! A build as the engine page shows it.

use crate::blockers::view::{BlockerView, PromiseView};
use crate::events::{LubricantPolicy, Person, PlanRef};
use crate::findings::view::FindingView;
use crate::projections::list_row::{BuildStatus, current};
use crate::state::BuildState;
use crate::status::issue::Issue;
use crate::status::missing_values::MissingSpec;
use crate::status::operations::OperationView;
use crate::status::plan_move::VersionView;
use crate::status::timers::{SealantCure, SealantTimer};
use crate::temporary_items::view::TemporaryItemView;
use crate::views::line_of_work::{RemainingCounts, SequenceRow};
use crate::work::measure::clearances::ClearanceLine;
use crate::work::parts::bench::SlotView;
use rigore_mechanics::clearance::DecisionRule;
use serde::Serialize;
use time::OffsetDateTime;

/// One build from its first operation to its last.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BuildView {
    /// Sequence number of the last event.
    pub seq: u64,
    /// What the engine is called in the shop.
    pub name: String,
    /// The plan it is built to.
    pub plan: PlanRef,
    /// The versions of the plan that it went by, the one it was begun by first.
    pub versions: Vec<VersionView>,
    /// What is waited for outside of the bench, and what was.
    pub waits: Vec<BlockerView>,
    /// The day it was promised for.
    pub promised: Option<PromiseView>,
    /// Figures of the plan that nobody has looked up yet.
    pub wanted: Vec<MissingSpec>,
    /// Where it stands.
    pub status: BuildStatus,
    /// What the engine is for, where it was said.
    pub use_for: Option<String>,
    /// Whose engine it is, where it was said.
    pub owner: Option<String>,
    /// What the engine itself says it is, where it was said.
    pub identity: Option<String>,
    /// What is done with torques where another lubricant is used than they were given for.
    pub lubricants: LubricantPolicy,
    /// The rule by which its measured values are judged.
    pub decision_rule: DecisionRule,
    /// Who began it.
    pub begun_by: Person,
    /// When it was begun.
    #[serde(with = "time::serde::rfc3339")]
    pub begun_at: OffsetDateTime,
    /// Key of the operation in hand, or of the first that can be started.
    pub current: Option<String>,
    /// The line of work.
    pub operations: Vec<OperationView>,
    /// The same as it is drawn, repeats folded.
    pub route: Vec<SequenceRow>,
    /// How much of it is left.
    pub left: RemainingCounts,
    /// Everything open.
    pub issues: Vec<Issue>,
    /// Working times that run.
    pub clocks: Vec<SealantTimer>,
    /// Sealant that was laid and has to cure, until its time is over.
    pub cures: Vec<SealantCure>,
    /// What was found, the last one first.
    pub findings: Vec<FindingView>,
    /// What went in for the work, what is in still first.
    pub aids: Vec<TemporaryItemView>,
    /// Its parts by slot.
    pub parts: Vec<SlotView>,
    /// How its clearances stand.
    pub clearances: Vec<ClearanceLine>,
}

impl BuildState {
    /// The whole build for the engine page.
    pub fn view(&self) -> BuildView {
        let (briefs, issues) = self.briefs();
        let statuses = self.statuses(&briefs);
        let operations: Vec<_> = self.plan.line().map(|at| self.operation_view(at, &briefs)).collect();
        BuildView {
            seq: self.seq,
            name: self.begun.name.clone(),
            plan: self.plan_ref.clone(),
            versions: self.versions(),
            waits: self.waits_and_past(),
            promised: self.promised(),
            wanted: self.missing_specs(),
            status: self.build_status(&statuses),
            use_for: self.begun.use_for.clone(),
            owner: self.begun.owner.clone(),
            identity: self.begun.identity.clone(),
            lubricants: self.policy,
            decision_rule: self.decision_rule,
            begun_by: (*self.begun_by.by).clone(),
            begun_at: self.begun_by.at,
            current: current(&statuses).map(|at| self.plan[at].id.clone()),
            route: self.line_of_work(&operations),
            left: Self::left(&operations),
            operations,
            issues,
            clocks: self.clocks(),
            cures: self.cures_running(),
            findings: self.finding_views(),
            aids: self.aids(),
            parts: self.slots(None),
            clearances: self.clearance_lines(),
        }
    }
}

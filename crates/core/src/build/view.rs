//! A build as the shop and the engine page show it.

use super::event::{Person, PlanRef};
use super::matter::Matter;
use super::measuring::ClearanceLine;
use super::parts::SlotView;
use super::state::State;
use crate::plan::Kind;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// Where a build stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BuildStatus {
    /// Nothing is done yet.
    TakenIn,
    /// Work is going on.
    InWork,
    /// Something is open that has to be mended or accepted.
    Held,
    /// Signed off.
    Finished,
}

/// A build in one row of the shop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Summary {
    /// What the engine is called in the shop.
    pub name: String,
    /// The name of its plan.
    pub plan: String,
    /// Where it stands.
    pub status: BuildStatus,
    /// The operation in hand, or the first that can be started.
    pub operation: Option<String>,
    /// Its name.
    pub operation_name: Option<String>,
    /// What can be done now, in one line.
    pub now: String,
    /// Operations signed.
    pub signed: usize,
    /// Operations in all.
    pub operations: usize,
    /// Open matters.
    pub matters: usize,
    /// When something was last recorded.
    #[serde(with = "time::serde::rfc3339::option")]
    pub touched: Option<OffsetDateTime>,
}

/// Where an operation stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum OperationStatus {
    /// Its requirements are open.
    Waiting,
    /// It can be started.
    Ready,
    /// It is being worked on.
    InWork,
    /// Something in it has to be mended or accepted.
    Held,
    /// All is done but the signature.
    ToSign,
    /// It is signed.
    Done,
}

/// One operation in the line of work.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OperationView {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// The word for it.
    pub kind: Kind,
    /// Where it stands.
    pub status: OperationStatus,
    /// Names of the operations it waits for.
    pub waits_for: Vec<String>,
    /// Steps done.
    pub done: usize,
    /// Steps in all.
    pub total: usize,
    /// What is next in it, in one line.
    pub next: String,
    /// Open matters in it.
    pub matters: usize,
    /// Cautions to show where the work is.
    pub cautions: Vec<String>,
    /// Who signed it.
    pub signed_by: Option<Person>,
    /// When it was signed.
    #[serde(with = "time::serde::rfc3339::option")]
    pub signed_at: Option<OffsetDateTime>,
    /// The signing entry, so that it can be voided.
    pub signed_seq: Option<u64>,
    /// Why it was left out, where it was.
    pub skipped: Option<String>,
}

/// One build from its first operation to its last.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BuildView {
    /// Sequence number of the last event.
    pub seq: u64,
    /// What the engine is called in the shop.
    pub name: String,
    /// The plan it is built to.
    pub plan: Option<PlanRef>,
    /// Where it stands.
    pub status: BuildStatus,
    /// What the engine is for, where it was said.
    pub use_for: Option<String>,
    /// Whose engine it is, where it was said.
    pub owner: Option<String>,
    /// What the engine itself says it is, where it was said.
    pub identity: Option<String>,
    /// Who began it.
    pub begun_by: Option<Person>,
    /// When it was begun.
    #[serde(with = "time::serde::rfc3339::option")]
    pub begun_at: Option<OffsetDateTime>,
    /// The line of work.
    pub operations: Vec<OperationView>,
    /// Everything open.
    pub matters: Vec<Matter>,
    /// Its parts by slot.
    pub parts: Vec<SlotView>,
    /// How its clearances stand.
    pub clearances: Vec<ClearanceLine>,
}

impl State {
    /// One operation in the line of work.
    pub fn operation_view(&self, at: usize) -> OperationView {
        self.operation_with(at, self.matters_of(at).len())
    }

    fn status(&self, at: usize, (done, total): (usize, usize), matters: usize) -> OperationStatus {
        let state = &self.operations[at];
        if matters > 0 {
            OperationStatus::Held
        } else if state.signed.is_some() {
            OperationStatus::Done
        } else if !self.open_needs(at).is_empty() {
            OperationStatus::Waiting
        } else if total > 0 && done == total {
            OperationStatus::ToSign
        } else if state.started.is_some() {
            OperationStatus::InWork
        } else {
            OperationStatus::Ready
        }
    }

    fn operation_with(&self, at: usize, matters: usize) -> OperationView {
        let planned = &self.plan.operations[at];
        let state = &self.operations[at];
        let (done, total) = self.progress(at);
        let waits_for = self.open_needs(at).into_iter().map(|need| self.plan.operations[need].name.clone());
        OperationView {
            id: planned.id.clone(),
            name: planned.name.clone(),
            kind: planned.kind,
            status: self.status(at, (done, total), matters),
            waits_for: waits_for.collect(),
            done,
            total,
            next: self.step(at).line(),
            matters,
            cautions: planned.cautions.clone(),
            signed_by: state.signed.as_ref().map(|stamp| (*stamp.by).clone()),
            signed_at: state.signed.as_ref().map(|stamp| stamp.at),
            signed_seq: state.signed.as_ref().map(|stamp| stamp.seq),
            skipped: state.skipped.as_ref().map(|skipped| skipped.reason.clone()),
        }
    }

    fn build_status(&self, operations: &[OperationView]) -> BuildStatus {
        let all = |status| operations.iter().all(|operation| operation.status == status);
        if operations.iter().any(|operation| operation.status == OperationStatus::Held) {
            BuildStatus::Held
        } else if all(OperationStatus::Done) {
            BuildStatus::Finished
        } else if self.operations.iter().all(|state| state.started.is_none()) {
            BuildStatus::TakenIn
        } else {
            BuildStatus::InWork
        }
    }

    /// The line of work with everything open in it.
    fn line(&self) -> (Vec<OperationView>, Vec<Matter>) {
        let of = |at| {
            let matters = self.matters_of(at);
            (self.operation_with(at, matters.len()), matters)
        };
        let (operations, matters): (Vec<_>, Vec<_>) = (0..self.operations.len()).map(of).unzip();
        (operations, matters.into_iter().flatten().collect())
    }

    /// The whole build for the engine page.
    pub fn view(&self) -> BuildView {
        let (operations, matters) = self.line();
        BuildView {
            seq: self.seq,
            name: self.name.clone(),
            plan: self.plan_ref.clone(),
            status: self.build_status(&operations),
            use_for: self.use_for.clone(),
            owner: self.owner.clone(),
            identity: self.identity.clone(),
            begun_by: self.begun.as_ref().map(|stamp| (*stamp.by).clone()),
            begun_at: self.begun.as_ref().map(|stamp| stamp.at),
            operations,
            matters,
            parts: self.slots(None),
            clearances: self.clearance_lines(),
        }
    }

    /// The build in one row.
    pub fn summary(&self) -> Summary {
        use OperationStatus::{Done, Held, InWork, Ready, ToSign};
        let (operations, matters) = self.line();
        let first = |status| operations.iter().find(|operation| operation.status == status);
        let current = [Held, InWork, ToSign, Ready].into_iter().find_map(first);
        let now = match (current, matters.first()) {
            (_, Some(matter)) => matter.now.clone(),
            (Some(operation), None) if operation.status == ToSign => format!("Sign {}", operation.name),
            (Some(operation), None) if operation.total > 0 => operation.next.clone(),
            (Some(operation), None) => operation.name.clone(),
            (None, None) => "Finished".to_owned(),
        };
        Summary {
            name: self.name.clone(),
            plan: self.plan.name.clone(),
            status: self.build_status(&operations),
            operation: current.map(|operation| operation.id.clone()),
            operation_name: current.map(|operation| operation.name.clone()),
            now,
            signed: operations.iter().filter(|operation| operation.status == Done).count(),
            operations: operations.len(),
            matters: matters.len(),
            touched: self.touched,
        }
    }
}

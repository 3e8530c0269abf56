//! The build sheet: the record of one engine as it is read by a customer and defended in a
//! dispute (C-34), drawn from the state; and the same as CSV.
//!
//! JSON is [`Sheet`] serialised. Nothing is computed here that the state does not know.

mod csv;

pub use csv::{FrictionRow, friction_csv};

use crate::engine::{
    BuildStatus, LapsedSignature, Matter, OperationStatus, Person, PlanRef, SectionWork, State,
};
use serde::Serialize;
use time::OffsetDateTime;

/// A build sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Sheet {
    /// What the engine is called in the shop.
    pub name: String,
    /// The plan it was built to, with the hash of its text.
    pub plan: PlanRef,
    /// What the engine is for, where it was said.
    pub use_for: Option<String>,
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
    pub sections: Vec<Section>,
    /// What is open.
    pub matters: Vec<Matter>,
}

/// One operation on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Section {
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
    /// Signatures that do not cover the work any more.
    pub lapsed: Vec<LapsedSignature>,
    /// What was done.
    #[serde(flatten)]
    pub work: SectionWork,
}

impl Sheet {
    /// The sheet of a build.
    pub fn of(state: &State) -> Self {
        let view = state.view();
        let sections = state.plan.line().zip(view.operations).map(|(at, operation)| Section {
            id: operation.id,
            name: operation.name,
            status: operation.status,
            signed_by: operation.signed_by,
            signed_at: operation.signed_at,
            skipped: operation.skipped,
            lapsed: state.lapsed(at),
            work: state.section(at),
        });
        Self {
            name: view.name,
            plan: view.plan,
            use_for: view.use_for,
            owner: view.owner,
            identity: view.identity,
            status: view.status,
            entries: state.seq,
            begun_at: view.begun_at,
            touched: state.touched,
            people: state.people(),
            sections: sections.collect(),
            matters: view.matters,
        }
    }
}

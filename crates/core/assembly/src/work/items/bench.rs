//! Items, as the bench and the sheet show them.

use crate::events::Person;
use crate::state::BuildState;
use rigore_plan::{ChecklistItem, ItemSketch, OperationIx};
use serde::Serialize;
use time::OffsetDateTime;

/// Confirm an item.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ConfirmStep {
    /// The item.
    pub item: String,
    /// What to do or look at.
    pub text: String,
}

/// One item to confirm.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ItemView {
    /// Key in the operation.
    pub id: String,
    /// What to do or look at.
    pub text: String,
    /// What right looks like.
    pub right: String,
    /// What wrong looks like.
    pub wrong: String,
    /// A drawing of it, where one says it better.
    pub sketch: Option<ItemSketch>,
    /// Who confirmed it.
    pub by: Option<Person>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub at: Option<OffsetDateTime>,
    /// The confirming entry, so that it can be voided.
    pub seq: Option<u64>,
}

pub(super) fn step(item: &ChecklistItem) -> ConfirmStep {
    ConfirmStep { item: item.id.clone(), text: item.text.clone() }
}

/// The items of an operation with who confirmed them.
pub(super) fn items(state: &BuildState, at: OperationIx, items: &[ChecklistItem]) -> Vec<ItemView> {
    let view = |(index, item): (usize, &ChecklistItem)| {
        let done = state.confirmed().latest((at, index)).and_then(|done| state.ledger().mark(done.seq));
        ItemView {
            id: item.id.clone(),
            text: item.text.clone(),
            right: item.right.clone(),
            wrong: item.wrong.clone(),
            sketch: item.sketch.clone(),
            by: done.map(|mark| (*mark.stamp.by).clone()),
            at: done.map(|mark| mark.stamp.at),
            seq: done.map(|mark| mark.stamp.seq),
        }
    };
    items.iter().enumerate().map(view).collect()
}

//! Items to confirm one by one.

use super::command::{Refusal, RefusalKind};
use super::decide::{operation, starting};
use super::event::{Fact, Person};
use super::state::{Confirmation, Entry, Stamp, State};
use crate::plan::{Item, Sketch, Work};
use serde::Serialize;
use std::sync::Arc;
use time::OffsetDateTime;

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
    pub sketch: Option<Sketch>,
    /// Who confirmed it.
    pub by: Option<Person>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub at: Option<OffsetDateTime>,
    /// The confirming entry, so that it can be voided.
    pub seq: Option<u64>,
}

/// Confirms an item, unless somebody else did in the meantime.
pub(super) fn confirm(state: &State, id: &str, item: &str, seen: u64) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    let Work::Items { items } = &state.plan.operations[at].work else {
        return Err(Refusal::field("operation", format!("`{id}` has no items to confirm")));
    };
    let index = items.iter().position(|planned| planned.id == item);
    let index =
        index.ok_or_else(|| Refusal::field("item", format!("no item of `{id}` is called `{item}`")))?;
    let done = state.operations[at].confirmed.iter().find(|c| c.index == index && c.voided.is_none());
    if let Some(done) = done.filter(|done| done.stamp.seq > seen || state.operations[at].signed.is_none()) {
        return Err(Refusal::of(
            RefusalKind::Stale,
            format!("{} confirmed this already", done.stamp.by.name),
        ));
    }
    Ok(starting(state, at, Fact::Confirmed { operation: id.to_owned(), item: item.to_owned() }))
}

impl State {
    pub(super) fn enter_confirmed(&mut self, operation: &str, item: &str, stamp: Stamp) -> Option<Entry> {
        let plan = Arc::clone(&self.plan);
        let (at, planned) = plan.operation(operation)?;
        let Work::Items { items } = &planned.work else { return None };
        let index = items.iter().position(|planned| planned.id == item)?;
        let confirmed = &mut self.operations[at].confirmed;
        confirmed.push(Confirmation { index, stamp, voided: None });
        Some(Entry::Confirmation(at, confirmed.len() - 1))
    }

    /// The items of an operation with who confirmed them.
    pub fn items(&self, at: usize) -> Vec<ItemView> {
        let Work::Items { items } = &self.plan.operations[at].work else { return Vec::new() };
        let confirmed = &self.operations[at].confirmed;
        let view = |(index, item): (usize, &Item)| {
            let done = confirmed.iter().rev().find(|c| c.index == index && c.voided.is_none());
            ItemView {
                id: item.id.clone(),
                text: item.text.clone(),
                right: item.right.clone(),
                wrong: item.wrong.clone(),
                sketch: item.sketch.clone(),
                by: done.map(|c| (*c.stamp.by).clone()),
                at: done.map(|c| c.stamp.at),
                seq: done.map(|c| c.stamp.seq),
            }
        };
        items.iter().enumerate().map(view).collect()
    }
}

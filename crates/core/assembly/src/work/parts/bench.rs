//! Slots, as the bench, the engine page and the sheet show them.

use crate::events::{EarlierUse, PartNote};
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::{Operation, OperationIx, OperationWork, PartSize, PartSlot, SlotIx};
use serde::Serialize;
use time::OffsetDateTime;

/// Enter a part.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FitStep {
    /// Key of the slot.
    pub slot: String,
    /// What the slot is called.
    pub name: String,
}

impl FitStep {
    /// The step in one line.
    pub fn line(&self) -> Message {
        message!("work-log", name = self.name)
    }
}

/// One slot with the part that is in it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SlotView {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// Key of the set it belongs to.
    pub family: String,
    /// The operation it is entered in.
    pub operation: String,
    /// How many engines such a part may be in, where that is limited.
    pub uses_allowed: Option<u32>,
    /// The number or side that such a part carries, where it carries one.
    pub stamp: Option<String>,
    /// Sizes that it shares with other parts.
    pub sizes: Vec<SizeView>,
    /// The part, where it was entered.
    pub part: Option<PartNote>,
    /// What the shop knew of it when it was entered, where it had been here before.
    pub lived: Option<EarlierUse>,
    /// Parts that were in this slot's entry before, the last one first.
    pub before: Vec<PartNote>,
    /// Who entered it.
    pub by: Option<String>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub at: Option<OffsetDateTime>,
    /// The entry, so that it can be voided.
    pub seq: Option<u64>,
}

/// A size that a part shares with others.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SizeView {
    /// Key in the plan.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// What it may be.
    pub choices: Vec<String>,
}

pub(super) fn step(slot: &PartSlot) -> FitStep {
    FitStep { slot: slot.id.clone(), name: slot.name.clone() }
}

impl BuildState {
    /// Slots of an operation, or of the whole plan, with what is in them.
    pub fn slots(&self, of: Option<OperationIx>) -> Vec<SlotView> {
        let view = |at: OperationIx| {
            let planned = &self.plan[at];
            let slots: &[SlotIx] = match &planned.work {
                OperationWork::Parts(slots) if of.is_none_or(|wanted| wanted == at) => slots,
                _ => &[],
            };
            slots.iter().map(|slot| self.slot(*slot, planned)).collect::<Vec<_>>()
        };
        self.plan.line().flat_map(view).collect()
    }

    fn size_view(&self, at: usize) -> SizeView {
        let PartSize { id, name, choices } = self.plan.part_sizes[at].clone();
        SizeView { id, name, choices }
    }

    fn slot(&self, slot: SlotIx, operation: &Operation) -> SlotView {
        let planned = &self.plan[slot];
        let now = self.parts().latest(slot);
        let mark = now.and_then(|entry| self.ledger().mark(entry.seq));
        let before = self.parts().entries().rev().filter(|entry| {
            entry.key == slot && self.ledger().counts(entry.seq) && now.is_none_or(|now| now.seq != entry.seq)
        });
        SlotView {
            id: planned.id.clone(),
            name: planned.name.clone(),
            family: planned.family.clone(),
            operation: operation.id.clone(),
            uses_allowed: planned.uses_allowed,
            stamp: planned.numbered.then(|| planned.member.clone()),
            sizes: planned.sizes.iter().map(|at| self.size_view(*at)).collect(),
            part: now.map(|entry| entry.value.note.clone()),
            lived: now.and_then(|entry| entry.value.before.clone()),
            before: before.map(|entry| entry.value.note.clone()).collect(),
            by: mark.map(|mark| mark.stamp.by.name.clone()),
            at: mark.map(|mark| mark.stamp.at),
            seq: mark.map(|mark| mark.stamp.seq),
        }
    }
}

//! The parts an engine is made of, each in its slot of the plan.

use super::command::Refusal;
use super::decide::{operation, starting};
use super::event::{Condition, Fact, PartNote};
use super::matter::{Matter, Remedy};
use super::state::{Entry, Stamp, State, Voided};
use crate::plan::{Slot, Work};
use serde::Serialize;
use time::OffsetDateTime;

/// A part was entered into its slot.
#[derive(Debug, Clone, PartialEq)]
pub struct FittedPart {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// The operation, by index.
    pub operation: usize,
    /// The slot, by index.
    pub slot: usize,
    /// What it is.
    pub part: PartNote,
    /// Set when it does not count.
    pub voided: Option<Voided>,
    /// Set when a lead stands for using it.
    pub accepted: Option<Voided>,
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
    /// The part, where it was entered.
    pub part: Option<PartNote>,
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

/// Records what is in a slot. Entering it again replaces it; both stay readable.
pub(super) fn fit(state: &State, id: &str, slot: &str, part: &PartNote) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    let Work::Parts { slots } = &state.plan.operations[at].work else {
        return Err(Refusal::field("operation", format!("`{id}` takes in no parts")));
    };
    if !slots.iter().any(|&known| state.plan.slots[known].id == slot) {
        return Err(Refusal::field("slot", format!("`{slot}` is not taken in by `{id}`")));
    }
    let part = PartNote {
        reference: line("reference", &part.reference)?,
        batch: line("batch", &part.batch)?,
        serial: line("serial", &part.serial)?,
        machining: line("machining", &part.machining)?,
        ..*part
    };
    if part.reference.is_empty() && part.serial.is_empty() {
        return Err(Refusal::field("reference", "say what it is: a reference, or a serial number"));
    }
    if part.uses > 1000 {
        return Err(Refusal::field("uses", "a whole number from 0 to 1000 is needed"));
    }
    if part.condition == Condition::New && part.uses > 0 {
        return Err(Refusal::field("condition", format!("a part that had {} uses is not new", part.uses)));
    }
    let (operation, slot) = (id.to_owned(), slot.to_owned());
    Ok(starting(state, at, Fact::Fitted { operation, slot, part }))
}

/// Free text on one line.
fn line(field: &'static str, text: &str) -> Result<String, Refusal> {
    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if text.chars().count() > 200 {
        return Err(Refusal::field(field, "at most 200 characters"));
    }
    Ok(text)
}

impl State {
    pub(super) fn enter_fitted(
        &mut self,
        operation: &str,
        slot: &str,
        part: &PartNote,
        stamp: Stamp,
    ) -> Option<Entry> {
        let (operation, _) = self.plan.operation(operation)?;
        let slot = self.plan.slots.iter().position(|planned| planned.id == slot)?;
        self.lapse(operation);
        let part = part.clone();
        self.parts.push(FittedPart { stamp, operation, slot, part, voided: None, accepted: None });
        Some(Entry::Part(self.parts.len() - 1))
    }

    /// The part in a slot: the last one entered that was not voided.
    pub fn fitted(&self, slot: usize) -> Option<&FittedPart> {
        self.fitted_so_far(slot).next()
    }

    fn fitted_so_far(&self, slot: usize) -> impl Iterator<Item = &FittedPart> {
        self.parts.iter().rev().filter(move |fitted| fitted.slot == slot && fitted.voided.is_none())
    }

    /// Slots of an operation, or of the whole plan, with what is in them.
    pub fn slots(&self, operation: Option<usize>) -> Vec<SlotView> {
        let of = |(planned, at): (&crate::plan::Operation, usize)| match &planned.work {
            Work::Parts { slots } if operation.is_none_or(|wanted| wanted == at) => {
                slots.iter().map(|&slot| self.slot(slot, &planned.id)).collect::<Vec<_>>()
            }
            _ => Vec::new(),
        };
        self.plan.operations.iter().zip(0..).flat_map(of).collect()
    }

    fn slot(&self, slot: usize, operation: &str) -> SlotView {
        let planned: &Slot = &self.plan.slots[slot];
        let now = self.fitted(slot);
        SlotView {
            id: planned.id.clone(),
            name: planned.name.clone(),
            family: planned.family.clone(),
            operation: operation.to_owned(),
            uses_allowed: planned.uses_allowed,
            part: now.map(|fitted| fitted.part.clone()),
            before: self.fitted_so_far(slot).skip(1).map(|fitted| fitted.part.clone()).collect(),
            by: now.map(|fitted| fitted.stamp.by.name.clone()),
            at: now.map(|fitted| fitted.stamp.at),
            seq: now.map(|fitted| fitted.stamp.seq),
        }
    }

    /// Parts that were used as often as they may be (C-16).
    pub(super) fn matters_of_parts(&self, operation: usize, slots: &[usize]) -> Vec<Matter> {
        let matter = |&slot: &usize| {
            let planned = &self.plan.slots[slot];
            let (fitted, allowed) = self.fitted(slot).zip(planned.uses_allowed)?;
            let spent = fitted.part.uses >= allowed && fitted.accepted.is_none();
            spent.then(|| Matter {
                seq: fitted.stamp.seq,
                subject: None,
                operation: self.plan.operations[operation].id.clone(),
                fastener: None,
                what: format!("{}: used {} times, and {allowed} is the most", planned.name, fitted.part.uses),
                now: "Put a new part in and enter it, or a lead accepts it".to_owned(),
                remedies: vec![Remedy::Accept, Remedy::Void],
            })
        };
        slots.iter().filter_map(matter).collect()
    }
}

//! Every part that was entered into a slot.

use crate::engine::record::{Fit, PartNote};
use crate::engine::series::Series;
use crate::engine::thing::Thing;
use crate::plan::{Plan, SlotIx};

/// Every part of an engine, by slot; what was in a slot before stays readable.
pub(in crate::engine) type Parts = Series<SlotIx, PartNote>;

/// A part was entered.
pub(in crate::engine) fn fit(parts: &mut Parts, plan: &Plan, seq: u64, fact: &Fit) -> Option<Thing> {
    let slot = plan.slot(&fact.slot)?;
    parts.push(seq, slot, fact.part.clone());
    Some(Thing::Slot(slot))
}

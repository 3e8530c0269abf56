//! What stands against the parts of an engine.

use crate::engine::matter::{Matter, Remedy};
use crate::engine::state::State;
use crate::plan::{OperationIx, SlotIx};

/// Parts that were used as often as they may be (C-16).
pub(super) fn matters(state: &State, at: OperationIx, slots: &[SlotIx]) -> Vec<Matter> {
    let matter = |slot: &SlotIx| {
        let planned = &state.plan[*slot];
        let (entry, allowed) = state.parts.latest(*slot).zip(planned.uses_allowed)?;
        let spent = entry.value.uses >= allowed && !state.ledger.accepted(entry.seq);
        spent.then(|| Matter {
            seq: entry.seq,
            subject: None,
            operation: state.plan[at].id.clone(),
            joint: None,
            fastener: None,
            what: format!("{}: used {} times, and {allowed} is the most", planned.name, entry.value.uses),
            now: "Put a new part in and enter it, or a lead accepts it".to_owned(),
            remedies: vec![Remedy::Accept, Remedy::Void],
        })
    };
    slots.iter().filter_map(matter).collect()
}

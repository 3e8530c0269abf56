//! Entering a part.

use crate::engine::asking::{operation, starting};
use crate::engine::record::{Condition, Fact, Fit, PartNote, Refusal};
use crate::engine::state::State;
use crate::plan::Work;

/// Records what is in a slot. Entering it again replaces it; both stay readable.
pub(in crate::engine) fn fit(state: &State, fit: &Fit) -> Result<Vec<Fact>, Refusal> {
    let (id, slot, part) = (&fit.operation, &fit.slot, &fit.part);
    let at = operation(state, id)?;
    let Work::Parts(slots) = &state.plan[at].work else {
        return Err(Refusal::field("operation", format!("`{id}` takes in no parts")));
    };
    if !slots.iter().any(|known| state.plan[*known].id == *slot) {
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
    Ok(starting(state, at, Fact::Fitted(Fit { part, ..fit.clone() })))
}

/// Free text on one line.
fn line(field: &'static str, text: &str) -> Result<String, Refusal> {
    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if text.chars().count() > 200 {
        return Err(Refusal::field(field, "at most 200 characters"));
    }
    Ok(text)
}

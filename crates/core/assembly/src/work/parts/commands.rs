//! Entering a part.

use crate::commands::context::{CommandContext, operation, starting};
use crate::events::{Fact, FitCommand, PartCondition, PartNote, PartRemarkCommand, Refusal, RefusalKind};
use crate::projections::part_history::PartHistory;
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_plan::{OperationWork, SlotIx};

/// Records what is in a slot. Entering it again replaces it; both stay readable.
pub(crate) fn fit(
    state: &BuildState,
    context: &CommandContext,
    fit: &FitCommand,
) -> Result<Vec<Fact>, Refusal> {
    let (id, slot, part) = (&fit.operation, &fit.slot, &fit.part);
    let at = operation(state, id)?;
    let OperationWork::Parts(slots) = &state.plan[at].work else {
        return Err(Refusal::field("operation", message!("work-logs-no-parts", id)));
    };
    let found = slots.iter().find(|known| state.plan[**known].id == *slot);
    let planned = found.ok_or_else(|| Refusal::field("slot", message!("work-not-logged", slot, id)))?;
    known_sizes(state, *planned, part)?;
    let part = PartNote {
        reference: line("reference", &part.reference)?,
        batch: line("batch", &part.batch)?,
        serial: line("serial", &part.serial)?,
        machining: line("machining", &part.machining)?,
        stamp: line("stamp", &part.stamp)?,
        ..part.clone()
    };
    if part.reference.is_empty() && part.serial.is_empty() {
        return Err(Refusal::field("reference", message!("work-enter-part-number-description-or-serial")));
    }
    if part.uses > 1000 {
        return Err(Refusal::field("uses", message!("work-whole-number-from-0-1000-needed")));
    }
    if part.condition == PartCondition::New && part.uses > 0 {
        return Err(Refusal::field("condition", message!("work-part-had-uses-not-new", uses = part.uses)));
    }
    let before = Some(&context.lived).filter(|lived| !lived.is_empty() && !part.serial.is_empty());
    let before = before.map(|lived| PartHistory::of(lived).before());
    Ok(starting(state, context.at, at, Fact::Fitted(FitCommand { part, before, ..fit.clone() })))
}

/// The sizes that are said of a part are those of its slot, each one that there is.
fn known_sizes(state: &BuildState, slot: SlotIx, part: &PartNote) -> Result<(), Refusal> {
    let sizes = state.plan[slot].sizes.iter().map(|at| &state.plan.part_sizes[*at]);
    for (id, said) in &part.sizes {
        let Some(size) = sizes.clone().find(|size| size.id == *id) else {
            let name = &state.plan[slot].name;
            return Err(Refusal::field("sizes", message!("work-has-no-such-size", name, id)));
        };
        if !size.choices.contains(said) {
            let choices = size.choices.join(", ");
            return Err(Refusal::field("sizes", message!("work-size-is-one-of", name = size.name, choices)));
        }
    }
    Ok(())
}

/// Records something that is said of a part that is in its slot, or of one piece of a set.
pub(crate) fn remark(state: &BuildState, remark: &PartRemarkCommand) -> Result<Vec<Fact>, Refusal> {
    let (id, slot) = (&remark.operation, &remark.slot);
    let at = operation(state, id)?;
    let of_it = |slots: &[SlotIx]| slots.iter().copied().find(|known| state.plan[*known].id == *slot);
    let found = match &state.plan[at].work {
        OperationWork::Parts(slots) => of_it(slots),
        _ => return Err(Refusal::field("operation", message!("work-logs-no-parts", id))),
    };
    let found = found.ok_or_else(|| Refusal::field("slot", message!("work-not-logged", slot, id)))?;
    if state.parts().latest(found).is_none() {
        let name = &state.plan[found].name;
        return Err(Refusal::of(RefusalKind::NotYet, message!("work-not-logged-yet", name)));
    }
    let pieces = state.plan.pieces(found).len();
    if remark.piece > pieces {
        return Err(Refusal::field("piece", message!("work-whole-number-from-0-needed", most = pieces)));
    }
    let text = line("text", &remark.text)?;
    if text.chars().count() < 3 {
        return Err(Refusal::field("text", message!("work-say-few-words-what")));
    }
    Ok(vec![Fact::PartRemarked(PartRemarkCommand { text, ..remark.clone() })])
}

/// Free text on one line.
fn line(field: &'static str, text: &str) -> Result<String, Refusal> {
    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if text.chars().count() > 200 {
        return Err(Refusal::field(field, message!("work-at-most-200-characters")));
    }
    Ok(text)
}

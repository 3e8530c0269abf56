//! Confirming an item.

use crate::commands::context::{CommandContext, operation, starting};
use crate::events::{ConfirmCommand, Fact, Refusal, RefusalKind};
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_plan::OperationWork;

/// Confirms an item, unless somebody else did in the meantime.
pub(crate) fn confirm(
    state: &BuildState,
    context: &CommandContext,
    confirm: &ConfirmCommand,
) -> Result<Vec<Fact>, Refusal> {
    let (id, item) = (&confirm.operation, &confirm.item);
    let at = operation(state, id)?;
    let OperationWork::Items(items) = &state.plan[at].work else {
        return Err(Refusal::field("operation", message!("work-has-no-items-confirm", id)));
    };
    let index = items.iter().position(|planned| planned.id == *item);
    let index = index.ok_or_else(|| Refusal::field("item", message!("work-no-item-called", id, item)))?;
    let done = state.confirmed().latest((at, index));
    let signed = state.operations().signed(at).is_some();
    if let Some(done) = done.filter(|done| done.seq > context.seen || !signed) {
        let by = state.ledger().mark(done.seq).map_or("somebody", |mark| mark.stamp.by.name.as_str());
        return Err(Refusal::of(RefusalKind::Stale, message!("work-confirmed-this-already", by)));
    }
    Ok(starting(state, context.at, at, Fact::Confirmed(confirm.clone())))
}

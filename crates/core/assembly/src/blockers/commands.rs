//! What may be recorded about what work waits for.

use crate::commands::context::{CommandContext, operation};
use crate::events::{BlockerCommand, BlockerEnd, DueDate, Fact, Refusal, RefusalKind};
use crate::state::BuildState;
use rigore_mechanics::message;
use time::Duration;

/// Characters of what is waited for, at most.
const WHAT: usize = 120;
/// How far off a day may lie.
const FAR: Duration = Duration::days(3660);

/// Records that work waits for something.
pub(crate) fn begin(
    state: &BuildState,
    context: &CommandContext,
    wait: &BlockerCommand,
) -> Result<Vec<Fact>, Refusal> {
    let what = wait.what.split_whitespace().collect::<Vec<_>>().join(" ");
    if !(2..=WHAT).contains(&what.chars().count()) {
        return Err(Refusal::field("what", message!("assembly-say-what-or-why-2-characters", most = WHAT)));
    }
    if let Some(id) = &wait.operation {
        operation(state, id)?;
    }
    if let Some(id) = wait.slot.as_deref().filter(|id| state.plan.slot(id).is_none()) {
        return Err(Refusal::field("slot", message!("assembly-no-part-this-engine-called", id)));
    }
    let today = context.at.date();
    if wait.expected.is_some_and(|day| day < today - Duration::DAY || day > today + FAR) {
        return Err(Refusal::field("expected", message!("assembly-day-from-today-on-needed")));
    }
    Ok(vec![Fact::Awaited(BlockerCommand { what, ..wait.clone() })])
}

/// Records that it is there.
pub(crate) fn end(state: &BuildState, end: &BlockerEnd) -> Result<Vec<Fact>, Refusal> {
    let wait = state.waits().counting(state.ledger()).find(|awaited| awaited.seq == end.seq);
    let wait = wait
        .ok_or_else(|| Refusal::field("seq", message!("assembly-entry-not-hold-or-order", seq = end.seq)))?;
    if state.came(wait).is_some() {
        return Err(Refusal::of(
            RefusalKind::Stale,
            message!("assembly-has-arrived-already", what = wait.fact.what),
        ));
    }
    Ok(vec![Fact::WaitEnded(end.clone())])
}

/// Records the day that an engine is promised for; a promise that was broken may lie behind.
pub(crate) fn promise(context: &CommandContext, promise: &DueDate) -> Result<Vec<Fact>, Refusal> {
    let note = promise.note.split_whitespace().collect::<Vec<_>>().join(" ");
    if note.chars().count() > WHAT {
        return Err(Refusal::field("note", message!("assembly-at-most-characters", most = WHAT)));
    }
    let today = context.at.date();
    if promise.by < today - FAR || promise.by > today + FAR {
        return Err(Refusal::field("by", message!("assembly-day-within-ten-years-needed")));
    }
    Ok(vec![Fact::Promised(DueDate { note, ..promise.clone() })])
}

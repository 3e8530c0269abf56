//! Counting hardware.

use crate::commands::context::{CommandContext, operation, starting};
use crate::events::{CountCommand, Fact, Refusal};
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_plan::OperationWork;

/// The most of one kind that anybody counts.
const MOST: u32 = 10_000;

/// Records a count. More or fewer than planned is a fact too, and becomes an issue.
pub(crate) fn count(
    state: &BuildState,
    context: &CommandContext,
    count: &CountCommand,
) -> Result<Vec<Fact>, Refusal> {
    let (id, hardware) = (&count.operation, &count.hardware);
    let at = operation(state, id)?;
    let OperationWork::Count(counting) = &state.plan[at].work else {
        return Err(Refusal::field("operation", message!("work-counts-no-hardware", id)));
    };
    if !counting.hardware.iter().any(|line| line.id == *hardware) {
        let there: Vec<&str> = counting.hardware.iter().map(|line| line.id.as_str()).collect();
        let message = message!("work-no-hardware-called-there", id, hardware, there = there.join(", "));
        return Err(Refusal::field("hardware", message));
    }
    if count.count > MOST {
        return Err(Refusal::field("count", message!("work-whole-number-from-0-needed", most = MOST)));
    }
    Ok(starting(state, context.at, at, Fact::Counted(count.clone())))
}

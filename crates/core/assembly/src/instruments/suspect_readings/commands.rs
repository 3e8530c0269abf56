//! Saying that an instrument was wrong.

use crate::commands::context::{CommandContext, reason};
use crate::events::{DoubtCommand, Fact, Refusal, RefusalKind, Role};

/// Decides that what was read with an instrument is in doubt.
pub(crate) fn doubt(context: &CommandContext, doubt: &DoubtCommand) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, "a lead says that an instrument was wrong"));
    }
    if doubt.since.is_some_and(|since| since >= doubt.until) {
        return Err(Refusal::field("since", "a time before it was found wrong is needed"));
    }
    reason(&doubt.reason.in_base_units())?;
    Ok(vec![Fact::Doubted(doubt.clone())])
}

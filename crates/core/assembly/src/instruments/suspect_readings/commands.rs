//! Saying that an instrument was wrong.

use crate::commands::context::{CommandContext, reason};
use crate::events::{DoubtCommand, Fact, Refusal, RefusalKind, Role};
use rigore_mechanics::message;

/// Decides that what was read with an instrument is in doubt.
pub(crate) fn doubt(context: &CommandContext, doubt: &DoubtCommand) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        return Err(Refusal::of(
            RefusalKind::NotAllowed,
            message!("instruments-lead-says-instrument-was-wrong"),
        ));
    }
    if doubt.since.is_some_and(|since| since >= doubt.until) {
        return Err(Refusal::field("since", message!("instruments-time-before-was-found-wrong-needed")));
    }
    reason(&doubt.reason.in_base_units())?;
    Ok(vec![Fact::Doubted(DoubtCommand { reason: doubt.reason.as_told(), ..doubt.clone() })])
}

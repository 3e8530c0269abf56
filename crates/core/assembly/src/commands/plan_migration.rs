//! The decision to go on by another version of the plan (C-48).

use crate::commands::context::{CommandContext, reason};
use crate::events::{Fact, PlanMoveCommand, PlanMoveEntry, Refusal, RefusalKind, Role};
use crate::state::BuildState;
use rigore_mechanics::message;

/// Looking up what was open is for anybody who records; every other change is for a lead.
pub(crate) fn move_to(
    state: &BuildState,
    context: &CommandContext,
    to: &PlanMoveCommand,
) -> Result<Vec<Fact>, Refusal> {
    let moving = context.moving.as_ref().filter(|moving| moving.plan.hash == to.plan);
    let moving =
        moving.ok_or_else(|| Refusal::field("plan", message!("assembly-no-such-version-plan-kept-here")))?;
    if moving.plan.id != state.plan_ref.id {
        let message =
            message!("assembly-plan-this-engine", name = moving.plan.name, plan_ref = state.plan_ref.name);
        return Err(Refusal::field("plan", message));
    }
    if moving.plan.hash == state.plan_ref.hash {
        return Err(Refusal::of(RefusalKind::Stale, message!("assembly-engine-uses-this-version-already")));
    }
    if moving.seq != state.seq {
        return Err(Refusal::of(
            RefusalKind::Stale,
            message!("assembly-something-was-recorded-meanwhile-review-move"),
        ));
    }
    if context.by.role != Role::Lead && !moving.only_looked_up {
        let message = message!("assembly-another-version-plan-for-lead-decide");
        return Err(Refusal::of(RefusalKind::NotAllowed, message));
    }
    if !moving.lost.is_empty() {
        let message = message!("assembly-nothing-recorded-lost-by-move", lost = moving.lost.join("; "));
        return Err(Refusal::of(RefusalKind::NotYet, message));
    }
    let looked_up =
        moving.differences.iter().filter(|_| moving.only_looked_up).map(|of| of.what.clone()).collect();
    Ok(vec![Fact::Moved(PlanMoveEntry { plan: moving.plan.clone(), reason: reason(&to.reason)?, looked_up })])
}

//! From a command to the facts it records, or a refusal.
//!
//! What happened at the bench is always recorded, right or wrong (C-1). Refused are decisions
//! that may not be taken yet, commands that name what is not there, and a pull that somebody
//! else recorded while it was being entered.

use super::{lifecycle, plan_migration};
use crate::commands::context::{CommandContext, may_record};
use crate::events::{CommandAction, Fact, Refusal};
use crate::instruments::suspect_readings;
use crate::state::BuildState;
use crate::work::{count, items, measure, parts, tighten, turn};
use crate::{blockers, findings, temporary_items};

/// Decides a command on the state as it is: the facts to record, at least one.
///
/// # Errors
/// A [`Refusal`] says what was wrong and what to do; nothing is recorded then.
pub fn decide(
    state: &BuildState,
    context: &CommandContext,
    what: &CommandAction,
) -> Result<Vec<Fact>, Refusal> {
    may_record(&context.by)?;
    match what {
        CommandAction::MoveTo(to) => plan_migration::move_to(state, context, to),
        CommandAction::Start(start) => lifecycle::start(state, context, start),
        CommandAction::Skip(skip) => lifecycle::skip(state, skip),
        CommandAction::Sign(sign) => lifecycle::sign(state, context, sign),
        CommandAction::Void(void) => lifecycle::void(state, void),
        CommandAction::Accept(accept) => lifecycle::accept(state, context, accept),
        CommandAction::Fit(fit) => parts::commands::fit(state, context, fit),
        CommandAction::RemarkPart(remark) => parts::commands::remark(state, remark),
        CommandAction::Count(count) => count::commands::count(state, context, count),
        CommandAction::Confirm(confirm) => items::commands::confirm(state, context, confirm),
        CommandAction::Turn(turn) => turn::commands::turn(state, context, turn),
        CommandAction::Measure(measure) => measure::commands::measure(state, context, measure),
        CommandAction::ChooseShells(choice) => measure::commands::choose_shells(state, context, choice),
        CommandAction::CountShells(count) => measure::commands::count_shells(state, context, count),
        CommandAction::Find(find) => findings::commands::find(state, context, find),
        CommandAction::DecideFinding(decide) => findings::commands::decide(state, context, decide),
        CommandAction::LookAgain(look) => findings::commands::look(state, look),
        CommandAction::PutIn(put) => temporary_items::commands::put_in(state, put),
        CommandAction::TakeOut(take) => temporary_items::commands::take_out(state, take),
        CommandAction::Await(wait) => blockers::commands::begin(state, context, wait),
        CommandAction::EndWait(over) => blockers::commands::end(state, over),
        CommandAction::Promise(promise) => blockers::commands::promise(context, promise),
        CommandAction::Doubt(doubt) => suspect_readings::commands::doubt(context, doubt),
        CommandAction::Lubricate(lubricate) => tighten::lubricate::lubricate(state, context, lubricate),
        CommandAction::SetPolicy(policy) => lifecycle::set_policy(context, policy),
        CommandAction::SetDecisionRule(rule) => lifecycle::set_decision_rule(context, rule),
        CommandAction::SetWrench(set) => tighten::commands::set_wrench(state, context, set),
        CommandAction::Pull(pull) => tighten::commands::pull(state, context, pull),
        CommandAction::AllowFurther(allow) => tighten::commands::allow_further(state, context, allow),
        CommandAction::Act(act) => tighten::commands::act(state, context, act),
        CommandAction::Loosen(loosen) => tighten::commands::loosen(state, context, loosen),
    }
}

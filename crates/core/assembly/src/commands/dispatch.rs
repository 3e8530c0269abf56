//! From a command to the facts it records, or a refusal.
//!
//! What happened at the bench is always recorded, right or wrong (C-1). Refused are decisions
//! that may not be taken yet, commands that name what is not there, and a pull that somebody
//! else recorded while it was being entered.

use super::{lifecycle, plan_migration};
use crate::commands::context::{Context, may_record};
use crate::events::{Do, Fact, Refusal};
use crate::instruments::suspect_readings;
use crate::state::State;
use crate::work::{count, items, measure, parts, tighten, turn};
use crate::{blockers, findings, temporary_items};

/// Decides a command on the state as it is: the facts to record, at least one.
///
/// # Errors
/// A [`Refusal`] says what was wrong and what to do; nothing is recorded then.
pub fn decide(state: &State, context: &Context, what: &Do) -> Result<Vec<Fact>, Refusal> {
    may_record(&context.by)?;
    match what {
        Do::MoveTo(to) => plan_migration::move_to(state, context, to),
        Do::Start(start) => lifecycle::start(state, context, start),
        Do::Skip(skip) => lifecycle::skip(state, skip),
        Do::Sign(sign) => lifecycle::sign(state, context, sign),
        Do::Void(void) => lifecycle::void(state, void),
        Do::Accept(accept) => lifecycle::accept(state, context, accept),
        Do::Fit(fit) => parts::commands::fit(state, context, fit),
        Do::RemarkPart(remark) => parts::commands::remark(state, remark),
        Do::Count(count) => count::commands::count(state, context, count),
        Do::Confirm(confirm) => items::commands::confirm(state, context, confirm),
        Do::Turn(turn) => turn::commands::turn(state, context, turn),
        Do::Measure(measure) => measure::commands::measure(state, context, measure),
        Do::ChooseShells(choice) => measure::commands::choose_shells(state, context, choice),
        Do::CountShells(count) => measure::commands::count_shells(state, context, count),
        Do::Find(find) => findings::commands::find(state, context, find),
        Do::DecideFinding(decide) => findings::commands::decide(state, context, decide),
        Do::LookAgain(look) => findings::commands::look(state, look),
        Do::PutIn(put) => temporary_items::commands::put_in(state, put),
        Do::TakeOut(take) => temporary_items::commands::take_out(state, take),
        Do::Await(wait) => blockers::commands::begin(state, context, wait),
        Do::EndWait(over) => blockers::commands::end(state, over),
        Do::Promise(promise) => blockers::commands::promise(context, promise),
        Do::Doubt(doubt) => suspect_readings::commands::doubt(context, doubt),
        Do::Lubricate(lubricate) => tighten::lubricate::lubricate(state, context, lubricate),
        Do::SetPolicy(policy) => lifecycle::set_policy(context, policy),
        Do::SetDecisionRule(rule) => lifecycle::set_decision_rule(context, rule),
        Do::SetWrench(set) => tighten::commands::set_wrench(state, context, set),
        Do::Pull(pull) => tighten::commands::pull(state, context, pull),
        Do::AllowFurther(allow) => tighten::commands::allow_further(state, context, allow),
        Do::Act(act) => tighten::commands::act(state, context, act),
        Do::Loosen(loosen) => tighten::commands::loosen(state, context, loosen),
    }
}

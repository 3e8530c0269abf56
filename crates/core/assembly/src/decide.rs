//! From a command to the facts it records, or a refusal.
//!
//! What happened at the bench is always recorded, right or wrong (C-1). Refused are decisions
//! that may not be taken yet, commands that name what is not there, and a pull that somebody
//! else recorded while it was being entered.

use super::asking::{Context, may_record};
use super::record::{Do, Fact, Refusal};
use super::state::State;
use super::work::{count, items, measure, parts, tighten, turn};
use super::{doubts, finding, inside, line, moving, waits};

/// Decides a command on the state as it is: the facts to record, at least one.
///
/// # Errors
/// A [`Refusal`] says what was wrong and what to do; nothing is recorded then.
pub fn decide(state: &State, context: &Context, what: &Do) -> Result<Vec<Fact>, Refusal> {
    may_record(&context.by)?;
    match what {
        Do::MoveTo(to) => moving::move_to(state, context, to),
        Do::Start(start) => line::start(state, context, start),
        Do::Skip(skip) => line::skip(state, skip),
        Do::Sign(sign) => line::sign(state, context, sign),
        Do::Void(void) => line::void(state, void),
        Do::Accept(accept) => line::accept(state, context, accept),
        Do::Fit(fit) => parts::decide::fit(state, context, fit),
        Do::RemarkPart(remark) => parts::decide::remark(state, remark),
        Do::Count(count) => count::decide::count(state, context, count),
        Do::Confirm(confirm) => items::decide::confirm(state, context, confirm),
        Do::Turn(turn) => turn::decide::turn(state, context, turn),
        Do::Measure(measure) => measure::decide::measure(state, context, measure),
        Do::ChooseShells(choice) => measure::decide::choose_shells(state, context, choice),
        Do::CountShells(count) => measure::decide::count_shells(state, context, count),
        Do::Find(find) => finding::decide::find(state, context, find),
        Do::DecideFinding(decide) => finding::decide::decide(state, context, decide),
        Do::LookAgain(look) => finding::decide::look(state, look),
        Do::PutIn(put) => inside::decide::put_in(state, put),
        Do::TakeOut(take) => inside::decide::take_out(state, take),
        Do::Await(wait) => waits::decide::begin(state, context, wait),
        Do::EndWait(over) => waits::decide::end(state, over),
        Do::Promise(promise) => waits::decide::promise(context, promise),
        Do::Doubt(doubt) => doubts::doubt(context, doubt),
        Do::Lubricate(lubricate) => tighten::lubricate::lubricate(state, context, lubricate),
        Do::SetPolicy(policy) => line::set_policy(context, policy),
        Do::SetDecisionRule(rule) => line::set_decision_rule(context, rule),
        Do::SetWrench(set) => tighten::decide::set_wrench(state, context, set),
        Do::Pull(pull) => tighten::decide::pull(state, context, pull),
        Do::AllowFurther(allow) => tighten::decide::allow_further(state, context, allow),
        Do::Act(act) => tighten::decide::act(state, context, act),
        Do::Loosen(loosen) => tighten::decide::loosen(state, context, loosen),
    }
}

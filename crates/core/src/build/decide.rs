//! From a command to the facts it records, or a refusal.
//!
//! What happened at the bench is always recorded, right or wrong (C-1). Refused are decisions
//! that may not be taken yet, commands that name what is not there, and a pull that somebody
//! else recorded while it was being entered.

use super::command::{Command, Context, Do, Refusal, RefusalKind};
use super::event::{Fact, PlanRef, Role};
use super::matter::Remedy;
use super::state::{Entry, State};
use super::{counting, items, measuring, parts, tightening, turning};
use crate::plan::Work;
use crate::quantity::{self, Dimension};

/// The longest name of an engine, and the longest free text about it.
const NAME: usize = 80;
const NOTE: usize = 120;

/// Decides a command on the state as it is: the facts to record, at least one.
///
/// # Errors
/// A [`Refusal`] says what was wrong and what to do; nothing is recorded then.
pub fn decide(state: &State, context: &Context, command: &Command) -> Result<Vec<Fact>, Refusal> {
    if context.by.role == Role::Viewer {
        return Err(Refusal::of(
            RefusalKind::NotAllowed,
            format!("{} may look, not record", context.by.name),
        ));
    }
    if let Do::Begin { name, plan, use_for, owner, identity } = &command.what {
        let about = [owner.as_deref(), identity.as_deref()];
        return begin(state, name, plan, use_for.as_ref(), about);
    }
    if state.begun.is_none() {
        return Err(Refusal::of(RefusalKind::NotYet, "this build was never begun"));
    }
    match &command.what {
        Do::Begin { .. } => Err(Refusal::of(RefusalKind::Stale, "this build was begun already")),
        Do::Start { operation } => start(state, operation),
        Do::Fit { operation, slot, part } => parts::fit(state, operation, slot, part),
        Do::Count { operation, hardware, count } => counting::count(state, operation, hardware, *count),
        Do::Confirm { operation, item } => items::confirm(state, operation, item, command.seen),
        Do::Pull { .. } => tightening::pull(state, context, command.seen, &command.what),
        Do::Measure { .. } => measuring::measure(state, context, &command.what),
        Do::ChooseShells { .. } => measuring::choose_shells(state, &command.what),
        Do::CountShells { operation, clearance, grade, count } => {
            measuring::count_shells(state, operation, clearance, grade, *count)
        }
        Do::Turn { operation, free, text, unit } => {
            turning::turn(state, operation, *free, text.as_deref(), unit.as_deref())
        }
        Do::Skip { operation, reason } => skip(state, operation, reason),
        Do::Act { operation, stage } => tightening::act(state, operation, *stage),
        Do::Loosen { operation, fastener, replaced, reason } => {
            tightening::loosen(state, operation, fastener, *replaced, reason)
        }
        Do::Void { seq, reason } => void(state, *seq, reason),
        Do::Accept { seq, subject, reason } => accept(state, context, *seq, subject.as_ref(), reason),
        Do::Sign { operation } => sign(state, context, operation),
    }
}

fn begin(
    state: &State,
    name: &str,
    plan: &PlanRef,
    use_for: Option<&String>,
    [owner, identity]: [Option<&str>; 2],
) -> Result<Vec<Fact>, Refusal> {
    if state.begun.is_some() {
        return Err(Refusal::of(RefusalKind::Stale, "this build was begun already"));
    }
    let name = name.trim();
    if name.is_empty() || name.chars().count() > NAME {
        return Err(Refusal::field("name", format!("the engine needs a name of 1 to {NAME} characters")));
    }
    let note = |field, text: Option<&str>| {
        let text = text.map(str::trim).filter(|text| !text.is_empty());
        if text.is_some_and(|text| text.chars().count() > NOTE) {
            return Err(Refusal::field(field, format!("at most {NOTE} characters")));
        }
        Ok(text.map(str::to_owned))
    };
    let uses = state.plan.uses();
    if let Some(wanted) = use_for.filter(|wanted| !uses.contains(&wanted.as_str())) {
        let message = format!("`{wanted}` is not a use of this plan; there is {}", uses.join(", "));
        return Err(Refusal::field("use", message));
    }
    Ok(vec![Fact::Begun {
        name: name.to_owned(),
        plan: plan.clone(),
        use_for: use_for.cloned(),
        owner: note("owner", owner)?,
        identity: note("identity", identity)?,
    }])
}

/// The place of an operation in the line.
pub(super) fn operation(state: &State, id: &str) -> Result<usize, Refusal> {
    let known = || state.plan.operations.iter().map(|o| o.id.as_str()).collect::<Vec<_>>().join(", ");
    let found = state.plan.operation(id).map(|(at, _)| at);
    found.ok_or_else(|| {
        Refusal::field("operation", format!("no operation is called `{id}`; there is {}", known()))
    })
}

/// A reason somebody gives.
pub(super) fn reason(text: &str) -> Result<String, Refusal> {
    let text = text.trim();
    if (3..=500).contains(&text.chars().count()) {
        return Ok(text.to_owned());
    }
    Err(Refusal::field("reason", "a reason of 3 to 500 characters is needed"))
}

/// A quantity somebody typed, in its base unit. A bare number takes the unit that is named, else
/// the base unit.
pub(super) fn typed(
    field: &'static str,
    text: &str,
    unit: Option<&str>,
    dimension: Dimension,
) -> Result<f64, Refusal> {
    let bare = match unit {
        Some(symbol) => {
            quantity::unit(symbol).filter(|unit| unit.dimension == dimension).ok_or_else(|| {
                Refusal::field("unit", format!("`{symbol}` is not a unit of {}", dimension.word()))
            })?
        }
        None => dimension.base(),
    };
    quantity::read(text, dimension, bare).map_err(|error| Refusal::field(field, error.to_string()))
}

/// That starting has to wait, and for what.
fn not_startable(state: &State, at: usize) -> Option<Refusal> {
    let open = state.open_needs(at);
    let names: Vec<&str> = open.iter().map(|&need| state.plan.operations[need].name.as_str()).collect();
    (!names.is_empty()).then(|| {
        let message = format!("{} waits for {}", state.plan.operations[at].name, names.join(" and "));
        Refusal::of(RefusalKind::NotYet, message)
    })
}

fn start(state: &State, id: &str) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    if let Some(refusal) = not_startable(state, at) {
        return Err(refusal);
    }
    if state.operations[at].started.is_some() {
        return Err(Refusal::of(
            RefusalKind::Stale,
            format!("{} is started already", state.plan.operations[at].name),
        ));
    }
    Ok(vec![Fact::Started { operation: id.to_owned() }])
}

/// Work in an operation that can be started starts it.
pub(super) fn starting(state: &State, at: usize, fact: Fact) -> Vec<Fact> {
    let id = state.plan.operations[at].id.clone();
    if state.operations[at].started.is_none() && not_startable(state, at).is_none() {
        vec![Fact::Started { operation: id }, fact]
    } else {
        vec![fact]
    }
}

/// Anybody at the bench may leave something out and say why; a lead has to stand for it.
fn skip(state: &State, id: &str, why: &str) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    if state.operations[at].signed.is_some() {
        return Err(Refusal::of(RefusalKind::Stale, format!("{} is signed", state.plan.operations[at].name)));
    }
    if matches!(state.plan.operations[at].work, Work::Sign) {
        return Err(Refusal::field("operation", "the signature under the engine cannot be left out"));
    }
    Ok(vec![Fact::Skipped { operation: id.to_owned(), reason: reason(why)? }])
}

fn void(state: &State, seq: u64, why: &str) -> Result<Vec<Fact>, Refusal> {
    let voided = match state.entry(seq) {
        Some(Entry::Fixed) | None => {
            return Err(Refusal::field("seq", format!("entry {seq} is not one that can be voided")));
        }
        Some(Entry::Signature(at)) => state.operations[at].signed.as_ref().is_none_or(|s| s.seq != seq),
        Some(entry) => state.voided(entry).is_some(),
    };
    if voided {
        return Err(Refusal::of(RefusalKind::Stale, format!("entry {seq} does not count any more")));
    }
    Ok(vec![Fact::Voided { seq, reason: reason(why)? }])
}

fn accept(
    state: &State,
    context: &Context,
    seq: u64,
    subject: Option<&String>,
    why: &str,
) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, "a lead accepts deviations"));
    }
    let matters = state.matters();
    let mut of_it = matters.iter().filter(|matter| matter.seq == seq && matter.subject.as_ref() == subject);
    if of_it.any(|matter| matter.remedies.contains(&Remedy::Accept)) {
        return Ok(vec![Fact::Accepted { seq, subject: subject.cloned(), reason: reason(why)? }]);
    }
    if matches!(state.entry(seq), None | Some(Entry::Fixed)) && subject.is_none() {
        return Err(Refusal::field("seq", format!("entry {seq} is not a deviation")));
    }
    Err(Refusal::of(RefusalKind::Stale, format!("entry {seq} has no open deviation that can be accepted")))
}

fn sign(state: &State, context: &Context, id: &str) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    let planned = &state.plan.operations[at];
    let not_yet = |message: String| Err(Refusal::of(RefusalKind::NotYet, message));
    if state.operations[at].signed.is_some() {
        return Err(Refusal::of(RefusalKind::Stale, format!("{} is signed already", planned.name)));
    }
    if let Some(refusal) = not_startable(state, at) {
        return Err(refusal);
    }
    let (done, total) = state.progress(at);
    if done < total {
        return not_yet(format!("{} of {total} done. Next: {}", done, state.step(at).line()));
    }
    let whole = matches!(planned.work, Work::Sign);
    let matters = if whole { state.matters() } else { state.matters_of(at) };
    if let Some(first) = matters.first() {
        return not_yet(format!("{} open. First: {}. {}", matters.len(), first.what, first.now));
    }
    if whole {
        let others = (0..state.operations.len()).filter(|&other| other != at);
        if let Some(open) = others.into_iter().find(|&other| state.operations[other].signed.is_none()) {
            return not_yet(format!("{} is not signed yet", state.plan.operations[open].name));
        }
        if context.by.role != Role::Lead {
            return Err(Refusal::of(RefusalKind::NotAllowed, "a lead signs the engine off"));
        }
    }
    Ok(starting(state, at, Fact::Signed { operation: id.to_owned() }))
}

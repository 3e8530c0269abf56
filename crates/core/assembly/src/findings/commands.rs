//! What may be recorded about findings.

use super::state::{FindingState, about};
use crate::commands::context::{CommandContext, operation, reason, starting};
use crate::events::{
    Fact, FindingCommand, FindingDecisionCommand, FindingReviewCommand, FindingSubject, Refusal, RefusalKind,
    Role,
};
use crate::state::BuildState;
use rigore_mechanics::message;

/// The longest text of a finding.
const MOST: usize = 500;

fn text(text: &str) -> Result<String, Refusal> {
    let text = text.trim();
    if (3..=MOST).contains(&text.chars().count()) {
        return Ok(text.to_owned());
    }
    Err(Refusal::field("text", message!("assembly-describe-problem-3-characters", most = MOST)))
}

/// Records something that was found, by anybody at the bench.
pub(crate) fn find(
    state: &BuildState,
    context: &CommandContext,
    find: &FindingCommand,
) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, &find.operation)?;
    if about(&state.plan, &find.about).is_none() {
        let unknown = match &find.about {
            FindingSubject::Fastener { joint, fastener } => {
                message!("assembly-has-no-fastener", joint, fastener)
            }
            FindingSubject::Part { slot } => message!("assembly-no-slot-called", slot),
            FindingSubject::Site { site } => message!("assembly-no-site-called", site),
            FindingSubject::Operation { operation } => {
                message!("assembly-no-operation-called", id = operation)
            }
        };
        return Err(Refusal::field("about", unknown));
    }
    Ok(starting(
        state,
        context.at,
        at,
        Fact::Found(FindingCommand { text: text(&find.text)?, ..find.clone() }),
    ))
}

fn standing(state: &BuildState, seq: u64) -> Result<FindingState, Refusal> {
    let finding = state.findings().of(seq).filter(|finding| state.ledger().counts(finding.seq));
    let finding =
        finding.ok_or_else(|| Refusal::field("seq", message!("assembly-entry-not-problem", seq)))?;
    Ok(finding.standing(state.ledger()))
}

/// A lead decides; what is settled may be decided anew.
pub(crate) fn decide(
    state: &BuildState,
    context: &CommandContext,
    decide: &FindingDecisionCommand,
) -> Result<Vec<Fact>, Refusal> {
    standing(state, decide.seq)?;
    if context.by.role != Role::Lead {
        let message = message!("assembly-lead-decides-what-done-about-problem");
        return Err(Refusal::of(RefusalKind::NotAllowed, message));
    }
    let reason = reason(&decide.reason)?;
    Ok(vec![Fact::FindingDecided(FindingDecisionCommand { reason, ..decide.clone() })])
}

/// What is mended or changed is looked at again.
pub(crate) fn look(state: &BuildState, look: &FindingReviewCommand) -> Result<Vec<Fact>, Refusal> {
    match standing(state, look.seq)? {
        FindingState::Open => {
            Err(Refusal::of(RefusalKind::NotYet, message!("assembly-lead-has-not-decided-about-yet")))
        }
        FindingState::Settled => Err(Refusal::of(RefusalKind::Stale, message!("assembly-closed-already"))),
        FindingState::ToDo(_) => {
            Ok(vec![Fact::LookedAgain(FindingReviewCommand { text: text(&look.text)?, ..look.clone() })])
        }
    }
}

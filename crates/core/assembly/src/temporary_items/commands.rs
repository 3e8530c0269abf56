//! What may be recorded about what goes in and comes out.

use crate::commands::context::operation;
use crate::events::{Fact, Refusal, RefusalKind, TemporaryItemCommand, TemporaryItemRemoval};
use crate::state::BuildState;
use rigore_mechanics::message;

/// The longest name of something that goes in, and the most of it.
const NAME: usize = 80;
const MOST: u32 = 1000;

/// Records that something goes in.
pub(crate) fn put_in(state: &BuildState, put: &TemporaryItemCommand) -> Result<Vec<Fact>, Refusal> {
    operation(state, &put.operation)?;
    let what = put.what.split_whitespace().collect::<Vec<_>>().join(" ");
    if !(2..=NAME).contains(&what.chars().count()) {
        return Err(Refusal::field("what", message!("assembly-enter-item-place-2-characters", most = NAME)));
    }
    if !(1..=MOST).contains(&put.count) {
        return Err(Refusal::field("count", message!("assembly-whole-number-from-1-needed", most = MOST)));
    }
    Ok(vec![Fact::PutIn(TemporaryItemCommand { what, ..put.clone() })])
}

/// Records that it came out.
pub(crate) fn take_out(state: &BuildState, take: &TemporaryItemRemoval) -> Result<Vec<Fact>, Refusal> {
    operation(state, &take.operation)?;
    let aid = state.inside().counting(state.ledger()).find(|aid| aid.seq == take.seq);
    let aid = aid.ok_or_else(|| {
        Refusal::field("seq", message!("assembly-entry-not-temporary-item", seq = take.seq))
    })?;
    if !state.is_in(aid) {
        return Err(Refusal::of(RefusalKind::Stale, message!("assembly-removed-already", what = aid.what)));
    }
    Ok(vec![Fact::TakenOut(take.clone())])
}

//! Turning the crankshaft.

use crate::commands::context::{CommandContext, operation, starting, typed};
use crate::events::{Fact, Refusal, TurnCommand, TurnEntry};
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_plan::OperationWork;

/// The most that anybody turns a crankshaft with, N·m.
const MOST_NM: f64 = 1000.0;

/// Records a turn: free or binding, and the torque where it was measured.
pub(crate) fn turn(
    state: &BuildState,
    context: &CommandContext,
    turn: &TurnCommand,
) -> Result<Vec<Fact>, Refusal> {
    let id = &turn.operation;
    let at = operation(state, id)?;
    if !matches!(state.plan[at].work, OperationWork::Turn(_)) {
        return Err(Refusal::field("operation", message!("work-not-turning-check", id)));
    }
    let read = |text: &String| typed("text", text, turn.unit.as_deref(), Dimension::Torque);
    let torque_nm = turn.text.as_ref().map(read).transpose()?;
    if torque_nm.is_some_and(|torque| !(0.0..=MOST_NM).contains(&torque)) {
        return Err(Refusal::field(
            "text",
            message!(
                "work-turning-torque-needed",
                range = Quantity::new(0.0, Dimension::Torque).up_to(MOST_NM)
            ),
        ));
    }
    let (operation, entered) = (id.clone(), turn.text.clone());
    Ok(starting(
        state,
        context.at,
        at,
        Fact::Turned(TurnEntry { operation, free: turn.free, torque_nm, entered }),
    ))
}

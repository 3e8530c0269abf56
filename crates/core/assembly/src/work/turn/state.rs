//! Every turn of the crankshaft.

use crate::events::Turned;
use crate::state::series::{Entry, Series};
use crate::state::thing::Thing;
use rigore_plan::{OperationIx, Plan, Work};

/// How the crankshaft turned.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Turning {
    /// Whether it turned freely.
    pub free: bool,
    /// Turning torque, N·m, where it was measured.
    pub torque_nm: Option<f64>,
}

/// Every turn, by operation.
pub(crate) type Turns = Series<OperationIx, Turning>;

/// The crankshaft was turned.
pub(crate) fn turn(turns: &mut Turns, plan: &Plan, seq: u64, fact: &Turned) -> Option<Thing> {
    let at = plan.operation(&fact.operation)?;
    let Work::Turn(_) = &plan[at].work else { return None };
    turns.push(seq, at, Turning { free: fact.free, torque_nm: fact.torque_nm });
    Some(Thing::Turn(at))
}

/// The turn that one in an operation is compared with: the last that counts before something was
/// fitted, which is that of the nearest turning operation earlier in the line. Never one of its own.
pub(crate) fn before(turns: &Turns, at: OperationIx) -> Option<&Entry<OperationIx, Turning>> {
    (0..at.0).rev().find_map(|earlier| turns.latest(OperationIx(earlier)))
}

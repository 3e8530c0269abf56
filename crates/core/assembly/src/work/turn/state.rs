//! Every turn of the crankshaft.

use crate::events::TurnEntry;
use crate::state::entry_topic::EntryTopic;
use crate::state::series::{EntrySeries, SeriesEntry};
use rigore_plan::{OperationIx, OperationWork, Plan};

/// How the crankshaft turned.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct TurnReading {
    /// Whether it turned freely.
    pub free: bool,
    /// Turning torque, N·m, where it was measured.
    pub torque_nm: Option<f64>,
}

/// Every turn, by operation.
pub(crate) type TurnReadings = EntrySeries<OperationIx, TurnReading>;

/// The crankshaft was turned.
pub(crate) fn turn(turns: &mut TurnReadings, plan: &Plan, seq: u64, fact: &TurnEntry) -> Option<EntryTopic> {
    let at = plan.operation(&fact.operation)?;
    let OperationWork::Turn(_) = &plan[at].work else { return None };
    turns.push(seq, at, TurnReading { free: fact.free, torque_nm: fact.torque_nm });
    Some(EntryTopic::Turn(at))
}

/// The turn that one in an operation is compared with: the last that counts before something was
/// fitted, which is that of the nearest turning operation earlier in the line. Never one of its own.
pub(crate) fn before(
    turns: &TurnReadings,
    at: OperationIx,
) -> Option<&SeriesEntry<OperationIx, TurnReading>> {
    (0..at.0).rev().find_map(|earlier| turns.latest(OperationIx(earlier)))
}

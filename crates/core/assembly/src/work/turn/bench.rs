//! Turns of the crankshaft, as the bench and the sheet show them.

use super::state::{TurnReading, before};
use crate::state::BuildState;
use crate::state::series::SeriesEntry;
use rigore_plan::{self, OperationIx, OperationWork};
use serde::Serialize;
use time::OffsetDateTime;

/// The crankshaft to turn.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TurnBench {
    /// What was fitted last.
    pub suspect: String,
    /// The most that turning may take, N·m, where that is limited.
    pub most_nm: Option<f64>,
    /// Every turn of the crankshaft so far, in this and other operations.
    pub turns: Vec<TurnView>,
}

/// One turn of the crankshaft.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TurnView {
    /// The entry.
    pub seq: u64,
    /// Key of the operation.
    pub operation: String,
    /// What the operation is called.
    pub name: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// Whether it turned freely.
    pub free: bool,
    /// Turning torque, N·m, where it was measured.
    pub torque_nm: Option<f64>,
    /// How much more it took than before something was fitted, N·m, where both were measured.
    pub rise_nm: Option<f64>,
    /// What was fitted last before it.
    pub suspect: String,
}

/// How much more a turn in an operation took than before something was fitted, N·m.
pub(super) fn rise(state: &BuildState, turn: &SeriesEntry<OperationIx, TurnReading>) -> Option<f64> {
    let before = before(state.turns(), turn.key)?;
    turn.value.torque_nm.zip(before.value.torque_nm).map(|(now, before)| now - before)
}

/// Every turn of the crankshaft that counts, in the order they came.
pub(super) fn turns(state: &BuildState) -> impl Iterator<Item = TurnView> {
    state.turns().entries().filter_map(|turn| {
        let mark = state.ledger().mark(turn.seq).filter(|mark| mark.voided.is_none())?;
        let planned = &state.plan[turn.key];
        let suspect = match &planned.work {
            OperationWork::Turn(turning) => turning.suspect.clone(),
            _ => String::new(),
        };
        Some(TurnView {
            seq: turn.seq,
            operation: planned.id.clone(),
            name: planned.name.clone(),
            at: mark.stamp.at,
            by: mark.stamp.by.name.clone(),
            free: turn.value.free,
            torque_nm: turn.value.torque_nm,
            rise_nm: rise(state, turn),
            suspect,
        })
    })
}

pub(super) fn bench(state: &BuildState, turning: &rigore_plan::TurningCheck) -> TurnBench {
    TurnBench { suspect: turning.suspect.clone(), most_nm: turning.most_nm, turns: turns(state).collect() }
}

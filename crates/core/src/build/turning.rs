//! Turning the crankshaft (C-33).

use super::command::Refusal;
use super::decide::{operation, starting, typed};
use super::event::Fact;
use super::matter::{Matter, Remedy};
use super::state::{Entry, OperationState, Stamp, State, Voided};
use crate::plan::{Operation, Work};
use crate::quantity::Dimension;
use serde::Serialize;
use time::OffsetDateTime;

/// The most that anybody turns a crankshaft with, N·m.
const MOST_NM: f64 = 1000.0;

/// The crankshaft was turned.
#[derive(Debug, Clone, PartialEq)]
pub struct Turned {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// Whether it turned freely.
    pub free: bool,
    /// Turning torque, N·m, where it was measured.
    pub torque_nm: Option<f64>,
    /// Set when it does not count.
    pub voided: Option<Voided>,
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
    /// How much more it took than the time before, N·m, where both were measured.
    pub rise_nm: Option<f64>,
    /// What was fitted last before it.
    pub suspect: String,
}

/// Records a turn: free or binding, and the torque where it was measured.
pub(super) fn turn(
    state: &State,
    id: &str,
    free: bool,
    text: Option<&str>,
    unit: Option<&str>,
) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    if !matches!(state.plan.operations[at].work, Work::Turn { .. }) {
        return Err(Refusal::field("operation", format!("`{id}` is not a turning check")));
    }
    let torque_nm = text.map(|text| typed("text", text, unit, Dimension::Torque)).transpose()?;
    if torque_nm.is_some_and(|torque| !(0.0..=MOST_NM).contains(&torque)) {
        return Err(Refusal::field("text", format!("a turning torque from 0 to {MOST_NM} N·m is needed")));
    }
    let (operation, entered) = (id.to_owned(), text.map(str::to_owned));
    Ok(starting(state, at, Fact::Turned { operation, free, torque_nm, entered }))
}

impl State {
    pub(super) fn enter_turned(
        &mut self,
        operation: &str,
        free: bool,
        torque_nm: Option<f64>,
        stamp: Stamp,
    ) -> Option<Entry> {
        let (at, _) = self.plan.operation(operation)?;
        self.lapse(at);
        let turned = &mut self.operations[at].turned;
        turned.push(Turned { stamp, free, torque_nm, voided: None });
        Some(Entry::Turn(at, turned.len() - 1))
    }

    /// A crankshaft that binds, or takes more to turn than it may.
    pub(super) fn matter_of_turning(
        &self,
        operation: usize,
        suspect: &str,
        most_nm: Option<f64>,
        rise_nm: Option<f64>,
    ) -> Option<Matter> {
        let id = &self.plan.operations[operation].id;
        let last = self.turns().into_iter().rfind(|turn| turn.operation == *id)?;
        let subject = format!("turning/{id}");
        let over = |value: Option<f64>, limit: Option<f64>| Some((value?, limit?)).filter(|(v, l)| v > l);
        let loosen = format!("Loosen {suspect} in reverse order, find the bind, then turn again");
        let (what, now, accept) = if !last.free {
            ("The crankshaft binds".to_owned(), loosen, false)
        } else if self.stands_for(&subject, last.seq) {
            return None;
        } else if let Some((rise, limit)) = over(last.rise_nm, rise_nm) {
            let what = format!("Turning takes {rise:.1} N·m more than before, and {limit:.1} is the most");
            (what, format!("Look at {suspect}: it was fitted last"), true)
        } else if let Some((torque, limit)) = over(last.torque_nm, most_nm) {
            let what = format!("Turning takes {torque:.1} N·m, and {limit:.1} is the most");
            (what, loosen, true)
        } else {
            return None;
        };
        Some(Matter {
            seq: last.seq,
            subject: Some(subject),
            operation: id.clone(),
            fastener: None,
            what,
            now,
            remedies: if accept { vec![Remedy::Accept, Remedy::Void] } else { vec![Remedy::Void] },
        })
    }

    /// Every turn of the crankshaft that counts, in the order they came.
    pub fn turns(&self) -> Vec<TurnView> {
        let of = |(state, planned): (&OperationState, &Operation)| {
            let suspect = match &planned.work {
                Work::Turn { suspect, .. } => suspect.clone(),
                _ => String::new(),
            };
            let counted = state.turned.iter().filter(|turned| turned.voided.is_none());
            let view = |turned: &Turned| TurnView {
                seq: turned.stamp.seq,
                operation: planned.id.clone(),
                name: planned.name.clone(),
                at: turned.stamp.at,
                by: turned.stamp.by.name.clone(),
                free: turned.free,
                torque_nm: turned.torque_nm,
                rise_nm: None,
                suspect: suspect.clone(),
            };
            counted.map(view).collect::<Vec<_>>()
        };
        let mut turns: Vec<TurnView> =
            self.operations.iter().zip(&self.plan.operations).flat_map(of).collect();
        turns.sort_by_key(|turn| turn.seq);
        for at in 1..turns.len() {
            let before = turns[at - 1].torque_nm;
            turns[at].rise_nm = turns[at].torque_nm.zip(before).map(|(now, before)| now - before);
        }
        turns
    }
}

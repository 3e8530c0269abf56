//! Hardware, counted out before the work and back after it (C-6).

use super::command::Refusal;
use super::decide::{operation, starting};
use super::event::Fact;
use super::matter::{Matter, Remedy};
use super::state::{Entry, Stamp, State, Voided};
use crate::plan::{Hardware, Work};
use serde::Serialize;
use time::OffsetDateTime;

/// The most of one kind that anybody counts.
const MOST: u32 = 10_000;

/// A kind of hardware was counted.
#[derive(Debug, Clone, PartialEq)]
pub struct Counted {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// Which kind, by its place in the operation.
    pub line: usize,
    /// How many there were.
    pub count: u32,
    /// Set when it does not count.
    pub voided: Option<Voided>,
    /// Set when a lead stands for the difference.
    pub accepted: Option<Voided>,
}

/// One kind of hardware at the bench.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CountView {
    /// Key in the operation.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// How many the engine takes.
    pub needed: u32,
    /// How many there should be: what is needed, or what has to be left over.
    pub expected: u32,
    /// Whether this counts back what was counted out before.
    pub back: bool,
    /// How many were counted out before, where this counts back and they were.
    pub out: Option<u32>,
    /// How many were counted.
    pub count: Option<u32>,
    /// What the difference means, where there is one.
    pub difference: Option<String>,
    /// Why the difference may stand, if a lead accepted it.
    pub accepted: Option<String>,
    /// Who counted.
    pub by: Option<String>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub at: Option<OffsetDateTime>,
    /// The entry, so that it can be voided.
    pub seq: Option<u64>,
}

/// Records a count. More or fewer than planned is a fact too, and becomes a matter.
pub(super) fn count(state: &State, id: &str, hardware: &str, count: u32) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    let Work::Count { hardware: lines, .. } = &state.plan.operations[at].work else {
        return Err(Refusal::field("operation", format!("`{id}` counts no hardware")));
    };
    if !lines.iter().any(|line| line.id == hardware) {
        let there: Vec<&str> = lines.iter().map(|line| line.id.as_str()).collect();
        let message = format!("no hardware of `{id}` is called `{hardware}`; there is {}", there.join(", "));
        return Err(Refusal::field("hardware", message));
    }
    if count > MOST {
        return Err(Refusal::field("count", format!("a whole number from 0 to {MOST} is needed")));
    }
    let (operation, hardware) = (id.to_owned(), hardware.to_owned());
    Ok(starting(state, at, Fact::Counted { operation, hardware, count }))
}

impl State {
    pub(super) fn enter_counted(
        &mut self,
        operation: &str,
        hardware: &str,
        count: u32,
        stamp: Stamp,
    ) -> Option<Entry> {
        let (at, planned) = self.plan.operation(operation)?;
        let Work::Count { hardware: lines, .. } = &planned.work else { return None };
        let line = lines.iter().position(|line| line.id == hardware)?;
        self.lapse(at);
        let counted = &mut self.operations[at].counted;
        counted.push(Counted { stamp, line, count, voided: None, accepted: None });
        Some(Entry::Counted(at, counted.len() - 1))
    }

    /// The count of one kind that counts: the last one that was not voided.
    pub(super) fn counted(&self, operation: usize, line: usize) -> Option<&Counted> {
        let counts = |counted: &&Counted| counted.line == line && counted.voided.is_none();
        self.operations[operation].counted.iter().rev().find(counts)
    }

    /// Every kind of hardware of an operation with what was counted.
    pub fn counts(&self, operation: usize) -> Vec<CountView> {
        let Work::Count { hardware, back_of } = &self.plan.operations[operation].work else {
            return Vec::new();
        };
        let before = back_of.as_ref().and_then(|id| self.plan.operation(id)).map(|(at, _)| at);
        let view = |(line, planned): (usize, &Hardware)| {
            let back = before.is_some();
            let out = before.and_then(|at| self.counted(at, line)).map(|counted| counted.count);
            let left_over = out.unwrap_or(planned.count).saturating_sub(planned.count);
            let expected = if back { left_over } else { planned.count };
            let counted = self.counted(operation, line);
            let difference = counted.and_then(|c| difference(planned, expected, c.count, back));
            CountView {
                id: planned.id.clone(),
                name: planned.name.clone(),
                needed: planned.count,
                expected,
                back,
                out,
                count: counted.map(|c| c.count),
                difference,
                accepted: counted.and_then(|c| c.accepted.as_ref()).map(|a| a.reason.clone()),
                by: counted.map(|c| c.stamp.by.name.clone()),
                at: counted.map(|c| c.stamp.at),
                seq: counted.map(|c| c.stamp.seq),
            }
        };
        hardware.iter().enumerate().map(view).collect()
    }

    /// Differences nobody stands for.
    pub(super) fn matters_of_counts(&self, operation: usize) -> Vec<Matter> {
        let matter = |view: CountView| {
            let what = view.difference.filter(|_| view.accepted.is_none())?;
            Some(Matter {
                seq: view.seq?,
                subject: None,
                operation: self.plan.operations[operation].id.clone(),
                fastener: None,
                what,
                now: "Look again and count again, or a lead accepts it".to_owned(),
                remedies: vec![Remedy::Void, Remedy::Accept],
            })
        };
        self.counts(operation).into_iter().filter_map(matter).collect()
    }
}

/// What a count that differs means. Counting out, spares on the tray are no fault: they are
/// expected back.
fn difference(planned: &Hardware, expected: u32, count: u32, back: bool) -> Option<String> {
    let name = &planned.name;
    let off = expected.abs_diff(count);
    match (back, count > expected, off) {
        (_, _, 0) | (false, true, _) => None,
        (false, false, _) => Some(format!("{name}: {count} of {expected} there, {off} missing")),
        (true, true, _) => Some(format!("{name}: {off} left over, so {off} missing in the engine")),
        (true, false, _) => {
            Some(format!("{name}: {off} fewer back than there should be, lost or one too many in the engine"))
        }
    }
}

//! What is waited for, as screens show it.

use super::state::Blocker;
use crate::events::BlockerKind;
use crate::iso_date;
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::OperationIx;
use serde::{Deserialize, Serialize};
use time::{Date, OffsetDateTime};

/// Something that work waits for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BlockerView {
    /// The entry by which it began.
    pub seq: u64,
    /// What kind of thing it is.
    pub kind: BlockerKind,
    /// What it is, or why.
    pub what: String,
    /// What the part is called, where it is one.
    pub slot: Option<String>,
    /// What the operations are called that wait for it; none where all of the engine does.
    pub holds: Vec<String>,
    /// The day it is expected.
    #[serde(with = "iso_date::option")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<String>))]
    pub expected: Option<Date>,
    /// Who said so.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who said that it is there.
    pub over_by: Option<String>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub over_at: Option<OffsetDateTime>,
}

/// The day an engine was promised for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PromiseView {
    /// The entry, so that it can be voided.
    pub seq: u64,
    /// The day.
    #[serde(with = "iso_date")]
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub by: Date,
    /// To whom, or why it changed.
    pub note: String,
}

impl BlockerKind {
    /// What is waited for, in words.
    pub(crate) fn words(self, what: &str) -> Message {
        match self {
            Self::Order => message!("assembly-on-order", what),
            Self::Away => message!("assembly-away", what),
            Self::Hold => message!("assembly-hold-end", what),
        }
    }
}

impl BuildState {
    /// The entry by which something came: somebody said so, or the part was entered.
    pub(super) fn came(&self, awaited: &Blocker) -> Option<u64> {
        let entered = awaited.slot.and_then(|slot| self.parts().latest(slot));
        self.waits().over(awaited).or(entered.map(|entry| entry.seq).filter(|seq| *seq > awaited.seq))
    }

    /// What is waited for still.
    pub(crate) fn awaited(&self) -> impl Iterator<Item = &Blocker> {
        self.waits().counting(self.ledger()).filter(|awaited| self.came(awaited).is_none())
    }

    /// What outside of the bench an operation waits for.
    pub(crate) fn waits_outside(&self, at: OperationIx) -> impl Iterator<Item = &Blocker> {
        self.awaited().filter(move |awaited| awaited.holds(at))
    }

    /// The same in words.
    pub(crate) fn waits_outside_in_words(&self, at: OperationIx) -> impl Iterator<Item = Message> {
        self.waits_outside(at).map(|awaited| awaited.fact.kind.words(&awaited.fact.what))
    }

    /// What is waited for, the last one first, and what was.
    pub fn waits_and_past(&self) -> Vec<BlockerView> {
        let view = |awaited: &Blocker| {
            let mark = self.ledger().mark(awaited.seq)?;
            let over = self.came(awaited).and_then(|seq| self.ledger().mark(seq));
            let holds = awaited.holds.iter().flatten();
            Some(BlockerView {
                seq: awaited.seq,
                kind: awaited.fact.kind,
                what: awaited.fact.what.clone(),
                slot: awaited.slot.map(|slot| self.plan[slot].name.clone()),
                holds: holds.map(|at| self.plan[*at].name.clone()).collect(),
                expected: awaited.fact.expected,
                by: mark.stamp.by.name.clone(),
                at: mark.stamp.at,
                over_by: over.map(|mark| mark.stamp.by.name.clone()),
                over_at: over.map(|mark| mark.stamp.at),
            })
        };
        let mut waits: Vec<BlockerView> = self.waits().counting(self.ledger()).filter_map(view).collect();
        waits.reverse();
        waits.sort_by_key(|wait| wait.over_at.is_some());
        waits
    }

    /// The day it was promised for.
    pub fn promised(&self) -> Option<PromiseView> {
        let (seq, promise) = self.waits().promised()?;
        Some(PromiseView { seq, by: promise.by, note: promise.note.clone() })
    }
}

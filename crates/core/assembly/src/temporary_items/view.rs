//! What is in an engine, and what that holds.

use super::state::TemporaryItem;
use crate::state::BuildState;
use crate::status::issue::{Issue, Remedy};
use rigore_mechanics::message;
use rigore_plan::OperationIx;
use serde::Serialize;
use time::OffsetDateTime;

/// Something that went in for the work.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TemporaryItemView {
    /// The entry by which it went in.
    pub seq: u64,
    /// What it is.
    pub what: String,
    /// How many.
    pub count: u32,
    /// What the operation is called that it went in at.
    pub operation_name: String,
    /// Who put it in.
    pub by: String,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// What the operation is called that it comes out at, where the plan says so.
    pub until: Option<String>,
    /// Who took it out.
    pub out_by: Option<String>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub out_at: Option<OffsetDateTime>,
}

impl BuildState {
    /// The entry by which something came out.
    fn came_out(&self, aid: &TemporaryItem) -> Option<u64> {
        let item = aid.comes_out(&self.plan).and_then(|item| self.confirmed().latest(item));
        self.inside().out(aid).or(item.map(|done| done.seq).filter(|seq| *seq > aid.seq))
    }

    /// Whether something that went in is in still.
    pub(super) fn is_in(&self, aid: &TemporaryItem) -> bool {
        self.stands(aid) && self.came_out(aid).is_none()
    }

    /// What an item put in is in as long as the item counts.
    fn stands(&self, aid: &TemporaryItem) -> bool {
        let Some(item) = aid.item else { return true };
        self.confirmed().latest((aid.operation, item)).is_some_and(|done| done.seq == aid.seq)
    }

    /// What is in and has to be out before an operation closes over it.
    pub(crate) fn in_the_way(&self, at: OperationIx) -> impl Iterator<Item = &TemporaryItem> {
        let closes = self.plan[at].closes;
        let stays = move |aid: &TemporaryItem| aid.comes_out(&self.plan).is_some_and(|(out, _)| out >= at);
        let inside = self.inside().counting(self.ledger()).filter(move |_| closes);
        inside.filter(move |aid| self.is_in(aid) && !stays(aid))
    }

    /// What has to come out before an operation is started, in words.
    pub(crate) fn to_come_out(&self, at: OperationIx) -> Vec<String> {
        self.in_the_way(at).map(words).collect()
    }

    /// What was closed over.
    pub(crate) fn issues_of_inside(&self, at: OperationIx) -> Vec<Issue> {
        if !self.plan[at].closes || !self.is_touched(at) {
            return Vec::new();
        }
        let issue = |aid: &TemporaryItem| Issue {
            seq: aid.seq,
            subject: None,
            operation: self.plan[at].id.clone(),
            joint: None,
            fastener: None,
            text: message!("assembly-still", aid = words(aid)),
            to_do: message!("assembly-open-remove", what = aid.what),
            remedies: vec![Remedy::TakeOut, Remedy::Void],
        };
        self.in_the_way(at).map(issue).collect()
    }

    /// Whether anything was done in an operation.
    fn is_touched(&self, at: OperationIx) -> bool {
        self.operations().started(at).is_some()
            || self.operations().signed(at).is_some()
            || self.progress(at).0 > 0
    }

    /// Everything that went in, what is in still first.
    pub fn aids(&self) -> Vec<TemporaryItemView> {
        let standing = self.inside().counting(self.ledger()).filter(|aid| self.stands(aid));
        let view = |aid: &TemporaryItem| {
            let mark = self.ledger().mark(aid.seq)?;
            let out = self.came_out(aid).and_then(|seq| self.ledger().mark(seq));
            Some(TemporaryItemView {
                seq: aid.seq,
                what: aid.what.clone(),
                count: aid.count,
                operation_name: self.plan[aid.operation].name.clone(),
                by: mark.stamp.by.name.clone(),
                at: mark.stamp.at,
                until: aid.comes_out(&self.plan).map(|(at, _)| self.plan[at].name.clone()),
                out_by: out.map(|mark| mark.stamp.by.name.clone()),
                out_at: out.map(|mark| mark.stamp.at),
            })
        };
        let mut aids: Vec<TemporaryItemView> = standing.filter_map(view).collect();
        aids.sort_by_key(|aid| aid.out_at.is_some());
        aids
    }
}

fn words(aid: &TemporaryItem) -> String {
    if aid.count == 1 { aid.what.clone() } else { format!("{} × {}", aid.count, aid.what) }
}

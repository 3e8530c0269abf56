//! A build in one row of the shop, kept up entry by entry.

use crate::events::Event;
use crate::projections::durations::OperationDuration;
use crate::projections::friction::PlaceFriction;
use crate::projections::outlook::{BuildOutlook, OutlookBasis};
use crate::projections::part_life::PieceLifeUpdate;
use crate::state::BuildState;
use crate::state::entry_topic::EntryTopic;
use crate::status::operations::{OperationBrief, OperationStatus};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_plan::{OperationIx, OperationWork};
use serde::{Deserialize, Serialize};
use std::sync::OnceLock;
use time::OffsetDateTime;

/// Where a build stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BuildStatus {
    /// Nothing is done yet.
    TakenIn,
    /// Work is going on.
    InWork,
    /// Something is open that has to be mended or accepted.
    Held,
    /// Signed off.
    Finished,
}

impl BuildStatus {
    /// Every status, in the order a list shows them.
    pub const ALL: [Self; 4] = [Self::Held, Self::InWork, Self::TakenIn, Self::Finished];
    /// Those of engines that are still in the shop.
    pub const OPEN: [Self; 3] = [Self::Held, Self::InWork, Self::TakenIn];

    /// The word it is written with.
    pub fn word(self) -> &'static str {
        match self {
            Self::TakenIn => "taken-in",
            Self::InWork => "in-work",
            Self::Held => "held",
            Self::Finished => "finished",
        }
    }
}

/// A build in one row of the shop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BuildSummary {
    /// What the engine is called in the shop.
    pub name: String,
    /// The name of its plan.
    pub plan: String,
    /// Where it stands.
    pub status: BuildStatus,
    /// The operation in hand, or the first that can be started.
    pub operation: Option<String>,
    /// Its name.
    pub operation_name: Option<String>,
    /// What can be done now, in one line.
    pub now: Message,
    /// Operations signed.
    pub signed: usize,
    /// Operations in all.
    pub operations: usize,
    /// Open issues.
    #[serde(alias = "matters")]
    pub issues: usize,
    /// Figures of its plan that operations wait for and nobody has looked up yet.
    #[serde(default)]
    pub wanted: usize,
    /// How many of them there are besides the one that `now` names.
    #[serde(default)]
    pub wanted_besides: usize,
    /// When something was last recorded.
    #[serde(with = "time::serde::rfc3339::option")]
    pub touched: Option<OffsetDateTime>,
}

/// A build with its row: after an entry only what the entry moved is looked at again.
#[derive(Debug, Clone)]
pub struct BuildProjection {
    state: BuildState,
    briefs: Vec<OperationBrief>,
    /// How operations stood when the outlook was asked for last.
    told: Option<OutlookBasis>,
    /// Whether something else of it changed since.
    besides: bool,
    /// Where the last entry was made, and by whom.
    hand: Option<(Option<String>, String)>,
    /// What entries were about since that was looked at last.
    touched: Vec<EntryTopic>,
    /// Where every operation stands, once somebody has asked since the last entry.
    statuses: OnceLock<Vec<OperationStatus>>,
}

impl BuildProjection {
    /// A build with its row.
    pub fn new(state: BuildState) -> Self {
        Self {
            briefs: state.briefs().0,
            state,
            told: None,
            besides: false,
            hand: None,
            touched: Vec::new(),
            statuses: OnceLock::new(),
        }
    }

    /// A build that goes on by another version of its plan: everything beside the record may have changed.
    pub fn moved(state: BuildState) -> Self {
        let touched = state.ledger().things().collect();
        Self { touched, ..Self::new(state) }
    }

    /// The build.
    pub fn state(&self) -> &BuildState {
        &self.state
    }

    /// The build with its row after one more event.
    pub fn apply(&mut self, event: &Event) {
        self.besides |= OutlookBasis::besides(event, self.hand.as_ref());
        if self.besides {
            self.hand = Some((event.fact.operation().map(str::to_owned), event.by.id.clone()));
        }
        let changed = self.state.apply(event);
        for at in changed.moved {
            self.briefs[at.0] = self.state.brief(at);
        }
        self.touched.extend(changed.touched);
        self.statuses.take();
    }

    fn statuses(&self) -> &[OperationStatus] {
        self.statuses.get_or_init(|| self.state.statuses(&self.briefs))
    }

    /// What is kept beside the record, as far as it may have changed since that was asked for last: what bolts
    /// have shown of their friction, and the lives of parts.
    pub fn take_changes(&mut self) -> (Vec<PlaceFriction>, Vec<PieceLifeUpdate>) {
        let touched = std::mem::take(&mut self.touched);
        (self.state.shown_anew(&touched), self.state.changed_part_lives(&touched))
    }

    /// What the engine says for the day, and how long operations took that were signed or opened again, where that
    /// may have changed since it was asked for last.
    pub fn take_changed_outlook(&mut self) -> Option<(BuildOutlook, Vec<OperationDuration>)> {
        let now = OutlookBasis::of(self.statuses(), &self.briefs);
        if !std::mem::take(&mut self.besides) && self.told.as_ref() == Some(&now) {
            return None;
        }
        let signed: Vec<OperationIx> = match &self.told {
            Some(before) => now.signed_since(before).collect(),
            None => self.state.plan.line().collect(),
        };
        self.told = Some(now);
        Some((self.state.outlook(self.statuses(), &self.briefs), self.state.durations(&signed)))
    }

    /// What the engine says for the day is kept as of now.
    pub fn mark_outlook_stored(&mut self) {
        self.told = Some(OutlookBasis::of(self.statuses(), &self.briefs));
        self.besides = false;
    }

    /// The row.
    pub fn summary(&self) -> BuildSummary {
        self.state.summary_of(&self.briefs, self.statuses())
    }

    /// What the engine can be found by: its name, owner, number, and its parts' batches and serials.
    pub fn words(&self) -> String {
        let state = &self.state;
        let begun = &state.begun;
        let parts =
            (0..state.plan.slots.len()).filter_map(|slot| state.parts().latest(rigore_plan::SlotIx(slot)));
        let of_parts =
            parts.flat_map(|entry| [entry.value.note.serial.as_str(), entry.value.note.batch.as_str()]);
        let about = [Some(begun.name.as_str()), begun.owner.as_deref(), begun.identity.as_deref()];
        let mut words: Vec<&str> = about.into_iter().flatten().chain(of_parts).collect();
        words.retain(|word| !word.is_empty());
        words.dedup();
        words.join("\n").to_lowercase()
    }
}

impl BuildState {
    /// The build in one row, computed anew.
    pub fn summary(&self) -> BuildSummary {
        let briefs = self.briefs().0;
        self.summary_of(&briefs, &self.statuses(&briefs))
    }

    fn summary_of(&self, briefs: &[OperationBrief], statuses: &[OperationStatus]) -> BuildSummary {
        let current = current(statuses);
        let open = briefs.iter().find_map(|brief| brief.now.as_ref());
        let wanted = self.missing_figure_count();
        let named = if current.is_none() && open.is_none() { self.first_missing_figure() } else { None };
        let now = match (current, open) {
            (_, Some(now)) => now.clone(),
            (Some(at), None) if statuses[at.0] == OperationStatus::ToSign => {
                message!("assembly-sign", operation = &self.plan[at].name)
            }
            (Some(at), None) if briefs[at.0].total > 0 => briefs[at.0].next.clone(),
            (Some(at), None) => Message::from(&self.plan[at].name),
            (None, None) => match (named, self.awaited().next()) {
                (Some(figure), _) => message!("assembly-missing-spec", figure = &figure.what),
                (None, Some(awaited)) => {
                    let words = awaited.fact.kind.words(&awaited.fact.what);
                    message!("assembly-waits-for", words)
                }
                (None, None) => message!("assembly-finished"),
            },
        };
        BuildSummary {
            name: self.begun.name.clone(),
            plan: self.plan.name.clone(),
            status: self.build_status(statuses),
            operation: current.map(|at| self.plan[at].id.clone()),
            operation_name: current.map(|at| self.plan[at].name.clone()),
            now,
            signed: statuses.iter().filter(|status| **status == OperationStatus::Done).count(),
            operations: statuses.len(),
            issues: briefs.iter().map(|brief| brief.issues).sum(),
            wanted,
            wanted_besides: wanted - usize::from(named.is_some()),
            touched: Some(self.touched),
        }
    }

    /// Where every operation stands.
    pub(crate) fn statuses(&self, briefs: &[OperationBrief]) -> Vec<OperationStatus> {
        let waiting = self.waiting(briefs);
        let open = |at: OperationIx| self.operations().signed(at).is_none() || briefs[at.0].issues > 0;
        let status = |at: OperationIx| {
            let whole = matches!(self.plan[at].work, OperationWork::Sign);
            let waits =
                if whole { self.plan.line().any(|other| other != at && open(other)) } else { waiting[at.0] };
            self.status(at, &briefs[at.0], waits)
        };
        self.plan.line().map(status).collect()
    }

    pub(crate) fn build_status(&self, statuses: &[OperationStatus]) -> BuildStatus {
        if statuses.contains(&OperationStatus::Held) {
            BuildStatus::Held
        } else if statuses.iter().all(|status| *status == OperationStatus::Done) {
            BuildStatus::Finished
        } else if !self.operations().is_any_started() {
            BuildStatus::TakenIn
        } else {
            BuildStatus::InWork
        }
    }
}

/// The operation in hand, or the first that can be started.
pub(crate) fn current(statuses: &[OperationStatus]) -> Option<OperationIx> {
    use OperationStatus::{Held, InWork, Ready, ToSign};
    let first = |wanted| statuses.iter().position(|status| *status == wanted).map(OperationIx);
    [Held, InWork, ToSign, Ready].into_iter().find_map(first)
}

#[cfg(test)]
mod tests {
    use super::{BuildStatus, BuildSummary};

    #[test]
    fn a_row_that_an_earlier_rigore_kept_reads() {
        let kept = r#"{"now": "Enter Block", "name": "Tarn 5 no. 14", "plan": "Tarn 5", "signed": 0, "status": "taken-in",
            "matters": 2, "touched": "2026-11-30T04:20:53.787127Z", "operation": "take-in", "operations": 76,
            "operation_name": "Log parts in"}"#;
        let row: BuildSummary = serde_json::from_str(kept).expect("it reads");
        assert_eq!((row.issues, row.status, row.wanted), (2, BuildStatus::TakenIn, 0));
    }
}

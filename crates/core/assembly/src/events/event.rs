//! One entry of the record.

use super::count::CountCommand;
use super::doubt::DoubtCommand;
use super::finding::{FindingCommand, FindingDecisionCommand, FindingReviewCommand};
use super::inside::{TemporaryItemCommand, TemporaryItemRemoval};
use super::instrument::Instrument;
use super::items::ConfirmCommand;
use super::line::{
    ApproveCommand, BuildStart, OperationStart, PlanMoveEntry, SignCommand, SkipCommand, VoidCommand,
};
use super::lubricate::{LubricantEntry, LubricantPolicyCommand};
use super::measure::{DecisionRuleCommand, MeasurementEntry, ShellChoiceCommand, ShellCountCommand};
use super::parts::{FitCommand, PartRemarkCommand};
use super::person::Person;
use super::tighten::{ActionEntry, FurtherPullEntry, LooseningEntry, PullEntry, WrenchSettingEntry};
use super::turn::TurnEntry;
use super::waits::{BlockerCommand, BlockerEnd, DueDate};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use uuid::Uuid;

/// The version of the event format that is written. Older ones keep being read.
pub const EVENT_FORMAT: u8 = 1;

/// One fact with who, when and in which order (C-3).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Event {
    /// Format version.
    pub v: u8,
    /// Place in the build's record, from 1.
    pub seq: u64,
    /// When it was recorded.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who recorded it.
    pub by: Person,
    /// The command that it answers.
    pub command: Uuid,
    /// The fingerprint of what that command asked for, in the first entry that it led to: the same id with another
    /// content is another command. None of before there were fingerprints.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub request: Option<String>,
    /// What happened.
    pub fact: Fact,
}

/// What happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "kebab-case")]
pub enum Fact {
    /// A build was begun.
    Begun(BuildStart),
    /// It goes on by another version of its plan.
    Moved(PlanMoveEntry),
    /// Something was measured.
    Measured(MeasurementEntry),
    /// Shells were chosen for one bore.
    ShellsChosen(ShellChoiceCommand),
    /// Shells of a grade at hand were counted.
    ShellsCounted(ShellCountCommand),
    /// The crankshaft was turned.
    Turned(TurnEntry),
    /// A part was entered into its slot.
    Fitted(FitCommand),
    /// Something was said of a part.
    PartRemarked(PartRemarkCommand),
    /// Hardware was counted.
    Counted(CountCommand),
    /// An operation was left out.
    Skipped(SkipCommand),
    /// Work on an operation was started.
    Started(OperationStart),
    /// An item of an operation was confirmed.
    Confirmed(ConfirmCommand),
    /// A click wrench was set.
    WrenchSet(WrenchSettingEntry),
    /// What the fasteners of a group turn on.
    Lubricated(Box<LubricantEntry>),
    /// What is done with torques where another lubricant is used.
    PolicySet(LubricantPolicyCommand),
    /// By which rule measured values are judged.
    DecisionRuleSet(DecisionRuleCommand),
    /// A wrench was pulled.
    Pulled(PullEntry),
    /// A fastener may be pulled further than the plan allows.
    Allowed(FurtherPullEntry),
    /// Something was done by hand between pulls.
    Acted(ActionEntry),
    /// A fastener was loosened.
    Loosened(LooseningEntry),
    /// A finding was reported.
    Found(FindingCommand),
    /// A lead decided what is done about a finding.
    FindingDecided(FindingDecisionCommand),
    /// A finding was looked at again.
    LookedAgain(FindingReviewCommand),
    /// Something went in that has to come out again.
    PutIn(TemporaryItemCommand),
    /// It came out.
    TakenOut(TemporaryItemRemoval),
    /// Work waits for something.
    Awaited(BlockerCommand),
    /// It is there.
    WaitEnded(BlockerEnd),
    /// The engine was promised for a day.
    Promised(DueDate),
    /// What was read with an instrument is in doubt.
    Doubted(DoubtCommand),
    /// An earlier entry does not count.
    Voided(VoidCommand),
    /// A deviation was accepted by a lead.
    Accepted(ApproveCommand),
    /// An operation was signed.
    Signed(SignCommand),
}

impl Fact {
    /// The instrument that it was read with; none where it was no reading, or told by hand and eye.
    pub fn read_with(&self) -> Option<&Instrument> {
        let instrument = match self {
            Self::Measured(fact) => Some(&fact.instrument),
            Self::Pulled(fact) => Some(&fact.instrument),
            Self::Loosened(fact) => fact.instrument.as_ref(),
            _ => None,
        };
        instrument.filter(|instrument| !instrument.by_eye())
    }

    /// Key of the operation it was recorded in; none where it is about an entry or the build.
    pub fn operation(&self) -> Option<&str> {
        Some(match self {
            Self::Measured(fact) => &fact.operation,
            Self::ShellsChosen(fact) => &fact.operation,
            Self::ShellsCounted(fact) => &fact.operation,
            Self::Turned(fact) => &fact.operation,
            Self::Fitted(fact) => &fact.operation,
            Self::PartRemarked(fact) => &fact.operation,
            Self::Counted(fact) => &fact.operation,
            Self::Skipped(fact) => &fact.operation,
            Self::Started(fact) => &fact.operation,
            Self::Confirmed(fact) => &fact.operation,
            Self::WrenchSet(fact) => &fact.operation,
            Self::Lubricated(fact) => &fact.operation,
            Self::Pulled(fact) => &fact.operation,
            Self::Allowed(fact) => &fact.operation,
            Self::Acted(fact) => &fact.operation,
            Self::Loosened(fact) => &fact.operation,
            Self::Signed(fact) => &fact.operation,
            Self::Found(fact) => &fact.operation,
            Self::PutIn(fact) => &fact.operation,
            Self::TakenOut(fact) => &fact.operation,
            Self::Begun(_)
            | Self::Moved(_)
            | Self::Voided(_)
            | Self::Accepted(_)
            | Self::PolicySet(_)
            | Self::DecisionRuleSet(_)
            | Self::FindingDecided(_)
            | Self::Awaited(_)
            | Self::WaitEnded(_)
            | Self::Promised(_)
            | Self::Doubted(_)
            | Self::LookedAgain(_) => return None,
        })
    }
}

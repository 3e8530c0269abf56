//! What a client asks for, and the answer when it cannot be.

use super::count::CountCommand;
use super::doubt::DoubtCommand;
use super::finding::{FindingCommand, FindingDecisionCommand, FindingReviewCommand, Picture};
use super::inside::{TemporaryItemCommand, TemporaryItemRemoval};
use super::instrument::ReadingMethod;
use super::items::ConfirmCommand;
use super::line::{ApproveCommand, OperationStart, PlanMoveCommand, SignCommand, SkipCommand, VoidCommand};
use super::lubricate::{LubricantCommand, LubricantPolicyCommand};
use super::measure::{DecisionRuleCommand, MeasureCommand, ShellChoiceCommand, ShellCountCommand};
use super::parts::{FitCommand, PartRemarkCommand};
use super::tighten::{ActionCommand, FurtherPullCommand, LoosenCommand, PullCommand, WrenchSettingCommand};
use super::turn::TurnCommand;
use super::waits::{BlockerCommand, BlockerEnd, DueDate};
use rigore_mechanics::message::Message;
use serde::{Deserialize, Serialize};
use thiserror::Error;
use uuid::Uuid;

/// What a client asks for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Command {
    /// Made by the client; the same id twice is answered the same and recorded once.
    pub id: Uuid,
    /// The last entry the client had seen.
    pub seen: u64,
    /// What to do.
    #[serde(alias = "do")]
    pub action: CommandAction,
}

/// What to do.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "kebab-case")]
pub enum CommandAction {
    /// Record a reading.
    Measure(MeasureCommand),
    /// Choose shells for one bore.
    ChooseShells(ShellChoiceCommand),
    /// Record how many shells of a grade are at hand.
    CountShells(ShellCountCommand),
    /// Record a turn of the crankshaft.
    Turn(TurnCommand),
    /// Enter a part into its slot.
    Fit(FitCommand),
    /// Say something of a part.
    RemarkPart(PartRemarkCommand),
    /// Record a count of hardware.
    Count(CountCommand),
    /// Leave an operation out.
    Skip(SkipCommand),
    /// Start an operation.
    Start(OperationStart),
    /// Confirm an item.
    Confirm(ConfirmCommand),
    /// Record that a click wrench was set.
    SetWrench(WrenchSettingCommand),
    /// Record what the fasteners of a group turn on.
    Lubricate(LubricantCommand),
    /// Decide what is done with torques where another lubricant is used.
    SetPolicy(LubricantPolicyCommand),
    /// Decide by which rule measured values are judged.
    SetDecisionRule(DecisionRuleCommand),
    /// Record a pull.
    Pull(PullCommand),
    /// Let a fastener be pulled further than the plan allows.
    AllowFurther(FurtherPullCommand),
    /// Record that something was done by hand between pulls.
    Act(ActionCommand),
    /// Record that a fastener was loosened.
    Loosen(LoosenCommand),
    /// Record something that was found.
    Find(FindingCommand),
    /// Decide what is done about a finding.
    DecideFinding(FindingDecisionCommand),
    /// Record how a finding looks after it was mended or changed.
    LookAgain(FindingReviewCommand),
    /// Record that something went in that has to come out again.
    PutIn(TemporaryItemCommand),
    /// Record that it came out.
    TakeOut(TemporaryItemRemoval),
    /// Say that work waits for something.
    Await(BlockerCommand),
    /// Say that it is there.
    EndWait(BlockerEnd),
    /// Promise the engine for a day.
    Promise(DueDate),
    /// Say that what was read with an instrument is in doubt.
    Doubt(DoubtCommand),
    /// Void an entry.
    Void(VoidCommand),
    /// Accept a deviation.
    Accept(ApproveCommand),
    /// Sign an operation.
    Sign(SignCommand),
    /// Go on by another version of the plan.
    MoveTo(PlanMoveCommand),
}

impl CommandAction {
    /// Key of the instrument that it names, where it names one.
    pub fn instrument(&self) -> Option<&str> {
        match self {
            Self::Pull(pull) => Some(&pull.instrument),
            Self::SetWrench(set) => Some(&set.instrument),
            Self::Act(act) => act.instrument.as_deref(),
            Self::Loosen(loosen) => loosen.instrument.as_deref(),
            Self::Measure(measure) => Some(&measure.instrument),
            _ => None,
        }
    }

    /// The picture that it comes with, where it comes with one.
    pub fn picture(&self) -> Option<&Picture> {
        match self {
            Self::Find(find) => find.picture.as_ref(),
            Self::LookAgain(look) => look.picture.as_ref(),
            _ => None,
        }
    }

    /// Key of the wrench whose click it records, where it records one.
    pub fn clicked(&self) -> Option<&str> {
        match self {
            Self::Pull(pull) if pull.method == ReadingMethod::Clicked => Some(&pull.instrument),
            _ => None,
        }
    }
}

/// Why a command was refused.
#[derive(Debug, Clone, PartialEq, Error)]
#[error("{}", message.in_base_units())]
pub struct Refusal {
    /// Of which kind.
    pub kind: RefusalKind,
    /// The field at fault, where it is one.
    pub field: Option<&'static str>,
    /// What is wrong and what to do.
    pub message: Message,
}

/// Kinds of refusal.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum RefusalKind {
    /// A field is wrong.
    Field,
    /// The person may not do this.
    NotAllowed,
    /// Something has to be done first.
    NotYet,
    /// Somebody recorded the same in the meantime.
    Stale,
    /// It is unlikely: send it again with `sure` to keep it as it is.
    Ask,
}

impl Refusal {
    /// A field is wrong.
    pub fn field(field: &'static str, message: impl Into<Message>) -> Self {
        Self { kind: RefusalKind::Field, field: Some(field), message: message.into() }
    }

    /// Refused for another reason.
    pub fn of(kind: RefusalKind, message: impl Into<Message>) -> Self {
        Self { kind, field: None, message: message.into() }
    }
}

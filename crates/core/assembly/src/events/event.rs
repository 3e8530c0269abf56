//! One entry of the record.

use super::count::Count;
use super::doubt::Doubt;
use super::finding::{DecideFinding, Find, LookAgain};
use super::inside::{PutIn, TakeOut};
use super::instrument::Instrument;
use super::items::Confirm;
use super::line::{Accept, Begin, Moved, Sign, Skip, Start, Void};
use super::lubricate::{Lubricated, SetPolicy};
use super::measure::{ChooseShells, CountShells, Measured, SetDecisionRule};
use super::parts::{Fit, RemarkPart};
use super::person::Person;
use super::tighten::{Acted, Allowed, Loosened, Pulled, WrenchSet};
use super::turn::Turned;
use super::waits::{Await, EndWait, Promise};
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
    Begun(Begin),
    /// It goes on by another version of its plan.
    Moved(Moved),
    /// Something was measured.
    Measured(Measured),
    /// Shells were chosen for one bore.
    ShellsChosen(ChooseShells),
    /// Shells of a grade at hand were counted.
    ShellsCounted(CountShells),
    /// The crankshaft was turned.
    Turned(Turned),
    /// A part was entered into its slot.
    Fitted(Fit),
    /// Something was said of a part.
    PartRemarked(RemarkPart),
    /// Hardware was counted.
    Counted(Count),
    /// An operation was left out.
    Skipped(Skip),
    /// Work on an operation was started.
    Started(Start),
    /// An item of an operation was confirmed.
    Confirmed(Confirm),
    /// A click wrench was set.
    WrenchSet(WrenchSet),
    /// What the fasteners of a group turn on.
    Lubricated(Box<Lubricated>),
    /// What is done with torques where another lubricant is used.
    PolicySet(SetPolicy),
    /// By which rule measured values are judged.
    DecisionRuleSet(SetDecisionRule),
    /// A wrench was pulled.
    Pulled(Pulled),
    /// A fastener may be pulled further than the plan allows.
    Allowed(Allowed),
    /// Something was done by hand between pulls.
    Acted(Acted),
    /// A fastener was loosened.
    Loosened(Loosened),
    /// Something was found.
    Found(Find),
    /// A lead decided what is done about a finding.
    FindingDecided(DecideFinding),
    /// A finding was looked at again.
    LookedAgain(LookAgain),
    /// Something went in that has to come out again.
    PutIn(PutIn),
    /// It came out.
    TakenOut(TakeOut),
    /// Work waits for something.
    Awaited(Await),
    /// It is there.
    WaitEnded(EndWait),
    /// The engine was promised for a day.
    Promised(Promise),
    /// What was read with an instrument is in doubt.
    Doubted(Doubt),
    /// An earlier entry does not count.
    Voided(Void),
    /// A deviation was accepted by a lead.
    Accepted(Accept),
    /// An operation was signed.
    Signed(Sign),
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

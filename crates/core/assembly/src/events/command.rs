//! What a client asks for, and the answer when it cannot be.

use super::count::Count;
use super::doubt::Doubt;
use super::finding::{DecideFinding, Find, LookAgain, Picture};
use super::inside::{PutIn, TakeOut};
use super::instrument::Method;
use super::items::Confirm;
use super::line::{Accept, MoveTo, Sign, Skip, Start, Void};
use super::lubricate::{Lubricate, SetPolicy};
use super::measure::{ChooseShells, CountShells, Measure, SetDecisionRule};
use super::parts::{Fit, RemarkPart};
use super::tighten::{Act, AllowFurther, Loosen, Pull, SetWrench};
use super::turn::Turn;
use super::waits::{Await, EndWait, Promise};
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
    #[serde(rename = "do")]
    pub what: Do,
}

/// What to do.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "kebab-case")]
pub enum Do {
    /// Record a reading.
    Measure(Measure),
    /// Choose shells for one bore.
    ChooseShells(ChooseShells),
    /// Record how many shells of a grade are at hand.
    CountShells(CountShells),
    /// Record a turn of the crankshaft.
    Turn(Turn),
    /// Enter a part into its slot.
    Fit(Fit),
    /// Say something of a part.
    RemarkPart(RemarkPart),
    /// Record a count of hardware.
    Count(Count),
    /// Leave an operation out.
    Skip(Skip),
    /// Start an operation.
    Start(Start),
    /// Confirm an item.
    Confirm(Confirm),
    /// Record that a click wrench was set.
    SetWrench(SetWrench),
    /// Record what the fasteners of a group turn on.
    Lubricate(Lubricate),
    /// Decide what is done with torques where another lubricant is used.
    SetPolicy(SetPolicy),
    /// Decide by which rule measured values are judged.
    SetDecisionRule(SetDecisionRule),
    /// Record a pull.
    Pull(Pull),
    /// Let a fastener be pulled further than the plan allows.
    AllowFurther(AllowFurther),
    /// Record that something was done by hand between pulls.
    Act(Act),
    /// Record that a fastener was loosened.
    Loosen(Loosen),
    /// Record something that was found.
    Find(Find),
    /// Decide what is done about a finding.
    DecideFinding(DecideFinding),
    /// Record how a finding looks after it was mended or changed.
    LookAgain(LookAgain),
    /// Record that something went in that has to come out again.
    PutIn(PutIn),
    /// Record that it came out.
    TakeOut(TakeOut),
    /// Say that work waits for something.
    Await(Await),
    /// Say that it is there.
    EndWait(EndWait),
    /// Promise the engine for a day.
    Promise(Promise),
    /// Say that what was read with an instrument is in doubt.
    Doubt(Doubt),
    /// Void an entry.
    Void(Void),
    /// Accept a deviation.
    Accept(Accept),
    /// Sign an operation.
    Sign(Sign),
    /// Go on by another version of the plan.
    MoveTo(MoveTo),
}

impl Do {
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
            Self::Pull(pull) if pull.method == Method::Clicked => Some(&pull.instrument),
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

/// What was written is said again up to so many characters.
const SAID_AGAIN: usize = 40;

/// A message in which what stands between backticks is not longer than anybody reads.
fn short(message: &str) -> String {
    let part = |(at, part): (usize, &str)| {
        if at % 2 == 0 || part.chars().count() <= SAID_AGAIN {
            return part.to_owned();
        }
        part.chars().take(SAID_AGAIN).chain(['…']).collect()
    };
    message.split('`').enumerate().map(part).collect::<Vec<_>>().join("`")
}

impl Refusal {
    /// A field is wrong.
    pub fn field(field: &'static str, message: impl Into<Message>) -> Self {
        Self { kind: RefusalKind::Field, field: Some(field), message: message.into().map_words(short) }
    }

    /// Refused for another reason.
    pub fn of(kind: RefusalKind, message: impl Into<Message>) -> Self {
        Self { kind, field: None, message: message.into() }
    }
}

//! What a client asks for, and the answer when it cannot be.

use super::event::{Instrument, Method, PartNote, Person, PlanRef};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use time::OffsetDateTime;
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
    /// Begin a build.
    Begin {
        /// What the engine is called in the shop.
        name: String,
        /// The plan.
        plan: PlanRef,
        /// What the engine is for, which chooses the windows of its clearances.
        #[serde(default, rename = "use")]
        use_for: Option<String>,
        /// Whose engine it is.
        #[serde(default)]
        owner: Option<String>,
        /// What the engine itself says it is: its number or mark.
        #[serde(default)]
        identity: Option<String>,
    },
    /// Record a reading.
    Measure {
        /// The operation.
        operation: String,
        /// Key of the site.
        site: String,
        /// The place on it, from 0.
        place: usize,
        /// What was read: text such as `54.987`, `2.165 in` or `+0.012 on 55`.
        text: String,
        /// Symbol of the unit that a bare number is in; mm or cm³ when left out.
        #[serde(default)]
        unit: Option<String>,
        /// Temperature of the part, °C.
        #[serde(default)]
        temperature_c: Option<f64>,
        /// Keep it although it is outside the plausible range.
        #[serde(default)]
        sure: bool,
        /// How it came in.
        method: Method,
        /// Key of the instrument.
        instrument: String,
    },
    /// Choose shells for one bore.
    ChooseShells {
        /// The operation.
        operation: String,
        /// Key of the clearance.
        clearance: String,
        /// Which bore, from 1.
        number: usize,
        /// Grade of the upper shell.
        upper: String,
        /// Grade of the lower shell.
        lower: String,
    },
    /// Record how many shells of a grade are at hand.
    CountShells {
        /// The operation.
        operation: String,
        /// Key of the clearance.
        clearance: String,
        /// The grade.
        grade: String,
        /// How many there are.
        count: u32,
    },
    /// Record a turn of the crankshaft.
    Turn {
        /// The operation.
        operation: String,
        /// Whether it turned freely.
        free: bool,
        /// Turning torque, where it was measured: text such as `4.5` or `40 lbf·in`.
        #[serde(default)]
        text: Option<String>,
        /// Symbol of the unit that a bare number is in; N·m when left out.
        #[serde(default)]
        unit: Option<String>,
    },
    /// Enter a part into its slot.
    Fit {
        /// The operation.
        operation: String,
        /// Key of the slot.
        slot: String,
        /// What it is.
        part: PartNote,
    },
    /// Record a count of hardware.
    Count {
        /// The operation.
        operation: String,
        /// Key of the hardware.
        hardware: String,
        /// How many there are.
        count: u32,
    },
    /// Leave an operation out.
    Skip {
        /// The operation.
        operation: String,
        /// Why.
        reason: String,
    },
    /// Start an operation.
    Start {
        /// The operation.
        operation: String,
    },
    /// Confirm an item.
    Confirm {
        /// The operation.
        operation: String,
        /// The item.
        item: String,
    },
    /// Record a pull.
    Pull {
        /// The operation.
        operation: String,
        /// The stage, from 0.
        stage: usize,
        /// The fastener.
        fastener: String,
        /// What was read.
        reading: Given,
        /// How it came in.
        method: Method,
        /// Key of the instrument.
        instrument: String,
    },
    /// Record an action between stages.
    Act {
        /// The operation.
        operation: String,
        /// The stage, from 0.
        stage: usize,
    },
    /// Record that a fastener was loosened.
    Loosen {
        /// The operation.
        operation: String,
        /// The fastener.
        fastener: String,
        /// Whether a new one went in.
        replaced: bool,
        /// Why.
        reason: String,
    },
    /// Void an entry.
    Void {
        /// The entry.
        seq: u64,
        /// Why.
        reason: String,
    },
    /// Accept a deviation.
    Accept {
        /// The entry that deviates.
        seq: u64,
        /// What about it: the subject of the matter.
        #[serde(default)]
        subject: Option<String>,
        /// Why it may stand.
        reason: String,
    },
    /// Sign an operation.
    Sign {
        /// The operation.
        operation: String,
    },
}

/// A reading as it comes in: what a person typed, or what an instrument sent.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Given {
    /// Typed text, such as `22 lbf·ft` or `80`.
    #[serde(default)]
    pub text: Option<String>,
    /// Symbol of the unit that a bare number is in; N·m and degrees when left out.
    #[serde(default)]
    pub unit: Option<String>,
    /// Torque sent by an instrument, N·m.
    #[serde(default)]
    pub torque_nm: Option<f64>,
    /// Angle sent by an instrument, degrees.
    #[serde(default)]
    pub angle_deg: Option<f64>,
}

/// What a decision needs besides the state.
#[derive(Debug, Clone)]
pub struct Context {
    /// Who asks.
    pub by: Person,
    /// When.
    pub at: OffsetDateTime,
    /// The instrument the command names, where it names one that is known.
    pub instrument: Option<Instrument>,
}

/// Why a command was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("{message}")]
pub struct Refusal {
    /// Of which kind.
    pub kind: RefusalKind,
    /// The field at fault, where it is one.
    pub field: Option<&'static str>,
    /// What is wrong and what to do.
    pub message: String,
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
    pub(super) fn field(field: &'static str, message: impl Into<String>) -> Self {
        Self { kind: RefusalKind::Field, field: Some(field), message: message.into() }
    }

    pub(super) fn of(kind: RefusalKind, message: impl Into<String>) -> Self {
        Self { kind, field: None, message: message.into() }
    }
}

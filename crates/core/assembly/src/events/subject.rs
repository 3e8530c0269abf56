//! What of an engine a lead can approve.
//!
//! A lead approves a subject on its basis. Approving names an entry or an `ApprovalSubject`; what it rested on then is
//! kept (`signatures/evidence.rs`), and an entry that was not there then makes it open again.

use serde::{Deserialize, Serialize};

/// What of an engine a lead can approve, where one entry may be at fault in more than one way.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum ApprovalSubject {
    /// One member of a clearance.
    Clearance {
        /// Key of the clearance.
        clearance: String,
        /// Which member, from 1.
        number: usize,
    },
    /// An instrument that an operation was measured with, for one fault it has.
    Instrument {
        /// Key of the operation.
        operation: String,
        /// Key of the instrument.
        instrument: String,
        /// What is wrong with it.
        fault: ToolFault,
    },
    /// What the crankshaft takes to turn.
    Turning {
        /// Key of the operation.
        operation: String,
    },
    /// An operation that was left out.
    LeftOut {
        /// Key of the operation.
        operation: String,
    },
    /// What was done in a stage under an earlier version of the plan, and would be judged otherwise now (C-48).
    Otherwise {
        /// Key of the operation.
        operation: String,
        /// Key of the joint.
        joint: String,
        /// The stage.
        stage: String,
    },
    /// Entries of one joint that were made out of order or too early, all of them together.
    OutOfOrder {
        /// Key of the operation.
        operation: String,
        /// Key of the joint.
        joint: String,
    },
    /// What was read in an operation with an instrument that was found wrong.
    Doubted {
        /// Key of the operation.
        operation: String,
        /// Key of the instrument.
        instrument: String,
    },
    /// A subject as the first edition wrote it; it is made out when the entry is applied.
    #[serde(untagged)]
    Written(String),
}

/// Why an instrument does not fit what it is to read (C-7).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum ToolFault {
    /// It does not measure such a thing.
    Kind,
    /// What is read lies outside its range.
    Range,
    /// Its calibration has run out.
    Calibration,
    /// Its last check found it wrong.
    Wrong,
    /// It is not in the shop.
    Away,
    /// It is kept for others.
    Kept,
}

//! What stands between an operation and its signature: faults to mend and deviations to accept.

use crate::events::ApprovalSubject;
use rigore_mechanics::message::Message;
use serde::Serialize;

/// A way to settle an issue.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Remedy {
    /// The entry is wrong: void it.
    Void,
    /// Loosen the fastener and do its stages again.
    Loosen,
    /// Loosen the fastener, put a new one in, and do its stages again.
    Replace,
    /// A lead accepts it with a reason.
    Accept,
    /// A lead lets the fastener be pulled further than the plan allows, up to its yield, with a reason.
    Further,
    /// A lead decides what is done about a finding.
    Decide,
    /// A finding that was mended or changed is looked at again.
    LookAgain,
    /// It has to come out.
    TakeOut,
}

/// Something open on a build.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Issue {
    /// The entry it comes from.
    pub seq: u64,
    /// What about it, where an entry may be at fault in more than one way.
    pub subject: Option<ApprovalSubject>,
    /// The operation it lies in.
    pub operation: String,
    /// The joint, where it is about one.
    pub joint: Option<String>,
    /// The fastener, where it is about one.
    pub fastener: Option<String>,
    /// What is wrong.
    pub text: Message,
    /// What has to be done now.
    pub to_do: Message,
    /// What settles it.
    pub remedies: Vec<Remedy>,
}

//! An instrument that was found wrong.

use rigore_mechanics::message::Message;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;

/// What was read with an instrument in some time is not to be relied on: a check found it wrong.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct DoubtCommand {
    /// Key of the instrument.
    pub instrument: String,
    /// What it is called.
    pub name: String,
    /// When it was known to be right last; none where that was never.
    #[serde(default, with = "time::serde::rfc3339::option", skip_serializing_if = "Option::is_none")]
    pub since: Option<OffsetDateTime>,
    /// When it was found wrong.
    #[serde(with = "time::serde::rfc3339")]
    pub until: OffsetDateTime,
    /// How it was found wrong.
    pub reason: Message,
}

impl DoubtCommand {
    /// Whether what was read at a time is in doubt.
    pub fn covers(&self, at: OffsetDateTime) -> bool {
        at <= self.until && self.since.is_none_or(|since| at > since)
    }
}

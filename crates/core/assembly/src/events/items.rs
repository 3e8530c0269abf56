//! Items that were confirmed.

use serde::{Deserialize, Serialize};

/// An item of an operation is confirmed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ConfirmCommand {
    /// The operation.
    pub operation: String,
    /// The item.
    pub item: String,
}

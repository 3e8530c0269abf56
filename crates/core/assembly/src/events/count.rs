//! Hardware that was counted.

use serde::{Deserialize, Serialize};

/// Hardware is counted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CountCommand {
    /// The operation.
    pub operation: String,
    /// Key of the hardware.
    pub hardware: String,
    /// How many there are.
    pub count: u32,
}

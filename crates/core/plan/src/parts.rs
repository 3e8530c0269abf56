//! What an engine is made of besides its joints: parts, loose hardware, and sketches of how they
//! lie.

use super::index::OperationIx;
use super::rework::ReworkCause;
use serde::Serialize;

/// A place for one part.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PartSlot {
    /// Key in the plan, such as `rod-3`.
    pub id: String,
    /// Key of the set it belongs to, such as `rod`.
    pub family: String,
    /// Which `[[slot]]` of the plan it comes from.
    pub set: usize,
    /// What the builder calls it.
    pub name: String,
    /// What it and the others of its set are called.
    pub kind: String,
    /// How many engines such a part may be in, where that is limited (C-16).
    pub uses_allowed: Option<u32>,
    /// Which of its set it is, such as `3` or `left`; empty where it is alone.
    pub member: String,
    /// Whether such a part carries the number or the side of its place (C-56).
    pub numbered: bool,
    /// Whether a used one goes back to the place that it was in (C-56).
    pub returns: bool,
    /// Sizes that it shares with other parts (C-55), by their places in [`crate::Plan::part_sizes`].
    pub sizes: Vec<usize>,
}

/// A size that parts of several slots have to share: journals ground under and shells thicker by as much (C-55).
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PartSize {
    /// Key in the plan.
    pub id: String,
    /// What it is called: `Main bearing size`.
    pub name: String,
    /// What it may be: `standard`, `0.25 mm under`.
    pub choices: Vec<String>,
}

/// A kind of loose hardware, and how many of it the engine takes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Hardware {
    /// Key in the operation.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// How many the engine takes.
    pub count: u32,
}

/// Hardware to be counted (C-6).
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HardwareCounting {
    /// The kinds of it.
    pub hardware: Vec<Hardware>,
    /// The operation that counted the same out before, where this counts back.
    pub back_of: Option<OperationIx>,
}

/// The crankshaft to be turned (C-33).
#[derive(Debug, Clone, PartialEq)]
pub struct TurningCheck {
    /// What was fitted last, to blame for a bind.
    pub suspect: String,
    /// The most that turning may take, N·m, where that is limited.
    pub most_nm: Option<f64>,
    /// The most that turning may take more than the time before, N·m, where that is limited.
    pub rise_nm: Option<f64>,
    /// What makes it be turned again.
    pub again: Vec<ReworkCause>,
}

/// How something lies, drawn.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum ItemSketch {
    /// Caps in a row, numbered from the front, every arrow forward.
    CapArrows {
        /// How many caps.
        caps: u32,
    },
    /// Shell tangs in their slots, both on one side.
    TangSide,
    /// Ring gaps round the piston, seen from above.
    RingClocking {
        /// The gaps.
        gaps: Vec<RingGap>,
    },
    /// A gasket with its front mark forward.
    GasketFront,
    /// A washer with its chamfer towards the head.
    WasherChamfer,
}

/// Where the gap of one ring goes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RingGap {
    /// Which ring.
    pub ring: String,
    /// Degrees clockwise from the front, seen from above.
    pub at_deg: f64,
}

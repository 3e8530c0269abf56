//! Fasteners as geometry and strength: threads, property classes, the shank.
//!
//! What a fastener costs in friction is in [`crate::friction`]; what it clamps is in
//! [`crate::joint`].

mod engagement;
mod strength;
mod thread;

pub use engagement::{engagement_needed_mm, strip_load};
pub use strength::{Strength, StrengthError};
pub use thread::{Series, Thread, ThreadError};

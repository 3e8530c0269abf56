//! Fasteners as geometry and strength: threads, property classes, the shank.
//!
//! What a fastener costs in friction is in [`crate::friction`]; what it clamps is in
//! [`crate::joint`].

mod engagement;
mod material;
mod strength;
mod thread;

pub use engagement::{Engagement, STRONGER, StrippingThread};
pub use material::Material;
pub use strength::{STRONGEST_MPA, Strength, StrengthError};
pub use thread::{Thread, ThreadError, ThreadSeries};

//! The engine plan: what should be done to one kind of engine.
//!
//! A plan is a TOML document (docs/plan-format.md). [`Plan::read`] reads it whole and reports every
//! fault at once, each with file, path and line; a plan with an error is not a plan. What was
//! done to an engine does not live here but in [`crate::build`].

mod document;
mod forecast;
mod measuring;
mod parts;
mod read;
mod read_joint;
mod read_measuring;
mod read_operations;
mod read_parts;
mod reader;

pub use document::*;
pub use forecast::Forecast;
pub use measuring::{Clearance, Cylinder, Place, Rule, Site, SiteForm, Size, UseWindow};
pub use parts::{Hardware, RingGap, Sketch, Slot};
pub use reader::{Fault, Severity};

impl Plan {
    /// Reads a plan, with the warnings it gives rise to.
    ///
    /// # Errors
    /// Every fault of the document, warnings included, in the order of its lines.
    pub fn read(file: &str, source: &str) -> Result<(Self, Vec<Fault>), Vec<Fault>> {
        read::plan(file, source)
    }
}

#[cfg(test)]
mod tests;

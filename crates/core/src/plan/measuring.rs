//! What of an engine is measured, and the clearances that follow.

use crate::clearance::{ShellGrade, Window};
use serde::Serialize;

/// One thing to be measured, at its places.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Site {
    /// Key in the plan, such as `main-journal-3`.
    pub id: String,
    /// Key of the family it belongs to, such as `main-journal`.
    pub family: String,
    /// What the builder calls it.
    pub name: String,
    /// Its number in the family, from 1.
    pub number: usize,
    /// What it looks like.
    pub form: SiteForm,
    /// Where to measure, in order.
    pub places: Vec<Place>,
    /// Readings outside this are asked about, mm.
    pub plausible_mm: [f64; 2],
    /// Thermal expansion of its part per kelvin; 0 when it is not corrected.
    pub expansion_per_k: f64,
    /// Diameter of the plastic strip, mm, where the readings are its flattened widths.
    pub strip_mm: Option<f64>,
}

/// What a site looks like, for its drawing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum SiteForm {
    /// A shaft.
    Journal,
    /// A hole.
    Bore,
    /// A gap between two parts.
    Gap,
    /// A length from end to end.
    Length,
    /// A flattened plastic strip.
    Strip,
}

/// Where on a site a reading is taken.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Place {
    /// What the builder calls it, such as `front 90°`.
    pub name: String,
    /// Which plane along the axis, from 0, of so many.
    pub plane: usize,
    /// How many planes the site has.
    pub planes: usize,
    /// Direction across the axis, degrees from the load line, where the site has directions.
    pub angle_deg: Option<f64>,
}

/// A clearance: a difference of measurements, for every member of its families.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Clearance {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// Family of the larger measurement.
    pub plus: String,
    /// Family of what is taken off, where it is not measured directly.
    pub minus: Option<String>,
    /// Family of a second method, where there is one.
    pub second: Option<String>,
    /// Whether the second method is the one to trust where they disagree.
    pub trust_second: bool,
    /// Graded shells that go in between, rising in thickness.
    pub shells: Vec<ShellGrade>,
    /// Windows by use, the usual one first.
    pub windows: Vec<UseWindow>,
}

/// The window of a clearance for one use.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UseWindow {
    /// The use, such as `street`.
    pub name: String,
    /// Where the clearance has to lie.
    pub window: Window,
}

impl Clearance {
    /// The window for a use, or the usual one where the use has none of its own.
    pub fn window_for(&self, wanted: Option<&str>) -> Option<&Window> {
        let chosen = self.windows.iter().find(|window| Some(window.name.as_str()) == wanted);
        chosen.or_else(|| self.windows.first()).map(|window| &window.window)
    }
}

//! What of an engine is measured, and the clearances that follow.

use super::index::{FamilyIx, OperationIx, SlotIx};
use super::rework::ReworkCause;
use rigore_mechanics::clearance::{ShellGrade, Window};
use rigore_mechanics::geometry::ValveGeometry;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use serde::{Deserialize, Serialize};
use std::ops::Range;

/// Sites that are alike and numbered.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SiteFamily {
    /// Key in the plan, such as `main-journal`.
    pub id: String,
    /// What they are called together.
    pub name: String,
    /// The set whose pieces it measures, in order, where the plan says so.
    pub slot: Option<SlotIx>,
    /// Its sites, by their places in the plan.
    pub sites: Range<usize>,
}

/// One thing to be measured, at its places.
#[derive(Debug, Clone, PartialEq)]
pub struct Site {
    /// Key in the plan, such as `main-journal-3`.
    pub id: String,
    /// The family it belongs to.
    pub family: FamilyIx,
    /// What the builder calls it.
    pub name: String,
    /// What tells it from the others of its family: `3`, `left`; empty where it is alone.
    pub member: String,
    /// Its number in the family, from 1.
    pub number: usize,
    /// What it looks like.
    pub form: SiteForm,
    /// What is read there.
    pub dimension: Dimension,
    /// Where to measure, in order.
    pub places: Vec<MeasuringPlace>,
    /// Readings outside this are asked about, in the base unit of what is read.
    pub plausible: [f64; 2],
    /// Thermal expansion of its part per kelvin; 0 when it is not corrected.
    pub expansion_per_k: f64,
    /// Diameter of the plastic strip, mm, where the readings are its flattened widths.
    pub strip_mm: Option<f64>,
    /// Whether it is a bore that is read with its bearing shells in.
    pub shells_in: bool,
    /// What makes it be measured again.
    pub again: Vec<ReworkCause>,
}

/// What a site looks like, for its drawing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
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
    /// The end gap of a piston ring in its bore.
    Ring,
    /// The top of a piston against the deck.
    Deck,
    /// A volume that is filled.
    Chamber,
    /// A valve coming near the piston while the crankshaft turns.
    Valve,
    /// An angle on a degree wheel.
    Angle,
    /// So many of something: links of a chain, teeth of a belt.
    Count,
    /// A torque that something takes to turn or gives up at.
    Torque,
    /// A pressure of oil, water or air.
    Pressure,
    /// A temperature.
    Temperature,
    /// A mass.
    Mass,
}

impl SiteForm {
    /// What is read of it.
    pub fn dimension(self) -> Dimension {
        match self {
            Self::Chamber => Dimension::Volume,
            Self::Angle => Dimension::Angle,
            Self::Count => Dimension::Count,
            Self::Torque => Dimension::Torque,
            Self::Pressure => Dimension::Fluid,
            Self::Temperature => Dimension::Temperature,
            Self::Mass => Dimension::Mass,
            Self::Journal | Self::Bore | Self::Length => Dimension::Length,
            Self::Gap | Self::Strip | Self::Ring | Self::Deck | Self::Valve => Dimension::Clearance,
        }
    }
}

impl SiteForm {
    /// What any engine lies inside of, in the base unit: where a plan does not say what is plausible.
    pub fn plausible(self) -> [f64; 2] {
        match self {
            Self::Gap | Self::Ring | Self::Strip => [0.0, 5.0],
            Self::Deck => [-5.0, 10.0],
            Self::Valve => [-10.0, 50.0],
            Self::Journal | Self::Bore | Self::Length | Self::Torque => [0.0, 1_000.0],
            Self::Chamber => [0.0, 2_000.0],
            Self::Angle => [-360.0, 720.0],
            Self::Count => [0.0, 10_000.0],
            Self::Pressure => [-1.0, 50.0],
            Self::Temperature => [-30.0, 250.0],
            Self::Mass => [0.0, 100_000.0],
        }
    }
}

/// Where on a site a reading is taken.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasuringPlace {
    /// What the builder calls it, such as `front 90°`.
    pub name: String,
    /// What the plane along the axis is called; empty where there is only one.
    #[serde(skip)]
    pub plane_name: String,
    /// Which plane along the axis, from 0, of so many.
    pub plane: usize,
    /// How many planes the site has.
    pub planes: usize,
    /// Direction across the axis, degrees from the load line, where the site has directions.
    pub angle_deg: Option<f64>,
    /// Crank angle after top dead centre, degrees, in a series over the crank angle.
    pub crank_deg: Option<f64>,
}

impl MeasuringPlace {
    /// Whether it lies along the load line, to within 30°: what has no direction does.
    pub fn on_load_line(&self) -> bool {
        self.angle_deg.is_none_or(|angle| {
            let off = angle.rem_euclid(180.0);
            off.min(180.0 - off) <= 30.0
        })
    }
}

impl Site {
    /// Whether a clearance is judged by one of its places: a bore with its shells in is wider at the parting line by
    /// design (eccentricity), and judged along the load line alone.
    pub fn judges(&self, place: &MeasuringPlace) -> bool {
        !self.shells_in || place.on_load_line()
    }
}

/// A clearance, or another figure that follows from sizes, for every member of its families.
#[derive(Debug, Clone, PartialEq)]
pub struct Clearance {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// How it follows from sizes.
    pub rule: ClearanceRule,
    /// What its figure is: a length, a plain ratio, or what its site is measured in.
    pub dimension: Dimension,
    /// Family of a second method, where there is one.
    pub second: Option<FamilyIx>,
    /// Whether the second method is the one to trust where they disagree.
    pub trust_second: bool,
    /// Graded shells that go in between, rising in thickness.
    pub shells: Vec<ShellGrade>,
    /// Windows by use, the usual one first; per mm of bore where `per_bore` says so.
    pub windows: Vec<UseWindow>,
    /// Family of bores that the windows are multiplied by.
    pub per_bore: Option<FamilyIx>,
    /// Whether it is opened by filing until it is inside.
    pub filed: bool,
    /// Where its figures come from.
    pub source: String,
    /// Where in the plan windows of it are wanted that nobody has looked up yet.
    pub opens: Vec<String>,
    /// By member: the operation that measures the last of it, where one does.
    pub judged_in: Vec<Option<OperationIx>>,
}

/// How a figure follows from sizes.
#[derive(Debug, Clone, PartialEq)]
pub enum ClearanceRule {
    /// One size less another, and a fixed length on top.
    Difference {
        /// Family of the larger size.
        plus: FamilyIx,
        /// Family of what is taken off, where it is not measured directly.
        minus: Option<FamilyIx>,
        /// A fixed length that is added, mm, such as a compressed gasket.
        add_mm: f64,
    },
    /// The least of a series.
    Least {
        /// Family of the series.
        of: FamilyIx,
        /// What it is computed from beside that, where the plan says so.
        valve: Option<Box<PlannedValve>>,
    },
    /// The compression ratio of a cylinder.
    Compression(Box<ChamberSpec>),
}

/// A valve over the piston: what its distance is computed from, beside what is measured (M-27).
#[derive(Debug, Clone, PartialEq)]
pub struct PlannedValve {
    /// Crank, rod and valve.
    pub geometry: ValveGeometry,
    /// What is between valve and piston at top with the valve shut, mm.
    pub shut: SizeSource,
    /// The lift at each angle of the series, mm.
    pub lifts_mm: Vec<f64>,
}

/// Everything the charge is squeezed into, as the plan gives it.
#[derive(Debug, Clone, PartialEq)]
pub struct ChamberSpec {
    /// Cylinder bore, mm.
    pub bore: SizeSource,
    /// Stroke, mm.
    pub stroke: SizeSource,
    /// Volume in the head, cm³.
    pub chamber: SizeSource,
    /// Volume in the piston, cm³: a dish counts up, a dome down.
    pub piston: SizeSource,
    /// Bore of the gasket, mm.
    pub gasket_bore: SizeSource,
    /// Thickness of the gasket, compressed, mm.
    pub gasket: SizeSource,
    /// Piston below the deck, mm.
    pub deck: SizeSource,
    /// Volume above the top ring, cm³.
    pub crevice: SizeSource,
}

impl ChamberSpec {
    /// Every size, in the order of the fields.
    pub fn sizes(&self) -> [&SizeSource; 8] {
        let Self { bore, stroke, chamber, piston, gasket_bore, gasket, deck, crevice } = self;
        [bore, stroke, chamber, piston, gasket_bore, gasket, deck, crevice]
    }
}

/// A size that is fixed by the plan or measured.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum SizeSource {
    /// Fixed, mm or cm³.
    Fixed(f64),
    /// The mean of a site of this family.
    Measured(FamilyIx),
}

/// The window of a clearance for one use.
#[derive(Debug, Clone, PartialEq)]
pub struct UseWindow {
    /// The use, such as `street`.
    pub name: String,
    /// Where the clearance has to lie.
    pub window: Window,
}

impl Clearance {
    /// The operation that judges a member, counted from 0.
    pub fn judged(&self, member: usize) -> Option<OperationIx> {
        self.judged_in.get(member).copied().flatten()
    }

    /// What one of its windows asks for.
    pub fn words(&self, window: &Window) -> Message {
        if self.per_bore.is_none() {
            return window.words(self.dimension);
        }
        let Window { low, high, .. } = window;
        match (low.is_finite(), high.is_finite()) {
            (true, true) => message!("plan-bore", low = low.to_string(), high = high.to_string()),
            (true, false) => message!("plan-at-least-bore", low = low.to_string()),
            _ => message!("plan-at-most-bore", high = high.to_string()),
        }
    }

    /// The window for a use, or the usual one where the use has none of its own.
    pub fn window_for(&self, wanted: Option<&str>) -> Option<&Window> {
        // Where that of the use itself is still to be looked up, no other stands in for it.
        let is_open =
            |wanted: &str| self.opens.iter().any(|path| path.ends_with(&format!(".window.{wanted}")));
        if wanted.is_some_and(is_open) {
            return None;
        }
        let chosen = self.windows.iter().find(|window| Some(window.name.as_str()) == wanted);
        chosen.or_else(|| self.windows.first()).map(|window| &window.window)
    }

    /// The families that its figure is computed from; the first says how many members there are.
    pub fn families(&self) -> impl Iterator<Item = FamilyIx> {
        let (two, cylinder) = match &self.rule {
            ClearanceRule::Difference { plus, minus, .. } => ([Some(*plus), *minus], None),
            ClearanceRule::Least { of, .. } => ([Some(*of), None], None),
            ClearanceRule::Compression(cylinder) => ([None, None], Some(cylinder.sizes())),
        };
        let of_cylinder = cylinder.into_iter().flatten().filter_map(|size| match size {
            SizeSource::Measured(family) => Some(*family),
            SizeSource::Fixed(_) => None,
        });
        two.into_iter().flatten().chain(of_cylinder)
    }

    /// Every family its verdict rests on: what its figure is computed from, and the bores that its
    /// window goes by.
    pub fn rests_on(&self) -> impl Iterator<Item = FamilyIx> {
        self.families().chain(self.per_bore)
    }

    /// Every family it has to do with: what it rests on, and its second method.
    pub fn all_families(&self) -> impl Iterator<Item = FamilyIx> {
        self.rests_on().chain(self.second)
    }
}

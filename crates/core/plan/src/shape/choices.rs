//! The choices that make an engine's shape.

use serde::{Deserialize, Serialize};

/// How cylinders stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum CylinderLayout {
    /// One behind the other.
    Inline,
    /// In two banks at an angle.
    V,
    /// In two banks that lie opposite each other.
    Flat,
}

/// How rods of two banks share the crankshaft.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum CrankPins {
    /// Two rods on one pin.
    Shared,
    /// Each rod on a pin of its own.
    Own,
}

/// How main caps are held.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum MainCaps {
    /// Each cap by itself.
    Single,
    /// Caps tied together by a girdle.
    Girdle,
    /// All caps in one ladder.
    Ladder,
}

/// How rod caps are held.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum RodFastening {
    /// By bolts into the rod.
    Bolts,
    /// By bolts with nuts.
    Nuts,
    /// By bolts with castellated nuts and split pins.
    Castellated,
}

/// Where camshafts are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum CamLayout {
    /// In the block, with pushrods and rockers.
    Block,
    /// One on each head.
    Single,
    /// Two on each head.
    Twin,
}

/// What an engine is for: its clearances have their windows under it (C-32).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum EngineUse {
    /// The road.
    Street,
    /// As it was built.
    Vintage,
    /// Long runs at full load.
    Endurance,
    /// A charger.
    Boost,
}

impl EngineUse {
    pub(super) fn key(self) -> &'static str {
        match self {
            Self::Street => "street",
            Self::Vintage => "vintage",
            Self::Endurance => "endurance",
            Self::Boost => "boost",
        }
    }
}

/// The shape of an engine.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct EngineShape {
    /// What it is called.
    pub name: String,
    /// What it is, in a sentence.
    pub about: String,
    /// What it is for.
    pub used_for: EngineUse,
    /// How its cylinders stand.
    pub layout: CylinderLayout,
    /// How many cylinders, 1 to 12.
    pub cylinders: u32,
    /// Angle between the banks of a V, degrees.
    pub v_angle_deg: f64,
    /// How rods of two banks share the crankshaft.
    pub pins: CrankPins,
    /// Bore, mm.
    pub bore_mm: f64,
    /// From bore to bore, mm.
    pub spacing_mm: f64,
    /// Bolts of a main cap, two or four.
    pub main_bolts: u32,
    /// Whether main caps are held by studs with nuts.
    pub main_studs: bool,
    /// How main caps are held together.
    pub caps: MainCaps,
    /// How rod caps are held.
    pub rods: RodFastening,
    /// Rows of head bolts, two to four.
    pub head_rows: u32,
    /// Whether heads are held by studs with nuts.
    pub head_studs: bool,
    /// Where the camshafts are.
    pub cams: CamLayout,
    /// What else it has.
    pub has: Vec<EngineExtra>,
}

/// What an engine may have besides.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum EngineExtra {
    /// Bolts into the main caps from the sides.
    CrossBolts,
    /// A row of smaller bolts along the edge of a head.
    SmallHeadBolts,
    /// A windage tray.
    Tray,
    /// A pan.
    Pan,
    /// A timing cover.
    TimingCover,
    /// A rear cover with its seal.
    RearCover,
    /// A cover over the valley between two banks.
    ValleyCover,
    /// An intake.
    Intake,
    /// A water pump.
    WaterPump,
    /// A damper.
    Damper,
    /// A flywheel.
    Flywheel,
}

impl EngineExtra {
    /// All of them.
    pub const ALL: [Self; 11] = [
        Self::CrossBolts,
        Self::SmallHeadBolts,
        Self::Tray,
        Self::Pan,
        Self::TimingCover,
        Self::RearCover,
        Self::ValleyCover,
        Self::Intake,
        Self::WaterPump,
        Self::Damper,
        Self::Flywheel,
    ];
}

impl Default for EngineShape {
    fn default() -> Self {
        Self {
            name: "My engine".to_owned(),
            about: String::new(),
            used_for: EngineUse::Street,
            layout: CylinderLayout::Inline,
            cylinders: 4,
            v_angle_deg: 90.0,
            pins: CrankPins::Shared,
            bore_mm: 86.0,
            spacing_mm: 94.0,
            main_bolts: 2,
            main_studs: false,
            caps: MainCaps::Single,
            rods: RodFastening::Bolts,
            head_rows: 2,
            head_studs: false,
            cams: CamLayout::Twin,
            has: vec![
                EngineExtra::Pan,
                EngineExtra::TimingCover,
                EngineExtra::RearCover,
                EngineExtra::Intake,
                EngineExtra::WaterPump,
                EngineExtra::Damper,
                EngineExtra::Flywheel,
            ],
        }
    }
}

/// A choice that makes no engine.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ShapeError {
    /// The field.
    pub field: &'static str,
    /// What is wrong and what is allowed.
    pub message: String,
}

/// The longest name of an engine.
const NAME: usize = 80;

impl EngineShape {
    /// Whether the choices make an engine.
    ///
    /// # Errors
    /// The first that does not, and what would.
    pub(super) fn check(&self) -> Result<(), ShapeError> {
        let wrong = |field, message: &str| Err(ShapeError { field, message: message.to_owned() });
        let name = self.name.trim();
        if name.is_empty() || name.chars().count() > NAME || name.chars().any(char::is_control) {
            return wrong("name", "a name of 1 to 80 characters is needed");
        }
        if self.about.chars().count() > 300 || self.about.chars().any(char::is_control) {
            return wrong("about", "a sentence of at most 300 characters");
        }
        if !(1..=12).contains(&self.cylinders) {
            return wrong("cylinders", "1 to 12 cylinders");
        }
        if self.layout != CylinderLayout::Inline && self.cylinders % 2 == 1 {
            return wrong("cylinders", "two banks have the same number of cylinders: an even number");
        }
        if !(15.0..=170.0).contains(&self.v_angle_deg) {
            return wrong("v_angle_deg", "15° to 170°");
        }
        if !(20.0..=300.0).contains(&self.bore_mm) {
            return wrong("bore_mm", "20 to 300 mm");
        }
        if !(self.bore_mm * 1.02..=self.bore_mm * 3.0).contains(&self.spacing_mm) {
            return wrong("spacing_mm", "more than the bore, and at most three times as much");
        }
        if ![2, 4].contains(&self.main_bolts) {
            return wrong("main_bolts", "two or four bolts a cap");
        }
        if !(2..=4).contains(&self.head_rows) {
            return wrong("head_rows", "two to four rows");
        }
        Ok(())
    }
}

//! The table of units: symbol, the ways people spell it, and its exact factor.

use serde::{Deserialize, Serialize};

/// What a unit measures. A field has one dimension, and text in a unit of another is an error.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Dimension {
    /// A tightening torque; base unit N·m.
    Torque,
    /// A tension or clamp load; base unit kN.
    Force,
    /// A length or a diameter; base unit mm.
    Length,
    /// A small length: a clearance, a stretch, a wear. In the units of every length; a reader chooses one for it apart
    /// from that of sizes. Base unit mm.
    Clearance,
    /// An angle of turn; base unit degree.
    Angle,
    /// A stress or strength; base unit `MPa`.
    Pressure,
    /// A temperature; base unit °C.
    Temperature,
    /// A volume; base unit cm³.
    Volume,
    /// A ratio to one; base unit `: 1`.
    Ratio,
    /// So many of something, such as slots; without a unit.
    Count,
    /// A while; base unit minute.
    Time,
    /// A pressure of oil, water or air; base unit bar.
    Fluid,
    /// A mass; base unit gram.
    Mass,
}

impl Dimension {
    /// The unit every figure of this dimension is kept in, in plans, events and calculations.
    ///
    /// # Panics
    /// Never: every base unit is in the table.
    pub fn base(self) -> &'static Unit {
        match self {
            Self::Torque => unit("N·m"),
            Self::Force => unit("kN"),
            Self::Length | Self::Clearance => unit("mm"),
            Self::Angle => unit("°"),
            Self::Pressure => unit("MPa"),
            Self::Temperature => unit("°C"),
            Self::Volume => unit("cm³"),
            Self::Ratio => unit(": 1"),
            Self::Count => unit(""),
            Self::Time => unit("min"),
            Self::Fluid => unit("bar"),
            Self::Mass => unit("g"),
        }
        .expect("every base unit is in the table")
    }

    /// Whether it is measured as a length, large or small.
    pub fn is_length(self) -> bool {
        matches!(self, Self::Length | Self::Clearance)
    }
}

/// One unit of measure: `base value = value × factor + offset`.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Unit {
    /// How it is written: `lbf·ft`.
    pub symbol: &'static str,
    /// What it measures.
    pub dimension: Dimension,
    /// Base units in one of it.
    pub factor: f64,
    /// Added after the factor; only temperatures have one.
    pub offset: f64,
    /// Decimals a reading in this unit is shown with.
    pub decimals: u8,
    /// Spellings that are read, in lower case without spaces, dots or dashes.
    pub spellings: &'static [&'static str],
}

impl Unit {
    /// Whether figures of a dimension may be in it.
    pub fn measures(&self, dimension: Dimension) -> bool {
        self.dimension == dimension || (self.dimension.is_length() && dimension.is_length())
    }
}

/// Pound-force in newtons: 0.453 592 37 kg × 9.806 65 m/s², exact.
const LBF: f64 = 0.453_592_37 * 9.806_65;
/// Foot in metres, exact.
const FOOT: f64 = 0.304_8;
/// Pound-foot in newton-metres.
pub const LBF_FT: f64 = LBF * FOOT;

const fn row(
    symbol: &'static str,
    dimension: Dimension,
    factor: f64,
    decimals: u8,
    spellings: &'static [&'static str],
) -> Unit {
    Unit { symbol, dimension, factor, offset: 0.0, decimals, spellings }
}

/// Every unit Rigore reads and writes.
pub const UNITS: &[Unit] = &[
    row(
        "N·m",
        Dimension::Torque,
        1.0,
        1,
        &["nm", "newtonmeter", "newtonmetre", "newtonmeters", "newtonmetres"],
    ),
    row(
        "lbf·ft",
        Dimension::Torque,
        LBF_FT,
        1,
        &[
            "lbfft",
            "lbft",
            "ftlb",
            "ftlbs",
            "ftlbf",
            "lbsft",
            "footpounds",
            "footpound",
            "poundfeet",
            "poundfoot",
        ],
    ),
    row(
        "lbf·in",
        Dimension::Torque,
        LBF_FT / 12.0,
        0,
        &[
            "lbfin",
            "lbin",
            "inlb",
            "inlbs",
            "inlbf",
            "lbsin",
            "inchpounds",
            "inchpound",
            "poundinches",
            "poundinch",
        ],
    ),
    row("kgf·m", Dimension::Torque, 9.806_65, 2, &["kgfm", "kgm", "mkg", "mkp", "kpm"]),
    row("daN·m", Dimension::Torque, 10.0, 2, &["danm", "mdan", "dekanewtonmetres"]),
    row("N·cm", Dimension::Torque, 0.01, 0, &["ncm"]),
    row("kgf·cm", Dimension::Torque, 0.098_066_5, 1, &["kgfcm", "kgcm", "cmkg", "kpcm"]),
    row("kN", Dimension::Force, 1.0, 1, &["kn", "kilonewton"]),
    row("N", Dimension::Force, 1e-3, 0, &["n", "newton"]),
    row("lbf", Dimension::Force, LBF / 1000.0, 0, &["lbf", "lb", "lbs", "pound", "pounds"]),
    row("mm", Dimension::Length, 1.0, 3, &["mm", "millimeter", "millimetre"]),
    row("µm", Dimension::Length, 1e-3, 0, &["µm", "μm", "um", "micron", "microns"]),
    row("in", Dimension::Length, 25.4, 4, &["in", "inch", "inches", "\"", "″"]),
    row("thou", Dimension::Length, 0.025_4, 1, &["thou", "mil", "mils"]),
    row("µin", Dimension::Length, 25.4e-6, 0, &["µin", "μin", "uin", "microinch", "microinches"]),
    row("°", Dimension::Angle, 1.0, 0, &["°", "º", "deg", "degree", "degrees"]),
    row("MPa", Dimension::Pressure, 1.0, 0, &["mpa", "n/mm2", "n/mm²"]),
    row("GPa", Dimension::Pressure, 1000.0, 1, &["gpa", "kn/mm2", "kn/mm²"]),
    row("ksi", Dimension::Pressure, LBF / (0.025_4 * 0.025_4) / 1000.0, 0, &["ksi"]),
    row("°C", Dimension::Temperature, 1.0, 1, &["°c", "ºc", "c", "degc", "celsius"]),
    Unit {
        symbol: "°F",
        dimension: Dimension::Temperature,
        factor: 5.0 / 9.0,
        offset: -160.0 / 9.0,
        decimals: 1,
        spellings: &["°f", "ºf", "f", "degf", "fahrenheit"],
    },
    row("cm³", Dimension::Volume, 1.0, 1, &["cm³", "cm3", "cc", "ml"]),
    row("in³", Dimension::Volume, 16.387_064, 2, &["in³", "in3", "cuin", "ci", "cid"]),
    row(": 1", Dimension::Ratio, 1.0, 2, &[":1"]),
    row(
        "",
        Dimension::Count,
        1.0,
        0,
        &["slot", "slots", "link", "links", "tooth", "teeth", "turn", "turns", "pin", "pins"],
    ),
    row("min", Dimension::Time, 1.0, 0, &["min", "minute", "minutes"]),
    row("h", Dimension::Time, 60.0, 0, &["h", "hour", "hours"]),
    row("bar", Dimension::Fluid, 1.0, 2, &["bar"]),
    row("kPa", Dimension::Fluid, 0.01, 0, &["kpa"]),
    row("psi", Dimension::Fluid, LBF / (0.025_4 * 0.025_4) / 100_000.0, 1, &["psi", "lb/in2", "lbf/in2"]),
    row("g", Dimension::Mass, 1.0, 1, &["g", "gram", "grams"]),
    row("kg", Dimension::Mass, 1000.0, 3, &["kg"]),
    row("oz", Dimension::Mass, 28.349_523_125, 2, &["oz", "ounce", "ounces"]),
];

/// The unit with this symbol.
pub fn unit(symbol: &str) -> Option<&'static Unit> {
    UNITS.iter().find(|unit| unit.symbol == symbol)
}

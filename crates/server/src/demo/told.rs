//! What plans/pier-nine.toml tells: the shop, what it has, and how far each of its engines is.

use rigore_assembly::friction_test::FrictionTestEntry;
use rigore_assembly::{BlockerKind, Instrument, LubricantPolicy, PartNote, Person};
use rigore_mechanics::friction::LubricantForm;
use serde::Deserialize;
use std::collections::BTreeMap;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoShop {
    pub letterhead: DemoLetterhead,
    pub policy: LubricantPolicy,
    pub lubricant: Vec<DemoLubricant>,
    pub person: Vec<Person>,
    pub instrument: Vec<DemoInstrument>,
    pub friction_test: Vec<DemoFrictionTest>,
    pub size: Vec<DemoSize>,
    pub part: Vec<DemoPart>,
    pub build: Vec<DemoBuild>,
}

/// What stands at the head of its papers.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoLetterhead {
    pub name: String,
    pub address: String,
}

/// A lubricant of the shop's own.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoLubricant {
    pub days_ago: i64,
    pub figures: LubricantForm,
}

/// A bolt that was tried in the vice.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoFrictionTest {
    pub days_ago: i64,
    /// Who tried it, by key.
    pub by: String,
    pub test: FrictionTestEntry,
}

/// An instrument whose calibration runs out some days from now.
#[derive(Deserialize)]
pub struct DemoInstrument {
    #[serde(flatten)]
    pub instrument: Instrument,
    pub due_days: Option<i64>,
    /// Where it is now, and in how many days it is expected back.
    pub gone: Option<(String, i64)>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoBuild {
    pub name: String,
    pub plan: String,
    pub days_ago: i64,
    pub done_to: Option<String>,
    #[serde(default)]
    pub steps: usize,
    pub overpulled: Option<String>,
    #[serde(default)]
    pub odd: BTreeMap<String, f64>,
    #[serde(default)]
    pub spare: u32,
    #[serde(rename = "use")]
    pub use_for: Option<String>,
    pub owner: Option<String>,
    pub identity: Option<String>,
    /// Serials and batches of parts that are not those of its number, by slot.
    #[serde(default)]
    pub serials: BTreeMap<String, String>,
    #[serde(default)]
    pub batches: BTreeMap<String, String>,
    /// A bolt that was rubbed dry, as joint/fastener.
    pub dry: Option<String>,
    /// A bolt that grows when it is stretched, as joint/fastener.
    pub grows: Option<String>,
    /// When the last steps were made, where it matters.
    pub minutes_ago: Option<i64>,
    /// What somebody else does meanwhile.
    pub beside: Option<DemoOpenWork>,
    /// What was found then.
    pub found: Option<DemoFinding>,
    /// In how many days it was promised for, and what for.
    pub promised_days: Option<i64>,
    #[serde(default)]
    pub promised_note: String,
    /// What it waits for.
    #[serde(default)]
    pub waits: Vec<DemoWait>,
}

impl DemoBuild {
    /// What its parts are numbered by: the digits of its name's end.
    pub fn number(&self) -> &str {
        self.name.rsplit(' ').next().unwrap_or_default()
    }
}

/// Something that is not at the bench.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoWait {
    pub kind: BlockerKind,
    pub what: String,
    pub slot: Option<String>,
    pub operation: Option<String>,
    pub expected_days: Option<i64>,
}

/// Steps in an operation that somebody else is at.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoOpenWork {
    pub operation: String,
    pub steps: usize,
    pub by: String,
}

/// A finding on a fastener, with a picture of the demonstration.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoFinding {
    pub operation: String,
    pub joint: String,
    pub fastener: String,
    pub text: String,
    pub picture: Option<String>,
}

/// What a family of sites measures in the demonstration, mm or cm³.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DemoSize {
    pub plan: String,
    pub site: String,
    pub value: f64,
    pub scatter: f64,
    pub with: String,
    pub unit: Option<String>,
    pub master: Option<f64>,
    pub warm: Option<f64>,
    #[serde(default)]
    pub least_at: f64,
    #[serde(default)]
    pub curve: f64,
}

/// What is taken in for a set of slots.
#[derive(Deserialize)]
pub struct DemoPart {
    pub plan: String,
    pub slot: String,
    #[serde(flatten)]
    pub note: PartNote,
}

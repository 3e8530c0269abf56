//! The ways to tighten one fastener in one stage, one file each.
//!
//! A way says what it does in [`parts`]; what it does not say has a default there. To add one: its file, and its line
//! in [`READERS`].
//!
//! | way | `WayReading` | `WayJudgement` | `WayWalk` | `WayEvidence` | `WayHandling` |
//! | --- | --- | --- | --- | --- | --- |
//! | `Action` |   |   | ✓ |   | ✓ |
//! | `Angle` | ✓ | ✓ |   | ✓ | ✓ |
//! | `SlotAdvance` | ✓ | ✓ |   | ✓ | ✓ |
//! | `PinHoleTwist` | ✓ | ✓ |   | ✓ | ✓ |
//! | `YieldByFeel` | ✓ | ✓ |   | ✓ | ✓ |
//! | `LoosenAgain` | ✓ | ✓ | ✓ | ✓ | ✓ |
//! | `MissingStage` |   |   | ✓ |   | ✓ |
//! | `Recheck` | ✓ | ✓ |   | ✓ | ✓ |
//! | `RunDown` |   |   | ✓ |   | ✓ |
//! | `GaugeZero` | ✓ | ✓ | ✓ | ✓ | ✓ |
//! | `StretchTorque` | ✓ | ✓ | ✓ | ✓ | ✓ |
//! | `Stretch` | ✓ | ✓ | ✓ | ✓ | ✓ |
//! | `StudByHand` |   |   | ✓ |   | ✓ |
//! | `StudHeight` | ✓ | ✓ |   |   | ✓ |
//! | `Torque` | ✓ | ✓ |   | ✓ | ✓ |
//!
//! One stage always has one figure. What takes more is written once in the plan and becomes stages that are walked
//! together, fastener by fastener: a torque and an angle in one pull; a castellated nut's torque, slot and twist; the
//! torque and the stretch of a bolt that is tightened to its stretch, whose stretch opens its torque again while it is
//! short. Steps and a settle pass become stages, too. Which way it is, is asked nowhere.

mod action;
mod angle;
mod any_way;
mod band_text;
mod castellated;
mod feel;
mod loosen;
mod missing_stage;
pub mod parts;
mod recheck;
mod run_down;
mod stretch;
mod stud;
mod torque;

pub use action::Action;
pub use angle::Angle;
pub use any_way::{SameWay, Way, WayOfTightening};
pub use castellated::{PinHoleTwist, SlotAdvance};
pub use feel::YieldByFeel;
pub use loosen::LoosenAgain;
pub use missing_stage::MissingStage;
pub use parts::{
    EvidenceKind, ExpectedReading, FrictionEvidence, InstrumentAbility, PlainAnswer, ReadingPrompt,
    StageProgress,
};
pub use recheck::Recheck;
pub use run_down::RunDown;
pub use stretch::{GaugeZero, HIGH_FRICTION, Stretch, StretchTorque};
pub use stud::{StudByHand, StudHeight};
pub use torque::{MOST_NM, Torque};

use crate::toml_reader::TomlTable;

/// What reads one way of tightening out of a stage of a plan.
pub struct WayReader {
    /// The key that chooses it.
    pub key: &'static str,
    /// What the stage asks for, one after the other; a fault leaves nothing.
    pub read: fn(&TomlTable<'_>) -> Option<Vec<Way>>,
    /// Whether one fastener has all of it before the next one's turn.
    pub together: bool,
}

const fn reader(key: &'static str, read: fn(&TomlTable<'_>) -> Option<Vec<Way>>) -> WayReader {
    WayReader { key, read, together: false }
}

const fn together(key: &'static str, read: fn(&TomlTable<'_>) -> Option<Vec<Way>>) -> WayReader {
    WayReader { key, read, together: true }
}

/// Every way that a stage of a plan can ask for.
pub const READERS: &[WayReader] = &[
    reader("run-down", RunDown::read),
    reader("stud", stud::read),
    reader("torque", Torque::read),
    reader("angle", Angle::read),
    together("torque-angle", Torque::read_with_angle),
    together("yield", feel::read),
    together("stretch", stretch::read),
    together("castellated", castellated::read),
    reader("recheck", Recheck::read),
    reader("loosen", |stage| Some(LoosenAgain::read(stage))),
    reader("action", |stage| Some(Action::read(stage))),
    reader("wait", Action::wait),
    reader("seal", Action::seal),
];

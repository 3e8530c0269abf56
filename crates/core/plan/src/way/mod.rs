//! The ways to tighten one fastener in one stage, one file each.
//!
//! Each way answers the same few questions ([`Rules`]); [`Way::rules`] hands the file out and is the
//! only place that asks which way it is. To add a way: its file, its variant, and its lines in
//! [`Way::rules`] and [`READERS`].

mod action;
mod angle;
mod castellated;
mod feel;
mod loosen;
mod open;
mod recheck;
mod rules;
mod run_down;
mod stretch;
mod stud;
mod torque;

pub use action::Action;
pub use angle::Angle;
pub use castellated::{Slot, Twist};
pub use feel::Feel;
pub use loosen::Loosen;
pub use open::Open;
pub use recheck::Recheck;
pub use rules::{Ability, Asks, Expected, Had, Plain, Rules, Shown, Shows};
pub use run_down::RunDown;
pub use stretch::{Climbing, HIGH_FRICTION, Stretch, Zero};
pub use stud::{Height, Stud};
pub use torque::{MOST_NM, Torque};

use crate::toml_reader::Table;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_mechanics::tightening::Verdict;

/// How one fastener is tightened in one stage, or what is done between stages.
#[derive(Debug, Clone, PartialEq)]
pub enum Way {
    /// Run down by hand.
    RunDown(RunDown),
    /// To a torque.
    Torque(Torque),
    /// On by an angle.
    Angle(Angle),
    /// On until the torque rises no more.
    Feel(Feel),
    /// On to the next slot.
    Slot(Slot),
    /// How far the split-pin hole is twisted.
    Twist(Twist),
    /// At a torque it has had: does it move?
    Recheck(Recheck),
    /// The gauge at zero on a fastener.
    Zero(Zero),
    /// To the torque that comes next on the way to a stretch.
    Climbing(Climbing),
    /// How far it is stretched.
    Stretch(Stretch),
    /// Loosened again.
    Loosen(Loosen),
    /// A stud put in by hand.
    Stud(Stud),
    /// How far a stud stands out.
    Height(Height),
    /// Something done by hand, to no fastener in particular.
    Action(Action),
    /// Something whose figure nobody has looked up yet.
    Open(Open),
}

/// What reads one way of tightening out of a stage of a plan.
pub struct Reader {
    /// The key that chooses it.
    pub key: &'static str,
    /// What the stage asks for, one after the other; a fault leaves nothing.
    pub read: fn(&Table<'_>) -> Option<Vec<Way>>,
    /// Whether one fastener has all of it before the next one's turn.
    pub together: bool,
}

const fn reader(key: &'static str, read: fn(&Table<'_>) -> Option<Vec<Way>>) -> Reader {
    Reader { key, read, together: false }
}

const fn together(key: &'static str, read: fn(&Table<'_>) -> Option<Vec<Way>>) -> Reader {
    Reader { key, read, together: true }
}

/// Every way that a stage of a plan can ask for.
pub const READERS: [Reader; 13] = [
    reader("run-down", |stage| Some(vec![Way::RunDown(RunDown::read(stage)?)])),
    reader("stud", stud::read),
    reader("torque", Torque::read),
    reader("angle", |stage| Some(vec![Way::Angle(Angle::read(stage)?)])),
    together("torque-angle", Torque::read_with_angle),
    together("yield", feel::read),
    together("stretch", stretch::read),
    together("castellated", castellated::read),
    reader("recheck", |stage| Some(vec![Way::Recheck(Recheck::read(stage)?)])),
    reader("loosen", |stage| Some(vec![Way::Loosen(Loosen::read(stage))])),
    reader("action", |stage| Some(vec![Way::Action(Action::read(stage))])),
    reader("wait", |stage| Some(vec![Way::Action(Action::wait(stage)?)])),
    reader("seal", |stage| Some(Action::seal(stage)?.into_iter().map(Way::Action).collect())),
];

impl Way {
    /// What answers for this way.
    pub fn rules(&self) -> &dyn Rules {
        match self {
            Self::RunDown(run_down) => run_down,
            Self::Torque(torque) => torque,
            Self::Angle(angle) => angle,
            Self::Feel(feel) => feel,
            Self::Slot(slot) => slot,
            Self::Twist(twist) => twist,
            Self::Recheck(recheck) => recheck,
            Self::Zero(zero) => zero,
            Self::Climbing(climbing) => climbing,
            Self::Stretch(stretch) => stretch,
            Self::Loosen(loosen) => loosen,
            Self::Stud(stud) => stud,
            Self::Height(height) => height,
            Self::Action(action) => action,
            Self::Open(open) => open,
        }
    }

    /// The verdict on what a fastener had: over as soon as anything was over, whatever came later.
    pub fn verdict(&self, had: Had) -> Option<Verdict> {
        let rules = self.rules();
        rules.band().filter(|_| had.pulls > 0)?;
        Some(if rules.judge(had.peak) == Verdict::Over { Verdict::Over } else { rules.judge(had.value) })
    }

    /// Whether a fastener that had so much needs no more.
    pub fn finished(&self, had: Had) -> bool {
        self.verdict(had).is_some_and(|verdict| verdict != Verdict::Low || self.rules().at_once())
    }

    /// A figure of what is read, with its unit.
    pub fn print(&self, figure: f64) -> Quantity {
        Quantity::fine(figure, self.rules().dimension().unwrap_or(Dimension::Count))
    }
}

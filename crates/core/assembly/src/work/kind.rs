//! What every kind of work answers about one operation, and the answers' shapes.
//!
//! To add a kind of work: its folder in `work/`, its line in [`crate::work::kinds`], and its variant in
//! [`Step`], [`BenchWork`] and [`SheetWork`].

use crate::instruments::fit::ShopTools;
use crate::status::issue::Issue;
use crate::work::count::bench::{CountStep, CountView};
use crate::work::items::bench::{ConfirmStep, ItemView};
use crate::work::measure::bench::{MeasureBench, MeasureStep, ShellsStep};
use crate::work::measure::sheet::MeasureSection;
use crate::work::parts::bench::{FitStep, SlotView};
use crate::work::tighten::bench::{ActStep, LoosenStep, PullStep, TightenBench};
use crate::work::tighten::sheet::JointSection;
use crate::work::turn::bench::{TurnBench, TurnView};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde::Serialize;

/// One operation of one kind on one engine.
pub(crate) trait WorkKind {
    /// How many steps it has.
    fn total(&self) -> usize;

    /// What is left to do, in order.
    fn open(&self) -> Box<dyn Iterator<Item = BenchStep> + '_>;

    /// How many steps are left.
    fn left(&self) -> usize {
        self.open().count()
    }

    /// What stands against its signature.
    fn issues(&self) -> Vec<Issue>;

    /// What the bench shows.
    fn bench(&self, tools: ShopTools<'_>) -> BenchWork;

    /// What the build sheet says of it.
    fn section(&self) -> SheetWork;
}

/// One step at the bench.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum BenchStep {
    /// Pull one fastener.
    Pull(Box<PullStep>),
    /// Do something by hand.
    Act(ActStep),
    /// Loosen one fastener.
    Loosen(Box<LoosenStep>),
    /// Confirm an item.
    Confirm(ConfirmStep),
    /// Enter a part.
    Fit(FitStep),
    /// Count one kind of hardware.
    Count(CountStep),
    /// Take a reading.
    Measure(MeasureStep),
    /// Choose shells.
    Shells(ShellsStep),
    /// Turn the crankshaft.
    Turn,
    /// Nothing is left but the signature.
    Sign,
}

impl BenchStep {
    /// The step in one line, as it is said to the builder.
    pub fn line(&self) -> Message {
        match self {
            Self::Pull(step) => step.line(),
            Self::Act(step) => Message::from(&step.name),
            Self::Loosen(step) => step.line(),
            Self::Confirm(step) => Message::from(&step.text),
            Self::Fit(step) => step.line(),
            Self::Count(step) => step.line(),
            Self::Measure(step) => step.line(),
            Self::Shells(step) => step.line(),
            Self::Turn => message!("work-turn-crankshaft-two-full-turns"),
            Self::Sign => message!("work-sign"),
        }
    }
}

/// What an operation consists of, at the bench.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "work", rename_all = "kebab-case")]
pub enum BenchWork {
    /// Items to confirm.
    Items {
        /// The items in order.
        items: Vec<ItemView>,
    },
    /// Joints to tighten or to take apart.
    Tighten(Box<TightenBench>),
    /// Sites to measure.
    Measure(Box<MeasureBench>),
    /// Parts to enter.
    Parts {
        /// Every slot with what is in it.
        slots: Vec<SlotView>,
    },
    /// Hardware to count.
    Count {
        /// Every kind with what was counted.
        counts: Vec<CountView>,
    },
    /// The crankshaft to turn.
    Turn(TurnBench),
    /// The signature under the whole engine.
    Sign,
}

/// What an operation consisted of, on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "work", rename_all = "kebab-case")]
pub enum SheetWork {
    /// Items, confirmed or open.
    Items {
        /// The items in order.
        items: Vec<ItemView>,
    },
    /// Joints, fastener by fastener.
    Tighten {
        /// The joints.
        joints: Vec<JointSection>,
    },
    /// Readings and the clearances that are judged by them.
    Measure(MeasureSection),
    /// Parts by slot.
    Parts {
        /// Every slot with what is in it.
        parts: Vec<SlotView>,
    },
    /// Hardware counted.
    Count {
        /// Every kind with what was counted.
        counts: Vec<CountView>,
    },
    /// Turns of the crankshaft.
    Turn {
        /// The turns made in this operation.
        turns: Vec<TurnView>,
    },
    /// The signature under the whole engine.
    Sign,
}

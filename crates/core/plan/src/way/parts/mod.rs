//! A way of tightening, in parts: each says something else of it, and has an answer of its own for what a way does not
//! say.

mod evidence;
mod had;
mod handling;
mod judgement;
mod reading;
mod walk;

pub use evidence::{EvidenceKind, FrictionEvidence, WayEvidence};
pub use had::{ExpectedReading, StageProgress};
pub use handling::{InstrumentAbility, PlainAnswer, ReadingPrompt, WayHandling};
pub use judgement::WayJudgement;
pub(crate) use reading::MOST_LIKELY;
pub use reading::WayReading;
pub use walk::WayWalk;

//! What is written down about an engine, for good, and what a client may ask to be written.
//!
//! Facts, commands and who, when and with what they came: one file a kind of work. Nothing is
//! computed here, and keys stay the plan's own words: they are resolved where events are applied.

mod command;
mod count;
mod doubt;
mod event;
mod finding;
mod inside;
mod instrument;
mod items;
mod line;
mod lubricate;
mod mark;
mod measure;
mod parts;
mod person;
mod subject;
mod tighten;
mod turn;
mod waits;

pub use command::{Command, Do, Refusal, RefusalKind};
pub use count::Count;
pub use doubt::Doubt;
pub use event::{EVENT_FORMAT, Event, Fact};
pub use finding::{Concern, DecideFinding, Find, FindingDecision, LookAgain, Picture};
pub use inside::{PutIn, TakeOut};
pub use instrument::{Away, Instrument, Measures, Method, Scale};
pub use items::Confirm;
pub use line::{Accept, Begin, MoveTo, Moved, PlanRef, Sign, Skip, Start, Void};
pub use lubricate::{LubricantPolicy, Lubricate, Lubricated, SetPolicy};
pub use mark::{Mark, Reasoned, Stamp};
pub use measure::{ChooseShells, CountShells, Measure, Measured, SetDecisionRule};
pub use parts::{Before, Condition, Fit, FreeLength, PartNote, RemarkPart, Remarked};
pub use person::{Person, Role};
pub use subject::{Subject, ToolFault};
pub use tighten::{
    Act, Acted, AllowFurther, Allowed, Given, Loosen, Loosened, Pull, PullNote, Pulled, SetWrench, WrenchSet,
};
pub use turn::{Turn, Turned};
pub use waits::{Await, EndWait, Promise, WaitKind};

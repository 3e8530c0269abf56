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

pub use command::{Command, CommandAction, Refusal, RefusalKind};
pub use count::CountCommand;
pub use doubt::DoubtCommand;
pub use event::{EVENT_FORMAT, Event, Fact};
pub use finding::{
    FindingCommand, FindingDecision, FindingDecisionCommand, FindingReviewCommand, FindingSubject, Picture,
};
pub use inside::{TemporaryItemCommand, TemporaryItemRemoval};
pub use instrument::{Instrument, InstrumentAbsence, MeasuringRange, ReadingMethod, WrenchScale};
pub use items::ConfirmCommand;
pub use line::{
    ApproveCommand, BuildStart, OperationStart, PlanMoveCommand, PlanMoveEntry, PlanRef, SignCommand,
    SkipCommand, VoidCommand,
};
pub use lubricate::{LubricantCommand, LubricantEntry, LubricantPolicy, LubricantPolicyCommand};
pub use mark::{EntryMark, EntryStamp, ReasonedStamp};
pub use measure::{
    DecisionRuleCommand, MeasureCommand, MeasurementEntry, ShellChoiceCommand, ShellCountCommand,
};
pub use parts::{
    EarlierUse, FitCommand, FreeLength, PartCondition, PartNote, PartRemarkCommand, PartRemarkKind,
};
pub use person::{Person, Role};
pub use subject::{ApprovalSubject, ToolFault};
pub use tighten::{
    ActionCommand, ActionEntry, FurtherPullCommand, FurtherPullEntry, GivenReading, LoosenCommand,
    LooseningEntry, PullCommand, PullEntry, PullNote, WrenchSettingCommand, WrenchSettingEntry,
};
pub use turn::{TurnCommand, TurnEntry};
pub use waits::{BlockerCommand, BlockerEnd, BlockerKind, DueDate};

//! What decisions of every kind have in common: who asks, and how words are made out.

use crate::events::{Fact, Instrument, OperationStart, Person, Refusal, RefusalKind};
use crate::projections::part_history::PartUse;
use crate::state::BuildState;
use crate::status::plan_move::PlanMove;
use rigore_mechanics::friction::{Lubricant, MeasuredFriction};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension, Quantity, Unit};
use rigore_plan::OperationIx;
use time::OffsetDateTime;

/// What a decision needs besides the state.
#[derive(Debug, Clone)]
pub struct CommandContext {
    /// Who asks.
    pub by: Person,
    /// When.
    pub at: OffsetDateTime,
    /// The instrument the command names, where it names one that is known.
    pub instrument: Option<Instrument>,
    /// What that instrument is set to, N·m, where it is a click wrench and somebody said so.
    pub set_to_nm: Option<f64>,
    /// What fasteners can be lubricated with, where the command is about that.
    pub lubricants: Vec<Lubricant>,
    /// The friction that the shop has measured, where the command asks for it.
    pub measured: Vec<MeasuredFriction>,
    /// Where a part was before that the command enters, by its serial and slot.
    pub lived: Vec<PartUse>,
    /// What moving to another version of the plan would do, where the command is about that.
    pub moving: Option<PlanMove>,
    /// The last entry the client had seen.
    pub seen: u64,
}

impl CommandContext {
    /// Somebody at a time, with nothing that a command names at hand.
    pub fn new(by: Person, at: OffsetDateTime) -> Self {
        Self {
            by,
            at,
            instrument: None,
            set_to_nm: None,
            lubricants: Vec::new(),
            measured: Vec::new(),
            lived: Vec::new(),
            moving: None,
            seen: 0,
        }
    }

    /// The instrument that a command names.
    pub(crate) fn instrument(&self, id: &str) -> Result<Instrument, Refusal> {
        self.instrument
            .clone()
            .ok_or_else(|| Refusal::field("instrument", message!("assembly-no-instrument-called", id)))
    }
}

/// The place of an operation in the line.
pub(crate) fn operation(state: &BuildState, id: &str) -> Result<OperationIx, Refusal> {
    state.plan.operation(id).ok_or_else(|| {
        let known: Vec<&str> = state.plan.operations.iter().map(|o| o.id.as_str()).collect();
        let known = known.join(", ");
        Refusal::field("operation", message!("assembly-no-operation-called-there", id, known))
    })
}

/// A reason somebody gives.
pub(crate) fn reason(text: &str) -> Result<String, Refusal> {
    let text = text.trim();
    if (3..=500).contains(&text.chars().count()) {
        return Ok(text.to_owned());
    }
    Err(Refusal::field("reason", message!("assembly-reason-3-500-characters-needed")))
}

/// A quantity somebody typed, in its base unit. A bare number takes the unit that is named, else
/// the base unit.
pub(crate) fn typed(
    field: &'static str,
    text: &str,
    unit: Option<&str>,
    dimension: Dimension,
) -> Result<f64, Refusal> {
    let bare = match unit {
        Some(symbol) => quantity::unit(symbol).filter(|unit| unit.measures(dimension)).ok_or_else(|| {
            Refusal::field("unit", message!("assembly-not-unit", symbol, word = dimension.word()))
        })?,
        None => dimension.base(),
    };
    quantity::read(text, dimension, bare).map_err(|error| Refusal::field(field, error.to_string()))
}

/// That starting has to wait, and for what.
pub(crate) fn not_startable(state: &BuildState, at: OperationIx, now: OffsetDateTime) -> Option<Refusal> {
    let name = &state.plan[at].name;
    let found = state.issues_of_findings(at).into_iter().next().map(|issue| {
        Refusal::of(
            RefusalKind::NotYet,
            message!("assembly-blocked", name, what = issue.text, now = issue.to_do),
        )
    });
    waits_for(state, at, &state.open_needs(at)).or_else(|| still_cures(state, at, now)).or(found)
}

/// That sealant which an operation waits for has not cured yet.
pub(crate) fn still_cures(state: &BuildState, at: OperationIx, now: OffsetDateTime) -> Option<Refusal> {
    let cure = state.waits_for_cure(at).filter(|cure| cure.until > now)?;
    let left = Quantity::new(minutes(cure.until - now), Dimension::Time);
    let name = &state.plan[at].name;
    let message = message!("assembly-waits-for-sealant-cure-another", name, joint = cure.name, left);
    Some(Refusal::of(RefusalKind::NotYet, message))
}

fn minutes(time: time::Duration) -> f64 {
    (time.as_seconds_f64() / 60.0).ceil()
}

/// That an operation has to wait for others that are open.
pub(crate) fn waits_for(state: &BuildState, at: OperationIx, open: &[OperationIx]) -> Option<Refusal> {
    let needs = open.iter().map(|need| Message::from(&state.plan[*need].name));
    let names: Vec<Message> = needs.chain(state.other_blockers(at)).collect();
    (!names.is_empty()).then(|| {
        let message = message!(
            "assembly-operation-waits-for",
            operation = state.plan[at].name,
            names = Message::all_of(names)
        );
        Refusal::of(RefusalKind::NotYet, message)
    })
}

/// Work in an operation that can be started starts it.
pub(crate) fn starting(state: &BuildState, now: OffsetDateTime, at: OperationIx, fact: Fact) -> Vec<Fact> {
    let start = Fact::Started(OperationStart { operation: state.plan[at].id.clone() });
    if state.operations().started(at).is_none() && not_startable(state, at, now).is_none() {
        vec![start, fact]
    } else {
        vec![fact]
    }
}

/// Units of length that are meant where another is said, mm in one of each.
fn lengths() -> [UnitSlip; 5] {
    [
        (message!("assembly-inches"), 25.4),
        (message!("assembly-thousandths-inch"), 0.025_4),
        (message!("assembly-ten-thousandths-inch"), 0.002_54),
        (message!("assembly-millimetres"), 1.0),
        (message!("assembly-micrometres"), 0.001),
    ]
}

/// What a figure may have been taken for, and what it is multiplied by to be what was meant.
pub(crate) type UnitSlip = (Message, f64);

/// What a length that was given in a unit is multiplied by, where another unit was meant.
pub(crate) fn length_slips(given: &Unit) -> Vec<UnitSlip> {
    let slips = lengths().into_iter().map(|(name, mm)| (name, mm / given.factor));
    slips.filter(|(_, factor)| (factor - 1.0).abs() > 1e-9).collect()
}

/// The unit that a figure of a dimension was given in: its own, else the one that was named, else the base unit.
pub(crate) fn unit_given(text: &str, named: Option<&str>, dimension: Dimension) -> &'static Unit {
    let named = || named.and_then(quantity::unit).filter(|unit| unit.measures(dimension));
    quantity::unit_of(text, dimension).or_else(named).unwrap_or(dimension.base())
}

/// Which slip would explain an unlikely figure: the first of `slips` whose factor makes it one that fits.
pub(crate) fn slip_hint(
    read: f64,
    slips: &[UnitSlip],
    fits: impl Fn(f64) -> bool,
    shown: impl Fn(f64) -> Quantity,
) -> Message {
    let meant = slips.iter().find(|(_, factor)| fits(read * factor));
    meant
        .map(|(slip, factor)| {
            message!("assembly-possible-slip-would-fit", slip, meant = shown(read * factor))
        })
        .unwrap_or_default()
}

/// Whether somebody may record at all.
///
/// # Errors
/// A [`Refusal`] of somebody who only looks.
pub fn may_record(by: &Person) -> Result<(), Refusal> {
    if by.role.may_record() {
        return Ok(());
    }
    Err(Refusal::of(RefusalKind::NotAllowed, message!("assembly-may-view-not-record", by = by.name)))
}

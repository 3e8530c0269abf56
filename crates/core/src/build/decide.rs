//! From a command to the facts it records, or a refusal.
//!
//! What happened at the bench is always recorded, right or wrong (C-1). Refused are decisions
//! that may not be taken yet, commands that name what is not there, and a pull that somebody
//! else recorded while it was being entered.

use super::event::{Fact, Instrument, Method, Person, PlanRef, Reading, Role};
use super::state::{Entry, State};
use super::tightening::TighteningState;
use crate::plan::{Joint, Stage, Work};
use crate::quantity::{self, Dimension};
use serde::{Deserialize, Serialize};
use thiserror::Error;
use time::OffsetDateTime;
use uuid::Uuid;

/// What a client asks for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Command {
    /// Made by the client; the same id twice is answered the same and recorded once.
    pub id: Uuid,
    /// The last entry the client had seen.
    pub seen: u64,
    /// What to do.
    #[serde(rename = "do")]
    pub what: Do,
}

/// What to do.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "type", rename_all = "kebab-case")]
pub enum Do {
    /// Begin a build.
    Begin {
        /// What the engine is called in the shop.
        name: String,
        /// The plan.
        plan: PlanRef,
        /// What the engine is for, which chooses the windows of its clearances.
        #[serde(default, rename = "use")]
        use_for: Option<String>,
        /// Whose engine it is.
        #[serde(default)]
        owner: Option<String>,
    },
    /// Record a reading.
    Measure {
        /// The operation.
        operation: String,
        /// Key of the site.
        site: String,
        /// The place on it, from 0.
        place: usize,
        /// What was read: text such as `54.987`, `2.165 in` or `+0.012 on 55`.
        text: String,
        /// Symbol of the unit that a bare number is in; mm when left out.
        #[serde(default)]
        unit: Option<String>,
        /// Temperature of the part, °C.
        #[serde(default)]
        temperature_c: Option<f64>,
        /// Keep it although it is outside the plausible range.
        #[serde(default)]
        sure: bool,
        /// How it came in.
        method: Method,
        /// Key of the instrument.
        instrument: String,
    },
    /// Choose shells for one bore.
    ChooseShells {
        /// The operation.
        operation: String,
        /// Key of the clearance.
        clearance: String,
        /// Which bore, from 1.
        number: usize,
        /// Grade of the upper shell.
        upper: String,
        /// Grade of the lower shell.
        lower: String,
    },
    /// Record a turn of the crankshaft.
    Turn {
        /// The operation.
        operation: String,
        /// Whether it turned freely.
        free: bool,
        /// Turning torque, N·m, where it was measured.
        #[serde(default)]
        torque_nm: Option<f64>,
    },
    /// Leave an operation out.
    Skip {
        /// The operation.
        operation: String,
        /// Why.
        reason: String,
    },
    /// Start an operation.
    Start {
        /// The operation.
        operation: String,
    },
    /// Confirm an item.
    Confirm {
        /// The operation.
        operation: String,
        /// The item.
        item: String,
    },
    /// Record a pull.
    Pull {
        /// The operation.
        operation: String,
        /// The stage, from 0.
        stage: usize,
        /// The fastener.
        fastener: String,
        /// What was read.
        reading: Given,
        /// How it came in.
        method: Method,
        /// Key of the instrument.
        instrument: String,
    },
    /// Record an action between stages.
    Act {
        /// The operation.
        operation: String,
        /// The stage, from 0.
        stage: usize,
    },
    /// Record that a fastener was loosened.
    Loosen {
        /// The operation.
        operation: String,
        /// The fastener.
        fastener: String,
        /// Whether a new one went in.
        replaced: bool,
        /// Why.
        reason: String,
    },
    /// Void an entry.
    Void {
        /// The entry.
        seq: u64,
        /// Why.
        reason: String,
    },
    /// Accept a deviation.
    Accept {
        /// The entry that deviates.
        seq: u64,
        /// Why it may stand.
        reason: String,
    },
    /// Sign an operation.
    Sign {
        /// The operation.
        operation: String,
    },
}

/// A reading as it comes in: what a person typed, or what an instrument sent.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Given {
    /// Typed text, such as `22 lbf·ft` or `80`.
    #[serde(default)]
    pub text: Option<String>,
    /// Symbol of the unit that a bare number is in; N·m and degrees when left out.
    #[serde(default)]
    pub unit: Option<String>,
    /// Torque sent by an instrument, N·m.
    #[serde(default)]
    pub torque_nm: Option<f64>,
    /// Angle sent by an instrument, degrees.
    #[serde(default)]
    pub angle_deg: Option<f64>,
}

/// What a decision needs besides the state.
#[derive(Debug, Clone)]
pub struct Context {
    /// Who asks.
    pub by: Person,
    /// When.
    pub at: OffsetDateTime,
    /// The instrument the command names, where it names one that is known.
    pub instrument: Option<Instrument>,
}

/// Why a command was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("{message}")]
pub struct Refusal {
    /// Of which kind.
    pub kind: RefusalKind,
    /// The field at fault, where it is one.
    pub field: Option<&'static str>,
    /// What is wrong and what to do.
    pub message: String,
}

/// Kinds of refusal.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum RefusalKind {
    /// A field is wrong.
    Field,
    /// The person may not do this.
    NotAllowed,
    /// Something has to be done first.
    NotYet,
    /// Somebody recorded the same in the meantime.
    Stale,
    /// It is unlikely: send it again with `sure` to keep it as it is.
    Ask,
}

impl Refusal {
    fn field(field: &'static str, message: impl Into<String>) -> Self {
        Self { kind: RefusalKind::Field, field: Some(field), message: message.into() }
    }

    fn of(kind: RefusalKind, message: impl Into<String>) -> Self {
        Self { kind, field: None, message: message.into() }
    }
}

/// Decides a command on the state as it is: the facts to record, at least one.
///
/// # Errors
/// A [`Refusal`] says what was wrong and what to do; nothing is recorded then.
pub fn decide(state: &State, context: &Context, command: &Command) -> Result<Vec<Fact>, Refusal> {
    if context.by.role == Role::Viewer {
        return Err(Refusal::of(
            RefusalKind::NotAllowed,
            format!("{} may look, not record", context.by.name),
        ));
    }
    if let Do::Begin { name, plan, use_for, owner } = &command.what {
        return begin(state, name, plan, use_for.as_ref(), owner.as_ref());
    }
    if state.begun.is_none() {
        return Err(Refusal::of(RefusalKind::NotYet, "this build was never begun"));
    }
    match &command.what {
        Do::Begin { .. } => Err(Refusal::of(RefusalKind::Stale, "this build was begun already")),
        Do::Start { operation } => start(state, operation),
        Do::Confirm { operation, item } => confirm(state, operation, item, command.seen),
        Do::Pull { operation, stage, fastener, reading, method, instrument } => {
            let pull = Wanted { operation, stage: *stage, fastener, reading, method: *method, instrument };
            record_pull(state, context, command.seen, &pull)
        }
        Do::Measure { .. } => measure(state, context, &command.what),
        Do::ChooseShells { .. } => choose_shells(state, &command.what),
        Do::Turn { operation, free, torque_nm } => turn(state, operation, *free, *torque_nm),
        Do::Skip { operation, reason } => skip(state, context, operation, reason),
        Do::Act { operation, stage } => act(state, operation, *stage),
        Do::Loosen { operation, fastener, replaced, reason } => {
            loosen(state, operation, fastener, *replaced, reason)
        }
        Do::Void { seq, reason } => void(state, *seq, reason),
        Do::Accept { seq, reason } => accept(state, context, *seq, reason),
        Do::Sign { operation } => sign(state, context, operation),
    }
}

fn begin(
    state: &State,
    name: &str,
    plan: &PlanRef,
    use_for: Option<&String>,
    owner: Option<&String>,
) -> Result<Vec<Fact>, Refusal> {
    if state.begun.is_some() {
        return Err(Refusal::of(RefusalKind::Stale, "this build was begun already"));
    }
    let name = name.trim();
    if name.is_empty() || name.chars().count() > 80 {
        return Err(Refusal::field("name", "the engine needs a name of 1 to 80 characters"));
    }
    let owner = owner.map(|owner| owner.trim().to_owned()).filter(|owner| !owner.is_empty());
    if owner.as_ref().is_some_and(|owner| owner.chars().count() > 120) {
        return Err(Refusal::field("owner", "an owner has at most 120 characters"));
    }
    let uses = state.plan.uses();
    if let Some(wanted) = use_for.filter(|wanted| !uses.contains(&wanted.as_str())) {
        let message = format!("`{wanted}` is not a use of this plan; there is {}", uses.join(", "));
        return Err(Refusal::field("use", message));
    }
    Ok(vec![Fact::Begun { name: name.to_owned(), plan: plan.clone(), use_for: use_for.cloned(), owner }])
}

fn operation(state: &State, id: &str) -> Result<usize, Refusal> {
    let known = || state.plan.operations.iter().map(|o| o.id.as_str()).collect::<Vec<_>>().join(", ");
    let found = state.plan.operation(id).map(|(at, _)| at);
    found.ok_or_else(|| {
        Refusal::field("operation", format!("no operation is called `{id}`; there is {}", known()))
    })
}

fn joint<'a>(state: &'a State, id: &str) -> Result<(usize, &'a Joint), Refusal> {
    let at = operation(state, id)?;
    let found = state.plan.joint_of(id).map(|(_, joint)| (at, joint));
    found.ok_or_else(|| Refusal::field("operation", format!("`{id}` has nothing to tighten")))
}

fn reason(text: &str) -> Result<String, Refusal> {
    let text = text.trim();
    if (3..=500).contains(&text.chars().count()) {
        return Ok(text.to_owned());
    }
    Err(Refusal::field("reason", "a reason of 3 to 500 characters is needed"))
}

/// That starting has to wait, and for what.
fn not_startable(state: &State, at: usize) -> Option<Refusal> {
    let open = state.open_needs(at);
    let names: Vec<&str> = open.iter().map(|&need| state.plan.operations[need].name.as_str()).collect();
    (!names.is_empty()).then(|| {
        let message = format!("{} waits for {}", state.plan.operations[at].name, names.join(" and "));
        Refusal::of(RefusalKind::NotYet, message)
    })
}

fn start(state: &State, id: &str) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    if let Some(refusal) = not_startable(state, at) {
        return Err(refusal);
    }
    if state.operations[at].started.is_some() {
        return Err(Refusal::of(
            RefusalKind::Stale,
            format!("{} is started already", state.plan.operations[at].name),
        ));
    }
    Ok(vec![Fact::Started { operation: id.to_owned() }])
}

/// Work in an operation that can be started starts it.
fn starting(state: &State, at: usize, fact: Fact) -> Vec<Fact> {
    let id = state.plan.operations[at].id.clone();
    if state.operations[at].started.is_none() && not_startable(state, at).is_none() {
        vec![Fact::Started { operation: id }, fact]
    } else {
        vec![fact]
    }
}

fn confirm(state: &State, id: &str, item: &str, seen: u64) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    let Work::Items { items } = &state.plan.operations[at].work else {
        return Err(Refusal::field("operation", format!("`{id}` has no items to confirm")));
    };
    let index = items.iter().position(|planned| planned.id == item);
    let index =
        index.ok_or_else(|| Refusal::field("item", format!("no item of `{id}` is called `{item}`")))?;
    let done = state.operations[at].confirmed.iter().find(|c| c.index == index && c.voided.is_none());
    if let Some(done) = done.filter(|done| done.stamp.seq > seen || state.operations[at].signed.is_none()) {
        return Err(Refusal::of(
            RefusalKind::Stale,
            format!("{} confirmed this already", done.stamp.by.name),
        ));
    }
    Ok(starting(state, at, Fact::Confirmed { operation: id.to_owned(), item: item.to_owned() }))
}

struct Wanted<'a> {
    operation: &'a str,
    stage: usize,
    fastener: &'a str,
    reading: &'a Given,
    method: Method,
    instrument: &'a str,
}

fn record_pull(
    state: &State,
    context: &Context,
    seen: u64,
    wanted: &Wanted<'_>,
) -> Result<Vec<Fact>, Refusal> {
    let (at, joint) = joint(state, wanted.operation)?;
    let stage = joint.stages.get(wanted.stage).filter(|stage| stage.group().is_some());
    let stage = stage.ok_or_else(|| Refusal::field("stage", "no such stage with something to pull"))?;
    let in_group = joint.group_of(stage).is_some_and(|g| g.positions.iter().any(|p| p.id == wanted.fastener));
    if !in_group {
        let message = format!("`{}` is not a fastener of {}", wanted.fastener, stage.name());
        return Err(Refusal::field("fastener", message));
    }
    let tightening = &state.operations[at].tightening;
    let index = tightening.fastener(wanted.fastener).unwrap_or_default();
    let standing = tightening.standing(wanted.stage, index);
    if standing.last_seq > seen {
        let message = format!(
            "{} was just pulled on another screen ({}). Send it again only if this was another pull",
            wanted.fastener,
            show(stage, standing.value)
        );
        return Err(Refusal::of(RefusalKind::Stale, message));
    }
    let instrument = context.instrument.clone().ok_or_else(|| {
        Refusal::field("instrument", format!("no instrument is called `{}`", wanted.instrument))
    })?;
    let reading = read(stage, wanted.reading)?;
    let method = match wanted.method {
        Method::Device if instrument.simulated => Method::Simulated,
        method => method,
    };
    let fact = Fact::Pulled {
        operation: wanted.operation.to_owned(),
        stage: wanted.stage,
        fastener: wanted.fastener.to_owned(),
        reading,
        method,
        instrument,
    };
    Ok(starting(state, at, fact))
}

fn show(stage: &Stage, value: f64) -> String {
    let dimension = if stage.is_angle() { Dimension::Angle } else { Dimension::Torque };
    quantity::format(value, dimension.base())
}

/// A reading in base units. It must hold what the stage is judged on.
fn read(stage: &Stage, given: &Given) -> Result<Reading, Refusal> {
    let dimension = if stage.is_angle() { Dimension::Angle } else { Dimension::Torque };
    let mut reading =
        Reading { torque_nm: given.torque_nm, angle_deg: given.angle_deg, entered: given.text.clone() };
    if let Some(text) = &given.text {
        let bare = match &given.unit {
            Some(symbol) => {
                quantity::unit(symbol).filter(|unit| unit.dimension == dimension).ok_or_else(|| {
                    Refusal::field("unit", format!("`{symbol}` is not a unit of {}", dimension.word()))
                })?
            }
            None => dimension.base(),
        };
        let value =
            quantity::read(text, dimension, bare).map_err(|e| Refusal::field("reading", e.to_string()))?;
        *(if stage.is_angle() { &mut reading.angle_deg } else { &mut reading.torque_nm }) = Some(value);
    }
    let Some(value) = TighteningState::value(stage, &reading) else {
        return Err(Refusal::field("reading", format!("a {} is needed", dimension.word())));
    };
    let most = if stage.is_angle() { 3600.0 } else { 20_000.0 };
    let others = [reading.torque_nm, reading.angle_deg].into_iter().flatten();
    if !(value > 0.0 && value <= most) || others.into_iter().any(|v| !v.is_finite()) {
        let message = format!("a {} above zero is needed, not {}", dimension.word(), show(stage, value));
        return Err(Refusal::field("reading", message));
    }
    Ok(reading)
}

fn measure(state: &State, context: &Context, what: &Do) -> Result<Vec<Fact>, Refusal> {
    let Do::Measure { operation: id, site, place, text, unit, temperature_c, sure, method, instrument } =
        what
    else {
        return Err(Refusal::field("type", "not a reading"));
    };
    let at = operation(state, id)?;
    let (index, planned) =
        state.plan.site(site).ok_or_else(|| Refusal::field("site", format!("no site is called `{site}`")))?;
    let measured_here =
        matches!(&state.plan.operations[at].work, Work::Measure { sites } if sites.contains(&index));
    if !measured_here {
        return Err(Refusal::field("site", format!("`{site}` is not measured in `{id}`")));
    }
    if *place >= planned.places.len() {
        return Err(Refusal::field("place", format!("{} has {} places", planned.name, planned.places.len())));
    }
    if temperature_c.is_some_and(|t| !(-40.0..=150.0).contains(&t)) {
        return Err(Refusal::field("temperature_c", "a temperature from -40 to 150 °C is needed"));
    }
    let bare = match unit {
        Some(symbol) => quantity::unit(symbol)
            .filter(|unit| unit.dimension == Dimension::Length)
            .ok_or_else(|| Refusal::field("unit", format!("`{symbol}` is not a unit of length")))?,
        None => Dimension::Length.base(),
    };
    let instrument = context
        .instrument
        .clone()
        .ok_or_else(|| Refusal::field("instrument", format!("no instrument is called `{instrument}`")))?;
    let length = |text: &str| {
        quantity::read(text, Dimension::Length, bare)
            .map_err(|error| Refusal::field("text", error.to_string()))
    };
    let read_mm = match text.split_once(" on ") {
        Some((offset, master)) => length(offset)? + length(master)?,
        None => length(text)?,
    };
    if read_mm.abs() > 100_000.0 {
        return Err(Refusal::field("text", "a length below 100 m is needed"));
    }
    let [low, high] = planned.plausible_mm;
    let unlikely = !(low..=high).contains(&read_mm);
    if unlikely && !sure {
        return Err(Refusal::of(RefusalKind::Ask, unlikely_text(&planned.name, read_mm, low, high)));
    }
    let fact = Fact::Measured {
        operation: id.clone(),
        site: site.clone(),
        place: *place,
        read_mm,
        temperature_c: *temperature_c,
        entered: Some(text.clone()),
        unlikely,
        method: *method,
        instrument,
    };
    Ok(starting(state, at, fact))
}

/// Says that a reading is unlikely, and which slip would explain it.
fn unlikely_text(name: &str, read_mm: f64, low: f64, high: f64) -> String {
    let slips = [
        ("a decimal place", 10.0),
        ("a decimal place", 0.1),
        ("inches", 25.4),
        ("inches", 1.0 / 25.4),
        ("thousandths of an inch", 0.025_4),
        ("micrometres", 0.001),
        ("two decimal places", 100.0),
        ("two decimal places", 0.01),
    ];
    let meant = slips.iter().find(|(_, factor)| (low..=high).contains(&(read_mm * factor)));
    let hint = meant.map(|(slip, factor)| format!(" Off by {slip}? {:.3} mm would fit.", read_mm * factor));
    format!(
        "{read_mm:.3} mm is unlikely for {name}: {low} to {high} mm.{} Enter again keeps it as it is.",
        hint.unwrap_or_default()
    )
}

fn choose_shells(state: &State, what: &Do) -> Result<Vec<Fact>, Refusal> {
    let Do::ChooseShells { operation: id, clearance, number, upper, lower } = what else {
        return Err(Refusal::field("type", "not a choice of shells"));
    };
    let at = operation(state, id)?;
    let planned = state.plan.clearances.iter().find(|c| c.id == *clearance && !c.shells.is_empty());
    let planned =
        planned.ok_or_else(|| Refusal::field("clearance", format!("`{clearance}` has no graded shells")))?;
    if *number == 0 || *number > state.plan.family(&planned.plus).count() {
        return Err(Refusal::field("number", format!("{} has no number {number}", planned.name)));
    }
    let grade = |field, name: &str| {
        let found = planned.shells.iter().position(|shell| shell.name == name);
        found.ok_or_else(|| Refusal::field(field, format!("no grade is called `{name}`")))
    };
    if grade("upper", upper)?.abs_diff(grade("lower", lower)?) > 1 {
        return Err(Refusal::field("lower", "the shells of one bore are at most one grade apart"));
    }
    let fact = Fact::ShellsChosen {
        operation: id.clone(),
        clearance: clearance.clone(),
        number: *number,
        upper: upper.clone(),
        lower: lower.clone(),
    };
    Ok(starting(state, at, fact))
}

fn turn(state: &State, id: &str, free: bool, torque_nm: Option<f64>) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    if !matches!(state.plan.operations[at].work, Work::Turn { .. }) {
        return Err(Refusal::field("operation", format!("`{id}` is not a turning check")));
    }
    if torque_nm.is_some_and(|torque| !(0.0..=1000.0).contains(&torque)) {
        return Err(Refusal::field("torque_nm", "a turning torque from 0 to 1000 N·m is needed"));
    }
    Ok(starting(state, at, Fact::Turned { operation: id.to_owned(), free, torque_nm }))
}

fn skip(state: &State, context: &Context, id: &str, why: &str) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    if context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, "a lead decides to leave an operation out"));
    }
    if state.operations[at].signed.is_some() {
        return Err(Refusal::of(RefusalKind::Stale, format!("{} is signed", state.plan.operations[at].name)));
    }
    if matches!(state.plan.operations[at].work, Work::Sign) {
        return Err(Refusal::field("operation", "the signature under the engine cannot be left out"));
    }
    Ok(vec![Fact::Skipped { operation: id.to_owned(), reason: reason(why)? }])
}

fn act(state: &State, id: &str, stage: usize) -> Result<Vec<Fact>, Refusal> {
    let (at, joint) = joint(state, id)?;
    if !matches!(joint.stages.get(stage), Some(Stage::Action { .. })) {
        return Err(Refusal::field("stage", "this stage is no action"));
    }
    if state.operations[at].tightening.acted(stage) {
        return Err(Refusal::of(RefusalKind::Stale, "this action is done already"));
    }
    Ok(starting(state, at, Fact::Acted { operation: id.to_owned(), stage }))
}

fn loosen(state: &State, id: &str, fastener: &str, replaced: bool, why: &str) -> Result<Vec<Fact>, Refusal> {
    let (at, _) = joint(state, id)?;
    if state.operations[at].tightening.fastener(fastener).is_none() {
        return Err(Refusal::field("fastener", format!("no fastener of this joint is called `{fastener}`")));
    }
    let (operation, fastener) = (id.to_owned(), fastener.to_owned());
    Ok(vec![Fact::Loosened { operation, fastener, replaced, reason: reason(why)? }])
}

fn void(state: &State, seq: u64, why: &str) -> Result<Vec<Fact>, Refusal> {
    let voided = match state.entry(seq) {
        Some(Entry::Pull(at, i)) => state.operations[at].tightening.pulls[i].voided.is_some(),
        Some(Entry::Loosening(at, i)) => state.operations[at].tightening.loosenings[i].voided.is_some(),
        Some(Entry::Action(at, i)) => state.operations[at].tightening.actions[i].voided.is_some(),
        Some(Entry::Confirmation(at, i)) => state.operations[at].confirmed[i].voided.is_some(),
        Some(Entry::Measured(i)) => state.measured[i].voided.is_some(),
        Some(Entry::Turn(at, i)) => state.operations[at].turned[i].voided.is_some(),
        Some(Entry::Signature(at)) => state.operations[at].signed.as_ref().is_none_or(|s| s.seq != seq),
        Some(Entry::Fixed) | None => {
            return Err(Refusal::field("seq", format!("entry {seq} is not one that can be voided")));
        }
    };
    if voided {
        return Err(Refusal::of(RefusalKind::Stale, format!("entry {seq} does not count any more")));
    }
    Ok(vec![Fact::Voided { seq, reason: reason(why)? }])
}

fn accept(state: &State, context: &Context, seq: u64, why: &str) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, "a lead accepts deviations"));
    }
    if let Some(Entry::Measured(_)) = state.entry(seq) {
        if !state.matters().iter().any(|matter| matter.seq == seq) {
            return Err(Refusal::of(RefusalKind::Stale, format!("entry {seq} has no open deviation")));
        }
        return Ok(vec![Fact::Accepted { seq, reason: reason(why)? }]);
    }
    let Some(Entry::Pull(at, i)) = state.entry(seq) else {
        return Err(Refusal::field("seq", format!("entry {seq} is not a deviation")));
    };
    let pull = &state.operations[at].tightening.pulls[i];
    if pull.accepted.is_some() || pull.voided.is_some() || !pull.remarks.iter().any(super::Remark::deviates) {
        return Err(Refusal::of(RefusalKind::Stale, format!("entry {seq} has no open deviation")));
    }
    Ok(vec![Fact::Accepted { seq, reason: reason(why)? }])
}

fn sign(state: &State, context: &Context, id: &str) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    let planned = &state.plan.operations[at];
    let not_yet = |message: String| Err(Refusal::of(RefusalKind::NotYet, message));
    if state.operations[at].signed.is_some() {
        return Err(Refusal::of(RefusalKind::Stale, format!("{} is signed already", planned.name)));
    }
    if let Some(refusal) = not_startable(state, at) {
        return Err(refusal);
    }
    let (done, total) = state.progress(at);
    if done < total {
        return not_yet(format!("{} of {total} done. Next: {}", done, state.step(at).line()));
    }
    let whole = matches!(planned.work, Work::Sign);
    let matters = if whole { state.matters() } else { state.matters_of(at) };
    if let Some(first) = matters.first() {
        return not_yet(format!("{} open. First: {}. {}", matters.len(), first.what, first.now));
    }
    if whole {
        let others = (0..state.operations.len()).filter(|&other| other != at);
        if let Some(open) = others.into_iter().find(|&other| state.operations[other].signed.is_none()) {
            return not_yet(format!("{} is not signed yet", state.plan.operations[open].name));
        }
        if context.by.role != Role::Lead {
            return Err(Refusal::of(RefusalKind::NotAllowed, "a lead signs the engine off"));
        }
    }
    Ok(starting(state, at, Fact::Signed { operation: id.to_owned() }))
}

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
    if let Do::Begin { name, plan } = &command.what {
        return begin(state, name, plan);
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
        Do::Act { operation, stage } => act(state, operation, *stage),
        Do::Loosen { operation, fastener, replaced, reason } => {
            loosen(state, operation, fastener, *replaced, reason)
        }
        Do::Void { seq, reason } => void(state, *seq, reason),
        Do::Accept { seq, reason } => accept(state, context, *seq, reason),
        Do::Sign { operation } => sign(state, context, operation),
    }
}

fn begin(state: &State, name: &str, plan: &PlanRef) -> Result<Vec<Fact>, Refusal> {
    if state.begun.is_some() {
        return Err(Refusal::of(RefusalKind::Stale, "this build was begun already"));
    }
    let name = name.trim();
    if name.is_empty() || name.chars().count() > 80 {
        return Err(Refusal::field("name", "the engine needs a name of 1 to 80 characters"));
    }
    Ok(vec![Fact::Begun { name: name.to_owned(), plan: plan.clone() }])
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
    let Some(Entry::Pull(at, i)) = state.entry(seq) else {
        return Err(Refusal::field("seq", format!("entry {seq} is not a deviation")));
    };
    let pull = &state.operations[at].tightening.pulls[i];
    if pull.accepted.is_some() || pull.voided.is_some() || !pull.remarks.iter().any(super::Remark::deviates) {
        return Err(Refusal::of(RefusalKind::Stale, format!("entry {seq} has no open deviation")));
    }
    if context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, "a lead accepts deviations"));
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

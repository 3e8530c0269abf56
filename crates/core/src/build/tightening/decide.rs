//! What may be recorded about a joint.

use super::super::command::{Context, Do, Given, Refusal, RefusalKind};
use super::super::decide::{operation, reason, starting, typed};
use super::super::event::{Fact, Method, Reading};
use super::super::state::State;
use super::TighteningState;
use crate::plan::{Joint, Stage};
use crate::quantity::{self, Dimension};

fn joint<'a>(state: &'a State, id: &str) -> Result<(usize, &'a Joint), Refusal> {
    let at = operation(state, id)?;
    let found = state.plan.joint_of(id).map(|(_, joint)| (at, joint));
    found.ok_or_else(|| Refusal::field("operation", format!("`{id}` has nothing to tighten")))
}

/// Records a pull. Only one that somebody else recorded in the meantime is asked about.
pub(in crate::build) fn pull(
    state: &State,
    context: &Context,
    seen: u64,
    what: &Do,
) -> Result<Vec<Fact>, Refusal> {
    let Do::Pull { operation, stage: number, fastener, reading, method, instrument } = what else {
        return Err(Refusal::field("type", "not a pull"));
    };
    let (at, joint) = joint(state, operation)?;
    let stage = joint.stages.get(*number).filter(|stage| stage.group().is_some());
    let stage = stage.ok_or_else(|| Refusal::field("stage", "no such stage with something to pull"))?;
    let in_group = joint.group_of(stage).is_some_and(|g| g.positions.iter().any(|p| p.id == *fastener));
    if !in_group {
        let message = format!("`{fastener}` is not a fastener of {}", stage.name());
        return Err(Refusal::field("fastener", message));
    }
    let tightening = &state.operations[at].tightening;
    let index = tightening.fastener(fastener).unwrap_or_default();
    let standing = tightening.standing(*number, index);
    if standing.last_seq > seen {
        let message = format!(
            "{fastener} was just pulled on another screen ({}). Send it again only if this was another pull",
            show(stage, standing.value)
        );
        return Err(Refusal::of(RefusalKind::Stale, message));
    }
    let instrument = context
        .instrument
        .clone()
        .ok_or_else(|| Refusal::field("instrument", format!("no instrument is called `{instrument}`")))?;
    let reading = read(stage, reading)?;
    let method = match method {
        Method::Device if instrument.simulated => Method::Simulated,
        method => *method,
    };
    let (operation, fastener) = (operation.clone(), fastener.clone());
    let fact = Fact::Pulled { operation, stage: *number, fastener, reading, method, instrument };
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
        let value = typed("reading", text, given.unit.as_deref(), dimension)?;
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

/// Records an action between stages.
pub(in crate::build) fn act(state: &State, id: &str, stage: usize) -> Result<Vec<Fact>, Refusal> {
    let (at, joint) = joint(state, id)?;
    if !matches!(joint.stages.get(stage), Some(Stage::Action { .. })) {
        return Err(Refusal::field("stage", "this stage is no action"));
    }
    if state.operations[at].tightening.acted(stage) {
        return Err(Refusal::of(RefusalKind::Stale, "this action is done already"));
    }
    Ok(starting(state, at, Fact::Acted { operation: id.to_owned(), stage }))
}

/// Records that a fastener was loosened.
pub(in crate::build) fn loosen(
    state: &State,
    id: &str,
    fastener: &str,
    replaced: bool,
    why: &str,
) -> Result<Vec<Fact>, Refusal> {
    let (at, _) = joint(state, id)?;
    if state.operations[at].tightening.fastener(fastener).is_none() {
        return Err(Refusal::field("fastener", format!("no fastener of this joint is called `{fastener}`")));
    }
    let (operation, fastener) = (id.to_owned(), fastener.to_owned());
    Ok(vec![Fact::Loosened { operation, fastener, replaced, reason: reason(why)? }])
}

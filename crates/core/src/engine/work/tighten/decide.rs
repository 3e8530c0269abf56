//! What may be recorded about a joint.

use super::state::Round;
use crate::engine::asking::{Context, operation, reason, slip_hint, starting, typed};
use crate::engine::record::{
    Act, Fact, Given, Instrument, Loosen, Method, Pull, Pulled, Refusal, RefusalKind, SetWrench, WrenchSet,
};
use crate::engine::state::State;
use crate::engine::tools::same_setting;
use crate::plan::{Joint, OperationIx, StageIx};
use crate::quantity::{self, Dimension};
use crate::tightening::way::MOST_NM;
use crate::tightening::{Had, Reading, Way};

/// A typed figure is likely from this share of the least that will do,
const LEAST_LIKELY: f64 = 0.2;
/// up to so many times the most that will do.
const MOST_LIKELY: f64 = 2.5;

fn joint<'a>(state: &'a State, id: &str) -> Result<(OperationIx, &'a Joint, &'a Round), Refusal> {
    let at = operation(state, id)?;
    let Some((joint, round)) = state.plan.tightens(at) else {
        return Err(Refusal::field("operation", format!("`{id}` has nothing to tighten")));
    };
    Ok((at, &state.plan[joint], state.joints.round((joint, round))))
}

/// Records a pull. Only one that somebody else recorded in the meantime is asked about.
pub(in crate::engine) fn pull(state: &State, context: &Context, pull: &Pull) -> Result<Vec<Fact>, Refusal> {
    let (at, joint, round) = joint(state, &pull.operation)?;
    let stage = StageIx(pull.stage);
    let group = joint.stages.get(stage.0).and_then(|_| joint.group_of(stage));
    let group = group.ok_or_else(|| Refusal::field("stage", "no such stage with something to pull"))?;
    let way = &joint[stage].way;
    let fastener = joint.fastener(&pull.fastener).filter(|fastener| group.fasteners.contains(&fastener.0));
    let fastener = fastener.ok_or_else(|| {
        let (id, name) = (&pull.fastener, &joint[stage].name);
        Refusal::field("fastener", format!("`{id}` is not a fastener of {name}"))
    })?;
    let fastened = round.fastened(fastener);
    if fastened.last(stage) > context.seen {
        let message = format!(
            "{} was just pulled on another screen ({}). Send it again only if this was another pull",
            pull.fastener,
            way.print(fastened.had(stage).value)
        );
        return Err(Refusal::of(RefusalKind::Stale, message));
    }
    let instrument = context.instrument(&pull.instrument)?;
    let reading = match pull.method {
        Method::Clicked => clicked(context, &instrument, &read(way, &pull.reading)?)?,
        Method::Typed if !pull.sure => likely(way, fastened.had(stage), read(way, &pull.reading)?)?,
        _ => read(way, &pull.reading)?,
    };
    let fact = Fact::Pulled(Pulled {
        operation: pull.operation.clone(),
        stage: pull.stage,
        fastener: pull.fastener.clone(),
        reading,
        method: pull.method.with(&instrument),
        instrument,
    });
    Ok(starting(state, at, fact))
}

/// A reading in base units. It must hold what the stage is judged on.
fn read(way: &Way, given: &Given) -> Result<Reading, Refusal> {
    let rules = way.rules();
    let Some(dimension) = rules.dimension() else {
        return Err(Refusal::field("stage", "nothing is read in this stage"));
    };
    let mut reading =
        Reading { torque_nm: given.torque_nm, angle_deg: given.angle_deg, entered: given.text.clone() };
    if let Some(text) = &given.text {
        rules.put(&mut reading, typed("reading", text, given.unit.as_deref(), dimension)?);
    }
    let wrong = |message: String| Err(Refusal::field("reading", message));
    let (one, most) = (dimension.one(), rules.most());
    match rules.figure(&reading) {
        None => return wrong(format!("missing: {one} is needed")),
        Some(figure) if !figure.is_finite() || figure <= 0.0 => {
            return wrong(format!("{one} above zero is needed, not {}", way.print(figure)));
        }
        Some(figure) if figure > most => {
            let (given, most) = (way.print(figure), way.print(most));
            return wrong(format!("{given} cannot be meant: at most {most} is {one} of a pull"));
        }
        Some(_) => {}
    }
    if [reading.torque_nm, reading.angle_deg].into_iter().flatten().any(|figure| !figure.is_finite()) {
        return wrong("every figure has to be a finite number".to_owned());
    }
    Ok(reading)
}

/// A figure far from what is asked for is asked about once, and then taken as it is.
fn likely(way: &Way, had: Had, reading: Reading) -> Result<Reading, Refusal> {
    let rules = way.rules();
    let (Some(band), Some(figure)) = (rules.band(), rules.figure(&reading)) else { return Ok(reading) };
    // A swing of an angle may be as small as it likes.
    let left = if rules.adds_up() { (band.target - had.value).max(0.0) } else { band.target };
    let least = if rules.adds_up() { 0.0 } else { band.low * LEAST_LIKELY };
    let most = band.high * MOST_LIKELY;
    if (least..=most).contains(&figure) {
        return Ok(reading);
    }
    let slips: &[(&str, f64)] = match rules.dimension() {
        Some(Dimension::Torque) => &[
            ("a decimal place", 0.1),
            ("a decimal place", 10.0),
            ("pound-feet for pound-inches", 12.0),
            ("pound-inches for pound-feet", 1.0 / 12.0),
        ],
        _ => &[("a decimal place", 0.1)],
    };
    let near = |meant: f64| (meant - left).abs() <= 0.1 * left;
    let hint = slip_hint(figure, slips, near, |meant| way.print(meant));
    let (read, asked) = (way.print(figure), way.print(left));
    let message =
        format!("{read} is unlikely where {asked} is asked for.{hint} Enter again keeps it as it is.");
    Err(Refusal::of(RefusalKind::Ask, message))
}

/// A click says no more than that the wrench reached what it was set to: that has to be known, and to be
/// what its sender believes.
fn clicked(context: &Context, wrench: &Instrument, said: &Reading) -> Result<Reading, Refusal> {
    let Some(believed) = said.torque_nm else {
        return Err(Refusal::field(
            "reading",
            "a click tells of a torque, and this stage asks for another thing",
        ));
    };
    let name = &wrench.name;
    let Some(set_to) = context.set_to_nm.filter(|_| wrench.clicks) else {
        return Err(Refusal::field("instrument", format!("nobody said what {name} is set to: set it first")));
    };
    if same_setting(set_to, believed) {
        return Ok(Reading { torque_nm: Some(set_to), ..Reading::default() });
    }
    let set_to = quantity::format(set_to, Dimension::Torque.base());
    let message = format!("{name} was set to {set_to} meanwhile: look at it and set it again");
    Err(Refusal::of(RefusalKind::Stale, message))
}

/// Records that a click wrench was set.
pub(in crate::engine) fn set_wrench(
    state: &State,
    context: &Context,
    set: &SetWrench,
) -> Result<Vec<Fact>, Refusal> {
    joint(state, &set.operation)?;
    let instrument = context.instrument(&set.instrument)?;
    if !instrument.clicks {
        let message = format!("{} does not click at a setting", instrument.name);
        return Err(Refusal::field("instrument", message));
    }
    let torque_nm = typed("text", &set.text, set.unit.as_deref(), Dimension::Torque)?;
    if !(torque_nm > 0.0 && torque_nm <= MOST_NM) {
        return Err(Refusal::field("text", format!("a torque above zero and up to {MOST_NM} N·m is needed")));
    }
    let (operation, entered) = (set.operation.clone(), set.text.clone());
    Ok(vec![Fact::WrenchSet(WrenchSet { operation, instrument, torque_nm, entered })])
}

/// Records an action between stages.
pub(in crate::engine) fn act(state: &State, act: &Act) -> Result<Vec<Fact>, Refusal> {
    let (at, joint, round) = joint(state, &act.operation)?;
    let stage = StageIx(act.stage);
    if joint.stages.get(stage.0).is_none_or(|stage| stage.way.action().is_none()) {
        return Err(Refusal::field("stage", "this stage is no action"));
    }
    if round.acted(stage) {
        return Err(Refusal::of(RefusalKind::Stale, "this action is done already"));
    }
    Ok(starting(state, at, Fact::Acted(act.clone())))
}

/// Records that a fastener was loosened.
pub(in crate::engine) fn loosen(state: &State, loosen: &Loosen) -> Result<Vec<Fact>, Refusal> {
    let (_, joint, _) = joint(state, &loosen.operation)?;
    let id = &loosen.fastener;
    if joint.fastener(id).is_none() {
        return Err(Refusal::field("fastener", format!("no fastener of this joint is called `{id}`")));
    }
    Ok(vec![Fact::Loosened(Loosen { reason: reason(&loosen.reason)?, ..loosen.clone() })])
}

//! What may be recorded about sizes and shells.

use super::strip::is_of_card;
use crate::commands::context::{
    CommandContext, UnitSlip, length_slips, operation, slip_hint, starting, typed, unit_given,
};
use crate::events::{
    Fact, MeasureCommand, MeasurementEntry, Refusal, RefusalKind, ShellChoiceCommand, ShellCountCommand,
};
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity, Unit};
use rigore_plan::{Clearance, OperationIx, OperationWork, Site};

/// The most that anybody measures, mm or cm³.
const MOST: f64 = 100_000.0;
/// The most shells of one grade that anybody counts.
const MOST_SHELLS: u32 = 1000;

/// Records a reading. What is unlikely is asked about once and then taken as it is.
pub(crate) fn measure(
    state: &BuildState,
    context: &CommandContext,
    measure: &MeasureCommand,
) -> Result<Vec<Fact>, Refusal> {
    let (id, key) = (&measure.operation, &measure.site);
    let at = operation(state, id)?;
    let site = state.plan.site(key);
    let site = site.ok_or_else(|| Refusal::field("site", message!("measure-no-site-called", key)))?;
    let planned = &state.plan[site];
    if !matches!(&state.plan[at].work, OperationWork::Measure(sites) if sites.contains(&site)) {
        return Err(Refusal::field("site", message!("measure-not-measured", key, id)));
    }
    if measure.place >= planned.places.len() {
        return Err(Refusal::field(
            "place",
            message!("measure-has-places", planned = planned.name, count = planned.places.len()),
        ));
    }
    if measure.temperature_c.is_some_and(|celsius| !(-40.0..=150.0).contains(&celsius)) {
        return Err(Refusal::field(
            "temperature_c",
            message!(
                "measure-temperature-needed",
                range = Quantity::new(-40.0, Dimension::Temperature).up_to(150.0)
            ),
        ));
    }
    let instrument = context.instrument(&measure.instrument)?;
    let (read, master) = read(&measure.text, measure.unit.as_deref(), planned.dimension)?;
    let unlikely = is_unlikely(planned, read);
    if unlikely && !measure.sure {
        let given = unit_given(&measure.text, measure.unit.as_deref(), planned.dimension);
        return Err(Refusal::of(RefusalKind::Ask, unlikely_text(planned, read, given)));
    }
    let fact = Fact::Measured(MeasurementEntry {
        operation: id.clone(),
        site: key.clone(),
        place: measure.place,
        read,
        master,
        temperature_c: measure.temperature_c,
        entered: Some(measure.text.clone()),
        unlikely,
        method: measure.method.with(&instrument),
        instrument,
    });
    Ok(starting(state, context.at, at, fact))
}

/// A typed reading in the base unit, and the set master it was read against: `54.987`,
/// `2.165 in`, `+0.012 on 55`.
pub(super) fn read(
    text: &str,
    unit: Option<&str>,
    dimension: Dimension,
) -> Result<(f64, Option<f64>), Refusal> {
    let size = |text: &str| typed("text", text, unit, dimension);
    let (read, master) = match text.split_once(" on ") {
        Some((offset, master)) => {
            let master = size(master)?;
            (size(offset)? + master, Some(master))
        }
        None => (size(text)?, None),
    };
    if read.abs() <= MOST {
        return Ok((read, master));
    }
    let most = Quantity::new(MOST, dimension);
    Err(Refusal::field("text", message!("measure-below-needed", one = dimension.one(), most)))
}

/// Whether a reading is outside of what is plausible there, in the base unit.
pub(super) fn is_unlikely(site: &Site, read: f64) -> bool {
    let [low, high] = site.plausible;
    // A strip has two scales: the width that it was flattened to, and the clearance that its card prints.
    let by_card =
        site.strip_mm.is_some_and(|wire_mm| is_of_card(wire_mm, read) && read >= LEAST_CLEARANCE_MM);
    !(low..=high).contains(&read) && !by_card
}

/// The least clearance that a card prints, mm.
const LEAST_CLEARANCE_MM: f64 = 0.01;

/// Says that a reading is unlikely, and which slip would explain it.
pub(super) fn unlikely_text(site: &Site, read: f64, given: &Unit) -> Message {
    let [low, high] = site.plausible;
    let in_unit = |value: f64| Quantity::new(value, site.dimension);
    let near = [(message!("measure-decimal-place"), 10.0), (message!("measure-decimal-place"), 0.1)];
    let units = if site.dimension.is_length() { length_slips(given) } else { Vec::new() };
    let far =
        [(message!("measure-two-decimal-places"), 100.0), (message!("measure-two-decimal-places"), 0.01)];
    let slips: Vec<UnitSlip> = near.into_iter().chain(units).chain(far).collect();
    message!(
        "measure-unlikely-for-press-enter-again-record",
        read = in_unit(read),
        site = &site.name,
        usual = Quantity::fine(low, site.dimension).up_to(high),
        hint = slip_hint(read, &slips, |meant| (low..=high).contains(&meant), in_unit),
    )
}

fn graded<'a>(state: &'a BuildState, clearance: &str) -> Result<&'a Clearance, Refusal> {
    let found = state.plan.clearance(clearance).map(|at| &state.plan[at]);
    let graded = found.filter(|planned| !planned.shells.is_empty());
    graded.ok_or_else(|| Refusal::field("clearance", message!("measure-has-no-graded-shells", clearance)))
}

fn grade(planned: &Clearance, field: &'static str, name: &str) -> Result<usize, Refusal> {
    let found = planned.shells.iter().position(|shell| shell.name == name);
    found.ok_or_else(|| {
        let there: Vec<&str> = planned.shells.iter().map(|shell| shell.name.as_str()).collect();
        Refusal::field(field, message!("measure-no-grade-called-there", name, there = there.join(", ")))
    })
}

/// The place of a measuring operation in the line.
fn measuring(state: &BuildState, id: &str) -> Result<OperationIx, Refusal> {
    let at = operation(state, id)?;
    match state.plan[at].work {
        OperationWork::Measure(_) => Ok(at),
        _ => Err(Refusal::field("operation", message!("measure-measures-nothing", id))),
    }
}

/// Chooses shells for one bore.
pub(crate) fn choose_shells(
    state: &BuildState,
    context: &CommandContext,
    choice: &ShellChoiceCommand,
) -> Result<Vec<Fact>, Refusal> {
    let at = measuring(state, &choice.operation)?;
    let planned = graded(state, &choice.clearance)?;
    let number = choice.number;
    if number == 0 || number > state.plan.members(planned) {
        return Err(Refusal::field(
            "number",
            message!("measure-has-no-number", planned = planned.name, number),
        ));
    }
    if grade(planned, "upper", &choice.upper)?.abs_diff(grade(planned, "lower", &choice.lower)?) > 1 {
        return Err(Refusal::field("lower", message!("measure-shells-one-bore-at-most-one")));
    }
    Ok(starting(state, context.at, at, Fact::ShellsChosen(choice.clone())))
}

/// Records how many shells of a grade are at hand.
pub(crate) fn count_shells(
    state: &BuildState,
    context: &CommandContext,
    count: &ShellCountCommand,
) -> Result<Vec<Fact>, Refusal> {
    let at = measuring(state, &count.operation)?;
    grade(graded(state, &count.clearance)?, "grade", &count.grade)?;
    if count.count > MOST_SHELLS {
        return Err(Refusal::field(
            "count",
            message!("measure-whole-number-from-0-needed", most = MOST_SHELLS),
        ));
    }
    Ok(starting(state, context.at, at, Fact::ShellsCounted(count.clone())))
}

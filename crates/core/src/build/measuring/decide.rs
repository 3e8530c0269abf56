//! What may be recorded about sizes and shells.

use super::super::command::{Context, Do, Refusal, RefusalKind};
use super::super::decide::{operation, starting, typed};
use super::super::event::Fact;
use super::super::state::State;
use crate::plan::{Clearance, Site, Work};
use crate::quantity::{self, Dimension};

/// The most that anybody measures, mm or cm³.
const MOST: f64 = 100_000.0;
/// The most shells of one grade that anybody counts.
const MOST_SHELLS: u32 = 1000;

/// Records a reading. What is unlikely is asked about once and then taken as it is.
pub(in crate::build) fn measure(state: &State, context: &Context, what: &Do) -> Result<Vec<Fact>, Refusal> {
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
    let instrument = context
        .instrument
        .clone()
        .ok_or_else(|| Refusal::field("instrument", format!("no instrument is called `{instrument}`")))?;
    let (read, master) = read(text, unit.as_deref(), planned.dimension)?;
    let [low, high] = planned.plausible;
    let unlikely = !(low..=high).contains(&read);
    if unlikely && !sure {
        return Err(Refusal::of(RefusalKind::Ask, unlikely_text(planned, read)));
    }
    let fact = Fact::Measured {
        operation: id.clone(),
        site: site.clone(),
        place: *place,
        read,
        master,
        temperature_c: *temperature_c,
        entered: Some(text.clone()),
        unlikely,
        method: *method,
        instrument,
    };
    Ok(starting(state, at, fact))
}

/// A typed reading in the base unit, and the set master it was read against: `54.987`,
/// `2.165 in`, `+0.012 on 55`.
fn read(text: &str, unit: Option<&str>, dimension: Dimension) -> Result<(f64, Option<f64>), Refusal> {
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
    let most = quantity::format(MOST, dimension.base());
    Err(Refusal::field("text", format!("a {} below {most} is needed", dimension.word())))
}

/// Says that a reading is unlikely, and which slip would explain it.
fn unlikely_text(site: &Site, read: f64) -> String {
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
    let [low, high] = site.plausible;
    let in_unit = |value: f64| quantity::format(value, site.dimension.base());
    let lengths = site.dimension == Dimension::Length;
    let possible =
        slips.iter().filter(|(slip, _)| lengths || slip.ends_with("place") || slip.ends_with("places"));
    let meant = possible.into_iter().find(|(_, factor)| (low..=high).contains(&(read * factor)));
    let hint = meant.map(|(slip, factor)| format!(" Off by {slip}? {} would fit.", in_unit(read * factor)));
    format!(
        "{} is unlikely for {}: {low} to {high} {}.{} Enter again keeps it as it is.",
        in_unit(read),
        site.name,
        site.dimension.base().symbol,
        hint.unwrap_or_default()
    )
}

fn graded<'a>(state: &'a State, clearance: &str) -> Result<&'a Clearance, Refusal> {
    let planned = state.plan.clearances.iter().find(|c| c.id == *clearance && !c.shells.is_empty());
    planned.ok_or_else(|| Refusal::field("clearance", format!("`{clearance}` has no graded shells")))
}

fn grade(planned: &Clearance, field: &'static str, name: &str) -> Result<usize, Refusal> {
    let found = planned.shells.iter().position(|shell| shell.name == name);
    found.ok_or_else(|| {
        let there: Vec<&str> = planned.shells.iter().map(|shell| shell.name.as_str()).collect();
        Refusal::field(field, format!("no grade is called `{name}`; there is {}", there.join(", ")))
    })
}

/// Chooses shells for one bore.
pub(in crate::build) fn choose_shells(state: &State, what: &Do) -> Result<Vec<Fact>, Refusal> {
    let Do::ChooseShells { operation: id, clearance, number, upper, lower } = what else {
        return Err(Refusal::field("type", "not a choice of shells"));
    };
    let at = operation(state, id)?;
    let planned = graded(state, clearance)?;
    if *number == 0 || *number > state.plan.members(planned) {
        return Err(Refusal::field("number", format!("{} has no number {number}", planned.name)));
    }
    if grade(planned, "upper", upper)?.abs_diff(grade(planned, "lower", lower)?) > 1 {
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

/// Records how many shells of a grade are at hand.
pub(in crate::build) fn count_shells(
    state: &State,
    id: &str,
    clearance: &str,
    name: &str,
    count: u32,
) -> Result<Vec<Fact>, Refusal> {
    let at = operation(state, id)?;
    grade(graded(state, clearance)?, "grade", name)?;
    if count > MOST_SHELLS {
        return Err(Refusal::field("count", format!("a whole number from 0 to {MOST_SHELLS} is needed")));
    }
    let (operation, clearance, grade) = (id.to_owned(), clearance.to_owned(), name.to_owned());
    Ok(starting(state, at, Fact::ShellsCounted { operation, clearance, grade, count }))
}

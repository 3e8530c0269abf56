//! Targets and tolerances as a stage of a plan writes them.

use crate::toml_reader::TomlTable;
use rigore_mechanics::quantity::{Dimension, Unit};
use rigore_mechanics::tightening::Band;
use rigore_mechanics::{message, text_id};

/// The band of a target: the `range` that will do (C-44), or `tolerance` as a quantity or as `"4 %"`.
pub(super) fn read_band(table: &TomlTable<'_>, key: &'static str, dimension: Dimension) -> Option<Band> {
    let target = table.positive(key, dimension);
    let band = if table.has("range") {
        if !table.text_or("tolerance", "").is_empty() {
            table.error("tolerance", text_id!("way-range-or-tolerance-not-both"));
        }
        read_range(table, target?, table.unit(key, dimension))
    } else {
        read_tolerance(table, "tolerance", target, table.unit(key, dimension))
    };
    band.map(|band| Band { dimension, ..band })
}

/// A target with the tolerance that a field gives it, as a quantity or as `"4 %"`.
pub(super) fn read_tolerance(
    table: &TomlTable<'_>,
    key: &'static str,
    target: Option<f64>,
    unit: &'static Unit,
) -> Option<Band> {
    let text = table.text_or(key, "");
    let tolerance = match text.trim().strip_suffix('%') {
        Some(percent) => {
            let share = percent.trim().replace(',', ".").parse::<f64>().ok();
            if share.is_none() {
                table.error(key, message!("plan-not-percentage-such-as-4", text));
            }
            share.zip(target).map(|(share, target)| share / 100.0 * target)
        }
        None => table.quantity(key, unit.dimension),
    };
    let (target, tolerance) = (target?, tolerance?);
    if tolerance > 0.0 && tolerance < target {
        return Some(Band::around(target, tolerance, unit));
    }
    table.error(key, text_id!("way-must-lie-between-zero-target"));
    None
}

fn read_range(table: &TomlTable<'_>, target: f64, unit: &'static Unit) -> Option<Band> {
    if let [low, high] = table.quantities("range", unit.dimension)[..]
        && 0.0 < low
        && low <= target
        && target <= high
        && low < high
    {
        return Some(Band { target, low, high, unit, dimension: unit.dimension });
    }
    table.error("range", text_id!("way-two-rising-figures-such-as-31"));
    None
}

/// A limit of an angle that is counted from zero, degrees.
pub(super) fn up_to(most: f64) -> Band {
    Band::between(0.0, 0.0, most, Dimension::Angle)
}

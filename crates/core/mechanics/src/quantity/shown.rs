//! A quantity as it is told to people: a value that is not yet text.

use super::units::{Dimension, Unit, unit};
use serde::{Deserialize, Deserializer, Serialize};

/// A figure that a person is told. It becomes text where it is shown, in the reader's units.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Quantity {
    /// In the base unit of its dimension.
    pub value: f64,
    /// The other end, where it is a range.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub to: Option<f64>,
    /// What it measures.
    pub dimension: Dimension,
    /// The unit it is always shown in, by its symbol: that of an instrument's scale.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub scale: Option<&'static str>,
    /// The unit it was written in, by its symbol: who reads in that unit reads it as it was written.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub written: Option<&'static str>,
    /// Decimals besides those of its unit, where the value has them: a reading just past a limit must not be shown
    /// as the limit.
    #[serde(skip_serializing_if = "is_none")]
    pub more: u8,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde hands a field on by reference")]
fn is_none(more: &u8) -> bool {
    *more == 0
}

/// A quantity as it was sent or kept: symbols that are no unit's are dropped.
#[derive(Deserialize)]
struct Sent {
    value: f64,
    to: Option<f64>,
    dimension: Dimension,
    scale: Option<String>,
    written: Option<String>,
    #[serde(default)]
    more: u8,
}

impl<'de> Deserialize<'de> for Quantity {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let sent = Sent::deserialize(deserializer)?;
        let known = |symbol: Option<String>| symbol.and_then(|symbol| unit(&symbol)).map(|unit| unit.symbol);
        Ok(Self {
            value: sent.value,
            to: sent.to,
            dimension: sent.dimension,
            scale: known(sent.scale),
            written: known(sent.written),
            more: sent.more,
        })
    }
}

impl Quantity {
    /// A value in the base unit of what it measures.
    pub fn new(value: f64, dimension: Dimension) -> Self {
        Self { value, to: None, dimension, scale: None, written: None, more: 0 }
    }

    /// All from one value to another.
    #[must_use]
    pub fn up_to(self, to: f64) -> Self {
        Self { to: Some(to), ..self }
    }

    /// The same with one decimal more where the value has it.
    pub fn fine(value: f64, dimension: Dimension) -> Self {
        Self { more: 1, ..Self::new(value, dimension) }
    }

    /// The same, always shown in a unit: that of an instrument's scale, or of what somebody typed.
    #[must_use]
    pub fn in_scale(self, unit: &'static Unit) -> Self {
        Self { scale: Some(unit.symbol), ..self }
    }

    /// A figure that was written in a unit, such as one of a plan.
    pub fn written_in(value: f64, unit: &'static Unit) -> Self {
        Self { written: Some(unit.symbol), ..Self::new(value, unit.dimension) }
    }

    /// The text for where no reader has chosen units.
    pub fn in_base_unit(&self) -> String {
        match (self.scale.and_then(unit), self.written.and_then(unit)) {
            (Some(unit), _) => self.text(unit, with_decimals),
            (None, Some(unit)) => self.text(unit, |value, unit, _| as_written(value, unit)),
            (None, None) => self.text(self.dimension.base(), with_decimals),
        }
    }

    fn text(&self, unit: &Unit, digits: fn(f64, &Unit, u8) -> String) -> String {
        let of = |base: f64| digits((base - unit.offset) / unit.factor, unit, self.more);
        let digits = self.to.map_or_else(|| of(self.value), |to| format!("{} to {}", of(self.value), of(to)));
        match unit.symbol {
            "" | "°" => digits + unit.symbol,
            symbol => format!("{digits} {symbol}"),
        }
    }

    /// As an example of what may be typed into a field with this unit.
    pub(super) fn in_scale_of(&self, unit: &Unit) -> String {
        self.text(unit, with_decimals)
    }
}

/// In its unit's decimals, and more where the value has them.
fn with_decimals(value: f64, unit: &Unit, more: u8) -> String {
    let mut finer = (1..=more).rev().map(|more| rounded(value, unit.decimals + more));
    finer.find(|text| !text.ends_with('0')).unwrap_or_else(|| rounded(value, unit.decimals))
}

/// As it was written: without what the conversion adds, and without zeros behind.
fn as_written(value: f64, unit: &Unit) -> String {
    rounded(value, unit.decimals + 1).trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// Digits of a value: halves are rounded away from zero, also where a conversion left them a hair below, as they are
/// on every screen. Nothing is shown as minus zero.
fn rounded(value: f64, decimals: u8) -> String {
    let hair = 1e-6 * 10f64.powi(-i32::from(decimals));
    let decimals = usize::from(decimals);
    let text = format!("{:.decimals$}", value + hair.copysign(value));
    let is_zero = text.trim_start_matches('-').chars().all(|c| matches!(c, '0' | '.'));
    if is_zero { text.trim_start_matches('-').to_owned() } else { text }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::unit;

    #[test]
    fn a_figure_has_the_decimals_of_its_unit_and_more_only_where_it_has_them() {
        let stretch = |value| Quantity::new(value, Dimension::Length).in_base_unit();
        assert_eq!([stretch(0.05), stretch(-0.0001), stretch(0.062)], ["0.050 mm", "0.000 mm", "0.062 mm"]);
        assert_eq!([stretch(0.0625), stretch(0.062_499_999_999)], ["0.063 mm", "0.063 mm"]);
        let torque = |value| Quantity::fine(value, Dimension::Torque).in_base_unit();
        assert_eq!([torque(44.0), torque(44.02), torque(44.1)], ["44.0 N·m", "44.02 N·m", "44.1 N·m"]);
    }

    #[test]
    fn a_figure_that_was_written_stays_as_it_was() {
        let pounds = unit("lbf·ft").unwrap();
        let written = Quantity::written_in(17.0 * pounds.factor, pounds);
        assert_eq!(written.in_base_unit(), "17 lbf·ft");
        let window = Quantity::written_in(16.32 * pounds.factor, pounds).up_to(17.68 * pounds.factor);
        assert_eq!(window.in_base_unit(), "16.32 to 17.68 lbf·ft");
        let set = Quantity::new(17.0 * pounds.factor, Dimension::Torque).in_scale(pounds);
        assert_eq!(set.in_base_unit(), "17.0 lbf·ft");
    }
}

//! Judging a reading against its target.

use crate::message;
use crate::message::Message;
use crate::quantity::{Dimension, Quantity, Unit};
use serde::{Deserialize, Serialize, Serializer};

/// A target with how far off it may be, in the unit of the reading.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Band {
    /// What is wanted.
    pub target: f64,
    /// The least that will do.
    pub low: f64,
    /// The most that will do.
    pub high: f64,
    /// The unit that the plan gives it in, by its symbol; the figures themselves are in base units.
    #[serde(serialize_with = "symbol")]
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub unit: &'static Unit,
    /// What it measures.
    #[serde(skip)]
    pub dimension: Dimension,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde hands a field on by reference")]
fn symbol<S: Serializer>(unit: &&'static Unit, serializer: S) -> Result<S::Ok, S::Error> {
    serializer.serialize_str(unit.symbol)
}

impl Band {
    /// The band of another target that may be off by the same share.
    #[must_use]
    pub fn moved_to(&self, target: f64) -> Self {
        let share = target / self.target;
        Self { target, low: self.low * share, high: self.high * share, ..*self }
    }

    /// A target with the same tolerance to both sides, given in a unit.
    pub fn around(target: f64, tolerance: f64, unit: &'static Unit) -> Self {
        Self { target, low: target - tolerance, high: target + tolerance, unit, dimension: unit.dimension }
    }

    /// A target between two limits, given in the base unit of what is measured.
    pub fn between(target: f64, low: f64, high: f64, dimension: Dimension) -> Self {
        Self { target, low, high, unit: dimension.base(), dimension }
    }

    /// A figure of it, such as its target: in the unit that it was written in.
    pub fn quantity(&self, base_value: f64) -> Quantity {
        Quantity { dimension: self.dimension, ..Quantity::written_in(base_value, self.unit) }
    }

    /// Its limits.
    pub fn limits(&self) -> Quantity {
        self.quantity(self.low).up_to(self.high)
    }

    /// What is wanted and its limits: `17 lbf·ft (16.3 to 17.7 lbf·ft)`.
    pub fn words(&self) -> Message {
        message!("mechanics-target-limits", target = self.quantity(self.target), limits = self.limits())
    }

    /// The verdict on a reading. The limits themselves are good.
    pub fn judge(&self, reading: f64) -> Verdict {
        // A reading typed at the limit must not fail on the last bit of a unit conversion.
        let slack = 1e-9 * self.target.abs();
        if reading < self.low - slack {
            Verdict::Low
        } else if reading > self.high + slack {
            Verdict::Over
        } else {
            Verdict::Good
        }
    }
}

/// How a reading stands to its target.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Verdict {
    /// Below the tolerance: pull on.
    Low,
    /// Inside the tolerance.
    Good,
    /// Above the tolerance.
    Over,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_figure_stays_as_it_was_written() {
        let pounds = crate::quantity::unit("lbf·ft").unwrap();
        let band = Band::around(17.0 * pounds.factor, 0.04 * 17.0 * pounds.factor, pounds);
        assert_eq!(band.words(), "17 lbf·ft (16.32 to 17.68 lbf·ft)");
        let inches = crate::quantity::unit("in").unwrap();
        let band = Band::around(0.0063 * inches.factor, 0.0003 * inches.factor, inches);
        assert_eq!(band.words(), "0.0063 in (0.006 to 0.0066 in)");
        assert_eq!(Band::between(90.0, 85.0, 95.0, Dimension::Angle).words(), "90° (85 to 95°)");
    }

    #[test]
    fn the_limits_are_good_and_what_lies_outside_is_not() {
        let band = Band::around(30.0, 1.2, Dimension::Torque.base());
        for (reading, verdict) in [
            (28.79, Verdict::Low),
            (28.8, Verdict::Good),
            (30.0, Verdict::Good),
            (31.2, Verdict::Good),
            (31.21, Verdict::Over),
            (0.0, Verdict::Low),
        ] {
            assert_eq!(band.judge(reading), verdict, "{reading}");
        }
    }
}

//! Judging a reading against its target.

use serde::{Deserialize, Serialize};

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
}

impl Band {
    /// The band of another target that may be off by the same share.
    #[must_use]
    pub fn moved_to(&self, target: f64) -> Self {
        let share = target / self.target;
        Self { target, low: self.low * share, high: self.high * share }
    }

    /// A target with the same tolerance to both sides.
    pub fn around(target: f64, tolerance: f64) -> Self {
        Self { target, low: target - tolerance, high: target + tolerance }
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
    fn the_limits_are_good_and_what_lies_outside_is_not() {
        let band = Band::around(30.0, 1.2);
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

//! How sure a measured clearance is, and what may be said about it (ISO 14253-1).
//!
//! A measurement names its rule. An engine is begun with the edition of ISO 14253-1 that its shop has chosen; one
//! from before there was a choice keeps the rule of then (`DecisionRule`).

use crate::message::Message;
use crate::quantity::Dimension;
use crate::quantity::Quantity;
use crate::{message, text};
use serde::{Deserialize, Serialize, Serializer};

/// What is known of an instrument, in the unit it reads: mm or cm³.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GaugeAccuracy {
    /// Most that it is off, to either side.
    pub accuracy: f64,
    /// Smallest step it shows.
    pub resolution: f64,
}

impl GaugeAccuracy {
    /// Standard uncertainty of one reading: accuracy and resolution as rectangular
    /// distributions (GUM), in that unit.
    pub fn standard_uncertainty(&self) -> f64 {
        let accuracy = self.accuracy / 3f64.sqrt();
        let resolution = self.resolution / (2.0 * 3f64.sqrt());
        accuracy.hypot(resolution)
    }
}

/// Coverage factor k of an expanded uncertainty, for about 95 % to both sides (GUM).
const COVERAGE: f64 = 2.0;

/// Expanded uncertainty U (k = 2) of a sum or difference of readings with these standard uncertainties.
pub fn expanded_uncertainty(standard: impl IntoIterator<Item = f64>) -> f64 {
    COVERAGE * standard.into_iter().map(|u| u.powi(2)).sum::<f64>().sqrt()
}

/// Experimental standard deviation of repeated readings of one size, in their unit (GUM 4.2.2); zero for less than
/// two.
pub fn repeatability(readings: &[f64]) -> f64 {
    let Ok(count) = u32::try_from(readings.len()) else { return 0.0 };
    if count < 2 {
        return 0.0;
    }
    let mean = readings.iter().sum::<f64>() / f64::from(count);
    let squares: f64 = readings.iter().map(|reading| (reading - mean).powi(2)).sum();
    (squares / f64::from(count - 1)).sqrt()
}

/// How many of the last readings of one place repeat each other: each within the expanded uncertainty of a
/// difference (`2 √2 u`) of the one before it. What differs by more was worked on between, or misread, and tells
/// nothing of how well the reading repeats.
pub fn repeats(readings: &[f64], standard_uncertainty: f64) -> &[f64] {
    let most = COVERAGE * 2f64.sqrt() * standard_uncertainty;
    let apart = readings.windows(2).rposition(|pair| (pair[1] - pair[0]).abs() > most);
    apart.map_or(readings, |at| &readings[at + 1..])
}

/// The edition of ISO 14253-1 by which a measured value is judged against its limits: how far inside a limit it has to
/// lie to be called inside, and how far outside to be called outside.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum DecisionRule {
    /// ISO 14253-1:2017: a guard band of 1.65 u, for 95 % at one limit.
    #[serde(rename = "iso-14253-1-2017")]
    Edition2017,
    /// ISO 14253-1:2013 and before: a guard band of the expanded uncertainty U (k = 2).
    #[serde(rename = "iso-14253-1-2013")]
    Edition2013,
}

impl DecisionRule {
    /// The rule where nobody chose one.
    pub const USUAL: Self = Self::Edition2017;

    /// The rule of an engine that was begun before there was a choice.
    pub const BEFORE_CHOICE: Self = Self::Edition2013;

    /// Guard band of a value with the expanded uncertainty U (k = 2), in the same unit.
    pub fn guard_band(self, expanded: f64) -> f64 {
        match self {
            Self::Edition2017 => expanded * 1.65 / COVERAGE,
            Self::Edition2013 => expanded,
        }
    }

    /// The edition with its guard band, as people name it.
    pub fn name(self) -> String {
        match self {
            Self::Edition2017 => text!("mechanics-edition-2017"),
            Self::Edition2013 => text!("mechanics-edition-2013"),
        }
    }
}

/// Where a figure has to lie: a clearance in mm, or a plain ratio.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Window {
    /// The least; none where there is no least, which is minus infinity here.
    #[serde(serialize_with = "end")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub low: f64,
    /// The most; none where there is no most, which is infinity here.
    #[serde(serialize_with = "end")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<f64>))]
    pub high: f64,
    /// What is aimed at.
    pub target: f64,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde hands a field on by reference")]
fn end<S: Serializer>(end: &f64, serializer: S) -> Result<S::Ok, S::Error> {
    Some(*end).filter(|end| end.is_finite()).serialize(serializer)
}

impl Window {
    /// What it asks for, in figures of a dimension: `at least 1.5 mm`.
    pub fn words(&self, dimension: Dimension) -> Message {
        let figure = |value| Quantity::fine(value, dimension);
        match (self.low.is_finite(), self.high.is_finite()) {
            (true, true) => message!(
                "mechanics-target",
                window = figure(self.low).up_to(self.high),
                target = figure(self.target),
            ),
            (true, false) => message!("mechanics-at-least", low = figure(self.low)),
            (false, true) => message!("mechanics-at-most", high = figure(self.high)),
            (false, false) => message!("mechanics-anything"),
        }
    }

    /// The window for a part so many times larger, such as a ring gap by its bore.
    #[must_use]
    pub fn times(&self, size: f64) -> Self {
        Self { low: self.low * size, high: self.high * size, target: self.target * size }
    }
}

/// What may be said about a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Decision {
    /// Inside the window, whatever the instruments were off by.
    Inside,
    /// Outside it, whatever they were off by.
    Outside,
    /// Too close to a limit to call.
    TooClose,
}

impl Decision {
    /// The worse of two: what is outside, else what is too close to call.
    #[must_use]
    pub fn worse(self, other: Self) -> Self {
        match (self, other) {
            (Self::Outside, _) | (_, Self::Outside) => Self::Outside,
            (Self::TooClose, _) | (_, Self::TooClose) => Self::TooClose,
            (Self::Inside, Self::Inside) => Self::Inside,
        }
    }
}

/// The decision on a value with a guard band (see [`DecisionRule::guard_band`]) at both limits.
pub fn decide(value: f64, guard_band: f64, window: &Window) -> Decision {
    // A value typed at the very limit must not hang on the last bit of a difference.
    let slack = 1e-9;
    if value - guard_band >= window.low - slack && value + guard_band <= window.high + slack {
        Decision::Inside
    } else if value + guard_band < window.low - slack || value - guard_band > window.high + slack {
        Decision::Outside
    } else {
        Decision::TooClose
    }
}

/// Expanded uncertainty U (k = 2) of a figure computed from several, each with its own U: how much
/// the figure moves when one of them does, added as squares.
pub fn propagated(values: &[(f64, f64)], figure: impl Fn(&[f64]) -> Option<f64>) -> Option<f64> {
    let plain: Vec<f64> = values.iter().map(|(value, _)| *value).collect();
    let at = figure(&plain)?;
    let moved = |(index, (value, u)): (usize, &(f64, f64))| {
        let mut changed = plain.clone();
        changed[index] = value + u;
        figure(&changed).map(|figure| (figure - at).powi(2))
    };
    let squares: Option<Vec<f64>> = values.iter().enumerate().map(moved).collect();
    Some(squares?.iter().sum::<f64>().sqrt())
}

/// A length brought to 20 °C: `L / (1 + α (t − 20))`, α per kelvin.
pub fn to_reference_temperature(length_mm: f64, temperature_c: f64, expansion_per_k: f64) -> f64 {
    length_mm / (1.0 + expansion_per_k * (temperature_c - 20.0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const WINDOW: Window = Window { low: 0.035, high: 0.060, target: 0.048 };

    #[test]
    fn a_value_near_a_limit_is_too_close_to_call() {
        for (value, decision) in [
            (0.048, Decision::Inside),
            (0.038, Decision::Inside),
            (0.037, Decision::TooClose),
            (0.035, Decision::TooClose),
            (0.033, Decision::TooClose),
            (0.031, Decision::Outside),
            (0.064, Decision::Outside),
        ] {
            assert_eq!(decide(value, 0.003, &WINDOW), decision, "{value}");
        }
        assert_eq!(decide(0.035, 0.0, &WINDOW), Decision::Inside);
    }

    #[test]
    fn uncertainties_of_a_difference_add_as_squares() {
        let micrometer = GaugeAccuracy { accuracy: 0.002, resolution: 0.001 }.standard_uncertainty();
        let one = expanded_uncertainty([micrometer]);
        assert!((one - 2.0 * (0.002f64.powi(2) / 3.0 + 0.001f64.powi(2) / 12.0).sqrt()).abs() < 1e-12);
        assert!((expanded_uncertainty([micrometer, micrometer]) - one * 2f64.sqrt()).abs() < 1e-12);
    }

    #[test]
    fn the_guard_band_of_2017_is_narrower_than_that_of_2013() {
        let expanded = expanded_uncertainty([0.001]);
        assert!((DecisionRule::Edition2017.guard_band(expanded) - 0.001_65).abs() < 1e-12);
        assert!((DecisionRule::Edition2013.guard_band(expanded) - 0.002).abs() < 1e-12);
        let judged = |rule: DecisionRule| decide(0.0368, rule.guard_band(expanded), &WINDOW);
        assert_eq!(judged(DecisionRule::Edition2017), Decision::Inside);
        assert_eq!(judged(DecisionRule::Edition2013), Decision::TooClose);
    }

    /// GUM, example 4.4.3: twenty readings of a temperature with a standard deviation of 1.489 °C.
    #[test]
    fn repeated_readings_have_their_standard_deviation() {
        let gum = [
            96.90, 98.18, 98.25, 98.61, 99.03, 99.49, 99.56, 99.74, 99.89, 100.07, 100.33, 100.42, 100.68,
            100.95, 101.11, 101.20, 101.57, 101.84, 102.36, 102.72,
        ];
        assert!((repeatability(&gum) - 1.489).abs() < 0.001, "{}", repeatability(&gum));
        assert!((repeatability(&[1.0, 1.0]) - 0.0).abs() < f64::EPSILON);
        assert!((repeatability(&[5.0]) - 0.0).abs() < f64::EPSILON);
    }

    #[test]
    fn a_reading_that_moved_by_more_than_the_instrument_may_does_not_repeat() {
        let all = [0.300, 0.352, 0.350, 0.351];
        assert_eq!(repeats(&all, 0.001), [0.352, 0.350, 0.351]);
        assert_eq!(repeats(&all[..1], 0.001), [0.300]);
        assert_eq!(repeats(&[0.30, 0.35, 0.40], 0.005), [0.40]);
    }

    #[test]
    fn the_uncertainty_of_a_difference_propagates_like_that_of_its_readings() {
        let u = propagated(&[(59.0, 0.003), (55.0, 0.004)], |v| Some(v[0] - v[1])).unwrap();
        assert!((u - 0.005).abs() < 1e-12);
        assert_eq!(propagated(&[(1.0, 0.1)], |_| None), None);
    }

    #[test]
    fn a_warm_aluminium_bore_is_smaller_at_reference() {
        let at_20 = to_reference_temperature(86.050, 32.0, 23e-6);
        assert!((at_20 - 86.026_26).abs() < 1e-4, "{at_20}");
    }

    proptest! {
        #[test]
        fn less_certainty_never_decides_more(value in 0.0f64..0.1, u in 0.0f64..0.02, more in 0.0f64..0.02) {
            let (sure, unsure) = (decide(value, u, &WINDOW), decide(value, u + more, &WINDOW));
            prop_assert!(unsure == sure || unsure == Decision::TooClose, "{sure:?} {unsure:?}");
        }
    }
}

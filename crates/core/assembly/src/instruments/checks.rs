//! A check of an instrument before work (C-7): read against something that is known, and judged by how far off it may
//! be.

use crate::events::Instrument;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use serde::{Deserialize, Serialize};

/// How far a torque wrench may be off, as a share of what it is read against, from and below 10 N·m (ISO 6789-1,
/// type I and II tools).
const TORQUE: f64 = 0.04;
const SMALL_TORQUE: f64 = 0.06;
const SMALL_NM: f64 = 10.0;
/// Readings of a check, at the least.
const READINGS: usize = 3;

/// One reading of a check.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct CheckReading {
    /// What is known, in the base unit: what the tester shows, or the size of a gauge block.
    pub known: f64,
    /// What the instrument reads, or was set to, in the base unit.
    pub read: f64,
}

/// What came of a check.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CheckResult {
    /// What was read.
    pub readings: Vec<CheckReading>,
    /// What kind of thing that is.
    pub torque: bool,
    /// The largest deviation, read less known, in the base unit.
    pub worst: f64,
    /// How far off it might have been there, in the base unit.
    pub allowed: f64,
    /// Whether every reading is within what is allowed.
    pub good: bool,
}

impl CheckResult {
    /// What was found, in a word.
    pub fn word(&self) -> Message {
        match self.worst {
            0.0 => message!("instruments-reads-right"),
            low if low < 0.0 => message!("instruments-reads-low"),
            _ => message!("instruments-reads-high"),
        }
    }

    /// What was found and what is allowed, for whoever reads it years later.
    pub fn words(&self) -> Message {
        let (worst, allowed) = (self.worst, self.allowed);
        let word = self.word();
        if worst == 0.0 {
            return word;
        }
        // How far off a length is is a small one.
        let dimension = if self.torque { Dimension::Torque } else { Dimension::Clearance };
        let [by, allowed] = [worst.abs(), allowed].map(|of| Quantity::fine(of, dimension));
        message!("instruments-by-allowed", word, by, allowed)
    }
}

impl Instrument {
    /// Judges a check of it; of its torques where it has them, else of its lengths.
    ///
    /// # Errors
    /// The field that is wrong, and what is allowed.
    pub fn judge_check(&self, readings: &[CheckReading]) -> Result<CheckResult, (&'static str, Message)> {
        let torque = self.torque_nm.is_some();
        let gauge = self.gauge(Dimension::Length).filter(|_| !torque);
        let Some([least, most]) = self.torque_nm.or(gauge.map(|(range, _)| range)) else {
            return Err(("readings", message!("instruments-check-torques-or-lengths-reads-neither")));
        };
        if !(READINGS..=20).contains(&readings.len()) {
            return Err(("readings", message!("instruments-20-readings-needed", least = READINGS)));
        }
        let inside = |known: f64| known >= least * 0.99 && known <= most * 1.01 && known > 0.0;
        if let Some(odd) = readings.iter().find(|of| !inside(of.known) || !of.read.is_finite()) {
            let dimension = if torque { Dimension::Torque } else { Dimension::Length };
            let known = Quantity::fine(odd.known, dimension);
            let range = Quantity::written_in(least, dimension.base()).up_to(most);
            return Err(("readings", message!("instruments-not-within-what-reads", known, range)));
        }
        let allowed = |known: f64| match gauge {
            Some((_, gauge)) => gauge.accuracy + gauge.resolution / 2.0,
            None if known < SMALL_NM => known * SMALL_TORQUE,
            None => known * TORQUE,
        };
        let off = |of: &CheckReading| of.read - of.known;
        let share = |of: &CheckReading| off(of).abs() / allowed(of.known).max(f64::MIN_POSITIVE);
        let worst = readings.iter().copied().max_by(|a, b| share(a).total_cmp(&share(b)));
        let worst = worst.unwrap_or(CheckReading { known: 0.0, read: 0.0 });
        let good = readings.iter().all(|of| off(of).abs() <= allowed(of.known) + 1e-9);
        let (readings, allowed) = (readings.to_vec(), allowed(worst.known));
        Ok(CheckResult { readings, torque, worst: off(&worst), allowed, good })
    }
}

#[cfg(test)]
mod tests {
    use super::CheckReading;
    use crate::Instrument;

    fn of(pairs: &[(f64, f64)]) -> Vec<CheckReading> {
        pairs.iter().map(|(known, read)| CheckReading { known: *known, read: *read }).collect()
    }

    #[test]
    fn a_wrench_may_be_off_by_a_share_and_a_micrometer_by_its_accuracy() {
        let wrench = Instrument { torque_nm: Some([5.0, 110.0]), ..Instrument::default() };
        for (pairs, good) in [
            ([(50.0, 50.0), (50.0, 52.0), (50.0, 48.0)], true),
            ([(50.0, 50.0), (50.0, 52.1), (50.0, 48.0)], false),
            ([(8.0, 8.48), (8.0, 7.52), (8.0, 8.0)], true),
            ([(8.0, 8.49), (8.0, 8.0), (8.0, 8.0)], false),
        ] {
            assert_eq!(wrench.judge_check(&of(&pairs)).expect("it was judged").good, good, "{pairs:?}");
        }
        let low =
            wrench.judge_check(&of(&[(50.0, 46.0), (50.0, 49.0), (50.0, 51.0)])).expect("it was judged");
        let right = wrench.judge_check(&of(&[(50.0, 50.0); 3])).expect("it was judged");
        assert_eq!(right.words(), "reads right");
        assert_eq!(low.words(), "reads low by 4.0 N·m, 2.0 N·m is allowed");
        let micrometer = Instrument {
            length_mm: Some([25.0, 50.0]),
            accuracy: 0.002,
            resolution: 0.001,
            ..Instrument::default()
        };
        let judged = |read| micrometer.judge_check(&of(&[(25.0, read), (30.0, 30.0), (50.0, 50.0)]));
        assert!(judged(25.0025).expect("it was judged").good);
        assert!(!judged(25.003).expect("it was judged").good);
        // Too few, out of its range, no figure, and what reads neither.
        for wrong in [of(&[(50.0, 50.0)]), of(&[(50.0, 50.0), (500.0, 50.0), (50.0, 50.0)])] {
            assert_eq!(wrench.judge_check(&wrong).map_err(|(field, _)| field), Err("readings"));
        }
        assert!(wrench.judge_check(&of(&[(50.0, f64::NAN), (50.0, 50.0), (50.0, 50.0)])).is_err());
        assert!(Instrument::default().judge_check(&of(&[(1.0, 1.0); 3])).is_err());
    }
}

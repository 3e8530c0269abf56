//! The register of instruments: what can be an instrument of a shop (C-7).

use crate::events::Instrument;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension};
use serde::Serialize;
use time::Date;

/// Days before the end of a calibration from which on it ends soon.
const SOON: i64 = 30;

/// How a calibration stands that is not to be relied on for long.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum CalibrationDue {
    /// It has run out.
    Over,
    /// It runs out soon.
    Soon,
}

/// Characters of a name or serial number at most.
const NAME: usize = 80;

impl Instrument {
    /// Days until its calibration runs out, below nothing where it has, and how it stands; on its last day it is good.
    pub fn calibration(&self, today: Date) -> Option<(i64, Option<CalibrationDue>)> {
        let left = (self.calibration_due? - today).whole_days();
        let due =
            (left <= SOON).then_some(if left < 0 { CalibrationDue::Over } else { CalibrationDue::Soon });
        Some((left, due))
    }

    /// Whether it can be one, as it was entered.
    ///
    /// # Errors
    /// The first field that is wrong, and what is allowed.
    pub fn check(&self) -> Result<(), (&'static str, Message)> {
        let text = |field, text: &str, least| {
            let long = text.chars().count();
            let ok = (least..=NAME).contains(&long) && !text.chars().any(char::is_control);
            if ok {
                Ok(())
            } else {
                Err((field, message!("instruments-characters-needed", least, most = NAME)))
            }
        };
        text("name", self.name.trim(), 1)?;
        text("serial", &self.serial, 0)?;
        if self.calibration_due.is_some_and(|day| !(1900..2200).contains(&day.year())) {
            return Err(("calibration_due", message!("instruments-day-from-1900-2199-needed")));
        }
        let ranges =
            [("torque_nm", self.torque_nm), ("length_mm", self.length_mm), ("volume_cc", self.volume_cc)];
        for (field, range) in ranges {
            rising(field, range)?;
        }
        let positive = |field, value: Option<f64>| match value {
            Some(value) if !(value.is_finite() && value > 0.0) => {
                Err((field, message!("instruments-more-than-nothing-needed")))
            }
            _ => Ok(()),
        };
        positive("reach_mm", self.reach_mm)?;
        positive("driver_nm", self.driver_nm)?;
        for (field, value) in [("accuracy", self.accuracy), ("resolution", self.resolution)] {
            if !(value.is_finite() && value >= 0.0) {
                return Err((field, message!("instruments-nothing-or-more-needed")));
            }
        }
        let measures_size = self.length_mm.is_some() || self.volume_cc.is_some();
        if measures_size && self.resolution <= 0.0 {
            return Err(("resolution", message!("instruments-resolution-needed")));
        }
        if self.clicks && self.torque_nm.is_none() {
            return Err(("torque_nm", message!("instruments-wrench-clicks-has-range-torques")));
        }
        if let Some(scale) = &self.scale {
            if quantity::unit(&scale.unit).is_none_or(|unit| unit.dimension != Dimension::Torque) {
                return Err(("scale", message!("instruments-unit-torque-such-as-n-m")));
            }
            positive("scale", Some(scale.step))?;
        }
        for of in &self.measures {
            if quantity::unit(&of.unit).is_none() {
                return Err(("measures", message!("instruments-no-unit-known", unit = of.unit)));
            }
            rising("measures", Some(of.range))?;
            if !(of.accuracy >= 0.0
                && of.accuracy.is_finite()
                && of.resolution > 0.0
                && of.resolution.is_finite())
            {
                return Err(("measures", message!("instruments-accuracy-resolution-needed")));
            }
        }
        if let Some(away) = &self.away {
            text("away", away.place.trim(), 1)?;
            if away.until.is_some_and(|day| !(1900..2200).contains(&day.year())) {
                return Err(("away", message!("instruments-day-from-1900-2199-needed")));
            }
        }
        let none = self.torque_nm.is_none()
            && !self.angle
            && !measures_size
            && self.driver_nm.is_none()
            && self.measures.is_empty();
        if none {
            return Err(("name", message!("instruments-what-measures-needed-range-torques-or")));
        }
        Ok(())
    }
}

fn rising(field: &'static str, range: Option<[f64; 2]>) -> Result<(), (&'static str, Message)> {
    match range {
        Some([low, high]) if !(low.is_finite() && high.is_finite() && low < high) => {
            Err((field, message!("instruments-two-rising-figures-needed-from-least")))
        }
        _ => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use crate::{CalibrationDue, Instrument, MeasuringRange, WrenchScale};
    use time::macros::date;

    #[test]
    fn a_calibration_is_good_on_its_last_day_and_out_on_the_next() {
        let due = date!(2026 - 03 - 01);
        let instrument = Instrument { calibration_due: Some(due), ..Instrument::default() };
        for (today, expected) in [
            (date!(2026 - 01 - 29), (31, None)),
            (date!(2026 - 01 - 30), (30, Some(CalibrationDue::Soon))),
            (due, (0, Some(CalibrationDue::Soon))),
            (date!(2026 - 03 - 02), (-1, Some(CalibrationDue::Over))),
        ] {
            assert_eq!(instrument.calibration(today), Some(expected));
        }
        assert_eq!(Instrument::default().calibration(due), None);
    }

    #[test]
    fn an_instrument_measures_something_and_says_how_finely() {
        let named = Instrument { id: "w".into(), name: "Wrench".into(), ..Instrument::default() };
        let wrench = Instrument { torque_nm: Some([20.0, 110.0]), clicks: true, ..named.clone() };
        let micrometer =
            Instrument { length_mm: Some([0.0, 25.0]), resolution: 0.001, accuracy: 0.002, ..named.clone() };
        let pressure =
            MeasuringRange { unit: "bar".into(), range: [0.0, 10.0], accuracy: 0.1, resolution: 0.1 };
        let gauge = Instrument { measures: vec![pressure.clone()], ..named.clone() };
        for good in [&wrench, &micrometer, &gauge, &Instrument { angle: true, ..named.clone() }] {
            assert_eq!(good.check(), Ok(()));
        }
        let scale = |unit: &str, step| Some(WrenchScale { unit: unit.into(), step });
        for (field, wrong) in [
            ("name", named.clone()),
            ("name", Instrument { name: " ".into(), ..wrench.clone() }),
            ("name", Instrument { name: "a\nb".into(), ..wrench.clone() }),
            ("calibration_due", Instrument { calibration_due: Some(date!(-1 - 01 - 01)), ..wrench.clone() }),
            ("serial", Instrument { serial: "x".repeat(81), ..wrench.clone() }),
            ("torque_nm", Instrument { torque_nm: Some([110.0, 20.0]), ..wrench.clone() }),
            ("torque_nm", Instrument { torque_nm: Some([f64::NAN, 20.0]), ..wrench.clone() }),
            ("torque_nm", Instrument { torque_nm: None, angle: true, ..wrench.clone() }),
            ("reach_mm", Instrument { reach_mm: Some(0.0), ..wrench.clone() }),
            ("scale", Instrument { scale: scale("mm", 1.0), ..wrench.clone() }),
            ("scale", Instrument { scale: scale("N·m", -1.0), ..wrench.clone() }),
            ("resolution", Instrument { resolution: 0.0, ..micrometer.clone() }),
            ("accuracy", Instrument { accuracy: -0.1, ..micrometer.clone() }),
            (
                "measures",
                Instrument {
                    measures: vec![MeasuringRange { unit: "foo".into(), ..pressure.clone() }],
                    ..named.clone()
                },
            ),
            (
                "measures",
                Instrument {
                    measures: vec![MeasuringRange { resolution: 0.0, ..pressure.clone() }],
                    ..named.clone()
                },
            ),
        ] {
            assert_eq!(wrong.check().map_err(|(field, _)| field), Err(field), "{wrong:?}");
        }
    }
}

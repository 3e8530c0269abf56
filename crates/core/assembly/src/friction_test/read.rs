//! Reading a friction test that was entered: in base units, with the instruments and lubricants that it names.

use super::entry::{FrictionReadingEntry, FrictionRunEntry, FrictionTestEntry, FrictionTestError, wrong};
use super::result::{FrictionReading, FrictionRun, FrictionTest};
use crate::Instrument;
use rigore_mechanics::fastener::Thread;
use rigore_mechanics::friction::{Lubricant, Lubrication};
use rigore_mechanics::joint::{BearingFace, read_resilience};
use rigore_mechanics::message;
use rigore_mechanics::quantity::{self, Dimension, Unit, in_mm, mm};

/// The longest name, batch and note.
const NAME: usize = 60;
const NOTE: usize = 300;
/// Runs of a test, and readings of a run.
const RUNS: usize = 20;
const READINGS: usize = 40;

/// A text of the entry without what is around it.
fn text(
    field: &str,
    text: &str,
    allowed: std::ops::RangeInclusive<usize>,
) -> Result<String, FrictionTestError> {
    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if allowed.contains(&text.chars().count()) {
        return Ok(text);
    }
    let most = allowed.end();
    Err(wrong(
        field,
        match allowed.start() {
            0 => message!("assembly-at-most-characters", most),
            least => message!("assembly-characters-needed", least, most),
        },
    ))
}

/// A quantity above zero.
fn figure(field: &str, text: &str, dimension: Dimension, bare: &Unit) -> Result<f64, FrictionTestError> {
    let value = quantity::read(text, dimension, bare).map_err(|error| wrong(field, error.to_string()))?;
    if value > 0.0 {
        return Ok(value);
    }
    Err(wrong(field, message!("assembly-has-above-zero")))
}

fn unit(field: &str, symbol: Option<&str>, dimension: Dimension) -> Result<&'static Unit, FrictionTestError> {
    let Some(symbol) = symbol else { return Ok(dimension.base()) };
    let found = quantity::unit(symbol).filter(|unit| unit.measures(dimension));
    found.ok_or_else(|| wrong(field, message!("assembly-no-unit", symbol, word = dimension.word())))
}

impl FrictionTestEntry {
    /// The test in base units, with the instruments and lubricants that it names.
    ///
    /// # Errors
    /// [`FrictionTestError`] names the field, and says what is allowed.
    pub fn test(
        &self,
        [wrench, gauge]: [Option<Instrument>; 2],
        lubricants: &[Lubricant],
    ) -> Result<FrictionTest, FrictionTestError> {
        let thread = Thread::parse(&self.thread).map_err(|error| wrong("thread", error.message()))?;
        let own_mm_per_n = read_resilience(&self.resilience)
            .ok_or_else(|| wrong("resilience", message!("assembly-resilience-such-as-4-83-m")))?;
        let optional = |field: &str, text: &Option<String>, dimension: Dimension| {
            let text = text.as_deref().filter(|text| !text.trim().is_empty());
            text.map(|text| figure(field, text, dimension, dimension.base())).transpose()
        };
        let bearing = optional("bearing_diameter", &self.bearing_diameter, Dimension::Length)?;
        let bearing_mm = bearing.unwrap_or(in_mm(BearingFace::usual(&thread).mean_diameter));
        if !(BearingFace { mean_diameter: mm(bearing_mm) }).fits(&thread) {
            return Err(wrong("bearing_diameter", message!("assembly-one-four-diameters-thread")));
        }
        let test = FrictionTest {
            fastener: text("fastener", &self.fastener, 2..=NAME)?,
            thread: text("thread", &self.thread, 2..=NAME)?,
            batch: text("batch", &self.batch, 0..=NAME)?,
            own_mm_per_n,
            bearing_mm,
            yield_mpa: optional("yield_strength", &self.yield_strength, Dimension::Pressure)?,
            shank_mm: optional("shank", &self.shank, Dimension::Length)?,
            note: text("note", &self.note, 0..=NOTE)?,
            wrench: wrench
                .filter(|of| of.torque_nm.is_some())
                .ok_or_else(|| wrong("wrench", message!("assembly-choose-wrench-was-pulled-with")))?,
            gauge: gauge
                .filter(|of| of.gauge(Dimension::Clearance).is_some())
                .ok_or_else(|| wrong("gauge", message!("assembly-choose-gauge-stretch-was-read-with")))?,
            runs: self.runs(lubricants)?,
        };
        test.check(&thread)?;
        Ok(test)
    }

    fn runs(&self, lubricants: &[Lubricant]) -> Result<Vec<FrictionRun>, FrictionTestError> {
        if !(1..=RUNS).contains(&self.runs.len()) {
            return Err(wrong("runs", message!("assembly-1-runs-needed-each-on-one", most = RUNS)));
        }
        let torque_unit = unit("torque_unit", self.torque_unit.as_deref(), Dimension::Torque)?;
        let length_unit = unit("length_unit", self.length_unit.as_deref(), Dimension::Clearance)?;
        let run = |(at, entry): (usize, &FrictionRunEntry)| {
            let known = |field: &str, id: &str| {
                let found = lubricants.iter().find(|lubricant| lubricant.id == id).cloned();
                found.ok_or_else(|| {
                    wrong(format!("runs[{at}].{field}"), message!("assembly-choose-lubricant"))
                })
            };
            let under_head = entry.bearing_lubricant.as_deref().filter(|id| !id.is_empty());
            let lubrication = Lubrication {
                thread: known("thread_lubricant", &entry.thread_lubricant)?,
                bearing: known("bearing_lubricant", under_head.unwrap_or(&entry.thread_lubricant))?,
            };
            if !(1..=READINGS).contains(&entry.readings.len()) {
                let message = message!("assembly-1-torques-with-their-stretches-needed", most = READINGS);
                return Err(wrong(format!("runs[{at}].readings"), message));
            }
            let readings = entry.readings.iter().enumerate().map(|(place, reading)| {
                reading.read(&format!("runs[{at}].readings[{place}]"), [torque_unit, length_unit])
            });
            Ok(FrictionRun { lubrication, readings: readings.collect::<Result<_, _>>()? })
        };
        self.runs.iter().enumerate().map(run).collect()
    }
}

impl FrictionReadingEntry {
    fn read(&self, path: &str, [torque, length]: [&Unit; 2]) -> Result<FrictionReading, FrictionTestError> {
        let left = self.left.as_deref().filter(|text| !text.trim().is_empty());
        let read_left = |text| {
            let field = format!("{path}.left");
            quantity::read(text, Dimension::Clearance, length)
                .map_err(|error| wrong(field, error.to_string()))
        };
        // What was typed without a unit is kept with the one that it was meant in.
        let with_unit = |text: &str, unit: &Unit| {
            let text = text.trim();
            let bare = text.chars().all(|c| c.is_ascii_digit() || ".,-−+".contains(c));
            if bare { format!("{text} {}", unit.symbol) } else { text.to_owned() }
        };
        Ok(FrictionReading {
            torque_nm: figure(&format!("{path}.torque"), &self.torque, Dimension::Torque, torque)?,
            stretch_mm: figure(&format!("{path}.stretch"), &self.stretch, Dimension::Clearance, length)?,
            left_mm: left.map(read_left).transpose()?,
            entered: Self {
                torque: with_unit(&self.torque, torque),
                stretch: with_unit(&self.stretch, length),
                left: left.map(|text| with_unit(text, length)),
            },
        })
    }
}

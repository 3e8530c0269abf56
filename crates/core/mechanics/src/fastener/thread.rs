//! Screw threads by designation, and the sections strength is computed on.

use crate::message::Message;
use crate::quantity::{Dimension, Length, Quantity, mm};
use crate::{message, text};
use std::f64::consts::PI;
use thiserror::Error;

/// The standard a thread follows, which decides its stress area.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ThreadSeries {
    /// ISO 68-1 metric.
    Metric,
    /// ASME B1.1 unified, with its threads per inch.
    Unified,
}

/// A 60° screw thread.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Thread {
    /// Metric or unified.
    pub series: ThreadSeries,
    /// Nominal diameter d, mm.
    nominal_mm: f64,
    /// Pitch P, mm.
    pitch_mm: f64,
}

/// Why a designation is not a thread.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ThreadError {
    /// The text follows no form that is known.
    #[error("{}", text!("mechanics-not-thread-write-m10x1-25-m10", text = .0))]
    Unreadable(String),
    /// A metric diameter without a pitch, and no coarse pitch is standard for it.
    #[error("{}", text!("mechanics-has-no-standard-coarse-pitch-write", text = .0))]
    NoCoarsePitch(String),
    /// A size in inches without its threads per inch.
    #[error("{}", text!("mechanics-has-two-standard-pitches-write-unc", text = .text, coarse = .coarse, fine = .fine))]
    NoThreadsPerInch {
        /// What was written.
        text: String,
        /// The coarse thread of the size.
        coarse: String,
        /// The fine one.
        fine: String,
    },
    /// Diameter or pitch cannot be.
    #[error("{}", text!("mechanics-impossible", text = .text, reason = reason.in_base_units()))]
    Impossible {
        /// What was written.
        text: String,
        /// What is wrong with it.
        reason: Message,
    },
    /// A part of the text was not understood.
    #[error("{}", text!("mechanics-was-not-understood", text = .text, part = .part))]
    Part {
        /// What was written.
        text: String,
        /// The part that makes no sense.
        part: String,
    },
}

/// Threads per inch of sizes in inches, coarse and fine (ASME B1.1).
const PER_INCH: [(&str, u32, u32); 13] = [
    ("1/4", 20, 28),
    ("5/16", 18, 24),
    ("3/8", 16, 24),
    ("7/16", 14, 20),
    ("1/2", 13, 20),
    ("9/16", 12, 18),
    ("5/8", 11, 18),
    ("3/4", 10, 16),
    ("7/8", 9, 14),
    ("#6", 32, 40),
    ("#8", 32, 36),
    ("#10", 24, 32),
    ("#12", 24, 28),
];

/// What is asked about a size in inches whose pitch is not said.
fn without_threads(text: &str, size: &str) -> Option<ThreadError> {
    let (size, coarse, fine) = PER_INCH.iter().find(|(known, ..)| *known == size)?;
    let [coarse, fine] = [coarse, fine].map(|per_inch| format!("{size}-{per_inch}"));
    Some(ThreadError::NoThreadsPerInch { text: text.to_owned(), coarse, fine })
}

/// ISO 261 coarse pitches, (d, P) in mm.
const COARSE: &[(f64, f64)] = &[
    (1.0, 0.25),
    (1.2, 0.25),
    (1.6, 0.35),
    (2.0, 0.4),
    (2.5, 0.45),
    (3.0, 0.5),
    (3.5, 0.6),
    (4.0, 0.7),
    (5.0, 0.8),
    (6.0, 1.0),
    (7.0, 1.0),
    (8.0, 1.25),
    (9.0, 1.25),
    (10.0, 1.5),
    (11.0, 1.5),
    (12.0, 1.75),
    (14.0, 2.0),
    (16.0, 2.0),
    (18.0, 2.5),
    (20.0, 2.5),
    (22.0, 2.5),
    (24.0, 3.0),
    (27.0, 3.0),
    (30.0, 3.5),
    (33.0, 3.5),
    (36.0, 4.0),
];

impl ThreadError {
    /// What is wrong, for people.
    pub fn message(&self) -> Message {
        match self {
            Self::Impossible { text, reason } => message!("mechanics-impossible", text, reason),
            other => other.to_string().into(),
        }
    }
}

impl Thread {
    /// A thread from its designation, as people write it.
    ///
    /// ```
    /// use rigore_mechanics::fastener::Thread;
    ///
    /// let thread = Thread::parse("M10x1.25")?;
    /// assert!((thread.d2_mm() - 9.188).abs() < 1e-3);
    /// assert!(Thread::parse("3/8-24 UNF").is_ok());
    /// assert!(Thread::parse("M10x").is_err());
    /// # Ok::<(), rigore_mechanics::fastener::ThreadError>(())
    /// ```
    ///
    /// # Errors
    /// [`ThreadError`] names what was not understood.
    pub fn parse(text: &str) -> Result<Self, ThreadError> {
        let clean: String = text.trim().to_uppercase().replace(['×', '*'], "X");
        if clean.starts_with('M') { Self::metric(text, &clean) } else { Self::unified(text, &clean) }
    }

    fn metric(text: &str, clean: &str) -> Result<Self, ThreadError> {
        let unreadable = || ThreadError::Unreadable(text.to_owned());
        let mut words = clean[1..].split_whitespace();
        let mut size = words.next().ok_or_else(unreadable)?.replace(',', ".");
        let mut rest: Vec<&str> = words.collect();
        while let Some(word) = rest.first().copied().filter(|w| w.starts_with('X') || size.ends_with('X')) {
            size.push_str(&word.replace(',', "."));
            rest.remove(0);
        }
        let size = match size.split_once('-') {
            Some((size, class)) => {
                tolerance_class(text, class)?;
                size.to_owned()
            }
            None => size,
        };
        for word in rest {
            tolerance_class(text, word.trim_start_matches('-'))?;
        }
        let number = |part: &str| {
            part.parse::<f64>()
                .ok()
                .filter(|v| v.is_finite())
                .ok_or_else(|| ThreadError::Part { text: text.to_owned(), part: part.to_owned() })
        };
        let (nominal, pitch) = match size.split_once('X') {
            Some((d, p)) => (number(d)?, number(p)?),
            None if size.is_empty() => return Err(unreadable()),
            None => {
                let d = number(&size)?;
                let coarse = COARSE.iter().find(|(nominal, _)| (nominal - d).abs() < 1e-9);
                (d, coarse.ok_or_else(|| ThreadError::NoCoarsePitch(text.to_owned()))?.1)
            }
        };
        Self::checked(text, ThreadSeries::Metric, nominal, pitch)
    }

    fn unified(text: &str, clean: &str) -> Result<Self, ThreadError> {
        let unreadable = || ThreadError::Unreadable(text.to_owned());
        let mut words = clean.split_whitespace();
        let size = words.next().ok_or_else(unreadable)?.trim_end_matches('"');
        let (diameter, threads) =
            size.rsplit_once('-').ok_or_else(|| without_threads(text, size).unwrap_or_else(unreadable))?;
        // The series may stand right behind the threads: `3/8-24UNF`.
        let digits = threads.trim_end_matches(|c: char| c.is_ascii_alphabetic());
        let (threads, series) = (digits, &threads[digits.len()..]);
        for word in words.chain(Some(series).filter(|series| !series.is_empty())) {
            let known = [
                "UNC", "UNF", "UNEF", "UN", "UNS", "UNJF", "UNJC", "UNR", "UNRF", "UNRC", "1A", "2A", "3A",
                "1B", "2B", "3B",
            ];
            if !known.contains(&word) {
                return Err(ThreadError::Part { text: text.to_owned(), part: word.to_owned() });
            }
        }
        let inches = unified_diameter(diameter.trim_end_matches('"'))
            .ok_or_else(|| ThreadError::Part { text: text.to_owned(), part: diameter.to_owned() })?;
        let per_inch: f64 = threads
            .parse()
            .ok()
            .filter(|n: &f64| *n > 0.0 && n.is_finite())
            .ok_or_else(|| ThreadError::Part { text: text.to_owned(), part: threads.to_owned() })?;
        Self::checked(text, ThreadSeries::Unified, inches * 25.4, 25.4 / per_inch)
    }

    fn checked(
        text: &str,
        series: ThreadSeries,
        nominal_mm: f64,
        pitch_mm: f64,
    ) -> Result<Self, ThreadError> {
        let length = |mm: f64| Quantity::new(mm, Dimension::Length);
        let impossible = |reason: Message| Err(ThreadError::Impossible { text: text.to_owned(), reason });
        if !(0.9..=200.0).contains(&nominal_mm) {
            return impossible(message!(
                "mechanics-diameter-outside",
                diameter = length(nominal_mm),
                range = length(1.0).up_to(200.0)
            ));
        }
        if pitch_mm <= 0.0 || pitch_mm > 0.3 * nominal_mm {
            return impossible(message!(
                "mechanics-pitch-does-not-go-with",
                pitch = length(pitch_mm),
                diameter = length(nominal_mm)
            ));
        }
        Ok(Self { series, nominal_mm, pitch_mm })
    }

    /// Nominal diameter d.
    pub fn nominal(&self) -> Length {
        mm(self.nominal_mm)
    }

    /// Pitch P.
    pub fn pitch(&self) -> Length {
        mm(self.pitch_mm)
    }

    /// Nominal diameter in mm.
    pub fn nominal_mm(&self) -> f64 {
        self.nominal_mm
    }

    /// Pitch in mm.
    pub fn pitch_mm(&self) -> f64 {
        self.pitch_mm
    }

    /// Pitch diameter d2 = d − 0.649519 P, in mm (ISO 724).
    pub fn d2_mm(&self) -> f64 {
        self.nominal_mm - 0.649_519 * self.pitch_mm
    }

    /// Root diameter d3 = d − 1.226869 P, in mm (ISO 898-1).
    pub fn d3_mm(&self) -> f64 {
        self.nominal_mm - 1.226_869 * self.pitch_mm
    }

    /// Minor diameter of the internal thread D1 = d − 1.0825 P, in mm (ISO 724).
    pub fn d1_mm(&self) -> f64 {
        self.nominal_mm - 1.082_532 * self.pitch_mm
    }

    /// Diameter of the stress area, in mm.
    pub fn stress_diameter_mm(&self) -> f64 {
        match self.series {
            ThreadSeries::Metric => f64::midpoint(self.d2_mm(), self.d3_mm()),
            ThreadSeries::Unified => self.nominal_mm - 0.974_3 * self.pitch_mm,
        }
    }

    /// Stress area As, in mm² (ISO 898-1, ASME B1.1).
    pub fn stress_area_mm2(&self) -> f64 {
        PI / 4.0 * self.stress_diameter_mm().powi(2)
    }
}

/// Checks a metric tolerance class such as `6g`.
fn tolerance_class(text: &str, class: &str) -> Result<(), ThreadError> {
    let ok = !class.is_empty()
        && class.len() <= 4
        && class.starts_with(|c: char| c.is_ascii_digit())
        && class.chars().all(|c| c.is_ascii_digit() || matches!(c, 'E'..='H'));
    if ok { Ok(()) } else { Err(ThreadError::Part { text: text.to_owned(), part: class.to_owned() }) }
}

/// Numbers of screws that are written without their sign.
const SCREW_NUMBERS: [u8; 5] = [4, 6, 8, 10, 12];

/// Diameter in inches: `3/8`, `1`, `1 1/8` as `1-1/8`, `0.375` or a screw number `#10`.
fn unified_diameter(text: &str) -> Option<f64> {
    let screw = |number: u8| 0.06 + 0.013 * f64::from(number);
    if let Some(number) = text.strip_prefix('#') {
        return number.parse::<u8>().ok().filter(|n| *n <= 14).map(screw);
    }
    // `10-32`: a screw number without its sign. No bolt is so many inches thick.
    if let Some(number) = text.parse::<u8>().ok().filter(|n| SCREW_NUMBERS.contains(n)) {
        return Some(screw(number));
    }
    let (whole, part) = match text.split_once('-') {
        Some((whole, part)) => (whole.parse::<f64>().ok()?, part),
        None => (0.0, text),
    };
    let fraction = match part.split_once('/') {
        Some((n, d)) => {
            let d = d.parse::<u16>().ok().filter(|d| *d > 0)?;
            f64::from(n.parse::<u16>().ok()?) / f64::from(d)
        }
        None => part.parse::<f64>().ok()?,
    };
    Some(whole + fraction).filter(|inches| inches.is_finite())
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn near(got: f64, expected: f64, tolerance: f64) {
        assert!((got - expected).abs() <= tolerance, "{got} is not {expected}");
    }

    #[test]
    fn published_sections() {
        let m8 = Thread::parse("M8x1.25").unwrap();
        near(m8.d2_mm(), 7.188, 5e-4);
        near(m8.d3_mm(), 6.466, 5e-4);
        near(m8.stress_area_mm2(), 36.6, 0.05);
        near(Thread::parse("M12×1.5").unwrap().stress_area_mm2(), 88.1, 0.05);
        near(Thread::parse("3/8-24").unwrap().stress_area_mm2() / 645.16, 0.0878, 5e-5);
    }

    #[test]
    fn designations_as_people_write_them() {
        for (text, d, p) in [
            ("M10x1.25", 10.0, 1.25),
            ("m10 x 1,25", 10.0, 1.25),
            ("M10", 10.0, 1.5),
            ("M8-6g", 8.0, 1.25),
            ("M10x1.25 6g", 10.0, 1.25),
            ("3/8-24", 9.525, 25.4 / 24.0),
            ("7/16-14 UNC", 11.1125, 25.4 / 14.0),
            ("#10-32", 4.826, 25.4 / 32.0),
            ("1/2-20 UNF 3A", 12.7, 1.27),
            ("3/8-24UNF", 9.525, 25.4 / 24.0),
            ("10-32", 4.826, 25.4 / 32.0),
            ("1-8", 25.4, 25.4 / 8.0),
            ("1-1/8-12 UNF", 28.575, 25.4 / 12.0),
        ] {
            let thread = Thread::parse(text).unwrap_or_else(|e| panic!("{text}: {e}"));
            near(thread.nominal_mm(), d, 1e-9);
            near(thread.pitch_mm(), p, 1e-9);
        }
    }

    #[test]
    fn anything_else_names_what_was_not_understood() {
        for (text, names) in [
            ("M10x1.25 hot", "`HOT`"),
            ("M13.7", "coarse pitch"),
            ("M10x9", "impossible"),
            ("M0x1", "impossible"),
            ("3/8", "write 3/8-16 (UNC) or 3/8-24 (UNF)"),
            ("3/7", "not a thread"),
            ("3/0-24", "`3/0`"),
            ("1/2-20 XYZ", "`XYZ`"),
            ("", "not a thread"),
            ("M", "not a thread"),
            ("Mabc", "`ABC`"),
        ] {
            let error = Thread::parse(text).unwrap_err().to_string();
            assert!(error.contains(names), "{text}: {error}");
        }
    }

    proptest! {
        #[test]
        fn no_text_makes_it_panic(text in "[M#0-9/x., a-zµ-]{0,12}") {
            let _ = Thread::parse(&text);
        }
    }
}

//! Quantities as people write them: `75 ft-lb`, `18 lb·in`, `9,5 Nm`, `.0025"`, `2.5 thou`.

use super::shown::Quantity;
use super::units::{Dimension, UNITS, Unit};
use crate::text;
use thiserror::Error;

/// Why a text is not a quantity. The message says what was not understood and what is.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum ReadError {
    /// Nothing was written.
    #[error("{}", text!("mechanics-empty-such-as-needed", one = .dimension.one(), example = .example))]
    Empty {
        /// What was wanted.
        dimension: Dimension,
        /// A text that would do.
        example: String,
    },
    /// The number in front could not be read.
    #[error("{}", text!("mechanics-does-not-start-with-number", text = .0))]
    Number(String),
    /// The number is so large that it is none any more in the base unit.
    #[error("{}", text!("mechanics-larger-than-any-figure-can", text = .0))]
    TooLarge(String),
    /// The unit is not one Rigore knows.
    #[error("{}", text!("mechanics-unit-not-known-given", unit = .unit, one = .dimension.one(), allowed = .allowed))]
    UnknownUnit {
        /// What was written.
        unit: String,
        /// What was wanted.
        dimension: Dimension,
        /// The units that would do.
        allowed: String,
    },
    /// The unit measures something else.
    #[error("{}", text!("mechanics-unit-needed", unit = .unit, word = .found.word(), one = .dimension.one(), allowed = .allowed))]
    WrongDimension {
        /// What was written.
        unit: String,
        /// What that unit measures.
        found: Dimension,
        /// What was wanted.
        dimension: Dimension,
        /// The units that would do.
        allowed: String,
    },
}

/// Reads a quantity of `dimension`, in its base unit. A bare number takes `bare`'s unit.
///
/// A comma is a decimal comma. Spaces, dots and dashes inside a unit do not matter, nor does case.
///
/// ```
/// use rigore_mechanics::quantity::{Dimension, read};
///
/// let newton_metres = Dimension::Torque.base();
/// assert_eq!(read("30 N·m", Dimension::Torque, newton_metres)?, 30.0);
/// assert!((read("25 ft-lb", Dimension::Torque, newton_metres)? - 33.895).abs() < 1e-3);
/// assert!(read("25 ft-lb", Dimension::Angle, Dimension::Angle.base()).is_err());
/// # Ok::<(), rigore_mechanics::quantity::ReadError>(())
/// ```
///
/// # Errors
/// [`ReadError`] names what was not understood, and the units that are.
pub fn read(text: &str, dimension: Dimension, bare: &Unit) -> Result<f64, ReadError> {
    let text = text.trim();
    if text.is_empty() {
        let example = Quantity::new(bare.factor + bare.offset, dimension).in_scale_of(bare);
        return Err(ReadError::Empty { dimension, example });
    }
    let split = number_length(text);
    let number: f64 = text[..split]
        .replace(',', ".")
        .replace('−', "-")
        .parse()
        .ok()
        .filter(|value: &f64| value.is_finite())
        .ok_or_else(|| ReadError::Number(shortened(text)))?;
    let unit = find_unit(text[split..].trim(), dimension, bare)?;
    let value = number * unit.factor + unit.offset;
    if value.is_finite() { Ok(value) } else { Err(ReadError::TooLarge(shortened(text))) }
}

/// The unit that a quantity is written in; none where it has none, or one of another dimension.
pub fn unit_of(text: &str, dimension: Dimension) -> Option<&'static Unit> {
    let text = text.trim();
    let key: String =
        text[number_length(text)..].to_lowercase().chars().filter(|c| !is_between(*c)).collect();
    spelled(&key, dimension)
}

/// As much of what was written as has to be said again.
fn shortened(written: &str) -> String {
    const ENOUGH: usize = 24;
    let start: String = written.chars().take(ENOUGH).collect();
    if start.len() < written.len() { start + "…" } else { start }
}

/// How many bytes of the text are its number.
fn number_length(text: &str) -> usize {
    let mut end = 0;
    let mut previous = ' ';
    for (at, c) in text.char_indices() {
        let sign = matches!(c, '+' | '-' | '−') && (at == 0 || matches!(previous, 'e' | 'E'));
        let exponent = matches!(c, 'e' | 'E')
            && previous.is_ascii_digit()
            && text[at + 1..].starts_with(|next: char| next.is_ascii_digit() || next == '-' || next == '+');
        if !(c.is_ascii_digit() || matches!(c, '.' | ',') || sign || exponent) {
            break;
        }
        previous = c;
        end = at + c.len_utf8();
    }
    end
}

/// Whether a character may stand between the parts of a unit, where it says nothing.
pub const fn is_between(c: char) -> bool {
    matches!(c, ' ' | '\u{a0}' | '.' | '·' | '-' | '‑' | '*' | '⋅')
}

/// The unit of a dimension that is spelled so, in lower case and with nothing between its parts.
pub fn spelled(key: &str, dimension: Dimension) -> Option<&'static Unit> {
    UNITS.iter().find(|unit| unit.measures(dimension) && unit.spellings.contains(&key))
}

/// The unit that is written so, whatever it measures.
pub fn written(unit: &str) -> Option<&'static Unit> {
    let key: String = unit.to_lowercase().chars().filter(|c| !is_between(*c)).collect();
    UNITS.iter().find(|unit| !key.is_empty() && unit.spellings.contains(&key.as_str()))
}

fn find_unit(written: &str, dimension: Dimension, bare: &Unit) -> Result<Unit, ReadError> {
    if written.is_empty() {
        return Ok(*bare);
    }
    let key: String = written.to_lowercase().chars().filter(|c| !is_between(*c)).collect();
    let known = |unit: &&Unit| unit.spellings.contains(&key.as_str());
    let allowed = || {
        let symbols = UNITS.iter().filter(|u| u.measures(dimension)).map(|u| u.symbol);
        let symbols: Vec<_> =
            symbols.map(|symbol| if symbol.is_empty() { "no unit" } else { symbol }).collect();
        symbols.join(", ")
    };
    if let Some(unit) = spelled(&key, dimension) {
        return Ok(*unit);
    }
    Err(match UNITS.iter().find(known) {
        Some(other) => ReadError::WrongDimension {
            unit: shortened(written),
            found: other.dimension,
            dimension,
            allowed: allowed(),
        },
        None => ReadError::UnknownUnit { unit: shortened(written), dimension, allowed: allowed() },
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::unit;
    use proptest::prelude::*;

    fn base(text: &str, dimension: Dimension) -> f64 {
        read(text, dimension, dimension.base()).unwrap()
    }

    #[test]
    fn spellings_of_the_bench_are_read() {
        let table = [
            ("75 ft-lb", Dimension::Torque, 101.686),
            ("1 lbf·ft", Dimension::Torque, 1.355_817_948_3),
            ("12 lbf·in", Dimension::Torque, 1.355_817_948_3),
            ("4,5 m·daN", Dimension::Torque, 45.0),
            ("850 N·cm", Dimension::Torque, 8.5),
            ("85 kgf·cm", Dimension::Torque, 8.335_652_5),
            ("6.4 kgf·m", Dimension::Torque, 62.762_56),
            ("205 GPa", Dimension::Pressure, 205_000.0),
            ("3 in³", Dimension::Volume, 49.161_192),
            ("18 lb·in", Dimension::Torque, 2.033_73),
            ("9,5 Nm", Dimension::Torque, 9.5),
            ("80", Dimension::Torque, 80.0),
            (".0025\"", Dimension::Length, 0.0635),
            ("2.5 thou", Dimension::Length, 0.0635),
            ("0.06mm", Dimension::Length, 0.06),
            ("62 µm", Dimension::Length, 0.062),
            ("+0.012", Dimension::Length, 0.012),
            ("80°", Dimension::Angle, 80.0),
            ("68 °F", Dimension::Temperature, 20.0),
            ("1e-2 mm", Dimension::Length, 0.01),
        ];
        for (text, dimension, expected) in table {
            let got = base(text, dimension);
            assert!((got - expected).abs() < 1e-4 * expected.abs(), "{text}: {got}");
        }
        assert!((base("1 lbf·ft", Dimension::Torque) - 1.355_817_948_3).abs() < 1e-10);
    }

    #[test]
    fn what_is_not_understood_is_named() {
        let error =
            |text, dimension: Dimension| read(text, dimension, dimension.base()).unwrap_err().to_string();
        assert!(error("80 mm", Dimension::Torque).contains("`mm` is a unit of length"));
        assert!(error("80 furlongs", Dimension::Torque).contains("`furlongs` is not known"));
        assert!(error("tight", Dimension::Torque).contains("does not start with a number"));
        assert!(error("", Dimension::Length).contains("empty"));
        assert!(error("1.2.3", Dimension::Length).contains("number"));
    }

    #[test]
    fn a_figure_that_no_figure_can_be_is_refused_in_every_unit() {
        for unit in UNITS {
            for text in ["1e308", "-1.7e308", "1e309", "9e307"] {
                let read = read(text, unit.dimension, unit);
                assert!(
                    read.as_ref().map_or(true, |value| value.is_finite()),
                    "{text} {}: {read:?}",
                    unit.symbol
                );
            }
        }
        let largest = UNITS.iter().map(|unit| unit.factor).fold(0.0, f64::max);
        let unit = UNITS.iter().find(|unit| unit.factor >= largest).expect("a unit");
        let says = read("1e308", unit.dimension, unit).expect_err("it is too large").to_string();
        assert_eq!(says, "`1e308` is larger than any figure can be");
    }

    #[test]
    fn a_bare_number_takes_the_units_of_its_field() {
        let feet = unit("lbf·ft").unwrap();
        let read = read("60", Dimension::Torque, feet).unwrap();
        assert!((read - 81.349).abs() < 1e-3);
    }

    proptest! {
        #[test]
        fn writing_and_reading_come_back(value in 0.001f64..5000.0, index in 0..UNITS.len()) {
            let unit = &UNITS[index];
            let text = Quantity::new(value, unit.dimension).in_scale(unit).in_base_unit();
            let back = read(&text, unit.dimension, unit.dimension.base()).unwrap();
            let step = unit.factor * 10f64.powi(-i32::from(unit.decimals));
            prop_assert!((back - value).abs() <= step * 0.500_001, "{text} {back}");
        }

        #[test]
        fn no_text_makes_it_panic(text in "\\PC{0,12}") {
            let _ = read(&text, Dimension::Torque, Dimension::Torque.base());
        }
    }
}

//! Windows as a manual prints them (C-67): two figures, a figure with its tolerance, one end, a multiple of the bore.

use rigore_mechanics::clearance::Window;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension};

/// What a window may look like, as an error says it.
fn such_as() -> Message {
    message!("read-such-as-window")
}

/// A window that was written in one text.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct WrittenWindow {
    /// The window; where it goes by the bore, as a multiple of it.
    pub window: Window,
    /// Whether it is multiplied by the bore.
    pub by_bore: bool,
}

/// Which end of a window a word gives.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum End {
    Least,
    Most,
}

/// Words that stand before or behind the only figure of a window with one end.
const ENDS: [(&str, End); 18] = [
    ("at least", End::Least),
    ("no less than", End::Least),
    ("not under", End::Least),
    ("or more", End::Least),
    ("minimum", End::Least),
    ("min.", End::Least),
    ("min", End::Least),
    (">=", End::Least),
    ("≥", End::Least),
    ("at most", End::Most),
    ("no more than", End::Most),
    ("not over", End::Most),
    ("or less", End::Most),
    ("maximum", End::Most),
    ("max.", End::Most),
    ("max", End::Most),
    ("<=", End::Most),
    ("≤", End::Most),
];

/// Reads a window of figures of a dimension. The least, what is aimed at and the most; of two figures the middle is
/// aimed at, and of one end the end itself. A unit that is given once is that of all figures.
///
/// # Errors
/// What was not understood, and what a window looks like.
pub(super) fn read(text: &str, dimension: Dimension) -> Result<WrittenWindow, Message> {
    let lower = text.trim().to_lowercase();
    let (rest, by_bore) = without_bore(&lower);
    let dimension = if by_bore { Dimension::Ratio } else { dimension };
    let (rest, end) = without_end(&rest);
    let figures = figures(&rest, dimension).map_err(|error| message!("read-of-text", text, error))?;
    let window = |low, target, high| Window { low, high, target };
    let window = match (figures, end) {
        (Figures::Around(target, tolerance), None) if tolerance >= 0.0 => {
            window(target - tolerance, target, target + tolerance)
        }
        (Figures::Listed(figures), end) => match (&figures[..], end) {
            ([least], Some(End::Least)) => window(*least, *least, f64::INFINITY),
            // What a maker gives as a multiple of the bore is the least that will do.
            ([least], None) if by_bore => window(*least, *least, f64::INFINITY),
            ([most], Some(End::Most)) => window(f64::NEG_INFINITY, *most, *most),
            ([_], None) => {
                return Err(message!("read-window-one-figure", text, such_as = such_as()));
            }
            ([low, high], None) => window(*low, f64::midpoint(*low, *high), *high),
            ([low, target, high], None) => window(*low, *target, *high),
            _ => return Err(message!("read-no-window", text, such_as = such_as())),
        },
        _ => return Err(message!("read-no-window", text, such_as = such_as())),
    };
    if window.low <= window.target && window.target <= window.high {
        return Ok(WrittenWindow { window, by_bore });
    }
    Err(message!("read-window-has-to-rise", text, such_as = such_as()))
}

/// The figures of a window.
enum Figures {
    /// A figure and how far off it may be.
    Around(f64, f64),
    /// One to three figures.
    Listed(Vec<f64>),
}

fn figures(text: &str, dimension: Dimension) -> Result<Figures, Message> {
    let around = ["±", "+/-", "+-"].iter().find_map(|sign| text.split_once(sign));
    if let Some((target, tolerance)) = around {
        let read = in_one_unit(&[target.trim(), tolerance.trim()], dimension)?;
        return Ok(Figures::Around(read[0], read[1]));
    }
    let text = text
        .strip_prefix("between")
        .map_or_else(|| text.to_owned(), |rest| rest.replacen(" and ", " to ", 1));
    let parts: Vec<&str> =
        separated(&text).into_iter().map(str::trim).filter(|part| !part.is_empty()).collect();
    if parts.is_empty() {
        return Err(message!("read-window-needed", such_as = such_as()));
    }
    in_one_unit(&parts, dimension).map(Figures::Listed)
}

/// What stands between the signs that part figures: a hyphen does where a digit is before it.
fn separated(text: &str) -> Vec<&str> {
    let parts = text
        .split(['–', '—', ';', '…'])
        .flat_map(|part| part.split(", "))
        .flat_map(|part| part.split(" to "));
    let parts = parts.flat_map(|part| part.split(" - "));
    parts.flat_map(hyphened).collect()
}

fn hyphened(part: &str) -> Vec<&str> {
    let mut parts = Vec::new();
    let mut start = 0;
    for (at, _) in part.match_indices('-') {
        let before = part[start..at].trim_end();
        let behind = part[at + 1..].trim_start();
        let ends = before.ends_with(|c: char| c.is_ascii_digit() || c == '°' || c == '"');
        if ends && behind.starts_with(|c: char| c.is_ascii_digit() || c == '.') {
            parts.push(&part[start..at]);
            start = at + 1;
        }
    }
    parts.push(&part[start..]);
    parts
}

/// Figures in base units; those without a unit have that of the last one.
fn in_one_unit(parts: &[&str], dimension: Dimension) -> Result<Vec<f64>, Message> {
    if matches!(dimension, Dimension::Ratio | Dimension::Count) {
        let number = |part: &&str| {
            let digits = part.trim_end_matches(": 1").trim_end_matches(":1").trim().replace(',', ".");
            let read = digits.parse().ok().filter(|value: &f64| value.is_finite());
            read.ok_or_else(|| message!("read-window-plain-number", part, such_as = such_as()))
        };
        return parts.iter().map(number).collect();
    }
    let last = parts.last().and_then(|last| quantity::unit_of(last, dimension));
    let bare = last.unwrap_or(dimension.base());
    parts
        .iter()
        .map(|part| quantity::read(part, dimension, bare).map_err(|error| error.to_string().into()))
        .collect()
}

/// The text without `× bore`, and whether that stood in it.
fn without_bore(text: &str) -> (String, bool) {
    let Some((before, behind)) = text.split_once("bore") else { return (text.to_owned(), false) };
    let before = before.trim_end();
    let before = before.strip_suffix("the").unwrap_or(before).trim_end();
    let before = before.strip_suffix("of").unwrap_or(before).trim_end();
    let times =
        ["×", "x", "*", "·", "times"].iter().find_map(|sign| before.strip_suffix(sign)).unwrap_or(before);
    let behind = behind.trim_start();
    let behind =
        ["×", "x", "*", "·", "times"].iter().find_map(|sign| behind.strip_prefix(sign)).unwrap_or(behind);
    (format!("{} {}", times.trim_end(), behind.trim_start()).trim().to_owned(), true)
}

/// The text without the word that makes its only figure one end of the window, and which end that is.
fn without_end(text: &str) -> (String, Option<End>) {
    let found = ENDS.iter().find_map(|(word, end)| {
        let (before, behind) = around_word(text, word)?;
        Some((format!("{before} {behind}"), *end))
    });
    found.map_or_else(|| (text.to_owned(), None), |(rest, end)| (rest.trim().to_owned(), Some(end)))
}

/// What stands before and behind a word that is not a part of a longer one.
fn around_word<'a>(text: &'a str, word: &str) -> Option<(&'a str, &'a str)> {
    let is_apart = |(before, behind): &(&str, &str)| {
        !before.ends_with(char::is_alphabetic) && !behind.starts_with(char::is_alphabetic)
    };
    text.match_indices(word).map(|(at, _)| (&text[..at], &text[at + word.len()..])).find(is_apart)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const OPEN: f64 = f64::INFINITY;

    #[test]
    fn windows_are_read_as_manuals_print_them() {
        let inch = 25.4;
        for (text, dimension, [low, target, high]) in [
            ("0.030 to 0.052 mm", Dimension::Clearance, [0.030, 0.041, 0.052]),
            ("0.030-0.052 mm", Dimension::Clearance, [0.030, 0.041, 0.052]),
            ("0.030 – 0.052 mm", Dimension::Clearance, [0.030, 0.041, 0.052]),
            ("between 0.03 and 0.05", Dimension::Clearance, [0.03, 0.04, 0.05]),
            (".0012\" to .0020\"", Dimension::Clearance, [0.0012 * inch, 0.0016 * inch, 0.0020 * inch]),
            ("0.0012-0.0020 in", Dimension::Clearance, [0.0012 * inch, 0.0016 * inch, 0.0020 * inch]),
            ("0.04, 0.05, 0.065 mm", Dimension::Clearance, [0.04, 0.05, 0.065]),
            ("at least 1.5 mm", Dimension::Clearance, [1.5, 1.5, OPEN]),
            ("1.5 mm min.", Dimension::Clearance, [1.5, 1.5, OPEN]),
            ("1.5 or more mm", Dimension::Clearance, [1.5, 1.5, OPEN]),
            ("≥ 1.5", Dimension::Clearance, [1.5, 1.5, OPEN]),
            ("at most 0.4", Dimension::Clearance, [-OPEN, 0.4, 0.4]),
            ("max 16 thou", Dimension::Clearance, [-OPEN, 0.4064, 0.4064]),
            ("106° ± 1°", Dimension::Angle, [105.0, 106.0, 107.0]),
            ("106 +/- 1°", Dimension::Angle, [105.0, 106.0, 107.0]),
            ("-1.0 to 0.5 mm", Dimension::Clearance, [-1.0, -0.25, 0.5]),
            ("9.2 to 9.6 : 1", Dimension::Ratio, [9.2, 9.4, 9.6]),
        ] {
            let read = read(text, dimension).unwrap_or_else(|error| panic!("{text}: {error:?}"));
            let of = [read.window.low, read.window.target, read.window.high];
            let near = of.iter().zip([low, target, high]).all(|(a, b)| *a == b || (a - b).abs() < 1e-9);
            assert!(near && !read.by_bore, "{text}: {of:?}");
        }
    }

    #[test]
    fn a_multiple_of_the_bore_is_the_least_that_will_do() {
        for text in ["0.0038 × bore", "0.0038 x the bore", "bore × 0.0038", "at least 0.0038 times bore"] {
            let read = read(text, Dimension::Clearance).unwrap_or_else(|error| panic!("{text}: {error:?}"));
            assert_eq!((read.window.low, read.window.high, read.by_bore), (0.0038, OPEN, true), "{text}");
        }
        let range = read("0.0038 to 0.0045 × bore", Dimension::Clearance).unwrap();
        assert!((range.window.high - 0.0045).abs() < 1e-12 && range.by_bore);
    }

    #[test]
    fn what_is_no_window_is_said_in_its_own_words() {
        for (text, says) in [
            ("0.05 mm", "has one figure"),
            ("0.052 to 0.030 mm", "have to rise"),
            ("0.03 to 0.05 N·m", "is a unit of torque"),
            ("tight", "does not start with a number"),
            // A word of an end is a word of its own.
            ("5 minutes", "is a unit of time"),
            ("", "a window is needed"),
            ("at least 1 to 2 mm", "is no window"),
            ("1, 2, 3, 4 mm", "is no window"),
        ] {
            let error = read(text, Dimension::Clearance).unwrap_err();
            assert!(error.contains(says), "{text}: {error:?}");
        }
    }

    proptest! {
        #[test]
        fn no_text_makes_it_panic_and_every_window_rises(text in "[0-9a-z .,;×±≥°\"–-]{0,24}") {
            if let Ok(WrittenWindow { window, .. }) = read(&text, Dimension::Clearance) {
                prop_assert!(window.low <= window.target && window.target <= window.high);
            }
        }
    }
}

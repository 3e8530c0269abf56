//! The words of a line: figures, units, signs and words, each with its place.

use crate::quantity::{Dimension, Unit, is_between, spelled};
use std::ops::Range;

/// One of them.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Token {
    pub what: What,
    /// Its place in the text, in bytes.
    pub at: Range<usize>,
    /// Whether the one before stands right in front of it.
    pub tight: bool,
}

#[derive(Debug, Clone, PartialEq)]
pub(super) enum What {
    /// A figure as it was written.
    Number(f64),
    Unit(&'static Unit),
    /// In lower case.
    Word(String),
    Percent,
    PlusMinus,
    Comma,
    Semicolon,
    Line,
    Plus,
    Colon,
    Dash,
    Slash,
    Dot,
    Open,
    Close,
    /// Anything else.
    Odd,
}

/// Longest spelling of a unit with spaces and dots, in characters.
const LONGEST_UNIT: usize = 16;

/// All of them, in order.
pub(super) fn tokens(text: &str) -> Vec<Token> {
    let mut list: Vec<Token> = Vec::new();
    let mut at = 0;
    while let Some(c) = text[at..].chars().next() {
        let end = at + c.len_utf8();
        if c.is_whitespace() && c != '\n' {
            at = end;
            continue;
        }
        let after_figure = matches!(list.last(), Some(Token { what: What::Number(_), .. }));
        let (what, end) = if c.is_ascii_digit() || (c == '.' && text[end..].starts_with(digit)) {
            number(text, at)
        } else if let Some((unit, end)) = unit(text, at, after_figure) {
            (What::Unit(unit), end)
        } else if c.is_alphabetic() {
            let end = text[at..].find(|c: char| !c.is_alphabetic()).map_or(text.len(), |n| at + n);
            (What::Word(text[at..end].to_lowercase()), end)
        } else if let Some(rest) = ["+/-", "+-", "±"].iter().find(|sign| text[at..].starts_with(**sign)) {
            (What::PlusMinus, at + rest.len())
        } else {
            (sign(c), end)
        };
        let tight = list.last().is_some_and(|before| before.at.end == at);
        list.push(Token { what, at: at..end, tight });
        at = end;
    }
    list
}

fn digit(c: char) -> bool {
    c.is_ascii_digit()
}

fn sign(c: char) -> What {
    match c {
        '%' => What::Percent,
        ',' => What::Comma,
        ';' => What::Semicolon,
        '\n' => What::Line,
        '+' | '&' => What::Plus,
        ':' => What::Colon,
        '-' | '–' | '—' | '−' | '‑' => What::Dash,
        '/' => What::Slash,
        '×' => What::Word("x".to_owned()),
        '.' => What::Dot,
        '(' | '[' => What::Open,
        ')' | ']' => What::Close,
        _ => What::Odd,
    }
}

/// A figure with a decimal point. A comma is told from a decimal one later.
fn number(text: &str, at: usize) -> (What, usize) {
    let whole = text[at..].find(|c| !digit(c)).map_or(text.len(), |n| at + n);
    let point = text[whole..].strip_prefix('.').filter(|rest| rest.starts_with(digit));
    let end = point.map_or(whole, |rest| whole + 1 + rest.find(|c| !digit(c)).unwrap_or(rest.len()));
    let value = text[at..end].parse().ok().filter(|value: &f64| value.is_finite());
    (value.map_or(What::Odd, What::Number), end)
}

/// The longest unit that begins here, with its end.
fn unit(text: &str, at: usize, after_figure: bool) -> Option<(&'static Unit, usize)> {
    let rest = &text[at..];
    let mut key = String::new();
    let mut found = None;
    for (offset, c) in rest.char_indices().take(LONGEST_UNIT) {
        let end = offset + c.len_utf8();
        if is_between(c) {
            if key.is_empty() {
                break;
            }
        } else if c.is_alphabetic() || matches!(c, '°' | 'º' | '"' | '″') {
            key.extend(c.to_lowercase());
            let whole = !c.is_alphabetic() || !rest[end..].starts_with(char::is_alphanumeric);
            if whole && let Some(unit) = ASKED.into_iter().find_map(|dimension| spelled(&key, dimension)) {
                found = Some((unit, at + end));
            }
        } else {
            break;
        }
    }
    // "in three steps" is no unit, and nothing is one that does not stand behind a figure.
    let (unit, end) = found.filter(|_| after_figure)?;
    let worded = unit.symbol == "in" && &text[at..end] == "in";
    let goes_on = || {
        let next = text[end..].trim_start();
        next.starts_with(digit) || IN_WORDS.iter().any(|word| next.starts_with(word))
    };
    (!(worded && goes_on())).then_some((unit, end))
}

/// What follows "in" where it is a word and no unit.
const IN_WORDS: [&str; 12] =
    ["one", "a ", "two", "three", "four", "five", "six", "equal", "even", "steps", "stages", "sequence"];

/// What something is tightened by.
const ASKED: [Dimension; 3] = [Dimension::Torque, Dimension::Angle, Dimension::Length];

//! The words of a line: numbers, units, signs and words, each with its place in the text.

use rigore_mechanics::quantity::{Dimension, Unit, is_between, spelled};
use std::ops::Range;

/// One of them.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct LineToken {
    pub kind: TokenKind,
    /// Its place in the text, in bytes.
    pub at: Range<usize>,
    /// Whether no space stands before it.
    pub tight: bool,
}

#[derive(Debug, Clone, PartialEq)]
pub(super) enum TokenKind {
    /// A number as it was written.
    Number(f64),
    /// A vulgar fraction such as `1/4` or `½`: a part of a turn, or an inch size.
    Fraction(f64),
    /// A thread designation such as `M8x1.25` or `3/8-24`.
    Thread,
    Unit(&'static Unit),
    /// In lower case.
    Word(String),
    /// A text between quotation marks: its place without them.
    Quoted(Range<usize>),
    Percent,
    PlusMinus,
    Comma,
    Semicolon,
    LineBreak,
    Plus,
    Colon,
    Dash,
    Slash,
    Arrow,
    Dot,
    Open,
    Close,
    /// Anything else.
    Other,
}

impl TokenKind {
    /// Whether it is a figure that needs a role.
    pub fn is_number(&self) -> bool {
        matches!(self, Self::Number(_) | Self::Fraction(_))
    }

    pub fn is_word(&self, word: &str) -> bool {
        matches!(self, Self::Word(written) if written == word)
    }
}

/// The longest spelling of a unit with spaces and dots, in characters.
const LONGEST_UNIT: usize = 16;
/// The longest text in quotation marks, in bytes.
const LONGEST_QUOTE: usize = 200;

/// All of them, in order.
pub(super) fn tokens(text: &str) -> Vec<LineToken> {
    let mut list: Vec<LineToken> = Vec::new();
    let mut at = 0;
    while let Some(c) = text[at..].chars().next() {
        if c.is_whitespace() && c != '\n' {
            at += c.len_utf8();
            continue;
        }
        let tight = at > 0 && list.last().is_some_and(|before| before.at.end == at);
        let (kind, end) = token(text, at, c, list.last().map(|token| &token.kind));
        list.push(LineToken { kind, at: at..end, tight });
        at = end;
    }
    list
}

/// The token that begins here, and where it ends.
fn token(text: &str, at: usize, c: char, before: Option<&TokenKind>) -> (TokenKind, usize) {
    let end = at + c.len_utf8();
    if let Some(end) = thread(text, at) {
        return (TokenKind::Thread, end);
    }
    if let Some(of) = fraction(text, at, before) {
        return of;
    }
    if c.is_ascii_digit() || (c == '.' && text[end..].starts_with(digit)) {
        return number(text, at);
    }
    let after_number = before.is_some_and(TokenKind::is_number);
    // Behind brackets a unit is one where it can be no word: `42 (38-44) N·m`.
    let after_brackets = before == Some(&TokenKind::Close) && !text[at..].starts_with("in");
    if (after_number || after_brackets)
        && let Some((unit, end)) = unit(text, at)
    {
        return (TokenKind::Unit(unit), end);
    }
    if let Some(of) = quoted(text, at, c) {
        return of;
    }
    if c.is_alphabetic() {
        let end = text[at..].find(|c: char| !c.is_alphabetic()).map_or(text.len(), |n| at + n);
        return (TokenKind::Word(text[at..end].to_lowercase()), end);
    }
    for (signs, kind) in [
        (&["+/-", "+-", "±"][..], TokenKind::PlusMinus),
        (&["->", "=>", "-->", "→", "⇒", ">"], TokenKind::Arrow),
    ] {
        if let Some(sign) = signs.iter().find(|sign| text[at..].starts_with(**sign)) {
            return (kind, at + sign.len());
        }
    }
    (sign(c), end)
}

fn digit(c: char) -> bool {
    c.is_ascii_digit()
}

fn sign(c: char) -> TokenKind {
    let word = |word: &str| TokenKind::Word(word.to_owned());
    match c {
        '%' => TokenKind::Percent,
        ',' => TokenKind::Comma,
        ';' => TokenKind::Semicolon,
        '\n' => TokenKind::LineBreak,
        '+' | '&' => TokenKind::Plus,
        ':' => TokenKind::Colon,
        '-' | '–' | '—' | '−' | '‑' => TokenKind::Dash,
        '/' => TokenKind::Slash,
        '.' => TokenKind::Dot,
        '(' | '[' => TokenKind::Open,
        ')' | ']' => TokenKind::Close,
        '×' | '*' => word("x"),
        '~' | '≈' => word("about"),
        '≤' => word("max"),
        '≥' => word("min"),
        _ => TokenKind::Other,
    }
}

/// A number with a decimal point. A comma is told from a decimal one later.
fn number(text: &str, at: usize) -> (TokenKind, usize) {
    let whole = text[at..].find(|c| !digit(c)).map_or(text.len(), |n| at + n);
    let point = text[whole..].strip_prefix('.').filter(|rest| rest.starts_with(digit));
    let end = point.map_or(whole, |rest| whole + 1 + rest.find(|c| !digit(c)).unwrap_or(rest.len()));
    let value = text[at..end].parse().ok().filter(|value: &f64| value.is_finite());
    (value.map_or(TokenKind::Other, TokenKind::Number), end)
}

/// Fractions that are one character.
const FRACTION_SIGNS: [(char, f64); 6] =
    [('½', 0.5), ('¼', 0.25), ('¾', 0.75), ('⅓', 1.0 / 3.0), ('⅔', 2.0 / 3.0), ('⅛', 0.125)];
/// What turns and inches are parted into.
const DENOMINATORS: [u32; 8] = [2, 3, 4, 6, 8, 16, 32, 64];

/// A vulgar fraction in its lowest terms: `20/40` is two numbers.
fn fraction(text: &str, at: usize, before: Option<&TokenKind>) -> Option<(TokenKind, usize)> {
    let first = text[at..].chars().next()?;
    if let Some((_, value)) = FRACTION_SIGNS.iter().find(|(sign, _)| *sign == first) {
        return Some((TokenKind::Fraction(*value), at + first.len_utf8()));
    }
    if before == Some(&TokenKind::Slash) {
        return None;
    }
    let (above, below, end) = quotient(text, at)?;
    if text[end..].starts_with(['/', '.']) && text[end + 1..].starts_with(digit) {
        return None;
    }
    let lowest = above < below && (1..=above).filter(|by| above % by == 0 && below % by == 0).count() == 1;
    (lowest && DENOMINATORS.contains(&below))
        .then(|| (TokenKind::Fraction(f64::from(above) / f64::from(below)), end))
}

/// `3/8`: both whole numbers, and where it ends.
fn quotient(text: &str, at: usize) -> Option<(u32, u32, usize)> {
    let whole = |from: usize| {
        let end = text[from..].find(|c| !digit(c)).map_or(text.len(), |n| from + n);
        text[from..end].parse::<u32>().ok().filter(|n| (1..=64).contains(n)).map(|n| (n, end))
    };
    let (above, slash) = whole(at)?;
    let rest = text[slash..].strip_prefix('/')?;
    let (below, end) = whole(text.len() - rest.len())?;
    Some((above, below, end))
}

/// Where a thread designation that begins here ends: `M8`, `M10 x 1.25`, `3/8-24 UNF`, `#10-32`.
fn thread(text: &str, at: usize) -> Option<usize> {
    let before = text[..at].chars().next_back();
    if before.is_some_and(|c| c.is_alphanumeric() || c == '/') {
        return None;
    }
    let rest = &text[at..];
    let digits = |from: usize| text[from..].find(|c: char| !digit(c)).map_or(text.len(), |n| from + n);
    if rest.starts_with(['M', 'm']) && rest[1..].starts_with(digit) {
        let (_, end) = number(text, at + 1);
        return Some(times_number(text, end).map_or(end, |end| times_number(text, end).unwrap_or(end)))
            .filter(|end| !text[*end..].starts_with(char::is_alphabetic));
    }
    let size = match rest.strip_prefix('#') {
        Some(number) if number.starts_with(digit) => digits(at + 1),
        _ => quotient(text, at)?.2,
    };
    let pitch = text[size..].strip_prefix('-').filter(|rest| rest.starts_with(digit))?;
    let end = digits(text.len() - pitch.len());
    let threads: u32 = text[size + 1..end].parse().ok()?;
    if !(8..=80).contains(&threads) {
        return None;
    }
    let series = text[end..].trim_start();
    let gap = text.len() - series.len();
    let series_end = series.find(|c: char| !c.is_alphabetic()).map_or(text.len(), |n| gap + n);
    let known = ["UNF", "UNC", "UNEF", "UNS", "UN", "UNJF", "UNR"];
    Some(if known.contains(&text[gap..series_end].to_uppercase().as_str()) { series_end } else { end })
}

/// `x1.25` or `× 1,25` behind a diameter.
fn times_number(text: &str, at: usize) -> Option<usize> {
    let rest = text[at..].trim_start_matches(' ');
    let rest = rest.strip_prefix(['x', 'X', '×'])?.trim_start_matches(' ');
    if !rest.starts_with(digit) {
        return None;
    }
    let from = text.len() - rest.len();
    let (_, end) = number(text, from);
    let comma = text[end..].strip_prefix(',').filter(|rest| rest.starts_with(digit));
    let end = comma.map_or(end, |rest| end + 1 + rest.find(|c| !digit(c)).unwrap_or(rest.len()));
    // A figure with a unit is no pitch.
    unit(text, text.len() - text[end..].trim_start().len()).is_none().then_some(end)
}

/// A text between quotation marks.
fn quoted(text: &str, at: usize, c: char) -> Option<(TokenKind, usize)> {
    let closing: &[char] = match c {
        '"' => &['"'],
        '“' | '„' => &['”', '“'],
        '«' => &['»'],
        _ => return None,
    };
    let from = at + c.len_utf8();
    let length = text[from..].find(closing).filter(|length| (1..=LONGEST_QUOTE).contains(length))?;
    let end = from + length;
    let close = text[end..].chars().next()?.len_utf8();
    (!text[from..end].contains('\n')).then_some((TokenKind::Quoted(from..end), end + close))
}

/// The longest unit that begins here, with its end.
fn unit(text: &str, at: usize) -> Option<(&'static Unit, usize)> {
    let rest = &text[at..];
    let mut key = String::new();
    let mut found = None;
    for (offset, c) in rest.char_indices().take(LONGEST_UNIT) {
        let end = offset + c.len_utf8();
        // Pounds and feet are written with a slash, too, which says nothing there.
        let slash = c == '/' && matches!(key.as_str(), "ft" | "in" | "lb" | "lbs" | "lbf" | "foot" | "inch");
        if is_between(c) || slash {
            if key.is_empty() {
                break;
            }
        } else if c.is_alphabetic() || matches!(c, '°' | 'º' | '"' | '″') {
            key.extend(c.to_lowercase());
            let whole = !c.is_alphabetic() || !rest[end..].starts_with(char::is_alphanumeric);
            if whole && let Some(unit) = MEASURED.into_iter().find_map(|dimension| spelled(&key, dimension)) {
                found = Some((unit, at + end));
            }
        } else {
            break;
        }
    }
    // "in three steps" is no unit.
    let (unit, end) = found?;
    let worded = unit.symbol == "in" && &text[at..end] == "in";
    let goes_on = || {
        let next = text[end..].trim_start();
        next.starts_with(digit) || IN_WORDS.iter().any(|word| next.starts_with(word))
    };
    (!(worded && goes_on())).then_some((unit, end))
}

/// What follows "in" where it is a word and no unit.
const IN_WORDS: [&str; 16] = [
    "one", "a ", "two", "three", "four", "five", "six", "equal", "even", "steps", "stages", "passes",
    "sequence", "order", "the ", "star",
];

/// What the figures of a procedure measure.
const MEASURED: [Dimension; 4] = [Dimension::Torque, Dimension::Angle, Dimension::Length, Dimension::Time];

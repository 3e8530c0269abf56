//! A line in clauses: what stands between two marks that part stages.

use super::Fault;
use super::phrase::{Means, meaning};
use super::token::{Token, What};
use crate::quantity::{Dimension, Unit};
use std::ops::Range;

/// A figure as it was written, in its own unit.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Written {
    /// Its value, or the lower of two.
    pub low: f64,
    /// The higher of two.
    pub high: Option<f64>,
    pub unit: Measure,
    /// How far off it may be.
    pub within: Option<Within>,
    /// Whether it is what is not passed.
    pub limits: bool,
    pub at: Range<usize>,
}

/// How far off a figure may be, in its own unit or of itself.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Within {
    So(f64, Option<&'static Unit>),
    Percent(f64),
}

/// What a figure is given in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Measure {
    In(&'static Unit),
    /// It comes with a later figure.
    Unsaid,
    Percent,
    /// It was said in words, and is in degrees.
    Degrees,
    /// It is no figure of a stage: what it is was not said, or percentages are of it.
    Apart,
}

impl Measure {
    /// What it measures, and how much of its base unit it is.
    pub fn of(self) -> Option<(Dimension, f64)> {
        match self {
            Self::In(unit) => Some((unit.dimension, unit.factor)),
            Self::Degrees => Some((Dimension::Angle, 1.0)),
            Self::Unsaid | Self::Percent | Self::Apart => None,
        }
    }
}

/// What stands between two marks.
#[derive(Debug, Clone, Default, PartialEq)]
pub(super) struct Clause {
    pub group: Option<String>,
    pub figures: Vec<Written>,
    /// What its words say.
    pub marks: Vec<Means>,
    /// A tolerance that stands by itself, for the figure before.
    pub within: Option<Within>,
    /// Equal steps.
    pub steps: Option<u32>,
    /// Whether it comes after a "then" or the like, and not after a comma.
    pub after_then: bool,
    pub at: Range<usize>,
}

impl Clause {
    pub fn says(&self, means: Means) -> bool {
        self.marks.contains(&means)
    }

    pub fn times(&self) -> Option<u32> {
        self.marks.iter().find_map(|mark| match mark {
            Means::Times(times) => Some(*times),
            _ => None,
        })
    }

    fn is_empty(&self) -> bool {
        self.figures.is_empty() && self.marks.is_empty() && self.within.is_none() && self.steps.is_none()
    }
}

/// The most a stage may be repeated, and steps it may be parted into.
const MOST_TIMES: u32 = 12;

/// Reads clause after clause.
pub(super) struct Clauses<'a> {
    pub text: &'a str,
    pub tokens: Vec<Token>,
    pub faults: Vec<Fault>,
    list: Vec<Clause>,
    now: Clause,
    group: Option<String>,
    /// The first token of the clause in hand.
    start: usize,
    at: usize,
}

impl<'a> Clauses<'a> {
    pub fn new(text: &'a str, tokens: Vec<Token>) -> Self {
        Self {
            text,
            tokens,
            faults: Vec::new(),
            list: Vec::new(),
            now: Clause::default(),
            group: None,
            start: 0,
            at: 0,
        }
    }

    /// All of them, and what was not understood.
    pub fn all(mut self) -> (Vec<Clause>, Vec<Fault>) {
        while self.at < self.tokens.len() {
            self.one();
        }
        self.end(false);
        (self.list, self.faults)
    }

    fn what(&self, ahead: usize) -> Option<&What> {
        self.tokens.get(self.at + ahead).map(|token| &token.what)
    }

    fn place(&self, taken: usize) -> Range<usize> {
        self.tokens[self.at].at.start..self.tokens[self.at + taken - 1].at.end
    }

    fn fault(&mut self, at: Range<usize>, message: impl Into<String>) {
        self.faults.push(Fault { at, message: message.into() });
    }

    fn end(&mut self, then: bool) {
        let then_before = std::mem::take(&mut self.now.after_then);
        let mut clause = std::mem::take(&mut self.now);
        self.now.after_then = then || (clause.is_empty() && then_before);
        if !clause.is_empty() {
            let last = self.tokens[..self.at].last().map_or(self.text.len(), |token| token.at.end);
            clause.at = self.tokens[self.start].at.start..last;
            clause.group.clone_from(&self.group);
            clause.after_then = then_before;
            self.list.push(clause);
        }
    }

    /// Goes past the mark that ends a clause.
    fn part(&mut self, taken: usize, then: bool) {
        self.end(then);
        self.at += taken;
        self.start = self.at;
    }

    fn one(&mut self) {
        if self.is_named() {
            return;
        }
        let token = &self.tokens[self.at];
        match &token.what {
            What::Number(_) => self.number(),
            What::Dash if self.now.is_empty() => self.at += 1,
            What::Comma | What::Semicolon | What::Line | What::Bracket | What::Dot | What::Dash => {
                self.part(1, false);
            }
            What::Plus => self.part(1, true),
            What::PlusMinus => self.lone_tolerance(1),
            What::Colon => self.at += 1,
            What::Word(word) if word == "x" => self.multiplied(),
            What::Word(_) => self.word(),
            What::Unit(_) | What::Percent | What::Slash | What::Odd => {
                let said = self.text[token.at.clone()].to_owned();
                let at = token.at.clone();
                self.fault(at, format!("`{said}` was not understood here"));
                self.at += 1;
            }
        }
    }

    /// A group, or a word that says which step it is, ends with a colon; goes past it.
    fn is_named(&mut self) -> bool {
        if self.at != self.start {
            return false;
        }
        let ends = |what: &What| matches!(what, What::Comma | What::Semicolon | What::Line | What::Plus);
        let rest = &self.tokens[self.at..];
        let Some(colon) =
            rest.iter().take(12).position(|token| token.what == What::Colon || ends(&token.what))
        else {
            return false;
        };
        if rest[colon].what != What::Colon || colon == 0 {
            return false;
        }
        // Whatever says something by itself is read as words, and the colon says nothing.
        let mut at = self.at;
        while at < self.at + colon {
            match (&self.tokens[at].what, meaning(&self.tokens, at)) {
                (_, Some((_, taken))) => at += taken,
                (What::Number(_) | What::Unit(_) | What::Percent | What::Dot | What::Bracket, _)
                    if at > self.at =>
                {
                    at += 1;
                }
                (What::Number(_), _) => {
                    at += 1;
                }
                (What::Word(word), _) if ORDINALS.contains(&word.as_str()) => {
                    at += 1;
                }
                _ => break,
            }
        }
        if at >= self.at + colon {
            return false;
        }
        let name = self.text[self.tokens[self.at].at.start..self.tokens[self.at + colon - 1].at.end].trim();
        let name = name.split_whitespace().collect::<Vec<_>>().join(" ");
        self.at += colon;
        self.part(1, true);
        self.group = Some(name);
        true
    }

    /// `x 2` repeats what stands before it.
    fn multiplied(&mut self) {
        match self.what(1) {
            Some(What::Number(times)) if !self.now.figures.is_empty() => {
                let times = *times;
                self.repeat(times, 2);
            }
            _ => {
                let at = self.place(1);
                self.fault(at, "`x` was not understood here: say how often after it");
                self.at += 1;
            }
        }
    }

    fn repeat(&mut self, times: f64, taken: usize) {
        if let Some(times) = whole(times) {
            return self.mark(Means::Times(times), taken);
        }
        let at = self.place(taken);
        self.fault(at, format!("it can be said 1 to {MOST_TIMES} times"));
        self.at += taken;
    }

    fn mark(&mut self, means: Means, taken: usize) {
        self.now.marks.push(means);
        self.at += taken;
    }

    fn word(&mut self) {
        let Some((means, taken)) = meaning(&self.tokens, self.at) else {
            let at = self.place(1);
            let said = &self.text[at.clone()];
            let group = matches!(self.what(1), Some(What::Number(_)));
            let hint = if group { ": the name of a group ends with a colon" } else { "" };
            let message = format!("`{said}` was not understood{hint}");
            self.fault(at, message);
            self.at += 1;
            return;
        };
        match means {
            Means::Then => self.part(taken, true),
            Means::And => self.part(taken, false),
            Means::Filler | Means::To | Means::Turn | Means::Flats => self.at += taken,
            Means::Within => self.lone_tolerance(taken),
            Means::Step => {
                // A numbered step begins a new stage; "step 2" has its number after it.
                if self.at != self.start {
                    self.part(0, true);
                }
                self.at += taken;
                let unit = matches!(
                    self.what(1),
                    Some(What::Unit(_) | What::Percent | What::Dash | What::PlusMinus)
                );
                if matches!(self.what(0), Some(What::Number(_))) && !unit {
                    self.at += 1;
                }
                self.start = self.at;
            }
            Means::Degrees(degrees) => {
                let at = self.place(taken);
                self.figure(degrees, None, Measure::Degrees, at, taken);
            }
            Means::Number(number) => match meaning(&self.tokens, self.at + taken) {
                Some((Means::EqualSteps, more)) => self.steps(f64::from(number), taken + more),
                Some((Means::Flats, more)) => self.flats(f64::from(number), taken + more),
                _ => self.at += taken,
            },
            means => self.mark(means, taken),
        }
    }

    fn steps(&mut self, steps: f64, taken: usize) {
        self.now.steps = whole(steps);
        if self.now.steps.is_none() {
            let at = self.place(taken);
            self.fault(at, format!("1 to {MOST_TIMES} steps can be said"));
        }
        self.at += taken;
    }

    fn flats(&mut self, flats: f64, taken: usize) {
        let at = self.place(taken);
        self.figure(flats * 60.0, None, Measure::Degrees, at, taken);
    }

    /// A figure with all that belongs to it.
    fn figure(&mut self, low: f64, high: Option<f64>, unit: Measure, at: Range<usize>, taken: usize) {
        self.at += taken;
        let limits = self.now.says(Means::Limit);
        let mut written = Written { low, high, unit, within: None, limits, at };
        let sign = match (self.what(0), meaning(&self.tokens, self.at)) {
            (Some(What::PlusMinus), _) => Some(1),
            (_, Some((Means::Within, taken))) => Some(taken),
            _ => None,
        };
        if let Some(sign) = sign
            && let Some((within, taken)) = self.within(sign)
        {
            written.at.end = self.tokens[self.at + taken - 1].at.end;
            written.within = Some(within);
            // `40 ± 3 N·m` gives both in one unit.
            if let (Measure::Unsaid, Within::So(so, Some(unit))) = (written.unit, within) {
                written.unit = Measure::In(unit);
                written.within = Some(Within::So(so, None));
            }
            self.at += taken;
        }
        self.now.figures.push(written);
    }

    /// `± 3`, with its unit or as a percentage; and how many tokens that takes.
    fn within(&self, sign: usize) -> Option<(Within, usize)> {
        let Some(What::Number(so)) = self.what(sign) else { return None };
        Some(match self.what(sign + 1) {
            Some(What::Percent) => (Within::Percent(*so), sign + 2),
            Some(What::Unit(unit)) => (Within::So(*so, Some(unit)), sign + 2),
            _ => (Within::So(*so, None), sign + 1),
        })
    }

    fn lone_tolerance(&mut self, sign: usize) {
        if let Some((within, taken)) = self.within(sign) {
            self.now.within = Some(within);
            self.at += taken;
        } else {
            let at = self.place(sign);
            self.fault(at, "say how much after it");
            self.at += sign;
        }
    }

    fn number(&mut self) {
        let Some(What::Number(first)) = self.what(0) else { return };
        let mut first = *first;
        let mut taken = 1;
        if let Some(joined) = self.decimal_comma(first) {
            let Some(joined) = joined else { return };
            (first, taken) = joined;
        }
        let next = self.what(taken).cloned();
        // `1.` or `2)` numbers a step.
        let numbered = match next {
            Some(What::Dot) => self.at == self.start,
            Some(What::Bracket) => self.tokens[self.at + taken].tight,
            _ => false,
        };
        if numbered && whole(first).is_some() && self.what(taken + 1).is_some() {
            if self.at != self.start {
                self.part(0, true);
            }
            self.at += taken + 1;
            self.start = self.at;
            return;
        }
        if let Some(What::Word(word)) = &next {
            let tight = self.tokens[self.at + taken].tight;
            match word.as_str() {
                ordinal if tight && ORDINALS.contains(&ordinal) => {
                    if self.at != self.start {
                        self.part(0, true);
                    }
                    self.at += taken + 1;
                    return;
                }
                "times" => return self.repeat(first, taken + 1),
                "x" if self.now.figures.is_empty() => return self.repeat(first, taken + 1),
                _ => {}
            }
        }
        if next == Some(What::Slash)
            && let Some(What::Number(second)) = self.what(taken + 1)
            && *second > 0.0
            && let Some((Means::Turn, more)) = meaning(&self.tokens, self.at + taken + 2)
        {
            let (part, taken) = (first / second, taken + 2 + more);
            let at = self.place(taken);
            return self.figure(part * 360.0, None, Measure::Degrees, at, taken);
        }
        match meaning(&self.tokens, self.at + taken) {
            Some((Means::EqualSteps, more)) => return self.steps(first, taken + more),
            Some((Means::Flats, more)) => return self.flats(first, taken + more),
            Some((Means::Turn, more)) => {
                let at = self.place(taken + more);
                return self.figure(first * 360.0, None, Measure::Degrees, at, taken + more);
            }
            _ => {}
        }
        self.measured(first, taken);
    }

    /// A figure with its unit, or two with the range between them.
    fn measured(&mut self, low: f64, mut taken: usize) {
        let unit = |what: Option<&What>| match what {
            Some(What::Unit(unit)) => Some(Measure::In(unit)),
            Some(What::Percent) => Some(Measure::Percent),
            _ => None,
        };
        let mut measure = unit(self.what(taken));
        taken += usize::from(measure.is_some());
        let dash = self.what(taken) == Some(&What::Dash);
        let between =
            self.now_between() && matches!(meaning(&self.tokens, self.at + taken), Some((Means::And, 1)));
        let to = matches!(meaning(&self.tokens, self.at + taken), Some((Means::To, 1)));
        let mut high = None;
        if (dash || between || to)
            && let Some(What::Number(second)) = self.what(taken + 1)
        {
            let second = *second;
            let other = unit(self.what(taken + 2));
            let same = match (measure, other) {
                (Some(a), Some(b)) => a.of().map(|of| of.0) == b.of().map(|of| of.0),
                (Some(_), None) => to || between,
                _ => true,
            };
            if same && dash && measure.is_some() && other.is_some() {
                let at = self.place(taken + 3);
                let said = self.text[at.clone()].to_owned();
                self.fault(at, format!("`{said}` can be anything between the two, or one after the other: write `to` between them, or `then`"));
            }
            if same && second >= low {
                high = Some(second);
                measure = other.or(measure);
                taken += 2 + usize::from(other.is_some());
            }
        }
        let at = self.place(taken);
        self.figure(low, high, measure.unwrap_or(Measure::Unsaid), at, taken);
    }

    /// Whether "between" or "from" stands before the figure in hand.
    fn now_between(&self) -> bool {
        let before = self.at.checked_sub(1).map(|at| &self.tokens[at].what);
        matches!(before, Some(What::Word(word)) if word == "between" || word == "from")
    }

    /// A comma between digits is a decimal mark only where a list makes no sense; none where there is no such
    /// comma, and nothing in it where it can be both and that was said.
    #[expect(
        clippy::option_option,
        reason = "no comma, one that can be read in two ways, and one that is a decimal mark"
    )]
    fn decimal_comma(&mut self, first: f64) -> Option<Option<(f64, usize)>> {
        let tight = |ahead: usize| self.tokens.get(self.at + ahead).is_some_and(|token| token.tight);
        let (Some(What::Comma), Some(What::Number(second))) = (self.what(1), self.what(2)) else {
            return None;
        };
        if !tight(1) || !tight(2) || first.fract() != 0.0 || second.fract() != 0.0 {
            return None;
        }
        let listed = |at: usize| {
            self.tokens[at].what == What::Comma
                && self.tokens[at].tight
                && matches!(self.tokens.get(at + 1), Some(Token { what: What::Number(_), tight: true, .. }))
        };
        // A list that goes on is a list.
        let follows = self.tokens.len() > self.at + 3 && listed(self.at + 3);
        let precedes = self.at >= 2 && listed(self.at - 1);
        if follows || precedes {
            return None;
        }
        let second = *second;
        let digits = &self.text[self.tokens[self.at + 2].at.clone()];
        let joined =
            format!("{}.{digits}", &self.text[self.tokens[self.at].at.clone()]).parse::<f64>().ok()?;
        let dimension = match self.what(3) {
            Some(What::Unit(unit)) => Some(unit.dimension),
            _ => None,
        };
        let as_list = match dimension {
            Some(Dimension::Length) => false,
            Some(Dimension::Angle) => first > 0.0 && second > 0.0,
            _ => first > 0.0 && second > first,
        } && !digits.starts_with('0');
        if !as_list {
            return Some(Some((joined, 3)));
        }
        let at = self.place(3);
        let said = self.text[at.clone()].to_owned();
        self.fault(at, format!("`{said}` can be {first}, then {second}, or {joined}: write a space after the comma, or a point"));
        self.at += 3;
        // What it was given in goes with it.
        if matches!(self.what(0), Some(What::Unit(_))) {
            self.at += 1;
        }
        Some(None)
    }
}

const ORDINALS: [&str; 4] = ["st", "nd", "rd", "th"];

fn whole(number: f64) -> Option<u32> {
    (1..=MOST_TIMES).find(|n| (f64::from(*n) - number).abs() < f64::EPSILON)
}

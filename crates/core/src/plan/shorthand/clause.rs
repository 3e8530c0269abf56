//! A line in clauses: what stands between two marks that part stages.

use super::Fault;
use super::phrase::{Means, NOUNS, meaning};
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

impl Written {
    /// How far off it may be; `40 ± 3 N·m` gives both in one unit.
    fn bear(&mut self, within: Within, end: usize) {
        self.at.end = end;
        self.within = Some(within);
        if let (Measure::Unsaid, Within::So(so, Some(unit))) = (self.unit, within) {
            self.unit = Measure::In(unit);
            self.within = Some(Within::So(so, None));
        }
    }
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
        self.figures.is_empty() && self.marks.is_empty() && self.steps.is_none()
    }
}

/// The most words of a group's name, with its colon.
const LONGEST_NAME: usize = 12;

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
    /// The number of the last step that had one.
    step: u32,
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
            step: 0,
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
            What::Comma
            | What::Semicolon
            | What::Line
            | What::Open
            | What::Close
            | What::Dot
            | What::Dash => self.part(1, false),
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
        let rest = &self.tokens[self.at..];
        let Some(colon) = rest.iter().take(LONGEST_NAME).position(|token| token.what == What::Colon) else {
            return false;
        };
        let no_name = |token: &Token| {
            use What::{Comma, Line, Percent, Plus, PlusMinus, Semicolon, Unit};
            matches!(token.what, Comma | Semicolon | Line | Plus | PlusMinus | Percent | Unit(_))
        };
        if colon == 0 || rest[..colon].iter().any(no_name) {
            return false;
        }
        // What says something by itself is read as words, and the colon says nothing.
        let (mut known, mut nouns, mut at) = (true, true, 0);
        while at < colon {
            let (means, taken) = match (&rest[at].what, meaning(rest, at)) {
                (_, Some((Means::Then, _))) => return false,
                (_, Some(of)) => of,
                (What::Word(word), None) => {
                    known &= ORDINALS.contains(&word.as_str());
                    (Means::Step, 1)
                }
                _ => (Means::Step, 1),
            };
            let noun = matches!(&rest[at].what, What::Word(word) if NOUNS.contains(&word.as_str()));
            nouns &= noun || means == Means::Filler;
            nouns &= at + taken < colon || noun;
            at += taken;
        }
        if known && !nouns {
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
            Means::Step | Means::Numbered => {
                // A numbered step begins a new stage.
                if self.at != self.start {
                    self.part(0, true);
                }
                self.at += taken;
                if means == Means::Numbered {
                    self.step_number();
                }
                self.start = self.at;
            }
            Means::Degrees(degrees) => self.degrees(degrees, taken),
            Means::Number(number) => match meaning(&self.tokens, self.at + taken) {
                Some((Means::EqualSteps, more)) => self.steps(f64::from(number), taken + more),
                Some((Means::Flats, more)) => self.degrees(f64::from(number) * FLAT, taken + more),
                Some((Means::Turn, more)) => self.degrees(f64::from(number) * TURN, taken + more),
                _ => self.unknown(taken, "`{}` of what?"),
            },
            Means::EqualSteps => self.unknown(taken, "how many? Say it as in `3 equal steps`"),
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

    /// An angle that was said in words.
    fn degrees(&mut self, degrees: f64, taken: usize) {
        let at = self.place(taken);
        self.figure(degrees, None, Measure::Degrees, at, taken);
    }

    /// Goes past words that say nothing here; `{}` in the message stands for them.
    fn unknown(&mut self, taken: usize, message: &str) {
        let at = self.place(taken);
        let message = message.replace("{}", &self.text[at.clone()]);
        self.fault(at, message);
        self.at += taken;
    }

    /// The number behind "step". A figure may stand there as well: it is the number where that is marked, or counts
    /// up from the last one.
    fn step_number(&mut self) {
        if let Some((Means::Number(_), taken)) = meaning(&self.tokens, self.at) {
            self.at += taken;
            return;
        }
        let Some(number) = self.what(0).and_then(What::counted) else { return };
        let marked = match self.what(1) {
            Some(What::Colon | What::Dot | What::Close | What::Number(_)) => true,
            Some(What::Word(_)) => {
                let next = meaning(&self.tokens, self.at + 1).map(|(means, _)| means);
                !matches!(next, Some(Means::To | Means::And | Means::EqualSteps | Means::Turn | Means::Flats))
            }
            _ => false,
        };
        let figure =
            matches!(self.what(1), Some(What::Unit(_) | What::Percent | What::Dash | What::PlusMinus));
        if marked || (!figure && number == self.step + 1) {
            self.step = number;
            self.at += 1;
        }
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
            written.bear(within, self.tokens[self.at + taken - 1].at.end);
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

    /// A tolerance that does not stand right behind its figure.
    fn lone_tolerance(&mut self, sign: usize) {
        let Some((within, taken)) = self.within(sign) else {
            return self.unknown(sign, "say how much after `{}`");
        };
        let before = self.list.last_mut().filter(|before| before.group == self.group);
        let before = before.filter(|_| self.now.is_empty());
        let figures = before.map_or(&mut self.now.figures, |before| &mut before.figures);
        match figures.last_mut().filter(|figure| figure.within.is_none() && figure.high.is_none()) {
            Some(figure) => {
                figure.bear(within, self.tokens[self.at + taken - 1].at.end);
                self.at += taken;
            }
            None => self.unknown(taken, "`{}` is how far off what may be? It stands behind its figure"),
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
        // `1.`, `2:` or `3)` numbers a step.
        let opened = self.at.checked_sub(1).is_some_and(|before| self.tokens[before].what == What::Open);
        let numbered = match next {
            Some(What::Dot | What::Colon) => self.at == self.start,
            Some(What::Close) => self.tokens[self.at + taken].tight && !opened,
            _ => false,
        };
        if numbered
            && let Some(number) = whole(first)
            && self.what(taken + 1).is_some()
        {
            if self.at != self.start {
                self.part(0, true);
            }
            self.step = number;
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
            return self.degrees(first / second * TURN, taken + 2 + more);
        }
        match meaning(&self.tokens, self.at + taken) {
            Some((Means::EqualSteps, more)) => return self.steps(first, taken + more),
            Some((Means::Flats, more)) => return self.degrees(first * FLAT, taken + more),
            Some((Means::Turn, more)) => return self.degrees(first * TURN, taken + more),
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
            if same && dash && second < low {
                let at = self.place(taken + 2 + usize::from(other.is_some()));
                let said = self.text[at.clone()].to_owned();
                self.fault(at, format!("`{said}` runs downwards: a range begins with its lower end"));
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

/// One flat of a hexagon, and a whole turn, degrees.
const FLAT: f64 = 60.0;
const TURN: f64 = 360.0;

impl What {
    /// The number of a step or of times, where it can be one.
    fn counted(&self) -> Option<u32> {
        match self {
            Self::Number(number) => whole(*number),
            _ => None,
        }
    }
}

fn whole(number: f64) -> Option<u32> {
    (1..=MOST_TIMES).find(|n| (f64::from(*n) - number).abs() < f64::EPSILON)
}

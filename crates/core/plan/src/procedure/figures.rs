//! Numbers that say how much: figures with their units, ranges, tolerances, and the same figure in another unit.

use super::NumberRole;
use super::clauses::ClauseParser;
use super::phrase::{PhraseMeaning, meaning};
use super::token::TokenKind;
use super::written::{FigureMeasure, FigureUse, WrittenFigure, WrittenTolerance};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Unit, unit};
use std::ops::Range;

/// A number, or two with the range between them, as it stands in the text.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct BareFigure {
    pub low: f64,
    pub high: Option<f64>,
    pub unit: FigureMeasure,
    pub tokens: Range<usize>,
}

impl BareFigure {
    pub fn written(&self, parser: &ClauseParser<'_>) -> WrittenFigure {
        WrittenFigure {
            low: self.low,
            high: self.high,
            target: None,
            unit: self.unit,
            tolerance: None,
            used: FigureUse::Stage,
            bound_after: false,
            list_ended: false,
            parts: None,
            at: parser.place(self.tokens.clone()),
        }
    }
}

/// What is asked about brackets that are neither.
fn unclear() -> Message {
    message!("procedure-what-figure-before-brackets-hold-same")
}

/// How far apart the same figure in two units may be.
const SAME: f64 = 0.03;
/// One flat of a hexagon, one point of a twelve-point and a whole turn, degrees.
const FLAT: f64 = 60.0;
const POINT: f64 = 30.0;
const TURN: f64 = 360.0;

/// An angle that is given in turns, flats or points.
pub(super) fn degrees_of(number: f64, of: PhraseMeaning) -> f64 {
    number
        * match of {
            PhraseMeaning::Flats => FLAT,
            PhraseMeaning::Points => POINT,
            _ => TURN,
        }
}

/// What stands between figures of one run, such as `26-52-78`.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Joint {
    Dash,
    Slash,
    Arrow,
    /// "to", or "and" behind "between".
    To,
}

impl ClauseParser<'_> {
    pub fn number(&mut self, first: f64) {
        if self.numbered(first) {
            return;
        }
        let (value, taken) = match self.decimal_comma(first, self.at) {
            Some(Comma::Decimal(value)) => (value, 3),
            Some(Comma::Unclear) => return self.ask_about_comma(first),
            None => (first, 1),
        };
        // "1 1/4 turns"
        if let (Some(&TokenKind::Fraction(part)), Some((PhraseMeaning::Turn, more))) =
            (self.kind(taken), self.meaning(taken + 1))
        {
            return self.degrees((value + part) * TURN, taken + 1 + more);
        }
        if !self.counts(value, taken) {
            self.run(value, taken);
        }
    }

    pub fn fraction(&mut self, value: f64) {
        match self.meaning(1) {
            Some((of @ (PhraseMeaning::Turn | PhraseMeaning::Flats), more)) => {
                self.degrees(degrees_of(value, of), 1 + more);
            }
            _ => self.ask_here(1, message!("procedure-what-say-turn-or-what-has")),
        }
    }

    /// An angle that was said in words.
    pub fn degrees(&mut self, degrees: f64, taken: usize) {
        let Some(degree) = unit("°") else { return };
        self.push(&BareFigure {
            low: degrees,
            high: None,
            unit: FigureMeasure::In(degree),
            tokens: self.next_tokens(taken),
        });
    }

    /// Figures that are joined by signs, or one.
    fn run(&mut self, first: f64, taken: usize) {
        let mut figures = vec![self.with_unit(first, self.at..self.at + taken)];
        let mut joints: Vec<(Joint, bool)> = Vec::new();
        while let Some((joint, tight, next)) = self.joined(&figures) {
            joints.push((joint, tight));
            figures.push(next);
        }
        let end = figures.last().map_or(self.at + taken, |figure| figure.tokens.end);
        let whole = self.at..end;
        let last = figures.last().map_or(FigureMeasure::Unsaid, |figure| figure.unit);
        let units = figures.iter().filter(|figure| figure.unit != FigureMeasure::Unsaid).count();
        if units == 1 && last != FigureMeasure::Unsaid {
            for figure in &mut figures {
                figure.unit = last;
            }
        }
        match (&figures[..], &joints[..]) {
            ([one], _) => {
                let one = one.clone();
                self.push(&one);
            }
            ([low, high], [(Joint::Dash | Joint::To, tight)]) => {
                let (low, high) = (low.clone(), high.clone());
                self.range_of(&low, &high, joints[0].0, *tight, units, whole);
            }
            ([one, other], [(Joint::Slash, _)]) => {
                let (one, other) = (one.clone(), other.clone());
                if let (Some(a), Some(b)) = (one.unit.unit(), other.unit.unit())
                    && a.symbol != b.symbol
                    && is_same(one.low * a.factor, other.low * b.factor)
                {
                    self.push(&one);
                    self.claim(other.tokens.clone(), NumberRole::Equivalent);
                    self.at = end;
                } else if units == 2 && self.follows_slash() {
                    self.push(&one);
                    self.push(&other);
                } else {
                    self.ask_here(end - self.at, message!("procedure-one-after-other-or-one-two"));
                }
            }
            (_, joints) if joints.iter().all(|(joint, _)| *joint == joints[0].0 && *joint != Joint::To) => {
                for figure in figures {
                    self.push(&figure);
                }
            }
            _ => self.ask_here(end - self.at, message!("procedure-can-read-more-than-one-way")),
        }
    }

    /// Whether a slash parts the figure in hand from the one before: `40 N·m/90°/90°`.
    fn follows_slash(&self) -> bool {
        self.at > 0 && self.tokens[self.at - 1].kind == TokenKind::Slash
    }

    /// A number with the unit behind it.
    fn with_unit(&self, value: f64, tokens: Range<usize>) -> BareFigure {
        let (unit, more) = match self.tokens.get(tokens.end).map(|token| &token.kind) {
            Some(TokenKind::Unit(unit)) => (FigureMeasure::In(unit), 1),
            Some(TokenKind::Percent) => (FigureMeasure::Percent, 1),
            _ => (FigureMeasure::Unsaid, 0),
        };
        BareFigure { low: value, high: None, unit, tokens: tokens.start..tokens.end + more }
    }

    /// The next figure of a run, how it is joined to the one before, and whether without spaces.
    fn joined(&self, before: &[BareFigure]) -> Option<(Joint, bool, BareFigure)> {
        let last = before.last()?;
        let at = last.tokens.end;
        let (joint, number) = match (&self.tokens.get(at)?.kind, meaning(&self.tokens, at)) {
            (TokenKind::Dash, _) => (Joint::Dash, at + 1),
            (TokenKind::Slash, _) => (Joint::Slash, at + 1),
            (TokenKind::Arrow, _) => (Joint::Arrow, at + 1),
            (_, Some((PhraseMeaning::To, 1))) => (Joint::To, at + 1),
            (_, Some((PhraseMeaning::And, 1))) if before.len() == 1 && self.follows_between() => {
                (Joint::To, at + 1)
            }
            _ => return None,
        };
        let TokenKind::Number(value) = self.tokens.get(number)?.kind else { return None };
        let (value, taken) = match self.decimal_comma(value, number) {
            Some(Comma::Decimal(value)) => (value, 3),
            _ => (value, 1),
        };
        let next = self.with_unit(value, number..number + taken);
        // What counts something is no figure of the run, nor is a figure of something else.
        let counts = next.unit == FigureMeasure::Unsaid
            && matches!(
                meaning(&self.tokens, next.tokens.end),
                Some((
                    PhraseMeaning::Passes
                        | PhraseMeaning::Swings
                        | PhraseMeaning::Turn
                        | PhraseMeaning::Flats
                        | PhraseMeaning::Points,
                    _
                ))
            );
        let other = last.unit.dimension().is_some()
            && next.unit.dimension().is_some()
            && last.unit.dimension() != next.unit.dimension();
        let uneven = self.tokens.get(next.tokens.end).is_some_and(|token| token.kind == TokenKind::Slash)
            && self.tokens.get(next.tokens.end + 1).is_some_and(|token| token.kind == TokenKind::Plus);
        if counts || other || uneven {
            return None;
        }
        let tight = self.tokens[at].tight && self.tokens[number].tight;
        Some((joint, tight, next))
    }

    /// Two figures with anything between them.
    fn range_of(
        &mut self,
        low: &BareFigure,
        high: &BareFigure,
        joint: Joint,
        tight: bool,
        units: usize,
        whole: Range<usize>,
    ) {
        let taken = whole.len();
        if low.unit.unit().map(|unit| unit.symbol) != high.unit.unit().map(|unit| unit.symbol)
            && !(joint == Joint::To && high.unit == FigureMeasure::Unsaid)
        {
            return self.ask_here(taken, message!("procedure-range-has-one-unit-at-end"));
        }
        if joint == Joint::Dash && !tight && units == 2 {
            return self.ask_here(taken, message!("procedure-can-anything-between-two-or-one"));
        }
        if high.low < low.low {
            return self.ask_here(taken, message!("procedure-runs-downwards-range-begins-with-lower"));
        }
        let unit = if high.unit == FigureMeasure::Unsaid { low.unit } else { high.unit };
        let range = BareFigure { low: low.low, high: Some(high.low), unit, tokens: whole };
        if !self.range_for_before(&range) {
            self.push(&range);
        }
    }

    /// Whether "between" or "from" stands before the figure in hand.
    fn follows_between(&self) -> bool {
        let before = self.at.checked_sub(1).map(|before| &self.tokens[before].kind);
        before.is_some_and(|word| ["between", "from", "range"].iter().any(|known| word.is_word(known)))
    }

    /// `41 N·m between 38 and 44 N·m`: the range of the figure before. Whether it is one.
    fn range_for_before(&mut self, range: &BareFigure) -> bool {
        let Some(high) = range.high.filter(|_| self.follows_between()) else { return false };
        let in_clause = !self.clause.figures.is_empty();
        let group = self.group.clone();
        let after_then = self.clause.after_then;
        let before = if in_clause {
            self.clause.figures.last_mut()
        } else if self.clause.is_empty() && !after_then {
            let last = self.done.list.last_mut().filter(|last| last.group == group);
            last.and_then(|last| last.figures.last_mut())
        } else {
            None
        };
        let fits = |figure: &&mut WrittenFigure| {
            figure.high.is_none()
                && figure.tolerance.is_none()
                && (figure.unit == range.unit
                    || figure.unit == FigureMeasure::Unsaid
                    || range.unit == FigureMeasure::Unsaid)
                && (range.low..=high).contains(&figure.low)
        };
        let Some(figure) = before.filter(fits) else {
            if in_clause {
                self.ask_here(range.tokens.len(), message!("procedure-range-what-lies-around-figure-before"));
            }
            return in_clause;
        };
        if figure.unit == FigureMeasure::Unsaid {
            figure.unit = range.unit;
        }
        figure.target = Some(figure.low);
        (figure.low, figure.high) = (range.low, Some(high));
        self.claim(range.tokens.clone(), NumberRole::Tolerance);
        self.at = range.tokens.end;
        true
    }

    /// Takes a figure with all that belongs to it, and goes past it.
    fn push(&mut self, figure: &BareFigure) {
        let used = self.next_use.take().unwrap_or(FigureUse::Stage);
        let role = match (used, figure.unit.dimension()) {
            (FigureUse::Skins | FigureUse::Cures, _) | (_, Some(Dimension::Time)) => NumberRole::Time,
            _ if figure.unit == FigureMeasure::Percent => NumberRole::Percent,
            _ => NumberRole::Figure,
        };
        self.claim(figure.tokens.clone(), role);
        let written =
            WrittenFigure { used, list_ended: std::mem::take(&mut self.list_ended), ..figure.written(self) };
        self.clause.figures.push(written);
        self.at = figure.tokens.end;
        self.tolerance_after();
    }

    fn tolerance_after(&mut self) {
        let sign = match (self.kind(0), self.meaning(0)) {
            (Some(TokenKind::PlusMinus), _) => Some(1),
            (_, Some((PhraseMeaning::Within, taken))) => Some(taken),
            _ => None,
        };
        let found = sign.and_then(|sign| self.tolerance(sign)).or_else(|| self.uneven());
        if let Some((tolerance, taken)) = found {
            let end = self.place(self.next_tokens(taken)).end;
            self.claim(self.next_tokens(taken), NumberRole::Tolerance);
            if let Some(figure) = self.clause.figures.last_mut() {
                figure.bear(tolerance, end);
            }
            self.at += taken;
        }
    }

    /// `± 3`, with its unit or as a percentage; and how many tokens that takes.
    fn tolerance(&self, sign: usize) -> Option<(WrittenTolerance, usize)> {
        let &TokenKind::Number(first) = self.kind(sign)? else { return None };
        let (amount, number) = match self.decimal_comma(first, self.at + sign) {
            Some(Comma::Decimal(value)) => (value, 3),
            _ => (first, 1),
        };
        Some(match self.kind(sign + number) {
            Some(TokenKind::Percent) => (WrittenTolerance::Percent(amount), sign + number + 1),
            Some(TokenKind::Unit(unit)) => (WrittenTolerance::Amount(amount, Some(unit)), sign + number + 1),
            _ => (WrittenTolerance::Amount(amount, None), sign + number),
        })
    }

    /// `+5/-0`, `-0 +5`, and how many tokens that takes.
    fn uneven(&self) -> Option<(WrittenTolerance, usize)> {
        let (mut up, mut down) = (None, None);
        let mut at = 0;
        for _ in 0..2 {
            let side = match self.kind(at)? {
                TokenKind::Plus => &mut up,
                TokenKind::Dash => &mut down,
                _ => return None,
            };
            let &TokenKind::Number(amount) = self.kind(at + 1)? else { return None };
            *side = Some(amount);
            at += 2 + usize::from(matches!(self.kind(at + 2), Some(TokenKind::Unit(_))));
            at += usize::from(
                up.is_none() != down.is_none() && matches!(self.kind(at), Some(TokenKind::Slash)),
            );
        }
        Some((WrittenTolerance::Uneven(down?, up?), at))
    }

    /// A tolerance that does not stand right behind its figure.
    pub fn lone_tolerance(&mut self, sign: usize) {
        let Some((tolerance, taken)) = self.tolerance(sign) else {
            return self.ask_here(sign, message!("procedure-say-how-much-after"));
        };
        let end = self.place(self.next_tokens(taken)).end;
        let empty = self.clause.is_empty();
        let before = self.done.list.last_mut().filter(|before| empty && before.group == self.group);
        let figures = before.map_or(&mut self.clause.figures, |before| &mut before.figures);
        match figures.last_mut().filter(|figure| figure.tolerance.is_none() && figure.high.is_none()) {
            Some(figure) => {
                figure.bear(tolerance, end);
                self.claim(self.next_tokens(taken), NumberRole::Tolerance);
                self.at += taken;
            }
            None => self.ask_here(taken, message!("procedure-how-far-off-what-may-stands")),
        }
    }

    /// What is aimed at inside a range that was written before.
    pub fn target(&mut self, taken: usize) {
        let colon = usize::from(self.kind(taken) == Some(&TokenKind::Colon));
        let Some(figure) = self.bare_figure(self.at + taken + colon).filter(|figure| figure.high.is_none())
        else {
            self.at += taken;
            return;
        };
        let group = self.group.clone();
        let empty = self.clause.is_empty();
        let end = self.place(figure.tokens.clone()).end;
        let last = self.done.list.last_mut().filter(|last| empty && last.group == group);
        let figures = last.map_or(&mut self.clause.figures, |last| {
            last.at.end = end;
            &mut last.figures
        });
        let fits = |of: &&mut WrittenFigure| {
            of.high.is_some_and(|high| (of.low..=high).contains(&figure.low))
                && (figure.unit == FigureMeasure::Unsaid || figure.unit == of.unit)
        };
        match figures.last_mut().filter(fits) {
            Some(of) => {
                of.target = Some(figure.low);
                self.claim(figure.tokens.clone(), NumberRole::Figure);
                self.at = figure.tokens.end;
            }
            None => self.at += taken,
        }
    }

    /// What stands in brackets behind a figure: the same in another unit, or its range.
    pub fn bracket(&mut self) {
        let mut depth = 0_usize;
        let close = self.tokens[self.at..].iter().position(|token| {
            match token.kind {
                TokenKind::Open => depth += 1,
                TokenKind::Close => depth -= 1,
                _ => {}
            }
            depth == 0
        });
        let inside = close.map(|close| self.at + 1..self.at + close);
        match inside.and_then(|inside| Some((self.bare_figures(inside.clone())?, inside))) {
            Some((figures, inside)) if !self.clause.figures.is_empty() => {
                if let Err(message) = self.bracketed(&figures) {
                    let place = self.place(self.at..inside.end + 1);
                    self.ask(place, message);
                }
                self.at = inside.end + 1;
            }
            _ => self.at += 1,
        }
    }

    /// Gives figures in brackets to those before them.
    fn bracketed(&mut self, inside: &[BareFigure]) -> Result<(), Message> {
        let count = self.clause.figures.len();
        let Some(first) = count.checked_sub(inside.len()) else { return self.bracketed_list(inside) };
        let mut role = NumberRole::Equivalent;
        for (before, figure) in self.clause.figures[first..].iter_mut().zip(inside) {
            let own = before.unit.unit();
            let other = figure.unit.unit();
            let another = matches!((own, other), (Some(a), Some(b)) if a.symbol != b.symbol && a.dimension == b.dimension);
            let same_unit = figure.unit == FigureMeasure::Unsaid || figure.unit == before.unit;
            let in_base = |value: f64, unit: Option<&Unit>| value * unit.map_or(1.0, |unit| unit.factor);
            let alike = is_same(in_base(before.low, own), in_base(figure.low, other.or(own)))
                && match (before.high, figure.high) {
                    (None, None) => true,
                    (Some(a), Some(b)) => is_same(in_base(a, own), in_base(b, other.or(own))),
                    _ => false,
                };
            match figure.high {
                Some(high) if same_unit && before.high.is_none() && before.tolerance.is_none() => {
                    if !(figure.low..=high).contains(&before.low) {
                        return Err(message!("procedure-range-does-not-hold-figure-before"));
                    }
                    before.target = Some(before.low);
                    (before.low, before.high) = (figure.low, Some(high));
                    role = NumberRole::Tolerance;
                }
                _ if another && alike => {}
                _ if own.is_some() && other.is_some() && same_unit && alike => {}
                _ if another => {
                    let (Some(own), Some(other)) = (own, other) else { return Err(unclear()) };
                    let converted = before.low * own.factor / other.factor;
                    return Err(message!(
                        "procedure-two-figures-disagree",
                        figure = super::write::number(before.low),
                        unit = own.symbol,
                        converted = format!("{converted:.1}"),
                        other = other.symbol
                    ));
                }
                _ => return Err(unclear()),
            }
        }
        for figure in inside {
            self.claim(figure.tokens.clone(), role);
        }
        Ok(())
    }

    /// `24, 48, 71 lbf·ft (33, 65, 96 N·m)`: a list of stages in another unit.
    fn bracketed_list(&mut self, inside: &[BareFigure]) -> Result<(), Message> {
        let of_group = self.done.list.iter().filter(|clause| clause.group == self.group);
        let listed: Vec<&WrittenFigure> =
            of_group.flat_map(|clause| &clause.figures).chain(&self.clause.figures).collect();
        let before = listed.len().checked_sub(inside.len()).map(|first| &listed[first..]);
        let own = self.clause.figures.last().and_then(|figure| figure.unit.unit());
        let agrees = |(before, figure): (&&WrittenFigure, &BareFigure)| {
            let unit = before.unit.unit().or(own);
            unit.zip(figure.unit.unit()).is_some_and(|(unit, other)| {
                unit.dimension == other.dimension
                    && is_same(before.low * unit.factor, figure.low * other.factor)
            }) && before.high.is_none()
                && figure.high.is_none()
        };
        if !before.is_some_and(|before| before.iter().zip(inside).all(agrees)) {
            return Err(unclear());
        }
        for figure in inside {
            self.claim(figure.tokens.clone(), NumberRole::Equivalent);
        }
        Ok(())
    }

    /// Tokens that are figures and nothing else: one, a range, or a list.
    fn bare_figures(&self, inside: Range<usize>) -> Option<Vec<BareFigure>> {
        let mut at = inside.start;
        if self.tokens.get(at).is_some_and(|token| token.kind.is_word("or") || token.kind == TokenKind::Other)
        {
            at += 1;
        }
        let mut figures: Vec<BareFigure> = Vec::new();
        loop {
            let figure = self.bare_figure(at).filter(|figure| figure.tokens.end <= inside.end)?;
            at = figure.tokens.end;
            figures.push(figure);
            if at == inside.end {
                break;
            }
            if !matches!(
                self.tokens[at].kind,
                TokenKind::Comma | TokenKind::Dash | TokenKind::Slash | TokenKind::Arrow
            ) {
                return None;
            }
            at += 1;
        }
        let last = figures.last()?.unit;
        for figure in &mut figures {
            if figure.unit == FigureMeasure::Unsaid {
                figure.unit = last;
            }
        }
        Some(figures)
    }

    /// One figure that begins here, or two with a range between them, with its unit.
    pub fn bare_figure(&self, at: usize) -> Option<BareFigure> {
        let degree = || unit("°").map(FigureMeasure::In);
        if let Some((PhraseMeaning::Degrees(degrees), taken)) = meaning(&self.tokens, at) {
            return Some(BareFigure { low: degrees, high: None, unit: degree()?, tokens: at..at + taken });
        }
        let (value, taken) = match self.tokens.get(at)?.kind {
            TokenKind::Number(value) => match self.decimal_comma(value, at) {
                Some(Comma::Decimal(value)) => (value, 3),
                Some(Comma::Unclear) => return None,
                None => (value, 1),
            },
            TokenKind::Fraction(value) => (value, 1),
            _ => return None,
        };
        if let Some((of @ (PhraseMeaning::Turn | PhraseMeaning::Flats | PhraseMeaning::Points), more)) =
            meaning(&self.tokens, at + taken)
        {
            let low = degrees_of(value, of);
            return Some(BareFigure { low, high: None, unit: degree()?, tokens: at..at + taken + more });
        }
        let low = self.with_unit(value, at..at + taken);
        let end = low.tokens.end;
        let ranged = self
            .tokens
            .get(end)
            .is_some_and(|token| token.kind == TokenKind::Dash || token.kind.is_word("to"));
        if ranged && let Some(&TokenKind::Number(second)) = self.tokens.get(end + 1).map(|token| &token.kind)
        {
            let high = self.with_unit(second, end + 1..end + 2);
            let goes_on = self.tokens.get(high.tokens.end).is_some_and(|token| token.kind == TokenKind::Dash);
            let one_unit = low.unit == FigureMeasure::Unsaid || low.unit == high.unit;
            if second >= low.low && !goes_on && one_unit {
                return Some(BareFigure {
                    low: low.low,
                    high: Some(second),
                    unit: high.unit,
                    tokens: at..high.tokens.end,
                });
            }
        }
        Some(low)
    }

    /// A comma between digits is a decimal mark only where a list makes no sense.
    fn decimal_comma(&self, first: f64, at: usize) -> Option<Comma> {
        let tight = |ahead: usize| self.tokens.get(at + ahead).is_some_and(|token| token.tight);
        let kind = |ahead: usize| self.tokens.get(at + ahead).map(|token| &token.kind);
        let (Some(TokenKind::Comma), Some(&TokenKind::Number(second))) = (kind(1), kind(2)) else {
            return None;
        };
        if !tight(1) || !tight(2) || first.fract() != 0.0 || second.fract() != 0.0 {
            return None;
        }
        let listed = |at: usize| {
            self.tokens.get(at).is_some_and(|token| token.kind == TokenKind::Comma && token.tight)
                && self.tokens.get(at + 1).is_some_and(|token| token.kind.is_number() && token.tight)
        };
        // A list that goes on is a list.
        if listed(at + 3) || (at >= 2 && listed(at - 1)) {
            return None;
        }
        let digits = &self.text[self.tokens[at + 2].at.clone()];
        let joined = format!("{}.{digits}", &self.text[self.tokens[at].at.clone()]).parse::<f64>().ok()?;
        let dimension = match kind(3) {
            Some(TokenKind::Unit(unit)) => Some(unit.dimension),
            _ => None,
        };
        let as_list = match dimension {
            Some(Dimension::Length) => false,
            Some(Dimension::Angle) => first > 0.0 && second > 0.0,
            _ => first > 0.0 && second > first,
        } && !digits.starts_with('0');
        Some(if as_list { Comma::Unclear } else { Comma::Decimal(joined) })
    }

    fn ask_about_comma(&mut self, first: f64) {
        let [whole, part] = [0, 2].map(|ahead| self.words(self.at + ahead..self.at + ahead + 1).to_owned());
        self.ask_here(
            3,
            message!("procedure-can-then-or-write-space-after", first = first.to_string(), part, whole),
        );
        // What it was given in goes with it.
        self.at += usize::from(matches!(self.kind(0), Some(TokenKind::Unit(_))));
    }
}

/// What a comma between digits is.
enum Comma {
    Decimal(f64),
    /// A decimal mark, or the comma of a list.
    Unclear,
}

impl WrittenFigure {
    /// How far off it may be; `40 ± 3 N·m` gives both in one unit.
    fn bear(&mut self, tolerance: WrittenTolerance, end: usize) {
        self.at.end = end;
        self.tolerance = Some(tolerance);
        if let (FigureMeasure::Unsaid, WrittenTolerance::Amount(amount, Some(unit))) = (self.unit, tolerance)
        {
            self.unit = FigureMeasure::In(unit);
            self.tolerance = Some(WrittenTolerance::Amount(amount, None));
        }
    }
}

fn is_same(one: f64, other: f64) -> bool {
    (one - other).abs() <= SAME * one.abs().max(other.abs())
}

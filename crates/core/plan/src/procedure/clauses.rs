//! A line in clauses: what stands between two marks that part stages.

use super::phrase::{PhraseMeaning, meaning};
use super::token::{LineToken, TokenKind, tokens};
use super::written::{FigureMeasure, FigureUse, LineClause, LineClauses};
use super::{LineQuestion, NumberClaim, NumberRole};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use std::ops::Range;

/// The most a stage may be repeated, and steps it may be parted into.
pub(super) const MAX_TIMES: u32 = 12;

/// Reads a line clause after clause.
pub(super) struct ClauseParser<'a> {
    pub text: &'a str,
    pub tokens: Vec<LineToken>,
    /// The token in hand.
    pub at: usize,
    /// The first token of the clause in hand.
    pub start: usize,
    /// The clause in hand.
    pub clause: LineClause,
    pub group: Option<String>,
    /// What the next figure is for, where that was said before it.
    pub next_use: Option<FigureUse>,
    /// Whether words stand between the last figure and here that end a list.
    pub list_ended: bool,
    pub done: LineClauses,
    /// The number of the last step that had one.
    step: u32,
}

/// Reads all of a line.
pub(super) fn clauses(text: &str) -> LineClauses {
    let mut parser = ClauseParser {
        text,
        tokens: tokens(text),
        at: 0,
        start: 0,
        clause: LineClause::default(),
        group: None,
        next_use: None,
        list_ended: false,
        done: LineClauses::default(),
        step: 0,
    };
    while parser.at < parser.tokens.len() {
        let at = parser.at;
        parser.next();
        if parser.at == at {
            parser.ask_here(1, message!("procedure-was-not-understood-here"));
        }
    }
    parser.end_clause(false);
    parser.ask_about_the_rest();
    parser.done
}

impl ClauseParser<'_> {
    pub fn kind(&self, ahead: usize) -> Option<&TokenKind> {
        self.tokens.get(self.at + ahead).map(|token| &token.kind)
    }

    pub fn meaning(&self, ahead: usize) -> Option<(PhraseMeaning, usize)> {
        meaning(&self.tokens, self.at + ahead)
    }

    /// Where some tokens stand in the text.
    pub fn place(&self, tokens: Range<usize>) -> Range<usize> {
        self.tokens[tokens.start].at.start..self.tokens[tokens.end - 1].at.end
    }

    /// The tokens from the one in hand on.
    pub const fn next_tokens(&self, taken: usize) -> Range<usize> {
        self.at..self.at + taken
    }

    pub fn words(&self, tokens: Range<usize>) -> &str {
        &self.text[self.place(tokens)]
    }

    pub fn ask(&mut self, at: Range<usize>, message: impl Into<Message>) {
        self.done.questions.push(LineQuestion { at, message: message.into() });
    }

    /// Asks about some tokens and goes past them; the message holds their words.
    pub fn ask_here(&mut self, taken: usize, message: Message) {
        let at = self.place(self.next_tokens(taken));
        let message = message.holding("words", &self.text[at.clone()]);
        self.ask(at, message);
        self.list_ended = true;
        self.at += taken;
    }

    /// Gives the numbers among some tokens their role.
    pub fn claim(&mut self, tokens: Range<usize>, role: NumberRole) {
        for token in &self.tokens[tokens] {
            if token.kind.is_number() || token.kind == TokenKind::Thread {
                self.done.numbers.push(NumberClaim { at: token.at.clone(), role });
            }
        }
    }

    /// Every number has a role, or is in a question.
    fn ask_about_the_rest(&mut self) {
        let tokens = std::mem::take(&mut self.tokens);
        for token in tokens.iter().filter(|token| token.kind.is_number() || token.kind == TokenKind::Thread) {
            let has_role = self.done.numbers.iter().any(|claim| claim.at == token.at);
            let asked =
                self.done.questions.iter().any(|q| q.at.start <= token.at.start && q.at.end >= token.at.end);
            if !has_role && !asked {
                let words = &self.text[token.at.clone()];
                self.ask(token.at.clone(), message!("procedure-what-stands-for-nothing-known-here", words));
            }
        }
        self.done.numbers.sort_by_key(|claim| claim.at.start);
    }

    pub fn end_clause(&mut self, then: bool) {
        let then_before = std::mem::take(&mut self.clause.after_then);
        let mut clause = std::mem::take(&mut self.clause);
        self.clause.after_then = then || (clause.is_empty() && then_before);
        if !clause.is_empty() {
            let last = self.tokens[..self.at].last().map_or(self.text.len(), |token| token.at.end);
            clause.at = self.tokens[self.start].at.start..last;
            clause.group.clone_from(&self.group);
            clause.after_then = then_before;
            self.done.list.push(clause);
        }
    }

    /// Goes past the mark that ends a clause.
    pub fn part(&mut self, taken: usize, then: bool) {
        self.end_clause(then);
        self.at += taken;
        self.start = self.at;
    }

    fn next(&mut self) {
        if self.label() || self.bare_label() {
            return;
        }
        match self.tokens[self.at].kind.clone() {
            TokenKind::Number(value) => self.number(value),
            TokenKind::Fraction(value) => self.fraction(value),
            TokenKind::Quoted(text) => self.action(text),
            TokenKind::Dash if self.clause.is_empty() => self.at += 1,
            TokenKind::Open => self.bracket(),
            TokenKind::Close | TokenKind::Colon => self.at += 1,
            TokenKind::Comma
            | TokenKind::Semicolon
            | TokenKind::LineBreak
            | TokenKind::Dot
            | TokenKind::Dash => {
                self.part(1, false);
            }
            TokenKind::Plus | TokenKind::Arrow => self.part(1, true),
            TokenKind::PlusMinus => self.lone_tolerance(1),
            TokenKind::Word(word) if word == "x" => self.multiplied(),
            TokenKind::Word(_) => self.word(),
            TokenKind::Thread => {
                self.ask_here(1, message!("procedure-say-what-for-before-figure-as"));
            }
            TokenKind::Slash
                if !self.clause.figures.is_empty() && self.kind(1).is_some_and(TokenKind::is_number) =>
            {
                self.part(1, true);
            }
            TokenKind::Unit(unit) if self.takes_unit() => {
                if let Some(figure) = self.clause.figures.last_mut() {
                    figure.unit = FigureMeasure::In(unit);
                }
                self.at += 1;
            }
            TokenKind::Unit(_) | TokenKind::Percent | TokenKind::Slash | TokenKind::Other => {
                self.ask_here(1, message!("procedure-was-not-understood-here"));
            }
        }
    }

    /// Whether a unit behind brackets is that of the figure before them: `42 (38-44) N·m`.
    fn takes_unit(&self) -> bool {
        let last = self.clause.figures.last();
        self.at > 0
            && self.tokens[self.at - 1].kind == TokenKind::Close
            && last.is_some_and(|figure| figure.unit == FigureMeasure::Unsaid && figure.target.is_some())
    }

    /// A text in quotation marks is something to do between two stages.
    fn action(&mut self, text: Range<usize>) {
        self.end_clause(true);
        self.start = self.at;
        self.clause.action = Some(self.text[text].trim().to_owned());
        self.at += 1;
        self.end_clause(true);
        self.start = self.at;
        self.list_ended = true;
    }

    /// `x 2` repeats what stands before it.
    fn multiplied(&mut self) {
        match self.kind(1) {
            Some(TokenKind::Number(times)) if !self.clause.figures.is_empty() => {
                let times = *times;
                self.repeat(times, 2);
            }
            _ => self.ask_here(1, message!("procedure-was-not-understood-here-say-how")),
        }
    }

    pub fn repeat(&mut self, times: f64, taken: usize) {
        self.claim(self.next_tokens(taken), NumberRole::Count);
        match whole(times) {
            Some(times) => self.mark(PhraseMeaning::Times(times), taken),
            None => self.ask_here(taken, message!("procedure-can-said-1-times", most = MAX_TIMES)),
        }
    }

    pub fn mark(&mut self, meaning: PhraseMeaning, taken: usize) {
        self.list_ended |= !meaning.continues_list();
        self.clause.marks.push(meaning);
        self.at += taken;
    }

    fn word(&mut self) {
        let Some((meaning, taken)) = self.meaning(0) else {
            return self.ask_here(1, message!("procedure-was-not-understood"));
        };
        match meaning {
            PhraseMeaning::Then => self.part(taken, true),
            PhraseMeaning::And => self.part(taken, false),
            PhraseMeaning::Filler
            | PhraseMeaning::To
            | PhraseMeaning::Turn
            | PhraseMeaning::Flats
            | PhraseMeaning::Points => {
                self.at += taken;
            }
            PhraseMeaning::Fasteners => self.fasteners(taken),
            PhraseMeaning::InOrder => self.in_order(taken),
            PhraseMeaning::Within => self.lone_tolerance(taken),
            PhraseMeaning::Limit | PhraseMeaning::AtLeast | PhraseMeaning::About => {
                self.bound(meaning, taken);
            }
            PhraseMeaning::Target => self.target(taken),
            PhraseMeaning::Skins => self.time_for(FigureUse::Skins, taken),
            PhraseMeaning::Cures => self.time_for(FigureUse::Cures, taken),
            PhraseMeaning::Step | PhraseMeaning::Numbered => self.step(meaning, taken),
            PhraseMeaning::Class => self.strength_class(taken),
            PhraseMeaning::Degrees(degrees) => self.degrees(degrees, taken),
            PhraseMeaning::Number(number) => self.number_word(number, taken),
            PhraseMeaning::Passes => self.ask_here(taken, message!("procedure-how-many-say-as-3-equal")),
            PhraseMeaning::Swings if self.clause.times().is_some() => self.at += taken,
            PhraseMeaning::Swings => self.ask_here(taken, message!("procedure-how-many-say-as-two-pulls")),
            PhraseMeaning::Pounds => self.ask_here(taken, message!("procedure-what-lbf-ft-or-lbf")),
            meaning => self.mark(meaning, taken),
        }
    }

    /// What a time that follows is for.
    fn time_for(&mut self, of: FigureUse, taken: usize) {
        self.list_ended = true;
        self.next_use = Some(of);
        self.at += taken;
    }

    /// What is written of a figure before or behind it: that it is not passed, or no more than a hint.
    fn bound(&mut self, meaning: PhraseMeaning, taken: usize) {
        let of = match meaning {
            PhraseMeaning::AtLeast => FigureUse::AtLeast,
            PhraseMeaning::About => FigureUse::About,
            _ => FigureUse::NotOver,
        };
        let mut after = taken;
        while matches!(self.kind(after), Some(TokenKind::Colon | TokenKind::Dot))
            || self.meaning(after).is_some_and(|(next, _)| {
                matches!(next, PhraseMeaning::Filler | PhraseMeaning::Of | PhraseMeaning::To)
            })
        {
            after += 1;
        }
        if self.kind(after).is_some_and(TokenKind::is_number) {
            self.next_use = Some(of);
            self.at += after;
        } else if let Some(figure) =
            self.clause.figures.last_mut().filter(|figure| figure.used == FigureUse::Stage)
        {
            figure.used = of;
            figure.bound_after = true;
            self.at += taken;
        } else if meaning == PhraseMeaning::About {
            self.at += taken;
        } else {
            self.ask_here(taken, message!("procedure-what-say-torque-such-as-not"));
        }
    }

    fn step(&mut self, meaning: PhraseMeaning, taken: usize) {
        // A numbered step begins a new stage.
        if self.at != self.start {
            self.part(0, true);
        }
        self.at += taken;
        if meaning == PhraseMeaning::Numbered {
            self.step_number();
        }
        self.start = self.at;
    }

    /// The number behind "step". A figure may stand there as well: it is the number where that is marked, or counts
    /// up from the last one.
    fn step_number(&mut self) {
        if let Some((PhraseMeaning::Number(_), taken)) = self.meaning(0) {
            self.at += taken;
            return;
        }
        let Some(&TokenKind::Number(value)) = self.kind(0) else { return };
        let Some(number) = whole(value) else { return };
        let spaced_dash = self.kind(1) == Some(&TokenKind::Dash) && !self.tokens[self.at + 1].tight;
        let marked = match self.kind(1) {
            Some(
                TokenKind::Colon | TokenKind::Dot | TokenKind::Close | TokenKind::Number(_) | TokenKind::Open,
            ) => true,
            Some(TokenKind::Word(_)) => {
                let next = self.meaning(1).map(|(next, _)| next);
                let belongs = [
                    PhraseMeaning::To,
                    PhraseMeaning::And,
                    PhraseMeaning::Passes,
                    PhraseMeaning::Turn,
                    PhraseMeaning::Flats,
                    PhraseMeaning::Points,
                ];
                !next.is_some_and(|next| belongs.contains(&next))
            }
            _ => spaced_dash,
        };
        let figure = matches!(
            self.kind(1),
            Some(
                TokenKind::Unit(_)
                    | TokenKind::Percent
                    | TokenKind::Dash
                    | TokenKind::Slash
                    | TokenKind::Arrow
                    | TokenKind::PlusMinus
            )
        );
        if marked || (!figure && number == self.step + 1) {
            self.step = number;
            self.claim(self.next_tokens(1), NumberRole::StepNumber);
            self.at += 1 + usize::from(spaced_dash);
        }
    }

    /// Whether a number is the one of the step that comes next.
    fn counts_up(&self, value: f64) -> bool {
        self.step > 0 && whole(value) == Some(self.step + 1)
    }

    /// `1.`, `2:`, `3)` or `1st` begins a step; whether one stands here, and how many tokens it takes.
    pub fn numbered(&mut self, value: f64) -> bool {
        let before = self.at.checked_sub(1).map(|before| &self.tokens[before].kind);
        let tight = self.tokens.get(self.at + 1).is_some_and(|token| token.tight);
        let is_step = match self.kind(1) {
            Some(TokenKind::Dot) => tight && (self.at == self.start || self.counts_up(value)),
            Some(TokenKind::Colon) => self.at == self.start,
            Some(TokenKind::Close) => tight && before != Some(&TokenKind::Open),
            Some(TokenKind::Word(word)) => tight && ORDINALS.contains(&word.as_str()),
            _ => false,
        };
        let Some(number) = whole(value).filter(|_| is_step && self.kind(2).is_some()) else { return false };
        if self.at != self.start {
            self.part(0, true);
        }
        self.claim(self.next_tokens(1), NumberRole::StepNumber);
        self.step = number;
        self.at += 2;
        self.start = self.at;
        true
    }
}

pub(super) const ORDINALS: [&str; 4] = ["st", "nd", "rd", "th"];

/// A small whole number: of steps, of times.
pub(super) fn whole(number: f64) -> Option<u32> {
    (1..=MAX_TIMES).find(|n| (f64::from(*n) - number).abs() < f64::EPSILON)
}

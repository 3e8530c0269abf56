//! Numbers that count: passes, pulls, times, fasteners.

use super::NumberRole;
use super::clauses::{ClauseParser, MAX_TIMES, whole};
use super::figures::degrees_of;
use super::phrase::PhraseMeaning;
use super::token::TokenKind;
use super::written::{FigureMeasure, StageCount};
use rigore_mechanics::message;

impl ClauseParser<'_> {
    /// What a number counts, where it counts something; goes past it.
    pub fn counts(&mut self, number: f64, taken: usize) -> bool {
        if matches!(self.kind(taken), Some(word) if word.is_word("times"))
            || (matches!(self.kind(taken), Some(word) if word.is_word("x")) && self.clause.figures.is_empty())
        {
            self.repeat(number, taken + 1);
            return true;
        }
        let Some((meaning, more)) = self.meaning(taken) else {
            return self.counts_named_fasteners(number, taken);
        };
        match meaning {
            PhraseMeaning::Passes => self.count(number, false, taken + more),
            // "in two turns" parts an angle; "two turns" is one.
            PhraseMeaning::Swings => self.count(number, true, taken + more),
            PhraseMeaning::Turn if self.stands_after("in") => self.count(number, true, taken + more),
            PhraseMeaning::Turn | PhraseMeaning::Flats | PhraseMeaning::Points => {
                self.degrees(degrees_of(number, meaning), taken + more);
            }
            PhraseMeaning::Fasteners => {
                self.claim(self.next_tokens(taken), NumberRole::Count);
                self.at += taken;
            }
            _ => return false,
        }
        true
    }

    /// `16 head bolts`: so many of something.
    fn counts_named_fasteners(&mut self, number: f64, taken: usize) -> bool {
        let word = matches!(self.kind(taken), Some(TokenKind::Word(_)));
        let named = word
            && number.fract() == 0.0
            && matches!(self.meaning(taken + 1), Some((PhraseMeaning::Fasteners, _)));
        if named {
            self.claim(self.next_tokens(taken), NumberRole::Count);
            self.at += taken;
        }
        named
    }

    pub fn number_word(&mut self, number: u32, taken: usize) {
        if self.counts(f64::from(number), taken) {
            return;
        }
        // "two 90° turns"
        match self.kind(taken) {
            Some(TokenKind::Number(_) | TokenKind::Fraction(_)) => {
                self.mark(PhraseMeaning::Times(number), taken);
            }
            _ => self.ask_here(taken, message!("procedure-what")),
        }
    }

    fn stands_after(&self, word: &str) -> bool {
        self.at.checked_sub(1).is_some_and(|before| self.tokens[before].kind.is_word(word))
    }

    fn count(&mut self, number: f64, swings: bool, taken: usize) {
        let tokens = self.next_tokens(taken);
        let at = self.place(tokens.clone());
        self.claim(tokens, NumberRole::Count);
        let Some(number) = whole(number).filter(|_| self.clause.count.is_none()) else {
            return self.ask_here(taken, message!("procedure-one-count-1-can-said", most = MAX_TIMES));
        };
        self.at += taken;
        let mut of = None;
        if let Some((PhraseMeaning::Of, more)) = self.meaning(0)
            && let Some(figure) =
                self.bare_figure(self.at + more).filter(|figure| figure.unit != FigureMeasure::Unsaid)
        {
            let end = figure.tokens.end;
            self.claim(figure.tokens.clone(), NumberRole::Figure);
            of = Some(figure.written(self));
            self.at = end;
        }
        let to = matches!(self.meaning(0), Some((PhraseMeaning::To, _)));
        self.clause.count = Some(StageCount { number, swings, to, of, at });
    }
}

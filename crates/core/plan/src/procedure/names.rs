//! Numbers and words that name what is tightened: groups, fasteners, threads.

use super::clauses::{ClauseParser, ORDINALS};
use super::phrase::{PhraseMeaning, meaning};
use super::token::{LineToken, TokenKind};
use super::{LineOrder, NumberRole};
use rigore_mechanics::message;
use std::ops::Range;

/// The most tokens of a group's name, with its colon.
const LONGEST_NAME: usize = 40;
/// Strength classes of bolts (ISO 898-1), which may name them.
const CLASSES: [f64; 4] = [8.8, 9.8, 10.9, 12.9];
/// The most fasteners a name may give by number.
const MOST_FASTENERS: f64 = 400.0;

impl ClauseParser<'_> {
    /// A group's name with its colon; goes past it.
    pub fn label(&mut self) -> bool {
        if self.at != self.start {
            return false;
        }
        let rest = &self.tokens[self.at..];
        let Some(colon) = rest.iter().take(LONGEST_NAME).position(|token| token.kind == TokenKind::Colon)
        else {
            return false;
        };
        let ends_before = |token: &LineToken| {
            use TokenKind::{LineBreak, Percent, Plus, PlusMinus, Quoted, Semicolon, Unit};
            matches!(token.kind, Semicolon | LineBreak | Plus | PlusMinus | Percent | Unit(_) | Quoted(_))
        };
        let name = self.at..self.at + colon;
        if colon == 0 || rest[..colon].iter().any(ends_before) || !self.is_name(name.clone()) {
            return false;
        }
        self.claim_name(name.clone());
        let words = self.words(name).split_whitespace().collect::<Vec<_>>().join(" ");
        self.at += colon;
        self.part(1, true);
        self.group = Some(words);
        self.list_ended = true;
        true
    }

    /// Whether tokens before a colon name something, and are no words that say something by themselves.
    fn is_name(&self, name: Range<usize>) -> bool {
        let tokens = &self.tokens[..name.end];
        let (mut unknown, mut nouns, mut others, mut all) = (false, false, false, false);
        let mut at = name.start;
        while at < name.end {
            match (&tokens[at].kind, meaning(tokens, at)) {
                (_, Some((PhraseMeaning::Then, _))) => return false,
                (_, Some((PhraseMeaning::Fasteners, taken))) => {
                    nouns = true;
                    at += taken;
                    if let Some(end) = self.fastener_list(at).filter(|end| *end <= name.end) {
                        unknown = true;
                        at = end;
                    }
                    continue;
                }
                (_, Some((meaning, taken))) => {
                    all |= tokens[at].kind.is_word("all") || tokens[at].kind.is_word("both");
                    others |= !matches!(meaning, PhraseMeaning::Filler | PhraseMeaning::Class);
                    at += taken;
                    continue;
                }
                (TokenKind::Comma, _) if !unknown => return false,
                (TokenKind::Word(word), None) => unknown |= !ORDINALS.contains(&word.as_str()),
                (TokenKind::Thread, _) => unknown = true,
                (TokenKind::Fraction(_), _) => unknown |= !others,
                // "10 bolts" counts them, and names nothing.
                (TokenKind::Number(_), _)
                    if matches!(meaning(tokens, at + 1), Some((PhraseMeaning::Fasteners, _)))
                        && !self.sizes_a_noun(at) =>
                {
                    others = true;
                }
                (TokenKind::Number(value), _) => {
                    unknown |= CLASSES.iter().any(|class| (class - value).abs() < 1e-9);
                }
                _ => {}
            }
            at += 1;
        }
        unknown || ((nouns || all) && !others)
    }

    /// Gives the numbers of a name their roles.
    fn claim_name(&mut self, name: Range<usize>) {
        let mut at = name.start;
        while at < name.end {
            let fasteners = matches!(meaning(&self.tokens, at), Some((PhraseMeaning::Fasteners, 1)));
            if fasteners && let Some(end) = self.fastener_list(at + 1).filter(|end| *end <= name.end) {
                self.claim(at + 1..end, NumberRole::Fastener);
                at = end;
                continue;
            }
            match self.tokens[at].kind {
                TokenKind::Thread | TokenKind::Fraction(_) => self.claim(at..at + 1, NumberRole::Thread),
                TokenKind::Number(value) if CLASSES.iter().any(|class| (class - value).abs() < 1e-9) => {
                    self.claim(at..at + 1, NumberRole::Thread);
                }
                TokenKind::Number(value) if self.counts_a_noun(at, name.end) && value.fract() == 0.0 => {
                    self.claim(at..at + 1, NumberRole::Count);
                }
                TokenKind::Number(_) if self.is_fastener_name(at) => {
                    self.claim(at..at + 1, NumberRole::Fastener);
                }
                _ => {}
            }
            at += 1;
        }
    }

    /// Whether a number stands before what it counts: `4 centre bolts`.
    fn counts_a_noun(&self, number: usize, end: usize) -> bool {
        let words = self.tokens[number + 1..end].iter();
        let words = words.take_while(|token| matches!(token.kind, TokenKind::Word(_))).count();
        (1..=words)
            .any(|ahead| matches!(meaning(&self.tokens, number + ahead), Some((PhraseMeaning::Fasteners, _))))
    }

    /// A group's name before its figure, without a colon: `inner 18 ft-lb`, `tighten bolts 1-8 to 58 ft-lb`; goes
    /// past it.
    pub fn bare_label(&mut self) -> bool {
        if self.at != self.start {
            return false;
        }
        let Some(name) = self.bare_name() else { return false };
        self.claim_name(self.at..name.end);
        self.group = Some(self.words(name.clone()).split_whitespace().collect::<Vec<_>>().join(" "));
        self.at = name.end;
        self.start = self.at;
        self.clause.after_then = true;
        self.list_ended = true;
        true
    }

    fn bare_name(&self) -> Option<Range<usize>> {
        let mut at = self.at;
        let mut name: Option<Range<usize>> = None;
        let (mut names_something, mut by_number) = (false, false);
        while let Some(token) = self.tokens.get(at) {
            let extend =
                |name: Option<Range<usize>>, end: usize| Some(name.map_or(at, |name| name.start)..end);
            match (&token.kind, meaning(&self.tokens, at)) {
                (_, Some((PhraseMeaning::Fasteners, taken))) => {
                    let mut end = at + taken;
                    if let Some(list) = self.fastener_list(end) {
                        (names_something, by_number) = (true, true);
                        end = list;
                    }
                    name = extend(name, end);
                    at = end;
                }
                (_, Some((PhraseMeaning::Filler, taken))) if name.is_none() => at += taken,
                (TokenKind::Word(word), None) if word != "x" && !ORDINALS.contains(&word.as_str()) => {
                    names_something = true;
                    name = extend(name, at + 1);
                    at += 1;
                }
                (TokenKind::Thread, _) => {
                    names_something = true;
                    name = extend(name, at + 1);
                    at += 1;
                }
                (TokenKind::Fraction(_) | TokenKind::Number(_), _) if self.sizes_a_noun(at) => {
                    names_something = true;
                    name = extend(name, at + 1);
                    at += 1;
                }
                (TokenKind::Number(value), _)
                    if value.fract() == 0.0
                        && self.counts_a_noun(at, self.tokens.len())
                        && name.is_none() =>
                {
                    at += 1;
                }
                _ => break,
            }
        }
        let name = name.filter(|_| names_something)?;
        let follows = match (&self.tokens.get(at)?.kind, meaning(&self.tokens, at)) {
            (TokenKind::Number(_) | TokenKind::Fraction(_), _) => true,
            (TokenKind::Comma | TokenKind::Dash, _) => {
                by_number && self.tokens.get(at + 1).is_some_and(|next| next.kind.is_number())
            }
            (_, Some((meaning, taken))) => {
                !matches!(
                    meaning,
                    PhraseMeaning::Then | PhraseMeaning::And | PhraseMeaning::Filler | PhraseMeaning::To
                ) || (meaning != PhraseMeaning::And
                    && meaning != PhraseMeaning::Then
                    && self.tokens.get(at + taken).is_some_and(|next| next.kind.is_number()))
            }
            _ => false,
        };
        follows.then_some(name)
    }

    /// Whether a fraction or a strength class stands before the fasteners that have it: `3/8 bolts`, `12.9 bolts`.
    fn sizes_a_noun(&self, at: usize) -> bool {
        let before_noun = matches!(meaning(&self.tokens, at + 1), Some((PhraseMeaning::Fasteners, _)));
        match self.tokens[at].kind {
            TokenKind::Fraction(_) => before_noun,
            TokenKind::Number(value) => {
                before_noun && CLASSES.iter().any(|class| (class - value).abs() < 1e-9)
            }
            _ => false,
        }
    }

    /// Fasteners in the middle of a clause: their numbers belong before the figure.
    pub fn fasteners(&mut self, taken: usize) {
        self.at += taken;
        match self.numbered_list(self.at) {
            Some((end, true)) => {
                let taken = end - self.at;
                self.ask_here(taken, message!("procedure-say-which-fasteners-before-their-figure"));
            }
            Some((end, false)) => {
                let taken = end - self.at;
                self.ask_here(taken, message!("procedure-these-fasteners-or-torques-write-fasteners"));
            }
            None => {}
        }
    }

    pub fn strength_class(&mut self, taken: usize) {
        self.at += taken;
        if let Some(TokenKind::Number(_)) = self.kind(0)
            && !matches!(self.kind(1), Some(TokenKind::Unit(_)))
        {
            self.claim(self.next_tokens(1), NumberRole::Thread);
            self.at += 1;
        }
    }

    /// The name of one fastener: a number, with letters right before or behind it.
    fn is_fastener_name(&self, at: usize) -> bool {
        let Some(TokenKind::Number(value)) = self.tokens.get(at).map(|token| &token.kind) else {
            return false;
        };
        let measured = matches!(
            self.tokens.get(at + 1).map(|token| &token.kind),
            Some(TokenKind::Unit(_) | TokenKind::Percent | TokenKind::PlusMinus)
        );
        value.fract() == 0.0 && *value <= MOST_FASTENERS && !measured
    }

    /// Where one fastener's name that begins here ends.
    fn fastener_name(&self, at: usize) -> Option<usize> {
        let short = |token: &LineToken| matches!(&token.kind, TokenKind::Word(word) if word.len() <= 2 && word != "x");
        let tight = |at: usize| self.tokens.get(at).is_some_and(|token| token.tight);
        if short(self.tokens.get(at)?) && tight(at + 1) && self.is_fastener_name(at + 1) {
            return Some(at + 2);
        }
        if !self.is_fastener_name(at) {
            return None;
        }
        let letters = tight(at + 1) && self.tokens.get(at + 1).is_some_and(short);
        let ordinal = matches!(self.tokens.get(at + 1).map(|token| &token.kind), Some(TokenKind::Word(word)) if ORDINALS.contains(&word.as_str()));
        Some(at + 1 + usize::from(letters && !ordinal))
    }

    /// Where a list of fasteners by number that begins here ends: `1-8`, `1, 3 and 5`, `1 to 8`.
    fn fastener_list(&self, from: usize) -> Option<usize> {
        self.numbered_list(from).filter(|(_, certain)| *certain).map(|(end, _)| end)
    }

    /// Where such a list ends, and whether it is certain that it is no list of torques.
    fn numbered_list(&self, from: usize) -> Option<(usize, bool)> {
        let mut end = self.fastener_name(from)?;
        loop {
            let joint = match (self.tokens.get(end).map(|token| &token.kind), meaning(&self.tokens, end)) {
                (Some(TokenKind::Comma | TokenKind::Dash | TokenKind::Plus | TokenKind::Slash), _) => 1,
                (Some(TokenKind::Word(word)), _)
                    if matches!(word.as_str(), "to" | "through" | "thru" | "and") =>
                {
                    1
                }
                _ => break,
            };
            let Some(next) = self.fastener_name(end + joint) else { break };
            end = next;
        }
        // A list that runs on into a figure may be torques as well.
        let runs_on = matches!(
            self.tokens.get(end).map(|token| &token.kind),
            Some(TokenKind::Comma | TokenKind::Dash | TokenKind::Slash)
        ) && self.tokens.get(end + 1).is_some_and(|token| token.kind.is_number());
        let plain_list = (from..end).any(|at| self.tokens[at].kind == TokenKind::Comma) || end == from + 1;
        Some((end, !(runs_on && plain_list)))
    }

    /// The fasteners behind "in the order", which are the order; without any, the words say nothing.
    pub fn in_order(&mut self, taken: usize) {
        let mut at = self.at + taken;
        if self.tokens.get(at).is_some_and(|token| token.kind == TokenKind::Colon) {
            at += 1;
        }
        if matches!(meaning(&self.tokens, at), Some((PhraseMeaning::Fasteners, _))) {
            at += 1;
        }
        let (names, end, certain) = self.order_list(at);
        if names.len() < 2 {
            self.at += taken;
            return;
        }
        let mut unique = names.clone();
        unique.sort();
        unique.dedup();
        if unique.len() < names.len() {
            let taken = end - self.at;
            return self.ask_here(taken, message!("procedure-fastener-comes-twice-this-order"));
        }
        if !certain {
            let taken = end - self.at;
            return self.ask_here(taken, message!("procedure-where-does-order-end-write-colon"));
        }
        self.claim(at..end, NumberRole::Fastener);
        self.list_ended = true;
        if self.done.order.replace(LineOrder::Listed(names)).is_some() {
            let place = self.place(self.at..end);
            self.ask(place, message!("procedure-another-order-was-said-before-line"));
        }
        self.at = end;
    }

    /// The names of an order, where it ends, and whether that is certain. A list `1 2 3 4, 20, 40 N·m` goes as far as it is an order.
    fn order_list(&self, from: usize) -> (Vec<String>, usize, bool) {
        let mut names: Vec<(String, usize)> = Vec::new();
        let mut at = from;
        while let Some(end) = self.fastener_name(at) {
            names.push((self.text[self.place(at..end)].to_owned(), end));
            at = end;
            let joint = match self.tokens.get(at).map(|token| &token.kind) {
                Some(TokenKind::Comma | TokenKind::Dash | TokenKind::Slash | TokenKind::Arrow) => 1,
                Some(TokenKind::Word(word)) if word == "and" || word == "then" => 1,
                _ => 0,
            };
            if self.fastener_name(at + joint).is_none() {
                break;
            }
            at += joint;
        }
        if names.is_empty() {
            return (Vec::new(), from, true);
        }
        // Where the numbers run on into a list of figures, the order is the longest one that leaves nothing out.
        let runs_on = self.tokens.get(at).is_some_and(|token| token.kind == TokenKind::Comma)
            && self.tokens.get(at + 1).is_some_and(|token| token.kind.is_number());
        let mut certain = true;
        if runs_on {
            let complete = |count: usize| {
                (1..=count).all(|number| names[..count].iter().any(|(name, _)| *name == number.to_string()))
            };
            let all = names.len();
            let kept = (2..=all).rev().find(|count| complete(*count)).unwrap_or(all);
            let commas =
                |until: usize| self.tokens[from..until].iter().any(|token| token.kind == TokenKind::Comma);
            let comma_behind = self
                .tokens
                .get(names[kept.min(all) - 1].1)
                .is_some_and(|token| token.kind == TokenKind::Comma);
            certain = kept == all || (comma_behind && !commas(names[kept - 1].1));
            if certain {
                names.truncate(kept);
            }
        }
        let end = names.last().map_or(from, |(_, end)| *end);
        (names.into_iter().map(|(name, _)| name).collect(), end, certain)
    }
}

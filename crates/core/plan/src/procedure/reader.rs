//! From clauses to stages.

use super::clauses::clauses;
use super::phrase::PhraseMeaning;
use super::written::{FigureUse, LineClause, LineClauses, WrittenFigure, WrittenTolerance};
use super::{
    LineFigure, LineOrder, LineQuestion, LineStage, LineTolerance, MAX_LENGTH, NumberRole, Procedure,
    StageKind,
};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Unit};
use std::ops::Range;

/// The least figure, in its base unit: what is written again has so many decimals.
const LEAST: f64 = 1e-5;
/// The most stages that a line makes.
const MAX_STAGES: usize = 200;
/// How much of a figure lies between the two ends where only one is written: `14 N·m max`.
const ONE_SIDED: f64 = 0.08;

/// Reads a line. What was not understood is in [`Procedure::questions`]; everything else is read all the same.
///
/// ```
/// use rigore_plan::procedure::read;
///
/// let line = read("25 lbf·ft snug, 60° twice");
/// assert_eq!(line.stages.len(), 3);
/// assert!(line.questions.is_empty());
/// assert_eq!(read("30").questions.len(), 1, "30 of what?");
/// ```
pub fn read(text: &str) -> Procedure {
    if text.len() > MAX_LENGTH {
        let message =
            message!("procedure-line-has-characters-at-most-this", most = MAX_LENGTH, value = text.len());
        return Procedure { questions: vec![LineQuestion { at: 0..0, message }], ..Procedure::default() };
    }
    let mut parsed = clauses(text);
    parsed.share_counts();
    parsed.share_units();
    parsed.share_percentages();
    let list = std::mem::take(&mut parsed.list);
    let mut reader =
        Reader { text, parsed, stages: Vec::new(), lubricant: None, awaits: Vec::new(), full: false };
    for (at, clause) in list.iter().enumerate() {
        reader.clause(clause, list.get(at + 1));
    }
    reader.finish()
}

/// What was said of a stage that comes after it.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Await {
    Snug,
    Yield,
    NextSlot,
    Stretch,
    Recheck,
    Wait,
    Seal,
}

struct Reader<'a> {
    text: &'a str,
    parsed: LineClauses,
    stages: Vec<LineStage>,
    lubricant: Option<&'static str>,
    /// What was said before its figure, and where.
    awaits: Vec<(Await, Range<usize>)>,
    /// Whether there are as many stages as there may be.
    full: bool,
}

impl Reader<'_> {
    fn ask(&mut self, at: Range<usize>, message: impl Into<Message>) {
        self.parsed.questions.push(LineQuestion { at, message: message.into() });
    }

    fn clause(&mut self, clause: &LineClause, next: Option<&LineClause>) {
        if self.stages.len() > MAX_STAGES {
            if !self.full {
                let message = message!("procedure-stages-at-most-what-comes-from", most = MAX_STAGES);
                self.ask(clause.at.clone(), message);
            }
            self.full = true;
            return;
        }
        let before = self.stages.len();
        self.whole_line(clause);
        if let Some(action) = &clause.action {
            self.stage(clause, StageKind::Action(action.clone()));
        }
        if clause.says(PhraseMeaning::Loosen) {
            if clause.figures.iter().any(|figure| figure.used == FigureUse::Stage) {
                self.ask(clause.at.clone(), message!("procedure-what-loosened-loosened-all-way-say"));
            }
            self.stage(clause, StageKind::Loosen);
        }
        let touched = matches!(self.last_of(clause), Some(StageKind::RunDown));
        if clause.says(PhraseMeaning::ByHand) && !touched {
            self.stage(clause, StageKind::RunDown);
        }
        if clause.says(PhraseMeaning::Seal) {
            self.awaits.push((Await::Seal, clause.at.clone()));
        }
        if clause.figures.is_empty() {
            self.without_figure(clause);
        } else {
            self.with_figures(clause, next);
        }
        if let Some(times) = clause.times() {
            self.again(clause, before, times);
        }
    }

    /// What counts for all of the line: its order and its lubricant.
    fn whole_line(&mut self, clause: &LineClause) {
        for mark in &clause.marks {
            let other = match mark {
                PhraseMeaning::Pattern(pattern) => {
                    let order = LineOrder::Pattern(*pattern);
                    self.parsed.order.replace(order.clone()).is_some_and(|said| said != order)
                }
                PhraseMeaning::Lubricant(key) => self.lubricant.replace(key).is_some_and(|said| said != *key),
                _ => false,
            };
            if other {
                let message = message!("procedure-another-one-was-said-before-line");
                self.ask(clause.at.clone(), message);
            }
        }
    }

    fn stage(&mut self, clause: &LineClause, kind: StageKind) {
        self.stages.push(LineStage { group: clause.group.clone(), kind, at: clause.at.clone() });
    }

    /// What a clause without a figure says of the stage before it, or of the one that comes.
    fn without_figure(&mut self, clause: &LineClause) {
        if clause.says(PhraseMeaning::OnePull) {
            self.in_one_pull(clause);
        }
        if clause.says(PhraseMeaning::Snug) {
            match self.last_of(clause) {
                Some(StageKind::Torque { torque, .. }) => {
                    let torque = *torque;
                    self.replace(clause, StageKind::Torque { torque, snug: true });
                }
                _ => self.awaits.push((Await::Snug, clause.at.clone())),
            }
        }
        for (meaning, awaited) in
            [(PhraseMeaning::Yield, Await::Yield), (PhraseMeaning::NextSlot, Await::NextSlot)]
        {
            if !clause.says(meaning) {
                continue;
            }
            let banded = match self.last_of(clause) {
                Some(StageKind::Torque { torque, .. }) => banded(awaited, *torque),
                _ => None,
            };
            match banded {
                Some(kind) => self.replace(clause, kind),
                None => self.awaits.push((awaited, clause.at.clone())),
            }
        }
        if clause.says(PhraseMeaning::Stretch) {
            self.awaits.push((Await::Stretch, clause.at.clone()));
        }
        if clause.says(PhraseMeaning::Wait) || clause.says(PhraseMeaning::After) {
            self.awaits.push((Await::Wait, clause.at.clone()));
        }
        if clause.says(PhraseMeaning::Recheck) {
            self.recheck_last(clause);
        }
    }

    /// A recheck is at the last figure of its own group (C-52).
    fn recheck_last(&mut self, clause: &LineClause) {
        let of_group = |group: &Option<String>| {
            let mut stages = self.stages.iter().rev().filter(|stage| stage.group == *group);
            stages.find(|stage| {
                !matches!(stage.kind, StageKind::Wait(_) | StageKind::Action(_) | StageKind::Seal { .. })
            })
        };
        let last = of_group(&clause.group).or_else(|| of_group(&None)).map(|stage| stage.kind.clone());
        match last {
            Some(StageKind::Torque { torque: figure, .. } | StageKind::Recheck(figure)) => {
                self.stage(clause, StageKind::Recheck(LineFigure::plain(figure.target, figure.unit)));
            }
            Some(_) => {
                self.ask(clause.at.clone(), message!("procedure-checked-with-which-torque-what-was"));
            }
            None => self.awaits.push((Await::Recheck, clause.at.clone())),
        }
    }

    /// The stage before, where it is of the same group.
    fn last_of(&self, clause: &LineClause) -> Option<&StageKind> {
        let last = self.stages.last()?;
        (last.group == clause.group).then_some(&last.kind)
    }

    /// Another reading of the stage before.
    fn replace(&mut self, clause: &LineClause, kind: StageKind) {
        if let Some(last) = self.stages.last_mut() {
            last.kind = kind;
            last.at.end = clause.at.end;
        }
    }

    fn with_figures(&mut self, clause: &LineClause, next: Option<&LineClause>) {
        let awaited: Vec<Await> = self.take_awaited(clause);
        let says = |meaning, awaits| clause.says(meaning) || awaited.contains(&awaits);
        let stages: Vec<&WrittenFigure> =
            clause.figures.iter().filter(|figure| figure.used == FigureUse::Stage).collect();
        let read: Vec<(Dimension, LineFigure, &WrittenFigure)> = stages
            .iter()
            .filter_map(|written| {
                self.figure(written).map(|(dimension, figure)| (dimension, figure, *written))
            })
            .collect();
        if let [(Dimension::Torque, torque, _), (Dimension::Angle, angle, _)] = read[..]
            && clause.says(PhraseMeaning::OnePull)
        {
            self.stage(clause, StageKind::TorqueAngle { torque, angle });
        } else {
            if read.len() == stages.len() && !read.is_empty() {
                self.unmet(clause, &read, says);
            }
            for (dimension, figure, written) in read {
                self.one_figure(clause, dimension, figure, written, &says);
            }
            if clause.says(PhraseMeaning::OnePull) {
                self.in_one_pull(clause);
            }
        }
        for written in clause.figures.iter().filter(|figure| figure.used != FigureUse::Stage) {
            self.other_use(clause, written, next);
        }
        if clause.says(PhraseMeaning::Recheck) && clause.says(PhraseMeaning::After) {
            self.recheck_last(clause);
        }
    }

    /// What was said of a figure before it; sealant waits for its times, whatever stands between.
    fn take_awaited(&mut self, clause: &LineClause) -> Vec<Await> {
        let seals = clause.figures.iter().any(|figure| figure.used == FigureUse::Skins);
        let (taken, kept): (Vec<_>, Vec<_>) = std::mem::take(&mut self.awaits)
            .into_iter()
            .partition(|(awaits, _)| *awaits != Await::Seal || seals);
        self.awaits = kept;
        taken.into_iter().map(|(awaits, _)| awaits).collect()
    }

    fn one_figure(
        &mut self,
        clause: &LineClause,
        dimension: Dimension,
        figure: LineFigure,
        written: &WrittenFigure,
        says: &impl Fn(PhraseMeaning, Await) -> bool,
    ) {
        let kind = match dimension {
            Dimension::Torque if says(PhraseMeaning::Yield, Await::Yield) => {
                self.band(clause, Await::Yield, figure)
            }
            Dimension::Torque if says(PhraseMeaning::NextSlot, Await::NextSlot) => {
                self.band(clause, Await::NextSlot, figure)
            }
            Dimension::Torque if says(PhraseMeaning::Recheck, Await::Recheck) => {
                Some(StageKind::Recheck(LineFigure::plain(figure.target, figure.unit)))
            }
            Dimension::Torque => {
                Some(StageKind::Torque { torque: figure, snug: says(PhraseMeaning::Snug, Await::Snug) })
            }
            Dimension::Angle => Some(StageKind::Angle(figure)),
            Dimension::Time
                if says(PhraseMeaning::Wait, Await::Wait) || clause.says(PhraseMeaning::After) =>
            {
                Some(StageKind::Wait(figure))
            }
            Dimension::Time => {
                let message = message!("procedure-what-say-wait-15-minutes-skins");
                self.ask(written.at.clone(), message);
                None
            }
            _ => Some(StageKind::Stretch { stretch: figure, limit: None }),
        };
        match (kind, written.parts) {
            (Some(kind), Some(parts)) => self.in_parts(clause, &kind, parts),
            (Some(kind), None) => self.stage(clause, kind),
            (None, _) => {}
        }
    }

    /// A figure that no stage aims at: it is not passed, or a hint, or a time of sealant.
    fn other_use(&mut self, clause: &LineClause, written: &WrittenFigure, next: Option<&LineClause>) {
        let Some((dimension, figure)) = self.figure(written) else { return };
        match written.used {
            FigureUse::Stage => {}
            FigureUse::NotOver => self.not_over(clause, written, dimension, figure),
            FigureUse::AtLeast => {
                self.one_sided(clause, dimension, figure, figure.target * (1.0 + ONE_SIDED));
            }
            FigureUse::About => self.about(clause, written, (dimension, figure), next),
            FigureUse::Skins if dimension == Dimension::Time => {
                self.stage(clause, StageKind::Seal { within: figure, cure: None });
            }
            FigureUse::Cures if dimension == Dimension::Time => match self.stages.last_mut() {
                Some(LineStage { kind: StageKind::Seal { cure, .. }, at, .. }) => {
                    *cure = Some(figure);
                    at.end = clause.at.end;
                }
                _ => self.stage(clause, StageKind::Wait(figure)),
            },
            FigureUse::Skins | FigureUse::Cures => {
                self.ask(written.at.clone(), message!("procedure-time-needed-here-such-as-9"));
            }
        }
    }

    /// `not over 62 N·m` beside a stretch, `14 N·m max` by itself.
    fn not_over(
        &mut self,
        clause: &LineClause,
        written: &WrittenFigure,
        dimension: Dimension,
        figure: LineFigure,
    ) {
        let plain = figure.spread == LineTolerance::Unsaid;
        match (dimension, self.last_of(clause)) {
            (Dimension::Torque, Some(StageKind::Stretch { stretch, .. })) if plain => {
                let stretch = *stretch;
                self.parsed.set_role(&written.at, NumberRole::Limit);
                self.replace(clause, StageKind::Stretch { stretch, limit: Some(figure) });
            }
            (Dimension::Torque, _) if plain => {
                let alone = clause.figures.len() == 1
                    && !self.stages.iter().any(|stage| {
                        stage.group == clause.group
                            && stage.kind.figures().iter().any(|of| of.unit.dimension != Dimension::Time)
                    });
                if alone {
                    return self.one_sided(clause, dimension, figure, figure.target * (1.0 - ONE_SIDED));
                }
                self.ask(
                    clause.at.clone(),
                    message!("procedure-torque-not-passed-while-something-stretched"),
                );
            }
            _ => self.ask(clause.at.clone(), message!("procedure-not-over-what-say-torque-such")),
        }
    }

    /// A window with one end: the other is as far off as figures usually may be.
    fn one_sided(&mut self, clause: &LineClause, dimension: Dimension, figure: LineFigure, other_end: f64) {
        let (low, high) = (figure.target.min(other_end), figure.target.max(other_end));
        let round = |value: f64| if value > 1.0 { (value * 100.0).round() / 100.0 } else { value };
        let (low, high) = (round(low), round(high));
        let figure = LineFigure {
            target: f64::midpoint(low, high),
            spread: LineTolerance::Range(low, high),
            unit: figure.unit,
        };
        match dimension {
            Dimension::Torque => {
                self.stage(
                    clause,
                    StageKind::Torque { torque: figure, snug: clause.says(PhraseMeaning::Snug) },
                );
            }
            Dimension::Angle => self.stage(clause, StageKind::Angle(figure)),
            _ => self.ask(clause.at.clone(), message!("procedure-torque-or-angle-needed-for")),
        }
    }

    /// A torque to expect beside a stretch or an angle; an angle that was called "about" is one all the same.
    fn about(
        &mut self,
        clause: &LineClause,
        written: &WrittenFigure,
        figure: (Dimension, LineFigure),
        next: Option<&LineClause>,
    ) {
        let (dimension, figure) = figure;
        if dimension == Dimension::Angle {
            return self.stage(clause, StageKind::Angle(figure));
        }
        let beside = |clause: &LineClause| {
            clause.says(PhraseMeaning::Stretch)
                || clause.figures.iter().any(|of| {
                    of.used != FigureUse::About
                        && matches!(of.unit.dimension(), Some(Dimension::Angle | Dimension::Length))
                })
        };
        let after = matches!(self.last_of(clause), Some(StageKind::Stretch { .. } | StageKind::Angle(_)));
        let before = next.is_some_and(|next| next.group == clause.group && beside(next));
        if dimension == Dimension::Torque && (after || before || beside(clause)) {
            self.parsed.set_role(&written.at, NumberRole::Guidance);
        } else {
            let message = message!("procedure-hint-beside-stretch-or-angle-as");
            self.ask(written.at.clone(), message);
        }
    }

    /// Words that ask for another figure than there is.
    fn unmet(
        &mut self,
        clause: &LineClause,
        read: &[(Dimension, LineFigure, &WrittenFigure)],
        says: impl Fn(PhraseMeaning, Await) -> bool,
    ) {
        let torque = [
            (PhraseMeaning::Snug, Await::Snug),
            (PhraseMeaning::Yield, Await::Yield),
            (PhraseMeaning::NextSlot, Await::NextSlot),
            (PhraseMeaning::Recheck, Await::Recheck),
        ];
        let has = |dimension| read.iter().any(|(of, _, _)| *of == dimension);
        let later = clause.says(PhraseMeaning::After);
        if !has(Dimension::Torque)
            && !later
            && torque.into_iter().any(|(meaning, awaits)| says(meaning, awaits))
        {
            self.ask(clause.at.clone(), message!("procedure-torque-needed-for-such-as-40"));
        }
        if !has(Dimension::Length) && says(PhraseMeaning::Stretch, Await::Stretch) {
            self.ask(clause.at.clone(), message!("procedure-stretched-by-how-much-say-length"));
        }
        if !has(Dimension::Time) && says(PhraseMeaning::Wait, Await::Wait) {
            self.ask(clause.at.clone(), message!("procedure-wait-for-how-long-say-time"));
        }
    }

    /// A figure in the unit it was written in.
    fn figure(&mut self, written: &WrittenFigure) -> Option<(Dimension, LineFigure)> {
        let unit = written.unit.unit()?;
        let spread = match (written.high, written.tolerance) {
            (Some(high), _) => LineTolerance::Range(written.low, high),
            (None, None) => LineTolerance::Unsaid,
            (None, Some(WrittenTolerance::Percent(percent))) => {
                LineTolerance::Within(written.low * percent / 100.0)
            }
            (None, Some(WrittenTolerance::Amount(amount, None))) => LineTolerance::Within(amount),
            (None, Some(WrittenTolerance::Amount(amount, Some(of)))) => {
                LineTolerance::Within(self.tolerance_in(written, amount, of, unit)?)
            }
            (None, Some(WrittenTolerance::Uneven(down, up))) => {
                LineTolerance::Range(written.low - down, written.low + up)
            }
        };
        let target = match (spread, written.target) {
            (_, Some(target)) => target,
            (LineTolerance::Range(low, high), None) if written.high.is_some() => f64::midpoint(low, high),
            _ => written.low,
        };
        let least = match spread {
            LineTolerance::Within(tolerance) => target - tolerance,
            LineTolerance::Range(low, _) => low,
            LineTolerance::Unsaid => target,
        };
        if least * unit.factor < LEAST {
            self.ask(written.at.clone(), message!("procedure-more-than-zero-needed-tolerance-taken"));
            return None;
        }
        Some((unit.dimension, LineFigure { target, spread, unit }))
    }

    /// A tolerance in the unit of its figure; it is given in one of the same kind.
    fn tolerance_in(&mut self, written: &WrittenFigure, amount: f64, of: &Unit, unit: &Unit) -> Option<f64> {
        if unit.dimension != of.dimension {
            let message =
                message!("procedure-tolerance-given-which-measures-something-else", symbol = of.symbol);
            self.ask(written.at.clone(), message);
            return None;
        }
        Some(amount * of.factor / unit.factor)
    }

    fn band(&mut self, clause: &LineClause, awaits: Await, figure: LineFigure) -> Option<StageKind> {
        let kind = banded(awaits, figure);
        if kind.is_none() {
            self.ask(clause.at.clone(), message!("procedure-between-which-torques-say-both-such"));
        }
        kind
    }

    /// Torque goes up in equal steps that a wrench can be set to, the last one being the figure itself (M-11);
    /// angles are parted.
    fn in_parts(&mut self, clause: &LineClause, kind: &StageKind, parts: u32) {
        for part in 1..=parts {
            let kind = match kind {
                StageKind::Torque { torque, snug } if part == parts => {
                    StageKind::Torque { torque: *torque, snug: *snug }
                }
                StageKind::Torque { torque, .. } => {
                    let share = torque.target * f64::from(part) / f64::from(parts);
                    StageKind::Torque { torque: LineFigure::plain(settable(share), torque.unit), snug: false }
                }
                StageKind::Angle(angle) => StageKind::Angle(parted(*angle, f64::from(parts))),
                _ => {
                    return self
                        .ask(clause.at.clone(), message!("procedure-torque-or-angle-can-parted-into"));
                }
            };
            self.stage(clause, kind);
        }
    }

    fn in_one_pull(&mut self, clause: &LineClause) {
        let one = match &self.stages[..] {
            [
                ..,
                LineStage { kind: StageKind::Torque { torque, .. }, group, at },
                LineStage { kind: StageKind::Angle(angle), group: other, .. },
            ] if group == other => {
                Some((StageKind::TorqueAngle { torque: *torque, angle: *angle }, at.start))
            }
            _ => None,
        };
        let Some((kind, start)) = one else {
            return self.ask(clause.at.clone(), message!("procedure-torque-angle-go-one-pull-such"));
        };
        self.stages.pop();
        self.replace(clause, kind);
        if let Some(last) = self.stages.last_mut() {
            last.at.start = start;
        }
    }

    /// What was said once is done so often.
    fn again(&mut self, clause: &LineClause, before: usize, times: u32) {
        let end = self.stages.len();
        let said = if end > before { before..end } else { end.saturating_sub(1)..end };
        if said.is_empty() {
            return self.ask(clause.at.clone(), message!("procedure-there-nothing-before-do-again"));
        }
        let once: Vec<LineStage> = self.stages[said].to_vec();
        for _ in 1..times {
            self.stages.extend(once.iter().cloned());
        }
    }

    /// What was said and never got its figure; and questions with the words they are about.
    fn finish(mut self) -> Procedure {
        for (awaits, at) in std::mem::take(&mut self.awaits) {
            let message = match awaits {
                Await::Recheck => message!("procedure-checked-with-which-torque"),
                Await::Snug => message!("procedure-snug-at-which-torque"),
                Await::Yield => message!("procedure-between-which-torques-has-stop-rising"),
                Await::NextSlot => message!("procedure-at-which-torque-does-go-on"),
                Await::Stretch => message!("procedure-stretched-by-how-much"),
                Await::Wait => message!("procedure-wait-for-how-long-say-time"),
                Await::Seal => message!("procedure-how-long-can-worked-say-as"),
            };
            self.ask(at, message);
        }
        if self.stages.is_empty() && self.parsed.questions.is_empty() {
            self.ask(0..self.text.len(), message!("procedure-nothing-asked-yet-say-as-40"));
        }
        let LineClauses { order, numbers, mut questions, .. } = self.parsed;
        for question in &mut questions {
            question.message =
                std::mem::take(&mut question.message).holding("words", &self.text[question.at.clone()]);
        }
        questions.sort_by_key(|question| (question.at.start, question.at.end));
        Procedure { stages: self.stages, order, lubricant: self.lubricant, numbers, questions }
    }
}

/// The nearest torque that a wrench can be set to: whole units, or tenths of small ones.
fn settable(torque: f64) -> f64 {
    if torque >= 3.0 { torque.round() } else { (torque * 10.0).round() / 10.0 }
}

/// One of equal parts of an angle, no further off together than the whole.
fn parted(angle: LineFigure, parts: f64) -> LineFigure {
    let spread = match angle.spread {
        LineTolerance::Unsaid => LineTolerance::Unsaid,
        LineTolerance::Within(tolerance) => LineTolerance::Within(tolerance / parts),
        LineTolerance::Range(low, high) => LineTolerance::Range(low / parts, high / parts),
    };
    LineFigure { target: angle.target / parts, spread, unit: angle.unit }
}

/// A stage that is asked for by a band of torques.
fn banded(awaits: Await, torque: LineFigure) -> Option<StageKind> {
    let (low, high) = match torque.spread {
        LineTolerance::Range(low, high) => (low, high),
        LineTolerance::Within(tolerance) => (torque.target - tolerance, torque.target + tolerance),
        // A nut goes on from its torque to the next slot, and a bolt yields within a band.
        LineTolerance::Unsaid if awaits == Await::NextSlot => (torque.target, torque.target),
        LineTolerance::Unsaid => return None,
    };
    let figure = LineFigure {
        target: f64::midpoint(low, high),
        spread: LineTolerance::Range(low, high),
        unit: torque.unit,
    };
    Some(match awaits {
        Await::Yield => StageKind::Yield(figure),
        _ => StageKind::Castellated(figure),
    })
}

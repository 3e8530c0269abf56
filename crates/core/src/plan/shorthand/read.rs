//! From clauses to stages.

use super::clause::{Clause, Clauses, Measure, Within, Written};
use super::phrase::Means;
use super::token::tokens;
use super::{Asked, Fault, Figure, MOST, Procedure, Said, Spread};
use crate::quantity::{Dimension, Unit};

/// The least figure: what is written again has so many decimals.
const LEAST: f64 = 1e-5;
/// The most stages that a line makes.
const MOST_STAGES: usize = 200;

/// Reads a line. What was not understood is told in [`Procedure::faults`]; everything else is read all the same.
pub fn read(text: &str) -> Procedure {
    if text.len() > MOST {
        let message = format!("a line has {MOST} characters at most, and this has {}", text.len());
        return Procedure { faults: vec![Fault { at: 0..0, message }], ..Procedure::default() };
    }
    let (mut clauses, faults) = Clauses::new(text, tokens(text)).all();
    let mut reading =
        Reading { text, done: Procedure { faults, ..Procedure::default() }, ..Reading::default() };
    reading.units(&mut clauses);
    reading.percentages(&mut clauses);
    for clause in &clauses {
        reading.clause(clause);
    }
    reading.end();
    reading.done.faults.sort_by_key(|fault| (fault.at.start, fault.at.end));
    reading.done
}

/// What was said of a stage that comes after it.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Awaits {
    Snug,
    Yield,
    NextSlot,
    Stretch,
    Recheck,
    Steps(u32),
}

#[derive(Default)]
struct Reading<'a> {
    text: &'a str,
    done: Procedure,
    /// What was said before its figure, and where.
    awaits: Vec<(Awaits, std::ops::Range<usize>)>,
    /// Whether there are as many stages as there may be.
    full: bool,
}

impl Reading<'_> {
    fn fault(&mut self, at: std::ops::Range<usize>, message: impl Into<String>) {
        self.done.faults.push(Fault { at, message: message.into() });
    }

    /// A unit that is given at the end of a list counts for the whole of it.
    fn units(&mut self, clauses: &mut [Clause]) {
        let mut open: Vec<(usize, usize)> = Vec::new();
        let mut across = false;
        let mut group = None;
        for at in 0..clauses.len() {
            if clauses[at].group != group {
                self.unsaid(clauses, &mut open);
                group.clone_from(&clauses[at].group);
            }
            across |= clauses[at].after_then && !open.is_empty();
            for number in 0..clauses[at].figures.len() {
                match clauses[at].figures[number].unit {
                    Measure::Unsaid => open.push((at, number)),
                    Measure::Percent | Measure::Apart => {}
                    given => {
                        if across && given.of().is_some_and(|of| of.0 != Dimension::Torque) {
                            self.unsaid(clauses, &mut open);
                        }
                        for (clause, number) in open.drain(..) {
                            clauses[clause].figures[number].unit = given;
                        }
                        across = false;
                    }
                }
            }
        }
        self.unsaid(clauses, &mut open);
    }

    /// Figures that were given without a unit.
    fn unsaid(&mut self, clauses: &mut [Clause], open: &mut Vec<(usize, usize)>) {
        for (clause, number) in open.drain(..) {
            let figure = &mut clauses[clause].figures[number];
            figure.unit = Measure::Apart;
            let said = &self.text[figure.at.clone()];
            let message = format!("{said} of what? Its unit is missing, such as N·m, lbf·ft or °");
            self.fault(figure.at.clone(), message);
        }
    }

    /// Percentages are of the figure that is named with them.
    fn percentages(&mut self, clauses: &mut [Clause]) {
        let mut open: Vec<(usize, usize)> = Vec::new();
        let mut whole: Option<Written> = None;
        for at in 0..clauses.len() {
            let clause = &mut clauses[at];
            let percents =
                (0..clause.figures.len()).filter(|number| clause.figures[*number].unit == Measure::Percent);
            let before = open.len();
            open.extend(percents.map(|number| (at, number)));
            if open.len() == before {
                continue;
            }
            if clause.says(Means::Of)
                && let Some(of) = clause.figures.iter_mut().rfind(|figure| figure.unit.of().is_some())
            {
                whole = Some(of.clone());
                of.unit = Measure::Apart;
            }
            if let Some(of) = &whole {
                for (clause, number) in open.drain(..) {
                    let figure = &mut clauses[clause].figures[number];
                    figure.low *= of.low / 100.0;
                    figure.high = figure.high.map(|high| high * of.low / 100.0);
                    figure.unit = of.unit;
                    figure.within = figure.within.or(of.within);
                }
            }
        }
        for (clause, number) in open {
            let figure = &mut clauses[clause].figures[number];
            figure.unit = Measure::Apart;
            let said = &self.text[figure.at.clone()];
            let message = format!("{said} of what? Say it as in `50 %, 75 %, 100 % of 90 N·m`");
            self.fault(figure.at.clone(), message);
        }
    }

    fn clause(&mut self, clause: &Clause) {
        if self.done.stages.len() > MOST_STAGES {
            if !self.full {
                self.fault(
                    clause.at.clone(),
                    format!("{MOST_STAGES} stages at most: what comes from here on is left out"),
                );
            }
            self.full = true;
            return;
        }
        let before = self.done.stages.len();
        for mark in &clause.marks {
            let other = match mark {
                Means::Order(pattern) => {
                    self.done.order.replace(*pattern).is_some_and(|said| said != *pattern)
                }
                Means::Lubricant(key) => self.done.lubricant.replace(key).is_some_and(|said| said != *key),
                _ => false,
            };
            if other {
                self.fault(
                    clause.at.clone(),
                    "another one was said before: a line has one order and one lubricant",
                );
            }
        }
        if clause.says(Means::Loosen) {
            if !clause.figures.is_empty() {
                self.fault(
                    clause.at.clone(),
                    "what is loosened is loosened all the way: say the next stage after a comma",
                );
            }
            self.stage(clause, Asked::Loosen);
        }
        let touched = matches!(self.done.stages.last(), Some(Said { asked: Asked::RunDown, .. }));
        if clause.says(Means::ByHand) && !touched {
            self.stage(clause, Asked::RunDown);
        }
        if clause.figures.is_empty() {
            self.without_figure(clause);
        } else {
            self.with_figures(clause);
        }
        if let Some(times) = clause.times() {
            self.again(clause, before, times);
        }
    }

    fn stage(&mut self, clause: &Clause, asked: Asked) {
        self.done.stages.push(Said { group: clause.group.clone(), asked, at: clause.at.clone() });
    }

    /// What a clause without a figure says of the stage before it, or of the one that comes.
    fn without_figure(&mut self, clause: &Clause) {
        let says = |means| clause.says(means);
        if let Some(steps) = clause.steps {
            match self.last_of(clause) {
                Some(Asked::Torque { nm, snug: false }) => {
                    self.done.stages.pop();
                    self.in_steps(clause, Asked::Torque { nm, snug: false }, steps);
                }
                _ => self.await_next(clause, Awaits::Steps(steps)),
            }
        }
        if says(Means::OnePull) {
            self.in_one_pull(clause);
        }
        if says(Means::Snug) {
            match self.last_of(clause) {
                Some(Asked::Torque { nm, .. }) => self.replace(clause, Asked::Torque { nm, snug: true }),
                _ => self.await_next(clause, Awaits::Snug),
            }
        }
        for (means, awaits) in [(Means::Yield, Awaits::Yield), (Means::NextSlot, Awaits::NextSlot)] {
            if !says(means) {
                continue;
            }
            let banded = match self.last_of(clause) {
                Some(Asked::Torque { nm, .. }) => banded(awaits, nm),
                _ => None,
            };
            match banded {
                Some(asked) => self.replace(clause, asked),
                None => self.await_next(clause, awaits),
            }
        }
        if says(Means::Stretch) {
            self.await_next(clause, Awaits::Stretch);
        }
        if says(Means::Recheck) {
            self.await_next(clause, Awaits::Recheck);
        }
        if says(Means::Limit) {
            self.fault(clause.at.clone(), "not over what? Say a torque, such as `not over 60 N·m`");
        }
    }

    fn await_next(&mut self, clause: &Clause, awaits: Awaits) {
        self.awaits.push((awaits, clause.at.clone()));
    }

    /// The stage before, where it is of the same group.
    fn last_of(&self, clause: &Clause) -> Option<Asked> {
        let last = self.done.stages.last()?;
        (last.group == clause.group).then_some(last.asked)
    }

    /// Another reading of the stage before.
    fn replace(&mut self, clause: &Clause, asked: Asked) {
        if let Some(last) = self.done.stages.last_mut() {
            last.asked = asked;
            last.at.end = clause.at.end;
        }
    }

    fn with_figures(&mut self, clause: &Clause) {
        let (limits, figures): (Vec<_>, Vec<_>) = clause.figures.iter().partition(|figure| figure.limits);
        let mut read = Vec::new();
        for written in &figures {
            if let Some((dimension, figure)) = self.figure(written) {
                read.push((dimension, figure));
            }
        }
        let awaited: Vec<Awaits> =
            std::mem::take(&mut self.awaits).into_iter().map(|(awaits, _)| awaits).collect();
        let says = |means, awaits| clause.says(means) || awaited.contains(&awaits);
        let steps = clause.steps.or(awaited.iter().find_map(|awaits| match awaits {
            Awaits::Steps(steps) => Some(*steps),
            _ => None,
        }));
        if let [(Dimension::Torque, nm), (Dimension::Angle, deg)] = read[..]
            && clause.says(Means::OnePull)
        {
            return self.stage(clause, Asked::TorqueAngle { nm, deg });
        }
        if read.len() == figures.len() {
            self.unmet(clause, &read, says);
        }
        for (dimension, figure) in read {
            let asked = match dimension {
                Dimension::Torque if says(Means::Yield, Awaits::Yield) => {
                    self.band(clause, Awaits::Yield, figure)
                }
                Dimension::Torque if says(Means::NextSlot, Awaits::NextSlot) => {
                    self.band(clause, Awaits::NextSlot, figure)
                }
                Dimension::Torque if says(Means::Recheck, Awaits::Recheck) => {
                    Some(Asked::Recheck { nm: figure.target })
                }
                Dimension::Torque => {
                    Some(Asked::Torque { nm: figure, snug: says(Means::Snug, Awaits::Snug) })
                }
                Dimension::Angle => Some(Asked::Angle(figure)),
                _ => Some(Asked::Stretch { mm: figure, limit_nm: None }),
            };
            match (asked, steps) {
                (Some(asked), Some(steps)) => self.in_steps(clause, asked, steps),
                (Some(asked), None) => self.stage(clause, asked),
                (None, _) => {}
            }
        }
        if clause.says(Means::OnePull) {
            self.in_one_pull(clause);
        }
        if clause.says(Means::Limit) {
            self.limit(clause, limits.first().copied());
        }
    }

    /// Words that ask for another figure than there is.
    fn unmet(&mut self, clause: &Clause, read: &[(Dimension, Figure)], says: impl Fn(Means, Awaits) -> bool) {
        let torque = [
            (Means::Snug, Awaits::Snug),
            (Means::Yield, Awaits::Yield),
            (Means::NextSlot, Awaits::NextSlot),
            (Means::Recheck, Awaits::Recheck),
        ];
        let has = |dimension| read.iter().any(|(of, _)| *of == dimension);
        if !has(Dimension::Torque) && torque.into_iter().any(|(means, awaits)| says(means, awaits)) {
            self.fault(clause.at.clone(), "a torque is needed for that, such as `40 N·m`");
        }
        if !has(Dimension::Length) && says(Means::Stretch, Awaits::Stretch) {
            self.fault(clause.at.clone(), "stretched by how much? Say a length, such as `0.15 mm`");
        }
    }

    /// A figure in the base unit of what it measures.
    fn figure(&mut self, written: &Written) -> Option<(Dimension, Figure)> {
        let (dimension, factor) = written.unit.of()?;
        let low = written.low * factor;
        let spread = match (written.high, written.within) {
            (Some(high), _) => Spread::Range(low, high * factor),
            (None, None) => Spread::Unsaid,
            (None, Some(Within::Percent(percent))) => Spread::Within(low * percent / 100.0),
            (None, Some(Within::So(so, None))) => Spread::Within(so * factor),
            (None, Some(Within::So(so, Some(unit)))) => {
                Spread::Within(self.so(written, so, unit, dimension)?)
            }
        };
        let target = match spread {
            Spread::Range(low, high) => f64::midpoint(low, high),
            _ => low,
        };
        let least = match spread {
            Spread::Within(so) => target - so,
            Spread::Range(low, _) => low,
            Spread::Unsaid => target,
        };
        if least < LEAST {
            self.fault(written.at.clone(), "more than zero is needed, its tolerance taken off");
            return None;
        }
        Some((dimension, Figure { target, spread }))
    }

    /// A tolerance, which is given in a unit of the same kind.
    fn so(&mut self, written: &Written, so: f64, unit: &Unit, dimension: Dimension) -> Option<f64> {
        if unit.dimension != dimension {
            self.fault(
                written.at.clone(),
                format!("its tolerance is given in {}, which measures something else", unit.symbol),
            );
            return None;
        }
        Some(so * unit.factor)
    }

    fn band(&mut self, clause: &Clause, awaits: Awaits, figure: Figure) -> Option<Asked> {
        let asked = banded(awaits, figure);
        if asked.is_none() {
            self.fault(clause.at.clone(), "between which torques? Say both, such as `30 to 40 N·m`");
        }
        asked
    }

    /// Torque goes up in equal parts; angles are parted.
    fn in_steps(&mut self, clause: &Clause, asked: Asked, steps: u32) {
        for step in 1..=steps {
            let (step, steps) = (f64::from(step), f64::from(steps));
            let last = step >= steps;
            let asked = match asked {
                Asked::Torque { nm, snug } if last => Asked::Torque { nm, snug },
                Asked::Torque { nm, .. } => {
                    let up = Figure { target: nm.target * step / steps, spread: Spread::Unsaid };
                    Asked::Torque { nm: up, snug: false }
                }
                Asked::Angle(deg) => {
                    Asked::Angle(Figure { target: deg.target / steps, spread: parted(deg.spread, steps) })
                }
                _ => return self.fault(clause.at.clone(), "a torque or an angle can be parted into steps"),
            };
            self.stage(clause, asked);
        }
    }

    fn in_one_pull(&mut self, clause: &Clause) {
        let one = match &self.done.stages[..] {
            [
                ..,
                Said { asked: Asked::Torque { nm, .. }, group, at },
                Said { asked: Asked::Angle(deg), group: other, .. },
            ] if group == other => Some((Asked::TorqueAngle { nm: *nm, deg: *deg }, at.start)),
            _ => None,
        };
        let Some((asked, start)) = one else {
            return self.fault(
                clause.at.clone(),
                "a torque and an angle go in one pull, such as `40 N·m and 60° in one pull`",
            );
        };
        self.done.stages.pop();
        self.replace(clause, asked);
        if let Some(last) = self.done.stages.last_mut() {
            last.at.start = start;
        }
    }

    fn limit(&mut self, clause: &Clause, written: Option<&Written>) {
        let limit = written.and_then(|written| self.figure(written));
        match (limit, self.last_of(clause)) {
            (Some((Dimension::Torque, limit)), Some(Asked::Stretch { mm, .. }))
                if limit.spread == Spread::Unsaid =>
            {
                self.replace(clause, Asked::Stretch { mm, limit_nm: Some(limit.target) });
            }
            (Some((Dimension::Torque, limit)), _) if limit.spread == Spread::Unsaid => {
                self.fault(
                    clause.at.clone(),
                    "a torque is not passed while something is stretched: say the stretch before it",
                );
            }
            _ => self.fault(clause.at.clone(), "not over what? Say a torque, such as `not over 60 N·m`"),
        }
    }

    /// What was said once is done so often.
    fn again(&mut self, clause: &Clause, before: usize, times: u32) {
        let end = self.done.stages.len();
        let said = if end > before { before..end } else { end.saturating_sub(1)..end };
        if said.is_empty() {
            return self.fault(clause.at.clone(), "there is nothing before it to do again");
        }
        let once: Vec<Said> = self.done.stages[said].to_vec();
        for _ in 1..times {
            self.done.stages.extend(once.iter().cloned());
        }
    }

    /// What was said and never got its figure.
    fn end(&mut self) {
        for (awaits, at) in std::mem::take(&mut self.awaits) {
            match awaits {
                Awaits::Recheck => {
                    let last = self.done.stages.iter().rev().find_map(|said| match said.asked {
                        Asked::Torque { nm, .. } => Some((nm.target, said.group.clone())),
                        _ => None,
                    });
                    match last {
                        Some((nm, group)) => {
                            self.done.stages.push(Said { group, asked: Asked::Recheck { nm }, at });
                        }
                        None => self.fault(at, "checked with which torque?"),
                    }
                }
                Awaits::Snug => self.fault(at, "snug at which torque?"),
                Awaits::Yield => {
                    self.fault(at, "between which torques has it to stop rising? Say `30 to 40 N·m`");
                }
                Awaits::NextSlot => {
                    self.fault(at, "at which torque does it go on to the next slot? Say `40 to 50 N·m`");
                }
                Awaits::Stretch => self.fault(at, "stretched by how much?"),
                Awaits::Steps(_) => self.fault(at, "steps to which torque?"),
            }
        }
        if self.done.stages.is_empty() && self.done.faults.is_empty() {
            self.fault(0..self.text.len(), "nothing is asked yet: say it as in `40 N·m, 70 N·m, then 90°`");
        }
    }
}

/// How far off each part of an angle may be, so that all of them together are no further off.
fn parted(spread: Spread, steps: f64) -> Spread {
    match spread {
        Spread::Unsaid => Spread::Unsaid,
        Spread::Within(so) => Spread::Within(so / steps),
        Spread::Range(low, high) => Spread::Range(low / steps, high / steps),
    }
}

/// A stage that is asked for by a band of torques.
fn banded(awaits: Awaits, nm: Figure) -> Option<Asked> {
    let (low_nm, high_nm) = match nm.spread {
        Spread::Range(low, high) => (low, high),
        Spread::Within(so) => (nm.target - so, nm.target + so),
        // A nut goes on from its torque to the next slot, and a bolt yields within a band.
        Spread::Unsaid if awaits == Awaits::NextSlot => (nm.target, nm.target),
        Spread::Unsaid => return None,
    };
    Some(match awaits {
        Awaits::Yield => Asked::Yield { low_nm, high_nm },
        _ => Asked::Castellated { low_nm, high_nm },
    })
}

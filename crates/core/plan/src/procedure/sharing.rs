//! What is written once for several figures: a count of passes, a unit at the end of a list, what percentages are of.

use super::phrase::PhraseMeaning;
use super::written::{FigureMeasure, FigureUse, LineClause, LineClauses, StageCount, WrittenFigure};
use super::{LineQuestion, NumberRole};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use std::ops::Range;

/// A figure by its clause and its place in it.
type Place = (usize, usize);

impl LineClauses {
    fn ask(&mut self, at: Range<usize>, message: impl Into<Message>) {
        self.questions.push(LineQuestion { at, message: message.into() });
    }

    fn figure(&mut self, (clause, number): Place) -> &mut WrittenFigure {
        &mut self.list[clause].figures[number]
    }

    /// Changes the role of the numbers that stand at a place.
    pub fn set_role(&mut self, at: &Range<usize>, role: NumberRole) {
        for claim in
            self.numbers.iter_mut().filter(|claim| at.start <= claim.at.start && claim.at.end <= at.end)
        {
            claim.role = role;
        }
    }

    /// A count agrees with its list, or parts one figure.
    pub fn share_counts(&mut self) {
        let mut at = 0;
        while at < self.list.len() {
            if let Some(count) = self.list[at].count.take() {
                if let Some(each) = count.of.clone() {
                    self.count_of(at, &count, each);
                } else {
                    self.count_list(at, &count);
                }
            }
            at += 1;
        }
    }

    /// `two turns of 50°`: parts of the angle before it, or stages of their own.
    fn count_of(&mut self, at: usize, count: &StageCount, each: WrittenFigure) {
        let before = self.last_figure(at, count.at.start).filter(|_| count.swings);
        let in_clause = before.is_some_and(|(clause, _)| clause == at);
        if let Some(place) = before
            && self.figure(place).unit.dimension() == Some(Dimension::Angle)
            && self.figure(place).unit == each.unit
        {
            let whole = self.figure(place).low;
            if (whole - f64::from(count.number) * each.low).abs() <= 0.03 * whole {
                self.figure(place).parts = Some(count.number);
                self.set_role(&each.at, NumberRole::Count);
                return;
            }
            if in_clause {
                return self.ask(
                    count.at.start..each.at.end,
                    message!("procedure-times-not-angle-before", number = count.number),
                );
            }
        }
        let repeated = LineClause {
            group: self.list[at].group.clone(),
            at: count.at.start..each.at.end,
            figures: vec![each],
            marks: vec![PhraseMeaning::Times(count.number)],
            after_then: true,
            ..LineClause::default()
        };
        self.list.insert(at + 1, repeated);
    }

    /// The last figure of a stage before a place in the text, in this clause or the one before.
    fn last_figure(&self, clause: usize, before: usize) -> Option<Place> {
        let of = |clause: usize| {
            let mut figures = self.list[clause].figures.iter();
            let number =
                figures.rposition(|figure| figure.at.start < before && figure.used == FigureUse::Stage)?;
            Some((clause, number))
        };
        of(clause).or_else(|| {
            let previous = clause.checked_sub(1)?;
            (self.list[previous].group == self.list[clause].group).then(|| of(previous))?
        })
    }

    fn count_list(&mut self, at: usize, count: &StageCount) {
        let starts_behind = |figure: &WrittenFigure| figure.at.start > count.at.start;
        let own = self.list[at].figures.iter();
        let following = if own.clone().any(|figure| figure.used == FigureUse::Stage && !starts_behind(figure))
        {
            Vec::new()
        } else {
            self.list_from(at)
        };
        let preceding =
            if own.clone().any(starts_behind) { Vec::new() } else { self.list_before(at, count.at.start) };
        let number = count.number as usize;
        let list = match (preceding.len(), following.len()) {
            (0, _) => following,
            (_, 0) => preceding,
            (of, other) if of == number && other != number => preceding,
            (of, other) if other == number && of != number => following,
            (1, _) if self.list.get(at + 1).is_some_and(|next| next.after_then) => preceding,
            _ => {
                return self
                    .ask(count.at.clone(), message!("procedure-which-figures-does-count-those-before"));
            }
        };
        let Some(&first) = list.first() else {
            return self.ask(count.at.clone(), message!("procedure-steps-which-figure"));
        };
        let own_unit = self.figure(first).unit != FigureMeasure::Unsaid;
        match list.len() {
            1 => self.part(at, first, count),
            of if of == number && !(count.to && own_unit) => {}
            of if of != number && count.to && own_unit => self.part(at, first, count),
            of => self.ask(
                count.at.clone(),
                message!("procedure-said-figures-listed-which-holds", number = count.number, of),
            ),
        }
    }

    /// Parts one figure; from where is asked where a torque stands before it.
    fn part(&mut self, clause: usize, figure: Place, count: &StageCount) {
        let torque =
            |unit: FigureMeasure| unit.dimension().is_none_or(|dimension| dimension == Dimension::Torque);
        if torque(self.figure(figure).unit) {
            let group = self.list[clause].group.clone();
            let earlier = self.list[..figure.0].iter().filter(|other| other.group == group);
            let mut since = earlier.rev().take_while(|other| !other.says(PhraseMeaning::Loosen));
            if since
                .any(|other| other.figures.iter().any(|of| of.used == FigureUse::Stage && torque(of.unit)))
            {
                let message = message!("procedure-steps-from-nothing-or-from-torque");
                return self.ask(count.at.clone(), message);
            }
        }
        self.figure(figure).parts = Some(count.number);
    }

    /// The figures of one list from a clause on.
    fn list_from(&self, at: usize) -> Vec<Place> {
        let mut places: Vec<Place> = Vec::new();
        let mut dimension = None;
        for (clause, of) in self.list.iter().enumerate().skip(at) {
            let ended =
                clause > at && (of.group != self.list[at].group || !of.only_lists() || of.figures.is_empty());
            let stands = of
                .figures
                .iter()
                .filter(|figure| figure.used == FigureUse::Stage && figure.unit != FigureMeasure::Apart);
            let other = stands.clone().any(|figure| {
                let own = kind_of(figure);
                own.is_some() && dimension.is_some() && own != dimension
            });
            if ended || (other && clause > at) {
                break;
            }
            for (number, figure) in of.figures.iter().enumerate() {
                let base = of.says(PhraseMeaning::Of) && figure.unit.dimension().is_some() && number > 0;
                if figure.used == FigureUse::Stage && !base {
                    dimension = dimension.or(kind_of(figure));
                    places.push((clause, number));
                }
            }
        }
        places
    }

    /// The figures of the list that ends in a clause, before a place in the text: those that share its last unit.
    fn list_before(&self, at: usize, before: usize) -> Vec<Place> {
        let Some(last) = self.last_figure(at, before) else { return Vec::new() };
        let mut places = vec![last];
        let in_order = (0..=last.0).rev().flat_map(|clause| {
            (0..self.list[clause].figures.len()).rev().map(move |number| (clause, number))
        });
        for place in in_order.skip_while(|place| *place != last).skip(1) {
            let figure = &self.list[place.0].figures[place.1];
            let same_run = self.list[place.0].figures.len() > 1 && place.0 == places[0].0;
            let goes_on = self.list[place.0].group == self.list[at].group
                && figure.used == FigureUse::Stage
                && (figure.unit == FigureMeasure::Unsaid || same_run)
                && !self.list[places[0].0].figures[places[0].1].list_ended;
            if !goes_on {
                break;
            }
            places.insert(0, place);
        }
        places
    }

    /// A unit that is given at the end of a list counts for the whole of it.
    pub fn share_units(&mut self) {
        let mut open: Vec<Place> = Vec::new();
        let mut group = None;
        for clause in 0..self.list.len() {
            if self.list[clause].group != group {
                self.ask_units(&mut open);
                group.clone_from(&self.list[clause].group);
            }
            for number in 0..self.list[clause].figures.len() {
                let place = (clause, number);
                if self.figure(place).list_ended {
                    self.ask_units(&mut open);
                }
                match self.figure(place).unit {
                    FigureMeasure::Unsaid => open.push(place),
                    FigureMeasure::Apart => {}
                    FigureMeasure::In(unit)
                        if matches!(unit.dimension, Dimension::Angle | Dimension::Time) =>
                    {
                        self.ask_units(&mut open);
                    }
                    given => {
                        for place in open.drain(..) {
                            self.figure(place).unit = given;
                            if given == FigureMeasure::Percent {
                                let at = self.figure(place).at.clone();
                                self.set_role(&at, NumberRole::Percent);
                            }
                        }
                    }
                }
            }
        }
        self.ask_units(&mut open);
    }

    /// Asks for the unit of figures that were given without one.
    fn ask_units(&mut self, open: &mut Vec<Place>) {
        for place in open.drain(..) {
            let figure = self.figure(place);
            figure.unit = FigureMeasure::Apart;
            let at = figure.at.clone();
            self.ask(at, message!("procedure-what-unit-missing-such-as-n"));
        }
    }

    /// Percentages are of the figure that is named with them.
    pub fn share_percentages(&mut self) {
        let mut open: Vec<Place> = Vec::new();
        let mut whole: Option<WrittenFigure> = None;
        for clause in 0..self.list.len() {
            let of = &self.list[clause];
            let percents =
                (0..of.figures.len()).filter(|number| of.figures[*number].unit == FigureMeasure::Percent);
            let before = open.len();
            open.extend(percents.map(|number| (clause, number)));
            if open.len() == before {
                continue;
            }
            if of.says(PhraseMeaning::Of)
                && let Some(number) = of.figures.iter().rposition(|figure| figure.unit.unit().is_some())
            {
                let base = self.figure((clause, number));
                whole = Some(base.clone());
                base.unit = FigureMeasure::Apart;
                let at = base.at.clone();
                self.set_role(&at, NumberRole::Percent);
            }
            if let Some(of) = &whole {
                for place in open.drain(..) {
                    let figure = self.figure(place);
                    figure.low *= of.low / 100.0;
                    figure.high = figure.high.map(|high| high * of.low / 100.0);
                    figure.unit = of.unit;
                    figure.tolerance = figure.tolerance.or(of.tolerance);
                }
            }
        }
        for place in open {
            self.figure(place).unit = FigureMeasure::Apart;
            let at = self.figure(place).at.clone();
            self.ask(at, message!("procedure-what-say-as-50-75-100"));
        }
    }
}

impl LineClause {
    /// Whether its words say nothing that ends a list of figures.
    fn only_lists(&self) -> bool {
        let lists = |mark: &PhraseMeaning| {
            mark.continues_list()
                || matches!(mark, PhraseMeaning::Pattern(_) | PhraseMeaning::Lubricant(_) | PhraseMeaning::Of)
        };
        self.marks.iter().all(lists) && self.action.is_none()
    }
}

/// What a figure of a list measures; percentages are of a kind of their own.
fn kind_of(figure: &WrittenFigure) -> Option<Dimension> {
    match figure.unit {
        FigureMeasure::Percent => Some(Dimension::Ratio),
        unit => unit.dimension(),
    }
}

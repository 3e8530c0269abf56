//! How the clearances of an engine stand, from the readings that count.

use super::super::state::State;
use super::{Measured, Shells};
use crate::clearance::{
    Chamber, Decision, Diameter, Form, FormError, Gauge, ShellChoice, Window, choose_shells, compression,
    decide, expanded_uncertainty, nearest_valve_approach, oil_clearance, propagated, strip_clearance,
    to_file,
};
use crate::plan::{Clearance, Cylinder, Place, Rule, Site, Size};
use serde::Serialize;

/// Where two methods may be apart by more than their instruments explain, mm: how a strip is read.
const STRIP_READING_MM: f64 = 0.006;

/// What a second method says of a clearance.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SecondMethod {
    /// The clearance by it, mm.
    pub value_mm: f64,
    /// Between both ends of the strip, mm.
    pub taper_mm: f64,
    /// Whether it agrees with the first within both uncertainties.
    pub agrees: bool,
    /// Which method to trust, where they disagree.
    pub trust: String,
}

/// The clearance at one plane along the axis.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Position {
    /// What the plane is called.
    pub name: String,
    /// The mean clearance there, mm.
    pub value_mm: f64,
}

/// One point of a series over the crank angle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mark {
    /// Degrees after top dead centre.
    pub crank_deg: f64,
    /// What was read there, mm; none while it is open.
    pub value_mm: Option<f64>,
}

/// One member of a clearance.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClearanceView {
    /// Key of the clearance.
    pub id: String,
    /// What it is called, such as `Main bearing oil clearance`.
    pub name: String,
    /// Which member, from 1.
    pub number: usize,
    /// Keys of the families of sites that it rests on, a second method included.
    pub families: Vec<String>,
    /// Whether its figures are plain ratios and not lengths in mm.
    pub ratio: bool,
    /// The least, mean and most; none until everything it needs is measured.
    pub span: Option<[f64; 3]>,
    /// Expanded uncertainty U (k = 2) of it.
    pub uncertainty: f64,
    /// What may be said about it.
    pub decision: Option<Decision>,
    /// The clearance at each plane along the axis, where there are several.
    pub positions: Vec<Position>,
    /// A series over the crank angle, where it is the least of one.
    pub series: Vec<Mark>,
    /// Form of the larger part, where it was measured at several places.
    pub plus_form: Option<FormError>,
    /// Form of the smaller part, where it was measured at several places.
    pub minus_form: Option<FormError>,
    /// Where it has to lie; none while the bore that it goes by is not measured.
    pub window: Option<Window>,
    /// What is still to be filed off, mm, where it is filed and not inside yet.
    pub to_file_mm: Option<f64>,
    /// A second method, where it was used.
    pub second: Option<SecondMethod>,
    /// Grades of shells to choose from, where it has any.
    pub grades: Vec<String>,
    /// Shells of each grade at hand, where they were counted.
    pub stock: Vec<Option<u32>>,
    /// Shells chosen, where it has any.
    pub shells: Option<Shells>,
    /// Shells proposed, where it has any and its sizes are known.
    pub proposed: Option<Shells>,
    /// The clearance that the proposal gives, mm.
    pub proposed_mm: Option<f64>,
    /// The last entry it rests on.
    #[serde(skip)]
    pub last_seq: u64,
    /// Whether a lead stands for it.
    pub accepted: bool,
}

impl ClearanceView {
    /// Its name among the matters of a build.
    pub(super) fn subject(&self) -> String {
        subject(&self.id, self.number)
    }
}

fn subject(clearance: &str, number: usize) -> String {
    format!("{clearance}/{number}")
}

/// What the readings of a clearance come to.
#[derive(Default)]
struct Figure {
    span: Option<[f64; 3]>,
    uncertainty: f64,
    positions: Vec<Position>,
    series: Vec<Mark>,
    plus_form: Option<FormError>,
    minus_form: Option<FormError>,
}

impl State {
    /// The readings that count on a site.
    fn readings(&self, site: usize) -> impl Iterator<Item = &Measured> {
        (0..self.plan.sites[site].places.len()).filter_map(move |place| self.reading(site, place))
    }

    /// The readings of a site that is wholly measured.
    fn whole(&self, site: usize) -> Option<Vec<&Measured>> {
        let readings: Vec<&Measured> = self.readings(site).collect();
        (readings.len() == self.plan.sites[site].places.len()).then_some(readings)
    }

    fn mean(&self, site: usize) -> Option<f64> {
        Form::of(&values(&self.whole(site)?)).map(|form| form.mean_mm)
    }

    /// The site of a family that belongs to a member, counted from 0.
    fn site_of(&self, family: &str, member: usize) -> Option<usize> {
        self.plan.family(family).nth(member).map(|(site, _)| site)
    }

    /// Every clearance of the plan, or those that rest on some sites.
    pub fn clearances(&self, of: Option<&[usize]>) -> Vec<ClearanceView> {
        let rests = |clearance: &Clearance, sites: &[usize]| {
            clearance
                .all_families()
                .any(|family| sites.iter().any(|&site| self.plan.sites[site].family == family))
        };
        let wanted = |clearance: &&Clearance| of.is_none_or(|sites| rests(clearance, sites));
        self.plan.clearances.iter().filter(wanted).flat_map(|clearance| self.members(clearance)).collect()
    }

    /// Every member of one clearance.
    pub(in crate::build) fn members(&self, clearance: &Clearance) -> Vec<ClearanceView> {
        let Some(window) = clearance.window_for(self.use_for.as_deref()) else { return Vec::new() };
        let mut views: Vec<ClearanceView> =
            (0..self.plan.members(clearance)).map(|member| self.member(clearance, member, window)).collect();
        self.propose(clearance, window, &mut views);
        views
    }

    fn member(&self, clearance: &Clearance, member: usize, window: &Window) -> ClearanceView {
        let number = member + 1;
        let chosen = self.shells.get(&(clearance.id.clone(), number));
        let shells = chosen.map(|chosen| chosen.shells.clone());
        let figure = match &clearance.rule {
            Rule::Difference { plus, minus, add_mm } => {
                let between = shells_between(clearance, shells.as_ref()).map(|shells_mm| shells_mm - add_mm);
                self.difference(member, plus, minus.as_deref(), between)
            }
            Rule::Least { of } => self.site_of(of, member).map(|site| self.least(site)).unwrap_or_default(),
            Rule::Compression(cylinder) => self.compression(cylinder, member).unwrap_or_default(),
        };
        let window = match &clearance.per_bore {
            None => Some(*window),
            Some(family) => {
                let bore = self.site_of(family, member).and_then(|site| self.mean(site));
                bore.map(|bore| window.times(bore))
            }
        };
        let judged = figure.span.zip(window).map(|([least, mean, most], window)| {
            let u = figure.uncertainty;
            (worst(decide(least, u, &window), decide(most, u, &window)), mean, window)
        });
        let short = judged.filter(|(decision, mean, window)| {
            clearance.filed && *decision != Decision::Inside && *mean < window.target
        });
        let sites: Vec<usize> =
            clearance.families().filter_map(|family| self.site_of(family, member)).collect();
        let used = || sites.iter().flat_map(|&site| self.readings(site));
        let last_seq = used().map(|m| m.stamp.seq).chain(chosen.map(|chosen| chosen.stamp.seq)).max();
        let last_seq = last_seq.unwrap_or(0);
        ClearanceView {
            id: clearance.id.clone(),
            name: clearance.name.clone(),
            number,
            families: clearance.all_families().map(str::to_owned).collect(),
            ratio: clearance.is_ratio(),
            span: figure.span,
            uncertainty: figure.uncertainty,
            decision: judged.map(|(decision, ..)| decision),
            positions: figure.positions,
            series: figure.series,
            plus_form: figure.plus_form,
            minus_form: figure.minus_form,
            window,
            to_file_mm: short.map(|(_, mean, window)| to_file(window.target, mean)),
            second: self.second(clearance, member, figure.span, figure.uncertainty),
            grades: clearance.shells.iter().map(|grade| grade.name.clone()).collect(),
            stock: self.stock_of(clearance),
            shells,
            proposed: None,
            proposed_mm: None,
            last_seq,
            accepted: self.stands_for(&subject(&clearance.id, number), last_seq)
                || used().any(|m| m.accepted.is_some()),
        }
    }

    /// One size less another, less what lies between; `between` is `None` while the shells are not
    /// chosen.
    fn difference(&self, member: usize, plus: &str, minus: Option<&str>, between: Option<f64>) -> Figure {
        let of = |family: &str| self.site_of(family, member).and_then(|site| self.whole(site));
        let (larger, smaller) = (of(plus), minus.map_or_else(|| Some(Vec::new()), of));
        let read = larger.iter().flatten().last().into_iter().chain(smaller.iter().flatten().last());
        let uncertainty = expanded_uncertainty(read.map(|measured| gauge(measured)));
        let plus_form = larger.as_deref().and_then(|readings| self.form_error(readings));
        let minus_form = smaller.as_deref().and_then(|readings| self.form_error(readings));
        let (Some(larger), Some(smaller), Some(between)) = (larger, smaller, between) else {
            return Figure { uncertainty, plus_form, minus_form, ..Figure::default() };
        };
        let nothing = Form { min_mm: 0.0, mean_mm: 0.0, max_mm: 0.0 };
        let taken_off = Form::of(&values(&smaller)).unwrap_or(nothing);
        let span = Form::of(&values(&larger)).map(|bore| {
            let clearance = oil_clearance(&bore, &taken_off, between);
            [clearance.min_mm, clearance.mean_mm, clearance.max_mm]
        });
        let positions = self.positions(&larger, &smaller, taken_off.mean_mm + between);
        Figure { span, uncertainty, positions, series: Vec::new(), plus_form, minus_form }
    }

    /// The clearance at each plane of the larger part: against the same plane of the smaller one
    /// where it has one of that name.
    fn positions(&self, larger: &[&Measured], smaller: &[&Measured], usual_mm: f64) -> Vec<Position> {
        let plane = |measured: &Measured| &self.plan.sites[measured.site].places[measured.place];
        let mean_in = |readings: &[&Measured], name: &str| {
            let there = readings.iter().filter(|m| plane(m).plane_name == name);
            Form::of(&there.map(|m| m.value).collect::<Vec<_>>()).map(|form| form.mean_mm)
        };
        let whole_mm = Form::of(&values(smaller)).map_or(0.0, |form| form.mean_mm);
        let mut positions: Vec<Position> = Vec::new();
        for measured in larger.iter().filter(|m| plane(m).planes > 1) {
            let name = &plane(measured).plane_name;
            if positions.iter().any(|position| position.name == *name) {
                continue;
            }
            let there = mean_in(smaller, name).map_or(usual_mm, |there| usual_mm - whole_mm + there);
            let bore = mean_in(larger, name).unwrap_or_default();
            positions.push(Position { name: name.clone(), value_mm: bore - there });
        }
        positions
    }

    fn form_error(&self, readings: &[&Measured]) -> Option<FormError> {
        let of = |measured: &&Measured| {
            let place = &self.plan.sites[measured.site].places[measured.place];
            Diameter { plane: place.plane, direction_deg: place.angle_deg, value_mm: measured.value }
        };
        (readings.len() > 1).then(|| FormError::of(&readings.iter().map(of).collect::<Vec<_>>()))
    }

    /// The least of a series over the crank angle; what was read so far is shown before it is whole.
    fn least(&self, site: usize) -> Figure {
        let places = self.plan.sites[site].places.iter().enumerate();
        let mark = |(place, planned): (usize, &Place)| {
            let value_mm = self.reading(site, place).map(|measured| measured.value);
            Some(Mark { crank_deg: planned.crank_deg?, value_mm })
        };
        let series: Vec<Mark> = places.filter_map(mark).collect();
        let points: Option<Vec<(f64, f64)>> =
            series.iter().map(|mark| Some((mark.crank_deg, mark.value_mm?))).collect();
        let least = points.and_then(|points| nearest_valve_approach(&points));
        Figure {
            span: least.map(|(_, least)| [least; 3]),
            uncertainty: expanded_uncertainty(self.readings(site).last().map(gauge)),
            series,
            ..Figure::default()
        }
    }

    fn compression(&self, cylinder: &Cylinder, member: usize) -> Option<Figure> {
        let size = |size: &Size| match size {
            Size::Fixed(value) => Some((*value, 0.0)),
            Size::Measured(family) => {
                let site = self.site_of(family, member)?;
                let u = expanded_uncertainty(self.readings(site).last().map(gauge));
                Some((self.mean(site)?, u))
            }
        };
        let sizes: Option<Vec<(f64, f64)>> = cylinder.sizes().into_iter().map(size).collect();
        let ratio = |values: &[f64]| {
            let [bore_mm, stroke_mm, chamber_cc, piston_cc, gasket_bore_mm, gasket_mm, deck_mm, crevice_cc] =
                *values
            else {
                return None;
            };
            let chamber = Chamber {
                bore_mm,
                stroke_mm,
                chamber_cc,
                piston_cc,
                gasket_bore_mm,
                gasket_mm,
                deck_mm,
                crevice_cc,
            };
            compression(&chamber).map(|volumes| volumes.ratio)
        };
        let sizes = sizes?;
        let value = ratio(&sizes.iter().map(|(value, _)| *value).collect::<Vec<_>>())?;
        let uncertainty = propagated(&sizes, ratio)?;
        Some(Figure { span: Some([value; 3]), uncertainty, ..Figure::default() })
    }

    fn second(
        &self,
        clearance: &Clearance,
        member: usize,
        span: Option<[f64; 3]>,
        uncertainty: f64,
    ) -> Option<SecondMethod> {
        let site = self.site_of(clearance.second.as_deref()?, member)?;
        let planned: &Site = &self.plan.sites[site];
        // A strip of no width says nothing: it was kept as read and leads to no clearance.
        let value = |m: &&Measured| match planned.strip_mm {
            Some(strip) => (m.value > 0.0).then(|| strip_clearance(strip, m.value)),
            None => Some(m.value),
        };
        let values: Option<Vec<f64>> = self.whole(site)?.iter().map(value).collect();
        let form = Form::of(&values?)?;
        let apart = span.map_or(0.0, |[_, mean, _]| (mean - form.mean_mm).abs());
        Some(SecondMethod {
            value_mm: form.mean_mm,
            taper_mm: form.spread_mm(),
            agrees: apart <= uncertainty.hypot(STRIP_READING_MM),
            trust: if clearance.trust_second { "second" } else { "first" }.to_owned(),
        })
    }

    /// Shells of each grade at hand, where they were counted.
    fn stock_of(&self, clearance: &Clearance) -> Vec<Option<u32>> {
        let of = |grade: &str| self.stock.get(&(clearance.id.clone(), grade.to_owned())).copied();
        clearance.shells.iter().map(|shell| of(&shell.name)).collect()
    }

    /// Proposes shells where the sizes of every bore are known.
    fn propose(&self, clearance: &Clearance, window: &Window, views: &mut [ClearanceView]) {
        let Rule::Difference { plus, minus: Some(minus), .. } = &clearance.rule else { return };
        if clearance.shells.is_empty() {
            return;
        }
        let pairs = self.plan.family(plus).zip(self.plan.family(minus));
        let rooms: Option<Vec<f64>> =
            pairs.map(|((bore, _), (journal, _))| Some(self.mean(bore)? - self.mean(journal)?)).collect();
        let Some(rooms) = rooms else { return };
        let choices = choose_shells(&rooms, &clearance.shells, &self.stock_of(clearance), window);
        for (view, ShellChoice { upper, lower, clearance_mm, .. }) in views.iter_mut().zip(choices) {
            let name = |grade: usize| clearance.shells[grade].name.clone();
            view.proposed = Some(Shells { upper: name(upper), lower: name(lower) });
            view.proposed_mm = Some(clearance_mm);
        }
    }
}

fn values(readings: &[&Measured]) -> Vec<f64> {
    readings.iter().map(|measured| measured.value).collect()
}

/// Thickness of the shells in between, mm; `None` while they are not chosen.
fn shells_between(clearance: &Clearance, chosen: Option<&Shells>) -> Option<f64> {
    if clearance.shells.is_empty() {
        return Some(0.0);
    }
    let thickness = |grade: &str| clearance.shells.iter().find(|s| s.name == grade).map(|s| s.thickness_mm);
    let chosen = chosen?;
    Some(thickness(&chosen.upper)? + thickness(&chosen.lower)?)
}

fn gauge(measured: &Measured) -> Gauge {
    Gauge { accuracy: measured.instrument.accuracy, resolution: measured.instrument.resolution }
}

fn worst(a: Decision, b: Decision) -> Decision {
    match (a, b) {
        (Decision::Outside, _) | (_, Decision::Outside) => Decision::Outside,
        (Decision::TooClose, _) | (_, Decision::TooClose) => Decision::TooClose,
        _ => Decision::Inside,
    }
}

//! What the readings of one member of a clearance come to, place by place.

use super::state::{PlacedReading, ShellSelection, SizeReadings};
use super::strip;
use super::sure::UncertainValue;
use crate::state::ledger::EntryLedger;
use rigore_mechanics::clearance::{
    BoreSize, Decision, DecisionRule, DiameterReading, FormDeviation, Window, decide, expanded_uncertainty,
    propagated,
};
use rigore_mechanics::geometry::{Chamber, compression, nearest_valve_approach};
use rigore_plan::{
    ChamberSpec, Clearance, ClearanceRule, FamilyIx, MeasuringPlace, Plan, PlannedValve, SiteIx, SizeSource,
};
use serde::Serialize;

/// The clearance at one plane along the axis.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClearancePosition {
    /// What the plane is called.
    pub name: String,
    /// The mean clearance there, mm.
    pub value_mm: f64,
}

/// One point of a series over the crank angle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SeriesPoint {
    /// Degrees after top dead centre.
    pub crank_deg: f64,
    /// What was read there, mm; none while it is open.
    pub value_mm: Option<f64>,
    /// What lift and position of the piston give there, mm, where the plan says so.
    pub computed_mm: Option<f64>,
}

/// What the readings of a clearance come to.
#[derive(Debug, Clone, Default)]
pub(super) struct ClearanceFigure {
    /// The value at every place, each with the uncertainty of what was read there; none until
    /// everything it needs is measured.
    pub values: Vec<UncertainValue>,
    /// The mean of the parts, less each other; what a place is off from it is form.
    pub mean: f64,
    /// The worst uncertainty of what was read so far.
    pub uncertainty: f64,
    pub positions: Vec<ClearancePosition>,
    /// What it is where a bore with its shells in is wider by design: shown, and not judged.
    pub parting_line: Vec<ClearancePosition>,
    pub series: Vec<SeriesPoint>,
    pub plus_form: Option<FormDeviation>,
    pub minus_form: Option<FormDeviation>,
}

impl ClearanceFigure {
    /// The least, mean and most.
    pub fn span(&self) -> Option<[f64; 3]> {
        let first = self.values.first()?.value;
        let fold = |pick: fn(f64, f64) -> f64| self.values.iter().map(|sure| sure.value).fold(first, pick);
        Some([fold(f64::min), self.mean, fold(f64::max)])
    }

    /// How far the values reach with their guard bands, to both sides.
    pub fn reach(&self, rule: DecisionRule) -> Option<[f64; 2]> {
        let low = self.values.iter().map(|sure| sure.value - rule.guard_band(sure.u)).reduce(f64::min)?;
        let high = self.values.iter().map(|sure| sure.value + rule.guard_band(sure.u)).reduce(f64::max)?;
        Some([low, high])
    }

    /// What may be said: the worst of what may be said of each place.
    pub fn decision(&self, window: &Window, rule: DecisionRule) -> Option<Decision> {
        let of_place = |sure: &UncertainValue| decide(sure.value, rule.guard_band(sure.u), window);
        self.values.iter().map(of_place).reduce(Decision::worse)
    }
}

/// Sizes of an engine against its plan.
#[derive(Clone, Copy)]
pub(super) struct EngineSizes<'a> {
    pub plan: &'a Plan,
    pub sizes: &'a SizeReadings,
    pub ledger: &'a EntryLedger,
    /// Whether what is read is worked on between readings, so that none repeats another.
    pub worked: bool,
}

impl<'a> EngineSizes<'a> {
    fn whole(self, family: FamilyIx, member: usize) -> Option<Vec<&'a PlacedReading>> {
        self.sizes.whole(self.plan, self.plan.member(family, member)?)
    }

    /// The mean of a site that is wholly measured.
    pub fn mean(self, family: FamilyIx, member: usize) -> Option<f64> {
        mean(&self.whole(family, member)?)
    }

    /// Standard uncertainty of a reading: that of its instrument, and how well it was repeated where it was.
    fn standard_uncertainty(self, reading: &PlacedReading) -> f64 {
        let repeats = if self.worked { 0.0 } else { self.sizes.repeatability(reading, self.ledger) };
        reading.value.gauge.standard_uncertainty().hypot(repeats)
    }

    /// The worst expanded uncertainty U (k = 2) among some readings.
    fn worst_of<'r>(self, readings: impl IntoIterator<Item = &'r PlacedReading>) -> f64 {
        let expanded = |reading| expanded_uncertainty([self.standard_uncertainty(reading)]);
        readings.into_iter().map(expanded).fold(0.0, f64::max)
    }

    fn place(self, reading: &PlacedReading) -> &'a MeasuringPlace {
        let (site, place) = reading.key;
        &self.plan[site].places[place]
    }

    /// What a member of a clearance comes to.
    pub fn figure(
        self,
        clearance: &Clearance,
        member: usize,
        shells: Option<&ShellSelection>,
    ) -> ClearanceFigure {
        let here = Self { worked: clearance.filed, ..self };
        match &clearance.rule {
            ClearanceRule::Difference { plus, minus, add_mm } => {
                let between = shells_between(clearance, shells).map(|shells_mm| shells_mm - add_mm);
                here.difference(member, *plus, *minus, between)
            }
            ClearanceRule::Least { of, valve } => {
                let least = |site| here.least(site, member, valve.as_deref());
                self.plan.member(*of, member).map(least).unwrap_or_default()
            }
            ClearanceRule::Compression(cylinder) => here.compression(cylinder, member).unwrap_or_default(),
        }
    }

    /// One size less another, less what lies between; `between` is `None` while the shells are not
    /// chosen. Equal places are paired: the bore at the front with the journal at the front.
    fn difference(
        self,
        member: usize,
        plus: FamilyIx,
        minus: Option<FamilyIx>,
        between: Option<f64>,
    ) -> ClearanceFigure {
        if let (Some((site, wire_mm)), None) = (self.strip(plus, member), minus) {
            return self.of_strip(site, wire_mm, between.unwrap_or_default());
        }
        let (larger, smaller) =
            (self.whole(plus, member), minus.map_or(Some(Vec::new()), |f| self.whole(f, member)));
        let worst = [&larger, &smaller].into_iter().map(|part| self.worst_of(part.iter().flatten().copied()));
        let unpaired = worst.fold(0.0, f64::hypot);
        let plus_form = larger.as_deref().and_then(|readings| self.form_error(readings));
        let minus_form = smaller.as_deref().and_then(|readings| self.form_error(readings));
        let (Some(larger), Some(smaller), Some(between)) = (larger, smaller, between) else {
            return ClearanceFigure {
                uncertainty: unpaired,
                plus_form,
                minus_form,
                ..ClearanceFigure::default()
            };
        };
        let (larger, parting): (Vec<&PlacedReading>, Vec<&PlacedReading>) =
            larger.into_iter().partition(|bore| self.judges(bore));
        let value = |bore: &PlacedReading, journal: Option<&PlacedReading>| UncertainValue {
            value: bore.value.value - journal.map_or(0.0, |journal| journal.value.value) - between,
            u: expanded_uncertainty(
                std::iter::once(bore).chain(journal).map(|of| self.standard_uncertainty(of)),
            ),
        };
        let values: Vec<UncertainValue> = if smaller.is_empty() {
            larger.iter().map(|bore| value(bore, None)).collect()
        } else {
            self.pairs(&larger, &smaller).map(|(bore, journal)| value(bore, Some(journal))).collect()
        };
        ClearanceFigure {
            uncertainty: values.iter().map(|sure| sure.u).fold(0.0, f64::max),
            mean: mean(&larger).unwrap_or_default() - mean(&smaller).unwrap_or_default() - between,
            positions: self.positions(&larger, &smaller, between),
            parting_line: self.parting_line(&parting, &smaller, between),
            values,
            series: Vec::new(),
            plus_form,
            minus_form,
        }
    }

    /// A site that is read on a plastic strip, with the diameter of its wire, mm.
    fn strip(self, family: FamilyIx, member: usize) -> Option<(SiteIx, f64)> {
        let site = self.plan.member(family, member)?;
        Some((site, self.plan[site].strip_mm?))
    }

    /// A clearance that rests on strip alone.
    fn of_strip(self, site: SiteIx, wire_mm: f64, between: f64) -> ClearanceFigure {
        let readings: Vec<&PlacedReading> = self.sizes.readings_on(self.plan, site).collect();
        let told: Vec<UncertainValue> =
            readings.iter().filter_map(|of| strip::clearance(wire_mm, of.value.value)).collect();
        let uncertainty = told.iter().map(|sure| sure.u).fold(0.0, f64::max);
        if told.is_empty() || told.len() < self.plan[site].places.len() {
            return ClearanceFigure { uncertainty, ..ClearanceFigure::default() };
        }
        let values: Vec<UncertainValue> =
            told.iter().map(|sure| UncertainValue { value: sure.value - between, ..*sure }).collect();
        let named = readings.iter().zip(&values).filter(|(reading, _)| self.place(reading).planes > 1);
        let positions = named.map(|(reading, sure)| ClearancePosition {
            name: self.place(reading).plane_name.clone(),
            value_mm: sure.value,
        });
        ClearanceFigure {
            mean: values.iter().map(|sure| sure.value).sum::<f64>()
                / f64::from(u32::try_from(values.len()).unwrap_or(1)),
            positions: positions.collect(),
            values,
            uncertainty,
            ..ClearanceFigure::default()
        }
    }

    /// Every reading of one part with those of the other at an equal place: the same plane and the
    /// same direction; where there is none of that direction, all of that plane; where there is none
    /// of that plane, all.
    fn pairs<'r>(
        self,
        larger: &'r [&'a PlacedReading],
        smaller: &'r [&'a PlacedReading],
    ) -> impl Iterator<Item = (&'a PlacedReading, &'a PlacedReading)> + use<'a, 'r> {
        let equal = move |a: &PlacedReading, b: &PlacedReading| {
            let (a, b) = (self.place(a), self.place(b));
            (same_plane(a, b), same_plane(a, b) && a.angle_deg == b.angle_deg)
        };
        let closest =
            move |reading: &'a PlacedReading, others: &'r [&'a PlacedReading]| -> Vec<&'a PlacedReading> {
                let kept = |keep: &dyn Fn((bool, bool)) -> bool| -> Vec<&'a PlacedReading> {
                    others.iter().copied().filter(|other| keep(equal(reading, other))).collect()
                };
                let alike = kept(&|(_, place)| place);
                let alike = if alike.is_empty() { kept(&|(plane, _)| plane) } else { alike };
                if alike.is_empty() { others.to_vec() } else { alike }
            };
        let of_larger = larger
            .iter()
            .flat_map(move |bore| closest(bore, smaller).into_iter().map(move |journal| (*bore, journal)));
        // A place of the smaller part that no place of the larger one took counts too.
        let left_over = smaller.iter().flat_map(move |journal| {
            let taken = larger.iter().any(|bore| closest(bore, smaller).iter().any(|j| j.seq == journal.seq));
            let bores = if taken { Vec::new() } else { closest(journal, larger) };
            bores.into_iter().map(move |bore| (bore, *journal))
        });
        of_larger.chain(left_over)
    }

    /// The mean clearance at each plane of the larger part: against the same plane of the smaller one
    /// where it has one.
    fn positions(
        self,
        larger: &[&PlacedReading],
        smaller: &[&PlacedReading],
        between: f64,
    ) -> Vec<ClearancePosition> {
        let mut positions: Vec<ClearancePosition> = Vec::new();
        for bore in larger.iter().filter(|bore| self.place(bore).planes > 1) {
            let place = self.place(bore);
            if positions.iter().any(|position| position.name == place.plane_name) {
                continue;
            }
            let in_plane = |readings: &[&PlacedReading]| {
                let there = readings.iter().filter(|reading| same_plane(place, self.place(reading)));
                BoreSize::of(&there.map(|reading| reading.value.value).collect::<Vec<_>>())
                    .map(|form| form.mean_mm)
            };
            let taken_off = in_plane(smaller).or_else(|| mean(smaller)).unwrap_or_default();
            let value_mm = in_plane(larger).unwrap_or_default() - taken_off - between;
            positions.push(ClearancePosition { name: place.plane_name.clone(), value_mm });
        }
        positions
    }

    /// The clearance at each place of a bore with its shells in that lies at the parting line.
    fn parting_line(
        self,
        parting: &[&PlacedReading],
        smaller: &[&PlacedReading],
        between: f64,
    ) -> Vec<ClearancePosition> {
        let position = |bore: &&PlacedReading| {
            let place = self.place(bore);
            let there: Vec<&PlacedReading> =
                smaller.iter().copied().filter(|reading| same_plane(place, self.place(reading))).collect();
            let journal = mean(&there).or_else(|| mean(smaller)).unwrap_or_default();
            ClearancePosition { name: place.name.clone(), value_mm: bore.value.value - journal - between }
        };
        parting.iter().map(position).collect()
    }

    fn judges(self, reading: &PlacedReading) -> bool {
        self.plan[reading.key.0].judges(self.place(reading))
    }

    fn form_error(self, readings: &[&PlacedReading]) -> Option<FormDeviation> {
        let of = |reading: &&PlacedReading| {
            let place = self.place(reading);
            DiameterReading {
                plane: place.plane,
                direction_deg: place.angle_deg,
                value_mm: reading.value.value,
            }
        };
        let judged = readings.iter().filter(|reading| self.judges(reading)).map(of).collect::<Vec<_>>();
        (judged.len() > 1).then(|| FormDeviation::of(&judged))
    }

    /// The least of a series over the crank angle; what was read so far is shown before it is whole.
    fn least(self, site: SiteIx, member: usize, valve: Option<&PlannedValve>) -> ClearanceFigure {
        let places = self.plan[site].places.iter().enumerate();
        let mark = |(place, planned): (usize, &MeasuringPlace)| {
            let value_mm = self.sizes.reading(site, place).map(|reading| reading.value.value);
            let crank_deg = planned.crank_deg?;
            let computed_mm = valve.and_then(|valve| self.over_piston(valve, member, crank_deg, place));
            Some(SeriesPoint { crank_deg, value_mm, computed_mm })
        };
        let series: Vec<SeriesPoint> = places.filter_map(mark).collect();
        let points: Option<Vec<(f64, f64)>> =
            series.iter().map(|mark| Some((mark.crank_deg, mark.value_mm?))).collect();
        let least = points.and_then(|points| nearest_valve_approach(&points));
        let u = self.worst_of(self.sizes.readings_on(self.plan, site));
        ClearanceFigure {
            values: least.iter().map(|(_, least)| UncertainValue { value: *least, u }).collect(),
            mean: least.map_or(0.0, |(_, least)| least),
            uncertainty: u,
            series,
            ..ClearanceFigure::default()
        }
    }

    /// How far a valve is from the piston by its lift at a place of its series.
    fn over_piston(self, valve: &PlannedValve, member: usize, crank_deg: f64, place: usize) -> Option<f64> {
        let shut_mm = match &valve.shut {
            SizeSource::Fixed(value) => *value,
            SizeSource::Measured(family) => self.mean(*family, member)?,
        };
        valve.geometry.clearance_mm(shut_mm, crank_deg, *valve.lifts_mm.get(place)?)
    }

    fn compression(self, cylinder: &ChamberSpec, member: usize) -> Option<ClearanceFigure> {
        let size = |size: &SizeSource| match size {
            SizeSource::Fixed(value) => Some((*value, 0.0)),
            SizeSource::Measured(family) => {
                let readings = self.whole(*family, member)?;
                Some((mean(&readings)?, self.worst_of(readings)))
            }
        };
        let sizes = cylinder.sizes().into_iter().map(size).collect::<Option<Vec<(f64, f64)>>>()?;
        let value = ratio(&sizes.iter().map(|(value, _)| *value).collect::<Vec<_>>())?;
        let u = propagated(&sizes, ratio)?;
        Some(ClearanceFigure {
            values: vec![UncertainValue { value, u }],
            mean: value,
            uncertainty: u,
            ..ClearanceFigure::default()
        })
    }
}

/// The compression ratio of a cylinder's sizes, in the order of [`ChamberSpec::sizes`].
fn ratio(values: &[f64]) -> Option<f64> {
    let [bore_mm, stroke_mm, chamber_cc, piston_cc, gasket_bore_mm, gasket_mm, deck_mm, crevice_cc] = *values
    else {
        return None;
    };
    let chamber =
        Chamber { bore_mm, stroke_mm, chamber_cc, piston_cc, gasket_bore_mm, gasket_mm, deck_mm, crevice_cc };
    compression(&chamber).map(|volumes| volumes.ratio)
}

/// Whether two places lie in one plane along the axis: they are called the same, or one part was read
/// in one plane only.
fn same_plane(a: &MeasuringPlace, b: &MeasuringPlace) -> bool {
    a.plane_name == b.plane_name || a.planes == 1 || b.planes == 1
}

fn mean(readings: &[&PlacedReading]) -> Option<f64> {
    let values: Vec<f64> = readings.iter().map(|reading| reading.value.value).collect();
    BoreSize::of(&values).map(|form| form.mean_mm)
}

/// Thickness of the shells in between, mm; `None` while they are not chosen.
fn shells_between(clearance: &Clearance, chosen: Option<&ShellSelection>) -> Option<f64> {
    if clearance.shells.is_empty() {
        return Some(0.0);
    }
    let thickness = |grade: &str| clearance.shells.iter().find(|s| s.name == grade).map(|s| s.thickness_mm);
    let chosen = chosen?;
    Some(thickness(&chosen.upper)? + thickness(&chosen.lower)?)
}

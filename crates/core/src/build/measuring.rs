//! What was measured on an engine, and how its clearances stand.

use super::event::{Instrument, Method};
use super::state::{Stamp, State, Voided};
use crate::clearance::{
    Decision, Form, Gauge, ShellChoice, Window, choose_shells, decide, expanded_uncertainty, oil_clearance,
    strip_clearance,
};
use crate::plan::{Clearance, Site};
use serde::Serialize;
use std::sync::Arc;

/// Where two methods may be apart by more than their instruments explain, mm: how a strip is read.
const STRIP_READING_MM: f64 = 0.006;

/// One reading at one place of a site.
#[derive(Debug, Clone, PartialEq)]
pub struct Measured {
    /// Who, when and which entry.
    pub stamp: Stamp,
    /// The operation, by index.
    pub operation: usize,
    /// The site, by index.
    pub site: usize,
    /// The place on it.
    pub place: usize,
    /// What was read, mm.
    pub read_mm: f64,
    /// The same at 20 °C, mm.
    pub value_mm: f64,
    /// Temperature of the part, °C, where it was given.
    pub temperature_c: Option<f64>,
    /// What a person typed, to the letter.
    pub entered: Option<String>,
    /// Whether it is outside the plausible range and was kept on purpose.
    pub unlikely: bool,
    /// How it came in.
    pub method: Method,
    /// With what.
    pub instrument: Arc<Instrument>,
    /// Set when it does not count.
    pub voided: Option<Voided>,
    /// Set when a lead stands for the clearance it leads to.
    pub accepted: Option<Voided>,
}

/// Shells chosen for one bore, by grade.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Shells {
    /// Grade of the upper shell.
    pub upper: String,
    /// Grade of the lower shell.
    pub lower: String,
}

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
    /// The least, mean and most, mm; none until everything it needs is measured.
    pub span_mm: Option<[f64; 3]>,
    /// Expanded uncertainty U (k = 2) of the readings, mm.
    pub uncertainty_mm: f64,
    /// What may be said about it.
    pub decision: Option<Decision>,
    /// Largest less smallest reading of the larger part, mm.
    pub plus_form_mm: f64,
    /// Largest less smallest reading of the smaller part, mm.
    pub minus_form_mm: f64,
    /// Where it has to lie.
    pub window: Window,
    /// A second method, where it was used.
    pub second: Option<SecondMethod>,
    /// Grades of shells to choose from, where it has any.
    pub grades: Vec<String>,
    /// Shells chosen, where it has any.
    pub shells: Option<Shells>,
    /// Shells proposed, where it has any and its sizes are known.
    pub proposed: Option<Shells>,
    /// The clearance that the proposal gives, mm.
    pub proposed_mm: Option<f64>,
    /// The last reading it rests on.
    #[serde(skip)]
    pub last_seq: u64,
    /// Whether a lead stands for it.
    pub accepted: bool,
}

impl State {
    /// The reading that counts at a place: the last one that was not voided.
    pub fn reading(&self, site: usize, place: usize) -> Option<&Measured> {
        let at = self.latest.get(site)?.get(place).copied().flatten()?;
        self.measured.get(at)
    }

    /// The readings that count on a site.
    fn readings(&self, site: usize) -> impl Iterator<Item = &Measured> {
        (0..self.plan.sites[site].places.len()).filter_map(move |place| self.reading(site, place))
    }

    fn whole(&self, site: usize) -> Option<Vec<&Measured>> {
        let readings: Vec<&Measured> = self.readings(site).collect();
        (readings.len() == self.plan.sites[site].places.len()).then_some(readings)
    }

    /// Every clearance of the plan, or those that rest on some sites.
    pub fn clearances(&self, of: Option<&[usize]>) -> Vec<ClearanceView> {
        let wanted = |clearance: &&Clearance| {
            let families = [Some(&clearance.plus), clearance.minus.as_ref(), clearance.second.as_ref()];
            let rests = |sites: &[usize]| {
                let named =
                    |site: &usize| families.iter().flatten().any(|f| **f == self.plan.sites[*site].family);
                sites.iter().any(named)
            };
            of.is_none_or(rests)
        };
        self.plan.clearances.iter().filter(wanted).flat_map(|clearance| self.members(clearance)).collect()
    }

    fn members(&self, clearance: &Clearance) -> Vec<ClearanceView> {
        let Some(window) = clearance.window_for(self.use_for.as_deref()) else { return Vec::new() };
        let plus: Vec<(usize, &Site)> = self.plan.family(&clearance.plus).collect();
        let minus = clearance.minus.as_deref().map(|family| self.plan.family(family).collect::<Vec<_>>());
        let second = clearance.second.as_deref().map(|family| self.plan.family(family).collect::<Vec<_>>());
        let mut views: Vec<ClearanceView> = Vec::new();
        for (at, (site, planned)) in plus.iter().enumerate() {
            let other = minus.as_ref().and_then(|sites| sites.get(at)).map(|(site, _)| *site);
            let strip = second.as_ref().and_then(|sites| sites.get(at)).copied();
            views.push(self.member(clearance, planned.number, (*site, other), strip, window));
        }
        self.propose(clearance, window, &mut views);
        views
    }

    fn member(
        &self,
        clearance: &Clearance,
        number: usize,
        (plus, minus): (usize, Option<usize>),
        strip: Option<(usize, &Site)>,
        window: &Window,
    ) -> ClearanceView {
        let shells = self.shells.get(&(clearance.id.clone(), number)).cloned();
        let larger = self.whole(plus);
        let smaller = minus.map(|site| self.whole(site));
        let form =
            |readings: &[&Measured]| Form::of(&readings.iter().map(|m| m.value_mm).collect::<Vec<_>>());
        let used: Vec<&Measured> =
            larger.iter().flatten().chain(smaller.iter().flatten().flatten()).copied().collect();
        let plus_form = larger.as_deref().and_then(form);
        let minus_form = smaller.as_ref().and_then(|readings| readings.as_deref().and_then(form));
        let none = Form { min_mm: 0.0, mean_mm: 0.0, max_mm: 0.0 };
        let taken_off = if minus.is_some() { minus_form } else { Some(none) };
        let between = shells_between(clearance, shells.as_ref());
        let span_mm = plus_form.zip(taken_off).zip(between).map(|((bore, journal), shells_mm)| {
            let c = oil_clearance(&bore, &journal, shells_mm);
            [c.min_mm, c.mean_mm, c.max_mm]
        });
        let gauges = [larger.as_ref().and_then(|r| r.last()), smaller.iter().flatten().flatten().last()];
        let uncertainty_mm = expanded_uncertainty(gauges.into_iter().flatten().map(|m| gauge(m)));
        ClearanceView {
            id: clearance.id.clone(),
            name: clearance.name.clone(),
            number,
            decision: span_mm.map(|[least, _, most]| {
                worst(decide(least, uncertainty_mm, window), decide(most, uncertainty_mm, window))
            }),
            second: strip
                .and_then(|(site, planned)| self.second(clearance, site, planned, span_mm, uncertainty_mm)),
            span_mm,
            uncertainty_mm,
            plus_form_mm: plus_form.map_or(0.0, |form| form.spread_mm()),
            minus_form_mm: minus_form.map_or(0.0, |form| form.spread_mm()),
            window: *window,
            grades: clearance.shells.iter().map(|grade| grade.name.clone()).collect(),
            shells,
            proposed: None,
            proposed_mm: None,
            last_seq: used.iter().map(|m| m.stamp.seq).max().unwrap_or(0),
            accepted: used.iter().any(|m| m.accepted.is_some()),
        }
    }

    fn second(
        &self,
        clearance: &Clearance,
        site: usize,
        planned: &Site,
        span_mm: Option<[f64; 3]>,
        uncertainty_mm: f64,
    ) -> Option<SecondMethod> {
        let readings = self.whole(site)?;
        let value =
            |m: &&Measured| planned.strip_mm.map_or(m.value_mm, |strip| strip_clearance(strip, m.value_mm));
        let form = Form::of(&readings.iter().map(value).collect::<Vec<_>>())?;
        let apart = span_mm.map_or(0.0, |[_, mean, _]| (mean - form.mean_mm).abs());
        Some(SecondMethod {
            value_mm: form.mean_mm,
            taper_mm: form.spread_mm(),
            agrees: apart <= uncertainty_mm.hypot(STRIP_READING_MM),
            trust: if clearance.trust_second { "second" } else { "first" }.to_owned(),
        })
    }

    /// Proposes shells where the sizes of every bore are known.
    fn propose(&self, clearance: &Clearance, window: &Window, views: &mut [ClearanceView]) {
        let Some(minus) = &clearance.minus else { return };
        if clearance.shells.is_empty() {
            return;
        }
        let mean = |site: usize| {
            let values: Vec<f64> = self.whole(site)?.iter().map(|m| m.value_mm).collect();
            Form::of(&values).map(|form| form.mean_mm)
        };
        let pairs = self.plan.family(&clearance.plus).zip(self.plan.family(minus));
        let rooms: Option<Vec<f64>> =
            pairs.map(|((bore, _), (journal, _))| Some(mean(bore)? - mean(journal)?)).collect();
        let Some(rooms) = rooms else { return };
        let choices = choose_shells(&rooms, &clearance.shells, window);
        for (view, ShellChoice { upper, lower, clearance_mm, .. }) in views.iter_mut().zip(choices) {
            let name = |grade: usize| clearance.shells[grade].name.clone();
            view.proposed = Some(Shells { upper: name(upper), lower: name(lower) });
            view.proposed_mm = Some(clearance_mm);
        }
    }
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
    Gauge { accuracy_mm: measured.instrument.accuracy_mm, resolution_mm: measured.instrument.resolution_mm }
}

fn worst(a: Decision, b: Decision) -> Decision {
    match (a, b) {
        (Decision::Outside, _) | (_, Decision::Outside) => Decision::Outside,
        (Decision::TooClose, _) | (_, Decision::TooClose) => Decision::TooClose,
        _ => Decision::Inside,
    }
}

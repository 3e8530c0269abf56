//! Every size that was read, and the shells that were chosen.

use crate::events::{ChooseShells, CountShells, Instrument, Measured, Method};
use crate::instruments::fit::{Need, Unfit, Using};
use crate::state::ledger::Ledger;
use crate::state::series::{Entry, Series};
use crate::state::thing::Thing;
use rigore_mechanics::clearance::{Gauge, repeatability, repeats, to_reference_temperature};
use rigore_plan::{ClearanceIx, OperationIx, Plan, SiteIx, Work};
use serde::Serialize;
use std::sync::Arc;

/// One reading at one place of a site.
#[derive(Debug, Clone)]
pub(crate) struct Reading {
    /// The operation it was recorded in.
    pub operation: OperationIx,
    /// What was read, mm or cm³; with the set master where it was read against one.
    pub read: f64,
    /// The same at 20 °C.
    pub value: f64,
    /// The set master it was read against, where it was.
    pub master: Option<f64>,
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
    /// How well that measures such a thing.
    pub gauge: Gauge,
    /// Why the instrument does not fit, where it does not (C-7).
    pub unfit: Option<Unfit>,
}

/// A reading with its place and entry.
pub(crate) type Placed = Entry<(SiteIx, usize), Reading>;

/// Shells for one bore, by grade.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Shells {
    /// Grade of the upper shell.
    pub upper: String,
    /// Grade of the lower shell.
    pub lower: String,
}

/// Every size of an engine.
#[derive(Debug, Clone, Default)]
pub(crate) struct Sizes {
    /// Readings by site and place.
    pub readings: Series<(SiteIx, usize), Reading>,
    /// Shells chosen, by clearance and member from 0.
    pub shells: Series<(ClearanceIx, usize), Shells>,
    /// Shells at hand, by clearance and grade.
    pub stock: Series<(ClearanceIx, usize), u32>,
}

impl Sizes {
    /// A size was read.
    pub fn measure(
        &mut self,
        plan: &Plan,
        (seq, using): (u64, Using<'_>),
        fact: &Measured,
        instrument: Arc<Instrument>,
    ) -> Option<Thing> {
        let operation = plan.operation(&fact.operation)?;
        let site = plan.site(&fact.site)?;
        let planned = &plan[site];
        planned.places.get(fact.place)?;
        if !matches!(&plan[operation].work, Work::Measure(sites) if sites.contains(&site)) {
            return None;
        }
        let need =
            Need::Size { dimension: planned.dimension, read: fact.read, relative: fact.master.is_some() };
        let correct = |celsius: f64| to_reference_temperature(fact.read, celsius, planned.expansion_per_k);
        let own = Gauge { accuracy: instrument.accuracy, resolution: instrument.resolution };
        let reading = Reading {
            operation,
            read: fact.read,
            value: fact.temperature_c.map_or(fact.read, correct),
            master: fact.master,
            temperature_c: fact.temperature_c,
            entered: fact.entered.clone(),
            unlikely: fact.unlikely,
            method: fact.method,
            unfit: instrument.unfit(&need, using),
            gauge: instrument.gauge(planned.dimension).map_or(own, |(_, gauge)| gauge),
            instrument,
        };
        self.readings.push(seq, (site, fact.place), reading);
        Some(Thing::Place(site, fact.place))
    }

    /// Shells were chosen for one bore.
    pub fn choose(&mut self, plan: &Plan, seq: u64, fact: &ChooseShells) -> Option<Thing> {
        let clearance = plan.clearance(&fact.clearance)?;
        let member = fact.number.checked_sub(1).filter(|member| *member < plan.members(&plan[clearance]))?;
        let shells = Shells { upper: fact.upper.clone(), lower: fact.lower.clone() };
        self.shells.push(seq, (clearance, member), shells);
        Some(Thing::Shells(clearance, member))
    }

    /// Shells of a grade at hand were counted.
    pub fn count(&mut self, plan: &Plan, seq: u64, fact: &CountShells) -> Option<Thing> {
        let clearance = plan.clearance(&fact.clearance)?;
        let grade = plan[clearance].shells.iter().position(|shell| shell.name == fact.grade)?;
        self.stock.push(seq, (clearance, grade), fact.count);
        Some(Thing::Stock(clearance, grade))
    }

    /// The reading that counts at a place: the last one that was not voided.
    pub fn reading(&self, site: SiteIx, place: usize) -> Option<&Placed> {
        self.readings.latest((site, place))
    }

    /// Experimental standard deviation of a reading that counts with those before it that it repeats, taken with the
    /// same instrument; zero where the place was read once.
    pub fn repeatability(&self, reading: &Placed, ledger: &Ledger) -> f64 {
        let alike = |entry: &&Placed| entry.value.instrument.id == reading.value.instrument.id;
        let mut valid = self.readings.valid(reading.key, ledger).filter(alike).map(|entry| entry.value.value);
        // Nearly every place is read once.
        let (Some(first), Some(second)) = (valid.next(), valid.next()) else { return 0.0 };
        let read: Vec<f64> = [first, second].into_iter().chain(valid).collect();
        repeatability(repeats(&read, reading.value.gauge.standard_uncertainty()))
    }

    /// The readings that count on a site, in the order of its places.
    pub fn readings_on<'a>(&'a self, plan: &'a Plan, site: SiteIx) -> impl Iterator<Item = &'a Placed> {
        (0..plan[site].places.len()).filter_map(move |place| self.reading(site, place))
    }

    /// The readings of a site that is wholly measured.
    pub fn whole<'a>(&'a self, plan: &'a Plan, site: SiteIx) -> Option<Vec<&'a Placed>> {
        let readings: Vec<&Placed> = self.readings_on(plan, site).collect();
        (readings.len() == plan[site].places.len()).then_some(readings)
    }

    /// An entry was voided.
    pub fn settle(&mut self, thing: Thing, ledger: &Ledger) {
        match thing {
            Thing::Place(site, place) => self.readings.settle((site, place), ledger),
            Thing::Shells(clearance, member) => self.shells.settle((clearance, member), ledger),
            Thing::Stock(clearance, grade) => self.stock.settle((clearance, grade), ledger),
            _ => {}
        }
    }
}

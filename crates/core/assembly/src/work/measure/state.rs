//! Every size that was read, and the shells that were chosen.

use crate::events::{Instrument, MeasurementEntry, ReadingMethod, ShellChoiceCommand, ShellCountCommand};
use crate::instruments::fit::{InstrumentFault, InstrumentUser, ReadingNeed};
use crate::state::entry_topic::EntryTopic;
use crate::state::ledger::EntryLedger;
use crate::state::series::{EntrySeries, SeriesEntry};
use rigore_mechanics::clearance::{GaugeAccuracy, repeatability, repeats, to_reference_temperature};
use rigore_plan::{ClearanceIx, OperationIx, OperationWork, Plan, SiteIx};
use serde::Serialize;
use std::sync::Arc;

/// One reading at one place of a site.
#[derive(Debug, Clone)]
pub(crate) struct SizeReading {
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
    pub method: ReadingMethod,
    /// With what.
    pub instrument: Arc<Instrument>,
    /// How well that measures such a thing.
    pub gauge: GaugeAccuracy,
    /// Why the instrument does not fit, where it does not (C-7).
    pub unfit: Option<InstrumentFault>,
}

/// A reading with its place and entry.
pub(crate) type PlacedReading = SeriesEntry<(SiteIx, usize), SizeReading>;

/// Shells for one bore, by grade.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShellSelection {
    /// Grade of the upper shell.
    pub upper: String,
    /// Grade of the lower shell.
    pub lower: String,
}

/// Every size of an engine.
#[derive(Debug, Clone, Default)]
pub(crate) struct SizeReadings {
    /// Readings by site and place.
    readings: EntrySeries<(SiteIx, usize), SizeReading>,
    /// Shells chosen, by clearance and member from 0.
    shells: EntrySeries<(ClearanceIx, usize), ShellSelection>,
    /// Shells at hand, by clearance and grade.
    stock: EntrySeries<(ClearanceIx, usize), u32>,
}

impl SizeReadings {
    /// A size was read.
    pub fn measure(
        &mut self,
        plan: &Plan,
        (seq, using): (u64, InstrumentUser<'_>),
        fact: &MeasurementEntry,
        instrument: Arc<Instrument>,
    ) -> Option<EntryTopic> {
        let operation = plan.operation(&fact.operation)?;
        let site = plan.site(&fact.site)?;
        let planned = &plan[site];
        planned.places.get(fact.place)?;
        if !matches!(&plan[operation].work, OperationWork::Measure(sites) if sites.contains(&site)) {
            return None;
        }
        let need = ReadingNeed::Size {
            dimension: planned.dimension,
            read: fact.read,
            relative: fact.master.is_some(),
        };
        let correct = |celsius: f64| to_reference_temperature(fact.read, celsius, planned.expansion_per_k);
        let own = GaugeAccuracy { accuracy: instrument.accuracy, resolution: instrument.resolution };
        let reading = SizeReading {
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
        Some(EntryTopic::Place(site, fact.place))
    }

    /// Shells were chosen for one bore.
    pub fn choose(&mut self, plan: &Plan, seq: u64, fact: &ShellChoiceCommand) -> Option<EntryTopic> {
        let clearance = plan.clearance(&fact.clearance)?;
        let member = fact.number.checked_sub(1).filter(|member| *member < plan.members(&plan[clearance]))?;
        let shells = ShellSelection { upper: fact.upper.clone(), lower: fact.lower.clone() };
        self.shells.push(seq, (clearance, member), shells);
        Some(EntryTopic::Shells(clearance, member))
    }

    /// Shells of a grade at hand were counted.
    pub fn count(&mut self, plan: &Plan, seq: u64, fact: &ShellCountCommand) -> Option<EntryTopic> {
        let clearance = plan.clearance(&fact.clearance)?;
        let grade = plan[clearance].shells.iter().position(|shell| shell.name == fact.grade)?;
        self.stock.push(seq, (clearance, grade), fact.count);
        Some(EntryTopic::Stock(clearance, grade))
    }

    /// Every reading, in the order they came.
    pub fn readings(&self) -> impl DoubleEndedIterator<Item = &PlacedReading> {
        self.readings.entries()
    }

    /// The shells that count for one member of a clearance.
    pub fn shells(
        &self,
        of: (ClearanceIx, usize),
    ) -> Option<&SeriesEntry<(ClearanceIx, usize), ShellSelection>> {
        self.shells.latest(of)
    }

    /// How many shells of a grade are at hand, where they were counted.
    pub fn stock(&self, of: (ClearanceIx, usize)) -> Option<&SeriesEntry<(ClearanceIx, usize), u32>> {
        self.stock.latest(of)
    }

    /// What was read at a place holds no more since an entry; whether anything was there.
    pub fn unsettle(&mut self, seq: u64, place: (SiteIx, usize)) -> bool {
        self.readings.unsettle(seq, place)
    }

    /// The entry since which the readings at a place do not hold, where none was made anew.
    pub fn unsettled(&self, place: (SiteIx, usize), ledger: &EntryLedger) -> Option<u64> {
        self.readings.unsettled(place, ledger)
    }

    /// The reading that counts at a place: the last one that was not voided.
    pub fn reading(&self, site: SiteIx, place: usize) -> Option<&PlacedReading> {
        self.readings.latest((site, place))
    }

    /// Experimental standard deviation of a reading that counts with those before it that it repeats, taken with the
    /// same instrument; zero where the place was read once.
    pub fn repeatability(&self, reading: &PlacedReading, ledger: &EntryLedger) -> f64 {
        let alike = |entry: &&PlacedReading| entry.value.instrument.id == reading.value.instrument.id;
        let mut valid = self.readings.valid(reading.key, ledger).filter(alike).map(|entry| entry.value.value);
        // Nearly every place is read once.
        let (Some(first), Some(second)) = (valid.next(), valid.next()) else { return 0.0 };
        let read: Vec<f64> = [first, second].into_iter().chain(valid).collect();
        repeatability(repeats(&read, reading.value.gauge.standard_uncertainty()))
    }

    /// The readings that count on a site, in the order of its places.
    pub fn readings_on<'a>(
        &'a self,
        plan: &'a Plan,
        site: SiteIx,
    ) -> impl Iterator<Item = &'a PlacedReading> {
        (0..plan[site].places.len()).filter_map(move |place| self.reading(site, place))
    }

    /// The readings of a site that is wholly measured.
    pub fn whole<'a>(&'a self, plan: &'a Plan, site: SiteIx) -> Option<Vec<&'a PlacedReading>> {
        let readings: Vec<&PlacedReading> = self.readings_on(plan, site).collect();
        (readings.len() == plan[site].places.len()).then_some(readings)
    }

    /// An entry was voided.
    pub fn settle(&mut self, thing: EntryTopic, ledger: &EntryLedger) {
        match thing {
            EntryTopic::Place(site, place) => self.readings.settle((site, place), ledger),
            EntryTopic::Shells(clearance, member) => self.shells.settle((clearance, member), ledger),
            EntryTopic::Stock(clearance, grade) => self.stock.settle((clearance, grade), ledger),
            _ => {}
        }
    }
}

//! What readings and shells do to the state.

use super::super::event::{Fact, Instrument};
use super::super::instrument::Need;
use super::super::state::{Entry, Stamp, State, shared};
use super::{ChosenShells, Measured, Shells};
use crate::clearance::to_reference_temperature;

impl State {
    pub(in crate::build) fn enter_measured(&mut self, fact: &Fact, stamp: Stamp) -> Option<Entry> {
        let Fact::Measured {
            operation,
            site,
            place,
            read,
            master,
            temperature_c,
            entered,
            unlikely,
            method,
            instrument,
        } = fact
        else {
            return None;
        };
        let (operation, _) = self.plan.operation(operation)?;
        let (site, planned) = self.plan.site(site)?;
        let need = Need::Size { dimension: planned.dimension, read: *read, relative: master.is_some() };
        let fault = Instrument::fault(instrument, &need, stamp.at);
        let latest = self.latest.get_mut(site)?.get_mut(*place)?;
        let correct = |t: f64| to_reference_temperature(*read, t, planned.expansion_per_k);
        *latest = Some(self.measured.len());
        self.measured.push(Measured {
            stamp,
            operation,
            site,
            place: *place,
            read: *read,
            value: temperature_c.map_or(*read, correct),
            master: *master,
            temperature_c: *temperature_c,
            entered: entered.clone(),
            unlikely: *unlikely,
            method: *method,
            instrument: shared(&mut self.instruments, instrument),
            fault,
            voided: None,
            accepted: None,
        });
        self.lapse(operation);
        Some(Entry::Measured(self.measured.len() - 1))
    }

    pub(in crate::build) fn enter_shells(
        &mut self,
        operation: &str,
        clearance: &str,
        number: usize,
        shells: Shells,
        stamp: Stamp,
    ) -> Option<Entry> {
        let (at, _) = self.plan.operation(operation)?;
        self.lapse(at);
        self.shells.insert((clearance.to_owned(), number), ChosenShells { stamp, shells });
        None
    }

    /// The reading that counts at a place: the last one that was not voided.
    pub fn reading(&self, site: usize, place: usize) -> Option<&Measured> {
        let at = self.latest.get(site)?.get(place).copied().flatten()?;
        self.measured.get(at)
    }

    /// After a reading was voided, the one before it counts.
    pub(in crate::build) fn count_again(&mut self, site: usize, place: usize) {
        let counts = |m: &Measured| m.site == site && m.place == place && m.voided.is_none();
        self.latest[site][place] = self.measured.iter().rposition(counts);
    }
}

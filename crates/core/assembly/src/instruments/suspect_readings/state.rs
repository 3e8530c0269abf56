//! Which entries were read with which instrument, and which instruments were found wrong.

use crate::events::{DoubtCommand, Event};
use crate::state::entry_topic::EntryTopic;
use crate::state::ledger::EntryLedger;
use std::collections::HashMap;

/// The entries that were read with each instrument, and those by which one was found wrong.
#[derive(Debug, Clone, Default)]
pub(crate) struct SuspectReadings {
    used: HashMap<String, Vec<u64>>,
    doubts: Vec<(u64, DoubtCommand)>,
}

impl SuspectReadings {
    /// Notes one more entry.
    pub fn note(&mut self, event: &Event) {
        let Some(instrument) = event.fact.read_with() else { return };
        match self.used.get_mut(&instrument.id) {
            Some(used) => used.push(event.seq),
            None => drop(self.used.insert(instrument.id.clone(), vec![event.seq])),
        }
    }

    /// An instrument was found wrong.
    pub fn doubt(&mut self, seq: u64, doubt: &DoubtCommand) -> EntryTopic {
        self.doubts.push((seq, doubt.clone()));
        EntryTopic::Doubt(seq)
    }

    /// What instruments were found wrong by entries that count, with their numbers.
    pub fn counting<'a>(&'a self, ledger: &'a EntryLedger) -> impl Iterator<Item = (u64, &'a DoubtCommand)> {
        self.doubts.iter().filter(|(seq, _)| ledger.counts(*seq)).map(|(seq, doubt)| (*seq, doubt))
    }

    /// The entries that were read with an instrument.
    pub fn read_with(&self, instrument: &str) -> impl Iterator<Item = u64> {
        self.used.get(instrument).into_iter().flatten().copied()
    }

    /// The entries that were read with any instrument that was ever found wrong.
    pub fn read_with_any(&self) -> impl Iterator<Item = u64> {
        self.doubts.iter().flat_map(|(_, doubt)| self.read_with(&doubt.instrument))
    }
}

//! Entries about keyed things, of which the last that was not voided counts.

use super::ledger::Ledger;
use std::collections::HashMap;
use std::hash::Hash;

/// One entry of a series.
#[derive(Debug, Clone)]
pub(super) struct Entry<K, T> {
    /// Its number in the record.
    pub seq: u64,
    /// What it is about.
    pub key: K,
    /// What it says.
    pub value: T,
}

/// Entries about keyed things, in the order they came.
#[derive(Debug, Clone)]
pub(super) struct Series<K, T> {
    entries: Vec<Entry<K, T>>,
    latest: HashMap<K, usize>,
}

impl<K, T> Default for Series<K, T> {
    fn default() -> Self {
        Self { entries: Vec::new(), latest: HashMap::new() }
    }
}

impl<K: Copy + Eq + Hash, T> Series<K, T> {
    /// One more entry, which counts from now on.
    pub fn push(&mut self, seq: u64, key: K, value: T) {
        self.latest.insert(key, self.entries.len());
        self.entries.push(Entry { seq, key, value });
    }

    /// The entry that counts.
    pub fn latest(&self, key: K) -> Option<&Entry<K, T>> {
        self.latest.get(&key).map(|at| &self.entries[*at])
    }

    /// Finds the entry that counts again, after one was voided.
    pub fn settle(&mut self, key: K, ledger: &Ledger) {
        match self.entries.iter().rposition(|entry| entry.key == key && ledger.counts(entry.seq)) {
            Some(at) => self.latest.insert(key, at),
            None => self.latest.remove(&key),
        };
    }

    /// Every entry, in the order they came.
    pub fn entries(&self) -> impl DoubleEndedIterator<Item = &Entry<K, T>> {
        self.entries.iter()
    }
}

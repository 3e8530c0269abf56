//! Entries about keyed things, of which the last that was not voided counts.

use crate::state::ledger::EntryLedger;
use std::collections::HashMap;
use std::hash::Hash;

/// One entry of a series.
#[derive(Debug, Clone)]
pub(crate) struct SeriesEntry<K, T> {
    /// Its number in the record.
    pub seq: u64,
    /// What it is about.
    pub key: K,
    /// What it says.
    pub value: T,
}

/// Entries about keyed things, in the order they came.
#[derive(Debug, Clone)]
pub(crate) struct EntrySeries<K, T> {
    entries: Vec<SeriesEntry<K, T>>,
    /// Where the entries about each thing are among all, in the order they came.
    of_key: HashMap<K, Vec<usize>>,
    latest: HashMap<K, usize>,
    /// Entries after which nothing that was there before holds any more, by what they are about.
    unsettled: HashMap<K, Vec<u64>>,
}

impl<K, T> Default for EntrySeries<K, T> {
    fn default() -> Self {
        Self {
            entries: Vec::new(),
            of_key: HashMap::new(),
            latest: HashMap::new(),
            unsettled: HashMap::new(),
        }
    }
}

impl<K: Copy + Eq + Hash, T> EntrySeries<K, T> {
    /// One more entry, which counts from now on.
    pub fn push(&mut self, seq: u64, key: K, value: T) {
        self.latest.insert(key, self.entries.len());
        self.of_key.entry(key).or_default().push(self.entries.len());
        self.entries.push(SeriesEntry { seq, key, value });
    }

    /// The entry that counts.
    pub fn latest(&self, key: K) -> Option<&SeriesEntry<K, T>> {
        self.latest.get(&key).map(|at| &self.entries[*at])
    }

    /// Something happened after which what was entered before does not hold any more; gives whether there was
    /// anything.
    pub fn unsettle(&mut self, seq: u64, key: K) -> bool {
        if self.of_key.contains_key(&key) {
            self.unsettled.entry(key).or_default().push(seq);
        }
        self.latest.remove(&key).is_some()
    }

    /// The entry after which what was there does not hold any more, where nothing was entered since.
    pub fn unsettled(&self, key: K, ledger: &EntryLedger) -> Option<u64> {
        if self.latest.contains_key(&key) {
            return None;
        }
        self.unsettled.get(&key)?.iter().rev().copied().find(|seq| ledger.counts(*seq))
    }

    /// Finds the entry that counts again, after one was voided, or what had unsettled it.
    pub fn settle(&mut self, key: K, ledger: &EntryLedger) {
        let last = self.positions(key, ledger).next_back();
        match last {
            Some(at) => self.latest.insert(key, at),
            None => self.latest.remove(&key),
        };
    }

    /// The entries about a thing that hold, in the order they came; the last of them is the one that counts.
    pub fn valid(&self, key: K, ledger: &EntryLedger) -> impl Iterator<Item = &SeriesEntry<K, T>> {
        self.positions(key, ledger).map(|at| &self.entries[at])
    }

    /// Where the entries about a thing are that were neither voided nor unsettled since.
    fn positions(&self, key: K, ledger: &EntryLedger) -> impl DoubleEndedIterator<Item = usize> {
        let causes = self.unsettled.get(&key).map(Vec::as_slice).unwrap_or_default();
        let since = causes.iter().rev().copied().find(|seq| ledger.counts(*seq)).unwrap_or(0);
        let of_key = self.of_key.get(&key).map(Vec::as_slice).unwrap_or_default();
        let valid = move |at: &usize| self.entries[*at].seq > since && ledger.counts(self.entries[*at].seq);
        of_key.iter().copied().filter(valid)
    }

    /// Every entry, in the order they came.
    pub fn entries(&self) -> impl DoubleEndedIterator<Item = &SeriesEntry<K, T>> {
        self.entries.iter()
    }
}

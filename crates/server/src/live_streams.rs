//! What streams of live updates carry, and how many somebody holds open.

use rigore_mechanics::tightening::Verdict;
use serde::Serialize;
use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};
use uuid::Uuid;

/// Streams that one person may hold open at once: more than all screens of a shop, fewer than would weigh on it.
pub const OF_ONE_PERSON: usize = 100;

/// How many streams everybody holds open.
#[derive(Debug, Clone, Default)]
pub struct OpenStreams(Arc<Mutex<HashMap<String, usize>>>);

/// One of them, until it is dropped.
#[derive(Debug)]
pub struct OpenStream {
    streams: OpenStreams,
    person: String,
}

impl OpenStreams {
    fn map(&self) -> std::sync::MutexGuard<'_, HashMap<String, usize>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// How many there are.
    pub fn count(&self) -> usize {
        self.map().values().sum()
    }

    /// One more of somebody, unless they hold too many.
    pub fn open(&self, person: &str) -> Option<OpenStream> {
        let mut map = self.map();
        let count = map.entry(person.to_owned()).or_default();
        if *count >= OF_ONE_PERSON {
            return None;
        }
        *count += 1;
        Some(OpenStream { streams: self.clone(), person: person.to_owned() })
    }
}

impl Drop for OpenStream {
    fn drop(&mut self) {
        let mut map = self.streams.map();
        if let Some(count) = map.get_mut(&self.person) {
            *count -= 1;
            if *count == 0 {
                map.remove(&self.person);
            }
        }
    }
}

/// What an instrument shows while it pulls. It is not kept.
#[derive(Debug, Clone, Serialize)]
pub struct LiveReading {
    /// The build.
    #[serde(skip)]
    pub build: Uuid,
    /// The operation.
    pub operation: String,
    /// Key of the joint.
    pub joint: String,
    /// The fastener.
    pub fastener: String,
    /// What it reads of what is asked for, with what the fastener has already; in the base unit.
    pub value: f64,
    /// What that comes to against the target.
    pub verdict: Verdict,
}

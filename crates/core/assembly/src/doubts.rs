//! What was read with instruments that were found wrong: on every operation a matter, until it was read again with
//! another one, or a lead stands for it.

use super::asking::{Context, reason};
use super::matter::{Matter, Remedy};
use super::record::{Doubt, Event, Fact, Refusal, RefusalKind, Role, Subject};
use super::state::State;
use super::thing::Thing;
use rigore_mechanics::message;
use rigore_plan::OperationIx;
use std::collections::{BTreeSet, HashMap};

/// The entries that were made with each instrument, and those by which one was doubted.
#[derive(Debug, Clone, Default)]
pub(super) struct Doubts {
    used: HashMap<String, Vec<u64>>,
    doubts: Vec<(u64, Doubt)>,
}

impl Doubts {
    /// One more entry.
    pub fn see(&mut self, event: &Event) {
        let Some(instrument) = event.fact.read_with() else { return };
        match self.used.get_mut(&instrument.id) {
            Some(used) => used.push(event.seq),
            None => drop(self.used.insert(instrument.id.clone(), vec![event.seq])),
        }
    }

    /// An instrument is doubted.
    pub fn doubt(&mut self, seq: u64, doubt: &Doubt) -> Thing {
        self.doubts.push((seq, doubt.clone()));
        Thing::Doubt(seq)
    }
}

/// Decides that what was read with an instrument is in doubt.
pub(super) fn doubt(context: &Context, doubt: &Doubt) -> Result<Vec<Fact>, Refusal> {
    if context.by.role != Role::Lead {
        return Err(Refusal::of(RefusalKind::NotAllowed, "a lead says that an instrument was wrong"));
    }
    if doubt.since.is_some_and(|since| since >= doubt.until) {
        return Err(Refusal::field("since", "a time before it was found wrong is needed"));
    }
    reason(&doubt.reason.in_base_units())?;
    Ok(vec![Fact::Doubted(doubt.clone())])
}

impl State {
    /// The entries of an operation that are in doubt and that something rests on still.
    pub(super) fn doubted_in(&self, at: OperationIx, instrument: &str) -> BTreeSet<u64> {
        let counting = self.doubts.doubts.iter().filter(|(seq, _)| self.ledger.counts(*seq));
        let of_it: Vec<&Doubt> =
            counting.map(|(_, doubt)| doubt).filter(|doubt| doubt.instrument == instrument).collect();
        if of_it.is_empty() {
            return BTreeSet::new();
        }
        let used = self.doubts.used.get(instrument).into_iter().flatten().copied();
        let doubted = used.filter(|seq| {
            self.ledger.line(*seq).is_some_and(|line| {
                line.operation == Some(at)
                    && of_it.iter().any(|doubt| doubt.covers(line.mark.stamp.at))
                    && self.rests_on(*seq)
            })
        });
        doubted.collect()
    }

    /// Whether an entry is what something has now: it counts, and nothing came in its place.
    fn rests_on(&self, seq: u64) -> bool {
        if !self.ledger.counts(seq) {
            return false;
        }
        match self.ledger.line(seq).and_then(|line| line.thing) {
            Some(Thing::Fastener(joint, round, fastener, stage)) => {
                self.joints.round((joint, round)).fastened(fastener).last(stage) == seq
            }
            Some(Thing::Place(site, place)) => {
                self.sizes.readings.latest((site, place)).is_some_and(|latest| latest.seq == seq)
            }
            Some(_) => true,
            None => false,
        }
    }

    /// What stands against an operation since an instrument was found wrong.
    pub(super) fn matters_of_doubts(&self, at: OperationIx) -> Vec<Matter> {
        let mut matters: Vec<Matter> = Vec::new();
        for (seq, doubt) in self.doubts.doubts.iter().filter(|(seq, _)| self.ledger.counts(*seq)) {
            let (operation, instrument) = (self.plan[at].id.clone(), doubt.instrument.clone());
            let subject = Subject::Doubted { operation, instrument };
            let known = matters.iter().any(|matter| matter.subject.as_ref() == Some(&subject));
            let entries = self.doubted_in(at, &doubt.instrument);
            if known || entries.is_empty() || self.stands_for(&subject) {
                continue;
            }
            let count = match entries.len() {
                1 => "One reading of it was".to_owned(),
                many => format!("{many} readings of it were"),
            };
            matters.push(Matter {
                seq: *seq,
                subject: Some(subject),
                operation: self.plan[at].id.clone(),
                joint: None,
                fastener: None,
                what: message!(
                    "{count} made with {name}, which was found wrong: {reason}",
                    count,
                    name = &doubt.name,
                    reason = &doubt.reason
                ),
                now: "Read them again with another one, or a lead stands for them".into(),
                remedies: vec![Remedy::Accept, Remedy::Void],
            });
        }
        matters
    }

    /// The operations in which something is in doubt.
    pub(super) fn doubted_operations(&self) -> Vec<OperationIx> {
        let used = self.doubts.doubts.iter().filter_map(|(_, doubt)| self.doubts.used.get(&doubt.instrument));
        let operations = used.flatten().filter_map(|seq| self.ledger.line(*seq)?.operation);
        let distinct: BTreeSet<OperationIx> = operations.collect();
        distinct.into_iter().collect()
    }
}

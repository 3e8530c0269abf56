//! What stands against the sizes of an engine.

use super::super::matter::{Matter, Remedy};
use super::super::state::State;
use super::{ClearanceView, Measured};
use crate::clearance::Decision;

impl State {
    /// Clearances that are judged in an operation and lie outside their window, and instruments
    /// that should not have been used.
    pub(in crate::build) fn matters_of_sites(&self, operation: usize) -> Vec<Matter> {
        let outside = |view: &ClearanceView| {
            view.decision == Some(Decision::Outside) && view.to_file_mm.is_none() && !view.accepted
        };
        let wrong = self
            .judged(operation)
            .into_iter()
            .filter(outside)
            .filter_map(|view| self.of_clearance(operation, &view));
        wrong.chain(self.of_instruments(operation)).collect()
    }

    fn of_clearance(&self, operation: usize, view: &ClearanceView) -> Option<Matter> {
        let ([least, _, most], window) = view.span.zip(view.window)?;
        let text = |value: f64| if view.ratio { format!("{value:.2} : 1") } else { format!("{value:.3} mm") };
        let (value, limit) = if most > window.high {
            (most, format!("{} is the most", text(window.high)))
        } else {
            (least, format!("{} is the least", text(window.low)))
        };
        Some(Matter {
            seq: view.last_seq,
            subject: Some(view.subject()),
            operation: self.plan.operations[operation].id.clone(),
            fastener: None,
            what: format!("{} {}: {}, and {limit}", view.name, view.number, text(value)),
            now: format!("Measure no. {} again, change part or shells, or a lead accepts it", view.number),
            remedies: vec![Remedy::Accept],
        })
    }

    /// One matter for every instrument that did not fit what it read, however often it was used.
    fn of_instruments(&self, operation: usize) -> Vec<Matter> {
        let mut matters: Vec<Matter> = Vec::new();
        let counts = |(index, m): &(usize, &Measured)| {
            m.operation == operation && self.latest[m.site][m.place] == Some(*index)
        };
        for (_, measured) in self.measured.iter().enumerate().filter(counts) {
            let Some(fault) = &measured.fault else { continue };
            let subject = format!("instrument/{}", measured.instrument.id);
            let seq = measured.stamp.seq;
            if self.stands_for(&subject, seq) {
                continue;
            }
            if let Some(known) = matters.iter_mut().find(|m| m.subject.as_ref() == Some(&subject)) {
                known.seq = seq;
                continue;
            }
            matters.push(Matter {
                seq,
                subject: Some(subject),
                operation: self.plan.operations[operation].id.clone(),
                fastener: None,
                what: format!("{}: {fault}", self.plan.sites[measured.site].name),
                now: "Measure again with an instrument that fits, or a lead accepts it".to_owned(),
                remedies: vec![Remedy::Accept],
            });
        }
        matters
    }
}

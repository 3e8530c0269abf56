//! What stands between an operation and its signature: faults to mend and deviations to accept.

use super::event::Role;
use super::state::State;
use crate::plan::Work;
use serde::Serialize;

/// A way to settle a matter.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Remedy {
    /// The entry is wrong: void it.
    Void,
    /// Loosen the fastener and do its stages again.
    Loosen,
    /// Loosen the fastener, put a new one in, and do its stages again.
    Replace,
    /// A lead accepts it with a reason.
    Accept,
}

/// Something open on a build.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Matter {
    /// The entry it comes from.
    pub seq: u64,
    /// What about it, where an entry may be at fault in more than one way.
    pub subject: Option<String>,
    /// The operation it lies in.
    pub operation: String,
    /// The fastener, where it is about one.
    pub fastener: Option<String>,
    /// What is wrong.
    pub what: String,
    /// What has to be done now.
    pub now: String,
    /// What settles it.
    pub remedies: Vec<Remedy>,
}

impl State {
    /// Everything open, in the order of the plan.
    pub fn matters(&self) -> Vec<Matter> {
        (0..self.operations.len()).flat_map(|operation| self.matters_of(operation)).collect()
    }

    /// Everything open in one operation.
    pub fn matters_of(&self, operation: usize) -> Vec<Matter> {
        let mut matters = match &self.plan.operations[operation].work {
            Work::Tighten { joint } => self.matters_of_joint(operation, joint),
            Work::Measure { .. } => self.matters_of_sites(operation),
            Work::Parts { slots } => self.matters_of_parts(operation, slots),
            Work::Count { .. } => self.matters_of_counts(operation),
            Work::Turn { suspect, most_nm, rise_nm } => {
                self.matter_of_turning(operation, suspect, *most_nm, *rise_nm).into_iter().collect()
            }
            Work::Items { .. } | Work::Sign => Vec::new(),
        };
        matters.extend(self.matter_of_leaving_out(operation));
        matters
    }

    /// An operation that was left out deviates from the plan until a lead stands for it (C-4).
    fn matter_of_leaving_out(&self, operation: usize) -> Option<Matter> {
        let skipped = self.operations[operation].skipped.as_ref()?;
        let planned = &self.plan.operations[operation];
        let seq = skipped.stamp.seq;
        let subject = format!("left-out/{}", planned.id);
        if skipped.stamp.by.role == Role::Lead || self.stands_for(&subject, seq) {
            return None;
        }
        Some(Matter {
            seq,
            subject: Some(subject),
            operation: planned.id.clone(),
            fastener: None,
            what: format!("{} was left out: {}", planned.name, skipped.reason),
            now: "A lead accepts it, or void that and do it".to_owned(),
            remedies: vec![Remedy::Accept, Remedy::Void],
        })
    }
}

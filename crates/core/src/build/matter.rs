//! What stands between an operation and its signature: faults to mend and deviations to accept.

use super::measuring::ClearanceView;
use super::state::State;
use super::tightening::{Loosening, Pull, Remark};
use crate::clearance::Decision;
use crate::plan::{Fastener, Joint, Work};
use crate::tightening::Verdict;
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
        let planned = &self.plan.operations[operation];
        let joint = match &planned.work {
            Work::Tighten { joint } => joint,
            Work::Measure { sites } => return self.matters_of_sites(&planned.id, sites),
            Work::Turn { suspect } => {
                return self.matters_of_turning(operation, suspect).into_iter().collect();
            }
            Work::Items { .. } | Work::Sign => return Vec::new(),
        };
        let Some(joint) = self.plan.joint(joint) else { return Vec::new() };
        let state = &self.operations[operation].tightening;
        let about = |seq, fastener: usize, what, now, remedies| Matter {
            seq,
            operation: planned.id.clone(),
            fastener: state.fasteners.get(fastener).cloned(),
            what,
            now,
            remedies,
        };
        let pulls = state.suspects().flat_map(|pull| {
            let seq = pull.stamp.seq;
            let name = &state.fasteners[pull.fastener];
            let over = self
                .over(joint, pull, name)
                .map(|(what, now, remedy)| about(seq, pull.fastener, what, now, vec![remedy, Remedy::Void]));
            let deviation = deviation(pull, name).map(|(what, now)| {
                about(seq, pull.fastener, what, now, vec![Remedy::Accept, Remedy::Loosen, Remedy::Void])
            });
            over.into_iter().chain(deviation)
        });
        let loosened = state.loosenings.iter().filter(|l| {
            l.voided.is_none()
                && l.must_replace
                && !l.replaced
                && state.loosened_at(l.fastener) == l.stamp.seq
        });
        let old = loosened.map(|l: &Loosening| {
            let name = &state.fasteners[l.fastener];
            about(
                l.stamp.seq,
                l.fastener,
                format!("{name} was loosened and the old fastener is still in"),
                format!("Put a new fastener in at {name}"),
                vec![Remedy::Replace, Remedy::Void],
            )
        });
        pulls.chain(old).collect()
    }

    /// Clearances outside their window that rest on sites of an operation.
    fn matters_of_sites(&self, operation: &str, sites: &[usize]) -> Vec<Matter> {
        let outside = |c: &ClearanceView| c.decision == Some(Decision::Outside) && !c.accepted;
        let matter = |c: ClearanceView| {
            let [least, _, most] = c.span_mm?;
            let window = c.window;
            let (value, limit) = if most > window.high_mm {
                (most, format!("{:.3} mm is the most", window.high_mm))
            } else {
                (least, format!("{:.3} mm is the least", window.low_mm))
            };
            Some(Matter {
                seq: c.last_seq,
                operation: operation.to_owned(),
                fastener: None,
                what: format!("{} {}: {value:.3} mm, and {limit}", c.name, c.number),
                now: "Measure again, change part or shells, or a lead accepts it".to_owned(),
                remedies: vec![Remedy::Accept],
            })
        };
        self.clearances(Some(sites)).into_iter().filter(outside).filter_map(matter).collect()
    }

    /// A crankshaft that binds.
    fn matters_of_turning(&self, operation: usize, suspect: &str) -> Option<Matter> {
        let last = self.operations[operation].turned.iter().rev().find(|turned| turned.voided.is_none())?;
        (!last.free).then(|| Matter {
            seq: last.stamp.seq,
            operation: self.plan.operations[operation].id.clone(),
            fastener: None,
            what: "The crankshaft binds".to_owned(),
            now: format!("Loosen {suspect} in reverse order, find the bind, then turn again"),
            remedies: vec![Remedy::Void],
        })
    }

    /// What an over-pulled fastener calls for.
    fn over(&self, joint: &Joint, pull: &Pull, name: &str) -> Option<(String, String, Remedy)> {
        if pull.verdict != Verdict::Over {
            return None;
        }
        let stage = &joint.stages[pull.stage];
        let band = stage.band()?;
        let unit = if stage.is_angle() { "°" } else { " N·m" };
        let what = format!(
            "{name}: {:.1}{unit}, and {:.1}{unit} is the most for {}",
            pull.value,
            band.high,
            stage.name()
        );
        let (now, remedy) = if self.must_replace(joint, pull) {
            (format!("Loosen {name}, put a new fastener in, then repeat its stages"), Remedy::Replace)
        } else {
            (format!("Loosen {name} and repeat its stages"), Remedy::Loosen)
        };
        Some((what, now, remedy))
    }

    /// Whether a pull leaves a fastener that has to be replaced: single use and turned on by an
    /// angle, or past its yield by computation.
    pub(super) fn must_replace(&self, joint: &Joint, pull: &Pull) -> bool {
        let stage = &joint.stages[pull.stage];
        let Some(fastener) = joint.group_of(stage).and_then(|g| self.plan.fastener(&g.fastener)) else {
            return false;
        };
        if fastener.single_use && stage.is_angle() {
            return true;
        }
        !fastener.to_yield && self.reached(joint, pull, fastener).is_some_and(|utilisation| utilisation > 1.0)
    }

    /// Utilisation of yield that a pull reached, by computation.
    fn reached(&self, joint: &Joint, pull: &Pull, fastener: &Fastener) -> Option<f64> {
        let stage = &joint.stages[pull.stage];
        if !stage.is_angle() {
            return Some(self.plan.forecast_torque(fastener, pull.value)?.utilisation);
        }
        let planned = self.plan.forecast(joint, pull.stage)?;
        let before = self.plan.forecast_before(joint, pull.stage)?;
        let share = (planned.utilisation - before.utilisation) / stage.band()?.target;
        Some(before.utilisation + share * pull.value)
    }
}

/// How a pull deviates from the plan, unless somebody stands for it.
fn deviation(pull: &Pull, name: &str) -> Option<(String, String)> {
    if pull.accepted.is_some() {
        return None;
    }
    let remarks: Vec<String> = pull.remarks.iter().filter(|r| r.deviates()).map(Remark::to_string).collect();
    if remarks.is_empty() {
        return None;
    }
    Some((
        format!("{name}: {}", remarks.join("; ")),
        "A lead accepts it with a reason, or loosen and repeat".to_owned(),
    ))
}

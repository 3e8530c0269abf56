//! What stands against a joint.

use super::super::matter::{Matter, Remedy};
use super::super::state::State;
use super::{Loosening, Pull, Remark};
use crate::plan::{Fastener, Joint};
use crate::tightening::Verdict;

impl State {
    /// Everything open on a joint: over-pulled, deviating, or loosened and not replaced.
    pub(in crate::build) fn matters_of_joint(&self, operation: usize, joint: &str) -> Vec<Matter> {
        let Some(joint) = self.plan.joint(joint) else { return Vec::new() };
        let state = &self.operations[operation].tightening;
        let about = |seq, fastener: usize, what, now, remedies| Matter {
            seq,
            subject: None,
            operation: self.plan.operations[operation].id.clone(),
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

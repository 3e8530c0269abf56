//! The pieces of a set: those that are tightened and those that are measured are the same ones.

use crate::document::Plan;
use crate::index::SlotIx;
use crate::toml_reader::FaultReport;
use rigore_mechanics::message;

pub(super) fn check(plan: &Plan, report: &FaultReport) {
    for (at, family) in plan.families.iter().enumerate() {
        let Some(slot) = family.slot else { continue };
        let (measured, pieces) = (family.sites.len(), plan.pieces(slot).len());
        if pieces > 0 && measured != pieces {
            let name = &plan[slot].name;
            let message = message!("check-measured-has-fasteners-joints", measured, name, pieces);
            report.error(&format!("site[{at}]"), message);
        }
    }
    for slot in (0..plan.slots.len()).map(SlotIx) {
        let families = plan.families.iter().enumerate().filter(|(_, family)| family.slot == Some(slot));
        for (at, _) in families.skip(1) {
            let message = message!("check-lengths-measured-twice", slot = plan[slot].name);
            report.error(&format!("site[{at}]"), message);
        }
    }
}

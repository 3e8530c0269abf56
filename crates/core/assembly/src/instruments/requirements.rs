//! What instruments an operation needs, and what stands in the way where the shop has such an instrument and it cannot
//! be used now (C-7, C-50).

use crate::events::{Instrument, Person, Role, ToolFault};
use crate::instruments::fit::{InstrumentUser, ReadingNeed};
use rigore_mechanics::quantity::Dimension;
use rigore_plan::way::{InstrumentAbility, StageProgress};
use rigore_plan::{OperationWork, Plan};
use time::OffsetDateTime;

/// Something that an instrument has to be able to do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum ToolNeed {
    /// A pull.
    Pull(InstrumentAbility),
    /// Reading whatever is in a range, in the base unit.
    Size {
        /// What is read.
        dimension: Dimension,
        /// From, and to.
        range: [f64; 2],
    },
}

/// How an operation stands with the instruments of the shop.
#[derive(Debug, Clone, PartialEq)]
pub enum ToolAvailability<'a> {
    /// Nothing that the shop has stands in the way.
    Free,
    /// The only ones that would do cannot be used now.
    Waits(&'a Instrument),
    /// Somebody else may use what it needs.
    ForOthers,
}

/// What an operation needs, each thing once; what hand and eye do is not among it.
pub fn tool_needs(plan: &Plan, operation: &str) -> Vec<ToolNeed> {
    let mut needs = Vec::new();
    let mut add = |need: ToolNeed| {
        if !needs.contains(&need) {
            needs.push(need);
        }
    };
    match plan.operation(operation).map(|at| &plan[at].work) {
        Some(OperationWork::Tighten(work)) => {
            let stages = work.shares.iter().flat_map(|share| &plan[share.joint].stages[share.stages.clone()]);
            for ability in stages.filter_map(|stage| stage.way.ability(StageProgress::default())) {
                let known = ability.torque_nm().is_none_or(f64::is_finite);
                if known && !matches!(ability, InstrumentAbility::Eye | InstrumentAbility::RunDown(_)) {
                    add(ToolNeed::Pull(ability));
                }
            }
        }
        Some(OperationWork::Measure(sites)) => {
            for site in sites.iter().map(|site| &plan[*site]) {
                if site.dimension != Dimension::Count {
                    add(ToolNeed::Size { dimension: site.dimension, range: site.plausible });
                }
            }
        }
        _ => {}
    }
    needs
}

impl ToolNeed {
    fn need(&self) -> ReadingNeed<'_> {
        match *self {
            Self::Pull(ability) => ReadingNeed::Pull(ability),
            Self::Size { dimension, range } => ReadingNeed::Range { dimension, range },
        }
    }
}

/// Whether needs are met by the instruments of a shop, for somebody or for one person. What no instrument of the shop
/// does is not waited for: nobody has told of it, and it may be there all the same.
pub fn unavailable_tools<'a>(
    needs: &[ToolNeed],
    instruments: &'a [Instrument],
    by: Option<&Person>,
    at: OffsetDateTime,
) -> ToolAvailability<'a> {
    let using = InstrumentUser { by: by.map(|by| by.id.as_str()), at };
    let mut for_others = false;
    for need in needs {
        let do_it = instruments.iter().filter(|tool| tool.cannot(&need.need()).is_none());
        let stands: Vec<_> = do_it.map(|tool| (tool, tool.may_not(using).map(|unfit| unfit.fault))).collect();
        if stands.iter().any(|(_, fault)| fault.is_none()) {
            continue;
        }
        let kept = |fault: Option<ToolFault>| fault == Some(ToolFault::Kept);
        match stands.iter().find(|(_, fault)| !kept(*fault)) {
            _ if stands.iter().any(|(_, fault)| kept(*fault)) => for_others = true,
            Some((tool, _)) => return ToolAvailability::Waits(tool),
            None => {}
        }
    }
    if for_others { ToolAvailability::ForOthers } else { ToolAvailability::Free }
}

/// Whether somebody may do at all what only a lead may.
pub fn can_use(person: &Person, for_lead: bool) -> bool {
    person.role.may_record() && (!for_lead || person.role == Role::Lead)
}

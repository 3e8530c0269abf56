//! What is next: one fastener, one action, one item.

use super::state::State;
use super::tightening::{Open, TighteningState};
use crate::plan::{Clearance, Joint, Operation, Stage, Work};
use crate::tightening::Band;
use serde::Serialize;
use std::collections::HashMap;

/// One step at the bench.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Step {
    /// Pull one fastener.
    Pull {
        /// The stage, by index.
        stage: usize,
        /// The fastener.
        fastener: String,
        /// Its group's name.
        group: String,
        /// Its number in the group's sequence, from 1.
        number: usize,
        /// Whether the stage is an angle.
        angle: bool,
        /// What is wanted, in N·m or degrees.
        band: Band,
        /// What it has in this stage so far.
        so_far: f64,
    },
    /// Do something by hand.
    Act {
        /// The stage, by index.
        stage: usize,
        /// What it is called.
        name: String,
        /// How it is done.
        text: String,
    },
    /// Confirm an item.
    Confirm {
        /// The item.
        item: String,
        /// What to do or look at.
        text: String,
    },
    /// Enter a part.
    Fit {
        /// Key of the slot.
        slot: String,
        /// What the slot is called.
        name: String,
    },
    /// Count one kind of hardware.
    Count {
        /// Key of the hardware.
        hardware: String,
        /// What it is called.
        name: String,
        /// Whether it is counted back after the work.
        back: bool,
    },
    /// Choose shells.
    Shells {
        /// Key of the clearance.
        clearance: String,
        /// What it is called.
        name: String,
        /// Which bore, from 1.
        number: usize,
    },
    /// Take a reading.
    Measure {
        /// Key of the site.
        site: String,
        /// What the site is called.
        name: String,
        /// The place on it, from 0.
        place: usize,
        /// What the place is called; empty where there is only one.
        at: String,
        /// What is to be filed off before, mm, where something is.
        file_mm: Option<f64>,
    },
    /// Turn the crankshaft.
    Turn,
    /// Nothing is left but the signature.
    Sign,
}

impl Step {
    /// The step in one line, as it is said to the builder.
    pub fn line(&self) -> String {
        match self {
            Self::Pull { number, fastener, band, so_far, angle: true, .. } if *so_far > 0.0 => {
                format!("Pull {number}, {fastener}, on by {:.0}°", band.target - so_far)
            }
            Self::Pull { number, fastener, group, band, angle: true, .. } => {
                format!("Pull {number}, {group} {fastener}, by {:.0}°", band.target)
            }
            Self::Pull { number, fastener, group, band, .. } => {
                format!("Pull {number}, {group} {fastener}, to {:.1} N·m", band.target)
            }
            Self::Act { name, .. } => name.clone(),
            Self::Confirm { text, .. } => text.clone(),
            Self::Fit { name, .. } => format!("Enter {name}"),
            Self::Count { name, back: false, .. } => format!("Count {name} out"),
            Self::Count { name, .. } => format!("Count {name} back"),
            Self::Shells { name, number, .. } => format!("Choose the shells, {name} {number}"),
            Self::Measure { name, at, file_mm: Some(file), .. } => {
                format!("File {name} {at} by {file:.3} mm and measure again").replace("  ", " ")
            }
            Self::Measure { name, at, .. } => format!("Measure {name} {at}").trim_end().to_owned(),
            Self::Turn => "Turn the crankshaft two whole turns".to_owned(),
            Self::Sign => "Sign".to_owned(),
        }
    }
}

impl State {
    /// The next step of an operation, and the one after it (which is [`Step::Sign`] at the end).
    pub fn steps(&self, operation: usize) -> (Step, Step) {
        let mut steps = self.open_steps(operation);
        let next = steps.next().unwrap_or(Step::Sign);
        let then = steps.next().unwrap_or(Step::Sign);
        (next, then)
    }

    /// The next step of an operation.
    pub fn step(&self, operation: usize) -> Step {
        self.open_steps(operation).next().unwrap_or(Step::Sign)
    }

    /// How many steps of an operation are done, and how many there are.
    pub fn progress(&self, operation: usize) -> (usize, usize) {
        let total = match &self.plan.operations[operation].work {
            Work::Items { items } => items.len(),
            Work::Tighten { joint } => self.plan.joint(joint).map_or(0, |joint| {
                joint.stages.iter().map(|s| joint.group_of(s).map_or(1, |g| g.positions.len())).sum()
            }),
            Work::Parts { slots } => slots.len(),
            Work::Count { hardware, .. } => hardware.len(),
            Work::Measure { sites } => {
                let places: usize = sites.iter().map(|&site| self.plan.sites[site].places.len()).sum();
                let graded = self.judged_in(operation).filter(|clearance| !clearance.shells.is_empty());
                places + graded.map(|clearance| self.plan.members(clearance)).sum::<usize>()
            }
            Work::Turn { .. } => 1,
            Work::Sign => 0,
        };
        (total - self.open_count(operation).min(total), total)
    }

    fn open_count(&self, operation: usize) -> usize {
        match self.plan.joint_of(&self.plan.operations[operation].id) {
            Some((at, joint)) => self.operations[at].tightening.open(joint).count(),
            None => self.open_steps(operation).count(),
        }
    }

    fn open_steps(&self, operation: usize) -> Box<dyn Iterator<Item = Step> + '_> {
        let planned: &Operation = &self.plan.operations[operation];
        let state = &self.operations[operation];
        match &planned.work {
            Work::Items { items } => {
                let open = move |index: usize| {
                    !state.confirmed.iter().any(|done| done.index == index && done.voided.is_none())
                };
                let open = items.iter().enumerate().filter(move |(index, _)| open(*index));
                Box::new(
                    open.map(|(_, item)| Step::Confirm { item: item.id.clone(), text: item.text.clone() }),
                )
            }
            Work::Tighten { joint } => match self.plan.joint(joint) {
                Some(joint) => Box::new(
                    state.tightening.open(joint).filter_map(|open| describe(joint, &state.tightening, open)),
                ),
                None => Box::new(std::iter::empty()),
            },
            Work::Parts { slots } => {
                let open = slots.iter().filter(|&&slot| self.fitted(slot).is_none());
                Box::new(open.map(|&slot| {
                    let slot = &self.plan.slots[slot];
                    Step::Fit { slot: slot.id.clone(), name: slot.name.clone() }
                }))
            }
            Work::Count { hardware, back_of } => {
                let open = hardware.iter().enumerate();
                let open = open.filter(move |(line, _)| self.counted(operation, *line).is_none());
                let back = back_of.is_some();
                Box::new(open.map(move |(_, line)| Step::Count {
                    hardware: line.id.clone(),
                    name: line.name.clone(),
                    back,
                }))
            }
            Work::Measure { sites } => Box::new(self.open_sites(operation, sites)),
            Work::Turn { .. } => {
                let done = state.turned.iter().any(|turned| turned.voided.is_none());
                Box::new((!done).then_some(Step::Turn).into_iter())
            }
            Work::Sign => Box::new(std::iter::empty()),
        }
    }
}

impl State {
    /// Clearances that are judged in an operation.
    pub(super) fn judged_in(&self, operation: usize) -> impl Iterator<Item = &Clearance> {
        self.plan.clearances.iter().filter(move |clearance| clearance.judged_in == Some(operation))
    }

    /// Places to measure, or to file and measure again, and then shells to choose.
    fn open_sites<'a>(&'a self, operation: usize, sites: &'a [usize]) -> impl Iterator<Item = Step> + 'a {
        let filed: HashMap<usize, f64> = self.to_file(operation);
        let places = sites.iter().flat_map(move |&site| {
            let (planned, file_mm) = (&self.plan.sites[site], filed.get(&site).copied());
            let open = planned.places.iter().enumerate();
            let open =
                open.filter(move |(place, _)| file_mm.is_some() || self.reading(site, *place).is_none());
            open.map(move |(place, at)| Step::Measure {
                site: planned.id.clone(),
                name: planned.name.clone(),
                place,
                at: at.name.clone(),
                file_mm,
            })
        });
        let shells = self.judged_in(operation).filter(|clearance| !clearance.shells.is_empty());
        let shells = shells.flat_map(move |clearance| {
            let open = move |number: &usize| !self.shells.contains_key(&(clearance.id.clone(), *number));
            (1..=self.plan.members(clearance)).filter(open).map(move |number| Step::Shells {
                clearance: clearance.id.clone(),
                name: clearance.name.clone(),
                number,
            })
        });
        places.chain(shells)
    }

    /// Sites that are measured and still have to be filed, with how much.
    pub(super) fn to_file(&self, operation: usize) -> HashMap<usize, f64> {
        let filed = self.judged_in(operation).filter(|clearance| clearance.filed);
        let of = |clearance: &Clearance| {
            let family = clearance.first_family().unwrap_or_default();
            let sites: Vec<usize> = self.plan.family(family).map(|(site, _)| site).collect();
            let views = self.members(clearance).into_iter().zip(sites);
            views.filter_map(|(view, site)| Some((site, view.to_file_mm?))).collect::<Vec<_>>()
        };
        filed.flat_map(of).collect()
    }
}

/// What is open on a joint as a step that can be shown.
pub(super) fn describe(joint: &Joint, state: &TighteningState, open: Open) -> Option<Step> {
    match open {
        Open::Act { stage } => match &joint.stages[stage] {
            Stage::Action { name, text } => Some(Step::Act { stage, name: name.clone(), text: text.clone() }),
            _ => None,
        },
        Open::Pull { stage, fastener, place } => {
            let planned = &joint.stages[stage];
            Some(Step::Pull {
                stage,
                fastener: state.fasteners[fastener].clone(),
                group: joint.group_of(planned)?.name.clone(),
                number: place + 1,
                angle: planned.is_angle(),
                band: *planned.band()?,
                so_far: state.standing(stage, fastener).value,
            })
        }
    }
}

//! The line of work of a plan as it is read.

use super::joint::headings;
use super::source::PageSource;
use crate::document::{OperationKind, OperationWork, TightenTask};
use crate::index::OperationIx;
use crate::toml_reader::FaultReport;
use serde::Serialize;
use std::collections::BTreeMap;

/// A row of the line of work.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LineRow {
    /// Where in the plan it stands.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// The word for it; none of a repeat.
    pub kind: Option<OperationKind>,
    /// What a repeat goes by, and how often it is done.
    pub repeat: Option<RepeatedRow>,
    /// What is done in it, each in a line.
    pub steps: Vec<String>,
    /// Names of the stages that it runs, where it tightens.
    pub stages: Vec<String>,
    /// Cautions to show where the work is.
    pub cautions: Vec<String>,
    /// What is written of it, by field: `item[0].text`; of a draft only.
    pub written: BTreeMap<String, String>,
    /// Its place on the route, from 1. Rows that share one can be done in parallel.
    pub place: usize,
    /// The first place where everything is done that it waits for.
    pub earliest: usize,
}

/// That a row is a repeat.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RepeatedRow {
    /// What it goes by: `cylinder`.
    pub by: String,
    /// How often it is done.
    pub times: usize,
}

impl PageSource<'_> {
    pub(super) fn line(&self) -> Vec<LineRow> {
        let plan = self.plan;
        let circle = self.report.is_some_and(FaultReport::has_errors)
            && (!self.sound("operation") || plan.operations.is_empty());
        if circle {
            return Vec::new();
        }
        plan.route()
            .into_iter()
            .map(|row| {
                let first = &plan[row.operations[0]];
                let repeat = plan.repeat(row.operations[0]);
                let members = repeat.map_or(1, |repeat| repeat.members.len());
                let steps = row.operations.iter().take(row.operations.len() / members);
                let steps: Vec<String> = match repeat {
                    Some(_) => steps.map(|at| plan[*at].step.clone()).collect(),
                    None => self.steps(row.operations[0]),
                };
                let path = match repeat {
                    // What is written of a repeat stands around its steps.
                    Some(_) => first.written.split(".step").next().unwrap_or_default().to_owned(),
                    None => first.written.clone(),
                };
                LineRow {
                    written: if self.report.is_some() { self.written.all(&path) } else { BTreeMap::new() },
                    path,
                    id: repeat.map_or(&first.id, |repeat| &repeat.id).clone(),
                    name: repeat.map_or(&first.name, |repeat| &repeat.name).clone(),
                    kind: repeat.is_none().then_some(first.kind),
                    repeat: repeat.map(|repeat| RepeatedRow { by: repeat.by.clone(), times: members }),
                    steps,
                    stages: if repeat.is_none() { self.stages(row.operations[0]) } else { Vec::new() },
                    cautions: first.cautions.clone(),
                    place: row.place,
                    earliest: row.earliest,
                }
            })
            .collect()
    }

    fn stages(&self, at: OperationIx) -> Vec<String> {
        let OperationWork::Tighten(work) = &self.plan[at].work else { return Vec::new() };
        if work.task != TightenTask::Tighten {
            return Vec::new();
        }
        headings(work.shares.iter().flat_map(|share| &self.plan[share.joint].stages[share.stages.clone()]))
    }

    /// What is done in an operation, each in a line.
    fn steps(&self, at: OperationIx) -> Vec<String> {
        let plan = self.plan;
        match &plan[at].work {
            OperationWork::Items(items) => items.iter().map(|item| item.text.clone()).collect(),
            OperationWork::Tighten(work) => {
                work.shares.iter().map(|share| plan[share.joint].name.clone()).collect()
            }
            OperationWork::Measure(sites) => {
                let mut names: Vec<String> =
                    sites.iter().map(|site| plan[plan[*site].family].name.clone()).collect();
                names.dedup();
                names
            }
            OperationWork::Parts(_)
            | OperationWork::Count(_)
            | OperationWork::Turn(_)
            | OperationWork::Sign => Vec::new(),
        }
    }
}

//! Clearances of a plan as they are read.

use super::source::PageSource;
use crate::index::FamilyIx;
use crate::sites::{Clearance, ClearanceRule};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::text;
use serde::Serialize;
use std::collections::BTreeMap;

/// A clearance with its windows.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClearancePage {
    /// Where in the plan it stands.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// How it follows from what is measured.
    pub rule: String,
    /// How many of it there are.
    pub members: usize,
    /// What it is read in; a ratio where its window goes by the bore.
    pub dimension: Dimension,
    /// Its windows by use.
    pub windows: Vec<WindowPage>,
    /// Where its figures come from.
    pub source: String,
    /// The crank angles of its series, where it is the least of one.
    pub series: Vec<f64>,
    /// What it is computed from beside what is measured, as it is written.
    pub valve: BTreeMap<String, String>,
}

/// A window of a clearance.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WindowPage {
    /// The use.
    pub name: String,
    /// What it asks for.
    pub words: Message,
    /// The same as it is written.
    pub written: String,
}

impl PageSource<'_> {
    pub(super) fn clearance(&self, at: usize, clearance: &Clearance) -> ClearancePage {
        let plan = self.plan;
        let name = |family: FamilyIx| {
            plan.families.get(family.0).map_or_else(String::new, |family| family.name.to_lowercase())
        };
        let rule = match &clearance.rule {
            ClearanceRule::Difference { plus, minus: None, .. } => name(*plus),
            ClearanceRule::Difference { plus, minus: Some(minus), .. } => {
                text!("plan-less", plus = name(*plus), minus = name(*minus))
            }
            ClearanceRule::Least { of, .. } => text!("plan-least", of = name(*of)),
            ClearanceRule::Compression(_) => text!("plan-compression-ratio").to_owned(),
        };
        let written = |name: &str| {
            let figures =
                (0..3).filter_map(|n| self.written.at(&format!("clearance[{at}].window.{name}[{n}]")));
            let figures = figures.collect::<Vec<_>>().join(" – ");
            self.written
                .at(&format!("clearance[{at}].window.{name}"))
                .filter(|_| figures.is_empty())
                .unwrap_or(figures)
        };
        let windows = clearance.windows.iter().map(|of| WindowPage {
            name: of.name.clone(),
            written: written(&of.name),
            words: clearance.words(&of.window),
        });
        ClearancePage {
            path: format!("clearance[{at}]"),
            id: clearance.id.clone(),
            name: clearance.name.clone(),
            rule: clearance.per_bore.map_or(rule.clone(), |_| text!("plan-per-mm-bore", rule)),
            members: if plan.families.is_empty() { 0 } else { plan.members(clearance) },
            dimension: clearance.per_bore.map_or(clearance.dimension, |_| Dimension::Ratio),
            windows: windows.collect(),
            source: clearance.source.clone(),
            series: plan.series(clearance),
            valve: self.written.all(&format!("clearance[{at}].valve")),
        }
    }
}

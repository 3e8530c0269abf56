//! A plan as it is read: like a page of a good manual, drawn from the plan alone.
//!
//! A draft is shown as far as it can be read: what a fault stands in is left out.

mod assumptions;
mod clearance;
mod joint;
mod line;
mod source;
mod tables;

use super::document::{Drawing, Plan};
use super::edit::SourceText;
use super::index::{JointIx, OperationIx, SpecIx};
use super::missing_figure::MissingFigure;
use super::parts::PartSlot;
use super::sites::{SiteFamily, SiteForm};
use super::{check, format, read};
use crate::toml_reader::{Fault, Severity};
pub(super) use assumptions::Assumption;
use clearance::ClearancePage;
use joint::FastenerPage;
#[cfg(test)]
pub(super) use joint::GroupPage;
pub(super) use joint::JointPage;
use line::LineRow;
use rigore_mechanics::quantity::Dimension;
use serde::Serialize;
use source::PageSource;
use tables::PlanTable;

/// A plan as it is read.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanPage {
    /// Key of the plan.
    pub id: String,
    /// Name of the engine.
    pub name: String,
    /// What it is.
    pub about: String,
    /// Uses that its clearances have windows for.
    pub uses: Vec<String>,
    /// Its fasteners.
    pub fasteners: Vec<FastenerPage>,
    /// Its drawings, with where each stands in the plan.
    pub drawings: Vec<DrawingPage>,
    /// Its joints, those that are alike once.
    pub joints: Vec<JointPage>,
    /// Its clearances.
    pub clearances: Vec<ClearancePage>,
    /// Its parts.
    pub slots: Vec<CountedRow>,
    /// What is measured.
    pub sites: Vec<CountedRow>,
    /// The line of work.
    pub line: Vec<LineRow>,
    /// Figures that nobody has looked up yet.
    pub open: Vec<MissingSpecPage>,
    /// What a template assumed and nobody has confirmed yet.
    pub assumptions: Vec<Assumption>,
    /// Every table that others refer to, as far as it is written; of a draft only.
    pub tables: Vec<PlanTable>,
}

/// A draft as far as it can be read, and what is wrong with it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DraftReading {
    /// What can be read of it.
    pub page: PlanPage,
    /// Every fault and warning, by line.
    pub faults: Vec<Fault>,
    /// Whether it can be kept as a version.
    pub usable: bool,
}

/// A drawing.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DrawingPage {
    /// Where in the plan it stands.
    pub path: String,
    /// What is drawn.
    pub drawing: Drawing,
}

/// Something that there are several of.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CountedRow {
    /// What it is called.
    pub name: String,
    /// How many.
    pub count: usize,
    /// What it looks like, where it is measured.
    pub form: Option<SiteForm>,
}

/// A figure that nobody has looked up yet.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MissingSpecPage {
    /// Where in the plan it stands.
    pub path: String,
    /// What is wanted.
    pub what: String,
    /// Where it is to be found, where that is said.
    pub note: String,
    /// What it measures, where it measures something.
    pub dimension: Option<Dimension>,
    /// Names of the operations that wait for it.
    pub operations: Vec<String>,
}

impl Plan {
    /// A text as far as it can be read, and what is wrong with it. It never stops at a fault.
    pub fn draft(file: &str, source: &str) -> DraftReading {
        let (plan, report) = read::plan(file, source);
        check::plan(&plan, &report);
        let shown = PageSource { plan: &plan, report: Some(&report), written: SourceText::of(source) };
        let (page, written) = (shown.page(), shown.written);
        let mut faults = report.into_faults();
        for fault in &mut faults {
            fault.place = format::words_at(&fault.path, |table| written.at(&format!("{table}.name")));
        }
        let usable = faults.iter().all(|fault| fault.severity != Severity::Error);
        DraftReading { page, faults, usable }
    }

    /// The plan as it is read, with the text it was made of.
    pub fn page(&self, source: &str) -> PlanPage {
        PageSource { plan: self, report: None, written: SourceText::of(source) }.page()
    }
}

impl PageSource<'_> {
    fn page(&self) -> PlanPage {
        let plan = self.plan;
        // Where a list misses one, places of it mean others.
        let whole = |list: &str, count: usize| self.report.is_none_or(|report| report.counts(list, count));
        let specs = whole("fastener", plan.specs.len());
        let mut joints: Vec<JointPage> = Vec::new();
        if specs && !plan.specs.is_empty() && !plan.drawings.is_empty() {
            let first = |at: &usize| *at == 0 || plan.joints[*at - 1].written != plan.joints[*at].written;
            let drawn = |at: &usize| self.is_drawn(&plan.joints[*at]);
            joints
                .extend((0..plan.joints.len()).filter(first).filter(drawn).map(|at| self.joint(JointIx(at))));
        }
        let slots = |of: &[PartSlot]| CountedRow { name: of[0].kind.clone(), count: of.len(), form: None };
        let sites = |family: &SiteFamily| CountedRow {
            name: family.name.clone(),
            count: family.sites.len(),
            form: plan.sites.get(family.sites.start).map(|site| site.form),
        };
        let numbered = |list: &str, at: usize| format!("{list}[{at}]");
        let drawings = plan.drawings.iter().enumerate();
        PlanPage {
            id: plan.id.clone(),
            name: plan.name.clone(),
            about: plan.about.clone(),
            uses: plan.uses().into_iter().map(str::to_owned).collect(),
            fasteners: if specs {
                (0..plan.specs.len()).map(|at| self.fastener(SpecIx(at))).collect()
            } else {
                Vec::new()
            },
            drawings: drawings
                .map(|(at, drawing)| DrawingPage { path: numbered("drawing", at), drawing: drawing.clone() })
                .collect(),
            joints,
            clearances: plan.clearances.iter().enumerate().map(|(at, of)| self.clearance(at, of)).collect(),
            slots: plan.slots.chunk_by(|a, b| a.set == b.set).map(slots).collect(),
            sites: plan.families.iter().map(sites).collect(),
            line: self.line(),
            open: plan.open.iter().map(|figure| self.open(figure)).collect(),
            assumptions: self.assumptions(),
            tables: if self.report.is_some() { self.tables() } else { Vec::new() },
        }
    }

    fn open(&self, figure: &MissingFigure) -> MissingSpecPage {
        let name = |at: &OperationIx| self.plan[*at].name.clone();
        MissingSpecPage {
            path: figure.path.clone(),
            what: figure.what.clone(),
            note: figure.note.clone(),
            dimension: figure.dimension(self.plan),
            operations: figure.operations.iter().map(name).collect(),
        }
    }
}

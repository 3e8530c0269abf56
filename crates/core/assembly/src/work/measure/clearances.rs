//! How the clearances of an engine stand, from the readings that count.

use super::figure::EngineSizes;
pub use super::figure::{ClearancePosition, SeriesPoint};
use super::state::ShellSelection;
use super::strip;
use super::sure::UncertainValue;
use crate::events::ApprovalSubject;
use crate::state::BuildState;
use rigore_mechanics::clearance::{
    BoreSize, Decision, FormDeviation, ShellChoice, Window, choose_shells, to_file,
};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use rigore_plan::{Clearance, ClearanceIx, ClearanceRule, FamilyIx, OperationIx, SiteIx};
use serde::Serialize;
use std::collections::BTreeSet;

/// What a second method says of a clearance.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SecondMethod {
    /// The clearance by it, mm.
    pub value_mm: f64,
    /// Between both ends of the strip, mm.
    pub taper_mm: f64,
    /// Whether it agrees with the first within both uncertainties.
    pub agrees: bool,
    /// Which method to trust, where they disagree.
    pub trust: String,
}

/// One member of a clearance.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClearanceView {
    /// Key of the clearance.
    pub id: String,
    /// What it is called, such as `Main bearing oil clearance`.
    pub name: String,
    /// Which member, from 1.
    pub number: usize,
    /// Keys of the families of sites that it has to do with, a second method included.
    pub families: Vec<String>,
    /// What its figures are: lengths in mm or plain ratios.
    pub dimension: Dimension,
    /// The least, mean and most; none until everything it needs is measured.
    pub span: Option<[f64; 3]>,
    /// How far it reaches to both sides with the guard band of each place.
    pub reach: Option<[f64; 2]>,
    /// The worst expanded uncertainty U (k = 2) among its places.
    pub uncertainty: f64,
    /// What may be said about it.
    pub decision: Option<Decision>,
    /// The rule that says so, with its edition.
    pub decision_rule: String,
    /// The clearance at each plane along the axis, where there are several.
    pub positions: Vec<ClearancePosition>,
    /// The clearance at the parting line of a bore with its shells in: wider by design, and not judged.
    pub parting_line: Vec<ClearancePosition>,
    /// A series over the crank angle, where it is the least of one.
    pub series: Vec<SeriesPoint>,
    /// Form of the larger part, where it was measured at several places.
    pub plus_form: Option<FormDeviation>,
    /// Form of the smaller part, where it was measured at several places.
    pub minus_form: Option<FormDeviation>,
    /// Where it has to lie; none while the bore that it goes by is not measured.
    pub window: Option<Window>,
    /// The same in words.
    pub window_words: Option<Message>,
    /// What is still to be filed off, mm, where it is filed and not inside yet.
    pub to_file_mm: Option<f64>,
    /// A second method, where it was used.
    pub second: Option<SecondMethod>,
    /// Grades of shells to choose from, where it has any.
    pub grades: Vec<String>,
    /// Shells of each grade at hand, where they were counted.
    pub stock: Vec<Option<u32>>,
    /// Shells chosen, where it has any.
    pub shells: Option<ShellSelection>,
    /// Shells proposed, where it has any and its sizes are known.
    pub proposed: Option<ShellSelection>,
    /// The clearance that the proposal gives, mm.
    pub proposed_mm: Option<f64>,
    /// The last entry that it rests on.
    #[serde(skip)]
    pub last_seq: u64,
    /// Whether a lead approved it.
    pub accepted: bool,
}

impl ClearanceView {
    /// Its name among the issues of a build.
    pub(super) fn subject(&self) -> ApprovalSubject {
        ApprovalSubject::Clearance { clearance: self.id.clone(), number: self.number }
    }
}

/// How every member of one clearance stands, in one line.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClearanceLine {
    /// Key of the clearance.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// The operation that judges it, where one measures it.
    pub operation: Option<String>,
    /// What may be said of each member, by number; none while it is open.
    pub members: Vec<Option<Decision>>,
}

impl BuildState {
    fn measures(&self) -> EngineSizes<'_> {
        EngineSizes { plan: &self.plan, sizes: self.sizes(), ledger: self.ledger(), worked: false }
    }

    /// The mean of one member of a family that is wholly measured, counted from 0.
    pub(crate) fn mean_of(&self, family: FamilyIx, member: usize) -> Option<f64> {
        self.measures().mean(family, member)
    }

    /// Members of clearances that are judged in an operation.
    pub(super) fn judged_in(&self, at: OperationIx) -> impl Iterator<Item = (ClearanceIx, usize)> {
        let judged = move |clearance: ClearanceIx| {
            let planned = &self.plan[clearance];
            let members =
                (0..self.plan.members(planned)).filter(move |member| planned.judged(*member) == Some(at));
            members.map(move |member| (clearance, member))
        };
        (0..self.plan.clearances.len()).map(ClearanceIx).flat_map(judged)
    }

    /// The clearances that an operation judges, or members of them.
    pub fn judged(&self, at: OperationIx) -> Vec<ClearanceView> {
        let mut judged: Vec<ClearanceIx> = self.judged_in(at).map(|(clearance, _)| clearance).collect();
        judged.dedup();
        let members = judged.into_iter().flat_map(|clearance| {
            let here = move |view: &ClearanceView| self.plan[clearance].judged(view.number - 1) == Some(at);
            self.members(clearance).into_iter().filter(here)
        });
        members.collect()
    }

    /// Every clearance of the plan, or those that have to do with some sites.
    pub fn clearances(&self, of: Option<&[SiteIx]>) -> Vec<ClearanceView> {
        let about = |clearance: &ClearanceIx| {
            of.is_none_or(|sites| {
                let family = |family| sites.iter().any(|site| self.plan[*site].family == family);
                self.plan[*clearance].all_families().any(family)
            })
        };
        let all = (0..self.plan.clearances.len()).map(ClearanceIx);
        all.filter(about).flat_map(|clearance| self.members(clearance)).collect()
    }

    /// Every clearance in one line each, in the order of the plan.
    pub fn clearance_lines(&self) -> Vec<ClearanceLine> {
        let line = |at: ClearanceIx| {
            let planned = &self.plan[at];
            let decisions = planned.window_for(self.begun.use_for.as_deref()).map(|window| {
                (0..self.plan.members(planned)).map(|member| self.decision(at, member, window)).collect()
            });
            ClearanceLine {
                id: planned.id.clone(),
                name: planned.name.clone(),
                operation: planned.judged_in.iter().rev().find_map(|at| Some(self.plan[(*at)?].id.clone())),
                members: decisions.unwrap_or_default(),
            }
        };
        (0..self.plan.clearances.len()).map(ClearanceIx).map(line).collect()
    }

    /// Where a member has to lie; none while the bore that it goes by is not measured.
    fn window(&self, clearance: &Clearance, member: usize, usual: &Window) -> Option<Window> {
        match clearance.per_bore {
            None => Some(*usual),
            Some(family) => self.measures().mean(family, member).map(|bore| usual.times(bore)),
        }
    }

    fn decision(&self, at: ClearanceIx, member: usize, usual: &Window) -> Option<Decision> {
        let planned = &self.plan[at];
        let shells = self.sizes().shells((at, member)).map(|chosen| &chosen.value);
        let figure = self.measures().figure(planned, member, shells);
        figure.decision(&self.window(planned, member, usual)?, self.decision_rule)
    }

    /// Every member of one clearance.
    pub(super) fn members(&self, at: ClearanceIx) -> Vec<ClearanceView> {
        let planned = &self.plan[at];
        let Some(window) = planned.window_for(self.begun.use_for.as_deref()) else { return Vec::new() };
        let members = 0..self.plan.members(planned);
        let mut views: Vec<ClearanceView> = members.map(|member| self.member(at, member, window)).collect();
        self.propose(at, window, &mut views);
        views
    }

    fn member(&self, at: ClearanceIx, member: usize, usual: &Window) -> ClearanceView {
        let planned = &self.plan[at];
        let number = member + 1;
        let chosen = self.sizes().shells((at, member));
        let shells = chosen.map(|chosen| chosen.value.clone());
        let figure = self.measures().figure(planned, member, shells.as_ref());
        let window = self.window(planned, member, usual);
        let decision = window.and_then(|window| figure.decision(&window, self.decision_rule));
        let short = window.filter(|window| {
            planned.filed && decision.is_some_and(|d| d != Decision::Inside) && figure.mean < window.target
        });
        let span = figure.span();
        let subject = ApprovalSubject::Clearance { clearance: planned.id.clone(), number };
        let basis = self.evidence(&subject);
        ClearanceView {
            id: planned.id.clone(),
            name: planned.name.clone(),
            number,
            families: planned.all_families().map(|family| self.plan[family].id.clone()).collect(),
            dimension: planned.dimension,
            reach: figure.reach(self.decision_rule),
            uncertainty: figure.uncertainty,
            decision,
            decision_rule: self.decision_rule.name(),
            to_file_mm: short.map(|window| to_file(window.target, figure.mean)),
            second: self.second(planned, member, span, figure.uncertainty),
            span,
            positions: figure.positions,
            parting_line: figure.parting_line,
            series: figure.series,
            plus_form: figure.plus_form,
            minus_form: figure.minus_form,
            window,
            window_words: window.map(|window| window.words(planned.dimension)),
            grades: planned.shells.iter().map(|grade| grade.name.clone()).collect(),
            stock: self.stock_of(at),
            shells,
            proposed: None,
            proposed_mm: None,
            last_seq: basis.last().copied().unwrap_or(0),
            accepted: self.clearance_accepted(&subject, &basis),
        }
    }

    /// Whether a lead approved a member as it is: for it by name, or in older records for a reading
    /// of it.
    fn clearance_accepted(&self, subject: &ApprovalSubject, basis: &BTreeSet<u64>) -> bool {
        self.is_approved(subject) || basis.iter().any(|seq| self.ledger().accepted(*seq))
    }

    fn second(
        &self,
        planned: &Clearance,
        member: usize,
        span: Option<[f64; 3]>,
        uncertainty: f64,
    ) -> Option<SecondMethod> {
        let site = self.plan.member(planned.second?, member)?;
        // A strip of no width says nothing: it was kept as read and leads to no clearance.
        let readings = self.sizes().whole(&self.plan, site)?;
        let told = match self.plan[site].strip_mm {
            Some(wire_mm) => readings.iter().map(|of| strip::clearance(wire_mm, of.value.value)).collect(),
            None => {
                Some(readings.iter().map(|of| UncertainValue { value: of.value.value, u: 0.0 }).collect())
            }
        };
        let told: Vec<UncertainValue> = told?;
        let values: Vec<f64> = told.iter().map(|sure| sure.value).collect();
        let own = told.iter().map(|sure| sure.u).fold(0.0, f64::max);
        let form = BoreSize::of(&values)?;
        let apart = span.map_or(0.0, |[_, mean, _]| (mean - form.mean_mm).abs());
        Some(SecondMethod {
            value_mm: form.mean_mm,
            taper_mm: form.spread_mm(),
            agrees: apart <= uncertainty.hypot(own),
            trust: if planned.trust_second { "second" } else { "first" }.to_owned(),
        })
    }

    /// Shells of each grade at hand, where they were counted.
    fn stock_of(&self, at: ClearanceIx) -> Vec<Option<u32>> {
        let counted = |grade| self.sizes().stock((at, grade)).map(|counted| counted.value);
        (0..self.plan[at].shells.len()).map(counted).collect()
    }

    /// Proposes shells where the sizes of every bore are known.
    fn propose(&self, at: ClearanceIx, window: &Window, views: &mut [ClearanceView]) {
        let planned = &self.plan[at];
        let ClearanceRule::Difference { plus, minus: Some(minus), .. } = planned.rule else { return };
        if planned.shells.is_empty() {
            return;
        }
        let measures = self.measures();
        let room = |member| Some(measures.mean(plus, member)? - measures.mean(minus, member)?);
        let rooms: Option<Vec<f64>> = (0..views.len()).map(room).collect();
        let Some(rooms) = rooms else { return };
        let choices = choose_shells(&rooms, &planned.shells, &self.stock_of(at), window);
        for (view, ShellChoice { upper, lower, clearance_mm, .. }) in views.iter_mut().zip(choices) {
            let name = |grade: usize| planned.shells[grade].name.clone();
            view.proposed = Some(ShellSelection { upper: name(upper), lower: name(lower) });
            view.proposed_mm = Some(clearance_mm);
        }
    }
}

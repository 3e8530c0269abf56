//! Measuring, as the bench and the engine page show it.

use super::super::event::{Instrument, Method};
use super::super::instrument::{Need, ToolFit};
use super::super::state::State;
use super::{ClearanceView, Measured};
use crate::clearance::Decision;
use crate::plan::{Place, SiteForm};
use crate::quantity::Dimension;
use serde::Serialize;
use time::OffsetDateTime;

/// Readings that the bench shows at most.
const SHOWN: usize = 60;

/// Sites to measure, and the clearances that rest on them.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasureBench {
    /// The sites in the order they are measured.
    pub sites: Vec<SiteView>,
    /// Which instruments suit each family of sites.
    pub tools: Vec<FamilyTools>,
    /// The clearances.
    pub clearances: Vec<ClearanceView>,
    /// The latest readings, the last one first.
    pub readings: Vec<MeasuredView>,
}

/// One site.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SiteView {
    /// Key in the plan.
    pub id: String,
    /// Key of the family it belongs to.
    pub family: String,
    /// What the builder calls it.
    pub name: String,
    /// What it looks like.
    pub form: SiteForm,
    /// What is read there.
    pub dimension: Dimension,
    /// Its places in order.
    pub places: Vec<PlaceView>,
    /// What is to be filed off before it is measured again, mm, where something is.
    pub file_mm: Option<f64>,
}

/// One place of a site with the reading that counts.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlaceView {
    /// Where it is.
    #[serde(flatten)]
    pub place: Place,
    /// The reading, mm or cm³, brought to 20 °C where a temperature was given.
    pub value: Option<f64>,
}

/// How the instruments of the shop suit one family of sites.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FamilyTools {
    /// Key of the family.
    pub family: String,
    /// The instruments that measure such a thing, in the order of the shop.
    pub tools: Vec<ToolFit>,
}

/// One recorded reading.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasuredView {
    /// The entry.
    pub seq: u64,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// What the site is called.
    pub site: String,
    /// What the place is called.
    pub place: String,
    /// What is read there.
    pub dimension: Dimension,
    /// What was read, mm or cm³.
    pub read: f64,
    /// The same at 20 °C.
    pub value: f64,
    /// The set master it was read against, where it was.
    pub master: Option<f64>,
    /// Temperature of the part, °C, where it was given.
    pub temperature_c: Option<f64>,
    /// What a person typed, to the letter.
    pub entered: Option<String>,
    /// Whether it is outside the plausible range and was kept on purpose.
    pub unlikely: bool,
    /// How it came in.
    pub method: Method,
    /// With what.
    pub instrument: String,
    /// Why the instrument does not fit, where it does not.
    pub fault: Option<String>,
    /// Whether another reading of the place counts now.
    pub superseded: bool,
    /// Why it does not count, if it does not.
    pub voided: Option<String>,
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

impl State {
    pub(in crate::build) fn measure_bench(
        &self,
        at: usize,
        sites: &[usize],
        tools: &[Instrument],
        now: OffsetDateTime,
    ) -> MeasureBench {
        let filed = self.to_file(at);
        let site = |&site: &usize| {
            let planned = &self.plan.sites[site];
            let places = planned.places.iter().enumerate().map(|(place, planned)| PlaceView {
                place: planned.clone(),
                value: self.reading(site, place).map(|measured| measured.value),
            });
            SiteView {
                id: planned.id.clone(),
                family: planned.family.clone(),
                name: planned.name.clone(),
                form: planned.form,
                dimension: planned.dimension,
                places: places.collect(),
                file_mm: filed.get(&site).copied(),
            }
        };
        let mut families: Vec<FamilyTools> = Vec::new();
        for planned in sites.iter().map(|&site| &self.plan.sites[site]) {
            if !families.iter().any(|known| known.family == planned.family) {
                let need = Need::Site(planned);
                let fits = tools.iter().filter_map(|tool| tool.fit(&need, now)).collect();
                families.push(FamilyTools { family: planned.family.clone(), tools: fits });
            }
        }
        MeasureBench {
            sites: sites.iter().map(site).collect(),
            tools: families,
            clearances: self.clearances_at(at, sites),
            readings: self.latest_readings(at, SHOWN),
        }
    }

    /// The clearances that an operation judges, and others on its sites that can be told already.
    fn clearances_at(&self, at: usize, sites: &[usize]) -> Vec<ClearanceView> {
        let judged = |view: &ClearanceView| self.judged_in(at).any(|clearance| clearance.id == view.id);
        let mut views = self.clearances(Some(sites));
        views.retain(|view| view.span.is_some() || judged(view));
        views
    }

    /// The clearances that an operation judges.
    pub fn judged(&self, at: usize) -> Vec<ClearanceView> {
        self.judged_in(at).flat_map(|clearance| self.members(clearance)).collect()
    }

    /// The readings of a measuring operation, in the order they came.
    pub fn readings_of(&self, at: usize) -> Vec<MeasuredView> {
        let mut readings = self.latest_readings(at, usize::MAX);
        readings.reverse();
        readings
    }

    /// Readings of an operation, the latest first.
    fn latest_readings(&self, at: usize, most: usize) -> Vec<MeasuredView> {
        let readings = self.measured.iter().enumerate().rev();
        let of_it = readings.filter(|(_, measured)| measured.operation == at).take(most);
        of_it.map(|(index, measured)| self.measured_view(index, measured)).collect()
    }

    fn measured_view(&self, index: usize, measured: &Measured) -> MeasuredView {
        let site = &self.plan.sites[measured.site];
        let counts = self.latest[measured.site][measured.place] == Some(index);
        MeasuredView {
            seq: measured.stamp.seq,
            at: measured.stamp.at,
            by: measured.stamp.by.name.clone(),
            site: site.name.clone(),
            place: site.places[measured.place].name.clone(),
            dimension: site.dimension,
            read: measured.read,
            value: measured.value,
            master: measured.master,
            temperature_c: measured.temperature_c,
            entered: measured.entered.clone(),
            unlikely: measured.unlikely,
            method: measured.method,
            instrument: measured.instrument.name.clone(),
            fault: measured.fault.clone(),
            superseded: measured.voided.is_none() && !counts,
            voided: measured.voided.as_ref().map(|voided| voided.reason.clone()),
        }
    }

    /// Every clearance in one line each, in the order of the plan.
    pub fn clearance_lines(&self) -> Vec<ClearanceLine> {
        let mut views = self.clearances(None).into_iter().peekable();
        let line = |planned: &crate::plan::Clearance| {
            let mut members = Vec::new();
            while let Some(view) = views.next_if(|view| view.id == planned.id) {
                members.push(view.decision);
            }
            ClearanceLine {
                id: planned.id.clone(),
                name: planned.name.clone(),
                operation: planned.judged_in.map(|at| self.plan.operations[at].id.clone()),
                members,
            }
        };
        self.plan.clearances.iter().map(line).collect()
    }
}

//! Measuring, as the bench shows it.

use super::clearances::ClearanceView;
use super::sheet::{MeasuredView, latest_readings};
use crate::instruments::fit::{ReadingNeed, ShopTools, ToolFit};
use crate::state::BuildState;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};
use rigore_plan::{ClearanceIx, FamilyIx, MeasuringPlace, OperationIx, SiteForm, SiteIx};
use serde::Serialize;
use std::collections::HashMap;

/// Readings that the bench shows at most.
const SHOWN: usize = 60;

/// Take a reading.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasureStep {
    /// Key of the site.
    pub site: String,
    /// What the site is called.
    pub name: String,
    /// The place on it, from 0.
    pub place: usize,
    /// What the place is called; empty where there is only one.
    pub at: String,
    /// What is to be filed off before, mm, where something is.
    pub file_mm: Option<f64>,
}

impl MeasureStep {
    /// The step in one line.
    pub fn line(&self) -> Message {
        let what = format!("{} {}", self.name, self.at);
        let what = what.trim_end();
        if let Some(file) = self.file_mm {
            let off = Quantity::new(file, Dimension::Clearance);
            return message!("measure-file-by-measure-again", what, off);
        }
        message!("measure-measure", what)
    }
}

/// Choose shells.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ShellsStep {
    /// Key of the clearance.
    pub clearance: String,
    /// What it is called.
    pub name: String,
    /// Which bore, from 1.
    pub number: usize,
}

impl ShellsStep {
    /// The step in one line.
    pub fn line(&self) -> Message {
        message!("measure-choose-shells", name = self.name, number = self.number)
    }
}

/// Sites to measure, and the clearances that rest on them.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasureBench {
    /// The sites in the order they are measured.
    pub sites: Vec<SiteView>,
    /// How the instruments of the shop fit each family of sites.
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
    /// What it and those like it are called.
    pub kind: String,
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
    pub place: MeasuringPlace,
    /// The reading, mm or cm³, brought to 20 °C where a temperature was given.
    pub value: Option<f64>,
    /// Whether it is still to be measured, or filed and measured again.
    pub open: bool,
}

/// How the instruments of the shop fit one family of sites.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FamilyTools {
    /// Key of the family.
    pub family: String,
    /// Every instrument, in the order of the shop.
    pub tools: Vec<ToolFit>,
}

/// Places to measure, or to file and measure again.
pub(super) fn open_places<'a>(
    state: &'a BuildState,
    at: OperationIx,
    sites: &'a [SiteIx],
) -> impl Iterator<Item = MeasureStep> + 'a {
    let filed = to_file(state, at);
    sites.iter().flat_map(move |site| {
        let (planned, file_mm) = (&state.plan[*site], filed.get(site).copied());
        let open = move |place: &usize| file_mm.is_some() || state.sizes().reading(*site, *place).is_none();
        (0..planned.places.len()).filter(open).map(move |place| MeasureStep {
            site: planned.id.clone(),
            name: planned.name.clone(),
            place,
            at: planned.places[place].name.clone(),
            file_mm,
        })
    })
}

/// Shells to choose.
pub(super) fn open_shells(state: &BuildState, at: OperationIx) -> impl Iterator<Item = ShellsStep> + '_ {
    let open = |(clearance, member): &(ClearanceIx, usize)| {
        !state.plan[*clearance].shells.is_empty() && state.sizes().shells((*clearance, *member)).is_none()
    };
    state.judged_in(at).filter(open).map(|(clearance, member)| ShellsStep {
        clearance: state.plan[clearance].id.clone(),
        name: state.plan[clearance].name.clone(),
        number: member + 1,
    })
}

/// Sites that are measured and still have to be filed, with how much.
fn to_file(state: &BuildState, at: OperationIx) -> HashMap<SiteIx, f64> {
    let mut filed: Vec<ClearanceIx> = state.judged_in(at).map(|(clearance, _)| clearance).collect();
    filed.dedup();
    filed.retain(|clearance| state.plan[*clearance].filed);
    let of = |clearance: ClearanceIx| {
        let planned = &state.plan[clearance];
        let family = planned.families().next();
        let views = state.members(clearance).into_iter().enumerate();
        let here = views.filter(move |(member, _)| planned.judged(*member) == Some(at));
        here.filter_map(move |(member, view)| Some((state.plan.member(family?, member)?, view.to_file_mm?)))
            .collect::<Vec<_>>()
    };
    filed.into_iter().flat_map(of).collect()
}

pub(super) fn bench(
    state: &BuildState,
    at: OperationIx,
    sites: &[SiteIx],
    tools: ShopTools<'_>,
) -> MeasureBench {
    let filed = to_file(state, at);
    let site = |site: &SiteIx| {
        let planned = &state.plan[*site];
        let filing = filed.contains_key(site);
        let places = planned.places.iter().enumerate().map(|(place, planned)| {
            let value = state.sizes().reading(*site, place).map(|reading| reading.value.value);
            PlaceView { place: planned.clone(), value, open: filing || value.is_none() }
        });
        SiteView {
            id: planned.id.clone(),
            family: state.plan[planned.family].id.clone(),
            name: planned.name.clone(),
            kind: state.plan[planned.family].name.clone(),
            form: planned.form,
            dimension: planned.dimension,
            places: places.collect(),
            file_mm: filed.get(site).copied(),
        }
    };
    let mut families: Vec<FamilyIx> = sites.iter().map(|site| state.plan[*site].family).collect();
    families.dedup();
    let tools_for = |family: FamilyIx| {
        let first = &state.plan.sites[state.plan[family].sites.start];
        FamilyTools { family: state.plan[family].id.clone(), tools: tools.fits(&ReadingNeed::Site(first)) }
    };
    MeasureBench {
        sites: sites.iter().map(site).collect(),
        tools: families.into_iter().map(tools_for).collect(),
        clearances: clearances_at(state, at, sites),
        readings: latest_readings(state, at).take(SHOWN).collect(),
    }
}

/// The clearances that an operation judges, and others on its sites that can be told already.
fn clearances_at(state: &BuildState, at: OperationIx, sites: &[SiteIx]) -> Vec<ClearanceView> {
    let judged = |view: &ClearanceView| {
        let of_it = |of: ClearanceIx, member: usize| {
            (state.plan[of].id.as_str(), member + 1) == (view.id.as_str(), view.number)
        };
        state.judged_in(at).any(|(of, member)| of_it(of, member))
    };
    let measured = |view: &ClearanceView| {
        let of_it = |site: &SiteIx| {
            let site = &state.plan[*site];
            site.number == view.number && view.families.contains(&state.plan[site.family].id)
        };
        sites.iter().any(of_it)
    };
    let mut views = state.clearances(Some(sites));
    views.retain(|view| (view.span.is_some() && measured(view)) || judged(view));
    views
}

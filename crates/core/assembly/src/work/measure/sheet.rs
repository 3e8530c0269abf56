//! Readings, as the bench and the build sheet show them.

use super::clearances::ClearanceView;
use super::state::PlacedReading;
use crate::events::ReadingMethod;
use crate::state::BuildState;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use rigore_plan::OperationIx;
use serde::Serialize;
use time::OffsetDateTime;

/// One recorded reading.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[expect(clippy::struct_excessive_bools, reason = "what it is and whether it counts are told apart")]
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
    /// What it and those like it are called.
    pub kind: String,
    /// What tells it from those; empty where it is alone.
    pub member: String,
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
    pub method: ReadingMethod,
    /// With what.
    pub instrument: String,
    /// Whether the instrument only pretends.
    pub simulated: bool,
    /// Why the instrument does not fit, where it does not.
    pub fault: Option<Message>,
    /// Whether it is the one that counts at its place.
    pub counts: bool,
    /// Whether another reading of the place counts now.
    pub superseded: bool,
    /// Why it does not count, if it does not.
    pub voided: Option<String>,
}

/// Readings of an operation and the clearances it judges.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasureSection {
    /// Readings in the order they came.
    pub readings: Vec<MeasuredView>,
    /// The clearances that it judges.
    pub clearances: Vec<ClearanceView>,
}

impl BuildState {
    /// The size that counts at a place of a site, mm or cm³ at 20 °C.
    pub fn size(&self, site: &str, place: usize) -> Option<f64> {
        self.sizes().reading(self.plan.site(site)?, place).map(|reading| reading.value.value)
    }

    /// The readings of a measuring operation, in the order they came.
    pub fn readings_of(&self, at: OperationIx) -> Vec<MeasuredView> {
        let mut readings: Vec<MeasuredView> = latest_readings(self, at).collect();
        readings.reverse();
        readings
    }
}

pub(super) fn section(state: &BuildState, at: OperationIx) -> MeasureSection {
    MeasureSection { readings: state.readings_of(at), clearances: state.judged(at) }
}

/// Readings of an operation, the latest first.
pub(super) fn latest_readings(
    state: &BuildState,
    at: OperationIx,
) -> impl Iterator<Item = MeasuredView> + '_ {
    let of_it = state.sizes().readings().rev().filter(move |entry| entry.value.operation == at);
    of_it.filter_map(|entry| view(state, entry))
}

fn view(state: &BuildState, entry: &PlacedReading) -> Option<MeasuredView> {
    let (reading, (site, place)) = (&entry.value, entry.key);
    let mark = state.ledger().mark(entry.seq)?;
    let counts = state.sizes().reading(site, place).is_some_and(|latest| latest.seq == entry.seq);
    let planned = &state.plan[site];
    Some(MeasuredView {
        seq: entry.seq,
        at: mark.stamp.at,
        by: mark.stamp.by.name.clone(),
        site: planned.name.clone(),
        kind: state.plan[planned.family].name.clone(),
        member: planned.member.clone(),
        place: planned.places[place].name.clone(),
        dimension: planned.dimension,
        read: reading.read,
        value: reading.value,
        master: reading.master,
        temperature_c: reading.temperature_c,
        entered: reading.entered.clone(),
        unlikely: reading.unlikely,
        method: reading.method,
        instrument: reading.instrument.name.clone(),
        simulated: reading.instrument.simulated,
        fault: reading.unfit.as_ref().map(|unfit| unfit.words.clone()),
        counts,
        superseded: mark.voided.is_none() && !counts,
        voided: mark.voided.as_ref().map(|voided| voided.reason.clone()),
    })
}

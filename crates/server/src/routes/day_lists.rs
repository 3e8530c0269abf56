//! The lists of the day: what can be done, what waits, what to order, what was promised. Each shows its first rows and
//! says how many there are, so that a shop of hundreds of engines in work is asked for no more than a page.

use crate::Problem;
use crate::page::page_size;
use rigore_assembly::schedule::{RemainingWork, ScheduledEngine};
use rigore_assembly::{BlockedWork, Person, ReadyOperation};
use rigore_mechanics::message;
use rigore_store::DayRow;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

/// Rows of each list, where it is not said how many.
const PAGE: u32 = 16;
/// Engines without a promise that are named.
const UNPROMISED: usize = 12;

/// What of the day is wanted.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct DayQuery {
    /// Only what this person can do, by their id; what anybody can where it is left out.
    r#for: Option<String>,
    /// How many engines that something can be done on, 16 where it is not said.
    can: Option<u32>,
    /// How many waits, 16 where it is not said.
    waits: Option<u32>,
    /// How many engines that parts are missing for, 16 where it is not said.
    missing: Option<u32>,
    /// How many promised engines, 16 where it is not said.
    promised: Option<u32>,
}

impl DayQuery {
    /// The same, checked.
    pub fn filter(&self, people: &[Person]) -> Result<DayFilter, Problem> {
        let size = |field, asked: Option<u32>| {
            page_size(field, asked, PAGE).map(|size| usize::try_from(size).unwrap_or(usize::MAX))
        };
        let place = self.r#for.as_ref().map(|id| {
            let message = message!("server-nobody-this-id-works-on-engines");
            people.iter().position(|of| of.id == *id).ok_or_else(|| Problem::field("for", message))
        });
        Ok(DayFilter {
            person: place.transpose()?,
            can: size("can", self.can)?,
            waits: size("waits", self.waits)?,
            missing: size("missing", self.missing)?,
            promised: size("promised", self.promised)?,
        })
    }
}

/// How much is shown of each list, and whose work.
#[derive(Debug)]
pub struct DayFilter {
    /// Whose, by their place among the people of the day; everybody's where it is not said.
    person: Option<usize>,
    can: usize,
    waits: usize,
    missing: usize,
    promised: usize,
}

/// An engine as the day is planned.
#[derive(Debug)]
pub struct PlannedEngine {
    /// What is kept of it.
    pub row: DayRow,
    /// What can be done on it, and by whom.
    pub can: Vec<DayReady>,
    /// How much work is left.
    pub remaining: RemainingWork,
    /// When it can be ready, and whether that is late.
    pub scheduled: ScheduledEngine,
}

/// Something that can be done now.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct DayReady {
    /// What.
    #[serde(flatten)]
    pub can: ReadyOperation,
    /// Who can do it, by their places among the people of the day.
    pub by: Vec<usize>,
}

/// Engines that something can be done on now, in the order that keeps most promises.
#[derive(Debug, Serialize, ToSchema)]
pub struct WorkList {
    /// The first of them.
    pub engines: Vec<DayWork>,
    /// How many there are.
    pub all: u64,
}

/// An engine that something can be done on now.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayWork {
    /// The build.
    pub id: Uuid,
    /// What it is called in the shop.
    pub name: String,
    /// The day it was promised for, as `YYYY-MM-DD`.
    pub promised: Option<String>,
    /// Whether that will not hold.
    pub late: bool,
    /// What can be done, and by whom.
    pub can: Vec<DayReady>,
}

/// What waits: what is over first comes first, what nobody knows a day of comes last.
#[derive(Debug, Serialize, ToSchema)]
pub struct WaitList {
    /// The first of them.
    pub waits: Vec<DayWait>,
    /// How many there are.
    pub all: u64,
}

/// Something that an engine waits for.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayWait {
    /// The build.
    pub id: Uuid,
    /// What it is called in the shop.
    pub name: String,
    /// What it waits for.
    #[serde(flatten)]
    pub wait: BlockedWork,
}

/// Engines with parts that were not entered yet and are not on order.
#[derive(Debug, Serialize, ToSchema)]
pub struct MissingParts {
    /// The first of them.
    pub engines: Vec<DayMissing>,
    /// How many there are.
    pub all: u64,
}

/// An engine that parts are missing for.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayMissing {
    /// The build.
    pub id: Uuid,
    /// What it is called in the shop.
    pub name: String,
    /// The parts, by name.
    pub missing: Vec<String>,
}

/// Engines that were promised for a day, in the order that keeps most promises; those that nobody can say a day of come
/// last.
#[derive(Debug, Serialize, ToSchema)]
pub struct PromiseList {
    /// The first of them.
    pub engines: Vec<DayPromise>,
    /// How many there are.
    pub all: u64,
    /// How many of all will not hold, as far as anybody knows.
    pub late: u64,
}

/// An engine that was promised for a day.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayPromise {
    /// The build.
    pub id: Uuid,
    /// What it is called in the shop.
    pub name: String,
    /// The day, as `YYYY-MM-DD`.
    pub promised: String,
    /// How much work is left.
    pub remaining: RemainingWork,
    /// The day on which it can be ready, as `YYYY-MM-DD`; none where it waits for something that nobody knows a day
    /// of.
    pub ready: Option<String>,
    /// Whether that is later than it was promised.
    pub late: bool,
    /// Whether the promise holds, as far as anybody knows.
    pub holds: bool,
}

/// Engines with work left that were not promised.
#[derive(Debug, Serialize, ToSchema)]
pub struct UnpromisedEngines {
    /// A few of them.
    pub engines: Vec<UnpromisedEngine>,
    /// How many there are.
    pub all: u64,
}

/// An engine with work left that was not promised.
#[derive(Debug, Serialize, ToSchema)]
pub struct UnpromisedEngine {
    /// The build.
    pub id: Uuid,
    /// What it is called in the shop.
    pub name: String,
    /// How much work is left.
    pub remaining: RemainingWork,
}

impl DayFilter {
    /// What can be done.
    pub fn work(&self, engines: &[&PlannedEngine]) -> WorkList {
        let fits = |can: &&DayReady| self.person.is_none_or(|person| can.by.contains(&person));
        let work = |of: &&PlannedEngine| {
            let can: Vec<DayReady> = of.can.iter().filter(fits).cloned().collect();
            (!can.is_empty()).then(|| DayWork {
                id: of.row.id,
                name: of.row.summary.name.clone(),
                promised: of.row.outlook.promised.map(|day| day.to_string()),
                late: of.scheduled.late,
                can,
            })
        };
        let (engines, all) = first(engines.iter().filter_map(work), self.can);
        WorkList { engines, all }
    }

    /// What waits.
    pub fn waits(&self, engines: &[&PlannedEngine]) -> WaitList {
        let of = |engine: &&PlannedEngine| {
            let (id, name) = (engine.row.id, engine.row.summary.name.clone());
            let wait = move |wait: &BlockedWork| DayWait { id, name: name.clone(), wait: wait.clone() };
            engine.row.outlook.waits.iter().map(wait).collect::<Vec<_>>()
        };
        let mut waits: Vec<DayWait> = engines.iter().flat_map(of).collect();
        waits.sort_by_key(|of| of.wait.ends().map_or((true, OffsetDateTime::UNIX_EPOCH), |end| (false, end)));
        let (waits, all) = first(waits.into_iter(), self.waits);
        WaitList { waits, all }
    }

    /// What is to be ordered.
    pub fn missing(&self, engines: &[&PlannedEngine]) -> MissingParts {
        let of = |of: &&PlannedEngine| {
            let missing = &of.row.outlook.missing;
            (!missing.is_empty()).then(|| DayMissing {
                id: of.row.id,
                name: of.row.summary.name.clone(),
                missing: missing.clone(),
            })
        };
        let (engines, all) = first(engines.iter().filter_map(of), self.missing);
        MissingParts { engines, all }
    }

    /// What was promised.
    pub fn promised(&self, engines: &[&PlannedEngine]) -> PromiseList {
        let of = |of: &&PlannedEngine| {
            let promised = of.row.outlook.promised?.to_string();
            Some(DayPromise {
                id: of.row.id,
                name: of.row.summary.name.clone(),
                promised,
                remaining: of.remaining,
                ready: of.scheduled.ready.map(|day| day.to_string()),
                late: of.scheduled.late,
                holds: of.scheduled.holds(),
            })
        };
        let fails = |of: &&&PlannedEngine| of.row.outlook.promised.is_some() && !of.scheduled.holds();
        let late = engines.iter().filter(fails).count() as u64;
        let (engines, all) = first(engines.iter().filter_map(of), self.promised);
        PromiseList { engines, all, late }
    }
}

/// Engines with work left that were not promised.
pub fn unpromised(engines: &[&PlannedEngine]) -> UnpromisedEngines {
    let of = |of: &&PlannedEngine| {
        let (id, name, remaining) = (of.row.id, of.row.summary.name.clone(), of.remaining);
        let has_work = of.row.outlook.promised.is_none() && remaining.minutes > 0.0;
        has_work.then_some(UnpromisedEngine { id, name, remaining })
    };
    let (engines, all) = first(engines.iter().filter_map(of), UNPROMISED);
    UnpromisedEngines { engines, all }
}

/// The first rows, and how many there are.
fn first<T>(rows: impl Iterator<Item = T>, shown: usize) -> (Vec<T>, u64) {
    let mut rows: Vec<T> = rows.collect();
    let all = rows.len() as u64;
    rows.truncate(shown);
    (rows, all)
}

//! The day (C-50): what can be started now, what waits for what, what to order, and which promise holds.

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{ConfirmedLead, JsonBody, Lead, QueryParams};
use crate::routes::day_lists::{
    DayQuery, DayReady, MissingParts, PlannedEngine, PromiseList, UnpromisedEngines, WaitList, WorkList,
    unpromised,
};
use crate::zone::ShopZone;
use crate::{App, Problem, secrets};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use icalendar::{Component, Event, EventLike};
use rigore_assembly::Person;
use rigore_assembly::schedule::{Crew, ScheduledEngine, ShopClock, WorkingHours, remaining, schedule};
use rigore_mechanics::{message, text};
use rigore_store::{FeedRow, StoreError};
use serde::Serialize;
use std::collections::HashMap;
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;

/// The day as it can be planned now: the first of each list, and how many there are in all.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayView {
    /// What day it is in the shop, as `YYYY-MM-DD`.
    pub today: String,
    /// When the shop works.
    pub hours: WorkingHours,
    /// Who can work on engines.
    pub people: Vec<Person>,
    /// How many engines are in the shop.
    pub engines: u64,
    /// What can be done now.
    pub can: WorkList,
    /// What waits.
    pub waits: WaitList,
    /// What is to be ordered, or to be entered.
    pub missing: MissingParts,
    /// What was promised.
    pub promised: PromiseList,
    /// Engines with work left that were not promised.
    pub unpromised: UnpromisedEngines,
    /// The address of the calendar of the shop, where it has one: who made it, and when. The address itself is told once.
    pub feed: Option<FeedView>,
}

/// The address of the calendar of the shop, as it was just made.
#[derive(Debug, Serialize, ToSchema)]
pub struct Feed {
    /// Its path. It is told this once: only its hash is kept.
    pub path: String,
}

/// That the calendar of the shop can be read from outside.
#[derive(Debug, Serialize, ToSchema)]
pub struct FeedView {
    /// Who made its address.
    pub by: String,
    /// Whether they are of the shop still.
    pub by_active: bool,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
}

impl From<FeedRow> for FeedView {
    fn from(of: FeedRow) -> Self {
        Self { by: of.by_name, by_active: of.by_active, at: of.made_at }
    }
}

/// The clock of the shop.
pub(super) async fn zone(app: &App) -> Result<ShopZone, StoreError> {
    Ok(ShopZone::of(app.store.shop().await?.as_ref().map(|shop| shop.zone.as_str())))
}

/// What can be done today, what waits, and what was promised.
#[utoipa::path(get, path = "/api/day", params(DayQuery),
    responses((status = 200, body = DayView), FieldAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn day(
    State(app): State<App>,
    QueryParams(wanted): QueryParams<DayQuery>,
) -> Result<Json<DayView>, Problem> {
    let (rows, usual, hours, feed, zone, members) = tokio::try_join!(
        app.store.day(),
        app.store.usual_times(),
        app.store.calendar(),
        app.store.feed(),
        zone(&app),
        app.store.members(),
    )?;
    let working = members.iter().filter(|member| member.active && member.person.role.may_record());
    let people: Vec<Person> = working.map(|member| member.person.clone()).collect();
    let filter = wanted.filter(&people)?;
    let mut plans = HashMap::new();
    for row in &rows {
        if !plans.contains_key(&row.plan_hash) {
            plans.insert(row.plan_hash.clone(), app.store.plan(&row.plan_hash).await?);
        }
    }
    let (roster, at) = (app.roster(), OffsetDateTime::now_utc());
    let mut crew = Crew::new(&people, &roster.instruments, at);
    let mut engines: Vec<PlannedEngine> = Vec::with_capacity(rows.len());
    for mut row in rows {
        let can = crew.share_out(&mut row.outlook, (&row.plan_hash, &plans[&row.plan_hash]));
        let can = can.into_iter().map(|(can, by)| DayReady { can, by }).collect();
        let remaining = remaining(&row.outlook.left, |step| usual.of(&row.plan, step));
        let scheduled = ScheduledEngine { engine: engines.len(), ready: None, late: false };
        engines.push(PlannedEngine { row, can, remaining, scheduled });
    }
    let clock = ShopClock { shows: |at| zone.shows(at), now: zone.shows(at), hours };
    let asked: Vec<_> = engines.iter().map(|of| (&of.row.outlook, of.remaining)).collect();
    let order = schedule(&asked, people.len(), &clock);
    for scheduled in &order {
        let engine = &mut engines[scheduled.engine];
        engine.scheduled = *scheduled;
        // What has cured waits no more.
        engine.row.outlook.waits.retain(|wait| wait.until.is_none_or(|until| zone.shows(until) > clock.now));
    }
    let order: Vec<&PlannedEngine> = order.iter().map(|of| &engines[of.engine]).collect();
    Ok(Json(DayView {
        today: clock.now.date().to_string(),
        engines: order.len() as u64,
        can: filter.work(&order),
        waits: filter.waits(&order),
        missing: filter.missing(&order),
        promised: filter.promised(&order),
        unpromised: unpromised(&order),
        hours: clock.hours,
        people,
        feed: feed.map(FeedView::from),
    }))
}

/// Says when the shop works.
#[utoipa::path(put, path = "/api/day/hours", request_body = WorkingHours,
    responses((status = 200, body = WorkingHours), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn keep_hours(
    State(app): State<App>,
    Lead(by): Lead,
    JsonBody(hours): JsonBody<WorkingHours>,
) -> Result<Json<WorkingHours>, Problem> {
    hours.check().map_err(|(field, message)| Problem::field(field, message))?;
    app.store.keep_calendar(&by, &hours).await?;
    Ok(Json(hours))
}

/// Gives the calendar of the shop an address in place of the one it had.
#[utoipa::path(post, path = "/api/day/feed", responses((status = 200, body = Feed), UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn make_feed(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
) -> Result<Json<Feed>, Problem> {
    let token = secrets::token()?;
    app.store.keep_feed(&by, Some(&secrets::kept(&token))).await?;
    Ok(Json(Feed { path: format!("/api/shared/calendar/{token}") }))
}

/// Takes the address back.
#[utoipa::path(delete, path = "/api/day/feed", responses((status = 204), UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn end_feed(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
) -> Result<StatusCode, Problem> {
    app.store.keep_feed(&by, None).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The calendar of the shop: days that were promised and expected, ends of cures and calibrations.
#[utoipa::path(get, path = "/api/shared/calendar/{token}", params(("token" = String, Path)),
    responses((status = 200, body = String, content_type = "text/calendar"), NotFoundAnswer, ReadAnswers))]
pub async fn feed(State(app): State<App>, Path(token): Path<String>) -> Result<impl IntoResponse, Problem> {
    if !app.store.is_feed(&secrets::kept(&token)).await? {
        return Err(Problem::not_there(message!("server-such-calendar-or-address-was-taken")));
    }
    let mut calendar = icalendar::Calendar::new();
    let shop = app.store.shop().await?;
    calendar.name(shop.as_ref().map_or("Rigore", |shop| shop.name.as_str()));
    for row in app.store.day().await? {
        let name = &row.summary.name;
        if let Some(day) = row.outlook.promised {
            calendar.push(all_day(&format!("{}-promised", row.id), day, &text!("server-promised", name)));
        }
        for (at, wait) in row.outlook.waits.iter().enumerate() {
            let id = format!("{}-{at}", row.id);
            if let Some(day) = wait.expected {
                calendar.push(all_day(&id, day, &text!("server-expected", name, what = wait.what)));
            }
            if let Some(until) = wait.until {
                let what = text!("server-has-cured", name, what = wait.what);
                calendar.push(Event::new().uid(&uid(&id)).summary(&what).starts(until).ends(until).done());
            }
        }
    }
    for (instrument, active) in app.store.register().await? {
        if let Some(day) = instrument.calibration_due.filter(|_| active) {
            let what = text!("server-calibration-ends", instrument = instrument.name);
            calendar.push(all_day(&format!("instrument-{}", instrument.id), day, &what));
        }
    }
    let headers =
        [(header::CONTENT_TYPE, "text/calendar; charset=utf-8"), (header::CACHE_CONTROL, "no-cache")];
    Ok((headers, calendar.done().to_string()))
}

fn uid(id: &str) -> String {
    format!("{id}@rigore")
}

/// Something that goes for a whole day.
fn all_day(id: &str, day: Date, what: &str) -> Event {
    let next = day.next_day().unwrap_or(day);
    Event::new().uid(&uid(id)).summary(what).starts(day).ends(next).done()
}

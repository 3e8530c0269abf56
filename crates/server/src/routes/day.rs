//! The day (C-50): what can be started now, what waits for what, what to order, and which promise holds.

use crate::answers::{Looking, NotThere, Refused, TooLarge, Who, WrongField};
use crate::extract::{Body, ConfirmedLead, Lead};
use crate::zone::Zone;
use crate::{App, Problem, secrets};
use axum::Json;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use icalendar::{Component, Event, EventLike};
use rigore_core::day::{Calendar, Clock, Crew, Remaining, Scheduled, remaining, schedule};
use rigore_core::engine::{BuildStatus, CanDo, Outlook, Person};
use rigore_store::{DayRow, FeedRow, StoreError};
use serde::Serialize;
use std::collections::HashMap;
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

/// The day as it can be planned now.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayView {
    /// What day it is in the shop, as `YYYY-MM-DD`.
    pub today: String,
    /// When the shop works.
    pub hours: Calendar,
    /// Who can work on engines.
    pub people: Vec<Person>,
    /// The engines in the shop, in the order that keeps most promises; those that nobody can say a day of come last.
    pub engines: Vec<DayEngine>,
    /// The address of the calendar of the shop, where it has one: who made it, and when. The address itself is told once.
    pub feed: Option<FeedView>,
}

/// An engine in the day.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayEngine {
    /// The build.
    pub id: Uuid,
    /// What it is called in the shop.
    pub name: String,
    /// Where it stands.
    pub status: BuildStatus,
    /// What can be done now, and by whom.
    pub can: Vec<DayCan>,
    /// What else it says for the day; what is left is summed up in `remaining`.
    pub outlook: Outlook,
    /// How much work is left.
    pub remaining: Remaining,
    /// The day on which it can be ready, as `YYYY-MM-DD`; none where it waits for something that nobody knows a day
    /// of.
    pub ready: Option<String>,
    /// Whether that is later than it was promised.
    pub late: bool,
}

/// Something that can be done now.
#[derive(Debug, Serialize, ToSchema)]
pub struct DayCan {
    /// What.
    #[serde(flatten)]
    pub can: CanDo,
    /// Who can do it, by their places among the people of the day.
    pub by: Vec<usize>,
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
pub(super) async fn zone(app: &App) -> Result<Zone, StoreError> {
    Ok(Zone::of(app.store.shop().await?.as_ref().map(|shop| shop.zone.as_str())))
}

/// What can be done today, what waits, and what was promised.
#[utoipa::path(get, path = "/api/day", responses((status = 200, body = DayView), Who, Looking))]
pub async fn day(State(app): State<App>) -> Result<Json<DayView>, Problem> {
    let (mut rows, usual, hours, feed, zone, members) = tokio::try_join!(
        app.store.day(),
        app.store.usual_times(),
        app.store.calendar(),
        app.store.feed(),
        zone(&app),
        app.store.members(),
    )?;
    let working = members.iter().filter(|member| member.active && member.person.role.may_record());
    let people: Vec<Person> = working.map(|member| member.person.clone()).collect();
    let (roster, at) = (app.roster(), OffsetDateTime::now_utc());
    let (mut crew, now) = (Crew::new(&people, &roster.instruments, at), zone.shows(at));
    let mut plans = HashMap::new();
    for row in &rows {
        if !plans.contains_key(&row.plan_hash) {
            plans.insert(row.plan_hash.clone(), app.store.plan(&row.plan_hash).await?);
        }
    }
    let mut shared: Vec<Vec<DayCan>> = Vec::with_capacity(rows.len());
    for row in &mut rows {
        let can = crew.share_out(&mut row.outlook, (&row.plan_hash, &plans[&row.plan_hash]));
        shared.push(can.into_iter().map(|(can, by)| DayCan { can, by }).collect());
    }
    let left = rows.iter().map(|row| remaining(&row.outlook.left, |step| usual.of(&row.plan, step)));
    let left: Vec<Remaining> = left.collect();
    let engines: Vec<_> = rows.iter().map(|row| &row.outlook).zip(left.iter().copied()).collect();
    let clock = Clock { shows: |at| zone.shows(at), now, hours };
    let order = schedule(&engines, people.len(), &clock);
    let engine = |of: Scheduled| {
        let row: &mut DayRow = &mut rows[of.engine];
        let mut outlook = std::mem::take(&mut row.outlook);
        outlook.left.clear();
        // What has cured waits no more.
        outlook.waits.retain(|wait| wait.until.is_none_or(|until| zone.shows(until) > now));
        DayEngine {
            id: row.id,
            name: row.summary.name.clone(),
            status: row.summary.status,
            can: std::mem::take(&mut shared[of.engine]),
            outlook,
            remaining: left[of.engine],
            ready: of.ready.map(|day| day.to_string()),
            late: of.late,
        }
    };
    let engines = order.into_iter().map(engine).collect();
    let (today, feed) = (now.date().to_string(), feed.map(FeedView::from));
    Ok(Json(DayView { today, hours, people, engines, feed }))
}

/// Says when the shop works.
#[utoipa::path(put, path = "/api/day/hours", request_body = Calendar,
    responses((status = 200, body = Calendar), WrongField, TooLarge, Who, Refused, Looking))]
pub async fn keep_hours(
    State(app): State<App>,
    Lead(by): Lead,
    Body(hours): Body<Calendar>,
) -> Result<Json<Calendar>, Problem> {
    hours.check().map_err(|(field, message)| Problem::field(field, message))?;
    app.store.keep_calendar(&by, &hours).await?;
    Ok(Json(hours))
}

/// Gives the calendar of the shop an address in place of the one it had.
#[utoipa::path(post, path = "/api/day/feed", responses((status = 200, body = Feed), Who, Refused, Looking))]
pub async fn make_feed(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
) -> Result<Json<Feed>, Problem> {
    let token = secrets::token()?;
    app.store.keep_feed(&by, Some(&secrets::kept(&token))).await?;
    Ok(Json(Feed { path: format!("/api/shared/calendar/{token}") }))
}

/// Takes the address back.
#[utoipa::path(delete, path = "/api/day/feed", responses((status = 204), Who, Refused, Looking))]
pub async fn end_feed(
    State(app): State<App>,
    ConfirmedLead(by): ConfirmedLead,
) -> Result<StatusCode, Problem> {
    app.store.keep_feed(&by, None).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The calendar of the shop: days that were promised and expected, ends of cures and calibrations.
#[utoipa::path(get, path = "/api/shared/calendar/{token}", params(("token" = String, Path)),
    responses((status = 200, body = String, content_type = "text/calendar"), NotThere, Looking))]
pub async fn feed(State(app): State<App>, Path(token): Path<String>) -> Result<impl IntoResponse, Problem> {
    if !app.store.is_feed(&secrets::kept(&token)).await? {
        return Err(Problem::not_there("such calendar, or its address was taken back"));
    }
    let mut calendar = icalendar::Calendar::new();
    let shop = app.store.shop().await?;
    calendar.name(shop.as_ref().map_or("Rigore", |shop| shop.name.as_str()));
    for row in app.store.day().await? {
        let name = &row.summary.name;
        if let Some(day) = row.outlook.promised {
            calendar.push(all_day(&format!("{}-promised", row.id), day, &format!("{name} promised")));
        }
        for (at, wait) in row.outlook.waits.iter().enumerate() {
            let id = format!("{}-{at}", row.id);
            if let Some(day) = wait.expected {
                calendar.push(all_day(&id, day, &format!("{name}: {} expected", wait.what)));
            }
            if let Some(until) = wait.until {
                let what = format!("{name}: {} has cured", wait.what);
                calendar.push(Event::new().uid(&uid(&id)).summary(&what).starts(until).ends(until).done());
            }
        }
    }
    for (instrument, active) in app.store.register().await? {
        if let Some(day) = instrument.calibration_due.filter(|_| active) {
            let what = format!("Calibration of {} ends", instrument.name);
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

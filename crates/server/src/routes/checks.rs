//! Checks of instruments before work, their cards, and what was read with one that is wrong.

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{JsonBody, Lead, Recorder};
use crate::routes::day::zone;
use crate::routes::instruments::registered;
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_assembly::{CheckReading, CheckResult, Command, CommandAction, DoubtCommand};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension};
use rigore_store::{CheckRow, InstrumentCard, InstrumentUse};
use serde::{Deserialize, Serialize};
use time::{Date, OffsetDateTime};
use utoipa::ToSchema;
use uuid::Uuid;

/// Characters of what a card says, at most.
pub(super) const NOTE: usize = 120;

/// A check of an instrument.
#[derive(Debug, Serialize, ToSchema)]
pub struct CheckView {
    /// Its id.
    pub id: Uuid,
    /// When.
    #[serde(with = "time::serde::rfc3339")]
    pub at: OffsetDateTime,
    /// Who.
    pub by: String,
    /// What it was read against.
    pub known_by: String,
    /// What came of it.
    pub checked: CheckResult,
    /// The same in words.
    pub says: Message,
}

impl From<CheckRow> for CheckView {
    fn from(row: CheckRow) -> Self {
        let says = row.checked.words();
        Self { id: row.id, at: row.at, by: row.by_name, known_by: row.known_by, checked: row.checked, says }
    }
}

/// Readings of an instrument on one engine.
#[derive(Debug, Serialize, ToSchema)]
pub struct InstrumentUseView {
    /// The build.
    pub build: Uuid,
    /// What it is called.
    pub name: String,
    /// How many.
    pub readings: u64,
    /// The first of them.
    #[serde(with = "time::serde::rfc3339")]
    pub first: OffsetDateTime,
    /// The last.
    #[serde(with = "time::serde::rfc3339")]
    pub last: OffsetDateTime,
}

impl From<InstrumentUse> for InstrumentUseView {
    fn from(of: InstrumentUse) -> Self {
        Self { build: of.build, name: of.name, readings: of.readings, first: of.first, last: of.last }
    }
}

/// What the shop knows of an instrument.
#[derive(Debug, Serialize, ToSchema)]
pub struct CardView {
    /// What its maker calls it.
    pub reference: String,
    /// Where it lies.
    pub drawer: String,
    /// The day of its calibration, as `YYYY-MM-DD`; empty where nobody said.
    pub calibrated: String,
    /// Where the file of its certificate is.
    pub certificate: Option<String>,
    /// What that file is called.
    pub certificate_name: Option<String>,
    /// Its last checks, the last one first.
    pub checks: Vec<CheckView>,
    /// When it was known to be right last: by a good check, else by its calibration.
    #[serde(with = "time::serde::rfc3339::option")]
    pub right_at: Option<OffsetDateTime>,
    /// What was read with it since, by engine.
    pub used: Vec<InstrumentUseView>,
}

/// A day that is written as `YYYY-MM-DD`.
fn day(text: &str) -> Option<Date> {
    Date::parse(text, time::macros::format_description!("[year]-[month]-[day]")).ok()
}

/// When it was known to be right last before a time.
fn right_before(
    card: &InstrumentCard,
    checks: &[CheckRow],
    before: OffsetDateTime,
) -> Option<OffsetDateTime> {
    let good =
        checks.iter().filter(|check| check.checked.good && check.at < before).map(|check| check.at).max();
    let calibrated = day(&card.calibrated).map(|day| day.midnight().assume_utc());
    good.max(calibrated.filter(|at| *at < before))
}

async fn view(app: &App, id: &str) -> Result<CardView, Problem> {
    let (card, checks) = tokio::try_join!(app.store.card(id), app.store.checks(id))?;
    // What a wrong one was read for is what was read until it was found wrong.
    let now = OffsetDateTime::now_utc();
    let until = checks.first().filter(|check| !check.checked.good).map_or(now, |check| check.at);
    let right_at = right_before(&card, &checks, until);
    let used = app.store.used(id, right_at, until).await?;
    let (hash, name) = card.certificate.unzip();
    Ok(CardView {
        reference: card.reference,
        drawer: card.drawer,
        calibrated: card.calibrated,
        certificate: hash.map(|hash| format!("/api/certificates/{hash}")),
        certificate_name: name,
        checks: checks.into_iter().map(CheckView::from).collect(),
        right_at,
        used: used.into_iter().map(InstrumentUseView::from).collect(),
    })
}

/// What the shop knows of an instrument: its card, its checks, and what was read with it since the last good one.
#[utoipa::path(get, path = "/api/instruments/{instrument}/card", params(("instrument" = String, Path)),
    responses((status = 200, body = CardView), NotFoundAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn card(State(app): State<App>, Path(id): Path<String>) -> Result<Json<CardView>, Problem> {
    Ok(Json(view(&app, &id).await?))
}

/// What a card says.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CardEdit {
    /// What its maker calls it.
    pub reference: String,
    /// Where it lies.
    pub drawer: String,
    /// The day of its calibration, as `YYYY-MM-DD`; empty where nobody knows.
    pub calibrated: String,
}

/// Changes what a card says.
#[utoipa::path(put, path = "/api/instruments/{instrument}/card", params(("instrument" = String, Path)),
    request_body = CardEdit,
    responses((status = 200, body = CardView), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn keep_card(
    State(app): State<App>,
    Lead(by): Lead,
    Path(id): Path<String>,
    JsonBody(edit): JsonBody<CardEdit>,
) -> Result<Json<CardView>, Problem> {
    let (of, _) = registered(&app, &id).await?;
    for (field, text) in [("reference", &edit.reference), ("drawer", &edit.drawer)] {
        if text.chars().count() > NOTE || text.chars().any(char::is_control) {
            return Err(Problem::field(field, message!("server-at-most-characters-one-line", most = NOTE)));
        }
    }
    let known = day(&edit.calibrated).is_some_and(|day| (1900..2200).contains(&day.year()));
    if !edit.calibrated.is_empty() && !known {
        return Err(Problem::field("calibrated", message!("server-day-such-as-2026-03-01")));
    }
    let was = app.store.card(&id).await?;
    let (reference, drawer) = (edit.reference.trim().to_owned(), edit.drawer.trim().to_owned());
    let card =
        InstrumentCard { reference, drawer, calibrated: edit.calibrated, certificate: was.certificate };
    app.store.keep_card(&by, &of, &card).await?;
    card_of(app, id).await
}

pub(super) async fn card_of(app: App, id: String) -> Result<Json<CardView>, Problem> {
    card(State(app), Path(id)).await
}

/// A check before work.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewCheck {
    /// What it was read against: a tester, a gauge block.
    pub known_by: String,
    /// The unit of figures that come without one.
    pub unit: String,
    /// Three readings at the least.
    pub readings: Vec<TypedCheckReading>,
}

/// A reading of a check, as it was typed.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedCheckReading {
    /// What is known: what the tester shows, or the size of the block.
    pub known: String,
    /// What the instrument reads, or was set to.
    pub read: String,
}

/// Records a check before work, and judges it.
#[utoipa::path(post, path = "/api/instruments/{instrument}/checks", params(("instrument" = String, Path)),
    request_body = NewCheck,
    responses((status = 200, body = CardView), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn check(
    State(app): State<App>,
    Recorder(person): Recorder,
    Path(id): Path<String>,
    JsonBody(given): JsonBody<NewCheck>,
) -> Result<Json<CardView>, Problem> {
    let (of, _) = registered(&app, &id).await?;
    let known_by = given.known_by.trim();
    if !(2..=NOTE).contains(&known_by.chars().count()) || known_by.chars().any(char::is_control) {
        return Err(Problem::field(
            "known_by",
            message!("server-what-was-read-against-2-characters", most = NOTE),
        ));
    }
    let dimension = if of.torque_nm.is_some() { Dimension::Torque } else { Dimension::Length };
    let unit = quantity::unit(&given.unit).filter(|unit| unit.dimension == dimension);
    let unit =
        unit.ok_or_else(|| Problem::field("unit", message!("server-unit-needed", word = dimension.word())))?;
    let readings = given.readings.iter().enumerate().map(|(at, of)| {
        let figure = |field: &str, text: &str| {
            quantity::read(text, dimension, unit)
                .map_err(|error| Problem::field(format!("readings.{at}.{field}"), error.to_string()))
        };
        Ok(CheckReading { known: figure("known", &of.known)?, read: figure("read", &of.read)? })
    });
    let readings = readings.collect::<Result<Vec<_>, Problem>>()?;
    let checked = of.judge_check(&readings).map_err(|(field, message)| Problem::field(field, message))?;
    app.store.keep_check(&person, &of, known_by, &checked).await?;
    app.renew().await?;
    card_of(app, id).await
}

/// Says that what was read with an instrument is in doubt, after a check found it wrong.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewDoubt {
    /// The check.
    pub check: Uuid,
}

/// Makes what was read with an instrument since it was right last an issue on every engine. What was made one already
/// is not made one again.
#[utoipa::path(post, path = "/api/instruments/{instrument}/doubts", params(("instrument" = String, Path)),
    request_body = NewDoubt,
    responses((status = 200, body = Vec<InstrumentUseView>), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn doubt(
    State(app): State<App>,
    Lead(by): Lead,
    Path(id): Path<String>,
    JsonBody(given): JsonBody<NewDoubt>,
) -> Result<Json<Vec<InstrumentUseView>>, Problem> {
    let (of, _) = registered(&app, &id).await?;
    let (card, checks) = tokio::try_join!(app.store.card(&id), app.store.checks(&id))?;
    let check = checks.iter().find(|check| check.id == given.check);
    let check =
        check.ok_or_else(|| Problem::not_there(message!("server-check", check = given.check.to_string())))?;
    if check.checked.good {
        return Err(Problem::field("check", message!("server-check-found-right")));
    }
    let since = right_before(&card, &checks, check.at);
    let used = app.store.used(&id, since, check.at).await?;
    let roster = app.roster();
    let zone = zone(&app).await?;
    let reason = message!(
        "server-at-check",
        found = check.checked.words(),
        day = zone.shows(check.at).date().to_string(),
    );
    for on in &used {
        let (instrument, name, reason) = (id.clone(), of.name.clone(), reason.clone());
        let what = CommandAction::Doubt(DoubtCommand { instrument, name, since, until: check.at, reason });
        let command =
            Command { id: Uuid::new_v5(&check.id, on.build.as_bytes()), seen: u64::MAX >> 1, action: what };
        app.store.record(on.build, &by, &roster, OffsetDateTime::now_utc(), &command).await?;
    }
    Ok(Json(used.into_iter().map(InstrumentUseView::from).collect()))
}

//! The register of instruments, as leads keep it (C-7).

use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{JsonBody, Lead};
use crate::routes::day::zone;
use crate::{App, Problem};
use axum::Json;
use axum::extract::{Path, State};
use rigore_assembly::{CalibrationDue, Instrument, Person};
use rigore_mechanics::message;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// An instrument of the register.
#[derive(Debug, Serialize, ToSchema)]
pub struct RegisteredInstrument {
    /// The instrument.
    #[serde(flatten)]
    pub instrument: Instrument,
    /// Whether it is in use.
    pub active: bool,
    /// Days until its calibration runs out; below nothing where it has.
    pub days_left: Option<i64>,
    /// Whether that is over, or soon.
    pub due: Option<CalibrationDue>,
    /// Who may use it, by name; everybody where nobody is named.
    pub kept_for: Vec<String>,
}

/// Every instrument that the shop has or had.
#[utoipa::path(get, path = "/api/instruments", responses((status = 200, body = Vec<RegisteredInstrument>), UnauthorizedAnswer, ReadAnswers))]
pub async fn instruments(State(app): State<App>) -> Result<Json<Vec<RegisteredInstrument>>, Problem> {
    let (zone, members, register) = tokio::try_join!(zone(&app), app.store.members(), app.store.register())?;
    let today = zone.shows(OffsetDateTime::now_utc()).date();
    let called = |id: &String| match members.iter().find(|member| member.person.id == *id) {
        Some(member) if member.active => member.person.name.clone(),
        Some(member) => format!("{}, deactivated", member.person.name),
        None => id.clone(),
    };
    let view = |(instrument, active): (Instrument, bool)| {
        let calibration = instrument.calibration(today);
        let (days_left, due) = (calibration.map(|(left, _)| left), calibration.and_then(|(_, due)| due));
        let kept_for = instrument.users.iter().map(called).collect();
        RegisteredInstrument { instrument, active, days_left, due, kept_for }
    };
    Ok(Json(register.into_iter().map(view).collect()))
}

/// An instrument as it is from now on.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct InstrumentEdit {
    /// The instrument; its key is not looked at.
    pub instrument: Instrument,
    /// Whether it is in use.
    pub active: bool,
}

/// An instrument of the register, and whether it is in use.
pub(super) async fn registered(app: &App, id: &str) -> Result<(Instrument, bool), Problem> {
    let known = app.store.register().await?.into_iter().find(|(of, _)| of.id == id);
    known.ok_or_else(|| Problem::not_there(message!("server-instrument", id)))
}

async fn keep(app: &App, by: &Person, id: String, edit: InstrumentEdit, done: &str) -> Result<(), Problem> {
    let name = edit.instrument.name.trim().to_owned();
    let instrument = Instrument { id, name, ..edit.instrument };
    instrument.check().map_err(|(field, message)| Problem::field(format!("instrument.{field}"), message))?;
    if let Some(stranger) = instrument.users.iter().find(|id| app.roster().person(id).is_none()) {
        return Err(Problem::field("instrument.users", message!("server-nobody-here-has-key", stranger)));
    }
    let what = format!("{done} the instrument {}", instrument.name);
    app.store.keep_instrument(by, &instrument, edit.active, &what).await?;
    Ok(app.renew().await?)
}

/// Adds an instrument.
#[utoipa::path(post, path = "/api/instruments", request_body = InstrumentEdit,
    responses((status = 200, body = Vec<RegisteredInstrument>), FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn add_instrument(
    State(app): State<App>,
    Lead(by): Lead,
    JsonBody(edit): JsonBody<InstrumentEdit>,
) -> Result<Json<Vec<RegisteredInstrument>>, Problem> {
    keep(&app, &by, Uuid::now_v7().to_string(), edit, "added").await?;
    instruments(State(app)).await
}

/// Changes an instrument; what was done with it before stays as it was then.
#[utoipa::path(put, path = "/api/instruments/{instrument}", params(("instrument" = String, Path)),
    request_body = InstrumentEdit,
    responses((status = 200, body = Vec<RegisteredInstrument>), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn change_instrument(
    State(app): State<App>,
    Lead(by): Lead,
    Path(id): Path<String>,
    JsonBody(edit): JsonBody<InstrumentEdit>,
) -> Result<Json<Vec<RegisteredInstrument>>, Problem> {
    let (_, was) = registered(&app, &id).await?;
    let done = match (was, edit.active) {
        (true, false) => "retired",
        (false, true) => "reactivated",
        _ => "changed",
    };
    keep(&app, &by, id, edit, done).await?;
    instruments(State(app)).await
}

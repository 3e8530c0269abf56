//! The first run of an empty shop.

use super::people::key_of;
use super::session::{SessionView, SignInMethod, begin};
use crate::answers::{FieldAnswer, ReadAnswers, TooLargeAnswer, TooManyAnswer, UnauthorizedAnswer};
use crate::client_ip::ClientIp;
use crate::extract::JsonBody;
use crate::guesses::GuessCounter;
use crate::text_rule::named;
use crate::zone::ShopZone;
use crate::{App, Problem, secrets};
use axum::extract::State;
use axum::http::HeaderMap;
use axum::response::Response;
use rigore_assembly::{Person, Role};
use rigore_mechanics::message;
use rigore_mechanics::quantity::{self, Dimension};
use rigore_store::ShopRow;
use serde::Deserialize;
use utoipa::ToSchema;

/// What an empty shop is founded with.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FirstRun {
    /// The code that the server printed when it started.
    pub code: String,
    /// What the shop is called.
    pub shop: String,
    /// Its time zone, such as `Europe/Oslo`.
    pub zone: String,
    /// The unit torques are shown in to who chose none.
    pub torque_unit: String,
    /// The unit lengths are shown in to who chose none.
    pub length_unit: String,
    /// Name of the first lead.
    pub name: String,
    /// Their password.
    pub password: String,
}

/// Founds the shop, and signs its first lead in.
#[utoipa::path(post, path = "/api/first-run", request_body = FirstRun,
    responses((status = 200, body = SessionView), FieldAnswer, TooManyAnswer, TooLargeAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn first_run(
    State(app): State<App>,
    ClientIp(address): ClientIp,
    headers: HeaderMap,
    JsonBody(given): JsonBody<FirstRun>,
) -> Result<Response, Problem> {
    let guesses = GuessCounter::of("code", address);
    guesses.count(&app).await?;
    if !app.settings.code.as_deref().is_some_and(|code| secrets::same_code(&given.code, code)) {
        return Err(Problem::field("code", message!("server-not-code-this-server-printed-when")));
    }
    guesses.was_right(&app).await?;
    let (shop, name) = (named("shop", &given.shop)?, named("name", &given.name)?);
    let zone = given.zone.trim();
    if ShopZone::named(zone).is_none() {
        return Err(Problem::field("zone", message!("server-time-zone-such-as-europe-oslo")));
    }
    for (field, unit, dimension) in [
        ("torque_unit", &given.torque_unit, Dimension::Torque),
        ("length_unit", &given.length_unit, Dimension::Length),
    ] {
        if quantity::unit(unit).is_none_or(|unit| unit.dimension != dimension) {
            return Err(Problem::field(field, message!("server-unit-needed", word = dimension.word())));
        }
    }
    let password = secrets::password("password", &given.password).await?;
    let lead = Person { id: key_of(&name, &[]), name, role: Role::Lead };
    let shop = ShopRow {
        name: shop,
        zone: zone.to_owned(),
        torque_unit: given.torque_unit,
        length_unit: given.length_unit,
    };
    app.store.found(&shop, &lead, &password).await?;
    app.renew().await?;
    begin(&app, &headers, lead, None, SignInMethod::Password).await
}

//! What is wrong with the server of a shop, for its leads: before somebody loses work by it.

use crate::answers::{ReadAnswers, RefusedAnswer, UnauthorizedAnswer};
use crate::extract::Lead;
use crate::{App, Problem, backups, certificate, disk};
use axum::Json;
use axum::extract::State;
use rigore_mechanics::text;
use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;

/// What is wrong with the server, and since when backups are proven.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShopFaults {
    /// What is wrong, each in a sentence: backups that failed or were missed, a disk that fills, a certificate that
    /// runs out, records that are broken.
    pub faults: Vec<String>,
    /// When the last proven backup was made.
    #[serde(with = "time::serde::rfc3339::option")]
    pub proven: Option<OffsetDateTime>,
    /// Its file.
    pub file: Option<String>,
}

/// What is wrong with the server of the shop.
#[utoipa::path(get, path = "/api/shop-faults",
    responses((status = 200, body = ShopFaults), UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn shop_faults(State(app): State<App>, Lead(_by): Lead) -> Result<Json<ShopFaults>, Problem> {
    let ((last, proven), broken, founded) =
        tokio::try_join!(app.store.backups(), app.store.broken(), app.store.founded_at())?;
    let mut faults = Vec::new();
    let folder = app.settings.backups.as_ref().map(|plan| plan.folder.as_path());
    let backup = founded.filter(|_| !app.settings.demonstration).and_then(|founded| {
        backups::fault(OffsetDateTime::now_utc(), founded, last.as_ref(), proven.as_ref(), folder)
    });
    faults.extend(backup);
    faults.extend(disk::fault(&app.settings.disks));
    let certificate = app.settings.certificate.as_deref();
    faults.extend(certificate.and_then(|file| certificate::fault(file, OffsetDateTime::now_utc())));
    if !broken.is_empty() {
        faults.push(text!("server-records-broken-nothing-recorded-on-them", count = broken.len()));
    }
    let (at, file) = proven.map_or((None, None), |row| (Some(row.at), Some(row.file)));
    Ok(Json(ShopFaults { faults, proven: at, file }))
}

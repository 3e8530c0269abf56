//! Files of certificates, known by their content and kept so that they cannot run.

use super::checks::{CardView, NOTE, card_of};
use super::instruments::registered;
use crate::answers::{
    FieldAnswer, NotFoundAnswer, ReadAnswers, RefusedAnswer, TooLargeAnswer, UnauthorizedAnswer,
};
use crate::extract::{Lead, QueryParams};
use crate::{App, Problem};
use axum::Json;
use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_store::{InstrumentCard, document_media_of};
use serde::Deserialize;
use sha2::{Digest, Sha256};
use utoipa::IntoParams;

/// The most bytes that a certificate may have.
pub const MOST: usize = 10_000_000;
/// What the file of a certificate is called.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CertificateName {
    /// What it is called.
    #[serde(default)]
    name: String,
}

/// Keeps the file of a certificate: a PDF, JPEG or PNG, by its content.
#[utoipa::path(post, path = "/api/instruments/{instrument}/certificate",
    params(("instrument" = String, Path), CertificateName),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 200, body = CardView), NotFoundAnswer, FieldAnswer, TooLargeAnswer, UnauthorizedAnswer, RefusedAnswer, ReadAnswers))]
pub async fn certify(
    State(app): State<App>,
    Lead(by): Lead,
    Path(id): Path<String>,
    QueryParams(named): QueryParams<CertificateName>,
    bytes: Result<Bytes, BytesRejection>,
) -> Result<Json<CardView>, Problem> {
    let (of, _) = registered(&app, &id).await?;
    let wrong = |message: Message| Problem::field("certificate", message);
    let bytes = bytes.map_err(|_| wrong(message!("server-file-10-mb-at-most-needed")))?;
    let media =
        document_media_of(&bytes).ok_or_else(|| wrong(message!("server-neither-pdf-jpeg-nor-png-choose")))?;
    let name: String = named.name.chars().filter(|c| !c.is_control()).take(NOTE).collect();
    let hash = hex::encode(Sha256::digest(&bytes));
    app.store.keep_certificate(&hash, media, &name, &bytes).await?;
    let card = InstrumentCard { certificate: Some((hash, name)), ..app.store.card(&id).await? };
    app.store.keep_card(&by, &of, &card).await?;
    card_of(app, id).await
}

/// The file of a certificate, to be kept and not to be run.
#[utoipa::path(get, path = "/api/certificates/{hash}", params(("hash" = String, Path)),
    responses((status = 200, body = Vec<u8>, content_type = "application/octet-stream"), NotFoundAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn certificate(
    State(app): State<App>,
    Path(hash): Path<String>,
) -> Result<impl IntoResponse, Problem> {
    let (media, bytes) = app.store.certificate(&hash).await?;
    let headers = [(header::CONTENT_TYPE, media), (header::CONTENT_DISPOSITION, "attachment".to_owned())];
    Ok((headers, bytes))
}

//! The application: what handlers share, the table of routes, and the life of the server.

use crate::routes;
use crate::web;
use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::http::{HeaderName, Request};
use axum::middleware::Next;
use rigore_store::{Roster, Store};
use std::io;
use std::sync::Arc;
use tokio::net::TcpListener;
use tokio::sync::{broadcast, watch};
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{NotForContentType, Predicate, SizeAbove};
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, RequestId, SetRequestIdLayer};
use tower_http::trace::TraceLayer;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// The most that a request may carry.
const BODY_LIMIT: usize = 1 << 20;
/// Answers below so many bytes fit one packet as they are.
const WORTH_COMPRESSING: u64 = 1400;
const REQUEST_ID: HeaderName = HeaderName::from_static("x-request-id");

/// What every handler shares.
#[derive(Debug, Clone)]
pub struct App {
    /// Where builds are kept.
    pub store: Store,
    /// The people and instruments of the shop.
    pub roster: Arc<Roster>,
    /// What simulated instruments show while they pull.
    pub live: broadcast::Sender<routes::live::Live>,
    /// Turns true when the server is asked to end.
    pub ending: watch::Sender<bool>,
}

impl App {
    /// The application over a store, with the roster as it is now.
    ///
    /// # Errors
    /// Where the store cannot be read.
    pub async fn new(store: Store) -> Result<Self, rigore_store::StoreError> {
        let roster = Arc::new(store.roster().await?);
        Ok(Self { store, roster, live: broadcast::channel(256).0, ending: watch::channel(false).0 })
    }
}

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Rigore",
        description = "Plans, leads and records the assembly of performance engines. \
            Errors are RFC 9457 problems with the fields at fault."
    ),
    components(schemas(crate::Problem, crate::problem::FieldError))
)]
struct Document;

/// The table of contents: every route of the API.
fn api() -> OpenApiRouter<App> {
    OpenApiRouter::with_openapi(Document::openapi())
        .routes(routes!(routes::shop::healthz))
        .routes(routes!(routes::shop::shop))
        .routes(routes!(routes::shop::units))
        .routes(routes!(routes::builds::begin))
        .routes(routes!(routes::builds::build))
        .routes(routes!(routes::builds::bench))
        .routes(routes!(routes::builds::sheet))
        .routes(routes!(routes::builds::story))
        .routes(routes!(routes::builds::sheet_csv))
        .routes(routes!(routes::builds::readings_csv))
        .routes(routes!(routes::builds::command))
        .routes(routes!(routes::live::events))
        .routes(routes!(routes::rig::pull))
        .routes(routes!(routes::lubricants::lubricants, routes::lubricants::add))
        .routes(routes!(routes::lubricants::versions, routes::lubricants::change))
        .routes(routes!(routes::lubricants::set_policy))
        .routes(routes!(routes::lubricants::measured))
        .routes(routes!(routes::lubricants::measured_csv))
        .routes(routes!(routes::parts::parts))
        .routes(routes!(routes::parts::part))
        .routes(routes!(routes::pictures::picture))
        .merge(pictures())
        .routes(routes!(routes::practice::practice))
        .routes(routes!(routes::plans::plans))
        .routes(routes!(routes::plans::plan))
        .routes(routes!(routes::plans::text))
        .routes(routes!(routes::plans::differs))
        .routes(routes!(routes::drafts::draft, routes::drafts::put_draft_away))
        .routes(routes!(routes::drafts::begin_shape))
        .routes(routes!(routes::drafts::shape))
        .routes(routes!(routes::drafts::keep_draft))
        .routes(routes!(routes::drafts::try_procedure))
        .merge(texts())
        .routes(routes!(routes::pieces::library, routes::pieces::keep_piece))
        .routes(routes!(routes::pieces::retire_piece))
        .routes(routes!(routes::moving::newest))
        .routes(routes!(routes::moving::preview))
        .routes(routes!(routes::moving::look_up))
        .routes(routes!(routes::clamp_load::clamp_load))
        .routes(routes!(routes::calc::list))
        .routes(routes!(routes::calc::run))
        .routes(routes!(routes::calc::sensitivity))
}

/// Texts of plans carry more than most.
fn texts() -> OpenApiRouter<App> {
    let texts = OpenApiRouter::new()
        .routes(routes!(routes::plans::check))
        .routes(routes!(routes::plans::compare))
        .routes(routes!(routes::drafts::drafts, routes::drafts::begin_draft))
        .routes(routes!(routes::drafts::save_draft))
        .routes(routes!(routes::drafts::edit_draft));
    texts.layer(DefaultBodyLimit::max(routes::plans::MOST_CARRIED))
}

/// Pictures carry more than anything else does.
fn pictures() -> OpenApiRouter<App> {
    let add = OpenApiRouter::new().routes(routes!(routes::pictures::add));
    add.layer(DefaultBodyLimit::max(routes::pictures::MOST))
}

/// The OpenAPI document, from the handlers.
pub fn openapi() -> utoipa::openapi::OpenApi {
    api().into_openapi()
}

/// The whole router.
pub fn router(app: App) -> Router {
    let (api, document) = api().split_for_parts();
    let trace = TraceLayer::new_for_http().make_span_with(|request: &Request<_>| {
        let id = request.extensions().get::<RequestId>().and_then(|id| id.header_value().to_str().ok());
        tracing::info_span!("request", id, method = %request.method(), path = request.uri().path())
    });
    let document = axum::routing::get(move || async move { axum::Json(document) });
    let compress = CompressionLayer::new().compress_when(
        SizeAbove::new(WORTH_COMPRESSING).and(NotForContentType::SSE).and(NotForContentType::IMAGES),
    );
    let whole = axum::middleware::from_fn(async |request: axum::extract::Request, next: Next| {
        // No text that is kept can hold it, and no address can be meant by it.
        if request.uri().path().contains("%00") {
            return crate::Problem::not_there("such address").into_http();
        }
        next.run(request).await
    });
    // From the outside in.
    let layers = (
        SetRequestIdLayer::new(REQUEST_ID, MakeRequestUuid),
        PropagateRequestIdLayer::new(REQUEST_ID),
        trace,
        compress,
        whole,
        DefaultBodyLimit::max(BODY_LIMIT),
        CatchPanicLayer::custom(|_| crate::Problem::internal().into_http()),
    );
    api.route("/api/openapi.json", document).fallback(web::asset).with_state(app).layer(layers)
}

/// Serves until asked to end; requests in hand are finished first.
///
/// # Errors
/// Where the socket fails.
pub async fn serve(
    listener: TcpListener,
    app: App,
    end: impl Future<Output = ()> + Send + 'static,
) -> io::Result<()> {
    let (ending, store) = (app.ending.clone(), app.store.clone());
    let served = axum::serve(listener, router(app)).with_graceful_shutdown(async move {
        end.await;
        tracing::info!("ending");
        ending.send_replace(true);
    });
    served.await?;
    store.close().await;
    Ok(())
}

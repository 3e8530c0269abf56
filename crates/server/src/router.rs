//! The table of contents: every route, and what each request goes through.

use crate::answers::UnauthorizedAnswer;
use crate::{App, language, metrics_routes, routes, session, web};
use axum::Router;
use axum::body::Body;
use axum::extract::DefaultBodyLimit;
use axum::http::{HeaderName, Request};
use axum::middleware::Next;
use rigore_mechanics::message;
use std::time::Duration;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::compression::CompressionLayer;
use tower_http::compression::predicate::{NotForContentType, Predicate, SizeAbove};
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, RequestId, SetRequestIdLayer};
use tower_http::timeout::{DeadlineBody, TimeoutBody};
use tower_http::trace::TraceLayer;
use tracing::Instrument;
use utoipa::{IntoResponses, OpenApi};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

/// The most that a request may carry.
const BODY_LIMIT: usize = 1 << 20;
/// Answers below so many bytes fit one packet as they are.
const WORTH_COMPRESSING: u64 = 1400;
/// How long a browser may fall silent within the body of a request, and how long all of it may take.
const SILENCE: Duration = Duration::from_secs(10);
const WHOLE_BODY: Duration = Duration::from_secs(300);
const REQUEST_ID: HeaderName = HeaderName::from_static("x-request-id");

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

/// The table of contents: every route of the API, by what it is about.
fn api() -> OpenApiRouter<App> {
    OpenApiRouter::with_openapi(Document::openapi())
        .routes(routes!(routes::shop::healthz))
        .merge(session())
        .merge(people())
        .merge(instruments())
        .merge(shop())
        .merge(engines())
        .merge(sheets())
        .merge(friction())
        .merge(plans())
        .merge(calculations())
}

/// Who asks, and how somebody comes in.
fn session() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::session::session_view, routes::session::sign_in, routes::session::sign_out))
        .routes(routes!(routes::session::tap_in))
        .routes(routes!(routes::session::enter))
        .routes(routes!(routes::own_secrets::confirm))
        .routes(routes!(routes::own_secrets::own_secrets))
        .routes(routes!(routes::session::sign_out_everywhere))
        .routes(routes!(routes::first_run::first_run))
}

/// People and benches.
fn people() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::people::people, routes::people::add_person))
        .routes(routes!(routes::people::change_person))
        .routes(routes!(routes::people::doings))
        .routes(routes!(routes::people::benches, routes::people::enrol_bench))
        .routes(routes!(routes::people::retire_bench))
}

/// Instruments, their checks and certificates.
fn instruments() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::instruments::instruments, routes::instruments::add_instrument))
        .routes(routes!(routes::instruments::change_instrument))
        .routes(routes!(routes::checks::card, routes::checks::keep_card))
        .routes(routes!(routes::checks::check))
        .routes(routes!(routes::checks::doubt))
        .routes(routes!(routes::certificates::certificate))
        .merge(certificates())
}

/// What the shop has, and its day.
fn shop() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::shop::shop))
        .routes(routes!(routes::shop_faults::shop_faults))
        .routes(routes!(routes::day::day))
        .routes(routes!(routes::day::keep_hours))
        .routes(routes!(routes::day::make_feed, routes::day::end_feed))
        .routes(routes!(routes::day::feed))
        .routes(routes!(routes::choices::letterhead, routes::choices::set_letterhead))
        .routes(routes!(routes::labels::page_code))
        .routes(routes!(routes::finding::find))
        .routes(routes!(routes::shop::units))
}

/// Engines at the bench, and what they leave behind.
fn engines() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::builds::begin))
        .routes(routes!(routes::builds::build))
        .routes(routes!(routes::builds::bench))
        .routes(routes!(routes::tables::look_at_table))
        .routes(routes!(routes::builds::story))
        .routes(routes!(routes::builds::sheet_csv))
        .routes(routes!(routes::builds::readings_csv))
        .routes(routes!(routes::builds::parts_csv))
        .routes(routes!(routes::builds::build_entries_csv))
        .routes(routes!(routes::builds::command))
        .routes(routes!(routes::live::events))
        .routes(routes!(routes::rig::pull))
        .routes(routes!(routes::pictures::picture))
        .merge(pictures())
        .routes(routes!(routes::archives::archive))
        .merge(archives())
        .routes(routes!(routes::practice::practice))
        .routes(routes!(routes::moving::newest))
        .routes(routes!(routes::moving::preview))
        .routes(routes!(routes::moving::look_up))
}

/// Build sheets, and links to them.
fn sheets() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::sheets::sheet))
        .routes(routes!(routes::sheets::shares, routes::sheets::share))
        .routes(routes!(routes::sheets::end_share))
        .routes(routes!(routes::sheets::all_shares))
        .routes(routes!(routes::sheets::shared))
        .routes(routes!(routes::sheets::shared_picture))
        .routes(routes!(routes::sheets::printed_hash))
        .routes(routes!(routes::sheets::code))
}

/// Lubricants, and what bolts have shown.
fn friction() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::lubricants::lubricants, routes::lubricants::add))
        .routes(routes!(routes::lubricants::versions, routes::lubricants::change))
        .routes(routes!(routes::lubricants::set_policy))
        .routes(routes!(routes::choices::decision_rule, routes::choices::set_decision_rule))
        .routes(routes!(routes::lubricants::measured))
        .routes(routes!(routes::lubricants::measured_csv))
        .routes(routes!(routes::friction_tests::friction_tests, routes::friction_tests::add_friction_test))
        .routes(routes!(routes::friction_tests::preview_friction_test))
        .routes(routes!(routes::friction_tests::void_friction_test))
        .routes(routes!(routes::friction_tests::stretchable))
        .routes(routes!(routes::parts::parts))
        .routes(routes!(routes::parts::part))
}

/// Plans, drafts and their library.
fn plans() -> OpenApiRouter<App> {
    OpenApiRouter::new()
        .routes(routes!(routes::plans::plans))
        .routes(routes!(routes::plans::examples))
        .routes(routes!(routes::plans::plan))
        .routes(routes!(routes::plans::text))
        .routes(routes!(routes::plans::differs))
        .routes(routes!(routes::drafts::draft, routes::drafts::put_draft_away))
        .routes(routes!(routes::drafts::begin_shape))
        .routes(routes!(routes::drafts::shape))
        .routes(routes!(routes::drafts::keep_draft))
        .routes(routes!(routes::drafts::try_procedure))
        .routes(routes!(routes::dry_runs::begin_dry_run))
        .routes(routes!(routes::dry_runs::dry_run))
        .routes(routes!(routes::drafts::undo))
        .routes(routes!(routes::drafts::redo))
        .routes(routes!(routes::drafts::table))
        .routes(routes!(routes::drafts::plan_format))
        .routes(routes!(routes::manual_files::manual_file))
        .merge(manual_files())
        .merge(texts())
        .routes(routes!(routes::pieces::library, routes::pieces::keep_piece))
        .routes(routes!(routes::pieces::retire_piece))
}

/// Calculations.
fn calculations() -> OpenApiRouter<App> {
    OpenApiRouter::new()
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

/// A whole engine carries the most.
fn archives() -> OpenApiRouter<App> {
    let take_in = OpenApiRouter::new().routes(routes!(routes::archives::take_in));
    take_in.layer(DefaultBodyLimit::max(routes::archives::MOST))
}

/// Certificates carry as much as pictures do.
fn certificates() -> OpenApiRouter<App> {
    let certify = OpenApiRouter::new().routes(routes!(routes::certificates::certify));
    certify.layer(DefaultBodyLimit::max(routes::certificates::MOST))
}

/// Pictures carry more than anything else does.
fn pictures() -> OpenApiRouter<App> {
    let add = OpenApiRouter::new().routes(routes!(routes::pictures::add));
    add.layer(DefaultBodyLimit::max(routes::pictures::MOST))
}

/// Files of manuals.
fn manual_files() -> OpenApiRouter<App> {
    let keep = OpenApiRouter::new().routes(routes!(routes::manual_files::keep_manual_file));
    keep.layer(DefaultBodyLimit::max(routes::manual_files::MOST))
}

/// The OpenAPI document, from the handlers.
pub fn openapi() -> utoipa::openapi::OpenApi {
    with_unauthorized_answers(api().into_openapi())
}

/// The document, in which every operation that asks for a session says what it answers without one.
fn with_unauthorized_answers(mut document: utoipa::openapi::OpenApi) -> utoipa::openapi::OpenApi {
    let asks = document.paths.paths.iter_mut().filter(|(path, _)| session::asks_for_one(path));
    for (_, path) in asks {
        let operations = [&mut path.get, &mut path.put, &mut path.post, &mut path.delete];
        for operation in operations.into_iter().flatten() {
            for (status, answer) in UnauthorizedAnswer::responses() {
                operation.responses.responses.entry(status).or_insert(answer);
            }
        }
    }
    document
}

/// The whole router.
pub fn router(app: App) -> Router {
    let (api, document) = api().split_for_parts();
    let document = with_unauthorized_answers(document);
    let trace = TraceLayer::new_for_http().make_span_with(|request: &Request<_>| {
        let id = request.extensions().get::<RequestId>().and_then(|id| id.header_value().to_str().ok());
        tracing::info_span!("request", id, method = %request.method(), path = request.uri().path())
    });
    let document = axum::routing::get(move || async move { axum::Json(document) });
    let compress = CompressionLayer::new().compress_when(
        SizeAbove::new(WORTH_COMPRESSING).and(NotForContentType::SSE).and(NotForContentType::IMAGES),
    );
    // From the outside in.
    let layers = (
        axum::middleware::from_fn_with_state(app.clone(), metrics_routes::count),
        SetRequestIdLayer::new(REQUEST_ID, MakeRequestUuid),
        PropagateRequestIdLayer::new(REQUEST_ID),
        trace,
        compress,
        axum::middleware::from_fn(run_to_completion),
        axum::middleware::from_fn(language::answer),
        DefaultBodyLimit::max(BODY_LIMIT),
        CatchPanicLayer::custom(|_| crate::Problem::internal().into_http()),
        axum::middleware::from_fn_with_state(app.clone(), session::headers),
        axum::middleware::from_fn_with_state(app.clone(), session::guard),
    );
    let no_method = async |method: axum::http::Method| crate::Problem::method(method.as_str()).into_http();
    let api = api.route("/api/openapi.json", document).method_not_allowed_fallback(no_method);
    api.fallback(web::asset).with_state(app).layer(layers)
}

/// Carries a request out to its end, also where its browser hangs up: what is committed is told to everybody. A body
/// that does not come is not waited for.
async fn run_to_completion(request: axum::extract::Request, next: Next) -> axum::response::Response {
    // No text that is kept can hold it, and no address can be meant by it.
    if request.uri().path().contains("%00") {
        return crate::Problem::not_there(message!("server-such-address")).into_http();
    }
    let timed = |body| Body::new(DeadlineBody::new(WHOLE_BODY, TimeoutBody::new(SILENCE, body)));
    let request = request.map(timed);
    if request.method().is_safe() {
        return next.run(request).await;
    }
    let done = tokio::spawn(next.run(request).in_current_span());
    done.await.unwrap_or_else(|_| crate::Problem::internal().into_http())
}

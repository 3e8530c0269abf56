//! Finding anything of the shop by one field.

use crate::answers::{FieldAnswer, ReadAnswers, UnauthorizedAnswer};
use crate::extract::QueryParams;
use crate::{App, Problem};
use axum::Json;
use axum::extract::State;
use percent_encoding::{NON_ALPHANUMERIC, utf8_percent_encode};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_store::{ListQuery, PartOrder};
use serde::{Deserialize, Serialize};
use std::fmt::Display;
use utoipa::{IntoParams, ToSchema};

/// Of each kind at most.
const EACH: u32 = 8;
/// Characters that are looked for at most.
const LONG: usize = 200;

/// What is looked for.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct FindQuery {
    /// Words, all of which it has.
    #[serde(default)]
    find: String,
}

/// What kind of thing was found.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum SearchHitKind {
    /// An engine, by its name, owner, number, or a part's serial or batch.
    Engine,
    /// A part by its serial, mark or set number.
    Part,
    /// A plan.
    Plan,
    /// An instrument, by its name or serial.
    Instrument,
    /// Somebody who works here.
    Person,
}

/// Something that was found.
#[derive(Debug, Serialize, ToSchema)]
pub struct SearchHit {
    /// What kind of thing it is.
    pub kind: SearchHitKind,
    /// What it is called.
    pub name: String,
    /// What else is to be said of it.
    pub besides: Message,
    /// The page that shows it.
    pub path: String,
}

/// Finds engines, parts, plans, instruments and people by words.
#[utoipa::path(get, path = "/api/find", params(FindQuery),
    responses((status = 200, body = Vec<SearchHit>), FieldAnswer, UnauthorizedAnswer, ReadAnswers))]
pub async fn find(
    State(app): State<App>,
    QueryParams(wanted): QueryParams<FindQuery>,
) -> Result<Json<Vec<SearchHit>>, Problem> {
    let find: String = wanted.find.trim().chars().take(LONG).collect();
    let words: Vec<String> = find.split_whitespace().map(str::to_lowercase).collect();
    if words.is_empty() {
        return Ok(Json(Vec::new()));
    }
    let engines = ListQuery { find: find.clone(), limit: 8 * EACH, ..ListQuery::default() };
    let (engines, parts, plans) = tokio::try_join!(
        app.store.list(&engines),
        app.store.parts(&find, PartOrder::default(), None, EACH),
        app.store.plans()
    )?;
    let has = |texts: [&str; 2]| {
        let text = texts.join(" ").to_lowercase();
        words.iter().all(|word| text.contains(word.as_str()))
    };
    let mut found = Vec::new();
    let mut put = |kind, name: &str, besides: Message, path: String| {
        found.push(SearchHit { kind, name: name.to_owned(), besides, path });
    };
    // What is called so in these very words comes first.
    let whole = find.to_lowercase();
    let mut engines = engines.rows;
    engines.sort_by_key(|row| {
        let name = row.summary.name.to_lowercase();
        if name.ends_with(&whole) { 0 } else { 1 + u8::from(!name.contains(&whole)) }
    });
    for row in engines.into_iter().take(EACH as usize) {
        let besides = message!("server-plan-now", plan = &row.summary.plan, now = row.summary.now);
        put(SearchHitKind::Engine, &row.summary.name, besides, format!("/engines/{}", row.id));
    }
    for row in parts {
        let besides = message!("server-last", name = row.name, engine = row.engine);
        put(SearchHitKind::Part, &row.serial, besides, format!("/parts/{}", encoded(&row.serial)));
    }
    let each = EACH as usize;
    for row in plans.into_iter().filter(|row| has([&row.name, &row.id])).take(each) {
        put(
            SearchHitKind::Plan,
            &row.name,
            message!("server-version", number = row.number),
            format!("/plans/{}", row.hash),
        );
    }
    let roster = app.roster();
    for of in roster.instruments.iter().filter(|of| !of.by_eye() && has([&of.name, &of.serial])).take(each) {
        put(
            SearchHitKind::Instrument,
            &of.name,
            Message::from(&of.serial),
            format!("/own/instruments/{}", encoded(&of.id)),
        );
    }
    for of in roster.people.iter().filter(|of| has([&of.name, ""])).take(each) {
        put(SearchHitKind::Person, &of.name, Message::default(), "/own".to_owned());
    }
    Ok(Json(found))
}

/// A text as it stands in an address.
fn encoded(text: &str) -> impl Display + '_ {
    utf8_percent_encode(text, NON_ALPHANUMERIC)
}

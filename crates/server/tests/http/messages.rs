//! No message that is sent holds a quantity as finished text: it comes as a value, for the reader's own units.

use crate::harness::Server;
use rigore_mechanics::quantity::{Dimension, UNITS};
use rigore_server::demo;
use serde_json::{Value, json};
use std::collections::BTreeSet;

/// What is shown as it was typed or as the plan's text has it, to the letter. Sizes of parts are names, as they stand on
/// their boxes.
const AS_WRITTEN: [&str; 5] = ["choices", "entered", "procedure", "source", "written"];

/// What people of the demonstration wrote: texts of its plans and of its engines.
const BY_PEOPLE: [&str; 3] = [
    include_str!("../../../../plans/tarn-5.toml"),
    include_str!("../../../../plans/ostra-11.toml"),
    include_str!("../../../../plans/pier-nine.toml"),
];

/// Whether a text has a number with a unit that readers choose.
fn has_quantity(text: &str) -> bool {
    let chosen = [Dimension::Torque, Dimension::Length, Dimension::Force, Dimension::Pressure];
    let symbols = UNITS.iter().filter(|unit| chosen.contains(&unit.dimension)).map(|unit| unit.symbol);
    let follows_number = |at: usize, symbol: &str| {
        let before = text[..at].trim_end().ends_with(|c: char| c.is_ascii_digit());
        let after = text[at + symbol.len()..].chars().next().is_none_or(|c| !c.is_alphanumeric() && c != '·');
        before && after
    };
    symbols.into_iter().any(|symbol| text.match_indices(symbol).any(|(at, _)| follows_number(at, symbol)))
}

/// Every text below a value that holds a quantity, with where it stands.
fn quantities(value: &Value, path: &str, found: &mut BTreeSet<String>) {
    match value {
        Value::String(text) if has_quantity(text) && !BY_PEOPLE.iter().any(|all| all.contains(text)) => {
            found.insert(format!("{path}: {text}"));
        }
        Value::Array(items) => items.iter().for_each(|item| quantities(item, path, found)),
        Value::Object(fields) => {
            for (key, field) in fields.iter().filter(|(key, _)| !AS_WRITTEN.contains(&key.as_str())) {
                quantities(field, &format!("{path}.{key}"), found);
            }
        }
        _ => {}
    }
}

fn ids(list: &Value, key: &str) -> Vec<String> {
    let rows = list.as_array().into_iter().flatten();
    rows.filter_map(|row| row[key].as_str().map(str::to_owned)).collect()
}

/// Every page of the demonstration shop: its lists, its engines with every operation, its plans.
pub async fn demonstration_pages(server: &Server) -> Vec<String> {
    let mut paths: Vec<String> =
        ["/api/shop", "/api/day", "/api/friction", "/api/parts", "/api/plans", "/api/instruments"]
            .map(str::to_owned)
            .to_vec();
    let mut builds = ids(&server.get("/api/shop").await["builds"], "id");
    builds.extend(["Tarn 5 no. 9", "Tarn 5 no. 11"].map(|name| demo::build_id(name).to_string()));
    for build in builds {
        let engine = server.get(&format!("/api/builds/{build}")).await;
        paths.extend(["", "/sheet", "/version"].map(|of| format!("/api/builds/{build}{of}")));
        paths.extend(
            ids(&engine["operations"], "id").iter().map(|id| format!("/api/builds/{build}/operations/{id}")),
        );
    }
    for row in ids(&server.get("/api/plans").await, "hash") {
        paths.push(format!("/api/plans/{row}"));
    }
    paths
}

#[tokio::test]
async fn no_message_of_the_demonstration_shop_holds_a_quantity_as_finished_text() {
    let server = Server::start().await;
    let paths = demonstration_pages(&server).await;
    let (mut found, mut messages) = (BTreeSet::new(), 0);
    for path in &paths {
        let page = server.get(path).await;
        messages += page.to_string().matches("\"dimension\"").count();
        quantities(&page, path.split('/').nth(2).unwrap_or_default(), &mut found);
    }
    assert!(found.is_empty(), "{} of {} pages: {found:#?}", found.len(), paths.len());
    assert!(paths.len() > 100 && messages > 1000, "{} pages with {messages} quantities", paths.len());
}

#[tokio::test]
async fn a_refusal_carries_its_quantities_and_says_them_as_text_too() {
    let server = Server::start().await;
    let pull = json!({"type": "pull", "operation": "main-caps-tighten", "stage": 1, "fastener": "2L",
        "reading": {"text": "300"}, "method": "typed", "instrument": "wrench-2"});
    let (status, problem) = server.give("lead", "Tarn 5 no. 13", pull).await;
    assert_eq!((status.as_u16(), problem["type"].as_str()), (409, Some("/problems/ask")));
    let pieces = problem["message"].as_array().expect("pieces");
    assert_eq!(pieces[0], json!({"value": 300.0, "dimension": "torque", "more": 1}));
    assert!(problem["detail"].as_str().is_some_and(|detail| detail.starts_with("300.0 N·m is unlikely")));
}

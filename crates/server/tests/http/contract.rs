//! Every operation of the API, as nobody, a viewer, a builder, a lead and somebody who was deactivated, with a body made of
//! its own description: each answer is one that the description has.

use crate::people::{founded, one_of_each};
use reqwest::Method;
use rigore_server::openapi;
use serde_json::{Map, Value, json};
use uuid::Uuid;

/// How deep an example goes into its schema.
const DEEP: usize = 12;

/// A value as a schema describes it, with what it requires and nothing else.
fn example(schema: &Value, document: &Value, deep: usize) -> Value {
    if deep > DEEP {
        return Value::Null;
    }
    if let Some(name) = schema["$ref"].as_str() {
        let of = &document["components"]["schemas"][name.rsplit('/').next().expect("a name")];
        return example(of, document, deep + 1);
    }
    if let Some(first) = schema["enum"].get(0) {
        return first.clone();
    }
    for one in ["oneOf", "anyOf"] {
        if let Some(options) = schema[one].as_array() {
            let is_something = |option: &&Value| option["type"] != json!("null");
            return options
                .iter()
                .find(is_something)
                .map_or(Value::Null, |of| example(of, document, deep + 1));
        }
    }
    if let Some(all) = schema["allOf"].as_array() {
        let parts = all.iter().map(|part| example(part, document, deep + 1));
        let fields = parts.filter_map(|part| part.as_object().cloned()).flatten();
        return Value::Object(fields.collect::<Map<_, _>>());
    }
    let kind = schema["type"].as_str().or_else(|| schema["type"][0].as_str()).unwrap_or("object");
    match (kind, schema["format"].as_str()) {
        ("string", Some("uuid")) => json!(Uuid::now_v7()),
        ("string", Some("date-time")) => json!("2026-01-02T03:04:05Z"),
        ("string", Some("date")) => json!("2026-01-02"),
        ("string", _) => json!("x"),
        ("integer" | "number", _) => schema.get("minimum").cloned().unwrap_or_else(|| json!(1)),
        ("boolean", _) => json!(false),
        ("array", _) => json!([example(&schema["items"], document, deep + 1)]),
        ("null", _) => Value::Null,
        _ => {
            let required: Vec<&str> =
                schema["required"].as_array().into_iter().flatten().filter_map(Value::as_str).collect();
            let fields = required
                .into_iter()
                .map(|field| (field.to_owned(), example(&schema["properties"][field], document, deep + 1)));
            Value::Object(fields.collect())
        }
    }
}

/// A body of an operation, where it carries JSON.
fn body(operation: &Value, document: &Value) -> Option<Value> {
    let schema = operation["requestBody"]["content"]["application/json"].get("schema")?;
    Some(example(schema, document, 0))
}

/// A path with something in place of each parameter.
fn filled(path: &str) -> String {
    let part = |part: &str| match part {
        "{build}" | "{draft}" | "{share}" | "{bench}" | "{piece}" => Uuid::nil().to_string(),
        part if part.starts_with('{') => "x".to_owned(),
        part => part.to_owned(),
    };
    path.split('/').map(part).collect::<Vec<_>>().join("/")
}

#[tokio::test]
async fn every_operation_answers_everybody_as_it_is_described() {
    let (_scratch, base, lead) = founded().await;
    let mut browsers = one_of_each(&lead, &base).await;
    browsers.push(("lead", lead));
    let document = serde_json::to_value(openapi()).expect("JSON");
    let paths = document["paths"].as_object().expect("paths");
    let mut operations: Vec<(&String, &String, &Value)> = paths
        .iter()
        .flat_map(|(path, methods)| {
            let methods = methods.as_object().expect("methods");
            methods.iter().map(move |(method, operation)| (path, method, operation))
        })
        .collect();
    // What signs out comes last.
    operations.sort_by_key(|(path, method, _)| path.starts_with("/api/session") && *method == "delete");
    let mut undescribed = Vec::new();
    let mut answered = 0;
    for (path, method, operation) in operations {
        for (role, browser) in &browsers {
            let method: Method = method.to_uppercase().parse().expect("a method");
            let (status, answer) =
                browser.ask(method.clone(), &filled(path), body(operation, &document)).await;
            answered += 1;
            let described = operation["responses"].as_object().expect("responses");
            if !described.contains_key(status.as_str()) {
                undescribed.push(format!("{role} {method} {path}: {status} {}", answer["detail"]));
            }
            if !status.is_success() {
                let kind = answer["type"].as_str().unwrap_or_default();
                let told = format!("{role} {method} {path}: {status} {answer}");
                if !kind.starts_with("/problems/") || status.as_u16() >= 500 {
                    undescribed.push(told);
                }
            }
        }
    }
    assert!(answered > 400, "{answered}");
    assert!(undescribed.is_empty(), "{} answers:\n{}", undescribed.len(), undescribed.join("\n"));
}

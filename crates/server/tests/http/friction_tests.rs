//! Bolts in the vice, and the rule by which measured values are judged.

use crate::harness::Server;
use reqwest::StatusCode;
use serde_json::{Value, json};

fn test(stretch: &str) -> Value {
    json!({
        "fastener": "Vice bolt", "thread": "M9x1.0", "resilience": "4.834 µm/kN", "bearing_diameter": "12 mm",
        "wrench": "angle-2", "gauge": "bolt-length", "torque_unit": "N·m", "length_unit": "mm",
        "runs": [
            {"thread_lubricant": "dry", "readings": [{"torque": "40", "stretch": stretch}, {"torque": "50", "stretch": "0.121"}]},
            {"thread_lubricant": "moly-paste", "readings": [{"torque": "20", "stretch": "0.090"}]},
        ],
    })
}

/// The instruments of the demonstration that a bolt is pulled and measured with.
async fn with_instruments(server: &Server, mut of: Value) -> Value {
    let all = server.get("/api/instruments").await;
    let first = |key: &str| {
        let mut all = all.as_array().expect("instruments").iter();
        all.find(|one| one[key].is_array() && one["clicks"] != true).expect("one")["id"].clone()
    };
    of["wrench"] = first("torque_nm");
    of["gauge"] = first("length_mm");
    of
}

#[tokio::test]
async fn a_test_in_the_vice_stands_in_friction_with_a_mark_and_decides_nothing() {
    let server = Server::start().await;
    let entry = with_instruments(&server, test("0.095")).await;
    let before = server.get("/api/friction").await;
    let tests = server.get("/api/friction/tests").await.as_array().map_or(0, Vec::len);
    let body = json!({"id": uuid::Uuid::now_v7(), "test": entry});
    let (status, made) = server.post("/api/friction/tests", &body).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let k = made["runs"][0]["k"].as_f64().expect("K");
    assert!((k - 0.2244).abs() < 0.004, "{k}");
    // Sent again, it is the same test; another one under its id is refused.
    assert_eq!(server.post("/api/friction/tests", &body).await.0, StatusCode::OK);
    let other = json!({"id": body["id"], "test": with_instruments(&server, test("0.100")).await});
    assert_eq!(server.post("/api/friction/tests", &other).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(server.get("/api/friction/tests").await.as_array().map(Vec::len), Some(tests + 1));

    let shown = server.get("/api/friction").await;
    let of = |all: &Value, thread: &str| {
        let all = all.as_array().expect("friction").clone();
        all.into_iter().find(|of| of["fastener"] == "Vice bolt, M9x1.0" && of["thread"] == thread)
    };
    let dry = of(&shown, "dry").expect("what was tried in the vice");
    assert_eq!(
        (&dry["only_in_vice"], &dry["enough"], &dry["batches"][0]["in_vice"]),
        (&json!(true), &json!(false), &json!(true))
    );
    // What the bolts of engines have shown stays what it was.
    for kind in before.as_array().expect("friction") {
        let all = shown.as_array().expect("friction");
        assert!(all.contains(kind), "{kind}");
    }

    let csv = server.client.get(format!("{}/api/friction.csv", server.base)).send().await.expect("a table");
    let csv = csv.text().await.expect("text");
    assert!(csv.lines().any(|line| line.contains("Vice bolt") && line.contains("in the vice")), "{csv}");

    let path = format!("/api/friction/tests/{}/void", body["id"].as_str().expect("an id"));
    assert_eq!(server.post(&path, &json!({"reason": "x"})).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let (status, voided) = server.post(&path, &json!({"reason": "another bolt"})).await;
    assert_eq!((status, voided["voided"]["reason"].as_str()), (StatusCode::OK, Some("another bolt")));
    assert_eq!(server.get("/api/friction").await, before, "it counts no more");
    assert_eq!(
        server.get("/api/friction/tests").await.as_array().map(Vec::len),
        Some(tests + 1),
        "and stays readable"
    );
    let nothing = format!("/api/friction/tests/{}/void", uuid::Uuid::now_v7());
    assert_eq!(server.post(&nothing, &json!({"reason": "another bolt"})).await.0, StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn what_cannot_be_meant_names_the_whole_way_to_its_field() {
    let server = Server::start().await;
    let entry = with_instruments(&server, test("2.0")).await;
    let (status, preview) = server.post("/api/friction/tests/preview", &entry).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(preview["errors"][0]["field"], "runs[0].readings[0].stretch", "{preview}");
    let mut odd = with_instruments(&server, test("0.095")).await;
    odd["gauge"] = json!("none");
    let (_, refused) =
        server.post("/api/friction/tests", &json!({"id": uuid::Uuid::now_v7(), "test": odd})).await;
    assert_eq!(refused["errors"][0]["field"], "gauge", "{refused}");
    let known = server.get("/api/friction/fasteners").await;
    let rod =
        known.as_array().expect("fasteners").iter().find(|of| of["fastener"] == "Rod bolt").expect("it");
    assert!((rod["resilience_um_per_kn"].as_f64().expect("a figure") - 4.834).abs() < 0.01, "{rod}");
}

#[tokio::test]
async fn a_viewer_records_no_test_and_only_a_lead_chooses_the_rule() {
    let server = Server::start().await;
    let entry = with_instruments(&server, test("0.095")).await;
    let send = async |person: &str, method: reqwest::Method, path: &str, body: &Value| {
        let request = server.client.request(method, format!("{}{path}", server.base));
        let request = request.header("cookie", format!("rigore=demonstration.{person}")).json(body);
        request.send().await.expect("an answer").status()
    };
    let body = json!({"id": uuid::Uuid::now_v7(), "test": entry});
    assert_eq!(
        send("viewer", reqwest::Method::POST, "/api/friction/tests", &body).await,
        StatusCode::FORBIDDEN
    );
    assert_eq!(server.get("/api/decision-rule").await["decision_rule"], "iso-14253-1-2017");
    let earlier = json!({"decision_rule": "iso-14253-1-2013"});
    let put = reqwest::Method::PUT;
    assert_eq!(send("bench-one", put.clone(), "/api/decision-rule", &earlier).await, StatusCode::FORBIDDEN);
    assert_eq!(send("lead", put.clone(), "/api/decision-rule", &earlier).await, StatusCode::OK);
    let never = json!({"decision_rule": "iso-1"});
    assert_eq!(send("lead", put, "/api/decision-rule", &never).await, StatusCode::UNPROCESSABLE_ENTITY);

    // An engine keeps the rule that it was begun with; a lead changes it with a reason.
    let plans = server.get("/api/plans").await;
    let id = rigore_server::demo::build_id("Rule engine");
    let engine = json!({"id": id, "name": "Rule engine", "plan": plans[0]["hash"]});
    assert_eq!(server.post("/api/builds", &engine).await.0, StatusCode::OK);
    let path = format!("/api/builds/{id}");
    assert_eq!(server.get(&path).await["decision_rule"], "iso-14253-1-2013");
    let (status, answer) =
        server.give("bench-one", "Rule engine", json!({"type": "set-decision-rule", "decision_rule": "iso-14253-1-2017", "reason": "current edition"})).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{answer}");
}

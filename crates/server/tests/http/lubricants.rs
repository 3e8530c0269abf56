//! Lubricants of the shop, what is done with them, and the friction that was measured.

use crate::harness::Server;
use reqwest::StatusCode;
use serde_json::{Value, json};

fn paste(usual: f64) -> Value {
    json!({"name": "Bench paste", "film": "lubricant", "thread": [0.07, usual, 0.11], "source": "supplier's card"})
}

async fn put(server: &Server, person: &str, path: &str, body: &Value) -> (StatusCode, Value) {
    let request = server
        .client
        .put(format!("{}{path}", server.base))
        .header("cookie", format!("rigore=demonstration.{person}"));
    let answer = request.json(body).send().await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

#[tokio::test]
async fn a_change_is_another_version_and_what_was_used_keeps_its_figures() {
    let server = Server::start().await;
    let (status, own) = server.post("/api/lubricants", &paste(0.09)).await;
    assert_eq!(
        (status, own["id"].as_str(), &own["version"]),
        (StatusCode::OK, Some("own-bench-paste"), &json!(1))
    );
    let engine = "Tarn 5 no. 13";
    let used = json!({"type": "lubricate", "operation": "main-caps-tighten", "group": "inner",
        "thread": "own-bench-paste", "bearing": "own-bench-paste", "reason": "the other is used up"});
    let (status, answer) = server.give("bench-one", engine, used.clone()).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let target = |bench: &Value| bench["step"]["target"]["shown"].as_f64().expect("a torque");
    let before = target(&server.bench(engine, "main-caps-tighten").await);
    let change = json!({"seen": 1, "lubricant": paste(0.10)});
    let (status, changed) = put(&server, "lead", "/api/lubricants/own-bench-paste", &change).await;
    assert_eq!((status, &changed["version"]), (StatusCode::OK, &json!(2)));
    // Somebody who had seen the first version only.
    assert_eq!(
        put(&server, "lead", "/api/lubricants/own-bench-paste", &change).await.0,
        StatusCode::CONFLICT
    );
    let same = target(&server.bench(engine, "main-caps-tighten").await);
    assert!((same - before).abs() < 1e-12, "what was used keeps its figures: {same} {before}");
    server.give("bench-one", engine, used).await;
    let now = target(&server.bench(engine, "main-caps-tighten").await);
    assert!(now > before * 1.02, "said anew, it is the new version: {now} {before}");
    let versions = server.get("/api/lubricants/own-bench-paste").await;
    assert_eq!(versions.as_array().map(Vec::len), Some(2));
    assert!(
        versions[0]["typical"]["thread"] == 0.10 && versions[1]["typical"]["thread"] == 0.09,
        "{versions}"
    );
    // Retired, it is offered no more.
    let retire = json!({"seen": 2, "retired": true, "lubricant": paste(0.10)});
    assert_eq!(put(&server, "lead", "/api/lubricants/own-bench-paste", &retire).await.0, StatusCode::OK);
    let again = json!({"type": "lubricate", "operation": "main-caps-tighten", "group": "inner",
        "thread": "own-bench-paste", "bearing": "engine-oil", "reason": "the other is used up"});
    let (status, problem) = server.give("bench-one", engine, again).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("thread")), "{problem}");
}

#[tokio::test]
async fn what_is_wrong_names_its_field_and_only_a_lead_changes_the_shop() {
    let server = Server::start().await;
    let with = |key: &str, value: Value| {
        let mut body = paste(0.09);
        body[key] = value;
        body
    };
    for (body, field) in [
        (with("name", json!("")), "name"),
        (with("name", json!("Engine oil")), "name"),
        (with("thread", json!([0.1, 0.09, 0.2])), "thread"),
        (with("thread", json!([0.1, 0.2])), "thread"),
        (with("bearing", json!([0.1, 0.2, 9.0])), "bearing"),
        (with("film", json!("honey")), "film"),
        (with("source", json!("")), "source"),
    ] {
        let (status, problem) = server.post("/api/lubricants", &body).await;
        assert_eq!(status.as_u16(), 422, "{body} {problem}");
        let named = problem["errors"][0]["field"].as_str().expect("a field");
        assert!(named.starts_with(field), "{named} for {field}: {problem}");
    }
    for (path, body) in [("/api/lubricants", paste(0.09))] {
        assert_eq!(server.post_as("bench-one", path, &body).await.0, StatusCode::FORBIDDEN);
    }
    let policy = json!({"lubricants": "as-specified"});
    assert_eq!(put(&server, "bench-one", "/api/policy", &policy).await.0, StatusCode::FORBIDDEN);
    assert_eq!(
        put(&server, "lead", "/api/lubricants/nothing", &json!({"seen": 0, "lubricant": paste(0.09)}))
            .await
            .0,
        404
    );
    // What the shop does is what an engine begins with, unless it is said.
    assert_eq!(put(&server, "lead", "/api/policy", &policy).await.0, StatusCode::OK);
    let plan = server.get("/api/plans").await[0]["hash"].clone();
    for (said, does) in [(Value::Null, "as-specified"), (json!("convert"), "convert")] {
        let id = uuid::Uuid::now_v7();
        let body = json!({"id": id, "name": "New", "plan": plan, "lubricants": said});
        server.post("/api/builds", &body).await;
        assert_eq!(server.get(&format!("/api/builds/{id}")).await["lubricants"], does);
    }
}

#[tokio::test]
async fn the_friction_of_the_shop_follows_its_record() {
    let server = Server::start().await;
    let rods = |table: &Value| {
        let rod = table
            .as_array()
            .and_then(|rows| rows.iter().find(|row| row["thread"] == "assembly-paste"))
            .cloned();
        rod.expect("rod bolts on their paste")
    };
    let before = rods(&server.get("/api/friction").await);
    assert!(before["median"].as_f64().is_some_and(|k| k > 0.08 && k < 0.16), "{before}");
    let engine = "Tarn 5 no. 20";
    for text in ["0", "22", "0.118"] {
        let step = server.bench(engine, "rod-tighten-1").await["step"].clone();
        let stretch = step["asks"]["dimension"] == "length";
        let instrument = if stretch { "rig-gauge" } else { "rig-wrench" };
        let pull = json!({"type": "pull", "operation": "rod-tighten-1", "joint": step["joint"], "stage": step["stage"],
            "fastener": step["fastener"], "reading": {"text": text}, "method": "typed", "instrument": instrument,
            "sure": true});
        let (status, answer) = server.give("bench-one", engine, pull).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
    }
    let csv = server.client.get(format!("{}/api/friction.csv", server.base)).send().await.expect("an answer");
    let csv = csv.text().await.expect("text");
    let rows: Vec<&str> = csv.lines().skip(1).filter(|row| !row.contains("in the vice")).collect();
    assert_eq!(Some(rows.len() as u64), before["count"].as_u64(), "it has shown its friction before");
    let own: Vec<&&str> = rows.iter().filter(|row| row.contains(engine)).collect();
    assert!(own[0].contains(",0.118,"), "{own:?}");
}

//! The server over HTTP: answers, problems, live updates.

use crate::harness::{SEEN, Server};
use futures::StreamExt;
use reqwest::{Client, StatusCode};
use rigore_server::demo;
use serde_json::{Value, json};
use std::time::Duration;
use uuid::Uuid;

fn build(name: &str) -> Uuid {
    demo::build_id(name)
}

fn pull(fastener: &str, text: &str) -> Value {
    json!({"type": "pull", "operation": "main-caps-tighten", "stage": 1, "fastener": fastener,
        "reading": {"text": text}, "method": "typed", "instrument": "wrench-2"})
}

#[tokio::test]
async fn a_command_is_answered_the_same_again_and_bad_ones_name_their_field() {
    let server = Server::start().await;
    let path = format!("/api/builds/{}/commands", build("Tarn 5 no. 13"));
    let command = json!({"id": Uuid::now_v7(), "seen": SEEN, "action": pull("2L", "30")});
    let first = server.post(&path, &command).await;
    assert_eq!(first.0, StatusCode::OK, "{}", first.1);
    assert_eq!(server.post(&path, &command).await, first);

    for (body, status, field) in [
        (json!({"id": Uuid::now_v7(), "seen": SEEN, "action": pull("2L", "30 mm")}), 422, "reading"),
        (json!({"id": Uuid::now_v7(), "seen": SEEN, "action": pull("9Z", "30")}), 422, "fastener"),
        (json!({"id": Uuid::now_v7(), "seen": 99}), 422, "action"),
        (json!({"id": Uuid::now_v7(), "seen": SEEN, "action": {"type": "sign"}}), 422, "action.operation"),
        (json!({"id": "x", "seen": SEEN, "action": pull("2L", "30")}), 422, "id"),
        (json!({"id": Uuid::now_v7(), "seen": SEEN, "extra": 1, "action": pull("2L", "30")}), 422, "extra"),
    ] {
        let (got, problem) = server.post(&path, &body).await;
        assert_eq!(got.as_u16(), status, "{problem}");
        assert_eq!(problem["errors"][0]["field"], field, "{problem}");
        assert_eq!(problem["status"], status);
    }
    let sign = json!({"id": Uuid::now_v7(), "seen": SEEN, "action": {"type": "sign", "operation": "main-caps-tighten"}});
    let (status, problem) = server.post(&path, &sign).await;
    assert_eq!((status.as_u16(), problem["type"].as_str()), (409, Some("/problems/not-yet")));
}

#[tokio::test]
async fn what_is_looked_at_comes_with_the_answer_as_it_stands_then() {
    let server = Server::start().await;
    let operation = "main-caps-tighten";
    let path = format!("/api/builds/{}/commands", build("Tarn 5 no. 13"));
    let mut answers = Vec::new();
    // What is not there is not looked at; the pull is recorded all the same.
    for show in ["", "?show=nowhere", "?show=main-caps-tighten"] {
        let command = json!({"id": Uuid::now_v7(), "seen": SEEN, "action": pull("2L", "30")});
        let (status, answer) = server.post(&format!("{path}{show}"), &command).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
        answers.push(answer);
    }
    assert!(answers[0].get("bench").is_none() && answers[1].get("bench").is_none());
    assert_eq!(answers[2]["bench"]["seq"], answers[2]["seq"]);
    assert_eq!(answers[2]["bench"], server.bench("Tarn 5 no. 13", operation).await);
}

#[tokio::test]
async fn what_no_text_can_hold_is_refused_and_not_stumbled_over() {
    let server = Server::start().await;
    let path = format!("/api/builds/{}/commands", build("Tarn 5 no. 13"));
    let void = |reason: &str| {
        let what = json!({"type": "void", "seq": 4, "reason": reason});
        json!({"id": Uuid::now_v7(), "seen": SEEN, "action": what})
    };
    let (status, problem) = server.post(&path, &void("a\0b")).await;
    assert_eq!(
        (status.as_u16(), problem["errors"][0]["field"].as_str()),
        (422, Some("action.reason")),
        "{problem}"
    );
    let (status, problem) = server.post(&path, &void("typed as \\u0000")).await;
    assert_eq!(status, StatusCode::OK, "{problem}");
    let find = server.client.get(format!("{}/api/shop?find=%00", server.base)).send().await;
    assert_eq!(find.expect("an answer").status(), StatusCode::UNPROCESSABLE_ENTITY);
    let twice = format!("{}{}", void("x"), void("y"));
    let request =
        server.client.post(format!("{}{path}", server.base)).header("cookie", "rigore=demonstration.lead");
    let answer = request.header("content-type", "application/json").body(twice).send().await;
    assert_eq!(answer.expect("an answer").status(), StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn somebody_has_to_say_who_they_are_and_a_viewer_only_looks() {
    let server = Server::start().await;
    let url = format!("{}/api/builds/{}/commands", server.base, build("Tarn 5 no. 13"));
    let command = json!({"id": Uuid::now_v7(), "seen": SEEN, "action": pull("2L", "30")});
    let nobody = Client::new().post(&url).json(&command).send().await.expect("an answer");
    assert_eq!(nobody.status(), StatusCode::UNAUTHORIZED);
    let viewer =
        server.client.post(&url).header("cookie", "rigore=demonstration.viewer").json(&command).send().await;
    assert_eq!(viewer.expect("an answer").status(), StatusCode::FORBIDDEN);
}

#[tokio::test]
async fn what_is_not_there_is_a_problem_and_places_get_the_page() {
    let server = Server::start().await;
    for path in
        ["/api/builds/nonsense", &format!("/api/builds/{}", Uuid::now_v7()), "/api/nothing", "/assets/no.js"]
    {
        let answer = server.client.get(format!("{}{path}", server.base)).send().await.expect("an answer");
        assert_eq!(answer.status(), StatusCode::NOT_FOUND, "{path}");
    }
    let page = server.client.get(format!("{}/engines/x", server.base)).send().await.expect("an answer");
    assert_eq!(page.headers()["cache-control"], "no-cache");
    assert!(page.text().await.expect("text").contains("<div id=\"app\">"));
}

#[tokio::test]
async fn calculations_over_http_are_those_of_the_command() {
    let server = Server::start().await;
    let (status, thread) = server.post("/api/calc/thread", &json!({"designation": "M10x1.25"})).await;
    assert_eq!((status, thread["pitch_mm"].as_f64()), (StatusCode::OK, Some(1.25)));
    let (status, problem) = server.post("/api/calc/thread", &json!({"designation": "M10x"})).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("designation")));
    assert!(server.get("/api/calc").await.as_array().is_some_and(|list| list.len() >= 6));
    let document = server.get("/api/openapi.json").await;
    assert!(document["paths"]["/api/builds/{build}/commands"]["post"].is_object());
}

#[tokio::test]
async fn a_plan_is_checked_with_every_fault() {
    let server = Server::start().await;
    let request = server
        .client
        .post(format!("{}/api/plans/check", server.base))
        .header("cookie", "rigore=demonstration.lead");
    let answer = request.body("format = 1\nid = \"x\"\nfoo = 2\n").send().await.expect("an answer");
    let checked: Value = answer.json().await.expect("JSON");
    assert_eq!(checked["usable"], false);
    assert!(checked["faults"].as_array().is_some_and(|faults| faults.len() >= 3), "{checked}");
    assert!(
        checked["faults"].as_array().expect("faults").iter().any(|f| f["line"] == 3 && f["path"] == "foo")
    );
}

/// The numbers of a live stream: where it goes on, then every entry.
fn numbers(text: &str) -> Vec<u64> {
    assert!(text.starts_with("event: here\n"), "{text}");
    text.lines().filter_map(|line| line.strip_prefix("id: ")).filter_map(|id| id.parse().ok()).collect()
}

#[tokio::test]
async fn live_updates_go_on_after_the_last_entry_seen() {
    let server = Server::start().await;
    let id = build("Tarn 5 no. 13");
    let seen = server.get(&format!("/api/builds/{id}")).await["seq"].as_u64().expect("a number");
    let follow = server.client.get(format!("{}/api/builds/{id}/events", server.base));
    let mut stream = follow.header("last-event-id", seen - 2).send().await.expect("a stream").bytes_stream();
    let command = json!({"id": Uuid::now_v7(), "seen": seen, "action": pull("2L", "30")});
    let (_, answer) = server.post(&format!("/api/builds/{id}/commands"), &command).await;
    let last = answer["seq"].as_u64().expect("a number");
    let mut text = String::new();
    let read = tokio::time::timeout(Duration::from_secs(10), async {
        while !text.contains(&format!("id: {last}")) {
            let chunk = stream.next().await.expect("more").expect("bytes");
            text.push_str(&String::from_utf8_lossy(&chunk));
        }
    });
    read.await.expect("the entry arrives");
    assert_eq!(numbers(&text), (seen - 2..=last).collect::<Vec<_>>());
}

#[tokio::test]
async fn a_screen_goes_on_after_the_last_entry_it_saw() {
    let server = Server::start().await;
    let id = build("Tarn 5 no. 13");
    let seen = server.get(&format!("/api/builds/{id}")).await["seq"].as_u64().expect("a number");
    let follow = server.client.get(format!("{}/api/builds/{id}/events?after={}", server.base, seen - 3));
    let mut stream = follow.send().await.expect("a stream").bytes_stream();
    let mut text = String::new();
    let read = tokio::time::timeout(Duration::from_secs(10), async {
        while !text.contains(&format!("id: {seen}")) {
            text.push_str(&String::from_utf8_lossy(&stream.next().await.expect("more").expect("bytes")));
        }
    });
    read.await.expect("what was missed arrives");
    assert_eq!(numbers(&text), (seen - 3..=seen).collect::<Vec<_>>());
    let wrong = server.client.get(format!("{}/api/builds/{id}/events?after=x", server.base));
    assert_eq!(wrong.send().await.expect("an answer").status(), StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn a_build_that_was_refused_is_not_there() {
    let server = Server::start().await;
    let plans = server.get("/api/plans").await;
    let hash = |key: &str| {
        plans.as_array().expect("plans").iter().find(|p| p["id"] == key).expect("it")["hash"].clone()
    };
    let id = Uuid::now_v7();
    let begin = |name: &str, key: &str| json!({"id": id, "name": name, "plan": hash(key)});
    let (status, problem) = server.post("/api/builds", &begin("", "ostra-11")).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("name")));
    let gone = server.client.get(format!("{}/api/builds/{id}", server.base)).send().await.expect("an answer");
    assert_eq!(gone.status(), StatusCode::NOT_FOUND);
    let (status, _) = server.post("/api/builds", &begin("Tarn", "tarn-5")).await;
    assert_eq!(status, StatusCode::OK);
    let view = server.get(&format!("/api/builds/{id}")).await;
    assert_eq!(view["plan"]["id"], "tarn-5");
    assert!(view["operations"].as_array().expect("a line").iter().any(|o| o["id"] == "main-caps-tighten"));
}

#[tokio::test]
async fn the_shop_is_shown_page_by_page_and_searched() {
    let server = Server::start().await;
    let names = |shop: &Value| -> Vec<String> {
        shop["builds"]
            .as_array()
            .expect("builds")
            .iter()
            .map(|b| b["name"].as_str().expect("a name").into())
            .collect()
    };
    let first = server.get("/api/shop").await;
    assert_eq!((names(&first).len(), &first["next"]), (20, &Value::Null), "finished ones are not in it");
    assert_eq!(first["counts"], json!({"taken_in": 2, "in_work": 13, "held": 5, "finished": 1}));
    assert_eq!(first["builds"][0]["status"], "held", "what is held comes first");
    let page = server.get("/api/shop?limit=2").await;
    assert_eq!((names(&page).len(), page["next"].is_string()), (2, true));
    // Page by page it is the whole list, though an engine of the first page was worked on in between.
    let (mut paged, mut page) = (names(&page), page);
    let note = json!({ "type": "await", "kind": "hold", "what": "The owner decides" });
    assert_eq!(server.give("bench-one", &paged[1], note).await.0, StatusCode::OK);
    while let Some(next) = page["next"].as_str() {
        page = server.get(&format!("/api/shop?limit=3&after={next}")).await;
        paged.extend(names(&page));
    }
    assert_eq!(paged, names(&first));
    assert_eq!(names(&server.get("/api/shop?show=finished").await), ["Tarn 5 no. 9"]);
    assert_eq!(
        names(&server.get("/api/shop?find=breakwater").await),
        ["Tarn 5 no. 25", "Tarn 5 no. 9"],
        "found though finished"
    );
    assert_eq!(
        names(&server.get("/api/shop?find=O11-R").await),
        ["Ostra 11 no. 3", "Ostra 11 no. 4", "Ostra 11 no. 6"],
        "by a rod's serial"
    );
    for (query, field) in
        [("limit=0", "limit"), ("limit=401", "limit"), ("show=gone", "address"), ("after=2", "after")]
    {
        let answer =
            server.client.get(format!("{}/api/shop?{query}", server.base)).send().await.expect("an answer");
        assert_eq!(answer.status(), StatusCode::UNPROCESSABLE_ENTITY, "{query}");
        let problem: Value = answer.json().await.expect("JSON");
        assert_eq!(problem["errors"][0]["field"], field, "{problem}");
    }
}

#[tokio::test]
async fn too_much_is_a_problem_and_so_is_text_that_is_none() {
    let server = Server::start().await;
    let url = format!("{}/api/plans/check", server.base);
    let send = |body: Vec<u8>| {
        server.client.post(&url).header("cookie", "rigore=demonstration.lead").body(body).send()
    };
    let large = send(vec![b'#'; (5 << 20) + 1]).await.expect("an answer");
    assert_eq!(
        (large.status().as_u16(), &large.headers()["content-type"]),
        (413, &"application/problem+json".parse().expect("a type"))
    );
    // A plan may be larger than most, up to a limit that it is told.
    let plan = send(vec![b'#'; 2_000_001]).await.expect("an answer");
    assert_eq!(plan.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let problem: Value = plan.json().await.expect("JSON");
    assert!(problem["detail"].as_str().expect("words").contains("2000000 bytes at most"), "{problem}");
    let odd = send(vec![0xff, 0xfe]).await.expect("an answer");
    assert_eq!(odd.status(), StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn the_simulated_wrench_pulls_what_is_next_and_says_it_is_simulated() {
    let server = Server::start().await;
    let id = build("Tarn 5 no. 13");
    let body = json!({"id": Uuid::now_v7(), "seen": 0, "operation": "main-caps-tighten", "instrument": "rig-wrench"});
    let (status, answer) = server.post(&format!("/api/builds/{id}/rig/pull"), &body).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let fact = &answer["events"][0]["fact"];
    assert_eq!((fact["fastener"].as_str(), fact["method"].as_str()), (Some("2L"), Some("simulated")));
    let real =
        json!({"id": Uuid::now_v7(), "seen": 0, "operation": "main-caps-tighten", "instrument": "wrench-2"});
    let (status, problem) = server.post(&format!("/api/builds/{id}/rig/pull"), &real).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("instrument")));
}

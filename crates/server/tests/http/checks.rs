//! Checks of instruments, certificates, and what was read with one that is found wrong, over HTTP.

use crate::harness::{Server, words};
use reqwest::StatusCode;
use rigore_server::demo;
use serde_json::{Value, json};

const WRENCH: &str = "rig-wrench";

impl Server {
    async fn card(&self, instrument: &str) -> Value {
        self.get(&format!("/api/instruments/{instrument}/card")).await
    }

    async fn certify(&self, person: &str, bytes: Vec<u8>) -> (StatusCode, Value) {
        let request =
            self.client.post(format!("{}/api/instruments/{WRENCH}/certificate?name=c.pdf", self.base));
        let cookie = format!("rigore=demonstration.{person}");
        let answer = request.header("cookie", cookie).body(bytes).send().await.expect("an answer");
        (answer.status(), answer.json().await.expect("JSON"))
    }
}

fn check(known_by: &str, readings: &[(&str, &str)]) -> Value {
    let readings: Vec<Value> =
        readings.iter().map(|(known, read)| json!({ "known": known, "read": read })).collect();
    json!({ "known_by": known_by, "unit": "N·m", "readings": readings })
}

#[tokio::test]
async fn all_that_was_read_with_a_wrench_that_is_found_wrong_becomes_a_issue() {
    let server = Server::start().await;
    let path = format!("/api/instruments/{WRENCH}/checks");
    let right = [("40", "40.5"), ("40", "39,8"), ("29.5 lbf·ft", "40")];
    for (person, body, status, field) in [
        ("viewer", check("Tester 1", &right), 403, Value::Null),
        ("bench-one", check(" ", &right), 422, json!("known_by")),
        ("bench-one", check("Tester 1", &right[..2]), 422, json!("readings")),
        ("bench-one", check("Tester 1", &[("40", "4o"), right[0], right[1]]), 422, json!("readings.0.read")),
        ("bench-one", check("Tester 1", &[("900", "900"), right[0], right[1]]), 422, json!("readings")),
    ] {
        let (was, answer) = server.post_as(person, &path, &body).await;
        assert_eq!((was.as_u16(), &answer["errors"][0]["field"]), (status, &field), "{answer}");
    }
    // What was read before was never known to be right; once it was, that is asked about no more.
    let before = server.card(WRENCH).await;
    assert!(before["used"].as_array().expect("engines").len() > 3, "{}", before["used"]);
    let wrong = [("40", "37"), ("40", "38"), ("60", "57")];
    let (status, card) = server.post_as("bench-one", &path, &check("Tester 1", &wrong)).await;
    assert_eq!((status, &card["checks"][0]["checked"]["good"]), (StatusCode::OK, &json!(false)));
    assert_eq!(words(&card["checks"][0]["says"]), "reads low by 3.0 N·m, 1.6 N·m is allowed");
    assert_eq!(card["used"], before["used"]);
    // Whoever works with it all the same deviates.
    let shop = server.get("/api/shop").await;
    let found = |instrument: &&Value| instrument["id"] == WRENCH;
    let of = |shop: &Value| {
        shop["instruments"].as_array().expect("a list").iter().find(found).expect("it").clone()
    };
    assert_eq!(of(&shop)["found_wrong"], true);
    let doubts = format!("/api/instruments/{WRENCH}/doubts");
    let body = json!({ "check": card["checks"][0]["id"] });
    assert_eq!(server.post_as("bench-one", &doubts, &body).await.0, StatusCode::FORBIDDEN);
    let (status, doubted) = server.post("/api/instruments/wrench-2/doubts", &body).await;
    assert_eq!(status, StatusCode::NOT_FOUND, "{doubted}");
    let (_, doubted) = server.post(&doubts, &body).await;
    assert_eq!(doubted, card["used"]);
    let engine = doubted[0]["build"].as_str().expect("an engine");
    let build = server.get(&format!("/api/builds/{engine}")).await;
    let issues = build["issues"].as_array().expect("issues");
    let found = |issue: &&Value| issue["subject"]["kind"] == "doubted";
    assert!(issues.iter().filter(found).count() > 0, "{issues:#?}");
    assert_eq!(build["status"], "held");
    // Said twice it is one.
    assert_eq!(server.post(&doubts, &body).await.0, StatusCode::OK);
    assert_eq!(server.get(&format!("/api/builds/{engine}")).await["seq"], build["seq"]);
    // A good check is no reason for doubt, and from it on it counts.
    let (_, card) = server.post_as("bench-one", &path, &check("Tester 1", &right)).await;
    assert_eq!((&card["checks"][0]["checked"]["good"], &card["used"]), (&json!(true), &json!([])));
    let body = json!({ "check": card["checks"][0]["id"] });
    assert_eq!(server.post(&doubts, &body).await.0.as_u16(), 422);
    assert_eq!(of(&server.get("/api/shop").await)["found_wrong"], Value::Null);
    // What is found by index is what the records say, also when it is made again.
    let store = rigore_store::Store::connect(&server.database(), 2).await.expect("a store");
    let now = time::OffsetDateTime::now_utc();
    let used = store.used(WRENCH, None, now).await.expect("engines");
    store.rebuild().await.expect("rebuilt");
    assert_eq!(used, store.used(WRENCH, None, now).await.expect("engines"));
    let of =
        used.iter().find(|used| used.build == demo::build_id("Tarn 5 no. 9")).expect("it was used there");
    let events = store.events_after(of.build, 0).await.expect("events");
    let by_it = events.iter().filter(|(_, body)| {
        let event: Value = serde_json::from_str(body).expect("an event");
        ["pulled", "measured", "loosened"].contains(&event["fact"]["type"].as_str().unwrap_or_default())
            && event["fact"]["instrument"]["id"] == WRENCH
    });
    assert_eq!(by_it.count() as u64, of.readings);
}

#[tokio::test]
async fn a_certificate_is_known_by_its_content_and_cannot_run() {
    let server = Server::start().await;
    for (bytes, status) in [
        (b"<html><script>alert(1)</script>".to_vec(), 422),
        ([b"%PDF-1.7".as_slice(), &vec![0; 30_000_000]].concat(), 422),
    ] {
        let (was, answer) = server.certify("lead", bytes).await;
        assert_eq!(
            (was.as_u16(), &answer["errors"][0]["field"]),
            (status, &json!("certificate")),
            "{answer}"
        );
    }
    assert_eq!(server.certify("bench-one", b"%PDF-1.7".to_vec()).await.0, StatusCode::FORBIDDEN);
    let (_, card) = server.certify("lead", b"%PDF-1.7 a page".to_vec()).await;
    assert_eq!(card["certificate_name"], "c.pdf");
    let path = card["certificate"].as_str().expect("a path");
    let kept = server.client.get(format!("{}{path}", server.base)).send().await.expect("an answer");
    let header = |name: &str| kept.headers()[name].to_str().expect("words").to_owned();
    assert_eq!(
        (header("content-type").as_str(), header("content-disposition").as_str()),
        ("application/pdf", "attachment")
    );
    assert_eq!(header("x-content-type-options"), "nosniff");
    let edit =
        |calibrated: &str| json!({ "reference": "R 1", "drawer": "left, second", "calibrated": calibrated });
    let put = async |body: Value| {
        let request = server.client.put(format!("{}/api/instruments/{WRENCH}/card", server.base));
        let answer =
            request.header("cookie", "rigore=demonstration.lead").json(&body).send().await.expect("one");
        answer.status().as_u16()
    };
    for (calibrated, status) in [("soon", 422), ("-0001-01-01", 422), ("2026-01-15", 200)] {
        assert_eq!(put(edit(calibrated)).await, status, "{calibrated}");
    }
    let kept = server.card(WRENCH).await;
    assert_eq!((&kept["drawer"], &kept["certificate_name"]), (&json!("left, second"), &json!("c.pdf")));
}

#[tokio::test]
async fn a_wrench_that_is_kept_for_some_is_said_to_the_others_at_the_bench() {
    let server = Server::start().await;
    let all = server.get("/api/instruments").await;
    let of = |all: &Value| {
        all.as_array().expect("all").iter().find(|of| of["id"] == "wrench-2").expect("it").clone()
    };
    let change = async |users: Value, away: Value| {
        let mut instrument = of(&all);
        for key in ["active", "days_left", "due", "kept_for"] {
            instrument.as_object_mut().expect("an object").remove(key);
        }
        (instrument["users"], instrument["away"]) = (users, away);
        let path = format!("{}/api/instruments/wrench-2", server.base);
        let request = server.client.put(path).header("cookie", "rigore=demonstration.lead");
        let answer = request
            .json(&json!({ "instrument": instrument, "active": true }))
            .send()
            .await
            .expect("an answer");
        (answer.status(), answer.json::<Value>().await.expect("JSON"))
    };
    let fault = async |person: &str| -> Value {
        let id = demo::build_id("Tarn 5 no. 13");
        let path = format!("{}/api/builds/{id}/operations/main-caps-tighten", server.base);
        let cookie = format!("rigore=demonstration.{person}");
        let bench = server.client.get(path).header("cookie", cookie).send().await.expect("an answer");
        let bench: Value = bench.json().await.expect("JSON");
        let tools = bench["work"]["tools"][0]["tools"].as_array().expect("tools").clone();
        tools.iter().find(|tool| tool["id"] == "wrench-2").expect("the wrench")["fault"].clone()
    };
    assert_eq!(change(json!(["stranger"]), Value::Null).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(change(json!([]), json!({ "place": " " })).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(fault("bench-one").await, Value::Null);
    let (status, told) = change(json!(["lead"]), Value::Null).await;
    assert_eq!((status, &of(&told)["kept_for"]), (StatusCode::OK, &json!(["Lead"])));
    assert_eq!(fault("bench-one").await, "Angle wrench 2 is reserved for others");
    assert_eq!(fault("lead").await, Value::Null);
    let away = json!({ "place": "lent to the foundry", "until": "2099-01-31" });
    assert_eq!(change(json!([]), away).await.0, StatusCode::OK);
    assert_eq!(fault("lead").await, "Angle wrench 2 is away, lent to the foundry");
    // Whoever left is still named, as gone.
    let leaves =
        server.client.put(format!("{}/api/people/bench-two", server.base)).json(&json!({ "active": false }));
    let left = leaves.header("cookie", "rigore=demonstration.lead").send().await.expect("an answer");
    assert_eq!(left.status(), StatusCode::OK);
    let told = change(json!(["bench-two"]), Value::Null).await;
    assert_eq!(told.0, StatusCode::OK, "{}", told.1);
    assert_eq!(of(&told.1)["kept_for"], json!(["Bench two, deactivated"]));
}

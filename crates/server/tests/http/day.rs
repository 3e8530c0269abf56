//! The day over HTTP: what can be done, what waits, what was promised, and its calendar.

use crate::harness::Server;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};

const ENGINE: &str = "Tarn 5 no. 16";

impl Server {
    async fn engine_of_the_day(&self, name: &str) -> Value {
        let day = self.get("/api/day").await;
        let engines = day["engines"].as_array().expect("engines");
        engines.iter().find(|engine| engine["name"] == name).expect("it is in the shop").clone()
    }

    async fn ask(
        &self,
        person: &str,
        method: Method,
        path: &str,
        body: Option<Value>,
    ) -> (StatusCode, String) {
        let request = self.client.request(method, format!("{}{path}", self.base));
        let request = request.header("cookie", format!("rigore=demonstration.{person}"));
        let request = match body {
            Some(body) => request.json(&body),
            None => request,
        };
        let answer = request.send().await.expect("an answer");
        (answer.status(), answer.text().await.expect("a text"))
    }
}

#[tokio::test]
async fn the_day_says_what_can_be_done_what_waits_and_whether_promises_hold() {
    let server = Server::start().await;
    let before = server.engine_of_the_day(ENGINE).await;
    let can = before["can"].as_array().expect("what can be done");
    assert!(can.iter().any(|can| can["status"] == "in-work"), "{can:?}");
    assert!(before["remaining"]["minutes"].as_f64().expect("minutes") > 60.0);
    assert!(before["remaining"]["known"].as_f64().expect("a share") > 0.5, "the shop has built some");
    assert_eq!((&before["late"], before["ready"].is_string()), (&json!(false), true));
    // Promised for yesterday it is late, and comes in the order of promises.
    let day = server.get("/api/day").await["today"].as_str().expect("a day").to_owned();
    let promise = |by: &str| json!({ "type": "promise", "by": by, "note": "" });
    assert_eq!(server.give("bench-one", ENGINE, promise("2026-01-05")).await.0, StatusCode::OK);
    assert_eq!(server.engine_of_the_day(ENGINE).await["late"], true);
    for (person, wrong, status) in [
        ("bench-one", json!("soon"), 422),
        ("bench-one", json!("1999-01-01"), 422),
        ("viewer", json!(day), 403),
    ] {
        let promise = json!({ "type": "promise", "by": wrong, "note": "" });
        assert_eq!(server.give(person, ENGINE, promise).await.0.as_u16(), status, "{wrong}");
    }
    // On hold nothing can be started, and nobody knows when it is ready.
    let hold = json!({ "type": "await", "kind": "hold", "what": "The owner decides" });
    assert_eq!(server.give("bench-one", ENGINE, hold).await.0, StatusCode::OK);
    let held = server.engine_of_the_day(ENGINE).await;
    assert_eq!((&held["can"], &held["ready"]), (&json!([]), &Value::Null));
    assert_eq!(held["outlook"]["waits"][0]["cause"], "hold");
    // The list row and the outlook are what the record says.
    let store = rigore_store::Store::connect(&server.database(), 2).await.expect("a store");
    let kept = store.day().await.expect("the day");
    store.rebuild().await.expect("rebuilt");
    let again = store.day().await.expect("the day");
    for (kept, again) in kept.iter().zip(&again) {
        assert_eq!(kept, again, "made again it is the same");
    }
    assert_eq!(kept.len(), again.len());
}

#[tokio::test]
async fn hours_are_a_leads_and_the_calendar_is_read_by_its_secret_address() {
    let server = Server::start().await;
    let hours = |from: u16, to: u16, days: [bool; 7]| json!({ "from_min": from, "to_min": to, "days": days });
    for (person, body, status) in [
        ("bench-one", hours(420, 900, [true; 7]), 403),
        ("lead", hours(420, 430, [true; 7]), 422),
        ("lead", hours(420, 900, [false; 7]), 422),
        ("lead", hours(420, 2000, [true; 7]), 422),
        ("lead", json!({ "from_min": -1, "to_min": 900, "days": [] }), 422),
        ("lead", hours(420, 900, [true; 7]), 200),
    ] {
        let (was, answer) = server.ask(person, Method::PUT, "/api/day/hours", Some(body)).await;
        assert_eq!(was.as_u16(), status, "{answer}");
    }
    assert_eq!(server.get("/api/day").await["hours"]["from_min"], 420);
    assert_eq!(server.ask("bench-one", Method::POST, "/api/day/feed", None).await.0, StatusCode::FORBIDDEN);
    let (_, made) = server.ask("lead", Method::POST, "/api/day/feed", None).await;
    let path =
        serde_json::from_str::<Value>(&made).expect("JSON")["path"].as_str().expect("a path").to_owned();
    // Whoever has it reads it, signed in or not.
    let read = async |path: &str| {
        let answer = reqwest::get(format!("{}{path}", server.base)).await.expect("an answer");
        (answer.status(), answer.headers()["content-type"].clone(), answer.text().await.expect("a text"))
    };
    let (status, kind, text) = read(&path).await;
    assert_eq!((status, kind.to_str().expect("words")), (StatusCode::OK, "text/calendar; charset=utf-8"));
    assert!(text.starts_with("BEGIN:VCALENDAR\r\n") && text.ends_with("END:VCALENDAR\r\n"), "{text}");
    for line in ["SUMMARY:Tarn 5 no. 18 promised", "machine shop expected", "Calibration of "] {
        assert!(text.replace("\r\n ", "").contains(line), "{line} in {text}");
    }
    assert!(text.lines().all(|line| line.len() <= 75), "lines are folded");
    let (_, another) = server.ask("lead", Method::POST, "/api/day/feed", None).await;
    assert_ne!(made, another);
    assert_eq!(read(&path).await.0, StatusCode::NOT_FOUND, "the old one is taken back");
    assert_eq!(server.ask("lead", Method::DELETE, "/api/day/feed", None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(server.get("/api/day").await["feed"], Value::Null);
}

#[tokio::test]
async fn one_person_holds_so_many_streams_and_no_more() {
    let server = Server::start().await;
    let path = format!("{}/api/builds/{}/events", server.base, rigore_server::demo::build_id(ENGINE));
    let mut open = Vec::new();
    for _ in 0..100 {
        let stream = server.client.get(&path).send().await.expect("an answer");
        assert_eq!(stream.status(), StatusCode::OK);
        open.push(stream);
    }
    assert_eq!(
        server.client.get(&path).send().await.expect("an answer").status(),
        StatusCode::TOO_MANY_REQUESTS
    );
    // Somebody else is not kept from theirs.
    let other = server.client.get(&path).header("cookie", "rigore=demonstration.lead").send().await;
    assert_eq!(other.expect("an answer").status(), StatusCode::OK);
    // What is closed makes room.
    open.truncate(50);
    for _ in 0..100 {
        if server.client.get(&path).send().await.expect("an answer").status() == StatusCode::OK {
            return;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    panic!("no room was made");
}

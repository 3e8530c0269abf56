//! The day over HTTP: what can be done, what waits, what was promised, and its calendar.

use crate::harness::Server;
use reqwest::{Method, StatusCode};
use serde_json::{Value, json};

const ENGINE: &str = "Tarn 5 no. 16";

impl Server {
    /// The row of an engine in one of the lists of the day; null where it is not in it.
    async fn in_the_day(&self, list: &str, name: &str) -> Value {
        let day = self.get("/api/day?can=400&waits=400&missing=400&promised=400").await;
        let list = &day[list];
        let rows = list.get("engines").or_else(|| list.get("waits")).and_then(Value::as_array).expect("rows");
        rows.iter().find(|row| row["name"] == name).cloned().unwrap_or_default()
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
    let before = server.in_the_day("can", ENGINE).await;
    let can = before["can"].as_array().expect("what can be done");
    assert!(can.iter().any(|can| can["status"] == "in-work"), "{can:?}");
    assert_eq!((&before["promised"], &before["late"]), (&Value::Null, &json!(false)));
    let promise = |by: &str| json!({ "type": "promise", "by": by, "note": "" });
    assert_eq!(server.give("bench-one", ENGINE, promise("2028-01-05")).await.0, StatusCode::OK);
    let promised = server.in_the_day("promised", ENGINE).await;
    assert!(promised["remaining"]["minutes"].as_f64().expect("minutes") > 60.0);
    assert!(promised["remaining"]["known"].as_f64().expect("a share") > 0.5, "the shop has built some");
    assert_eq!((&promised["late"], promised["ready"].is_string()), (&json!(false), true));
    assert_eq!(promised["holds"], true);
    // Promised for yesterday it is late, and comes in the order of promises.
    let day = server.get("/api/day").await["today"].as_str().expect("a day").to_owned();
    assert_eq!(server.give("bench-one", ENGINE, promise("2026-01-05")).await.0, StatusCode::OK);
    assert_eq!(server.in_the_day("promised", ENGINE).await["late"], true);
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
    assert_eq!(server.in_the_day("can", ENGINE).await, Value::Null);
    let unknown = server.in_the_day("promised", ENGINE).await;
    assert_eq!((&unknown["ready"], &unknown["holds"]), (&Value::Null, &json!(false)));
    assert_eq!(server.in_the_day("waits", ENGINE).await["cause"], "hold");
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
async fn each_list_of_the_day_shows_its_first_rows_and_says_how_many_there_are() {
    let server = Server::start().await;
    let rows = |day: &Value, list: &str, of: &str| day[list][of].as_array().expect("rows").clone();
    let whole = server.get("/api/day?can=400&waits=400&missing=400&promised=400").await;
    let short = server.get("/api/day?can=1&waits=2&missing=1&promised=1").await;
    for (list, of, shown) in
        [("can", "engines", 1), ("waits", "waits", 2), ("missing", "engines", 1), ("promised", "engines", 1)]
    {
        let all = rows(&whole, list, of);
        assert_eq!((json!(all.len()), all.len() > shown), (whole[list]["all"].clone(), true), "{list}");
        assert_eq!(rows(&short, list, of), all[..shown], "{list}");
        assert_eq!(short[list]["all"], whole[list]["all"], "{list}");
    }
    // Whatever is over first comes first; what nobody knows a day of comes last.
    let ends =
        |wait: &Value| wait["until"].as_str().or(wait["expected"].as_str()).map(|end| end[..10].to_owned());
    let waits: Vec<Option<String>> = rows(&whole, "waits", "waits").iter().map(ends).collect();
    let known: Vec<_> = waits.iter().map_while(Option::as_ref).collect();
    assert!(known.is_sorted() && !known.is_empty(), "{waits:?}");
    assert!(waits[known.len()..].iter().all(Option::is_none), "{waits:?}");
    // What somebody can do is what they can do of all.
    let people = whole["people"].as_array().expect("people");
    let place = people.iter().position(|of| of["id"] == "bench-two").expect("they work here");
    let theirs = server.get("/api/day?for=bench-two&can=400").await;
    let may = |can: &Value| can["by"].as_array().expect("people").contains(&json!(place));
    let of_all = rows(&whole, "can", "engines").into_iter().filter_map(|mut engine| {
        engine["can"].as_array_mut().expect("what").retain(may);
        (engine["can"] != json!([])).then_some(engine)
    });
    assert_eq!(rows(&theirs, "can", "engines"), of_all.collect::<Vec<_>>());
    for (query, field) in [("for=nobody", "for"), ("waits=0", "waits"), ("promised=401", "promised")] {
        let answer = server.client.get(format!("{}/api/day?{query}", server.base)).send().await;
        let answer = answer.expect("an answer");
        assert_eq!(answer.status(), StatusCode::UNPROCESSABLE_ENTITY, "{query}");
        let problem: Value = answer.json().await.expect("JSON");
        assert_eq!(problem["errors"][0]["field"], field, "{problem}");
    }
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

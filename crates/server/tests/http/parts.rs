//! The life of parts across engines.

use crate::harness::{Server, words};
use reqwest::StatusCode;
use serde_json::{Value, json};

fn fit(serial: &str) -> Value {
    json!({"type": "fit", "operation": "take-in", "slot": "rod-bolts",
        "part": {"reference": "M9x1", "batch": "B-39", "serial": serial, "condition": "used"}})
}

fn piece(history: &Value, number: usize) -> Value {
    let pieces = history[0]["pieces"].as_array().expect("pieces");
    pieces.iter().find(|piece| piece["piece"] == number).expect("the piece").clone()
}

#[tokio::test]
async fn a_set_that_was_here_before_is_recognised_with_what_it_went_through() {
    let server = Server::start().await;
    let slots = server.bench("Tarn 5 no. 22", "take-in").await["work"]["slots"].clone();
    let bolts = slots
        .as_array()
        .and_then(|all| all.iter().find(|slot| slot["id"] == "rod-bolts"))
        .cloned()
        .expect("it");
    assert_eq!((&bolts["lived"]["engines"], &bolts["lived"]["uses"]), (&json!(["Tarn 5 no. 9"]), &json!(1)));
    assert_eq!(bolts["lived"]["free"].as_array().map(Vec::len), Some(10));
    // However it is written.
    let history = server.get("/api/parts/rb-9").await;
    let first = piece(&history, 1);
    assert_eq!(
        (first["verdict"].as_str(), &first["uses"], &first["allowed"]),
        (Some("good"), &json!(1), &json!(4))
    );
    assert!(first["lived"][0]["life"]["stretch_mm"].as_f64().is_some_and(|mm| mm > 0.14 && mm < 0.16));
    assert_eq!(first["lived"].as_array().map(Vec::len), Some(2));
    // A serial of another kind is another part.
    let found = server.get("/api/parts?find=rb-9").await;
    assert_eq!((found["parts"].as_array().map(Vec::len), &found["next"]), (Some(1), &Value::Null));
    assert_eq!(found["parts"][0]["engines"], 2);
    let missing =
        server.client.get(format!("{}/api/parts/RB-999", server.base)).send().await.expect("an answer");
    assert_eq!(missing.status(), StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn parts_are_listed_page_by_page_each_where_it_was_entered_last() {
    let server = Server::start().await;
    let serials = |page: &Value| -> Vec<Value> {
        let parts = page["parts"].as_array().expect("parts");
        parts.iter().map(|part| json!([part["serial"], part["kind"], part["at"]])).collect()
    };
    let whole = serials(&server.get("/api/parts?limit=400").await);
    assert!(whole.len() > 40, "{} parts", whole.len());
    let mut page = server.get("/api/parts?limit=7").await;
    let mut paged = serials(&page);
    while let Some(next) = page["next"].as_str() {
        page = server.get(&format!("/api/parts?limit=7&after={next}")).await;
        paged.extend(serials(&page));
    }
    assert_eq!(paged, whole);
    let at: Vec<&str> = whole.iter().map(|part| part[2].as_str().expect("a time")).collect();
    assert!(at.iter().rev().is_sorted(), "the one that was entered last comes first");
    // Every word counts, in any order; a sign that means something to a search means itself.
    let found = serials(&server.get("/api/parts?find=9+rb-").await);
    let has_both = |part: &Value| part[0].as_str().is_some_and(|of| of.contains('9') && of.contains("RB-"));
    assert_eq!(found, whole.into_iter().filter(has_both).collect::<Vec<_>>());
    assert!(!found.is_empty());
    assert_eq!(serials(&server.get("/api/parts?find=%25").await).len(), 0);
}

#[tokio::test]
async fn scrap_is_known_in_the_next_engine_and_a_lead_has_to_stand_for_it() {
    let server = Server::start().await;
    let grown = piece(&server.get("/api/parts/RB-21").await, 4);
    assert_eq!(grown["verdict"], "scrap");
    assert_eq!(words(&grown["why"][0]), "permanent stretch 0.009 mm, max 0.005 mm (Tarn 5 no. 21)");
    let (status, answer) = server.give("bench-one", "Tarn 5 no. 14", fit("RB-21")).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let issues = server.bench("Tarn 5 no. 14", "take-in").await["issues"].clone();
    let what = words(&issues[0]["text"]);
    assert!(what.starts_with("Rod bolts: Rod 2 B permanent stretch 0.009 mm"), "{what}");
    let accept = json!({"type": "accept", "seq": issues[0]["seq"], "reason": "only to mock it up"});
    assert_eq!(server.give("bench-one", "Tarn 5 no. 14", accept.clone()).await.0, StatusCode::FORBIDDEN);
    assert_eq!(server.give("lead", "Tarn 5 no. 14", accept).await.0, StatusCode::OK);
    assert_eq!(server.bench("Tarn 5 no. 14", "take-in").await["issues"], json!([]));
    // A new one in its place goes on as that piece, and the old one is out.
    let replace = json!({"type": "loosen", "operation": "rod-tighten-2", "fastener": "B", "replaced": true,
        "reason": "it had grown"});
    server.give("bench-one", "Tarn 5 no. 21", replace).await;
    let renewed = piece(&server.get("/api/parts/RB-21").await, 4);
    assert_eq!(renewed["lived"][0]["life"]["replaced"], json!(["it had grown"]));
    assert_eq!(renewed["verdict"], "good");
}

#[tokio::test]
async fn what_is_said_of_a_part_goes_with_it_and_leaves_signatures_alone() {
    let server = Server::start().await;
    let say = |piece: usize, kind: &str, text: &str| {
        json!({"type": "remark-part", "operation": "take-in", "slot": "rod-bolts", "piece": piece, "kind": kind,
            "text": text})
    };
    let engine = "Tarn 5 no. 9";
    for (wrong, field) in [
        (say(11, "finding", "a nick"), "piece"),
        (say(1, "finding", "x"), "text"),
        (say(1, "eaten", "a nick"), "action"),
    ] {
        let (status, problem) = server.give("bench-one", engine, wrong).await;
        assert_eq!(
            (status.as_u16(), problem["errors"][0]["field"].as_str()),
            (422, Some(field)),
            "{problem}"
        );
    }
    let (status, answer) = server.give("bench-one", engine, say(7, "scrapped", "a nick at the radius")).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let seventh = piece(&server.get("/api/parts/RB-9").await, 7);
    assert_eq!(seventh["why"][0], "is scrap: a nick at the radius (Tarn 5 no. 9)");
    let build = rigore_server::demo::build_id(engine);
    assert_eq!(server.get(&format!("/api/builds/{build}")).await["status"], "finished");
    // It was another one: taken back, it counts no more.
    let void = json!({"type": "void", "seq": answer["seq"], "reason": "it was number 8"});
    assert_eq!(server.give("bench-one", engine, void).await.0, StatusCode::OK);
    assert_eq!(piece(&server.get("/api/parts/RB-9").await, 7)["verdict"], "good");
}

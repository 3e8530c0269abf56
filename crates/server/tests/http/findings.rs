//! Findings and their pictures, what goes in, and the story of a fastener, over HTTP.

use crate::harness::{Server, words};
use reqwest::StatusCode;
use rigore_server::demo;
use serde_json::{Value, json};

const ENGINE: &str = "Tarn 5 no. 18";
const PICTURE: &[u8] = include_bytes!("../../../../plans/thread.jpg");

async fn upload(server: &Server, person: &str, bytes: Vec<u8>) -> (StatusCode, Value) {
    let request = server.client.post(format!("{}/api/pictures", server.base));
    let answer = request
        .header("cookie", format!("rigore=demonstration.{person}"))
        .body(bytes)
        .send()
        .await
        .expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

fn find(text: &str, picture: &Value) -> Value {
    json!({"type": "find", "operation": "head-tighten", "text": text, "picture": picture,
        "about": {"kind": "fastener", "joint": "head", "fastener": "4T"}})
}

#[tokio::test]
async fn a_picture_is_kept_by_its_content_and_goes_with_the_finding_it_was_sent_for() {
    let server = Server::start().await;
    let (status, picture) = upload(&server, "bench-one", PICTURE.to_vec()).await;
    assert_eq!((status, picture["media"].as_str()), (StatusCode::OK, Some("image/jpeg")));
    assert_eq!(upload(&server, "bench-two", PICTURE.to_vec()).await.1, picture, "the same twice is one");
    // What says that it is a picture and is none, what is too much, and who may only look.
    for (person, bytes, status) in [
        ("bench-one", b"<svg onload='alert(1)'/>".to_vec(), StatusCode::UNPROCESSABLE_ENTITY),
        ("bench-one", [PICTURE, &vec![0; 10_000_000]].concat(), StatusCode::UNPROCESSABLE_ENTITY),
        ("viewer", PICTURE.to_vec(), StatusCode::FORBIDDEN),
    ] {
        assert_eq!(upload(&server, person, bytes).await.0, status, "{person}");
    }
    let hash = picture["hash"].as_str().expect("a hash");
    let kept = server.client.get(format!("{}/api/pictures/{hash}", server.base)).send().await.expect("one");
    assert_eq!(kept.headers()["x-content-type-options"], "nosniff");
    assert_eq!(kept.bytes().await.expect("bytes"), PICTURE);
    // A finding cannot refer to what is not here.
    let nowhere = json!({"hash": "00", "media": "image/png", "bytes": 3});
    let (status, problem) = server.give("bench-one", ENGINE, find("a nick", &nowhere)).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("picture")));
    let (status, answer) = server.give("bench-one", ENGINE, find("a nick at the face", &picture)).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let bench = server.bench(ENGINE, "head-tighten").await;
    assert_eq!(bench["findings"][0]["picture"], picture);
    assert_eq!(
        (&bench["operation"]["status"], &bench["issues"][0]["remedies"]),
        (&json!("held"), &json!(["decide", "void"]))
    );
    let seq = bench["findings"][0]["seq"].clone();
    let decide =
        json!({"type": "decide-finding", "seq": seq, "decision": "accept", "reason": "outside of the seat"});
    assert_eq!(server.give("bench-one", ENGINE, decide.clone()).await.0, StatusCode::FORBIDDEN);
    assert_eq!(server.give("lead", ENGINE, decide).await.0, StatusCode::OK);
    assert_eq!(server.bench(ENGINE, "head-tighten").await["operation"]["status"], "in-work");
}

#[tokio::test]
async fn one_fastener_tells_its_whole_story_over_rounds_and_findings() {
    let server = Server::start().await;
    server.give("bench-one", ENGINE, find("the nut is rounded", &Value::Null)).await;
    let id = demo::build_id(ENGINE);
    let story = server.get(&format!("/api/builds/{id}/joints/head/4T")).await;
    assert_eq!(story["name"], "Cylinder head 4T");
    let lines = story["lines"].as_array().expect("lines");
    let whats: Vec<String> = lines.iter().map(|line| words(&line["what"])).collect();
    for (what, operation) in [
        ("Nuts 1 of 3", "Mock the head up"),
        ("loosened", "Remove the head"),
        ("Nuts 3 of 3", "Tighten the head"),
        ("found: the nut is rounded", "Tighten the head"),
    ] {
        let told =
            lines.iter().any(|line| words(&line["what"]).starts_with(what) && line["operation"] == operation);
        assert!(told, "{what}: {whats:?}");
    }
    let mut seqs: Vec<u64> = lines.iter().filter_map(|line| line["seq"].as_u64()).collect();
    let told = seqs.clone();
    seqs.sort_unstable();
    assert_eq!(seqs, told, "in the order it came");
    let none = server.client.get(format!("{}/api/builds/{id}/joints/head/9Z", server.base)).send().await;
    assert_eq!(none.expect("an answer").status(), StatusCode::NOT_FOUND);
}

#[tokio::test]
async fn a_running_clock_and_what_is_in_stand_in_every_answer_of_the_engine() {
    let server = Server::start().await;
    let id = demo::build_id("Tarn 5 no. 23");
    let view = server.get(&format!("/api/builds/{id}")).await;
    let sheet = server.get(&format!("/api/builds/{id}/sheet")).await;
    let bench = server.bench("Tarn 5 no. 23", "exhaust").await;
    for (answer, place) in [(&view, "the engine"), (&sheet, "the sheet"), (&bench, "another bench")] {
        assert_eq!(answer["clocks"][0]["name"], "Bead on the pan", "{place}");
        assert_eq!(answer["aids"][0]["what"], "Rag in an intake port", "{place}");
    }
    let rods =
        view["route"].as_array().expect("rows").iter().find(|row| row["id"] == "rods").expect("the rods");
    assert_eq!((&rods["by"], rods["operations"].as_array().map(Vec::len)), (&json!("cylinder"), Some(20)));
    let put = |what: &str, count: i32| json!({"type": "put-in", "operation": "exhaust", "what": what, "count": count});
    for (what, field) in [(put("", 1), "what"), (put("rag", 0), "count")] {
        let (status, problem) = server.give("bench-one", "Tarn 5 no. 23", what).await;
        assert_eq!(
            (status.as_u16(), problem["errors"][0]["field"].as_str()),
            (422, Some(field)),
            "{problem}"
        );
    }
}

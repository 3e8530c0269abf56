//! The shop's letterhead and the codes of labels, over HTTP.

use crate::harness::{Server, client};
use reqwest::StatusCode;
use serde_json::{Value, json};

async fn put(server: &Server, person: &str, letterhead: &Value) -> (StatusCode, Value) {
    let request = client(person).put(format!("{}/api/letterhead", server.base)).json(letterhead);
    let answer = request.send().await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

#[tokio::test]
async fn a_lead_sets_the_letterhead_and_whoever_has_a_link_sees_it() {
    let server = Server::start().await;
    let before = server.get("/api/letterhead").await;
    assert_eq!(before["name"], "Pier Nine");
    let logo = before["logo"].clone();
    let own = json!({"name": " Quay Four ", "address": "Quay 4\n\n Inner Harbour ", "logo": logo});
    assert_eq!(put(&server, "bench-one", &own).await.0, StatusCode::FORBIDDEN);
    for (wrong, field) in [
        (json!({"name": " "}), "name"),
        (json!({"name": "Quay", "address": "1\n2\n3\n4\n5\n6\n7"}), "address"),
        (json!({"name": "Quay", "address": "x".repeat(301)}), "address"),
    ] {
        let (status, refused) = put(&server, "lead", &wrong).await;
        assert_eq!((status.as_u16(), &refused["errors"][0]["field"]), (422, &json!(field)), "{refused}");
    }
    let unknown = json!({"hash": "0".repeat(64), "media": "image/png", "bytes": 10});
    let missing = json!({"name": "Quay", "logo": unknown});
    assert_eq!(put(&server, "lead", &missing).await.0, StatusCode::NOT_FOUND);
    assert_eq!(server.get("/api/letterhead").await, before, "what was refused changed nothing");
    let (status, kept) = put(&server, "lead", &own).await;
    assert_eq!(
        (status, &kept["name"], &kept["address"]),
        (StatusCode::OK, &json!("Quay Four"), &json!("Quay 4\nInner Harbour"))
    );
    let activity = client("lead").get(format!("{}/api/doings", server.base)).send().await.expect("an answer");
    let activity: Value = activity.json().await.expect("JSON");
    let told = (&activity[0]["what"], &activity[0]["by"]);
    assert_eq!(told, (&json!("changed the letterhead"), &json!("Lead")), "{activity}");
    // It is on the sheet, and its logo is shown to whoever has a link to that.
    let build = rigore_server::demo::build_id("Tarn 5 no. 18");
    let (_, share) = server.post(&format!("/api/builds/{build}/shares"), &json!({"days": 1})).await;
    let link = format!("{}/api{}", server.base, share["path"].as_str().expect("a path"));
    let stranger = reqwest::Client::new();
    let shared: Value = stranger.get(&link).send().await.expect("an answer").json().await.expect("JSON");
    assert_eq!(shared["sheet"]["shop"], kept);
    let hash = kept["logo"]["hash"].as_str().expect("a hash");
    let shown = stranger.get(format!("{link}/pictures/{hash}")).send().await.expect("an answer");
    assert_eq!(
        (shown.status(), &shown.headers()["content-type"]),
        (StatusCode::OK, &"image/png".parse().expect("one"))
    );
}

#[tokio::test]
async fn a_label_has_a_code_of_a_page_of_this_server_and_of_no_other() {
    let server = Server::start().await;
    let code = async |path: &str| {
        let query = path.replace('ø', "%C3%B8");
        let request = server.client.get(format!("{}/api/code.svg?path={query}", server.base));
        request.send().await.expect("an answer")
    };
    let right = code("/engines/1").await;
    assert_eq!(right.headers()["content-type"], "image/svg+xml");
    let (one, other) =
        (right.text().await.expect("text"), code("/engines/2").await.text().await.expect("text"));
    assert!(one.contains("<svg") && one != other);
    let long = format!("/{}", "x".repeat(200));
    for wrong in ["engines/1", "//elsewhere.example/x", "https://elsewhere.example", "", &long, "/ø"] {
        assert_eq!(code(wrong).await.status(), StatusCode::UNPROCESSABLE_ENTITY, "{wrong}");
    }
    let stranger =
        reqwest::get(format!("{}/api/code.svg?path=/engines/1", server.base)).await.expect("an answer");
    assert_eq!(stranger.status(), StatusCode::UNAUTHORIZED);
}

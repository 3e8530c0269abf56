//! Dry runs of drafts, and pages of manuals that plans refer to.

use crate::harness::{SEEN, Server};
use reqwest::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

/// A draft that is begun from the plan of the demonstration's inline five, whose figures are all known.
async fn draft(server: &Server) -> Uuid {
    let plans = server.get("/api/plans").await;
    let tarn = plans.as_array().expect("plans").iter().find(|plan| plan["id"] == "tarn-5").expect("a plan");
    let id = Uuid::now_v7();
    let (status, draft) = server.post("/api/drafts", &json!({ "id": id, "base": tarn["hash"] })).await;
    assert_eq!(status, StatusCode::OK, "{draft}");
    id
}

async fn begin(server: &Server, draft: Uuid, body: Value) -> Value {
    let (status, run) = server.post(&format!("/api/drafts/{draft}/dry-run"), &body).await;
    assert_eq!(status, StatusCode::OK, "{run}");
    run
}

/// How many engines the shop has and how many entries their records.
async fn recorded(server: &Server) -> (Value, i64) {
    let pool = sqlx::PgPool::connect(&server.database()).await.expect("the database");
    let entries =
        sqlx::query_scalar("SELECT count(*) FROM events").fetch_one(&pool).await.expect("the database");
    (server.get("/api/shop").await["counts"].clone(), entries)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_dry_run_goes_as_an_engine_does_and_nothing_of_it_is_recorded() {
    let server = Server::start().await;
    let before = recorded(&server).await;
    let draft = draft(&server).await;
    let run = begin(&server, draft, json!({})).await;
    let id = run["id"].as_str().unwrap().to_owned();
    assert_eq!(server.get(&format!("/api/dry-runs/{id}")).await["draft"], json!(draft));
    let engine = server.get(&format!("/api/builds/{id}")).await;
    assert_eq!(engine["name"], "Dry run: Tarn 5");
    let current = engine["current"].as_str().unwrap().to_owned();
    let bench = server.get(&format!("/api/builds/{id}/operations/{current}")).await;
    let slot = bench["step"]["slot"].as_str().unwrap();
    // By the same commands, which are told to whoever follows it and are answered once.
    let fit = json!({ "type": "fit", "operation": current, "slot": slot, "part": { "reference": "", "batch": "", "serial": "B 1", "condition": "new" } });
    let command = json!({ "id": Uuid::now_v7(), "seen": 1, "action": fit });
    let path = format!("/api/builds/{id}/commands");
    let (status, answer) = server.post(&path, &command).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let (_, again) = server.post(&path, &command).await;
    assert_eq!((&again["seq"], &again["events"]), (&answer["seq"], &answer["events"]));
    let (status, other) = server.post_as("bench-two", &path, &command).await;
    assert_eq!(status.as_u16(), 422, "{other}");
    // A wrong entry is voided as anywhere.
    let void = json!({ "type": "void", "seq": answer["seq"], "reason": "another block" });
    let (status, voided) =
        server.post(&path, &json!({ "id": Uuid::now_v7(), "seen": answer["seq"], "action": void })).await;
    assert_eq!(status, StatusCode::OK, "{voided}");
    let sheet = server.get(&format!("/api/builds/{id}/sheet")).await;
    assert_eq!(sheet["name"], "Dry run: Tarn 5");
    let (status, refused) = server.post(&format!("/api/builds/{id}/shares"), &json!({ "days": 10 })).await;
    assert_eq!((status.as_u16(), &refused["errors"][0]["field"]), (422, &json!("build")), "{refused}");
    // A figure that is looked up belongs into the plan, which a dry run leaves as it is.
    let look = json!({ "id": Uuid::now_v7(), "seen": SEEN, "path": "joint[0].procedure", "text": "30 N·m" });
    let (status, refused) = server.post(&format!("/api/builds/{id}/figures"), &look).await;
    assert_eq!((status.as_u16(), &refused["errors"][0]["field"]), (422, &json!("text")), "{refused}");
    // Nobody finds it among the engines, and the record is as it was.
    assert_eq!(recorded(&server).await, before);
    let found = server.get("/api/find?text=Dry%20run").await;
    assert!(!found.to_string().contains(&id), "{found}");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_dry_run_begins_at_any_step_with_simulated_tools() {
    let server = Server::start().await;
    let draft = draft(&server).await;
    let run = begin(&server, draft, json!({ "from": "main-caps-tighten" })).await;
    let id = run["id"].as_str().unwrap();
    assert_eq!(run["operation"], "main-caps-tighten");
    let path = format!("/api/builds/{id}/operations/main-caps-tighten");
    // The blind holes are dry; then the simulated wrench pulls.
    let act = json!({ "type": "act", "operation": "main-caps-tighten", "joint": "main-caps", "stage": 0 });
    let command = json!({ "id": Uuid::now_v7(), "seen": SEEN, "action": act });
    let show = format!("/api/builds/{id}/commands?show=main-caps-tighten");
    let (status, answer) = server.post(&show, &command).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let tools = answer["bench"]["work"]["tools"][0]["tools"].as_array().unwrap();
    let wrench = tools.iter().find(|tool| tool["nature"] == "stand-in" && tool["suits"] == true);
    let wrench = wrench.unwrap_or_else(|| panic!("{tools:?}"))["id"].clone();
    let pull =
        json!({ "id": Uuid::now_v7(), "seen": SEEN, "operation": "main-caps-tighten", "instrument": wrench });
    let (status, pulled) = server.post(&format!("/api/builds/{id}/rig/pull"), &pull).await;
    assert_eq!(status, StatusCode::OK, "{pulled}");
    assert!(server.get(&path).await["operation"]["done"].as_u64().unwrap() > 0);
    // A step that is not there, and a draft that cannot be read.
    let (status, nothing) =
        server.post(&format!("/api/drafts/{draft}/dry-run"), &json!({ "from": "cheese" })).await;
    assert_eq!((status.as_u16(), &nothing["errors"][0]["field"]), (422, &json!("from")), "{nothing}");
    let edits =
        json!({ "seen": 1, "edits": [{ "type": "set", "path": "fastener[0].thread", "value": "M" }] });
    server.post(&format!("/api/drafts/{draft}/edits"), &edits).await;
    let (status, wrong) = server.post(&format!("/api/drafts/{draft}/dry-run"), &json!({})).await;
    assert_eq!(
        (status.as_u16(), &wrong["errors"][0]["field"]),
        (422, &json!("fastener[0].thread")),
        "{wrong}"
    );
    // What is begun keeps the plan that it was begun with; what was never begun is not there.
    assert_eq!(server.get(&path).await["operation"]["id"], "main-caps-tighten");
    let none = format!("{}/api/builds/{}", server.base, Uuid::from_u128(0x8000 << 64));
    assert_eq!(server.client.get(none).send().await.unwrap().status(), StatusCode::NOT_FOUND);
    // Nothing is begun over a dry run; an engine of the record with such an id is one like any other.
    let plans = server.get("/api/plans").await;
    let begun = |id: &str| json!({ "id": id, "name": "Engine", "plan": plans[0]["hash"] });
    let (status, refused) = server.post("/api/builds", &begun(id)).await;
    assert_eq!(status.as_u16(), 409, "{refused}");
    let other = "0192f3a4-0000-8000-8000-000000000001";
    let (status, answer) = server.post("/api/builds", &begun(other)).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    assert_eq!(server.get(&format!("/api/builds/{other}")).await["name"], "Engine");
    let tried = format!("{}/api/dry-runs/{other}", server.base);
    assert_eq!(server.client.get(tried).send().await.unwrap().status(), StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_page_of_a_manual_is_kept_by_its_content_and_shown_in_a_page_of_rigore_only() {
    let server = Server::start().await;
    let keep = |bytes: Vec<u8>, person: &'static str| {
        let request = server.client.post(format!("{}/api/manual-files", server.base));
        let request = request.header("cookie", format!("rigore=demonstration.{person}"));
        async move { request.header("content-type", "application/octet-stream").body(bytes).send().await.unwrap() }
    };
    let pdf = b"%PDF-1.4\n% a page".to_vec();
    let kept: Value = keep(pdf.clone(), "bench-one").await.json().await.unwrap();
    assert_eq!(kept["media"], "application/pdf");
    let again: Value = keep(pdf.clone(), "bench-two").await.json().await.unwrap();
    assert_eq!(again, kept);
    let hash = kept["hash"].as_str().unwrap();
    let got = server.client.get(format!("{}/api/manual-files/{hash}", server.base)).send().await.unwrap();
    let header = |name: &str| got.headers()[name].to_str().unwrap().to_owned();
    assert_eq!(header("content-type"), "application/pdf");
    assert_eq!(header("x-frame-options"), "SAMEORIGIN");
    assert!(header("content-security-policy").contains("default-src 'none'"));
    assert_eq!(got.bytes().await.unwrap(), pdf);
    for (bytes, person, status) in [
        (b"<script>1</script>".to_vec(), "bench-one", 422),
        (Vec::new(), "bench-one", 422),
        (pdf.clone(), "viewer", 403),
        ([pdf.clone(), vec![0; 20_000_001]].concat(), "bench-one", 422),
    ] {
        let answer = keep(bytes, person).await;
        assert_eq!(answer.status().as_u16(), status, "{}", answer.text().await.unwrap());
    }
}

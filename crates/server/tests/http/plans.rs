//! Plans of one's own: drafts, versions, what is looked up, and engines that go on by another version.

use crate::harness::{SEEN, Server, words};
use reqwest::StatusCode;
use rigore_server::demo::build_id;
use serde_json::{Value, json};
use uuid::Uuid;

const OPEN: &str = r#"format = 1
id = "press"
name = "Press"
[[fastener]]
id = "bolt"
name = "Cap bolt"
thread = "M10x1.25"
strength = "10.9"
bearing_diameter = "13.5 mm"
thread_lubricant = "engine-oil"
bearing_lubricant = "engine-oil"
[[drawing]]
id = "plate"
name = "Plate"
shape = []
[[joint]]
id = "caps"
name = "Caps"
drawing = "plate"
procedure = "? page 4"
[[joint.group]]
id = "bolts"
name = "bolt"
fastener = "bolt"
position = [{ id = "1", at = [0, 0] }, { id = "2", at = [10, 0] }]
[[operation]]
id = "tighten"
name = "Tighten the caps"
kind = "tighten"
joint = "caps"
[[operation]]
id = "sign-off"
name = "Sign off"
kind = "sign"
needs = ["tighten"]
"#;

async fn put(server: &Server, path: &str, body: &Value) -> (StatusCode, Value) {
    let request = server
        .client
        .put(format!("{}{path}", server.base))
        .header("cookie", "rigore=demonstration.bench-one");
    let answer = request.json(body).send().await.expect("an answer");
    (answer.status(), answer.json().await.expect("JSON"))
}

/// A draft with this text.
async fn draft(server: &Server, source: &str) -> Uuid {
    let id = Uuid::now_v7();
    let (status, answer) = server.post("/api/drafts", &json!({"id": id, "source": source})).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    id
}

/// A version with this text.
async fn version(server: &Server, source: &str) -> String {
    let id = draft(server, source).await;
    let (status, kept) =
        server.post(&format!("/api/drafts/{id}/keep"), &json!({"seen": 1, "why": "tried"})).await;
    assert_eq!(status, StatusCode::OK, "{kept}");
    kept["hash"].as_str().expect("a hash").to_owned()
}

#[tokio::test]
async fn a_draft_is_saved_with_its_faults_and_kept_without() {
    let server = Server::start().await;
    let id = draft(&server, "format = 1\n").await;
    let (again, same) = server.post("/api/drafts", &json!({"id": id, "source": "other"})).await;
    assert_eq!(
        (again, same["source"].as_str()),
        (StatusCode::OK, Some("format = 1\n")),
        "the same id is one draft"
    );
    let path = format!("/api/drafts/{id}");
    // Faults never stop typing; they stop a version, each at its place.
    let (status, saved) = put(&server, &path, &json!({"seen": 1, "source": "format = 1\nname = 3\n"})).await;
    assert_eq!(
        (status, saved["revision"].as_u64(), saved["usable"].as_bool()),
        (StatusCode::OK, Some(2), Some(false))
    );
    let (status, problem) = server.post(&format!("{path}/keep"), &json!({"seen": 2})).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let fields: Vec<&str> =
        problem["errors"].as_array().expect("errors").iter().filter_map(|e| e["field"].as_str()).collect();
    assert!(fields.contains(&"name") && fields.contains(&"id"), "{fields:?}");
    // Nobody overwrites what they have not seen.
    let (status, problem) = put(&server, &path, &json!({"seen": 1, "source": "mine"})).await;
    assert_eq!((status, problem["type"].as_str()), (StatusCode::CONFLICT, Some("/problems/stale")));
    let edits = json!({"seen": 1, "edits": [{"type": "set", "path": "name", "value": "X"}]});
    assert_eq!(server.post(&format!("{path}/edits"), &edits).await.0, StatusCode::CONFLICT);
    let (status, changed) =
        server.post(&format!("{path}/edits"), &json!({"seen": 2, "edits": edits["edits"]})).await;
    assert_eq!((status, changed["source"].as_str()), (StatusCode::OK, Some("format = 1\nname = \"X\"\n")));
    let wrong = json!({"seen": 3, "edits": [{"type": "set", "path": "joint[4].name", "value": 1}]});
    let (status, problem) = server.post(&format!("{path}/edits"), &wrong).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("joint[4].name")));
    assert_eq!(server.post_as("viewer", &format!("{path}/edits"), &wrong).await.0, StatusCode::FORBIDDEN);
    // Put away it is gone from the list, and its text stays.
    let gone = server
        .client
        .delete(format!("{}{path}", server.base))
        .header("cookie", "rigore=demonstration.lead")
        .send()
        .await;
    assert_eq!(gone.expect("an answer").status(), StatusCode::NO_CONTENT);
    assert_eq!(server.get("/api/drafts").await, json!([]));
    assert_eq!(put(&server, &path, &json!({"seen": 3, "source": OPEN})).await.0, StatusCode::OK);
    assert_eq!(server.get("/api/drafts").await[0]["name"], "Press");
    let large = json!({"seen": 4, "source": "#".repeat(2_000_001)});
    assert_eq!(put(&server, &path, &large).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let long = json!({"seen": 4, "source": "\n".repeat(20_001)});
    assert_eq!(put(&server, &path, &long).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let none = json!({"seen": 4, "source": "a\u{0}b"});
    assert_eq!(put(&server, &path, &none).await.0, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn a_line_is_tried_without_changing_anything() {
    let server = Server::start().await;
    let id = draft(&server, OPEN).await;
    let tried = |line: &str| json!({"joint": "joint[0]", "line": line});
    let (_, good) = server
        .post(&format!("/api/drafts/{id}/procedure"), &tried("20 N·m, then 45 N·m ± 2, clockwise"))
        .await;
    assert_eq!(good["canonical"], "20 N·m, 45 ± 2 N·m, clockwise");
    assert_eq!(good["joint"]["stages"].as_array().map(Vec::len), Some(2));
    assert!(good["joint"]["stages"][1]["forecast"]["typical_kn"].as_f64() > Some(20.0));
    let (_, asked) = server.post(&format!("/api/drafts/{id}/procedure"), &tried("µ 45")).await;
    assert_eq!(asked["asks"][0]["at"], json!([2, 4]), "{asked}");
    let (_, over) = server.post(&format!("/api/drafts/{id}/procedure"), &tried("450 N·m")).await;
    assert!(words(&over["faults"][0]["message"]).contains("past the fastener's limit"), "{over}");
    assert_eq!(server.get(&format!("/api/drafts/{id}")).await["source"], OPEN);
}

#[tokio::test]
async fn versions_are_kept_once_and_an_engine_goes_on_by_another() {
    let server = Server::start().await;
    let plans = server.get("/api/plans").await;
    let tarn = plans
        .as_array()
        .expect("plans")
        .iter()
        .find(|plan| plan["id"] == "tarn-5")
        .expect("the Tarn 5")
        .clone();
    let hash = tarn["hash"].as_str().expect("a hash");
    let text =
        server.client.get(format!("{}/api/plans/{hash}/text", server.base)).send().await.expect("an answer");
    let text = text.text().await.expect("a text");
    assert_eq!(version(&server, &text).await, hash, "the same text is the same version");
    let newer = version(&server, &text.replacen("torque = \"39 N·m\"", "torque = \"41 N·m\"", 1)).await;
    let listed = server.get("/api/plans").await;
    let now =
        listed.as_array().expect("plans").iter().find(|plan| plan["id"] == "tarn-5").expect("there").clone();
    assert_eq!(
        (now["hash"].as_str(), now["version"]["why"].as_str(), now["engines"].as_u64()),
        (Some(newer.as_str()), Some("tried"), Some(0))
    );
    assert_eq!(
        now["engines_before"],
        tarn["engines"].as_u64().expect("engines") + tarn["engines_before"].as_u64().expect("engines")
    );
    let differences = server.get(&format!("/api/plans/{newer}/differences?since={hash}")).await;
    assert_eq!(differences.as_array().map(Vec::len), Some(2), "two steps: {differences}");

    let engine = "Tarn 5 no. 9";
    let id = build_id(engine);
    let before = server.get(&format!("/api/builds/{id}")).await;
    let preview = server.get(&format!("/api/builds/{id}/move?to={newer}")).await;
    assert_eq!(
        (preview["lost"].as_array().map(Vec::len), preview["lapses"].as_array().map(Vec::len)),
        (Some(0), Some(0))
    );
    assert!(preview["issues"].as_array().map(Vec::len) > Some(0), "{preview}");
    let to = json!({"type": "move-to", "plan": newer, "reason": "off the wrong row"});
    assert_eq!(server.give("bench-one", engine, to.clone()).await.0, StatusCode::FORBIDDEN);
    let unknown = json!({"type": "move-to", "plan": "0".repeat(64), "reason": "why not"});
    assert_eq!(server.give("lead", engine, unknown).await.0, StatusCode::UNPROCESSABLE_ENTITY);
    let command = json!({"id": Uuid::now_v7(), "seen": SEEN, "action": to});
    let path = format!("/api/builds/{id}/commands");
    let (status, first) = server.post(&path, &command).await;
    assert_eq!(status, StatusCode::OK, "{first}");
    assert_eq!(server.post(&path, &command).await.1["seq"], first["seq"], "sent again it is one move");
    assert_eq!(server.give("lead", engine, to).await.0, StatusCode::CONFLICT, "it goes by that already");
    let after = server.get(&format!("/api/builds/{id}")).await;
    assert_eq!(
        (after["plan"]["hash"].as_str(), after["versions"].as_array().map(Vec::len)),
        (Some(newer.as_str()), Some(2))
    );
    let signed = |view: &Value| {
        view["operations"]
            .as_array()
            .expect("operations")
            .iter()
            .filter(|of| !of["signed_by"].is_null())
            .count()
    };
    assert_eq!(signed(&before), signed(&after), "no signature ends: nothing is to be done besides");
    assert_eq!(after["status"], "held", "a lead has to stand for what would be judged otherwise");
    let shop = server.get("/api/shop?find=no.+9").await;
    assert_eq!(shop["builds"][0]["status"], "held");
    assert_eq!(server.get(&format!("/api/builds/{id}/version")).await["newer"], Value::Null);
}

#[tokio::test]
async fn a_figure_is_looked_up_once_where_it_is_wanted() {
    let server = Server::start().await;
    let hash = version(&server, OPEN).await;
    let build = Uuid::now_v7();
    let begun = server.post("/api/builds", &json!({"id": build, "name": "Press no. 1", "plan": hash})).await;
    assert_eq!(begun.0, StatusCode::OK, "{}", begun.1);
    let path = format!("/api/builds/{build}/figures");
    let look = |text: &str, at: &str| json!({"id": Uuid::now_v7(), "seen": SEEN, "path": at, "text": text, "source": "manual, page 4"});
    for (text, says) in [
        ("", "is needed"),
        ("30", "30 of what"),
        ("450 N·m", "past the fastener's limit"),
        ("? page 5", "is needed"),
    ] {
        let (status, problem) = server.post_as("bench-one", &path, &look(text, "joint[0].procedure")).await;
        assert_eq!(
            (status.as_u16(), problem["errors"][0]["field"].as_str()),
            (422, Some("text")),
            "{text}: {problem}"
        );
        assert!(words(&problem["errors"][0]["message"]).contains(says), "{text}: {problem}");
    }
    assert_eq!(
        server.post("/api/builds", &json!({"id": build, "name": "x", "plan": "nothing"})).await.0,
        StatusCode::UNPROCESSABLE_ENTITY
    );
    let good = look("20 N·m, 45 N·m", "joint[0].procedure");
    let (status, answer) = server.post_as("bench-one", &path, &good).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    assert_eq!(
        server.post_as("bench-one", &path, &good).await.1["seq"],
        answer["seq"],
        "sent again it is one"
    );
    assert_eq!(
        server.post_as("bench-one", &path, &look("50 N·m", "joint[0].procedure")).await.0,
        StatusCode::CONFLICT
    );
    assert_eq!(
        server.post_as("viewer", &path, &look("50 N·m", "joint[0].procedure")).await.0,
        StatusCode::FORBIDDEN
    );
    let view = server.get(&format!("/api/builds/{build}")).await;
    assert_eq!(view["wanted"], json!([]));
    assert_eq!(view["versions"][1]["reason"], "Looked up: 20 N·m, 45 N·m, manual, page 4");
    let now = view["plan"]["hash"].as_str().expect("a hash");
    let plan = server.get(&format!("/api/plans/{now}")).await;
    assert_eq!(
        (plan["page"]["joints"][0]["source"].as_str(), plan["version"]["by"].as_str()),
        (Some("manual, page 4"), Some("Bench one"))
    );
}

#[tokio::test]
async fn pieces_of_a_plan_are_kept_and_taken_into_another() {
    let server = Server::start().await;
    let id = draft(&server, OPEN).await;
    let keep = |path: &str| json!({"id": Uuid::now_v7(), "draft": id, "path": path});
    for path in ["joint[0]", "fastener[0]", "joint[0].procedure"] {
        let (status, piece) = server.post("/api/library", &keep(path)).await;
        assert_eq!(status, StatusCode::OK, "{piece}");
    }
    for path in ["joint[7]", "drawing[0]", "name", "joint[0]x"] {
        assert_eq!(
            server.post("/api/library", &keep(path)).await.0,
            StatusCode::UNPROCESSABLE_ENTITY,
            "{path}"
        );
    }
    let pieces = server.get("/api/library").await;
    let kinds: Vec<&str> =
        pieces.as_array().expect("pieces").iter().filter_map(|of| of["kind"].as_str()).collect();
    assert_eq!(kinds, ["fastener", "joint", "procedure"]);
    let other = draft(&server, "format = 1\nid = \"o\"\nname = \"Other\"\n").await;
    let take = json!({"seen": 1, "edits": [{"type": "take", "text": pieces[1]["text"]}]});
    let (status, taken) = server.post(&format!("/api/drafts/{other}/edits"), &take).await;
    assert_eq!(status, StatusCode::OK, "{taken}");
    assert_eq!(taken["page"]["joints"][0]["groups"][0]["title"], "Cap bolt, M10x1.25");
    let piece = pieces[0]["id"].as_str().expect("an id");
    let gone = server
        .client
        .delete(format!("{}/api/library/{piece}", server.base))
        .header("cookie", "rigore=demonstration.lead");
    assert_eq!(gone.send().await.expect("an answer").status(), StatusCode::NO_CONTENT);
    assert_eq!(server.get("/api/library").await.as_array().map(Vec::len), Some(2));
}

#[tokio::test]
async fn a_shape_begins_a_plan_and_what_makes_no_engine_names_its_field() {
    let server = Server::start().await;
    let (status, page) =
        server.post("/api/plans/shape", &json!({"name": "Twin", "layout": "flat", "cylinders": 2})).await;
    assert_eq!(status, StatusCode::OK, "{page}");
    assert!(page["open"].as_array().map(Vec::len) > Some(10));
    let (status, problem) = server.post("/api/plans/shape", &json!({"cylinders": 13})).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("cylinders")));
    let engine = json!({"name": "Twin", "layout": "flat", "cylinders": 2, "has": ["pan"]});
    let (status, draft) =
        server.post("/api/drafts/shape", &json!({"id": Uuid::now_v7(), "engine": engine})).await;
    assert_eq!(
        (status, draft["usable"].as_bool(), draft["faults"].clone()),
        (StatusCode::OK, Some(true), json!([]))
    );
}

#[tokio::test]
async fn a_figure_with_a_source_that_goes_past_yield_is_for_a_lead_to_approve() {
    let server = Server::start().await;
    let source = OPEN.replace("\"? page 4\"", "\"100 N·m\"\nsource = \"the maker's sheet, page 4\"");
    let id = draft(&server, &source).await;
    let path = format!("/api/drafts/{id}/keep");
    let keep = |approved: bool| json!({"seen": 1, "why": "the maker's own paste", "approved": approved});
    let (status, problem) = server.post_as("bench-one", &path, &keep(true)).await;
    assert_eq!((status, problem["type"].as_str()), (StatusCode::FORBIDDEN, Some("/problems/not-allowed")));
    assert!(words(&problem["message"]).contains("100 N·m on M10x1.25 gives"), "{problem}");
    let (status, problem) = server.post(&path, &keep(false)).await;
    assert_eq!((status, problem["type"].as_str()), (StatusCode::CONFLICT, Some("/problems/ask")));
    assert!(words(&problem["message"]).ends_with("Do you approve it?"), "{problem}");
    let (status, kept) = server.post(&path, &keep(true)).await;
    assert_eq!(status, StatusCode::OK, "{kept}");
    assert_eq!(
        kept["why"],
        "the maker's own paste; approved: Caps, torque: past yield by the friction table, right by its source",
        "{kept}"
    );
    // Without a source it is another bolt's figure, and nobody approves that.
    let id = draft(&server, &OPEN.replace("\"? page 4\"", "\"100 N·m\"")).await;
    assert_eq!(server.post(&format!("/api/drafts/{id}/keep"), &keep(true)).await.0.as_u16(), 422);
}

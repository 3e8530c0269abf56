//! Drafts changed by forms: tables as data, undo and redo, and who else has one open.

use crate::harness::Server;
use reqwest::StatusCode;
use serde_json::{Value, json};
use uuid::Uuid;

/// A draft with the usual shape of an engine.
async fn shaped(server: &Server) -> String {
    let engine = json!({ "name": "Fell 4", "layout": "inline", "cylinders": 4 });
    let id = Uuid::now_v7();
    let (status, answer) = server.post("/api/drafts/shape", &json!({"id": id, "engine": engine})).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    format!("/api/drafts/{id}")
}

async fn edit(
    server: &Server,
    path: &str,
    seen: u64,
    edits: Value,
    sound: Option<&str>,
) -> (StatusCode, Value) {
    let edits = json!({ "seen": seen, "edits": edits, "sound": sound });
    server.post(&format!("{path}/edits"), &edits).await
}

#[tokio::test(flavor = "multi_thread")]
async fn a_table_is_read_as_data_changed_as_a_whole_undone_and_redone() {
    let server = Server::start().await;
    let path = shaped(&server).await;
    let first = server.get(&path).await;
    assert_eq!((&first["can_undo"], &first["can_redo"]), (&json!(false), &json!(false)));
    let row = first["page"]["tables"].as_array().unwrap().iter().find(|row| row["list"] == "slot").unwrap();
    let at = row["path"].as_str().unwrap();
    let mut fields = server.get(&format!("{path}/table?path={at}")).await;
    assert_eq!(fields["id"], row["id"]);
    fields["uses_allowed"] = json!(3);
    let put = json!([{ "type": "put", "path": at, "fields": fields }]);
    let (status, second) = edit(&server, &path, 1, put, Some(at)).await;
    assert_eq!(status, StatusCode::OK, "{second}");
    assert_eq!((&second["revision"], &second["can_undo"]), (&json!(2), &json!(true)));
    assert_eq!(server.get(&format!("{path}/table?path={at}")).await, fields);
    // Undone and redone by whoever has seen the last revision.
    let step = |to: &str, seen: u64| {
        let (server, path) = (&server, format!("{path}/{to}"));
        async move { server.post_as("bench-two", &path, &json!({ "seen": seen })).await }
    };
    let (status, stale) = step("undo", 1).await;
    assert_eq!((status.as_u16(), &stale["type"]), (409, &json!("/problems/stale")), "{stale}");
    let (status, undone) = step("undo", 2).await;
    assert_eq!(status, StatusCode::OK, "{undone}");
    assert_eq!(undone["source"], first["source"]);
    assert_eq!((&undone["can_undo"], &undone["can_redo"]), (&json!(false), &json!(true)));
    let (status, none) = step("undo", 3).await;
    assert_eq!(status.as_u16(), 422, "{none}");
    let (_, redone) = step("redo", 3).await;
    assert_eq!(redone["source"], second["source"]);
    // A change after an undo leaves nothing to redo.
    step("undo", 4).await;
    let name = json!([{ "type": "set", "path": "name", "value": "Fell 4 B" }]);
    let (_, other) = edit(&server, &path, 5, name, None).await;
    assert_eq!((&other["can_undo"], &other["can_redo"]), (&json!(true), &json!(false)));
    assert_eq!(step("redo", 6).await.0.as_u16(), 422);
    // What stands nowhere is not there.
    let nothing = server.client.get(format!("{}{path}/table?path=slot[99]", server.base));
    let nothing = nothing.header("cookie", "rigore=demonstration.bench-one").send().await.unwrap();
    assert_eq!(nothing.status(), StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_wrong_with_something_new_is_said_at_its_fields_and_nothing_is_changed() {
    let server = Server::start().await;
    let path = shaped(&server).await;
    let adapter = |length: &str| {
        let fields = json!({ "name": "Crowfoot", "length": length, "angle": "0°", "wrench": "400 mm" });
        json!([{ "type": "append", "list": "adapter", "fields": fields }])
    };
    let (status, refused) = edit(&server, &path, 1, adapter("long"), Some("+")).await;
    assert_eq!(status.as_u16(), 422, "{refused}");
    assert_eq!(refused["errors"][0]["field"], "length");
    assert_eq!(server.get(&path).await["revision"], 1);
    let (status, added) = edit(&server, &path, 1, adapter("50 mm"), Some("+")).await;
    assert_eq!(status, StatusCode::OK, "{added}");
    let tables = added["page"]["tables"].as_array().unwrap();
    assert!(tables.iter().any(|row| row["list"] == "adapter" && row["id"] == "crowfoot"), "{tables:?}");
    // Without a path that has to be sound it is kept as it is, and the fault names its place in words.
    let (_, kept) = edit(
        &server,
        &path,
        2,
        adapter("long").to_string().replace("Crowfoot", "Long one").parse().unwrap(),
        None,
    )
    .await;
    let fault =
        kept["faults"].as_array().unwrap().iter().find(|of| of["path"] == "adapter[1].length").unwrap();
    assert_eq!(fault["place"], "Long one, Length from drive to fastener");
}

#[tokio::test(flavor = "multi_thread")]
async fn two_who_have_a_draft_open_are_told_of_each_other() {
    let server = Server::start().await;
    let path = shaped(&server).await;
    let others = |draft: &Value| draft["others"].clone();
    // Who begins a draft has it open.
    assert_eq!(others(&server.get(&path).await), json!(["Lead"]));
    let rename = json!({ "seen": 1, "edits": [{ "type": "set", "path": "name", "value": "Fell" }] });
    let (status, theirs) = server.post_as("bench-two", &format!("{path}/edits"), &rename).await;
    assert_eq!(status, StatusCode::OK, "{theirs}");
    assert_eq!(others(&theirs), json!(["Bench one", "Lead"]));
    assert_eq!(others(&server.get(&path).await), json!(["Bench two", "Lead"]));
}

#[tokio::test(flavor = "multi_thread")]
async fn the_format_is_told_with_its_tables_their_fields_and_conditions() {
    let server = Server::start().await;
    let format = server.get("/api/plan-format").await;
    let tables = format.as_array().unwrap();
    let stage = tables.iter().find(|table| table["id"] == "joint.stage").unwrap();
    assert!(stage["one_of"].as_array().unwrap().contains(&json!("seal")));
    let field =
        |key: &str| stage["fields"].as_array().unwrap().iter().find(|field| field["key"] == key).unwrap();
    assert_eq!(field("within")["with"], json!(["seal"]));
    assert_eq!(field("torque")["kind"], json!({ "type": "quantity", "dimension": "torque" }));
    assert_eq!(field("torque")["label"], "Torque");
    // Every table that a field holds is told as well.
    let inner = tables.iter().flat_map(|table| table["fields"].as_array().unwrap());
    for inner in inner.filter_map(|field| field["kind"]["table"].as_str()) {
        assert!(tables.iter().any(|table| table["id"] == inner), "{inner}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn the_library_tells_where_a_piece_is_used_and_gives_a_checklist_as_a_step() {
    let server = Server::start().await;
    let plans = server.get("/api/plans").await;
    let tarn = plans.as_array().unwrap().iter().find(|plan| plan["id"] == "tarn-5").unwrap();
    let draft = Uuid::now_v7();
    server.post("/api/drafts", &json!({ "id": draft, "base": tarn["hash"] })).await;
    let now = server.get(&format!("/api/drafts/{draft}")).await;
    let line = now["page"]["line"].as_array().unwrap();
    let step = line.iter().find(|row| row["id"] == "block-prepare").unwrap()["path"].clone();
    for path in [json!("clearance"), json!("adapter[0]"), json!("joint[0]"), step] {
        let keep = json!({ "id": Uuid::now_v7(), "draft": draft, "path": path });
        let (status, kept) = server.post("/api/library", &keep).await;
        assert_eq!(status, StatusCode::OK, "{path}: {kept}");
    }
    let all = server.get("/api/library").await;
    let of = |kind: &str| all.as_array().unwrap().iter().find(|piece| piece["kind"] == kind).unwrap().clone();
    for kind in ["clearances", "adapter", "joint", "checklist"] {
        assert_eq!(of(kind)["used_in"][0], "Tarn 5", "{kind}");
    }
    // A checklist goes into another plan as a step, with its items alone.
    let list = of("checklist");
    let path = shaped(&server).await;
    let add = json!([{ "type": "add-step", "fields": list["fields"], "place": "last" }]);
    let (status, added) = edit(&server, &path, 1, add, Some("+")).await;
    assert_eq!(status, StatusCode::OK, "{added}");
    assert!(added["source"].as_str().unwrap().contains(list["name"].as_str().unwrap()));
    assert_eq!(added["usable"], true, "{}", added["faults"]);
    let (status, nothing) = server
        .post("/api/library", &json!({ "id": Uuid::now_v7(), "draft": draft, "path": "operation[0]" }))
        .await;
    assert_eq!(status.as_u16(), 422, "{nothing}");
}

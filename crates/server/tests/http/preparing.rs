//! Taking in, counting, measuring and choosing over HTTP, on the demonstration shop.

use crate::harness::{SEEN, Server, words};
use reqwest::StatusCode;
use rigore_server::demo;
use serde_json::{Value, json};
use uuid::Uuid;

fn measure(site: &str, place: usize, text: &str) -> Value {
    json!({"type": "measure", "operation": "mains-measure", "site": site, "place": place, "text": text,
        "method": "typed", "instrument": "bore-gauge"})
}

fn with(mut what: Value, field: &str, value: Value) -> Value {
    what[field] = value;
    what
}

/// The members of a clearance at a bench, as their decisions.
fn decisions(bench: &Value, id: &str) -> Vec<String> {
    let views = bench["work"]["clearances"].as_array().expect("clearances").iter();
    let of_it = views.filter(|view| view["id"] == id);
    of_it.map(|view| view["decision"].as_str().unwrap_or("open").to_owned()).collect()
}

#[tokio::test]
async fn an_unlikely_reading_is_asked_about_once_and_then_kept_as_it_is() {
    let server = Server::start().await;
    let (status, problem) =
        server.give("bench-one", "Tarn 5 no. 16", measure("main-housing-2", 1, "5.8997")).await;
    assert_eq!((status, problem["type"].as_str()), (StatusCode::CONFLICT, Some("/problems/ask")));
    assert!(problem["detail"].as_str().is_some_and(|text| text.contains("58.997 mm would fit")), "{problem}");

    let sure = with(measure("main-housing-2", 1, "5.8997"), "sure", json!(true));
    let (status, answer) = server.give("bench-one", "Tarn 5 no. 16", sure).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let fact = &answer["events"][0]["fact"];
    assert_eq!((fact["read"].as_f64(), fact["unlikely"].as_bool()), (Some(5.8997), Some(true)));
    assert_eq!(fact["entered"], "5.8997");
    let bench = server.bench("Tarn 5 no. 16", "mains-measure").await;
    assert_eq!(bench["work"]["readings"][0]["unlikely"], true);
    assert_eq!(bench["step"]["site"], "main-housing-3");
}

#[tokio::test]
async fn a_wrong_field_of_a_reading_is_named_and_nothing_is_recorded() {
    let server = Server::start().await;
    let before = server.bench("Tarn 5 no. 16", "mains-measure").await["seq"].clone();
    let right = || measure("main-housing-2", 1, "58.997");
    for (what, field) in [
        (measure("main-housing-9", 0, "58.997"), "site"),
        (measure("cylinder-1", 0, "83.0"), "site"),
        (measure("main-housing-2", 2, "58.997"), "place"),
        (measure("main-housing-2", 1, "58,99,7"), "text"),
        (measure("main-housing-2", 1, "58.997 N·m"), "text"),
        (measure("main-housing-2", 1, "+0.01 on master"), "text"),
        (measure("main-housing-2", 1, ""), "text"),
        (with(right(), "unit", json!("kN")), "unit"),
        (with(right(), "temperature_c", json!(900)), "temperature_c"),
        (with(right(), "instrument", json!("ruler")), "instrument"),
        (with(right(), "operation", json!("main-caps-turn")), "site"),
        (with(right(), "operation", json!("none")), "operation"),
        (with(right(), "method", json!("guessed")), "action"),
        (with(right(), "place", json!(-1)), "action"),
    ] {
        let (status, problem) = server.give("bench-one", "Tarn 5 no. 16", what.clone()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{what} {problem}");
        assert_eq!(problem["errors"][0]["field"], field, "{what} {problem}");
    }
    assert_eq!(server.bench("Tarn 5 no. 16", "mains-measure").await["seq"], before);
}

#[tokio::test]
async fn inches_a_master_and_a_warm_part_are_brought_to_one_size() {
    let server = Server::start().await;
    for (what, read) in [
        (with(measure("main-housing-2", 1, "2.3227"), "unit", json!("in")), 58.996_58),
        (measure("main-housing-2", 1, "-3 µm on 59 mm"), 58.997),
        (measure("main-housing-2", 1, "58,998"), 58.998),
    ] {
        let (status, answer) = server.give("bench-one", "Tarn 5 no. 16", what).await;
        assert_eq!(status, StatusCode::OK, "{answer}");
        let got = answer["events"][0]["fact"]["read"].as_f64().expect("a size");
        assert!((got - read).abs() < 1e-6, "{got} {read}");
    }
    let warm = with(measure("main-housing-2", 1, "59.024"), "temperature_c", json!(40));
    server.give("bench-one", "Tarn 5 no. 16", warm).await;
    let bench = server.bench("Tarn 5 no. 16", "mains-measure").await;
    let reading = &bench["work"]["readings"][0];
    // Aluminium, 23e-6 per kelvin over 20 K.
    let at_20 = 59.024 / (1.0 + 23e-6 * 20.0);
    assert!((reading["value"].as_f64().expect("a size") - at_20).abs() < 1e-9, "{reading}");
    let superseded = bench["work"]["readings"].as_array().expect("readings").iter();
    assert_eq!(superseded.filter(|reading| reading["superseded"] == true).count(), 3);
}

#[tokio::test]
async fn two_gauges_on_one_engine_at_once_lose_nothing_and_refuse_nothing() {
    let server = Server::start().await;
    let (server, engine) = (&server, "Tarn 5 no. 16");
    let line = |sites: [&'static str; 5], text: &'static str, who: &'static str| async move {
        for site in sites {
            for place in 0..2 {
                let (status, answer) = server.give(who, engine, measure(site, place, text)).await;
                assert_eq!(status, StatusCode::OK, "{answer}");
            }
        }
    };
    let housings = ["main-housing-2", "main-housing-3", "main-housing-4", "main-housing-5", "main-housing-6"];
    let strips = ["main-strip-1", "main-strip-2", "main-strip-3", "main-strip-4", "main-strip-5"];
    tokio::join!(line(housings, "58.997", "bench-one"), line(strips, "1.53", "bench-two"));
    let bench = server.bench(engine, "mains-measure").await;
    // 27 there before, one of them at housing 2 front again, and 20 more.
    assert_eq!(bench["operation"]["done"], 46, "{}", bench["step"]);
    assert_eq!(bench["step"]["site"], "main-strip-6");
    let people: std::collections::BTreeSet<_> =
        bench["work"]["readings"].as_array().expect("readings").iter().map(|r| r["by"].to_string()).collect();
    assert_eq!(people.len(), 2);
}

#[tokio::test]
async fn the_demonstration_has_a_verdict_of_each_kind_and_says_which_method_to_trust() {
    let server = Server::start().await;
    let bench = server.bench("Tarn 5 no. 15", "mains-measure").await;
    let found = decisions(&bench, "main-oil");
    assert_eq!(found, ["inside", "outside", "inside", "too-close", "inside", "inside"]);
    let views = bench["work"]["clearances"].as_array().expect("clearances");
    assert_eq!(
        (&views[4]["second"]["agrees"], &views[4]["second"]["trust"]),
        (&json!(false), &json!("first"))
    );
    assert_eq!(bench["operation"]["status"], "held");
    let finished = server.get(&format!("/api/builds/{}", demo::build_id("Tarn 5 no. 9"))).await;
    assert_eq!(finished["status"], "finished");
    for line in finished["clearances"].as_array().expect("lines") {
        let members = line["members"].as_array().expect("members");
        assert!(!members.is_empty() && members.iter().all(|m| m == "inside" || m == "too-close"), "{line}");
    }
    assert!(finished["parts"].as_array().expect("parts").iter().all(|slot| slot["part"].is_object()));
    let ostra = server.bench("Ostra 11 no. 3", "cylinders-measure").await;
    assert_eq!(decisions(&ostra, "piston-play"), ["inside", "outside"], "{}", ostra["issues"]);
}

#[tokio::test]
async fn shells_are_proposed_out_of_what_is_at_hand_and_chosen_one_grade_apart_at_the_most() {
    let server = Server::start().await;
    let engine = "Tarn 5 no. 15";
    let choose = |number: u32, upper: &str, lower: &str| {
        json!({"type": "choose-shells", "operation": "mains-measure", "clearance": "main-oil",
            "number": number, "upper": upper, "lower": lower})
    };
    for (what, field) in [
        (choose(7, "A", "A"), "number"),
        (choose(1, "A", "C"), "lower"),
        (choose(1, "X", "A"), "upper"),
        (with(choose(1, "A", "A"), "clearance", json!("thrust-play")), "clearance"),
    ] {
        let (status, problem) = server.give("bench-one", engine, what).await;
        assert_eq!(
            (status.as_u16(), problem["errors"][0]["field"].as_str()),
            (422, Some(field)),
            "{problem}"
        );
    }
    // The wide bearing takes thicker shells: C and C bring it in as far as they go.
    let (status, answer) = server.give("bench-one", engine, choose(2, "C", "C")).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    for (grade, count) in [("A", 0), ("B", 4), ("C", 6)] {
        let what = json!({"type": "count-shells", "operation": "mains-measure", "clearance": "main-oil",
            "grade": grade, "count": count});
        assert_eq!(server.give("bench-one", engine, what).await.0, StatusCode::OK);
    }
    let bench = server.bench(engine, "mains-measure").await;
    let view = &bench["work"]["clearances"][1];
    assert_eq!(view["stock"], json!([0, 4, 6]));
    assert_eq!(view["proposed"], Value::Null, "ten shells do not go round six bearings");
    let more = json!({"type": "count-shells", "operation": "mains-measure", "clearance": "main-oil",
        "grade": "B", "count": 8});
    server.give("bench-one", engine, more).await;
    let bench = server.bench(engine, "mains-measure").await;
    let views = bench["work"]["clearances"].as_array().expect("clearances");
    let grades = views.iter().flat_map(|view| [&view["proposed"]["upper"], &view["proposed"]["lower"]]);
    let used: Vec<&str> = grades.filter_map(Value::as_str).collect();
    assert_eq!(used.len(), 12);
    assert!(used.iter().filter(|grade| **grade == "C").count() <= 6 && !used.contains(&"A"), "{used:?}");
}

#[tokio::test]
async fn parts_and_counts_are_checked_field_by_field_and_stand_on_the_sheet() {
    let server = Server::start().await;
    let engine = "Tarn 5 no. 14";
    let fit =
        |slot: &str, part: Value| json!({"type": "fit", "operation": "take-in", "slot": slot, "part": part});
    for (what, field) in [
        (fit("block", json!({"reference": "", "condition": "new"})), "reference"),
        (fit("block", json!({"reference": "x".repeat(201), "condition": "new"})), "reference"),
        (fit("block", json!({"reference": "x", "condition": "new", "uses": 1})), "condition"),
        (fit("block", json!({"reference": "x", "condition": "shiny"})), "action"),
        (fit("block", json!({"reference": "x", "condition": "new", "colour": "red"})), "action.colour"),
        (fit("turbine", json!({"reference": "x", "condition": "new"})), "slot"),
        (json!({"type": "count", "operation": "hardware-out", "hardware": "shim", "count": 1}), "hardware"),
        (json!({"type": "count", "operation": "take-in", "hardware": "shim", "count": 1}), "operation"),
        (
            json!({"type": "count", "operation": "hardware-out", "hardware": "pin-lock", "count": 99_999}),
            "count",
        ),
        (
            json!({"type": "count", "operation": "hardware-out", "hardware": "pin-lock", "count": -1}),
            "action",
        ),
    ] {
        let (status, problem) = server.give("bench-one", engine, what.clone()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{what} {problem}");
        assert_eq!(problem["errors"][0]["field"], field, "{what} {problem}");
    }
    let block = json!({"reference": "Bare block", "serial": "B-7", "condition": "reworked", "uses": 1,
        "machining": "decked 0.05"});
    assert_eq!(server.give("bench-one", engine, fit("block", block)).await.0, StatusCode::OK);
    let count = json!({"type": "count", "operation": "hardware-out", "hardware": "pin-lock", "count": 9});
    assert_eq!(server.give("bench-two", engine, count).await.0, StatusCode::OK);

    let sheet = server.get(&format!("/api/builds/{}/sheet", demo::build_id(engine))).await;
    let section = |id: &str| {
        let sections = sheet["sections"].as_array().expect("sections").iter();
        sections.clone().find(|section| section["id"] == id).cloned().expect("the section")
    };
    assert_eq!(section("take-in")["parts"][0]["part"]["machining"], "decked 0.05");
    let counts = section("hardware-out")["counts"].clone();
    let line = counts.as_array().expect("counts").iter().find(|line| line["id"] == "pin-lock");
    assert_eq!(line.expect("pin locks")["difference"], "Pin locks: 9 of 10 there, 1 missing");
    assert_eq!(sheet["people"].as_array().map(Vec::len), Some(3));
    assert_eq!(sheet["identity"], "PT5-014");
}

#[tokio::test]
async fn a_gauge_that_does_not_fit_is_named_before_and_after() {
    let server = Server::start().await;
    let bench = server.bench("Tarn 5 no. 16", "mains-measure").await;
    let families = bench["work"]["tools"].as_array().expect("families");
    let housing = families.iter().find(|family| family["family"] == "main-housing").expect("housings");
    let tool = |id: &str| housing["tools"].as_array().expect("tools").iter().find(|t| t["id"] == id).cloned();
    assert_eq!(tool("burette").expect("a tool")["suits"], false, "it measures no length");
    assert_eq!(tool("bore-gauge").expect("a tool")["made_for"], true);
    let expired = tool("inside-50-75").expect("a tool");
    assert_eq!(expired["fault"], "Inside micrometer 50 to 75 is out of calibration");
    assert!(words(&tool("dial").expect("a tool")["fault"]).contains("outside the range"));

    let what = with(measure("main-housing-2", 1, "58.997"), "instrument", json!("inside-50-75"));
    assert_eq!(server.give("bench-one", "Tarn 5 no. 16", what).await.0, StatusCode::OK, "a fact is kept");
    let bench = server.bench("Tarn 5 no. 16", "mains-measure").await;
    let issue = &bench["issues"][0];
    assert_eq!(issue["text"], "Main housing 2: Inside micrometer 50 to 75 is out of calibration");
    let accept = |subject: &Value| json!({"type": "accept", "seq": issue["seq"], "subject": subject, "reason": "checked against a ring"});
    let (status, _) = server.give("bench-one", "Tarn 5 no. 16", accept(&issue["subject"])).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
    let (status, problem) = server.give("lead", "Tarn 5 no. 16", accept(&json!("main-oil/2"))).await;
    assert_eq!((status.as_u16(), problem["type"].as_str()), (409, Some("/problems/stale")));
    let (status, _) = server.give("lead", "Tarn 5 no. 16", accept(&issue["subject"])).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(server.bench("Tarn 5 no. 16", "mains-measure").await["issues"], json!([]));
}

#[tokio::test]
async fn a_plan_of_the_whole_bottom_end_is_checked_with_every_fault_in_its_line() {
    let server = Server::start().await;
    let source = demo::PLANS[0].1;
    let broken = source
        .replacen("series = [-15, -10, -5, 0, 5, 10, 15, 20]", "series = [0, 0]", 1)
        .replacen("per_bore = \"cylinder\"", "per_bore = \"rod-bolt\"", 1)
        .replacen("needs = [\"hardware-out\", \"long-turn\"]", "needs = [\"sign-off\"]", 1);
    let request = server.client.post(format!("{}/api/plans/check", server.base));
    let answer = request
        .header("cookie", "rigore=demonstration.lead")
        .body(broken.clone())
        .send()
        .await
        .expect("an answer");
    let checked: Value = answer.json().await.expect("JSON");
    assert_eq!(checked["usable"], false);
    let faults = checked["faults"].as_array().expect("faults");
    for (says, near) in [
        ("three rising crank angles", "series = [0, 0]"),
        ("`rod-bolt` has 10 sites and `top-ring` has 5", "id = \"top-gap\""),
        ("goes in a circle", "needs = [\"hardware-back\", \"tight-measure\", \"damper-measure\"]"),
    ] {
        let fault = faults.iter().find(|f| words(&f["message"]).contains(says));
        let line = fault.unwrap_or_else(|| panic!("{says}: {faults:?}"))["line"].as_u64().expect("a line");
        let there = 1 + broken.lines().position(|text| text.contains(near)).expect("the text") as u64;
        assert!(line.abs_diff(there) <= 12, "{says} at {line}, not near {there}");
    }
    let answer = server.get("/api/plans").await;
    let tarn = answer.as_array().expect("plans").iter().find(|plan| plan["id"] == "tarn-5").expect("Tarn 5");
    assert_eq!(tarn["uses"], json!(["street", "endurance", "boost"]));
}

#[tokio::test]
async fn an_engine_is_taken_in_with_who_owns_it_and_what_it_is() {
    let server = Server::start().await;
    let plans = server.get("/api/plans").await;
    let hash =
        plans.as_array().expect("plans").iter().find(|p| p["id"] == "ostra-11").expect("a plan")["hash"]
            .clone();
    let body = |use_for: &str, owner: &str| {
        json!({"id": Uuid::now_v7(), "name": "Ostra 11 no. 4", "plan": hash, "use": use_for, "owner": owner,
            "identity": " O11-004 "})
    };
    let (status, problem) = server.post("/api/builds", &body("boost", "Slip hall museum")).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("use")));
    let (status, problem) = server.post("/api/builds", &body("vintage", &"x".repeat(121))).await;
    assert_eq!((status.as_u16(), problem["errors"][0]["field"].as_str()), (422, Some("owner")));
    let (status, answer) = server.post("/api/builds", &body("vintage", "")).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    let build = server.get(&format!("/api/builds/{}", answer["build"].as_str().expect("an id"))).await;
    assert_eq!(
        (&build["identity"], &build["owner"], &build["use_for"]),
        (&json!("O11-004"), &Value::Null, &json!("vintage"))
    );
    assert_eq!(build["status"], "taken-in");
    let command =
        json!({"id": Uuid::now_v7(), "seen": SEEN, "action": {"type": "start", "operation": "crank-in"}});
    let path = format!("/api/builds/{}/commands", answer["build"].as_str().expect("an id"));
    let (status, problem) = server.post(&path, &command).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert_eq!(problem["detail"], "Fit the crankshaft waits for Swing the rods");
}

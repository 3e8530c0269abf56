//! The clamp load of a bolt by three ways, and practice.

use crate::harness::Server;
use serde_json::{Value, json};

async fn plan(server: &Server, id: &str) -> String {
    let plans = server.get("/api/plans").await;
    let plan = plans.as_array().and_then(|plans| plans.iter().find(|plan| plan["id"] == id)).cloned();
    plan.expect("the plan")["hash"].as_str().expect("a hash").to_owned()
}

fn width(load: &Value, way: &str) -> f64 {
    let way =
        load["ways"].as_array().and_then(|ways| ways.iter().find(|of| of["way"] == way)).expect("the way");
    let within = [0, 1].map(|end| way["within_kn"][end].as_f64().expect("a load"));
    within[1] / within[0]
}

#[tokio::test]
async fn the_same_bolt_scatters_most_by_torque_and_least_by_stretch_and_follows_what_is_supposed() {
    let server = Server::start().await;
    for (id, wanted) in [("tarn-5", 31.03), ("tarn-5-angle", 31.03)] {
        let path = format!("/api/plans/{}/clamp-load/rod-bolt", plan(&server, id).await);
        let load = server.get(&path).await;
        assert!((load["wanted_kn"].as_f64().unwrap() - wanted).abs() < 0.02, "{}", load["wanted_kn"]);
        let [torque, angle, stretch] = ["torque", "angle", "stretch"].map(|way| width(&load, way));
        assert!(torque > angle && angle > stretch, "{torque} {angle} {stretch}");
        let poor = server.get(&format!("{path}?mu=0.08&spread=0.5")).await;
        assert!(width(&poor, "torque") > 1.2 * torque && (width(&poor, "stretch") - stretch).abs() < 1e-9);
        // With the friction that the shop has measured, a torque is worth more.
        let measured = server.get(&format!("{path}?measured=true")).await;
        assert!(
            measured["source"].as_str().is_some_and(|source| source.starts_with("measured by this shop on "))
        );
        assert!(width(&measured, "torque") < torque);
    }
    let path = format!("/api/plans/{}/clamp-load/", plan(&server, "tarn-5").await);
    for (wrong, status) in
        [("rod-bolt?mu=7", 422), ("rod-bolt?spread=x", 422), ("rod-bolt?gauge_mm=-1", 422), ("nail", 404)]
    {
        let answer =
            server.client.get(format!("{}{path}{wrong}", server.base)).send().await.expect("an answer");
        assert_eq!(answer.status().as_u16(), status, "{wrong}");
    }
}

#[tokio::test]
async fn practice_goes_the_same_way_again_and_tells_what_was_hidden_at_its_end() {
    let server = Server::start().await;
    let play = async |moves: Value| server.post("/api/practice", &json!({"game": 12, "moves": moves})).await;
    let (_, begun) = play(json!([])).await;
    assert_eq!((&begun["pulls"], &begun["mu"], &begun["advised"]), (&json!(0), &Value::Null, &Value::Null));
    let (mut moves, mut game) = (Vec::new(), begun);
    while game["points"].is_null() {
        assert!(moves.len() < 30, "{game}");
        let over =
            game["read_mm"].as_array().and_then(|read| read.last()?.as_f64()).is_some_and(|mm| mm > 0.155);
        if over && moves.last().is_some_and(|last| *last > 0.0) {
            moves.push(0.0);
        }
        moves.push(game["climb"]["next_nm"].as_f64().expect("a torque"));
        game = play(json!(moves)).await.1;
    }
    assert_eq!((&game["inside"], &game["past"]), (&json!(true), &json!(false)), "{game}");
    assert!(
        game["mu"].as_f64().is_some_and(|mu| (0.06..=0.20).contains(&mu))
            && game["points"].as_u64() >= Some(85)
    );
    assert_eq!(play(json!(moves)).await.1, game);
    for wrong in [json!([-3]), json!([1e9]), json!(vec![1.0; 61]), json!("x")] {
        let (status, problem) = play(wrong).await;
        assert_eq!(
            (status.as_u16(), problem["errors"][0]["field"].as_str()),
            (422, Some("moves")),
            "{problem}"
        );
    }
}

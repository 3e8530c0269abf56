//! Who may do what, and how a shop knows who somebody is.

use crate::harness::{Server, app, serving};
use reqwest::header::{COOKIE, ORIGIN, SET_COOKIE};
use reqwest::{Client, Method, StatusCode};
use rigore_server::{Settings, openapi};
use rigore_store::{Scratch, Store};
use serde_json::{Value, json};
use std::collections::BTreeMap;
use std::sync::Mutex;
use uuid::Uuid;

const CODE: &str = "4821-7730";

/// A browser: what cookies it was given.
pub struct Browser {
    base: String,
    client: Client,
    cookies: Mutex<BTreeMap<String, String>>,
}

impl Browser {
    pub fn at(base: &str) -> Self {
        Self { base: base.to_owned(), client: Client::new(), cookies: Mutex::default() }
    }

    /// The same browser, at another server.
    fn moved(&self, base: &str) -> Self {
        let cookies = Mutex::new(self.cookies.lock().expect("it is there").clone());
        Self { base: base.to_owned(), client: Client::new(), cookies }
    }

    pub async fn ask(&self, method: Method, path: &str, body: Option<Value>) -> (StatusCode, Value) {
        let cookies: Vec<String> = self
            .cookies
            .lock()
            .expect("it is there")
            .iter()
            .map(|(name, value)| format!("{name}={value}"))
            .collect();
        let mut request =
            self.client.request(method, format!("{}{path}", self.base)).header(COOKIE, cookies.join("; "));
        if let Some(body) = body {
            request = request.json(&body);
        }
        let answer = request.send().await.expect("an answer");
        for cookie in answer.headers().get_all(SET_COOKIE) {
            let cookie = cookie.to_str().expect("it is there");
            assert!(cookie.contains("HttpOnly") && cookie.contains("SameSite=Strict"), "{cookie}");
            let (name, value) =
                cookie.split(';').next().expect("it is there").split_once('=').expect("it is there");
            self.cookies.lock().expect("it is there").insert(name.to_owned(), value.to_owned());
        }
        let status = answer.status();
        (status, answer.json().await.unwrap_or(Value::Null))
    }

    async fn get(&self, path: &str) -> (StatusCode, Value) {
        self.ask(Method::GET, path, None).await
    }

    async fn post(&self, path: &str, body: Value) -> (StatusCode, Value) {
        self.ask(Method::POST, path, Some(body)).await
    }

    pub async fn sign_in(&self, name: &str, password: &str) -> StatusCode {
        self.post("/api/session", json!({ "name": name, "password": password })).await.0
    }
}

/// An empty shop's server.
async fn empty(url: &str) -> String {
    let settings = Settings { code: Some(CODE.to_owned()), ..Settings::default() };
    serving(app(url, settings).await, None).await
}

fn first_run(code: &str) -> Value {
    json!({ "code": code, "shop": "Quay Four", "zone": "Europe/Oslo", "torque_unit": "lbf·ft", "length_unit": "in",
        "name": "Åse Ødegård", "password": "correct horse" })
}

/// A shop with its first lead signed in.
pub async fn founded() -> (Scratch, String, Browser) {
    let scratch = Scratch::new().await.expect("a database");
    let base = empty(&scratch.url).await;
    let lead = Browser::at(&base);
    let (status, answer) = lead.post("/api/first-run", first_run("48217730")).await;
    assert_eq!(status, StatusCode::OK, "{answer}");
    (scratch, base, lead)
}

pub async fn add(lead: &Browser, name: &str, role: &str) -> String {
    let (status, people) =
        lead.post("/api/people", json!({ "name": name, "role": role, "password": "first password" })).await;
    assert_eq!(status, StatusCode::OK, "{people}");
    people.as_array().expect("it is there").last().expect("it is there")["id"]
        .as_str()
        .expect("it is there")
        .to_owned()
}

#[tokio::test]
async fn an_empty_shop_is_founded_once_by_who_has_the_code() {
    let scratch = Scratch::new().await.expect("a database");
    let base = empty(&scratch.url).await;
    let browser = Browser::at(&base);
    let (_, view) = browser.get("/api/session").await;
    assert_eq!(
        (&view["first_run"], &view["shop"], &view["person"]),
        (&json!(true), &Value::Null, &Value::Null)
    );
    let (status, answer) = browser.post("/api/first-run", first_run("0000-0000")).await;
    assert_eq!((status.as_u16(), &answer["errors"][0]["field"]), (422, &json!("code")));
    for (field, wrong) in
        [("shop", " "), ("zone", "no zone!"), ("torque_unit", "mm"), ("name", ""), ("password", "short")]
    {
        let mut body = first_run(CODE);
        body[field] = json!(wrong);
        let (status, answer) = browser.post("/api/first-run", body).await;
        assert_eq!((status.as_u16(), &answer["errors"][0]["field"]), (422, &json!(field)), "{answer}");
    }
    let (status, view) = browser.post("/api/first-run", first_run(CODE)).await;
    assert_eq!(
        (status.as_u16(), &view["shop"], &view["torque_unit"]),
        (200, &json!("Quay Four"), &json!("lbf·ft"))
    );
    let (status, _) = Browser::at(&base).post("/api/first-run", first_run(CODE)).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert_eq!(browser.get("/api/shop").await.0, StatusCode::OK);
}

#[tokio::test]
async fn people_sign_in_are_known_everywhere_and_are_out_at_once() {
    let (scratch, base, lead) = founded().await;
    let second = empty(&scratch.url).await;
    let bench = add(&lead, "Two of a name", "bench").await;
    // Nobody can be taken for somebody else: case, spaces and letters of another writing are no difference to the eye.
    for same in ["Two of a name", "two  OF a name", "Two оf a nаme"] {
        let body = json!({ "name": same, "role": "viewer", "password": "first password" });
        let (status, answer) = lead.post("/api/people", body).await;
        assert_eq!((status.as_u16(), &answer["errors"][0]["field"]), (422, &json!("name")), "{answer}");
    }
    let other = add(&lead, "Two of a name (evenings)", "viewer").await;
    let rename = lead
        .ask(Method::PUT, &format!("/api/people/{other}"), Some(json!({ "name": "Two of a name" })))
        .await;
    assert_eq!(rename.0, StatusCode::UNPROCESSABLE_ENTITY);
    let phone = Browser::at(&base);
    assert_eq!(phone.sign_in("two OF a name ", "wrong").await, StatusCode::UNAUTHORIZED);
    assert_eq!(phone.sign_in("nobody", "first password").await, StatusCode::UNAUTHORIZED);
    assert_eq!(phone.sign_in("two OF a name ", "first password").await, StatusCode::OK);
    // The same session at another server of the shop.
    let there = phone.moved(&second);
    let (_, view) = there.get("/api/session").await;
    assert_eq!(view["person"]["name"], json!("Two of a name"));
    assert_eq!(there.get("/api/shop").await.0, StatusCode::OK);
    // Who works here no more is out, at both.
    let (status, _) =
        lead.ask(Method::PUT, &format!("/api/people/{bench}"), Some(json!({ "active": false }))).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(phone.get("/api/shop").await.0, StatusCode::UNAUTHORIZED);
    let start = std::time::Instant::now();
    while there.get("/api/shop").await.0 != StatusCode::UNAUTHORIZED {
        assert!(start.elapsed().as_secs() < 5, "the other server was told");
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    // Signing out ends one, everywhere ends all.
    let (one, two) = (Browser::at(&base), Browser::at(&base));
    for browser in [&one, &two] {
        assert_eq!(browser.sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK);
    }
    assert_eq!(one.ask(Method::DELETE, "/api/session", None).await.0, StatusCode::NO_CONTENT);
    assert_eq!((one.get("/api/shop").await.0.as_u16(), two.get("/api/shop").await.0.as_u16()), (401, 200));
    assert_eq!(two.ask(Method::DELETE, "/api/session/everywhere", None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(lead.get("/api/shop").await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test]
async fn the_last_lead_stays_and_what_leads_do_is_written_down() {
    let (_scratch, base, lead) = founded().await;
    let first = "se-deg-rd";
    for change in [json!({ "role": "bench" }), json!({ "active": false })] {
        let (status, answer) = lead.ask(Method::PUT, &format!("/api/people/{first}"), Some(change)).await;
        assert_eq!(status, StatusCode::CONFLICT, "{answer}");
    }
    let second = add(&lead, "مهندس", "lead").await;
    let (status, _) =
        lead.ask(Method::PUT, &format!("/api/people/{first}"), Some(json!({ "role": "bench" }))).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(lead.get("/api/people").await.0, StatusCode::FORBIDDEN, "a bench person from now on");
    let other = Browser::at(&base);
    assert_eq!(other.sign_in("مهندس", "first password").await, StatusCode::OK);
    let own = json!({ "current": "first password", "password": "my own words" });
    assert_eq!(other.ask(Method::PUT, "/api/session/secrets", Some(own)).await.0, StatusCode::OK);
    let (_, doings) = other.get("/api/doings").await;
    let told: Vec<&str> = doings
        .as_array()
        .expect("it is there")
        .iter()
        .map(|of| of["what"].as_str().expect("it is there"))
        .collect();
    assert_eq!(
        told,
        [
            "مهندس has another password",
            "Åse Ødegård is bench from now on, and was lead",
            "added مهندس as lead",
            "created the shop Quay Four"
        ]
    );
    let long = "é".repeat(201);
    for (field, body) in [
        ("name", json!({ "name": long, "role": "bench", "password": "long enough" })),
        ("name", json!({ "name": "a\u{7}b", "role": "bench", "password": "long enough" })),
        ("name", json!({ "name": "\u{202e}enil", "role": "bench", "password": "long enough" })),
        ("role", json!({ "name": "x", "role": "owner", "password": "long enough" })),
        ("password", json!({ "name": "x", "role": "bench", "password": "short" })),
    ] {
        let (status, answer) = other.post("/api/people", body).await;
        assert_eq!((status.as_u16(), &answer["errors"][0]["field"]), (422, &json!(field)), "{answer}");
    }
    add(&other, &"é".repeat(200), "viewer").await;
    assert_eq!(
        other.ask(Method::PUT, &format!("/api/people/{second}x"), Some(json!({}))).await.0,
        StatusCode::NOT_FOUND
    );
}

#[tokio::test]
async fn at_an_enrolled_bench_a_tap_and_a_pin_change_the_person() {
    let (_scratch, base, lead) = founded().await;
    let bench = add(&lead, "Bench one", "bench").await;
    let set = |person: String, pin: &'static str| {
        let (lead, path) = (&lead, format!("/api/people/{person}"));
        async move { lead.ask(Method::PUT, &path, Some(json!({ "pin": pin }))).await }
    };
    assert_eq!(set(bench.clone(), "1234").await.1["errors"][0]["field"], json!("pin"));
    assert_eq!(set(bench.clone(), "2580").await.0, StatusCode::OK);
    let tap = |browser: &Browser, pin: &str| {
        let body = json!({ "person": bench, "pin": pin });
        let browser = browser.moved(&base);
        async move { browser.post("/api/session/pin", body).await }
    };
    // Anywhere else a PIN is nothing.
    assert_eq!(tap(&Browser::at(&base), "2580").await.0, StatusCode::FORBIDDEN);
    assert_eq!(lead.post("/api/benches", json!({ "name": "The stand" })).await.0, StatusCode::NO_CONTENT);
    let (_, view) = lead.get("/api/session").await;
    assert_eq!(
        (&view["bench"], view["people"].as_array().expect("it is there").len()),
        (&json!("The stand"), 1)
    );
    let tablet = lead.moved(&base);
    let (status, view) = tablet.post("/api/session/pin", json!({ "person": bench, "pin": "2580" })).await;
    assert_eq!((status.as_u16(), &view["person"]["id"]), (200, &json!(bench)));
    assert_eq!(tablet.get("/api/people").await.0, StatusCode::FORBIDDEN);
    // Five wrong ones, and only the password is good; after it the PIN is again.
    for _ in 0..5 {
        assert_eq!(tap(&tablet, "9999").await.0, StatusCode::UNAUTHORIZED);
    }
    let (status, answer) = tap(&tablet, "2580").await;
    assert_eq!(status, StatusCode::UNAUTHORIZED);
    assert!(answer["detail"].as_str().expect("it is there").contains("password"), "{answer}");
    assert_eq!(tablet.sign_in("Bench one", "first password").await, StatusCode::OK);
    assert_eq!(tap(&tablet, "2580").await.0, StatusCode::OK);
    // A bench that is none any more has nobody at it.
    let tapped = lead.moved(&base);
    assert_eq!(
        tapped.post("/api/session/pin", json!({ "person": bench, "pin": "2580" })).await.0,
        StatusCode::OK
    );
    assert_eq!(lead.sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK);
    let (_, benches) = lead.get("/api/benches").await;
    let id = benches[0]["id"].as_str().expect("it is there");
    assert_eq!(lead.ask(Method::DELETE, &format!("/api/benches/{id}"), None).await.0, StatusCode::NO_CONTENT);
    assert_eq!(tapped.get("/api/shop").await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(tap(&tablet, "2580").await.0, StatusCode::FORBIDDEN);
}

#[tokio::test]
async fn guesses_are_slowed_where_they_are_made_and_lock_nobody_out() {
    let (_scratch, base, lead) = founded().await;
    add(&lead, "Bench one", "bench").await;
    let guesser = Browser::at(&base);
    for _ in 0..5 {
        assert_eq!(guesser.sign_in("bench one", "guess").await, StatusCode::UNAUTHORIZED);
    }
    assert_eq!(guesser.sign_in("bench one", "guess").await, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(
        guesser.sign_in("bench one", "first password").await,
        StatusCode::TOO_MANY_REQUESTS,
        "nor a right one"
    );
    // Somebody else comes in meanwhile, and whoever is in works on.
    assert_eq!(Browser::at(&base).sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK);
    assert_eq!(lead.get("/api/shop").await.0, StatusCode::OK);
    tokio::time::sleep(std::time::Duration::from_millis(2200)).await;
    assert_eq!(guesser.sign_in("bench one", "first password").await, StatusCode::OK, "a wait, no lock");
}

#[tokio::test]
async fn no_other_site_changes_anything_and_no_page_of_another_person_records() {
    let (_scratch, base, lead) = founded().await;
    let cookies = format!("rigore={}", lead.cookies.lock().expect("it is there")["rigore"]);
    let body = json!({ "name": "Quay", "role": "bench", "password": "long enough" });
    let request = |name: &str, value: &str| {
        let request = Client::new().post(format!("{base}/api/people")).header(COOKIE, &cookies).json(&body);
        let request = request.header(name, value).send();
        async move { request.await.expect("an answer") }
    };
    assert_eq!(request(ORIGIN.as_str(), "http://elsewhere.example").await.status(), StatusCode::FORBIDDEN);
    assert_eq!(request("sec-fetch-site", "cross-site").await.status(), StatusCode::FORBIDDEN);
    let other: Value = request("x-rigore-as", "somebody-else").await.json().await.expect("JSON");
    assert_eq!(other["type"], json!("/problems/somebody-else"));
    let own = request(ORIGIN.as_str(), &base).await;
    assert_eq!(own.status(), StatusCode::OK);
    let policy = own.headers()["content-security-policy"].to_str().expect("text").to_owned();
    assert!(policy.contains("script-src 'self';") && policy.contains("frame-ancestors 'none'"), "{policy}");
    // The door of the demonstration is not here, by its route or by its cookie.
    let door = Browser::at(&base);
    assert_eq!(
        door.post("/api/session/enter", json!({ "person": "se-deg-rd" })).await.0,
        StatusCode::NOT_FOUND
    );
    door.cookies
        .lock()
        .expect("it is there")
        .insert("rigore".to_owned(), "demonstration.se-deg-rd".to_owned());
    assert_eq!(door.get("/api/shop").await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test]
async fn a_signature_asks_for_its_signer() {
    let server = Server::start().await;
    let scratch_url = server.database();
    let base = empty(&scratch_url).await;
    let store = Store::connect(&scratch_url, 2).await.expect("a store");
    let hash = rigore_server::secrets::password("password", "correct horse").await.expect("a hash");
    let lead =
        store.members().await.expect("people").into_iter().find(|of| of.person.id == "lead").expect("a lead");
    let change = rigore_store::MemberChange { password: Some(hash), ..Default::default() };
    store.change_member(&lead.person, "lead", &change).await.expect("a password");
    let lead = Browser::at(&base);
    assert_eq!(lead.sign_in("Lead", "correct horse").await, StatusCode::OK);
    let build = rigore_server::demo::build_id("Tarn 5 no. 13");
    let sign = || json!({ "id": Uuid::now_v7(), "seen": 1_u64 << 40, "action": { "type": "sign", "operation": "sign-off" } });
    let path = format!("/api/builds/{build}/commands");
    // Who has just signed in has just proved it; later it is asked for again.
    assert_eq!(lead.post(&path, sign()).await.1["type"], json!("/problems/not-yet"));
    store.age_sessions(time::Duration::minutes(3)).await.expect("later");
    // The server hears of it from the other handle on its database.
    let start = std::time::Instant::now();
    while lead.post(&path, sign()).await.1["type"] != json!("/problems/confirm") {
        assert!(start.elapsed().as_secs() < 5, "the server was told");
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    let wrong = lead.post("/api/session/confirm", json!({ "secret": "guess" })).await;
    assert_eq!(wrong.1["type"], json!("/problems/secret"));
    assert_eq!(
        lead.post("/api/session/confirm", json!({ "secret": "correct horse" })).await.0,
        StatusCode::NO_CONTENT
    );
    assert_eq!(lead.post(&path, sign()).await.1["type"], json!("/problems/not-yet"));
    // Everything else is recorded without.
    store.age_sessions(time::Duration::minutes(3)).await.expect("later");
    let void = json!({ "id": Uuid::now_v7(), "seen": 1_u64 << 40, "action": { "type": "void", "seq": 999_999, "reason": "x" } });
    assert_ne!(lead.post(&path, void).await.1["type"], json!("/problems/confirm"));
}

/// Nobody, a viewer, a builder, and a lead who was deactivated.
pub async fn one_of_each(lead: &Browser, base: &str) -> Vec<(&'static str, Browser)> {
    let mut browsers = vec![("nobody", Browser::at(base))];
    for role in ["viewer", "bench"] {
        add(lead, role, role).await;
        let browser = Browser::at(base);
        assert_eq!(browser.sign_in(role, "first password").await, StatusCode::OK);
        browsers.push((role, browser));
    }
    let gone = add(lead, "gone", "lead").await;
    let browser = Browser::at(base);
    assert_eq!(browser.sign_in("gone", "first password").await, StatusCode::OK);
    lead.ask(Method::PUT, &format!("/api/people/{gone}"), Some(json!({ "active": false }))).await;
    browsers.push(("gone", browser));
    browsers
}

/// What each role is answered on every route: nobody without a session, no lead's route to anybody else, and nothing
/// that changes anything to a viewer.
#[tokio::test]
async fn every_route_is_closed_to_whom_it_is_not_for() {
    let (_scratch, base, lead) = founded().await;
    let browsers = one_of_each(&lead, &base).await;
    let open = [
        "/api/session",
        "/api/session/enter",
        "/api/session/pin",
        "/api/first-run",
        "/api/units",
        "/healthz",
    ];
    // Reckoning, trying and one's own session change nothing of the shop.
    let harmless = [
        "/api/calc/",
        "/api/practice",
        "/api/plans/check",
        "/api/plans/compare",
        "/api/plans/shape",
        "/api/clamp-load",
        "/api/session/",
    ];
    let for_leads = [
        "/api/people",
        "/api/benches",
        "/api/doings",
        "/api/shares",
        "/api/shop-faults",
        "/api/builds/{build}/shares",
    ];
    let document = serde_json::to_value(openapi()).expect("JSON");
    let mut looked = 0;
    for (path, methods) in document["paths"].as_object().expect("paths") {
        if open.contains(&path.as_str()) || path.ends_with("/events") || path.starts_with("/api/shared/") {
            continue;
        }
        let filled = path.replace("{build}", &Uuid::nil().to_string());
        let filled = filled.split('/').map(|part| if part.starts_with('{') { "x" } else { part });
        let filled = filled.collect::<Vec<_>>().join("/");
        for method in methods.as_object().expect("methods").keys() {
            looked += 1;
            let method: Method = method.to_uppercase().parse().expect("a method");
            for (role, browser) in &browsers {
                let body = (method != Method::GET).then(|| json!({}));
                if *role != "gone" && *role != "nobody" && path.contains("/session/") {
                    continue;
                }
                let (status, answer) = browser.ask(method.clone(), &filled, body).await;
                let told = format!("{role} {method} {path}: {status} {answer}");
                let looks = method == Method::GET || path.ends_with("/table");
                let is_harmless = looks || harmless.iter().any(|of| path.starts_with(of));
                match *role {
                    "nobody" | "gone" => assert_eq!(status, StatusCode::UNAUTHORIZED, "{told}"),
                    _ if for_leads.iter().any(|of| path.starts_with(of)) => {
                        assert_eq!(status, StatusCode::FORBIDDEN, "{told}");
                    }
                    "viewer" if !is_harmless => {
                        assert!(!status.is_success() && status != StatusCode::UNAUTHORIZED, "{told}");
                    }
                    _ => assert!(status != StatusCode::UNAUTHORIZED && status.as_u16() < 500, "{told}"),
                }
            }
        }
    }
    assert!(looked > 45, "{looked}");
}

#[tokio::test]
async fn a_shared_sheet_is_read_by_its_link_until_it_is_taken_back_and_shows_nothing_else() {
    let server = Server::start().await;
    let build = rigore_server::demo::build_id("Tarn 5 no. 18");
    let path = format!("/api/builds/{build}/shares");
    let (status, refused) = server.post_as("bench-one", &path, &json!({ "days": 30 })).await;
    assert_eq!(status, StatusCode::FORBIDDEN, "{refused}");
    for days in [0, 3651] {
        let (status, wrong) = server.post(&path, &json!({ "days": days })).await;
        assert_eq!((status.as_u16(), &wrong["errors"][0]["field"]), (422, &json!("days")));
    }
    let (status, share) = server.post(&path, &json!({ "days": 30 })).await;
    assert_eq!(status, StatusCode::OK, "{share}");
    // Its address is told this once: what is kept opens nothing, and who only records does not see it.
    let all = crate::harness::client("lead")
        .get(format!("{}/api/shares", server.base))
        .send()
        .await
        .expect("an answer");
    let all: Value = all.json().await.expect("JSON");
    assert_eq!(
        (&all[0]["id"], &all[0]["engine"], &all[0]["by_active"]),
        (&share["id"], &json!("Tarn 5 no. 18"), &json!(true))
    );
    let token = share["path"].as_str().expect("a path").rsplit('/').next().expect("a token").to_owned();
    let pool = sqlx::PgPool::connect(&server.database()).await.expect("a connection");
    let kept: String = sqlx::query_scalar("SELECT token FROM shares").fetch_one(&pool).await.expect("a link");
    assert!(kept != token && !all.to_string().contains(&token), "only a hash is kept");
    let by_what_is_kept = Browser::at(&server.base).get(&format!("/api/shared/{kept}")).await.0;
    assert_eq!(by_what_is_kept, StatusCode::NOT_FOUND);
    let looked = server.client.get(format!("{}{path}", server.base)).send().await.expect("an answer");
    assert_eq!(looked.status(), StatusCode::FORBIDDEN);
    let address = format!("/api{}", share["path"].as_str().expect("a path"));
    let stranger = Browser::at(&server.base);
    let (status, shared) = stranger.get(&address).await;
    assert_eq!(status, StatusCode::OK);
    let own = server.get(&format!("/api/builds/{build}/sheet")).await;
    assert_eq!(shared["sheet"], own);
    assert_eq!(own["last_hash"].as_str().map(str::len), Some(64));
    let code =
        Client::new().get(format!("{}{address}/code.svg", server.base)).send().await.expect("an answer");
    assert_eq!(code.headers()["content-type"], "image/svg+xml");
    assert!(code.text().await.expect("text").contains("<svg"));
    // A hash that is printed is known as of its entry, and that of another engine is not.
    let printed = own["last_hash"].as_str().expect("a hash");
    let (_, found) = stranger.get(&format!("{address}/hashes/{printed}")).await;
    assert_eq!((&found["seq"], &found["entries"]), (&own["entries"], &own["entries"]), "{found}");
    let other = rigore_server::demo::build_id("Tarn 5 no. 13");
    let other = server.get(&format!("/api/builds/{other}/sheet")).await["last_hash"].clone();
    let other = format!("{address}/hashes/{}", other.as_str().expect("a hash"));
    assert_eq!(stranger.get(&other).await.0, StatusCode::NOT_FOUND);
    // Pictures of this sheet only, and no other route.
    assert_eq!(
        stranger.get(&format!("{address}/pictures/{}", "0".repeat(64))).await.0,
        StatusCode::NOT_FOUND
    );
    assert_eq!(stranger.get(&format!("/api/builds/{build}/sheet")).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(stranger.get("/api/shared/0123").await.0, StatusCode::NOT_FOUND);
    let id = share["id"].as_str().expect("an id");
    let lead = crate::harness::client("lead");
    let end = lead.delete(format!("{}/api/shares/{id}", server.base)).send().await.expect("an answer");
    assert_eq!(end.status(), StatusCode::NO_CONTENT);
    assert_eq!(stranger.get(&address).await.0, StatusCode::NOT_FOUND);
    let left = lead.get(format!("{}{path}", server.base)).send().await.expect("an answer");
    assert_eq!(left.json::<Value>().await.expect("JSON"), json!([]));
}

#[tokio::test]
async fn a_session_ends_with_its_use_not_with_its_page_and_a_stream_with_its_session() {
    use futures::StreamExt;
    let (scratch, base, lead) = founded().await;
    let store = Store::connect(&scratch.url, 2).await.expect("a store");
    let phone = Browser::at(&base);
    assert_eq!(phone.sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK);
    let before = phone.moved(&base);
    assert_eq!(phone.sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK);
    assert_eq!(before.get("/api/shop").await.0, StatusCode::UNAUTHORIZED, "the one before ended");
    // Looking alone does not keep it: after eleven hours it is good, after two more without anything done it is not.
    store.age_sessions(time::Duration::hours(11)).await.expect("later");
    assert_eq!(phone.get("/api/shop").await.0, StatusCode::OK);
    store.age_sessions(time::Duration::hours(2)).await.expect("later");
    let start = std::time::Instant::now();
    while phone.get("/api/shop").await.0 != StatusCode::UNAUTHORIZED {
        assert!(start.elapsed().as_secs() < 5, "it ended");
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    assert_eq!(lead.get("/api/shop").await.0, StatusCode::UNAUTHORIZED);
    // A PIN does not make a password.
    assert_eq!(phone.sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK);
    let put = async |body: Value| phone.ask(Method::PUT, "/api/session/secrets", Some(body)).await.0;
    assert_eq!(put(json!({ "current": "correct horse", "pin": "2580" })).await, StatusCode::OK);
    assert_eq!(
        put(json!({ "current": "2580", "password": "another horse" })).await,
        StatusCode::UNAUTHORIZED
    );
    assert_eq!(put(json!({ "current": "2580", "pin": "2581" })).await, StatusCode::OK);
    // A stream of a bench ends once its person is signed out.
    let source = include_str!("../../../core/plan/tests/small-plan.toml");
    let id = Uuid::now_v7();
    assert_eq!(phone.post("/api/drafts", json!({ "id": id, "source": source })).await.0, StatusCode::OK);
    let (_, kept) = phone.post(&format!("/api/drafts/{id}/keep"), json!({ "seen": 1 })).await;
    let build = Uuid::now_v7();
    let begin = json!({ "id": build, "name": "Small", "plan": kept["hash"] });
    assert_eq!(phone.post("/api/builds", begin).await.0, StatusCode::OK, "{kept}");
    let cookie = format!("rigore={}", phone.cookies.lock().expect("cookies")["rigore"]);
    let events = format!("{base}/api/builds/{build}/events");
    let answer = Client::new().get(events).header(COOKIE, cookie).send().await.expect("an answer");
    let mut stream = answer.bytes_stream();
    assert!(stream.next().await.is_some(), "it began");
    assert_eq!(phone.ask(Method::DELETE, "/api/session/everywhere", None).await.0, StatusCode::NO_CONTENT);
    let ended = async { while stream.next().await.is_some() {} };
    tokio::time::timeout(std::time::Duration::from_secs(4), ended).await.expect("it ended");
}

const SECURITY: &str = include_str!("../../../../docs/security.md");

/// The rows of the table of routes that change who may do what: method, route, who, proof.
fn security_table() -> Vec<[&'static str; 4]> {
    let rows = SECURITY
        .lines()
        .filter(|line| ["| POST |", "| PUT |", "| DELETE |"].iter().any(|of| line.starts_with(of)));
    let cells = rows.map(|row| {
        let cells: Vec<&str> = row.trim_matches('|').split('|').map(str::trim).collect();
        <[&str; 4]>::try_from(cells).expect("four cells")
    });
    cells.collect()
}

#[test]
fn every_route_that_changes_who_may_do_what_is_in_the_table() {
    let document = serde_json::to_value(openapi()).expect("JSON");
    let table = security_table();
    assert!(table.len() > 15, "{table:?}");
    for [method, route, ..] in &table {
        assert!(document["paths"][route].get(method.to_lowercase()).is_some(), "{method} {route} is a route");
    }
    let about_access = ["/api/session", "/api/people", "/api/benches", "/api/first-run", "/share", "/feed"];
    for (route, methods) in document["paths"].as_object().expect("paths") {
        if !about_access.iter().any(|of| route.contains(of)) || route.starts_with("/api/shared/") {
            continue;
        }
        for method in methods.as_object().expect("methods").keys().filter(|method| *method != "get") {
            let has = table.iter().any(|[of, at, ..]| of.to_lowercase() == *method && *at == route.as_str());
            assert!(has, "{method} {route} is in the table of docs/security.md");
        }
    }
}

/// The rows that ask for a confirmed lead, with a body that would do it.
fn changes(person: &str, bench: &str) -> Vec<(Method, String, Option<Value>)> {
    let confirmed =
        security_table().into_iter().filter(|[_, _, who, proof]| (*who, *proof) == ("lead", "confirmed"));
    let filled = confirmed.map(|[method, route, ..]| {
        let path = route.replace("{person}", person).replace("{bench}", bench);
        let path =
            path.replace("{build}", &Uuid::nil().to_string()).replace("{share}", &Uuid::nil().to_string());
        let body = match (method, route) {
            ("POST", "/api/people") => {
                Some(json!({ "name": "Quay", "role": "lead", "password": "long enough" }))
            }
            ("PUT", "/api/people/{person}") => Some(json!({ "pin": "2580", "role": "lead" })),
            ("POST", "/api/benches") => Some(json!({ "name": "The stand" })),
            ("POST", "/api/builds/{build}/shares") => Some(json!({ "days": 5 })),
            _ => None,
        };
        (method.parse().expect("a method"), path, body)
    });
    filled.collect()
}

#[tokio::test]
async fn an_open_page_of_a_lead_changes_nobody_and_signs_as_nobody_else() {
    let (scratch, base, lead) = founded().await;
    let store = Store::connect(&scratch.url, 2).await.expect("a store");
    let person = add(&lead, "Bench one", "bench").await;
    assert_eq!(lead.post("/api/benches", json!({ "name": "The stand" })).await.0, StatusCode::NO_CONTENT);
    let (_, benches) = lead.get("/api/benches").await;
    let bench = benches[0]["id"].as_str().expect("an id").to_owned();
    store.age_sessions(time::Duration::minutes(3)).await.expect("later");
    let start = std::time::Instant::now();
    while lead.post("/api/day/feed", json!({})).await.1["type"] != json!("/problems/confirm") {
        assert!(start.elapsed().as_secs() < 5, "the server was told");
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    let changes = changes(&person, &bench);
    assert_eq!(changes.len(), 8);
    for (method, path, body) in changes {
        let (status, answer) = lead.ask(method.clone(), &path, body).await;
        assert_eq!((status.as_u16(), &answer["type"]), (403, &json!("/problems/confirm")), "{method} {path}");
    }
    let members = store.members().await.expect("people");
    assert!(members.len() == 2 && members.iter().all(|of| of.pin.is_none()), "nothing was changed");
    assert_eq!(
        lead.post("/api/session/confirm", json!({ "secret": "correct horse" })).await.0,
        StatusCode::NO_CONTENT
    );
    let set = lead.ask(Method::PUT, &format!("/api/people/{person}"), Some(json!({ "pin": "2580" }))).await;
    assert_eq!(set.0, StatusCode::OK, "{}", set.1);
    // By the PIN that the lead has set somebody comes in and is told so, and signs nothing.
    let tablet = lead.moved(&base);
    let (status, view) = tablet.post("/api/session/pin", json!({ "person": person, "pin": "2580" })).await;
    let told =
        json!([{ "secret": "password", "by": "Åse Ødegård" }, { "secret": "PIN", "by": "Åse Ødegård" }]);
    assert_eq!((status.as_u16(), &view["set_by_others"]), (200, &told));
    let confirm = async |secret: &str| tablet.post("/api/session/confirm", json!({ "secret": secret })).await;
    for secret in ["2580", "first password"] {
        let (status, answer) = confirm(secret).await;
        assert_eq!((status.as_u16(), &answer["type"]), (403, &json!("/problems/own-secret")), "{secret}");
    }
    let sign = json!({ "id": Uuid::now_v7(), "seen": 9, "action": { "type": "sign", "operation": "x" } });
    let (_, asked) = tablet.post(&format!("/api/builds/{}/commands", Uuid::nil()), sign).await;
    assert_eq!(asked["type"], json!("/problems/not-there"), "there is no such engine, whoever signs");
    // Nor does that PIN choose another in their name: their password does, and then their own counts.
    let put = async |body: Value| tablet.ask(Method::PUT, "/api/session/secrets", Some(body)).await;
    assert_eq!(put(json!({ "current": "2580", "pin": "1470" })).await.0, StatusCode::UNAUTHORIZED);
    let (status, answer) = put(json!({ "current": "first password", "pin": "1470" })).await;
    assert_eq!((status.as_u16(), &answer["errors"][0]["field"]), (422, &json!("password")), "{answer}");
    let both = json!({ "current": "first password", "pin": "1470", "password": "my own words" });
    let (status, view) = put(both).await;
    assert_eq!((status.as_u16(), &view["set_by_others"]), (200, &json!([])));
    assert_eq!(confirm("1470").await.0, StatusCode::NO_CONTENT);
}

#[tokio::test]
async fn whoever_guesses_at_many_names_from_one_address_waits_and_a_bench_is_not_kept_out() {
    let (scratch, base, lead) = founded().await;
    let store = Store::connect(&scratch.url, 2).await.expect("a store");
    assert_eq!(lead.post("/api/benches", json!({ "name": "The stand" })).await.0, StatusCode::NO_CONTENT);
    // Fifty names once each: no name was guessed at twice.
    let keys: Vec<String> = vec!["address 127.0.0.1".into(), "password åse ødegård".into()];
    let count = |free: i32| {
        let (store, keys) = (store.clone(), keys.clone());
        async move {
            for key in keys {
                for _ in 0..free {
                    store.guess(&key, i32::MAX, time::Duration::minutes(15)).await.expect("counted");
                }
            }
        }
    };
    count(29).await;
    let right = Browser::at(&base);
    assert_eq!(right.sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK, "a few are free");
    // A right one took itself back, and nothing else.
    count(1).await;
    let (status, answer) =
        right.post("/api/session", json!({ "name": "Åse Ødegård", "password": "correct horse" })).await;
    assert_eq!((status.as_u16(), &answer["type"]), (429, &json!("/problems/wait")), "{answer}");
    // At a bench of the shop its people come in whatever is guessed elsewhere.
    let tablet = lead.moved(&base);
    assert_eq!(tablet.sign_in("Åse Ødegård", "correct horse").await, StatusCode::OK);
    count(20).await;
    assert_eq!(tablet.sign_in("Åse Ødegård", "correct horse").await, StatusCode::TOO_MANY_REQUESTS);
}

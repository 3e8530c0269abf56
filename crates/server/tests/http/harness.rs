//! A server in this process, and what its tests ask of it.

use reqwest::header::{COOKIE, HeaderMap, HeaderValue};
use reqwest::{Client, StatusCode};
use rigore_mechanics::message::Message;
use rigore_server::{App, Settings, Socket, demo, serve};
use rigore_store::{Scratch, Store};
use serde_json::{Value, json};
use std::path::Path;
use uuid::Uuid;

/// The last entry of a client that has seen everything there is.
pub const SEEN: u64 = 1 << 40;

/// A message as text, its quantities in base units.
pub fn words(message: &Value) -> String {
    serde_json::from_value::<Message>(message.clone()).expect("a message").in_base_units()
}

/// A server in this process, on a database of its own.
pub struct Server {
    /// Its address.
    pub base: String,
    /// A client of it.
    pub client: Client,
    scratch: Scratch,
}

/// A client that is in the demonstration as somebody, unless a request says otherwise.
pub fn client(person: &str) -> Client {
    let value = HeaderValue::from_str(&format!("rigore=demonstration.{person}")).expect("a cookie");
    Client::builder().default_headers(HeaderMap::from_iter([(COOKIE, value)])).build().expect("a client")
}

/// A server's application over a database.
pub async fn app(url: &str, settings: Settings) -> App {
    App::new(Store::connect(url, 8).await.expect("a store"), settings).await.expect("an app")
}

/// Serves it, by TLS where a certificate and its key are given, until the test ends; gives its address.
pub async fn serving(app: App, tls: Option<(&Path, &Path)>) -> String {
    let socket = Socket::bind(([127, 0, 0, 1], 0).into(), tls).await.expect("a port");
    let base = socket.url().expect("an address");
    tokio::spawn(serve(socket, app, std::future::pending()));
    base
}

/// Founds the empty shop of a server; gives a client in which its lead is signed in, and its cookie.
pub async fn found(base: &str, code: &str) -> (Client, String) {
    let first = json!({ "code": code, "shop": "Quay Four", "zone": "UTC", "torque_unit": "N·m",
        "length_unit": "mm", "name": "Lead", "password": "correct horse" });
    let client = Client::builder().no_proxy().build().expect("a client");
    let begun = client.post(format!("{base}/api/first-run")).json(&first).send().await.expect("an answer");
    let cookie = begun.headers()["set-cookie"].to_str().expect("text").split(';').next().expect("one");
    let headers = HeaderMap::from_iter([(COOKIE, HeaderValue::from_str(cookie).expect("a cookie"))]);
    let client = Client::builder().no_proxy().default_headers(headers).build().expect("a client");
    (client, cookie.to_owned())
}

impl Server {
    pub async fn start() -> Self {
        let scratch = Scratch::demonstration().await.expect("a database");
        let app = app(&scratch.url, Settings { demonstration: true, ..Settings::default() }).await;
        demo::load(&app.store).await.expect("demo data");
        // It knew nobody yet.
        app.renew().await.expect("people");
        Self { base: serving(app, None).await, client: client("bench-one"), scratch }
    }

    /// The address of its database.
    pub fn database(&self) -> String {
        self.scratch.url.clone()
    }

    pub async fn get(&self, path: &str) -> Value {
        let answer = self.client.get(format!("{}{path}", self.base)).send().await.expect("an answer");
        assert!(answer.status().is_success(), "{path}: {}", answer.status());
        answer.json().await.expect("JSON")
    }

    pub async fn post(&self, path: &str, body: &Value) -> (StatusCode, Value) {
        self.post_as("lead", path, body).await
    }

    /// Posts as somebody of the shop.
    pub async fn post_as(&self, person: &str, path: &str, body: &Value) -> (StatusCode, Value) {
        let request = self
            .client
            .post(format!("{}{path}", self.base))
            .header("cookie", format!("rigore=demonstration.{person}"));
        let answer = request.json(body).send().await.expect("an answer");
        let status = answer.status();
        if !status.is_success() {
            assert_eq!(answer.headers()["content-type"], "application/problem+json");
        }
        (status, answer.json().await.expect("JSON"))
    }

    /// Gives a command to a demo engine, as somebody who has seen everything there is.
    pub async fn give(&self, person: &str, engine: &str, what: Value) -> (StatusCode, Value) {
        let path = format!("/api/builds/{}/commands", demo::build_id(engine));
        let command = json!({"id": Uuid::now_v7(), "seen": SEEN, "action": what});
        self.post_as(person, &path, &command).await
    }

    /// One operation of a demo engine at the bench.
    pub async fn bench(&self, engine: &str, operation: &str) -> Value {
        self.get(&format!("/api/builds/{}/operations/{operation}", demo::build_id(engine))).await
    }
}

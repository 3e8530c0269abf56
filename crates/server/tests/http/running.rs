//! How a server is run: two on one database, by TLS, behind a proxy, watched over.

use crate::harness::{Server, app, serving};
use futures::StreamExt;
use reqwest::{Client, StatusCode};
use rigore_server::{Settings, Socket, demo, serve_metrics};
use rigore_store::Scratch;
use serde_json::{Value, json};
use std::fs;
use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::time::Duration;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use tokio_rustls::TlsConnector;
use tokio_rustls::rustls::pki_types::ServerName;
use tokio_rustls::rustls::{ClientConfig, RootCertStore};
use uuid::Uuid;

const ENGINE: &str = "Tarn 5 no. 13";

#[tokio::test]
async fn two_servers_on_one_database_are_one_shop() {
    let one = Server::start().await;
    let settings = Settings { demonstration: true, ..Settings::default() };
    let other = serving(app(&one.database(), settings).await, None).await;
    let path = format!("/api/builds/{}", demo::build_id(ENGINE));
    let seen = one.get(&path).await["seq"].as_u64().expect("a number");
    let follow = one.client.get(format!("{other}{path}/events")).send().await.expect("a stream");
    let mut stream = follow.bytes_stream();
    let mut told = String::from_utf8_lossy(&stream.next().await.expect("here").expect("bytes")).into_owned();
    // One command reaches both at once, and again: it is recorded once, and each says the same.
    let pull = json!({"type": "pull", "operation": "main-caps-tighten", "stage": 1, "fastener": "2L",
        "reading": {"text": "30"}, "method": "typed", "instrument": "wrench-2"});
    let command = json!({"id": Uuid::now_v7(), "seen": seen, "action": pull});
    let ask = |base: &str| {
        let request = one.client.post(format!("{base}{path}/commands")).json(&command);
        async move {
            let answer = request.send().await.expect("an answer");
            (answer.status(), answer.json::<Value>().await.expect("JSON"))
        }
    };
    let (here, there) = tokio::join!(ask(&one.base), ask(&other));
    assert_eq!((here.0, &here), (StatusCode::OK, &there));
    assert_eq!(ask(&other).await, here);
    let last = here.1["seq"].as_u64().expect("a number");
    // Whoever looks at the other server sees it, once.
    let read = tokio::time::timeout(Duration::from_secs(10), async {
        while !told.contains(&format!("id: {last}")) {
            told.push_str(&String::from_utf8_lossy(&stream.next().await.expect("more").expect("bytes")));
        }
    });
    read.await.expect("the entry arrives");
    let pulls = told.matches("\"fastener\":\"2L\"").count();
    assert_eq!(pulls, 1, "{told}");
    assert_eq!(one.get(&path).await["seq"], last);
}

#[tokio::test]
async fn by_tls_cookies_go_by_tls_only() {
    let folder = tempfile::tempdir().expect("a folder");
    let made = rcgen::generate_simple_self_signed(["localhost".to_owned()]).expect("a certificate");
    let (certificate, key) = (folder.path().join("shop.pem"), folder.path().join("shop.key"));
    fs::write(&certificate, made.cert.pem()).expect("written");
    fs::write(&key, made.signing_key.serialize_pem()).expect("written");
    let scratch = Scratch::new().await.expect("a database");
    let settings = Settings { secure: true, code: Some("4821-7730".to_owned()), ..Settings::default() };
    let base = serving(app(&scratch.url, settings).await, Some((&certificate, &key))).await;
    let mut known = RootCertStore::empty();
    known.add(made.cert.der().clone()).expect("a certificate");
    let client = ClientConfig::builder().with_root_certificates(known).with_no_client_auth();
    let address = base.strip_prefix("https://").expect("by TLS");
    let socket = TcpStream::connect(address).await.expect("a connection");
    let name = ServerName::try_from("localhost").expect("a name");
    let mut socket = TlsConnector::from(Arc::new(client)).connect(name, socket).await.expect("by TLS");
    let first = json!({ "code": "4821-7730", "shop": "Quay Four", "zone": "UTC", "torque_unit": "N·m",
        "length_unit": "mm", "name": "Lead", "password": "correct horse" });
    let (first, head) =
        (first.to_string(), "POST /api/first-run HTTP/1.1\r\nhost: localhost\r\nconnection: close");
    let asked = format!("{head}\r\ncontent-length: {}\r\n\r\n{first}", first.len());
    socket.write_all(asked.as_bytes()).await.expect("sent");
    let mut answer = Vec::new();
    socket.read_to_end(&mut answer).await.expect("an answer");
    let answer = String::from_utf8_lossy(&answer);
    assert!(answer.starts_with("HTTP/1.1 200"), "{answer}");
    let cookie = answer.lines().find_map(|line| line.strip_prefix("set-cookie: ")).expect("a cookie");
    assert!(cookie.ends_with("; Secure"), "{cookie}");
    // A key of another certificate is refused with words, before anything listens.
    let other = rcgen::generate_simple_self_signed(["localhost".to_owned()]).expect("a certificate");
    fs::write(&key, other.signing_key.serialize_pem()).expect("written");
    let refused = Socket::bind(([127, 0, 0, 1], 0).into(), Some((&certificate, &key))).await;
    assert!(refused.is_err());
}

#[tokio::test]
async fn behind_a_trusted_proxy_guesses_are_counted_where_they_come_from() {
    let scratch = Scratch::new().await.expect("a database");
    let trusted = vec!["127.0.0.1".parse().expect("a net")];
    let base = serving(app(&scratch.url, Settings { trusted, ..Settings::default() }).await, None).await;
    let guess = |from: &'static str| {
        let guess = json!({ "name": "nobody", "password": "a guess" });
        let request = Client::new().post(format!("{base}/api/session")).header("x-forwarded-for", from);
        async move { request.json(&guess).send().await.expect("an answer").status() }
    };
    for _ in 0..5 {
        assert_eq!(guess("203.0.113.5").await, StatusCode::UNAUTHORIZED);
    }
    assert_eq!(guess("203.0.113.5").await, StatusCode::TOO_MANY_REQUESTS);
    // Who writes more into it before the proxy does is the same one; somebody else does not wait.
    assert_eq!(guess("198.51.100.7, 203.0.113.5").await, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(guess("203.0.113.6").await, StatusCode::UNAUTHORIZED);
}

#[tokio::test]
async fn those_who_watch_are_told_how_a_server_is_and_nothing_of_the_shop() {
    let scratch = Scratch::demonstration().await.expect("a database");
    let app = app(&scratch.url, Settings { demonstration: true, ..Settings::default() }).await;
    demo::load(&app.store).await.expect("demo data");
    let watch = Socket::bind(([127, 0, 0, 1], 0).into(), None).await.expect("a port");
    let at = watch.url().expect("an address");
    tokio::spawn(serve_metrics(watch, app.clone()));
    let base = serving(app.clone(), None).await;
    let read = async |url: String| {
        let answer = reqwest::get(url).await.expect("an answer");
        (answer.status(), answer.text().await.expect("a text"))
    };
    for (asked, status) in [("/api/session", 200), ("/api/shop", 401), ("/api/builds/x/sheet?of=Tarn", 401)] {
        assert_eq!(read(format!("{base}{asked}")).await.0.as_u16(), status, "{asked}");
    }
    assert_eq!(read(format!("{at}/health")).await.0, StatusCode::OK);
    assert_eq!(read(format!("{at}/ready")).await.0, StatusCode::OK);
    let (_, told) = read(format!("{at}/metrics")).await;
    for line in [
        "rigore_requests_total{method=\"GET\",route=\"/api/shop\",status=\"401\"} 1",
        "rigore_requests_total{method=\"GET\",route=\"/api/builds/{build}/sheet\",status=\"401\"} 1",
        "rigore_answer_seconds_count{route=\"/api/session\"} 1",
        "rigore_streams 0",
        "# EOF",
    ] {
        assert!(told.lines().any(|of| of == line), "{line} in {told}");
    }
    assert!(!told.contains("Tarn"), "{told}");
    // Figures are for those who watch, not for who reaches the shop.
    assert!(!read(format!("{base}/metrics")).await.1.contains("rigore_requests"));
    // Without its database it runs, and cannot work.
    app.store.close().await;
    assert_eq!(read(format!("{at}/health")).await.0, StatusCode::OK);
    assert_eq!(read(format!("{at}/ready")).await.0, StatusCode::SERVICE_UNAVAILABLE);
}

/// Ends a command that was started, whatever becomes of the test.
struct Started(Child);

impl Started {
    fn tell(&self, signal: &str) {
        let told = Command::new("kill").args([signal, &self.0.id().to_string()]).status();
        assert!(told.expect("kill").success());
    }
}

impl Drop for Started {
    fn drop(&mut self) {
        let _ = self.0.kill();
    }
}

impl Started {
    /// The address that the command prints, and waits for all that it says at first.
    fn address(&mut self) -> String {
        let said = BufReader::new(self.0.stdout.take().expect("what it says"));
        let lines: Vec<String> = said.lines().map(|line| line.expect("text")).take(2).collect();
        assert!(lines[1].contains("with the code"), "{lines:?}");
        lines[0].trim().strip_prefix("Rigore is at ").expect("its address").to_owned()
    }
}

/// Serves an empty shop of a database.
fn serves(url: &str) -> [&str; 7] {
    ["--log", "error", "serve", "--listen", "127.0.0.1:0", "--database-url", url]
}

#[tokio::test]
async fn a_server_without_a_certificate_goes_on_when_told_to_read_it_again() {
    let scratch = Scratch::new().await.expect("a database");
    let mut serve = Command::new(env!("CARGO_BIN_EXE_rigore"));
    serve.args(serves(&scratch.url)).stdin(Stdio::null());
    let mut server = Started(serve.stdout(Stdio::piped()).spawn().expect("started"));
    let url = server.address();
    let client = Client::builder().no_proxy().build().expect("a client");
    for signal in ["-HUP", "-HUP"] {
        server.tell(signal);
        tokio::time::sleep(Duration::from_millis(100)).await;
        let session = client.get(format!("{url}/api/session")).send().await.expect("it is still there");
        assert_eq!(session.status(), StatusCode::OK);
    }
    server.tell("-TERM");
    assert!(server.0.wait().expect("its end").success());
}

#[tokio::test]
async fn a_server_ends_when_the_window_it_was_started_in_is_closed() {
    let scratch = Scratch::new().await.expect("a database");
    // In place of its shell, which may have been told to ignore that its window closes.
    let words = [&["exec", env!("CARGO_BIN_EXE_rigore")], serves(&scratch.url).as_slice()].concat();
    let mut window = Command::new("script");
    window.args(["--quiet", "--return", "--command", &words.join(" "), "/dev/null"]).stdin(Stdio::null());
    let mut window = Started(window.stdout(Stdio::piped()).spawn().expect("a terminal"));
    let url = window.address();
    let client = Client::builder().no_proxy().build().expect("a client");
    let answers = async || client.get(format!("{url}/api/session")).send().await.is_ok();
    assert!(answers().await);
    window.tell("-KILL");
    let gone = tokio::time::timeout(Duration::from_secs(20), async {
        while answers().await {
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
    });
    gone.await.expect("nobody is left who could end it");
}

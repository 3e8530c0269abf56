//! What one address, one browser or one file can take of a server, and what every answer tells a browser.

use crate::harness::{Server, app, found, serving};
use reqwest::{Client, StatusCode};
use rigore_server::Settings;
use rigore_store::Scratch;
use serde_json::{Value, json};
use std::io::{Cursor, Write};
use std::net::{IpAddr, Ipv4Addr};
use std::time::{Duration, Instant};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

/// Longer than a head or a body may fall silent.
const TOO_LONG: Duration = Duration::from_secs(14);

fn at(base: &str) -> &str {
    base.strip_prefix("http://").expect("an address")
}

async fn raw(base: &str, text: &str) -> TcpStream {
    let mut stream = TcpStream::connect(at(base)).await.expect("a connection");
    stream.write_all(text.as_bytes()).await.expect("sent");
    stream
}

/// Whether the other end has ended it, having answered or not.
async fn has_ended(stream: &mut TcpStream) -> bool {
    let mut rest = Vec::new();
    tokio::time::timeout(TOO_LONG, stream.read_to_end(&mut rest)).await.is_ok()
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_not_sent_to_its_end_is_not_waited_for_and_fills_no_server() {
    let scratch = Scratch::new().await.expect("a database");
    let base = serving(app(&scratch.url, Settings::default()).await, None).await;
    let mut silent = raw(&base, "").await;
    let mut head = raw(&base, "GET /api/session HTTP/1.1\r\nhost: x\r\n").await;
    let post = "POST /api/session HTTP/1.1\r\nhost: x\r\ncontent-type: application/json\r\ncontent-length: 50\r\n\r\n{";
    let mut body = raw(&base, post).await;
    // As many as one address may hold: one more is not let in, and another address does not notice.
    let mut held = Vec::new();
    for _ in 0..300 {
        held.push(raw(&base, "GET /").await);
    }
    let other = IpAddr::V4(Ipv4Addr::new(127, 0, 0, 2));
    let other = Client::builder().local_address(other).no_proxy().build().expect("a client");
    let session = || other.get(format!("{base}/api/session")).send();
    assert_eq!(session().await.expect("an answer").status(), StatusCode::OK);
    let own = Client::builder().no_proxy().build().expect("a client");
    assert!(own.get(format!("{base}/api/session")).send().await.is_err(), "its address holds too many");
    let (a, b, c) = tokio::join!(has_ended(&mut silent), has_ended(&mut head), has_ended(&mut body));
    assert_eq!((a, b, c), (true, true, true), "nothing, half a head, half a body");
    drop(held);
    let start = Instant::now();
    while own.get(format!("{base}/api/session")).send().await.is_err() {
        assert!(start.elapsed() < TOO_LONG, "it is let in again");
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_was_asked_for_is_done_and_told_also_where_its_browser_hangs_up() {
    let scratch = Scratch::new().await.expect("a database");
    let settings = Settings { code: Some("4821-7730".to_owned()), ..Settings::default() };
    let base = serving(app(&scratch.url, settings).await, None).await;
    let (client, cookie) = found(&base, "4821-7730").await;
    for round in 0..4 {
        let name = format!("Bench {round}");
        let body = json!({ "name": name, "role": "bench", "password": "first password" }).to_string();
        let head = format!(
            "POST /api/people HTTP/1.1\r\nhost: x\r\ncookie: {cookie}\r\ncontent-length: {}",
            body.len()
        );
        let stream = raw(&base, &format!("{head}\r\n\r\n{body}")).await;
        // It hangs up while the password is hashed, or a little later.
        tokio::time::sleep(Duration::from_millis(5 + 15 * round)).await;
        drop(stream);
        let start = Instant::now();
        loop {
            let shop = client.get(format!("{base}/api/shop")).send().await;
            let shop: Value = shop.expect("an answer").json().await.expect("JSON");
            if shop["people"].as_array().expect("people").iter().any(|of| of["name"] == json!(name)) {
                break;
            }
            assert!(start.elapsed() < Duration::from_secs(10), "{name} is there, and everybody was told");
            tokio::time::sleep(Duration::from_millis(20)).await;
        }
    }
}

#[tokio::test]
async fn a_server_told_of_nothing_goes_by_no_role_for_longer_than_twenty_seconds() {
    let scratch = Scratch::new().await.expect("a database");
    let settings = || Settings { code: Some("4821-7730".to_owned()), ..Settings::default() };
    let base = serving(app(&scratch.url, settings()).await, None).await;
    let (client, _) = found(&base, "4821-7730").await;
    let people = async || {
        let asked = client.get(format!("{base}/api/people")).send().await;
        asked.expect("an answer").status()
    };
    assert_eq!(people().await, StatusCode::OK);
    // Somebody takes the role back where no server is told.
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    let change = "UPDATE people SET body = jsonb_set(body, '{role}', '\"viewer\"')";
    sqlx::raw_sql(change).execute(&pool).await.expect("changed");
    let start = Instant::now();
    while people().await != StatusCode::FORBIDDEN {
        assert!(start.elapsed() < Duration::from_secs(24), "the role is in force still");
        tokio::time::sleep(Duration::from_millis(250)).await;
    }
}

#[tokio::test]
async fn every_answer_says_what_a_browser_may_do_with_it() {
    let server = Server::start().await;
    let session = server.client.get(format!("{}/api/session", server.base)).send().await.expect("an answer");
    for (name, value) in [
        ("cache-control", "no-store"),
        ("x-content-type-options", "nosniff"),
        ("x-frame-options", "DENY"),
        ("cross-origin-resource-policy", "same-origin"),
    ] {
        assert_eq!(session.headers()[name], value, "{name}");
    }
    assert!(session.headers()["permissions-policy"].to_str().expect("text").contains("geolocation=()"));
    assert!(session.headers().get("strict-transport-security").is_none(), "it came without TLS");
    let shared = server.client.get(format!("{}/shared/x", server.base)).send().await.expect("an answer");
    assert_eq!(shared.headers()["x-frame-options"], "DENY");
    // A picture keeps its own, stricter policy.
    let jpeg = include_bytes!("../../../../plans/thread.jpg");
    let sent = server.client.post(format!("{}/api/pictures", server.base)).body(jpeg.as_slice()).send().await;
    let kept: Value = sent.expect("an answer").json().await.expect("JSON");
    let picture = format!("{}/api/pictures/{}", server.base, kept["hash"].as_str().expect("a hash"));
    let picture = server.client.get(picture).send().await.expect("an answer");
    assert_eq!(picture.headers()["content-security-policy"], "default-src 'none'");
    assert!(picture.headers()["cache-control"].to_str().expect("text").contains("immutable"));
    // Another method than a path has is a problem like any other.
    let wrong = server.client.patch(format!("{}/api/shop", server.base)).send().await.expect("an answer");
    assert_eq!(wrong.status(), StatusCode::METHOD_NOT_ALLOWED);
    assert_eq!(wrong.headers()["content-type"], "application/problem+json");
    let draft = json!({ "id": uuid::Uuid::now_v7(), "base": "0".repeat(64), "source": "format = 1" });
    assert_eq!(server.post("/api/drafts", &draft).await.0, StatusCode::NOT_FOUND);
    let text = json!({ "id": uuid::Uuid::now_v7(), "source": "name = \"\u{202e}\"" });
    let (status, answer) = server.post("/api/drafts", &text).await;
    assert_eq!((status.as_u16(), &answer["errors"][0]["field"]), (422, &json!("source")), "{answer}");
}

#[tokio::test]
async fn a_server_that_has_names_answers_to_no_other() {
    let scratch = Scratch::new().await.expect("a database");
    let settings =
        Settings { hosts: vec!["rigore.quay-four.example".to_owned()], secure: true, ..Settings::default() };
    let base = serving(app(&scratch.url, settings).await, None).await;
    let client = Client::builder().no_proxy().build().expect("a client");
    for (host, status) in
        [("rigore.quay-four.example", 200), ("127.0.0.1:8097", 200), ("elsewhere.example", 421)]
    {
        let asked = client.get(format!("{base}/api/session")).header("host", host).send().await;
        let asked = asked.expect("an answer");
        assert_eq!(asked.status().as_u16(), status, "{host}");
        if status == 200 {
            assert_eq!(asked.headers()["strict-transport-security"], "max-age=31536000");
        }
    }
}

#[tokio::test]
async fn an_archive_and_a_picture_are_held_no_larger_than_they_may_be() {
    let server = Server::start().await;
    let lead = crate::harness::client("lead");
    let send = |bytes: Vec<u8>| lead.post(format!("{}/api/archives", server.base)).body(bytes).send();
    let zipped = |name: &str, megabytes: usize| {
        let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
        zip.start_file(name, SimpleFileOptions::default()).expect("a file");
        let zeros = vec![0; 1 << 20];
        for _ in 0..megabytes {
            zip.write_all(&zeros).expect("written");
        }
        zip.finish().expect("an archive").into_inner()
    };
    for (name, megabytes, most) in [("events.jsonl", 40, "32 MB"), ("pictures/x", 140, "128 MB")] {
        let bomb = zipped(name, megabytes);
        assert!(bomb.len() < 1 << 20, "it is small as it comes");
        let answer = send(bomb).await.expect("an answer");
        assert_eq!(answer.status(), StatusCode::UNPROCESSABLE_ENTITY);
        let answer: Value = answer.json().await.expect("JSON");
        assert!(answer["detail"].as_str().expect("words").contains(most), "{answer}");
    }
    // One at a time is held in memory; the others are told to come again.
    let many = (0..6).map(|_| send(zipped("events.jsonl", 30)));
    let statuses: Vec<StatusCode> =
        futures::future::join_all(many).await.into_iter().map(|of| of.expect("an answer").status()).collect();
    assert!(statuses.contains(&StatusCode::TOO_MANY_REQUESTS), "{statuses:?}");
    assert!(statuses.contains(&StatusCode::UNPROCESSABLE_ENTITY), "{statuses:?}");
    let mut png = b"\x89PNG\r\n\x1a\n\0\0\0\x0dIHDR".to_vec();
    png.extend([60_000_u32.to_be_bytes(), 60_000_u32.to_be_bytes()].concat());
    png.extend([8, 2, 0, 0, 0]);
    let picture = server.client.post(format!("{}/api/pictures", server.base)).body(png).send().await;
    let answer: Value = picture.expect("an answer").json().await.expect("JSON");
    assert!(answer["detail"].as_str().expect("words").contains("million pixels"), "{answer}");
}

#[tokio::test]
async fn so_many_sign_in_at_once_and_the_rest_are_told_to_come_again() {
    let scratch = Scratch::new().await.expect("a database");
    let base = serving(app(&scratch.url, Settings::default()).await, None).await;
    let client = Client::builder().no_proxy().build().expect("a client");
    let ask = |of: usize| {
        let body = json!({ "name": format!("nobody {of}"), "password": "a long guess" });
        client.post(format!("{base}/api/session")).json(&body).send()
    };
    let answers = futures::future::join_all((0..48).map(ask)).await;
    let mut busy = 0;
    for answer in answers {
        let answer = answer.expect("an answer");
        match answer.status() {
            StatusCode::UNAUTHORIZED => {}
            StatusCode::TOO_MANY_REQUESTS => {
                assert!(answer.headers().contains_key("retry-after"));
                busy += 1;
            }
            other => panic!("{other}"),
        }
    }
    assert!(busy > 0 && busy < 48, "{busy}");
}

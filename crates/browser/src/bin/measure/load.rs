//! Engines and commands over HTTP, as a browser sends them.

use anyhow::{Context, Result, ensure};
use http_body_util::{BodyExt, Full};
use hyper::body::Bytes;
use hyper::client::conn::http1::{SendRequest, handshake};
use hyper::{Request, header};
use hyper_util::rt::TokioIo;
use reqwest::Client;
use rigore_browser::Rigore;
use serde_json::{Value, json};
use tokio::net::TcpStream;
use uuid::Uuid;

/// The operation that bolts are pulled in.
const OPERATION: &str = "main-caps-tighten";

/// Somebody who sends commands to one engine, over a connection of their own that is kept open and
/// takes little of the machine.
#[derive(Debug)]
pub struct Hand {
    connection: SendRequest<Full<Bytes>>,
    host: String,
    /// The engine.
    pub build: Uuid,
}

impl Hand {
    /// Begins an engine and leaves out all before its main bolts, so that a pull is an ordinary one.
    pub async fn begin(rigore: &Rigore) -> Result<Self> {
        let client = Client::new();
        let build = Uuid::now_v7();
        let plans: Value = client.get(rigore.url("/api/plans")).send().await?.json().await?;
        let tarn = plans.as_array().and_then(|plans| plans.iter().find(|plan| plan["id"] == "tarn-5"));
        let tarn = tarn.context("the plan of the Tarn 5")?;
        let body = json!({"id": build, "name": format!("Measure {build}"), "plan": tarn["hash"]});
        let request = client.post(rigore.url("/api/builds")).header("x-rigore-person", "lead");
        request.json(&body).send().await?.error_for_status()?;
        let page = rigore.url(&format!("/api/builds/{build}"));
        let view: Value = client.get(&page).send().await?.json().await?;
        let host = rigore.url("").trim_start_matches("http://").to_owned();
        let stream = TcpStream::connect(&host).await?;
        stream.set_nodelay(true)?;
        let (connection, driver) = handshake(TokioIo::new(stream)).await?;
        tokio::spawn(driver);
        let mut hand = Self { connection, host, build };
        let line = view["operations"].as_array().context("operations")?;
        for operation in line.iter().filter_map(|operation| operation["id"].as_str()) {
            if operation == OPERATION {
                break;
            }
            hand.give(json!({"type": "skip", "operation": operation, "reason": "done elsewhere"})).await?;
        }
        Ok(hand)
    }

    /// Sends a command and waits for its answer.
    pub async fn give(&mut self, what: Value) -> Result<()> {
        let body = json!({"id": Uuid::now_v7(), "seen": 1_u64 << 40, "do": what}).to_string();
        let request = Request::post(format!("/api/builds/{}/commands", self.build))
            .header(header::HOST, &self.host)
            .header(header::CONTENT_TYPE, "application/json")
            .header("x-rigore-person", "lead")
            .body(Full::from(body))?;
        self.connection.ready().await?;
        let answer = self.connection.send_request(request).await?;
        let status = answer.status();
        let body = answer.into_body().collect().await?.to_bytes();
        ensure!(status.is_success(), "{status}: {}", String::from_utf8_lossy(&body));
        Ok(())
    }

    /// Pulls a bolt, always the same.
    pub async fn pull(&mut self) -> Result<()> {
        self.give(json!({"type": "pull", "operation": OPERATION, "stage": 0, "fastener": "3L",
            "reading": {"text": "30"}, "method": "typed", "instrument": "wrench-2"}))
            .await
    }
}

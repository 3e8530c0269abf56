//! Engines and commands over HTTP, as a browser sends them.

use anyhow::{Context, Result, ensure};
use rigore_browser::Rigore;
use serde_json::{Value, json};
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use uuid::Uuid;

/// The operation that bolts are pulled in.
const OPERATION: &str = "main-caps-tighten";

/// A connection that is kept open, over which bodies are posted to one address. It takes as little of the machine as
/// `pgbench` does, which the answers are held against.
#[derive(Debug)]
pub struct PostConnection {
    stream: BufReader<TcpStream>,
    head: String,
}

impl PostConnection {
    /// Connects to a host, as in `127.0.0.1:80`.
    pub fn open(host: &str, path: &str) -> Result<Self> {
        let head = format!(
            "POST {path} HTTP/1.1\r\nhost: {host}\r\ncontent-type: application/json\r\n\
             cookie: rigore=demonstration.lead\r\ncontent-length: "
        );
        let stream = TcpStream::connect(host)?;
        stream.set_nodelay(true)?;
        Ok(Self { stream: BufReader::new(stream), head })
    }

    /// Posts a body, and gives the line of the answer's status and the answer.
    pub fn post(&mut self, body: &str) -> Result<(String, String)> {
        let request = format!("{}{}\r\n\r\n{body}", self.head, body.len());
        self.stream.get_mut().write_all(request.as_bytes())?;
        let mut status = String::new();
        self.stream.read_line(&mut status)?;
        let mut length = 0;
        loop {
            let mut line = String::new();
            self.stream.read_line(&mut line)?;
            if line.trim().is_empty() {
                break;
            }
            if let Some(told) = line.strip_prefix("content-length:") {
                length = told.trim().parse()?;
            }
        }
        let mut answer = vec![0; length];
        self.stream.read_exact(&mut answer)?;
        Ok((status, String::from_utf8_lossy(&answer).into_owned()))
    }
}

/// Somebody who sends commands to one engine, over a connection of their own.
#[derive(Debug)]
pub struct LoadClient {
    connection: PostConnection,
    /// The engine.
    pub build: Uuid,
}

impl LoadClient {
    /// Begins an engine and leaves out all before its main bolts, so that a pull is an ordinary one.
    pub async fn begin(rigore: &Rigore) -> Result<Self> {
        let client = rigore_browser::client();
        let build = Uuid::now_v7();
        let plans: Value = client.get(rigore.url("/api/plans")).send().await?.json().await?;
        let tarn = plans.as_array().and_then(|plans| plans.iter().find(|plan| plan["id"] == "tarn-5"));
        let tarn = tarn.context("the plan of the Tarn 5")?;
        let body = json!({"id": build, "name": format!("Measure {build}"), "plan": tarn["hash"]});
        let request = client.post(rigore.url("/api/builds")).header("cookie", "rigore=demonstration.lead");
        request.json(&body).send().await?.error_for_status()?;
        let page = rigore.url(&format!("/api/builds/{build}"));
        let view: Value = client.get(&page).send().await?.json().await?;
        let host = rigore.url("").trim_start_matches("http://").to_owned();
        let connection = PostConnection::open(&host, &format!("/api/builds/{build}/commands"))?;
        let mut hand = Self { connection, build };
        let line = view["operations"].as_array().context("operations")?;
        for operation in line.iter().filter_map(|operation| operation["id"].as_str()) {
            if operation == OPERATION {
                break;
            }
            hand.give(&json!({"type": "skip", "operation": operation, "reason": "done elsewhere"}))?;
        }
        // The holes are dry.
        hand.give(&json!({"type": "act", "operation": OPERATION, "stage": 0}))?;
        Ok(hand)
    }

    /// Sends a command and waits for its answer.
    pub fn give(&mut self, what: &Value) -> Result<()> {
        let (status, answer) = self.send(Uuid::now_v7(), what)?;
        ensure!(status.contains(" 200 "), "{status}: {answer}");
        Ok(())
    }

    /// Sends a command by its id, and gives how it was answered.
    fn send(&mut self, command: Uuid, what: &Value) -> Result<(String, String)> {
        self.connection.post(&body(command, what))
    }

    /// Pulls a bolt, always the same.
    pub fn pull(&mut self) -> Result<()> {
        self.give(&pull())
    }

    /// The same by an id of its own; whether it is recorded. A server that says that it cannot now is asked again by
    /// whoever calls.
    pub fn pull_as(&mut self, command: Uuid) -> Result<bool> {
        let (status, answer) = self.send(command, &pull())?;
        ensure!(status.contains(" 200 ") || status.contains(" 503 "), "{status}: {answer}");
        Ok(status.contains(" 200 "))
    }
}

/// A command as it is sent.
pub fn body(command: Uuid, what: &Value) -> String {
    format!("{{\"id\":\"{command}\",\"seen\":{},\"action\":{what}}}", 1_u64 << 40)
}

/// A pull, always of the same bolt.
pub fn pull() -> Value {
    json!({"type": "pull", "operation": OPERATION, "stage": 1, "fastener": "3L", "reading": {"text": "30"},
        "method": "typed", "instrument": "wrench-2"})
}

//! A bare Axum handler that writes rows of the same sizes through `SQLx`, one commit each: what recording over HTTP is
//! held against. It is served by a process of its own, as Rigore is.

use crate::load::{self, PostConnection};
use anyhow::{Context, Result, ensure};
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::routing::post;
use axum::serve::ListenerExt;
use axum::{Json, Router};
use rigore_browser::process_cpu;
use serde_json::{Value, json};
use sqlx::PgPool;
use sqlx::postgres::PgPoolOptions;
use std::io::{BufRead, BufReader};
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::time::Duration;
use tokio::net::TcpListener;
use uuid::Uuid;

/// The argument that makes this program serve the handler.
pub const SERVE: &str = "bare-handler";
/// Connections to the database.
const POOL: u32 = 8;
/// Engines that it can write for.
pub const BUILDS: usize = 64;

/// The sizes of what is written for one pull, in bytes.
#[derive(Debug, Clone, Copy)]
pub struct RowSizes {
    /// The text of an entry.
    pub entry: usize,
    /// The list row.
    pub summary: usize,
}

impl RowSizes {
    /// Those of the pulls that Rigore has recorded.
    pub async fn of_pulls(url: &str) -> Result<Self> {
        let pool = PgPoolOptions::new().max_connections(1).connect(url).await?;
        let sizes: (i64, i64) = sqlx::query_as(
            "SELECT coalesce(avg(octet_length(body)), 0)::bigint,
                 coalesce((SELECT avg(octet_length(summary::text)) FROM builds), 0)::bigint
             FROM events WHERE body LIKE '%\"type\":\"pulled\"%'",
        )
        .fetch_one(&pool)
        .await?;
        pool.close().await;
        let sizes = Self { entry: usize::try_from(sizes.0)?, summary: usize::try_from(sizes.1)? };
        ensure!(sizes.entry > 0, "no pull is recorded yet");
        Ok(sizes)
    }

    /// Tables that hold such rows: as many builds as are written for.
    pub fn tables(self) -> String {
        format!(
            "CREATE TABLE bench_builds (id int PRIMARY KEY, seq bigint NOT NULL, summary jsonb NOT NULL);
             CREATE TABLE bench_events (build_id int, seq bigint, body text, hash bytea,
                 PRIMARY KEY (build_id, seq));
             INSERT INTO bench_builds
                 SELECT n, 0, jsonb_build_object('text', repeat('s', {}))
                 FROM generate_series(0, {}) n",
            self.summary,
            BUILDS - 1
        )
    }
}

/// What every request of the handler needs.
#[derive(Debug, Clone)]
struct Bare {
    pool: PgPool,
    body: Arc<str>,
}

/// Serves it on a free port, and prints the address; entries have so many bytes.
pub async fn serve(url: &str, entry: usize) -> Result<()> {
    let pool = PgPoolOptions::new().max_connections(POOL).min_connections(POOL).connect(url).await?;
    let bare = Bare { pool, body: "x".repeat(entry).into() };
    let app = Router::new().route("/builds/{build}/commands", post(record)).with_state(bare);
    let listener = TcpListener::bind("127.0.0.1:0").await?;
    println!("{}", listener.local_addr()?);
    axum::serve(listener.tap_io(|stream| drop(stream.set_nodelay(true))), app).await?;
    Ok(())
}

/// Reads the command and writes an entry and the list row.
async fn record(
    State(bare): State<Bare>,
    Path(build): Path<i32>,
    Json(command): Json<Value>,
) -> Result<Json<Value>, StatusCode> {
    let written = sqlx::query_scalar::<_, i64>(
        "WITH went_on AS (
             UPDATE bench_builds SET seq = seq + 1, summary = summary WHERE id = $1 RETURNING id, seq
         ), written AS (
             INSERT INTO bench_events SELECT id, seq, $2, $3 FROM went_on
         )
         SELECT seq FROM went_on",
    )
    .bind(build)
    .bind(&*bare.body)
    .bind([0xab_u8; 32].as_slice())
    .fetch_one(&bare.pool)
    .await;
    let seq = written.map_err(|_| StatusCode::INTERNAL_SERVER_ERROR)?;
    Ok(Json(json!({ "build": build, "seq": seq, "command": command["id"] })))
}

/// The process that serves it. It ends with this.
#[derive(Debug)]
pub struct BareServer {
    child: Child,
    host: String,
}

impl BareServer {
    /// Starts it on a database whose tables are there.
    pub fn start(url: &str, sizes: RowSizes) -> Result<Self> {
        let mut child = Command::new(std::env::current_exe()?)
            .args([SERVE, url, &sizes.entry.to_string()])
            .stdout(Stdio::piped())
            .spawn()?;
        let mut host = String::new();
        BufReader::new(child.stdout.take().context("its output")?).read_line(&mut host)?;
        ensure!(!host.trim().is_empty(), "the bare handler did not start");
        Ok(Self { child, host: host.trim().to_owned() })
    }

    /// Processor time that it took so far.
    pub fn cpu(&self) -> Result<Duration> {
        process_cpu(self.child.id())
    }

    /// Somebody who sends to one build of it.
    pub fn client(&self, build: usize) -> Result<BareClient> {
        let connection = PostConnection::open(&self.host, &format!("/builds/{build}/commands"))?;
        Ok(BareClient { connection })
    }
}

impl Drop for BareServer {
    fn drop(&mut self) {
        // It may be gone already.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// Somebody who sends the same pulls to the bare handler.
#[derive(Debug)]
pub struct BareClient {
    connection: PostConnection,
}

impl BareClient {
    /// Sends a pull and waits for its answer.
    pub fn pull(&mut self) -> Result<()> {
        let (status, answer) = self.connection.post(&load::body(Uuid::now_v7(), &load::pull()))?;
        ensure!(status.contains(" 200 "), "{status}: {answer}");
        Ok(())
    }
}

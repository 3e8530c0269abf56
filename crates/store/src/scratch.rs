//! Databases for tests.

use crate::cluster::Cluster;
use sqlx::Connection;
use std::io;

/// A database of its own for one test: in the server that `RIGORE_TEST_DATABASE_URL` names, or
/// in a private cluster that ends with it.
#[derive(Debug)]
pub struct Scratch {
    /// Its address.
    pub url: String,
    server: String,
    name: String,
    own: Option<(Cluster, tempfile::TempDir)>,
}

impl Scratch {
    /// Makes an empty database.
    ///
    /// # Errors
    /// Where no server can be reached or started.
    pub async fn new() -> io::Result<Self> {
        Self::copied(None).await
    }

    /// Makes a database for the demonstration: a copy of the one that `RIGORE_TEST_DEMONSTRATION`
    /// names in the server of the tests, so that it need not be loaded for each of them; an empty
    /// one where there is none.
    ///
    /// # Errors
    /// Where no server can be reached or started.
    pub async fn demonstration() -> io::Result<Self> {
        let loaded = std::env::var("RIGORE_TEST_DEMONSTRATION").ok();
        Self::copied(loaded.filter(|_| std::env::var("RIGORE_TEST_DATABASE_URL").is_ok())).await
    }

    async fn copied(template: Option<String>) -> io::Result<Self> {
        let own = if std::env::var("RIGORE_TEST_DATABASE_URL").is_ok() {
            None
        } else {
            let folder = tempfile::Builder::new().prefix("rigore-scratch").tempdir()?;
            Some((Cluster::start(folder.path())?, folder))
        };
        let server = match &own {
            Some((cluster, _)) => cluster.url(),
            None => std::env::var("RIGORE_TEST_DATABASE_URL").unwrap_or_default(),
        };
        let name = format!("scratch_{}", uuid::Uuid::now_v7().simple());
        let pool = sqlx::PgPool::connect(&server).await.map_err(io::Error::other)?;
        let copied = template.map(|template| format!(" TEMPLATE {template}")).unwrap_or_default();
        let create = sqlx::AssertSqlSafe(format!("CREATE DATABASE {name}{copied}"));
        sqlx::raw_sql(create).execute(&pool).await.map_err(io::Error::other)?;
        pool.close().await;
        let base = server.rsplit_once('/').map_or(server.as_str(), |(base, _)| base);
        Ok(Self { url: format!("{base}/{name}"), server, name, own })
    }
}

impl Drop for Scratch {
    /// Removes the database, whoever is still connected; what cannot be removed goes with its server.
    fn drop(&mut self) {
        if self.own.is_some() {
            return;
        }
        let (server, name) = (self.server.clone(), self.name.clone());
        // The test's own runtime may be ending.
        let removing = std::thread::spawn(move || {
            let runtime = tokio::runtime::Builder::new_current_thread().enable_all().build()?;
            runtime.block_on(async {
                let mut connection = sqlx::PgConnection::connect(&server).await.map_err(io::Error::other)?;
                let remove = sqlx::AssertSqlSafe(format!("DROP DATABASE IF EXISTS {name} WITH (FORCE)"));
                sqlx::raw_sql(remove).execute(&mut connection).await.map_err(io::Error::other)?;
                connection.close().await.map_err(io::Error::other)
            })
        });
        let _ = removing.join();
    }
}

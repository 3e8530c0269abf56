//! Connecting to the database: by which role, with which limits, on which of several machines.

use crate::cluster::SERVER_ROLE;
use crate::store::pool;
use crate::{Store, StoreError, hosts};
use sqlx::Connection;
use sqlx::postgres::PgConnectOptions;

/// What PostgreSQL itself is to end, so that one engine that hangs holds up no other: waiting for a lock, a statement, a
/// transaction in which nothing happens, a connection whose other end is gone.
const LIMITS: [(&str, &str); 7] = [
    ("lock_timeout", "2s"),
    ("statement_timeout", "15s"),
    ("idle_in_transaction_session_timeout", "10s"),
    ("tcp_keepalives_idle", "5"),
    ("tcp_keepalives_interval", "2"),
    ("tcp_keepalives_count", "3"),
    ("tcp_user_timeout", "10s"),
];

/// What the role that a server works by may do.
const SERVER_GRANTS: &str = include_str!("server_grants.sql");

/// The role that a server works by.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum DatabaseRole {
    /// The one that the address of the database gives.
    Given,
    /// The server's own.
    Own,
    /// The server's own, taken on by the one that was given: the database does not let it in by itself.
    TakenOn,
}

impl DatabaseRole {
    /// The server's own: a private PostgreSQL lets it in, any other one may not.
    async fn own(given: &PgConnectOptions) -> Self {
        match sqlx::PgConnection::connect_with(&Self::Own.options(given.clone())).await {
            Ok(connection) => {
                // It was only to be seen whether it is let in.
                let _ = connection.close().await;
                Self::Own
            }
            Err(_) => Self::TakenOn,
        }
    }

    /// How a server connects that works by this role.
    fn options(self, given: PgConnectOptions) -> PgConnectOptions {
        let given = given.options(LIMITS);
        match self {
            Self::Given => given,
            Self::Own => given.username(SERVER_ROLE),
            Self::TakenOn => given.options([("role", SERVER_ROLE)]),
        }
    }
}

impl Store {
    /// Connects, and brings the tables up to date. List rows of older rules stay until [`Store::renew_lists`]. A database
    /// of several machines (`postgres://a,b/rigore`) is used where it is written to, and elsewhere once that is gone.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn connect(url: &str, connections: u32) -> Result<Self, StoreError> {
        let primary: PgConnectOptions = hosts::primary_url(url).await?.parse()?;
        // Bringing the tables up to date takes as long as it takes.
        let mut connection = sqlx::PgConnection::connect_with(&primary).await?;
        sqlx::migrate!().run(&mut connection).await?;
        let is_superuser =
            sqlx::query_scalar::<_, bool>("SELECT rolsuper FROM pg_roles WHERE rolname = current_user");
        let is_superuser = is_superuser.fetch_one(&mut connection).await?;
        if is_superuser {
            sqlx::raw_sql(SERVER_GRANTS).execute(&mut connection).await?;
        }
        connection.close().await?;
        let by = if is_superuser { DatabaseRole::own(&primary).await } else { DatabaseRole::Given };
        if by == DatabaseRole::TakenOn {
            tracing::warn!(
                "the database is given as a superuser: give Rigore a role of its own (docs/running.md)"
            );
        }
        let store = Self::over(pool(connections).connect_with(by.options(primary)).await?);
        let each = hosts::host_urls(url).into_iter().map(|url| Ok(by.options(url.parse()?)));
        let each = each.collect::<Result<Vec<PgConnectOptions>, StoreError>>()?;
        if each.len() > 1 {
            tokio::spawn(hosts::watch(store.clone(), each));
        }
        Ok(store)
    }
}

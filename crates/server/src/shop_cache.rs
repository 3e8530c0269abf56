//! People, instruments and sessions of the shop in memory.

use rigore_store::{Roster, SessionRow, TokenHash};
use std::collections::HashMap;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex, RwLock};
use std::time::{Duration, Instant};
use time::OffsetDateTime;

/// How long what was read of a session, and of the people of the shop, is good without being read again.
pub const KEPT: Duration = Duration::from_secs(20);
/// Sessions kept at most.
const MOST: usize = 10_000;
/// A session as it was read, and when; and whether that said that it is in use.
#[derive(Debug)]
struct ReadSession {
    at: Instant,
    in_use: bool,
    row: SessionRow,
}

/// People, instruments and sessions as they were last read, so that not every request asks the database.
#[derive(Debug, Default)]
pub struct ShopCache {
    roster: RwLock<Arc<Roster>>,
    /// Held by whoever reads the roster.
    pub renewing: tokio::sync::Mutex<()>,
    /// When the roster was read.
    read: RwLock<Option<Instant>>,
    sessions: Mutex<HashMap<TokenHash, ReadSession>>,
    /// How often sessions were forgotten: what was read before that is not kept after it.
    forgotten: AtomicU64,
}

impl ShopCache {
    /// The people and instruments as they are now.
    pub fn roster(&self) -> Arc<Roster> {
        Arc::clone(&self.roster.read().unwrap_or_else(std::sync::PoisonError::into_inner))
    }

    /// The people and instruments are these from now on, and sessions are read again.
    pub fn renew(&self, roster: Roster) {
        *self.roster.write().unwrap_or_else(std::sync::PoisonError::into_inner) = Arc::new(roster);
        *self.read.write().unwrap_or_else(std::sync::PoisonError::into_inner) = Some(Instant::now());
        self.forget();
    }

    /// Whether the people and instruments were read too long ago to go by them.
    pub fn is_stale(&self) -> bool {
        let read = *self.read.read().unwrap_or_else(std::sync::PoisonError::into_inner);
        read.is_none_or(|at| at.elapsed() > KEPT)
    }

    /// Sessions are read again before anybody goes by one.
    pub fn forget(&self) {
        self.forgotten.fetch_add(1, Ordering::SeqCst);
        self.sessions.lock().unwrap_or_else(std::sync::PoisonError::into_inner).clear();
    }

    /// A session that was read lately enough.
    pub fn session(&self, token: &TokenHash, in_use: bool) -> Option<SessionRow> {
        let sessions = self.sessions.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let read = sessions.get(token).filter(|read| read.at.elapsed() < KEPT && (read.in_use || !in_use))?;
        (read.row.ends > OffsetDateTime::now_utc()).then(|| read.row.clone())
    }

    /// How often sessions were forgotten.
    pub fn forgotten(&self) -> u64 {
        self.forgotten.load(Ordering::SeqCst)
    }

    /// Keeps what was read since sessions were forgotten so often.
    pub fn keep(&self, since: u64, token: TokenHash, in_use: bool, row: &SessionRow) {
        let mut sessions = self.sessions.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if self.forgotten.load(Ordering::SeqCst) != since {
            return;
        }
        if sessions.len() >= MOST {
            sessions.clear();
        }
        sessions.insert(token, ReadSession { at: Instant::now(), in_use, row: row.clone() });
    }
}

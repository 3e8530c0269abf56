//! Who is signed in, at which bench, and how often somebody guessed.

use crate::people::note;
use crate::{Store, StoreError};
use rigore_assembly::Person;
use rigore_mechanics::text;
use sqlx::postgres::types::PgInterval;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// The hash of what a browser holds.
pub type TokenHash = [u8; 32];

/// Somebody who is signed in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SessionRow {
    /// Key of the person.
    pub person: String,
    /// The bench it was begun at by a PIN.
    pub device: Option<Uuid>,
    /// When they last proved to be who they are.
    pub confirmed: OffsetDateTime,
    /// When it ends whatever happens.
    pub ends: OffsetDateTime,
}

/// How long a session lasts.
#[derive(Debug, Clone, Copy)]
pub struct SessionLength {
    /// Without anything being asked.
    pub idle: Duration,
    /// In all.
    pub age: Duration,
}

/// A guess of a secret.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SecretGuess {
    /// It may be looked at.
    Counted {
        /// How many failed before it.
        failed_before: i32,
    },
    /// It comes too soon after others.
    Wait {
        /// How long to wait.
        seconds: i64,
    },
}

/// A bench whose browser was enrolled.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BenchDevice {
    /// Its id.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// Who enrolled it.
    pub enrolled_by: String,
    /// When.
    pub enrolled_at: OffsetDateTime,
}

fn interval(of: Duration) -> PgInterval {
    PgInterval { months: 0, days: 0, microseconds: of.whole_seconds() * 1_000_000 }
}

impl Store {
    /// Begins a session; `proved` where its person has just proved to be who they are by a secret of their own.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn begin_session(
        &self,
        token: &TokenHash,
        person: &str,
        device: Option<Uuid>,
        lasts: SessionLength,
        proved: bool,
    ) -> Result<(), StoreError> {
        sqlx::query!(
            "INSERT INTO sessions (token, person, device, idle, ends, confirmed)
             VALUES ($1, $2, $3, $4, now() + $5, CASE WHEN $6 THEN now() ELSE 'epoch' END)",
            token,
            person,
            device,
            interval(lasts.idle),
            interval(lasts.age),
            proved
        )
        .execute(&self.pool)
        .await?;
        // Those that ended long ago, and guesses of long ago, are of no use to anybody.
        sqlx::query!("DELETE FROM sessions WHERE ends < now() OR seen + idle < now()")
            .execute(&self.pool)
            .await?;
        sqlx::query!("DELETE FROM tries WHERE last < now() - interval '2 days'").execute(&self.pool).await?;
        Ok(())
    }

    /// The session of a token that is still good, of somebody who works here. It is in use from now on where somebody
    /// did something, and not where a page only looks by itself.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn session(&self, token: &TokenHash, in_use: bool) -> Result<Option<SessionRow>, StoreError> {
        let row = sqlx::query_as!(
            SessionRow,
            "UPDATE sessions SET seen = CASE WHEN $2 THEN now() ELSE seen END
             FROM people
             WHERE token = $1 AND ends > now() AND seen + idle > now() AND people.id = person AND people.active
               AND NOT EXISTS (SELECT FROM devices WHERE devices.id = device AND retired)
             RETURNING person, device, confirmed, ends",
            token,
            in_use
        );
        Ok(row.fetch_optional(&self.pool).await?)
    }

    /// Whoever is signed in has just proved to be who they are.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn confirm_session(&self, token: &TokenHash) -> Result<(), StoreError> {
        let confirm = sqlx::query!("UPDATE sessions SET confirmed = now() WHERE token = $1", token);
        confirm.execute(&self.pool).await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Has every session as old as if so much time had gone by: for tests of what happens later.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn age_sessions(&self, by: Duration) -> Result<(), StoreError> {
        sqlx::query!(
            "UPDATE sessions SET began = began - $1::interval, seen = seen - $1, ends = ends - $1, confirmed = confirmed - $1",
            interval(by)
        )
        .execute(&self.pool)
        .await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Ends a session.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn end_session(&self, token: &TokenHash) -> Result<(), StoreError> {
        sqlx::query!("DELETE FROM sessions WHERE token = $1", token).execute(&self.pool).await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Ends every session of a person, everywhere at once.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn end_sessions_of(&self, person: &str) -> Result<(), StoreError> {
        sqlx::query!("DELETE FROM sessions WHERE person = $1", person).execute(&self.pool).await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Enrols a bench.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn enrol(
        &self,
        by: &Person,
        id: Uuid,
        name: &str,
        token: &TokenHash,
    ) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin().await?;
        sqlx::query!(
            "INSERT INTO devices (id, name, token, enrolled_by) VALUES ($1, $2, $3, $4)",
            id,
            name,
            token,
            by.name
        )
        .execute(&mut *transaction)
        .await?;
        note(&mut transaction, by, &format!("added bench {name}")).await?;
        Ok(transaction.commit().await?)
    }

    /// The bench of a token.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn device(&self, token: &TokenHash) -> Result<Option<BenchDevice>, StoreError> {
        let device = sqlx::query_as!(
            BenchDevice,
            "SELECT id, name, enrolled_by, enrolled_at FROM devices WHERE token = $1 AND NOT retired",
            token
        );
        Ok(device.fetch_optional(&self.pool).await?)
    }

    /// Every bench that is enrolled.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn devices(&self) -> Result<Vec<BenchDevice>, StoreError> {
        let devices = sqlx::query_as!(
            BenchDevice,
            "SELECT id, name, enrolled_by, enrolled_at FROM devices WHERE NOT retired ORDER BY enrolled_at"
        );
        Ok(devices.fetch_all(&self.pool).await?)
    }

    /// A bench is none any more; who is signed in at it is so no longer.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is none.
    pub async fn retire_device(&self, by: &Person, id: Uuid) -> Result<(), StoreError> {
        let mut transaction = self.pool.begin().await?;
        let retire = sqlx::query_scalar!(
            "UPDATE devices SET retired = true WHERE id = $1 AND NOT retired RETURNING name",
            id
        );
        let Some(name) = retire.fetch_optional(&mut *transaction).await? else {
            return Err(StoreError::NotThere(text!("store-bench", id = id.to_string())));
        };
        sqlx::query!("DELETE FROM sessions WHERE device = $1", id).execute(&mut *transaction).await?;
        note(&mut transaction, by, &format!("removed bench {name}")).await?;
        transaction.commit().await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Counts a guess before it is looked at: how many failed before it, or how long to wait first. After `free` that
    /// failed there is a wait between guesses, twice as long after each, up to a minute; a guess that has to wait is not
    /// counted. What failed longer ago than `forgotten` counts no more.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn guess(&self, key: &str, free: i32, forgotten: Duration) -> Result<SecretGuess, StoreError> {
        let counted = sqlx::query_scalar!(
            "INSERT INTO tries (key, failed, last) VALUES ($1, 1, now())
             ON CONFLICT (key) DO UPDATE SET
                 failed = CASE WHEN tries.last + $2 > now() THEN tries.failed + 1 ELSE 1 END, last = now()
             WHERE tries.failed < $3
                OR tries.last + make_interval(secs => least(60, power(2, least(tries.failed - $3, 6)))) <= now()
             RETURNING failed",
            key,
            interval(forgotten),
            free
        );
        if let Some(failed) = counted.fetch_optional(&self.pool).await? {
            return Ok(SecretGuess::Counted { failed_before: failed - 1 });
        }
        let left = sqlx::query_scalar!(
            r#"SELECT ceil(extract(epoch FROM last + make_interval(secs => least(60, power(2, least(failed - $2, 6))))
                 - now()))::bigint AS "left!" FROM tries WHERE key = $1"#,
            key,
            free
        );
        let left = left.fetch_optional(&self.pool).await?;
        Ok(SecretGuess::Wait { seconds: left.unwrap_or_default().max(1) })
    }

    /// What was guessed was right: that guess counts no more, and those before it do.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn uncount_guesses(&self, keys: &[String]) -> Result<(), StoreError> {
        sqlx::query!("UPDATE tries SET failed = greatest(failed - 1, 0) WHERE key = ANY($1)", keys)
            .execute(&self.pool)
            .await?;
        Ok(())
    }

    /// What was guessed was right: the guesses before it are forgotten.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn forget_guesses(&self, keys: &[String]) -> Result<(), StoreError> {
        sqlx::query!("DELETE FROM tries WHERE key = ANY($1)", keys).execute(&self.pool).await?;
        Ok(())
    }
}

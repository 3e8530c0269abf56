//! The people of the shop, as its leads keep them: nobody is deleted, and a lead is always left.

use crate::{Store, StoreError};
use rigore_assembly::{Person, Role};
use rigore_mechanics::text;
use serde::Serialize;
use sqlx::{PgConnection, Postgres, Transaction};
use time::OffsetDateTime;

/// Somebody of the shop, with how they can sign in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Member {
    /// Who they are.
    pub person: Person,
    /// Whether they work here still.
    pub active: bool,
    /// Their password, as a PHC string.
    pub password: Option<String>,
    /// Their PIN at a bench, as a PHC string.
    pub pin: Option<String>,
    /// Who has set their password for them, until they choose another.
    pub password_set_by: Option<String>,
    /// Who has set their PIN for them, until they choose another.
    pub pin_set_by: Option<String>,
}

/// What of a person is another from now on; what is not said stays.
#[derive(Debug, Clone, Default)]
pub struct MemberChange {
    /// What they are called.
    pub name: Option<String>,
    /// What they may decide.
    pub role: Option<Role>,
    /// Whether they work here.
    pub active: Option<bool>,
    /// Their password, as a PHC string.
    pub password: Option<String>,
    /// Their PIN, as a PHC string.
    pub pin: Option<String>,
}

/// The shop itself.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct ShopRow {
    /// What it is called.
    pub name: String,
    /// Its time zone, such as `Europe/Oslo`.
    pub zone: String,
    /// The unit torques are shown in to who chose none.
    pub torque_unit: String,
    /// The unit lengths are shown in to who chose none.
    pub length_unit: String,
}

/// Something that was done in the administration.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct AuditRow {
    /// Its number.
    pub id: i64,
    /// When.
    pub at: OffsetDateTime,
    /// Who.
    pub by_name: String,
    /// What.
    pub what: String,
}

/// Why people were not changed.
#[derive(Debug, thiserror::Error)]
pub enum PeopleError {
    /// Nobody of this key.
    #[error("{}", text!("people-nobody-of-this-key"))]
    Nobody,
    /// No lead would be left.
    #[error("{}", text!("people-last-lead-stays-one"))]
    LastLead,
    /// The shop has people already.
    #[error("{}", text!("people-shop-has-its-first-lead"))]
    Founded,
    /// The store does not answer, or what it holds cannot be read.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl From<sqlx::Error> for PeopleError {
    fn from(error: sqlx::Error) -> Self {
        Self::Store(error.into())
    }
}

fn body(person: &Person) -> Result<serde_json::Value, StoreError> {
    serde_json::to_value(person).map_err(StoreError::unreadable)
}

/// Writes down what was done in the administration, in the transaction that does it.
pub(crate) async fn note(on: &mut PgConnection, by: &Person, what: &str) -> Result<(), sqlx::Error> {
    sqlx::query!("INSERT INTO doings (by_id, by_name, what) VALUES ($1, $2, $3)", by.id, by.name, what)
        .execute(on)
        .await?;
    Ok(())
}

impl Store {
    /// Everybody, in the order they came.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn members(&self) -> Result<Vec<Member>, StoreError> {
        let rows = sqlx::query!(
            "SELECT body, active, password, pin, password_set_by, pin_set_by FROM people ORDER BY position, id"
        );
        let mut members = Vec::new();
        for row in rows.fetch_all(&self.pool).await? {
            let person = serde_json::from_value(row.body).map_err(StoreError::unreadable)?;
            members.push(Member {
                person,
                active: row.active,
                password: row.password,
                pin: row.pin,
                password_set_by: row.password_set_by,
                pin_set_by: row.pin_set_by,
            });
        }
        Ok(members)
    }

    /// The shop; `None` before its first run.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn shop(&self) -> Result<Option<ShopRow>, StoreError> {
        let shop = sqlx::query_as!(ShopRow, "SELECT name, zone, torque_unit, length_unit FROM shop");
        Ok(shop.fetch_optional(&self.pool).await?)
    }

    /// When the shop was founded; none before its first run.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn founded_at(&self) -> Result<Option<OffsetDateTime>, StoreError> {
        let founded = sqlx::query_scalar!("SELECT founded_at FROM shop");
        Ok(founded.fetch_optional(&self.pool).await?)
    }

    /// Founds an empty shop: what it is called, and its first lead with a password.
    ///
    /// # Errors
    /// [`PeopleError::Founded`] where it has people already.
    pub async fn found(&self, shop: &ShopRow, lead: &Person, password: &str) -> Result<(), PeopleError> {
        let mut transaction = self.people_locked().await?;
        let people = sqlx::query_scalar!("SELECT count(*) FROM people").fetch_one(&mut *transaction).await?;
        if people != Some(0) {
            return Err(PeopleError::Founded);
        }
        sqlx::query!(
            "INSERT INTO shop (name, zone, torque_unit, length_unit) VALUES ($1, $2, $3, $4)
             ON CONFLICT (one) DO UPDATE SET name = excluded.name, zone = excluded.zone,
                 torque_unit = excluded.torque_unit, length_unit = excluded.length_unit",
            shop.name,
            shop.zone,
            shop.torque_unit,
            shop.length_unit
        )
        .execute(&mut *transaction)
        .await?;
        sqlx::query!(
            "INSERT INTO people (id, position, body, password) VALUES ($1, 0, $2, $3)",
            lead.id,
            body(lead)?,
            password
        )
        .execute(&mut *transaction)
        .await?;
        note(&mut transaction, lead, &format!("created the shop {}", shop.name)).await?;
        transaction.commit().await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Adds somebody.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn add_member(
        &self,
        by: &Person,
        person: &Person,
        password: Option<&str>,
    ) -> Result<(), PeopleError> {
        let mut transaction = self.people_locked().await?;
        sqlx::query!(
            "INSERT INTO people (id, position, body, password, password_set_by)
             VALUES ($1, (SELECT coalesce(max(position), -1) + 1 FROM people), $2, $3,
                 CASE WHEN $3::text IS NOT NULL THEN $4::text END)",
            person.id,
            body(person)?,
            password,
            by.name
        )
        .execute(&mut *transaction)
        .await?;
        note(&mut transaction, by, &format!("added {} as {}", person.name, role(person.role))).await?;
        transaction.commit().await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Changes somebody. Who works here no more, or has another password, is signed out everywhere.
    ///
    /// # Errors
    /// [`PeopleError::Nobody`], or [`PeopleError::LastLead`] where no lead would be left.
    pub async fn change_member(
        &self,
        by: &Person,
        id: &str,
        change: &MemberChange,
    ) -> Result<Person, PeopleError> {
        let mut transaction = self.people_locked().await?;
        let row = sqlx::query!("SELECT body, active FROM people WHERE id = $1", id);
        let row = row.fetch_optional(&mut *transaction).await?.ok_or(PeopleError::Nobody)?;
        let was: Person = serde_json::from_value(row.body).map_err(StoreError::unreadable)?;
        let now = Person {
            id: was.id.clone(),
            name: change.name.clone().unwrap_or_else(|| was.name.clone()),
            role: change.role.unwrap_or(was.role),
        };
        let active = change.active.unwrap_or(row.active);
        sqlx::query!(
            "UPDATE people SET body = $2, active = $3, password = coalesce($4, password), pin = coalesce($5, pin),
                 password_set_by = CASE WHEN $4::text IS NULL THEN password_set_by ELSE $6 END,
                 pin_set_by = CASE WHEN $5::text IS NULL THEN pin_set_by ELSE $6 END
             WHERE id = $1",
            id,
            body(&now)?,
            active,
            change.password,
            change.pin,
            // What somebody chose for themselves is their own.
            (by.id != id).then_some(by.name.as_str())
        )
        .execute(&mut *transaction)
        .await?;
        let leads = sqlx::query_scalar!(
            "SELECT count(*) FROM people WHERE active AND body->>'role' = 'lead' AND password IS NOT NULL"
        );
        let was_lead = was.role == Role::Lead && row.active;
        if was_lead && leads.fetch_one(&mut *transaction).await? == Some(0) {
            return Err(PeopleError::LastLead);
        }
        if !active || change.password.is_some() {
            sqlx::query!("DELETE FROM sessions WHERE person = $1", id).execute(&mut *transaction).await?;
        }
        for what in told(&was, row.active, &now, active, change) {
            note(&mut transaction, by, &what).await?;
        }
        transaction.commit().await?;
        self.tell_shop().await;
        Ok(now)
    }

    /// What was done in the administration, the last first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn doings(&self, most: i64) -> Result<Vec<AuditRow>, StoreError> {
        let rows = sqlx::query_as!(
            AuditRow,
            "SELECT id, at, by_name, what FROM doings ORDER BY id DESC LIMIT $1",
            most
        );
        Ok(rows.fetch_all(&self.pool).await?)
    }

    /// A transaction in which nobody else changes people.
    async fn people_locked(&self) -> Result<Transaction<'static, Postgres>, sqlx::Error> {
        let mut transaction = self.pool.begin().await?;
        sqlx::query("LOCK TABLE people IN SHARE ROW EXCLUSIVE MODE").execute(&mut *transaction).await?;
        Ok(transaction)
    }
}

fn role(role: Role) -> &'static str {
    match role {
        Role::Viewer => "viewer",
        Role::Bench => "bench",
        Role::Lead => "lead",
    }
}

/// What a change was, in words.
fn told(was: &Person, was_active: bool, now: &Person, active: bool, change: &MemberChange) -> Vec<String> {
    let mut all = Vec::new();
    if was.name != now.name {
        all.push(format!("{} is called {} from now on", was.name, now.name));
    }
    if was.role != now.role {
        all.push(format!("{} is {} from now on, and was {}", now.name, role(now.role), role(was.role)));
    }
    if was_active != active {
        let what = if active { "works here again" } else { "works here no more" };
        all.push(format!("{} {what}", now.name));
    }
    if change.password.is_some() {
        all.push(format!("{} has another password", now.name));
    }
    if change.pin.is_some() {
        all.push(format!("{} has another PIN", now.name));
    }
    all
}

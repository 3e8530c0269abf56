//! The people and instruments of the shop.

use crate::people::note;
use crate::{Store, StoreError};
use rigore_assembly::{Instrument, Person};
use std::collections::BTreeMap;

/// The people and instruments of the shop, in the order they are shown.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Roster {
    /// People by name and role, those who work here no more among them.
    pub people: Vec<Person>,
    /// Instruments with range and calibration.
    pub instruments: Vec<Instrument>,
}

impl Roster {
    /// The person with this key.
    pub fn person(&self, id: &str) -> Option<&Person> {
        self.people.iter().find(|person| person.id == id)
    }

    /// The instrument with this key.
    pub fn instrument(&self, id: &str) -> Option<&Instrument> {
        self.instruments.iter().find(|instrument| instrument.id == id)
    }
}

impl Store {
    /// What click wrenches are set to, N·m, by key, where somebody said so.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn settings(&self) -> Result<BTreeMap<String, f64>, StoreError> {
        let settings = sqlx::query!("SELECT instrument, torque_nm FROM wrench_settings");
        let settings = settings.fetch_all(&self.pool).await?;
        Ok(settings.into_iter().map(|row| (row.instrument, row.torque_nm)).collect())
    }

    /// Reads the roster.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn roster(&self) -> Result<Roster, StoreError> {
        let people =
            sqlx::query_scalar!("SELECT body FROM people ORDER BY position").fetch_all(&self.pool).await?;
        let instruments =
            sqlx::query_scalar!("SELECT body FROM instruments WHERE active ORDER BY position, id")
                .fetch_all(&self.pool)
                .await?;
        let people = people.into_iter().map(serde_json::from_value).collect::<Result<_, _>>();
        let instruments = instruments.into_iter().map(serde_json::from_value).collect::<Result<Vec<_>, _>>();
        let mut instruments: Vec<Instrument> = instruments.map_err(StoreError::unreadable)?;
        // Nobody has to buy hand and eye.
        instruments.retain(|instrument| instrument.id != Instrument::hand().id);
        instruments.push(Instrument::hand());
        self.mark_wrong(instruments.iter_mut()).await?;
        Ok(Roster { people: people.map_err(StoreError::unreadable)?, instruments })
    }

    /// Every instrument that the shop has or had, with whether it is in use.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn register(&self) -> Result<Vec<(Instrument, bool)>, StoreError> {
        let rows = sqlx::query!("SELECT body, active FROM instruments ORDER BY position, id");
        let rows = rows.fetch_all(&self.pool).await?;
        let of = |body| serde_json::from_value(body).map_err(StoreError::unreadable);
        let register = rows.into_iter().map(|row| Ok((of(row.body)?, row.active)));
        let mut register: Vec<(Instrument, bool)> = register.collect::<Result<_, StoreError>>()?;
        self.mark_wrong(register.iter_mut().map(|(instrument, _)| instrument)).await?;
        Ok(register)
    }

    /// Marks those of some instruments that their last check found wrong.
    async fn mark_wrong<'a>(&self, of: impl Iterator<Item = &'a mut Instrument>) -> Result<(), StoreError> {
        let last = sqlx::query!(
            "SELECT DISTINCT ON (instrument) instrument, good FROM checks ORDER BY instrument, at DESC"
        );
        let last = last.fetch_all(&self.pool).await?;
        let wrong: Vec<String> = last.into_iter().filter(|row| !row.good).map(|row| row.instrument).collect();
        for instrument in of {
            instrument.found_wrong = wrong.contains(&instrument.id);
        }
        Ok(())
    }

    /// Keeps an instrument as it is from now on: a new one, or one that is known. What was done with it before stays
    /// as it was then.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn keep_instrument(
        &self,
        by: &Person,
        instrument: &Instrument,
        active: bool,
        what: &str,
    ) -> Result<(), StoreError> {
        // That is what its checks say.
        let instrument = Instrument { found_wrong: false, ..instrument.clone() };
        let body = serde_json::to_value(&instrument).map_err(StoreError::unreadable)?;
        let mut transaction = self.pool.begin().await?;
        sqlx::query!(
            "INSERT INTO instruments (id, position, body, active)
             VALUES ($1, (SELECT coalesce(max(position), -1) + 1 FROM instruments), $2, $3)
             ON CONFLICT (id) DO UPDATE SET body = excluded.body, active = excluded.active",
            instrument.id,
            body,
            active
        )
        .execute(&mut *transaction)
        .await?;
        note(&mut transaction, by, what).await?;
        transaction.commit().await?;
        self.tell_shop().await;
        Ok(())
    }

    /// Adds or replaces the people and instruments of a roster.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn add_roster(&self, roster: &Roster) -> Result<(), StoreError> {
        let body = |value: serde_json::Result<serde_json::Value>| value.map_err(StoreError::unreadable);
        for (position, person) in (0..).zip(&roster.people) {
            sqlx::query!(
                "INSERT INTO people (id, position, body) VALUES ($1, $2, $3)
                 ON CONFLICT (id) DO UPDATE SET position = excluded.position, body = excluded.body",
                person.id,
                position,
                body(serde_json::to_value(person))?
            )
            .execute(&self.pool)
            .await?;
        }
        for (position, instrument) in (0..).zip(&roster.instruments) {
            sqlx::query!(
                "INSERT INTO instruments (id, position, body) VALUES ($1, $2, $3)
                 ON CONFLICT (id) DO UPDATE SET position = excluded.position, body = excluded.body",
                instrument.id,
                position,
                body(serde_json::to_value(instrument))?
            )
            .execute(&self.pool)
            .await?;
        }
        self.tell_shop().await;
        Ok(())
    }
}

//! Days as they are written, `YYYY-MM-DD`.

time::serde::format_description!(date, Date, "[year]-[month]-[day]");

pub use date::{deserialize, serialize};

/// A day that may not be there.
pub mod option {
    pub use super::date::option::serialize;
    use serde::{Deserialize, Deserializer};
    use time::Date;

    #[derive(Deserialize)]
    struct Day(#[serde(with = "super")] Date);

    /// Reads it, also where nothing is said in so many words.
    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Option<Date>, D::Error> {
        Ok(Option::<Day>::deserialize(from)?.map(|day| day.0))
    }
}

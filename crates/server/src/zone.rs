//! The clock of the shop.

use jiff::Timestamp;
use jiff::tz::TimeZone;
use time::{OffsetDateTime, PrimitiveDateTime, UtcOffset};

/// The clock of a shop in a time zone.
#[derive(Debug, Clone)]
pub struct ShopZone(TimeZone);

impl ShopZone {
    /// The clock of a zone such as `Europe/Oslo`; `None` where there is no such zone.
    pub fn named(name: &str) -> Option<Self> {
        TimeZone::get(name).ok().map(Self)
    }

    /// That of a zone, or UTC where there is none of that name: a shop that was founded before zones were looked at.
    pub fn of(name: Option<&str>) -> Self {
        name.and_then(Self::named).unwrap_or(Self(TimeZone::UTC))
    }

    /// What the clock shows.
    pub fn shows(&self, at: OffsetDateTime) -> PrimitiveDateTime {
        let seconds =
            Timestamp::from_second(at.unix_timestamp()).map_or(0, |stamp| self.0.to_offset(stamp).seconds());
        let local = at.to_offset(UtcOffset::from_whole_seconds(seconds).unwrap_or(UtcOffset::UTC));
        PrimitiveDateTime::new(local.date(), local.time())
    }
}

#[cfg(test)]
mod tests {
    use super::ShopZone;
    use time::macros::datetime;

    #[test]
    fn the_clock_goes_by_the_zone_and_its_summer() {
        let oslo = ShopZone::named("Europe/Oslo").expect("a zone");
        assert_eq!(oslo.shows(datetime!(2026-01-15 23:30 UTC)), datetime!(2026-01-16 00:30));
        assert_eq!(oslo.shows(datetime!(2026-07-15 23:30 UTC)), datetime!(2026-07-16 01:30));
        assert!(ShopZone::named("Nowhere/Here").is_none());
        assert_eq!(
            ShopZone::of(Some("no zone")).shows(datetime!(2026-01-15 23:30 UTC)),
            datetime!(2026-01-15 23:30)
        );
    }
}

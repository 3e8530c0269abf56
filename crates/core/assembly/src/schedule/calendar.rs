//! The hours in which a shop works.

use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde::{Deserialize, Serialize};
use time::{Date, Duration, PrimitiveDateTime, Time};

/// Minutes of a day.
const DAY: u16 = 24 * 60;

/// The hours in which a shop works, by its own clock.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct WorkingHours {
    /// When work begins, minutes after midnight.
    pub from_min: u16,
    /// When it ends, minutes after midnight.
    pub to_min: u16,
    /// On which days, Monday first.
    pub days: [bool; 7],
}

impl Default for WorkingHours {
    /// Eight hours on five days.
    fn default() -> Self {
        Self { from_min: 8 * 60, to_min: 16 * 60, days: [true, true, true, true, true, false, false] }
    }
}

impl WorkingHours {
    /// Whether anything can be done in it.
    ///
    /// # Errors
    /// The field that is wrong, and what is allowed.
    pub fn check(&self) -> Result<(), (&'static str, Message)> {
        if !self.days.contains(&true) {
            return Err(("days", message!("assembly-one-day-week-at-least-needed")));
        }
        if self.to_min > DAY || self.from_min + 30 > self.to_min {
            return Err(("to_min", message!("assembly-end-day-half-hour-after-begin")));
        }
        Ok(())
    }

    /// Minutes that are worked on a day.
    pub fn daily_min(&self) -> f64 {
        f64::from(self.to_min.saturating_sub(self.from_min))
    }

    fn works_on(&self, day: Date) -> bool {
        self.days[usize::from(day.weekday().number_days_from_monday())]
    }

    /// When so many minutes of work are done that begin at a time; the time itself where it is nothing.
    pub fn after(&self, start: PrimitiveDateTime, minutes: f64) -> PrimitiveDateTime {
        if minutes <= 0.0 || self.check().is_err() {
            return start;
        }
        let (from, to) = (f64::from(self.from_min), f64::from(self.to_min));
        let at = |time: Time| f64::from(time.hour()) * 60.0 + f64::from(time.minute());
        let mut day = start.date();
        let mut now = at(start.time()).max(from);
        // Whole weeks at once.
        let weekly =
            self.daily_min() * f64::from(u8::try_from(self.days.iter().filter(|d| **d).count()).unwrap_or(7));
        let mut left = minutes;
        let weeks = (left / weekly).floor();
        #[expect(clippy::cast_possible_truncation, reason = "bounded")]
        if let Some(later) = day.checked_add(Duration::weeks(weeks.min(5000.0) as i64)) {
            day = later;
            left -= weeks * weekly;
        }
        // What is exactly a number of weeks ends where it began.
        if left <= 0.0 {
            (day, left) = (day - Duration::WEEK, weekly);
        }
        for _ in 0..=14 {
            if self.works_on(day) && now < to {
                if left <= to - now {
                    return day.midnight() + Duration::seconds_f64((now + left) * 60.0);
                }
                left -= to - now;
            }
            let Some(next) = day.next_day() else { break };
            (day, now) = (next, from);
        }
        day.midnight()
    }
}

#[cfg(test)]
mod tests {
    use super::WorkingHours;
    use proptest::prelude::*;
    use time::macros::datetime;

    #[test]
    fn work_goes_on_in_the_hours_of_the_shop() {
        let calendar = WorkingHours::default();
        // A Thursday.
        for (start, minutes, end) in [
            (datetime!(2026-11-26 09:00), 60.0, datetime!(2026-11-26 10:00)),
            (datetime!(2026-11-26 05:00), 60.0, datetime!(2026-11-26 09:00)),
            (datetime!(2026-11-26 15:30), 60.0, datetime!(2026-11-27 08:30)),
            (datetime!(2026-11-27 15:30), 60.0, datetime!(2026-11-30 08:30)),
            (datetime!(2026-11-28 12:00), 30.0, datetime!(2026-11-30 08:30)),
            (datetime!(2026-11-26 08:00), 480.0, datetime!(2026-11-26 16:00)),
            (datetime!(2026-11-26 08:00), 2400.0, datetime!(2026-12-02 16:00)),
            (datetime!(2026-11-26 08:00), 2430.0, datetime!(2026-12-03 08:30)),
            (datetime!(2026-11-26 12:00), 4800.0, datetime!(2026-12-10 12:00)),
            (datetime!(2026-11-26 20:00), 0.0, datetime!(2026-11-26 20:00)),
        ] {
            assert_eq!(calendar.after(start, minutes), end, "{start} and {minutes} min");
        }
        assert!(WorkingHours { days: [false; 7], ..calendar }.check().is_err());
        assert!(WorkingHours { to_min: 500, ..calendar }.check().is_err());
    }

    proptest! {
        #[test]
        fn work_done_in_two_parts_ends_when_it_would_in_one(
            days in prop::array::uniform7(any::<bool>()), from in 0u16..1000, long in 30u16..400,
            first in 1u32..20_000, second in 1u32..20_000, start in 0i64..10_000
        ) {
            let calendar = WorkingHours { from_min: from, to_min: from + long, days };
            prop_assume!(calendar.check().is_ok());
            let start = datetime!(2026-11-26 08:00) + time::Duration::minutes(start);
            let whole = calendar.after(start, f64::from(first + second));
            let parts = calendar.after(calendar.after(start, f64::from(first)), f64::from(second));
            prop_assert_eq!(whole, parts);
        }
    }
}

//! When each engine of the shop can be ready: by the work that is left on it, what it waits for, and all others' work.

use super::calendar::WorkingHours;
use super::promises::{ScheduledJob, place};
use super::remaining::RemainingWork;
use crate::{BlockedBy, BuildOutlook};
use time::{Date, OffsetDateTime, PrimitiveDateTime};

/// An engine in its place among the others.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ScheduledEngine {
    /// Which one, by its place in what was asked.
    pub engine: usize,
    /// The day on which it can be ready; none where it waits for something that nobody knows a day of.
    pub ready: Option<Date>,
    /// Whether that is later than it was promised.
    pub late: bool,
}

impl ScheduledEngine {
    /// Whether a promise holds, as far as anybody knows: it does not where nobody knows when the engine is ready.
    pub fn holds(&self) -> bool {
        self.ready.is_some() && !self.late
    }
}

/// The clock of the shop.
pub struct ShopClock<F> {
    /// What it shows at a time.
    pub shows: F,
    /// What it shows now.
    pub now: PrimitiveDateTime,
    /// When the shop works.
    pub hours: WorkingHours,
}

/// When work can begin, and when the last thing is here that a part of it waits for.
#[derive(Default)]
struct Bounds {
    begin: Option<PrimitiveDateTime>,
    here: Option<PrimitiveDateTime>,
}

/// What waiting means for an engine; `None` where nobody knows.
fn bounds(outlook: &BuildOutlook, shows: impl Fn(OffsetDateTime) -> PrimitiveDateTime) -> Option<Bounds> {
    let mut bounds = Bounds::default();
    for wait in &outlook.waits {
        let until = wait.expected.map(Date::midnight).or(wait.until.map(&shows));
        // A figure is looked up when it is wanted; an instrument is checked, calibrated, or borrowed.
        if until.is_none() && !matches!(wait.cause, BlockedBy::Figure | BlockedBy::Instrument) {
            return None;
        }
        let bound = if wait.whole { &mut bounds.begin } else { &mut bounds.here };
        *bound = (*bound).max(until);
    }
    Some(bounds)
}

/// The engines in the order that keeps most promises; those that nobody can say a day of come last.
pub fn schedule<F: Fn(OffsetDateTime) -> PrimitiveDateTime>(
    engines: &[(&BuildOutlook, RemainingWork)],
    hands: usize,
    clock: &ShopClock<F>,
) -> Vec<ScheduledEngine> {
    let (mut which, mut jobs, mut unknown) = (Vec::new(), Vec::new(), Vec::new());
    for (engine, (outlook, remaining)) in engines.iter().enumerate() {
        let promised = outlook.promised;
        let Some(Bounds { begin, here }) = bounds(outlook, &clock.shows) else {
            let late = promised.is_some_and(|day| clock.now.date() > day);
            unknown.push(ScheduledEngine { engine, ready: None, late });
            continue;
        };
        which.push(engine);
        jobs.push(ScheduledJob {
            minutes: remaining.minutes,
            not_before: begin,
            not_ready_before: here,
            promised,
        });
    }
    let placed = place(&jobs, hands, &clock.hours, clock.now).into_iter();
    let placed = placed.map(|of| ScheduledEngine {
        engine: which[of.job],
        ready: Some(of.ready.date()),
        late: of.late,
    });
    placed.chain(unknown).collect()
}

#[cfg(test)]
mod tests {
    use super::{ShopClock, schedule};
    use crate::schedule::{RemainingWork, WorkingHours};
    use crate::{BlockedBy, BlockedWork, BuildOutlook};
    use time::macros::{date, datetime};
    use time::{Date, PrimitiveDateTime};

    fn waiting(cause: BlockedBy, whole: bool, expected: Option<Date>, promised: Date) -> BuildOutlook {
        let wait =
            BlockedWork { cause, what: "w".into(), whole, operations: Vec::new(), until: None, expected };
        BuildOutlook { promised: Some(promised), waits: vec![wait], ..BuildOutlook::default() }
    }

    #[test]
    fn what_waits_is_ready_after_what_it_waits_for_and_nobody_knows_when_a_hold_ends() {
        let soon = date!(2026 - 11 - 27);
        let outlooks = [
            waiting(BlockedBy::Hold, true, None, soon),
            waiting(BlockedBy::Away, true, Some(date!(2026 - 12 - 02)), date!(2026 - 12 - 02)),
            waiting(BlockedBy::Order, false, Some(date!(2026 - 12 - 01)), date!(2026 - 11 - 30)),
            waiting(BlockedBy::Figure, false, None, soon),
            waiting(BlockedBy::Hold, true, None, date!(2026 - 11 - 20)),
        ];
        let work = RemainingWork { minutes: 120.0, ..RemainingWork::default() };
        let engines: Vec<_> = outlooks.iter().map(|outlook| (outlook, work)).collect();
        let shows = |at: time::OffsetDateTime| PrimitiveDateTime::new(at.date(), at.time());
        let clock = ShopClock { shows, now: datetime!(2026-11-26 09:00), hours: WorkingHours::default() };
        let mut said = schedule(&engines, 2, &clock);
        said.sort_by_key(|of| of.engine);
        let said: Vec<_> = said.iter().map(|of| (of.ready, of.late)).collect();
        assert_eq!(
            said,
            [
                (None, false),
                (Some(date!(2026 - 12 - 02)), false),
                (Some(date!(2026 - 12 - 01)), true),
                (Some(date!(2026 - 11 - 26)), false),
                (None, true),
            ]
        );
    }
}

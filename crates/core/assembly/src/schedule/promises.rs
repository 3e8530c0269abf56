//! In which order most promises are kept.
//!
//! Engines are taken in the order of the days they were promised for; where one would be late, the one with the most
//! work of those so far goes to the end (J. M. Moore's rule of 1968, which keeps the most promises that one person
//! can). With more hands each engine goes to whoever is free first, and the rule is a good one, not a proven one.

use super::calendar::WorkingHours;
use time::{Date, PrimitiveDateTime};

/// Work on one engine.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ScheduledJob {
    /// How much is left, minutes.
    pub minutes: f64,
    /// Before when it cannot begin.
    pub not_before: Option<PrimitiveDateTime>,
    /// When the last thing is here that a part of the work waits for.
    pub not_ready_before: Option<PrimitiveDateTime>,
    /// The day it was promised for.
    pub promised: Option<Date>,
}

/// When an engine can be ready.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ReadyTime {
    /// Which one, by its place in what was asked.
    pub job: usize,
    /// When it is ready.
    pub ready: PrimitiveDateTime,
    /// Whether that is later than it was promised.
    pub late: bool,
}

/// The order that keeps most promises, with when each engine is ready, worked on by so many people from now on.
pub fn place(
    jobs: &[ScheduledJob],
    hands: usize,
    calendar: &WorkingHours,
    now: PrimitiveDateTime,
) -> Vec<ReadyTime> {
    let mut dated: Vec<usize> = (0..jobs.len()).filter(|job| jobs[*job].promised.is_some()).collect();
    dated.sort_by_key(|job| jobs[*job].promised);
    let bench = Bench { jobs, hands: hands.max(1), calendar, now };
    let (mut kept, mut broken): (Vec<usize>, Vec<usize>) = (Vec::new(), Vec::new());
    let mut free = bench.all_free();
    for job in dated {
        kept.push(job);
        let before = free.clone();
        if !bench.put(&mut free, job).late {
            continue;
        }
        // What goes to the end is what makes most room; one that is late whatever is done makes none.
        let alone = bench.put(&mut bench.all_free(), job);
        if alone.late {
            kept.pop();
            broken.push(job);
            free = before;
            continue;
        }
        let longest = kept.iter().copied().max_by(|a, b| jobs[*a].minutes.total_cmp(&jobs[*b].minutes));
        let longest = longest.unwrap_or(job);
        kept.retain(|other| *other != longest);
        broken.push(longest);
        free = bench.all_free();
        for other in &kept {
            bench.put(&mut free, *other);
        }
    }
    broken.sort_by_key(|job| jobs[*job].promised);
    let rest = (0..jobs.len()).filter(|job| jobs[*job].promised.is_none());
    let order: Vec<usize> = kept.into_iter().chain(broken).chain(rest).collect();
    let mut free = bench.all_free();
    order.into_iter().map(|job| bench.put(&mut free, job)).collect()
}

struct Bench<'a> {
    jobs: &'a [ScheduledJob],
    hands: usize,
    calendar: &'a WorkingHours,
    now: PrimitiveDateTime,
}

impl Bench<'_> {
    fn all_free(&self) -> Vec<PrimitiveDateTime> {
        vec![self.now; self.hands]
    }

    /// Puts an engine to whoever is free first.
    fn put(&self, free: &mut [PrimitiveDateTime], job: usize) -> ReadyTime {
        let of = &self.jobs[job];
        let first = (0..free.len()).min_by_key(|hand| free[*hand]).unwrap_or(0);
        let start = free[first].max(of.not_before.unwrap_or(free[first]));
        let ready = self.calendar.after(start, of.minutes);
        let ready = match of.not_ready_before {
            // What waits for it is done after it: an hour at the least.
            Some(here) => ready.max(self.calendar.after(here, 60.0)),
            None => ready,
        };
        // Who waits for it does something else meanwhile: only the work itself takes their time.
        free[first] = self.calendar.after(free[first], of.minutes);
        ReadyTime { job, ready, late: of.promised.is_some_and(|day| ready.date() > day) }
    }
}

#[cfg(test)]
mod tests {
    use super::{ReadyTime, ScheduledJob, WorkingHours, place};
    use proptest::prelude::*;
    use time::Duration;
    use time::macros::{date, datetime};

    const NOW: time::PrimitiveDateTime = datetime!(2026-11-26 08:00);

    fn late(placed: &[ReadyTime]) -> usize {
        placed.iter().filter(|placed| placed.late).count()
    }

    #[test]
    fn one_long_engine_waits_so_that_two_promises_hold() {
        let job = |hours: f64, promised| ScheduledJob {
            minutes: hours * 60.0,
            not_before: None,
            not_ready_before: None,
            promised: Some(promised),
        };
        let jobs = [
            job(14.0, date!(2026 - 11 - 27)),
            job(6.0, date!(2026 - 11 - 27)),
            job(8.0, date!(2026 - 11 - 30)),
            ScheduledJob { promised: None, ..job(1.0, date!(2026 - 11 - 30)) },
        ];
        let placed = place(&jobs, 1, &WorkingHours::default(), NOW);
        let order: Vec<usize> = placed.iter().map(|placed| placed.job).collect();
        assert_eq!((order.as_slice(), late(&placed)), ([1, 2, 0, 3].as_slice(), 1));
        assert_eq!(placed[1].ready, datetime!(2026-11-27 14:00));
        // Two people keep all of them.
        assert_eq!(late(&place(&jobs, 2, &WorkingHours::default(), NOW)), 0);
        // What cannot begin before its part is here is not ready before.
        let waits = ScheduledJob { not_before: Some(datetime!(2026-12-01 12:00)), ..jobs[1] };
        let placed = place(&[waits], 1, &WorkingHours::default(), NOW);
        assert_eq!((placed[0].ready, placed[0].late), (datetime!(2026-12-02 10:00), true));
    }

    proptest! {
        /// With one person no other order keeps more promises.
        #[test]
        fn no_order_keeps_more(
            jobs in prop::collection::vec((1u32..40, 0i64..12), 1..7)
        ) {
            let jobs: Vec<ScheduledJob> = jobs.iter().map(|(hours, days)| ScheduledJob {
                minutes: f64::from(*hours) * 60.0,
                not_before: None,
                not_ready_before: None,
                promised: Some(NOW.date() + Duration::days(*days)),
            }).collect();
            let calendar = WorkingHours::default();
            let placed = place(&jobs, 1, &calendar, NOW);
            let mut order: Vec<usize> = placed.iter().map(|placed| placed.job).collect();
            order.sort_unstable();
            prop_assert_eq!(order, (0..jobs.len()).collect::<Vec<_>>());
            let mut least = usize::MAX;
            permute(&mut (0..jobs.len()).collect::<Vec<_>>(), 0, &mut |order| {
                let mut at = NOW;
                let mut late = 0;
                for job in order {
                    at = calendar.after(at, jobs[*job].minutes);
                    late += usize::from(jobs[*job].promised.is_some_and(|day| at.date() > day));
                }
                least = least.min(late);
            });
            prop_assert_eq!(late(&placed), least);
        }
    }

    fn permute(order: &mut Vec<usize>, from: usize, see: &mut impl FnMut(&[usize])) {
        if from == order.len() {
            return see(order);
        }
        for other in from..order.len() {
            order.swap(from, other);
            permute(order, from + 1, see);
            order.swap(from, other);
        }
    }
}

//! How much work is left on an engine, by the shop's own times.

use crate::RemainingOperation;
use serde::Serialize;

/// Records of a step from which on the shop's own time is believed rather than the plan's.
pub const ENOUGH: u32 = 5;

/// How long a step took this shop.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct UsualDuration {
    /// How often it was recorded.
    pub records: u32,
    /// Half of them took less, minutes.
    pub median_min: f64,
    /// A quarter of them took less, minutes.
    pub low_min: f64,
    /// A quarter of them took more, minutes.
    pub high_min: f64,
}

/// How much work is left.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RemainingWork {
    /// Most likely, minutes.
    pub minutes: f64,
    /// From, minutes: by the quicker quarter of what the shop took. The same as `minutes` where only plans are known.
    pub low_min: f64,
    /// To, minutes.
    pub high_min: f64,
    /// The share of it that the shop's own times say, from 0 to 1; the rest is what plans say.
    pub known: f64,
}

/// How much work is left in operations, with how long each took this shop.
pub fn remaining<'a>(
    left: &'a [RemainingOperation],
    usual: impl Fn(&'a str) -> Option<UsualDuration>,
) -> RemainingWork {
    let mut sum = RemainingWork::default();
    let mut known = 0.0;
    for of in left {
        let own = usual(&of.step).filter(|usual| usual.records >= ENOUGH);
        let plan = UsualDuration {
            records: 0,
            median_min: of.plan_min,
            low_min: of.plan_min,
            high_min: of.plan_min,
        };
        let by = own.unwrap_or(plan);
        sum.minutes += of.share * by.median_min;
        sum.low_min += of.share * by.low_min;
        sum.high_min += of.share * by.high_min;
        known += own.map_or(0.0, |own| of.share * own.median_min);
    }
    sum.known = if sum.minutes > 0.0 { known / sum.minutes } else { 0.0 };
    sum
}

#[cfg(test)]
mod tests {
    use super::{UsualDuration, remaining};
    use crate::RemainingOperation;

    #[test]
    fn a_shops_own_times_are_believed_from_the_fifth_record_on() {
        let left = |step: &str, share, plan_min| RemainingOperation { step: step.into(), share, plan_min };
        let line = [left("mains", 0.5, 60.0), left("heads", 1.0, 40.0)];
        let usual = |records| UsualDuration { records, median_min: 90.0, low_min: 80.0, high_min: 120.0 };
        let by = |records| remaining(&line, |step| (step == "mains").then(|| usual(records)));
        let plans = by(4);
        assert_eq!((plans.minutes, plans.low_min, plans.high_min, plans.known), (70.0, 70.0, 70.0, 0.0));
        let own = by(5);
        assert_eq!((own.minutes, own.low_min, own.high_min), (85.0, 80.0, 100.0));
        assert!((own.known - 45.0 / 85.0).abs() < 1e-12);
        assert_eq!(remaining(&[], |_| None).minutes, 0.0);
    }
}

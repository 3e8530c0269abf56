//! Friction that a shop has measured on its own fasteners (C-28): K from torques with their stretches.

use serde::Serialize;

/// From so many bolts on, a shop's own figure is worth more than the table.
pub const ENOUGH: usize = 8;
/// The median absolute deviation of a normal distribution is so much of its standard deviation.
const MAD: f64 = 0.674_489_750_196_081_7;
/// The range of a lubricant spans so many standard deviations to either side.
const SPAN: f64 = 2.0;

/// What many nut factors come to, whatever a few of them say.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct NutFactorSpread {
    /// How many there are.
    pub count: usize,
    /// The one in the middle.
    pub median: f64,
    /// Their standard deviation as the median of their distances from the middle tells it; 0 for one.
    pub spread: f64,
}

impl NutFactorSpread {
    /// What figures come to; `None` without any. Puts them in another order.
    pub fn of(figures: &mut [f64]) -> Option<Self> {
        let median = middle(figures)?;
        for figure in figures.iter_mut() {
            *figure = (*figure - median).abs();
        }
        let spread = middle(figures)? / MAD;
        Some(Self { count: figures.len(), median, spread })
    }

    /// How much the clamp load of one torque scatters with it, as shares of its middle: at the most friction and
    /// at the least.
    pub fn of_load(&self) -> [f64; 2] {
        let part = (SPAN * self.spread / self.median).min(0.9);
        [1.0 / (1.0 + part), 1.0 / (1.0 - part)]
    }

    /// The least, typical and most nut factor.
    pub fn range(&self) -> [f64; 3] {
        let part = SPAN * self.spread;
        [(self.median - part).max(self.median * 0.1), self.median, self.median + part]
    }
}

/// The figure in the middle, or the mean of the two that are.
fn middle(figures: &mut [f64]) -> Option<f64> {
    let half = figures.len() / 2;
    let even = figures.len().is_multiple_of(2);
    let (below, at, _) =
        (half < figures.len()).then(|| figures.select_nth_unstable_by(half, f64::total_cmp))?;
    let at = *at;
    Some(if even { below.iter().copied().fold(f64::MIN, f64::max).midpoint(at) } else { at })
}

/// What was measured of one kind of fastener on one kind of lubricant.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MeasuredFriction {
    /// The fastener: its name and thread.
    pub fastener: String,
    /// Key of what is on the thread.
    pub thread: String,
    /// Key of what is under the head or nut.
    pub bearing: String,
    /// What all bolts come to.
    pub all: NutFactorSpread,
}

impl MeasuredFriction {
    /// Whether there are enough bolts to go by.
    pub fn is_enough(&self) -> bool {
        self.all.count >= ENOUGH
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_few_wild_figures_do_not_move_it() {
        let calm = [0.150, 0.152, 0.154, 0.156, 0.158, 0.160, 0.162];
        let found = NutFactorSpread::of(&mut calm.to_vec()).unwrap();
        assert!((found.median - 0.156).abs() < 1e-12 && (found.spread - 0.004 / MAD).abs() < 1e-12);
        let wild = [&calm[..], &[0.9]].concat();
        let with = NutFactorSpread::of(&mut wild.clone()).unwrap();
        assert!((with.median - 0.157).abs() < 1e-12, "{with:?}");
        assert!(with.spread < 0.010, "{with:?}");
        assert_eq!(NutFactorSpread::of(&mut []), None);
        assert_eq!(NutFactorSpread::of(&mut [0.2]).unwrap().spread, 0.0);
    }

    proptest! {
        #[test]
        fn it_is_the_middle_of_what_was_sorted(mut figures in prop::collection::vec(0.01f64..1.0, 1..60)) {
            let mut sorted = figures.clone();
            sorted.sort_by(f64::total_cmp);
            let half = sorted.len() / 2;
            let middle = if sorted.len().is_multiple_of(2) { f64::midpoint(sorted[half - 1], sorted[half]) } else { sorted[half] };
            let found = NutFactorSpread::of(&mut figures).unwrap();
            prop_assert!((found.median - middle).abs() < 1e-12);
            prop_assert!(found.spread >= 0.0 && found.spread <= 1.0 / MAD);
        }
    }
}

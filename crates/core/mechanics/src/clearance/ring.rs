//! Piston rings: end gaps and where the gaps go.

/// End gap wanted for a bore by a factor per mm of bore, mm.
pub fn end_gap(bore_mm: f64, factor: f64) -> f64 {
    bore_mm * factor
}

/// What is still to be filed off to reach a gap, mm; never negative.
pub fn to_file(wanted_mm: f64, measured_mm: f64) -> f64 {
    (wanted_mm - measured_mm).max(0.0)
}

/// Where the gaps of a set of rings go.
#[derive(Debug, Clone, PartialEq)]
pub struct Clocking {
    /// Degrees from the front, one a gap, evenly apart.
    pub angles_deg: Vec<f64>,
    /// How far the nearest gap is from the pin axis or the thrust axis, degrees.
    pub clear_deg: f64,
}

/// Axes that a gap is kept off, degrees from the front: the pin's, along the engine, and the thrust's, across it.
const AXES_DEG: f64 = 90.0;

/// Evenly spread gaps, the set turned so that all are clear of the pin and the thrust axis by the most that can be had;
/// where several turns do, the one that leaves the first gap nearest to `first_deg` (M-27).
pub fn clocking(gaps: u32, first_deg: f64) -> Clocking {
    let apart = 360.0 / f64::from(gaps.max(1));
    // Off the axes, what matters of a gap is where it is within a quarter; all gaps repeat within a step of this.
    let from_axis = |angle: f64| {
        let within = angle.rem_euclid(AXES_DEG);
        within.min(AXES_DEG - within)
    };
    let angles = |first: f64| (0..gaps).map(move |n| (first + f64::from(n) * apart).rem_euclid(360.0));
    let clear = |first: f64| angles(first).map(from_axis).fold(AXES_DEG, f64::min);
    // Gaps within a quarter lie evenly, too: half way between two axes' worth of them is the best.
    let best = (0..gaps.max(1)).map(|n| (f64::from(n) * apart).rem_euclid(AXES_DEG));
    let mut within: Vec<f64> = best.collect();
    within.push(AXES_DEG);
    within.sort_by(f64::total_cmp);
    let widest = within.windows(2).max_by(|a, b| (a[1] - a[0]).total_cmp(&(b[1] - b[0])));
    let turn = widest.map_or(0.0, |pair| AXES_DEG - f64::midpoint(pair[0], pair[1]));
    let step =
        within.windows(2).map(|pair| pair[1] - pair[0]).filter(|gap| *gap > 1e-9).fold(AXES_DEG, f64::min);
    // The same clearance comes again at every step; the nearest to where the first one is wanted is taken.
    let near = |first: f64| {
        let off = (first - first_deg).rem_euclid(360.0);
        off.min(360.0 - off)
    };
    let candidates = (0_u32..).map(|n| turn + f64::from(n) * step).take_while(|first| *first < turn + 360.0);
    let good = clear(turn);
    let first = candidates
        .filter(|first| clear(*first) > good - 1e-9)
        .min_by(|a, b| near(*a).total_cmp(&near(*b)))
        .unwrap_or(turn);
    Clocking { angles_deg: angles(first).collect(), clear_deg: good }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn filing_stops_at_the_wanted_gap() {
        let wanted = end_gap(83.0, 0.0045);
        assert!((wanted - 0.3735).abs() < 1e-9);
        assert!((to_file(wanted, 0.30) - 0.0735).abs() < 1e-9);
        assert_eq!(to_file(wanted, 0.40), 0.0);
    }

    #[test]
    fn gaps_stand_apart_and_clear_of_both_axes_by_the_most() {
        for (gaps, clear) in
            [(1, 45.0), (2, 45.0), (3, 15.0), (4, 45.0), (5, 9.0), (6, 15.0), (7, 45.0 / 7.0), (12, 15.0)]
        {
            let Clocking { angles_deg, clear_deg } = clocking(gaps, 90.0);
            assert_eq!(angles_deg.len(), gaps as usize);
            let off = |angle: &f64| {
                let within = angle.rem_euclid(90.0);
                within.min(90.0 - within)
            };
            let least = angles_deg.iter().map(off).fold(90.0, f64::min);
            assert!(
                (least - clear_deg).abs() < 1e-9 && (clear_deg - clear).abs() < 1e-9,
                "{gaps}: {clear_deg} {angles_deg:?}"
            );
            for pair in angles_deg.windows(2) {
                assert!(((pair[1] - pair[0]).rem_euclid(360.0) - 360.0 / f64::from(gaps)).abs() < 1e-9);
            }
            // No turn by whole degrees does better.
            for turn in 0..360 {
                let turned =
                    angles_deg.iter().map(|angle| off(&(angle + f64::from(turn)))).fold(90.0, f64::min);
                assert!(turned <= clear_deg + 1e-9, "{gaps} turned by {turn}: {turned}");
            }
        }
    }

    #[test]
    fn the_first_gap_stays_near_where_it_is_wanted() {
        assert!((clocking(2, 40.0).angles_deg[0] - 45.0).abs() < 1e-9);
        assert!((clocking(2, 200.0).angles_deg[0] - 225.0).abs() < 1e-9);
        assert!((clocking(3, 30.0).angles_deg[0] - 15.0).abs() <= 30.0 + 1e-9);
    }
}

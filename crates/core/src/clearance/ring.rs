//! Piston rings: end gaps and where the gaps go.

/// End gap wanted for a bore by a factor per mm of bore, mm.
pub fn end_gap(bore_mm: f64, factor: f64) -> f64 {
    bore_mm * factor
}

/// What is still to be filed off to reach a gap, mm; never negative.
pub fn to_file(wanted_mm: f64, measured_mm: f64) -> f64 {
    (wanted_mm - measured_mm).max(0.0)
}

/// Clock angles for so many gaps, degrees from the front: evenly spread, the first one at
/// `first_deg`, and none on the thrust axis (90° and 270°) closer than `clear_deg` where turning
/// the whole set can avoid it.
pub fn clocking(gaps: u32, first_deg: f64, clear_deg: f64) -> Vec<f64> {
    let pitch = 360.0 / f64::from(gaps.max(1));
    let set = |turn: f64| (0..gaps).map(move |n| (first_deg + turn + f64::from(n) * pitch).rem_euclid(360.0));
    let from_thrust =
        |angle: f64| [90.0, 270.0].map(|axis: f64| (angle - axis).abs()).into_iter().fold(360.0, f64::min);
    let clear = |turn: &f64| set(*turn).all(|angle| from_thrust(angle) >= clear_deg);
    let turn = (0..72).map(|n| f64::from(n) * 5.0).find(clear).unwrap_or(0.0);
    set(turn).collect()
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
    fn gaps_stand_apart_and_off_the_thrust_axis() {
        let angles = clocking(3, 90.0, 20.0);
        assert_eq!(angles.len(), 3);
        for angle in &angles {
            assert!((angle - 90.0).abs() >= 20.0 && (angle - 270.0).abs() >= 20.0, "{angles:?}");
        }
        assert!(((angles[1] - angles[0]).rem_euclid(360.0) - 120.0).abs() < 1e-9);
    }
}

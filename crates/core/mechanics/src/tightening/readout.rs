//! An angle of turn as the builder can see it: a stop reading, a clock position, flats, points.

use serde::Serialize;

/// Which way the numbers of the gauge run while the wrench tightens.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CountDirection {
    /// The reading grows.
    Up,
    /// The reading falls.
    Down,
}

/// What an angle of turn means on the instruments at hand.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AngleReading {
    /// The reading at which to stop, in degrees.
    pub stop_deg: f64,
    /// Where a mark that started at twelve o'clock ends up, as `h:mm`.
    pub clock: String,
    /// Flats of a hexagon (60° each).
    pub flats: f64,
    /// Points of a twelve-point (30° each).
    pub points: f64,
}

impl AngleReading {
    /// The stop reading for a start reading. A gauge that wraps shows 0 to 360.
    pub fn of(start_deg: f64, angle_deg: f64, wraps: bool, counting: CountDirection) -> Self {
        let raw = match counting {
            CountDirection::Up => start_deg + angle_deg,
            CountDirection::Down => start_deg - angle_deg,
        };
        let stop_deg = if wraps { wrap(raw) } else { raw };
        Self { stop_deg, clock: clock_position(angle_deg), flats: angle_deg / 60.0, points: angle_deg / 30.0 }
    }
}

/// An angle brought into 0 to 360, with rounding noise at the seam taken to zero.
fn wrap(angle_deg: f64) -> f64 {
    let wrapped = angle_deg.rem_euclid(360.0);
    if 360.0 - wrapped < 1e-9 { 0.0 } else { wrapped }
}

/// How far a gauge was turned from a start reading to a stop reading, in degrees: of the turns that lead
/// there, whole ones more or less, the one nearest to what was asked for.
pub fn turned(start_deg: f64, stop_deg: f64, counting: CountDirection, asked_deg: f64) -> f64 {
    let once = match counting {
        CountDirection::Up => stop_deg - start_deg,
        CountDirection::Down => start_deg - stop_deg,
    };
    let turn = wrap(once);
    turn + 360.0 * ((asked_deg - turn) / 360.0).round().max(0.0)
}

/// The clock position of a mark that started at twelve and turned clockwise by an angle: `2:40`.
pub fn clock_position(angle_deg: f64) -> String {
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 0 to 720")]
    let minutes = (wrap(angle_deg) * 2.0).round() as u32 % 720;
    let hour = if minutes < 60 { 12 } else { minutes / 60 };
    format!("{hour}:{:02}", minutes % 60)
}

/// How far a castellated nut goes on to its next slot.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CastellatedAdvance {
    /// Degrees forward; zero when a slot is there already.
    pub advance_deg: f64,
}

/// The advance to the next slot of a castellated nut with so many slots, when the split-pin hole
/// stands `past_slot_deg` beyond the last slot. It goes forward only.
pub fn castellated_advance(slots: u32, past_slot_deg: f64) -> CastellatedAdvance {
    let pitch = 360.0 / f64::from(slots);
    let past = past_slot_deg.rem_euclid(pitch);
    let at_slot = past < 1e-9 || pitch - past < 1e-9;
    CastellatedAdvance { advance_deg: if at_slot { 0.0 } else { pitch - past } }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_dial_that_wraps_and_a_gauge_that_does_not() {
        let dial = AngleReading::of(310.0, 80.0, true, CountDirection::Up);
        assert!((dial.stop_deg - 30.0).abs() < 1e-9);
        assert_eq!(dial.clock, "2:40");
        assert!((dial.flats - 4.0 / 3.0).abs() < 1e-9);
        assert_eq!(AngleReading::of(310.0, 80.0, false, CountDirection::Up).stop_deg, 390.0);
        assert_eq!(AngleReading::of(20.0, 80.0, true, CountDirection::Down).stop_deg, 300.0);
    }

    #[test]
    fn a_stop_reading_tells_the_turn_that_was_meant() {
        for (start, stop, counting, asked, angle) in [
            (310.0, 30.0, CountDirection::Up, 80.0, 80.0),
            (310.0, 390.0, CountDirection::Up, 80.0, 80.0),
            (20.0, 300.0, CountDirection::Down, 80.0, 80.0),
            (10.0, 28.0, CountDirection::Up, 400.0, 378.0),
            (10.0, 8.0, CountDirection::Up, 355.0, 358.0),
            (0.0, 62.0, CountDirection::Up, 5.0, 62.0),
        ] {
            let turn = turned(start, stop, counting, asked);
            assert!((turn - angle).abs() < 1e-9, "{start} to {stop}: {turn}");
        }
    }

    #[test]
    fn clock_positions() {
        for (angle, clock) in [
            (0.0, "12:00"),
            (90.0, "3:00"),
            (15.0, "12:30"),
            (360.0, "12:00"),
            (450.0, "3:00"),
            (359.9, "12:00"),
        ] {
            assert_eq!(clock_position(angle), clock, "{angle}");
        }
    }

    #[test]
    fn a_castellated_nut_goes_forward_to_the_next_slot() {
        assert_eq!(castellated_advance(6, 42.0).advance_deg, 18.0);
        assert_eq!(castellated_advance(6, 0.0).advance_deg, 0.0);
        assert_eq!(castellated_advance(6, 60.0).advance_deg, 0.0);
    }

    proptest! {
        #[test]
        fn up_and_down_meet_again(start in 0.0f64..360.0, angle in 0.0f64..720.0) {
            let up = AngleReading::of(start, angle, true, CountDirection::Up).stop_deg;
            let back = AngleReading::of(up, angle, true, CountDirection::Down).stop_deg;
            let apart = (back - start).rem_euclid(360.0);
            prop_assert!(apart.min(360.0 - apart) < 1e-6);
            prop_assert!((0.0..360.0).contains(&up));
        }
    }
}

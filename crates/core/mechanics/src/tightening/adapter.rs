//! A crowfoot or an offset extension between wrench and fastener (C-15, M-10).

use crate::text;
use serde::{Deserialize, Serialize};
use thiserror::Error;

/// What stands between the drive of a wrench and the fastener.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Adapter {
    /// Key in the plan.
    pub id: String,
    /// What the builder calls it.
    pub name: String,
    /// From the drive to the fastener, mm.
    pub length_mm: f64,
    /// Between wrench and adapter, degrees: 0 straight on, 90 needs no correction, 180 folded back.
    pub angle_deg: f64,
    /// The shortest wrench it is used with, from the hand to the drive, mm.
    pub wrench_mm: f64,
}

/// Why an adapter cannot be used.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum AdapterError {
    /// Folded back over more than half of the wrench: the hand stands over the fastener.
    #[error("{}", text!("mechanics-adapter-folded-back-reaches-over-half"))]
    TooLong,
}

/// The least of its length that a wrench has left between fastener and hand.
const LEAST_REACH: f64 = 0.5;

/// What a wrench is set to so that a fastener beyond an adapter gets its target, in the unit of the
/// target.
///
/// `wrench_mm` is from the drive to the hand, `adapter_mm` from the drive to the fastener, `angle_deg`
/// between them: 0 straight on, 90 needs no correction, 180 folded back. Several adapters in line add
/// their lengths along the wrench; an extension along the axis changes nothing.
///
/// ```
/// use rigore_mechanics::tightening::adapter::setting;
///
/// // A crowfoot of 50 mm straight on, on a wrench of 400 mm.
/// assert!((setting(90.0, 400.0, 50.0, 0.0)? - 80.0).abs() < 1e-9);
/// // At a right angle nothing is to be corrected.
/// assert!((setting(90.0, 400.0, 50.0, 90.0)? - 90.0).abs() < 1e-9);
/// # Ok::<(), rigore_mechanics::tightening::adapter::AdapterError>(())
/// ```
///
/// # Errors
/// [`AdapterError`] where the hand would stand before the fastener.
pub fn setting(target: f64, wrench_mm: f64, adapter_mm: f64, angle_deg: f64) -> Result<f64, AdapterError> {
    // At right angles the rest of the cosine is noise.
    let along = if (angle_deg.rem_euclid(180.0) - 90.0).abs() < 1e-9 {
        0.0
    } else {
        adapter_mm * angle_deg.to_radians().cos()
    };
    let reach = wrench_mm + along;
    if reach >= wrench_mm * LEAST_REACH { Ok(target * wrench_mm / reach) } else { Err(AdapterError::TooLong) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn settings_around_the_wrench() {
        for (angle, expected) in [(0.0, 80.0), (45.0, 82.69), (90.0, 90.0), (180.0, 102.857), (270.0, 90.0)] {
            let set = setting(90.0, 400.0, 50.0, angle).unwrap();
            assert!((set - expected).abs() < 0.005, "{angle}: {set}");
        }
        assert_eq!(setting(90.0, 400.0, 50.0, 90.0), Ok(90.0));
        assert_eq!(setting(90.0, 50.0, 50.0, 180.0), Err(AdapterError::TooLong));
    }

    proptest! {
        #[test]
        fn what_lies_forward_lowers_the_setting_and_what_lies_back_raises_it(
            wrench in 300.0f64..900.0, adapter in 0.0f64..140.0, angle in 0.0f64..=180.0,
        ) {
            let set = setting(100.0, wrench, adapter, angle).unwrap();
            prop_assert!((set - 100.0) * (angle - 90.0) >= -1e-9);
        }
    }
}

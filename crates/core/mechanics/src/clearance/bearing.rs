//! Plain bearings: oil clearance by measuring and by plastic strip, form errors, end float.

use serde::Serialize;
use std::f64::consts::PI;

/// Size and form of one bore or journal from its readings, mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BoreSize {
    /// Smallest reading.
    pub min_mm: f64,
    /// Mean of the readings.
    pub mean_mm: f64,
    /// Largest reading.
    pub max_mm: f64,
}

impl BoreSize {
    /// The form that readings show; `None` without any.
    pub fn of(readings: &[f64]) -> Option<Self> {
        let first = *readings.first()?;
        let fold = |f: fn(f64, f64) -> f64| readings.iter().copied().fold(first, f);
        #[expect(clippy::cast_precision_loss, reason = "a handful of readings")]
        let count = readings.len() as f64;
        let mean_mm = readings.iter().sum::<f64>() / count;
        Some(Self { min_mm: fold(f64::min), mean_mm, max_mm: fold(f64::max) })
    }

    /// Largest less smallest reading.
    pub fn spread_mm(&self) -> f64 {
        self.max_mm - self.min_mm
    }
}

/// One reading of a bore or journal, and where it was taken.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct DiameterReading {
    /// Which plane along the axis.
    pub plane: usize,
    /// Direction across the axis, degrees; readings without one count as one direction.
    pub direction_deg: Option<f64>,
    /// What was read, mm.
    pub value_mm: f64,
}

/// How far a bore or journal is from a true cylinder, mm.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FormDeviation {
    /// Most that diameters in one plane differ; none where it was read in one direction only.
    pub out_of_round_mm: Option<f64>,
    /// Most that diameters in one direction differ from plane to plane; none for one plane.
    pub taper_mm: Option<f64>,
}

impl FormDeviation {
    /// The errors that readings show.
    pub fn of(readings: &[DiameterReading]) -> Self {
        let spread = |alike: &dyn Fn(&DiameterReading) -> bool| {
            let values: Vec<f64> = readings.iter().filter(|r| alike(r)).map(|r| r.value_mm).collect();
            BoreSize::of(&values).filter(|_| values.len() > 1).map(|form| form.spread_mm())
        };
        let in_plane = |of: &DiameterReading| spread(&|other| other.plane == of.plane);
        let along = |of: &DiameterReading| spread(&|other| other.direction_deg == of.direction_deg);
        Self {
            out_of_round_mm: readings.iter().filter_map(in_plane).reduce(f64::max),
            taper_mm: readings.iter().filter_map(along).reduce(f64::max),
        }
    }
}

/// Oil clearance of one bearing, mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OilClearance {
    /// Smallest bore on the largest journal.
    pub min_mm: f64,
    /// Mean bore on the mean journal.
    pub mean_mm: f64,
    /// Largest bore on the smallest journal.
    pub max_mm: f64,
}

/// Oil clearance of a bore and a journal, less the shells that go in between (0 when the bore was
/// measured assembled), mm.
///
/// ```
/// use rigore_mechanics::clearance::{BoreSize, oil_clearance};
///
/// let size = |mm: f64| BoreSize::of(&[mm]).expect("one reading");
/// let clearance = oil_clearance(&size(55.040), &size(54.990), 0.0);
/// assert!((clearance.mean_mm - 0.050).abs() < 1e-9);
/// ```
pub fn oil_clearance(bore: &BoreSize, journal: &BoreSize, shells_mm: f64) -> OilClearance {
    OilClearance {
        min_mm: bore.min_mm - journal.max_mm - shells_mm,
        mean_mm: bore.mean_mm - journal.mean_mm - shells_mm,
        max_mm: bore.max_mm - journal.min_mm - shells_mm,
    }
}

/// Clearance that a round plastic strip of this diameter was flattened to, from its width: the
/// strip keeps its volume, so `c = π d² / (4 w)`, mm.
pub fn strip_clearance(strip_mm: f64, width_mm: f64) -> f64 {
    PI * strip_mm * strip_mm / (4.0 * width_mm)
}

/// End float of parts in a gap: the gap less the widths of all that runs in it, mm. Thrust end
/// play and rod side clearance are this.
pub fn end_float(gap_mm: f64, widths_mm: &[f64]) -> f64 {
    gap_mm - widths_mm.iter().sum::<f64>()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_least_clearance_is_the_smallest_bore_on_the_largest_journal() {
        let bore = BoreSize::of(&[59.010, 59.014]).unwrap();
        let journal = BoreSize::of(&[54.990, 54.986]).unwrap();
        let clearance = oil_clearance(&bore, &journal, 2.0 * 1.985);
        assert!((clearance.min_mm - 0.050).abs() < 1e-9);
        assert!((clearance.mean_mm - 0.054).abs() < 1e-9);
        assert!((clearance.max_mm - 0.058).abs() < 1e-9);
        assert!((bore.spread_mm() - 0.004).abs() < 1e-9);
        assert!(BoreSize::of(&[]).is_none());
    }

    #[test]
    fn out_of_round_lies_in_a_plane_and_taper_along_a_direction() {
        let read = |plane, direction_deg, value_mm| DiameterReading { plane, direction_deg, value_mm };
        let error = FormDeviation::of(&[
            read(0, Some(0.0), 54.990),
            read(0, Some(90.0), 54.987),
            read(1, Some(0.0), 54.985),
            read(1, Some(90.0), 54.984),
        ]);
        let near = |got: Option<f64>, wanted: f64| got.is_some_and(|got| (got - wanted).abs() < 1e-9);
        assert!(near(error.out_of_round_mm, 0.003) && near(error.taper_mm, 0.005));
        let ends = FormDeviation::of(&[read(0, None, 0.052), read(1, None, 0.047)]);
        assert!(
            ends.out_of_round_mm.is_none() && near(ends.taper_mm, 0.005),
            "one direction says nothing of round"
        );
        assert_eq!(FormDeviation::of(&[]), FormDeviation::default());
    }

    #[test]
    fn a_strip_keeps_its_volume() {
        let clearance = strip_clearance(0.30, 1.414);
        assert!((clearance * 1.414 - PI * 0.0225).abs() < 1e-12);
        assert!((clearance - 0.05).abs() < 1e-4);
    }
}

//! Strength by property class or as plain figures.

use super::engagement::STRONGER;
use crate::message::Message;
use crate::quantity::{Dimension, Pressure, Quantity, in_mpa, mpa};
use crate::{message, text};
use thiserror::Error;

/// What a fastener's material stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Strength {
    /// 0.2 % proof stress Rp0.2, or yield.
    pub proof: Pressure,
    /// Tensile strength Rm.
    pub tensile: Pressure,
}

/// No steel is stronger, `MPa`: a stress above it breaks any bolt.
pub const STRONGEST_MPA: f64 = 3000.0;

/// Why a strength was refused.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum StrengthError {
    /// Not a class in the table.
    #[error("{}", text!("mechanics-not-property-class-use-4-6", text = .0))]
    Unknown(String),
    /// The figures contradict each other.
    #[error("{}", impossible(*.proof_mpa, *.tensile_mpa).in_base_units())]
    Figures {
        /// What was given as its yield, `MPa`.
        proof_mpa: f64,
        /// What was given as its tensile strength, `MPa`.
        tensile_mpa: f64,
    },
}

impl StrengthError {
    /// What is wrong, for people.
    pub fn message(&self) -> Message {
        match self {
            Self::Unknown(_) => self.to_string().into(),
            Self::Figures { proof_mpa, tensile_mpa } => impossible(*proof_mpa, *tensile_mpa),
        }
    }
}

fn impossible(proof_mpa: f64, tensile_mpa: f64) -> Message {
    let [proof, tensile, most] =
        [proof_mpa, tensile_mpa, STRONGEST_MPA].map(|mpa| Quantity::new(mpa, Dimension::Pressure));
    message!("mechanics-yield-tensile-cannot-both-above-zero", proof, tensile, most,)
}

impl Strength {
    /// The strongest bolt that is sold under this strength.
    #[must_use]
    pub fn strongest(self) -> Self {
        Self { proof: self.proof * STRONGER, tensile: self.tensile * STRONGER }
    }

    /// The least strength of a property class (ISO 898-1: 4.6 to 12.9; ISO 3506-1: A2-70, A4-70, A2-80, A4-80) or
    /// grade (SAE J429: `grade 2`, `grade 5`, `grade 8`) at a nominal diameter in mm. A bolt may be a fifth stronger.
    ///
    /// ```
    /// use rigore_mechanics::fastener::Strength;
    /// use rigore_mechanics::quantity::in_mpa;
    ///
    /// let strength = Strength::class("10.9", 10.0)?;
    /// assert_eq!(in_mpa(strength.proof), 940.0);
    /// # Ok::<(), rigore_mechanics::fastener::StrengthError>(())
    /// ```
    ///
    /// # Errors
    /// [`StrengthError::Unknown`] for any other text.
    pub fn class(text: &str, nominal_mm: f64) -> Result<Self, StrengthError> {
        let key = text.trim().to_lowercase().replace("class", "");
        let large = nominal_mm > 16.0;
        let (proof, tensile) = match key.trim() {
            "4.6" => (240.0, 400.0),
            "4.8" => (340.0, 420.0),
            "5.6" => (300.0, 500.0),
            "5.8" => (420.0, 520.0),
            "6.8" => (480.0, 600.0),
            "8.8" if large => (660.0, 830.0),
            "8.8" => (640.0, 800.0),
            "9.8" => (720.0, 900.0),
            "10.9" => (940.0, 1040.0),
            "12.9" => (1100.0, 1220.0),
            "a2-70" | "a4-70" => (450.0, 700.0),
            "a2-80" | "a4-80" => (600.0, 800.0),
            // 57, 92 and 130 ksi yield; grade 2 falls to 36 ksi above three quarters of an inch, grade 5 to 81 ksi
            // above one.
            "grade 2" if nominal_mm > 19.05 => (248.0, 414.0),
            "grade 2" => (393.0, 510.0),
            "grade 5" if nominal_mm > 25.4 => (558.0, 724.0),
            "grade 5" => (634.0, 827.0),
            "grade 8" => (896.0, 1034.0),
            _ => return Err(StrengthError::Unknown(text.to_owned())),
        };
        Ok(Self { proof: mpa(proof), tensile: mpa(tensile) })
    }

    /// Plain figures, for alloys outside the classes.
    ///
    /// # Errors
    /// [`StrengthError::Figures`] where yield is not between zero and tensile.
    pub fn figures(proof: Pressure, tensile: Pressure) -> Result<Self, StrengthError> {
        let (low, high) = (in_mpa(proof), in_mpa(tensile));
        if low > 0.0 && low <= high && high <= STRONGEST_MPA {
            Ok(Self { proof, tensile })
        } else {
            Err(StrengthError::Figures { proof_mpa: low, tensile_mpa: high })
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn class_8_8_is_stronger_above_m16() {
        assert_eq!(in_mpa(Strength::class("8.8", 16.0).unwrap().proof).round(), 640.0);
        assert_eq!(in_mpa(Strength::class("8.8", 18.0).unwrap().proof).round(), 660.0);
        assert_eq!(in_mpa(Strength::class("Grade 8", 10.0).unwrap().proof).round(), 896.0);
    }

    #[test]
    fn published_minimum_figures_of_classes_and_grades() {
        for (class, d, proof, tensile) in [
            ("4.6", 10.0, 240.0, 400.0),
            ("4.8", 10.0, 340.0, 420.0),
            ("5.6", 10.0, 300.0, 500.0),
            ("5.8", 10.0, 420.0, 520.0),
            ("6.8", 10.0, 480.0, 600.0),
            ("8.8", 10.0, 640.0, 800.0),
            ("8.8", 20.0, 660.0, 830.0),
            ("9.8", 10.0, 720.0, 900.0),
            ("10.9", 10.0, 940.0, 1040.0),
            ("12.9", 10.0, 1100.0, 1220.0),
            ("A2-70", 10.0, 450.0, 700.0),
            ("a4-80", 10.0, 600.0, 800.0),
            ("Grade 2", 12.7, 393.0, 510.0),
            ("Grade 5", 12.7, 634.0, 827.0),
            ("Grade 8", 12.7, 896.0, 1034.0),
        ] {
            let of = Strength::class(class, d).unwrap_or_else(|error| panic!("{class}: {error}"));
            assert_eq!([in_mpa(of.proof).round(), in_mpa(of.tensile).round()], [proof, tensile], "{class}");
        }
    }

    #[test]
    fn an_unknown_class_or_inverted_figures_are_refused() {
        assert!(Strength::class("14.9", 10.0).is_err());
        assert!(Strength::figures(mpa(1200.0), mpa(1100.0)).is_err());
    }
}

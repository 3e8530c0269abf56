//! Strength by property class or as plain figures.

use crate::message;
use crate::message::Message;
use crate::quantity::{Dimension, Pressure, Quantity, in_mpa, mpa};
use thiserror::Error;

/// What a fastener's material stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Strength {
    /// 0.2 % proof stress Rp0.2, or yield.
    pub proof: Pressure,
    /// Tensile strength Rm.
    pub tensile: Pressure,
}

/// No steel is stronger, `MPa`.
const MOST_MPA: f64 = 3000.0;

/// Why a strength was refused.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum StrengthError {
    /// Not a class in the table.
    #[error(
        "`{0}` is not a property class; use 8.8, 9.8, 10.9, 12.9, grade 5, grade 8, or yield and tensile"
    )]
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
        [proof_mpa, tensile_mpa, MOST_MPA].map(|mpa| Quantity::new(mpa, Dimension::Pressure));
    message!(
        "yield {proof} and tensile {tensile} cannot be: both are above zero, yield is no more than tensile, and \
         tensile at most {most}",
        proof,
        tensile,
        most,
    )
}

impl Strength {
    /// The strength of a property class (ISO 898-1: 8.8, 9.8, 10.9, 12.9) or grade
    /// (SAE J429: `grade 5`, `grade 8`) at a nominal diameter in mm.
    ///
    /// # Errors
    /// [`StrengthError::Unknown`] for any other text.
    pub fn class(text: &str, nominal_mm: f64) -> Result<Self, StrengthError> {
        let key = text.trim().to_lowercase().replace("class", "");
        let large = nominal_mm > 16.0;
        let (proof, tensile) = match key.trim() {
            "8.8" if large => (660.0, 830.0),
            "8.8" => (640.0, 800.0),
            "9.8" => (720.0, 900.0),
            "10.9" => (940.0, 1040.0),
            "12.9" => (1100.0, 1220.0),
            // 92 and 130 ksi yield; grade 5 falls to 81 ksi above one inch.
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
        if low > 0.0 && low <= high && high <= MOST_MPA {
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
    fn an_unknown_class_or_inverted_figures_are_refused() {
        assert!(Strength::class("14.9", 10.0).is_err());
        assert!(Strength::figures(mpa(1200.0), mpa(1100.0)).is_err());
    }
}

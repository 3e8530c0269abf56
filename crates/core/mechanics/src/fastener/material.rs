//! Materials of bolts, nuts and the parts they clamp, by kind: no alloy, an ordinary member of its kind.

use crate::quantity::{Pressure, mpa};

/// A kind of material.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Material {
    /// Steel, heat-treated where it is a bolt.
    Steel,
    /// Grey cast iron.
    GreyIron,
    /// Spheroidal (nodular) cast iron.
    SpheroidalIron,
    /// Cast aluminium.
    Aluminium,
    /// Wrought aluminium, from the solid or forged.
    WroughtAluminium,
    /// Cast magnesium.
    Magnesium,
    /// Titanium alloy.
    Titanium,
}

/// What is computed with, for a kind of material.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Figures {
    modulus_gpa: f64,
    expansion_per_k: f64,
    tensile_mpa: f64,
    shear_ratio: f64,
    bearing_mpa: f64,
}

impl Material {
    /// The words for it in plans.
    pub const ALL: [(&str, Self); 8] = [
        ("steel", Self::Steel),
        ("cast-iron", Self::GreyIron),
        ("grey-iron", Self::GreyIron),
        ("spheroidal-iron", Self::SpheroidalIron),
        ("aluminium", Self::Aluminium),
        ("wrought-aluminium", Self::WroughtAluminium),
        ("magnesium", Self::Magnesium),
        ("titanium", Self::Titanium),
    ];

    /// Moduli and shear ratios of VDI 2230-1, expansions of its table A9; tensile strengths and pressure limits are
    /// ordinary ones of the kind, estimates for a plan that gives none.
    fn figures(self) -> Figures {
        let of = |modulus_gpa, expansion, tensile_mpa, shear_ratio, bearing_mpa| Figures {
            modulus_gpa,
            expansion_per_k: expansion * 1e-6,
            tensile_mpa,
            shear_ratio,
            bearing_mpa,
        };
        match self {
            Self::Steel => of(205.0, 11.5, 500.0, 0.6, 490.0),
            Self::GreyIron => of(110.0, 10.5, 250.0, 1.1, 850.0),
            Self::SpheroidalIron => of(170.0, 11.0, 400.0, 0.9, 600.0),
            Self::Aluminium => of(70.0, 23.0, 240.0, 0.6, 240.0),
            Self::WroughtAluminium => of(70.0, 23.0, 310.0, 0.7, 360.0),
            Self::Magnesium => of(45.0, 26.0, 180.0, 0.6, 140.0),
            Self::Titanium => of(110.0, 9.0, 900.0, 0.6, 890.0),
        }
    }

    /// What a plan calls it.
    pub fn word(self) -> &'static str {
        Self::ALL.iter().find(|(_, material)| *material == self).map_or("", |(word, _)| word)
    }

    /// Young's modulus.
    pub fn modulus(self) -> Pressure {
        mpa(self.figures().modulus_gpa * 1000.0)
    }

    /// Linear expansion, per K.
    pub fn expansion_per_k(self) -> f64 {
        self.figures().expansion_per_k
    }

    /// An ordinary tensile strength of it, for a part of which none is given.
    pub fn usual_tensile(self) -> Pressure {
        mpa(self.figures().tensile_mpa)
    }

    /// What a thread in it stands in shear, as a share of its tensile strength (VDI 2230-1).
    pub fn shear_ratio(self) -> f64 {
        self.figures().shear_ratio
    }

    /// The pressure that an ordinary one stands under a head, an estimate.
    pub fn usual_bearing_limit(self) -> Pressure {
        mpa(self.figures().bearing_mpa)
    }
}

#[cfg(test)]
mod tests {
    use super::Material;

    #[test]
    fn every_material_has_one_word_that_is_read_back() {
        for (_, material) in Material::ALL {
            let read = Material::ALL.iter().find(|(word, _)| *word == material.word());
            assert_eq!(read.map(|(_, of)| *of), Some(material));
        }
    }
}

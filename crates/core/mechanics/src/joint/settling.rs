//! What settles after tightening (M-25): rough faces flatten, a gasket creeps.

use serde::Serialize;

/// How rough faces are, by Rz (VDI 2230-1, table 5).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Roughness {
    /// Rz under 10 µm: ground, honed.
    Smooth,
    /// Rz from 10 to 40 µm: turned, milled.
    Usual,
    /// Rz over 40 µm: as cast, rough.
    Rough,
}

impl Roughness {
    /// The words for it.
    pub const ALL: [(&str, Self); 3] =
        [("smooth", Self::Smooth), ("usual", Self::Usual), ("rough", Self::Rough)];

    /// What settles along the bolt under an axial load, µm: in the thread, under each head or nut, at each interface
    /// between parts.
    pub fn amounts_um(self) -> [f64; 3] {
        match self {
            Self::Smooth => [3.0, 2.5, 1.5],
            Self::Usual => [3.0, 3.0, 2.0],
            Self::Rough => [3.0, 4.0, 3.0],
        }
    }

    /// What settles in all, µm: one thread, so many heads and nuts, so many interfaces. Washers and shims count.
    pub fn total_um(self, heads: u32, interfaces: u32) -> f64 {
        let [thread, head, interface] = self.amounts_um();
        thread + head * f64::from(heads) + interface * f64::from(interfaces)
    }
}

/// The clamp load that is lost by so many µm of settling, kN; δS and δP in mm/N.
pub fn embedding_loss_kn(amount_um: f64, (bolt, parts): (f64, f64)) -> f64 {
    amount_um / 1000.0 / (bolt + parts) / 1000.0
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn published_loss_of_smooth_faces() {
        let amount = Roughness::Smooth.total_um(2, 1);
        assert!((amount - 9.5).abs() < 1e-12, "{amount}");
        let loss = embedding_loss_kn(amount, (5.061e-6, 1.2e-6));
        assert!((loss - 1.517).abs() < 0.0005, "{loss}");
    }

    #[test]
    fn published_amounts_by_roughness() {
        for (roughness, amounts) in [
            (Roughness::Smooth, [3.0, 2.5, 1.5]),
            (Roughness::Usual, [3.0, 3.0, 2.0]),
            (Roughness::Rough, [3.0, 4.0, 3.0]),
        ] {
            assert_eq!(roughness.amounts_um(), amounts);
        }
        assert!(Roughness::Rough.total_um(2, 2) > Roughness::Usual.total_um(2, 2));
    }
}

//! Warm and cold: what different expansion of bolt and parts does to a clamp load (M-23).

/// One of the parts that a bolt clamps.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WarmLayer {
    /// Its thickness, mm.
    pub thickness_mm: f64,
    /// Its linear expansion, per K.
    pub expansion_per_k: f64,
    /// How much warmer it is than at assembly, K.
    pub rise_k: f64,
}

impl WarmLayer {
    /// How much thicker it gets, mm.
    pub fn growth_mm(&self) -> f64 {
        self.thickness_mm * self.expansion_per_k * self.rise_k
    }
}

/// What the clamp load changes by, kN: the layers' expansion less that of the bolt along them, over δS + δP in mm/N.
pub fn thermal_change_kn(
    layers: &[WarmLayer],
    bolt_expansion_per_k: f64,
    bolt_rise_k: f64,
    (bolt, parts): (f64, f64),
) -> f64 {
    let grows =
        |layer: &WarmLayer| layer.growth_mm() - layer.thickness_mm * bolt_expansion_per_k * bolt_rise_k;
    layers.iter().map(grows).sum::<f64>() / (bolt + parts) / 1000.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fastener::Material;

    fn layer(thickness_mm: f64, material: Material, rise_k: f64) -> WarmLayer {
        WarmLayer { thickness_mm, expansion_per_k: material.expansion_per_k(), rise_k }
    }

    #[test]
    fn an_aluminium_head_on_steel_studs_clamps_more_when_both_are_warm() {
        let steel = Material::Steel.expansion_per_k();
        let resilience = (6.0e-6, 1.5e-6);
        let change =
            |layers: &[WarmLayer], bolt_rise| thermal_change_kn(layers, steel, bolt_rise, resilience);
        let warm = change(&[layer(90.0, Material::Aluminium, 80.0)], 80.0);
        assert!((warm - 11.04).abs() < 0.005, "{warm}");
        // A head that is hot while its studs are cold yet clamps more still; cold, it clamps less.
        assert!(change(&[layer(90.0, Material::Aluminium, 80.0)], 20.0) > warm);
        assert!(change(&[layer(90.0, Material::Aluminium, -40.0)], -40.0) < 0.0);
        // Layers add up, and steel under a steel bolt changes nothing.
        let parted = [layer(40.0, Material::Aluminium, 80.0), layer(50.0, Material::Aluminium, 80.0)];
        assert!((change(&parted, 80.0) - warm).abs() < 1e-9);
        assert!(change(&[layer(90.0, Material::Steel, 80.0)], 80.0).abs() < 1e-12);
    }
}

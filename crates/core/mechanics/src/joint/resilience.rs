//! Elastic resilience of bolt and parts (VDI 2230-1), and the preload an angle of turn adds.

use crate::fastener::Thread;
use crate::quantity::{Angle, Force, Length, Pressure, in_deg, in_mm, in_mpa, kn};
use std::f64::consts::PI;

/// Section of a stretch of bolt.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum SegmentSection {
    /// A plain shank of this diameter.
    Shank(Length),
    /// Free thread, which counts on its root diameter d3.
    FreeThread,
}

/// A stretch of bolt between head and engaged thread.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BoltSegment {
    /// Its length.
    pub length: Length,
    /// Its section.
    pub section: SegmentSection,
}

/// The head of a bolt.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BoltHead {
    /// Hexagon or twelve-point.
    Hex,
    /// Socket head.
    Socket,
}

/// What the far end is screwed into.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BoltEnd {
    /// A nut.
    Nut,
    /// A tapped hole.
    Tapped,
}

fn circle(diameter_mm: f64) -> f64 {
    PI / 4.0 * diameter_mm * diameter_mm
}

/// An elastic resilience.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Resilience {
    /// mm/N.
    pub mm_per_n: f64,
    /// Whether it was measured, and not computed of a shape.
    pub measured: bool,
}

/// A resilience as it is written, in mm/N: `4.51e-6 mm/N`, or `4.51 µm/kN`, which is the same; none where it is none
/// that a bolt or the parts under it can have.
pub fn read_resilience(text: &str) -> Option<f64> {
    let units = [("mm/N", 1.0), ("µm/kN", 1e-6), ("um/kN", 1e-6)];
    let read = units.into_iter().find_map(|(unit, factor)| {
        let number = text.trim().strip_suffix(unit)?.trim().replace(',', ".");
        Some(number.parse::<f64>().ok()? * factor)
    });
    read.filter(|value| (1e-8..1e-3).contains(value))
}

impl Resilience {
    /// One that was computed of a shape.
    pub fn computed(mm_per_n: f64) -> Self {
        Self { mm_per_n, measured: false }
    }

    /// One that was measured: a known load and what it did.
    pub fn measured(mm_per_n: f64) -> Self {
        Self { mm_per_n, measured: true }
    }

    /// How far off it may be, mm/N: what is computed is known to a tenth (M-17).
    pub fn error(&self) -> f64 {
        if self.measured { 0.0 } else { self.mm_per_n * COMPUTED_UNCERTAINTY }
    }
}

/// Elastic resilience of a bolt.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BoltResilience {
    /// The bolt's own, δB: what it gets longer by, measured end to end.
    pub own: Resilience,
    /// What the nut or the tapped hole gives, mm/N.
    pub end: f64,
}

impl BoltResilience {
    /// Of all that gives at the bolt, δS, mm/N.
    pub fn total(&self) -> f64 {
        self.own.mm_per_n + self.end
    }
}

/// How far off a computed resilience may be, as a share.
pub const COMPUTED_UNCERTAINTY: f64 = 0.10;

/// What a nut or a tapped hole gives, mm/N, by the modulus of the part with the thread.
pub fn end_resilience(thread: &Thread, end: BoltEnd, modulus: Pressure) -> f64 {
    let share = match end {
        BoltEnd::Nut => 0.4,
        BoltEnd::Tapped => 0.33,
    };
    let d = thread.nominal_mm();
    share * d / (in_mpa(modulus) * circle(d))
}

/// Resilience of a bolt, computed of its shape: shank and free thread, head, engaged thread; and of the nut or tapped
/// hole. `modulus` is the bolt's, `end_modulus` that of the part with the thread.
pub fn bolt_resilience(
    thread: &Thread,
    segments: &[BoltSegment],
    head: BoltHead,
    end: BoltEnd,
    [modulus, end_modulus]: [Pressure; 2],
) -> BoltResilience {
    let e = in_mpa(modulus);
    let d = thread.nominal_mm();
    let (nominal, root) = (circle(d), circle(thread.d3_mm()));
    let along: f64 = segments
        .iter()
        .map(|segment| {
            let area = match segment.section {
                SegmentSection::Shank(diameter) => circle(in_mm(diameter)),
                SegmentSection::FreeThread => root,
            };
            in_mm(segment.length) / (e * area)
        })
        .sum();
    let head_share = match head {
        BoltHead::Hex => 0.5,
        BoltHead::Socket => 0.4,
    };
    let own = along + head_share * d / (e * nominal) + 0.5 * d / (e * root);
    BoltResilience { own: Resilience::computed(own), end: end_resilience(thread, end, end_modulus) }
}

/// How the parts are held.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum JointKind {
    /// A through bolt with a nut: two deformation cones.
    Through,
    /// A tapped hole: one deformation cone.
    Tapped,
}

/// The clamped parts around one bolt.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ClampedSleeve {
    /// Outer diameter dw of the bearing face.
    pub bearing_od: Length,
    /// Clearance hole dh.
    pub hole: Length,
    /// Outer diameter DA of the parts around the bolt.
    pub outer: Length,
    /// Through bolt or tapped hole.
    pub kind: JointKind,
}

/// One of the clamped parts: a head, a gasket, a washer.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PartLayer {
    /// Its thickness.
    pub thickness: Length,
    /// Its Young's modulus.
    pub modulus: Pressure,
}

/// The cone in which clamped parts are pressed together, mm.
#[derive(Debug, Clone, Copy)]
struct Cone {
    bearing_od: f64,
    hole: f64,
    outer: f64,
    tangent: f64,
}

impl Cone {
    /// ∫ dz / A from under the head down to a depth, 1/mm: along the cone, and along the sleeve where it meets the
    /// outside.
    fn down_to(&self, depth: f64) -> f64 {
        if self.outer <= self.bearing_od {
            return depth / (circle(self.outer) - circle(self.hole));
        }
        let meets_outside = (self.outer - self.bearing_od) / (2.0 * self.tangent);
        let along_cone = depth.min(meets_outside);
        let wide = self.bearing_od + 2.0 * along_cone * self.tangent;
        let log = ((self.bearing_od + self.hole) * (wide - self.hole)
            / ((self.bearing_od - self.hole) * (wide + self.hole)))
            .ln();
        let sleeve = (depth - along_cone) / (circle(self.outer) - circle(self.hole));
        log / (PI * self.hole * self.tangent) + sleeve
    }
}

/// Resilience δP of the clamped parts in mm/N, from the head down: a deformation cone, or one from each side of a
/// through bolt, and a sleeve where the cone meets the outside. Each layer counts with its own modulus along the cone.
pub fn part_resilience(parts: &ClampedSleeve, layers: &[PartLayer]) -> f64 {
    let (bearing_od, outer) = (in_mm(parts.bearing_od), in_mm(parts.outer));
    let length: f64 = layers.iter().map(|layer| in_mm(layer.thickness)).sum();
    let (beta, y) = (length / bearing_od, outer / bearing_od);
    let tangent = match parts.kind {
        JointKind::Through => 0.362 + 0.032 * (beta / 2.0).ln() + 0.153 * y.ln(),
        JointKind::Tapped => 0.348 + 0.013 * beta.ln() + 0.193 * y.ln(),
    };
    let cone = Cone { bearing_od, hole: in_mm(parts.hole), outer, tangent };
    // How much of ∫ dz / A lies between two depths; behind the middle of a through bolt the other cone opens.
    let upto = |depth: f64| match parts.kind {
        JointKind::Tapped => cone.down_to(depth),
        JointKind::Through if depth <= length / 2.0 => cone.down_to(depth),
        JointKind::Through => 2.0 * cone.down_to(length / 2.0) - cone.down_to(length - depth),
    };
    let mut depth = 0.0;
    let mut resilience = 0.0;
    for layer in layers {
        let below = depth + in_mm(layer.thickness);
        resilience += (upto(below) - upto(depth)) / in_mpa(layer.modulus);
        depth = below;
    }
    resilience
}

/// Preload that an angle of turn adds while everything stays elastic:
/// `ΔF = θ/360° · P / (δS + δP)`, resiliences in mm/N.
pub fn preload_from_angle(thread: &Thread, angle: Angle, bolt: f64, parts: f64) -> Force {
    kn(in_deg(angle) / 360.0 * thread.pitch_mm() / (bolt + parts) / 1000.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::quantity::{deg, in_kn, mm, mpa};

    fn parts(outer: f64) -> f64 {
        layered(outer, JointKind::Tapped, &[(52.0, 70.0)])
    }

    /// Of layers as mm and `GPa`.
    fn layered(outer: f64, kind: JointKind, layers: &[(f64, f64)]) -> f64 {
        let layers: Vec<PartLayer> = layers
            .iter()
            .map(|&(thick, gpa)| PartLayer { thickness: mm(thick), modulus: mpa(gpa * 1000.0) })
            .collect();
        let parts = ClampedSleeve { bearing_od: mm(16.0), hole: mm(11.0), outer: mm(outer), kind };
        part_resilience(&parts, &layers)
    }

    fn bolt(end_gpa: f64) -> BoltResilience {
        let thread = Thread::parse("M10x1.25").unwrap();
        let segments = [
            BoltSegment { length: mm(30.0), section: SegmentSection::Shank(mm(10.0)) },
            BoltSegment { length: mm(22.0), section: SegmentSection::FreeThread },
        ];
        let moduli = [205.0, end_gpa].map(|gpa| mpa(gpa * 1000.0));
        bolt_resilience(&thread, &segments, BoltHead::Hex, BoltEnd::Tapped, moduli)
    }

    #[test]
    fn computed_resilience_of_a_bolt_in_three_materials_and_of_its_parts() {
        for (gpa, expected) in [(205.0, 4.718e-6), (110.0, 4.895e-6), (70.0, 5.114e-6)] {
            let total = bolt(gpa).total();
            assert!((total - expected).abs() < 1e-9, "{gpa}: {total}");
            assert!((bolt(gpa).own.mm_per_n - 4.513e-6).abs() < 1e-9, "{gpa}: {:?}", bolt(gpa).own);
        }
        assert!((parts(40.0) - 1.225e-6).abs() < 1e-9, "{}", parts(40.0));
        assert!((parts(24.0) - 2.368e-6).abs() < 1e-9, "{}", parts(24.0));
    }

    #[test]
    fn sixty_degrees_of_the_computed_joint_in_steel_and_in_aluminium() {
        let thread = Thread::parse("M10x1.25").unwrap();
        for (gpa, expected) in [(205.0, 35.05), (70.0, 32.87)] {
            let added = in_kn(preload_from_angle(&thread, deg(60.0), bolt(gpa).total(), parts(40.0)));
            assert!((added - expected).abs() < 0.01, "{gpa}: {added}");
        }
    }

    #[test]
    fn layers_of_one_material_are_one_part_and_a_soft_one_gives_more_where_the_cone_is_narrow() {
        for kind in [JointKind::Tapped, JointKind::Through] {
            for outer in [15.0, 20.0, 24.0, 40.0, 90.0] {
                let whole = layered(outer, kind, &[(52.0, 70.0)]);
                let parted = layered(outer, kind, &[(3.0, 70.0), (30.5, 70.0), (18.5, 70.0)]);
                assert!((whole / parted - 1.0).abs() < 1e-12, "{kind:?} {outer}: {whole} {parted}");
            }
        }
        let [under_head, below] = [[(2.0, 10.0), (50.0, 70.0)], [(50.0, 70.0), (2.0, 10.0)]]
            .map(|of| layered(40.0, JointKind::Tapped, &of));
        assert!(under_head > below && below > parts(40.0), "{under_head} {below}");
        // A through bolt is the same from both sides.
        let [one, other] = [[(2.0, 10.0), (50.0, 70.0)], [(50.0, 70.0), (2.0, 10.0)]]
            .map(|of| layered(40.0, JointKind::Through, &of));
        assert!((one / other - 1.0).abs() < 1e-12);
    }

    #[test]
    fn more_material_around_the_bolt_never_makes_the_parts_softer() {
        let sizes: Vec<f64> = (17..60).map(|outer| parts(f64::from(outer))).collect();
        assert!(sizes.windows(2).all(|pair| pair[1] <= pair[0] * 1.01), "{sizes:?}");
    }
}

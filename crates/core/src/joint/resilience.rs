//! Elastic resilience of bolt and parts (VDI 2230-1), and the preload an angle of turn adds.

use crate::fastener::Thread;
use crate::quantity::{Angle, Force, Length, Pressure, in_deg, in_mm, in_mpa, kn};
use std::f64::consts::PI;

/// Section of a stretch of bolt.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Section {
    /// A plain shank of this diameter.
    Shank(Length),
    /// Free thread, which counts on its root diameter d3.
    FreeThread,
}

/// A stretch of bolt between head and engaged thread.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Segment {
    /// Its length.
    pub length: Length,
    /// Its section.
    pub section: Section,
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

/// Resilience δS of a bolt in mm/N: shank and free thread, head, engaged thread, and nut or
/// tapped hole.
pub fn bolt_resilience(
    thread: &Thread,
    segments: &[Segment],
    head: BoltHead,
    end: BoltEnd,
    modulus: Pressure,
) -> f64 {
    let e = in_mpa(modulus);
    let d = thread.nominal_mm();
    let (nominal, root) = (circle(d), circle(thread.d3_mm()));
    let along: f64 = segments
        .iter()
        .map(|segment| {
            let area = match segment.section {
                Section::Shank(diameter) => circle(in_mm(diameter)),
                Section::FreeThread => root,
            };
            in_mm(segment.length) / (e * area)
        })
        .sum();
    let head_share = match head {
        BoltHead::Hex => 0.5,
        BoltHead::Socket => 0.4,
    };
    let end_share = match end {
        BoltEnd::Nut => 0.4,
        BoltEnd::Tapped => 0.33,
    };
    along + (head_share + end_share) * d / (e * nominal) + 0.5 * d / (e * root)
}

/// How the parts are held.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PartKind {
    /// A through bolt with a nut: two deformation cones.
    Through,
    /// A tapped hole: one deformation cone.
    Tapped,
}

/// The clamped parts around one bolt.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Parts {
    /// Outer diameter dw of the bearing face.
    pub bearing_od: Length,
    /// Clearance hole dh.
    pub hole: Length,
    /// Clamp length lK.
    pub clamp_length: Length,
    /// Outer diameter DA of the parts around the bolt.
    pub outer: Length,
    /// Young's modulus of the parts.
    pub modulus: Pressure,
    /// Through bolt or tapped hole.
    pub kind: PartKind,
}

/// Resilience δP of the clamped parts in mm/N: a deformation cone, and a sleeve where the cone
/// meets the outside.
pub fn part_resilience(parts: &Parts) -> f64 {
    let (dw, dh, length) = (in_mm(parts.bearing_od), in_mm(parts.hole), in_mm(parts.clamp_length));
    let (outer, e) = (in_mm(parts.outer), in_mpa(parts.modulus));
    let w = match parts.kind {
        PartKind::Through => 1.0,
        PartKind::Tapped => 2.0,
    };
    let beta = length / dw;
    let y = outer / dw;
    let tan_phi = match parts.kind {
        PartKind::Through => 0.362 + 0.032 * (beta / 2.0).ln() + 0.153 * y.ln(),
        PartKind::Tapped => 0.348 + 0.013 * beta.ln() + 0.193 * y.ln(),
    };
    let whole_cone = dw + w * length * tan_phi;
    if outer <= dw {
        return length / (e * (circle(outer) - circle(dh)));
    }
    if outer >= whole_cone {
        let log = ((dw + dh) * (dw + w * length * tan_phi - dh)
            / ((dw - dh) * (dw + w * length * tan_phi + dh)))
            .ln();
        return 2.0 * log / (w * e * PI * dh * tan_phi);
    }
    let log = ((dw + dh) * (outer - dh) / ((dw - dh) * (outer + dh))).ln();
    let cone = 2.0 / (w * dh * tan_phi) * log;
    let sleeve = 4.0 / (outer * outer - dh * dh) * (length - (outer - dw) / (w * tan_phi));
    (cone + sleeve) / (e * PI)
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
        part_resilience(&Parts {
            bearing_od: mm(16.0),
            hole: mm(11.0),
            clamp_length: mm(52.0),
            outer: mm(outer),
            modulus: mpa(70_000.0),
            kind: PartKind::Tapped,
        })
    }

    fn bolt() -> f64 {
        let thread = Thread::parse("M10x1.25").unwrap();
        let segments = [
            Segment { length: mm(30.0), section: Section::Shank(mm(10.0)) },
            Segment { length: mm(22.0), section: Section::FreeThread },
        ];
        bolt_resilience(&thread, &segments, BoltHead::Hex, BoltEnd::Tapped, mpa(205_000.0))
    }

    #[test]
    fn computed_bolt_and_part_resilience() {
        assert!((bolt() - 4.718e-6).abs() < 1e-9, "{}", bolt());
        assert!((parts(40.0) - 1.225e-6).abs() < 1e-9, "{}", parts(40.0));
        assert!((parts(24.0) - 2.368e-6).abs() < 1e-9, "{}", parts(24.0));
    }

    #[test]
    fn sixty_degrees_of_the_computed_joint() {
        let thread = Thread::parse("M10x1.25").unwrap();
        let added = in_kn(preload_from_angle(&thread, deg(60.0), bolt(), parts(40.0)));
        assert!((added - 35.05).abs() < 0.01, "{added}");
    }

    #[test]
    fn more_material_around_the_bolt_never_makes_the_parts_softer() {
        let sizes: Vec<f64> = (17..60).map(|outer| parts(f64::from(outer))).collect();
        assert!(sizes.windows(2).all(|pair| pair[1] <= pair[0] * 1.01), "{sizes:?}");
    }
}

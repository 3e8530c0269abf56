//! What a joint stands while its engine runs, as far as a plan says so (M-22 to M-25).

use rigore_mechanics::joint::{RodAssembly, Roughness, USUAL_LOAD_INTRODUCTION};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity};

/// The loads of a joint once its engine runs; what a plan does not say is not looked at.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RunningLoads {
    /// What pulls on each bolt along it, kN.
    pub axial_kn: Option<f64>,
    /// Where that load enters the parts, from 0 to 1.
    pub introduction: f64,
    /// What has to stay clamped at each bolt, kN.
    pub needed_kn: f64,
    /// The rod that the bolts hold, and how fast its engine turns.
    pub rod: Option<RodRunning>,
    /// Parts and bolt when the engine is hot.
    pub hot: Option<Temperatures>,
    /// Parts and bolt when it is started cold.
    pub cold: Option<Temperatures>,
    /// How its faces settle.
    pub settling: Option<FaceSettling>,
}

impl Default for RunningLoads {
    fn default() -> Self {
        Self {
            axial_kn: None,
            introduction: USUAL_LOAD_INTRODUCTION,
            needed_kn: 0.0,
            rod: None,
            hot: None,
            cold: None,
            settling: None,
        }
    }
}

/// A rod at the speed that is intended.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RodRunning {
    /// Its masses and lengths.
    pub assembly: RodAssembly,
    /// The speed, rpm.
    pub speed_rpm: f64,
}

/// How warm parts and bolt are; a joint is tightened at 20 °C.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Temperatures {
    /// The clamped parts, °C.
    pub parts_c: f64,
    /// The bolt, °C.
    pub bolt_c: f64,
}

/// How the faces of a joint settle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FaceSettling {
    /// How rough they are.
    pub roughness: Roughness,
    /// Heads and nuts.
    pub heads: u32,
    /// Faces between parts; washers and shims count.
    pub interfaces: u32,
    /// What a gasket gives of the clamp load, as a share.
    pub creep: f64,
}

/// A washer under a head or nut.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Washer {
    /// Its outer diameter, mm.
    pub outer_mm: f64,
    /// How thick it is, mm.
    pub thickness_mm: f64,
}

/// The parts that one bolt of a kind clamps, as far as a plan says what they are.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct ClampedParts {
    /// Outer diameter of the face under the head, mm, and of the hole in it.
    pub face_mm: Option<(f64, f64)>,
    /// A washer under the head or nut.
    pub washer: Option<Washer>,
    /// What the part under the head stands, `MPa`, and whether the plan gives it; else it is usual for its material.
    pub limit_mpa: Option<(f64, bool)>,
    /// From the head down: thickness, mm, and expansion, per K, where the material is known.
    pub layers: Vec<(f64, Option<f64>)>,
}

impl ClampedParts {
    /// In a few words, every figure of it: what a difference between two plans says.
    pub fn words(&self) -> Message {
        let length = |mm: f64| Quantity::fine(mm, Dimension::Length);
        let layers = self.layers.iter().map(|(thickness, expansion)| {
            let thickness = length(*thickness);
            let Some(per_k) = expansion else { return thickness.into() };
            message!("plan-grows-by-e-6-per-k", thickness, per_k = format!("{:.1}", per_k * 1e6))
        });
        let washer = self.washer.map(|of| {
            message!("plan-washer-thick", outer = length(of.outer_mm), thickness = length(of.thickness_mm))
        });
        let limit = self.limit_mpa.filter(|(_, given)| *given).map(|(limit, _)| {
            message!("plan-at-most-under", limit = Quantity::new(limit, Dimension::Pressure))
        });
        let all: Vec<Message> = layers.chain(washer).chain(limit).collect();
        if all.is_empty() { message!("plan-not-known") } else { Message::join(all, "; ") }
    }
}

impl RunningLoads {
    /// In a few words, every figure of it: what a difference between two plans says.
    pub fn words(&self) -> Message {
        let force = |kn: f64| Quantity::new(kn, Dimension::Force);
        let degrees = |celsius: f64| Quantity::new(celsius, Dimension::Temperature);
        let pulls = match (self.axial_kn, self.rod) {
            (Some(axial), _) => Some(message!("plan-on-each-bolt", axial = force(axial))),
            (None, Some(RodRunning { assembly, speed_rpm })) => Some(message!(
                "plan-rod-stroke-at-rpm",
                length = Quantity::new(assembly.rod_mm, Dimension::Length),
                stroke = Quantity::new(assembly.stroke_mm, Dimension::Length),
                reciprocating = Quantity::new(assembly.reciprocating_kg * 1000.0, Dimension::Mass),
                rotating = Quantity::new(assembly.rotating_kg * 1000.0, Dimension::Mass),
                speed = format!("{speed_rpm:.0}"),
            )),
            (None, None) => None,
        };
        let pulls = pulls.map(|pulls| {
            message!(
                "plan-n-needed",
                pulls,
                introduction = format!("{:.2}", self.introduction),
                needed = force(self.needed_kn)
            )
        });
        let at = |name: &str, at: Option<Temperatures>| {
            at.map(|at| {
                let (parts, bolt) = (degrees(at.parts_c), degrees(at.bolt_c));
                message!("plan-parts-bolt", name, parts, bolt)
            })
        };
        let settles = self.settling.map(|of| {
            let faces = format!("{:?}", of.roughness).to_lowercase();
            let creep = format!("{:.0} %", of.creep * 100.0);
            message!(
                "plan-faces-heads-interfaces-creep",
                faces,
                heads = of.heads,
                interfaces = of.interfaces,
                creep
            )
        });
        let all = [pulls, at("hot", self.hot), at("cold", self.cold), settles];
        Message::join(all.into_iter().flatten(), "; ")
    }
}

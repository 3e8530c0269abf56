//! Everything that is known of a joint on one page: assembly, scatter, running, hot and cold, settling, pressure and
//! engagement, each figure with its formula and source, and a margin where one can be had.
//!
//! A joint's page has one source. `Plan::joint_sheet` makes every figure of a joint with its formula, source and
//! margin; the page of the plan shows it, and the plan's check goes by its margins (`check/loads.rs`). What it
//! stands while the engine runs is the plan's word (`RunningLoads`).

use super::document::{FastenerGroup, FastenerSpec, Joint, Plan};
use super::index::{GroupIx, StageIx};
use super::running_loads::{RunningLoads, Temperatures, Washer};
use rigore_mechanics::fastener::{Engagement, Material, StrippingThread};
use rigore_mechanics::joint::{
    Fastening, Forecast, WarmLayer, WorkingLoad, alternating_limit_mpa, embedding_loss_kn,
    spread_by_washer_mm, surface_pressure_mpa, thermal_change_kn,
};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity, in_kn};
use rigore_mechanics::{message, text};
use serde::Serialize;

/// Where joints are tightened, °C.
const ASSEMBLY_C: f64 = 20.0;
/// A loss of clamp load from which a second round of tightening is worth it, as a share.
const WORTH_RETORQUE: f64 = 0.05;

/// What is known of the fasteners of one group.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GroupSheet {
    /// What the group is called.
    pub name: String,
    /// The kind of fastener, with its thread.
    pub fastener: String,
    /// What it turns on.
    pub lubricant: String,
    /// Its figures.
    pub lines: Vec<SheetLine>,
}

/// A part of such a page.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum SheetPart {
    /// After tightening.
    Assembly,
    /// Under the loads of the running engine.
    Running,
    /// Hot and cold.
    Temperature,
    /// What settles.
    Settling,
    /// Under the head.
    Pressure,
    /// In the hole.
    Engagement,
}

/// What a margin says; the plan's check and the page go by the same words.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum MarginVerdict {
    /// It allows a fifth more than it has to, or more.
    Holds,
    /// It allows what it has to, and less than a fifth more.
    HoldsByLittle,
    /// It allows less than it has to.
    DoesNotHold,
}

impl MarginVerdict {
    /// Of a margin: what is allowed over what has to be.
    pub fn of(margin: f64) -> Self {
        match margin {
            margin if margin < 1.0 => Self::DoesNotHold,
            margin if margin < 1.2 => Self::HoldsByLittle,
            _ => Self::Holds,
        }
    }
}

/// One figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SheetLine {
    /// Which part of the page it belongs to.
    pub part: SheetPart,
    /// What it is.
    pub what: String,
    /// The figure in words.
    pub value: Message,
    /// What it allows over what it has to: under 1 it does not hold.
    pub margin: Option<f64>,
    /// What that says.
    pub verdict: Option<MarginVerdict>,
    /// Its formula.
    pub formula: String,
    /// Where that is from.
    pub source: String,
}

const VDI: &str = "VDI 2230-1";

fn kn(value: f64) -> Quantity {
    Quantity::new(value, Dimension::Force)
}

fn mpa(value: f64) -> Quantity {
    Quantity::new(value, Dimension::Pressure)
}

/// A share as whole percents.
pub(super) fn percent(share: f64) -> String {
    format!("{:.0} %", share * 100.0)
}

/// A group with what its last stage leaves.
struct Loaded<'a> {
    /// Fasteners of the whole joint: they share what pulls on it.
    bolts: usize,
    group: &'a FastenerGroup,
    fastening: &'a Fastening,
    load: Forecast,
    lines: Vec<SheetLine>,
}

impl Plan {
    /// The page of a joint: its groups whose clamp load can be computed.
    pub fn joint_sheet(&self, joint: &Joint) -> Vec<GroupSheet> {
        (0..joint.groups.len()).filter_map(|at| self.group_sheet(joint, GroupIx(at))).collect()
    }

    /// The same of one group; none where its clamp load cannot be computed.
    pub fn group_sheet(&self, joint: &Joint, at: GroupIx) -> Option<GroupSheet> {
        let group = &joint[at];
        let spec = &self[group.spec];
        let fastening = Some(&spec.fastening).filter(|of| of.known)?;
        let mut stages =
            (0..joint.stages.len()).rev().map(StageIx).filter(|stage| joint[*stage].group == Some(at));
        let stage = stages.find(|stage| self.forecast(joint, *stage).is_some())?;
        let load = self.forecast(joint, stage)?;
        let mut of = Loaded { bolts: joint.fasteners.len(), group, fastening, load, lines: Vec::new() };
        of.assembly(spec.to_yield);
        if let Some(strong) = joint.forecast(&fastening.strongest(), stage).filter(|_| spec.to_yield) {
            of.yielding(strong, spec.elongation_allowed_mm);
        }
        if let Some(running) = &joint.running {
            of.settling(running);
            of.temperature(running, &spec.clamped.layers, spec.expansion_per_k);
            of.running(running);
        }
        if let (Some(face), limit) = (spec.clamped.face_mm, spec.clamped.limit_mpa) {
            of.pressure(face, spec.clamped.washer, limit);
        }
        of.engagement(spec);
        of.lines.sort_by_key(|line| line.part as u8);
        Some(GroupSheet {
            name: group.name.clone(),
            fastener: spec.title(),
            lubricant: spec.lubrication.words(),
            lines: of.lines,
        })
    }
}

impl Loaded<'_> {
    fn put(
        &mut self,
        part: SheetPart,
        what: String,
        value: impl Into<Message>,
        margin: Option<f64>,
        (formula, source): (impl Into<String>, impl Into<String>),
    ) {
        let margin = margin.filter(|margin| margin.is_finite());
        let verdict = margin.map(MarginVerdict::of);
        self.lines.push(SheetLine {
            part,
            what,
            value: value.into(),
            margin,
            verdict,
            formula: formula.into(),
            source: source.into(),
        });
    }

    fn assembly(&mut self, to_yield: bool) {
        let Forecast { low_kn, typical_kn, high_kn, utilisation, most_utilisation, .. } = self.load;
        let part = SheetPart::Assembly;
        let range = kn(low_kn).up_to(high_kn);
        let value = message!("plan-with-scatter", typical = kn(typical_kn), range);
        self.put(
            part,
            text!("plan-clamp-load"),
            value,
            None,
            ("F = T / [P/2π + μt d2/(2 cos 30°) + μb Db/2]; + θ/360° P/(δS + δP); = ΔL/δB", VDI),
        );
        let used = message!("plan-max", typical = percent(utilisation), most = percent(most_utilisation));
        let margin = (!to_yield).then(|| 1.0 / most_utilisation);
        self.put(
            part,
            text!("plan-percent-of-yield-label"),
            used,
            margin,
            ("ν = F/As · √(1 + 3κ²) / Rp0.2", VDI),
        );
        let k = message!("plan-k", k = format!("{:.3}", self.load.nut_factor));
        self.put(part, text!("plan-nut-factor-k"), k, None, ("K = T / (F d)", VDI));
        let share = |of: f64| percent(of);
        let goes = message!(
            "plan-stretches-bolt-goes-into-thread-under",
            pitch = share(self.load.pitch_share),
            thread = share(self.load.thread_share),
            bearing = share(self.load.bearing_share)
        );
        self.put(
            part,
            text!("plan-torque-split"),
            goes,
            None,
            ("P/2π, μt d2/(2 cos 30°), μb Db/2 as shares", VDI),
        );
    }

    /// A bolt that is meant to yield: its strength is a range, from the least of its class to a fifth more.
    fn yielding(&mut self, strong: Forecast, elongation_allowed_mm: Option<f64>) {
        let part = SheetPart::Assembly;
        let strongest = self.fastening.strongest();
        let [least, most] = [self.fastening, &strongest].map(Fastening::at_yield);
        let value = message!(
            "plan-for-least-strength-class-for-bolt",
            least = kn(least.typical_kn),
            most = kn(most.typical_kn)
        );
        let formula = ("Rp0.2 As/√(1 + 3κ²), and with 1.2 Rp0.2", "VDI 2230-1, ISO 898-1");
        self.put(part, text!("plan-yield-at"), value, None, formula);
        let stretched =
            [strong.longer_mm, self.load.longer_mm].map(|mm| Quantity::new(mm, Dimension::Clearance));
        let value = message!("plan-permanent-stretch", range = stretched[0].up_to(self.load.longer_mm));
        let margin = elongation_allowed_mm
            .filter(|_| self.load.longer_mm > 0.0)
            .map(|most| most / self.load.longer_mm);
        self.put(
            part,
            text!("plan-permanent-stretch-label"),
            value,
            margin,
            ("(θ − θy) P/360°, for either strength", VDI),
        );
        if strong.longer_mm <= 0.0 {
            let value = text!("plan-bolt-fifth-stronger-stays-elastic-does");
            self.put(part, text!("plan-to-yield-label"), value, None, ("θ < θy at 1.2 Rp0.2", VDI));
        }
    }

    /// What is left of the least clamp load once the joint has settled, kN.
    fn settled_kn(&self, running: &RunningLoads) -> f64 {
        self.load.low_kn - self.settling_loss_kn(running)
    }

    fn settling_loss_kn(&self, running: &RunningLoads) -> f64 {
        let (Some(of), Some(resilience)) = (running.settling, self.fastening.resilience()) else {
            return 0.0;
        };
        embedding_loss_kn(of.roughness.total_um(of.heads, of.interfaces), resilience)
            + of.creep * self.load.low_kn
    }

    fn settling(&mut self, running: &RunningLoads) {
        if running.settling.is_none() || self.fastening.resilience().is_none() {
            return;
        }
        let loss = self.settling_loss_kn(running);
        let share = loss / self.load.typical_kn;
        let retorque = if share > WORTH_RETORQUE {
            text!("plan-second-round-worth")
        } else {
            text!("plan-no-second-round-needed")
        };
        let value = message!("plan-loss-share-retorque", loss = kn(loss), share = percent(share), retorque);
        self.put(
            SheetPart::Settling,
            text!("plan-clamp-load-lost"),
            value,
            None,
            ("Σ fZ/(δS + δP), and the gasket's creep", "VDI 2230-1, table 5"),
        );
        let left = message!("plan-min", least = kn(self.settled_kn(running)));
        self.put(
            SheetPart::Settling,
            text!("plan-remaining-clamp-load"),
            left,
            None,
            (text!("plan-least-clamp-load-loss"), VDI),
        );
    }

    /// What temperatures change of the clamp load, kN, where materials and resiliences are known.
    fn change_kn(&self, at: Temperatures, layers: &[(f64, Option<f64>)], bolt_expansion: f64) -> Option<f64> {
        let warm = |(thickness_mm, expansion): &(f64, Option<f64>)| {
            Some(WarmLayer {
                thickness_mm: *thickness_mm,
                expansion_per_k: (*expansion)?,
                rise_k: at.parts_c - ASSEMBLY_C,
            })
        };
        let layers: Vec<WarmLayer> = layers.iter().map(warm).collect::<Option<_>>()?;
        let known = (!layers.is_empty()).then_some(self.fastening.resilience()?)?;
        Some(thermal_change_kn(&layers, bolt_expansion, at.bolt_c - ASSEMBLY_C, known))
    }

    fn temperature(&mut self, running: &RunningLoads, layers: &[(f64, Option<f64>)], bolt_expansion: f64) {
        for (what, at) in [(text!("plan-hot"), running.hot), (text!("plan-cold"), running.cold)] {
            let Some(change) = at.and_then(|at| self.change_kn(at, layers, bolt_expansion)) else { continue };
            let (least, most) = (self.settled_kn(running) + change, self.load.high_kn + change);
            let (by, range) = (kn(change.abs()), kn(least).up_to(most));
            let value = if change < 0.0 {
                message!("plan-clamp-load-less", by, range)
            } else {
                message!("plan-clamp-load-more", by, range)
            };
            let formula = ("Σ l (αP ΔTP − αS ΔTS)/(δS + δP)", "physics, VDI 2230-1 table A9");
            // What is needed has to be left; where nothing is, it must not come to nothing.
            let margin = match running.needed_kn {
                needed if needed > 0.0 => Some(least / needed),
                _ => (least <= 0.0).then_some(0.0),
            };
            self.put(SheetPart::Temperature, what, value, margin, formula);
        }
    }

    fn running(&mut self, running: &RunningLoads) {
        let Some(resilience) = self.fastening.resilience() else { return };
        #[expect(clippy::cast_precision_loss, reason = "a joint has few fasteners")]
        let bolts = self.bolts as f64;
        let by_rod = running.rod.map(|rod| rod.assembly.inertia_kn(rod.speed_rpm) / bolts);
        let Some(axial_kn) = running.axial_kn.or(by_rod) else { return };
        let part = SheetPart::Running;
        let settled = self.settled_kn(running);
        let load = WorkingLoad::new(settled, axial_kn, resilience, running.introduction);
        if let Some(rod) = running.rod {
            let value = message!(
                "plan-on-each-bolt-at-rpm",
                axial = kn(axial_kn),
                speed = format!("{:.0}", rod.speed_rpm)
            );
            self.put(
                part,
                text!("plan-pull-at-top-dead-centre"),
                value,
                None,
                ("r ω² [m_recip (1 + r/l) + m_rot] / bolts", text!("plan-crank-mechanics")),
            );
        } else {
            self.put(part, text!("plan-working-load"), kn(axial_kn), None, ("given", text!("plan-plan")));
        }
        let share = message!(
            "plan-share-factor",
            share = kn(load.bolt_share_kn()),
            factor = format!("{:.3}", load.factor)
        );
        self.put(part, text!("plan-share-bolt"), share, None, ("Φ FA, Φ = n δP/(δS + δP)", VDI));
        let taken_off = (1.0 - load.factor) * axial_kn;
        let still = message!("plan-of", clamp = kn(load.clamp_kn()), settled = kn(settled));
        let margin = settled / (taken_off + running.needed_kn);
        self.put(
            part,
            text!("plan-still-clamped"),
            still,
            Some(margin),
            (text!("plan-f-1-fa-at-least-clamp"), VDI),
        );
        if let Some(rod) = running.rod {
            let opens = rod.assembly.speed_rpm((load.opens_at_kn() * bolts).max(0.0));
            let value = message!("plan-rpm", speed = format!("{opens:.0}"));
            self.put(
                part,
                text!("plan-joint-opens-at"),
                value,
                Some(opens / rod.speed_rpm),
                ("F/(1 − Φ) on each bolt", VDI),
            );
            if let Some(own) = self.fastening.own_resilience() {
                let needed_kn = taken_off + running.needed_kn + self.settling_loss_kn(running);
                let needed = Quantity::new(needed_kn * 1000.0 * own, Dimension::Clearance);
                let value = message!("plan-min-with-needed", needed);
                self.put(
                    part,
                    text!("plan-stretch-needed"),
                    value,
                    None,
                    ("[(1 − Φ) FA + needed + settling] δB", VDI),
                );
            }
        }
        let thread = &self.fastening.thread;
        let (alternates, limit) = (load.alternating_mpa(thread), alternating_limit_mpa(thread));
        let value = message!("plan-of-with-stress-limit", stress = mpa(alternates), limit = mpa(limit));
        let formula = ("Φ FA/(2 As) against 0.85 (150/d + 45)", "VDI 2230-1, rolled before heat treatment");
        self.put(part, text!("plan-alternating-stress"), value, Some(limit / alternates), formula);
    }

    fn pressure(&mut self, (outer, hole): (f64, f64), washer: Option<Washer>, limit: Option<(f64, bool)>) {
        let Some(washer) = washer else {
            return self.pressure_of(text!("plan-under-head"), (outer, hole), limit, true);
        };
        let spread = spread_by_washer_mm(outer, washer.outer_mm, washer.thickness_mm);
        self.pressure_of(text!("plan-under-washer"), (spread, hole), limit, true);
        self.pressure_of(text!("plan-without-washer"), (outer, hole), limit, false);
    }

    /// The pressure on a ring; what is shown to compare with is not judged.
    fn pressure_of(
        &mut self,
        what: String,
        (outer, hole): (f64, f64),
        limit: Option<(f64, bool)>,
        judged: bool,
    ) {
        let pressure = surface_pressure_mpa(self.load.high_kn, outer, hole);
        let formula = ("F/(π/4 (D² − d²)) at the most clamp load; D = dw + 1.6 h under a washer", VDI);
        let value = match limit {
            Some((limit, true)) => {
                message!("plan-of-with-pressure-limit", pressure = mpa(pressure), limit = mpa(limit))
            }
            Some((limit, false)) => {
                message!("plan-estimate-for-material", pressure = mpa(pressure), limit = mpa(limit))
            }
            None => mpa(pressure).into(),
        };
        self.put(
            SheetPart::Pressure,
            what,
            value,
            limit.filter(|(_, given)| judged && *given).map(|(limit, _)| limit / pressure),
            formula,
        );
    }

    fn engagement(&mut self, spec: &FastenerSpec) {
        let Some(hole) = &self.group.hole else { return };
        let engagement = hole.engagement(spec);
        let (strips, weaker) = engagement.strips(hole.engaged_mm);
        let whose = if weaker == StrippingThread::Hole { text!("plan-holes") } else { text!("plan-bolts") };
        let length = |mm: f64| Quantity::new(mm, Dimension::Length);
        let value = message!(
            "plan-thread-strips-at",
            engaged = length(hole.engaged_mm),
            needed = length(engagement.needed_mm()),
            whose,
            strips = kn(in_kn(strips))
        );
        let margin = in_kn(strips) / self.load.high_kn;
        let formula = ("1.2 Rm As/(ratio Rm,hole 0.875 π d); As/(0.6 · 0.75 π D1)", VDI);
        self.put(SheetPart::Engagement, text!("plan-thread-engaged"), value, Some(margin), formula);
    }
}

impl crate::Hole {
    /// How a fastener is engaged in it, as far as the plan says what it is cut into.
    pub fn engagement(&self, spec: &FastenerSpec) -> Engagement {
        let material = self.material.unwrap_or(Material::Aluminium);
        let of =
            Engagement::in_part(spec.hole_thread(), spec.fastening.strength.tensile, material, self.tensile);
        Engagement { hole_shear: self.shear_ratio.unwrap_or(of.hole_shear), ..of }
    }
}

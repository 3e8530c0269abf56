//! From the plan's figure to what is asked for at the bench, each step on the way with its reason.
//!
//! This is the only way to a figure on the bench: whatever changes it is a [`Correction`] here, and
//! "why this number" is what was computed. In order: the plan's figure; what the fastener has of it; a
//! lubricant other than the plan's; the adapter between wrench and fastener; the step that the wrench can
//! be set in.
//!
//! A target has reasons. `Target::of` is the only way to a figure on the bench; whatever changes it is a
//! `Correction` there, in the order in which they are applied: the plan's figure, what the fastener has of it,
//! another lubricant than the plan's, the adapter, the step of the wrench. The `TargetSetup` says what lies between the
//! fastener and the wrench; `Instrument::setup` is the only one who makes it, for the target that is shown, for
//! what a reading is asked about, and for whether the wrench fits. "Why this number" shows the corrections.

use super::way::{EvidenceKind, StageProgress, Way};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension, Quantity, Unit};
use rigore_mechanics::tightening::adapter::{Adapter, setting};
use rigore_mechanics::tightening::{Band, Verdict};
use serde::Serialize;

/// One step from the plan's figure to the figure that is shown.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Correction {
    /// The plan's figure, and the least and most that will do.
    Planned {
        /// What is wanted.
        target: f64,
        /// The least that will do.
        low: f64,
        /// The most that will do.
        high: f64,
    },
    /// Another lubricant than the one that the figure was given for, at equal preload (M-9).
    Lubricant {
        /// The one it was given for.
        from: String,
        /// The one that is used.
        used: String,
        /// Where its friction comes from.
        source: String,
        /// The clamp load at the most friction of what is used, as a share of the one that is wanted.
        least: f64,
        /// The same at its least friction.
        most: f64,
        /// The torque it leads to.
        to: f64,
    },
    /// What the fastener has shown of its own friction (C-24).
    Shown {
        /// The torque it leads to.
        to: f64,
        /// The most that the plan allows of its yield.
        most: f64,
    },
    /// What the fastener has of it already.
    Turned {
        /// How much that is.
        so_far: f64,
    },
    /// An adapter between the wrench and the fastener (C-15).
    Adapter {
        /// What it is called.
        name: String,
        /// From the drive to the fastener, mm.
        length_mm: f64,
        /// Between wrench and adapter, degrees.
        angle_deg: f64,
        /// From the hand to the drive, mm.
        reach_mm: f64,
        /// The setting it leads to.
        to: f64,
    },
    /// What the wrench can be set to.
    Step {
        /// Its step, in `unit`.
        step: f64,
        /// The unit of its scale.
        unit: &'static str,
        /// The setting it leads to.
        to: f64,
    },
}

/// Torques that are converted from one lubricant to another.
#[derive(Debug, Clone, PartialEq)]
pub struct LubricantConversion {
    /// The lubricant that torques were given for.
    pub from: String,
    /// The one that is used.
    pub used: String,
    /// Where its friction comes from.
    pub source: String,
    /// What a torque is multiplied by.
    pub factor: f64,
    /// The clamp load at the most and at the least friction of it, as shares of the one that is wanted.
    pub load: [f64; 2],
}

/// What lies between the plan's figure and the wrench.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct TargetSetup<'a> {
    /// The lubricant that the torque is converted to.
    pub conversion: Option<&'a LubricantConversion>,
    /// The adapter that the fastener needs.
    pub adapter: Option<&'a Adapter>,
    /// From the hand to the drive of the wrench, mm, where it is known.
    pub reach_mm: Option<f64>,
    /// The unit of the wrench's scale, and the step it can be set in.
    pub scale: Option<(&'static Unit, f64)>,
}

impl TargetSetup<'_> {
    /// What a torque of the plan is on the wrench, as a factor; `None` where that cannot be told.
    pub fn factor(&self) -> Option<f64> {
        Some(self.converted() * self.leverage()?)
    }

    /// What a torque of the plan is at the fastener, as a factor.
    fn converted(&self) -> f64 {
        self.conversion.map_or(1.0, |conversion| conversion.factor)
    }

    /// What a torque at the fastener is on the wrench, as a factor.
    fn leverage(&self) -> Option<f64> {
        let Some(adapter) = self.adapter else { return Some(1.0) };
        setting(1.0, self.reach_mm?, adapter.length_mm, adapter.angle_deg).ok()
    }
}

/// What one fastener is to be given in one stage, as the wrench shows it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StageTarget {
    /// What is asked for; figures are in its base unit.
    pub dimension: Dimension,
    /// What is wanted in all.
    pub wanted: f64,
    /// The least that will do in all.
    pub low: f64,
    /// The most that will do in all.
    pub high: f64,
    /// What counts towards it already.
    pub so_far: f64,
    /// The figure to pull to now.
    pub shown: f64,
    /// The unit of the wrench's scale, where it has one.
    pub unit: Option<&'static str>,
    /// How it came from the plan's figure, in order.
    pub because: Vec<Correction>,
}

impl StageTarget {
    /// What a fastener that had so much is to be given; `None` where nothing is read. Where the setup
    /// cannot be computed with, the figure is the one at the fastener.
    pub fn of(way: &Way, had: StageProgress, setup: &TargetSetup<'_>) -> Option<Self> {
        let way = &way;
        let (dimension, band) = way.aim(had)?;
        let so_far = if way.adds_up() { had.value } else { 0.0 };
        let Band { target, low, high, .. } = band;
        let mut because = vec![match way.shows() {
            Some(EvidenceKind::Torque) => Correction::Shown { to: target, most: high },
            _ => Correction::Planned { target, low, high },
        }];
        if so_far > 0.0 {
            because.push(Correction::Turned { so_far });
        }
        let mut target = Self {
            dimension,
            wanted: band.target,
            low: band.low,
            high: band.high,
            so_far,
            shown: band.target - so_far,
            unit: None,
            because,
        };
        if dimension == Dimension::Torque {
            target.lubricated(setup.conversion.filter(|_| way.converts()));
            target.beyond(setup);
            target.stepped(setup);
        }
        Some(target)
    }

    fn times(&mut self, factor: f64) {
        self.wanted *= factor;
        self.low *= factor;
        self.high *= factor;
        self.shown *= factor;
    }

    /// Takes another lubricant in.
    fn lubricated(&mut self, conversion: Option<&LubricantConversion>) {
        let Some(LubricantConversion { from, used, source, factor, load: [least, most] }) = conversion else {
            return;
        };
        self.times(*factor);
        self.because.push(Correction::Lubricant {
            from: from.clone(),
            used: used.clone(),
            source: source.clone(),
            least: *least,
            most: *most,
            to: self.shown,
        });
    }

    /// Takes the adapter in.
    fn beyond(&mut self, setup: &TargetSetup<'_>) {
        let (Some(adapter), Some(reach_mm), Some(factor)) = (setup.adapter, setup.reach_mm, setup.leverage())
        else {
            return;
        };
        self.times(factor);
        self.because.push(Correction::Adapter {
            name: adapter.name.clone(),
            length_mm: adapter.length_mm,
            angle_deg: adapter.angle_deg,
            reach_mm,
            to: self.shown,
        });
    }

    /// Takes the wrench's own step in, where that changes anything.
    fn stepped(&mut self, setup: &TargetSetup<'_>) {
        let Some((unit, step)) = setup.scale else { return };
        self.unit = Some(unit.symbol);
        let set = (self.shown / unit.factor / step).round() * step * unit.factor;
        if (set - self.shown).abs() > 1e-9 * self.shown {
            self.shown = set;
            self.because.push(Correction::Step { step, unit: unit.symbol, to: set });
        }
    }

    /// Why the wrench cannot be set to it, if it cannot: its step leaves the tolerance.
    pub fn fault(&self) -> Option<Message> {
        let Some(Correction::Step { step, unit, .. }) = self.because.last() else { return None };
        let band = self.band();
        (band.judge(self.shown) != Verdict::Good).then(|| {
            let unit = quantity::unit(unit).unwrap_or(self.dimension.base());
            let steps = Quantity::fine(step * unit.factor, self.dimension).in_scale(unit);
            let limits = Quantity::new(self.low, self.dimension).up_to(self.high).in_scale(unit);
            message!("plan-steps-miss", steps, limits)
        })
    }

    /// The verdict on so much more, with what counts already.
    pub fn judge(&self, more: f64) -> Verdict {
        self.band().judge(self.so_far + more)
    }

    fn band(&self) -> Band {
        Band::between(self.wanted, self.low, self.high, self.dimension)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::way::Torque;

    fn to_90() -> Way {
        Way::new(Torque { band: Band::around(90.0, 3.6, Dimension::Torque.base()) })
    }

    fn crowfoot(angle_deg: f64) -> Adapter {
        Adapter { id: "c".into(), name: "Crowfoot".into(), length_mm: 50.0, angle_deg, wrench_mm: 300.0 }
    }

    #[test]
    fn an_adapter_and_the_step_of_the_wrench_change_what_is_set_and_say_so() {
        let crowfoot = crowfoot(0.0);
        let feet = quantity::unit("lbf·ft").unwrap();
        let setup = TargetSetup {
            adapter: Some(&crowfoot),
            reach_mm: Some(400.0),
            scale: Some((feet, 1.0)),
            ..TargetSetup::default()
        };
        let target = StageTarget::of(&to_90(), StageProgress::default(), &setup).unwrap();
        // 80 N·m at the wrench are 59.0045 lbf·ft.
        assert!((target.wanted - 80.0).abs() < 1e-9 && (target.low - 76.8).abs() < 1e-9);
        assert!((target.shown / feet.factor - 59.0).abs() < 1e-9);
        assert!(target.fault().is_none());
        assert!(matches!(
            target.because[..],
            [Correction::Planned { .. }, Correction::Adapter { .. }, Correction::Step { .. }]
        ));
        assert_eq!(target.judge(76.9), Verdict::Good);
        assert_eq!(target.judge(84.0), Verdict::Over);
    }

    #[test]
    fn a_step_that_misses_the_tolerance_is_a_fault_and_a_wrench_of_unknown_length_cannot_be_corrected() {
        let newton = Dimension::Torque.base();
        let coarse = TargetSetup { scale: Some((newton, 20.0)), ..TargetSetup::default() };
        let target = StageTarget::of(&to_90(), StageProgress::default(), &coarse).unwrap();
        assert_eq!(target.fault().unwrap(), "steps of 20.0 N·m miss 86.4 to 93.6 N·m");
        let crowfoot = crowfoot(0.0);
        let unknown = TargetSetup { adapter: Some(&crowfoot), ..TargetSetup::default() };
        assert_eq!(unknown.factor(), None);
        assert!(
            (StageTarget::of(&to_90(), StageProgress::default(), &unknown).unwrap().shown - 90.0).abs()
                < 1e-12
        );
    }
}

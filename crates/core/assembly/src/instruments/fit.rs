//! Whether an instrument fits what it is to read (C-7).
//!
//! Whether an instrument may be used has one answer (`fit.rs`): `may_not` (found wrong, away, kept for others,
//! out of calibration) and `cannot` (its kind, its range). The bench offers by it, an entry is remarked by it, and
//! the day (`requirements.rs`, `schedule/hands.rs`) asks it who can do what and what waits for which instrument.

use crate::events::{Instrument, ToolFault};
use crate::instruments::register::CalibrationDue;
use rigore_mechanics::clearance::GaugeAccuracy;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension, Quantity};
use rigore_mechanics::tightening::adapter::Adapter;
use rigore_plan::way::{InstrumentAbility, StageProgress, Way};
use rigore_plan::{LubricantConversion, StageTarget, TargetSetup};
use rigore_plan::{Site, SiteForm};
use serde::Serialize;
use std::collections::BTreeMap;
use time::OffsetDateTime;

/// A window has to be read in so many steps at the least.
const FINE: f64 = 5.0;

/// Whether two settings of a wrench are one, but for units and rounding.
pub(crate) fn same_setting(a_nm: f64, b_nm: f64) -> bool {
    (a_nm - b_nm).abs() <= 0.002 * a_nm.abs().max(b_nm.abs())
}

/// What lies between a figure of the plan and any wrench.
#[derive(Debug, Clone, Copy, Default)]
pub struct AdapterAndLubricant<'a> {
    /// The adapter that the fastener needs.
    pub adapter: Option<&'a Adapter>,
    /// The lubricant that the figure is converted to.
    pub conversion: Option<&'a LubricantConversion>,
}

/// Who uses an instrument, and when.
#[derive(Debug, Clone, Copy)]
pub struct InstrumentUser<'a> {
    /// Key of the person; somebody, where it is not known yet who.
    pub by: Option<&'a str>,
    /// When.
    pub at: OffsetDateTime,
}

impl InstrumentUser<'_> {
    /// Somebody uses it.
    pub fn somebody(at: OffsetDateTime) -> Self {
        Self { by: None, at }
    }
}

/// The instruments of the shop as they are at a time.
#[derive(Debug, Clone, Copy)]
pub struct ShopTools<'a> {
    /// Every instrument, in the order of the shop.
    pub instruments: &'a [Instrument],
    /// What click wrenches are set to, N·m, by key, where somebody said so.
    pub settings: &'a BTreeMap<String, f64>,
    /// Whose hands they are for, and now.
    pub using: InstrumentUser<'a>,
}

impl ShopTools<'_> {
    /// How each instrument fits a need: what suits first, then what is made for it, last what is made for something else; real ones before
    /// stand-ins, the surer ones before others; else in the order of the shop.
    pub(crate) fn fits(&self, need: &ReadingNeed<'_>) -> Vec<ToolFit> {
        Self::ranked(self.instruments.iter().map(|tool| tool.fit(need, self.using)).collect())
    }

    /// The same for a pull, with what each instrument has to show or to be set to.
    pub(crate) fn fits_pull(
        &self,
        way: &Way,
        had: StageProgress,
        between: AdapterAndLubricant<'_>,
    ) -> Vec<ToolFit> {
        let Some(ability) = way.ability(had) else { return Vec::new() };
        let fit = |tool: &Instrument| {
            let target = StageTarget::of(way, had, &tool.setup(between));
            let wanted = target.as_ref().filter(|_| tool.clicks && ability.torque_nm().is_some());
            let set_to_nm = self.settings.get(&tool.id).copied();
            let is_set = |target: &StageTarget| set_to_nm.is_some_and(|set| same_setting(set, target.shown));
            ToolFit {
                click: wanted.map(|target| ClickFit { set_to_nm, is_set: is_set(target) }),
                fault: tool.unfit_to_pull(way, had, between, self.using).map(|unfit| unfit.words),
                target,
                ..tool.fit(&ReadingNeed::Pull(ability), self.using)
            }
        };
        Self::ranked(self.instruments.iter().map(fit).collect())
    }

    fn ranked(mut fits: Vec<ToolFit>) -> Vec<ToolFit> {
        let rank = |fit: &ToolFit| {
            (
                !fit.suits,
                fit.fault.is_some(),
                fit.made_for_other,
                !fit.made_for,
                fit.nature == InstrumentNature::StandIn,
            )
        };
        fits.sort_by(|a, b| rank(a).cmp(&rank(b)).then(a.accuracy.total_cmp(&b.accuracy)));
        fits
    }
}

/// How an instrument of the shop fits what is to be read.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ToolFit {
    /// Key of the instrument.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether it measures such a thing at all.
    pub suits: bool,
    /// Whether it is made for just this.
    pub made_for: bool,
    /// Whether it is made for something else, and hardly does this: a stretch gauge in a ring gap.
    pub made_for_other: bool,
    /// Whether it is one at all.
    pub nature: InstrumentNature,
    /// What it has to show or to be set to for the pull in hand, where it is for one.
    pub target: Option<StageTarget>,
    /// Its setting, where it shows no figure but clicks at one.
    pub click: Option<ClickFit>,
    /// Most that what it shows is off, to either side, in the base unit.
    pub accuracy: f64,
    /// Smallest step it shows, in the base unit.
    pub resolution: f64,
    /// The day its calibration runs out, as `YYYY-MM-DD`.
    pub calibration_due: Option<String>,
    /// Why it should not be used, if it should not.
    pub fault: Option<Message>,
}

/// What an instrument is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum InstrumentNature {
    /// One that can be held in a hand.
    Instrument,
    /// One that only pretends.
    StandIn,
    /// None: hand and eye.
    HandAndEye,
}

/// The setting of a click wrench against what is wanted (C-46).
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ClickFit {
    /// What it is set to, N·m, where somebody said so.
    pub set_to_nm: Option<f64>,
    /// Whether that is what is wanted now.
    pub is_set: bool,
}

/// Why an instrument should not have been used.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct InstrumentFault {
    /// Of which kind.
    pub fault: ToolFault,
    /// In words.
    pub words: Message,
}

/// What is to be read.
#[derive(Debug, Clone, Copy)]
pub(crate) enum ReadingNeed<'a> {
    /// A pull.
    Pull(InstrumentAbility),
    /// A reading of a site before it is taken: anything plausible.
    Site(&'a Site),
    /// Anything in a range.
    Range { dimension: Dimension, range: [f64; 2] },
    /// A size that was read; `relative` when it was against a set master.
    Size { dimension: Dimension, read: f64, relative: bool },
}

impl Instrument {
    /// How it fits a need.
    pub(crate) fn fit(&self, need: &ReadingNeed<'_>, using: InstrumentUser<'_>) -> ToolFit {
        let dimension = match need {
            ReadingNeed::Pull(_) => Dimension::Length,
            ReadingNeed::Site(site) => site.dimension,
            ReadingNeed::Size { dimension, .. } | ReadingNeed::Range { dimension, .. } => *dimension,
        };
        let own = GaugeAccuracy { accuracy: self.accuracy, resolution: self.resolution };
        let gauge = self.gauge(dimension).map_or(own, |(_, gauge)| gauge);
        ToolFit {
            id: self.id.clone(),
            name: self.name.clone(),
            suits: match need {
                ReadingNeed::Pull(InstrumentAbility::Angle) => self.angle || self.by_eye(),
                ReadingNeed::Pull(InstrumentAbility::Stretch(_)) => self.length_mm.is_some(),
                ReadingNeed::Pull(InstrumentAbility::Torque(_)) => self.torque_nm.is_some(),
                ReadingNeed::Pull(InstrumentAbility::ShowTorque(_)) => {
                    self.torque_nm.is_some() && !self.clicks
                }
                ReadingNeed::Pull(InstrumentAbility::Eye) => self.by_eye(),
                ReadingNeed::Pull(InstrumentAbility::RunDown(_)) => self.by_eye() || self.driver_nm.is_some(),
                ReadingNeed::Size { dimension, .. } | ReadingNeed::Range { dimension, .. } => {
                    self.gauge(*dimension).is_some()
                }
                ReadingNeed::Site(site) => self.gauge(site.dimension).is_some(),
            },
            made_for: match need {
                ReadingNeed::Site(site) => self.made_for.contains(&site.form),
                // What measures other things too is not made to sit on a bolt's two ends.
                ReadingNeed::Pull(InstrumentAbility::Stretch(_)) => self.made_for == [SiteForm::Length],
                // Hand and eye are for where nothing better is asked.
                ReadingNeed::Pull(InstrumentAbility::Angle) => !self.by_eye(),
                ReadingNeed::Pull(InstrumentAbility::RunDown(_)) => self.by_eye(),
                _ => false,
            },
            made_for_other: match need {
                ReadingNeed::Site(site) => !self.made_for.is_empty() && !self.made_for.contains(&site.form),
                ReadingNeed::Pull(InstrumentAbility::Stretch(_)) => {
                    !self.made_for.is_empty() && !self.made_for.contains(&SiteForm::Length)
                }
                _ => false,
            },
            nature: if self.by_eye() {
                InstrumentNature::HandAndEye
            } else if self.simulated {
                InstrumentNature::StandIn
            } else {
                InstrumentNature::Instrument
            },
            target: None,
            click: None,
            accuracy: gauge.accuracy,
            resolution: gauge.resolution,
            calibration_due: self.calibration_due.map(|due| due.to_string()),
            fault: self.unfit(need, using).map(|unfit| unfit.words),
        }
    }

    /// Why it does not fit, if it does not: made for something else, out of its range, out of
    /// calibration, found wrong, away, or kept for others.
    pub(crate) fn unfit(&self, need: &ReadingNeed<'_>, using: InstrumentUser<'_>) -> Option<InstrumentFault> {
        self.may_not(using).or_else(|| self.cannot(need))
    }

    /// Why it may not be used now, if it may not, whatever for.
    pub(crate) fn may_not(&self, using: InstrumentUser<'_>) -> Option<InstrumentFault> {
        let name = &self.name;
        if self.found_wrong {
            let words = message!("instruments-failed-last-check", name);
            return Some(InstrumentFault { fault: ToolFault::Wrong, words });
        }
        if let Some(away) = &self.away {
            return Some(InstrumentFault {
                fault: ToolFault::Away,
                words: message!("instruments-away", name, place = &away.place),
            });
        }
        if using.by.is_some_and(|by| !self.users.is_empty() && !self.users.iter().any(|user| user == by)) {
            return Some(InstrumentFault {
                fault: ToolFault::Kept,
                words: message!("instruments-reserved-for-others", name),
            });
        }
        if self.calibration(using.at.date()).is_some_and(|(_, due)| due == Some(CalibrationDue::Over)) {
            let words = message!("instruments-out-calibration", name);
            return Some(InstrumentFault { fault: ToolFault::Calibration, words });
        }
        None
    }

    /// Why it cannot do what is needed, if it cannot: made for something else, or out of its range.
    pub(crate) fn cannot(&self, need: &ReadingNeed<'_>) -> Option<InstrumentFault> {
        let name = &self.name;
        match need {
            ReadingNeed::Pull(InstrumentAbility::ShowTorque(_)) if self.clicks => {
                let words = message!("instruments-shows-no-figure", name);
                Some(InstrumentFault { fault: ToolFault::Kind, words })
            }
            ReadingNeed::Pull(InstrumentAbility::Torque(target) | InstrumentAbility::ShowTorque(target)) => {
                match self.torque_nm {
                    None => Some(self.measures_no(Dimension::Torque)),
                    Some([low, high]) if *target < low || *target > high => {
                        let range = Quantity::written_in(low, Dimension::Torque.base()).up_to(high);
                        let target = Quantity::new(*target, Dimension::Torque);
                        let words = message!("instruments-outside-range", target, name, range);
                        Some(InstrumentFault { fault: ToolFault::Range, words })
                    }
                    Some(_) => None,
                }
            }
            ReadingNeed::Pull(InstrumentAbility::Angle) if self.by_eye() => None,
            ReadingNeed::Pull(InstrumentAbility::Angle) => {
                (!self.angle).then(|| self.measures_no(Dimension::Angle))
            }
            ReadingNeed::Pull(InstrumentAbility::Stretch(_)) if self.length_mm.is_none() => {
                Some(self.measures_no(Dimension::Length))
            }
            ReadingNeed::Pull(InstrumentAbility::Stretch(window)) => (self.resolution > window / FINE + 1e-9)
                .then(|| {
                    let [step, window] =
                        [self.resolution, *window].map(|of| Quantity::fine(of, Dimension::Clearance));
                    let words = message!("instruments-last-digit-coarse-for-window", name, step, window);
                    InstrumentFault { fault: ToolFault::Range, words }
                }),
            ReadingNeed::Pull(InstrumentAbility::Eye) => None,
            ReadingNeed::Pull(InstrumentAbility::RunDown(most)) => {
                let driver = self.driver_nm.filter(|gives| gives > most)?;
                let [driver, most] =
                    [driver, *most].map(|nm| Quantity::written_in(nm, Dimension::Torque.base()));
                let words = message!("instruments-reaches-limit-here", name, driver, most);
                Some(InstrumentFault { fault: ToolFault::Range, words })
            }
            ReadingNeed::Site(site) => self.outside(site.dimension, site.plausible),
            ReadingNeed::Range { dimension, range } => self.outside(*dimension, *range),
            ReadingNeed::Size { dimension, relative: true, .. } => {
                self.outside(*dimension, [f64::MIN, f64::MAX])
            }
            ReadingNeed::Size { dimension, read, .. } => self.outside(*dimension, [*read; 2]),
        }
    }

    /// What lies between a figure of the plan and this wrench.
    pub fn setup<'a>(
        &self,
        AdapterAndLubricant { adapter, conversion }: AdapterAndLubricant<'a>,
    ) -> TargetSetup<'a> {
        let scale = self.scale.as_ref().filter(|scale| scale.step > 0.0);
        let scale = scale.and_then(|scale| Some((quantity::unit(&scale.unit)?, scale.step)));
        TargetSetup { conversion, adapter, reach_mm: self.reach_mm, scale }
    }

    /// Why it does not fit a pull, if it does not: for itself, with the adapter, or because it cannot be
    /// set to what is asked for.
    pub(crate) fn unfit_to_pull(
        &self,
        way: &Way,
        had: StageProgress,
        between: AdapterAndLubricant<'_>,
        using: InstrumentUser<'_>,
    ) -> Option<InstrumentFault> {
        let ability = way.ability(had)?;
        let setup = self.setup(between);
        let factor = ability.torque_nm().map_or(Some(1.0), |_| setup.factor()).unwrap_or(1.0);
        if let Some(unfit) = self.unfit(&ReadingNeed::Pull(ability.times(factor)), using) {
            return Some(unfit);
        }
        let of_range = |words| Some(InstrumentFault { fault: ToolFault::Range, words });
        if let Some(adapter) = between.adapter.filter(|_| ability.torque_nm().is_some()) {
            let (name, with) = (&self.name, &adapter.name);
            match self.reach_mm {
                None => {
                    return of_range(message!("instruments-length-not-known-cannot-corrected", name, with));
                }
                Some(reach) if reach < adapter.wrench_mm => {
                    let least = Quantity::written_in(adapter.wrench_mm, Dimension::Length.base());
                    return of_range(message!("instruments-shorter-than-needs", name, least, with));
                }
                Some(_) => {}
            }
        }
        if !self.clicks {
            return None;
        }
        let target = StageTarget::of(way, had, &setup)?;
        target
            .fault()
            .and_then(|fault| of_range(message!("instruments-name-fault", name = &self.name, fault)))
    }

    fn measures_no(&self, dimension: Dimension) -> InstrumentFault {
        let words = message!("instruments-does-not-measure", name = &self.name, what = dimension.word());
        InstrumentFault { fault: ToolFault::Kind, words }
    }

    /// Why it does not measure sizes of a range, if it does not.
    fn outside(&self, dimension: Dimension, [least, most]: [f64; 2]) -> Option<InstrumentFault> {
        let Some(([low, high], _)) = self.gauge(dimension) else { return Some(self.measures_no(dimension)) };
        (least > high || most < low).then(|| InstrumentFault {
            fault: ToolFault::Range,
            words: message!(
                "instruments-outside-range-with-name-range",
                name = &self.name,
                range = Quantity::written_in(low, dimension.base()).up_to(high),
            ),
        })
    }
}

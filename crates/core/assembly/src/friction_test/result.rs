//! A friction test in base units, and what it shows.

use super::entry::{FrictionReadingEntry, FrictionTestError, wrong};
use crate::Instrument;
use rigore_mechanics::fastener::{STRONGEST_MPA, Thread};
use rigore_mechanics::friction::{Lubrication, SurfaceFilm};
use rigore_mechanics::joint::{
    BearingFace, NutFactor, TorqueRelation, TorqueStretchPair, WeakestSection, preload_from_stretch,
    utilisation,
};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity, in_kn, kn, mm, mpa};
use serde::{Deserialize, Serialize};

/// A torque of so much of the yield or more is not meant: the bolt breaks before.
const MOST_UTILISATION: f64 = 1.5;
/// So much more than a lubricant usually has is too much friction (M-8).
const TOO_MUCH: f64 = 1.25;
/// No friction makes a nut factor larger than this: the figures are in another unit, or mistyped.
const MOST_K: f64 = 2.0;
/// What stays of a stretch, as a share of it, without being remarked on.
const STAYS: f64 = 0.03;

/// A friction test as it is kept: in base units, with what was typed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FrictionTest {
    /// What the bolt is called.
    pub fastener: String,
    /// Its thread as written.
    pub thread: String,
    /// Its batch; empty where it is not known.
    pub batch: String,
    /// Its own resilience δB, mm/N.
    pub own_mm_per_n: f64,
    /// Mean bearing diameter, mm.
    pub bearing_mm: f64,
    /// Where it yields, `MPa`.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub yield_mpa: Option<f64>,
    /// A shank that is thinner than its thread, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shank_mm: Option<f64>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    /// With what it was pulled.
    pub wrench: Instrument,
    /// With what its stretch was read.
    pub gauge: Instrument,
    /// One lubricant after another.
    pub runs: Vec<FrictionRun>,
}

/// The bolt on one lubricant.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FrictionRun {
    /// What it turned on, with its figures as they were known then.
    #[serde(flatten)]
    pub lubrication: Lubrication,
    /// Torques with their stretches.
    pub readings: Vec<FrictionReading>,
}

/// A torque with its stretch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FrictionReading {
    /// N·m.
    pub torque_nm: f64,
    /// mm.
    pub stretch_mm: f64,
    /// What was left of it, mm, where that was read.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub left_mm: Option<f64>,
    /// What was typed, with the units it was meant in.
    pub entered: FrictionReadingEntry,
}

/// What a test shows of friction on one lubricant: all runs on it together.
#[derive(Debug, Clone, PartialEq)]
pub struct FrictionResult {
    /// The fastener: its name and thread, as plans have it.
    pub fastener: String,
    /// Key of what is on the thread.
    pub thread: String,
    /// Key of what is under the head or nut.
    pub bearing: String,
    /// Its batch; empty where it is not known.
    pub batch: String,
    /// K of all its readings below yield.
    pub k: f64,
    /// How many they are.
    pub readings: usize,
    /// The last of them.
    pub last: TorqueStretchPair,
}

/// A run of a test, with what it shows.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FrictionRunView {
    /// The lubricant in words.
    pub lubricant: String,
    /// Nut factor K of its readings below yield; none without one.
    pub k: Option<f64>,
    /// Its standard error, from two readings on.
    pub error: Option<f64>,
    /// The coefficient of friction behind it, equal on thread and head.
    pub mu: Option<f64>,
    /// K of the lubricant by its table: least, typical, most.
    pub table: [f64; 3],
    /// Its readings.
    pub readings: Vec<FrictionReadingView>,
    /// What else is to be known.
    pub remarks: Vec<Message>,
}

/// A torque with its stretch, and what they come to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FrictionReadingView {
    /// N·m.
    pub torque_nm: f64,
    /// mm.
    pub stretch_mm: f64,
    /// What was left of it, mm, where that was read.
    pub left_mm: Option<f64>,
    /// The clamp load, kN.
    pub clamp_kn: f64,
    /// K of this reading alone.
    pub k: f64,
    /// Of yield, as a share, where that is known.
    pub utilisation: Option<f64>,
}

impl FrictionTest {
    /// What the bolt is called with its thread, as plans have it.
    pub fn title(&self) -> String {
        format!("{}, {}", self.fastener, self.thread)
    }

    fn bearing(&self) -> BearingFace {
        BearingFace { mean_diameter: mm(self.bearing_mm) }
    }

    fn clamp_kn(&self, reading: &FrictionReading) -> f64 {
        in_kn(preload_from_stretch(mm(reading.stretch_mm), self.own_mm_per_n))
    }

    /// Of yield, as a share, on the friction that the reading itself shows.
    fn utilisation(&self, thread: &Thread, reading: &FrictionReading) -> Option<f64> {
        let mu = self.nut_factor(thread, std::slice::from_ref(reading))?.friction(thread, self.bearing());
        let clamp = kn(self.clamp_kn(reading));
        Some(utilisation(
            thread,
            WeakestSection::of(thread, self.shank_mm),
            clamp,
            mu.max(0.0),
            mpa(self.yield_mpa?),
        ))
    }

    fn nut_factor<'a>(
        &self,
        thread: &Thread,
        readings: impl IntoIterator<Item = &'a FrictionReading>,
    ) -> Option<NutFactor> {
        let pair =
            |of: &FrictionReading| TorqueStretchPair { torque_nm: of.torque_nm, stretch_mm: of.stretch_mm };
        let pairs: Vec<TorqueStretchPair> = readings.into_iter().map(pair).collect();
        NutFactor::of(thread, self.own_mm_per_n, &pairs)
    }

    /// The readings of a run that tell of friction: those below yield.
    fn elastic<'a>(
        &'a self,
        thread: &'a Thread,
        run: &'a FrictionRun,
    ) -> impl Iterator<Item = &'a FrictionReading> {
        run.readings.iter().filter(|of| self.utilisation(thread, of).is_none_or(|used| used <= 1.0))
    }

    /// What no bolt can have shown.
    pub(super) fn check(&self, thread: &Thread) -> Result<(), FrictionTestError> {
        for (at, run) in self.runs.iter().enumerate() {
            for (place, reading) in run.readings.iter().enumerate() {
                let path = format!("runs[{at}].readings[{place}]");
                let alone = self.nut_factor(thread, [reading]);
                if alone.is_some_and(|of| of.friction(thread, self.bearing()) < 0.0) {
                    let (torque, stretch) = (
                        Quantity::new(reading.torque_nm, Dimension::Torque),
                        Quantity::new(reading.stretch_mm, Dimension::Clearance),
                    );
                    let message = message!("assembly-cannot-stretch-by-more-than-thread", torque, stretch);
                    return Err(wrong(format!("{path}.stretch"), message));
                }
                if alone.is_none_or(|of| of.k > MOST_K) {
                    let (torque, stretch) = (
                        Quantity::new(reading.torque_nm, Dimension::Torque),
                        Quantity::fine(reading.stretch_mm, Dimension::Clearance),
                    );
                    let message = message!("assembly-for-more-than-any-friction-explains", torque, stretch);
                    return Err(wrong(format!("{path}.torque"), message));
                }
                let stress_mpa =
                    self.clamp_kn(reading) * 1000.0 / WeakestSection::of(thread, self.shank_mm).area_mm2();
                let used = self.utilisation(thread, reading);
                if stress_mpa > STRONGEST_MPA || used.is_some_and(|used| used > MOST_UTILISATION) {
                    let clamp = Quantity::new(self.clamp_kn(reading), Dimension::Force);
                    let message = message!("assembly-bolt-breaks-before-holds", clamp);
                    return Err(wrong(format!("{path}.stretch"), message));
                }
            }
        }
        Ok(())
    }

    /// What each run shows, in the order they were made.
    pub fn views(&self) -> Vec<FrictionRunView> {
        let Ok(thread) = Thread::parse(&self.thread) else { return Vec::new() };
        self.runs.iter().enumerate().map(|(at, run)| self.view(&thread, at, run)).collect()
    }

    fn view(&self, thread: &Thread, at: usize, run: &FrictionRun) -> FrictionRunView {
        let shown = self.nut_factor(thread, self.elastic(thread, run));
        let table = run.lubrication.friction().map(|friction| {
            TorqueRelation { thread: *thread, bearing: self.bearing(), friction }.nut_factor()
        });
        let reading = |of: &FrictionReading| FrictionReadingView {
            torque_nm: of.torque_nm,
            stretch_mm: of.stretch_mm,
            left_mm: of.left_mm,
            clamp_kn: self.clamp_kn(of),
            k: self.nut_factor(thread, [of]).map_or(0.0, |alone| alone.k),
            utilisation: self.utilisation(thread, of),
        };
        FrictionRunView {
            lubricant: run.lubrication.words(),
            k: shown.map(|of| of.k),
            error: shown.and_then(|of| of.error),
            mu: shown.map(|of| of.friction(thread, self.bearing())),
            table,
            readings: run.readings.iter().map(reading).collect(),
            remarks: self.remarks(thread, at, run, shown, table),
        }
    }

    fn remarks(
        &self,
        thread: &Thread,
        at: usize,
        run: &FrictionRun,
        shown: Option<NutFactor>,
        [_, typical, _]: [f64; 3],
    ) -> Vec<Message> {
        let mut remarks = Vec::new();
        let yielded = run.readings.len() - self.elastic(thread, run).count();
        if yielded > 0 {
            remarks.push(message!(
                "assembly-past-yield-not-counted",
                count = if yielded == 1 {
                    message!("assembly-1-reading").to_owned()
                } else {
                    message!("assembly-readings", yielded)
                }
            ));
        }
        if shown.is_some_and(|of| of.k > TOO_MUCH * typical) {
            remarks.push(message!("assembly-far-more-friction-than-typical-for"));
        }
        let stays = |of: &&FrictionReading| of.left_mm.is_some_and(|left| left.abs() > STAYS * of.stretch_mm);
        if let Some(of) = run.readings.iter().find(stays) {
            let left = Quantity::new(of.left_mm.unwrap_or_default(), Dimension::Clearance);
            let torque = Quantity::new(of.torque_nm, Dimension::Torque);
            remarks.push(message!("assembly-remaining-after-gauge-slipped-or-stretch", left, torque));
        }
        let films = |of: &FrictionRun| [of.lubrication.thread.film, of.lubrication.bearing.film];
        let lubricated = |of: &FrictionRun| films(of).iter().any(|film| *film != SurfaceFilm::Dry);
        if films(run).contains(&SurfaceFilm::Dry) && self.runs[..at].iter().any(lubricated) {
            remarks.push(message!("assembly-dry-after-lubricant-what-was-left"));
        }
        remarks
    }

    /// What it shows on each lubricant, for the friction of the shop.
    pub fn shown(&self) -> Vec<FrictionResult> {
        let Ok(thread) = Thread::parse(&self.thread) else { return Vec::new() };
        let mut lubrications: Vec<&Lubrication> = Vec::new();
        for run in &self.runs {
            if !lubrications.iter().any(|known| known.same_stuff(&run.lubrication)) {
                lubrications.push(&run.lubrication);
            }
        }
        let shown = |of: &Lubrication| {
            let runs = self.runs.iter().filter(|run| run.lubrication.same_stuff(of));
            let readings: Vec<&FrictionReading> = runs.flat_map(|run| self.elastic(&thread, run)).collect();
            let last = readings.last()?;
            Some(FrictionResult {
                last: TorqueStretchPair { torque_nm: last.torque_nm, stretch_mm: last.stretch_mm },
                fastener: self.title(),
                thread: of.thread.id.clone(),
                bearing: of.bearing.id.clone(),
                batch: self.batch.clone(),
                k: self.nut_factor(&thread, readings.iter().copied())?.k,
                readings: readings.len(),
            })
        };
        lubrications.into_iter().filter_map(shown).collect()
    }
}

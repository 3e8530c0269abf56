//! A friction test: a bolt in the vice, pulled to torques whose stretch is read, on one lubricant after another, without
//! any engine (C-64). What it shows of friction stands beside what the bolts of engines have shown, with a mark of its
//! own.

use crate::engine::Instrument;
use crate::fastener::{STRONGEST_MPA, Thread};
use crate::friction::{Film, Lubricant, Lubrication};
use crate::joint::{
    Bearing, Neck, NutFactor, Pair, Tightening, preload_from_stretch, read_resilience, utilisation,
};
use crate::message;
use crate::message::Message;
use crate::quantity::{self, Dimension, Quantity, Unit, in_kn, in_mm, kn, mm, mpa};
use serde::{Deserialize, Serialize};

/// The longest name, batch and note.
const NAME: usize = 60;
const NOTE: usize = 300;
/// Runs of a test, and readings of a run.
const RUNS: usize = 20;
const READINGS: usize = 40;
/// A torque of so much of the yield or more is not meant: the bolt breaks before.
const MOST_UTILISATION: f64 = 1.5;
/// So much more than a lubricant usually has is too much friction (M-8).
const TOO_MUCH: f64 = 1.25;
/// No friction makes a nut factor larger than this: the figures are in another unit, or mistyped.
const MOST_K: f64 = 2.0;
/// What stays of a stretch, as a share of it, without being remarked on.
const STAYS: f64 = 0.03;

/// A friction test as it is entered.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FrictionTestEntry {
    /// What the bolt is called, as in plans: `Rod bolt`.
    pub fastener: String,
    /// Its thread.
    pub thread: String,
    /// Its batch, where it is known.
    #[serde(default)]
    pub batch: String,
    /// Its own resilience: `4.83 µm/kN`.
    pub resilience: String,
    /// Mean diameter of the face that turns; that of an ordinary hexagon head when left out.
    #[serde(default)]
    pub bearing_diameter: Option<String>,
    /// Where it yields, where that is known.
    #[serde(default)]
    pub yield_strength: Option<String>,
    /// Diameter of a shank that is thinner than its thread.
    #[serde(default)]
    pub shank: Option<String>,
    /// Anything else worth knowing.
    #[serde(default)]
    pub note: String,
    /// Key of the wrench.
    pub wrench: String,
    /// Key of the gauge.
    pub gauge: String,
    /// Symbol of the unit that bare torques are in; N·m when left out.
    #[serde(default)]
    pub torque_unit: Option<String>,
    /// Symbol of the unit that bare stretches are in; mm when left out.
    #[serde(default)]
    pub length_unit: Option<String>,
    /// One lubricant after another, in the order they were tried.
    pub runs: Vec<FrictionRunEntry>,
}

/// The bolt on one lubricant, as it is entered.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FrictionRunEntry {
    /// Key of what is on the thread.
    pub thread_lubricant: String,
    /// Key of what is under the head or nut; the same when left out.
    #[serde(default)]
    pub bearing_lubricant: Option<String>,
    /// Torques with their stretches.
    pub readings: Vec<FrictionReadingEntry>,
}

/// A torque with its stretch, as it is entered.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FrictionReadingEntry {
    /// The torque: `40 N·m`.
    pub torque: String,
    /// The stretch under it: `0.095 mm`.
    pub stretch: String,
    /// What was left of the stretch once it was loosened, where that was read.
    #[serde(default)]
    pub left: Option<String>,
}

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

/// What is wrong with a test that is entered.
#[derive(Debug, Clone, PartialEq)]
pub struct WrongTest {
    /// The field: `runs[0].readings[2].torque`.
    pub field: String,
    /// What is wrong with it, and what is allowed.
    pub message: Message,
}

fn wrong(field: impl Into<String>, message: impl Into<Message>) -> WrongTest {
    WrongTest { field: field.into(), message: message.into() }
}

/// A text of the entry without what is around it.
fn text(field: &str, text: &str, allowed: std::ops::RangeInclusive<usize>) -> Result<String, WrongTest> {
    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
    if allowed.contains(&text.chars().count()) {
        return Ok(text);
    }
    let most = allowed.end();
    Err(wrong(
        field,
        match allowed.start() {
            0 => format!("at most {most} characters"),
            least => format!("{least} to {most} characters are needed"),
        },
    ))
}

/// A quantity above zero.
fn figure(field: &str, text: &str, dimension: Dimension, bare: &Unit) -> Result<f64, WrongTest> {
    let value = quantity::read(text, dimension, bare).map_err(|error| wrong(field, error.to_string()))?;
    if value > 0.0 {
        return Ok(value);
    }
    Err(wrong(field, "has to be above zero"))
}

fn unit(field: &str, symbol: Option<&str>, dimension: Dimension) -> Result<&'static Unit, WrongTest> {
    let Some(symbol) = symbol else { return Ok(dimension.base()) };
    let found = quantity::unit(symbol).filter(|unit| unit.measures(dimension));
    found.ok_or_else(|| wrong(field, format!("`{symbol}` is no unit of {}", dimension.word())))
}

impl FrictionTestEntry {
    /// The test in base units, with the instruments and lubricants that it names.
    ///
    /// # Errors
    /// [`WrongTest`] names the field, and says what is allowed.
    pub fn test(
        &self,
        [wrench, gauge]: [Option<Instrument>; 2],
        lubricants: &[Lubricant],
    ) -> Result<FrictionTest, WrongTest> {
        let thread = Thread::parse(&self.thread).map_err(|error| wrong("thread", error.message()))?;
        let own_mm_per_n = read_resilience(&self.resilience).ok_or_else(|| {
            wrong("resilience", "a resilience such as `4.83 µm/kN` or `4.83e-6 mm/N` is needed")
        })?;
        let optional = |field: &str, text: &Option<String>, dimension: Dimension| {
            let text = text.as_deref().filter(|text| !text.trim().is_empty());
            text.map(|text| figure(field, text, dimension, dimension.base())).transpose()
        };
        let bearing = optional("bearing_diameter", &self.bearing_diameter, Dimension::Length)?;
        let bearing_mm = bearing.unwrap_or(in_mm(Bearing::usual(&thread).mean_diameter));
        if !(Bearing { mean_diameter: mm(bearing_mm) }).fits(&thread) {
            return Err(wrong("bearing_diameter", "one to four diameters of the thread"));
        }
        let test = FrictionTest {
            fastener: text("fastener", &self.fastener, 2..=NAME)?,
            thread: text("thread", &self.thread, 2..=NAME)?,
            batch: text("batch", &self.batch, 0..=NAME)?,
            own_mm_per_n,
            bearing_mm,
            yield_mpa: optional("yield_strength", &self.yield_strength, Dimension::Pressure)?,
            shank_mm: optional("shank", &self.shank, Dimension::Length)?,
            note: text("note", &self.note, 0..=NOTE)?,
            wrench: wrench.ok_or_else(|| wrong("wrench", "choose the wrench it was pulled with"))?,
            gauge: gauge.ok_or_else(|| wrong("gauge", "choose the gauge its stretch was read with"))?,
            runs: self.runs(lubricants)?,
        };
        test.check(&thread)?;
        Ok(test)
    }

    fn runs(&self, lubricants: &[Lubricant]) -> Result<Vec<FrictionRun>, WrongTest> {
        if !(1..=RUNS).contains(&self.runs.len()) {
            return Err(wrong("runs", format!("1 to {RUNS} runs are needed, each on one lubricant")));
        }
        let torque_unit = unit("torque_unit", self.torque_unit.as_deref(), Dimension::Torque)?;
        let length_unit = unit("length_unit", self.length_unit.as_deref(), Dimension::Clearance)?;
        let run = |(at, entry): (usize, &FrictionRunEntry)| {
            let known = |field: &str, id: &str| {
                let found = lubricants.iter().find(|lubricant| lubricant.id == id).cloned();
                found.ok_or_else(|| wrong(format!("runs[{at}].{field}"), "choose what it turns on"))
            };
            let under_head = entry.bearing_lubricant.as_deref().filter(|id| !id.is_empty());
            let lubrication = Lubrication {
                thread: known("thread_lubricant", &entry.thread_lubricant)?,
                bearing: known("bearing_lubricant", under_head.unwrap_or(&entry.thread_lubricant))?,
            };
            if !(1..=READINGS).contains(&entry.readings.len()) {
                let message = format!("1 to {READINGS} torques with their stretches are needed");
                return Err(wrong(format!("runs[{at}].readings"), message));
            }
            let readings = entry.readings.iter().enumerate().map(|(place, reading)| {
                reading.read(&format!("runs[{at}].readings[{place}]"), [torque_unit, length_unit])
            });
            Ok(FrictionRun { lubrication, readings: readings.collect::<Result<_, _>>()? })
        };
        self.runs.iter().enumerate().map(run).collect()
    }
}

impl FrictionReadingEntry {
    fn read(&self, path: &str, [torque, length]: [&Unit; 2]) -> Result<FrictionReading, WrongTest> {
        let left = self.left.as_deref().filter(|text| !text.trim().is_empty());
        let read_left = |text| {
            let field = format!("{path}.left");
            quantity::read(text, Dimension::Clearance, length)
                .map_err(|error| wrong(field, error.to_string()))
        };
        // What was typed without a unit is kept with the one that it was meant in.
        let with_unit = |text: &str, unit: &Unit| {
            let text = text.trim();
            let bare = text.chars().all(|c| c.is_ascii_digit() || ".,-−+".contains(c));
            if bare { format!("{text} {}", unit.symbol) } else { text.to_owned() }
        };
        Ok(FrictionReading {
            torque_nm: figure(&format!("{path}.torque"), &self.torque, Dimension::Torque, torque)?,
            stretch_mm: figure(&format!("{path}.stretch"), &self.stretch, Dimension::Clearance, length)?,
            left_mm: left.map(read_left).transpose()?,
            entered: Self {
                torque: with_unit(&self.torque, torque),
                stretch: with_unit(&self.stretch, length),
                left: left.map(|text| with_unit(text, length)),
            },
        })
    }
}

/// What a test shows of friction on one lubricant: all runs on it together.
#[derive(Debug, Clone, PartialEq)]
pub struct FrictionShown {
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
    pub last: Pair,
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

    fn bearing(&self) -> Bearing {
        Bearing { mean_diameter: mm(self.bearing_mm) }
    }

    fn clamp_kn(&self, reading: &FrictionReading) -> f64 {
        in_kn(preload_from_stretch(mm(reading.stretch_mm), self.own_mm_per_n))
    }

    /// Of yield, as a share, on the friction that the reading itself shows.
    fn utilisation(&self, thread: &Thread, reading: &FrictionReading) -> Option<f64> {
        let mu = self.nut_factor(thread, std::slice::from_ref(reading))?.friction(thread, self.bearing());
        let clamp = kn(self.clamp_kn(reading));
        Some(utilisation(thread, Neck::of(thread, self.shank_mm), clamp, mu.max(0.0), mpa(self.yield_mpa?)))
    }

    fn nut_factor<'a>(
        &self,
        thread: &Thread,
        readings: impl IntoIterator<Item = &'a FrictionReading>,
    ) -> Option<NutFactor> {
        let pair = |of: &FrictionReading| Pair { torque_nm: of.torque_nm, stretch_mm: of.stretch_mm };
        let pairs: Vec<Pair> = readings.into_iter().map(pair).collect();
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
    fn check(&self, thread: &Thread) -> Result<(), WrongTest> {
        for (at, run) in self.runs.iter().enumerate() {
            for (place, reading) in run.readings.iter().enumerate() {
                let path = format!("runs[{at}].readings[{place}]");
                let alone = self.nut_factor(thread, [reading]);
                if alone.is_some_and(|of| of.friction(thread, self.bearing()) < 0.0) {
                    let (torque, stretch) = (
                        Quantity::new(reading.torque_nm, Dimension::Torque),
                        Quantity::new(reading.stretch_mm, Dimension::Clearance),
                    );
                    let message = message!(
                        "{torque} cannot stretch it by {stretch}: that is more than a thread without friction gives",
                        torque,
                        stretch
                    );
                    return Err(wrong(format!("{path}.stretch"), message));
                }
                if alone.is_none_or(|of| of.k > MOST_K) {
                    let (torque, stretch) = (
                        Quantity::new(reading.torque_nm, Dimension::Torque),
                        Quantity::fine(reading.stretch_mm, Dimension::Clearance),
                    );
                    let message = message!(
                        "{torque} for {stretch} is more than any friction takes: another unit?",
                        torque,
                        stretch
                    );
                    return Err(wrong(format!("{path}.torque"), message));
                }
                let stress_mpa = self.clamp_kn(reading) * 1000.0 / Neck::of(thread, self.shank_mm).area_mm2();
                let used = self.utilisation(thread, reading);
                if stress_mpa > STRONGEST_MPA || used.is_some_and(|used| used > MOST_UTILISATION) {
                    let clamp = Quantity::new(self.clamp_kn(reading), Dimension::Force);
                    let message = message!("the bolt breaks before it holds {clamp}", clamp);
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
        let table = run
            .lubrication
            .friction()
            .map(|friction| Tightening { thread: *thread, bearing: self.bearing(), friction }.nut_factor());
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
                "{count} past yield: not counted",
                count = if yielded == 1 { "1 reading".to_owned() } else { format!("{yielded} readings") }
            ));
        }
        if shown.is_some_and(|of| of.k > TOO_MUCH * typical) {
            remarks.push(
                "far more friction than this lubricant usually has: look at the threads and the face".into(),
            );
        }
        let stays = |of: &&FrictionReading| of.left_mm.is_some_and(|left| left.abs() > STAYS * of.stretch_mm);
        if let Some(of) = run.readings.iter().find(stays) {
            let left = Quantity::new(of.left_mm.unwrap_or_default(), Dimension::Clearance);
            let torque = Quantity::new(of.torque_nm, Dimension::Torque);
            remarks.push(message!(
                "{left} was left after {torque}: the gauge slipped, or the bolt stays longer",
                left,
                torque
            ));
        }
        let films = |of: &FrictionRun| [of.lubrication.thread.film, of.lubrication.bearing.film];
        let lubricated = |of: &FrictionRun| films(of).iter().any(|film| *film != Film::Dry);
        if films(run).contains(&Film::Dry) && self.runs[..at].iter().any(lubricated) {
            remarks.push("dry after a lubricant: what was left on it counts, unless it was degreased".into());
        }
        remarks
    }

    /// What it shows on each lubricant, for the friction of the shop.
    pub fn shown(&self) -> Vec<FrictionShown> {
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
            Some(FrictionShown {
                last: Pair { torque_nm: last.torque_nm, stretch_mm: last.stretch_mm },
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::friction::shipped;
    use proptest::prelude::*;

    fn instrument(id: &str) -> Instrument {
        Instrument { id: id.into(), name: id.into(), ..Instrument::default() }
    }

    fn run(lubricant: &str, pairs: &[(&str, &str)]) -> FrictionRunEntry {
        let reading = |(torque, stretch): &(&str, &str)| FrictionReadingEntry {
            torque: (*torque).into(),
            stretch: (*stretch).into(),
            left: None,
        };
        FrictionRunEntry {
            thread_lubricant: lubricant.into(),
            bearing_lubricant: None,
            readings: pairs.iter().map(reading).collect(),
        }
    }

    /// The bolt of the published friction check: M9×1.0, δB 4.834e-6 mm/N.
    fn entry() -> FrictionTestEntry {
        FrictionTestEntry {
            fastener: "Rod bolt".into(),
            thread: "M9x1.0".into(),
            resilience: "4.834 µm/kN".into(),
            bearing_diameter: Some("12 mm".into()),
            yield_strength: Some("1100 MPa".into()),
            shank: Some("7.6 mm".into()),
            wrench: "w".into(),
            gauge: "g".into(),
            runs: vec![
                run("dry", &[("40", "0.095"), ("50", "0.121"), ("55", "0.131")]),
                run("moly-paste", &[("20", "0.09"), ("30 N·m", "0.135 mm")]),
            ],
            ..FrictionTestEntry::default()
        }
    }

    fn test(entry: &FrictionTestEntry) -> Result<FrictionTest, WrongTest> {
        entry.test([Some(instrument("w")), Some(instrument("g"))], &shipped())
    }

    #[test]
    fn published_friction_of_three_pairs_on_one_lubricant_beside_another() {
        let test = test(&entry()).unwrap();
        let views = test.views();
        assert!((views[0].k.unwrap() - 0.2244).abs() < 0.0005, "{:?}", views[0].k);
        assert!((views[0].readings[0].clamp_kn - 19.652).abs() < 0.001, "{}", views[0].readings[0].clamp_kn);
        // 30 N·m for 27.927 kN: 30 / (9 · 27.927).
        assert!((views[1].k.unwrap() - 0.119_36).abs() < 0.0001, "{:?}", views[1].k);
        assert!(views[0].k > views[1].k && views[0].mu > views[1].mu);
        let shown = test.shown();
        assert_eq!(shown.iter().map(|of| of.thread.as_str()).collect::<Vec<_>>(), ["dry", "moly-paste"]);
        assert_eq!((shown[0].fastener.as_str(), shown[0].readings), ("Rod bolt, M9x1.0", 3));
    }

    #[test]
    fn what_was_typed_is_kept_with_its_unit() {
        let imperial = FrictionTestEntry {
            torque_unit: Some("lbf·ft".into()),
            length_unit: Some("in".into()),
            runs: vec![run("dry", &[("29.5", "0.0037")])],
            ..entry()
        };
        let reading = test(&imperial).unwrap().runs.remove(0).readings.remove(0);
        assert!((reading.torque_nm - 39.9966).abs() < 0.001, "{}", reading.torque_nm);
        assert!((reading.stretch_mm - 0.093_98).abs() < 1e-6, "{}", reading.stretch_mm);
        assert_eq!(
            (reading.entered.torque.as_str(), reading.entered.stretch.as_str()),
            ("29.5 lbf·ft", "0.0037 in")
        );
    }

    #[test]
    fn what_is_past_yield_is_no_friction() {
        let far =
            FrictionTestEntry { runs: vec![run("dry", &[("40", "0.095"), ("95", "0.205")])], ..entry() };
        let test = test(&far).unwrap();
        let view = test.views().remove(0);
        assert!(view.readings[1].utilisation.unwrap() > 1.0, "{:?}", view.readings[1]);
        assert!((view.k.unwrap() - view.readings[0].k).abs() < 1e-12);
        assert!(view.remarks[0].in_base_units().contains("1 reading past yield"), "{:?}", view.remarks);
        assert_eq!(test.shown()[0].readings, 1);
    }

    #[test]
    fn what_is_odd_is_remarked_on() {
        let mut odd = entry();
        odd.runs = vec![run("moly-paste", &[("60", "0.12")]), run("dry", &[("40", "0.095")])];
        odd.runs[0].readings[0].left = Some("0.02".into());
        let views = test(&odd).unwrap().views();
        let says =
            |at: usize, text: &str| views[at].remarks.iter().any(|of| of.in_base_units().contains(text));
        assert!(says(0, "far more friction") && says(0, "was left after 60.0 N·m"), "{:?}", views[0].remarks);
        assert!(says(1, "dry after a lubricant"), "{:?}", views[1].remarks);
    }

    #[test]
    fn what_cannot_be_meant_names_its_field_and_keeps_nothing() {
        let field = |entry: FrictionTestEntry| test(&entry).unwrap_err().field;
        assert_eq!(field(FrictionTestEntry { fastener: "x".into(), ..entry() }), "fastener");
        assert_eq!(field(FrictionTestEntry { thread: "M".into(), ..entry() }), "thread");
        assert_eq!(field(FrictionTestEntry { resilience: "soft".into(), ..entry() }), "resilience");
        assert_eq!(
            field(FrictionTestEntry { bearing_diameter: Some("3 mm".into()), ..entry() }),
            "bearing_diameter"
        );
        assert_eq!(field(FrictionTestEntry { torque_unit: Some("mm".into()), ..entry() }), "torque_unit");
        assert_eq!(field(FrictionTestEntry { runs: Vec::new(), ..entry() }), "runs");
        assert_eq!(
            field(FrictionTestEntry { runs: vec![run("honey", &[("1", "1")])], ..entry() }),
            "runs[0].thread_lubricant"
        );
        assert_eq!(field(FrictionTestEntry { runs: vec![run("dry", &[])], ..entry() }), "runs[0].readings");
        for (torque, stretch, field_of) in [
            ("x", "0.1", "torque"),
            ("0", "0.1", "torque"),
            ("40", "0", "stretch"),
            ("40", "0.1 N·m", "stretch"),
        ] {
            let entry = FrictionTestEntry { runs: vec![run("dry", &[(torque, stretch)])], ..entry() };
            assert_eq!(field(entry), format!("runs[0].readings[0].{field_of}"), "{torque} {stretch}");
        }
        let unknown =
            FrictionTestEntry { yield_strength: None, runs: vec![run("dry", &[("60", "0.8")])], ..entry() };
        assert_eq!(field(unknown), "runs[0].readings[0].stretch", "any bolt breaks");
        for pair in [("1e308", "0.1"), ("40", "0.004"), ("40", "1e-300")] {
            let entry = FrictionTestEntry { runs: vec![run("dry", &[pair])], ..entry() };
            assert_eq!(field(entry), "runs[0].readings[0].torque", "{pair:?}");
        }
        // 10 N·m stretch no bolt by 0.5 mm; a bolt that would hold half as much again as it yields at is broken.
        for pair in [("10", "0.5"), ("400", "0.4")] {
            let entry = FrictionTestEntry { runs: vec![run("dry", &[pair])], ..entry() };
            assert_eq!(field(entry), "runs[0].readings[0].stretch", "{pair:?}");
        }
        assert_eq!(entry().test([None, Some(instrument("g"))], &shipped()).unwrap_err().field, "wrench");
        assert_eq!(entry().test([Some(instrument("w")), None], &shipped()).unwrap_err().field, "gauge");
    }

    proptest! {
        #[test]
        fn more_torque_for_the_same_stretch_is_more_friction(torque in 25.0f64..60.0, more in 1.0f64..20.0) {
            let of = |torque: f64| {
                let runs = vec![run("dry", &[(&torque.to_string(), "0.1")])];
                test(&FrictionTestEntry { runs, ..entry() }).unwrap().views()[0].k.unwrap()
            };
            prop_assert!(of(torque + more) > of(torque));
        }
    }
}

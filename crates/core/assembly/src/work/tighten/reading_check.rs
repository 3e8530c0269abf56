//! What was asked of a fastener and what was given: reading it, and whether it can be meant.

use crate::commands::context::{UnitSlip, length_slips, slip_hint, typed, unit_given};
use crate::events::{GivenReading, Instrument, Refusal, RefusalKind};
use crate::instruments::fit::AdapterAndLubricant;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension, LBF_FT, Quantity, Unit};
use rigore_mechanics::tightening::{CountDirection, ToolReading, Verdict, turned};
use rigore_plan::way::MOST_NM;
use rigore_plan::way::{EvidenceKind, StageProgress, Way};

/// Units of torque that are taken for each other, and what mends it.
fn unit_slips() -> Vec<UnitSlip> {
    vec![
        (message!("tighten-pound-feet-for-newton-metres"), LBF_FT),
        (message!("tighten-newton-metres-for-pound-feet"), 1.0 / LBF_FT),
        (message!("tighten-pound-feet-for-pound-inches"), 12.0),
        (message!("tighten-pound-inches-for-pound-feet"), 1.0 / 12.0),
    ]
}

/// How near a mended slip is to what is asked for, as a share of it; and one of a unit, which is hardly less
/// likely than a poor pull.
const SLIP: f64 = 0.1;
const UNIT_SLIP: f64 = 0.02;

/// What was asked of a fastener, and what was given.
pub(super) struct ReadingCheck<'a> {
    pub way: &'a Way,
    pub had: StageProgress,
    pub between: AdapterAndLubricant<'a>,
    pub instrument: &'a Instrument,
    pub given: &'a GivenReading,
    /// What the instrument showed on the fastener before.
    pub before: Option<f64>,
    /// Its free length, mm, where that was measured.
    pub free_mm: Option<f64>,
}

impl ReadingCheck<'_> {
    /// A figure of what is read, in the unit it was given in.
    fn print(&self, figure: f64) -> Quantity {
        let of_it = |unit: &&Unit| self.way.dimension().is_some_and(|dimension| unit.measures(dimension));
        let unit = self.given.unit.as_deref().and_then(quantity::unit).filter(of_it);
        let quantity = self.way.print(figure);
        unit.map_or(quantity, |unit| quantity.in_scale(unit))
    }

    /// What is left to give, as the instrument shows it.
    fn left(&self) -> f64 {
        let rules = &self.way;
        if let Some(expected) = self.had.expected {
            return expected.next * self.factor();
        }
        let wanted = rules.band().map_or(0.0, |band| band.target);
        if rules.adds_up() { (wanted - self.had.value).max(0.0) } else { wanted * self.factor() }
    }

    /// What a figure at the fastener is on the instrument.
    fn factor(&self) -> f64 {
        let torque = self.way.dimension() == Some(Dimension::Torque);
        self.instrument.setup(self.between).factor().filter(|_| torque).unwrap_or(1.0)
    }

    /// A reading in base units. It must hold what the stage is judged on.
    pub fn read(&self) -> Result<ToolReading, Refusal> {
        let (given, rules) = (self.given, self.way);
        let Some(dimension) = rules.dimension() else {
            return Err(Refusal::field("stage", message!("tighten-nothing-read-this-stage")));
        };
        let mut reading = ToolReading {
            torque_nm: given.torque_nm,
            angle_deg: given.angle_deg,
            stretch_mm: given.stretch_mm,
            entered: given.text.clone(),
            ..ToolReading::default()
        };
        if let Some(text) = &given.text {
            let mut figure = typed("reading", text, given.unit.as_deref(), dimension)?;
            if let Some(start) = given.start_deg.filter(|_| rules.adds_up()) {
                let counting = if given.counts_down { CountDirection::Down } else { CountDirection::Up };
                figure = turned(start, figure, counting, self.left());
                reading.start_deg = Some(start);
            }
            rules.put(&mut reading, figure);
        }
        if let Some(text) = given.torque_text.as_deref().filter(|text| !text.trim().is_empty()) {
            let torque = typed("torque", text, given.torque_unit.as_deref(), Dimension::Torque)?;
            if !(torque > 0.0 && torque <= MOST_NM) {
                return Err(Refusal::field("torque", message!("tighten-torque-at-end-has-above-zero")));
            }
            reading.torque_nm = Some(torque);
        }
        self.possible(&reading)?;
        Ok(reading)
    }

    /// The reading of a fastener that has reached its target with this pull; of one that had it before,
    /// the whole of it once more.
    fn reached(&self) -> ToolReading {
        let (mut reading, rules) = (ToolReading::default(), self.way);
        let wanted = rules.band().map_or(0.0, |band| band.target);
        rules.put(&mut reading, if self.left() > 0.0 { self.left() } else { wanted });
        reading
    }

    /// Whether somebody can mean a reading at all.
    fn possible(&self, reading: &ToolReading) -> Result<(), Refusal> {
        let rules = &self.way;
        let one = rules.dimension().map_or_else(|| message!("tighten-figure"), Dimension::one);
        let wrong = |message: Message| Err(Refusal::field("reading", message));
        let (least, most) = (rules.least(), rules.most());
        match rules.figure(reading) {
            None => return wrong(message!("tighten-missing-needed", one)),
            Some(figure) if !(figure.is_finite() && figure >= least) => {
                let from = if least > 0.0 {
                    message!("tighten-above-zero")
                } else {
                    message!("tighten-from", least = self.print(least))
                };
                return wrong(message!("tighten-needed-not", one, from, figure = self.print(figure)));
            }
            Some(figure) if figure > most => {
                let (given, most) = (self.print(figure), self.print(most));
                return wrong(message!("tighten-not-possible-at-most-one-pull", given, most));
            }
            Some(figure) if rules.dimension() == Some(Dimension::Count) && figure.fract() != 0.0 => {
                return wrong(message!("tighten-whole-number-needed-not", figure = self.print(figure)));
            }
            Some(_) => {}
        }
        let others =
            [reading.torque_nm, reading.angle_deg, reading.start_deg, reading.stretch_mm, reading.height_mm];
        if others.into_iter().flatten().any(|figure| !figure.is_finite()) {
            return wrong(message!("tighten-every-figure-has-finite-number"));
        }
        Ok(())
    }

    /// A figure far from what is asked for, with what there was before it, is asked about once, and then taken
    /// as it is.
    pub fn likely(&self, reading: &ToolReading) -> Result<(), Refusal> {
        let rules = &self.way;
        let Some(figure) = rules.figure(reading) else { return Ok(()) };
        self.kept_counting(figure)?;
        let left = self.left();
        let within = |meant: f64, share: f64| left > 0.0 && (meant - left).abs() <= share * left;
        let units = match rules.dimension() {
            Some(Dimension::Torque) => unit_slips(),
            _ => Vec::new(),
        };
        let lengths = match (rules.dimension(), self.given.text.as_deref()) {
            (Some(dimension), Some(text)) if dimension.is_length() => {
                length_slips(unit_given(text, self.given.unit.as_deref(), dimension))
            }
            _ => Vec::new(),
        };
        let fits = rules.judge(rules.add(self.had, figure / self.factor()).value) == Verdict::Good;
        let of_unit = !fits && units.iter().any(|(_, factor)| within(figure * factor, UNIT_SLIP));
        if rules.usual(self.had).contains(&(figure / self.factor())) && !of_unit {
            return self.in_range(figure);
        }
        self.whole_length(figure)?;
        let decimals = [(message!("tighten-decimal-place"), 0.1), (message!("tighten-decimal-place"), 10.0)];
        let slips: Vec<UnitSlip> = units.iter().chain(&decimals).chain(&lengths).cloned().collect();
        let likely = |meant: f64| self.had.expected.is_some() && rules.usual(self.had).contains(&meant);
        let near = |meant: f64| within(meant, SLIP) || (!lengths.is_empty() && likely(meant));
        let hint = slip_hint(figure, &slips, near, |meant| self.print(meant));
        let (read, asked) = (self.print(figure), self.print(left));
        let wanted = if lengths.is_empty() {
            message!("tighten-asked-for")
        } else {
            message!("tighten-expected-here")
        };
        let message = message!("tighten-unlikely-where-press-enter-again-record", read, asked, wanted, hint);
        Err(Refusal::of(RefusalKind::Ask, message))
    }

    /// A whole length where the stretch is asked for is plain from the bolt's free length.
    fn whole_length(&self, figure: f64) -> Result<(), Refusal> {
        let rules = &self.way;
        let Some(free) = self.free_mm.filter(|_| rules.shows() == Some(EvidenceKind::Stretch)) else {
            return Ok(());
        };
        let stretch = figure - free;
        if !rules.usual(self.had).contains(&stretch) {
            return Ok(());
        }
        let message = message!(
            "tighten-looks-like-whole-length-with-free",
            length = self.print(figure),
            free = Quantity::fine(free, Dimension::Length),
            stretch = self.print(stretch),
        );
        Err(Refusal::of(RefusalKind::Ask, message))
    }

    /// An angle tool that was not zeroed shows the sum of two bolts, and one that keeps counting the total of two
    /// swings: both are plain from the figure (C-60).
    fn kept_counting(&self, figure: f64) -> Result<(), Refusal> {
        let rules = &self.way;
        let Some(band) = rules.band().filter(|_| rules.adds_up() && self.given.start_deg.is_none()) else {
            return Ok(());
        };
        let is_over = rules.judge(rules.add(self.had, figure).value) == Verdict::Over;
        let fits = |meant: f64| meant > 0.0 && rules.judge(rules.add(self.had, meant).value) == Verdict::Good;
        let ask = |why: Message, meant: f64| {
            let message = message!(
                "tighten-too-far-would-fit-press-enter",
                figure = self.print(figure),
                why,
                meant = self.print(meant),
            );
            Err(Refusal::of(RefusalKind::Ask, message))
        };
        if !is_over {
            return Ok(());
        }
        if self.had.value > 0.0 && (band.low..=band.high).contains(&figure) {
            let had = self.print(self.had.value);
            return ask(message!("tighten-does-gauge-show-total-with-has", had), figure - self.had.value);
        }
        match self.before.map(|before| (before, figure - before)) {
            Some((before, meant)) if fits(meant) => {
                let before = self.print(before);
                ask(message!("tighten-was-gauge-not-zeroed-after-last", before), meant)
            }
            _ => Ok(()),
        }
    }

    /// A torque that its wrench cannot show (C-7) is asked about.
    fn in_range(&self, figure: f64) -> Result<(), Refusal> {
        let torque = self.way.dimension() == Some(Dimension::Torque);
        let Some([low, high]) = self.instrument.torque_nm.filter(|_| torque) else { return Ok(()) };
        // What is asked for may be outside of it, too: that is said where the wrench is chosen.
        if (low..=high).contains(&figure) || !(low..=high).contains(&self.left()) {
            return Ok(());
        }
        let [figure, low, high, left] = [figure, low, high, self.left()].map(|of| self.print(of));
        let message = message!(
            "tighten-outside-range-would-fit-press-enter",
            figure,
            wrench = &self.instrument.name,
            low,
            high,
            left,
        );
        Err(Refusal::of(RefusalKind::Ask, message))
    }

    /// Something that was seen or felt: one of the plain answers, or by eye that a target was reached. Where
    /// no figure is said, that is what was left of it.
    pub fn seen(&self) -> Result<ToolReading, Refusal> {
        let rules = &self.way;
        let said = self.given.text.is_some();
        let reading = if said || !rules.adds_up() { self.read()? } else { self.reached() };
        let reading = ToolReading { entered: None, ..reading };
        let asks = rules.asks(self.had);
        let figure = rules.figure(&reading);
        let plain =
            asks.as_ref().is_some_and(|asks| asks.plain.iter().any(|plain| Some(plain.figure) == figure));
        let by_eye = asks.is_some_and(|asks| asks.by_eye.is_some()) && self.instrument.by_eye();
        if plain || by_eye {
            return Ok(reading);
        }
        Err(Refusal::field("method", message!("tighten-such-figure-read-from-instrument-not")))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rigore_plan::Plan;

    #[test]
    fn a_whole_length_where_the_stretch_is_asked_for_is_told_from_the_free_length() {
        let plan = Plan::read("ways", include_str!("../../../../plan/tests/ways-plan.toml")).unwrap();
        let stages = plan.joints.iter().flat_map(|joint| &joint.stages);
        let way = &stages.into_iter().find(|of| of.way.shows() == Some(EvidenceKind::Stretch)).unwrap().way;
        let instrument = Instrument::default();
        let likely = |text: &str, unit: Option<&str>| {
            let given = GivenReading {
                text: Some(text.into()),
                unit: unit.map(str::to_owned),
                ..GivenReading::default()
            };
            let asked = ReadingCheck {
                way,
                had: StageProgress::default(),
                between: AdapterAndLubricant::default(),
                instrument: &instrument,
                given: &given,
                before: None,
                free_mm: Some(46.12),
            };
            asked.likely(&asked.read().unwrap())
        };
        let asked = likely("46.27", None).unwrap_err();
        assert_eq!(asked.kind, RefusalKind::Ask);
        let told = "46.270 mm looks like its whole length, with 46.120 mm free: that is 0.150 mm of stretch.";
        assert!(asked.message.starts_with(told), "{:?}", asked.message);
        // 1.8217 in are 46.271 mm; thousandths were chosen, and inches are meant.
        assert!(likely("1.8217", Some("in")).unwrap_err().message.contains("whole length"));
        assert!(
            likely("0.0059", Some("thou")).unwrap_err().message.contains("Possible slip: inches. 5.9 thou")
        );
        assert!(likely("0.15", None).is_ok());
    }
}

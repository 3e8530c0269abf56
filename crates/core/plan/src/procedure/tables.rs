//! What a procedure in one line stands for: stages as a plan writes them out.

use super::groups::GroupNames;
use super::write::number;
use super::{LineFigure, LineQuestion, LineTolerance, Procedure, StageKind};
use crate::way::{
    Angle, LoosenAgain, Recheck, RunDown, SlotAdvance, Stretch, StretchTorque, Torque, Way, YieldByFeel,
};
use rigore_mechanics::quantity::unit;
use rigore_mechanics::tightening::Band;
use std::collections::BTreeMap;
use std::fmt::Write;

/// How far off figures may be, and what else a line hardly ever says.
#[derive(Debug, Clone, PartialEq)]
pub struct StageDefaults {
    /// Of a torque or a stretch, as a plan writes it: `4 %`, `2 N·m`.
    pub torque: String,
    /// Of an angle, degrees.
    pub angle_deg: f64,
    /// Slots of a castellated nut.
    pub slots: u32,
    /// The most that its pin hole may be twisted, degrees, where that is known.
    pub twist_deg: Option<f64>,
}

impl Default for StageDefaults {
    fn default() -> Self {
        Self { torque: "4 %".to_owned(), angle_deg: 5.0, slots: 6, twist_deg: None }
    }
}

/// How far off a stretch may be where nobody says.
const STRETCH: &str = "5 %";

impl Procedure {
    /// Its stages as tables of a plan, for the groups of a joint ([`Procedure::for_groups`]).
    ///
    /// # Errors
    /// What is not certain, at the words it is about.
    pub fn tables(
        &self,
        groups: &[GroupNames<'_>],
        defaults: &StageDefaults,
    ) -> Result<String, Vec<LineQuestion>> {
        let all = self.for_groups(groups)?;
        let mut counts: BTreeMap<(Option<usize>, &str), usize> = BTreeMap::new();
        for (group, kind) in &all {
            *counts.entry((*group, title(kind))).or_default() += 1;
        }
        let mut so_far: BTreeMap<(Option<usize>, &str), usize> = BTreeMap::new();
        let mut text = String::new();
        for (group, kind) in all {
            let title = title(kind);
            let number = so_far.entry((group, title)).or_default();
            *number += 1;
            let name = match group {
                Some(group) if groups.len() > 1 => format!("{title}, {}", groups[group].name),
                _ => title.to_owned(),
            };
            let name = if counts[&(group, title)] > 1 { format!("{name} {number}") } else { name };
            let _ = writeln!(text, "[[stage]]\nname = {}", quoted(&name));
            if let Some(group) = group {
                let _ = writeln!(text, "group = {}", quoted(groups[group].key));
            }
            text += &fields(kind, defaults);
        }
        Ok(text)
    }
}

/// What ways that one fastener is given together are in a line; `None` where a line does not say it.
pub fn stage_kind(ways: &[&Way]) -> Option<StageKind> {
    let angle = |band: &Band| {
        let unsaid = (band.high - band.target - StageDefaults::default().angle_deg).abs() < 1e-9;
        let figure = figure(band, 0.0);
        LineFigure { spread: if unsaid { LineTolerance::Unsaid } else { figure.spread }, ..figure }
    };
    let band_of = |band: &Band| {
        let figure = figure(band, 0.0);
        let (low, high) = (in_unit(band.low, band), in_unit(band.high, band));
        LineFigure { target: f64::midpoint(low, high), spread: LineTolerance::Range(low, high), ..figure }
    };
    match ways {
        [alone] => one_way(alone, angle, band_of),
        [.., climbing, stretch] if climbing.downcast::<StretchTorque>().is_some() => {
            let stretch = stretch.downcast::<Stretch>()?;
            let limit = match stretch.most_nm() {
                Some(nm) => Some(LineFigure::plain(nm, unit("N·m")?)),
                None => None,
            };
            Some(StageKind::Stretch { stretch: figure(&stretch.band, 0.05), limit })
        }
        [torque, next, ..] => {
            let torque = torque.downcast::<Torque>()?;
            if next.downcast::<SlotAdvance>().is_some() {
                return Some(StageKind::Castellated(band_of(&torque.band)));
            }
            let turn = next.downcast::<Angle>().filter(|_| ways.len() == 2)?;
            Some(StageKind::TorqueAngle { torque: figure(&torque.band, 0.04), angle: angle(&turn.band) })
        }
        [] => None,
    }
}

/// What a way that a fastener is given by itself is in a line.
fn one_way(
    way: &Way,
    angle: impl Fn(&Band) -> LineFigure,
    band_of: impl Fn(&Band) -> LineFigure,
) -> Option<StageKind> {
    if let Some(torque) = way.downcast::<Torque>() {
        return Some(StageKind::Torque { torque: figure(&torque.band, 0.04), snug: false });
    }
    if let Some(turn) = way.downcast::<Angle>() {
        return Some(StageKind::Angle(angle(&turn.band)));
    }
    if let Some(feel) = way.downcast::<YieldByFeel>() {
        return Some(StageKind::Yield(band_of(&feel.band)));
    }
    if let Some(recheck) = way.downcast::<Recheck>() {
        let torque = &recheck.torque;
        return Some(StageKind::Recheck(LineFigure::plain(in_unit(torque.target, torque), torque.unit)));
    }
    if way.downcast::<RunDown>().is_some() {
        return Some(StageKind::RunDown);
    }
    way.downcast::<LoosenAgain>().map(|_| StageKind::Loosen)
}

/// A figure of a band in the unit it was written in, without what the conversion adds.
fn in_unit(base: f64, band: &Band) -> f64 {
    const FINE: f64 = 1e8;
    (base / band.unit.factor * FINE).round() / FINE
}

/// A band as it is written; nothing is said of a tolerance that is the usual share of it.
fn figure(band: &Band, usual_share: f64) -> LineFigure {
    let [target, low, high] = [band.target, band.low, band.high].map(|base| in_unit(base, band));
    let (down, up) = (target - low, high - target);
    let even = (down - up).abs() < 1e-6 * target;
    let spread = if even && (down - usual_share * target).abs() < 1e-7 * target {
        LineTolerance::Unsaid
    } else if even {
        LineTolerance::Within(down)
    } else {
        LineTolerance::Range(low, high)
    };
    LineFigure { target, spread, unit: band.unit }
}

/// A text as TOML writes it.
fn quoted(text: &str) -> String {
    toml::Value::String(text.to_owned()).to_string()
}

const fn title(kind: &StageKind) -> &'static str {
    match kind {
        StageKind::RunDown => "By hand",
        StageKind::Torque { snug: true, .. } => "Snug",
        StageKind::Torque { .. } => "Torque",
        StageKind::Angle(_) => "Angle",
        StageKind::TorqueAngle { .. } => "Torque and angle",
        StageKind::Stretch { .. } => "Stretch",
        StageKind::Yield(_) => "By feel",
        StageKind::Castellated(_) => "To the slot",
        StageKind::Recheck(_) => "Check",
        StageKind::Loosen => "Loosen",
        StageKind::Action(_) => "Do",
        StageKind::Wait(_) => "Wait",
        StageKind::Seal { .. } => "Seal",
    }
}

/// The fields of one stage, each figure in the unit it was written in.
fn fields(kind: &StageKind, defaults: &StageDefaults) -> String {
    let quantity = |value: f64, of: &LineFigure| quoted(&format!("{} {}", number(value), of.unit.symbol));
    let range = |low: f64, high: f64, of: &LineFigure| {
        format!("range = [{}, {}]\n", quantity(low, of), quantity(high, of))
    };
    let spread = |of: &LineFigure, otherwise: &str| match of.spread {
        LineTolerance::Unsaid => format!("tolerance = {}\n", quoted(otherwise)),
        LineTolerance::Within(tolerance) => format!("tolerance = {}\n", quantity(tolerance, of)),
        LineTolerance::Range(low, high) => range(low, high, of),
    };
    let field = |key: &str, of: &LineFigure| format!("{key} = {}\n", quantity(of.target, of));
    let angle_tolerance = |target: f64| format!("{} °", number(defaults.angle_deg.min(target / 2.0)));
    let slots = || {
        let twist = defaults.twist_deg.map(|twist| format!("twist = \"{} °\"\n", number(twist)));
        format!("slots = {}\n{}", defaults.slots, twist.unwrap_or_default())
    };
    match kind {
        StageKind::RunDown => "run-down = \"By hand until it touches.\"\n".to_owned(),
        StageKind::Torque { torque, .. } => field("torque", torque) + &spread(torque, &defaults.torque),
        StageKind::Angle(angle) => field("angle", angle) + &spread(angle, &angle_tolerance(angle.target)),
        StageKind::TorqueAngle { torque, angle } => {
            let off = match angle.spread {
                LineTolerance::Unsaid => angle_tolerance(angle.target),
                LineTolerance::Within(tolerance) => format!("{} °", number(tolerance)),
                LineTolerance::Range(low, high) => format!("{} °", number((high - low) / 2.0)),
            };
            let torque = field("torque-angle", torque) + &spread(torque, &defaults.torque);
            format!("{torque}{}angle_tolerance = \"{off}\"\n", field("then_angle", angle))
        }
        StageKind::Stretch { stretch, limit } => {
            let limit = limit.map(|limit| field("limit", &limit)).unwrap_or_default();
            field("stretch", stretch) + &spread(stretch, STRETCH) + &limit
        }
        StageKind::Yield(band) => field("yield", band) + &spread(band, &defaults.torque),
        StageKind::Castellated(band) => {
            let one = matches!(band.spread, LineTolerance::Range(low, high) if high <= low);
            let band = if one { LineFigure::plain(band.target, band.unit) } else { *band };
            field("castellated", &band) + &spread(&band, &defaults.torque) + &slots()
        }
        StageKind::Recheck(torque) => field("recheck", torque) + &spread(torque, &defaults.torque),
        StageKind::Loosen => "loosen = \"Loosen it again.\"\n".to_owned(),
        StageKind::Action(text) => format!("action = {}\n", quoted(text)),
        StageKind::Wait(time) => field("wait", time) + "text = \"Let it rest.\"\n",
        StageKind::Seal { within, cure } => {
            let cure = cure.map(|cure| field("cure", &cure)).unwrap_or_default();
            format!("seal = \"Lay the bead of sealant.\"\n{}{cure}", field("within", within))
        }
    }
}

//! What a procedure in one line stands for: stages as a plan writes them out.

use super::write::number;
use super::{Asked, Figure, Procedure, Spread};
use crate::tightening::{Band, Way};
use std::collections::BTreeMap;
use std::fmt::Write;

/// How far off figures may be, and what else a line hardly ever says.
#[derive(Debug, Clone, PartialEq)]
pub struct Usual {
    /// Of a torque or a stretch, as a plan writes it: `4 %`, `2 N·m`.
    pub torque: String,
    /// Of an angle, degrees.
    pub angle_deg: f64,
    /// Slots of a castellated nut.
    pub slots: u32,
    /// The most that its pin hole may be twisted, degrees, where that is known.
    pub twist_deg: Option<f64>,
}

impl Default for Usual {
    fn default() -> Self {
        Self { torque: "4 %".to_owned(), angle_deg: 5.0, slots: 6, twist_deg: None }
    }
}

/// How far off a stretch may be where nobody says.
const STRETCH: &str = "5 %";

impl Procedure {
    /// Its stages as tables of a plan, for the groups of a joint by key and name. What is said of no group in
    /// particular goes for all of them, one after the other.
    ///
    /// # Errors
    /// Where it names a group that is not there.
    pub fn tables(&self, groups: &[(&str, &str)], usual: &Usual) -> Result<String, String> {
        let mut all: Vec<(&str, Asked)> = Vec::new();
        for said in &self.stages {
            match &said.group {
                Some(named) => all.push((group(groups, named)?, said.asked)),
                None => all.extend(groups.iter().map(|(key, _)| (*key, said.asked))),
            }
        }
        let mut counts: BTreeMap<(&str, &str), usize> = BTreeMap::new();
        for (key, asked) in &all {
            *counts.entry((*key, title(*asked))).or_default() += 1;
        }
        let mut so_far: BTreeMap<(&str, &str), usize> = BTreeMap::new();
        let mut text = String::new();
        for (key, asked) in all {
            let title = title(asked);
            let number = so_far.entry((key, title)).or_default();
            *number += 1;
            let name = groups.iter().find(|(known, _)| *known == key).map_or("", |(_, name)| *name);
            let name = if groups.len() > 1 { format!("{title}, {name}") } else { title.to_owned() };
            let name = if counts[&(key, title)] > 1 { format!("{name} {number}") } else { name };
            let _ = write!(text, "[[stage]]\nname = {}\ngroup = {}\n", quoted(&name), quoted(key));
            text += &figures(asked, usual);
        }
        Ok(text)
    }
}

/// What ways that one fastener is given together are said as; `None` where a line does not say it.
pub fn asked(ways: &[&Way]) -> Option<Asked> {
    let figure = |band: &Band, share: f64| {
        let (down, up) = (band.target - band.low, band.high - band.target);
        let even = (down - up).abs() < 1e-6 * band.target;
        let spread = if even && (down - share * band.target).abs() < 1e-9 * band.target {
            Spread::Unsaid
        } else if even {
            Spread::Within(down)
        } else {
            Spread::Range(band.low, band.high)
        };
        Figure { target: if even { band.target } else { f64::midpoint(band.low, band.high) }, spread }
    };
    let angle = |band: &Band| {
        let unsaid = (band.high - band.target - Usual::default().angle_deg).abs() < 1e-9;
        let figure = figure(band, 0.0);
        Figure { spread: if unsaid { Spread::Unsaid } else { figure.spread }, ..figure }
    };
    Some(match ways {
        [Way::RunDown(_)] => Asked::RunDown,
        [Way::Torque(torque)] => Asked::Torque { nm: figure(&torque.band, 0.04), snug: false },
        [Way::Angle(turn)] => Asked::Angle(angle(&turn.band)),
        [Way::Torque(torque), Way::Angle(turn)] => {
            Asked::TorqueAngle { nm: figure(&torque.band, 0.04), deg: angle(&turn.band) }
        }
        [Way::Feel(feel)] => Asked::Yield { low_nm: feel.band.low, high_nm: feel.band.high },
        [Way::Torque(torque), Way::Slot(_), ..] => {
            Asked::Castellated { low_nm: torque.band.low, high_nm: torque.band.high }
        }
        [.., Way::Climbing(_), Way::Stretch(stretch)] => {
            Asked::Stretch { mm: figure(&stretch.band, 0.05), limit_nm: stretch.most_nm() }
        }
        [Way::Recheck(recheck)] => Asked::Recheck { nm: recheck.torque.target },
        [Way::Loosen(_)] => Asked::Loosen,
        _ => return None,
    })
}

/// A text as TOML writes it.
fn quoted(text: &str) -> String {
    toml::Value::String(text.to_owned()).to_string()
}

/// The group that a line names: by its key or its name, in the one or the many.
fn group<'a>(groups: &[(&'a str, &str)], named: &str) -> Result<&'a str, String> {
    let plain = |word: &str| word.trim().to_lowercase().trim_end_matches('s').to_owned();
    let wanted = plain(named);
    let found = groups.iter().find(|(key, name)| plain(key) == wanted || plain(name) == wanted);
    found.map(|(key, _)| *key).ok_or_else(|| {
        let known: Vec<&str> = groups.iter().map(|(key, _)| *key).collect();
        format!("no group is called `{named}`; there is {}", known.join(", "))
    })
}

fn title(asked: Asked) -> &'static str {
    match asked {
        Asked::RunDown => "By hand",
        Asked::Torque { snug: true, .. } => "Snug",
        Asked::Torque { .. } => "Torque",
        Asked::Angle(_) => "Angle",
        Asked::TorqueAngle { .. } => "Torque and angle",
        Asked::Stretch { .. } => "Stretch",
        Asked::Yield { .. } => "By feel",
        Asked::Castellated { .. } => "To the slot",
        Asked::Recheck { .. } => "Check",
        Asked::Loosen => "Loosen",
    }
}

/// The fields of one stage.
fn figures(asked: Asked, usual: &Usual) -> String {
    let between = |low: f64, high: f64, unit: &str| {
        format!("range = [\"{} {unit}\", \"{} {unit}\"]\n", number(low), number(high))
    };
    let spread = |figure: Figure, unit: &str, else_so: &str| match figure.spread {
        Spread::Unsaid => format!("tolerance = {}\n", quoted(else_so)),
        Spread::Within(so) => format!("tolerance = \"{} {unit}\"\n", number(so)),
        Spread::Range(low, high) => between(low, high, unit),
    };
    let angle = |target: f64| format!("{} °", number(usual.angle_deg.min(target / 2.0)));
    let slots = || {
        let twist = usual.twist_deg.map(|twist| format!("twist = \"{} °\"\n", number(twist)));
        format!("slots = {}\n{}", usual.slots, twist.unwrap_or_default())
    };
    let middle = |low: f64, high: f64| number(f64::midpoint(low, high));
    match asked {
        Asked::RunDown => "run-down = \"By hand until it touches.\"\n".to_owned(),
        Asked::Torque { nm, .. } => {
            format!("torque = \"{} N·m\"\n{}", number(nm.target), spread(nm, "N·m", &usual.torque))
        }
        Asked::Angle(deg) => {
            format!("angle = \"{} °\"\n{}", number(deg.target), spread(deg, "°", &angle(deg.target)))
        }
        Asked::TorqueAngle { nm, deg } => {
            let off = match deg.spread {
                Spread::Unsaid => angle(deg.target),
                Spread::Within(so) => format!("{} °", number(so)),
                Spread::Range(low, high) => format!("{} °", number((high - low) / 2.0)),
            };
            format!(
                "torque-angle = \"{} N·m\"\n{}then_angle = \"{} °\"\nangle_tolerance = \"{off}\"\n",
                number(nm.target),
                spread(nm, "N·m", &usual.torque),
                number(deg.target)
            )
        }
        Asked::Stretch { mm, limit_nm } => {
            let limit = limit_nm.map(|limit| format!("limit = \"{} N·m\"\n", number(limit)));
            let (target, limit) = (number(mm.target), limit.unwrap_or_default());
            format!("stretch = \"{target} mm\"\n{}{limit}", spread(mm, "mm", STRETCH))
        }
        Asked::Yield { low_nm, high_nm } => {
            format!("yield = \"{} N·m\"\n{}", middle(low_nm, high_nm), between(low_nm, high_nm, "N·m"))
        }
        Asked::Castellated { low_nm, high_nm } => {
            let torque = middle(low_nm, high_nm);
            format!("castellated = \"{torque} N·m\"\n{}{}", between(low_nm, high_nm, "N·m"), slots())
        }
        Asked::Recheck { nm } => {
            format!("recheck = \"{} N·m\"\ntolerance = {}\n", number(nm), quoted(&usual.torque))
        }
        Asked::Loosen => "loosen = \"Loosen it again.\"\n".to_owned(),
    }
}

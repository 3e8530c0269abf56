//! A procedure written in the one way that everybody can read.

use super::{Asked, Figure, Procedure, Said, Spread};
use crate::tightening::Pattern;
use std::fmt::Write;

impl Procedure {
    /// Its stages in one line, in N·m, degrees and mm. Reading that gives the same stages.
    pub fn line(&self) -> String {
        let mut line = String::new();
        let mut group: Option<&str> = None;
        let mut at = 0;
        while let Some(said) = self.stages.get(at) {
            let same = self.stages[at..].iter().take_while(|other| alike(said, other)).count();
            let named = said.group.as_deref();
            if !line.is_empty() {
                line += if named == group { ", " } else { "; " };
            }
            if named != group
                && let Some(name) = named
            {
                let _ = write!(line, "{name}: ");
            }
            group = named;
            line += &words(said.asked);
            match same {
                1 => {}
                2 => line += " twice",
                more => {
                    let _ = write!(line, " {more} times");
                }
            }
            at += same;
        }
        for extra in [self.order.map(order), self.lubricant.map(lubricant)].into_iter().flatten() {
            if !line.is_empty() {
                line += ", ";
            }
            line += extra;
        }
        line
    }
}

fn alike(one: &Said, other: &Said) -> bool {
    one.group == other.group && one.asked == other.asked
}

fn words(asked: Asked) -> String {
    match asked {
        Asked::RunDown => "by hand".to_owned(),
        Asked::Torque { nm, snug } => format!("{}{}", figure(nm, " N·m"), if snug { " snug" } else { "" }),
        Asked::Angle(deg) => figure(deg, "°"),
        Asked::TorqueAngle { nm, deg } => {
            format!("{} and {} in one pull", figure(nm, " N·m"), figure(deg, "°"))
        }
        Asked::Stretch { mm, limit_nm } => {
            let limit = limit_nm.map(|nm| format!(" not over {} N·m", number(nm))).unwrap_or_default();
            format!("stretch {}{limit}", figure(mm, " mm"))
        }
        Asked::Yield { low_nm, high_nm } => {
            format!("until it stops rising {} to {} N·m", number(low_nm), number(high_nm))
        }
        Asked::Castellated { low_nm, high_nm } => {
            format!("{} to {} N·m forward to the next slot", number(low_nm), number(high_nm))
        }
        Asked::Recheck { nm } => format!("check {} N·m", number(nm)),
        Asked::Loosen => "loosen".to_owned(),
    }
}

fn figure(figure: Figure, unit: &str) -> String {
    match figure.spread {
        Spread::Unsaid => format!("{}{unit}", number(figure.target)),
        Spread::Within(so) => format!("{} ± {}{unit}", number(figure.target), number(so)),
        Spread::Range(low, high) => format!("{} to {}{unit}", number(low), number(high)),
    }
}

/// Up to five decimals, and no more than there are.
pub(super) fn number(value: f64) -> String {
    let text = format!("{value:.5}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn order(pattern: Pattern) -> &'static str {
    match pattern {
        Pattern::CentreOut => "centre out",
        Pattern::OutsideIn => "outside in",
        Pattern::CrissCross => "criss-cross",
        Pattern::Diagonal => "diagonally",
        Pattern::Clockwise => "clockwise",
        Pattern::Line => "in line",
        Pattern::Listed => "as listed",
    }
}

/// How a shipped lubricant is said.
fn lubricant(key: &str) -> &'static str {
    match key {
        "degreased" => "degreased",
        "dry" => "dry",
        "engine-oil" => "engine oil",
        "moly-paste" => "moly paste",
        "assembly-paste" => "assembly paste",
        "anti-seize" => "anti-seize",
        "threadlocker" => "threadlocker",
        _ => "thread sealant",
    }
}

//! A procedure written in the one way that everybody can read.

use super::{LineFigure, LineOrder, LineStage, LineTolerance, Procedure, StageKind};
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::SequencePattern;
use std::fmt::Write;

impl Procedure {
    /// Its stages in one line, each figure in the unit it was written in. Reading that gives the same stages.
    pub fn line(&self) -> String {
        let mut line = String::new();
        let mut group: Option<&str> = None;
        let mut at = 0;
        while let Some(stage) = self.stages.get(at) {
            let same = self.stages[at..].iter().take_while(|other| is_alike(stage, other)).count();
            let named = stage.group.as_deref();
            if !line.is_empty() {
                line += if named == group { ", " } else { "; " };
            }
            if named != group
                && let Some(name) = named
            {
                let _ = write!(line, "{name}: ");
            }
            group = named;
            line += &words(&stage.kind);
            match same {
                1 => {}
                2 => line += " twice",
                more => {
                    let _ = write!(line, " {more} times");
                }
            }
            at += same;
        }
        for extra in [self.order.as_ref().map(order), self.lubricant.map(|key| lubricant(key).to_owned())] {
            let Some(extra) = extra else { continue };
            if !line.is_empty() {
                line += ", ";
            }
            line += &extra;
        }
        line
    }
}

fn is_alike(one: &LineStage, other: &LineStage) -> bool {
    one.group == other.group && one.kind == other.kind
}

fn words(kind: &StageKind) -> String {
    match kind {
        StageKind::RunDown => "by hand".to_owned(),
        StageKind::Torque { torque, snug } => {
            format!("{}{}", figure(torque), if *snug { " snug" } else { "" })
        }
        StageKind::Angle(angle) => figure(angle),
        StageKind::TorqueAngle { torque, angle } => {
            format!("{} and {} in one pull", figure(torque), figure(angle))
        }
        StageKind::Stretch { stretch, limit } => {
            let limit = limit.map(|limit| format!(" not over {}", figure(&limit))).unwrap_or_default();
            format!("stretch {}{limit}", figure(stretch))
        }
        StageKind::Yield(band) => format!("until it stops rising {}", figure(band)),
        StageKind::Castellated(band) => format!("{} forward to the next slot", figure(band)),
        StageKind::Recheck(torque) => format!("check {}", figure(torque)),
        StageKind::Loosen => "loosen".to_owned(),
        StageKind::Action(text) => format!("\"{text}\""),
        StageKind::Wait(time) => format!("wait {}", figure(time)),
        StageKind::Seal { within, cure } => {
            let cure = cure.map(|cure| format!(", cures in {}", figure(&cure))).unwrap_or_default();
            format!("sealant, skins in {}{cure}", figure(within))
        }
    }
}

fn figure(figure: &LineFigure) -> String {
    let symbol = match figure.unit.dimension {
        Dimension::Angle => figure.unit.symbol.to_owned(),
        _ => format!(" {}", figure.unit.symbol),
    };
    let target = number(figure.target);
    match figure.spread {
        LineTolerance::Unsaid => format!("{target}{symbol}"),
        LineTolerance::Within(tolerance) => format!("{target} ± {}{symbol}", number(tolerance)),
        LineTolerance::Range(low, high) if number(f64::midpoint(low, high)) == target => {
            format!("{} to {}{symbol}", number(low), number(high))
        }
        LineTolerance::Range(low, high) => {
            format!("{target}{symbol} between {} and {}{symbol}", number(low), number(high))
        }
    }
}

/// Up to five decimals, and no more than there are.
pub(super) fn number(value: f64) -> String {
    let text = format!("{value:.5}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn order(order: &LineOrder) -> String {
    match order {
        LineOrder::Pattern(pattern) => pattern_words(*pattern).to_owned(),
        LineOrder::Listed(names) => format!("in the order {}", names.join(" ")),
    }
}

const fn pattern_words(pattern: SequencePattern) -> &'static str {
    match pattern {
        SequencePattern::CentreOut => "centre out",
        SequencePattern::OutsideIn => "outside in",
        SequencePattern::CrissCross => "criss-cross",
        SequencePattern::Diagonal => "diagonally",
        SequencePattern::Clockwise => "clockwise",
        SequencePattern::Line => "in line",
        SequencePattern::Listed => "as listed",
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

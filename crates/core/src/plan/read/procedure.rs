//! A procedure that is said in one line (C-49): it stands for stages that are written out, and is read as they are.

use crate::document::{Table, asked};
use crate::plan::document::{Joint, Stage};
use crate::plan::open::OpenFigure;
use crate::plan::shorthand::{self, Usual};
use crate::quantity::Dimension;
use crate::tightening::way::Open;
use crate::tightening::{Pattern, Way};

/// Reads stages that are written out.
type Written = dyn Fn(&Table<'_>, &Joint, &mut Vec<OpenFigure>) -> Vec<Stage>;

/// The order that the line says, where it says one.
pub(super) fn order(table: &Table<'_>) -> Option<Pattern> {
    let line = table.word("procedure");
    if line.is_empty() || asked(line).is_some() { None } else { shorthand::read(line).order }
}

/// The stages that the line stands for.
pub(super) fn stages(
    table: &Table<'_>,
    joint: &Joint,
    opens: &mut Vec<OpenFigure>,
    written: &Written,
) -> Vec<Stage> {
    let line = table.text("procedure");
    let usual = usual(table);
    if let Some(note) = asked(&line) {
        return wanted(table, joint, note, opens);
    }
    let said = shorthand::read(&line);
    for fault in &said.faults {
        let words = line.get(fault.at.clone()).unwrap_or_default();
        table.error("procedure", format!("`{words}`: {}", fault.message));
    }
    let groups: Vec<(&str, &str)> =
        joint.groups.iter().map(|group| (group.id.as_str(), group.name.as_str())).collect();
    match said.tables(&groups, &usual) {
        Ok(text) if said.faults.is_empty() => {
            let mut stages = table.reads("procedure", &text, |table| {
                let stages = written(table, joint, opens);
                table.finish();
                stages
            });
            for stage in &mut stages {
                stage.path = format!("{}.procedure", table.path());
            }
            if stages.is_empty() {
                table.error("procedure", "it says no stage");
            }
            stages
        }
        Ok(_) => Vec::new(),
        Err(message) => {
            table.error("procedure", message);
            Vec::new()
        }
    }
}

/// How far off figures may be where the line does not say.
fn usual(table: &Table<'_>) -> Usual {
    let mut usual = Usual::default();
    if table.has("tolerance") {
        usual.torque = table.text("tolerance");
    }
    if let Some(angle) = table.quantity_if("angle_tolerance", Dimension::Angle) {
        usual.angle_deg = angle;
    }
    usual.slots = table.whole("slots", 3..=12).unwrap_or(usual.slots);
    usual.twist_deg = table.quantity_if("twist", Dimension::Angle);
    usual
}

/// Nobody has looked the procedure up yet: a stage of every group waits for it.
fn wanted(table: &Table<'_>, joint: &Joint, note: &str, opens: &mut Vec<OpenFigure>) -> Vec<Stage> {
    let path = format!("{}.procedure", table.path());
    let what = format!("{}: procedure", joint.name);
    opens.push(OpenFigure {
        path: path.clone(),
        what,
        note: note.to_owned(),
        use_for: None,
        operations: Vec::new(),
    });
    let groups = (0..joint.groups.len()).map(crate::plan::index::GroupIx);
    let stage = |group| Stage {
        name: "Procedure".to_owned(),
        group: Some(group),
        walk: crate::plan::document::Walk::Round,
        again: Vec::new(),
        way: Way::Open(Open::new(path.clone(), note)),
        path: path.clone(),
        source: String::new(),
        heading: "Procedure".to_owned(),
    };
    groups.map(stage).collect()
}

//! A procedure that is said in one line (C-49): it stands for stages that are written out, and is read as they are.

use crate::document::{FastenerSpec, Joint, Stage};
use crate::missing_figure::MissingFigure;
use crate::procedure::{self, LineOrder, LineQuestion, StageDefaults, groups_of};
use crate::toml_reader::{TomlTable, asked};
use crate::way::MissingStage;
use crate::way::Way;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;

/// Reads stages that are written out.
type Written = dyn Fn(&TomlTable<'_>, &Joint, &mut Vec<MissingFigure>) -> Vec<Stage>;

/// The order that the line says, where it says one.
pub(super) fn order(table: &TomlTable<'_>) -> Option<LineOrder> {
    let line = table.word("procedure");
    if line.is_empty() || asked(line).is_some() { None } else { procedure::read(line).order }
}

/// The stages that the line stands for, as far as they are certain, and what is not.
pub(super) fn stages(
    table: &TomlTable<'_>,
    joint: &Joint,
    specs: &[FastenerSpec],
    opens: &mut Vec<MissingFigure>,
    written: &Written,
) -> (Vec<Stage>, Vec<Message>) {
    let line = table.text("procedure");
    let defaults = defaults(table);
    if let Some(note) = asked(&line) {
        return (wanted(table, joint, note, opens), Vec::new());
    }
    let said = procedure::read(&line);
    let tables = said.tables(&groups_of(joint, specs), &defaults);
    let of_groups = tables.as_ref().err().into_iter().flatten();
    let words = |question: &LineQuestion| {
        let words = line.get(question.at.clone()).unwrap_or_default();
        message!("read-procedure-question", words, question = &question.message)
    };
    let unclear: Vec<Message> = said.questions.iter().chain(of_groups).map(words).collect();
    let Ok(text) = tables else { return (Vec::new(), unclear) };
    let mut stages = table.reads("procedure", &text, |table| {
        let stages = written(table, joint, opens);
        table.finish();
        stages
    });
    for stage in &mut stages {
        stage.path = format!("{}.procedure", table.path());
    }
    if stages.is_empty() && unclear.is_empty() {
        table.error("procedure", message!("read-says-no-stage"));
    }
    (stages, unclear)
}

/// How far off figures may be where the line does not say.
fn defaults(table: &TomlTable<'_>) -> StageDefaults {
    let mut defaults = StageDefaults::default();
    if table.has("tolerance") {
        defaults.torque = table.text("tolerance");
    }
    if let Some(angle) = table.quantity_if("angle_tolerance", Dimension::Angle) {
        defaults.angle_deg = angle;
    }
    defaults.slots = table.whole("slots", 3..=12).unwrap_or(defaults.slots);
    defaults.twist_deg = table.quantity_if("twist", Dimension::Angle);
    defaults
}

/// Nobody has looked the procedure up yet: a stage of every group waits for it.
fn wanted(table: &TomlTable<'_>, joint: &Joint, note: &str, opens: &mut Vec<MissingFigure>) -> Vec<Stage> {
    let path = format!("{}.procedure", table.path());
    let what = format!("{}: procedure", joint.name);
    opens.push(MissingFigure {
        path: path.clone(),
        what,
        note: note.to_owned(),
        use_for: None,
        operations: Vec::new(),
    });
    let groups = (0..joint.groups.len()).map(crate::index::GroupIx);
    let stage = |group| Stage {
        name: "Procedure".to_owned(),
        group: Some(group),
        walk: crate::document::StageWalk::Round,
        again: Vec::new(),
        way: Way::new(MissingStage::new(path.clone(), note)),
        path: path.clone(),
        source: String::new(),
        heading: "Procedure".to_owned(),
    };
    groups.map(stage).collect()
}

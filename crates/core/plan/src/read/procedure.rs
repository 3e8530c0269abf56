//! A procedure that is said in one line (C-49): it stands for stages that are written out, and is read as they are.

use crate::document::{FastenerGroup, FastenerSpec, Joint, Stage};
use crate::missing_figure::MissingFigure;
use crate::procedure::{self, LineOrder, LineQuestion, StageDefaults, groups_of};
use crate::toml_reader::{TomlTable, asked};
use crate::way::MissingStage;
use crate::way::Way;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use rigore_mechanics::tightening::SequencePattern;

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

/// What the procedure of a joint in one line stands for.
pub(crate) struct WrittenOut {
    /// Its stages, as a plan writes them out.
    pub stages: String,
    /// By group and in the words of a plan: its pattern, and its order where that is listed.
    pub orders: Vec<(&'static str, Vec<String>)>,
}

/// The same of a joint that has a line.
pub(super) fn written_out(
    table: &TomlTable<'_>,
    joint: &Joint,
    specs: &[FastenerSpec],
) -> Result<WrittenOut, Message> {
    let line = table.text("procedure");
    let order = order(table);
    let of_group = |group: &FastenerGroup| match &order {
        Some(LineOrder::Pattern(pattern)) => (word_for(*pattern), Vec::new()),
        Some(LineOrder::Listed(names)) if group.pattern == SequencePattern::Listed => {
            let own = &joint.fasteners[group.fasteners.clone()];
            let listed = names.iter().filter(|name| own.iter().any(|of| of.id == **name));
            (word_for(SequencePattern::Listed), listed.cloned().collect())
        }
        _ => ("", Vec::new()),
    };
    let orders = joint.groups.iter().map(of_group).collect();
    if let Some(note) = asked(&line) {
        let figure = format!("? {note}");
        let stage = |group: &FastenerGroup| {
            let (id, figure) = (toml::Value::from(group.id.as_str()), toml::Value::from(figure.trim()));
            format!("[[stage]]\nname = \"Torque\"\ngroup = {id}\ntorque = {figure}\ntolerance = \"4 %\"\n")
        };
        return Ok(WrittenOut { stages: joint.groups.iter().map(stage).collect(), orders });
    }
    let said = procedure::read(&line);
    if let Some(question) = said.questions.first() {
        return Err(question.message.clone());
    }
    let stages = said.tables(&groups_of(joint, specs), &defaults(table));
    let stages =
        stages.map_err(|questions| Message::join(questions.into_iter().map(|of| of.message), "; "))?;
    Ok(WrittenOut { stages, orders })
}

/// A pattern as a plan says it.
fn word_for(pattern: SequencePattern) -> &'static str {
    SequencePattern::ALL.iter().find(|(_, of)| *of == pattern).map_or("", |(word, _)| word)
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

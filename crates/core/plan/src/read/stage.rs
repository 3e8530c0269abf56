//! Reading the procedure of a joint: its stages as they are written out, or as one line says them.

use super::procedure;
use crate::document::{FastenerGroup, FastenerSpec, Joint, Stage, StageWalk};
use crate::index::GroupIx;
use crate::missing_figure::MissingFigure;
use crate::toml_reader::TomlTable;
use crate::way::Way;
use crate::way::{Action, MissingStage, READERS};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use std::collections::{BTreeMap, BTreeSet};

/// The words for [`StageWalk`].
const WALKS: [(&str, StageWalk); 2] = [("round", StageWalk::Round), ("each", StageWalk::Each)];

/// In which order groups of one joint get their stages.
#[derive(Clone, Copy)]
enum School {
    FinishEachGroup,
    AllGroupsTogether,
}

/// The words for [`School`].
const SCHOOLS: [(&str, School); 2] =
    [("finish-each-group", School::FinishEachGroup), ("all-groups-together", School::AllGroupsTogether)];

/// The stages of a joint whose groups are read, and what its procedure in one line does not say for certain.
pub(super) fn of_joint(
    table: &TomlTable<'_>,
    joint: &Joint,
    specs: &[FastenerSpec],
    opens: &mut Vec<MissingFigure>,
) -> (Vec<Stage>, Vec<Message>) {
    let (mut all, mut unclear) = (Vec::new(), Vec::new());
    if table.has("procedure") {
        if table.has("stage") {
            table.error("procedure", message!("read-procedure-one-line-or-stages-written"));
        }
        (all, unclear) = procedure::stages(table, joint, specs, opens, &written);
    } else {
        all.extend(written(table, joint, opens));
    }
    if table.has("school")
        && let Some(school) = table.choice("school", &SCHOOLS)
    {
        all = in_order(all, school);
    }
    (with_dry_holes(all, &joint.groups), unclear)
}

/// Stages that are written out.
pub(super) fn written(table: &TomlTable<'_>, joint: &Joint, opens: &mut Vec<MissingFigure>) -> Vec<Stage> {
    let tables = table.tables("stage");
    tables.iter().flat_map(|table| stages(table, joint, opens).unwrap_or_default()).collect()
}

/// Dry holes are looked at before the first fastener of a group goes in (C-5).
fn with_dry_holes(stages: Vec<Stage>, groups: &[FastenerGroup]) -> Vec<Stage> {
    let mut seen = BTreeSet::new();
    let mut all = Vec::with_capacity(stages.len());
    for stage in stages {
        let group = stage.group.filter(|group| seen.insert(group.0)).and_then(|group| groups.get(group.0));
        if let Some(group) = group.filter(|group| group.hole.as_ref().is_some_and(|hole| hole.blind)) {
            let text = format!(
                "A pipe cleaner comes out dry of each of the {} blind holes, {}: what is left in one cracks it.",
                group.fasteners.len(),
                group.name
            );
            all.push(Stage {
                name: format!("Holes dry, {}", group.name),
                group: None,
                walk: StageWalk::Round,
                again: Vec::new(),
                way: Way::new(Action::ready("", text)),
                path: stage.path.clone(),
                source: String::new(),
                heading: stage.heading.clone(),
            });
        }
        all.push(stage);
    }
    all
}

/// The stages that one table stands for: a torque may be reached in steps, and a castellated nut is
/// finished by more than one figure.
fn stages(table: &TomlTable<'_>, joint: &Joint, opens: &mut Vec<MissingFigure>) -> Option<Vec<Stage>> {
    let heading = table.text("name");
    let walk = if table.has("walk") { table.choice("walk", &WALKS)? } else { StageWalk::Round };
    let mut chosen = READERS.iter().filter(|reader| table.has(reader.key));
    let (Some(reader), None) = (chosen.next(), chosen.next()) else {
        let keys: Vec<&str> = READERS.iter().map(|reader| reader.key).collect();
        table.error_here(message!("read-stage-has-exactly-one", keys = keys.join(", ")));
        return None;
    };
    let open = table.open(&["name", "group", "again", "source", "walk"]);
    let ways = if let Some((key, note)) = open.first() {
        let path = format!("{}.{key}", table.path());
        let way = Way::new(MissingStage::new(path.clone(), note));
        let what = format!("{}, {}: {}", joint.name, heading.to_lowercase(), key.replace('_', " "));
        opens.push(MissingFigure { path, what, note: note.clone(), use_for: None, operations: Vec::new() });
        vec![way]
    } else {
        (reader.read)(table)?
    };
    let groups = || joint.groups.iter().map(|group| group.id.as_str());
    let of_group = ways.iter().any(|way| way.of_group());
    let group = of_group.then(|| GroupIx(table.reference("group", "group", groups())));
    let again = table.references("again", "group", groups()).into_iter().map(GroupIx).collect::<Vec<_>>();
    if !again.is_empty() && (!of_group || ways.iter().any(|way| way.once())) {
        table.error("again", message!("read-only-what-may-done-twice-done"));
    }
    let source = table.text_or("source", "");
    table.finish();
    let names = names(&heading, &ways);
    let walk_of = |at: usize| if at > 0 && reader.together { StageWalk::Each } else { walk };
    let stage = |(at, (name, way))| Stage {
        name,
        group,
        walk: walk_of(at),
        again: again.clone(),
        way,
        path: table.path().to_owned(),
        source: source.clone(),
        heading: heading.clone(),
    };
    Some(names.into_iter().zip(ways).enumerate().map(stage).collect())
}

/// What each stage of a table is called: alike ones by number, others by what they do.
fn names(heading: &str, ways: &[Way]) -> Vec<String> {
    if ways.len() == 1 {
        return vec![heading.to_owned()];
    }
    let key = |way: &Way| way.key();
    let alike = |other: &Way| ways.iter().filter(|way| key(way) == key(other)).count();
    let plain = |way: &Way| !way.zeroes() && way.title().is_none();
    let first = ways.iter().position(plain).unwrap_or_default();
    let name = |(at, way): (usize, &Way)| match alike(way) {
        _ if way.title().is_some() => way.title().unwrap_or_default().to_owned(),
        // Only the first of what a stage does carries its name alone.
        1 if at == first => heading.to_owned(),
        1 => format!("{heading}, {}", key(way)),
        count => format!("{heading} {} of {count}", at + 1),
    };
    ways.iter().enumerate().map(name).collect()
}

/// Brings stages into the order of a school: group by group or stage by stage; what has no group goes with
/// the stage before it.
fn in_order(stages: Vec<Stage>, school: School) -> Vec<Stage> {
    let mut blocks: Vec<((usize, usize), Vec<Stage>)> = Vec::new();
    let mut counts: BTreeMap<usize, usize> = BTreeMap::new();
    for stage in stages {
        let goes_with_last = |block: &[Stage]| {
            let last = block.last();
            stage.group.is_none()
                || (stage.walk == StageWalk::Each && last.is_some_and(|before| before.group == stage.group))
        };
        if let Some((_, block)) = blocks.last_mut().filter(|(_, block)| goes_with_last(block)) {
            block.push(stage);
            continue;
        }
        let group = stage.group.map_or(0, |group| group.0);
        let number = counts.entry(group).or_default();
        let key = match school {
            School::FinishEachGroup => (group, *number),
            School::AllGroupsTogether => (*number, group),
        };
        *number += 1;
        blocks.push((key, vec![stage]));
    }
    blocks.sort_by_key(|(key, _)| *key);
    blocks.into_iter().flat_map(|(_, block)| block).collect()
}

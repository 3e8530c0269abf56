//! What a shop keeps of its plans to use again: a fastener, a lubricant, a whole joint, a clearance or all of them, a
//! checklist, each with all that it needs. What refers to what is told by the plan format.

use crate::format::{self, FormatFieldKind, FormatTable};
use crate::free_key::free_key;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde_json::Value as Json;
use std::collections::{BTreeMap, BTreeSet};
use toml_edit::{Array, ArrayOfTables, DocumentMut, Item, Table, TableLike, Value};

/// The lists that pieces are of; what one refers to comes before it.
const LISTS: [&str; 7] = ["lubricant", "fastener", "drawing", "adapter", "manual", "joint", "site"];
/// The list of what follows from measurements: a piece is one of them, or all.
const CLEARANCE: &str = "clearance";
/// What a checklist is of its step: the rest belongs to the plan that it stands in.
const CHECKLIST: [&str; 5] = ["id", "name", "kind", "cautions", "item"];
/// Lists whose tables belong to the plan that a piece is of.
const OF_THE_PLAN: [&str; 3] = ["slot", "operation", "size"];
/// Causes by which work is done again: what they name belongs to the plan.
const AGAIN: &str = "again";

/// A piece of a plan.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PlanPiece {
    /// What it is: `fastener`, `joint`, `clearance`, `clearances` for all of them, `checklist`.
    pub kind: &'static str,
    /// What it is called.
    pub name: String,
    /// Its text, with all that it needs.
    pub text: String,
}

/// A piece of a plan with all that it needs. `None` where nothing stands at the path that can be kept.
pub fn piece(source: &str, path: &str) -> Option<PlanPiece> {
    let document: DocumentMut = source.parse().ok()?;
    if path.starts_with("operation[") {
        return checklist(&document, path);
    }
    let (list, ids, name) = if path == CLEARANCE {
        let ids: Vec<String> = tables(&document, CLEARANCE)?.iter().filter_map(|of| text(of, "id")).collect();
        (CLEARANCE, ids, text(document.as_table(), "name")?)
    } else {
        let (list, at) = path.strip_suffix(']')?.split_once('[')?;
        let table = tables(&document, list)?.get(at.parse().ok()?)?;
        (all_lists().find(|known| *known == list)?, vec![text(table, "id")?], text(table, "name")?)
    };
    let kind = match list {
        CLEARANCE if path == CLEARANCE => "clearances",
        "drawing" | "manual" | "site" => return None,
        _ => list,
    };
    let mut wanted: BTreeMap<&str, BTreeSet<String>> = BTreeMap::from([(list, ids.into_iter().collect())]);
    let mut kept: Vec<(&str, ArrayOfTables)> = Vec::new();
    // From what refers to what it refers to.
    for list in all_lists().collect::<Vec<_>>().into_iter().rev() {
        let Some(ids) = wanted.get(list).cloned() else { continue };
        let Some(format) = format::table_at(list) else { continue };
        let of_it = tables(&document, list).into_iter().flatten();
        let mut all = ArrayOfTables::new();
        for table in of_it.filter(|table| text(table, "id").is_some_and(|id| ids.contains(&id))) {
            let mut table = table.clone();
            each_reference(&mut table, format, &mut |to, id| {
                if let Some(to) = all_lists().find(|known| *known == to) {
                    wanted.entry(to).or_default().insert(id.to_owned());
                }
                stays(to, id)
            });
            all.push(table);
        }
        kept.push((list, all));
    }
    let mut piece = DocumentMut::new();
    for (list, all) in kept.into_iter().rev().filter(|(_, all)| !all.is_empty()) {
        piece.insert(list, Item::ArrayOfTables(all));
    }
    Some(PlanPiece { kind, name, text: piece.to_string().trim_start().to_owned() })
}

/// The items of a step, with what it is called and what it cautions of.
fn checklist(document: &DocumentMut, path: &str) -> Option<PlanPiece> {
    let place = |part: &str, list: &str| part.strip_prefix(list)?.strip_suffix(']')?.parse::<usize>().ok();
    let (operation, step) = path.split_once('.').map_or((path, None), |(of, step)| (of, Some(step)));
    let mut table = tables(document, "operation")?.get(place(operation, "operation[")?)?;
    if let Some(step) = step {
        table = table.get("step")?.as_array_of_tables()?.get(place(step, "step[")?)?;
    }
    let mut table = table.clone();
    table.retain(|key, _| CHECKLIST.contains(&key));
    table.get("item").filter(|item| item.as_array().is_none_or(|items| !items.is_empty()))?;
    each_reference(&mut table, format::table_at("operation")?, &mut |to, id| stays(to, id));
    let name = text(&table, "name")?;
    let mut all = ArrayOfTables::new();
    all.push(table);
    let mut piece = DocumentMut::new();
    piece.insert("operation", Item::ArrayOfTables(all));
    Some(PlanPiece { kind: "checklist", name, text: piece.to_string().trim_start().to_owned() })
}

/// What a piece refers to stays, but for what belongs to its plan alone.
fn stays(list: &str, id: &str) -> Option<String> {
    (!OF_THE_PLAN.contains(&list)).then(|| id.to_owned())
}

/// What a piece is known by in the plans that have it: what its table says besides its key and what it refers to, or the
/// line of a procedure.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub enum PieceKey {
    /// A table of a list.
    Table {
        /// The list.
        list: String,
        /// What it says.
        said: String,
    },
    /// A procedure in one line.
    Line(String),
}

impl PieceKey {
    /// Those of a piece, all of which a plan has that has it; none where it is no piece.
    pub fn of(kind: &str, piece: &str) -> BTreeSet<Self> {
        let list = match kind {
            "procedure" => return BTreeSet::from([Self::Line(piece.to_owned())]),
            "clearances" => CLEARANCE,
            "checklist" => "operation",
            kind => kind,
        };
        let Ok(piece) = piece.parse::<DocumentMut>() else { return BTreeSet::new() };
        let all = tables(&piece, list).into_iter().flatten().filter_map(|table| Self::of_table(list, table));
        // A piece has one table of its own kind, but for all clearances of a plan.
        all.collect()
    }

    /// Everything that a plan has.
    pub fn all_of(source: &str) -> BTreeSet<Self> {
        let Ok(plan) = source.parse::<DocumentMut>() else { return BTreeSet::new() };
        let mut all = BTreeSet::new();
        for list in all_lists().chain(["operation"]) {
            for table in tables(&plan, list).into_iter().flatten() {
                all.extend(Self::of_table(list, table));
                all.extend(text(table, "procedure").map(Self::Line));
                let steps = table.get("step").and_then(Item::as_array_of_tables);
                all.extend(steps.into_iter().flatten().filter_map(|step| Self::of_table(list, step)));
            }
        }
        all
    }

    fn of_table(list: &str, table: &Table) -> Option<Self> {
        let mut table = table.clone();
        if list == "operation" {
            table.retain(|key, _| CHECKLIST.contains(&key));
        }
        each_reference(&mut table, format::table_at(list)?, &mut |_, _| None);
        table.remove("id");
        Some(Self::Table { list: list.to_owned(), said: plain(&table).to_string() })
    }
}

fn all_lists() -> impl Iterator<Item = &'static str> {
    LISTS.into_iter().chain([CLEARANCE])
}

/// What of a piece has to be added to a plan: what is there already is used, and what is called like something else
/// there gets a key of its own.
///
/// # Errors
/// Where the piece is none.
pub fn to_add(source: &str, piece: &str) -> Result<String, Message> {
    let plan: DocumentMut =
        source.parse().map_err(|error: toml_edit::TomlError| Message::from(error.message()))?;
    let mut piece: DocumentMut =
        piece.parse().map_err(|error: toml_edit::TomlError| Message::from(error.message()))?;
    if let Some((other, _)) = piece.iter().find(|(key, _)| !all_lists().any(|list| list == *key)) {
        let lists = all_lists().collect::<Vec<_>>().join(", ");
        return Err(message!("plan-no-part-piece-there", other, lists));
    }
    let mut renamed: BTreeMap<(&str, String), String> = BTreeMap::new();
    for list in all_lists() {
        let there: Vec<&Table> = tables(&plan, list).into_iter().flatten().collect();
        let (Some(Item::ArrayOfTables(all)), Some(format)) = (piece.get_mut(list), format::table_at(list))
        else {
            continue;
        };
        for table in all.iter_mut() {
            each_reference(table, format, &mut |to, id| {
                let now = renamed.iter().find(|((of, was), _)| *of == to && was == id);
                Some(now.map_or_else(|| id.to_owned(), |(_, now)| now.clone()))
            });
        }
        let mut taken: BTreeSet<String> = there.iter().filter_map(|table| text(table, "id")).collect();
        let mut same = Vec::new();
        for (at, table) in all.iter_mut().enumerate() {
            let id = text(table, "id").ok_or_else(|| message!("plan-without-id", list))?;
            let known = there.iter().find(|other| text(other, "id").as_ref() == Some(&id));
            match known {
                Some(known) if list != "joint" && plain(known) == plain(table) => same.push(at),
                Some(_) => {
                    let free = free_key(&id, &taken);
                    table.insert("id", toml_edit::value(free.as_str()));
                    taken.insert(free.clone());
                    renamed.insert((list, id), free);
                }
                None => {
                    taken.insert(id);
                }
            }
        }
        for at in same.into_iter().rev() {
            all.remove(at);
        }
        if all.is_empty() {
            piece.remove(list);
        }
    }
    Ok(piece.to_string())
}

fn tables<'a>(document: &'a DocumentMut, list: &str) -> Option<&'a ArrayOfTables> {
    document.get(list)?.as_array_of_tables()
}

fn text(table: &Table, key: &str) -> Option<String> {
    table.get(key)?.as_str().map(str::to_owned)
}

/// Goes over everything that a table refers to, by list and key: `put` says what it refers to from now on, or nothing,
/// and then it refers to nothing there.
fn each_reference(
    table: &mut dyn TableLike,
    format: &FormatTable,
    put: &mut dyn FnMut(&str, &str) -> Option<String>,
) {
    if format.inner(AGAIN).is_some() {
        table.remove(AGAIN);
    }
    let keys: BTreeSet<&str> = format.fields.iter().map(|field| field.key).collect();
    for key in keys {
        let Some(kind) = format.field(key).map(|field| &field.kind) else { continue };
        let Some(item) = table.get_mut(key) else { continue };
        let stays = match kind {
            FormatFieldKind::Reference { list } | FormatFieldKind::References { list } => {
                refer(item, list, put)
            }
            // A size is a figure, or the key of what is measured: that begins with a letter.
            FormatFieldKind::Size { .. } => {
                !item.as_str().is_some_and(|text| text.starts_with(char::is_alphabetic))
                    || refer(item, "site", put)
            }
            FormatFieldKind::Table { table } | FormatFieldKind::Tables { table } => {
                each_inner(item, table.0, put);
                true
            }
            _ => true,
        };
        if !stays {
            table.remove(key);
        }
    }
}

/// A reference, or a list of them; false where nothing is left of it.
fn refer(item: &mut Item, list: &str, put: &mut dyn FnMut(&str, &str) -> Option<String>) -> bool {
    match item {
        Item::Value(Value::Array(ids)) => {
            let now: Array = ids.iter().filter_map(|id| put(list, id.as_str()?)).collect();
            *ids = now;
            !ids.is_empty()
        }
        item => match item.as_str().map(|id| put(list, id)) {
            Some(Some(id)) => {
                if item.as_str() != Some(&id) {
                    *item = toml_edit::value(id);
                }
                true
            }
            Some(None) => false,
            None => true,
        },
    }
}

fn each_inner(item: &mut Item, format: &FormatTable, put: &mut dyn FnMut(&str, &str) -> Option<String>) {
    match item {
        Item::ArrayOfTables(tables) => tables.iter_mut().for_each(|table| each_reference(table, format, put)),
        Item::Value(Value::Array(items)) => {
            let tables = items.iter_mut().filter_map(Value::as_inline_table_mut);
            tables.for_each(|table| each_reference(table, format, put));
        }
        item => {
            if let Some(table) = item.as_table_like_mut() {
                each_reference(table, format, put);
            }
        }
    }
}

/// A table without its comments and its spacing.
fn plain(table: &Table) -> Json {
    let fields = table.iter().map(|(key, item)| (key.to_owned(), plain_item(item)));
    Json::Object(fields.collect())
}

fn plain_item(item: &Item) -> Json {
    match item {
        Item::Table(table) => plain(table),
        Item::ArrayOfTables(tables) => tables.iter().map(plain).collect(),
        Item::Value(value) => plain_value(value),
        Item::None => Json::Null,
    }
}

fn plain_value(value: &Value) -> Json {
    let inline = |table: &toml_edit::InlineTable| {
        table.iter().map(|(key, value)| (key.to_owned(), plain_value(value))).collect()
    };
    match value {
        Value::String(text) => Json::String(text.value().clone()),
        Value::Array(items) => items.iter().map(plain_value).collect(),
        Value::InlineTable(table) => Json::Object(inline(table)),
        other => Json::String(other.to_string().trim().to_owned()),
    }
}

#[cfg(test)]
mod tests {
    use super::{PieceKey, piece, to_add};
    use crate::Plan;
    use crate::edit::{Edit, edit};

    const SKERRY: &str = include_str!("../../../../plans/skerry-8.toml");
    const TARN: &str = include_str!("../../../../plans/tarn-5.toml");

    #[test]
    fn a_joint_goes_from_one_plan_to_another_with_all_that_it_needs() {
        let kept = piece(SKERRY, "joint[2]").expect("a joint");
        assert_eq!((kept.kind, kept.name.as_str()), ("joint", "Head"));
        let head = kept.text;
        assert!(
            head.contains("[[fastener]]") && head.contains("[[drawing]]") && head.contains("procedure"),
            "{head}"
        );
        let there = edit(TARN, &[Edit::Take { text: head.clone() }]).expect("taken");
        let (was, plan) = (Plan::read("was", TARN).unwrap(), Plan::read("plan", &there).unwrap());
        assert_eq!(plan.joints.len(), was.joints.len() + 2, "both heads");
        // What is called alike there and is another thing got a key of its own.
        assert!(plan.joint("head-2-left").is_some());
        // Taken twice, what it needs is there already.
        let twice = edit(&there, &[Edit::Take { text: head }]).expect("taken");
        let twice = Plan::read("twice", &twice).unwrap();
        assert_eq!(twice.joints.len(), plan.joints.len() + 2);
    }

    #[test]
    fn a_fastener_brings_the_lubricant_of_its_plan() {
        let plan = "format = 1\n[[lubricant]]\nid = \"own\"\nname = \"Own\"\nsource = \"card\"\nthread = [0.1, 0.1, 0.1]\n[[fastener]]\nid = \"b\"\nname = \"B\"\nthread_lubricant = \"own\"\nbearing_lubricant = \"dry\"\n";
        let text = piece(plan, "fastener[0]").expect("a fastener").text;
        assert!(text.contains("[[lubricant]]"), "{text}");
        assert_eq!(to_add(plan, &text).expect("nothing is missing"), "");
        assert_eq!(piece(plan, "drawing[0]"), None);
        assert_eq!(piece(plan, "fastener[7]"), None);
        assert!(to_add(plan, "[[operation]]\nid = \"x\"").is_err());
    }

    #[test]
    fn a_joint_brings_its_adapters_and_pages_and_what_is_renamed_is_referred_to_by_its_new_key() {
        let with = |length: &str| {
            let adapter = serde_json::json!({ "id": "crowfoot", "name": "Crowfoot", "length": length, "angle": "0°",
                "wrench": "400 mm" });
            let page = serde_json::json!({ "name": "Manual, head", "file": "a".repeat(64) });
            let fields = |value: serde_json::Value| value.as_object().expect("a table").clone();
            let edits = [
                Edit::Append { list: "adapter".into(), fields: fields(adapter) },
                Edit::Set { path: "joint[2].group[0].position[0].adapter".into(), value: "crowfoot".into() },
                Edit::AddManualPage { joint: "joint[2]".into(), fields: fields(page) },
            ];
            edit(SKERRY, &edits).expect("made")
        };
        let kept = piece(&with("50 mm"), "joint[2]").expect("a joint").text;
        // There is another crowfoot by that key already.
        let there = edit(&with("80 mm"), &[Edit::Take { text: kept }]).expect("taken");
        let plan = Plan::read("plan", &there).expect("a plan");
        let taken = &plan[plan.joint("head-2-left").expect("the joint")];
        let adapter = taken.adapted.first().map(|(_, at)| plan.adapters[*at].length_mm);
        assert_eq!(adapter, Some(50.0));
        // Stages that are written out keep their groups and what makes them be done again.
        let main = Plan::read("tarn", TARN).unwrap();
        let caps = main.joints.iter().find(|joint| joint.stages.iter().any(|stage| !stage.again.is_empty()));
        let caps = caps.expect("a joint whose stages are done again");
        let kept = piece(TARN, &format!("joint[{}]", caps.written)).expect("a joint").text;
        let small = "format = 1\nid = \"small\"\nname = \"Small\"\n";
        let there = Plan::draft("plan", &edit(small, &[Edit::Take { text: kept }]).expect("taken"));
        let is_of_joint = |fault: &&crate::Fault| {
            fault.severity == crate::Severity::Error && fault.path.starts_with("joint")
        };
        let wrong: Vec<_> = there.faults.iter().filter(is_of_joint).collect();
        assert!(wrong.is_empty(), "{wrong:?}");
        assert_eq!(there.page.joints[0].stages.len(), caps.stages.len());
        assert_eq!(taken.manual.len(), 1);
    }

    #[test]
    fn clearances_bring_what_is_measured_and_a_checklist_its_items_alone() {
        let all = piece(TARN, "clearance").expect("clearances");
        assert_eq!((all.kind, all.name.as_str()), ("clearances", "Tarn 5"));
        let small = "format = 1\nid = \"small\"\nname = \"Small\"\n";
        let there = edit(small, &[Edit::Take { text: all.text.clone() }]).expect("taken");
        let (was, plan) = (Plan::read("was", TARN).unwrap(), Plan::draft("plan", &there));
        assert_eq!(plan.page.clearances.len(), was.clearances.len());
        let wrong: Vec<_> = plan
            .faults
            .iter()
            .filter(|fault| fault.path.starts_with("clearance") && fault.severity == crate::Severity::Error)
            .collect();
        assert!(wrong.is_empty(), "{wrong:?}");
        let has = |plan: &str, kind: &str, text: &str| {
            let keys = PieceKey::of(kind, text);
            !keys.is_empty() && keys.is_subset(&PieceKey::all_of(plan))
        };
        assert!(has(&there, all.kind, &all.text) && !has(small, all.kind, &all.text));
        let at = was.operations.iter().find(|of| of.id == "block-prepare").expect("a step").written.clone();
        let list = piece(TARN, &at).expect("a checklist");
        assert_eq!(list.kind, "checklist");
        assert!(list.text.contains("item = [") && !list.text.contains("needs"), "{}", list.text);
        assert!(has(TARN, list.kind, &list.text) && !has(SKERRY, "joint", "[[joint]]\nid = \"x\""));
        assert!(has(SKERRY, "procedure", "20, 40, 58 N·m, in line"));
    }
}

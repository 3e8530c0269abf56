//! Reading the line of work, and whether every operation in it can be reached.

use super::document::{Item, Kind, Operation, Plan, Work};
use super::read::once;
use super::read_measuring::families;
use super::read_parts::{read_hardware, read_sketch, read_slots_of};
use super::reader::Table;
use crate::quantity::Dimension;
use std::collections::BTreeSet;

const KINDS: [(&str, Kind); 10] = [
    ("take-in", Kind::TakeIn),
    ("prepare", Kind::Prepare),
    ("fit", Kind::Fit),
    ("check", Kind::Check),
    ("seal", Kind::Seal),
    ("count", Kind::Count),
    ("tighten", Kind::Tighten),
    ("measure", Kind::Measure),
    ("turn", Kind::Turn),
    ("sign", Kind::Sign),
];

pub(super) fn read_operations(top: &Table<'_>, plan: &mut Plan) {
    let tables = top.tables("operation");
    if tables.is_empty() {
        top.error("operation", "a plan has at least one operation");
    }
    for table in &tables {
        once(table, "operation", plan.operations.iter().map(|o| o.id.as_str()));
        let operation = read_operation(table, plan);
        plan.operations.extend(operation);
    }
    let ids: Vec<&str> = plan.operations.iter().map(|o| o.id.as_str()).collect();
    for (operation, table) in plan.operations.iter().zip(&tables) {
        for need in &operation.needs {
            table.check_reference("needs", "operation", need, &ids);
        }
    }
    if plan.operations.len() == tables.len() {
        check_graph(&plan.operations, &tables);
    }
    check_use(top, plan);
    for clearance in &mut plan.clearances {
        let measures = |operation: &Operation| match &operation.work {
            Work::Measure { sites } => {
                clearance.families().any(|family| sites.iter().any(|&site| plan.sites[site].family == family))
            }
            _ => false,
        };
        clearance.judged_in = plan.operations.iter().rposition(measures);
    }
    for table in tables {
        table.finish();
    }
}

fn read_operation(table: &Table<'_>, plan: &Plan) -> Option<Operation> {
    let (id, name) = (table.text("id"), table.text("name"));
    let (needs, cautions) = (table.texts("needs"), table.texts("cautions"));
    let kind = table.choice("kind", &KINDS)?;
    let work = match kind {
        Kind::TakeIn => Work::Parts { slots: read_slots_of(table, plan) },
        Kind::Count => read_count_of(table, plan),
        Kind::Tighten => {
            let joints: Vec<&str> = plan.joints.iter().map(|j| j.id.as_str()).collect();
            Work::Tighten { joint: table.reference("joint", "joint", &joints) }
        }
        Kind::Measure => Work::Measure { sites: read_sites_of(table, plan) },
        Kind::Turn => Work::Turn {
            suspect: table.text("suspect"),
            most_nm: table.quantity_if("most", Dimension::Torque),
            rise_nm: table.quantity_if("rise", Dimension::Torque),
        },
        Kind::Sign => Work::Sign,
        Kind::Prepare | Kind::Fit | Kind::Check | Kind::Seal => Work::Items { items: read_items(table) },
    };
    Some(Operation { id, name, kind, needs, cautions, work })
}

/// Hardware counted out, or the same counted back.
fn read_count_of(table: &Table<'_>, plan: &Plan) -> Work {
    if !table.has("back_of") {
        return Work::Count { hardware: read_hardware(table, plan), back_of: None };
    }
    let out = |operation: &Operation| match &operation.work {
        Work::Count { hardware, back_of: None } => Some(hardware.clone()),
        _ => None,
    };
    let counts: Vec<&str> =
        plan.operations.iter().filter(|o| out(o).is_some()).map(|o| o.id.as_str()).collect();
    let back_of = table.reference("back_of", "operation that counts out before this one", &counts);
    let hardware = plan.operation(&back_of).and_then(|(_, operation)| out(operation)).unwrap_or_default();
    Work::Count { hardware, back_of: Some(back_of) }
}

/// The sites an operation measures, every member of each family.
fn read_sites_of(table: &Table<'_>, plan: &Plan) -> Vec<usize> {
    let named = table.texts("sites");
    if named.is_empty() {
        table.error("sites", "at least one site to measure is needed");
    }
    for family in &named {
        table.check_reference("sites", "site", family, &families(plan));
    }
    named.iter().flat_map(|family| plan.family(family).map(|(at, _)| at)).collect()
}

fn read_items(table: &Table<'_>) -> Vec<Item> {
    let mut items: Vec<Item> = Vec::new();
    for item in table.tables("item") {
        once(&item, "item", items.iter().map(|i| i.id.as_str()));
        items.push(Item {
            id: item.text("id"),
            text: item.text("text"),
            right: item.text_or("right", ""),
            wrong: item.text_or("wrong", ""),
            sketch: read_sketch(&item),
        });
        item.finish();
    }
    if items.is_empty() {
        table.error("item", "at least one item to confirm is needed");
    }
    items
}

/// Every operation can be reached: no circle, nothing behind the last signature, and hardware is
/// counted back after it was counted out.
fn check_graph(operations: &[Operation], tables: &[Table<'_>]) {
    if let Some(cycle) = first_cycle(operations) {
        let start = operations.iter().position(|operation| operation.id == cycle[0]);
        if let Some(start) = start {
            tables[start].error("needs", format!("goes in a circle: {}", cycle.join(" needs ")));
        }
        return;
    }
    let mut last: Option<&Operation> = None;
    for (operation, table) in operations.iter().zip(tables) {
        if matches!(operation.work, Work::Sign) {
            if let Some(first) = last {
                let message = format!("`{}` signs the engine off already: neither could be signed", first.id);
                table.error("kind", message);
            }
            last = last.or(Some(operation));
        }
    }
    for (operation, table) in operations.iter().zip(tables) {
        let behind = last.filter(|last| follows(operations, operation, &last.id));
        if let Some(last) = behind {
            let message = format!("can never be started: `{}` is signed after everything else", last.id);
            table.error("needs", message);
        }
        if let Work::Count { back_of: Some(out), .. } = &operation.work
            && !follows(operations, operation, out)
        {
            table.error("needs", format!("counts back what `{out}` counts out, and does not wait for it"));
        }
    }
}

/// Whether an operation waits for another, directly or through others. There is no circle.
fn follows(operations: &[Operation], operation: &Operation, other: &str) -> bool {
    operation.needs.iter().any(|need| {
        let planned = operations.iter().find(|planned| planned.id == *need);
        need == other || planned.is_some_and(|planned| follows(operations, planned, other))
    })
}

/// Warns of what no operation comes to.
fn check_use(top: &Table<'_>, plan: &Plan) {
    let works = || plan.operations.iter().map(|operation| &operation.work);
    for joint in &plan.joints {
        if !works().any(|work| matches!(work, Work::Tighten { joint: id } if *id == joint.id)) {
            top.warn("joint", format!("no operation tightens `{}`", joint.id));
        }
    }
    let mut warned = BTreeSet::new();
    for (at, site) in plan.sites.iter().enumerate() {
        let used = works().any(|work| matches!(work, Work::Measure { sites } if sites.contains(&at)));
        if !used && warned.insert(&site.family) {
            top.warn("site", format!("no operation measures `{}`", site.family));
        }
    }
    for (at, slot) in plan.slots.iter().enumerate() {
        let used = works().any(|work| matches!(work, Work::Parts { slots } if slots.contains(&at)));
        if !used && warned.insert(&slot.family) {
            top.warn("slot", format!("no operation takes `{}` in", slot.family));
        }
    }
}

/// The first circle among requirements, as the ids along it.
fn first_cycle(operations: &[Operation]) -> Option<Vec<&str>> {
    fn visit<'a>(
        id: &'a str,
        all: &'a [Operation],
        path: &mut Vec<&'a str>,
        done: &mut BTreeSet<&'a str>,
    ) -> bool {
        if let Some(at) = path.iter().position(|seen| *seen == id) {
            path.drain(..at);
            path.push(id);
            return true;
        }
        if !done.contains(id) {
            path.push(id);
            let needs = all.iter().find(|o| o.id == id).map_or(&[][..], |o| &o.needs);
            if needs.iter().any(|need| visit(need, all, path, done)) {
                return true;
            }
            path.pop();
            done.insert(id);
        }
        false
    }
    let (mut path, mut done) = (Vec::new(), BTreeSet::new());
    operations.iter().any(|o| visit(&o.id, operations, &mut path, &mut done)).then_some(path)
}

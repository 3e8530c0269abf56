//! Tables of a plan that others refer to, as forms choose among them.

use super::source::PageSource;
use serde::Serialize;
use serde_json::Value as Json;

/// A table that others refer to.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanTable {
    /// The list it is of: `fastener`, `group`, `temporary-item`.
    pub list: String,
    /// Where in the plan it stands; empty of a lubricant that ships with Rigore.
    pub path: String,
    /// Its key.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// How many it stands for.
    pub count: usize,
}

/// Lists that others refer to.
const LISTS: [&str; 11] = [
    "lubricant",
    "fastener",
    "drawing",
    "adapter",
    "manual",
    "size",
    "slot",
    "joint",
    "site",
    "clearance",
    "operation",
];

impl PageSource<'_> {
    /// Every table with a key, however much of it can be read.
    pub(super) fn tables(&self) -> Vec<PlanTable> {
        let mut all = Vec::new();
        for list in LISTS {
            let tables = self.written.value(list).unwrap_or_default();
            add(list, list, &tables, &mut all);
        }
        let shipped = self.plan.lubricants.iter();
        let shipped = shipped.filter(|of| !all.iter().any(|row| row.list == "lubricant" && row.id == of.id));
        let shipped: Vec<PlanTable> = shipped
            .map(|of| PlanTable {
                list: "lubricant".to_owned(),
                path: String::new(),
                id: of.id.clone(),
                name: of.name.clone(),
                count: 1,
            })
            .collect();
        all.splice(0..0, shipped);
        all
    }
}

fn add(list: &str, path: &str, tables: &Json, all: &mut Vec<PlanTable>) {
    for (at, table) in tables.as_array().into_iter().flatten().enumerate() {
        let path = format!("{path}[{at}]");
        add_one(list, &path, table, all);
        for item in table["item"].as_array().into_iter().flatten() {
            add_one("temporary-item", &path, &item["puts_in"], all);
        }
        // Groups of a joint, and steps of a repeat, which are operations.
        add("group", &format!("{path}.group"), &table["group"], all);
        add(list, &format!("{path}.step"), &table["step"], all);
    }
}

fn add_one(list: &str, path: &str, table: &Json, all: &mut Vec<PlanTable>) {
    let Some(id) = table["id"].as_str() else { return };
    let members = table["members"].as_array().map_or(1, Vec::len);
    all.push(PlanTable {
        list: list.to_owned(),
        path: path.to_owned(),
        id: id.to_owned(),
        name: table["name"].as_str().unwrap_or(id).to_owned(),
        count: table["count"].as_u64().and_then(|count| usize::try_from(count).ok()).unwrap_or(members),
    });
}

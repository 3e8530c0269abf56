//! Operations that are written once and repeated (C-38), and what operations need.

use super::members;
use super::operation::operation;
use crate::document::{Plan, Repeat, RepeatMember};
use crate::index::OperationIx;
use crate::toml_reader::TomlTable;
use rigore_mechanics::message;

/// In which order the members of a repeat come.
#[derive(Clone, Copy, PartialEq)]
enum Order {
    OneAfterOther,
    Any,
}

const ORDERS: [(&str, Order); 2] = [("one-after-other", Order::OneAfterOther), ("any", Order::Any)];
const SIGNATURES: [(&str, bool); 2] = [("each", false), ("set", true)];

/// One `[[operation]]` of kind `repeat`: every step of its first member, then of its second. Gives the table of
/// each of them, with what it needs besides what that says.
pub(super) fn repeat<'a>(table: &TomlTable<'a>, plan: &mut Plan) -> Vec<(TomlTable<'a>, Vec<OperationIx>)> {
    let order = chosen(table, "order", &ORDERS).unwrap_or(Order::OneAfterOther);
    let signed_once = chosen(table, "signature", &SIGNATURES).unwrap_or(false);
    let keys = members::keys(table);
    let steps = table.tables("step");
    if steps.is_empty() {
        table.error("step", message!("read-at-least-one-step-repeated-needed"));
    }
    if keys.len() < 2 {
        table.error("count", message!("read-repeat-has-two-members-or-more"));
    }
    let of = plan.repeats.len();
    plan.repeats.push(Repeat {
        id: table.text("id"),
        name: table.text("name"),
        by: table.text_or("by", "number"),
        members: keys.clone(),
        signed_once,
    });
    let mut needing = Vec::new();
    let mut last_of_before = None;
    for (number, key) in keys.iter().enumerate() {
        let mut before: Option<OperationIx> = None;
        for step in &steps {
            let own = step.of_member(key);
            let Some(read) = operation(&own, plan) else { continue };
            let written = step.text("name");
            let says_which = written.contains('#');
            let (first, named) = (before.is_none(), own.has("needs"));
            // The first step needs what the repeat needs, and others the one before them where they say nothing.
            let needs = match (first, named) {
                (true, false) => table.of_member(key),
                _ => own,
            };
            let after = last_of_before.filter(|_| first && order == Order::OneAfterOther);
            let besides = after.into_iter().chain(before.filter(|_| !named)).collect();
            before = Some(OperationIx(plan.operations.len()));
            plan.operations.push(crate::Operation {
                id: members::of(&read.id, "-", key),
                step: written.replace('#', "").split_whitespace().collect::<Vec<_>>().join(" "),
                name: if says_which { read.name } else { members::of(&read.name, " ", key) },
                family: read.family,
                member: Some(RepeatMember { repeat: of, number }),
                ..read
            });
            needing.push((needs, besides));
        }
        last_of_before = before;
    }
    for step in &steps {
        step.finish();
    }
    needing
}

fn chosen<T: Copy>(table: &TomlTable<'_>, key: &'static str, choices: &[(&str, T)]) -> Option<T> {
    if table.has(key) { table.choice(key, choices) } else { None }
}

/// What an operation can need, by name.
pub(super) struct KnownNames {
    ids: Vec<(String, String)>,
    /// The last steps of every member of a repeat, by its key.
    repeats: Vec<(String, Vec<OperationIx>)>,
}

impl KnownNames {
    /// Every operation of a plan, and every repeat.
    pub fn of(plan: &Plan) -> Self {
        let of_member = |member: &RepeatMember, at: &OperationIx| plan[*at].member.as_ref() == Some(member);
        let repeats = plan.repeats.iter().enumerate().map(|(repeat, of)| {
            let members = (0..of.members.len()).map(|number| RepeatMember { repeat, number });
            let last = members.filter_map(|member| plan.line().filter(|at| of_member(&member, at)).last());
            (of.id.clone(), last.collect())
        });
        Self {
            repeats: repeats.collect(),
            ids: plan.operations.iter().map(|of| (of.id.clone(), of.family.clone())).collect(),
        }
    }

    /// What the `needs` of a table name: operations, steps of a repeat (the member's own, or all of them), or a
    /// whole repeat.
    pub fn needs(&self, table: &TomlTable<'_>) -> Vec<OperationIx> {
        let mut known: Vec<(&str, &str)> =
            self.ids.iter().map(|(id, family)| (id.as_str(), family.as_str())).collect();
        let mut places: Vec<OperationIx> = (0..known.len()).map(OperationIx).collect();
        for (repeat, last) in &self.repeats {
            known.extend(last.iter().map(|at| (self.ids[at.0].0.as_str(), repeat.as_str())));
            places.extend(last);
        }
        table.references_among("needs", "operation", &known).into_iter().map(|at| places[at]).collect()
    }
}

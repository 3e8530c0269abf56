//! The format as data against the reader: both know the same fields.

use super::{FieldCondition, FormatField, FormatFieldKind, FormatTable, table_at, tables, words_at};
use crate::edit::SourceText;
use crate::read;
use serde_json::Value as Json;
use std::collections::BTreeSet;

/// Every way to say something that the plans that ship with Rigore do not use.
const REST: &str = include_str!("rest.toml");

const PLANS: [&str; 4] = [
    include_str!("../../../../../plans/tarn-5.toml"),
    include_str!("../../../../../plans/ostra-11.toml"),
    include_str!("../../../../../plans/skerry-8.toml"),
    REST,
];

fn asked() -> BTreeSet<(String, &'static str)> {
    let mut all = BTreeSet::new();
    for text in PLANS {
        let (_, report) = read::plan("plan", text);
        for (path, key) in report.asked.borrow().iter() {
            // Stages that one line stands for are no table of the text.
            if !path.contains(".procedure") {
                let plain: Vec<&str> = path.split('.').filter_map(|part| part.split('[').next()).collect();
                all.insert((plain.join("."), *key));
            }
        }
    }
    all
}

#[test]
fn a_reader_asks_for_every_field_that_is_described_and_for_no_other() {
    let asked = asked();
    let undescribed: Vec<_> = asked
        .iter()
        .filter(|(path, key)| !(path.is_empty() && *key == "format"))
        .filter(|(path, key)| table_at(path).is_none_or(|table| table.field(key).is_none()))
        // Uses are no fields of the format: a window has one for each.
        .filter(|(path, _)| path != "clearance.window")
        .collect();
    assert!(undescribed.is_empty(), "no form has {undescribed:?}");
    let asks = |table: &FormatTable, key: &str| {
        asked.iter().any(|(path, of)| *of == key && table_at(path).is_some_and(|there| there == table))
    };
    let unasked: Vec<String> = tables()
        .into_iter()
        .flat_map(|table| table.fields.iter().map(move |field| (table, field.key)))
        .filter(|(table, key)| !asks(table, key))
        .map(|(table, key)| format!("{}.{key}", table.id))
        .collect();
    assert!(unasked.is_empty(), "no reader asks for {unasked:?}");
}

#[test]
fn the_document_of_the_format_names_every_field() {
    let document = include_str!("../../../../../docs/plan-format.md");
    let words: BTreeSet<&str> =
        document.split(|c: char| !(c.is_ascii_alphanumeric() || c == '_' || c == '-')).collect();
    let missing: Vec<String> = tables()
        .into_iter()
        .flat_map(|table| table.fields.iter().map(move |field| (table.id, field.key)))
        .filter(|(_, key)| !words.contains(key))
        .map(|(table, key)| format!("{table}.{key}"))
        .collect();
    assert!(missing.is_empty(), "{missing:?}");
}

#[test]
fn conditions_and_references_name_what_is_there() {
    for table in tables() {
        let known = |key: &str| assert!(table.field(key).is_some(), "{}.{key}", table.id);
        table.one_of.iter().for_each(|key| known(key));
        for field in table.fields {
            field.with.iter().for_each(|key| known(key));
            if let Some(of) = field.of {
                let FormatFieldKind::Choice { choices } = table.field(of.key).expect("a field").kind else {
                    panic!("{} of {} is no choice", of.key, table.id)
                };
                for value in of.values {
                    assert!(choices.iter().any(|choice| choice.value == *value), "{value} of {}", table.id);
                }
            }
            if let FormatFieldKind::Reference { list } | FormatFieldKind::References { list } = field.kind {
                assert!(
                    ["group", "temporary-item"].contains(&list) || super::top().inner(list).is_some(),
                    "{list}"
                );
            }
        }
    }
}

/// Fields that a table says and that no form would ask for beside the others that it says.
fn unasked(format: &FormatTable, table: &Json, path: &str, all: &mut Vec<String>) {
    let Some(said) = table.as_object() else { return };
    for (key, value) in said {
        let is_asked = |field: &&FormatField| {
            let with = field.with.is_empty() || field.with.iter().any(|key| said.contains_key(*key));
            let of = |of: FieldCondition| of.values.iter().any(|value| table[of.key] == *value);
            with && field.of.is_none_or(of)
        };
        let path = format!("{path}.{key}");
        if !format.fields.iter().filter(|field| field.key == key).any(|field| is_asked(&field)) {
            all.push(path.clone());
        }
        if let Some(inner) = format.inner(key) {
            let tables = value.as_array().cloned().unwrap_or_else(|| vec![value.clone()]);
            for table in &tables {
                unasked(inner, table, &path, all);
            }
        }
    }
}

#[test]
fn whatever_the_plans_say_a_form_asks_for() {
    for text in PLANS {
        let mut plan = SourceText::of(text).value("").expect("a plan");
        plan.as_object_mut().expect("a table").remove("format");
        let mut all = Vec::new();
        unasked(super::top(), &plan, "", &mut all);
        assert!(all.is_empty(), "{all:?}");
    }
}

#[test]
fn a_path_is_told_in_the_words_of_the_forms() {
    let source = SourceText::of(REST);
    let told = |path: &str| words_at(path, |table| source.at(&format!("{table}.name"))).in_base_units();
    assert_eq!(told("joint[0].stage[2].wait"), "Caps, Wait, Wait");
    assert_eq!(told("joint[0].group[0].position[0].at"), "Caps, all, Fastener 1, Place x, y, mm");
    assert_eq!(told("joint[9].stage[1].torque"), "Joint 10, Stage 2, Torque");
    assert_eq!(told("fastener[0].bolt.head"), "Bolt, Bolt, Head");
    assert_eq!(told("clearance[0].window.street"), "Valve, Limits by use, street");
    assert_eq!(told(""), "");
}

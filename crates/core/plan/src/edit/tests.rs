//! Changes of a text, and what they leave as it was.

use super::{Edit, SourceText, edit};
use crate::shape::EngineShape;
use crate::toml_reader::{Fault, Severity};
use crate::{DraftReading, OperationKind, Plan};
use rigore_mechanics::message::Message;
use serde_json::json;

const TEXT: &str = "# A plan.\nformat = 1\n\n# The caps.\n[[joint]]\nid = \"caps\" # as cast\n\n  [[joint.group]]\n  id = \"inner\"\n  position = [\n    { id = \"1\", at = [0, 0] }, # the front\n    { id = \"2\", at = [10, 0] },\n  ]\n\n  [[joint.stage]]\n  torque = \"45 N·m\" # page 12\n\n# The end.\n[[operation]]\nid = \"fit\"\n";

fn set(path: &str, value: serde_json::Value) -> Edit {
    Edit::Set { path: path.to_owned(), value }
}

#[test]
fn what_is_not_touched_keeps_its_comments_and_its_order() {
    let edits = [
        set("joint[0].stage[0].torque", json!("50 N·m")),
        set("joint[0].group[0].position[1].at", json!([12.5, 0])),
        set("joint[0].source", json!("the card")),
    ];
    let now = edit(TEXT, &edits).unwrap();
    assert_eq!(
        now.replace("50 N·m", "45 N·m")
            .replace("[12.5, 0]", "[10, 0]")
            .replace("source = \"the card\"\n", ""),
        TEXT
    );
    for same in [TEXT, TEXT.trim_end(), &TEXT.replace('\n', "\r\n")] {
        assert_eq!(edit(same, &[]).unwrap(), same);
    }
    let paths = ["joint[0].stage[0].torque", "joint[0].group[0].position[1].at", "joint[1].id"];
    let read = SourceText::of(&now);
    assert_eq!(
        paths.map(|path| read.at(path)),
        [Some("50 N·m".to_owned()), Some("[12.5, 0]".to_owned()), None]
    );
    assert_eq!(read.ids("joint[0].group[0].position"), ["1", "2"]);
}

#[test]
fn what_is_added_stands_behind_its_like_and_what_is_taken_out_is_gone() {
    let more = Edit::Add { text: "[[stage]]\nangle = \"60°\"\n".to_owned(), within: "joint[0]".to_owned() };
    let joint = Edit::Add {
        text: "[[joint]]\nid = \"head\"\n[[joint.group]]\nid = \"all\"\n".to_owned(),
        within: String::new(),
    };
    let now = edit(TEXT, &[more, joint]).unwrap();
    let read: toml::Table = now.parse().unwrap();
    assert_eq!(read["joint"].as_array().unwrap().len(), 2);
    assert_eq!(read["joint"][0]["stage"].as_array().unwrap().len(), 2, "{now}");
    assert_eq!(read["joint"][1]["group"][0]["id"].as_str(), Some("all"));
    let back = edit(
        &now,
        &[
            Edit::Remove { path: "joint[1]".to_owned() },
            Edit::Remove { path: "joint[0].stage[1]".to_owned() },
        ],
    )
    .unwrap();
    let (back, was): (toml::Table, toml::Table) = (back.parse().unwrap(), TEXT.parse().unwrap());
    assert_eq!(back, was);
}

#[test]
fn neighbours_change_places_with_all_that_is_inside_of_them() {
    let two = "[[joint]]\nid = \"a\"\n[[joint.group]]\nid = \"x\"\n[[joint]]\nid = \"b\"\n[[joint.group]]\nid = \"y\"\n";
    let now = edit(two, &[Edit::Shift { path: "joint[1]".to_owned(), up: true }]).unwrap();
    let read: toml::Table = now.parse().unwrap();
    let ids = [0, 1].map(|at| {
        (read["joint"][at]["id"].as_str().unwrap(), read["joint"][at]["group"][0]["id"].as_str().unwrap())
    });
    assert_eq!(ids, [("b", "y"), ("a", "x")]);
}

#[test]
fn a_change_that_cannot_be_made_says_where_and_changes_nothing() {
    for (path, value) in [
        ("joint[7].id", json!("x")),
        ("joint[0]", json!(1)),
        ("", json!(1)),
        ("joint[x]", json!(1)),
        ("format", json!(null)),
    ] {
        assert!(edit(TEXT, &[set(path, value)]).is_err(), "{path}");
    }
    assert!(edit("a = ", &[]).is_err());
}

fn usual() -> String {
    EngineShape::default().plan().unwrap()
}

/// A plan of an engine's usual shape, and what a change leaves of it.
fn shaped(edits: &[Edit]) -> Result<DraftReading, Message> {
    let text = edit(&usual(), edits).map_err(|error| error.to_string())?;
    Ok(Plan::draft("plan", &text))
}

fn path_of(drafted: &DraftReading, id: &str) -> String {
    let page = &drafted.page;
    let steps = page.line.iter().map(|row| (&row.id, &row.path));
    let clearances = page.clearances.iter().map(|of| (&of.id, &of.path));
    let joints = page.joints.iter().map(|of| (&of.id, &of.path));
    let mut all = steps.chain(clearances).chain(joints);
    all.find(|(of, _)| *of == id).map(|(_, path)| path.clone()).unwrap_or_default()
}

#[test]
fn whatever_is_taken_out_leaves_a_plan_without_a_fault() {
    let whole = shaped(&[]).unwrap();
    let page = &whole.page;
    let steps =
        page.line.iter().filter(|row| row.kind != Some(OperationKind::Sign)).map(|row| row.path.clone());
    let all: Vec<String> = steps
        .chain(page.clearances.iter().map(|of| of.path.clone()))
        .chain(page.joints.iter().map(|of| of.path.clone()))
        .collect();
    assert!(all.len() > 50);
    for path in all {
        let left = shaped(&[Edit::TakeOut { path: path.clone() }]).unwrap();
        let errors: Vec<_> = left.faults.iter().filter(|fault| fault.severity == Severity::Error).collect();
        // Hardware that was counted out is counted back; the count itself cannot go alone.
        let counted = |fault: &&&Fault| fault.path.ends_with("back_of");
        assert_eq!(errors.iter().filter(|fault| !counted(fault)).count(), 0, "{path}: {errors:?}");
    }
}

#[test]
fn a_clearance_goes_with_what_is_measured_for_it_alone() {
    let whole = shaped(&[]).unwrap();
    let out = Edit::TakeOut { path: path_of(&whole, "rod-side-play") };
    let left = shaped(&[out]).unwrap();
    let has = |drafted: &DraftReading, id: &str| drafted.page.line.iter().any(|row| row.id == id);
    assert!(has(&whole, "rods-side") && !has(&left, "rods-side"));
    assert_eq!(left.page.sites.len() + 1, whole.page.sites.len());
    assert_eq!(left.faults, []);
}

#[test]
fn a_step_comes_between_another_and_what_needed_it() {
    let whole = shaped(&[]).unwrap();
    let text = "[[site]]\nid = \"runout\"\nname = \"Crankshaft runout\"\nform = \"gap\"\n\n[[clearance]]\nid = \"runout\"\nname = \"Crankshaft runout\"\nplus = \"runout\"\nwindow = { street = \"?\" }\n\n[[operation]]\nid = \"runout-measure\"\nname = \"Measure the runout\"\nkind = \"measure\"\nsites = [\"runout\"]\n";
    let insert = Edit::Insert { text: text.to_owned(), after: path_of(&whole, "crank-in") };
    let now = shaped(&[insert]).unwrap();
    assert_eq!(now.faults, []);
    let ids: Vec<&str> = now.page.line.iter().map(|row| row.id.as_str()).collect();
    let at = ids.iter().position(|id| *id == "runout-measure").unwrap();
    assert_eq!(&ids[at - 1..=at + 1], ["crank-in", "runout-measure", "main-caps-prepare"]);
    assert!(now.page.open.iter().any(|open| open.path.contains("window.street")));
    let back = edit(
        &usual(),
        &[
            Edit::Insert { text: text.to_owned(), after: path_of(&whole, "crank-in") },
            Edit::TakeOut { path: path_of(&now, "runout") },
        ],
    )
    .unwrap();
    let read = |text: &str| text.parse::<toml::Table>().unwrap();
    assert_eq!(read(&back), read(&usual()));
}

#[test]
fn a_unit_at_the_end_of_a_window_is_that_of_all_its_figures() {
    let path = path_of(&shaped(&[]).unwrap(), "main-oil");
    let look_up = |text: &str| Edit::LookUp {
        path: format!("{path}.window.street"),
        text: text.to_owned(),
        source: String::new(),
    };
    for text in
        ["0.04, 0.05, 0.065 mm", "0.04 mm – 0.05 mm – 0.065 mm", "40 to 50 to 65 µm", "0,04; 0,05; 0,065 mm"]
    {
        let drafted = shaped(&[look_up(text)]).unwrap();
        let page = &drafted.page;
        let clearance = page.clearances.iter().find(|of| of.id == "main-oil").unwrap();
        let words =
            &clearance.windows.first().unwrap_or_else(|| panic!("{text}: {:?}", drafted.faults)).words;
        assert_eq!(words, "0.040 to 0.065 mm, target 0.050 mm", "{text}");
    }
}

//! Edits that forms send: whole tables, steps and joints.

use super::{
    Arrangement, Edit, NewGroup, NewJoint, NewMeasurement, SourceText, StepPlace, TableFields, edit,
};
use crate::format::{self, FormatFieldKind};
use crate::shape::EngineShape;
use crate::toml_reader::Severity;
use crate::{OperationKind, Plan};
use serde_json::{Value as Json, json};
use std::collections::BTreeSet;

const PLANS: [&str; 3] = [
    include_str!("../../../../../plans/tarn-5.toml"),
    include_str!("../../../../../plans/ostra-11.toml"),
    include_str!("../../../../../plans/skerry-8.toml"),
];

fn fields(value: &Json) -> TableFields {
    value.as_object().expect("a table").clone()
}

/// Lists of a plan with how many tables each has, those inside of others included.
fn lists(source: &SourceText) -> Vec<(String, usize)> {
    let mut all = Vec::new();
    let mut open = vec![(String::new(), format::top())];
    while let Some((path, table)) = open.pop() {
        for field in table.fields {
            let FormatFieldKind::Tables { table } = field.kind else { continue };
            let list = if path.is_empty() { field.key.to_owned() } else { format!("{path}.{}", field.key) };
            let count = source.value(&list).and_then(|list| Some(list.as_array()?.len())).unwrap_or(0);
            open.extend((0..count).map(|at| (format!("{list}[{at}]"), table.0)));
            all.extend((count > 0).then_some((list, count)));
        }
    }
    all
}

#[test]
fn a_table_that_says_what_it_said_stays_as_it_stands() {
    for text in PLANS {
        let source = SourceText::of(text);
        let paths = lists(&source)
            .into_iter()
            .flat_map(|(list, count)| (0..count).map(move |at| format!("{list}[{at}]")));
        let same = |path: String| {
            let fields = fields(&source.value(&path).expect("a table"));
            Edit::Put { path, fields, was: None }
        };
        let edits: Vec<Edit> = paths.map(same).collect();
        assert!(edits.len() > 100, "{} tables", edits.len());
        assert_eq!(edit(text, &edits).unwrap(), text);
    }
}

#[test]
fn a_whole_plan_can_be_given_table_by_table() {
    for text in PLANS {
        let source = SourceText::of(text);
        let mut edits: Vec<Edit> = ["id", "name", "about"]
            .iter()
            .filter_map(|key| Some(Edit::Set { path: (*key).to_owned(), value: source.value(key)? }))
            .collect();
        for field in format::top().fields {
            let tables = source.value(field.key).filter(Json::is_array).unwrap_or_default();
            for table in tables.as_array().into_iter().flatten() {
                edits.push(Edit::Append { list: field.key.to_owned(), fields: fields(table) });
            }
        }
        let made = edit("format = 1\n", &edits).unwrap();
        let plain = |text: &str| text.parse::<toml::Table>().unwrap();
        assert_eq!(plain(&made), plain(text));
        assert_eq!(
            Plan::read("made", &made).unwrap().operations,
            Plan::read("was", text).unwrap().operations
        );
    }
}

#[test]
fn a_form_changes_what_differs_and_nothing_else() {
    let text = "# A plan.\nformat = 1\n\n[[joint]]\nid = \"caps\" # as cast\nname = \"Caps\"\n\n[[joint.group]]\nid = \"inner\"\nposition = [\n  { id = \"1\", at = [0, 0] }, # the front\n  { id = \"2\", at = [10, 0] },\n]\n\n# Firm.\n[[joint.stage]]\nname = \"Firm\"\ntorque = \"45 N·m\" # page 12\n";
    let mut joint = fields(&SourceText::of(text).value("joint[0]").unwrap());
    joint.insert("source".to_owned(), "the card".into());
    joint["group"][0]["position"] = json!([
        { "id": "1", "at": [0, 0] }, { "id": "2", "at": [12.5, 0] }, { "id": "3", "at": [20, 0] },
    ]);
    let stage = json!([
        { "name": "Snug", "torque": "20 N·m" }, { "name": "Firm", "torque": "45 N·m" },
    ]);
    joint.insert("stage".to_owned(), stage);
    let now = edit(text, &[Edit::Put { path: "joint[0]".to_owned(), fields: joint, was: None }]).unwrap();
    let wanted = "# A plan.\nformat = 1\n\n[[joint]]\nid = \"caps\" # as cast\nname = \"Caps\"\nsource = \"the card\"\n\n[[joint.group]]\nid = \"inner\"\nposition = [\n  { id = \"1\", at = [0, 0] }, # the front\n  { id = \"2\", at = [12.5, 0] },\n  { id = \"3\", at = [20, 0] },\n]\n\n[[joint.stage]]\nname = \"Snug\"\ntorque = \"20 N·m\"\n\n# Firm.\n[[joint.stage]]\nname = \"Firm\"\ntorque = \"45 N·m\" # page 12\n";
    assert_eq!(now, wanted);
    // What is left out goes, and what has no key gets one of its name.
    let group = json!({ "name": "Outer bolts", "fastener": "bolt" });
    let edits = [
        Edit::Append { list: "joint[0].group".to_owned(), fields: fields(&group) },
        Edit::Put {
            path: "joint[0].stage[1]".to_owned(),
            fields: fields(&json!({ "name": "Firm" })),
            was: None,
        },
    ];
    let now = edit(&now, &edits).unwrap();
    // Limits stand as they are printed; three figures in one unit are a list.
    let window = json!({ "street": "0.03, 0.04, 0.06 mm", "boost": "at least 0.05 mm", "vintage": "?" });
    let clearance = fields(&json!({ "name": "Oil clearance", "plus": "bore", "window": window }));
    let now = edit(&now, &[Edit::Append { list: "clearance".to_owned(), fields: clearance }]).unwrap();
    let now = SourceText::of(&now);
    let window =
        json!({ "street": ["0.03 mm", "0.04 mm", "0.06 mm"], "boost": "at least 0.05 mm", "vintage": "?" });
    assert_eq!(now.value("clearance[0].window"), Some(window));
    assert_eq!(now.ids("joint[0].group"), ["inner", "outer-bolts"]);
    assert_eq!(now.at("joint[0].stage[1].torque"), None);
}

#[test]
fn what_somebody_else_changed_meanwhile_stays_and_is_never_put_over() {
    let text =
        "[[adapter]]\nid = \"a\"\nname = \"A\"\nlength = 50\n\n[[adapter]]\nid = \"b\"\nname = \"B\"\n";
    let was = fields(&SourceText::of(text).value("adapter[0]").unwrap());
    let mine = |key: &str, value: Json| {
        let mut fields = was.clone();
        fields.insert(key.to_owned(), value);
        Edit::Put { path: "adapter[0]".to_owned(), fields, was: Some(was.clone()) }
    };
    let theirs = text.replace("length = 50", "length = 60 # measured");
    let now = edit(&theirs, &[mine("name", json!("Crowfoot"))]).unwrap();
    assert_eq!(now, theirs.replace("\"A\"", "\"Crowfoot\""));
    // The same field: refused, unless both say the same.
    let refused = edit(&theirs, &[mine("length", json!(55))]).unwrap_err();
    assert!(refused.to_string().contains("somebody else"), "{refused}");
    assert_eq!(edit(&theirs, &[mine("length", json!(60))]).unwrap(), theirs);
    // Another table stands there now.
    let fewer = edit(text, &[Edit::Remove { path: "adapter[0]".to_owned() }]).unwrap();
    assert!(edit(&fewer, &[mine("name", json!("Crowfoot"))]).is_err());
}

#[test]
fn a_unit_that_is_given_once_is_that_of_all_figures_of_a_list() {
    for (typed, written) in [
        (json!(["31", "37 lbf·ft"]), json!(["31 lbf·ft", "37 lbf·ft"])),
        (json!(["31 lbf·ft", "37"]), json!(["31 lbf·ft", "37 lbf·ft"])),
        (json!(["31 N·m", "27 lbf·ft"]), json!(["31 N·m", "27 lbf·ft"])),
        (json!([31, 37]), json!([31, 37])),
    ] {
        let stage = fields(&json!({ "name": "Firm", "torque": "34 lbf·ft", "range": typed }));
        let now = edit(
            "[[joint]]\nid = \"x\"\n",
            &[Edit::Append { list: "joint[0].stage".to_owned(), fields: stage }],
        );
        assert_eq!(SourceText::of(&now.unwrap()).value("joint[0].stage[0].range"), Some(written));
    }
}

#[test]
fn an_edit_that_goes_nowhere_says_so() {
    let put = |path: &str| Edit::Put { path: path.to_owned(), fields: TableFields::new(), was: None };
    let append = |list: &str, value: Json| Edit::Append { list: list.to_owned(), fields: fields(&value) };
    let of_step = |place| Edit::MoveStep { path: "operation[0]".to_owned(), place };
    for wrong in [
        put("cheese[0]"),
        put("joint[99]"),
        append("cheese", json!({})),
        append("joint[99].group", json!({ "name": "x" })),
        append("slot", json!({ "id": SourceText::of(PLANS[0]).ids("slot")[0], "name": "Again" })),
        of_step(StepPlace::After("operation[999]".to_owned())),
        Edit::MoveStep { path: "operation[999]".to_owned(), place: StepPlace::Last },
        Edit::SplitStep { path: "operation[0]".to_owned(), stages: vec!["x".to_owned()] },
        Edit::DrawOutline { joint: "joint[99]".to_owned() },
    ] {
        assert!(edit(PLANS[0], std::slice::from_ref(&wrong)).is_err(), "{wrong:?}");
    }
}

/// Errors of a text.
fn errors(text: &str) -> Vec<String> {
    let faults = Plan::draft("plan", text).faults.into_iter();
    faults.filter(|fault| fault.severity == Severity::Error).map(|fault| fault.to_string()).collect()
}

fn at(plan: &Plan, id: &str) -> String {
    plan.operations.iter().find(|of| of.id == id).expect("a step").written.clone()
}

/// Everything that has to be done before a step, by key.
fn before(plan: &Plan, id: &str) -> BTreeSet<String> {
    let mut open: Vec<usize> = plan.operations.iter().position(|of| of.id == id).into_iter().collect();
    let mut all = BTreeSet::new();
    while let Some(step) = open.pop() {
        for need in &plan.operations[step].needs {
            if all.insert(plan[*need].id.clone()) {
                open.push(need.0);
            }
        }
    }
    all
}

#[test]
fn a_step_goes_behind_before_and_beside_others_and_the_rest_keeps_its_order() {
    let text = PLANS[2];
    let was = Plan::read("was", text).unwrap();
    let single = |of: &&crate::Operation| of.member.is_none() && of.kind == OperationKind::Check;
    let step = was.operations.iter().filter(single).nth(1).expect("a check").id.clone();
    let others = was.operations.iter().filter(|of| of.member.is_none() && of.kind != OperationKind::Sign);
    let sign =
        was.operations.iter().find(|of| of.kind == OperationKind::Sign).expect("a signature").id.clone();
    let mut moved = 0;
    for other in others.filter(|of| of.id != step) {
        let path = other.written.clone();
        for place in
            [StepPlace::After(path.clone()), StepPlace::Before(path.clone()), StepPlace::Beside(path.clone())]
        {
            let edits = [Edit::MoveStep { path: at(&was, &step), place: place.clone() }];
            let now = edit(text, &edits).unwrap();
            let plan = Plan::read("now", &now).unwrap_or_else(|faults| panic!("{place:?}: {faults:?}"));
            match place {
                StepPlace::After(_) => assert!(before(&plan, &step).contains(&other.id), "{place:?}"),
                StepPlace::Before(_) => assert!(before(&plan, &other.id).contains(&step), "{place:?}"),
                _ => assert!(
                    !before(&plan, &other.id).contains(&step) && !before(&plan, &step).contains(&other.id)
                ),
            }
            // Nothing is lost on the way to the signature, and no other step changed its order.
            assert_eq!(before(&plan, &sign).len(), before(&was, &sign).len());
            for third in was.operations.iter().filter(|of| of.id != step && of.id != other.id) {
                let mut kept = before(&was, &third.id);
                kept.remove(&step);
                assert!(before(&plan, &third.id).is_superset(&kept), "{place:?}: {}", third.id);
            }
            moved += 1;
        }
    }
    assert!(moved > 50, "{moved}");
    let behind = Edit::MoveStep { path: at(&was, &step), place: StepPlace::After(at(&was, &sign)) };
    assert!(edit(text, &[behind]).is_err(), "nothing comes after the signature");
}

#[test]
fn stages_of_a_joint_are_done_in_two_steps() {
    let text = PLANS[0];
    let was = Plan::read("was", text).unwrap();
    let step = was.operations.iter().find(|of| of.id == "mains-tighten").or_else(|| {
        was.operations.iter().find(|of| {
            matches!(&of.work, crate::OperationWork::Tighten(work)
            if of.kind == OperationKind::Tighten && of.member.is_none() && work.shares[0].stages.len() > 2)
        })
    });
    let step = step.expect("a step that tightens");
    let crate::OperationWork::Tighten(work) = &step.work else { panic!("{}", step.id) };
    let share = &work.shares[0];
    let stages = &was[share.joint].stages[share.stages.clone()];
    let first = stages[0].heading.clone();
    let split = Edit::SplitStep { path: step.written.clone(), stages: vec![first.clone()] };
    let now = edit(text, &[split]).unwrap();
    assert_eq!(errors(&now), Vec::<String>::new());
    let plan = Plan::read("now", &now).unwrap();
    assert_eq!(plan.operations.len(), was.operations.len() + 1);
    let ran = |plan: &Plan, of: &crate::Operation| match &of.work {
        crate::OperationWork::Tighten(work) => plan[work.shares[0].joint].stages
            [work.shares[0].stages.clone()]
        .iter()
        .map(|stage| stage.heading.clone())
        .collect::<Vec<_>>(),
        _ => Vec::new(),
    };
    let at = plan.operations.iter().position(|of| of.id == step.id).unwrap();
    let (here, there) = (&plan.operations[at], &plan.operations[at + 1]);
    assert_eq!([ran(&plan, here), ran(&plan, there)].concat(), ran(&was, step));
    assert!(ran(&plan, here).iter().all(|heading| *heading == first), "{:?}", ran(&plan, here));
    assert!(!ran(&plan, there).contains(&first));
    assert!(before(&plan, &there.id).contains(&here.id));
    let rest = Edit::SplitStep { path: step.written.clone(), stages: vec!["no such stage".to_owned()] };
    assert!(edit(text, &[rest]).is_err());
}

#[test]
fn a_joint_comes_with_its_drawing_and_is_tightened_before_the_signature() {
    let group = |name: &str, arrangement| NewGroup {
        name: name.to_owned(),
        fastener: "head-stud".to_owned(),
        count: 6,
        arrangement,
        spacing: "2 in".to_owned(),
    };
    let text = EngineShape::default().plan().unwrap();
    let fastener = Plan::draft("plan", &text).page.fasteners[0].id.clone();
    for arrangement in [Arrangement::Row, Arrangement::TwoRows, Arrangement::Circle, Arrangement::Rectangle] {
        let mut groups = vec![group("bolt", arrangement), group("nut", Arrangement::Row)];
        for group in &mut groups {
            group.fastener.clone_from(&fastener);
        }
        let joint = NewJoint {
            name: "Lower crankcase".to_owned(),
            groups,
            procedure: "25 N·m".to_owned(),
            source: "page 7".to_owned(),
            place: StepPlace::Last,
        };
        let now = edit(&text, &[Edit::AddJoint { joint }]).unwrap();
        assert_eq!(errors(&now), Vec::<String>::new(), "{arrangement:?}");
        let plan = Plan::draft("plan", &now);
        let added = plan.page.joints.iter().find(|of| of.id == "lower-crankcase").expect("the joint");
        assert_eq!(added.groups.iter().map(|group| group.fasteners.len()).collect::<Vec<_>>(), [6, 6]);
        let all: BTreeSet<String> = added
            .groups
            .iter()
            .flat_map(|group| &group.fasteners)
            .map(|of| format!("{:.0} {:.0}", of.x_mm, of.y_mm))
            .collect();
        assert_eq!(all.len(), 12, "{arrangement:?}: no two are in one place");
        // Spacing is that from one to the next, straight across.
        let mut first: Vec<_> = added.groups[0].fasteners.iter().collect();
        first.sort_by_key(|of| of.id.parse::<u32>().unwrap());
        let apart = (first[1].x_mm - first[0].x_mm).hypot(first[1].y_mm - first[0].y_mm);
        assert!((apart - 50.8).abs() < 0.2, "{arrangement:?}: {apart}");
        let plan = Plan::read("plan", &now).unwrap();
        let sign = plan.operations.iter().find(|of| of.kind == OperationKind::Sign).unwrap();
        assert!(before(&plan, &sign.id).contains("lower-crankcase-tighten"));
        assert!(!before(&plan, "lower-crankcase-tighten").is_empty());
    }
}

#[test]
fn a_measurement_comes_with_its_limits_and_its_step() {
    let text = EngineShape::default().plan().unwrap();
    let was = Plan::read("was", &text).unwrap();
    let measurement = NewMeasurement {
        name: "Crankshaft runout".to_owned(),
        step: "Measure crankshaft runout".to_owned(),
        form: "gap".to_owned(),
        count: 1,
        use_for: "street".to_owned(),
        limits: "at most 0.03 mm".to_owned(),
        place: StepPlace::After(was.operations[0].written.clone()),
    };
    let now = edit(&text, &[Edit::AddMeasurement { measurement }]).unwrap();
    assert_eq!(errors(&now), Vec::<String>::new());
    let plan = Plan::read("now", &now).unwrap();
    assert_eq!(plan.clearances.len(), was.clearances.len() + 1);
    assert_eq!(before(&plan, "measure-crankshaft-runout"), BTreeSet::from([was.operations[0].id.clone()]));
}

#[test]
fn a_line_is_written_out_as_the_stages_that_it_stands_for() {
    let mut written = 0;
    let lines = ["25 N·m snug, 60°, then check 60 N·m, in the order 2 1 4 3", "? page 9"];
    let small = |line: &str| {
        format!(
            "format = 1\nid = \"x\"\nname = \"X\"\n[[fastener]]\nid = \"bolt\"\nname = \"Bolt\"\nthread = \"M10\"\nstrength = \"10.9\"\nthread_lubricant = \"engine-oil\"\nbearing_lubricant = \"engine-oil\"\n[[drawing]]\nid = \"part\"\nname = \"Part\"\nshape = []\n[[joint]]\nid = \"caps\"\nname = \"Caps\"\ndrawing = \"part\"\nprocedure = \"{line}\"\nangle_tolerance = \"3°\"\n[[joint.group]]\nid = \"all\"\nname = \"all\"\nfastener = \"bolt\"\nrow = [{{ id = \"*\", count = 4, from = [0, 0], to = [30, 0] }}]\n"
        )
    };
    let shaped = EngineShape::default().plan().unwrap();
    let texts = [PLANS[2].to_owned(), shaped, small(lines[0]), small(lines[1])];
    for text in &texts {
        let source = SourceText::of(text);
        let (was, _) = crate::read::plan("was", text);
        for at in (0..).take_while(|at| source.value(&format!("joint[{at}]")).is_some()) {
            let path = format!("joint[{at}]");
            if source.at(&format!("{path}.procedure")).is_none() {
                assert!(edit(text, &[Edit::WriteOut { joint: path }]).is_err(), "it has no line");
                continue;
            }
            let now = edit(text, &[Edit::WriteOut { joint: path.clone() }]).unwrap();
            assert_eq!(SourceText::of(&now).at(&format!("{path}.procedure")), None);
            let (plan, _) = crate::read::plan("now", &now);
            for (old, new) in was.joints.iter().zip(&plan.joints) {
                assert_eq!(new.fasteners, old.fasteners, "in the same order");
                let ways = |joint: &crate::Joint| {
                    let stages = joint.stages.iter().filter(|stage| stage.way.wanted().is_none());
                    stages.map(|stage| (stage.group, stage.walk, stage.way.clone())).collect::<Vec<_>>()
                };
                assert_eq!(ways(new), ways(old));
                assert_eq!(new.stages.len(), old.stages.len());
            }
            written += 1;
        }
    }
    assert!(written > 5, "{written}");
}

#[test]
fn what_a_template_assumed_is_confirmed_by_a_word_or_by_saying_something_else() {
    let text = EngineShape::default().plan().unwrap();
    let assumptions = |text: &str| Plan::draft("plan", text).page.assumptions;
    let all = assumptions(&text);
    let told = |of: &str, key: &str| {
        let is_it = |found: &&crate::page::Assumption| found.of.in_base_units() == of && found.key == key;
        all.iter().find(is_it).map(|found| found.written.in_base_units())
    };
    assert_eq!(told("Main cap bolt", "thread").as_deref(), Some("M11x1.5"));
    assert_eq!(told("Main cap bolt", "thread_lubricant").as_deref(), Some("Engine oil"));
    assert_eq!(told("Pan, bolt", "position").as_deref(), Some("20 places"));
    assert_eq!(told("Cylinder", "material").as_deref(), Some("cast iron"));

    let change = |edits: &[Edit]| edit(&text, edits).unwrap();
    let left = |text: &str, path: &str| {
        let all = assumptions(text).into_iter().filter(|of| of.path == path);
        all.map(|of| of.key).collect::<Vec<_>>()
    };
    let confirm = |path: &str, fields: &[&str]| {
        let fields = fields.iter().map(|key| (*key).to_owned()).collect();
        change(&[Edit::Confirm { path: path.to_owned(), fields }])
    };
    assert_eq!(left(&text, "fastener[0]"), ["thread", "thread_lubricant", "bearing_lubricant"]);
    assert_eq!(
        left(&confirm("fastener[0]", &["thread"]), "fastener[0]"),
        ["thread_lubricant", "bearing_lubricant"]
    );
    assert_eq!(left(&confirm("fastener[0]", &[]), "fastener[0]"), <[&str; 0]>::default());
    let confirmed = confirm("", &[]);
    assert!(assumptions(&confirmed).is_empty() && !confirmed.contains("assumed"));
    // A confirmed plan is the same plan: an engine goes on by it as by one whose specs were looked up.
    assert!(crate::only_looked_up(&text, &confirmed));
    assert!(!crate::only_looked_up(&confirmed, &text));

    // What is changed is no assumption any more; what is said again as it was still is.
    let set = |thread: &str| {
        let path = "fastener[0].thread".to_owned();
        change(&[Edit::Set { path, value: thread.into() }])
    };
    assert_eq!(left(&set("M12x1.5"), "fastener[0]"), ["thread_lubricant", "bearing_lubricant"]);
    assert_eq!(left(&set("M11x1.5"), "fastener[0]").len(), 3);
    let was = fields(&SourceText::of(&text).value("fastener[0]").unwrap());
    let mut now = was.clone();
    now.insert("thread".to_owned(), "M10x1.5".into());
    let put = Edit::Put { path: "fastener[0]".to_owned(), fields: now, was: Some(was) };
    assert_eq!(left(&change(&[put]), "fastener[0]"), ["thread_lubricant", "bearing_lubricant"]);

    // A field that goes is assumed no more, and no error is left behind that no form could mend.
    let removed = change(&[Edit::Remove { path: "fastener[0].thread_lubricant".to_owned() }]);
    assert_eq!(left(&removed, "fastener[0]"), ["thread", "bearing_lubricant"]);
    let faults = Plan::draft("plan", &removed).faults;
    assert!(faults.iter().all(|fault| !fault.path.contains("assumed")), "{faults:?}");

    // Only what is said can be assumed.
    let wrong = text.replacen("assumed = [\"thread\"", "assumed = [\"shape\"", 1);
    let faults = Plan::read("plan", &wrong).unwrap_err();
    assert_eq!(faults[0].path, "fastener[0].assumed");
}

#[test]
fn a_page_of_the_manual_is_put_to_joints_and_goes_from_all_of_them() {
    let text = EngineShape::default().plan().unwrap();
    let page = |file: &str| {
        fields(&json!({ "name": "Workshop manual, mains", "file": file.repeat(64), "page": 12 }))
    };
    let put = |joint: &str, file: &str| Edit::AddManualPage { joint: joint.to_owned(), fields: page(file) };
    let edits = [put("joint[0]", "a"), put("joint[1]", "a"), put("joint[1]", "b")];
    let with = edit(&text, &edits).unwrap();
    let pages = |text: &str| {
        let page = Plan::judge("plan", text).map(|_| Plan::draft("plan", text).page).unwrap();
        let files =
            |at: usize| page.joints[at].manual.iter().map(|of| of.file[..1].to_owned()).collect::<Vec<_>>();
        (files(0), files(1))
    };
    // The same page of the same file is one, however many joints it is put to.
    let all = |files: &[&str]| files.iter().map(|file| (*file).to_owned()).collect::<Vec<_>>();
    assert_eq!(pages(&with), (all(&["a"]), all(&["a", "b"])));
    assert_eq!(edit(&with, &[put("joint[0]", "a")]).unwrap(), with);
    let without = edit(&with, &[Edit::TakeOut { path: "manual[0]".to_owned() }]).unwrap();
    assert_eq!(pages(&without), (all(&[]), all(&["b"])));
    assert!(edit(&text, &[put("joint[99]", "a")]).is_err());
    let bare = fields(&json!({ "name": "Page" }));
    assert!(edit(&text, &[Edit::AddManualPage { joint: "joint[0]".to_owned(), fields: bare }]).is_err());
    assert!(edit(&text, &[put("joint[0].group[0]", "a")]).is_err(), "a group has no pages");
    let wrong = with.replacen(&"a".repeat(64), "manual.pdf", 1);
    let faults = Plan::read("plan", &wrong).unwrap_err();
    assert_eq!(faults[0].path, "manual[0].file");
}

#[test]
fn a_part_that_is_taken_out_leaves_nothing_that_refers_to_it() {
    let tarn = PLANS[0];
    let plan = Plan::read("tarn", tarn).unwrap();
    let sets: BTreeSet<usize> = plan.slots.iter().map(|slot| slot.set).collect();
    for set in sets {
        let edited = edit(tarn, &[Edit::TakeOut { path: format!("slot[{set}]") }]).unwrap();
        let faults = Plan::draft("tarn", &edited).faults;
        let left: Vec<_> = faults.iter().filter(|fault| fault.path.contains("part")).collect();
        assert!(left.is_empty(), "slot {set}: {left:?}");
    }
}

#[test]
fn fasteners_go_to_another_group_and_a_row_is_written_out_for_it() {
    type Places = Vec<(String, [u64; 2])>;
    let text = PLANS[0];
    let plan = Plan::read("tarn", text).unwrap();
    let at = plan.joints.iter().position(|joint| joint.id == "main-caps").unwrap();
    let (joint, page) = (format!("joint[{}]", plan.joints[at].written), Plan::draft("tarn", text).page);
    let row = page.joints.iter().find(|of| of.path == joint).unwrap();
    let regroup = |fasteners: &[&str], group: &str| {
        let fasteners = fasteners.iter().map(|of| (*of).to_owned()).collect();
        edit(text, &[Edit::Regroup { joint: joint.clone(), fasteners, group: group.to_owned() }])
    };
    let [first, second] = [&row.groups[0], &row.groups[1]];
    let (a, b) = (first.fasteners[0].id.as_str(), first.fasteners[1].id.as_str());
    let places = |text: &str| {
        let page = Plan::draft("tarn", text).page;
        let row = page.joints.iter().find(|of| of.path == joint).unwrap();
        let of = |group: &crate::page::GroupPage| {
            let mut all: Vec<_> = group
                .fasteners
                .iter()
                .map(|one| (one.id.clone(), [one.x_mm, one.y_mm].map(f64::to_bits)))
                .collect();
            all.sort();
            (group.id.clone(), all)
        };
        row.groups.iter().map(of).collect::<Vec<_>>()
    };
    let before = places(text);
    // Into a group that is there: all are where they were, in another group.
    let moved = places(&regroup(&[a, b], &second.id).unwrap());
    assert_eq!(moved[0].1.len(), before[0].1.len() - 2);
    assert_eq!(moved[1].1.len(), before[1].1.len() + 2);
    let all = |of: &[(String, Places)]| {
        let all = of.iter().flat_map(|(_, places)| places.clone());
        all.collect::<BTreeSet<_>>()
    };
    assert_eq!(all(&moved), all(&before));
    // Into a new one, which has the same fastener.
    let new = regroup(&[a, b], "End bolts").unwrap();
    let page = Plan::draft("tarn", &new).page;
    let row = page.joints.iter().find(|of| of.path == joint).unwrap();
    let group = row.groups.iter().find(|of| of.id == "end-bolts").unwrap();
    assert_eq!((group.name.as_str(), group.fastener.as_str()), ("End bolts", first.fastener.as_str()));
    assert_eq!(all(&places(&new)), all(&before));
    // What is there already, all of a group, or nothing.
    assert!(regroup(&[a], &first.id).is_err());
    let whole: Vec<&str> = first.fasteners.iter().map(|one| one.id.as_str()).collect();
    assert!(regroup(&whole, "Others").is_err());
    assert!(regroup(&["cheese"], "Others").is_err());
    assert!(regroup(&[a], " ").is_err());
}

#[test]
fn a_stud_is_engaged_by_the_end_that_goes_in_and_turns_on_the_other() {
    let tarn = PLANS[0];
    let plan = Plan::read("tarn", tarn).unwrap();
    let group = plan.joints.iter().flat_map(|joint| &joint.groups).find(|group| group.hole.is_some());
    let group = group.expect("a hole");
    let at = plan.specs.iter().position(|spec| spec.id == plan[group.spec].id).unwrap();
    let stud = json!({ "thread": "M14x2", "lubricant": "threadlocker" });
    let with =
        edit(tarn, &[Edit::Set { path: format!("fastener[{at}].stud"), value: stud.clone() }]).unwrap();
    let new = Plan::read("tarn", &with).unwrap();
    let (was, is) = (&plan.specs[at], &new.specs[at]);
    // Torques are those of the nut's end.
    assert_eq!(is.fastening, was.fastening);
    assert!((is.hole_thread().nominal_mm() - 14.0).abs() < 1e-9 && was.hole_thread() == was.fastening.thread);
    let needed = |spec: &crate::FastenerSpec| group.hole.as_ref().unwrap().engagement(spec).needed_mm();
    assert!((needed(is) - needed(was)).abs() > 0.1, "{} {}", needed(is), needed(was));
    assert!(
        is.lubricants().contains("M14x2") && is.lubricants().contains("threadlocker"),
        "{}",
        is.lubricants()
    );
    let told = crate::differences(&plan, &new);
    assert!(
        told.iter().any(|of| of.now.as_ref().is_some_and(|now| now.in_base_units().contains("M14x2"))),
        "{told:?}"
    );
    let wrong = json!({ "thread": "M", "lubricant": "honey" });
    let wrong = edit(tarn, &[Edit::Set { path: format!("fastener[{at}].stud"), value: wrong }]).unwrap();
    let faults = Plan::read("tarn", &wrong).unwrap_err();
    let places: Vec<String> = faults.into_iter().map(|fault| fault.path).collect();
    for key in ["thread", "lubricant"] {
        assert!(places.contains(&format!("fastener[{at}].stud.{key}")), "{places:?}");
    }
}

#[test]
fn only_a_joint_or_a_part_takes_causes_with_it() {
    // What is called like a part is none: causes that name the part stay.
    let text = "format = 1\nid = \"small\"\nname = \"Small\"\n\n[[size]]\nid = \"rod\"\nname = \"Rod size\"\n\
        choices = [\"a\", \"b\"]\n\n[[slot]]\nid = \"rod\"\nname = \"Rod\"\nsizes = [\"rod\"]\n\n[[site]]\n\
        id = \"bore\"\nname = \"Bore\"\nform = \"bore\"\nagain = [{ part = [\"rod\"] }]\n";
    let without = |path: &str| edit(text, &[Edit::TakeOut { path: path.to_owned() }]).unwrap();
    let size = without("size[0]");
    assert!(size.contains("again") && !size.contains("sizes"), "{size}");
    assert!(!without("slot[0]").contains("again"));
}

//! A plan is corrected in the middle of an engine, and figures are looked up (C-47, C-48).

use super::*;
use crate::work::tighten::tight_joints;
use rigore_plan::edit::{Edit, edit};
use rigore_plan::{Plan, differences, only_looked_up};

const PLAN: &str = r#"
format = 1
id = "press"
name = "Press"

[[fastener]]
id = "bolt"
name = "Cap bolt"
thread = "M10x1.25"
strength = "10.9"
bearing_diameter = "13.5 mm"
thread_lubricant = "engine-oil"
bearing_lubricant = "engine-oil"

[[drawing]]
id = "plate"
name = "Plate"
shape = [{ kind = "rect", from = [0, -40], to = [200, 40] }]

[[joint]]
id = "caps"
name = "Caps"
drawing = "plate"

  [[joint.group]]
  id = "bolts"
  name = "bolt"
  fastener = "bolt"
  pattern = "line"
  position = [{ id = "1", at = [0, 0] }, { id = "2", at = [10, 0] }]

  [[joint.stage]]
  name = "First"
  group = "bolts"
  torque = "20 N·m"
  tolerance = "2 N·m"

  [[joint.stage]]
  name = "Final"
  group = "bolts"
  torque = "45 N·m"
  tolerance = "2 N·m"

[[operation]]
id = "tighten"
name = "Tighten the caps"
kind = "tighten"
joint = "caps"

[[operation]]
id = "sign-off"
name = "Sign off"
kind = "sign"
needs = ["tighten"]
"#;

fn set(path: &str, value: impl Into<serde_json::Value>) -> Edit {
    Edit::Set { path: path.into(), value: value.into() }
}

fn changed(edits: &[Edit]) -> String {
    edit(PLAN, edits).expect("a change")
}

fn named(hash: &str) -> PlanRef {
    PlanRef { hash: hash.into(), id: "press".into(), name: "Press".into() }
}

/// What moving to a text means.
fn moving(shop: &Shop, text: &str) -> PlanMove {
    moving_from(shop, PLAN, text)
}

fn moving_from(shop: &Shop, source: &str, text: &str) -> PlanMove {
    let (old, new) = (Arc::clone(&shop.state.plan), plan(text));
    let looked_up = only_looked_up(source, text);
    PlanMove::of(&shop.state, &shop.events, (&named("h2"), &new, looked_up), |_| Some(Arc::clone(&old)))
}

/// Goes on by a text, as somebody of this role.
fn go_on(shop: &mut Shop, text: &str, role: Role) -> Result<(), Refusal> {
    go_on_from(shop, PLAN, text, role)
}

fn go_on_from(shop: &mut Shop, source: &str, text: &str, role: Role) -> Result<(), Refusal> {
    let old = Arc::clone(&shop.state.plan);
    let moving = moving_from(shop, source, text);
    let at = shop.state.touched;
    let context = CommandContext { moving: Some(moving), ..CommandContext::new(person(role), at) };
    let what =
        CommandAction::MoveTo(PlanMoveCommand { plan: "h2".into(), reason: "off the wrong row".into() });
    let facts = decide(&shop.state, &context, &what)?;
    let seq = shop.state.seq + 1;
    let command = Uuid::from_u128(seq.into());
    shop.events.extend(facts.into_iter().map(|fact| Event {
        v: EVENT_FORMAT,
        seq,
        at,
        by: person(role),
        command,
        request: None,
        fact,
    }));
    let new = plan(text);
    let find = |of: &PlanRef| Some(Arc::clone(if of.hash == "h2" { &new } else { &old }));
    shop.state = BuildState::fold(find, &shop.events).expect("folded");
    Ok(())
}

/// Both bolts to the end by the plan as it was.
fn tightened() -> Shop {
    let mut shop = Shop::begun(PLAN, None, wrench());
    for (stage, text) in [(0, "20 N·m"), (1, "45 N·m")] {
        for bolt in ["1", "2"] {
            shop.give(pull(stage, bolt, text)).expect("pulled");
        }
    }
    shop
}

fn issues(shop: &Shop) -> Vec<String> {
    shop.state.issues().into_iter().map(|issue| issue.text.in_base_units()).collect()
}

#[test]
fn what_was_done_stays_as_it_was_judged_and_a_lead_stands_for_what_would_be_otherwise() {
    let mut shop = tightened();
    shop.give(CommandAction::Sign(SignCommand::one("tighten"))).expect("signed");
    let text = changed(&[set("joint[0].stage[1].torque", "60 N·m")]);
    let preview = moving(&shop, &text).preview(&shop.state);
    assert_eq!((preview.lost.len(), preview.lapses.len(), preview.issues.len()), (0, 0, 1), "{preview:?}");
    assert_eq!(preview.differences.len(), 1);
    assert_eq!(preview.differences[0].what, "Caps, final");
    let [was, now] = preview.differences[0].load_kn.expect("a clamp load");
    assert!((now / was - 60.0 / 45.0).abs() < 1e-9);
    let refused = go_on(&mut shop, &text, Role::Bench).expect_err("for a lead");
    assert_eq!(refused.kind, RefusalKind::NotAllowed);
    go_on(&mut shop, &text, Role::Lead).expect("moved");
    // Nothing is open again, and the signature stands.
    let at = shop.state.plan.operation("tighten").expect("there");
    assert_eq!(shop.state.progress(at), (4, 4));
    assert!(shop.state.operations().signed(at).is_some());
    assert!(
        issues(&shop)[0].contains("58 to 62 N·m is right: 1 45.0 N·m, 2 45.0 N·m"),
        "{:?}",
        issues(&shop)
    );
    let issue = shop.state.issues().remove(0);
    let accept = ApproveCommand { seq: issue.seq, subject: issue.subject, reason: "as it was".into() };
    shop.give(CommandAction::Accept(accept)).expect("accepted");
    assert_eq!(issues(&shop), Vec::<String>::new());
    // What is pulled now is judged by the version that goes now.
    shop.give(CommandAction::Loosen(LoosenCommand {
        operation: "tighten".into(),
        fastener: "1".into(),
        reason: "again".into(),
        ..LoosenCommand::default()
    }))
    .expect("loosened");
    shop.give(pull(0, "1", "20 N·m")).expect("pulled");
    shop.give(pull(1, "1", "57 N·m")).expect("pulled");
    assert_eq!(shop.state.progress(at), (3, 4), "57 N·m is low by it");
    shop.give(pull(1, "1", "60 N·m")).expect("pulled");
    assert_eq!(shop.state.progress(at), (4, 4));
    assert_eq!(shop.state.versions().len(), 2);
}

#[test]
fn a_stage_that_comes_in_moves_entries_to_their_own_and_ends_the_signature_above_it() {
    let mut shop = tightened();
    shop.give(CommandAction::Sign(SignCommand::one("tighten"))).expect("signed");
    let stage = "  [[joint.stage]]\n  name = \"Middle\"\n  group = \"bolts\"\n  torque = \"32 N·m\"\n  tolerance = \"2 N·m\"\n\n  [[joint.stage]]\n  name = \"Final\"";
    let text = PLAN.replace("  [[joint.stage]]\n  name = \"Final\"", stage);
    let preview = moving(&shop, &text).preview(&shop.state);
    assert_eq!((preview.lapses, preview.lost.len()), (vec!["Tighten the caps".to_owned()], 0));
    go_on(&mut shop, &text, Role::Lead).expect("moved");
    let at = shop.state.plan.operation("tighten").expect("there");
    assert_eq!(shop.state.progress(at), (4, 6), "first and final are what they were");
    assert!(shop.state.operations().signed(at).is_none());
    assert_eq!(issues(&shop), Vec::<String>::new());
}

#[test]
fn nothing_recorded_is_lost_by_a_move() {
    let mut shop = tightened();
    let other = changed(&[set("joint[0].group[0].position[1].id", "9")]);
    let refused = go_on(&mut shop, &other, Role::Lead).expect_err("bolt 2 is not there");
    assert_eq!(refused.kind, RefusalKind::NotYet);
    assert!(refused.message.contains("do not exist in it"), "{:?}", refused.message);
    assert_eq!(moving(&shop, PLAN).lost, Vec::<String>::new());
}

#[test]
fn pulls_of_a_stage_that_was_replaced_stay_on_the_sheet_and_their_bolts_are_loosened() {
    let mut shop = tightened();
    let angle = "[[stage]]\nname = \"Angle\"\ngroup = \"bolts\"\nangle = \"30°\"\ntolerance = \"3°\"\n";
    let text = changed(&[
        Edit::Remove { path: "joint[0].stage[1]".into() },
        Edit::Add { within: "joint[0]".into(), text: angle.into() },
    ]);
    go_on(&mut shop, &text, Role::Lead).expect("moved");
    let at = shop.state.plan.operation("tighten").expect("there");
    assert_eq!(shop.state.progress(at), (2, 4), "the first stage stays, the angle is open");
    let told = "1 has 45.0 N·m by Final of an earlier version of the plan, not in this one";
    assert_eq!(issues(&shop)[0], told);
    assert_eq!(issues(&shop).len(), 2);
    // The sheet has them, and says why they do not count; what is left out of the record is nothing.
    let SheetWork::Tighten { joints } = shop.state.section(at) else { panic!("joints") };
    let note = &joints[0].notes[0];
    assert!(note.starts_with("Final, done by an earlier version of the plan: 1 45.0 N·m"), "{note:?}");
    let pulls = shop.state.pulls(at);
    assert_eq!(pulls.iter().filter(|pull| pull.stage_name == "Final" && !pull.counts).count(), 2);
    // Whoever has to get under it is told that it is tight, even where no stage of this version holds it.
    let by_feel =
        "[[stage]]\nname = \"By feel\"\ngroup = \"bolts\"\nyield = \"30 N·m\"\ntolerance = \"3 N·m\"\n";
    let mut only_gone = tightened();
    let both = changed(&[
        set("fastener[0].to_yield", true),
        Edit::Remove { path: "joint[0].stage[1]".into() },
        Edit::Remove { path: "joint[0].stage[0]".into() },
        Edit::Add { within: "joint[0]".into(), text: by_feel.into() },
    ]);
    go_on(&mut only_gone, &both, Role::Lead).expect("moved");
    assert_eq!(only_gone.state.progress(at), (0, 2));
    let tight = |shop: &Shop| -> Vec<String> {
        tight_joints(&shop.state).into_iter().map(|joint| joint.operation).collect()
    };
    assert_eq!(tight(&only_gone), ["tighten"]);
    // Loosened, the bolt is right again, and its stages start over.
    for bolt in ["2", "1"] {
        shop.give(CommandAction::Loosen(LoosenCommand {
            operation: "tighten".into(),
            fastener: bolt.into(),
            reason: "by the new version".into(),
            ..LoosenCommand::default()
        }))
        .expect("loosened");
    }
    assert_eq!(issues(&shop), Vec::<String>::new());
    assert_eq!(shop.state.progress(at), (0, 4));
    // Taken apart as a whole, those that are tight by a stage that is gone come out as well.
    let mut shop = tightened();
    go_on(&mut shop, &text, Role::Lead).expect("moved");
    let apart = LoosenCommand {
        operation: "tighten".into(),
        fastener: "1".into(),
        rest: true,
        reason: "by the new version".into(),
        ..LoosenCommand::default()
    };
    assert_eq!(shop.give(CommandAction::Loosen(apart.clone())).expect("apart").len(), 2);
    assert_eq!(issues(&shop), Vec::<String>::new());
    only_gone.give(CommandAction::Loosen(apart)).expect("apart");
    assert_eq!(tight(&only_gone), Vec::<String>::new());
    // A stage that was only renamed is the same one: its pulls count on.
    let mut shop = tightened();
    go_on(&mut shop, &changed(&[set("joint[0].stage[1].name", "Last")]), Role::Lead).expect("moved");
    assert_eq!((shop.state.progress(at), issues(&shop)), ((4, 4), vec![]));
    // A void of what was replaced takes its issue away, too.
    let mut shop = tightened();
    go_on(&mut shop, &text, Role::Lead).expect("moved");
    let last = shop.state.pulls(at).into_iter().find(|pull| pull.stage_name == "Final").expect("a pull");
    shop.give(CommandAction::Void(VoidCommand { seq: last.seq, reason: "never pulled".into() }))
        .expect("voided");
    assert_eq!(issues(&shop).len(), 1);
}

#[test]
fn a_figure_that_nobody_looked_up_holds_what_needs_it_and_anybody_may_fill_it_in() {
    let open = changed(&[set("joint[0].stage[1].torque", "? page 12")]);
    let mut shop = Shop::begun(&open, None, wrench());
    let at = shop.state.plan.operation("tighten").expect("there");
    assert_eq!(shop.state.view().operations[at.0].waits_for, ["missing spec: Caps, final: torque"]);
    // The row of the shop names it, and counts it no second time.
    let row = shop.state.summary();
    assert_eq!(
        (row.now.in_base_units().as_str(), row.wanted, row.wanted_besides),
        ("Missing spec: Caps, final: torque", 1, 0)
    );
    assert!(shop.state.view().wanted[0].needed_now);
    let start = CommandAction::Start(OperationStart { operation: "tighten".into() });
    assert_eq!(shop.give(start.clone()).expect_err("held").kind, RefusalKind::NotYet);
    // What is done all the same is kept; what has no figure cannot be done.
    shop.give(pull(0, "1", "20 N·m")).expect("a fact");
    assert!(shop.give(pull(1, "1", "45 N·m")).is_err());
    let act = ActionCommand { operation: "tighten".into(), stage: 1, ..ActionCommand::default() };
    assert_eq!(shop.give(CommandAction::Act(act)).expect_err("no figure").kind, RefusalKind::NotYet);
    go_on_from(&mut shop, &open, PLAN, Role::Bench).expect("looking up is for anybody");
    assert_eq!(shop.state.view().versions[1].reason, "off the wrong row");
    assert!(shop.state.view().operations[at.0].waits_for.is_empty());
    assert_eq!(shop.state.progress(at), (1, 4));
    shop.give(start).expect("started");
}

#[test]
fn differences_are_told_by_meaning() {
    let told = |edits: &[Edit]| -> Vec<String> {
        let (old, new) = (plan(PLAN), Plan::read("new", &changed(edits)).expect("a plan"));
        let words = |of: rigore_plan::Difference| {
            let [was, now] = [of.was, of.now].map(|figure| figure.unwrap_or_default().in_base_units());
            format!("{}: {was} -> {now}", of.what)
        };
        differences(&old, &new).into_iter().map(words).collect()
    };
    assert_eq!(told(&[]), Vec::<String>::new());
    assert_eq!(told(&[set("joint[0].source", "the card"), set("about", "x")]), ["Description:  -> x"]);
    assert_eq!(told(&[set("fastener[0].strength", "12.9")]), ["Cap bolt, yield: 940 MPa -> 1100 MPa"]);
    assert_eq!(
        told(&[set("joint[0].group[0].position[1].at", serde_json::json!([12, 0]))]),
        ["Caps, bolt, place of 2: where it was -> somewhere else"]
    );
    assert_eq!(told(&[set("operation[1].name", "The end")]), ["Name of an operation: Sign off -> The end"]);
    let more = Edit::Add {
        within: "joint[0]".into(),
        text: "[[stage]]\nname = \"Angle\"\ngroup = \"bolts\"\nangle = \"30°\"\ntolerance = \"3°\"\n".into(),
    };
    assert_eq!(told(&[more]), ["Caps, angle:  -> is new"]);
}

#[test]
fn versions_fold_the_same_however_often_they_are_gone_through() {
    let mut shop = tightened();
    let text = changed(&[set("joint[0].stage[1].torque", "60 N·m")]);
    go_on(&mut shop, &text, Role::Lead).expect("moved");
    let (old, new) = (plan(PLAN), plan(&text));
    let find = |of: &PlanRef| Some(Arc::clone(if of.hash == "h2" { &new } else { &old }));
    let again = BuildState::fold(find, &shop.events).expect("folded");
    assert_eq!(again.view(), shop.state.view());
    assert_eq!(again.summary(), shop.state.summary());
    assert!(
        matches!(BuildState::fold(|of: &PlanRef| (of.hash != "h2").then(|| Arc::clone(&old)), &shop.events), Err(FoldError::NoPlan(hash)) if hash == "h2")
    );
}

#[test]
fn an_entry_stays_with_the_joint_that_its_operation_had_then() {
    let mut shop = tightened();
    // Another joint with the same names comes in place of the one that was pulled.
    let (from, to) =
        (PLAN.find("[[joint]]").expect("a joint"), PLAN.find("[[operation]]").expect("an operation"));
    let other = PLAN[from..to].replace("id = \"caps\"", "id = \"pan\"");
    let text = PLAN.replace("joint = \"caps\"", "joint = \"pan\"").replacen(
        "[[operation]]",
        &format!("{other}[[operation]]"),
        1,
    );
    let moving = moving(&shop, &text);
    assert_eq!(moving.lost.len(), 4, "{:?}", moving.lost);
    assert_eq!(go_on(&mut shop, &text, Role::Lead).expect_err("lost").kind, RefusalKind::NotYet);
}

#[test]
fn only_the_window_of_its_own_use_holds_an_engine() {
    let site = "[[site]]\nid = \"gap\"\nname = \"Gap\"\nform = \"gap\"\nplausible = [\"0.1 mm\", \"1 mm\"]\n[[clearance]]\nid = \"play\"\nname = \"Play\"\nplus = \"gap\"\nwindow = { street = [\"0.1 mm\", \"0.2 mm\", \"0.3 mm\"], endurance = \"?\" }\n[[operation]]\nid = \"measure\"\nname = \"Measure\"\nkind = \"measure\"\nsites = [\"gap\"]\n";
    let text = PLAN.replacen("[[operation]]", &format!("{site}[[operation]]"), 1);
    let waits = |use_for: Option<&str>| {
        let mut state = Shop::begun(&text, None, wrench()).state;
        state.begun.use_for = use_for.map(str::to_owned);
        let at = state.plan.operation("measure").expect("there");
        let (view, row) = (state.view(), state.summary());
        // What is named now is other work: every figure is one besides it.
        assert_eq!(row.wanted, row.wanted_besides);
        (view.operations[at.0].waits_for.clone(), row.wanted, view.wanted[0].needed_now)
    };
    assert_eq!(waits(None), (vec![], 0, false));
    assert_eq!(waits(Some("street")), (vec![], 0, false));
    assert_eq!(waits(Some("endurance")), (vec!["missing spec: Play, endurance: window".into()], 1, true));
    // And no other window stands in for it.
    let plan = plan(&text);
    assert!(plan.clearances[0].window_for(Some("endurance")).is_none());
    assert!(plan.clearances[0].window_for(None).is_some());
}

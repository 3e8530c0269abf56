//! What a family of joints, a cure and single use mean for one engine, on plans that have just that.

use super::*;

const HEAD: &str = r#"
format = 1
id = "press"
name = "Press"

[[fastener]]
id = "bolt"
name = "Rod bolt"
thread = "M10x1.25"
strength = "10.9"
bearing_diameter = "13.5 mm"
thread_lubricant = "engine-oil"
bearing_lubricant = "engine-oil"

[[drawing]]
id = "plate"
name = "Plate"
shape = [{ kind = "rect", from = [0, -40], to = [200, 40] }]
"#;

fn two_bolts(head: &str, stages: &str) -> String {
    format!(
        "[[joint]]\n{head}\ndrawing = \"plate\"\n[[joint.group]]\nid = \"bolts\"\nname = \"bolt\"\nfastener = \"bolt\"\n\
         pattern = \"line\"\nposition = [{{ id = \"A\", at = [0, 0] }}, {{ id = \"B\", at = [40, 0] }}]\n{stages}"
    )
}

const TORQUE: &str =
    "[[joint.stage]]\nname = \"Final\"\ngroup = \"bolts\"\ntorque = \"40 N·m\"\ntolerance = \"2 N·m\"\n";
const SIGN: &str = "[[operation]]\nid = \"sign\"\nname = \"Sign off\"\nkind = \"sign\"\n";

fn given(
    operation: &str,
    joint: &str,
    (stage, fastener): (usize, &str),
    reading: GivenReading,
) -> CommandAction {
    let CommandAction::Pull(of) = pull(stage, fastener, "40") else { unreachable!("a pull") };
    CommandAction::Pull(PullCommand { operation: operation.into(), joint: Some(joint.into()), reading, ..of })
}

fn text(text: &str) -> GivenReading {
    GivenReading { text: Some(text.into()), ..GivenReading::default() }
}

#[test]
fn one_of_sixteen_rod_bolts_in_eight_joints_is_odd_beside_all_the_others() {
    let angle = "[[joint.stage]]\nname = \"Angle\"\ngroup = \"bolts\"\nangle = \"60°\"\ntolerance = \"4°\"\n";
    let rods = two_bolts(
        "id = \"rod\"\nname = \"Rod #\"\ncount = 8\noffset = [0, 0]",
        &format!("{}{angle}", TORQUE.replace("Final", "Snug")),
    );
    let joints: Vec<String> = (1..=8).map(|rod| format!("\"rod-{rod}\"")).collect();
    let operation = format!(
        "[[operation]]\nid = \"rods\"\nname = \"Tighten the rods\"\nkind = \"tighten\"\njoints = [{}]\n",
        joints.join(", ")
    );
    let mut shop = Shop::begun(&format!("{HEAD}{rods}{operation}{SIGN}"), None, super::ways::tool());
    let bolts = || (1..=8).flat_map(|rod| ["A", "B"].map(|bolt| (format!("rod-{rod}"), bolt)));
    for (rod, bolt) in bolts() {
        shop.give(given("rods", &rod, (0, bolt), text("40"))).unwrap();
    }
    for (rod, bolt) in bolts() {
        let there = if (rod.as_str(), bolt) == ("rod-5", "B") { "61" } else { "84" };
        let reading = GivenReading { torque_text: Some(there.into()), ..text("60") };
        shop.give(given("rods", &rod, (1, bolt), reading)).unwrap();
    }
    let odd: Vec<_> =
        shop.state.pulls(shop.at("rods")).into_iter().filter(|of| !of.remarks.is_empty()).collect();
    assert_eq!(odd.len(), 1, "{odd:?}");
    assert_eq!((odd[0].joint.as_str(), odd[0].fastener.as_str()), ("rod-5", "B"));
    assert!(odd[0].remarks[0].starts_with("61.0 N·m at its angle where its siblings have 84.0 N·m"));
}

#[test]
fn a_cure_holds_the_last_signature_even_where_nothing_else_waits_for_it() {
    let seal = "[[joint.stage]]\nname = \"Bead\"\nseal = \"Lay an even bead\"\nwithin = \"10 min\"\ncure = \"120 min\"\n";
    let pan = two_bolts("id = \"pan\"\nname = \"Pan\"", &format!("{seal}{TORQUE}"));
    let operation =
        "[[operation]]\nid = \"pan\"\nname = \"Fit the pan\"\nkind = \"tighten\"\njoint = \"pan\"\n";
    let mut shop = Shop::begun(
        &format!("{HEAD}{pan}{operation}{}", SIGN.replacen("\"sign\"\n", "\"sign\"\nneeds = [\"pan\"]\n", 1)),
        None,
        super::ways::tool(),
    );
    shop.finish("pan");
    shop.sign("pan").unwrap();
    let refused = shop.sign("sign").unwrap_err();
    assert_eq!(refused.kind, RefusalKind::NotYet);
    assert!(
        refused.message.contains("waits for the sealant of Fit the pan to cure"),
        "{:?}",
        refused.message
    );
    let cured = OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(125);
    decide(
        &shop.state,
        &CommandContext::new(person(Role::Lead), cured),
        &CommandAction::Sign(SignCommand::one("sign")),
    )
    .unwrap();
}

#[test]
fn bolts_for_one_use_that_were_on_the_trial_are_asked_to_be_replaced_for_good() {
    let joint = two_bolts("id = \"caps\"\nname = \"Caps\"", TORQUE);
    let head = HEAD.replace("strength = ", "single_use = true\nstrength = ");
    let tighten = |id: &str, more: &str| {
        format!("[[operation]]\nid = \"{id}\"\nname = \"{id}\"\nkind = \"tighten\"\njoint = \"caps\"\n{more}")
    };
    let apart = "[[operation]]\nid = \"apart\"\nname = \"apart\"\nkind = \"loosen\"\njoint = \"caps\"\npurpose = \"trial\"\nneeds = [\"trial\"]\n";
    let plan = |with: &str| {
        let trial = tighten("trial", &format!("purpose = \"trial\"\n{with}"));
        format!("{head}{joint}{trial}{apart}{}{SIGN}", tighten("final", "needs = [\"apart\"]\n"))
    };
    let open = |with: &str| {
        let mut shop = Shop::begun(&plan(with), None, super::ways::tool());
        for operation in ["trial", "apart"] {
            shop.finish(operation);
            shop.sign(operation).unwrap();
        }
        shop.whats()
    };
    assert_eq!(
        open(""),
        ["A is for one use, and was used on the trial", "B is for one use, and was used on the trial"]
    );
    // A trial with others spends none of them.
    assert_eq!(open("fasteners = \"the old bolts\"\n"), Vec::<String>::new());
}

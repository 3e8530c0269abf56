//! What fasteners really turn on, and what that does to a torque (C-26 to C-28).

use super::ways::{WAYS, tool};
use super::*;
use rigore_mechanics::friction::{MeasuredFriction, NutFactorSpread};
use rigore_mechanics::tightening::Verdict;
use rigore_plan::Correction;

impl Shop {
    fn policy(policy: LubricantPolicy) -> Self {
        let mut shop = Self::begun(WAYS, None, tool());
        for operation in ["trial", "apart"] {
            shop.finish(operation);
            shop.sign(operation).unwrap();
        }
        let reason = "as this shop does".to_owned();
        shop.give(CommandAction::SetPolicy(LubricantPolicyCommand { lubricants: policy, reason })).unwrap();
        shop
    }

    fn lubricate(&mut self, of: LubricantCommand) -> Result<Vec<Fact>, Refusal> {
        self.give(CommandAction::Lubricate(of))
    }

    fn film(&self, operation: &str) -> LubricantView {
        match self.bench(operation).work {
            BenchWork::Tighten(bench) => bench.film.expect("something turns"),
            other => panic!("a joint, not {other:?}"),
        }
    }

    fn target(&self, operation: &str) -> rigore_plan::StageTarget {
        match self.state.step(self.at(operation)) {
            BenchStep::Pull(step) => step.target,
            other => panic!("a pull, not {other:?}"),
        }
    }
}

fn caps(lubricant: &str, reason: &str) -> LubricantCommand {
    LubricantCommand {
        operation: "caps".into(),
        group: "inner".into(),
        thread: lubricant.into(),
        bearing: lubricant.into(),
        reason: reason.into(),
        ..LubricantCommand::default()
    }
}

/// What a torque for engine oil is multiplied by on low-friction paste.
fn paste(shop: &Shop) -> f64 {
    let plan = &shop.state.plan;
    let spec = plan.specs.iter().find(|spec| spec.id == "bolt").expect("the bolt");
    let find = |id: &str| plan.lubricants.iter().find(|known| known.id == id).expect("it").range();
    spec.fastening.on(find("assembly-paste"), true).converted
}

#[test]
fn a_torque_is_converted_at_equal_preload_with_its_reason_and_judged_by_it() {
    let mut shop = Shop::policy(LubricantPolicy::Convert);
    shop.answer("caps", "").unwrap();
    let before = shop.target("caps");
    let asked = shop.lubricate(caps("assembly-paste", "")).unwrap_err();
    assert_eq!(asked.field, Some("reason"));
    shop.lubricate(caps("assembly-paste", "the oil is used up")).unwrap();
    let (after, factor) = (shop.target("caps"), paste(&shop));
    assert!(factor > 0.6 && factor < 0.75, "{factor}");
    assert!((after.shown - before.shown * factor).abs() < 1e-9);
    let Correction::Lubricant { from, used, least, most, to, .. } = &after.because[1] else {
        panic!("{:?}", after.because)
    };
    assert_eq!((from.as_str(), used.as_str()), ("Engine oil", "Low-friction assembly paste"));
    assert!(*least < 0.9 && *most > 1.1 && (to - after.shown).abs() < 1e-12);
    let film = shop.film("caps");
    assert_eq!((film.used.as_str(), film.warning), ("Low-friction assembly paste", None));
    // What the plan says would be too much by far.
    shop.answer("caps", &after.shown.to_string()).unwrap();
    let pull = shop.pulls_of("caps").pop().unwrap();
    assert_eq!(pull.verdict, Verdict::Good);
    assert!((pull.value - after.shown).abs() < 1e-9);
    assert!(
        pull.remarks.iter().any(|remark| remark == "as 30.0 N·m with the specified lubricant"),
        "{pull:?}"
    );
    let CommandAction::Pull(mut over) = shop.command("caps", &before.shown.to_string()) else {
        panic!("a pull")
    };
    over.sure = true;
    shop.give(CommandAction::Pull(over)).unwrap();
    assert_eq!(shop.pulls_of("caps").pop().unwrap().verdict, Verdict::Over);
    let said = shop.film("caps").said.unwrap();
    let SheetWork::Tighten { joints } = shop.state.section(shop.at("caps")) else { panic!("joints") };
    assert!(joints[0].lubricants[0].contains("the oil is used up"), "{:?}", joints[0].lubricants);
    assert!((joints[0].stages[0].target.shown - before.shown * factor).abs() < 1e-9);
    // It was oil after all: the low one is judged as what it was.
    shop.void(said.seq, "it was the oil").unwrap();
    let pulls = shop.pulls_of("caps");
    assert_eq!(pulls.iter().map(|pull| pull.verdict).collect::<Vec<_>>(), [Verdict::Low, Verdict::Good]);
    assert_eq!(shop.film("caps").used, "Engine oil");
}

#[test]
fn a_shop_that_converts_nothing_asks_a_lead_to_stand_for_another_lubricant() {
    assert_eq!(Shop::ways().state.policy, LubricantPolicy::AsSpecified);
    let mut shop = Shop::policy(LubricantPolicy::AsSpecified);
    shop.finish("caps");
    shop.sign("caps").unwrap();
    let oil = shop.state.section(shop.at("caps"));
    shop.lubricate(LubricantCommand { pulled_too: true, ..caps("moly-paste", "the wrong tin") }).unwrap();
    // What was pulled turned on it, and the signature did not know that.
    assert!(!shop.signed("caps"));
    assert_eq!(shop.whats(), ["inner: Moly paste is used; torques are for Engine oil"]);
    let [SheetWork::Tighten { joints: oil }, SheetWork::Tighten { joints: paste }] =
        [oil, shop.state.section(shop.at("caps"))]
    else {
        panic!("joints")
    };
    let load = |joints: &[JointSection]| joints[0].stages.last().unwrap().forecast.unwrap().typical_kn;
    assert!(load(&paste) > 1.15 * load(&oil), "the same torque clamps more");
    assert!(shop.sign("caps").is_err());
    shop.accept("looked at, it holds less than it could");
    shop.sign("caps").unwrap();
}

#[test]
fn dry_and_wet_are_never_taken_for_each_other() {
    let mut shop = Shop::policy(LubricantPolicy::Convert);
    shop.lubricate(caps("degreased", "washed and forgotten")).unwrap();
    let warning = shop.film("caps").warning.unwrap();
    assert_eq!(warning, "Engine oil is to go on the thread, and it is dry");
    assert_eq!(shop.whats(), [format!("inner: {warning}")]);
    shop.lubricate(caps("threadlocker", "to be sure")).unwrap();
    assert_eq!(
        shop.film("caps").warning.unwrap(),
        "Engine oil is to go on the thread, and Liquid threadlocker sets"
    );
    shop.lubricate(caps("engine-oil", "")).unwrap();
    assert!(shop.whats().is_empty() && shop.film("caps").warning.is_none());
}

#[test]
fn what_cannot_be_used_is_refused_by_its_field_and_who_decides_is_a_lead() {
    let mut shop = Shop::ways();
    for (wrong, field) in [
        (LubricantCommand { thread: "honey".into(), ..caps("engine-oil", "") }, "thread"),
        (LubricantCommand { bearing: String::new(), ..caps("engine-oil", "") }, "bearing"),
        (LubricantCommand { group: "outer".into(), ..caps("engine-oil", "") }, "group"),
        (LubricantCommand { operation: "sign".into(), ..caps("engine-oil", "") }, "operation"),
        (LubricantCommand { joint: Some("hub".into()), ..caps("engine-oil", "") }, "joint"),
        (LubricantCommand { measured: true, ..caps("engine-oil", "") }, "measured"),
        (caps("moly-paste", "x"), "reason"),
    ] {
        assert_eq!(shop.lubricate(wrong.clone()).unwrap_err().field, Some(field), "{wrong:?}");
    }
    shop.role = Role::Bench;
    let policy = LubricantPolicyCommand { lubricants: LubricantPolicy::Convert, reason: "quicker".into() };
    assert_eq!(shop.give(CommandAction::SetPolicy(policy)).unwrap_err().kind, RefusalKind::NotAllowed);
}

#[test]
fn an_angle_keeps_its_figure_and_shows_what_the_friction_of_its_snug_does() {
    let mut shop = Shop::policy(LubricantPolicy::Convert);
    let of = LubricantCommand {
        operation: "heads-snug".into(),
        joint: Some("left".into()),
        group: "bolts".into(),
        thread: "assembly-paste".into(),
        bearing: "assembly-paste".into(),
        reason: "the oil is used up".into(),
        ..LubricantCommand::default()
    };
    let stages = |shop: &Shop, operation: &str| {
        let SheetWork::Tighten { joints } = shop.state.section(shop.at(operation)) else { panic!("joints") };
        joints.into_iter().find(|joint| joint.name == "Left head").unwrap().stages
    };
    let before = stages(&shop, "heads-turn");
    shop.lubricate(of).unwrap();
    let after = stages(&shop, "heads-turn");
    let (torque, angle) = (0, before.len() - 1);
    assert!(after[torque].target.shown < 0.8 * before[torque].target.shown);
    assert_eq!(after[angle].target, before[angle].target);
    let [before, after] = [before, after].map(|stages| stages[torque].forecast.unwrap());
    assert!((before.typical_kn - after.typical_kn).abs() < 1e-9, "at equal preload");
    assert!(after.high_kn - after.low_kn > before.high_kn - before.low_kn, "that paste scatters more");
}

#[test]
fn what_the_shop_has_measured_can_stand_in_place_of_the_table() {
    let mut shop = Shop::policy(LubricantPolicy::Convert);
    let title = shop.state.plan.specs.iter().find(|spec| spec.id == "bolt").unwrap().title();
    let measured = |count| MeasuredFriction {
        fastener: title.clone(),
        thread: "engine-oil".into(),
        bearing: "engine-oil".into(),
        all: NutFactorSpread { count, median: 0.22, spread: 0.004 },
    };
    let own = LubricantCommand { measured: true, ..caps("engine-oil", "") };
    shop.measured = vec![measured(5)];
    assert_eq!(shop.lubricate(own.clone()).unwrap_err().field, Some("measured"), "too few bolts");
    shop.measured = vec![measured(40)];
    shop.answer("caps", "").unwrap();
    let before = shop.target("caps").shown;
    shop.lubricate(own).unwrap();
    let target = shop.target("caps");
    // The same oil, so nobody has to stand for it; more friction than the table, so more torque.
    assert!(shop.whats().is_empty());
    assert!(target.shown > 1.1 * before, "{} {}", target.shown, before);
    let Correction::Lubricant { source, least, .. } = &target.because[1] else { panic!("{target:?}") };
    assert!(source.contains("on 40 bolts") && *least > 0.95, "{source} {least}");
    assert!(shop.film("caps").source.contains("on 40 bolts"));
}

#[test]
fn bolts_that_were_stretched_show_their_friction_by_lubricant() {
    let mut shop = Shop::ways();
    for (torque, stretch) in [("23", "0.107"), ("32.2", "0.150")] {
        shop.answer("stretch", torque).unwrap();
        shop.answer("stretch", stretch).unwrap();
    }
    let shown = |shop: &Shop| {
        let places = shop.state.shown().into_iter().filter(|place| place.joint == "stretch");
        places.flat_map(|place| place.bolts).collect::<Vec<_>>()
    };
    let [bolt] = &shown(&shop)[..] else { panic!("one bolt") };
    assert_eq!((bolt.thread.as_str(), bolt.pulls, bolt.bolt), ("assembly-paste", 2, 0));
    assert!((bolt.k - 0.1153).abs() < 0.0005, "{}", bolt.k);
    // A new one in its place starts a record of its own; the old one stays.
    let loosen = LoosenCommand {
        operation: "stretch".into(),
        fastener: "A".into(),
        replaced: true,
        ..LoosenCommand::default()
    };
    shop.give(CommandAction::Loosen(LoosenCommand { reason: "nicked".into(), ..loosen })).unwrap();
    shop.answer("stretch", "23").unwrap();
    shop.answer("stretch", "0.100").unwrap();
    let bolts = shown(&shop);
    assert_eq!(bolts.iter().map(|bolt| (bolt.bolt, bolt.pulls)).collect::<Vec<_>>(), [(0, 2), (1, 1)]);
    // A reading that does not count shows nothing.
    let last = shop.pulls_of("stretch").pop().unwrap().seq;
    shop.void(last, "the gauge slipped").unwrap();
    assert_eq!(shown(&shop).len(), 1);
}

#[test]
fn what_is_said_for_the_next_bolt_is_not_what_the_last_one_was_read_on() {
    let mut shop = Shop::ways();
    for text in ["23", "0.107", "32.2", "0.150"] {
        shop.answer("stretch", text).unwrap();
    }
    let on = |shop: &Shop| {
        let place =
            shop.state.shown().into_iter().find(|place| !place.bolts.is_empty()).expect("one has shown it");
        place.bolts[0].thread.clone()
    };
    let oil = LubricantCommand {
        operation: "stretch".into(),
        group: "bolts".into(),
        thread: "engine-oil".into(),
        bearing: "engine-oil".into(),
        reason: "the paste is used up".into(),
        ..LubricantCommand::default()
    };
    let before = shop.target("stretch").shown;
    shop.lubricate(oil.clone()).unwrap();
    assert_eq!(on(&shop), "assembly-paste");
    // The next one begins where the least friction of the oil brings it into the window.
    assert!(shop.target("stretch").shown > 1.2 * before, "{before}");
    shop.lubricate(LubricantCommand { pulled_too: true, ..oil }).unwrap();
    assert_eq!(on(&shop), "engine-oil");
}

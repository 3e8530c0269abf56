//! Every way of tightening, through a joint of its own.

use super::*;
use proptest::prelude::*;
use rigore_mechanics::tightening::Verdict;
use rigore_plan::Correction;
use std::collections::BTreeMap;

pub(super) const WAYS: &str = include_str!("../../../plan/tests/ways-plan.toml");

pub(super) fn tool() -> Instrument {
    let (torque_nm, length_mm) = (Some([5.0, 200.0]), Some([0.0, 100.0]));
    Instrument { reach_mm: Some(400.0), torque_nm, length_mm, resolution: 0.001, ..wrench() }
}

/// What a torque at a fastener is on the wrench.
fn factor(joint: &str, fastener: &str) -> f64 {
    if joint == "caps" && fastener == "3" { 400.0 / 450.0 } else { 1.0 }
}

impl Shop {
    pub(super) fn ways() -> Self {
        Self::begun(WAYS, None, tool())
    }

    /// What is next in an operation, as the stage's name and the fastener.
    pub(super) fn asked(&self, operation: &str) -> (String, String) {
        match self.state.step(self.at(operation)) {
            BenchStep::Pull(step) => (self.stage_name(&step.joint, step.stage), step.fastener),
            BenchStep::Act(step) => (step.name, String::new()),
            BenchStep::Loosen(step) => ("Loosen".into(), step.fastener),
            other => (format!("{other:?}"), String::new()),
        }
    }

    fn stage_name(&self, joint: &str, stage: usize) -> String {
        let plan = &self.state.plan;
        plan[plan.joint(joint).expect("a joint")].stages[stage].name.clone()
    }

    /// Gives what is next a figure, or the plain answer where none is typed.
    pub(super) fn answer(&mut self, operation: &str, text: &str) -> Result<Vec<Fact>, Refusal> {
        let what = self.command(operation, text);
        self.give(what)
    }

    pub(super) fn command(&self, operation: &str, text: &str) -> CommandAction {
        let id = operation.to_owned();
        match self.state.step(self.at(operation)) {
            BenchStep::Act(step) => CommandAction::Act(ActionCommand {
                operation: id,
                joint: Some(step.joint),
                stage: step.stage,
                ..ActionCommand::default()
            }),
            BenchStep::Loosen(step) => CommandAction::Loosen(LoosenCommand {
                operation: id,
                joint: Some(step.joint),
                fastener: step.fastener,
                ..LoosenCommand::default()
            }),
            BenchStep::Pull(step) => {
                let plain = step.asks.plain.first().filter(|_| text.is_empty());
                CommandAction::Pull(PullCommand {
                    operation: id,
                    joint: Some(step.joint),
                    stage: step.stage,
                    fastener: step.fastener,
                    reading: GivenReading {
                        text: Some(plain.map_or_else(|| text.to_owned(), |plain| plain.figure.to_string())),
                        ..GivenReading::default()
                    },
                    method: if plain.is_some() { ReadingMethod::Seen } else { ReadingMethod::Typed },
                    instrument: "w".into(),
                    sure: false,
                    note: None,
                })
            }
            other => panic!("nothing to give: {other:?}"),
        }
    }

    /// Sends something again as it was, and means it.
    pub(super) fn mean(&mut self, what: CommandAction) {
        let CommandAction::Pull(pull) = what else { panic!("a pull") };
        self.give(CommandAction::Pull(PullCommand { sure: true, ..pull })).unwrap();
    }

    /// Gives everything that is asked, at its target.
    pub(super) fn finish(&mut self, operation: &str) {
        while !matches!(self.state.step(self.at(operation)), BenchStep::Sign) {
            let text = match self.state.step(self.at(operation)) {
                BenchStep::Pull(step) if step.asks.plain.is_empty() => {
                    let factor = factor(&step.joint, &step.fastener);
                    (step.target.shown * factor).to_string()
                }
                _ => String::new(),
            };
            self.answer(operation, &text).unwrap();
        }
    }

    pub(super) fn pulls_of(&self, operation: &str) -> Vec<PullView> {
        self.state.pulls(self.at(operation))
    }

    pub(super) fn whats(&self) -> Vec<String> {
        self.state.issues().into_iter().map(|issue| issue.text.in_base_units()).collect()
    }
}

#[test]
fn a_trial_round_is_loosened_in_reverse_and_leaves_the_final_one_all_to_do() {
    let mut shop = Shop::ways();
    shop.finish("trial");
    shop.sign("trial").unwrap();
    assert_eq!(shop.asked("apart"), ("Loosen".into(), "3".into()));
    // Centre out is 2, 1, 3: apart it goes 3, 1, 2. One that comes too early is kept and marked.
    let early = CommandAction::Loosen(LoosenCommand {
        operation: "apart".into(),
        fastener: "2".into(),
        ..LoosenCommand::default()
    });
    shop.give(early.clone()).unwrap();
    assert_eq!(shop.whats(), ["2: out of sequence: 3 was next"]);
    shop.void(shop.state.seq, "tapped by mistake").unwrap();
    assert!(shop.whats().is_empty());
    for fastener in ["3", "1"] {
        assert_eq!(shop.asked("apart").1, fastener);
        shop.answer("apart", "").unwrap();
    }
    assert_eq!(
        shop.give(CommandAction::Loosen(LoosenCommand {
            fastener: "3".into(),
            operation: "apart".into(),
            ..LoosenCommand::default()
        }))
        .unwrap_err()
        .kind,
        RefusalKind::Stale
    );
    shop.answer("apart", "").unwrap();
    shop.sign("apart").unwrap();
    // What was done in the trial stays done, and nothing of it counts for good.
    let signed = |shop: &Shop, id: &str| {
        shop.state.view().operations.iter().any(|o| o.id == id && o.status == OperationStatus::Done)
    };
    assert!(signed(&shop, "trial") && signed(&shop, "apart"));
    assert_eq!(shop.state.progress(shop.at("caps")), (0, 1 + 3 * 4));
    let uses = |shop: &Shop, operation: &str| match shop.bench(operation).work {
        BenchWork::Tighten(bench) => bench.uses,
        _ => None,
    };
    assert_eq!((uses(&shop, "trial"), uses(&shop, "caps"), uses(&shop, "hub")), (Some(1), Some(2), Some(1)));
    // Tightened once more in the trial, the round is not apart any more.
    let again = CommandAction::Pull(PullCommand {
        method: ReadingMethod::Typed,
        ..match pull(1, "2", "30") {
            CommandAction::Pull(p) => PullCommand { operation: "trial".into(), ..p },
            _ => unreachable!(),
        }
    });
    shop.give(again).unwrap();
    assert!(!signed(&shop, "apart") && !signed(&shop, "trial"));
    assert_eq!(shop.asked("apart").1, "2");
}

#[test]
fn a_whole_joint_is_loosened_by_one_word() {
    let mut shop = Shop::ways();
    shop.finish("trial");
    let all = CommandAction::Loosen(LoosenCommand {
        operation: "apart".into(),
        fastener: "3".into(),
        rest: true,
        ..LoosenCommand::default()
    });
    let wrong = CommandAction::Loosen(LoosenCommand {
        operation: "apart".into(),
        fastener: "2".into(),
        rest: true,
        ..LoosenCommand::default()
    });
    assert_eq!(shop.give(wrong).unwrap_err().kind, RefusalKind::Stale);
    shop.sign("trial").unwrap();
    assert_eq!(shop.give(all).unwrap().len(), 4);
    assert_eq!(shop.state.step(shop.at("apart")), BenchStep::Sign);
    assert!(shop.whats().is_empty());
    let SheetWork::Tighten { joints } = shop.state.section(shop.at("apart")) else { panic!("a joint") };
    // In the order it was done, in one line.
    assert_eq!(joints[0].notes, ["3, 1, 2 loosened by Bench one: Take the caps off again"]);
}

#[test]
fn fasteners_are_run_down_by_hand_and_one_that_resists_keeps_the_stage_open() {
    let mut shop = Shop::ways();
    let act = |except: &[&str], instrument: Option<&str>| {
        let except = except.iter().map(|id| (*id).to_owned()).collect();
        let instrument = instrument.map(str::to_owned);
        CommandAction::Act(ActionCommand {
            operation: "trial".into(),
            stage: 0,
            except,
            instrument,
            ..ActionCommand::default()
        })
    };
    assert_eq!(shop.give(act(&["9"], None)).unwrap_err().field, Some("except"));
    shop.give(act(&["3"], None)).unwrap();
    let BenchStep::Act(step) = shop.state.step(shop.at("trial")) else { panic!("still by hand") };
    assert_eq!((step.resisting, step.most_nm), (vec!["3".to_owned()], Some(8.0)));
    shop.instrument = Instrument { driver_nm: Some(12.0), ..tool() };
    shop.give(act(&[], Some("w"))).unwrap();
    assert_eq!(shop.whats(), ["Run down: Wrench 2 reaches 12 N·m, and the limit here is 8 N·m"]);
    let SheetWork::Tighten { joints } = shop.state.section(shop.at("trial")) else { panic!("a joint") };
    assert_eq!(joints[0].actions[0], "Run down: Bench one; did not run down: 3");
    assert_eq!(shop.asked("trial"), ("Final 1 of 2".into(), "2".into()));
    assert_eq!(shop.give(act(&[], None)).unwrap_err().kind, RefusalKind::Stale);
}

#[test]
fn a_crowfoot_is_set_for_and_what_was_read_is_judged_at_the_bolt() {
    let mut shop = Shop::ways();
    shop.answer("trial", "").unwrap();
    for _ in 0..2 {
        shop.answer("trial", "30").unwrap();
    }
    assert_eq!(shop.asked("trial").1, "3");
    let BenchWork::Tighten(bench) = shop.bench("trial").work else { panic!("a joint") };
    let fit = &bench.tools[0].tools[0];
    let target = fit.target.as_ref().expect("a target");
    assert_eq!(bench.tools[0].adapter.as_deref(), Some("crowfoot"));
    assert!((target.shown - 30.0 * 400.0 / 450.0).abs() < 1e-9 && fit.fault.is_none());
    assert!(matches!(
        target.because[..],
        [Correction::Planned { .. }, Correction::Adapter { reach_mm: 400.0, .. }]
    ));
    assert!(bench.tools.iter().any(|ways| ways.adapter.is_none()));
    shop.answer("trial", "26.7").unwrap();
    let pull = shop.pulls_of("trial").pop().expect("a pull");
    assert!((pull.read - 26.7).abs() < 1e-9 && (pull.value - 26.7 * 450.0 / 400.0).abs() < 1e-9);
    assert_eq!(pull.verdict, Verdict::Good);
    assert_eq!(pull.remarks, ["30.04 N·m at the fastener"]);
    // The same torque as if there were no crowfoot is too much.
    for _ in 0..2 {
        shop.answer("trial", "60").unwrap();
    }
    shop.answer("trial", "60").unwrap();
    let pull = shop.pulls_of("trial").pop().expect("a pull");
    assert_eq!((pull.verdict, pull.wrong), (Verdict::Over, true));
}

#[test]
fn a_wrench_of_unknown_length_or_too_short_a_one_does_not_go_with_a_crowfoot() {
    for (reach_mm, text, fault) in [
        (None, "30", "the length of Wrench 2 is not known: Crowfoot 50 cannot be corrected"),
        (Some(250.0), "25", "Wrench 2 is shorter than the 300 mm that Crowfoot 50 needs"),
    ] {
        let mut shop = Shop::ways();
        shop.instrument = Instrument { reach_mm, ..tool() };
        shop.answer("trial", "").unwrap();
        for _ in 0..2 {
            shop.answer("trial", "30").unwrap();
        }
        let BenchWork::Tighten(bench) = shop.bench("trial").work else { panic!("a joint") };
        assert_eq!(bench.tools[0].tools[0].fault.as_ref().unwrap(), fault);
        shop.answer("trial", text).unwrap();
        assert_eq!(shop.whats(), [format!("3: {fault}")]);
    }
}

#[test]
fn a_settle_pass_tells_what_moved_and_a_recheck_asks_again_until_it_holds() {
    let mut shop = Shop::ways();
    for operation in ["trial", "apart"] {
        shop.give(CommandAction::Skip(SkipCommand {
            operation: operation.into(),
            reason: "no trial today".into(),
        }))
        .unwrap();
    }
    shop.answer("caps", "").unwrap();
    for text in ["30", "30", "26.7", "60", "60", "53.3"] {
        shop.answer("caps", text).unwrap();
    }
    assert_eq!(shop.asked("caps"), ("Final, settle".into(), "2".into()));
    shop.answer("caps", "7").unwrap();
    let moved = shop.pulls_of("caps").pop().expect("a pull");
    assert_eq!((moved.says.as_str(), moved.verdict), ("Settled", Verdict::Good));
    assert_eq!(moved.remarks, ["recheck 1 and 3 beside it"]);
    for _ in 0..2 {
        shop.answer("caps", "").unwrap();
    }
    assert_eq!(shop.asked("caps"), ("Recheck".into(), "2".into()));
    // A torque where a movement is asked for is asked about.
    assert_eq!(shop.answer("caps", "60").unwrap_err().kind, RefusalKind::Ask);
    assert_eq!(shop.answer("caps", "60 N·m").unwrap_err().field, Some("reading"));
    shop.answer("caps", "5").unwrap();
    assert_eq!(shop.asked("caps"), ("Recheck".into(), "2".into()));
    assert_eq!(shop.step("caps"), "Pull 1, inner 2, again at 60 N·m: it moved 5°");
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    for _ in 0..3 {
        shop.answer("caps", "").unwrap();
    }
    assert_eq!(shop.pulls_of("caps").pop().expect("a pull").says, "Holds");
    // With a wrench that clicks, what it was set to is kept.
    shop.instrument = Instrument { clicks: true, ..tool() };
    shop.settings.insert("w".into(), 60.0);
    let what = shop.command("heads-snug", "20");
    let CommandAction::Pull(recheck) = what else { panic!("a pull") };
    let reading = GivenReading { text: Some("0".into()), ..GivenReading::default() };
    shop.give(CommandAction::Pull(PullCommand {
        operation: "caps".into(),
        joint: None,
        stage: 4,
        fastener: "1".into(),
        reading,
        method: ReadingMethod::Seen,
        ..recheck
    }))
    .unwrap();
    assert_eq!(shop.pulls_of("caps").pop().expect("a pull").torque_nm, Some(60.0));
    shop.sign("caps").unwrap();
}

#[test]
fn both_heads_go_stage_by_stage_and_one_bolt_has_torque_and_angle_in_one_pull() {
    let mut shop = Shop::ways();
    let mut walked = Vec::new();
    for (operation, texts) in [("heads-snug", vec!["20"; 4]), ("heads-turn", ["30", "90"].repeat(4))] {
        for text in texts {
            let BenchStep::Pull(step) = shop.state.step(shop.at(operation)) else { panic!("a pull") };
            walked.push(format!("{} {} {}", step.joint, step.fastener, step.stage));
            shop.answer(operation, text).unwrap();
        }
        shop.sign(operation).unwrap();
    }
    let expected = [
        "left 1 0",
        "left 2 0",
        "right 1 0",
        "right 2 0",
        "left 1 1",
        "left 1 2",
        "left 2 1",
        "left 2 2",
        "right 1 1",
        "right 1 2",
        "right 2 1",
        "right 2 2",
    ];
    assert_eq!(walked, expected);
    assert!(shop.whats().is_empty());
    // A bolt that is loosened after its turn is scrap, and asks for everything again in both operations.
    let loosen = |replaced| {
        CommandAction::Loosen(LoosenCommand {
            operation: "heads-turn".into(),
            joint: Some("right".into()),
            fastener: "1".into(),
            replaced,
            reason: "thread looked odd".into(),
            ..LoosenCommand::default()
        })
    };
    shop.give(loosen(false)).unwrap();
    assert_eq!(shop.whats(), ["Right head: 1 was loosened and the old fastener is still in"]);
    shop.give(loosen(true)).unwrap();
    assert_eq!(shop.asked("heads-snug"), ("Snug".into(), "1".into()));
    // Its turn is not due before it is snug again.
    shop.answer("heads-turn", "30").unwrap();
    assert_eq!(shop.whats(), ["Right head: 1: too early: Pull 1, bolt 1, Right head, to 20 N·m comes first"]);
    // Without saying which head, nothing is taken.
    let CommandAction::Pull(whose) = shop.command("heads-turn", "90") else { panic!("a pull") };
    let refused = shop.give(CommandAction::Pull(PullCommand { joint: None, ..whose.clone() })).unwrap_err();
    assert_eq!(refused.field, Some("joint"));
    assert_eq!(
        shop.give(CommandAction::Pull(PullCommand { joint: Some("rod".into()), ..whose })).unwrap_err().field,
        Some("joint")
    );
}

#[test]
fn what_was_left_out_does_not_come_first() {
    let mut shop = Shop::ways();
    let skip = |operation: &str| {
        CommandAction::Skip(SkipCommand {
            operation: operation.into(),
            reason: "snugged by the machine shop".into(),
        })
    };
    shop.give(skip("heads-snug")).unwrap();
    for text in ["30", "90"] {
        shop.answer("heads-turn", text).unwrap();
    }
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    // Taken up after all, it comes first again.
    shop.answer("heads-snug", "20").unwrap();
    shop.answer("heads-turn", "30").unwrap();
    assert_eq!(shop.whats().len(), 1, "{:?}", shop.whats());
    // Two heads have bolts of the same name, and each says in the table which one it is of.
    let csv = crate::sheet::BuildSheet::csv(&shop.state).unwrap();
    assert!(
        csv.lines()
            .next()
            .is_some_and(|head| head.ends_with("joint,at_fastener,torque_there_nm,counts,lapsed,deviates"))
    );
    assert_eq!(csv.lines().filter(|line| line.contains(",left,30,,")).count(), 2, "{csv}");
}

#[test]
fn signatures_over_stages_in_several_operations_lapse_only_where_they_rest() {
    let mut shop = Shop::ways();
    for operation in ["heads-snug", "heads-turn"] {
        shop.finish(operation);
        shop.sign(operation).unwrap();
    }
    let done = |shop: &Shop, id: &str| {
        shop.state.view().operations.iter().any(|o| o.id == id && o.status == OperationStatus::Done)
    };
    assert!(done(&shop, "heads-snug") && done(&shop, "heads-turn"), "the turn leaves the snug signed");
    let CommandAction::Pull(snug) = pull(0, "1", "20") else { unreachable!() };
    let again = PullCommand { operation: "heads-snug".into(), joint: Some("left".into()), ..snug };
    shop.give(CommandAction::Pull(again)).unwrap();
    assert!(!done(&shop, "heads-snug") && !done(&shop, "heads-turn"), "what comes later rests on it too");
}

#[test]
fn a_group_is_loosened_again_backwards_and_what_it_had_before_is_not_asked_for() {
    let mut shop = Shop::ways();
    for _ in 0..3 {
        shop.answer("wheel", "30").unwrap();
    }
    for fastener in ["3", "2", "1"] {
        assert_eq!(shop.asked("wheel"), ("Off again".into(), fastener.into()));
        shop.answer("wheel", "").unwrap();
    }
    assert_eq!(shop.asked("wheel"), ("Snug".into(), "1".into()));
    assert_eq!(shop.pulls_of("wheel").pop().expect("a pull").says, "Loose");
    assert!(shop.whats().is_empty());
    let BenchWork::Tighten(bench) = shop.bench("wheel").work else { panic!("a joint") };
    assert!(bench.joints[0].fasteners.iter().all(|mark| mark.strokes.is_empty()));
}

#[test]
fn by_feel_the_torque_where_it_stopped_is_what_counts_and_one_pull_ends_it() {
    let mut shop = Shop::ways();
    assert_eq!(shop.step("rod"), "Pull 1, nut A, until torque stops rising, 70 to 84 N·m");
    shop.answer("rod", "75").unwrap();
    assert_eq!(shop.asked("rod"), ("By feel, slot".into(), "A".into()));
    shop.answer("rod", "").unwrap();
    shop.answer("rod", "4").unwrap();
    // The other bolt yields early: it is not pulled on, and a lead would have to stand for it.
    shop.answer("rod", "61").unwrap();
    let pull = shop.pulls_of("rod").pop().expect("a pull");
    assert_eq!((pull.verdict, pull.says.as_str(), pull.wrong), (Verdict::Low, "Stopped too early", true));
    assert_eq!(
        shop.whats(),
        ["B: 61.0 N·m, it stopped rising too early: a weak or used bolt, or too little friction"]
    );
    assert_eq!(shop.state.issues()[0].remedies, [Remedy::Replace, Remedy::Accept, Remedy::Void]);
    assert_eq!(shop.asked("rod"), ("By feel, slot".into(), "B".into()));
    shop.accept("measured soft, stays for the mock-up");
    assert!(shop.whats().is_empty());
    // The band is passed once; another pull on the first nut is asked about, whatever the screen.
    let CommandAction::Pull(first) = shop.command("rod", "1") else { panic!("a pull") };
    let second = PullCommand {
        stage: 0,
        fastener: "A".into(),
        reading: GivenReading { text: Some("75".into()), ..GivenReading::default() },
        ..first
    };
    assert_eq!(shop.give(CommandAction::Pull(second)).unwrap_err().kind, RefusalKind::Ask);
}

#[test]
fn a_castellated_nut_goes_on_to_its_slot_never_back_and_a_twisted_bolt_is_scrap() {
    let mut shop = Shop::ways();
    assert_eq!(shop.step("hub"), "Pull 1, nut H, to 40 N·m");
    shop.answer("hub", "36").unwrap();
    let BenchStep::Pull(step) = shop.state.step(shop.at("hub")) else { panic!("a slot") };
    assert_eq!((step.asks.slots, step.asks.plain.len()), (Some(6), 2));
    for (text, says) in [("0.5", "a whole number is needed, not 0.5"), ("7", "at most 6 in one pull")] {
        assert!(shop.answer("hub", text).unwrap_err().message.contains(says), "{text}");
    }
    // Back, and a slot too far, are asked about and kept.
    for (text, says, wrong) in [
        ("-1", "Turned back", "H: -1, the nut was turned back to a slot: it has lost its clamp"),
        ("2", "A slot too far", "H: 2, it went on by more than one slot"),
    ] {
        let what = shop.command("hub", text);
        assert_eq!(shop.give(what.clone()).unwrap_err().kind, RefusalKind::Ask);
        shop.mean(what);
        assert_eq!(shop.pulls_of("hub").pop().expect("a pull").says, says);
        assert_eq!(shop.whats(), [wrong]);
        shop.void(shop.state.seq, "typed wrong").unwrap();
    }
    assert_eq!(shop.answer("hub", "7").unwrap_err().field, Some("reading"));
    shop.answer("hub", "").unwrap();
    let seen = shop.pulls_of("hub").pop().expect("a pull");
    assert_eq!((seen.method, seen.value, seen.says.as_str()), (ReadingMethod::Seen, 1.0, "At a slot"));
    shop.answer("hub", "18").unwrap();
    assert_eq!(shop.whats(), ["H: 18°, the bolt is twisted past its limit: scrap"]);
    assert!(shop.state.issues()[0].remedies.contains(&Remedy::Replace));
}

#[test]
fn all_is_tight_inside_the_sealants_time_and_it_is_left_alone_until_it_has_cured() {
    let mut shop = Shop::ways();
    let minutes = |shop: &mut Shop, text: &str, minutes: i64| {
        let what = shop.command("pan", text);
        let at = OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(minutes);
        let context = CommandContext {
            instrument: Some(shop.instrument.clone()),
            seen: shop.state.seq,
            ..CommandContext::new(person(Role::Bench), at)
        };
        for fact in decide(&shop.state, &context, &what).unwrap() {
            shop.record(fact, at, Uuid::from_u128(u128::from(shop.state.seq) + 1));
        }
    };
    minutes(&mut shop, "", 0);
    let clock = shop.bench("pan").clocks.pop().expect("the clock runs");
    assert_eq!(clock.until - clock.since, time::Duration::minutes(10));
    assert_eq!((clock.late - clock.since).whole_seconds(), 400);
    minutes(&mut shop, "40", 9);
    minutes(&mut shop, "40", 13);
    assert_eq!(shop.whats(), ["2: 13 min after the sealant, which stays open for 10 min"]);
    minutes(&mut shop, "", 53);
    assert_eq!(shop.whats()[1], "Cure: 20 min too soon");
    shop.void(shop.state.seq, "it was not cured yet").unwrap();
    minutes(&mut shop, "", 74);
    assert_eq!(shop.whats().len(), 1);
    assert!(shop.bench("pan").clocks.is_empty(), "what is cured has no working time");
    minutes(&mut shop, "", 75);
    minutes(&mut shop, "", 76);
    assert_eq!(shop.whats().len(), 1);
}

#[test]
fn a_dial_is_read_before_and_after_and_the_torque_there_is_kept() {
    let mut shop = Shop::ways();
    shop.finish("heads-snug");
    shop.answer("heads-turn", "30").unwrap();
    let CommandAction::Pull(swing) = shop.command("heads-turn", "10") else { panic!("a pull") };
    let reading = GivenReading {
        text: Some("40".into()),
        start_deg: Some(310.0),
        torque_text: Some("50 lbf·ft".into()),
        ..GivenReading::default()
    };
    shop.give(CommandAction::Pull(PullCommand { reading, ..swing.clone() })).unwrap();
    let pulled = shop.pulls_of("heads-turn").into_iter().find(|pull| pull.stage == 2).expect("a turn");
    assert_eq!((pulled.value, pulled.entered.as_deref(), pulled.verdict), (90.0, Some("40"), Verdict::Good));
    assert!((pulled.torque_nm.expect("a torque") - 67.79).abs() < 0.01);
    let reading =
        GivenReading { text: Some("90".into()), torque_text: Some("much".into()), ..GivenReading::default() };
    assert_eq!(
        shop.give(CommandAction::Pull(PullCommand { reading, ..swing })).unwrap_err().field,
        Some("torque")
    );
}

#[test]
fn only_what_eyes_can_tell_is_told_by_eye() {
    let mut shop = Shop::ways();
    shop.answer("trial", "").unwrap();
    let CommandAction::Pull(torque) = shop.command("trial", "30") else { panic!("a pull") };
    let seen = CommandAction::Pull(PullCommand { method: ReadingMethod::Seen, ..torque });
    assert_eq!(shop.give(seen).unwrap_err().field, Some("method"));
    shop.finish("heads-snug");
    shop.sign("heads-snug").unwrap();
    shop.answer("heads-turn", "30").unwrap();
    let CommandAction::Pull(turn) = shop.command("heads-turn", "90") else { panic!("a pull") };
    let seen = CommandAction::Pull(PullCommand { method: ReadingMethod::Seen, ..turn });
    assert_eq!(shop.give(seen.clone()).unwrap_err().field, Some("method"), "a wrench shows its figure");
    // Part of the turn was read from a wrench: the mark at its place tells of the rest.
    let CommandAction::Pull(part) = shop.command("heads-turn", "40") else { panic!("a pull") };
    shop.give(CommandAction::Pull(part.clone())).unwrap();
    shop.instrument = Instrument::hand();
    let there = PullCommand { reading: GivenReading::default(), method: ReadingMethod::Seen, ..part };
    shop.give(CommandAction::Pull(there.clone())).unwrap();
    let pull = shop.pulls_of("heads-turn").pop().expect("a pull");
    assert_eq!((pull.read, pull.value, pull.verdict), (50.0, 90.0, Verdict::Good));
    assert_eq!(shop.give(CommandAction::Pull(there)).unwrap_err().kind, RefusalKind::Ask, "it is there once");
    let pull = shop.pulls_of("heads-turn").pop().expect("a pull");
    assert_eq!(
        (pull.method, pull.entered, pull.instrument.as_str()),
        (ReadingMethod::Seen, None, "Hand and eye")
    );
    assert!(shop.whats().is_empty());
}

#[test]
fn the_odd_one_among_angles_is_named_with_what_may_be_behind_it() {
    let mut shop = Shop::at_the_bolts();
    let order = ["2L", "2R", "1L", "3R", "1R", "3L"];
    for fastener in order {
        shop.give(pull(0, fastener, "30")).unwrap();
    }
    shop.give(CommandAction::Act(ActionCommand {
        operation: "tighten".into(),
        stage: 1,
        ..ActionCommand::default()
    }))
    .unwrap();
    for (fastener, torque) in order.into_iter().zip(["61", "60", "62", "44", "60", "61"]) {
        let CommandAction::Pull(turn) = pull(2, fastener, "40") else { unreachable!() };
        let reading = GivenReading { torque_text: Some(torque.into()), ..turn.reading };
        shop.give(CommandAction::Pull(PullCommand { reading, ..turn })).unwrap();
    }
    let remarks: Vec<_> =
        shop.state.pulls(shop.at("tighten")).into_iter().filter(|pull| !pull.remarks.is_empty()).collect();
    assert_eq!(remarks.len(), 1);
    assert_eq!(remarks[0].fastener, "3R");
    assert_eq!(
        remarks[0].remarks,
        ["44.0 N·m at its angle where its siblings have 60.5 N·m: slippery, soft, or yielding early"]
    );
    assert!(shop.state.issues().is_empty(), "the builder decides");
}

#[test]
fn the_whole_engine_is_tightened_by_every_way_and_signed() {
    let mut shop = Shop::ways();
    let operations: Vec<String> = shop.state.plan.operations.iter().map(|o| o.id.clone()).collect();
    for operation in &operations {
        let (done, total) = shop.state.progress(shop.at(operation));
        assert!(done == 0 || operation == "sign", "{operation}: {done} of {total}");
        if operation == "pan" {
            continue;
        }
        shop.finish(operation);
        if operation != "sign" {
            shop.sign(operation).unwrap();
        }
    }
    let folded = BuildState::fold(|_| Some(shop.state.plan.clone()), &shop.events).unwrap();
    assert_eq!(folded.view(), shop.state.view());
    for operation in &operations {
        assert_eq!(folded.section(shop.at(operation)), shop.state.section(shop.at(operation)));
    }
}

/// Something somebody does at a bench: what is next, another stage or bolt, a loosening, a void.
fn deed() -> impl Strategy<Value = (u8, usize, usize, u8)> {
    (0u8..8, 0usize..5, 0usize..3, 0u8..4)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn whatever_is_done_in_whatever_order_what_is_next_is_never_a_second_single_stage(
        deeds in prop::collection::vec(deed(), 1..60),
    ) {
        let mut shop = Shop::ways();
        let operations = ["trial", "apart", "caps", "heads-snug", "heads-turn", "wheel", "rod", "hub", "pan"];
        for (what, place, bolt, figure) in deeds {
            let operation = operations[(place + usize::from(what)) % operations.len()];
            let Some(work) = shop.state.plan.tightens(shop.at(operation)) else { continue };
            let joint = shop.state.plan[work.shares[bolt % work.shares.len()].joint].clone();
            let fastener = joint.fasteners[bolt % joint.fasteners.len()].id.clone();
            let joint = Some(joint.id);
            let text = ["30", "90", "1", "70"][usize::from(figure)];
            let _ = match what {
                0..=3 if !matches!(shop.state.step(shop.at(operation)), BenchStep::Sign) => {
                    let plain = if figure == 0 { "" } else { text };
                    let given = shop.command(operation, plain);
                    match given {
                        CommandAction::Pull(pull) => shop.give(CommandAction::Pull(PullCommand { sure: true, ..pull })),
                        other => shop.give(other),
                    }
                }
                4 => shop.give(CommandAction::Pull(PullCommand {
                    operation: operation.into(), joint, stage: place, fastener,
                    reading: GivenReading { text: Some(text.into()), ..GivenReading::default() },
                    method: ReadingMethod::Typed, instrument: "w".into(), sure: true, note: None, })),
                5 => shop.give(CommandAction::Loosen(LoosenCommand {
                    operation: operation.into(), joint, fastener, replaced: figure > 1,
                    reason: "again".into(), rest: false,
                    ..LoosenCommand::default()
                })),
                6 => shop.void(shop.state.seq.saturating_sub(u64::from(figure)), "a mistake"),
                _ => shop.sign(operation),
            };
            // What had its single stage is not asked for it, until it is loosened.
            for id in operations {
                if let BenchStep::Pull(step) = shop.state.step(shop.at(id)) {
                    let pulls = shop.state.pulls(shop.at(id));
                    let had: Vec<_> = pulls.iter().filter(|pull| {
                        pull.joint == step.joint && pull.stage == step.stage && pull.fastener == step.fastener
                            && pull.voided.is_none() && !pull.loosened
                    }).collect();
                    let planned = &shop.state.plan[shop.state.plan.joint(&step.joint).unwrap()];
                    let rules = &planned.stages[step.stage].way;
                    if rules.at_once() && !apart(&shop, &step.joint, &step.fastener) {
                        prop_assert!(had.is_empty(), "{step:?} again after {had:?}");
                    }
                    if rules.adds_up() {
                        let sum: f64 = had.iter().map(|pull| pull.read).sum();
                        prop_assert!(rules.judge(sum) == Verdict::Low, "{step:?} again after {had:?}");
                    }
                }
            }
        }
        // Read again, it is the same engine.
        let folded = BuildState::fold(|_| Some(shop.state.plan.clone()), &shop.events).unwrap();
        prop_assert_eq!(folded.view(), shop.state.view());
    }

    #[test]
    fn a_fastener_that_was_loosened_asks_for_everything_again(
        figures in prop::collection::vec(0usize..3, 12), bolt in 0usize..2,
    ) {
        let mut shop = Shop::ways();
        for at in &figures {
            for operation in ["heads-snug", "heads-turn"] {
                if !matches!(shop.state.step(shop.at(operation)), BenchStep::Sign) {
                    let what = shop.command(operation, ["20", "30", "90"][*at]);
                    if let CommandAction::Pull(pull) = what {
                        let _ = shop.give(CommandAction::Pull(PullCommand { sure: true, ..pull }));
                    }
                }
            }
        }
        let fastener = ["1", "2"][bolt].to_owned();
        shop.give(CommandAction::Loosen(LoosenCommand {
            operation: "heads-turn".into(), joint: Some("left".into()), fastener: fastener.clone(),
            replaced: true, reason: "again".into(), rest: false,
            ..LoosenCommand::default()
        })).unwrap();
        let mut asked = BTreeMap::new();
        for operation in ["heads-snug", "heads-turn"] {
            let BenchWork::Tighten(bench) = shop.bench(operation).work else { panic!("heads") };
            let left = bench.joints.into_iter().find(|joint| joint.id == "left").unwrap();
            let mark = left.fasteners.into_iter().find(|mark| mark.id == fastener).unwrap();
            prop_assert!(mark.strokes.is_empty());
            asked.insert(operation, left.stages.iter().map(|stage| stage.total - stage.done).sum::<usize>());
        }
        prop_assert!(asked["heads-snug"] >= 1 && asked["heads-turn"] >= 2, "{asked:?}");
    }
}

/// Whether a fastener was loosened as its joint was taken apart.
fn apart(shop: &Shop, joint: &str, fastener: &str) -> bool {
    let plan = &shop.state.plan;
    let at = plan.joint(joint).expect("a joint");
    (0..plan[at].rounds.len()).any(|round| {
        let of_it = plan[at].fastener(fastener).expect("a fastener");
        shop.state.joints().round((at, round)).fastened(of_it).is_apart()
    })
}

#[test]
fn what_stands_against_springs_comes_down_in_turns_round_after_round() {
    let at = WAYS.find("run-down = ").expect("a stage by hand");
    let line = &WAYS[at..at + WAYS[at..].find('\n').unwrap()];
    let plan = WAYS.replacen(line, &format!("{line}\n  turns = 1\n  rounds = 3"), 1);
    let mut shop = Shop::begun(&plan, None, tool());
    let act = |stage: usize| {
        let (operation, instrument) = ("trial".into(), None);
        CommandAction::Act(ActionCommand { operation, stage, instrument, ..ActionCommand::default() })
    };
    for round in 1..=3 {
        let BenchStep::Act(step) = shop.state.step(shop.at("trial")) else { panic!("round {round}") };
        assert!(step.text.ends_with(&format!("1 turn at each, round {round} of 3")), "{}", step.text);
        shop.give(act(round - 1)).unwrap();
    }
    assert!(matches!(shop.state.step(shop.at("trial")), BenchStep::Pull(_)));
    for wrong in ["turns = 1", "rounds = 3", "turns = 0\n  rounds = 3", "turns = 1\n  rounds = 1"] {
        let plan = WAYS.replacen(line, &format!("{line}\n  {wrong}"), 1);
        assert!(rigore_plan::Plan::read("plan", &plan).is_err(), "{wrong}");
    }
}

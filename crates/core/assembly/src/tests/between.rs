//! What lies between the joints: repeats, what unsettles what, what goes in and out, findings, clocks.

use super::ways::tool;
use super::*;
use rigore_mechanics::message::Message;
use time::Duration;

pub(super) const LINE: &str = include_str!("../../../plan/tests/line-plan.toml");

pub(super) fn shop() -> Shop {
    shop_of(LINE)
}

fn shop_of(text: &str) -> Shop {
    let degrees = MeasuringRange { unit: "°".into(), range: [0.0, 360.0], accuracy: 0.5, resolution: 0.5 };
    let bar = MeasuringRange { unit: "bar".into(), range: [0.0, 10.0], accuracy: 0.1, resolution: 0.1 };
    let number = MeasuringRange { unit: String::new(), range: [0.0, 100.0], accuracy: 0.0, resolution: 0.0 };
    let instrument = Instrument { measures: vec![degrees, bar, number], accuracy: 0.002, ..tool() };
    Shop::begun(text, None, instrument)
}

impl Shop {
    /// Does what is next in an operation, until all is done; right, and as it is asked for.
    pub(super) fn all(&mut self, operation: &str) {
        for _ in 0..100 {
            match self.state.step(self.at(operation)) {
                BenchStep::Sign => return,
                BenchStep::Pull(step) if step.asks.plain.is_empty() => {
                    let wanted = step.target.shown.to_string();
                    self.answer(operation, &wanted).unwrap();
                }
                BenchStep::Pull(_) | BenchStep::Act(_) | BenchStep::Loosen(_) => {
                    self.answer(operation, "").unwrap();
                }
                other => {
                    let what = plainly(operation, other);
                    self.give(what).unwrap();
                }
            }
        }
        panic!("{operation} has no end");
    }
}

fn plainly(operation: &str, step: BenchStep) -> CommandAction {
    let operation = operation.to_owned();
    match step {
        BenchStep::Confirm(step) => CommandAction::Confirm(ConfirmCommand { operation, item: step.item }),
        BenchStep::Fit(step) => {
            let part = PartNote { reference: "plain".into(), ..PartNote::default() };
            CommandAction::Fit(FitCommand { operation, slot: step.slot, part, before: None })
        }
        BenchStep::Turn => CommandAction::Turn(TurnCommand { operation, free: true, text: None, unit: None }),
        BenchStep::Measure(step) => {
            let right = [("housing", "51"), ("cam", "110"), ("links", "14"), ("oil", "4")];
            let text = right.iter().find(|(site, _)| step.site.starts_with(site)).unwrap().1.into();
            reading(&operation, &step.site, text)
        }
        other => panic!("{other:?}"),
    }
}

fn reading(operation: &str, site: &str, text: String) -> CommandAction {
    CommandAction::Measure(MeasureCommand {
        operation: operation.into(),
        site: site.into(),
        place: 0,
        text,
        unit: None,
        temperature_c: None,
        sure: false,
        method: ReadingMethod::Typed,
        instrument: "w".into(),
    })
}

impl Shop {
    fn done(&mut self, operation: &str) {
        self.all(operation);
        self.sign(operation).unwrap_or_else(|refused| panic!("{operation}: {refused}"));
    }

    fn waits(&self, operation: &str) -> Vec<String> {
        self.operation(operation).waits_for.iter().map(Message::in_base_units).collect()
    }

    /// What of the rods one signature covers, by their row.
    fn signs(&self) -> Vec<String> {
        let route = self.state.view().route;
        route.into_iter().find(|row| row.id == "rods").expect("the rods").signs
    }

    fn status(&self, operation: &str) -> OperationStatus {
        self.operation(operation).status
    }
}

/// Both rods done and signed as one.
fn with_rods() -> Shop {
    let mut shop = shop();
    shop.done("take-in");
    for number in 1..=2 {
        for step in ["rod-measure", "rod-fit", "rod-tighten", "rod-turn"] {
            shop.all(&format!("{step}-{number}"));
        }
    }
    let names =
        |number| ["rod-measure", "rod-fit", "rod-tighten", "rod-turn"].map(|s| format!("{s}-{number}"));
    let mut also: Vec<String> = names(1).into_iter().chain(names(2)).collect();
    // The line of work says what one signature covers, once all of it is done.
    assert_eq!(shop.signs(), also);
    let operation = also.remove(0);
    shop.give(CommandAction::Sign(SignCommand { operation, also })).unwrap();
    assert!(shop.signs().is_empty());
    shop
}

/// Rods that are tightened for their housing bores first, taken apart, and tightened for good.
fn shop_with_trials() -> Shop {
    let tighten = "id = \"rod-tighten\"\n  name = \"Tighten rod\"\n  kind = \"tighten\"\n  joint = \"rod\"\n";
    let step = |id: &str, kind: &str| {
        format!(
            "id = \"{id}\"\n  name = \"{id} #\"\n  kind = \"{kind}\"\n  joint = \"rod\"\n  purpose = \"trial\"\n\n  [[operation.step]]\n  "
        )
    };
    let trial = format!("{}{}{tighten}", step("rod-trial", "tighten"), step("rod-apart", "loosen"));
    shop_of(&LINE.replacen(tighten, &trial, 1))
}

#[test]
fn as_one_are_signed_only_operations_that_were_worked_on() {
    let mut shop = shop_with_trials();
    shop.done("take-in");
    let steps = ["rod-measure", "rod-fit", "rod-trial", "rod-apart", "rod-tighten", "rod-turn"];
    for number in 1..=2 {
        for step in steps {
            assert!(shop.signs().is_empty(), "{step}-{number} is to be done");
            shop.all(&format!("{step}-{number}"));
        }
    }
    let mut also = shop.signs();
    assert_eq!(also.len(), 12);
    // One is loosened again: it is not done, and neither are the steps of that rod that come before or after it.
    let loosened = LoosenCommand {
        operation: "rod-tighten-2".into(),
        fastener: "A".into(),
        reason: "seated askew".into(),
        ..LoosenCommand::default()
    };
    shop.give(CommandAction::Loosen(loosened)).unwrap();
    assert!(shop.signs().is_empty());
    let operation = also.remove(0);
    let sign = CommandAction::Sign(SignCommand { operation, also });
    assert!(shop.give(sign.clone()).unwrap_err().message.contains("1 of 2 done"));
    shop.all("rod-tighten-2");
    assert_eq!(shop.signs().len(), 12);
    shop.give(sign).unwrap();
    assert!(shop.signs().is_empty());
}

#[test]
fn a_trial_that_was_left_out_does_not_stand_in_the_way_of_one_signature() {
    let mut shop = shop_with_trials();
    shop.done("take-in");
    for number in 1..=2 {
        shop.all(&format!("rod-measure-{number}"));
        shop.all(&format!("rod-fit-{number}"));
        for step in ["rod-trial", "rod-apart"] {
            let operation = format!("{step}-{number}");
            shop.give(CommandAction::Skip(SkipCommand { operation, reason: "bores are known".into() }))
                .unwrap();
        }
        shop.all(&format!("rod-tighten-{number}"));
        shop.all(&format!("rod-turn-{number}"));
    }
    let mut also = shop.signs();
    assert_eq!(also.len(), 8, "{also:?}");
    let operation = also.remove(0);
    shop.give(CommandAction::Sign(SignCommand { operation, also })).unwrap();
    assert!(["rod-trial-1", "rod-apart-2"].iter().all(|id| shop.status(id) == OperationStatus::Done));
}

#[test]
fn what_is_written_once_comes_for_each_cylinder_one_after_the_other_and_is_signed_as_one() {
    let mut shop = shop();
    let plan = Arc::clone(&shop.state.plan);
    let ids: Vec<&str> = plan.operations[1..9].iter().map(|operation| operation.id.as_str()).collect();
    assert_eq!(ids[..5], ["rod-measure-1", "rod-fit-1", "rod-tighten-1", "rod-turn-1", "rod-measure-2"]);
    assert_eq!(plan[shop.at("rod-fit-2")].name, "Fit rod 2");
    assert_eq!(plan[shop.at("rod-turn-2")].name, "Turn after rod 2");
    assert_eq!(plan[plan.joint("rod-2").unwrap()].fasteners[0].x_mm, 150.0);
    assert_eq!(shop.waits("rod-fit-1"), ["Measure housing 1"]);
    assert_eq!(shop.waits("rod-measure-2"), ["Take in, and 1 more"]);
    assert_eq!(shop.waits("timing"), ["Turn after rod 1, and 1 more"]);
    let member = shop.operation("rod-turn-2").member.unwrap();
    assert_eq!(
        (member.repeat.as_str(), member.by.as_str(), member.number, member.of),
        ("rods", "cylinder", 1, 2)
    );
    // It moves freely: once for each position.
    assert_eq!(shop.operation("rod-fit-1").total, 5);
    shop.done("take-in");
    // What is done is gone on from without a signature, what is not right is not.
    shop.all("rod-measure-1");
    assert!(shop.signs().is_empty(), "only one step is done");
    assert_eq!(shop.status("rod-fit-1"), OperationStatus::Ready);
    shop.all("rod-fit-1");
    shop.all("rod-tighten-1");
    let turn = |free| {
        CommandAction::Turn(TurnCommand { operation: "rod-turn-1".into(), free, text: None, unit: None })
    };
    shop.give(turn(false)).unwrap();
    assert_eq!(shop.waits("rod-measure-2"), ["Turn after rod 1"]);
    shop.give(turn(true)).unwrap();
    assert!(shop.waits("rod-measure-2").is_empty());
    let early = SignCommand { operation: "rod-turn-1".into(), also: vec!["rod-turn-2".into()] };
    assert_eq!(shop.give(CommandAction::Sign(early)).unwrap_err().kind, RefusalKind::NotYet);
    let mut shop = with_rods();
    let (seq, signed) = (shop.state.seq, shop.operation("rod-fit-2"));
    assert_eq!((signed.signed_seq, signed.signed_with.len()), (Some(seq), 7));
    assert!(shop.waits("timing").is_empty());
    // Touched, one of them lapses; taken back, all that are left.
    shop.give(CommandAction::Turn(TurnCommand {
        operation: "rod-turn-2".into(),
        free: true,
        text: None,
        unit: None,
    }))
    .unwrap();
    assert!(shop.signed("rod-fit-2") && !shop.signed("rod-turn-2") && !shop.signed("sign"));
    shop.void(seq, "signed too early").unwrap();
    assert!(!shop.signed("rod-measure-1") && !shop.signed("rod-fit-2"));
    assert_eq!(shop.void(seq, "once more").unwrap_err().kind, RefusalKind::Stale);
}

#[test]
fn a_replaced_bolt_asks_for_its_housing_and_the_turn_again_and_for_nothing_else() {
    let mut shop = with_rods();
    let replace = CommandAction::Loosen(LoosenCommand {
        operation: "rod-tighten-1".into(),
        fastener: "A".into(),
        replaced: true,
        reason: "it had grown".into(),
        ..LoosenCommand::default()
    });
    shop.give(replace).unwrap();
    let replaced = shop.state.seq;
    let open = |shop: &Shop| {
        let view = shop.state.view();
        let open = view.operations.into_iter().filter(|of| of.done < of.total || of.signed_by.is_none());
        open.map(|of| of.id).filter(|id| id.starts_with("rod")).collect::<Vec<_>>()
    };
    assert_eq!(open(&shop), ["rod-measure-1", "rod-tighten-1", "rod-turn-1"]);
    assert_eq!(shop.operation("rod-turn-1").again, ["Rod 1 A was replaced"]);
    assert_eq!(shop.step("rod-measure-1"), "Measure Housing 1");
    assert_eq!(shop.readings("rod-measure-1").len(), 1, "what was read stays readable");
    // Measured and turned again, it is as it was; taken back, the first reading holds again.
    let seq = shop.state.seq;
    shop.all("rod-measure-1");
    assert!(shop.state.seq > seq && shop.operation("rod-measure-1").again.is_empty());
    shop.all("rod-tighten-1");
    shop.all("rod-turn-1");
    for operation in ["rod-measure-1", "rod-tighten-1", "rod-turn-1"] {
        shop.sign(operation).unwrap();
    }
    assert!(open(&shop).is_empty());
    let before = shop.state.sizes().reading(rigore_plan::SiteIx(0), 0).unwrap().seq;
    shop.void(replaced, "the old one is in").unwrap();
    assert_eq!(shop.state.sizes().reading(rigore_plan::SiteIx(0), 0).unwrap().seq, before);
    shop.void(before, "not measured").unwrap();
    assert!(shop.state.sizes().reading(rigore_plan::SiteIx(0), 0).is_some(), "the first one holds");
    // Another rod: its housing, and that it is in; the first entry of a part unsettles nothing.
    let mut shop = with_rods();
    shop.give(plainly("take-in", BenchStep::Fit(FitStep { slot: "rod-2".into(), name: String::new() })))
        .unwrap();
    assert_eq!(shop.operation("rod-fit-2").again, ["another Rod and cap 2 is in"]);
    assert_eq!(open(&shop), ["rod-measure-2", "rod-fit-2"]);
    shop.void(shop.state.seq, "entered twice").unwrap();
    let unsigned: Vec<String> = open(&shop);
    assert_eq!(unsigned, ["rod-measure-2", "rod-fit-2"], "a signature that ended stays ended");
    assert!(shop.operation("rod-fit-2").again.is_empty());
    assert_eq!(shop.operation("rod-measure-2").done, 1);
}

#[test]
fn a_head_that_was_lifted_wants_a_new_gasket_and_an_inner_one_that_was_touched_the_outer_again() {
    let mut shop = with_rods();
    shop.done("gasket");
    assert_eq!(shop.step("head"), "Holes dry, stud");
    shop.done("head");
    let loosen = |fastener: &str| {
        CommandAction::Loosen(LoosenCommand {
            operation: "head".into(),
            fastener: fastener.into(),
            reason: "to look".into(),
            ..LoosenCommand::default()
        })
    };
    shop.give(loosen("1")).unwrap();
    assert!(shop.signed("gasket"), "one nut is not a head that was lifted");
    shop.answer("head", "").ok();
    shop.all("head");
    let pulls: Vec<String> = shop.pulls_of("head").into_iter().map(|pull| pull.stage_name).collect();
    assert_eq!(pulls.iter().filter(|stage| stage.as_str() == "Outer recheck").count(), 2, "{pulls:?}");
    shop.sign("head").unwrap();
    for fastener in ["3", "2", "1"] {
        shop.give(loosen(fastener)).unwrap();
    }
    assert!(!shop.signed("gasket"));
    assert_eq!(shop.operation("gasket").again, ["Head was taken off"]);
    assert_eq!(shop.waits("head"), ["Lay the gasket on"]);
}

#[test]
fn what_went_in_comes_out_before_the_engine_is_closed_over_it() {
    let mut shop = with_rods();
    let out: Vec<bool> = shop.state.aids().iter().map(|aid| aid.out_at.is_some()).collect();
    assert_eq!(out, [true, true], "protectors are off again");
    shop.done("gasket");
    shop.done("head");
    shop.done("timing");
    let put = |what: &str, count| {
        CommandAction::PutIn(TemporaryItemCommand { operation: "head".into(), what: what.into(), count })
    };
    assert_eq!(shop.give(put(" ", 1)).unwrap_err().field, Some("what"));
    assert_eq!(shop.give(put("rag", 0)).unwrap_err().field, Some("count"));
    assert_eq!(shop.status("pan"), OperationStatus::Ready);
    shop.give(put("rag in the oil gallery", 1)).unwrap();
    let rag = shop.state.seq;
    assert_eq!((shop.status("pan"), shop.status("head")), (OperationStatus::Waiting, OperationStatus::Done));
    assert_eq!(shop.waits("pan"), ["rag in the oil gallery to be removed"]);
    let refused = shop.give(CommandAction::Start(OperationStart { operation: "pan".into() })).unwrap_err();
    assert_eq!(refused.message, "Close the pan waits for rag in the oil gallery to be removed");
    // Closed over it all the same: that is a fact, and holds.
    shop.all("pan");
    let still_in = |shop: &Shop| shop.whats().contains(&"rag in the oil gallery is still in".to_owned());
    assert!(shop.whats().contains(&"1: before the operation was started".to_owned()));
    assert!(still_in(&shop));
    assert_eq!(shop.sign("pan").unwrap_err().kind, RefusalKind::NotYet);
    let take = CommandAction::TakeOut(TemporaryItemRemoval { operation: "pan".into(), seq: rag });
    shop.give(take.clone()).unwrap();
    assert_eq!(shop.give(take).unwrap_err().kind, RefusalKind::Stale);
    assert!(!still_in(&shop));
    shop.void(shop.state.seq, "it is in still").unwrap();
    assert!(still_in(&shop));
}

#[test]
fn a_finding_holds_what_it_is_about_until_a_lead_decides_and_it_was_looked_at_again() {
    let mut shop = with_rods();
    shop.role = Role::Bench;
    let find = |about: FindingSubject| {
        let text = "the thread comes out with the bolt".into();
        CommandAction::Find(FindingCommand { operation: "gasket".into(), about, text, picture: None })
    };
    let fastener = |joint: &str, fastener: &str| FindingSubject::Fastener {
        joint: joint.into(),
        fastener: fastener.into(),
    };
    assert_eq!(shop.give(find(fastener("head", "9"))).unwrap_err().field, Some("about"));
    shop.done("gasket");
    shop.give(find(fastener("head", "2"))).unwrap();
    let found = shop.state.seq;
    assert_eq!(shop.status("head"), OperationStatus::Held);
    assert_eq!((shop.status("timing"), shop.signed("gasket")), (OperationStatus::Ready, true));
    let refused = shop.give(CommandAction::Start(OperationStart { operation: "head".into() })).unwrap_err();
    assert!(refused.message.contains("Problem on Head 2: the thread comes out"), "{refused}");
    let decide = |decision| {
        CommandAction::DecideFinding(FindingDecisionCommand {
            seq: found,
            decision,
            reason: "an insert goes in".into(),
        })
    };
    let look = |right| {
        CommandAction::LookAgain(FindingReviewCommand {
            seq: found,
            right,
            text: "a bolt runs in".into(),
            picture: None,
        })
    };
    assert_eq!(shop.give(decide(FindingDecision::Mend)).unwrap_err().kind, RefusalKind::NotAllowed);
    assert_eq!(shop.give(look(true)).unwrap_err().kind, RefusalKind::NotYet);
    shop.role = Role::Lead;
    shop.give(decide(FindingDecision::Mend)).unwrap();
    shop.role = Role::Bench;
    assert_eq!(shop.state.issues()[0].to_do, "Repair it, then record the inspection");
    shop.give(look(false)).unwrap();
    assert_eq!(shop.give(look(true)).unwrap_err().kind, RefusalKind::NotYet, "a lead decides again");
    shop.role = Role::Lead;
    shop.give(decide(FindingDecision::Mend)).unwrap();
    shop.give(look(true)).unwrap();
    assert_eq!((shop.status("head"), shop.whats().len()), (OperationStatus::Ready, 0));
    assert_eq!(shop.give(look(true)).unwrap_err().kind, RefusalKind::Stale);
    let view = shop.state.finding_views().remove(0);
    assert_eq!((view.standing, view.steps.len()), (FindingStanding::Settled, 4));
    assert_eq!((view.name.as_str(), view.holds), ("Head 2", None));
    // Seen again wrongly, it holds again; taken back itself, it holds nothing.
    shop.void(shop.state.seq, "not looked at").unwrap();
    assert_eq!(shop.status("head"), OperationStatus::Held);
    shop.void(found, "another engine").unwrap();
    assert_eq!(shop.status("head"), OperationStatus::Ready);
    // Found on a rod when all is signed: the signature under its last operation ends.
    shop.give(find(FindingSubject::Part { slot: "rod-1".into() })).unwrap();
    assert_eq!(
        (shop.status("rod-fit-1"), shop.status("rod-fit-2")),
        (OperationStatus::Held, OperationStatus::Done)
    );
    let seq = shop.state.seq;
    let accept =
        FindingDecisionCommand { seq, decision: FindingDecision::Accept, reason: "a mark of the die".into() };
    shop.give(CommandAction::DecideFinding(accept)).unwrap();
    assert_eq!(shop.status("rod-fit-1"), OperationStatus::ToSign);
}

#[test]
fn a_bead_asks_first_what_has_to_be_ready_then_runs_and_what_waits_for_it_waits_until_it_has_cured() {
    let mut shop = with_rods();
    for operation in ["gasket", "head", "timing"] {
        shop.done(operation);
    }
    assert_eq!(shop.step("pan"), "Ready: guides in");
    shop.answer("pan", "").unwrap();
    assert_eq!(shop.step("pan"), "Ready: bolts clean");
    shop.answer("pan", "").unwrap();
    assert!(shop.state.clocks().is_empty());
    shop.answer("pan", "").unwrap();
    let clock = shop.state.clocks().remove(0);
    assert_eq!(
        (clock.operation_name.as_str(), clock.until - clock.since),
        ("Close the pan", Duration::minutes(10))
    );
    // It stands on every screen of the engine.
    assert_eq!((shop.bench("timing").clocks.len(), shop.state.view().clocks.len()), (1, 1));
    shop.done("pan");
    assert!(shop.state.clocks().is_empty());
    let cure = shop.operation("cover").cure.unwrap();
    assert_eq!((cure.name.as_str(), cure.until - clock.since), ("Close the pan", Duration::hours(2)));
    let refused = shop.give(CommandAction::Start(OperationStart { operation: "cover".into() })).unwrap_err();
    assert_eq!(
        refused.message,
        "Turn it over waits for the sealant of Close the pan to cure, another 120 min"
    );
    let context = CommandContext::new(person(Role::Bench), cure.until);
    decide(&shop.state, &context, &CommandAction::Start(OperationStart { operation: "cover".into() }))
        .expect("it has cured");
}

#[test]
fn degrees_and_links_are_measured_like_any_other_and_a_tooth_off_is_seen() {
    let mut shop = with_rods();
    let read = |shop: &mut Shop, site: &str, text: &str| {
        let what = reading("timing", site, text.into());
        shop.give(what)
    };
    assert_eq!(read(&mut shop, "cam", "11").unwrap_err().kind, RefusalKind::Ask);
    assert_eq!(read(&mut shop, "cam", "4 bar").unwrap_err().field, Some("text"));
    read(&mut shop, "cam", "109.5°").unwrap();
    read(&mut shop, "oil", "58 psi").unwrap();
    assert!((shop.state.mean_of(rigore_plan::FamilyIx(3), 0).unwrap() - 3.999).abs() < 1e-3);
    shop.instrument = Instrument::hand();
    read(&mut shop, "links", "13 links").unwrap();
    assert_eq!(shop.whats(), ["Links between the marks 1: 13, min 14"]);
    read(&mut shop, "links", "14").unwrap();
    assert!(shop.whats().is_empty(), "{:?}", shop.whats());
    let judged = shop.state.judged(shop.at("timing"));
    let decisions: Vec<_> = judged.iter().map(|view| view.decision.unwrap()).collect();
    assert_eq!(decisions, [rigore_mechanics::clearance::Decision::Inside; 2]);
    // A housing is judged where it is measured: of each rod by itself.
    assert_eq!(shop.state.judged(shop.at("rod-measure-2")).len(), 1);
}

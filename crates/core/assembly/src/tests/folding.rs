//! Any list of events folds without a panic and can be shown.

use super::*;
use proptest::prelude::*;
use rigore_mechanics::friction::Lubrication;
use rigore_mechanics::tightening::ToolReading;

const SMALL: &str = include_str!("../../../plan/tests/small-plan.toml");

fn any_tightening() -> impl Strategy<Value = Fact> {
    let name = prop::sample::select(vec!["prepare", "tighten", "sign", "none"]);
    let bolt = prop::sample::select(vec!["2L", "2R", "1L", "9X"]);
    let item = prop::sample::select(vec!["threads", "holes", "none"]);
    prop_oneof![
        name.clone().prop_map(|o| Fact::Started(OperationStart { operation: o.into() })),
        name.clone().prop_map(|o| Fact::Signed(SignCommand::one(o))),
        (name.clone(), item)
            .prop_map(|(o, i)| Fact::Confirmed(ConfirmCommand { operation: o.into(), item: i.into() })),
        (name.clone(), 0usize..5).prop_map(|(o, stage)| Fact::Acted(ActionEntry {
            operation: o.into(),
            joint: None,
            stage,
            except: Vec::new(),
            instrument: None,
            again: None,
        })),
        (0u64..40).prop_map(|seq| Fact::Voided(VoidCommand { seq, reason: "r".into() })),
        (0u64..40).prop_map(|seq| Fact::Accepted(ApproveCommand { seq, subject: None, reason: "r".into() })),
        (name.clone(), bolt.clone(), any::<bool>()).prop_map(|(o, f, replaced)| Fact::Loosened(
            LooseningEntry {
                joint: None,
                operation: o.into(),
                fastener: f.into(),
                replaced,
                reason: "r".into(),
                left_mm: None,
                released_mm: None,
                instrument: None,
                with: None,
            }
        )),
        (name, bolt, 0usize..5, prop::option::of(0.1f64..90.0), prop::option::of(0.1f64..90.0)).prop_map(
            |(o, f, stage, torque_nm, angle_deg)| Fact::Pulled(PullEntry {
                operation: o.into(),
                joint: None,
                adapter: None,
                stage,
                fastener: f.into(),
                reading: ToolReading { torque_nm, angle_deg, ..ToolReading::default() },
                method: ReadingMethod::Typed,
                instrument: wrench(),
                note: None,
            })
        ),
    ]
}

fn any_preparation() -> impl Strategy<Value = Fact> {
    let name = || {
        let names = ["measure", "turn", "take-in", "count-out", "count-back", "rings", "tops", "none"];
        prop::sample::select(names.to_vec()).prop_map(String::from)
    };
    let site = || {
        let sites = ["journal-1", "housing-1", "cylinder-1", "top-ring-1", "chamber-1", "inlet-1", "x"];
        prop::sample::select(sites.to_vec()).prop_map(String::from)
    };
    let word = |words: &[&'static str]| prop::sample::select(words.to_vec()).prop_map(String::from);
    prop_oneof![
        6 => (name(), site(), 0usize..5, -10.0f64..100.0, prop::option::of(-40.0f64..150.0)).prop_map(
            |(operation, site, place, read, temperature_c)| Fact::Measured(MeasurementEntry {
                operation,
                site,
                place,
                read,
                master: None,
                temperature_c,
                entered: None,
                unlikely: false,
                method: ReadingMethod::Typed,
                instrument: gauge(),
            })
        ),
        1 => (name(), word(&["rod-1", "block", "x"]), 0u32..5).prop_map(|(operation, slot, uses)| {
            Fact::Fitted(FitCommand { operation, slot, part: PartNote { uses, ..PartNote::default() }, before: None })
        }),
        1 => (name(), word(&["washer", "x"]), 0u32..20)
            .prop_map(|(operation, hardware, count)| Fact::Counted(CountCommand { operation, hardware, count })),
        1 => (name(), word(&["A", "B", "C", "X"]), word(&["A", "B", "X"]), 0usize..4).prop_map(
            |(operation, upper, lower, number)| Fact::ShellsChosen(ShellChoiceCommand {
                operation,
                clearance: "oil".into(),
                number,
                upper,
                lower,
            })
        ),
        1 => (name(), any::<bool>(), prop::option::of(0.0f64..20.0)).prop_map(
            |(operation, free, torque_nm)| Fact::Turned(TurnEntry { operation, free, torque_nm, entered: None })
        ),
        1 => name().prop_map(|operation| Fact::Skipped(SkipCommand { operation, reason: "r".into() })),
        1 => name().prop_map(|operation| Fact::Signed(SignCommand::one(operation))),
        1 => (0u64..60).prop_map(|seq| Fact::Voided(VoidCommand { seq, reason: "r".into() })),
        1 => (0u64..60).prop_map(|seq| Fact::Accepted(ApproveCommand { seq, subject: None, reason: "r".into() })),
    ]
}

fn any_line() -> impl Strategy<Value = Fact> {
    let word = |words: &[&'static str]| prop::sample::select(words.to_vec()).prop_map(String::from);
    let operation = move || {
        word(&[
            "take-in",
            "rod-fit-1",
            "rod-measure-1",
            "rod-tighten-1",
            "rod-turn-1",
            "gasket",
            "head",
            "pan",
            "cover",
            "sign",
            "x",
        ])
    };
    let about = || {
        let at = (word(&["rod-1", "head", "x"]), word(&["A", "1", "3"]));
        prop_oneof![
            at.prop_map(|(joint, fastener)| FindingSubject::Fastener { joint, fastener }),
            word(&["rod-1", "gasket", "x"]).prop_map(|slot| FindingSubject::Part { slot }),
            word(&["housing-1", "x"]).prop_map(|site| FindingSubject::Site { site }),
            operation().prop_map(|operation| FindingSubject::Operation { operation }),
        ]
    };
    let seq = || 0u64..60;
    let decision =
        prop::sample::select(vec![FindingDecision::Mend, FindingDecision::Change, FindingDecision::Accept]);
    prop_oneof![
        2 => (operation(), about()).prop_map(|(operation, about)| {
            Fact::Found(FindingCommand { operation, about, text: "t".into(), picture: None })
        }),
        2 => (seq(), decision).prop_map(|(seq, decision)| {
            Fact::FindingDecided(FindingDecisionCommand { seq, decision, reason: "r".into() })
        }),
        1 => (seq(), any::<bool>())
            .prop_map(|(seq, right)| Fact::LookedAgain(FindingReviewCommand { seq, right, text: "t".into(), picture: None })),
        1 => operation().prop_map(|operation| Fact::PutIn(TemporaryItemCommand { operation, what: "rag".into(), count: 1 })),
        1 => (operation(), seq()).prop_map(|(operation, seq)| Fact::TakenOut(TemporaryItemRemoval { operation, seq })),
        1 => (operation(), word(&["rod-1", "gasket", "x"]), 0u8..3).prop_map(|(operation, slot, which)| {
            Fact::Awaited(BlockerCommand {
                kind: [BlockerKind::Order, BlockerKind::Away, BlockerKind::Hold][usize::from(which)],
                what: "w".into(),
                slot: (which != 1).then_some(slot),
                operation: (which == 0).then_some(operation),
                expected: None,
            })
        }),
        1 => seq().prop_map(|seq| Fact::WaitEnded(BlockerEnd { seq })),
        1 => (0i64..60).prop_map(|minutes| Fact::Doubted(DoubtCommand {
            instrument: wrench().id, name: "w".into(), since: None, reason: "r".into(),
            until: OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(minutes),
        })),
        1 => Just(Fact::Promised(DueDate { by: time::macros::date!(2026 - 12 - 01), note: String::new() })),
        2 => (operation(), word(&["protect", "in", "bare", "new", "free-1", "over"]))
            .prop_map(|(operation, item)| Fact::Confirmed(ConfirmCommand { operation, item })),
        1 => (operation(), any::<bool>()).prop_map(|(operation, free)| {
            Fact::Turned(TurnEntry { operation, free, torque_nm: None, entered: None })
        }),
        1 => (operation(), word(&["rod-1", "rod-2"])).prop_map(|(operation, slot)| {
            Fact::Fitted(FitCommand { operation, slot, part: PartNote::default(), before: None })
        }),
        2 => (operation(), word(&["housing-1", "cam", "links"]), 10.0f64..120.0)
            .prop_map(|(operation, site, read)| Fact::Measured(MeasurementEntry {
                operation, site, place: 0, read, master: None, temperature_c: None, entered: None,
                unlikely: false, method: ReadingMethod::Typed, instrument: gauge(),
            })),
        3 => (operation(), word(&["A", "B", "1", "2", "3"]), 0usize..7, 10.0f64..90.0).prop_map(
            |(operation, fastener, stage, torque)| Fact::Pulled(PullEntry {
                operation, joint: None, adapter: None, stage, fastener,
                reading: ToolReading { torque_nm: Some(torque), angle_deg: Some(torque), height_mm: Some(torque),
                    ..ToolReading::default() },
                method: ReadingMethod::Typed, instrument: wrench(), note: None, })
        ),
        2 => (operation(), word(&["A", "B", "1", "2", "3"]), any::<bool>()).prop_map(
            |(operation, fastener, replaced)| Fact::Loosened(LooseningEntry {
                joint: None, operation, fastener, replaced, reason: "r".into(), left_mm: None, released_mm: None, instrument: None, with: None, })
        ),
        2 => (operation(), 0usize..6).prop_map(|(operation, stage)| Fact::Acted(ActionEntry {
            operation, joint: None, stage, except: Vec::new(), instrument: None, again: None, })),
        1 => operation().prop_map(|operation| Fact::Started(OperationStart { operation })),
        3 => (operation(), prop::collection::vec(operation(), 0..3))
            .prop_map(|(operation, also)| Fact::Signed(SignCommand { operation, also })),
        1 => operation().prop_map(|operation| Fact::Skipped(SkipCommand { operation, reason: "r".into() })),
        3 => seq().prop_map(|seq| Fact::Voided(VoidCommand { seq, reason: "r".into() })),
        1 => seq().prop_map(|seq| Fact::Accepted(ApproveCommand { seq, subject: None, reason: "r".into() })),
    ]
}

/// The plan of every way, whose stretched bolts are the pieces of a set.
pub(super) fn stretching() -> String {
    let of_set = "fastener = \"stretched\"\n  pattern";
    let text =
        super::ways::WAYS.replacen(of_set, "fastener = \"stretched\"\n  parts = \"set\"\n  pattern", 1);
    let climb = "name = \"Stretch\"";
    let text =
        text.replacen(climb, &format!("{climb}\n  zero = true\n  qualify = true\n  set = \"0.005 mm\""), 1);
    // Another joint of the kind begins at what the first one has shown.
    let (_, rest) = text.split_once("[[joint]]\nid = \"stretch\"").expect("the joint");
    let (joint, _) = rest.split_once("# A torque and an angle, and").expect("its end");
    let other = format!("\n[[joint]]\nid = \"other\"{}", joint.replace("Stretched rod", "Other rod"));
    text + &other
        + r#"
[[operation]]
id = "other"
name = "Other"
kind = "tighten"
joint = "other"

[[slot]]
id = "set"
name = "Set"
uses_allowed = 2

[[site]]
id = "length"
name = "Length"
count = 4
form = "length"
plausible = ["40 mm", "50 mm"]
part = "set"

[[operation]]
id = "take-in"
name = "Take in"
kind = "take-in"
slots = ["set"]

[[operation]]
id = "lengths"
name = "Lengths"
kind = "measure"
sites = ["length"]
"#
}

fn any_stretching() -> impl Strategy<Value = Fact> {
    let word = |words: &[&'static str]| prop::sample::select(words.to_vec()).prop_map(String::from);
    let bolt = || word(&["A", "B", "X"]);
    let operation = || word(&["stretch", "stretch", "stretch", "other", "take-in", "lengths", "sign"]);
    let seq = || 0u64..60;
    let lubricants = rigore_mechanics::friction::shipped();
    let lubricant = prop::sample::select(lubricants);
    let before = || {
        prop::option::of((0u32..4, 40.0f64..50.0).prop_map(|(uses, mm)| EarlierUse {
            engines: vec!["Another".into()],
            uses,
            scrap: if uses > 2 { vec!["is bent".into()] } else { Vec::new() },
            free: vec![FreeLength { piece: 1, mm }],
            ..EarlierUse::default()
        }))
    };
    prop_oneof![
        8 => (operation(), bolt(), 0usize..4, prop::option::of(0.1f64..90.0), prop::option::of(-0.1f64..0.3))
            .prop_map(|(operation, fastener, stage, torque_nm, stretch_mm)| Fact::Pulled(PullEntry {
                operation,
                joint: None,
                adapter: None,
                stage,
                fastener,
                reading: ToolReading { torque_nm, stretch_mm, ..ToolReading::default() },
                method: ReadingMethod::Typed,
                instrument: super::ways::tool(), note: None, })),
        2 => (operation(), bolt(), any::<bool>(), prop::option::of(-0.01f64..0.02)).prop_map(
            |(operation, fastener, replaced, left_mm)| Fact::Loosened(LooseningEntry {
                operation, joint: None, fastener, replaced, reason: "r".into(), released_mm: left_mm.map(|left| left.abs() * 8.0), left_mm, instrument: None, with: None, })
        ),
        1 => (operation(), lubricant, any::<bool>(), any::<bool>()).prop_map(
            |(operation, lubricant, converts, pulled_too)| Fact::Lubricated(Box::new(LubricantEntry {
                operation,
                joint: None,
                group: "bolts".into(),
                lubrication: Lubrication { thread: lubricant.clone(), bearing: lubricant },
                converts,
                pulled_too,
                reason: "r".into(),
            }))
        ),
        1 => (operation(), bolt()).prop_map(|(operation, fastener)| Fact::Allowed(FurtherPullEntry {
            operation, joint: None, fastener, utilisation: 1.0, reason: "r".into(),
        })),
        1 => (operation(), word(&["RB-1", "RB-2", ""]), before()).prop_map(|(operation, serial, before)| {
            let part = PartNote { reference: "b".into(), serial, ..PartNote::default() };
            Fact::Fitted(FitCommand { operation, slot: "set".into(), part, before })
        }),
        1 => (operation(), 0usize..4).prop_map(|(operation, piece)| Fact::PartRemarked(PartRemarkCommand {
            operation, slot: "set".into(), piece, kind: PartRemarkKind::Scrapped, text: "bent".into(),
        })),
        1 => (operation(), word(&["length-1", "length-2"]), 40.0f64..50.0).prop_map(|(operation, site, read)| {
            Fact::Measured(MeasurementEntry {
                operation, site, place: 0, read, master: None, temperature_c: None, entered: None,
                unlikely: false, method: ReadingMethod::Typed, instrument: gauge(),
            })
        }),
        1 => operation().prop_map(|operation| Fact::Signed(SignCommand::one(operation))),
        2 => seq().prop_map(|seq| Fact::Voided(VoidCommand { seq, reason: "r".into() })),
        1 => seq().prop_map(|seq| Fact::Accepted(ApproveCommand { seq, subject: None, reason: "r".into() })),
    ]
}

/// Folds facts onto a plan and looks at all that can be seen of it.
fn look(text: &str, facts: Vec<Fact>) -> Result<(), TestCaseError> {
    let shop = Shop::begun(text, None, wrench());
    let mut kept = BuildProjection::new(shop.state.clone());
    let (mut shown, mut lives) = (BTreeMap::new(), BTreeMap::new());
    let mut events = shop.events;
    for (seq, fact) in (2..).zip(facts) {
        let (at, by, command) =
            (OffsetDateTime::UNIX_EPOCH, person(Role::Bench), Uuid::from_u128(seq.into()));
        let event = Event { v: EVENT_FORMAT, seq, at, by, command, request: None, fact };
        let text = serde_json::to_string(&event).expect("an event is JSON");
        prop_assert_eq!(&serde_json::from_str::<Event>(&text).expect("and comes back"), &event);
        kept.apply(&event);
        events.push(event);
        let (shown_anew, lives_anew) = kept.take_changes();
        shown.extend(shown_anew.into_iter().map(|of| ((of.joint, of.round, of.fastener), of.bolts)));
        lives.extend(lives_anew.into_iter().map(|of| ((of.slot, of.piece), of.life)));
        prop_assert_eq!(kept.summary(), kept.state().summary(), "after {:?}", events.last());
    }
    let state = kept.state();
    // What is kept entry by entry beside the record is what a rebuild makes of it.
    shown.retain(|_, bolts| !bolts.is_empty());
    let all = state.shown().into_iter().filter(|of| !of.bolts.is_empty());
    let all: BTreeMap<_, _> = all.map(|of| ((of.joint, of.round, of.fastener), of.bolts)).collect();
    prop_assert_eq!(shown, all);
    lives.retain(|_, life| life.is_some());
    let all = state.part_lives().into_iter().filter(|of| of.life.is_some());
    let all: BTreeMap<_, _> = all.map(|of| ((of.slot, of.piece), of.life)).collect();
    prop_assert_eq!(lives, all);
    for at in state.plan.line() {
        let tools = ShopTools {
            instruments: &[wrench(), gauge()],
            settings: &std::collections::BTreeMap::new(),
            using: InstrumentUser::somebody(OffsetDateTime::UNIX_EPOCH),
        };
        let bench = state.bench(at, tools);
        prop_assert!(bench.operation.done <= bench.operation.total);
    }
    let folded = BuildState::fold(|_| Some(plan(text)), &events).expect("it was begun");
    prop_assert_eq!(folded.view(), state.view());
    let _ = (state.summary(), crate::sheet::BuildSheet::of(state));
    Ok(())
}

proptest! {
    #[test]
    fn any_tightening_folds_and_can_be_shown(facts in prop::collection::vec(any_tightening(), 0..60)) {
        look(SMALL, facts)?;
    }

    #[test]
    fn any_stretching_folds_and_what_is_kept_beside_it_follows(
        facts in prop::collection::vec(any_stretching(), 0..60),
    ) {
        look(&stretching(), facts)?;
    }

    #[test]
    fn any_line_folds_and_can_be_shown(facts in prop::collection::vec(any_line(), 0..70)) {
        look(super::between::LINE, facts)?;
    }

    #[test]
    fn any_preparation_folds_and_can_be_shown(facts in prop::collection::vec(any_preparation(), 0..80)) {
        look(super::measuring::PLAN, facts)?;
    }
}

#[test]
fn readings_recorded_under_older_names_keep_being_read() {
    let text = r#"{"type":"measured","operation":"measure","site":"journal-1","place":0,"read_mm":54.99,
        "method":"typed","instrument":{"id":"g","name":"G","accuracy_mm":0.002,"resolution_mm":0.001}}"#;
    let Ok(Fact::Measured(MeasurementEntry { read, instrument, .. })) = serde_json::from_str(text) else {
        panic!("{text}")
    };
    assert_eq!((read, instrument.accuracy, instrument.resolution), (54.99, 0.002, 0.001));
}

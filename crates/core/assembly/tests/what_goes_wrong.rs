//! A Tarn 5 built to its last signature although ten things go wrong on the way, each of which stops what it should
//! and nothing else.

mod builder;

use builder::{Builder, TARN};
use rigore_assembly::{
    BuildStatus, CommandAction, CountCommand, FindingCommand, FindingDecision, FindingDecisionCommand,
    FindingReviewCommand, FindingSubject, FitCommand, GivenReading, LoosenCommand, MeasureCommand,
    OperationStart, OperationStatus, PartNote, PullCommand, ReadingMethod, RefusalKind, Role, SignCommand,
    TemporaryItemCommand, TemporaryItemRemoval,
};
use time::Duration;

fn fastener(joint: &str, fastener: &str) -> FindingSubject {
    FindingSubject::Fastener { joint: joint.into(), fastener: fastener.into() }
}

fn pull(operation: &str, stage: usize, fastener: &str, text: &str, sure: bool) -> CommandAction {
    CommandAction::Pull(PullCommand {
        operation: operation.into(),
        joint: None,
        stage,
        fastener: fastener.into(),
        reading: GivenReading { text: Some(text.into()), ..GivenReading::default() },
        method: ReadingMethod::Typed,
        instrument: "all".into(),
        sure,
        note: None,
    })
}

fn loosen(operation: &str, fastener: &str, replaced: bool) -> CommandAction {
    CommandAction::Loosen(LoosenCommand {
        operation: operation.into(),
        fastener: fastener.into(),
        replaced,
        reason: "it has to be".into(),
        ..LoosenCommand::default()
    })
}

fn measure(operation: &str, site: &str, place: usize, text: &str) -> CommandAction {
    CommandAction::Measure(MeasureCommand {
        operation: operation.into(),
        site: site.into(),
        place,
        text: text.into(),
        unit: None,
        temperature_c: None,
        sure: true,
        method: ReadingMethod::Typed,
        instrument: "all".into(),
    })
}

fn fit(slot: &str) -> CommandAction {
    let part = PartNote { reference: "another".into(), ..PartNote::default() };
    CommandAction::Fit(FitCommand { operation: "take-in".into(), slot: slot.into(), part, before: None })
}

/// An engine that something goes wrong on.
struct Engine(Builder);

impl Engine {
    fn bench(&mut self, what: &CommandAction) {
        self.0.give(Role::Bench, what).unwrap_or_else(|refusal| panic!("{what:?}: {refusal}"));
    }

    fn lead(&mut self, what: &CommandAction) {
        self.0.give(Role::Lead, what).unwrap_or_else(|refusal| panic!("{what:?}: {refusal}"));
    }

    fn found(&mut self, operation: &str, about: FindingSubject, text: &str) -> u64 {
        self.bench(&CommandAction::Find(FindingCommand {
            operation: operation.into(),
            about,
            text: text.into(),
            picture: None,
        }));
        self.0.state.seq
    }

    fn decided(&mut self, seq: u64, decision: FindingDecision) {
        let reason = "looked at together".to_owned();
        self.lead(&CommandAction::DecideFinding(FindingDecisionCommand { seq, decision, reason }));
    }

    fn right(&mut self, seq: u64) {
        let text = "it is right now".to_owned();
        self.bench(&CommandAction::LookAgain(FindingReviewCommand { seq, right: true, text, picture: None }));
    }

    /// What is not as it was before something happened: operations that were done and are not, and those that
    /// could be worked on and cannot.
    fn stops(&mut self, happens: impl FnOnce(&mut Self)) -> Vec<String> {
        let before = self.0.standing();
        happens(self);
        let after = self.0.standing();
        let rank = |status: OperationStatus| match status {
            OperationStatus::Done => 2,
            OperationStatus::Held | OperationStatus::Waiting => 0,
            _ => 1,
        };
        let line = self.0.state.plan.line().map(|at| self.0.state.plan[at].id.clone());
        line.filter(|id| rank(after[id]) < rank(before[id])).collect()
    }
}

#[test]
#[expect(clippy::too_many_lines, reason = "one engine, from its bare block to the last signature")]
fn ten_things_go_wrong_and_each_stops_what_it_should_and_nothing_else() {
    let mut engine = Engine(Builder::begin(TARN, Some("street")));

    // 1. A bore is read again, and is not what it was.
    engine.0.go_on("caps-apart");
    let bore =
        engine.0.sizes[&engine.0.state.plan[engine.0.state.plan.site("main-housing-1").unwrap()].family];
    let stopped = engine.stops(|engine| {
        engine.bench(&measure("mains-measure", "main-housing-1", 0, &format!("{:.4}", bore + 0.05)));
    });
    // What rests on it waits, the rings and the rods do not.
    assert_eq!(stopped, ["mains-measure", "jets"]);
    assert_eq!(engine.0.whats().len(), 1, "{:?}", engine.0.whats());
    engine.bench(&measure("mains-measure", "main-housing-1", 0, &format!("{bore:.6}")));
    assert!(engine.0.whats().is_empty());

    // 2. A thread that the machine shop forgot.
    engine.0.go_on("main-caps-prepare");
    let mut seq = 0;
    let stopped = engine.stops(|engine| {
        seq = engine.found(
            "main-caps-prepare",
            fastener("main-caps", "4L"),
            "the thread comes out with the bolt",
        );
    });
    assert_eq!(stopped, ["main-caps-tighten"]);
    let start = CommandAction::Start(OperationStart { operation: "main-caps-tighten".into() });
    assert_eq!(engine.0.give(Role::Lead, &start).unwrap_err().kind, RefusalKind::NotYet);
    engine.decided(seq, FindingDecision::Mend);
    engine.right(seq);
    assert_eq!(engine.0.standing()["main-caps-tighten"], OperationStatus::Ready);

    // 3. A bolt is turned to its angle twice.
    let at = engine.0.at("main-caps-tighten");
    let angle = engine.0.state.plan[engine.0.state.plan.joint("main-caps").unwrap()]
        .stages
        .iter()
        .position(|stage| stage.name == "Angle")
        .unwrap();
    while !matches!(engine.0.next(at), Some(CommandAction::Pull(pull)) if pull.stage == angle) {
        let what = engine.0.next(at).unwrap();
        engine.bench(&what);
    }
    let Some(CommandAction::Pull(first)) = engine.0.next(at) else { panic!("a pull") };
    let (bolt, cap) = (first.fastener.clone(), first.fastener[..1].to_owned());
    engine.bench(&CommandAction::Pull(first));
    let again = pull("main-caps-tighten", angle, &bolt, "50", false);
    assert_eq!(engine.0.give(Role::Bench, &again).unwrap_err().kind, RefusalKind::Ask);
    let stopped = engine.stops(|engine| engine.bench(&pull("main-caps-tighten", angle, &bolt, "50", true)));
    assert_eq!(stopped, ["main-caps-tighten"]);
    assert!(engine.0.whats()[0].starts_with(&format!("{bolt}: 100°")), "{:?}", engine.0.whats());
    engine.bench(&loosen("main-caps-tighten", &bolt, true));
    // A new bolt: the bore of its cap is measured again, and no other.
    let Some(CommandAction::Measure(open)) = engine.0.next(engine.0.at("mains-measure")) else {
        panic!("a measure")
    };
    assert_eq!(open.site, format!("main-housing-{cap}"));
    let view = engine.0.state.view().operations.into_iter().find(|view| view.id == "mains-measure").unwrap();
    assert_eq!((view.done, view.total), (52, 54));
    engine.0.go_on("main-caps-turn");
    engine.0.go_on("thrust-measure");

    // 4. A cap is swapped: its trial, its bore, that it is in, and the turn; the other caps stay as they are.
    let stopped = engine.stops(|engine| engine.bench(&fit("main-cap-2")));
    // What was done on it, and what comes next: the list of parts is signed anew before anybody goes on.
    let done = ["take-in", "caps-trial", "mains-measure", "crank-in", "main-caps-turn"];
    assert_eq!(stopped, [&done[..], &["rear-carrier", "pistons-prepare"]].concat());
    let view = engine.0.state.view();
    let mains = view.operations.iter().find(|view| view.id == "mains-measure").unwrap();
    assert_eq!(
        (mains.total - mains.done, mains.again.as_slice()),
        (2, &["another Main cap 2 is in".to_owned()][..])
    );

    // 5. A rag is left where it was put, and asked for before the head closes over it.
    engine.0.go_on("head-gasket");
    let what = "rag in the oil gallery".to_owned();
    let stopped = engine.stops(|engine| {
        engine.bench(&CommandAction::PutIn(TemporaryItemCommand {
            operation: "head-gasket".into(),
            what,
            count: 1,
        }));
    });
    assert_eq!(stopped, ["head-tighten", "pan-seal"], "nothing is closed over it");
    let seq = engine.0.state.seq;
    engine.bench(&CommandAction::TakeOut(TemporaryItemRemoval { operation: "head-gasket".into(), seq }));

    // 6. The head is lifted once more: a new gasket, and all nuts again.
    engine.0.go_on("head-tighten");
    let nuts = engine.0.state.plan[engine.0.state.plan.joint("head").unwrap()].fasteners.clone();
    let stopped = engine.stops(|engine| {
        for nut in &nuts {
            engine.bench(&loosen("head-tighten", &nut.id, false));
        }
    });
    assert_eq!(stopped, ["head-gasket", "head-tighten", "cams-lay", "exhaust"]);

    // 7. The gasket lay the wrong way round, and that is found late.
    engine.0.go_on("cams-lay");
    let mut seq = 0;
    let stopped = engine.stops(|engine| {
        let about = FindingSubject::Part { slot: "head-gasket".into() };
        seq = engine.found("cams-lay", about, "its tab looks out at the rear");
    });
    // It holds the operation that laid it, and what comes after that.
    assert_eq!(stopped, ["head-gasket", "cam-caps-tighten", "exhaust"]);
    // The pan waits for something else: the crank's stop is in.
    let view = engine.0.state.view();
    let pan = view.operations.iter().find(|view| view.id == "pan-seal").unwrap();
    assert_eq!(pan.waits_for, ["Crank stop pin to be removed"]);
    engine.decided(seq, FindingDecision::Change);
    for nut in &nuts {
        engine.bench(&loosen("head-tighten", &nut.id, false));
    }
    engine.bench(&fit("head-gasket"));
    engine.right(seq);
    engine.0.go_on("head-tighten");
    assert!(engine.0.whats().is_empty());

    // 8. One tooth off.
    engine.0.go_on("drive-fit");
    let stopped = engine.stops(|engine| {
        engine.bench(&measure("timing-count", "links-exhaust", 0, "31"));
        engine.bench(&measure("timing-count", "links-cams", 0, "12"));
    });
    assert_eq!(stopped, ["timing-count"]);
    assert_eq!(engine.0.whats(), ["Links, cam to cam 1: 12, max 11"]);
    engine.bench(&measure("timing-count", "links-cams", 0, "11"));

    // 9. The last pan bolts come after the sealant's time.
    engine.0.go_on("lash-measure");
    let at = engine.0.at("pan-seal");
    for _ in 0..30 {
        let what = engine.0.next(at).unwrap();
        engine.bench(&what);
    }
    assert!(!engine.0.state.clocks().is_empty());
    engine.0.now += Duration::minutes(13);
    let next = engine.0.next(at).unwrap();
    let stopped = engine.stops(|engine| engine.bench(&next));
    assert_eq!(stopped, ["pan-seal"]);
    assert!(engine.0.whats()[0].contains("after the sealant, which stays open for 12 min"));
    while let Some(what) = engine.0.next(at) {
        engine.bench(&what);
    }
    for issue in engine.0.state.issues() {
        let accept = rigore_assembly::ApproveCommand {
            seq: issue.seq,
            subject: issue.subject,
            reason: "the maker of the sealant gives 20 min at this temperature".into(),
        };
        engine.lead(&CommandAction::Accept(accept));
    }

    // 10. A washer is left over when the hardware is counted back: one is missing under a nut.
    engine.0.go_on("long-turn");
    engine.0.go_on("tight-measure");
    let at = engine.0.at("hardware-back");
    while let Some(mut what) = engine.0.next(at) {
        if let CommandAction::Count(CountCommand { hardware, count, .. }) = &mut what
            && hardware == "head-washer"
        {
            *count += 1;
        }
        engine.bench(&what);
    }
    assert_eq!(engine.0.standing()["hardware-back"], OperationStatus::Held);
    let sign = CommandAction::Sign(SignCommand::one("hardware-back"));
    assert_eq!(engine.0.give(Role::Lead, &sign).unwrap_err().kind, RefusalKind::NotYet);
    let count = CountCommand { operation: "hardware-back".into(), hardware: "head-washer".into(), count: 0 };
    engine.bench(&CommandAction::Count(count));

    engine.0.go_on("sign-off");
    assert_eq!(engine.0.state.view().status, BuildStatus::Finished, "{:?}", engine.0.standing());
    assert!(engine.0.state.issues().is_empty());
    assert_eq!(engine.0.state.finding_views().len(), 2);
}

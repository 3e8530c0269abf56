//! The store on a real PostgreSQL: nothing acknowledged is lost, doubled or changed unseen.

use rigore_assembly::{
    BuildStart, BuildState, Command, CommandAction, Fact, FitCommand, GivenReading, Instrument,
    MeasureCommand, PartNote, Person, PlanRef, PullCommand, ReadingMethod, Refusal, RefusalKind, Role,
    ShellChoiceCommand, SignCommand, VoidCommand, WrenchSettingCommand,
};
use rigore_plan::Plan;
use rigore_store::cluster::Cluster;
use rigore_store::{BuildOrder, ListQuery, PageCursor, RecordedCommand, Roster, Scratch, Store, StoreError};
use std::time::Duration;
use time::OffsetDateTime;
use uuid::Uuid;

const SMALL: &str = include_str!("../../../core/plan/tests/small-plan.toml");

/// Somebody with a wrench at one build.
#[derive(Clone)]
pub struct Bench {
    pub store: Store,
    build: Uuid,
    roster: Roster,
    by: Person,
}

impl Bench {
    pub async fn begun(store: Store) -> Self {
        Self::begun_to("small-plan.toml", SMALL, store).await
    }

    pub async fn begun_to(file: &str, source: &str, store: Store) -> Self {
        let plan = Plan::read(file, source).expect("a plan");
        let row = store.add_plan(source, &plan).await.expect("a stored plan");
        let by = Person { id: "lead".into(), name: "Lead".into(), role: Role::Lead };
        let wrench = Instrument {
            id: "w".into(),
            name: "Wrench".into(),
            serial: "1".into(),
            torque_nm: Some([5.0, 200.0]),
            angle: true,
            length_mm: Some([0.0, 100.0]),
            resolution: 0.001,
            ..Instrument::default()
        };
        let roster = Roster { people: vec![by.clone()], instruments: vec![wrench] };
        let bench = Self { store, build: Uuid::now_v7(), roster, by };
        let plan = PlanRef { hash: row.hash, id: row.id, name: row.name };
        bench.begin("Test", plan).await.expect("begun");
        bench
    }

    /// Somebody else at the same build, in another process.
    pub fn beside(of: &Self, store: Store) -> Self {
        Self { store, build: of.build, roster: of.roster.clone(), by: of.by.clone() }
    }

    /// The id of the build.
    pub fn build(&self) -> Uuid {
        self.build
    }

    /// The build as it is now.
    pub async fn state(&self) -> BuildState {
        self.store.read(self.build, BuildState::clone).await.expect("read")
    }

    async fn begin(&self, name: &str, plan: PlanRef) -> Result<RecordedCommand, StoreError> {
        let wanted = BuildStart {
            name: name.into(),
            plan,
            use_for: None,
            owner: None,
            identity: None,
            lubricants: None,
            decision_rule: None,
        };
        self.store.begin(self.build, &self.by, OffsetDateTime::now_utc(), self.build, &wanted).await
    }

    pub async fn give(&self, what: CommandAction) -> Result<RecordedCommand, StoreError> {
        self.send(&Command { id: Uuid::now_v7(), seen: u64::MAX >> 1, action: what }).await
    }

    pub async fn send(&self, command: &Command) -> Result<RecordedCommand, StoreError> {
        self.send_at(OffsetDateTime::now_utc(), command).await
    }

    /// Records something when the shop's clock shows a time.
    pub async fn send_at(
        &self,
        at: OffsetDateTime,
        command: &Command,
    ) -> Result<RecordedCommand, StoreError> {
        self.store.record(self.build, &self.by, &self.roster, at, command).await
    }

    pub async fn seq(&self) -> u64 {
        self.store.read(self.build, |state| state.seq).await.expect("a build")
    }
}

pub fn pull(fastener: &str) -> CommandAction {
    CommandAction::Pull(PullCommand {
        operation: "tighten".into(),
        joint: None,
        stage: 0,
        fastener: fastener.into(),
        reading: GivenReading { text: Some("30".into()), ..GivenReading::default() },
        method: ReadingMethod::Typed,
        instrument: "w".into(),
        sure: false,
        note: None,
    })
}

pub fn everything() -> ListQuery {
    ListQuery { limit: 100, ..ListQuery::default() }
}

pub async fn scratch() -> (Scratch, Store) {
    let scratch = Scratch::new().await.expect("a database");
    let store = Store::connect(&scratch.url, 8).await.expect("a store");
    (scratch, store)
}

#[tokio::test]
async fn the_same_command_twice_is_one_event_and_one_answer() {
    let (_scratch, store) = scratch().await;
    let bench = Bench::begun(store.clone()).await;
    let command = Command { id: Uuid::now_v7(), seen: 1, action: pull("2L") };
    let (first, second) = tokio::join!(bench.send(&command), bench.send(&command));
    let (first, second) = (first.expect("recorded"), second.expect("answered"));
    assert_eq!((first.seq, &first.texts), (second.seq, &second.texts));
    assert_ne!(first.repeated, second.repeated);
    assert_eq!(bench.seq().await, 2);
}

#[tokio::test]
async fn builds_that_are_not_there_take_no_room_in_memory() {
    let (_scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    bench.give(pull("2L")).await.expect("recorded");
    for _ in 0..100 {
        let unknown = bench.store.read(Uuid::now_v7(), |state| state.seq).await;
        assert!(matches!(unknown, Err(StoreError::NotThere(_))), "{unknown:?}");
    }
    assert_eq!(bench.store.in_memory().await, 1);
    assert_eq!(bench.store.commits().0, 2, "it was begun, and pulled once");
}

#[tokio::test]
async fn a_build_begun_from_two_screens_at_once_is_begun_once() {
    let (_scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let wanted = bench.store.events(bench.build).await.expect("entries").remove(0);
    let Fact::Begun(begin) = wanted.fact else { panic!("it was begun") };
    // Both are in one batch of the writer only now and then.
    for _ in 0..30 {
        let (build, now) = (Uuid::now_v7(), OffsetDateTime::now_utc());
        let begun = || bench.store.begin(build, &bench.by, now, build, &begin);
        let (first, second) = tokio::join!(begun(), begun());
        let (first, second) = (first.expect("begun"), second.expect("answered"));
        assert_eq!((first.seq, &first.texts), (second.seq, &second.texts));
        assert_ne!(first.repeated, second.repeated);
    }
}

#[tokio::test]
async fn two_processes_append_to_one_build_without_losing_or_doubling() {
    let (scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let other = Store::connect(&scratch.url, 4).await.expect("another process");
    let twin = Bench { store: other, build: bench.build, roster: bench.roster.clone(), by: bench.by.clone() };
    let (ours, theirs) = tokio::join!(
        async {
            for _ in 0..25 {
                bench.give(pull("2L")).await.expect("recorded");
            }
        },
        async {
            for _ in 0..25 {
                twin.give(pull("2R")).await.expect("recorded");
            }
        }
    );
    let ((), ()) = (ours, theirs);
    assert_eq!(bench.seq().await, 51);
    let (builds, entries, broken) = bench.store.verify().await.expect("walked");
    assert_eq!((builds, entries, broken), (1, 51, vec![]));
}

#[tokio::test]
async fn another_process_hears_of_an_entry() {
    let (scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let other = Store::connect(&scratch.url, 4).await.expect("another process");
    let mut signals = other.subscribe();
    let heard = tokio::time::timeout(Duration::from_secs(10), async {
        loop {
            // Listening starts in the background: pull until it is heard.
            bench.give(pull("2L")).await.expect("recorded");
            if let Ok(Ok(signal)) = tokio::time::timeout(Duration::from_millis(200), signals.recv()).await {
                return signal.build;
            }
        }
    });
    assert_eq!(heard.await.expect("heard in time"), bench.build);
}

#[tokio::test]
async fn a_refused_command_records_nothing() {
    let (_scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    let refused = bench.give(CommandAction::Sign(SignCommand::one("tighten"))).await.unwrap_err();
    assert!(matches!(refused, StoreError::Refused(Refusal { kind: RefusalKind::NotYet, .. })));
    let missing = bench.store.read(Uuid::now_v7(), |_| ()).await.unwrap_err();
    assert!(matches!(missing, StoreError::NotThere(_)));
    assert_eq!(bench.seq().await, 1);
}

#[tokio::test]
async fn a_changed_entry_a_missing_entry_and_a_cut_off_end_are_found() {
    for (tamper, seq, says) in [
        ("UPDATE events SET body = replace(body, '30', '31') WHERE seq = 3", 3, "does not match its hash"),
        ("DELETE FROM events WHERE seq = 2", 2, "is missing"),
        ("DELETE FROM events WHERE seq = 4", 4, "missing at the end"),
    ] {
        let (scratch, store) = scratch().await;
        let bench = Bench::begun(store).await;
        for fastener in ["2L", "2R", "1L"] {
            bench.give(pull(fastener)).await.expect("recorded");
        }
        let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
        let refused = sqlx::raw_sql(tamper).execute(&pool).await.unwrap_err();
        assert!(refused.to_string().contains("never changed"), "{refused}");
        sqlx::raw_sql("ALTER TABLE events DISABLE TRIGGER events_stay")
            .execute(&pool)
            .await
            .expect("a superuser can");
        sqlx::raw_sql(tamper).execute(&pool).await.expect("tampered");
        let (_, _, broken) = bench.store.verify().await.expect("walked");
        assert_eq!(broken.len(), 1);
        assert_eq!((broken[0].build, broken[0].seq), (bench.build, seq));
        assert!(broken[0].what.contains(says), "{}", broken[0].what);
    }
}

#[tokio::test]
async fn sizes_read_anew_from_the_record_lead_to_the_same_clearances() {
    const MEASURE: &str = include_str!("../../../core/plan/tests/measure-plan.toml");
    let (scratch, store) = scratch().await;
    let mut bench = Bench::begun_to("measure-plan.toml", MEASURE, store).await;
    let gauge = Instrument {
        id: "g".into(),
        name: "Gauge".into(),
        length_mm: Some([0.0, 100.0]),
        accuracy: 0.002,
        resolution: 0.001,
        ..Instrument::default()
    };
    bench.roster.instruments.push(gauge);
    // Figures that no short decimal stands for have to come back to the last bit.
    for (site, places, size) in [("journal-1", 2, 54.99 + 1.0 / 3e3), ("housing-1", 1, 58.994 + 1.0 / 7e3)] {
        for place in 0..places {
            let what = CommandAction::Measure(MeasureCommand {
                operation: "measure".into(),
                site: site.into(),
                place,
                text: format!("{size:.17}"),
                unit: None,
                temperature_c: Some(21.7),
                sure: false,
                method: ReadingMethod::Typed,
                instrument: "g".into(),
            });
            bench.give(what).await.expect("recorded");
        }
    }
    let (upper, lower) = ("B".to_owned(), "C".to_owned());
    let (operation, clearance) = ("measure".to_owned(), "oil".to_owned());
    let choice = ShellChoiceCommand { operation, clearance, number: 1, upper, lower };
    bench.give(CommandAction::ChooseShells(choice)).await.expect("chosen");
    let look = |state: &rigore_assembly::BuildState| (state.view(), state.clearances(None));
    let kept = bench.store.read(bench.build, look).await.expect("in memory");
    let other = Store::connect(&scratch.url, 2).await.expect("another process");
    let anew = other.read(bench.build, look).await.expect("read anew");
    assert_eq!(kept, anew);
    assert!(anew.1[0].span.is_some());
    assert_eq!(bench.store.verify().await.expect("walked").2, vec![]);
}

#[tokio::test]
async fn a_build_that_was_refused_is_not_begun_and_takes_the_plan_it_is_begun_on() {
    const MEASURE: &str = include_str!("../../../core/plan/tests/measure-plan.toml");
    let (_scratch, store) = scratch().await;
    let mut bench = Bench::begun(store.clone()).await;
    let mut plans = Vec::new();
    for source in [SMALL, MEASURE] {
        let plan = Plan::read("plan.toml", source).expect("a plan");
        let row = store.add_plan(source, &plan).await.expect("stored");
        plans.push(PlanRef { hash: row.hash, id: row.id, name: row.name });
    }
    bench.build = Uuid::now_v7();
    let refused = bench.begin(" ", plans[0].clone()).await.unwrap_err();
    assert!(matches!(refused, StoreError::Refused(Refusal { field: Some("name"), .. })));
    let look = |state: &rigore_assembly::BuildState| state.plan.id.clone();
    let never = store.read(bench.build, look).await.unwrap_err();
    assert!(matches!(never, StoreError::NotThere(_)), "a build that was never begun is not there");
    let command = bench.give(pull("2L")).await.unwrap_err();
    assert!(matches!(command, StoreError::NotThere(_)));
    bench.begin("Measure", plans[1].clone()).await.expect("begun");
    assert_eq!(store.read(bench.build, look).await.expect("read"), "measure");
    // The same command again is the same answer; another one finds it begun.
    assert!(bench.begin("Measure", plans[1].clone()).await.expect("answered").repeated);
    let wanted = BuildStart {
        name: "Other".into(),
        plan: plans[0].clone(),
        use_for: None,
        owner: None,
        identity: None,
        lubricants: None,
        decision_rule: None,
    };
    let other = store.begin(bench.build, &bench.by, OffsetDateTime::now_utc(), Uuid::now_v7(), &wanted).await;
    assert!(matches!(other.unwrap_err(), StoreError::Refused(Refusal { kind: RefusalKind::Stale, .. })));
}

#[tokio::test]
async fn commands_on_many_builds_at_once_are_written_together_and_each_once() {
    let (_scratch, store) = scratch().await;
    let mut benches = Vec::new();
    for _ in 0..12 {
        benches.push(Bench::begun(store.clone()).await);
    }
    // Twice each: the second sending of a command is answered, not written.
    let commands: Vec<Command> =
        benches.iter().map(|_| Command { id: Uuid::now_v7(), seen: 9, action: pull("2L") }).collect();
    let sent =
        benches.iter().zip(&commands).flat_map(|(bench, command)| [bench.send(command), bench.send(command)]);
    let answers = futures::future::join_all(sent).await;
    assert!(answers.iter().all(Result::is_ok));
    assert_eq!(answers.iter().flatten().filter(|answer| answer.repeated).count(), 12);
    for bench in &benches {
        assert_eq!(bench.seq().await, 2);
    }
    assert_eq!(store.verify().await.expect("walked"), (12, 24, vec![]));
}

#[tokio::test]
async fn engines_are_found_by_name_owner_number_and_the_serials_of_their_parts() {
    const MEASURE: &str = include_str!("../../../core/plan/tests/measure-plan.toml");
    let (_scratch, store) = scratch().await;
    let mut bench = Bench::begun_to("measure-plan.toml", MEASURE, store.clone()).await;
    let of = store.read(bench.build, |state| state.begun.plan.clone()).await.expect("a build");
    for (name, owner, identity) in
        [("Harbour 7", "North pier", "H-0007"), ("Harbour 8", "50 % club", "H-0008")]
    {
        bench.build = Uuid::now_v7();
        let (owner, identity) = (Some(owner.into()), Some(identity.into()));
        let wanted = BuildStart {
            name: name.into(),
            plan: of.clone(),
            use_for: None,
            owner,
            identity,
            lubricants: None,
            decision_rule: None,
        };
        let at = OffsetDateTime::now_utc();
        store.begin(bench.build, &bench.by, at, bench.build, &wanted).await.expect("begun");
    }
    let part = PartNote { reference: "rod".into(), serial: "PT5-R-081".into(), ..PartNote::default() };
    let fit = FitCommand { operation: "take-in".into(), slot: "rod-1".into(), part, before: None };
    let fitted = bench.give(CommandAction::Fit(fit)).await.expect("fitted");
    let found = async |find: &str| {
        let list = store
            .list(&ListQuery { find: find.into(), limit: 9, ..ListQuery::default() })
            .await
            .expect("a list");
        list.rows.into_iter().map(|row| row.summary.name).collect::<Vec<_>>()
    };
    assert_eq!(found("harbour").await.len(), 2);
    assert_eq!(found("NORTH").await, ["Harbour 7"]);
    assert_eq!(found("h-0008").await, ["Harbour 8"]);
    assert_eq!(found("pt5-r-081").await, ["Harbour 8"]);
    assert_eq!(found("pier harbour").await, ["Harbour 7"], "every word, in whatever order");
    assert_eq!(found("50 % club").await, ["Harbour 8"], "signs of a pattern are letters like any other");
    assert_eq!(found("h_0008").await, Vec::<String>::new());
    // A part taken back is not found any more; nobody loses it from the record.
    let seq = fitted.seq;
    bench.give(CommandAction::Void(VoidCommand { seq, reason: "another rod".into() })).await.expect("voided");
    assert_eq!(found("pt5-r-081").await, Vec::<String>::new());
}

#[tokio::test]
async fn engines_are_in_the_order_that_people_count_in_over_all_pages() {
    let (_scratch, store) = scratch().await;
    let mut bench = Bench::begun(store.clone()).await;
    let of = store.read(bench.build, |state| state.begun.plan.clone()).await.expect("a build");
    for name in ["Pier no. 11", "pier no. 9", "Pier no. 2", "Pier no. 9"] {
        bench.build = Uuid::now_v7();
        bench.begin(name, of.clone()).await.expect("begun");
    }
    let page = async |order: BuildOrder, limit: u32, after: Option<PageCursor>| {
        let list =
            store.list(&ListQuery { order, limit, after, ..ListQuery::default() }).await.expect("a list");
        let place = list.rows.last().map(|row| row.place.clone());
        (list.rows.into_iter().map(|row| row.summary.name).collect::<Vec<_>>(), place)
    };
    for (order, all) in [
        (BuildOrder::Name, ["Pier no. 2", "pier no. 9", "Pier no. 9", "Pier no. 11", "Test"]),
        (BuildOrder::LastWork, ["Pier no. 9", "Pier no. 2", "pier no. 9", "Pier no. 11", "Test"]),
    ] {
        let (mut named, mut after) = (Vec::new(), None);
        loop {
            let (names, place) = page(order, 2, after.take()).await;
            if names.is_empty() {
                break;
            }
            named.extend(names);
            after = place.map(|place| place.to_string().parse().expect("a place"));
        }
        assert_eq!(named, all, "{order:?}");
    }
}

#[tokio::test]
async fn what_a_wrench_is_set_to_is_known_at_every_engine_and_made_again_from_the_events() {
    let (scratch, store) = scratch().await;
    let mut one = Bench::begun(store).await;
    one.roster.instruments[0].clicks = true;
    let mut other = Bench::begun(Store::connect(&scratch.url, 4).await.expect("a second process")).await;
    other.roster = one.roster.clone();
    let CommandAction::Pull(pulled) = pull("2L") else { unreachable!("a pull") };
    let click = || CommandAction::Pull(PullCommand { method: ReadingMethod::Clicked, ..pulled.clone() });
    let set = |text: &str| {
        let (operation, instrument) = ("tighten".into(), "w".into());
        CommandAction::SetWrench(WrenchSettingCommand {
            operation,
            instrument,
            text: text.into(),
            unit: None,
        })
    };
    assert!(matches!(one.give(click()).await, Err(StoreError::Refused(_))), "nobody set it");
    one.give(set("30")).await.expect("set");
    other.give(click()).await.expect("heard at another engine, in another process");
    other.give(set("44")).await.expect("set again");
    assert!(matches!(one.give(click()).await, Err(StoreError::Refused(_))), "it is at 44 now");
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    sqlx::raw_sql("TRUNCATE wrench_settings").execute(&pool).await.expect("lost");
    one.store.rebuild().await.expect("rebuilt");
    assert_eq!(one.store.settings().await.expect("settings"), [("w".to_owned(), 44.0)].into());
}

#[tokio::test]
async fn lists_are_made_again_from_the_events() {
    let (scratch, store) = scratch().await;
    let bench = Bench::begun(store).await;
    bench.give(pull("2L")).await.expect("recorded");
    let before = bench.store.list(&everything()).await.expect("a list");
    let pool = sqlx::PgPool::connect(&scratch.url).await.expect("a connection");
    sqlx::raw_sql("UPDATE builds SET summary = '{}', seq = 0").execute(&pool).await.expect("spoiled");
    assert_eq!(bench.store.rebuild().await.expect("rebuilt"), (1, vec![]));
    assert_eq!(bench.store.list(&everything()).await.expect("a list"), before);
}

#[tokio::test]
async fn a_database_that_crashes_between_pulls_loses_no_acknowledged_pull() {
    let folder = tempfile::Builder::new().prefix("rigore-crash").tempdir().expect("a folder");
    let cluster = Cluster::start(folder.path()).expect("a cluster");
    let bench = Bench::begun(Store::connect(&cluster.url(), 4).await.expect("a store")).await;
    bench.give(pull("2L")).await.expect("recorded");
    cluster.crash().expect("crashed");
    let command = Command { id: Uuid::now_v7(), seen: 9, action: pull("2R") };
    assert!(matches!(bench.send(&command).await.unwrap_err(), StoreError::Unavailable(_)));
    cluster.start_again().expect("started again");
    let recorded = loop {
        match bench.send(&command).await {
            Ok(recorded) => break recorded,
            Err(StoreError::Unavailable(_)) => tokio::time::sleep(Duration::from_millis(50)).await,
            Err(error) => panic!("{error}"),
        }
    };
    assert_eq!(recorded.texts.len(), 1);
    assert_eq!(bench.seq().await, 3);
    let (_, entries, broken) = bench.store.verify().await.expect("walked");
    assert_eq!((entries, broken), (3, vec![]));
}

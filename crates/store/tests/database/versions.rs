//! Versions of plans, and engines that go on by another one, in several processes.

use crate::record::Bench;
use rigore_assembly::{
    BuildState, CommandAction, GivenReading, PlanMoveCommand, PullCommand, ReadingMethod, RefusalKind,
};
use rigore_plan::Plan;
use rigore_store::{ListQuery, NewVersion, Scratch, Store, StoreError};

const SMALL: &str = include_str!("../../../core/plan/tests/small-plan.toml");

fn pull(fastener: &str, text: &str) -> CommandAction {
    CommandAction::Pull(PullCommand {
        operation: "tighten".into(),
        joint: None,
        stage: 0,
        fastener: fastener.into(),
        reading: GivenReading { text: Some(text.into()), ..GivenReading::default() },
        method: ReadingMethod::Typed,
        instrument: "w".into(),
        sure: true,
        note: None,
    })
}

async fn keep(store: &Store, source: &str) -> String {
    let plan = Plan::read("plan", source).expect("a plan");
    let version = NewVersion { source, plan: &plan, by: "Lead", why: "tried", warnings: 0 };
    store.keep_version(version).await.expect("kept").hash
}

#[tokio::test]
async fn an_engine_that_moved_is_the_same_in_every_process_and_after_its_lists_are_made_again() {
    let scratch = Scratch::new().await.expect("a database");
    let store = Store::connect(&scratch.url, 4).await.expect("a store");
    let other = Store::connect(&scratch.url, 4).await.expect("another process");
    let bench = Bench::begun_to("small-plan.toml", SMALL, store).await;
    let looking = Bench::beside(&bench, other);
    bench.give(pull("1L", "30")).await.expect("pulled");
    assert_eq!(looking.state().await.seq, bench.state().await.seq, "both have it in memory");
    let renamed = SMALL.replacen("name = \"", "name = \"New ", 1);
    let hash = keep(&bench.store, &renamed).await;
    assert_eq!(keep(&bench.store, &renamed).await, hash, "kept twice it is one version");
    let id = bench.state().await.plan.id.clone();
    let versions = bench.store.plan_versions(&id).await.expect("versions");
    assert_eq!(versions.iter().map(|version| version.number).collect::<Vec<_>>(), [2, 1]);
    let to = CommandAction::MoveTo(PlanMoveCommand { plan: hash.clone(), reason: "another name".into() });
    bench.give(to.clone()).await.expect("moved");
    let again = looking.give(to).await.expect_err("it goes by that already");
    assert!(
        matches!(&again, StoreError::Refused(refusal) if refusal.kind == RefusalKind::Stale),
        "{again:?}"
    );
    // Whoever had it in memory folds it anew, and goes on.
    looking.give(pull("2L", "30")).await.expect("pulled");
    let (here, there) = (bench.state().await, looking.state().await);
    assert_eq!((here.view(), here.summary()), (there.view(), there.summary()));
    assert_eq!(here.plan_ref.hash, hash);
    let listed = |store: &Store| {
        let store = store.clone();
        async move { store.list(&ListQuery::default()).await.expect("listed").rows }
    };
    let before = listed(&bench.store).await;
    assert_eq!(bench.store.engines_by_plan().await.expect("counted"), [(hash, 1)]);
    bench.store.rebuild().await.expect("made again");
    assert_eq!(listed(&bench.store).await, before);
    // A text may come back: it is the next version then.
    keep(&bench.store, SMALL).await;
    let versions = bench.store.plan_versions(&id).await.expect("versions");
    assert_eq!(versions.len(), 3);
    assert_eq!(versions[0].hash, versions[2].hash);
    let _: BuildState = bench.state().await;
}

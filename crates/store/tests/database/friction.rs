//! What bolts have shown of their friction, kept beside the record and made again from it.

use crate::record::{Bench, scratch};
use rigore_assembly::{CommandAction, GivenReading, LoosenCommand, PullCommand, ReadingMethod, VoidCommand};

const WAYS: &str = include_str!("../../../core/plan/tests/ways-plan.toml");

fn pull(stage: usize, fastener: &str, text: &str) -> CommandAction {
    CommandAction::Pull(PullCommand {
        operation: "stretch".into(),
        joint: None,
        stage,
        fastener: fastener.into(),
        reading: GivenReading { text: Some(text.into()), ..GivenReading::default() },
        method: ReadingMethod::Typed,
        instrument: "w".into(),
        sure: true,
        note: None,
    })
}

#[tokio::test]
async fn it_follows_every_entry_and_a_rebuild_changes_nothing() {
    let (_scratch, store) = scratch().await;
    let bench = Bench::begun_to("ways-plan.toml", WAYS, store).await;
    for (stage, text) in [(0, "23"), (1, "0.107"), (0, "32.2"), (1, "0.150")] {
        bench.give(pull(stage, "A", text)).await.expect("kept");
    }
    bench.give(pull(0, "B", "23")).await.expect("kept");
    assert_eq!(bench.store.shown().await.expect("rows").len(), 1, "no stretch, no friction");
    let last = bench.give(pull(1, "B", "0.099")).await.expect("kept").seq;
    let frictions = bench.store.frictions().await.expect("a table");
    assert_eq!((frictions.len(), frictions[0].measured.all.count), (1, 2));
    assert!((frictions[0].measured.all.median - 0.120).abs() < 0.002, "{frictions:?}");
    let kept = bench.store.shown().await.expect("rows");
    bench.store.rebuild().await.expect("made again");
    assert_eq!(bench.store.shown().await.expect("rows"), kept);
    // A reading that does not count, and a new bolt.
    bench
        .give(CommandAction::Void(VoidCommand { seq: last, reason: "slipped".into() }))
        .await
        .expect("voided");
    assert_eq!(bench.store.shown().await.expect("rows").len(), 1);
    let loosen = LoosenCommand {
        operation: "stretch".into(),
        fastener: "A".into(),
        replaced: true,
        ..LoosenCommand::default()
    };
    bench
        .give(CommandAction::Loosen(LoosenCommand { reason: "nicked".into(), ..loosen }))
        .await
        .expect("loosened");
    for (stage, text) in [(0, "23"), (1, "0.100")] {
        bench.give(pull(stage, "A", text)).await.expect("kept");
    }
    let kept = bench.store.shown().await.expect("rows");
    // The latest first: each bolt has the time of its own last reading.
    assert_eq!(kept.iter().map(|row| row.bolt.bolt).collect::<Vec<_>>(), [1, 0]);
    assert!(kept[0].bolt.at > kept[1].bolt.at, "{kept:?}");
    bench.store.rebuild().await.expect("made again");
    assert_eq!(bench.store.shown().await.expect("rows"), kept);
}

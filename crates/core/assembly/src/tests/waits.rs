//! What work waits for outside of the bench, what that leaves to do, and how long things took.

use super::between::shop;
use super::*;
use time::macros::date;

fn wait(kind: BlockerKind, what: &str, (slot, operation): (Option<&str>, Option<&str>)) -> CommandAction {
    let (slot, operation) = (slot.map(Into::into), operation.map(Into::into));
    CommandAction::Await(BlockerCommand {
        kind,
        what: what.into(),
        slot,
        operation,
        expected: Some(date!(1970 - 01 - 05)),
    })
}

/// The outlook kept entry by entry, which is what it is computed anew.
fn outlook(shop: &Shop) -> BuildOutlook {
    let mut kept = BuildProjection::new(
        BuildState::fold(|_| Some(Arc::clone(&shop.state.plan)), &shop.events[..1]).unwrap(),
    );
    let mut last = kept.take_changed_outlook().expect("it was never told").0;
    for event in &shop.events[1..] {
        kept.apply(event);
        last = kept.take_changed_outlook().map_or(last, |(now, _)| now);
    }
    assert_eq!(BuildProjection::new(shop.state.clone()).take_changed_outlook().expect("anew").0, last);
    last
}

fn can(shop: &Shop) -> Vec<String> {
    outlook(shop).can.into_iter().map(|can| can.operation).collect()
}

#[test]
fn a_part_on_order_holds_what_fits_it_until_it_is_here() {
    let mut shop = shop();
    assert_eq!(outlook(&shop).missing, ["Rod and cap 1", "Rod and cap 2", "Gasket"]);
    for (field, wrong) in [
        ("what", wait(BlockerKind::Order, " ", (None, None))),
        ("slot", wait(BlockerKind::Order, "a gasket", (Some("x"), None))),
        ("operation", wait(BlockerKind::Order, "a gasket", (None, Some("x")))),
    ] {
        assert_eq!(shop.give(wrong).unwrap_err().field, Some(field));
    }
    shop.give(wait(BlockerKind::Order, "gasket, 1.2 mm", (Some("gasket"), None))).unwrap();
    let ordered = shop.state.seq;
    let now = outlook(&shop);
    assert_eq!(now.missing, ["Rod and cap 1", "Rod and cap 2"]);
    assert_eq!((now.waits[0].cause, now.waits[0].expected), (BlockedBy::Order, Some(date!(1970 - 01 - 05))));
    assert!(shop.operation("gasket").waits_for.iter().any(|waits| *waits == "gasket, 1.2 mm, on order"));
    // What does not need it goes on.
    assert_eq!(can(&shop), ["take-in"]);
    // It is here: somebody says so, or enters it.
    let over = CommandAction::EndWait(BlockerEnd { seq: ordered });
    shop.give(over.clone()).unwrap();
    assert_eq!(shop.give(over).unwrap_err().kind, RefusalKind::Stale);
    assert!(outlook(&shop).waits.is_empty());
    shop.void(shop.state.seq, "another parcel").unwrap();
    assert_eq!(outlook(&shop).waits.len(), 1);
    let part = PartNote { reference: "plain".into(), ..PartNote::default() };
    let fit = FitCommand { operation: "take-in".into(), slot: "gasket".into(), part, before: None };
    shop.give(CommandAction::Fit(fit)).unwrap();
    assert!(outlook(&shop).waits.is_empty());
    assert!(shop.state.view().waits[0].over_at.is_some());
    shop.void(ordered, "it was never ordered").unwrap();
    assert!(shop.state.view().waits.is_empty());
}

#[test]
fn nothing_is_started_on_an_engine_on_hold_and_what_is_done_all_the_same_is_kept() {
    let mut shop = shop();
    shop.give(wait(BlockerKind::Hold, "the owner has not paid", (None, None))).unwrap();
    let held = shop.state.seq;
    assert!(can(&shop).is_empty());
    let refused =
        shop.give(CommandAction::Start(OperationStart { operation: "take-in".into() })).unwrap_err();
    assert_eq!(refused.message, "Take in waits for the hold to end: the owner has not paid");
    shop.all("take-in");
    assert_eq!(shop.sign("take-in").unwrap_err().kind, RefusalKind::NotYet);
    shop.give(CommandAction::EndWait(BlockerEnd { seq: held })).unwrap();
    shop.sign("take-in").unwrap();
    assert!(!can(&shop).is_empty());
    shop.role = Role::Viewer;
    let refused = shop.give(wait(BlockerKind::Hold, "no", (None, None))).unwrap_err();
    assert_eq!(refused.kind, RefusalKind::NotAllowed);
}

#[test]
fn the_last_promise_counts_and_one_that_is_voided_gives_back_the_one_before() {
    let mut shop = shop();
    let promise = |by| CommandAction::Promise(DueDate { by, note: " for the  trial ".into() });
    shop.give(promise(date!(1970 - 02 - 01))).unwrap();
    shop.give(promise(date!(1970 - 03 - 01))).unwrap();
    let promised = shop.state.promised().expect("it was");
    assert_eq!((promised.by, promised.note.as_str()), (date!(1970 - 03 - 01), "for the trial"));
    assert_eq!(outlook(&shop).promised, Some(date!(1970 - 03 - 01)));
    shop.void(shop.state.seq, "not said").unwrap();
    assert_eq!(outlook(&shop).promised, Some(date!(1970 - 02 - 01)));
    let far = shop.give(promise(date!(2100 - 01 - 01))).unwrap_err();
    assert_eq!(far.field, Some("by"));
}

#[test]
fn an_operation_took_the_time_between_its_entries_without_breaks() {
    let mut shop = shop();
    let at = |minutes: i64| OffsetDateTime::UNIX_EPOCH + time::Duration::minutes(minutes);
    let fit = |slot: &str| {
        let part = PartNote { reference: "plain".into(), ..PartNote::default() };
        Fact::Fitted(FitCommand { operation: "take-in".into(), slot: slot.into(), part, before: None })
    };
    // Twelve minutes, a night, and three more.
    for (slot, minutes) in [("rod-1", 0), ("rod-2", 12), ("gasket", 12 + 600)] {
        shop.record(fit(slot), at(minutes), Uuid::from_u128(minutes.cast_unsigned().into()));
    }
    let took = |shop: &Shop| BuildProjection::new(shop.state.clone()).take_changed_outlook().expect("anew").1;
    let of = |shop: &Shop| took(shop).into_iter().find(|took| took.step == "take-in").expect("it is there");
    assert_eq!(of(&shop).minutes, None);
    shop.record(Fact::Signed(SignCommand::one("take-in")), at(615), Uuid::from_u128(7));
    assert_eq!(of(&shop).minutes, Some((15.0, at(615))));
    // What is said of it after its signature is no work on it.
    let signed = shop.state.seq;
    let about = FindingSubject::Fastener { joint: "head".into(), fastener: "2".into() };
    let found = Fact::Found(FindingCommand {
        operation: "take-in".into(),
        about,
        text: "creased".into(),
        picture: None,
    });
    shop.record(found, at(620), Uuid::from_u128(8));
    assert_eq!(of(&shop).minutes, Some((15.0, at(615))));
    shop.void(signed, "too early").unwrap();
    assert_eq!(of(&shop).minutes, None);
}

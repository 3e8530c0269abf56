//! The fold of a build's events: composes the data of the kinds of work, and keeps signatures true.
//!
//! Any list of events that begins a build folds without a panic: what an event names and the plan
//! does not have is passed over.

use crate::blockers::state::Blockers;
use crate::events::{
    BuildStart, ConfirmCommand, EntryStamp, Event, Fact, Instrument, LubricantPolicy, Person, PlanMoveEntry,
    PlanRef, ReasonedStamp,
};
use crate::findings::state::Findings;
use crate::instruments::fit::InstrumentUser;
use crate::instruments::suspect_readings::state::SuspectReadings;
use crate::invalidation::unsettle::{InvalidationSources, Invalidations};
use crate::signatures::approval::Approvals;
use crate::signatures::records::OperationRecords;
use crate::signatures::scope::SignatureScope;
use crate::state::entry_topic::EntryTopic;
use crate::state::ledger::EntryLedger;
use crate::temporary_items::state::TemporaryItems;
use crate::work::count::state::{self as count, HardwareCounts};
use crate::work::items::state::{self as items, Confirmations};
use crate::work::measure::state::SizeReadings;
use crate::work::parts::state::{self as parts, FittedParts, PartRemarks};
use crate::work::tighten::entry_remark::EarlierRemarks;
use crate::work::tighten::state::{EntryContext, JointRounds};
use crate::work::turn::state::{self as turn, TurnReadings};
use rigore_mechanics::clearance::DecisionRule;
use rigore_plan::{OperationIx, OperationWork, Plan};
use std::collections::HashMap;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

/// What an event changed.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct StateChange {
    /// The operations that may look different.
    pub(crate) moved: Vec<OperationIx>,
    /// What it was about, or what the entry was about that it voids.
    pub(crate) touched: Option<EntryTopic>,
}

/// A build as its events leave it. One that was not begun has no state.
#[derive(Debug, Clone)]
pub struct BuildState {
    /// The plan it is built to.
    pub plan: Arc<Plan>,
    /// What the plan is called, and its hash.
    pub plan_ref: PlanRef,
    /// The versions of the plan that it went on by, with who said so and why; none where it was never moved.
    pub moves: Vec<(EntryStamp, PlanMoveEntry)>,
    /// What was said when it was begun.
    pub begun: BuildStart,
    /// Who began it, and when.
    pub begun_by: EntryStamp,
    /// What is done with torques where another lubricant is used than the one they were given for.
    pub policy: LubricantPolicy,
    /// The rule by which measured values are judged.
    pub decision_rule: DecisionRule,
    /// Sequence number of the last event.
    pub seq: u64,
    /// When the last event was recorded.
    pub touched: OffsetDateTime,
    pub(super) operations: OperationRecords,
    pub(super) ledger: EntryLedger,
    pub(super) joints: JointRounds,
    pub(super) sizes: SizeReadings,
    pub(super) parts: FittedParts,
    pub(super) part_remarks: PartRemarks,
    pub(super) counts: HardwareCounts,
    pub(super) confirmed: Confirmations,
    pub(super) turns: TurnReadings,
    pub(super) findings: Findings,
    pub(super) inside: TemporaryItems,
    pub(super) waits: Blockers,
    pub(super) suspect_readings: SuspectReadings,
    pub(super) invalidations: Invalidations,
    pub(super) approvals: Approvals,
    /// What each signature rests on.
    pub(super) cover: SignatureScope,
    /// What was to be known about entries that were made under earlier versions of the plan.
    earlier: EarlierRemarks,
    /// The operation that the last entry was made in.
    latest: Option<OperationIx>,
    commands: HashMap<Uuid, (u64, u64)>,
    /// People and instruments are few and named by every entry: each is kept once.
    people: Vec<Arc<Person>>,
    instruments: Vec<Arc<Instrument>>,
}

/// The kept copy of something, which is kept now if it was not.
fn shared<T: Clone + PartialEq>(kept: &mut Vec<Arc<T>>, item: &T) -> Arc<T> {
    if let Some(found) = kept.iter().find(|found| ***found == *item) {
        return Arc::clone(found);
    }
    let new = Arc::new(item.clone());
    kept.push(Arc::clone(&new));
    new
}

impl BuildState {
    /// A build after the event that begins it.
    pub(crate) fn begun(plan: Arc<Plan>, begun: &BuildStart, event: &Event) -> Self {
        let by = Arc::new(event.by.clone());
        let stamp = EntryStamp { seq: event.seq, at: event.at, by: Arc::clone(&by) };
        let mut ledger = EntryLedger::default();
        ledger.enter(stamp.clone(), None, None);
        Self {
            plan_ref: begun.plan.clone(),
            moves: Vec::new(),
            policy: begun.lubricants.unwrap_or_default(),
            decision_rule: begun.decision_rule.unwrap_or(DecisionRule::BEFORE_CHOICE),
            begun: begun.clone(),
            begun_by: stamp,
            seq: event.seq,
            touched: event.at,
            operations: OperationRecords::new(plan.operations.len()),
            ledger,
            joints: JointRounds::fresh(&plan),
            sizes: SizeReadings::default(),
            parts: FittedParts::default(),
            part_remarks: PartRemarks::default(),
            counts: HardwareCounts::default(),
            confirmed: Confirmations::default(),
            turns: TurnReadings::default(),
            findings: Findings::default(),
            inside: TemporaryItems::default(),
            waits: Blockers::default(),
            suspect_readings: SuspectReadings::default(),
            invalidations: Invalidations::default(),
            approvals: Approvals::default(),
            cover: SignatureScope::of(&plan),
            earlier: EarlierRemarks::default(),
            latest: None,
            commands: HashMap::from([(event.command, (event.seq, event.seq))]),
            people: vec![by],
            instruments: Vec::new(),
            plan,
        }
    }

    /// Gets ready for so many entries, with what was to be known about those under earlier versions of the plan.
    pub(super) fn expect(&mut self, entries: usize, earlier: EarlierRemarks) {
        self.ledger.expect(entries);
        self.commands.reserve(entries);
        self.earlier = earlier;
    }

    /// The state after one more event; gives what that changed. An engine that goes on by another version of its plan
    /// is folded anew from its first entry: see [`Fact::Moved`].
    pub fn apply(&mut self, event: &Event) -> StateChange {
        let stamp = EntryStamp { seq: event.seq, at: event.at, by: shared(&mut self.people, &event.by) };
        self.seq = event.seq;
        self.touched = event.at;
        self.commands.entry(event.command).or_insert((event.seq, event.seq)).1 = event.seq;
        let operation = event.fact.operation().and_then(|id| self.operation(id));
        self.latest = operation.or(self.latest);
        let before = match &event.fact {
            Fact::Fitted(fit) => self.plan.slot(&fit.slot).filter(|slot| self.parts.latest(*slot).is_some()),
            _ => None,
        };
        self.suspect_readings.note(event);
        let thing = self.enter(&event.fact, operation, &stamp);
        self.ledger.enter(stamp.clone(), thing, operation);
        if let Some(at) = operation {
            self.operations.touch(at, event.seq);
        }
        let mut moved: Vec<OperationIx> = operation.into_iter().collect();
        let mut touched = thing;
        match (&event.fact, thing) {
            (Fact::Voided(void), _) => {
                let voided = ReasonedStamp { stamp, reason: void.reason.clone() };
                touched = self.void(void.seq, voided, &mut moved);
            }
            (Fact::Accepted(accept), _) => moved.extend(self.approve(accept, stamp)),
            (Fact::Moved(fact), _) => self.move_to_version(fact, stamp, &mut moved),
            (Fact::Signed(sign), Some(thing)) => {
                self.lapse_resting_on(thing, event.seq, operation, &mut moved);
                self.sign_also(sign, &stamp, &mut moved);
            }
            (_, Some(thing)) => self.lapse_resting_on(thing, event.seq, operation, &mut moved),
            (_, None) => {}
        }
        if let Some(thing) = thing {
            let grounds = InvalidationSources { plan: &self.plan, cover: &self.cover, joints: &self.joints };
            let unsettled = grounds.invalidations(&event.fact, thing, before, event.seq);
            self.invalidate(unsettled, &mut moved);
        }
        if let Some(EntryTopic::Doubt(_)) = touched {
            moved.extend(self.doubted_operations());
        }
        moved.sort_unstable();
        moved.dedup();
        StateChange { moved, touched }
    }

    /// The place of an operation; mostly it is the one that the last entry was made in.
    fn operation(&self, id: &str) -> Option<OperationIx> {
        self.latest.filter(|at| self.plan[*at].id == id).or_else(|| self.plan.operation(id))
    }

    /// What a fact does to the kind of work it belongs to; gives what it is about.
    fn enter(
        &mut self,
        fact: &Fact,
        operation: Option<OperationIx>,
        stamp: &EntryStamp,
    ) -> Option<EntryTopic> {
        let plan = Arc::clone(&self.plan);
        let seq = stamp.seq;
        match fact {
            // What a wrench is set to belongs to the wrench, not to the engine.
            Fact::Begun(_) | Fact::Moved(_) | Fact::Voided(_) | Fact::Accepted(_) | Fact::WrenchSet(_) => {
                None
            }
            Fact::Started(_) => {
                self.operations.start(operation?, stamp);
                None
            }
            Fact::Signed(sign) => {
                let with = self.also(sign);
                Some(self.sign(operation?, stamp, None, with))
            }
            Fact::Skipped(skip) => Some(self.sign(operation?, stamp, Some(skip.reason.clone()), Vec::new())),
            Fact::Fitted(fact) => parts::fit(&mut self.parts, &plan, seq, fact),
            Fact::PartRemarked(fact) => parts::remark(&mut self.part_remarks, &plan, seq, fact),
            Fact::Counted(fact) => count::count(&mut self.counts, &plan, seq, fact),
            Fact::Confirmed(fact) => self.confirm(&plan, seq, fact),
            Fact::Found(fact) => self.findings.find(&plan, seq, fact),
            Fact::FindingDecided(fact) => self.findings.decide(seq, fact),
            Fact::LookedAgain(fact) => self.findings.look(seq, fact),
            Fact::PutIn(fact) => self.inside.put(&plan, seq, fact),
            Fact::TakenOut(fact) => self.inside.take(seq, fact),
            Fact::Awaited(fact) => {
                let cover = &self.cover;
                Some(self.waits.begin(&plan, seq, fact, |slot| cover.fitting(slot)))
            }
            Fact::Doubted(fact) => Some(self.suspect_readings.doubt(seq, fact)),
            Fact::WaitEnded(fact) => self.waits.end(seq, fact),
            Fact::Promised(fact) => Some(self.waits.promise(seq, fact)),
            Fact::Turned(fact) => turn::turn(&mut self.turns, &plan, seq, fact),
            Fact::Measured(fact) => {
                let instrument = shared(&mut self.instruments, &fact.instrument);
                let using = InstrumentUser { by: Some(&stamp.by.id), at: stamp.at };
                self.sizes.measure(&plan, (seq, using), fact, instrument)
            }
            Fact::ShellsChosen(fact) => self.sizes.choose(&plan, seq, fact),
            Fact::ShellsCounted(fact) => self.sizes.count(&plan, seq, fact),
            Fact::PolicySet(fact) => {
                self.policy = fact.lubricants;
                None
            }
            Fact::DecisionRuleSet(fact) => {
                self.decision_rule = fact.decision_rule;
                None
            }
            Fact::Pulled(_) | Fact::Loosened(_) | Fact::Acted(_) | Fact::Allowed(_) | Fact::Lubricated(_) => {
                let work = plan.tightens(operation?)?;
                let started = self.operations.started(operation?).is_some();
                let ledger = &self.ledger;
                let operations = &self.operations;
                let left_out = &|at: OperationIx| operations.is_left_out(at);
                let earlier = &self.earlier;
                let entering = EntryContext {
                    plan: &plan,
                    work,
                    left_out,
                    ledger,
                    seq,
                    time: stamp.at,
                    by: &stamp.by.id,
                    started,
                    earlier,
                };
                match fact {
                    Fact::Allowed(fact) => self.joints.allow(&entering, fact),
                    Fact::Lubricated(fact) => self.joints.lubricate(&entering, fact),
                    Fact::Pulled(fact) => {
                        let instrument = shared(&mut self.instruments, &fact.instrument);
                        self.joints.pull(&entering, fact, instrument)
                    }
                    Fact::Loosened(fact) => {
                        let gauge = fact.instrument.as_ref();
                        let gauge = gauge.map(|gauge| shared(&mut self.instruments, gauge));
                        self.joints.loosen(&entering, fact, gauge)
                    }
                    Fact::Acted(fact) => {
                        let instrument = fact.instrument.as_ref();
                        let instrument = instrument.map(|tool| shared(&mut self.instruments, tool));
                        self.joints.act(&entering, fact, instrument)
                    }
                    _ => None,
                }
            }
        }
    }

    /// An item is confirmed; what goes in with it is in then.
    fn confirm(&mut self, plan: &Plan, seq: u64, fact: &ConfirmCommand) -> Option<EntryTopic> {
        let thing = items::confirm(&mut self.confirmed, plan, seq, fact)?;
        if let (EntryTopic::Item(at, item), OperationWork::Items(items)) =
            (thing, &plan[plan.operation(&fact.operation)?].work)
            && let Some(puts_in) = &items[item].puts_in
        {
            self.inside.by_item(seq, (at, item), puts_in);
        }
        Some(thing)
    }

    /// An entry does not count any more; gives what it was about.
    fn void(&mut self, seq: u64, voided: ReasonedStamp, moved: &mut Vec<OperationIx>) -> Option<EntryTopic> {
        let by = voided.stamp.seq;
        let thing = self.ledger.void(seq, voided)?;
        if let EntryTopic::Signature(at) = thing {
            self.take_back(at, (seq, by), moved);
        } else {
            self.replay_topic(thing);
        }
        self.lapse_resting_on(thing, by, None, moved);
        // What it had unsettled holds again.
        for thing in self.invalidations.caused_by(seq) {
            self.replay_topic(thing);
            self.lapse_resting_on(thing, by, None, moved);
        }
        Some(thing)
    }

    /// Finds what counts of a thing again.
    fn replay_topic(&mut self, thing: EntryTopic) {
        let plan = Arc::clone(&self.plan);
        let ledger = &self.ledger;
        match thing {
            EntryTopic::Fastener(joint, round, fastener, _)
            | EntryTopic::Loosening(joint, round, fastener) => {
                self.joints.settle_fastener(&plan, (joint, round), fastener, ledger);
            }
            EntryTopic::Film(joint, round, group, _) => {
                self.joints.settle_film(&plan, (joint, round), group, ledger);
            }
            EntryTopic::Action(joint, round, stage) => {
                self.joints.settle_action((joint, round), stage, ledger);
            }
            EntryTopic::Place(..) | EntryTopic::Shells(..) | EntryTopic::Stock(..) => {
                self.sizes.settle(thing, ledger);
            }
            EntryTopic::Slot(slot) => self.parts.settle(slot, ledger),
            // They are passed over where they are read.
            EntryTopic::PartRemark(_)
            | EntryTopic::Signature(_)
            | EntryTopic::Finding(_)
            | EntryTopic::Doubt(_) => {}
            EntryTopic::Hardware(at, line) => self.counts.settle((at, line), ledger),
            EntryTopic::Item(at, item) => self.confirmed.settle((at, item), ledger),
            EntryTopic::Turn(at) => self.turns.settle(at, ledger),
            EntryTopic::Inside(aid) => self.inside.settle(aid, ledger),
            EntryTopic::Wait(awaited) => self.waits.settle(awaited, ledger),
            EntryTopic::Promise => self.waits.settle_promise(ledger),
        }
    }

    /// The first and last sequence number that a command led to, when it was recorded.
    pub fn recorded_span(&self, command: Uuid) -> Option<(u64, u64)> {
        self.commands.get(&command).copied()
    }

    /// Everybody who recorded something, in the order they first did.
    pub fn people(&self) -> Vec<Person> {
        self.people.iter().map(|person| (**person).clone()).collect()
    }
}

/// The parts of the state, each of which answers for itself.
impl BuildState {
    /// When work in operations began, and the signatures under them.
    pub(crate) fn operations(&self) -> &OperationRecords {
        &self.operations
    }

    /// Every entry, with what was voided and approved.
    pub(crate) fn ledger(&self) -> &EntryLedger {
        &self.ledger
    }

    /// What was done to fasteners.
    pub(crate) fn joints(&self) -> &JointRounds {
        &self.joints
    }

    /// Sizes that were read, and shells.
    pub(crate) fn sizes(&self) -> &SizeReadings {
        &self.sizes
    }

    /// Parts that are in.
    pub(crate) fn parts(&self) -> &FittedParts {
        &self.parts
    }

    /// What was said of parts.
    pub(crate) fn part_remarks(&self) -> &PartRemarks {
        &self.part_remarks
    }

    /// Hardware that was counted.
    pub(crate) fn counts(&self) -> &HardwareCounts {
        &self.counts
    }

    /// Items that were confirmed.
    pub(crate) fn confirmed(&self) -> &Confirmations {
        &self.confirmed
    }

    /// How the crankshaft turned.
    pub(crate) fn turns(&self) -> &TurnReadings {
        &self.turns
    }

    /// Problems that were reported.
    pub(crate) fn findings(&self) -> &Findings {
        &self.findings
    }

    /// What has to come out again.
    pub(crate) fn inside(&self) -> &TemporaryItems {
        &self.inside
    }

    /// What work waits for outside of the bench.
    pub(crate) fn waits(&self) -> &Blockers {
        &self.waits
    }

    /// Instruments that were found wrong, and what was read with them.
    pub(crate) fn suspect_readings(&self) -> &SuspectReadings {
        &self.suspect_readings
    }

    /// What does not hold any more since something happened.
    pub(crate) fn invalidations(&self) -> &Invalidations {
        &self.invalidations
    }

    /// What leads approved.
    pub(crate) fn approvals(&self) -> &Approvals {
        &self.approvals
    }
}

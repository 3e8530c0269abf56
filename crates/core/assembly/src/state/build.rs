//! The fold of a build's events: composes the data of the kinds of work, and keeps signatures true.
//!
//! Any list of events that begins a build folds without a panic: what an event names and the plan
//! does not have is passed over.

use crate::blockers::state::Blockers;
use crate::events::{
    ApprovalSubject, BuildStart, ConfirmCommand, EntryStamp, Event, Fact, Instrument, LubricantPolicy,
    Person, PlanMoveEntry, PlanRef, ReasonedStamp,
};
use crate::findings::state::Findings;
use crate::instruments::fit::InstrumentUser;
use crate::instruments::suspect_readings::state::SuspectReadings;
use crate::invalidation::unsettle::{self, Invalidation};
use crate::signatures::approval::Approval;
use crate::signatures::scope::SignatureScope;
use crate::state::ledger::EntryLedger;
use crate::state::thing::EntryTopic;
use crate::temporary_items::state::TemporaryItems;
use crate::work::count::state::{self as count, HardwareCounts};
use crate::work::items::state::{self as items, Confirmations};
use crate::work::measure::state::SizeReadings;
use crate::work::parts::state::{self as parts, FittedParts, PartRemarks};
use crate::work::tighten::remark::EarlierRemarks;
use crate::work::tighten::state::{EntryContext, JointRounds};
use crate::work::turn::state::{self as turn, TurnReadings};
use rigore_mechanics::clearance::DecisionRule;
use rigore_plan::{OperationIx, OperationWork, Plan};
use std::collections::{BTreeSet, HashMap};
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

/// A signature under an operation, or the word that leaves it out.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Signature {
    /// Who and when.
    pub stamp: EntryStamp,
    /// Why the operation was left out, where this leaves it out.
    pub left_out: Option<String>,
    /// Other operations that it covers.
    pub with: Vec<OperationIx>,
    /// The entry that it does not cover any more, where there is one.
    pub lapsed: Option<u64>,
}

/// One operation of the build.
#[derive(Debug, Clone, Default)]
pub(crate) struct OperationState {
    /// When work began.
    pub started: Option<EntryStamp>,
    /// The last entry that was made in it.
    pub last: Option<u64>,
    /// Every signature under it; the last one stands unless it lapsed.
    pub signatures: Vec<Signature>,
}

impl OperationState {
    /// The signature that stands.
    pub fn signed(&self) -> Option<&Signature> {
        self.signatures.last().filter(|signature| signature.lapsed.is_none())
    }
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
    pub(crate) operations: Vec<OperationState>,
    pub(crate) ledger: EntryLedger,
    pub(crate) joints: JointRounds,
    pub(crate) sizes: SizeReadings,
    pub(crate) parts: FittedParts,
    pub(crate) part_remarks: PartRemarks,
    pub(crate) counts: HardwareCounts,
    pub(crate) confirmed: Confirmations,
    pub(crate) turns: TurnReadings,
    pub(crate) findings: Findings,
    pub(crate) inside: TemporaryItems,
    pub(crate) waits: Blockers,
    pub(crate) suspect_readings: SuspectReadings,
    /// What does not hold any more since something happened.
    pub(crate) unsettled: Vec<Invalidation>,
    /// What a lead stands for, and the entries that it rested on.
    pub(crate) accepted: HashMap<ApprovalSubject, BTreeSet<u64>>,
    /// The same as it was said.
    pub(crate) words: Vec<Approval>,
    pub(crate) cover: SignatureScope,
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
            operations: vec![OperationState::default(); plan.operations.len()],
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
            unsettled: Vec::new(),
            accepted: HashMap::new(),
            words: Vec::new(),
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
            self.operations[at.0].last = Some(event.seq);
        }
        let mut moved: Vec<OperationIx> = operation.into_iter().collect();
        let mut touched = thing;
        match (&event.fact, thing) {
            (Fact::Voided(void), _) => {
                let voided = ReasonedStamp { stamp, reason: void.reason.clone() };
                touched = self.void(void.seq, voided, &mut moved);
            }
            (Fact::Accepted(accept), _) => moved.extend(self.accept(accept, stamp)),
            (Fact::Moved(fact), _) => self.move_to_version(fact, stamp, &mut moved),
            (Fact::Signed(sign), Some(thing)) => {
                self.lapse_resting_on(thing, event.seq, operation, &mut moved);
                self.sign_also(sign, &stamp, &mut moved);
            }
            (_, Some(thing)) => self.lapse_resting_on(thing, event.seq, operation, &mut moved),
            (_, None) => {}
        }
        if let Some(thing) = thing {
            let grounds =
                unsettle::InvalidationSources { plan: &self.plan, cover: &self.cover, joints: &self.joints };
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
                self.operations[operation?.0].started.get_or_insert_with(|| stamp.clone());
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
                let started = self.operations[operation?.0].started.is_some();
                let ledger = &self.ledger;
                let operations = &self.operations;
                let left_out = &|at: OperationIx| {
                    operations[at.0].signed().is_some_and(|signature| signature.left_out.is_some())
                };
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
        let settled: Vec<EntryTopic> =
            self.unsettled.iter().filter(|of| of.by == seq).map(|of| of.thing).collect();
        for thing in settled {
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

//! A joint on the build sheet: every fastener with what it has in every stage.

use super::commands::BETWEEN;
use super::entry_remark::EntryRemark;
use super::fastener_history::{RecordedLoosening, RecordedPull};
use super::pulls::PullView;
use super::round::ActionDone;
use super::tighten_work::JointWork;
use super::{replaced_stages, tight_bolt_reading};
use crate::state::series::SeriesEntry;
use rigore_mechanics::joint::Forecast;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Quantity;
use rigore_mechanics::tightening::{FastenerPosition, Verdict};
use rigore_mechanics::{message, text};
use rigore_plan::way::StageProgress;
use rigore_plan::{FastenerGroup, FastenerIx, GroupIx, RoundPurpose, StageIx, TightenSpec, TightenTask};
use rigore_plan::{StageTarget, TargetSetup};
use serde::Serialize;

/// Every fastener of a joint.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct JointSection {
    /// Key of the joint.
    pub id: String,
    /// What the joint is called.
    pub name: String,
    /// Key of the drawing that its fasteners lie on.
    pub drawing: String,
    /// What it was tightened for this time.
    pub purpose: RoundPurpose,
    /// Whether it was tightened or taken apart.
    pub task: TightenTask,
    /// Which fasteners were used, where it was not those that stay.
    pub fasteners: Option<String>,
    /// Stages that pull, with what they ask for.
    pub stages: Vec<SheetStage>,
    /// Which use of its fasteners this was, from 1; none where others were used.
    pub uses: Option<usize>,
    /// Rows in the order of the sequence.
    pub rows: Vec<SheetRow>,
    /// Actions between stages: what and by whom.
    pub actions: Vec<Message>,
    /// Whether anything is not as the plan has it, or was taken back.
    pub deviates: bool,
    /// Pulls that were voided, repeated, accepted, loosened or otherwise need a word.
    pub notes: Vec<Message>,
    /// What the fasteners turned on, group by group, and who said so.
    pub lubricants: Vec<String>,
    /// Instruments used.
    pub instruments: Vec<String>,
}

/// A stage at the head of a column.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SheetStage {
    /// Index in the procedure.
    pub stage: usize,
    /// What it is called.
    pub name: String,
    /// The name of the group that it goes over.
    pub group: String,
    /// Its key.
    pub group_id: String,
    /// What is wanted.
    pub target: StageTarget,
    /// The clamp load to expect, where it can be computed.
    pub forecast: Option<Forecast>,
}

/// One fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SheetRow {
    /// Its group's name.
    pub group: String,
    /// Its group's key: two groups may have one name.
    pub group_id: String,
    /// Its number in the sequence.
    pub number: usize,
    /// Its name on the part.
    pub fastener: String,
    /// Where it is on the drawing, mm.
    pub at: [f64; 2],
    /// The clamp load that it has, kN, where it can be computed.
    pub clamp_kn: Option<f64>,
    /// The pull that counts in each stage of its group, in the order of the columns.
    pub pulls: Vec<Option<PullView>>,
    /// The torques that it was climbed by, with the stretch that each gave (C-24); empty where it was not.
    pub climb: Vec<StretchStepRow>,
}

/// A torque of a climb and the stretch that it gave.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StretchStepRow {
    /// N·m.
    pub torque_nm: f64,
    /// mm.
    pub stretch_mm: f64,
}

/// The joint's section of the sheet.
pub(super) fn section(hand: &JointWork<'_>, work: &TightenSpec) -> JointSection {
    let pulls: Vec<PullView> = hand.pulls().collect();
    let stages: Vec<SheetStage> = hand.stages().filter_map(|at| stage(hand, at)).collect();
    let counting = |fastener: &str, stage: usize| {
        let mut of_it = pulls.iter().filter(|p| p.fastener == fastener && p.stage == stage);
        of_it.find(|p| p.counts).cloned()
    };
    let in_stages = |group: &(usize, &FastenerGroup)| {
        hand.stages().any(|stage| hand.joint[stage].group == Some(GroupIx(group.0)))
    };
    let groups = hand.joint.groups.iter().enumerate().filter(in_stages);
    let rows = groups.flat_map(|(_, group)| {
        let (stages, counting) = (&stages, &counting);
        (1..).zip(group.fasteners.clone()).map(move |(number, at)| {
            let fastener = hand.name(FastenerIx(at));
            let of_group = stages.iter().filter(|stage| stage.group_id == group.id);
            let pulls = of_group.map(|stage| counting(fastener, stage.stage)).collect();
            let FastenerPosition { x_mm, y_mm, .. } = hand.joint[FastenerIx(at)];
            let clamp_kn = hand.round.fastened(FastenerIx(at)).clamp_kn();
            let fastener = fastener.to_owned();
            let pairs = hand.round.fastened(FastenerIx(at)).pairs().iter();
            let climb = pairs
                .map(|pair| StretchStepRow { torque_nm: pair.torque_nm, stretch_mm: pair.stretch_mm })
                .collect();
            SheetRow {
                group: group.name.clone(),
                group_id: group.id.clone(),
                number,
                fastener,
                at: [x_mm, y_mm],
                clamp_kn,
                pulls,
                climb,
            }
        })
    });
    JointSection {
        id: hand.joint.id.clone(),
        name: hand.joint.name.clone(),
        drawing: hand.state.plan.drawings.get(hand.joint.drawing).map(|of| of.id.clone()).unwrap_or_default(),
        purpose: hand.purpose,
        task: hand.task,
        fasteners: work.fasteners.clone(),
        uses: hand.uses(),
        rows: rows.collect(),
        actions: actions(hand).into_iter().chain(replaced_stages::actions(hand)).collect(),
        deviates: deviates(hand, &pulls),
        notes: notes(&pulls).into_iter().chain(loosenings(hand)).chain(allowances(hand)).collect(),
        lubricants: lubricants(hand),
        instruments: instruments(hand),
        stages,
    }
}

/// A fastener that is loosened where the plan does not ask for it, and pulls with a word against them.
fn deviates(hand: &JointWork<'_>, pulls: &[PullView]) -> bool {
    let odd = |pull: &PullView| {
        pull.deviates || pull.voided.is_some() || pull.accepted.is_some() || !pull.remarks.is_empty()
    };
    let unplanned = |of: &RecordedLoosening| {
        hand.task == TightenTask::Tighten
            && (of.replaced || of.reason != BETWEEN)
            && hand.state.ledger().counts(of.seq)
    };
    let acted = |action: &SeriesEntry<StageIx, ActionDone>| {
        hand.runs(action.key)
            && (action
                .value
                .remarks
                .iter()
                .any(|remark| remark.deviates() || matches!(remark, EntryRemark::Again { .. }))
                || hand.state.ledger().mark(action.seq).is_some_and(|mark| mark.voided.is_some()))
    };
    pulls.iter().any(odd)
        || hand.round.loosenings.iter().any(unplanned)
        || hand.round.actions.entries().any(acted)
}

fn stage(hand: &JointWork<'_>, at: StageIx) -> Option<SheetStage> {
    let planned = &hand.joint[at];
    let used = hand.used_fastener(at)?;
    let setup = TargetSetup { conversion: used.conversion(&planned.way), ..TargetSetup::default() };
    Some(SheetStage {
        stage: at.0,
        name: planned.name.clone(),
        group: hand.joint.group_of(at)?.name.clone(),
        group_id: hand.joint.group_of(at)?.id.clone(),
        target: StageTarget::of(&planned.way, StageProgress::default(), &setup)?,
        forecast: hand.joint.forecast(&used.spec.fastening, at),
    })
}

/// What was done by hand and counts, with what had to be said about it.
fn actions(hand: &JointWork<'_>) -> Vec<Message> {
    let line = |action: &SeriesEntry<StageIx, ActionDone>| {
        let mark = hand.state.ledger().mark(action.seq).filter(|mark| mark.voided.is_none())?;
        let remarks = action.value.remarks.iter().map(|remark| hand.remark(remark));
        let with = action.value.instrument.iter().map(|tool| message!("tighten-with", tool = &tool.name));
        let accepted =
            mark.accepted.iter().map(|accepted| message!("tighten-approved", why = &accepted.reason));
        let by = std::iter::once(Message::from(&mark.stamp.by.name));
        let words = Message::join(by.chain(with).chain(remarks).chain(accepted), "; ");
        Some(message!("tighten-stage-words", stage = &hand.joint[action.key].name, words))
    };
    hand.round.actions.entries().filter(|action| hand.runs(action.key)).filter_map(line).collect()
}

/// What the fasteners of each group turned on: what the plan asks for, and what somebody said.
fn lubricants(hand: &JointWork<'_>) -> Vec<String> {
    let groups = (0..hand.joint.groups.len()).map(GroupIx);
    let of_group = |group: GroupIx| {
        let planned = &hand.joint[group];
        let asked = hand.state.plan[planned.spec].lubrication.words();
        let entries = hand.round.films.entries().filter(move |said| said.key == group);
        let said = entries.filter_map(move |said| {
            let mark = hand.state.ledger().mark(said.seq)?;
            let why = Some(&said.value.reason).filter(|why| !why.is_empty());
            let words = [
                Some(said.value.lubrication.words()),
                Some(said.value.lubrication.thread.source.clone()),
                said.value.converts.then(|| text!("tighten-torques-converted")),
                said.value.pulled_too.then(|| text!("tighten-also-what-was-pulled-before")),
                why.cloned(),
                mark.accepted.as_ref().map(|accepted| text!("tighten-approved", why = accepted.reason)),
                mark.voided.as_ref().map(|voided| text!("tighten-voided", why = voided.reason)),
            ];
            let words: Vec<String> = words.into_iter().flatten().collect();
            Some(text!(
                "tighten-entry-said",
                words = words.join("; "),
                seq = said.seq,
                by = mark.stamp.by.name
            ))
        });
        let said: Vec<String> = said.collect();
        let said =
            if said.is_empty() { String::new() } else { text!("tighten-used", said = said.join(". ")) };
        format!("{}: {asked}{said}", planned.name)
    };
    let pulled = |group: &GroupIx| hand.stages().any(|stage| hand.joint[stage].group == Some(*group));
    groups.filter(pulled).map(of_group).collect()
}

fn instruments(hand: &JointWork<'_>) -> Vec<String> {
    let mut instruments: Vec<String> = Vec::new();
    let of_it = |pull: &&RecordedPull| hand.runs(pull.stage) && !pull.instrument.by_eye();
    let pulled = hand.round.pulls.iter().filter(of_it).map(|pull| &pull.instrument);
    let apart = hand.task == TightenTask::Loosen;
    let loosened = hand.round.loosenings.iter().filter(|of| of.apart == apart);
    for tool in pulled.chain(loosened.filter_map(|of| of.gauge.as_ref())) {
        let (name, serial) = (&tool.name, &tool.serial);
        let line = if tool.simulated {
            text!("tighten-instrument-simulated", name, serial)
        } else {
            format!("{name} ({serial})")
        };
        if !instruments.contains(&line) {
            instruments.push(line);
        }
    }
    instruments
}

/// Things that the same is said of stand together, in the order they first came.
fn together<K: PartialEq, T>(of: impl Iterator<Item = (K, T)>) -> Vec<(K, Vec<T>)> {
    let mut together: Vec<(K, Vec<T>)> = Vec::new();
    for (said, thing) in of {
        match together.iter_mut().find(|(known, _)| *known == said) {
            Some((_, things)) => things.push(thing),
            None => together.push((said, vec![thing])),
        }
    }
    together
}

/// What was loosened, in the order it was; what was loosened for the same reason in one line.
fn loosenings(hand: &JointWork<'_>) -> Vec<Message> {
    let line = |loosening: &RecordedLoosening| {
        let mark = hand.state.ledger().mark(loosening.seq)?;
        let with = loosening.with.as_ref().map_or_else(|| message!("tighten-new-one"), Message::from);
        let replaced =
            if loosening.replaced { message!("tighten-replaced-with", with) } else { Message::default() };
        let remarks =
            loosening.remarks.iter().map(|remark| message!("tighten-remark", remark = hand.remark(remark)));
        let remarks = Message::join(remarks, "");
        let accepted = mark
            .accepted
            .as_ref()
            .map(|v| message!("tighten-and-approved", why = v.reason))
            .unwrap_or_default();
        let voided =
            mark.voided.as_ref().map(|v| message!("tighten-and-voided", why = v.reason)).unwrap_or_default();
        let (name, by, why) = (hand.name(loosening.fastener), &mark.stamp.by.name, &loosening.reason);
        let gauged =
            tight_bolt_reading::readings_in_words(loosening).map(|gauged| message!("tighten-gauged", gauged));
        let gauged = gauged.unwrap_or_default();
        let said = message!("tighten-loosened-by", replaced, by, why, remarks, accepted, voided);
        Some((said, message!("tighten-name-gauged", name, gauged)))
    };
    let apart = hand.task == TightenTask::Loosen;
    let lines = hand.round.loosenings.iter().filter(|of| of.apart == apart).filter_map(line);
    let line = |(said, names): (Message, Vec<Message>)| {
        message!("tighten-names-said", names = Message::join(names, ", "), said)
    };
    together(lines).into_iter().map(line).collect()
}

/// What leads allowed beyond the plan.
fn allowances(hand: &JointWork<'_>) -> impl Iterator<Item = Message> {
    hand.round.allowances.iter().filter_map(|of| {
        let line = hand.state.ledger().line(of.seq)?;
        let voided =
            line.mark.voided.as_ref().map(|voided| message!("tighten-and-voided", why = voided.reason));
        let (name, by) = (hand.name(of.fastener), &line.mark.stamp.by.name);
        let voided = voided.unwrap_or_default();
        Some(message!(
            "tighten-allowed-up-yield-by",
            name,
            utilisation = format!("{:.0}", of.utilisation * 100.0),
            by,
            reason = of.reason,
            voided
        ))
    })
}

/// What has to be said about pulls, if anything; what is said of more than one of a stage in one line.
fn notes(pulls: &[PullView]) -> Vec<Message> {
    let said = pulls.iter().rev().filter_map(|pull| Some(((&pull.stage_name, words(pull)?), pull)));
    let read = |pull: &PullView| Quantity::new(pull.read, pull.dimension);
    let line = |((stage, words), pulls): ((&String, Message), Vec<&PullView>)| match &pulls[..] {
        [one] => message!(
            "tighten-entry",
            entry = one.seq,
            fastener = &one.fastener,
            stage,
            read = read(one),
            words,
        ),
        many => {
            let each = |of: &&PullView| {
                let (fastener, read, entry) = (&of.fastener, read(of), of.seq);
                message!("tighten-reading-of-entry", fastener, read, entry)
            };
            let pulls = Message::join(many.iter().map(each), ", ");
            message!("tighten-stage-words-pulls", stage, words, pulls)
        }
    };
    together(said).into_iter().map(line).collect()
}

/// What has to be said about a pull, if anything.
fn words(pull: &PullView) -> Option<Message> {
    let mut words = pull.remarks.clone();
    words.extend(
        (pull.wrong || (pull.deviates && pull.verdict != Verdict::Good)).then(|| Message::from(&pull.says)),
    );
    words.extend(pull.accepted.iter().map(|why| message!("tighten-approved", why)));
    words.extend(pull.voided.iter().map(|why| message!("tighten-voided", why)));
    words.extend(pull.loosened.then(|| message!("tighten-loosened-since")));
    words.extend(pull.lapsed.as_ref().map(Message::from));
    (!words.is_empty()).then(|| Message::join(words, "; "))
}

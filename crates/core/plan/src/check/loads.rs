//! What does not fit the fastener is stopped at the plan, not at the bench (C-8): every target as
//! clamp load, and procedures that cannot work.

use crate::document::{FastenerSpec, Hole, Joint, Plan, Stage, StageWalk};
use crate::index::{GroupIx, SpecIx, StageIx};
use crate::joint_sheet::{MarginVerdict, SheetPart, percent};
use crate::toml_reader::FaultReport;
use rigore_mechanics::fastener::{Strength, StrippingThread};
use rigore_mechanics::joint::{Fastening, Forecast};
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{Dimension, Quantity, in_kn};
use rigore_mechanics::tightening::StretchSteps;
use rigore_mechanics::{message, text};

/// Utilisation above which no source makes a figure believable: it is another bolt's.
const BELIEVABLE_UTILISATION: f64 = 1.30;
/// Utilisation below which a group's last stage gets a warning: it hardly clamps.
const LOW_UTILISATION: f64 = 0.30;

pub(super) fn check(plan: &Plan, report: &FaultReport) {
    for (at, spec) in plan.specs.iter().enumerate() {
        if spec.to_yield && !spec.single_use {
            let message = message!("check-fastener-taken-past-yield-single-use");
            report.warn(&format!("fastener[{at}].to_yield"), message);
        }
    }
    for at in 0..plan.specs.len() {
        if let [first, second, ..] = plan.hole_materials(SpecIx(at))[..] {
            let words =
                message!("check-holes-cut-into-say-which-one", word = first.word(), word2 = second.word());
            report.warn(&format!("fastener[{at}].bolt.end_material"), words);
        }
    }
    for joint in &plan.joints {
        for message in &joint.unclear {
            report.error(&format!("joint[{}].procedure", joint.written), message.clone());
        }
        let path = format!("joint[{}]", joint.written);
        if !report.is_sound(&path) {
            continue;
        }
        for (group, planned) in joint.groups.iter().enumerate() {
            if !joint.stages.iter().any(|stage| stage.group == Some(GroupIx(group))) {
                report.error(
                    &format!("{path}.stage"),
                    message!("check-no-stage-tightens-group", id = planned.id),
                );
            }
        }
        for (at, group) in joint.groups.iter().enumerate() {
            if let Some(hole) = &group.hole {
                check_hole(plan, joint, (GroupIx(at), hole), &format!("{path}.group[{at}].hole"), report);
            }
        }
        check_margins(plan, joint, &path, report);
        check_rest(joint, report);
        for stage in (0..joint.stages.len()).map(StageIx) {
            check_stage(plan, joint, stage, &joint[stage].path.clone(), report);
        }
    }
}

/// The right thread and the wrong length pulls its thread out (C-39, M-18).
fn check_hole(plan: &Plan, joint: &Joint, (at, hole): (GroupIx, &Hole), path: &str, report: &FaultReport) {
    let thread = hole.engagement(&plan[joint[at].spec]);
    let (strips, weaker) = thread.strips(hole.engaged_mm);
    let strips = in_kn(strips);
    let of_group = (0..joint.stages.len()).map(StageIx).filter(|stage| joint[*stage].group == Some(at));
    let most = of_group.filter_map(|stage| plan.forecast(joint, stage)).map(|load| load.high_kn);
    let most = most.fold(0.0, f64::max);
    let engaged = Quantity::new(hole.engaged_mm, Dimension::Length);
    let (is_weak, is_short) = (strips < most, hole.engaged_mm < thread.needed_mm());
    let strips = Quantity::new(strips, Dimension::Force);
    let whose =
        if weaker == StrippingThread::Hole { message!("check-holes") } else { message!("check-bolts") };
    if is_weak {
        let message = message!(
            "check-thread-count-strip-thread-at-fastener",
            engaged,
            whose,
            strips,
            most = Quantity::new(most, Dimension::Force),
        );
        report.error(path, message);
    } else if is_short {
        let message = message!(
            "check-thread-count-needed-so-fastener-fifth",
            engaged,
            needed = Quantity::new(thread.needed_mm(), Dimension::Length),
            whose,
            strips,
        );
        report.warn(path, message);
    }
}

/// What a joint stands while its engine runs, where the plan says so: what holds by little, or not, is for a lead.
fn check_margins(plan: &Plan, joint: &Joint, path: &str, report: &FaultReport) {
    if joint.running.is_none() {
        return;
    }
    for group in plan.joint_sheet(joint) {
        let running = group.lines.iter().filter(|line| {
            matches!(line.part, SheetPart::Running | SheetPart::Temperature | SheetPart::Pressure)
        });
        for line in running {
            let holds = match line.verdict {
                Some(MarginVerdict::DoesNotHold) => message!("check-does-not-hold"),
                Some(MarginVerdict::HoldsByLittle) => message!("check-holds-by-little"),
                Some(MarginVerdict::Holds) | None => continue,
            };
            let margin = line.margin.unwrap_or_default();
            let what = line.what.to_lowercase();
            let message = message!(
                "check-times-what-has-lead-approves",
                group = &group.name,
                what = &what,
                value = &line.value,
                margin = format!("{margin:.2}"),
                holds = &holds,
            );
            let about = text!(
                "check-about-running",
                joint = family_name(plan, joint),
                group = group.name,
                what,
                holds
            );
            report.warn_for_lead(&format!("{path}.running"), message, &about);
        }
    }
}

/// Sealant has something to be tightened behind it, and a wait has something to wait for.
fn check_rest(joint: &Joint, report: &FaultReport) {
    for (at, stage) in joint.stages.iter().enumerate() {
        let rules = &stage.way;
        let path = format!("{}.{}", stage.path, rules.key());
        if rules.within_min().is_some() && joint.stages[at + 1..].iter().all(|later| later.group.is_none()) {
            report.error(&path, message!("check-sealant-sets-time-for-stages-after"));
        }
        if rules.rests_min().is_some() && at == 0 {
            report.error(&path, message!("check-wait-needs-stage-before-count-from"));
        }
    }
}

fn check_stage(plan: &Plan, joint: &Joint, at: StageIx, path: &str, report: &FaultReport) {
    let stage = &joint[at];
    let before = &joint.stages[..at.0];
    if stage.walk == StageWalk::Each && before.last().is_none_or(|last| last.group != stage.group) {
        let message = message!("check-goes-together-with-stage-before-which");
        report.error(&format!("{path}.walk"), message);
    }
    let (Some(group), Some(spec)) = (stage.group, plan.spec(joint, at)) else { return };
    let rules = &stage.way;
    let path = format!("{path}.{}", rules.key());
    // What was loosened again has no torque any more.
    let of_group = before.iter().rev().filter(|before| before.group == Some(group));
    let torque_before = of_group
        .take_while(|before| !before.way.loosens())
        .any(|before| before.way.dimension() == Some(Dimension::Torque));
    if rules.key() == "recheck" && !torque_before {
        report.error(&path, message!("check-recheck-needs-torque-stage-same-group"));
    }
    if rules.at_once() && rules.once() && rules.dimension() == Some(Dimension::Torque) && !spec.to_yield {
        report.error(&path, message!("check-pulled-until-yields-fastener-not-meant"));
    }
    if rules.adds_up() {
        if !torque_before {
            report.error(&path, message!("check-angle-needs-snug-torque-stage-same"));
        }
        if spec.fastening.resilience().is_none() {
            report.warn(&path, message!("check-fastener-has-no-bolt-parts-geometry"));
        }
    }
    // Of a bolt whose shape is not known, a torque that is never passed is enough (C-67).
    let without_limit = |climb: StretchSteps<'_>| climb.most_nm.is_none();
    if spec.fastening.bolt.is_none() && rules.climb(&spec.fastening).is_some_and(without_limit) {
        report.error(&path, message!("check-stretch-needs-geometry-or-limit"));
        return;
    }
    if let (Some(climb), Some(used)) =
        (rules.climb(&spec.fastening), plan.forecast(joint, at).map(|load| load.utilisation))
        && rules.reopens()
        && used > climb.utilisation
    {
        let (used, most) = (used * 100.0, climb.utilisation * 100.0);
        let message = message!(
            "check-uses-yield-max-steps-stretch",
            used = format!("{used:.0}"),
            most = format!("{most:.0}")
        );
        report.error(&path, message);
        return;
    }
    if !spec.fastening.known {
        check_unknown_strength(spec, stage, &path, report);
    }
    let Some(forecast) = plan.forecast(joint, at).filter(|_| clamps(plan, joint, at)) else { return };
    let target: Message = rules.band().map(|band| band.quantity(band.target).into()).unwrap_or_default();
    let figures = message!(
        "check-on-gives-yield",
        target,
        thread = &spec.designation,
        load = Quantity::new(forecast.typical_kn, Dimension::Force),
        used = percent(forecast.utilisation),
    );
    let later = (at.0 + 1..joint.stages.len()).map(StageIx);
    let last =
        !later.into_iter().any(|later| joint[later].group == Some(group) && clamps(plan, joint, later));
    let angles =
        || angles(plan, joint, at).map(|angles| message!("check-angles", angles)).unwrap_or_default();
    if forecast.past_yield() && !(spec.to_yield && rules.once()) {
        // The maker's lubricant may be slipperier than the table's: a figure with a source is for a lead to approve.
        let sourced = !stage.source.is_empty() || !joint.source.is_empty();
        if !sourced || forecast.utilisation > BELIEVABLE_UTILISATION {
            report.error(&path, message!("check-past-fasteners-limit", figures, angles = angles()));
        } else {
            let message = message!("check-by-friction-table-past-fasteners-limit");
            let message = message!("check-figures-message-angles", figures, message, angles = angles());
            let about = text!(
                "check-past-yield-by-friction-table-right",
                joint = family_name(plan, joint),
                stage = stage.name.to_lowercase()
            );
            report.warn_for_lead(&path, message, &about);
        }
    } else if last && spec.to_yield && rules.adds_up() && !forecast.past_yield() {
        let message = message!("check-meant-go-past-yield-does-not", figures, angles = angles());
        report.error(&path, message);
    } else if let Some(starts) = yields_by_scatter(joint, at, spec) {
        report.warn(&path, message!("check-figures-starts", figures, starts));
    } else if last && forecast.utilisation < LOW_UTILISATION {
        report.warn(&path, message!("check-far-below-what-fastener-can-clamp", figures));
    }
}

/// Where a fastener that is not meant to yields within what is not known of its friction and resilience: how far it
/// may come, and the figure from which that starts (M-4).
fn yields_by_scatter(joint: &Joint, at: StageIx, spec: &FastenerSpec) -> Option<Message> {
    let band = joint[at].way.band()?;
    let most = joint.forecast_at_most(&spec.fastening, at)?.most_utilisation;
    if spec.to_yield || most <= 1.0 {
        return None;
    }
    let used = percent(most);
    let by_load = matches!(band.dimension, Dimension::Torque | Dimension::Clearance | Dimension::Length);
    let of = &spec.lubrication.thread.name;
    // A torque or a stretch gives load in proportion; an angle does not start at nothing.
    Some(if by_load && band.high.is_finite() {
        let starts = band.quantity(band.high / most);
        message!("check-yield-by-friction-range-starts", of, used, starts)
    } else {
        message!("check-yield-by-friction-range", of, used)
    })
}

/// All joints that a joint is written once with: `Head left and Head right`, `Rod 1 to Rod 8`.
fn family_name(plan: &Plan, joint: &Joint) -> String {
    let alike = plan.joints.iter().filter(|other| other.family == joint.family);
    let names: Vec<&str> = alike.map(|joint| joint.name.as_str()).collect();
    match names.as_slice() {
        [first, second] => text!("check-and", first, second),
        [first, .., last] => text!("check-to", first, last),
        _ => joint.name.clone(),
    }
}

/// Where nobody knows the strength of a fastener, a torque that no bolt of its thread takes is an error, and one that a
/// weak one does not take is a question.
fn check_unknown_strength(spec: &FastenerSpec, stage: &Stage, path: &str, report: &FaultReport) {
    let rules = &stage.way;
    let Some(band) =
        rules.band().filter(|_| rules.dimension() == Some(Dimension::Torque) && rules.shows().is_none())
    else {
        return;
    };
    let nominal_mm = spec.fastening.thread.nominal_mm();
    let past_yield = |class: &str| {
        let strength = Strength::class(class, nominal_mm).ok()?;
        let fastening = Fastening { strength, known: true, ..spec.fastening };
        Some(fastening.by_torque(band.target)).filter(Forecast::past_yield)
    };
    let torque = band.quantity(band.target);
    let of = &spec.designation;
    if let Some(load) = past_yield("12.9") {
        let used = percent(load.utilisation);
        let message = message!("check-on-even-12-9-bolt-would", torque, of, used);
        report.error(path, message);
    } else if past_yield("8.8").is_some() {
        report.warn(path, message!("check-on-8-8-bolt-would-yield", torque, of));
    }
}

/// A share in words.
/// Whether a stage changes what its fasteners clamp.
fn clamps(plan: &Plan, joint: &Joint, at: StageIx) -> bool {
    let before = joint.stages[..at.0].iter().rposition(|before| before.group == joint[at].group);
    joint[at].group.is_some()
        && plan.forecast(joint, at) != before.and_then(|before| plan.forecast(joint, StageIx(before)))
}

/// How far a stage has turned its fasteners since snug, against where yielding begins.
fn angles(plan: &Plan, joint: &Joint, at: StageIx) -> Option<Message> {
    let (group, spec) = (joint[at].group?, plan.spec(joint, at)?);
    let of_group = |stage: &StageIx| joint[*stage].group == Some(group);
    let turns = |stage: &StageIx| joint[*stage].way.adds_up();
    let stages = || (0..=at.0).map(StageIx).filter(of_group);
    let snug = stages().take_while(|stage| !turns(stage)).last()?;
    let yields = spec.fastening.yields_after_deg(plan.forecast(joint, snug)?)?;
    let turned: f64 =
        stages().filter(turns).filter_map(|stage| joint[stage].way.band().map(|band| band.target)).sum();
    let [yields, turned_by] = [yields, turned].map(|deg| Quantity::new(deg, Dimension::Angle));
    (turned > 0.0).then(|| message!("check-yield-begins-after-snug-this-turns", yields, turned = turned_by))
}

//! Every key leads to one thing: what has the key of another can never be reached.

use crate::document::{OperationWork, Plan};
use crate::toml_reader::FaultReport;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use std::collections::HashMap;

pub(super) fn check(plan: &Plan, report: &FaultReport) {
    once(
        report,
        message!("check-key-fastener"),
        plan.specs.iter().enumerate().map(|(at, spec)| (&spec.id, top("fastener", at))),
    );
    once(
        report,
        message!("check-key-drawing"),
        plan.drawings.iter().enumerate().map(|(at, d)| (&d.id, top("drawing", at))),
    );
    let joints = plan.joints.iter().map(|joint| (&joint.family, &joint.id, joint.written));
    once(report, message!("check-key-joint"), with_members("joint", joints));
    once(
        report,
        message!("check-key-clearance"),
        plan.clearances.iter().enumerate().map(|(at, c)| (&c.id, top("clearance", at))),
    );
    let repeats = plan.repeats.iter().map(|repeat| (&repeat.id, repeat.id.clone()));
    once(
        report,
        message!("check-key-operation"),
        plan.operations.iter().map(|o| (&o.id, o.written.clone())).chain(repeats),
    );
    let slots = plan.slots.iter().map(|slot| (&slot.family, &slot.id, slot.set));
    once(report, message!("check-key-slot"), with_members("slot", slots));
    let sites = plan.sites.iter().map(|site| (&plan[site.family].id, &site.id, site.family.0));
    once(report, message!("check-key-site"), with_members("site", sites));
    for joint in &plan.joints {
        let path = top("joint", joint.written);
        let groups =
            joint.groups.iter().enumerate().map(|(group, g)| (&g.id, format!("{path}.group[{group}]")));
        once(report, message!("check-key-group"), groups);
        let fasteners = joint.groups.iter().enumerate().flat_map(|(group, g)| {
            let path = format!("{path}.group[{group}].position");
            joint.fasteners[g.fasteners.clone()].iter().map(move |fastener| (&fastener.id, path.clone()))
        });
        once(report, message!("check-fastener-this-joint"), fasteners);
    }
    for operation in &plan.operations {
        let path = &operation.written;
        match &operation.work {
            OperationWork::Items(items) => {
                let items = items.iter().enumerate().map(|(item, i)| (&i.id, format!("{path}.item[{item}]")));
                once(report, message!("check-key-item"), items);
            }
            OperationWork::Count(counting) if counting.back_of.is_none() => {
                once(
                    report,
                    message!("check-kind-hardware"),
                    counting.hardware.iter().map(|h| (&h.id, format!("{path}.hardware"))),
                );
            }
            _ => {}
        }
    }
}

fn top(list: &str, at: usize) -> String {
    format!("{list}[{at}]")
}

/// The key of every set, and those of its members where they have keys of their own.
fn with_members<'a>(
    list: &'static str,
    sets: impl Iterator<Item = (&'a String, &'a String, usize)>,
) -> impl Iterator<Item = (&'a String, String)> {
    let mut last = None;
    sets.flat_map(move |(set, member, at)| {
        let of_set = (last.replace(at) != Some(at)).then_some(set);
        let of_member = (member != set).then_some(member);
        of_set.into_iter().chain(of_member).map(move |key| (key, top(list, at)))
    })
}

/// Records an error for each key that came before.
fn once<'a>(
    report: &FaultReport,
    what: impl Into<Message>,
    keys: impl Iterator<Item = (&'a String, String)>,
) {
    let what = what.into();
    let mut first: HashMap<&str, String> = HashMap::new();
    for (key, path) in keys {
        match first.get(key.as_str()) {
            Some(before) => {
                let message = message!("check-another-called-this-one-could-not", what, key, before);
                report.error(&path, message);
            }
            None => drop(first.insert(key, path)),
        }
    }
}

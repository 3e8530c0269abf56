//! Who can do what today, with the instruments that are there (C-50).

use crate::{
    BlockedBy, BlockedWork, BuildOutlook, Instrument, OperationStatus, Person, ReadyOperation,
    ToolAvailability, can_use, tool_needs, unavailable_tools,
};
use rigore_plan::Plan;
use std::collections::HashMap;
use time::OffsetDateTime;

/// What stands in the way of an operation for want of an instrument, and who can do it by the instruments.
#[derive(Debug, Clone)]
struct Hands {
    waits: Option<Instrument>,
    by: Vec<usize>,
}

/// Who works in a shop, with what, and when; it remembers what operations need.
#[derive(Debug)]
pub struct Crew<'a> {
    people: &'a [Person],
    instruments: &'a [Instrument],
    at: OffsetDateTime,
    known: HashMap<(String, String), Hands>,
}

impl<'a> Crew<'a> {
    /// People who work on engines, with the instruments of the shop.
    pub fn new(people: &'a [Person], instruments: &'a [Instrument], at: OffsetDateTime) -> Self {
        Self { people, instruments, at, known: HashMap::new() }
    }

    fn hands(&mut self, plan: (&str, &Plan), operation: &str) -> &Hands {
        let key = (plan.0.to_owned(), operation.to_owned());
        self.known.entry(key).or_insert_with(|| {
            let needs = tool_needs(plan.1, operation);
            let standing = |by| unavailable_tools(&needs, self.instruments, by, self.at);
            let waits = match standing(None) {
                ToolAvailability::Waits(tool) => Some(tool.clone()),
                ToolAvailability::Free | ToolAvailability::ForOthers => None,
            };
            let by = self.people.iter().enumerate();
            let by = by.filter(|(_, person)| standing(Some(*person)) != ToolAvailability::ForOthers);
            Hands { waits, by: by.map(|(at, _)| at).collect() }
        })
    }

    /// Takes out of an outlook what can be done now, each with the people who can, by their places. What cannot be
    /// begun because the only instrument for it is away or not to be trusted waits for that.
    pub fn share_out(
        &mut self,
        outlook: &mut BuildOutlook,
        plan: (&str, &Plan),
    ) -> Vec<(ReadyOperation, Vec<usize>)> {
        let mut shared = Vec::new();
        for can in std::mem::take(&mut outlook.can) {
            let people = self.people;
            let signs = can.status == OperationStatus::ToSign;
            let hands = self.hands(plan, &can.operation);
            let may = |at: &usize| can_use(&people[*at], can.lead);
            let by: Vec<usize> = if signs {
                (0..people.len()).filter(may).collect()
            } else {
                hands.by.iter().copied().filter(may).collect()
            };
            let waits = hands.waits.clone().filter(|_| !signs);
            if let Some(tool) = &waits {
                wait_for(outlook, tool, &can.name);
            }
            if waits.is_none() || can.status != OperationStatus::Ready {
                shared.push((can, by));
            }
        }
        shared
    }
}

fn wait_for(outlook: &mut BuildOutlook, tool: &Instrument, operation: &str) {
    let known = outlook.waits.iter_mut();
    let mut known = known.filter(|wait| wait.cause == BlockedBy::Instrument && wait.what == tool.name);
    match known.next() {
        Some(wait) => wait.operations.push(operation.to_owned()),
        None => outlook.waits.push(BlockedWork {
            cause: BlockedBy::Instrument,
            what: tool.name.clone(),
            whole: false,
            operations: vec![operation.to_owned()],
            until: None,
            expected: tool.away.as_ref().and_then(|away| away.until),
        }),
    }
}

#[cfg(test)]
mod tests {
    use super::Crew;
    use crate::{
        BlockedBy, BuildOutlook, Instrument, InstrumentAbsence, OperationStatus, Person, ReadyOperation,
        Role, ToolNeed, tool_needs,
    };
    use rigore_plan::Plan;
    use rigore_plan::way::InstrumentAbility;
    use time::OffsetDateTime;
    use time::macros::date;

    fn plan() -> Plan {
        Plan::judge("small.toml", include_str!("../../../plan/tests/small-plan.toml")).expect("a plan").0
    }

    fn person(id: &str, role: Role) -> Person {
        Person { id: id.into(), name: id.into(), role }
    }

    fn wrench(id: &str, torque_nm: [f64; 2]) -> Instrument {
        Instrument {
            id: id.into(),
            name: id.into(),
            torque_nm: Some(torque_nm),
            angle: true,
            ..Instrument::default()
        }
    }

    /// What can be done of tightening, by whom, and what waits, with some instruments.
    fn today(instruments: &[Instrument], status: OperationStatus) -> (Vec<Vec<usize>>, Vec<String>) {
        let people = [person("lead", Role::Lead), person("one", Role::Bench), person("two", Role::Bench)];
        let can = ReadyOperation {
            operation: "tighten".into(),
            name: "Tighten".into(),
            status,
            now: None,
            lead: false,
            at_it: None,
        };
        let mut outlook = BuildOutlook { can: vec![can], ..BuildOutlook::default() };
        let mut crew = Crew::new(&people, instruments, OffsetDateTime::UNIX_EPOCH);
        let shared = crew.share_out(&mut outlook, ("small", &plan()));
        assert!(outlook.waits.iter().all(|wait| wait.cause == BlockedBy::Instrument));
        let waits = outlook.waits.into_iter().map(|wait| format!("{} {:?}", wait.what, wait.expected));
        (shared.into_iter().map(|(_, by)| by).collect(), waits.collect())
    }

    #[test]
    fn an_operation_needs_what_its_stages_need_but_hand_and_eye() {
        assert_eq!(
            tool_needs(&plan(), "tighten"),
            [ToolNeed::Pull(InstrumentAbility::Torque(30.0)), ToolNeed::Pull(InstrumentAbility::Angle)]
        );
        assert_eq!(tool_needs(&plan(), "prepare"), []);
        assert_eq!(tool_needs(&plan(), "nothing"), []);
    }

    #[test]
    fn what_the_only_wrench_for_it_is_away_for_waits_and_one_that_does_not_reach_holds_nothing() {
        use OperationStatus::{InWork, Ready, ToSign};
        let until = Some(date!(2026 - 12 - 03));
        let away = Instrument {
            away: Some(InstrumentAbsence { place: "lent".into(), until }),
            ..wrench("far", [20.0, 200.0])
        };
        let (here, small) = (wrench("here", [20.0, 200.0]), wrench("small", [2.0, 20.0]));
        let everybody = vec![vec![0, 1, 2]];
        assert_eq!(today(&[], Ready), (everybody.clone(), vec![]), "nobody has told of one");
        assert_eq!(today(&[away.clone(), here.clone()], Ready), (everybody.clone(), vec![]));
        let waits = vec!["far Some(2026-12-03)".to_owned()];
        assert_eq!(today(std::slice::from_ref(&away), Ready), (vec![], waits.clone()));
        // What is in work is shown all the same, and what only has to be signed needs none.
        assert_eq!(today(std::slice::from_ref(&away), InWork), (everybody.clone(), waits));
        assert_eq!(today(&[away], ToSign), (everybody.clone(), vec![]));
        let lent =
            Instrument { away: Some(InstrumentAbsence { place: "lent".into(), until: None }), ..small };
        assert_eq!(today(&[lent, wrench("small too", [1.0, 9.0])], Ready).1, Vec::<String>::new());
        // One that is kept is for those that it is kept for; what is found wrong is for nobody.
        let kept = Instrument { users: vec!["two".into()], ..here.clone() };
        assert_eq!(today(&[kept], Ready), (vec![vec![2]], vec![]));
        let wrong = Instrument { found_wrong: true, ..here };
        assert_eq!(today(&[wrong], Ready), (vec![], vec!["here None".to_owned()]));
    }
}

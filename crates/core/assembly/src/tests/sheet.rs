//! The record of a bottom end as it leaves the shop.

use super::*;
use crate::sheet::BuildSheet;

fn rows(text: &str) -> Vec<Vec<String>> {
    let mut reader = csv::Reader::from_reader(text.as_bytes());
    let columns = reader.headers().unwrap().len();
    let rows: Vec<Vec<String>> =
        reader.records().map(|row| row.unwrap().iter().map(str::to_owned).collect()).collect();
    assert!(rows.iter().all(|row| row.len() == columns));
    rows
}

#[test]
fn every_size_leaves_as_a_line_with_what_was_typed_and_whether_it_counts() {
    let mut shop = Shop::measuring(None);
    shop.read("journal-1", 0, "2.165 in").unwrap();
    shop.read("journal-1", 0, "-0.012 on 55").unwrap();
    shop.read("chamber-1", 0, "48,2").unwrap();
    shop.read("journal-1", 1, "54.990").unwrap();
    let seq = shop.readings("measure").pop().unwrap().seq;
    shop.give(CommandAction::Void(VoidCommand { seq, reason: "slipped, \"twice\"".into() })).unwrap();
    shop.instrument.length_mm = Some([0.0, 25.0]);
    shop.read("housing-1", 0, "58.994").unwrap();
    let rows = rows(&BuildSheet::readings_csv(&shop.state).unwrap());
    let column = |at: usize| rows.iter().map(|row| row[at].as_str()).collect::<Vec<_>>();
    assert_eq!(column(4), ["Journal 1", "Journal 1", "Journal 1", "Housing 1", "Chamber 1"]);
    assert_eq!(column(6)[1..], ["54.988", "54.99", "58.994", "48.2"]);
    assert_eq!(column(8), ["mm", "mm", "mm", "mm", "cm³"]);
    assert_eq!(column(9)[1], "55");
    assert_eq!(column(11), ["2.165 in", "-0.012 on 55", "54.990", "58.994", "48,2"]);
    assert_eq!(column(14), ["", "yes", "", "yes", "yes"]);
    assert_eq!(column(15)[3], "outside the range of Gauge, 0 to 25 mm");
    assert_eq!(column(16)[2], "slipped, \"twice\"");
}

#[test]
fn what_was_left_out_and_what_a_lead_stands_for_is_on_the_sheet() {
    let mut shop = Shop::measuring(None);
    shop.role = Role::Bench;
    shop.give(CommandAction::Skip(SkipCommand {
        operation: "count-out".into(),
        reason: "tray came counted".into(),
    }))
    .unwrap();
    let open = BuildSheet::of(&shop.state);
    assert!(open.issues[0].text.contains("was skipped: tray came counted"));
    shop.role = Role::Lead;
    let (seq, subject) = (open.issues[0].seq, open.issues[0].subject.clone());
    shop.give(CommandAction::Accept(ApproveCommand { seq, subject, reason: "seen".into() })).unwrap();
    let sheet = BuildSheet::of(&shop.state);
    let section = sheet.sections.iter().find(|section| section.id == "count-out").unwrap();
    assert_eq!(section.skipped.as_deref(), Some("tray came counted"));
    assert!(sheet.issues.is_empty());
    let SheetWork::Count { counts } = &section.work else { panic!("counts") };
    assert_eq!(counts.iter().filter(|line| line.count.is_some()).count(), 0);
}

#[test]
fn each_clearance_stands_where_it_is_judged_and_nowhere_else() {
    let shop = Shop::measuring(None);
    let sheet = BuildSheet::of(&shop.state);
    let of = |id: &str| {
        let section = sheet.sections.iter().find(|section| section.id == id).unwrap();
        let SheetWork::Measure(measured) = &section.work else { panic!("a measuring section") };
        measured.clearances.iter().map(|view| format!("{} {}", view.id, view.number)).collect::<Vec<_>>()
    };
    assert_eq!(of("measure"), ["oil 1", "oil 2"]);
    assert_eq!(of("cylinders"), Vec::<String>::new(), "bores are used by others");
    assert_eq!(of("rings"), ["top-gap 1", "top-gap 2"]);
    assert_eq!(of("tops"), ["quench 1", "quench 2", "ratio 1", "ratio 2", "inlet-play 1", "inlet-play 2"]);
}

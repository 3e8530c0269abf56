//! The tools of a dry run: those of the shop, and a simulated wrench and gauge where the shop has none.

use rigore_assembly::Instrument;
use rigore_mechanics::text;
use rigore_plan::SiteForm;
use rigore_store::Roster;

/// The people and tools of the shop, with a simulated wrench and a simulated stretch gauge among them.
pub fn with_simulated_tools(roster: &Roster) -> Roster {
    let mut all = roster.clone();
    let has = |is: fn(&Instrument) -> bool| roster.instruments.iter().any(|of| of.simulated && is(of));
    if !has(|of| of.torque_nm.is_some()) {
        all.instruments.push(Instrument {
            id: "dry-run-wrench".to_owned(),
            name: text!("server-simulated-wrench"),
            torque_nm: Some([1.0, 600.0]),
            angle: true,
            reach_mm: Some(500.0),
            simulated: true,
            ..Instrument::default()
        });
    }
    if !has(|of| of.length_mm.is_some()) {
        all.instruments.push(Instrument {
            id: "dry-run-gauge".to_owned(),
            name: text!("server-simulated-gauge"),
            made_for: vec![SiteForm::Length],
            length_mm: Some([0.0, 300.0]),
            accuracy: 0.002,
            resolution: 0.001,
            simulated: true,
            ..Instrument::default()
        });
    }
    all
}

use super::{Cams, Caps, Engine, Extra, Layout, Pins, Rods};
use crate::{Plan, Severity};
use proptest::prelude::*;

fn any_engine() -> impl Strategy<Value = Engine> {
    let stands = prop_oneof![Just(Layout::Inline), Just(Layout::V), Just(Layout::Flat)];
    let caps = prop_oneof![Just(Caps::Single), Just(Caps::Girdle), Just(Caps::Ladder)];
    let rods = prop_oneof![Just(Rods::Bolts), Just(Rods::Nuts), Just(Rods::Castellated)];
    let cams = prop_oneof![Just(Cams::Block), Just(Cams::Single), Just(Cams::Twin)];
    let flags = proptest::collection::vec(any::<bool>(), 13);
    (stands, 1..=6_u32, 30.0..200.0_f64, 1.05..2.0_f64, caps, rods, cams, 2..=4_u32, flags).prop_map(
        |(layout, some, bore_mm, apart, caps, rods, cams, head_rows, flags)| Engine {
            name: "Engine under test".to_owned(),
            layout,
            cylinders: if layout == Layout::Inline { some } else { 2 * some },
            pins: if flags[11] { Pins::Own } else { Pins::Shared },
            bore_mm,
            spacing_mm: bore_mm * apart,
            main_bolts: if flags[11] { 4 } else { 2 },
            main_studs: flags[12],
            caps,
            rods,
            head_rows,
            head_studs: flags[12],
            cams,
            has: Extra::ALL
                .into_iter()
                .zip(&flags)
                .filter(|(_, has)| **has)
                .map(|(extra, _)| extra)
                .collect(),
            ..Engine::default()
        },
    )
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(128))]

    #[test]
    fn any_shape_is_a_plan_that_can_be_begun_with_its_figures_open(engine in any_engine()) {
        let text = engine.plan().expect("an engine");
        let (plan, warnings) = Plan::judge("shape", &text).map_err(|faults| {
            let first: Vec<String> = faults.iter().filter(|f| f.severity == Severity::Error).map(ToString::to_string).collect();
            TestCaseError::fail(format!("{}\n{text}", first.join("\n")))
        })?;
        prop_assert_eq!(warnings, vec![]);
        let tightened = plan.joints.len();
        prop_assert!(plan.open.iter().filter(|figure| figure.path.ends_with(".procedure")).count() <= tightened);
        prop_assert!(plan.open.iter().any(|figure| figure.what == "Main bearing oil clearance, street: window"));
    }
}

#[test]
fn what_makes_no_engine_is_said_by_its_field() {
    let field = |engine: Engine| engine.plan().unwrap_err().field;
    assert_eq!(field(Engine { cylinders: 0, ..Engine::default() }), "cylinders");
    assert_eq!(field(Engine { cylinders: 5, layout: Layout::V, ..Engine::default() }), "cylinders");
    assert_eq!(field(Engine { spacing_mm: 80.0, ..Engine::default() }), "spacing_mm");
    assert_eq!(field(Engine { bore_mm: f64::NAN, ..Engine::default() }), "bore_mm");
    assert_eq!(field(Engine { name: " ".to_owned(), ..Engine::default() }), "name");
}

#[test]
fn a_v8_with_four_rows_has_ten_studs_a_cylinder_pair() {
    let engine = Engine {
        name: "Boat".to_owned(),
        layout: Layout::V,
        cylinders: 8,
        main_bolts: 4,
        has: Extra::ALL.to_vec(),
        head_rows: 4,
        cams: Cams::Block,
        ..Engine::default()
    };
    let plan = Plan::read("shape", &engine.plan().unwrap()).unwrap();
    let heads = plan.joints.iter().filter(|joint| joint.family == "head");
    let studs = heads.map(|joint| joint.groups[0].fasteners.len());
    assert_eq!(studs.sum::<usize>(), 4 * 10);
    let mains = &plan[plan.joint("main-caps").unwrap()];
    assert_eq!(mains.fasteners.len(), 5 * 6);
}

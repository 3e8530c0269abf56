use super::{CamLayout, CrankPins, CylinderLayout, EngineExtra, EngineShape, MainCaps, RodFastening};
use crate::{Plan, Severity};
use proptest::prelude::*;

fn any_engine() -> impl Strategy<Value = EngineShape> {
    let stands =
        prop_oneof![Just(CylinderLayout::Inline), Just(CylinderLayout::V), Just(CylinderLayout::Flat)];
    let caps = prop_oneof![Just(MainCaps::Single), Just(MainCaps::Girdle), Just(MainCaps::Ladder)];
    let rods =
        prop_oneof![Just(RodFastening::Bolts), Just(RodFastening::Nuts), Just(RodFastening::Castellated)];
    let cams = prop_oneof![Just(CamLayout::Block), Just(CamLayout::Single), Just(CamLayout::Twin)];
    let flags = proptest::collection::vec(any::<bool>(), 13);
    (stands, 1..=6_u32, 30.0..200.0_f64, 1.05..2.0_f64, caps, rods, cams, 2..=4_u32, flags).prop_map(
        |(layout, some, bore_mm, apart, caps, rods, cams, head_rows, flags)| EngineShape {
            name: "Engine under test".to_owned(),
            layout,
            cylinders: if layout == CylinderLayout::Inline { some } else { 2 * some },
            pins: if flags[11] { CrankPins::Own } else { CrankPins::Shared },
            bore_mm,
            spacing_mm: bore_mm * apart,
            main_bolts: if flags[11] { 4 } else { 2 },
            main_studs: flags[12],
            caps,
            rods,
            head_rows,
            head_studs: flags[12],
            cams,
            has: EngineExtra::ALL
                .into_iter()
                .zip(&flags)
                .filter(|(_, has)| **has)
                .map(|(extra, _)| extra)
                .collect(),
            ..EngineShape::default()
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
    let field = |engine: EngineShape| engine.plan().unwrap_err().field;
    assert_eq!(field(EngineShape { cylinders: 0, ..EngineShape::default() }), "cylinders");
    assert_eq!(
        field(EngineShape { cylinders: 5, layout: CylinderLayout::V, ..EngineShape::default() }),
        "cylinders"
    );
    assert_eq!(field(EngineShape { spacing_mm: 80.0, ..EngineShape::default() }), "spacing_mm");
    assert_eq!(field(EngineShape { bore_mm: f64::NAN, ..EngineShape::default() }), "bore_mm");
    assert_eq!(field(EngineShape { name: " ".to_owned(), ..EngineShape::default() }), "name");
}

#[test]
fn a_v8_with_four_rows_has_ten_studs_a_cylinder_pair() {
    let engine = EngineShape {
        name: "Boat".to_owned(),
        layout: CylinderLayout::V,
        cylinders: 8,
        main_bolts: 4,
        has: EngineExtra::ALL.to_vec(),
        head_rows: 4,
        cams: CamLayout::Block,
        ..EngineShape::default()
    };
    let plan = Plan::read("shape", &engine.plan().unwrap()).unwrap();
    let heads = plan.joints.iter().filter(|joint| joint.family == "head");
    let studs = heads.map(|joint| joint.groups[0].fasteners.len());
    assert_eq!(studs.sum::<usize>(), 4 * 10);
    let mains = &plan[plan.joint("main-caps").unwrap()];
    assert_eq!(mains.fasteners.len(), 5 * 6);
}

//! What is computed against the tables of the standards, each by its number.

use rigore_core::fastener::{Strength, Thread};
use rigore_core::friction::Friction;
use rigore_core::joint::{Bearing, Neck, Tightening, assembly_preload};
use rigore_core::quantity::{self, Dimension, in_kn, in_mpa, in_nm, mm, nm};

fn thread(designation: &str) -> Thread {
    Thread::parse(designation).unwrap_or_else(|error| panic!("{designation}: {error}"))
}

/// As a table prints it: to so many digits behind the point.
fn printed(value: f64, digits: usize) -> f64 {
    format!("{value:.digits$}").parse().expect("a number")
}

/// ISO 724, basic pitch diameter, and ISO 68-1 with ISO 965-1, root diameter of the bolt's thread, mm.
#[test]
fn pitch_and_root_diameters_of_iso_724() {
    for (designation, d2, d3) in [
        ("M5", 4.480, 4.019),
        ("M6", 5.350, 4.773),
        ("M8", 7.188, 6.466),
        ("M8x1", 7.350, 6.773),
        ("M10", 9.026, 8.160),
        ("M10x1.25", 9.188, 8.466),
        ("M12", 10.863, 9.853),
        ("M12x1.5", 11.026, 10.160),
        ("M14", 12.701, 11.546),
        ("M16", 14.701, 13.546),
        ("M20", 18.376, 16.933),
        ("M24", 22.051, 20.319),
    ] {
        let of = thread(designation);
        assert_eq!((printed(of.d2_mm(), 3), printed(of.d3_mm(), 3)), (d2, d3), "{designation}");
    }
}

/// ISO 898-1, tables 4 to 7: nominal stress area, mm², of coarse and fine threads, to three figures.
#[test]
fn stress_areas_of_iso_898_1() {
    for (designation, area) in [
        ("M5", 14.2),
        ("M6", 20.1),
        ("M7", 28.9),
        ("M8", 36.6),
        ("M10", 58.0),
        ("M12", 84.3),
        ("M14", 115.0),
        ("M16", 157.0),
        ("M18", 192.0),
        ("M20", 245.0),
        ("M22", 303.0),
        ("M24", 353.0),
        ("M27", 459.0),
        ("M30", 561.0),
        ("M8x1", 39.2),
        ("M10x1", 64.5),
        ("M10x1.25", 61.2),
        ("M12x1.25", 92.1),
        ("M12x1.5", 88.1),
        ("M14x1.5", 125.0),
        ("M16x1.5", 167.0),
        ("M18x1.5", 216.0),
        ("M20x1.5", 272.0),
        ("M24x2", 384.0),
    ] {
        let digits = usize::from(area < 100.0);
        let computed = thread(designation).stress_area_mm2();
        assert_eq!(format!("{computed:.digits$}"), format!("{area:.digits$}"), "{designation}");
    }
}

/// ISO 898-1, table 4: minimum ultimate tensile load, N, by class and size, to three figures.
#[test]
fn tensile_loads_of_iso_898_1() {
    let classes = ["8.8", "10.9", "12.9"];
    for (designation, loads) in [
        ("M6", [16_100.0, 20_900.0, 24_500.0]),
        ("M8", [29_200.0, 38_100.0, 44_600.0]),
        ("M10", [46_400.0, 60_300.0, 70_800.0]),
        ("M12", [67_400.0, 87_700.0, 103_000.0]),
        ("M16", [125_000.0, 163_000.0, 192_000.0]),
    ] {
        let of = thread(designation);
        for (class, load) in classes.iter().zip(loads) {
            let strength = Strength::class(class, of.nominal_mm()).expect("a class of the standard");
            let computed = in_mpa(strength.tensile) * of.stress_area_mm2();
            assert!(
                (computed / load - 1.0_f64).abs() < 0.005,
                "{designation} {class}: {computed} for {load}"
            );
        }
    }
}

/// ASME B1.1: tensile stress area, in², as its tables print it.
#[test]
fn stress_areas_of_asme_b1_1() {
    for (designation, area, digits) in [
        ("#8-32", 0.0140, 4),
        ("#10-24", 0.0175, 4),
        ("#10-32", 0.0200, 4),
        ("1/4-20", 0.0318, 4),
        ("1/4-28", 0.0364, 4),
        ("5/16-18", 0.0524, 4),
        ("5/16-24", 0.0580, 4),
        ("3/8-16", 0.0775, 4),
        ("3/8-24", 0.0878, 4),
        ("7/16-14", 0.1063, 4),
        ("7/16-20", 0.1187, 4),
        ("1/2-13", 0.1419, 4),
        ("1/2-20", 0.1599, 4),
        ("9/16-12", 0.182, 3),
        ("9/16-18", 0.203, 3),
        ("5/8-11", 0.226, 3),
        ("5/8-18", 0.256, 3),
        ("3/4-10", 0.334, 3),
        ("3/4-16", 0.373, 3),
    ] {
        let square_inches = thread(designation).stress_area_mm2() / 25.4_f64.powi(2);
        let last_digit = 10_f64.powi(-digits);
        assert!((square_inches - area).abs() < last_digit, "{designation}: {square_inches} for {area}");
    }
}

/// VDI 2230-1:2015, table A1: assembly preload, kN, and tightening torque, N·m, of shank bolts with metric coarse thread
/// and hexagon head, at 90 % of yield, for a friction of 0.08, 0.10, 0.12, 0.14 and 0.16 on thread and head.
#[test]
fn assembly_preloads_and_torques_of_vdi_2230_table_a1() {
    let frictions = [0.08, 0.10, 0.12, 0.14, 0.16];
    // Width of the bearing face (ISO 4014) and clearance hole (ISO 273, medium), mm.
    let faces = [
        ("M6", 8.88, 6.6),
        ("M8", 11.63, 9.0),
        ("M10", 14.63, 11.0),
        ("M12", 16.63, 13.5),
        ("M16", 22.49, 17.5),
    ];
    let table: [(&str, &str, [f64; 5], [f64; 5]); 10] = [
        ("M6", "8.8", [10.7, 10.4, 10.2, 9.9, 9.6], [7.7, 9.0, 10.1, 11.3, 12.3]),
        ("M8", "8.8", [19.5, 19.1, 18.6, 18.1, 17.6], [18.5, 21.6, 24.6, 27.3, 29.8]),
        ("M10", "8.8", [31.0, 30.3, 29.6, 28.8, 27.9], [36.0, 43.0, 48.0, 54.0, 59.0]),
        ("M12", "8.8", [45.2, 44.1, 43.0, 41.9, 40.7], [63.0, 73.0, 84.0, 93.0, 102.0]),
        ("M16", "8.8", [84.7, 82.9, 80.9, 78.8, 76.6], [153.0, 180.0, 206.0, 230.0, 252.0]),
        ("M6", "10.9", [15.7, 15.3, 14.9, 14.5, 14.1], [11.3, 13.2, 14.9, 16.5, 18.0]),
        ("M8", "10.9", [28.7, 28.0, 27.3, 26.6, 25.8], [27.2, 31.8, 36.1, 40.1, 43.8]),
        ("M10", "10.9", [45.6, 44.5, 43.4, 42.2, 41.0], [53.0, 63.0, 71.0, 79.0, 87.0]),
        ("M12", "10.9", [66.3, 64.8, 63.2, 61.5, 59.8], [92.0, 108.0, 123.0, 137.0, 149.0]),
        ("M16", "10.9", [124.4, 121.7, 118.8, 115.7, 112.6], [224.0, 264.0, 302.0, 338.0, 370.0]),
    ];
    for (designation, class, preloads, torques) in table {
        let of = thread(designation);
        let strength = Strength::class(class, of.nominal_mm()).expect("a class of the standard");
        let (_, face, hole) = faces.iter().find(|(name, _, _)| *name == designation).expect("its face");
        let bearing = Bearing { mean_diameter: mm(f64::midpoint(*face, *hole)) };
        for ((mu, preload_kn), torque_nm) in frictions.into_iter().zip(preloads).zip(torques) {
            let preload = assembly_preload(&of, Neck::of(&of, []), 0.9, mu, strength.proof);
            let off = in_kn(preload) / preload_kn - 1.0;
            assert!(
                off.abs() < 0.005,
                "{designation} {class} μ {mu}: {} kN for {preload_kn}",
                in_kn(preload)
            );
            let friction = Friction::both(mu);
            let torque = in_nm(Tightening { thread: of, bearing, friction }.torque(preload, nm(0.0)));
            // Torques of 36 N·m and more are printed without a decimal place.
            let rounding = if torque_nm >= 36.0 { 0.5 } else { 0.05 };
            let most = rounding + 0.005 * torque_nm;
            assert!(
                (torque - torque_nm).abs() < most,
                "{designation} {class} μ {mu}: {torque} N·m for {torque_nm}"
            );
        }
    }
}

/// NIST SP 811, appendix B.9: factors for conversion to SI.
#[test]
fn conversions_of_nist_sp_811() {
    for (text, dimension, value, off) in [
        ("1 lbf·ft", Dimension::Torque, 1.355_818, 5e-7),
        ("1 lbf·in", Dimension::Torque, 0.112_984_8, 5e-8),
        ("1 kgf·m", Dimension::Torque, 9.806_65, 1e-9),
        ("1 kgf·cm", Dimension::Torque, 0.098_066_5, 1e-9),
        ("1 lbf", Dimension::Force, 4.448_222e-3, 5e-10),
        ("1 ksi", Dimension::Pressure, 6.894_757, 5e-7),
        ("1 in", Dimension::Length, 25.4, 1e-12),
        ("1 thou", Dimension::Length, 0.0254, 1e-12),
        ("1 in³", Dimension::Volume, 16.387_064, 5e-7),
        ("82.4 °F", Dimension::Temperature, 28.0, 1e-9),
        ("-40 °F", Dimension::Temperature, -40.0, 1e-9),
    ] {
        let read =
            quantity::read(text, dimension, dimension.base()).unwrap_or_else(|e| panic!("{text}: {e}"));
        assert!((read - value).abs() <= off, "{text}: {read} for {value}");
    }
}

/// Properties that no table has, over everything that a builder may enter.
mod properties {
    use proptest::prelude::*;
    use rigore_core::calc;
    use serde_json::{Value, json};

    const THREADS: [&str; 6] = ["M6", "M8x1", "M10x1.25", "M12x1.5", "3/8-24", "7/16-20"];

    fn figure(name: &str, input: &Value, field: &str) -> f64 {
        let result =
            calc::run(name, &input.to_string()).unwrap_or_else(|error| panic!("{name} {input}: {error:?}"));
        result[field].as_f64().unwrap_or_else(|| panic!("{name} gives {field}"))
    }

    fn torque(thread: &str, torque_nm: f64, mu: f64) -> Value {
        json!({"thread": thread, "torque_nm": torque_nm, "mu_thread": mu, "mu_bearing": mu, "bearing_diameter_mm": 14.0})
    }

    proptest! {
        /// More friction, less clamp load; more torque, more of it, in proportion.
        #[test]
        fn clamp_load_falls_with_friction_and_rises_with_torque(
            thread in 0usize..6, torque_nm in 1.0f64..5.0, mu in 0.04f64..0.3, more in 0.01f64..0.2
        ) {
            let load = |torque_nm: f64, mu: f64| figure("preload-from-torque", &torque(THREADS[thread], torque_nm, mu), "preload_kn");
            prop_assert!(load(torque_nm, mu + more) < load(torque_nm, mu));
            prop_assert!((load(torque_nm * 2.0, mu) / load(torque_nm, mu) - 2.0).abs() < 1e-9);
        }

        /// Where friction has no range and the wrench no error, the range is the closed form.
        #[test]
        fn a_range_without_scatter_is_the_closed_form(
            thread in 0usize..6, torque_nm in 1.0f64..5.0, mu in 0.04f64..0.3, spread in 0.0f64..0.03
        ) {
            let range = json!({
                "thread": THREADS[thread], "bearing_diameter_mm": 14.0, "torque_nm": torque_nm, "accuracy": 0.0,
                "mu_low": mu, "mu_typical": mu, "mu_high": mu,
            });
            let closed = figure("preload-from-torque", &torque(THREADS[thread], torque_nm, mu), "preload_kn");
            for field in ["low_kn", "typical_kn", "high_kn"] {
                prop_assert!((figure("preload-range", &range, field) - closed).abs() < 1e-9);
            }
            let mut wide = range;
            wide["mu_low"] = json!(mu - spread);
            wide["mu_high"] = json!(mu + spread);
            let [low, typical, high] = ["low_kn", "typical_kn", "high_kn"].map(|field| figure("preload-range", &wide, field));
            prop_assert!(low <= typical && typical <= high);
        }

        /// An angle adds clamp load in proportion, and softer parts take some of it.
        #[test]
        fn an_angle_adds_less_to_a_softer_joint(
            thread in 0usize..6, angle in 5.0f64..180.0, bolt in 1e-6f64..9e-6, parts in 0.3e-6f64..4e-6, softer in 1.05f64..3.0
        ) {
            let load = |angle: f64, parts: f64| {
                let input = json!({
                    "thread": THREADS[thread], "angle_deg": angle,
                    "bolt_resilience_mm_per_n": bolt, "part_resilience_mm_per_n": parts,
                });
                calc::run("angle-preload", &input.to_string()).ok().and_then(|result| result["preload_kn"].as_f64())
            };
            if let (Some(plain), Some(soft), Some(half)) = (load(angle, parts), load(angle, parts * softer), load(angle / 2.0, parts)) {
                prop_assert!(soft < plain);
                prop_assert!((plain / half - 2.0).abs() < 1e-9);
            }
        }

        /// The bolt's share and what the parts lose make up the working load; nothing clamps past where the joint opens.
        #[test]
        fn a_working_load_is_shared_without_a_rest(
            preload in 5.0f64..80.0, share in 0.05f64..0.95, bolt in 1e-6f64..9e-6, parts in 0.3e-6f64..4e-6
        ) {
            let input = |axial: f64| json!({
                "preload_kn": preload, "axial_kn": axial, "load_introduction": 0.5,
                "bolt_resilience_mm_per_n": bolt, "part_resilience_mm_per_n": parts,
            });
            let opens = figure("working-load", &input(1.0), "opens_at_kn");
            let axial = opens * share;
            let of = |field| figure("working-load", &input(axial), field);
            prop_assert!((of("bolt_share_kn") + (preload - of("clamp_kn")) - axial).abs() < 1e-9);
            prop_assert!(of("clamp_kn") > 0.0);
            prop_assert!(figure("working-load", &input(opens), "clamp_kn").abs() < 1e-9 * preload);
        }

        /// Faster, longer strokes and heavier pistons pull more on a rod bolt; twice the speed pulls four times as much.
        #[test]
        fn a_rod_bolt_is_pulled_by_the_square_of_the_speed(
            mass in 0.2f64..1.0, rotating in 0.1f64..0.6, stroke in 50.0f64..120.0, ratio in 1.5f64..2.2, speed in 1_000.0f64..9_000.0
        ) {
            let load = |mass: f64, stroke: f64, speed: f64| figure("rod-bolt-load", &json!({
                "reciprocating_kg": mass, "rotating_kg": rotating, "stroke_mm": stroke, "rod_mm": stroke * ratio,
                "speed_rpm": speed, "bolts": 2,
            }), "per_bolt_kn");
            prop_assert!((load(mass, stroke, speed * 2.0) / load(mass, stroke, speed) - 4.0).abs() < 1e-9);
            prop_assert!(load(mass * 1.1, stroke, speed) > load(mass, stroke, speed));
            prop_assert!(load(mass, stroke * 1.1, speed) > load(mass, stroke, speed));
        }

        /// Parts that grow more than the bolt clamp harder, and as much softer when all of it is cold.
        #[test]
        fn warmth_and_cold_are_opposite(
            length in 10.0f64..150.0, rise in 1.0f64..150.0, bolt in 1e-6f64..9e-6, parts in 0.3e-6f64..4e-6
        ) {
            let change = |rise: f64| figure("thermal-load", &json!({
                "clamp_length_mm": length, "bolt_expansion_per_k": 11.5e-6, "part_expansion_per_k": 23e-6,
                "bolt_rise_k": rise, "part_rise_k": rise,
                "bolt_resilience_mm_per_n": bolt, "part_resilience_mm_per_n": parts,
            }), "change_kn");
            prop_assert!(change(rise) > 0.0);
            prop_assert!((change(rise) + change(-rise)).abs() < 1e-9 * change(rise));
        }

        /// A washer never raises the pressure under a head, and a thicker one never more than a thin one.
        #[test]
        fn a_washer_never_presses_harder(
            force in 5.0f64..80.0, face in 12.0f64..20.0, wider in 0.0f64..14.0, thin in 0.5f64..2.0, thicker in 0.0f64..4.0
        ) {
            let pressure = |thickness: f64, field| figure("surface-pressure", &json!({
                "force_kn": force, "outer_mm": face, "hole_mm": 10.5,
                "washer_mm": face + wider, "washer_thickness_mm": thickness,
            }), field);
            let with = |thickness| pressure(thickness, "under_washer_mpa");
            prop_assert!(with(thin) <= pressure(thin, "pressure_mpa") + 1e-9);
            prop_assert!(with(thin + thicker) <= with(thin) + 1e-9);
        }

        /// Whatever is typed, a calculation answers in finite figures, or refuses and names a field, and gives nothing then.
        #[test]
        fn a_refusal_gives_nothing_half_computed(
            at in 0usize..100, field in 0usize..20, value in prop_oneof![
                Just(json!(0)), Just(json!(-1)), Just(json!(1e308)), Just(json!("x")), Just(Value::Null), Just(json!([])), Just(json!({})),
                (-1e6f64..1e6).prop_map(|figure| json!(figure)),
            ]
        ) {
            let all = calc::listed();
            let of = &all[at % all.len()];
            let mut input = of.example.clone();
            let fields = of.calculation.input;
            let field = fields[field % fields.len()].name;
            input[field] = value;
            match calc::run(of.calculation.name, &input.to_string()) {
                Ok(result) => {
                    let figures = result.as_object().expect("an object");
                    prop_assert!(!figures.is_empty() && figures.values().all(|value| !value.is_null()), "{result}");
                }
                Err(error) => prop_assert!(!error.field.is_empty() && !error.message.in_base_units().is_empty()),
            }
        }
    }
}

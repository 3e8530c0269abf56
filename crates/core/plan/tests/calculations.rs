//! Properties of the calculations that no table has, over everything that a builder may enter.

use proptest::prelude::*;
use rigore_plan::calc;
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
        let all = calc::listings();
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

//! Check values by name, and what is refused.

use super::{calculations, listings, run};
use serde_json::{Value, json};

fn calc(name: &str, input: &Value) -> Value {
    run(name, &input.to_string()).unwrap_or_else(|error| panic!("{name}: {error}"))
}

fn near(value: &Value, field: &str, expected: f64, tolerance: f64) {
    let got = value[field].as_f64().unwrap_or_else(|| panic!("{field} in {value}"));
    assert!((got - expected).abs() <= tolerance, "{field} is {got}, not {expected}");
}

#[test]
fn published_values_by_name() {
    near(&calc("thread", &json!({"designation": "M8x1.25"})), "stress_area_mm2", 36.6, 0.05);
    let pulled = json!({"thread": "M10x1.25", "torque_nm": 65, "mu_thread": 0.10, "mu_bearing": 0.12,
        "bearing_diameter_mm": 13.5, "yield_mpa": 940});
    let preload = calc("preload-from-torque", &pulled);
    near(&preload, "preload_kn", 42.22, 0.005);
    near(&preload, "nut_factor", 0.1539, 5e-5);
    assert!(preload["utilisation"].as_f64().unwrap() < 0.9);
    let back = json!({"thread": "M10x1.25", "preload_kn": 42.22, "mu_thread": 0.10, "mu_bearing": 0.12,
        "bearing_diameter_mm": 13.5});
    near(&calc("torque-from-preload", &back), "torque_nm", 65.0, 0.01);
    let assembly = calc(
        "assembly-preload",
        &json!({"thread": "M10x1.25", "yield_mpa": 940, "utilisation": 0.9,
        "mu_thread": 0.12, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5}),
    );
    near(&assembly, "preload_kn", 46.46, 0.01);
    near(&assembly, "torque_nm", 76.4, 0.1);
    let bolt = calc(
        "bolt-resilience",
        &json!({"thread": "M10x1.25", "head": "hex", "end": "tapped",
        "segments": [{"length_mm": 30, "diameter_mm": 10}, {"length_mm": 22, "diameter_mm": "thread"}]}),
    );
    near(&bolt, "resilience_mm_per_n", 4.718e-6, 1e-9);
    near(&bolt, "own_mm_per_n", 4.513e-6, 1e-9);
    let angle = calc(
        "angle-preload",
        &json!({"thread": "M10x1.25", "angle_deg": 60,
        "bolt_resilience_mm_per_n": 4.718e-6, "part_resilience_mm_per_n": 1.225e-6}),
    );
    near(&angle, "preload_kn", 35.05, 0.01);
    let reading =
        calc("angle-reading", &json!({"start_deg": 310, "angle_deg": 80, "wrap": true, "direction": "up"}));
    near(&reading, "stop_deg", 30.0, 1e-9);
    assert_eq!(reading["clock"], "2:40");
    // A painted line that stands at three o'clock goes on from there (C-65).
    let on = calc(
        "angle-reading",
        &json!({"start_deg": 0, "angle_deg": 70, "wrap": true, "direction": "up", "mark_deg": 90}),
    );
    assert_eq!((&on["clock"], &on["stop_deg"]), (&json!("5:20"), &json!(70.0)));
    near(&calc("castellated", &json!({"slots": 6, "past_slot_deg": 42})), "advance_deg", 18.0, 1e-9);
}

#[test]
fn stretch_friction_and_lubricants_by_name() {
    let stretch = json!({"thread": "M9x1.0", "stretch_mm": 0.150, "bolt_resilience_mm_per_n": 4.834e-6});
    let load = calc("stretch-preload", &stretch);
    near(&load, "preload_kn", 31.03, 0.005);
    near(&load, "stress_mpa", 31_030.0 / 51.0, 1.0);
    assert!(load.get("utilisation").is_none());
    let half =
        json!({"thread": "M9x1.0", "stretch_mm": 0.1, "bolt_resilience_mm_per_n": 5e-6, "yield_mpa": 900});
    assert_eq!(run("stretch-preload", &half.to_string()).unwrap_err().field, "mu_thread");
    let pairs = json!([
        {"torque_nm": 40, "stretch_mm": 0.095}, {"torque_nm": 50, "stretch_mm": 0.121},
        {"torque_nm": 55, "stretch_mm": 0.131},
    ]);
    let friction = json!({"thread": "M9x1.0", "bolt_resilience_mm_per_n": 4.834e-6, "pairs": pairs,
        "target_stretch_mm": 0.150});
    let friction = calc("nut-factor", &friction);
    near(&friction, "nut_factor", 0.2244, 5e-5);
    near(&friction, "torque_nm", 62.7, 0.05);
    let both = |mu: f64| json!({"mu_thread": mu, "mu_bearing": mu});
    let oil = json!({"thread": "M10x1.25", "bearing_diameter_mm": 13.5, "torque_nm": 80, "from": both(0.14),
        "to": both(0.08)});
    near(&calc("lubricant-conversion", &oil), "torque_nm", 49.3, 0.05);
    let range = |mu_low: f64| {
        json!({"thread": "M10x1.25", "bearing_diameter_mm": 13.5, "torque_nm": 65, "mu_low": mu_low,
            "mu_typical": 0.12, "mu_high": 0.16, "accuracy": 0.04})
    };
    let kn = calc("preload-range", &range(0.08));
    for (field, published) in [("low_kn", 29.33), ("typical_kn", 39.50), ("high_kn", 58.11)] {
        near(&kn, field, published, 0.005);
    }
    assert_eq!(run("preload-range", &range(0.13).to_string()).unwrap_err().field, "mu_typical");
}

#[test]
fn settings_engagement_and_yield_by_name() {
    for (angle, setting) in [(0, 80.0), (45, 82.69), (90, 90.0), (180, 102.86)] {
        let input = json!({"target_nm": 90, "wrench_mm": 400, "adapter_mm": 50, "angle_deg": angle});
        near(&calc("adapter", &input), "setting_nm", setting, 0.005);
    }
    let stages = calc("stages", &json!({"final_nm": 88, "steps": 3, "resolution_nm": 1}));
    assert_eq!(stages["stages_nm"], json!([29.0, 59.0, 88.0]));
    let engaged =
        json!({"thread": "M10x1.25", "tensile_mpa": 1040, "hole_tensile_mpa": 240, "engaged_mm": 18});
    for (field, needed) in [("needed_mm", 19.3), ("needed_hole_mm", 19.3), ("needed_bolt_mm", 5.0)] {
        near(&calc("engagement", &engaged), field, needed, 0.05);
    }
    assert_eq!(calc("engagement", &engaged)["weaker"], "hole");
    near(&calc("engagement", &engaged), "strip_kn", 71.3, 0.05);
    let yields = calc(
        "yield-angle",
        &json!({"thread": "M10x1.25", "yield_mpa": 940, "mu_thread": 0.12, "snug_kn": 18.23,
        "bolt_resilience_mm_per_n": 4.718e-6, "part_resilience_mm_per_n": 1.225e-6}),
    );
    near(&yields, "preload_kn", 51.62, 0.01);
    near(&yields, "angle_deg", 57.1, 0.05);
    let square = json!([{"id": "a", "x_mm": 0, "y_mm": 0}, {"id": "b", "x_mm": 9, "y_mm": 0},
        {"id": "c", "x_mm": 9, "y_mm": 9}, {"id": "d", "x_mm": 0, "y_mm": 9}]);
    for (pattern, order) in
        [("criss-cross", "acbd"), ("diagonal", "acdb"), ("clockwise", "abcd"), ("line", "adbc")]
    {
        let got = calc("sequence", &json!({"pattern": pattern, "points": square}));
        let got: String = got["order"].as_array().unwrap().iter().filter_map(Value::as_str).collect();
        assert_eq!(got, order, "{pattern}");
    }
}

#[test]
fn clearances_by_name() {
    let ratio = calc(
        "compression-ratio",
        &json!({"bore_mm": 86, "stroke_mm": 86, "chamber_cc": 48, "piston_cc": 4,
        "gasket_bore_mm": 87, "gasket_mm": 1.0, "deck_mm": 0.3}),
    );
    near(&ratio, "ratio", 9.37, 0.005);
    let oil = calc(
        "oil-clearance",
        &json!({"bore_mm": [59.010, 59.014], "journal_mm": [54.990, 54.986],
        "upper_shell_mm": 1.985, "lower_shell_mm": 1.985}),
    );
    near(&oil, "min_mm", 0.050, 1e-9);
    near(&oil, "max_mm", 0.058, 1e-9);
    near(&oil, "bore_out_of_round_mm", 0.004, 1e-9);
    near(&calc("ring-gap", &json!({"bore_mm": 83, "factor_mm_per_mm": 0.0045})), "gap_mm", 0.3735, 1e-9);
    let verdict = calc(
        "clearance-verdict",
        &json!({"value_mm": 0.036, "low_mm": 0.035, "high_mm": 0.060,
        "instruments": [{"accuracy_mm": 0.002, "resolution_mm": 0.001}, {"accuracy_mm": 0.002, "resolution_mm": 0.001}]}),
    );
    assert_eq!(verdict["verdict"], "too-close");
    let strip = calc("plastic-strip", &json!({"strip_mm": 0.3, "width_mm": [1.40, 1.43]}));
    near(&strip, "clearance_mm", 0.05, 5e-4);
    let rod = calc(
        "pushrod-length",
        &json!({"checking_length_mm": 200, "measured_lash_mm": 1.6,
        "wanted_lash_mm": 0.1, "rocker_ratio": 1.5}),
    );
    near(&rod, "length_mm", 201.0, 1e-9);
}

/// Worked out apart from the program, with the formulas as they stand in the books.
#[test]
fn computed_values_of_sizes_and_what_follows_from_them() {
    for (name, input, field, expected) in [
        ("end-float", json!({"gap_mm": 25.25, "width_mm": [12.4, 12.6]}), "clearance_mm", 0.25),
        ("piston-clearance", json!({"bore_mm": [83.010, 83.004], "piston_mm": 82.95}), "mean_mm", 0.057),
        (
            "piston-clearance",
            json!({"bore_mm": [83.010, 83.004], "piston_mm": 82.95}),
            "bore_spread_mm",
            0.006,
        ),
        ("ring-file", json!({"wanted_mm": 0.3735, "measured_mm": 0.30}), "file_mm", 0.0735),
        ("ring-file", json!({"wanted_mm": 0.3735, "measured_mm": 0.40}), "file_mm", 0.0),
        ("ring-side-clearance", json!({"groove_mm": 1.250, "ring_mm": 1.205}), "clearance_mm", 0.045),
        ("deck-height", json!({"deck_mm": 210.00, "piston_top_mm": 210.12}), "deck_mm", -0.12),
        ("quench", json!({"deck_mm": 0.15, "gasket_mm": 1.2}), "quench_mm", 1.35),
        (
            "pickup-clearance",
            json!({"pan_depth_mm": 95, "pickup_depth_mm": 88, "gasket_mm": 0.5}),
            "clearance_mm",
            7.5,
        ),
        ("plastic-strip", json!({"strip_mm": 0.38, "width_mm": [2.14]}), "clearance_mm", 0.052_996),
        (
            "temperature-correction",
            json!({"length_mm": 83.020, "temperature_c": 40, "expansion_per_k": 10.5e-6}),
            "length_mm",
            83.002_569,
        ),
        (
            "compression-ratio",
            json!({"bore_mm": 83, "stroke_mm": 92, "chamber_cc": 46.7, "piston_cc": 9.5, "gasket_bore_mm": 84.5,
                "gasket_mm": 1.2, "deck_mm": 0.15, "crevice_cc": 0.6}),
            "ratio",
            8.736_514,
        ),
        ("castellated", json!({"slots": 6, "past_slot_deg": 0}), "advance_deg", 0.0),
        ("castellated", json!({"slots": 10, "past_slot_deg": 5}), "advance_deg", 31.0),
        (
            "pushrod-length",
            json!({"checking_length_mm": 180, "measured_lash_mm": -0.4, "wanted_lash_mm": 0.1}),
            "length_mm",
            179.5,
        ),
        (
            "piston-to-valve",
            json!({"series": [{"crank_deg": -5, "clearance_mm": 2.4}, {"crank_deg": 8, "clearance_mm": 1.9},
                {"crank_deg": 15, "clearance_mm": 2.2}]}),
            "at_deg",
            8.0,
        ),
        (
            "clearance-verdict",
            json!({"value_mm": 0.048, "low_mm": 0.035, "high_mm": 0.060,
                "instruments": [{"accuracy_mm": 0.003, "resolution_mm": 0.0}]}),
            "uncertainty_mm",
            2.0 * 0.003 / 1.732_050_8,
        ),
    ] {
        near(&calc(name, &input), field, expected, 1e-6);
    }
}

/// Check values of the mechanics, published or derived apart from the program.
#[test]
fn running_settling_and_geometry_by_name() {
    let rod = json!({"reciprocating_kg": 0.55, "rotating_kg": 0.30, "stroke_mm": 86, "rod_mm": 144,
        "speed_rpm": 8000, "bolts": 2});
    let load = json!({"preload_kn": 46, "axial_kn": 15.3, "load_introduction": 0.3, "thread": "M9x1",
        "bolt_resilience_mm_per_n": 5.061e-6, "part_resilience_mm_per_n": 1.2e-6});
    let warm = json!({"clamp_length_mm": 90, "bolt_expansion_per_k": 11.5e-6, "part_expansion_per_k": 23e-6,
        "bolt_rise_k": 80, "part_rise_k": 80, "bolt_resilience_mm_per_n": 6.0e-6, "part_resilience_mm_per_n": 1.5e-6});
    let settled = json!({"amounts_um": [3, 2.5, 2.5, 1.5], "bolt_resilience_mm_per_n": 5.061e-6,
        "part_resilience_mm_per_n": 1.2e-6});
    let cam = json!({"intake_opens_deg": 24, "intake_closes_deg": 64, "exhaust_opens_deg": 66,
        "exhaust_closes_deg": 22});
    let plunger = json!({"checking_length_mm": 180, "measured_lash_mm": 0.6, "wanted_preload_mm": 0.8,
        "rocker_ratio": 1.5});
    for (name, input, field, expected, tolerance) in [
        ("rod-bolt-load", &rod, "inertia_kn", 30.61, 0.005),
        ("rod-bolt-load", &rod, "per_bolt_kn", 15.30, 0.006),
        ("working-load", &load, "factor", 0.0575, 5e-5),
        ("working-load", &load, "bolt_share_kn", 0.880, 5e-4),
        ("working-load", &load, "clamp_kn", 31.58, 0.005),
        ("working-load", &load, "alternating_limit_mpa", 52.4, 0.05),
        ("thermal-load", &warm, "change_kn", 11.04, 0.005),
        ("thermal-load", &warm, "part_growth_mm", 0.1656, 1e-9),
        ("thermal-load", &warm, "bolt_growth_mm", 0.0828, 1e-9),
        ("embedding", &settled, "loss_kn", 1.517, 0.0005),
        (
            "surface-pressure",
            &json!({"force_kn": 50, "outer_mm": 16, "hole_mm": 11}),
            "pressure_mpa",
            471.6,
            0.05,
        ),
        (
            "piston-position",
            &json!({"stroke_mm": 86, "rod_mm": 144, "angle_deg": 77}),
            "below_top_mm",
            39.557,
            0.0005,
        ),
        ("cam-timing", &cam, "intake_duration_deg", 268.0, 1e-9),
        ("cam-timing", &cam, "intake_centre_deg", 110.0, 1e-9),
        ("cam-timing", &cam, "exhaust_duration_deg", 268.0, 1e-9),
        ("cam-timing", &cam, "exhaust_centre_deg", 112.0, 1e-9),
        ("cam-timing", &cam, "separation_deg", 111.0, 1e-9),
        ("cam-timing", &cam, "overlap_deg", 46.0, 1e-9),
        (
            "lash-shim",
            &json!({"shim_mm": 2.60, "measured_mm": 0.31, "wanted_mm": 0.24}),
            "shim_mm",
            2.67,
            1e-9,
        ),
        // The preload itself, and the lash through the rocker: 180 + 0.6/1.5 + 0.8.
        ("pushrod-length", &plunger, "length_mm", 181.2, 1e-9),
    ] {
        near(&calc(name, input), field, expected, tolerance);
    }
    // A part under a limit says how much of it is used; a joint without its thread says nothing of fatigue.
    let limited = json!({"force_kn": 50, "outer_mm": 16, "hole_mm": 11, "limit_mpa": 943.2});
    near(&calc("surface-pressure", &limited), "share", 0.5, 1e-3);
    let mut without = load.clone();
    without.as_object_mut().unwrap().remove("thread");
    assert!(calc("working-load", &without).get("alternating_mpa").is_none());
}

#[test]
fn a_figure_may_be_written_with_its_unit() {
    // Degrees Fahrenheit have an offset: 82.4 °F is 28 °C.
    let warm = |temperature: Value| json!({"length_mm": 86.05, "temperature_c": temperature, "expansion_per_k": 22e-6});
    for temperature in [json!("82.4 °F"), json!("28 °C"), json!("28"), json!(28)] {
        near(&calc("temperature-correction", &warm(temperature)), "correction_mm", -0.0151, 5e-5);
    }
    let stretch =
        json!({"thread": "M9x1", "stretch_mm": "5.9055 thou", "bolt_resilience_mm_per_n": 4.834e-6});
    near(&calc("stretch-preload", &stretch), "preload_kn", 31.03, 0.005);
    let parts = json!({"bearing_od_mm": 16, "hole_mm": 11, "clamp_length_mm": 52, "outer_mm": 40,
        "modulus_gpa": "70000 MPa", "kind": "tapped"});
    near(&calc("part-resilience", &parts), "resilience_mm_per_n", 1.225e-6, 1e-9);
    let rod = json!({"reciprocating_kg": "550 g", "rotating_kg": 0.30, "stroke_mm": 86, "rod_mm": 144,
        "speed_rpm": 8000, "bolts": 2});
    near(&calc("rod-bolt-load", &rod), "inertia_kn", 30.61, 0.005);
    let settled = json!({"amounts_um": ["0.003 mm", "2.5 µm", 2.5, 1.5], "bolt_resilience_mm_per_n": 5.061e-6,
        "part_resilience_mm_per_n": 1.2e-6});
    near(&calc("embedding", &settled), "loss_kn", 1.517, 0.0005);
    let bores = json!({"bore_mm": ["3.3858 in", 86.0], "piston_mm": 85.94});
    near(&calc("piston-clearance", &bores), "mean_mm", 0.0597, 5e-4);
    for (wrong, field) in [("28 N·m", "temperature_c"), ("warm", "temperature_c")] {
        let error = run("temperature-correction", &warm(json!(wrong)).to_string()).unwrap_err();
        assert_eq!(error.field, field, "{error}");
    }
}

#[test]
fn a_reduced_shank_yields_first_wherever_it_is_given() {
    let thread = "M9x1";
    let assembly = |shank: Option<f64>| {
        let mut input = json!({"thread": thread, "yield_mpa": 1250, "utilisation": 0.9, "mu_thread": 0.1,
            "mu_bearing": 0.1, "bearing_diameter_mm": 12});
        if let Some(mm) = shank {
            input["shank_mm"] = json!(mm);
        }
        calc("assembly-preload", &input)["preload_kn"].as_f64().unwrap()
    };
    assert!(assembly(Some(7.6)) < assembly(None) && assembly(Some(9.0)) == assembly(None));
    let stretched = json!({"thread": thread, "stretch_mm": 0.15, "bolt_resilience_mm_per_n": 4.834e-6,
        "shank_mm": 7.6, "yield_mpa": 1250, "mu_thread": 0.1});
    // 31.03 kN on π/4 · 7.6² = 45.36 mm².
    near(&calc("stretch-preload", &stretched), "stress_mpa", 684.0, 0.2);
    let yields = |shank: f64| {
        let input = json!({"thread": thread, "shank_mm": shank, "yield_mpa": 1250, "mu_thread": 0.1, "snug_kn": 5,
            "bolt_resilience_mm_per_n": 5.061e-6, "part_resilience_mm_per_n": 1.2e-6});
        calc("yield-angle", &input)["angle_deg"].as_f64().unwrap()
    };
    assert!(yields(7.6) < yields(9.0));
}

#[test]
fn a_verdict_by_name_is_in_out_or_too_close() {
    for (value, verdict) in [
        (0.048, "inside"),
        (0.0355, "too-close"),
        (0.0345, "too-close"),
        (0.030, "outside"),
        (0.07, "outside"),
    ] {
        let input = json!({"value_mm": value, "low_mm": 0.035, "high_mm": 0.060,
            "instruments": [{"accuracy_mm": 0.002, "resolution_mm": 0.001}]});
        assert_eq!(calc("clearance-verdict", &input)["verdict"], verdict, "{value}");
    }
}

#[test]
fn shells_and_gaps_by_name() {
    let shells = calc(
        "shell-choice",
        &json!({"room_mm": [4.010, 4.025], "low_mm": 0.040, "high_mm": 0.060, "target_mm": 0.050,
            "grades": [{"name": "C", "thickness_mm": 1.990}, {"name": "A", "thickness_mm": 1.980}, {"name": "B", "thickness_mm": 1.985}]}),
    );
    let pair = |at: usize| (shells["choices"][at]["upper"].clone(), shells["choices"][at]["lower"].clone());
    assert_eq!((pair(0), pair(1)), ((json!("A"), json!("A")), (json!("B"), json!("C"))));
    near(&shells["choices"][1], "clearance_mm", 0.050, 1e-9);
    let clocked = calc("ring-clocking", &json!({"gaps": 4, "first_deg": 30, "clear_deg": 20}));
    assert_eq!(clocked, json!({"angles_deg": [45.0, 135.0, 225.0, 315.0], "clear_deg": 45.0}));
}

#[test]
fn every_fault_names_its_field() {
    for (name, input, field) in [
        ("thread", r#"{"designation": "M8", "size": 1}"#, "size"),
        ("thread", "{}", "designation"),
        ("thread", r#"{"designation": 8}"#, "designation"),
        ("thread", r#"{"designation": "M8x9"}"#, "designation"),
        ("castellated", r#"{"slots": 6.5, "past_slot_deg": 3}"#, "slots"),
        ("castellated", r#"{"slots": 6, "past_slot_deg": 1e999}"#, "past_slot_deg"),
        ("castellated", r#"{"slots": 6, "past_slot_deg": NaN}"#, "past_slot_deg"),
        (
            "angle-reading",
            r#"{"start_deg": 0, "angle_deg": -5, "wrap": true, "direction": "up"}"#,
            "angle_deg",
        ),
        (
            "part-resilience",
            r#"{"bearing_od_mm": 10, "hole_mm": 11, "clamp_length_mm": 5, "outer_mm": 40, "modulus_gpa": 70, "kind": "tapped"}"#,
            "hole_mm",
        ),
        (
            "bolt-resilience",
            r#"{"thread": "M10", "head": "hex", "end": "nut", "segments": [{"length_mm": 0, "diameter_mm": 10}]}"#,
            "segments[0].length_mm",
        ),
        ("sequence", r#"{"pattern": "centre-out", "points": []}"#, "points"),
        ("oil-clearance", r#"{"bore_mm": [], "journal_mm": [5]}"#, "bore_mm"),
        ("oil-clearance", r#"{"bore_mm": [55.0], "journal_mm": [55.1]}"#, "journal_mm"),
        ("ring-side-clearance", r#"{"groove_mm": 1.5, "ring_mm": 1.5}"#, "ring_mm"),
        ("piston-clearance", r#"{"bore_mm": [83], "piston_mm": 84}"#, "piston_mm"),
        ("end-float", r#"{"gap_mm": 20, "width_mm": [12, 9]}"#, "width_mm"),
        ("pickup-clearance", r#"{"pan_depth_mm": 90, "pickup_depth_mm": 91}"#, "pickup_depth_mm"),
        ("oil-clearance", r#"{"bore_mm": [59], "journal_mm": [55], "upper_shell_mm": 2}"#, "lower_shell_mm"),
        (
            "clearance-verdict",
            r#"{"value_mm": 1, "low_mm": 2, "high_mm": 1, "instruments": [{"accuracy_mm": 0, "resolution_mm": 0}]}"#,
            "high_mm",
        ),
        (
            "adapter",
            r#"{"target_nm": 90, "wrench_mm": 50, "adapter_mm": 50, "angle_deg": 180}"#,
            "adapter_mm",
        ),
        ("stages", r#"{"final_nm": 5, "steps": 6, "resolution_nm": 1}"#, "resolution_nm"),
        (
            "yield-angle",
            r#"{"thread": "M10", "yield_mpa": 640, "mu_thread": 0.1, "snug_kn": 500, "bolt_resilience_mm_per_n": 1e-6, "part_resilience_mm_per_n": 1e-6}"#,
            "snug_kn",
        ),
        ("no-such", "{}", "name"),
        ("thread", "[1]", "input"),
    ] {
        let error = run(name, input).unwrap_err();
        assert_eq!(error.field, field, "{name} {input}: {error}");
    }
}

#[test]
fn impossible_figures_are_refused_by_their_field() {
    for (name, input, field) in [
        ("stages", r#"{"final_nm": 88.5, "steps": 3, "resolution_nm": 1}"#, "final_nm"),
        ("ring-clocking", r#"{"gaps": 5, "first_deg": 30, "clear_deg": 20}"#, "clear_deg"),
        ("plastic-strip", r#"{"strip_mm": 0.3, "width_mm": [0.5, 0.25]}"#, "width_mm"),
        ("oil-clearance", r#"{"bore_mm": [55.0, 55.1], "journal_mm": [55.05]}"#, "journal_mm"),
        (
            "oil-clearance",
            r#"{"bore_mm": [59], "journal_mm": [54.7], "upper_shell_mm": 2, "lower_shell_mm": 2.25}"#,
            "lower_shell_mm",
        ),
        (
            "preload-from-torque",
            r#"{"thread": "M8", "torque_nm": 900, "mu_thread": 0.1, "mu_bearing": 0.1, "bearing_diameter_mm": 11}"#,
            "torque_nm",
        ),
        (
            "angle-preload",
            r#"{"thread": "M8", "angle_deg": 3600, "bolt_resilience_mm_per_n": 5e-6, "part_resilience_mm_per_n": 1e-6}"#,
            "angle_deg",
        ),
        (
            "stretch-preload",
            r#"{"thread": "M9x1", "stretch_mm": 4, "bolt_resilience_mm_per_n": 5e-6}"#,
            "stretch_mm",
        ),
        (
            "stretch-preload",
            r#"{"thread": "M9x1", "stretch_mm": 0.1, "shank_mm": 2, "bolt_resilience_mm_per_n": 5e-6}"#,
            "shank_mm",
        ),
        (
            "nut-factor",
            r#"{"thread": "M9x1", "bolt_resilience_mm_per_n": 5e-6, "pairs": [{"torque_nm": 2, "stretch_mm": 0.15}], "target_stretch_mm": 0.15}"#,
            "pairs",
        ),
        (
            "adapter",
            r#"{"target_nm": 90, "wrench_mm": 400, "adapter_mm": 300, "angle_deg": 180}"#,
            "adapter_mm",
        ),
        (
            "compression-ratio",
            r#"{"bore_mm": 86, "stroke_mm": 86, "chamber_cc": 48, "piston_cc": 4, "gasket_bore_mm": 80, "gasket_mm": 1, "deck_mm": 0.3}"#,
            "gasket_bore_mm",
        ),
        ("pushrod-length", r#"{"checking_length_mm": 180, "measured_lash_mm": 1}"#, "wanted_lash_mm"),
        (
            "pushrod-length",
            r#"{"checking_length_mm": 180, "measured_lash_mm": 1, "wanted_lash_mm": 0, "wanted_preload_mm": 1}"#,
            "wanted_preload_mm",
        ),
        ("surface-pressure", r#"{"force_kn": 50, "outer_mm": 10, "hole_mm": 11}"#, "hole_mm"),
        (
            "rod-bolt-load",
            r#"{"reciprocating_kg": 0.5, "rotating_kg": 0.3, "stroke_mm": 86, "rod_mm": 40, "speed_rpm": 8000, "bolts": 2}"#,
            "rod_mm",
        ),
        ("piston-position", r#"{"stroke_mm": 86, "rod_mm": 40, "angle_deg": 77}"#, "rod_mm"),
        ("lash-shim", r#"{"shim_mm": 1, "measured_mm": 0, "wanted_mm": 2}"#, "wanted_mm"),
        (
            "cam-timing",
            r#"{"intake_opens_deg": 24, "intake_closes_deg": 64, "exhaust_opens_deg": 66, "exhaust_closes_deg": 500}"#,
            "exhaust_closes_deg",
        ),
    ] {
        let error = run(name, input).unwrap_err();
        assert_eq!(error.field, field, "{name} {input}: {error}");
    }
}

#[test]
fn every_calculation_refuses_an_empty_object_by_a_field_it_lists() {
    for calculation in calculations() {
        let error = run(calculation.name, "{}").unwrap_err();
        assert!(calculation.input.iter().any(|field| field.name == error.field), "{}", calculation.name);
    }
}

#[test]
fn a_procedure_is_read_from_one_line() {
    let stages = |text: &str| calc("procedure", &json!({ "text": text }))["stages"].clone();
    assert_eq!(
        stages("40 N·m, 70 N·m, then 90° twice"),
        json!([
            {"way": "torque", "torque_nm": 40.0}, {"way": "torque", "torque_nm": 70.0},
            {"way": "angle", "angle_deg": 90.0}, {"way": "angle", "angle_deg": 90.0},
        ])
    );
    assert_eq!(
        stages("inner: 30 N·m, 60°; side: 23 N·m"),
        json!([
            {"way": "torque", "torque_nm": 30.0, "group": "inner"}, {"way": "angle", "angle_deg": 60.0, "group": "inner"},
            {"way": "torque", "torque_nm": 23.0, "group": "side"},
        ])
    );
    near(&stages("25 lbf·ft snug, 60°")[0], "torque_nm", 33.895, 5e-4);
    let stretch = stages("stretch 0.0052 in, not over 58 lbf·ft");
    near(&stretch[0], "stretch_mm", 0.13208, 1e-9);
    near(&stretch[0], "limit_nm", 78.64, 5e-3);
    for (text, way, low, high) in [
        ("until it stops rising, 30 to 40 lbf·ft", "yield", 40.67, 54.23),
        ("40-50 lbf·ft, forward to the next slot", "castellated", 54.23, 67.79),
    ] {
        let read = stages(text);
        assert_eq!(read[0]["way"], way);
        near(&read[0], "low_nm", low, 5e-3);
        near(&read[0], "high_nm", high, 5e-3);
    }
    let thirds = calc("procedure", &json!({"text": "in 3 equal steps to 90 N·m, centre out"}));
    assert_eq!(
        (&thirds["canonical"], &thirds["order"]),
        (&json!("30 N·m, 60 N·m, 90 N·m, centre out"), &json!("centre-out"))
    );
    let error = run("procedure", r#"{"text": "30"}"#).unwrap_err();
    assert_eq!(error.field, "text");
    assert!(error.message.starts_with("30 of what?"), "{error}");
}

#[test]
fn every_calculation_is_told_with_an_example_that_runs() {
    let listed = listings();
    assert_eq!(listed.len(), calculations().count());
    for of in listed {
        let got = calc(of.calculation.name, &of.example);
        assert!(!of.formula.is_empty() && got.as_object().is_some_and(|fields| !fields.is_empty()), "{got}");
    }
}

#[test]
fn every_greek_letter_of_a_formula_is_in_its_legend() {
    let is_greek = |c: char| ('Α'..='ω').contains(&c) && !['π', 'Σ', 'σ'].contains(&c);
    for of in listings() {
        for token in super::legend::tokens(of.formula) {
            let told = of.legend.iter().any(|symbol| symbol.symbol == token);
            assert!(told || !token.contains(is_greek), "{}: {token}", of.calculation.name);
        }
    }
    let torque = listings().into_iter().find(|of| of.calculation.name == "preload-from-torque").unwrap();
    assert!(torque.legend.iter().any(|of| of.symbol == "Db" && of.means.text() == "mean bearing diameter"));
}

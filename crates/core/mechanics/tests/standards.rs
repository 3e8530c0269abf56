//! What is computed against the tables of the standards, each by its number.

use rigore_mechanics::fastener::{Strength, Thread};
use rigore_mechanics::friction::Friction;
use rigore_mechanics::joint::{BearingFace, TorqueRelation, WeakestSection, assembly_preload};
use rigore_mechanics::quantity::{self, Dimension, in_kn, in_mpa, in_nm, mm, nm};

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
        let bearing = BearingFace { mean_diameter: mm(f64::midpoint(*face, *hole)) };
        for ((mu, preload_kn), torque_nm) in frictions.into_iter().zip(preloads).zip(torques) {
            let preload = assembly_preload(&of, WeakestSection::of(&of, []), 0.9, mu, strength.proof);
            let off = in_kn(preload) / preload_kn - 1.0;
            assert!(
                off.abs() < 0.005,
                "{designation} {class} μ {mu}: {} kN for {preload_kn}",
                in_kn(preload)
            );
            let friction = Friction::both(mu);
            let torque = in_nm(TorqueRelation { thread: of, bearing, friction }.torque(preload, nm(0.0)));
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

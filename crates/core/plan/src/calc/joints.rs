//! Threads, torque, preload, resilience.

use super::calculation::{Calculation, length, output};
use super::fields::{CalcError, CalculationInput, FieldKind, InputField};
use rigore_mechanics::fastener::{Engagement, Material, STRONGER, STRONGEST_MPA, Thread};
use rigore_mechanics::friction::Friction;
use rigore_mechanics::joint::{
    BearingFace, BoltEnd, BoltHead, BoltSegment, ClampedSleeve, JointKind, PartLayer, SegmentSection,
    TorqueRelation, WeakestSection, assembly_preload, bolt_resilience, part_resilience, preload_from_angle,
    utilisation, yield_point,
};
use rigore_mechanics::quantity::{Dimension, Force, Quantity, deg, in_kn, in_nm, kn, mm, mpa, nm};
use rigore_mechanics::{message, text_id};
use serde_json::{Value, json};

pub(super) const THREAD: InputField = InputField::needed("thread", FieldKind::Text);
pub(super) const MU: FieldKind = FieldKind::Number(0.0, 2.0);
pub(super) const MU_THREAD: InputField = InputField::needed("mu_thread", MU);
const MU_BEARING: InputField = InputField::needed("mu_bearing", MU);
/// The diameter of a shank that is thinner than the thread.
pub(super) const SHANK: InputField = InputField::optional("shank_mm", FieldKind::Positive);
pub(super) const BEARING: InputField = InputField::needed("bearing_diameter_mm", FieldKind::Positive);

const SHEAR_RATIO: FieldKind = FieldKind::Number(0.3, 1.5);

/// Young's modulus of steel, `GPa`.
const STEEL_GPA: f64 = 205.0;

pub(super) const CALCULATIONS: &[Calculation] = &[
    Calculation {
        name: "thread",
        about: text_id!("calc-sections-thread-from-designation-iso-724"),
        formula: "d2 = d − 0.649519 P, d3 = d − 1.226869 P, As = π/4 · ((d2 + d3)/2)²; unified As = π/4 · (d − 0.9743 P)²",
        example: r#"{"designation": "M10x1.25"}"#,
        input: &[InputField::needed("designation", FieldKind::Text)],
        output: &["nominal_mm", "pitch_mm", "d2_mm", "d3_mm", "stress_area_mm2"],
        run: thread_sections,
    },
    Calculation {
        name: "preload-from-torque",
        about: text_id!("calc-preload-torque-gives-nut-factor-where"),
        formula: "T = F · [P/2π + μt · d2/(2 cos 30°) + μb · Db/2] + Tp",
        example: r#"{"thread": "M10x1.25", "torque_nm": 65, "mu_thread": 0.1, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5, "yield_mpa": 940}"#,
        input: &[
            THREAD,
            InputField::needed("torque_nm", FieldKind::Positive),
            MU_THREAD,
            MU_BEARING,
            BEARING,
            InputField::optional("prevailing_nm", FieldKind::Number(0.0, f64::MAX)),
            InputField::optional("yield_mpa", FieldKind::Positive),
        ],
        output: &["preload_kn", "nut_factor", "pitch_share", "thread_share", "bearing_share", "utilisation"],
        run: preload_from_torque,
    },
    Calculation {
        name: "torque-from-preload",
        about: text_id!("calc-torque-preload-needs-vdi-2230-1"),
        formula: "T = F · [P/2π + μt · d2/(2 cos 30°) + μb · Db/2]",
        example: r#"{"thread": "M10x1.25", "preload_kn": 42.22, "mu_thread": 0.1, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5}"#,
        input: &[
            THREAD,
            InputField::needed("preload_kn", FieldKind::Positive),
            MU_THREAD,
            MU_BEARING,
            BEARING,
        ],
        output: &["torque_nm", "nut_factor"],
        run: torque_from_preload,
    },
    Calculation {
        name: "assembly-preload",
        about: text_id!("calc-preload-torque-at-wanted-utilisation-yield"),
        formula: "F = ν · Rp · As / √(1 + 3κ²), κ = 1.5 · (d2/d0) · (P/(π d2) + 1.155 μt)",
        example: r#"{"thread": "M10x1.25", "yield_mpa": 940, "utilisation": 0.9, "mu_thread": 0.12, "mu_bearing": 0.12, "bearing_diameter_mm": 13.5}"#,
        input: &[
            THREAD,
            SHANK,
            InputField::needed("yield_mpa", FieldKind::Positive),
            InputField::needed("utilisation", FieldKind::Number(0.01, 1.5)),
            MU_THREAD,
            MU_BEARING,
            BEARING,
        ],
        output: &["preload_kn", "torque_nm"],
        run: assembly,
    },
    Calculation {
        name: "bolt-resilience",
        about: text_id!("calc-elastic-resilience-bolt-vdi-2230-1"),
        formula: "δB = Σ li/(E Ai) + 0.5 d/(E AN) for a hexagon, 0.4 for a socket head + 0.5 d/(E Ad3); δS = δB + 0.4 d/(E AN) for a nut, 0.33 d/(EH AN) for a hole",
        example: r#"{"thread": "M10x1.25", "segments": [{"length_mm": 30, "diameter_mm": 10}, {"length_mm": 22, "diameter_mm": "thread"}], "head": "hex", "end": "tapped"}"#,
        input: &[
            THREAD,
            InputField::needed(
                "segments",
                FieldKind::Records(&[
                    InputField::needed("length_mm", FieldKind::Positive),
                    InputField::needed("diameter_mm", FieldKind::PositiveOr("thread")),
                ]),
            ),
            InputField::needed("head", FieldKind::Choice(&["hex", "socket"])),
            InputField::needed("end", FieldKind::Choice(&["nut", "tapped"])),
            InputField::optional("modulus_gpa", FieldKind::Positive),
            InputField::optional("end_modulus_gpa", FieldKind::Positive),
        ],
        output: &["resilience_mm_per_n", "own_mm_per_n"],
        run: resilience_of_bolt,
    },
    Calculation {
        name: "part-resilience",
        about: text_id!("calc-elastic-resilience-clamped-parts-vdi-2230"),
        formula: "δP = ∫ dz/(E A(z)), along the cone of tan φ = 0.348 + 0.013 ln(lK/dw) + 0.193 ln(DA/dw) for a hole, 0.362 + 0.032 ln(lK/2dw) + 0.153 ln(DA/dw) from both sides of a through bolt",
        example: r#"{"bearing_od_mm": 16, "hole_mm": 11, "clamp_length_mm": 52, "outer_mm": 40, "modulus_gpa": 70, "kind": "tapped"}"#,
        input: &[
            InputField::needed("bearing_od_mm", FieldKind::Positive),
            InputField::needed("hole_mm", FieldKind::Positive),
            InputField::needed("clamp_length_mm", FieldKind::Positive),
            InputField::needed("outer_mm", FieldKind::Positive),
            InputField::needed("modulus_gpa", FieldKind::Positive),
            InputField::needed("kind", FieldKind::Choice(&["through", "tapped"])),
        ],
        output: &["resilience_mm_per_n"],
        run: resilience_of_parts,
    },
    Calculation {
        name: "angle-preload",
        about: text_id!("calc-preload-angle-turn-adds-while-everything"),
        formula: "ΔF = θ/360° · P / (δS + δP)",
        example: r#"{"thread": "M10x1.25", "angle_deg": 60, "bolt_resilience_mm_per_n": 4.718e-6, "part_resilience_mm_per_n": 1.225e-6}"#,
        input: &[
            THREAD,
            InputField::needed("angle_deg", FieldKind::Positive),
            InputField::needed("bolt_resilience_mm_per_n", FieldKind::Positive),
            InputField::needed("part_resilience_mm_per_n", FieldKind::Positive),
        ],
        output: &["preload_kn"],
        run: angle_preload,
    },
    Calculation {
        name: "yield-angle",
        about: text_id!("calc-where-yielding-begins-preload-angle-from"),
        formula: "θy = (Fy − Fs)(δS + δP) · 360°/P, Fy at a utilisation of 1; a strong bolt yields a fifth higher",
        example: r#"{"thread": "M10x1.25", "yield_mpa": 940, "mu_thread": 0.12, "snug_kn": 18.23, "bolt_resilience_mm_per_n": 4.718e-6, "part_resilience_mm_per_n": 1.225e-6}"#,
        input: &[
            THREAD,
            SHANK,
            InputField::needed("yield_mpa", FieldKind::Positive),
            MU_THREAD,
            InputField::needed("snug_kn", FieldKind::Number(0.0, f64::MAX)),
            InputField::needed("bolt_resilience_mm_per_n", FieldKind::Positive),
            InputField::needed("part_resilience_mm_per_n", FieldKind::Positive),
        ],
        output: &["preload_kn", "angle_deg", "strong_preload_kn", "strong_angle_deg"],
        run: yield_angle,
    },
    Calculation {
        name: "engagement",
        about: text_id!("calc-engaged-length-so-bolt-breaks-before"),
        formula: "hole: 1.2 Rm,bolt As/(ratio · Rm,hole · 0.875 π d); bolt: As/(ratio · 0.75 π D1), D1 = d − 1.0825 P",
        example: r#"{"thread": "M10x1.25", "tensile_mpa": 1040, "hole_tensile_mpa": 240, "engaged_mm": 18}"#,
        input: &[
            THREAD,
            InputField::needed("tensile_mpa", FieldKind::Positive),
            InputField::needed("hole_tensile_mpa", FieldKind::Positive),
            InputField::optional("engaged_mm", FieldKind::Positive),
            InputField::optional("hole_shear_ratio", SHEAR_RATIO),
            InputField::optional("bolt_shear_ratio", SHEAR_RATIO),
        ],
        output: &["needed_mm", "needed_hole_mm", "needed_bolt_mm", "strip_kn", "weaker"],
        run: engagement,
    },
];

fn yield_angle(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "thread")?;
    let resilience = (input.number("bolt_resilience_mm_per_n"), input.number("part_resilience_mm_per_n"));
    let (proof, snug) = (mpa(input.number("yield_mpa")), input.number("snug_kn"));
    let (preload, angle) = yield_point(
        &thread,
        neck_of(input, &thread)?,
        proof,
        input.number("mu_thread"),
        kn(snug),
        resilience,
    );
    if angle < 0.0 {
        let [snug, yields] = [snug, in_kn(preload)].map(|kn| Quantity::fine(kn, Dimension::Force));
        let message = message!("calc-past-yield-already-which-begins-at", snug, yields);
        return Err(input.error("snug_kn", message));
    }
    let (strong_preload, strong_angle) = yield_point(
        &thread,
        neck_of(input, &thread)?,
        proof * STRONGER,
        input.number("mu_thread"),
        kn(snug),
        resilience,
    );
    Ok(output(&[
        ("preload_kn", json!(in_kn(preload))),
        ("angle_deg", json!(angle)),
        ("strong_preload_kn", json!(in_kn(strong_preload))),
        ("strong_angle_deg", json!(strong_angle)),
    ]))
}

fn engagement(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let [bolt_shear, hole_shear] = ["bolt_shear_ratio", "hole_shear_ratio"]
        .map(|field| input.number_if(field).unwrap_or(Material::Steel.shear_ratio()));
    let engagement = Engagement {
        thread: thread_of(input, "thread")?,
        bolt: mpa(input.number("tensile_mpa")),
        hole: mpa(input.number("hole_tensile_mpa")),
        bolt_shear,
        hole_shear,
    };
    let mut fields = vec![
        ("needed_mm", json!(engagement.needed_mm())),
        ("needed_hole_mm", json!(engagement.needed_hole_mm())),
        ("needed_bolt_mm", json!(engagement.needed_bolt_mm())),
    ];
    if let Some(engaged) = input.number_if("engaged_mm") {
        let (strips, weaker) = engagement.strips(engaged);
        fields.extend([("strip_kn", json!(in_kn(strips))), ("weaker", json!(weaker))]);
    }
    Ok(output(&fields))
}

/// The section that yields first: that of the thread, or of a shank that is thinner.
pub(super) fn neck_of(input: &CalculationInput<'_>, thread: &Thread) -> Result<WeakestSection, CalcError> {
    let shank = input.number_if("shank_mm");
    if let Some(shank) =
        shank.filter(|shank| !(thread.nominal_mm() * 0.4..=thread.nominal_mm() * 1.5).contains(shank))
    {
        let [shank, nominal] = [shank, thread.nominal_mm()].map(length);
        let message = message!("calc-does-not-go-with-thread-0", shank, nominal);
        return Err(input.error("shank_mm", message));
    }
    Ok(WeakestSection::of(thread, shank))
}

/// Refuses a load that no bolt takes.
pub(super) fn believable(
    input: &CalculationInput<'_>,
    field: &str,
    preload: Force,
    neck: WeakestSection,
) -> Result<(), CalcError> {
    let stress = in_kn(preload) * 1000.0 / neck.area_mm2();
    if stress <= STRONGEST_MPA {
        return Ok(());
    }
    let message = message!(
        "calc-gives-bolt-any-breaks-long-before",
        load = Quantity::new(in_kn(preload), Dimension::Force),
        stress = Quantity::new(stress, Dimension::Pressure)
    );
    Err(input.error(field, message))
}

pub(super) fn thread_of(input: &CalculationInput<'_>, field: &str) -> Result<Thread, CalcError> {
    Thread::parse(input.text(field)).map_err(|error| input.error(field, error.message()))
}

/// Where a head or nut bears, no smaller than its bolt.
pub(super) fn bearing_of(input: &CalculationInput<'_>, thread: &Thread) -> Result<BearingFace, CalcError> {
    let diameter = input.number("bearing_diameter_mm");
    if diameter < thread.d3_mm() {
        let [diameter, root] = [diameter, thread.d3_mm()].map(length);
        let message = message!("calc-smaller-than-bolt-at-root", diameter, root);
        return Err(input.error("bearing_diameter_mm", message));
    }
    Ok(BearingFace { mean_diameter: mm(diameter) })
}

fn tightening(input: &CalculationInput<'_>) -> Result<TorqueRelation, CalcError> {
    let thread = thread_of(input, "thread")?;
    Ok(TorqueRelation {
        thread,
        bearing: bearing_of(input, &thread)?,
        friction: Friction { thread: input.number("mu_thread"), bearing: input.number("mu_bearing") },
    })
}

fn thread_sections(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "designation")?;
    Ok(output(&[
        ("nominal_mm", json!(thread.nominal_mm())),
        ("pitch_mm", json!(thread.pitch_mm())),
        ("d2_mm", json!(thread.d2_mm())),
        ("d3_mm", json!(thread.d3_mm())),
        ("stress_area_mm2", json!(thread.stress_area_mm2())),
    ]))
}

fn preload_from_torque(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let bolt = tightening(input)?;
    let preload = bolt.preload(nm(input.number("torque_nm")), nm(input.number("prevailing_nm")));
    let neck = WeakestSection::of(&bolt.thread, []);
    believable(input, "torque_nm", preload, neck)?;
    let shares = bolt.shares();
    let mut fields = vec![
        ("preload_kn", json!(in_kn(preload))),
        ("nut_factor", json!(bolt.nut_factor())),
        ("pitch_share", json!(shares.pitch)),
        ("thread_share", json!(shares.thread)),
        ("bearing_share", json!(shares.bearing)),
    ];
    if let Some(proof) = input.number_if("yield_mpa") {
        let used = utilisation(&bolt.thread, neck, preload, bolt.friction.thread, mpa(proof));
        fields.push(("utilisation", json!(used)));
    }
    Ok(output(&fields))
}

fn torque_from_preload(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let bolt = tightening(input)?;
    let torque = bolt.torque(kn(input.number("preload_kn")), nm(0.0));
    Ok(output(&[("torque_nm", json!(in_nm(torque))), ("nut_factor", json!(bolt.nut_factor()))]))
}

fn assembly(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let bolt = tightening(input)?;
    let proof = mpa(input.number("yield_mpa"));
    let neck = neck_of(input, &bolt.thread)?;
    let preload =
        assembly_preload(&bolt.thread, neck, input.number("utilisation"), bolt.friction.thread, proof);
    let torque = bolt.torque(preload, nm(0.0));
    Ok(output(&[("preload_kn", json!(in_kn(preload))), ("torque_nm", json!(in_nm(torque)))]))
}

fn resilience_of_bolt(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "thread")?;
    let segments: Vec<BoltSegment> = input
        .records("segments")
        .iter()
        .map(|segment| BoltSegment {
            length: mm(segment.number("length_mm")),
            section: match segment.number_if("diameter_mm") {
                Some(diameter) => SegmentSection::Shank(mm(diameter)),
                None => SegmentSection::FreeThread,
            },
        })
        .collect();
    let head = if input.text("head") == "hex" { BoltHead::Hex } else { BoltHead::Socket };
    let end = if input.text("end") == "nut" { BoltEnd::Nut } else { BoltEnd::Tapped };
    let moduli = ["modulus_gpa", "end_modulus_gpa"]
        .map(|field| mpa(input.number_if(field).unwrap_or(STEEL_GPA) * 1000.0));
    let bolt = bolt_resilience(&thread, &segments, head, end, moduli);
    Ok(output(&[("resilience_mm_per_n", json!(bolt.total())), ("own_mm_per_n", json!(bolt.own.mm_per_n))]))
}

fn resilience_of_parts(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let (od, hole, outer) =
        (input.number("bearing_od_mm"), input.number("hole_mm"), input.number("outer_mm"));
    if hole >= od {
        return Err(input.error(
            "hole_mm",
            message!("calc-leaves-nothing-under-face", hole = length(hole), od = length(od)),
        ));
    }
    if outer <= hole {
        return Err(input.error(
            "outer_mm",
            message!("calc-leaves-nothing-around-hole", outer = length(outer), hole = length(hole)),
        ));
    }
    let parts = ClampedSleeve {
        bearing_od: mm(od),
        hole: mm(hole),
        outer: mm(outer),
        kind: if input.text("kind") == "through" { JointKind::Through } else { JointKind::Tapped },
    };
    let layer = PartLayer {
        thickness: mm(input.number("clamp_length_mm")),
        modulus: mpa(input.number("modulus_gpa") * 1000.0),
    };
    let resilience = part_resilience(&parts, &[layer]);
    if !resilience.is_finite() || resilience <= 0.0 {
        return Err(input.error("clamp_length_mm", message!("calc-no-deformation-cone-possible-with-these")));
    }
    Ok(output(&[("resilience_mm_per_n", json!(resilience))]))
}

fn angle_preload(input: &CalculationInput<'_>) -> Result<Value, CalcError> {
    let thread = thread_of(input, "thread")?;
    let (bolt, parts) = (input.number("bolt_resilience_mm_per_n"), input.number("part_resilience_mm_per_n"));
    let preload = preload_from_angle(&thread, deg(input.number("angle_deg")), bolt, parts);
    believable(input, "angle_deg", preload, WeakestSection::of(&thread, []))?;
    Ok(output(&[("preload_kn", json!(in_kn(preload)))]))
}

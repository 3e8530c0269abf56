//! Procedures as manuals, job cards and builders on both sides of the ocean write them, with what each means.

use super::{LineOrder, assert_figures, assert_roles, read, short, stages};
use rigore_mechanics::tightening::SequencePattern;

/// Lines that are read, in the short hand of these tests.
const READ: &[(&str, &str)] = &[
    // Passes that are counted, with their list or with one figure.
    ("in three passes: 24, 48, 71 ft-lb", "T32.54 T65.08 T96.26"),
    ("In three passes, 24, 48, 71 ft-lb", "T32.54 T65.08 T96.26"),
    ("24, 48, 71 ft-lb in three passes", "T32.54 T65.08 T96.26"),
    ("tighten in 3 passes to 24, 48, 71 ft-lb", "T32.54 T65.08 T96.26"),
    ("Torque in 2 stages: 30 then 60 Nm", "T30 T60"),
    ("in three equal steps to 88 N·m", "T29 T59 T88"),
    ("In three steps to 58 lbf·ft", "T25.76 T52.88 T78.64"),
    ("66 ft-lb in three equal passes", "T29.83 T59.66 T89.48"),
    ("in 2 steps to 9 N·m", "T5 T9"),
    ("torque to 60 N·m in 3 stages, then 60°", "T20 T40 T60 A60"),
    ("three passes of 30 N·m", "T30 T30 T30"),
    ("two stages of 90°", "A90 A90"),
    ("two 90° turns", "A90 A90"),
    ("30 N·m then two 45° pulls", "T30 A45 A45"),
    // Figures joined by signs.
    ("26-52-78 ft-lb", "T35.25 T70.5 T105.75"),
    ("20/40/60 N·m", "T20 T40 T60"),
    ("20 → 40 → 60 N·m", "T20 T40 T60"),
    ("20 -> 40 -> 60 Nm", "T20 T40 T60"),
    ("20 → 40 N·m", "T20 T40"),
    ("20-40-60-80 N·m, then 90°", "T20 T40 T60 T80 A90"),
    ("20 N·m - 40 N·m - 60 N·m", "T20 T40 T60"),
    ("40 N·m - 90°", "T40 A90"),
    ("40 N·m / 90°", "T40 A90"),
    ("40 Nm/90°/90°", "T40 A90 A90"),
    ("45/45/90°", "A45 A45 A90"),
    ("40-50 N·m", "T40..50"),
    ("70°-74°", "A70..74"),
    ("70-74°", "A70..74"),
    ("70 to 74 degrees", "A70..74"),
    // The same figure in another unit.
    ("80 N·m (59 lbf·ft)", "T80"),
    ("80 N·m [59 ft-lb], 90°", "T80 A90"),
    ("80 N·m / 59 lbf·ft", "T80"),
    ("59 lb·ft (80 N·m), then a further 90°", "T79.99 A90"),
    ("30 N·m (22 ft-lb) + 90° + 90°", "T30 A90 A90"),
    ("24, 48, 71 ft-lb (33, 65, 96 N·m)", "T32.54 T65.08 T96.26"),
    ("40-50 N·m (30-37 ft-lb)", "T40..50"),
    ("90° (1/4 turn)", "A90"),
    ("1/4 turn (90°)", "A90"),
    ("120° (2 flats)", "A120"),
    ("90 degrees (a quarter turn)", "A90"),
    ("stretch 0.0063 in (0.16 mm)", "S0.16"),
    ("108 in-lb (9 ft-lb)", "T12.2"),
    ("9 N·m (or 80 in-lb)", "T9"),
    // Tolerances and ranges beside their figure.
    ("41 ft-lb between 38 and 44 ft-lb", "T51.52..59.66"),
    ("42 N·m between 38 and 44 N·m", "T42[38..44]"),
    ("41 ft-lb, between 38 and 44 ft-lb", "T51.52..59.66"),
    ("41 ft-lb (38-44)", "T51.52..59.66"),
    ("42 (38-44) N·m", "T42[38..44]"),
    ("42 N·m (38 to 44 N·m)", "T42[38..44]"),
    ("31 to 37 N·m, target 34", "T31..37"),
    ("31 to 37 N·m, target 35 N·m", "T35[31..37]"),
    ("31-37 N·m, aim for 33", "T33[31..37]"),
    ("60 N·m (± 3 N·m)", "T60±3"),
    ("60 ± 3 N·m, 90° ± 5°", "T60±3 A90±5"),
    ("90° +5/-0", "A90[90..95]"),
    ("90° +5° -2°", "A90[88..95]"),
    ("90° -0/+5", "A90[90..95]"),
    ("60 N·m with a tolerance of 3 N·m", "T60±3"),
    ("60 N·m plus or minus 5 percent", "?percent"),
    ("14 N·m max", "T12.88..14"),
    ("max 14 N·m", "T12.88..14"),
    ("not more than 14 N·m", "T12.88..14"),
    ("at least 40 N·m", "T40..43.2"),
    ("40 N·m minimum, then 90°", "T40..43.2 A90"),
    // How many fasteners, and which.
    ("Torque 16 bolts to 24 N·m", "T24"),
    ("Tighten all 10 bolts to 30 N·m, then 60°", "T30 A60"),
    ("10 bolts: 40 N·m", "T40"),
    ("Bolts 1-8: 58 ft-lb", "Bolts 1-8/T78.64"),
    ("bolts 1 to 8: 58 ft-lb; bolts 9 to 10: 18 ft-lb", "bolts 1 to 8/T78.64 bolts 9 to 10/T24.4"),
    ("Bolts 1, 2, 5 and 6: 24 N·m", "Bolts 1, 2, 5 and 6/T24"),
    ("Tighten bolts 1-10 to 30 N·m, then bolts 11-14 to 10 N·m", "bolts 1-10/T30 bolts 11-14/T10"),
    ("bolt 5 to 24 N·m", "bolt 5/T24"),
    ("nuts 1 through 8, 40 ft-lb", "nuts 1 through 8/T54.23"),
    ("M8: 24 N·m; M10: 50 N·m", "M8/T24 M10/T50"),
    ("M8 bolts 24 N·m, M10 bolts 50 N·m", "M8 bolts/T24 M10 bolts/T50"),
    ("M8x25: 24 N·m", "M8x25/T24"),
    ("M10x1.25 bolts: 65 N·m", "M10x1.25 bolts/T65"),
    ("M10 x 1.25 : 65 N·m", "M10 x 1.25/T65"),
    ("3/8: 35 ft-lb; 7/16: 60 ft-lb", "3/8/T47.45 7/16/T81.35"),
    ("3/8 bolts 35 ft-lb", "3/8 bolts/T47.45"),
    ("3/8-24 nuts: 35 ft-lb", "3/8-24 nuts/T47.45"),
    ("12.9 bolts: 84 N·m", "12.9 bolts/T84"),
    ("inner 18 ft-lb", "inner/T24.4"),
    (
        "inner bolts 18 ft-lb, 60°; outer bolts 20 ft-lb, 45°",
        "inner bolts/T24.4 inner bolts/A60 outer bolts/T27.12 outer bolts/A45",
    ),
    ("Torque the inner bolts to 40 N·m, then the side bolts to 20 N·m", "inner bolts/T40 side bolts/T20"),
    ("the 4 centre bolts to 30 N·m", "centre bolts/T30"),
    ("inner: 30 N·m then side: 23 N·m", "inner/T30 side/T23"),
    ("small: 18 N·m", "small/T18"),
    ("28 N·m, loosen, 24 N·m, 80°; small: 18 N·m", "T28 loose T24 A80 small/T18"),
    (
        "30, 50 ft-lb; inner: 68 ft-lb, recheck; outer: recheck",
        "T40.67 T67.79 inner/T92.2 inner/R92.2 outer/R67.79",
    ),
    ("all: 30 N·m; inner: 60°", "all/T30 inner/A60"),
    // Angles and turns.
    ("40 N·m + 100° (in two turns of 50°)", "T40 A50 A50"),
    ("40 N·m, then 100° in two pulls of 50°", "T40 A50 A50"),
    ("40 N·m, 180° in two swings", "T40 A90 A90"),
    ("40 N·m plus 90 degrees", "T40 A90"),
    ("40 N·m plus 1/4 turn", "T40 A90"),
    ("22 lb-ft plus an additional 90 degrees", "T29.83 A90"),
    ("22 ft-lb + 90 deg.", "T29.83 A90"),
    ("25 Nm, + 1/2 turn", "T25 A180"),
    ("30 N·m, ¼ turn", "T30 A90"),
    ("30 N·m, 1 1/4 turns", "T30 A450"),
    ("30 N·m, one flat", "T30 A60"),
    ("30 N·m, 3 points", "T30 A90"),
    ("90° x 2", "A90 A90"),
    ("40 N·m, 90° ×2", "T40 A90 A90"),
    ("40 N·m, 2x90°", "T40 A90 A90"),
    ("40 N·m, 90° (twice)", "T40 A90 A90"),
    ("40 N·m, 90° (x2)", "T40 A90 A90"),
    ("zero lash then 1/2 turn", "hand A180"),
    ("until seated, then 20 N·m", "hand T20"),
    ("run down until seated, 20 N·m", "hand T20"),
    ("finger tight, 15 N·m, 90°", "hand T15 A90"),
    ("tighten to 40 N·m and turn through 90 degrees", "T40 A90"),
    ("snug 25 N·m then 60°", "T25s A60"),
    ("25, 40 N·m snug, 60°", "T25 T40s A60"),
    // Steps by number.
    ("Step 1: 40 N·m. Step 2: 70 N·m. Step 3: 90°.", "T40 T70 A90"),
    ("Step 1 - 40 N·m, Step 2 - 90°", "T40 A90"),
    ("Pass 1 - 20 N·m; Pass 2 - 40 N·m", "T20 T40"),
    ("1st: 20 ft-lb\n2nd: 40 ft-lb\n3rd: 65 ft-lb", "T27.12 T54.23 T88.13"),
    ("First pass 20 ft-lb, second pass 40 ft-lb, final pass 65 ft-lb", "T27.12 T54.23 T88.13"),
    ("Stage 1: 25 Nm\nStage 2: 60°\nStage 3: 60°", "T25 A60 A60"),
    ("1. 30 N·m 2. 60 N·m 3. 90°", "T30 T60 A90"),
    ("final torque 60 N·m", "T60"),
    ("step 1 20 N·m, step 2 45 N·m", "T20 T45"),
    ("Stage 1 (snug): 25 N·m; Stage 2: 75°", "T25s A75"),
    // Percentages.
    ("50 %, 75 %, 100 % of 90 N·m", "T45 T67.5 T90"),
    ("50-75-100 % of 80 N·m", "T40 T60 T80"),
    ("50, 75 and 100 % of 80 ft-lb", "T54.23 T81.35 T108.47"),
    // Stretch and what stands beside it.
    ("stretch 0.0063 in, about 64 ft-lb", "S0.16"),
    ("stretch 0.0063\" (approx. 64 ft-lb)", "S0.16"),
    ("stretch 0.15 mm, stop at 72 ft-lb", "S0.15<97.62"),
    ("stretch 6.3 thou, max 72 ft-lb", "S0.16<97.62"),
    ("0.0058-0.0062 in stretch", "S0.15..0.16"),
    ("stretch .0055 to .0060 in", "S0.14..0.15"),
    ("25 N·m, 90° (about 60 N·m)", "T25 A90"),
    ("rod bolts: stretch 0.0060 in; about 50 ft-lb", "rod bolts/S0.15"),
    // Waiting, sealing, doing.
    ("30 N·m, wait 15 minutes, 30 N·m", "T30 W15 T30"),
    ("40 N·m, check after 15 minutes", "T40 W15 R40"),
    ("leave 12 h, then 40 N·m", "W720 T40"),
    ("sealant, skins in 9 min; 8 N·m, 20 N·m", "seal9 T8 T20"),
    ("sealant, skins in 9 min, cures in 12 h, 10 N·m", "seal9/720 T10"),
    ("apply sealant, working time 10 minutes, 22 N·m", "seal10 T22"),
    ("30 N·m, \"seat the thrust bearing\", 55°", "T30 'seat the thrust bearing' A55"),
    ("“turn the crankshaft”, 20 N·m", "'turn the crankshaft' T20"),
    // Order.
    ("in the order 2 1 4 3 to 9 N·m", "T9"),
    ("20, 40 N·m in the order 3 1 2 4", "T20 T40"),
    ("in the order 3, 1, 2, 4: 20, 40 N·m", "T20 T40"),
    ("in the order 3-1-2-4, 20 N·m, 40 N·m", "T20 T40"),
    ("in the order 3 1 2 4, 20, 40 N·m", "T20 T40"),
    ("sequence 5-3-1-2-4-6; 30 N·m, 60°", "T30 A60"),
    ("20 N·m, 40 N·m, tightening order 1L 1R 2L 2R", "T20 T40"),
    ("star, 20 N·m, 40 N·m", "T20 T40"),
    ("20 N·m in a star pattern, then 40 N·m", "T20 T40"),
    ("working outward from the centre, 20, 40, 60 N·m", "T20 T40 T60"),
    ("tighten evenly, from the middle out, to 10 N·m", "T10"),
    // Units in their spellings.
    ("40Nm + 90deg", "T40 A90"),
    ("35 ft. lbs.", "T47.45"),
    ("35 ft/lbs", "T47.45"),
    ("35 foot-pounds then 90 degrees", "T47.45 A90"),
    ("106 in. lbs.", "T11.98"),
    ("106 inch-pounds", "T11.98"),
    ("9,5 kgf·m", "T93.16"),
    ("9,5 N·m, 0,15 mm", "T9.5 S0.15"),
    ("30 N·m ; 60 N·m ; 90 °", "T30 T60 A90"),
    ("30 newton metres", "T30"),
    // The old ways.
    ("castellated, 40-50 ft-lb, forward to the next slot", "?castellated"),
    ("40 to 50 ft-lb, on to the next slot", "C54.23..67.79"),
    ("until torque stops rising, 30 to 40 ft-lb", "Y40.67..54.23"),
    ("by feel, 30 to 40 lbf·ft", "Y40.67..54.23"),
    ("40 N·m, loosen, 30 N·m, 90°", "T40 loose T30 A90"),
    ("40 N·m, back off, 30 N·m plus 90°", "T40 loose T30 A90"),
    ("40 N·m, 60 N·m, recheck", "T40 T60 R60"),
    ("60 N·m, wait 10 min, recheck", "T60 W10 R60"),
];

/// Lines that are asked about, with words of what is asked.
const ASKED: &[(&str, &str)] = &[
    ("30", "30 of what"),
    ("25 snug, 60°", "25 of what"),
    ("40, 90°", "40 of what"),
    ("30, 60 and 90°", "30 of what"),
    ("80 N·m (69 lbf·ft)", "do not agree"),
    ("80 N·m (75 N·m)", "what is it to the figure before"),
    ("60 N·m (70-80)", "does not hold"),
    ("in three passes: 24, 48 ft-lb", "2 figures are listed"),
    ("24, 48, 71 ft-lb in two passes", "3 figures are listed"),
    ("20 N·m, then in 3 steps to 80 N·m", "from nothing, or from the torque before it"),
    ("100° in two turns of 45°", "not the angle before it"),
    ("20/40 N·m", "one after the other, or one of the two"),
    ("40 N·m - 50 N·m", "anything between the two"),
    ("50-40 N·m", "runs downwards"),
    ("30,60 N·m", "30, then 60"),
    ("bolts 20, 40, 60 N·m", "20, 40"),
    ("60 N·m oiled, 80 N·m dry", "Which is used"),
    ("25 lbs", "lbf·ft or lbf·in"),
    ("about 64 ft-lb", "a hint beside a stretch or an angle"),
    ("40 N·m, not over 60 N·m", "say the stretch before it"),
    ("40 N·m, 90°, recheck", "checked with which torque"),
    ("15 min", "of what"),
    ("sealant; 20 N·m", "how long can it be worked"),
    ("wait, 20 N·m", "wait for how long"),
    ("40 N·m bolts 1-8", "before their figure"),
    ("40 N·m (4)", "what is it to the figure before"),
    ("40 N·m wobble", "wobble"),
    ("in the order 1 2 2 3, 9 N·m", "comes twice"),
    ("40 kipft", "kipft"),
    ("4,5 kgf·m", "4, then 5"),
    ("in the order 3, 1, 2, 4, 20, 40 N·m", "where does the order end"),
    ("20 N·m bolts 1-8, 40 N·m bolts 9-12", "before their figure"),
    ("3/8 40 N·m", "3/8"),
];

#[test]
fn every_line_of_the_corpus_is_read_as_it_is_meant_or_asked_about() {
    let mut asked = 0;
    let mut wrong = Vec::new();
    for (line, meaning) in READ {
        let read = read(line);
        if !meaning.starts_with('?') && (!read.questions.is_empty() || stages(&read) != *meaning) {
            wrong.push(format!("{line}\n    is  {}\n    not {meaning} {:?}", stages(&read), read.questions));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    for (line, meaning) in READ {
        if let Some(words) = meaning.strip_prefix('?') {
            let read = read(line);
            let about = |question: &super::super::LineQuestion| {
                line[question.at.clone()].to_lowercase().contains(words)
            };
            assert!(read.questions.iter().any(about), "{line}: {:?}", read.questions);
            asked += 1;
        } else {
            assert_eq!(short(line), *meaning, "{line}");
        }
        assert_roles(line);
    }
    assert!(READ.len() >= 150, "{} lines", READ.len());
    assert!(asked * 20 <= READ.len(), "{asked} of {} lines are asked about", READ.len());
}

#[test]
fn what_is_not_certain_is_asked_about() {
    let mut wrong = Vec::new();
    for (line, words) in ASKED {
        let read = read(line);
        let found = read
            .questions
            .iter()
            .any(|question| question.message.contains(words) || line[question.at.clone()].contains(words));
        if !found {
            wrong.push(format!("{line} is {} and asks {:?}", stages(&read), read.questions));
        }
        assert_roles(line);
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn no_figure_of_the_corpus_is_made_up() {
    let computed = |line: &str| {
        ["step", "pass", "stage", "%", "max", "more than", "least", "min"]
            .iter()
            .any(|word| line.to_lowercase().contains(word))
    };
    for (line, _) in READ
        .iter()
        .filter(|(line, meaning)| !computed(line) && !meaning.starts_with('?') && !line.contains(','))
    {
        assert_figures(line);
    }
}

#[test]
fn an_order_is_listed_by_name() {
    for (line, names) in [
        ("in the order 2 1 4 3 to 9 N·m", "2 1 4 3"),
        ("in the order 3, 1, 2, 4: 20, 40 N·m", "3 1 2 4"),
        ("in the order 3 1 2 4, 20, 40 N·m", "3 1 2 4"),
        ("sequence 5-3-1-2-4-6; 30 N·m, 60°", "5 3 1 2 4 6"),
        ("20 N·m, tightening order 1L 1R 2L 2R", "1L 1R 2L 2R"),
    ] {
        let names = names.split(' ').map(str::to_owned).collect();
        assert_eq!(read(line).order, Some(LineOrder::Listed(names)), "{line}");
    }
    assert_eq!(read("20 N·m, star").order, Some(LineOrder::Pattern(SequencePattern::CrissCross)));
}

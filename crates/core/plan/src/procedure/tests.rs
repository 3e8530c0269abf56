//! What is read, what is asked about, and that every number has one role; the corpus of lines is in `tests/corpus.rs`.

use super::{
    LineFigure, LineOrder, LineStage, LineTolerance, MAX_LENGTH, NumberRole, Procedure, StageKind, read,
};
use proptest::prelude::*;
use rigore_mechanics::quantity::{Dimension, Unit, unit};
use rigore_mechanics::tightening::SequencePattern;

mod corpus;
mod groups;

/// The stages of a line in a short hand of these tests: `T40` torque, `A90` angle, `S0.15<62` stretch with its limit.
pub(super) fn short(text: &str) -> String {
    let read = read(text);
    assert!(read.questions.is_empty(), "{text}: {:?}", read.questions);
    let back = super::read(&read.line());
    assert!(back.questions.is_empty(), "{text} is written as {}: {:?}", read.line(), back.questions);
    assert_eq!(back.line(), read.line(), "{text}");
    assert_eq!(fine(&back), fine(&read), "{text} is written as {}", read.line());
    stages(&read)
}

pub(super) fn stages(read: &Procedure) -> String {
    read.stages.iter().map(|stage| one(stage, 2)).collect::<Vec<_>>().join(" ")
}

/// The same with as many decimals as are written.
fn fine(read: &Procedure) -> String {
    read.stages.iter().map(|stage| one(stage, 9)).collect::<Vec<_>>().join(" ")
}

pub(super) fn one(stage: &LineStage, decimals: usize) -> String {
    let number =
        |value: f64| format!("{value:.decimals$}").trim_end_matches('0').trim_end_matches('.').to_owned();
    let base = |figure: &LineFigure| {
        let so = |value: f64| number(value * figure.unit.factor);
        match figure.spread {
            LineTolerance::Unsaid => so(figure.target),
            LineTolerance::Within(tolerance) => format!("{}±{}", so(figure.target), so(tolerance)),
            LineTolerance::Range(low, high) if (f64::midpoint(low, high) - figure.target).abs() < 1e-6 => {
                format!("{}..{}", so(low), so(high))
            }
            LineTolerance::Range(low, high) => format!("{}[{}..{}]", so(figure.target), so(low), so(high)),
        }
    };
    let kind = match &stage.kind {
        StageKind::RunDown => "hand".to_owned(),
        StageKind::Torque { torque, snug } => format!("T{}{}", base(torque), if *snug { "s" } else { "" }),
        StageKind::Angle(angle) => format!("A{}", base(angle)),
        StageKind::TorqueAngle { torque, angle } => format!("T{}A{}", base(torque), base(angle)),
        StageKind::Stretch { stretch, limit } => {
            format!(
                "S{}{}",
                base(stretch),
                limit.map(|limit| format!("<{}", base(&limit))).unwrap_or_default()
            )
        }
        StageKind::Yield(band) => format!("Y{}", base(band)),
        StageKind::Castellated(band) => format!("C{}", base(band)),
        StageKind::Recheck(torque) => format!("R{}", base(torque)),
        StageKind::Loosen => "loose".to_owned(),
        StageKind::Action(text) => format!("'{text}'"),
        StageKind::Wait(time) => format!("W{}", base(time)),
        StageKind::Seal { within, cure } => {
            format!(
                "seal{}{}",
                base(within),
                cure.map(|cure| format!("/{}", base(&cure))).unwrap_or_default()
            )
        }
    };
    stage.group.as_ref().map_or(kind.clone(), |group| format!("{group}/{kind}"))
}

#[test]
fn manuals_are_written_by_many_hands() {
    for (text, expected) in [
        ("40 N·m, 70 N·m, then 90° twice", "T40 T70 A90 A90"),
        ("in 3 equal steps to 90 N·m", "T30 T60 T90"),
        ("25 lbf·ft snug, 60°", "T33.9s A60"),
        ("inner: 30 N·m, 60°; side: 23 N·m", "inner/T30 inner/A60 side/T23"),
        ("stretch 0.0052 in, not over 58 lbf·ft", "S0.13<78.64"),
        ("until it stops rising, 30 to 40 lbf·ft", "Y40.67..54.23"),
        ("40-50 lbf·ft, forward to the next slot", "C54.23..67.79"),
        ("90° then 40 N·m", "A90 T40"),
        ("40, 70, 90 Nm", "T40 T70 T90"),
        ("40,70,90 Nm", "T40 T70 T90"),
        ("40 Nm; 70 Nm; 90 Nm", "T40 T70 T90"),
        ("30, 60, then 90 N·m", "T30 T60 T90"),
        ("Step 1: 40 N·m\nStep 2: 70 N·m\nStep 3: 90°", "T40 T70 A90"),
        ("1st pass 20 lbf·ft, 2nd pass 40 lbf·ft, final 65 lbf·ft", "T27.12 T54.23 T88.13"),
        ("1) 40 N·m 2) 70 N·m", "T40 T70"),
        ("1. 40 Nm\n2. 90°\n3. 90°", "T40 A90 A90"),
        ("First 40 N·m, second 70 N·m, finally 90 degrees", "T40 T70 A90"),
        ("Tighten to 40 N·m, then turn a further 90°", "T40 A90"),
        ("torque to 40 Nm + 90 deg + 90 deg", "T40 A90 A90"),
        ("40 N·m followed by 45°", "T40 A45"),
        ("40 N·m then a quarter turn", "T40 A90"),
        ("40 N·m and 1/4 turn", "T40 A90"),
        ("40 N·m, half a turn", "T40 A180"),
        ("15 lb-ft, then two flats", "T20.34 A120"),
        ("50 %, 75 %, 100 % of 90 N·m", "T45 T67.5 T90"),
        ("50%, 75% and 100% of 90 Nm", "T45 T67.5 T90"),
        ("90 N·m in three equal steps", "T30 T60 T90"),
        ("90 N·m, in 3 steps", "T30 T60 T90"),
        ("180° in two equal steps", "A90 A90"),
        ("40 N·m and 60° in one pull", "T40A60"),
        ("40 N·m + 60°, in one go", "T40A60"),
        ("60 ± 3 N·m", "T60±3"),
        ("60 N·m ± 5 %", "T60±3"),
        ("60 N·m +/- 3 N·m, 90° ± 4°", "T60±3 A90±4"),
        ("60 N·m, ± 3", "T60±3"),
        ("40-50 N·m", "T40..50"),
        ("between 40 and 50 N·m", "T40..50"),
        ("from 40 to 50 N·m", "T40..50"),
        ("40 N·m to 50 N·m", "T40..50"),
        ("by hand, 10 N·m, 40 N·m", "hand T10 T40"),
        ("run down by hand until it touches, then 40 N·m", "hand T40"),
        ("40 N·m, loosen, 30 N·m, 90°", "T40 loose T30 A90"),
        ("30 N·m, 60 N·m, check 60 N·m", "T30 T60 R60"),
        ("60 N·m, recheck", "T60 R60"),
        ("snug: 25 N·m, angle: 75°", "T25s A75"),
        ("25 N·m, snug, 75°", "T25s A75"),
        ("stretch 0.15 mm not over 62 N·m", "S0.15<62"),
        ("stretch: 0.15 mm, max 62 N·m", "S0.15<62"),
        ("0.14 to 0.16 mm", "S0.14..0.16"),
        ("30-40 lbf·ft until it rises no more", "Y40.67..54.23"),
        ("40 N·m to the next slot", "C40..40"),
        ("9,5 Nm", "T9.5"),
        ("0,15 mm", "S0.15"),
        ("M10 bolts: 50 N·m; M8 bolts: 25 N·m", "M10 bolts/T50 M8 bolts/T25"),
        ("40 N·m x 2", "T40 T40"),
        ("40 N·m, 2 x 90°", "T40 A90 A90"),
        ("40 N·m, twice", "T40 T40"),
        ("65 in-lb, 100 in-lb", "T7.34 T11.3"),
        ("4 kgf·m", "T39.23"),
        ("40 N·m (oiled), 90°", "T40 A90"),
        ("60 lbf·ft, ± 3", "T81.35±4.07"),
        ("180° ± 4° in two equal steps", "A90±2 A90±2"),
        ("40 N·m then two turns", "T40 A720"),
        ("inner: 30 N·m then side: 23 N·m", "inner/T30 side/T23"),
        ("bolts: 50 N·m; nuts: 40 N·m", "bolts/T50 nuts/T40"),
        ("1: 40 N·m\n2: 70 N·m", "T40 T70"),
        ("final 30, 60 N·m", "T30 T60"),
        ("pass 10, 20, 30 N·m", "T10 T20 T30"),
        ("step 1, 40 N·m, step 2, 70 N·m", "T40 T70"),
        ("step one 40 N·m", "T40"),
    ] {
        assert_eq!(short(text), expected, "{text}");
    }
}

#[test]
fn order_and_lubricant_are_said_with_it() {
    for (text, order, lubricant) in [
        ("40 N·m, 70 N·m, then 90° twice, centre out", Some(SequencePattern::CentreOut), None),
        ("20 Nm, 40 Nm criss-cross", Some(SequencePattern::CrissCross), None),
        ("40 N·m, from the ends in, with moly paste", Some(SequencePattern::OutsideIn), Some("moly-paste")),
        ("20 Nm, 40 Nm, star", Some(SequencePattern::CrissCross), None),
        ("threads lightly oiled: 40 N·m", None, Some("engine-oil")),
        ("40 N·m dry", None, Some("dry")),
    ] {
        let read = read(text);
        assert_eq!(
            (&read.order, read.lubricant),
            (&order.map(LineOrder::Pattern), lubricant),
            "{text}: {read:?}"
        );
        assert!(read.questions.is_empty(), "{text}: {:?}", read.questions);
    }
    let shipped: Vec<String> = rigore_mechanics::friction::shipped().into_iter().map(|of| of.id).collect();
    for word in [
        "degreased",
        "dry",
        "oiled",
        "moly",
        "assembly paste",
        "anti-seize",
        "threadlocker",
        "thread sealant",
    ] {
        let key = read(&format!("40 N·m, {word}")).lubricant.expect("a lubricant");
        assert!(shipped.iter().any(|id| id == key), "{word} is {key}");
    }
}

#[test]
fn what_cannot_be_read_or_in_two_ways_is_told_under_its_words() {
    for (text, words, message) in [
        ("30", "30", "30 of what?"),
        ("40 N·m, 70", "70", "70 of what?"),
        ("", "", "nothing is asked"),
        ("30,60 N·m", "30,60", "30, then 60, or 30.6"),
        ("40, 70, then 90°", "40", "40 of what?"),
        ("40 N·m - 50 N·m", "40 N·m - 50 N·m", "anything between"),
        ("40 N·m wobble", "wobble", "`wobble` was not understood"),
        ("until it stops rising", "until it stops rising", "between which torques"),
        (
            "90 N·m until it stops rising 40 N·m",
            "90 N·m until it stops rising 40 N·m",
            "between which torques",
        ),
        ("50 %, 100 %", "50 %", "of what?"),
        ("60° in one pull", "60° in one pull", "a torque and an angle"),
        ("40 N·m, not over 60 N·m", "not over 60 N·m", "say the stretch before it"),
        ("0 N·m", "0 N·m", "more than zero"),
        ("40 N·m 99 times", "99 times", "1 to 12"),
        ("60 N·m ± 3 mm", "60 N·m ± 3 mm", "measures something else"),
        ("60 N·m, ± 3 mm", "60 N·m, ± 3 mm", "measures something else"),
        ("inner: 60 N·m; side: ± 3", "± 3", "stands behind its figure"),
        ("3 ± 5 N·m", "3 ± 5 N·m", "more than zero"),
        ("in equal steps to 90 N·m", "equal steps", "how many?"),
        ("stretch to 40 N·m", "stretch to 40 N·m", "stretched by how much?"),
        ("snug 60°", "snug 60°", "a torque is needed"),
        ("loosen 90°", "loosen 90°", "all the way"),
        ("50-40 N·m", "50-40 N·m", "runs downwards"),
        ("torque (10) N·m", "10", "10 of what?"),
        ("stretch 0.15 mm, not over 58 to 62 N·m", "not over 58 to 62 N·m", "not over what?"),
        ("inner: 30 N·m oiled; side: 20 N·m dry", "20 N·m dry", "another one was said"),
    ] {
        let read = read(text);
        let found = read
            .questions
            .iter()
            .any(|question| question.message.contains(message) && &text[question.at.clone()] == words);
        assert!(found, "{text}: {:?}", read.questions);
    }
    assert!(read(&"4 N·m, ".repeat(MAX_LENGTH)).questions[0].message.contains("at most"));
    // What was understood is there all the same.
    assert_eq!(stages(&read("40 N·m, wobble, 90°")), "T40 A90");
}

fn figure(most: u32, step: f64, unit: &'static Unit) -> impl Strategy<Value = LineFigure> {
    (1..most, 0..4_u8, 1..20_u32).prop_map(move |(target, spread, so)| {
        let (target, so) = (f64::from(target) * step, f64::from(so) * step);
        match spread {
            0 => LineFigure::plain(target, unit),
            // What may be off by all of it is no figure.
            1 => LineFigure { target, spread: LineTolerance::Within(so.min(target - step / 2.0)), unit },
            2 => LineFigure {
                target: f64::midpoint(target, target + so),
                spread: LineTolerance::Range(target, target + so),
                unit,
            },
            _ => LineFigure {
                target,
                spread: LineTolerance::Range(
                    if target > 2.0 * step { target - step } else { target },
                    target + so,
                ),
                unit,
            },
        }
    })
}

fn plain(most: u32, unit: &'static Unit) -> impl Strategy<Value = LineFigure> {
    (1..most).prop_map(move |target| LineFigure::plain(f64::from(target), unit))
}

fn band(most: u32, unit: &'static Unit) -> impl Strategy<Value = LineFigure> {
    (1..most, 1..50_u32).prop_map(move |(low, more)| {
        let (low, high) = (f64::from(low), f64::from(low + more));
        LineFigure { target: f64::midpoint(low, high), spread: LineTolerance::Range(low, high), unit }
    })
}

fn kind() -> impl Strategy<Value = StageKind> {
    let of = |symbol: &str| unit(symbol).unwrap();
    let torques = ["N·m", "lbf·ft", "lbf·in", "kgf·m"].map(of);
    let torque = move || prop::sample::select(torques.to_vec()).prop_flat_map(|unit| figure(400, 0.5, unit));
    let torque_band = move || prop::sample::select(torques.to_vec()).prop_flat_map(|unit| band(100, unit));
    let torque_plain = move || prop::sample::select(torques.to_vec()).prop_flat_map(|unit| plain(400, unit));
    let angle = move || figure(360, 1.0, of("°"));
    let length = prop::sample::select(vec![(of("mm"), 0.0005), (of("in"), 0.0001), (of("thou"), 0.1)])
        .prop_flat_map(|(unit, step)| figure(400, step, unit));
    prop_oneof![
        Just(StageKind::RunDown),
        (torque(), any::<bool>()).prop_map(|(torque, snug)| StageKind::Torque { torque, snug }),
        angle().prop_map(StageKind::Angle),
        (torque(), angle()).prop_map(|(torque, angle)| StageKind::TorqueAngle { torque, angle }),
        (length, proptest::option::of(torque_plain()))
            .prop_map(|(stretch, limit)| StageKind::Stretch { stretch, limit }),
        torque_band().prop_map(StageKind::Yield),
        torque_band().prop_map(StageKind::Castellated),
        torque_plain().prop_map(StageKind::Recheck),
        Just(StageKind::Loosen),
        Just(StageKind::Action("seat the thrust bearing".to_owned())),
        plain(90, of("min")).prop_map(StageKind::Wait),
        (plain(90, of("min")), proptest::option::of(plain(24, of("h"))))
            .prop_map(|(within, cure)| StageKind::Seal { within, cure }),
    ]
}

fn groups() -> impl Strategy<Value = Vec<(Option<&'static str>, Vec<StageKind>)>> {
    let names = ["inner", "outer", "side bolts", "M8 studs"];
    let stages = || proptest::collection::vec(kind(), 1..6);
    prop_oneof![
        stages().prop_map(|stages| vec![(None, stages)]),
        proptest::collection::vec(stages(), 1..4).prop_map(move |all| names
            .into_iter()
            .map(Some)
            .zip(all)
            .collect()),
    ]
}

/// What a text is piled up of: words and signs of procedures, with numbers among them.
fn pile() -> impl Strategy<Value = String> {
    let words = prop::sample::select(vec![
        "N·m",
        "lbf·ft",
        "°",
        "mm",
        "in",
        ",",
        ";",
        "then",
        "twice",
        "equal steps",
        "%",
        "of",
        "±",
        ":",
        "inner",
        "snug",
        "in one pull",
        "stretch",
        "not over",
        "to the next slot",
        "-",
        "x",
        "until it stops rising",
        "turn",
        "check",
        "loosen",
        "by hand",
        "(",
        ")",
        "/",
        "→",
        "to",
        "and",
        "between",
        "in",
        "passes",
        "turns",
        "times",
        "bolts",
        "M8",
        "in the order",
        "max",
        "about",
        "after",
        "minutes",
        "wait",
        "step",
        "plus",
        "class",
        "star",
        "sealant",
        "skins in",
        "target",
        "+",
        "\n",
        "all",
        "wobble",
        "three",
        "1/4",
        "3/8-24",
        "flats",
        "min",
        "oiled",
        "recheck",
    ]);
    let number = prop_oneof![
        (1..90_u32).prop_map(|number| number.to_string()),
        (1..90_u32, 1..9_u32).prop_map(|(whole, part)| format!("{whole}.{part}")),
        (1..90_u32, 1..99_u32).prop_map(|(whole, part)| format!("{whole},{part}")),
        (1..30_u32, 30..60_u32).prop_map(|(low, high)| format!("{low}-{high}")),
    ];
    let word = prop_oneof![2 => words.prop_map(str::to_owned), 1 => number];
    proptest::collection::vec(word, 0..16).prop_map(|words| words.join(" "))
}

#[test]
fn a_number_of_nothing_that_can_be_counted_ends_the_reading() {
    for text in [
        "9.6 wobble bolts bolts",
        "32 twice 9-45 : 4-51 oiled 9.6 wobble bolts bolts",
        "1.5 head bolts 40 N·m",
    ] {
        assert_roles(text);
    }
}

/// The numbers of a text and where they stand, found without the reader's own tokens.
fn numbers_of(text: &str) -> Vec<(std::ops::Range<usize>, f64)> {
    let mut found = Vec::new();
    let bytes = text.as_bytes();
    let mut at = 0;
    while at < bytes.len() {
        let point = bytes[at] == b'.' && bytes.get(at + 1).is_some_and(u8::is_ascii_digit);
        if !bytes[at].is_ascii_digit() && !point {
            at += 1;
            continue;
        }
        let mut end = at + usize::from(point);
        while end < bytes.len()
            && (bytes[end].is_ascii_digit()
                || (bytes[end] == b'.' && bytes.get(end + 1).is_some_and(u8::is_ascii_digit)))
        {
            end += 1;
        }
        if let Ok(value) = text[at..end].parse() {
            found.push((at..end, value));
        }
        at = end;
    }
    found
}

/// Every number of a text has one role, is asked about, and where it is a figure a stage has it with a unit.
pub(super) fn assert_roles(text: &str) {
    let read = read(text);
    let covers = |outer: &std::ops::Range<usize>, inner: &std::ops::Range<usize>| {
        outer.start <= inner.start && inner.end <= outer.end
    };
    for (at, value) in numbers_of(text) {
        let roles: Vec<NumberRole> =
            read.numbers.iter().filter(|claim| covers(&claim.at, &at)).map(|claim| claim.role).collect();
        let asked = read.questions.iter().any(|question| covers(&question.at, &at));
        assert!(roles.len() <= 1, "{text}: {value} is {roles:?}");
        assert!(roles.len() == 1 || asked, "{text}: nothing is said of {value}: {read:?}");
        // What is asked about elsewhere in the line leaves stages out.
        if roles == [NumberRole::Figure] && read.questions.is_empty() {
            let stage =
                read.stages.iter().any(|stage| covers(&stage.at, &at) && !stage.kind.figures().is_empty());
            assert!(stage, "{text}: {value} is in no stage: {read:?}");
        }
    }
}

/// A figure that stands in the text as it is has its own number in a stage: nothing is made up or lost.
pub(super) fn assert_figures(text: &str) {
    let read = read(text);
    if !read.questions.is_empty() {
        return;
    }
    let written: Vec<f64> = numbers_of(text).into_iter().map(|(_, value)| value).collect();
    let has = |value: f64| written.iter().any(|of| (of - value).abs() < 1e-9);
    for stage in &read.stages {
        for figure in stage.kind.figures() {
            if figure.unit.dimension == Dimension::Angle {
                continue;
            }
            let ends = match figure.spread {
                LineTolerance::Range(low, high) => has(low) || has(high) || has(figure.target),
                LineTolerance::Unsaid | LineTolerance::Within(_) => has(figure.target),
            };
            assert!(ends, "{text}: {} is nowhere in it: {read:?}", figure.target);
        }
    }
}

proptest! {
    #[test]
    fn reading_what_was_written_gives_the_same_stages(groups in groups()) {
        let mut stages: Vec<LineStage> = Vec::new();
        for (group, kinds) in groups {
            for kind in kinds {
                let group = group.map(str::to_owned);
                // Nothing is run down by hand twice in a row.
                let twice = stages.last().is_some_and(|last| last.kind == StageKind::RunDown && kind == StageKind::RunDown);
                if !twice {
                    stages.push(LineStage { group, kind, at: 0..0 });
                }
            }
        }
        let written = Procedure { stages, ..Procedure::default() };
        let line = written.line();
        let back = read(&line);
        prop_assert!(back.questions.is_empty(), "{line}: {:?}", back.questions);
        prop_assert_eq!(fine(&back), fine(&written), "{}", line);
        prop_assert_eq!(back.line(), line);
    }

    #[test]
    fn no_text_makes_it_panic_and_every_question_has_its_place(text in "\\PC{0,60}") {
        for question in read(&text).questions {
            prop_assert!(text.get(question.at).is_some());
        }
    }

    #[test]
    fn every_number_has_one_role_or_is_asked_about(text in pile()) {
        assert_roles(&text);
        let read = read(&text);
        for question in &read.questions {
            prop_assert!(text.get(question.at.clone()).is_some());
        }
        if read.questions.is_empty() {
            prop_assert_eq!(super::read(&read.line()).line(), read.line(), "{}", text);
        }
    }
}

//! Which group has which stage.

use super::super::{GroupNames, StageDefaults, read};
use super::{LineStage, one};
use rigore_mechanics::fastener::Thread;

/// A head with two long rows, a small one and two studs.
fn head() -> Vec<GroupNames<'static>> {
    let group = |key, name, thread: &str, fasteners: &[&'static str]| GroupNames {
        key,
        name,
        joint: "Cylinder head",
        thread: Thread::parse(thread).ok(),
        fasteners: fasteners.to_vec(),
    };
    vec![
        group("inner", "Inner bolts", "M10x1.25", &["1", "2", "3", "4"]),
        group("outer", "Outer bolts", "M10x1.25", &["5", "6", "7", "8"]),
        group("small", "Small row", "M8x1.25", &["9", "10"]),
    ]
}

/// The stages by group, in the short hand of these tests, or what is asked.
fn by_group(line: &str, groups: &[GroupNames<'_>]) -> Result<String, String> {
    let read = read(line);
    assert!(read.questions.is_empty(), "{line}: {:?}", read.questions);
    let stages = read.for_groups(groups).map_err(|asked| asked[0].message.in_base_units())?;
    let text = stages.into_iter().map(|(group, kind)| {
        let group = group.map(|group| groups[group].key.to_owned());
        one(&LineStage { group, kind: kind.clone(), at: 0..0 }, 1)
    });
    Ok(text.collect::<Vec<_>>().join(" "))
}

#[test]
fn what_comes_before_a_named_group_belongs_to_the_others() {
    for (line, stages) in [
        (
            "28 N·m, loosen, 24 N·m, 80°; small: 18 N·m",
            "inner/T28 outer/T28 inner/loose outer/loose inner/T24 outer/T24 inner/A80 outer/A80 small/T18",
        ),
        ("40 N·m; small: 18 N·m", "inner/T40 outer/T40 small/T18"),
        ("20, 40 N·m", "inner/T20 outer/T20 small/T20 inner/T40 outer/T40 small/T40"),
        ("all: 10 N·m; inner: 40 N·m", "inner/T10 outer/T10 small/T10 inner/T40"),
        // What rests on a torque has had it.
        (
            "20 N·m; inner: 60°; outer: 45°; small: recheck",
            "inner/T20 outer/T20 small/T20 inner/A60 outer/A45 small/R20",
        ),
        ("30 N·m, \"seat the bearing\"; small: 10 N·m", "inner/T30 outer/T30 'seat the bearing' small/T10"),
    ] {
        assert_eq!(by_group(line, &head()).as_deref(), Ok(stages), "{line}");
    }
    let two = &head()[..2];
    assert_eq!(
        by_group("30, 50 ft-lb; inner: 68 ft-lb, recheck; outer: recheck", two).as_deref(),
        Ok("inner/T40.7 outer/T40.7 inner/T67.8 outer/T67.8 inner/T92.2 inner/R92.2 outer/R67.8")
    );
    for (line, asked) in [
        ("20 N·m, 40 N·m; small: 60 N·m", "does Small row have this, too?"),
        ("80 N·m; inner: 40 N·m; outer: 50 N·m; small: 10 N·m", "does Inner bolts have this, too?"),
    ] {
        let message = by_group(line, &head()).unwrap_err();
        assert!(message.contains(asked), "{line}: {message}");
    }
}

#[test]
fn a_group_is_named_by_its_key_its_name_its_thread_or_its_fasteners() {
    for (named, group) in [
        ("small", "small"),
        ("Small row", "small"),
        ("the small bolts", "small"),
        ("inner bolts", "inner"),
        ("M8", "small"),
        ("M8 bolts", "small"),
        ("M8x1.25", "small"),
        ("M8x25", "small"),
        ("M10 inner", "inner"),
        ("Bolts 1-4", "inner"),
        ("bolts 5, 6, 7 and 8", "outer"),
        ("bolts 9 to 10", "small"),
    ] {
        assert_eq!(by_group(&format!("{named}: 20 N·m"), &head()), Ok(format!("{group}/T20")), "{named}");
    }
    for (named, asked) in [
        ("side", "no group is called `side`"),
        ("M10", "several groups have the thread"),
        ("M12", "no group has the thread"),
        ("bolts 1-3", "is a part of the group inner"),
        ("bolts 1-12", "no fastener is called 11"),
    ] {
        let message = by_group(&format!("{named}: 20 N·m"), &head()).unwrap_err();
        assert!(message.contains(asked), "{named}: {message}");
    }
    assert_eq!(by_group("bolts 1-8: 20 N·m", &head()).as_deref(), Ok("inner/T20 outer/T20"));
    assert_eq!(by_group("cylinder head: 9 N·m", &head()).as_deref(), Ok("inner/T9 outer/T9 small/T9"));
}

#[test]
fn a_plan_has_each_figure_in_the_unit_it_was_written_in() {
    let text = read("17 lbf·ft, 70 to 74°; small: stretch 0.0063 in, not over 72 ft-lb")
        .tables(&head(), &StageDefaults::default())
        .unwrap();
    for written in [
        "torque = \"17 lbf·ft\"",
        "angle = \"72 °\"",
        "[\"70 °\", \"74 °\"]",
        "\"0.0063 in\"",
        "limit = \"72 lbf·ft\"",
    ] {
        assert!(text.contains(written), "{written} is not in {text}");
    }
}

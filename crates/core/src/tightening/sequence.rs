//! The order in which fasteners are turned, generated from where they are.

use serde::Serialize;
use thiserror::Error;

/// A fastener's place on the part.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Position {
    /// Its name on the part, such as `3L`.
    pub id: String,
    /// Along the engine from the front, mm.
    pub x_mm: f64,
    /// Across the engine, mm.
    pub y_mm: f64,
}

/// A way through a set of fasteners.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Pattern {
    /// From the middle outward, to alternate sides.
    CentreOut,
    /// From the ends inward, to alternate sides.
    OutsideIn,
    /// In the order they are listed.
    Listed,
}

impl Pattern {
    /// Every pattern with its name in plans and calculations.
    pub const ALL: [(&'static str, Self); 3] =
        [("centre-out", Self::CentreOut), ("outside-in", Self::OutsideIn), ("listed", Self::Listed)];

    /// The pattern with this name.
    pub fn named(name: &str) -> Option<Self> {
        Self::ALL.iter().find(|(n, _)| *n == name).map(|(_, pattern)| *pattern)
    }
}

/// Why no sequence can be made.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum SequenceError {
    /// There is nothing to put in order.
    #[error("there is no fastener to put in order")]
    Empty,
    /// Two fasteners have one name.
    #[error("`{0}` is there twice")]
    Twice(String),
    /// Two fasteners stand in one place.
    #[error("`{0}` and `{1}` stand in the same place")]
    SamePlace(String, String),
}

/// The sequence of a pattern, as indices into `points`: every fastener once, and the same for the
/// same layout whatever order it is listed in (but for [`Pattern::Listed`]).
///
/// Fasteners at one distance from the centre form a ring. Rings are taken from the inside or the
/// outside; within a ring the next is the one farthest from the last turned, so that sides
/// alternate. The loosening order is the reverse.
///
/// # Errors
/// [`SequenceError`] for an empty set, a name twice, or two fasteners in one place.
pub fn order(pattern: Pattern, points: &[Position]) -> Result<Vec<usize>, SequenceError> {
    check(points)?;
    if pattern == Pattern::Listed {
        return Ok((0..points.len()).collect());
    }
    let centre = centroid(points.iter());
    let radius = |i: usize| distance((points[i].x_mm, points[i].y_mm), centre);
    let extent = (0..points.len()).map(radius).fold(0.0, f64::max);
    let ring_width = (extent * 0.01).max(1e-6);
    let mut left: Vec<usize> = (0..points.len()).collect();
    let mut sequence: Vec<usize> = Vec::with_capacity(points.len());
    while !left.is_empty() {
        let edge = left.iter().map(|&i| radius(i)).reduce(match pattern {
            Pattern::OutsideIn => f64::max,
            _ => f64::min,
        });
        let edge = edge.unwrap_or(0.0);
        let ring = left.iter().copied().filter(|&i| (radius(i) - edge).abs() <= ring_width);
        let last = sequence.last().map(|&i| &points[i]);
        let Some(next) = ring.reduce(|a, b| if before(&points[b], &points[a], last) { b } else { a }) else {
            break;
        };
        left.retain(|&i| i != next);
        sequence.push(next);
    }
    Ok(sequence)
}

/// Whether `a` is to be turned before `b`: the farther from the last one, then from the front,
/// then from the left.
fn before(a: &Position, b: &Position, last: Option<&Position>) -> bool {
    let away = |p: &Position| last.map_or(0.0, |l| distance((p.x_mm, p.y_mm), (l.x_mm, l.y_mm)));
    let (da, db) = (away(a), away(b));
    if (da - db).abs() > 1e-6 {
        return da > db;
    }
    (a.x_mm, a.y_mm, &a.id) < (b.x_mm, b.y_mm, &b.id)
}

fn check(points: &[Position]) -> Result<(), SequenceError> {
    if points.is_empty() {
        return Err(SequenceError::Empty);
    }
    for (i, a) in points.iter().enumerate() {
        for b in &points[..i] {
            if a.id == b.id {
                return Err(SequenceError::Twice(a.id.clone()));
            }
            if distance((a.x_mm, a.y_mm), (b.x_mm, b.y_mm)) < 1e-6 {
                return Err(SequenceError::SamePlace(b.id.clone(), a.id.clone()));
            }
        }
    }
    Ok(())
}

fn distance(a: (f64, f64), b: (f64, f64)) -> f64 {
    (a.0 - b.0).hypot(a.1 - b.1)
}

fn centroid<'a>(points: impl Iterator<Item = &'a Position>) -> (f64, f64) {
    let (mut n, mut x, mut y) = (0.0, 0.0, 0.0);
    for point in points {
        n += 1.0;
        x += point.x_mm;
        y += point.y_mm;
    }
    (x / n, y / n)
}

/// How uneven a sequence is: the farthest the centre of the clamp load strays from the centre of
/// the joint while it runs, from the second fastener on, in mm. Less is more even.
pub fn stray(points: &[Position], sequence: &[usize]) -> f64 {
    let centre = centroid(points.iter());
    (2..=sequence.len())
        .map(|n| distance(centroid(sequence[..n].iter().map(|&i| &points[i])), centre))
        .fold(0.0, f64::max)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn caps(bearings: u32) -> Vec<Position> {
        (0..bearings)
            .flat_map(|n| {
                [("L", -40.0), ("R", 40.0)].map(|(side, y_mm)| Position {
                    id: format!("{}{side}", n + 1),
                    x_mm: f64::from(n) * 92.0,
                    y_mm,
                })
            })
            .collect()
    }

    fn names(pattern: Pattern, points: &[Position]) -> Vec<String> {
        order(pattern, points).unwrap().into_iter().map(|i| points[i].id.clone()).collect()
    }

    #[test]
    fn six_bearing_caps_from_the_middle_outward() {
        let expected = ["3L", "4R", "3R", "4L", "2R", "5L", "2L", "5R", "1L", "6R", "1R", "6L"];
        assert_eq!(names(Pattern::CentreOut, &caps(6)), expected);
        assert_eq!(names(Pattern::OutsideIn, &caps(6))[..2], ["1L", "6R"]);
    }

    #[test]
    fn centre_out_is_more_even_than_front_to_back() {
        let points = caps(6);
        let middle = stray(&points, &order(Pattern::CentreOut, &points).unwrap());
        let listed = stray(&points, &order(Pattern::Listed, &points).unwrap());
        assert!(middle < listed / 2.0, "{middle} {listed}");
    }

    #[test]
    fn faults_are_named() {
        assert_eq!(order(Pattern::CentreOut, &[]), Err(SequenceError::Empty));
        let mut points = caps(2);
        points[1].id = "1L".into();
        assert_eq!(order(Pattern::Listed, &points), Err(SequenceError::Twice("1L".into())));
        let mut points = caps(2);
        points[3].x_mm = 0.0;
        assert!(matches!(order(Pattern::Listed, &points), Err(SequenceError::SamePlace(..))));
    }

    proptest! {
        #[test]
        fn a_sequence_is_a_permutation_and_does_not_depend_on_listing(
            places in prop::collection::btree_set((0i16..20, 0i16..20), 1..24),
            turn in 0usize..24,
        ) {
            let mut points: Vec<Position> = places.iter().map(|(x, y)| Position {
                id: format!("{x}/{y}"), x_mm: f64::from(*x), y_mm: f64::from(*y),
            }).collect();
            for pattern in [Pattern::CentreOut, Pattern::OutsideIn] {
                let first = names(pattern, &points);
                let mut sorted = first.clone();
                sorted.sort();
                sorted.dedup();
                prop_assert_eq!(sorted.len(), points.len());
                let shift = turn % points.len();
                points.rotate_left(shift);
                prop_assert_eq!(names(pattern, &points), first);
            }
        }
    }
}

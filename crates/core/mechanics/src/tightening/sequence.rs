//! The order in which fasteners are turned, generated from where they are.

use crate::text;
use serde::Serialize;
use std::collections::HashSet;
use thiserror::Error;

/// A fastener's place on the part.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FastenerPosition {
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
pub enum SequencePattern {
    /// From the middle outward, to alternate sides.
    CentreOut,
    /// From the ends inward, to alternate sides.
    OutsideIn,
    /// Across and across again, for fasteners on a circle.
    CrissCross,
    /// From corner to corner and inward, for fasteners around a rectangle.
    Diagonal,
    /// Around the centre, from the front.
    Clockwise,
    /// Along the longer side, from the front.
    Line,
    /// In the order they are listed.
    Listed,
}

impl SequencePattern {
    /// Every pattern with its name in plans and calculations.
    pub const ALL: [(&'static str, Self); 7] = [
        ("centre-out", Self::CentreOut),
        ("outside-in", Self::OutsideIn),
        ("criss-cross", Self::CrissCross),
        ("diagonal", Self::Diagonal),
        ("clockwise", Self::Clockwise),
        ("line", Self::Line),
        ("listed", Self::Listed),
    ];

    /// The pattern with this name.
    pub fn named(name: &str) -> Option<Self> {
        Self::ALL.iter().find(|(n, _)| *n == name).map(|(_, pattern)| *pattern)
    }
}

/// Why no sequence can be made.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum SequenceError {
    /// There is nothing to put in order.
    #[error("{}", text!("mechanics-there-no-fastener-put-order"))]
    Empty,
    /// Two fasteners have one name.
    #[error("{}", text!("mechanics-there-twice", text = .0))]
    Twice(String),
    /// Two fasteners stand in one place.
    #[error("{}", text!("mechanics-stand-same-place", text = .0, other = .1))]
    SamePlace(String, String),
}

/// The sequence of a pattern, as indices into `points`: every fastener once, and the same for the
/// same layout whatever order it is listed in (but for [`SequencePattern::Listed`]). The loosening order is the
/// reverse.
///
/// # Errors
/// [`SequenceError`] for an empty set, a name twice, or two fasteners in one place.
pub fn order(pattern: SequencePattern, points: &[FastenerPosition]) -> Result<Vec<usize>, SequenceError> {
    check(points)?;
    let layout = Layout::of(points);
    Ok(match pattern {
        SequencePattern::CentreOut => layout.by_rings(f64::min),
        SequencePattern::OutsideIn => layout.by_rings(f64::max),
        SequencePattern::CrissCross => layout.across(),
        SequencePattern::Diagonal => layout.corner_to_corner(),
        SequencePattern::Clockwise => layout.sorted(|at| (layout.clockwise(at), layout.radius(at))),
        SequencePattern::Line => layout.sorted(|at| layout.along(at)),
        SequencePattern::Listed => (0..points.len()).collect(),
    })
}

/// Below this two lengths in mm, or two angles in degrees, are one.
const SAME: f64 = 1e-6;

/// Fasteners around their centre.
struct Layout<'a> {
    points: &'a [FastenerPosition],
    centre: (f64, f64),
    /// How far each is from the centre.
    radii: Vec<f64>,
    /// Whether the longer side runs along the engine.
    lies_along: bool,
    /// From the front, then from the left, whatever order they are listed in.
    from_front: Vec<usize>,
}

impl<'a> Layout<'a> {
    fn of(points: &'a [FastenerPosition]) -> Self {
        let mut from_front: Vec<usize> = (0..points.len()).collect();
        from_front.sort_by(|a, b| {
            let (a, b) = (&points[*a], &points[*b]);
            a.x_mm.total_cmp(&b.x_mm).then(a.y_mm.total_cmp(&b.y_mm)).then_with(|| a.id.cmp(&b.id))
        });
        // Summed in that order, so that it is the same to the last digit.
        let centre = centroid(from_front.iter().map(|&at| &points[at]));
        let radii = points.iter().map(|point| distance((point.x_mm, point.y_mm), centre)).collect();
        let extent = |of: fn(&FastenerPosition) -> f64| {
            let all = points.iter().map(of);
            let (low, high) = all.fold((f64::MAX, f64::MIN), |(low, high), v| (low.min(v), high.max(v)));
            high - low
        };
        let lies_along = extent(|point| point.y_mm) <= extent(|point| point.x_mm);
        Self { points, centre, radii, lies_along, from_front }
    }

    fn place(&self, at: usize) -> (f64, f64) {
        (self.points[at].x_mm, self.points[at].y_mm)
    }

    fn radius(&self, at: usize) -> f64 {
        self.radii[at]
    }

    fn apart(&self, a: usize, b: usize) -> f64 {
        distance(self.place(a), self.place(b))
    }

    /// Degrees around the centre, clockwise on the drawing from the foremost fastener.
    fn clockwise(&self, at: usize) -> f64 {
        let angle = |at: usize| {
            let (x, y) = self.place(at);
            (y - self.centre.1).atan2(x - self.centre.0).to_degrees()
        };
        let turned = (angle(at) - angle(self.from_front[0])).rem_euclid(360.0);
        if 360.0 - turned < SAME { 0.0 } else { turned }
    }

    /// The place along the longer side, then across it.
    fn along(&self, at: usize) -> (f64, f64) {
        let (x, y) = self.place(at);
        if self.lies_along { (x, y) } else { (y, x) }
    }

    fn sorted(&self, key: impl Fn(usize) -> (f64, f64)) -> Vec<usize> {
        let mut sequence = self.from_front.clone();
        let keys: Vec<(f64, f64)> = (0..self.points.len()).map(key).collect();
        sequence.sort_by(|a, b| {
            let ((a, also_a), (b, also_b)) = (keys[*a], keys[*b]);
            if (a - b).abs() < SAME { also_a.total_cmp(&also_b) } else { a.total_cmp(&b) }
        });
        sequence
    }

    /// Fasteners at one distance from the centre form a ring. Rings are taken from the inside or the
    /// outside; within a ring the next is the one farthest from the last turned, so that sides alternate.
    fn by_rings(&self, edge_of: fn(f64, f64) -> f64) -> Vec<usize> {
        let extent = self.from_front.iter().map(|&at| self.radius(at)).fold(0.0, f64::max);
        let ring_width = (extent * 0.01).max(SAME);
        self.one_by_one(|left, turned| {
            let edge = left.iter().map(|&at| self.radius(at)).reduce(edge_of).unwrap_or_default();
            let ring = left.iter().copied().filter(|&at| (self.radius(at) - edge).abs() <= ring_width);
            most(ring, |at| turned.last().map_or(0.0, |&last| self.apart(at, last)))
        })
    }

    /// Each second one is as nearly opposite the one before it as there is; the others are as far from
    /// all that were turned as there is, and then from the last.
    fn across(&self) -> Vec<usize> {
        let angles: Vec<f64> = (0..self.points.len()).map(|at| self.clockwise(at)).collect();
        let between = |a: usize, b: usize| {
            let apart = (angles[a] - angles[b]).rem_euclid(360.0);
            apart.min(360.0 - apart)
        };
        let around = self.sorted(|at| (angles[at], self.radius(at)));
        let mut least = vec![360.0; self.points.len()];
        self.one_by_one_of(around, |left, turned| {
            let Some(&last) = turned.last() else { return left.first().copied() };
            for &at in left {
                least[at] = f64::min(least[at], between(at, last));
            }
            if turned.len() % 2 == 1 {
                return most(left.iter().copied(), |at| between(at, last));
            }
            let far = left.iter().map(|&at| least[at]).fold(0.0, f64::max);
            most(left.iter().copied().filter(|&at| far - least[at] < SAME), |at| between(at, last))
        })
    }

    /// The outermost of those that are left, then the one nearest to its reflection in the centre.
    fn corner_to_corner(&self) -> Vec<usize> {
        self.one_by_one(|left, turned| match turned.last() {
            Some(&last) if turned.len() % 2 == 1 => {
                let (x, y) = self.place(last);
                let opposite = (2.0 * self.centre.0 - x, 2.0 * self.centre.1 - y);
                most(left.iter().copied(), |at| -distance(self.place(at), opposite))
            }
            _ => most(left.iter().copied(), |at| self.radius(at)),
        })
    }

    fn one_by_one(&self, next: impl FnMut(&[usize], &[usize]) -> Option<usize>) -> Vec<usize> {
        self.one_by_one_of(self.from_front.clone(), next)
    }

    /// Takes one after the other, chosen out of those that are left, given those that were turned.
    fn one_by_one_of(
        &self,
        mut left: Vec<usize>,
        mut next: impl FnMut(&[usize], &[usize]) -> Option<usize>,
    ) -> Vec<usize> {
        let mut turned = Vec::with_capacity(self.points.len());
        while let Some(at) = next(&left, &turned) {
            left.retain(|&other| other != at);
            turned.push(at);
        }
        turned
    }
}

/// The one with the most of something; of equal ones the first.
fn most(of: impl Iterator<Item = usize>, measure: impl Fn(usize) -> f64) -> Option<usize> {
    let better = |best: (usize, f64), one: (usize, f64)| if one.1 > best.1 + SAME { one } else { best };
    of.map(|at| (at, measure(at))).reduce(better).map(|(at, _)| at)
}

fn check(points: &[FastenerPosition]) -> Result<(), SequenceError> {
    if points.is_empty() {
        return Err(SequenceError::Empty);
    }
    let mut names = HashSet::with_capacity(points.len());
    for (i, a) in points.iter().enumerate() {
        if !names.insert(a.id.as_str()) {
            return Err(SequenceError::Twice(a.id.clone()));
        }
        for b in &points[..i] {
            if (a.x_mm - b.x_mm).abs() < SAME && (a.y_mm - b.y_mm).abs() < SAME {
                return Err(SequenceError::SamePlace(b.id.clone(), a.id.clone()));
            }
        }
    }
    Ok(())
}

fn distance(a: (f64, f64), b: (f64, f64)) -> f64 {
    let (x, y) = (a.0 - b.0, a.1 - b.1);
    (x * x + y * y).sqrt()
}

fn centroid<'a>(points: impl Iterator<Item = &'a FastenerPosition>) -> (f64, f64) {
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
pub fn stray(points: &[FastenerPosition], sequence: &[usize]) -> f64 {
    let centre = centroid(points.iter());
    (2..=sequence.len())
        .map(|n| distance(centroid(sequence[..n].iter().map(|&i| &points[i])), centre))
        .fold(0.0, f64::max)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn caps(bearings: u32) -> Vec<FastenerPosition> {
        (0..bearings)
            .flat_map(|n| {
                [("L", -40.0), ("R", 40.0)].map(|(side, y_mm)| FastenerPosition {
                    id: format!("{}{side}", n + 1),
                    x_mm: f64::from(n) * 92.0,
                    y_mm,
                })
            })
            .collect()
    }

    fn names(pattern: SequencePattern, points: &[FastenerPosition]) -> Vec<String> {
        order(pattern, points).unwrap().into_iter().map(|i| points[i].id.clone()).collect()
    }

    #[test]
    fn six_bearing_caps_from_the_middle_outward() {
        let expected = ["3L", "4R", "3R", "4L", "2R", "5L", "2L", "5R", "1L", "6R", "1R", "6L"];
        assert_eq!(names(SequencePattern::CentreOut, &caps(6)), expected);
        assert_eq!(names(SequencePattern::OutsideIn, &caps(6))[..2], ["1L", "6R"]);
    }

    /// Fasteners on a circle, named clockwise from 1.
    fn circle(count: u32) -> Vec<FastenerPosition> {
        (0..count)
            .map(|n| {
                let angle = (180.0 + 360.0 * f64::from(n) / f64::from(count)).to_radians();
                FastenerPosition {
                    id: (n + 1).to_string(),
                    x_mm: 50.0 * angle.cos(),
                    y_mm: 50.0 * angle.sin(),
                }
            })
            .collect()
    }

    #[test]
    fn every_pattern_on_the_layout_it_is_made_for() {
        for (pattern, points, expected) in [
            (SequencePattern::CrissCross, circle(4), vec!["1", "3", "2", "4"]),
            (SequencePattern::CrissCross, circle(5), vec!["1", "3", "5", "2", "4"]),
            (SequencePattern::CrissCross, circle(6), vec!["1", "4", "2", "5", "3", "6"]),
            (SequencePattern::CrissCross, circle(8), vec!["1", "5", "3", "7", "2", "6", "4", "8"]),
            (SequencePattern::Clockwise, circle(5), vec!["1", "2", "3", "4", "5"]),
            (SequencePattern::Diagonal, caps(2), vec!["1L", "2R", "1R", "2L"]),
            (SequencePattern::Diagonal, caps(3), vec!["1L", "3R", "1R", "3L", "2L", "2R"]),
            (SequencePattern::Clockwise, caps(2), vec!["1L", "2L", "2R", "1R"]),
            (SequencePattern::Line, caps(2), vec!["1L", "1R", "2L", "2R"]),
        ] {
            assert_eq!(names(pattern, &points), expected, "{pattern:?}");
        }
    }

    #[test]
    fn across_a_circle_is_more_even_than_around_it() {
        let points = circle(8);
        let of = |pattern| stray(&points, &order(pattern, &points).unwrap());
        assert!(of(SequencePattern::CrissCross) < of(SequencePattern::Clockwise) / 1.5);
    }

    #[test]
    fn centre_out_is_more_even_than_front_to_back() {
        let points = caps(6);
        let middle = stray(&points, &order(SequencePattern::CentreOut, &points).unwrap());
        let listed = stray(&points, &order(SequencePattern::Listed, &points).unwrap());
        assert!(middle < listed / 2.0, "{middle} {listed}");
    }

    #[test]
    fn faults_are_named() {
        assert_eq!(order(SequencePattern::CentreOut, &[]), Err(SequenceError::Empty));
        let mut points = caps(2);
        points[1].id = "1L".into();
        assert_eq!(order(SequencePattern::Listed, &points), Err(SequenceError::Twice("1L".into())));
        let mut points = caps(2);
        points[3].x_mm = 0.0;
        assert!(matches!(order(SequencePattern::Listed, &points), Err(SequenceError::SamePlace(..))));
    }

    proptest! {
        #[test]
        fn a_sequence_is_a_permutation_and_does_not_depend_on_listing(
            places in prop::collection::btree_set((0i16..20, 0i16..20), 1..24),
            turn in 0usize..24,
        ) {
            let mut points: Vec<FastenerPosition> = places.iter().map(|(x, y)| FastenerPosition {
                id: format!("{x}/{y}"), x_mm: f64::from(*x), y_mm: f64::from(*y),
            }).collect();
            for (_, pattern) in SequencePattern::ALL.into_iter().filter(|(_, p)| *p != SequencePattern::Listed) {
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

//! A joint more, with all that it needs: its drawing, its fasteners in their places, and the step that tightens it.

use super::figure::set;
use super::line::{StepPlace, add_step};
use super::out::text;
use super::path::{EditTarget, steps, walk};
use super::table::{append, fields, put, taken};
use super::written::{table_value, value_at};
use crate::free_key::{free_key, key_of};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Dimension};
use serde::Deserialize;
use serde_json::{Value as Json, json};
use std::f64::consts::PI;
use toml_edit::DocumentMut;

/// A joint to be added.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NewJoint {
    /// What it is called.
    pub name: String,
    /// Its groups of fasteners; at least one.
    pub groups: Vec<NewGroup>,
    /// The whole procedure in one line; a question where it is left out.
    #[serde(default)]
    pub procedure: String,
    /// Where its figures come from.
    #[serde(default)]
    pub source: String,
    /// Where in the build sequence it is tightened: last of all ([`StepPlace::Last`]) where nothing is said.
    #[serde(default = "last")]
    pub place: StepPlace,
}

fn last() -> StepPlace {
    StepPlace::Last
}

/// A group of fasteners to be added.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NewGroup {
    /// What one of its fasteners is called: `bolt`.
    #[serde(default)]
    pub name: String,
    /// The key of its fastener.
    pub fastener: String,
    /// How many.
    pub count: u32,
    /// How they lie.
    pub arrangement: Arrangement,
    /// From one to the next, a length with its unit; mm where it has none.
    pub spacing: String,
}

/// How fasteners lie.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Arrangement {
    /// One behind the other.
    Row,
    /// In two rows beside each other.
    TwoRows,
    /// On a circle.
    Circle,
    /// Around a rectangle.
    Rectangle,
}

/// The most fasteners of a group.
const MOST: u32 = 200;
/// How far a part reaches beyond its fasteners, as a share of how far they reach, and at least so much, mm.
const BEYOND: f64 = 0.1;
const LEAST_BEYOND_MM: f64 = 14.0;

impl Arrangement {
    /// Places of so many, so far from each other.
    fn places(self, count: u32, spacing_mm: f64) -> Vec<[f64; 2]> {
        let half = count.div_ceil(2);
        let along = |at: u32| f64::from(at) * spacing_mm;
        let place = |at: u32| match self {
            Self::Row => [along(at), 0.0],
            Self::TwoRows => [along(at % half), if at < half { -0.5 } else { 0.5 } * spacing_mm],
            Self::Circle => {
                let turn = 2.0 * PI * f64::from(at) / f64::from(count);
                // Spacing is measured from one to the next, straight across.
                let radius = if count > 1 { spacing_mm / (2.0 * (PI / f64::from(count)).sin()) } else { 0.0 };
                [tenth(radius * turn.sin()), tenth(-radius * turn.cos())]
            }
            Self::Rectangle => around(at, count, spacing_mm),
        };
        (0..count).map(place).collect()
    }

    fn pattern(self, count: u32) -> &'static str {
        match self {
            Self::Circle | Self::Rectangle if count > 2 => "criss-cross",
            _ => "centre-out",
        }
    }
}

/// A place around a rectangle that is about twice as long as it is wide, from its front left corner clockwise.
fn around(at: u32, count: u32, spacing_mm: f64) -> [f64; 2] {
    let wide = (count / 6).max(1);
    let long = (count.saturating_sub(2 * wide) / 2).max(1);
    let [long, wide] = [long, wide].map(f64::from);
    // Places are evenly along the edge, as far from each other as they should be, whatever the count.
    let edge = 2.0 * (long + wide);
    let way = f64::from(at) / f64::from(count) * edge;
    let spacing_mm = spacing_mm * f64::from(count) / edge;
    let [x, y] = if way <= long {
        [way, 0.0]
    } else if way <= long + wide {
        [long, way - long]
    } else if way <= 2.0 * long + wide {
        [2.0 * long + wide - way, wide]
    } else {
        [0.0, 2.0 * (long + wide) - way]
    };
    [tenth(x * spacing_mm), tenth(y * spacing_mm)]
}

fn tenth(mm: f64) -> f64 {
    (mm * 10.0).round() / 10.0
}

/// Adds a joint; everything else it needs is made with it.
pub(super) fn add_joint(document: &mut DocumentMut, joint: &NewJoint) -> Result<(), Message> {
    let name = joint.name.trim();
    if name.is_empty() {
        return Err(message!("edit-name-needed"));
    }
    if joint.groups.is_empty() {
        return Err(message!("read-joint-has-at-least-one-group"));
    }
    let (mut groups, mut places, mut beside_mm) = (Vec::new(), Vec::new(), 0.0);
    let mut number = 0;
    for (at, group) in joint.groups.iter().enumerate() {
        let spacing = quantity::read(&group.spacing, Dimension::Length, Dimension::Length.base());
        let spacing_mm = spacing.map_err(|error| Message::from(error.to_string()))?;
        if !(1..=MOST).contains(&group.count) || spacing_mm <= 0.0 {
            return Err(message!("edit-fasteners-some-way-apart", most = MOST));
        }
        let of_group: Vec<[f64; 2]> = group.arrangement.places(group.count, spacing_mm);
        let least = of_group.iter().map(|place| place[1]).fold(f64::INFINITY, f64::min);
        // Groups lie beside each other until they are moved to their places.
        let shift = if at == 0 { 0.0 } else { beside_mm + spacing_mm - least };
        let of_group: Vec<[f64; 2]> = of_group.into_iter().map(|[x, y]| [x, tenth(y + shift)]).collect();
        beside_mm = of_group.iter().map(|place| place[1]).fold(beside_mm, f64::max);
        let named = Some(group.name.trim()).filter(|name| !name.is_empty()).unwrap_or("bolt");
        let positions: Vec<Json> = of_group
            .iter()
            .map(|place| {
                number += 1;
                json!({ "id": number.to_string(), "at": place })
            })
            .collect();
        groups.push(json!({
            "name": named, "fastener": group.fastener,
            "pattern": group.arrangement.pattern(group.count), "position": positions,
        }));
        places.extend(of_group);
    }
    let key = free_key(&key_of(name, "joint"), &taken(document, "joint"));
    let part = free_key(&format!("{key}-part"), &taken(document, "drawing"));
    append(document, "drawing", &fields(json!({ "id": part, "name": name, "shape": [outline(&places)] })))?;
    let procedure = Some(joint.procedure.trim()).filter(|line| !line.is_empty()).unwrap_or("?");
    let mut of_joint = fields(json!({
        "id": key, "name": name, "drawing": part, "procedure": procedure, "group": groups,
    }));
    if !joint.source.trim().is_empty() {
        of_joint.insert("source".to_owned(), joint.source.trim().into());
    }
    append(document, "joint", &of_joint)?;
    let step = free_key(&format!("{key}-tighten"), &taken(document, "operation"));
    let step = json!({ "id": step, "name": format!("Tighten {name}"), "kind": "tighten", "joint": key });
    add_step(document, &fields(step), &joint.place)?;
    Ok(())
}

/// One rounded rectangle around places.
fn outline(places: &[[f64; 2]]) -> Json {
    let end = |axis: usize, fold: fn(f64, f64) -> f64, from: f64| {
        places.iter().map(|place| place[axis]).fold(from, fold)
    };
    let [left, top] = [0, 1].map(|axis| end(axis, f64::min, f64::INFINITY));
    let [right, bottom] = [0, 1].map(|axis| end(axis, f64::max, f64::NEG_INFINITY));
    let beyond = LEAST_BEYOND_MM.max(BEYOND * (right - left).max(bottom - top));
    json!({
        "kind": "rect", "from": [tenth(left - beyond), tenth(top - beyond)],
        "to": [tenth(right + beyond), tenth(bottom + beyond)], "round": tenth(beyond / 2.0),
    })
}

/// The part of a joint is drawn anew around its fasteners; what was drawn of it for other joints stays.
pub(super) fn draw_outline(document: &mut DocumentMut, path: &str) -> Result<(), Message> {
    let EditTarget::Table(joint) = walk(document, &steps(path)?)? else {
        return Err(message!("edit-there-nothing-at-this-path"));
    };
    let (id, name) = (text(joint, "id").unwrap_or_default(), text(joint, "name").unwrap_or_default());
    let value = table_value(joint);
    let place = |at: &Json| Some([at[0].as_f64()?, at[1].as_f64()?]);
    let groups = value["group"].as_array().into_iter().flatten();
    let places: Vec<[f64; 2]> = groups
        .flat_map(|group| {
            let positions = group["position"].as_array().into_iter().flatten();
            let rows = group["row"].as_array().into_iter().flatten();
            let ends = rows.flat_map(|row| [&row["from"], &row["to"]]);
            positions.map(|position| &position["at"]).chain(ends).filter_map(place).collect::<Vec<_>>()
        })
        .collect();
    if places.is_empty() {
        return Err(message!("edit-no-fasteners-to-draw-around"));
    }
    let drawing = format!("{id}-outline");
    let drawn = value_at(document, "drawing");
    let drawn =
        drawn.as_array().and_then(|all| all.iter().position(|of| of["id"].as_str() == Some(&drawing)));
    let table = fields(json!({ "id": drawing, "name": name, "shape": [outline(&places)] }));
    match drawn {
        Some(at) => put(document, &format!("drawing[{at}]"), &table, None)?,
        None => drop(append(document, "drawing", &table)?),
    }
    set(document, &format!("{path}.drawing"), &drawing.into())
}

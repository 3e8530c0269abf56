//! Something to be measured, with its limits and the step that measures it.

use super::figure::look_up;
use super::line::{StepPlace, add_step};
use super::table::{TableFields, append, free_key, taken};
use super::written::item_value;
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde::Deserialize;
use serde_json::{Value as Json, json};
use toml_edit::DocumentMut;

/// A measurement to be added.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NewMeasurement {
    /// What is measured: `Crankshaft runout`.
    pub name: String,
    /// What the step is called.
    pub step: String,
    /// What it looks like: a `form` of a site.
    pub form: String,
    /// At how many places.
    #[serde(default = "one")]
    pub count: u32,
    /// The use that its limits are for.
    pub use_for: String,
    /// Its limits as they are printed; a question where they are left out.
    #[serde(default)]
    pub limits: String,
    /// Where in the build sequence it is measured.
    pub place: StepPlace,
}

fn one() -> u32 {
    1
}

/// Adds a measurement.
pub(super) fn add_measurement(document: &mut DocumentMut, new: &NewMeasurement) -> Result<(), Message> {
    let name = new.name.trim();
    if name.is_empty() {
        return Err(message!("edit-name-needed"));
    }
    let mut known = taken(document, "site");
    known.extend(taken(document, "clearance"));
    let key = free_key(name, &known, "measurement");
    let mut site = object(json!({ "id": key, "name": name, "form": new.form }));
    if new.count > 1 {
        site.insert("count".to_owned(), new.count.into());
    }
    append(document, "site", &site)?;
    let window = json!({ new.use_for.clone(): "?" });
    append(
        document,
        "clearance",
        &object(json!({ "id": key, "name": name, "plus": key, "window": window })),
    )?;
    let all = item_value(document.as_item());
    let last = all["clearance"].as_array().map_or(0, |all| all.len().saturating_sub(1));
    if !new.limits.trim().is_empty() {
        look_up(document, &format!("clearance[{last}].window.{}", new.use_for), &new.limits, "")?;
    }
    let step = object(json!({ "name": new.step, "kind": "measure", "sites": [key] }));
    add_step(document, &step, &new.place)?;
    Ok(())
}

fn object(value: Json) -> TableFields {
    match value {
        Json::Object(fields) => fields,
        _ => TableFields::new(),
    }
}

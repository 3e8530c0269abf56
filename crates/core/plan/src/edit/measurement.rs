//! Something to be measured, with its limits and the step that measures it.

use super::line::{StepPlace, add_step};
use super::table::{append, fields, taken};
use crate::free_key::{free_key, key_of};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use serde::Deserialize;
use serde_json::json;
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
    let key = free_key(&key_of(name, "measurement"), &known);
    let mut site = fields(json!({ "id": key, "name": name, "form": new.form }));
    if new.count > 1 {
        site.insert("count".to_owned(), new.count.into());
    }
    append(document, "site", &site)?;
    let limits = Some(new.limits.trim()).filter(|limits| !limits.is_empty()).unwrap_or("?");
    let window = json!({ new.use_for.clone(): limits });
    append(
        document,
        "clearance",
        &fields(json!({ "id": key, "name": name, "plus": key, "window": window })),
    )?;
    let step = fields(json!({ "name": new.step, "kind": "measure", "sites": [key] }));
    add_step(document, &step, &new.place)?;
    Ok(())
}

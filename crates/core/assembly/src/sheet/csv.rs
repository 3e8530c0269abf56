//! Pulls and readings as CSV (RFC 4180), one a line with a header.

use super::BuildSheet;
use crate::{BoltFriction, BuildState, Event};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::Dimension;
use serde::Serialize;
use time::format_description::well_known::Rfc3339;

impl BuildSheet {
    /// Every pull that is on the sheet, one a line, with a header (RFC 4180).
    ///
    /// # Errors
    /// Only where writing to memory fails.
    pub fn csv(state: &BuildState) -> Result<String, csv::Error> {
        let header = [
            "entry",
            "at",
            "by",
            "operation",
            "stage",
            "fastener",
            "value",
            "unit",
            "entered",
            "verdict",
            "method",
            "instrument",
            "remarks",
            "voided",
            "accepted",
            "loosened",
            "joint",
            "at_fastener",
            "torque_there_nm",
            "counts",
            "lapsed",
            "deviates",
        ];
        let rows = state.plan.line().flat_map(|at| {
            let operation = &state.plan[at];
            state.pulls(at).into_iter().map(|pull| {
                [
                    pull.seq.to_string(),
                    pull.at.format(&Rfc3339).unwrap_or_default(),
                    pull.by,
                    operation.id.clone(),
                    pull.stage_name,
                    pull.fastener,
                    pull.read.to_string(),
                    csv_unit(pull.dimension),
                    pull.entered.unwrap_or_default(),
                    word(&pull.verdict),
                    word(&pull.method),
                    pull.instrument,
                    Message::join(pull.remarks, "; ").in_base_units(),
                    pull.voided.unwrap_or_default(),
                    pull.accepted.unwrap_or_default(),
                    if pull.loosened { "yes" } else { "" }.to_owned(),
                    pull.joint,
                    pull.figure.to_string(),
                    pull.torque_nm.map(|torque| torque.to_string()).unwrap_or_default(),
                    if pull.counts { "yes" } else { "" }.to_owned(),
                    pull.lapsed.unwrap_or_default(),
                    if pull.deviates { "yes" } else { "" }.to_owned(),
                ]
            })
        });
        write(&header, rows)
    }

    /// Every size that was read, one a line, with a header (RFC 4180).
    ///
    /// # Errors
    /// Only where writing to memory fails.
    pub fn readings_csv(state: &BuildState) -> Result<String, csv::Error> {
        let header = [
            "entry",
            "at",
            "by",
            "operation",
            "site",
            "place",
            "read",
            "at_20_c",
            "unit",
            "master",
            "part_c",
            "entered",
            "method",
            "instrument",
            "counts",
            "remarks",
            "voided",
        ];
        let rows = state.plan.line().flat_map(|at| {
            let operation = &state.plan[at];
            state.readings_of(at).into_iter().map(|reading| {
                let figure = |value: Option<f64>| value.map(|value| value.to_string()).unwrap_or_default();
                let unlikely = reading.unlikely.then(|| message!("assembly-unlikely-confirmed"));
                let remarks = Message::join(reading.fault.into_iter().chain(unlikely), "; ").in_base_units();
                [
                    reading.seq.to_string(),
                    reading.at.format(&Rfc3339).unwrap_or_default(),
                    reading.by,
                    operation.id.clone(),
                    reading.site,
                    reading.place,
                    reading.read.to_string(),
                    reading.value.to_string(),
                    csv_unit(reading.dimension),
                    figure(reading.master),
                    figure(reading.temperature_c),
                    reading.entered.unwrap_or_default(),
                    word(&reading.method),
                    reading.instrument,
                    if reading.counts { "yes" } else { "" }.to_owned(),
                    remarks,
                    reading.voided.unwrap_or_default(),
                ]
            })
        });
        write(&header, rows)
    }

    /// Every part, those that were in a slot before among them, one a line, with a header (RFC 4180).
    ///
    /// # Errors
    /// Only where writing to memory fails.
    pub fn parts_csv(state: &BuildState) -> Result<String, csv::Error> {
        let header = [
            "slot",
            "name",
            "in",
            "reference",
            "serial",
            "batch",
            "condition",
            "uses_before",
            "machining",
            "operation",
            "by",
            "at",
            "entry",
            "stamp",
            "sizes",
        ];
        let rows = state.slots(None).into_iter().flat_map(|slot| {
            let now = slot.part.clone().into_iter().map(|part| (true, part));
            let all: Vec<_> = now.chain(slot.before.clone().into_iter().map(|part| (false, part))).collect();
            all.into_iter().map(move |(is_in, part)| {
                let of_it = |text: String| if is_in { text } else { String::new() };
                [
                    slot.id.clone(),
                    slot.name.clone(),
                    if is_in { "yes" } else { "" }.to_owned(),
                    part.reference,
                    part.serial,
                    part.batch,
                    word(&part.condition),
                    part.uses.to_string(),
                    part.machining,
                    slot.operation.clone(),
                    of_it(slot.by.clone().unwrap_or_default()),
                    of_it(slot.at.and_then(|at| at.format(&Rfc3339).ok()).unwrap_or_default()),
                    of_it(slot.seq.map(|seq| seq.to_string()).unwrap_or_default()),
                    part.stamp,
                    part.sizes.values().cloned().collect::<Vec<_>>().join("; "),
                ]
            })
        });
        write(&header, rows)
    }
}

/// Every entry of a record, one a line, with a header (RFC 4180): all that was written down, in its own words.
///
/// # Errors
/// Only where writing to memory fails.
pub fn entries_csv<'a>(events: impl Iterator<Item = &'a Event>) -> Result<String, csv::Error> {
    let header = ["entry", "at", "by", "role", "what", "operation", "instrument", "command", "fact"];
    let row = |event: &Event| {
        let fact = serde_json::to_value(&event.fact).unwrap_or_default();
        [
            event.seq.to_string(),
            event.at.format(&Rfc3339).unwrap_or_default(),
            event.by.name.clone(),
            word(&event.by.role),
            fact["type"].as_str().unwrap_or_default().to_owned(),
            event.fact.operation().unwrap_or_default().to_owned(),
            event.fact.read_with().map(|instrument| instrument.name.clone()).unwrap_or_default(),
            event.command.to_string(),
            fact.to_string(),
        ]
    };
    write(&header, events.map(row))
}

/// One bolt with what it has shown of its friction.
#[derive(Debug, Clone, PartialEq)]
pub struct FrictionRow {
    /// What the engine is called.
    pub engine: String,
    /// The lubricant in words.
    pub lubricant: String,
    /// Key of the joint.
    pub joint: String,
    /// The place of the bolt.
    pub fastener: String,
    /// What it has shown.
    pub shown: BoltFriction,
}

/// What bolts have shown of their friction, one a line, with a header (RFC 4180).
///
/// # Errors
/// Only where writing to memory fails.
pub fn friction_csv(rows: impl Iterator<Item = FrictionRow>) -> Result<String, csv::Error> {
    let header = [
        "fastener",
        "lubricant",
        "batch",
        "nut_factor",
        "pulls",
        "torque_nm",
        "stretch_mm",
        "engine",
        "joint",
        "place",
        "bolt",
        "at",
    ];
    let row = |row: FrictionRow| {
        [
            row.shown.kind,
            row.lubricant,
            row.shown.batch,
            row.shown.k.to_string(),
            row.shown.pulls.to_string(),
            row.shown.torque_nm.to_string(),
            row.shown.stretch_mm.to_string(),
            row.engine,
            row.joint,
            row.fastener,
            (row.shown.bolt + 1).to_string(),
            row.shown.at.format(&Rfc3339).unwrap_or_default(),
        ]
    };
    write(&header, rows.map(row))
}

/// The unit of a column of figures, in letters that any reader takes.
fn csv_unit(dimension: Dimension) -> String {
    match dimension {
        Dimension::Angle => "deg".to_owned(),
        _ => dimension.base().symbol.to_owned(),
    }
}

/// A header and rows as CSV.
fn write<const N: usize>(
    header: &[&str; N],
    rows: impl Iterator<Item = [String; N]>,
) -> Result<String, csv::Error> {
    let mut out = csv::Writer::from_writer(Vec::new());
    out.write_record(header)?;
    for row in rows {
        out.write_record(row.map(plain))?;
    }
    let bytes = out.into_inner().map_err(|error| csv::Error::from(error.into_error()))?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

/// A cell that no spreadsheet takes for a formula: what begins like one gets an apostrophe before it, unless it is a
/// figure.
fn plain(cell: String) -> String {
    // What was typed as a figure and something with it, such as `-0.012 on 55`, calls nothing.
    let figure = cell.starts_with(['+', '-'])
        && cell[1..].starts_with(|c: char| c.is_ascii_digit() || c == '.')
        && !cell.contains(['|', '!', '(', '=']);
    let formula = cell.starts_with(['=', '+', '-', '@', '\t', '\r']) && !figure;
    if formula { format!("'{cell}") } else { cell }
}

/// The word an enum is written with in JSON.
fn word(value: &impl Serialize) -> String {
    serde_json::to_value(value).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::{plain, write};

    #[test]
    fn no_cell_is_a_formula_and_figures_stay_figures() {
        for (cell, written) in [
            ("=1+1", "'=1+1"),
            ("@x", "'@x"),
            ("-1+x|y!A0", "'-1+x|y!A0"),
            ("-0.012 on 55", "-0.012 on 55"),
            ("-cmd", "'-cmd"),
            ("-0.25", "-0.25"),
            ("+3", "+3"),
            ("2 = 2", "2 = 2"),
        ] {
            assert_eq!(plain(cell.to_owned()), written);
        }
        let rows = [["a, \"b\"".to_owned(), "c\nd".to_owned()]];
        let text = write(&["x", "y"], rows.into_iter()).expect("it is written");
        assert_eq!(text, "x,y\n\"a, \"\"b\"\"\",\"c\nd\"\n");
    }
}

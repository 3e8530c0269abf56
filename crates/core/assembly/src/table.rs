//! Tables of other people's machines: text with columns, whatever stands between them.
//!
//! A machine's file is looked at, then typed for you. `table.rs` finds the table in a text, `imported.rs` says what
//! each column seems to be and what would be recorded; recording sends one command for each reading, as for any
//! other, by the method *imported*.

use rigore_mechanics::quantity::{Dimension, written};
use rigore_mechanics::text;
use serde::Serialize;
use thiserror::Error;

/// Rows, columns and cells that a table has at most.
const MOST_ROWS: usize = 2000;
const MOST_COLUMNS: usize = 200;
const MOST_CELLS: usize = 20_000;
/// What may stand between columns, in the order it is tried: a comma may be a decimal one.
const BETWEEN: [char; 4] = [';', '\t', '|', ','];

/// Why a text is no table.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum TableError {
    /// Nothing in it has two columns.
    #[error("no table was found in it: columns with `;`, `,`, `|` or tabs between them are needed")]
    None,
    /// It has more than anybody measures.
    #[error("a table has {MOST_ROWS} rows, {MOST_COLUMNS} columns and {MOST_CELLS} cells at the most")]
    TooLarge,
}

/// A table.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MachineTable {
    /// What stands between its columns.
    pub between: char,
    /// What its columns are called; their numbers where nothing is said.
    pub columns: Vec<String>,
    /// Its rows, each with the line of the text that it begins in.
    pub rows: Vec<TableRow>,
}

/// A row of a table.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TableRow {
    /// The line of the text, from 1.
    pub line: usize,
    /// Its cells, one for each column.
    pub cells: Vec<String>,
}

/// Whether a cell is a figure, with a unit or without. An angle in degrees is where something was read.
pub fn is_figure(cell: &str) -> bool {
    let unsigned = cell.trim_start_matches(['+', '-', '−']);
    let number = unsigned.trim_start_matches(|c: char| c.is_ascii_digit() || matches!(c, '.' | ','));
    let digits = unsigned[..unsigned.len() - number.len()].contains(|c: char| c.is_ascii_digit());
    let unit = number.trim();
    digits && (unit.is_empty() || written(unit).is_some_and(|unit| unit.dimension != Dimension::Angle))
}

/// Rows of a text with something between its columns; lines that say nothing are left out.
fn rows(text: &str, between: char) -> Vec<TableRow> {
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(u8::try_from(between).unwrap_or(b','))
        .flexible(true)
        .has_headers(false)
        .trim(csv::Trim::All)
        .from_reader(text.as_bytes());
    // A text is valid, and any number of columns is taken: nothing is left that could be wrong.
    let records = reader.records().filter_map(Result::ok);
    let (mut line, mut at) = (1, 0);
    let row = |record: csv::StringRecord| {
        // Empty lines are passed over with the record that comes after them.
        let start = record.position().map_or(0, csv::Position::byte);
        let start = usize::try_from(start).unwrap_or(0).clamp(at, text.len());
        let empty = text.as_bytes()[start..].iter().take_while(|byte| matches!(byte, b'\r' | b'\n')).count();
        line += text.get(at..start + empty).map_or(0, |passed| passed.matches('\n').count());
        at = start + empty;
        TableRow { line, cells: record.iter().map(str::to_owned).collect() }
    };
    records.map(row).filter(|row| row.cells.iter().any(|cell| !cell.is_empty())).collect()
}

/// Reads a table: a mark of byte order, lines above it and empty ones are passed over.
///
/// # Errors
/// [`TableError`] where there is none, or it is too large.
pub fn read(text: &str) -> Result<MachineTable, TableError> {
    let text = text.trim_start_matches('\u{feff}');
    let wide = |row: &TableRow| row.cells.iter().filter(|cell| !cell.is_empty()).count() > 1;
    let fits = |between: &char| {
        let rows = rows(text, *between);
        let many = rows.iter().filter(|row| wide(row)).count();
        // Notes above and below it have no columns.
        (many > 0 && many * 2 >= rows.len()).then_some((*between, rows))
    };
    let (between, mut rows) = BETWEEN.iter().find_map(fits).ok_or(TableError::None)?;
    let first = rows.iter().position(wide).unwrap_or(0);
    rows.drain(..first);
    let width = rows.iter().map(|row| row.cells.len()).max().unwrap_or(0);
    if rows.len() > MOST_ROWS + 1 || width > MOST_COLUMNS || rows.len() * width > MOST_CELLS {
        return Err(TableError::TooLarge);
    }
    for row in &mut rows {
        row.cells.resize(width, String::new());
    }
    let head = rows.first().is_some_and(|row| !row.cells.iter().any(|cell| is_figure(cell)));
    let names = if head { rows.remove(0).cells } else { Vec::new() };
    let name = |at: usize| names.get(at).filter(|name| !name.is_empty()).cloned();
    let columns =
        (0..width).map(|at| name(at).unwrap_or_else(|| text!("assembly-column", at = at + 1))).collect();
    Ok(MachineTable { between, columns, rows })
}

#[cfg(test)]
mod tests {
    use super::{TableError, is_figure, read};
    use proptest::prelude::*;

    #[test]
    fn semicolons_decimal_commas_a_mark_and_lines_above_are_read() {
        let text = "\u{feff}Report of the machine\r\nMade on, Monday\r\n\r\nFeature;Front;Rear\r\nJournal 1;54,990;54,991\r\n\r\n\"Journal; 2\";54,989\r\n";
        let table = read(text).expect("a table");
        assert_eq!(
            (table.between, &table.columns[..]),
            (';', &["Feature", "Front", "Rear"].map(String::from)[..])
        );
        let rows: Vec<_> = table.rows.iter().map(|row| (row.line, row.cells.join("/"))).collect();
        assert_eq!(rows, [(5, "Journal 1/54,990/54,991".to_owned()), (7, "Journal; 2/54,989/".to_owned())]);
    }

    #[test]
    fn what_has_no_head_is_numbered_and_what_is_no_table_is_refused() {
        let table = read("J1\t54.99\nJ2\t54.98").expect("a table");
        assert_eq!(table.columns, ["Column 1", "Column 2"]);
        assert_eq!(read("one,two\n1,2").expect("a table").between, ',');
        for none in ["", "\u{feff}", "a word\nanother", ";;;\n;;"] {
            assert_eq!(read(none), Err(TableError::None), "{none:?}");
        }
        assert_eq!(read(&"a;1\n".repeat(3000)), Err(TableError::TooLarge));
        assert_eq!(read(&"a;1;2;3;4;5;6;7;8;9;0;1;2;3\n".repeat(1900)), Err(TableError::TooLarge));
        assert_eq!(read(&format!("a;1{}", ";2".repeat(300))), Err(TableError::TooLarge));
    }

    #[test]
    fn figures_are_told_from_words() {
        for (cell, is) in [
            ("54.9", true),
            ("-,5 mm", true),
            ("+0.01", true),
            ("90°", false),
            ("0° [mm]", false),
            ("J1", false),
            ("1st", false),
            ("-", false),
            ("", false),
            (".", false),
        ] {
            assert_eq!(is_figure(cell), is, "{cell}");
        }
    }

    proptest! {
        #[test]
        fn no_text_is_too_much(text in "[a-z0-9;,\t|\"\n\r .\u{feff}]{0,200}") {
            if let Ok(table) = read(&text) {
                prop_assert!(table.rows.iter().all(|row| row.cells.len() == table.columns.len()));
            }
        }
    }
}

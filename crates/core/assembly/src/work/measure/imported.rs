//! A measuring machine's table as readings of an operation: which column is what, and what would be recorded.

use super::commands::{is_unlikely, read, unlikely_text};
use crate::commands::context::unit_given;
use crate::state::BuildState;
use crate::table::{MachineTable, is_figure};
use rigore_mechanics::message;
use rigore_mechanics::message::Message;
use rigore_mechanics::quantity::{self, Unit};
use rigore_plan::{OperationIx, OperationWork, SiteIx};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// What a column of a table is.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "use", rename_all = "kebab-case", deny_unknown_fields)]
pub enum TableColumn {
    /// Nothing that is recorded.
    #[default]
    Skip,
    /// The name of the site of each row, with its place or without.
    Site,
    /// The name of the place of each row.
    Place,
    /// A reading at the site of its row, and at the place of its row where none is said.
    Reading {
        /// What the place is called, or its number from 1.
        place: Option<String>,
    },
    /// Readings of one place, whatever the row.
    Of {
        /// The site, by its place among those of the operation, from 0.
        site: usize,
        /// The place on it, from 0.
        place: usize,
    },
}

/// A table as it would be taken in.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TableView {
    /// The table as it was read.
    pub table: MachineTable,
    /// What each column is.
    pub uses: Vec<TableColumn>,
    /// What would be recorded.
    pub readings: Vec<TableReading>,
    /// Rows that nothing is taken of, by line, with why.
    pub left: Vec<SkippedRow>,
}

/// A reading that a table has.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TableReading {
    /// The line of the text.
    pub line: usize,
    /// Key of the site.
    pub site: String,
    /// What the site is called.
    pub name: String,
    /// The place on it, from 0.
    pub place: usize,
    /// What the place is called; empty where there is only one.
    pub at: String,
    /// What stands there.
    pub text: String,
    /// Symbol of the unit that a bare number is in there.
    pub unit: String,
    /// The same in the base unit, where it is a reading.
    pub value: Option<f64>,
    /// Why it is none, or is unlikely.
    pub fault: Option<Message>,
    /// Whether it can be kept all the same.
    pub unlikely: bool,
    /// What was read there before, in the base unit.
    pub before: Option<f64>,
    /// Whether the table has another one for the same place further down.
    pub again: bool,
}

/// A row that nothing is taken of.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SkippedRow {
    /// The line of the text.
    pub line: usize,
    /// Why.
    pub why: String,
}

/// A name as it is compared: case, spaces and marks between its words do not matter, but between two numbers.
fn plain(name: &str) -> String {
    let mut plain = String::new();
    let mut apart = false;
    for c in name.chars().flat_map(char::to_lowercase) {
        if !c.is_alphanumeric() && c != '°' {
            apart = true;
            continue;
        }
        if apart && c.is_ascii_digit() && plain.ends_with(|last: char| last.is_ascii_digit()) {
            plain.push(' ');
        }
        plain.push(c);
        apart = false;
    }
    plain
}

/// What comes after a name, where a text begins with it: `journal 12` does not begin with `journal 1`.
fn after<'a>(text: &'a str, name: &str) -> Option<&'a str> {
    let rest = text.strip_prefix(name)?;
    let number = |c: char| c.is_ascii_digit();
    (!(name.ends_with(number) && rest.starts_with(number))).then(|| rest.trim_start())
}

/// What columns of readings are called often, and others of figures.
const READ: [&str; 6] = ["actual", "measured", "reading", "value", "result", "size"];
const OTHER: [&str; 8] = ["nominal", "target", "tolerance", "deviation", "upper", "lower", "min", "max"];

/// How likely it is that a column of figures has the readings, by its name.
fn likely(name: &str) -> i32 {
    let name = plain(name);
    let has = |words: &[&str]| i32::from(words.iter().any(|word| name.contains(word)));
    has(&READ) - has(&OTHER)
}

/// The sites of an operation with their names as they are compared.
struct Names<'a> {
    state: &'a BuildState,
    sites: &'a [SiteIx],
    /// Name and key of each.
    plain: Vec<[String; 2]>,
    /// Names of the places of each.
    places: Vec<Vec<String>>,
}

impl<'a> Names<'a> {
    fn of(state: &'a BuildState, sites: &'a [SiteIx]) -> Self {
        let both = |site: &SiteIx| [plain(&state.plan[*site].name), plain(&state.plan[*site].id)];
        let places =
            |site: &SiteIx| state.plan[*site].places.iter().map(|place| plain(&place.name)).collect();
        Self {
            state,
            sites,
            plain: sites.iter().map(both).collect(),
            places: sites.iter().map(places).collect(),
        }
    }

    fn place(&self, site: usize, named: &str) -> Option<usize> {
        let places = &self.places[site];
        let numbered = || named.parse::<usize>().ok()?.checked_sub(1).filter(|at| *at < places.len());
        places.iter().position(|place| place == named).or_else(numbered)
    }

    /// The site that a name means, and the place where it says one too; the longest name that it begins with.
    fn find(&self, name: &str) -> Option<(usize, Option<usize>)> {
        let name = plain(name);
        let meant =
            self.plain.iter().enumerate().flat_map(|(site, both)| both.iter().map(move |of| (site, of)));
        let meant = meant.filter(|(_, of)| !of.is_empty());
        let mut meant: Vec<(usize, &str)> =
            meant.filter_map(|(site, of)| Some((site, after(&name, of)?))).collect();
        meant.sort_by_key(|(_, rest)| rest.len());
        meant.into_iter().find_map(|(site, rest)| {
            if rest.is_empty() { Some((site, None)) } else { Some((site, Some(self.place(site, rest)?))) }
        })
    }

    /// Whether some site has a place of this name.
    fn somewhere(&self, name: &str) -> bool {
        let name = plain(name);
        !name.is_empty() && (0..self.sites.len()).any(|site| self.place(site, &name).is_some())
    }
}

/// What stands in brackets at the end of a column's name, where that is a unit, and the name without it.
fn with_unit(name: &str) -> (&str, Option<&'static Unit>) {
    let cut = |open: char, close: char| {
        let (before, inside) = name.trim_end().strip_suffix(close)?.rsplit_once(open)?;
        Some((before.trim_end(), quantity::written(inside)?))
    };
    match cut('[', ']').or_else(|| cut('(', ')')) {
        Some((before, unit)) => (before, Some(unit)),
        None => (name, None),
    }
}

/// What each column is likely to be.
fn guess(names: &Names<'_>, table: &MachineTable) -> Vec<TableColumn> {
    let cells =
        |at: usize| table.rows.iter().map(move |row| row.cells[at].as_str()).filter(|cell| !cell.is_empty());
    let most = |at: usize, is: &dyn Fn(&str) -> bool| {
        let (all, those) = (cells(at).count(), cells(at).filter(|cell| is(cell)).count());
        those > 0 && those * 2 >= all
    };
    let all = || 0..table.columns.len();
    let mut uses: Vec<TableColumn> = vec![TableColumn::Skip; table.columns.len()];
    let site = all().find(|at| most(*at, &|cell| names.find(cell).is_some()));
    if let Some(at) = site {
        uses[at] = TableColumn::Site;
    }
    let figures: Vec<bool> = all().map(|at| most(at, &is_figure)).collect();
    let in_places = |at: usize| cells(at).count() > 0 && cells(at).all(|cell| names.somewhere(cell));
    let places: Vec<bool> = all().map(in_places).collect();
    // Numbers of places look like readings: there are readings besides.
    let readings = all().any(|at| figures[at] && !places[at]);
    let said = site.is_some_and(|at| cells(at).any(|cell| matches!(names.find(cell), Some((_, Some(_))))));
    for (at, column) in table.columns.iter().enumerate().filter(|(at, _)| Some(*at) != site) {
        let (name, _) = with_unit(column);
        uses[at] = match (names.find(name), names.somewhere(name)) {
            (Some((site, place)), _) if figures[at] => TableColumn::Of { site, place: place.unwrap_or(0) },
            (_, true) if figures[at] && site.is_some() => {
                TableColumn::Reading { place: Some(name.to_owned()) }
            }
            _ if site.is_some() && places[at] && readings => TableColumn::Place,
            _ => TableColumn::Skip,
        };
    }
    // Where no column says a place, the likeliest figures are the readings, the first of them.
    let none = !uses.iter().any(|of| matches!(of, TableColumn::Of { .. } | TableColumn::Reading { .. }));
    let left = all().filter(|at| uses[*at] == TableColumn::Skip && figures[*at]);
    let best = left.min_by_key(|at| -likely(&table.columns[*at]));
    if let Some(best) = best.filter(|_| none && site.is_some()) {
        let placed = said || uses.contains(&TableColumn::Place);
        uses[best] = TableColumn::Reading { place: (!placed).then(|| "1".to_owned()) };
    }
    uses
}

/// Where the reading of a cell belongs.
fn spot(
    names: &Names<'_>,
    uses: &[TableColumn],
    cells: &[String],
    column: &TableColumn,
) -> Result<(usize, usize), Message> {
    if let TableColumn::Of { site, place } = column {
        return Ok((*site, *place));
    }
    let cell = |of: TableColumn| uses.iter().position(|known| *known == of).map(|at| cells[at].as_str());
    let named = cell(TableColumn::Site).ok_or(message!("measure-no-column-names-site"))?;
    let (site, said) = names.find(named).ok_or_else(|| message!("measure-no-site-measured-here", named))?;
    let called = |named: &str| {
        let place = names.place(site, &plain(named));
        place.ok_or_else(|| {
            message!("measure-has-no-place", site = names.state.plan[names.sites[site]].name, named)
        })
    };
    let TableColumn::Reading { place } = column else { return Err(message!("measure-nothing-read-there")) };
    if let Some(place) = place {
        return Ok((site, called(place)?));
    }
    let by_row = cell(TableColumn::Place).filter(|cell| !cell.is_empty()).map(called).transpose()?;
    Ok((site, by_row.or(said).unwrap_or(0)))
}

impl BuildState {
    /// A table as readings of an operation that measures: as its columns are said to be, or as they seem to be. Bare
    /// numbers are in a unit, unless the name of their column has another. `None` where the operation measures nothing.
    pub fn table(
        &self,
        at: OperationIx,
        table: MachineTable,
        unit: &str,
        uses: Option<Vec<TableColumn>>,
    ) -> Option<TableView> {
        let OperationWork::Measure(sites) = &self.plan[at].work else { return None };
        let names = Names::of(self, sites);
        let there = |of: &TableColumn| match *of {
            TableColumn::Of { site, place } => {
                sites.get(site).is_some_and(|site| place < self.plan[*site].places.len())
            }
            _ => true,
        };
        let uses = uses.filter(|uses| uses.len() == table.columns.len() && uses.iter().all(there));
        let uses = uses.unwrap_or_else(|| guess(&names, &table));
        let (mut readings, mut left) = (Vec::new(), Vec::new());
        for row in &table.rows {
            let reads = |of: &TableColumn| matches!(of, TableColumn::Reading { .. } | TableColumn::Of { .. });
            let filled = uses.iter().zip(&row.cells).zip(&table.columns);
            let mut why = None;
            let before = readings.len();
            for ((column, cell), name) in filled.filter(|((of, cell), _)| reads(of) && !cell.is_empty()) {
                match spot(&names, &uses, &row.cells, column) {
                    Ok((site, place)) => {
                        let unit = with_unit(name).1.map_or(unit, |unit| unit.symbol);
                        readings.push(self.table_reading((sites[site], place), (row.line, cell), unit));
                    }
                    Err(words) => why = Some(words),
                }
            }
            if readings.len() == before {
                let why = why.unwrap_or_else(|| message!("measure-there-no-reading"));
                left.push(SkippedRow { line: row.line, why: why.in_base_units() });
            }
        }
        let mut last: HashMap<(String, usize), usize> = HashMap::new();
        for (at, of) in readings.iter().enumerate() {
            last.insert((of.site.clone(), of.place), at);
        }
        for (at, of) in readings.iter_mut().enumerate() {
            of.again = last[&(of.site.clone(), of.place)] != at;
        }
        Some(TableView { table, uses, readings, left })
    }

    fn table_reading(
        &self,
        (site, place): (SiteIx, usize),
        (line, text): (usize, &str),
        unit: &str,
    ) -> TableReading {
        let planned = &self.plan[site];
        // A unit of lengths says nothing of a volume.
        let bare = quantity::unit(unit).filter(|unit| unit.measures(planned.dimension));
        let unit = bare.unwrap_or(planned.dimension.base()).symbol;
        let (value, fault, unlikely) = match read(text, Some(unit), planned.dimension) {
            Ok((value, _)) => {
                let unlikely = is_unlikely(planned, value);
                let given = unit_given(text, Some(unit), planned.dimension);
                (Some(value), unlikely.then(|| unlikely_text(planned, value, given)), unlikely)
            }
            Err(refusal) => (None, Some(refusal.message), false),
        };
        TableReading {
            line,
            site: planned.id.clone(),
            name: planned.name.clone(),
            place,
            at: planned.places[place].name.clone(),
            text: text.to_owned(),
            unit: unit.to_owned(),
            value,
            fault,
            unlikely,
            before: self.sizes().reading(site, place).map(|reading| reading.value.value),
            again: false,
        }
    }
}

//! The build sheet: the record of one engine as it is read by a customer and defended in a
//! dispute (C-34), drawn from the state; and the same as CSV.
//!
//! JSON is [`Sheet`] serialised. Nothing is computed here that the state does not know.

use crate::build::{
    BuildStatus, ClearanceView, CountView, ItemView, Matter, MeasuredView, OperationStatus, Person, PlanRef,
    PullView, SlotView, State, TurnView,
};
use crate::plan::{Forecast, Work};
use serde::Serialize;
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;

/// A build sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Sheet {
    /// What the engine is called in the shop.
    pub name: String,
    /// The plan it was built to, with the hash of its text.
    pub plan: Option<PlanRef>,
    /// What the engine is for, where it was said.
    pub use_for: Option<String>,
    /// Whose engine it is, where it was said.
    pub owner: Option<String>,
    /// What the engine itself says it is, where it was said.
    pub identity: Option<String>,
    /// Where the build stands.
    pub status: BuildStatus,
    /// Entries in the record.
    pub entries: u64,
    /// When the record begins.
    #[serde(with = "time::serde::rfc3339::option")]
    pub begun_at: Option<OffsetDateTime>,
    /// When something was last recorded.
    #[serde(with = "time::serde::rfc3339::option")]
    pub touched: Option<OffsetDateTime>,
    /// Everybody who recorded something.
    pub people: Vec<Person>,
    /// Operations in the order of the plan.
    pub sections: Vec<Section>,
    /// What is open.
    pub matters: Vec<Matter>,
}

/// One operation on the sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Section {
    /// Key of the operation.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Where it stands.
    pub status: OperationStatus,
    /// Who signed it.
    pub signed_by: Option<Person>,
    /// When.
    #[serde(with = "time::serde::rfc3339::option")]
    pub signed_at: Option<OffsetDateTime>,
    /// Confirmed items.
    pub items: Vec<ItemView>,
    /// Parts taken in, by slot.
    pub parts: Vec<SlotView>,
    /// Hardware counted.
    pub counts: Vec<CountView>,
    /// The joint, of a tightening operation.
    pub joint: Option<JointSheet>,
    /// Readings, of a measuring operation.
    pub readings: Vec<MeasuredView>,
    /// Clearances that it judges.
    pub clearances: Vec<ClearanceView>,
    /// Why it was left out, where it was.
    pub skipped: Option<String>,
    /// Turns of the crankshaft made in it.
    pub turns: Vec<TurnView>,
}

/// Every fastener of a joint.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct JointSheet {
    /// Stages that pull, with what they ask for.
    pub stages: Vec<SheetStage>,
    /// Rows in the order of the sequence.
    pub rows: Vec<SheetRow>,
    /// Actions between stages: what and by whom.
    pub actions: Vec<String>,
    /// Pulls that were voided, repeated, accepted, loosened or otherwise need a word.
    pub notes: Vec<String>,
    /// Instruments used.
    pub instruments: Vec<String>,
}

/// A stage at the head of a column.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SheetStage {
    /// Index in the procedure.
    pub stage: usize,
    /// What it is called.
    pub name: String,
    /// Whether it is an angle.
    pub angle: bool,
    /// What is wanted, in N·m or degrees.
    pub target: f64,
    /// The least that will do.
    pub low: f64,
    /// The most that will do.
    pub high: f64,
    /// The clamp load to expect, where it can be computed.
    pub forecast: Option<Forecast>,
}

/// One fastener.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SheetRow {
    /// Its group's name.
    pub group: String,
    /// Its number in the sequence.
    pub number: usize,
    /// Its name on the part.
    pub fastener: String,
    /// The pull that counts in each stage, in the order of the columns.
    pub pulls: Vec<Option<PullView>>,
}

impl Sheet {
    /// The sheet of a build.
    pub fn of(state: &State) -> Self {
        let view = state.view();
        let sections = view.operations.into_iter().enumerate().map(|(at, operation)| Section {
            id: operation.id,
            name: operation.name,
            status: operation.status,
            signed_by: operation.signed_by,
            signed_at: operation.signed_at,
            items: state.items(at),
            parts: state.slots(Some(at)),
            counts: state.counts(at),
            joint: joint_sheet(state, at),
            readings: state.readings_of(at),
            clearances: state.judged(at),
            skipped: operation.skipped,
            turns: match &state.plan.operations[at].work {
                Work::Turn { .. } => {
                    let of_it = |turn: &TurnView| turn.operation == state.plan.operations[at].id;
                    state.turns().into_iter().filter(of_it).collect()
                }
                _ => Vec::new(),
            },
        });
        Self {
            name: view.name,
            plan: view.plan,
            use_for: view.use_for,
            owner: view.owner,
            identity: view.identity,
            status: view.status,
            entries: state.seq,
            begun_at: view.begun_at,
            touched: state.touched,
            people: state.people(),
            sections: sections.collect(),
            matters: view.matters,
        }
    }

    /// Every pull that is on the sheet, one a line, with a header (RFC 4180).
    ///
    /// # Errors
    /// Only where writing to memory fails.
    pub fn csv(state: &State) -> Result<String, csv::Error> {
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
        ];
        let rows = state.plan.operations.iter().enumerate().flat_map(|(at, operation)| {
            state.pulls(at).into_iter().rev().map(|pull| {
                [
                    pull.seq.to_string(),
                    pull.at.format(&Rfc3339).unwrap_or_default(),
                    pull.by,
                    operation.id.clone(),
                    pull.stage_name,
                    pull.fastener,
                    pull.read.to_string(),
                    if pull.angle { "deg" } else { "N·m" }.to_owned(),
                    pull.entered.unwrap_or_default(),
                    word(&pull.verdict),
                    word(&pull.method),
                    pull.instrument,
                    pull.remarks.join("; "),
                    pull.voided.unwrap_or_default(),
                    pull.accepted.unwrap_or_default(),
                    if pull.loosened { "yes" } else { "" }.to_owned(),
                ]
            })
        });
        write(&header, rows)
    }

    /// Every size that was read, one a line, with a header (RFC 4180).
    ///
    /// # Errors
    /// Only where writing to memory fails.
    pub fn readings_csv(state: &State) -> Result<String, csv::Error> {
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
        let rows = state.plan.operations.iter().enumerate().flat_map(|(at, operation)| {
            state.readings_of(at).into_iter().map(|reading| {
                let figure = |value: Option<f64>| value.map(|value| value.to_string()).unwrap_or_default();
                let unlikely = reading.unlikely.then(|| "unlikely, kept on purpose".to_owned());
                let remarks: Vec<String> = reading.fault.into_iter().chain(unlikely).collect();
                let counts = !reading.superseded && reading.voided.is_none();
                [
                    reading.seq.to_string(),
                    reading.at.format(&Rfc3339).unwrap_or_default(),
                    reading.by,
                    operation.id.clone(),
                    reading.site,
                    reading.place,
                    reading.read.to_string(),
                    reading.value.to_string(),
                    reading.dimension.base().symbol.to_owned(),
                    figure(reading.master),
                    figure(reading.temperature_c),
                    reading.entered.unwrap_or_default(),
                    word(&reading.method),
                    reading.instrument,
                    if counts { "yes" } else { "" }.to_owned(),
                    remarks.join("; "),
                    reading.voided.unwrap_or_default(),
                ]
            })
        });
        write(&header, rows)
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
        out.write_record(row)?;
    }
    let bytes = out.into_inner().map_err(|error| csv::Error::from(error.into_error()))?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

/// The word an enum is written with in JSON.
fn word(value: &impl Serialize) -> String {
    serde_json::to_value(value).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default()
}

fn joint_sheet(state: &State, at: usize) -> Option<JointSheet> {
    let planned = &state.plan.operations[at];
    let Work::Tighten { joint } = &planned.work else { return None };
    let joint = state.plan.joint(joint)?;
    let pulls = state.pulls(at);
    let stages: Vec<SheetStage> = joint
        .stages
        .iter()
        .enumerate()
        .filter_map(|(stage, planned)| {
            let band = planned.band()?;
            Some(SheetStage {
                stage,
                name: planned.name().to_owned(),
                angle: planned.is_angle(),
                target: band.target,
                low: band.low,
                high: band.high,
                forecast: state.plan.forecast(joint, stage),
            })
        })
        .collect();
    let counting = |fastener: &str, stage: usize| {
        let mut of_it = pulls.iter().filter(|p| p.fastener == fastener && p.stage == stage);
        of_it.find(|p| p.voided.is_none() && !p.loosened).cloned()
    };
    let rows = joint.groups.iter().flat_map(|group| {
        let (stages, counting) = (&stages, &counting);
        group.positions.iter().enumerate().map(move |(number, position)| SheetRow {
            group: group.name.clone(),
            number: number + 1,
            fastener: position.id.clone(),
            pulls: stages.iter().map(|stage| counting(&position.id, stage.stage)).collect(),
        })
    });
    let tightening = &state.operations[at].tightening;
    let actions = tightening
        .actions
        .iter()
        .filter(|action| action.voided.is_none())
        .map(|action| format!("{}: {}", joint.stages[action.index].name(), action.stamp.by.name));
    let mut instruments: Vec<String> = Vec::new();
    for pull in &tightening.pulls {
        let kind = if pull.instrument.simulated { ", simulated" } else { "" };
        let line = format!("{} ({}{kind})", pull.instrument.name, pull.instrument.serial);
        if !instruments.contains(&line) {
            instruments.push(line);
        }
    }
    let loosenings = tightening.loosenings.iter().map(|l| {
        let replaced = if l.replaced { ", replaced" } else { "" };
        let voided = l.voided.as_ref().map(|v| format!("; voided: {}", v.reason)).unwrap_or_default();
        format!(
            "{} loosened{replaced} by {}: {}{voided}",
            tightening.fasteners[l.fastener], l.stamp.by.name, l.reason
        )
    });
    Some(JointSheet {
        rows: rows.collect(),
        actions: actions.collect(),
        notes: pulls.iter().rev().filter_map(note).chain(loosenings).collect(),
        instruments,
        stages,
    })
}

/// What has to be said about a pull, if anything.
fn note(pull: &PullView) -> Option<String> {
    let mut words = pull.remarks.clone();
    words.extend(pull.accepted.iter().map(|reason| format!("accepted: {reason}")));
    words.extend(pull.voided.iter().map(|reason| format!("voided: {reason}")));
    words.extend(pull.loosened.then(|| "loosened since".to_owned()));
    let unit = if pull.angle { "°" } else { " N·m" };
    (!words.is_empty()).then(|| {
        format!(
            "Entry {}, {}, {} {:.1}{unit}: {}",
            pull.seq,
            pull.fastener,
            pull.stage_name,
            pull.read,
            words.join("; ")
        )
    })
}

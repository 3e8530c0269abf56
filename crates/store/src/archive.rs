//! An engine as one file, and back (C-35): its entries to the letter, the plans they go by, their pictures, and a
//! manifest that holds them together. `docs/archive.md` says what is in it.
//!
//! What another shop did is not this one's. An engine that came in counts for lives of parts only: not for
//! friction, times, settings of wrenches and uses of instruments (`came_in`).
//!
//! An engine as one file (docs/archive.md) is read whole and checked against manifest, chain,
//! plans and pictures before one row of it is written.

use crate::chain::{Hash, link, root};
use crate::entry::parse;
use crate::people::note;
use crate::plans::put_foreign;
use crate::{Head, Store, StoreError, can_be_shown, media_of, plan_hash};
use rigore_assembly::{BuildState, Event, Fact, Person, PlanRef};
use rigore_mechanics::text;
use rigore_plan::Plan;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use std::collections::{BTreeMap, BTreeSet};
use std::io::{Cursor, Read, Write};
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

/// The version of what is written here.
const FORMAT: u32 = 1;
/// What the texts of an archive may come to, unpacked, bytes: entries, plans and the manifest. An entry of 500 bytes makes
/// that 60,000 entries. They are held several times over while they are read.
const MOST_TEXT: u64 = 32 << 20;
/// What its pictures may come to, bytes. They hardly pack, so that an archive holds little more than it carries.
const MOST_PICTURES: u64 = 128 << 20;
/// Files in an archive at most.
const FILES: usize = 20_000;
const MANIFEST: &str = "manifest.json";
const EVENTS: &str = "events.jsonl";

/// What holds an archive together.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Manifest {
    /// The version of the format.
    pub format: u32,
    /// The engine.
    pub build: Uuid,
    /// What it is called.
    pub name: String,
    /// How many entries it has.
    pub entries: u64,
    /// The hash of the last entry, in hexadecimal digits.
    pub last_hash: String,
    /// When it was written.
    #[serde(with = "time::serde::rfc3339")]
    pub written: OffsetDateTime,
    /// The last entry that the shop has signed, where it signs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub head: Option<Head>,
    /// What is wrong with its record, where that is broken: it is for looking at, and comes in nowhere.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub broken: Option<String>,
    /// The SHA-256 of every other file, by its name.
    pub files: BTreeMap<String, String>,
}

/// Why an archive does not come in.
#[derive(Debug, thiserror::Error)]
pub enum ArchiveError {
    /// It is none, or it is broken: what, and where.
    #[error("{0}")]
    Broken(String),
    /// Another engine, or another record of this one, is here already.
    #[error("{0}")]
    Here(String),
    /// The store does not answer.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl From<sqlx::Error> for ArchiveError {
    fn from(error: sqlx::Error) -> Self {
        Self::Store(error.into())
    }
}

fn broken(what: impl Into<String>) -> ArchiveError {
    ArchiveError::Broken(what.into())
}

/// What came in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ImportedEngine {
    /// The engine.
    pub build: Uuid,
    /// What it is called.
    pub name: String,
    /// How many entries it has.
    pub entries: u64,
    /// Whether it was here already, to the letter.
    pub was_here: bool,
    /// The public half of the key that a shop has signed it by, in hexadecimal digits; none where it is not signed.
    pub signed_by: Option<String>,
}

fn digest(bytes: &[u8]) -> String {
    hex::encode(Sha256::digest(bytes))
}

/// The plans that entries go by, in their order.
fn plans_of(events: &[Event]) -> Vec<&PlanRef> {
    let named = events.iter().filter_map(|event| match &event.fact {
        Fact::Begun(begun) => Some(&begun.plan),
        Fact::Moved(moved) => Some(&moved.plan),
        _ => None,
    });
    let mut seen = BTreeSet::new();
    named.filter(|plan| seen.insert(plan.hash.clone())).collect()
}

/// The hashes of the pictures that a text of an entry refers to.
fn pictures_in(body: &str) -> Vec<String> {
    fn walk(value: &serde_json::Value, found: &mut Vec<String>) {
        match value {
            serde_json::Value::Object(fields) => {
                let hash = fields.get("picture").and_then(|picture| picture.get("hash"));
                found.extend(hash.and_then(serde_json::Value::as_str).map(str::to_owned));
                fields.values().for_each(|value| walk(value, found));
            }
            serde_json::Value::Array(items) => items.iter().for_each(|value| walk(value, found)),
            _ => {}
        }
    }
    let mut found = Vec::new();
    if body.contains("\"picture\"")
        && let Ok(value) = serde_json::from_str(body)
    {
        walk(&value, &mut found);
    }
    found
}

impl Store {
    /// An engine as one file.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such build; [`StoreError::Broken`] where its record is broken.
    pub async fn archive(&self, build: Uuid, now: OffsetDateTime) -> Result<Vec<u8>, StoreError> {
        let name = self.read(build, |state| state.begun.name.clone()).await?;
        self.pack_engine(build, name, now, None).await
    }

    /// An engine whose record is broken as one file that says so: as it is stored, for whoever looks into it. Whatever of
    /// it cannot be read any more is left out.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] where there is no such build, or it is whole.
    pub async fn broken_archive(&self, build: Uuid, now: OffsetDateTime) -> Result<Vec<u8>, StoreError> {
        match self.read(build, |_| ()).await {
            Err(error @ (StoreError::Broken(_) | StoreError::ChangedFile(_) | StoreError::Unreadable(_))) => {
                self.pack_engine(build, format!("{build}"), now, Some(error.to_string())).await
            }
            Err(error) => Err(error),
            Ok(()) => Err(StoreError::NotThere(format!("broken record of build {build}: it is whole"))),
        }
    }

    async fn pack_engine(
        &self,
        build: Uuid,
        name: String,
        now: OffsetDateTime,
        broken: Option<String>,
    ) -> Result<Vec<u8>, StoreError> {
        let rows = sqlx::query!("SELECT body, hash FROM events WHERE build_id = $1 ORDER BY seq", build)
            .fetch_all(&self.pool)
            .await?;
        let Some(last) = rows.last() else { return Err(StoreError::NotThere(format!("build {build}"))) };
        let events = rows.iter().map(|row| parse(&row.body));
        let events: Vec<Event> = match &broken {
            None => events.collect::<Result<_, _>>()?,
            Some(_) => events.flatten().collect(),
        };
        let mut files: BTreeMap<String, Vec<u8>> = BTreeMap::new();
        let lines: String = rows.iter().flat_map(|row| [row.body.as_str(), "\n"]).collect();
        files.insert(EVENTS.to_owned(), lines.into_bytes());
        for plan in plans_of(&events) {
            let source = match self.plan_source(&plan.hash).await {
                Err(_) if broken.is_some() => continue,
                source => source?,
            };
            files.insert(format!("plans/{}.toml", plan.hash), source.into_bytes());
        }
        for hash in rows.iter().flat_map(|row| pictures_in(&row.body)).collect::<BTreeSet<_>>() {
            let picture = match self.picture(&hash).await {
                Err(_) if broken.is_some() => continue,
                picture => picture?,
            };
            files.insert(format!("pictures/{hash}"), picture.bytes);
        }
        let manifest = Manifest {
            format: FORMAT,
            build,
            name,
            entries: rows.len() as u64,
            last_hash: hex::encode(&last.hash),
            written: now,
            head: self.head(build),
            broken,
            files: files.iter().map(|(name, bytes)| (name.clone(), digest(bytes))).collect(),
        };
        let unwritten = |error: &dyn std::fmt::Display| StoreError::Unreadable(error.to_string());
        let text = serde_json::to_vec_pretty(&manifest).map_err(|error| unwritten(&error))?;
        files.insert(MANIFEST.to_owned(), text);
        let packed = tokio::task::spawn_blocking(move || pack(&files)).await;
        packed.map_err(|error| unwritten(&error))?.map_err(|error| unwritten(&error))
    }

    /// The hashes of the pictures that the record of a build refers to.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn pictures_of(&self, build: Uuid) -> Result<BTreeSet<String>, StoreError> {
        let texts = self.events_after(build, 0).await?;
        Ok(texts.iter().flat_map(|(_, body)| pictures_in(body)).collect())
    }

    /// Takes an engine in from an archive: all of it as it was, or nothing.
    ///
    /// # Errors
    /// [`ArchiveError::Broken`] with what is broken; [`ArchiveError::Here`] where another record of it is here.
    pub async fn take_in(&self, by: &Person, bytes: Vec<u8>) -> Result<ImportedEngine, ArchiveError> {
        let language = rigore_texts::language();
        let read = move || rigore_texts::with_language(language, || Archive::read(bytes));
        let read = tokio::task::spawn_blocking(read).await;
        let archive = read.map_err(|error| broken(error.to_string()))??;
        let Archive { manifest, bodies, plans, pictures, .. } = &archive;
        let mut transaction = self.pool.begin().await?;
        // Two that come in at once come in one after the other.
        sqlx::query("SELECT pg_advisory_xact_lock(hashtext($1))")
            .bind(manifest.build.to_string())
            .execute(&mut *transaction)
            .await?;
        let here = sqlx::query!(
            "SELECT seq, hash FROM events WHERE build_id = $1 ORDER BY seq DESC LIMIT 1",
            manifest.build
        );
        let came = ImportedEngine {
            build: manifest.build,
            name: manifest.name.clone(),
            entries: manifest.entries,
            was_here: false,
            signed_by: manifest.head.as_ref().map(|head| head.key.clone()),
        };
        if let Some(last) = here.fetch_optional(&mut *transaction).await? {
            if hex::encode(&last.hash) == manifest.last_hash {
                // It may have come in when the power went, before it was listed.
                transaction.rollback().await?;
                self.renew(manifest.build).await?;
                return Ok(ImportedEngine { was_here: true, ..came });
            }
            let message = text!(
                "store-has-arrived-already-with-entries-where",
                manifest = manifest.name,
                seq = last.seq,
                entries = manifest.entries
            );
            return Err(ArchiveError::Here(message));
        }
        // The last one first: what came before it stands before it.
        let why = format!("came in with {}", manifest.name);
        for hash in archive.went_by.iter().rev() {
            if let Some((plan, source)) = plans.get(hash) {
                put_foreign(&mut transaction, plan, source, &why).await?;
            }
        }
        for (hash, bytes) in pictures {
            let media = media_of(bytes).ok_or_else(|| broken(text!("store-pictures-no-picture", hash)))?;
            sqlx::query!(
                "INSERT INTO pictures (hash, media, bytes) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING",
                hash,
                media,
                bytes
            )
            .execute(&mut *transaction)
            .await?;
        }
        let (numbers, hashes) = archive.numbered();
        sqlx::query!(
            "INSERT INTO events (build_id, seq, body, hash)
             SELECT $1, seq, body, hash FROM unnest($2::bigint[], $3::text[], $4::bytea[]) AS line (seq, body, hash)",
            manifest.build,
            &numbers,
            bodies,
            &hashes
        )
        .execute(&mut *transaction)
        .await?;
        sqlx::query!(
            "INSERT INTO came_in (build_id, entries, by_name) VALUES ($1, $2, $3)",
            manifest.build,
            manifest.entries.cast_signed(),
            by.name
        )
        .execute(&mut *transaction)
        .await?;
        let what = format!("imported {} with {} entries", manifest.name, manifest.entries);
        note(&mut transaction, by, &what).await?;
        transaction.commit().await?;
        self.renew(manifest.build).await?;
        Ok(came)
    }
}

fn pack(files: &BTreeMap<String, Vec<u8>>) -> zip::result::ZipResult<Vec<u8>> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let options = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    for (name, bytes) in files {
        zip.start_file(name.as_str(), options)?;
        zip.write_all(bytes)?;
    }
    Ok(zip.finish()?.into_inner())
}

/// An archive that holds together.
struct Archive {
    manifest: Manifest,
    bodies: Vec<String>,
    plans: BTreeMap<String, (Arc<Plan>, String)>,
    /// The hashes of the plans that the engine went by, in their order.
    went_by: Vec<String>,
    pictures: BTreeMap<String, Vec<u8>>,
}

impl Archive {
    fn read(bytes: Vec<u8>) -> Result<Self, ArchiveError> {
        let mut files = unpack(bytes)?;
        let manifest = files
            .remove(MANIFEST)
            .ok_or_else(|| broken(text!("store-file-not-in-archive", file = MANIFEST)))?;
        let format = serde_json::from_slice::<serde_json::Value>(&manifest).ok();
        let format = format.as_ref().and_then(|manifest| manifest.get("format")?.as_u64());
        if format.is_some_and(|format| format > u64::from(FORMAT)) {
            return Err(broken(text!("store-was-written-by-newer-rigore-than")));
        }
        let manifest: Manifest =
            serde_json::from_slice(&manifest).map_err(|error| broken(format!("{MANIFEST}: {error}")))?;
        if let Some(what) = &manifest.broken {
            return Err(broken(text!("store-record-was-broken-where-was-written", what)));
        }
        for (name, hash) in &manifest.files {
            let bytes = files.get(name).ok_or_else(|| broken(text!("store-missing", name)))?;
            if digest(bytes) != *hash {
                return Err(broken(text!("store-file-was-changed", name)));
            }
        }
        if let Some(more) = files.keys().find(|name| !manifest.files.contains_key(*name)) {
            return Err(broken(text!("store-not-manifest", more)));
        }
        let text = |name: &str, bytes: Vec<u8>| {
            String::from_utf8(bytes).map_err(|_| broken(text!("store-no-utf-8-text", name)))
        };
        let events =
            files.remove(EVENTS).ok_or_else(|| broken(text!("store-file-not-in-archive", file = EVENTS)))?;
        let bodies: Vec<String> = text(EVENTS, events)?.lines().map(str::to_owned).collect();
        let (mut plans, mut pictures) = (BTreeMap::new(), BTreeMap::new());
        for (name, bytes) in files {
            if let Some(hash) = name.strip_prefix("plans/").and_then(|name| name.strip_suffix(".toml")) {
                let source = text(&name, bytes)?;
                let plan = Plan::read(&name, &source).map_err(|faults| {
                    let fault = faults.first().map_or_else(String::new, ToString::to_string);
                    broken(text!("store-file-is-no-plan", name, fault))
                })?;
                if plan_hash(&source) != hash {
                    return Err(broken(text!("store-has-another-text-than-name-says", name)));
                }
                plans.insert(hash.to_owned(), (Arc::new(plan), source));
            } else if let Some(hash) = name.strip_prefix("pictures/") {
                if !can_be_shown(&bytes) {
                    return Err(broken(text!("store-too-large-shown-or-no-picture", name)));
                }
                if digest(&bytes) != hash {
                    return Err(broken(text!("store-another-picture-than-name-says", name)));
                }
                pictures.insert(hash.to_owned(), bytes);
            } else {
                return Err(broken(text!("store-nothing-archive-has", name)));
            }
        }
        let mut archive = Self { manifest, bodies, plans, went_by: Vec::new(), pictures };
        let events = archive.check()?;
        archive.went_by = plans_of(&events).into_iter().map(|plan| plan.hash.clone()).collect();
        Ok(archive)
    }

    /// Its entries, where they are those of the engine, in their order, whole, and can be gone on from.
    fn check(&self) -> Result<Vec<Event>, ArchiveError> {
        let (mut hash, mut events) = (root(self.manifest.build), Vec::with_capacity(self.bodies.len()));
        for (seq, body) in (1_u64..).zip(&self.bodies) {
            hash = link(&hash, body);
            let event =
                parse(body).map_err(|error| broken(text!("store-entry", seq, error = error.to_string())))?;
            if event.seq != seq {
                return Err(broken(text!("store-entry-carries-another-number", seq, seq2 = event.seq)));
            }
            if let Some(missing) = pictures_in(body).iter().find(|hash| !self.pictures.contains_key(*hash)) {
                return Err(broken(text!("store-entry-refers-picture-which-not", seq, missing)));
            }
            events.push(event);
        }
        if events.is_empty() || self.bodies.len() as u64 != self.manifest.entries {
            return Err(broken(text!(
                "store-entries-should",
                count = self.bodies.len(),
                entries = self.manifest.entries
            )));
        }
        if hex::encode(hash) != self.manifest.last_hash {
            return Err(broken(text!("store-entries-do-not-come-hash-last")));
        }
        self.check_head()?;
        let find = |plan: &PlanRef| self.plans.get(&plan.hash).map(|(plan, _)| Arc::clone(plan));
        if let Some(missing) = plans_of(&events).into_iter().find(|plan| find(plan).is_none()) {
            return Err(broken(text!("store-plan-goes-by-not", missing = missing.name)));
        }
        BuildState::fold(find, &events)
            .map_err(|error| broken(text!("store-entries", error = error.to_string())))?;
        Ok(events)
    }

    /// Whether its entries are those that the shop has signed, where it is signed.
    fn check_head(&self) -> Result<(), ArchiveError> {
        let Some(head) = &self.manifest.head else { return Ok(()) };
        let (_, hashes) = self.numbered();
        let at = usize::try_from(head.seq.saturating_sub(1)).ok();
        let signed = at.and_then(|at| hashes.get(at)).is_some_and(|hash| hex::encode(hash) == head.hash);
        if head.build == self.manifest.build && head.is_genuine() && signed {
            return Ok(());
        }
        Err(broken(text!("store-entries-not-those-shop-with-key", key = head.key)))
    }

    /// The numbers and hashes of its entries.
    fn numbered(&self) -> (Vec<i64>, Vec<Vec<u8>>) {
        let mut hash: Hash = root(self.manifest.build);
        let hashes = self.bodies.iter().map(|body| {
            hash = link(&hash, body);
            hash.to_vec()
        });
        let hashes: Vec<Vec<u8>> = hashes.collect();
        ((1_i64..).take(self.bodies.len()).collect(), hashes)
    }
}

/// Reads an archive as it is read when it comes in, and keeps nothing of it.
///
/// # Errors
/// [`ArchiveError::Broken`] with what is broken.
pub fn read_archive(bytes: Vec<u8>) -> Result<Manifest, ArchiveError> {
    Archive::read(bytes).map(|archive| archive.manifest)
}

/// What holds an archive together, without looking into the rest of it; none where the bytes are no archive.
pub fn manifest_of(bytes: &[u8]) -> Option<Manifest> {
    let mut zip = ZipArchive::new(Cursor::new(bytes)).ok()?;
    let mut text = Vec::new();
    zip.by_name(MANIFEST).ok()?.take(MOST_TEXT).read_to_end(&mut text).ok()?;
    serde_json::from_slice(&text).ok()
}

fn unpack(bytes: Vec<u8>) -> Result<BTreeMap<String, Vec<u8>>, ArchiveError> {
    let none = |error: zip::result::ZipError| {
        broken(text!("store-this-no-archive-or-only-part", error = error.to_string()))
    };
    let mut zip = ZipArchive::new(Cursor::new(bytes)).map_err(none)?;
    if zip.len() > FILES {
        return Err(broken(text!("store-files-may", count = zip.len(), files = FILES)));
    }
    let (mut files, mut text, mut pictures) = (BTreeMap::new(), MOST_TEXT, MOST_PICTURES);
    for at in 0..zip.len() {
        let file = zip.by_index(at).map_err(none)?;
        let (name, mut bytes) = (file.name().map_err(none)?.into_owned(), Vec::new());
        let (left, most) = if name.starts_with("pictures/") {
            (&mut pictures, MOST_PICTURES)
        } else {
            (&mut text, MOST_TEXT)
        };
        let read = file.take(*left + 1).read_to_end(&mut bytes);
        read.map_err(|error| broken(text!("store-cannot-read", name, error = error.to_string())))?;
        *left = left.checked_sub(bytes.len() as u64).ok_or_else(|| {
            let kind = if name.starts_with("pictures/") { "pictures" } else { "texts" };
            broken(text!("store-come-more-than-mb-unpacked", kind, most = most >> 20))
        })?;
        if files.insert(name.clone(), bytes).is_some() {
            return Err(broken(text!("store-twice", name)));
        }
    }
    Ok(files)
}

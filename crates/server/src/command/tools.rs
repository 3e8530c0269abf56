//! What is done at the console, once.

use super::output::{progress, say};
use crate::secrets;
use anyhow::{Context, Result};
use rigore_assembly::{Person, Role};
use rigore_mechanics::text;
use rigore_plan::Plan;
use rigore_plan::calc;
use rigore_store::{Member, MemberChange, PrintedEntry, Store, StoreError, backup, private_file, upgrade};
use std::fs;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

/// Writes an engine to a file; one whose record is broken as it is, where that is asked for.
pub async fn export(store: &Store, build: uuid::Uuid, file: &Path, broken: bool) -> Result<()> {
    let now = time::OffsetDateTime::now_utc();
    let archive =
        if broken { store.broken_archive(build, now).await } else { store.archive(build, now).await };
    let archive = archive?;
    private_file::write(file, &archive).with_context(|| file.display().to_string())?;
    say(text!("command-bytes", count = archive.len()));
    Ok(())
}

/// Takes an engine in from a file.
pub async fn import(store: &Store, file: &Path) -> Result<()> {
    let archive = fs::read(file).with_context(|| file.display().to_string())?;
    let by = Person { id: "console".into(), name: "The console".into(), role: Role::Lead };
    let came = store.take_in(&by, archive).await?;
    let how = if came.was_here { text!("command-was-here-already") } else { text!("command-came") };
    say(text!(
        "command-with-entries",
        came = came.name,
        how,
        entries = came.entries,
        build = came.build.to_string()
    ));
    Ok(())
}

/// Writes all of a shop to a file; in a folder it is named by its time, proven, and the oldest ones give way to it.
pub async fn backup(url: &str, file: Option<PathBuf>, folder: Option<PathBuf>, keep: usize) -> Result<()> {
    let dated =
        || folder.as_deref().map(|folder| backup::dated_file(folder, time::OffsetDateTime::now_utc()));
    let file = file.or_else(dated).context("a file or a folder is needed")?;
    if let Some(folder) = &folder {
        fs::create_dir_all(folder).with_context(|| folder.display().to_string())?;
    }
    progress(text!("command-writing", file = file.display().to_string()));
    backup::backup(url, &file)?;
    say(text!(
        "command-bytes-in-file",
        count = fs::metadata(&file)?.len(),
        file = file.display().to_string()
    ));
    if let Some(folder) = &folder {
        progress(text!("command-restoring-beside-shop-verifying-every-record"));
        let proof = backup::prove(url, &file).await?;
        let gone = backup::keep_last(folder, keep)?;
        say(text!(
            "command-proven-engines-entries-older-ones-removed",
            builds = proof.builds,
            entries = proof.entries,
            gone
        ));
    }
    Ok(())
}

/// Moves a private PostgreSQL to the newest version.
pub async fn upgrade_database(data: &Path, anew: bool) -> Result<()> {
    progress(text!("command-copying-everything-into-new-version-verifying"));
    let upgraded = upgrade::upgrade(&std::path::absolute(data)?, anew).await?;
    let (from, to) = &upgraded.versions;
    let backup::BackupProof { builds, entries } = upgraded.proof;
    say(text!("command-from-postgresql-engines-entries-verified", from, to, builds, entries));
    say(text!("command-as-they-were-before", before = upgraded.before.display().to_string()));
    say(text!("command-what-they-went-by", dump = upgraded.dump.display().to_string()));
    Ok(())
}

/// Gives somebody the password that stands in a line of standard input.
pub async fn password(store: &Store, named: &str) -> Result<ExitCode> {
    let members = store.members().await?;
    let is_it = |of: &&Member| of.person.id == named || of.person.name == named;
    let member = members.iter().find(is_it).with_context(|| text!("command-nobody-here-called", named))?;
    eprintln!("{}", text!("command-password-from-now-on", name = member.person.name));
    let mut line = String::new();
    std::io::stdin().read_line(&mut line)?;
    let hashed = secrets::password("password", line.trim_end_matches(['\r', '\n'])).await;
    let hashed = hashed.map_err(|problem| anyhow::anyhow!(problem.detail))?;
    let change = MemberChange { password: Some(hashed), active: Some(true), ..MemberChange::default() };
    store.change_member(&member.person, &member.person.id, &change).await?;
    say(text!("command-signs-by-now", person = member.person.name));
    Ok(ExitCode::SUCCESS)
}

/// Runs a calculation on standard input.
pub fn calculate(name: &str) -> Result<ExitCode> {
    let mut text = String::new();
    std::io::stdin().read_to_string(&mut text)?;
    match calc::run(name, &text) {
        Ok(output) => say(output),
        Err(error) => {
            eprintln!("{error}");
            return Ok(ExitCode::from(2));
        }
    }
    Ok(ExitCode::SUCCESS)
}

/// Judges plans.
pub fn check(files: &[PathBuf]) -> Result<ExitCode> {
    let mut code = ExitCode::SUCCESS;
    for file in files {
        let name = file.display().to_string();
        let source = fs::read_to_string(file).with_context(|| name.clone())?;
        let faults = match Plan::judge(&name, &source) {
            Ok((plan, warnings)) => {
                say(text!(
                    "command-can-used-operations",
                    name,
                    name2 = plan.name,
                    count = plan.operations.len()
                ));
                warnings
            }
            Err(faults) => {
                code = ExitCode::from(2);
                faults
            }
        };
        for fault in faults {
            say(fault);
        }
    }
    Ok(code)
}

/// Walks every chain.
pub async fn verify(store: &Store) -> Result<ExitCode> {
    let (builds, entries, broken) = store.verify().await?;
    say(text!("command-builds-entries-walked-broken", builds, entries, count = broken.len()));
    for broken in &broken {
        say(broken);
    }
    let files = store.verify_files().await?;
    for file in &files {
        say(file);
    }
    Ok(if broken.is_empty() && files.is_empty() { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

/// Tells whether what a sheet or an archive was printed or written from is in this shop, and as of when: by the hash of its
/// last entry, in a file of either kind or as it is printed.
pub async fn verify_sheet(store: &Store, sheet: &Path) -> Result<ExitCode> {
    let hash = printed_hash(sheet)?;
    let entry = match store.printed_entry(&hash, None).await {
        Err(StoreError::NotThere(what)) => {
            say(text!("command-there-no-this-shop-has-not", what));
            return Ok(ExitCode::FAILURE);
        }
        found => found?,
    };
    let PrintedEntry { build, seq, at, entries } = entry;
    let name = store.read(build, |state| state.begun.name.clone()).await?;
    let after = entries - seq;
    say(text!(
        "command-entry-recorded-entries-came-after",
        name,
        build = build.to_string(),
        seq,
        entries,
        at = at.to_string(),
        after
    ));
    Ok(ExitCode::SUCCESS)
}

/// The hash of the last entry in a sheet (JSON), an archive, or the text itself.
fn printed_hash(sheet: &Path) -> Result<String> {
    let is_hash = |text: &str| text.len() == 64 && text.bytes().all(|c| c.is_ascii_hexdigit());
    let text = sheet.to_string_lossy();
    if is_hash(&text) {
        return Ok(text.into_owned());
    }
    let bytes = fs::read(sheet).with_context(|| text.into_owned())?;
    if let Some(manifest) = rigore_store::manifest_of(&bytes) {
        return Ok(manifest.last_hash);
    }
    let json: serde_json::Value =
        serde_json::from_slice(&bytes).context("neither a sheet (JSON) nor an archive")?;
    let hash = json["last_hash"].as_str().filter(|hash| is_hash(hash));
    hash.map(str::to_owned).context("it has no `last_hash`")
}

/// Makes every list again.
pub async fn rebuild(store: &Store) -> Result<ExitCode> {
    let (made, failed) = store.rebuild().await?;
    say(text!("command-builds-listed-again-not", made, count = failed.len()));
    for failed in &failed {
        say(failed);
    }
    Ok(if failed.is_empty() { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

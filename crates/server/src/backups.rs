//! Backups that happen by themselves: every night at a time of the shop's clock, proven by restoring them and verifying
//! every record. What was made, and what was not, is kept in the database and shown to leads and to those who watch.

use crate::App;
use crate::backup_plan::BackupPlan;
use crate::zone::ShopZone;
use rigore_mechanics::text;
use rigore_store::{BackupRow, StoreError, backup, primary_url};
use std::path::{Path, PathBuf};
use std::time::Duration;
use time::{OffsetDateTime, PrimitiveDateTime, Time};

/// How often it is looked whether one is due.
const LOOK: Duration = Duration::from_secs(30);
/// After one that failed, when the next is tried.
const AGAIN: time::Duration = time::Duration::hours(1);
/// A proven backup that is older than this is missed: a night and the morning after it.
const MISSED: time::Duration = time::Duration::hours(36);

/// Whether a backup is due now: the last time for one has gone by since the last that was made, and one that failed is
/// tried again after a while.
fn is_due(now: PrimitiveDateTime, time: Time, last: Option<(PrimitiveDateTime, bool)>) -> bool {
    let today = now.replace_time(time);
    let latest = if today <= now { today } else { today - time::Duration::days(1) };
    match last {
        None => true,
        Some((at, true)) => at < latest,
        Some((at, false)) => now - at >= AGAIN,
    }
}

/// Makes backups until the server ends.
pub async fn make_backups(app: App, plan: BackupPlan) {
    let mut ending = app.ending.subscribe();
    loop {
        if let Err(error) = make_due(&app, &plan).await {
            tracing::warn!(%error, "whether a backup is due is looked for again in a moment");
        }
        tokio::select! {
            () = tokio::time::sleep(LOOK) => {}
            _ = ending.changed() => return,
        }
    }
}

/// Whether one is due by the shop's clock.
async fn is_backup_due(app: &App, zone: &ShopZone, plan: &BackupPlan) -> Result<bool, StoreError> {
    let (last, _) = app.store.backups().await?;
    let last = last.map(|row| (zone.shows(row.at), row.failed.is_none()));
    Ok(is_due(zone.shows(OffsetDateTime::now_utc()), plan.time, last))
}

async fn make_due(app: &App, plan: &BackupPlan) -> Result<(), StoreError> {
    let zone = ShopZone::of(app.store.shop().await?.as_ref().map(|shop| shop.zone.as_str()));
    // An empty shop has nothing to keep.
    if app.store.members().await?.is_empty() || !is_backup_due(app, &zone, plan).await? {
        return Ok(());
    }
    let Some(_turn) = app.store.turn("backup").await? else { return Ok(()) };
    // Another server may have made it a moment ago.
    if !is_backup_due(app, &zone, plan).await? {
        return Ok(());
    }
    let at = OffsetDateTime::now_utc();
    let file = backup::dated_file(&plan.folder, at);
    let name = file.display().to_string();
    let row = match make(plan.clone(), file).await {
        Ok((bytes, entries)) => {
            tracing::info!(file = name, bytes, entries, "a backup is made and proven");
            BackupRow { at, file: name, bytes, entries, failed: None }
        }
        Err(error) => {
            tracing::error!(file = name, %error, "the backup failed");
            BackupRow { at, file: name, bytes: 0, entries: 0, failed: Some(error.to_string()) }
        }
    };
    app.store.note_backup(&row).await
}

/// Makes a backup and proves it; gives its bytes and entries.
async fn make(plan: BackupPlan, file: PathBuf) -> std::io::Result<(i64, i64)> {
    let runtime = tokio::runtime::Handle::current();
    let made = tokio::task::spawn_blocking(move || {
        std::fs::create_dir_all(&plan.folder)?;
        let url = runtime.block_on(primary_url(&plan.url)).map_err(std::io::Error::other)?;
        backup::backup(&url, &file)?;
        let bytes = std::fs::metadata(&file)?.len();
        let proof = runtime.block_on(backup::prove(&url, &file))?;
        // Only one that is proven takes the place of an older one.
        backup::keep_last(&plan.folder, plan.keep)?;
        Ok::<_, std::io::Error>((bytes, proof))
    });
    let (bytes, proof) = made.await.map_err(std::io::Error::other)??;
    Ok((bytes.cast_signed(), proof.entries.cast_signed()))
}

/// What is wrong with the backups of a shop, in words; none where the last one is proven and young enough, or the shop was
/// founded only now.
pub fn fault(
    now: OffsetDateTime,
    founded: OffsetDateTime,
    last: Option<&BackupRow>,
    proven: Option<&BackupRow>,
    folder: Option<&Path>,
) -> Option<String> {
    let since = proven.map_or(founded, |row| row.at);
    if folder.is_none() {
        return (now - founded > MISSED).then(|| text!("server-no-backups-made-this-shop-rigore"));
    }
    let failed = last.and_then(|row| row.failed.as_ref());
    if let Some(why) = failed {
        return Some(text!("server-last-backup-failed", why));
    }
    (now - since > MISSED).then(|| match proven {
        Some(row) => text!("server-last-proven-backup", date = row.at.date().to_string()),
        None => text!("server-no-backup-this-shop-was-made"),
    })
}

#[cfg(test)]
mod tests {
    use super::{fault, is_due};
    use rigore_store::BackupRow;
    use std::path::Path;
    use time::macros::{datetime, time};

    #[test]
    fn a_backup_is_due_once_a_night_and_soon_again_where_it_failed() {
        let now = datetime!(2026-11-30 02:31);
        for (last, due) in [
            (None, true),
            (Some((datetime!(2026-11-29 02:30), true)), true),
            (Some((datetime!(2026-11-30 02:30), true)), false),
            // One that was made late last night is the one of last night.
            (Some((datetime!(2026-11-29 23:00), true)), true),
            (Some((datetime!(2026-11-30 02:00), false)), false),
            (Some((datetime!(2026-11-30 01:30), false)), true),
        ] {
            assert_eq!(is_due(now, time!(02:30), last), due, "{last:?}");
        }
        // Before the time of today, that of yesterday counts: a computer that slept makes it when it wakes.
        let morning = datetime!(2026-11-30 01:00);
        assert!(!is_due(morning, time!(02:30), Some((datetime!(2026-11-29 02:30), true))));
        assert!(is_due(morning, time!(02:30), Some((datetime!(2026-11-28 09:00), true))));
    }

    #[test]
    fn a_missed_and_a_failed_backup_are_told() {
        let founded = datetime!(2026-11-01 08:00 UTC);
        let row = |at, failed: Option<&str>| BackupRow {
            at,
            file: "f".into(),
            bytes: 1,
            entries: 1,
            failed: failed.map(str::to_owned),
        };
        let folder = Some(Path::new("/backups"));
        let now = datetime!(2026-11-30 08:00 UTC);
        let (young, old) =
            (row(datetime!(2026-11-30 02:30 UTC), None), row(datetime!(2026-11-27 02:30 UTC), None));
        let failed = row(datetime!(2026-11-30 02:30 UTC), Some("no room"));
        let told = |last, proven, folder| fault(now, founded, last, proven, folder);
        assert_eq!(told(Some(&young), Some(&young), folder), None);
        assert!(told(Some(&old), Some(&old), folder).is_some_and(|says| says.contains("2026-11-27")));
        assert!(told(Some(&failed), Some(&old), folder).is_some_and(|says| says.contains("no room")));
        assert!(told(None, None, folder).is_some() && told(None, None, None).is_some());
        assert_eq!(
            fault(now, now - time::Duration::hours(2), None, None, folder),
            None,
            "it was founded today"
        );
    }
}

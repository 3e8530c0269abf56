//! What is written beside the record with each entry and can be made again from it: how an engine stands for the day,
//! lives of parts, what bolts have shown of friction.

use crate::StoreError;
use rigore_assembly::{BuildOutlook, OperationDuration, PieceLifeUpdate, PlaceFriction};
use rigore_mechanics::message::serialize_by_id;
use sqlx::PgConnection;
use uuid::Uuid;

/// Records of a step that its usual time is taken of: the last ones.
const RECORDS: i64 = 40;

/// Writes what an engine says for the day, and how long operations took that were signed or opened again.
pub(crate) async fn keep_outlook(
    connection: &mut PgConnection,
    build: Uuid,
    plan: &str,
    (outlook, took): &(BuildOutlook, Vec<OperationDuration>),
) -> Result<(), StoreError> {
    sqlx::query!(
        "INSERT INTO outlooks (build_id, body) VALUES ($1, $2) ON CONFLICT (build_id) DO UPDATE SET body = $2",
        build,
        serialize_by_id(|| serde_json::to_value(outlook)).map_err(StoreError::unreadable)?
    )
    .execute(&mut *connection)
    .await?;
    // What all engines share is written by one at a time, whichever server it is.
    if !took.is_empty() {
        sqlx::query("SELECT pg_advisory_xact_lock(hashtext('usual times'))")
            .execute(&mut *connection)
            .await?;
    }
    for of in took {
        // Its row goes where it is signed no more, or went by another plan.
        let gone = sqlx::query_scalar!(
            "DELETE FROM times WHERE build_id = $1 AND operation = $2 RETURNING plan",
            build,
            of.operation
        );
        let mut plans = gone.fetch_all(&mut *connection).await?;
        if let Some((minutes, at)) = of.minutes {
            sqlx::query!(
                "INSERT INTO times (build_id, operation, plan, step, minutes, at) SELECT $1, $2, $3, $4, $5, $6
                 WHERE NOT EXISTS (SELECT 1 FROM came_in WHERE build_id = $1)",
                build,
                of.operation,
                plan,
                of.step,
                minutes,
                at
            )
            .execute(&mut *connection)
            .await?;
            plans.push(plan.to_owned());
        }
        plans.dedup();
        for plan in plans {
            keep_usual(connection, &plan, &of.step).await?;
        }
    }
    Ok(())
}

/// What the times of a step come to.
async fn keep_usual(connection: &mut PgConnection, plan: &str, step: &str) -> Result<(), StoreError> {
    sqlx::query!(
        "INSERT INTO usual_times (plan, step, records, low, median, high)
         SELECT $1, $2, count(*)::int, coalesce(percentile_cont(0.25) WITHIN GROUP (ORDER BY minutes), 0),
             coalesce(percentile_cont(0.5) WITHIN GROUP (ORDER BY minutes), 0),
             coalesce(percentile_cont(0.75) WITHIN GROUP (ORDER BY minutes), 0)
         FROM (SELECT minutes FROM times WHERE plan = $1 AND step = $2 ORDER BY at DESC LIMIT $3) AS last
         ON CONFLICT (plan, step) DO UPDATE SET records = excluded.records, low = excluded.low,
             median = excluded.median, high = excluded.high",
        plan,
        step,
        RECORDS
    )
    .execute(connection)
    .await?;
    Ok(())
}

/// Writes what parts went through in an engine, in place of what was known of them.
pub(crate) async fn keep_lives(
    connection: &mut PgConnection,
    build: Uuid,
    lives: &[PieceLifeUpdate],
) -> Result<(), StoreError> {
    let number = |piece: usize| i32::try_from(piece).unwrap_or(i32::MAX);
    for lived in lives {
        let Some(life) = &lived.life else {
            sqlx::query!(
                "DELETE FROM lives WHERE build_id = $1 AND slot = $2 AND piece = $3",
                build,
                lived.slot,
                number(lived.piece)
            )
            .execute(&mut *connection)
            .await?;
            continue;
        };
        sqlx::query!(
            "INSERT INTO lives (build_id, slot, piece, serial, kind, body, at) VALUES ($1, $2, $3, $4, $5, $6, $7)
             ON CONFLICT (build_id, slot, piece) DO UPDATE SET serial = excluded.serial, kind = excluded.kind,
                 body = excluded.body, at = excluded.at",
            build,
            lived.slot,
            number(lived.piece),
            known_as(&life.serial),
            life.kind,
            serialize_by_id(|| serde_json::to_value(life)).map_err(StoreError::unreadable)?,
            life.at
        )
        .execute(&mut *connection)
        .await?;
    }
    Ok(())
}

/// Writes what the bolts of some places have shown, in place of what was known of them.
pub(crate) async fn keep_shown(
    connection: &mut PgConnection,
    build: Uuid,
    places: &[PlaceFriction],
) -> Result<(), StoreError> {
    if places.is_empty() || came_in(connection, build).await? > 0 {
        return Ok(());
    }
    let number = |number: usize| i32::try_from(number).unwrap_or(i32::MAX);
    for place in places {
        sqlx::query!(
            "DELETE FROM nut_factors WHERE build_id = $1 AND joint = $2 AND round = $3 AND fastener = $4",
            build,
            place.joint,
            number(place.round),
            place.fastener
        )
        .execute(&mut *connection)
        .await?;
        for bolt in &place.bolts {
            sqlx::query!(
                "INSERT INTO nut_factor_groups (kind, thread, bearing, batch) VALUES ($1, $2, $3, $4)
                 ON CONFLICT DO NOTHING",
                bolt.kind,
                bolt.thread,
                bolt.bearing,
                bolt.batch
            )
            .execute(&mut *connection)
            .await?;
            sqlx::query!(
                "INSERT INTO nut_factors (build_id, joint, round, fastener, bolt, group_id, k, pulls, torque_nm,
                     stretch_mm, at)
                 SELECT $1, $2, $3, $4, $5, groups.id, $10, $11, $12, $13, $14 FROM nut_factor_groups AS groups
                 WHERE kind = $6 AND thread = $7 AND bearing = $8 AND batch = $9",
                build,
                place.joint,
                number(place.round),
                place.fastener,
                number(bolt.bolt),
                bolt.kind,
                bolt.thread,
                bolt.bearing,
                bolt.batch,
                bolt.k,
                number(bolt.pulls),
                bolt.torque_nm,
                bolt.stretch_mm,
                bolt.at
            )
            .execute(&mut *connection)
            .await?;
        }
    }
    Ok(())
}

/// A serial as it is looked for.
pub(crate) fn known_as(serial: &str) -> String {
    serial.trim().to_lowercase()
}

/// How many entries of an engine came in from another shop; none where it is of this one.
pub(crate) async fn came_in(connection: &mut sqlx::PgConnection, build: Uuid) -> Result<u64, StoreError> {
    let entries = sqlx::query_scalar!("SELECT entries FROM came_in WHERE build_id = $1", build);
    Ok(entries.fetch_optional(connection).await?.unwrap_or(0).cast_unsigned())
}

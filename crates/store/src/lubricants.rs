//! Lubricants of the shop in their versions, what it has decided about them, and the friction that its bolts
//! have shown.

use crate::{Store, StoreError};
use rigore_assembly::{BoltFriction, LubricantPolicy, Person};
use rigore_mechanics::friction::{Lubricant, MeasuredFriction, NutFactorSpread, shipped};
use time::OffsetDateTime;
use uuid::Uuid;

/// The key of what the shop does with torques for another lubricant.
const POLICY: &str = "lubricants";

/// One version of a lubricant of the shop.
#[derive(Debug, Clone, PartialEq)]
pub struct LubricantVersion {
    /// Its figures, with the number of the version.
    pub lubricant: Lubricant,
    /// Whether it is offered no more.
    pub retired: bool,
    /// Who made it.
    pub by: String,
    /// When.
    pub at: OffsetDateTime,
}

/// The friction of one kind of fastener on one lubricant, from one batch.
#[derive(Debug, Clone, PartialEq)]
pub struct BatchFactors {
    /// The batch; empty where it is not known.
    pub batch: String,
    /// When the last of its bolts was read.
    pub at: OffsetDateTime,
    /// What its bolts come to.
    pub spread: NutFactorSpread,
    /// Whether they were tried in the vice, and not on engines.
    pub in_vice: bool,
}

/// The friction of one kind of fastener on one lubricant.
#[derive(Debug, Clone, PartialEq)]
pub struct KindFactors {
    /// What the bolts of engines come to; where there are none, those that were tried in the vice.
    pub measured: MeasuredFriction,
    /// The same by batch, the one that was read last at the end.
    pub batches: Vec<BatchFactors>,
    /// Whether no bolt of an engine has shown it.
    pub only_in_vice: bool,
}

/// One bolt of the shop with what it has shown.
#[derive(Debug, Clone, PartialEq)]
pub struct NutFactorRow {
    /// The engine.
    pub build: Uuid,
    /// What it is called.
    pub engine: String,
    /// The joint's key.
    pub joint: String,
    /// The place.
    pub fastener: String,
    /// What it has shown.
    pub bolt: BoltFriction,
}

/// What was read of one kind of fastener on one lubricant.
struct Gathered {
    /// The fastener, and the lubricant on its thread and under its head.
    key: [String; 3],
    factors: Vec<f64>,
    /// What bolts in the vice have shown.
    in_vice: Vec<f64>,
    batches: Vec<BatchFactors>,
}

impl Gathered {
    fn fresh(key: [String; 3]) -> Self {
        Self { key, factors: Vec::new(), in_vice: Vec::new(), batches: Vec::new() }
    }

    fn come_to(self) -> Option<KindFactors> {
        let Self { key: [fastener, thread, bearing], mut factors, mut in_vice, batches } = self;
        let only_in_vice = factors.is_empty();
        let all = NutFactorSpread::of(if only_in_vice { &mut in_vice } else { &mut factors })?;
        Some(KindFactors {
            measured: MeasuredFriction { fastener, thread, bearing, all },
            batches,
            only_in_vice,
        })
    }
}

impl Store {
    /// The latest version of each lubricant of the shop, by name; retired ones too.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn lubricants(&self) -> Result<Vec<LubricantVersion>, StoreError> {
        let rows = sqlx::query!(
            "SELECT DISTINCT ON (id) body, retired, by_name, at FROM lubricants ORDER BY id, version DESC"
        )
        .fetch_all(&self.pool)
        .await?;
        let versions = rows.into_iter().map(|row| version(row.body, row.retired, row.by_name, row.at));
        let mut versions = versions.collect::<Result<Vec<_>, _>>()?;
        versions.sort_by_key(|version| version.lubricant.name.to_lowercase());
        Ok(versions)
    }

    /// Every version of one lubricant of the shop, the latest first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn lubricant_versions(&self, id: &str) -> Result<Vec<LubricantVersion>, StoreError> {
        let rows = sqlx::query!(
            "SELECT body, retired, by_name, at FROM lubricants WHERE id = $1 ORDER BY version DESC",
            id
        )
        .fetch_all(&self.pool)
        .await?;
        rows.into_iter().map(|row| version(row.body, row.retired, row.by_name, row.at)).collect()
    }

    /// What fasteners can be lubricated with: the generic kinds and the shop's own that it has not retired.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn lubricants_at_hand(&self) -> Result<Vec<Lubricant>, StoreError> {
        let own = self.lubricants().await?.into_iter().filter(|version| !version.retired);
        Ok(shipped().into_iter().chain(own.map(|version| version.lubricant)).collect())
    }

    /// Adds the next version of a lubricant; false where that version is there already.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn add_lubricant(&self, version: &LubricantVersion) -> Result<bool, StoreError> {
        let number = i32::try_from(version.lubricant.version).unwrap_or(i32::MAX);
        let added = sqlx::query!(
            "INSERT INTO lubricants (id, version, body, retired, by_name, at)
             SELECT $1, $2, $3, $4, $5, $6
             WHERE $2 = 1 + (SELECT coalesce(max(version), 0) FROM lubricants WHERE id = $1)
             ON CONFLICT DO NOTHING",
            version.lubricant.id,
            number,
            serde_json::to_value(&version.lubricant).map_err(StoreError::unreadable)?,
            version.retired,
            version.by,
            version.at
        )
        .execute(&self.pool)
        .await?;
        Ok(added.rows_affected() > 0)
    }

    /// What the shop does with torques where another lubricant is used.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn policy(&self) -> Result<LubricantPolicy, StoreError> {
        Ok(self.shop_choice(POLICY).await?.unwrap_or_default())
    }

    /// Decides what the shop does with torques where another lubricant is used.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn set_policy(
        &self,
        policy: LubricantPolicy,
        by: &Person,
        at: OffsetDateTime,
    ) -> Result<(), StoreError> {
        self.choose_for_shop(
            POLICY,
            &policy,
            by,
            at,
            "changed what applies to another lubricant than specified",
        )
        .await
    }

    /// The friction that the shop's bolts have shown, by fastener and lubricant: on engines, and in the vice.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn frictions(&self) -> Result<Vec<KindFactors>, StoreError> {
        let (mut kinds, tests) = tokio::try_join!(self.gathered(), self.friction_tests())?;
        for row in tests.into_iter().rev().filter(|row| row.voided.is_none()) {
            for shown in row.test.shown() {
                let key = [shown.fastener, shown.thread, shown.bearing];
                let known = kinds.iter().position(|kind| kind.key == key);
                let at = known.unwrap_or(kinds.len());
                if known.is_none() {
                    kinds.push(Gathered::fresh(key));
                }
                kinds[at].in_vice.push(shown.k);
                let spread = NutFactorSpread::of(&mut [shown.k]);
                let batch = |spread| BatchFactors { batch: shown.batch, at: row.at, spread, in_vice: true };
                kinds[at].batches.extend(spread.map(batch));
            }
        }
        kinds.sort_by(|a, b| a.key.cmp(&b.key));
        Ok(kinds.into_iter().filter_map(Gathered::come_to).collect())
    }

    /// What the bolts of engines have shown.
    async fn gathered(&self) -> Result<Vec<Gathered>, StoreError> {
        let rows = sqlx::query!(
            r#"SELECT kind, thread, bearing, batch, factors AS "factors!", at AS "at!"
             FROM nut_factor_groups AS groups CROSS JOIN LATERAL (
                 SELECT array_agg(k) AS factors, max(at) AS at FROM nut_factors WHERE group_id = groups.id
             ) AS shown
             WHERE factors IS NOT NULL ORDER BY kind, thread, bearing, at"#
        )
        .fetch_all(&self.pool)
        .await?;
        let mut kinds: Vec<Gathered> = Vec::new();
        for row in rows {
            let key = [row.kind, row.thread, row.bearing];
            if kinds.last().is_none_or(|last| last.key != key) {
                kinds.push(Gathered::fresh(key));
            }
            let Some(kind) = kinds.last_mut() else { continue };
            let mut factors = row.factors;
            kind.factors.extend_from_slice(&factors);
            let spread = NutFactorSpread::of(&mut factors);
            let batch = |spread| BatchFactors { batch: row.batch, at: row.at, spread, in_vice: false };
            kind.batches.extend(spread.map(batch));
        }
        Ok(kinds)
    }

    /// What the bolts of engines have shown, without the batches, as decisions take it: in a vice a bolt turns on
    /// another face than on its engine.
    pub(crate) async fn measured(&self) -> Result<Vec<MeasuredFriction>, StoreError> {
        let kinds = self.gathered().await?.into_iter().filter_map(Gathered::come_to);
        Ok(kinds.map(|kind| kind.measured).collect())
    }

    /// Every bolt that has shown its friction, the latest first.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn shown(&self) -> Result<Vec<NutFactorRow>, StoreError> {
        let rows = sqlx::query!(
            r#"SELECT shown.*, kind, thread, bearing, batch, builds.summary ->> 'name' AS "engine!"
             FROM nut_factors AS shown JOIN builds ON builds.id = shown.build_id
                 JOIN nut_factor_groups AS groups ON groups.id = shown.group_id
             ORDER BY shown.at DESC, joint, fastener, bolt"#
        )
        .fetch_all(&self.pool)
        .await?;
        let count = |number: i32| usize::try_from(number).unwrap_or_default();
        let shown = rows.into_iter().map(|row| NutFactorRow {
            build: row.build_id,
            engine: row.engine,
            joint: row.joint,
            fastener: row.fastener,
            bolt: BoltFriction {
                bolt: count(row.bolt),
                kind: row.kind,
                thread: row.thread,
                bearing: row.bearing,
                batch: row.batch,
                k: row.k,
                pulls: count(row.pulls),
                torque_nm: row.torque_nm,
                stretch_mm: row.stretch_mm,
                at: row.at,
            },
        });
        Ok(shown.collect())
    }
}

fn version(
    body: serde_json::Value,
    retired: bool,
    by: String,
    at: OffsetDateTime,
) -> Result<LubricantVersion, StoreError> {
    let lubricant: Lubricant = serde_json::from_value(body).map_err(StoreError::unreadable)?;
    Ok(LubricantVersion { lubricant, retired, by, at })
}

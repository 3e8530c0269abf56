//! Dry runs: a plan at a bench that records nothing.
//!
//! A dry run is an engine like any other to whoever looks at it or works on it, by the same commands and the same rules.
//! It is kept in memory alone, and forgotten when others need its room or the server ends. Its id is of version 8
//! (RFC 9562, for uses of one's own), which no engine of the record has.

use crate::chain::root;
use crate::store::{DryRun, OpenBuild, Store, is_dry_run};
use crate::{StoreError, record};
use rigore_assembly::{
    BuildProjection, BuildStart, BuildState, CommandContext, EVENT_FORMAT, Event, Person, begin,
};
use rigore_mechanics::text;
use rigore_plan::Plan;
use std::collections::BTreeMap;
use std::sync::Arc;
use time::OffsetDateTime;
use tokio::sync::Mutex;
use uuid::{Builder, Uuid};

impl Store {
    /// Begins a dry run of a plan; its id.
    ///
    /// # Errors
    /// [`StoreError::Refused`] where an engine could not be begun so.
    pub async fn begin_dry_run(
        &self,
        by: &Person,
        plan: Arc<Plan>,
        wanted: &BuildStart,
        draft: Uuid,
    ) -> Result<Uuid, StoreError> {
        let build = Builder::from_custom_bytes(Uuid::now_v7().into_bytes()).into_uuid();
        let context = CommandContext::new(by.clone(), record::to_microseconds(OffsetDateTime::now_utc()));
        let fact = begin(&plan, &context, wanted)?;
        let (at, by) = (context.at, context.by);
        let event = Event { v: EVENT_FORMAT, seq: 1, at, by, command: build, request: None, fact };
        let state =
            BuildState::fold(|_| Some(Arc::clone(&plan)), [&event]).map_err(StoreError::unreadable)?;
        let texts = vec![record::written(&event)?];
        let dry = DryRun { draft, texts, settings: BTreeMap::new() };
        let opened = OpenBuild { kept: Some(BuildProjection::new(state)), hash: root(build), dry: Some(dry) };
        self.dry_runs.lock().await.put(build, Arc::new(Mutex::new(opened)));
        Ok(build)
    }

    /// The draft whose plan a dry run tries.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such dry run, or none any more.
    pub async fn draft_of_dry_run(&self, build: Uuid) -> Result<Uuid, StoreError> {
        let opened = self.open(build).await?;
        let opened = opened.lock().await;
        let draft = opened.dry.as_ref().map(|dry| dry.draft);
        draft.ok_or_else(|| StoreError::NotThere(text!("store-build", build = build.to_string())))
    }

    /// What click wrenches are set to, N·m, as it is known on a build.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn settings_on(&self, build: Uuid) -> Result<BTreeMap<String, f64>, StoreError> {
        if !is_dry_run(build) {
            return self.settings().await;
        }
        let opened = self.open(build).await?;
        let opened = opened.lock().await;
        Ok(opened.dry.as_ref().map(|dry| dry.settings.clone()).unwrap_or_default())
    }

    /// Events of a dry run after a sequence number, as their texts.
    pub(crate) async fn dry_events_after(
        &self,
        build: Uuid,
        seq: u64,
    ) -> Result<Vec<(u64, String)>, StoreError> {
        let opened = self.open(build).await?;
        let opened = opened.lock().await;
        Ok(opened.dry.as_ref().map(|dry| dry.events_after(seq)).unwrap_or_default())
    }
}

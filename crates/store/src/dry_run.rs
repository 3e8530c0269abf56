//! Dry runs: a plan at a bench that records nothing.
//!
//! A dry run is an engine like any other to whoever looks at it or works on it, by the same commands and the same rules.
//! It is kept in memory alone, and forgotten when others need its room or the server ends. Its id is of version 8
//! (RFC 9562, for uses of one's own), so that a page can tell without asking that it may be one; whether it is one is
//! told by what is kept here.

use crate::chain::root;
use crate::store::{DryRun, OpenBuild, Store, not_there};
use crate::{StoreError, record};
use rigore_assembly::{
    BuildProjection, BuildStart, BuildState, CommandContext, EVENT_FORMAT, Event, Person, begin,
};
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

    /// Whether a build is a dry run that is kept here.
    pub async fn is_dry_run(&self, build: Uuid) -> bool {
        self.dry_runs.lock().await.contains(&build)
    }

    /// The draft whose plan a dry run tries.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such dry run, or none any more.
    pub async fn draft_of_dry_run(&self, build: Uuid) -> Result<Uuid, StoreError> {
        self.in_dry_run(build, |dry| dry.draft).await.ok_or_else(|| not_there(build))
    }

    /// What click wrenches are set to, N·m, as it is known on a build.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the database does not answer.
    pub async fn settings_on(&self, build: Uuid) -> Result<BTreeMap<String, f64>, StoreError> {
        match self.in_dry_run(build, |dry| dry.settings.clone()).await {
            Some(settings) => Ok(settings),
            None => self.settings().await,
        }
    }

    /// Events of a dry run after a sequence number, as their texts; nothing where it is none.
    pub(crate) async fn dry_events_after(&self, build: Uuid, seq: u64) -> Option<Vec<(u64, String)>> {
        self.in_dry_run(build, |dry| dry.events_after(seq)).await
    }

    async fn in_dry_run<T>(&self, build: Uuid, look: impl FnOnce(&DryRun) -> T) -> Option<T> {
        let opened = self.dry_runs.lock().await.get(&build).map(Arc::clone)?;
        let opened = opened.lock().await;
        opened.dry.as_ref().map(look)
    }
}

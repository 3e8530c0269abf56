//! Recording: from a command to events in the database, once.

use crate::append::{Append, AppendRow, EventLine, WrenchSetting};
use crate::chain::{Hash, link, root};
use crate::entry::parse;
use crate::store::{OpenBuild, Store, not_there};
use crate::{Roster, StoreError};
use rigore_assembly::{
    BuildProjection, BuildStart, BuildState, Command, CommandAction, CommandContext, EVENT_FORMAT, Event,
    Fact, Person, PlanMove, PlanMovePreview, PlanRef, Refusal, RefusalKind, begin, decide, may_record,
};
use rigore_mechanics::message::serialize_by_id;
use rigore_mechanics::text;
use rigore_plan::{Plan, only_looked_up};
use sha2::{Digest, Sha256};
use std::collections::HashMap;
use std::sync::Arc;
use time::OffsetDateTime;
use uuid::Uuid;

/// Times a command is decided again because another process was quicker.
const TRIES: usize = 64;

/// What a command led to.
#[derive(Debug, Clone, PartialEq)]
pub struct RecordedCommand {
    /// The build.
    pub build: Uuid,
    /// The number of the last event it led to.
    pub seq: u64,
    /// The texts of the events it led to, in order, as they are stored.
    pub texts: Vec<String>,
    /// Whether this was the answer to an earlier sending of the same command.
    pub repeated: bool,
}

impl RecordedCommand {
    /// The events it led to, in order.
    ///
    /// # Errors
    /// [`StoreError::Unreadable`] where what is stored is no event.
    pub fn events(&self) -> Result<Vec<Event>, StoreError> {
        self.texts.iter().map(|text| parse(text)).collect()
    }
}

/// PostgreSQL keeps microseconds; so does the record.
pub(crate) fn to_microseconds(at: OffsetDateTime) -> OffsetDateTime {
    at.replace_nanosecond(at.nanosecond() / 1000 * 1000).unwrap_or(at)
}

/// Others were quicker every time.
fn gone_on() -> StoreError {
    StoreError::unavailable(sqlx::Error::PoolTimedOut)
}

/// Something else was begun by that id.
fn begun_already() -> StoreError {
    Refusal::of(RefusalKind::Stale, text!("store-this-build-was-begun-already")).into()
}

/// The fingerprint of what a command asks for.
fn fingerprint(what: &impl serde::Serialize) -> Result<String, StoreError> {
    let digest = Sha256::digest(written(what)?.as_bytes());
    Ok(hex::encode(&digest[..12]))
}

pub(crate) fn written(value: &impl serde::Serialize) -> Result<String, StoreError> {
    serialize_by_id(|| serde_json::to_string(value)).map_err(StoreError::unreadable)
}

/// The list row of a build as it is now.
pub(crate) fn row(
    build: Uuid,
    before: u64,
    kept: &BuildProjection,
    words: Option<String>,
) -> Result<AppendRow, StoreError> {
    let summary = kept.summary();
    Ok(AppendRow {
        build,
        before,
        seq: kept.state().seq,
        plan: kept.state().plan_ref.hash.clone(),
        plan_id: kept.state().plan_ref.id.clone(),
        status: summary.status.word().to_owned(),
        summary: written(&summary)?,
        touched: kept.state().touched,
        words,
        settings: Vec::new(),
        shown: Vec::new(),
        lives: Vec::new(),
        outlook: None,
    })
}

/// The answer to a command that was recorded before, whose events are among those given up to the last: the same one, of
/// the same person.
fn answer_again(
    build: Uuid,
    (mut events, last): (Vec<(u64, String)>, u64),
    by: &Person,
    request: &str,
) -> Result<RecordedCommand, StoreError> {
    may_record(by)?;
    events.retain(|(seq, _)| *seq <= last);
    let texts: Vec<String> = events.into_iter().map(|(_, text)| text).collect();
    let recorded = texts.first().map(|text| parse(text)).transpose()?;
    let is_other =
        |event: Event| event.by.id != by.id || event.request.is_some_and(|recorded| recorded != request);
    if recorded.is_some_and(is_other) {
        let message = text!("store-another-command-was-recorded-by-this");
        return Err(Refusal::field("id", message).into());
    }
    Ok(RecordedCommand { build, seq: last, texts, repeated: true })
}

impl Store {
    /// Looks at a build as it is now.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such build.
    pub async fn read<T>(&self, build: Uuid, look: impl FnOnce(&BuildState) -> T) -> Result<T, StoreError> {
        let opened = self.open(build).await?;
        let mut opened = opened.lock().await;
        Ok(look(self.refresh(build, &mut opened).await?.state()))
    }

    /// Events of a build after a sequence number, as their texts.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such build.
    pub async fn events_after(&self, build: Uuid, seq: u64) -> Result<Vec<(u64, String)>, StoreError> {
        if let Some(events) = self.dry_events_after(build, seq).await {
            return Ok(events);
        }
        let rows = sqlx::query!(
            "SELECT seq, body FROM events WHERE build_id = $1 AND seq > $2 ORDER BY seq",
            build,
            seq.cast_signed()
        )
        .fetch_all(&self.pool)
        .await?;
        Ok(rows.into_iter().map(|row| (row.seq.cast_unsigned(), row.body)).collect())
    }

    /// Every event of a build.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such build.
    pub async fn events(&self, build: Uuid) -> Result<Vec<Event>, StoreError> {
        let texts = self.events_after(build, 0).await?;
        if texts.is_empty() {
            return Err(not_there(build));
        }
        texts.iter().map(|(_, body)| parse(body)).collect()
    }

    /// Begins a build. The same id of a command begins it once and is answered the same again.
    ///
    /// # Errors
    /// [`StoreError::Refused`] with nothing recorded, also where the build was begun by another
    /// command; [`StoreError::NotThere`] without the plan.
    pub async fn begin(
        &self,
        build: Uuid,
        by: &Person,
        at: OffsetDateTime,
        command: Uuid,
        wanted: &BuildStart,
    ) -> Result<RecordedCommand, StoreError> {
        if self.is_dry_run(build).await {
            return Err(begun_already());
        }
        for _ in 0..TRIES {
            match self.read(build, |state| state.recorded_span(command)).await {
                Ok(Some((first, last))) => {
                    let events = self.events_after(build, first - 1).await?;
                    return answer_again(build, (events, last), by, &fingerprint(wanted)?);
                }
                Ok(None) => return Err(begun_already()),
                Err(StoreError::NotThere(_)) => {}
                Err(error) => return Err(error),
            }
            let context = CommandContext::new(by.clone(), to_microseconds(at));
            if let Some(recorded) = self.begin_once(build, context, command, wanted).await? {
                return Ok(recorded);
            }
        }
        Err(gone_on())
    }

    /// One attempt; `None` when it was begun meanwhile.
    async fn begin_once(
        &self,
        build: Uuid,
        context: CommandContext,
        command: Uuid,
        wanted: &BuildStart,
    ) -> Result<Option<RecordedCommand>, StoreError> {
        let plan = self.plan(&wanted.plan.hash).await?;
        let fact = begin(&plan, &context, wanted)?;
        let request = Some(fingerprint(wanted)?);
        let event = Event { v: EVENT_FORMAT, seq: 1, at: context.at, by: context.by, command, request, fact };
        let state =
            BuildState::fold(|_| Some(Arc::clone(&plan)), [&event]).map_err(StoreError::unreadable)?;
        let mut kept = BuildProjection::new(state);
        let body = written(&event)?;
        let hash = link(&root(build), &body);
        let line = EventLine { seq: 1, body: body.clone(), hash: hash.to_vec(), used: None };
        let words = Some(kept.words());
        let mut row = row(build, 0, &kept, words)?;
        row.outlook = kept.take_changed_outlook();
        let is_stored = self.writer.write(Append { row, lines: vec![line] }).await?;
        Ok(is_stored.then(|| RecordedCommand { build, seq: 1, texts: vec![body], repeated: false }))
    }

    /// Records what a command leads to. The same command id is recorded once and answered the
    /// same whenever it comes again.
    ///
    /// # Errors
    /// [`StoreError::Refused`] with nothing recorded; [`StoreError::Unavailable`] when the
    /// database went away, and then the command may be sent again as it is.
    pub async fn record(
        &self,
        build: Uuid,
        by: &Person,
        roster: &Roster,
        at: OffsetDateTime,
        command: &Command,
    ) -> Result<RecordedCommand, StoreError> {
        let set_to_nm = match command.action.clicked() {
            Some(wrench) => self.settings_on(build).await?.get(wrench).copied(),
            None => None,
        };
        let instrument = command.action.instrument().and_then(|id| roster.instrument(id)).cloned();
        let (lubricants, measured) = match &command.action {
            CommandAction::Lubricate(_) => (self.lubricants_at_hand().await?, self.measured().await?),
            _ => (Vec::new(), Vec::new()),
        };
        if let Some(picture) = command.action.picture()
            && !self.has_picture(picture).await?
        {
            return Err(Refusal::field("picture", text!("store-not-kept-here-send-picture-first")).into());
        }
        let lived = match &command.action {
            CommandAction::Fit(fit) if !fit.part.serial.trim().is_empty() => {
                let kind = self.read(build, |state| state.kind_of(&fit.slot)).await?;
                self.lived(&fit.part.serial, Some((kind.as_deref().unwrap_or(&fit.slot), build))).await?
            }
            _ => Vec::new(),
        };
        let moving = match &command.action {
            CommandAction::MoveTo(to) => self.moving(build, &to.plan).await?.map(|(moving, _)| moving),
            _ => None,
        };
        let context = CommandContext {
            lived,
            moving,
            instrument,
            set_to_nm,
            lubricants,
            measured,
            seen: command.seen,
            ..CommandContext::new(by.clone(), to_microseconds(at))
        };
        let opened = self.open(build).await?;
        let mut opened = opened.lock().await;
        for _ in 0..TRIES {
            // What is in memory is tried first: should the record have gone on, appending says so.
            let fresh = opened.kept.is_none();
            match self.record_once(build, &mut opened, &context, command).await {
                Ok(Some(recorded)) => return Ok(recorded),
                Ok(None) => {}
                // A refusal counts only on the record as it is now.
                Err(StoreError::Refused(_)) if !fresh => {
                    let seq = opened.kept.as_ref().map(|kept| kept.state().seq);
                    if self.refresh(build, &mut opened).await.map(|kept| kept.state().seq).ok() == seq {
                        return self
                            .record_once(build, &mut opened, &context, command)
                            .await?
                            .ok_or_else(gone_on);
                    }
                }
                Err(error) => return Err(error),
            }
        }
        Err(gone_on())
    }

    /// One attempt; `None` when another process appended first.
    async fn record_once(
        &self,
        build: Uuid,
        opened: &mut OpenBuild,
        context: &CommandContext,
        command: &Command,
    ) -> Result<Option<RecordedCommand>, StoreError> {
        if opened.kept.is_none() {
            self.refresh(build, opened).await?;
        }
        let Some(kept) = opened.kept.as_ref() else { return Ok(None) };
        if let Some((first, last)) = kept.state().recorded_span(command.id) {
            let request = fingerprint(&command.action)?;
            let events = match &opened.dry {
                Some(dry) => dry.events_after(first - 1),
                None => self.events_after(build, first - 1).await?,
            };
            return answer_again(build, (events, last), &context.by, &request).map(Some);
        }
        let before = kept.state().seq;
        // A clock that was set back makes no entry older than the one before it.
        let late = (context.at < kept.state().touched)
            .then(|| CommandContext { at: kept.state().touched, ..context.clone() });
        if late.is_some() {
            tracing::warn!(%build, clock = %context.at, record = %kept.state().touched, "the clock was set back");
        }
        let context = late.as_ref().unwrap_or(context);
        let facts = decide(kept.state(), context, &command.action)?;
        let request = fingerprint(&command.action)?;
        let event = |(seq, fact)| Event {
            v: EVENT_FORMAT,
            seq,
            at: context.at,
            by: context.by.clone(),
            command: command.id,
            request: (seq == before + 1).then(|| request.clone()),
            fact,
        };
        let events: Vec<Event> = (before + 1..).zip(facts).map(event).collect();
        self.append(build, opened, before, &events).await
    }

    /// Appends events and the list row; `None` when the record had gone on.
    async fn append(
        &self,
        build: Uuid,
        opened: &mut OpenBuild,
        before: u64,
        events: &[Event],
    ) -> Result<Option<RecordedCommand>, StoreError> {
        if opened.dry.is_some() {
            return self.append_dry(build, opened, events).map(Some);
        }
        // Taken out while it is ahead of the database: should this be broken off, it is read anew.
        let Some(mut kept) = opened.kept.take() else { return Ok(None) };
        let mut hash = opened.hash;
        let mut lines = Vec::with_capacity(events.len());
        let mut found_anew = false;
        for event in events {
            let body = written(event)?;
            hash = link(&hash, &body);
            let used = event.fact.read_with().map(|instrument| (instrument.id.clone(), event.at));
            lines.push(EventLine { seq: event.seq, body, hash: hash.to_vec(), used });
            found_anew |= matches!(event.fact, Fact::Fitted(_) | Fact::Voided(_));
            if matches!(event.fact, Fact::Moved(_)) {
                kept = self.moved(build, event).await?;
            } else {
                kept.apply(event);
            }
        }
        let seq = kept.state().seq;
        let texts = lines.iter().map(|line| line.body.clone()).collect();
        let words = found_anew.then(|| kept.words());
        let mut row = row(build, before, &kept, words)?;
        (row.shown, row.lives) = kept.take_changes();
        row.outlook = kept.take_changed_outlook();
        row.settings = events.iter().filter_map(WrenchSetting::of).collect();
        if !self.writer.write(Append { row, lines }).await? {
            return Ok(None);
        }
        opened.kept = Some(kept);
        opened.hash = hash;
        if events.iter().any(|event| matches!(event.fact, Fact::Signed(_))) {
            self.sign_head(build, seq, &hash).await;
        }
        Ok(Some(RecordedCommand { build, seq, texts, repeated: false }))
    }

    /// The same for a dry run: in memory alone.
    fn append_dry(
        &self,
        build: Uuid,
        opened: &mut OpenBuild,
        events: &[Event],
    ) -> Result<RecordedCommand, StoreError> {
        let texts: Vec<String> = events.iter().map(written).collect::<Result<_, _>>()?;
        let (kept, dry) = opened.kept.as_mut().zip(opened.dry.as_mut()).ok_or_else(|| not_there(build))?;
        for event in events {
            kept.apply(event);
        }
        // What would be kept beside the record is not.
        kept.take_changes();
        let set = events.iter().filter_map(WrenchSetting::of);
        dry.settings.extend(set.map(|of| (of.instrument, of.torque_nm)));
        dry.texts.extend(texts.iter().cloned());
        self.tell_build(build);
        Ok(RecordedCommand { build, seq: kept.state().seq, texts, repeated: false })
    }

    /// A build as it goes on by another version of its plan: that is folded anew from its first entry.
    async fn moved(&self, build: Uuid, event: &Event) -> Result<BuildProjection, StoreError> {
        let (mut events, _) = self.whole_record(build).await?;
        events.retain(|other| other.seq < event.seq);
        events.push(event.clone());
        Ok(BuildProjection::moved(self.fold(&events).await?))
    }

    /// Every entry of a build, in order and as it was recorded, and the hash of the last.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] where there is none; [`StoreError::Broken`] where one is not as it was recorded.
    pub(crate) async fn whole_record(&self, build: Uuid) -> Result<(Vec<Event>, Hash), StoreError> {
        let record = self.record_after(build, (0, root(build))).await?;
        if record.0.is_empty() { Err(not_there(build)) } else { Ok(record) }
    }

    /// The entries of a build after one with its number and hash, as they were recorded, and the hash of the last.
    async fn record_after(
        &self,
        build: Uuid,
        (known, hash): (u64, Hash),
    ) -> Result<(Vec<Event>, Hash), StoreError> {
        let entries = self.stored_entries(build, known).await?;
        let events: Vec<Result<Event, StoreError>> = entries.iter().map(|entry| parse(&entry.body)).collect();
        match self.verify_entries(build, (known, hash), &entries, &events) {
            Ok(hash) => Ok((events.into_iter().collect::<Result<_, _>>()?, hash)),
            Err(link) => Err(StoreError::Broken(self.record_broken(build, link).await)),
        }
    }

    /// Brings a build in memory up to what is stored.
    pub(crate) async fn refresh<'a>(
        &self,
        build: Uuid,
        opened: &'a mut OpenBuild,
    ) -> Result<&'a BuildProjection, StoreError> {
        if opened.dry.is_some() {
            return opened.kept.as_ref().ok_or_else(|| not_there(build));
        }
        let known = opened.kept.as_ref().map_or((0, root(build)), |kept| (kept.state().seq, opened.hash));
        let (events, hash) = match self.record_after(build, known).await {
            Err(error @ StoreError::Broken(_)) => {
                // It is not gone on from: it is read anew the next time.
                opened.kept = None;
                return Err(error);
            }
            read => read?,
        };
        let before = opened.kept.take();
        opened.hash = hash;
        let moved = events.iter().any(|event| matches!(event.fact, Fact::Moved(_)));
        let mut kept = match before {
            Some(_) if moved => {
                let (all, hash) = self.whole_record(build).await?;
                opened.hash = hash;
                BuildProjection::new(self.fold(&all).await?)
            }
            Some(mut kept) => {
                for event in &events {
                    kept.apply(event);
                }
                // Whoever wrote them has kept it.
                kept.take_changes();
                kept
            }
            None if events.is_empty() => {
                return Err(not_there(build));
            }
            None => BuildProjection::new(self.fold(&events).await?),
        };
        kept.mark_outlook_stored();
        Ok(opened.kept.insert(kept))
    }

    /// The state after events, with the plans that they name.
    pub(crate) async fn fold(&self, events: &[Event]) -> Result<BuildState, StoreError> {
        let plans = self.plans_of(events).await?;
        BuildState::fold(|named| plans.get(&named.hash).cloned(), events).map_err(StoreError::unreadable)
    }

    /// The plans that events name, by hash.
    async fn plans_of(&self, events: &[Event]) -> Result<HashMap<String, Arc<Plan>>, StoreError> {
        let named = events.iter().filter_map(|event| match &event.fact {
            Fact::Begun(begun) => Some(&begun.plan),
            Fact::Moved(moved) => Some(&moved.plan),
            _ => None,
        });
        let mut plans = HashMap::new();
        for named in named {
            plans.insert(named.hash.clone(), self.plan(&named.hash).await?);
        }
        Ok(plans)
    }

    /// What moving a build to another version of its plan does; `None` where that version is not kept.
    ///
    /// # Errors
    /// [`StoreError::NotThere`] when there is no such build.
    pub async fn moving(
        &self,
        build: Uuid,
        hash: &str,
    ) -> Result<Option<(PlanMove, PlanMovePreview)>, StoreError> {
        let plan = match self.plan(hash).await {
            Ok(plan) => plan,
            Err(StoreError::NotThere(_)) => return Ok(None),
            Err(error) => return Err(error),
        };
        let named = PlanRef { hash: hash.to_owned(), id: plan.id.clone(), name: plan.name.clone() };
        let (events, _) = self.whole_record(build).await?;
        let plans = self.plans_of(&events).await?;
        let now = self.read(build, |state| state.plan_ref.hash.clone()).await?;
        let looked_up = only_looked_up(&self.plan_source(&now).await?, &self.plan_source(hash).await?);
        self.read(build, |state| {
            let to = (&named, &plan, looked_up && state.plan_ref.hash == now);
            let moving = PlanMove::of(state, &events, to, |of| plans.get(&of.hash).cloned());
            let preview = moving.preview(state);
            Some((moving, preview))
        })
        .await
    }
}

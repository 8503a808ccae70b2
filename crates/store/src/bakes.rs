//! Bakes: what each began with, and what happened to it, which is only ever added to.

use cerealis_core::bake::{BakeState, Event, EventKey, Outcome, Start, What, on_its_plan, replay};
use cerealis_core::plan::{DayPlan, PlannedStep};
use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::sql_types::Binary;
use diesel::sqlite::SqliteConnection;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::documents::{self, DamagedRecord, Kind, Revision, SCHEMA};
use crate::schema::{bake_events, bakes};
use crate::{FormulaId, Store, StoreError};

/// A bake, by its number.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct BakeId(pub i32);

impl std::fmt::Display for BakeId {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// A bake as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredBake {
    /// Its number.
    pub id: BakeId,
    /// Its formula, where that is still there.
    pub formula: Option<FormulaId>,
    /// What it began with.
    pub start: Start,
    /// What happened since, in order of arrival.
    pub events: Vec<Event>,
    /// What happened and does not read; it is kept.
    pub unread: Vec<UnreadEvent>,
    /// When it was begun.
    pub begun_at: Timestamp,
    /// When it was over, where it is.
    pub ended_at: Option<Timestamp>,
}

/// Something that happened to a bake and does not read.
#[derive(Clone, Debug, PartialEq)]
pub struct UnreadEvent {
    /// Its number.
    pub seq: i64,
    /// Whether it is of a kind that a newer program knows; else it is damaged.
    pub newer: bool,
    /// What is wrong with it.
    pub why: String,
}

impl StoredBake {
    /// What has become of it.
    pub fn state(&self) -> BakeState {
        replay(&self.start, &self.events)
    }
}

type Row = (i32, Option<i32>, String, i32, String, Option<String>);

/// How many bakes are looked through for what is damaged.
const LATEST: i64 = 30;

/// What happened to a bake, and what of that does not read: the rest of the bake is still one.
fn events_of(c: &mut SqliteConnection, id: i32) -> Result<(Vec<Event>, Vec<UnreadEvent>), StoreError> {
    let of = bake_events::table.filter(bake_events::bake_id.eq(id)).order(bake_events::seq);
    let rows: Vec<(i64, Vec<u8>)> =
        of.select((bake_events::seq, sql::<Binary>("CAST(body AS BLOB)"))).load(c)?;
    let (mut events, mut unread) = (Vec::with_capacity(rows.len()), Vec::new());
    for (seq, body) in rows {
        match serde_json::from_slice(&body) {
            Ok(event) => events.push(event),
            Err(e) => {
                let why = e.to_string();
                // An event whose word nobody here knows, and that reads otherwise.
                let newer = why.starts_with("unknown variant");
                unread.push(UnreadEvent { seq, newer, why });
            }
        }
    }
    Ok((events, unread))
}

fn read(c: &mut SqliteConnection, row: Row) -> Result<StoredBake, StoreError> {
    let (id, formula, body, schema, begun_at, ended_at) = row;
    let (events, unread) = events_of(c, id)?;
    Ok(StoredBake {
        id: BakeId(id),
        formula: formula.map(FormulaId),
        start: documents::read(Kind::Bake, schema, &body)?,
        events,
        unread,
        begun_at: documents::time(&begun_at)?,
        ended_at: ended_at.as_deref().map(documents::time).transpose()?,
    })
}

type Columns = (bakes::id, bakes::formula_id, bakes::body, bakes::schema, bakes::begun_at, bakes::ended_at);
const COLUMNS: Columns =
    (bakes::id, bakes::formula_id, bakes::body, bakes::schema, bakes::begun_at, bakes::ended_at);

fn one(c: &mut SqliteConnection, id: BakeId) -> Result<StoredBake, StoreError> {
    let row: Option<Row> = bakes::table.find(id.0).select(COLUMNS).first(c).optional()?;
    read(c, row.ok_or(StoreError::NotFound)?)
}

/// Begins a bake; within a transaction.
pub(crate) fn begin(
    c: &mut SqliteConnection,
    formula: Option<FormulaId>,
    start: &Start,
    events: &[Event],
    now: Timestamp,
) -> Result<BakeId, StoreError> {
    let begun_at = events.iter().map(|e| e.at).min().unwrap_or(now).min(now);
    let row = (
        bakes::formula_id.eq(formula.map(|f| f.0)),
        bakes::name.eq(&start.formula.name),
        bakes::body.eq(documents::write(start)?),
        bakes::schema.eq(SCHEMA),
        bakes::begun_at.eq(begun_at.to_string()),
    );
    let id: i32 = diesel::insert_into(bakes::table).values(row).returning(bakes::id).get_result(c)?;
    let id = BakeId(id);
    let (start, ended_at) = (start.clone(), None);
    let mut bake =
        StoredBake { id, formula, start, events: Vec::new(), unread: Vec::new(), begun_at, ended_at };
    add(c, &mut bake, events, &now.to_string())?;
    Ok(id)
}

/// Adds events to a bake, each once; within a transaction. How many were new.
fn add(
    c: &mut SqliteConnection,
    bake: &mut StoredBake,
    events: &[Event],
    now: &str,
) -> Result<usize, StoreError> {
    let before = bake.events.len();
    for e in events {
        let row = (
            bake_events::bake_id.eq(bake.id.0),
            bake_events::key.eq(&e.key.0),
            bake_events::said_at.eq(now),
            bake_events::body.eq(documents::write(e)?),
        );
        if diesel::insert_or_ignore_into(bake_events::table).values(row).execute(c)? > 0 {
            bake.events.push(e.clone());
        }
    }
    let state = bake.state();
    let ended = state.ended.filter(|_| state.outcome != Outcome::Running);
    if ended != bake.ended_at {
        let text = ended.map(|t| t.to_string());
        diesel::update(bakes::table.find(bake.id.0)).set(bakes::ended_at.eq(text)).execute(c)?;
        bake.ended_at = ended;
    }
    Ok(bake.events.len() - before)
}

/// Adds events to a bake, each once; within a transaction. The bake as it is then, and how many were new.
pub(crate) fn add_to(
    c: &mut SqliteConnection,
    id: BakeId,
    events: &[Event],
    now: &str,
) -> Result<(StoredBake, usize), StoreError> {
    let mut bake = one(c, id)?;
    let fresh = add(c, &mut bake, events, now)?;
    Ok((bake, fresh))
}

/// Puts the bakes that go on of a plan's doughs on that plan, where it has them otherwise; within a transaction. Which.
pub(crate) fn replan(
    c: &mut SqliteConnection,
    plan: &DayPlan,
    revision: Revision,
    now: Timestamp,
) -> Result<Vec<BakeId>, StoreError> {
    let Some(taken) = &plan.taken else { return Ok(Vec::new()) };
    let open = bakes::table.filter(bakes::ended_at.is_null());
    let rows: Vec<Row> = open.select(COLUMNS).load(c)?;
    let mut moved = Vec::new();
    for row in rows {
        let Ok(mut bake) = read(c, row) else { continue };
        let from = plan.from.to_string();
        let Some(of) = bake.start.of_plan.as_ref().filter(|of| of.from == from) else { continue };
        let steps: Vec<PlannedStep> = taken.steps.iter().filter(|s| s.dough == of.dough).cloned().collect();
        if steps.is_empty() || on_its_plan(&bake.start, &bake.events).steps == steps {
            continue;
        }
        let key = EventKey(format!("plan-{revision}"));
        let event = Event { key, at: now, device: "The day".into(), what: What::Replanned { steps } };
        if add(c, &mut bake, &[event], &now.to_string())? > 0 {
            moved.push(bake.id);
        }
    }
    Ok(moved)
}

impl Store {
    /// Begins a bake.
    ///
    /// # Errors
    /// What the database reports.
    pub fn begin_bake(
        &self,
        formula: Option<FormulaId>,
        start: &Start,
        events: &[Event],
    ) -> Result<BakeId, StoreError> {
        let now = self.clock.now();
        self.write(|c| begin(c, formula, start, events, now))
    }

    /// Adds to what happened to a bake. An event whose key is there already is there once; the bake as it is then, and how
    /// many were new.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such bake.
    pub fn add_events(&self, id: BakeId, events: &[Event]) -> Result<(StoredBake, usize), StoreError> {
        let now = self.now();
        self.write(|c| add_to(c, id, events, &now))
    }

    /// A bake.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such bake; [`StoreError::Damaged`] when it does not read.
    pub fn bake(&self, id: BakeId) -> Result<StoredBake, StoreError> {
        one(&mut *self.reading()?, id)
    }

    /// The bakes that go on, the first begun first. Those that do not read are left out: they are named as damaged.
    ///
    /// # Errors
    /// What the database reports.
    pub fn running_bakes(&self) -> Result<Vec<StoredBake>, StoreError> {
        let c = &mut *self.reading()?;
        let open = bakes::table.filter(bakes::ended_at.is_null()).order((bakes::begun_at, bakes::id));
        let rows: Vec<Row> = open.select(COLUMNS).load(c)?;
        Ok(rows.into_iter().filter_map(|row| read(c, row).ok()).collect())
    }

    /// The bake of a formula that was begun last, whether it goes on or is over.
    ///
    /// # Errors
    /// What the database reports.
    pub fn last_bake(&self, of: FormulaId) -> Result<Option<StoredBake>, StoreError> {
        let c = &mut *self.reading()?;
        let of = bakes::table.filter(bakes::formula_id.eq(of.0)).order(bakes::id.desc());
        let row: Option<Row> = of.select(COLUMNS).first(c).optional()?;
        Ok(row.and_then(|row| read(c, row).ok()))
    }

    /// Bakes that are over, the last first, of one formula or of all.
    ///
    /// # Errors
    /// What the database reports.
    pub fn past_bakes(&self, of: Option<FormulaId>, most: i64) -> Result<Vec<StoredBake>, StoreError> {
        let c = &mut *self.reading()?;
        let mut over = bakes::table
            .filter(bakes::ended_at.is_not_null())
            .order((bakes::ended_at.desc(), bakes::id.desc()))
            .select(COLUMNS)
            .limit(most)
            .into_boxed();
        if let Some(FormulaId(id)) = of {
            over = over.filter(bakes::formula_id.eq(id));
        }
        let rows: Vec<Row> = over.load(c)?;
        Ok(rows.into_iter().filter_map(|row| read(c, row).ok()).collect())
    }

    /// The number of the last event of all bakes; 0 before the first.
    ///
    /// # Errors
    /// What the database reports.
    pub fn last_event(&self) -> Result<i64, StoreError> {
        let last: Option<i64> = bake_events::table
            .select(diesel::dsl::max(bake_events::seq))
            .get_result(&mut *self.reading()?)?;
        Ok(last.unwrap_or(0))
    }

    /// The bakes to which something happened after an event.
    ///
    /// # Errors
    /// What the database reports.
    pub fn bakes_since(&self, seq: i64) -> Result<Vec<BakeId>, StoreError> {
        let since =
            bake_events::table.filter(bake_events::seq.gt(seq)).select(bake_events::bake_id).distinct();
        let ids: Vec<i32> = since.load(&mut *self.reading()?)?;
        Ok(ids.into_iter().map(BakeId).collect())
    }

    /// The formulas of which a bake goes on.
    ///
    /// # Errors
    /// What the database reports.
    pub fn all_baking(&self) -> Result<Vec<FormulaId>, StoreError> {
        let open = bakes::table.filter(bakes::ended_at.is_null()).select(bakes::formula_id);
        let ids: Vec<Option<i32>> = open.load(&mut *self.reading()?)?;
        Ok(ids.into_iter().flatten().map(FormulaId).collect())
    }

    /// What happened to bakes and is damaged, by the name of its bake: of those that go on, and of the last that are over; an
    /// older one tells it on its own page. What is of a newer kind is kept and no damage.
    pub(crate) fn damaged_events(&self) -> Result<Vec<DamagedRecord>, StoreError> {
        let c = &mut *self.reading()?;
        let latest = bakes::table.order((bakes::ended_at.is_null().desc(), bakes::id.desc()));
        let bakes: Vec<(i32, String)> = latest.select((bakes::id, bakes::name)).limit(LATEST).load(c)?;
        let mut damaged = Vec::new();
        for (id, name) in bakes {
            for e in events_of(c, id)?.1.into_iter().filter(|e| !e.newer) {
                damaged.push(DamagedRecord {
                    kind: Kind::BakeEvent,
                    id: i32::try_from(e.seq).unwrap_or(i32::MAX),
                    name: format!("A press at {name}"),
                    why: e.why,
                });
            }
        }
        Ok(damaged)
    }

    /// Bakes that go on and do not read.
    pub(crate) fn damaged_bakes(&self) -> Result<Vec<DamagedRecord>, StoreError> {
        let c = &mut *self.reading()?;
        let open = bakes::table.filter(bakes::ended_at.is_null()).select((bakes::id, bakes::schema));
        let rows: Vec<(i32, i32)> = open.load(c)?;
        let mut damaged = Vec::new();
        for (id, schema) in rows {
            let body = documents::raw(c, Kind::Bake, id)?;
            if let Err(why) = documents::read::<Start>(Kind::Bake, schema, &String::from_utf8_lossy(&body)) {
                damaged.push(DamagedRecord::new(Kind::Bake, id, &body, &why));
            }
        }
        Ok(damaged)
    }
}

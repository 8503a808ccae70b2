//! Documents: whole JSON bodies with the schema they were written as, and those that do not read.

use std::fmt;

use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::sql_types::Binary;
use diesel::sqlite::SqliteConnection;
use jiff::Timestamp;
use schemars::JsonSchema;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::schema::{
    bake_events, bakes, cupboards, day_plans, doughs, formulas, kitchens, set_aside, versions,
};
use crate::{FormulaId, Store, StoreError, riders};

/// Brings a document of one schema up to the next.
type Upgrade = fn(Kind, &mut Value);

/// What each schema changed, from the first on. One that renames or moves a field adds its function here, with
/// a file of the program before it in `tests/old/`.
const UPGRADES: [Upgrade; 1] = [
    // 2: ovens and mixers of their own, hours of the week, a kitchen's notation. What an older document lacks is as is
    // usual; a program that does not know it is told so by the number.
    |_, _| {},
];

/// The schema that documents are written as.
pub(crate) const SCHEMA: i32 = 1 + UPGRADES.len() as i32;

/// Reads a document, whatever schema it was written as.
///
/// # Errors
/// [`StoreError::Damaged`] when it does not read, or was written as a newer schema.
pub(crate) fn read<T: DeserializeOwned>(kind: Kind, schema: i32, body: &str) -> Result<T, StoreError> {
    read_by(&UPGRADES, kind, schema, body)
}

fn read_by<T: DeserializeOwned>(
    upgrades: &[Upgrade],
    kind: Kind,
    schema: i32,
    body: &str,
) -> Result<T, StoreError> {
    let from = usize::try_from(schema - 1).unwrap_or(0);
    if from > upgrades.len() {
        return Err(StoreError::Damaged(format!("it was written by a newer program, as schema {schema}")));
    }
    if from == upgrades.len() {
        return Ok(serde_json::from_str(body)?);
    }
    let mut value = serde_json::from_str(body)?;
    upgrades[from..].iter().for_each(|upgrade| upgrade(kind, &mut value));
    Ok(serde_json::from_value(value)?)
}

/// Counted up at each save of a document; 0 before the first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(transparent)]
pub struct Revision(pub i32);

impl fmt::Display for Revision {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

impl Revision {
    /// That of a page that names none: it is over nothing that is there.
    pub const UNSAID: Revision = Revision(-1);

    /// The rule of every save: over the revision that was read, and no other. Gives the next one. `None` is
    /// what does not ask; `there` is what stands in the file.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is nothing to save over; [`StoreError::Conflict`] when it has been
    /// saved since.
    pub(crate) fn after(read: Option<Revision>, there: Option<i32>) -> Result<Revision, StoreError> {
        match there {
            None => Err(StoreError::NotFound),
            Some(there) if read.is_none_or(|r| r.0 == there) => Ok(Revision(there + 1)),
            Some(_) => Err(StoreError::Conflict),
        }
    }
}

/// Reads a time.
///
/// # Errors
/// [`StoreError::Damaged`] when it is none.
pub(crate) fn time(text: &str) -> Result<Timestamp, StoreError> {
    text.parse().map_err(|e: jiff::Error| StoreError::Damaged(e.to_string()))
}

/// Writes a document over the one that was there: what of that this program does not know stays.
pub(crate) fn write_over<T: Serialize + DeserializeOwned + JsonSchema>(
    document: &T,
    there: &str,
) -> Result<String, StoreError> {
    Ok(riders::write_over(document, there)?)
}

/// Writes a document.
pub(crate) fn write(document: &impl Serialize) -> Result<String, StoreError> {
    Ok(serde_json::to_string(document)?)
}

/// What a record is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// A formula.
    Formula,
    /// A saved state of a formula.
    Version,
    /// The kitchen's settings.
    Kitchen,
    /// The cupboard.
    Cupboard,
    /// The days that are planned.
    DayPlan,
    /// A dough that was watched before there were bakes.
    Dough,
    /// A bake.
    Bake,
    /// Something that happened to a bake.
    BakeEvent,
    /// A record that was moved out of the way.
    SetAside,
}

impl Kind {
    /// Its key in addresses.
    pub fn key(self) -> &'static str {
        match self {
            Kind::Formula => "formula",
            Kind::Version => "version",
            Kind::Kitchen => "kitchen",
            Kind::Cupboard => "cupboard",
            Kind::DayPlan => "day-plan",
            Kind::Dough => "dough",
            Kind::Bake => "bake",
            Kind::BakeEvent => "bake-event",
            Kind::SetAside => "set-aside",
        }
    }

    /// The kind of this key.
    pub fn from_key(key: &str) -> Option<Kind> {
        use Kind::*;
        [Formula, Version, Kitchen, Cupboard, DayPlan, Dough, Bake, BakeEvent, SetAside]
            .into_iter()
            .find(|k| k.key() == key)
    }

    /// Its name.
    pub fn name(self) -> &'static str {
        match self {
            Kind::Formula => "Formula",
            Kind::Version => "Version",
            Kind::Kitchen => "Kitchen settings",
            Kind::Cupboard => "Cupboard",
            Kind::DayPlan => "Day plan",
            Kind::Dough => "Rising dough",
            Kind::Bake => "Bake",
            Kind::BakeEvent => "Press at the bench",
            Kind::SetAside => "Set aside",
        }
    }
}

/// A record that does not read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DamagedRecord {
    /// What it is of.
    pub kind: Kind,
    /// Which row.
    pub id: i32,
    /// Its name, as far as that can be made out.
    pub name: String,
    /// What is wrong with it.
    pub why: String,
}

impl DamagedRecord {
    pub(crate) fn new(kind: Kind, id: i32, body: &[u8], why: &StoreError) -> DamagedRecord {
        let why = match why {
            StoreError::Damaged(why) => why.clone(),
            other => other.to_string(),
        };
        let name = name_in(body).unwrap_or_else(|| format!("{} {id}", kind.name()));
        DamagedRecord { kind, id, name, why }
    }
}

/// The first name in a body, however broken the rest.
fn name_in(body: &[u8]) -> Option<String> {
    let text = String::from_utf8_lossy(body);
    let after = text.split_once("\"name\":\"")?.1;
    let name: String = after.chars().take_while(|c| *c != '"').take(80).collect();
    (!name.trim().is_empty()).then_some(name)
}

/// The body of a row as it lies in the file.
pub(crate) fn raw(c: &mut SqliteConnection, kind: Kind, id: i32) -> Result<Vec<u8>, StoreError> {
    let body = || sql::<Binary>("CAST(body AS BLOB)");
    let found: Option<Vec<u8>> = match kind {
        Kind::Formula => formulas::table.find(id).select(body()).first(c).optional()?,
        Kind::Version => versions::table.find(id).select(body()).first(c).optional()?,
        Kind::Kitchen => kitchens::table.find(id).select(body()).first(c).optional()?,
        Kind::Cupboard => cupboards::table.find(id).select(body()).first(c).optional()?,
        Kind::DayPlan => day_plans::table.find(id).select(body()).first(c).optional()?,
        Kind::Dough => doughs::table.find(id).select(body()).first(c).optional()?,
        Kind::Bake => bakes::table.find(id).select(body()).first(c).optional()?,
        Kind::BakeEvent => bake_events::table.find(i64::from(id)).select(body()).first(c).optional()?,
        Kind::SetAside => set_aside::table.find(id).select(set_aside::body).first(c).optional()?,
    };
    found.ok_or(StoreError::NotFound)
}

/// Moves a body that does not read out of the way of what is saved over it.
pub(crate) fn keep_aside(c: &mut SqliteConnection, kind: Kind, id: i32, now: &str) -> Result<(), StoreError> {
    let body = raw(c, kind, id)?;
    diesel::insert_into(set_aside::table)
        .values((
            set_aside::kind.eq(kind.key()),
            set_aside::name.eq(format!("{} as it was", kind.name())),
            set_aside::body.eq(body),
            set_aside::set_aside_at.eq(now),
        ))
        .execute(c)?;
    Ok(())
}

impl Store {
    /// Every record that does not read, but for versions, which their own page tells of.
    ///
    /// # Errors
    /// What the database reports.
    pub fn damaged(&self) -> Result<Vec<DamagedRecord>, StoreError> {
        let mut all = self.all_formulas()?.1;
        all.extend(self.damaged_besides_formulas()?);
        Ok(all)
    }

    /// The same without the formulas.
    ///
    /// # Errors
    /// What the database reports.
    pub fn damaged_besides_formulas(&self) -> Result<Vec<DamagedRecord>, StoreError> {
        let mut all: Vec<DamagedRecord> = self.kitchen()?.damaged.into_iter().collect();
        all.extend(self.cupboard()?.damaged);
        all.extend(self.day_plan()?.damaged);
        all.extend(self.damaged_doughs()?);
        all.extend(self.damaged_bakes()?);
        all.extend(self.damaged_events()?);
        let c = &mut *self.reading()?;
        let kept: Vec<(i32, String)> = set_aside::table.select((set_aside::id, set_aside::name)).load(c)?;
        let why = "It did not read, and was saved over.";
        all.extend(kept.into_iter().map(|(id, name)| DamagedRecord {
            kind: Kind::SetAside,
            id,
            name,
            why: why.into(),
        }));
        Ok(all)
    }

    /// The body of a record as it lies in the file, whether it reads or not.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such row.
    pub fn raw_record(&self, kind: Kind, id: i32) -> Result<Vec<u8>, StoreError> {
        raw(&mut *self.reading()?, kind, id)
    }

    /// Deletes a record that does not read. What reads is left alone.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such row, or it reads.
    pub fn delete_damaged(&self, kind: Kind, id: i32) -> Result<(), StoreError> {
        let versions_of_all = || -> Result<Vec<DamagedRecord>, StoreError> {
            let c = &mut *self.reading()?;
            let of: Vec<i32> = versions::table.find(id).select(versions::formula_id).load(c)?;
            of.first().map_or(Ok(Vec::new()), |f| self.damaged_versions(FormulaId(*f)))
        };
        let damaged = if kind == Kind::Version { versions_of_all()? } else { self.damaged()? };
        if !damaged.iter().any(|d| (d.kind, d.id) == (kind, id)) {
            return Err(StoreError::NotFound);
        }
        self.write(|c| {
            match kind {
                Kind::Formula => {
                    // Its versions may still read: they stay, and it can be brought back from them.
                    diesel::update(formulas::table.find(id))
                        .set(formulas::deleted_at.eq(self.now()))
                        .execute(c)?
                }
                Kind::Version => diesel::delete(versions::table.find(id)).execute(c)?,
                Kind::Kitchen => diesel::delete(kitchens::table.find(id)).execute(c)?,
                Kind::Cupboard => diesel::delete(cupboards::table.find(id)).execute(c)?,
                Kind::DayPlan => diesel::delete(day_plans::table.find(id)).execute(c)?,
                Kind::Dough => diesel::delete(doughs::table.find(id)).execute(c)?,
                Kind::Bake => {
                    let of = bake_events::table.filter(bake_events::bake_id.eq(id));
                    diesel::delete(of).execute(c)?;
                    diesel::delete(bakes::table.find(id)).execute(c)?
                }
                Kind::BakeEvent => diesel::delete(bake_events::table.find(i64::from(id))).execute(c)?,
                Kind::SetAside => diesel::delete(set_aside::table.find(id)).execute(c)?,
            };
            Ok(())
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    /// A step from each schema to the next, in their order, and none that has been taken already.
    #[test]
    fn an_old_document_is_brought_up_step_by_step() {
        let steps: [Upgrade; 2] = [
            |_, v| v["weight"] = v["grams"].take(),
            |kind, v| v["weight"] = json!(format!("{} of {}", v["weight"], kind.key())),
        ];
        let read = |schema, body: &str| {
            read_by::<Value>(&steps, Kind::Formula, schema, body).unwrap()["weight"].clone()
        };
        assert_eq!(read(1, r#"{"grams": 3}"#), json!("3 of formula"));
        assert_eq!(read(2, r#"{"weight": 3}"#), json!("3 of formula"));
        assert_eq!(read(3, r#"{"weight": "3"}"#), json!("3"));
        assert!(read_by::<Value>(&steps, Kind::Formula, 4, "{}").is_err(), "a newer one is refused");
    }
}

//! Doughs that were watched before there were bakes: each becomes one, with all that was read of it.

use cerealis_core::watch::Watch;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::documents::{self, DamagedRecord, Kind};
use crate::schema::doughs;
use crate::{FormulaId, Store, StoreError, bakes, cupboards, kitchens};

type Row = (i32, i32, i32, String, Option<String>);

impl Store {
    /// Makes bakes of the doughs that read; the others stay as they are, and are named as damaged.
    pub(crate) fn take_up_doughs(&self) -> Result<(), StoreError> {
        let rows = |c: &mut SqliteConnection| -> QueryResult<Vec<Row>> {
            let all = doughs::table.order(doughs::id);
            all.select((doughs::id, doughs::formula_id, doughs::schema, doughs::body, doughs::ended_at))
                .load(c)
        };
        // A row that is no text at all keeps no other from being looked at.
        let count: i64 = doughs::table.count().get_result(&mut *self.reading()?)?;
        if count == 0 {
            return Ok(());
        }
        let now = self.clock.now();
        self.write(|c| {
            let home = kitchens::read(c)?.kitchen;
            let catalogue = cupboards::read(c)?.cupboard;
            let catalogue = cerealis_core::pantry::Catalogue::bundled().with(&catalogue.own);
            for (id, formula, schema, body, ended_at) in rows(c).unwrap_or_default() {
                let Ok(watch) = documents::read::<Watch>(Kind::Dough, schema, &body) else { continue };
                let ended = ended_at.as_deref().map(documents::time).transpose()?;
                let (start, events) = cerealis_core::bake::of_watch(&watch, &home, &catalogue, ended);
                bakes::begin(c, Some(FormulaId(formula)), &start, &events, now)?;
                diesel::delete(doughs::table.find(id)).execute(c)?;
            }
            Ok(())
        })
    }

    /// Doughs from before there were bakes that do not read.
    pub(crate) fn damaged_doughs(&self) -> Result<Vec<DamagedRecord>, StoreError> {
        let c = &mut *self.reading()?;
        let open = doughs::table.filter(doughs::ended_at.is_null());
        let rows: Vec<(i32, i32)> = open.select((doughs::id, doughs::schema)).load(c)?;
        let mut damaged = Vec::new();
        for (id, schema) in rows {
            let body = documents::raw(c, Kind::Dough, id)?;
            let text = String::from_utf8_lossy(&body);
            if let Err(why) = documents::read::<Watch>(Kind::Dough, schema, &text) {
                damaged.push(DamagedRecord::new(Kind::Dough, id, &body, &why));
            }
        }
        Ok(damaged)
    }
}

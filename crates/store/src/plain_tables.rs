//! What comes from elsewhere is read only where it is made of the tables that this program makes, to the letter. A view,
//! a trigger, a column or an index of somebody else's could make SQLite work without an end, or do something else.

use std::collections::BTreeSet;

use diesel::connection::SimpleConnection;
use diesel::migration::MigrationSource;
use diesel::sqlite::{Sqlite, SqliteConnection};
use diesel::{Connection, QueryableByName, RunQueryDsl, sql_query, sql_types};
use diesel_migrations::MigrationHarness;

use crate::open::MIGRATIONS;

/// One thing of a schema, as SQLite keeps it.
#[derive(QueryableByName, Debug, PartialEq, Eq, PartialOrd, Ord)]
struct Thing {
    #[diesel(sql_type = sql_types::Text)]
    kind: String,
    #[diesel(sql_type = sql_types::Text)]
    name: String,
    #[diesel(sql_type = sql_types::Text)]
    says: String,
}

fn things(c: &mut SqliteConnection) -> Result<BTreeSet<Thing>, String> {
    let all = "SELECT CAST(type AS TEXT) AS kind, CAST(name AS TEXT) AS name, CAST(coalesce(sql, '') AS TEXT) AS says \
               FROM sqlite_master WHERE name NOT LIKE 'sqlite_stat%'";
    let all: Vec<Thing> = sql_query(all).load(c).map_err(|e| e.to_string())?;
    Ok(all.into_iter().collect())
}

/// Whether a file holds the tables of one state of this program, says that it is of that state, and holds nothing else. Only
/// its list of what was applied is read, and that once its tables are known to be ours.
///
/// # Errors
/// The first thing that is otherwise; what SQLite reports.
pub(crate) fn check(name: &str) -> Result<(), String> {
    let mut c = SqliteConnection::establish(name).map_err(|e| e.to_string())?;
    c.batch_execute("PRAGMA trusted_schema = OFF; PRAGMA cell_size_check = ON;")
        .map_err(|e| e.to_string())?;
    let there = things(&mut c)?;
    let mut ours = SqliteConnection::establish(":memory:").map_err(|e| e.to_string())?;
    let mut odd = None;
    for _ in MigrationSource::<Sqlite>::migrations(&MIGRATIONS).map_err(|e| e.to_string())? {
        ours.run_next_migration(MIGRATIONS).map_err(|e| e.to_string())?;
        let known = things(&mut ours)?;
        if known == there {
            // Now its table of what was applied is known to be a plain one, and can be read: what it says must be this state.
            let applied = |c: &mut SqliteConnection| c.applied_migrations().map_err(|e| e.to_string());
            if applied(&mut c)? == applied(&mut ours)? {
                return Ok(());
            }
            odd = Some("the list of what was applied to it".to_owned());
            continue;
        }
        odd = there.difference(&known).next().map(|t| format!("the {} “{}”", t.kind, t.name));
    }
    Err(odd.unwrap_or_else(|| "a table is missing".to_owned()))
}

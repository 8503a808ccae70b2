//! What is known of the file itself, by name: it never leaves with a household that is exported.

use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::schema::settings;
use crate::{Store, StoreError};

/// A setting of the file.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Setting {
    /// That it is a demo, and since when.
    Demo,
    /// That the household's devices are let in, where it is there.
    Sharing,
    /// The passphrase, as it may be kept: an Argon2 string.
    Passphrase,
    /// What session cookies are signed by, in hexadecimal.
    CookieKey,
}

impl Setting {
    fn key(self) -> &'static str {
        match self {
            Setting::Demo => "demo",
            Setting::Sharing => "sharing",
            Setting::Passphrase => "passphrase",
            Setting::CookieKey => "cookie_key",
        }
    }
}

pub(crate) fn get(c: &mut SqliteConnection, setting: Setting) -> QueryResult<Option<String>> {
    settings::table.find(setting.key()).select(settings::value).first(c).optional()
}

pub(crate) fn put(c: &mut SqliteConnection, setting: Setting, value: &str) -> QueryResult<usize> {
    let row = (settings::key.eq(setting.key()), settings::value.eq(value));
    diesel::replace_into(settings::table).values(row).execute(c)
}

impl Store {
    /// A setting, where it is made.
    ///
    /// # Errors
    /// What the database reports.
    pub fn setting(&self, setting: Setting) -> Result<Option<String>, StoreError> {
        Ok(get(&mut *self.reading()?, setting)?)
    }

    /// Makes a setting, or takes it back.
    ///
    /// # Errors
    /// What the database reports.
    pub fn set(&self, setting: Setting, value: Option<&str>) -> Result<(), StoreError> {
        self.write(|c| {
            match value {
                Some(value) => put(c, setting, value)?,
                None => diesel::delete(settings::table.find(setting.key())).execute(c)?,
            };
            Ok(())
        })
    }

    /// A setting; made by `make` in one piece where it is not there yet.
    ///
    /// # Errors
    /// What the database reports.
    pub fn setting_or(&self, setting: Setting, make: impl FnOnce() -> String) -> Result<String, StoreError> {
        self.write(|c| {
            if let Some(there) = get(c, setting)? {
                return Ok(there);
            }
            let made = make();
            put(c, setting, &made)?;
            Ok(made)
        })
    }
}

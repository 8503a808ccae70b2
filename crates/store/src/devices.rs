//! The household's devices that were let in, and what each is signed in by.

use diesel::prelude::*;
use jiff::Timestamp;
use sha2::{Digest, Sha256};

use crate::documents;
use crate::schema::{devices, sessions};
use crate::{Store, StoreError};

/// What a device may do.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Role {
    /// Everything.
    Baker,
    /// See the day and the bench, and say what was done there.
    Helper,
}

impl Role {
    /// Both.
    pub const ALL: [Role; 2] = [Role::Baker, Role::Helper];

    /// Its word.
    pub fn key(self) -> &'static str {
        match self {
            Role::Baker => "baker",
            Role::Helper => "helper",
        }
    }

    /// The role of a word.
    pub fn from_key(key: &str) -> Option<Role> {
        Role::ALL.into_iter().find(|r| r.key() == key)
    }
}

/// A device, by its number.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct DeviceId(pub i32);

/// A device that was let in.
#[derive(Clone, Debug, PartialEq)]
pub struct Device {
    /// Its number.
    pub id: DeviceId,
    /// What it was called when it came.
    pub name: String,
    /// What it may do.
    pub role: Role,
    /// When it was let in.
    pub added_at: Timestamp,
    /// When it was last seen, to the minute.
    pub seen_at: Timestamp,
}

/// What a device is signed in by.
#[derive(Clone, Debug, PartialEq)]
pub struct Session {
    /// Whose it is.
    pub device: DeviceId,
    /// What is kept in it.
    pub body: String,
    /// When it ends.
    pub ends_at: Timestamp,
}

type Row = (i32, String, String, String, String);

fn read((id, name, role, added_at, seen_at): Row) -> Result<Device, StoreError> {
    Ok(Device {
        id: DeviceId(id),
        name,
        role: Role::from_key(&role).ok_or_else(|| StoreError::Damaged(format!("no role {role}")))?,
        added_at: documents::time(&added_at)?,
        seen_at: documents::time(&seen_at)?,
    })
}

/// Who reads the file finds no key in it.
fn hash(key: &str) -> String {
    Sha256::digest(key.as_bytes()).iter().map(|b| format!("{b:02x}")).collect()
}

impl Store {
    /// All devices, the one that was seen last first.
    ///
    /// # Errors
    /// What the database reports.
    pub fn devices(&self) -> Result<Vec<Device>, StoreError> {
        let rows: Vec<Row> = devices::table.order(devices::seen_at.desc()).load(&mut self.reading()?)?;
        rows.into_iter().map(read).collect()
    }

    /// One of them.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when it was removed.
    pub fn device(&self, id: DeviceId) -> Result<Device, StoreError> {
        let row: Option<Row> = devices::table.find(id.0).first(&mut self.reading()?).optional()?;
        read(row.ok_or(StoreError::NotFound)?)
    }

    /// Lets a device in.
    ///
    /// # Errors
    /// What the database reports.
    pub fn add_device(&self, name: &str, role: Role) -> Result<DeviceId, StoreError> {
        let now = self.now();
        let row = (
            devices::name.eq(name),
            devices::role.eq(role.key()),
            devices::added_at.eq(&now),
            devices::seen_at.eq(&now),
        );
        let id = diesel::insert_into(devices::table).values(row).returning(devices::id);
        self.write(|c| Ok(DeviceId(id.get_result(c)?)))
    }

    /// Notes that a device was there, once a minute at most.
    ///
    /// # Errors
    /// What the database reports.
    pub fn device_seen(&self, device: &Device) -> Result<(), StoreError> {
        if self.clock.now().duration_since(device.seen_at).as_secs() < 60 {
            return Ok(());
        }
        let seen = diesel::update(devices::table.find(device.id.0)).set(devices::seen_at.eq(self.now()));
        self.write(|c| {
            seen.execute(c)?;
            Ok(())
        })
    }

    /// Gives a device another role.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when it was removed.
    pub fn set_role(&self, id: DeviceId, role: Role) -> Result<(), StoreError> {
        let change = diesel::update(devices::table.find(id.0)).set(devices::role.eq(role.key()));
        let changed = self.write(|c| Ok(change.execute(c)?))?;
        if changed == 1 { Ok(()) } else { Err(StoreError::NotFound) }
    }

    /// Removes a device, and signs it out.
    ///
    /// # Errors
    /// What the database reports.
    pub fn remove_device(&self, id: DeviceId) -> Result<(), StoreError> {
        self.write(|c| {
            diesel::delete(devices::table.find(id.0)).execute(c)?;
            Ok(())
        })
    }

    /// Removes all devices, but for one that stays.
    ///
    /// # Errors
    /// What the database reports.
    pub fn remove_devices(&self, but: Option<DeviceId>) -> Result<usize, StoreError> {
        let stays = but.map_or(-1, |id| id.0);
        self.write(|c| Ok(diesel::delete(devices::table.filter(devices::id.ne(stays))).execute(c)?))
    }

    /// Keeps a session under its key, in the place of another where that has been rotated.
    ///
    /// # Errors
    /// What the database reports; a device that was removed meanwhile.
    pub fn keep_session(&self, key: &str, session: &Session) -> Result<(), StoreError> {
        let row = (
            sessions::key_hash.eq(hash(key)),
            sessions::device_id.eq(session.device.0),
            sessions::body.eq(&session.body),
            sessions::ends_at.eq(session.ends_at.to_string()),
        );
        self.write(|c| {
            diesel::replace_into(sessions::table).values(row).execute(c)?;
            Ok(())
        })
    }

    /// The session of a key, where there is one that has not ended.
    ///
    /// # Errors
    /// What the database reports.
    pub fn session(&self, key: &str) -> Result<Option<Session>, StoreError> {
        let row =
            sessions::table.find(hash(key)).select((sessions::device_id, sessions::body, sessions::ends_at));
        let found: Option<(i32, String, String)> = row.first(&mut self.reading()?).optional()?;
        let Some((device, body, ends_at)) = found else { return Ok(None) };
        let session = Session { device: DeviceId(device), body, ends_at: documents::time(&ends_at)? };
        Ok(Some(session).filter(|s| s.ends_at > self.clock.now()))
    }

    /// Ends a session.
    ///
    /// # Errors
    /// What the database reports.
    pub fn end_session(&self, key: &str) -> Result<(), StoreError> {
        self.write(|c| {
            diesel::delete(sessions::table.find(hash(key))).execute(c)?;
            Ok(())
        })
    }
}

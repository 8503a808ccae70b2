//! Links by which a device is let in once, within five minutes.

use std::collections::HashMap;
use std::sync::Mutex;

use cerealis_store::Role;
use jiff::{SignedDuration, Timestamp};
use sha2::{Digest, Sha256};

/// How long a link is good for.
pub const GOOD_FOR: SignedDuration = SignedDuration::from_mins(5);
/// The most links that are good at once.
const MOST: usize = 20;

type Hash = [u8; 32];

/// The links that are good, by the hash of what they end with: they are kept nowhere, and end with the program.
#[derive(Default)]
pub struct Links(Mutex<HashMap<Hash, (Role, Timestamp)>>);

fn hash(token: &str) -> Hash {
    Sha256::digest(token.as_bytes()).into()
}

impl Links {
    fn good(&self, now: Timestamp) -> std::sync::MutexGuard<'_, HashMap<Hash, (Role, Timestamp)>> {
        let mut all = self.0.lock().unwrap_or_else(|e| e.into_inner());
        all.retain(|_, (_, until)| *until > now);
        all
    }

    /// A new link for a role: what it ends with. `None` where too many are good already, or there is no chance to be had.
    pub fn make(&self, role: Role, now: Timestamp) -> Option<String> {
        let mut bytes = [0u8; 20];
        getrandom::fill(&mut bytes).ok()?;
        let token: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
        let mut all = self.good(now);
        if all.len() >= MOST {
            return None;
        }
        all.insert(hash(&token), (role, now + GOOD_FOR));
        Some(token)
    }

    /// Whether a link is good.
    pub fn is_good(&self, token: &str, now: Timestamp) -> bool {
        self.good(now).contains_key(&hash(token))
    }

    /// Uses a link up: the role that it is for. `None` where it is not good, or was used before.
    pub fn take(&self, token: &str, now: Timestamp) -> Option<Role> {
        self.good(now).remove(&hash(token)).map(|(role, _)| role)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_link_is_good_once_and_for_five_minutes() {
        let (links, now) = (Links::default(), Timestamp::UNIX_EPOCH);
        let one = links.make(Role::Helper, now).unwrap();
        let other = links.make(Role::Baker, now).unwrap();
        assert!(one.len() == 40 && one != other);
        assert_eq!(links.take(&one, now + SignedDuration::from_secs(299)), Some(Role::Helper));
        assert_eq!(links.take(&one, now), None, "used up");
        assert!(!links.is_good(&other, now + GOOD_FOR));
        assert_eq!(links.take(&other, now + GOOD_FOR), None, "too late");
        assert_eq!(links.take("", now), None);
    }
}

//! How often it may be tried to come in: by one address, and by all of them.

use std::net::IpAddr;
use std::num::NonZeroU32;
use std::time::Duration;

use governor::clock::{Clock, DefaultClock};
use governor::{DefaultDirectRateLimiter, DefaultKeyedRateLimiter, Quota, RateLimiter};
use tokio::sync::Semaphore;

/// So many times at once by one address, and then once in [`EACH`].
const AT_ONCE: NonZeroU32 = NonZeroU32::new(6).unwrap();
const EACH: Duration = Duration::from_secs(20);
/// So many times a minute by all together.
const BY_ALL: NonZeroU32 = NonZeroU32::new(40).unwrap();
/// How many addresses are remembered before those are forgotten that have waited.
const REMEMBERED: usize = 1000;
/// How many passphrases are looked at at once: each takes 19 MiB.
const LOOKED_AT: usize = 2;

/// The limits.
pub struct Limits {
    by_one: DefaultKeyedRateLimiter<IpAddr>,
    by_link: DefaultKeyedRateLimiter<IpAddr>,
    by_known: DefaultKeyedRateLimiter<String>,
    by_all: DefaultDirectRateLimiter,
    /// Who looks at a passphrase.
    pub looking: Semaphore,
}

impl Default for Limits {
    fn default() -> Self {
        let one = Quota::with_period(EACH).map_or(Quota::per_minute(AT_ONCE), |q| q.allow_burst(AT_ONCE));
        Limits {
            by_one: RateLimiter::keyed(one),
            by_link: RateLimiter::keyed(one),
            by_known: RateLimiter::keyed(one),
            by_all: RateLimiter::direct(Quota::per_minute(BY_ALL)),
            looking: Semaphore::new(LOOKED_AT),
        }
    }
}

impl Limits {
    /// Whether a device that was let in before may try once more, whatever others try; else how long it has to wait.
    ///
    /// # Errors
    /// The wait.
    pub fn try_known(&self, device: &str) -> Result<(), Duration> {
        if self.by_known.len() > REMEMBERED {
            self.by_known.retain_recent();
        }
        let now = DefaultClock::default().now();
        self.by_known.check_key(&device.to_owned()).map_err(|e| e.wait_time_from(now))
    }

    /// Whether an address may follow a link once more; else how long it has to wait. A link cannot be guessed: others who
    /// try keep nobody from it.
    ///
    /// # Errors
    /// The wait.
    pub fn try_link(&self, from: IpAddr) -> Result<(), Duration> {
        if self.by_link.len() > REMEMBERED {
            self.by_link.retain_recent();
        }
        let now = DefaultClock::default().now();
        self.by_link.check_key(&from).map_err(|e| e.wait_time_from(now))
    }

    /// Whether an address may try a passphrase once more; else how long it has to wait.
    ///
    /// # Errors
    /// The wait.
    pub fn try_once(&self, from: IpAddr) -> Result<(), Duration> {
        if self.by_one.len() > REMEMBERED {
            self.by_one.retain_recent();
        }
        let now = DefaultClock::default().now();
        // By one first: who is over that does not use up what the others have.
        self.by_one.check_key(&from).map_err(|e| e.wait_time_from(now))?;
        self.by_all.check().map_err(|e| e.wait_time_from(now))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_address_is_held_up_and_the_others_are_not() {
        let limits = Limits::default();
        let at = |n: u8| IpAddr::from([192, 168, 7, n]);
        assert!((0..6).all(|_| limits.try_once(at(1)).is_ok()));
        assert!(limits.try_once(at(1)).unwrap_err() > Duration::from_secs(10));
        assert!(limits.try_once(at(2)).is_ok());
    }

    #[test]
    fn all_together_are_held_up_too() {
        let limits = Limits::default();
        let tried = (0..200u8).filter(|n| limits.try_once(IpAddr::from([10, 0, 0, *n])).is_ok()).count();
        assert!((40..=41).contains(&tried), "{tried}");
        // Who was here before, and who has a link, come in all the same.
        let new = IpAddr::from([10, 0, 1, 1]);
        assert!(limits.try_once(new).is_err() && limits.try_link(new).is_ok());
        assert!((0..6).all(|_| limits.try_known("phone").is_ok()) && limits.try_known("phone").is_err());
    }
}

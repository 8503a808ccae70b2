//! The one place that asks for the time.

use std::fmt;
use std::sync::Arc;

use jiff::{RoundMode, Timestamp, TimestampRound, Unit};

/// What time it is: the system's, or what a test says.
#[derive(Clone)]
pub struct Clock(Arc<dyn Fn() -> Timestamp + Send + Sync>);

impl Clock {
    /// The system's clock.
    pub fn system() -> Clock {
        Clock(Arc::new(Timestamp::now))
    }

    /// A clock that goes by a function: it stands still, or is set on.
    pub fn by(now: impl Fn() -> Timestamp + Send + Sync + 'static) -> Clock {
        Clock(Arc::new(now))
    }

    /// This moment.
    pub fn now(&self) -> Timestamp {
        (self.0)()
    }

    /// The minute that began last. A day is planned to five minutes: seconds would only make the same
    /// thing look new.
    pub fn minute(&self) -> Timestamp {
        let now = self.now();
        let down = TimestampRound::new().smallest(Unit::Minute).mode(RoundMode::Floor);
        now.round(down).unwrap_or(now)
    }
}

impl fmt::Debug for Clock {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "Clock({})", self.now())
    }
}

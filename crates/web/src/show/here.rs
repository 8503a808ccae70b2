//! A moment as it is said to somebody who stands in the kitchen at another.

use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::clock;

/// The kitchen's clock and calendar at this moment.
pub struct Here {
    now: Timestamp,
    zone: TimeZone,
}

impl Here {
    /// At a moment.
    pub fn at(now: Timestamp, zone: TimeZone) -> Here {
        Here { now, zone }
    }

    /// By the clock alone: `13:15`.
    pub fn clock(&self, at: Timestamp) -> String {
        clock(&at.to_zoned_datetime(self.zone.clone()))
    }

    /// By the clock, and the day where it is not today: `13:15`, `13:15 tomorrow`, `13:15 on Saturday`, `13:15 on 3 Dec`.
    pub fn when(&self, at: Timestamp) -> String {
        let day = self.day(at);
        let gap = if day.is_empty() { "" } else { " " };
        format!("{}{gap}{day}", self.clock(at))
    }

    /// From one to another, the day once: `06:10 to 07:00 tomorrow`.
    pub fn between(&self, from: Timestamp, to: Timestamp) -> String {
        match self.day(from) == self.day(to) {
            true => format!("{} to {}", self.clock(from), self.when(to)),
            false => format!("{} to {}", self.when(from), self.when(to)),
        }
    }

    /// The day of a moment as it is called from here; nothing for today.
    pub fn day(&self, at: Timestamp) -> String {
        let date = |t: Timestamp| t.to_zoned_datetime(self.zone.clone()).date();
        let (today, then) = (date(self.now), date(at));
        let days = (then - today).get_days();
        match days {
            0 => String::new(),
            1 => "tomorrow".into(),
            -1 => "yesterday".into(),
            2..=6 => then.strftime("on %A").to_string(),
            _ => then.strftime("on %-d %b").to_string(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn here(at: &str) -> Here {
        Here::at(at.parse().unwrap(), TimeZone::get("Europe/Paris").unwrap())
    }

    fn said(now: &str, at: &str) -> String {
        here(now).when(at.parse().unwrap())
    }

    #[test]
    fn the_day_is_said_where_it_is_another() {
        // Paris is an hour ahead: 23:30 there is 22:30 here.
        let night = "2026-11-26T22:30:00Z";
        assert_eq!(said(night, "2026-11-26T22:45:00Z"), "23:45");
        assert_eq!(said(night, "2026-11-26T23:05:00Z"), "00:05 tomorrow");
        assert_eq!(said(night, "2026-11-27T12:15:00Z"), "13:15 tomorrow");
        assert_eq!(said(night, "2026-11-28T12:15:00Z"), "13:15 on Saturday");
        assert_eq!(said(night, "2026-12-03T12:15:00Z"), "13:15 on 3 Dec");
        assert_eq!(said("2026-11-26T23:30:00Z", "2026-11-26T22:50:00Z"), "23:50 yesterday");
        let between = |from: &str, to: &str| here(night).between(from.parse().unwrap(), to.parse().unwrap());
        assert_eq!(between("2026-11-27T05:10:00Z", "2026-11-27T06:00:00Z"), "06:10 to 07:00 tomorrow");
        assert_eq!(between("2026-11-26T22:50:00Z", "2026-11-26T23:10:00Z"), "23:50 to 00:10 tomorrow");
    }

    proptest! {
        /// Two moments of one week that are said alike are one minute.
        #[test]
        fn no_two_moments_of_a_week_are_said_alike(a in 0i64..9000, b in 0i64..9000) {
            let here = here("2026-11-26T08:00:00Z");
            let at = |m: i64| here.now + jiff::SignedDuration::from_mins(m);
            prop_assert_eq!(here.when(at(a)) == here.when(at(b)), a == b);
        }
    }
}

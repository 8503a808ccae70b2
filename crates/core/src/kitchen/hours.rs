//! When the baker sleeps and is away, by the day of the week.

use jiff::ZonedDateTime;
use jiff::civil::{Time, time};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Fault};
use crate::range::Range;
use crate::units::Minutes;

choice! {
    /// A day of the week.
    Weekday {
        /// Monday.
        Monday = "mon", "Monday";
        /// Tuesday.
        Tuesday = "tue", "Tuesday";
        /// Wednesday.
        Wednesday = "wed", "Wednesday";
        /// Thursday.
        Thursday = "thu", "Thursday";
        /// Friday.
        Friday = "fri", "Friday";
        /// Saturday.
        Saturday = "sat", "Saturday";
        /// Sunday.
        Sunday = "sun", "Sunday";
    }
}

impl Weekday {
    /// The day of the week of a moment.
    pub fn of(at: &ZonedDateTime) -> Weekday {
        Weekday::ALL[at.weekday().to_monday_zero_offset() as usize % 7]
    }

    /// The day before.
    pub fn before(self) -> Weekday {
        Weekday::ALL[(self as usize + 6) % 7]
    }
}

/// The night that begins in the evening of a day of the week.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Night {
    /// In the evening of which day; a bedtime after midnight belongs to the day before.
    pub evening: Weekday,
    /// When sleep begins.
    #[schemars(with = "String")]
    pub from: Time,
    /// When it ends.
    #[schemars(with = "String")]
    pub to: Time,
}

/// Hours of the week in which the baker is not at the bench.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Away {
    /// What it is, 1 to 40 characters.
    pub name: String,
    /// On which days of the week, at least one.
    pub days: Vec<Weekday>,
    /// When it begins.
    #[schemars(with = "String")]
    pub from: Time,
    /// When it ends, after midnight where it is before the beginning.
    #[schemars(with = "String")]
    pub to: Time,
    /// How long hands can be had in it all the same, if need be, 0 to 120 min: a fold at lunch.
    #[serde(default)]
    pub spares: Minutes,
}

/// Hours of the week in which a second pair of hands is at the bench, beside the baker's or instead.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Helper {
    /// Who it is, 1 to 40 characters.
    pub name: String,
    /// On which days of the week, at least one.
    pub days: Vec<Weekday>,
    /// When they come.
    #[schemars(with = "String")]
    pub from: Time,
    /// When they go, after midnight where it is before they come.
    #[schemars(with = "String")]
    pub to: Time,
}

/// The most hours of absence, and of a second pair of hands.
pub const AWAY_MAX: usize = 20;
const SPARES: Range = Range::of("What can be spared", 0.0, 120.0, "min");

/// The hours of one household.
#[derive(Clone, Debug, PartialEq)]
pub struct Hours {
    /// When sleep begins on an ordinary evening.
    pub sleep_from: Time,
    /// When it ends.
    pub sleep_to: Time,
    /// How long the baker gets up for if need be.
    pub wakes_for: Minutes,
    /// Nights that are otherwise, one an evening of the week.
    pub nights: Vec<Night>,
    /// Away from the bench.
    pub away: Vec<Away>,
    /// When a second pair of hands is there.
    pub helpers: Vec<Helper>,
}

impl Hours {
    /// When sleep begins and ends in the night of an evening.
    pub fn night(&self, evening: Weekday) -> (Time, Time) {
        let own = self.nights.iter().find(|n| n.evening == evening);
        own.map_or((self.sleep_from, self.sleep_to), |n| (n.from, n.to))
    }

    /// Whether the baker sleeps at this moment: in the night of this evening, or still in that of the evening before.
    pub fn asleep(&self, at: &ZonedDateTime) -> bool {
        let (t, today) = (at.time(), Weekday::of(at));
        // A night that ends as it begins is none.
        let tonight = |evening| {
            let (from, to) = self.night(evening);
            // A bedtime before noon lies after midnight, in the morning of the next day.
            (from, to, from < NOON)
        };
        let (from, to, after_midnight) = tonight(today);
        let this_evening = !after_midnight && t >= from && (from > to || t < to);
        let (from, to, after_midnight) = tonight(today.before());
        let last_evening = if after_midnight { from <= t && t < to } else { to < from && t < to };
        this_evening || last_evening
    }

    /// What keeps the baker from the bench at this moment, if anything does.
    pub fn away(&self, at: &ZonedDateTime) -> Option<&Away> {
        self.away.iter().find(|a| on(&a.days, (a.from, a.to), at))
    }

    /// Whether a second pair of hands is there at this moment.
    pub fn helped(&self, at: &ZonedDateTime) -> bool {
        self.helpers.iter().any(|h| on(&h.days, (h.from, h.to), at))
    }

    /// Notes what is out of order.
    pub(super) fn check(&self, c: &mut Check) {
        SPARES.check(c, "wakes_for", self.wakes_for.0);
        for (i, night) in self.nights.iter().enumerate() {
            if self.nights[..i].iter().any(|n| n.evening == night.evening) {
                let text = format!("The night of {} stands here twice.", night.evening.name());
                c.note(Fault::new("impossible", format!("nights.{i}.evening"), text));
            }
        }
        let away = self.away.iter().map(|a| (&a.name, &a.days));
        check_rows(c, "away", "Say what it is, in 1 to 40 characters.", away.collect());
        let helpers = self.helpers.iter().map(|h| (&h.name, &h.days));
        check_rows(c, "helpers", "Say who it is, in 1 to 40 characters.", helpers.collect());
        for (i, a) in self.away.iter().enumerate() {
            SPARES.check(c, &format!("away.{i}.spares"), a.spares.0);
        }
    }
}

/// Notes what is out of order in rows of the week, by their names and days.
fn check_rows(c: &mut Check, list: &str, name_it: &str, rows: Vec<(&String, &Vec<Weekday>)>) {
    if rows.len() > AWAY_MAX {
        c.note(Fault::new("out-of-range", list, format!("At most {AWAY_MAX} rows.")));
    }
    for (i, (name, days)) in rows.into_iter().enumerate() {
        if name.trim().is_empty() || name.chars().count() > 40 {
            c.note(Fault::new("missing", format!("{list}.{i}.name"), name_it));
        }
        if days.is_empty() {
            c.note(Fault::new("missing", format!("{list}.{i}.days"), "Choose at least one day."));
        }
    }
}

/// Whether hours of some days of the week cover a moment.
fn on(days: &[Weekday], hours: (Time, Time), at: &ZonedDateTime) -> bool {
    let today = Weekday::of(at);
    covers(hours, at.time(), days.contains(&today), days.contains(&today.before()))
}

/// Whether hours cover a time of day, that begin today, or began yesterday and go over midnight; they do where they end
/// before they begin.
pub fn covers((from, to): (Time, Time), t: Time, today: bool, yesterday: bool) -> bool {
    let over_midnight = to <= from;
    (today && t >= from && (over_midnight || t < to)) || (yesterday && over_midnight && t < to)
}

const NOON: Time = time(12, 0, 0, 0);

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use jiff::tz::TimeZone;

    fn usual() -> Hours {
        super::super::Kitchen::default().hours()
    }

    /// 2026-11-21 is a Saturday.
    fn at(day: i8, hour: i8, minute: i8) -> ZonedDateTime {
        date(2026, 11, day).at(hour, minute, 0, 0).to_zoned_datetime(TimeZone::UTC).unwrap()
    }

    #[test]
    fn sleep_goes_over_midnight() {
        let h = usual();
        assert!(h.asleep(&at(21, 23, 0)) && h.asleep(&at(21, 3, 0)));
        assert!(!h.asleep(&at(21, 6, 30)) && !h.asleep(&at(21, 12, 0)));
    }

    #[test]
    fn a_night_of_its_own_is_that_of_its_evening() {
        let late = Night { evening: Weekday::Saturday, from: time(1, 0, 0, 0), to: time(9, 0, 0, 0) };
        let h = Hours { nights: vec![late], ..usual() };
        assert!(!h.asleep(&at(21, 23, 30)), "up late on Saturday");
        assert!(!h.asleep(&at(22, 0, 30)) && h.asleep(&at(22, 1, 0)) && h.asleep(&at(22, 8, 30)));
        assert!(!h.asleep(&at(22, 9, 0)) && h.asleep(&at(22, 22, 30)), "Sunday is as ever");
        assert!(h.asleep(&at(21, 5, 0)), "and so is Friday's night");
    }

    #[test]
    fn away_goes_by_the_day_of_the_week() {
        let work = Away {
            name: "Work".into(),
            days: vec![Weekday::Friday],
            from: time(22, 0, 0, 0),
            to: time(2, 0, 0, 0),
            spares: Minutes(0.0),
        };
        let h = Hours { away: vec![work], ..usual() };
        assert!(h.away(&at(20, 22, 0)).is_some() && h.away(&at(21, 1, 59)).is_some());
        assert!(h.away(&at(21, 2, 0)).is_none() && h.away(&at(21, 23, 0)).is_none());
    }
}

//! When hands are at the bench in some days: by the kitchen's week, and by what is otherwise.

use jiff::civil::{Date, DateTime, Time};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp, ZonedDateTime};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::problem::{Closed, STEP};
use crate::choice::choice;
use crate::kitchen::{Hours, covers};
use crate::units::Minutes;

choice! {
    /// Who is at the bench, or is not, in hours that are otherwise than in other weeks.
    #[derive(Default)]
    Who {
        /// The baker is not.
        #[default]
        Away = "away", "I am away";
        /// The baker is, whatever the week says.
        Home = "home", "I am at home";
        /// Somebody is there beside the baker, or instead.
        Helped = "helped", "A second pair of hands is there";
        /// Nobody else is, whatever the week says.
        Unhelped = "unhelped", "No second pair of hands";
    }
}

/// Hours of one date in which the baker is not at the bench, beside those of the week.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Exception {
    /// The date.
    #[schemars(with = "String")]
    pub on: Date,
    /// From when.
    #[schemars(with = "String")]
    pub from: Time,
    /// To when; after midnight where it is before the beginning.
    #[schemars(with = "String")]
    pub to: Time,
    /// Who is there then, or is not.
    #[serde(default)]
    pub who: Who,
    /// What it is, at most 40 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
}

impl Exception {
    /// Whether it is the baker who is there or not, and not the second pair of hands.
    fn of_the_baker(&self) -> bool {
        matches!(self.who, Who::Away | Who::Home)
    }

    fn holds(&self, at: &DateTime) -> bool {
        let (date, t) = (at.date(), at.time());
        covers((self.from, self.to), t, date == self.on, date.yesterday().is_ok_and(|d| d == self.on))
    }
}

/// Some days at the bench.
pub(super) struct AtBench<'a> {
    pub(super) hours: Hours,
    pub(super) exceptions: &'a [Exception],
    pub(super) begins: Timestamp,
    /// How many steps they have.
    pub(super) length: i32,
    pub(super) zone: &'a TimeZone,
}

impl AtBench<'_> {
    /// The steps, each with its moment by the clock.
    fn steps(&self) -> impl Iterator<Item = (i32, ZonedDateTime)> {
        (0..self.length).map_while(|n| {
            let passed = SignedDuration::from_secs((f64::from(n) * STEP * 60.0) as i64);
            let at = self.begins.checked_add(passed).ok()?;
            Some((n, at.to_zoned_datetime(self.zone.clone())))
        })
    }

    /// The last exception that holds at a moment, of the baker or of the second pair of hands.
    fn otherwise(&self, of_the_baker: bool, at: &ZonedDateTime) -> Option<&Exception> {
        let at = at.datetime();
        self.exceptions.iter().rev().find(|e| e.of_the_baker() == of_the_baker && e.holds(&at))
    }

    /// What keeps the baker away at a moment: the steps that can be spared all the same, and whether it is sleep.
    fn baker_is_kept(&self, at: &ZonedDateTime) -> Option<(i32, bool)> {
        let spares = |m: Minutes| (m.0 / STEP).floor() as i32;
        match self.otherwise(true, at) {
            Some(e) if e.who == Who::Home => None,
            Some(_) => Some((0, false)),
            None if self.hours.asleep(at) => Some((spares(self.hours.wakes_for), true)),
            None => self.hours.away(at).map(|a| (spares(a.spares), false)),
        }
    }

    /// Whether a second pair of hands is there at a moment: by the date, or by the week.
    fn is_helped(&self, at: &ZonedDateTime) -> bool {
        self.otherwise(false, at).map_or_else(|| self.hours.helped(at), |e| e.who == Who::Helped)
    }

    /// The hours without any hands.
    pub(super) fn closed(&self) -> Vec<Closed> {
        let mut all: Vec<Closed> = Vec::new();
        for (n, at) in self.steps().filter(|(_, at)| !self.is_helped(at)) {
            let Some((spares, sleep)) = self.baker_is_kept(&at) else { continue };
            match all.last_mut() {
                Some(last) if last.to == n && last.sleep == sleep && last.spares == spares => last.to = n + 1,
                _ => all.push(Closed { from: n, to: n + 1, spares, sleep, certain: false }),
            }
        }
        all
    }

    /// The steps in which only one of two pairs of hands is there: the baker's, or the other.
    pub(super) fn one_less(&self) -> Vec<(i32, i32)> {
        let mut all: Vec<(i32, i32)> = Vec::new();
        for (n, _) in self.steps().filter(|(_, at)| !self.is_helped(at) || self.baker_is_kept(at).is_some()) {
            match all.last_mut() {
                Some(last) if last.1 == n => last.1 = n + 1,
                _ => all.push((n, n + 1)),
            }
        }
        all
    }
}

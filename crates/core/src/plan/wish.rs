//! What a baker asks of some days: which doughs, when each is wanted, and what may not be changed.

use jiff::Timestamp;
use jiff::civil::{Date, DateTime};
use jiff::tz::TimeZone;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::answer::PlannedStep;
use super::hands::{AtBench, Exception, Who};
use super::problem::{Closed, Gives, Problem, STEP, Wanted};
use super::things::rooms;
use super::ways::TakenLane;
use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::kitchen::Kitchen;

choice! {
    /// How a wished time is meant.
    #[derive(Default)]
    WantedAs {
        /// Ready at the time.
        #[default]
        At = "at", "at";
        /// Ready by then.
        By = "by", "by";
        /// Not ready before.
        NotBefore = "not-before", "not before";
        /// Whenever it comes.
        AnyTime = "any-time", "any time";
    }
}

/// A dough of the plan.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PlanDough {
    /// Its formula, by its number in the household.
    pub formula: i32,
    /// How its time is meant.
    #[serde(default)]
    pub wanted: WantedAs,
    /// When its bread is wanted, ready to cut; no matter when left out.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub at: Option<DateTime>,
    /// What may be changed for the plan.
    #[serde(default)]
    pub pins: Pins,
    /// Steps that the baker has set to a time.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub fixed: Vec<Fixed>,
}

/// What stays as it is written, whatever the plan.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct Pins {
    /// Not into the fridge.
    pub no_fridge: bool,
    /// The yeast as written.
    pub yeast: bool,
    /// The place as written.
    pub place: bool,
}

/// A step that begins at a time.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Fixed {
    /// The step, by its id.
    pub id: String,
    /// When.
    #[schemars(with = "String")]
    pub at: DateTime,
    /// What it is called, for the list of what is set.
    #[serde(default)]
    pub title: String,
}

/// Days that are planned together.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DayPlan {
    /// The first day.
    #[schemars(with = "String")]
    pub from: Date,
    /// How many days, 1 to 4.
    pub days: u32,
    /// How many pairs of hands there are, 1 or 2.
    #[serde(default = "one")]
    pub hands: u32,
    /// The doughs, at most 6.
    pub doughs: Vec<PlanDough>,
    /// What is otherwise than in other weeks.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub exceptions: Vec<Exception>,
    /// The plan that was taken of those that were offered; none yet when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub taken: Option<Taken>,
    /// What calendars were told of it.
    #[serde(default, skip_serializing_if = "is_nothing")]
    pub told: Told,
}

fn is_nothing(told: &Told) -> bool {
    *told == Told::default()
}

/// A plan that was taken: it stands as it was, whatever would be offered now.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Taken {
    /// The ways of its doughs.
    pub key: String,
    /// What it changes in the doughs, a sentence each.
    pub changes: Vec<String>,
    /// The names of its doughs.
    pub doughs: Vec<String>,
    /// What is done when.
    pub steps: Vec<PlannedStep>,
    /// What has become of it since, a sentence each.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub since: Vec<String>,
    /// The doughs as they are made: whatever becomes of their formulas since.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub lanes: Vec<TakenLane>,
}

/// What calendars were told of these days, so that what changes moves there, and what is dropped goes.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Told {
    /// How often: calendars go by the higher number.
    pub sequence: u32,
    /// Of which steps.
    pub steps: Vec<ToldStep>,
}

/// A step that calendars were told of.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ToldStep {
    /// Of which dough, by its place in the plan.
    pub dough: usize,
    /// Its id.
    pub id: String,
    /// What it was called.
    pub title: String,
    /// When it was to be.
    #[schemars(with = "String")]
    pub at: Timestamp,
}

fn one() -> u32 {
    1
}

/// The most doughs of a plan.
pub const DOUGHS_MAX: usize = 6;
/// The most days of a plan.
pub const DAYS_MAX: u32 = 4;
/// The most exceptions of a plan.
pub const EXCEPTIONS_MAX: usize = 40;

impl DayPlan {
    /// A plan of two days with nothing in it yet.
    pub fn beginning(from: Date) -> DayPlan {
        DayPlan {
            from,
            days: 2,
            hands: 1,
            doughs: Vec::new(),
            exceptions: Vec::new(),
            taken: None,
            told: Told::default(),
        }
    }

    /// These days with a plan that is followed from here on.
    pub fn following(self, taken: Taken) -> DayPlan {
        let mut told = self.told;
        told.sequence += u32::from(!told.steps.is_empty());
        for s in taken.steps.iter().filter(|s| s.hands_on) {
            let step = ToldStep { dough: s.dough, id: s.id.clone(), title: s.title.clone(), at: s.at };
            match told.steps.iter_mut().find(|t| t.dough == s.dough && t.id == s.id) {
                Some(known) => *known = step,
                None => told.steps.push(step),
            }
        }
        DayPlan { taken: Some(taken), told, ..self }
    }

    /// Checks every figure.
    ///
    /// # Errors
    /// Each that is out of range, by its field.
    pub fn check(&self) -> Result<(), Faults> {
        let mut c = Check::new();
        c.range("days", "The days", f64::from(self.days), 1.0, f64::from(DAYS_MAX), "");
        c.range("hands", "Pairs of hands", f64::from(self.hands), 1.0, 2.0, "");
        if !(2000..2100).contains(&self.from.year()) {
            c.note(Fault::new("impossible", "from", "Give a day in this century."));
        }
        if self.doughs.len() > DOUGHS_MAX {
            let text = format!("At most {DOUGHS_MAX} doughs are planned together.");
            c.note(Fault::new("out-of-range", "doughs", text));
        }
        if self.exceptions.len() > EXCEPTIONS_MAX {
            let text = format!("At most {EXCEPTIONS_MAX} exceptions.");
            c.note(Fault::new("out-of-range", "exceptions", text));
        }
        for (i, d) in self.doughs.iter().enumerate() {
            let path = format!("doughs.{i}.at");
            match d.at {
                None if d.wanted != WantedAs::AnyTime => {
                    c.note(Fault::new("missing", path, "Give the day and the time, or choose “any time”."));
                }
                Some(at) => {
                    let days = (at.date() - self.from).get_days();
                    if d.wanted != WantedAs::AnyTime && !(0..=self.days as i32).contains(&days) {
                        let text = "That is not within the days of this plan.";
                        c.note(Fault::new("out-of-range", path, text));
                    }
                }
                None => {}
            }
        }
        c.done(())
    }

    /// The moment at which the plan begins: midnight of its first day.
    pub fn begins(&self, zone: &TimeZone) -> Timestamp {
        moment(self.from.at(0, 0, 0, 0), zone)
    }

    /// The step of a time by the clock, from the plan's beginning: as many minutes as really pass.
    pub fn step(&self, at: DateTime, zone: &TimeZone) -> i32 {
        self.steps(at, zone).round() as i32
    }

    fn steps(&self, at: DateTime, zone: &TimeZone) -> f64 {
        minutes_between(self.begins(zone), moment(at, zone)).map_or(0.0, |m| m / STEP)
    }

    /// How many steps it has: to the end of its last day and the night after it.
    pub fn length(&self, zone: &TimeZone) -> i32 {
        let end = self.from.checked_add(jiff::Span::new().days(i64::from(self.days))).unwrap_or(self.from);
        self.step(end.at(6, 0, 0, 0), zone)
    }

    /// The hours without hands, by the kitchen's week and what is otherwise.
    pub fn closed(&self, kitchen: &Kitchen, zone: &TimeZone) -> Vec<Closed> {
        self.at_bench(kitchen, zone).closed()
    }

    fn at_bench<'a>(&'a self, kitchen: &Kitchen, zone: &'a TimeZone) -> AtBench<'a> {
        AtBench {
            hours: kitchen.hours(),
            exceptions: &self.exceptions,
            begins: self.begins(zone),
            length: self.length(zone),
            zone,
        }
    }

    /// The wish of a dough, in steps.
    pub fn wanted(&self, dough: &PlanDough, zone: &TimeZone) -> Wanted {
        match (dough.wanted, dough.at) {
            (WantedAs::AnyTime, _) | (_, None) => Wanted::AnyTime,
            (WantedAs::At, Some(at)) => Wanted::At(self.step(at, zone)),
            // Not a minute after, and not a minute before.
            (WantedAs::By, Some(at)) => Wanted::By(self.steps(at, zone).floor() as i32),
            (WantedAs::NotBefore, Some(at)) => Wanted::NotBefore(self.steps(at, zone).ceil() as i32),
        }
    }

    /// The problem without its doughs, as it stands at a moment: nothing begins before it.
    pub fn problem(&self, kitchen: &Kitchen, now: Timestamp) -> Problem {
        let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
        let since = minutes_between(self.begins(&zone), now).unwrap_or(0.0);
        let helped = self.exceptions.iter().any(|e| e.who == Who::Helped) || !kitchen.helpers.is_empty();
        let mut ovens = vec![kitchen.oven_levels as i32];
        ovens.extend(kitchen.ovens.iter().map(|o| o.levels as i32));
        Problem {
            begins: ((since / STEP).ceil() as i32).max(0),
            length: self.length(&zone),
            lanes: Vec::new(),
            closed: self.closed(kitchen, &zone),
            hands: if helped { 2 } else { self.hands as i32 },
            one_less: if helped && self.hands < 2 {
                self.at_bench(kitchen, &zone).one_less()
            } else {
                Vec::new()
            },
            ovens,
            oven_taken: Vec::new(),
            things: rooms(kitchen),
            gives: Gives::default(),
        }
    }
}

fn moment(at: DateTime, zone: &TimeZone) -> Timestamp {
    at.to_zoned_datetime(zone.clone()).map_or(Timestamp::UNIX_EPOCH, |z| z.timestamp())
}

fn minutes_between(from: Timestamp, to: Timestamp) -> Option<f64> {
    Some(to.duration_since(from).as_secs_f64() / 60.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kitchen::{Away, Helper, Weekday};
    use crate::units::Minutes;
    use jiff::civil::{date, time};

    /// 2026-11-27 is a Friday.
    fn kitchen() -> Kitchen {
        let work = Away {
            name: "Work".into(),
            days: vec![Weekday::Friday],
            from: time(9, 0, 0, 0),
            to: time(13, 0, 0, 0),
            spares: Minutes(10.0),
        };
        Kitchen { time_zone: "Europe/Paris".into(), away: vec![work], ..Kitchen::default() }
    }

    #[test]
    fn the_week_is_closed_where_the_baker_sleeps_or_is_away() {
        let plan = DayPlan::beginning(date(2026, 11, 27));
        let zone = kitchen().zone().unwrap();
        let closed = plan.closed(&kitchen(), &zone);
        let says: Vec<(i32, i32, i32, bool)> =
            closed.iter().map(|c| (c.from, c.to, c.spares, c.sleep)).collect();
        assert_eq!(
            says,
            [(0, 78, 0, true), (108, 156, 2, false), (270, 366, 0, true), (558, 648, 0, true)],
            "night, work, night, night"
        );
        let home = Exception {
            on: plan.from,
            from: time(8, 0, 0, 0),
            to: time(14, 0, 0, 0),
            who: Who::Home,
            name: String::new(),
        };
        let plan = DayPlan { exceptions: vec![home], ..plan };
        assert!(plan.closed(&kitchen(), &zone).iter().all(|c| c.sleep), "at home on Friday");
    }

    /// Somebody else comes in for Friday's work hours: hands are there, one pair at a time; where both are, two.
    #[test]
    fn a_second_pair_of_hands_has_its_own_hours() {
        let plan = DayPlan::beginning(date(2026, 11, 27));
        let zone = kitchen().zone().unwrap();
        let comes = Exception {
            on: plan.from,
            from: time(12, 0, 0, 0),
            to: time(15, 0, 0, 0),
            who: Who::Helped,
            name: "Neighbour".into(),
        };
        let plan = DayPlan { exceptions: vec![comes], ..plan };
        let now = plan.begins(&zone);
        let problem = plan.problem(&kitchen(), now);
        assert_eq!(
            (problem.hands, problem.closed[1].from, problem.closed[1].to),
            (2, 108, 144),
            "work until she comes"
        );
        // Two from when the baker is back at one, to three.
        let two = |n: i32| !problem.one_less.iter().any(|(a, b)| (*a..*b).contains(&n));
        assert!(!two(150) && two(156) && two(179) && !two(180), "{:?}", problem.one_less);
    }

    /// Somebody comes every Friday from three to six, but for one.
    #[test]
    fn a_second_pair_of_hands_comes_by_the_week() {
        let comes = Helper {
            name: "The children".into(),
            days: vec![Weekday::Friday],
            from: time(15, 0, 0, 0),
            to: time(18, 0, 0, 0),
        };
        let kitchen = Kitchen { helpers: vec![comes], ..kitchen() };
        let zone = kitchen.zone().unwrap();
        let plan = DayPlan::beginning(date(2026, 11, 27));
        let two = |plan: &DayPlan, n: i32| {
            let p = plan.problem(&kitchen, plan.begins(&zone));
            assert_eq!(p.hands, 2);
            !p.one_less.iter().any(|(a, b)| (*a..*b).contains(&n))
        };
        assert!(!two(&plan, 179) && two(&plan, 180) && two(&plan, 215) && !two(&plan, 216));
        assert!(!two(&plan, 288 + 190), "not on Saturday");
        let not_now = Exception {
            on: plan.from,
            from: time(15, 0, 0, 0),
            to: time(17, 0, 0, 0),
            who: Who::Unhelped,
            name: String::new(),
        };
        let plan = DayPlan { exceptions: vec![not_now], ..plan };
        assert!(!two(&plan, 180) && two(&plan, 204));
        assert!(plan.closed(&kitchen, &zone).iter().any(|c| (c.from, c.to) == (108, 156)), "work is as ever");
    }

    /// In Paris the clocks go back in the night to 25 October 2026: that night has an hour more.
    #[test]
    fn a_night_in_which_the_clocks_change_is_as_long_as_it_is() {
        let plan = DayPlan::beginning(date(2026, 10, 24));
        let zone = kitchen().zone().unwrap();
        let noon = |d| plan.step(date(2026, 10, d).at(12, 0, 0, 0), &zone);
        assert_eq!(noon(25) - noon(24), 25 * 12);
        let night = plan.closed(&kitchen(), &zone)[1];
        assert_eq!(night.to - night.from, 9 * 12);
    }

    #[test]
    fn what_is_outside_its_days_is_said_at_its_field() {
        let dough =
            |at| PlanDough { formula: 1, wanted: WantedAs::At, at, pins: Pins::default(), fixed: Vec::new() };
        let plan = DayPlan {
            doughs: vec![dough(None), dough(Some(date(2026, 12, 24).at(12, 0, 0, 0)))],
            days: 9,
            ..DayPlan::beginning(date(2026, 11, 27))
        };
        let paths: Vec<String> = plan.check().unwrap_err().0.into_iter().map(|f| f.path).collect();
        assert_eq!(paths, ["days", "doughs.0.at", "doughs.1.at"]);
    }
}

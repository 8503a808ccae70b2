//! The day: every step with its clock time, forward from a start or back from “ready at”.
//!
//! Steps are laid out in minutes from the first touch; the clock comes last, in the kitchen's
//! time zone, as exact stretches of time, so that a night in which the clocks change is as long
//! as it really is.

use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp, Unit, ZonedDateTime, ZonedDateTimeRound};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::Fault;
use crate::kitchen::Kitchen;
use crate::units::Minutes;

choice! {
    /// From where a day is planned.
    #[derive(Default)]
    Anchor {
        /// Forward from now.
        #[default]
        Now = "now", "From now";
        /// Forward from a start.
        Start = "start", "Start at";
        /// Back from when the bread is wanted.
        Ready = "ready", "Ready at";
    }
}

/// What is wanted at the Day station.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DayPlan {
    /// From where it is planned.
    #[serde(default)]
    pub anchor: Anchor,
    /// The start, or when the bread is wanted, by the kitchen's clock; needed unless from now.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub at: Option<DateTime>,
}

/// The station at which a step belongs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum StepKind {
    /// Levain or preferment.
    Levain,
    /// Weighing and mixing.
    Mix,
    /// Bulk rise.
    Bulk,
    /// Folding.
    Fold,
    /// Dividing and shaping.
    Shape,
    /// Final proof.
    Proof,
    /// Washes, seeds, cuts; butter and icing.
    Finish,
    /// Oven on, or lid off.
    Oven,
    /// In the oven.
    Bake,
    /// Cooling.
    Cool,
}

/// A step in minutes from the first touch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Step {
    /// Where it belongs.
    pub kind: StepKind,
    /// What it is called.
    pub title: String,
    /// What to do, and the sign to look for.
    pub detail: String,
    /// When it begins.
    pub start: Minutes,
    /// How long it takes.
    pub length: Minutes,
    /// Whether it needs hands.
    pub hands_on: bool,
}

impl Step {
    /// When it ends.
    pub fn end(&self) -> Minutes {
        self.start + self.length
    }

    fn overlaps(&self, other: &Step) -> bool {
        self.start.0 < other.end().0 - 1e-9 && other.start.0 < self.end().0 - 1e-9
    }
}

/// A step with its clock time.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct ClockStep {
    /// The step.
    #[serde(flatten)]
    pub step: Step,
    /// When it begins, in the kitchen's time zone.
    #[schemars(with = "String")]
    pub at: ZonedDateTime,
}

/// A day with its times.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Day {
    /// Steps in the order in which they begin.
    pub steps: Vec<ClockStep>,
    /// First touch.
    #[schemars(with = "String")]
    pub start: ZonedDateTime,
    /// When the bread can be cut.
    #[schemars(with = "String")]
    pub ready: ZonedDateTime,
    /// The early end of what is likely.
    #[schemars(with = "String")]
    pub ready_early: ZonedDateTime,
    /// The late end.
    #[schemars(with = "String")]
    pub ready_late: ZonedDateTime,
    /// From first touch to ready.
    pub length: Minutes,
    /// Of that, minutes with hands on.
    pub hands_on: Minutes,
    /// What to know: hands wanted at night, a start that has passed.
    pub notes: Vec<String>,
}

/// Lays steps out one after another, with short ones floating beside the waits.
#[derive(Debug, Default)]
pub struct Layout {
    steps: Vec<Step>,
    floating: Vec<Step>,
    end: f64,
}

impl Layout {
    /// Nothing yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// The end of what is laid out so far.
    pub fn end(&self) -> Minutes {
        Minutes(self.end)
    }

    /// Appends a step after all the others.
    pub fn then(
        &mut self,
        kind: StepKind,
        title: &str,
        detail: impl Into<String>,
        minutes: f64,
        hands_on: bool,
    ) {
        if minutes > 0.0 {
            let step = Step {
                kind,
                title: title.into(),
                detail: detail.into(),
                start: self.end(),
                length: Minutes(minutes),
                hands_on,
            };
            self.end += minutes;
            self.steps.push(step);
        }
    }

    /// A short hands-on step that should begin at `start`; it gives way to steps in line by
    /// moving earlier.
    pub fn beside(
        &mut self,
        kind: StepKind,
        title: &str,
        detail: impl Into<String>,
        start: f64,
        minutes: f64,
    ) {
        self.floating.push(Step {
            kind,
            title: title.into(),
            detail: detail.into(),
            start: Minutes(start),
            length: Minutes(minutes),
            hands_on: true,
        });
    }

    /// All steps in order of their start, from 0. One pair of hands never has two of them.
    pub fn finish(self) -> Vec<Step> {
        let mut steps = self.steps;
        for mut step in self.floating {
            while let Some(busy) = steps.iter().find(|s| s.hands_on && s.overlaps(&step)) {
                step.start = busy.start - step.length;
            }
            steps.push(step);
        }
        steps.sort_by(|a, b| a.start.0.total_cmp(&b.start.0));
        // A step that moved before the first touch becomes the first touch.
        let first = steps.first().map_or(0.0, |s| s.start.0).min(0.0);
        steps.iter_mut().for_each(|s| s.start.0 -= first);
        steps
    }
}

/// How uncertain the end is, in minutes before and after.
#[derive(Clone, Copy, Debug, Default)]
pub struct Doubt {
    /// How much earlier it may be.
    pub early: Minutes,
    /// How much later.
    pub late: Minutes,
}

/// Puts steps on the clock.
///
/// # Errors
/// A missing time, by its field.
pub fn schedule(
    steps: Vec<Step>,
    wish: &DayPlan,
    kitchen: &Kitchen,
    now: Timestamp,
    doubt: Doubt,
) -> Result<Day, Fault> {
    let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
    let length = steps.iter().map(|s| s.end().0).fold(0.0, f64::max);
    let now = now.to_zoned_datetime(zone.clone());
    let start = match wish.anchor {
        Anchor::Now => next_five_minutes(&now),
        Anchor::Start => on_clock(wish, &zone)?,
        Anchor::Ready => minus(&on_clock(wish, &zone)?, length),
    };
    let hands_on = steps.iter().filter(|s| s.hands_on).map(|s| s.length).sum();
    let clock: Vec<ClockStep> =
        steps.into_iter().map(|step| ClockStep { at: plus(&start, step.start.0), step }).collect();
    let ready = plus(&start, length);
    Ok(Day {
        notes: notes(&clock, kitchen, wish, &start, &now),
        steps: clock,
        ready_early: minus(&ready, doubt.early.0),
        ready_late: plus(&ready, doubt.late.0),
        start,
        ready,
        length: Minutes(length),
        hands_on,
    })
}

fn on_clock(wish: &DayPlan, zone: &TimeZone) -> Result<ZonedDateTime, Fault> {
    let missing = || Fault::new("missing", "day.at", "Give the date and time to plan from.");
    let impossible =
        || Fault::new("impossible", "day.at", "That time is too far away. Give one in this century.");
    let at = wish.at.ok_or_else(missing)?;
    if !(2000..2100).contains(&at.year()) {
        return Err(impossible());
    }
    at.to_zoned_datetime(zone.clone()).map_err(|_| impossible())
}

fn plus(z: &ZonedDateTime, minutes: f64) -> ZonedDateTime {
    let seconds = (minutes * 60.0).round() as i64;
    z.checked_add(SignedDuration::from_secs(seconds)).unwrap_or_else(|_| z.clone())
}

fn minus(z: &ZonedDateTime, minutes: f64) -> ZonedDateTime {
    plus(z, -minutes)
}

fn next_five_minutes(now: &ZonedDateTime) -> ZonedDateTime {
    let to = ZonedDateTimeRound::new().smallest(Unit::Minute).increment(5).mode(jiff::RoundMode::Ceil);
    now.round(to).unwrap_or_else(|_| now.clone())
}

fn notes(
    steps: &[ClockStep],
    kitchen: &Kitchen,
    wish: &DayPlan,
    start: &ZonedDateTime,
    now: &ZonedDateTime,
) -> Vec<String> {
    let mut notes = Vec::new();
    if wish.anchor != Anchor::Now && start < now {
        notes.push(
            "The first step of this plan lies in the past. Choose a later time, or plan from now.".into(),
        );
    }
    let night = steps.iter().find(|s| s.step.hands_on && kitchen.asleep(s.at.time()));
    if let Some(s) = night {
        notes.push(format!(
            "“{}” falls at {}, while you sleep. Start at another time, or make the rise slower or faster.",
            s.step.title,
            s.at.strftime("%H:%M")
        ));
    }
    notes
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    fn paris() -> Kitchen {
        Kitchen { time_zone: "Europe/Paris".into(), ..Kitchen::default() }
    }

    fn steps(rise: f64) -> Vec<Step> {
        let mut l = Layout::new();
        l.then(StepKind::Mix, "Mix", "", 20.0, true);
        l.then(StepKind::Bulk, "Bulk rise", "", rise, false);
        l.then(StepKind::Shape, "Shape", "", 10.0, true);
        let bake = l.end().0 + 40.0;
        l.then(StepKind::Proof, "Proof", "", 40.0, false);
        l.then(StepKind::Bake, "Bake", "", 35.0, false);
        l.beside(StepKind::Oven, "Oven on", "", bake - 45.0, 1.0);
        l.finish()
    }

    fn day(anchor: Anchor, at: DateTime, rise: f64) -> Day {
        let wish = DayPlan { anchor, at: Some(at) };
        let now = "2026-03-01T08:01:00Z".parse().unwrap();
        schedule(steps(rise), &wish, &paris(), now, Doubt::default()).unwrap()
    }

    #[test]
    fn back_from_ready_and_forward_from_that_start_are_one_plan() {
        let back = day(Anchor::Ready, date(2026, 3, 7).at(18, 0, 0, 0), 95.0);
        let forward = day(Anchor::Start, back.start.datetime(), 95.0);
        assert_eq!(back.steps, forward.steps);
        assert_eq!(back.ready, forward.ready);
    }

    /// In Paris the clocks go forward at 02:00 on 29 March 2026: eight hours of rise from 22:00
    /// end at 07:00 by the clock.
    #[test]
    fn a_night_in_which_the_clocks_change_is_as_long_as_it_is() {
        let d = day(Anchor::Start, date(2026, 3, 28).at(21, 40, 0, 0), 480.0);
        let shape = d.steps.iter().find(|s| s.step.kind == StepKind::Shape).unwrap();
        assert_eq!(shape.at.datetime(), date(2026, 3, 29).at(7, 0, 0, 0));
    }

    #[test]
    fn hands_at_night_are_said() {
        let d = day(Anchor::Start, date(2026, 3, 7).at(22, 0, 0, 0), 240.0);
        assert!(d.notes.iter().any(|n| n.contains("while you sleep")), "{:?}", d.notes);
    }

    #[test]
    fn a_missing_or_absurd_time_is_refused_at_its_field() {
        let now = Timestamp::UNIX_EPOCH;
        for at in [None, Some(date(9999, 1, 1).at(0, 0, 0, 0))] {
            let wish = DayPlan { anchor: Anchor::Ready, at };
            let fault = schedule(steps(60.0), &wish, &paris(), now, Doubt::default()).unwrap_err();
            assert_eq!(fault.path, "day.at");
        }
    }

    #[test]
    fn from_now_begins_at_the_next_five_minutes() {
        let now = "2026-03-01T08:01:10Z".parse().unwrap();
        let d = schedule(steps(60.0), &DayPlan::default(), &paris(), now, Doubt::default()).unwrap();
        assert_eq!(d.start.datetime(), date(2026, 3, 1).at(9, 5, 0, 0));
    }

    proptest! {
        #[test]
        fn one_pair_of_hands_never_has_two_steps(
            line in prop::collection::vec((1.0..60.0f64, any::<bool>()), 1..12),
            beside in prop::collection::vec((-50.0..400.0f64, 1.0..5.0f64), 0..6),
        ) {
            let mut l = Layout::new();
            for (minutes, hands) in line {
                l.then(StepKind::Mix, "", "", minutes, hands);
            }
            for (start, minutes) in beside {
                l.beside(StepKind::Oven, "", "", start, minutes);
            }
            let steps = l.finish();
            let busy: Vec<_> = steps.iter().filter(|s| s.hands_on).collect();
            for (i, a) in busy.iter().enumerate() {
                prop_assert!(a.start.0 >= 0.0);
                for b in &busy[i + 1..] {
                    prop_assert!(!a.overlaps(b), "{a:?} {b:?}");
                }
            }
        }
    }
}

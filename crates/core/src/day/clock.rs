//! Steps on the clock of the kitchen: waking hours, changes of the clock, and what to know of them.

use jiff::civil::DateTime;
use jiff::tz::{AmbiguousOffset, TimeZone};
use jiff::{SignedDuration, Timestamp, Unit, ZonedDateTime, ZonedDateTimeRound};
use schemars::JsonSchema;
use serde::Serialize;

use super::lay::Step;
use super::wish::{Anchor, DayWish};
use crate::fault::Fault;
use crate::kitchen::{Hours, Kitchen};
use crate::units::Minutes;

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
    /// When the last bread comes out of the oven.
    #[schemars(with = "String")]
    pub out: ZonedDateTime,
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
    /// Where hands are wanted while the baker sleeps: the next start within a day that wakes nobody.
    #[schemars(with = "Option<String>")]
    pub free_start: Option<ZonedDateTime>,
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
    wish: &DayWish,
    kitchen: &Kitchen,
    now: Timestamp,
    doubt: Doubt,
) -> Result<Day, Fault> {
    let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
    let hours = kitchen.hours();
    let length = steps.iter().map(|s| s.end().0).fold(0.0, f64::max);
    let now = now.to_zoned_datetime(zone.clone());
    let start = match wish.anchor {
        Anchor::Now => next_five_minutes(&now),
        Anchor::Start => on_clock(wish, &zone)?,
        Anchor::Ready => minus(&on_clock(wish, &zone)?, length),
    };
    let hands_on = steps.iter().filter(|s| s.hands_on).map(|s| s.length).sum();
    let out = steps.iter().filter(|s| s.id.starts_with("out.")).map(|s| s.end().0).fold(0.0, f64::max);
    let clock: Vec<ClockStep> =
        steps.into_iter().map(|step| ClockStep { at: plus(&start, step.start.0), step }).collect();
    let ready = plus(&start, length);
    let woken = clock.iter().find(|c| wakes(c, &hours));
    let free_start = woken.and_then(|_| free_start(&clock, &hours, &start, &now));
    let mut notes = notes(woken, free_start.as_ref(), wish, &start, &now);
    if wish.anchor != Anchor::Now {
        notes.extend(wish.at.and_then(|at| strange_hour(at, &zone)));
    }
    Ok(Day {
        notes,
        free_start,
        steps: clock,
        ready_early: minus(&ready, doubt.early.0),
        ready_late: plus(&ready, doubt.late.0),
        out: plus(&start, out),
        start,
        ready,
        length: Minutes(length),
        hands_on,
    })
}

/// Whether a step wants hands while the baker sleeps, at its beginning or its end.
fn wakes(c: &ClockStep, hours: &Hours) -> bool {
    let last = plus(&c.at, (c.step.length.0 - 1.0).max(0.0));
    c.step.hands_on && (hours.asleep(&c.at) || hours.asleep(&last))
}

/// The next start within a day, to five minutes, at which nobody is woken.
fn free_start(
    steps: &[ClockStep],
    hours: &Hours,
    start: &ZonedDateTime,
    now: &ZonedDateTime,
) -> Option<ZonedDateTime> {
    let first = next_five_minutes(if start > now { start } else { now });
    (0..=288).map(|n| plus(&first, 5.0 * f64::from(n))).find(|begin| {
        !steps
            .iter()
            .any(|c| wakes(&ClockStep { at: plus(begin, c.step.start.0), step: c.step.clone() }, hours))
    })
}

/// What is said of an hour that the change of the clocks leaves out, or brings twice.
fn strange_hour(at: DateTime, zone: &TimeZone) -> Option<String> {
    let clock = |z: ZonedDateTime| z.strftime("%H:%M").to_string();
    let taken = || at.to_zoned_datetime(zone.clone()).ok().map(clock);
    match zone.to_ambiguous_zoned_datetime(at).offset() {
        AmbiguousOffset::Unambiguous { .. } => None,
        AmbiguousOffset::Gap { .. } => Some(format!(
            "{} does not exist that night: the clocks go forward. It is taken for {}.",
            at.strftime("%H:%M"),
            taken()?
        )),
        AmbiguousOffset::Fold { .. } => Some(format!(
            "{} comes twice that night: the clocks go back. The first is taken.",
            at.strftime("%H:%M")
        )),
    }
}

fn on_clock(wish: &DayWish, zone: &TimeZone) -> Result<ZonedDateTime, Fault> {
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
    woken: Option<&ClockStep>,
    free_start: Option<&ZonedDateTime>,
    wish: &DayWish,
    start: &ZonedDateTime,
    now: &ZonedDateTime,
) -> Vec<String> {
    let mut notes = Vec::new();
    if wish.anchor != Anchor::Now && start < now {
        notes.push(
            "The first step of this plan lies in the past. Choose a later time, or plan from now.".into(),
        );
    }
    if let Some(s) = woken {
        let mend = match free_start {
            Some(at) => wakes_nobody(at),
            None => "No start within a day leaves the night free: let it rise in the fridge overnight, or make a rise slower or faster.".to_owned(),
        };
        notes.push(format!(
            "“{}” falls at {}, while you sleep. {mend}",
            s.step.title,
            s.at.strftime("%H:%M")
        ));
    }
    notes
}

fn wakes_nobody(at: &ZonedDateTime) -> String {
    format!("Started at {}, it wakes nobody.", at.strftime("%H:%M on %a %-d %b"))
}

impl Day {
    /// Offers another start than was found by shifting the steps as they are: where a place is cooler by night, a
    /// rise that begins at another hour has another length.
    pub fn offer(&mut self, start: ZonedDateTime) {
        if let Some(before) = self.free_start.replace(start.clone()) {
            let (was, is) = (wakes_nobody(&before), wakes_nobody(&start));
            self.notes.iter_mut().for_each(|n| *n = n.replace(&was, &is));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::lay::lay;
    use super::super::task::{Lasts, Moment, Moves, StepKind, Task, Tasks};
    use super::super::wish::{Anchor, DayWish};
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;

    fn paris() -> Kitchen {
        Kitchen { time_zone: "Europe/Paris".into(), ..Kitchen::default() }
    }

    fn steps(rise: f64) -> Vec<Step> {
        let wait =
            |id: &str, kind, title: &str, minutes| Task::wait(id, kind, title, Lasts::just(Minutes(minutes)));
        let mut l = Tasks::new();
        l.then(Task::deed("mix.0", StepKind::Mix, "Mix", 20.0));
        l.then(wait("bulk", StepKind::Bulk, "Bulk rise", rise));
        l.then(Task::deed("shape", StepKind::Shape, "Shape", 10.0));
        l.then(wait("proof", StepKind::Proof, "Proof", 40.0));
        let baked = l.end();
        l.then(wait("bake.main", StepKind::Bake, "Bake", 35.0));
        let on = Task::deed("oven-on", StepKind::Oven, "Oven on", 1.0);
        l.beside(on, baked.later(-45.0), Moves::within(1e4, 44.0));
        lay(&l.into_tasks()).steps
    }

    fn day(anchor: Anchor, at: DateTime, rise: f64) -> Day {
        let wish = DayWish { anchor, at: Some(at) };
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

    /// In Paris 02:30 does not exist on 29 March 2026, and comes twice on 25 October.
    #[test]
    fn an_hour_that_is_not_there_or_comes_twice_is_said() {
        let gone = day(Anchor::Start, date(2026, 3, 29).at(2, 30, 0, 0), 60.0);
        assert!(
            gone.notes.iter().any(|n| n.contains("does not exist") && n.contains("03:30")),
            "{:?}",
            gone.notes
        );
        let twice = day(Anchor::Ready, date(2026, 10, 25).at(2, 30, 0, 0), 60.0);
        assert!(twice.notes.iter().any(|n| n.contains("comes twice")), "{:?}", twice.notes);
    }

    /// The mend that is offered is one: started then, nobody is woken.
    #[test]
    fn a_plan_into_the_night_offers_a_start_that_wakes_nobody() {
        let d = day(Anchor::Start, date(2026, 3, 7).at(21, 0, 0, 0), 240.0);
        let mended = day(Anchor::Start, d.free_start.unwrap().datetime(), 240.0);
        assert!(mended.free_start.is_none() && mended.notes.is_empty(), "{:?}", mended.notes);
        let never = day(Anchor::Start, date(2026, 3, 7).at(21, 0, 0, 0), 60.0 * 9.0);
        assert!(never.notes.iter().any(|n| n.contains("fridge")) == never.free_start.is_none());
    }

    #[test]
    fn a_deed_stands_before_its_wait_and_nothing_before_the_first_touch() {
        let mut l = Tasks::new();
        let lasts = Lasts::just(Minutes(300.0));
        l.then(Task::wait("wait", StepKind::Levain, "The levain stands", lasts));
        let anywhere = Moves::either_way(1e4);
        l.beside(Task::deed("deed", StepKind::Levain, "Set the levain", 5.0), Moment::first(), anywhere);
        let on = Task::deed("early", StepKind::Oven, "Oven on", 1.0);
        l.beside(on, Moment::first().later(-30.0), anywhere);
        let laid = lay(&l.into_tasks());
        let (steps, put_off) = (&laid.steps, laid.minute(&Moment::first()).unwrap());
        let ids: Vec<&str> = steps.iter().map(|s| s.id.as_str()).collect();
        assert_eq!(ids, ["early", "deed", "wait"]);
        assert_eq!((steps[0].start, steps[1].start, put_off), (Minutes(0.0), Minutes(30.0), Minutes(30.0)));
    }

    #[test]
    fn a_missing_or_absurd_time_is_refused_at_its_field() {
        let now = Timestamp::UNIX_EPOCH;
        for at in [None, Some(date(9999, 1, 1).at(0, 0, 0, 0))] {
            let wish = DayWish { anchor: Anchor::Ready, at };
            let fault = schedule(steps(60.0), &wish, &paris(), now, Doubt::default()).unwrap_err();
            assert_eq!(fault.path, "day.at");
        }
    }

    #[test]
    fn from_now_begins_at_the_next_five_minutes() {
        let now = "2026-03-01T08:01:10Z".parse().unwrap();
        let d = schedule(steps(60.0), &DayWish::default(), &paris(), now, Doubt::default()).unwrap();
        assert_eq!(d.start.datetime(), date(2026, 3, 1).at(9, 5, 0, 0));
    }

    proptest! {
        #[test]
        fn one_pair_of_hands_never_has_two_steps(
            line in prop::collection::vec((1.0..60.0f64, any::<bool>()), 1..12),
            beside in prop::collection::vec((-50.0..400.0f64, 1.0..5.0f64), 0..6),
            wide in 0.0..30.0f64,
        ) {
            let mut l = Tasks::new();
            for (n, (minutes, hands)) in line.into_iter().enumerate() {
                let id = n.to_string();
                l.then(match hands {
                    true => Task::deed(id, StepKind::Mix, "", minutes),
                    false => Task::wait(id, StepKind::Mix, "", Lasts::just(Minutes(minutes))),
                });
            }
            for (n, (start, minutes)) in beside.into_iter().enumerate() {
                let deed = Task::deed(format!("b{n}"), StepKind::Oven, "", minutes);
                l.beside(deed, Moment::first().later(start), Moves::either_way(wide));
            }
            let steps = lay(&l.into_tasks()).steps;
            let busy: Vec<_> = steps.iter().filter(|s| s.hands_on).collect();
            for (i, a) in busy.iter().enumerate() {
                prop_assert!(a.start.0 >= 0.0);
                for b in &busy[i + 1..] {
                    prop_assert!(!a.overlaps(b), "{a:?} {b:?}");
                }
            }
        }

        /// However full the hands are, nothing is done before what it needs, nor after what needs it.
        #[test]
        fn a_deed_stays_on_its_side_of_what_it_hangs_on(
            line in prop::collection::vec((1.0..60.0f64, any::<bool>()), 1..12),
            beside in prop::collection::vec((0usize..12, any::<bool>(), -50.0..50.0f64, 1.0..5.0f64), 0..6),
            (sooner, later) in (0.0..30.0f64, 0.0..30.0f64),
        ) {
            let mut l = Tasks::new();
            let steps = line.len();
            for (n, (minutes, hands)) in line.into_iter().enumerate() {
                let id = n.to_string();
                l.then(match hands {
                    true => Task::deed(id, StepKind::Mix, "", minutes),
                    false => Task::wait(id, StepKind::Mix, "", Lasts::just(Minutes(minutes))),
                });
            }
            let mut hung = Vec::new();
            for (n, (of, end, plus, minutes)) in beside.into_iter().enumerate() {
                let of = (of % steps).to_string();
                let on = if end { Moment::end(&of) } else { Moment::start(&of) };
                let deed = Task::deed(format!("b{n}"), StepKind::Oven, "", minutes);
                l.beside(deed, on.later(plus), Moves::within(sooner, later));
                hung.push((format!("b{n}"), on, plus, minutes));
            }
            let laid = lay(&l.into_tasks());
            for (id, on, plus, minutes) in hung {
                let (of, at) = (laid.minute(&on).unwrap(), laid.minute(&Moment::start(&id)).unwrap());
                if plus >= 0.0 {
                    prop_assert!(at.0 >= of.0 - 1e-6, "{id} at {at:?}, after {of:?}");
                } else if plus + minutes <= 0.0 {
                    prop_assert!(at.0 + minutes <= of.0 + 1e-6, "{id} at {at:?}, before {of:?}");
                }
            }
        }
    }
}

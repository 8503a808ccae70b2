//! Days in kitchens whose nights are cooler: what is offered is what the engines say of a dough that begins then.

use std::collections::BTreeMap;

use cerealis_core::day::{Anchor, DayWish, Task};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::{Kitchen, KitchenPlace};
use cerealis_core::pantry::Catalogue;
use cerealis_core::plan::{
    Asked, DayPlan, DaysAnswer, DaysInput, KnownWays, OfferAnswer, Otherwise, Pins, PlanDough, ReplanInput,
    Rest, Search, WantedAs, days, replan,
};
use cerealis_core::stations::{KnownBakes, read_to_plan};
use cerealis_core::units::Celsius;
use cerealis_core::words::Style;
use jiff::SignedDuration;
use jiff::civil::{Date, date};
use jiff::tz::TimeZone;
use proptest::prelude::*;
use proptest::sample::select;

const FRIDAY: Date = date(2026, 11, 27);

/// A house that cools down by so many K, with a porch that does so more.
fn kitchen(night: f64) -> Kitchen {
    let porch = KitchenPlace {
        name: "Porch".into(),
        temperature: Celsius(16.0),
        night: 1.5 * night,
        tubs: None,
        measured: None,
    };
    Kitchen { time_zone: "Europe/Paris".into(), night, places: vec![porch], ..Kitchen::default() }
}

fn asked(style: Style, night: f64, wanted: WantedAs, hour: i8, pins: Pins) -> DaysInput {
    let at = Some(date(2026, 11, 28).at(hour, 0, 0, 0));
    let dough = PlanDough { formula: 1, wanted, at, pins, fixed: Vec::new() };
    DaysInput {
        plan: DayPlan { doughs: vec![dough], ..DayPlan::beginning(FRIDAY) },
        formulas: BTreeMap::from([(1, Formula::beginning(style.name(), style))]),
        kitchen: kitchen(night),
        now: "2026-11-27T08:00:00Z".parse().unwrap(),
    }
}

const RISES: [&str; 3] = ["bulk", "second", "proof"];

/// The tasks of an offer's dough as the engines have them where it begins at its first touch.
fn from_its_beginning(input: &DaysInput, offer: &OfferAnswer) -> Vec<Task> {
    let zone = TimeZone::get("Europe/Paris").unwrap();
    let day = DayWish { anchor: Anchor::Start, at: Some(offer.first.to_zoned_datetime(zone).datetime()) };
    let formula = Formula { day, ..offer.lanes[0].formula.clone() };
    let bakes = KnownBakes::default();
    read_to_plan(&formula, &input.kitchen, Catalogue::bundled(), input.now, &bakes).unwrap().tasks
}

/// What is as good as nothing, min: the plan goes by steps of five, and no forecast of a short proof is nearer.
const A_LITTLE: f64 = 4.0;

/// How far the rises of an offer are from what the engines say of that hour, as a part of them; those that stand by the
/// clock, as so many hours in a fridge, are left out.
fn off(input: &DaysInput, offer: &OfferAnswer) -> f64 {
    let again = from_its_beginning(input, offer);
    let rises = offer.lanes[0].formula.rise.rises();
    let by_itself = RISES.into_iter().filter(|id| rises.iter().any(|(r, w)| r == id && w.stays.is_none()));
    let best = |tasks: &[Task], id: &str| tasks.iter().find(|t| t.id == id).map(|t| t.lasts.best.0);
    by_itself
        .filter_map(|id| {
            let (planned, real) = (best(&offer.lanes[0].tasks, id)?, best(&again, id)?);
            let apart = (planned - real).abs();
            Some(if apart <= A_LITTLE { 0.0 } else { apart / real })
        })
        .fold(0.0, f64::max)
}

fn planned(input: &DaysInput) -> DaysAnswer {
    days(input, Catalogue::bundled()).unwrap()
}

/// Bread for breakfast, from a dough that stands in a room which cools by eight degrees: its rise takes longer by night
/// than one of the same dough by day, and the plan knows it.
#[test]
fn a_rise_by_night_is_longer_where_nights_are_cooler() {
    let pins = Pins { no_fridge: true, yeast: true, place: true };
    let bulk = |night: f64| {
        let input = asked(Style::NoKnead, night, WantedAs::At, 13, pins);
        let answer = planned(&input);
        let task = answer.offers[0].lanes[0].tasks.iter().find(|t| t.id == "bulk").unwrap().lasts.best.0;
        assert!(off(&input, &answer.offers[0]) < 0.05, "{}", off(&input, &answer.offers[0]));
        task
    };
    assert!(bulk(8.0) > 1.15 * bulk(0.0), "{} and {}", bulk(8.0), bulk(0.0));
}

/// A day that is moved by hand goes by the hour to which it is moved.
#[test]
fn what_is_dragged_into_the_night_is_longer_too() {
    let pins = Pins { no_fridge: true, yeast: true, place: true };
    let at = |hour| {
        let input = asked(Style::Hearth, 8.0, WantedAs::At, hour, pins);
        let asked = Asked::of(&input, Catalogue::bundled(), &mut KnownWays::default()).unwrap();
        let offer = asked.quick_of("as-written").unwrap();
        assert!(off(&input, &offer) < 0.05, "{}", off(&input, &offer));
        offer.lanes[0].tasks.iter().find(|t| t.id == "bulk").unwrap().lasts.best.0
    };
    assert!(at(14) > 1.05 * at(20), "{} from early on, {} by day", at(14), at(20));
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 12, ..ProptestConfig::default() })]

    /// Whatever is offered is what the engines say of a dough that is begun at that hour.
    #[test]
    fn what_is_offered_is_worked_out_for_its_hour(
        style in select(&Style::ALL[..]),
        night in 0.0..9.0f64,
        wanted in select(&WantedAs::ALL[..]),
        hour in 7i8..23,
        no_fridge in any::<bool>(),
    ) {
        let input = asked(style, night, wanted, hour, Pins { no_fridge, ..Pins::default() });
        for offer in planned(&input).offers {
            let off = off(&input, &offer);
            prop_assert!(off < 0.08, "{} {:.3} off", offer.offer.key, off);
        }
    }

    /// What was read for one wish, and for what came of it, says nothing else of the next than a kitchen that knows nothing.
    #[test]
    fn what_is_known_changes_no_plan(
        style in select(&Style::ALL[..]),
        night in select(&[0.0, 5.0][..]),
        hours in (9i8..16, 16i8..22),
    ) {
        let of = |hour| asked(style, night, WantedAs::At, hour, Pins::default());
        let (before, input) = (of(hours.0), of(hours.1));
        let catalogue = Catalogue::bundled();
        let mut known = KnownWays::default();
        let first = Asked::of(&before, catalogue, &mut known).unwrap().plan(Search::default());
        let taken = first.take(&first.offers[0].offer.key).unwrap();
        let late = Otherwise::NoHands { until: before.now + SignedDuration::from_mins(40) };
        let on = ReplanInput { days: before, taken, otherwise: late, bench: Vec::new() };
        let onward = |known: &mut KnownWays| {
            let plans = Rest::of(&on, catalogue, known).unwrap().plan().offers;
            plans.into_iter().map(|o| (o.offer.offer.key, o.offer.offer.cost)).collect::<Vec<_>>()
        };
        prop_assert_eq!(onward(&mut known), onward(&mut KnownWays::default()));
        let says = |known: &mut KnownWays| {
            let plans = Asked::of(&input, catalogue, known).unwrap().plan(Search::default()).offers;
            plans.into_iter().map(|o| (o.offer.key, o.offer.cost, o.first)).collect::<Vec<_>>()
        };
        prop_assert_eq!(says(&mut known), says(&mut KnownWays::default()));
    }

    /// What has begun and goes otherwise is worked out from when it really began, however late it is looked at.
    #[test]
    fn a_followed_plan_of_nothing_new_stays(night in 0.0..9.0f64, hour in 10i8..22, later in 0i64..900) {
        let input = asked(Style::Tin, night, WantedAs::At, hour, Pins::default());
        let answer = planned(&input);
        let first = &answer.offers[0];
        let taken = answer.take(&first.offer.key).unwrap();
        let now = first.first + SignedDuration::from_mins(later % (first.offer.plan.costs.span as i64).max(1));
        let days = DaysInput { now, ..input };
        let on = replan(&ReplanInput { days, taken, otherwise: Otherwise::Nothing, bench: Vec::new() }, Catalogue::bundled()).unwrap();
        prop_assert!(on.gives_up.is_empty(), "{:?}", on.gives_up);
        prop_assert!(on.offers[0].moved[0].abs() <= 5.0, "{:?}", on.offers[0].moved);
    }
}

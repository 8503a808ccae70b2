//! Plans beside each other: what they differ in, a row each.

use cerealis_core::plan::OfferAnswer;
use cerealis_core::units::{Minutes, shown};
use jiff::tz::TimeZone;

use super::said::said;

/// What several plans differ in: a name, and its figure for each of them.
pub(super) struct Row {
    pub(super) name: &'static str,
    pub(super) figures: Vec<String>,
}

/// The rows in which plans differ, in the order in which a baker asks; none of one plan alone.
pub(super) fn beside(offers: &[OfferAnswer], zone: &TimeZone) -> Vec<Row> {
    let row = |name, figure: &dyn Fn(&OfferAnswer) -> String| Row {
        name,
        figures: offers.iter().map(figure).collect(),
    };
    let minutes = |m: f64| if m < 0.5 { "none".to_owned() } else { shown::time(Minutes(m)) };
    let all = [
        row("First touch", &|o| said(o.first, zone)),
        row("Changed", &|o| match o.offer.changes.len() {
            0 => "nothing".to_owned(),
            1 => "1 dough".to_owned(),
            n => format!("{n} doughs"),
        }),
        row("Holds on, of 100 days", &|o| format!("{:.0}", o.offer.chance.holds)),
        row("From sleep or absence", &|o| minutes(o.offer.plan.costs.spared)),
        row("Hands on", &|o| shown::time(o.hands_on)),
        row("In so many stretches", &|o| o.touches.to_string()),
        row("Longest free stretch", &|o| minutes(o.free.0)),
        row("Oven heated", &|o| match o.offer.plan.costs.heatings {
            1 => "once".to_owned(),
            n => format!("{n} times"),
        }),
    ];
    let differ = |row: &Row| row.figures.iter().any(|f| *f != row.figures[0]);
    all.into_iter().filter(|row| !offers.is_empty() && differ(row)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::formula::Formula;
    use cerealis_core::kitchen::Kitchen;
    use cerealis_core::pantry::Catalogue;
    use cerealis_core::plan::{DayPlan, DaysInput, Pins, PlanDough, WantedAs, days};
    use cerealis_core::words::Style;
    use jiff::civil::date;

    #[test]
    fn what_plans_have_in_common_is_no_row() {
        let at = Some(date(2026, 11, 28).at(18, 0, 0, 0));
        let dough =
            PlanDough { formula: 1, wanted: WantedAs::At, at, pins: Pins::default(), fixed: Vec::new() };
        let input = DaysInput {
            plan: DayPlan { doughs: vec![dough], ..DayPlan::beginning(date(2026, 11, 27)) },
            formulas: [(1, Formula::beginning("A loaf", Style::Tin))].into(),
            kitchen: Kitchen::default(),
            now: "2026-11-27T08:00:00Z".parse().unwrap(),
        };
        let offers = days(&input, Catalogue::bundled()).unwrap().offers;
        assert!(offers.len() > 1);
        let rows = beside(&offers, &TimeZone::UTC);
        assert!(rows.iter().any(|r| r.name == "First touch"), "plans that are offered are different days");
        for row in &rows {
            assert_eq!(row.figures.len(), offers.len());
            assert!(row.figures.iter().any(|f| f != &row.figures[0]), "{}", row.name);
        }
        // One bake each: the oven is heated once in all of them.
        assert!(!rows.iter().any(|r| r.name == "Oven heated"));
        assert!(beside(&offers[..1], &TimeZone::UTC).is_empty());
    }
}

//! The plan of some days written into its form, and read from it.

use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::absences;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::plan::{
    DAYS_MAX, DayPlan, EXCEPTIONS_MAX, Exception, Fixed, Pins, PlanDough, Told, WantedAs, Who,
};
use jiff::civil::Date;

use crate::form::rows::{self as of_form, Press, at_its_row, moved};
use crate::form::{Form, Reader, Visit, fill_with};
use crate::household::Household;

/// The lists of the page, and the field that tells that a row is there.
const LISTS: [(&str, &str); 2] = [("doughs", "formula"), ("exceptions", "from")];

/// The numbers of the rows of a list, in order.
pub fn rows(form: &Form, list: &str) -> Vec<usize> {
    of_form::rows(form, &LISTS, list)
}

/// Writes a plan into a form.
pub fn fill(plan: &DayPlan, kitchen: &Kitchen, today: Date) -> Form {
    let mut form = Form::within(kitchen.notation());
    let notation = kitchen.notation();
    let tick = |on: bool| if on { "on" } else { "" };
    form.set("today", today.to_string());
    form.set("from.day", plan.from.to_string());
    form.set("days", plan.days.to_string());
    form.set("hands", plan.hands.to_string());
    for (n, d) in plan.doughs.iter().enumerate() {
        form.set(format!("doughs.{n}.formula"), d.formula.to_string());
        form.set(format!("doughs.{n}.wanted"), d.wanted.key());
        fill_with(&mut form, |to| to.moment(&format!("doughs.{n}.at"), &mut d.at.clone()));
        form.set(format!("doughs.{n}.no_fridge"), tick(d.pins.no_fridge));
        form.set(format!("doughs.{n}.yeast"), tick(d.pins.yeast));
        form.set(format!("doughs.{n}.place"), tick(d.pins.place));
        for (m, f) in d.fixed.iter().enumerate() {
            let at = format!("doughs.{n}.fixed.{m}");
            form.set(format!("{at}.id"), &f.id);
            form.set(format!("{at}.title"), &f.title);
            fill_with(&mut form, |to| to.moment(&format!("{at}.at"), &mut Some(f.at)));
        }
    }
    for (n, e) in plan.exceptions.iter().enumerate() {
        form.set(format!("exceptions.{n}.on.day"), e.on.to_string());
        form.set(format!("exceptions.{n}.from"), notation.time(e.from));
        form.set(format!("exceptions.{n}.to"), notation.time(e.to));
        form.set(format!("exceptions.{n}.who"), e.who.key());
        form.set(format!("exceptions.{n}.name"), &e.name);
    }
    form
}

/// Reads a plan; one that was taken is let go, for another is asked for.
///
/// # Errors
/// Every field that does not read, by its name.
pub fn read(form: &Form, today: Date) -> Result<DayPlan, Faults> {
    let mut r = Reader::new(form);
    let day = |r: &mut Reader<'_>, name: &str, otherwise: Date| match r.text(name).as_str() {
        "" => otherwise,
        text => text.parse().unwrap_or_else(|_| {
            r.fault("malformed", name, "Choose the day.");
            otherwise
        }),
    };
    let from = day(&mut r, "from.day", today);
    let plan = DayPlan {
        from,
        days: r.whole("days"),
        hands: r.whole("hands"),
        doughs: rows(form, "doughs").into_iter().map(|n| dough(&mut r, form, n)).collect(),
        exceptions: rows(form, "exceptions")
            .into_iter()
            .map(|n| {
                let at = |field: &str| format!("exceptions.{n}.{field}");
                let mut time = |field: &str| {
                    r.time(&at(field)).unwrap_or_else(|| {
                        if r.text(&at(field)).is_empty() {
                            r.fault("missing", &at(field), "Give a time of day, such as 14:30.");
                        }
                        jiff::civil::Time::midnight()
                    })
                };
                let (from_time, to) = (time("from"), time("to"));
                let who = match r.text(&at("who")).is_empty() {
                    true => Who::Away,
                    false => r.choice(&at("who"), Who::from_key, Who::Away),
                };
                Exception {
                    on: day(&mut r, &at("on.day"), from),
                    from: from_time,
                    to,
                    who,
                    name: r.text(&at("name")).trim().chars().take(40).collect(),
                }
            })
            .collect(),
        taken: None,
        told: Told::default(),
    };
    r.done(plan)
}

fn dough(r: &mut Reader<'_>, form: &Form, n: usize) -> PlanDough {
    let at = |field: &str| format!("doughs.{n}.{field}");
    let mut when = None;
    Visit::moment(r, &at("at"), &mut when);
    PlanDough {
        formula: r.text(&at("formula")).parse().unwrap_or(0),
        wanted: r.choice(&at("wanted"), WantedAs::from_key, WantedAs::AnyTime),
        at: when,
        pins: Pins {
            no_fridge: form.ticked(&at("no_fridge")),
            yeast: form.ticked(&at("yeast")),
            place: form.ticked(&at("place")),
        },
        fixed: fixed(form, n).into_iter().filter_map(|m| set(r, n, m)).collect(),
    }
}

/// The numbers of the steps of a dough that are set to a time.
pub fn fixed(form: &Form, n: usize) -> Vec<usize> {
    let own = format!("doughs.{n}.fixed.");
    let number = |name: &String| name.strip_prefix(&own)?.strip_suffix(".id")?.parse().ok();
    let mut found: Vec<usize> = form.values().keys().filter_map(number).collect();
    found.sort_unstable();
    found
}

/// A step that is set to a time.
fn set(r: &mut Reader<'_>, n: usize, m: usize) -> Option<Fixed> {
    let at = format!("doughs.{n}.fixed.{m}");
    let mut when = None;
    Visit::moment(r, &format!("{at}.at"), &mut when);
    let Some(when) = when else {
        let time = format!("{at}.at.time");
        if r.text(&time).is_empty() {
            r.fault("missing", &time, "Give a time, or set it free.");
        }
        return None;
    };
    Some(Fixed { id: r.text(&format!("{at}.id")), at: when, title: r.text(&format!("{at}.title")) })
}

/// Faults that the core tells by a row's place in its list, at the row's number on the page.
pub fn at_their_rows(form: &Form, faults: Faults) -> Faults {
    moved(faults, |path| {
        let (row, field) = at_its_row(form, &LISTS, path)?;
        Some(format!("{row}.{}", if field == "at" { "at.time" } else { &field }))
    })
}

/// Adds the hours away of a calendar that was pasted or chosen, as rows that are not planned yet; what could not be read
/// as it was meant.
///
/// # Errors
/// A text that is no calendar, at its field; more hours than a plan has.
pub fn with_absences(form: &mut Form, home: &Household) -> Result<Vec<String>, Faults> {
    let first: Date = form.value("from.day").parse().unwrap_or(home.today());
    // The night after the last day, too.
    let days = form.value("days").parse::<u32>().unwrap_or(2).clamp(1, DAYS_MAX) + 1;
    let found = absences(form.value("calendar"), first, days, &home.zone())?;
    let there = rows(form, "exceptions");
    if there.len() + found.all.len() > EXCEPTIONS_MAX {
        let text = format!("These are {} events: a plan has at most {EXCEPTIONS_MAX}.", found.all.len());
        return Err(Fault::new("out-of-range", "calendar", text).into());
    }
    let notation = form.notation();
    let next = there.last().map_or(0, |n| n + 1);
    for (n, a) in found.all.iter().enumerate() {
        let at = |field: &str| format!("exceptions.{}.{field}", next + n);
        form.set(at("on.day"), a.from.date().to_string());
        form.set(at("from"), notation.time(a.from.time()));
        form.set(at("to"), notation.time(a.to.time()));
        form.set(at("name"), &a.name);
    }
    form.set("calendar", "");
    let mut says = found.doubts;
    if found.all.is_empty() {
        says.push("No event of this calendar takes time in these days.".into());
    }
    Ok(says)
}

/// What a button of a list does to what was typed; whether it was one. A new dough is the first formula until another is
/// chosen.
pub fn press(form: &mut Form, op: &str, formulas: &[(i32, String)]) -> bool {
    let Some(press) = Press::from_key(&LISTS, op) else { return false };
    if let (Press::Add("doughs"), Some(row)) = (press, press.on(&LISTS, form)) {
        let others: Vec<usize> = rows(form, "doughs").into_iter().filter(|n| *n != row).collect();
        let of = |n: &usize, field: &str| form.value(&format!("doughs.{n}.{field}")).to_owned();
        // What is not planned yet, for the day of the one before it, or the day after the plan begins.
        let planned: Vec<String> = others.iter().map(|n| of(n, "formula")).collect();
        let ids = || formulas.iter().map(|(id, _)| id.to_string());
        let formula = ids().find(|id| !planned.contains(id)).or(ids().next());
        let from = form.value("from.day").parse::<Date>().ok();
        let next = from.and_then(|d| d.tomorrow().ok()).map(|d| d.to_string());
        let day = others.last().map(|n| of(n, "at.day")).filter(|d| !d.is_empty()).or(next);
        form.set(format!("doughs.{row}.formula"), formula.unwrap_or_default());
        form.set(format!("doughs.{row}.wanted"), WantedAs::At.key());
        form.set(format!("doughs.{row}.at.day"), day.unwrap_or_default());
    }
    true
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use proptest::prelude::*;
    use proptest::sample::select;

    fn plans() -> impl Strategy<Value = DayPlan> {
        let moment =
            (0i8..3, 0i8..24, 0i8..12).prop_map(|(d, h, m)| date(2026, 11, 27 + d).at(h, 5 * m, 0, 0));
        let dough = (1i32..9, select(&WantedAs::ALL[..]), prop::option::of(moment), any::<[bool; 3]>())
            .prop_map(|(formula, wanted, at, [no_fridge, yeast, place])| PlanDough {
                formula,
                wanted,
                at,
                pins: Pins { no_fridge, yeast, place },
                fixed: at
                    .filter(|_| yeast)
                    .map(|at| Fixed { id: "shape.0".into(), at, title: "Shape".into() })
                    .into_iter()
                    .collect(),
            });
        let exception =
            (0i8..3, 0i8..24, 0i8..24, select(&Who::ALL[..])).prop_map(|(d, from, to, who)| Exception {
                on: date(2026, 11, 27 + d),
                from: jiff::civil::time(from, 15, 0, 0),
                to: jiff::civil::time(to, 45, 0, 0),
                who,
                name: if who == Who::Home { String::new() } else { "Choir".into() },
            });
        (1u32..5, 1u32..3, prop::collection::vec(dough, 0..5), prop::collection::vec(exception, 0..4))
            .prop_map(|(days, hands, doughs, exceptions)| DayPlan {
                days,
                hands,
                doughs,
                exceptions,
                ..DayPlan::beginning(date(2026, 11, 27))
            })
    }

    proptest! {
        /// Showing a plan and sending it back changes nothing.
        #[test]
        fn a_plan_sent_back_is_as_it_was(plan in plans(), twelve in any::<bool>()) {
            let clock = if twelve { cerealis_core::notation::ClockFace::Hours12 } else { Default::default() };
            let kitchen = Kitchen { clock, ..Kitchen::default() };
            let form = fill(&plan, &kitchen, plan.from);
            prop_assert_eq!(read(&form, plan.from).unwrap(), plan);
        }
    }
}

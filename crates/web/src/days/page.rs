//! The days as they are shown.

use askama::Template;
use cerealis_core::plan::{
    DAYS_MAX, DOUGHS_MAX, DayPlan, DaysAnswer, OfferAnswer, Onward, Otherwise, PlannedStep, Replanned, STEP,
    Taken, WantedAs, Who, shopping,
};
use cerealis_core::units::{Minutes, shown};
use cerealis_store::Revision;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;

use super::beside::{Row, beside};
use super::fields::{fixed, rows};
use super::said::{kinds_said, missed_says, moved_says, over_says, said};
use super::shopping::{ShoppingRow, shopping_row};
use crate::form::Form;
use crate::household::Household;
use crate::picture;
use crate::show::{Pick, clock, days, picks, picks_of};

/// A plan to choose.
pub struct OfferView {
    /// Its key.
    pub key: String,
    /// What it is, in a line.
    pub title: String,
    /// What it changes in the doughs.
    pub changes: Vec<String>,
    /// When each bread is ready to cut.
    pub ready: String,
    /// Its figures: name and figure.
    pub facts: Vec<(&'static str, String)>,
    /// How often it holds, and what goes wrong where it does not; or what it moves.
    pub holds: String,
    /// What is to be looked at, a sentence each.
    pub notes: Vec<String>,
    /// Its picture.
    pub picture: String,
    /// What is done when.
    pub days: Vec<DayView>,
}

/// One day of a list.
pub struct DayView {
    /// The day.
    pub name: String,
    /// What is done, and waited for.
    pub steps: Vec<StepView>,
}

/// A step in the list.
pub struct StepView {
    /// The time.
    pub at: String,
    /// What is done.
    pub title: String,
    /// How, and the sign.
    pub detail: String,
    /// Of which dough.
    pub dough: String,
    /// The same by its place in the plan.
    pub number: usize,
    /// Its id.
    pub id: String,
    /// When, in steps from the beginning of the plan.
    pub step: i32,
    /// How long.
    pub length: String,
    /// Whether it wants hands.
    pub hands_on: bool,
    /// How far its time is an estimate.
    pub give: Option<String>,
}

/// The plans to choose from.
#[derive(Template)]
#[template(path = "days/offers.html")]
pub struct OffersPart {
    offers: Vec<OfferView>,
    /// What they differ in.
    beside: Vec<Row>,
    gives_up: Vec<String>,
    proved: bool,
    /// By how much another could be better.
    gap: String,
}

impl OffersPart {
    /// The plans that there are.
    pub fn of(plan: &DayPlan, answer: &DaysAnswer, home: &Household) -> Self {
        let names: Vec<String> = answer.doughs.iter().map(|d| d.name.clone()).collect();
        let kept = answer.gives_up.is_empty();
        let mut offers: Vec<OfferView> =
            answer.offers.iter().map(|o| offer(o, kept, &names, plan, home)).collect();
        // What the heading says of the first is not said again.
        for (view, o) in offers.iter_mut().zip(&answer.offers) {
            if o.offer.gives_up == answer.gives_up {
                view.notes.clear();
            }
        }
        OffersPart {
            offers,
            beside: beside(&answer.offers, &home.zone()),
            gives_up: answer.gives_up.clone(),
            proved: answer.proved,
            gap: match 100.0 * answer.gap {
                part if part < 1.0 => "none can be better by more than a trifle".to_owned(),
                part => format!("none can be more than {part:.0} % better"),
            },
        }
    }
}

/// The page.
#[derive(Template)]
#[template(path = "days/page.html")]
pub struct DaysPage {
    pub(super) form: Form,
    pub(super) revision: Revision,
    pub(super) conflict: bool,
    pub(super) damaged: bool,
    /// Whether rows were added or removed that are not planned yet.
    pub(super) touched: bool,
    /// Whether the plan that was chosen is not offered any more.
    pub(super) gone: bool,
    /// What was not understood of a calendar, a sentence each.
    pub(super) doubts: Vec<String>,
    formulas: Vec<(i32, String)>,
    today: Date,
    offers: Option<OffersPart>,
    taken: Option<TakenView>,
}

/// The plan that was taken.
pub struct TakenView {
    /// What it changes.
    pub changes: Vec<String>,
    /// What has become of it since.
    pub since: Vec<String>,
    /// Its picture.
    pub picture: String,
    /// Its steps, day by day.
    pub days: Vec<DayView>,
    /// Its doughs by name.
    pub doughs: Vec<String>,
    /// What waits now and may be ready before its time: the button's key, and what it says.
    pub ready: Vec<(String, String)>,
    /// The ovens, where there is more than one.
    pub ovens: Vec<Pick>,
    /// What it needs, and what is bought.
    pub shopping: Vec<ShoppingRow>,
    /// What that costs, as far as prices are known.
    pub total: Option<String>,
    /// The ways on, where something has come otherwise.
    pub on: Option<OnwardView>,
}

/// The ways on from here.
pub struct OnwardView {
    /// What has come otherwise, as it is sent back.
    pub happened: String,
    /// The ways.
    pub offers: Vec<OfferView>,
    /// What has to be given up.
    pub gives_up: Vec<String>,
}

impl DaysPage {
    /// The page as typed.
    pub fn new(form: Form, revision: Revision, formulas: Vec<(i32, String)>, today: Date) -> Self {
        DaysPage {
            form,
            revision,
            conflict: false,
            damaged: false,
            touched: false,
            gone: false,
            formulas,
            today,
            doubts: Vec::new(),
            offers: None,
            taken: None,
        }
    }

    /// With the plans that there are.
    pub fn offering(mut self, offers: OffersPart) -> Self {
        self.offers = Some(offers);
        self
    }

    /// With the plan that was taken.
    pub fn taking(mut self, plan: &DayPlan, taken: &Taken, home: &Household) -> Self {
        let zone = home.zone();
        let needed = shopping(&taken.lanes, &home.kitchen, &home.cupboard, &home.catalogue);
        let costs: Vec<f64> = needed.iter().filter_map(|n| n.cost).collect();
        let money = |sum: f64| format!("{sum:.2} {}", home.kitchen.currency);
        let waits = taken.steps.iter().filter(|s| {
            let ends = s.at.as_second() as f64 + 60.0 * s.length.0;
            ["bulk", "second", "proof"].contains(&s.id.as_str())
                && s.at <= home.now
                && ends > home.now.as_second() as f64
        });
        let name = |n: usize| taken.doughs.get(n).map_or("", String::as_str);
        self.taken = Some(TakenView {
            changes: taken.changes.clone(),
            since: taken.since.clone(),
            picture: drawn(plan, &taken.steps, &taken.doughs, home),
            days: listed(&taken.steps, &taken.doughs, plan.begins(&zone), &zone),
            doughs: taken.doughs.clone(),
            ready: waits
                .map(|s| {
                    let what = if s.id == "proof" { "is ready for the oven" } else { "has risen" };
                    (format!("ready:{}:{}", s.dough, s.id), format!("{} {what}", name(s.dough)))
                })
                .collect(),
            ovens: ovens(home),
            total: (!costs.is_empty()).then(|| money(costs.iter().sum())),
            shopping: needed.iter().map(|n| shopping_row(n, &money)).collect(),
            on: None,
        });
        self
    }

    /// With the ways on, when something has come otherwise.
    pub fn going_on(
        mut self,
        plan: &DayPlan,
        taken: &Taken,
        on: &Replanned,
        happened: &Otherwise,
        home: &Household,
    ) -> Self {
        let way = |o: &Onward| onward(o, taken, plan, home);
        // Where all is kept as it was promised there is nothing to choose.
        let kept = |o: &Onward| {
            o.offer.offer.changes.is_empty()
                && o.over.is_empty()
                && o.missed.is_empty()
                && o.moved.iter().all(|m| *m < STEP)
        };
        let all_kept = on.gives_up.is_empty() && on.offers.first().is_some_and(kept);
        let shown = if all_kept { 1 } else { on.offers.len() };
        let view = OnwardView {
            happened: serde_json::to_string(happened).unwrap_or_default(),
            offers: on.offers.iter().take(shown).map(way).collect(),
            gives_up: on.gives_up.clone(),
        };
        if let Some(taken) = self.taken.as_mut() {
            taken.on = Some(view);
        }
        self
    }

    /// The steps of a dough that are set to a time: their numbers.
    fn set(&self, row: &usize) -> Vec<usize> {
        fixed(&self.form, *row)
    }

    fn text(&self, name: impl AsRef<str>) -> String {
        self.form.value(name.as_ref()).to_owned()
    }

    fn rows(&self, list: &str) -> Vec<usize> {
        rows(&self.form, list)
    }

    fn formula_picks(&self, row: &usize) -> Vec<Pick> {
        let chosen = self.form.value(&format!("doughs.{row}.formula"));
        let all: Vec<(String, &str)> =
            self.formulas.iter().map(|(id, name)| (id.to_string(), name.as_str())).collect();
        picks(all.iter().map(|(id, name)| (id.as_str(), *name)), chosen)
    }

    fn wanted(&self, row: &usize) -> Vec<Pick> {
        picks_of::<WantedAs>(self.form.value(&format!("doughs.{row}.wanted")))
    }

    fn who(&self, row: &usize) -> Vec<Pick> {
        picks_of::<Who>(self.form.value(&format!("exceptions.{row}.who")))
    }

    fn first_days(&self) -> Vec<Pick> {
        days(self.today, self.form.value("from.day"))
    }

    /// The days of the plan, and the one after its last night.
    fn plan_days(&self, name: impl AsRef<str>) -> Vec<Pick> {
        let from = self.form.value("from.day").parse().unwrap_or(self.today);
        let count = self.form.value("days").parse::<usize>().unwrap_or(2).clamp(1, DAYS_MAX as usize);
        let chosen = self.form.value(name.as_ref()).to_owned();
        std::iter::successors(Some(from), |d: &Date| d.tomorrow().ok())
            .take(count + 1)
            .map(|d| Pick {
                on: d.to_string() == chosen,
                key: d.to_string(),
                name: d.strftime("%a %-d %b").to_string(),
            })
            .collect()
    }

    fn counts(&self) -> Vec<Pick> {
        let all = ["1", "2", "3", "4"];
        picks(all.into_iter().map(|n| (n, n)), self.form.value("days"))
    }

    fn pairs(&self) -> Vec<Pick> {
        picks([("1", "one pair of hands"), ("2", "two pairs of hands")], self.form.value("hands"))
    }

    fn ticked(&self, list: &str, row: &usize, field: &str) -> bool {
        self.form.ticked(&format!("{list}.{row}.{field}"))
    }

    fn more(&self) -> bool {
        self.rows("doughs").len() < DOUGHS_MAX
    }

    fn name_of(&self, row: &usize) -> String {
        let picks = self.formula_picks(row);
        picks.into_iter().find(|p| p.on).map_or("this dough".into(), |p| p.name)
    }
}

fn ovens(home: &Household) -> Vec<Pick> {
    let names = home.kitchen.oven_names();
    let name = |(n, name): (usize, &str)| Pick {
        key: n.to_string(),
        name: if name.is_empty() { "the usual oven".to_owned() } else { name.to_owned() },
        on: n == 0,
    };
    if names.len() > 1 { names.into_iter().enumerate().map(name).collect() } else { Vec::new() }
}

/// The names of the doughs of a plan that may not be followed yet.
pub fn names(plan: &DayPlan, o: &OfferAnswer) -> Vec<String> {
    match &plan.taken {
        Some(taken) => taken.doughs.clone(),
        None => o.lanes.iter().map(|l| l.formula.name.clone()).collect(),
    }
}

fn ready_says(o: &OfferAnswer, names: &[String], zone: &TimeZone) -> String {
    let one = |(name, t): (&String, &Timestamp)| format!("{name} {}", said(*t, zone));
    names.iter().zip(&o.ready).map(one).collect::<Vec<_>>().join(", ")
}

/// What a plan comes to, in a sentence: while something in it is moved.
pub fn offer_says(o: &OfferAnswer, home: &Household) -> String {
    let names: Vec<String> = o.lanes.iter().map(|l| l.formula.name.clone()).collect();
    format!(
        "Ready to cut: {}. Holds on {:.0} of a hundred such days.",
        ready_says(o, &names, &home.zone()),
        o.offer.chance.holds
    )
}

/// The figures that plans are weighed by, in that order.
fn facts(o: &OfferAnswer, kept: bool, names: &[String]) -> Vec<(&'static str, String)> {
    let costs = &o.offer.plan.costs;
    let minutes = |m: f64| shown::time(Minutes(m));
    // Starts lie on steps of five minutes.
    let off = if costs.off_wish < STEP * names.len() as f64 {
        "on time".to_owned()
    } else {
        minutes(costs.off_wish)
    };
    let waits = o
        .lanes
        .iter()
        .flat_map(|l| &l.tasks)
        .filter(|t| t.lasts.latest.0 - t.lasts.earliest.0 >= 10.0)
        .count();
    let best = match costs.off_best / waits.max(1) as f64 {
        part if part < 0.05 => "at their best".to_owned(),
        part => format!("{:.0} % off their best", 100.0 * part),
    };
    let times = |n: u32| match n {
        1 => "once".to_owned(),
        2 => "twice".to_owned(),
        n => format!("{n} times"),
    };
    [
        kept.then_some(("From when it is wanted", off)),
        (costs.spared > 0.0).then(|| ("Taken from sleep or absence", minutes(costs.spared))),
        Some(("Rises", best)),
        (costs.heatings > 0).then(|| ("Oven heated", times(costs.heatings))),
        Some(("Hands on", format!("{}, in {} stretches", shown::time(o.hands_on), o.touches))),
        (o.free.0 >= 30.0).then(|| ("Longest free stretch", shown::time(o.free))),
    ]
    .into_iter()
    .flatten()
    .collect()
}

fn offer(o: &OfferAnswer, kept: bool, names: &[String], plan: &DayPlan, home: &Household) -> OfferView {
    let zone = home.zone();
    let changes = &o.offer.changes;
    let title = kinds_said(&o.offer.kinds);
    let holds = match &o.tight {
        Some((dough, what)) if o.offer.chance.holds < 99.5 => format!(
            "Holds on {:.0} of a hundred such days; the tight one is “{what}” of {}.",
            o.offer.chance.holds,
            names.get(*dough).map_or("", String::as_str)
        ),
        _ => "Holds on nearly every such day.".to_owned(),
    };
    OfferView {
        key: o.offer.key.clone(),
        title: format!("{title}, first touch {}", said(o.first, &zone)),
        changes: changes.clone(),
        ready: ready_says(o, names, &zone),
        facts: facts(o, kept, names),
        holds,
        notes: match o.offer.gives_up.is_empty() {
            true => Vec::new(),
            false => vec![format!("Gives up {}.", o.offer.gives_up.join(" and "))],
        },
        picture: drawn(plan, &o.steps, names, home),
        days: listed(&o.steps, names, plan.begins(&zone), &zone),
    }
}

fn onward(o: &Onward, taken: &Taken, plan: &DayPlan, home: &Household) -> OfferView {
    let names = &taken.doughs;
    let zone = home.zone();
    let changes = &o.offer.offer.changes;
    let title = if changes.is_empty() { "As planned, later".to_owned() } else { changes.join(" ") };
    let moved = moved_says(&o.moved, names);
    let title = if changes.is_empty() && moved.is_empty() { "As planned".to_owned() } else { title };
    let name = |n: usize| names.get(n).map_or("", String::as_str);
    let next = o.offer.steps.iter().find(|s| s.hands_on && s.at > home.now);
    let next = next.map_or(String::new(), |s| format!(" Next: {} at {}.", s.title, said(s.at, &zone)));
    OfferView {
        key: o.offer.offer.key.clone(),
        title,
        changes: Vec::new(),
        ready: ready_says(&o.offer, names, &zone),
        facts: facts(&o.offer, false, names),
        holds: format!(
            "{}{next}",
            if moved.is_empty() { "All bread is there as it was.".to_owned() } else { moved.join(" ") }
        ),
        notes: (o.missed.iter().map(|(dough, what)| missed_says(what, name(*dough))))
            .chain(o.over.iter().map(|(dough, what)| over_says(what, name(*dough))))
            .collect(),
        picture: drawn(plan, &o.offer.steps, names, home),
        days: listed(&o.offer.steps, names, plan.begins(&zone), &zone),
    }
}

/// The picture of a plan.
pub fn drawn(plan: &DayPlan, steps: &[PlannedStep], doughs: &[String], home: &Household) -> String {
    let zone = home.zone();
    let wanted = |d: &cerealis_core::plan::PlanDough| {
        d.at.filter(|_| d.wanted != WantedAs::AnyTime).map(|at| plan.step(at, &zone))
    };
    picture::days(&picture::Days {
        begins: plan.begins(&zone),
        zone: &zone,
        doughs,
        steps,
        wanted: &plan.doughs.iter().map(wanted).collect::<Vec<_>>(),
        closed: &plan.closed(&home.kitchen, &zone),
        now: home.now,
        followed: plan.taken.is_some(),
    })
}

/// The steps by the clock, over all doughs, day by day.
pub fn listed(steps: &[PlannedStep], doughs: &[String], begins: Timestamp, zone: &TimeZone) -> Vec<DayView> {
    let mut days: Vec<DayView> = Vec::new();
    let mut last = None;
    for s in steps {
        let z = s.at.to_zoned_datetime(zone.clone());
        if last != Some(z.date()) {
            last = Some(z.date());
            days.push(DayView { name: z.strftime("%A %-d %B").to_string(), steps: Vec::new() });
        }
        let view = StepView {
            at: clock(&z),
            title: s.title.clone(),
            detail: s.detail.clone(),
            dough: doughs.get(s.dough).cloned().unwrap_or_default(),
            number: s.dough,
            id: s.id.clone(),
            step: (s.at.duration_since(begins).as_secs_f64() / 60.0 / STEP).round() as i32,
            length: shown::time(s.length),
            hands_on: s.hands_on,
            give: (s.hands_on && s.give.0 >= 5.0).then(|| format!("± {}", shown::time(s.give))),
        };
        if let Some(day) = days.last_mut() {
            day.steps.push(view);
        }
    }
    days
}

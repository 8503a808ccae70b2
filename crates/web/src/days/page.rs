//! The days as they are shown.

use askama::Template;
use cerealis_core::plan::{
    DAYS_MAX, DOUGHS_MAX, DayPlan, DaysAnswer, OfferAnswer, PlannedStep, Taken, WantedAs,
};
use cerealis_core::units::{Minutes, shown};
use cerealis_store::Revision;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;

use super::fields::rows;
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
    /// Its figures: name and figure.
    pub facts: Vec<(&'static str, String)>,
    /// How often it holds, and what goes wrong where it does not.
    pub holds: String,
    /// Its picture.
    pub picture: String,
}

/// A step in the list.
pub struct StepView {
    /// The day, where a new one begins.
    pub day: Option<String>,
    /// The time.
    pub at: String,
    /// What is done.
    pub title: String,
    /// How, and the sign.
    pub detail: String,
    /// Of which dough.
    pub dough: String,
    /// How long.
    pub length: String,
    /// Whether it wants hands.
    pub hands_on: bool,
    /// How far its time is an estimate.
    pub give: Option<String>,
}

/// The page.
#[derive(Template)]
#[template(path = "days.html")]
pub struct DaysPage {
    pub(super) form: Form,
    pub(super) revision: Revision,
    pub(super) conflict: bool,
    pub(super) damaged: bool,
    /// Whether rows were added or removed that are not planned yet.
    pub(super) touched: bool,
    formulas: Vec<(i32, String)>,
    today: Date,
    offers: Vec<OfferView>,
    gives_up: Vec<String>,
    nothing: bool,
    proved: bool,
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
    /// Its steps.
    pub steps: Vec<StepView>,
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
            formulas,
            today,
            offers: Vec::new(),
            gives_up: Vec::new(),
            nothing: false,
            proved: false,
            taken: None,
        }
    }

    /// With the plans that there are.
    pub fn offering(mut self, plan: &DayPlan, answer: &DaysAnswer, home: &Household) -> Self {
        let names: Vec<String> = answer.doughs.iter().map(|d| d.name.clone()).collect();
        self.offers =
            answer.offers.iter().map(|o| offer(o, answer.gives_up.is_empty(), &names, plan, home)).collect();
        self.gives_up = answer.gives_up.clone();
        self.nothing = self.offers.is_empty();
        self.proved = answer.proved;
        self
    }

    /// With the plan that was taken.
    pub fn taking(mut self, plan: &DayPlan, taken: &Taken, home: &Household) -> Self {
        self.taken = Some(TakenView {
            changes: taken.changes.clone(),
            since: taken.since.clone(),
            picture: drawn(plan, &taken.steps, &taken.doughs, home),
            steps: listed(&taken.steps, &taken.doughs, &home.zone()),
        });
        self
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

fn said(t: Timestamp, zone: &TimeZone) -> String {
    t.to_zoned_datetime(zone.clone()).strftime("%a %H:%M").to_string()
}

fn offer(o: &OfferAnswer, kept: bool, names: &[String], plan: &DayPlan, home: &Household) -> OfferView {
    let zone = home.zone();
    let changes = &o.offer.changes;
    let title = match changes.len() {
        0 => "As written",
        1 => "One change",
        2 => "Two changes",
        _ => "Several changes",
    };
    let ready: Vec<String> =
        names.iter().zip(&o.ready).map(|(name, t)| format!("{name} {}", said(*t, &zone))).collect();
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
        facts: [
            Some(("Ready to cut", ready.join(", "))),
            Some(("Hands on", shown::time(o.hands_on))),
            kept.then(|| {
                let off = match o.offer.plan.costs.off_wish {
                    // Starts lie on steps of five minutes.
                    m if m < 5.0 * names.len() as f64 => "on time".to_owned(),
                    m => shown::time(Minutes(m)),
                };
                ("From when it is wanted", off)
            }),
        ]
        .into_iter()
        .flatten()
        .collect(),
        holds,
        picture: drawn(plan, &o.steps, names, home),
    }
}

fn drawn(plan: &DayPlan, steps: &[PlannedStep], doughs: &[String], home: &Household) -> String {
    let zone = home.zone();
    picture::days(&picture::Days {
        begins: plan.begins(&zone),
        zone: &zone,
        doughs,
        steps,
        closed: &plan.closed(&home.kitchen, &zone),
        now: home.now,
    })
}

/// The steps by the clock, over all doughs.
pub fn listed(steps: &[PlannedStep], doughs: &[String], zone: &TimeZone) -> Vec<StepView> {
    let mut last = None;
    steps
        .iter()
        .map(|s| {
            let z = s.at.to_zoned_datetime(zone.clone());
            let new_day = last != Some(z.date());
            last = Some(z.date());
            StepView {
                day: new_day.then(|| z.strftime("%A %-d %B").to_string()),
                at: clock(&z),
                title: s.title.clone(),
                detail: s.detail.clone(),
                dough: doughs.get(s.dough).cloned().unwrap_or_default(),
                length: shown::time(s.length),
                hands_on: s.hands_on,
                give: (s.hands_on && s.give.0 >= 5.0).then(|| format!("± {}", shown::time(s.give))),
            }
        })
        .collect()
}

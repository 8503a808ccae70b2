//! Whole pages.

use askama::Template;
use cerealis_core::choice::Choice;
use cerealis_core::day::Anchor;
use cerealis_core::finish::Score;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::{EggSize, Kitchen, Scale, TemperatureUnits};
use cerealis_core::oven::{HotSide, Looks};
use cerealis_core::pantry::{Cup, Tablespoon};
use cerealis_core::shape::Hand;
use cerealis_core::stations::Stations;
use cerealis_core::units::{Grams, Percent};
use cerealis_core::words::Kind;
use cerealis_core::words::Stands;
use cerealis_core::words::{Counting, Handling, Stage, Style};
use cerealis_core::words::{Made, Vessel};
use cerealis_core::words::{Method, SaltSchool, WaterSchool};
use cerealis_store::DamagedRecord;

use super::oven::this_oven;
use super::{Asks, DayOut, FormulaOut, MixOut, OvenOut, Rail, RiseOut, ShapeOut, Station, Tried};
use crate::form::{self, Form, House};

/// An entry of a choice.
pub struct Pick {
    /// Its value.
    pub key: String,
    /// Its name.
    pub name: String,
    /// Whether it is chosen.
    pub on: bool,
}

/// Entries by key and name, the chosen one marked.
pub fn picks<'a>(all: impl IntoIterator<Item = (&'a str, &'a str)>, chosen: &str) -> Vec<Pick> {
    all.into_iter()
        .map(|(key, name)| Pick { on: key == chosen, key: key.into(), name: name.into() })
        .collect()
}

/// The entries of one of the core's choices.
pub fn picks_of<C: Choice>(chosen: &str) -> Vec<Pick> {
    picks(C::all().iter().map(|c| (c.key(), c.name())), chosen)
}

/// A line being edited.
pub struct LineView {
    /// Its number on the page.
    pub row: usize,
    /// Its fields as typed.
    pub ingredient: String,
    /// The exact mass that travels with it.
    pub exact: String,
    /// What the page shows of it, which travels along.
    pub shown: String,
    /// Grams as typed.
    pub grams: String,
    /// Percentage as typed.
    pub percent: String,
    /// What is to be known of it besides.
    pub note: String,
    /// What is wrong with each.
    pub ingredient_fault: String,
    /// See above.
    pub grams_fault: String,
    /// See above.
    pub percent_fault: String,
}

/// A stage being edited.
pub struct StageView {
    /// Its name.
    pub name: &'static str,
    /// Its key.
    pub key: &'static str,
    /// Whether it is made ahead, and so stands somewhere for a time.
    pub ahead: bool,
    /// Whether it ferments, and so has a size against the dough.
    pub preferment: bool,
    /// Whether it is the levain, which is built from a kept culture.
    pub levain: bool,
    /// Its lines.
    pub lines: Vec<LineView>,
}

/// The line editor.
#[derive(Template)]
#[template(path = "lines.html")]
pub struct Lines {
    form: Form,
    stages: Vec<StageView>,
    add: Vec<Pick>,
}

impl Lines {
    /// The editor as typed.
    pub fn new(form: &Form) -> Self {
        let rows = form::rows(form);
        let stage_view = |stage: Stage| StageView {
            name: stage.name(),
            key: stage.key(),
            ahead: stage.is_ahead(),
            preferment: stage.is_preferment(),
            levain: stage == Stage::Preferment,
            lines: rows.iter().filter(|r| r.stage == stage).map(|r| line_view(form, r.row)).collect(),
        };
        let stages: Vec<_> = Stage::ALL.into_iter().map(stage_view).collect();
        let (used, free): (Vec<_>, Vec<_>) =
            stages.into_iter().partition(|s| !s.lines.is_empty() || s.key == "dough");
        let add = picks(free.into_iter().map(|s| (s.key, s.name)), "");
        Lines { form: form.clone(), add, stages: used }
    }
}

/// The further make-ups being edited.
#[derive(Template)]
#[template(path = "makeups.html")]
pub struct MakeUps {
    form: Form,
    rows: Vec<MakeUpRow>,
}

/// A further make-up being edited.
pub struct MakeUpRow {
    /// Its number on the page.
    pub row: usize,
    /// Its shapes to choose from.
    pub kinds: Vec<Pick>,
    /// What it may bake on or in.
    pub vessels: Vec<Pick>,
}

impl MakeUps {
    /// The make-ups as typed.
    pub fn new(form: &Form) -> Self {
        let row = |row: usize| MakeUpRow {
            row,
            kinds: picks_of::<Kind>(form.value(&format!("makeups.{row}.kind"))),
            vessels: picks_of::<Vessel>(form.value(&format!("makeups.{row}.vessel"))),
        };
        MakeUps { form: form.clone(), rows: form::makeup_rows(form).into_iter().map(row).collect() }
    }
}

fn line_view(form: &Form, row: usize) -> LineView {
    let text = |field: &str| form.value(&format!("lines.{row}.{field}")).to_owned();
    let fault = |field: &str| form.fault(&format!("lines.{row}.{field}")).unwrap_or_default().to_owned();
    LineView {
        row,
        ingredient: text("ingredient"),
        exact: text("exact"),
        shown: text("shown"),
        grams: text("grams"),
        percent: text("percent"),
        note: text("note"),
        ingredient_fault: fault("ingredient"),
        grams_fault: fault("grams"),
        percent_fault: fault("percent"),
    }
}

/// Everything on a formula's page that follows from the figures, by the place it stands in.
pub struct Fragments {
    /// The rail.
    pub rail: String,
    /// The stations' answers; empty while the fields cannot be read.
    pub outs: Vec<(Station, String)>,
}

impl Fragments {
    /// Draws them for a formula that reads.
    pub fn of(
        id: i32,
        here: Station,
        now: (&Formula, &Stations),
        saved: Option<(&Formula, &Stations)>,
        tried: Option<&Tried>,
        asks: &Asks,
        house: House<'_>,
    ) -> Result<Fragments, askama::Error> {
        let (f, s) = now;
        let kitchen = house.kitchen;
        // What takes longest is worked out for the station on show alone.
        let at = |station: Station| Asks { ways: asks.ways && here == station, ..asks.clone() };
        let out = |station: Station| match station {
            Station::Formula => FormulaOut::new(f, s, tried, house).render(),
            Station::Mix => MixOut::new(f, s, kitchen).render(),
            Station::Rise => RiseOut::new(id, f, s, &at(station), house).render(),
            Station::Shape => ShapeOut::new(f, s, asks, kitchen).render(),
            Station::Oven => OvenOut::new(f, s, &at(station), kitchen).render(),
            Station::Day => DayOut::new(s, kitchen).render(),
        };
        let wanted = Station::ALL.into_iter().filter(|s| !asks.quick || *s == here);
        Ok(Fragments {
            rail: Rail::new(id, Some(here), now, saved).render()?,
            outs: wanted.map(|s| Ok((s, out(s)?))).collect::<Result<_, askama::Error>>()?,
        })
    }

    /// What stands there while fields cannot be read.
    pub fn waiting(id: i32, here: Station) -> Result<Fragments, askama::Error> {
        let note = r#"<p class="waiting">The figures wait for the fields marked.</p>"#;
        Ok(Fragments {
            rail: Rail::empty(id, here).render()?,
            outs: Station::ALL.into_iter().map(|s| (s, note.to_owned())).collect(),
        })
    }

    fn out(&self, station: Station) -> &str {
        self.outs.iter().find(|(s, _)| *s == station).map_or("", |(_, html)| html)
    }
}

/// The page of one formula: six stations in one form.
#[derive(Template)]
#[template(path = "formula.html")]
pub struct FormulaPage {
    pub(crate) id: i32,
    pub(crate) revision: i32,
    pub(crate) here: Station,
    pub(crate) form: Form,
    pub(crate) fragments: Fragments,
    pub(crate) lines: String,
    pub(crate) makeups: String,
    pub(crate) have: Vec<(String, String)>,
    pub(crate) dirty: bool,
    pub(crate) conflict: Option<i32>,
    pub(crate) kitchen: Kitchen,
    pub(crate) names: Vec<String>,
}

impl FormulaPage {
    /// The page as typed.
    pub fn new(
        id: i32,
        revision: i32,
        here: Station,
        form: Form,
        fragments: Fragments,
        House { catalogue, kitchen, .. }: House<'_>,
    ) -> Result<Self, askama::Error> {
        let lines = Lines::new(&form).render()?;
        let makeups = MakeUps::new(&form).render()?;
        let mut have: Vec<(String, String)> = Vec::new();
        for r in form::rows(&form) {
            let named = catalogue.named(form.value(&format!("lines.{}.ingredient", r.row)));
            if let Some(i) = named.filter(|i| !have.iter().any(|(key, _)| *key == i.key)) {
                have.push((i.key.clone(), i.name.clone()));
            }
        }
        let names = catalogue.at_hand().map(|i| i.name.clone()).collect();
        Ok(FormulaPage {
            id,
            revision,
            here,
            form,
            fragments,
            lines,
            makeups,
            have,
            dirty: false,
            conflict: None,
            kitchen: kitchen.clone(),
            names,
        })
    }

    fn title(&self) -> String {
        format!("{}, {}", self.form.value("name"), self.here.name())
    }

    fn styles(&self) -> Vec<Pick> {
        picks_of::<Style>(self.form.value("style"))
    }

    fn countings(&self) -> Vec<Pick> {
        let own = Counting::ALL.map(|c| (c.key(), c.name()));
        picks([("", "As the kitchen does")].into_iter().chain(own), self.form.value("counting"))
    }

    fn methods(&self) -> Vec<Pick> {
        picks_of::<Method>(self.form.value("mix.method"))
    }

    fn schools(&self) -> Vec<Pick> {
        picks_of::<WaterSchool>(self.form.value("mix.school"))
    }

    fn targets(&self, field: &str) -> Vec<Pick> {
        let none = match field {
            "rise.bulk.target" => "no bulk rise",
            "rise.second.target" => "no second rise",
            _ => "no proof",
        };
        let named = [
            ("1", none),
            ("1.25", "1.25 times"),
            ("1.5", "1.5 times"),
            ("1.75", "1.75 times"),
            ("2", "2 times"),
            ("2.25", "2.25 times"),
            ("2.5", "2.5 times"),
            ("2.75", "2.75 times"),
            ("3", "3 times"),
        ];
        let value = self.form.value(field);
        let mut all = picks(named, value);
        if !all.iter().any(|p| p.on) && !value.is_empty() {
            all.push(Pick { key: value.into(), name: format!("{value} times"), on: true });
        }
        all
    }

    fn salts(&self) -> Vec<Pick> {
        picks_of::<SaltSchool>(self.form.value("mix.salt"))
    }

    fn stands(&self, field: &str) -> Vec<Pick> {
        picks_of::<Stands>(self.form.value(field))
    }

    /// Whether a rise goes through several places, or stands for a set time.
    fn moves(&self, rise: &str) -> bool {
        ["legs.0.hours", "legs.1.hours", "legs.2.hours", "stays", "night"]
            .iter()
            .any(|f| !self.form.value(&format!("rise.{rise}.{f}")).is_empty())
    }

    /// Whether there is a second bulk rise.
    fn twice(&self) -> bool {
        !matches!(self.form.value("rise.second.target"), "" | "1") || self.moves("second")
    }

    /// Places where dough can stand, as steps under a field: name, temperature, and how much cooler
    /// it gets there by night.
    fn places(&self) -> Vec<(String, String, String)> {
        let k = &self.kitchen;
        let own = k.places.iter().map(|p| (p.name.clone(), p.temperature, p.night));
        let night = |n: f64| if n > 0.0 { form::plain(n) } else { String::new() };
        [("Room".to_owned(), k.room, k.night), ("Fridge".to_owned(), k.fridge, 0.0)]
            .into_iter()
            .chain(own)
            .map(|(name, t, n)| (name, form::plain(t.0), night(n)))
            .collect()
    }

    fn handlings(&self, field: &str) -> Vec<Pick> {
        picks_of::<Handling>(self.form.value(field))
    }

    fn hands(&self) -> Vec<Pick> {
        picks_of::<Hand>(self.form.value("shape.hand"))
    }

    fn pans(&self) -> Vec<Pick> {
        let own = self.kitchen.pans.iter().map(|p| (p.name.as_str(), p.name.as_str()));
        picks([("", "none of the kitchen's")].into_iter().chain(own), self.form.value("shape.pan"))
    }

    fn scores(&self) -> Vec<Pick> {
        let own = Score::ALL.map(|c| (c.key(), c.name()));
        picks([("", "As is usual for the shape")].into_iter().chain(own), self.form.value("finish.score"))
    }

    fn mades(&self) -> Vec<Pick> {
        picks_of::<Made>(self.form.value("oven.made"))
    }

    fn looks(&self) -> Vec<Pick> {
        let chosen = self.form.value("probe.looks");
        picks_of::<Looks>(if chosen.is_empty() { Looks::Right.key() } else { chosen })
    }

    fn kinds(&self) -> Vec<Pick> {
        picks_of::<Kind>(self.form.value("shape.kind"))
    }

    fn vessels(&self) -> Vec<Pick> {
        picks_of::<Vessel>(self.form.value("oven.vessel"))
    }

    fn anchors(&self) -> Vec<Pick> {
        picks_of::<Anchor>(self.form.value("day.anchor"))
    }

    fn room_text(&self) -> String {
        form::plain(self.kitchen.room.0)
    }
}

/// A formula in the list.
pub struct Entry {
    /// Which one.
    pub id: i32,
    /// Its name.
    pub name: String,
    /// Its style.
    pub style: &'static str,
    /// Dough weight.
    pub dough: String,
    /// Flour.
    pub flour: String,
    /// Effective hydration.
    pub hydration: String,
    /// What makes it rise.
    pub leaven: &'static str,
    /// Pieces and their shape.
    pub pieces: String,
    /// What it bakes on or in.
    pub vessel: &'static str,
    /// Its tags.
    pub tags: Vec<String>,
    /// Whether it is put away.
    pub archived: bool,
    /// Whether a dough of it is rising now.
    pub rising: bool,
    /// When it was last saved, to sort by.
    pub updated_at: String,
    /// Its dough, to sort by.
    pub dough_grams: Grams,
    /// Its effective hydration, to sort by.
    pub wet: Percent,
}

/// What of the list is wanted.
pub struct Sought {
    /// Words looked for.
    pub q: String,
    /// The tag chosen.
    pub tag: String,
    /// By what it is sorted.
    pub sort: String,
    /// Whether those put away are shown.
    pub away: bool,
    /// All tags of what may be shown.
    pub tags: Vec<String>,
    /// How many are at hand, and how many put away.
    pub counts: (usize, usize),
}

impl Sought {
    fn any(&self) -> bool {
        !(self.q.is_empty() && self.tag.is_empty())
    }

    fn sorts(&self) -> Vec<Pick> {
        let all = [
            ("", "by name"),
            ("newest", "newest first"),
            ("dough", "most dough first"),
            ("hydration", "wettest first"),
        ];
        picks(all, &self.sort)
    }

    fn tag_picks(&self) -> Vec<Pick> {
        picks(self.tags.iter().map(|t| (t.as_str(), t.as_str())), &self.tag)
    }
}

/// The list of formulas.
#[derive(Template)]
#[template(path = "formulas.html")]
pub struct FormulasPage {
    pub(crate) entries: Vec<Entry>,
    pub(crate) damaged: Vec<DamagedRecord>,
    /// The time zone that a kitchen which nobody has set yet goes by.
    pub(crate) zone: Option<String>,
    pub(crate) deleted_all: Vec<(i32, String)>,
    pub(crate) deleted: Option<(i32, String)>,
    pub(crate) sought: Sought,
    pub(crate) form: Form,
    pub(crate) styles: Vec<Pick>,
}

impl FormulasPage {
    /// The list, with what was typed into the form for a new one.
    pub fn new(
        entries: Vec<Entry>,
        damaged: Vec<DamagedRecord>,
        deleted: Option<(i32, String)>,
        sought: Sought,
        form: Form,
    ) -> Self {
        let chosen = if form.value("style").is_empty() { "tin" } else { form.value("style") };
        let styles = picks_of::<Style>(chosen);
        FormulasPage { entries, damaged, zone: None, deleted_all: Vec::new(), deleted, sought, form, styles }
    }
}

/// A version in the list.
pub struct VersionRow {
    /// Its number.
    pub revision: i32,
    /// What changed.
    pub reason: String,
    /// When, by the kitchen's clock.
    pub at: String,
    /// Whether it is the first of the two side by side.
    pub first: bool,
    /// Whether it is the second.
    pub second: bool,
    /// Whether it is how the formula stands.
    pub newest: bool,
}

/// The versions of a formula.
#[derive(Template)]
#[template(path = "versions.html")]
pub struct VersionsPage {
    pub(crate) id: i32,
    pub(crate) name: String,
    pub(crate) rows: Vec<VersionRow>,
    pub(crate) a: i32,
    pub(crate) b: i32,
    pub(crate) lines: Vec<[String; 3]>,
    pub(crate) damaged: Vec<DamagedRecord>,
}

/// The kitchen's page.
#[derive(Template)]
#[template(path = "kitchen.html")]
pub struct KitchenPage {
    pub(crate) form: Form,
    pub(crate) revision: i32,
    pub(crate) saved: bool,
    pub(crate) conflict: bool,
    pub(crate) damaged: bool,
    pub(crate) zones: Vec<String>,
    oven: Option<String>,
}

impl KitchenPage {
    /// The page as typed.
    pub fn new(form: Form, revision: i32) -> Self {
        let zones = jiff::tz::db()
            .available()
            .map(|z| z.to_string())
            .filter(|z| z.contains('/') || z == "UTC")
            .collect();
        KitchenPage { form, revision, saved: false, conflict: false, damaged: false, zones, oven: None }
    }

    /// The page of a kitchen as it is stored, with what it has learned.
    pub fn of(kitchen: &Kitchen, form: Form, revision: i32) -> Self {
        KitchenPage { oven: Some(this_oven(kitchen)), ..KitchenPage::new(form, revision) }
    }

    fn hot_sides(&self) -> Vec<Pick> {
        picks_of::<HotSide>(self.form.value("oven_hot"))
    }

    fn units(&self) -> Vec<Pick> {
        picks_of::<TemperatureUnits>(self.form.value("units"))
    }

    fn countings(&self) -> Vec<Pick> {
        picks_of::<Counting>(self.form.value("counting"))
    }

    fn scales(&self) -> Vec<Pick> {
        picks_of::<Scale>(self.form.value("scale"))
    }

    fn eggs(&self) -> Vec<Pick> {
        picks_of::<EggSize>(self.form.value("eggs"))
    }

    fn cups(&self) -> Vec<Pick> {
        picks_of::<Cup>(self.form.value("cup"))
    }

    fn tablespoons(&self) -> Vec<Pick> {
        picks_of::<Tablespoon>(self.form.value("tablespoon"))
    }
}

/// A page that says what went wrong, and keeps what was typed.
#[derive(Template)]
#[template(path = "error.html")]
pub struct ErrorPage {
    title: String,
    message: String,
    pub(crate) action: String,
    pub(crate) kept: Vec<(String, String)>,
    pub(crate) passes: bool,
    pub(crate) gone: bool,
}

impl ErrorPage {
    /// A title and a sentence.
    pub fn new(title: &str, message: &str) -> Self {
        ErrorPage {
            title: title.into(),
            message: message.into(),
            action: String::new(),
            kept: Vec::new(),
            passes: false,
            gone: false,
        }
    }

    /// Whether what was typed is of a formula, which can be brought back.
    fn of_formula(&self) -> bool {
        self.gone && self.kept.iter().any(|(name, _)| name == "rise.bulk.target")
    }

    /// What was typed and is worth reading: neither empty nor what the page itself sends along.
    fn readable(&self) -> impl Iterator<Item = &(String, String)> {
        let own = |name: &str| {
            matches!(name, "revision" | "here" | "op" | "counted" | "over") || name.ends_with(".exact")
        };
        self.kept.iter().filter(move |(name, value)| !value.trim().is_empty() && !own(name))
    }
}

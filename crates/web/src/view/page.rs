//! The pages of lists: formulas, versions, the kitchen, errors.

use askama::Template;
use cerealis_core::kitchen::{EggSize, Kitchen, Scale, TemperatureUnits};
use cerealis_core::oven::HotSide;
use cerealis_core::pantry::{Cup, Tablespoon};
use cerealis_core::shape::PanShape;
use cerealis_core::units::{Grams, Percent};
use cerealis_core::words::{Counting, Made, Method, Style};
use cerealis_store::{DamagedRecord, FormulaId, Revision};
use jiff::Timestamp;

use crate::first_run::{self, Questions, StartCard};
use crate::form::Form;
use crate::kitchen::{SPEEDS, Seen, pans_as_typed, rows};
use crate::oven::this_oven;
use crate::picture::empty_pan;
use crate::show::{Pick, picks, picks_of};

/// A formula in the list.
pub struct Entry {
    /// Which one.
    pub id: FormulaId,
    /// Its name.
    pub name: String,
    /// Its style.
    pub style: &'static str,
    /// Dough weight.
    pub dough: String,
    /// Flour.
    pub flour: String,
    /// Hydration, as the rail of its page says it.
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
    pub updated_at: Timestamp,
    /// Its dough, to sort by.
    pub dough_grams: Grams,
    /// Its effective hydration, to sort by.
    pub wet: Percent,
    /// Its bread, drawn.
    pub picture: String,
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
    /// How many have what is looked for.
    pub found: usize,
    /// Which page of them is shown, from 1.
    pub page: usize,
    /// How many pages there are.
    pub pages: usize,
}

impl Sought {
    fn any(&self) -> bool {
        !(self.q.is_empty() && self.tag.is_empty())
    }

    /// The way to another page of the same.
    fn to_page(&self, page: usize) -> String {
        let mut to = form_urlencoded::Serializer::new(String::new());
        for (name, value) in [("q", &self.q), ("tag", &self.tag), ("sort", &self.sort)] {
            if !value.is_empty() {
                to.append_pair(name, value);
            }
        }
        if self.away {
            to.append_pair("away", "1");
        }
        to.append_pair("page", &page.to_string());
        format!("/formulas?{}", to.finish())
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
    pub(crate) deleted_all: Vec<(FormulaId, String)>,
    pub(crate) deleted: Option<(FormulaId, String)>,
    pub(crate) sought: Sought,
    pub(crate) form: Form,
    pub(crate) styles: Vec<Pick>,
    /// The usual breads to begin with.
    pub(crate) starts: Vec<StartCard>,
    /// The four questions of an empty kitchen.
    pub(crate) questions: Option<Questions>,
    /// Whether they have just been answered.
    pub(crate) answered: bool,
    /// How many examples are among the formulas.
    pub(crate) examples: usize,
}

impl FormulasPage {
    /// The list, with what was typed into the form for a new one.
    pub fn new(
        entries: Vec<Entry>,
        damaged: Vec<DamagedRecord>,
        deleted: Option<(FormulaId, String)>,
        sought: Sought,
        form: Form,
    ) -> Self {
        let chosen = if form.value("style").is_empty() { "tin" } else { form.value("style") };
        let styles = picks_of::<Style>(chosen);
        FormulasPage {
            entries,
            damaged,
            zone: None,
            deleted_all: Vec::new(),
            deleted,
            sought,
            form,
            styles,
            starts: first_run::cards(),
            questions: None,
            answered: false,
            examples: 0,
        }
    }
}

/// A version in the list.
pub struct VersionRow {
    /// Its number.
    pub revision: Revision,
    /// What changed.
    pub reason: String,
    /// When, by the kitchen's clock.
    pub at: String,
    /// Its bread, drawn.
    pub picture: String,
    /// Whether it is one of the two that are compared.
    pub chosen: bool,
    /// Where touching it leads.
    pub touch: String,
    /// Whether it is how the formula stands.
    pub newest: bool,
}

/// The versions of a formula.
#[derive(Template)]
#[template(path = "versions.html")]
pub struct VersionsPage {
    pub(crate) id: FormulaId,
    pub(crate) name: String,
    pub(crate) rows: Vec<VersionRow>,
    pub(crate) a: Revision,
    pub(crate) b: Revision,
    pub(crate) newest: Revision,
    pub(crate) lines: Vec<[String; 3]>,
    pub(crate) damaged: Vec<DamagedRecord>,
}

/// The kitchen's page.
#[derive(Template)]
#[template(path = "kitchen.html")]
pub struct KitchenPage {
    pub(crate) form: Form,
    pub(crate) revision: Revision,
    pub(crate) saved: bool,
    pub(crate) conflict: bool,
    pub(crate) damaged: bool,
    pub(crate) zones: Vec<String>,
    /// Whether rows were added or removed that are not saved yet.
    pub(crate) touched: bool,
    oven: Option<String>,
    pans: Vec<PanView>,
}

/// A pan as it is typed.
pub struct PanView {
    /// Its row on the page.
    pub row: usize,
    /// Its picture, where it reads.
    pub picture: String,
    /// What it holds, and what dough fits.
    pub holds: String,
    /// Its shapes to choose from.
    pub shapes: Vec<Pick>,
    /// What it may be made of.
    pub made: Vec<Pick>,
}

impl PanView {
    /// All of the page.
    pub fn all(form: &Form) -> Vec<PanView> {
        pans_as_typed(form)
            .into_iter()
            .map(|(row, pan)| {
                let value = |field: &str| form.value(&format!("pans.{row}.{field}"));
                let holds = pan.as_ref().filter(|p| p.ml > 0.0).map_or(String::new(), |p| {
                    let how = if value("ml").is_empty() { ", worked out" } else { "" };
                    format!("holds {:.0} ml{how}", p.ml)
                });
                let drawn = pan
                    .as_ref()
                    .and_then(|p| p.form)
                    .filter(|f| [f.length, f.depth].iter().all(|x| (0.5..=100.0).contains(x)));
                let picture =
                    drawn.map_or(String::new(), |f| empty_pan(&f, "The pan in section, and from above"));
                let shapes = [("", "only what it holds")]
                    .into_iter()
                    .chain(PanShape::ALL.into_iter().map(|s| (s.key(), s.name())));
                PanView {
                    row,
                    picture,
                    holds,
                    shapes: picks(shapes, value("shape")),
                    made: picks_of::<Made>(value("made")),
                }
            })
            .collect()
    }
}

impl KitchenPage {
    /// The page as typed.
    pub fn new(form: Form, revision: Revision) -> Self {
        let zones = jiff::tz::db()
            .available()
            .map(|z| z.to_string())
            .filter(|z| z.contains('/') || z == "UTC")
            .collect();
        let pans = PanView::all(&form);
        KitchenPage {
            form,
            revision,
            saved: false,
            conflict: false,
            damaged: false,
            zones,
            touched: false,
            oven: None,
            pans,
        }
    }

    /// The page of a kitchen as it is stored, with what it has learned.
    pub fn of(kitchen: &Kitchen, form: Form, revision: Revision) -> Self {
        KitchenPage { oven: Some(this_oven(kitchen)), ..KitchenPage::new(form, revision) }
    }

    fn rows(&self, list: &str) -> Vec<usize> {
        rows(&self.form, list)
    }

    fn speeds(&self) -> std::ops::Range<usize> {
        0..SPEEDS
    }

    fn speed(&self, n: &usize) -> &str {
        self.form.value(&format!("mixer_speeds.{n}"))
    }

    fn faulty_speed(&self, n: &usize) -> bool {
        self.form.fault(&format!("mixer_speeds.{n}")).is_some()
    }

    fn typed(&self, list: &str, row: &usize, field: &str) -> &str {
        self.form.value(&format!("{list}.{row}.{field}"))
    }

    fn seen(&self, row: &usize) -> Vec<Pick> {
        picks(Seen::ALL, self.form.value(&format!("oven_readings.{row}.seen")))
    }

    fn methods(&self, row: &usize) -> Vec<Pick> {
        picks_of::<Method>(self.form.value(&format!("friction.{row}.method")))
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

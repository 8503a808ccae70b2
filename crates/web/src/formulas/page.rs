//! The list of formulas as it is shown.

use askama::Template;
use cerealis_core::words::Style;
use cerealis_store::{DamagedRecord, FormulaId};

use super::first_run::{self, Questions, StartCard};
use crate::form::Form;
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
    pub(crate) in_bin: usize,
    /// What is to be said of the backups.
    pub(crate) old_backup: String,
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
            in_bin: 0,
            old_backup: String::new(),
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

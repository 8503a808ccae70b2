//! The lines and the make-ups, as they are typed.

use askama::Template;
use cerealis_core::finish::{GoesOnAt, Pieces};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::shape::Hand;
use cerealis_core::words::{Kind, Stage, Vessel};

use crate::form::Form;
use crate::shape::{pans, scores};
use crate::show::{Pick, picks, picks_of};

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
    /// For what goes on the pieces: when it may go on.
    pub at: Vec<Pick>,
    /// And on which pieces, where there are several make-ups.
    pub on: Vec<Pick>,
    /// What was said of both.
    pub said: String,
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
    /// Whether it goes on the pieces, and so has a moment.
    pub finish: bool,
    /// Whether it is the levain, which is built from a kept culture.
    pub levain: bool,
    /// Its lines.
    pub lines: Vec<LineView>,
}

/// The line editor.
#[derive(Template)]
#[template(path = "formula/lines.html")]
pub struct Lines {
    form: Form,
    stages: Vec<StageView>,
    add: Vec<Pick>,
}

impl Lines {
    /// The editor as typed.
    pub fn new(form: &Form) -> Self {
        let rows = super::rows::rows(form);
        let stage_view = |stage: Stage| StageView {
            name: stage.name(),
            key: stage.key(),
            ahead: stage.is_ahead(),
            finish: goes_on(stage),
            preferment: stage.is_preferment(),
            levain: stage == Stage::Preferment,
            lines: rows.iter().filter(|r| r.stage == stage).map(|r| line_view(form, r.row, stage)).collect(),
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
#[template(path = "formula/makeups.html")]
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
    /// The kitchen's pans.
    pub pans: Vec<Pick>,
    /// From which side a plait is begun.
    pub hands: Vec<Pick>,
    /// Its cuts.
    pub scores: Vec<Pick>,
    /// Whether its two strands are laid as a cross.
    pub crossed: bool,
    /// Whether a cross is piped on it.
    pub piped: bool,
    /// Whether it is basted.
    pub basted: bool,
    /// Whether anything is said that stands folded away.
    pub open: bool,
}

impl MakeUps {
    /// The make-ups as typed.
    pub fn new(form: &Form, kitchen: &Kitchen) -> Self {
        let row = |row: usize| MakeUpRow {
            row,
            kinds: picks_of::<Kind>(form.value(&format!("makeups.{row}.kind"))),
            vessels: picks_of::<Vessel>(form.value(&format!("makeups.{row}.vessel"))),
            pans: pans(kitchen, form.value(&format!("makeups.{row}.pan"))),
            hands: picks_of::<Hand>(form.value(&format!("makeups.{row}.hand"))),
            scores: scores(form.value(&format!("makeups.{row}.finish.score"))),
            crossed: form.ticked(&format!("makeups.{row}.crossed")),
            piped: form.ticked(&format!("makeups.{row}.finish.piped")),
            basted: form.ticked(&format!("makeups.{row}.finish.basted")),
            open: ["pan", "together", "tin_length", "rolled", "finish.score", "finish.piped"].iter().any(
                |f| {
                    let name = format!("makeups.{row}.{f}");
                    !form.value(&name).is_empty() || form.fault(&name).is_some()
                },
            ),
        };
        MakeUps { form: form.clone(), rows: super::read::makeup_rows(form).into_iter().map(row).collect() }
    }
}

/// Whether it goes on the pieces at a moment, and on some of them.
fn goes_on(stage: Stage) -> bool {
    !stage.in_dough() && stage != Stage::Dusting
}

/// The moments that a line may be given; `now` among them, whatever it is.
fn moments(now: &str) -> Vec<Pick> {
    let before = ["shaped", "before:30", "before:15", "before"].map(str::to_owned);
    let baking = (1..=8).map(|n| format!("minute:{}", 5 * n));
    let after = ["to-go:10", "to-go:5", "hot", "cold"].map(str::to_owned);
    let mut keys: Vec<String> = before.into_iter().chain(baking).chain(after).collect();
    if now.parse::<GoesOnAt>().is_ok() && !keys.iter().any(|k| k == now) {
        keys.push(now.to_owned());
    }
    let mut moments: Vec<GoesOnAt> = keys.iter().filter_map(|k| k.parse().ok()).collect();
    moments.sort_by_key(|at| match at {
        GoesOnAt::Earlier(n) => (1, 1000 - n),
        GoesOnAt::ToGo(n) => (4, 1000 - n),
        GoesOnAt::Minute(n) => (3, *n),
        GoesOnAt::Shaped => (0, 0),
        GoesOnAt::Before => (2, 0),
        GoesOnAt::Hot => (5, 0),
        GoesOnAt::Cold => (6, 0),
    });
    let named: Vec<(String, String)> = moments.iter().map(|at| (at.to_string(), at.says())).collect();
    let usual = ("", "as is usual");
    picks([usual].into_iter().chain(named.iter().map(|(k, n)| (k.as_str(), n.as_str()))), now)
}

/// The make-ups that a line may go on.
fn pieces(form: &Form, now: &str) -> Vec<Pick> {
    let makeups = super::read::makeup_rows(form);
    if makeups.is_empty() && now.is_empty() {
        return Vec::new();
    }
    let kind = |i: &usize| {
        let kind = Kind::from_key(form.value(&format!("makeups.{i}.kind"))).map_or("pieces", Kind::name);
        let key = Pieces::MakeUp(*i as u32).to_string();
        let name = format!(
            "portion {key} alone: {} × {}",
            form.value(&format!("makeups.{i}.pieces")),
            kind.to_lowercase()
        );
        (key, name)
    };
    let own: Vec<(String, String)> = makeups.iter().map(kind).collect();
    let known = own.iter().any(|(k, _)| k == now) || ["", "all"].contains(&now);
    let first = [("", "main pieces alone"), ("all", "all pieces")];
    let none = (!known).then_some((now, "none: those pieces are gone"));
    let all = first.into_iter().chain(own.iter().map(|(k, n)| (k.as_str(), n.as_str()))).chain(none);
    picks(all, now)
}

fn line_view(form: &Form, row: usize, stage: Stage) -> LineView {
    let text = |field: &str| form.value(&format!("lines.{row}.{field}")).to_owned();
    let fault = |field: &str| form.fault(&format!("lines.{row}.{field}")).unwrap_or_default().to_owned();
    let (at, on) = match goes_on(stage) {
        true => (moments(&text("at")), pieces(form, &text("on"))),
        false => (Vec::new(), Vec::new()),
    };
    let chosen = |all: &[Pick]| all.iter().skip(1).find(|p| p.on).map(|p| p.name.clone());
    let said: Vec<String> = [chosen(&at), chosen(&on)].into_iter().flatten().collect();
    LineView {
        at,
        on,
        said: said.join(", "),
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

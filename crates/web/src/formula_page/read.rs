//! The formula that a form makes.

use std::str::FromStr;

use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formula::{
    AheadWish, Formula, LevainWish, Line, MAKEUPS_MAX, MakeUp, Uses, set_grams, set_percent,
};
use cerealis_core::pantry::{Ingredient, Measures};
use cerealis_core::units::{Grams, Percent};
use cerealis_core::words::{Counting, Kind, Stage, Style, Vessel};
use cerealis_reader::weigh_as;

use super::fill::counting;
use super::rows::{LineRow, rows};
use crate::form;
use crate::form::{Form, Reader, number};
use crate::household::Household;

/// Reads the formula that a form makes.
///
/// Grams and percentage of a line are compared with what the page showed: the one that differs is what
/// the baker typed, and the other follows.
///
/// # Errors
/// Every field that cannot be read or is out of range.
pub fn read(form: &Form, house: &Household) -> Result<Formula, Faults> {
    let catalogue = &house.catalogue;
    let mut r = Reader::new(form);
    let style = r.choice("style", Style::from_key, Style::Tin);
    let blank = Formula::beginning("", style);
    let mix = form::read(&mut r, blank.mix);
    let rise = form::read(&mut r, blank.rise);
    let shape = form::read(&mut r, blank.shape);
    let finish = form::read(&mut r, blank.finish);
    let oven = form::read(&mut r, blank.oven);
    let day = form::read(&mut r, blank.day);
    let words = |text: &str, by: char| -> Vec<String> {
        text.split(by).map(str::trim).filter(|t| !t.is_empty()).map(str::to_owned).collect()
    };
    let counting = match form.value("counting") {
        "" => None,
        _ => Some(r.choice("counting", Counting::from_key, Counting::AllFlour)),
    };
    let mut formula = Formula {
        counting,
        stages: read_stages(&mut r),
        levain: LevainWish {
            builds: if form.value("levain.builds").is_empty() { 1 } else { r.whole("levain.builds") },
            keep: r.measure("levain.keep").unwrap_or(Grams(0.0)),
        },
        makeups: read_makeups(&mut r),
        author: r.text("author"),
        tags: words(form.value("tags"), ','),
        notes: form.value("notes").replace("\r\n", "\n"),
        meant: words(form.value("meant"), ' '),
        said: serde_json::from_str(form.value("said")).unwrap_or_default(),
        name: r.text("name"),
        style,
        percent_locked: form.ticked("percent_locked"),
        lines: Vec::new(),
        mix,
        rise,
        shape,
        finish,
        oven,
        day,
        uses: Uses { oven: r.text("uses.oven"), mixer: r.text("uses.mixer") },
    };
    let typed = read_lines(&mut r, &mut formula, house);
    r.done(())?;
    apply(&mut formula, &typed, house)?;
    formula.check(catalogue).map_err(|faults| on_rows(faults, &typed))?;
    Ok(formula)
}

fn read_stages(r: &mut Reader<'_>) -> Vec<AheadWish> {
    let mut plans = Vec::new();
    for stage in Stage::ALL.into_iter().filter(|s| s.is_ahead()) {
        let at = |field: &str| format!("stages.{}.{field}", stage.key());
        let (hours, place) = (r.measure(&at("hours")), r.measure(&at("place")));
        let plan = AheadWish { stage, hours, place, temperature: r.measure(&at("temperature")) };
        if plan.hours.is_some() || plan.place.is_some() || plan.temperature.is_some() {
            plans.push(plan);
        }
    }
    plans
}

/// The numbers of the further make-ups on the page.
pub fn makeup_rows(form: &Form) -> Vec<usize> {
    (0..=MAKEUPS_MAX).filter(|i| form.values.contains_key(&format!("makeups.{i}.kind"))).collect()
}

fn read_makeups(r: &mut Reader<'_>) -> Vec<MakeUp> {
    makeup_rows(r.form)
        .into_iter()
        .map(|i| {
            let blank = MakeUp::of(Kind::Bun, 1, Grams(0.0), Vessel::Sheet);
            form::read_under(r, format!("makeups.{i}."), blank)
        })
        .collect()
}

/// What was typed into one row.
struct Typed {
    row: usize,
    /// Its grams, where they are not what the page showed.
    grams: Option<f64>,
    /// Its percentage, where it is not what the page showed.
    percent: Option<f64>,
}

/// Fills the formula's lines with their exact masses, and returns what was typed over them.
fn read_lines(r: &mut Reader<'_>, formula: &mut Formula, house: &Household) -> Vec<Typed> {
    let catalogue = &house.catalogue;
    let mut typed = Vec::new();
    for LineRow { row, stage } in rows(r.form) {
        let at = |field: &str| format!("lines.{row}.{field}");
        let name = r.text(&at("ingredient"));
        let (grams_text, percent_text) = (r.text(&at("grams")), r.text(&at("percent")));
        if name.is_empty() && grams_text.is_empty() && percent_text.is_empty() {
            continue;
        }
        let ingredient = match catalogue.named(&name) {
            Some(i) => i,
            None if name.is_empty() => {
                r.fault("missing", &at("ingredient"), "Name the ingredient of this line.");
                continue;
            }
            None => {
                let text = format!("“{name}” is not in the catalogue. Pick a name from the list.");
                r.fault("unknown", &at("ingredient"), &text);
                continue;
            }
        };
        let exact = number(r.form.value(&at("exact"))).filter(|x| *x >= 0.0).unwrap_or(0.0);
        // A new line may be given by its percentage alone; on an old one, cleared grams are missing.
        let by_percent = exact == 0.0 && grams_text.is_empty() && !percent_text.is_empty();
        let in_cups = || by_measure(&grams_text, ingredient, house.kitchen.measures);
        let grams = (!by_percent).then(|| in_cups().unwrap_or_else(|| r.figure_of::<Grams>(&at("grams")).0));
        let percent = r.measure::<Percent>(&at("percent")).map(|p| p.0);
        let shown = r.text(&at("shown"));
        let (shown_grams, shown_percent) = shown.split_once(' ').unwrap_or((shown.as_str(), ""));
        typed.push(Typed {
            row,
            // What stands there as it was shown is not typed, whatever it would be in grams.
            grams: grams.filter(|g| {
                grams_text != shown_grams
                    && (r.form.notation().in_ounces()
                        || differs(*g, if shown.is_empty() { "0" } else { shown_grams }))
            }),
            percent: percent.filter(|p| differs(*p, shown_percent)),
        });
        let line = Line::new(ingredient.key.clone(), stage, Grams(exact));
        formula.lines.push(Line {
            note: r.text(&at("note")),
            at: said(r, &at("at")),
            on: said(r, &at("on")).unwrap_or_default(),
            ..line
        });
    }
    typed
}

/// An amount typed in cups, spoons or pieces, in g; `None` where it is none, or nothing is known of how it fills them.
fn by_measure(text: &str, ingredient: &Ingredient, measures: Measures) -> Option<f64> {
    let unit = text.trim_start_matches(|c: char| !c.is_alphabetic()).to_lowercase();
    let named = ["cup", "tbsp", "tablespoon", "tsp", "teaspoon", "large", "medium", "small"];
    let line =
        named.iter().any(|n| unit.starts_with(n)).then(|| weigh_as(text, Some(ingredient), measures))?;
    line.grams.map(|g| g.0)
}

/// What is said of a line by one of a few words; nothing where it is empty.
fn said<T: FromStr<Err = String>>(r: &mut Reader<'_>, name: &str) -> Option<T> {
    let text = r.text(name);
    if text.is_empty() {
        return None;
    }
    text.parse().map_err(|message: String| r.fault("unknown", name, &message)).ok()
}

/// Whether a typed figure is another than the one the page showed.
fn differs(typed: f64, shown: &str) -> bool {
    number(shown).is_none_or(|s| (s - typed).abs() > 1e-9)
}

/// Puts in what was typed: grams first, then percentages of what that makes.
fn apply(formula: &mut Formula, typed: &[Typed], house: &Household) -> Result<(), Faults> {
    let school = counting(formula, house);
    let on_row =
        |f: Fault, row: usize, field: &str| Faults(vec![Fault { path: format!("lines.{row}.{field}"), ..f }]);
    for (i, t) in typed.iter().enumerate() {
        if let Some(g) = t.grams {
            let path = format!("lines.{}.grams", t.row);
            in_range(&path, "A line", g, 0.0, cerealis_core::formula::LINE_GRAMS_MAX, "g")?;
            set_grams(formula, i, Grams(g)).map_err(|f| on_row(f, t.row, "grams"))?;
        }
    }
    for (i, t) in typed.iter().enumerate().filter(|(_, t)| t.grams.is_none()) {
        if let Some(p) = t.percent {
            in_range(&format!("lines.{}.percent", t.row), "A percentage", p, 0.0, 1000.0, "%")?;
            set_percent(formula, i, Percent(p), &house.catalogue, school)
                .map_err(|f| on_row(f, t.row, "percent"))?;
        }
    }
    Ok(())
}

/// Faults name lines by their place in the formula; the page knows them by their row.
fn on_rows(Faults(faults): Faults, typed: &[Typed]) -> Faults {
    let moved = |mut f: Fault| {
        if let Some((index, field)) = f.path.strip_prefix("lines.").and_then(|rest| rest.split_once('.'))
            && let Some(t) = index.parse().ok().and_then(|i: usize| typed.get(i))
        {
            f.path = format!("lines.{}.{field}", t.row);
        }
        f
    };
    Faults(faults.into_iter().map(moved).collect())
}

fn in_range(path: &str, what: &str, value: f64, low: f64, high: f64, unit: &str) -> Result<(), Faults> {
    let mut c = cerealis_core::fault::Check::new();
    c.range(path, what, value, low, high, unit);
    c.done(())
}

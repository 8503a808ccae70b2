//! What the Formula station answers.

use askama::Template;
use cerealis_core::formula::{Formula, Nutrition, Slip, Swap, Swapped, cost, offers};
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::Stations;
use cerealis_core::units::{Grams, Percent, shown};

use crate::household::Household;
use crate::picture::{self, both};
use crate::show::{Fact, fact};

fn pct(p: Percent) -> String {
    format!("{} %", shown::percent(Percent((p.0 * 100.0).round() / 100.0)))
}

/// The Formula station.
#[derive(Template)]
#[template(path = "formula/answer.html")]
pub struct FormulaOut {
    facts: Vec<Fact>,
    bar: String,
    slips: Vec<Slip>,
    meant: Vec<Slip>,
    tried: Option<SwapShown>,
    offers: Vec<(String, String)>,
    allergens: String,
    cautions: Vec<String>,
    feeds: Vec<[String; 3]>,
    costs: Option<String>,
    keeping: Vec<String>,
}

/// Energy and nutrients: name, in 100 g, in a piece.
fn feeds(s: &Stations) -> Vec<[String; 3]> {
    let (a, b) = (&s.nutrition, &s.piece_nutrition);
    let energy = |n: &Nutrition| format!("{:.0} kcal, {:.0} kJ", n.kilocalories, n.kilojoules);
    let mut rows = vec![["Energy".to_owned(), energy(a), energy(b)]];
    let g = |x: f64| format!("{x:.1} g");
    for (name, x, y) in [
        ("Fat", a.fat, b.fat),
        ("Carbohydrate", a.carbohydrate, b.carbohydrate),
        ("of which sugars", a.sugars, b.sugars),
        ("Fibre", a.fibre, b.fibre),
        ("Protein", a.protein, b.protein),
        ("Salt", a.salt, b.salt),
    ] {
        rows.push([name.to_owned(), g(x), g(y)]);
    }
    rows
}

/// What it costs, in a sentence; none while nothing in it has a price.
fn costs(f: &Formula, s: &Stations, house: &Household) -> Option<String> {
    let piece = s.shape.piece;
    let c = cost(f, piece, &house.cupboard.prices, &house.catalogue)?;
    let money = |x: f64| format!("{x:.2} {}", house.kitchen.currency);
    let one = if f.shape.pieces > 1 || !f.makeups.is_empty() {
        format!("{} a piece of {} g, ", money(c.piece), shown::grams(piece))
    } else {
        String::new()
    };
    let unpriced = match c.unpriced.as_slice() {
        [] => String::new(),
        some => format!(" Without a price yet: {}.", some.join(", ").to_lowercase()),
    };
    Some(format!("{one}{} in all, {} a kilogram of dough.{unpriced}", money(c.total), money(c.kilogram)))
}

/// A swap that was looked at.
pub struct Tried {
    /// The swap.
    pub swap: Swap,
    /// What it would make.
    pub swapped: Swapped,
}

/// A swap as shown: what it changes, before it is accepted.
pub struct SwapShown {
    /// The value of the button that accepts it.
    key: String,
    /// Stage, ingredient, grams before and after.
    lines: Vec<[String; 4]>,
    /// Key figures that change: name, before, after.
    figures: Vec<(&'static str, String, String)>,
    notes: Vec<String>,
}

impl SwapShown {
    fn new(tried: &Tried, catalogue: &Catalogue) -> Self {
        let name = |key: &str| catalogue.get(key).map_or(key.to_owned(), |i| i.name.clone());
        let grams = |g: Grams| if g.0 > 0.0 { format!("{} g", shown::grams(g)) } else { "none".into() };
        let (a, b) = (&tried.swapped.before, &tried.swapped.after);
        let rows = [
            ("Dough", format!("{} g", shown::grams(a.dough)), format!("{} g", shown::grams(b.dough))),
            ("Hydration", pct(a.hydration), pct(b.hydration)),
            ("Effective hydration", pct(a.effective_hydration), pct(b.effective_hydration)),
            ("Salt", pct(a.salt), pct(b.salt)),
            ("Sugar", pct(a.sugar), pct(b.sugar)),
            ("Fat", pct(a.fat), pct(b.fat)),
            ("Prefermented flour", pct(a.prefermented), pct(b.prefermented)),
            ("Allergens", a.allergens.join(", "), b.allergens.join(", ")),
        ];
        SwapShown {
            key: serde_json::to_string(&tried.swap).unwrap_or_default(),
            lines: tried
                .swapped
                .changes
                .iter()
                .map(|c| [c.stage.name().into(), name(&c.ingredient), grams(c.before), grams(c.after)])
                .filter(|[_, _, before, after]| before != after)
                .collect(),
            figures: rows.into_iter().filter(|(_, a, b)| a != b).collect(),
            notes: tried.swapped.notes.clone(),
        }
    }
}

impl FormulaOut {
    /// Shows the key figures.
    pub fn new(f: &Formula, s: &Stations, tried: Option<&Tried>, house: &Household) -> Self {
        let catalogue = &house.catalogue;
        let k = &s.figures;
        let (meant, slips) = s.slips.iter().cloned().partition(|s| s.meant);
        let offers = offers(f, catalogue)
            .into_iter()
            .filter_map(|o| Some((o.name, serde_json::to_string(&o.swap).ok()?)))
            .collect();
        let dough = shown::total(f.lines.iter().filter(|l| l.stage.in_dough()).map(|l| l.grams));
        let flour = k.flour;
        FormulaOut {
            facts: vec![
                fact("Flour", format!("{} g", shown::grams(flour))),
                fact("Dough", format!("{} g", shown::plain(dough))),
                fact("Hydration", format!("{:.0} %", k.hydration.0)),
                fact("Effective hydration", format!("{:.0} %", k.effective_hydration.0)),
                fact("Salt", pct(k.salt)),
                fact("Sugar", pct(k.sugar)),
                fact("Fat", pct(k.fat)),
                fact("Prefermented flour", pct(k.prefermented)),
            ],
            bar: both(|room| picture::flour_bar(f, catalogue, flour, room)),
            slips,
            meant,
            offers,
            tried: tried.map(|t| SwapShown::new(t, catalogue)),
            allergens: k.allergens.join(", "),
            cautions: s.cautions.clone(),
            feeds: feeds(s),
            costs: costs(f, s, house),
            keeping: s.keeping.clone(),
        }
    }
}

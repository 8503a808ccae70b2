//! The cupboard's pages.

use cerealis_store::Revision;
use std::collections::BTreeSet;

use askama::Template;
use cerealis_core::pantry::{ALLERGENS, Catalogue, Group, Ingredient, OwnIngredient};

use crate::form::{Form, exact_field, number, plain, shown_field};

/// One ingredient on the shelf.
pub struct ShelfRow {
    /// Its key.
    pub key: String,
    /// Its name.
    pub name: String,
    /// What is to be known of it: protein, water, what a cup weighs.
    pub facts: String,
    /// Its allergens.
    pub allergens: String,
    /// Whether it is the household's own.
    pub own: bool,
    /// The price of a kilogram, as typed.
    pub price: String,
    /// What is wrong with it.
    pub fault: String,
    /// How much is there, as typed.
    pub there: String,
    /// The same exactly.
    pub there_exact: String,
    /// What the page showed of that.
    pub there_shown: String,
    /// What is wrong with it.
    pub there_fault: String,
}

/// The shelf of one group.
pub struct ShelfGroup {
    /// Its name.
    pub name: &'static str,
    /// What stands on it.
    pub rows: Vec<ShelfRow>,
}

/// The cupboard.
#[derive(Template)]
#[template(path = "cupboard.html")]
pub struct CupboardPage {
    pub(crate) form: Form,
    pub(crate) groups: Vec<ShelfGroup>,
    pub(crate) sought: String,
    pub(crate) found: usize,
    pub(crate) all: usize,
    pub(crate) revision: Revision,
    pub(crate) currency: String,
    pub(crate) saved: bool,
    pub(crate) conflict: bool,
    /// The name of the own ingredient just deleted, and itself to be put back.
    pub(crate) deleted: Option<(String, String)>,
}

impl CupboardPage {
    /// What is sought; or what the formulas use, what has a price, and one's own.
    pub fn new(
        form: Form,
        catalogue: &Catalogue,
        used: &BTreeSet<String>,
        sought: &str,
        revision: Revision,
        currency: String,
    ) -> Self {
        let words: Vec<String> = sought.to_lowercase().split_whitespace().map(str::to_owned).collect();
        let wanted = |i: &&Ingredient| {
            if words.is_empty() {
                let known = |list: &str| !form.value(&format!("{list}.{}", i.key)).is_empty();
                return i.source == "own" || used.contains(&i.key) || known("prices") || known("stock");
            }
            let names = format!("{} {}", i.name, i.aliases.join(" ")).to_lowercase();
            words.iter().all(|w| names.contains(w.as_str()))
        };
        let group = |(group, name): (Group, &'static str)| ShelfGroup {
            name,
            rows: catalogue
                .at_hand()
                .filter(|i| i.group == group)
                .filter(wanted)
                .map(|i| row(i, &form))
                .collect(),
        };
        let groups: Vec<ShelfGroup> =
            Group::ALL.into_iter().map(group).filter(|g| !g.rows.is_empty()).collect();
        CupboardPage {
            found: groups.iter().map(|g| g.rows.len()).sum(),
            all: catalogue.at_hand().count(),
            groups,
            form,
            sought: sought.to_owned(),
            revision,
            currency,
            saved: false,
            conflict: false,
            deleted: None,
        }
    }
}

fn row(i: &Ingredient, form: &Form) -> ShelfRow {
    let field = format!("prices.{}", i.key);
    let c = &i.per_100g;
    let mut facts = Vec::new();
    if i.group == Group::Flour {
        facts.push(format!("protein {} %", plain(c.protein)));
        facts.push(format!("ash {} %", plain(c.ash)));
        facts.extend(i.absorption.map(|a| format!("takes up {} %", plain(a))));
    } else {
        facts.extend((c.water >= 1.0).then(|| format!("water {} %", plain(c.water))));
        facts.extend((c.fat >= 5.0).then(|| format!("fat {} %", plain(c.fat))));
        facts.extend((c.sugars >= 5.0).then(|| format!("sugars {} %", plain(c.sugars))));
    }
    let measure = i.measures.iter().find(|m| m.name == "cup").or(i.measures.first());
    facts.extend(measure.map(|m| {
        let one = if m.name == "cup" { "cup".to_owned() } else { m.name.clone() };
        format!("{one} {} g", plain(m.grams))
    }));
    ShelfRow {
        key: i.key.clone(),
        name: i.name.clone(),
        facts: facts.join(", "),
        allergens: i.allergens.join(", "),
        own: i.source == "own",
        price: form.value(&field).to_owned(),
        there: form.value(&format!("stock.{}", i.key)).to_owned(),
        there_exact: form.value(&exact_field(&format!("stock.{}", i.key))).to_owned(),
        there_shown: form.value(&shown_field(&format!("stock.{}", i.key))).to_owned(),
        there_fault: form.fault(&format!("stock.{}", i.key)).unwrap_or_default().to_owned(),
        fault: form.fault(&field).unwrap_or_default().to_owned(),
    }
}

/// A figure of an own ingredient: its field, and what its model has.
pub struct OwnFigure {
    /// The field.
    pub field: &'static str,
    /// Its label.
    pub label: &'static str,
    /// What the figure does, in a sentence.
    pub does: &'static str,
    /// The model's figure.
    pub model: String,
}

/// The form of an own ingredient.
#[derive(Template)]
#[template(path = "own.html")]
pub struct OwnPage {
    pub(crate) key: Option<String>,
    pub(crate) form: Form,
    pub(crate) model: Option<String>,
    pub(crate) first: Vec<OwnFigure>,
    pub(crate) further: Vec<OwnFigure>,
    pub(crate) allergens: Vec<(&'static str, bool)>,
    pub(crate) makes: Vec<(String, String)>,
    pub(crate) names: Vec<String>,
    pub(crate) conflict: bool,
}

impl OwnPage {
    /// The form as typed, beside the figures of the ingredient it is like.
    pub fn new(key: Option<String>, form: Form) -> Self {
        let catalogue = Catalogue::bundled();
        let model = catalogue.named(form.value("like"));
        let flour = model.is_none_or(|m| m.group == Group::Flour);
        let of = |get: &dyn Fn(&Ingredient) -> f64| model.map_or(String::new(), |m| plain(get(m)));
        let figure = |field, label, does, model| OwnFigure { field, label, does, model };
        let protein = figure(
            "protein",
            "Protein, g",
            "More protein in wheat holds more gas: the dough may rise further.",
            of(&|m| m.per_100g.protein),
        );
        let ash =
            figure("ash", "Ash, g", "From the bag; more ash, more of the bran.", of(&|m| m.per_100g.ash));
        let water = figure(
            "water",
            "Water, g",
            if flour {
                "A flour's own moisture does not count as hydration."
            } else {
                "Counts into the effective hydration."
            },
            of(&|m| m.per_100g.water),
        );
        let cup = figure("cup", "A level US cup, g", "Fill, level and weigh one.", {
            let cup = |m: &Ingredient| m.measures.iter().find(|x| x.name == "cup").map(|x| plain(x.grams));
            model.and_then(cup).unwrap_or_default()
        });
        let fat = figure("fat", "Fat, g", "Counts into the fat of the dough.", of(&|m| m.per_100g.fat));
        let sugars = figure(
            "sugars",
            "Sugars, g",
            "Sweeten, brown the crust and slow the yeast.",
            of(&|m| m.per_100g.sugars),
        );
        let carb = figure(
            "carb",
            "Carbohydrate, g",
            "Sugars counted in, fibre not. Left out, it makes up 100 g.",
            of(&|m| m.per_100g.carb),
        );
        let fibre = figure("fibre", "Fibre, g", "For what it feeds.", of(&|m| m.per_100g.fibre));
        let salt = figure("salt", "Salt, g", "Counts into the salt of the dough.", of(&|m| m.per_100g.salt));
        let (first, further) = if flour {
            let absorption = figure(
                "absorption",
                "Takes up water, %",
                "How much water makes an ordinary dough of it. Swaps move the water by this.",
                model.and_then(|m| m.absorption).map_or(String::new(), plain),
            );
            (vec![protein, ash, absorption], vec![water, cup, fat, carb, sugars, fibre, salt])
        } else {
            (vec![water, fat, sugars], vec![protein, cup, carb, fibre, ash, salt])
        };
        let own_list = form.ticked("own_allergens");
        let allergens = ALLERGENS
            .map(|a| {
                let on = form.ticked(&format!("allergen.{a}"));
                (a, if own_list { on } else { model.is_some_and(|m| m.has_allergen(a)) })
            })
            .to_vec();
        let makes = model.map_or_else(Vec::new, |m| makes(&form, m));
        OwnPage {
            key,
            model: model.map(|m| m.name.clone()),
            first,
            further,
            allergens,
            makes,
            names: catalogue.at_hand().map(|i| i.name.clone()).collect(),
            conflict: false,
            form,
        }
    }
}

/// What the figures typed so far make of the model.
fn makes(form: &Form, model: &Ingredient) -> Vec<(String, String)> {
    let f = |name: &str| number(form.value(name));
    let own = OwnIngredient {
        water: f("water"),
        protein: f("protein"),
        fat: f("fat"),
        carb: f("carb"),
        sugars: f("sugars"),
        fibre: f("fibre"),
        ash: f("ash"),
        salt: f("salt"),
        absorption: f("absorption"),
        cup: f("cup"),
        ..OwnIngredient::default()
    };
    let made = own.resolve(model);
    let c = made.per_100g;
    let grams = |name: &str, x: f64| (name.to_owned(), format!("{} g", plain(x)));
    let mut all = vec![
        grams("Water", c.water),
        grams("Protein", c.protein),
        grams("Fat", c.fat),
        grams("Carbohydrate", c.carb),
        grams("Fibre", c.fibre),
        grams("Ash", c.ash),
    ];
    all.extend(made.hold.map(|h| ("A dough of it holds".into(), format!("{} times its volume", plain(h)))));
    all
}

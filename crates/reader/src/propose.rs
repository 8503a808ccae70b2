//! From what was read to a formula: its lines, its style by the evidence, and what its method says at every
//! station.

use schemars::JsonSchema;
use serde::Serialize;

use crate::finding::{Finding, Found};
use crate::lines::{LineKind, ReadLine};
use cerealis_core::formula::{Formula, Line};
use cerealis_core::pantry::{Catalogue, Group, Ingredient};
use cerealis_core::units::{Grams, Minutes, shown};
use cerealis_core::words::{Kind, Method, Stage, Style, Vessel};

/// What is proposed of a recipe that was read.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Proposal {
    /// Its style.
    pub style: Style,
    /// What tells of it, as the rest of a sentence that begins with the style.
    pub because: String,
    /// What its method says, in the order of the stations.
    pub facts: Vec<Fact>,
    /// The formula that all of it makes: lines that are weighed, and every fact that is taken.
    pub formula: Formula,
}

/// Something that the method says, and whether it is taken.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Fact {
    /// What was found.
    #[serde(flatten)]
    pub finding: Finding,
    /// Whether it goes into the formula unless somebody says otherwise.
    pub taken: bool,
    /// What becomes of it where it does not just set its station, or why it is not taken.
    pub why: String,
}

impl Fact {
    /// A finding, taken where it is within reason.
    pub fn of(finding: Finding) -> Fact {
        let doubt = finding.doubt();
        let taken = doubt.is_none();
        let why = doubt.unwrap_or_else(|| match (finding.is_reckoned(), finding.sets()) {
            (true, true) if finding.follows() => "as the recipe says".into(),
            (true, _) => "kept beside what is worked out here".into(),
            (false, true) => String::new(),
            (false, false) => "stays in the method alone".into(),
        });
        Fact { finding, taken, why }
    }
}

/// Proposes a formula. `told` is a style that was said.
pub fn propose(
    name: &str,
    lines: &[ReadLine],
    found: &[Finding],
    told: Option<Style>,
    catalogue: &Catalogue,
) -> Proposal {
    let (style, because) = match told {
        Some(style) => (style, "as it is said".to_owned()),
        None => likely_style(lines, found, catalogue),
    };
    let mut formula = Formula::beginning(if name.is_empty() { "A recipe" } else { name }, style);
    formula.lines = lines
        .iter()
        .filter(|l| l.kind == LineKind::Ingredient)
        .filter_map(|l| Some(Line::new(l.ingredient.as_deref()?, l.stage, l.grams?)))
        .collect();
    let facts: Vec<Fact> = found.iter().cloned().map(Fact::of).collect();
    let taken: Vec<Finding> = facts.iter().filter(|f| f.taken).map(|f| f.finding.clone()).collect();
    take(&mut formula, &taken, catalogue);
    Proposal { style, because, facts, formula }
}

/// Puts what is taken of a method into a formula: when each of its lines goes in, and every wish.
pub fn take(formula: &mut Formula, findings: &[Finding], catalogue: &Catalogue) {
    let said = |what: Found| findings.iter().any(|f| f.found == what);
    if said(Found::LateButter) {
        butter_goes_in_late(formula, catalogue);
    }
    if said(Found::AddIns) {
        what_is_worked_in_goes_in_last(formula, catalogue);
    }
    findings.iter().for_each(|f| f.put_into(formula));
    // What is kneaded is not left to folds and time alone, whatever is usual for its style.
    let unkneaded = matches!(formula.mix.method, Method::Fold | Method::None);
    if unkneaded && said(Found::Knead) && !said(Found::MixedBy) && !said(Found::Folds) {
        formula.mix.method = Method::Hand;
    }
}

/// Fruit, nuts and seeds of the dough go in in the last minute.
fn what_is_worked_in_goes_in_last(formula: &mut Formula, catalogue: &Catalogue) {
    let worked_in = |l: &Line| {
        let known = catalogue.get(&l.ingredient);
        let kinds = [Group::Seed, Group::Nut, Group::Fruit];
        l.stage == Stage::Dough && known.is_some_and(|i| kinds.contains(&i.group))
    };
    formula.lines.iter_mut().filter(|l| worked_in(l)).for_each(|l| l.stage = Stage::AddIns);
}

/// The butter or fat of the dough goes in when it is kneaded.
fn butter_goes_in_late(formula: &mut Formula, catalogue: &Catalogue) {
    let solid = |l: &Line| {
        let fat = catalogue.get(&l.ingredient).filter(|i| i.group == Group::Fat);
        l.stage == Stage::Dough && fat.is_some_and(|i| !i.key.contains("oil"))
    };
    formula.lines.iter_mut().filter(|l| solid(l)).for_each(|l| l.stage = Stage::LateButter);
}

/// Hours unkneaded from which a dough is one that is left alone (common practice, no source).
const LEFT_ALONE: f64 = 8.0 * 60.0;
/// Share of rye from which a bread is a rye bread (common practice, no source).
const RYE: f64 = 0.5;
/// A piece under this is a roll or a bun, g (common practice, no source).
const SMALL: f64 = 150.0;

/// The style that flours, shapes, vessel and waits tell of, and which of them did.
pub fn likely_style(lines: &[ReadLine], found: &[Finding], catalogue: &Catalogue) -> (Style, String) {
    let of = |what: Found| found.iter().find(|f| f.found == what);
    let key = |what: Found| of(what).map_or("", |f| f.key.as_str());
    let weighed: Vec<(Grams, &Ingredient)> = lines
        .iter()
        .filter(|l| l.kind == LineKind::Ingredient && l.stage.in_dough())
        .filter_map(|l| Some((l.grams?, catalogue.get(l.ingredient.as_deref()?)?)))
        .collect();
    let sum = |of: &dyn Fn(&Ingredient) -> bool| -> f64 {
        weighed.iter().filter(|(_, i)| of(i)).map(|(g, _)| g.0).sum()
    };
    let flour = sum(&|i| i.group == Group::Flour);
    let gluten = sum(&|i| i.group == Group::Flour && i.allergens.iter().any(|a| a == "gluten"));
    let culture = sum(&|i| i.group == Group::Culture);
    let said = |style: Style, because: &str| (style, because.to_owned());
    if flour > 0.0 && gluten == 0.0 {
        return said(Style::GlutenFree, "none of its flours has gluten");
    }
    let shape = Kind::from_key(key(Found::Pieces)).or(Kind::from_key(key(Found::Shape)));
    if matches!(shape, Some(Kind::Braid)) || of(Found::Strands).is_some() {
        return said(Style::Braid, "it is plaited");
    }
    if flour > 0.0 && sum(&|i| i.group == Group::Flour && i.is_rye()) >= RYE * flour {
        return said(Style::Rye, "half of its flour or more is rye");
    }
    if shape == Some(Kind::Flat) {
        return said(Style::Flat, "it is pressed out flat");
    }
    let waits = of(Found::Bulk).filter(|b| b.low >= LEFT_ALONE && of(Found::Knead).is_none());
    if Method::from_key(key(Found::MixedBy)) == Some(Method::None) || waits.is_some() {
        let because = waits.map_or("it is not kneaded".to_owned(), |b| {
            format!("it stands {} and is not kneaded", shown::time(Minutes(b.low)))
        });
        return (Style::NoKnead, because);
    }
    let vessel = Vessel::from_key(key(Found::BakesIn));
    let small = of(Found::PieceWeight).is_some_and(|w| w.high < SMALL)
        || of(Found::Pieces).is_some_and(|p| p.low >= 6.0);
    let touching = of(Found::Together).is_some();
    match (shape, vessel) {
        (None | Some(Kind::Roll | Kind::Bun), _) if small && touching => {
            said(Style::SoftRoll, "it becomes small pieces that lie side by side")
        }
        (Some(Kind::Roll | Kind::Bun), _) => said(Style::SoftRoll, "it becomes rolls or buns"),
        (_, Some(Vessel::Tin | Vessel::Lidded)) => said(Style::Tin, "it bakes in a tin"),
        (Some(Kind::Spirals | Kind::Tin), _) => said(Style::Tin, "it bakes in a tin"),
        (Some(Kind::Round | Kind::Baguette | Kind::Batard), _) => {
            said(Style::Hearth, "it bakes as a free loaf")
        }
        (_, Some(Vessel::Pot)) => said(Style::Hearth, "it bakes in a hot pot"),
        (_, Some(Vessel::Stone)) => said(Style::Hearth, "it bakes on a hot stone"),
        _ if small => said(Style::SoftRoll, "it becomes small pieces"),
        _ if culture > 0.0 => said(Style::Hearth, "it is raised by a culture"),
        _ => said(Style::Tin, "nothing else is said: choose another where it is none"),
    }
}

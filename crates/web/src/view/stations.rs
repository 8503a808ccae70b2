//! What each station shows of its engine's answer.

use askama::Template;
use cerealis_core::formula::{Formula, MakeUp, Nutrition, Slip, Swap, Swapped, cost, counted_flour, offers};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::mix::{WaterAction, WaterAnswer};
use cerealis_core::pantry::Catalogue;
use cerealis_core::pantry::household;
use cerealis_core::stations::{Liquid, MakeUpAnswer, Stations, water_sentence};
use cerealis_core::units::{Grams, Percent, shown};
use cerealis_core::words::Stage;
use cerealis_core::words::WaterSchool;

use crate::form::House;
use crate::picture::{self, both};
use crate::show::{Thermo, clock, day, likely};

/// A figure with its name.
pub struct Fact {
    /// Its name.
    pub name: &'static str,
    /// The figure with its unit.
    pub figure: String,
}

pub(super) fn fact(name: &'static str, figure: impl Into<String>) -> Fact {
    Fact { name, figure: figure.into() }
}

fn pct(p: Percent) -> String {
    format!("{} %", shown::percent(Percent((p.0 * 100.0).round() / 100.0)))
}

/// The Formula station.
#[derive(Template)]
#[template(path = "out_formula.html")]
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
fn costs(f: &Formula, s: &Stations, house: House<'_>) -> Option<String> {
    let piece = s.shape.piece;
    let c = cost(f, piece, &house.cupboard.prices, house.catalogue)?;
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
    pub fn new(f: &Formula, s: &Stations, tried: Option<&Tried>, house: House<'_>) -> Self {
        let catalogue = house.catalogue;
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

/// One school's answer for the water.
pub struct School {
    /// Its name.
    pub name: &'static str,
    /// The temperature it asks for.
    pub water: String,
    /// Its working.
    pub working: String,
    /// Whether it is the one that leads.
    pub leads: bool,
}

/// One phase of mixing as shown.
pub struct PhaseRow {
    /// Its name.
    pub name: String,
    /// Its length.
    pub time: String,
    /// What goes in: names with their grams.
    pub goes_in: Vec<(String, String)>,
    /// What is done, and the mixer's speed.
    pub what: String,
    /// The sign to stop at.
    pub sign: String,
    /// Whether it needs hands.
    pub hands_on: bool,
}

/// The Mix station.
#[derive(Template)]
#[template(path = "out_mix.html")]
pub struct MixOut {
    big: String,
    aside: String,
    sentence: String,
    advice: Option<String>,
    idle: String,
    desired: String,
    schools: Vec<School>,
    phases: Vec<PhaseRow>,
    total: String,
    work: String,
    yeast: Option<[Fact; 3]>,
    dry_yeast: bool,
    notes: Vec<String>,
    strip: String,
    signs: [String; 2],
    friction: Option<String>,
}

impl MixOut {
    /// Shows the water and the phases.
    pub fn new(f: &Formula, s: &Stations, kitchen: &Kitchen) -> Self {
        let thermo = Thermo::of(kitchen);
        let answer = s.water_answer(f.mix.school);
        let w = &s.water;
        let factor = format!(
            "{} × {:.0} less flour, room{} and friction ({:.1})",
            w.factor_n,
            f.mix.desired.0,
            match w.factor_n as u32 {
                3 => "".to_owned(),
                4 => ", one more part".to_owned(),
                n => format!(", {} more parts", n - 3),
            },
            w.factor_friction
        );
        let balance = format!(
            "every ingredient and the bowl at its own temperature; dough holds {:.2} kJ/kg K; mixing adds {:.1} °C",
            w.dough_heat_capacity, s.mix.rise
        );
        let school = |name, a: &WaterAnswer, working, which| School {
            name,
            water: thermo.show(a.water),
            working,
            leads: f.mix.school == which,
        };
        let mut phases: Vec<PhaseRow> = s
            .mix
            .phases
            .iter()
            .zip(&s.goes_in)
            .map(|(p, goes_in)| PhaseRow {
                goes_in: goes_in.iter().map(|g| (g.name.clone(), shown::grams(g.grams))).collect(),
                name: p.name.clone(),
                time: shown::time(p.minutes),
                what: match p.rpm {
                    Some(rpm) => format!(
                        "{rpm:.0} turns a minute; {:.0} of {:.0} turns done by then. {}",
                        p.turns, s.mix.turns_wanted, p.what
                    ),
                    None => p.what.clone(),
                },
                sign: p.sign.clone(),
                hands_on: p.hands_on,
            })
            .collect();
        if let Some(folds) = s.mix.folds {
            phases.push(PhaseRow {
                name: format!("{} fold sets", folds.sets),
                goes_in: Vec::new(),
                time: format!("every {}", shown::time(folds.every)),
                what: "During the bulk rise: four folds a set, with wet hands.".into(),
                sign: "It holds its shape longer after each set.".into(),
                hands_on: true,
            });
        }
        let dry = |g: Grams| format!("{} g", shown::grams(g));
        MixOut {
            big: match &answer.action {
                WaterAction::NoLiquid => "—".into(),
                WaterAction::Refused { .. } => "not by water".into(),
                WaterAction::Ice { ice, .. } => format!("{} g ice", shown::grams(*ice)),
                _ => format!("{:.0} °C", answer.water.0),
            },
            aside: match &answer.action {
                WaterAction::Tap | WaterAction::Warm => thermo.aside(answer.water),
                _ => String::new(),
            },
            sentence: water_sentence(answer, &s.liquid),
            advice: advice(answer, &s.liquid),
            idle: format!(
                "As it comes ({}), the dough would be {}.",
                thermo.show(s.liquid.comes_at),
                thermo.show(w.if_nothing_is_done)
            ),
            desired: thermo.show(f.mix.desired),
            schools: vec![
                school("Heat balance", &w.balance, balance, WaterSchool::Balance),
                school("Factor rule", &w.factor, factor, WaterSchool::Factor),
            ],
            phases,
            total: shown::time(s.mix.minutes),
            work: format!("{:.0} %", s.mix.work_done.0.min(999.0)),
            yeast: s.yeast.map(|y| {
                [
                    fact("Instant", dry(y.instant)),
                    fact("Active dry", dry(y.active_dry)),
                    fact("Fresh", dry(y.fresh)),
                ]
            }),
            dry_yeast: f.lines.iter().any(|l| l.ingredient == "active-dry-yeast"),
            notes: s.mix.notes.clone(),
            strip: both(|room| picture::mix_strip(&s.mix, &s.goes_in, room)),
            signs: s.mix.signs.clone(),
            friction: s.friction.map(|(per_minute, n)| {
                let readings = if n == 1 { "one reading".to_owned() } else { format!("{n} readings") };
                format!("Mixing adds {per_minute:.2} °C a minute here, learned from {readings}.")
            }),
        }
    }
}

fn advice(answer: &WaterAnswer, liquid: &Liquid) -> Option<String> {
    match &answer.action {
        WaterAction::Warm => liquid.one_alone(answer.water).map(|(name, t)| {
            format!("Or warm only the {name}, to {:.0} °C, and take the rest as it comes.", t.0)
        }),
        WaterAction::Refused { dough } if answer.water.0 > 43.0 => Some(format!(
            "It would need {liquid} of {:.0} °C, and over 43 °C the yeast is harmed. With 43 °C the dough comes to {:.0} °C. Warm the flour, mix in a warmer place, or accept it and let it rise longer.",
            answer.water.0,
            dough.0,
            liquid = liquid.name,
        )),
        WaterAction::Refused { dough } => Some(format!(
            "Even with as much ice as will melt, the dough comes to {:.0} °C. Chill the flour, mix for a shorter time, or accept it and let it rise less long.",
            dough.0
        )),
        WaterAction::Ice { .. } => Some("The ice is weighed into the liquid and melts while mixing.".into()),
        _ => None,
    }
}

/// The further make-ups: name, pieces, size, oven.
pub(super) fn makeup_rows(f: &Formula, s: &Stations, thermo: Thermo) -> Vec<[String; 4]> {
    let row = |(m, answer): (&MakeUp, &MakeUpAnswer)| {
        let z = &answer.shape.proofed;
        let bake = &answer.bake;
        [
            format!("{}, {}", m.kind.name(), m.vessel.name().to_lowercase()),
            format!("{} × {} g", m.pieces, shown::grams(m.piece_weight)),
            format!("{:.0} × {:.0} cm, {:.1} cm high", z.length, z.width, z.height),
            format!("{} for {}", thermo.show(bake.dial), shown::time(bake.time)),
        ]
    };
    f.makeups.iter().zip(&s.makeups).map(row).collect()
}

/// One step of the day as shown.
pub struct DayRow {
    /// Its clock time.
    pub at: String,
    /// The day, where it differs from the row before.
    pub day: Option<String>,
    /// What it is called.
    pub title: String,
    /// What to do.
    pub detail: String,
    /// How long.
    pub time: String,
    /// Whether it needs hands.
    pub hands_on: bool,
}

/// The Day station.
#[derive(Template)]
#[template(path = "out_day.html")]
pub struct DayOut {
    start: String,
    start_day: String,
    ready: String,
    ready_day: String,
    likely: String,
    hands_on: String,
    waiting: String,
    band: String,
    rows: Vec<DayRow>,
    notes: Vec<String>,
    out: String,
    stops: Vec<String>,
    /// The next start that wakes nobody: its value and how it is said.
    free_start: Option<(String, String)>,
}

impl DayOut {
    /// Shows the steps on the clock.
    pub fn new(s: &Stations, kitchen: &Kitchen) -> Self {
        let d = &s.day;
        let early = clock(&d.ready_early);
        let late = clock(&d.ready_late);
        DayOut {
            start: clock(&d.start),
            start_day: day(&d.start),
            ready: clock(&d.ready),
            ready_day: day(&d.ready),
            likely: format!("likely {early} to {late}"),
            hands_on: shown::time(d.hands_on),
            waiting: shown::time(d.length - d.hands_on),
            band: both(|room| picture::band("day", s, kitchen, room)),
            rows: day_rows(s),
            notes: d.notes.clone(),
            out: clock(&d.out),
            stops: s.stops.clone(),
            free_start: d.free_start.as_ref().map(|at| {
                (at.strftime("%Y-%m-%dT%H:%M").to_string(), at.strftime("%H:%M on %a %-d %b").to_string())
            }),
        }
    }
}

/// The steps on the clock as rows.
pub fn day_rows(s: &Stations) -> Vec<DayRow> {
    let mut last = None;
    s.day
        .steps
        .iter()
        .map(|c| {
            let date = c.at.date();
            let new_day = last != Some(date);
            last = Some(date);
            DayRow {
                at: clock(&c.at),
                day: new_day.then(|| day(&c.at)),
                title: c.step.title.clone(),
                detail: c.step.detail.clone(),
                time: shown::time(c.step.length),
                hands_on: c.step.hands_on,
            }
        })
        .collect()
}

/// The printed sheet: the whole bake on one page.
#[derive(Template)]
#[template(path = "sheet.html")]
pub struct Sheet {
    rail: String,
    name: String,
    style: &'static str,
    facts: Vec<Fact>,
    stages: Vec<SheetStage>,
    water: String,
    phases: Vec<PhaseRow>,
    rows: Vec<DayRow>,
    oven: String,
    band: String,
    allergens: String,
    cautions: Vec<String>,
    stops: Vec<String>,
    back: String,
}

/// A stage of the formula on the sheet.
pub struct SheetStage {
    /// Its name.
    pub name: &'static str,
    /// Name, grams, percentage, household measure.
    pub lines: Vec<(String, String, String, String)>,
}

/// What is weighed for a levain that is built up, or of which some is kept: the builds, as the day has
/// them. They have no percentage: it is that of the whole.
fn build_lines(s: &Stations) -> Vec<(String, String, String, String)> {
    let last = s.builds.len();
    let mut lines = Vec::new();
    for b in &s.builds {
        let of = if last > 1 { format!(", build {} of {last}", b.number) } else { String::new() };
        let seed = if b.number == 1 { "Ripe culture" } else { "Of the build before" };
        for (name, g) in [(seed, b.culture), ("Flour", b.flour), ("Water", b.water)] {
            lines.push((format!("{name}{of}"), shown::grams(g), String::new(), String::new()));
        }
    }
    lines
}

impl Sheet {
    /// The sheet of a formula.
    ///
    /// # Errors
    /// What the rail's template reports.
    pub fn new(
        id: i32,
        f: &Formula,
        s: &Stations,
        kitchen: &Kitchen,
        catalogue: &Catalogue,
    ) -> Result<Self, askama::Error> {
        let thermo = Thermo::of(kitchen);
        let flour = counted_flour(f, catalogue, f.counting(kitchen.counting));
        let built = s.builds.len() > 1 || f.levain.keep.0 > 0.0;
        let stages = Stage::ALL
            .into_iter()
            .map(|stage| SheetStage {
                name: stage.name(),
                lines: if stage == Stage::Preferment && built {
                    build_lines(s)
                } else {
                    f.lines
                        .iter()
                        .filter(|l| l.stage == stage)
                        .map(|l| {
                            let name =
                                catalogue.get(&l.ingredient).map_or(l.ingredient.clone(), |i| i.name.clone());
                            let said = catalogue
                                .get(&l.ingredient)
                                .and_then(|i| household(i, l.grams, kitchen.measures))
                                .unwrap_or_default();
                            (name, shown::grams(l.grams), shown::percent(l.grams.percent_of(flour)), said)
                        })
                        .collect()
                },
            })
            .filter(|stage| !stage.lines.is_empty())
            .collect();
        let mix = MixOut::new(f, s, kitchen);
        let mut oven = format!(
            "{} for {}, {}. Core {}.",
            thermo.show(s.bake.dial),
            shown::time(s.bake.time),
            likely(s.bake.early, s.bake.late),
            thermo.show(s.bake.core_target)
        );
        if let Some(lid) = s.bake.lid_off {
            oven.push_str(&format!(" Lid off after {}.", shown::time(lid)));
        }
        let dough = shown::total(f.lines.iter().filter(|l| l.stage.in_dough()).map(|l| l.grams));
        let rail = super::Rail::new(id, None, (f, s), None).render()?;
        Ok(Sheet {
            rail,
            name: f.name.clone(),
            style: f.style.name(),
            facts: vec![
                fact("Dough", format!("{} g", shown::plain(dough))),
                fact("Hydration", format!("{:.0} %", s.figures.effective_hydration.0)),
                fact("Pieces", format!("{} × {} g", f.shape.pieces, shown::grams(s.shape.piece))),
                fact("Dough temperature", thermo.show(f.mix.desired)),
                fact("Out of the oven", format!("{} {}", day(&s.day.out), clock(&s.day.out))),
                fact("Ready to cut", format!("{} {}", day(&s.day.ready), clock(&s.day.ready))),
            ],
            stages,
            water: mix.sentence.clone(),
            phases: mix.phases,
            rows: day_rows(s),
            oven,
            band: picture::band("sheet", s, kitchen, picture::Room::Wide),
            allergens: s.figures.allergens.join(", "),
            cautions: s.cautions.clone(),
            stops: s.stops.clone(),
            back: format!("/formulas/{id}/day"),
        })
    }
}

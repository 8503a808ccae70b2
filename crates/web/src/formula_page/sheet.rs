//! The printed sheet.

use askama::Template;
use cerealis_core::finish::Pieces;
use cerealis_core::formula::{Formula, Line, counted_flour};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::{Catalogue, household};
use cerealis_core::stations::Stations;
use cerealis_core::units::shown;
use cerealis_core::words::Stage;
use cerealis_store::FormulaId;

use crate::day::{DayRow, day_rows};
use crate::mix::MixOut;
use crate::picture;
use crate::show::{Fact, PhaseRow, celsius, clock, day, fact, likely};

/// The printed sheet: the whole bake on one page.
#[derive(Template)]
#[template(path = "formula/sheet.html")]
pub struct Sheet {
    id: FormulaId,
    /// For the wall: the day alone, to be read from a step away.
    wall: bool,
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
    notes: String,
    /// The plait, a picture and a sentence a move.
    plait: Vec<(String, String)>,
    back: String,
}

/// A stage of the formula on the sheet.
pub struct SheetStage {
    /// Its name.
    pub name: &'static str,
    /// Its lines.
    pub lines: Vec<SheetLine>,
}

/// What is weighed, or measured.
pub struct SheetLine {
    /// What it is.
    pub name: String,
    /// How much, as this kitchen measures it first.
    pub much: String,
    /// The same the other way, where there is one.
    pub beside: String,
    /// Of the flour; nothing where it is a part of a part.
    pub percent: String,
}

/// What is weighed for a levain that is built up, or of which some is kept: the builds, as the day has
/// them. They have no percentage: it is that of the whole.
fn build_lines(s: &Stations) -> Vec<SheetLine> {
    let last = s.builds.len();
    let mut lines = Vec::new();
    for b in &s.builds {
        let of = if last > 1 { format!(", build {} of {last}", b.number) } else { String::new() };
        let seed = if b.number == 1 { "Ripe culture" } else { "Of the build before" };
        for (name, g) in [(seed, b.culture), ("Flour", b.flour), ("Water", b.water)] {
            lines.push(SheetLine {
                name: format!("{name}{of}"),
                much: format!("{} g", shown::grams(g)),
                beside: String::new(),
                percent: String::new(),
            });
        }
    }
    lines
}

/// On which pieces a line goes, and when, where that is said.
fn goes_on(line: &Line, f: &Formula) -> String {
    let at = line.at.map(|at| at.says());
    let on = match line.on {
        Pieces::Main if !f.makeups.is_empty() && !line.stage.in_dough() => {
            Some("main pieces alone".to_owned())
        }
        Pieces::All => Some("all pieces".to_owned()),
        Pieces::MakeUp(n) => f.makeups.get(n as usize).map(|m| format!("the {} alone", m.name())),
        Pieces::None => Some("on none of the pieces".to_owned()),
        Pieces::Main => None,
    };
    let said: Vec<String> = [on, at].into_iter().flatten().collect();
    if said.is_empty() { String::new() } else { format!(" ({})", said.join(", ")) }
}

impl Sheet {
    /// The sheet of a formula.
    pub fn new(id: FormulaId, f: &Formula, s: &Stations, kitchen: &Kitchen, catalogue: &Catalogue) -> Self {
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
                                .and_then(|i| household(i, l.grams, kitchen.measures));
                            let grams = format!("{} g", shown::grams(l.grams));
                            let (much, beside) = match said {
                                Some(said) if kitchen.notation().in_cups() => (said, grams),
                                said => (grams, said.unwrap_or_default()),
                            };
                            SheetLine {
                                name: format!("{name}{}", goes_on(l, f)),
                                much,
                                beside,
                                percent: format!("{} %", shown::percent(l.grams.percent_of(flour))),
                            }
                        })
                        .collect()
                },
            })
            .filter(|stage| !stage.lines.is_empty())
            .collect();
        let mix = MixOut::new(f, s);
        let own = if s.bake.dial.0.round() == s.bake.temperature.0.round() {
            String::new()
        } else {
            format!(" on this oven's dial, which is {} inside,", celsius(s.bake.temperature))
        };
        let mut oven = format!(
            "{}{own} for {}, {}. Core {}.",
            celsius(s.bake.dial),
            shown::time(s.bake.time),
            likely(s.bake.early, s.bake.late),
            celsius(s.bake.core_target)
        );
        if let Some(lid) = s.bake.lid_off {
            oven.push_str(&format!(" Lid off after {}.", shown::time(lid)));
        }
        for (m, a) in f.makeups.iter().zip(&s.makeups) {
            let beside = if a.together { " beside them" } else { ", when the oven is free" };
            oven.push_str(&format!(
                " {}: {} for {}{beside}.",
                m.name(),
                celsius(a.bake.dial),
                shown::time(a.bake.time)
            ));
        }
        let others = f.makeups.iter().map(|m| {
            format!(
                " + {} × {} g {}",
                m.shape.pieces,
                shown::grams(m.each()),
                m.shape.kind.name().to_lowercase()
            )
        });
        let others: String = others.collect();
        let dough = shown::total(f.lines.iter().filter(|l| l.stage.in_dough()).map(|l| l.grams));
        let wet = crate::show::hydration(&s.figures);
        let plait = s.work.braid.as_ref().map_or(Vec::new(), |b| {
            let pictures = picture::braid(b, f.shape.hand);
            pictures.into_iter().zip(b.steps.iter().map(|step| step.says.clone())).collect()
        });
        Sheet {
            id,
            wall: false,
            name: f.name.clone(),
            style: f.style.name(),
            facts: vec![
                fact("Dough", format!("{} g", shown::plain(dough))),
                fact(
                    if wet.0 == "hydration" { "Hydration" } else { "Effective hydration" },
                    format!("{:.0} %", wet.1.0),
                ),
                fact("Pieces", format!("{} × {} g{others}", f.shape.pieces, shown::grams(s.shape.piece))),
                fact("Dough temperature", celsius(f.mix.desired)),
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
            notes: f.notes.trim().to_owned(),
            plait,
            back: format!("/formulas/{id}/day"),
        }
    }

    /// The same for the wall.
    pub fn for_the_wall(self) -> Self {
        Sheet { wall: true, ..self }
    }
}

//! The rail: one formula in one kitchen, read at all six stations.
//!
//! Each station's engine input is derived here from the formula and the kitchen, so that a page,
//! the printed sheet and the command line all see the same figures.

use jiff::Timestamp;

use super::answers::{MakeUpAnswer, Stations, YeastForms};
use super::bakes::KnownBakes;
use super::failing::later_slips;
use super::makeup::beside;
use super::pieces::{PieceWork, in_its_pan, to_the_line};
use super::tasks;
use crate::day::{Anchor, DayWish, schedule};
use crate::fault::{Fault, Faults};
use crate::formula::{Figures, Formula, Line, builds, figures, known, mark_meant, nutrition, slips};
use crate::kitchen::Kitchen;
use crate::oven::{BakeInput, BakeOutput, HotSide, Notations, bake};
use crate::pantry::{Catalogue, Ingredient};
use crate::rise::rise;
use crate::units::{Celsius, Grams, shown};
use crate::words::{Kind, Stage, Style, Vessel};

/// A formula in its kitchen, with what the engines ask for.
pub struct InKitchen<'a> {
    pub(super) formula: &'a Formula,
    pub(super) kitchen: &'a Kitchen,
    pub(super) catalogue: &'a Catalogue,
    pub(super) figures: Figures,
    /// When each stretch begins, once that is known.
    pub(super) begins: Option<Begins>,
    /// Which of the further make-ups this is about; the main pieces where it is none.
    pub(super) part: Option<u32>,
    /// The other pieces from the same dough: how many of which shape, and what they weigh.
    pub(super) beside: Vec<(u32, Kind, Grams)>,
    /// Bakes that are near enough, for a dough that is planned.
    pub(super) known: Option<&'a KnownBakes>,
}

/// Hours of the day at which the stretches of a rise begin.
#[derive(Clone, Copy)]
pub(super) struct Begins {
    pub(super) ahead: f64,
    pub(super) bulk: f64,
    pub(super) second: f64,
    pub(super) proof: f64,
}

/// Reads all six stations.
///
/// ```
/// use cerealis_core::formula::Formula;
/// use cerealis_core::kitchen::Kitchen;
/// use cerealis_core::pantry::Catalogue;
/// use cerealis_core::stations::read;
/// use cerealis_core::words::Style;
/// let loaf = Formula::beginning("Weir loaf", Style::Tin);
/// let now = "2026-03-07T08:00:00Z".parse().unwrap();
/// let s = read(&loaf, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
/// assert!(s.rise.bulk.unwrap().time.0 > 30.0 && s.bake.time.0 > 20.0);
/// assert_eq!(s.day.steps[0].step.id, "weigh");
/// ```
///
/// # Errors
/// Every fault of formula and kitchen by its field; a dough that an engine cannot take, at `lines`.
pub fn read(
    formula: &Formula,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Result<Stations, Faults> {
    settled(formula, kitchen, catalogue, now, None)
}

/// The same for a dough that is planned with others: where it would begin by itself is not asked, and it bakes as one
/// that is near enough.
///
/// # Errors
/// Those of [`read`].
pub fn read_to_plan(
    formula: &Formula,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
    known: &KnownBakes,
) -> Result<Stations, Faults> {
    settled(formula, kitchen, catalogue, now, Some(known))
}

fn settled(
    formula: &Formula,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
    to_plan: Option<&KnownBakes>,
) -> Result<Stations, Faults> {
    formula.check(catalogue)?;
    kitchen.check()?;
    let kitchen = &kitchen.with(&formula.uses.oven, &formula.uses.mixer);
    let mut meant = formula.as_meant();
    in_its_pan(&mut meant, kitchen);
    let mut stations = on_the_clock(&meant, kitchen, catalogue, now, to_plan)?;
    if let Some(target) = to_the_line(&meant, &stations) {
        meant.rise.proof.target = target;
        stations = on_the_clock(&meant, kitchen, catalogue, now, to_plan)?;
    }
    if to_plan.is_none() {
        offer_a_free_start(&mut stations, &meant, kitchen, catalogue, now)?;
    }
    stations.slips = slips(formula, &stations.figures, catalogue);
    let later = later_slips(&meant, kitchen, &stations);
    stations.slips.extend(later);
    mark_meant(&mut stations.slips, formula);
    stations.stops = stations
        .slips
        .iter()
        .filter(|s| !s.meant && STOPS.contains(&s.code))
        .map(|s| s.text.clone())
        .collect();
    Ok(stations)
}

/// Whether a dough's rises are longer or shorter by the hour at which they begin: it stands where nights are cooler.
pub fn has_night(formula: &Formula, kitchen: &Kitchen) -> bool {
    kitchen.night > 0.0 || formula.rise.rises().iter().any(|(_, wish)| wish.night > 0.0)
}

/// All six stations of a settled formula.
fn on_the_clock(
    formula: &Formula,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
    known: Option<&KnownBakes>,
) -> Result<Stations, Faults> {
    let reading = |begins| InKitchen { begins, known, ..InKitchen::new(formula, kitchen, catalogue) };
    let mut stations = reading(None).stations(now)?;
    if has_night(formula, kitchen) {
        // Where the night falls in the rise shows only on the clock; twice is near enough.
        for _ in 0..2 {
            let begins = Some(stations.begins());
            stations = reading(begins).stations(now)?;
        }
    }
    Ok(stations)
}

/// How often a start that wakes nobody is tried, and mended in turn.
const TRIES: usize = 4;

/// A start that is offered is one: where nights are cooler the rises have other lengths from there, and it is tried.
fn offer_a_free_start(
    stations: &mut Stations,
    formula: &Formula,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Result<(), Faults> {
    if !has_night(formula, kitchen) {
        return Ok(());
    }
    for _ in 0..TRIES {
        let Some(start) = stations.day.free_start.clone() else { break };
        let day = DayWish { anchor: Anchor::Start, at: Some(start.datetime()) };
        let tried = on_the_clock(&Formula { day, ..formula.clone() }, kitchen, catalogue, now, None)?;
        match tried.day.free_start {
            Some(better) => stations.day.offer(better),
            None => break,
        }
    }
    Ok(())
}

/// Warm hours that a dough with egg or milk may stand before it is worth a word, h. The two-hour
/// rule for perishable food (US FDA and USDA) is widened for yeast dough in a home kitchen.
pub(super) const WARM_HOURS: f64 = 4.0;

/// Slips that say that the plan, as it stands, does not hold.
const STOPS: [&str; 5] =
    ["stands-too-long", "does-not-get-there", "levain-over-ripe", "levain-not-ripe", "liquid-hot"];

/// Mass of the dough below which nothing sensible can be planned, g.
const LEAST_DOUGH: f64 = 20.0;

/// Effective hydration below which flour does not become a dough, per cent of flour.
const LEAST_HYDRATION: f64 = 20.0;

impl<'a> InKitchen<'a> {
    /// A checked formula in a checked kitchen.
    pub fn new(formula: &'a Formula, kitchen: &'a Kitchen, catalogue: &'a Catalogue) -> Self {
        let figures = figures(formula, catalogue);
        let (begins, part, known) = (None, None, None);
        InKitchen { formula, kitchen, catalogue, figures, begins, part, beside: beside(formula), known }
    }

    fn stations(self, now: Timestamp) -> Result<Stations, Faults> {
        if self.figures.dough.0 < LEAST_DOUGH {
            let text = format!("The dough weighs under {LEAST_DOUGH} g. Give the lines their weights.");
            return Err(Fault::new("out-of-range", "lines", text).into());
        }
        if self.figures.effective_hydration.0 < LEAST_HYDRATION {
            let text = "There is hardly any water in this dough. Give the liquids their weights.";
            return Err(Fault::new("out-of-range", "lines", text).into());
        }
        if self.main_dough().0 < LEAST_DOUGH {
            let text =
                "The further portions take more than all of the dough. Make them smaller, or scale up.";
            return Err(Fault::new("impossible", "makeups", text).into());
        }
        let ahead = self.ahead()?;
        let first_cut = self.shape(None)?;
        let mut rise_input = self.rise_input(&ahead, &first_cut, self.makeups_shaping()?);
        let mut risen = self.named("rise", rise(&rise_input))?;
        let (mix, friction) = self.mixed(&risen)?;
        if let (Some(folds), Some(bulk)) = (mix.folds, &risen.bulk) {
            // Folds cost the dough gas, and so a little time.
            rise_input.bulk.folds = folds.times().filter(|t| *t < bulk.time).collect();
            risen = self.named("rise", rise(&rise_input))?;
        }
        let rise = risen;
        let shape = self.shape(Some(&rise))?;
        let (water_plan, liquid) = self.water(&mix)?;
        let tray = self.tray(&shape)?;
        let trays = tray.as_ref().map_or(1, |t| t.layout.trays.max(1));
        let bake_input = self.bake_input(&rise, &shape, trays);
        let mut bake = self.named("oven", self.baked(&bake_input))?;
        if trays == 1 && self.kitchen.oven_hot == HotSide::Even {
            bake.turn = None;
        }
        let work = self.piece_work(&rise, &shape, &bake, tray)?;
        let makeups = self.makeups(&rise, &bake)?;
        let course = self.course(&tasks::Found {
            ahead: &ahead,
            mix: &mix,
            liquid: &liquid,
            water: &water_plan,
            rise: &rise,
            shape: &shape,
            work: &work,
            bake: &bake,
            makeups: &makeups,
        });
        let doubt = tasks::doubt(&ahead, &rise, &bake);
        let day = schedule(course.laid.steps, &self.formula.day, self.kitchen, now, doubt)?;
        let yeast = self.figures.instant_yeast.of(self.figures.flour);
        Ok(Stations {
            cautions: self.cautions(&work, &makeups),
            nutrition: nutrition(&self.figures, bake.loss_cooled, Grams(100.0)),
            piece_nutrition: nutrition(
                &self.figures,
                bake.loss_cooled,
                shape.piece * (1.0 - bake.loss_cooled / 100.0),
            ),
            keeping: self.keeping(&bake),
            slips: Vec::new(),
            stops: Vec::new(),
            builds: builds(self.formula, self.catalogue),
            water: water_plan,
            liquid,
            goes_in: self.goes_in(&mix),
            mix,
            ahead,
            makeups,
            yeast: (yeast.0 > 0.0).then(|| YeastForms::of_instant(yeast)),
            friction,
            rise_input,
            rise,
            shape,
            work,
            notations: Notations::of(bake.dial, bake_input.fan),
            bake_input,
            bake,
            tasks: course.tasks,
            day,
            mixed_at: course.mixed_at,
            proof_at: course.proof_at,
            oven_at: course.oven_at,
            figures: self.figures,
        })
    }

    /// An engine's faults are about the dough that the lines make: they are told at the lines.
    pub(super) fn named<T>(&self, station: &str, result: Result<T, Faults>) -> Result<T, Faults> {
        result.map_err(|Faults(faults)| {
            let at_lines = |f: Fault| Fault {
                path: "lines".into(),
                message: format!("At {station}: {}", f.message),
                ..f
            };
            Faults(faults.into_iter().map(at_lines).collect())
        })
    }

    /// How it bakes.
    pub(super) fn baked(&self, input: &BakeInput) -> Result<BakeOutput, Faults> {
        self.known.map_or_else(|| bake(input), |known| known.bake(input))
    }

    pub(super) fn room(&self) -> Celsius {
        self.formula.mix.room.unwrap_or(self.kitchen.room)
    }

    /// Where a stage that is made ahead stands.
    pub(super) fn place_of(&self, stage: Stage) -> Celsius {
        let usual = if stage.is_preferment() { self.formula.rise.levain_place } else { None };
        self.formula.stage_plan(stage).place.or(usual).unwrap_or(self.room())
    }

    /// The dough that the main make-up has.
    pub(super) fn main_dough(&self) -> Grams {
        let others: Grams = self.formula.makeups_weight();
        self.formula.shape.on_scale.unwrap_or(self.figures.dough) - others
    }

    pub(super) fn lines(&self, stage: Stage) -> impl Iterator<Item = (Grams, &Ingredient)> {
        let here = move |l: &Line| l.stage == stage && (stage.in_dough() || l.on.on(self.part));
        known(self.formula, self.catalogue).filter(move |(l, _)| here(l)).map(|(l, i)| (l.grams, i))
    }

    pub(super) fn has(&self, stage: Stage) -> bool {
        self.lines(stage).any(|(g, _)| g.0 > 0.0)
    }

    /// How the bread keeps: common practice, no source.
    fn keeping(&self, bake: &BakeOutput) -> Vec<String> {
        let days = match self.formula.style {
            Style::Rye => "5 to 8 days",
            _ if self.figures.inoculation.0 > 5.0 => "3 to 5 days",
            _ if self.figures.fat.0 > 5.0 => "3 to 4 days",
            Style::GlutenFree => "1 to 2 days",
            _ => "2 to 3 days",
        };
        let cool = shown::time(bake.cool);
        vec![
            format!(
                "Let it cool {cool} before it is cut. It keeps {days} wrapped, at room temperature; months frozen."
            ),
            "To refresh it: 5 minutes at 200 °C, wetted first if the crust is hard.".into(),
        ]
    }

    fn cautions(&self, work: &PieceWork, makeups: &[MakeUpAnswer]) -> Vec<String> {
        let mut c = vec!["Raw flour and raw dough are not safe to eat.".to_owned()];
        if self.figures.egg || self.figures.dairy {
            c.push("Dough with egg or milk: count the time between 4 and 60 °C. Over two hours, rise it cooler or use the fridge.".into());
        }
        match self.formula.oven.vessel {
            Vessel::Pot => {
                c.push("The pot and its lid are as hot as the oven. Dry mitts, lid away from you.".into())
            }
            Vessel::Stone | Vessel::Sheet if self.formula.oven.steam => {
                c.push("Steam burns. Arms back, and never water on the door glass.".into());
            }
            _ => {}
        }
        if self.figures.gluten_flour.0 == 0.0 && !self.figures.allergens.iter().any(|a| a == "gluten") {
            c.push("Made without gluten, but not safe for coeliac disease in a kitchen where wheat flour is used.".into());
        }
        let finish = makeups.iter().map(|m| &m.work).chain([work]).flat_map(|w| &w.finish);
        for caution in finish.filter_map(|s| s.caution) {
            if !c.iter().any(|told| told == caution) {
                c.push(caution.to_owned());
            }
        }
        c
    }
}

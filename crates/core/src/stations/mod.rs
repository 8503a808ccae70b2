//! The rail: one formula in one kitchen, read at all six stations.
//!
//! Each station's engine input is derived here from the formula and the kitchen, so that a page,
//! the printed sheet and the command line all see the same figures.

mod inputs;
mod lay_out;
mod pieces;

pub use lay_out::water_sentence;
pub use pieces::{PanAnswer, PieceWork, TrayAnswer};

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::Serialize;

use crate::day::{Day, schedule};
use crate::fault::{Fault, Faults};
use crate::formula::{
    Build, Figures, Formula, Nutrition, Slip, Strength, builds, figures, known, mark_meant, nutrition, slip,
    slips,
};
use crate::kitchen::Kitchen;
use crate::mix::MixOutput;
use crate::mix::{WaterAnswer, WaterAnswers};
use crate::oven::{BakeInput, BakeOutput, HotSide, Notations, bake};
use crate::pantry::{Catalogue, Ingredient};
use crate::rise::{Forecast, Ripening, RiseInput, RiseOutput, rise};
use crate::shape::ShapeOutput;
use crate::units::{Celsius, Grams, Minutes, shown};
use crate::words::Vessel;
use crate::words::WaterSchool;
use crate::words::{Stage, Style};

/// Everything the six stations say about a formula.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Stations {
    /// Formula: key figures.
    pub figures: Figures,
    /// Formula: what looks like a slip.
    pub slips: Vec<Slip>,
    /// Mix: the water.
    pub water: WaterAnswers,
    /// Mix: the liquid that [`Stations::water`] is about.
    pub liquid: Liquid,
    /// Mix: phases.
    pub mix: MixOutput,
    /// Mix: what goes in at each phase, in the order of the phases.
    pub goes_in: Vec<Vec<GoesIn>>,
    /// Mix: yeast in its three forms.
    pub yeast: Option<YeastForms>,
    /// Rise: what is made ahead, in the order of the stages.
    pub ahead: Vec<Ahead>,
    /// Rise: the builds of the levain, first to last.
    pub builds: Vec<Build>,
    /// Mix: what mixing adds here, K a minute, and on how many readings of this kitchen that rests;
    /// `None` where it is the method's usual figure, or set on the formula.
    pub friction: Option<(f64, usize)>,
    /// What the rise was worked out from.
    pub rise_input: RiseInput,
    /// Rise: bulk and proof.
    pub rise: RiseOutput,
    /// Shape: pieces.
    pub shape: ShapeOutput,
    /// Shape: dividing, plaiting, pan and tray, and the finish.
    pub work: PieceWork,
    /// What the bake was worked out from.
    pub bake_input: BakeInput,
    /// Oven: temperature and minutes.
    pub bake: BakeOutput,
    /// Oven: the setting in every notation.
    pub notations: Notations,
    /// Shape and Oven: further make-ups from the same dough.
    pub makeups: Vec<MakeUpAnswer>,
    /// Day: steps on the clock.
    pub day: Day,
    /// Day and sheet: why this plan does not hold, and what to do: a sentence each.
    pub stops: Vec<String>,
    /// Minutes from first touch to the end of mixing, when the rise begins.
    pub mixed_at: Minutes,
    /// Minutes from first touch to the loaf going into the oven.
    pub oven_at: Minutes,
    /// Minutes from first touch to the start of the final proof.
    pub proof_at: Minutes,
    /// Cautions that apply to this formula.
    pub cautions: Vec<String>,
    /// What 100 g of the bread feed, an estimate.
    pub nutrition: Nutrition,
    /// What one baked piece of the main make-up feeds.
    pub piece_nutrition: Nutrition,
    /// How it keeps, a sentence each.
    pub keeping: Vec<String>,
}

/// Something that is made ahead of the dough: a levain, another preferment, a soaker, a scald.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Ahead {
    /// Its stage.
    pub stage: Stage,
    /// What it weighs.
    pub grams: Grams,
    /// Where it stands.
    pub place: Celsius,
    /// How long it stands: as wished, or until it is ripe.
    pub time: Minutes,
    /// When it is ripe, for what ferments there.
    pub ripening: Option<Ripening>,
}

/// A further make-up: its pieces and its bake.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct MakeUpAnswer {
    /// Its pieces.
    pub shape: ShapeOutput,
    /// Its temperature and minutes.
    pub bake: BakeOutput,
}

/// Something that goes into the dough, at the phase it belongs to.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct GoesIn {
    /// Its name; a preferment, soaker or scald goes in as a whole.
    pub name: String,
    /// Its mass.
    pub grams: Grams,
}

/// One of several liquids that are warmed or cooled.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct LiquidPart {
    /// What it is.
    pub name: String,
    /// Its mass.
    pub grams: Grams,
    /// Its temperature as it comes.
    pub comes_at: Celsius,
}

/// The liquid whose temperature is free to choose.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Liquid {
    /// What it is: `water`, or the name of what stands in for it.
    pub name: String,
    /// Its mass.
    pub grams: Grams,
    /// Its temperature as it comes.
    pub comes_at: Celsius,
    /// What it is made up of.
    pub parts: Vec<LiquidPart>,
}

impl Liquid {
    /// The one of several liquids that can be warmed alone so that all together come to `wanted`,
    /// the coldest first: its name and how warm. None where no one of them can, without passing 43 °C.
    pub fn one_alone(&self, wanted: Celsius) -> Option<(&str, Celsius)> {
        if self.parts.len() < 2 || wanted <= self.comes_at {
            return None;
        }
        let mut parts: Vec<&LiquidPart> = self.parts.iter().collect();
        parts.sort_by(|a, b| a.comes_at.0.total_cmp(&b.comes_at.0));
        let missing = self.grams.0 * (wanted - self.comes_at).0;
        let warm = |p: &LiquidPart| Celsius(p.comes_at.0 + missing / p.grams.0.max(1e-9));
        parts.into_iter().map(|p| (p.name.as_str(), warm(p))).find(|(_, t)| t.0 <= WARMEST_LIQUID)
    }
}

/// As warm as a liquid may be that meets yeast, °C (common practice, no source).
const WARMEST_LIQUID: f64 = 43.0;

/// The same yeast in three forms.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct YeastForms {
    /// Instant yeast.
    pub instant: Grams,
    /// Active dry yeast, bloomed in water of 37 to 43 °C for 5 to 10 min.
    pub active_dry: Grams,
    /// Fresh yeast.
    pub fresh: Grams,
}

impl YeastForms {
    /// From grams of instant yeast: fresh : active dry : instant = 1 : 0.4 : 0.33 (common practice).
    pub fn of_instant(instant: Grams) -> Self {
        YeastForms { instant, active_dry: instant * (0.4 / 0.33), fresh: instant / 0.33 }
    }
}

/// What the dough is doing at a moment of its course.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Phase {
    /// Mixing, and what goes before it.
    Mixing,
    /// Bulk rise.
    Bulk,
    /// Dividing and shaping.
    Shaping,
    /// Final proof.
    Proof,
    /// In the oven.
    Oven,
    /// Cooling.
    Cooling,
}

/// A moment of the dough's course from mixing bowl to bread.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct CoursePoint {
    /// Minutes from the first touch.
    pub minutes: f64,
    /// Volume against the dough without gas.
    pub volume: f64,
    /// Dough temperature, °C; of the core in the oven.
    pub temperature: f64,
    /// What it is doing.
    pub phase: Phase,
}

/// Share of the bake in which a loaf springs before its crust sets.
const SPRING_SHARE: f64 = 0.3;

impl Stations {
    /// The dough's course from the end of weighing to the cut: the swelling band.
    pub fn course(&self) -> Vec<CoursePoint> {
        let mut points = Vec::new();
        let start =
            self.rise.bulk.as_ref().map_or(self.rise.shaped_temperature.0, |b| b.curve[0].temperature);
        let mut add = |minutes: f64, volume: f64, temperature: f64, phase: Phase| {
            points.push(CoursePoint { minutes, volume, temperature, phase });
        };
        add(self.mixed_at.0 - self.mix.minutes.0, 1.0, start, Phase::Mixing);
        add(self.mixed_at.0, 1.0, start, Phase::Mixing);
        let mut volume = 1.0;
        for m in self.rise.bulk.iter().flat_map(|b| &b.curve) {
            add(self.mixed_at.0 + m.minutes, m.volume, m.temperature, Phase::Bulk);
            volume = m.volume;
        }
        let mut shaping_at = self.mixed_at.0 + self.rise.bulk.as_ref().map_or(0.0, |b| b.time.0);
        if let Some(second) = &self.rise.second {
            for m in &second.curve {
                add(shaping_at + m.minutes, m.volume, m.temperature, Phase::Bulk);
                volume = m.volume;
            }
            shaping_at += second.time.0;
        }
        add(
            shaping_at,
            0.5 * (volume + self.rise.shaped_volume),
            self.rise.shaped_temperature.0,
            Phase::Shaping,
        );
        add(self.proof_at.0, self.rise.shaped_volume, self.rise.shaped_temperature.0, Phase::Shaping);
        for m in self.rise.proof.iter().flat_map(|p| &p.curve) {
            add(self.proof_at.0 + m.minutes, m.volume, m.temperature, Phase::Proof);
        }
        let (last, spring) = (self.rise.final_volume, self.bake.spring);
        for m in &self.bake.curve {
            let sprung = (m.minutes / (SPRING_SHARE * self.bake.time.0)).min(1.0);
            add(self.oven_at.0 + m.minutes, last * (1.0 + (spring - 1.0) * sprung), m.core, Phase::Oven);
        }
        let out = self.oven_at.0 + self.bake.time.0;
        add(out, last * spring, self.bake.core.0, Phase::Cooling);
        add(self.day.length.0, last * spring, 30.0, Phase::Cooling);
        points
    }

    /// Hours of the day at which the rises begin, and what is made ahead.
    fn begins(&self) -> Begins {
        let hour = |minutes: Minutes| {
            let at = self.day.start.timestamp().as_second() as f64 + 60.0 * minutes.0;
            let offset = f64::from(self.day.start.offset().seconds());
            ((at + offset) / 3600.0).rem_euclid(24.0)
        };
        let longest = self.ahead.iter().map(|a| a.time.0).fold(0.0, f64::max);
        let weighed_at = self.mixed_at.0 - self.mix.minutes.0;
        let took = |f: &Option<Forecast>| f.as_ref().map_or(Minutes(0.0), |f| f.time);
        Begins {
            ahead: hour(Minutes(weighed_at - longest)),
            bulk: hour(self.mixed_at),
            second: hour(self.mixed_at + took(&self.rise.bulk)),
            proof: hour(self.proof_at),
        }
    }

    /// The answer for the water by the formula's school.
    pub fn water_answer(&self, school: WaterSchool) -> &WaterAnswer {
        match school {
            WaterSchool::Balance => &self.water.balance,
            WaterSchool::Factor => &self.water.factor,
        }
    }
}

/// A formula in its kitchen, with what the engines ask for.
pub struct Reading<'a> {
    formula: &'a Formula,
    kitchen: &'a Kitchen,
    catalogue: &'a Catalogue,
    figures: Figures,
    /// When each stretch begins, once that is known.
    begins: Option<Begins>,
}

/// Hours of the day at which the stretches of a rise begin.
#[derive(Clone, Copy)]
struct Begins {
    ahead: f64,
    bulk: f64,
    second: f64,
    proof: f64,
}

/// Reads all six stations.
///
/// # Errors
/// Every fault of formula and kitchen by its field; a dough that an engine cannot take, at `lines`.
pub fn read(
    formula: &Formula,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Result<Stations, Faults> {
    formula.check(catalogue)?;
    kitchen.check()?;
    let meant = formula.as_meant();
    let mut stations = Reading::new(&meant, kitchen, catalogue).stations(now)?;
    if kitchen.night > 0.0 || meant.rise.rises().iter().any(|(_, wish)| wish.night > 0.0) {
        // Where the night falls in the rise shows only on the clock; twice is near enough.
        for _ in 0..2 {
            let begins = Some(stations.begins());
            stations = Reading { begins, ..Reading::new(&meant, kitchen, catalogue) }.stations(now)?;
        }
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

/// Warm hours that a dough with egg or milk may stand before it is worth a word, h. The two-hour
/// rule for perishable food (US FDA and USDA) is widened for yeast dough in a home kitchen.
const WARM_HOURS: f64 = 4.0;

/// Slips that say that the plan, as it stands, does not hold.
const STOPS: [&str; 5] =
    ["stands-too-long", "does-not-get-there", "levain-over-ripe", "levain-not-ripe", "liquid-hot"];

/// The longest rise at which nobody looks twice, h, for a plan without a night in the cold.
const LONG_RISE: f64 = 30.0;

/// Slips that show only when the stations have been read.
fn later_slips(f: &Formula, kitchen: &Kitchen, s: &Stations) -> Vec<Slip> {
    let mut found = Vec::new();
    for answer in [&s.water.balance, &s.water.factor] {
        if s.liquid.grams.0 > 0.0 && answer.water.0 > 49.0 && found.is_empty() {
            let text = format!(
                "The {} would have to be {:.0} °C. Over 49 °C it harms yeast, and over 60 it sets egg. Warm the flour or the bowl instead, or wish for a cooler dough.",
                s.liquid.name, answer.water.0,
            );
            found.push(slip("liquid-hot", Strength::Warning, text));
        }
    }
    let warm = |f: &Option<Forecast>| -> f64 {
        f.iter()
            .flat_map(|f| f.curve.windows(2))
            .filter(|w| w[0].temperature > 12.0)
            .map(|w| w[1].minutes - w[0].minutes)
            .sum()
    };
    let hours = (warm(&s.rise.bulk) + warm(&s.rise.second) + warm(&s.rise.proof)) / 60.0;
    // Milk in a dough that sours keeps longer than egg does, and butter is hardly milk.
    let sours = s.figures.inoculation.0 > 0.0;
    let (bears, strength) = match s.figures.egg {
        true => (WARM_HOURS, Strength::Warning),
        false if sours => (3.0 * WARM_HOURS, Strength::Unusual),
        false => (1.5 * WARM_HOURS, Strength::Unusual),
    };
    if (s.figures.egg || s.figures.dairy) && hours > bears {
        let what = if s.figures.egg { "egg" } else { "milk" };
        let text = format!(
            "A dough with {what} stands warm for {hours:.0} hours. Two hours between 4 and 60 °C is the usual limit for such food. Rise it in the fridge, or use more yeast.",
        );
        found.push(slip("egg-or-milk-left-out", strength, text));
    }
    found.extend(rises_that_fail(f, s));
    found.extend(levains_that_fail(s));
    found.extend(oven_out_of_the_way(f, kitchen, s));
    found
}

/// Rises that stand past what the dough bears, or never get there.
fn rises_that_fail(f: &Formula, s: &Stations) -> Option<Slip> {
    let rises = [
        ("bulk rise", &f.rise.bulk, &s.rise.bulk),
        ("second rise", &f.rise.second, &s.rise.second),
        ("final proof", &f.rise.proof, &s.rise.proof),
    ];
    for (name, wish, forecast) in rises {
        let Some(r) = forecast else { continue };
        let stays = wish.stays.is_some();
        if stays && r.stands_too_long() {
            let bears = r.stands_until.map_or(String::new(), |t| format!("; it bears {}", shown::time(t)));
            let text = format!(
                "The {name} stands {}{bears}. It will have gone over and fallen. Use less yeast or culture, a cooler place, or a shorter stay.",
                shown::time(r.time)
            );
            return Some(slip("stands-too-long", Strength::Warning, text));
        }
        if stays && wish.target > 1.0 && r.grown - 1.0 < 0.5 * (wish.target - 1.0) && !r.fallen {
            let text = format!(
                "The {name} comes to {} times its size in the time it is given, and {} is wished: far too little yeast or culture for it, or too cold. Give it more of one, or longer.",
                lay_out::times((20.0 * r.grown).round() / 20.0),
                lay_out::times(wish.target)
            );
            return Some(slip("too-young", Strength::Warning, text));
        }
        if !stays && !r.reached && r.most >= wish.target {
            let text = format!(
                "The {name} does not get to {} times its size within three days. Use more yeast or culture, or a warmer place.",
                lay_out::times(wish.target)
            );
            return Some(slip("does-not-get-there", Strength::Warning, text));
        }
        if !stays
            && r.time.0 > 60.0 * LONG_RISE
            && wish.legs.is_empty()
            && wish.place.is_none_or(|p| p.0 > 12.0)
        {
            let text = format!(
                "The {name} takes {} as it stands. Was more yeast meant, or a warmer place?",
                shown::time(r.time)
            );
            return Some(slip("rise-very-long", Strength::Warning, text));
        }
    }
    None
}

/// A levain or preferment that is past its best when it is used, or not ripe.
fn levains_that_fail(s: &Stations) -> Option<Slip> {
    for a in &s.ahead {
        let Some(r) = &a.ripening else { continue };
        let name = a.stage.name().to_lowercase();
        if !r.ripens {
            let text = format!(
                "The {name} does not ripen within three days at {:.0} °C. Give it more seed, or a warmer place.",
                a.place.0
            );
            return Some(slip("levain-not-ripe", Strength::Warning, text));
        }
        if a.time.0 > r.good_until.0 + 1.0 {
            let text = format!(
                "The {name} stands {} and is past its best after {}: sour, slack and slow. Give it less seed, a cooler place, or a shorter time.",
                shown::time(a.time),
                shown::time(r.good_until)
            );
            return Some(slip("levain-over-ripe", Strength::Warning, text));
        }
        if a.time.0 < 0.6 * r.early.0 {
            let text = format!(
                "The {name} stands {} and is ripe only after {}. Give it more seed, a warmer place, or longer.",
                shown::time(a.time),
                shown::time(r.time)
            );
            return Some(slip("levain-not-ripe", Strength::Warning, text));
        }
    }
    None
}

/// How far an oven that is insisted on may be from what colour and core ask for before it is worth a
/// word, K (common practice, no source).
const OVEN_FAR: f64 = 35.0;

/// An oven far too cool or too hot for this dough, or past the end of its dial.
fn oven_out_of_the_way(f: &Formula, kitchen: &Kitchen, s: &Stations) -> Option<Slip> {
    let wanted = f.oven.temperature?;
    let (low, high) = crate::oven::usual_range(f.style, f.shape.kind, f.oven.vessel);
    if wanted > kitchen.oven_hottest + Celsius(2.0) {
        let text = format!("This oven's dial ends at {:.0} °C.", kitchen.oven_hottest.0);
        return Some(slip("oven-past-its-end", Strength::Warning, text));
    }
    let off = if wanted.0 < low - OVEN_FAR {
        "cool"
    } else if wanted.0 > high + OVEN_FAR {
        "hot"
    } else {
        return None;
    };
    let what =
        if off == "cool" { "dries out before it browns" } else { "burns outside before it is done inside" };
    let text = format!(
        "An oven of {:.0} °C is far too {off} for {}: {low:.0} to {high:.0} °C is usual. It {what}. It takes {} by this setting.",
        wanted.0,
        f.style.name().to_lowercase(),
        shown::time(s.bake.time)
    );
    Some(slip("oven-far", Strength::Warning, text))
}

/// Mass of the dough below which nothing sensible can be planned, g.
const LEAST_DOUGH: f64 = 20.0;

/// Effective hydration below which flour does not become a dough, per cent of flour.
const LEAST_HYDRATION: f64 = 20.0;

impl<'a> Reading<'a> {
    /// A checked formula in a checked kitchen.
    pub fn new(formula: &'a Formula, kitchen: &'a Kitchen, catalogue: &'a Catalogue) -> Self {
        Reading { formula, kitchen, catalogue, figures: figures(formula, catalogue), begins: None }
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
                "The further make-ups take more than all of the dough. Make them smaller, or scale up.";
            return Err(Fault::new("impossible", "makeups", text).into());
        }
        let ahead = self.ahead()?;
        let first_cut = self.shape(None)?;
        let mut rise_input = self.rise_input(&ahead, &first_cut);
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
        let mut bake = self.named("oven", bake(&bake_input))?;
        if trays == 1 && self.kitchen.oven_hot == HotSide::Even {
            bake.turn = None;
        }
        let work = self.piece_work(&rise, &shape, &bake, tray)?;
        let makeups = self.makeups(&rise)?;
        let laid = self.lay_out(&lay_out::Found {
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
        let doubt = lay_out::doubt(&ahead, &rise, &bake);
        let day = schedule(laid.steps, &self.formula.day, self.kitchen, now, doubt)?;
        let yeast = self.figures.instant_yeast.of(self.figures.flour);
        Ok(Stations {
            cautions: self.cautions(&work),
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
            day,
            mixed_at: laid.mixed_at,
            proof_at: laid.proof_at,
            oven_at: laid.oven_at,
            figures: self.figures,
        })
    }

    /// An engine's faults are about the dough that the lines make: they are told at the lines.
    fn named<T>(&self, station: &str, result: Result<T, Faults>) -> Result<T, Faults> {
        result.map_err(|Faults(faults)| {
            let at_lines = |f: Fault| Fault {
                path: "lines".into(),
                message: format!("At {station}: {}", f.message),
                ..f
            };
            Faults(faults.into_iter().map(at_lines).collect())
        })
    }

    fn room(&self) -> Celsius {
        self.formula.mix.room.unwrap_or(self.kitchen.room)
    }

    /// Where a stage that is made ahead stands.
    fn place_of(&self, stage: Stage) -> Celsius {
        let usual = if stage.is_preferment() { self.formula.rise.levain_place } else { None };
        self.formula.stage_plan(stage).place.or(usual).unwrap_or(self.room())
    }

    /// The dough that the main make-up has.
    fn main_dough(&self) -> Grams {
        let others: Grams = self.formula.makeups.iter().map(|m| m.piece_weight * f64::from(m.pieces)).sum();
        self.formula.shape.on_scale.unwrap_or(self.figures.dough) - others
    }

    fn lines(&self, stage: Stage) -> impl Iterator<Item = (Grams, &Ingredient)> {
        known(self.formula, self.catalogue).filter(move |(l, _)| l.stage == stage).map(|(l, i)| (l.grams, i))
    }

    fn has(&self, stage: Stage) -> bool {
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

    fn cautions(&self, work: &PieceWork) -> Vec<String> {
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
        c.extend(work.finish.iter().filter_map(|s| s.caution).map(str::to_owned));
        c
    }
}

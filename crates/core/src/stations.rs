//! The rail: one formula in one kitchen, read at all six stations.
//!
//! Each station's engine input is derived here from the formula and the kitchen, so that a page,
//! the printed sheet and the command line all see the same figures.

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::Serialize;

use crate::fault::{Fault, Faults};
use crate::ferment::{
    Dough, Forecast, KITCHEN_SPREAD, Place, Ripening, RiseInput, RiseOutput, Stretch, ripen, rise,
};
use crate::formula::{
    Build, Figures, Formula, Leg, MakeUp, Nutrition, RiseWish, Slip, Stage, Strength, Style, builds, figures,
    known, mark_meant, nutrition, slip, slips,
};
use crate::ingredient::{Catalogue, Composition, Group, Ingredient, Kept};
use crate::kitchen::Kitchen;
use crate::mixing::{self, Method, MixInput, MixOutput, PhaseKind, WaterSchool, mix};
use crate::oven::{BakeInput, BakeOutput, OvenPlan, Vessel, bake};
use crate::plan::{Day, Doubt, Layout, Step, StepKind, schedule};
use crate::shape::{Kind, ShapeInput, ShapeOutput, ShapePlan, shape};
use crate::thermal::{Part, WaterAction, WaterAnswer, WaterInput, WaterPlan, heat_capacity, water};
use crate::units::{Celsius, Grams, Hours, Minutes, Percent, shown};

/// Everything the six stations say about a formula.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Stations {
    /// Formula: key figures.
    pub figures: Figures,
    /// Formula: what looks like a slip.
    pub slips: Vec<Slip>,
    /// Mix: the water.
    pub water: WaterPlan,
    /// Mix: the liquid that [`Stations::water`] is about.
    pub liquid: Liquid,
    /// Mix: phases.
    pub mix: MixOutput,
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
    /// Oven: temperature and minutes.
    pub bake: BakeOutput,
    /// Shape and Oven: further make-ups from the same dough.
    pub makeups: Vec<MakeUpAnswer>,
    /// Day: steps on the clock.
    pub day: Day,
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

/// The liquid whose temperature is free to choose.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Liquid {
    /// What it is: `water`, or the name of what stands in for it.
    pub name: String,
    /// Its mass.
    pub grams: Grams,
    /// Its temperature as it comes.
    pub comes_at: Celsius,
}

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
        let shaping_at = self.mixed_at.0 + self.rise.bulk.as_ref().map_or(0.0, |b| b.time.0);
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

    /// Hours of the day at which bulk and proof begin.
    fn begins(&self) -> [f64; 2] {
        let hour = |minutes: Minutes| {
            let at = self.day.start.timestamp().as_second() as f64 + 60.0 * minutes.0;
            let offset = f64::from(self.day.start.offset().seconds());
            ((at + offset) / 3600.0).rem_euclid(24.0)
        };
        [hour(self.mixed_at), hour(self.proof_at)]
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
    /// Hours of the day at which bulk and proof begin, once that is known.
    begins: Option<[f64; 2]>,
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
    if kitchen.night > 0.0 {
        // Where the night falls in the rise shows only on the clock; twice is near enough.
        for _ in 0..2 {
            let begins = Some(stations.begins());
            stations = Reading { begins, ..Reading::new(&meant, kitchen, catalogue) }.stations(now)?;
        }
    }
    stations.slips = slips(formula, &stations.figures, catalogue);
    stations.slips.extend(later_slips(&stations));
    mark_meant(&mut stations.slips, formula);
    Ok(stations)
}

/// Warm hours that a dough with egg or milk may stand before it is worth a word, h. The two-hour
/// rule for perishable food (US FDA and USDA) is widened for yeast dough in a home kitchen.
const WARM_HOURS: f64 = 4.0;

/// Slips that show only when the stations have been read.
fn later_slips(s: &Stations) -> Vec<Slip> {
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
    let hours = (warm(&s.rise.bulk) + warm(&s.rise.proof)) / 60.0;
    if (s.figures.egg || s.figures.dairy) && hours > WARM_HOURS {
        let what = if s.figures.egg { "egg" } else { "milk" };
        let text = format!(
            "A dough with {what} stands warm for {hours:.0} hours. Two hours between 4 and 60 °C is the usual limit for such food. Rise it in the fridge, or use more yeast.",
        );
        found.push(slip("egg-or-milk-left-out", Strength::Warning, text));
    }
    found
}

/// The share of the dough from which cold eggs and milk count in the factor rule (common practice,
/// no source).
const COLD_PART: f64 = 0.08;

/// The hour of the day at which a room is warmest (common practice, no source).
const WARMEST_HOUR: f64 = 16.0;

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
        let rise_input = self.rise_input(&ahead, &first_cut);
        let rise = self.named("rise", rise(&rise_input))?;
        let shape = self.shape(Some(&rise))?;
        let (mix, friction) = self.mixed(&rise)?;
        let (water_plan, liquid) = self.water(&mix)?;
        let bake = self.named("oven", bake(&self.bake_input(&rise, &shape)))?;
        let makeups = self.makeups(&rise)?;
        let laid = self.lay_out(&ahead, &mix, &liquid, &water_plan, &rise, &shape, &bake, &makeups);
        let doubt = doubt(&ahead, &rise, &bake);
        let day = schedule(laid.steps, &self.formula.day, self.kitchen, now, doubt)?;
        let yeast = self.figures.instant_yeast.of(self.figures.flour);
        Ok(Stations {
            nutrition: nutrition(&self.figures, bake.loss, Grams(100.0)),
            piece_nutrition: nutrition(&self.figures, bake.loss, shape.piece * (1.0 - bake.loss / 100.0)),
            keeping: self.keeping(&bake),
            slips: Vec::new(),
            builds: builds(self.formula, self.catalogue),
            water: water_plan,
            liquid,
            mix,
            ahead,
            makeups,
            yeast: (yeast.0 > 0.0).then(|| YeastForms::of_instant(yeast)),
            friction,
            rise_input,
            rise,
            shape,
            bake,
            day,
            mixed_at: laid.mixed_at,
            proof_at: laid.proof_at,
            oven_at: laid.oven_at,
            cautions: self.cautions(),
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
        self.figures.dough - others
    }

    fn lines(&self, stage: Stage) -> impl Iterator<Item = (Grams, &Ingredient)> {
        known(self.formula, self.catalogue).filter(move |(l, _)| l.stage == stage).map(|(l, i)| (l.grams, i))
    }

    fn has(&self, stage: Stage) -> bool {
        self.lines(stage).any(|(g, _)| g.0 > 0.0)
    }

    /// Everything that is made ahead.
    fn ahead(&self) -> Result<Vec<Ahead>, Faults> {
        Stage::ALL
            .into_iter()
            .filter(|&s| s.is_ahead() && self.has(s))
            .map(|stage| {
                let place = self.place_of(stage);
                let ripening = if stage == Stage::OldDough { None } else { self.ripening(stage, place)? };
                let wished = self.formula.stage_plan(stage).hours.or(stage.usual_hours().map(Hours));
                let time = match (wished, &ripening) {
                    (Some(hours), _) => hours.into(),
                    (None, Some(r)) => r.time,
                    (None, None) => Minutes(0.0),
                };
                let grams = self.lines(stage).map(|(g, _)| g).sum();
                Ok(Ahead { stage, grams, place, time, ripening })
            })
            .collect()
    }

    /// A preferment as a dough of its own; none for what does not ferment.
    fn ripening(&self, stage: Stage, place: Celsius) -> Result<Option<Ripening>, Faults> {
        if !stage.is_preferment() {
            return Ok(None);
        }
        let mut seed = self.formula.clone();
        seed.lines.retain(|l| l.stage == stage);
        // Read by themselves the preferment's lines are the whole dough.
        seed.lines.iter_mut().for_each(|l| l.stage = Stage::Dough);
        let f = figures(&seed, self.catalogue);
        if f.flour.0 < 0.5 {
            let name = stage.name().to_lowercase();
            let text = format!("The {name} has no flour. Give it some, or move its lines to the dough.");
            return Err(Fault::new("missing", "lines", text).into());
        }
        let dough = self.dough(&f, f.instant_yeast);
        if dough.culture.0 == 0.0 && dough.instant_yeast.0 == 0.0 {
            return Ok(None);
        }
        self.named("rise", ripen(&dough, place, place)).map(Some)
    }

    fn dough(&self, f: &Figures, instant_yeast: Percent) -> Dough {
        let unbloomed = false;
        Dough {
            mass: f.dough,
            flour: f.flour,
            water: f.effective_hydration,
            instant_yeast,
            unbloomed,
            culture: f.inoculation.min(Percent(100.0)),
            sugar: f.fermentable_sugar,
            fat: f.fat,
            salt: f.salt,
            osmolality: f.osmolality,
            hold: f.hold,
            pace: f.pace,
        }
    }

    /// What bulk and proof depend on.
    fn rise_input(&self, ahead: &[Ahead], cut: &ShapeOutput) -> RiseInput {
        let plan = &self.formula.rise;
        // Yeast that spent a night in a preferment has grown by the time it meets the dough.
        let grown: f64 = ahead
            .iter()
            .filter_map(|a| {
                let yeast: f64 = self.lines(a.stage).map(|(g, i)| g.0 * i.instant_yeast()).sum();
                Some(yeast * (a.ripening.as_ref()?.yeast_growth - 1.0))
            })
            .sum();
        let extra = Grams(grown).percent_of(self.figures.flour);
        RiseInput {
            dough: self.dough(&self.figures, self.figures.instant_yeast + extra),
            start: self.formula.mix.desired,
            bulk: self.stretch(&plan.bulk, 0),
            handling: plan.handling,
            shaping: cut.divide + cut.rest + cut.shape,
            room: self.room(),
            piece: Some(cut.piece),
            proof: self.stretch(&plan.proof, 1),
            kitchen: 1.0,
            spread: KITCHEN_SPREAD,
        }
    }

    /// A wish as the engine takes it; `nth` is 0 for the bulk rise, 1 for the proof.
    fn stretch(&self, wish: &RiseWish, nth: usize) -> Stretch {
        let leg = |l: &Leg| Place { stay: Some(l.hours.into()), ..Place::steady(l.place) };
        let mut places: Vec<Place> = wish.legs.iter().map(leg).collect();
        places.push(wish.place.map_or_else(|| self.room_by_night(nth), Place::steady));
        let before: f64 = wish.legs.iter().map(|l| l.hours.0).sum();
        let hours = wish.stays.map(|h| Hours((before + h.0).min(72.0)));
        Stretch { places, target: wish.target, hours, stands: wish.stands }
    }

    /// The room with its daily curve, seen from the beginning of a rise.
    fn room_by_night(&self, nth: usize) -> Place {
        let Some(begins) = self.begins else { return Place::steady(self.room()) };
        let swing = 0.5 * self.kitchen.night;
        Place {
            swing,
            warmest: Minutes(60.0 * (WARMEST_HOUR - begins[nth])),
            ..Place::steady(Celsius((self.room().0 - swing).max(0.0)))
        }
    }

    /// What dividing depends on; before the rise is known, with ordinary volumes.
    fn shape(&self, rise: Option<&RiseOutput>) -> Result<ShapeOutput, Faults> {
        let shape_plan = self.formula.shape;
        self.divide(self.main_dough(), shape_plan, rise)
    }

    fn divide(
        &self,
        dough: Grams,
        plan: ShapePlan,
        rise: Option<&RiseOutput>,
    ) -> Result<ShapeOutput, Faults> {
        let input = ShapeInput {
            dough,
            shape: plan,
            shaped_volume: rise.map_or(1.2, |r| r.shaped_volume),
            proofed_volume: rise.map_or(2.0, |r| r.final_volume),
            batter: self.formula.mix.method == Method::Paddle,
        };
        self.named("shape", shape(&input))
    }

    /// The further make-ups, each with its pieces and its bake.
    fn makeups(&self, rise: &RiseOutput) -> Result<Vec<MakeUpAnswer>, Faults> {
        let answer = |m: &MakeUp| {
            let plan = ShapePlan {
                kind: m.kind,
                pieces: m.pieces,
                piece_weight: Some(m.piece_weight),
                strands: self.formula.shape.strands,
            };
            let shape = self.divide(m.piece_weight * f64::from(m.pieces), plan, Some(rise))?;
            let oven = OvenPlan { vessel: m.vessel, ..self.formula.oven };
            // Rolls and buns of a soft dough are baked as such, whatever else comes of it.
            let style = match (m.kind, self.formula.style) {
                (Kind::Roll | Kind::Bun, Style::Tin | Style::Braid) => Style::SoftRoll,
                (_, style) => style,
            };
            let input = BakeInput { kind: m.kind, style, oven, ..self.bake_input(rise, &shape) };
            Ok(MakeUpAnswer { bake: self.named("oven", bake(&input))?, shape })
        };
        self.formula.makeups.iter().map(answer).collect()
    }

    /// Mixing by what this kitchen has learned of its friction, unless the formula sets it.
    fn mixed(&self, rise: &RiseOutput) -> Result<(MixOutput, Option<(f64, usize)>), Faults> {
        let mut input = self.mix_input(rise);
        let usual = self.named("mix", mix(&input))?;
        let learned = self.kitchen.learned_friction(input.method, usual.usual_friction);
        match learned.filter(|_| input.friction.is_none()) {
            Some(learned) => {
                input.friction = Some(learned.0);
                Ok((self.named("mix", mix(&input))?, Some(learned)))
            }
            None => Ok((usual, None)),
        }
    }

    fn mix_input(&self, rise: &RiseOutput) -> MixInput {
        let late: Grams = self.lines(Stage::LateButter).map(|(g, i)| g * (i.per_100g.fat / 100.0)).sum();
        MixInput {
            method: self.formula.mix.method,
            style: self.formula.style,
            hydration: self.figures.effective_hydration,
            late_fat: late.percent_of(self.figures.flour),
            add_ins: self.has(Stage::AddIns),
            autolyse: self.formula.mix.autolyse,
            bulk: rise.bulk.as_ref().map_or(Minutes(0.0), |b| b.time),
            dough: self.figures.dough,
            speeds: self.kitchen.mixer_speeds.clone(),
            friction: self.formula.mix.friction,
            salt: self.formula.mix.salt,
            held_back: self.has(Stage::HeldBack),
            mixer_limit: self.kitchen.mixer_limit,
        }
    }

    /// The liquid whose temperature is free: the dough's water, or where that is little, its milk
    /// and other drinks too.
    fn is_free(&self, ingredient: &Ingredient, water_is_enough: bool) -> bool {
        let pourable =
            matches!(ingredient.group, Group::Liquid | Group::Dairy) && ingredient.per_100g.water > 80.0;
        ingredient.is_water() || (!water_is_enough && pourable)
    }

    fn water(&self, mix: &MixOutput) -> Result<(WaterPlan, Liquid), Faults> {
        let plain: Grams = self.lines(Stage::Dough).filter(|(_, i)| i.is_water()).map(|(g, _)| g).sum();
        let enough = plain.0 >= 0.2 * self.figures.flour.0;
        let mut free = Grams(0.0);
        let mut heat = 0.0;
        let mut names = Vec::new();
        let mut parts = Vec::new();
        for (line, i) in known(self.formula, self.catalogue).filter(|(l, _)| l.stage.in_dough()) {
            if line.stage == Stage::Dough && self.is_free(i, enough) {
                free += line.grams;
                heat += line.grams.0 * self.temperature_of(line.stage, i).0;
                names.push(i.name.to_lowercase());
                continue;
            }
            parts.push(Part {
                name: i.name.clone(),
                grams: line.grams,
                per_100g: i.per_100g,
                temperature: self.temperature_of(line.stage, i),
            });
        }
        let liquid = Liquid {
            name: if names.len() == 1 { names.remove(0) } else { "liquid".into() },
            comes_at: if free.0 > 0.0 { Celsius(heat / free.0) } else { self.kitchen.tap },
            grams: free,
        };
        let mut ahead = Stage::ALL.into_iter().filter(|s| s.is_ahead() && self.has(*s)).peekable();
        let preferment = ahead.next_if(|s| s.is_preferment()).map(|s| self.ahead_temperature(s));
        let mut others: Vec<Celsius> = ahead.map(|s| self.ahead_temperature(s)).collect();
        others.extend(self.cold_part(enough));
        let input = WaterInput {
            desired: self.formula.mix.desired,
            flour: self.flour_temperature(),
            room: self.room(),
            preferment,
            others,
            mixing_rise: mix.rise.min(25.0),
            tap: liquid.comes_at,
            water: free,
            parts,
            bowl: self.kitchen.bowl,
        };
        Ok((self.named("mix", water(&input))?, liquid))
    }

    /// The temperature of cold eggs and milk, where they are a good part of the dough and not the
    /// liquid that is warmed.
    fn cold_part(&self, water_is_enough: bool) -> Option<Celsius> {
        let cold = |i: &Ingredient| {
            matches!(i.group, Group::Egg | Group::Dairy)
                && i.kept == Kept::Fridge
                && !self.is_free(i, water_is_enough)
        };
        let grams: Grams = self.lines(Stage::Dough).filter(|(_, i)| cold(i)).map(|(g, _)| g).sum();
        (grams.0 > COLD_PART * self.figures.dough.0).then_some(self.kitchen.fridge)
    }

    fn flour_temperature(&self) -> Celsius {
        self.formula.mix.flour.unwrap_or(self.room())
    }

    /// How warm something made ahead is when it meets the dough.
    fn ahead_temperature(&self, stage: Stage) -> Celsius {
        let usual = if stage.is_preferment() { self.formula.mix.preferment } else { None };
        self.formula.stage_plan(stage).temperature.or(usual).unwrap_or(self.place_of(stage))
    }

    fn temperature_of(&self, stage: Stage, i: &Ingredient) -> Celsius {
        match (stage, i.kept) {
            (stage, _) if stage.is_ahead() => self.ahead_temperature(stage),
            // Late butter is soft: it has stood in the room.
            (Stage::LateButter, _) => self.room(),
            (_, Kept::Fridge) => self.kitchen.fridge,
            (_, Kept::Tap) => self.kitchen.tap,
            _ if i.group == Group::Flour => self.flour_temperature(),
            _ => self.room(),
        }
    }

    fn bake_input(&self, rise: &RiseOutput, shape: &ShapeOutput) -> BakeInput {
        let c = self.figures.composition;
        let mass = self.figures.dough.0;
        let dry = Composition { water: 0.0, ..c };
        BakeInput {
            piece: shape.piece,
            kind: self.formula.shape.kind,
            style: self.formula.style,
            proofed_volume: rise.final_volume.clamp(1.0, 4.0),
            start: rise.final_temperature,
            water: 100.0 * c.water / mass,
            solids_heat: heat_capacity(&dry, 60.0),
            sugar: self.figures.sugar.0,
            dairy: self.figures.dairy,
            washed: self
                .lines(Stage::Wash)
                .any(|(g, i)| g.0 > 0.0 && matches!(i.group, Group::Egg | Group::Dairy)),
            whole_grain: self.figures.whole_grain.0,
            oven: self.formula.oven,
            fan: self.kitchen.oven_fan,
            offset: self.kitchen.oven_offset,
            preheat: self.kitchen.oven_preheat,
            altitude: self.kitchen.altitude,
        }
    }

    #[allow(clippy::too_many_arguments)]
    fn lay_out(
        &self,
        ahead: &[Ahead],
        mix: &MixOutput,
        liquid: &Liquid,
        water: &WaterPlan,
        rise: &RiseOutput,
        shape: &ShapeOutput,
        bake: &BakeOutput,
        makeups: &[MakeUpAnswer],
    ) -> LaidOut {
        let mut day = Layout::new();
        self.lay_out_ahead(&mut day, ahead);
        let answer = match self.formula.mix.school {
            WaterSchool::Balance => &water.balance,
            WaterSchool::Factor => &water.factor,
        };
        day.then(StepKind::Mix, "Weigh out", water_sentence(answer, liquid), 10.0, true);
        for p in &mix.phases {
            day.then(StepKind::Mix, &p.name, phase_sentence(p), p.minutes.0, p.hands_on);
        }
        let mixed_at = day.end();
        if let Some(bulk) = &rise.bulk {
            let plan = &self.formula.rise.bulk;
            let sign = match plan.stays {
                Some(_) => format!("It should stand at about {:.1} times its size.", bulk.grown),
                None => format!("Until it has grown to {} times its size.", plan.target),
            };
            day.then(StepKind::Bulk, "Bulk rise", sign, bulk.time.0, false);
            lay_out_moves(&mut day, plan, self.room(), mixed_at.0, bulk.time.0);
            if let Some(folds) = mix.folds {
                for n in 1..=folds.sets {
                    let at = mixed_at.0 + f64::from(n) * folds.every.0;
                    if at + folds.each.0 <= day.end().0 {
                        let what = "Four folds, one from each side, with wet hands.";
                        day.beside(StepKind::Fold, &format!("Fold, set {n}"), what, at, folds.each.0);
                    }
                }
            }
        }
        self.lay_out_shaping(&mut day, shape, makeups);
        let proof_at = day.end();
        if let Some(proof) = &rise.proof {
            let plan = &self.formula.rise.proof;
            let sign = match plan.stays {
                Some(_) => format!(
                    "It should stand at about {:.1} times the size it was shaped at. Baked as cold as it is.",
                    proof.grown
                ),
                None => format!(
                    "Until it is {} times the size it was shaped at; a poke springs back slowly.",
                    plan.target
                ),
            };
            day.then(StepKind::Proof, "Final proof", sign, proof.time.0, false);
            lay_out_moves(&mut day, plan, self.room(), proof_at.0, proof.time.0);
        }
        day.then(StepKind::Bake, "Into the oven", self.loading(), 3.0, true);
        let oven_at = day.end();
        let what = format!("Set it to {:.0} °C{}.", bake.dial.0, vessel_inside(self.formula.oven.vessel));
        day.beside(StepKind::Oven, "Oven on", what, oven_at.0 - 3.0 - bake.preheat.0, 1.0);
        let until = format!("Until the core is {:.0} °C and the crust {}.", bake.core_target.0, bake.colour);
        day.then(StepKind::Bake, "Bake", until, bake.time.0, false);
        if let Some(lid) = bake.lid_off {
            let what = "Dry mitts, arms back: the steam comes first.";
            day.beside(StepKind::Oven, "Lid off", what, oven_at.0 + lid.0, 1.0);
        }
        if let Some(foil) = bake.foil_on {
            day.beside(StepKind::Oven, "Cover with foil", "Or it gets too dark.", oven_at.0 + foil.0, 1.0);
        }
        self.lay_out_second_bakes(&mut day, bake, makeups);
        let glaze = if self.has(Stage::Glaze) { " Brush with the glaze." } else { "" };
        let what = format!("Onto a rack. Tin, pot and rack are hot.{glaze}");
        day.then(StepKind::Bake, "Out of the oven", what, 2.0, true);
        day.then(StepKind::Cool, "Cool", "Cutting waits until it is barely warm.", bake.cool.0, false);
        LaidOut { steps: day.finish(), mixed_at, proof_at, oven_at }
    }

    /// Make-ups that cannot share the oven's setting go in after the main one.
    fn lay_out_second_bakes(&self, day: &mut Layout, main: &BakeOutput, makeups: &[MakeUpAnswer]) {
        for (m, answer) in self.formula.makeups.iter().zip(makeups) {
            let name = m.kind.name().to_lowercase();
            let near = (answer.bake.dial - main.dial).0.abs() <= 10.0;
            if near && answer.bake.time.0 <= main.time.0 {
                let what = format!("{} × {name}: done before the rest, in at the same time.", m.pieces);
                let at = day.end().0 - main.time.0 + answer.bake.time.0;
                day.beside(StepKind::Oven, &format!("Out: {name}"), what, at, 1.0);
                continue;
            }
            let what = format!("{} × {name} at {:.0} °C, kept cool until now.", m.pieces, answer.bake.dial.0);
            day.then(StepKind::Bake, &format!("Bake: {name}"), what, answer.bake.time.0, false);
        }
    }

    /// What stands longest is set first; the others so that all are ready together.
    fn lay_out_ahead(&self, day: &mut Layout, ahead: &[Ahead]) {
        let builds = builds(self.formula, self.catalogue);
        let lead = |a: &Ahead| {
            let earlier = if a.stage == Stage::Preferment { builds.len().saturating_sub(1) } else { 0 };
            SETTING + (a.time.0 + SETTING) * earlier as f64 + a.time.0
        };
        let standing: Vec<&Ahead> = ahead.iter().filter(|a| a.time.0 > 0.0).collect();
        let Some(first) = standing.iter().max_by(|a, b| lead(a).total_cmp(&lead(b))) else { return };
        let ready = lead(first);
        for a in &standing {
            let (name, mut at) = (a.stage.name().to_lowercase(), ready - lead(a));
            let own_builds: &[Build] = if a.stage == Stage::Preferment { &builds } else { &[] };
            for build in own_builds.iter().take(own_builds.len().saturating_sub(1)) {
                let title = format!("Feed, build {} of {}", build.number, builds.len());
                let g = shown::grams;
                let what = format!(
                    "{} g culture, {} g flour, {} g water.",
                    g(build.culture),
                    g(build.flour),
                    g(build.water)
                );
                day.beside(StepKind::Levain, &title, what, at, SETTING);
                at += SETTING + a.time.0;
            }
            let grams =
                a.grams + if a.stage == Stage::Preferment { self.formula.levain.keep } else { Grams(0.0) };
            let what = format!("{} g in all. {}", shown::grams(grams), setting(a.stage));
            day.beside(StepKind::Levain, &format!("Set the {name}"), what, at, SETTING);
        }
        let name = first.stage.name().to_lowercase();
        day.then(StepKind::Levain, &format!("The {name} stands"), ready_sign(first), ready, false);
    }

    fn lay_out_shaping(&self, day: &mut Layout, shape: &ShapeOutput, makeups: &[MakeUpAnswer]) {
        let plan = &self.formula.shape;
        let piece = shown::grams(shape.piece);
        if self.formula.mix.method == Method::Paddle {
            let what = format!("{piece} g each. Smooth the top with a wet spatula.");
            day.then(StepKind::Shape, "Fill and smooth", what, shape.divide.0 + shape.shape.0, true);
            return;
        }
        let what = match shape.strand {
            Some(strand) => format!("{} strands of {} g.", plan.pieces * plan.strands, shown::grams(strand)),
            None if plan.pieces == 1 => format!("One piece of {piece} g."),
            None => format!("{} pieces of {piece} g.", plan.pieces),
        };
        day.then(StepKind::Shape, "Divide and pre-shape", what, shape.divide.0, true);
        let sign = "Covered, until a piece no longer springs back.";
        day.then(StepKind::Shape, "Rest", sign, shape.rest.0, false);
        for (m, answer) in self.formula.makeups.iter().zip(makeups) {
            let what = format!(
                "{} × {} g, {}.",
                m.pieces,
                shown::grams(m.piece_weight),
                m.kind.name().to_lowercase()
            );
            day.then(
                StepKind::Shape,
                "Divide and shape the rest",
                what,
                (answer.shape.divide + answer.shape.shape).0,
                true,
            );
        }
        let what = match shape.strand_length {
            Some(cm) => format!("Roll the strands to {cm:.0} cm and plait."),
            None => format!("As a {}, smooth and springy.", plan.kind.name().to_lowercase()),
        };
        day.then(StepKind::Shape, "Shape", what, shape.shape.0, true);
    }

    fn loading(&self) -> String {
        let mut parts = Vec::new();
        if self.has(Stage::Bath) {
            parts.push("Dip in the bath, a few seconds a side; drain.");
        }
        if self.has(Stage::Wash) {
            parts.push("Brush with the wash.");
        }
        if self.has(Stage::SecondWash) {
            parts.push("Let it dry, brush again.");
        }
        if self.has(Stage::Topping) {
            parts.push("Scatter the topping.");
        }
        match self.formula.shape.kind {
            Kind::Round | Kind::Batard | Kind::Baguette => parts.push("Score."),
            Kind::Flat => parts.push("Dimple with oiled fingers."),
            _ => {}
        }
        if self.formula.oven.steam {
            parts.push("Steam: stand aside, no water on the door glass.");
        }
        if parts.is_empty() {
            parts.push("Straight in.");
        }
        parts.join(" ")
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

    fn cautions(&self) -> Vec<String> {
        let mut c = vec!["Raw flour and raw dough are not safe to eat.".to_owned()];
        if self.figures.egg || self.figures.dairy {
            c.push("Dough with egg or milk: count the time between 4 and 60 °C. Over two hours, rise it cooler or use the fridge.".into());
        }
        match self.formula.oven.vessel {
            Vessel::Pot => {
                c.push("The pot and its lid are as hot as the oven. Dry mitts, lid away from you.".into())
            }
            Vessel::Stone if self.formula.oven.steam => {
                c.push("Steam burns. Arms back, and never water on the door glass.".into());
            }
            _ => {}
        }
        if self.has(Stage::Bath) {
            c.push("An alkaline bath burns skin and eyes: gloves and goggles, steel or glass, never aluminium. A soda bath boils over.".into());
        }
        if self.figures.gluten_flour.0 == 0.0 && !self.figures.allergens.iter().any(|a| a == "gluten") {
            c.push("Made without gluten, but not safe for coeliac disease in a kitchen where wheat flour is used.".into());
        }
        c
    }
}

/// The dough is carried from one place to the next.
fn lay_out_moves(day: &mut Layout, plan: &RiseWish, room: Celsius, begins: f64, lasts: f64) {
    let places = plan.legs.iter().map(|l| l.place).chain([plan.place.unwrap_or(room)]).skip(1);
    let mut at = 0.0;
    for (leg, to) in plan.legs.iter().zip(places) {
        at += 60.0 * leg.hours.0;
        if at < lasts {
            let title = if to.0 < 10.0 { "Into the fridge" } else { "To its next place" };
            day.beside(StepKind::Bulk, title, format!("Covered, at {:.0} °C.", to.0), begins + at, 1.0);
        }
    }
}

struct LaidOut {
    steps: Vec<Step>,
    mixed_at: Minutes,
    proof_at: Minutes,
    oven_at: Minutes,
}

/// Minutes to set a preferment, a soaker or a scald.
const SETTING: f64 = 5.0;

/// How a stage that is made ahead is set.
fn setting(stage: Stage) -> &'static str {
    match stage {
        Stage::Soaker => "Pour the liquid over, stir and cover.",
        Stage::Scald => "Cook flour and liquid, stirring, until it is thick and clear; cover, let it cool.",
        Stage::OldDough => "Tear it up.",
        _ => "Stir until no dry flour is left; cover.",
    }
}

fn ready_sign(a: &Ahead) -> &'static str {
    match a.stage {
        Stage::Soaker => "Ready when it has drunk its liquid.",
        Stage::Scald => "Ready when it is no warmer than the hand.",
        _ => "Ripe when it is domed and full of bubbles, just before it sinks.",
    }
}

fn doubt(ahead: &[Ahead], rise: &RiseOutput, bake: &BakeOutput) -> Doubt {
    let forecasts = [&rise.bulk, &rise.proof].into_iter().flatten();
    let (mut early, mut late) = (bake.time - bake.early, bake.late - bake.time);
    for f in forecasts {
        early += f.time - f.early;
        late += f.late - f.time;
    }
    // The longest that ripens by itself moves the rest; one with a set time does not.
    let longest = ahead
        .iter()
        .filter_map(|a| a.ripening.as_ref().filter(|r| r.time == a.time))
        .max_by(|a, b| a.time.0.total_cmp(&b.time.0));
    if let Some(l) = longest {
        early += l.time - l.early;
        late += l.late - l.time;
    }
    Doubt { early, late }
}

/// The water's answer as a sentence for the day.
pub fn water_sentence(answer: &WaterAnswer, liquid: &Liquid) -> String {
    let (all, name) = (shown::grams(liquid.grams), &liquid.name);
    match &answer.action {
        WaterAction::Tap => format!("{all} g {name} as it comes."),
        WaterAction::Warm => format!("{all} g {name} at {:.0} °C.", answer.water.0),
        WaterAction::Ice { ice, water } => {
            format!("{} g {name} and {} g ice.", shown::grams(*water), shown::grams(*ice))
        }
        WaterAction::Refused { dough } => {
            format!("Water alone cannot do it: the dough comes to {:.0} °C.", dough.0)
        }
        WaterAction::NoLiquid => "No liquid to warm or cool.".into(),
    }
}

fn phase_sentence(p: &mixing::Phase) -> String {
    let speed = p.rpm.map(|rpm| format!("{rpm:.0} turns a minute. ")).unwrap_or_default();
    let gap = if p.what.is_empty() { "" } else { " " };
    match p.kind {
        PhaseKind::Rest | PhaseKind::Autolyse => p.what.clone(),
        _ => format!("{speed}{}{gap}{}", p.what, p.sign),
    }
}

fn vessel_inside(v: Vessel) -> &'static str {
    match v {
        Vessel::Pot => ", the pot and its lid inside",
        Vessel::Stone => ", the stone inside",
        Vessel::Sheet | Vessel::Tin => "",
    }
}

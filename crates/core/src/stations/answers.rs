//! What the six stations answer.

use schemars::JsonSchema;
use serde::Serialize;

use super::in_kitchen::Begins;
use super::pieces::PieceWork;
use crate::day::{Day, Lasts, Task};
use crate::formula::{Build, Figures, Nutrition, Slip};
use crate::mix::{MixOutput, WaterAnswer, WaterAnswers};
use crate::oven::{BakeInput, BakeOutput, Notations, OvenWish};
use crate::rise::{Forecast, Ripening, RiseInput, RiseOutput};
use crate::shape::ShapeOutput;
use crate::units::{Celsius, Grams, Minutes};
use crate::words::{ACTIVE_DRY_AS_INSTANT, FRESH_AS_INSTANT, Stage, WaterSchool, YEAST_LIMIT};

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
    /// Day: what is to be done, before it has its minutes.
    pub tasks: Vec<Task>,
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
    /// Whether its liquid is poured over it boiling.
    pub hot: bool,
    /// When it is ripe, for what ferments there.
    pub ripening: Option<Ripening>,
}

impl Ahead {
    /// How long it stands, from when it is ripe to when it is past its best; by its wish where it does not
    /// ripen.
    pub fn lasts(&self) -> Lasts {
        match &self.ripening {
            Some(r) if r.ripens => Lasts::between(r.time, self.time, r.good_until),
            _ => Lasts::just(self.time),
        }
    }
}

/// A further make-up: its pieces and its bake.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct MakeUpAnswer {
    /// Its pieces.
    pub shape: ShapeOutput,
    /// Shaping, plaiting, pan and tray, and its own finish.
    pub work: PieceWork,
    /// Its temperature and minutes.
    pub bake: BakeOutput,
    /// What it bakes on or in, with its pan settled.
    pub oven: OvenWish,
    /// Whether its setting is that of the main pieces, so that it can bake beside them.
    pub together: bool,
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
        parts.into_iter().map(|p| (p.name.as_str(), warm(p))).find(|(_, t)| t.0 <= YEAST_LIMIT)
    }
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
    /// From grams of instant yeast.
    pub fn of_instant(instant: Grams) -> Self {
        YeastForms { instant, active_dry: instant / ACTIVE_DRY_AS_INSTANT, fresh: instant / FRESH_AS_INSTANT }
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
    pub(super) fn begins(&self) -> Begins {
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

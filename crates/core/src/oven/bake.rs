//! The oven's answer: temperature and minutes, lid, loss and preheating.

use crate::words::Made;
use crate::words::Vessel;
use std::cell::Cell;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::heating::{cools, heats_up};
use super::loaf::*;
use super::physics::*;
use super::setting::*;
use crate::fault::{Check, Faults};
use crate::ferment::DOUGH_DENSITY;
use crate::shape::{RING, Size};
use crate::units::{Celsius, Grams, Minutes};
use crate::words::Kind;
use crate::words::Style;

/// What a bake depends on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BakeInput {
    /// Mass of one piece of dough, 10 to 5000 g.
    pub piece: Grams,
    /// Its shape.
    pub kind: Kind,
    /// Its style: range of temperature, core, colour and dryness wanted.
    pub style: Style,
    /// Volume against the dough without gas when it goes in, 1 to 4.
    pub proofed_volume: f64,
    /// Its temperature then, 0 to 45 °C.
    pub start: Celsius,
    /// Water in the dough, the flour's own moisture included, per cent of its mass, 15 to 75.
    pub water: f64,
    /// Heat capacity of everything else, kJ/kg K.
    #[serde(default = "dry_heat")]
    pub solids_heat: f64,
    /// Sugar, per cent of flour: it speeds the colour.
    #[serde(default)]
    pub sugar: f64,
    /// Whether milk is in the dough.
    #[serde(default)]
    pub dairy: bool,
    /// Whether it is washed with egg or milk.
    #[serde(default)]
    pub washed: bool,
    /// Whether it is dipped in an alkaline bath.
    #[serde(default)]
    pub bathed: bool,
    /// Whole-grain flour, per cent: it springs less.
    #[serde(default)]
    pub whole_grain: f64,
    /// What it bakes on or in, steam, and a temperature to insist on.
    pub oven: OvenPlan,
    /// Whether the fan is on.
    #[serde(default)]
    pub fan: bool,
    /// What the oven really has over its dial, K, −60 to 60.
    #[serde(default)]
    pub offset: f64,
    /// Minutes the oven takes to 200 °C.
    #[serde(default = "preheat_minutes")]
    pub preheat: Minutes,
    /// Time constant with which it comes back after the door was open, min, 1 to 30.
    #[serde(default = "recovery_minutes")]
    pub recovery: Minutes,
    /// All the dough that goes in together, up to 20 kg; this piece alone when left out.
    #[serde(default)]
    pub load: Option<Grams>,
    /// Trays in the oven at once, 1 to 4.
    #[serde(default = "one_tray")]
    pub trays: u32,
    /// Temperature of the room, in which a cold tin or sheet stood, and the bread cools, 0 to 45 °C.
    #[serde(default = "room")]
    pub room: Celsius,
    /// Altitude in metres, −430 to 4500.
    #[serde(default)]
    pub altitude: f64,
    /// The hottest that this oven gets, 150 to 350 °C.
    #[serde(default = "no_end")]
    pub hottest: Celsius,
}

fn recovery_minutes() -> Minutes {
    Minutes(6.0)
}
fn one_tray() -> u32 {
    1
}
fn no_end() -> Celsius {
    Celsius(350.0)
}
fn room() -> Celsius {
    Celsius(21.0)
}
fn dry_heat() -> f64 {
    1.7
}
fn preheat_minutes() -> Minutes {
    Minutes(15.0)
}

/// What the bake waited for last.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Last {
    /// The core.
    Core,
    /// The colour.
    Colour,
    /// The dryness of the crust.
    Dryness,
}

/// How to bake it.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BakeOutput {
    /// Temperature in the oven.
    pub temperature: Celsius,
    /// Where to set the dial of this oven for that: to five degrees, where it is corrected at all.
    pub dial: Celsius,
    /// Minutes in the oven.
    pub time: Minutes,
    /// The early end of what is likely.
    pub early: Minutes,
    /// The late end.
    pub late: Minutes,
    /// What was waited for last.
    pub last: Last,
    /// When the core is done.
    pub core_at: Option<Minutes>,
    /// When to turn it round, or trays about.
    pub turn: Option<Minutes>,
    /// When the lid comes off.
    pub lid_off: Option<Minutes>,
    /// When to cover the loaf with foil, since it would get too dark.
    pub foil_on: Option<Minutes>,
    /// Core temperature at which it is done.
    pub core_target: Celsius,
    /// Core temperature when it comes out.
    pub core: Celsius,
    /// Lightness of the crust when it comes out.
    pub lightness: f64,
    /// Its colour in a word.
    pub colour: &'static str,
    /// The colour that is wanted, as lightness.
    pub golden: f64,
    /// The colour of sides and base in a word.
    pub colour_below: [&'static str; 2],
    /// Loss of weight in the oven, per cent of the dough.
    pub loss: f64,
    /// Loss of weight when it has cooled, per cent of the dough.
    pub loss_cooled: f64,
    /// What one piece weighs when it has cooled.
    pub baked: Grams,
    /// What it weighs when it comes out.
    pub hot: Grams,
    /// Boiling point here.
    pub boiling: Celsius,
    /// Minutes to heat the oven, and what stands in it, before the loaf goes in.
    pub preheat: Minutes,
    /// Its size in the oven, cm.
    pub size: Size,
    /// Its volume in the oven over its volume before.
    pub spring: f64,
    /// Minutes to cool before it is cut.
    pub cool: Minutes,
    /// What to know.
    pub notes: Vec<String>,
    /// What to do with the crust when it is out.
    pub crust: &'static str,
    /// Its course.
    pub curve: Vec<BakeMoment>,
    /// The loaf cut open at moments of its course.
    pub cuts: Vec<Cut>,
}

/// The loaf cut open at one moment: temperatures in °C from the middle to the surface, at equal steps.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Cut {
    /// Minutes in the oven.
    pub minutes: f64,
    /// Towards the top.
    pub top: Vec<f64>,
    /// Towards the sides.
    pub sides: Vec<f64>,
    /// Towards the base.
    pub base: Vec<f64>,
}

/// What a style wants of its bake. Common practice, no source.
pub(super) struct Wanted {
    /// Range of oven temperature, °C.
    pub oven: (f64, f64),
    /// Core, °C.
    core: f64,
    /// Lightness of the crust at which it is done.
    golden: f64,
    /// Lightness under which it would be too dark.
    dark: f64,
    /// Least loss, per cent.
    loss: f64,
    /// Volume after oven spring over volume before.
    spring: f64,
}

/// The usual range of oven temperature, °C, for this style, shape and vessel (common practice, no source).
pub fn usual_range(style: Style, kind: Kind, vessel: Vessel) -> (f64, f64) {
    wanted(style, kind, vessel).oven
}

pub(super) fn wanted(style: Style, kind: Kind, vessel: Vessel) -> Wanted {
    let small = kind.is_small();
    let (oven, core, golden, dark, loss, spring) = match style {
        _ if vessel == Vessel::Lidded => ((190.0, 220.0), 93.0, 72.0, 56.0, 4.0, 1.1),
        _ if kind == Kind::PullApart => ((170.0, 200.0), 90.0, 73.0, 60.0, 3.5, 1.2),
        // A bath browns it deeply.
        _ if kind == Kind::Dipped => ((200.0, 235.0), 90.0, 60.0, 48.0, 6.0, 1.2),
        Style::Tin => ((185.0, 215.0), 93.0, 64.0, 57.0, 6.3, 1.15),
        Style::SoftRoll => ((175.0, 210.0), 90.0, 72.0, 60.0, 5.0, 1.25),
        Style::Hearth | Style::NoKnead if small => ((210.0, 240.0), 96.0, 70.0, 56.0, 10.0, 1.25),
        Style::Hearth | Style::NoKnead if kind == Kind::Baguette => {
            ((230.0, 250.0), 97.0, 67.0, 50.0, 17.0, 1.5)
        }
        Style::Hearth | Style::NoKnead => ((200.0, 245.0), 96.0, 62.0, 48.0, 11.0, 1.4),
        Style::Braid => ((165.0, 190.0), 88.0, 68.0, 58.0, 4.5, 1.2),
        Style::Flat => ((205.0, 230.0), 95.0, 68.0, 56.0, 9.0, 1.15),
        Style::Rye if small => ((195.0, 235.0), 96.0, 70.0, 54.0, 7.0, 1.1),
        Style::Rye => ((190.0, 235.0), 96.0, 62.0, 48.0, 7.0, 1.1),
        Style::GlutenFree => ((180.0, 205.0), 96.0, 66.0, 57.0, 5.0, 1.1),
    };
    Wanted { oven, core, golden, dark, loss, spring }
}

/// The radius in m of the ideal body whose slowest mode decays as the real shape's.
///
/// The rate of decay goes with the sum of 1/L² over the axes of a box, and nearly so for what is
/// round; the factors make it exact for a sphere, a box and a long cylinder.
fn body(kind: Kind, size: Size) -> (Body, f64) {
    use std::f64::consts::PI;
    const FIRST_ROOT: f64 = 2.404_825_557_695_773;
    let inverse = |cm: f64| (100.0 / cm).powi(2);
    let (w, h, l) = (inverse(size.width), inverse(size.height), inverse(size.length));
    match kind {
        Kind::Tin | Kind::Spirals | Kind::Swirl => (Body::Cylinder, FIRST_ROOT / (PI * (w + h + l).sqrt())),
        Kind::Ring => {
            // A stick that has no ends: its width is that of the roll that the ring is made of.
            let across = 2.0 * FIRST_ROOT * FIRST_ROOT * (inverse(size.width / RING) + h);
            (Body::Cylinder, FIRST_ROOT / across.sqrt())
        }
        Kind::Baguette | Kind::Braid => {
            let across = 2.0 * FIRST_ROOT * FIRST_ROOT * (w + h);
            (Body::Cylinder, FIRST_ROOT / (across + PI * PI * l).sqrt())
        }
        // Pieces that touch lose their heat upwards and downwards only.
        Kind::Flat | Kind::PullApart => (Body::Slab, size.height / 200.0),
        _ => (Body::Sphere, (4.0 / 3.0 * (w + h + l)).powf(-0.5)),
    }
}

/// Pores of a well-risen white loaf, to which the conductivities belong.
const OPEN_CRUMB: f64 = 0.66;

/// Conductivity of dough without pores, W/m K, without vapour transport: the geometric mean of its
/// water's 0.6 and its starch's 0.2 by their shares (both by Choi and Okos 1986, recalled).
const DENSE_CRUMB: f64 = 0.33;
/// The share of its heat that a cooling loaf gives up as vapour (common practice, no source: about 2 %
/// of its weight).
const STEAMS: f64 = 0.22;
/// Shells while searching, and for the answer.
const COARSE: usize = 16;
const FINE: usize = 32;
/// Lightness of a base that has had too much.
const TOO_DARK_BELOW: f64 = 42.0;
/// Cuts through the loaf after the first, and points from the middle to the surface of each.
const CUTS: usize = 24;
const POINTS: usize = 13;
/// The longest bake looked at, min.
const LONGEST: f64 = 240.0;

struct Case<'a> {
    input: &'a BakeInput,
    wanted: Wanted,
    core_target: f64,
    loaf: Loaf,
    size: Size,
    spring: f64,
    boiling: f64,
}

/// When each of the three conditions was met, min; never is infinite.
struct Met {
    core: f64,
    colour: f64,
    loss: f64,
    curve: Vec<BakeMoment>,
}

impl Met {
    fn time(&self) -> f64 {
        self.core.max(self.colour).max(self.loss)
    }

    /// The minute at which it comes out: when all three are met, or the bake is broken off.
    fn end(&self) -> f64 {
        self.time().min(self.curve.last().map_or(0.0, |m| m.minutes))
    }

    fn last(&self) -> Last {
        if self.core >= self.colour && self.core >= self.loss {
            Last::Core
        } else if self.colour >= self.loss {
            Last::Colour
        } else {
            Last::Dryness
        }
    }
}

impl<'a> Case<'a> {
    fn new(input: &'a BakeInput) -> Self {
        let wanted = wanted(input.style, input.kind, input.oven.vessel);
        let boiling = boiling_point(input.altitude);
        // Whole grain and rye spring less.
        let spring = 1.0 + (wanted.spring - 1.0) * (1.0 - 0.6 * input.whole_grain / 100.0).max(0.2);
        let ml = input.piece.0 / DOUGH_DENSITY * input.proofed_volume * spring;
        let size = input.kind.size(ml);
        let (shape, radius) = body(input.kind, size);
        let density = input.piece.0 / ml * 1000.0;
        // Vapour moves in the pores: a dense crumb has fewer of them.
        let pores = (1.0 - 1.0 / (input.proofed_volume * spring)) / OPEN_CRUMB;
        let water = density * input.water / 100.0;
        let sweet = 1.0
            + 0.05 * input.sugar.min(15.0)
            + if input.dairy { 0.15 } else { 0.0 }
            + if input.washed { 0.5 } else { 0.0 }
            + if input.bathed { 0.7 } else { 0.0 };
        let loaf = Loaf {
            body: shape,
            radius,
            water,
            solids: density - water,
            solids_heat: 1000.0 * input.solids_heat,
            start: input.start.0,
            material: Material {
                crumb: DENSE_CRUMB + (BREAD.crumb - DENSE_CRUMB) * pores,
                vapour: BREAD.vapour * pores,
                ..BREAD
            },
            browning: sweet.min(2.0),
        };
        let core_target = wanted.core.min(boiling - 2.0);
        Case { input, core_target, wanted, loaf, size, spring, boiling }
    }

    fn surroundings(&self, oven: f64, lid: f64) -> Surroundings {
        let i = self.input;
        let setting = Setting {
            plan: &i.oven,
            kind: i.kind,
            size: self.size,
            fan: i.fan,
            load: i.load.unwrap_or(i.piece).0 / 1000.0,
            trays: i.trays,
            recovery: i.recovery.0,
            room: i.room.0,
            boiling: self.boiling,
        };
        setting.surroundings(oven, lid)
    }

    fn run(&self, oven: f64, lid: f64, cells: usize) -> Met {
        self.run_with(&self.loaf, &self.surroundings(oven, lid), cells)
    }

    fn run_with(&self, loaf: &Loaf, around: &Surroundings, cells: usize) -> Met {
        let core_at = Cell::new(f64::INFINITY);
        let curve = Bake::new(loaf, around, cells).until(LONGEST, |m| {
            if m.core >= self.core_target {
                core_at.set(core_at.get().min(m.minutes));
            }
            let done =
                core_at.get().is_finite() && m.lightness <= self.wanted.golden && m.loss >= self.wanted.loss;
            // A colour that will not come is not waited for past three times the core.
            done || m.minutes >= 3.0 * core_at.get()
        });
        Met {
            core: first(&curve, |m| m.core - self.core_target),
            colour: first(&curve, |m| self.wanted.golden - m.lightness),
            loss: first(&curve, |m| m.loss - self.wanted.loss),
            curve,
        }
    }

    /// How the bake stands when the core is done: at what minute, and whether it has its colour.
    fn at_core(&self, oven: f64, lid: f64) -> (f64, bool) {
        let around = self.surroundings(oven, lid);
        let curve = Bake::new(&self.loaf, &around, COARSE).until(LONGEST, |m| m.core >= self.core_target);
        curve.last().map_or((0.0, false), |m| (m.minutes, m.lightness <= self.wanted.golden))
    }

    /// The lid's time for a pot: colour and core together, and off for at least the last fifth.
    fn lid_for(&self, oven: f64) -> f64 {
        if self.input.oven.vessel != Vessel::Pot {
            return 0.0;
        }
        let (core, _) = self.at_core(oven, LONGEST);
        let (mut early, mut late) = (0.4 * core, 0.8 * core);
        for _ in 0..5 {
            let mid = 0.5 * (early + late);
            let (_, coloured) = self.at_core(oven, mid);
            if coloured { early = mid } else { late = mid }
        }
        0.5 * (early + late)
    }

    /// The oven temperature at which colour and core come together.
    fn best_temperature(&self) -> f64 {
        let (mut low, mut high) = self.wanted.oven;
        if self.input.oven.vessel == Vessel::Pot {
            return ((0.2 * low + 0.8 * high) / 5.0).round() * 5.0;
        }
        for _ in 0..5 {
            let mid = 0.5 * (low + high);
            let (_, coloured) = self.at_core(mid, 0.0);
            if coloured { high = mid } else { low = mid }
        }
        // An oven is not set finer than five degrees.
        (0.5 * (low + high) / 5.0).round() * 5.0
    }
}

/// The first time at which `over` is not below zero, between moments by a straight line.
fn first(curve: &[BakeMoment], over: impl Fn(&BakeMoment) -> f64) -> f64 {
    let Some(i) = curve.iter().position(|m| over(m) >= 0.0) else { return f64::INFINITY };
    if i == 0 {
        return 0.0;
    }
    let (a, b) = (over(&curve[i - 1]), over(&curve[i]));
    let part = if b > a { -a / (b - a) } else { 1.0 };
    curve[i - 1].minutes + part * (curve[i].minutes - curve[i - 1].minutes)
}

/// Finds temperature and minutes for a piece.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn bake(input: &BakeInput) -> Result<BakeOutput, Faults> {
    let mut c = Check::new();
    c.range("piece", "A piece", input.piece.0, 10.0, 5000.0, "g");
    c.range("proofed_volume", "The proofed volume", input.proofed_volume, 1.0, 4.0, "times");
    c.range("start", "The dough temperature", input.start.0, 0.0, 45.0, "°C");
    c.range("water", "Water in the dough", input.water, 15.0, 75.0, "%");
    c.range("solids_heat", "The heat capacity", input.solids_heat, 1.0, 3.0, "kJ/kg K");
    c.range("sugar", "Sugar", input.sugar, 0.0, 500.0, "%");
    c.range("whole_grain", "Whole grain", input.whole_grain, 0.0, 100.0, "%");
    c.range("offset", "The oven's offset", input.offset, -60.0, 60.0, "K");
    c.range("preheat", "Preheating", input.preheat.0, 0.0, 120.0, "min");
    c.range("hottest", "The oven's end", input.hottest.0, 150.0, 350.0, "°C");
    c.range("recovery", "The oven's recovery", input.recovery.0, 1.0, 30.0, "min");
    c.range("trays", "Trays in the oven", f64::from(input.trays), 1.0, 4.0, "");
    c.range("room", "The room temperature", input.room.0, 0.0, 45.0, "°C");
    if let Some(load) = input.load {
        c.range("load", "The dough in the oven", load.0, 10.0, 20_000.0, "g");
    }
    input.oven.check(&mut c);
    c.range("altitude", "Altitude", input.altitude, -430.0, 4500.0, "m");
    if let Some(t) = input.oven.temperature {
        c.range("oven.temperature", "The oven temperature", t.0, 120.0, 300.0, "°C");
    }
    c.done(())?;
    let case = Case::new(input);
    let wished = input.oven.temperature.map_or_else(|| case.best_temperature(), |t| t.0);
    let oven = wished.min(input.hottest.0);
    let lid = case.lid_for(oven);
    Ok(case.answer(oven, lid))
}

impl Case<'_> {
    fn answer(&self, oven: f64, lid: f64) -> BakeOutput {
        let mut met = self.run(oven, lid, FINE);
        let mut foil_on = first(&met.curve, |m| self.wanted.dark - m.lightness);
        if foil_on < met.end() - 3.0 {
            foil_on = foil_on.round();
            let covered = Surroundings { foil: foil_on, ..self.surroundings(oven, lid) };
            met = self.run_with(&self.loaf, &covered, FINE);
        } else {
            foil_on = f64::INFINITY;
        }
        let time = met.end();
        let (early, late) = self.spread(oven, lid, time);
        let end = at(&met.curve, time);
        let mut curve = met.curve.clone();
        curve.retain(|m| m.minutes < time);
        curve.push(end);
        BakeOutput {
            temperature: Celsius(oven),
            dial: self.dial(oven),
            time: Minutes(time),
            early: Minutes(early),
            late: Minutes(late),
            last: met.last(),
            core_at: met.core.is_finite().then_some(Minutes(met.core)),
            turn: (time >= 12.0 && lid == 0.0).then_some(Minutes((0.65 * time).round())),
            lid_off: (lid > 0.0).then_some(Minutes(lid)),
            foil_on: foil_on.is_finite().then_some(Minutes(foil_on)),
            core_target: Celsius(self.core_target),
            core: Celsius(end.core),
            lightness: end.lightness,
            colour: colour_word(end.lightness),
            golden: self.wanted.golden,
            colour_below: [colour_word(end.lightness_sides), colour_word(end.lightness_base)],
            loss: end.loss,
            loss_cooled: end.loss + self.steams(),
            baked: self.input.piece * (1.0 - (end.loss + self.steams()) / 100.0),
            hot: self.input.piece * (1.0 - end.loss / 100.0),
            boiling: Celsius(self.boiling),
            preheat: self.preheat(oven),
            size: self.size,
            spring: self.spring,
            cool: self.cool(),
            notes: self.notes(&met, oven, time),
            crust: self.crust(),
            cuts: self.cuts(oven, lid, foil_on, time),
            curve,
        }
    }

    /// No oven is set finer than five degrees, and no offset is known as finely; what the baker insists
    /// on stays as it is where there is nothing to correct.
    fn dial(&self, oven: f64) -> Celsius {
        let dial = oven - self.input.offset;
        Celsius(if self.input.offset.abs() < 0.5 { dial } else { 5.0 * (dial / 5.0).round() })
    }

    /// The time with what is least known at either end: the crumb's vapour transport and the
    /// speed of browning; at least a twentieth either way.
    fn spread(&self, oven: f64, lid: f64, time: f64) -> (f64, f64) {
        let with = |vapour: f64, browning: f64| {
            let mut loaf = self.loaf;
            loaf.material.vapour *= vapour / BREAD.vapour;
            loaf.browning *= browning;
            let met = self.run_with(&loaf, &self.surroundings(oven, lid), COARSE);
            met.end()
        };
        (with(0.75, 1.15).min(0.95 * time), with(0.65, 0.87).max(1.05 * time))
    }

    /// The loaf cut open at moments of the bake.
    fn cuts(&self, oven: f64, lid: f64, foil: f64, time: f64) -> Vec<Cut> {
        let around = Surroundings { foil, ..self.surroundings(oven, lid) };
        let mut bake = Bake::new(&self.loaf, &around, COARSE);
        (0..=CUTS)
            .map(|i| {
                let minutes = time * i as f64 / CUTS as f64;
                bake.on_to(minutes);
                let [top, sides, base] = bake.section(POINTS);
                Cut { minutes, top, sides, base }
            })
            .collect()
    }

    /// Minutes to heat oven and vessel before the loaf goes in.
    fn preheat(&self, oven: f64) -> Minutes {
        let vessel = self.input.oven.vessel;
        let hottest = self.input.oven.hot_start.map_or(oven, |h| h.temperature.0.max(oven));
        let heated = heats_up(self.input.preheat.0, self.input.room.0, hottest, vessel);
        Minutes(5.0 * (heated / 5.0).ceil())
    }

    /// Cooling on a rack before the cut: until the core is under 40 °C; rye sets overnight.
    fn cool(&self) -> Minutes {
        if self.input.style == Style::Rye && self.input.piece.0 > 300.0 {
            return Minutes(12.0 * 60.0);
        }
        let minutes = cools(&self.loaf, self.size, self.core_target, self.input.room.0);
        Minutes(5.0 * (minutes / 5.0).round())
    }

    /// What it loses as it cools, per cent of the dough: vapour carries off a part of the heat that the
    /// crumb gives up.
    fn steams(&self) -> f64 {
        let l = &self.loaf;
        let heat = (l.water * WATER_HEAT + l.solids * l.solids_heat) * (self.core_target - self.input.room.0);
        100.0 * STEAMS * heat / LATENT / (l.water + l.solids)
    }

    /// What keeps the crust as it should be (common practice, no source).
    fn crust(&self) -> &'static str {
        match self.input.style {
            Style::SoftRoll | Style::Braid => {
                "Soft crust: brush it with butter while it is hot, or lay a cloth over it as it cools."
            }
            Style::Tin | Style::GlutenFree => {
                "Out of the tin at once, or the crust sweats. For a soft crust lay a cloth over it."
            }
            _ => {
                "Crisp crust: leave it in the switched-off oven with the door ajar for five minutes, then cool it on a rack in the open."
            }
        }
    }

    fn notes(&self, met: &Met, oven: f64, time: f64) -> Vec<String> {
        let mut notes = Vec::new();
        if met.core.is_infinite() {
            notes.push(format!(
                "At {oven:.0} °C the core does not come to {:.0} °C within four hours. Use a hotter oven or smaller pieces.",
                self.core_target
            ));
        } else if met.colour.is_infinite() {
            notes.push(format!(
                "At {oven:.0} °C it stays {}. For a golden crust use a hotter oven, or a wash.",
                colour_word(at(&met.curve, time).lightness)
            ));
        }
        let late = met.colour - met.core;
        if met.colour.is_finite() && late > 0.3 * met.core && late > 5.0 {
            notes.push(format!(
                "The core is done after {:.0} min and the colour comes {late:.0} min later: it dries out. A hotter oven or a wash brings them together.",
                met.core
            ));
        }
        let end = self.input.hottest.0;
        if self.input.oven.temperature.is_some_and(|t| t.0 > end)
            || end < self.wanted.oven.1 && oven >= end - 0.5
        {
            notes.push(format!(
                "This oven ends at {end:.0} °C: that is what it bakes at. Heat it longer, and use a stone or a pot, which hold more."
            ));
        }
        let base = at(&met.curve, time).lightness_base;
        if base < TOO_DARK_BELOW {
            notes.push(format!(
                "Its base gets {}. Slide a cold tray under it for the last third, or lay it on two sheets of parchment.",
                colour_word(base)
            ));
        }
        let made = self.input.oven.made;
        let hottest = self.input.oven.hot_start.map_or(oven, |h| h.temperature.0.max(oven));
        if let Some(bears) = made.bears().filter(|t| *t < hottest) {
            notes.push(format!(
                "{} bears about {bears:.0} °C, and its maker's figure comes first: {hottest:.0} °C is too hot for it.",
                made.name()
            ));
        }
        if made == Made::Glass && self.input.start.0 < 12.0 {
            notes.push("Glass or stoneware from the fridge may crack in a hot oven. Let it come to room temperature first, or use metal.".into());
        }
        if self.input.oven.parchment && hottest > PARCHMENT_BEARS {
            notes.push(format!(
                "Parchment bears about {PARCHMENT_BEARS:.0} °C, and its packet's figure comes first: at {hottest:.0} °C it darkens and may catch. Trim it close, or dust with semolina instead."
            ));
        }
        // Ranges are whole fives of °C; a figure typed in °F lies up to three beside them.
        if oven < self.wanted.oven.0 - 3.0 || oven > self.wanted.oven.1 + 3.0 {
            notes.push(format!(
                "{oven:.0} °C is outside what is usual here: {:.0} to {:.0} °C.",
                self.wanted.oven.0, self.wanted.oven.1
            ));
        }
        if self.core_target < self.wanted.core {
            notes.push(format!(
                "Water boils at {:.1} °C here, so the core is done at {:.0} °C.",
                self.boiling, self.core_target
            ));
        }
        notes
    }
}

/// The moment at `minutes`, between kept moments by a straight line.
fn at(curve: &[BakeMoment], minutes: f64) -> BakeMoment {
    let i = curve.partition_point(|m| m.minutes < minutes).clamp(1, curve.len() - 1);
    let (a, b) = (curve[i - 1], curve[i]);
    let k = ((minutes - a.minutes) / (b.minutes - a.minutes)).clamp(0.0, 1.0);
    let mix = |x: f64, y: f64| x + k * (y - x);
    BakeMoment {
        minutes,
        oven: mix(a.oven, b.oven),
        core: mix(a.core, b.core),
        surface: mix(a.surface, b.surface),
        base: mix(a.base, b.base),
        loss: mix(a.loss, b.loss),
        lightness: mix(a.lightness, b.lightness),
        lightness_sides: mix(a.lightness_sides, b.lightness_sides),
        lightness_base: mix(a.lightness_base, b.lightness_base),
    }
}

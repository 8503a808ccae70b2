//! The oven's answer: temperature and minutes, lid, loss and preheating.

mod notes;
mod out;

use std::cell::Cell;

use super::answer::{BakeInput, BakeOutput, Cut, Last};
use super::around::Surroundings;
use super::baking::{Bake, BakeMoment};
use super::body::{BREAD, Body, Loaf, Material};
use super::physics::{DOUGH_LIGHTNESS, boiling_point, colour_word};
use super::setting::Setting;
use super::wanted::{Wanted, wanted};
use super::wish::OvenWish;
use crate::fault::{Check, Faults};
use crate::oven::heating::heats_up;
use crate::rise::DOUGH_DENSITY;
use crate::shape::{RING, Size};
use crate::units::{Celsius, Minutes};
use crate::words::{Kind, Vessel};

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

/// The body that stands for a box of dough in its pan: of slab and stick, both of which decay as the box does, that
/// whose volume to its surface is nearer to the box's.
fn boxed(size: Size) -> (Body, f64) {
    use std::f64::consts::PI;
    const FIRST_ROOT: f64 = 2.404_825_557_695_773;
    let inverse = |cm: f64| (100.0 / cm).powi(2);
    let decays = (inverse(size.width) + inverse(size.height) + inverse(size.length)).sqrt();
    let (slab, stick) = (0.5 / decays, FIRST_ROOT / (PI * decays));
    let (w, h, l) = (size.width / 100.0, size.height / 100.0, size.length / 100.0);
    let depth = w * h * l / (2.0 * (w * h + h * l + w * l));
    if (slab - depth).abs() < (0.5 * stick - depth).abs() {
        (Body::Slab, slab)
    } else {
        (Body::Cylinder, stick)
    }
}

/// Pores of a well-risen white loaf, to which the conductivities belong.
const OPEN_CRUMB: f64 = 0.66;

/// The power with which vapour transport falls as the pores do (fitted to dense and open breads; no source).
const CARRIES: f64 = 0.9;

/// How long a colour is waited for where the core is done at once, min (common practice, no source).
const WAITS: f64 = 12.0;

/// The least that is left open either way of a bake's minutes, as a share of them.
const LEAST_SPREAD: f64 = 0.12;

/// Conductivity of dough without pores, W/m K, without vapour transport: the geometric mean of its
/// water's 0.6 and its starch's 0.2 by their shares (both by Choi and Okos 1986, recalled).
const DENSE_CRUMB: f64 = 0.33;

/// Shells while searching, and for the answer.
const COARSE: usize = 16;

const FINE: usize = 32;

/// Cuts through the loaf after the first, and points from the middle to the surface of each.
const CUTS: usize = 24;

const POINTS: usize = 13;

/// The longest bake looked at, min.
const LONGEST: f64 = 240.0;

struct Case<'a> {
    input: &'a BakeInput,
    wanted: Wanted,
    /// Core at which it may come out when its crust is as dark as may be, and when it is just golden, °C.
    core: (f64, f64),
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
        let touching = input.bed.is_some_and(|b| b.pieces > 1);
        let mut wanted = wanted(input.style, input.kind, input.oven.vessel, touching);
        if input.dark {
            // Its crust is dark from the start, and tells nothing.
            wanted.golden = DOUGH_LIGHTNESS;
            let middle = 0.5 * (wanted.core.0 + wanted.core.1);
            wanted.core = (middle, middle);
        }
        if input.oven.foil_after.is_some() {
            // Foil keeps its colour as it is: that is not waited for.
            wanted.golden = DOUGH_LIGHTNESS;
        }
        let boiling = boiling_point(input.altitude);
        // Whole grain and rye spring less.
        let spring = 1.0 + (wanted.spring - 1.0) * (1.0 - 0.6 * input.whole_grain / 100.0).max(0.2);
        let ml = input.piece.0 / DOUGH_DENSITY * input.proofed_volume * spring;
        let (size, (shape, radius)) = match &input.bed {
            Some(bed) => {
                let free = input.kind.size(ml);
                let least = if bed.pieces > 1 { free.height } else { 0.0 };
                let size = bed.size(ml * f64::from(bed.pieces), least);
                (size, boxed(size))
            }
            None => {
                let size = input.kind.size(ml);
                (size, body(input.kind, size))
            }
        };
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
                vapour: BREAD.vapour * pores.powf(CARRIES),
                ..BREAD
            },
            browning: sweet.min(2.0),
        };
        let core = (wanted.core.0.min(boiling - 2.0), wanted.core.1.min(boiling - 2.0));
        Case { input, core, wanted, loaf, size, spring, boiling }
    }

    /// The core at which it comes out under a crust of this lightness: bakers wait for the upper end of the range
    /// while the crust is just golden, and take the loaf out at its lower end before it gets too dark.
    fn core_for(&self, lightness: f64) -> f64 {
        let (low, high) = self.core;
        let darkened = (self.wanted.golden - lightness) / (self.wanted.golden - self.wanted.dark);
        high - (high - low) * darkened.clamp(0.0, 1.0)
    }

    fn surroundings(&self, oven: f64, lid: f64) -> Surroundings {
        let i = self.input;
        let setting = Setting {
            plan: &i.oven,
            kind: i.kind,
            boxed: i.bed.is_some(),
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
            if m.core >= self.core_for(m.lightness) {
                core_at.set(core_at.get().min(m.minutes));
            }
            if let Some(own) = self.input.oven.minutes {
                return m.minutes >= own.0;
            }
            let done =
                core_at.get().is_finite() && m.lightness <= self.wanted.golden && m.loss >= self.wanted.loss;
            // A colour that will not come is not waited for past three times the core, or a little for what is thin.
            done || m.minutes >= (3.0 * core_at.get()).max(core_at.get() + WAITS)
        });
        Met {
            core: first(&curve, |m| m.core - self.core_for(m.lightness)),
            colour: first(&curve, |m| self.wanted.golden - m.lightness),
            loss: first(&curve, |m| m.loss - self.wanted.loss),
            curve,
        }
    }

    /// How the bake stands when the core is done: at what minute, and whether it has its colour.
    fn at_core(&self, oven: f64, lid: f64) -> (f64, bool) {
        // What comes out from under a lid is let darken half way to what its style bears.
        let wants =
            if lid > 0.0 { 0.5 * (self.wanted.golden + self.wanted.dark) } else { self.wanted.golden };
        let around = self.surroundings(oven, lid);
        let curve =
            Bake::new(&self.loaf, &around, COARSE).until(LONGEST, |m| m.core >= self.core_for(m.lightness));
        curve.last().map_or((0.0, false), |m| (m.minutes, m.lightness <= wants))
    }

    /// The lid's time for a pot: colour and core together, and off for at least the last fifth.
    fn lid_for(&self, oven: f64) -> f64 {
        if let Some(covered) = self.input.oven.covered.filter(|_| self.input.oven.vessel != Vessel::Lidded) {
            return covered.0;
        }
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
            return self.input.marks.nearest(Celsius(0.2 * low + 0.8 * high)).0;
        }
        for _ in 0..5 {
            let mid = 0.5 * (low + high);
            let (_, coloured) = self.at_core(mid, 0.0);
            if coloured { high = mid } else { low = mid }
        }
        self.input.marks.nearest(Celsius(0.5 * (low + high))).0
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
/// ```
/// # use cerealis_core::{formula::Formula, kitchen::Kitchen, pantry::Catalogue, stations::read, words::Style};
/// # let f = Formula::beginning("Weir loaf", Style::Tin);
/// # let now = "2026-03-07T08:00:00Z".parse().unwrap();
/// # let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
/// use cerealis_core::oven::bake;
/// // Twice the loaf takes longer, but not twice as long.
/// let mut large = s.bake_input.clone();
/// large.piece = large.piece * 2.0;
/// let long = bake(&large).unwrap();
/// assert!(long.time > s.bake.time && long.time.0 < 2.0 * s.bake.time.0);
/// ```
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
    if let Some(bed) = &input.bed {
        bed.check(&mut c, "bed");
    }
    c.range("altitude", "Altitude", input.altitude, -430.0, 4500.0, "m");
    if let Some(t) = input.oven.temperature {
        c.range("oven.temperature", "The oven temperature", t.0, 120.0, 300.0, "°C");
    }
    c.done(())?;
    let case = Case::new(input);
    let wished = input.oven.temperature.map_or_else(|| case.best_temperature(), |t| t.0);
    let oven = wished.min(input.hottest.0);
    let lid = case.lid_for(oven);
    let mut answer = case.answer(oven, lid);
    if input.oven.minutes.is_some() {
        let found = BakeInput { oven: OvenWish { minutes: None, ..input.oven }, ..input.clone() };
        answer.found = Some(Minutes(Case::new(&found).run(oven, lid, COARSE).end()));
    }
    Ok(answer)
}

impl Case<'_> {
    fn answer(&self, oven: f64, lid: f64) -> BakeOutput {
        let mut met = self.run(oven, lid, FINE);
        let own_foil = self.input.oven.foil_after.map(|m| m.0);
        let mut foil_on = own_foil.unwrap_or_else(|| first(&met.curve, |m| self.wanted.dark - m.lightness));
        if own_foil.is_some_and(|at| at < met.end()) {
            // It was baked so already.
        } else if foil_on < met.end() - 3.0 {
            foil_on = foil_on.round();
            let covered = Surroundings { foil: foil_on, ..self.surroundings(oven, lid) };
            met = self.run_with(&self.loaf, &covered, FINE);
        } else {
            foil_on = f64::INFINITY;
        }
        let time = self.input.oven.minutes.map_or_else(|| met.end(), |m| m.0);
        let (early, late) =
            if self.input.oven.minutes.is_some() { (time, time) } else { self.spread(oven, lid, time) };
        let end = at(&met.curve, time);
        let wants = self.core_for(end.lightness);
        // Between two moments the core is found by a straight line, and may fall short by a hair.
        let core_target = if met.core.is_finite() { wants.min(end.core) } else { wants };
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
            found: None,
            lid_off: (lid > 0.0 && lid < time).then_some(Minutes(lid)),
            foil_off: self.input.oven.foiled.filter(|m| m.0 < time),
            foil_on: foil_on.is_finite().then_some(Minutes(foil_on)),
            core_target: Celsius(core_target),
            core: Celsius(end.core),
            lightness: end.lightness,
            colour: colour_word(end.lightness),
            golden: self.wanted.golden,
            darkest: self.wanted.dark,
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

    /// No oven is set finer than its marks, and no offset is known as finely; what the baker insists
    /// on stays as it is where there is nothing to correct.
    fn dial(&self, oven: f64) -> Celsius {
        let dial = oven - self.input.offset;
        if self.input.offset.abs() < 0.5 { Celsius(dial) } else { self.input.marks.nearest(Celsius(dial)) }
    }

    /// The time with what is least known at either end: the crumb's vapour transport and the
    /// speed of browning; at least an eighth either way, which covers the middle of eight in ten of the practice cases.
    fn spread(&self, oven: f64, lid: f64, time: f64) -> (f64, f64) {
        let with = |vapour: f64, browning: f64| {
            let mut loaf = self.loaf;
            loaf.material.vapour *= vapour / BREAD.vapour;
            loaf.browning *= browning;
            let met = self.run_with(&loaf, &self.surroundings(oven, lid), COARSE);
            met.end()
        };
        (with(0.75, 1.15).min((1.0 - LEAST_SPREAD) * time), with(0.65, 0.87).max((1.0 + LEAST_SPREAD) * time))
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
        let heated = self.input.oven.heated_to.map_or(oven, |t| t.0);
        let hottest = self.input.oven.hot_start.map_or(heated, |h| h.temperature.0.max(heated));
        let heated = heats_up(self.input.preheat.0, self.input.room.0, hottest, vessel);
        Minutes(5.0 * (heated / 5.0).ceil())
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

//! The loaf in the oven: a balance of heat and water by finite volumes.
//!
//! The loaf is a ball, a cylinder or a slab of shells. Its outer shells are split into top, sides and
//! base, each with its own surroundings; the inner ones are whole, so that heat finds its way round.

use schemars::JsonSchema;
use serde::Serialize;

use super::around::Surroundings;
use super::body::{FACES, Loaf};
use super::physics::{DOUGH_LIGHTNESS, LATENT, SEA_LEVEL, VapourTable, browning_rate, saturation};

/// A moment of the bake.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BakeMoment {
    /// Minutes in the oven.
    pub minutes: f64,
    /// Oven temperature, °C.
    pub oven: f64,
    /// Core temperature, °C.
    pub core: f64,
    /// Surface temperature of the top, °C.
    pub surface: f64,
    /// Surface temperature of the base, °C.
    pub base: f64,
    /// Loss of weight so far, per cent of the dough.
    pub loss: f64,
    /// Lightness of the crust on top, 85 (dough) downwards.
    pub lightness: f64,
    /// Lightness of the sides.
    pub lightness_sides: f64,
    /// Lightness of the base.
    pub lightness_base: f64,
}

/// Convection under a lid against the open oven.
const LID_CONVECTION: f64 = 0.6;

/// Browning under a lid, under foil or in steam against the open oven.
const LID_BROWNING: f64 = 0.1;

/// Radiation that gets past a sheet of foil (common practice, no source).
const FOIL_RADIATION: f64 = 0.35;

/// Vapour pressure in the air of a closed household oven with bread in it, Pa.
const OVEN_VAPOUR: f64 = 0.35 * SEA_LEVEL;

/// Heat capacity of the oven's air per volume, J/m³ K: with convection it gives the speed at which
/// vapour leaves the surface (Lewis's relation).
const AIR_HEAT: f64 = 760.0;

/// Convection at which vapour creeps out between crust and wall, W/m² K.
const CREEPS: f64 = 4.0;

/// Gas constant of water vapour, J/kg K.
const VAPOUR_GAS: f64 = 461.5;

/// Share of its water below which the outermost shell begins to colour, fully at none.
const CRUST_BELOW: f64 = 0.6;

/// How much the shells narrow towards the crust, where temperature changes fastest.
const NARROWING: f64 = 1.6;

/// Minutes between the moments that are kept.
const KEPT_EVERY: f64 = 0.25;

/// One shell, or one face's part of an outer shell.
#[derive(Clone, Copy, Debug)]
struct Cell {
    /// Half its width, m.
    half: f64,
    /// Area of its inner face.
    inner: f64,
    /// Its volume.
    volume: f64,
    /// The cell inside it; its own index for the middle.
    inside: usize,
    /// Temperature, °C.
    t: f64,
    /// Water, kg/m³ of loaf.
    water: f64,
    /// Conductance through its inner face, W/K.
    conducts: f64,
}

/// One face while it bakes.
#[derive(Clone, Copy, Debug)]
struct Skin {
    /// Its outermost cell.
    cell: usize,
    /// Its area.
    area: f64,
    /// Surface temperature, °C.
    surface: f64,
    /// Temperature of the wall before it, °C.
    wall: f64,
    /// What heats the surface, °C: the wall, or the oven.
    source: f64,
    /// Conductance from there to the outermost cell, W/K.
    conducts: f64,
    lightness: f64,
}

/// The loaf while it bakes. Volumes and areas are per unit of the body's free directions.
///
/// Conduction is solved implicitly, so that thin shells under the crust do not force short steps.
/// A shell that boils is held at the boiling point; what heat reaches it then dries it.
pub struct Bake<'a> {
    loaf: &'a Loaf,
    around: &'a Surroundings,
    vapour: &'static VapourTable,
    /// From the middle outwards, the faces beside each other; each after the one inside it.
    cells: Vec<Cell>,
    /// How many of them are whole shells.
    whole: usize,
    skins: [Skin; 3],
    sweep: Vec<f64>,
    before: Vec<f64>,
    reached: Vec<f64>,
    pivot: Vec<f64>,
    outward: Vec<(f64, f64)>,
    /// One over the water that it went in with, m³/kg, and over the conductivity of dry crust, m K/W.
    per_water: f64,
    per_crust: f64,
    step: f64,
    seconds: f64,
    /// Heat taken up through the surface so far, J per unit of free direction.
    pub heat_in: f64,
}

impl<'a> Bake<'a> {
    /// The loaf goes in. `cells` is the number of shells, at least 4.
    pub fn new(loaf: &'a Loaf, around: &'a Surroundings, cells: usize) -> Self {
        let n = cells.max(4);
        let whole = n / 2;
        let s = loaf.body.exponent();
        let face = |i: usize| loaf.radius * (1.0 - (1.0 - i as f64 / n as f64).powf(NARROWING));
        let cell = |i: usize, share: f64, inside: usize| Cell {
            half: 0.5 * (face(i + 1) - face(i)),
            inner: share * face(i).powi(s),
            volume: share * (face(i + 1).powi(s + 1) - face(i).powi(s + 1)) / f64::from(s + 1),
            inside,
            t: loaf.start,
            water: loaf.water,
            conducts: 0.0,
        };
        // A face that is not there keeps a trace, so that its balance has an answer.
        let shares = around.faces.map(|f| f.share.max(1e-9));
        let mut all: Vec<Cell> = (0..whole).map(|i| cell(i, 1.0, i.saturating_sub(1))).collect();
        // Depth by depth, the three faces beside each other: none waits for another's arithmetic.
        for i in whole..n {
            for share in shares {
                let inside = if i == whole { whole - 1 } else { all.len() - FACES.len() };
                all.push(cell(i, share, inside));
            }
        }
        let count = all.len();
        let skins = std::array::from_fn(|face| {
            let start = around.faces[face].wall.map_or(loaf.start, |w| w.start);
            Skin {
                cell: count - FACES.len() + face,
                area: shares[face] * loaf.radius.powi(s),
                surface: loaf.start,
                wall: start,
                source: start,
                conducts: 0.0,
                lightness: DOUGH_LIGHTNESS,
            }
        });
        Bake {
            loaf,
            around,
            vapour: VapourTable::get(),
            cells: all,
            whole,
            skins,
            sweep: vec![0.0; count],
            before: vec![0.0; count],
            reached: vec![0.0; count],
            pivot: vec![0.0; count],
            outward: vec![(0.0, 0.0); count],
            // Fine shells are asked for where the answer should be fine: shorter steps go with them.
            step: (96.0 / n as f64).clamp(1.0, 6.0),
            per_water: 1.0 / loaf.water,
            per_crust: 1.0 / loaf.material.crust,
            seconds: 0.0,
            heat_in: 0.0,
        }
    }

    /// Resistances of a cell inwards and outwards from its temperature, m² K/W.
    ///
    /// While a shell boils, its temperature is that of the drying front, which moves through it
    /// from the outer face to the inner one and leaves dry crust behind.
    fn resistances(&self, c: &Cell) -> (f64, f64) {
        let m = &self.loaf.material;
        if !m.evaporates {
            return (c.half / m.crumb, c.half / m.crumb);
        }
        let moist = m.crumb + m.vapour * self.vapour.at(c.t.min(self.around.boiling));
        // A division costs as much as all the rest: those by constants are done once.
        let moisture = c.water * self.per_water;
        let (moist, dry) = (c.half * moisture / moist, c.half * (1.0 - moisture) * self.per_crust);
        if self.boils(c) {
            return (2.0 * moist, 2.0 * dry);
        }
        (moist + dry, moist + dry)
    }

    /// Heat capacity of a cell, J/K.
    fn capacity(&self, c: &Cell) -> f64 {
        c.volume * (self.loaf.solids * self.loaf.solids_heat + c.water * WATER_HEAT)
    }

    fn boils(&self, c: &Cell) -> bool {
        self.loaf.material.evaporates && c.water > 0.0 && c.t >= self.around.boiling
    }

    fn covered(&self, face: usize) -> bool {
        face < 2 && self.seconds < 60.0 * self.around.lid
    }

    fn foiled(&self, face: usize) -> bool {
        face == 0 && (self.seconds >= 60.0 * self.around.foil || self.seconds < 60.0 * self.around.foiled)
    }

    /// Conductances between the cells, and from what heats each face.
    fn conduct(&mut self, dt: f64) {
        // The outward resistance of each cell serves all that lie around it.
        for i in 0..self.cells.len() {
            let (inward, outward) = self.resistances(&self.cells[i]);
            self.outward[i].0 = outward;
            let c = &self.cells[i];
            let below = self.outward[c.inside].0;
            let conducts = if i == 0 { 0.0 } else { c.inner / (below + inward) };
            self.cells[i].conducts = conducts;
        }
        let oven = self.around.heat.at(self.seconds / 60.0);
        for (face, outside) in self.around.faces.iter().enumerate() {
            let convection = if self.covered(face) { LID_CONVECTION } else { 1.0 };
            let radiation = if self.foiled(face) { FOIL_RADIATION } else { 1.0 };
            let below = self.outward[self.skins[face].cell].0;
            let skin = &mut self.skins[face];
            let (source, gives) = match outside.wall {
                Some(w) => {
                    let heats = outside.heats(oven, skin.wall, convection, radiation);
                    let store = w.holds / dt;
                    // The wall stands between the oven and the face, and holds heat of its own.
                    skin.wall = (store * skin.wall + heats * oven + w.contact * skin.surface)
                        / (store + heats + w.contact);
                    (skin.wall, w.contact)
                }
                None => (oven, outside.heats(oven, skin.surface, convection, radiation)),
            };
            let out = 1.0 / gives.max(1e-9);
            skin.source = source;
            skin.conducts = skin.area / (below + out);
            // The surface lies between the last cell and the source as their resistances do.
            let t = self.cells[skin.cell].t;
            skin.surface = t + below / (below + out) * (source - t);
        }
    }

    /// Advances by `dt` seconds.
    fn advance(&mut self, dt: f64) {
        self.conduct(dt);
        self.warm(dt);
        self.brown(dt);
        self.seconds += dt;
    }

    /// Solves the balance of heat for the end of the step, then lets boiling shells dry.
    ///
    /// The cells are a tree with its root in the middle: each is eliminated after those around it,
    /// from the crust inwards, and found after the one inside it.
    fn warm(&mut self, dt: f64) {
        let n = self.cells.len();
        let boiling = self.around.boiling;
        let per_second = 1.0 / dt;
        for i in 0..n {
            let c = &self.cells[i];
            self.before[i] = c.t;
            let store = self.capacity(c) * per_second;
            self.pivot[i] = store + c.conducts;
            self.reached[i] = store * c.t;
        }
        for s in &self.skins {
            self.pivot[s.cell] += s.conducts;
            self.reached[s.cell] += s.conducts * s.source;
        }
        for i in (0..n).rev() {
            let c = self.cells[i];
            if self.boils(&c) {
                self.sweep[i] = 0.0;
                self.reached[i] = boiling;
            } else {
                let per_pivot = 1.0 / self.pivot[i];
                self.sweep[i] = c.conducts * per_pivot;
                self.reached[i] *= per_pivot;
            }
            if i > 0 {
                self.pivot[c.inside] += c.conducts * (1.0 - self.sweep[i]);
                self.reached[c.inside] += c.conducts * self.reached[i];
            }
        }
        for i in 1..n {
            self.reached[i] += self.sweep[i] * self.reached[self.cells[i].inside];
        }
        for s in &self.skins {
            self.heat_in += s.conducts * (s.source - self.reached[s.cell]) * dt;
        }
        if self.loaf.material.evaporates {
            self.dry(dt);
        } else {
            for (c, t) in self.cells.iter_mut().zip(&self.reached) {
                c.t = *t;
            }
        }
    }

    /// Turns the heat that a boiling shell took up, or that brought one over the boiling point,
    /// into vapour.
    fn dry(&mut self, dt: f64) {
        let boiling = self.around.boiling;
        // What earlier shells leave over, J, and heat that reaches each cell, W; what passes between two
        // is taken once.
        self.outward.fill((0.0, 0.0));
        for i in 1..self.cells.len() {
            let c = &self.cells[i];
            let passes = c.conducts * (self.reached[i] - self.reached[c.inside]);
            self.outward[c.inside].1 += passes;
            self.outward[i].1 -= passes;
        }
        for s in &self.skins {
            self.outward[s.cell].1 += s.conducts * (s.source - self.reached[s.cell]);
        }
        // From the crust inwards: what a shell's last water leaves over of its heat goes to the front's
        // next place, the shell inside it. In the dry shell itself it would be a spike of heat.
        for i in (0..self.cells.len()).rev() {
            let (c, reached) = (self.cells[i], self.reached[i]);
            let held = self.before[i] >= boiling;
            let left = self.outward[i].0;
            if c.water <= 0.0 {
                self.cells[i].t = reached + left / self.capacity(&c);
                continue;
            }
            let brought = if held { self.outward[i].1 * dt } else { (reached - boiling) * self.capacity(&c) };
            let spare = brought + left;
            if spare < 0.0 {
                self.cells[i].t = boiling + spare / self.capacity(&c);
                continue;
            }
            let boiled = (spare / LATENT).min(c.water * c.volume);
            let rest = spare - boiled * LATENT;
            self.cells[i].water = c.water - boiled / c.volume;
            self.cells[i].t = boiling;
            if i > 0 {
                self.outward[c.inside].0 += rest;
            }
        }
    }

    /// Water activity of the outermost crust of a face: the vapour pressure just outside it over that
    /// of water at its temperature. The steam that the heat drives out thickens the air there.
    fn crust_activity(&self, face: usize) -> f64 {
        let s = &self.skins[face];
        let flux = s.conducts * (s.source - self.cells[s.cell].t) / s.area.max(1e-12);
        let outside = &self.around.faces[face];
        let leaving = if outside.wall.is_some() { CREEPS } else { outside.convection.max(CREEPS) } / AIR_HEAT;
        let above = flux.max(0.0) / LATENT / leaving * VAPOUR_GAS * (s.surface + 273.15);
        let saturated = saturation(s.surface);
        (OVEN_VAPOUR + above).min(SEA_LEVEL).min(0.9 * saturated) / saturated
    }

    fn brown(&mut self, dt: f64) {
        let steamed = self.seconds < 60.0 * self.around.steam;
        for face in 0..3 {
            let s = self.skins[face];
            let outermost = self.cells[s.cell].water / self.loaf.water;
            let dryness = ((CRUST_BELOW - outermost) / CRUST_BELOW).clamp(0.0, 1.0);
            if dryness == 0.0 {
                continue;
            }
            let held_back = self.covered(face) || self.foiled(face) || (steamed && face < 2);
            let slowed = if held_back { LID_BROWNING } else { 1.0 };
            let rate =
                browning_rate(s.surface, self.crust_activity(face)) * dryness * slowed * self.loaf.browning;
            self.skins[face].lightness *= (-rate * dt / 60.0).exp();
        }
    }

    /// Core temperature now, °C.
    pub fn core(&self) -> f64 {
        self.cells[0].t
    }

    /// Loss of weight so far, per cent of the dough.
    pub fn loss(&self) -> f64 {
        let whole: f64 =
            self.cells.iter().map(|c| c.volume).sum::<f64>() * (self.loaf.water + self.loaf.solids);
        let gone: f64 = self.cells.iter().map(|c| (self.loaf.water - c.water) * c.volume).sum();
        100.0 * gone / whole
    }

    #[cfg(test)]
    /// Heat held over the start, sensible and latent, J per unit of free direction.
    pub fn heat_held(&self) -> f64 {
        let dry = self.loaf.solids * self.loaf.solids_heat;
        self.cells
            .iter()
            .map(|c| {
                let gone = self.loaf.water - c.water;
                let sensible = (dry + c.water * WATER_HEAT) * (c.t - self.loaf.start);
                // The water that left was warmed to the boiling point first.
                let left = gone * (WATER_HEAT * (self.around.boiling - self.loaf.start) + LATENT);
                c.volume * (sensible + left)
            })
            .sum()
    }

    /// The present moment.
    pub fn moment(&self) -> BakeMoment {
        BakeMoment {
            minutes: self.seconds / 60.0,
            oven: self.around.heat.at(self.seconds / 60.0),
            core: self.core(),
            surface: self.skins[0].surface,
            base: self.skins[2].surface,
            loss: self.loss(),
            lightness: self.skins[0].lightness,
            lightness_sides: self.skins[1].lightness,
            lightness_base: self.skins[2].lightness,
        }
    }

    /// Bakes on to `minutes` in all.
    pub fn on_to(&mut self, minutes: f64) {
        while self.seconds < minutes * 60.0 - 1e-9 {
            let dt = self.step.min(minutes * 60.0 - self.seconds);
            self.advance(dt);
        }
    }

    /// Bakes until `done` or for `minutes`, keeping a moment every quarter of a minute.
    pub fn until(mut self, minutes: f64, done: impl Fn(&BakeMoment) -> bool) -> Vec<BakeMoment> {
        let mut moments = vec![self.moment()];
        let mut next = 0.0;
        while next < minutes {
            next += KEPT_EVERY;
            self.on_to(next);
            let m = self.moment();
            moments.push(m);
            if done(&m) {
                break;
            }
        }
        moments
    }

    /// Temperatures from the middle (0) to the surface (1) of each face, at `points` equal steps of
    /// the radius, °C.
    pub fn section(&self, points: usize) -> [Vec<f64>; 3] {
        std::array::from_fn(|face| {
            let mut at: Vec<(f64, f64)> = vec![(0.0, self.core())];
            let mut r = 0.0;
            let branch = (self.whole + face..self.cells.len()).step_by(FACES.len());
            for i in (0..self.whole).chain(branch) {
                let c = &self.cells[i];
                at.push(((r + c.half) / self.loaf.radius, c.t));
                r += 2.0 * c.half;
            }
            at.push((1.0, self.skins[face].surface));
            (0..points)
                .map(|p| {
                    let x = p as f64 / (points - 1).max(1) as f64;
                    let i = at.partition_point(|a| a.0 < x).clamp(1, at.len() - 1);
                    let (a, b) = (at[i - 1], at[i]);
                    let k = if b.0 > a.0 { ((x - a.0) / (b.0 - a.0)).clamp(0.0, 1.0) } else { 1.0 };
                    a.1 + k * (b.1 - a.1)
                })
                .collect()
        })
    }
}

/// Heat capacity of water in the loaf, J/kg K.
pub const WATER_HEAT: f64 = 4180.0;

#[cfg(test)]
mod tests;

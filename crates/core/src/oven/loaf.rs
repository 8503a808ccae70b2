//! The loaf in the oven: a one-dimensional balance of heat and water by finite volumes.

use std::sync::OnceLock;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::physics::*;

/// The ideal body that stands for the loaf.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Body {
    /// A round or a roll.
    Sphere,
    /// A tin, a bâtard, a plait.
    Cylinder,
    /// A flat bake, heated from both faces.
    Slab,
}

impl Body {
    /// Exponent of the radius in a face's area.
    fn exponent(self) -> i32 {
        match self {
            Body::Sphere => 2,
            Body::Cylinder => 1,
            Body::Slab => 0,
        }
    }
}

/// How heat moves in the crumb and crust.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Material {
    /// Conductivity of moist crumb without vapour transport, W/m K.
    pub crumb: f64,
    /// What evaporation and condensation in the pores add at the boiling point, W/m K.
    pub vapour: f64,
    /// Conductivity of dry crust, W/m K.
    pub crust: f64,
    /// Whether water boils off; without, this is pure conduction.
    pub evaporates: bool,
}

/// Bread: 0.25 W/m K and 0.65 to 0.75 more at the boiling point; dry crust 0.07.
pub const BREAD: Material = Material { crumb: 0.25, vapour: 0.70, crust: 0.07, evaporates: true };

/// The loaf as it goes in, at the size it has after oven spring.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Loaf {
    /// The body that stands for it.
    pub body: Body,
    /// Its radius, or half its thickness, in m.
    pub radius: f64,
    /// Water in kg per m³ of loaf.
    pub water: f64,
    /// Everything else in kg per m³ of loaf.
    pub solids: f64,
    /// Heat capacity of that, J/kg K.
    pub solids_heat: f64,
    /// Temperature when it goes in, °C.
    pub start: f64,
    /// How heat moves in it.
    pub material: Material,
    /// How fast its crust colours against a lean dough.
    pub browning: f64,
}

/// What surrounds the loaf.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Surroundings {
    /// Oven temperature, °C.
    pub oven: f64,
    /// Convection, W/m² K.
    pub convection: f64,
    /// Emissivity for radiation from walls at oven temperature; 0 leaves radiation out.
    pub emissivity: f64,
    /// Boiling point, °C.
    pub boiling: f64,
    /// Minutes under a lid, from the start.
    pub lid: f64,
    /// Minutes of steam, from the start.
    pub steam: f64,
    /// Minute from which it is covered with foil; infinite for never.
    pub foil: f64,
}

impl Surroundings {
    /// A still oven at sea level without lid, steam or foil, for a loaf 20 cm wide.
    pub fn still(oven: f64) -> Self {
        Surroundings {
            oven,
            convection: 10.0,
            emissivity: 0.9,
            boiling: 100.0,
            lid: 0.0,
            steam: 0.0,
            foil: f64::INFINITY,
        }
    }
}

/// A moment of the bake.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BakeMoment {
    /// Minutes in the oven.
    pub minutes: f64,
    /// Core temperature, °C.
    pub core: f64,
    /// Surface temperature, °C.
    pub surface: f64,
    /// Loss of weight so far, per cent of the dough.
    pub loss: f64,
    /// Lightness of the crust, 85 (dough) downwards.
    pub lightness: f64,
}

/// Convection under a lid against the open oven.
const LID_CONVECTION: f64 = 0.6;
/// Browning under a lid, under foil or in steam against the open oven.
const LID_BROWNING: f64 = 0.1;
/// Vapour pressure in the air of a closed household oven with bread in it, Pa.
const OVEN_VAPOUR: f64 = 0.35 * SEA_LEVEL;
/// Heat capacity of the oven's air per volume, J/m³ K: with convection it gives the speed at which
/// vapour leaves the surface (Lewis's relation).
const AIR_HEAT: f64 = 760.0;
/// Gas constant of water vapour, J/kg K.
const VAPOUR_GAS: f64 = 461.5;
/// Share of its water below which the outermost shell begins to colour, fully at none.
const CRUST_BELOW: f64 = 0.6;
/// How much the shells narrow towards the crust, where temperature changes fastest.
const NARROWING: f64 = 1.6;
/// Minutes between the moments that are kept.
const KEPT_EVERY: f64 = 0.25;

/// Saturation pressure over standard pressure on a grid of half degrees, 0 to 130 °C: the
/// exponential would be most of the cost of a step.
struct VapourTable([f64; 261]);

impl VapourTable {
    fn get() -> &'static VapourTable {
        static TABLE: OnceLock<VapourTable> = OnceLock::new();
        TABLE.get_or_init(|| {
            VapourTable(std::array::from_fn(|i| (saturation(0.5 * i as f64) / SEA_LEVEL).min(1.0)))
        })
    }

    fn at(&self, t: f64) -> f64 {
        let x = (2.0 * t).clamp(0.0, 259.0);
        let i = x as usize;
        self.0[i] + (x - i as f64) * (self.0[i + 1] - self.0[i])
    }
}

/// The loaf while it bakes. Volumes and areas are per unit of the body's free directions.
///
/// Conduction is solved implicitly, so that thin shells under the crust do not force short steps.
/// A shell that boils is held at the boiling point; what heat reaches it then dries it.
pub struct Bake<'a> {
    loaf: &'a Loaf,
    around: &'a Surroundings,
    vapour: &'static VapourTable,
    /// Half the width of each shell, m.
    half: Vec<f64>,
    /// Area of each shell's outer face.
    faces: Vec<f64>,
    volumes: Vec<f64>,
    t: Vec<f64>,
    water: Vec<f64>,
    conductance: Vec<f64>,
    sweep: Vec<f64>,
    before: Vec<f64>,
    reached: Vec<f64>,
    step: f64,
    surface: f64,
    lightness: f64,
    seconds: f64,
    /// Heat taken up through the surface so far, J per unit of free direction.
    pub heat_in: f64,
}

impl<'a> Bake<'a> {
    /// The loaf goes in. `cells` is the number of shells, at least 4.
    pub fn new(loaf: &'a Loaf, around: &'a Surroundings, cells: usize) -> Self {
        let n = cells.max(4);
        let s = loaf.body.exponent();
        let face = |i: usize| loaf.radius * (1.0 - (1.0 - i as f64 / n as f64).powf(NARROWING));
        let volume = |i: usize| (face(i + 1).powi(s + 1) - face(i).powi(s + 1)) / f64::from(s + 1);
        Bake {
            loaf,
            around,
            vapour: VapourTable::get(),
            half: (0..n).map(|i| 0.5 * (face(i + 1) - face(i))).collect(),
            faces: (0..n).map(|i| face(i + 1).powi(s)).collect(),
            volumes: (0..n).map(volume).collect(),
            t: vec![loaf.start; n],
            water: vec![loaf.water; n],
            conductance: vec![0.0; n],
            sweep: vec![0.0; n],
            before: vec![0.0; n],
            reached: vec![0.0; n],
            // Fine shells are asked for where the answer should be fine: shorter steps go with them.
            step: (96.0 / n as f64).clamp(1.0, 6.0),
            surface: loaf.start,
            lightness: DOUGH_LIGHTNESS,
            seconds: 0.0,
            heat_in: 0.0,
        }
    }

    /// Resistances of shell `i` inwards and outwards from its temperature, m² K/W.
    ///
    /// While a shell boils, its temperature is that of the drying front, which moves through it
    /// from the outer face to the inner one and leaves dry crust behind.
    fn resistances(&self, i: usize) -> (f64, f64) {
        let m = &self.loaf.material;
        if !m.evaporates {
            return (self.half[i] / m.crumb, self.half[i] / m.crumb);
        }
        let moist = m.crumb + m.vapour * self.vapour.at(self.t[i].min(self.around.boiling));
        let dry = 1.0 - self.water[i] / self.loaf.water;
        if self.boils(i) {
            return (2.0 * self.half[i] * (1.0 - dry) / moist, 2.0 * self.half[i] * dry / m.crust);
        }
        let through = self.half[i] * (dry / m.crust + (1.0 - dry) / moist);
        (through, through)
    }

    /// Heat capacity of shell `i`, J/K.
    fn capacity(&self, i: usize) -> f64 {
        self.volumes[i] * (self.loaf.solids * self.loaf.solids_heat + self.water[i] * WATER_HEAT)
    }

    fn boils(&self, i: usize) -> bool {
        self.loaf.material.evaporates && self.water[i] > 0.0 && self.t[i] >= self.around.boiling
    }

    /// Conductances through the outer face of each shell, W/K; the last leads to the oven.
    fn conduct(&mut self, covered: bool) {
        let n = self.t.len();
        let (_, mut below) = self.resistances(0);
        for i in 1..n {
            let (inward, outward) = self.resistances(i);
            self.conductance[i - 1] = self.faces[i - 1] / (below + inward);
            below = outward;
        }
        let convection = self.around.convection * if covered { LID_CONVECTION } else { 1.0 };
        let (to, tk) = (self.around.oven + 273.15, self.surface + 273.15);
        let radiation = self.around.emissivity * STEFAN * (to + tk) * (to * to + tk * tk);
        let outside = convection + radiation;
        self.conductance[n - 1] = self.faces[n - 1] / (below + 1.0 / outside);
        // The surface lies between the last shell and the oven as their resistances do.
        let share = below / (below + 1.0 / outside);
        self.surface = self.t[n - 1] + share * (self.around.oven - self.t[n - 1]);
    }

    /// Advances by `dt` seconds.
    fn advance(&mut self, dt: f64) {
        let minutes = self.seconds / 60.0;
        let covered = minutes < self.around.lid;
        self.conduct(covered);
        self.warm(dt);
        let held_back = covered || minutes < self.around.steam || minutes >= self.around.foil;
        self.brown(dt, held_back);
        self.seconds += dt;
    }

    /// Solves the balance of heat for the end of the step, then lets boiling shells dry.
    fn warm(&mut self, dt: f64) {
        let n = self.t.len();
        let (boiling, oven) = (self.around.boiling, self.around.oven);
        self.before.copy_from_slice(&self.t);
        // Tridiagonal system by elimination from the middle outwards; `sweep` keeps the factors
        // and `t` the right-hand side.
        for i in 0..n {
            let outward = self.conductance[i];
            let inward = if i > 0 { self.conductance[i - 1] } else { 0.0 };
            if self.boils(i) {
                self.sweep[i] = 0.0;
                self.t[i] = boiling;
                continue;
            }
            let store = self.capacity(i) / dt;
            let (factor, known) = if i > 0 { (self.sweep[i - 1], self.t[i - 1]) } else { (0.0, 0.0) };
            let pivot = store + inward * (1.0 - factor) + outward;
            self.sweep[i] = outward / pivot;
            self.t[i] = (store * self.before[i] + inward * known) / pivot;
        }
        let mut above = oven;
        for i in (0..n).rev() {
            self.t[i] += self.sweep[i] * above;
            above = self.t[i];
        }
        self.heat_in += self.conductance[n - 1] * (oven - self.t[n - 1]) * dt;
        if self.loaf.material.evaporates {
            self.dry(dt);
        }
    }

    /// Turns the heat that a boiling shell took up, or that brought one over the boiling point,
    /// into vapour.
    fn dry(&mut self, dt: f64) {
        let n = self.t.len();
        let boiling = self.around.boiling;
        self.reached.copy_from_slice(&self.t);
        for i in 0..n {
            if self.water[i] <= 0.0 {
                continue;
            }
            let held = self.before[i] >= boiling;
            let reached = self.reached[i];
            if !held && reached <= boiling {
                continue;
            }
            let spare = if held {
                let outer = if i + 1 < n { self.reached[i + 1] } else { self.around.oven };
                let inward =
                    if i > 0 { self.conductance[i - 1] * (self.reached[i - 1] - reached) } else { 0.0 };
                (self.conductance[i] * (outer - reached) + inward) * dt
            } else {
                (reached - boiling) * self.capacity(i)
            };
            let dry = self.volumes[i] * self.loaf.solids * self.loaf.solids_heat;
            if spare < 0.0 {
                self.t[i] = boiling + spare / self.capacity(i);
                continue;
            }
            let boiled = (spare / LATENT).min(self.water[i] * self.volumes[i]);
            self.water[i] -= boiled / self.volumes[i];
            let rest = spare - boiled * LATENT;
            self.t[i] = boiling + rest / (dry + self.water[i] * self.volumes[i] * WATER_HEAT);
        }
    }

    /// Water activity of the outermost crust: the vapour pressure just outside it over that of
    /// water at its temperature. The steam that the heat drives out thickens the air there.
    fn crust_activity(&self) -> f64 {
        let n = self.t.len();
        let flux = self.conductance[n - 1] * (self.around.oven - self.t[n - 1]) / self.faces[n - 1];
        let leaving = self.around.convection / AIR_HEAT;
        let above = flux.max(0.0) / LATENT / leaving * VAPOUR_GAS * (self.surface + 273.15);
        (OVEN_VAPOUR + above).min(SEA_LEVEL).min(0.9 * saturation(self.surface)) / saturation(self.surface)
    }

    fn brown(&mut self, dt: f64, held_back: bool) {
        let outermost = self.water[self.water.len() - 1] / self.loaf.water;
        let dryness = ((CRUST_BELOW - outermost) / CRUST_BELOW).clamp(0.0, 1.0);
        let slowed = if held_back { LID_BROWNING } else { 1.0 };
        let rate = browning_rate(self.surface, self.crust_activity()) * dryness * slowed * self.loaf.browning;
        self.lightness *= (-rate * dt / 60.0).exp();
    }

    /// Core temperature now, °C.
    pub fn core(&self) -> f64 {
        self.t[0]
    }

    /// Loss of weight so far, per cent of the dough.
    pub fn loss(&self) -> f64 {
        let whole: f64 = self.volumes.iter().sum::<f64>() * (self.loaf.water + self.loaf.solids);
        let gone: f64 = self.water.iter().zip(&self.volumes).map(|(w, v)| (self.loaf.water - w) * v).sum();
        100.0 * gone / whole
    }

    /// Heat held over the start, sensible and latent, J per unit of free direction.
    pub fn heat_held(&self) -> f64 {
        let dry = self.loaf.solids * self.loaf.solids_heat;
        self.t
            .iter()
            .zip(&self.water)
            .zip(&self.volumes)
            .map(|((t, w), v)| {
                let gone = self.loaf.water - w;
                let sensible = (dry + w * WATER_HEAT) * (t - self.loaf.start);
                // The water that left was warmed to the boiling point first.
                let left = gone * (WATER_HEAT * (self.around.boiling - self.loaf.start) + LATENT);
                v * (sensible + left)
            })
            .sum()
    }

    /// The present moment.
    pub fn moment(&self) -> BakeMoment {
        BakeMoment {
            minutes: self.seconds / 60.0,
            core: self.core(),
            surface: self.surface,
            loss: self.loss(),
            lightness: self.lightness,
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

    /// Temperatures of the shells from the middle outwards, °C.
    pub fn temperatures(&self) -> &[f64] {
        &self.t
    }
}

/// Heat capacity of water in the loaf, J/kg K.
pub const WATER_HEAT: f64 = 4180.0;

#[cfg(test)]
mod tests {
    use super::*;
    use approx::assert_relative_eq;

    fn round() -> Loaf {
        Loaf {
            body: Body::Sphere,
            radius: 0.07,
            water: 150.0,
            solids: 180.0,
            solids_heat: 1700.0,
            start: 25.0,
            material: BREAD,
            browning: 1.0,
        }
    }

    fn oven() -> Surroundings {
        Surroundings::still(230.0)
    }

    /// Heat in = sensible + latent, to 0.5 %.
    #[test]
    fn energy_closes() {
        let (loaf, around) = (round(), oven());
        for cells in [12, 24, 48] {
            let mut bake = Bake::new(&loaf, &around, cells);
            bake.on_to(40.0);
            assert_relative_eq!(bake.heat_in, bake.heat_held(), max_relative = 0.005);
        }
    }

    #[test]
    fn the_core_never_passes_the_boiling_point_while_it_is_moist() {
        let (loaf, mut around) = (round(), oven());
        around.boiling = boiling_point(2000.0);
        let mut bake = Bake::new(&loaf, &around, 24);
        bake.on_to(90.0);
        assert!(bake.core() <= around.boiling + 1e-9);
    }

    #[test]
    fn a_lid_never_browns_faster() {
        let loaf = round();
        let at = |lid: f64| {
            let around = Surroundings { lid, ..oven() };
            let mut bake = Bake::new(&loaf, &around, 20);
            bake.on_to(40.0);
            bake.moment().lightness
        };
        assert!(at(0.0) < at(15.0) && at(15.0) < at(30.0));
    }

    /// Halving the shells changes the time to the core's target by little, and ever less.
    #[test]
    fn the_grid_converges() {
        let (loaf, around) = (round(), oven());
        let time = |cells: usize| {
            Bake::new(&loaf, &around, cells).until(120.0, |m| m.core >= 95.0).last().unwrap().minutes
        };
        let (coarse, middle, fine) = (time(12), time(24), time(48));
        assert!((fine - middle).abs() <= (middle - coarse).abs() + KEPT_EVERY);
        assert_relative_eq!(middle, fine, max_relative = 0.03);
    }
}

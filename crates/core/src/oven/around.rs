//! What a loaf meets on each of its faces, moment by moment.

use super::physics::STEFAN;

/// Something between the oven and a face: the wall of a tin, a sheet, a stone.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Wall {
    /// Heat that it holds, J/m² K.
    pub holds: f64,
    /// Its temperature when the loaf goes in, °C.
    pub start: f64,
    /// How well it touches the loaf, W/m² K.
    pub contact: f64,
}

/// What one face of the loaf meets.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Outside {
    /// Its share of the surface, 0 to 1; the three add up to 1.
    pub share: f64,
    /// Convection, W/m² K, onto the loaf or onto the wall before it.
    pub convection: f64,
    /// Emissivity for radiation from walls at oven temperature; 0 leaves radiation out.
    pub emissivity: f64,
    /// What lies between.
    pub wall: Option<Wall>,
}

impl Outside {
    /// An open face of a loaf 20 cm wide in still air.
    pub fn open(share: f64) -> Outside {
        Outside { share, convection: 10.0, emissivity: 0.9, wall: None }
    }

    /// Conductance from the oven at `oven` to a surface at `at`, both °C, W/m² K.
    pub(super) fn heats(&self, oven: f64, at: f64, convection: f64, radiation: f64) -> f64 {
        let (to, tk) = (oven + 273.15, at + 273.15);
        self.convection * convection + radiation * self.emissivity * STEFAN * (to + tk) * (to * to + tk * tk)
    }
}

/// The oven's temperature over the bake.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Heat {
    /// What it is set to, °C.
    pub set: f64,
    /// Hotter for so many minutes at the start: °C and min.
    pub first: Option<(f64, f64)>,
    /// How far it falls when door and dough cool it, K.
    pub drop: f64,
    /// Time constant of its recovery, min.
    pub recovery: f64,
}

/// Minutes in which a closed oven that is set lower goes most of the way (common practice, no
/// source).
const FALLS: f64 = 12.0;

impl Heat {
    /// An oven that never moves from its temperature.
    pub fn steady(set: f64) -> Heat {
        Heat { set, first: None, drop: 0.0, recovery: 1.0 }
    }

    /// Its temperature at a minute of the bake, °C.
    pub fn at(&self, minutes: f64) -> f64 {
        let wanted = match self.first {
            Some((hot, until)) if minutes < until => hot,
            Some((hot, until)) => self.set + (hot - self.set) * (-(minutes - until) / FALLS).exp(),
            None => self.set,
        };
        wanted - self.drop * (-minutes / self.recovery).exp()
    }
}

/// What surrounds the loaf.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Surroundings {
    /// The oven's temperature.
    pub heat: Heat,
    /// Top, sides and base.
    pub faces: [Outside; 3],
    /// Boiling point, °C.
    pub boiling: f64,
    /// Minutes under a lid, from the start.
    pub lid: f64,
    /// Minutes of steam, from the start.
    pub steam: f64,
    /// Minute from which its top is covered with foil; infinite for never.
    pub foil: f64,
    /// Minutes under foil from the start.
    pub foiled: f64,
}

impl Surroundings {
    /// A steady oven at sea level, open on all faces, without lid, steam or foil, for a loaf 20 cm
    /// wide.
    pub fn still(oven: f64) -> Self {
        Surroundings {
            heat: Heat::steady(oven),
            faces: [Outside::open(0.4), Outside::open(0.3), Outside::open(0.3)],
            boiling: 100.0,
            lid: 0.0,
            steam: 0.0,
            foil: f64::INFINITY,
            foiled: 0.0,
        }
    }
}

//! What the loaf stands on or in, how the oven is set, and what each face of the loaf meets.

use super::wish::OvenWish;
use crate::oven::{Heat, Outside, Surroundings, Wall};
use crate::shape::Size;
use crate::words::{Kind, Made, Vessel};

impl Made {
    /// Emissivity, how well it touches the dough in W/m² K, and how much heat it holds against
    /// metal (common practice, no source, but for the order: dark and bright metal after the tables
    /// of heat transfer handbooks, recalled).
    fn figures(self) -> (f64, f64, f64) {
        match self {
            Made::Bright => (0.8, 90.0, 1.0),
            Made::Dark | Made::NonStick => (0.95, 90.0, 1.0),
            Made::Glass => (0.9, 45.0, 2.8),
            Made::Silicone => (0.9, 22.0, 0.8),
        }
    }
}

/// The oven temperature that parchment bears, °C (common practice; the packet's figure comes first).
pub const PARCHMENT_BEARS: f64 = 220.0;

/// How far the oven falls by its open door, K, and for each kg of dough, and at most (common
/// practice, no source).
const DOOR: (f64, f64, f64) = (12.0, 9.0, 45.0);

/// What a second tray leaves of the air's movement in a still oven (common practice, no source).
const CROWDED: f64 = 0.85;

/// What the fan adds to convection, W/m² K.
const FAN: f64 = 6.0;

/// How well a loaf lies on sheet, stone or pot, with parchment or flour between, W/m² K.
const LIES: f64 = 40.0;

/// How well it lies in a pot: parchment, flour and the loaf's hollow base keep it off the iron.
const LIES_IN_POT: f64 = 22.0;

/// How much more heat a sheet brings under a piece than its own area catches: the bare metal around
/// it catches heat too, and leads it there (common practice, no source).
const SPREADS: f64 = 1.7;

/// How well a risen loaf touches the lid of its tin, W/m² K.
const TOUCHES_LID: f64 = 50.0;

/// How much more a face that looks up or down takes of the heat that the oven radiates, where the fan
/// does not even it out: the elements are over and under it (common practice, no source).
const ELEMENT: f64 = 1.25;

/// Everything outside the loaf that a bake depends on.
#[derive(Clone, Copy, Debug)]
pub struct Setting<'a> {
    /// What it stands on or in.
    pub plan: &'a OvenWish,
    /// The shape of the piece.
    pub kind: Kind,
    /// Whether it fills a pan as a box does.
    pub boxed: bool,
    /// Its size in the oven.
    pub size: Size,
    /// Whether the fan is on.
    pub fan: bool,
    /// Dough in the oven, kg.
    pub load: f64,
    /// Trays in it.
    pub trays: u32,
    /// Recovery, min.
    pub recovery: f64,
    /// Room, °C.
    pub room: f64,
    /// Boiling point, °C.
    pub boiling: f64,
}

/// The same of a box with a dome.
fn box_shares(size: Size) -> [f64; 3] {
    let base = size.width * size.length;
    let sides = 2.0 * size.height * (size.width + size.length);
    let top = 1.15 * base;
    let all = base + sides + top;
    [top / all, sides / all, base / all]
}

/// Shares of the surface that are top, sides and base.
fn shares(kind: Kind, boxed: bool, size: Size) -> [f64; 3] {
    match kind {
        _ if boxed => box_shares(size),
        Kind::Tin | Kind::Spirals | Kind::Swirl => box_shares(size),
        Kind::Flat | Kind::PullApart => [0.5, 0.0, 0.5],
        Kind::Baguette | Kind::Braid | Kind::Ring => [0.42, 0.33, 0.25],
        _ => [0.42, 0.3, 0.28],
    }
}

impl Setting<'_> {
    /// What surrounds the loaf in an oven of `oven` °C, under a lid for `lid` minutes.
    pub fn surroundings(&self, oven: f64, lid: f64) -> Surroundings {
        // Still air takes heat to small things faster than to large ones.
        let still = (10.0 * (20.0 / self.size.width).powf(0.25)).clamp(8.0, 14.0);
        let crowded = if self.trays > 1 && !self.fan { CROWDED } else { 1.0 };
        let convection = still * crowded + if self.fan { FAN } else { 0.0 };
        let vessel = self.plan.vessel;
        let (emissivity, touches, heavy) = self.plan.made.figures();
        let heated = self.plan.heated_to.map_or(oven, |t| t.0);
        let start = if vessel.goes_in_hot() { heated } else { self.room };
        let wall = |contact: f64, heavy: f64| Some(Wall { holds: vessel.holds() * heavy, start, contact });
        let [top, sides, base] = shares(self.kind, self.boxed, self.size);
        let open = |share: f64| Outside { share, convection, emissivity: 0.9, wall: None };
        let facing = |face: Outside| Outside {
            emissivity: if self.fan { face.emissivity } else { ELEMENT * face.emissivity },
            ..face
        };
        let tin =
            |share: f64, contact: f64| Outside { emissivity, wall: wall(contact, heavy), ..open(share) };
        let faces = match vessel {
            Vessel::Sheet => {
                let under = facing(tin(base, LIES));
                let spread = Outside {
                    convection: SPREADS * under.convection,
                    emissivity: SPREADS * under.emissivity,
                    ..under
                };
                [facing(open(top)), open(sides), spread]
            }
            Vessel::Stone | Vessel::Pot => {
                let lies = if vessel == Vessel::Pot { LIES_IN_POT } else { LIES };
                let base = facing(Outside { wall: wall(lies, 1.0), ..open(base) });
                [facing(open(top)), open(sides), base]
            }
            Vessel::Tin => [facing(open(top)), tin(sides, touches), facing(tin(base, touches))],
            Vessel::Lidded => {
                [facing(tin(top, TOUCHES_LID)), tin(sides, touches), facing(tin(base, touches))]
            }
        };
        let (door, each, most) = DOOR;
        // Heated hotter it falls to its setting from there.
        let falls = self.plan.heated_to.filter(|t| t.0 > oven + 1.0).map(|t| (t.0, 0.0));
        let first = self.plan.hot_start.map(|h| (h.temperature.0, h.minutes.0)).or(falls);
        Surroundings {
            heat: Heat {
                set: oven,
                first,
                drop: (door + each * self.load).min(most),
                recovery: self.recovery,
            },
            faces,
            boiling: self.boiling,
            lid,
            steam: if self.plan.steam { 10.0 } else { 0.0 },
            foil: self.plan.foil_after.map_or(f64::INFINITY, |m| m.0),
            foiled: self.plan.foiled.map_or(0.0, |m| m.0),
        }
    }
}

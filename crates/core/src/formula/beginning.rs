//! A plain formula of each style to begin from.

use super::{Formula, LevainWish, Line, Uses};
use crate::day::DayWish;
use crate::finish::FinishWish;
use crate::mix::MixWish;
use crate::oven::OvenWish;
use crate::rise::{Liveliness, RiseWish, RisesWish};
use crate::shape::ShapeWish;
use crate::units::{Celsius, Grams};
use crate::words::{Handling, Kind, Method, Stage, Style, Vessel};

struct Outline {
    lines: &'static [(&'static str, f64)],
    method: Method,
    desired: f64,
    bulk: f64,
    proof: f64,
    handling: Handling,
    kind: Kind,
    pieces: u32,
    vessel: Vessel,
    steam: bool,
}

fn outline(style: Style) -> Outline {
    use Handling::{Firm, Gentle};
    let lean: Outline = Outline {
        lines: &[("bread-flour", 500.0), ("water", 340.0), ("salt", 10.0), ("instant-yeast", 4.0)],
        method: Method::Hand,
        desired: 25.0,
        bulk: 2.0,
        proof: 1.75,
        handling: Gentle,
        kind: Kind::Round,
        pieces: 1,
        vessel: Vessel::Pot,
        steam: false,
    };
    match style {
        Style::Hearth => lean,
        Style::Tin => Outline {
            lines: &[
                ("bread-flour", 500.0),
                ("water", 320.0),
                ("salt", 10.0),
                ("instant-yeast", 4.5),
                ("butter", 15.0),
            ],
            handling: Firm,
            kind: Kind::Tin,
            vessel: Vessel::Tin,
            ..lean
        },
        Style::SoftRoll => Outline {
            lines: &[
                ("plain-flour", 500.0),
                ("milk", 300.0),
                ("salt", 9.5),
                ("instant-yeast", 5.0),
                ("sugar", 30.0),
                ("butter", 50.0),
            ],
            handling: Firm,
            kind: Kind::Roll,
            pieces: 14,
            vessel: Vessel::Sheet,
            ..lean
        },
        Style::Braid => Outline {
            lines: &[
                ("bread-flour", 500.0),
                ("water", 190.0),
                ("egg", 100.0),
                ("salt", 9.0),
                ("instant-yeast", 5.5),
                ("sugar", 45.0),
                ("butter", 50.0),
            ],
            desired: 24.0,
            handling: Firm,
            kind: Kind::Braid,
            vessel: Vessel::Sheet,
            ..lean
        },
        Style::NoKnead => Outline {
            lines: &[("bread-flour", 450.0), ("water", 350.0), ("salt", 9.0), ("instant-yeast", 1.0)],
            method: Method::None,
            desired: 21.0,
            bulk: 2.5,
            proof: 1.5,
            handling: Firm,
            ..lean
        },
        Style::Flat => Outline {
            lines: &[
                ("bread-flour", 500.0),
                ("water", 390.0),
                ("salt", 10.0),
                ("instant-yeast", 3.0),
                ("olive-oil", 25.0),
            ],
            method: Method::Fold,
            bulk: 2.0,
            proof: 1.5,
            kind: Kind::Flat,
            vessel: Vessel::Sheet,
            ..lean
        },
        Style::Rye => Outline {
            lines: &[
                ("dark-rye-flour", 250.0),
                ("bread-flour", 250.0),
                ("water", 370.0),
                ("salt", 10.0),
                ("instant-yeast", 4.0),
            ],
            desired: 27.0,
            bulk: 1.5,
            proof: 1.25,
            handling: Firm,
            vessel: Vessel::Stone,
            steam: true,
            ..lean
        },
        Style::GlutenFree => Outline {
            lines: &[
                ("rice-flour", 200.0),
                ("sorghum-flour", 100.0),
                ("potato-starch", 100.0),
                ("psyllium", 20.0),
                ("water", 400.0),
                ("salt", 8.0),
                ("instant-yeast", 5.0),
                ("olive-oil", 20.0),
            ],
            method: Method::Paddle,
            desired: 26.0,
            bulk: 1.0,
            proof: 1.5,
            kind: Kind::Tin,
            vessel: Vessel::Tin,
            ..lean
        },
    }
}

/// A plain formula of a style.
pub fn beginning(name: &str, style: Style) -> Formula {
    let o = outline(style);
    let wish = |target: f64| RiseWish::to(target, None);
    Formula {
        name: name.into(),
        style,
        percent_locked: false,
        lines: o.lines.iter().map(|&(key, g)| Line::new(key, Stage::Dough, Grams(g))).collect(),
        counting: None,
        stages: Vec::new(),
        levain: LevainWish::default(),
        makeups: Vec::new(),
        author: String::new(),
        tags: Vec::new(),
        notes: String::new(),
        meant: Vec::new(),
        said: Vec::new(),
        mix: MixWish::of(o.method, Celsius(o.desired)),
        rise: RisesWish {
            bulk: wish(o.bulk),
            second: RiseWish::none(),
            between: Handling::Firm,
            proof: wish(o.proof),
            handling: o.handling,
            kneads: None,
            rim: None,
            uncovered: false,
            leaven: Liveliness::Usual,
            levain_place: None,
        },
        shape: ShapeWish::of(o.kind, o.pieces),
        finish: FinishWish::default(),
        oven: OvenWish { steam: o.steam, ..OvenWish::on(o.vessel) },
        day: DayWish::default(),
        uses: Uses::default(),
    }
}

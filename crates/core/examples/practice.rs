//! Prints how the practice cases of the oven come out, for docs/oven.md.
use cerealis_core::formula::Style;
use cerealis_core::oven::*;
use cerealis_core::shape::Kind;
use cerealis_core::units::*;

fn white(piece: f64, kind: Kind, style: Style, vessel: Vessel, oven: Option<f64>) -> BakeInput {
    BakeInput {
        piece: Grams(piece),
        kind,
        style,
        proofed_volume: if kind == Kind::Tin { 2.4 } else { 2.2 },
        start: Celsius(25.0),
        water: 46.0,
        solids_heat: 1.7,
        sugar: 0.0,
        dairy: false,
        washed: false,
        bathed: false,
        whole_grain: 0.0,
        oven: OvenPlan { temperature: oven.map(Celsius), ..OvenPlan::on(vessel) },
        fan: false,
        offset: 0.0,
        preheat: Minutes(15.0),
        recovery: Minutes(6.0),
        load: None,
        trays: 1,
        room: Celsius(21.0),
        altitude: 0.0,
    }
}

fn main() {
    let show = |name: &str, i: &BakeInput| {
        let o = bake(i).unwrap();
        let end = o.curve.last().unwrap();
        println!(
            "{name:34} {:4.0}C {:5.1} min core@{:5.1} {:?} lid {:?} foil {:?} core {:.0}/{:.0} L {:.0} sides {:.0} base {:.0} loss {:.1} {:.1} cool {:.0}",
            o.temperature.0,
            o.time.0,
            o.core_at.map_or(-1.0, |m| m.0),
            o.last,
            o.lid_off.map(|m| m.0.round()),
            o.foil_on.map(|m| m.0.round()),
            o.core.0,
            o.core_target.0,
            o.lightness,
            end.lightness_sides,
            end.lightness_base,
            o.loss,
            o.loss_cooled,
            o.cool.0
        );
    };
    use Kind::*;
    use Style as S;
    use Vessel as V;
    show("lean roll 60 g 225 (11-16)", &white(60.0, Roll, S::Hearth, V::Sheet, Some(225.0)));
    show("hearth 900 pot 230 (40-50)", &white(900.0, Round, S::Hearth, V::Pot, Some(230.0)));
    show("tin 750 190 (32-42, 8-12%)", &white(750.0, Tin, S::Tin, V::Tin, Some(190.0)));
    show("tin 750 200 (32-42)", &white(750.0, Tin, S::Tin, V::Tin, Some(200.0)));
    show("tin 750 free (190-200)", &white(750.0, Tin, S::Tin, V::Tin, None));
    let mut b = white(300.0, Baguette, S::Hearth, V::Stone, Some(240.0));
    b.oven.steam = true;
    show("baguette 300 240 (20-25, 15-22)", &b);
    show("focaccia 900 220 (18-25)", &white(900.0, Flat, S::Flat, V::Sheet, Some(220.0)));
    let ww = BakeInput {
        whole_grain: 100.0,
        proofed_volume: 1.7,
        water: 48.0,
        ..white(900.0, Round, S::Hearth, V::Pot, Some(230.0))
    };
    show("whole wheat round pot (x1.33-1.5)", &ww);
    show(
        "soft roll 60 free",
        &BakeInput {
            sugar: 8.0,
            dairy: true,
            washed: true,
            ..white(60.0, Roll, S::SoftRoll, V::Sheet, None)
        },
    );
    show(
        "soft roll 60 pull-apart 185 (18-25)",
        &BakeInput {
            sugar: 8.0,
            dairy: true,
            washed: true,
            ..white(60.0, PullApart, S::SoftRoll, V::Sheet, Some(185.0))
        },
    );
    show(
        "plait 900 180 (30-40)",
        &BakeInput {
            sugar: 9.0,
            washed: true,
            water: 40.0,
            ..white(900.0, Braid, S::Braid, V::Sheet, Some(180.0))
        },
    );
    show(
        "plait 500 180 (25-32)",
        &BakeInput {
            sugar: 9.0,
            washed: true,
            water: 40.0,
            ..white(500.0, Braid, S::Braid, V::Sheet, Some(180.0))
        },
    );
    show(
        "plait 900 free",
        &BakeInput { sugar: 9.0, washed: true, water: 40.0, ..white(900.0, Braid, S::Braid, V::Sheet, None) },
    );
    show("lidded 850 200 (38-48)", &white(850.0, Tin, S::Tin, V::Lidded, Some(200.0)));
    show("tin 1000 190 (40-50)", &white(1000.0, Tin, S::Tin, V::Tin, Some(190.0)));
    show("tin 500 195 (26-35)", &white(500.0, Tin, S::Tin, V::Tin, Some(195.0)));
    show(
        "hearth 500 stone 230 (28-36)",
        &BakeInput {
            oven: OvenPlan { steam: true, ..white(500.0, Round, S::Hearth, V::Stone, Some(230.0)).oven },
            ..white(500.0, Round, S::Hearth, V::Stone, Some(230.0))
        },
    );
    show(
        "hearth 900 stone 225 (35-50)",
        &BakeInput {
            oven: OvenPlan { steam: true, ..white(900.0, Round, S::Hearth, V::Stone, Some(225.0)).oven },
            ..white(900.0, Round, S::Hearth, V::Stone, Some(225.0))
        },
    );
    show(
        "batard 700 stone 230 (30-40)",
        &BakeInput {
            oven: OvenPlan { steam: true, ..white(700.0, Batard, S::Hearth, V::Stone, Some(230.0)).oven },
            ..white(700.0, Batard, S::Hearth, V::Stone, Some(230.0))
        },
    );
    show("hearth 1200 pot 225 (50-60)", &white(1200.0, Round, S::Hearth, V::Pot, Some(225.0)));
    show(
        "rye 1000 tin 200 (50-70)",
        &BakeInput {
            proofed_volume: 1.6,
            water: 52.0,
            whole_grain: 70.0,
            ..white(1000.0, Tin, S::Rye, V::Tin, Some(200.0))
        },
    );
    show(
        "rye bun 80 210 (15-22)",
        &BakeInput {
            proofed_volume: 1.6,
            water: 50.0,
            whole_grain: 60.0,
            ..white(80.0, Bun, S::Rye, V::Sheet, Some(210.0))
        },
    );
    show(
        "gluten-free tin 800 190 (45-60)",
        &BakeInput {
            proofed_volume: 1.6,
            water: 55.0,
            ..white(800.0, Tin, S::GlutenFree, V::Tin, Some(190.0))
        },
    );
    show(
        "bun 100 190 (14-20)",
        &BakeInput {
            sugar: 8.0,
            dairy: true,
            washed: true,
            ..white(100.0, Bun, S::SoftRoll, V::Sheet, Some(190.0))
        },
    );
    show(
        "lean roll 80 fan 205 (14-20)",
        &BakeInput { fan: true, ..white(80.0, Roll, S::Hearth, V::Sheet, Some(205.0)) },
    );
    show(
        "whole wheat tin 800 195 (38-50)",
        &BakeInput {
            whole_grain: 100.0,
            proofed_volume: 1.9,
            water: 48.0,
            ..white(800.0, Tin, S::Tin, V::Tin, Some(195.0))
        },
    );
    show(
        "no-knead 750 pot 230 (38-48)",
        &BakeInput { water: 50.0, ..white(750.0, Round, S::NoKnead, V::Pot, Some(230.0)) },
    );
    show(
        "dipped bun 90 220 (12-17)",
        &BakeInput { washed: true, ..white(90.0, Dipped, S::SoftRoll, V::Sheet, Some(220.0)) },
    );
    show(
        "ring 400 180 (22-32)",
        &BakeInput { sugar: 8.0, washed: true, ..white(400.0, Ring, S::Braid, V::Sheet, Some(180.0)) },
    );
    show(
        "tin 750 cold from fridge 195",
        &BakeInput { start: Celsius(5.0), ..white(750.0, Tin, S::Tin, V::Tin, Some(195.0)) },
    );
    show("40 g roll free", &white(40.0, Roll, S::Hearth, V::Sheet, None));
}

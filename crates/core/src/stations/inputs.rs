//! What each engine asks for, derived from the formula and the kitchen.

use super::in_kitchen::Begins;
use super::{Ahead, GoesIn, InKitchen, Liquid, LiquidPart};
use crate::fault::{Fault, Faults};
use crate::finish::{FinishInput, GoesOn};
use crate::formula::{Figures, figures, known};
use crate::mix::{MixInput, MixOutput, Part, PhaseKind, WaterAnswers, WaterInput, heat_capacity, mix, water};
use crate::oven::BakeInput;
use crate::pantry::{Composition, Group, Ingredient, Kept};
use crate::rise::{
    Dough, KITCHEN_SPREAD, Leg, Place, Ripening, RiseInput, RiseOutput, RiseWish, Stretch, ripen,
};
use crate::shape::{ShapeInput, ShapeOutput, ShapeWish, shape};
use crate::units::{Celsius, Grams, Hours, Minutes, Percent};
use crate::words::{Method, SaltSchool, Stage};

/// The share of the dough from which cold eggs and milk count in the factor rule (common practice,
/// no source).
const COLD_PART: f64 = 0.08;

/// Times its weight of warm liquid in which dry yeast blooms, and at least so many g (common practice, no source).
const BLOOMS_IN: f64 = 10.0;
const LEAST_BLOOM: f64 = 50.0;

/// How warm that liquid still is when it goes in (common practice, no source).
const BLOOMED_AT: Celsius = Celsius(36.0);

/// Water in 100 g of what can be poured, at least: of milk and its kin, and of other liquids, coconut milk among them.
const POURABLE: f64 = 80.0;
const POURABLE_LIQUID: f64 = 60.0;

/// Whether it can be poured, and so be warmed or cooled as the water is.
fn is_drink(i: &Ingredient) -> bool {
    match i.group {
        Group::Liquid => i.per_100g.water > POURABLE_LIQUID,
        Group::Dairy => i.per_100g.water > POURABLE,
        _ => false,
    }
}

/// The share of the flour's weight in water that wets it, so that no dry flour is left (common practice, no source).
const WETS: f64 = 0.5;

/// The hour of the day at which a room is warmest (common practice, no source).
const WARMEST_HOUR: f64 = 16.0;

impl<'a> InKitchen<'a> {
    /// Everything that is made ahead.
    pub(super) fn ahead(&self) -> Result<Vec<Ahead>, Faults> {
        Stage::ALL
            .into_iter()
            .filter(|&s| s.is_ahead() && self.has(s))
            .map(|stage| {
                let place = self.place_of(stage);
                let ripening =
                    if stage == Stage::OldDough { None } else { self.ripening(stage, &self.stands(stage))? };
                let hot = self.is_poured_hot(stage);
                let usual = if hot { Some(Stage::HOT_SOAKER_HOURS) } else { stage.usual_hours() };
                let wished = self.formula.stage_plan(stage).hours.or(usual.map(Hours));
                let time = match (wished, &ripening) {
                    (Some(hours), _) => hours.into(),
                    (None, Some(r)) => r.time,
                    (None, None) => Minutes(0.0),
                };
                let grams = self.lines(stage).map(|(g, _)| g).sum();
                Ok(Ahead { stage, grams, place, time, hot, ripening })
            })
            .collect()
    }

    /// A preferment as a dough of its own; none for what does not ferment.
    pub(super) fn ripening(&self, stage: Stage, place: &Place) -> Result<Option<Ripening>, Faults> {
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
        self.named("rise", ripen(&dough, place.temperature, place)).map(Some)
    }

    pub(super) fn dough(&self, f: &Figures, instant_yeast: Percent) -> Dough {
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
            pace: f.pace * self.formula.rise.leaven.pace(),
        }
    }

    /// Where a stage made ahead stands, with the night of a room.
    pub(super) fn stands(&self, stage: Stage) -> Place {
        let place = self.place_of(stage);
        let in_the_room = self.formula.stage_plan(stage).place.is_none()
            && !(stage.is_preferment() && self.formula.rise.levain_place.is_some());
        match (&self.begins, in_the_room) {
            (Some(b), true) => by_night(place, self.kitchen.night, b.ahead),
            _ => Place::steady(place),
        }
    }

    /// What bulk and proof depend on, where other make-ups take so many minutes to shape.
    pub(super) fn rise_input(&self, ahead: &[Ahead], cut: &ShapeOutput, others: Minutes) -> RiseInput {
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
            bulk: self.stretch(&plan.bulk, |b| b.bulk),
            between: plan.between,
            second: self.stretch(&plan.second, |b| b.second),
            handling: plan.handling,
            shaping: Minutes((cut.divide + cut.rest + cut.shape + others).0.min(1000.0)),
            room: self.room(),
            piece: Some(cut.piece),
            proof: self.stretch(&plan.proof, |b| b.proof),
            kitchen: 1.0,
            spread: KITCHEN_SPREAD,
        }
    }

    /// A wish as the engine takes it; `begins` picks the hour of the day at which it begins.
    fn stretch(&self, wish: &RiseWish, begins: fn(&Begins) -> f64) -> Stretch {
        let leg = |l: &Leg| Place { stay: Some(l.hours.into()), ..Place::steady(l.place) };
        let mut places: Vec<Place> = wish.legs.iter().map(leg).collect();
        let place = wish.place.unwrap_or(self.room());
        let night = if wish.place.is_some() { wish.night } else { self.kitchen.night };
        places.push(self.begins.as_ref().map_or(Place::steady(place), |b| by_night(place, night, begins(b))));
        let before: f64 = wish.legs.iter().map(|l| l.hours.0).sum();
        let hours = wish.stays.map(|h| Hours((before + h.0).min(72.0)));
        Stretch { places, target: wish.target, hours, stands: wish.stands, ..Stretch::default() }
    }

    /// What dividing depends on; before the rise is known, with ordinary volumes.
    pub(super) fn shape(&self, rise: Option<&RiseOutput>) -> Result<ShapeOutput, Faults> {
        self.divide(self.main_dough(), self.formula.shape.clone(), rise)
    }

    pub(super) fn divide(
        &self,
        dough: Grams,
        plan: ShapeWish,
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

    /// Mixing by what this kitchen has learned of its friction, unless the formula sets it.
    pub(super) fn mixed(&self, rise: &RiseOutput) -> Result<(MixOutput, Option<(f64, usize)>), Faults> {
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

    pub(super) fn mix_input(&self, rise: &RiseOutput) -> MixInput {
        let late: Grams = self.lines(Stage::LateButter).map(|(g, i)| g * (i.per_100g.fat / 100.0)).sum();
        MixInput {
            method: self.formula.mix.method,
            style: self.formula.style,
            hydration: self.figures.effective_hydration,
            late_fat: late.percent_of(self.figures.flour),
            add_ins: self.has(Stage::AddIns),
            autolyse: self.formula.mix.autolyse,
            bulk: [&rise.bulk, &rise.second].into_iter().flatten().map(|b| b.time).sum(),
            dough: self.figures.dough,
            speeds: self.kitchen.mixer_speeds.clone(),
            friction: self.formula.mix.friction,
            slow: self.formula.mix.slow,
            knead: self.formula.mix.knead,
            speed: self.formula.mix.speed,
            folds: self.formula.mix.folds,
            folds_every: self.formula.mix.folds_every,
            salt: self.formula.mix.salt,
            held_back: self.has(Stage::HeldBack),
            held_flour: self.without_held_flour(),
            butter_portions: self.formula.mix.butter_portions,
            butter: self.formula.mix.butter,
            mixer_limit: self.kitchen.mixer_limit,
        }
    }

    /// Hydration without the flour that is held back.
    fn without_held_flour(&self) -> Option<Percent> {
        let flour = |stage: Stage| -> Grams {
            self.lines(stage).filter(|(_, i)| i.group == Group::Flour).map(|(g, _)| g).sum()
        };
        let held = flour(Stage::HeldBack);
        let all = self.figures.flour;
        (held.0 > 0.0 && held.0 < all.0).then(|| self.figures.effective_hydration * (all.0 / (all - held).0))
    }

    /// What takes the flour's place in an autolyse: the water; where it is too little to wet the flour, the milk and
    /// other drinks too, and then the eggs.
    fn wets_the_flour(&self) -> impl Fn(&Ingredient) -> bool {
        let flour: Grams =
            self.lines(Stage::Dough).filter(|(_, i)| i.group == Group::Flour).map(|(g, _)| g).sum();
        let wet = |of: &dyn Fn(&Ingredient) -> bool| -> f64 {
            let of = self.lines(Stage::Dough).filter(|(_, i)| of(i));
            of.map(|(g, i)| g.0 * i.per_100g.water / 100.0).sum()
        };
        let drink = |i: &Ingredient| is_drink(i);
        let enough = WETS * flour.0;
        let with_drinks = wet(&|i| i.is_water()) < enough;
        let with_eggs = with_drinks && wet(&|i| i.is_water() || drink(i)) < enough;
        move |i: &Ingredient| {
            i.is_water() || (with_drinks && drink(i)) || (with_eggs && i.group == Group::Egg)
        }
    }

    /// What goes in at each phase of mixing. With an autolyse, flour and liquids go first.
    pub(super) fn goes_in(&self, mix: &MixOutput) -> Vec<Vec<GoesIn>> {
        let first = |kind: PhaseKind| mix.phases.iter().position(|p| p.kind == kind);
        let last_mix = mix.phases.iter().rposition(|p| p.kind == PhaseKind::Mix).unwrap_or(0);
        let autolyses = first(PhaseKind::Autolyse).is_some();
        let knead = first(PhaseKind::Knead).unwrap_or(last_mix);
        let wets = self.wets_the_flour();
        // What the yeast blooms in is held out of an autolyse.
        let mut blooming = if autolyses { self.blooms_in() } else { Grams(0.0) };
        let mut at = vec![Vec::new(); mix.phases.len()];
        let mut put = |phase: usize, name: String, grams: Grams| {
            if let Some(list) = at.get_mut(phase).filter(|_| grams.0 > 0.0) {
                list.push(GoesIn { name, grams });
            }
        };
        for stage in Stage::ALL.into_iter().filter(|s| s.is_ahead() && s.in_dough()) {
            put(last_mix, stage.name().to_owned(), self.lines(stage).map(|(g, _)| g).sum());
        }
        for (line, i) in known(self.formula, self.catalogue) {
            let salted_later = self.formula.mix.salt == SaltSchool::Later && i.group == Group::Salt;
            let phase = match line.stage {
                Stage::Dough if salted_later => knead,
                Stage::Dough if autolyses && (i.group == Group::Flour || wets(i)) => 0,
                Stage::Dough => last_mix,
                Stage::HeldBack => knead,
                Stage::LateButter => first(PhaseKind::Butter).unwrap_or(knead),
                Stage::AddIns => first(PhaseKind::AddIns).unwrap_or(knead),
                _ => continue,
            };
            let held = if phase == 0 && autolyses && wets(i) { blooming.min(line.grams) } else { Grams(0.0) };
            blooming = blooming - held;
            put(phase, i.name.clone(), line.grams - held);
            put(last_mix, format!("{}, with the yeast", i.name), held);
        }
        at
    }

    /// How much liquid the yeast blooms in; none where it goes in dry.
    pub(super) fn blooms_in(&self) -> Grams {
        let yeast: Grams =
            self.lines(Stage::Dough).filter(|(_, i)| i.instant_yeast() > 0.0).map(|(g, _)| g).sum();
        let enough = self.water_is_enough();
        let liquid: Grams =
            self.lines(Stage::Dough).filter(|(_, i)| self.is_free(i, enough)).map(|(g, _)| g).sum();
        match self.formula.mix.bloom {
            Some(_) if yeast.0 > 0.0 => liquid.min(Grams((BLOOMS_IN * yeast.0).max(LEAST_BLOOM))),
            _ => Grams(0.0),
        }
    }

    /// What the liquid is that the yeast blooms in.
    pub(super) fn blooming_liquid(&self) -> String {
        let enough = self.water_is_enough();
        let first = self.lines(Stage::Dough).find(|(g, i)| g.0 > 0.0 && self.is_free(i, enough));
        first.map_or("water".into(), |(_, i)| i.name.to_lowercase())
    }

    /// Whether the dough's water alone is enough to set its temperature.
    fn water_is_enough(&self) -> bool {
        let plain: Grams = self.lines(Stage::Dough).filter(|(_, i)| i.is_water()).map(|(g, _)| g).sum();
        plain.0 >= 0.2 * self.figures.flour.0
    }

    /// The liquid whose temperature is free: the dough's water, or where that is little, its milk
    /// and other drinks too.
    pub(super) fn is_free(&self, ingredient: &Ingredient, water_is_enough: bool) -> bool {
        let pourable = is_drink(ingredient);
        ingredient.is_water() || (!water_is_enough && pourable)
    }

    pub(super) fn water(&self, mix: &MixOutput) -> Result<(WaterAnswers, Liquid), Faults> {
        let enough = self.water_is_enough();
        let mut blooming = self.blooms_in();
        let mut free = Grams(0.0);
        let mut free_water = Grams(0.0);
        let mut heat = 0.0;
        let mut liquids: Vec<LiquidPart> = Vec::new();
        let mut parts = Vec::new();
        for (line, i) in known(self.formula, self.catalogue).filter(|(l, _)| l.stage.in_dough()) {
            if line.stage == Stage::Dough && self.is_free(i, enough) {
                // What the yeast blooms in goes in warm, whatever the rest is.
                let warm = blooming.min(line.grams);
                blooming = blooming - warm;
                if warm.0 > 0.0 {
                    let (name, per_100g) = (i.name.clone(), i.per_100g);
                    parts.push(Part { name, grams: warm, per_100g, temperature: BLOOMED_AT });
                }
                let grams = line.grams - warm;
                if grams.0 > 0.0 {
                    free += grams;
                    free_water += if i.is_water() { grams } else { Grams(0.0) };
                    let comes_at = self.temperature_of(line.stage, i);
                    heat += grams.0 * comes_at.0;
                    liquids.push(LiquidPart { name: i.name.to_lowercase(), grams, comes_at });
                }
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
            name: match liquids.as_slice() {
                [one] => one.name.clone(),
                _ => "liquid".into(),
            },
            comes_at: if free.0 > 0.0 { Celsius(heat / free.0) } else { self.kitchen.tap },
            grams: free,
            parts: liquids,
        };
        let mut ahead = Stage::ALL.into_iter().filter(|s| s.is_ahead() && self.has(*s)).peekable();
        let preferment = ahead.next_if(|s| s.is_preferment()).map(|s| self.ahead_temperature(s));
        let mut others: Vec<Celsius> = ahead.map(|s| self.ahead_temperature(s)).collect();
        others.extend(self.cold_part(enough));
        let input = WaterInput {
            ice: liquid.parts.is_empty() || free_water.0 > 0.0,
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
    pub(super) fn cold_part(&self, water_is_enough: bool) -> Option<Celsius> {
        let cold = |i: &Ingredient| {
            matches!(i.group, Group::Egg | Group::Dairy)
                && i.kept == Kept::Fridge
                && !self.is_free(i, water_is_enough)
        };
        let grams: Grams = self.lines(Stage::Dough).filter(|(_, i)| cold(i)).map(|(g, _)| g).sum();
        (grams.0 > COLD_PART * self.figures.dough.0).then_some(self.kitchen.fridge)
    }

    pub(super) fn flour_temperature(&self) -> Celsius {
        self.formula.mix.flour.unwrap_or(self.room())
    }

    /// How warm something made ahead is when it meets the dough.
    pub(super) fn ahead_temperature(&self, stage: Stage) -> Celsius {
        let usual = if stage.is_preferment() { self.formula.mix.preferment } else { None };
        self.formula.stage_plan(stage).temperature.or(usual).unwrap_or(self.place_of(stage))
    }

    pub(super) fn temperature_of(&self, stage: Stage, i: &Ingredient) -> Celsius {
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

    pub(super) fn finish_input(&self, cut: &ShapeOutput) -> FinishInput {
        let f = self.formula;
        let on = f.lines.iter().filter(|l| !l.stage.in_dough() && l.on.on(self.part)).map(|l| GoesOn {
            stage: l.stage,
            ingredient: l.ingredient.clone(),
            grams: self.share_of(l),
            at: l.at,
            without: self.without(l),
        });
        FinishInput {
            kind: f.shape.kind,
            pieces: f.shape.pieces,
            strands: cut.strand.is_some(),
            finish: f.finish,
            on: on.collect(),
        }
    }

    /// Whether the dough is dark before it bakes: of cocoa, molasses, malt or much dark rye (common practice, no source).
    fn is_dark(&self) -> bool {
        let share = |names: &[&str]| -> f64 {
            let of = known(self.formula, self.catalogue)
                .filter(|(l, i)| l.stage.in_dough() && names.contains(&i.kin()));
            of.map(|(l, _)| l.grams).sum::<Grams>().percent_of(self.figures.flour).0
        };
        share(&["cocoa", "molasses", "malt-syrup", "date-syrup", "dark-chocolate"]) >= 4.0
            || share(&["dark-rye-flour"]) >= 50.0
    }

    pub(super) fn bake_input(&self, rise: &RiseOutput, shape: &ShapeOutput, trays: u32) -> BakeInput {
        let c = self.figures.composition;
        let mass = self.figures.dough.0;
        let dry = Composition { water: 0.0, ..c };
        let oven = self.kitchen.oven();
        let at_once = trays.min(self.kitchen.oven_levels);
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
            bathed: self.has(Stage::Bath),
            whole_grain: self.figures.whole_grain.0,
            dark: self.is_dark(),
            bed: self.bed(shape, rise.shaped_volume),
            oven: self.formula.oven,
            fan: self.kitchen.oven_fan,
            offset: oven.offset,
            preheat: oven.preheat,
            recovery: oven.recovery,
            // Of more trays than it has levels, so many bake at a time.
            load: Some(Grams((shape.used.0 * f64::from(at_once) / f64::from(trays)).clamp(10.0, 20_000.0))),
            trays: at_once,
            marks: self.kitchen.oven_marks,
            room: self.room(),
            altitude: self.kitchen.altitude,
            hottest: Celsius((self.kitchen.oven_hottest.0 + oven.offset).clamp(150.0, 350.0)),
        }
    }
}

/// A place that is so many K cooler by night, for a stretch that begins at an hour of the day.
fn by_night(place: Celsius, night: f64, begins: f64) -> Place {
    let swing = 0.5 * night;
    Place {
        swing,
        warmest: Minutes(60.0 * (WARMEST_HOUR - begins)),
        ..Place::steady(Celsius((place.0 - swing).max(0.0)))
    }
}

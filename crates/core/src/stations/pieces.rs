//! What hands do with the pieces: dividing, plaiting, pan and tray, and the finish.

use schemars::JsonSchema;
use serde::Serialize;

use super::{InKitchen, Stations};
use crate::fault::Faults;
use crate::finish::{FinishStep, finish};
use crate::formula::Formula;
use crate::kitchen::Kitchen;
use crate::oven::BakeOutput;
use crate::rise::{DOUGH_DENSITY, RiseOutput, TARGET};
use crate::shape::{
    Bed, BraidInput, BraidOutput, DivideInput, DivideOutput, FILLING, GAP, Pan, PanForm, PanInput, PanOutput,
    PanShape, ShapeOutput, ShapeStep, Size, TrayInput, TrayOutput, braid, divide, fill_rule, pan, steps,
    tray,
};
use crate::units::Grams;
use crate::words::{Kind, Method, Style, Vessel};

/// Everything about the pieces beside their size.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct PieceWork {
    /// Dividing, with a scale or without.
    pub divide: DivideOutput,
    /// Pre-shape, rest and final shape.
    pub steps: Vec<ShapeStep>,
    /// The plait, crossing by crossing.
    pub braid: Option<BraidOutput>,
    /// The pan that it goes into.
    pub pan: Option<PanAnswer>,
    /// The tray from above.
    pub tray: Option<TrayAnswer>,
    /// Filling for each piece, for a swirl.
    pub filling: Option<Grams>,
    /// Washes, seeds, cuts and what else is done before the oven and after it.
    pub finish: Vec<FinishStep>,
}

/// A pan of the kitchen with the dough in it.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct PanAnswer {
    /// Its name.
    pub name: String,
    /// Its form; that of an ordinary tin where only its volume is known.
    pub form: PanForm,
    /// Whether its form is known.
    pub measured: bool,
    /// Pans of it that the pieces need.
    pub pans: u32,
    /// Pieces in each, touching.
    pub together: u32,
    /// How the dough stands in it.
    pub fit: PanOutput,
    /// Pans of this kitchen that the dough fits, by name.
    pub fits_also: Vec<String>,
}

impl PanAnswer {
    /// How several are laid into it.
    pub(super) fn laid(&self) -> String {
        let pans = if self.pans > 1 { format!("each of {} pans", self.pans) } else { "the pan".to_owned() };
        format!("Lay {} side by side in {pans}: {}.", self.together, self.name)
    }
}

/// The tray and the pieces on it.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct TrayAnswer {
    /// Its length and width, cm.
    pub tray: (f64, f64),
    /// A piece at its baked size.
    pub piece: Size,
    /// Whether it has corners, as a flat bake has.
    pub square: bool,
    /// How they lie.
    pub layout: TrayOutput,
}

/// The share of their own ground that pieces have left where they touch (common practice, no source).
const TOUCHING: f64 = 0.8;

/// What a piece still grows by on its way through the oven, in each direction (common practice, no
/// source: a fifth of its volume).
const GROWS: f64 = 1.06;

impl InKitchen<'_> {
    /// The pan of the kitchen that was picked, where it still has one of that name.
    pub(super) fn picked_pan(&self) -> Option<&Pan> {
        let name = self.formula.shape.pan.as_deref()?;
        self.kitchen.pans.iter().find(|p| p.name == name)
    }

    /// The pan whose shape the dough takes in the oven, with what lies in it. A flat bake that is pressed out so thick
    /// is its own.
    pub(super) fn bed(&self, cut: &ShapeOutput, shaped_volume: f64) -> Option<Bed> {
        let plan = &self.formula.shape;
        let pieces = plan.in_one_pan();
        let bed = match self.picked_pan() {
            Some(pan) => pan.form.map(|form| Bed { pan: form, ml: Some(pan.ml), pieces }),
            None => plan.tin().map(|form| Bed { pan: form, ml: None, pieces }),
        };
        // Touching on a sheet they cover what they stand on.
        let block = (pieces > 1).then(|| {
            let ground = TOUCHING * f64::from(pieces) * cut.proofed.width * cut.proofed.length;
            Bed { pieces, ..Bed::flat(ground) }
        });
        let pressed = plan.rolled.filter(|_| plan.kind == Kind::Flat);
        let flat = |thick: f64| Bed::flat(cut.piece.0 / DOUGH_DENSITY * shaped_volume / thick);
        bed.filter(|b| b.pan.shape.shapes_the_bake()).or(block).or_else(|| pressed.map(flat))
    }

    /// The tray with the pieces on it, for what bakes free on a sheet or stone; one flat bake is pressed out to suit it.
    pub(super) fn tray(&self, cut: &ShapeOutput) -> Result<Option<TrayAnswer>, Faults> {
        let plan = &self.formula.shape;
        if self.formula.oven.vessel != Vessel::Sheet
            || plan.kind == Kind::Flat && plan.pieces == 1
            || self.picked_pan().is_some()
            || plan.tin().is_some()
        {
            return Ok(None);
        }
        let (touching, square) = (plan.kind == Kind::PullApart, plan.kind == Kind::Flat);
        let grows = if touching || square { 1.0 } else { GROWS };
        let s = match plan.rolled.filter(|_| square) {
            // Pressed out so thick, it covers so much.
            Some(thick) => {
                let pressed = Bed::flat(cut.piece.0 / DOUGH_DENSITY / thick).pan;
                Size { width: pressed.width.unwrap_or(pressed.length), height: thick, length: pressed.length }
            }
            None => cut.proofed,
        };
        let piece = Size { width: s.width * grows, height: s.height * grows, length: s.length * grows };
        let (length, width) = self.kitchen.tray;
        let input = TrayInput {
            length,
            width,
            piece_length: piece.length.clamp(1.0, 60.0),
            piece_width: piece.width.clamp(1.0, 60.0),
            pieces: plan.pieces,
            gap: if touching { 0.0 } else { GAP },
        };
        let layout = self.named("shape", tray(&input))?;
        Ok(Some(TrayAnswer { tray: (length.max(width), length.min(width)), piece, square, layout }))
    }

    pub(super) fn piece_work(
        &self,
        rise: &RiseOutput,
        cut: &ShapeOutput,
        bake: &BakeOutput,
        tray: Option<TrayAnswer>,
    ) -> Result<PieceWork, Faults> {
        let plan = &self.formula.shape;
        let batter = self.formula.mix.method == Method::Paddle;
        let divided = DivideInput {
            dough: self.main_dough(),
            pieces: plan.pieces,
            piece: plan.piece_weight,
            weighed: Vec::new(),
            rolled: plan.rolled.filter(|_| plan.kind != Kind::Flat),
        };
        let plaited = BraidInput {
            dough: cut.piece.max(Grams(20.0)),
            strands: plan.strands,
            round: plan.kind == Kind::RoundBraid,
            crossed: plan.is_crossed(),
            hand: plan.hand,
            length: plan
                .strand_length
                .map_or(cut.proofed.length, |cm| cm / plan.lengthens())
                .clamp(5.0, 100.0),
        };
        let woven = plan.kind.is_plaited() && plan.strands <= 6 && (!plaited.round || plan.strands == 4);
        Ok(PieceWork {
            divide: self.named("shape", divide(&divided))?,
            steps: steps(plan.kind, batter, cut.divide, cut.rest, cut.shape),
            braid: if woven { Some(self.named("shape", braid(&plaited))?) } else { None },
            pan: self.pan_answer(rise, cut, bake)?,
            tray,
            filling: (plan.kind == Kind::Swirl)
                .then(|| cut.piece * (FILLING / (DOUGH_DENSITY * SWIRL_THICK))),
            finish: finish(&self.finish_input(cut), self.catalogue),
        })
    }

    fn pan_answer(
        &self,
        rise: &RiseOutput,
        cut: &ShapeOutput,
        bake: &BakeOutput,
    ) -> Result<Option<PanAnswer>, Faults> {
        let plan = &self.formula.shape;
        let own = plan.tin().map(|form| {
            let name = match form.width {
                Some(width) => format!("Pan of {} × {width} cm", form.length),
                None => format!("Round pan of {} cm", form.length),
            };
            Pan { ml: form.ml(), form: Some(form), ..Pan::of_ml(name, 0.0) }
        });
        let Some(picked) = self.picked_pan().or(own.as_ref()) else { return Ok(None) };
        let together = plan.in_one_pan();
        let low = together > 1 || plan.kind == Kind::Flat;
        let lidded = self.formula.oven.vessel == Vessel::Lidded;
        let gluten_free = self.formula.style == Style::GlutenFree;
        let form = picked.form.unwrap_or_else(|| PanForm::ordinary(picked.ml));
        let input = PanInput {
            pan: form,
            ml: Some(picked.ml),
            lidded,
            low,
            open: (together > 1).then_some([cut.shaped.height, cut.proofed.height, bake.size.height]),
            dough: cut.piece * f64::from(together),
            whole_grain: self.figures.whole_grain.0.min(100.0),
            gluten_free,
            shaped_volume: rise.shaped_volume,
            proofed_volume: rise.final_volume.max(rise.shaped_volume),
            spring: bake.spring,
        };
        let fit = self.named("shape", pan(&input))?;
        let (least, most) = fill_rule(input.whole_grain, gluten_free, lidded);
        let others = self.kitchen.pans.iter().filter(|p| p.name != picked.name && (p.lid || !lidded));
        let fits_also = others
            .filter(|p| !input.low && (least * p.ml..=most * p.ml).contains(&cut.piece.0))
            .map(|p| p.name.clone())
            .collect();
        Ok(Some(PanAnswer {
            name: picked.name.clone(),
            form,
            measured: picked.form.is_some(),
            pans: plan.pieces.div_ceil(together),
            together,
            fit,
            fits_also,
        }))
    }
}

/// The formula with what it bakes in settled: a pan that was picked or measured is the vessel too, with what it is
/// made of.
pub(super) fn in_its_pan(formula: &mut Formula, kitchen: &Kitchen) {
    let picked = formula.shape.pan.as_deref().and_then(|name| kitchen.pans.iter().find(|p| p.name == name));
    let form = match picked {
        Some(pan) => pan.form.unwrap_or_else(|| PanForm::ordinary(pan.ml)),
        None => match formula.shape.tin() {
            Some(form) => form,
            None => return,
        },
    };
    let (vessel, flat) = (formula.oven.vessel, formula.shape.kind == Kind::Flat);
    formula.oven.vessel = match form.shape {
        // A basket stays outside.
        PanShape::Basket => return,
        PanShape::Pot => Vessel::Pot,
        PanShape::Tray => Vessel::Sheet,
        // A low tin under a flat bake is a sheet with a rim.
        PanShape::Tin | PanShape::Round if flat && form.depth <= LOW_RIM => Vessel::Sheet,
        _ if vessel == Vessel::Lidded && picked.is_none_or(|p| p.lid) => Vessel::Lidded,
        _ => Vessel::Tin,
    };
    if let Some(pan) = picked {
        formula.oven.made = pan.made;
    }
}

impl InKitchen<'_> {
    /// Where the dough is to stand in its pan when it is proofed, in words, where that is wished.
    pub(super) fn line_in_the_pan(&self, work: &PieceWork) -> Option<String> {
        let rim = self.formula.rise.rim.filter(|_| work.pan.is_some())?;
        Some(match rim {
            r if r.abs() < 0.05 => "level with the rim".to_owned(),
            r if r > 0.0 => format!("{r:.1} cm over the rim"),
            r => format!("{:.1} cm under the rim", -r),
        })
    }
}

/// How far it rises until it stands at that line of its pan, times the volume that it was shaped at; `None` where
/// no line is wished or no pan is known.
pub(super) fn to_the_line(formula: &Formula, s: &Stations) -> Option<f64> {
    let (rim, pan) = (formula.rise.rim?, s.work.pan.as_ref()?);
    let filled = s.shape.piece.0 * f64::from(pan.together) / DOUGH_DENSITY * s.rise.shaped_volume;
    // By its measured volume, where its form is only nearly known.
    let measured = pan.fit.ml / pan.form.ml();
    let wanted = measured * pan.form.holds_to(pan.form.depth + rim);
    Some(((100.0 * wanted / filled).round() / 100.0).clamp(LEAST_RISE, TARGET.high))
}

/// The least rise that a proof to a line is taken for, times.
const LEAST_RISE: f64 = 1.05;

/// A rim of so many cm or less shades nothing (common practice, no source).
const LOW_RIM: f64 = 4.0;

/// How thick a sheet is rolled for a swirl, cm (common practice, no source).
const SWIRL_THICK: f64 = 1.0;

impl PanForm {
    /// An ordinary tin that holds so many ml: 2.2 times as long as wide, 0.85 as deep.
    pub fn ordinary(ml: f64) -> PanForm {
        let w = (ml / (2.2 * 0.85)).cbrt();
        PanForm {
            shape: PanShape::Tin,
            length: 2.2 * w,
            width: Some(w),
            base_length: None,
            base_width: None,
            depth: 0.85 * w,
        }
    }
}

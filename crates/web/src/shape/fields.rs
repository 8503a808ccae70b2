//! The fields of the Shape station, and of the finish that stands there.

use askama::Template;
use cerealis_core::finish::{FinishWish, Score};
use cerealis_core::formula::MakeUp;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::shape::{Hand, ShapeWish};
use cerealis_core::words::Kind;

use crate::form::{Fields, Form, Visit, as_lengths};
use crate::show::{Pick, picks, picks_of};

impl Fields for ShapeWish {
    fn fields(&mut self, to: &mut impl Visit) {
        to.choice("shape.kind", &mut self.kind);
        to.whole("shape.pieces", &mut self.pieces);
        to.some("shape.piece_weight", &mut self.piece_weight);
        to.whole("shape.strands", &mut self.strands);
        as_lengths(to, [("shape.strand_length", &mut self.strand_length)]);
        to.tick("shape.crossed", &mut self.crossed);
        to.choice("shape.hand", &mut self.hand);
        to.some_text("shape.pan", &mut self.pan);
        to.some_whole("shape.together", &mut self.together);
        as_lengths(
            to,
            [
                ("shape.tin_length", &mut self.tin_length),
                ("shape.tin_width", &mut self.tin_width),
                ("shape.tin_depth", &mut self.tin_depth),
                ("shape.rolled", &mut self.rolled),
            ],
        );
        to.some("shape.on_scale", &mut self.on_scale);
    }
}

impl Fields for FinishWish {
    fn fields(&mut self, to: &mut impl Visit) {
        to.some_choice("finish.score", &mut self.score);
        to.tick("finish.piped", &mut self.piped);
        to.tick("finish.basted", &mut self.basted);
    }
}

impl Fields for MakeUp {
    fn fields(&mut self, to: &mut impl Visit) {
        self.shape.fields(to);
        self.finish.fields(to);
        to.choice("shape.vessel", &mut self.vessel);
    }
}

/// The controls of the station.
#[derive(Template)]
#[template(path = "shape/fields.html")]
pub struct ShapeFields<'a> {
    /// What was typed.
    pub form: &'a Form,
    /// The household's settings.
    pub kitchen: &'a Kitchen,
    /// The further make-ups, drawn.
    pub makeups: &'a str,
}

impl ShapeFields<'_> {
    fn hands(&self) -> Vec<Pick> {
        picks_of::<Hand>(self.form.value("shape.hand"))
    }

    fn pans(&self) -> Vec<Pick> {
        pans(self.kitchen, self.form.value("shape.pan"))
    }

    /// Whether anything is said of how the pieces lie: then the fields are open.
    fn lies(&self) -> bool {
        let names = ["shape.together", "shape.tin_length", "shape.tin_width", "shape.tin_depth"];
        names.iter().any(|n| !self.form.value(n).is_empty() || self.form.fault(n).is_some())
    }

    fn scores(&self) -> Vec<Pick> {
        scores(self.form.value("finish.score"))
    }

    fn kinds(&self) -> Vec<Pick> {
        picks_of::<Kind>(self.form.value("shape.kind"))
    }
}

/// The kitchen's pans, to pick one.
pub fn pans(kitchen: &Kitchen, on: &str) -> Vec<Pick> {
    let own = kitchen.pans.iter().map(|p| (p.name.as_str(), p.name.as_str()));
    picks([("", "none of the kitchen's")].into_iter().chain(own), on)
}

/// The patterns of cuts, to pick one.
pub fn scores(on: &str) -> Vec<Pick> {
    let own = Score::ALL.map(|c| (c.key(), c.name()));
    picks([("", "As is usual for the shape")].into_iter().chain(own), on)
}

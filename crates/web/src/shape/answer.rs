//! The Shape station: from one dough to pieces, in the order of the hands.

use askama::Template;
use cerealis_core::finish::{FinishStep, FinishWish, Score, When};
use cerealis_core::formula::{Formula, MakeUp};
use cerealis_core::shape::{BraidOutput, DivideOutput, Grid, ShapeOutput, ShapeStep, ShapeWish, Size};
use cerealis_core::stations::{MakeUpAnswer, PanAnswer, PieceWork, Stations, TrayAnswer};
use cerealis_core::units::shown;

use super::asked::ShapeAsked;
use crate::picture::{self, both};
use crate::show::{Fact, PhaseRow, fact, makeup_rows};

/// A step of a plait: its picture and its sentence.
struct BraidRow {
    picture: String,
    says: String,
}

/// A plait as shown.
struct BraidShown {
    facts: Vec<Fact>,
    rows: Vec<BraidRow>,
    repeats: String,
    ends: String,
}

/// A pan or a tray as shown.
struct Holder {
    title: String,
    says: Vec<String>,
    picture: String,
    facts: Vec<Fact>,
}

/// A step of the finish as shown.
struct FinishRow {
    when: String,
    title: String,
    what: String,
}

/// The pieces of one make-up: how they are shaped, what they lie in, and their finish.
#[derive(Template)]
#[template(path = "shape/pieces.html")]
struct PiecesOut {
    /// What marks its headings: nothing for the main pieces.
    mark: String,
    /// Which pieces they are; nothing for the main ones.
    name: String,
    steps: Vec<PhaseRow>,
    braid: Option<BraidShown>,
    holder: Option<Holder>,
    finish: Vec<FinishRow>,
    score: Option<String>,
    cautions: Vec<&'static str>,
}

impl PiecesOut {
    fn new(
        (mark, name): (String, String),
        plan: &ShapeWish,
        finish: FinishWish,
        cut: &ShapeOutput,
        work: &PieceWork,
    ) -> Self {
        let score = finish.score(plan.kind);
        let mut cautions: Vec<&'static str> = Vec::new();
        for caution in work.finish.iter().filter_map(|s| s.caution) {
            if !cautions.contains(&caution) {
                cautions.push(caution);
            }
        }
        let step = |s: &ShapeStep| PhaseRow {
            name: s.name.to_owned(),
            goes_in: Vec::new(),
            time: shown::time(s.minutes),
            what: s.what.to_owned(),
            sign: s.sign.to_owned(),
            hands_on: s.hands_on,
        };
        PiecesOut {
            mark,
            name,
            steps: work.steps.iter().filter(|s| s.minutes.0 > 0.0).map(step).collect(),
            braid: work.braid.as_ref().map(|b| braid_shown(b, plan)),
            holder: work.pan.as_ref().map(holder_pan).or_else(|| work.tray.as_ref().map(holder_tray)),
            finish: work.finish.iter().map(finish_row).collect(),
            score: (score != Score::Plain).then(|| picture::score(score, plan.kind, cut.proofed)),
            cautions,
        }
    }
}

fn braid_shown(b: &BraidOutput, plan: &ShapeWish) -> BraidShown {
    let (low, high) = (shown::grams(b.strand_range.0), shown::grams(b.strand_range.1));
    BraidShown {
        facts: vec![
            fact("Strands a piece", plan.strands.to_string()),
            fact("A strand", format!("{} g ({low} to {high})", shown::grams(b.strand))),
            fact("Rolled to", format!("{:.0} cm", b.strand_length)),
            fact("Thick", format!("{:.1} cm, ends {:.1} cm", b.thick.0, b.thick.1)),
        ],
        rows: picture::braid(b, plan.hand)
            .into_iter()
            .zip(&b.steps)
            .map(|(picture, step)| BraidRow { picture, says: step.says.clone() })
            .collect(),
        repeats: match (b.places, b.repeats_after) {
            (1, _) => String::new(),
            (_, 1) => "The same move again and again.".into(),
            (_, n) => format!("The same {n} moves again and again."),
        },
        ends: b.ends.clone(),
    }
}

/// The Shape station.
#[derive(Template)]
#[template(path = "shape/answer.html")]
pub struct ShapeOut {
    pieces: u32,
    weight: String,
    near_enough: String,
    kind: &'static str,
    facts: Vec<Fact>,
    without_a_scale: String,
    grid: Option<Vec<String>>,
    pinches: Vec<String>,
    main: String,
    others: Vec<String>,
    notes: Vec<String>,
    can_fit: bool,
    makeups: Vec<[String; 4]>,
}

impl ShapeOut {
    /// Shows the pieces.
    ///
    /// # Errors
    /// What the template of the pieces reports.
    pub fn new(f: &Formula, s: &Stations, asked: &ShapeAsked) -> Result<Self, askama::Error> {
        let (o, work) = (&s.shape, &s.work);
        let mut facts = Vec::new();
        facts.push(fact("When shaped", size(&o.shaped)));
        facts.push(fact("Ready for the oven", size(&o.proofed)));
        facts.push(fact("Left over", format!("{} g", shown::grams(o.left_over))));
        if let Some(filling) = work.filling {
            facts.push(fact("Filling for each", format!("{} g", shown::grams(filling))));
        }
        let nobody = (String::new(), String::new());
        let main = PiecesOut::new(nobody, &f.shape, f.finish, o, work).render()?;
        let other = |(n, (m, a)): (usize, (&MakeUp, &MakeUpAnswer))| {
            let named = (format!("-{}", n + 2), format!("Portion {}: {}", n + 2, m.name()));
            PiecesOut::new(named, &m.shape, m.finish, &a.shape, &a.work).render()
        };
        let others = f.makeups.iter().zip(&s.makeups).enumerate().map(other);
        Ok(ShapeOut {
            main,
            others: others.collect::<Result<_, _>>()?,
            makeups: makeup_rows(f, s),
            pieces: f.shape.pieces,
            weight: shown::grams(o.piece),
            near_enough: near_enough(f.shape.pieces, &work.divide),
            kind: f.shape.kind.name(),
            facts,
            without_a_scale: without_a_scale(&work.divide),
            grid: work.divide.grid.as_ref().map(grid_sentences),
            pinches: match &asked.weighed {
                None => Vec::new(),
                Some(Ok(w)) => pinch_sentences(w, asked.count),
                Some(Err(faults)) => vec![faults.to_string()],
            },
            notes: o.notes.clone(),
            can_fit: o.left_over.0.abs() > 0.5,
        })
    }
}

fn size(z: &Size) -> String {
    if (z.length - z.width).abs() < 0.05 {
        format!("{:.0} cm across, {:.1} cm high", z.width, z.height)
    } else {
        format!("{:.0} × {:.0} cm, {:.1} cm high", z.length, z.width, z.height)
    }
}

fn near_enough(pieces: u32, d: &DivideOutput) -> String {
    if pieces == 1 {
        return String::new();
    }
    let (low, high) = (shown::grams(d.near_enough.0), shown::grams(d.near_enough.1));
    format!("{low} to {high} g is near enough.")
}

/// The division tree as a sentence.
fn without_a_scale(d: &DivideOutput) -> String {
    if d.tree.is_empty() {
        return String::new();
    }
    let steps: Vec<String> = d
        .tree
        .iter()
        .enumerate()
        .map(|(n, p)| {
            let how = match (p.into, n) {
                (2, 0) => "halve it".to_owned(),
                (2, _) => "halve each again".to_owned(),
                (into, 0) => format!("cut it in {into}"),
                (into, _) => format!("cut each in {into}"),
            };
            format!("{how} ({} of {} g)", p.parts, shown::grams(p.each))
        })
        .collect();
    format!("Without a scale: {}.", steps.join(", "))
}

fn grid_sentences(g: &Grid) -> Vec<String> {
    let marks = |at: &[f64]| at.iter().map(|cm| format!("{cm:.1}")).collect::<Vec<_>>().join(", ");
    let mut all = vec![format!(
        "Roll the dough to {:.0} × {:.0} cm: {} × {} squares of {:.1} cm.",
        g.sheet.0, g.sheet.1, g.columns, g.rows, g.side
    )];
    if !g.along.is_empty() {
        all.push(format!("Cut across at {} cm.", marks(&g.along)));
    }
    if !g.across.is_empty() {
        all.push(format!("Cut along at {} cm.", marks(&g.across)));
    }
    all
}

fn pinch_sentences(d: &DivideOutput, weighed: usize) -> Vec<String> {
    if weighed == 0 {
        return Vec::new();
    }
    if d.pinches.is_empty() {
        return vec!["All of them are near enough.".into()];
    }
    d.pinches
        .iter()
        .map(|p| {
            let g = shown::grams(p.grams);
            match p.to {
                Some(to) => format!("{g} g from piece {} to piece {}.", p.from + 1, to + 1),
                None => format!("{g} g off piece {}.", p.from + 1),
            }
        })
        .collect()
}

fn holder_pan(p: &PanAnswer) -> Holder {
    let mut says = vec![p.fit.says.clone()];
    if p.together > 1 {
        says.insert(
            0,
            match p.pans {
                1 => format!("All {} lie in it side by side, and bake as one.", p.together),
                pans => format!("{} in each of {pans}, side by side: they bake as one.", p.together),
            },
        );
    }
    if p.fit.over.0 != 0.0 && !p.fits_also.is_empty() {
        says.push(format!("It fits: {}.", p.fits_also.join(", ")));
    }
    if !p.measured {
        says.push("Only its volume is known; it is drawn as an ordinary tin.".into());
    }
    let (low, high) = (shown::grams(p.fit.usual.0), shown::grams(p.fit.usual.1));
    Holder {
        title: p.name.clone(),
        says,
        picture: both(|room| picture::pan(p, room)),
        facts: vec![
            fact("Holds", format!("{:.0} ml", p.fit.ml)),
            fact("Usual for it", format!("{low} to {high} g")),
            fact(
                "Ready",
                format!(
                    "{}, {:.1} times as it was filled",
                    picture::under_rim(p.fit.ready_line),
                    p.fit.ready_times
                ),
            ),
        ],
    }
}

fn holder_tray(t: &TrayAnswer) -> Holder {
    let l = &t.layout;
    let says = if l.says.is_empty() { Vec::new() } else { vec![l.says.clone()] };
    Holder {
        title: "Tray".into(),
        says,
        picture: both(|room| picture::tray(t, room)),
        facts: vec![
            fact("On one tray", format!("{}, {}", l.fits, picture::lies(l.lie))),
            fact("Trays", l.trays.to_string()),
            fact("A piece, baked", size(&t.piece)),
        ],
    }
}

fn finish_row(s: &FinishStep) -> FinishRow {
    FinishRow {
        when: match s.when {
            When::Shaped => "when shaped".into(),
            When::Before(m) => format!("{} before", shown::time(m)),
            When::Into(m) => format!("{} in", shown::time(m)),
            When::ToGo(m) => format!("{} to go", shown::time(m)),
            When::After(_) => "out of the oven".into(),
            When::Cold => "when cold".into(),
        },
        title: s.title.clone(),
        what: s.what.clone(),
    }
}

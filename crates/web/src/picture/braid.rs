//! Plaiting, a picture a step: what is woven already, and the strand that moves now.

use std::f64::consts::PI;

use cerealis_core::shape::{BraidOutput, Hand, Move, Passes};

use super::Svg;

/// Width of a picture, and height of a row of crossings.
const WIDE: f64 = 150.0;
const ROW: f64 = 34.0;
/// How many rows of what was woven are shown over the present one.
const SHOWN: usize = 3;

/// A picture for each step of a plait, for the hand that it was worked out for.
pub fn braid(b: &BraidOutput, hand: Hand) -> Vec<String> {
    match b.places {
        1 => (0..b.steps.len()).map(|n| knot(n, hand, &b.steps[n].says)).collect(),
        _ if b.steps[0].moves.is_empty() => {
            (0..b.steps.len()).map(|n| round(b.places, &b.steps[n].moves, n, &b.steps[n].says)).collect()
        }
        _ => (0..b.steps.len()).map(|n| long(b, n)).collect(),
    }
}

/// One strand's way through a row, as a path with a dark edge, so that what lies over shows.
fn strand(svg: &mut Svg, from: (f64, f64), to: (f64, f64), moves: bool, thick: f64) {
    let bend = 0.5 * (to.1 - from.1);
    let d = format!(
        "M{:.1} {:.1}C{:.1} {:.1} {:.1} {:.1} {:.1} {:.1}",
        from.0,
        from.1,
        from.0,
        from.1 + bend,
        to.0,
        to.1 - bend,
        to.0,
        to.1
    );
    let class = if moves { "strand moves" } else { "strand" };
    svg.raw(&format!(
        r#"<path d="{d}" class="strand-edge" stroke-width="{:.1}"/><path d="{d}" class="{class}" stroke-width="{:.1}"/>"#,
        thick + 4.0,
        thick
    ));
}

/// A long plait at step `n`: the rows before it and its own, then the strands lying ready.
fn long(b: &BraidOutput, n: usize) -> String {
    let places = b.places;
    let first = (n + 1).saturating_sub(SHOWN + 1);
    let rows = n + 1 - first;
    let height = ROW * rows as f64 + 64.0;
    let mut svg = Svg::new(WIDE, height);
    let pitch = (WIDE - 30.0) / (places.max(3) - 1) as f64;
    let left = 0.5 * (WIDE - pitch * (places - 1) as f64);
    let x = |place: usize| left + pitch * place as f64;
    let thick = (0.55 * pitch).min(18.0);
    let start = |row: usize| 12.0 + ROW * (row - first) as f64;
    // The strand that moves now is dark all along its way.
    let before = |row: usize| -> Vec<usize> {
        if row == 0 { (0..places).collect() } else { b.steps[row - 1].order.clone() }
    };
    let now = before(n)[b.steps[n].moves[0].from];
    for place in 0..places {
        strand(&mut svg, (x(place), 0.0), (x(place), 13.0), before(first)[place] == now, thick);
    }
    for row in first..=n {
        let (m, order) = (&b.steps[row].moves[0], before(row));
        let (y0, y1) = (start(row), start(row) + ROW);
        let mut lay = |from: usize, to: usize| {
            strand(&mut svg, (x(from), y0), (x(to), y1), order[from] == now, thick);
        };
        let (over, under): (Vec<_>, Vec<_>) =
            others(m, places).into_iter().partition(|(_, _, passes)| *passes == Some(Passes::Under));
        under.into_iter().for_each(|(from, to, _)| lay(from, to));
        lay(m.from, m.to);
        over.into_iter().for_each(|(from, to, _)| lay(from, to));
    }
    for place in 0..places {
        let y = start(n) + ROW;
        strand(&mut svg, (x(place), y), (x(place), y + 22.0), b.steps[n].order[place] == now, thick);
    }
    for place in 0..places {
        svg.text(x(place), height - 6.0, "middle", "tick", &(place + 1).to_string());
    }
    svg.finish(&b.steps[n].says, "braid-step")
}

/// The strands that do not move of themselves: from where to where, and how the mover passes them.
fn others(m: &Move, places: usize) -> Vec<(usize, usize, Option<Passes>)> {
    let leftwards = m.from > m.to;
    (0..places)
        .filter(|p| *p != m.from)
        .map(|p| {
            let between =
                if leftwards { (m.to..m.from).contains(&p) } else { (m.from + 1..=m.to).contains(&p) };
            if !between {
                return (p, p, None);
            }
            let passed = if leftwards { m.from - 1 - p } else { p - m.from - 1 };
            (p, if leftwards { p + 1 } else { p - 1 }, m.passes.get(passed).copied())
        })
        .collect()
}

/// A round plait or a cross from above: its legs, and those that cross in this round.
fn round(legs: usize, moves: &[Move], n: usize, says: &str) -> String {
    let mut svg = Svg::new(WIDE, WIDE);
    let c = 0.5 * WIDE;
    // The ends of a cross lie up, right, down and left; eight legs lie two to a side.
    let first = if legs > 4 { PI / legs as f64 } else { 0.0 };
    let angle = |leg: f64| -0.5 * PI + first + 2.0 * PI * leg / legs as f64;
    let at = |leg: f64, r: f64| (c + r * angle(leg).cos(), c + r * angle(leg).sin());
    let woven = 16.0 + 6.0 * n as f64;
    for leg in 0..legs {
        let (a, b) = (at(leg as f64, woven - 2.0), at(leg as f64, 66.0));
        svg.raw(&format!(
            r#"<line x1="{:.1}" y1="{:.1}" x2="{:.1}" y2="{:.1}" class="strand-edge" stroke-width="15"/><line x1="{0:.1}" y1="{1:.1}" x2="{2:.1}" y2="{3:.1}" class="strand" stroke-width="11"/>"#,
            a.0, a.1, b.0, b.1
        ));
    }
    svg.raw(&format!(r#"<circle cx="{c:.1}" cy="{c:.1}" r="{woven:.1}" class="woven"/>"#));
    for (i, d) in [(-1.0, 0.0), (1.0, 0.0), (0.0, -1.0), (0.0, 1.0)].iter().enumerate() {
        let r = 0.55 * woven;
        let (x, y) = (c + 0.3 * d.0 * r, c + 0.3 * d.1 * r);
        let (dx, dy) = if i < 2 { (0.0, r) } else { (r, 0.0) };
        svg.line(x - dx, y - dy, x + dx, y + dy, "woven-line");
    }
    for m in moves {
        let from = m.from as f64;
        let (a, mid, b) = if m.from.abs_diff(m.to) == legs / 2 {
            // Over the middle, past the end that comes the other way.
            (at(from, 58.0), at(from + 1.0, 30.0), at(from + 1.9, 50.0))
        } else {
            let way = if (m.from + 1) % legs == m.to { 1.0 } else { -1.0 };
            (at(from, 58.0), at(from + 0.5 * way, 78.0), at(from + 0.82 * way, 58.0))
        };
        svg.raw(&format!(
            r#"<path d="M{:.1} {:.1}Q{:.1} {:.1} {:.1} {:.1}" class="carry"/><circle cx="{4:.1}" cy="{5:.1}" r="4.5" class="carry-end"/>"#,
            a.0, a.1, mid.0, mid.1, b.0, b.1
        ));
    }
    svg.finish(says, "braid-step")
}

/// One strand knotted: what lies beneath is drawn first, and what moves is dark.
fn knot(n: usize, hand: Hand, says: &str) -> String {
    const TAIL: &str = "M100 124C90 106 46 98 41 58";
    const TUCKED: &str = "M84 104C70 98 45 88 41 58";
    const LOOP: &str = "M41 61L41 58C38 6 112 6 109 58L109 61";
    const RIGHT_END: &str = "M109 58C106 96 62 104 50 124";
    const ROUND: &str = "M109 58C106 92 74 102 52 110";
    const THROUGH: &str = "M55 109L52 110C18 121 16 74 46 72S72 62 76 46";
    let (lies, moves) = (false, true);
    let ways: &[(&str, bool)] = match n {
        0 => &[(TAIL, lies), (LOOP, lies), (RIGHT_END, moves)],
        1 => &[(THROUGH, moves), (TAIL, lies), (LOOP, lies), (ROUND, moves)],
        _ => &[(THROUGH, lies), (TUCKED, moves), (LOOP, lies), (ROUND, lies)],
    };
    let mut svg = Svg::new(WIDE, 134.0);
    if hand == Hand::Left {
        svg.raw(&format!(r#"<g transform="matrix(-1 0 0 1 {WIDE} 0)">"#));
    }
    for (d, moves) in ways {
        let class = if *moves { "strand moves" } else { "strand" };
        svg.raw(&format!(
            r#"<path d="{d}" class="strand-edge" stroke-width="20"/><path d="{d}" class="{class}" stroke-width="16"/>"#
        ));
    }
    if n == 2 {
        // From below into the middle, where it is out of sight.
        svg.raw(r#"<path d="M88 126Q104 100 82 76" class="carry beneath"/><circle cx="82" cy="76" r="4.5" class="carry-end"/>"#);
    }
    if hand == Hand::Left {
        svg.raw("</g>");
    }
    svg.finish(says, "braid-step")
}

//! What matters: minutes gained or lost by small changes, as bars from a middle line.

use cerealis_core::rise::Matter;
use cerealis_core::units::{Minutes, shown};

use super::{Room, Svg};

/// Draws the bars, those that shorten the rise to the left.
pub fn matters(all: &[Matter], room: Room) -> String {
    let width = if room.narrow() { room.width() } else { 0.5 * room.width() - 10.0 };
    let row = 38.0;
    let height = row * all.len() as f64 + 26.0;
    let most = all.iter().map(|m| m.moves.0.abs()).fold(1.0, f64::max);
    let (middle, reach) = (0.5 * width, 0.5 * width - 66.0);
    let mut svg = Svg::new(width, height);
    svg.line(middle, 16.0, middle, height - 24.0, "axis");
    for (i, m) in all.iter().enumerate() {
        let y = row * i as f64;
        let length = reach * m.moves.0.abs() / most;
        let sooner = m.moves.0 < 0.0;
        let x = if sooner { middle - length } else { middle };
        svg.text(middle, y + 13.0, "middle", "name halo", &m.change);
        svg.rect(x, y + 18.0, length.max(1.5), 12.0, if sooner { "bar-sooner" } else { "bar-later" });
        let figure = format!("{}{}", if sooner { "−" } else { "+" }, shown::time(Minutes(m.moves.0.abs())));
        let (x, anchor) = if sooner { (x - 6.0, "end") } else { (x + length + 6.0, "start") };
        svg.text(x, y + 29.0, anchor, "name strong", &figure);
    }
    svg.text(middle - 10.0, height - 6.0, "end", "tick", "sooner");
    svg.text(middle + 10.0, height - 6.0, "start", "tick", "later");
    let said: Vec<String> = all.iter().map(|m| format!("{}: {:+.0} min", m.change, m.moves.0)).collect();
    svg.finish(&format!("What matters for the bulk rise: {}", said.join("; ")), "matters")
}

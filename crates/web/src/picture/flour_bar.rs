//! The flour bar: every ingredient drawn against the flour, which is the whole bar.

use cerealis_core::formula::Formula;
use cerealis_core::pantry::{Catalogue, Group, Ingredient};
use cerealis_core::units::{Grams, shown};

use super::{Room, Svg};

struct Share<'a> {
    ingredient: &'a Ingredient,
    grams: f64,
    ahead: f64,
}

/// Adds up the lines of each ingredient, heaviest first.
fn shares<'a>(formula: &Formula, catalogue: &'a Catalogue) -> Vec<Share<'a>> {
    let mut shares: Vec<Share<'_>> = Vec::new();
    for line in formula.lines.iter().filter(|l| l.stage.in_dough() && l.grams.0 > 0.0) {
        let Some(ingredient) = catalogue.get(&line.ingredient) else { continue };
        let ahead = if line.stage.is_preferment() { line.grams.0 } else { 0.0 };
        match shares.iter_mut().find(|s| s.ingredient.key == ingredient.key) {
            Some(s) => {
                s.grams += line.grams.0;
                s.ahead += ahead;
            }
            None => shares.push(Share { ingredient, grams: line.grams.0, ahead }),
        }
    }
    shares.sort_by(|a, b| b.grams.total_cmp(&a.grams));
    shares
}

fn tone(group: Group) -> &'static str {
    match group {
        Group::Flour => "tone-flour",
        Group::Liquid => "tone-liquid",
        Group::Dairy | Group::Egg => "tone-dairy",
        Group::Fat => "tone-fat",
        Group::Sugar => "tone-sugar",
        Group::Culture | Group::Yeast => "tone-living",
        Group::Salt => "tone-salt",
        Group::Seed | Group::Nut | Group::Fruit | Group::Spice | Group::Other => "tone-grain",
    }
}

/// Draws the flour bar.
pub fn flour_bar(formula: &Formula, catalogue: &Catalogue, flour: Grams, room: Room) -> String {
    let shares = shares(formula, catalogue);
    let (flours, others): (Vec<_>, Vec<_>) = shares.iter().partition(|s| s.ingredient.group == Group::Flour);
    let narrow = room.narrow();
    let (left, right) = if narrow { (0.0, 4.0) } else { (190.0, 120.0) };
    let (row, bar) = if narrow { (44.0, 16.0) } else { (30.0, 16.0) };
    let flour_height = 40.0;
    let top = 24.0;
    let width = room.width();
    let most = others.iter().map(|s| s.grams / flour.0).fold(1.0, f64::max);
    let scale = (width - left - right) / most;
    let height = top + flour_height + 14.0 + row * others.len() as f64;
    let mut svg = Svg::new(width, height);
    let id = room.id("ahead");
    svg.raw(&format!(
        r#"<defs><pattern id="{id}" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="2.4" height="6" class="hatch"/></pattern></defs>"#
    ));
    let ahead = |svg: &mut Svg, x: f64, y: f64, w: f64, h: f64| {
        if w > 0.0 {
            svg.raw(&format!(
                r#"<rect x="{x:.1}" y="{y:.1}" width="{w:.1}" height="{h:.1}" fill="url(#{id})"/>"#
            ));
        }
    };

    for quarter in 0..=4 {
        let x = left + scale * f64::from(quarter) / 4.0;
        svg.line(x, top - 4.0, x, height, "grid");
        let anchor = match quarter {
            0 => "start",
            4 if narrow => "end",
            _ => "middle",
        };
        svg.text(x, 14.0, anchor, "tick", &format!("{}", quarter * 25));
    }
    if !narrow {
        svg.text(left - 10.0, top + 25.0, "end", "name strong", "Flour");
        svg.text(
            left + scale * most + 10.0,
            top + 25.0,
            "start",
            "figure",
            &format!("100 % · {} g", shown::grams(flour)),
        );
    }
    let mut x = left;
    for (i, s) in flours.iter().enumerate() {
        let w = scale * s.grams / flour.0;
        let shade = if i % 2 == 0 { "tone-flour" } else { "tone-flour-2" };
        svg.rect(x, top, w, flour_height, shade);
        ahead(&mut svg, x, top, scale * s.ahead / flour.0, flour_height);
        let text = &s.ingredient.name;
        if w > 8.2 * text.len() as f64 + 12.0 {
            svg.text(x + 8.0, top + 25.0, "start", "on-flour", text);
        }
        x += w;
    }
    // Flour inside a culture completes the bar.
    svg.rect(x, top, left + scale - x, flour_height, "tone-living");
    svg.rect(left, top, scale, flour_height, "frame");

    let mut y = top + flour_height + 14.0;
    for s in others {
        let share = s.grams / flour.0;
        let text = format!(
            "{} % · {} g",
            shown::percent(cerealis_core::units::Percent(100.0 * share)),
            shown::grams(Grams(s.grams))
        );
        let w = (scale * share).max(1.5);
        let bar_y = if narrow { y + 20.0 } else { y + 2.0 };
        svg.rect(left, bar_y, w, bar, tone(s.ingredient.group));
        ahead(&mut svg, left, bar_y, scale * s.ahead / flour.0, bar);
        if narrow {
            svg.text(0.0, y + 14.0, "start", "name", &short(&s.ingredient.name, 30));
            svg.text(width - right, y + 14.0, "end", "figure", &text);
        } else {
            svg.text(left - 10.0, y + 15.0, "end", "name", &short(&s.ingredient.name, 24));
            svg.text(left + w + 10.0, y + 15.0, "start", "figure", &text);
        }
        y += row;
    }
    let label =
        format!("Every ingredient against {} g of flour, which is the whole bar", shown::grams(flour));
    svg.finish(&label, "flour-bar")
}

/// A name cut to fit.
fn short(name: &str, most: usize) -> String {
    if name.chars().count() <= most {
        return name.to_owned();
    }
    let cut: String = name.chars().take(most - 1).collect();
    format!("{}…", cut.trim_end_matches([' ', '(']))
}

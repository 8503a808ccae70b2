//! Tables of ingredients with columns of grams and per cents, written out as lines: an amount and a name under the
//! heading of its column.

use crate::heading::{Opens, heading};
use crate::name::Names;
use cerealis_core::words::Stage;

/// The least rows of a table.
const ROWS: usize = 3;

/// What flour a recipe in per cents alone is of, g.
const FLOUR: f64 = 1000.0;

/// What a column holds.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Column {
    /// Grams of one of its figures, for the dough or a stage.
    Mass(f64, Stage),
    Percent,
    /// Another size of the batch, a total, a price: not read.
    Other,
}

struct Row<'a> {
    name: &'a str,
    cells: Vec<&'a str>,
}

/// The text with its tables written out as lines. A row that names a stage is what another column holds.
pub(super) fn written_out(lines: Vec<String>, names: &Names) -> Vec<String> {
    let rows: Vec<Option<Row<'_>>> = lines.iter().map(|l| row(l)).collect();
    let mut out: Vec<String> = Vec::new();
    let mut i = 0;
    while i < lines.len() {
        let end = table_end(&rows, i, &lines);
        let table: Vec<&Row<'_>> = rows[i..end].iter().flatten().collect();
        let known = table.iter().filter(|r| !names.find(r.name).candidates.is_empty()).count();
        if table.len() >= ROWS && known * 2 >= table.len() {
            let head = header(&lines, i);
            if head.is_some() {
                out.pop();
            }
            if let Some(written) = write_out(&table, head, names) {
                out.extend(written);
                i = end;
                continue;
            }
            if let Some(h) = head {
                out.push(h.to_owned());
            }
        }
        out.push(lines[i].clone());
        i += 1;
    }
    out
}

/// Where the rows that begin at a line end; a line of dashes and a total are part of them.
fn table_end(rows: &[Option<Row<'_>>], from: usize, lines: &[String]) -> usize {
    let mut end = from;
    if rows[from].is_none() {
        return from + 1;
    }
    while end < rows.len()
        && (rows[end].is_some()
            || lines[end].trim().chars().all(|c| matches!(c, '-' | '=' | '_' | ' ' | '|' | '+'))
                && !lines[end].trim().is_empty())
    {
        end += 1;
    }
    end
}

/// The cells of a line.
fn cells(line: &str) -> Vec<&str> {
    let by = |c: char| line.split(c).map(str::trim).collect::<Vec<_>>();
    if line.contains('\t') {
        by('\t')
    } else if line.matches(';').count() >= 2 {
        by(';')
    } else if line.matches('|').count() >= 1 {
        by('|').into_iter().skip_while(|c| c.is_empty()).collect()
    } else {
        let mut out = Vec::new();
        let mut rest = line.trim();
        while let Some(at) = rest.find("  ") {
            out.push(rest[..at].trim());
            rest = rest[at..].trim_start();
        }
        out.push(rest);
        out
    }
}

/// A figure of a cell, and the unit that stands by it.
fn figure(cell: &str) -> Option<(f64, &str)> {
    let cell = cell.trim();
    let end = cell.find(|c: char| !(c.is_ascii_digit() || c == '.' || c == ',')).unwrap_or(cell.len());
    let digits = &cell[..end];
    let stops = digits.matches(['.', ',']).count();
    let plain = if stops == 1
        && digits.rsplit(['.', ',']).next().is_some_and(|d| d.len() == 3)
        && digits.contains(',')
    {
        digits.replace(',', "")
    } else {
        digits.replace(',', ".")
    };
    let number: f64 = plain.parse().ok()?;
    let unit = cell[end..].trim();
    (unit.len() <= 6 || unit.starts_with('(')).then_some((number, unit))
}

fn is_empty(cell: &str) -> bool {
    cell.is_empty() || cell.chars().all(|c| matches!(c, '-' | '–' | '—' | '.'))
}

fn row(text: &str) -> Option<Row<'_>> {
    let all = cells(text);
    let (name, cells) = all.split_first()?;
    let named = name.chars().any(char::is_alphabetic)
        && !name.starts_with(|c: char| c.is_ascii_digit())
        && name.split_whitespace().count() <= 7
        && !name.ends_with(':');
    let cells: Vec<&str> =
        cells.iter().copied().filter(|c| !c.is_empty() || text.contains(['\t', ';', '|'])).collect();
    let figures = cells.iter().filter(|c| figure(c).is_some()).count();
    let odd = cells.iter().filter(|c| figure(c).is_none() && !is_empty(c)).count();
    (named
        && figures >= 1
        && (odd == 0 || odd == 1 && figures >= 1 && cells.last().is_some_and(|c| figure(c).is_none())))
    .then_some(Row { name, cells })
}

/// The line over a table that names its columns.
fn header(lines: &[String], from: usize) -> Option<&str> {
    let over = (from.saturating_sub(2)..from).rev().map(|n| lines[n].as_str()).find(|l| {
        !l.trim().is_empty() && !l.trim().chars().all(|c| matches!(c, '-' | '=' | '_' | ' ' | '|'))
    })?;
    let lower = over.to_lowercase();
    let heads = cells(over).len() >= 2 || ["%", "grams", " g", "kg"].iter().any(|w| lower.ends_with(w));
    let named =
        ["%", "gram", "kg", "total", "loaf", "batch", "dough", "g", "weight", "poolish", "biga", "levain"]
            .iter()
            .any(|w| {
                lower
                    .split(|c: char| c.is_whitespace() || c == ';' || c == '|')
                    .any(|x| x == *w || x.trim_end_matches('s') == *w)
            });
    (heads && named && !over.trim_end().ends_with('.')).then_some(over)
}

fn is_total(name: &str) -> bool {
    let lower = name.to_lowercase();
    [
        "total",
        "sum",
        "yield",
        "dough weight",
        "hydration",
        "ddt",
        "cost",
        "flour in",
        "true hydration",
        "per loaf",
    ]
    .iter()
    .any(|w| lower.starts_with(w))
}

/// What each column holds: by its heading, by the signs in its cells, by its sum.
fn columns(table: &[&Row<'_>], head: Option<&str>, names: &Names) -> Vec<Column> {
    let many = table.iter().map(|r| r.cells.len()).max().unwrap_or(0);
    let headed: Vec<&str> = head.map(cells).unwrap_or_default();
    // The heading of the names may be missing.
    let shift = headed.len().saturating_sub(many);
    let flour = |n: usize| -> f64 {
        table
            .iter()
            .filter(|r| {
                !is_total(r.name)
                    && names
                        .find(r.name)
                        .candidates
                        .first()
                        .is_some_and(|k| k.contains("flour") || k.contains("meal"))
            })
            .filter_map(|r| figure(r.cells.get(n)?))
            .map(|(x, _)| x)
            .sum()
    };
    let mut masses = 0;
    let mut out: Vec<Column> = (0..many)
        .map(|n| {
            let title = headed.get(n + shift).map_or(String::new(), |h| h.to_lowercase());
            let units: Vec<&str> =
                table.iter().filter_map(|r| figure(r.cells.get(n)?)).map(|(_, u)| u).collect();
            let unit =
                |u: &str| units.iter().filter(|x| x.trim_end_matches('.') == u).count() * 2 > units.len();
            let percent =
                title.contains('%') || unit("%") || (flour(n) - 100.0).abs() < 0.6 && !title.contains('g');
            if percent {
                return Column::Percent;
            }
            let says = |words: &[&str]| {
                words.iter().any(|w| title.split(|c: char| !c.is_alphanumeric()).any(|x| x == *w))
            };
            let scale = if says(&["kg"]) || unit("kg") {
                1000.0
            } else if says(&["oz"]) || unit("oz") {
                28.349_523
            } else if says(&["lb", "lbs"]) || unit("lb") {
                453.592_37
            } else {
                1.0
            };
            if says(&["cost", "price", "baker's"]) {
                return Column::Other;
            }
            let stage = match heading(
                title.trim_end_matches(" g").trim_end_matches(" kg").trim_end_matches(" (g)"),
            ) {
                Some(Opens::Stage(stage)) => stage,
                _ => Stage::Dough,
            };
            Column::Mass(scale, stage)
        })
        .collect();
    let staged = out.iter().any(|c| matches!(c, Column::Mass(_, s) if *s != Stage::Dough));
    for (n, column) in out.iter_mut().enumerate() {
        let title = headed.get(n + shift).map_or(String::new(), |h| h.to_lowercase());
        if let Column::Mass(_, Stage::Dough) = column {
            let total = staged && (title.contains("total") || title.contains("overall"));
            if total || masses > 0 {
                *column = Column::Other;
            } else {
                masses += 1;
            }
        }
    }
    out
}

fn write_out(table: &[&Row<'_>], head: Option<&str>, names: &Names) -> Option<Vec<String>> {
    let columns = columns(table, head, names);
    let masses: Vec<(usize, f64, Stage)> = columns
        .iter()
        .enumerate()
        .filter_map(
            |(n, c)| if let Column::Mass(scale, stage) = c { Some((n, *scale, *stage)) } else { None },
        )
        .collect();
    let percent = columns.iter().position(|c| *c == Column::Percent);
    let mut out = Vec::new();
    let stages: Vec<Stage> = masses.iter().map(|m| m.2).filter(|s| *s != Stage::Dough).collect();
    let rows = || table.iter().filter(|r| !is_total(r.name));
    if masses.is_empty() {
        let n = percent?;
        for r in rows() {
            let (x, _) = figure(r.cells.get(n)?)?;
            out.push(format!("{} g {}", grams(x * FLOUR / 100.0), r.name));
        }
        return Some(out);
    }
    let mut order = masses.clone();
    order.sort_by_key(|m| m.2 == Stage::Dough);
    for (n, scale, stage) in order {
        if !stages.is_empty() {
            out.push(format!("{}:", stage.name()));
        }
        for r in rows() {
            let Some((x, unit)) = r.cells.get(n).and_then(|c| figure(c)) else { continue };
            // “Poolish 3.0” in the column of the dough is what the column of the poolish holds.
            let named = matches!(heading(r.name), Some(Opens::Stage(s)) if stages.contains(&s));
            if named {
                continue;
            }
            let kept = ["ml", "l", "tsp", "tbsp", "cups", "cup"].contains(&unit);
            out.push(if kept {
                format!("{x} {unit} {}", r.name)
            } else {
                format!("{} g {}", grams(x * scale), r.name)
            });
        }
    }
    Some(out)
}

/// Grams without a tail of rounding.
fn grams(x: f64) -> f64 {
    (x * 1e4).round() / 1e4
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::pantry::Catalogue;
    use rstest::rstest;

    #[rstest]
    #[case("Flour;%;g\nBread flour;100;500\nWater;70;350\nSalt;2;10\nTOTAL;172;860", &["500 g Bread flour", "350 g Water", "10 g Salt"])]
    #[case("Bread flour    100 %\nWater           68 %\nSalt             2 %", &["1000 g Bread flour", "680 g Water", "20 g Salt"])]
    #[case("             Total kg   Poolish kg   Final dough kg\nBread flour   5.0        1.5          3.5\nWater         3.3        1.5          1.8\nSalt          0.09       -            0.09\nPoolish       -          -            3.0", &["Poolish:", "1500 g Bread flour", "1500 g Water", "Dough:", "3500 g Bread flour", "1800 g Water", "90 g Salt"])]
    fn tables_are_written_out(#[case] text: &str, #[case] lines: &[&str]) {
        let names = Names::of(Catalogue::bundled());
        assert_eq!(written_out(text.lines().map(str::to_owned).collect(), &names), lines);
    }

    #[test]
    fn what_is_no_table_stays() {
        let names = Names::of(Catalogue::bundled());
        let text = ["Knead  10 minutes", "500 g flour", "Bake at 220 °C"];
        assert_eq!(written_out(text.iter().map(|l| (*l).to_owned()).collect(), &names), text);
    }
}

//! Tables and pictures of practice in docs, made by the tests, so that they are of today.

use std::fmt::Write;

/// A case in a picture: a bar for its range, a line for what is likely, a dot for what came out; a ring where that is
/// outside. All of them across, in the picture's own units.
pub struct Row {
    pub name: String,
    pub range: (f64, f64),
    pub likely: (f64, f64),
    pub got: f64,
    pub inside: bool,
}

/// How high a row is.
const ROW: f64 = 15.0;

/// Rows under marks that run down all of them, right of `left`.
pub fn picture(left: f64, marks: &[(f64, String)], rows: &[Row]) -> String {
    let high = ROW * (rows.len() + 2) as f64;
    let mut svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 760 {high:.0}\" font-family=\"sans-serif\" font-size=\"10\">\n\
         <rect width=\"760\" height=\"{high:.0}\" fill=\"#fbf7ee\"/>\n"
    );
    for (at, name) in marks {
        let _ = writeln!(
            svg,
            "<path d=\"M{at:.1} 16V{high:.0}\" stroke=\"#d9cfbb\"/><text x=\"{at:.1}\" y=\"11\" text-anchor=\"middle\" fill=\"#5b4a36\">{name}</text>",
        );
    }
    for (n, r) in rows.iter().enumerate() {
        let y = ROW * (n as f64 + 1.7);
        let dot = if r.inside {
            "fill=\"#7a4a22\""
        } else {
            "fill=\"#fbf7ee\" stroke=\"#9c1c1c\" stroke-width=\"2\""
        };
        let _ = writeln!(
            svg,
            "<text x=\"{:.0}\" y=\"{:.1}\" text-anchor=\"end\" fill=\"#2d241a\">{}</text><rect x=\"{:.1}\" y=\"{:.1}\" width=\"{:.1}\" height=\"9\" rx=\"3\" fill=\"#e7cf9f\"/><path d=\"M{:.1} {y:.1}H{:.1}\" stroke=\"#7a4a22\"/><circle cx=\"{:.1}\" cy=\"{y:.1}\" r=\"3.5\" {dot}/>",
            left - 8.0,
            y + 3.5,
            r.name,
            r.range.0,
            y - 4.5,
            r.range.1 - r.range.0,
            r.likely.0,
            r.likely.1,
            r.got
        );
    }
    svg + "</svg>\n"
}

/// Holds that files of docs are as they were made; `DOCS=write` writes them.
pub fn of_today(files: &[(&str, String)]) {
    let docs = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs");
    for (name, made) in files {
        let path = docs.join(name);
        if std::env::var_os("DOCS").is_some() {
            std::fs::write(&path, made).unwrap();
        }
        let there = std::fs::read_to_string(&path).unwrap_or_default();
        assert!(there == *made, "docs/{name} is not of today: DOCS=write writes it");
    }
}

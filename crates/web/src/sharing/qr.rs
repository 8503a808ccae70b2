//! A link as a picture that a phone's camera reads.

use qrcode::{Color, EcLevel, QrCode};

/// White around it, in modules.
const AROUND: usize = 4;

/// The picture, as SVG; nothing where the link is too long for one.
pub fn picture(link: &str, says: &str) -> String {
    let Ok(code) = QrCode::with_error_correction_level(link, EcLevel::M) else { return String::new() };
    let width = code.width();
    let mut path = String::new();
    for (n, color) in code.to_colors().into_iter().enumerate() {
        if color == Color::Dark {
            path.push_str(&format!("M{} {}h1v1h-1z", n % width + AROUND, n / width + AROUND));
        }
    }
    let side = width + 2 * AROUND;
    format!(
        "<svg class=\"qr\" viewBox=\"0 0 {side} {side}\" role=\"img\" aria-label=\"{says}\"><rect width=\"{side}\" height=\"{side}\" fill=\"#fff\"/><path d=\"{path}\" fill=\"#000\" shape-rendering=\"crispEdges\"/></svg>"
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_link_is_drawn_within_its_square() {
        let svg = picture("https://192.168.7.5:8751/pair/00", "A code");
        assert!(
            svg.contains("viewBox=\"0 0 37 37\"") || svg.contains("viewBox=\"0 0 41 41\""),
            "{}",
            &svg[..80]
        );
        assert!(svg.matches("h1v1h-1z").count() > 200);
        assert!(picture(&"x".repeat(5000), "").is_empty());
    }
}

//! What yeast bears.

/// Liquid warmer than this must not touch the yeast, °C (common practice, no source).
pub const YEAST_LIMIT: f64 = 43.0;
/// Over this the yeast in a whole dough is harmed, °C (common practice, no source).
pub const YEAST_HARMED: f64 = 49.0;

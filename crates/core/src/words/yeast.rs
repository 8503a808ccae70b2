//! What yeast bears, and what its forms are worth.

/// Instant yeast that does the work of 1 g of fresh: fresh to instant is 1 to 0.33 (common practice, no source).
pub const FRESH_AS_INSTANT: f64 = 0.33;
/// Instant yeast that does the work of 1 g of active dry: fresh to active dry is 1 to 0.4 (common practice, no
/// source).
pub const ACTIVE_DRY_AS_INSTANT: f64 = 0.33 / 0.4;

/// Liquid warmer than this must not touch the yeast, °C (common practice, no source).
pub const YEAST_LIMIT: f64 = 43.0;
/// Over this the yeast in a whole dough is harmed, °C (common practice, no source).
pub const YEAST_HARMED: f64 = 49.0;

//! The baker's arithmetic of Cerealis.
//!
//! No I/O, no clock, no HTTP, no SQL: the same input gives the same output. A module is a word of
//! the trade; each engine takes a plain input struct and returns a plain output struct, which the
//! pages and the command line share.

pub mod bake;
pub mod choice;
pub mod day;
pub mod fault;
pub mod finish;
pub mod formats;
pub mod formula;
pub mod kitchen;
pub mod mix;
pub mod notation;
pub mod oven;
pub mod pantry;
pub mod plan;
pub mod range;
pub mod rise;
pub mod shape;
pub mod stations;
pub mod typed;
pub mod units;
pub mod watch;
pub mod words;

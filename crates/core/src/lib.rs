//! The baker's arithmetic of Cerealis.
//!
//! No I/O, no clock, no HTTP, no SQL: the same input gives the same output. A module is a word of
//! the trade; each engine takes a plain input struct and returns a plain output struct, which the
//! pages and the command line share.

mod choice;
pub mod fault;
pub mod ferment;
pub mod finish;
pub mod formats;
pub mod formula;
pub mod kitchen;
pub mod mixing;
pub mod oven;
pub mod pantry;
pub mod plan;
pub mod reader;
pub mod shape;
pub mod stations;
pub mod thermal;
pub mod units;
pub mod watch;
pub mod words;

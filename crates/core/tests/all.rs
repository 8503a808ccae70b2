//! The core from outside: each file one subject. A new file is named here; `layers.rs` says so where it is not.

mod common;
#[path = "common/docs.rs"]
mod docs;

mod bakes;
mod composition;
mod cooling;
mod day;
mod demo;
mod formats;
mod golden_days;
mod measures;
mod nights;
mod oven;
mod oven_asked;
mod plan;
mod rise;
mod rise_asked;
mod rises;
mod sayings;
mod slips;
mod stations;
mod swaps;

//! The pages as they are served: each file one subject. A new file is named here.

#[macro_use]
mod house;

mod bench;
mod days;
mod fields;
mod first_run;
mod form;
mod household;
mod kitchen;
mod pages;
mod pictures;
mod shape_oven;
mod weights;
mod wire;
mod words;

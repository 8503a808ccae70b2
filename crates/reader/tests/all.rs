//! The reader from outside: each file one subject. A new file is named here; `layers.rs` says so where it is not.

mod corpus;
mod formats;
mod methods;
mod reader;

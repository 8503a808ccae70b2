//! What is kept: each file one subject. A new file is named here.

mod backup;
mod hurt;
mod keeping;
mod old;
mod store;

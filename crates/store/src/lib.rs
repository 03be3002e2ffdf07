//! Ratiomet projects in SQLite, through Diesel.
//!
//! Keeps what people enter (names, geometry in its own spelling, framings) and nothing that can be
//! computed: plans are made by the core from what is read here. Every row that is read goes through
//! the core's constructors. Every record carries a version; a write must name the version that it
//! changes, and is refused when the record has moved on.

mod data_file;
mod error;
mod row;
mod schema;
mod store;

pub use data_file::OpenError;
pub use error::StoreError;
pub use store::{Contents, ConversionKey, Demo, ProjectInfo, Record, Store};

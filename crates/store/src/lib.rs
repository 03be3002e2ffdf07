//! Ratiomet projects in SQLite, through Diesel.
//!
//! Keeps what people enter, as the JSON that the API takes, and nothing that can be computed: plans
//! are made by the core from what is read here. Everything that is read goes through the readers of
//! the API and the constructors of the core. Every record carries a version; a write must name the
//! version that it changes, and is refused when the record has moved on. Every write is a step of
//! the history of its project.

mod data_file;
mod edits;
mod error;
mod history;
mod kept;
mod schema;
mod store;

pub use data_file::OpenError;
pub use edits::Outcome;
pub use error::StoreError;
pub use history::{BRANCH_DAYS, Head, Step, Steps};
pub use kept::Kept;
pub use store::{Contents, HOUSE, ProjectInfo, Record, Store};

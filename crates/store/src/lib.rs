//! Projects in one SQLite file, their histories with them.
//!
//! The store loads and commits; what an edit makes of a project is worked out by the core. Records point to
//! states that never change, each in its format; every change is a step that says which record went from
//! which state to which, so undo and redo only point elsewhere. A write names the version that it starts
//! from; a stale one is refused. Nobody deletes rows but [`Store::tidy`].
//!
//! Start at [`Store`].

mod cache;
mod check;
mod clock;
mod commit;
mod contents;
mod data_file;
mod error;
mod head;
mod history;
mod house;
mod links;
mod projects;
mod rows;
mod schema;
mod set_aside;
mod stills;
mod store;
mod tidy;

pub use check::Checked;
pub use clock::Clock;
pub use contents::{Contents, Expected, ProjectInfo, Subject};
pub use data_file::{OpenError, Trouble};
pub use error::StoreError;
pub use head::{Head, InTheWay, Undo};
pub use history::{Step, Steps, Which};
pub use house::{HouseContents, HouseExpected, HouseOutcome, HouseSubject};
pub use links::Link;
pub use projects::Outcome;
pub use set_aside::SetAside;
pub use store::Store;
pub use tidy::{DAYS, MOST_STEPS, Tidied};

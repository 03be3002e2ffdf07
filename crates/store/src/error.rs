//! What the store refuses.

use thiserror::Error;

/// Why something could not be read or written.
#[derive(Debug, Error)]
pub enum StoreError {
    /// There never was such a record, or it belongs to another project.
    #[error("there is no {what} {id}")]
    Unknown {
        /// What was looked for, such as a project or a source.
        what: &'static str,
        /// Its number.
        id: i32,
    },
    /// It is deleted, and can be restored.
    #[error("{what} {id} is deleted")]
    Deleted {
        /// What was looked for, such as a project or a source.
        what: &'static str,
        /// Its number.
        id: i32,
    },
    /// The record has changed since the version that the write names.
    #[error("the record has changed: its version is {current}")]
    Stale {
        /// The version that it has now.
        current: i32,
    },
    /// The record would not be sound with the values of an edit.
    #[error("{name}: {why}")]
    Refused {
        /// What it is called.
        name: String,
        /// Why not.
        why: ratiomet_core::Error,
    },
    /// A frame cannot go through the one that it names.
    #[error("{name} cannot go through frame {through}: {why}")]
    NoWay {
        /// What the frame is called.
        name: String,
        /// The number that it names.
        through: i32,
        /// Why not.
        why: &'static str,
    },
    /// A row breaks the rules of the core, as only a foreign hand can have written it.
    #[error("row {id} of {table} cannot be read: {why}")]
    Corrupt {
        /// The table.
        table: &'static str,
        /// Its number.
        id: i32,
        /// What is wrong with it.
        why: String,
    },
    /// The database refuses.
    #[error("the data file cannot be used: {0}")]
    Database(#[from] diesel::result::Error),
}

//! What the store refuses.

use ratiomet_core::project::EditError;
use thiserror::Error;

pub(crate) type Answer<T> = Result<T, StoreError>;

/// Why something could not be read or written.
#[derive(Debug, Error)]
pub enum StoreError {
    /// There never was such a record, or it belongs to another project.
    #[error("{what} {id} does not exist")]
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
    /// It is there and cannot be read: it is set aside.
    #[error("{what} {id} cannot be read: {why}")]
    Unreadable {
        /// What was looked for, such as a project or a source.
        what: &'static str,
        /// Its number.
        id: i32,
        /// Why not.
        why: String,
    },
    /// The record has changed since the version that the write names.
    #[error("the record has changed: its version is {current}")]
    Stale {
        /// The version that it has now.
        current: i32,
    },
    /// Something would not be sound after an edit.
    #[error(transparent)]
    Refused(#[from] EditError),
    /// A row breaks the rules of the file, as only a foreign hand can have written it.
    #[error("row {id} of {table} cannot be read: {why}")]
    Corrupt {
        /// The table.
        table: &'static str,
        /// Its number.
        id: i32,
        /// What is wrong with it.
        why: &'static str,
    },
    /// A step cannot be taken back: frames would lead to each other.
    #[error("frames would lead to each other")]
    Looped,
    /// Others write all the time, so that a change never found its project as it had read it.
    #[error("the project is being changed by others all the time")]
    Busy,
    /// The file is no longer where it was.
    #[error("the data file is no longer where it was")]
    Gone,
    /// The database refuses.
    #[error("the data file cannot be used: {0}")]
    Database(#[from] diesel::result::Error),
}

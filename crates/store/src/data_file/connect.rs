//! Connections to the file, for writing and for reading alone.

use std::path::Path;

use diesel::connection::SimpleConnection;
use diesel::prelude::*;

use super::OpenError;

/// The file as SQLite takes it, whatever is in its name (RFC 3986, and SQLite's own rules for `file:`).
fn uri(path: &Path, parameters: &str) -> Result<String, OpenError> {
    let whole = std::path::absolute(path).map_err(|error| OpenError::unreachable(path, error))?;
    let text = whole.to_str().ok_or_else(|| OpenError::unreachable(path, "its path is not UTF-8"))?;
    let safe = text.replace('%', "%25").replace('?', "%3f").replace('#', "%23");
    Ok(format!("file:{safe}{parameters}"))
}

/// Opens or makes a file.
pub(super) fn for_writing(path: &Path) -> Result<SqliteConnection, OpenError> {
    patient(path, "")
}

/// How a connection works on a file.
pub(super) fn prepare(connection: &mut SqliteConnection) -> QueryResult<()> {
    connection.batch_execute("PRAGMA journal_mode = WAL")?;
    connection.batch_execute("PRAGMA synchronous = FULL")?;
    connection.batch_execute("PRAGMA foreign_keys = ON")
}

/// A further connection to a file that is open for writing, which only reads.
pub(super) fn beside(path: &Path) -> Result<SqliteConnection, OpenError> {
    let mut connection = patient(path, "")?;
    connection.batch_execute("PRAGMA query_only = ON").map_err(|error| OpenError::unreachable(path, error))?;
    Ok(connection)
}

/// Opens a file that is only read. Where nobody has it open, and nobody died over it, nothing beside it is
/// needed or made.
pub(super) fn for_reading(path: &Path) -> Result<SqliteConnection, OpenError> {
    let mut journal = path.as_os_str().to_owned();
    journal.push("-wal");
    let alone = !Path::new(&journal).exists();
    let parameters = if alone { "?mode=ro&immutable=1" } else { "?mode=ro" };
    patient(path, parameters)
}

/// A connection that waits a while for others.
fn patient(path: &Path, parameters: &str) -> Result<SqliteConnection, OpenError> {
    let unreachable = |error: &dyn std::fmt::Display| OpenError::unreachable(path, error);
    let mut connection = SqliteConnection::establish(&uri(path, parameters)?).map_err(|error| unreachable(&error))?;
    connection.batch_execute("PRAGMA busy_timeout = 5000").map_err(|error| unreachable(&error))?;
    Ok(connection)
}

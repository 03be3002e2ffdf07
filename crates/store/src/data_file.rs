//! Opening the data file: whose it is, how old it is, and bringing it up to date.

use std::path::{Path, PathBuf};

use diesel::connection::SimpleConnection;
use diesel::migration::{Migration, MigrationSource};
use diesel::prelude::*;
use diesel::sql_types::BigInt;
use diesel::sqlite::Sqlite;
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use thiserror::Error;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations");
/// "RATM" in ASCII, as the first migration writes it.
const APPLICATION_ID: i64 = 1_380_013_133;

/// Why a data file cannot be opened. Each says what to do.
#[derive(Debug, Error)]
pub enum OpenError {
    /// The file cannot be opened or made.
    #[error(
        "the data file {} cannot be opened: {why}. Name a file in a folder that exists and may be written to, with --data",
        path.display()
    )]
    Unreachable {
        /// The file.
        path: PathBuf,
        /// What SQLite says.
        why: String,
    },
    /// It is something else.
    #[error(
        "{} is not a Ratiomet data file ({why}). It was left as it is; name another file with --data",
        path.display()
    )]
    Foreign {
        /// The file.
        path: PathBuf,
        /// What gave it away.
        why: String,
    },
    /// A newer version of the program wrote it.
    #[error(
        "{} was written by a newer version of Ratiomet (it knows the change {newest}). It was left as it is; open it \
         with that version",
        path.display()
    )]
    Newer {
        /// The file.
        path: PathBuf,
        /// The schema change that this program does not know.
        newest: String,
    },
}

#[derive(QueryableByName)]
struct Number {
    #[diesel(sql_type = BigInt)]
    number: i64,
}

/// Opens or makes the file and migrates it.
pub(crate) fn open(path: &Path) -> Result<SqliteConnection, OpenError> {
    let unreachable = |why: String| OpenError::Unreachable { path: path.to_owned(), why };
    if path.is_dir() {
        return Err(unreachable("it is a folder".to_owned()));
    }
    if let Some(folder) = path.parent().filter(|folder| !folder.as_os_str().is_empty() && !folder.is_dir()) {
        return Err(unreachable(format!("there is no folder {}", folder.display())));
    }
    let name = path.to_str().ok_or_else(|| unreachable("its path is not UTF-8".to_owned()))?;
    let mut connection = SqliteConnection::establish(name).map_err(|error| unreachable(error.to_string()))?;
    check_owner(&mut connection, path)?;
    let prepare = |connection: &mut SqliteConnection| {
        connection.batch_execute("PRAGMA busy_timeout = 5000")?;
        connection.batch_execute("PRAGMA journal_mode = WAL")?;
        connection.batch_execute("PRAGMA synchronous = FULL")?;
        connection.batch_execute("PRAGMA foreign_keys = ON")
    };
    prepare(&mut connection).map_err(|error| unreachable(error.to_string()))?;
    check_age(&mut connection, path)?;
    connection.run_pending_migrations(MIGRATIONS).map_err(|error| unreachable(error.to_string()))?;
    Ok(connection)
}

/// A file with tables in it must carry our mark.
fn check_owner(connection: &mut SqliteConnection, path: &Path) -> Result<(), OpenError> {
    let foreign = |why: &str| OpenError::Foreign { path: path.to_owned(), why: why.to_owned() };
    let mut count = |query: &str| {
        diesel::sql_query(query)
            .get_result::<Number>(connection)
            .map(|row| row.number)
            .map_err(|error| foreign(&error.to_string()))
    };
    let tables = count("SELECT count(*) AS number FROM sqlite_master")?;
    let owner = count("SELECT application_id AS number FROM pragma_application_id()")?;
    match (tables, owner) {
        (0, 0) | (_, APPLICATION_ID) => Ok(()),
        _ => Err(foreign("it is a database of another program")),
    }
}

fn check_age(connection: &mut SqliteConnection, path: &Path) -> Result<(), OpenError> {
    let unreadable = |why: String| OpenError::Unreachable { path: path.to_owned(), why };
    let known: Vec<Box<dyn Migration<Sqlite>>> =
        MIGRATIONS.migrations().map_err(|error| unreadable(error.to_string()))?;
    let applied = connection.applied_migrations().map_err(|error| unreadable(error.to_string()))?;
    let newest = applied.into_iter().find(|version| !known.iter().any(|known| known.name().version() == *version));
    match newest {
        Some(newest) => Err(OpenError::Newer { path: path.to_owned(), newest: newest.to_string() }),
        None => Ok(()),
    }
}

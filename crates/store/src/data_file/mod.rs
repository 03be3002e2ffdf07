//! Opening the data file: whose it is, how old it is, and bringing it up to date.

mod backup;
mod connect;
mod migrate;
mod trouble;

pub(crate) use backup::copy;
pub use trouble::Trouble;

use std::io::Read;
use std::path::{Path, PathBuf};

use diesel::prelude::*;
use diesel::sql_types::BigInt;
use thiserror::Error;

/// "RATM" in ASCII, as the first migration writes it.
const APPLICATION_ID: i64 = 1_380_013_133;

/// Why a data file cannot be opened. Each says what to do.
#[derive(Debug, Error)]
pub enum OpenError {
    /// The file cannot be opened or made.
    #[error(
        "the data file {} cannot be opened: {why}. Use --data with a file in a folder that you can write to",
        path.display()
    )]
    Unreachable {
        /// The file.
        path: PathBuf,
        /// What is in the way.
        why: String,
    },
    /// Another program works on it.
    #[error(
        "{} is in use by another program, perhaps by another Ratiomet. Stop that one, or use --data with another file",
        path.display()
    )]
    InUse {
        /// The file.
        path: PathBuf,
    },
    /// It may be read, and not written.
    #[error(
        "{} may not be written. Allow writing to it and to its folder, or use --data with another file; ratiomet export \
         reads it as it is",
        path.display()
    )]
    ReadOnly {
        /// The file.
        path: PathBuf,
    },
    /// Its end is missing.
    #[error(
        "{} is cut short: {there} of its {whole} bytes are there. It was not changed; restore it from a copy, or use --data \
         with another file",
        path.display()
    )]
    CutShort {
        /// The file.
        path: PathBuf,
        /// Bytes that are there.
        there: u64,
        /// Bytes that it had.
        whole: u64,
    },
    /// It was ours, and cannot be made out.
    #[error(
        "{} is damaged: {why}. Restore it from a copy, or use --data with another file",
        path.display()
    )]
    Damaged {
        /// The file.
        path: PathBuf,
        /// What gave it away.
        why: String,
    },
    /// It is something else.
    #[error(
        "{} is not a Ratiomet data file ({why}). It was not changed; use --data with another file",
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
        "{} was written by a newer version of Ratiomet, {writer}; this is version {own}. It was left as it is; open it \
         with that version",
        path.display()
    )]
    Newer {
        /// The file.
        path: PathBuf,
        /// The version that wrote it, or what is known of it.
        writer: String,
        /// This version.
        own: &'static str,
    },
    /// It is older, and no copy of it could be made; without one it is not changed.
    #[error(
        "{} is of an older version and would be brought up to date, but no copy of it can be made first: {why}. It was \
         left as it is; make room, or allow writing beside it",
        path.display()
    )]
    NoBackup {
        /// The file.
        path: PathBuf,
        /// What is in the way.
        why: String,
    },
}

impl OpenError {
    /// By what SQLite says of it.
    pub(crate) fn unreachable(path: &Path, why: impl ToString) -> Self {
        let (path, why) = (path.to_owned(), why.to_string());
        match Trouble::of(&why) {
            Some(Trouble::InUse) => Self::InUse { path },
            Some(Trouble::ReadOnly) => Self::ReadOnly { path },
            Some(Trouble::Damaged) => Self::Damaged { path, why },
            Some(Trouble::NoDatabase) => Self::Foreign { path, why },
            Some(Trouble::Full) | None => Self::Unreachable { path, why },
        }
    }
}

/// A file that is open.
pub(crate) struct Opened {
    pub connection: SqliteConnection,
    /// Connections that only read, while that one may write.
    pub readers: Vec<SqliteConnection>,
    /// Copies beside the file.
    pub backups: Vec<PathBuf>,
    /// The folder of the copy that was opened in its place.
    pub copy: Option<tempfile::TempDir>,
}

/// How many read at once, while another writes.
const READERS: usize = 3;

/// Opens or makes the file and brings it up to date.
pub(crate) fn open(path: &Path) -> Result<Opened, OpenError> {
    if path.is_dir() {
        return Err(OpenError::unreachable(path, "it is a folder"));
    }
    if path == Path::new(":memory:") {
        return Err(OpenError::unreachable(path, "this names no file, and what is kept in memory alone is lost"));
    }
    if let Some(folder) = path.parent().filter(|folder| !folder.as_os_str().is_empty() && !folder.is_dir()) {
        return Err(OpenError::unreachable(path, format!("the folder {} does not exist", folder.display())));
    }
    check_length(path)?;
    let mut connection = connect::for_writing(path)?;
    let is_new = check_owner(&mut connection, path)? == Owner::Nobody;
    migrate::check_age(&mut connection, path)?;
    let pending = migrate::is_pending(&mut connection, path)?;
    if pending && !is_new {
        backup::make(&mut connection, path)?;
    }
    // Nothing in the file is changed before here.
    connect::prepare(&mut connection).map_err(|error| OpenError::unreachable(path, error))?;
    if pending {
        migrate::run(&mut connection, path)?;
    }
    migrate::sign(&mut connection).map_err(|error| OpenError::unreachable(path, error))?;
    let readers = (0..READERS).map(|_| connect::beside(path)).collect::<Result<_, _>>()?;
    Ok(Opened { connection, readers, backups: backup::all(path), copy: None })
}

/// Opens a file that is there, and changes nothing of it.
pub(crate) fn open_for_reading(path: &Path) -> Result<Opened, OpenError> {
    if !path.is_file() {
        return Err(OpenError::unreachable(path, "the file does not exist"));
    }
    check_length(path)?;
    let mut connection = connect::for_reading(path)?;
    if check_owner(&mut connection, path)? == Owner::Nobody {
        let why = "it is empty".to_owned();
        return Err(OpenError::Foreign { path: path.to_owned(), why });
    }
    migrate::check_age(&mut connection, path)?;
    if !migrate::is_pending(&mut connection, path)? {
        return Ok(Opened { connection, readers: Vec::new(), backups: Vec::new(), copy: None });
    }
    let folder = tempfile::tempdir().map_err(|error| OpenError::unreachable(path, error))?;
    let copy = folder.path().join("copy.db");
    backup::copy(&mut connection, &copy).map_err(|error| OpenError::unreachable(path, error))?;
    let mut connection = connect::for_writing(&copy)?;
    migrate::run(&mut connection, &copy)?;
    Ok(Opened { connection, readers: Vec::new(), backups: Vec::new(), copy: Some(folder) })
}

/// Refuses a file that has fewer pages than its head counts (the format of SQLite's files, 1.3), unless its journal may
/// have the others.
fn check_length(path: &Path) -> Result<(), OpenError> {
    let mut head = [0; 100];
    let read = std::fs::File::open(path).and_then(|mut file| {
        file.read_exact(&mut head)?;
        Ok(file.metadata()?.len())
    });
    // OK because what cannot be read, or is shorter, is told of as it is opened.
    let Ok(there) = read else { return Ok(()) };
    let number = |at: usize| u32::from_be_bytes([head[at], head[at + 1], head[at + 2], head[at + 3]]);
    let page = match u16::from_be_bytes([head[16], head[17]]) {
        1 => 65_536,
        page => u64::from(page),
    };
    let mut journal = path.as_os_str().to_owned();
    journal.push("-wal");
    let is_known = head.starts_with(b"SQLite format 3\0") && number(24) == number(92);
    let whole = u64::from(number(28)) * page;
    if is_known && there < whole && !Path::new(&journal).exists() {
        return Err(OpenError::CutShort { path: path.to_owned(), there, whole });
    }
    Ok(())
}

#[derive(QueryableByName)]
struct Number {
    #[diesel(sql_type = BigInt)]
    number: i64,
}

/// Whose file it is, other than somebody else's.
#[derive(PartialEq, Eq)]
enum Owner {
    /// There is nothing in it.
    Nobody,
    /// It is ours.
    Us,
}

/// A file with tables in it must carry our mark.
fn check_owner(connection: &mut SqliteConnection, path: &Path) -> Result<Owner, OpenError> {
    let foreign = |why: String| OpenError::Foreign { path: path.to_owned(), why };
    let mut count = |query: &str| {
        let row = diesel::sql_query(query).get_result::<Number>(connection);
        row.map(|row| row.number).map_err(|error| OpenError::unreachable(path, error))
    };
    let tables = count("SELECT count(*) AS number FROM sqlite_master")?;
    let owner = count("SELECT application_id AS number FROM pragma_application_id()")?;
    match (tables, owner) {
        (0, 0) => Ok(Owner::Nobody),
        (_, APPLICATION_ID) => Ok(Owner::Us),
        _ => Err(foreign("it belongs to another program".to_owned())),
    }
}

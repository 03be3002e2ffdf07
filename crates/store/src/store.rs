//! [`Store`]: an open data file, for many threads at once.

use std::panic::{AssertUnwindSafe, catch_unwind, resume_unwind};
use std::path::{Path, PathBuf};
use std::sync::{Mutex, MutexGuard, PoisonError};

use diesel::connection::Connection;
use diesel::sqlite::SqliteConnection;

use crate::cache::Cache;
use crate::clock::Clock;
use crate::data_file::{self, OpenError, Opened};
use crate::error::{Answer, StoreError};

/// An open data file.
///
/// Every method may be called from any thread; the file is locked only while it is read or written, never
/// while something is worked out.
pub struct Store {
    inner: Mutex<Inner>,
    path: PathBuf,
    backups: Vec<PathBuf>,
    pub(crate) clock: Clock,
    /// A copy in an older file's place, where the file itself must not be touched.
    _copy: Option<tempfile::TempDir>,
}

pub(crate) struct Inner {
    pub connection: SqliteConnection,
    pub cache: Cache,
}

impl Store {
    /// Opens the data file, or makes a new one, brings it up to date, and tidies it up. Before an older file
    /// is changed, a copy of it is put beside it.
    ///
    /// # Errors
    /// See [`OpenError`].
    pub fn open(path: &Path) -> Result<Self, OpenError> {
        Self::open_by(path, Clock::default())
    }

    /// The same by a clock of one's own.
    ///
    /// # Errors
    /// See [`OpenError`].
    pub fn open_by(path: &Path, clock: Clock) -> Result<Self, OpenError> {
        let store = Self::around(data_file::open(path)?, path, clock);
        store.tidy().map_err(|error| OpenError::unreachable(path, error))?;
        Ok(store)
    }

    /// Opens a data file that is only read. Neither it nor anything beside it is changed: of an older file a
    /// copy is brought up to date somewhere else.
    ///
    /// # Errors
    /// See [`OpenError`].
    pub fn open_for_reading(path: &Path) -> Result<Self, OpenError> {
        Ok(Self::around(data_file::open_for_reading(path)?, path, Clock::default()))
    }

    fn around(opened: Opened, path: &Path, clock: Clock) -> Self {
        let Opened { connection, backups, copy } = opened;
        let inner = Mutex::new(Inner { connection, cache: Cache::default() });
        Self { inner, path: path.to_owned(), backups, clock, _copy: copy }
    }

    /// The data file.
    pub fn path(&self) -> &Path {
        &self.path
    }

    /// The copies that were made of it before it was brought up to date, and that are still there.
    pub fn backups(&self) -> &[PathBuf] {
        &self.backups
    }

    fn lock(&self) -> MutexGuard<'_, Inner> {
        // A panic has been taken care of where it came up: its transaction was rolled back.
        self.inner.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// One transaction that holds the file's write lock from its start, so that what it has read is still
    /// true when it writes. It is rolled back as a whole when `work` fails or panics.
    pub(crate) fn write<T>(&self, work: impl FnOnce(&mut SqliteConnection, &mut Cache) -> Answer<T>) -> Answer<T> {
        let Inner { connection, cache } = &mut *self.lock();
        let mut panic = None;
        let written = connection.immediate_transaction(|connection| {
            catch_unwind(AssertUnwindSafe(|| work(connection, cache))).unwrap_or_else(|cause| {
                panic = Some(cause);
                Err(StoreError::Database(diesel::result::Error::RollbackTransaction))
            })
        });
        if written.is_err() {
            // What it has put there may never have happened.
            cache.clear();
        }
        if let Some(cause) = panic {
            resume_unwind(cause);
        }
        written
    }

    /// One transaction that sees one moment.
    pub(crate) fn read<T>(&self, work: impl FnOnce(&mut SqliteConnection, &mut Cache) -> Answer<T>) -> Answer<T> {
        let Inner { connection, cache } = &mut *self.lock();
        let mut panic = None;
        let read = connection.transaction(|connection| {
            catch_unwind(AssertUnwindSafe(|| work(connection, cache))).unwrap_or_else(|cause| {
                panic = Some(cause);
                Err(StoreError::Database(diesel::result::Error::RollbackTransaction))
            })
        });
        if let Some(cause) = panic {
            resume_unwind(cause);
        }
        read
    }
}

//! [`Store`]: an open data file, for many threads at once.

use std::panic::{AssertUnwindSafe, catch_unwind, resume_unwind};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError, TryLockError};
use std::time::{Duration, Instant};

use diesel::connection::{AnsiTransactionManager, Connection, SimpleConnection, TransactionManager};
use diesel::sqlite::SqliteConnection;
use ratiomet_core::project::ProjectId;

use crate::cache::Cache;
use crate::clock::Clock;
use crate::data_file::{self, OpenError, Opened, Trouble};
use crate::error::{Answer, StoreError};

/// An open data file, in the hands of somebody who may have a name.
///
/// Every method may be called from any thread. Some read while another writes; nothing waits while something is worked out.
#[derive(Clone)]
pub struct Store {
    shared: Arc<Shared>,
    hand: Option<Arc<str>>,
}

/// The file itself.
struct Shared {
    writer: Mutex<SqliteConnection>,
    /// Connections that only read; none where the writer does not write.
    readers: Vec<Mutex<SqliteConnection>>,
    cache: Cache,
    path: PathBuf,
    backups: Vec<PathBuf>,
    clock: Clock,
    /// Which file it is, whatever its name.
    identity: Option<Identity>,
    /// Who wants to know what has changed.
    listener: OnceLock<Listener>,
    /// A copy in an older file's place, where the file itself must not be touched.
    _copy: Option<tempfile::TempDir>,
}

type Listener = Box<dyn Fn(ProjectId) + Send + Sync>;

/// When something is made, and by whom.
#[derive(Clone)]
pub(crate) struct Made {
    /// In milliseconds since 1970, UTC.
    pub at: i64,
    /// Their name, where people are known.
    pub by: Option<Arc<str>>,
}

/// How long a write waits for another program that works on the file.
const PATIENCE: Duration = Duration::from_secs(5);

/// What tells one file from another on a disk.
#[derive(Clone, Copy, PartialEq, Eq)]
struct Identity([u64; 2]);

impl Identity {
    #[cfg(unix)]
    fn of(path: &Path) -> Option<Self> {
        use std::os::unix::fs::MetadataExt;
        std::fs::metadata(path).ok().map(|about| Self([about.dev(), about.ino()]))
    }

    #[cfg(not(unix))]
    fn of(path: &Path) -> Option<Self> {
        path.exists().then_some(Self([0; 2]))
    }
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
        let Opened { connection, readers, backups, copy } = opened;
        let shared = Shared {
            writer: Mutex::new(connection),
            readers: readers.into_iter().map(Mutex::new).collect(),
            cache: Cache::default(),
            path: path.to_owned(),
            backups,
            clock,
            identity: Identity::of(path),
            listener: OnceLock::new(),
            _copy: copy,
        };
        Self { shared: Arc::new(shared), hand: None }
    }

    /// The same file in the hands of somebody: what is changed through it is theirs.
    #[must_use]
    pub fn in_hands_of(&self, name: Option<&str>) -> Self {
        Self { shared: self.shared.clone(), hand: name.map(Arc::from) }
    }

    /// Who has it in hand, where people are known.
    pub(crate) fn hand(&self) -> Option<&str> {
        self.hand.as_deref()
    }

    /// Lets somebody know, from now on, of every project that is changed through it. Only the first who asks is told.
    pub fn tell(&self, listener: impl Fn(ProjectId) + Send + Sync + 'static) {
        // OK because there is one server for each file.
        let _ = self.shared.listener.set(Box::new(listener));
    }

    pub(crate) fn changed(&self, project: ProjectId) {
        if let Some(listener) = self.shared.listener.get() {
            listener(project);
        }
    }

    /// What is made now.
    pub(crate) fn made(&self) -> Made {
        Made { at: self.now(), by: self.hand.clone() }
    }

    pub(crate) fn now(&self) -> i64 {
        self.shared.clock.now()
    }

    /// Whether the file is no longer where it was: what is written to it then is lost with it.
    fn is_gone(&self) -> bool {
        self.shared.identity.is_some() && Identity::of(&self.shared.path) != self.shared.identity
    }

    /// The data file.
    pub fn path(&self) -> &Path {
        &self.shared.path
    }

    /// Writes a copy of all that is in it at one moment into a new file.
    ///
    /// # Errors
    /// A sentence, when that cannot be written.
    pub fn copy_to(&self, new: &Path) -> Result<(), String> {
        data_file::copy(&mut self.writer(), new)
    }

    /// Forgets what is kept in memory of its projects; it is read again when somebody wants it.
    pub fn forget(&self) {
        self.shared.cache.clear();
    }

    /// The copies that were made of it before it was brought up to date, and that are still there.
    pub fn backups(&self) -> &[PathBuf] {
        &self.shared.backups
    }

    // A panic under either lock has been taken care of where it came up: its transaction was rolled back.

    fn writer(&self) -> MutexGuard<'_, SqliteConnection> {
        self.shared.writer.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// A connection to read by that is free; where none is, it is waited for one.
    fn reader(&self) -> MutexGuard<'_, SqliteConnection> {
        let readers = &self.shared.readers;
        let free = |reader| match Mutex::try_lock(reader) {
            Ok(connection) => Some(connection),
            Err(TryLockError::Poisoned(connection)) => Some(connection.into_inner()),
            Err(TryLockError::WouldBlock) => None,
        };
        let next = || readers.first().unwrap_or(&self.shared.writer);
        readers.iter().find_map(free).unwrap_or_else(|| next().lock().unwrap_or_else(PoisonError::into_inner))
    }

    /// One transaction that holds the file's write lock from its start, so that what it has read is still
    /// true when it writes. It is rolled back as a whole when `work` fails or panics.
    pub(crate) fn write<T>(&self, work: impl FnOnce(&mut SqliteConnection, &Cache) -> Answer<T>) -> Answer<T> {
        if self.is_gone() {
            return Err(StoreError::Gone);
        }
        let (mut connection, cache) = (self.begun()?, &self.shared.cache);
        let written = catch_unwind(AssertUnwindSafe(|| work(&mut connection, cache)));
        let ended = match &written {
            Ok(Ok(_)) => AnsiTransactionManager::commit_transaction(&mut *connection),
            Ok(Err(_)) | Err(_) => AnsiTransactionManager::rollback_transaction(&mut *connection),
        };
        if !matches!(written, Ok(Ok(_))) || ended.is_err() {
            // What it has put there may never have happened.
            cache.clear();
        }
        let written = written.unwrap_or_else(|cause| {
            drop(connection);
            resume_unwind(cause)
        })?;
        ended?;
        Ok(written)
    }

    /// A transaction that has begun, with the file's write lock. While another program holds that, reading goes on here.
    fn begun(&self) -> Answer<MutexGuard<'_, SqliteConnection>> {
        let until = Instant::now() + PATIENCE;
        loop {
            let mut connection = self.writer();
            connection.batch_execute("PRAGMA busy_timeout = 20")?;
            let begun = AnsiTransactionManager::begin_transaction_sql(&mut *connection, "BEGIN IMMEDIATE");
            connection.batch_execute("PRAGMA busy_timeout = 5000")?;
            match begun {
                Ok(()) => return Ok(connection),
                Err(error) if Trouble::of(&error.to_string()) != Some(Trouble::InUse) || Instant::now() > until => {
                    return Err(error.into());
                }
                Err(_) => {
                    drop(connection);
                    std::thread::sleep(Duration::from_millis(20));
                }
            }
        }
    }

    /// One transaction that sees one moment.
    pub(crate) fn read<T>(&self, work: impl FnOnce(&mut SqliteConnection, &Cache) -> Answer<T>) -> Answer<T> {
        let (mut connection, cache) = (self.reader(), &self.shared.cache);
        let mut panic = None;
        let read = connection.transaction(|connection| {
            catch_unwind(AssertUnwindSafe(|| work(connection, cache))).unwrap_or_else(|cause| {
                panic = Some(cause);
                Err(StoreError::Database(diesel::result::Error::RollbackTransaction))
            })
        });
        drop(connection);
        if let Some(cause) = panic {
            resume_unwind(cause);
        }
        read
    }
}

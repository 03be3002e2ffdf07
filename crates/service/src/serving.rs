//! A server from its start to its end: it holds its data file, says where it is, and gives up what is under way.

use std::fs::File;
use std::io::{self, IsTerminal, Write};
use std::path::Path;
use std::process::ExitCode;
use std::time::Duration;

use ratiomet_store::{OpenError, Store};

use crate::keeping::Copies;
use crate::media_folder::MediaFolder;
use crate::server::{Reached, Site};

/// Holds a data file for one server, as long as it is kept. A new file is made, which nobody else may read. Where the disk
/// knows no such locks nobody is kept away.
fn held(data: &Path) -> Result<Option<File>, String> {
    use std::fs::TryLockError;
    let mut opening = File::options();
    opening.read(true).write(true).create(true).truncate(false);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut opening, 0o600);
    if data == Path::new(":memory:") {
        return Ok(None);
    }
    // OK because whatever is in the way is told of as the file is opened.
    let Ok(file) = opening.open(data) else { return Ok(None) };
    match file.try_lock() {
        Err(TryLockError::WouldBlock) => Err(OpenError::InUse { path: data.to_owned() }.to_string()),
        Ok(()) | Err(TryLockError::Error(_)) => Ok(Some(file)),
    }
}

/// How long work in the background may go on once the server has ended.
const TO_END: Duration = Duration::from_millis(500);

/// What a server has beside its data file.
pub struct Beside<'a> {
    /// A folder of footage.
    pub media: Option<&'a Path>,
    /// Daily copies of the file.
    pub copies: Copies,
}

/// Serves a data file, once it is prepared, until somebody ends it.
pub fn serve(
    reached: Reached,
    data: &Path,
    beside: &Beside<'_>,
    prepare: impl FnOnce(&Store) -> Result<(), String>,
) -> Result<ExitCode, String> {
    tracing_subscriber::fmt()
        .with_env_filter(
            tracing_subscriber::EnvFilter::try_from_default_env()
                .unwrap_or_else(|_| tracing_subscriber::EnvFilter::new("warn")),
        )
        .with_writer(io::stderr)
        // In a file colours are only in the way.
        .with_ansi(io::stderr().is_terminal())
        .init();
    let media = beside.media.map(MediaFolder::open).transpose()?;
    let _held = held(data)?;
    let store = Store::open(data).map_err(|error| error.to_string())?;
    prepare(&store)?;
    let cores = std::thread::available_parallelism().map_or(2, std::num::NonZero::get);
    // Work for more requests at once would only share the same cores, and keep the memory of all of it.
    let runtime = tokio::runtime::Builder::new_multi_thread()
        .enable_all()
        .max_blocking_threads((4 * cores).max(8))
        .build()
        .map_err(|error| format!("the server cannot start: {error}"))?;
    runtime.block_on(async {
        let site = Site::bind(reached).await?;
        let hello = format!(
            "Ratiomet is at {}\nIt listens on {}. Its data file is {}. Stop it with Ctrl-C.\n",
            site.url(),
            site.address(),
            data.display()
        );
        // OK because a closed terminal must not end the server.
        let _ = io::stdout().write_all(hello.as_bytes()).and_then(|()| io::stdout().flush());
        site.serve(store, media, beside.copies).await;
        Ok::<_, String>(())
    })?;
    // Work that goes on in the background is given up: what it would write is written whole or not at all.
    runtime.shutdown_timeout(TO_END);
    Ok(ExitCode::SUCCESS)
}

//! Files that are written beside their place, which they take when they are whole: what was there is never half replaced.

use std::fmt::Display;
use std::fs::File;
use std::io::{BufWriter, Write};
use std::path::Path;

/// Who may read a file.
#[derive(Clone, Copy)]
pub enum Readers {
    /// As the system has it for new files.
    Usual,
    /// Nobody but who writes it.
    Owner,
}

/// Writes a file and tells how long it is.
///
/// # Errors
/// A sentence of the work, or one that names the file when it cannot be written; then what was there is as it was.
pub fn write(out: &Path, work: impl FnOnce(&mut BufWriter<&File>) -> Result<(), String>) -> Result<u64, String> {
    write_for(Readers::Usual, out, work)
}

/// The same for some.
///
/// # Errors
/// As [`write`].
pub fn write_for(
    readers: Readers,
    out: &Path,
    work: impl FnOnce(&mut BufWriter<&File>) -> Result<(), String>,
) -> Result<u64, String> {
    let failed = |error: &dyn Display| format!("{} cannot be written: {error}", out.display());
    let folder = out.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let mut part = tempfile::Builder::new();
    #[cfg(unix)]
    if matches!(readers, Readers::Usual) {
        part.permissions(std::os::unix::fs::PermissionsExt::from_mode(0o666));
    }
    let part = part.prefix(".ratiomet-").suffix(".part").tempfile_in(folder).map_err(|error| failed(&error))?;
    let mut file = BufWriter::new(part.as_file());
    work(&mut file)?;
    file.flush().map_err(|error| failed(&error))?;
    drop(file);
    part.as_file().sync_all().map_err(|error| failed(&error))?;
    let bytes = part.as_file().metadata().map_err(|error| failed(&error))?.len();
    part.persist(out).map_err(|error| failed(&error.error))?;
    Ok(bytes)
}

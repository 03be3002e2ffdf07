//! Files that are written beside their place, which they take when they are whole: what was there is never half replaced.

use std::fmt::Display;
use std::fs::File;
use std::io::{BufWriter, Write};
use std::path::Path;

/// Writes a file and tells how long it is.
///
/// # Errors
/// A sentence of the work, or one that names the file when it cannot be written; then what was there is as it was.
pub fn write(out: &Path, write: impl FnOnce(&mut BufWriter<&File>) -> Result<(), String>) -> Result<u64, String> {
    let failed = |error: &dyn Display| format!("{} cannot be written: {error}", out.display());
    let folder = out.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let mut part = tempfile::Builder::new();
    #[cfg(unix)]
    part.permissions(std::os::unix::fs::PermissionsExt::from_mode(0o666));
    let part = part.prefix(".ratiomet-").suffix(".part").tempfile_in(folder).map_err(|error| failed(&error))?;
    let mut file = BufWriter::new(part.as_file());
    write(&mut file)?;
    file.flush().map_err(|error| failed(&error))?;
    drop(file);
    part.as_file().sync_all().map_err(|error| failed(&error))?;
    let bytes = part.as_file().metadata().map_err(|error| failed(&error))?.len();
    part.persist(out).map_err(|error| failed(&error.error))?;
    Ok(bytes)
}

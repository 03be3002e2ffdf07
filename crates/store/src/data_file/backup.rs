//! Copies of a file that is brought up to date, beside it.

use std::path::{Path, PathBuf};

use diesel::prelude::*;
use diesel::sql_types::Text;

use super::{OpenError, migrate};

/// Copies a file as it is at one moment.
pub(crate) fn copy(connection: &mut SqliteConnection, to: &Path) -> Result<(), String> {
    let to = to.to_str().ok_or("its path is not UTF-8")?;
    let copied = diesel::sql_query("VACUUM INTO ?").bind::<Text, _>(to).execute(connection);
    copied.map_err(|error| error.to_string())?;
    // As the file that it is a copy of.
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let owner = std::fs::Permissions::from_mode(0o600);
        std::fs::set_permissions(to, owner).map_err(|error| error.to_string())?;
    }
    Ok(())
}

/// What every copy's name begins with.
fn prefix(path: &Path) -> Option<String> {
    Some(format!("{}.before-", path.file_name()?.to_str()?))
}

/// Puts a copy of a file beside it, under a name that tells before which change it was made.
pub(super) fn make(connection: &mut SqliteConnection, path: &Path) -> Result<PathBuf, OpenError> {
    let refuse = |why: String| OpenError::NoBackup { path: path.to_owned(), why };
    let prefix = prefix(path).ok_or_else(|| refuse("its path is not UTF-8".to_owned()))?;
    let change = migrate::newest_known().map_err(refuse)?;
    let name = |number: u32| match number {
        1 => format!("{prefix}{change}"),
        number => format!("{prefix}{change}-{number}"),
    };
    let free = (1..).map(|number| path.with_file_name(name(number))).find(|copy| !copy.exists());
    let to = free.expect("there are more numbers than files");
    copy(connection, &to).map_err(refuse)?;
    tracing::warn!(file = %path.display(), copy = %to.display(), "an older data file is brought up to date; a copy of it was made");
    Ok(to)
}

/// The copies that are there, by name.
pub(super) fn all(path: &Path) -> Vec<PathBuf> {
    let Some(prefix) = prefix(path) else { return Vec::new() };
    let folder = path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
    let entries = std::fs::read_dir(folder).into_iter().flatten().flatten();
    let ours = entries.filter(|entry| entry.file_name().to_str().is_some_and(|name| name.starts_with(&prefix)));
    let mut copies: Vec<PathBuf> = ours.map(|entry| entry.path()).collect();
    copies.sort();
    copies
}

//! `ratiomet restore`: a data file out of a copy, in a place where none is.

use std::path::Path;

use super::backup::{self, Beside};
use super::check;

/// Checks a copy and copies it back, with its stills. Nothing is overwritten.
pub fn run(copy: &Path, data: &Path) -> Result<(), String> {
    let mut beside = data.as_os_str().to_owned();
    beside.push("-wal");
    for there in [data, Path::new(&beside)] {
        if there.exists() {
            return Err(format!(
                "{} is there already, and nothing is overwritten; rename it, or name another file with --data",
                there.display()
            ));
        }
    }
    let (checked, _) = check::look(copy)?;
    if !checked.faults.is_empty() {
        return Err(format!(
            "{} is not sound itself: {}; ratiomet check tells all of it. Restore another copy",
            copy.display(),
            checked.faults[0]
        ));
    }
    println!("{}", backup::copy(copy, data, Beside::Copied)?.said(data));
    Ok(())
}

//! `ratiomet backup`: a copy of a data file and its stills, at any time.

use std::fs;
use std::path::Path;

use ratiomet_core::words::counted;
use ratiomet_store::Store;

use crate::stills::files::Files;

/// What a copy holds.
pub struct Copied {
    bytes: u64,
    stills: usize,
    missing: usize,
}

/// How the stills of a copy come to be beside it.
#[derive(Clone, Copy)]
pub enum Beside {
    /// As files of their own.
    Copied,
    /// As the same files under a further name, where the disk can: they take no room.
    Linked,
}

/// Copies a data file as it is at one moment, then the stills that it refers to.
pub fn copy(data: &Path, out: &Path, beside: Beside) -> Result<Copied, String> {
    if out.exists() {
        return Err(format!("{} is there already; name a file that is not", out.display()));
    }
    let failed = |why: &dyn std::fmt::Display| format!("{} cannot be written: {why}", out.display());
    let store = Store::open_for_reading(data).map_err(|error| error.to_string())?;
    store.copy_to(out).map_err(|why| failed(&why))?;
    let used = store.stills().map_err(|error| error.to_string())?;
    let (from, to) = (Files::beside(data), Files::beside(out));
    let (mut stills, mut missing) = (0, 0);
    for content in used {
        if matches!(beside, Beside::Linked) && to.link(content, &from).is_ok() {
            stills += 1;
            continue;
        }
        match from.open(content) {
            Ok(mut still) => {
                to.take(content, &mut still).map_err(|error| failed(&error))?;
                stills += 1;
            }
            Err(_) => missing += 1,
        }
    }
    let bytes = fs::metadata(out).map_err(|error| failed(&error))?.len();
    Ok(Copied { bytes, stills, missing })
}

impl Copied {
    /// In words.
    pub fn said(&self, out: &Path) -> String {
        let Self { bytes, stills, missing } = self;
        let lost = if *missing > 0 { format!(", {missing} that are not there were left out") } else { String::new() };
        format!("{}: {bytes} bytes, {}{lost}", out.display(), counted(*stills, "still"))
    }
}

/// Copies and says so.
pub fn run(data: &Path, out: &Path) -> Result<(), String> {
    println!("{}", copy(data, out, Beside::Copied)?.said(out));
    Ok(())
}

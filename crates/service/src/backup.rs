//! `ratiomet backup`: a copy of a data file and its stills, at any time.

use std::fs;
use std::path::Path;

use ratiomet_core::words::counted;
use ratiomet_store::Store;

use crate::stills::Stills;

/// Copies a data file as it is at one moment, then the stills that it refers to.
pub fn run(data: &Path, out: &Path) -> Result<(), String> {
    if out.exists() {
        return Err(format!("{} is there already; name a file that is not", out.display()));
    }
    let failed = |why: &dyn std::fmt::Display| format!("{} cannot be written: {why}", out.display());
    let store = Store::open_for_reading(data).map_err(|error| error.to_string())?;
    store.copy_to(out).map_err(|why| failed(&why))?;
    let used = store.stills().map_err(|error| error.to_string())?;
    let (from, to) = (Stills::beside(data), Stills::beside(out));
    let (mut copied, mut missing) = (0, 0);
    for content in used {
        match from.open(content) {
            Ok(mut still) => {
                to.take(content, &mut still).map_err(|error| failed(&error))?;
                copied += 1;
            }
            Err(_) => missing += 1,
        }
    }
    let bytes = fs::metadata(out).map_err(|error| failed(&error))?.len();
    let lost = if missing > 0 { format!(", {missing} that are not there were left out") } else { String::new() };
    println!("{}: {bytes} bytes, {}{lost}", out.display(), counted(copied, "still"));
    Ok(())
}

//! `ratiomet check`: whether a data file is sound, with everything that belongs to it.

use std::path::Path;
use std::process::ExitCode;

use ratiomet_core::words::counted;
use ratiomet_store::{Checked, Store};

use crate::stills::files::Files;

/// What is checked, and what is wrong.
pub fn look(data: &Path) -> Result<(Checked, usize), String> {
    let store = Store::open_for_reading(data).map_err(|error| error.to_string())?;
    let mut checked = store.check().map_err(|error| format!("{} cannot be checked: {error}", data.display()))?;
    let stills = Files::beside(data);
    let mut used: Vec<_> = store.stills().map_err(|error| error.to_string())?.into_iter().collect();
    used.sort_unstable_by_key(ToString::to_string);
    for content in &used {
        if let Err(why) = stills.verify(*content) {
            checked.faults.push(why);
        }
    }
    Ok((checked, used.len()))
}

/// Checks a data file, and says what is wrong.
pub fn run(data: &Path) -> Result<ExitCode, String> {
    let (checked, stills) = look(data)?;
    println!(
        "{}: {}, {}, {}, {}",
        data.display(),
        counted(checked.projects, "project"),
        counted(checked.steps, "step"),
        counted(checked.states, "state"),
        counted(stills, "still"),
    );
    if checked.faults.is_empty() {
        println!("Nothing is wrong.");
        return Ok(ExitCode::SUCCESS);
    }
    for fault in &checked.faults {
        println!("- {fault}");
    }
    println!(
        "{} wrong. Copy the file as it is, then restore an earlier copy with ratiomet restore; what can be read of this one \
         can still be exported.",
        if checked.faults.len() == 1 {
            "1 thing is".to_owned()
        } else {
            format!("{} things are", checked.faults.len())
        }
    );
    Ok(ExitCode::from(1))
}

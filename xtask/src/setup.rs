//! What must be on the machine, installed where that is possible.

use std::fs;
use std::path::Path;
use std::process::{Command, Stdio};

use crate::{Done, run};

fn is_there(program: &str) -> bool {
    Command::new(program)
        .arg("--version")
        .stdout(Stdio::null())
        .stderr(Stdio::null())
        .status()
        .is_ok_and(|status| status.success())
}

/// The packages of the pages, as the lock file names them.
pub fn node_packages(web: &Path) -> Done {
    if !is_there("npm") {
        return Err("npm is missing: install Node.js 20 or newer".to_owned());
    }
    let changed = |file: &str| fs::metadata(web.join(file)).and_then(|meta| meta.modified()).ok();
    // npm writes the second file when it has installed what the first one names.
    match (changed("package-lock.json"), changed("node_modules/.package-lock.json")) {
        (Some(wanted), Some(installed)) if installed >= wanted => Ok(()),
        _ => run(web, "npm", &["ci", "--no-audit", "--no-fund"]),
    }
}

/// Chromium and its driver, for the tests of the interface.
pub fn browser() -> Done {
    if is_there("chromium") && is_there("chromedriver") {
        return Ok(());
    }
    let missing = "the tests of the interface need Chromium and ChromeDriver; on Debian: apt-get install chromium \
                   chromium-driver";
    if !is_there("apt-get") {
        return Err(missing.to_owned());
    }
    let here = Path::new(".");
    let install = || {
        run(here, "apt-get", &["update"])?;
        run(here, "apt-get", &["install", "--yes", "--no-install-recommends", "chromium", "chromium-driver"])
    };
    install().map_err(|error| format!("{error}; {missing}"))
}

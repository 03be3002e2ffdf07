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

/// Chromium and its driver for the tests of the interface, ffmpeg and MediaInfo for those of files and recipes.
pub fn programs() -> Done {
    // ffmpeg does not know --version.
    let media = Command::new("ffmpeg").arg("-version").stdout(Stdio::null()).stderr(Stdio::null()).status();
    let tools = ["chromium", "chromedriver", "mediainfo"].into_iter().all(is_there);
    if tools && media.is_ok_and(|status| status.success()) {
        return Ok(());
    }
    let missing = "the tests need Chromium, ChromeDriver, ffmpeg and MediaInfo; on Debian: apt-get install chromium \
                   chromium-driver ffmpeg mediainfo";
    if !is_there("apt-get") {
        return Err(missing.to_owned());
    }
    let here = Path::new(".");
    let install = || {
        run(here, "apt-get", &["update"])?;
        let packages =
            ["install", "--yes", "--no-install-recommends", "chromium", "chromium-driver", "ffmpeg", "mediainfo"];
        run(here, "apt-get", &packages)
    };
    install().map_err(|error| format!("{error}; {missing}"))
}

/// The libraries against which interchange files are checked, in a folder of their own.
pub fn reference_libraries(root: &Path) -> Done {
    let folder = root.join("target/python");
    if ["fdl", "opentimelineio", "jsonschema"].iter().all(|library| folder.join(library).is_dir()) {
        return Ok(());
    }
    let missing = "the tests of interchange files need three libraries from PyPI: python3 -m pip install --target \
                   target/python asc-fdl==1.0.2 OpenTimelineIO==0.18.1 jsonschema==4.26.0";
    if !is_there("python3") {
        return Err(format!("python3 is missing; {missing}"));
    }
    let folder = folder.to_str().ok_or("the path of this checkout is not UTF-8")?;
    let libraries = ["asc-fdl==1.0.2", "OpenTimelineIO==0.18.1", "jsonschema==4.26.0"];
    let arguments = [&["-m", "pip", "install", "--quiet", "--upgrade", "--target", folder], &libraries[..]].concat();
    run(root, "python3", &arguments).map_err(|error| format!("{error}; {missing}"))
}

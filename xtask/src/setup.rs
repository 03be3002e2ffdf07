//! What must be on the machine, installed where that is possible.

use std::fs;
use std::path::Path;
use std::process::{Command, Stdio};

use crate::{Done, run};

fn answers(program: &str, flag: &str) -> bool {
    let asked = Command::new(program).arg(flag).stdout(Stdio::null()).stderr(Stdio::null()).status();
    asked.is_ok_and(|status| status.success())
}

fn is_there(program: &str) -> bool {
    answers(program, "--version")
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

/// What builds the libraries in C beside a compiler.
pub fn make() -> Done {
    if is_there("make") { Ok(()) } else { installed(&["make"], "make is missing; on Debian: apt-get install make") }
}

/// What tests run, how each says that it is there, and its package in Debian: Chromium, as it is without a window of its
/// own, and its driver for the interface,
/// writers and readers of media for headers, and recipes.
const PROGRAMS: [(&str, &str, &str); 8] = [
    ("chromium-headless-shell", "--version", "chromium-headless-shell"),
    ("chromedriver", "--version", "chromium-driver"),
    ("ffmpeg", "-version", "ffmpeg"),
    ("mediainfo", "--version", "mediainfo"),
    ("mkvmerge", "--version", "mkvtoolnix"),
    ("convert-im6.q16", "-version", "imagemagick"),
    ("exiftool", "-ver", "libimage-exiftool-perl"),
    ("gst-launch-1.0", "--version", "gstreamer1.0-tools"),
];

/// What those need beside themselves.
const PARTS: [&str; 2] = ["gstreamer1.0-plugins-base", "gstreamer1.0-plugins-good"];

/// Installs the programs that are missing.
pub fn programs() -> Done {
    if PROGRAMS.iter().all(|(program, flag, _)| answers(program, flag)) {
        return Ok(());
    }
    let packages: Vec<&str> = PROGRAMS.iter().map(|(_, _, package)| *package).chain(PARTS).collect();
    let missing =
        format!("the tests need programs that are missing; on Debian: apt-get install {}", packages.join(" "));
    installed(&packages, &missing)
}

/// Installs packages of Debian, or says what is missing.
fn installed(packages: &[&str], missing: &str) -> Done {
    if !is_there("apt-get") {
        return Err(missing.to_owned());
    }
    let here = Path::new(".");
    let install = || {
        run(here, "apt-get", &["update"])?;
        run(here, "apt-get", &[&["install", "--yes", "--no-install-recommends"], packages].concat())
    };
    install().map_err(|error| format!("{error}; {missing}"))
}

/// The libraries that files are checked against or made by: the package, its version, and the folder that it makes.
const LIBRARIES: [(&str, &str); 9] = [
    ("asc-fdl==1.0.2", "fdl"),
    ("OpenTimelineIO==0.18.1", "opentimelineio"),
    ("jsonschema==4.26.0", "jsonschema"),
    ("av==18.1.0", "av"),
    ("OpenEXR==3.5.3", "Imath.py"),
    ("tifffile==2026.3.3", "tifffile"),
    ("numpy==2.4.6", "numpy"),
    ("pillow==13.0.0", "PIL"),
    ("schemathesis==4.32.5", "schemathesis"),
];

/// The libraries in Python that tests ask, in a folder of their own.
pub fn reference_libraries(root: &Path) -> Done {
    let folder = root.join("target/python");
    if LIBRARIES.iter().all(|(_, made)| folder.join(made).exists()) {
        return Ok(());
    }
    let libraries = LIBRARIES.map(|(library, _)| library);
    let missing = format!(
        "the tests need libraries from PyPI: python3 -m pip install --target target/python {}",
        libraries.join(" ")
    );
    if !is_there("python3") {
        return Err(format!("python3 is missing; {missing}"));
    }
    let folder = folder.to_str().ok_or("the path of this checkout is not UTF-8")?;
    let arguments = [&["-m", "pip", "install", "--quiet", "--upgrade", "--target", folder], &libraries[..]].concat();
    run(root, "python3", &arguments).map_err(|error| format!("{error}; {missing}"))
}

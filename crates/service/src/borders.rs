//! `ratiomet borders`: the black edges of stills.

use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use ratiomet_picture::Still;
use ratiomet_picture::borders::{self, Borders};

use crate::render::bytes_of;

fn still(file: &Path) -> Result<Still, String> {
    Still::read(&bytes_of(file)?).map_err(|problem| format!("{}: {problem}", file.display()))
}

/// Tells the borders of each file, or of all together; the error is a sentence for the person who typed it.
pub fn run(files: &[PathBuf], json: bool, together: bool) -> Result<ExitCode, String> {
    let mut out = io::stdout().lock();
    let mut bad = false;
    let groups: Vec<&[PathBuf]> = if together { vec![files] } else { files.chunks(1).collect() };
    for group in groups {
        let stills: Result<Vec<Still>, String> = group.iter().map(|file| still(file)).collect();
        let found = stills.and_then(|stills| borders::find(&stills).map_err(|problem| problem.to_string()));
        let name = group.iter().map(|file| file.display().to_string()).collect::<Vec<_>>().join(", ");
        bad |= found.is_err();
        let line = match (found, json) {
            (Ok(found), true) => as_json(&name, &found).to_string(),
            (Ok(found), false) => in_words(&name, &found),
            (Err(why), true) => serde_json::json!({ "file": name, "error": why }).to_string(),
            (Err(why), false) => {
                eprintln!("ratiomet: {why}");
                continue;
            }
        };
        match writeln!(out, "{line}") {
            Err(error) if error.kind() == io::ErrorKind::BrokenPipe => return Ok(ExitCode::SUCCESS),
            other => other.map_err(|error| error.to_string())?,
        }
    }
    Ok(if bad { ExitCode::from(1) } else { ExitCode::SUCCESS })
}

fn as_json(file: &str, found: &Borders) -> serde_json::Value {
    let [left, top, right, bottom] = found.insets;
    serde_json::json!({
        "file": file,
        "insets": { "left": left, "top": top, "right": right, "bottom": bottom },
        "confidence": (found.confidence() * 1000.0).round() / 1000.0,
    })
}

fn in_words(file: &str, found: &Borders) -> String {
    let plain: String = file.chars().map(|each| if each.is_control() { '?' } else { each }).collect();
    let [left, top, right, bottom] = found.insets;
    format!(
        "{plain}: left {left}, top {top}, right {right}, bottom {bottom} ({:.0} % sure)",
        found.confidence() * 100.0
    )
}

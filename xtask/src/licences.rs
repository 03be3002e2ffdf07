//! The list of packages that ship with the program, and their licences, for the About page.

use std::collections::BTreeSet;
use std::fs;
use std::path::Path;
use std::process::Command;

use serde_json::{Value, json};

use crate::Done;

/// Writes the list, from the dependencies of the program and of its pages.
pub fn write(root: &Path) -> Done {
    let mut packages = rust_packages(root)?;
    packages.extend(node_packages(root)?);
    let list: Vec<Value> = packages
        .into_iter()
        .map(|(name, version, licence)| json!({ "name": name, "version": version, "licence": licence }))
        .collect();
    let path = root.join("web/src/screens/about/licences.json");
    let text = serde_json::to_string_pretty(&list).map_err(|error| error.to_string())?;
    fs::write(&path, text + "\n").map_err(|error| format!("{} cannot be written: {error}", path.display()))
}

type Package = (String, String, String);

fn rust_packages(root: &Path) -> Result<BTreeSet<Package>, String> {
    let tree = Command::new("cargo")
        .args(["tree", "--package", "ratiomet", "--edges", "normal", "--prefix", "none", "--format", "{p}\t{l}"])
        .current_dir(root)
        .output()
        .map_err(|error| format!("cargo cannot be run: {error}"))?;
    let text = String::from_utf8_lossy(&tree.stdout);
    let mut packages = BTreeSet::new();
    for line in text.lines() {
        let Some((package, licence)) = line.split_once('\t') else { continue };
        let mut words = package.split(' ');
        let (Some(name), Some(version)) = (words.next(), words.next()) else { continue };
        if name.starts_with("ratiomet") {
            continue;
        }
        let licence = licence.trim_end_matches(" (*)").to_owned();
        packages.insert((name.to_owned(), version.trim_start_matches('v').to_owned(), licence));
    }
    if packages.is_empty() { Err("cargo tree names no packages".to_owned()) } else { Ok(packages) }
}

fn node_packages(root: &Path) -> Result<BTreeSet<Package>, String> {
    let path = root.join("web/package-lock.json");
    let text = fs::read_to_string(&path).map_err(|error| format!("{} cannot be read: {error}", path.display()))?;
    let lock: Value = serde_json::from_str(&text).map_err(|error| error.to_string())?;
    let entries = lock["packages"].as_object().ok_or("the lock file has no packages")?;
    let word = |entry: &Value, field: &str| entry[field].as_str().unwrap_or("not named").to_owned();
    Ok(entries
        .iter()
        // Packages for development do not ship.
        .filter(|(path, entry)| !path.is_empty() && entry["dev"] != true && entry["optional"] != true)
        .map(|(path, entry)| {
            let name = path.rsplit_once("node_modules/").map_or(path.as_str(), |(_, name)| name);
            (name.to_owned(), word(entry, "version"), word(entry, "license"))
        })
        .collect())
}

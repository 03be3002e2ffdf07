//! The packages that ship with the program and their licences: a list for the About page, and every
//! licence in full beside it.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::Command;

use serde_json::{Value, json};

use crate::Done;

/// One package that ships.
#[derive(PartialEq, Eq, PartialOrd, Ord)]
pub struct Package {
    pub name: String,
    pub version: String,
    pub licence: String,
    /// Where its files lie.
    pub folder: PathBuf,
}

/// The list on the About page, below the root.
pub const LIST: &str = "web/src/screens/about/licences.json";

/// Writes the list and the texts, from the dependencies of the program and of its pages.
pub fn write(root: &Path) -> Done {
    let packages = packages(root)?;
    save(&root.join(LIST), &list(&packages)?)?;
    save(&root.join("web/public/licences.txt"), &texts(&packages))
}

/// What ships, from the lock files.
pub fn packages(root: &Path) -> Result<BTreeSet<Package>, String> {
    let mut packages = rust_packages(root)?;
    packages.extend(node_packages(root)?);
    Ok(packages)
}

/// The list as it is kept.
pub fn list(packages: &BTreeSet<Package>) -> Result<String, String> {
    let each = |each: &Package| json!({ "name": each.name, "version": each.version, "licence": each.licence });
    let list: Vec<Value> = packages.iter().map(each).collect();
    let list = serde_json::to_string_pretty(&list).map_err(|error| error.to_string())?;
    Ok(list + "\n")
}

fn save(path: &Path, text: &str) -> Done {
    fs::write(path, text).map_err(|error| format!("{} cannot be written: {error}", path.display()))
}

/// Every licence text once, under the packages that carry it.
pub fn texts(packages: &BTreeSet<Package>) -> String {
    let mut carried: BTreeMap<String, Vec<String>> = BTreeMap::new();
    for package in packages {
        let Ok(entries) = fs::read_dir(&package.folder) else { continue };
        let mut files: Vec<PathBuf> = entries.flatten().map(|entry| entry.path()).collect();
        files.sort();
        for file in files {
            let name = file.file_name().unwrap_or_default().to_string_lossy().to_uppercase();
            let about = ["LICENSE", "LICENCE", "COPYING", "NOTICE"].iter().any(|word| name.starts_with(word));
            if let (true, Ok(text)) = (about, fs::read_to_string(&file)) {
                let text = text.replace("\r\n", "\n").trim().to_owned();
                carried.entry(text).or_default().push(format!("{} {}", package.name, package.version));
            }
        }
    }
    let mut sections: Vec<_> = carried.into_iter().map(|(text, of)| (of.join(", "), text)).collect();
    sections.sort();
    let mut all = String::from("The licences of the packages that ship with Ratiomet, in full.\n");
    for (of, text) in sections {
        // OK because writing to a string cannot fail.
        let _ = write!(all, "\n{}\n{of}\n\n{text}\n", "=".repeat(78));
    }
    all
}

fn rust_packages(root: &Path) -> Result<BTreeSet<Package>, String> {
    let cargo = |arguments: &[&str]| {
        let output = Command::new("cargo").args(arguments).current_dir(root).output();
        output.map(|output| output.stdout).map_err(|error| format!("cargo cannot be run: {error}"))
    };
    let metadata = cargo(&["metadata", "--format-version", "1"])?;
    let metadata: Value = serde_json::from_slice(&metadata).map_err(|error| error.to_string())?;
    let mut known = BTreeMap::new();
    for package in metadata["packages"].as_array().into_iter().flatten() {
        known.insert((word(package, "name"), word(package, "version")), package);
    }
    let tree = cargo(&["tree", "--package", "ratiomet", "--edges", "normal", "--prefix", "none"])?;
    let mut packages = BTreeSet::new();
    for line in String::from_utf8_lossy(&tree).lines() {
        let mut words = line.split(' ');
        let (Some(name), Some(version)) = (words.next(), words.next()) else { continue };
        let version = version.trim_start_matches('v');
        let Some(package) = known.get(&(name.to_owned(), version.to_owned())) else { continue };
        if !name.starts_with("ratiomet") {
            let manifest = PathBuf::from(word(package, "manifest_path"));
            packages.insert(Package {
                name: name.to_owned(),
                version: version.to_owned(),
                licence: word(package, "license"),
                folder: manifest.parent().map(Path::to_owned).unwrap_or_default(),
            });
        }
    }
    if packages.is_empty() { Err("cargo tree names no packages".to_owned()) } else { Ok(packages) }
}

fn node_packages(root: &Path) -> Result<BTreeSet<Package>, String> {
    let path = root.join("web/package-lock.json");
    let text = fs::read_to_string(&path).map_err(|error| format!("{} cannot be read: {error}", path.display()))?;
    let lock: Value = serde_json::from_str(&text).map_err(|error| error.to_string())?;
    let entries = lock["packages"].as_object().ok_or("the lock file has no packages")?;
    Ok(entries
        .iter()
        // Packages for development do not ship.
        .filter(|(path, entry)| !path.is_empty() && entry["dev"] != true && entry["optional"] != true)
        .map(|(path, entry)| Package {
            name: path.rsplit_once("node_modules/").map_or(path.as_str(), |(_, name)| name).to_owned(),
            version: word(entry, "version"),
            licence: word(entry, "license"),
            folder: root.join("web").join(path),
        })
        .collect())
}

fn word(entry: &Value, field: &str) -> String {
    entry[field].as_str().unwrap_or("not named").to_owned()
}

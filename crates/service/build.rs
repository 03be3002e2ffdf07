//! Makes sure that there is a folder of web pages to embed, and builds again when it changes. A debug build
//! embeds none, but reads them as they are asked for; a release build knows of which commit it is.

use std::path::Path;
use std::process::Command;

fn main() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let pages = root.join("web/dist");
    if let Err(error) = std::fs::create_dir_all(&pages) {
        println!("cargo::error=the folder {} cannot be made: {error}", pages.display());
    }
    println!("cargo::rerun-if-changed=build.rs");
    if std::env::var("PROFILE").is_ok_and(|profile| profile == "debug") {
        println!("cargo::rustc-env=RATIOMET_COMMIT=debug build");
        return;
    }
    println!("cargo::rerun-if-changed=../../web/dist");
    println!("cargo::rerun-if-changed=../../.git/logs/HEAD");
    println!("cargo::rustc-env=RATIOMET_COMMIT={}", commit(&root).as_deref().unwrap_or("unknown commit"));
}

/// The commit that is built, marked where something was changed since.
fn commit(root: &Path) -> Option<String> {
    let said =
        Command::new("git").args(["describe", "--always", "--dirty", "--abbrev=10"]).current_dir(root).output().ok()?;
    let text = String::from_utf8(said.stdout).ok()?;
    Some(text.trim().to_owned()).filter(|text| said.status.success() && !text.is_empty())
}

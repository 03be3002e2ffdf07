//! Makes sure that there is a folder of web pages to embed, and builds again when it changes. A debug build
//! embeds none, but reads them as they are asked for.

fn main() {
    let pages = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../web/dist");
    if let Err(error) = std::fs::create_dir_all(&pages) {
        println!("cargo::error=the folder {} cannot be made: {error}", pages.display());
    }
    let debug = std::env::var("PROFILE").is_ok_and(|profile| profile == "debug");
    let when = if debug { "build.rs" } else { "../../web/dist" };
    println!("cargo::rerun-if-changed={when}");
}
